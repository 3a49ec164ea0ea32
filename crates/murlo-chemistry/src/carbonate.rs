//! Scale potential: how much CaCO3 a litre of water can leave behind when it is heated.
//!
//! CCPP as in Standard Methods 2330, at heater temperature, with the equilibrium constants of Plummer & Busenberg (1982)
//! and Davies activities. One unknown is solved for: the mol/L that precipitate.

use super::CACO3_MG_PER_MOL;

/// The source shown with every figure of this module.
pub const SOURCE: &str = "CCPP, Standard Methods 2330; constants of Plummer & Busenberg 1982, Geochim. Cosmochim. Acta 46:1011";

/// Base-10 logarithms of the constants of the carbonate system at one temperature.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Constants {
    /// First dissociation of carbonic acid.
    pub k1: f64,
    /// Second dissociation of carbonic acid.
    pub k2: f64,
    /// Solubility product of calcite.
    pub ks: f64,
    /// Henry's constant of CO2, mol/L/atm.
    pub kh: f64,
    /// Ion product of water.
    pub kw: f64,
}

/// Constants at `temp_c`; measured for 0–90 °C and carried on to 100.
#[must_use]
pub fn constants(temp_c: f64) -> Constants {
    let t = temp_c + 273.15;
    let log_t = t.log10();
    let t2 = t * t;
    Constants {
        k1: -356.3094 - 0.060_919_64 * t + 21_834.37 / t + 126.8339 * log_t - 1_684_915.0 / t2,
        k2: -107.8871 - 0.032_528_49 * t + 5151.79 / t + 38.925_61 * log_t - 563_713.9 / t2,
        ks: -171.9065 - 0.077_993 * t + 2839.319 / t + 71.595 * log_t,
        kh: 108.3865 + 0.019_850_76 * t - 6919.53 / t - 40.451_54 * log_t + 669_365.0 / t2,
        kw: -283.9710 - 0.050_698_42 * t + 13_323.00 / t + 102.244_47 * log_t - 1_119_669.0 / t2,
    }
}

/// Activity coefficients of ions of charge one and two (Davies), from dissolved solids in mg/L.
fn activity(tds: f64, temp_c: f64) -> (f64, f64) {
    let ionic = 2.5e-5 * tds;
    let permittivity =
        87.740 - 0.400_08 * temp_c + 9.398e-4 * temp_c * temp_c - 1.410e-6 * temp_c.powi(3);
    let a = 1.824_83e6 / (permittivity * (temp_c + 273.15)).powf(1.5);
    let root = ionic.sqrt();
    let log_g1 = -a * (root / (1.0 + root) - 0.3 * ionic);
    (ten(log_g1), ten(4.0 * log_g1))
}

/// 10 to the power `x`.
pub(super) fn ten(x: f64) -> f64 {
    (x * std::f64::consts::LN_10).exp()
}

/// A water as the potential needs it; hardness and alkalinity in mg/L as CaCO3.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WaterSample {
    /// Calcium hardness.
    pub calcium: f64,
    /// Alkalinity.
    pub alkalinity: f64,
    /// pH at the source.
    pub ph: f64,
    /// Dissolved solids, mg/L.
    pub tds: f64,
    /// Temperature the pH was read at, °C.
    pub source_c: f64,
}

/// A heater as the potential sees it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Heat {
    /// Temperature the water reaches, °C.
    pub temp_c: f64,
    /// Share of the dissolved CO2 that stays in the water; 1 is a closed path.
    pub co2_retained: f64,
}

/// Scale potential in mg CaCO3 per litre; zero for water that is not supersaturated when hot.
///
/// # Example
/// ```
/// use murlo_chemistry::carbonate::{Heat, WaterSample, potential};
/// let water = WaterSample { calcium: 150.0, alkalinity: 120.0, ph: 7.6, tds: 230.0, source_c: 20.0 };
/// let p = potential(&water, &Heat { temp_c: 92.0, co2_retained: 1.0 });
/// assert!((p - 34.431).abs() < 0.001);
/// ```
#[must_use]
pub fn potential(water: &WaterSample, heat: &Heat) -> f64 {
    if water.calcium <= 0.0 || water.alkalinity <= 0.0 {
        return 0.0;
    }
    let calcium = water.calcium / CACO3_MG_PER_MOL;
    let charge = water.alkalinity / 50_043.5;
    let h = ten(-water.ph);

    let cold = constants(water.source_c);
    let (g1, g2) = activity(water.tds, water.source_c);
    let k1 = ten(cold.k1) / g1;
    let k2 = ten(cold.k2) * g1 / g2;
    let oh = ten(cold.kw) / (h * g1);
    let bicarbonate = (charge - oh) / (1.0 + 2.0 * k2 / h);
    if bicarbonate <= 0.0 {
        return 0.0;
    }
    // [CO2] - [CO3] - [OH]: heating leaves it as it is, and each mol that precipitates adds one.
    let acidity = bicarbonate * (h / k1 - k2 / h) - oh;

    let hot = constants(heat.temp_c);
    let (g1, g2) = activity(water.tds, heat.temp_c);
    let ks = ten(hot.ks) / (g2 * g2);
    let b = ten(hot.k2 - hot.k1) * g1 * g1 / g2;
    let w = ten(hot.kw - hot.k2) * g2 / (g1 * g1);
    let undersaturation = |x: f64| {
        let s = ks / (calcium - x);
        let q = charge - 2.0 * x - 2.0 * s;
        let d = q * q - 4.0 * w * s;
        if q <= 0.0 || d <= 0.0 {
            return 1.0;
        }
        let r = (q + d.sqrt()) / 2.0;
        heat.co2_retained * (acidity + x + s + w * s / r) * s - b * r * r
    };
    if undersaturation(0.0) >= 0.0 {
        return 0.0;
    }
    // Plain bisection: the function jumps to +1 where no solution exists, and 60 halvings cost about a microsecond.
    let (mut low, mut high) = (0.0, calcium.min(charge / 2.0) * (1.0 - 1e-12));
    for _ in 0..60 {
        let middle = 0.5 * (low + high);
        if undersaturation(middle) < 0.0 {
            low = middle;
        } else {
            high = middle;
        }
    }
    CACO3_MG_PER_MOL * 0.5 * (low + high)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn constants_agree_with_the_published_check_values() {
        for (temp, expected) in [
            (20.0, [-6.3819, -10.3756, -8.4533, -1.4069, -14.1682]),
            (92.0, [-6.3871, -10.1382, -9.1498, -1.9505, -12.3961]),
        ] {
            let c = constants(temp);
            for (got, want) in [c.k1, c.k2, c.ks, c.kh, c.kw].iter().zip(expected) {
                assert!(
                    (got - want).abs() < 6e-5,
                    "{got} against {want} at {temp} °C"
                );
            }
        }
    }

    #[test]
    fn worked_water_gives_the_three_published_potentials() {
        let water = WaterSample {
            calcium: 150.0,
            alkalinity: 120.0,
            ph: 7.6,
            tds: 230.0,
            source_c: 20.0,
        };
        for (rho, want) in [(1.0, 34.431), (0.15, 68.046), (0.05, 83.184)] {
            let got = potential(
                &water,
                &Heat {
                    temp_c: 92.0,
                    co2_retained: rho,
                },
            );
            assert!(
                (got - want).abs() < 0.001,
                "rho {rho}: {got} against {want}"
            );
        }
    }

    #[test]
    fn water_without_calcium_or_alkalinity_leaves_nothing() {
        let heat = Heat {
            temp_c: 96.0,
            co2_retained: 0.05,
        };
        for (calcium, alkalinity, ph) in [(0.0, 90.0, 7.6), (90.0, 0.0, 7.6), (200.0, 5.0, 11.0)] {
            let water = WaterSample {
                calcium,
                alkalinity,
                ph,
                tds: 100.0,
                source_c: 20.0,
            };
            assert_eq!(potential(&water, &heat), 0.0);
        }
    }
}

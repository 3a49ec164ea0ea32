//! Acid baths: strength, pH, and how much chalk a bath can take up.
//!
//! Charge balance with CO2 at one atmosphere; effective dissociation constants fold activity and calcium complexes into
//! one curve per acid (fitted to PHREEQC with the minteq.v4 and sit databases).

use super::CACO3_MG_PER_MOL;
use super::carbonate::{Constants, constants, ten};
use crate::root::rising;
use serde::{Deserialize, Serialize};

/// The source shown with every figure of this module.
pub const SOURCE: &str = "charge balance at 1 atm CO2, fitted to PHREEQC 3 (minteq.v4, sit)";
/// The pH at which a bath counts as spent: beyond it dissolving slows to a fraction of fresh.
pub const SPENT_PH: f64 = 4.5;

/// An acid that descaling agents are made of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Acid {
    /// Acetic acid: vinegar.
    Acetic,
    /// Citric acid, water-free.
    Citric,
    /// Citric acid with one crystal water, as much powder is sold.
    CitricMonohydrate,
    /// Lactic acid.
    Lactic,
    /// Sulfamic acid.
    Sulfamic,
}

/// What the formulas need of an acid.
struct Traits {
    /// g/mol as weighed.
    molar_mass: f64,
    /// Dissociation in pure water, its drift with dissolved calcium, and the drift's scale.
    pk0: &'static [f64],
    drift: &'static [f64],
    drift_scale: f64,
    /// Mass transfer coefficient at 25 °C, cm/s.
    km25: f64,
}

impl Acid {
    /// Every acid, in the order they are offered.
    pub const ALL: [Self; 5] = [
        Self::Acetic,
        Self::Citric,
        Self::CitricMonohydrate,
        Self::Lactic,
        Self::Sulfamic,
    ];

    /// Its name for people.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::Acetic => "acetic (vinegar)",
            Self::Citric => "citric",
            Self::CitricMonohydrate => "citric, with crystal water",
            Self::Lactic => "lactic",
            Self::Sulfamic => "sulfamic",
        }
    }

    /// The name used in data.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Acetic => "acetic",
            Self::Citric => "citric",
            Self::CitricMonohydrate => "citric_monohydrate",
            Self::Lactic => "lactic",
            Self::Sulfamic => "sulfamic",
        }
    }

    /// Whether calcium citrate can drop out of its bath.
    #[must_use]
    pub const fn is_citric(self) -> bool {
        matches!(self, Self::Citric | Self::CitricMonohydrate)
    }

    const fn traits(self) -> Traits {
        match self {
            Self::Acetic => Traits {
                molar_mass: 60.052,
                pk0: &[4.757],
                drift: &[0.575],
                drift_scale: 0.444,
                km25: 5.0e-4,
            },
            Self::Citric | Self::CitricMonohydrate => Traits {
                molar_mass: if matches!(self, Self::Citric) {
                    192.124
                } else {
                    210.139
                },
                pk0: &[3.128, 4.761, 6.396],
                drift: &[0.317, 1.255, 2.30],
                drift_scale: 0.0834,
                km25: 3.5e-4,
            },
            Self::Lactic => Traits {
                molar_mass: 90.078,
                pk0: &[3.860],
                drift: &[0.766],
                drift_scale: 0.530,
                km25: 4.5e-4,
            },
            Self::Sulfamic => Traits {
                molar_mass: 97.094,
                pk0: &[0.988],
                drift: &[0.0],
                drift_scale: 1.0,
                km25: 6.0e-4,
            },
        }
    }

    /// Protons one molecule can give.
    #[must_use]
    pub(crate) fn protons(self) -> f64 {
        self.traits().pk0.len() as f64
    }

    /// Mass transfer coefficient in cm/s at `temp_c`.
    pub(super) fn mass_transfer(self, temp_c: f64) -> f64 {
        const R: f64 = 8.314_462_618;
        self.traits().km25 * (-16_000.0 / R * (1.0 / (temp_c + 273.15) - 1.0 / 298.15)).exp()
    }

    /// mol/L of a solution with `g_per_l` of the acid as weighed.
    ///
    /// # Example
    /// ```
    /// use murlo_chemistry::acid::Acid;
    /// assert!((Acid::Acetic.molarity(50.0) - 0.8326).abs() < 1e-4); // 5 % w/v
    /// ```
    #[must_use]
    pub fn molarity(self, g_per_l: f64) -> f64 {
        g_per_l / self.traits().molar_mass
    }
}

/// Steps after which Newton's method is given up.
const NEWTON_STEPS: u32 = 12;

/// Charges of a bath with a certain load.
struct Balance {
    k: [f64; 3],
    protons: usize,
    molarity: f64,
    bicarbonate: f64,
    y: f64,
}

impl Balance {
    /// Protons that a molecule of the acid has given away at `h`, and the mean of their squares.
    fn given(&self, h: f64) -> (f64, f64) {
        let (mut p, mut sum, mut charge, mut square) = (1.0, 1.0, 0.0, 0.0);
        for (i, k) in self.k[..self.protons].iter().enumerate() {
            let given = (i + 1) as f64;
            p *= k / h;
            sum += p;
            charge += given * p;
            square += given * given * p;
        }
        (charge / sum, square / sum)
    }

    /// Positive charges in excess at `h`, and their slope in the logarithm of `h`.
    fn excess(&self, h: f64) -> (f64, f64) {
        let (mean, square) = self.given(h);
        let carbonate = self.bicarbonate / h;
        (
            2.0 * self.y + h - carbonate - self.molarity * mean,
            h + carbonate + self.molarity * (square - mean * mean),
        )
    }
}

/// A bath of one acid at one temperature.
#[derive(Debug, Clone, Copy)]
pub struct AcidBath {
    acid: Acid,
    molarity: f64,
    temp_c: f64,
    pub(super) constants: Constants,
    /// Bicarbonate held per unit of h while CO2 bubbles at 1 atm.
    bicarbonate: f64,
    /// Ω·h²/y.
    saturation: f64,
}

impl AcidBath {
    /// A bath of `g_per_l` of `acid` at `temp_c`.
    #[must_use]
    pub fn new(acid: Acid, g_per_l: f64, temp_c: f64) -> Self {
        let c = constants(temp_c);
        Self {
            acid,
            molarity: acid.molarity(g_per_l),
            temp_c,
            constants: c,
            bicarbonate: ten(c.k1 + c.kh) / 0.75,
            saturation: 0.10 * ten(c.k1 + c.k2 + c.kh - c.ks),
        }
    }

    /// The acid.
    #[must_use]
    pub const fn acid(&self) -> Acid {
        self.acid
    }

    /// Temperature, °C.
    #[must_use]
    pub const fn temp_c(&self) -> f64 {
        self.temp_c
    }

    /// g/L of `acid` that alone give `ph` at `temp_c`: what a label says that names no strength.
    ///
    /// # Example
    /// ```
    /// use murlo_chemistry::acid::{Acid, AcidBath};
    /// let vinegar = AcidBath::g_per_l_at(Acid::Acetic, 2.4, 25.0);
    /// assert!((45.0..60.0).contains(&vinegar), "{vinegar}");
    /// ```
    #[must_use]
    pub fn g_per_l_at(acid: Acid, ph: f64, temp_c: f64) -> f64 {
        let h = ten(-ph);
        let (mean, _) = Self::new(acid, 1.0, temp_c).balance(0.0).given(h);
        h / mean * acid.traits().molar_mass
    }

    /// mol/L of CaCO3 that would use up every proton.
    ///
    /// # Example
    /// ```
    /// use murlo_chemistry::acid::{Acid, AcidBath};
    /// // Two of acetic acid for one of CaCO3: 25 g/L are 0.416 mol/L.
    /// let bath = AcidBath::new(Acid::Acetic, 25.0, 25.0);
    /// assert!((bath.stoichiometric() - 0.208).abs() < 0.001);
    /// ```
    #[must_use]
    pub fn stoichiometric(&self) -> f64 {
        self.acid.protons() * self.molarity / 2.0
    }

    /// Hydrogen ion activity after `y` mol/L of CaCO3 have dissolved.
    #[must_use]
    pub(crate) fn hydrogen(&self, y: f64) -> f64 {
        let balance = self.balance(y);
        ten(rising(|log_h| balance.excess(ten(log_h)).0, -9.0, 1.0))
    }

    /// The same by Newton's method from a guess close by, as along a course; the sure way where it does not settle.
    pub(super) fn hydrogen_near(&self, y: f64, guess: f64) -> f64 {
        let balance = self.balance(y);
        let mut h = guess;
        for _ in 0..NEWTON_STEPS {
            let (excess, slope) = balance.excess(h);
            let step = -excess / slope;
            if step.abs() > 2.0 {
                break;
            }
            h *= step.exp();
            if step.abs() < 1e-10 {
                return h;
            }
        }
        self.hydrogen(y)
    }

    fn balance(&self, y: f64) -> Balance {
        let traits = self.acid.traits();
        let root = y.max(0.0).sqrt();
        let shift = root / (root + traits.drift_scale);
        let mut k = [0.0; 3];
        for (i, slot) in k.iter_mut().enumerate().take(traits.pk0.len()) {
            *slot = ten(-(traits.pk0[i] - traits.drift[i] * shift));
        }
        Balance {
            k,
            protons: traits.pk0.len(),
            molarity: self.molarity,
            bicarbonate: if y > 0.0 { self.bicarbonate } else { 0.0 },
            y,
        }
    }

    /// pH after `y` mol/L of CaCO3 have dissolved.
    ///
    /// # Example
    /// ```
    /// use murlo_chemistry::acid::{Acid, AcidBath};
    /// // Household vinegar, half and half, before any chalk is in it.
    /// let bath = AcidBath::new(Acid::Acetic, 25.0, 25.0);
    /// assert!((bath.ph(0.0) - 2.57).abs() < 0.05);
    /// ```
    #[must_use]
    pub fn ph(&self, y: f64) -> f64 {
        -self.hydrogen(y).log10()
    }

    /// Saturation ratio of calcite at `y` dissolved and `hydrogen` activity; 1 is saturated.
    pub(super) fn omega(&self, y: f64, hydrogen: f64) -> f64 {
        self.saturation * y / (hydrogen * hydrogen)
    }

    fn most(&self) -> f64 {
        0.75 * self.acid.protons() * self.molarity + 0.05
    }

    /// mol/L of CaCO3 at which calcite stops dissolving.
    #[must_use]
    pub fn capacity(&self) -> f64 {
        rising(
            |y| self.omega(y, self.hydrogen(y)).max(1e-300).ln(),
            1e-12,
            self.most(),
        )
    }

    /// mol/L of CaCO3 at which the bath has reached `end_ph`; never above [`AcidBath::capacity`].
    #[must_use]
    pub fn useful(&self, end_ph: f64) -> f64 {
        rising(|y| self.ph(y) - end_ph, 0.0, self.most()).min(self.capacity())
    }

    /// Capacity in g CaCO3 per litre.
    ///
    /// # Example
    /// ```
    /// use murlo_chemistry::acid::{Acid, AcidBath};
    /// // More acid takes up more chalk.
    /// let of = |g_per_l| AcidBath::new(Acid::Acetic, g_per_l, 92.0).capacity_g_l();
    /// assert!(of(25.0) < of(50.0));
    /// ```
    #[must_use]
    pub fn capacity_g_l(&self) -> f64 {
        self.capacity() * CACO3_MG_PER_MOL / 1000.0
    }

    /// Useful capacity in g CaCO3 per litre, to `end_ph`.
    ///
    /// # Example
    /// ```
    /// use murlo_chemistry::acid::{Acid, AcidBath};
    /// // What it takes up while it is still acid enough is less than it could take up at all.
    /// let bath = AcidBath::new(Acid::Citric, 20.0, 92.0);
    /// assert!(bath.useful_g_l(4.5) < bath.capacity_g_l());
    /// ```
    #[must_use]
    pub fn useful_g_l(&self, end_ph: f64) -> f64 {
        self.useful(end_ph) * CACO3_MG_PER_MOL / 1000.0
    }
}

/// g CaCO3 per litre at which calcium citrate begins to drop out of a bath of `citric_g_per_l` (water-free).
///
/// Fitted to PHREEQC sit.dat, which errs on the safe side; no temperature term is published.
#[must_use]
pub fn citrate_onset_g_l(citric_g_per_l: f64) -> f64 {
    0.28 * Acid::Citric.molarity(citric_g_per_l).powf(0.77) * CACO3_MG_PER_MOL / 1000.0
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn baths_agree_with_the_published_table() {
        // g/L, pH fresh, pH at half capacity, capacity, useful; 25 °C
        for (acid, g_per_l, fresh, half, capacity, useful) in [
            (Acid::Acetic, 12.5, 2.72, 4.57, 10.6, 4.8),
            (Acid::Acetic, 50.0, 2.42, 4.41, 39.1, 21.8),
            (Acid::Acetic, 240.0, 2.08, 4.27, 177.0, 117.0),
            (Acid::Citric, 10.0, 2.23, 3.97, 8.4, 5.8),
            (Acid::Citric, 80.0, 1.76, 3.63, 61.3, 52.3),
        ] {
            let bath = AcidBath::new(acid, g_per_l, 25.0);
            assert!(
                (bath.ph(0.0) - fresh).abs() < 0.006,
                "{acid:?} {g_per_l} fresh {}",
                bath.ph(0.0)
            );
            let at_half = bath.ph(bath.capacity() / 2.0);
            assert!(
                (at_half - half).abs() < 0.02,
                "{acid:?} {g_per_l} half {at_half}"
            );
            assert!(
                (bath.capacity_g_l() / capacity - 1.0).abs() < 0.01,
                "{acid:?} {}",
                bath.capacity_g_l()
            );
            assert!(
                (bath.useful_g_l(SPENT_PH) / useful - 1.0).abs() < 0.02,
                "{acid:?} {}",
                bath.useful_g_l(SPENT_PH)
            );
        }
    }

    #[test]
    fn both_ways_to_the_hydrogen_activity_agree_from_any_guess() {
        for acid in Acid::ALL {
            let bath = AcidBath::new(acid, 30.0, 80.0);
            for share in [0.0, 0.001, 0.3, 0.9, 1.0] {
                let y = share * bath.capacity();
                let sure = bath.hydrogen(y);
                for guess in [1.0, 1.3, 0.2, 1e4, 1e-6] {
                    let near = bath.hydrogen_near(y, guess * sure);
                    assert!((near / sure - 1.0).abs() < 1e-7, "{acid:?} {share} {guess}");
                }
            }
        }
    }

    #[test]
    fn a_bath_too_weak_to_start_below_the_end_ph_has_no_useful_capacity() {
        assert_eq!(AcidBath::new(Acid::Acetic, 0.001, 25.0).useful(4.0), 0.0);
    }

    #[test]
    fn citrate_drops_out_at_the_published_loads() {
        for (citric, onset) in [
            (10.0, 2.9),
            (20.0, 4.9),
            (30.0, 6.7),
            (50.0, 9.9),
            (80.0, 14.3),
        ] {
            assert!((citrate_onset_g_l(citric) - onset).abs() < 0.06);
        }
    }
}

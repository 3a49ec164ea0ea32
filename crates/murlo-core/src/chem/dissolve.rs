//! Soak time: how fast a bath eats a chalk film, from surface reaction and mass transfer together.
//!
//! Rate law of Plummer, Wigley & Parkhurst (1978) at the surface, balanced against transport of the products into the bath.
//! Neither step alone limits: the products raise the pH at the surface.

use super::acid::Bath;
use super::{CACO3_MG_PER_MOL, CALCITE_DENSITY};
use crate::chem::carbonate::ten;
use crate::root::rising;

/// The source shown with every figure of this module.
pub const SOURCE: &str =
    "Plummer, Wigley & Parkhurst 1978, Am. J. Sci. 278:179, with mass transfer";
/// Slices of the integral over the dissolving film.
const STEPS: u32 = 60;
/// Beyond this share of its capacity a bath is taken to run out.
const EXHAUSTED: f64 = 0.95;

/// Share of the film that counts as all of it.
pub const CLEARED: f64 = 0.99;

/// A film of chalk under a bath.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Film {
    /// Chalk, mg.
    pub mass_mg: f64,
    /// Wetted area, cm².
    pub area_cm2: f64,
    /// True surface against a flat one, 1–4.
    pub roughness: f64,
}

/// The rate law for one bath, with what does not change while it works.
struct Rates<'a> {
    bath: &'a Bath,
    capacity: f64,
    transfer: f64,
    roughness: f64,
    k1: f64,
    k0: f64,
}

impl<'a> Rates<'a> {
    fn new(bath: &'a Bath, roughness: f64) -> Self {
        let temp = bath.temp_c();
        let t = temp + 273.15;
        let k3 = if temp <= 25.0 {
            ten(-5.86 - 317.0 / t)
        } else {
            ten(-1.10 - 1737.0 / t)
        };
        Self {
            bath,
            capacity: bath.capacity(),
            transfer: 1e-3 * bath.acid().mass_transfer(temp),
            roughness,
            k1: ten(0.198 - 444.0 / t),
            k0: ten(2.84 - 2177.0 / t) * ten(bath.constants.kh) + k3,
        }
    }

    /// Surface reaction in mol/cm²/s of true area.
    fn surface(&self, y: f64) -> f64 {
        let h = self.bath.hydrogen(y);
        let distance = 1.0 - self.bath.omega(y, h).powf(2.0 / 3.0);
        1e-3 * (self.k1 * h + self.k0) * distance.max(0.0)
    }

    /// mol/cm²/s leaving the film while the bath holds `y` mol/L.
    fn flux(&self, y: f64) -> f64 {
        let at_surface = rising(
            |ys| self.transfer * (ys - y) - self.roughness * self.surface(ys),
            y,
            self.capacity.max(y),
        );
        self.transfer * (at_surface - y)
    }
}

/// µm a minute that a fresh bath takes off.
#[must_use]
pub fn fresh_um_per_min(bath: &Bath, roughness: f64) -> f64 {
    let cm_per_mol = CACO3_MG_PER_MOL / 1000.0 / CALCITE_DENSITY;
    Rates::new(bath, roughness).flux(0.0) * cm_per_mol * 1e4 * 60.0
}

/// Minutes until `fraction` of `film` has dissolved in `bath_ml`; `None` when the bath runs out first.
///
/// # Example
/// ```
/// use murlo_core::chem::{acid::{Acid, Bath}, dissolve::{Film, minutes}, film_mg};
/// let film = Film { mass_mg: film_mg(20.0, 100.0), area_cm2: 100.0, roughness: 2.0 };
/// let hot = Bath::new(Acid::Acetic, 50.0, 60.0);
/// assert_eq!(minutes(&hot, &film, 355.0, 0.99).unwrap().round(), 23.0);
/// ```
#[must_use]
pub fn minutes(bath: &Bath, film: &Film, bath_ml: f64, fraction: f64) -> Option<f64> {
    let litres = bath_ml / 1000.0;
    let end = fraction * film.mass_mg / (CACO3_MG_PER_MOL * litres);
    let rates = Rates::new(bath, film.roughness);
    if end > EXHAUSTED * rates.capacity {
        return None;
    }
    let step = end / f64::from(STEPS);
    let sum: f64 = (0..=STEPS)
        .map(|i| {
            let weight = if i == 0 || i == STEPS { 0.5 } else { 1.0 };
            weight / rates.flux(f64::from(i) * step)
        })
        .sum();
    Some(litres / film.area_cm2 * sum * step / 60.0)
}

/// Share of `film` gone after `minutes` in `bath_ml`: the same integral, walked until the time is up.
#[must_use]
pub fn dissolved(bath: &Bath, film: &Film, bath_ml: f64, minutes: f64) -> f64 {
    let litres = bath_ml / 1000.0;
    let whole = film.mass_mg / (CACO3_MG_PER_MOL * litres);
    let rates = Rates::new(bath, film.roughness);
    let end = (CLEARED * whole).min(EXHAUSTED * rates.capacity);
    let step = end / f64::from(STEPS);
    let seconds = |flux: f64| litres / film.area_cm2 * step / flux;
    let (mut left, mut before) = (minutes * 60.0, seconds(rates.flux(0.0)));
    for i in 1..=STEPS {
        let here = seconds(rates.flux(f64::from(i) * step));
        let slice = (before + here) / 2.0;
        if slice > left {
            return (f64::from(i - 1) + left / slice) * step / whole;
        }
        left -= slice;
        before = here;
    }
    end / whole
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::chem::acid::Acid;
    use crate::chem::film_mg;

    #[test]
    fn minutes_agree_with_the_published_table() {
        for (acid, g_per_l, rate, um, expected) in [
            (Acid::Acetic, 25.0, 0.66, 10.0, Some(16.0)),
            (Acid::Acetic, 50.0, 0.93, 200.0, Some(408.0)),
            (Acid::Acetic, 240.0, 2.10, 100.0, Some(56.0)),
            (Acid::Citric, 20.0, 1.01, 200.0, None),
            (Acid::Citric, 35.0, 1.51, 50.0, Some(37.0)),
        ] {
            let bath = Bath::new(acid, g_per_l, 60.0);
            assert!(
                (fresh_um_per_min(&bath, 2.0) - rate).abs() < 0.006,
                "{}",
                fresh_um_per_min(&bath, 2.0)
            );
            let film = Film {
                mass_mg: film_mg(um, 100.0),
                area_cm2: 100.0,
                roughness: 2.0,
            };
            let got = minutes(&bath, &film, 355.0, 0.99).map(f64::round);
            assert_eq!(got, expected, "{acid:?} {g_per_l} g/L on {um} µm");
        }
    }

    #[test]
    fn what_dissolves_in_a_time_matches_the_time_it_takes() {
        let bath = Bath::new(Acid::Acetic, 25.0, 60.0);
        let film = Film {
            mass_mg: film_mg(20.0, 100.0),
            area_cm2: 100.0,
            roughness: 2.0,
        };
        for share in [0.2, 0.5, 0.9] {
            let time = minutes(&bath, &film, 355.0, share).unwrap();
            assert!((dissolved(&bath, &film, 355.0, time) - share).abs() < 0.005);
        }
        assert!((dissolved(&bath, &film, 355.0, 600.0) - CLEARED).abs() < 1e-9);
    }
}

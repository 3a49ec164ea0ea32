//! Soak time: how fast a bath eats a chalk film, from surface reaction and mass transfer together.
//!
//! Rate law of Plummer, Wigley & Parkhurst (1978) at the surface, balanced against transport of the products into the bath.
//! Neither step alone limits: the products raise the pH at the surface.

use super::acid::AcidBath;
use super::{CACO3_MG_PER_MOL, CALCITE_DENSITY};
use crate::carbonate::ten;
use crate::root::rising;

/// The source shown with every figure of this module.
pub const SOURCE: &str =
    "Plummer, Wigley & Parkhurst 1978, Am. J. Sci. 278:179, with mass transfer";
/// Slices of the integral over the dissolving film.
const STEPS: u32 = 60;
/// Beyond this share of its capacity a bath is taken to run out.
const EXHAUSTED: f64 = 0.95;

/// A film of chalk under a bath.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SoakedFilm {
    /// Chalk, mg.
    pub mass_mg: f64,
    /// Wetted area, cm².
    pub area_cm2: f64,
    /// True surface against a flat one, 1–4.
    pub roughness: f64,
}

/// The rate law for one bath, with what does not change while it works.
pub(super) struct Rates<'a> {
    bath: &'a AcidBath,
    capacity: f64,
    transfer: f64,
    roughness: f64,
    k1: f64,
    k0: f64,
}

impl<'a> Rates<'a> {
    pub(super) fn new(bath: &'a AcidBath, roughness: f64) -> Self {
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
        self.surface_at(y, self.bath.hydrogen(y))
    }

    fn surface_at(&self, y: f64, h: f64) -> f64 {
        let distance = 1.0 - self.bath.omega(y, h).powf(2.0 / 3.0);
        1e-3 * (self.k1 * h + self.k0) * distance.max(0.0)
    }

    /// What is dissolved at the surface while the bath holds `y` mol/L: there reaction and transfer balance.
    fn at_surface(&self, y: f64) -> f64 {
        rising(
            |ys| self.transfer * (ys - y) - self.roughness * self.surface(ys),
            y,
            self.capacity.max(y),
        )
    }

    /// mol/L of CaCO3 at which nothing dissolves any more.
    pub(super) const fn capacity(&self) -> f64 {
        self.capacity
    }

    /// Bath in mol/L and flux, from fresh to spent in `points` steps that grow finer towards the end, and the fresh flux.
    pub(super) fn along_surface(&self, points: u32) -> (Vec<(f64, f64)>, f64) {
        let first = self.at_surface(0.0);
        let fresh = self.transfer * first;
        let mut hydrogen = self.bath.hydrogen(first);
        let course = (0..=points).map(|i| {
            let before_end = 1.0 - f64::from(i) / f64::from(points);
            let ys = first + (self.capacity - first) * (1.0 - before_end * before_end);
            hydrogen = self.bath.hydrogen_near(ys, hydrogen);
            let flux = self.roughness * self.surface_at(ys, hydrogen);
            (ys - flux / self.transfer, flux)
        });
        (course.collect(), fresh)
    }

    /// mol/cm²/s leaving the film while the bath holds `y` mol/L.
    pub(super) fn flux(&self, y: f64) -> f64 {
        self.transfer * (self.at_surface(y) - y)
    }

    /// Bath in mol/L and seconds·cm²/mol, from fresh to `end`. The balance is solved at both ends only: in between it is
    /// walked along the surface, where each state of the surface tells the bath it belongs to.
    fn course(&self, end: f64) -> impl Iterator<Item = (f64, f64)> {
        let (first, last) = (self.at_surface(0.0), self.at_surface(end));
        (0..=STEPS).map(move |i| {
            let ys = first + (last - first) * f64::from(i) / f64::from(STEPS);
            let flux = match i {
                0 => self.transfer * first,
                STEPS => self.transfer * (last - end),
                _ => self.roughness * self.surface(ys),
            };
            let y = ys - flux / self.transfer;
            (y.clamp(0.0, end), flux.recip())
        })
    }
}

/// µm a minute that a fresh bath takes off.
///
/// # Example
/// ```
/// use murlo_chemistry::acid::{Acid, AcidBath};
/// use murlo_chemistry::dissolve::fresh_um_per_min;
/// let at = |temp_c| fresh_um_per_min(&AcidBath::new(Acid::Acetic, 25.0, temp_c), 1.0);
/// assert!(at(80.0) > 2.0 * at(20.0));
/// ```
#[must_use]
pub fn fresh_um_per_min(bath: &AcidBath, roughness: f64) -> f64 {
    let cm_per_mol = CACO3_MG_PER_MOL / 1000.0 / CALCITE_DENSITY;
    Rates::new(bath, roughness).flux(0.0) * cm_per_mol * 1e4 * 60.0
}

/// Minutes until `fraction` of `film` has dissolved in `bath_ml`; `None` when the bath runs out first.
///
/// # Example
/// ```
/// use murlo_chemistry::{acid::{Acid, AcidBath}, dissolve::{SoakedFilm, minutes}, film_mg};
/// let film = SoakedFilm { mass_mg: film_mg(20.0, 100.0), area_cm2: 100.0, roughness: 2.0 };
/// let hot = AcidBath::new(Acid::Acetic, 50.0, 60.0);
/// assert_eq!(minutes(&hot, &film, 355.0, 0.99).unwrap().round(), 23.0);
/// ```
#[must_use]
pub fn minutes(bath: &AcidBath, film: &SoakedFilm, bath_ml: f64, fraction: f64) -> Option<f64> {
    let litres = bath_ml / 1000.0;
    let end = fraction * film.mass_mg / (CACO3_MG_PER_MOL * litres);
    let rates = Rates::new(bath, film.roughness);
    if end > EXHAUSTED * rates.capacity {
        return None;
    }
    let (mut sum, mut before) = (0.0, None);
    for (y, slowness) in rates.course(end) {
        if let Some((last_y, last)) = before {
            sum += (y - last_y) * (slowness + last) / 2.0;
        }
        before = Some((y, slowness));
    }
    Some(litres / film.area_cm2 * sum / 60.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::acid::Acid;
    use crate::film_mg;

    #[test]
    fn minutes_agree_with_the_published_table() {
        for (acid, g_per_l, rate, um, expected) in [
            (Acid::Acetic, 25.0, 0.66, 10.0, Some(16.0)),
            (Acid::Acetic, 50.0, 0.93, 200.0, Some(408.0)),
            (Acid::Acetic, 240.0, 2.10, 100.0, Some(56.0)),
            (Acid::Citric, 20.0, 1.01, 200.0, None),
            (Acid::Citric, 35.0, 1.51, 50.0, Some(37.0)),
        ] {
            let bath = AcidBath::new(acid, g_per_l, 60.0);
            assert!(
                (fresh_um_per_min(&bath, 2.0) - rate).abs() < 0.006,
                "{}",
                fresh_um_per_min(&bath, 2.0)
            );
            let film = SoakedFilm {
                mass_mg: film_mg(um, 100.0),
                area_cm2: 100.0,
                roughness: 2.0,
            };
            let got = minutes(&bath, &film, 355.0, 0.99).map(f64::round);
            assert_eq!(got, expected, "{acid:?} {g_per_l} g/L on {um} µm");
        }
    }
}

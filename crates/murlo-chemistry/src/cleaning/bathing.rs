//! One bath on one film: what is asked, and what is left of it.

use crate::CALCITE_DENSITY;
use crate::acid::Acid;
use crate::cleaning::step::{FilmedPath, TRACE_MG};
use crate::cleaning::{BathState, Phase, ROOM_C, left_at};
use crate::flux::Table;
use crate::spread::P90;

/// The source shown with every figure of this module.
pub const SOURCE: &str = "dissolution phase by phase (Plummer, Wigley & Parkhurst 1978 with mass transfer) on a film of uneven thickness; speed fitted to practice";

/// Spread of the logarithm of the speed: the mass transfer alone is known to a factor 2.5, and films are porous. Judged.
pub const SPEED_SIGMA: f64 = 0.5;

/// A film of chalk in a circuit.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Film {
    /// Median, mg.
    pub mg: f64,
    /// Spread of its logarithm.
    pub sigma: f64,
    /// Wetted area, cm².
    pub area_cm2: f64,
}

/// A schedule with the bath that goes through it.
#[derive(Debug, Clone, Copy)]
pub struct Bathing<'a> {
    /// Its acid.
    pub acid: Acid,
    /// Strength, g/L as weighed.
    pub g_per_l: f64,
    /// What stands in the path at the start, mL of plain water.
    pub start_hold_ml: f64,
    /// The phases of one bath.
    pub phases: &'a [Phase],
    /// How often they are gone through.
    pub baths: u32,
}

/// What is left, as shares of the median film.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Left {
    /// One clean in ten leaves less.
    pub p10: f64,
    /// Half of them do.
    pub median: f64,
    /// Nine in ten do.
    pub p90: f64,
}

impl Left {
    /// Nothing is left.
    pub const NOTHING: Self = Self {
        p10: 0.0,
        median: 0.0,
        p90: 0.0,
    };
    /// Nothing was dissolved.
    pub const ALL: Self = Self {
        p10: 1.0,
        median: 1.0,
        p90: 1.0,
    };
}

/// g/L of water-free acid in `g_per_l` of `acid` as weighed.
fn water_free(acid: Acid, g_per_l: f64) -> f64 {
    match acid {
        Acid::CitricMonohydrate => {
            g_per_l * Acid::CitricMonohydrate.molarity(1.0) / Acid::Citric.molarity(1.0)
        }
        Acid::Acetic | Acid::Citric | Acid::Lactic | Acid::Sulfamic => g_per_l,
    }
}

impl<'a> Bathing<'a> {
    /// What is left of `film`, as a distribution over film and speed.
    #[must_use]
    pub fn leaves(&self, film: &Film) -> Left {
        self.leaves_after(film).pop().unwrap_or(Left::ALL)
    }

    /// What is left after each bath: one walk tells all of them.
    #[must_use]
    pub(crate) fn leaves_after(&self, film: &Film) -> Vec<Left> {
        let [p10, median, p90] = [-P90, 0.0, P90].map(|z| self.quantile(film, z));
        let left = p10.into_iter().zip(median).zip(p90);
        left.map(|((p10, median), p90)| Left { p10, median, p90 })
            .collect()
    }

    /// Film and speed are both lognormal; what is left falls with speed and rises with the film, so a quantile of it lies
    /// where both lie on the line through their spreads.
    fn quantile(&self, film: &Film, z: f64) -> Vec<f64> {
        if film.mg <= TRACE_MG {
            return vec![0.0; self.baths as usize];
        }
        let speed_var = SPEED_SIGMA * SPEED_SIGMA;
        let spread = film.sigma.mul_add(film.sigma, speed_var).sqrt();
        let mg = film.mg * (z * film.sigma * film.sigma / spread).exp();
        let speed = (-z * speed_var / spread).exp();
        let shares = self.shares(mg, film.area_cm2, speed);
        shares
            .into_iter()
            .map(|share| share * mg / film.mg)
            .collect()
    }

    /// Share of a film of exactly `film_mg` left after each bath, at `speed` times the usual.
    #[must_use]
    pub fn shares(&self, film_mg: f64, area_cm2: f64, speed: f64) -> Vec<f64> {
        let states = self.states(film_mg, area_cm2, speed);
        let per_bath = self.phases.len();
        (1..=self.baths as usize)
            .map(|bath| (bath * per_bath).checked_sub(1))
            .map(|last| match last.and_then(|last| states.get(last)) {
                _ if film_mg <= TRACE_MG => 0.0,
                Some(state) => left_at(state.depth),
                None => 1.0,
            })
            .collect()
    }

    /// The state after each phase, bath after bath.
    #[must_use]
    pub fn states(&self, film_mg: f64, area_cm2: f64, speed: f64) -> Vec<BathState> {
        let circuit = FilmedPath {
            table: Table::of(self.acid),
            g_per_l: water_free(self.acid, self.g_per_l),
            film_mg,
            area_cm2,
            thickness: film_mg / (1000.0 * CALCITE_DENSITY * area_cm2),
            speed,
            phases: self.phases,
        };
        let mut state = BathState {
            hold_ml: self.start_hold_ml,
            g_per_l: 0.0,
            load: 0.0,
            depth: 0.0,
            temp_c: ROOM_C,
        };
        let mut states = Vec::with_capacity(self.baths as usize * self.phases.len());
        for phase in (0..self.baths).flat_map(|_| circuit.phases) {
            circuit.go_through(&mut state, phase);
            states.push(state);
        }
        states
    }
}

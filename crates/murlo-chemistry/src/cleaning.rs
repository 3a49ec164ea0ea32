//! What a clean leaves: chalk dissolves wherever bath touches it, in every pass, pause and soak, at the temperature of that
//! phase. A clean is a schedule of phases on one circuit; what it leaves is a distribution.
//!
//! Fitted to what cleans in practice achieve within what physics allows. Left out: rinse passes, citrate sludge, flakes, and
//! that sulfamic acid decays when hot.

mod advice;
mod passes;
mod schedule;
mod step;

pub use advice::{Advice, Asked, SURE, Typed, USUAL};
pub use passes::{Bath, Bathed, How, Pass, Path};
pub use schedule::{Course, Heats, Soak};
pub use schedule::{LAST_WAIT_MIN, PRESS_MIN, WAIT_MIN};

use crate::acid::Acid;
use crate::flux::Table;
use crate::spread::P90;
use crate::{CACO3_MG_PER_MOL, CALCITE_DENSITY};
use step::Standing;

/// The source shown with every figure of this module.
pub const SOURCE: &str = "dissolution phase by phase (Plummer, Wigley & Parkhurst 1978 with mass transfer) on a film of uneven thickness; speed fitted to practice";
/// Temperature of room and tap water, °C.
pub const ROOM_C: f64 = 22.0;
/// How much faster a boiling bath takes chalk off, for the stirring. Judged.
const BOILING: f64 = 1.75;
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

/// Fresh bath that comes in during a phase.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Inflow {
    /// How much, mL.
    pub ml: f64,
    /// All at the start, or steadily over the phase.
    pub at_once: bool,
}

/// How warm a phase is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Heat {
    /// Held at this temperature, °C.
    Held(f64),
    /// Cooling from where the last phase ended towards the room, with this time constant in minutes.
    Cooling(f64),
}

/// One phase of a clean as one circuit sees it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Phase {
    /// How long, minutes.
    pub minutes: f64,
    /// Fresh bath coming in.
    pub inflow: Option<Inflow>,
    /// How warm.
    pub heat: Heat,
    /// What the path holds from now on, mL; as before when absent.
    pub hold_ml: Option<f64>,
    /// Whether it boils.
    pub boiling: bool,
    /// Strength of its bath, g/L water-free; the schedule's when absent.
    pub g_per_l: Option<f64>,
}

impl Phase {
    /// The bath standing for `minutes`.
    #[must_use]
    pub const fn standing(minutes: f64, heat: Heat) -> Self {
        Self {
            minutes,
            inflow: None,
            heat,
            hold_ml: None,
            boiling: false,
            g_per_l: None,
        }
    }
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

/// Less chalk than this is none: clean after clean leaves ever smaller shares, and their depths are no numbers any more.
const TRACE_MG: f64 = 1e-6;

/// Share of an uneven film's mass still there when `depth` mean thicknesses have dissolved. Its thickness is gamma distributed
/// with shape 4, a spread of half its mean (judged).
#[must_use]
pub fn left_at(depth: f64) -> f64 {
    let z = 4.0 * depth;
    (-z).exp() * (1.0 + z * (0.75 + z * (0.25 + z / 24.0)))
}

/// Share of its area still chalky then.
#[must_use]
pub fn covered_at(depth: f64) -> f64 {
    let z = 4.0 * depth;
    (-z).exp() * (1.0 + z * (1.0 + z * (0.5 + z / 6.0)))
}

/// Where a bath stands between phases.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct State {
    /// In the water path, mL.
    pub hold_ml: f64,
    /// Acid in it, g/L water-free.
    pub g_per_l: f64,
    /// Chalk dissolved in it, mol/L.
    pub load: f64,
    /// Depth dissolved so far, in mean thicknesses.
    pub depth: f64,
    /// °C.
    pub temp_c: f64,
}

/// A circuit under a clean: one film at one speed.
struct Circuit<'a> {
    table: &'static Table,
    /// Strength of the schedule's bath, g/L water-free.
    g_per_l: f64,
    film_mg: f64,
    area_cm2: f64,
    /// Mean thickness, cm.
    thickness: f64,
    speed: f64,
    phases: &'a [Phase],
}

/// g/L of water-free acid in `g_per_l` of `acid` as weighed.
fn water_free(acid: Acid, g_per_l: f64) -> f64 {
    match acid {
        Acid::CitricMonohydrate => {
            g_per_l * Acid::CitricMonohydrate.molarity(1.0) / Acid::Citric.molarity(1.0)
        }
        _ => g_per_l,
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
    pub fn leaves_after(&self, film: &Film) -> Vec<Left> {
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
    pub fn states(&self, film_mg: f64, area_cm2: f64, speed: f64) -> Vec<State> {
        let circuit = Circuit {
            table: Table::of(self.acid),
            g_per_l: water_free(self.acid, self.g_per_l),
            film_mg,
            area_cm2,
            thickness: film_mg / (1000.0 * CALCITE_DENSITY * area_cm2),
            speed,
            phases: self.phases,
        };
        let mut state = State {
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

impl Circuit<'_> {
    fn go_through(&self, state: &mut State, phase: &Phase) {
        let bath = phase.g_per_l.unwrap_or(self.g_per_l);
        if let Some(hold) = phase.hold_ml {
            state.hold(hold, bath);
        }
        let mut rate = 0.0;
        if let Some(inflow) = phase.inflow.filter(|i| i.ml > 0.0 && state.hold_ml > 0.0) {
            if inflow.at_once || phase.minutes <= 0.0 {
                let mixed = state.hold_ml + inflow.ml;
                state.g_per_l = (state.g_per_l * state.hold_ml + bath * inflow.ml) / mixed;
                state.load *= state.hold_ml / mixed;
            } else {
                rate = inflow.ml / (state.hold_ml * phase.minutes);
            }
        }
        let heat = Warmth::new(phase.heat, state.temp_c);
        if phase.minutes > 0.0 && state.hold_ml > 0.0 && self.film_mg > 0.0 {
            self.dissolve(state, phase, &heat, rate, bath);
        }
        state.temp_c = heat.after(phase.minutes);
    }

    /// Midpoint steps: half a step at the rates of its start, then all of it at the rates met there.
    fn dissolve(&self, state: &mut State, phase: &Phase, heat: &Warmth, inflow: f64, bath: f64) {
        let boost = if phase.boiling { BOILING } else { 1.0 };
        let flows = inflow > 0.0;
        // Standing, most happens at the start.
        let (steps, power) = match flows {
            true => (4, 1),
            false if phase.minutes <= 5.0 => (4, 2),
            false => (8, 2),
        };
        let mut standing = Standing::default();
        let mut from = 0.0;
        for i in 1..=steps {
            let to = phase.minutes * (f64::from(i) / f64::from(steps)).powi(power);
            let h = to - from;
            let middle = heat.after(from + h / 2.0);
            let rates = self.rates(state, heat.after(from), boost);
            let half = if flows {
                self.flow(state, state, &rates, h / 2.0, inflow, bath)
            } else {
                self.stand(state, state, &rates, h / 2.0, &mut standing)
            };
            let rates = self.rates(&half, middle, boost);
            *state = if flows {
                self.flow(state, &half, &rates, h, inflow, bath)
            } else {
                self.stand(state, &half, &rates, h, &mut standing)
            };
            from = to;
        }
    }
}

/// How warm a phase is while it lasts.
struct Warmth {
    start: f64,
    tau: Option<f64>,
}

impl Warmth {
    const fn new(heat: Heat, now: f64) -> Self {
        match heat {
            Heat::Held(temp_c) => Self {
                start: temp_c,
                tau: None,
            },
            Heat::Cooling(tau) => Self {
                start: now,
                tau: Some(tau),
            },
        }
    }

    fn after(&self, minutes: f64) -> f64 {
        self.tau.map_or(self.start, |tau| {
            ROOM_C + (self.start - ROOM_C) * (-minutes / tau).exp()
        })
    }
}

impl State {
    /// The path holds another amount: emptied, topped up with bath, or the surplus leaves.
    fn hold(&mut self, ml: f64, bath_g_per_l: f64) {
        if ml <= 0.0 {
            (self.g_per_l, self.load) = (0.0, 0.0);
        } else if ml > self.hold_ml {
            let kept = self.hold_ml / ml;
            self.g_per_l = self.g_per_l * kept + bath_g_per_l * (1.0 - kept);
            self.load *= kept;
        }
        self.hold_ml = ml.max(0.0);
    }

    /// Chalk that the bath could still take up when it may load to `capacity`, mg.
    fn room_mg(&self, capacity: f64) -> f64 {
        CACO3_MG_PER_MOL / 1000.0 * self.hold_ml * (capacity - self.load)
    }
}

#[cfg(test)]
mod tests;

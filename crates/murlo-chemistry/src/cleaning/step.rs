//! One small step of a phase, in closed form at given rates: nothing overshoots what the bath can take up.

use crate::CACO3_MG_PER_MOL;
use crate::flux::{Looked, Table};

/// Molar volume of calcite, cm³/mol.
const MOLAR_CM3: f64 = 36.93;

/// How fast it goes at some state.
pub(super) struct StepRates {
    /// mol/L at which nothing dissolves.
    capacity: f64,
    /// mol/cm² a minute.
    flux: f64,
    /// Mean thicknesses a minute.
    depth: f64,
}

/// What does not change while a bath stands at one temperature: the depth at which it is spent.
#[derive(Default)]
pub(super) struct StandingBath {
    capacity: f64,
    end: Option<f64>,
}

impl FilmedPath<'_> {
    pub(super) fn rates(&self, state: &BathState, temp_c: f64, boost: f64) -> StepRates {
        let at: Looked = self.table.at(state.g_per_l, temp_c);
        let flux = 60.0 * self.speed * boost * at.flux(state.load);
        StepRates {
            capacity: at.capacity,
            flux,
            depth: flux * MOLAR_CM3 / self.thickness,
        }
    }

    /// `h` minutes from `from` with bath coming in steadily, at the rates met at `met`.
    pub(super) fn flow(
        &self,
        from: &BathState,
        met: &BathState,
        rates: &StepRates,
        h: f64,
        inflow: f64,
        bath_g_per_l: f64,
    ) -> BathState {
        let strength = bath_g_per_l + (from.g_per_l - bath_g_per_l) * (-inflow * h).exp();
        let room = rates.capacity - met.load;
        if rates.flux <= 0.0 || room <= 0.0 {
            return BathState {
                g_per_l: strength,
                load: from.load * (-inflow * h).exp(),
                ..*from
            };
        }
        // The flux is taken to fall in proportion to what the bath can still take up.
        let k = 1000.0 * self.area_cm2 * covered_at(met.depth) * rates.flux / (from.hold_ml * room);
        let x = (k + inflow) * h;
        let (a, b) = if x < 1e-3 {
            (1.0 - x / 2.0 + x * x / 6.0, 0.5 - x / 6.0 + x * x / 24.0)
        } else {
            let a = (1.0 - (-x).exp()) / x;
            (a, (1.0 - a) / x)
        };
        let r = (k * rates.capacity - (k + inflow) * from.load) * h;
        let depth = rates.depth * h * (rates.capacity - from.load - r * b) / room;
        BathState {
            g_per_l: strength,
            load: from.load + r * a,
            depth: from.depth + depth.max(0.0),
            ..*from
        }
    }

    /// `h` minutes from `from` while the bath stands, at the rates met at `met`. What leaves the film is in the bath, exactly.
    pub(super) fn stand(
        &self,
        from: &BathState,
        met: &BathState,
        rates: &StepRates,
        h: f64,
        standing: &mut StandingBath,
    ) -> BathState {
        let depth = match standing.end(self, from, rates.capacity) {
            None => from.depth + rates.depth * h,
            Some(end) if end <= met.depth => from.depth,
            Some(end) => end - (end - from.depth) * (-rates.depth * h / (end - met.depth)).exp(),
        };
        let gone = self.film_mg * (left_at(from.depth) - left_at(depth));
        BathState {
            load: from.load + gone * 1000.0 / (CACO3_MG_PER_MOL * from.hold_ml),
            depth,
            ..*from
        }
    }
}

impl StandingBath {
    /// The depth at which the bath is spent; none when it takes up the whole film.
    fn end(&mut self, circuit: &FilmedPath, from: &BathState, capacity: f64) -> Option<f64> {
        if self.capacity.to_bits() != capacity.to_bits() {
            self.capacity = capacity;
            let left = left_at(from.depth) - from.room_mg(capacity) / circuit.film_mg;
            self.end = (left > 1e-9).then(|| {
                let mut depth = from.depth;
                for _ in 0..4 {
                    let now = left_at(depth);
                    depth += (now / left).ln() * now / covered_at(depth);
                }
                depth
            });
        }
        self.end
    }
}

/// Temperature of room and tap water, °C.
pub const ROOM_C: f64 = 22.0;

/// How much faster a boiling bath takes chalk off, for the stirring. Judged.
const BOILING: f64 = 1.75;

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
pub enum HowWarm {
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
    pub heat: HowWarm,
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
    pub const fn standing(minutes: f64, heat: HowWarm) -> Self {
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

/// Less chalk than this is none: clean after clean leaves ever smaller shares, and their depths are no numbers any more.
pub(crate) const TRACE_MG: f64 = 1e-6;

/// Share of an uneven film's mass still there when `depth` mean thicknesses have dissolved. Its thickness is gamma distributed
/// with shape 4, a spread of half its mean (judged).
///
/// # Example
/// ```
/// use murlo_chemistry::cleaning::left_at;
/// assert_eq!(left_at(0.0), 1.0);
/// assert!(left_at(1.0) < left_at(0.5));
/// ```
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
pub struct BathState {
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
pub(crate) struct FilmedPath<'a> {
    pub(crate) table: &'static Table,
    /// Strength of the schedule's bath, g/L water-free.
    pub(crate) g_per_l: f64,
    pub(crate) film_mg: f64,
    pub(crate) area_cm2: f64,
    /// Mean thickness, cm.
    pub(crate) thickness: f64,
    pub(crate) speed: f64,
    pub(crate) phases: &'a [Phase],
}

impl FilmedPath<'_> {
    pub(crate) fn go_through(&self, state: &mut BathState, phase: &Phase) {
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
        let heat = Cooling::new(phase.heat, state.temp_c);
        if phase.minutes > 0.0 && state.hold_ml > 0.0 && self.film_mg > 0.0 {
            self.dissolve(state, phase, &heat, rate, bath);
        }
        state.temp_c = heat.after(phase.minutes);
    }

    /// Midpoint steps: half a step at the rates of its start, then all of it at the rates met there.
    fn dissolve(
        &self,
        state: &mut BathState,
        phase: &Phase,
        heat: &Cooling,
        inflow: f64,
        bath: f64,
    ) {
        let boost = if phase.boiling { BOILING } else { 1.0 };
        let flows = inflow > 0.0;
        // Standing, most happens at the start.
        let (steps, power) = match flows {
            true => (4, 1),
            false if phase.minutes <= 5.0 => (4, 2),
            false => (8, 2),
        };
        let mut standing = StandingBath::default();
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
struct Cooling {
    start: f64,
    tau: Option<f64>,
}

impl Cooling {
    const fn new(heat: HowWarm, now: f64) -> Self {
        match heat {
            HowWarm::Held(temp_c) => Self {
                start: temp_c,
                tau: None,
            },
            HowWarm::Cooling(tau) => Self {
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

impl BathState {
    /// The path holds another amount: emptied, topped up with bath, or the surplus leaves.
    pub(crate) fn hold(&mut self, ml: f64, bath_g_per_l: f64) {
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

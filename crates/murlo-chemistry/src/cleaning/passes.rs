//! What a bath did on its way: passes, and how long it stood after each. Facts of a clean as planned or as done, small enough to
//! keep; the phases they come to are worked out from the circuit.

pub(crate) use super::schedule::{BREW_MIN, COOLING_MIN, Heats, LAST_WAIT_MIN, PRESS_MIN};
use super::{Bathing, Film, HowWarm, Inflow, Left, Phase};
use crate::acid::Acid;
use crate::heater::Heater;
use murlo_base::bounds;
use murlo_base::problem::{Problem, Problems};
use serde::{Deserialize, Serialize};

/// A programme's bath comes in this many portions, with a pause between each two. Judged.
const PORTIONS: u32 = 4;
/// What a programme's pump brings in a minute, mL. Judged.
const PUMPED_ML_MIN: f64 = 200.0;
/// A block switches itself off so many minutes after a press. Judged.
const BLOCK_STAYS_ON_MIN: f64 = 2.0;
/// Pushing a cup out, and the empty path after it, minutes. Judged.
const CUP_MIN: (f64, f64) = (1.0, 3.0);

/// In which way bath went through.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum How {
    /// One dispense.
    Press,
    /// A cup poured in and paused at its first drops, then run out.
    Cup,
    /// The brewer's own programme.
    Programme,
    /// A part of a brew.
    Half,
}

/// Bath going through once, and standing after it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Pass {
    /// The way.
    pub how: How,
    /// How much, mL.
    pub ml: f64,
    /// How long, minutes.
    pub minutes: f64,
    /// How long it stood in the path then, minutes.
    pub stood_min: f64,
    /// Whether the heater was on meanwhile.
    pub heated: bool,
}

/// One bath.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Bath {
    /// Its strength, g/L as weighed; the schedule's own when absent.
    pub g_per_l: Option<f64>,
    /// How it went through.
    pub passes: Vec<Pass>,
}

/// Every bath of a clean.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Bathed {
    /// Its acid.
    pub acid: Acid,
    /// The baths, one after the other.
    pub baths: Vec<Bath>,
}

/// The path that bath goes through.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Path {
    /// How warm it is.
    pub heats: Heats,
    /// What it holds, mL.
    pub hold_ml: f64,
}

impl Bathed {
    /// What these baths leave of `film` in `path`.
    #[must_use]
    pub fn leaves(&self, film: &Film, path: &Path) -> Left {
        let phases = path.phases(&self.baths);
        if phases.is_empty() {
            return Left::ALL;
        }
        let bathing = Bathing {
            acid: self.acid,
            g_per_l: 0.0,
            start_hold_ml: self.start_hold_ml(path),
            phases: &phases,
            baths: 1,
        };
        bathing.leaves(film)
    }

    /// The same baths, each so many times as strong.
    #[must_use]
    pub fn times(&self, strength: f64) -> Self {
        let mut other = self.clone();
        for bath in &mut other.baths {
            bath.g_per_l = bath.g_per_l.map(|g_per_l| g_per_l * strength);
        }
        other
    }

    /// Plain water in the path before the first bath, mL.
    #[must_use]
    pub fn start_hold_ml(&self, path: &Path) -> f64 {
        let mut passes = self.baths.iter().flat_map(|bath| &bath.passes);
        let by_cup = passes.next().is_some_and(|pass| pass.how == How::Cup);
        if by_cup || path.heats.is_riser() {
            0.0
        } else {
            path.hold_ml
        }
    }

    /// Checks baths that come from outside.
    ///
    /// # Errors
    /// One problem per impossible figure, by its place.
    pub fn check(&self, field: &str) -> Result<(), Problems> {
        let mut problems = Problems::default();
        for (i, bath) in self.baths.iter().enumerate() {
            let place = format!("{field}.baths.{i}");
            problems.note(bath.check(&place));
        }
        problems.or(Some(()))
    }
}

impl Bath {
    fn check(&self, place: &str) -> Result<(), Problem> {
        if let Some(g_per_l) = self.g_per_l {
            bounds::G_PER_L.check(&format!("{place}.g_per_l"), g_per_l)?;
        }
        for (i, pass) in self.passes.iter().enumerate() {
            let at = |name: &str| format!("{place}.passes.{i}.{name}");
            bounds::SPARE_VOLUME.check(&at("ml"), pass.ml)?;
            bounds::STEP_MINUTES.check(&at("minutes"), pass.minutes)?;
            bounds::STEP_MINUTES.check(&at("stood_min"), pass.stood_min)?;
        }
        Ok(())
    }
}

impl Path {
    /// The phases that `baths` come to here.
    #[must_use]
    pub fn phases(&self, baths: &[Bath]) -> Vec<Phase> {
        let mut phases = Vec::new();
        for bath in baths {
            let begun = phases.len();
            for (i, pass) in bath.passes.iter().enumerate() {
                let is_last = i + 1 == bath.passes.len();
                self.go_through(pass, is_last, &mut phases);
            }
            for phase in &mut phases[begun..] {
                phase.g_per_l = bath.g_per_l;
            }
        }
        phases
    }

    fn go_through(&self, pass: &Pass, is_last: bool, phases: &mut Vec<Phase>) {
        match pass.how {
            How::Press => {
                phases.push(self.hot(pass.ml, PRESS_MIN, false));
                phases.extend(self.standing(pass, is_last));
            }
            How::Cup => self.cup(pass, phases),
            How::Programme => self.programme(pass, phases),
            How::Half => {
                phases.push(self.hot(pass.ml, pass.minutes, true));
                phases.extend(if is_last {
                    Some(empty(pass.stood_min, self.heats.cooling()))
                } else {
                    self.cooling(pass.stood_min)
                });
            }
        }
    }

    /// `ml` of fresh bath through the hot path.
    fn hot(&self, ml: f64, minutes: f64, boiling: bool) -> Phase {
        Phase {
            inflow: Some(Inflow { ml, at_once: false }),
            hold_ml: Some(self.hold_ml),
            boiling,
            ..Phase::standing(minutes, self.heats.pass())
        }
    }

    fn cooling(&self, minutes: f64) -> Option<Phase> {
        (minutes > 0.0).then(|| Phase::standing(minutes, self.heats.cooling()))
    }

    /// What stands after a press: a tank stays hot unless it is switched off, a block switches itself off.
    fn standing(&self, pass: &Pass, is_last: bool) -> impl Iterator<Item = Phase> {
        let on = match self.heats.heater {
            Heater::Tank if pass.heated => pass.stood_min,
            Heater::Tank => 0.0,
            // The last wait, while its reservoir is washed, is short enough to stay warm.
            _ if is_last => pass.stood_min.min(LAST_WAIT_MIN),
            Heater::Thermoblock | Heater::DripRiser => pass.stood_min.min(BLOCK_STAYS_ON_MIN),
        };
        let kept = (on > 0.0).then(|| Phase::standing(on, self.heats.kept()));
        kept.into_iter().chain(self.cooling(pass.stood_min - on))
    }

    fn cup(&self, pass: &Pass, phases: &mut Vec<Phase>) {
        // Nothing keeps a paused one-cup brewer warm.
        let cooling = HowWarm::Cooling(COOLING_MIN.0);
        phases.push(Phase {
            hold_ml: Some(pass.ml),
            ..Phase::standing(PRESS_MIN, self.heats.pass())
        });
        phases.extend((pass.stood_min > 0.0).then(|| Phase::standing(pass.stood_min, cooling)));
        phases.push(Phase::standing(CUP_MIN.0, cooling));
        phases.push(empty(CUP_MIN.1, cooling));
    }

    fn programme(&self, pass: &Pass, phases: &mut Vec<Phase>) {
        let riser = self.heats.is_riser();
        let brew = if riser {
            self.heats.brew_min.unwrap_or(BREW_MIN)
        } else {
            pass.ml / PUMPED_ML_MIN
        };
        let running = pass.minutes.min(brew);
        let pause = (pass.minutes - running) / f64::from(PORTIONS - 1);
        for portion in 1..=PORTIONS {
            let (ml, minutes) = (pass.ml, running);
            let share = f64::from(PORTIONS);
            phases.push(self.hot(ml / share, minutes / share, riser));
            if portion < PORTIONS {
                phases.push(Phase::standing(pause, self.heats.pause()));
            }
        }
        phases.push(if riser {
            empty(pass.stood_min, self.heats.cooling())
        } else {
            Phase::standing(pass.stood_min, self.heats.kept())
        });
    }
}

/// The path empty for `minutes`.
fn empty(minutes: f64, heat: HowWarm) -> Phase {
    Phase {
        hold_ml: Some(0.0),
        ..Phase::standing(minutes, heat)
    }
}

//! The phases of a clean as they are usually run, for each way in which a bath gets through a circuit.

use super::{Heat, Inflow, Phase};
use crate::brewer::{Heater, Way};

/// A wait between presses, and the last, when the reservoir is washed while the path stands full. Minutes, judged.
const WAIT_MIN: (f64, f64) = (2.0, 5.0);
/// A press, minutes. Judged.
const PRESS_MIN: f64 = 1.0;
/// What is left after the bath stands or is blown out for this long, minutes. Judged.
const AFTER_MIN: f64 = 5.0;
/// Pushing a cup out, and the empty path after it, minutes. Judged.
const CUP_MIN: (f64, f64) = (1.0, 3.0);
/// A programme's bath comes in this many portions, with a pause between each two. Judged.
const PORTIONS: u32 = 4;
/// What a programme's pump brings in a minute, mL. Judged.
const PUMPED_ML_MIN: f64 = 200.0;
/// Minutes of a normal brew where nobody knows.
const BREW_MIN: f64 = 10.0;
/// Minutes in which a hot path cools by two thirds of the way to the room: a tank or cup, a block or riser. Judged.
const COOLING_MIN: (f64, f64) = (45.0, 30.0);

/// How warm a circuit's bath is, from its heater.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Heats {
    /// What kind of heater.
    pub heater: Heater,
    /// Water temperature at it, °C.
    pub heater_c: f64,
}

impl Heats {
    const fn is_riser(self) -> bool {
        matches!(self.heater, Heater::DripRiser)
    }

    /// While bath goes through hot.
    #[must_use]
    pub const fn pass(self) -> Heat {
        Heat::Held(self.heater_c - if self.is_riser() { 0.0 } else { 2.0 })
    }

    /// While it stands with the heater on.
    #[must_use]
    pub const fn kept(self) -> Heat {
        Heat::Held(self.heater_c - 10.0)
    }

    /// Between the portions of a programme: a riser simmers on.
    const fn pause(self) -> Heat {
        if self.is_riser() {
            Heat::Held(self.heater_c - 4.0)
        } else {
            self.kept()
        }
    }

    /// While it stands and nothing heats.
    #[must_use]
    pub const fn cooling(self) -> Heat {
        Heat::Cooling(match self.heater {
            Heater::Tank => COOLING_MIN.0,
            Heater::Thermoblock | Heater::DripRiser => COOLING_MIN.1,
        })
    }
}

/// How a circuit is cleaned, apart from the soak.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Course {
    /// The way.
    pub way: Way,
    /// How warm it is.
    pub heats: Heats,
    /// What the path holds, mL.
    pub hold_ml: f64,
    /// One dispense, mL.
    pub dispense_ml: f64,
    /// Dispenses of one bath.
    pub presses: u32,
    /// The whole bath, mL.
    pub bath_ml: f64,
    /// Minutes of its programme.
    pub programme_min: Option<f64>,
    /// Minutes of a normal brew.
    pub brew_min: Option<f64>,
}

/// Where bath stands on purpose, and how long.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Soak {
    /// After this press, counted from one.
    pub after: u32,
    /// Minutes.
    pub minutes: f64,
}

impl Course {
    /// Plain water in the path before the first bath, mL: a tank or block stays full.
    #[must_use]
    pub const fn start_hold_ml(&self) -> f64 {
        match (self.way, self.heats.heater) {
            (Way::CupAtATime, _) | (_, Heater::DripRiser) => 0.0,
            _ => self.hold_ml,
        }
    }

    /// Where a soak can be, most promising first; each alone or two of the same length.
    #[must_use]
    pub fn places(&self) -> Vec<Vec<u32>> {
        match self.way {
            Way::Programme => vec![Vec::new()],
            Way::CupAtATime | Way::Halves => vec![vec![1]],
            Way::Presses => {
                let last = self.presses.saturating_sub(1);
                let mut single: Vec<u32> = Vec::new();
                for after in [1, 2, last] {
                    if after >= 1 && after < self.presses && !single.contains(&after) {
                        single.push(after);
                    }
                }
                if single.is_empty() {
                    single.push(1);
                }
                let mut places: Vec<_> = single.iter().map(|after| vec![*after]).collect();
                for (i, first) in single.iter().enumerate() {
                    places.extend(single[i + 1..].iter().map(|second| vec![*first, *second]));
                }
                places
            }
        }
    }

    /// The phases of one bath with these soaks.
    #[must_use]
    pub fn phases(&self, soaks: &[Soak]) -> Vec<Phase> {
        let soak = |after: u32| {
            let mut at = soaks.iter().filter(|s| s.after == after);
            at.next().map_or(0.0, |s| s.minutes)
        };
        match self.way {
            Way::Presses => self.presses(soak),
            Way::CupAtATime => self.cup(soak(1)),
            Way::Programme => self.programme(),
            Way::Halves => self.halves(soak(1)),
        }
    }

    /// Minutes of one bath with these soaks.
    #[must_use]
    pub fn minutes(&self, soaks: &[Soak]) -> f64 {
        self.phases(soaks).iter().map(|p| p.minutes).sum()
    }

    fn presses(&self, soak: impl Fn(u32) -> f64) -> Vec<Phase> {
        let Self { heats, .. } = *self;
        let mut phases = Vec::with_capacity(2 * self.presses as usize + 1);
        for press in 1..=self.presses {
            phases.push(Phase {
                inflow: Some(Inflow {
                    ml: self.dispense_ml,
                    at_once: false,
                }),
                hold_ml: Some(self.hold_ml),
                ..Phase::standing(PRESS_MIN, heats.pass())
            });
            let wait = if press == self.presses {
                WAIT_MIN.1
            } else {
                WAIT_MIN.0
            };
            phases.extend(waiting(heats, wait, soak(press)));
        }
        phases
    }

    fn cup(&self, soak: f64) -> Vec<Phase> {
        // Nothing keeps a paused one-cup brewer warm.
        let cooling = Heat::Cooling(COOLING_MIN.0);
        let mut phases = vec![Phase {
            hold_ml: Some(self.bath_ml),
            ..Phase::standing(PRESS_MIN, self.heats.pass())
        }];
        if soak > 0.0 {
            phases.push(Phase::standing(soak, cooling));
        }
        phases.push(Phase::standing(CUP_MIN.0, cooling));
        phases.push(empty(CUP_MIN.1, cooling));
        phases
    }

    fn programme(&self) -> Vec<Phase> {
        let riser = self.heats.is_riser();
        let brew = if riser {
            self.brew_min.unwrap_or(BREW_MIN)
        } else {
            self.bath_ml / PUMPED_ML_MIN
        };
        let whole = self.programme_min.unwrap_or(brew);
        let running = whole.min(brew);
        let pause = (whole - running) / f64::from(PORTIONS - 1);
        let mut phases = Vec::with_capacity(2 * PORTIONS as usize);
        for portion in 1..=PORTIONS {
            phases.push(self.pass(
                self.bath_ml / f64::from(PORTIONS),
                running / f64::from(PORTIONS),
            ));
            if portion < PORTIONS {
                phases.push(Phase::standing(pause, self.heats.pause()));
            }
        }
        phases.push(if riser {
            empty(AFTER_MIN, self.heats.cooling())
        } else {
            Phase::standing(AFTER_MIN, self.heats.kept())
        });
        phases
    }

    fn halves(&self, soak: f64) -> Vec<Phase> {
        let half = self.brew_min.unwrap_or(BREW_MIN) / 2.0;
        let mut phases = vec![self.pass(self.bath_ml / 2.0, half)];
        if soak > 0.0 {
            phases.push(Phase::standing(soak, self.heats.cooling()));
        }
        phases.push(self.pass(self.bath_ml / 2.0, half));
        phases.push(empty(AFTER_MIN, self.heats.cooling()));
        phases
    }

    /// `ml` of fresh bath through the hot path.
    fn pass(&self, ml: f64, minutes: f64) -> Phase {
        Phase {
            inflow: Some(Inflow { ml, at_once: false }),
            hold_ml: Some(self.hold_ml),
            boiling: self.heats.is_riser(),
            ..Phase::standing(minutes, self.heats.pass())
        }
    }
}

/// The wait after a press, of at least `wait` minutes or as long as the soak: a tank stays on, the others switch
/// themselves off.
fn waiting(heats: Heats, wait: f64, soak: f64) -> impl Iterator<Item = Phase> {
    let (on, off) = match heats.heater {
        Heater::Tank => (wait.max(soak), 0.0),
        _ => (wait, (soak - wait).max(0.0)),
    };
    let cooled = (off > 0.0).then(|| Phase::standing(off, heats.cooling()));
    std::iter::once(Phase::standing(on, heats.kept())).chain(cooled)
}

/// The path empty for `minutes`.
fn empty(minutes: f64, heat: Heat) -> Phase {
    Phase {
        hold_ml: Some(0.0),
        ..Phase::standing(minutes, heat)
    }
}

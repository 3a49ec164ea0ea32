//! A clean as it is usually run, for each way in which a bath gets through a circuit.

pub(crate) use crate::cleaning::heats::{BREW_MIN, COOLING_MIN};
pub(crate) use crate::cleaning::heats::{Heats, LAST_WAIT_MIN, PRESS_MIN, WAIT_MIN};

use super::Phase;
use super::passes::{Bath, How, Pass, Path};
use crate::heater::{Heater, Way};

/// How a circuit is cleaned, apart from the soak.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BathCourse {
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
    /// Whether the heater stays on while a tank soaks.
    pub soaks_hot: bool,
}

/// Where bath stands on purpose, and how long.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SoakAfter {
    /// After this press, counted from one.
    pub after: u32,
    /// Minutes.
    pub minutes: f64,
}

impl BathCourse {
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
    pub fn phases(&self, soaks: &[SoakAfter]) -> Vec<Phase> {
        let bath = Bath {
            g_per_l: None,
            passes: self.passes(soaks),
        };
        self.path().phases(std::slice::from_ref(&bath))
    }

    /// The path that the bath goes through.
    #[must_use]
    pub const fn path(&self) -> Path {
        Path {
            heats: self.heats,
            hold_ml: self.hold_ml,
        }
    }

    /// Minutes of one bath with these soaks.
    #[must_use]
    pub fn minutes(&self, soaks: &[SoakAfter]) -> f64 {
        self.phases(soaks).iter().map(|p| p.minutes).sum()
    }

    /// How the bath goes through with these soaks.
    #[must_use]
    pub fn passes(&self, soaks: &[SoakAfter]) -> Vec<Pass> {
        let soak = |after: u32| {
            let mut at = soaks.iter().filter(|s| s.after == after);
            at.next().map_or(0.0, |s| s.minutes)
        };
        let half = |stood_min| Pass {
            how: How::Half,
            ml: self.bath_ml / 2.0,
            minutes: self.heats.brew_min.unwrap_or(BREW_MIN) / 2.0,
            stood_min,
            heated: false,
        };
        match self.way {
            Way::Presses => (1..=self.presses)
                .map(|press| {
                    let wait = if press == self.presses {
                        LAST_WAIT_MIN
                    } else {
                        WAIT_MIN
                    };
                    Pass {
                        how: How::Press,
                        ml: self.dispense_ml,
                        minutes: PRESS_MIN,
                        stood_min: wait.max(soak(press)),
                        heated: self.soaks_hot || soak(press) <= wait,
                    }
                })
                .collect(),
            Way::CupAtATime => vec![Pass {
                how: How::Cup,
                ml: self.bath_ml,
                minutes: PRESS_MIN,
                stood_min: soak(1),
                heated: false,
            }],
            Way::Programme => vec![Pass {
                how: How::Programme,
                ml: self.bath_ml,
                minutes: self.programme_min.unwrap_or(BREW_MIN),
                stood_min: LAST_WAIT_MIN,
                heated: true,
            }],
            Way::Halves => vec![half(soak(1)), half(LAST_WAIT_MIN)],
        }
    }
}

//! How a heater runs while a bath goes through it: how hot, how long.

use crate::cleaning::HowWarm;
use crate::heater::Heater;

/// A wait between presses, minutes. Judged.
pub const WAIT_MIN: f64 = 2.0;

/// The last one, when the reservoir is washed while the path stands full. Judged.
pub const LAST_WAIT_MIN: f64 = 5.0;

/// A press, minutes. Judged.
pub const PRESS_MIN: f64 = 1.0;

/// Minutes of a normal brew where nobody knows.
pub(crate) const BREW_MIN: f64 = 10.0;

/// Minutes in which a hot path cools by two thirds of the way to the room: a tank or cup, a block or riser. Judged.
pub(crate) const COOLING_MIN: (f64, f64) = (45.0, 30.0);

/// How warm a circuit's bath is, from its heater.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Heats {
    /// What kind of heater.
    pub heater: Heater,
    /// Water temperature at it, °C.
    pub heater_c: f64,
    /// Minutes of a normal brew, where they are known.
    pub brew_min: Option<f64>,
}

impl Heats {
    pub(super) const fn is_riser(self) -> bool {
        matches!(self.heater, Heater::DripRiser)
    }

    /// While bath goes through hot.
    #[must_use]
    pub const fn pass(self) -> HowWarm {
        HowWarm::Held(self.heater_c - if self.is_riser() { 0.0 } else { 2.0 })
    }

    /// While it stands with the heater on.
    #[must_use]
    pub const fn kept(self) -> HowWarm {
        HowWarm::Held(self.heater_c - 10.0)
    }

    /// Between the portions of a programme: a riser simmers on.
    pub(super) const fn pause(self) -> HowWarm {
        if self.is_riser() {
            HowWarm::Held(self.heater_c - 4.0)
        } else {
            self.kept()
        }
    }

    /// While it stands and nothing heats.
    #[must_use]
    pub const fn cooling(self) -> HowWarm {
        HowWarm::Cooling(match self.heater {
            Heater::Tank => COOLING_MIN.0,
            Heater::Thermoblock | Heater::DripRiser => COOLING_MIN.1,
        })
    }
}

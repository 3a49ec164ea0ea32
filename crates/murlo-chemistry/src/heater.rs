//! Heaters, and how a bath is run through them.

use crate::carbonate::Heat;
use crate::washout::Washout;
use serde::{Deserialize, Serialize};

/// How a circuit heats its water.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Heater {
    /// A tank that stays hot and full.
    Tank,
    /// A block that heats in passing, under pressure.
    Thermoblock,
    /// A tube that boils water upwards.
    DripRiser,
}

/// Starting values of a heater: calibrated together so that the forecast meets common intervals, not measured.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct HeaterDefaults {
    /// Temperature and CO2 that stays.
    pub heat: Heat,
    /// Wetted area, cm².
    pub area_cm2: f64,
    /// Crust at which the brewer suffers, µm.
    pub limit_um: f64,
    /// Share of the scale potential that sticks.
    pub plating: f64,
}

impl Heater {
    /// Every heater.
    pub const ALL: [Self; 3] = [Self::Tank, Self::Thermoblock, Self::DripRiser];

    /// The name used by `murlo calc`.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Tank => "tank",
            Self::Thermoblock => "thermoblock",
            Self::DripRiser => "drip",
        }
    }

    /// Its starting values.
    ///
    /// # Example
    /// ```
    /// use murlo_chemistry::heater::Heater;
    /// let tank = Heater::Tank.defaults();
    /// assert_eq!((tank.plating, tank.heat.temp_c), (0.15, 92.0));
    /// ```
    #[must_use]
    pub const fn defaults(self) -> HeaterDefaults {
        let (co2_retained, temp_c, area_cm2, limit_um, plating) = match self {
            Self::Tank => (0.15, 92.0, 100.0, 21.0, 0.15),
            Self::Thermoblock => (1.0, 92.0, 60.0, 15.0, 0.135),
            Self::DripRiser => (0.05, 96.0, 70.0, 35.0, 0.14),
        };
        HeaterDefaults {
            heat: Heat {
                temp_c,
                co2_retained,
            },
            area_cm2,
            limit_um,
            plating,
        }
    }

    /// How rinse water washes this water path out.
    #[must_use]
    pub const fn washout(self) -> Washout {
        match self {
            Self::Tank | Self::Thermoblock => Washout::TankBatch,
            Self::DripRiser => Washout::Drip,
        }
    }
}

/// Spread of ln(plating) before anything was learned.
pub const PLATING_SIGMA: f64 = 0.50;

/// How a bath is run through a circuit.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Way {
    /// Pressed dispense by dispense.
    Presses,
    /// One cup poured in at a time, paused at the first drops.
    CupAtATime,
    /// By a cleaning programme of its own.
    Programme,
    /// Half is brewed, the rest after the soak.
    Halves,
}

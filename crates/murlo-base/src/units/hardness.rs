//! Units of hardness and of what else is dissolved, as strips, labels and reports have them.

use crate::bounds::{self, Bound};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};

/// A unit of water hardness.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub enum HardnessUnit {
    /// mg/L as CaCO3.
    #[serde(rename = "mg/L")]
    MgPerL,
    /// Parts per million as CaCO3.
    #[serde(rename = "ppm")]
    Ppm,
    /// US grains a gallon.
    #[serde(rename = "gpg")]
    Gpg,
    /// German degrees.
    #[serde(rename = "dH")]
    German,
    /// French degrees.
    #[serde(rename = "fH")]
    French,
    /// English degrees.
    #[serde(rename = "clark")]
    Clark,
    /// mmol/L of calcium and magnesium.
    #[serde(rename = "mmol/L")]
    MmolPerL,
}

impl HardnessUnit {
    /// Every unit, in the order they are offered.
    pub const ALL: [Self; 7] = [
        Self::MgPerL,
        Self::Ppm,
        Self::Gpg,
        Self::German,
        Self::French,
        Self::Clark,
        Self::MmolPerL,
    ];

    /// The name used in data.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::MgPerL => "mg/L",
            Self::Ppm => "ppm",
            Self::Gpg => "gpg",
            Self::German => "dH",
            Self::French => "fH",
            Self::Clark => "clark",
            Self::MmolPerL => "mmol/L",
        }
    }

    /// The name people read.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::German => "°dH",
            Self::French => "°fH",
            Self::Clark => "°Clark",
            other @ (Self::MgPerL | Self::Ppm | Self::Gpg | Self::MmolPerL) => other.id(),
        }
    }

    /// mg/L as CaCO3 in one of this unit.
    ///
    /// # Example
    /// ```
    /// use murlo_base::units::HardnessUnit;
    /// assert!((HardnessUnit::Gpg.mg_per_l() - 17.118).abs() < 0.001);
    /// ```
    #[must_use]
    pub const fn mg_per_l(self) -> f64 {
        match self {
            Self::MgPerL | Self::Ppm => 1.0,
            Self::Gpg => 64.798_91 / 3.785_411_784,
            Self::German => 10.0 * 100.087 / 56.0774,
            Self::French => 10.0,
            Self::Clark => 64.798_91 / 4.546_09,
            Self::MmolPerL => 100.087,
        }
    }
}

/// Hardness in mg/L as CaCO3 from `value` in `unit`.
///
/// # Errors
/// `NotANumber` or `OutOfRange`, with the range in the unit that was given.
///
/// # Example
/// ```
/// use murlo_base::units::{HardnessUnit, hardness};
/// assert!((hardness("value", 10.0, HardnessUnit::Gpg).unwrap() - 171.18).abs() < 0.01);
/// assert!(hardness("value", 4000.0, HardnessUnit::MgPerL).is_err());
/// ```
pub fn hardness(field: &str, value: f64, unit: HardnessUnit) -> Result<f64, Problem> {
    let factor = unit.mg_per_l();
    let bound = Bound {
        unit: unit.label(),
        max: (bounds::HARDNESS.max / factor * 100.0).floor() / 100.0,
        ..bounds::HARDNESS
    };
    Ok(bound.check(field, value)? * factor)
}

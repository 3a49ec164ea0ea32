//! How a water is known: as it was read, typed and kept.

use murlo_base::problem::Problem;
use murlo_base::units::{HardnessRead, HardnessUnit, hardness, read_hardness};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// What is seen on taps, kettles and shower heads, when nothing has been measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TapChalk {
    /// Taps stay clean for months.
    None,
    /// A faint film after some weeks.
    Film,
    /// A white crust within weeks.
    Crust,
    /// A thick crust; flakes in the kettle.
    Flakes,
}

impl TapChalk {
    /// The hardness class it suggests, as its ends in mg/L (USGS classes; the last ends at a very hard supply).
    pub(crate) const fn ends(self) -> (f64, f64) {
        match self {
            Self::None => (15.0, 60.0),
            Self::Film => (60.0, 120.0),
            Self::Crust => (120.0, 180.0),
            Self::Flakes => (180.0, 350.0),
        }
    }
}

/// What tap water goes through before it is filled in, or what stands in for it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Through {
    /// A filter jug, or the filter of a fridge.
    Jug,
    /// A softener of the whole house.
    Softener,
    /// Half of it is bottled water.
    HalfBottled,
    /// All of it is bottled water, whose label nobody has read.
    Bottled,
}

impl Through {
    /// Every one, in the order they are offered.
    pub const ALL: [Self; 4] = [Self::Jug, Self::Softener, Self::HalfBottled, Self::Bottled];

    /// What it is, in a word or two.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::Jug => "Filtered",
            Self::Softener => "Softened",
            Self::HalfBottled => "Half bottled",
            Self::Bottled => "Bottled",
        }
    }

    /// What such a water is called.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            Self::Jug => "Tap water through a filter",
            Self::Softener => "Softened tap water",
            Self::HalfBottled => "Half tap, half bottled water",
            Self::Bottled => "Bottled water",
        }
    }
}

/// How a water is known.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "by", rename_all = "snake_case", deny_unknown_fields)]
pub enum Reading {
    /// A test strip or kit for total hardness.
    Strip {
        /// The number read.
        value: f64,
        /// Its unit.
        unit: HardnessUnit,
    },
    /// The same as somebody wrote it: "7 grains", "120 ppm", "8-10 dH". It is kept as what it means, one of the two beside it.
    Typed {
        /// What was written.
        text: String,
        /// Its unit where none was written.
        unit: HardnessUnit,
    },
    /// A strip that only tells a step: somewhere between the two numbers printed beside its colour.
    Between {
        /// The step's lower number.
        low: f64,
        /// Its upper number.
        high: f64,
        /// Their unit.
        unit: HardnessUnit,
    },
    /// A bottle label or water report, in mg/L.
    Label {
        /// Calcium.
        ca_mg_l: f64,
        /// Magnesium.
        mg_mg_l: f64,
        /// Hydrogen carbonate.
        hco3_mg_l: f64,
        /// pH, if given.
        ph: Option<f64>,
        /// Dissolved solids, if given.
        tds_mg_l: Option<f64>,
    },
    /// A guess from the chalk on taps.
    Taps {
        /// What is seen.
        chalk: TapChalk,
    },
    /// A guess from what it goes through, and from the chalk on taps where somebody looked.
    Through {
        /// What it goes through.
        through: Through,
        /// What is seen on taps.
        #[serde(default)]
        chalk: Option<TapChalk>,
    },
    /// Nobody has looked: anything that comes out of taps.
    Unknown {},
    /// Two waters of the household poured together.
    Blend {
        /// One of them.
        first_id: String,
        /// The other.
        second_id: String,
        /// Share of the first by volume.
        share_first: f64,
    },
}

impl Reading {
    /// What was written down, as what it means; everything else as it is.
    pub(crate) fn into_meant(self) -> Result<Self, Problem> {
        let Self::Typed { text, unit } = &self else {
            return Ok(self);
        };
        let HardnessRead { low, high, unit } = read_hardness("text", text, *unit)?;
        // The bounds are those of the numbers; what is wrong is named by what was typed.
        for value in [Some(low), high].into_iter().flatten() {
            hardness("text", value, unit)?;
        }
        Ok(match high {
            Some(high) => Self::Between { low, high, unit },
            None => Self::Strip { value: low, unit },
        })
    }

    /// Ids of the waters it is blended from.
    pub fn parts(&self) -> impl Iterator<Item = &str> {
        match self {
            Self::Blend {
                first_id,
                second_id,
                ..
            } => [Some(first_id.as_str()), Some(second_id.as_str())],
            Self::Strip { .. }
            | Self::Typed { .. }
            | Self::Between { .. }
            | Self::Label { .. }
            | Self::Taps { .. }
            | Self::Through { .. }
            | Self::Unknown { .. } => [None, None],
        }
        .into_iter()
        .flatten()
    }
}

/// A water that brewers are filled with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Water {
    /// Identity.
    pub id: String,
    /// What the household calls it.
    pub name: String,
    /// How it is known.
    pub reading: Reading,
    /// What a litre costs, when it is bought.
    #[serde(default)]
    pub price_a_litre: Option<f64>,
}

/// A water as it arrives from a form, before it has an identity.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct WaterDraft {
    /// What the household calls it.
    pub name: String,
    /// How it is known.
    pub reading: Reading,
    /// What a litre costs, when it is bought.
    #[serde(default)]
    pub price_a_litre: Option<f64>,
}

/// The waters of a household by id.
pub type Waters = HashMap<String, Water>;

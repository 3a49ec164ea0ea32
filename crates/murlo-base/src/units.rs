//! Volumes and hardness: one base unit inside (mL, mg/L as CaCO3), a household's own units and words at the edges.
//!
//! What a person types is read here, and every amount a person sees is worded here, so that nothing else converts.

mod read;

pub use read::parse_volume;

use crate::bounds::{self, Bound};
use crate::problem::Problem;
use serde::{Deserialize, Serialize};

/// mL in a US cup (the measuring cup, not a carafe mark).
pub const CUP_ML: f64 = 236.588_236_5;
/// mL in a US fluid ounce.
pub const FL_OZ_ML: f64 = 29.573_529_562_5;
/// mL in a US tablespoon.
pub const TABLESPOON_ML: f64 = FL_OZ_ML / 2.0;

/// The units a household reads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Units {
    /// Cups and fluid ounces.
    #[default]
    Us,
    /// Millilitres and litres.
    Metric,
}

/// An amount: millilitres, and the words for this household or the tool at hand.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Measure {
    /// Millilitres.
    pub ml: f64,
    /// "2 cups", "to the 5 mark", "1.4 L".
    pub text: String,
}

impl Units {
    /// `ml` as a measure in this household's units.
    #[must_use]
    pub fn measure(self, ml: f64) -> Measure {
        Measure {
            ml,
            text: self.volume(ml),
        }
    }

    /// `ml` in words: "12 fl oz", "355 mL", "1.4 L".
    #[must_use]
    pub fn volume(self, ml: f64) -> String {
        match self {
            Self::Us if ml >= 32.0 * FL_OZ_ML && near(ml / CUP_ML, 0.25) => {
                quarters(ml / CUP_ML, "cup", "cups")
            }
            Self::Us => format!("{} fl oz", sensible(ml / FL_OZ_ML)),
            Self::Metric if ml >= 1000.0 => format!("{} L", trim(ml / 1000.0, 2)),
            Self::Metric => format!("{} mL", ml.round()),
        }
    }

    /// `ml` as a button says it: whole fl oz, tens of millilitres, tenths of a litre.
    #[must_use]
    pub fn whole_volume(self, ml: f64) -> String {
        match self {
            Self::Us => format!("{} fl oz", (ml / FL_OZ_ML).round().max(1.0)),
            Self::Metric if ml >= 1000.0 => format!("{} L", trim(ml / 1000.0, 1)),
            Self::Metric => format!("{} mL", ((ml / 10.0).round() * 10.0).max(10.0)),
        }
    }

    /// `litres` of use, in words.
    #[must_use]
    pub fn use_volume(self, litres: f64) -> String {
        match self {
            Self::Us => format!("{} gal", sensible(litres * 1000.0 / (128.0 * FL_OZ_ML))),
            Self::Metric => format!("{} L", sensible(litres)),
        }
    }
}

/// Two figures for large numbers, one place for small ones, none where it is whole anyway.
fn sensible(value: f64) -> String {
    if value >= 20.0 {
        format!("{}", value.round())
    } else {
        trim(value, 1)
    }
}

/// At most `places` decimals, without trailing zeros.
#[must_use]
pub fn trim(value: f64, places: usize) -> String {
    let text = format!("{value:.places$}");
    if text.contains('.') {
        text.trim_end_matches('0').trim_end_matches('.').to_owned()
    } else {
        text
    }
}

fn near(value: f64, step: f64) -> bool {
    (value / step - (value / step).round()).abs() < 1e-3
}

/// "2¼ cups": a number in quarters with its noun.
fn quarters(value: f64, one: &str, many: &str) -> String {
    let count = (value * 4.0).round();
    let whole = (count / 4.0).floor();
    let fraction = ["", "¼", "½", "¾"][(count as usize) % 4];
    let noun = if count <= 4.0 { one } else { many };
    match (whole, fraction) {
        (0.0, "") => format!("0 {many}"),
        (0.0, _) => format!("{fraction} {noun}"),
        _ => format!("{whole}{fraction} {noun}"),
    }
}

/// What a person measures with; amounts are rounded to its marks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Tool {
    /// Measuring cups with quarters.
    Cups,
    /// A jug marked in fluid ounces.
    FlOz,
    /// A jug marked every 25 mL.
    Ml,
    /// The brewer's own carafe.
    CarafeMarks,
    /// The lines of the brewer's reservoir.
    ReservoirLines,
    /// The agent's bottle, full or half.
    Bottle,
}

impl Tool {
    /// Those that a household of such units measures with.
    #[must_use]
    pub fn of(units: Units) -> Vec<Self> {
        let all = [
            Self::Cups,
            Self::FlOz,
            Self::Ml,
            Self::CarafeMarks,
            Self::ReservoirLines,
            Self::Bottle,
        ];
        let common = |tool: &Self| units == Units::Us || !matches!(tool, Self::Cups | Self::FlOz);
        all.into_iter().filter(common).collect()
    }
}

/// A tool with the size of its marks.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Marks {
    /// The tool.
    pub tool: Tool,
    /// mL from one mark to the next.
    pub step_ml: f64,
}

/// The marks that differ from brewer to brewer and bottle to bottle, mL.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Sizes {
    /// One carafe mark.
    pub carafe_mark: Option<f64>,
    /// One line of the reservoir.
    pub reservoir_line: Option<f64>,
    /// A bottle of the agent.
    pub bottle: Option<f64>,
}

impl Marks {
    /// The marks of `tool`; those that are not alike everywhere need their size.
    #[must_use]
    pub fn of(tool: Tool, sizes: Sizes) -> Option<Self> {
        let step_ml = match tool {
            Tool::Cups => CUP_ML / 4.0,
            Tool::FlOz => FL_OZ_ML,
            Tool::Ml => 25.0,
            Tool::CarafeMarks => sizes.carafe_mark?,
            Tool::ReservoirLines => sizes.reservoir_line?,
            Tool::Bottle => sizes.bottle? / 2.0,
        };
        Some(Self { tool, step_ml })
    }

    /// The largest whole number of marks that is at most `ml`.
    #[must_use]
    pub fn floor(&self, ml: f64) -> f64 {
        (ml / self.step_ml + 1e-6).floor() * self.step_ml
    }

    /// `ml` in this tool's words.
    #[must_use]
    pub fn measure(&self, ml: f64) -> Measure {
        let marks = ml / self.step_ml;
        let text = match self.tool {
            Tool::Cups => quarters(ml / CUP_ML, "cup", "cups"),
            Tool::FlOz => format!("{} fl oz", trim(marks, 1)),
            Tool::Ml => Units::Metric.volume(ml),
            Tool::CarafeMarks if (marks - 1.0).abs() < 1e-6 => "1 carafe mark".to_owned(),
            Tool::CarafeMarks => format!("{} carafe marks", trim(marks, 1)),
            Tool::ReservoirLines if (marks - 1.0).abs() < 1e-6 => "1 reservoir line".to_owned(),
            Tool::ReservoirLines => format!("{} reservoir lines", trim(marks, 1)),
            Tool::Bottle => quarters(marks / 2.0, "bottle", "bottles"),
        };
        Measure { ml, text }
    }
}

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
            other => other.id(),
        }
    }

    /// mg/L as CaCO3 in one of this unit.
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
/// use crate::units::{HardnessUnit, hardness};
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

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn amounts_are_worded_for_the_tool_at_hand() {
        let carafe = Marks::of(
            Tool::CarafeMarks,
            Sizes {
                carafe_mark: Some(147.87),
                ..Sizes::default()
            },
        )
        .unwrap();
        assert_eq!(carafe.measure(5.0 * 147.87).text, "5 carafe marks");
        let cups = Marks::of(Tool::Cups, Sizes::default()).unwrap();
        assert_eq!(cups.measure(2.25 * CUP_ML).text, "2¼ cups");
        assert_eq!(cups.measure(0.5 * CUP_ML).text, "½ cup");
        assert_eq!(
            Marks::of(
                Tool::Bottle,
                Sizes {
                    bottle: Some(473.0),
                    ..Sizes::default()
                },
            )
            .unwrap()
            .measure(473.0)
            .text,
            "1 bottle"
        );
        assert_eq!(Units::Metric.volume(1400.0), "1.4 L");
        assert_eq!(Units::Us.volume(355.0), "12 fl oz");
        assert_eq!(Units::Us.volume(4.0 * CUP_ML), "4 cups");
    }

    proptest! {
        #[test]
        fn hardness_survives_a_round_trip_through_every_unit(mg in 0.0..2900.0f64, unit in 0usize..7) {
            let unit = HardnessUnit::ALL[unit];
            let back = hardness("h", mg / unit.mg_per_l(), unit).unwrap();
            prop_assert!((back - mg).abs() <= 1e-9 * mg.max(1.0));
        }

        #[test]
        fn rounding_down_to_marks_never_exceeds(ml in 1.0..5000.0f64, tool in 0usize..3) {
            let marks = Marks::of([Tool::Cups, Tool::FlOz, Tool::Ml][tool], Sizes::default()).unwrap();
            prop_assert!(marks.floor(ml) <= ml * 1.000_01 + 1e-3);
        }
    }
}

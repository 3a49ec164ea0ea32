//! What people measure with: marks, cups and spoons, and the sizes they have at home.

use crate::units::measure::quarters;
use crate::units::{CUP_ML, FL_OZ_ML, Measure, Units, trim};
use serde::{Deserialize, Serialize};

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
        let common =
            |tool: &Self| units.are_customary() || !matches!(tool, Self::Cups | Self::FlOz);
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

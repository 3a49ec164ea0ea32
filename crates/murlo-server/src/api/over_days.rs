//! Shapes of requests about cleans that are spread over days.

use jiff::civil::Date;
use murlo_chalk::scale::Chalk;
use murlo_plan::PlanOptions;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A clean to be spread, or looked at as if it were.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SpreadClean {
    /// Made by the device.
    pub id: String,
    /// What was chosen of its bath.
    #[serde(default)]
    pub options: PlanOptions,
    /// The days of its parts, one bath each; two to four. Where it is only looked at, days are proposed for none.
    pub days: Vec<Date>,
    /// For how many parts days are proposed; as many as baths are likely unless said.
    #[serde(default)]
    pub parts: Option<u32>,
}

/// Its parts as they would be.
#[derive(Serialize, ToSchema)]
pub struct SpreadView {
    /// The side.
    pub circuit_id: String,
    /// Each part.
    pub parts: Vec<SpreadPart>,
}

/// One part.
#[derive(Serialize, ToSchema)]
pub struct SpreadPart {
    /// The day.
    pub day: Date,
    /// "3 Dec".
    pub day_text: String,
    /// How long it takes: "about 27 min of your hands in 1 h 15 min".
    pub time_text: String,
    /// "leaves about 60 % of the limit, rinsed and drinkable".
    pub text: String,
    /// Chalk that it leaves.
    pub after: Option<Chalk>,
}

/// Other days for the parts that are to come.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MovedParts {
    /// A day for each.
    pub days: Vec<Date>,
}

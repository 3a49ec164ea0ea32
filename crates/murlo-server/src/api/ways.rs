//! Shapes of requests about ways that are kept.

use murlo_household::WayFile;
use murlo_plan::{Habits, PlanOptions};
use serde::Deserialize;
use utoipa::ToSchema;

/// A way to keep.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewWay {
    /// Made by the device.
    pub id: String,
    /// What the household calls it.
    pub name: String,
    /// Which side; where that does not follow from what it is kept from.
    #[serde(default)]
    pub circuit_id: Option<String>,
    /// What it is kept from.
    pub from: WayFrom,
}

/// What is changed of a way.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChangedWay {
    /// Its new name.
    #[serde(default)]
    pub name: Option<String>,
    /// How it is done from now on; what it was stays readable.
    #[serde(default)]
    pub from: Option<WayFrom>,
}

/// What a way is kept from.
#[derive(Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum WayFrom {
    /// A clean that was finished.
    Clean {
        /// The clean.
        clean_id: String,
    },
    /// The plan for these choices.
    Plan {
        /// The choices.
        options: PlanOptions,
    },
    /// Another brewer's way.
    Way {
        /// The way.
        way_id: String,
    },
    /// A file from another household.
    File {
        /// The file.
        file: WayFile,
    },
    /// What was proposed, or is told.
    Habits {
        /// What is done.
        habits: Habits,
    },
}

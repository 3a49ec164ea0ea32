//! A way of cleaning one side of a brewer that a household keeps under a name, with all it was before.

use crate::habits::Habits;
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use murlo_brewer::Brewer;
use serde::{Deserialize, Serialize};

/// So often a way may be changed; who changes it more has no way yet.
const MOST_REVISIONS: usize = 200;

/// A way that is kept.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct KeptWay {
    /// Identity.
    pub id: String,
    /// The brewer.
    pub brewer_id: String,
    /// The side.
    pub circuit_id: String,
    /// What the household calls it.
    pub name: String,
    /// As it was kept each time, oldest first; the last one counts.
    pub revisions: Vec<WayRevision>,
}

/// A way as it was kept one day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct WayRevision {
    /// The day.
    pub since: Date,
    /// Where it is from.
    pub from: WayOrigin,
    /// What is done.
    pub habits: Habits,
    /// The chalk that it was kept against, mg.
    pub chalk_mg: f64,
}

/// Where a way is from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum WayOrigin {
    /// A clean that was done so.
    Clean {
        /// The clean.
        clean_id: String,
    },
    /// A plan as people make it elsewhere, or as it was advised.
    Plan,
    /// Another brewer's way.
    Copied {
        /// What that brewer is called.
        from: String,
    },
    /// A file from another household.
    File,
    /// What Murlo proposed on what was seen.
    Proposed,
}

impl KeptWay {
    /// What is done now.
    ///
    /// # Panics
    /// Never of a way that was checked: it has at least one revision.
    #[must_use]
    pub fn latest(&self) -> &WayRevision {
        self.revisions.last().expect("a way was kept once")
    }

    /// The same as it is from now on; nothing is added where nothing changed.
    #[must_use]
    pub fn revised(mut self, revision: WayRevision) -> Self {
        if self
            .revisions
            .last()
            .is_none_or(|last| last.habits != revision.habits)
        {
            self.revisions.push(revision);
        }
        self
    }

    /// Checks a way of `brewer`.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn check(&self, brewer: &Brewer) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(text::name("name", &self.name));
        problems.note(brewer.circuit("circuit_id", &self.circuit_id).map(drop));
        if self.revisions.is_empty() || self.revisions.len() > MOST_REVISIONS {
            let message = format!("a way has 1 to {MOST_REVISIONS} revisions");
            problems
                .0
                .push(Problem::new(Code::OutOfRange, "revisions", message));
        }
        for (i, revision) in self.revisions.iter().enumerate() {
            let place = format!("revisions.{i}");
            let place = |name: &str| format!("{place}.{name}");
            problems.note(bounds::day(&place("since"), revision.since));
            problems.note(
                revision
                    .habits
                    .check()
                    .map_err(|p| p.within(&place("habits"))),
            );
        }
        problems.or(Some(()))
    }
}

/// What is to be said of a plan that is made in the household's own way.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WayCheck {
    /// The way.
    pub id: String,
    /// Its name.
    pub name: String,
    /// "Kept on 3 Nov, the second time".
    pub since: String,
    /// "Leaves about 6 % of the limit, as what is advised would."
    pub text: String,
    /// What is done otherwise than is advised, each with what it costs.
    pub costs: Vec<String>,
    /// What would suit better, only where something was seen that says so.
    pub suggestion: Option<WaySuggestion>,
    /// Why it is not planned so, where it would do harm: the plan is then the one that is advised.
    pub refused: Option<String>,
}

/// One change that would suit better.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WaySuggestion {
    /// "Soak 30 min instead of 20: there is about twice the chalk that there was."
    pub text: String,
    /// What would be done.
    pub habits: Habits,
}

//! What a visit is made of, and what happens in it.

use jiff::Timestamp;
use jiff::civil::{Date, Time};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use murlo_brewer::home::Home;
use murlo_plan::{PlanOptions, Work};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// More homes are two visits.
pub(super) const HOMES: usize = 12;

/// Which order is followed.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Order {
    /// One brewer's presses together.
    Calm,
    /// Over soonest.
    #[default]
    Shortest,
}

/// What is to be done to one brewer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Stop {
    /// Identity within the visit.
    pub id: String,
    /// The brewer.
    pub brewer_id: String,
    /// How; what is left out is decided when it is planned.
    #[serde(default)]
    pub options: PlanOptions,
}

impl Stop {
    /// Whether a clean of this side, for this work, is its clean.
    #[must_use]
    pub fn is_done_by(
        &self,
        circuit_id: &str,
        work: Work,
        job: Option<murlo_brewer::job::Job>,
    ) -> bool {
        let side = self.options.circuit_id.as_deref();
        self.options.work == work
            && self.options.job == job
            && side.is_none_or(|side| side == circuit_id)
    }
}

/// A room that is done in a visit.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct RoomStop {
    /// Identity within the visit.
    pub id: String,
    /// The home.
    pub home_id: String,
    /// Its name.
    pub name: String,
    /// Minutes of hands.
    pub minutes: u32,
}

impl RoomStop {
    /// Every room of a home.
    #[must_use]
    pub fn all_of(home: &Home) -> Vec<Self> {
        let rooms = home.rooms.iter().map(|room| Self {
            id: format!("{}-{}", home.id, room.id),
            home_id: home.id.clone(),
            name: room.name.clone(),
            minutes: room.minutes,
        });
        rooms.collect()
    }
}

/// What happened in a visit, beside what its cleans tell.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum VisitWhat {
    /// It began.
    Started,
    /// A room is done.
    RoomDone {
        /// The room.
        room: String,
    },
    /// A brewer that has not begun, or a room, is left for another time.
    Dropped {
        /// The stop or room.
        id: String,
        /// The day to which it is moved; absent where nobody said.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        day: Option<Date>,
    },
    /// One has come to another home of the visit.
    Arrived {
        /// The home.
        home: String,
        /// Brewers that are left with a bath or unrinsed elsewhere, because somebody wants it so.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        leaves: Vec<String>,
    },
    /// When one must be out again, and in which order it is done, is otherwise now.
    Changed {
        /// When one must be out again; open where none is given.
        #[serde(default)]
        #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
        until: Option<Time>,
        /// Which order.
        order: Order,
    },
    /// A brewer was added on the way.
    Added {
        /// What is done to it.
        stop: Stop,
    },
    /// Took the last act back.
    Undone {
        /// Its event.
        event: String,
    },
    /// It is over.
    Closed {
        /// What it is worth; as suggested at that moment where nobody saw it, for want of a line.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "schema", schema(nullable = false))]
        bill: Option<Bill>,
        /// What was not done, by name.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        left: Vec<LeftStop>,
    },
    /// It goes on after all.
    Reopened,
}

/// Something that a visit did not do when it was closed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LeftStop {
    /// The stop or room.
    pub id: String,
    /// The day to which it is moved; absent where it is only left.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub day: Option<Date>,
    /// Whether it is left with a bath inside, or unrinsed, and somebody knows it.
    #[serde(default)]
    pub inside: bool,
}

/// One act of a visit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct VisitEvent {
    /// Identity, made by the device.
    pub id: String,
    /// When.
    pub at: Timestamp,
    /// Whose device it was, where that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// What.
    pub what: VisitWhat,
}

/// Where a visit stands.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct VisitCourse {
    /// When it began.
    pub started_at: Option<Timestamp>,
    /// Rooms that are done, and when.
    pub rooms_done: BTreeMap<String, Timestamp>,
    /// What is left for another time, with the day to which it is moved.
    pub dropped: BTreeMap<String, Option<Date>>,
    /// The home one came to last, and when.
    pub arrived: Option<(String, Timestamp)>,
    /// Every home one came to on the way, in order.
    pub arrivals: Vec<(String, Timestamp)>,
    /// When one must be out again, and the order, where they were changed on the way.
    pub changed: Option<(Option<Time>, Order)>,
    /// Brewers that were added on the way.
    pub added: Vec<Stop>,
    /// What was named as left when it was closed.
    pub left_at_close: Vec<String>,
    /// When it ended.
    pub closed_at: Option<Timestamp>,
    /// What it is worth.
    pub bill: Option<Bill>,
    /// The act that undo takes back.
    pub undo: Option<String>,
}

/// A line of a bill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BillLine {
    /// What for.
    pub what: String,
    /// Its amount; less than nothing takes off.
    pub amount: f64,
    /// The home it is for; absent where nobody said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub home: Option<String>,
    /// What kind of line it is.
    #[serde(default)]
    pub of: LineOf,
}

impl BillLine {
    /// One that somebody typed.
    #[must_use]
    pub fn typed(what: impl Into<String>, amount: f64) -> Self {
        Self {
            what: what.into(),
            amount,
            home: None,
            of: LineOf::default(),
        }
    }
}

/// What a line of a bill is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LineOf {
    /// The time there, or one price for it.
    Time,
    /// The way.
    Way,
    /// Something with a price of its own.
    Work,
    /// What was used up.
    Material,
    /// What somebody typed.
    #[default]
    Other,
}

/// What a visit is worth.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Bill {
    /// Its lines.
    pub lines: Vec<BillLine>,
    /// Given for thanks.
    #[serde(default)]
    pub is_gift: bool,
    /// How long somebody was at each home.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub there: Vec<TimeThere>,
}

/// How long somebody was at a home.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TimeThere {
    /// The home.
    pub home: String,
    /// Minutes.
    pub minutes: f64,
}

/// Longer than this nobody is at a home, minutes.
const LONGEST_THERE: f64 = 2880.0;

impl Bill {
    /// Checks every line.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        if self.lines.len() > LINES {
            let message = format!("give at most {LINES} lines");
            problems
                .0
                .push(Problem::new(Code::TooMuch, "lines", message));
        }
        if self.there.len() > HOMES {
            let message = format!("give at most {HOMES} homes");
            problems
                .0
                .push(Problem::new(Code::TooMuch, "there", message));
        }
        for (n, one) in self.there.iter().enumerate() {
            let place = format!("there.{n}");
            problems.note(text::id("home", &one.home).map_err(|p| p.within(&place)));
            if !(0.0..=LONGEST_THERE).contains(&one.minutes) {
                let message = format!("give 0 to {LONGEST_THERE} minutes");
                let problem = Problem::new(Code::OutOfRange, "minutes", message);
                problems.0.push(problem.within(&place));
            }
        }
        for (n, line) in self.lines.iter().enumerate() {
            let place = format!("lines.{n}");
            if let Some(home) = &line.home {
                problems.note(text::id("home", home).map_err(|p| p.within(&place)));
            }
            problems.note(text::line("what", &line.what).map_err(|p| p.within(&place)));
            if !(-MOST..=MOST).contains(&line.amount) {
                let message = format!("give an amount between -{MOST} and {MOST}");
                let problem = Problem::new(Code::OutOfRange, "amount", message);
                problems.0.push(problem.within(&place));
            }
        }
        problems.or(Some(()))
    }

    /// Its sum; nothing for a gift.
    #[must_use]
    pub fn total(&self) -> f64 {
        match self.is_gift {
            true => 0.0,
            false => self.lines.iter().map(|line| line.amount).sum(),
        }
    }
}

/// A bill with more lines is none.
const LINES: usize = 100;

/// The largest amount either way.
const MOST: f64 = 1e6;

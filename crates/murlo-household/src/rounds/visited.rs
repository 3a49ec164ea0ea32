//! A visit as it is kept: what was planned, and what happened to it.

use jiff::Timestamp;
use jiff::civil::{Date, Time};
use jiff::tz::TimeZone;
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use murlo_brewer::Brewer;
use murlo_brewer::home::Home;
use murlo_plan::{PlanOptions, Work};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet, HashMap};

/// More brewers are two visits.
const BREWERS: usize = 16;

/// More rooms are two visits.
const ROOMS: usize = 24;

/// Longer than this, all rooms together are no day, minutes.
const DAY_MIN: u32 = 960;

/// So many acts are kept of one visit.
const ACTS: usize = 1000;

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
        /// What it is worth.
        bill: Bill,
    },
    /// It goes on after all.
    Reopened,
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
    /// What.
    pub what: VisitWhat,
}

/// A visit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Visit {
    /// Identity.
    pub id: String,
    /// The day.
    pub day: Date,
    /// When it begins.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub from: Time,
    /// When one must be out again.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub until: Option<Time>,
    /// Brewers.
    #[serde(default)]
    pub stops: Vec<Stop>,
    /// Rooms.
    #[serde(default)]
    pub rooms: Vec<RoomStop>,
    /// Which order is followed.
    #[serde(default)]
    pub order: Order,
    /// What to mind.
    #[serde(default)]
    pub note: String,
    /// What happened.
    #[serde(default)]
    pub events: Vec<VisitEvent>,
}

/// Whether a visit is still to come.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum VisitStage {
    /// Not begun.
    Planned,
    /// Begun.
    Running,
    /// Over.
    Closed,
}

/// Where a visit stands.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct VisitCourse {
    /// When it began.
    pub started_at: Option<Timestamp>,
    /// Rooms that are done, and when.
    pub rooms_done: BTreeMap<String, Timestamp>,
    /// What is left for another time.
    pub dropped: BTreeSet<String>,
    /// Brewers that were added on the way.
    pub added: Vec<Stop>,
    /// When it ended.
    pub closed_at: Option<Timestamp>,
    /// What it is worth.
    pub bill: Option<Bill>,
    /// The act that undo takes back.
    pub undo: Option<String>,
}

fn unfit(message: impl Into<String>) -> Problem {
    Problem::new(Code::DoesNotFit, "what", message)
}

impl Visit {
    /// Checks what was planned.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(text::id("id", &self.id));
        problems.note(bounds::day("day", self.day));
        if self.until.is_some_and(|until| until <= self.from) {
            let message = "this ends before it starts: give a later time, or leave it open";
            problems
                .0
                .push(Problem::new(Code::Contradiction, "until", message));
        }
        if !self.note.trim().is_empty() {
            problems.note(text::note("note", &self.note));
        }
        if self.stops.is_empty() && self.rooms.is_empty() {
            let message = "nothing to do: give a brewer or a room";
            problems
                .0
                .push(Problem::new(Code::Missing, "stops", message));
        }
        for (field, given, most) in [
            ("stops", self.stops.len(), BREWERS),
            ("rooms", self.rooms.len(), ROOMS),
        ] {
            if given > most {
                let message =
                    format!("{given} in one visit: give at most {most}, and make two visits of it");
                problems.0.push(Problem::new(Code::TooMuch, field, message));
            }
        }
        let mut ids = BTreeSet::new();
        let stops = self.stops.iter().map(|stop| ("stops", &stop.id));
        for (list, id) in stops.chain(self.rooms.iter().map(|room| ("rooms", &room.id))) {
            let place = format!("{list}.{id}");
            problems.note(text::joined_id("id", id).map_err(|p| p.within(&place)));
            if !ids.insert(id) {
                let message = "this stands here twice: leave one out";
                problems
                    .0
                    .push(Problem::new(Code::Contradiction, "id", message).within(&place));
            }
        }
        for room in &self.rooms {
            let place = format!("rooms.{}", room.id);
            problems.note(text::name("name", &room.name).map_err(|p| p.within(&place)));
            if !(1..=600).contains(&room.minutes) {
                let message = format!("{} minutes: give 1 to 600", room.minutes);
                let problem = Problem::new(Code::OutOfRange, "minutes", message);
                problems.0.push(problem.within(&place));
            }
        }
        let all: u32 = self
            .rooms
            .iter()
            .map(|room| room.minutes.min(DAY_MIN))
            .sum();
        if all > DAY_MIN {
            let message = format!(
                "the rooms together take {}: leave some for another day",
                text::minutes(f64::from(all))
            );
            problems
                .0
                .push(Problem::new(Code::TooMuch, "rooms", message));
        }
        problems.or(Some(()))
    }

    /// Everything of it that names a home or brewer.
    ///
    /// # Errors
    /// `UnknownId` for one that is not there.
    pub fn check_names(
        &self,
        is_home: impl Fn(&str) -> bool,
        brewers: &HashMap<String, Brewer>,
    ) -> Result<(), Problems> {
        let mut problems = Problems::default();
        for room in &self.rooms {
            if !is_home(&room.home_id) {
                let message = format!("no home has the id \"{}\"", room.home_id);
                let field = format!("rooms.{}.home_id", room.id);
                problems
                    .0
                    .push(Problem::new(Code::UnknownId, field, message));
            }
        }
        for stop in &self.stops {
            problems.note(check_stop(stop, brewers));
        }
        problems.or(Some(()))
    }

    /// Where it stands after its acts.
    ///
    /// # Errors
    /// `DoesNotFit` for the first act that does not follow from those before it.
    pub fn course(&self) -> Result<VisitCourse, Problem> {
        let mut effective: Vec<&VisitEvent> = Vec::with_capacity(self.events.len());
        for event in &self.events {
            let VisitWhat::Undone { event: target } = &event.what else {
                effective.push(event);
                continue;
            };
            match effective.last() {
                Some(last) if last.id == *target => effective.pop(),
                _ => {
                    return Err(unfit(
                        "something else happened since: look again, then undo that",
                    ));
                }
            };
        }
        let mut course = VisitCourse::default();
        for event in &effective {
            self.step(&mut course, event)?;
        }
        course.undo = effective.last().map(|event| event.id.clone());
        Ok(course)
    }

    fn step(&self, course: &mut VisitCourse, event: &VisitEvent) -> Result<(), Problem> {
        let runs = course.started_at.is_some() && course.closed_at.is_none();
        match &event.what {
            VisitWhat::Started if course.started_at.is_none() => course.started_at = Some(event.at),
            VisitWhat::Reopened if course.closed_at.is_some() => {
                course.closed_at = None;
                course.bill = None;
            }
            _ if !runs => {
                let message = match course.closed_at {
                    Some(_) => "this visit is over: open it again first",
                    None => "this visit has not begun: start it first",
                };
                return Err(unfit(message));
            }
            VisitWhat::RoomDone { room } => {
                let is_open = self.rooms.iter().any(|r| r.id == *room)
                    && !course.rooms_done.contains_key(room)
                    && !course.dropped.contains(room);
                if !is_open {
                    return Err(unfit(
                        "this room is done already, or not part of this visit",
                    ));
                }
                course.rooms_done.insert(room.clone(), event.at);
            }
            VisitWhat::Dropped { id } => {
                let mut stops = self.stops.iter().chain(&course.added);
                let is_known = self.rooms.iter().any(|r| r.id == *id) || stops.any(|s| s.id == *id);
                if !is_known
                    || course.rooms_done.contains_key(id)
                    || !course.dropped.insert(id.clone())
                {
                    return Err(unfit(
                        "this is left out already, done, or not part of this visit",
                    ));
                }
            }
            VisitWhat::Added { stop } => {
                let mut stops = self.stops.iter().chain(&course.added);
                if stops.any(|other| other.id == stop.id) {
                    return Err(unfit("this is part of the visit already"));
                }
                course.added.push(stop.clone());
            }
            VisitWhat::Closed { bill } => {
                course.closed_at = Some(event.at);
                course.bill = Some(bill.clone());
            }
            VisitWhat::Started | VisitWhat::Reopened | VisitWhat::Undone { .. } => {
                return Err(unfit("this visit runs already"));
            }
        }
        Ok(())
    }

    /// Whether it is still to come; one whose acts cannot be read is.
    #[must_use]
    pub fn stage(&self) -> VisitStage {
        match self.course() {
            Ok(course) if course.closed_at.is_some() => VisitStage::Closed,
            Ok(course) if course.started_at.is_some() => VisitStage::Running,
            _ => VisitStage::Planned,
        }
    }

    /// Whether it is over.
    #[must_use]
    pub fn is_closed(&self) -> bool {
        self.stage() == VisitStage::Closed
    }

    /// Whether somebody came.
    #[must_use]
    pub(crate) fn has_begun(&self) -> bool {
        self.stage() != VisitStage::Planned
    }

    /// "3 brewers, 2 rooms".
    #[must_use]
    pub fn in_short(&self, course: &VisitCourse) -> String {
        let ids: BTreeSet<&str> = self
            .all_stops(course)
            .map(|stop| stop.brewer_id.as_str())
            .collect();
        let brewers = text::count(ids.len() as u32, "brewer", "brewers");
        match self.all_rooms(course).count() as u32 {
            0 => brewers,
            n => format!("{brewers}, {}", text::count(n, "room", "rooms")),
        }
    }

    /// With one act more.
    ///
    /// # Errors
    /// `DoesNotFit` when it does not follow, a field of a bill or stop that is wrong.
    pub fn admit(&self, mut event: VisitEvent) -> Result<Self, Problems> {
        text::id("id", &event.id)?;
        if let VisitWhat::Closed { bill } = &event.what {
            bill.check().map_err(|p| p.within("what.bill"))?;
        }
        if self.events.len() >= ACTS {
            return Err(Problem::new(
                Code::TooMuch,
                "what",
                "too much happened in this visit: close it",
            )
            .into());
        }
        // A device whose clock jumped back does not turn the order round.
        event.at = self
            .events
            .last()
            .map_or(event.at, |last| event.at.max(last.at));
        let mut next = self.clone();
        next.events.push(event);
        next.course()?;
        Ok(next)
    }

    /// Every brewer that is part of it now.
    pub fn all_stops<'a>(&'a self, course: &'a VisitCourse) -> impl Iterator<Item = &'a Stop> {
        let stops = self.stops.iter().chain(&course.added);
        stops.filter(|stop| !course.dropped.contains(&stop.id))
    }

    /// Every room that is part of it now.
    pub fn all_rooms<'a>(&'a self, course: &'a VisitCourse) -> impl Iterator<Item = &'a RoomStop> {
        self.rooms
            .iter()
            .filter(|room| !course.dropped.contains(&room.id))
    }

    /// The instant at which it begins, and that at which one must be out again, by the household's clock.
    #[must_use]
    pub fn instants(&self, zone: &TimeZone) -> (Timestamp, Option<Timestamp>) {
        let at = |time| {
            let zoned = zone.to_zoned(self.day.to_datetime(time));
            zoned.map_or(Timestamp::UNIX_EPOCH, |zoned| zoned.timestamp())
        };
        (at(self.from), self.until.map(at))
    }
}

fn check_stop(stop: &Stop, brewers: &HashMap<String, Brewer>) -> Result<(), Problem> {
    let field = |name: &str| format!("stops.{}.{name}", stop.id);
    let Some(brewer) = brewers.get(&stop.brewer_id) else {
        let message = format!("no brewer has the id \"{}\"", stop.brewer_id);
        return Err(Problem::new(Code::UnknownId, field("brewer_id"), message));
    };
    if let Some(side) = &stop.options.circuit_id {
        brewer.circuit(&field("options.circuit_id"), side)?;
    }
    match (stop.options.work, stop.options.job) {
        (Work::Upkeep, Some(job)) if !job.fits(brewer) => {
            let message = format!("{} has no such work: \"{}\"", brewer.nickname, job.name());
            Err(Problem::new(
                Code::DoesNotFit,
                field("options.job"),
                message,
            ))
        }
        (Work::Upkeep, None) => {
            let message = "which small work? Give one";
            Err(Problem::new(Code::Missing, field("options.job"), message))
        }
        _ => Ok(()),
    }
}

/// Checks every visit of a household.
///
/// # Errors
/// One problem per wrong field, by the visit it stands in.
pub fn check_all(
    visits: &[Kept<Visit>],
    homes: &[Kept<Home>],
    brewers: &HashMap<String, Brewer>,
) -> Result<(), Problems> {
    let mut problems = Problems::default();
    for visit in visits.iter().map(|kept| &kept.fact) {
        let place = format!("visits.{}", visit.id);
        let is_home = |id: &str| homes.iter().any(|home| home.fact.id == id);
        problems.note(visit.check().map_err(|p| p.within(&place)));
        problems.note(
            visit
                .check_names(is_home, brewers)
                .map_err(|p| p.within(&place)),
        );
        problems.note(visit.course().map_err(|p| p.within(&place)));
    }
    problems.or(Some(()))
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
}

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
        for (n, line) in self.lines.iter().enumerate() {
            let place = format!("lines.{n}");
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
const LINES: usize = 30;

/// The largest amount either way.
const MOST: f64 = 1e6;

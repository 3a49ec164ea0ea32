//! A visit as it is kept: what was planned, and what happened to it.

use super::happened::HOMES;
use super::{Order, RoomStop, Stop, VisitCourse, VisitEvent};
use jiff::Timestamp;
use jiff::civil::{Date, Time};
use jiff::tz::TimeZone;
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use murlo_brewer::Brewer;
use murlo_brewer::home::Home;
use murlo_plan::Work;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet, HashMap};

/// More brewers are two visits.
const BREWERS: usize = 16;

/// More rooms are two visits.
const ROOMS: usize = 24;

/// Nobody foresees more than every work of as many brewers.
const FORESEEN: usize = 400;

/// Longer than this, all rooms together are no day, minutes.
const DAY_MIN: u32 = 960;

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
    /// The homes, in the order in which one goes to them; those that are not named come after, by their hours.
    #[serde(default)]
    pub homes: Vec<String>,
    /// Which order is followed.
    #[serde(default)]
    pub order: Order,
    /// What to mind.
    #[serde(default)]
    pub note: String,
    /// What happened.
    #[serde(default)]
    pub events: Vec<VisitEvent>,
    /// The day of its home's rhythm for which it was confirmed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rhythm_day: Option<Date>,
    /// When each home paid for it, by its id.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub paid: BTreeMap<String, Date>,
    /// What was due when it was planned, by the ids of its stops; absent where nobody knows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub foreseen: Option<Vec<String>>,
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

impl Visit {
    /// One to which nothing belongs yet.
    #[must_use]
    pub fn planned(id: impl Into<String>, day: Date, from: Time) -> Self {
        Self {
            id: id.into(),
            day,
            from,
            until: None,
            stops: Vec::new(),
            rooms: Vec::new(),
            homes: Vec::new(),
            order: Order::default(),
            note: String::new(),
            events: Vec::new(),
            rhythm_day: None,
            paid: BTreeMap::new(),
            foreseen: None,
        }
    }

    /// Checks what was planned.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(text::id("id", &self.id));
        problems.note(bounds::day("day", self.day));
        problems.note(
            self.rhythm_day
                .map_or(Ok(()), |day| bounds::day("rhythm_day", day)),
        );
        problems.note(self.check_foreseen());
        problems.note(self.check_paid());
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
            ("homes", self.homes.len(), HOMES),
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

    fn check_paid(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        if self.paid.len() > HOMES {
            let message = format!("give at most {HOMES} homes");
            let problem = Problem::new(Code::TooMuch, "paid", message);
            problems.0.push(problem);
        }
        for (home, on) in &self.paid {
            problems.note(text::id("paid", home));
            problems.note(bounds::day(&format!("paid.{home}"), *on));
        }
        problems.or(Some(()))
    }

    fn check_foreseen(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        let foreseen = self.foreseen.iter().flatten();
        if foreseen.clone().count() > FORESEEN {
            let message = format!("give at most {FORESEEN}");
            problems
                .0
                .push(Problem::new(Code::TooMuch, "foreseen", message));
        }
        for id in foreseen {
            problems.note(text::joined_id("foreseen", id));
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
        if let Some(id) = self.homes.iter().find(|id| !is_home(id)) {
            let message = format!("no home has the id \"{id}\"");
            problems
                .0
                .push(Problem::new(Code::UnknownId, "homes", message));
        }
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

    /// Every brewer that is part of it now.
    pub fn all_stops<'a>(&'a self, course: &'a VisitCourse) -> impl Iterator<Item = &'a Stop> {
        let stops = self.stops.iter().chain(&course.added);
        stops.filter(|stop| !course.dropped.contains_key(&stop.id))
    }

    /// Every room that is part of it now.
    pub fn all_rooms<'a>(&'a self, course: &'a VisitCourse) -> impl Iterator<Item = &'a RoomStop> {
        self.rooms
            .iter()
            .filter(|room| !course.dropped.contains_key(&room.id))
    }

    /// When one must be out again, and which order is followed, as it was planned or changed on the way.
    #[must_use]
    pub fn ends_and_order(&self, course: &VisitCourse) -> (Option<Time>, Order) {
        course.changed.unwrap_or((self.until, self.order))
    }

    /// The instant at which it begins, and that at which one must be out again, by the household's clock; begun on another day than
    /// it was planned for, the end is on that day.
    #[must_use]
    pub fn instants(
        &self,
        course: &VisitCourse,
        zone: &TimeZone,
    ) -> (Timestamp, Option<Timestamp>) {
        let at = |day: Date, time| {
            let zoned = zone.to_zoned(day.to_datetime(time));
            zoned.map_or(Timestamp::UNIX_EPOCH, |zoned| zoned.timestamp())
        };
        let begun = course.started_at.map(|at| zone.to_datetime(at).date());
        let until = self.ends_and_order(course).0;
        let leave_by = until.map(|until| at(begun.unwrap_or(self.day), until));
        // Begun after the hour that was planned for another day, it has no end until one is said.
        let is_ahead = |by: &Timestamp| course.started_at.is_none_or(|started| *by > started);
        let leave_by = leave_by.filter(|by| course.changed.is_some() || is_ahead(by));
        (at(self.day, self.from), leave_by)
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

//! A week of visits, drafts among them: what each does and how long it takes, what meets, and how much that is together.

use super::{Ordered, Task, Visit, VisitCourse, VisitDraft, VisitStage};
use jiff::civil::{Date, Time};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use murlo_base::days::days_after;
use murlo_base::text;
use murlo_brewer::home::DaysOff;
use serde::Serialize;

/// Where a visit of a week stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum BlockStage {
    /// Its home's rhythm asks for it; nobody has confirmed it.
    Draft,
    /// Confirmed.
    Planned,
    /// Begun.
    Running,
    /// Over.
    Closed,
}

/// One visit of a week.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Block {
    /// The visit; absent for a draft.
    pub id: Option<String>,
    /// The home, the first one of several.
    pub home_id: String,
    /// "Lamp keeper's cottage, Own kitchen".
    pub homes: String,
    /// The day of its home's rhythm.
    pub rhythm_day: Option<Date>,
    /// Where it stands.
    pub stage: BlockStage,
    /// The day.
    pub day: Date,
    /// The same day of the week after.
    pub week_later: Date,
    /// When it begins.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub from: Time,
    /// From its beginning to its end, minutes.
    pub minutes: f64,
    /// The same with the further baths that are likely; absent where none is.
    pub likely_min: Option<f64>,
    /// "9:00–10:45, or 11:54 with a further bath".
    pub hours: String,
    /// "Descale: Kiln drip, Lamp-room pod", "Rooms: Bathroom, Beds".
    pub works: Vec<String>,
    /// What there is no time for.
    pub left_out: Vec<String>,
    /// What is otherwise now than when it was confirmed.
    pub changes: Vec<String>,
    /// What stands against it: away, guests, days off, another visit at that time.
    pub minds: Vec<String>,
}

/// What a block is made of.
pub struct Planned<'a> {
    /// The visit, or what a draft would be.
    pub visit: &'a Visit,
    /// What happened to it.
    pub course: &'a VisitCourse,
    /// The draft it is, where nobody confirmed it.
    pub draft: Option<&'a VisitDraft>,
    /// What is done to brewers.
    pub tasks: &'a [Task],
    /// The names of stops that cannot be planned.
    pub unplanned: Vec<String>,
    /// The order of work that is left.
    pub ordered: Option<&'a Ordered>,
    /// The homes, in the order in which they are gone to: id, name.
    pub homes: Vec<(&'a str, &'a str)>,
    /// What stands against the day.
    pub minds: Vec<String>,
    /// What has changed.
    pub changes: Vec<String>,
}

/// How times are told.
#[derive(Clone, Copy)]
pub struct WeekClock<'a> {
    /// The household's zone.
    pub zone: &'a TimeZone,
    /// Whether its clock has 12 hours.
    pub has_12_hours: bool,
}

impl Block {
    /// A visit as a week shows it.
    #[must_use]
    pub fn of(planned: Planned, clock: WeekClock) -> Self {
        let Planned { visit, course, .. } = planned;
        let told =
            |at: Timestamp| text::time(clock.zone.to_datetime(at).time(), clock.has_12_hours);
        let (planned_from, _) = visit.instants(course, clock.zone);
        let from = course.started_at.unwrap_or(planned_from);
        let ordered = planned.ordered;
        let ends = course.closed_at.or(ordered.map(|order| order.ends_at));
        let likely = ordered.and_then(|order| order.or_ends_at);
        let minutes_to = |to: Timestamp| (to.duration_since(from).as_secs_f64() / 60.0).max(0.0);
        let mut hours = told(from);
        if let Some(ends) = ends {
            hours += &format!("–{}", told(ends));
        }
        if let Some(likely) = likely {
            hours += &format!(", or {} with a further bath", told(likely));
        }
        let mut minds = planned.minds;
        if planned.draft.is_some_and(|draft| draft.is_off) {
            minds.insert(0, "a day off: move it, or leave it out".to_owned());
        }
        Self {
            id: planned.draft.is_none().then(|| visit.id.clone()),
            home_id: planned
                .homes
                .first()
                .map_or_else(String::new, |(id, _)| (*id).to_owned()),
            homes: planned
                .homes
                .iter()
                .map(|(_, name)| *name)
                .collect::<Vec<_>>()
                .join(", "),
            rhythm_day: visit.rhythm_day,
            stage: match (planned.draft, visit.stage()) {
                (Some(_), _) => BlockStage::Draft,
                (None, VisitStage::Planned) => BlockStage::Planned,
                (None, VisitStage::Running) => BlockStage::Running,
                (None, VisitStage::Closed) => BlockStage::Closed,
            },
            day: clock.zone.to_datetime(from).date(),
            week_later: days_after(clock.zone.to_datetime(from).date(), 7),
            from: clock.zone.to_datetime(from).time(),
            minutes: ends.map_or(0.0, minutes_to),
            likely_min: likely.map(minutes_to),
            hours,
            works: works(visit, course, planned.tasks, &planned.unplanned),
            left_out: ordered.map_or_else(Vec::new, |order| {
                left_out(visit, course, planned.tasks, &order.left_out)
            }),
            changes: planned.changes,
            minds,
        }
    }

    /// When it ends, a likely further bath among it.
    fn ends(&self) -> f64 {
        self.likely_min.unwrap_or(self.minutes)
    }
}

/// "Descale: Kiln drip, Lamp-room pod", each work with its brewers, and the rooms together.
fn works(visit: &Visit, course: &VisitCourse, tasks: &[Task], unplanned: &[String]) -> Vec<String> {
    let mut by_work: Vec<(&str, Vec<&str>)> = Vec::new();
    let named = tasks.iter().map(|task| (task.what(), task.name.as_str()));
    let others = unplanned
        .iter()
        .map(|name| ("cannot be planned", name.as_str()));
    let rooms = visit
        .all_rooms(course)
        .map(|room| ("rooms", room.name.as_str()));
    for (what, name) in named.chain(others).chain(rooms) {
        match by_work.iter_mut().find(|(known, _)| *known == what) {
            Some((_, names)) => names.push(name),
            None => by_work.push((what, vec![name])),
        }
    }
    let told =
        |(what, names): (&str, Vec<&str>)| format!("{}: {}", text::capital(what), names.join(", "));
    by_work.into_iter().map(told).collect()
}

fn left_out(visit: &Visit, course: &VisitCourse, tasks: &[Task], ids: &[String]) -> Vec<String> {
    let is_left = |id: &String| ids.contains(id);
    let brewers = tasks.iter().filter(|task| is_left(&task.stop.id));
    let rooms = visit.all_rooms(course).filter(|room| is_left(&room.id));
    brewers
        .map(|task| format!("{}: {}", task.name, task.what()))
        .chain(rooms.map(|room| room.name.clone()))
        .collect()
}

/// A day of a week.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WeekDay {
    /// The day.
    pub day: Date,
    /// Whether it is the household's day.
    pub is_today: bool,
    /// Whether it is before that.
    pub is_over: bool,
    /// Whether one goes nowhere on it.
    pub is_off: bool,
}

/// A home in a week.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WeekRow {
    /// The home.
    pub home_id: String,
    /// Its name.
    pub name: String,
    /// Its visits, the first one first.
    pub blocks: Vec<Block>,
}

/// A week of visits.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ThisWeek {
    /// The Monday before it.
    pub before: Date,
    /// The Monday after it.
    pub after: Date,
    /// Its days, Monday first.
    pub days: Vec<WeekDay>,
    /// Homes to which somebody comes, the first one first.
    pub rows: Vec<WeekRow>,
    /// "5 visits, 6 h 40 min, or 8 h with further baths; 3 to confirm".
    pub text: String,
}

/// The Monday of the week of `day`, and its Sunday.
#[must_use]
pub fn week_of(day: Date) -> (Date, Date) {
    let monday = days_after(day, -i32::from(day.weekday().to_monday_zero_offset()));
    (monday, days_after(monday, 6))
}

impl ThisWeek {
    /// The week of `day` with these visits.
    #[must_use]
    pub fn of(
        mut blocks: Vec<Block>,
        day: Date,
        today: Date,
        off: &[DaysOff],
        clock: WeekClock,
    ) -> Self {
        blocks.sort_by(|a, b| (a.day, a.from, &a.home_id).cmp(&(b.day, b.from, &b.home_id)));
        meet(&mut blocks, clock);
        let (monday, _) = week_of(day);
        let days = (0..7).map(|n| days_after(monday, n)).map(|day| WeekDay {
            day,
            is_today: day == today,
            is_over: day < today,
            is_off: off.iter().any(|off| off.has(day)),
        });
        let text = in_short(&blocks);
        let mut rows: Vec<WeekRow> = Vec::new();
        for block in blocks {
            match rows.iter_mut().find(|row| row.home_id == block.home_id) {
                Some(row) => row.blocks.push(block),
                None => rows.push(WeekRow {
                    home_id: block.home_id.clone(),
                    name: block
                        .homes
                        .split(", ")
                        .next()
                        .unwrap_or_default()
                        .to_owned(),
                    blocks: vec![block],
                }),
            }
        }
        Self {
            before: days_after(monday, -7),
            after: days_after(monday, 7),
            days: days.collect(),
            rows,
            text,
        }
    }
}

/// One person is at one visit: of two that meet the later one says so.
fn meet(blocks: &mut [Block], clock: WeekClock) {
    let at = |block: &Block, minutes: f64| {
        let start = block.day.to_datetime(block.from);
        start.saturating_add(SignedDuration::from_secs((60.0 * minutes).round() as i64))
    };
    for later in 1..blocks.len() {
        let (before, rest) = blocks.split_at_mut(later);
        let this = &mut rest[0];
        if this.stage == BlockStage::Closed {
            continue;
        }
        let begins = at(this, 0.0);
        let over =
            |other: &&Block| other.stage != BlockStage::Closed && at(other, other.ends()) > begins;
        if let Some(other) = before
            .iter()
            .filter(over)
            .max_by_key(|other| at(other, other.ends()))
        {
            let ends = text::time(at(other, other.ends()).time(), clock.has_12_hours);
            this.minds
                .push(format!("{} is not over before {ends}", other.homes));
        }
    }
}

fn in_short(blocks: &[Block]) -> String {
    let ahead: Vec<&Block> = blocks
        .iter()
        .filter(|block| block.stage != BlockStage::Closed)
        .collect();
    if ahead.is_empty() {
        return match blocks.len() as u32 {
            0 => "No visit".to_owned(),
            n => format!("{}, over", text::count(n, "visit", "visits")),
        };
    }
    let minutes: f64 = ahead.iter().map(|block| block.minutes).sum();
    let likely: f64 = ahead.iter().map(|block| block.ends()).sum();
    let drafts = ahead
        .iter()
        .filter(|block| block.stage == BlockStage::Draft);
    let mut told = format!(
        "{}, {}",
        text::count(ahead.len() as u32, "visit", "visits"),
        text::minutes(minutes)
    );
    if likely >= minutes + 1.0 {
        told += &format!(", or {} with further baths", text::minutes(likely));
    }
    match drafts.count() {
        0 => {}
        n => told += &format!("; {n} to confirm"),
    }
    told
}

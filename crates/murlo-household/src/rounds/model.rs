//! Tasks and rooms as the jobs of one visit.

use crate::rounds::jobs::{Baths, last_of};
use crate::rounds::{Order, RoomStop, Task};
use jiff::Timestamp;
use murlo_visit::{self as visit, Chore, VisitJob};
use std::collections::HashMap;

/// From one brewer to the next in one home, seconds: drying hands, looking where one was.
const SWITCH_S: i32 = 12;

/// What a schedule is made under.
#[derive(Debug, Clone)]
pub struct ScheduleTerms<'a> {
    /// Which order.
    pub order: Order,
    /// Now, or when the visit begins.
    pub now: Timestamp,
    /// When one must be out again.
    pub leave_by: Option<Timestamp>,
    /// From one home to another, minutes.
    pub travel_min: u32,
    /// The home one is at.
    pub place_now: Option<&'a str>,
    /// The stop or room whose instruction is being followed.
    pub following: Option<&'a str>,
    /// When the hands were done with what they did before.
    pub hands_since: Option<Timestamp>,
    /// The homes, in the order in which they are gone to: none is left while anything runs there.
    pub in_turn: &'a [&'a str],
    /// Homes to which guests come that day.
    pub guests_come: &'a [&'a str],
    /// Names of homes by id.
    pub homes: &'a HashMap<String, String>,
}

pub(super) struct Model {
    pub visit: visit::Schedulable,
    /// The task of each job.
    pub(crate) of_job: Vec<usize>,
    pub(crate) zero: Timestamp,
}

pub(crate) fn seconds(from: Timestamp, to: Timestamp) -> i32 {
    i32::try_from(to.duration_since(from).as_secs()).unwrap_or(0)
}

pub(crate) fn model(
    tasks: &[Task],
    rooms: &[&RoomStop],
    terms: &ScheduleTerms,
    baths: Baths,
) -> Model {
    // What runs began before now.
    let zero = tasks
        .iter()
        .filter_map(|task| task.begun.as_ref())
        .filter_map(|begun| {
            begun
                .state
                .steps
                .iter()
                .filter_map(|s| s.timer.as_ref())
                .map(|t| t.started_at)
                .chain([begun.last_at])
                .min()
        })
        .chain(terms.hands_since)
        .fold(terms.now, Timestamp::min);
    let mut jobs: Vec<VisitJob> = Vec::new();
    let mut of_job = Vec::new();
    let mut ends: HashMap<String, Vec<String>> = HashMap::new();
    for (n, task) in tasks.iter().enumerate() {
        let of_task = task.jobs(terms.order, zero, baths);
        let ids = of_task.iter().map(|job| job.id.clone()).collect();
        ends.insert(last_of(&task.stop.id), ids);
        of_job.extend(of_task.iter().map(|_| n));
        jobs.extend(of_task);
    }
    for job in &mut jobs {
        let after = std::mem::take(&mut job.after);
        job.after = after
            .into_iter()
            .flat_map(|id| ends.get(&id).cloned().unwrap_or_else(|| vec![id]))
            .collect();
    }
    let chores = rooms.iter().map(|room| Chore {
        id: room.id.clone(),
        place: Some(room.home_id.clone()),
        seconds: i32::try_from(room.minutes * 60).unwrap_or(i32::MAX),
        at: None,
        weight: Some(room_weight(room, terms)),
    });
    Model {
        visit: visit::Schedulable {
            jobs,
            chores: chores.collect(),
            travel: i32::try_from(terms.travel_min * 60).unwrap_or(0),
            switch: SWITCH_S,
            now: seconds(zero, terms.now),
            place_now: terms.place_now.map(str::to_owned),
            leave_by: terms.leave_by.map(|by| seconds(zero, by)),
        },
        of_job,
        zero,
    }
}

/// The harm of leaving a room out: where guests come that day, they find it.
fn room_weight(room: &RoomStop, terms: &ScheduleTerms) -> f64 {
    let hours = f64::from(room.minutes) / 60.0;
    match terms.guests_come.contains(&room.home_id.as_str()) {
        true => BEFORE_GUESTS + hours,
        false => hours,
    }
}

/// Guests mind a bed that is not made more than any chalk. Judged.
const BEFORE_GUESTS: f64 = 100.0;

pub(crate) fn minutes(seconds: i32) -> f64 {
    f64::from(seconds) / 60.0
}

//! In which order one pair of hands does a visit, what that comes to, and what is next.

use crate::rounds::jobs::Baths;
use crate::rounds::model::{Model, ScheduleTerms, model};

use super::{Order, RoomStop, Task};
use crate::rounds::model::{minutes, seconds};
pub(crate) use crate::rounds::shown::{Ordered, Showing};
use jiff::Timestamp;
use murlo_base::text;
use murlo_visit::{self as visit, At, Found, NODES, Presence, VisitJob};
use serde::Serialize;

/// Another instruction is given only where all ends so much sooner, seconds. Judged.
const WORTH_IT_S: i32 = 60;

/// Orders tried to see what leaving something out would save.
const SAVING_NODES: usize = 10_000;

/// What leaving something out would save.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Saving {
    /// The stop or room.
    pub id: String,
    /// Minutes.
    pub minutes: f64,
    /// "without it 24 min less".
    pub text: String,
}

fn solve(visit: &visit::Schedulable, terms: &ScheduleTerms, nodes: usize) -> Found {
    // Jobs made here hang together; what could not be solved has no end and no order.
    visit::solve_in_turn(visit, terms.in_turn, nodes).unwrap_or(Found {
        end: visit.now,
        bound: visit.now,
        schedule: Vec::new(),
        left_out: Vec::new(),
        lifted: 0,
    })
}

/// The visit in the order that was asked for.
#[must_use]
pub fn schedule(tasks: &[Task], rooms: &[&RoomStop], terms: &ScheduleTerms) -> Ordered {
    let likely = tasks.iter().any(|task| task.further_likely() > 0);
    let likely = likely.then(|| {
        let model = model(tasks, rooms, terms, Baths::Likely);
        let found = solve(&model.visit, terms, NODES);
        (found.end - model.visit.now, found.left_out)
    });
    let mut model = model(tasks, rooms, terms, Baths::Planned);
    if let Some((_, left_out)) = &likely {
        // What there is no time for should a further bath be needed is not begun.
        without(&mut model, left_out);
    }
    let mut found = solve(&model.visit, terms, NODES);
    if let Some(kept) = keep_on(&model, tasks, rooms, terms)
        && kept.left_out.len() <= found.left_out.len()
        && kept.end <= found.end + WORTH_IT_S
    {
        found = kept;
    }
    if model.visit.leave_by.is_some_and(|by| found.end > by) {
        // What has begun is brought to its end, late as it is; nothing else is begun.
        let not_begun = not_begun(&model);
        without(&mut model, &not_begun);
        found = solve(&model.visit, terms, NODES);
        found.left_out.extend(not_begun);
    }
    if let Some((_, left_out)) = &likely {
        found.left_out.extend_from_slice(left_out);
    }
    Showing {
        tasks,
        rooms,
        terms,
        model: &model,
        found: &found,
        likely_s: likely.map(|(end, _)| end),
    }
    .ordered()
}

/// What may still be left for another time.
fn not_begun(model: &Model) -> Vec<String> {
    let visit = &model.visit;
    let is_open = |job: &VisitJob| job.weight.is_some() && job.at.is_none();
    let jobs = visit.jobs.iter().filter(|job| match &job.part_of {
        None => is_open(job),
        Some(whole) => visit
            .jobs
            .iter()
            .any(|job| job.id == *whole && is_open(job)),
    });
    let chores = visit.chores.iter().filter(|chore| chore.at.is_none());
    jobs.map(|job| job.id.clone())
        .chain(chores.map(|chore| chore.id.clone()))
        .collect()
}

/// Takes these jobs and chores out.
fn without(model: &mut Model, ids: &[String]) {
    let visit = &mut model.visit;
    let jobs = visit.jobs.iter_mut().map(|job| (&job.id, &mut job.at));
    let chores = visit.chores.iter_mut();
    for (id, at) in jobs.chain(chores.map(|chore| (&chore.id, &mut chore.at))) {
        if ids.contains(id) {
            *at = Some(At::Done);
        }
    }
}

/// The best order that goes on with the instruction being followed.
fn keep_on(
    model: &Model,
    tasks: &[Task],
    rooms: &[&RoomStop],
    terms: &ScheduleTerms,
) -> Option<Found> {
    let following = terms.following?;
    let mut visit = model.visit.clone();
    let since = terms
        .hands_since
        .map_or(visit.now, |at| seconds(model.zero, at).min(visit.now));
    // Nobody follows what is done elsewhere before being there.
    let here = |at: &str| terms.place_now.is_none_or(|place| place == at);
    if let Some(n) = rooms.iter().position(|room| room.id == following) {
        if !here(&rooms[n].home_id) {
            return None;
        }
        visit.chores[n].at = Some(At::Segment(0, Some(since)));
    } else {
        let task = tasks.iter().position(|task| task.stop.id == following)?;
        if !here(&tasks[task].home_id) {
            return None;
        }
        let first = model.of_job.iter().position(|of| *of == task)?;
        let job = &mut visit.jobs[first];
        if job.segments.first()?.doing != Presence::Hands
            || matches!(job.at, Some(At::Segment(_, Some(_))))
        {
            return None;
        }
        job.at = Some(At::Segment(0, Some(since)));
    }
    Some(solve(&visit, terms, NODES))
}

/// How a visit that runs keeps to what it was: `begins` as planned, `started` as it was, `left` what is still to do. Nothing where
/// it keeps to it.
#[must_use]
pub fn pace(
    tasks: &[Task],
    rooms: &[&RoomStop],
    terms: &ScheduleTerms,
    (begins, started): (Timestamp, Timestamp),
    left: &Ordered,
) -> Option<String> {
    let is_in = |id: &String| !left.left_out.contains(id);
    let fresh = tasks.iter().filter(|task| is_in(&task.stop.id));
    let fresh: Vec<Task> = fresh.map(Task::not_begun).collect();
    let rooms: Vec<&RoomStop> = rooms
        .iter()
        .filter(|room| is_in(&room.id))
        .copied()
        .collect();
    let at_its_start = ScheduleTerms {
        now: started,
        leave_by: None,
        place_now: None,
        following: None,
        hands_since: None,
        ..terms.clone()
    };
    let model = model(&fresh, &rooms, &at_its_start, Baths::Planned);
    let whole = solve(&model.visit, &at_its_start, SAVING_NODES);
    let promised = minutes(whole.end - model.visit.now);
    let takes = minutes(seconds(started, left.ends_at));
    paced(minutes(seconds(begins, started)), takes - promised)
}

/// "Begun 25 min late, and 12 min slower than it looked at its start."
fn paced(late_min: f64, slower_min: f64) -> Option<String> {
    let told = |min: f64, more: &str, less: &str| match min.abs() < SPOKEN_OF_MIN {
        true => None,
        false => Some((
            text::minutes(min.abs()),
            if min > 0.0 { more } else { less }.to_owned(),
        )),
    };
    let begun = told(late_min, "late", "early")
        .filter(|_| late_min.abs() < A_DAY_MIN)
        .map(|(minutes, word)| format!("begun {minutes} {word}"));
    let pace = told(slower_min, "slower", "faster")
        .map(|(minutes, word)| format!("{minutes} {word} than it looked at its start"));
    let told = match (begun, pace) {
        (Some(begun), Some(pace)) => format!("{begun}, and {pace}"),
        (begun, pace) => begun.or(pace)?,
    };
    Some(text::capital(&told))
}

/// Less than so many minutes early or late is nothing to speak of. Judged.
const SPOKEN_OF_MIN: f64 = 8.0;

/// Begun on another day than planned, it is not called late.
const A_DAY_MIN: f64 = 12.0 * 60.0;

/// What a visit that has not begun comes to.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Outlook {
    /// Over soonest.
    pub shortest: Ordered,
    /// One brewer's presses together.
    pub calm: Ordered,
    /// Minutes of one brewer after the other, then the rooms; without what there is no time for.
    pub in_turn_min: f64,
    /// "1 h 12 min less than one after the other".
    pub saved: String,
    /// What leaving each out would save, in the order that was asked for.
    pub savings: Vec<Saving>,
}

/// Both orders of a visit, and what each brewer or room adds to it.
#[must_use]
pub fn outlook(tasks: &[Task], rooms: &[&RoomStop], terms: &ScheduleTerms) -> Outlook {
    let by = |order| {
        let terms = terms.clone();
        schedule(tasks, rooms, &ScheduleTerms { order, ..terms })
    };
    let (shortest, calm) = (by(Order::Shortest), by(Order::Calm));
    let open = ScheduleTerms {
        leave_by: None,
        ..terms.clone()
    };
    let asked = match terms.order {
        Order::Shortest => &shortest,
        Order::Calm => &calm,
    };
    let whole = match terms.leave_by {
        None => asked.minutes,
        Some(_) => schedule(tasks, rooms, &open).minutes,
    };
    // What there is no time for does not count as saved.
    let stays = |id: &String| !shortest.left_out.contains(id);
    let kept: Vec<_> = tasks.iter().filter(|task| stays(&task.stop.id)).collect();
    let kept_rooms: Vec<_> = rooms.iter().filter(|r| stays(&r.id)).copied().collect();
    let in_turn_min = in_turn(&kept, &kept_rooms, terms.travel_min);
    Outlook {
        savings: savings(tasks, rooms, &open, whole),
        saved: match in_turn_min - shortest.minutes {
            less if less >= 1.0 => format!("{} less than one after the other", text::minutes(less)),
            _ => "no less than one after the other".to_owned(),
        },
        in_turn_min,
        shortest,
        calm,
    }
}

/// What leaving each brewer or room out would save, those that have not begun.
pub(super) fn savings(
    tasks: &[Task],
    rooms: &[&RoomStop],
    terms: &ScheduleTerms,
    all_min: f64,
) -> Vec<Saving> {
    let model = model(tasks, rooms, terms, Baths::Planned);
    let end_without = |jobs: &dyn Fn(usize) -> bool, chores: &dyn Fn(usize) -> bool| {
        let mut visit = model.visit.clone();
        for (n, job) in visit.jobs.iter_mut().enumerate() {
            if jobs(n) {
                job.at = Some(At::Done);
            }
        }
        for (n, chore) in visit.chores.iter_mut().enumerate() {
            if chores(n) {
                chore.at = Some(At::Done);
            }
        }
        minutes(solve(&visit, terms, SAVING_NODES).end - visit.now)
    };
    let saving = |id: &str, without: f64| {
        let saved = (all_min - without).max(0.0).round();
        Saving {
            id: id.to_owned(),
            minutes: saved,
            text: match saved {
                s if s < 1.0 => "fits in without taking longer".to_owned(),
                s => format!("without it {} less", text::minutes(s)),
            },
        }
    };
    let open = tasks
        .iter()
        .enumerate()
        .filter(|(_, task)| task.begun.is_none());
    let of_tasks = open.map(|(n, task)| {
        let without = end_without(&|job| model.of_job[job] == n, &|_| false);
        saving(&task.stop.id, without)
    });
    let of_rooms = rooms
        .iter()
        .enumerate()
        .map(|(n, room)| saving(&room.id, end_without(&|_| false, &|chore| chore == n)));
    of_tasks.chain(of_rooms).collect()
}

/// Minutes of a visit that does one brewer after the other, then the rooms.
pub(super) fn in_turn(tasks: &[&Task], rooms: &[&RoomStop], travel_min: u32) -> f64 {
    let brewers: f64 = tasks.iter().map(|task| task.plan.ribbon.elapsed_min).sum();
    let rooms_min: f64 = rooms.iter().map(|room| f64::from(room.minutes)).sum();
    let mut homes: Vec<&str> = tasks
        .iter()
        .map(|t| t.home_id.as_str())
        .chain(rooms.iter().map(|r| r.home_id.as_str()))
        .collect();
    homes.sort_unstable();
    homes.dedup();
    brewers + rooms_min + f64::from(travel_min) * homes.len().saturating_sub(1) as f64
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn early_late_slow_and_fast_are_one_sentence() {
        for (late, slower, told) in [
            (7.9, -7.9, None),
            (8.0, 0.0, Some("Begun 8 min late")),
            (-8.0, 7.9, Some("Begun 8 min early")),
            (0.0, 8.0, Some("8 min slower than it looked at its start")),
            (
                0.0,
                -12.0,
                Some("12 min faster than it looked at its start"),
            ),
            (
                25.0,
                12.0,
                Some("Begun 25 min late, and 12 min slower than it looked at its start"),
            ),
            (719.0, 0.0, Some("Begun 11 h 59 min late")),
            (720.0, 0.0, None),
            (
                -720.0,
                9.0,
                Some("9 min slower than it looked at its start"),
            ),
        ] {
            assert_eq!(paced(late, slower).as_deref(), told, "{late} {slower}");
        }
    }
}

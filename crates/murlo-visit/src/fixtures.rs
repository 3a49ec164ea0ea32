//! What an order of work must keep, checked by another way than it was found, for the tests of this crate and of those above it.

use crate::{At, Found, Presence, Schedulable, ScheduledStretch, Segment};

/// Hands, or somebody near, from one second to another.
struct Held<'a> {
    start: i32,
    end: i32,
    place: Option<&'a str>,
    job: &'a str,
    is_hands: bool,
    is_begun: bool,
}

/// Hands that would be at two things at once, or somebody near at two places.
fn overlaps(visit: &Schedulable, held: &[Held], faults: &mut Vec<String>) {
    for (i, a) in held.iter().enumerate() {
        for b in &held[i + 1..] {
            let (a, b) = if (a.start, a.end) <= (b.start, b.end) {
                (a, b)
            } else {
                (b, a)
            };
            // Two that had begun were begun by people, not by this order.
            if a.is_begun && b.is_begun {
                continue;
            }
            let both_hands = a.is_hands && b.is_hands;
            let apart = if a.place != b.place {
                visit.travel
            } else if !both_hands {
                // In one place the hands of others fit into a near.
                continue;
            } else if a.job != b.job {
                visit.switch
            } else {
                0
            };
            if b.start < a.end + apart {
                faults.push(format!("{} and {} at {} overlap", a.job, b.job, b.start));
            }
        }
    }
}

/// What breaks the model, found by another way than the search goes: every stretch is held against every other.
pub fn faults(visit: &Schedulable, found: &Found) -> Vec<String> {
    let mut faults = Vec::new();
    let is_left = |id: &String| found.left_out.contains(id);
    let of = |job: usize, segment: usize| {
        let same = |s: &&ScheduledStretch| !s.is_chore && s.job == job && s.segment == segment;
        let all: Vec<_> = found.schedule.iter().filter(same).collect();
        (all.len() == 1).then(|| all[0].clone())
    };
    let mut held: Vec<Held> = Vec::new();
    for (n, chore) in visit
        .chores
        .iter()
        .enumerate()
        .filter(|(_, c)| !is_left(&c.id))
    {
        let all: Vec<_> = found
            .schedule
            .iter()
            .filter(|s| s.is_chore && s.job == n)
            .collect();
        if all.len() != 1 || all[0].end - all[0].start != chore.seconds {
            faults.push(format!("chore {} is not done once and whole", chore.id));
            continue;
        }
        held.push(Held {
            start: all[0].start,
            end: all[0].end,
            place: chore.place.as_deref(),
            job: &chore.id,
            is_hands: true,
            is_begun: false,
        });
    }
    for (n, job) in visit
        .jobs
        .iter()
        .enumerate()
        .filter(|(_, j)| !is_left(&j.id))
    {
        let mut before: Option<(ScheduledStretch, &Segment)> = None;
        // Of what is under way only the rest is still to do.
        let from = match job.at {
            Some(At::Done) => continue,
            Some(At::Segment(n, _)) => n,
            None => 0,
        };
        for (i, segment) in job.segments.iter().enumerate().skip(from) {
            let Some(here) = of(n, i) else {
                faults.push(format!(
                    "{} {} does not stand there once",
                    job.id, segment.id
                ));
                break;
            };
            let took = here.end - here.start;
            let is_begun = i == from && job.at.is_some();
            if took > segment.seconds || (took < segment.seconds && !is_begun) {
                faults.push(format!("{} {} is not whole", job.id, segment.id));
            }
            if let Some((last, what)) = &before {
                let waits = what.doing != Presence::Hands;
                let follows_at_once = segment.doing != Presence::Hands
                    && !(segment.doing == Presence::Near && what.doing == Presence::Free);
                if here.start < last.end || (follows_at_once && here.start != last.end) {
                    faults.push(format!("{} {} does not follow", job.id, segment.id));
                }
                let is_act = !follows_at_once;
                if let Some(max) = what.max.filter(|_| is_act && waits && found.lifted == 0)
                    && here.start > last.start + max
                    // One that was missed already binds no more.
                    && last.start + max >= visit.now
                {
                    faults.push(format!("{} {} comes too late", job.id, segment.id));
                }
            }
            if segment.doing != Presence::Free {
                held.push(Held {
                    start: here.start.max(visit.now),
                    end: here.end,
                    place: job.place.as_deref(),
                    job: &job.id,
                    is_hands: segment.doing == Presence::Hands,
                    is_begun: i == from && job.at.is_some(),
                });
            }
            before = Some((here, segment));
        }
        for id in job.after.iter().filter(|_| job.at.is_none()) {
            let other = visit.jobs.iter().position(|o| o.id == *id).expect("known");
            let ends = found
                .schedule
                .iter()
                .filter(|s| !s.is_chore && s.job == other)
                .map(|s| s.end);
            let starts = found
                .schedule
                .iter()
                .filter(|s| !s.is_chore && s.job == n)
                .map(|s| s.start);
            if starts.min() < ends.max() {
                faults.push(format!("{} begins before {id} is over", job.id));
            }
        }
    }
    overlaps(visit, &held, &mut faults);
    let end = found
        .schedule
        .iter()
        .map(|s| s.end)
        .max()
        .unwrap_or(visit.now);
    if end != found.end {
        faults.push(format!("all is over at {end}, not at {}", found.end));
    }
    faults
}

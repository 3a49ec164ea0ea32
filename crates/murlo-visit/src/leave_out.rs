//! The shortest visit, and what to leave out of it where the person must be gone.

use super::model::{At, Schedulable};
use super::running::latest;
use super::{Found, Presence, ScheduledStretch};
use crate::beam::ChainOrder;
use crate::compile::{Chain, Compiled, NEVER};
use murlo_base::problem::Problem;

/// So many jobs may be weighed against each other.
pub(crate) const MOST_WEIGHED: usize = 12;

/// The visit that ends soonest, within so many nodes; where the time is short, what is left out does the least harm.
///
/// # Errors
/// Those of [`Schedulable::check`].
pub fn solve(visit: &Schedulable, nodes: usize) -> Result<Found, Problem> {
    visit.check()?;
    let whole = ends_before(visit, &[], nodes, NEVER);
    let Some(leave_by) = visit.leave_by.filter(|by| whole.end > *by) else {
        return Ok(whole);
    };
    let begun = |at: Option<At>| at.is_some();
    let jobs = visit.jobs.iter().map(|j| (j.weight, begun(j.at), &j.id));
    let chores = visit.chores.iter().map(|c| (c.weight, begun(c.at), &c.id));
    let all: Vec<_> = jobs.chain(chores).collect();
    let is_part = |n: usize| visit.jobs.get(n).is_some_and(|job| job.part_of.is_some());
    let may: Vec<usize> = (0..all.len())
        .filter(|n| all[*n].0.is_some() && !all[*n].1 && !is_part(*n))
        .take(MOST_WEIGHED)
        .collect();
    let mut sets: Vec<(f64, u32, u32)> = (1..1_u32 << may.len())
        .map(|set| {
            let chosen = (0..may.len()).filter(|i| set & (1 << i) != 0);
            let weight = chosen.map(|i| all[may[i]].0.unwrap_or(0.0)).sum();
            (weight, set.count_ones(), set)
        })
        .collect();
    sets.sort_by(|a, b| a.0.total_cmp(&b.0).then((a.1, a.2).cmp(&(b.1, b.2))));
    // A set that is proved too little proves its parts so.
    let mut too_little: Vec<u32> = Vec::new();
    for (_, _, set) in sets {
        if too_little.iter().any(|more| set & !more == 0) {
            continue;
        }
        let mut left_out = vec![false; all.len()];
        for (i, n) in may.iter().enumerate() {
            left_out[*n] = set & (1 << i) != 0;
        }
        for (n, job) in visit.jobs.iter().enumerate() {
            let whole = job.part_of.as_ref();
            let whole = whole.and_then(|id| visit.jobs.iter().position(|other| other.id == *id));
            left_out[n] |= whole.is_some_and(|whole| left_out[whole]);
        }
        // Whoever waits for what is left out is left out with it, or cannot be done.
        if visit.jobs.iter().enumerate().any(|(n, job)| {
            !left_out[n]
                && job.after.iter().any(|id| {
                    visit
                        .jobs
                        .iter()
                        .position(|o| o.id == *id)
                        .is_some_and(|i| left_out[i])
                })
        }) {
            continue;
        }
        let found = ends_before(visit, &left_out, nodes, leave_by + 1);
        if found.end <= leave_by {
            let names = (0..all.len()).filter(|n| left_out[*n]);
            return Ok(Found {
                left_out: names.map(|n| all[n].2.clone()).collect(),
                ..found
            });
        }
        if found.bound > leave_by {
            too_little.push(set);
        }
    }
    Ok(whole)
}

/// The best that is found to end before `stop`.
fn ends_before(visit: &Schedulable, left_out: &[bool], nodes: usize, stop: i32) -> Found {
    let compiled = visit.compile(left_out);
    let mut lifted = 0;
    let mut taken = compiled.clone();
    let mut best = taken.best(nodes, stop, true);
    if best.order.is_none() && stop == NEVER {
        // What runs already may be late; what comes may not, if that can be helped.
        lifted = 1;
        taken
            .chains
            .iter_mut()
            .for_each(|chain| chain.lead_limit = NEVER);
        best = taken.best(nodes, stop, true);
    }
    if best.order.is_none() && stop == NEVER {
        lifted = 2;
        taken = without_limits(&taken);
        best = taken.best(nodes, stop, true);
    }
    let mut bound = best.bound;
    if best.bound < best.end
        && compiled
            .chains
            .iter()
            .any(|c| c.acts.iter().any(|a| a.limit != NEVER))
    {
        // Without the greatest waits nothing is longer.
        bound = bound.max(
            without_limits(&taken)
                .best(nodes / 4, best.end, false)
                .bound
                .min(best.end),
        );
    }
    let schedule = best
        .order
        .map_or_else(Vec::new, |order| stretches(visit, &taken, &order, best.end));
    Found {
        end: best.end,
        bound,
        schedule,
        left_out: Vec::new(),
        lifted,
    }
}

fn without_limits(compiled: &Compiled) -> Compiled {
    let mut free = compiled.clone();
    for chain in &mut free.chains {
        chain.lead_limit = NEVER;
        chain.acts.iter_mut().for_each(|act| act.limit = NEVER);
    }
    free
}

/// The acts of an order and what runs by itself after them, in order of their beginning.
fn stretches(
    visit: &Schedulable,
    compiled: &Compiled,
    order: &ChainOrder,
    end: i32,
) -> Vec<ScheduledStretch> {
    let mut all = Vec::new();
    let walked = compiled.walked(order);
    let latest = latest(compiled, &walked, end);
    let mut over = vec![visit.now; compiled.chains.len()];
    for chain in compiled.chains.iter().filter(|c| c.before.is_empty()) {
        all.extend(chain.running.iter().map(|r| by_itself(chain, *r)));
    }
    for (done, latest) in walked.into_iter().zip(latest) {
        let chain = &compiled.chains[done.chain];
        if done.act == 0 && !chain.before.is_empty() {
            // What runs by itself at its beginning began when the last of those before it was over.
            let base = chain.before.iter().map(|b| over[*b]).max();
            let late = base.unwrap_or(visit.now) - chain.base;
            let runs = chain.running.iter();
            all.extend(
                runs.map(|(s, start, end)| by_itself(chain, (*s, start + late, end + late))),
            );
        }
        let act = &chain.acts[done.act];
        // Somebody comes only to be near.
        let is_near =
            !chain.is_chore && visit.jobs[chain.job].segments[act.segment].doing == Presence::Near;
        let mut at = if is_near {
            done.start + act.near
        } else {
            done.end
        };
        all.push(ScheduledStretch {
            job: chain.job,
            is_chore: chain.is_chore,
            segment: act.segment,
            start: done.start,
            end: at,
            latest: Some(latest),
        });
        let next = chain.acts.get(done.act + 1).map(|next| next.segment);
        let segments = if chain.is_chore {
            &[][..]
        } else {
            &visit.jobs[chain.job].segments
        };
        let follows = segments
            .iter()
            .enumerate()
            .take(next.unwrap_or(segments.len()));
        for (segment, what) in follows.skip(act.segment + 1) {
            all.push(by_itself(chain, (segment, at, at + what.seconds)));
            at += what.seconds;
        }
        over[done.chain] = done.end + act.lag;
    }
    all.sort_by_key(|s| (s.start, s.end, s.is_chore, s.job, s.segment));
    all
}

/// A stretch that nobody's hands do.
const fn by_itself(chain: &Chain, (segment, start, end): (usize, i32, i32)) -> ScheduledStretch {
    ScheduledStretch {
        job: chain.job,
        is_chore: chain.is_chore,
        segment,
        start,
        end,
        latest: None,
    }
}

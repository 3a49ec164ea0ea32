//! Several homes, one after the other: each is a visit of its own, from the moment one arrives.

use crate::leave_out::{MOST_WEIGHED, solve};
use crate::model::{At, Schedulable};
use crate::{Found, ScheduledStretch};
use murlo_base::problem::Problem;
use std::collections::HashMap;

/// The visit that goes from one place to the next and leaves none while anything runs there: `places` in the order in which
/// they are gone to, but where the person is comes first, and before the others where something runs.
///
/// What is left out where the time is short does the least harm over all of them, by rising sum of weights. The bound of the
/// answer holds for this order of places.
///
/// # Errors
/// Those of [`Schedulable::check`].
pub fn solve_in_turn(visit: &Schedulable, places: &[&str], nodes: usize) -> Result<Found, Problem> {
    visit.check()?;
    let turns = Turns::of(visit, places);
    if turns.places.len() <= 1 {
        return solve(visit, nodes);
    }
    let mut solved = HashMap::new();
    let whole = turns.walk(0, &mut solved, nodes)?;
    let Some(leave_by) = visit.leave_by.filter(|by| whole.end > *by) else {
        return Ok(whole);
    };
    let mut too_little: Vec<u32> = Vec::new();
    for set in turns.sets() {
        if too_little.iter().any(|more| set & !more == 0) {
            continue;
        }
        let tried = turns.walk(set, &mut solved, nodes)?;
        if tried.end <= leave_by {
            return Ok(tried);
        }
        if tried.bound > leave_by {
            too_little.push(set);
        }
    }
    Ok(whole)
}

/// A job or chore of a visit, by its number among all of them.
struct JobOrChore<'a> {
    id: &'a str,
    place: Option<&'a str>,
    weight: Option<f64>,
    at: Option<At>,
    /// The one it is left out with.
    part_of: Option<usize>,
    /// Those that come before it.
    after: Vec<usize>,
}

struct Turns<'a> {
    visit: &'a Schedulable,
    parts: Vec<JobOrChore<'a>>,
    /// Places with something to do, in the order in which they are gone to.
    places: Vec<Option<&'a str>>,
    /// Parts that may be left out.
    may: Vec<usize>,
}

impl<'a> Turns<'a> {
    fn of(visit: &'a Schedulable, order: &[&str]) -> Self {
        let number = |id: &String| visit.jobs.iter().position(|job| job.id == *id);
        let jobs = visit.jobs.iter().map(|job| JobOrChore {
            id: &job.id,
            place: job.place.as_deref(),
            weight: job.weight,
            at: job.at,
            part_of: job.part_of.as_ref().and_then(number),
            after: job.after.iter().filter_map(number).collect(),
        });
        let chores = visit.chores.iter().map(|chore| JobOrChore {
            id: &chore.id,
            place: chore.place.as_deref(),
            weight: chore.weight,
            at: chore.at,
            part_of: None,
            after: Vec::new(),
        });
        let parts: Vec<JobOrChore<'_>> = jobs.chain(chores).collect();
        let mut places: Vec<Option<&str>> = Vec::new();
        for part in parts.iter().filter(|part| part.at != Some(At::Done)) {
            if !places.contains(&part.place) {
                places.push(part.place);
            }
        }
        let runs = |place: Option<&str>| {
            let mut here = parts.iter().filter(|part| part.place == place);
            here.any(|part| matches!(part.at, Some(At::Segment(..))))
        };
        places.sort_by_key(|place| {
            let named = order.iter().position(|other| Some(*other) == *place);
            let is_here = visit.place_now.is_some() && *place == visit.place_now.as_deref();
            (!is_here, !runs(*place), named.unwrap_or(order.len()))
        });
        let may = (0..parts.len())
            .filter(|n| parts[*n].weight.is_some() && parts[*n].at.is_none())
            .filter(|n| parts[*n].part_of.is_none_or(|whole| whole == *n))
            .take(MOST_WEIGHED)
            .collect();
        Self {
            visit,
            parts,
            places,
            may,
        }
    }

    /// What may be left out together, the least harm first; never what something else waits for that stays.
    fn sets(&self) -> Vec<u32> {
        let mut sets: Vec<(f64, u32, u32)> = (1..1_u32 << self.may.len())
            .filter(|set| {
                let out = self.left_out(*set);
                let waits = |part: &JobOrChore<'_>| part.after.iter().any(|before| out[*before]);
                !(0..self.parts.len()).any(|n| !out[n] && waits(&self.parts[n]))
            })
            .map(|set| {
                let chosen = (0..self.may.len()).filter(|i| set & (1 << i) != 0);
                let weights = chosen.map(|i| self.parts[self.may[i]].weight.unwrap_or(0.0));
                (weights.sum(), set.count_ones(), set)
            })
            .collect();
        sets.sort_by(|a, b| a.0.total_cmp(&b.0).then((a.1, a.2).cmp(&(b.1, b.2))));
        sets.into_iter().map(|(_, _, set)| set).collect()
    }

    fn left_out(&self, set: u32) -> Vec<bool> {
        let mut out = vec![false; self.parts.len()];
        for (i, n) in self.may.iter().enumerate() {
            out[*n] = set & (1 << i) != 0;
        }
        (0..out.len())
            .map(|n| out[n] || self.parts[n].part_of.is_some_and(|whole| out[whole]))
            .collect()
    }

    /// All places in turn without what is left out; `solved` has what was found for a place from `visit.now` on.
    fn walk(
        &self,
        set: u32,
        solved: &mut HashMap<(usize, Vec<bool>), Found>,
        nodes: usize,
    ) -> Result<Found, Problem> {
        let out = self.left_out(set);
        let mut at = self.visit.now;
        let mut here = self.visit.place_now.as_deref();
        let mut whole = Found {
            end: at,
            bound: at,
            schedule: Vec::new(),
            left_out: Vec::new(),
            lifted: 0,
        };
        // How much sooner the places so far might be over.
        let mut slack = 0;
        for (turn, place) in self.places.iter().enumerate() {
            let is_open = |n: usize| {
                let part = &self.parts[n];
                part.place == *place && part.at != Some(At::Done) && !out[n]
            };
            let open: Vec<bool> = (0..self.parts.len()).map(is_open).collect();
            if !open.contains(&true) {
                continue;
            }
            if here.is_some() && *place != here {
                at += self.visit.travel;
            }
            here = *place;
            let runs =
                |n: usize| open[n] && matches!(self.parts[n].at, Some(At::Segment(_, Some(_))));
            let found = if (0..open.len()).any(runs) {
                solve(&self.only(&open, at), nodes)?
            } else {
                let key = (turn, open);
                let known = match solved.get(&key) {
                    Some(known) => known.clone(),
                    None => solve(&self.only(&key.1, self.visit.now), nodes)?,
                };
                let moved = later(known.clone(), at - self.visit.now);
                solved.insert(key, known);
                moved
            };
            slack += found.end - found.bound;
            at = found.end;
            whole.schedule.extend(found.schedule);
            whole.lifted = whole.lifted.max(found.lifted);
        }
        whole.end = at;
        whole.bound = at - slack;
        let names = (0..out.len()).filter(|n| out[*n]);
        whole.left_out = names.map(|n| self.parts[n].id.to_owned()).collect();
        Ok(whole)
    }

    /// The visit with nothing but these parts, from then on.
    fn only(&self, open: &[bool], now: i32) -> Schedulable {
        let mut visit = Schedulable {
            now,
            place_now: None,
            leave_by: None,
            ..self.visit.clone()
        };
        let jobs = visit.jobs.iter_mut().map(|job| &mut job.at);
        let chores = visit.chores.iter_mut().map(|chore| &mut chore.at);
        for (at, open) in jobs.chain(chores).zip(open) {
            if !open {
                *at = Some(At::Done);
            }
        }
        visit
    }
}

/// The same so many seconds later.
fn later(found: Found, by: i32) -> Found {
    let stretches = found.schedule.into_iter();
    Found {
        end: found.end + by,
        bound: found.bound + by,
        schedule: stretches
            .map(|stretch| ScheduledStretch {
                start: stretch.start + by,
                end: stretch.end + by,
                latest: stretch.latest.map(|latest| latest + by),
                ..stretch
            })
            .collect(),
        ..found
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixtures::faults;
    use crate::tests::any_visit;
    use crate::{Chore, Presence, Segment, VisitJob};
    use proptest::prelude::*;

    const PLACES: [&str; 2] = ["kitchen", "studio"];

    /// When the first thing at a place begins, and the last one ends, whoever does it.
    fn spell(visit: &Schedulable, found: &Found, place: &str) -> Option<(i32, i32)> {
        let here = found.schedule.iter().filter(|stretch| {
            let of = match stretch.is_chore {
                true => &visit.chores[stretch.job].place,
                false => &visit.jobs[stretch.job].place,
            };
            of.as_deref() == Some(place)
        });
        let here: Vec<_> = here.collect();
        let starts = here.iter().map(|stretch| stretch.start).min()?;
        Some((starts, here.iter().map(|stretch| stretch.end).max()?))
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(64))]

        #[test]
        fn nothing_runs_in_a_home_that_is_left(mut visit in any_visit(4), most in 0..400i32, first in 0..2usize) {
            for job in &mut visit.jobs {
                job.after.clear();
                job.weight = Some(1.0);
            }
            visit.leave_by = (most > 60).then_some(60 * most);
            visit.place_now = Some(PLACES[first].to_owned());
            let found = solve_in_turn(&visit, &PLACES, 2000).expect("sound");
            prop_assert_eq!(faults(&visit, &found), Vec::<String>::new());
            prop_assert!(found.bound <= found.end);
            let spells = PLACES.map(|place| spell(&visit, &found, place));
            if let [Some(kitchen), Some(studio)] = spells {
                let (before, after) = if first == 0 { (kitchen, studio) } else { (studio, kitchen) };
                prop_assert!(after.0 >= before.1 + visit.travel, "{before:?} {after:?}");
            }
            // Leaving out is never more than is needed, and never too little.
            if found.left_out.is_empty() {
                let whole = solve_in_turn(&Schedulable { leave_by: None, ..visit.clone() }, &PLACES, 2000).expect("sound");
                prop_assert_eq!(whole.end, found.end);
            } else {
                prop_assert!(found.end <= visit.leave_by.unwrap_or(0));
            }
        }
    }

    /// A job of two acts with a wait between them.
    fn soak(id: &str, place: &str, wait: i32, at: Option<At>, weight: Option<f64>) -> VisitJob {
        let segment = |id: &str, doing, seconds| Segment {
            id: id.to_owned(),
            doing,
            seconds,
            max: None,
        };
        VisitJob {
            id: id.to_owned(),
            place: Some(place.to_owned()),
            after: Vec::new(),
            at,
            weight,
            part_of: None,
            segments: vec![
                segment("mix", Presence::Hands, 60),
                segment("soak", Presence::Free, wait),
                segment("rinse", Presence::Hands, 120),
            ],
        }
    }

    fn visit(jobs: Vec<VisitJob>) -> Schedulable {
        Schedulable {
            jobs,
            chores: vec![Chore {
                id: "beds".to_owned(),
                place: Some("studio".to_owned()),
                seconds: 600,
                at: None,
                weight: Some(2.0),
            }],
            travel: 300,
            ..Schedulable::default()
        }
    }

    #[test]
    fn homes_are_gone_to_where_one_is_first_then_where_something_runs_then_as_told() {
        let runs = Some(At::Segment(1, Some(-60)));
        let two = |kitchen, studio| {
            vec![
                soak("k", "kitchen", 1200, kitchen, None),
                soak("s", "studio", 1200, studio, None),
            ]
        };
        for (jobs, here, order, expected) in [
            (two(None, None), None, ["kitchen", "studio"], "kitchen"),
            (two(None, None), None, ["studio", "kitchen"], "studio"),
            (
                two(None, None),
                Some("studio"),
                ["kitchen", "studio"],
                "studio",
            ),
            (two(None, runs), None, ["kitchen", "studio"], "studio"),
            (
                two(None, runs),
                Some("kitchen"),
                ["kitchen", "studio"],
                "kitchen",
            ),
            // Nothing is left to do where one is.
            (
                two(Some(At::Done), None),
                Some("kitchen"),
                ["kitchen", "studio"],
                "studio",
            ),
        ] {
            let visit = Schedulable {
                place_now: here.map(str::to_owned),
                ..visit(jobs)
            };
            let found = solve_in_turn(&visit, &order, 2000).unwrap();
            let hands = found.schedule.iter().filter(|s| s.latest.is_some());
            let first = hands.min_by_key(|s| s.start).unwrap();
            let place = match first.is_chore {
                true => "studio",
                false => visit.jobs[first.job].place.as_deref().unwrap(),
            };
            assert_eq!(place, expected, "{here:?} {order:?}");
        }
    }

    #[test]
    fn the_way_is_gone_once_between_homes_and_not_to_one_with_nothing_to_do() {
        let jobs = || {
            vec![
                soak("k", "kitchen", 1200, None, Some(1.0)),
                soak("s", "studio", 1200, None, Some(0.5)),
            ]
        };
        // Each home: mix, soak, rinse; the beds go into the studio's soak.
        let alone = 60 + 1200 + 120;
        for (here, leave_by, end, left) in [
            (None, None, alone + 300 + alone, vec![]),
            (Some("elsewhere"), None, 300 + alone + 300 + alone, vec![]),
            (
                Some("kitchen"),
                Some(2 * alone + 300),
                2 * alone + 300,
                vec![],
            ),
            (
                Some("kitchen"),
                Some(2 * alone + 299),
                alone + 300 + 600,
                vec!["s"],
            ),
            (Some("kitchen"), Some(alone + 300), alone + 300, vec!["k"]),
            (Some("kitchen"), Some(alone + 299), 900, vec!["k", "s"]),
        ] {
            let visit = Schedulable {
                place_now: here.map(str::to_owned),
                leave_by,
                ..visit(jobs())
            };
            let found = solve_in_turn(&visit, &PLACES, 2000).unwrap();
            assert_eq!(
                (found.end, found.left_out),
                (end, left.into_iter().map(str::to_owned).collect()),
                "{here:?} {leave_by:?}"
            );
            assert_eq!(found.bound, found.end, "small enough to be proved");
        }
    }
}

//! One stop of a visit with its plan, or with its clean once begun.

use super::{Proposed, RoomStop, Stop, Visit, VisitCourse};
use jiff::Timestamp;
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::job::Job;
use murlo_clean::{Closed, State};
use murlo_plan::{Inside, Kind, Plan, Work};

/// The harm of leaving out what nobody proposed and somebody asked for. Judged.
const ASKED_FOR_WEIGHT: f64 = 0.5;

/// What is done to one brewer in a visit.
pub struct Task {
    /// The stop.
    pub stop: Stop,
    /// The brewer's name, with its side where it has several.
    pub name: String,
    /// Where it stands.
    pub home_id: String,
    /// The stops before it that must be over first: the same brewer, and not a side of its own.
    pub after: Vec<String>,
    /// The harm of leaving it out.
    pub weight: Option<f64>,
    /// Its plan, with everything that was added to it.
    pub plan: Plan,
    /// Its clean, once begun.
    pub begun: Option<Begun>,
}

/// A clean that runs in a visit, or is over.
pub struct Begun {
    /// Its id.
    pub clean_id: String,
    /// Where it stands.
    pub state: State,
    /// When its last act was.
    pub last_at: Timestamp,
    /// Whose device it came from, where that is known.
    pub last_by: Option<String>,
}

impl Task {
    /// What `stop` asks of its brewer after the tasks before it, weighed as it was proposed.
    #[must_use]
    pub fn new(
        stop: &Stop,
        brewer: &Brewer,
        (plan, begun): (Plan, Option<Begun>),
        before: &[Self],
        proposed: &[Proposed],
    ) -> Self {
        let weighed = proposed.iter().find(|one| one.stop.id == stop.id);
        let same_side = |id: &str| plan.circuit_id == id || !brewer.has_own_reservoirs();
        let waits_for = |other: &&Self| {
            other.stop.brewer_id == brewer.id
                && (same_side(&other.plan.circuit_id)
                    || plan.work == Work::Upkeep
                    || other.plan.work == Work::Upkeep)
        };
        let after = before.iter().filter(waits_for);
        Self {
            after: after.map(|other| other.stop.id.clone()).collect(),
            name: match &plan.side {
                Some(side) if plan.work != Work::Upkeep => format!("{}, {side}", brewer.nickname),
                _ => brewer.nickname.clone(),
            },
            home_id: brewer.home_id.clone(),
            weight: Some(weighed.map_or(ASKED_FOR_WEIGHT, |one| one.weight)),
            stop: stop.clone(),
            plan,
            begun,
        }
    }

    /// The same before anything was done to it.
    #[must_use]
    pub fn not_begun(&self) -> Self {
        Self {
            stop: self.stop.clone(),
            name: self.name.clone(),
            home_id: self.home_id.clone(),
            after: self.after.clone(),
            weight: self.weight,
            plan: self.plan.clone(),
            begun: None,
        }
    }

    /// Whether nothing is to be done any more.
    #[must_use]
    pub fn is_over(&self) -> bool {
        self.begun
            .as_ref()
            .is_some_and(|begun| begun.state.closed.is_some())
    }

    /// Its clean, while that runs.
    #[must_use]
    pub fn running(&self) -> Option<&Begun> {
        self.begun
            .as_ref()
            .filter(|begun| begun.state.closed.is_none())
    }

    /// Whether a bath is in the brewer now.
    #[must_use]
    pub fn holds_bath(&self) -> bool {
        self.running()
            .is_some_and(|begun| begun.state.inside == Inside::Bath)
    }

    /// Whether its clean runs with anything but plain water inside.
    #[must_use]
    pub fn is_unrinsed(&self) -> bool {
        self.running()
            .is_some_and(|begun| begun.state.inside != Inside::Water)
    }

    /// Minutes that it takes to rinse it out and put it back, without anything else.
    #[must_use]
    pub fn rinse_out_min(&self) -> f64 {
        let last =
            self.plan.steps.iter().filter(|step| {
                step.is(Kind::Rinse) || step.is(Kind::Verify) || step.is(Kind::PutBack)
            });
        last.map(|step| step.hands_on_min + step.near_min + step.hands_free_min)
            .sum()
    }

    /// "Kiln drip still has a bath inside: rinse it out first, about 12 min".
    #[must_use]
    pub fn way_out(&self) -> String {
        let inside = match self.holds_bath() {
            true => "still has a bath inside",
            false => "is not rinsed yet",
        };
        let minutes = text::minutes(self.rinse_out_min());
        format!(
            "{} {inside}: rinse it out first, about {minutes}",
            self.name
        )
    }

    /// "descale", "Drip tray and rim".
    #[must_use]
    pub fn what(&self) -> &'static str {
        what(self.plan.work, self.plan.job)
    }

    /// "not begun", "under way: Soak", "done, but acid is inside: …".
    #[must_use]
    pub fn state_text(&self) -> String {
        let Some(Begun { state, .. }) = &self.begun else {
            return "not begun".to_owned();
        };
        let over = match state.closed {
            None => {
                let at = state
                    .step
                    .as_ref()
                    .map_or("at its end", |step| step.title.as_str());
                return format!("under way: {at}");
            }
            Some(Closed::Finished) => ("done", "done, but acid is inside"),
            Some(Closed::Abandoned) => ("given up", "given up with acid inside"),
        };
        match &state.acid_left {
            Some(acid) => format!("{}: {acid}", over.1),
            None => over.0.to_owned(),
        }
    }
}

/// "descale", "Drip tray and rim".
const fn what(work: Work, job: Option<Job>) -> &'static str {
    match (work, job) {
        (Work::Upkeep, Some(job)) => job.name(),
        (Work::Needles, _) => "needles",
        (Work::Upkeep | Work::Descale | Work::Rehearsal, _) => "descale",
    }
}

impl Stop {
    /// "descale", "Drip tray and rim".
    #[must_use]
    pub const fn what(&self) -> &'static str {
        what(self.options.work, self.options.job)
    }

    /// The brewer's name, with its side where it has several and one is meant.
    #[must_use]
    pub fn name(&self, brewer: &Brewer) -> String {
        let side = self.options.circuit_id.as_ref();
        let side = side.filter(|_| brewer.circuits.len() > 1 && self.options.work != Work::Upkeep);
        let side = side.and_then(|id| brewer.circuits.iter().find(|circuit| circuit.id == *id));
        match side {
            Some(side) => format!("{}, {}", brewer.nickname, side.name()),
            None => brewer.nickname.clone(),
        }
    }
}

impl VisitCourse {
    /// Whether a clean that runs, or ended then, may belong to this visit: one that was over before it began does not.
    #[must_use]
    pub fn may_hold(&self, ended_at: Option<Timestamp>) -> bool {
        match (ended_at, self.started_at) {
            (None, _) => true,
            (Some(ended), Some(started)) => ended >= started,
            (Some(_), None) => false,
        }
    }
}

impl Visit {
    /// When the hands last did something in this visit up to `now`, and at which home; its start where they did nothing yet.
    #[must_use]
    pub fn last_act<'a>(
        &'a self,
        course: &'a VisitCourse,
        tasks: &'a [Task],
        started_at: Timestamp,
        now: Timestamp,
    ) -> (Timestamp, Option<&'a str>) {
        let rooms = course.rooms_done.iter().filter_map(|(id, at)| {
            let room = self.rooms.iter().find(|room| room.id == *id)?;
            Some((*at, Some(room.home_id.as_str())))
        });
        let cleans = tasks.iter().filter_map(|task| {
            let begun = task.begun.as_ref()?;
            Some((begun.last_at, Some(task.home_id.as_str())))
        });
        let came = course.arrived.iter();
        let came = came.map(|(home, at)| (*at, Some(home.as_str())));
        let all = rooms
            .chain(cleans)
            .chain(came)
            .filter(|(at, _)| (started_at..=now).contains(at));
        all.max_by_key(|(at, _)| *at)
            .unwrap_or((started_at.min(now), None))
    }

    /// Rooms that are still to be done.
    #[must_use]
    pub fn open_rooms<'a>(&'a self, course: &'a VisitCourse) -> Vec<&'a RoomStop> {
        let rooms = self.all_rooms(course);
        rooms
            .filter(|room| !course.rooms_done.contains_key(&room.id))
            .collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::{date, time};
    use murlo_base::units::Units;
    use murlo_brewer::{BrewerDraft, Family};
    use murlo_plan::PlanOptions;
    use murlo_plan::fixtures::plan;

    fn at(second: i64) -> Timestamp {
        Timestamp::from_second(second).unwrap()
    }

    #[test]
    fn a_clean_that_was_over_before_the_visit_began_is_not_its_clean() {
        for (started, ended, expected) in [
            (None, None, true),
            (None, Some(9), false),
            (Some(10), None, true),
            (Some(10), Some(9), false),
            (Some(10), Some(10), true),
            (Some(10), Some(11), true),
        ] {
            let course = VisitCourse {
                started_at: started.map(at),
                ..VisitCourse::default()
            };
            assert_eq!(
                course.may_hold(ended.map(at)),
                expected,
                "{started:?} {ended:?}"
            );
        }
    }

    fn stop(id: &str) -> Stop {
        Stop {
            id: id.to_owned(),
            brewer_id: "b".to_owned(),
            options: PlanOptions::default(),
        }
    }

    fn side(family: Family, circuit_id: &str, work: Work) -> Plan {
        let job = (work == Work::Upkeep).then_some(Job::Tray);
        let options = PlanOptions {
            work,
            job,
            ..PlanOptions::default()
        };
        Plan {
            circuit_id: circuit_id.to_owned(),
            ..plan(family, &options).unwrap()
        }
    }

    #[test]
    fn sides_wait_for_each_other_where_they_share_a_reservoir_and_for_small_works_always() {
        let day = date(2026, 1, 1);
        let template = BrewerDraft::template(Family::Combination, Units::Us, "h", "w", day);
        for (own, second, waits) in [
            (false, Work::Descale, true),
            (true, Work::Descale, false),
            (true, Work::Upkeep, true),
        ] {
            let draft = BrewerDraft {
                nickname: "b".into(),
                ..template.clone()
            };
            let mut brewer = draft.check("b".into(), None, day).unwrap();
            brewer.circuits[1].reservoir_ml = own.then_some(1000.0);
            let ids: Vec<&str> = brewer.circuits.iter().map(|c| c.id.as_str()).collect();
            let first = side(Family::Combination, ids[0], Work::Descale);
            let first = Task::new(&stop("one"), &brewer, (first, None), &[], &[]);
            let second = side(Family::Combination, ids[1], second);
            let second = Task::new(&stop("two"), &brewer, (second, None), &[first], &[]);
            assert_eq!(!second.after.is_empty(), waits, "own {own}");
            assert_eq!(second.weight, Some(ASKED_FOR_WEIGHT));
        }
    }

    #[test]
    fn the_last_act_is_the_latest_of_rooms_and_cleans_since_the_visit_began() {
        let visit = Visit {
            rooms: ["a", "b"]
                .map(|home| RoomStop {
                    id: format!("room-{home}"),
                    home_id: home.into(),
                    name: "Bath".into(),
                    minutes: 5,
                })
                .into(),
            ..Visit::planned("v", date(2026, 1, 1), time(9, 0, 0, 0))
        };
        for (done, expected) in [
            (vec![], (100, None)),
            (vec![("room-a", 99)], (100, None)),
            (vec![("room-a", 100)], (100, Some("a"))),
            (vec![("room-a", 150), ("room-b", 200)], (200, Some("b"))),
            // A device's clock may run ahead.
            (vec![("room-a", 150), ("room-b", 201)], (150, Some("a"))),
        ] {
            let course = VisitCourse {
                rooms_done: done
                    .iter()
                    .map(|(id, s)| ((*id).to_owned(), at(*s)))
                    .collect(),
                ..VisitCourse::default()
            };
            let (last, home) = visit.last_act(&course, &[], at(100), at(200));
            assert_eq!((last, home), (at(expected.0), expected.1), "{done:?}");
        }
    }
}

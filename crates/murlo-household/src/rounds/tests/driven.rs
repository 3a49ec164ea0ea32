//! A visit that is driven act by act.

use crate::rounds::tests::{NINE, homes, later, room, stop, task, tasks, terms, three};
use crate::rounds::*;
use jiff::{SignedDuration, Timestamp};
use murlo_brewer::Family;
use murlo_clean::{self as clean, Act, State, stands};
use murlo_plan::fixtures::plan;
use murlo_plan::{Doing, Plan, PlanOptions};

/// A clean that is driven on by its own next acts.
pub(crate) struct Driven {
    pub(crate) plan: Plan,
    events: Vec<clean::Event>,
}

impl Driven {
    pub(crate) fn new(family: Family) -> Self {
        Self {
            plan: plan(family, &PlanOptions::default()).unwrap(),
            events: Vec::new(),
        }
    }

    pub(crate) fn state(&self) -> State {
        stands(&self.plan, &self.events).unwrap().1
    }

    pub(crate) fn act(&mut self, at: Timestamp) -> bool {
        match self.state().next {
            Some(next) => self.push(at, next.act),
            None => return false,
        }
        true
    }

    fn push(&mut self, at: Timestamp, act: Act) {
        self.events.push(clean::Event {
            id: format!("e{}", self.events.len()),
            at,
            device_at: None,
            by: None,
            act,
        });
    }

    pub(crate) fn last_at(&self) -> Timestamp {
        self.events.last().map_or(NINE, |event| event.at)
    }
}

/// What is left of a visit is scheduled again after every act, from what is.
#[test]
fn a_visit_on_plan_ends_about_when_it_was_planned() {
    let mut pod = Driven::new(Family::PodReservoir);
    let stop = stop("pod");
    let homes = homes();
    let usual = terms(Order::Shortest, &homes);
    let planned = schedule(&[task(&stop, &pod.plan)], &[], &usual);
    let mut now = NINE;
    let mut least = f64::MAX;
    loop {
        let state = pod.state();
        let begun = Begun {
            clean_id: "c".into(),
            state: state.clone(),
            last_at: pod.last_at(),
            last_by: None,
        };
        let one = Task {
            begun: Some(begun),
            ..task(&stop, &pod.plan)
        };
        let left = schedule(
            &[one],
            &[],
            &ScheduleTerms {
                now,
                ..usual.clone()
            },
        );
        let Some(act) = left.acts.first() else {
            break;
        };
        assert_eq!(act.clean_id.as_deref(), Some("c"));
        let end = left.ends_at.duration_since(NINE).as_secs() as f64 / 60.0;
        assert!(
            (end - planned.minutes).abs() < 4.0,
            "{} at {}: {end} of {}",
            act.title,
            now,
            planned.minutes
        );
        assert!(
            left.minutes < least + 0.5,
            "what is left grows at {}",
            act.title
        );
        least = left.minutes;
        // The clean's own current step is what the schedule asks for, or what may be done beside it.
        let current = &state.step.as_ref().unwrap().id;
        assert!(
            act.step == *current || state.meanwhile.contains(&act.step),
            "{} {current}",
            act.step
        );
        if act.step != *current {
            // Beside a wait.
            now = act.at.max(now) + SignedDuration::from_secs((act.minutes * 60.0) as i64);
            pod.push(
                now,
                Act::Done {
                    step: act.step.clone(),
                },
            );
            continue;
        }
        now = act.at.max(now) + SignedDuration::from_secs((one_press(&state) * 60.0) as i64);
        if !pod.act(now) {
            break;
        }
    }
    assert!(least < 0.7 * planned.minutes, "{least}");
}

/// Minutes of the current step, or of one of what it counts.
fn one_press(state: &State) -> f64 {
    let step = state.step.as_ref().unwrap();
    match &step.doing {
        Doing::Count { target } => {
            let counted = state.steps[state.current.unwrap()].count;
            // From the second on it has run by the time one comes back to it.
            let runs = if counted == 0 {
                step.near_min + step.hands_free_min
            } else {
                0.0
            };
            (step.hands_on_min + runs) / f64::from((*target).max(1))
        }
        Doing::Wait { .. } => step.hands_on_min,
        // Place by place, and that it is done.
        Doing::Clear { needles } => {
            let places: usize = needles.iter().map(|n| n.spots().count()).sum();
            step.hands_on_min / (places + 1) as f64
        }
        _ => step.hands_on_min + step.near_min,
    }
}

#[test]
fn what_runs_is_waited_for_and_what_is_over_is_gone() {
    let (stops, mut driven) = (stop("drip"), Driven::new(Family::Drip));
    while !driven
        .state()
        .step
        .as_ref()
        .is_some_and(|step| step.is_wait())
    {
        assert!(driven.act(NINE));
    }
    assert!(driven.act(NINE));
    let state = driven.state();
    let wait = state.step.clone().unwrap();
    let homes = homes();
    let at = |minutes: f64, state: &State| {
        let begun = Begun {
            clean_id: "c".into(),
            state: state.clone(),
            last_at: NINE,
            last_by: None,
        };
        let one = Task {
            begun: Some(begun),
            ..task(&stops, &driven.plan)
        };
        schedule(
            &[one],
            &[],
            &ScheduleTerms {
                now: later(minutes),
                ..terms(Order::Shortest, &homes)
            },
        )
    };
    let (early, late) = (at(1.0, &state), at(11.0, &state));
    assert!(
        (early.minutes - late.minutes - 10.0).abs() < 0.1,
        "{} {}",
        early.minutes,
        late.minutes
    );
    // Past its time it waits for the person.
    let over = at(wait.hands_free_min + 30.0, &state);
    let after = at(wait.hands_free_min + 60.0, &state);
    assert!((over.minutes - after.minutes).abs() < 0.1);
    let done: Vec<_> = state
        .steps
        .iter()
        .map(|step| clean::StepState {
            standing: clean::Standing::Done,
            ..step.clone()
        })
        .collect();
    let unwritten = State {
        steps: done,
        current: None,
        step: None,
        ..state.clone()
    };
    let last = at(1.0, &unwritten);
    assert_eq!((last.acts.len(), last.minutes), (1, 0.2));
    assert!(!last.acts[0].title.is_empty());
    let closed = State {
        closed: Some(clean::Closed::Finished),
        ..state
    };
    let none = at(1.0, &closed);
    assert_eq!(
        (none.acts.len(), none.lines.len(), none.minutes),
        (0, 0, 0.0)
    );
}

#[test]
fn an_instruction_that_is_followed_is_kept_unless_another_saves_a_minute() {
    let (stops, plans) = three();
    let tasks = tasks(&stops, &plans);
    let homes = homes();
    let usual = terms(Order::Shortest, &homes);
    let best = schedule(&tasks, &[], &usual);
    for following in ["pod", "drip", "cup"] {
        let kept = schedule(
            &tasks,
            &[],
            &ScheduleTerms {
                following: Some(following),
                ..usual.clone()
            },
        );
        assert!(kept.minutes <= best.minutes + 1.0, "{following}");
    }
    let first = best.acts[0].id.clone();
    let kept = schedule(
        &tasks,
        &[],
        &ScheduleTerms {
            following: Some(&first),
            ..usual.clone()
        },
    );
    assert_eq!(kept.acts[0].id, first);
    // On the way to another home nothing is followed yet.
    let away = ScheduleTerms {
        place_now: Some("o"),
        following: Some(&first),
        ..usual.clone()
    };
    let there = schedule(&tasks, &[], &away);
    assert!(there.acts[0].at >= later(15.0), "{}", there.acts[0].at);
    let bath = room("bath", "h", 12);
    let room = schedule(
        &tasks[..1],
        &[&bath],
        &ScheduleTerms {
            following: Some("bath"),
            ..usual.clone()
        },
    );
    assert!(room.minutes <= schedule(&tasks[..1], &[&bath], &usual).minutes + 1.0);
}

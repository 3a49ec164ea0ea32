//! Cleans that were begun before anybody asked: each opens where it stands, and goes on from there to its end.

use crate::fixtures::{Run, TODAY};
use crate::{Closed, Event, begin, stands};
use jiff::{SignedDuration, Timestamp};
use murlo_base::problem::Problems;
use murlo_brewer::Family;
use murlo_brewer::bath::Recipe;
use murlo_plan::fixtures::with_told;
use murlo_plan::machine::Machine;
use murlo_plan::rehearse::rest;
use murlo_plan::{BegunAlready, Inside, Kind, Plan, PlanOptions, Step, Stood};

fn now() -> Timestamp {
    Timestamp::UNIX_EPOCH + SignedDuration::from_hours(240)
}

fn said(dispenses: u32, minutes_ago: f64, stood: Stood) -> BegunAlready {
    BegunAlready {
        agent_id: "vinegar".to_owned(),
        recipe: Some(Recipe::Ratio {
            agent: 1.0,
            water: 1.0,
        }),
        total: None,
        level: None,
        dispenses,
        minutes_ago,
        stood,
        in_programme: false,
    }
}

/// The rest of it, and what has happened.
fn opened(family: Family, begun: &BegunAlready) -> Result<(Plan, Vec<Event>), Problems> {
    with_told(
        family,
        180.0,
        90,
        |_| {},
        |facts| {
            let mut plan = facts.plan_begun(&PlanOptions::default(), begun)?;
            let events = begin(&mut plan, begun, "c", (now(), TODAY))?;
            Ok((plan, events))
        },
    )
}

fn run_on(family: Family, begun: &BegunAlready) -> Run {
    let (plan, events) = opened(family, begun).unwrap_or_else(|why| panic!("{family:?}: {why}"));
    Run {
        family,
        plan,
        events,
    }
}

/// Whether what is left runs on a brewer that stands as it was said.
fn runs(run: &Run) -> Result<(), String> {
    let plan = run.plan_now();
    let state = run.state();
    let mechanism = plan.mechanism.clone().unwrap();
    let mut machine = Machine::in_use(&mechanism);
    let mut left: Vec<Step> = Vec::new();
    for (step, at) in plan.steps.iter().zip(&state.steps) {
        if at.standing == crate::Standing::Done || at.count > 0 || at.timer.is_some() {
            for act in &step.instructions {
                let _ = machine.follow(act);
            }
            for act in (0..at.count).flat_map(|_| &step.each) {
                let _ = machine.follow(act);
            }
        }
        if at.standing != crate::Standing::Done {
            let mut step = step.clone();
            if at.count > 0 || at.timer.is_some() {
                step.instructions.clear();
            }
            if let murlo_plan::Doing::Count { target } = &mut step.doing {
                *target -= at.count.min(*target);
            }
            left.push(step);
        }
    }
    rest(machine, &left)
        .map(drop)
        .map_err(|fault| format!("{fault:?}"))
}

#[test]
fn each_opens_at_the_step_it_stands_at_and_goes_on_to_its_end() {
    use Family::{CodedCapsule, Combination, Drip, OneCupPod, PodReservoir, PumpCapsule};
    let was = |minutes| Stood::Was { minutes };
    for (family, begun, at) in [
        (PodReservoir, said(0, 3.0, Stood::No), Kind::First),
        (PodReservoir, said(1, 6.0, Stood::No), Kind::Soak),
        (PodReservoir, said(1, 20.0, Stood::Now), Kind::Soak),
        (PodReservoir, said(2, 20.0, Stood::Now), Kind::Soak),
        (PodReservoir, said(1, 40.0, was(25.0)), Kind::Run),
        (PodReservoir, said(2, 40.0, was(25.0)), Kind::Run),
        (PodReservoir, said(3, 40.0, was(25.0)), Kind::Look),
        (PodReservoir, said(3, 15.0, Stood::No), Kind::Look),
        (PodReservoir, said(0, 700.0, Stood::Now), Kind::Soak),
        (OneCupPod, said(0, 3.0, Stood::No), Kind::First),
        (OneCupPod, said(0, 15.0, Stood::Now), Kind::Soak),
        (OneCupPod, said(1, 15.0, Stood::No), Kind::Look),
        (PumpCapsule, said(0, 3.0, Stood::No), Kind::First),
        (PumpCapsule, said(2, 12.0, Stood::Now), Kind::Soak),
        (Drip, said(0, 3.0, Stood::No), Kind::Half),
        (Drip, said(1, 15.0, Stood::Now), Kind::Soak),
        (Drip, said(2, 30.0, Stood::No), Kind::Look),
        (CodedCapsule, said(0, 3.0, Stood::No), Kind::Disc),
        (Combination, said(0, 3.0, Stood::No), Kind::Programme),
    ] {
        let what = format!("{family:?} {begun:?}");
        let mut run = run_on(family, &begun);
        let state = run.state();
        // Where a filter may still be in, it comes out first.
        let after_filter = state.kind == Some(Kind::Filter);
        let kind = match after_filter {
            true => {
                run.until_kind(at);
                Some(at)
            }
            false => state.kind,
        };
        assert_eq!(kind, Some(at), "{what}");
        assert_eq!(state.inside, Inside::Bath, "{what}");
        assert!(
            state.inside_text.to_lowercase().contains("acid"),
            "{}",
            state.inside_text
        );
        assert_eq!(runs(&run_on(family, &begun)), Ok(()), "{what}");
        let mut ended = run.on();
        while ended.closed.is_none() {
            run.answer(&[]);
            ended = run.on();
        }
        assert_eq!(ended.closed, Some(Closed::Finished), "{what}");
        let outcome = ended.outcome.unwrap();
        assert_eq!(outcome.acid_left, None, "{what}");
        assert!((outcome.poured[0].percent - 2.5).abs() < 0.1, "{what}");
        assert!(outcome.bathed.is_some(), "{what}");
    }
}

#[test]
fn a_programme_that_runs_is_waited_for() {
    for family in [Family::CodedCapsule, Family::Combination] {
        let begun = BegunAlready {
            in_programme: true,
            ..said(0, 10.0, Stood::No)
        };
        let run = run_on(family, &begun);
        let state = run.state();
        let timer = state.current.and_then(|i| state.steps[i].timer.clone());
        let started = timer.unwrap().started_at;
        assert_eq!(started, now() - SignedDuration::from_mins(10), "{family:?}");
    }
}

#[test]
fn a_soak_counts_from_when_it_began_and_its_chalk_is_reckoned_by_that() {
    let bathed = |stood, ago| {
        let mut run = run_on(Family::PodReservoir, &said(1, ago, stood));
        let mut ended = run.on();
        while ended.closed.is_none() {
            run.answer(&[]);
            ended = run.on();
        }
        let outcome = ended.outcome.unwrap();
        outcome.poured[0].soaked_min
    };
    assert_eq!(bathed(Stood::Was { minutes: 25.0 }, 60.0), Some(25.0));
    assert_eq!(bathed(Stood::Was { minutes: 90.0 }, 120.0), Some(90.0));
}

#[test]
fn what_nobody_knows_of_the_strength_is_rinsed_as_if_it_were_neat() {
    let known = opened(Family::PodReservoir, &said(1, 10.0, Stood::No))
        .unwrap()
        .0;
    let unknown = BegunAlready {
        recipe: None,
        ..said(1, 10.0, Stood::No)
    };
    let unknown = opened(Family::PodReservoir, &unknown).unwrap().0;
    assert!(unknown.rinse.portions > known.rinse.portions);
    assert!(unknown.reasons[0].starts_with("Begun before Murlo was asked"));
    assert!(unknown.reasons[1].contains("nobody knows"));
    // A third as strong as neat in half a tank is what stands in it and what has run.
    let level = BegunAlready {
        level: Some(0.5),
        ..said(2, 10.0, Stood::No)
    };
    let plan = opened(Family::PodReservoir, &level).unwrap().0;
    let ml = 0.5 * plan.reservoir_ml + 2.0 * plan.dispensing.each.ml;
    assert!(
        (plan.bath.total.ml - ml).abs() < 1.0,
        "{} {ml}",
        plan.bath.total.ml
    );
}

#[test]
fn what_cannot_be_is_refused_by_its_field() {
    let base = || said(1, 10.0, Stood::No);
    for (begun, field) in [
        (
            BegunAlready {
                total: Some("5 gal".into()),
                ..base()
            },
            "begun.total",
        ),
        (
            BegunAlready {
                total: Some("some".into()),
                ..base()
            },
            "begun.total",
        ),
        (
            BegunAlready {
                level: Some(1.2),
                ..base()
            },
            "begun.level",
        ),
        (
            BegunAlready {
                dispenses: 61,
                ..base()
            },
            "begun.dispenses",
        ),
        (
            BegunAlready {
                minutes_ago: -1.0,
                ..base()
            },
            "begun.minutes_ago",
        ),
        (
            BegunAlready {
                minutes_ago: 5000.0,
                ..base()
            },
            "begun.minutes_ago",
        ),
        (
            BegunAlready {
                stood: Stood::Was { minutes: 11.0 },
                ..base()
            },
            "begun.stood.minutes",
        ),
        (
            BegunAlready {
                agent_id: "gin".into(),
                ..base()
            },
            "begun.agent_id",
        ),
        (
            BegunAlready {
                recipe: Some(Recipe::Dose { g_per_l: 20.0 }),
                ..base()
            },
            "begun.recipe",
        ),
    ] {
        let refused = opened(Family::PodReservoir, &begun).unwrap_err();
        assert_eq!(refused.0[0].field, field, "{refused}");
    }
    assert!(
        opened(
            Family::PodReservoir,
            &BegunAlready {
                dispenses: 60,
                ..base()
            }
        )
        .is_ok()
    );
}

#[test]
fn its_events_are_taken_back_one_by_one_like_any_other() {
    let mut run = run_on(Family::PodReservoir, &said(1, 30.0, Stood::Now));
    let before = run.events.len();
    while let Some(event) = run.state().undo {
        run.act(crate::Act::Undone { event }).unwrap();
    }
    assert!(run.events.len() > before);
    let (_, state) = stands(&run.plan, &run.events).unwrap();
    assert_eq!(state.kind, Some(Kind::Mix));
}

#[test]
fn a_soak_began_when_the_last_dispense_was_out() {
    for (ran, ago, began) in [(1, 20.0, 18), (2, 20.0, 16), (3, 20.0, 14)] {
        let run = run_on(Family::PumpCapsule, &said(ran, ago, Stood::Now));
        let state = run.state();
        let timer = state.current.and_then(|i| state.steps[i].timer.clone());
        let started = timer.unwrap().started_at;
        assert_eq!(started, now() - SignedDuration::from_mins(began), "{ran}");
    }
}

#[test]
fn its_id_leaves_room_for_those_of_what_has_happened() {
    let begun = said(2, 20.0, Stood::Now);
    let (plan, _) = opened(Family::PodReservoir, &begun).unwrap();
    for (long, is_taken) in [(50, true), (51, false)] {
        let id = "c".repeat(long);
        let events = begin(&mut plan.clone(), &begun, &id, (now(), TODAY));
        assert_eq!(events.is_ok(), is_taken, "{long}");
        let mut ids = events.into_iter().flatten().map(|event| event.id);
        assert!(ids.all(|id| id.len() <= 64), "{long}");
    }
}

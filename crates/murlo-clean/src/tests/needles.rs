//! Glasses, needles, programmes and rehearsals.

use crate::fixtures::{Run, glass};
use crate::*;
use jiff::SignedDuration;
use murlo_base::problem::Code;
use murlo_brewer::{Family, Healthy, Spot};
use murlo_plan::{Inside, Kind, PlanOptions, RINSE, SOAK, VERIFY, Work};

#[test]
fn the_glass_row_asks_for_the_glass_that_belongs_here() {
    let mut run = Run::new(Family::PodReservoir);
    assert_eq!(run.state().glass_next, GlassOf::Reference);
    run.until("baseline");
    let state = run.act(glass(GlassOf::Reference, Some(0), None)).unwrap();
    assert_eq!(state.glass_next, GlassOf::First);
    assert_eq!(run.until("first").glass_next, GlassOf::Bath);
    let state = run.act(glass(GlassOf::Bath, Some(4), None)).unwrap();
    assert_eq!(state.glasses[1].percent, Some(run.plan.bath.percent));
    // What comes before it has soaked tells nothing of the soak.
    assert_eq!(run.until("run").glass_next, GlassOf::Bath);
    let last = run.last_run();
    assert_eq!(run.until(&last).glass_next, GlassOf::Soaked);
    assert_eq!(run.until(RINSE).glass_next, GlassOf::Final);
    // Looking again replaces what was seen before.
    assert_eq!(
        run.act(glass(GlassOf::Bath, Some(2), None))
            .unwrap()
            .glasses
            .len(),
        2
    );
    for (bad, code) in [
        (glass(GlassOf::First, None, None), Code::Missing),
        (glass(GlassOf::First, Some(6), None), Code::OutOfRange),
        (
            glass(GlassOf::First, None, Some([300.0, 0.0, 0.0])),
            Code::OutOfRange,
        ),
    ] {
        assert_eq!(run.act(bad).unwrap_err().code, code);
    }
}

#[test]
fn needles_are_cleared_place_by_place_timed_and_logged() {
    let options = PlanOptions {
        work: Work::Needles,
        ..PlanOptions::default()
    };
    let mut run = Run::with(Family::PodReservoir, &options);
    run.plan.healthy = Some(Healthy {
        seconds: 25.0,
        streams: 4.0,
    });
    let timed = |step: &str, seconds, streams| Act::Measured {
        step: step.into(),
        seconds,
        streams,
    };
    let state = run.act(timed("before", Some(48.0), Some(1.0))).unwrap();
    assert!(state.flow_text.unwrap().ends_with("worse than it should."));
    let state = run.until("needles");
    assert_eq!(
        state.next.unwrap().label,
        "Lid needle: hole 1 of 3 is clear"
    );
    run.act(Act::Tool {
        tool: ClearingTool::Wood,
    })
    .unwrap();
    assert!(run.state().tool_text.unwrap().starts_with("Not advised"));
    run.act(Act::Tool {
        tool: ClearingTool::Clip,
    })
    .unwrap();
    for _ in 0..5 {
        let next = run.state().next.unwrap().act;
        run.act(next).unwrap();
    }
    let state = run.state();
    assert_eq!(state.clear.len(), 5);
    assert!(state.others.iter().any(|o| o.label == "Leave 1 and go on"));
    let wrong = Act::Cleared {
        step: "needles".into(),
        spot: Spot {
            needle: "lid".into(),
            hole: Some(9),
        },
        clear: true,
    };
    assert_eq!(run.act(wrong).unwrap_err().code, Code::UnknownId);
    run.act(Act::Done {
        step: "needles".into(),
    })
    .unwrap();
    run.until("after");
    // Still poor: back to the needles once; poor again is told, and goes on.
    let state = run.act(timed("after", Some(60.0), None)).unwrap();
    assert_eq!(state.verdict, Some(Verdict::ClearAgain));
    let state = run.follow();
    assert_eq!(state.clear.len(), 0);
    run.until("needles-2");
    for _ in 0..5 {
        let next = run.state().next.unwrap().act;
        run.act(next).unwrap();
    }
    run.act(Act::Done {
        step: "needles-2".into(),
    })
    .unwrap();
    run.until("after-2");
    let state = run.act(timed("after-2", Some(60.0), None)).unwrap();
    assert_eq!(state.verdict, None);
    let state = run.act(timed("after-2", Some(24.0), Some(4.0))).unwrap();
    assert!(state.flow_text.unwrap().ends_with("flows as it should."));
    assert_eq!(
        run.act(timed("after-2", None, None)).unwrap_err().code,
        Code::Missing
    );
    assert_eq!(
        run.act(timed("after-2", Some(0.0), None))
            .unwrap_err()
            .field,
        "act.seconds"
    );
    let outcome = run.on().outcome.unwrap();
    assert_eq!(outcome.work, Work::Needles);
    assert_eq!(
        outcome.needles.unwrap(),
        "5 of 6 places cleared with a paper clip; before 48 s, 1 stream; after 24 s, 4 streams"
    );
}

#[test]
fn a_poor_stream_after_the_bath_sends_back_to_the_needles_once() {
    let mut run = Run::new(Family::PodReservoir);
    run.plan.healthy = Some(Healthy {
        seconds: 25.0,
        streams: 4.0,
    });
    run.on();
    run.act(Act::Measured {
        step: VERIFY.into(),
        seconds: Some(26.0),
        streams: Some(2.0),
    })
    .unwrap();
    assert_eq!(run.answer(&[]).verdict, Some(Verdict::ClearAgain));
    let state = run.follow();
    assert_eq!(
        (state.step.unwrap().id.as_str(), state.clear.len()),
        ("cool-2", 0),
        "cooled and unplugged again before hands go in"
    );
    assert!(run.on().next.is_none(), "straight back to the questions");
    assert_eq!(run.answer(&[]).verdict, Some(Verdict::Good));
}

#[test]
fn where_nothing_comes_no_cup_is_timed_and_nothing_has_to_cool() {
    let options = PlanOptions {
        work: Work::Needles,
        ..PlanOptions::default()
    };
    let mut run = Run::with(Family::PodReservoir, &options);
    let choice = |state: &State, label: &str| {
        let mut others = state.others.iter();
        others.find(|c| c.label == label).cloned()
    };
    let nothing = choice(&run.state(), "Nothing comes").unwrap();
    let state = run.act(nothing.act).unwrap();
    assert_eq!(state.kind, Some(Kind::Ready), "hands go in at once");
    // Judged without a healthy cup: as often as it takes.
    for _ in 0..2 {
        let state = run.until_kind(Kind::After);
        assert!(state.hint.unwrap().starts_with("Does it flow now"));
        let again = choice(&run.state(), "It hardly flows: clear again").unwrap();
        run.act(again.act).unwrap();
    }
    let outcome = run.on().outcome.unwrap();
    assert!(
        outcome
            .checks
            .iter()
            .any(|line| line == "Left out: time a cup as it is"),
        "{:?}",
        outcome.checks
    );
    // The first glass of a whole clean likewise.
    let mut whole = Run::new(Family::PodReservoir);
    let out = choice(&whole.state(), "Leave this out").unwrap();
    assert_eq!(whole.act(out.act).unwrap().kind, Some(Kind::Ready));
    let ready = whole.state().next.unwrap().act;
    assert_ne!(whole.act(ready).unwrap().kind, Some(Kind::Cool));
}

#[test]
fn while_it_soaks_the_other_parts_are_washed_or_else_afterwards() {
    let fits = |run: &mut Run| {
        run.until(SOAK);
        let next = run.state().next.unwrap().act;
        run.act(next).unwrap().meanwhile
    };
    let mut early = Run::new(Family::PodReservoir);
    assert!(early.state().meanwhile.is_empty());
    let done = |step: &str| Act::Done { step: step.into() };
    // While the needles cool, the body is wiped.
    early.until(Kind::Cool.id());
    let cools = early.state().next.unwrap().act;
    assert_eq!(early.act(cools).unwrap().meanwhile, ["filter", "body"]);
    let state = early.act(done("body")).unwrap();
    assert_eq!(state.meanwhile, ["filter"]);
    assert_eq!(state.step.unwrap().id, Kind::Cool.id());
    assert_eq!(fits(&mut early), ["others"]);
    let last = early.last_run();
    early.until(&last);
    assert_eq!(
        early.act(done("others")).unwrap_err().code,
        Code::DoesNotFit
    );
    // What nobody did in time comes before the washing.
    early.until("others");
    early.act(done("others")).unwrap();
    assert_eq!(early.state().step.unwrap().id, "wash");
    let fitted = early
        .plan
        .ribbon
        .stretches
        .iter()
        .filter(|s| s.during.is_some());
    assert_eq!(fitted.count(), 3);
}

#[test]
fn the_machines_own_minutes_set_the_clock_and_a_timed_programme_is_learned() {
    let mut run = Run::new(Family::CodedCapsule);
    run.until(Kind::Programme.id());
    let start = run.state().next.unwrap().act;
    run.act(start).unwrap();
    let left = |minutes| Act::TimeLeft {
        step: Kind::Programme.id().into(),
        minutes,
    };
    let state = run.act(left(7.0)).unwrap();
    let timer = state.steps.iter().find_map(|s| s.timer.clone()).unwrap();
    // A minute had passed since the start.
    assert_eq!(
        timer.ends_at.duration_since(timer.started_at).as_secs(),
        8 * 60
    );
    assert_eq!(run.act(left(-1.0)).unwrap_err().field, "act.minutes");
    for n in 0..9 {
        run.act(Act::Noted {
            text: format!("minute {n}"),
        })
        .unwrap();
    }
    run.on();
    run.answer(&[]);
    assert_eq!(run.on().outcome.unwrap().programme_min, Some(11.0));
}

#[test]
fn a_programme_that_ended_far_from_its_time_was_forgotten_and_teaches_nothing() {
    // Planned are twenty minutes; acts come a minute apart.
    for (minutes, learned) in [(5, false), (6, true), (50, true), (51, false)] {
        let mut run = Run::new(Family::CodedCapsule);
        run.until(Kind::Programme.id());
        let start = run.state().next.unwrap().act;
        run.act(start).unwrap();
        let at = run.events.last().unwrap().at + SignedDuration::from_mins(minutes);
        let step = Kind::Programme.id().into();
        run.act_at(at, Act::Done { step });
        run.on();
        run.answer(&[]);
        let timed = run.on().outcome.unwrap().programme_min;
        assert_eq!(timed, learned.then_some(minutes as f64), "{minutes}");
    }
}

#[test]
fn a_rehearsal_has_no_acid_and_teaches_nothing_about_chalk() {
    for family in Family::ALL {
        let options = PlanOptions {
            work: Work::Rehearsal,
            ..PlanOptions::default()
        };
        let mut run = Run::with(family, &options);
        let steps = &run.plan.steps;
        assert!(
            steps.iter().all(|s| s.inside == Inside::Water),
            "{family:?}"
        );
        assert!(
            steps
                .iter()
                .all(|s| !s.what.iter().any(|w| w.contains("vinegar")))
        );
        let outcome = run.on().outcome.unwrap();
        assert_eq!((outcome.work, outcome.bathed), (Work::Rehearsal, None));
    }
}

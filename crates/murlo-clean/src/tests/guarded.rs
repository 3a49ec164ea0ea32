//! What can hardly have happened, what was lost count of, and acid that stays.

use crate::fixtures::{Run, answers_with, glass};
use crate::*;
use jiff::civil::date;
use jiff::{SignedDuration, Timestamp};
use murlo_base::problem::Code;
use murlo_base::text;
use murlo_brewer::{Family, ModeEnds, Needle, Survives};
use murlo_plan::fixtures::{paced, plan_of};
use murlo_plan::pace::{Pace, PaceSeen};
use murlo_plan::{
    Doing, Inside, Kind, PlanOptions, RINSE, SOAK,
    answers::{AnswerId, QuestionId},
};

#[test]
fn a_wait_that_has_hardly_begun_is_asked_about_and_logged_as_it_was() {
    let mut run = Run::new(Family::PodReservoir);
    let start = run.until(SOAK).next.unwrap().act;
    let state = run.act(start).unwrap();
    let soak = state.steps.iter().find(|s| s.id == SOAK).unwrap();
    let timer = soak.timer.clone().unwrap();
    let next = state.next.unwrap();
    let ask = next.ask.unwrap();
    assert!(
        ask.text
            .starts_with(&text::minutes(run.plan.chosen.soak_minutes)),
        "{}",
        ask.text
    );
    // Asked until nine tenths of it are over.
    let share = ask
        .until
        .unwrap()
        .duration_since(timer.started_at)
        .as_secs_f64()
        / timer.ends_at.duration_since(timer.started_at).as_secs_f64();
    assert!((share - 0.9).abs() < 1e-3);
    assert_eq!(state.finish.unwrap().act, next.act);
    run.at_once(next.act);
    run.until("verify");
    let state = run.answer(&[QuestionId::Clear]);
    assert!(state.verdict_text.unwrap().contains("had no soak"));
    run.act(Act::Overruled).unwrap();
    let text = run.on().outcome.unwrap().text;
    assert!(text.ends_with(", hardly soaked"), "{text}");
}

#[test]
fn a_soak_counts_as_long_as_it_was() {
    // Just below, at and above what counts as a soak, in the time the test's acts take.
    for (minutes, soaked, told) in [
        (4, false, "hardly soaked"),
        (5, true, "5 min"),
        (30, true, "30 min"),
    ] {
        let mut run = Run::new(Family::PodReservoir);
        let start = run.until(SOAK).next.unwrap().act;
        run.act(start).unwrap();
        let at = run.events.last().unwrap().at + SignedDuration::from_mins(minutes);
        run.act_at(at, Act::Done { step: SOAK.into() });
        run.until("verify");
        let state = run.answer(&[QuestionId::Clear]);
        let no_soak = state.verdict_text.unwrap().contains("had no soak");
        assert_eq!(no_soak, !soaked, "{minutes} min");
        run.act(Act::Overruled).unwrap();
        let text = run.on().outcome.unwrap().text;
        assert!(text.contains(told), "{minutes} min: {text}");
    }
}

#[test]
fn a_rinse_ended_at_nought_leaves_the_brewer_marked_until_it_is_rinsed() {
    for family in Family::ALL {
        let mut run = Run::new(family);
        let finish = run.until(RINSE).finish.unwrap();
        let ask = finish.ask.unwrap();
        assert!(
            ask.text.starts_with("0 of ") && ask.text.contains("times what people notice"),
            "{}",
            ask.text
        );
        run.act(finish.act).unwrap();
        // What may wait until after the rinse comes first.
        run.on();
        assert_eq!(
            run.answer(&[]).verdict,
            Some(Verdict::RinseMore),
            "{family:?}"
        );
        run.act(Act::Overruled).unwrap();
        let back = run.state().finish.unwrap().act;
        let state = run.act(back).unwrap();
        assert_eq!(state.inside, Inside::Traces);
        assert!(
            state.inside_text.starts_with("ACID INSIDE"),
            "{}",
            state.inside_text
        );
        let end = state.others.iter().find(|o| o.ask.is_some()).unwrap();
        let state = run.act(end.act.clone()).unwrap();
        assert!(state.acid_left.is_some());
        let outcome = state.outcome.unwrap();
        assert!(outcome.acid_left.is_some());
        // Opened again, the one next act is to rinse, and then it is clear.
        let state = run.act(Act::Reopened).unwrap();
        assert_eq!(state.next.as_ref().unwrap().label, "Rinse on first");
        let state = run.act(state.next.unwrap().act).unwrap();
        assert_eq!(state.kind, Some(Kind::Wash));
        let mechanism = run.plan_now().mechanism.unwrap();
        let (plan, done) = (run.plan_now(), state.current.unwrap());
        let machine =
            murlo_plan::rehearse::stands_after(&mechanism, &plan, (0..done).map(|i| (i, 0)));
        let rest = murlo_plan::rehearse::rest(machine, &plan.steps[done..]);
        assert!(rest.is_ok(), "{family:?}: {rest:?}");
        assert_eq!(run.on().kind, Some(Kind::Verify));
        run.answer(&[]);
        let state = run.on();
        assert_eq!(
            (state.closed, &state.acid_left),
            (Some(Closed::Finished), &None),
            "{family:?}"
        );
        assert_eq!(state.outcome.unwrap().acid_left, None);
    }
}

#[test]
fn somebody_may_vouch_by_name_for_a_brewer_with_acid_inside() {
    let mut run = Run::new(Family::Drip);
    let vouch = |by: &str| Act::Vouched {
        by: by.into(),
        outcome: None,
    };
    assert_eq!(run.act(vouch("Ola")).unwrap_err().code, Code::DoesNotFit);
    let end = run.until(RINSE).finish.unwrap().act;
    run.act(end).unwrap();
    run.answer(&[]);
    run.act(Act::Overruled).unwrap();
    let back = run.state().finish.unwrap().act;
    run.act(back).unwrap();
    run.act(Act::Finished { outcome: None }).unwrap();
    assert_eq!(run.act(vouch("  ")).unwrap_err().field, "act.by");
    let state = run.act(vouch(" Ola ")).unwrap();
    assert_eq!(
        (state.closed, state.acid_left),
        (Some(Closed::Finished), None)
    );
    assert_eq!(state.outcome.unwrap().acid_left, None);
    assert_eq!(run.act(vouch("Ola")).unwrap_err().code, Code::DoesNotFit);
}

#[test]
fn a_clean_given_up_with_acid_inside_says_so_and_one_without_does_not() {
    for (at, acid) in [("baseline", false), ("soak", true), ("rinse", true)] {
        let mut run = Run::new(Family::PodReservoir);
        run.until(at);
        let state = run.act(Act::Paused).unwrap();
        let give_up = state.others.last().unwrap().clone();
        assert_eq!(give_up.ask.is_some(), acid, "{at}");
        let state = run.act(give_up.act).unwrap();
        assert_eq!(state.acid_left.is_some(), acid, "{at}");
        let Act::Abandoned { acid: left, .. } = &run.events.last().unwrap().act else {
            panic!("given up");
        };
        assert_eq!(left.is_some(), acid, "{at}");
    }
}

#[test]
fn a_count_that_can_hardly_be_is_asked_about_and_teaches_nothing() {
    let per_fill = Run::new(Family::PodReservoir).plan.rinse.per_fill;
    assert_eq!(per_fill, 4);
    for (came, asked) in [(1, true), (2, false), (4, false), (8, false), (9, true)] {
        let mut run = Run::new(Family::PodReservoir);
        run.until(RINSE);
        for _ in 0..came {
            run.act(Act::Counted { step: RINSE.into() }).unwrap();
        }
        let state = run.state();
        let wants = state
            .others
            .iter()
            .find(|o| matches!(o.act, Act::WantsWater { .. }))
            .unwrap();
        assert_eq!(wants.ask.is_some(), asked, "{came} of {per_fill}");
        assert!(state.finish.unwrap().act != wants.act, "no key says it");
        run.act(wants.act.clone()).unwrap();
        run.on();
        run.answer(&[]);
        let outcome = run.on().outcome.unwrap();
        assert_eq!(
            outcome.fill_counted.is_some(),
            !asked,
            "{came} of {per_fill}"
        );
    }
}

/// Somebody who takes `times` as long as usual, with what the household knows of that pace.
fn at_a_pace(family: Family, times: f64, pace: &Pace) -> (Outcome, f64, f64) {
    let options = PlanOptions::default();
    let mut run = Run {
        family,
        plan: paced(family, &options, pace).unwrap(),
        events: Vec::new(),
    };
    let start = Timestamp::UNIX_EPOCH;
    let (mut at, mut forecast) = (start, None);
    loop {
        let state = run.state();
        let plan = run.plan_now();
        if state.closed.is_some() {
            let outcome = state.outcome.unwrap();
            let took = at.duration_since(start).as_secs_f64();
            let foreseen: Timestamp = forecast.unwrap();
            return (outcome, took, foreseen.duration_since(start).as_secs_f64());
        }
        forecast = forecast.or(state.done_about);
        let step = state.current.map(|i| &plan.steps[i]);
        let (act, minutes) = match (state.next, step) {
            (Some(next), Some(step)) => {
                let one = murlo_plan::minutes::one_of(step).unwrap();
                let n = match &step.doing {
                    Doing::Clear { needles } => needles.iter().flat_map(Needle::spots).count() + 1,
                    _ => 1,
                };
                let each_free = match step.doing {
                    Doing::Count { target } => step.hands_free_min / f64::from(target),
                    _ => step.hands_free_min,
                };
                let works = if step.hands_free_min > 0.0 {
                    one.hands
                } else {
                    one.all()
                };
                let minutes = match next.act {
                    Act::Started { .. } => one.hands * times,
                    Act::Done { .. } if step.is_wait() => 0.0,
                    Act::Done { .. } if matches!(step.doing, Doing::Count { .. }) => 0.1,
                    _ => works * times / n as f64 + each_free,
                };
                (next.act, minutes)
            }
            (Some(next), None) => (next.act, 0.5),
            (None, Some(step)) if step.is(Kind::Look) => {
                let answers = [(QuestionId::Showed.to_owned(), AnswerId::Some.to_owned())].into();
                let step = step.id.clone();
                (Act::Answered { step, answers }, 0.5 * times)
            }
            (None, step) => {
                let step = step.unwrap().id.clone();
                let answers = answers_with(&[], &[]);
                (Act::Answered { step, answers }, 2.7 * times)
            }
        };
        let timer = state.steps.iter().find_map(|s| match &act {
            Act::Done { step } if s.id == *step => s.timer.clone(),
            _ => None,
        });
        at += SignedDuration::from_secs_f64(minutes * 60.0);
        at = timer.map_or(at, |timer| at.max(timer.ends_at));
        run.act_at(at, act);
    }
}

#[test]
fn after_three_cleans_the_end_is_foreseen_within_a_fifth() {
    for (family, times) in [
        (Family::PodReservoir, 1.6),
        (Family::PodReservoir, 0.6),
        (Family::Drip, 1.6),
        (Family::OneCupPod, 2.0),
    ] {
        let mut seen = Vec::new();
        let mut misses = Vec::new();
        for n in 0..4 {
            let pace = Pace::learn(&seen, family, None);
            let (outcome, took, foreseen) = at_a_pace(family, times, &pace);
            misses.push((foreseen / took - 1.0).abs());
            seen.push(PaceSeen {
                family,
                day: date(2026, 8, n + 1),
                took: outcome.took,
            });
        }
        assert!(misses[3] <= 0.2, "{family:?} × {times}: {misses:?}");
        assert!(misses[3] <= misses[0], "{family:?} × {times}: {misses:?}");
    }
}

#[test]
fn called_away_teaches_no_pace() {
    let mut run = Run::new(Family::PodReservoir);
    run.until("parts");
    let at = run.events.last().unwrap().at;
    run.act_at(at + SignedDuration::from_mins(1), Act::Paused);
    run.act_at(at + SignedDuration::from_mins(40), Act::Resumed);
    let done = Act::Done {
        step: "parts".into(),
    };
    run.act_at(at + SignedDuration::from_mins(41), done);
    run.on();
    run.answer(&[]);
    let took = run.on().outcome.unwrap().took;
    assert!(took.iter().all(|t| t.kind != Kind::Parts), "{took:?}");
    assert!(took.iter().any(|t| t.kind == Kind::Needles));
}

#[test]
fn a_lost_count_is_set_to_what_is_sure_and_undone_like_any_act() {
    let mut run = Run::new(Family::PodReservoir);
    run.until(RINSE);
    let recounted = |step: &str, count| Act::Recounted {
        step: step.into(),
        count,
    };
    for _ in 0..3 {
        run.act(Act::Counted { step: RINSE.into() }).unwrap();
    }
    run.act(Act::WantsWater { step: RINSE.into() }).unwrap();
    let rinse = |state: &State| state.steps.iter().find(|s| s.id == RINSE).unwrap().count;
    let state = run.act(recounted(RINSE, 1)).unwrap();
    assert_eq!(rinse(&state), 1);
    let state = run
        .act(Act::Undone {
            event: state.undo.unwrap(),
        })
        .unwrap();
    assert_eq!(rinse(&state), 3);
    for wrong in [1000, -1] {
        let problem = run.act(recounted(RINSE, wrong)).unwrap_err();
        assert_eq!(
            (problem.field.as_str(), problem.code),
            ("act.count", Code::OutOfRange)
        );
    }
    assert_eq!(
        run.act(recounted("verify", 1)).unwrap_err().code,
        Code::DoesNotFit
    );
}

#[test]
fn late_means_something_else_for_each_bath_and_nothing_where_nothing_waits() {
    let late = |family, agent: &str| {
        let options = PlanOptions {
            agent_id: Some(agent.into()),
            ..PlanOptions::default()
        };
        let mut run = Run::with(family, &options);
        assert_eq!(run.state().late_text, None);
        let wait = run
            .plan
            .steps
            .iter()
            .find(|s| matches!(s.doing, Doing::Wait { .. }) && !s.is(Kind::Cool))
            .unwrap()
            .id
            .clone();
        (run.until(&wait).late_text.unwrap(), run.plan)
    };
    assert_eq!(
        late(Family::PodReservoir, "vinegar").0,
        "A longer soak does no harm."
    );
    assert!(
        late(Family::CodedCapsule, "vinegar")
            .0
            .contains("Empty the vessel")
    );
    let (text, plan) = late(Family::PodReservoir, "citric");
    let drops = !plan.bath.warnings.is_empty();
    assert_eq!(text.contains("sludge"), drops, "{:?}", plan.bath.warnings);
}

#[test]
fn without_a_soak_there_is_no_such_step_and_its_end_is_still_looked_at() {
    let none = PlanOptions {
        soak_minutes: Some(0.0),
        ..PlanOptions::default()
    };
    let mut run = Run::with(Family::PodReservoir, &none);
    assert!(run.plan.steps.iter().all(|s| !s.is(Kind::Soak)));
    run.until("baseline");
    run.act(glass(GlassOf::Reference, Some(0), None)).unwrap();
    assert_eq!(run.until("first").glass_next, GlassOf::Bath);
    assert_eq!(run.until("run").glass_next, GlassOf::Soaked);
    run.until("look");
    run.look(AnswerId::Nothing, AnswerId::Good);
    run.on();
    run.answer(&[]);
    let outcome = run.on().outcome.unwrap();
    assert!(!outcome.text.contains("soaked"), "{}", outcome.text);
}

#[test]
fn what_another_device_counted_meanwhile_counts_once() {
    let event = |id: &str, act: Act| Event {
        id: id.to_owned(),
        at: Timestamp::UNIX_EPOCH,
        device_at: None,
        by: None,
        act,
    };
    let counted = |step: &str| Act::Counted {
        step: step.to_owned(),
    };
    let undone = Act::Undone {
        event: "a".to_owned(),
    };
    let noted = Act::Noted {
        text: "hot".to_owned(),
    };
    for (history, act, seen, fits) in [
        (vec![counted("run")], counted("run"), Some(1), true),
        (vec![counted("run")], counted("run"), Some(0), false),
        (vec![counted("run")], counted("run"), None, true),
        (vec![counted("run")], counted("run"), Some(9), true),
        (vec![counted("run")], counted("rinse"), Some(0), true),
        (vec![counted("run"), undone], counted("run"), Some(0), true),
        (vec![noted.clone()], counted("run"), Some(0), true),
        (vec![noted.clone()], noted, Some(0), true),
        (
            vec![counted("run"), counted("run")],
            counted("run"),
            Some(1),
            false,
        ),
    ] {
        let ids = ["a", "b"];
        let history: Vec<_> = history
            .into_iter()
            .zip(ids)
            .map(|(act, id)| event(id, act))
            .collect();
        let got = not_counted_meanwhile(&history, &act, seen);
        assert_eq!(got.is_ok(), fits, "{history:?} {act:?} {seen:?}");
    }
}

#[test]
fn what_is_done_meanwhile_pulls_the_plug_when_it_is_done() {
    // Wiped while it soaks, it is unplugged from then on, until the bath is run on.
    let mut run = Run::new(Family::Drip);
    let start = run.until(SOAK).next.unwrap().act;
    assert!(run.act(start).unwrap().plugged);
    let wiped = Act::Done {
        step: Kind::Body.id().into(),
    };
    let state = run.act(wiped).unwrap();
    assert!(!state.plugged && state.inside_text.ends_with("Unplugged."));
    let state = run.until(Kind::Look.id());
    assert!(state.plugged, "the rest was brewed: {}", state.inside_text);
    // Wiped only afterwards, it is unplugged only then.
    let mut late = Run::new(Family::Drip);
    assert!(late.until(Kind::Look.id()).plugged);
    late.until(Kind::Wash.id());
    assert!(!late.state().plugged);
}

#[test]
fn a_soak_is_forgotten_hours_after_its_end_however_long_it_was_planned() {
    for minutes in [20.0, 60.0] {
        let options = PlanOptions {
            soak_minutes: Some(minutes),
            ..PlanOptions::default()
        };
        let mut run = Run::with(Family::PodReservoir, &options);
        assert_eq!(run.state().forgotten, None);
        let start = run.until(SOAK).next.unwrap().act;
        let state = run.act(start).unwrap();
        let soak = state.steps.iter().find(|s| s.id == SOAK).unwrap();
        let ends = soak.timer.as_ref().unwrap().ends_at;
        let forgotten = state.forgotten.unwrap();
        assert_eq!(forgotten.at, ends + SignedDuration::from_hours(5));
        assert!(forgotten.text.contains("rinse one portion more"));
        assert_eq!(run.until(Kind::Look.id()).forgotten, None);
    }
}

#[test]
fn a_mode_ends_with_what_was_told_of_it() {
    // How it stands after its first fill has run through in the rinse, and after the last look.
    for (ends, after_the_fill, after_the_look) in [
        (Some(ModeEnds::WantsWater), false, false),
        (Some(ModeEnds::OneFill), false, false),
        (Some(ModeEnds::Light), true, false),
        (None, true, true),
    ] {
        let mut run = Run::new(Family::PodReservoir);
        run.plan = plan_of(Family::PodReservoir, |draft| {
            draft.mechanics.mode = Some(true);
            draft.mechanics.survives = Some(Survives::Waiting);
            draft.mechanics.ends = ends;
        });
        run.until(RINSE);
        assert!(run.state().in_mode, "{ends:?}");
        for act in [
            Act::Counted { step: RINSE.into() },
            Act::WantsWater { step: RINSE.into() },
        ] {
            run.act(act).unwrap();
        }
        assert_eq!(run.state().in_mode, after_the_fill, "{ends:?}");
        run.until(Kind::Verify.id());
        run.answer(&[]);
        assert_eq!(run.state().in_mode, after_the_look, "{ends:?}");
    }
}

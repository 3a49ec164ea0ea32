//! The short way out of a bath, wherever it stands; and what a clean that was given up keeps.

use crate::fixtures::Run;
use crate::*;
use murlo_brewer::Family;
use murlo_plan::answers::QuestionId;
use murlo_plan::machine::Harm;
use murlo_plan::rehearse::{rest, stands_after};
use murlo_plan::{Inside, Kind, PlanOptions, Wish};

/// Steps from the first bath to the verdict of a family's usual clean.
fn with_bath(run: &Run) -> Vec<String> {
    let steps = run.plan.steps.iter();
    let after = steps.skip_while(|s| !s.is(Kind::Mix)).skip(1);
    let main = after.filter(|s| s.during.is_none() && !s.is(Kind::PutBack));
    main.map(|s| s.id.clone()).collect()
}

/// The clean of a family that has come to `step`, and, where it is counted or waited for, has begun it.
fn at(family: Family, step: &str, begins: bool) -> Run {
    let mut run = Run::new(family);
    let state = run.until(step);
    let begin = state.next.map(|next| next.act);
    if let (true, Some(act @ (Act::Started { .. } | Act::Counted { .. }))) = (begins, begin) {
        run.act(act).unwrap();
    }
    run
}

fn way_out(run: &mut Run) -> Option<Choice> {
    let others = run.act(Act::Paused).unwrap().others;
    let wish = Wish::Rinse;
    let stage = None;
    let act = Act::Planned { wish, stage };
    others.into_iter().find(|choice| choice.act == act)
}

#[test]
fn whatever_is_inside_is_rinsed_out_from_any_step_and_harms_nobody() {
    for family in Family::ALL {
        for step in with_bath(&Run::new(family)) {
            for begins in [false, true] {
                let mut run = at(family, &step, begins);
                let what = format!("{family:?}, {step}, begun {begins}");
                let has_acid = run.state().inside != Inside::Water;
                let Some(choice) = way_out(&mut run) else {
                    assert!(
                        !has_acid || step == "put-back" || step == "verify",
                        "{what}"
                    );
                    continue;
                };
                let state = run.act(choice.act).unwrap();
                assert!(!state.paused, "{what}");
                assert!(state.step.as_ref().unwrap().is(Kind::Wash), "{what}");
                assert_ne!(state.inside, Inside::Water, "{what}");
                assert!(state.inside_text.contains("Do not brew"), "{what}");
                let plan = run.plan_now();
                let now = state.current.unwrap();
                let mechanism = plan.mechanism.clone().unwrap();
                let followed = (0..now).map(|i| (i, state.steps[i].count));
                let mut begun = stands_after(&mechanism, &plan, followed);
                begun.give_up_bath();
                let harm = rest(begun, &plan.steps[now..])
                    .err()
                    .map(|f| (f.harm, f.text));
                // What is given up did not have to go through every outlet.
                let is_fine = |harm| harm == Harm::OutletLeftOut;
                assert!(
                    harm.as_ref().is_none_or(|(harm, _)| is_fine(*harm)),
                    "{what}: {harm:?}"
                );
                let ended = run.on();
                let ended = if ended.closed.is_none() {
                    run.answer(&[]);
                    run.on()
                } else {
                    ended
                };
                assert_eq!(ended.closed, Some(Closed::Finished), "{what}");
                assert_eq!(ended.outcome.unwrap().acid_left, None, "{what}");
            }
        }
    }
}

#[test]
fn what_was_given_up_keeps_its_bath_its_agent_and_since_when_acid_stands() {
    let begins_with = Run::new(Family::PodReservoir).plan.steps[0].id.clone();
    for (step, begins, rounds, text) in [
        (
            begins_with.as_str(),
            false,
            0,
            "Given up: no bath was poured",
        ),
        ("baseline", false, 0, "Given up: no bath was poured"),
        (
            "first",
            false,
            1,
            "Given up: White vinegar, 2.5 %; 0 rinses",
        ),
        ("soak", true, 1, "Given up: White vinegar, 2.5 %; 0 rinses"),
        (
            "rinse",
            true,
            1,
            "Given up: White vinegar, 2.5 %, soaked 20 min; 1 rinse",
        ),
    ] {
        let mut run = at(Family::PodReservoir, step, begins);
        run.act(Act::Paused).unwrap();
        let state = run.act(Act::give_up()).unwrap();
        let outcome = state.outcome.unwrap();
        assert!(outcome.given_up && state.closed == Some(Closed::Abandoned));
        assert_eq!(outcome.rounds, rounds, "{step}");
        assert_eq!(outcome.took_agents().len() as u32, rounds, "{step}");
        assert_eq!(outcome.bathed.is_some(), rounds > 0, "{step}");
        let poured = run
            .events
            .iter()
            .find(|event| matches!(&event.act, Act::Done { step } if step == "mix"));
        let since = outcome.acid_left.as_ref().and_then(|acid| acid.since);
        assert_eq!(since, poured.map(|event| event.at), "{step}");
        assert_eq!(outcome.line(), text);
        // Before the first glass the parts were washed.
        assert_eq!(outcome.did_nothing(), step == begins_with, "{step}");
    }
}

#[test]
fn needles_count_as_cleared_in_a_clean_that_was_given_up_only_after_their_step() {
    for (step, cleared) in [("needles", false), ("mix", true)] {
        let options = PlanOptions::default();
        let mut run = Run::with(Family::PodReservoir, &options);
        run.until(step);
        run.act(Act::Paused).unwrap();
        let outcome = run.act(Act::give_up()).unwrap().outcome.unwrap();
        assert_eq!(outcome.needles.is_some(), cleared, "{step}");
        let told = outcome.told_besides("c", "b", "main");
        let tells = told
            .iter()
            .any(|entry| entry.what == murlo_brewer::journal::What::NeedlesCleared);
        assert_eq!(tells, cleared, "{step}");
    }
}

#[test]
fn a_clean_that_ended_with_acid_is_opened_again_to_rinse_it_out() {
    let mut run = at(Family::PodReservoir, "soak", true);
    run.act(Act::Paused).unwrap();
    let state = run.act(Act::give_up()).unwrap();
    assert!(state.acid_left.is_some());
    let wish = Act::Planned {
        wish: Wish::Rinse,
        stage: None,
    };
    assert!(run.act(wish.clone()).is_err(), "it is closed");
    run.act(Act::Reopened).unwrap();
    let state = run.act(wish).unwrap();
    assert!(state.step.unwrap().is(Kind::Wash));
    run.on();
    run.answer(&[]);
    let outcome = run.on().outcome.unwrap();
    assert!(!outcome.given_up && outcome.acid_left.is_none());
    assert!(outcome.bathed.is_some(), "its soak was a soak");
}

#[test]
fn a_count_alone_does_not_clear_a_brewer_and_a_nose_that_noticed_never_does() {
    // Rinsed to the count, and given up before anybody has smelled; smelled good; smelled bad, and gone on all the same.
    let marked = |smells: Option<bool>| {
        let mut run = Run::new(Family::PodReservoir);
        run.on();
        if let Some(smells) = smells {
            run.answer(if smells { &[QuestionId::Smell] } else { &[] });
        }
        if smells == Some(true) {
            let state = run.act(Act::Overruled).unwrap();
            let hint = state.hint.unwrap_or_default();
            assert!(
                hint.contains("noticed acid") && hint.contains("the note on"),
                "{hint}"
            );
        }
        run.act(Act::Paused).unwrap();
        run.act(Act::give_up()).unwrap().acid_left
    };
    assert!(marked(None).is_some());
    assert_eq!(marked(Some(false)), None);
    assert!(marked(Some(true)).is_some());
}

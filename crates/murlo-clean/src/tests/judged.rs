//! What is seen, and the verdict it comes to.

use crate::fixtures::{Run, answers_with, glass};
use crate::*;
use murlo_base::problem::Code;
use murlo_brewer::Family;
use murlo_chalk::belief::{Brought, Checks};
use murlo_chalk::scale::FailedResult;
use murlo_plan::{
    RINSE,
    answers::{AnswerId, QuestionId},
};

#[test]
fn a_measured_difference_outweighs_a_tired_eye_and_no_better_means_stronger() {
    let mut run = Run::new(Family::PodReservoir);
    run.on();
    run.act(glass(GlassOf::Final, None, Some([210.0, 190.0, 150.0])))
        .unwrap();
    let state = run.answer(&[]);
    assert_eq!(state.verdict, Some(Verdict::BathAgain));
    let text = state.verdict_text.unwrap();
    assert!(text.contains("measures ΔE"), "{text}");
    run.follow();
    run.on();
    run.act(glass(GlassOf::Final, None, Some([210.0, 190.0, 151.0])))
        .unwrap();
    let text = run.answer(&[]).verdict_text.unwrap();
    assert!(text.contains("no better than the last"), "{text}");
    run.follow();
    run.on();
    let state = run
        .act(glass(GlassOf::Final, Some(0), Some([229.0, 230.0, 225.0])))
        .unwrap();
    let last = state.glasses.last().unwrap();
    assert_eq!((last.label.as_str(), last.round), ("Last rinse, bath 3", 3));
    assert!(
        last.text.starts_with("clear, measured the same"),
        "{}",
        last.text
    );
    assert_eq!(run.answer(&[]).verdict, Some(Verdict::Good));
}

#[test]
fn a_result_that_another_bath_followed_is_kept_and_one_that_was_overruled_is_the_result() {
    let chips = [QuestionId::Flakes];
    let seen = |run: &mut Run| run.on().outcome.unwrap().seen.unwrap();
    let failed = |baths, sign: QuestionId| {
        let checks = seen_with(&[sign]);
        Some(FailedResult { baths, checks })
    };
    let mut run = Run::new(Family::PodReservoir);
    run.on();
    run.answer(&[]);
    let good = seen(&mut run);
    assert_eq!((good.failed, good.checks), (None, seen_with(&[])));

    let mut run = Run::new(Family::PodReservoir);
    run.on();
    run.answer(&chips);
    run.follow();
    run.on();
    run.answer(&[]);
    let twice = seen(&mut run);
    assert_eq!(twice.failed, failed(1, QuestionId::Flakes));
    assert_eq!(twice.checks, seen_with(&[]));

    // Of two that were not good enough the last counts: it speaks of what two baths had left.
    let mut run = Run::new(Family::PodReservoir);
    for sign in [QuestionId::Flakes, QuestionId::Heat] {
        run.on();
        run.answer(&[sign]);
        run.follow();
    }
    run.on();
    run.answer(&[]);
    assert_eq!(seen(&mut run).failed, failed(2, QuestionId::Heat));

    let mut run = Run::new(Family::PodReservoir);
    run.on();
    run.answer(&chips);
    run.act(Act::Overruled).unwrap();
    let overruled = seen(&mut run);
    assert_eq!(
        (overruled.failed, overruled.checks),
        (None, seen_with(&chips))
    );
}

/// What is seen of a result where these are bad.
fn seen_with(bad: &[QuestionId]) -> Checks {
    let good = |question| Some(!bad.contains(&question));
    Checks {
        flakes: good(QuestionId::Flakes),
        flow: None,
        clear: good(QuestionId::Clear),
        heat: good(QuestionId::Heat),
        sound: good(QuestionId::Sound),
        light: good(QuestionId::Light),
    }
}

#[test]
fn every_sign_of_chalk_leads_to_a_bath_with_its_own_reason() {
    for (sign, words) in [
        (QuestionId::Clear, "still coming loose"),
        (QuestionId::Flakes, "chalk is still moving"),
        (QuestionId::Heat, "still lies on the heater"),
        (QuestionId::Sound, "where the eye does not reach"),
    ] {
        let mut run = Run::new(Family::PodReservoir);
        run.on();
        let state = run.answer(&[sign]);
        assert_eq!(state.verdict, Some(Verdict::BathAgain), "{sign:?}");
        let reason = state.verdict_text.unwrap();
        assert!(reason.contains(words), "{reason}");
        run.act(Act::Overruled).unwrap();
        let outcome = run.on().outcome.unwrap();
        assert!(
            outcome.overrules[0].contains(words),
            "{:?}",
            outcome.overrules
        );
    }
    // A rattle that a second bath left is no chalk.
    let mut run = Run::new(Family::PodReservoir);
    run.on();
    run.answer(&[QuestionId::Sound]);
    run.follow();
    run.on();
    assert_eq!(
        run.answer(&[QuestionId::Sound]).verdict,
        Some(Verdict::Good)
    );
    let checks = run.on().outcome.unwrap().checks;
    assert!(checks.contains(&"Smell: nobody notices acid, by a second person".to_owned()));
    assert!(
        checks.iter().any(|c| c.contains("air in the pump")),
        "{checks:?}"
    );
}

#[test]
fn a_tired_nose_is_sent_out_once_and_what_is_optional_may_be_left_open() {
    let mut run = Run::new(Family::Drip);
    run.on();
    let mut tired = answers_with(&[], &[(QuestionId::Nose, AnswerId::Tired)]);
    for optional in [QuestionId::Flakes, QuestionId::Heat, QuestionId::Sound] {
        tired.remove(&optional);
    }
    let state = run.tell(&tired);
    assert_eq!(state.verdict, Some(Verdict::SmellAgain));
    run.follow();
    assert_eq!(run.tell(&tired).verdict, Some(Verdict::Good));
    let outcome = run.on().outcome.unwrap();
    assert_eq!(
        outcome.checks[0],
        "Smell: nobody notices acid, by a nose that may be tired"
    );
    assert_eq!(outcome.checks.len(), 3, "{:?}", outcome.checks);
}

#[test]
fn water_that_stays_brown_tells_of_chalk_that_nobody_called_a_lot() {
    for (brown, showed) in [(0, Some(Brought::None)), (1, None), (2, Some(Brought::Lot))] {
        let mut run = Run::new(Family::PodReservoir);
        for bath in 0..2 {
            let last = run.last_run();
            run.until(&last);
            if bath < brown {
                run.act(glass(GlassOf::Soaked, Some(4), None)).unwrap();
            }
            run.until(["look", "look-2"][bath]);
            let verdict = run.look(AnswerId::Nothing, AnswerId::Good).verdict;
            if bath == 0 && verdict == Some(Verdict::BathAgain) {
                run.follow();
                continue;
            } else if verdict.is_some() {
                run.act(Act::Overruled).unwrap();
            }
            run.on();
            if bath == 0 && verdict.is_none() {
                run.answer(&[QuestionId::Clear]);
                run.follow();
            } else if bath == 1 {
                run.answer(&[]);
            }
        }
        let outcome = run.on().outcome.unwrap();
        let seen = outcome.seen.unwrap();
        assert_eq!(seen.brown_baths, brown as u32);
        let brought = Brought::of(seen.brought, seen.bits, seen.brown_baths);
        assert_eq!(brought, showed, "brown in {brown} baths");
    }
}

#[test]
fn the_machine_asking_for_water_ends_a_bath_and_one_fill_of_the_rinse() {
    let mut run = Run::new(Family::PodReservoir);
    let wants = |step: &str| Act::WantsWater { step: step.into() };
    let last = run.last_run();
    run.until(&last);
    let others = run.state().others;
    assert!(
        others.iter().all(|o| o.label != "Ended early"),
        "{others:?}"
    );
    // Reckoned were three dispenses; the two before and after the first soak came.
    run.act(wants(&last)).unwrap();
    run.until(RINSE);
    assert_eq!(run.act(wants(RINSE)).unwrap_err().code, Code::DoesNotFit);
    let count = |run: &mut Run| run.act(Act::Counted { step: RINSE.into() }).unwrap();
    count(&mut run);
    let state = count(&mut run);
    assert!(!state.hint.unwrap().starts_with("Fill"));
    let state = run.act(wants(RINSE)).unwrap();
    assert!(state.hint.unwrap().starts_with("Fill with fresh water"));
    let per_fill = run.plan.rinse.per_fill;
    for _ in 0..per_fill {
        assert!(!run.state().others.iter().any(|o| o.label == "One more"));
        count(&mut run);
    }
    assert!(
        run.state()
            .hint
            .unwrap()
            .starts_with("Fill with fresh water")
    );
    assert_eq!(run.act(wants(&last)).unwrap_err().code, Code::DoesNotFit);
    run.act(Act::Done { step: RINSE.into() }).unwrap();
    assert_eq!(run.answer(&[]).verdict, Some(Verdict::RinseMore));
    let state = run.act(Act::Overruled).unwrap();
    assert!(state.hint.unwrap().contains("Leave the filter out"));
    assert_eq!(state.next.unwrap().label, "Rinse on first");
    let finish = state.finish.unwrap();
    assert!(
        finish
            .ask
            .unwrap()
            .text
            .contains("times what people notice")
    );
    run.act(finish.act).unwrap();
    let state = run.act(Act::Finished { outcome: None }).unwrap();
    let outcome = state.outcome.unwrap();
    let bath = outcome.bath_counted.unwrap();
    assert_eq!(
        (bath.dispenses, bath.volume_ml),
        (2, run.plan.bath.total.ml)
    );
    assert_eq!(outcome.fill_counted.unwrap().dispenses, 2);
    let target = run.plan.rinse.portions;
    let ended = format!("Rinsing ended after {} of {target}", per_fill + 2);
    assert_eq!(outcome.overrules[0], ended);
    assert!(outcome.overrules[1].contains(&format!("Only {} of {target}", per_fill + 2)));
}

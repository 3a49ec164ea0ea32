//! Baths, rinses and corrections that are added while a clean runs.

use crate::fixtures::{Run, glass};
use crate::*;
use murlo_base::problem::Code;
use murlo_base::units::Amount;
use murlo_brewer::job::Job;
use murlo_brewer::{BrewerDraft, Family, Survives};
use murlo_plan::fixtures::with_told;
use murlo_plan::{
    Correction, Kind, Plan, PlanOptions, Rung, Wish, Work,
    answers::{AnswerId, QuestionId},
};

#[test]
fn a_stronger_bath_has_its_own_amounts_soak_and_rinse() {
    let mut run = Run::new(Family::PodReservoir);
    let rung = run.plan.ladder[1].clone();
    assert!(rung.percent > run.plan.bath.percent);
    for _ in 0..2 {
        run.on();
        run.answer(&[QuestionId::Clear]);
        run.follow();
    }
    let state = run.state();
    let step = state.step.unwrap();
    assert_eq!(step.id, "mix-3");
    let plan = run.plan_now();
    assert!((plan.bath.percent - rung.percent).abs() < 1e-9);
    let figure = step.figure.unwrap();
    assert!(figure.contains(&plan.bath.agent_text), "{figure}");
    run.until("soak-3");
    let soak = plan.chosen.soak_minutes;
    assert!(
        soak >= run.plan.chosen.soak_minutes,
        "a stronger bath never soaks less than the one that was not enough"
    );
    let rinse = run.until("rinse-3");
    let target = rinse
        .steps
        .iter()
        .find(|s| s.id == "rinse-3")
        .unwrap()
        .target;
    assert_eq!(target, plan.rinse.portions);
    assert!(target > run.plan.rinse.portions);
    assert!(run.on().next.is_none());
    run.answer(&[]);
    let outcome = run.on().outcome.unwrap();
    assert!(
        outcome.text.starts_with("2 × ")
            && outcome
                .text
                .contains(&format!("; then {:.1} %", rung.percent)),
        "{}",
        outcome.text
    );
    // What was poured is the sum of each as it was, not the last one so many times.
    let poured: Vec<_> = outcome
        .poured
        .iter()
        .map(|bath| bath.amount.unwrap().number())
        .collect();
    let first = run.plan.agent_amount().unwrap().number();
    let last = plan.agent_amount().unwrap().number();
    assert_eq!(poured, [first, first, last]);
    assert!(last > first);
    let took = outcome.took_agents();
    assert_eq!(
        took.into_values().collect::<Vec<_>>(),
        [first + first + last]
    );
}

#[test]
fn what_was_logged_before_each_bath_was_kept_still_counts() {
    let outcome = |poured: Vec<PouredBath>, used| {
        let mut run = Run::new(Family::PodReservoir);
        run.on();
        run.answer(&[]);
        Outcome {
            poured,
            used,
            ..run.on().outcome.unwrap()
        }
    };
    let bath = |agent: &str, amount| PouredBath {
        agent_id: agent.to_owned(),
        agent_name: agent.to_owned(),
        amount,
        percent: 2.5,
        soaked_min: None,
    };
    let ml = |ml| Some(Amount::Ml(ml));
    for (poured, used, took) in [
        (vec![], Some(710.0), vec![("vinegar", 710.0)]),
        (vec![], None, vec![]),
        (
            vec![bath("vinegar", ml(355.0)), bath("vinegar", ml(710.0))],
            None,
            vec![("vinegar", 1065.0)],
        ),
        (
            vec![
                bath("vinegar", ml(355.0)),
                bath("citric", Some(Amount::G(25.0))),
            ],
            Some(9.0),
            vec![("citric", 25.0), ("vinegar", 355.0)],
        ),
        (vec![bath("vinegar", None)], None, vec![]),
    ] {
        let outcome = outcome(poured, used);
        let all: Vec<_> = outcome.took_agents().into_iter().collect();
        assert_eq!(all, took);
    }
}

#[test]
fn baths_are_added_at_the_look_and_rinsed_out_once() {
    let mut run = Run::new(Family::PodReservoir);
    run.until("look");
    let state = run.look(AnswerId::Some, AnswerId::Bad);
    assert_eq!(state.verdict, Some(Verdict::BathAgain));
    let reason = state.verdict_text.unwrap();
    assert!(
        reason.contains("Chips") && reason.contains("One rinse"),
        "{reason}"
    );
    assert_eq!(run.follow().round, 2);
    run.until("look-2");
    // Chips again after a soak: the next strength.
    let state = run.look(AnswerId::Some, AnswerId::Bad);
    assert_eq!(state.verdict, Some(Verdict::Stronger));
    run.follow();
    run.until("look-3");
    assert_eq!(
        run.look(AnswerId::Some, AnswerId::Bad).verdict,
        Some(Verdict::Refer),
        "three baths are enough for anybody but a repairer"
    );
    run.act(Act::Overruled).unwrap();
    let rinses = |plan: &Plan| plan.steps.iter().filter(|s| s.is(Kind::Rinse)).count();
    let plan = run.plan_now();
    assert_eq!(rinses(&plan), 1, "one rinse for all of them");
    assert!(
        plan.rinse.portions > run.plan.rinse.portions,
        "from the strongest"
    );
    run.on();
    run.answer(&[]);
    let outcome = run.on().outcome.unwrap();
    assert_eq!((outcome.rounds, outcome.rinses), (3, plan.rinse.portions));
    assert_eq!(outcome.bathed.unwrap().baths.len(), 3);
}

#[test]
fn a_rinse_counts_from_the_strongest_acid_that_was_not_rinsed_out() {
    let mut run = Run::new(Family::PodReservoir);
    run.until("look");
    let stronger = run.plan.ladder[1].clone();
    let wish = |rung: &Rung| Act::Planned {
        wish: Wish::Bath {
            agent_id: rung.agent_id.clone(),
            recipe: rung.recipe,
        },
        stage: None,
    };
    run.act(wish(&stronger)).unwrap();
    let strong_rinse = run.plan_now().rinse;
    run.until("look-2");
    let first = run.plan.ladder[0].clone();
    run.act(wish(&first)).unwrap();
    let plan = run.plan_now();
    assert!((plan.bath.percent - first.percent).abs() < 1e-9);
    assert_eq!(plan.rinse.levels_mg_l, strong_rinse.levels_mg_l);
    // After a rinse the next bath is all there is to rinse out.
    run.on();
    run.answer(&[QuestionId::Clear]);
    run.act(wish(&first)).unwrap();
    assert_eq!(run.plan_now().rinse.levels_mg_l, run.plan.rinse.levels_mg_l);
}

#[test]
fn a_further_bath_is_asked_for_where_one_looks_and_nowhere_else() {
    let mut run = Run::new(Family::PodReservoir);
    let more = |state: &State| state.further.clone();
    let wish = more(&run.until("look"));
    assert_eq!(wish[0].label, "One more bath like this");
    assert!(
        wish[1].label.starts_with("A stronger bath: White vinegar"),
        "{}",
        wish[1].label
    );
    let mut early = Run::new(Family::PodReservoir);
    assert!(more(&early.until("run")).is_empty());
    let refused = early.act(wish[0].act.clone()).unwrap_err();
    assert_eq!(refused.code, Code::DoesNotFit);
    assert!(more(&early.until("rinse")).is_empty());
    // What is sent along is not believed: the stage is planned here.
    let state = run.act(wish[0].act.clone()).unwrap();
    let Act::Planned {
        stage: Some(stage),
        wish,
    } = run.events.last().unwrap().act.clone()
    else {
        panic!("frozen in its event");
    };
    assert_eq!(
        run.plan_now().steps.len(),
        run.plan.steps.len() + 5,
        "{:?}",
        state.steps
    );
    let mut forged = *stage.clone();
    forged.steps.clear();
    let mut other = Run::new(Family::PodReservoir);
    other.until("look");
    let sent = Act::Planned {
        wish,
        stage: Some(Box::new(forged)),
    };
    other.act(sent).unwrap();
    assert_eq!(other.plan_now().steps.len(), run.plan_now().steps.len());
    // Undo takes the whole stage back.
    let event = state.undo.unwrap();
    run.act(Act::Undone { event }).unwrap();
    assert_eq!(run.plan_now(), run.plan);
}

#[test]
fn likely_baths_are_said_and_nothing_to_see_ends_them() {
    let mut run = Run::new(Family::PodReservoir);
    run.plan.likely_baths = 2;
    run.until("look");
    assert_eq!(run.look(AnswerId::Nothing, AnswerId::Good).verdict, None);
    for showed in [AnswerId::Some, AnswerId::Chalk, AnswerId::Unseen] {
        let mut run = Run::new(Family::PodReservoir);
        run.plan.likely_baths = 2;
        run.until("look");
        let state = run.look(showed, AnswerId::Good);
        assert_eq!(state.verdict, Some(Verdict::BathAgain), "{showed:?}");
        assert!(state.verdict_text.unwrap().contains("likely takes 2 baths"));
        run.follow();
        run.until("look-2");
        assert_eq!(run.look(showed, AnswerId::Good).verdict, None, "{showed:?}");
    }
    // A brown glass asks for a bath whatever was likely.
    let mut run = Run::new(Family::PodReservoir);
    run.until("look");
    run.act(glass(GlassOf::Soaked, Some(4), None)).unwrap();
    let state = run.look(AnswerId::Some, AnswerId::Good);
    assert!(state.verdict_text.unwrap().contains("brown"));
}

#[test]
fn a_fact_told_in_mid_clean_changes_the_rest_and_keeps_what_was_counted() {
    for (fact, at, family) in [
        (Correction::NoMode, "soak", Family::PodReservoir),
        (Correction::NoProgramme, "programme", Family::CodedCapsule),
    ] {
        let options = PlanOptions::default();
        let mut run = Run::with(family, &options);
        let offered = run.until(at).corrections;
        if family == Family::PodReservoir && offered.is_empty() {
            continue;
        }
        let choice = offered.iter().find(|c| c.label == fact.words()).unwrap();
        run.act(choice.act.clone()).unwrap();
        run.on();
        run.answer(&[]);
        assert_eq!(run.on().closed, Some(Closed::Finished), "{family:?}");
    }
    let mut run = Run::new(Family::Drip);
    run.until("soak");
    let fact = Correction::NoMode;
    let wish = Wish::Corrected { fact };
    let refused = run.act(Act::Planned { wish, stage: None }).unwrap_err();
    assert_eq!(refused.code, Code::DoesNotFit);
}

#[test]
fn that_a_mode_did_not_wait_is_told_once_it_has_waited() {
    let family = Family::PodReservoir;
    let tell = |draft: &mut BrewerDraft| {
        draft.mechanics.mode = Some(true);
        draft.mechanics.soaks_inside = Some(true);
        draft.mechanics.survives = Some(Survives::Waiting);
    };
    let plan = with_told(family, 220.0, 90, tell, |facts| {
        facts.plan(&PlanOptions::default()).unwrap()
    });
    assert_eq!(plan.soak.after, [2]);
    let mut run = Run {
        family,
        plan,
        events: Vec::new(),
    };
    let offered = |state: State| {
        let labels = state.corrections.into_iter().map(|choice| choice.label);
        labels.collect::<Vec<_>>()
    };
    let (none, gone) = (
        Correction::NoMode.words(),
        Correction::ModeDoesNotWait.words(),
    );
    assert_eq!(offered(run.until("first")), [none]);
    assert_eq!(
        offered(run.until("run")),
        [none],
        "nothing was waited for yet"
    );
    let last = run.last_run();
    assert_eq!(offered(run.until(&last)), [none, gone]);
}

#[test]
fn what_nobody_told_is_asked_where_it_shows_until_it_is_answered() {
    let mut run = Run::new(Family::PodReservoir);
    assert_eq!(run.state().asked, [], "nothing shows at the sink");
    let asked = run.until("needles").asked;
    let [lid] = &asked[..] else {
        panic!("{asked:?}")
    };
    let ring = lid.answers.last().unwrap();
    assert_eq!(
        ring.needles.len(),
        6,
        "four small around the large one, and the cup needle"
    );
    let state = run.act(ring.choice.act.clone()).unwrap();
    assert_eq!(state.asked, []);
    let step = state.step.unwrap();
    assert_eq!(step.figure.as_deref(), Some("0 of 10 clear"));
    // Six sizes about the usual one, in order; the one that was planned may be confirmed.
    let asked = run.until("first").asked;
    let [cup] = &asked[..] else {
        panic!("{asked:?}")
    };
    let labels: Vec<_> = cup
        .answers
        .iter()
        .map(|a| a.choice.label.as_str())
        .collect();
    assert_eq!(
        labels,
        [
            "8 fl oz", "9 fl oz", "10 fl oz", "11 fl oz", "12 fl oz", "13 fl oz"
        ]
    );
    let (presses, rinses) = (
        run.plan_now().dispensing.count,
        run.plan_now().rinse.portions,
    );
    assert!(cup.text.contains("Planned with 10 fl oz"), "{}", cup.text);
    let act = cup.answers[0].choice.act.clone();
    assert_eq!(run.act(act.clone()).unwrap().asked, []);
    let plan = run.plan_now();
    let now = (plan.dispensing.count, plan.rinse.portions);
    assert!(
        now.0 >= presses && now.1 > rinses,
        "{presses}, {rinses}: {now:?}"
    );
    let again = run.act(act).unwrap_err();
    assert_eq!(again.code, Code::DoesNotFit);
    run.on();
    run.answer(&[]);
    assert_eq!(run.on().closed, Some(Closed::Finished));
}

#[test]
fn what_was_cleared_counts_only_where_the_needle_has_a_hole() {
    let mut run = Run::new(Family::PodReservoir);
    run.until("needles");
    for _ in 0..4 {
        let next = run.state().next.unwrap();
        run.act(next.act).unwrap();
    }
    // Three holes of the lid and one of the cup; the lid needle turns out to have one only.
    assert_eq!(run.state().clear.len(), 4);
    let one = run.state().asked[0].answers[0].choice.act.clone();
    let state = run.act(one).unwrap();
    assert_eq!(state.step.unwrap().figure.as_deref(), Some("2 of 4 clear"));
}

#[test]
fn nothing_is_asked_of_a_rehearsal_or_of_what_was_told() {
    let rehearsal = PlanOptions {
        work: Work::Rehearsal,
        ..PlanOptions::default()
    };
    let mut run = Run::with(Family::PodReservoir, &rehearsal);
    assert_eq!(run.until("first").asked, []);
    let mut run = Run::new(Family::Drip);
    assert_eq!(run.plan_now().open, []);
    assert_eq!(run.until("rinse").asked, []);
}

#[test]
fn what_nothing_after_it_needs_may_be_left_out_and_the_log_says_so() {
    let leaving = |state: &State| {
        let mut others = state.others.iter();
        others
            .find(|c| matches!(c.act, Act::LeftOut { .. }))
            .cloned()
    };
    for family in Family::ALL {
        let mut run = Run::new(family);
        let mut left = Vec::new();
        let end = loop {
            let state = run.state();
            if state.closed.is_some() {
                break state;
            }
            if let Some(choice) = leaving(&state) {
                left.push(state.kind.unwrap());
                run.act(choice.act).unwrap();
            } else if state.kind == Some(Kind::Verify) {
                run.answer(&[]);
            } else {
                run.step_on(state);
            }
        };
        assert!(left.contains(&Kind::Body), "{family:?}: {left:?}");
        let outcome = end.outcome.unwrap();
        assert_eq!(outcome.acid_left, None, "{family:?}");
        let line = outcome.checks.last().unwrap();
        assert!(line.starts_with("Left out: "), "{line}");
        let jobs = outcome.jobs.unwrap();
        assert!(
            !jobs.contains(&Job::Wash) && !jobs.contains(&Job::Tray),
            "{jobs:?}"
        );
    }
    let mut run = Run::new(Family::PodReservoir);
    run.until("mix");
    assert_eq!(leaving(&run.state()), None);
    let act = Act::LeftOut { step: "mix".into() };
    let refused = run.act(act).unwrap_err();
    assert_eq!(refused.code, Code::DoesNotFit);
    assert!(refused.message.contains("cannot be left out"), "{refused}");
    // One that has begun is done, and what was taken back may be done after all.
    let mut run = Run::new(Family::PodReservoir);
    run.until("body");
    let choice = leaving(&run.state()).unwrap();
    let state = run.act(choice.act).unwrap();
    assert_ne!(state.kind, Some(Kind::Body));
    let event = state.undo.unwrap();
    let state = run.act(Act::Undone { event }).unwrap();
    assert_eq!(state.kind, Some(Kind::Body));
    run.on();
    run.answer(&[]);
    let jobs = run.on().outcome.unwrap().jobs.unwrap();
    assert!(jobs.contains(&Job::Wash), "{jobs:?}");
}

#[test]
fn without_a_soak_the_same_strength_comes_again_with_soak() {
    let none = PlanOptions {
        soak_minutes: Some(0.0),
        ..PlanOptions::default()
    };
    let mut run = Run::with(Family::PodReservoir, &none);
    run.on();
    let state = run.answer(&[QuestionId::Clear]);
    assert!(state.verdict_text.unwrap().contains("had no soak"));
    run.follow();
    let label = run.until("soak-2").next.unwrap().label;
    assert!(label.starts_with("Start the timer: "), "{label}");
    assert!(run.plan_now().chosen.soak_minutes >= 15.0);
}

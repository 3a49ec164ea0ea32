use super::*;
use crate::fixtures::{Run, TODAY, answers_with, any_act, glass};
use jiff::SignedDuration;
use jiff::Timestamp;
use jiff::civil::date;
use murlo_base::problem::Code;
use murlo_base::text;
use murlo_brewer::bath::Recipe;
use murlo_brewer::job::Job;
use murlo_brewer::{BrewerDraft, Family, Healthy, Needle, Spot, Survives};
use murlo_chalk::belief::Brought;
use murlo_plan::Plan;
use murlo_plan::Wish;
use murlo_plan::fixtures::{paced, with_told};
use murlo_plan::pace::{Pace, Seen};
use murlo_plan::{
    Correction, Doing, Inside, Kind, PlanOptions, RINSE, Rung, SOAK, VERIFY, Work, answers,
};
use proptest::prelude::*;

#[test]
fn every_family_is_cleaned_by_following_the_one_next_act() {
    for family in Family::ALL {
        let mut run = Run::new(family);
        assert_eq!(run.on().inside, Inside::Traces);
        run.answer(&[]);
        let state = run.on();
        assert_eq!(state.closed, Some(Closed::Finished));
        let outcome = state.outcome.unwrap();
        let rinses = run.plan.rinse.portions;
        let did = (outcome.day, outcome.rounds, outcome.rinses);
        assert_eq!(did, (TODAY, 1, rinses), "{family:?}");
        let bathed = outcome.bathed.unwrap();
        assert_eq!(bathed.baths.len(), 1, "{family:?}");
        assert!(!bathed.baths[0].passes.is_empty(), "{family:?}");
    }
}

#[test]
fn still_smells_adds_the_computed_number_of_rinses() {
    let mut run = Run::new(Family::PodReservoir);
    run.on();
    let state = run.answer(&[answers::SMELL]);
    assert_eq!(state.verdict, Some(Verdict::RinseMore));
    let more = run.plan.rinse.more;
    assert_eq!(state.next.unwrap().label, format!("Rinse {more} more"));
    let state = run.follow();
    let rinse = state.steps.iter().find(|s| s.id == RINSE).unwrap();
    assert_eq!(
        (rinse.count, rinse.target, rinse.standing),
        (
            run.plan.rinse.portions,
            run.plan.rinse.portions + more,
            Standing::Current
        )
    );
    assert!(state.levels_mg_l.last().unwrap() < &22.0);
}

#[test]
fn mugs_beyond_the_target_stay_granted_when_somebody_still_smells_it() {
    for beyond in [0, 1, 3] {
        let mut run = Run::new(Family::PodReservoir);
        run.until(RINSE);
        let target = run.plan.rinse.portions;
        for _ in 0..target + beyond {
            run.act(Act::Counted { step: RINSE.into() }).unwrap();
        }
        run.act(Act::Done { step: RINSE.into() }).unwrap();
        run.on();
        run.answer(&[answers::SMELL]);
        let state = run.follow();
        let rinse = state.steps.iter().find(|s| s.id == RINSE).unwrap();
        let more = run.plan.rinse.more;
        assert_eq!(
            (rinse.count, rinse.target),
            (target + beyond, target + beyond + more)
        );
    }
}

#[test]
fn cloudy_water_restarts_bath_and_rinse_and_is_referred_after_three() {
    let mut run = Run::new(Family::PodReservoir);
    for (round, verdict) in [(1, Verdict::BathAgain), (2, Verdict::Stronger)] {
        run.on();
        assert_eq!(
            run.answer(&[answers::CLEAR]).verdict,
            Some(verdict),
            "round {round}"
        );
        let state = run.follow();
        assert_eq!(state.round, round + 1);
        assert_eq!(state.levels_mg_l[0], run.plan_now().bath.percent * 10_000.0);
    }
    run.on();
    assert_eq!(run.answer(&[answers::CLEAR]).verdict, Some(Verdict::Refer));
}

#[test]
fn a_light_is_reset_first_and_bathed_again_only_then() {
    let mut run = Run::new(Family::Drip);
    run.on();
    assert_eq!(
        run.answer(&[answers::LIGHT]).verdict,
        Some(Verdict::ResetLight)
    );
    run.follow();
    assert_eq!(
        run.answer(&[answers::LIGHT]).verdict,
        Some(Verdict::BathAgain)
    );
    let state = run.act(Act::Overruled).unwrap();
    assert_eq!(state.current, Some(run.plan.steps.len() - 1));
    assert!(run.on().outcome.unwrap().overruled);
}

#[test]
fn undo_takes_back_only_the_last_act() {
    let mut run = Run::new(Family::Drip);
    run.act(Act::Done {
        step: "ready".into(),
    })
    .unwrap();
    run.act(Act::Done {
        step: "parts".into(),
    })
    .unwrap();
    assert_eq!(
        run.act(Act::Undone { event: "e0".into() })
            .unwrap_err()
            .code,
        Code::DoesNotFit
    );
    assert_eq!(
        run.act(Act::Undone { event: "e1".into() }).unwrap().current,
        Some(1)
    );
    assert_eq!(run.state().undo.as_deref(), Some("e0"));
}

#[test]
fn a_timer_ends_on_the_wall_clock_and_stopping_says_what_is_inside() {
    let mut run = Run::new(Family::PodReservoir);
    while run
        .state()
        .steps
        .iter()
        .any(|s| s.id == "soak" && s.timer.is_none())
    {
        let next = run.state().next.unwrap().act;
        run.act(next).unwrap();
    }
    let state = run.act(Act::Paused).unwrap();
    let timer = state.steps.iter().find_map(|s| s.timer.clone()).unwrap();
    assert_eq!(
        timer.ends_at.duration_since(timer.started_at).as_secs_f64(),
        run.plan.chosen.soak_minutes * 60.0
    );
    assert_eq!(
        (state.inside, state.inside_text.as_str()),
        (Inside::Bath, "ACID INSIDE. Do not brew. Plugged in.")
    );
    assert_eq!(
        run.act(Act::Done {
            step: "soak".into()
        })
        .unwrap_err()
        .code,
        Code::DoesNotFit
    );
}

#[test]
fn a_stopped_clean_that_is_given_up_is_closed_and_opens_where_it_was() {
    let mut run = Run::new(Family::Drip);
    let at = run.until("mix").current;
    run.act(Act::Paused).unwrap();
    let state = run.act(Act::Abandoned { acid: None }).unwrap();
    assert_eq!(
        (state.closed, state.paused),
        (Some(Closed::Abandoned), false)
    );
    let state = run.act(Act::Reopened).unwrap();
    assert_eq!((state.closed, state.current), (None, at));
}

#[test]
fn an_act_that_waited_for_the_line_happened_when_it_was_pressed() {
    let at = |text: &str| text.parse::<Timestamp>().unwrap();
    let now = at("2026-11-25T12:00:00Z");
    let device = Some(at("2026-11-25T09:00:00Z"));
    for (sent, happened) in [
        // The device's clock is hours off, but its ten minutes are ten minutes.
        (Some("2026-11-25T09:10:00Z"), "2026-11-25T11:50:00Z"),
        (Some("2026-11-25T09:00:00Z"), "2026-11-25T12:00:00Z"),
        (Some("2026-11-25T08:59:00Z"), "2026-11-25T12:00:00Z"),
        (Some("2026-11-27T08:59:59Z"), "2026-11-23T12:00:01Z"),
        (Some("2026-11-27T09:00:00Z"), "2026-11-25T12:00:00Z"),
        (Some("2026-12-25T09:00:00Z"), "2026-11-25T12:00:00Z"),
        (None, "2026-11-25T12:00:00Z"),
    ] {
        assert_eq!(
            happened_at(now, device, sent.map(at)),
            at(happened),
            "{sent:?}"
        );
    }
    assert_eq!(happened_at(now, None, Some(now)), now);
}

#[test]
fn time_never_runs_backwards_in_a_clean() {
    let mut run = Run::new(Family::Drip);
    run.act(Act::Done {
        step: "ready".into(),
    })
    .unwrap();
    run.act(Act::Done {
        step: "parts".into(),
    })
    .unwrap();
    let early = Event {
        id: "early".into(),
        at: Timestamp::UNIX_EPOCH,
        device_at: None,
        act: Act::Noted {
            text: "late to arrive".into(),
        },
    };
    let (event, _) = admit(&run.plan, &run.events, early, TODAY, &|_, _| unreachable!()).unwrap();
    assert_eq!(event.at, run.events[1].at);
}

#[test]
fn acts_that_do_not_fit_say_where_the_clean_stands() {
    let mut run = Run::new(Family::Drip);
    for (act, code) in [
        (
            Act::Done {
                step: "rinse".into(),
            },
            Code::DoesNotFit,
        ),
        (
            Act::Done {
                step: "polish".into(),
            },
            Code::UnknownId,
        ),
        (
            Act::Counted {
                step: "ready".into(),
            },
            Code::DoesNotFit,
        ),
        (Act::Finished { outcome: None }, Code::DoesNotFit),
        (Act::Followed, Code::DoesNotFit),
        (Act::Resumed, Code::DoesNotFit),
        (Act::Noted { text: "  ".into() }, Code::Missing),
    ] {
        assert_eq!(run.act(act.clone()).unwrap_err().code, code, "{act:?}");
    }
    assert!(run.events.is_empty());
}

#[test]
fn a_stronger_bath_has_its_own_amounts_soak_and_rinse() {
    let mut run = Run::new(Family::PodReservoir);
    let rung = run.plan.ladder[1].clone();
    assert!(rung.percent > run.plan.bath.percent);
    for _ in 0..2 {
        run.on();
        run.answer(&[answers::CLEAR]);
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
    let text = run.on().outcome.unwrap().text;
    assert!(
        text.starts_with("3 × ") && text.contains(&format!("{:.1} %", rung.percent)),
        "{text}"
    );
}

#[test]
fn baths_are_added_at_the_look_and_rinsed_out_once() {
    let mut run = Run::new(Family::PodReservoir);
    run.until("look");
    let state = run.look(answers::SOME, answers::BAD);
    assert_eq!(state.verdict, Some(Verdict::BathAgain));
    let reason = state.verdict_text.unwrap();
    assert!(
        reason.contains("Chips") && reason.contains("One rinse"),
        "{reason}"
    );
    assert_eq!(run.follow().round, 2);
    run.until("look-2");
    // Chips again after a soak: the next strength.
    let state = run.look(answers::SOME, answers::BAD);
    assert_eq!(state.verdict, Some(Verdict::Stronger));
    run.follow();
    run.until("look-3");
    assert_eq!(
        run.look(answers::SOME, answers::BAD).verdict,
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
    run.answer(&[answers::CLEAR]);
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
    assert_eq!(run.look(answers::NOTHING, answers::GOOD).verdict, None);
    for showed in [answers::SOME, answers::CHALK, answers::UNSEEN] {
        let mut run = Run::new(Family::PodReservoir);
        run.plan.likely_baths = 2;
        run.until("look");
        let state = run.look(showed, answers::GOOD);
        assert_eq!(state.verdict, Some(Verdict::BathAgain), "{showed}");
        assert!(state.verdict_text.unwrap().contains("likely takes 2 baths"));
        run.follow();
        run.until("look-2");
        assert_eq!(run.look(showed, answers::GOOD).verdict, None, "{showed}");
    }
    // A brown glass asks for a bath whatever was likely.
    let mut run = Run::new(Family::PodReservoir);
    run.until("look");
    run.act(glass(GlassOf::Soaked, Some(4), None)).unwrap();
    let state = run.look(answers::SOME, answers::GOOD);
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
    let state = run.answer(&[answers::CLEAR]);
    assert!(state.verdict_text.unwrap().contains("had no soak"));
    run.follow();
    let label = run.until("soak-2").next.unwrap().label;
    assert!(label.starts_with("Start the timer: "), "{label}");
    assert!(run.plan_now().chosen.soak_minutes >= 15.0);
}

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
fn every_sign_of_chalk_leads_to_a_bath_with_its_own_reason() {
    for (sign, words) in [
        (answers::CLEAR, "still coming loose"),
        (answers::FLAKES, "chalk is still moving"),
        (answers::HEAT, "still lies on the heater"),
        (answers::SOUND, "where the eye does not reach"),
    ] {
        let mut run = Run::new(Family::PodReservoir);
        run.on();
        let state = run.answer(&[sign]);
        assert_eq!(state.verdict, Some(Verdict::BathAgain), "{sign}");
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
    run.answer(&[answers::SOUND]);
    run.follow();
    run.on();
    assert_eq!(run.answer(&[answers::SOUND]).verdict, Some(Verdict::Good));
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
    let mut tired = answers_with(&[], &[(answers::NOSE, answers::TIRED)]);
    for optional in [answers::FLAKES, answers::HEAT, answers::SOUND] {
        tired.remove(optional);
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
            let verdict = run.look(answers::NOTHING, answers::GOOD).verdict;
            if bath == 0 && verdict == Some(Verdict::BathAgain) {
                run.follow();
                continue;
            } else if verdict.is_some() {
                run.act(Act::Overruled).unwrap();
            }
            run.on();
            if bath == 0 && verdict.is_none() {
                run.answer(&[answers::CLEAR]);
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

#[test]
fn a_wait_that_has_hardly_begun_is_asked_about_and_logged_as_it_was() {
    let mut run = Run::new(Family::PodReservoir);
    let start = run.until(SOAK).next.unwrap().act;
    let state = run.act(start).unwrap();
    let timer = state.steps.iter().find_map(|s| s.timer.clone()).unwrap();
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
    let state = run.answer(&[answers::CLEAR]);
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
        let state = run.answer(&[answers::CLEAR]);
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
        assert_eq!(state.kind, Some(Kind::Rinse));
        let mechanism = run.plan_now().mechanism.unwrap();
        let (plan, done) = (run.plan_now(), state.current.unwrap());
        let machine = murlo_plan::rehearse::stands_after(&mechanism, &plan, |i| (i < done, 0));
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
        let give_up = state.others[0].clone();
        assert_eq!(give_up.ask.is_some(), acid, "{at}");
        let state = run.act(give_up.act).unwrap();
        assert_eq!(state.acid_left.is_some(), acid, "{at}");
        let Act::Abandoned { acid: left } = &run.events.last().unwrap().act else {
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
                let answers = [(answers::SHOWED.to_owned(), answers::SOME.to_owned())].into();
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
            seen.push(Seen {
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
            .find(|s| matches!(s.doing, Doing::Wait { .. }))
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
    run.look(answers::NOTHING, answers::GOOD);
    run.on();
    run.answer(&[]);
    let outcome = run.on().outcome.unwrap();
    assert!(!outcome.text.contains("soaked"), "{}", outcome.text);
}

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
        ("cool", 0),
        "cooled and unplugged again before hands go in"
    );
    assert!(run.on().next.is_none(), "straight back to the questions");
    assert_eq!(run.answer(&[]).verdict, Some(Verdict::Good));
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
    assert_eq!(fits(&mut early), ["others", "body"]);
    let done = |step: &str| Act::Done { step: step.into() };
    let state = early.act(done("body")).unwrap();
    assert_eq!(state.meanwhile, ["others"]);
    assert_eq!(state.step.unwrap().id, SOAK);
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
    assert_eq!(fitted.count(), 2);
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

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]
    #[test]
    fn whatever_is_offered_fits_and_always_leaves_a_next_act(
        family in 0..Family::ALL.len(),
        needles in any::<bool>(),
        picks in prop::collection::vec((0usize..9, 0usize..6), 1..160),
    ) {
        let pods = matches!(Family::ALL[family], Family::PodReservoir | Family::OneCupPod | Family::CodedCapsule);
        let options = PlanOptions {
            work: if needles && pods { Work::Needles } else { Work::Descale },
            ..PlanOptions::default()
        };
        let mut run = Run::with(Family::ALL[family], &options);
        run.plan.healthy = Some(Healthy { seconds: 25.0, streams: 2.0 });
        for (pick, bad) in picks {
            let state = run.state();
            let act = any_act(&state, pick, bad);
            // A fact may come too late to plan by: that is refused in words.
            let Ok(state) = run.act(act.clone()) else {
                let is_correction = matches!(act, Act::Planned { wish: Wish::Corrected { .. }, .. });
                prop_assert!(is_correction);
                continue;
            };
            let asks = state.step.as_ref().is_some_and(|s| matches!(s.doing, Doing::Ask { .. }));
            prop_assert!(state.next.is_some() || asks || state.closed.is_some());
            prop_assert!(state.next.is_some() || asks || state.others.iter().any(|o| o.act == Act::Reopened));
            let done = |id: &str| state.steps.iter().any(|s| s.id == id && s.standing == Standing::Done);
            let has_rinse = run.plan.steps.iter().any(|s| s.id == RINSE);
            prop_assert!(!done("put_back") || !has_rinse || done(RINSE), "the filter goes back only after the rinse");
        }
    }

    /// Two devices, each of which acts on what it last saw: what no longer fits changes nothing, and the clean still comes to
    /// its end with what the machine then holds told rightly.
    #[test]
    fn two_devices_with_old_views_neither_break_a_clean_nor_hide_acid(
        family in 0..Family::ALL.len(),
        picks in prop::collection::vec((any::<bool>(), 0usize..9, 0usize..6, any::<bool>()), 1..60),
    ) {
        let mut run = Run::new(Family::ALL[family]);
        let mut views = [run.state(), run.state()];
        for (which, pick, bad, looks_again) in picks {
            let device = usize::from(which);
            if looks_again {
                views[device] = run.state();
            }
            let before = run.state();
            let act = any_act(&views[device], pick, bad);
            match run.act(act) {
                Ok(after) => views[device] = after,
                Err(_) => prop_assert_eq!(&run.state(), &before, "a refusal changes nothing"),
            }
        }
        let state = run.state();
        let started = run.plan_now().steps.iter().zip(&state.steps).any(|(s, at)| {
            s.is(Kind::Mix) && at.standing == Standing::Done
        });
        let rinsed = state.levels_mg_l.last().is_some_and(|level| *level <= run.plan.rinse.target_mg_l);
        if state.closed == Some(Closed::Abandoned) && started && !rinsed {
            prop_assert!(state.acid_left.is_some());
        }
        if state.closed.is_none() {
            // Whatever happened, following the one next act ends the clean.
            for _ in 0..400 {
                let state = run.state();
                if state.closed.is_some() {
                    break;
                }
                let asks = state.step.as_ref().is_some_and(|s| s.is(Kind::Verify)) && state.next.is_none();
                match asks {
                    true => drop(run.answer(&[])),
                    false => drop(run.step_on(state)),
                }
            }
            let state = run.state();
            prop_assert_eq!((state.closed, state.acid_left), (Some(Closed::Finished), None));
        }
    }

    #[test]
    fn undo_leads_back_to_exactly_where_the_clean_stood(
        family in 0..Family::ALL.len(),
        picks in prop::collection::vec((0usize..9, 0usize..6), 1..60),
    ) {
        let mut run = Run::new(Family::ALL[family]);
        for (pick, bad) in picks {
            let before = run.state();
            let act = any_act(&before, pick, bad);
            let is_undo = matches!(act, Act::Undone { .. });
            let Ok(after) = run.act(act) else { continue };
            let Some(event) = after.undo.filter(|_| !is_undo) else {
                continue;
            };
            let kept = run.events.clone();
            prop_assert_eq!(run.act(Act::Undone { event }).unwrap(), before);
            run.events = kept;
        }
    }
}

/// One plan of a pod brewer, carried out in five ways.
#[test]
fn what_was_really_done_decides_what_is_left() {
    let carried_out = |soak_s: i64, presses: Option<u32>, away_min: i64, second: bool| {
        let mut run = Run::new(Family::PodReservoir);
        run.until(SOAK);
        let start = run.state().next.unwrap().act;
        run.act(start).unwrap();
        let later = |run: &Run, seconds: i64| {
            run.events.last().unwrap().at + SignedDuration::from_secs(seconds)
        };
        run.act_at(later(&run, soak_s), Act::Done { step: SOAK.into() });
        if let Some(presses) = presses {
            let step = run.last_run();
            for _ in 0..presses {
                run.act(Act::Counted { step: step.clone() }).unwrap();
            }
            run.act(Act::WantsWater { step }).unwrap();
        }
        run.until("look");
        let text = "somebody rang".to_owned();
        run.act_at(later(&run, 60 * away_min), Act::Noted { text });
        if second {
            run.look(answers::SOME, answers::BAD);
            run.follow();
            run.until("look-2");
            run.look(answers::NOTHING, answers::GOOD);
        } else {
            let verdict = run.look(answers::NOTHING, answers::GOOD).verdict;
            assert_eq!(verdict, None);
        }
        run.on();
        run.answer(&[]);
        let outcome = run.on().outcome.unwrap();
        let path = murlo_chemistry::cleaning::Path {
            heats: murlo_chemistry::cleaning::Heats {
                heater: murlo_chemistry::heater::Heater::Tank,
                heater_c: 92.0,
                brew_min: None,
            },
            hold_ml: 355.0,
        };
        let film = murlo_chemistry::cleaning::Film {
            mg: 569.1,
            sigma: 0.0,
            area_cm2: 100.0,
        };
        let bathed = outcome.bathed.unwrap();
        (bathed.leaves(&film, &path).median, bathed)
    };
    let planned = carried_out(30 * 60, None, 0, false);
    let cut_short = carried_out(2, None, 0, false);
    let few_presses = carried_out(30 * 60, Some(0), 0, false);
    let called_away = carried_out(30 * 60, None, 45, false);
    let twice = carried_out(30 * 60, None, 0, true);
    let soaked = |bathed: &murlo_chemistry::cleaning::Bathed| bathed.baths[0].passes[1].stood_min;
    assert!(
        (soaked(&planned.1) - 30.0).abs() < 3.0,
        "{}",
        soaked(&planned.1)
    );
    assert!(soaked(&cut_short.1) < 3.0, "two seconds are two seconds");
    assert_eq!(
        few_presses.1.baths[0].passes.len(),
        2,
        "presses as they were made"
    );
    assert_eq!((planned.1.baths.len(), twice.1.baths.len()), (1, 2));
    let left = [
        planned.0,
        cut_short.0,
        few_presses.0,
        called_away.0,
        twice.0,
    ];
    assert!(cut_short.0 > planned.0 + 0.1, "{left:?}");
    assert!(called_away.0 < planned.0 && twice.0 < planned.0, "{left:?}");
    assert!((few_presses.0 - planned.0).abs() > 0.01, "{left:?}");
    for (i, a) in left.iter().enumerate() {
        assert!(
            left[i + 1..].iter().all(|b| (a - b).abs() > 1e-3),
            "{left:?}"
        );
    }
}

#[test]
fn the_way_ahead_is_the_way_that_is_then_gone() {
    for family in Family::ALL {
        let mut run = Run::new(family);
        let mut questions = 0;
        while run.state().closed.is_none() && questions < 12 {
            let now = run
                .events
                .last()
                .map_or(Timestamp::UNIX_EPOCH, |last| last.at);
            let way = ahead(&run.plan, &run.events, now);
            for step in &way {
                let mut gone = run.act(step.act.clone()).unwrap();
                let mut shown = step.state.clone();
                // What depends on when it really happened, and on the event's own name.
                for state in [&mut gone, &mut shown] {
                    state.undo = None;
                    state.done_about = None;
                    state.steps.iter_mut().for_each(|s| s.timer = None);
                    state.notes.clear();
                    state.next.iter_mut().for_each(|next| next.ask = None);
                    state.finish.iter_mut().for_each(|finish| finish.ask = None);
                }
                assert_eq!(gone.current, shown.current, "{family:?} {:?}", step.act);
                assert_eq!(gone.next, shown.next, "{family:?} {:?}", step.act);
                assert_eq!(gone.inside_text, shown.inside_text);
            }
            questions += 1;
            let state = run.state();
            if state.step.as_ref().is_some_and(|s| s.id == VERIFY) {
                break;
            }
            run.step_on(state);
        }
        assert!(questions > 0);
    }
}

#[test]
fn a_whole_rinse_lies_ahead_and_nothing_beyond_a_question_or_the_end() {
    let mut run = Run::new(Family::PodReservoir);
    let rinsing = run.until(RINSE);
    let target = rinsing.steps[rinsing.current.unwrap()].target;
    let now = run.events.last().unwrap().at;
    let way = ahead(&run.plan, &run.events, now);
    let counts = way.iter().filter(|a| matches!(a.act, Act::Counted { .. }));
    assert_eq!(counts.count() as u32, target);
    let last = way.last().unwrap();
    assert!(last.state.next.is_none(), "{:?}", last.state.next);
    assert!(way.iter().all(|a| !a.act.is_closing()));
    assert!(way.is_sorted_by_key(|a| a.at));

    let paused = run.act(Act::Paused).unwrap();
    assert!(paused.paused);
    assert!(ahead(&run.plan, &run.events, now).is_empty());
}

#[test]
fn a_bath_that_soaks_twice_is_one_bath_with_one_count_and_one_soak() {
    let weak = PlanOptions {
        recipe: Some(Recipe::Ratio {
            agent: 1.0,
            water: 9.0,
        }),
        ..PlanOptions::default()
    };
    let mut run = Run::with(Family::PodReservoir, &weak);
    assert_eq!(run.plan.soak.after, [1, 2]);
    let expected = run.plan.dispensing.count;
    run.until("run");
    let state = run.act(Act::Counted { step: "run".into() }).unwrap();
    // Nothing is learned of a bath that has not ended.
    run.act(state.next.unwrap().act).unwrap();
    assert_eq!(run.state().step.unwrap().id, "soak-2");
    run.until("look");
    let first_bath = run.state();
    assert!(first_bath.steps.iter().any(|s| s.id == "run-2"));
    run.look(answers::NOTHING, answers::GOOD);
    run.on();
    run.answer(&[]);
    let outcome = run.on().outcome.unwrap();
    assert_eq!(outcome.rounds, 1);
    let soaked = murlo_base::text::minutes(run.plan.chosen.soak_minutes);
    assert!(
        outcome.text.ends_with(&format!("soaked {soaked}")),
        "{}",
        outcome.text
    );
    assert_eq!(outcome.bath_counted.unwrap().dispenses, expected);
    let bathed = outcome.bathed.unwrap();
    let stood: Vec<_> = bathed.baths[0].passes.iter().map(|p| p.stood_min).collect();
    let each = run.plan.chosen.soak_minutes / 2.0;
    assert!(stood[0] >= each && stood[1] >= each, "{stood:?}");
    assert_eq!(stood.len(), expected as usize);
}

#[test]
fn a_bath_that_ends_before_its_last_soak_is_counted_as_what_came() {
    let mut run = Run::new(Family::PodReservoir);
    assert_eq!(run.plan.soak.after, [2]);
    run.until("run");
    run.act(Act::WantsWater { step: "run".into() }).unwrap();
    assert_eq!(run.state().step.unwrap().id, SOAK);
    let last = run.last_run();
    run.until(&last);
    run.act(Act::WantsWater { step: last }).unwrap();
    run.look(answers::NOTHING, answers::GOOD);
    run.on();
    run.answer(&[]);
    let outcome = run.on().outcome.unwrap();
    // One of three is less than what can be: no lesson.
    assert_eq!(outcome.bath_counted, None);
    assert_eq!(outcome.bathed.unwrap().baths[0].passes.len(), 1);
}

mod begun;
mod found;
mod guarded;
mod judged;
mod kept;
mod needles;
mod poured;
mod rinsed_out;
mod stages;

use super::*;
use crate::fixtures::{Run, TODAY, any_act};
use jiff::{SignedDuration, Timestamp};
use murlo_base::problem::Code;
use murlo_brewer::bath::Recipe;
use murlo_brewer::{Family, Healthy};
use murlo_plan::{
    Doing, Inside, Kind, PlanOptions, RINSE, SOAK, VERIFY, Wish, Work,
    answers::{AnswerId, QuestionId},
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
    let state = run.answer(&[QuestionId::Smell]);
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
        run.answer(&[QuestionId::Smell]);
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
            run.answer(&[QuestionId::Clear]).verdict,
            Some(verdict),
            "round {round}"
        );
        let state = run.follow();
        assert_eq!(state.round, round + 1);
        assert_eq!(state.levels_mg_l[0], run.plan_now().bath.percent * 10_000.0);
    }
    run.on();
    assert_eq!(
        run.answer(&[QuestionId::Clear]).verdict,
        Some(Verdict::Refer)
    );
}

#[test]
fn a_light_is_reset_first_and_bathed_again_only_then() {
    let mut run = Run::new(Family::Drip);
    run.on();
    assert_eq!(
        run.answer(&[QuestionId::Light]).verdict,
        Some(Verdict::ResetLight)
    );
    run.follow();
    assert_eq!(
        run.answer(&[QuestionId::Light]).verdict,
        Some(Verdict::BathAgain)
    );
    let state = run.act(Act::Overruled).unwrap();
    assert_eq!(state.current, Some(run.plan.steps.len() - 1));
    assert!(run.on().outcome.unwrap().overruled);
}

#[test]
fn undo_takes_back_only_the_last_act() {
    let mut run = Run::new(Family::Drip);
    for step in ["baseline", "ready"] {
        run.act(Act::Done { step: step.into() }).unwrap();
    }
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
    let soak = state.steps.iter().find(|s| s.id == "soak").unwrap();
    let timer = soak.timer.clone().unwrap();
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
    let state = run.act(Act::give_up()).unwrap();
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
    for step in ["baseline", "ready"] {
        run.act(Act::Done { step: step.into() }).unwrap();
    }
    let early = Event {
        id: "early".into(),
        at: Timestamp::UNIX_EPOCH,
        device_at: None,
        by: None,
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
            let state = match run.act(act.clone()) {
                Ok(state) => state,
                Err(refused) => {
                    let is_correction = matches!(act, Act::Planned { wish: Wish::Corrected { .. }, .. });
                    prop_assert!(is_correction, "{act:?}: {refused}");
                    continue;
                }
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
            run.look(AnswerId::Some, AnswerId::Bad);
            run.follow();
            run.until("look-2");
            run.look(AnswerId::Nothing, AnswerId::Good);
        } else {
            let verdict = run.look(AnswerId::Nothing, AnswerId::Good).verdict;
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
    run.look(AnswerId::Nothing, AnswerId::Good);
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
    run.look(AnswerId::Nothing, AnswerId::Good);
    run.on();
    run.answer(&[]);
    let outcome = run.on().outcome.unwrap();
    // One of three is less than what can be: no lesson.
    assert_eq!(outcome.bath_counted, None);
    assert_eq!(outcome.bathed.unwrap().baths[0].passes.len(), 1);
}

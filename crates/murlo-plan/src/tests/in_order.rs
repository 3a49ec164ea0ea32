//! The steps, their order and what belongs to each.

use crate::fixtures::{plan, with_facts};
pub(crate) use crate::*;
use murlo_brewer::instruction::Instruction;
use murlo_brewer::rinse::Counted;
use murlo_brewer::{Brewer, Care, Family, Filter, Meaning, Part, ReaderWindow, Signal};

fn changed(family: Family, change: impl FnOnce(&mut Brewer)) -> Plan {
    with_facts(family, 180.0, 90, |facts| {
        let mut brewer = facts.brewer.clone();
        change(&mut brewer);
        let circuit = &brewer.circuits[0];
        Facts {
            brewer: &brewer,
            circuit,
            ..facts.clone()
        }
        .plan(&PlanOptions::default())
        .unwrap()
    })
}

pub(super) fn step<'a>(plan: &'a Plan, id: &str) -> &'a Step {
    plan.steps
        .iter()
        .find(|s| s.id == id)
        .unwrap_or_else(|| panic!("no step {id}"))
}

#[test]
fn every_step_says_what_how_to_check_and_the_usual_mistake() {
    for family in Family::ALL {
        let plan = plan(family, &PlanOptions::default()).unwrap();
        for step in &plan.steps {
            assert!(
                !step.what.is_empty() && !step.check.is_empty() && !step.mistake.is_empty(),
                "{}",
                step.id
            );
            assert!(
                !step.act.is_empty() && step.hands_on_min > 0.0,
                "{}",
                step.id
            );
        }
        let ids: std::collections::HashSet<_> = plan.steps.iter().map(|s| &s.id).collect();
        assert_eq!(ids.len(), plan.steps.len());
    }
}

#[test]
fn cautions_stand_on_the_steps_they_belong_to() {
    let pod = plan(Family::PodReservoir, &PlanOptions::default()).unwrap();
    let drip = plan(Family::Drip, &PlanOptions::default()).unwrap();
    let warns =
        |plan: &Plan, id: &str, hazard| step(plan, id).cautions.iter().any(|c| c.hazard == hazard);
    for (plan, id, hazard) in [
        (&pod, "ready", Hazard::Unplug),
        (&pod, "ready", Hazard::Manual),
        (&pod, "body", Hazard::NeverMix),
        (&pod, "needles", Hazard::Sharp),
        (&pod, "mix", Hazard::Acid),
        (&pod, "mix", Hazard::NeverMix),
        (&pod, "first", Hazard::Hot),
        (&drip, "half", Hazard::Hot),
        (&drip, "wash", Hazard::Glass),
        (&drip, "rinse", Hazard::Hot),
    ] {
        assert!(warns(plan, id, hazard), "{id} {hazard:?}");
    }
    assert!(
        !warns(&pod, "wash", Hazard::Glass),
        "a pod brewer has no carafe to crack"
    );
    let hands = |plan: &Plan| {
        plan.steps
            .iter()
            .filter(|s| !s.plugged && !s.is(Kind::Cool))
            .all(|s| matches!(s.doing, Doing::Once | Doing::Clear { .. }))
    };
    assert!(
        hands(&pod) && hands(&drip),
        "nothing is dispensed or timed while unplugged"
    );
}

#[test]
fn a_filter_goes_out_before_any_acid_and_back_after_the_rinse() {
    let with = changed(Family::Drip, |b| b.filter = Some(Filter::CHARCOAL));
    let place = |id: &str| with.steps.iter().position(|s| s.id == id).unwrap();
    assert!(place("filter") < place(MIX) && place(RINSE) < place("put_back"));
    assert!(
        step(&with, "put_back")
            .what
            .iter()
            .any(|line| line.contains("refit"))
    );
    let without = changed(Family::Drip, |b| b.filter = None);
    assert!(!without.steps.iter().any(|s| s.id == "filter"));
    assert!(
        !step(&without, "put_back")
            .what
            .iter()
            .any(|line| line.contains("filter"))
    );
}

#[test]
fn a_cleaning_programme_takes_the_place_of_brewing_by_halves() {
    let plan = changed(Family::Drip, |b| {
        b.self_clean = true;
        b.brew_minutes = Some(12.0);
    });
    assert!(
        !plan
            .steps
            .iter()
            .any(|s| ["half", "soak", "run"].contains(&s.id.as_str()))
    );
    assert_eq!(
        step(&plan, "programme").doing,
        Doing::Wait { minutes: 36.0 }
    );
    let by_hand = changed(Family::Drip, |b| b.brew_minutes = Some(12.0));
    assert_eq!(step(&by_hand, "half").hands_free_min, 6.0);
    assert_eq!(
        step(&by_hand, "rinse").hands_free_min,
        12.0 * f64::from(by_hand.rinse.portions)
    );
}

#[test]
fn the_ribbon_is_the_steps_end_to_end() {
    for family in Family::ALL {
        let plan = plan(family, &PlanOptions::default()).unwrap();
        let mut clock = 0.0;
        let (fitted, own): (Vec<_>, Vec<_>) = plan
            .ribbon
            .stretches
            .iter()
            .partition(|s| s.during.is_some());
        for stretch in own {
            assert!((stretch.start_min - clock).abs() < 1e-9 && stretch.minutes > 0.0);
            clock += stretch.minutes;
        }
        assert!((clock - plan.ribbon.elapsed_min).abs() < 1e-9);
        for stretch in fitted {
            let wait = plan
                .ribbon
                .stretches
                .iter()
                .find(|s| !s.hands_on && Some(&s.step) == stretch.during.as_ref());
            let wait = wait.unwrap();
            assert!(stretch.start_min >= wait.start_min);
            assert!(stretch.start_min + stretch.minutes <= wait.start_min + wait.minutes);
        }
        let all = |of: fn(&Stretch) -> bool| -> f64 {
            let stretches = plan.ribbon.stretches.iter();
            stretches.filter(|s| of(s)).map(|s| s.minutes).sum()
        };
        let at_it = all(|s| s.hands_on || s.near);
        let (hands, near) = (plan.ribbon.hands_on_min, plan.ribbon.near_min);
        assert!((at_it - hands - near).abs() < 1e-9);
        let alone = all(|s| !s.hands_on && !s.near);
        assert!(plan.ribbon.free_min <= alone + 1e-9);
    }
}

#[test]
fn one_dispense_of_bath_is_run_without_a_count_afterwards() {
    let options = PlanOptions {
        bath: Some("1½ cups".into()),
        ..Default::default()
    };
    let plan = plan(Family::PodReservoir, &options).unwrap();
    assert_eq!(plan.dispensing.count, 1);
    assert!(
        !plan.steps.iter().any(|s| s.id == "run"),
        "nothing is left to count"
    );
}

#[test]
fn a_one_cup_brewer_is_paused_at_the_first_drops_and_rinsed_cup_by_cup() {
    let plan = plan(Family::OneCupPod, &PlanOptions::default()).unwrap();
    let ids: Vec<_> = plan.steps.iter().map(|s| s.id.as_str()).collect();
    assert!(
        ids.windows(3).any(|w| w == ["first", "soak", "run"]),
        "{ids:?}"
    );
    assert_eq!(
        (plan.bath.percent, plan.bath.total.text.as_str()),
        (5.0, "1½ cups")
    );
    let run = step(&plan, "run");
    assert!(
        run.what
            .iter()
            .any(|w| w.contains("let go before the pump runs dry"))
    );
    let rinse = &step(&plan, "rinse").what;
    assert!(rinse.iter().any(|w| w.starts_with("Pour in ")), "{rinse:?}");
    assert_eq!(plan.rinse.per_fill, 1);
    let Doing::Clear { needles } = &step(&plan, "needles").doing else {
        panic!("needles are cleared");
    };
    assert_eq!(needles.len(), 6);
}

#[test]
fn a_coded_capsule_brewer_runs_its_programme_with_the_disc_and_a_vessel_for_all_of_it() {
    let facts = |f: &Facts| {
        let mut brewer = f.brewer.clone();
        brewer.reader = Some(ReaderWindow::RightAngle);
        brewer.places.disc = "in its slot under the tray".into();
        let with = Facts {
            brewer: &brewer,
            ..f.clone()
        };
        with.plan(&PlanOptions::default()).unwrap()
    };
    let plan = with_facts(Family::CodedCapsule, 180.0, 90, facts);
    assert!(
        (plan.bath.total.ml - 500.0).abs() < 60.0,
        "{}",
        plan.bath.total.text
    );
    assert_eq!(plan.vessel.ml, plan.bath.total.ml);
    let disc = step(&plan, "disc");
    assert!(disc.what.iter().any(|w| w.contains("at a right angle")));
    assert!(
        disc.what
            .iter()
            .any(|w| w.contains("in its slot under the tray"))
    );
    assert!(
        plan.kit
            .iter()
            .any(|k| k.starts_with("Service disc: the disc whose code"))
    );
    assert_eq!(
        step(&plan, "programme").doing,
        Doing::Wait { minutes: 20.0 }
    );
    assert_eq!(plan.chosen.soak_minutes, 20.0);
    assert!(
        plan.reasons
            .iter()
            .any(|r| r.contains("written down for this brewer"))
    );
}

#[test]
fn each_side_of_a_combination_is_cleaned_in_its_own_way() {
    with_facts(Family::Combination, 180.0, 90, |grounds| {
        let told = |plan: &Plan, words: &str| plan.reasons.iter().any(|r| r.contains(words));
        let shared = grounds.plan(&PlanOptions::default()).unwrap();
        assert!(told(&shared, "share one reservoir"));
        let mut brewer = grounds.brewer.clone();
        brewer.circuits[1].reservoir_ml = Some(1000.0);
        let apart = Facts {
            brewer: &brewer,
            ..grounds.clone()
        };
        assert!(told(
            &apart.plan(&PlanOptions::default()).unwrap(),
            "side by side"
        ));
        let carafe = grounds.plan(&PlanOptions::default()).unwrap();
        assert_eq!(carafe.side.as_deref(), Some("carafe side"));
        let says = |plan: &Plan, words: &str| {
            let what = &step(plan, "programme").what;
            what.iter().any(|w| w.to_lowercase().contains(words))
        };
        assert!(says(&carafe, "carafe in place"));
        assert!(!carafe.steps.iter().any(|s| s.id == "needles"));
        let today = Today {
            beside: true,
            measured: Measured {
                programme_min: Some(41.0),
                ..Measured::default()
            },
            why_side: Some("The carafe side was cleaned last time.".into()),
            ..Today::default()
        };
        let mut runs_itself = grounds.brewer.circuits[1].clone();
        runs_itself.mechanics.programme = Some(true);
        let pod = Facts {
            circuit: &runs_itself,
            today,
            ..grounds.clone()
        };
        let pod = pod.plan(&PlanOptions::default()).unwrap();
        assert_eq!(pod.side.as_deref(), Some("pod side"));
        assert!(says(&pod, "fit the pod adapter"));
        assert_eq!(step(&pod, "programme").doing, Doing::Wait { minutes: 41.0 });
        // The other side stands ready already, and is running on the same plug: no hand goes inside.
        assert_eq!(pod.steps[0].id, "baseline");
        assert!(pod.reasons.iter().any(|r| r.contains("cleaned last time")));
    });
}

#[test]
fn what_was_written_down_for_a_brewer_is_shown_at_its_step() {
    let facts = |f: &Facts| {
        let mut brewer = f.brewer.clone();
        let operation = &mut brewer.circuits[0].operation;
        operation.rearm = "lid open, lid closed".into();
        operation.enter = "lever up, then the round button".into();
        operation.hold_seconds = Some(6.0);
        operation.reenter = true;
        operation.leave = "switch off".into();
        operation.signals = vec![Signal {
            seen: "cup light flashes".into(),
            means: Meaning::YourTurn,
            lamp: None,
        }];
        brewer.hot_water = true;
        brewer.places.guide = "drawer under the kettle".into();
        let with = Facts {
            brewer: &brewer,
            circuit: &brewer.circuits[0],
            today: Today {
                filter_due: true,
                ..Today::default()
            },
            ..f.clone()
        };
        with.plan(&PlanOptions::default()).unwrap()
    };
    let plan = with_facts(Family::PodReservoir, 180.0, 90, facts);
    let says = |id: &str, words: &str| step(&plan, id).what.iter().any(|w| w.contains(words));
    for (id, words) in [
        ("ready", "drawer under the kettle"),
        ("first", "round button. Hold for 6 s."),
        ("run", "Between presses: lid open, lid closed."),
        ("hot_water", "hot-water outlet"),
        ("rinse", "hot-water outlet"),
        ("filter", "worn out"),
        ("filter_soak", "glass of fresh water"),
        ("put_back", "Leave the cleaning mode: switch off."),
        ("put_back", "new filter"),
    ] {
        assert!(says(id, words), "{id}: {words}");
    }
    assert_eq!(step(&plan, "rinse").signals[0].seen, "cup light flashes");
    let refill = step(&plan, "rinse").refill.as_deref().unwrap();
    assert!(refill.ends_with("round button. Hold for 6 s."), "{refill}");
    assert_eq!(step(&plan, "filter_soak").during.as_deref(), Some(SOAK));
    assert!(plan.kit.contains(&"A new water filter".to_owned()));
}

#[test]
fn what_was_counted_corrects_the_next_prediction_for_bath_and_rinse_apart() {
    let counted = |volume_ml, dispenses| Counted {
        volume_ml,
        dispenses,
    };
    with_facts(Family::PodReservoir, 180.0, 90, |facts| {
        let plain = facts.plan(&PlanOptions::default()).unwrap();
        let with = |measured| {
            let today = Today {
                measured,
                ..Today::default()
            };
            Facts {
                today,
                ..facts.clone()
            }
            .plan(&PlanOptions::default())
            .unwrap()
        };
        let total = plain.bath.total.ml;
        let more = plain.dispensing.count + 1;
        let taught = with(Measured {
            bath: vec![counted(total, more)],
            ..Measured::default()
        });
        assert_eq!(taught.dispensing.count, more);
        assert_eq!(
            taught.rinse, plain.rinse,
            "a bath says nothing about rinse water"
        );
        let told = |plan: &Plan| plan.reasons.iter().any(|r| r.contains("counted otherwise"));
        assert!(told(&taught) && !told(&plain));
        let fewer = plain.rinse.per_fill - 1;
        let taught = with(Measured {
            fill: vec![counted(plain.reservoir_ml, fewer)],
            ..Measured::default()
        });
        assert_eq!(taught.rinse.per_fill, fewer);
        assert!(
            taught.rinse.portions <= plain.rinse.portions,
            "larger portions, not more of them"
        );
        assert_eq!(taught.dispensing, plain.dispensing);
        // What agrees with the prediction leaves it alone.
        let same = with(Measured {
            bath: vec![counted(total, plain.dispensing.count)],
            ..Measured::default()
        });
        assert_eq!(same.dispensing, plain.dispensing);
    });
}

#[test]
fn a_bath_that_its_programme_is_too_short_for_is_not_recommended() {
    with_facts(Family::CodedCapsule, 250.0, 40, |facts| {
        let compared = |by_hand| {
            let options = PlanOptions {
                by_hand,
                ..PlanOptions::default()
            };
            facts.compare(&options).unwrap().alternatives
        };
        let programme = facts.programme_minutes().0;
        for a in compared(false) {
            let short = a.soak_min > programme;
            let said = a.against.as_deref() == Some("its programme ends too soon for it");
            assert!(!short || a.against.is_some(), "{a:?}");
            assert!(!said || short, "{a:?}");
        }
        assert!(
            compared(true)
                .iter()
                .all(|a| a.against.as_deref() != Some("its programme ends too soon for it"))
        );
    });
}

#[test]
fn a_brewer_with_a_programme_is_also_run_by_hand() {
    for (family, by_programme, by_hand) in [
        (Family::CodedCapsule, "programme", "first"),
        (Family::Combination, "programme", "half"),
    ] {
        let ids = |by_hand| {
            let options = PlanOptions {
                by_hand,
                ..PlanOptions::default()
            };
            let plan = plan(family, &options).unwrap();
            plan.steps.into_iter().map(|s| s.id).collect::<Vec<_>>()
        };
        assert!(ids(false).iter().any(|id| id == by_programme), "{family:?}");
        let by_hand_ids = ids(true);
        assert!(
            !by_hand_ids.iter().any(|id| id == by_programme),
            "{family:?}"
        );
        assert!(
            by_hand_ids.iter().any(|id| id == by_hand),
            "{family:?}: {by_hand_ids:?}"
        );
    }
}

#[test]
fn where_there_are_no_needles_none_can_be_cleared() {
    let options = PlanOptions {
        work: Work::Needles,
        ..PlanOptions::default()
    };
    for (family, clears) in [
        (Family::Drip, false),
        (Family::PumpCapsule, false),
        (Family::Combination, false),
        (Family::CodedCapsule, true),
    ] {
        match plan(family, &options) {
            Ok(plan) => assert!(
                clears && plan.steps.iter().any(|s| s.id == "needles"),
                "{family:?}"
            ),
            Err(problems) => assert!(!clears && problems.0[0].field == "work", "{family:?}"),
        }
    }
}

#[test]
fn a_holder_that_is_not_to_be_forced_soaks_beside_the_bath() {
    with_facts(Family::PodReservoir, 180.0, 90, |facts| {
        let mut brewer = facts.brewer.clone();
        let mut needles = brewer.needles();
        for needle in &mut needles {
            needle.comes_out = false;
        }
        brewer.needles = Some(needles);
        brewer.parts = Some(vec![Part {
            name: "lid".into(),
            care: Care::WipeOnly,
            in_use: true,
        }]);
        let facts = Facts {
            brewer: &brewer,
            circuit: &brewer.circuits[0],
            ..facts.clone()
        };
        let plan = facts.plan(&PlanOptions::default()).unwrap();
        let at = |id: &str| plan.steps.iter().position(|s| s.id == id).unwrap();
        assert!(
            at("holder_soak") < at("flush") && step(&plan, "holder_soak").during.is_none(),
            "hands are at the holder before anything is hot"
        );
        assert_eq!(
            step(&plan, "parts").what[0],
            "Never under water, only wiped: lid."
        );
        let rehearsal = PlanOptions {
            work: Work::Rehearsal,
            ..PlanOptions::default()
        };
        let plan = facts.plan(&rehearsal).unwrap();
        assert!(plan.steps.iter().all(|s| s.id != "holder_soak"));
    });
}

#[test]
fn the_vessel_stands_before_the_plug_goes_in_and_before_any_switch() {
    for family in Family::ALL {
        let rehearsal = PlanOptions {
            work: Work::Rehearsal,
            ..PlanOptions::default()
        };
        for options in [PlanOptions::default(), rehearsal] {
            for step in &plan(family, &options).unwrap().steps {
                let at = |is: fn(&Instruction) -> bool| step.instructions.iter().position(is);
                let vessel = at(|i| matches!(i, Instruction::PlaceVessel { .. }));
                let power = at(|i| matches!(i, Instruction::PlugIn | Instruction::SwitchOn));
                if let (Some(vessel), Some(power)) = (vessel, power) {
                    assert!(vessel < power, "{family:?}, {}: {:?}", step.id, step.what);
                }
            }
        }
    }
}

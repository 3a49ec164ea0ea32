//! How much bath there is, and how many dispenses it gives.

use crate::fixtures::{plan, with_facts, with_told};
use crate::tests::soaks::course_of;
use crate::*;
use murlo_base::units::{CUP_ML, Tool, Units};
use murlo_brewer::bath::Recipe;
use murlo_brewer::{BrewerDraft, Family};
use murlo_chemistry::heater::Way;

#[test]
fn the_next_strength_up_never_needs_goggles() {
    for (percent, stronger) in [
        (9.0, Some(9.0)),
        (9.9, Some(9.9)),
        (10.0, None),
        (24.0, None),
    ] {
        let options = PlanOptions {
            percent: Some(percent),
            recipe: Some(Recipe::Ratio {
                agent: 1.0,
                water: 1.0,
            }),
            ..PlanOptions::default()
        };
        let plan = plan(Family::OneCupPod, &options).unwrap();
        let next = plan
            .stronger
            .filter(|s| s.bath.percent > 9.5 || percent < 9.5);
        let next = next.map(|s| (s.bath.percent * 10.0).round() / 10.0);
        match stronger {
            Some(strength) => assert!(next.is_none_or(|p| p <= strength), "{percent}: {next:?}"),
            None => assert_eq!(next, None, "{percent}"),
        }
    }
}

#[test]
fn what_the_steps_do_to_the_bath_is_what_the_advice_was_reckoned_from() {
    for family in Family::ALL {
        for hot_water in [false, true] {
            let tell = |draft: &mut BrewerDraft| draft.hot_water = hot_water;
            with_told(family, 250.0, 90, tell, |facts| {
                let options = PlanOptions::default();
                let plan = facts.plan(&options).unwrap();
                let choice = facts.choose(&options, None).unwrap();
                let worked = facts.work_out(&choice, 1, 0.0);
                let mut advised = worked.asked.course.passes(&worked.advice.soaks);
                let done = crate::bathing::planned(&plan.steps, &plan.bath).unwrap();
                assert_eq!(done.acid, choice.agent.acid());
                assert_eq!(done.baths.len(), 1, "{family:?}");
                let mut passes = done.baths[0].passes.clone();
                let pressed = facts.way() == Way::Presses;
                // Beside a programme a cup of hot water comes on top.
                passes.retain(|p| pressed || p.how != murlo_chemistry::cleaning::How::Press);
                // A cup of hot water is a smaller press of its own.
                for pass in advised.iter_mut().chain(&mut passes) {
                    // Nothing keeps a paused cup or a stopped riser warm, whatever its switch.
                    pass.heated &= pass.how == murlo_chemistry::cleaning::How::Press;
                    if hot_water && pass.how == murlo_chemistry::cleaning::How::Press {
                        pass.ml = 0.0;
                    }
                }
                assert_eq!(passes, advised, "{family:?}, hot water {hot_water}");
            });
        }
    }
}

#[test]
fn a_bath_gives_a_fifth_more_than_its_first_dispense_where_a_dispense_is_large() {
    with_facts(Family::PumpCapsule, 180.0, 90, |facts| {
        let mut brewer = facts.brewer.clone();
        for (dispense, bath) in [(400.0, 500.0), (420.0, 500.0), (700.0, 840.0)] {
            brewer.circuits[0].dispense_ml = dispense;
            brewer.circuits[0].dead_volume_ml = 0.0;
            let facts = Facts {
                brewer: &brewer,
                circuit: &brewer.circuits[0],
                units: Units::Metric,
                ..facts.clone()
            };
            let options = PlanOptions {
                measure: Some(Tool::Ml),
                ..PlanOptions::default()
            };
            let plan = facts.plan(&options).unwrap();
            // Down to a mark that can be read off.
            let rounded = bath - plan.bath.total.ml;
            assert!(
                (0.0..26.0).contains(&rounded),
                "{dispense}: {}",
                plan.bath.total.ml
            );
        }
    });
}

#[test]
fn how_much_bath_there_is_goes_by_agent_family_units_and_what_was_typed() {
    let of = |family, units, options: PlanOptions| {
        with_facts(family, 180.0, 90, |facts| {
            let facts = Facts {
                units,
                ..facts.clone()
            };
            let capacity = facts.reservoir_ml();
            facts
                .plan(&options)
                .map(|plan| (plan.bath.total.ml, plan.chosen.measure, capacity))
        })
    };
    let with = |agent: &str| PlanOptions {
        agent_id: Some(agent.into()),
        ..PlanOptions::default()
    };
    let pod = Family::PodReservoir;
    // A pod brewer's dose, by what people measure in.
    let (ml, tool, _) = of(pod, Units::Us, with("vinegar")).unwrap();
    assert!(
        (ml - 4.0 * 236.588).abs() < 1.0 && tool == Tool::Cups,
        "{ml} {tool:?}"
    );
    let (ml, tool, _) = of(pod, Units::Metric, with("vinegar")).unwrap();
    assert!(
        (ml - 950.0).abs() < 1.0 && tool == Tool::Ml,
        "{ml} {tool:?}"
    );
    // A bottle is used whole with as much water, or filled up to the top.
    let (ml, tool, _) = of(pod, Units::Us, with("bottled")).unwrap();
    assert!(
        (ml - 946.0).abs() < 1.0 && tool == Tool::Bottle,
        "{ml} {tool:?}"
    );
    let full = PlanOptions {
        fill: Some(Fill::Full),
        ..with("bottled")
    };
    let (ml, _, capacity) = of(pod, Units::Us, full).unwrap();
    assert!(ml > 0.6 * capacity && ml > 947.0, "{ml} of {capacity}");
    let to_a_mark = PlanOptions {
        agent_amount: Some("16 fl oz".into()),
        ..with("vinegar")
    };
    let (ml, _, capacity) = of(pod, Units::Us, to_a_mark).unwrap();
    assert!(
        (ml - capacity).abs() < 60.0,
        "agent to a mark, then water to the top: {ml}"
    );
    let (ml, tool, _) = of(Family::Drip, Units::Us, with("vinegar")).unwrap();
    assert!(ml > 1000.0 && tool == Tool::CarafeMarks, "{ml} {tool:?}");
    let (ml, _, _) = of(Family::PumpCapsule, Units::Metric, with("citric")).unwrap();
    assert!((ml - 500.0).abs() < 1.0, "{ml}");
    // Just below, at and above what the reservoir holds: 48 fl oz.
    for (bath, fits) in [
        ("47.9 fl oz", true),
        ("48 fl oz", true),
        ("48.1 fl oz", false),
    ] {
        let typed = PlanOptions {
            bath: Some(bath.into()),
            ..with("vinegar")
        };
        assert_eq!(of(pod, Units::Us, typed).is_ok(), fits, "{bath}");
    }
    // And what the whole bath is: 32 fl oz of 32.
    for (amount, fits) in [
        ("31.9 fl oz", true),
        ("32 fl oz", true),
        ("32.1 fl oz", false),
    ] {
        let typed = PlanOptions {
            bath: Some("32 fl oz".into()),
            agent_amount: Some(amount.into()),
            ..with("vinegar")
        };
        assert_eq!(of(pod, Units::Us, typed).is_ok(), fits, "{amount}");
    }
}

#[test]
fn a_bath_must_give_its_dispenses_with_a_late_mode_and_a_hot_water_outlet() {
    // Ten ounces a dispense and one that stays: 11, 21 with one more, 31 with both.
    for (mode, hot, least) in [
        (false, false, 11.0),
        (true, false, 21.0),
        (false, true, 21.0),
        (true, true, 31.0),
    ] {
        let tell = |draft: &mut BrewerDraft| {
            draft.hot_water = hot;
            draft.mechanics.mode = Some(mode);
            draft.mechanics.soaks_inside = mode.then_some(false);
        };
        for (off, fits) in [(-1.0, false), (0.0, true), (1.0, true)] {
            let options = PlanOptions {
                bath: Some(format!("{} fl oz", least + off)),
                measure: Some(Tool::FlOz),
                ..PlanOptions::default()
            };
            let planned = with_told(Family::PodReservoir, 180.0, 90, tell, |facts| {
                facts.plan(&options).is_ok()
            });
            assert_eq!(
                planned, fits,
                "mode {mode}, hot water {hot}, {least} {off:+}"
            );
        }
    }
}

#[test]
fn a_late_mode_is_entered_though_the_last_dispense_is_short_by_drops() {
    for (short, course) in [
        (-1.0, Some("first, soak 20, run 1")),
        (0.1, Some("first, soak 20, run 1")),
        (0.99, Some("first, soak 20, run 1")),
        (1.01, None),
    ] {
        let tell = |draft: &mut BrewerDraft| {
            draft.mechanics.mode = Some(true);
            draft.mechanics.soaks_inside = Some(false);
        };
        let options = PlanOptions {
            bath: Some("4 cups".into()),
            measure: Some(Tool::Cups),
            soak_minutes: Some(20.0),
            ..PlanOptions::default()
        };
        let found = with_told(Family::PodReservoir, 180.0, 90, tell, |facts| {
            let mut circuit = facts.circuit.clone();
            let there = 4.0 * CUP_ML - circuit.dead_volume_ml;
            circuit.dispense_ml = (there + short) / 2.0;
            let facts = Facts {
                circuit: &circuit,
                ..facts.clone()
            };
            facts.plan(&options).ok().map(|plan| course_of(&plan))
        });
        assert_eq!(found.as_deref(), course, "short by {short} mL");
    }
}

#[test]
fn hot_water_takes_its_cup_only_where_a_dispense_is_left() {
    // A cup of 8 fl oz, a dispense of 10 and one that stays: from 21 on, where the cup is as large as 10 allow.
    let counted = |bath: &str| {
        let tell = |draft: &mut BrewerDraft| draft.hot_water = true;
        let options = PlanOptions {
            bath: Some(bath.into()),
            measure: Some(Tool::FlOz),
            ..PlanOptions::default()
        };
        with_told(Family::PodReservoir, 180.0, 90, tell, |facts| {
            let d = facts.plan(&options).unwrap().dispensing;
            (d.count, d.hot_water_ml > 0.0)
        })
    };
    for (bath, presses) in [(21, 1), (28, 1), (29, 2), (38, 2), (39, 3)] {
        assert_eq!(counted(&format!("{bath} fl oz")), (presses, true), "{bath}");
    }
}

#[test]
fn against_dirt_the_mildest_bath_and_a_short_soak_do() {
    for family in Family::ALL {
        with_facts(family, 20.0, 30, |facts| {
            let asked = PlanOptions {
                dirt: true,
                ..PlanOptions::default()
            };
            let taken = facts.recommended(asked).unwrap();
            let plan = facts.plan(&taken).unwrap();
            assert_eq!(plan.likely_baths, 1);
            assert!(
                plan.bath.percent < 1.0,
                "{family:?}: {} %",
                plan.bath.percent
            );
            if facts.way() != Way::Programme {
                assert_eq!(plan.chosen.soak_minutes, 10.0, "{family:?}");
            }
            assert!(plan.soak.reason.contains("not for chalk") || facts.way() == Way::Programme);
        });
    }
}

#[test]
fn water_that_is_bought_is_listed_and_paid_for_as_the_steps_fill_it_in() {
    for family in Family::ALL {
        let plan = |price: Option<f64>| {
            with_facts(family, 180.0, 90, |facts| {
                let terms = murlo_chalk::money::Terms {
                    water_a_litre: price,
                    ..facts.terms.clone()
                };
                let facts = Facts {
                    terms: &terms,
                    ..facts.clone()
                };
                facts.plan(&PlanOptions::default()).unwrap()
            })
        };
        let listed = |plan: &Plan| {
            plan.kit
                .iter()
                .any(|k| k.starts_with("Water you buy: about "))
        };
        let (tap, bought) = (plan(None), plan(Some(1.0)));
        assert!(
            !listed(&tap) && listed(&bought),
            "{family:?} {:?}",
            bought.kit
        );
        // A litre costs one: at least the rinse and the bath's own water, no more than each step filled to the top.
        let cost = bought.cost.as_ref().unwrap();
        let line = cost.lines.iter().find(|l| l.what.contains("water"));
        let litres = line.unwrap_or_else(|| panic!("{:?}", cost.lines)).amount;
        let least = (bought.rinse.water.ml + bought.bath.water.ml) / 1000.0;
        assert!(
            litres > least && litres < least + 6.0,
            "{family:?} {litres} {least}"
        );
    }
}

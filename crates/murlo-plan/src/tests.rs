mod amounts;
mod by_way;
mod chosen;
mod in_order;
mod over_days;
mod soaks;
mod sour;
mod worked;

use self::in_order::step as step_of;
use super::*;
use crate::fixtures::{plan, plan_with, with_facts};
use murlo_base::problem::Code;
use murlo_base::units::Tool;
use murlo_brewer::Family;
use murlo_brewer::bath::{Agent, AgentForm, Recipe};

#[test]
fn who_has_a_keen_nose_is_asked_by_name() {
    with_facts(Family::PodReservoir, 180.0, 90, |facts| {
        let how = |noses: &[&str]| {
            let today = Today {
                noses: noses.iter().map(|n| (*n).to_owned()).collect(),
                ..Today::default()
            };
            let facts = Facts {
                today,
                ..facts.clone()
            };
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            let verify = plan.steps.iter().find(|s| s.is(Kind::Verify)).unwrap();
            let Doing::Ask { questions } = &verify.doing else {
                panic!("{verify:?}")
            };
            questions[0].how.clone()
        };
        assert!(how(&[]).contains("fresh air first"));
        assert!(how(&["Ana"]).starts_with("Best asked of Ana."));
        assert!(how(&["Ana", "Bo", "Cy"]).starts_with("Best asked of Ana, Bo or Cy."));
    });
}

#[test]
fn a_pod_brewer_gets_half_and_half_with_whole_dispenses() {
    let plan = plan(Family::PodReservoir, &PlanOptions::default()).unwrap();
    assert_eq!(
        (plan.bath.agent_text.as_str(), plan.bath.water.text.as_str()),
        ("2 cups", "2 cups")
    );
    assert_eq!(
        plan.dispensing.text,
        "3 dispenses of 10 fl oz, then about 2 fl oz to pour away"
    );
    assert!((plan.bath.percent - 2.5).abs() < 1e-9);
    let ids: Vec<_> = plan.steps.iter().map(|s| s.id.as_str()).collect();
    let order = [
        "baseline", "ready", "cool", "filter", "body", "parts", "needles", "flush", "mix", "first",
        "run", "soak", "run-2", "look", "others", "wash", "rinse", "verify", "put_back",
    ];
    assert_eq!(ids, order);
    assert!(plan.ribbon.elapsed_min > plan.ribbon.hands_on_min);
    assert!(plan.after.unwrap().mg < 0.6 * plan.chalk.mg);
}

#[test]
fn a_pump_capsule_brewer_runs_with_an_empty_capsule_and_rinses_little() {
    let plan = plan(Family::PumpCapsule, &PlanOptions::default()).unwrap();
    let ids: Vec<_> = plan.steps.iter().map(|s| s.id.as_str()).collect();
    let order = [
        "baseline", "ready", "cool", "body", "parts", "capsule", "flush", "mix", "first", "run",
        "look", "wash", "rinse", "others", "verify", "put_back",
    ];
    assert_eq!(ids, order);
    assert!(
        step_of(&plan, "flush")
            .what
            .iter()
            .any(|w| w.starts_with("Put in a used capsule"))
    );
    assert!(plan.kit.iter().any(|k| k.contains("used capsule")));
    // 60 mL stay behind and 118 mL go through: far fewer rinses than a full hot tank needs.
    let pod = self::plan(Family::PodReservoir, &PlanOptions::default()).unwrap();
    assert!(
        plan.rinse.portions * 2 <= pod.rinse.portions + 2,
        "{}",
        plan.rinse.portions
    );
    assert!(plan.after.unwrap().mg < 0.6 * plan.chalk.mg);
}

#[test]
fn every_family_keeps_the_order_of_work_in_its_own_way() {
    let by = |family, by_hand, circuit: usize| {
        with_facts(family, 180.0, 90, |facts| {
            let circuit = &facts.brewer.circuits[circuit];
            let facts = Facts {
                circuit,
                ..facts.clone()
            };
            let options = PlanOptions {
                by_hand,
                agent_id: Some("vinegar".into()),
                ..PlanOptions::default()
            };
            let plan = facts.plan(&options).unwrap();
            let order: Vec<_> = plan.steps.iter().map(|s| s.id.clone()).collect();
            order.join(" ")
        })
    };
    let ends = "wash rinse verify put_back";
    for (family, by_hand, circuit, order) in [
        (
            Family::OneCupPod,
            false,
            0,
            "baseline ready cool body parts needles flush mix first soak run look others",
        ),
        (
            Family::CodedCapsule,
            false,
            0,
            "baseline ready cool body parts needles capsule flush mix disc programme look others",
        ),
        (
            Family::CodedCapsule,
            true,
            0,
            "baseline ready cool body parts needles capsule flush mix first soak run look others",
        ),
        (
            Family::Drip,
            false,
            0,
            "baseline ready parts mix half soak run look body others",
        ),
        (
            Family::Combination,
            false,
            0,
            "baseline ready body parts mix programme look others",
        ),
        (
            Family::Combination,
            false,
            1,
            "baseline ready cool body parts needles flush mix first soak run look others",
        ),
        (
            Family::Combination,
            true,
            1,
            "baseline ready cool body parts needles flush mix first soak run look others",
        ),
    ] {
        assert_eq!(
            by(family, by_hand, circuit),
            format!("{order} {ends}"),
            "{family:?} {by_hand} {circuit}"
        );
    }
}

#[test]
fn a_drip_brewer_gets_a_third_by_its_own_carafe_marks() {
    let plan = plan(Family::Drip, &PlanOptions::default()).unwrap();
    assert_eq!(
        (plan.bath.agent_text.as_str(), plan.bath.water.text.as_str()),
        ("4 carafe marks", "6 carafe marks")
    );
    assert_eq!(plan.rinse.portions, 2);
    assert!(!plan.steps.iter().any(|s| s.id == "needles"));
}

#[test]
fn choices_are_taken_and_wrong_ones_name_their_field() {
    let neat = PlanOptions {
        recipe: Some(Recipe::Ratio {
            agent: 1.0,
            water: 0.0,
        }),
        percent: Some(8.0),
        soak_minutes: Some(5.0),
        ..Default::default()
    };
    let strong = plan(Family::PodReservoir, &neat).unwrap();
    assert!((strong.bath.percent - 8.0).abs() < 1e-9);
    assert!(
        strong.after.as_ref().unwrap().mg
            > plan(
                Family::PodReservoir,
                &PlanOptions {
                    soak_minutes: Some(40.0),
                    ..neat.clone()
                }
            )
            .unwrap()
            .after
            .unwrap()
            .mg,
        "a short soak leaves more"
    );
    for (options, code, field) in [
        (
            PlanOptions {
                agent_id: Some("soap".into()),
                ..Default::default()
            },
            Code::UnknownId,
            "agent_id",
        ),
        (
            PlanOptions {
                percent: Some(0.0),
                ..Default::default()
            },
            Code::OutOfRange,
            "percent",
        ),
        (
            PlanOptions {
                bath: Some("2 L".into()),
                ..Default::default()
            },
            Code::TooMuch,
            "bath",
        ),
        (
            PlanOptions {
                bath: Some("½ cup".into()),
                ..Default::default()
            },
            Code::OutOfRange,
            "bath",
        ),
        (
            PlanOptions {
                measure: Some(Tool::CarafeMarks),
                ..Default::default()
            },
            Code::Contradiction,
            "measure",
        ),
        (
            PlanOptions {
                recipe: Some(Recipe::Dose { g_per_l: 20.0 }),
                ..Default::default()
            },
            Code::Contradiction,
            "recipe",
        ),
        (
            PlanOptions {
                soak_minutes: Some(f64::NAN),
                ..Default::default()
            },
            Code::NotANumber,
            "soak_minutes",
        ),
    ] {
        let problems = plan(Family::PodReservoir, &options).unwrap_err().0;
        assert_eq!(
            (problems[0].code, problems[0].field.as_str()),
            (code, field),
            "{}",
            problems[0].message
        );
    }
}

#[test]
fn every_agent_and_school_makes_a_plan_that_fits_the_reservoir() {
    for family in Family::ALL {
        for agent in Agent::starters() {
            for recipe in Recipe::schools(&agent.form) {
                let options = PlanOptions {
                    agent_id: Some(agent.id.clone()),
                    recipe: Some(recipe),
                    ..Default::default()
                };
                let plan = plan(family, &options).unwrap();
                let holds = match family {
                    Family::Drip | Family::Combination => 1775.0,
                    Family::OneCupPod => 356.0,
                    _ => 1420.0,
                };
                assert!(
                    plan.bath.total.ml <= holds,
                    "{family:?} {}",
                    plan.bath.total.ml
                );
                assert!(
                    plan.working
                        .iter()
                        .all(|w| !w.source.is_empty() && !w.inputs.is_empty())
                );
            }
        }
    }
}

#[test]
fn a_bath_stops_at_its_dose_or_fills_the_reservoir_as_asked() {
    let bath = |family, fill| {
        let options = PlanOptions {
            fill,
            ..PlanOptions::default()
        };
        plan(family, &options).unwrap().bath.total.text
    };
    for (family, fill, total) in [
        (Family::PodReservoir, None, "4 cups"),
        (Family::PodReservoir, Some(Fill::Full), "6 cups"),
        (Family::Drip, None, "10 carafe marks"),
        (Family::Drip, Some(Fill::Full), "10 carafe marks"),
        (Family::Drip, Some(Fill::Dose), "10 carafe marks"),
    ] {
        assert_eq!(bath(family, fill), total, "{family:?} {fill:?}");
    }
}

#[test]
fn an_agent_poured_to_a_mark_is_filled_up_with_water() {
    let poured = |family, amount: &str| {
        plan(
            family,
            &PlanOptions {
                agent_amount: Some(amount.into()),
                ..PlanOptions::default()
            },
        )
    };
    let bath = poured(Family::PodReservoir, "16 fl oz").unwrap().bath;
    assert_eq!(
        (bath.agent_text.as_str(), bath.total.text.as_str()),
        ("2 cups", "6 cups")
    );
    let bath = poured(Family::Drip, "4 marks").unwrap().bath;
    assert_eq!(bath.actual_ratio.as_deref(), Some("2 : 3"));
    for wrong in ["7 cups", "a lot", ""] {
        let problems = poured(Family::PodReservoir, wrong).unwrap_err();
        assert_eq!(problems.0[0].field, "agent_amount", "{wrong}");
    }
}

#[test]
fn the_agent_can_be_poured_to_a_mark_by_its_name() {
    let named = plan_with(
        Family::PodReservoir,
        |d| {
            d.mechanics.marks = vec![murlo_brewer::NamedMark {
                name: "drop line".into(),
                ml: 2.0 * murlo_base::units::CUP_ML,
            }];
        },
        &PlanOptions {
            agent_amount: Some("Drop line".into()),
            ..PlanOptions::default()
        },
    );
    let bath = named.bath;
    assert_eq!(
        (bath.agent_text.as_str(), bath.total.text.as_str()),
        ("2 cups", "6 cups")
    );
}

#[test]
fn tablets_are_counted_whole_and_never_too_few() {
    let tablet = Agent {
        id: "tablet".into(),
        name: "Reef tablets".into(),
        form: AgentForm::Tablet {
            acid: murlo_chemistry::acid::Acid::Citric,
            grams: 12.0,
            water_ml: 500.0,
        },
        remarks: Vec::new(),
        label_ph: None,
        offers: Vec::new(),
        on_hand: Some(100.0),
    };
    tablet.check().unwrap();
    for (bath, text, percent) in [
        ("500 mL", "1 tablet", 2.4),
        ("750 mL", "2 tablets", 3.2),
        ("1 L", "2 tablets", 2.4),
    ] {
        let plan = with_facts(Family::PodReservoir, 180.0, 30, |facts| {
            let agents = [tablet.clone()];
            let options = PlanOptions {
                bath: Some(bath.into()),
                measure: Some(Tool::Ml),
                ..PlanOptions::default()
            };
            Facts {
                agents: &agents,
                ..facts.clone()
            }
            .plan(&options)
            .unwrap()
        });
        assert_eq!(plan.bath.agent_text, text, "{bath}");
        assert!(
            (plan.bath.percent - percent).abs() < 1e-9,
            "{}",
            plan.bath.percent
        );
    }
}

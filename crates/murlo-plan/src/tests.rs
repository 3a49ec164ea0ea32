use super::*;
use crate::fixtures::{plan, plan_with, with_facts, with_told};
use murlo_base::problem::Code;
use murlo_base::units::CUP_ML;
use murlo_base::units::Tool;
use murlo_base::units::Units;
use murlo_brewer::Brewer;
use murlo_brewer::bath::Agent;
use murlo_brewer::bath::AgentForm;
use murlo_brewer::bath::Recipe;
use murlo_brewer::rinse::Counted;
use murlo_brewer::{BrewerDraft, Care, Family, Filter, Meaning, Part, ReaderWindow, Signal};
use murlo_chalk::money::Terms;
use murlo_chemistry::heater::Way;

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
        "ready", "filter", "parts", "needles", "flush", "baseline", "mix", "first", "run", "soak",
        "run-2", "look", "others", "body", "wash", "rinse", "verify", "put_back",
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
        "ready", "parts", "body", "capsule", "flush", "baseline", "mix", "first", "run", "look",
        "wash", "rinse", "others", "verify", "put_back",
    ];
    assert_eq!(ids, order);
    assert!(
        step(&plan, "first")
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
            "ready parts needles flush baseline mix first soak run look others body",
        ),
        (
            Family::CodedCapsule,
            false,
            0,
            "ready parts body needles capsule flush baseline mix disc programme look others",
        ),
        (
            Family::CodedCapsule,
            true,
            0,
            "ready parts needles capsule flush baseline mix first soak run look others body",
        ),
        (
            Family::Drip,
            false,
            0,
            "ready parts baseline mix half soak run look others body",
        ),
        (
            Family::Combination,
            false,
            0,
            "ready parts body baseline mix programme look others",
        ),
        (
            Family::Combination,
            false,
            1,
            "ready parts needles flush baseline mix first soak run look others body",
        ),
        (
            Family::Combination,
            true,
            1,
            "ready parts needles flush baseline mix first soak run look others body",
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
fn baths_are_compared_on_the_same_clean_and_the_quickest_sound_one_is_taken() {
    for (family, hardness, days) in [
        (Family::PodReservoir, 180.0, 90),
        (Family::Drip, 250.0, 60),
        (Family::PodReservoir, 40.0, 5),
    ] {
        let Comparison {
            alternatives,
            because,
            ..
        } = with_facts(family, hardness, days, |f| {
            f.compare(&PlanOptions::default())
        })
        .unwrap();
        assert_eq!(
            alternatives.len(),
            8,
            "five of vinegar, two of powder, one bottle"
        );
        let best: Vec<_> = alternatives.iter().filter(|a| a.recommended).collect();
        assert_eq!(best.len(), 1);
        assert!(because.starts_with(&best[0].agent_name), "{because}");
        let sound = alternatives.iter().filter(|a| a.against.is_none());
        assert!(sound.clone().all(|a| a.score_min >= best[0].score_min));
        let bottle = alternatives
            .iter()
            .find(|a| a.agent_id == "bottled")
            .unwrap();
        assert_eq!(
            bottle.against.as_deref(),
            Some("needs gloves and goggles"),
            "strong acid is offered, never recommended"
        );
    }
}

/// Which bath is recommended once the facts are changed, and what stands against the others.
fn recommended(
    days: i32,
    options: &PlanOptions,
    change: impl FnOnce(&mut Brewer, &mut Vec<Agent>, &mut Terms),
) -> (Option<Alternative>, Vec<String>) {
    with_facts(Family::PodReservoir, 180.0, days, |facts| {
        let (mut brewer, mut agents) = (facts.brewer.clone(), facts.agents.to_vec());
        let mut terms = facts.terms.clone();
        change(&mut brewer, &mut agents, &mut terms);
        let facts = Facts {
            brewer: &brewer,
            circuit: &brewer.circuits[0],
            agents: &agents,
            terms: &terms,
            ..facts.clone()
        };
        let all = facts.compare(options).unwrap().alternatives;
        let against = all.iter().filter_map(|a| a.against.clone()).collect();
        let best = all.into_iter().find(|a| a.recommended);
        let taken = facts.recommended(options.clone()).unwrap();
        match &best {
            Some(best) => assert_eq!(taken.agent_id.as_ref(), Some(&best.agent_id)),
            None => assert!(!brewer.forbids.contains(&taken.agent_id.unwrap_or_default())),
        }
        (best, against)
    })
}

#[test]
fn the_recommendation_heeds_maker_cupboard_smell_price_and_time() {
    let usual = PlanOptions::default();
    let (best, _) = recommended(90, &usual, |_, _, _| {});
    let first = best.unwrap().agent_id;
    let (best, against) = recommended(90, &usual, |b, _, _| b.forbids.push(first.clone()));
    assert_ne!(best.unwrap().agent_id, first);
    assert!(against.contains(&"forbidden by its maker".to_owned()));
    let (best, _) = recommended(90, &usual, |_, _, t| t.avoid_smell = true);
    assert_eq!(best.unwrap().agent_id, "citric");
    let (best, _) = recommended(90, &usual, |_, agents, _| {
        agents.iter_mut().for_each(|a| a.on_hand = Some(1.0));
    });
    let against_all = best.unwrap().against;
    assert_eq!(against_all.as_deref(), Some("more than is in the cupboard"));
    let (best, _) = recommended(90, &usual, |b, agents, _| {
        b.forbids.push(agents[0].id.clone());
        agents.iter_mut().for_each(|a| a.on_hand = Some(1.0));
    });
    assert_ne!(best.unwrap().agent_id, "vinegar", "never the forbidden one");
    let hurry = PlanOptions {
        minutes: Some(20.0),
        ..PlanOptions::default()
    };
    let (best, against) = recommended(90, &hurry, |_, _, _| {});
    assert_eq!(
        best.unwrap().against.as_deref(),
        Some("takes longer than you have")
    );
    assert!(against.contains(&"takes longer than you have".to_owned()));
    let all_forbidden = |b: &mut Brewer, agents: &mut Vec<Agent>, _: &mut Terms| {
        b.forbids = agents.iter().map(|a| a.id.clone()).collect();
    };
    let (best, _) = with_all_forbidden(all_forbidden);
    assert_eq!(best, None);
}

fn with_all_forbidden(
    change: impl FnOnce(&mut Brewer, &mut Vec<Agent>, &mut Terms),
) -> (Option<Alternative>, String) {
    with_facts(Family::PodReservoir, 180.0, 90, |facts| {
        let (mut brewer, mut agents) = (facts.brewer.clone(), facts.agents.to_vec());
        change(&mut brewer, &mut agents, &mut facts.terms.clone());
        let facts = Facts {
            brewer: &brewer,
            agents: &agents,
            ..facts.clone()
        };
        let all = facts.compare(&PlanOptions::default()).unwrap();
        (
            all.alternatives.into_iter().find(|a| a.recommended),
            all.because,
        )
    })
}

#[test]
fn the_score_is_the_sum_of_its_parts_and_the_last_choice_is_kept_unless_clearly_beaten() {
    with_facts(Family::PodReservoir, 180.0, 90, |facts| {
        let usual = PlanOptions::default();
        let all = facts.compare(&usual).unwrap();
        let scores: Vec<_> = all.alternatives.iter().map(|a| a.score_min).collect();
        let best = all.alternatives.iter().find(|a| a.recommended).unwrap();
        let free = all.alternatives.iter().filter(|a| a.against.is_none());
        assert!(free.clone().all(|a| a.score_min >= best.score_min));
        assert!(all.because.contains("score"), "{}", all.because);
        assert!(scores.iter().all(|s| *s > 0.0));
        for other in free {
            let today = Today {
                last: Some(murlo_brewer::bath::Taken {
                    agent_id: other.agent_id.clone(),
                    recipe: other.recipe,
                }),
                ..facts.today.clone()
            };
            let facts = Facts {
                today,
                ..facts.clone()
            };
            let taken = facts.recommended(usual.clone()).unwrap();
            let kept = taken.agent_id.as_ref() == Some(&other.agent_id)
                && taken.recipe == Some(other.recipe);
            let within = 0.9 * other.score_min <= best.score_min;
            assert_eq!(kept, within, "{} {}", other.score_min, best.score_min);
        }
    });
}

#[test]
fn remarks_on_an_agent_count_as_the_person_says() {
    for (remark, more) in [
        (murlo_brewer::bath::Remark::Foams, 5.0),
        (murlo_brewer::bath::Remark::FromChemist, 20.0),
    ] {
        with_facts(Family::PodReservoir, 180.0, 90, |facts| {
            let mut agents = facts.agents.to_vec();
            agents[1].remarks = vec![remark];
            let told = Facts {
                agents: &agents,
                ..facts.clone()
            };
            let usual = PlanOptions::default();
            let before = facts.compare(&usual).unwrap().alternatives;
            let after = told.compare(&usual).unwrap().alternatives;
            for (before, after) in before.iter().zip(after) {
                let added = if after.agent_id == agents[1].id {
                    more
                } else {
                    0.0
                };
                assert!((after.score_min - before.score_min - added).abs() < 1e-9);
            }
        });
    }
    let (best, against) = recommended(90, &PlanOptions::default(), |_, agents, _| {
        for agent in agents.iter_mut().filter(|a| a.id != "vinegar") {
            agent.remarks = vec![murlo_brewer::bath::Remark::NeverAgain];
        }
    });
    assert_eq!(best.unwrap().agent_id, "vinegar");
    assert!(against.contains(&"you said never again".to_owned()));
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

#[test]
fn where_one_bath_is_not_enough_several_are_planned_step_by_step() {
    let (best, _) = recommended(900, &PlanOptions::default(), |_, _, _| {});
    let best = best.expect("there is always a mild one");
    assert!(best.baths > 1);
    let options = PlanOptions {
        agent_id: Some(best.agent_id),
        recipe: Some(best.recipe),
        baths: Some(best.baths),
        ..PlanOptions::default()
    };
    let plan = with_facts(Family::PodReservoir, 180.0, 900, |f| f.plan(&options)).unwrap();
    let baths = plan.steps.iter().filter(|s| s.is(Kind::Mix)).count();
    assert_eq!(baths as u32, plan.chosen.baths);
    let ids: std::collections::HashSet<_> = plan.steps.iter().map(|s| &s.id).collect();
    assert_eq!(ids.len(), plan.steps.len(), "each step has its own id");
    assert!(plan.kit[0].ends_with("times"), "{}", plan.kit[0]);
}

/// How the bath of `plan` goes through: "first, run 1, soak 20, run-2 1".
fn course_of(plan: &Plan) -> String {
    let steps = plan.steps.iter().skip_while(|s| !s.is(Kind::Mix)).skip(1);
    let steps = steps.take_while(|s| !s.is(Kind::Look));
    let told = steps.map(|step| match &step.doing {
        Doing::Count { target } => format!("{} {target}", step.id),
        Doing::Wait { minutes } => format!("{} {minutes}", step.id),
        _ => step.id.clone(),
    });
    told.collect::<Vec<_>>().join(", ")
}

#[test]
fn a_bath_soaks_where_the_search_has_it_and_leaves_what_the_search_says() {
    let of = |family, hardness, days, options: &PlanOptions, hot: bool| {
        let tell = |draft: &mut BrewerDraft| draft.hot_water = hot;
        with_told(family, hardness, days, tell, |facts| {
            let plan = facts.plan(options).unwrap();
            let choice = facts.choose(options, None).unwrap();
            let worked = facts.work_out(&choice, 1, 0.0);
            if options.soak_minutes.is_none() {
                let (left, said) = (worked.advice.left, plan.after.as_ref().unwrap().used);
                assert!((left - said).abs() < 0.02, "{family:?}: {left} and {said}");
            }
            (course_of(&plan), plan.soak)
        })
    };
    let usual = PlanOptions::default();
    let soaking = |minutes| PlanOptions {
        soak_minutes: Some(minutes),
        ..usual.clone()
    };
    let cases = [
        (
            Family::PodReservoir,
            180.0,
            90,
            &usual,
            false,
            "first, run 1, soak 20, run-2 1",
        ),
        (
            Family::PodReservoir,
            60.0,
            90,
            &usual,
            false,
            "first, run 2",
        ),
        (
            Family::PodReservoir,
            250.0,
            120,
            &usual,
            false,
            "first, soak 30, run 1, soak-2 30, run-2 1",
        ),
        (
            Family::PodReservoir,
            250.0,
            120,
            &usual,
            true,
            "first, soak 30, hot_water, soak-2 30, run 1",
        ),
        (
            Family::PodReservoir,
            250.0,
            120,
            &soaking(25.0),
            false,
            "first, soak 13, run 1, soak-2 12, run-2 1",
        ),
        (
            Family::PodReservoir,
            180.0,
            90,
            &soaking(0.0),
            false,
            "first, run 2",
        ),
        (
            Family::PumpCapsule,
            180.0,
            90,
            &usual,
            false,
            "first, run 2",
        ),
        (
            Family::PumpCapsule,
            250.0,
            180,
            &usual,
            false,
            "first, soak 25, run 1, soak-2 25, run-2 1",
        ),
        (
            Family::OneCupPod,
            180.0,
            90,
            &usual,
            false,
            "first, soak 20, run",
        ),
        (
            Family::CodedCapsule,
            180.0,
            90,
            &usual,
            false,
            "disc, programme 20",
        ),
    ];
    for (family, hardness, days, options, hot, course) in cases {
        let (found, soak) = of(family, hardness, days, options, hot);
        assert_eq!(
            found, course,
            "{family:?} at {hardness}, {days} days: {soak:?}"
        );
        let sum: f64 = soak.parts(soak.minutes).iter().map(|part| part.1).sum();
        assert!((sum - soak.minutes).abs() < 1e-9 && soak.minutes <= 60.0);
        assert_eq!(soak.reason.contains("It soaks"), soak.after != [1]);
    }
}

#[test]
fn a_stronger_recipe_of_the_same_agent_never_soaks_longer() {
    let comparison = with_facts(Family::Drip, 300.0, 60, |f| {
        f.compare(&PlanOptions::default())
    })
    .unwrap();
    for pair in comparison
        .alternatives
        .windows(2)
        .filter(|p| p[0].agent_id == p[1].agent_id)
    {
        assert!(pair[1].percent > pair[0].percent);
        if pair[0].baths == pair[1].baths {
            // Five minutes is the grain of the search, and one that reaches may soak where none does.
            if pair[0].left_percent <= 10.0 {
                assert!(pair[1].soak_min <= pair[0].soak_min, "{pair:?}");
            }
            assert!(
                pair[1].left_percent <= pair[0].left_percent.max(10.0) + 0.5,
                "{pair:?}"
            );
            assert!(pair[1].load_percent < pair[0].load_percent);
        }
    }
}

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

fn step<'a>(plan: &'a Plan, id: &str) -> &'a Step {
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
            .filter(|s| !s.plugged)
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
            step(&plan, "parts").what[1],
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

/// A figure that stands at the beginning of a text.
fn figure(text: &str) -> f64 {
    let end = text
        .find(|c: char| !(c.is_ascii_digit() || c == '.' || c == '-'))
        .unwrap_or(text.len());
    text[..end]
        .parse()
        .unwrap_or_else(|_| panic!("no figure in {text:?}"))
}

#[test]
fn five_figures_can_be_recomputed_from_what_their_working_shows() {
    with_facts(Family::PodReservoir, 250.0, 80, |facts| {
        let plan = facts
            .plan(&PlanOptions {
                agent_id: Some("vinegar".into()),
                ..PlanOptions::default()
            })
            .unwrap();
        let of = |name: &str| {
            plan.working
                .iter()
                .find(|w| w.figure == name)
                .unwrap_or_else(|| panic!("{name}"))
        };
        let input = |working: &str, name: &str| {
            let working = of(working);
            let found = working.inputs.iter().find(|i| i.name == name);
            figure(&found.unwrap_or_else(|| panic!("{name}")).value)
        };
        // 1. Potential, from calcium, alkalinity, pH, dissolved solids and the heater.
        let name = "scale potential of the water";
        let heater = &of(name)
            .inputs
            .iter()
            .find(|i| i.name == "heater")
            .unwrap()
            .value;
        let water = murlo_chemistry::carbonate::Water {
            calcium: input(name, "calcium"),
            alkalinity: input(name, "alkalinity"),
            ph: input(name, "pH"),
            tds: input(name, "dissolved solids"),
            source_c: 20.0,
        };
        let kept = figure(heater.split(", ").nth(1).unwrap()) / 100.0;
        let heat = murlo_chemistry::carbonate::Heat {
            temp_c: figure(heater),
            co2_retained: kept,
        };
        let potential = murlo_chemistry::carbonate::potential(&water, &heat);
        assert!(
            (potential - figure(&of(name).result)).abs() < 0.2,
            "{potential}"
        );
        // 2. What grew since the last clean.
        let sticks = input("growth", "sticks, usually") / 100.0;
        let learned = figure(of("growth").inputs[1].value.trim_start_matches("× "));
        let passed = input("growth", "Σ litres × potential since the last clean");
        assert!((sticks * learned * passed / figure(&of("growth").result) - 1.0).abs() < 0.01);
        // 3. Days until the limit.
        let days = input("due date", "potential to go")
            / (input("due date", "use") * input("due date", "potential"));
        let due = facts.forecast.due.days;
        assert!(
            (days - f64::from(due)).abs() < 6.0 || due < 0,
            "{days} {due}"
        );
        // 4. Strength of the bath.
        let bath = "strength of the bath";
        assert!(
            (input(bath, "agent as bought") * plan.bath.agent.as_ref().unwrap().ml
                / plan.bath.total.ml
                - figure(&of(bath).result))
            .abs()
                < 0.01
        );
        // 5. What the bath takes off, from the depth of the last phase.
        let taken = of("what the bath takes off");
        let last = &taken
            .inputs
            .iter()
            .rfind(|i| i.name == "phase")
            .unwrap()
            .value;
        let depth = figure(last.split("depth ").nth(1).unwrap());
        let (d, left) = (depth, figure(last.split("left ").nth(1).unwrap()));
        let by_hand = (-4.0 * d).exp() * (1.0 + 3.0 * d + 4.0 * d * d + 8.0 * d.powi(3) / 3.0);
        assert!((by_hand - left).abs() < 0.002);
        let chalk = input("what the bath takes off", "chalk") / facts.circuit.limit_mg();
        assert!((100.0 * by_hand * chalk - figure(&taken.result)).abs() < 1.0);
    });
}

#[test]
fn the_minutes_there_are_bound_the_soak_and_what_that_leaves_is_said() {
    with_facts(Family::PodReservoir, 250.0, 60, |facts| {
        let plan = |minutes: Option<f64>| {
            let options = PlanOptions {
                agent_id: Some("vinegar".into()),
                minutes,
                ..PlanOptions::default()
            };
            facts.plan(&options).unwrap()
        };
        let whole = plan(None);
        let soak = whole.chosen.soak_minutes;
        assert!(soak >= 20.0, "{soak}");
        // Everything but the soak takes as long as ever; five minutes is the grain of the search.
        let besides = whole.ribbon.elapsed_min - soak;
        for spare in [soak + 5.0, 15.0, 10.0] {
            let bound = plan(Some(besides + spare));
            assert!(
                bound.ribbon.elapsed_min <= besides + spare + 1e-9,
                "{spare}"
            );
            assert!(bound.chosen.soak_minutes <= soak);
            let left = bound.after.unwrap().used;
            assert!(left >= whole.after.as_ref().unwrap().used - 1e-9);
            assert!(bound.reasons.iter().any(|r| r.contains("It likely leaves")));
        }
        let hurried = plan(Some(besides + 10.0));
        assert!(
            hurried.chosen.soak_minutes < soak,
            "less soak, not nothing at all"
        );
    });
}

#[test]
fn being_sure_never_leaves_more_and_may_take_longer() {
    for family in Family::ALL {
        with_facts(family, 250.0, 60, |facts| {
            let plan = |sure| {
                let options = PlanOptions {
                    agent_id: Some("vinegar".into()),
                    sure,
                    ..PlanOptions::default()
                };
                facts.plan(&options).unwrap()
            };
            let (usual, sure) = (plan(false), plan(true));
            let left = |plan: &Plan| plan.after.as_ref().unwrap().used_high;
            assert!(left(&sure) <= left(&usual) + 1e-9, "{family:?}");
            assert!(
                sure.ribbon.elapsed_min >= usual.ribbon.elapsed_min - 1e-9,
                "{family:?}"
            );
        });
    }
}

#[test]
fn without_chalk_a_short_soak_loosens_coffee_oil_all_the_same() {
    for family in Family::ALL {
        with_facts(family, 10.0, 30, |facts| {
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            if facts.way() != Way::Programme && facts.forecast.chalk.mg < 1.0 {
                assert_eq!(plan.chosen.soak_minutes, 10.0, "{family:?}");
                assert!(plan.soak.reason.starts_with("hardly any chalk"));
            }
        });
    }
}

#[test]
fn half_a_millilitre_more_than_fits_is_refused() {
    let tell = |draft: &mut BrewerDraft| draft.reservoir = "1400 mL".into();
    with_told(Family::PodReservoir, 180.0, 90, tell, |facts| {
        for (bath, fits) in [("1399.5 mL", true), ("1400 mL", true), ("1400.5 mL", false)] {
            let planned = facts.plan(&PlanOptions {
                bath: Some(bath.into()),
                ..PlanOptions::default()
            });
            let refused = planned.err().map(|problems| problems.0[0].field.clone());
            assert_eq!(refused.as_deref(), (!fits).then_some("bath"), "{bath}");
        }
    });
}

#[test]
fn a_pod_brewer_s_usual_bath_is_four_cups_or_a_little_less_than_a_litre() {
    for (units, ml) in [(Units::Us, 4.0 * CUP_ML), (Units::Metric, 950.0)] {
        with_facts(Family::PodReservoir, 180.0, 90, |facts| {
            let facts = Facts {
                units,
                ..facts.clone()
            };
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            assert!(
                (plan.bath.total.ml - ml).abs() < 1.0,
                "{}",
                plan.bath.total.ml
            );
        });
    }
}

#[test]
fn a_strength_that_only_a_ph_tells_widens_what_may_be_left() {
    with_facts(Family::PodReservoir, 180.0, 90, |facts| {
        let after = |label_ph| {
            let mut agents = facts.agents.to_vec();
            agents[0].label_ph = label_ph;
            let agent = agents[0].clone().checked().unwrap();
            agents[0] = Agent {
                form: facts.agents[0].form,
                ..agent
            };
            let facts = Facts {
                agents: &agents,
                ..facts.clone()
            };
            let options = PlanOptions {
                agent_id: Some(agents[0].id.clone()),
                soak_minutes: Some(20.0),
                ..PlanOptions::default()
            };
            facts.plan(&options).unwrap().after.unwrap()
        };
        let (told, by_label) = (after(None), after(Some(2.4)));
        assert_eq!(by_label.mg, told.mg);
        assert!(by_label.low_mg < told.low_mg, "{by_label:?} {told:?}");
        assert!(
            by_label.high_mg > 1.05 * told.high_mg,
            "{by_label:?} {told:?}"
        );
    });
}

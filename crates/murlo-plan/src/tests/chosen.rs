//! Which bath is recommended, and what stands against the others.

use crate::fixtures::with_facts;
use crate::*;
use murlo_brewer::bath::{Agent, AgentForm};
use murlo_brewer::{Brewer, Family};
use murlo_chalk::money::Terms;
use murlo_chemistry::acid::Acid;

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
        // The bath counts, not its bottle: a strong one is offered, never recommended.
        for a in &alternatives {
            let gloves = a.against.as_deref() == Some("needs gloves and goggles");
            assert!(!gloves || a.percent >= 10.0, "{a:?}");
        }
        assert!(
            (1.5..=8.0).contains(&best[0].percent),
            "as people do it: {:?}",
            best[0]
        );
    }
}

/// Which bath is recommended once the facts are changed, and what stands against the others.
pub(crate) fn recommended(
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
        assert!(!all.because.contains("score"), "{}", all.because);
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
fn the_practised_recipe_is_recommended_whatever_the_bottle_and_left_only_for_more_chalk() {
    let vinegar = |family, percent: f64, days| {
        with_facts(family, 180.0, days, |facts| {
            let mut agents = vec![facts.agents[0].clone()];
            agents[0].form = AgentForm::Liquid {
                acid: Acid::Acetic,
                percent,
            };
            let facts = Facts {
                agents: &agents,
                ..facts.clone()
            };
            let all = facts.compare(&PlanOptions::default()).unwrap();
            let best = all
                .alternatives
                .into_iter()
                .find(|a| a.recommended)
                .unwrap();
            (best.recipe_label, best.against, best.percent, best.baths)
        })
    };
    let (pod, cup, drip) = (Family::PodReservoir, Family::OneCupPod, Family::Drip);
    for (family, percent, recipe) in [
        (pod, 5.0, "1 : 1 with water"),
        (pod, 6.0, "1 : 1 with water"),
        (pod, 8.0, "1 : 1 with water"),
        (pod, 10.0, "1 : 3 with water"),
        (pod, 25.0, "1 : 9 with water"),
        (cup, 5.0, "neat"),
        (cup, 25.0, "1 : 4 with water"),
        (drip, 5.0, "1 : 2 with water"),
        (drip, 25.0, "1 : 14 with water"),
    ] {
        let (found, against, ..) = vinegar(family, percent, 60);
        assert_eq!(
            (found.as_str(), against),
            (recipe, None),
            "{family:?} {percent}"
        );
    }
    // More chalk never gets a weaker bath than less.
    for family in [pod, drip, Family::PumpCapsule] {
        let strengths = [20, 60, 120, 240, 480, 900].map(|days| vinegar(family, 5.0, days).2);
        assert!(
            strengths.windows(2).all(|pair| pair[0] <= pair[1]),
            "{family:?} {strengths:?}"
        );
        assert!(
            (1.5..=6.05).contains(&strengths[5]),
            "{family:?} {strengths:?}"
        );
    }
}

#[test]
fn what_is_meant_for_cold_use_is_not_recommended_in_a_heated_path() {
    let (best, against) = recommended(90, &PlanOptions::default(), |_, agents, _| {
        agents[1].form = AgentForm::Powder {
            acid: Acid::Sulfamic,
        };
    });
    assert_ne!(best.unwrap().agent_id, "citric");
    let cold = "meant for cold descaling: this brewer heats its bath";
    assert!(against.contains(&cold.to_owned()), "{against:?}");
}

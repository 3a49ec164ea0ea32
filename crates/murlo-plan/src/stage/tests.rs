use super::*;
use crate::correction::Correction;
use crate::facts::Facts;
use crate::fixtures::with_told;
use crate::options::PlanOptions;
use crate::shape::Rung;
use murlo_base::units::Units;
use murlo_brewer::bath::{Agent, AgentForm};
use murlo_brewer::{Brewer, Family, Survives};
use murlo_chemistry::acid::Acid;

/// White vinegar and an essence of it beside the usual agents.
fn ladder(essence_percent: f64, recipe: Recipe, tell: impl FnOnce(&mut Brewer)) -> Vec<Rung> {
    with_told(
        Family::PodReservoir,
        180.0,
        90,
        |_| {},
        |facts| {
            let mut agents = Agent::starters();
            agents.push(Agent {
                id: "essence".to_owned(),
                name: "Vinegar essence".to_owned(),
                form: AgentForm::Liquid {
                    acid: Acid::Acetic,
                    percent: essence_percent,
                },
                ..agents[0].clone()
            });
            let mut brewer = facts.brewer.clone();
            tell(&mut brewer);
            let facts = Facts {
                agents: &agents,
                brewer: &brewer,
                ..facts.clone()
            };
            let options = PlanOptions {
                agent_id: Some("vinegar".to_owned()),
                recipe: Some(recipe),
                ..PlanOptions::default()
            };
            facts.plan(&options).unwrap().ladder
        },
    )
}

fn ratio(agent: f64, water: f64) -> Recipe {
    Recipe::Ratio { agent, water }
}

fn rounded(ladder: &[Rung]) -> Vec<(f64, bool)> {
    let tenth = |percent: f64| (percent * 10.0).round() / 10.0;
    ladder
        .iter()
        .map(|r| (tenth(r.percent), r.is_strong))
        .collect()
}

#[test]
fn the_ladder_climbs_from_the_bath_to_neat_to_twelve_to_twenty_four_per_cent() {
    let rungs = ladder(24.0, ratio(1.0, 1.0), |_| {});
    assert_eq!(
        rounded(&rungs),
        [(2.5, false), (5.0, false), (12.0, true), (24.0, true)]
    );
    assert_eq!(rungs[1].agent_id, "vinegar");
    assert_eq!(rungs[2].agent_id, "essence");
    // From neat on, only the essence is stronger.
    let neat = ladder(24.0, ratio(1.0, 0.0), |_| {});
    assert_eq!(rounded(&neat), [(5.0, false), (12.0, true), (24.0, true)]);
}

#[test]
fn a_rung_is_half_as_strong_again_as_the_last_or_it_is_none() {
    // 5 % neat is the last below; an essence must reach 7.5 %.
    for (essence, more) in [(7.4, 0), (7.6, 1)] {
        let rungs = ladder(essence, ratio(1.0, 0.0), |_| {});
        assert_eq!(rungs.len(), 1 + more, "{essence} %: {rungs:?}");
    }
}

#[test]
fn what_the_maker_forbids_is_no_rung() {
    let rungs = ladder(24.0, ratio(1.0, 1.0), |brewer| {
        brewer.forbids = vec!["essence".to_owned()];
    });
    assert_eq!(rounded(&rungs), [(2.5, false), (5.0, false)]);
}

#[test]
fn a_fact_is_written_down_with_its_side_and_leaves_a_brewer_that_fits_together() {
    for fact in [
        Correction::NoMode,
        Correction::NoProgramme,
        Correction::ModeDoesNotWait,
        Correction::LargestCup(240.0),
    ] {
        with_told(
            Family::Combination,
            180.0,
            90,
            |draft| {
                let side = draft.other_side.as_mut().unwrap();
                side.mechanics.mode = Some(true);
                side.mechanics.survives = Some(Survives::Waiting);
                side.mechanics.soaks_inside = Some(true);
            },
            |facts| {
                let mut brewer = facts.brewer.clone();
                fact.tell(&mut brewer, "pod", Units::Us);
                assert_eq!(
                    brewer.circuits[0], facts.brewer.circuits[0],
                    "the other side stays"
                );
                let told = &brewer.circuits[1].mechanics;
                assert!(told.check("mechanics").is_ok(), "{fact:?}");
                assert_ne!(told, &facts.brewer.circuits[1].mechanics, "{fact:?}");
                fact.tell(&mut brewer, "no such side", Units::Us);
            },
        );
    }
}

#[test]
fn a_stage_from_outside_is_checked_like_a_plan() {
    let stage = with_told(
        Family::Drip,
        180.0,
        90,
        |_| {},
        |facts| {
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            let at = plan.steps.iter().position(|s| s.is(Kind::Look)).unwrap();
            let done: Vec<_> = (0..plan.steps.len()).map(|i| i < at).collect();
            let counts = vec![0; done.len()];
            let order: Vec<_> = plan.steps[..at].iter().map(|s| s.id.clone()).collect();
            let moment = Moment {
                plan: &plan,
                at,
                done: &done,
                left_out: &BTreeSet::new(),
                order: &order,
                counts: &counts,
                begun: false,
                round: 1,
                acid_mg_l: 0.0,
            };
            let rung = &plan.ladder[0];
            let wish = Wish::Bath {
                agent_id: rung.agent_id.clone(),
                recipe: rung.recipe,
            };
            facts.further(&moment, &wish).unwrap()
        },
    );
    assert!(stage.check().is_ok());
    let wrong = |spoil: fn(&mut Stage)| {
        let mut stage = stage.clone();
        spoil(&mut stage);
        stage.check().unwrap_err()
    };
    wrong(|s| s.bath.percent = 900.0);
    wrong(|s| s.steps.clear());
    wrong(|s| s.steps[1].id = s.steps[0].id.clone());
    wrong(|s| s.rinse.levels_mg_l[0] = f64::NAN);
}

#[test]
fn a_stage_of_an_older_version_is_read() {
    with_told(
        Family::PodReservoir,
        180.0,
        90,
        |_| {},
        |facts| {
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            let choice = facts.choose(&PlanOptions::default(), None).unwrap();
            let stage = facts.stage(facts.work_out(&choice, 1, 0.0), plan.steps);
            let mut older = serde_json::to_value(&stage).unwrap();
            older["left_mg"] = 12.5.into();
            older.as_object_mut().unwrap().remove("after");
            older["bath"].as_object_mut().unwrap().remove("acid");
            let read: Stage = serde_json::from_value(older).unwrap();
            assert_eq!((read.after, read.bath.acid), (None, None));
            assert_eq!(read.steps, stage.steps);
        },
    );
}

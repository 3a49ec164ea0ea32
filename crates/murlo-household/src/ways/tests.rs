use super::*;
use jiff::civil::date;
use murlo_base::units::Units;
use murlo_brewer::{BrewerDraft, Family};
use murlo_chemistry::acid::Acid;
use murlo_plan::fixtures::plan;
use murlo_plan::{PlanOptions, PouredSo};

fn brewer(family: Family) -> Brewer {
    let start = date(2026, 6, 1);
    let draft = BrewerDraft {
        nickname: "Kiln drip".to_owned(),
        ..BrewerDraft::template(family, Units::Us, "h", "w", start)
    };
    draft.check("b".to_owned(), None, start).unwrap()
}

fn way(family: Family) -> KeptWay {
    let brewer = brewer(family);
    let revision = WayRevision {
        since: date(2026, 7, 3),
        from: WayOrigin::Clean {
            clean_id: "c".to_owned(),
        },
        habits: Habits::of(&plan(family, &PlanOptions::default()).unwrap(), false),
        chalk_mg: 200.0,
    };
    KeptWay {
        id: "w".to_owned(),
        brewer_id: brewer.id.clone(),
        circuit_id: brewer.circuits[0].id.clone(),
        name: "Our way".to_owned(),
        revisions: vec![revision],
    }
}

#[test]
fn it_is_shown_with_what_is_done_and_what_it_was() {
    let mut way = way(Family::PodReservoir);
    let first = way.latest().clone();
    way = way.revised(WayRevision {
        since: date(2026, 8, 9),
        from: WayOrigin::Copied {
            from: "Lamp-room pod".to_owned(),
        },
        habits: Habits {
            poured: PouredSo {
                agent_id: "vinegar".to_owned(),
                amount: "2 cups".to_owned(),
                water: String::new(),
            },
            soak_minutes: 0.0,
            baths: 2,
            rinses: 14,
            left_out: vec![murlo_plan::Kind::Body],
            ..first.habits
        },
        chalk_mg: 90.0,
    });
    let brewer = brewer(Family::PodReservoir);
    let today = date(2026, 9, 1);
    let shown = WayShown::of(&way, &brewer, &Agent::starters(), today).unwrap();
    assert_eq!(shown.side, None);
    assert_eq!(shown.revisions[0].text, "9 Aug, copied from Lamp-room pod");
    assert_eq!(
        shown.revisions[0].lines,
        [
            "2 baths, each 2 cups of white vinegar, neat",
            "No soak",
            "Rinse 14 mugs",
            "Left out: the body"
        ]
    );
    assert_eq!(shown.revisions[1].text, "3 Jul, from a clean");
    let gone = WayShown::of(&way, &brewer, &[], today).unwrap();
    assert_eq!(
        gone.revisions[0].lines[0],
        "2 baths, each 2 cups of an agent that is gone, neat"
    );
    let elsewhere = KeptWay {
        circuit_id: "steam".to_owned(),
        ..way
    };
    assert_eq!(WayShown::of(&elsewhere, &brewer, &[], today), None);
}

#[test]
fn a_programme_soaks_by_itself_unless_it_is_left_alone() {
    let coded = brewer(Family::CodedCapsule);
    let mut way = way(Family::CodedCapsule);
    let lines = |way: &KeptWay| {
        let shown = WayShown::of(way, &coded, &Agent::starters(), date(2026, 9, 1)).unwrap();
        shown.revisions[0].lines.join("; ")
    };
    assert!(
        lines(&way).contains("By its programme, which soaks by itself"),
        "{}",
        lines(&way)
    );
    way.revisions[0].habits.by_hand = true;
    assert!(
        lines(&way).contains("By hand, not by its programme; No soak"),
        "{}",
        lines(&way)
    );
}

fn file(family: Family) -> WayFile {
    let way = way(family);
    let brewer = brewer(family);
    let agents = Agent::starters();
    let agent = agents
        .iter()
        .find(|a| a.id == way.latest().habits.poured.agent_id);
    let habits = way.latest().habits.clone();
    WayFile::of(&way, &brewer.circuits[0], agent.unwrap(), habits)
}

#[test]
fn a_file_is_opened_with_the_agent_that_is_like_its_own() {
    let file = file(Family::Drip);
    file.check().unwrap();
    let drip = brewer(Family::Drip);
    let side = &drip.circuits[0];
    let own = |form: AgentForm| Agent {
        id: "ours".to_owned(),
        name: "Ours".to_owned(),
        form,
        ..Agent::starters()[0].clone()
    };
    let liquid = |percent| AgentForm::Liquid {
        acid: Acid::Acetic,
        percent,
    };
    let of = |form: AgentForm, agent: AgentForm| {
        let file = WayFile {
            agent: form,
            ..file.clone()
        };
        file.habits_for(side, &[own(agent)])
            .map(|habits| habits.poured.agent_id)
    };
    // A quarter more or less is poured the same way.
    for (percent, like) in [
        (5.0, true),
        (6.25, true),
        (6.3, false),
        (4.0, true),
        (3.9, false),
    ] {
        assert_eq!(of(liquid(5.0), liquid(percent)).is_ok(), like, "{percent}");
    }
    let powder = AgentForm::Powder { acid: Acid::Citric };
    let tablet = |grams| AgentForm::Tablet {
        acid: Acid::Citric,
        grams,
        water_ml: 500.0,
    };
    let bottle = |bottle_ml| AgentForm::Bottle {
        acid: Acid::Lactic,
        percent: 12.0,
        bottle_ml,
    };
    assert_eq!(of(powder, powder).unwrap(), "ours");
    assert!(
        of(
            powder,
            AgentForm::Powder {
                acid: Acid::Sulfamic
            }
        )
        .is_err()
    );
    assert!(of(tablet(12.0), tablet(12.0)).is_ok() && of(tablet(12.0), tablet(20.0)).is_err());
    assert!(of(bottle(250.0), bottle(300.0)).is_ok() && of(bottle(250.0), bottle(500.0)).is_err());
    assert!(of(bottle(250.0), liquid(12.0)).is_err() && of(liquid(5.0), powder).is_err());
    let refused = of(powder, liquid(5.0)).unwrap_err();
    assert_eq!(refused.field, "file.agent");
    assert!(
        refused
            .message
            .contains("is in the cupboard: add it there first")
    );
}

#[test]
fn a_carafe_side_and_a_pod_side_are_not_taken_for_each_other() {
    let agents = Agent::starters();
    let (drip, pod) = (brewer(Family::Drip), brewer(Family::PodReservoir));
    for (family, other) in [(Family::Drip, &pod), (Family::PodReservoir, &drip)] {
        let refused = file(family)
            .habits_for(&other.circuits[0], &agents)
            .unwrap_err();
        assert_eq!(refused.field, "file.outlet");
    }
    let capsule = brewer(Family::PumpCapsule);
    assert!(
        file(Family::PodReservoir)
            .habits_for(&capsule.circuits[0], &agents)
            .is_ok()
    );
}

#[test]
fn a_foreign_or_damaged_file_is_refused() {
    let good = file(Family::Drip);
    for (bad, field) in [
        (
            WayFile {
                format: "other".to_owned(),
                ..good.clone()
            },
            "file",
        ),
        (
            WayFile {
                version: 2,
                ..good.clone()
            },
            "file",
        ),
        (
            WayFile {
                name: "\u{200b}".to_owned(),
                ..good.clone()
            },
            "file.name",
        ),
        (
            WayFile {
                agent_name: String::new(),
                ..good.clone()
            },
            "file.agent_name",
        ),
        (
            WayFile {
                habits: Habits {
                    baths: 9,
                    ..good.habits.clone()
                },
                ..good.clone()
            },
            "file.habits.baths",
        ),
        (
            WayFile {
                agent: AgentForm::Liquid {
                    acid: Acid::Acetic,
                    percent: 1e12,
                },
                ..good.clone()
            },
            "file.agent.percent",
        ),
    ] {
        let refused = bad.check().unwrap_err();
        assert_eq!(refused.0[0].field, field, "{refused}");
    }
}

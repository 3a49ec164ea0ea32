//! A first coffee that was sour adds to the rinse of that side, after that agent.

use crate::fixtures::with_told;
use crate::{Plan, PlanOptions};
use murlo_brewer::Family;
use std::collections::BTreeMap;

/// Plans with vinegar and with citric acid, after so many sour coffees after vinegar.
fn plans(family: Family, sour: u32) -> [Plan; 2] {
    with_told(
        family,
        180.0,
        90,
        |_| {},
        |facts| {
            let mut facts = facts.clone();
            facts.today.measured.sour = BTreeMap::from([("vinegar".to_owned(), sour)]);
            ["vinegar", "citric"].map(|agent| {
                let options = PlanOptions {
                    agent_id: Some(agent.to_owned()),
                    ..PlanOptions::default()
                };
                facts.plan(&options).unwrap()
            })
        },
    )
}

#[test]
fn each_adds_a_helping_up_to_three_and_only_after_its_agent() {
    for family in Family::ALL {
        let [plain, citric] = plans(family, 0);
        let more = plain.rinse.more;
        for (sour, helpings) in [(1, 1), (2, 2), (3, 3), (4, 3), (9, 3)] {
            let [vinegar, other] = plans(family, sour);
            assert_eq!(
                vinegar.rinse.portions,
                plain.rinse.portions + helpings * more,
                "{family:?}"
            );
            assert_eq!(other.rinse.portions, citric.rinse.portions, "{family:?}");
            let said = vinegar.reasons.iter().find(|r| r.contains("was sour here"));
            let words = format!("{} more rinse", helpings * more);
            assert!(
                said.is_some_and(|r| r.contains(&words)),
                "{:?}",
                vinegar.reasons
            );
            assert!(!other.reasons.iter().any(|r| r.contains("sour")));
        }
        assert!(
            !plain.reasons.iter().any(|r| r.contains("sour")),
            "{family:?}"
        );
    }
}

#[test]
fn a_kept_number_of_rinses_is_counted_up_with_the_reason() {
    use crate::{Habits, KeptWay, WayOrigin, WayRevision};
    with_told(
        Family::PodReservoir,
        180.0,
        90,
        |_| {},
        |facts| {
            let mut facts = facts.clone();
            let vinegar = PlanOptions {
                agent_id: Some("vinegar".to_owned()),
                ..PlanOptions::default()
            };
            let plain = facts.plan(&vinegar).unwrap();
            facts.today.measured.sour = BTreeMap::from([("vinegar".to_owned(), 1)]);
            let habits = Habits::of(&plain, false);
            facts.today.ways = vec![KeptWay {
                id: "w".to_owned(),
                brewer_id: "b".to_owned(),
                circuit_id: facts.circuit.id.clone(),
                name: "Ours".to_owned(),
                revisions: vec![WayRevision {
                    since: jiff::civil::date(2026, 6, 1),
                    from: WayOrigin::Plan,
                    habits: habits.clone(),
                    chalk_mg: 1e6,
                }],
            }];
            let own = facts.plan(&PlanOptions::default()).unwrap();
            assert_eq!(own.rinse.portions, plain.rinse.portions + plain.rinse.more);
            let costs = own.way.clone().unwrap().costs.join("; ");
            assert!(costs.contains("the first coffee was sour"), "{costs}");
            assert!(!costs.contains("more than it takes"), "{costs}");
            // Nobody's word is refused for it: by the reckoning it is enough.
            facts.rinses_enough(&habits, &own).unwrap();
        },
    );
}

#[test]
fn it_is_said_where_agents_are_chosen() {
    with_told(
        Family::PodReservoir,
        180.0,
        90,
        |_| {},
        |facts| {
            let mut facts = facts.clone();
            facts.today.measured.sour = BTreeMap::from([("vinegar".to_owned(), 1)]);
            let all = facts.compare(&PlanOptions::default()).unwrap().alternatives;
            for one in all {
                assert_eq!(
                    one.rinse_note.is_some(),
                    one.agent_id == "vinegar",
                    "{}",
                    one.agent_id
                );
            }
        },
    );
}

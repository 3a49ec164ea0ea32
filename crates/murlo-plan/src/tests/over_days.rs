//! Cleans that are spread over days: each part against what the ones before it leave, each drinkable when it ends.

use crate::fixtures::with_told;
use crate::machine::{Machine, Mechanism};
use crate::rehearse::rest;
use crate::{
    DayPart, Kind, NextPart, OverDays, PlanOptions, WayWish, Work, check_new_days, proposed_days,
};
use jiff::civil::{Date, date};
use murlo_brewer::Family;

fn day(day: i8) -> Date {
    date(2026, 12, day)
}

fn over(days: &[i8]) -> OverDays {
    OverDays {
        id: "o".to_owned(),
        brewer_id: "b".to_owned(),
        circuit_id: "main".to_owned(),
        options: PlanOptions {
            agent_id: Some("vinegar".to_owned()),
            ..PlanOptions::default()
        },
        parts: days
            .iter()
            .map(|n| DayPart {
                day: day(*n),
                clean_id: None,
            })
            .collect(),
    }
}

#[test]
fn each_part_of_each_family_runs_leaves_less_and_does_not_do_again_what_was_done() {
    for family in Family::ALL {
        // Neglected, so that one bath is not enough.
        with_told(
            family,
            350.0,
            400,
            |_| {},
            |facts| {
                let options = PlanOptions {
                    agent_id: Some("vinegar".to_owned()),
                    ..PlanOptions::default()
                };
                let parts = facts.over_days(&options, 3).unwrap();
                let left: Vec<f64> = parts
                    .iter()
                    .map(|p| p.after.as_ref().unwrap().used)
                    .collect();
                assert!(left.is_sorted_by(|a, b| a >= b), "{family:?}: {left:?}");
                assert!(left[2] < facts.forecast.chalk.used, "{family:?}: {left:?}");
                for (n, plan) in parts.iter().enumerate() {
                    assert_eq!((plan.chosen.baths, plan.likely_baths), (1, 1), "{family:?}");
                    let has = |kind| plan.steps.iter().any(|step| step.is(kind));
                    assert!(
                        has(Kind::Mix) && has(Kind::Rinse) && has(Kind::Verify),
                        "{family:?}"
                    );
                    assert!(
                        n == 0 || !(has(Kind::Body) || has(Kind::Needles)),
                        "{family:?} {n}"
                    );
                    let mechanism =
                        Mechanism::of(facts.brewer, facts.circuit, plan.rinse.target_mg_l);
                    let ran = rest(Machine::in_use(&mechanism), &plan.steps);
                    assert!(ran.is_ok(), "{family:?} {n}: {:?}", ran.err());
                }
                assert!(
                    parts[1].ribbon.hands_on_min < parts[0].ribbon.hands_on_min,
                    "{family:?}"
                );
            },
        );
    }
}

#[test]
fn the_next_plan_is_the_part_unless_something_else_is_chosen() {
    with_told(
        Family::PodReservoir,
        180.0,
        90,
        |_| {},
        |facts| {
            let mut facts = facts.clone();
            let next = over(&[3, 5]).next(|_| false).unwrap();
            facts.today.part = Some(next);
            let part = |options: PlanOptions| {
                let options = facts.recommended(options).unwrap();
                facts.plan(&options).unwrap().part.map(|part| part.words())
            };
            let usual = PlanOptions::default;
            // Its agent is gone: what is advised is planned, and is no part.
            let mut gone = facts.clone();
            let mut other = over(&[3, 5]);
            other.options.agent_id = Some("gone".to_owned());
            gone.today.part = other.next(|_| false);
            let plan = gone.plan(&gone.recommended(usual()).unwrap()).unwrap();
            assert!(plan.part.is_none() && plan.chosen.agent_id != "gone");
            assert_eq!(part(usual()).as_deref(), Some("part 1 of 2"));
            assert_eq!(
                part(PlanOptions {
                    minutes: Some(120.0),
                    ..usual()
                })
                .as_deref(),
                Some("part 1 of 2")
            );
            for other in [
                PlanOptions {
                    way: Some(WayWish::Advised),
                    ..usual()
                },
                PlanOptions {
                    agent_id: Some("citric".into()),
                    ..usual()
                },
                PlanOptions {
                    work: Work::Needles,
                    ..usual()
                },
                PlanOptions {
                    dirt: true,
                    ..usual()
                },
            ] {
                assert_eq!(part(other.clone()), None, "{other:?}");
            }
        },
    );
}

#[test]
fn the_first_part_that_is_not_done_is_next_and_what_was_done_is_not_moved() {
    let mut over = over(&[3, 5, 7]);
    let at = |over: &OverDays| over.next(|id| id == "done").map(|next: NextPart| next.at);
    assert_eq!(at(&over), Some(0));
    over.parts[0].clean_id = Some("given-up".to_owned());
    assert_eq!(at(&over), Some(0));
    over.parts[0].clean_id = Some("done".to_owned());
    assert_eq!(at(&over), Some(1));
    let moved = over.clone().moved(1, &[day(6), day(9)], day(4)).unwrap();
    let days: Vec<_> = moved.parts.iter().map(|part| part.day).collect();
    assert_eq!(days, [day(3), day(6), day(9)]);
    for (days, said) in [
        (&[day(6)][..], "2 parts are to come: give a day for each"),
        (&[day(2), day(6)], "that day is over"),
        (&[day(6), day(6)], "each part has a later day"),
        (&[day(6), date(2027, 3, 1)], "within two months"),
    ] {
        let refused = over.clone().moved(1, days, day(4)).unwrap_err();
        assert!(refused.0[0].message.contains(said), "{refused}");
    }
    over.parts[1].clean_id = Some("done".to_owned());
    over.parts[2].clean_id = Some("done".to_owned());
    assert_eq!(at(&over), None);
}

#[test]
fn days_are_proposed_every_other_evening_and_checked() {
    let today = day(1);
    assert_eq!(proposed_days(3, today), [day(1), day(3), day(5)]);
    for (asked, given) in [(0, 2), (1, 2), (2, 2), (4, 4), (9, 4)] {
        assert_eq!(proposed_days(asked, today).len(), given);
    }
    for parts in 2..=4 {
        check_new_days(&proposed_days(parts, today), today).unwrap();
    }
    // Just below, at and above what is allowed.
    assert!(check_new_days(&[day(1)], today).is_err());
    assert!(check_new_days(&[day(1), day(2), day(3), day(4), day(5)], today).is_err());
    assert!(check_new_days(&[day(1), date(2027, 1, 30)], today).is_ok());
    assert!(check_new_days(&[day(1), date(2027, 1, 31)], today).is_err());
    assert!(check_new_days(&[date(2026, 11, 30), day(2)], today).is_err());
}

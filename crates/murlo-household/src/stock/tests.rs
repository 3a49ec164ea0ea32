use super::*;
use jiff::civil::{Date, date};
use jiff::{Timestamp, ToSpan};
use murlo_base::document::Kept;
use murlo_brewer::bath::Agent;
use murlo_brewer::job::Job;
use murlo_brewer::journal::{Entry, What};
use murlo_brewer::offer::Offer;
use proptest::prelude::*;

const START: Date = date(2026, 6, 1);

fn at(hour: i64) -> Timestamp {
    let start: Timestamp = "2026-06-01T00:00:00Z".parse().expect("a time");
    start + jiff::SignedDuration::from_hours(hour)
}

fn day(hour: i64) -> Date {
    START.saturating_add((hour / 24).days())
}

fn moved(hour: i64, what: Moved) -> Movement {
    Movement {
        id: format!("m{hour}"),
        item_id: "vinegar".into(),
        at: at(hour),
        day: day(hour),
        what,
    }
}

fn bought(hour: i64, amount: f64) -> Movement {
    moved(hour, Moved::Bought { amount })
}

fn counted(hour: i64, amount: f64) -> Movement {
    moved(hour, Moved::Counted { amount })
}

fn drawn(hour: i64, amount: f64) -> Drawn {
    Drawn {
        item_id: "vinegar".into(),
        day: day(hour),
        at: Some(at(hour)),
        amount,
        brewer_id: "b".into(),
        circuit_id: Some("main".into()),
    }
}

#[test]
fn a_level_is_the_sum_of_what_happened_since_it_was_counted() {
    let poured = |hour, amount| moved(hour, Moved::PouredAway { amount });
    // (opening, movements, draws) to the level.
    for (opening, moves, draws, left) in [
        (None, vec![], vec![drawn(1, 10.0)], None),
        (Some(500.0), vec![], vec![drawn(1, 10.0)], Some(500.0)),
        (None, vec![counted(5, 900.0)], vec![], Some(900.0)),
        (
            None,
            vec![counted(5, 900.0)],
            vec![drawn(4, 100.0)],
            Some(900.0),
        ),
        (
            None,
            vec![counted(5, 900.0)],
            vec![drawn(6, 100.0)],
            Some(800.0),
        ),
        // What was taken at the instant of the count is in the count.
        (
            None,
            vec![counted(5, 900.0)],
            vec![drawn(5, 100.0)],
            Some(900.0),
        ),
        (
            None,
            vec![bought(5, 1000.0)],
            vec![drawn(6, 300.0)],
            Some(700.0),
        ),
        (
            Some(200.0),
            vec![bought(5, 1000.0)],
            vec![drawn(6, 300.0)],
            Some(900.0),
        ),
        (
            None,
            vec![counted(5, 0.0), bought(7, 1000.0)],
            vec![drawn(6, 0.0)],
            Some(1000.0),
        ),
        (
            None,
            vec![bought(1, 1000.0), counted(5, 400.0)],
            vec![drawn(2, 600.0)],
            Some(400.0),
        ),
        (
            None,
            vec![counted(5, 400.0), poured(9, 150.0)],
            vec![],
            Some(250.0),
        ),
        (
            None,
            vec![counted(5, 100.0)],
            vec![drawn(6, 150.0)],
            Some(-50.0),
        ),
    ] {
        let found = level("vinegar", opening, &moves, &draws);
        assert_eq!(found, left, "{opening:?} {moves:?} {draws:?}");
    }
    // Of another thing nothing is drawn.
    assert_eq!(
        level("citric", Some(3.0), &[bought(1, 9.0)], &[]),
        Some(3.0)
    );
    // What is only known by its day counts from the day after a count on.
    let told = Drawn {
        at: None,
        ..drawn(30, 50.0)
    };
    assert_eq!(
        level(
            "vinegar",
            None,
            &[counted(29, 90.0)],
            std::slice::from_ref(&told)
        ),
        Some(90.0)
    );
    assert_eq!(
        level("vinegar", None, &[counted(5, 90.0)], &[told]),
        Some(40.0)
    );
}

#[test]
fn an_amount_below_nothing_or_of_something_unknown_is_refused() {
    let agents = Agent::starters();
    for (movement, field) in [
        (counted(1, 0.0), None),
        (counted(1, -0.1), Some("what.amount")),
        (counted(1, 100_000.0), None),
        (counted(1, 100_001.0), Some("what.amount")),
        (bought(1, 0.0), Some("what.amount")),
        (bought(1, 0.1), None),
        (bought(1, f64::NAN), Some("what.amount")),
    ] {
        let found = movement
            .check(&agents, &[])
            .err()
            .map(|p| p.0[0].field.clone());
        assert_eq!(found.as_deref(), field, "{movement:?}");
    }
    let unknown = Movement {
        item_id: "gold".into(),
        ..bought(1, 1.0)
    };
    assert_eq!(
        unknown.check(&agents, &[]).unwrap_err().0[0].field,
        "item_id"
    );
}

#[test]
fn a_level_counts_what_was_told_for_its_own_day_and_later() {
    // Without a time, what is told for the day of the count is in it already.
    let told = |after: i64| Drawn {
        at: None,
        day: day(24 * after),
        ..drawn(0, 10.0)
    };
    for (after, left) in [(0, 90.0), (1, 90.0), (2, 80.0)] {
        let found = level("vinegar", None, &[counted(24, 90.0)], &[told(after)]);
        assert_eq!(found, Some(left), "{after}");
    }
}

#[test]
fn what_a_foreign_file_says_of_the_cupboard_is_checked() {
    fn kept<T>(fact: T) -> Kept<T> {
        Kept {
            archived: false,
            fact,
        }
    }
    let supply = |name: &str, price: f64| Supply {
        id: "tall".into(),
        name: name.into(),
        kind: SupplyKind::Filter,
        offers: vec![Offer {
            source: "grocery".into(),
            amount: 2.0,
            price,
            postage: 0.0,
            coupon: 0.0,
            kit_worth: 0.0,
        }],
    };
    let of_supply = |n: i64| Movement {
        item_id: "tall".into(),
        ..bought(n, 1.0)
    };
    for (supply, movement, field) in [
        (supply("Tall", 5.0), of_supply(1), None),
        (supply("", 5.0), of_supply(1), Some("supplies.tall.name")),
        (
            supply("Tall", -5.0),
            of_supply(1),
            Some("supplies.tall.offers.0.price"),
        ),
        (
            supply("Tall", 5.0),
            bought(2, 1.0),
            Some("movements.m2.item_id"),
        ),
    ] {
        let found = check_all(&[], &[kept(supply)], &[kept(movement)]).err();
        let found = found.map(|p| p.0[0].field.clone());
        assert_eq!(found.as_deref(), field);
    }
}

#[test]
fn works_draw_one_piece_of_their_kind() {
    let supply = |id: &str, kind| Supply {
        id: id.into(),
        name: id.into(),
        kind,
        offers: Vec::new(),
    };
    let supplies = [
        supply("gloves", SupplyKind::Other),
        supply("clips", SupplyKind::Clip),
        supply("tablets", SupplyKind::StainRemover),
        supply("pods", SupplyKind::RinsePod),
        supply("tall", SupplyKind::Filter),
        supply("short", SupplyKind::Filter),
    ];
    let entry = |id: &str, what| Entry {
        id: id.into(),
        brewer_id: "b".into(),
        day: START,
        at: None,
        what,
    };
    let entries = [
        entry("1", What::FilterFitted),
        entry("2", What::Did { job: Job::RinsePod }),
        entry("3", What::Did { job: Job::Tray }),
        entry("4", What::NeedlesCleared),
        entry("5", What::Did { job: Job::Stains }),
    ];
    let drawn = of_works(&entries, &supplies);
    let items: Vec<_> = drawn
        .iter()
        .map(|d| (d.item_id.as_str(), d.amount))
        .collect();
    let expected = ["tall", "pods", "clips", "tablets"];
    assert_eq!(items, expected.map(|id| (id, 1.0)));
    assert!(of_works(&entries, &supplies[..1]).is_empty());
}

#[test]
fn advice_reads_the_level_and_never_less_than_nothing() {
    let left = |draw| {
        let agents = with_levels(Agent::starters(), &[counted(1, 100.0)], &[drawn(2, draw)]);
        let vinegar = agents.into_iter().find(|a| a.id == "vinegar");
        vinegar.and_then(|a| a.on_hand)
    };
    assert_eq!(left(40.0), Some(60.0));
    assert_eq!(left(100.0), Some(0.0));
    assert_eq!(left(140.0), Some(0.0));
}

proptest! {
    #[test]
    fn the_level_is_always_the_sum_of_its_movements_in_any_order(
        acts in proptest::collection::vec((0..4usize, 0.0..500.0f64), 1..30), turn in any::<usize>(),
    ) {
        let (mut moves, mut draws, mut expected) = (vec![counted(0, 100.0)], Vec::new(), 100.0);
        for (i, (kind, amount)) in acts.iter().enumerate() {
            let hour = 1 + i as i64;
            match kind {
                0 => { moves.push(bought(hour, *amount)); expected += amount; }
                1 => { moves.push(counted(hour, *amount)); expected = *amount; }
                2 => { moves.push(moved(hour, Moved::PouredAway { amount: *amount })); expected -= amount; }
                _ => { draws.push(drawn(hour, *amount)); expected -= amount; }
            }
        }
        let n = moves.len();
        moves.rotate_left(turn % n);
        let found = level("vinegar", None, &moves, &draws).expect("it was counted");
        prop_assert!((found - expected).abs() < 1e-6, "{} {}", found, expected);
    }
}

#[test]
fn what_is_forgotten_moves_no_level() {
    let moves = [bought(0, 1000.0)];
    let of = |brewer: &str, amount: f64| Drawn {
        brewer_id: brewer.into(),
        ..drawn(24, amount)
    };
    let items = || {
        [
            ("vinegar", None),
            ("citric", Some(100.0)),
            ("unknown", None),
        ]
    };
    let without = |drawn: &[Drawn], gone: &str| {
        levels_without(items(), &moves, drawn, |d| d.brewer_id == gone)
    };
    let drawn = [of("kiln", 300.0), of("lamp", 200.0)];
    assert_eq!(without(&drawn, "kiln"), [("vinegar".to_owned(), 500.0)]);
    assert_eq!(without(&drawn, "other"), []);
    // A bottle that was drawn past its end is empty, not owed.
    let drawn = [of("kiln", 300.0), of("lamp", 1200.0)];
    assert_eq!(without(&drawn, "lamp"), [("vinegar".to_owned(), 0.0)]);
}

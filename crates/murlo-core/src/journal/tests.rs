use super::*;
use crate::brewer::{BrewerDraft, Family};
use crate::scale::days_after;
use crate::units::Units;
use jiff::civil::date;
use proptest::prelude::*;

const TODAY: Date = date(2026, 11, 23);

fn brewer() -> Brewer {
    let start = date(2026, 1, 1);
    let draft = BrewerDraft {
        nickname: "pod".into(),
        ..BrewerDraft::template(Family::PodReservoir, Units::Metric, "h", "w", start)
    };
    draft.check("pod".into(), None, start).unwrap()
}

fn entry(id: &str, day: Date, what: What) -> Entry {
    Entry {
        id: id.into(),
        brewer_id: "pod".into(),
        day,
        what,
    }
}

fn sign(sign: Sign, dated: bool, potential_mg: f64) -> What {
    What::Sign {
        circuit_id: "main".into(),
        sign,
        dated,
        potential_mg: Some(potential_mg),
    }
}

fn showed(chalk: bool, potential_mg: f64) -> What {
    What::Showed {
        circuit_id: "main".into(),
        clean_id: "c".into(),
        chalk,
        by: None,
        potential_mg,
    }
}

fn taught(whats: Vec<What>) -> (Plating, Vec<Lesson>) {
    let brewer = brewer();
    let entries: Vec<_> = whats
        .into_iter()
        .enumerate()
        .map(|(i, what)| entry(&i.to_string(), days_after(TODAY, i as i32 - 50), what))
        .collect();
    plating(&brewer, &brewer.circuits[0], &entries, TODAY)
}

#[test]
fn a_dated_sign_teaches_more_than_a_vague_one() {
    // Limit 569.1 mg of a tank; slow after 2,500 mg, so more sticks than the starting 15 %.
    let (dated, lessons) = taught(vec![sign(Sign::Slow, true, 2500.0)]);
    assert!((dated.factor - 0.193_443).abs() < 1e-4 && (dated.sigma - 0.312_348).abs() < 1e-4);
    assert!(
        lessons[0]
            .text
            .ends_with("chalk grows 29 % faster than reckoned before"),
        "{}",
        lessons[0].text
    );
    let (vague, _) = taught(vec![sign(Sign::Slow, false, 2500.0)]);
    assert!(vague.factor < dated.factor && vague.sigma > dated.sigma);
}

#[test]
fn a_light_that_counts_water_teaches_nothing() {
    let mut counting = brewer();
    let seen = [entry("1", TODAY, sign(Sign::Light, true, 2500.0))];
    let now = |b: &Brewer| plating(b, &b.circuits[0], &seen, TODAY);
    assert!(now(&counting).0.factor > 0.15);
    counting.light_counts = true;
    let (plating, lessons) = now(&counting);
    assert!((plating.factor - 0.15).abs() < 1e-12);
    assert!(
        lessons[0].text.contains("only counts water"),
        "{}",
        lessons[0].text
    );
    assert!(learned(&counting.circuits[0], plating, &lessons).starts_with("Nothing learned yet"));
}

#[test]
fn no_chalk_teaches_only_when_some_was_expected() {
    for (potential, teaches) in [(1000.0, false), (6000.0, true)] {
        let (plating, lessons) = taught(vec![showed(false, potential)]);
        assert_eq!(plating.factor < 0.149, teaches, "{}", lessons[0].text);
        assert_eq!(lessons[0].before != lessons[0].after, teaches);
    }
}

#[test]
fn lessons_add_up_in_order_and_other_circuits_do_not_matter() {
    let (now, lessons) = taught(vec![
        sign(Sign::Noisy, true, 2500.0),
        showed(true, 2600.0),
        What::NeedlesCleared,
    ]);
    assert_eq!(lessons.len(), 2);
    assert_eq!(lessons[1].before, lessons[0].after);
    assert_eq!(lessons[1].after, now);
    let text = learned(&brewer().circuits[0], now, &lessons);
    assert!(text.starts_with("Learned from 2 observations"), "{text}");
    let mut other = brewer();
    other.circuits[0].id = "carafe".into();
    let entries = [entry("1", TODAY, sign(Sign::Slow, true, 2500.0))];
    assert!(
        plating(&other, &other.circuits[0], &entries, TODAY)
            .1
            .is_empty()
    );
}

#[test]
fn a_lesson_can_be_left_out_and_taken_in_again() {
    let brewer = brewer();
    let seen = entry("1", TODAY, sign(Sign::Slow, true, 2500.0));
    let out = entry(
        "2",
        TODAY,
        What::LeftOut {
            entry_id: "1".into(),
        },
    );
    let now = |entries: &[Entry]| plating(&brewer, &brewer.circuits[0], entries, TODAY);
    let (without, lessons) = now(&[seen.clone(), out]);
    assert!((without.factor - 0.15).abs() < 1e-12);
    assert_eq!(lessons[0].left_out_by.as_deref(), Some("2"));
    assert!(now(&[seen]).0.factor > 0.15);
}

#[test]
fn wrong_entries_name_their_field() {
    let brewer = brewer();
    let others = [entry(
        "r",
        days_after(TODAY, -10),
        What::Counter { brews: 500.0 },
    )];
    let away = |until| What::Away { until };
    let unknown = What::Sign {
        circuit_id: "left".into(),
        sign: Sign::Slow,
        dated: true,
        potential_mg: None,
    };
    for (day, what, field) in [
        (days_after(TODAY, 1), What::Brewed { cups: 1.0 }, "day"),
        (date(2025, 1, 1), What::Brewed { cups: 1.0 }, "day"),
        (TODAY, What::Brewed { cups: -1.0 }, "what.cups"),
        (TODAY, What::Brewed { cups: f64::NAN }, "what.cups"),
        (TODAY, What::Counter { brews: 499.0 }, "what.brews"),
        (
            days_after(TODAY, -20),
            What::Counter { brews: 501.0 },
            "what.brews",
        ),
        (TODAY, away(days_after(TODAY, -1)), "what.until"),
        (TODAY, unknown, "what.circuit_id"),
        (TODAY, showed(true, 100.0), "what.kind"),
    ] {
        let draft = EntryDraft {
            id: "e".into(),
            day,
            what: what.clone(),
        };
        let problems = draft.check(&brewer, &others, TODAY).unwrap_err();
        assert_eq!(problems.0[0].field, field, "{what:?}");
    }
    // Going away is planned ahead.
    let draft = EntryDraft {
        id: "e".into(),
        day: days_after(TODAY, 5),
        what: away(days_after(TODAY, 9)),
    };
    assert!(draft.check(&brewer, &others, TODAY).is_ok());
}

#[test]
fn counts_are_read_from_lines_or_refused_whole() {
    let brewer = brewer();
    let read = |csv: &str| parse_counts(csv, &brewer, TODAY);
    let entries = read("day,cups\n2026-11-20,3\n2026-11-21; 4.5\n\n2026-11-22\t0\n").unwrap();
    let cups: Vec<_> = entries.iter().map(|e| (e.day, e.what.clone())).collect();
    assert_eq!(cups.len(), 3);
    assert_eq!(cups[1], (date(2026, 11, 21), What::Brewed { cups: 4.5 }));
    for (csv, field) in [
        ("", "csv"),
        ("day,cups", "csv"),
        ("2026-11-20", "line 1"),
        ("2026-11-20,3\n2026-11-20,3", "line 2"),
        ("2026-11-20,3\n2026-11-31,3", "line 2"),
        ("2026-11-20,many", "line 1"),
        ("2030-01-01,3", "line 1.day"),
        ("2026-11-20,-3", "line 1.what.cups"),
    ] {
        assert_eq!(read(csv).unwrap_err().0[0].field, field, "{csv:?}");
    }
}

proptest! {
    #[test]
    fn what_was_left_makes_the_same_potential_tell_of_more(potential in 100.0..20_000.0f64, left in 0.0..2000.0f64) {
        let brewer = brewer();
        let circuit = &brewer.circuits[0];
        let learned = potential_to_learn(circuit, potential, left);
        prop_assert!(learned.is_finite() && learned >= potential);
    }

    #[test]
    fn any_text_is_counts_or_a_problem(csv in "[0-9,;\n -]{0,60}") {
        let brewer = brewer();
        match parse_counts(&csv, &brewer, TODAY) {
            Ok(entries) => prop_assert!(!entries.is_empty()),
            Err(problems) => prop_assert!(!problems.0.is_empty()),
        }
    }
}

use super::*;
use crate::{BrewerDraft, Family};
use jiff::civil::date;
use murlo_base::days::days_after;
use murlo_base::units::Units;
use proptest::prelude::*;

pub(crate) const TODAY: Date = date(2026, 11, 23);

pub(crate) fn brewer() -> Brewer {
    let start = date(2026, 1, 1);
    let draft = BrewerDraft {
        nickname: "pod".into(),
        ..BrewerDraft::template(Family::PodReservoir, Units::Metric, "h", "w", start)
    };
    draft.check("pod".into(), None, start).unwrap()
}

pub(crate) fn entry(id: &str, day: Date, what: What) -> Entry {
    Entry {
        id: id.into(),
        brewer_id: "pod".into(),
        day,
        at: None,
        what,
    }
}

pub(crate) fn timed(seconds: f64) -> What {
    What::Timed {
        circuit_id: "main".into(),
        seconds,
        cup_ml: None,
    }
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
        (TODAY, timed(0.5), "what.seconds"),
        (TODAY, timed(1801.0), "what.seconds"),
    ] {
        let draft = EntryDraft {
            id: "e".into(),
            day,
            what: what.clone(),
        };
        let problems = draft.check(&brewer, &others, TODAY).unwrap_err();
        assert_eq!(problems.0[0].field, field, "{what:?}");
    }
    // A counter that starts again begins low.
    for (brews, taken) in [(0.0, true), (250.0, true), (251.0, false), (499.0, false)] {
        let draft = EntryDraft {
            id: "e".into(),
            day: TODAY,
            what: What::Counter { brews },
        };
        assert_eq!(
            draft.check(&brewer, &others, TODAY).is_ok(),
            taken,
            "{brews}"
        );
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
    // As spreadsheets write it.
    for csv in [
        "\u{feff}2026-11-20,3\n2026-11-21,4.5",
        "\u{feff}\"day\",\"cups\"\r\n\"2026-11-20\",\"3\"\r\n\"2026-11-21\",\"4,5\"\r\n",
        "\"2026-11-20\";3\n\"2026-11-21\";4,5",
        "\"2026-11-20\",3\n2026-11-21;\"4.5\"",
    ] {
        let entries = read(csv).unwrap();
        let cups: Vec<_> = entries.iter().map(|e| (e.day, e.what.clone())).collect();
        let brewed = |day, cups| (date(2026, 11, day), What::Brewed { cups });
        assert_eq!(cups, [brewed(20, 3.0), brewed(21, 4.5)], "{csv:?}");
    }
    for (csv, field) in [
        ("", "csv"),
        ("day,cups", "csv"),
        ("\"day\",\"cups\"", "csv"),
        ("2026-11-20,3,Anna", "line 1"),
        ("\"2026-11-20", "csv"),
        ("day\n\"2026-11-20\"3", "line 2"),
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
    fn any_text_is_counts_or_a_problem(csv in "[0-9,;\"\n -]{0,60}") {
        let brewer = brewer();
        match parse_counts(&csv, &brewer, TODAY) {
            Ok(entries) => prop_assert!(!entries.is_empty()),
            Err(problems) => prop_assert!(!problems.0.is_empty()),
        }
    }
}

#[test]
fn what_matters_beyond_the_next_clean_is_not_what_was_brewed() {
    for (what, lasts) in [
        (What::Brewed { cups: 2.0 }, false),
        (What::Counter { brews: 40.0 }, false),
        (What::Away { until: TODAY }, false),
        (What::FilterFitted, true),
        (What::NeedlesCleared, true),
        (timed(20.0), true),
    ] {
        assert_eq!(what.lasts(), lasts, "{what:?}");
    }
}

#[test]
fn a_sign_is_told_in_words_of_its_own() {
    let words = [Sign::Slow, Sign::Noisy, Sign::Cooler, Sign::Light].map(Sign::words);
    assert_eq!(
        words,
        [
            "Slow or short cups",
            "Louder than usual",
            "Cooler cups",
            "Descaling light lit up"
        ]
    );
}

#[test]
fn a_cause_is_said_as_likely_as_it_is() {
    for (percent, said) in [
        (90.0, "almost surely"),
        (89.9, "most likely"),
        (60.0, "most likely"),
        (59.9, "likely"),
        (35.0, "likely"),
        (34.9, "perhaps"),
        (0.0, "perhaps"),
    ] {
        assert_eq!(how_likely(percent), said, "{percent}");
    }
}

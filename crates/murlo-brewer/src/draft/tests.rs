use super::*;
use crate::Brewer;
use crate::family::{Family, Outlet};
use crate::model::Policy;
use jiff::civil::{Date, date};
use murlo_base::problem::Code;
use murlo_base::units::{FL_OZ_ML, Units};
use murlo_chemistry::washout::Washout;
use proptest::prelude::*;

const TODAY: Date = date(2026, 11, 23);

fn draft(family: Family) -> BrewerDraft {
    BrewerDraft {
        nickname: "Kiln drip".into(),
        ..BrewerDraft::template(family, Units::Us, "home", "water", TODAY)
    }
}

#[test]
fn every_template_is_a_brewer_once_it_has_a_name() {
    for family in Family::ALL {
        for units in [Units::Us, Units::Metric] {
            let named = BrewerDraft {
                nickname: "x".into(),
                ..BrewerDraft::template(family, units, "h", "w", TODAY)
            };
            let brewer = named.check("b".into(), None, TODAY).unwrap();
            brewer.check().unwrap();
            let again = BrewerDraft::of(&brewer, units)
                .check("b".into(), Some(&brewer), TODAY)
                .unwrap();
            assert_eq!(again.circuits[0].heater, brewer.circuits[0].heater);
            assert!((again.reservoir_ml - brewer.reservoir_ml).abs() < 0.5);
        }
    }
}

#[test]
fn carafe_marks_are_of_the_brewers_own_size() {
    let drip = BrewerDraft {
        reservoir: "11 marks".into(),
        carafe_mark: Some("4 fl oz".into()),
        ..draft(Family::Drip)
    };
    let brewer = drip.check("b".into(), None, TODAY).unwrap();
    assert!((brewer.reservoir_ml - 11.0 * 4.0 * FL_OZ_ML).abs() < 1e-9);
    assert_eq!(brewer.circuits[0].dispense_ml, brewer.reservoir_ml);
}

#[test]
fn a_reservoir_holds_no_more_than_its_carafe_and_cups_may_be_marks() {
    let typed = |reservoir: &str| {
        let drip = BrewerDraft {
            reservoir: reservoir.into(),
            carafe_marks: Some(12.0),
            carafe_mark: Some("5 fl oz".into()),
            ..draft(Family::Drip)
        };
        drip.check("b".into(), None, TODAY)
    };
    for (reservoir, why) in [
        ("12 marks", None),
        ("60 fl oz", None),
        // Up to the brim, and a little more.
        ("69 fl oz", None),
        ("69.1 fl oz", Some("it would run over")),
        // Measuring cups that fit are measuring cups.
        ("7 cups", None),
        ("12 cups", Some("marks or measuring cups?")),
    ] {
        match (typed(reservoir), why) {
            (Ok(brewer), None) => assert!(brewer.reservoir_ml > 1600.0),
            (Err(problems), Some(why)) => {
                let problem = &problems.0[0];
                assert_eq!(
                    (problem.field.as_str(), problem.code),
                    ("reservoir", Code::TooMuch)
                );
                assert!(problem.message.contains(why), "{reservoir}: {problem}");
                assert!(
                    problem.message.contains("60 fl oz"),
                    "{reservoir}: {problem}"
                );
            }
            (given, _) => panic!("{reservoir}: {given:?}"),
        }
    }
    // One that was kept before this was asked goes on, and is filled as far as its carafe takes.
    let old = Brewer {
        reservoir_ml: 3000.0,
        ..typed("12 marks").unwrap()
    };
    let brim = old.carafe.unwrap().brim_ml();
    assert!((old.reservoir_of(&old.circuits[0]) - brim).abs() < 1e-9);
    let again = BrewerDraft {
        nickname: "Renamed".into(),
        reservoir: "3000 mL".into(),
        carafe_marks: Some(12.0),
        carafe_mark: Some("5 fl oz".into()),
        ..draft(Family::Drip)
    };
    assert!(again.check("b".into(), Some(&old), TODAY).is_ok());
}

#[test]
fn all_wrong_fields_are_named_at_once() {
    let wrong = BrewerDraft {
        nickname: String::new(),
        reservoir: "90 L".into(),
        dispense: None,
        weekday_cups: f64::NAN,
        in_use_since: date(2027, 1, 1),
        ..draft(Family::PodReservoir)
    };
    let fields: Vec<_> = wrong
        .check("b".into(), None, TODAY)
        .unwrap_err()
        .0
        .into_iter()
        .map(|p| (p.field, p.code))
        .collect();
    let expected = [
        ("nickname", Code::Missing),
        ("reservoir", Code::OutOfRange),
        ("dispense", Code::Missing),
        ("weekday_cups", Code::NotANumber),
        ("in_use_since", Code::OutOfRange),
    ];
    assert_eq!(fields, expected.map(|(f, c)| (f.to_owned(), c)));
}

#[test]
fn a_dispense_larger_than_the_reservoir_is_refused() {
    let wrong = BrewerDraft {
        reservoir: "10 fl oz".into(),
        ..draft(Family::PodReservoir)
    };
    let problems = wrong.check("b".into(), None, TODAY).unwrap_err().0;
    assert_eq!(
        (problems[0].code, problems[0].field.as_str()),
        (Code::TooMuch, "dispense")
    );
}

#[test]
fn a_new_habit_holds_from_today_and_the_past_keeps_its_own() {
    let old = BrewerDraft {
        in_use_since: date(2026, 1, 1),
        ..draft(Family::Drip)
    };
    let before = old.check("b".into(), None, TODAY).unwrap();
    let after = BrewerDraft {
        weekday_cups: 9.0,
        ..old
    }
    .check("b".into(), Some(&before), TODAY)
    .unwrap();
    assert_eq!(
        after
            .habits
            .iter()
            .map(|h| (h.from, h.value.weekday_cups))
            .collect::<Vec<_>>(),
        [(date(2026, 1, 1), 2.0), (TODAY, 9.0)]
    );
    assert_eq!(after.waters.len(), 1);
}

#[test]
fn filter_policy_and_what_the_maker_forbids_come_back_into_the_form() {
    let full = BrewerDraft {
        reservoir_line: Some("4 fl oz".into()),
        filter: true,
        filter_takes_out: 40.0,
        filter_days: 90.0,
        filter_fills: 120.0,
        filter_price: Some(6.5),
        policy: Policy {
            chalk: true,
            light: true,
            days: Some(90),
            brews: Some(250),
        },
        light_counts: true,
        washout: Some(Washout::Series2),
        forbids: vec!["vinegar".into()],
        ..draft(Family::PodReservoir)
    };
    let brewer = full.check("b".into(), None, TODAY).unwrap();
    brewer.check().unwrap();
    let again = BrewerDraft::of(&brewer, Units::Us);
    assert_eq!(again.filter_takes_out, 40.0);
    assert_eq!((again.filter_days, again.filter_fills), (90.0, 120.0));
    assert_eq!((again.policy, again.forbids), (full.policy, full.forbids));
    assert_eq!(again.reservoir_line.as_deref(), Some("4 fl oz"));
    assert_eq!(again.washout, Some(Washout::Series2));
    assert_eq!(brewer.circuits[0].washout(), Washout::Series2);
    assert_eq!(
        brewer.policy.words(),
        "computed chalk or the brewer's light or 90 days or 250 brews, whichever is first"
    );
}

#[test]
fn wrong_figures_of_filter_and_policy_are_named() {
    let wrong = BrewerDraft {
        reservoir_line: Some("finely".into()),
        filter: true,
        filter_takes_out: 120.0,
        filter_days: 0.0,
        filter_fills: f64::NAN,
        filter_price: Some(-1.0),
        policy: Policy {
            days: Some(5000),
            brews: Some(0),
            ..Policy::default()
        },
        ..draft(Family::PodReservoir)
    };
    let fields: Vec<_> = wrong
        .check("b".into(), None, TODAY)
        .unwrap_err()
        .0
        .into_iter()
        .map(|p| p.field)
        .collect();
    let expected = [
        "reservoir_line",
        "filter_takes_out",
        "filter_days",
        "filter_fills",
        "filter_price",
        "policy.days",
        "policy.brews",
    ];
    assert_eq!(fields, expected);
}

#[test]
fn a_clean_keeps_the_other_side_waiting_where_both_share_a_reservoir() {
    let today = date(2026, 6, 1);
    let mut draft = BrewerDraft {
        nickname: "Studio duo".into(),
        ..BrewerDraft::template(Family::Combination, Units::Us, "h", "w", today)
    };
    for (reservoir, other_waits) in [(None, true), (Some("40 fl oz".to_owned()), false)] {
        draft.other_side.as_mut().unwrap().reservoir = reservoir;
        let brewer = draft.check("b".into(), None, today).unwrap();
        for (running, other, waits) in [
            ("main", "main", true),
            ("pod", "pod", true),
            ("main", "pod", other_waits),
            ("pod", "main", other_waits),
        ] {
            assert_eq!(brewer.blocks(running, other), waits, "{running} {other}");
        }
    }
}

proptest! {
    /// A sheet shows rounded volumes; saved as it stands it changes none of them, and begins no new habit.
    #[test]
    fn a_sheet_that_is_saved_untouched_changes_nothing(
        family in proptest::sample::select(Family::ALL.to_vec()),
        metric in any::<bool>(),
        off in 0.9..1.1f64,
    ) {
        let start = date(2026, 6, 1);
        let draft = BrewerDraft {
            nickname: "One".into(),
            ..BrewerDraft::template(family, Units::Us, "h", "w", start)
        };
        let mut brewer = draft.check("b".into(), None, start).unwrap();
        for circuit in &mut brewer.circuits {
            circuit.hold_up_ml *= off;
            if family != Family::OneCupPod && circuit.outlet != Outlet::Grounds {
                circuit.dispense_ml *= off;
            }
        }
        brewer.habits[0].value.cup_ml *= off;
        let units = if metric { Units::Metric } else { Units::Us };
        let shown = BrewerDraft::of(&brewer, units);
        let saved = shown.check("b".into(), Some(&brewer), date(2026, 7, 1)).unwrap();
        for (saved, was) in saved.circuits.iter().zip(&brewer.circuits) {
            prop_assert_eq!(saved.hold_up_ml, was.hold_up_ml);
            prop_assert_eq!(saved.dead_volume_ml, was.dead_volume_ml);
            if was.outlet != Outlet::Grounds {
                prop_assert_eq!(saved.dispense_ml, was.dispense_ml);
            }
        }
        prop_assert_eq!(&saved.habits, &brewer.habits);
        // What is typed otherwise counts.
        let other = BrewerDraft { cup: "5 fl oz".into(), ..shown };
        let changed = other.check("b".into(), Some(&brewer), date(2026, 7, 1)).unwrap();
        prop_assert_eq!(changed.habits.len(), 2);
    }
}

//! Who owes what, against the bills of the visits themselves.

use super::*;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use murlo_brewer::home::Home;
use murlo_chalk::money::Terms;
use proptest::prelude::*;

fn line(home: Option<&str>, of: LineOf, amount: f64) -> BillLine {
    BillLine {
        home: home.map(str::to_owned),
        of,
        ..BillLine::typed("What", amount)
    }
}

/// Over, from nine o'clock of a day on for so many minutes.
fn over(id: &str, on: Date, minutes: f64, bill: Bill) -> Visit {
    let at = |minutes: f64| {
        let nine = on
            .at(9, 0, 0, 0)
            .to_zoned(TimeZone::UTC)
            .unwrap()
            .timestamp();
        nine + SignedDuration::from_secs((minutes * 60.0) as i64)
    };
    let event = |id: &str, minutes, what| VisitEvent {
        id: id.into(),
        at: at(minutes),
        by: None,
        what,
    };
    Visit {
        events: vec![
            event("a", 0.0, VisitWhat::Started),
            event(
                "b",
                minutes,
                VisitWhat::Closed {
                    bill: Some(bill),
                    left: Vec::new(),
                },
            ),
        ],
        rooms: vec![room("bath-h", "h", 5), room("bath-o", "o", 5)],
        ..Visit::planned(id, on, time(9, 0, 0, 0))
    }
}

fn owed(visits: &[Visit], day: Date) -> Owed {
    let homes = [Home::named("h", "Quay"), Home::named("o", "Arbour")];
    let brewers = HashMap::new();
    let places = KnownPlaces {
        homes: &homes,
        brewers: &brewers,
        visits,
        off: &[],
    };
    let courses: Vec<_> = visits
        .iter()
        .map(|visit| (visit, visit.course().unwrap()))
        .collect();
    let name_of = |id: &str| match places.name_of(id) {
        name if name.is_empty() => format!("{id}, put away"),
        name => name,
    };
    Owed::of(day, (places, &courses), name_of, &TimeZone::UTC, &terms())
}

fn terms() -> Terms {
    Terms {
        currency: "$".into(),
        ..Terms::default()
    }
}

fn there(home: &str, minutes: f64) -> TimeThere {
    TimeThere {
        home: home.into(),
        minutes,
    }
}

#[test]
fn each_home_owes_its_own_lines_of_the_month_in_which_the_visit_began() {
    let both = Bill {
        lines: vec![
            line(Some("h"), LineOf::Time, 20.0),
            line(Some("h"), LineOf::Material, 1.5),
            line(Some("o"), LineOf::Time, 12.0),
            // Typed, and of a home that is gone.
            line(None, LineOf::Other, -2.0),
            line(Some("x"), LineOf::Time, 7.0),
        ],
        is_gift: false,
        there: vec![there("h", 60.0), there("o", 35.5)],
    };
    let gift = Bill {
        is_gift: true,
        ..both.clone()
    };
    let old = Bill {
        lines: vec![line(None, LineOf::Other, 30.0)],
        ..Bill::default()
    };
    let mut visits = vec![
        over("v1", date(2026, 11, 30), 100.0, both),
        over("v2", date(2026, 11, 3), 50.0, gift),
        over("v3", date(2026, 10, 31), 90.0, old.clone()),
        over("v4", date(2026, 12, 1), 90.0, old),
        Visit {
            events: Vec::new(),
            ..over("v5", date(2026, 11, 9), 1.0, Bill::default())
        },
    ];
    let november = owed(&visits, date(2026, 11, 17));
    assert_eq!(
        (november.month, november.before, november.after),
        (date(2026, 11, 1), date(2026, 10, 1), date(2026, 12, 1))
    );
    let told: Vec<_> = november
        .homes
        .iter()
        .map(|home| format!("{}: {} {}", home.name, home.total_text, home.text))
        .collect();
    assert_eq!(
        told,
        [
            "Arbour: $12.00 2 visits, 1 h 11 min",
            "Quay: $19.50 2 visits, 2 h",
            "x, put away: $7.00 2 visits, 0 min"
        ]
    );
    assert_eq!(november.text, "2 visits, 3 h 11 min; material $1.50");
    assert_eq!(
        (november.total, november.open, november.open_text.as_str()),
        (38.5, 38.5, "not paid yet")
    );
    assert_eq!(november.homes[1].visits[0].total_text, "a gift");
    assert_eq!(
        november.earlier,
        [OwedMonth {
            month: date(2026, 10, 1),
            text: "Oct 2026: $30.00 open".into()
        }]
    );
    // Of one that was closed before times were kept, the whole time is that of its first home.
    let october = owed(&visits, date(2026, 10, 1));
    assert_eq!(october.homes[0].visits[0].minutes, 90.0);
    assert_eq!(october.earlier, []);
    // Paid.
    visits[0].paid = [
        ("h".to_owned(), date(2026, 12, 2)),
        ("o".to_owned(), date(2026, 12, 3)),
    ]
    .into();
    visits[2].paid = [("h".to_owned(), date(2026, 11, 2))].into();
    let november = owed(&visits, date(2026, 11, 1));
    let open: Vec<_> = november
        .homes
        .iter()
        .map(|home| home.open_text.as_str())
        .collect();
    assert_eq!(open, ["paid", "paid", "not paid yet"]);
    assert_eq!(
        (
            november.open,
            november.open_text.as_str(),
            november.earlier.len()
        ),
        (7.0, "$7.00 open", 0)
    );
    let letter = "Quay, November 2026\n\n3 Nov, 1 h there: a gift\n30 Nov, 1 h there: $19.50\n  What: $20.00\n  What: $1.50\n  What: $-2.00\n\nTogether $19.50\nPaid, with thanks";
    assert_eq!(november.homes[1].letter, letter);
    let csv = november.csv(&terms());
    assert!(
        csv.starts_with(
            "day (YYYY-MM-DD),home,there (min),amount ($),of it material ($),gift,paid on,lines\r\n"
        ),
        "{csv}"
    );
    assert!(
        csv.contains(
            "2026-11-30,Quay,60,19.50,1.50,,2026-12-02,What: $20.00; What: $1.50; What: $-2.00\r\n"
        ),
        "{csv}"
    );
    assert!(
        csv.contains("2026-11-03,Arbour,36,0.00,0.00,yes,,"),
        "{csv}"
    );
    let none = owed(&[], date(2026, 11, 1));
    assert_eq!(
        (none.open_text.as_str(), none.text.as_str()),
        ("nothing to pay", "0 visits, 0 min")
    );
}

#[test]
fn a_bill_names_homes_and_times_that_can_be() {
    let with = |there: Vec<TimeThere>| {
        Bill {
            there,
            ..Bill::default()
        }
        .check()
        .err()
        .map(|p| p.0[0].field.clone())
    };
    assert_eq!(with(vec![there("h", 0.0), there("o", 2880.0)]), None);
    assert_eq!(
        with(vec![there("h", 2880.1)]).as_deref(),
        Some("there.0.minutes")
    );
    assert_eq!(
        with(vec![there("h", f64::NAN)]).as_deref(),
        Some("there.0.minutes")
    );
    assert_eq!(
        with(vec![there("h h", 1.0)]).as_deref(),
        Some("there.0.home")
    );
    assert_eq!(with(vec![there("h", 1.0); 12]), None);
    assert_eq!(with(vec![there("h", 1.0); 13]).as_deref(), Some("there"));
    let paid = |home: &str, on| {
        let mut visit = over("v", date(2026, 11, 3), 1.0, Bill::default());
        visit.paid = [(home.to_owned(), on)].into();
        visit.check().err().map(|p| p.0[0].field.clone())
    };
    assert_eq!(paid("h", date(2026, 11, 3)), None);
    assert_eq!(paid("h h", date(2026, 11, 3)).as_deref(), Some("paid"));
    assert_eq!(paid("h", date(2200, 1, 1)).as_deref(), Some("paid.h"));
}

proptest! {
    #[test]
    fn homes_together_owe_what_the_bills_come_to(
        visits in prop::collection::vec((1..=28i8, any::<bool>(), prop::collection::vec((0..3usize, -50..200i32), 0..6)), 0..12),
    ) {
        let homes = [None, Some("h"), Some("o")];
        let visits: Vec<_> = visits.into_iter().enumerate().map(|(n, (on, is_gift, lines))| {
            let lines = lines.into_iter().map(|(home, cents)| line(homes[home], LineOf::Time, f64::from(cents) / 100.0));
            let bill = Bill { lines: lines.collect(), is_gift, ..Bill::default() };
            over(&format!("v{n}"), date(2026, 11, on), 30.0, bill)
        }).collect();
        let bills = visits.iter().map(|visit| visit.course().unwrap().bill.unwrap().total());
        let month = owed(&visits, date(2026, 11, 1));
        prop_assert!((month.total - bills.sum::<f64>()).abs() < 0.005);
        let homes: f64 = month.homes.iter().map(|home| home.total).sum();
        prop_assert!((month.total - homes).abs() < 0.005);
        prop_assert_eq!(month.open, month.total);
    }
}

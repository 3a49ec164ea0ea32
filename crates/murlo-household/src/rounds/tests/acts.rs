//! What is done in a visit, and what it comes to.

use crate::rounds::tests::{NINE, later, room, stock, stop, three, visit};
use crate::rounds::*;
use jiff::civil::{date, time};
use jiff::tz::TimeZone;
use murlo_base::document::Kept;
use murlo_base::problem::Code;
use murlo_base::units::Amount;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::{Home, Pay};
use murlo_brewer::job::Job;
use murlo_chalk::money;
use murlo_plan::{Plan, PlanOptions, Work};
use std::collections::HashMap;

pub(crate) fn acts(whats: Vec<VisitWhat>) -> Result<Visit, murlo_base::problem::Problems> {
    let whole = visit(&["pod", "drip"], vec![room("bath", "h", 12)]);
    whats
        .into_iter()
        .enumerate()
        .try_fold(whole, |visit, (n, what)| {
            let at = later(n as f64);
            visit.admit(VisitEvent {
                id: format!("e{n}"),
                at,
                by: None,
                what,
            })
        })
}

pub(crate) fn done(room: &str) -> VisitWhat {
    VisitWhat::RoomDone { room: room.into() }
}

fn dropped(id: &str) -> VisitWhat {
    VisitWhat::Dropped {
        id: id.into(),
        day: None,
    }
}

fn undone(n: usize) -> VisitWhat {
    VisitWhat::Undone {
        event: format!("e{n}"),
    }
}

pub(crate) fn closed() -> VisitWhat {
    VisitWhat::Closed {
        bill: Some(Bill::default()),
        left: Vec::new(),
    }
}

#[test]
fn acts_of_a_visit_follow_each_other() {
    use VisitWhat::{Added, Reopened, Started};
    for (whats, fits) in [
        (vec![Started], true),
        (vec![Started, Started], false),
        (vec![done("bath")], false),
        (vec![Started, done("bath")], true),
        (vec![Started, done("bath"), done("bath")], false),
        (vec![Started, done("attic")], false),
        (vec![Started, done("bath"), undone(1), done("bath")], true),
        (vec![Started, done("bath"), undone(0)], false),
        (vec![Started, dropped("bath"), done("bath")], false),
        (vec![Started, dropped("drip"), dropped("drip")], false),
        (vec![Started, dropped("nobody")], false),
        (vec![Started, done("bath"), dropped("bath")], false),
        (
            vec![Started, Added { stop: stop("cup") }, dropped("cup")],
            true,
        ),
        (vec![Started, Added { stop: stop("pod") }], false),
        (vec![Started, closed()], true),
        (vec![closed()], false),
        (vec![Started, closed(), done("bath")], false),
        (vec![Started, closed(), Reopened, done("bath")], true),
        (vec![Started, closed(), undone(1), done("bath")], true),
        (vec![Reopened], false),
    ] {
        let told = format!("{whats:?}");
        match acts(whats) {
            Ok(_) => assert!(fits, "{told}"),
            Err(problems) => assert!(!fits && problems.0[0].code == Code::DoesNotFit, "{told}"),
        }
    }
    let visit = acts(vec![
        Started,
        Added { stop: stop("cup") },
        dropped("drip"),
        done("bath"),
    ])
    .unwrap();
    let course = visit.course().unwrap();
    let left: Vec<_> = visit
        .all_stops(&course)
        .map(|stop| stop.id.as_str())
        .collect();
    assert_eq!(left, ["pod", "cup"]);
    assert_eq!(course.undo.as_deref(), Some("e3"));
    assert_eq!(course.rooms_done["bath"], later(3.0));
    let bad = VisitWhat::Closed {
        bill: Some(Bill {
            lines: vec![BillLine::typed("", 1.0)],
            ..Bill::default()
        }),
        left: Vec::new(),
    };
    assert_eq!(
        acts(vec![Started, bad]).unwrap_err().0[0].field,
        "what.bill.lines.0.what"
    );
}

#[test]
fn a_visit_begins_by_the_households_clock() {
    let visit = Visit {
        until: Some(time(11, 30, 0, 0)),
        ..visit(&["pod"], Vec::new())
    };
    let (from, until) = visit.instants(
        &VisitCourse::default(),
        &TimeZone::fixed(jiff::tz::offset(2)),
    );
    assert_eq!(from.to_string(), "2026-01-01T07:00:00Z");
    assert_eq!(until.unwrap().to_string(), "2026-01-01T09:30:00Z");
    // Begun on another day, by that clock, it ends on that day; begun after that hour it is open until an end is said.
    let said = Some((Some(time(11, 30, 0, 0)), Order::Calm));
    for (started, changed, ends) in [
        ("2025-12-30T22:00:00Z", None, Some("2025-12-31T09:30:00Z")),
        ("2025-12-31T09:29:59Z", None, Some("2025-12-31T09:30:00Z")),
        ("2025-12-31T09:30:00Z", None, None),
        ("2025-12-31T21:59:59Z", None, None),
        ("2025-12-31T22:00:00Z", None, Some("2026-01-01T09:30:00Z")),
        ("2025-12-31T21:59:59Z", said, Some("2025-12-31T09:30:00Z")),
    ] {
        let course = VisitCourse {
            started_at: Some(started.parse().unwrap()),
            changed,
            ..VisitCourse::default()
        };
        let (_, until) = visit.instants(&course, &TimeZone::fixed(jiff::tz::offset(2)));
        assert_eq!(until.map(|at| at.to_string()).as_deref(), ends, "{started}");
    }
}

#[test]
fn names_that_are_not_there_are_refused_in_an_export() {
    let homes = [Kept {
        archived: true,
        fact: Home::named("h", "Cottage"),
    }];
    let kept = |visit| {
        [Kept {
            archived: false,
            fact: visit,
        }]
    };
    let unknown = check_all(
        &kept(visit(&["pod"], vec![room("r", "o", 5)])),
        &homes,
        &HashMap::new(),
    )
    .unwrap_err();
    let fields: Vec<_> = unknown.0.iter().map(|p| p.field.as_str()).collect();
    assert_eq!(
        fields,
        ["visits.v.rooms.r.home_id", "visits.v.stops.pod.brewer_id"]
    );
    assert!(
        check_all(
            &kept(visit(&[], vec![room("r", "h", 5)])),
            &homes,
            &HashMap::new()
        )
        .is_ok()
    );
}

#[test]
fn one_comes_again_after_the_usual_time() {
    let day = date(2026, 6, 1);
    let ago = |n: i32| murlo_base::days::days_after(day, -n);
    // The days that were come on, and the middle of the times between: neither the least nor the greatest of them.
    let cases: [(&[i32], i32); 6] = [
        (&[], 28),
        (&[21], 21),
        (&[14, 28, 60], 14),
        (&[30, 37, 51], 14),
        (&[14, 21, 51, 81], 30),
        (&[400], 366),
    ];
    for (came, days) in cases {
        let came: Vec<_> = came.iter().map(|n| ago(*n)).collect();
        assert_eq!(next_after(day, &came), ago(-days));
    }
}

#[test]
fn the_kit_sums_what_is_used_up_and_tells_what_is_short() {
    let (_, plans) = three();
    let all: Vec<&Plan> = plans.iter().collect();
    let mut agents = Agent::starters();
    let amounts = plans.iter().filter_map(Plan::agent_amount);
    let amount: f64 = amounts.map(Amount::number).sum();
    let vinegar = agents
        .iter_mut()
        .find(|agent| agent.id == plans[0].chosen.agent_id)
        .unwrap();
    vinegar.on_hand = Some(amount);
    let lines = kit(&all, stock(&agents));
    assert!(
        lines[0].what.ends_with("for 3 baths") && !lines[0].is_short,
        "{}",
        lines[0].what
    );
    let paper = lines
        .iter()
        .filter(|line| line.what.starts_with("Straightened paper clip"));
    assert_eq!(paper.count(), 1);
    agents
        .iter_mut()
        .for_each(|agent| agent.on_hand = Some(amount - 1.0));
    let lines = kit(&all, stock(&agents));
    assert!(lines[0].is_short && lines[0].there.as_ref().unwrap().starts_with("only"));
    agents.iter_mut().for_each(|agent| agent.on_hand = None);
    assert_eq!(kit(&all, stock(&agents))[0].there, None);
    assert_eq!(kit(&[], stock(&agents)), []);
}

/// Minutes at each home, by when one came to it.
#[test]
fn the_time_there_is_counted_once_at_the_home_where_it_was() {
    let homes = [Home::named("a", "A"), Home::named("b", "B")];
    let homes: Vec<&Home> = homes.iter().collect();
    for (arrivals, end, expected) in [
        (vec![], 100.0, [100.0, 0.0]),
        (vec![("a", 5.0)], 100.0, [100.0, 0.0]),
        (vec![("b", 60.0)], 100.0, [50.0, 40.0]),
        // A way that was quicker than was said is no time less than none.
        (vec![("b", 4.0)], 100.0, [0.0, 96.0]),
        (vec![("b", 60.0), ("a", 100.0)], 130.0, [80.0, 30.0]),
    ] {
        let arrivals = arrivals
            .into_iter()
            .map(|(home, min): (&str, f64)| (home.to_owned(), later(min)));
        let course = VisitCourse {
            arrivals: arrivals.collect(),
            ..VisitCourse::default()
        };
        let all = minutes_there((&homes, 10), &course, (NINE, later(end)));
        let minutes: Vec<f64> = all.iter().map(|(_, min)| *min).collect();
        assert_eq!(minutes, expected, "{course:?}");
    }
}

fn at_home(home: &Home, there_min: f64) -> AtHome<'_> {
    AtHome {
        home,
        there_min,
        material: vec![BillLine {
            of: LineOf::Material,
            ..BillLine::typed("White vinegar, 250 mL", 1.23)
        }],
        extras: Vec::new(),
    }
}

#[test]
fn a_bill_is_what_it_took_or_a_gift() {
    let home = Home {
        travel_min: Some(15),
        ..Home::named("h", "Quay")
    };
    let none = suggested(&[at_home(&home, 90.0)], &money::Terms::default());
    assert_eq!(
        none.lines,
        [BillLine {
            home: Some("h".into()),
            of: LineOf::Material,
            ..BillLine::typed("White vinegar, 250 mL", 1.23)
        }]
    );
    let rated = money::Terms {
        hourly_rate: Some(20.0),
        ..money::Terms::default()
    };
    let bill = suggested(&[at_home(&home, 90.0)], &rated);
    let amounts: Vec<_> = bill.lines.iter().map(|line| line.amount).collect();
    assert_eq!(amounts, [30.0, 5.0, 1.23]);
    assert!((bill.total() - 36.23).abs() < 1e-9);
    assert_eq!(
        Bill {
            is_gift: true,
            ..bill.clone()
        }
        .total(),
        0.0
    );
    // How a home is paid: by its own hour, one price however long, or not at all.
    for (pay, there_min, expected, is_gift) in [
        (Pay::Usual, 0.4, vec![5.0, 1.23], false),
        (Pay::Usual, 0.6, vec![0.2, 5.0, 1.23], false),
        (
            Pay::Hour { rate: 40.0 },
            90.0,
            vec![60.0, 10.0, 1.23],
            false,
        ),
        (Pay::Hour { rate: 0.0 }, 90.0, vec![1.23], false),
        (Pay::Fixed { price: 55.0 }, 90.0, vec![55.0, 1.23], false),
        (Pay::Fixed { price: 55.0 }, 300.0, vec![55.0, 1.23], false),
        (Pay::Gift, 90.0, vec![], true),
    ] {
        let paid = Home {
            pay,
            ..home.clone()
        };
        let bill = suggested(&[at_home(&paid, there_min)], &rated);
        let amounts: Vec<_> = bill.lines.iter().map(|line| line.amount).collect();
        assert_eq!((amounts, bill.is_gift), (expected, is_gift), "{pay:?}");
    }
    // Two homes are told apart; what is given in one is paid for in neither.
    let given = Home {
        pay: Pay::Gift,
        ..Home::named("g", "Gift house")
    };
    let bill = suggested(&[at_home(&home, 60.0), at_home(&given, 60.0)], &rated);
    let told: Vec<_> = bill.lines.iter().map(|line| line.what.as_str()).collect();
    assert_eq!(
        told,
        [
            "Quay: Time there, 1 h",
            "Quay: The way, 15 min",
            "Quay: White vinegar, 250 mL"
        ]
    );
    assert_eq!(bill.lines[2].amount, 1.23);
    assert!(!bill.is_gift);
    assert_eq!(suggested(&[], &rated).lines, []);
    for (amount, fits) in [
        (1e6, true),
        (-1e6, true),
        (1_000_000.1, false),
        (f64::NAN, false),
    ] {
        let one = Bill {
            lines: vec![BillLine::typed("A", amount)],
            ..Bill::default()
        };
        assert_eq!(one.check().is_ok(), fits, "{amount}");
    }
    let line = BillLine::typed("A", 1.0);
    assert!(
        Bill {
            lines: vec![line.clone(); 100],
            ..Bill::default()
        }
        .check()
        .is_ok()
    );
    assert!(
        Bill {
            lines: vec![line; 101],
            ..Bill::default()
        }
        .check()
        .is_err()
    );
}

#[test]
fn a_small_work_is_only_done_by_its_own_clean() {
    let whole = stop("pod");
    assert!(whole.is_done_by("a", Work::Descale, None));
    assert!(!whole.is_done_by("a", Work::Rehearsal, None));
    let mut side = stop("pod");
    side.options.circuit_id = Some("a".into());
    assert!(
        side.is_done_by("a", Work::Descale, None) && !side.is_done_by("b", Work::Descale, None)
    );
    let mut tray = stop("pod");
    tray.options = PlanOptions {
        work: Work::Upkeep,
        job: Some(Job::Tray),
        ..PlanOptions::default()
    };
    assert!(tray.is_done_by("a", Work::Upkeep, Some(Job::Tray)));
    assert!(!tray.is_done_by("a", Work::Upkeep, Some(Job::Wash)));
}

//! The made-up cleaner's round: a season of visits, and tomorrow's.

use jiff::civil::{Date, time};
use jiff::{SignedDuration, Timestamp, ToSpan};
use murlo_base::document::Kept;
use murlo_brewer::home::{DayOfWeek, Rhythm};
use murlo_brewer::job::Job;
use murlo_household::rounds::{
    Bill, BillLine, LineOf, RoomStop, Stop, TimeThere, Visit, VisitEvent, VisitWhat,
};
use murlo_plan::{PlanOptions, Work};

/// Visits at the boat and the cottage, every four weeks, and tomorrow's at the cottage and the studio.
pub fn visits(today: Date, now: Timestamp) -> Vec<Kept<Visit>> {
    let season = (1..=6).map(|n| past(n, today, now));
    season
        .chain([cleaned(today, now), beds(today, now), tomorrow(today)])
        .map(kept)
        .collect()
}

/// Each week on one of its days, at an hour of its own.
pub fn weekly(n: u32, today: Date) -> Rhythm {
    use DayOfWeek::{Friday, Monday, Saturday, Sunday, Thursday, Tuesday, Wednesday};
    let days = [
        Monday, Tuesday, Wednesday, Thursday, Friday, Saturday, Sunday,
    ];
    Rhythm::Weeks {
        every: 1,
        since: today.saturating_sub(70.days()),
        days: vec![days[n as usize % days.len()]],
        from: time(8 + 4 * (n / 7) as i8, 0, 0, 0),
        until: None,
    }
}

fn kept(fact: Visit) -> Kept<Visit> {
    Kept {
        archived: false,
        fact,
    }
}

fn room(home_id: &str, id: &str, name: &str, minutes: u32) -> RoomStop {
    RoomStop {
        id: format!("{home_id}-{id}"),
        home_id: home_id.to_owned(),
        name: name.to_owned(),
        minutes,
    }
}

fn whole(brewer_id: &str) -> Stop {
    Stop {
        id: format!("{brewer_id}-main"),
        brewer_id: brewer_id.to_owned(),
        options: PlanOptions {
            circuit_id: Some("main".to_owned()),
            ..PlanOptions::default()
        },
    }
}

fn blank(id: String, day: Date) -> Visit {
    Visit::planned(id, day, time(9, 30, 0, 0))
}

/// Begun, every room done, closed.
fn over(visit: Visit, began: Timestamp, minutes: i64, bill: Bill) -> Visit {
    let event = |n: usize, after: i64, what| VisitEvent {
        id: format!("{}-{n}", visit.id),
        at: began + SignedDuration::from_mins(after),
        by: None,
        what,
    };
    let rooms = visit.rooms.len() as i64 + 1;
    let mut events = vec![event(0, 0, VisitWhat::Started)];
    for (n, room) in visit.rooms.iter().enumerate() {
        let after = minutes * (n as i64 + 1) / rooms;
        let room = room.id.clone();
        events.push(event(n + 1, after, VisitWhat::RoomDone { room }));
    }
    events.push(event(
        visit.rooms.len() + 1,
        minutes,
        VisitWhat::Closed {
            bill: Some(bill),
            left: Vec::new(),
        },
    ));
    Visit { events, ..visit }
}

fn past(n: i64, today: Date, now: Timestamp) -> Visit {
    let days = 28 * n - 7;
    let line = BillLine::typed;
    let visit = Visit {
        rooms: vec![
            room("boat", "galley", "Galley floor and stove", 20),
            room("boat", "cabin", "Cabin", 15),
        ],
        ..blank(format!("demo-round-{n}"), today.saturating_sub(days.days()))
    };
    let bill = Bill {
        lines: vec![line("Work, 35 min", 10.5), line("The way, 15 min", 4.5)],
        // The neighbour's boat, at midwinter.
        is_gift: n == 3,
        ..Bill::default()
    };
    let visit = over(
        visit,
        now - SignedDuration::from_hours(24 * days + 1),
        41,
        bill,
    );
    // All but the last one are paid.
    let paid = (n > 1).then(|| ("boat".to_owned(), today.saturating_sub((days - 3).days())));
    Visit {
        paid: paid.into_iter().collect(),
        ..visit
    }
}

/// The last change of guests at the cottage, paid by the hour.
fn beds(today: Date, now: Timestamp) -> Visit {
    let line = |of, what: &str, amount| BillLine {
        home: Some("cottage".to_owned()),
        of,
        ..BillLine::typed(what, amount)
    };
    let visit = Visit {
        rooms: vec![
            room("cottage", "bathroom", "Bathroom", 12),
            room("cottage", "beds", "Beds", 18),
        ],
        ..blank("demo-beds".to_owned(), today.saturating_sub(5.days()))
    };
    let bill = Bill {
        lines: vec![
            line(LineOf::Time, "Time there, 50 min", 15.0),
            line(LineOf::Way, "The way, 25 min", 7.5),
        ],
        there: vec![TimeThere {
            home: "cottage".to_owned(),
            minutes: 50.0,
        }],
        ..Bill::default()
    };
    over(
        visit,
        now - SignedDuration::from_hours(24 * 5 + 1),
        50,
        bill,
    )
}

/// The one in which the studio's pod was descaled.
fn cleaned(today: Date, now: Timestamp) -> Visit {
    let visit = Visit {
        stops: vec![whole("studio-pod")],
        rooms: vec![room("studio", "corner", "Staff corner", 10)],
        ..blank("demo-cleaned".to_owned(), today.saturating_sub(70.days()))
    };
    let lines = [
        ("Work, 1 h 31 min", 27.24),
        ("The way, 10 min", 3.0),
        ("Agents and parts", 0.9),
    ];
    let lines = lines.map(|(what, amount)| BillLine::typed(what, amount));
    let bill = Bill {
        lines: lines.to_vec(),
        ..Bill::default()
    };
    let visit = over(
        visit,
        now - SignedDuration::from_hours(24 * 70 + 2),
        125,
        bill,
    );
    Visit {
        paid: [("studio".to_owned(), today.saturating_sub(66.days()))].into(),
        ..visit
    }
}

fn tomorrow(today: Date) -> Visit {
    let tray = Stop {
        id: "capsule-tray".to_owned(),
        brewer_id: "capsule".to_owned(),
        options: PlanOptions {
            work: Work::Upkeep,
            job: Some(Job::Tray),
            ..PlanOptions::default()
        },
    };
    Visit {
        stops: vec![whole("lamp"), whole("kiln"), tray],
        rooms: vec![
            room("cottage", "bathroom", "Bathroom", 12),
            room("cottage", "beds", "Beds", 18),
            room("studio", "corner", "Staff corner", 10),
        ],
        until: Some(time(14, 0, 0, 0)),
        note: "Guests change at the cottage; the potter fires from two o'clock on.".to_owned(),
        ..blank("demo-tomorrow".to_owned(), today.saturating_add(1.day()))
    }
}

//! The weeks ahead as they are drawn, line by line.

use super::super::lanes::{Lane, Lanes, MarkKind, lanes};
use super::acts::closed;
use super::*;
use crate::counter::BrewerCard;
use crate::counter::tests::House;
use jiff::civil::Date;
use murlo_base::days::days_after;
use murlo_base::units::Units;
use murlo_brewer::BrewerDraft;
use murlo_brewer::home::{Guests, Home, Stay};
use murlo_chalk::upkeep::Upkeep;

/// A Wednesday.
const TODAY: Date = date(2026, 11, 25);
const DAYS: i32 = 42;

pub(super) fn day(n: i32) -> Date {
    days_after(TODAY, n)
}

/// A card that falls due on the `at`th day, between the `from`th and the `to`th, with one small work.
pub(super) fn card(id: &str, family: Family, (from, at, to): (i32, i32, i32)) -> BrewerCard {
    let draft = BrewerDraft {
        nickname: id.into(),
        ..BrewerDraft::template(family, Units::Metric, "h", "hard", day(-30))
    };
    let brewer = draft.check(id.into(), None, day(-30)).unwrap();
    let mut card = House::new().facts().cards([&brewer]).remove(0);
    for circuit in &mut card.circuits {
        let due = &mut circuit.forecast.due;
        (due.earliest, due.date, due.latest) = (day(from), day(at), day(to));
        due.text = format!("about day {at}");
    }
    card.upkeep.clear();
    card
}

pub(super) fn work(card: &mut BrewerCard, at: i32, is_due: bool, keeps_running: bool) {
    card.upkeep.push(Upkeep {
        job: Job::Tray,
        name: "Drip tray".into(),
        is_due,
        is_asked: is_due,
        is_usual: true,
        keeps_running,
        last: None,
        due: Some(day(at)),
        text: format!("day {at}"),
        every: String::new(),
        days: None,
        comes_with_descaling: false,
        done: String::new(),
    });
}

fn drawn(
    homes: &[Home],
    cards: &[(&str, Vec<&BrewerCard>)],
    away: &[(&str, Vec<(Date, Date)>)],
    visits: &[Visit],
) -> Lanes {
    let cards = cards.iter().cloned().collect();
    let away = away.iter().cloned().collect();
    lanes(homes, &cards, &away, visits, TODAY, DAYS, false)
}

/// "due pod 3-8-20 due: pod: about day 8".
fn marks(lane: &Lane) -> Vec<String> {
    let mark = |m: &super::super::lanes::Mark| {
        let kind = match m.kind {
            MarkKind::Due => "due",
            MarkKind::Work => "work",
            MarkKind::Visit => "visit",
            MarkKind::Visited => "visited",
        };
        let now = if m.is_due { " now" } else { "" };
        format!(
            "{kind} {} {}-{}-{}{now}: {}",
            m.id, m.from, m.at, m.to, m.text
        )
    };
    lane.marks.iter().map(mark).collect()
}

#[test]
fn windows_are_cut_to_the_weeks_that_are_drawn() {
    let home = [Home::named("h", "Cottage")];
    for (window, expected) in [
        ((3, 8, 20), Some("due pod 3-8-20: pod: about day 8")),
        // Due for long: from today on, and still due.
        ((-20, -5, -1), Some("due pod 0-0-0 now: pod: about day -5")),
        ((-20, 0, 4), Some("due pod 0-0-4 now: pod: about day 0")),
        ((-1, 1, 4), Some("due pod 0-1-4: pod: about day 1")),
        // Beyond the last day.
        ((30, 41, 60), Some("due pod 30-41-41: pod: about day 41")),
        ((41, 50, 60), Some("due pod 41-50-41: pod: about day 50")),
        ((42, 50, 60), None),
        // A rule that is sooner than the window is the day it is about.
        ((9, 5, 12), Some("due pod 5-5-12: pod: about day 5")),
        ((2, 9, 5), Some("due pod 2-9-9: pod: about day 9")),
    ] {
        let pod = card("pod", Family::PodReservoir, window);
        let all = drawn(&home, &[("h", vec![&pod])], &[], &[]);
        let found = marks(&all.lanes[0]);
        assert_eq!(found.first().map(String::as_str), expected, "{window:?}");
    }
}

#[test]
fn small_works_stand_on_their_day_where_somebody_wants_to_know() {
    let home = [Home::named("h", "Cottage")];
    for (at, is_due, keeps_running, expected) in [
        (4, false, true, Some("work pod 4-4-4: pod: day 4")),
        (-9, true, false, Some("work pod 0-0-0 now: pod: day -9")),
        (4, false, false, None),
        (41, false, true, Some("work pod 41-41-41: pod: day 41")),
        (42, false, true, None),
    ] {
        let mut pod = card("pod", Family::PodReservoir, (60, 70, 80));
        work(&mut pod, at, is_due, keeps_running);
        let all = drawn(&home, &[("h", vec![&pod])], &[], &[]);
        let found = marks(&all.lanes[0]);
        assert_eq!(found.first().map(String::as_str), expected, "{at}");
    }
}

#[test]
fn a_lane_says_in_words_what_stands_on_it() {
    let let_out = Guests {
        stays: vec![
            Stay {
                from: day(-2),
                until: day(3),
            },
            Stay {
                from: day(5),
                until: day(9),
            },
        ],
        ..Guests::USUAL
    };
    let home = Home {
        guests: Some(let_out),
        ..Home::named("h", "Cottage")
    };
    let far = Home::named("o", "Studio");
    let pod = card("pod", Family::PodReservoir, (3, 8, 20));
    let duo = card("duo", Family::Combination, (-5, -1, 4));
    let drip = card("drip", Family::Drip, (2, 4, 6));
    let mut planned = visit(&["pod"], Vec::new());
    (planned.id, planned.day) = ("planned".into(), day(2));
    let mut elsewhere = visit(&["drip"], Vec::new());
    (elsewhere.id, elsewhere.day) = ("elsewhere".into(), day(2));
    let mut rooms_only = visit(&[], vec![room("bath", "o", 12)]);
    (rooms_only.id, rooms_only.day) = ("rooms".into(), day(4));
    let visits = [planned, elsewhere, rooms_only];
    let away = [(
        "h",
        vec![(day(-3), day(1)), (day(30), day(50)), (day(60), day(70))],
    )];
    let all = drawn(
        &[far, home, Home::named("e", "Empty cabin")],
        &[("h", vec![&pod, &duo]), ("o", vec![&drip])],
        &away,
        &visits,
    );
    // What is due first; a home without brewers last.
    let names: Vec<_> = all.lanes.iter().map(|l| l.name.as_str()).collect();
    assert_eq!(names, ["Cottage", "Studio", "Empty cabin"]);
    let [cottage, studio, empty] = &all.lanes[..] else {
        panic!("{all:?}")
    };
    assert_eq!((cottage.brewers, cottage.due), (2, 2));
    assert_eq!(
        marks(cottage),
        [
            "due pod 3-8-20: pod: about day 8",
            "due duo 0-0-4 now: duo, carafe side: about day -1",
            "due duo 0-0-4 now: duo, pod side: about day -1",
            "visit planned 2-2-2: visit on 27 Nov at 9:00",
        ]
    );
    let spans = |days: &[super::super::lanes::Days]| -> Vec<_> {
        days.iter().map(|d| (d.from, d.to)).collect()
    };
    assert_eq!(spans(&cottage.away), [(0, 1), (30, 41)]);
    assert_eq!(spans(&cottage.free), [(3, 5), (9, 41)]);
    assert_eq!(
        cottage.text,
        "2 brewers, 2 due now; pod: about day 8; visit on 27 Nov at 9:00; away 25 Nov to 26 Nov; away 25 Dec to 5 Jan 2027; no guests 28 Nov 10:00 to 30 Nov 15:00"
    );
    assert_eq!(
        studio.text,
        "1 brewer, none due; drip: about day 4; visit on 27 Nov at 9:00; visit on 29 Nov at 9:00"
    );
    assert_eq!(empty.text, "no brewer");
    // A work is none of what falls due, and what falls due beyond the weeks is not said.
    let late = card("late", Family::Drip, (30, 42, 60));
    let all = drawn(&[Home::named("h", "C")], &[("h", vec![&late])], &[], &[]);
    assert_eq!(all.lanes[0].text, "1 brewer, none due");
    let last = card("last", Family::Drip, (30, 41, 60));
    let all = drawn(&[Home::named("h", "C")], &[("h", vec![&last])], &[], &[]);
    assert_eq!(all.lanes[0].text, "1 brewer, none due; last: about day 41");
}

#[test]
fn a_visit_that_is_over_stands_where_it_was() {
    let mut over = acts(vec![VisitWhat::Started, closed()]).unwrap();
    over.day = day(1);
    let pods: Vec<_> = over.stops.iter().map(|s| s.brewer_id.clone()).collect();
    let pod = card(&pods[0], Family::PodReservoir, (60, 70, 80));
    let all = drawn(&[Home::named("h", "C")], &[("h", vec![&pod])], &[], &[over]);
    let found = marks(&all.lanes[0]);
    assert_eq!(found, ["visited v 1-1-1: visited on 26 Nov"]);
    assert!(
        !all.lanes[0].text.contains("visit"),
        "{}",
        all.lanes[0].text
    );
}

#[test]
fn weeks_begin_on_mondays() {
    let mondays = |today: Date| -> Vec<_> {
        let weeks = lanes(&[], &HashMap::new(), &HashMap::new(), &[], today, 15, true).weeks;
        weeks.into_iter().map(|w| (w.at, w.label)).collect()
    };
    let told = |all: &[(i32, &str)]| -> Vec<_> {
        all.iter()
            .map(|(at, label)| (*at, (*label).to_owned()))
            .collect()
    };
    assert_eq!(mondays(TODAY), told(&[(5, "30 Nov"), (12, "7 Dec")]));
    assert_eq!(
        mondays(date(2026, 11, 29)),
        told(&[(1, "30 Nov"), (8, "7 Dec")])
    );
    assert_eq!(
        mondays(date(2026, 11, 30)),
        told(&[(0, "30 Nov"), (7, "7 Dec"), (14, "14 Dec")])
    );
}

#[test]
fn what_is_left_out_harms_by_what_is_beyond_the_limit_and_never_by_nothing() {
    for (used, a_day, weight) in [
        (0.0, 0.0, 0.05),
        (1.04, 0.0, 0.05),
        (1.05, 0.0, 0.05),
        (1.06, 0.0, 0.06),
        (0.5, 0.01, 0.05),
        (0.5, 0.02, 0.06),
        (0.5, 0.03, 0.34),
    ] {
        let mut card = card("pod", Family::PodReservoir, (3, 8, 20));
        let forecast = &mut card.circuits[0].forecast;
        (forecast.chalk.used, forecast.used_a_day) = (used, a_day);
        let found = proposed(&card, 0, 28);
        assert!((found[0].weight - weight).abs() < 1e-9, "{used} {a_day}");
    }
}

#[test]
fn a_clean_that_is_in_takes_the_small_works_within_it_along() {
    // Due on the day, due before the next visit, on the day of it, and after it.
    for (due, is_in) in [(0, true), (27, true), (28, true), (29, false)] {
        let mut card = card("pod", Family::PodReservoir, (due, due, due));
        work(&mut card, 0, true, false);
        let found = proposed(&card, 0, 28);
        let clean = found.iter().find(|p| p.what == "descale").unwrap();
        let tray = found.iter().any(|p| p.what == "Drip tray");
        assert_eq!((clean.is_in, tray), (is_in, !is_in), "{due}");
    }
}

fn proposed(card: &BrewerCard, on: i32, next: i32) -> Vec<Proposed> {
    let draft = BrewerDraft {
        nickname: card.nickname.clone(),
        ..BrewerDraft::template(Family::PodReservoir, Units::Metric, "h", "hard", day(-30))
    };
    let brewer = draft.check(card.id.clone(), None, day(-30)).unwrap();
    let brewers = std::collections::HashMap::from([(card.id.clone(), brewer)]);
    let wish = WantedVisit {
        today: day(0),
        day: day(on),
        next: day(next),
        moved: &[],
        foreseen: &Foreseen::default(),
    };
    propose(&[card], &brewers, &wish)
}

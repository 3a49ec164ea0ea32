//! What a visit may leave behind, and what it may not.

use super::acts::{acts, closed, done};
use super::*;
use crate::rounds::VisitWhat::{Arrived, Changed, Closed, Dropped, Reopened, Started};
use murlo_clean::fixtures::Run;
use murlo_plan::Kind;

/// A pod brewer in the first home whose clean has come to this step, or past its end.
fn begun(run: &Run) -> Task {
    let begun = Begun {
        clean_id: "c".into(),
        state: run.state(),
        last_at: run.events.last().map_or(NINE, |event| event.at),
        last_by: None,
    };
    Task {
        begun: Some(begun),
        ..task(&stop("pod"), &run.plan_now())
    }
}

fn left(id: &str, inside: bool) -> LeftStop {
    LeftStop {
        id: id.to_owned(),
        day: None,
        inside,
    }
}

#[test]
fn a_bath_keeps_a_visit_from_being_closed_left_or_cut_short_unless_somebody_says_so() {
    let mut run = Run::new(Family::PodReservoir);
    let visit = acts(vec![Started, done("bath")]).unwrap();
    let course = visit.course().unwrap();
    let drip = task(
        &stop("drip"),
        &plan(Family::Drip, &PlanOptions::default()).unwrap(),
    );
    for (kind, is_safe) in [
        (Kind::Parts, true),
        (Kind::Soak, false),
        (Kind::Rinse, false),
    ] {
        run.until_kind(kind);
        let tasks = [begun(&run), drip.not_begun()];
        assert_eq!(tasks[0].is_unrinsed(), !is_safe, "{kind:?}");
        // Without a word for the pod, for the drip; each of them once more with one.
        let close = |all: &[LeftStop]| visit.may_close(&course, &tasks, all);
        let why = |all: &[LeftStop]| close(all).unwrap_err().message;
        let said = why(&[left("pod", true)]);
        let first = if is_safe { "pod" } else { "drip" };
        assert!(
            said.starts_with(&format!("{first}, descale is not done")),
            "{said}"
        );
        let without = why(&[left("drip", false)]);
        if is_safe {
            assert!(without.starts_with("pod, descale is not done"), "{without}");
            assert!(close(&[left("drip", false), left("pod", false)]).is_ok());
            assert!(
                why(&[left("drip", false), left("pod", true)])
                    .starts_with("pod, descale is not done")
            );
        } else {
            assert!(without.contains("rinse it out first, about "), "{without}");
            assert_eq!(without, why(&[left("drip", false), left("pod", false)]));
            assert!(close(&[left("drip", false), left("pod", true)]).is_ok());
        }
        assert_eq!(Visit::may_drop(&tasks, "pod").is_ok(), is_safe);
        assert!(Visit::may_drop(&tasks, "drip").is_ok());
        assert!(
            Visit::may_arrive(&tasks, "h", &[]).is_ok(),
            "one stays where it is"
        );
        assert_eq!(Visit::may_arrive(&tasks, "o", &[]).is_ok(), is_safe);
        assert!(Visit::may_arrive(&tasks, "o", &["pod".to_owned()]).is_ok());
    }
    let minutes = begun(&run).rinse_out_min();
    assert!((5.0..60.0).contains(&minutes), "{minutes}");
}

#[test]
fn what_is_named_as_left_is_left_and_comes_back_when_the_visit_is_opened_again() {
    let day = date(2026, 1, 1);
    let moved = |id: &str, day| Dropped {
        id: id.to_owned(),
        day: Some(day),
    };
    for (given, fits) in [
        (day, false),
        (date(2026, 1, 2), true),
        (date(1000, 1, 1), false),
    ] {
        assert_eq!(
            acts(vec![Started, moved("drip", given)]).is_ok(),
            fits,
            "{given}"
        );
    }
    let close = |left: Vec<LeftStop>| Closed {
        bill: Some(Bill::default()),
        left,
    };
    let whats = vec![
        Started,
        moved("drip", date(2026, 1, 5)),
        close(vec![left("pod", true), left("bath", false)]),
    ];
    let over = acts(whats.clone()).unwrap().course().unwrap();
    let ids: Vec<&String> = over.dropped.keys().collect();
    assert_eq!(
        ids,
        ["bath", "drip"],
        "what has a bath inside stays part of it"
    );
    assert_eq!(over.dropped["drip"], Some(date(2026, 1, 5)));
    let again = acts([whats, vec![Reopened]].concat())
        .unwrap()
        .course()
        .unwrap();
    assert_eq!(again.dropped.keys().collect::<Vec<_>>(), ["drip"]);
    assert!(again.bill.is_some(), "what was typed is kept");
    assert!(acts(vec![Started, close(vec![left("attic", false)])]).is_err());
    assert!(
        acts(vec![
            Started,
            done("bath"),
            close(vec![left("bath", false)])
        ])
        .is_err()
    );
    let far = LeftStop {
        day: Some(date(1000, 1, 1)),
        ..left("bath", false)
    };
    assert!(acts(vec![Started, close(vec![far])]).is_err());
    // Kept by versions that did not ask.
    assert!(acts(vec![Started, closed()]).is_ok());
}

#[test]
fn the_end_and_the_order_are_those_that_were_said_last() {
    let change = |until, order| Changed { until, order };
    for (whats, expected) in [
        (vec![Started], (None, Order::Shortest)),
        (
            vec![Started, change(Some(time(11, 0, 0, 0)), Order::Calm)],
            (Some(time(11, 0, 0, 0)), Order::Calm),
        ),
        (
            vec![
                Started,
                change(Some(time(11, 0, 0, 0)), Order::Calm),
                change(None, Order::Shortest),
            ],
            (None, Order::Shortest),
        ),
    ] {
        let visit = acts(whats).unwrap();
        assert_eq!(visit.ends_and_order(&visit.course().unwrap()), expected);
    }
    let visit = acts(vec![
        Started,
        Arrived {
            home: "o".into(),
            leaves: Vec::new(),
        },
    ])
    .unwrap();
    let course = visit.course().unwrap();
    let (at, home) = visit.last_act(&course, &[], NINE, later(60.0));
    assert_eq!((at, home), (later(1.0), Some("o")));
}

#[test]
fn a_likely_bath_is_in_the_end_that_may_be_and_decides_what_there_is_time_for() {
    let once = plan(Family::PodReservoir, &PlanOptions::default()).unwrap();
    let twice = Plan {
        likely_baths: 2,
        ..once.clone()
    };
    let homes = homes();
    let usual = terms(Order::Shortest, &homes);
    let alone = schedule(&[task(&stop("pod"), &once)], &[], &usual);
    assert_eq!(alone.or_ends_at, None);
    let likely = schedule(&[task(&stop("pod"), &twice)], &[], &usual);
    assert_eq!(likely.ends_at, alone.ends_at);
    let or = likely.or_ends_at.unwrap();
    let more = or.duration_since(likely.ends_at).as_secs() as f64 / 60.0;
    assert!(
        (more - twice.bath_min()).abs() < 3.0,
        "{more} {}",
        twice.bath_min()
    );
    // Time enough for one bath is not enough where a second is likely.
    for (leave_by, is_in) in [(or, true), (or - SignedDuration::from_secs(1), false)] {
        let terms = ScheduleTerms {
            leave_by: Some(leave_by),
            ..usual.clone()
        };
        let found = schedule(&[task(&stop("pod"), &twice)], &[], &terms);
        assert_eq!(found.left_out.is_empty(), is_in, "{leave_by}");
    }
    // After the last look it has been decided.
    let mut run = Run::new(Family::PodReservoir);
    run.plan.likely_baths = 2;
    run.until_kind(Kind::Look);
    assert_eq!(begun(&run).further_likely(), 1);
    run.until_kind(Kind::Rinse);
    assert_eq!(begun(&run).further_likely(), 0);
}

#[test]
fn before_guests_come_the_descale_is_left_and_not_the_beds() {
    let pod = plan(Family::PodReservoir, &PlanOptions::default()).unwrap();
    let beds = room("beds", "h", 30);
    let homes = homes();
    for (guests, left) in [(&["h"][..], "pod"), (&["o"], "beds"), (&[], "beds")] {
        let terms = ScheduleTerms {
            leave_by: Some(later(pod.ribbon.elapsed_min + 1.0)),
            guests_come: guests,
            ..terms(Order::Calm, &homes)
        };
        let heavy = Task {
            weight: Some(1.0),
            ..task(&stop("pod"), &pod)
        };
        let all = schedule(&[heavy], &[&beds], &terms);
        assert_eq!(all.left_out, [left], "{guests:?}");
    }
}

#[test]
fn whoever_must_go_brings_to_its_end_what_has_begun_and_begins_nothing() {
    let mut run = Run::new(Family::PodReservoir);
    run.until_kind(Kind::Soak);
    let (beds, homes) = (room("beds", "h", 30), homes());
    let tasks = [
        begun(&run),
        task(
            &stop("drip"),
            &plan(Family::Drip, &PlanOptions::default()).unwrap(),
        ),
    ];
    let now = tasks[0].begun.as_ref().unwrap().last_at;
    let terms = ScheduleTerms {
        now,
        leave_by: Some(now),
        ..terms(Order::Shortest, &homes)
    };
    let all = schedule(&tasks, &[&beds], &terms);
    assert_eq!(all.left_out, ["drip", "beds"]);
    assert!(all.acts.iter().all(|act| act.id == "pod"));
    assert!(
        all.late
            .unwrap()
            .contains("nothing is left with a bath inside")
    );
}

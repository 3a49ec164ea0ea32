mod acts;
mod ahead;
mod behind;
mod driven;
mod jobs;
mod lanes;
mod left;
mod owed;
mod told;

use super::schedule::{in_turn, savings};
use super::*;
use crate::rounds::jobs::Baths;
use acts::acts;
use jiff::civil::{date, time};
use jiff::{SignedDuration, Timestamp};
use murlo_base::units::Units;
use murlo_brewer::Family;
use murlo_brewer::bath::Agent;
use murlo_brewer::job::Job;
use murlo_plan::fixtures::plan;
use murlo_plan::{Kind, Plan, PlanOptions, Work};
use std::collections::HashMap;
use std::sync::LazyLock;

pub(crate) const NINE: Timestamp = Timestamp::constant(1_767_258_000, 0);

pub(crate) fn later(minutes: f64) -> Timestamp {
    NINE + SignedDuration::from_secs((minutes * 60.0).round() as i64)
}

pub(crate) fn stop(id: &str) -> Stop {
    Stop {
        id: id.into(),
        brewer_id: id.into(),
        options: PlanOptions::default(),
    }
}

pub(crate) fn room(id: &str, home: &str, minutes: u32) -> RoomStop {
    RoomStop {
        id: id.into(),
        home_id: home.into(),
        name: "Bathroom".into(),
        minutes,
    }
}

/// Agents, and nothing by the piece.
fn stock(agents: &[Agent]) -> Stock<'_> {
    static NONE: LazyLock<HashMap<String, f64>> = LazyLock::new(HashMap::new);
    Stock {
        agents,
        supplies: &[],
        pieces: &NONE,
        units: Units::Metric,
    }
}

pub(crate) fn visit(stops: &[&str], rooms: Vec<RoomStop>) -> Visit {
    Visit {
        stops: stops.iter().map(|id| stop(id)).collect(),
        rooms,
        ..Visit::planned("v", date(2026, 1, 1), time(9, 0, 0, 0))
    }
}

fn task(stop: &Stop, plan: &Plan) -> Task {
    Task {
        stop: stop.clone(),
        name: stop.id.clone(),
        home_id: "h".into(),
        after: Vec::new(),
        weight: Some(1.0),
        plan: plan.clone(),
        begun: None,
    }
}

fn terms<'a>(order: Order, homes: &'a HashMap<String, String>) -> ScheduleTerms<'a> {
    ScheduleTerms {
        order,
        now: NINE,
        leave_by: None,
        travel_min: 15,
        place_now: None,
        following: None,
        hands_since: None,
        in_turn: &["h", "o"],
        guests_come: &[],
        homes,
    }
}

fn homes() -> HashMap<String, String> {
    [("h", "Cottage"), ("o", "Studio")]
        .map(|(id, name)| (id.to_owned(), name.to_owned()))
        .into()
}

/// Two pods and a drip.
fn three() -> ([Stop; 3], [Plan; 3]) {
    let usual = PlanOptions::default();
    let plans = [Family::PodReservoir, Family::Drip, Family::OneCupPod]
        .map(|family| plan(family, &usual).unwrap());
    ([stop("pod"), stop("drip"), stop("cup")], plans)
}

fn tasks(stops: &[Stop; 3], plans: &[Plan; 3]) -> Vec<Task> {
    stops
        .iter()
        .zip(plans)
        .map(|(stop, plan)| task(stop, plan))
        .collect()
}

#[test]
fn a_visit_takes_less_than_one_brewer_after_the_other_and_no_less_than_its_hands() {
    let (stops, plans) = three();
    let tasks = tasks(&stops, &plans);
    let bath = room("bath", "h", 12);
    let homes = homes();
    let shortest = schedule(&tasks, &[&bath], &terms(Order::Shortest, &homes));
    let calm = schedule(&tasks, &[&bath], &terms(Order::Calm, &homes));
    let in_turn = in_turn(&tasks.iter().collect::<Vec<_>>(), &[&bath], 15);
    assert!(
        shortest.minutes < 0.75 * in_turn,
        "{} of {in_turn}",
        shortest.minutes
    );
    assert!(shortest.minutes <= calm.minutes && calm.minutes < in_turn);
    assert!(
        calm.changes < shortest.changes,
        "{} {}",
        calm.changes,
        shortest.changes
    );
    let hands: f64 = plans.iter().map(|plan| plan.ribbon.hands_on_min).sum();
    assert!(shortest.minutes >= hands + 12.0);
    assert!(
        plans
            .iter()
            .all(|plan| shortest.minutes >= plan.ribbon.elapsed_min - 1.0)
    );
    assert_eq!(shortest.lines.len(), 4);
    for act in &shortest.acts {
        let says_free = act.takes.contains("free");
        assert_eq!(says_free, act.free_min >= 1.0, "{}", act.takes);
        assert!(act.takes.starts_with("about ") && !act.takes.contains("about 0"));
    }
    assert!(
        shortest.text.contains("shortest") || shortest.text.contains("no order"),
        "{}",
        shortest.text
    );
}

#[test]
fn every_minute_of_a_plan_is_in_the_schedule() {
    let (stops, plans) = three();
    let homes = homes();
    let all = schedule(&tasks(&stops, &plans), &[], &terms(Order::Shortest, &homes));
    for (line, plan) in all.lines.iter().zip(&plans) {
        let sum = |does| -> f64 {
            let mine = line.pieces.iter().filter(|piece| piece.does == does);
            mine.map(|piece| piece.minutes).sum()
        };
        let ribbon = &plan.ribbon;
        // Seconds are whole.
        assert!(
            (sum(Does::Hands) - ribbon.hands_on_min).abs() < 0.5,
            "{}",
            line.name
        );
        assert!(
            (sum(Does::Near) - ribbon.near_min).abs() < 0.5,
            "{}",
            line.name
        );
        let free: f64 = plan.steps.iter().map(|step| step.hands_free_min).sum();
        assert!((sum(Does::Free) - free).abs() < 0.5, "{}", line.name);
        assert!(line.pieces.iter().all(|piece| !piece.label.is_empty()));
    }
    // One pair of hands.
    let mut hands: Vec<(f64, f64)> = all
        .lines
        .iter()
        .flat_map(|line| &line.pieces)
        .filter(|piece| piece.does == Does::Hands)
        .map(|piece| (piece.start_min, piece.start_min + piece.minutes))
        .collect();
    hands.sort_by(|a, b| a.0.total_cmp(&b.0));
    assert!(hands.windows(2).all(|two| two[0].1 <= two[1].0 + 1e-6));
}

#[test]
fn parts_are_washed_while_it_soaks() {
    let plan = plan(
        Family::PodReservoir,
        &PlanOptions {
            soak_minutes: Some(30.0),
            ..PlanOptions::default()
        },
    )
    .unwrap();
    let stop = stop("pod");
    let homes = homes();
    let all = schedule(&[task(&stop, &plan)], &[], &terms(Order::Shortest, &homes));
    let piece = |of: &dyn Fn(&Piece) -> bool| all.lines[0].pieces.iter().find(|p| of(p)).unwrap();
    let soak = plan.steps.iter().find(|step| step.is(Kind::Soak)).unwrap();
    let fitted = plan
        .steps
        .iter()
        .find(|step| step.during.as_deref() == Some(soak.id.as_str()))
        .unwrap();
    let soaks = piece(&|p| p.label == soak.title && p.does == Does::Free);
    let washes = piece(&|p| p.label == fitted.title);
    assert!(washes.start_min >= soaks.start_min - 1e-6);
    assert!(washes.start_min + washes.minutes <= soaks.start_min + soaks.minutes + 1e-6);
    assert!(
        (all.minutes - plan.ribbon.elapsed_min).abs() < 1.0,
        "{} {}",
        all.minutes,
        plan.ribbon.elapsed_min
    );
}

#[test]
fn where_the_time_is_short_the_least_harm_is_left_out() {
    let (stops, plans) = three();
    let mut tasks = tasks(&stops, &plans);
    tasks[1].weight = Some(0.1);
    let homes = homes();
    let open = terms(Order::Shortest, &homes);
    let all = schedule(&tasks, &[], &open);
    let short = schedule(
        &tasks,
        &[],
        &ScheduleTerms {
            leave_by: Some(later(all.minutes - 5.0)),
            ..open.clone()
        },
    );
    assert_eq!(short.left_out, ["drip"]);
    assert!(short.minutes <= all.minutes - 5.0 && short.late.is_none());
    let enough = schedule(
        &tasks,
        &[],
        &ScheduleTerms {
            leave_by: Some(all.ends_at),
            ..open.clone()
        },
    );
    assert_eq!((enough.left_out.len(), enough.late), (0, None));
    let never = schedule(
        &tasks[..1],
        &[],
        &ScheduleTerms {
            leave_by: Some(later(5.0)),
            ..open.clone()
        },
    );
    assert_eq!(never.left_out, ["pod"]);
    for saving in savings(&tasks, &[&room("bath", "h", 12)], &open, all.minutes) {
        assert!(
            (0.0..=all.minutes).contains(&saving.minutes),
            "{}",
            saving.text
        );
    }
}

#[test]
fn the_way_to_another_home_is_not_free() {
    let (a, b) = (room("a", "h", 10), room("b", "o", 10));
    let homes = homes();
    let all = schedule(&[], &[&a, &b], &terms(Order::Shortest, &homes));
    assert_eq!((all.minutes, all.acts.len()), (35.0, 2));
    assert!(all.acts[0].free_min < 1.0, "{}", all.acts[0].takes);
}

#[test]
fn lines_of_the_same_brewer_are_told_apart_by_what_is_done() {
    let plans = [
        plan(Family::PodReservoir, &PlanOptions::default()).unwrap(),
        plan(
            Family::PodReservoir,
            &PlanOptions {
                work: Work::Upkeep,
                job: Some(Job::Tray),
                ..PlanOptions::default()
            },
        )
        .unwrap(),
    ];
    let homes = homes();
    let named = |id: &str, plan: &Plan, name: &str| Task {
        name: name.to_owned(),
        ..task(&stop(id), plan)
    };
    let lines = |second: &str| {
        let tasks = [named("a", &plans[0], "Pod"), named("b", &plans[1], second)];
        let all = schedule(&tasks, &[], &terms(Order::Shortest, &homes));
        all.lines
            .into_iter()
            .map(|line| line.name)
            .collect::<Vec<_>>()
    };
    assert_eq!(lines("Pod"), ["Pod: descale", "Pod: Drip tray and rim"]);
    assert_eq!(lines("Drip"), ["Pod", "Drip"]);
}

#[test]
fn the_same_brewer_is_done_in_turn() {
    let usual = plan(Family::PodReservoir, &PlanOptions::default()).unwrap();
    let (a, b) = (stop("a"), stop("b"));
    let homes = homes();
    let second = Task {
        after: vec!["a".into()],
        ..task(&b, &usual)
    };
    let all = schedule(
        &[task(&a, &usual), second],
        &[],
        &terms(Order::Shortest, &homes),
    );
    let begins = |line: &Row| {
        line.pieces
            .iter()
            .map(|p| p.start_min)
            .fold(f64::MAX, f64::min)
    };
    let over = |line: &Row| {
        line.pieces
            .iter()
            .map(|p| p.start_min + p.minutes)
            .fold(0.0, f64::max)
    };
    assert!(begins(&all.lines[1]) >= over(&all.lines[0]) - 1e-6);
}

#[test]
fn a_visit_that_cannot_be_is_named_by_its_field() {
    type Wrong = fn(&mut Visit);
    let cases: [(Wrong, &str); 12] = [
        (|v: &mut Visit| v.until = Some(time(8, 59, 0, 0)), "until"),
        (|v: &mut Visit| v.until = Some(time(9, 0, 0, 0)), "until"),
        (|v: &mut Visit| v.stops.clear(), "stops"),
        (
            |v: &mut Visit| v.stops = (0..17).map(|n| stop(&format!("s{n}"))).collect(),
            "stops",
        ),
        (
            |v: &mut Visit| v.rooms = (0..25).map(|n| room(&format!("r{n}"), "h", 1)).collect(),
            "rooms",
        ),
        (|v: &mut Visit| v.stops.push(stop("pod")), "stops.pod.id"),
        (
            |v: &mut Visit| v.rooms.push(room("pod", "h", 5)),
            "rooms.pod.id",
        ),
        (
            |v: &mut Visit| v.rooms.push(room("r", "h", 0)),
            "rooms.r.minutes",
        ),
        (
            |v: &mut Visit| v.rooms.push(room("r", "h", 601)),
            "rooms.r.minutes",
        ),
        (
            |v: &mut Visit| v.rooms = vec![room("r", "h", 600), room("q", "h", 361)],
            "rooms",
        ),
        (|v: &mut Visit| v.note = "x".repeat(2001), "note"),
        (|v: &mut Visit| v.day = date(2200, 1, 1), "day"),
    ];
    for (wrong, field) in cases {
        let mut visit = visit(&["pod"], Vec::new());
        assert!(visit.check().is_ok());
        wrong(&mut visit);
        assert_eq!(visit.check().unwrap_err().0[0].field, field);
    }
}

#[test]
fn the_largest_visit_is_taken() {
    let stops: Vec<String> = (0..16).map(|n| format!("s{n}")).collect();
    let ids: Vec<&str> = stops.iter().map(String::as_str).collect();
    let mut largest = visit(
        &ids,
        (0..24).map(|n| room(&format!("r{n}"), "h", 40)).collect(),
    );
    largest.until = Some(time(9, 1, 0, 0));
    assert!(largest.check().is_ok());
}

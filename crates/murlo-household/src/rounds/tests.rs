use super::schedule::{in_turn, savings};
use super::*;
use jiff::civil::{date, time};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use murlo_base::document::Kept;
use murlo_base::problem::Code;
use murlo_base::units::Units;
use murlo_brewer::Family;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::job::Job;
use murlo_chalk::money;
use murlo_clean::{self as clean, Act, State, stands};
use murlo_plan::fixtures::plan;
use murlo_plan::{Doing, Kind, Plan, PlanOptions, Work};
use std::collections::HashMap;

mod jobs;
mod lanes;
mod left;
mod told;

const NINE: Timestamp = Timestamp::constant(1_767_258_000, 0);

fn later(minutes: f64) -> Timestamp {
    NINE + SignedDuration::from_secs((minutes * 60.0).round() as i64)
}

fn stop(id: &str) -> Stop {
    Stop {
        id: id.into(),
        brewer_id: id.into(),
        options: PlanOptions::default(),
    }
}

fn room(id: &str, home: &str, minutes: u32) -> RoomStop {
    RoomStop {
        id: id.into(),
        home_id: home.into(),
        name: "Bathroom".into(),
        minutes,
    }
}

fn visit(stops: &[&str], rooms: Vec<RoomStop>) -> Visit {
    Visit {
        id: "v".into(),
        day: date(2026, 1, 1),
        from: time(9, 0, 0, 0),
        until: None,
        stops: stops.iter().map(|id| stop(id)).collect(),
        rooms,
        order: Order::Shortest,
        note: String::new(),
        events: Vec::new(),
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

fn terms<'a>(order: Order, homes: &'a HashMap<String, String>) -> Terms<'a> {
    Terms {
        order,
        now: NINE,
        leave_by: None,
        travel_min: 15,
        place_now: None,
        following: None,
        hands_since: None,
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
        &Terms {
            leave_by: Some(later(all.minutes - 5.0)),
            ..open.clone()
        },
    );
    assert_eq!(short.left_out, ["drip"]);
    assert!(short.minutes <= all.minutes - 5.0 && short.late.is_none());
    let enough = schedule(
        &tasks,
        &[],
        &Terms {
            leave_by: Some(all.ends_at),
            ..open.clone()
        },
    );
    assert_eq!((enough.left_out.len(), enough.late), (0, None));
    let never = schedule(
        &tasks[..1],
        &[],
        &Terms {
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

/// A clean that is driven on by its own next acts.
struct Driven {
    plan: Plan,
    events: Vec<clean::Event>,
}

impl Driven {
    fn new(family: Family) -> Self {
        Self {
            plan: plan(family, &PlanOptions::default()).unwrap(),
            events: Vec::new(),
        }
    }

    fn state(&self) -> State {
        stands(&self.plan, &self.events).unwrap().1
    }

    fn act(&mut self, at: Timestamp) -> bool {
        match self.state().next {
            Some(next) => self.push(at, next.act),
            None => return false,
        }
        true
    }

    fn push(&mut self, at: Timestamp, act: Act) {
        self.events.push(clean::Event {
            id: format!("e{}", self.events.len()),
            at,
            device_at: None,
            act,
        });
    }

    fn last_at(&self) -> Timestamp {
        self.events.last().map_or(NINE, |event| event.at)
    }
}

/// What is left of a visit is scheduled again after every act, from what is.
#[test]
fn a_visit_on_plan_ends_about_when_it_was_planned() {
    let mut pod = Driven::new(Family::PodReservoir);
    let stop = stop("pod");
    let homes = homes();
    let usual = terms(Order::Shortest, &homes);
    let planned = schedule(&[task(&stop, &pod.plan)], &[], &usual);
    let mut now = NINE;
    let mut least = f64::MAX;
    loop {
        let state = pod.state();
        let begun = Begun {
            clean_id: "c".into(),
            state: state.clone(),
            last_at: pod.last_at(),
        };
        let one = Task {
            begun: Some(begun),
            ..task(&stop, &pod.plan)
        };
        let left = schedule(
            &[one],
            &[],
            &Terms {
                now,
                ..usual.clone()
            },
        );
        let Some(act) = left.acts.first() else {
            break;
        };
        assert_eq!(act.clean_id.as_deref(), Some("c"));
        let end = left.ends_at.duration_since(NINE).as_secs() as f64 / 60.0;
        assert!(
            (end - planned.minutes).abs() < 4.0,
            "{} at {}: {end} of {}",
            act.title,
            now,
            planned.minutes
        );
        assert!(
            left.minutes < least + 0.5,
            "what is left grows at {}",
            act.title
        );
        least = left.minutes;
        // The clean's own current step is what the schedule asks for, or what may be done beside it.
        let current = &state.step.as_ref().unwrap().id;
        assert!(
            act.step == *current || state.meanwhile.contains(&act.step),
            "{} {current}",
            act.step
        );
        if act.step != *current {
            // Beside a wait.
            now = act.at.max(now) + SignedDuration::from_secs((act.minutes * 60.0) as i64);
            pod.push(
                now,
                Act::Done {
                    step: act.step.clone(),
                },
            );
            continue;
        }
        now = act.at.max(now) + SignedDuration::from_secs((one_press(&state) * 60.0) as i64);
        if !pod.act(now) {
            break;
        }
    }
    assert!(least < 0.7 * planned.minutes, "{least}");
}

/// Minutes of the current step, or of one of what it counts.
fn one_press(state: &State) -> f64 {
    let step = state.step.as_ref().unwrap();
    match &step.doing {
        Doing::Count { target } => {
            let counted = state.steps[state.current.unwrap()].count;
            // From the second on it has run by the time one comes back to it.
            let runs = if counted == 0 {
                step.near_min + step.hands_free_min
            } else {
                0.0
            };
            (step.hands_on_min + runs) / f64::from((*target).max(1))
        }
        Doing::Wait { .. } => step.hands_on_min,
        // Place by place, and that it is done.
        Doing::Clear { needles } => {
            let places: usize = needles.iter().map(|n| n.spots().count()).sum();
            step.hands_on_min / (places + 1) as f64
        }
        _ => step.hands_on_min + step.near_min,
    }
}

#[test]
fn what_runs_is_waited_for_and_what_is_over_is_gone() {
    let (stops, mut driven) = (stop("drip"), Driven::new(Family::Drip));
    while !driven
        .state()
        .step
        .as_ref()
        .is_some_and(|step| step.is_wait())
    {
        assert!(driven.act(NINE));
    }
    assert!(driven.act(NINE));
    let state = driven.state();
    let wait = state.step.clone().unwrap();
    let homes = homes();
    let at = |minutes: f64, state: &State| {
        let begun = Begun {
            clean_id: "c".into(),
            state: state.clone(),
            last_at: NINE,
        };
        let one = Task {
            begun: Some(begun),
            ..task(&stops, &driven.plan)
        };
        schedule(
            &[one],
            &[],
            &Terms {
                now: later(minutes),
                ..terms(Order::Shortest, &homes)
            },
        )
    };
    let (early, late) = (at(1.0, &state), at(11.0, &state));
    assert!(
        (early.minutes - late.minutes - 10.0).abs() < 0.1,
        "{} {}",
        early.minutes,
        late.minutes
    );
    // Past its time it waits for the person.
    let over = at(wait.hands_free_min + 30.0, &state);
    let after = at(wait.hands_free_min + 60.0, &state);
    assert!((over.minutes - after.minutes).abs() < 0.1);
    let done: Vec<_> = state
        .steps
        .iter()
        .map(|step| clean::StepState {
            standing: clean::Standing::Done,
            ..step.clone()
        })
        .collect();
    let unwritten = State {
        steps: done,
        current: None,
        step: None,
        ..state.clone()
    };
    let last = at(1.0, &unwritten);
    assert_eq!((last.acts.len(), last.minutes), (1, 0.2));
    assert!(!last.acts[0].title.is_empty());
    let closed = State {
        closed: Some(clean::Closed::Finished),
        ..state
    };
    let none = at(1.0, &closed);
    assert_eq!(
        (none.acts.len(), none.lines.len(), none.minutes),
        (0, 0, 0.0)
    );
}

#[test]
fn an_instruction_that_is_followed_is_kept_unless_another_saves_a_minute() {
    let (stops, plans) = three();
    let tasks = tasks(&stops, &plans);
    let homes = homes();
    let usual = terms(Order::Shortest, &homes);
    let best = schedule(&tasks, &[], &usual);
    for following in ["pod", "drip", "cup"] {
        let kept = schedule(
            &tasks,
            &[],
            &Terms {
                following: Some(following),
                ..usual.clone()
            },
        );
        assert!(kept.minutes <= best.minutes + 1.0, "{following}");
    }
    let first = best.acts[0].id.clone();
    let kept = schedule(
        &tasks,
        &[],
        &Terms {
            following: Some(&first),
            ..usual.clone()
        },
    );
    assert_eq!(kept.acts[0].id, first);
    // On the way to another home nothing is followed yet.
    let away = Terms {
        place_now: Some("o"),
        following: Some(&first),
        ..usual.clone()
    };
    let there = schedule(&tasks, &[], &away);
    assert!(there.acts[0].at >= later(15.0), "{}", there.acts[0].at);
    let bath = room("bath", "h", 12);
    let room = schedule(
        &tasks[..1],
        &[&bath],
        &Terms {
            following: Some("bath"),
            ..usual.clone()
        },
    );
    assert!(room.minutes <= schedule(&tasks[..1], &[&bath], &usual).minutes + 1.0);
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

fn acts(whats: Vec<VisitWhat>) -> Result<Visit, murlo_base::problem::Problems> {
    let whole = visit(&["pod", "drip"], vec![room("bath", "h", 12)]);
    whats
        .into_iter()
        .enumerate()
        .try_fold(whole, |visit, (n, what)| {
            let at = later(n as f64);
            visit.admit(VisitEvent {
                id: format!("e{n}"),
                at,
                what,
            })
        })
}

fn done(room: &str) -> VisitWhat {
    VisitWhat::RoomDone { room: room.into() }
}

fn dropped(id: &str) -> VisitWhat {
    VisitWhat::Dropped { id: id.into() }
}

fn undone(n: usize) -> VisitWhat {
    VisitWhat::Undone {
        event: format!("e{n}"),
    }
}

fn closed() -> VisitWhat {
    VisitWhat::Closed {
        bill: Bill::default(),
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
        bill: Bill {
            lines: vec![BillLine {
                what: String::new(),
                amount: 1.0,
            }],
            is_gift: false,
        },
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
    let (from, until) = visit.instants(&TimeZone::fixed(jiff::tz::offset(2)));
    assert_eq!(from.to_string(), "2026-01-01T07:00:00Z");
    assert_eq!(until.unwrap().to_string(), "2026-01-01T09:30:00Z");
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
    let cases: [(&[i32], i32); 4] = [(&[], 28), (&[21], 21), (&[14, 28, 60], 14), (&[400], 366)];
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
    let amount: f64 = plans.iter().filter_map(Plan::agent_amount).sum();
    let vinegar = agents
        .iter_mut()
        .find(|agent| agent.id == plans[0].chosen.agent_id)
        .unwrap();
    vinegar.on_hand = Some(amount);
    let lines = kit(&all, &agents, Units::Metric);
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
    let lines = kit(&all, &agents, Units::Metric);
    assert!(lines[0].is_short && lines[0].there.as_ref().unwrap().starts_with("only"));
    agents.iter_mut().for_each(|agent| agent.on_hand = None);
    assert_eq!(kit(&all, &agents, Units::Metric)[0].there, None);
    assert_eq!(kit(&[], &agents, Units::Metric), []);
}

#[test]
fn a_bill_is_what_it_took_or_a_gift() {
    let spent = Spent {
        hands_min: 60.0,
        near_min: 30.0,
        travel_min: 15.0,
        material: 1.234,
        elapsed_min: 110.0,
    };
    let none = suggested(&spent, &money::Terms::default());
    assert_eq!(
        none.lines,
        [BillLine {
            what: "Agents and parts".into(),
            amount: 1.23
        }]
    );
    let rated = money::Terms {
        hourly_rate: Some(20.0),
        ..money::Terms::default()
    };
    let bill = suggested(&spent, &rated);
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
    assert_eq!(suggested(&Spent::default(), &rated).lines, []);
    for (amount, fits) in [
        (1e6, true),
        (-1e6, true),
        (1_000_000.1, false),
        (f64::NAN, false),
    ] {
        let one = Bill {
            lines: vec![BillLine {
                what: "A".into(),
                amount,
            }],
            is_gift: false,
        };
        assert_eq!(one.check().is_ok(), fits, "{amount}");
    }
    let line = BillLine {
        what: "A".into(),
        amount: 1.0,
    };
    assert!(
        Bill {
            lines: vec![line.clone(); 30],
            is_gift: false
        }
        .check()
        .is_ok()
    );
    assert!(
        Bill {
            lines: vec![line; 31],
            is_gift: false
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

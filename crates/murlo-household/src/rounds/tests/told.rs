//! What people are told of a visit, line by line: orders, what to do, cards, bills.

use super::super::card::{Card, CardFacts};
use super::super::propose::{Foreseen, WantedVisit, propose};
pub(crate) use super::super::schedule::{Ordered, outlook};
use super::driven::Driven;
use super::lanes::{card, day, work};
use super::*;
use crate::counter::BrewerCard;
use murlo_base::units::{Amount, Units};
use murlo_brewer::bath::Agent;
use murlo_brewer::home::{Bottle, Home};
use murlo_brewer::offer::Offer;
use murlo_brewer::{Brewer, BrewerDraft};
use murlo_clean::{Closed, Outcome, PouredBath};
use murlo_plan::pace::Took;
use std::fmt::Write;

/// An order in a line, and under it what the hands do, the same of one brewer in a row said once.
fn write_order(text: &mut String, ordered: &Ordered, whole: bool) {
    let left_out = match ordered.left_out.is_empty() {
        true => String::new(),
        false => format!(" Left out: {}.", ordered.left_out.join(", ")),
    };
    let late = ordered.late.as_deref().unwrap_or_default();
    writeln!(
        text,
        "  {:.1} min, until {}, {} changes: {}.{left_out} {late}",
        ordered.minutes, ordered.ends_at, ordered.changes, ordered.text,
    )
    .unwrap();
    let mut before = String::new();
    for act in ordered.acts.iter().take(if whole { usize::MAX } else { 2 }) {
        let now = format!("{}: {}", act.name, act.title);
        if now == before {
            continue;
        }
        writeln!(
            text,
            "    {} (by {}) {now}, {:.1} min, then {:.1} free. {}",
            act.at, act.latest, act.minutes, act.free_min, act.takes
        )
        .unwrap();
        before = now;
    }
}

#[test]
fn visits_come_to_the_orders_they_came_to() {
    let (stops, plans) = three();
    let homes = homes();
    let mut text = String::new();
    for (name, leave, order, away) in [
        ("all day", None, Order::Shortest, false),
        ("calm, two homes", None, Order::Calm, true),
        ("an hour and a half", Some(90.0), Order::Shortest, true),
        ("ten minutes", Some(10.0), Order::Shortest, false),
    ] {
        let mut tasks = tasks(&stops, &plans);
        if away {
            tasks[1].home_id = "o".into();
        }
        tasks[2].weight = Some(0.3);
        let rooms = [room("bath", "h", 12), room("hall", "h", 5)];
        let rooms: Vec<_> = rooms.iter().collect();
        let terms = ScheduleTerms {
            leave_by: leave.map(later),
            ..terms(order, &homes)
        };
        let found = outlook(&tasks, &rooms, &terms);
        writeln!(
            text,
            "# {name}: {:.1} min in turn, {}",
            found.in_turn_min, found.saved
        )
        .unwrap();
        write_order(&mut text, &found.shortest, leave == Some(90.0));
        write_order(&mut text, &found.calm, false);
        for saving in &found.savings {
            writeln!(text, "  Without {}: {}", saving.id, saving.text).unwrap();
        }
    }
    // One room alone saves nothing by any order.
    let bath = room("bath", "h", 12);
    let alone = outlook(&[], &[&bath], &terms(Order::Shortest, &homes));
    writeln!(
        text,
        "# one room: {:.1} min, {}",
        alone.in_turn_min, alone.saved
    )
    .unwrap();
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "visits", &text);
}

#[test]
fn what_is_left_of_a_visit_comes_to_the_order_it_came_to() {
    let (stops, plans) = three();
    let homes = homes();
    let mut text = String::new();
    let mut driven = Driven::new(Family::PodReservoir);
    for n in 0..16 {
        let mut tasks = tasks(&stops, &plans);
        tasks[0].plan = driven.plan.clone();
        tasks[0].begun = Some(Begun {
            clean_id: "c".into(),
            state: driven.state(),
            last_at: driven.last_at(),
            last_by: None,
        });
        let now = later(f64::from(3 * n));
        let terms = ScheduleTerms {
            now,
            ..terms(Order::Shortest, &homes)
        };
        if n % 4 == 0 {
            writeln!(text, "# after {n} acts").unwrap();
            write_order(&mut text, &schedule(&tasks, &[], &terms), false);
        }
        driven.act(now);
    }
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "visits-running", &text);
}

fn brewer(id: &str, family: Family) -> Brewer {
    let draft = BrewerDraft {
        nickname: id.into(),
        ..BrewerDraft::template(family, Units::Metric, "h", "hard", day(-30))
    };
    draft.check(id.into(), None, day(-30)).unwrap()
}

#[test]
fn a_visit_proposes_what_is_due_by_then_and_before_the_next() {
    let today = day(0);
    let mut text = String::new();
    let reasons = |card: BrewerCard, next: i32| {
        let family = card.family_id;
        let brewers = HashMap::from([(card.id.clone(), brewer(&card.id, family))]);
        let wish = WantedVisit {
            today,
            day: today,
            next: day(next),
            moved: &[],
            foreseen: &Foreseen::default(),
        };
        propose(&[&card], &brewers, &wish)
    };
    let pod = |at: i32| card("pod", Family::PodReservoir, (at - 5, at, at + 9));
    for at in [-3, -1, 0, 1, 27, 28, 29, 60] {
        for one in reasons(pod(at), 28) {
            writeln!(
                text,
                "due {at}: {}, due {}, in {}",
                one.why, one.is_due, one.is_in
            )
            .unwrap();
        }
    }
    for (at, is_due, keeps) in [
        (-2, true, false),
        (-2, false, false),
        (0, true, false),
        (0, false, true),
        (5, false, true),
        (5, false, false),
        (28, false, true),
        (29, false, true),
    ] {
        let mut one = pod(60);
        work(&mut one, at, is_due, keeps);
        for p in reasons(one, 28)
            .into_iter()
            .filter(|p| p.stop.id != "pod-main")
        {
            let asked = p.stop.options.job.map_or("no small work", Job::name);
            let said = |is: bool, what: &str| {
                if is {
                    what.to_owned()
                } else {
                    format!("not {what}")
                }
            };
            writeln!(
                text,
                "{asked} on day {at}, {}, {}: {} {}, {}; {}, {}, weighs {}",
                said(is_due, "asked for"),
                said(keeps, "needed"),
                p.stop.id,
                p.what,
                p.why,
                said(p.is_due, "due"),
                said(p.is_in, "in"),
                p.weight
            )
            .unwrap();
        }
    }
    // What a clean does anyway is not proposed beside it; a harm beyond the limit weighs more.
    let mut both = pod(-2);
    work(&mut both, -2, true, false);
    both.circuits[0].forecast.chalk.used = 1.4;
    both.circuits[0].forecast.used_a_day = 0.01;
    for one in reasons(both, 28) {
        writeln!(text, "{} {:.3}", one.stop.id, one.weight).unwrap();
    }
    let mut running = pod(60);
    running.circuits[0].running_clean = Some("c".into());
    let mut acid = card("duo", Family::Combination, (55, 60, 69));
    acid.circuits[1].acid = Some(crate::history::AcidInside {
        clean_id: "c".into(),
        text: "13 times what people notice".into(),
        since: None,
        times: "13 times what people notice".into(),
    });
    for one in reasons(running, 28).into_iter().chain(reasons(acid, 28)) {
        writeln!(
            text,
            "{}: {} {} {}",
            one.name, one.why, one.is_due, one.is_in
        )
        .unwrap();
    }
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "proposals", &text);
}

fn outcome(work: Work, jobs: &[Job]) -> Outcome {
    let bare = serde_json::json!({
        "day": day(-1), "rounds": 2, "rinses": 9, "text": "White vinegar, 2.5 %, soaked 25 min", "overruled": false,
        "work": work, "jobs": jobs, "checks": ["Smell: nobody notices acid"]
    });
    serde_json::from_value(bare).unwrap()
}

#[test]
fn a_card_says_what_was_done_when_next_and_what_till_then() {
    let mut text = String::new();
    let mut pod = card("pod", Family::PodReservoir, (20, 30, 45));
    work(&mut pod, 7, false, false);
    work(&mut pod, -1, true, true);
    work(&mut pod, 0, true, true);
    pod.upkeep[0].days = Some(7);
    for (work, every) in pod.upkeep.iter_mut().zip(["7 days", "8 days", "9 days"]) {
        work.every = format!("every {every}");
    }
    let duo = card("duo", Family::Combination, (20, 30, 45));
    let whole = outcome(Work::Descale, &[Job::Tray, Job::Needles, Job::Wash]);
    let needles = outcome(Work::Needles, &[Job::Needles]);
    let tray = outcome(Work::Upkeep, &[Job::Tray]);
    for (card, outcome, acid) in [
        (&pod, Some(&whole), None),
        (&pod, Some(&needles), None),
        (&pod, Some(&tray), None),
        (&duo, Some(&whole), None),
        (&duo, Some(&whole), Some("ACID INSIDE")),
    ] {
        let facts = CardFacts {
            card,
            circuit: &card.circuits[0],
            outcome,
            acid,
            today: day(0),
        };
        let card = Card::of(&facts).unwrap();
        // What is sent says what the card says.
        let letter = card.letter();
        for said in [&card.done, &card.till_then, &card.look_for]
            .into_iter()
            .flatten()
        {
            assert!(letter.contains(&format!("- {said}")), "{letter}");
        }
        assert!(
            letter.contains(&card.next) && letter.starts_with(&card.name),
            "{letter}"
        );
        assert!(
            card.acid.as_ref().is_none_or(|acid| letter.contains(acid)),
            "{letter}"
        );
        let card = serde_json::to_value(card).unwrap();
        for (part, says) in card.as_object().unwrap() {
            let says = match says {
                serde_json::Value::Array(lines) => {
                    let lines = lines.iter().filter_map(|line| line.as_str());
                    lines.collect::<Vec<_>>().join(" · ")
                }
                one => one.as_str().unwrap_or_default().to_owned(),
            };
            writeln!(text, "{part}: {says}").unwrap();
        }
        text.push('\n');
    }
    let given_up = CardFacts {
        card: &pod,
        circuit: &pod.circuits[0],
        outcome: None,
        acid: None,
        today: day(0),
    };
    writeln!(text, "{}", Card::of(&given_up).unwrap_err()).unwrap();
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "cards", &text);
}

#[test]
fn a_visit_took_what_its_cleans_took_and_its_rooms_and_the_way() {
    let (_, [pod, ..]) = three();
    let ended = |took: &[f64]| {
        let mut driven = Driven::new(Family::PodReservoir);
        while driven.act(driven.last_at()) {}
        let mut state = driven.state();
        let mut outcome = outcome(Work::Descale, &[]);
        let steps = took
            .iter()
            .map(|more| Took::new(Kind::Parts, 3.0, 3.0 + more).unwrap());
        outcome.took = steps.collect();
        state.outcome = Some(outcome);
        Task {
            begun: Some(Begun {
                clean_id: "c".into(),
                state,
                last_at: NINE,
                last_by: None,
            }),
            ..task(&stop("pod"), &pod)
        }
    };
    let planned = pod.ribbon.hands_on_min;
    let of = |tasks: &[Task]| Spent::of(tasks, 12, (NINE, later(95.0)));
    let one = of(&[ended(&[2.0, -1.0])]);
    assert!(
        (one.hands_min - (12.0 + planned + 1.0)).abs() < 1e-9,
        "{one:?}"
    );
    assert!((one.near_min - pod.ribbon.near_min).abs() < 1e-9);
    assert_eq!(one.elapsed_min, 95.0);
    // Two are both counted; what has not begun is not.
    let two = of(&[ended(&[]), ended(&[]), task(&stop("cup"), &pod)]);
    assert!(
        (two.hands_min - (12.0 + 2.0 * planned)).abs() < 1e-9,
        "{two:?}"
    );
    assert!((two.near_min - 2.0 * pod.ribbon.near_min).abs() < 1e-9);
    // Somebody who took very long was called away.
    let long = of(&[ended(&[10.0; 30])]);
    assert!(
        (long.hands_min - (12.0 + 3.0 * planned)).abs() < 1e-9,
        "{long:?}"
    );
    // What is over and has a price of its own; what only runs has none yet, and costs what was poured.
    let home = Home {
        descaling_price: Some(30.0),
        needles_price: Some(12.0),
        ..Home::named(task(&stop("pod"), &pod).home_id, "Quay")
    };
    let mut agents = Agent::starters();
    let vinegar = agents
        .iter_mut()
        .find(|agent| agent.id == "vinegar")
        .unwrap();
    vinegar.offers.push(Offer {
        source: "Corner shop".into(),
        amount: 1000.0,
        price: 4.0,
        postage: 0.0,
        coupon: 0.0,
        kit_worth: 0.0,
    });
    let paid = |tasks: &[Task]| {
        let prices = MaterialPrices {
            agents: &agents,
            supplies: &[],
            units: Units::Metric,
        };
        let course = VisitCourse::default();
        let all = at_homes((&[&home], 0), &course, (tasks, prices), (NINE, NINE));
        let extras: Vec<f64> = all[0].extras.iter().map(|line| line.amount).collect();
        let material = all[0].material.iter();
        let material = material.map(|line| format!("{} {:.2}", line.what, line.amount));
        (extras, material.collect::<Vec<_>>().join("; "))
    };
    let poured = |ml| PouredBath {
        agent_id: "vinegar".into(),
        agent_name: "Vinegar".into(),
        amount: Some(Amount::Ml(ml)),
        percent: 2.5,
        soaked_min: None,
    };
    let with = |work, bottle, baths: &[f64], how| {
        let mut task = ended(&[]);
        task.plan.work = work;
        task.plan.bottle = bottle;
        let state = &mut task.begun.as_mut().unwrap().state;
        state.closed = how;
        // What only runs has no outcome yet; its baths are poured all the same.
        state.poured = baths.iter().map(|ml| poured(*ml)).collect();
        match how {
            Some(_) => state.outcome.as_mut().unwrap().poured = state.poured.clone(),
            None => state.outcome = None,
        }
        task
    };
    let own = Bottle::Own;
    let over = |work, baths: &[f64]| with(work, own, baths, Some(Closed::Finished));
    let name = &agents.iter().find(|a| a.id == "vinegar").unwrap().name;
    let line = |rest: &str| format!("{name}, {rest}");
    for (tasks, extras, told) in [
        (
            vec![over(Work::Descale, &[250.0])],
            vec![30.0],
            line("250 mL 1.00"),
        ),
        // Each bath as it was poured, those of two cleans together.
        (
            vec![
                over(Work::Descale, &[250.0, 500.0]),
                over(Work::Descale, &[100.0]),
            ],
            vec![30.0, 30.0],
            line("850 mL 3.40"),
        ),
        (vec![over(Work::Needles, &[])], vec![12.0], String::new()),
        (vec![over(Work::Upkeep, &[])], vec![], String::new()),
        (
            vec![with(Work::Descale, own, &[250.0], Some(Closed::Abandoned))],
            vec![],
            line("250 mL 1.00"),
        ),
        (
            vec![with(Work::Descale, own, &[250.0], None)],
            vec![],
            line("250 mL 1.00"),
        ),
        (
            vec![with(
                Work::Descale,
                Bottle::Theirs,
                &[250.0],
                Some(Closed::Finished),
            )],
            vec![30.0],
            String::new(),
        ),
        (vec![task(&stop("cup"), &pod)], vec![], String::new()),
    ] {
        assert_eq!(paid(&tasks), (extras, told));
    }
    let backwards = Spent::of(&[], 0, (later(5.0), NINE));
    assert_eq!(backwards.elapsed_min, 0.0);
    for (near, words) in [
        (0.4, "12 min of hands, in 1 h"),
        (31.0, "12 min of hands and 31 min beside brewers, in 1 h"),
    ] {
        let spent = Spent {
            hands_min: 12.0,
            near_min: near,
            elapsed_min: 60.0,
        };
        assert_eq!(spent.text(), words);
    }
}

//! What a plan comes to as jobs of a visit, line by line.

use super::driven::Driven;
use super::*;
use murlo_base::units::Units;
use murlo_brewer::bath::Agent;
use murlo_brewer::bath::Recipe;
use murlo_brewer::home::Home;
use murlo_visit::Job;
use std::fmt::Write;

fn write_jobs(text: &mut String, title: &str, jobs: &[Job]) {
    writeln!(text, "== {title}").unwrap();
    for job in jobs {
        let at = job.at.map_or_else(String::new, |at| format!(" at {at:?}"));
        writeln!(text, "{} after {:?}{at}", job.id, job.after).unwrap();
        for s in &job.segments {
            let max = s
                .max
                .map_or_else(String::new, |max| format!(", at most {max} s"));
            writeln!(text, "  {} {:?} {} s{max}", s.id, s.doing, s.seconds).unwrap();
        }
    }
}

/// A task of what has been driven so far.
fn begun(driven: &Driven) -> Task {
    let at = Begun {
        clean_id: "c".into(),
        state: driven.state(),
        last_at: driven.last_at(),
    };
    Task {
        begun: Some(at),
        ..task(&stop("pod"), &driven.plan)
    }
}

#[test]
fn plans_come_to_the_jobs_they_came_to() {
    let mut text = String::new();
    let strong = PlanOptions {
        agent_id: Some("vinegar".into()),
        percent: Some(24.0),
        recipe: Some(Recipe::Ratio {
            agent: 1.0,
            water: 1.0,
        }),
        ..PlanOptions::default()
    };
    let needles = PlanOptions {
        work: Work::Needles,
        ..PlanOptions::default()
    };
    for family in Family::ALL {
        for (name, options) in [
            ("usual", PlanOptions::default()),
            ("strong", strong.clone()),
            ("needles", needles.clone()),
        ] {
            let Ok(plan) = plan(family, &options) else {
                continue;
            };
            let one = task(&stop("pod"), &plan);
            for order in [Order::Shortest, Order::Calm] {
                let title = format!("{family:?}, {name}, {order:?}");
                write_jobs(&mut text, &title, &one.jobs(order, NINE));
            }
        }
    }
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "jobs", &text);
}

#[test]
fn what_is_left_of_a_clean_comes_to_the_jobs_it_came_to() {
    let mut text = String::new();
    for family in [Family::PodReservoir, Family::Drip, Family::CodedCapsule] {
        let mut driven = Driven::new(family);
        for n in 0..40 {
            if driven.state().next.is_none() {
                break;
            }
            let one = begun(&driven);
            write_jobs(
                &mut text,
                &format!("{family:?}, act {n}"),
                &one.jobs(Order::Shortest, NINE),
            );
            driven.act(later(f64::from(n)));
        }
    }
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "jobs-begun", &text);
}

#[test]
fn what_is_not_used_up_is_carried_once_and_what_is_for_each() {
    let (_, [pod, drip, _]) = three();
    let mut agents = Agent::starters();
    let line = |plans: &[&Plan], agents: &[Agent], start: &str| {
        let lines = kit(plans, agents, Units::Metric);
        let found: Vec<_> = lines
            .into_iter()
            .filter(|l| l.what.starts_with(start))
            .collect();
        assert!(found.len() <= 1, "{found:?}");
        found.into_iter().next()
    };
    let with = |extra: &str| Plan {
        kit: vec![extra.to_owned()],
        ..pod.clone()
    };
    // A new filter each, a bowl for all.
    let (filter, bowl) = (with("A new water filter"), with("A bowl"));
    for (plans, start, what) in [
        (vec![&filter], "A new", "A new water filter"),
        (
            vec![&filter, &filter],
            "A new",
            "A new water filter, 2 of them",
        ),
        (
            vec![&filter, &filter, &filter],
            "A new",
            "A new water filter, 3 of them",
        ),
        (vec![&bowl, &bowl], "A bowl", "A bowl"),
    ] {
        assert_eq!(line(&plans, &agents, start).unwrap().what, what);
    }
    // Each bath of a plan takes its own, and each agent stands for itself.
    let name = |id: &str| {
        Agent::starters()
            .into_iter()
            .find(|a| a.id == id)
            .unwrap()
            .name
    };
    let of = |plan: &Plan, baths: u32| {
        let mut plan = plan.clone();
        plan.chosen.baths = baths;
        plan
    };
    let id = pod.chosen.agent_id.clone();
    let once = pod.agent_amount().unwrap();
    for (left, is_short) in [(2.99 * once, true), (3.0 * once, false)] {
        agents
            .iter_mut()
            .filter(|a| a.id == id)
            .for_each(|a| a.on_hand = Some(left));
        let told = line(&[&of(&pod, 3)], &agents, &name(&id)).unwrap();
        assert!(told.what.ends_with("for 3 baths"), "{}", told.what);
        assert_eq!(told.is_short, is_short);
    }
    let mut other = of(&drip, 1);
    other.chosen.agent_id = agents.iter().find(|a| a.id != id).unwrap().id.clone();
    let both = kit(&[&of(&pod, 1), &other], &agents, Units::Metric);
    for id in [&id, &other.chosen.agent_id] {
        let mine = format!("{}:", name(id));
        assert_eq!(both.iter().filter(|l| l.what.starts_with(&mine)).count(), 1);
    }
}

#[test]
fn a_home_is_called_by_its_name() {
    let home = [Home::named("h", "Cottage"), Home::named("o", "Studio")];
    let brewers = HashMap::new();
    let places = Places {
        homes: &home,
        brewers: &brewers,
        visits: &[],
    };
    assert_eq!(
        (places.name_of("o"), places.name_of("x")),
        ("Studio".to_owned(), String::new())
    );
}

//! What a plan comes to as jobs of a visit, line by line.

use super::driven::Driven;
use super::*;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_visit::{At, Presence, VisitJob};
use std::fmt::Write;

/// "pod/0: ready 60 s, first 18 s + 102 near, run 2 x (18 s + 102 near); pod/1 after pod/0: …".
fn chains(jobs: &[VisitJob]) -> String {
    let chains = jobs.iter().map(|job| {
        let mut parts: Vec<(String, usize)> = Vec::new();
        let mut at = 0;
        while at < job.segments.len() {
            let step = &job.segments[at].id;
            let until = job.segments[at..]
                .iter()
                .position(|s| s.doing == Presence::Hands && s.id != *step);
            let mut until = until.map_or(job.segments.len(), |n| at + n);
            // One press of many is a part of its own.
            let again = job.segments[at + 1..until]
                .iter()
                .position(|s| s.doing == Presence::Hands);
            until = again.map_or(until, |n| at + 1 + n);
            let part = job.segments[at..until].iter().map(|s| {
                let max = s
                    .max
                    .map_or_else(String::new, |max| format!(" at most {max}"));
                let which = match s.doing {
                    Presence::Hands => "",
                    Presence::Near => " near",
                    Presence::Free => " free",
                };
                format!("{}{which}{max}", s.seconds)
            });
            let part = format!("{step} {}", part.collect::<Vec<_>>().join(" + "));
            match parts.last_mut() {
                Some((last, times)) if *last == part => *times += 1,
                _ => parts.push((part, 1)),
            }
            at = until;
        }
        let parts = parts.into_iter().map(|(part, times)| match times {
            1 => part,
            n => format!("{n} times {part}"),
        });
        let after = match job.after.is_empty() {
            true => String::new(),
            false => format!(" after {}", job.after.join(", ")),
        };
        let at = match job.at {
            None => String::new(),
            Some(At::Done) => " (done)".to_owned(),
            Some(At::Segment(n, None)) => format!(" (to be begun at {})", job.segments[n].id),
            Some(At::Segment(n, Some(since))) => format!(" ({} since {since})", job.segments[n].id),
        };
        format!(
            "  {}{after}{at}: {}",
            job.id,
            parts.collect::<Vec<_>>().join(", ")
        )
    });
    chains.collect::<Vec<_>>().join("\n")
}

/// A task of what has been driven so far.
fn begun(driven: &Driven) -> Task {
    let at = Begun {
        clean_id: "c".into(),
        state: driven.state(),
        last_at: driven.last_at(),
        last_by: None,
    };
    Task {
        begun: Some(at),
        ..task(&stop("pod"), &driven.plan)
    }
}

#[test]
fn plans_come_to_the_jobs_they_came_to() {
    let mut text = String::new();
    let needles = PlanOptions {
        work: Work::Needles,
        ..PlanOptions::default()
    };
    for family in Family::ALL {
        for (name, options) in [
            ("usual", PlanOptions::default()),
            ("needles", needles.clone()),
        ] {
            let Ok(plan) = plan(family, &options) else {
                continue;
            };
            let one = task(&stop("pod"), &plan);
            let orders = [Order::Shortest, Order::Calm];
            // Calm keeps the presses of one brewer together; one family shows how.
            for order in orders
                .into_iter()
                .take(if family == Family::PodReservoir { 2 } else { 1 })
            {
                let order_name = if order == Order::Calm {
                    "calm"
                } else {
                    "shortest"
                };
                let (label, jobs) = (family.label(), one.jobs(order, NINE, Baths::Planned));
                writeln!(text, "# {label}, {name}, {order_name}\n{}", chains(&jobs)).unwrap();
            }
        }
    }
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "jobs", &text);
}

#[test]
fn a_count_is_an_act_until_its_last_is_said() {
    let mut counts = 0;
    for family in Family::ALL {
        let mut driven = Driven::new(family);
        for n in 0..60 {
            let state = driven.state();
            let Some(i) = state.current.filter(|_| state.next.is_some()) else {
                break;
            };
            let step = &driven.plan.steps[i];
            if matches!(step.doing, murlo_plan::Doing::Count { .. }) {
                counts += 1;
                let id = step.id.clone();
                let jobs = begun(&driven).jobs(Order::Shortest, NINE, Baths::Planned);
                let hands = |s: &&murlo_visit::Segment| s.doing == Presence::Hands && s.id == id;
                let at = &state.steps[i];
                let act = jobs[0].segments.iter().find(hands);
                assert!(
                    act.is_some(),
                    "{family:?}, {id} at {} of {}",
                    at.count,
                    at.target
                );
            }
            driven.act(later(f64::from(n)));
        }
    }
    assert!(counts > 10, "{counts}");
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
            // Every few acts: what is left changes by one act from one to the next.
            if n % 6 == 0 {
                let jobs = begun(&driven).jobs(Order::Shortest, NINE, Baths::Planned);
                writeln!(
                    text,
                    "# {}, after {n} acts\n{}",
                    family.label(),
                    chains(&jobs)
                )
                .unwrap();
            }
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
        let lines = kit(plans, stock(agents));
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
    let once = pod.agent_amount().unwrap().number();
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
    let both = kit(&[&of(&pod, 1), &other], stock(&agents));
    for id in [&id, &other.chosen.agent_id] {
        let mine = format!("{}:", name(id));
        assert_eq!(both.iter().filter(|l| l.what.starts_with(&mine)).count(), 1);
    }
}

#[test]
fn a_home_is_called_by_its_name() {
    let home = [Home::named("h", "Cottage"), Home::named("o", "Studio")];
    let brewers = HashMap::new();
    let places = KnownPlaces {
        homes: &home,
        brewers: &brewers,
        visits: &[],
        off: &[],
    };
    assert_eq!(
        (places.name_of("o"), places.name_of("x")),
        ("Studio".to_owned(), String::new())
    );
}

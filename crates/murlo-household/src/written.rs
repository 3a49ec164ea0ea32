//! What plans say, what they do to the simulated brewer and how cleans stand, written down line by line: whatever changes
//! one of them shows here. Renewed with `MURLO_WRITE=1 cargo test -p murlo-household --lib written`, then read as a change.

use murlo_brewer::bath::{Agent, Remark};
use murlo_brewer::job::Job;
use murlo_brewer::offer::Offer;
use murlo_brewer::{Brewer, Family};
use murlo_chalk::money::Terms;
use murlo_clean::fixtures::{Run, any_act};
use murlo_clean::{Standing, State};
use murlo_plan::fixtures::with_told;
use murlo_plan::machine::{Machine, Mechanism};
use murlo_plan::rehearse::watched;
use murlo_plan::{Facts, Plan, PlanOptions, Step, Work};
use std::fmt::Write;

/// What is asked of each brewer.
fn wishes(facts: &Facts) -> Vec<(String, PlanOptions)> {
    let usual = PlanOptions::default;
    let work = |job: Job| PlanOptions {
        work: Work::Upkeep,
        job: Some(job),
        ..usual()
    };
    let mut all = vec![
        ("usual".to_owned(), usual()),
        (
            "two baths".to_owned(),
            PlanOptions {
                baths: Some(2),
                soak_minutes: Some(25.0),
                agent_id: Some("citric".into()),
                ..usual()
            },
        ),
        (
            "dirt, by hand, an hour".to_owned(),
            PlanOptions {
                dirt: true,
                by_hand: true,
                minutes: Some(60.0),
                ..usual()
            },
        ),
        (
            "needles".to_owned(),
            PlanOptions {
                work: Work::Needles,
                ..usual()
            },
        ),
        (
            "rehearsal".to_owned(),
            PlanOptions {
                work: Work::Rehearsal,
                ..usual()
            },
        ),
    ];
    let fitting = Job::ALL.iter().filter(|job| job.fits(facts.brewer));
    all.extend(fitting.map(|job| (job.key().to_owned(), work(*job))));
    all
}

fn each_plan(mut tell: impl FnMut(&str, &Facts, &Plan)) {
    for family in Family::ALL {
        with_told(
            family,
            180.0,
            90,
            |_| {},
            |facts| {
                for (name, options) in wishes(facts) {
                    if let Ok(plan) = facts.plan(&options) {
                        tell(&format!("{}: {name}", family.label()), facts, &plan);
                    }
                }
            },
        );
    }
}

fn list(text: &mut String, name: &str, lines: &[String]) {
    for line in lines {
        writeln!(text, "  {name}: {line}").unwrap();
    }
}

fn step_lines(text: &mut String, step: &Step) {
    writeln!(
        text,
        "[{}] {} | {:.2} hands {:.2} near {:.2} free | {:?} plugged {} during {:?}",
        step.id,
        step.title,
        step.hands_on_min,
        step.near_min,
        step.hands_free_min,
        step.inside,
        step.plugged,
        step.during
    )
    .unwrap();
    list(text, "do", &step.what);
    writeln!(
        text,
        "  {} | figure {:?} | check {} | mistake {} | refill {:?} | {:?}",
        step.act, step.figure, step.check, step.mistake, step.refill, step.doing
    )
    .unwrap();
    let cautions: Vec<String> = step.cautions.iter().map(|c| c.text.clone()).collect();
    list(text, "caution", &cautions);
}

/// Words of the longest sentence.
const MOST_WORDS: usize = 25;

#[test]
fn no_sentence_of_a_plan_is_too_long_to_keep_in_mind() {
    let mut long = std::collections::BTreeSet::new();
    each_plan(|_, _, plan| {
        let steps = plan.steps.iter().flat_map(|step| {
            let cautions = step.cautions.iter().map(|c| &c.text);
            let own = [&step.title, &step.check, &step.mistake, &step.act];
            own.into_iter().chain(&step.what).chain(cautions)
        });
        let lines = steps.chain(&plan.kit).chain(&plan.warnings);
        for line in lines {
            let sentences = line.split_inclusive(['.', '?', ':', ';']);
            let is_long = |s: &&str| s.split_whitespace().count() > MOST_WORDS;
            long.extend(sentences.filter(is_long).map(str::to_owned));
        }
    });
    assert!(long.is_empty(), "{long:#?}");
}

#[test]
fn plans_say_what_they_said() {
    let mut text = String::new();
    each_plan(|name, _, plan| {
        writeln!(text, "== {name}").unwrap();
        writeln!(
            text,
            "chalk {:.1} mg {:.3}; after {:?}; bath {:.2} % {} + {}; soak {:.1}; rinse {} of {:.0} mL to {:.1}; baths {}",
            plan.chalk.mg,
            plan.chalk.used,
            plan.after.as_ref().map(|c| (c.mg * 10.0).round() / 10.0),
            plan.bath.percent,
            plan.bath.agent_text,
            plan.bath.water.text,
            plan.soak.minutes,
            plan.rinse.portions,
            plan.rinse.portion.ml,
            plan.rinse.target_mg_l,
            plan.likely_baths,
        )
        .unwrap();
        writeln!(
            text,
            "{:.1} hands {:.1} near of {:.1}; {:?}",
            plan.ribbon.hands_on_min, plan.ribbon.near_min, plan.ribbon.elapsed_min, plan.stronger
        )
        .unwrap();
        list(&mut text, "kit", &plan.kit);
        list(&mut text, "why", &plan.reasons);
        list(&mut text, "warning", &plan.warnings);
        plan.steps
            .iter()
            .for_each(|step| step_lines(&mut text, step));
    });
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "plans", &text);
}

#[test]
fn plans_do_to_the_brewer_what_they_did() {
    let mut text = String::new();
    each_plan(|name, facts, plan| {
        writeln!(text, "== {name}").unwrap();
        let mechanism = Mechanism::of(facts.brewer, facts.circuit, plan.rinse.target_mg_l);
        let ended = watched(
            Machine::in_use(&mechanism),
            &plan.steps,
            &mut |instruction, machine| {
                let s = machine.seen();
                writeln!(
                text,
                "{instruction:?}\n  {}{}{}{}{}{}{} res {:.0} @{:.0} vessel {:.0}/{:.0} @{:.0} path {:.1} {:?}",
                mark(s.plugged, 'p'),
                mark(s.on, 'o'),
                mark(s.in_mode, 'm'),
                mark(s.lid_open, 'l'),
                mark(s.light, 'L'),
                mark(s.hot, 'h'),
                mark(s.noted, 'n'),
                s.reservoir_ml,
                s.reservoir_mg_l,
                s.vessel_ml,
                s.vessel_holds,
                s.vessel_mg_l,
                s.path_mg_l,
                s.inside,
            )
            .unwrap();
            },
        );
        writeln!(text, "-> {:?}", ended.map(|machine| machine.seen())).unwrap();
    });
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "machine", &text);
}

const fn mark(is: bool, mark: char) -> char {
    if is { mark } else { '-' }
}

/// What a person is told of a clean, by name.
fn told(state: &State) -> Vec<(&'static str, String)> {
    let standing = state.steps.iter().map(|step| match step.standing {
        Standing::Done => 'd',
        Standing::Current => 'c',
        Standing::Todo => '.',
    });
    let counts: Vec<u32> = state.steps.iter().map(|step| step.count).collect();
    let offered = state
        .next
        .iter()
        .chain(&state.finish)
        .chain(&state.others)
        .chain(&state.further)
        .chain(&state.corrections);
    let offered: Vec<_> = offered.map(|c| (&c.label, c.ask.as_ref())).collect();
    let levels: Vec<f64> = state
        .levels_mg_l
        .iter()
        .map(|level| level.round())
        .collect();
    vec![
        ("steps", standing.collect()),
        ("counts", format!("{counts:?} bath {}", state.round)),
        (
            "inside",
            format!("{:?} {}", state.inside, state.inside_text),
        ),
        (
            "verdict",
            format!("{:?} {:?}", state.verdict, state.verdict_text),
        ),
        ("offered", format!("{offered:?}")),
        ("hint", format!("{:?} {:?}", state.hint, state.late_text)),
        ("acid left", format!("{:?}", state.acid_left)),
        (
            "outcome",
            format!("{:?} {:?}", state.closed, state.outcome_text),
        ),
        ("done about", format!("{:?}", state.done_about)),
        (
            "cup",
            format!("{:?} {}", state.flow_text, state.flow_is_poor),
        ),
        ("clear", format!("{:?} {:?}", state.clear, state.tool_text)),
        ("levels", format!("{levels:?}")),
        ("meanwhile", format!("{:?}", state.meanwhile)),
    ]
}

/// Some acts among those offered, the same at every run.
#[test]
fn cleans_stand_where_they_stood() {
    let mut text = String::new();
    for (n, family) in Family::ALL.into_iter().enumerate() {
        for seed in 0..3_usize {
            writeln!(text, "== {} {seed}", family.label()).unwrap();
            let mut run = Run::new(family);
            let mut drawn = 7919 * (seed + 1) + n;
            let mut before = told(&run.state());
            for step in 0..60 {
                drawn = (drawn * 1_103_515_245 + 12_345) % 2_147_483_648;
                let pick = drawn >> 16;
                // Mostly on; now and then something else.
                let state = run.state();
                let act = match (&state.next, seed == 0 || !pick.is_multiple_of(4)) {
                    (Some(next), true) => next.act.clone(),
                    _ => any_act(&state, pick / 4 % 9, pick / 40 % 6),
                };
                match run.act(act.clone()) {
                    Ok(state) => {
                        writeln!(text, "{step} {act:?}").unwrap();
                        let now = told(&state);
                        for (was, is) in before.iter().zip(&now).filter(|(was, is)| was != is) {
                            assert_eq!(was.0, is.0);
                            writeln!(text, "  {}: {}", is.0, is.1).unwrap();
                        }
                        before = now;
                    }
                    Err(problem) => writeln!(text, "{step} {act:?} refused: {problem}").unwrap(),
                }
            }
            let state = run.state();
            if let Some(outcome) = &state.outcome {
                writeln!(
                    text,
                    "{} | {:?} | {:?} | {:?}",
                    outcome.line(),
                    outcome.evidence(),
                    outcome.bathed,
                    outcome.told_besides("c", "b", "main"),
                )
                .unwrap();
            }
        }
    }
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "cleans", &text);
}

/// Households that choose otherwise: what they call themselves, and what is so with them.
type Household = (
    &'static str,
    fn(&mut Brewer, &mut Vec<Agent>, &mut Terms, &mut PlanOptions),
);

fn offer(amount: f64, price: f64) -> Offer {
    Offer {
        source: "shop".to_owned(),
        amount,
        price,
        postage: 0.0,
        coupon: 0.0,
        kit_worth: 0.0,
    }
}

const HOUSEHOLDS: [Household; 11] = [
    ("nothing told", |_, _, _, _| {}),
    ("prices, an own hour, smell", |_, agents, terms, _| {
        terms.currency = "$".to_owned();
        terms.hourly_rate = Some(24.0);
        terms.avoid_smell = true;
        for (agent, price) in agents.iter_mut().zip([1.8, 6.0, 9.0]) {
            agent.offers = vec![offer(500.0, price), offer(1000.0, price * 1.5)];
        }
    }),
    ("one price only", |_, agents, _, _| {
        agents[0].offers = vec![offer(1000.0, 3.0)];
    }),
    ("a bare house", |_, agents, _, _| {
        agents.iter_mut().for_each(|a| a.on_hand = Some(0.0));
    }),
    ("the first is out", |_, agents, _, _| {
        agents[0].on_hand = Some(0.0);
        agents[1].on_hand = Some(5000.0);
    }),
    ("a little of each", |_, agents, _, _| {
        agents.iter_mut().for_each(|a| a.on_hand = Some(1.0));
    }),
    ("remarks", |_, agents, _, _| {
        agents[0].remarks = vec![Remark::NeverAgain];
        agents[1].remarks = vec![Remark::Foams, Remark::FromChemist];
    }),
    ("half an hour", |_, _, _, options| {
        options.minutes = Some(30.0);
    }),
    ("forbidden", |brewer, agents, _, _| {
        brewer.forbids.extend(agents.iter().map(|a| a.id.clone()));
    }),
    ("dirt, nothing of the first", |_, agents, _, options| {
        options.dirt = true;
        agents[0].on_hand = Some(0.0);
    }),
    ("dirt, nothing at all", |_, agents, _, options| {
        options.dirt = true;
        agents[0].remarks = vec![Remark::NeverAgain];
        agents.iter_mut().for_each(|a| a.on_hand = Some(0.0));
    }),
];

fn compared(text: &mut String, facts: &Facts, options: &PlanOptions) {
    let all = facts.compare(options).unwrap();
    for a in &all.alternatives {
        writeln!(
            text,
            "{} {} {}, {}: {:.2} % pH {:.2}, takes {:.0} % of it, leaves {:.1} % ({}); {} = {:.1}, {} dispenses, {} rinses of {}; {} = {:.1}, {} baths; {:.1} = {}; {:.2} {:?}; smells {} | {:?}",
            if a.recommended { "->" } else { "  " },
            a.agent_name,
            a.recipe_label,
            a.amounts,
            a.percent,
            a.ph,
            a.load_percent,
            a.left_percent,
            a.left_text,
            a.soak_text,
            a.soak_min,
            a.dispenses,
            a.rinses,
            a.rinse_water,
            a.time_text,
            a.elapsed_min,
            a.baths,
            a.score_min,
            a.score_text,
            a.cost,
            a.cost_text,
            a.smells,
            a.against,
        )
        .unwrap();
    }
    writeln!(text, "{}", all.because).unwrap();
    for buy in &all.buy {
        writeln!(text, "buy {} {}, {}", buy.amount, buy.name, buy.sold_at).unwrap();
    }
    let taken = facts.recommended(options.clone()).unwrap();
    writeln!(text, "taken {:?} {:?}", taken.agent_id, taken.recipe).unwrap();
}

#[test]
fn alternatives_compare_as_they_did() {
    let mut text = String::new();
    for (family, days) in [
        (Family::PodReservoir, 90),
        (Family::Drip, 60),
        (Family::PodReservoir, 900),
    ] {
        with_told(
            family,
            250.0,
            days,
            |_| {},
            |facts| {
                for (name, change) in HOUSEHOLDS {
                    writeln!(text, "== {} {days} days: {name}", family.label()).unwrap();
                    let (mut brewer, mut agents) = (facts.brewer.clone(), facts.agents.to_vec());
                    let (mut terms, mut options) = (facts.terms.clone(), PlanOptions::default());
                    change(&mut brewer, &mut agents, &mut terms, &mut options);
                    let facts = Facts {
                        brewer: &brewer,
                        circuit: &brewer.circuits[0],
                        agents: &agents,
                        terms: &terms,
                        ..facts.clone()
                    };
                    compared(&mut text, &facts, &options);
                }
            },
        );
    }
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "alternatives", &text);
}

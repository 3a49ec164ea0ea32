//! What plans, cleans and choices say, as a person would read it, family by family: whatever changes one of them shows here line
//! by line. Renewed with `MURLO_WRITE=1 cargo test -p murlo-household --test written`, then read as a change.

use murlo_base::text;
use murlo_brewer::bath::{Agent, Remark};
use murlo_brewer::job::Job;
use murlo_brewer::offer::Offer;
use murlo_brewer::{Brewer, Family};
use murlo_chalk::money::Terms;
use murlo_clean::State;
use murlo_clean::fixtures::Run;
use murlo_plan::fixtures::with_told;
use murlo_plan::{
    Facts, Inside, Plan, PlanOptions, Step, Work,
    answers::{AnswerId, QuestionId},
};
use std::collections::BTreeSet;
use std::fmt::Write;

fn check(name: &str, text: &str) {
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), name, text);
}

/// Everything that can be asked of a brewer.
fn wishes(facts: &Facts) -> Vec<(String, PlanOptions)> {
    let work = |work| PlanOptions {
        work,
        ..PlanOptions::default()
    };
    let mut all = vec![
        ("the usual clean".to_owned(), work(Work::Descale)),
        ("just the needles".to_owned(), work(Work::Needles)),
        ("a rehearsal".to_owned(), work(Work::Rehearsal)),
        (
            "by hand, against dirt, in an hour".to_owned(),
            PlanOptions {
                dirt: true,
                by_hand: true,
                minutes: Some(60.0),
                ..PlanOptions::default()
            },
        ),
    ];
    let fitting = Job::ALL.iter().filter(|job| job.fits(facts.brewer));
    all.extend(fitting.map(|job| {
        let options = PlanOptions {
            job: Some(*job),
            ..work(Work::Upkeep)
        };
        (job.name().to_lowercase(), options)
    }));
    all
}

fn each_plan(mut tell: impl FnMut(Family, &str, &Plan)) {
    for family in Family::ALL {
        with_told(
            family,
            180.0,
            90,
            |_| {},
            |facts| {
                for (name, options) in wishes(facts) {
                    if let Ok(plan) = facts.plan(&options) {
                        tell(family, &name, &plan);
                    }
                }
            },
        );
    }
}

/// Words of the longest sentence.
const MOST_WORDS: usize = 25;

#[test]
fn no_sentence_of_a_plan_is_too_long_to_keep_in_mind() {
    let mut long = BTreeSet::new();
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

const fn inside(inside: Inside) -> &'static str {
    match inside {
        Inside::Water => "water",
        Inside::Bath => "bath",
        Inside::Traces => "traces",
    }
}

/// "Make ready, 1 min of hands, water inside: do this. [Unplugged and empty]".
fn step_line(step: &Step) -> String {
    let minutes = [
        (step.hands_on_min, "of hands"),
        (step.near_min, "near"),
        (step.hands_free_min, "free"),
    ];
    let minutes = minutes.iter().filter(|(minutes, _)| *minutes > 0.0);
    let minutes: String = minutes
        .map(|(minutes, which)| format!(", {minutes:.1} min {which}"))
        .collect();
    let during = step
        .during
        .as_ref()
        .map_or_else(String::new, |other| format!(", during {other}"));
    let figure = step
        .figure
        .as_ref()
        .map_or_else(String::new, |figure| format!(" ({figure})"));
    format!(
        "  {}{figure}{minutes}, {} inside{}{during}: {} [{}]",
        step.title,
        inside(step.inside),
        if step.plugged { ", plugged in" } else { "" },
        step.what.join(" "),
        step.act,
    )
}

#[test]
fn plans_say_what_they_said() {
    let mut text = String::new();
    let mut told = BTreeSet::new();
    each_plan(|family, name, plan| {
        // Small works and rehearsals are told for the first family that has them.
        let is_alike = matches!(plan.work, Work::Upkeep | Work::Rehearsal);
        let by_hand = name.starts_with("by hand") && family != Family::CodedCapsule;
        if by_hand || (is_alike && !told.insert(name.to_owned())) {
            return;
        }
        writeln!(text, "\n# {}: {name}", family.label()).unwrap();
        if plan.work == Work::Descale {
            writeln!(
                text,
                "Bath: {} and {} water, {:.2} %. Soak {}. Rinse {} times {} down to {:.0} mg/L. Likely baths: {}. Chalk {:.0} mg, {:.0} % of the limit; after it {}.",
                plan.bath.agent_words,
                plan.bath.water.text,
                plan.bath.percent,
                text::minutes(plan.soak.minutes),
                plan.rinse.portions,
                plan.rinse.portion.text,
                plan.rinse.target_mg_l,
                plan.likely_baths,
                plan.chalk.mg,
                100.0 * plan.chalk.used,
                plan.after.as_ref().map_or_else(|| "not known".to_owned(), |c| format!("{:.0} mg", c.mg)),
            )
            .unwrap();
        }
        writeln!(
            text,
            "{:.1} min of hands, {:.1} near, {:.1} in all.",
            plan.ribbon.hands_on_min, plan.ribbon.near_min, plan.ribbon.elapsed_min
        )
        .unwrap();
        for (what, lines) in [
            ("Have", &plan.kit),
            ("Because", &plan.reasons),
            ("Mind", &plan.warnings),
        ] {
            if !lines.is_empty() {
                writeln!(text, "{what}: {}", lines.join(" · ")).unwrap();
            }
        }
        for step in &plan.steps {
            writeln!(text, "{}", step_line(step)).unwrap();
        }
    });
    check("plans", &text);
}

/// Every check and every usual mistake that a step names, and the cautions that stand on it.
#[test]
fn steps_warn_as_they_warned() {
    let mut lines = BTreeSet::new();
    each_plan(|_, _, plan| {
        for step in &plan.steps {
            let cautions: Vec<&str> = step.cautions.iter().map(|c| c.text.as_str()).collect();
            lines.insert(format!(
                "{}: right when {} Wrong: {} {}",
                step.title,
                step.check,
                step.mistake,
                cautions.join(" ")
            ));
        }
    });
    let text = lines
        .into_iter()
        .fold(String::new(), |all, line| all + line.trim_end() + "\n");
    check("cautions", &text);
}

/// How a clean stands: what is inside, what is offered, what is said.
fn stands(state: &State) -> String {
    let at = state.step.as_ref().map_or("at its end", |step| &step.title);
    let count = state
        .steps
        .iter()
        .find(|step| Some(&step.id) == state.step.as_ref().map(|s| &s.id));
    let count = count.filter(|step| step.target > 0);
    let count = count.map_or_else(String::new, |s| format!(" {} of {}", s.count, s.target));
    let mut line = format!("{at}{count}; {}", state.inside_text);
    for said in [
        &state.verdict_text,
        &state.hint,
        &state.late_text,
        &state.flow_text,
    ] {
        if let Some(said) = said.as_deref().filter(|said| !said.is_empty()) {
            write!(line, "; {said}").unwrap();
        }
    }
    let offered = state.next.iter().chain(&state.finish).chain(&state.others);
    let mut offered: Vec<&str> = offered.map(|choice| choice.label.as_str()).collect();
    offered.dedup();
    if !offered.is_empty() {
        write!(line, " [{}]", offered.join(" | ")).unwrap();
    }
    line
}

/// Goes on by the one next act, and answers badly what is in `bad` the first time it is asked.
fn walked(text: &mut String, family: Family, bad: &[QuestionId]) {
    let mut run = Run::new(family);
    let mut bad = bad.to_vec();
    let mut state = run.state();
    let mut before = String::new();
    loop {
        // Of what is counted, or cleared place by place, the first and the last tell the rest.
        let now = stands(&state);
        let step = now.split([';', ' ']).take(3).collect::<String>();
        if step != before || state.closed.is_some() || state.verdict.is_some() {
            writeln!(text, "  {now}").unwrap();
        }
        before = step;
        if state.closed.is_some() {
            break;
        }
        state = match &state.next {
            Some(_) => run.follow(),
            None if state
                .step
                .as_ref()
                .is_some_and(|step| step.is(murlo_plan::Kind::Verify)) =>
            {
                run.answer(&std::mem::take(&mut bad))
            }
            None => run.look(AnswerId::Chalk, AnswerId::Good),
        };
    }
    let outcome = state.outcome.expect("a clean that ended came to something");
    writeln!(text, "  It came to: {}", outcome.line()).unwrap();
}

#[test]
fn cleans_stand_where_they_stood() {
    let mut text = String::new();
    for family in Family::ALL {
        writeln!(text, "\n# {}", family.label()).unwrap();
        walked(&mut text, family, &[]);
    }
    for (name, bad) in [
        ("it still smells", [QuestionId::Smell]),
        ("it is not clear", [QuestionId::Clear]),
        ("the light is on", [QuestionId::Light]),
        ("chips come", [QuestionId::Flakes]),
    ] {
        writeln!(text, "\n# {}, {name}", Family::PodReservoir.label()).unwrap();
        let mut all = String::new();
        walked(&mut all, Family::PodReservoir, &bad);
        // Up to the questions it is as above.
        let from = all.find("Smell").or_else(|| all.find("still")).unwrap_or(0);
        let from = all[..from].rfind('\n').map_or(0, |at| at + 1);
        text.push_str(&all[from..]);
    }
    check("cleans", &text);
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

/// The baths side by side where nothing else is told; elsewhere what is taken, and why.
fn compared(text: &mut String, facts: &Facts, options: &PlanOptions, whole: bool) {
    let all = facts.compare(options).unwrap();
    for a in &all.alternatives {
        let against = a
            .against
            .as_ref()
            .map_or_else(String::new, |why| format!(" Against it: {why}."));
        let cost = if a.cost_text.is_empty() {
            String::new()
        } else {
            format!(" {}.", a.cost_text)
        };
        if whole || a.recommended {
            writeln!(
                text,
                "  {}{} {}: {}; {:.2} %. Soak {}, {} dispenses, {} rinses, {} baths, {}. Leaves {}, {:.1} %.{cost}{against}",
                if a.recommended { "Taken: " } else { "" },
                a.agent_name,
                a.recipe_label,
                a.amounts,
                a.percent,
                a.soak_text,
                a.dispenses,
                a.rinses,
                a.baths,
                a.time_text,
                a.left_text,
                a.left_percent,
            )
            .unwrap();
        }
    }
    writeln!(text, "  {}", all.because).unwrap();
    for buy in &all.buy {
        writeln!(text, "  Buy {} {}, {}.", buy.amount, buy.name, buy.sold_at).unwrap();
    }
}

#[test]
fn baths_compare_as_they_did() {
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
                    writeln!(text, "\n# {}, {days} days: {name}", family.label()).unwrap();
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
                    compared(&mut text, &facts, &options, name == HOUSEHOLDS[0].0);
                }
            },
        );
    }
    check("baths", &text);
}

//! An addition fails loudly until it is whole: every member of every table goes through plan, machine, words, clean and stock.

use murlo_brewer::bath::{Agent, AgentForm};
use murlo_brewer::job::{Asks, Job};
use murlo_brewer::trouble::{Cause, SIGNS, diagnose};
use murlo_brewer::{BrewerDraft, Family, LidNeedle, Needle, NeedleDraft};
use murlo_chemistry::acid::Acid;
use murlo_clean::fixtures::Run;
use murlo_clean::mishap::mishaps;
use murlo_clean::{Act, Verdict};
use murlo_household::first::LOOKS;
use murlo_household::stock::SupplyKind;
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::fixtures::with_told;
use murlo_plan::machine::Mechanism;
use murlo_plan::{Doing, Facts, Kind, Plan, PlanOptions, Work, rehearse};
use std::collections::{BTreeMap, BTreeSet};

/// Asks of the usual brewer of a family.
fn with<T>(family: Family, ask: impl FnOnce(&Facts) -> T) -> T {
    with_told(family, 180.0, 90, |_| {}, ask)
}

/// A plan that says something at every step and runs on the simulated brewer.
fn assert_whole(facts: &Facts, options: &PlanOptions, what: &str) -> Plan {
    let plan = facts
        .plan(options)
        .unwrap_or_else(|p| panic!("{what}: no plan: {p:?}"));
    assert!(!plan.steps.is_empty(), "{what}: nothing to do");
    for step in &plan.steps {
        let said = [&step.title, &step.act, &step.check];
        assert!(
            said.iter().all(|text| !text.is_empty()),
            "{what}: {}",
            step.id
        );
        assert!(!step.what.is_empty(), "{what}: {} says nothing", step.id);
        assert!(step.kind().is_some(), "{what}: {} is of no kind", step.id);
    }
    let circuit = facts
        .brewer
        .circuit("circuit_id", &plan.circuit_id)
        .expect("its own circuit");
    let mechanism = Mechanism::of(facts.brewer, circuit, plan.rinse.target_mg_l);
    if let Err(fault) = rehearse::run(&mechanism, &plan) {
        panic!("{what}: {}", fault.text);
    }
    plan
}

/// That no two members go by the same word.
fn assert_apart<'a>(of: &str, words: impl IntoIterator<Item = &'a str>) {
    let mut seen = BTreeSet::new();
    for word in words {
        assert!(!word.is_empty(), "{of}: a member without words");
        assert!(seen.insert(word), "{of}: two members are called {word}");
    }
}

#[test]
fn every_family_is_told_planned_cleaned_and_run() {
    assert_apart("families", Family::ALL.iter().map(|family| family.label()));
    for family in Family::ALL {
        let name = family.label();
        assert!(
            LOOKS.iter().any(|look| look.family == family),
            "{name}: nothing one can tell it by"
        );
        assert!(!family.parts().is_empty(), "{name}: no parts");
        let needles = NeedleDraft::all(&Needle::usual(family));
        let takes_pods = matches!(
            family,
            Family::PodReservoir | Family::OneCupPod | Family::Combination
        );
        assert!(!(takes_pods && needles.is_empty()), "{name}: no needles");
        with(family, |facts| {
            let back = BrewerDraft::of(facts.brewer, facts.units);
            let again = back.check(facts.brewer.id.clone(), None, facts.brewer.in_use_since);
            assert!(again.is_ok(), "{name}: its sheet cannot be kept: {again:?}");
            assert_whole(facts, &PlanOptions::default(), name);
        });
        let mut run = Run::new(family);
        run.on();
        run.answer(&[]);
        assert!(
            run.on().outcome.is_some(),
            "{name}: its clean comes to nothing"
        );
    }
}

#[test]
fn every_agent_and_every_acid_makes_a_bath_that_runs() {
    assert_apart("acids", Acid::ALL.iter().map(|acid| acid.words()));
    assert_apart("acids", Acid::ALL.iter().map(|acid| acid.id()));
    assert_apart("forms", AgentForm::KINDS.iter().map(|(_, words)| *words));
    let own = Acid::ALL.map(|acid| {
        let form = match acid {
            Acid::Acetic | Acid::Lactic => AgentForm::Liquid { acid, percent: 6.0 },
            Acid::Citric | Acid::CitricMonohydrate | Acid::Sulfamic => AgentForm::Powder { acid },
        };
        Agent {
            id: acid.id().to_owned(),
            name: acid.words().to_owned(),
            form,
            ..Agent::starters().remove(0)
        }
    });
    let agents: Vec<Agent> = Agent::starters().into_iter().chain(own).collect();
    for agent in &agents {
        assert!(
            AgentForm::KINDS
                .iter()
                .any(|(kind, _)| *kind == agent.form.kind())
        );
    }
    for family in [Family::PodReservoir, Family::Drip, Family::PumpCapsule] {
        with(family, |facts| {
            let facts = Facts {
                agents: &agents,
                ..facts.clone()
            };
            for agent in &agents {
                let options = PlanOptions {
                    agent_id: Some(agent.id.clone()),
                    ..PlanOptions::default()
                };
                let what = format!("{}, {}", family.label(), agent.name);
                let plan = assert_whole(&facts, &options, &what);
                assert!(
                    plan.bath.percent > 0.0 && plan.bath.useful_mg > 0.0,
                    "{what}: a bath without acid"
                );
            }
        });
    }
}

#[test]
fn every_small_work_is_guided_asked_for_and_ticked_off() {
    assert_apart("works", Job::ALL.iter().map(|job| job.name()));
    for job in Job::ALL {
        assert!(!job.done().is_empty() && !job.key().is_empty(), "{job:?}");
        let families: Vec<Family> = Family::ALL
            .into_iter()
            .filter(|family| with(*family, |facts| job.fits(facts.brewer)))
            .collect();
        assert!(!families.is_empty(), "{}: no brewer has it", job.name());
        for family in families {
            with(family, |facts| {
                assert!(
                    Asks::All.wants(*job, facts.brewer),
                    "{}: never asked for",
                    job.name()
                );
                let every = facts.brewer.cadence(*job).text(*job, facts.brewer, None);
                assert!(!every.is_empty(), "{}: how often is not said", job.name());
                let work = if *job == Job::Needles {
                    Work::Needles
                } else {
                    Work::Upkeep
                };
                let options = PlanOptions {
                    work,
                    job: (work == Work::Upkeep).then_some(*job),
                    ..PlanOptions::default()
                };
                // A work for pods is done on the side that takes them.
                let mut sides = facts.brewer.circuits.iter();
                let circuit = sides.find(|circuit| {
                    let side = Facts {
                        circuit,
                        ..facts.clone()
                    };
                    side.plan(&options).is_ok()
                });
                let facts = &Facts {
                    circuit: circuit.unwrap_or(facts.circuit),
                    ..facts.clone()
                };
                let what = format!("{}: {}", family.label(), job.name());
                assert_whole(facts, &options, &what);
            });
        }
    }
    assert_apart("supplies", SupplyKind::ALL.iter().map(|kind| kind.words()));
    let drawn: BTreeSet<_> = Job::ALL
        .iter()
        .filter_map(|job| SupplyKind::of(*job))
        .map(SupplyKind::words)
        .collect();
    for kind in SupplyKind::ALL {
        assert_eq!(
            drawn.contains(kind.words()),
            kind != SupplyKind::Other,
            "{}",
            kind.words()
        );
    }
}

#[test]
fn every_sign_and_every_cause_leads_somewhere() {
    assert_apart("signs", SIGNS.iter().map(|sign| sign.question));
    assert_apart("causes", Cause::ALL.iter().map(|cause| cause.words()));
    for sign in &SIGNS {
        assert!(
            Cause::ALL.iter().any(|cause| sign.shows(*cause)),
            "{}: shows no cause",
            sign.id
        );
        let seen = [(sign.id.to_owned(), true)].into();
        let found = diagnose(&seen, &Default::default()).unwrap();
        assert!(!found.causes.is_empty(), "{}", sign.id);
    }
    for cause in Cause::ALL {
        let is_nothing = cause == Cause::Nothing;
        assert_eq!(
            SIGNS.iter().any(|sign| sign.shows(cause)),
            !is_nothing,
            "{}",
            cause.words()
        );
    }
}

/// What a good clean of a pod brewer comes to when one question is answered so.
fn verdict_of(question: QuestionId, answer: AnswerId) -> Verdict {
    let mut run = Run::new(Family::PodReservoir);
    run.on();
    let mut answers = murlo_clean::fixtures::answers_with(&[], &[]);
    answers.insert(question, answer);
    run.tell(&answers).verdict.expect("a verdict")
}

#[test]
fn every_question_is_asked_and_its_bad_answer_decides_something() {
    assert_apart(
        "questions",
        QuestionId::ALL.iter().map(|question| question.id()),
    );
    let mut asked: BTreeMap<QuestionId, Vec<AnswerId>> = BTreeMap::new();
    for family in Family::ALL {
        with(family, |facts| {
            for step in &assert_whole(facts, &PlanOptions::default(), family.label()).steps {
                let Doing::Ask { questions } = &step.doing else {
                    continue;
                };
                for question in questions {
                    assert!(question.text.ends_with('?'), "{}", question.text);
                    let answers = question.answers.iter().map(|answer| answer.id);
                    asked.entry(question.id).or_default().extend(answers);
                }
            }
        });
    }
    for question in QuestionId::ALL {
        let answers = asked.get(&question);
        let answers = answers.unwrap_or_else(|| panic!("{}: nobody asks it", question.id()));
        // What the bath brought only teaches; how it was smelled decides with the smell.
        if matches!(question, QuestionId::Showed | QuestionId::Nose) {
            continue;
        }
        assert!(answers.contains(&AnswerId::Bad), "{}", question.id());
        assert_eq!(
            verdict_of(question, AnswerId::Good),
            Verdict::Good,
            "{}",
            question.id()
        );
        assert_ne!(
            verdict_of(question, AnswerId::Bad),
            Verdict::Good,
            "{}",
            question.id()
        );
    }
    assert_eq!(
        verdict_of(QuestionId::Nose, AnswerId::Tired),
        Verdict::SmellAgain
    );
}

#[test]
fn every_mishap_is_met_and_answered_and_every_kind_of_step_is_planned() {
    let mut kinds = BTreeSet::new();
    let mut met = BTreeMap::new();
    for family in Family::ALL {
        let mut run = Run::new(family);
        loop {
            let state = run.state();
            for mishap in mishaps(&run.plan, &state) {
                let said = [&mishap.what, &mishap.counts, &mishap.again, &mishap.inside];
                assert!(said.iter().all(|text| !text.is_empty()), "{}", mishap.id);
                met.insert(mishap.id, mishap.what);
            }
            let judges = state
                .step
                .as_ref()
                .is_some_and(|step| step.is(Kind::Verify));
            if state.closed.is_some() {
                break;
            }
            match state.next {
                Some(next) => run.act(next.act).map(drop).unwrap(),
                None if judges => drop(run.answer(&[])),
                None => drop(run.look(AnswerId::Chalk, AnswerId::Good)),
            }
        }
        with(family, |facts| {
            let jobs = Job::ALL.iter().filter(|job| job.fits(facts.brewer));
            let works = jobs.map(|job| PlanOptions {
                work: Work::Upkeep,
                job: Some(*job),
                ..PlanOptions::default()
            });
            let needles = PlanOptions {
                work: Work::Needles,
                ..PlanOptions::default()
            };
            for options in works.chain([PlanOptions::default(), needles]) {
                if let Ok(plan) = facts.plan(&options) {
                    kinds.extend(
                        plan.steps
                            .iter()
                            .filter_map(|step| step.kind())
                            .map(Kind::id),
                    );
                }
            }
        });
    }
    assert_apart("mishaps", met.values().map(String::as_str));
    // A hot-water outlet, a holder that stays whole and a filter that soaks are told of a brewer; the rest follows them.
    let planned_elsewhere = [Kind::HotWater, Kind::HolderSoak, Kind::FilterSoak];
    for kind in Kind::ALL {
        let elsewhere = planned_elsewhere.contains(kind);
        assert!(
            kinds.contains(kind.id()) || elsewhere,
            "{}: no plan has such a step",
            kind.id()
        );
    }
}

#[test]
fn every_lid_needle_is_drawn_and_cleared() {
    for lid in LidNeedle::ALL {
        let needles = Needle::with_lid(Family::PodReservoir, lid);
        assert!(!needles.is_empty());
        let spots = needles.iter().flat_map(Needle::spots).count();
        assert!(spots > 0, "{lid:?}: nothing to clear");
    }
    let mut run = Run::new(Family::PodReservoir);
    run.until(Kind::Needles.id());
    let needles = run.plan.steps.iter().find_map(|step| match &step.doing {
        Doing::Clear { needles } => Some(needles.clone()),
        Doing::Once
        | Doing::Count { .. }
        | Doing::Wait { .. }
        | Doing::Ask { .. }
        | Doing::Measure { .. } => None,
    });
    for spot in needles.unwrap().iter().flat_map(Needle::spots) {
        let step = Kind::Needles.id().to_owned();
        run.act(Act::Cleared {
            step,
            spot,
            clear: true,
        })
        .unwrap();
    }
}

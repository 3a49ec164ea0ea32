//! Everyday brewers and their plans, for the tests of this crate and of those above it.

use crate::pace::Pace;
use crate::{Correction, Facts, Moment, Plan, PlanOptions, Stage, Today, Wish};
use jiff::civil::date;
use murlo_base::days::days_after;
use murlo_base::problem::{Problem, Problems};
use murlo_base::units::{HardnessUnit, Units};
use murlo_brewer::bath::Agent;
use murlo_brewer::water::{Chemistry, Reading, Waters};
use murlo_brewer::{BrewerDraft, Family};
use murlo_chalk::money::Terms;
use murlo_chalk::scale::{Growth, Known, Start};

/// A plan for a template brewer on hard water, ninety days after its last clean.
pub fn plan(family: Family, options: &PlanOptions) -> Result<Plan, Problems> {
    with_facts(family, 180.0, 90, |facts| facts.plan(options))
}

/// The same for a household with a pace of its own.
pub fn paced(family: Family, options: &PlanOptions, pace: &Pace) -> Result<Plan, Problems> {
    with_facts(family, 180.0, 90, |facts| {
        let mut facts = facts.clone();
        facts.today.pace = pace.clone();
        facts.plan(options)
    })
}

/// What is planned on such a brewer once `wish` is granted; `told` are the facts that were told of it before.
pub fn further(
    family: Family,
    told: &[Correction],
    moment: &Moment,
    wish: &Wish,
) -> Result<Stage, Problem> {
    with_facts(family, 180.0, 90, |facts| {
        let mut brewer = facts.brewer.clone();
        let now = if let Wish::Corrected { fact } = wish {
            Some(fact)
        } else {
            None
        };
        for fact in told.iter().chain(now) {
            fact.tell(&mut brewer, &facts.circuit.id, Units::Us);
        }
        let circuit = brewer.circuits.iter().find(|c| c.id == facts.circuit.id);
        Facts {
            brewer: &brewer,
            circuit: circuit.unwrap(),
            ..facts.clone()
        }
        .further(moment, wish)
    })
}

/// The usual plan of a brewer of which `tell` says more.
pub fn plan_of(family: Family, tell: impl FnOnce(&mut BrewerDraft)) -> Plan {
    plan_with(family, tell, &PlanOptions::default())
}

/// The plan for `options` of a brewer of which `tell` says more.
pub(crate) fn plan_with(
    family: Family,
    tell: impl FnOnce(&mut BrewerDraft),
    options: &PlanOptions,
) -> Plan {
    with_told(family, 180.0, 90, tell, |facts| {
        facts.plan(options).unwrap()
    })
}

/// Asks of a template brewer on water of that hardness, so many days after its last clean.
pub(crate) fn with_facts<T>(
    family: Family,
    hardness: f64,
    days: i32,
    ask: impl FnOnce(&Facts) -> T,
) -> T {
    with_told(family, hardness, days, |_| {}, ask)
}

/// The same of a brewer of which `tell` says more.
pub fn with_told<T>(
    family: Family,
    hardness: f64,
    days: i32,
    tell: impl FnOnce(&mut BrewerDraft),
    ask: impl FnOnce(&Facts) -> T,
) -> T {
    let start = date(2026, 6, 1);
    let mut draft = BrewerDraft {
        nickname: "Lamp-room pod".into(),
        ..BrewerDraft::template(family, Units::Us, "h", "w", start)
    };
    tell(&mut draft);
    let brewer = draft.check("b".into(), None, start).unwrap();
    let reading = Reading::Strip {
        value: hardness,
        unit: HardnessUnit::MgPerL,
    };
    let water = Chemistry::of(&reading, &Waters::new()).unwrap();
    let circuit = &brewer.circuits[0];
    let forecast = Growth::new(Known {
        brewer: &brewer,
        circuit,
        waters: &[water],
        start: Start::new(start),
        cleans: &[],
        entries: &[],
        logged: None,
        recall: None,
        today: days_after(start, days),
    })
    .forecast(Units::Us);
    let agents = Agent::starters();
    let terms = Terms::default();
    ask(&Facts {
        brewer: &brewer,
        circuit,
        forecast: &forecast,
        agents: &agents,
        units: Units::Us,
        terms: &terms,
        today: Today::default(),
    })
}

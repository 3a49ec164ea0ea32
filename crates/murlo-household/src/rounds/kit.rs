//! What one carries to a visit: amounts summed, everything else once.

use crate::stock::{Supply, SupplyKind};
use murlo_base::units::Units;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Bottle;
use murlo_brewer::job::Job;
use murlo_plan::{Plan, Work};
use serde::Serialize;
use std::collections::{BTreeMap, HashMap};

/// A line of the list.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct KitLine {
    /// "White vinegar: 1.4 L for 3 baths".
    pub what: String,
    /// "there are 2.3 L", "only 0.4 L is there"; nothing where nobody counted.
    pub there: Option<String>,
    /// Whether it is not enough.
    pub is_short: bool,
}

/// What there is in the cupboard.
#[derive(Clone, Copy)]
pub struct Stock<'a> {
    /// Agents with what is there of them now.
    pub agents: &'a [Agent],
    /// What is counted by the piece.
    pub supplies: &'a [Supply],
    /// What is there of a supply, by its id; absent where nobody counted.
    pub pieces: &'a HashMap<String, f64>,
    /// Units to read.
    pub units: Units,
}

/// What the baths of several plans take of one agent, mL or g.
#[derive(Default)]
struct BathSum {
    planned: f64,
    likely: f64,
    baths: u32,
    further: u32,
    theirs: u32,
}

/// By agent; what other people have is not counted with one's own.
fn baths_of<'p>(plans: &[&'p Plan]) -> BTreeMap<&'p str, BathSum> {
    let mut all: BTreeMap<&str, BathSum> = BTreeMap::new();
    for plan in plans.iter().filter(|plan| plan.work == Work::Descale) {
        let Some(amount) = plan.agent_amount() else {
            continue;
        };
        let sum = all.entry(&plan.chosen.agent_id).or_default();
        if plan.bottle == Bottle::Theirs {
            sum.theirs += plan.chosen.baths;
            continue;
        }
        let further = plan.likely_baths.saturating_sub(plan.chosen.baths);
        sum.planned += amount.number() * f64::from(plan.chosen.baths);
        sum.likely += amount.number() * f64::from(plan.chosen.baths + further);
        sum.baths += plan.chosen.baths;
        sum.further += further;
    }
    all
}

/// The kit of these plans.
#[must_use]
pub fn kit(plans: &[&Plan], stock: Stock) -> Vec<KitLine> {
    let mut lines = Vec::new();
    let agent_of = |id: &str| stock.agents.iter().find(|agent| agent.id == id);
    for (id, sum) in baths_of(plans) {
        let Some(agent) = agent_of(id) else { continue };
        let told = |number| agent.amount_text(agent.amount(number), stock.units);
        if sum.theirs > 0 {
            lines.push(KitLine {
                what: format!("{}: from their own bottle", agent.name),
                there: None,
                is_short: false,
            });
        }
        if sum.baths == 0 {
            continue;
        }
        let needs = |number| {
            agent
                .there()
                .is_some_and(|there| there < agent.amount(number))
        };
        let mut what = format!("{}: {}", agent.name, told(sum.planned));
        if sum.baths > 1 {
            what += &format!(" for {} baths", sum.baths);
        }
        match sum.further {
            0 => {}
            1 => what += &format!(", or {} with one more that is likely", told(sum.likely)),
            n => what += &format!(", or {} with {n} more that are likely", told(sum.likely)),
        }
        let is_short = needs(sum.planned);
        lines.push(KitLine {
            what,
            there: agent.there().map(|there| {
                let there = agent.amount_text(there, stock.units);
                match (is_short, needs(sum.likely)) {
                    (true, _) => format!("only {there} is in the cupboard"),
                    (false, true) => format!("{there} is in the cupboard: not enough for more"),
                    (false, false) => format!("{there} is in the cupboard"),
                }
            }),
            is_short,
        });
    }
    let agents = stock.agents;
    let mut others: Vec<(&str, u32)> = Vec::new();
    for line in plans.iter().flat_map(|plan| &plan.kit) {
        let is_agent = agents
            .iter()
            .any(|agent| line.starts_with(&format!("{}:", agent.name)));
        if is_agent {
            continue;
        }
        match others.iter_mut().find(|(known, _)| known == line) {
            Some((_, times)) => *times += 1,
            None => others.push((line, 1)),
        }
    }
    lines.extend(others.into_iter().map(|(line, times)| KitLine {
        // What is used up is needed for each; a bowl serves all of them.
        what: match line.starts_with("A new ") && times > 1 {
            true => format!("{line}, {times} of them"),
            false => line.to_owned(),
        },
        there: None,
        is_short: false,
    }));
    lines
}

/// What is to be bought for these plans, likely further baths among them, because there is less of it; nothing of what nobody
/// counted.
#[must_use]
pub fn shopping(plans: &[&Plan], stock: Stock) -> Vec<String> {
    let baths = baths_of(plans).into_iter().filter_map(|(id, sum)| {
        let agent = stock.agents.iter().find(|agent| agent.id == id)?;
        let there = agent.there()?.number();
        let told = |number| agent.amount_text(agent.amount(number), stock.units);
        (sum.likely > there).then(|| {
            let more = told(sum.likely - there);
            format!(
                "{}: {more} more ({} is needed, {} is there)",
                agent.name,
                told(sum.likely),
                told(there)
            )
        })
    });
    let pieces = stock.supplies.iter().filter_map(|supply| {
        let uses = |plan: &&&Plan| {
            let job = match plan.work {
                Work::Needles => Some(Job::Needles),
                Work::Upkeep => plan.job,
                Work::Descale | Work::Rehearsal => None,
            };
            job.and_then(SupplyKind::of) == Some(supply.kind)
        };
        let needed = plans.iter().filter(uses).count() as f64;
        let there = stock.pieces.get(&supply.id)?;
        (needed > *there).then(|| {
            format!(
                "{}: {} more ({needed} needed, {there} there)",
                supply.name,
                needed - there
            )
        })
    });
    baths.chain(pieces).collect()
}

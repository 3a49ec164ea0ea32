//! What one carries to a visit: amounts summed, everything else once.

use murlo_base::units::Units;
use murlo_brewer::bath::Agent;
use murlo_plan::{Plan, Work};
use serde::Serialize;
use std::collections::BTreeMap;

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

/// The kit of these plans; `agents` with what is there of them now.
#[must_use]
pub fn kit(plans: &[&Plan], agents: &[Agent], units: Units) -> Vec<KitLine> {
    let mut lines = Vec::new();
    let mut baths_of: BTreeMap<&str, (f64, u32)> = BTreeMap::new();
    for plan in plans.iter().filter(|plan| plan.work == Work::Descale) {
        if let Some(amount) = plan.agent_amount() {
            let sum = baths_of.entry(&plan.chosen.agent_id).or_default();
            sum.0 += amount.number() * f64::from(plan.chosen.baths);
            sum.1 += plan.chosen.baths;
        }
    }
    for (id, (number, baths)) in baths_of {
        let Some(agent) = agents.iter().find(|agent| agent.id == id) else {
            continue;
        };
        let amount = agent.amount(number);
        let told = |amount| agent.amount_text(amount, units);
        let is_short = agent.there().is_some_and(|there| there < amount);
        lines.push(KitLine {
            what: match baths {
                1 => format!("{}: {}", agent.name, told(amount)),
                n => format!("{}: {} for {n} baths", agent.name, told(amount)),
            },
            there: agent.there().map(|there| match is_short {
                true => format!("only {} is in the cupboard", told(there)),
                false => format!("{} is in the cupboard", told(there)),
            }),
            is_short,
        });
    }
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

//! Work that is planned while a clean runs: a further bath, the needles once more, the rest after a fact was put right.
//!
//! A stage is planned when it is wanted, from what is known then, and frozen in the event that adds it.

use super::kind::Numbers;
use super::steps;
use super::{Chosen, Dispensing, Doing, Kind, Plan, Step};
use crate::correction::Correction;
use crate::machine::Mechanism;
use crate::poured_so::{ByEye, PouredSo};
use murlo_base::problem::Problems;
use murlo_base::{bounds, document};
use murlo_brewer::bath::{Mixed, Recipe, Soak};
use murlo_brewer::instruction::Thing;
use murlo_brewer::rinse::Rinse;
use murlo_chalk::scale::Chalk;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeSet, HashMap};

/// What is wished for while a clean runs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Wish {
    /// A further bath.
    Bath {
        /// The agent.
        agent_id: String,
        /// The recipe.
        recipe: Recipe,
    },
    /// The needles once more.
    Needles,
    /// Rinsing out what is inside, whatever was still to do: the short way out of a bath, or on from a rinse that was ended early.
    Rinse,
    /// The rest, as it is with this fact of the brewer.
    Corrected {
        /// The fact.
        fact: Correction,
    },
    /// The rest of a bath that was poured otherwise than planned.
    Poured {
        /// What is in.
        so: PouredSo,
        /// How it looks, where nobody measured it; the amounts are then empty.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        by_eye: Option<ByEye>,
    },
}

/// What was planned in a running clean. It takes the place of all that was still to do.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stage {
    /// Steps from here to the end.
    pub steps: Vec<Step>,
    /// Whether the step at which it was wished for is among them, and not done with it.
    pub from_here: bool,
    /// The bath that is in the machine then.
    pub bath: Mixed,
    /// Its dispenses.
    pub dispensing: Dispensing,
    /// Its soak.
    pub soak: Soak,
    /// Its rinse, from the strongest acid that the machine still holds.
    pub rinse: Rinse,
    /// What was chosen.
    pub chosen: Chosen,
    /// Chalk that is likely left after it.
    #[serde(default)]
    pub after: Option<Chalk>,
    /// The side as the simulated brewer knows it then.
    pub mechanism: Mechanism,
}

impl Stage {
    /// Checks a stage that comes from outside.
    ///
    /// # Errors
    /// One problem per impossible figure or text, by its place.
    pub fn check(&self) -> Result<(), Problems> {
        let value = serde_json::to_value(self);
        let mut problems = Problems::default();
        problems.note(value.map_or(Ok(()), |value| document::check(&value)));
        problems.note(self.rinse.check("rinse"));
        problems.note(bounds::PER_CENT.check("bath.percent", self.bath.percent));
        problems.note(super::shape::check_steps(&self.steps));
        problems.or(Some(()))
    }

    /// Puts it in the place of every step of `plan` that is not kept.
    pub fn extend(&self, plan: &mut Plan, keeps: impl Fn(usize) -> bool) {
        let mut i = 0;
        plan.steps.retain(|_| {
            i += 1;
            keeps(i - 1)
        });
        plan.steps.extend(self.steps.iter().cloned());
        plan.bath = self.bath.clone();
        plan.dispensing = self.dispensing.clone();
        plan.soak = self.soak.clone();
        plan.rinse = self.rinse.clone();
        plan.chosen = self.chosen.clone();
        plan.after = self.after.clone();
        plan.mechanism = Some(self.mechanism.clone());
        plan.ribbon = super::ribbon::ribbon(&plan.steps);
    }
}

/// Where a clean stands when something is wished for.
#[derive(Debug, Clone, Copy)]
pub struct Moment<'a> {
    /// The plan with everything that was added to it.
    pub plan: &'a Plan,
    /// The current step.
    pub at: usize,
    /// Which steps are done.
    pub done: &'a [bool],
    /// Which were not done but left out, by their ids.
    pub left_out: &'a BTreeSet<String>,
    /// Which were begun, by their ids, in that order.
    pub order: &'a [String],
    /// What each has counted.
    pub counts: &'a [u32],
    /// Whether anything was done of the current step.
    pub begun: bool,
    /// Which bath this is, from 1.
    pub round: u32,
    /// Acid inside, mg/L, as far as rinses have thinned it.
    pub acid_mg_l: f64,
}

impl Moment<'_> {
    /// The current step, or the last once all are done.
    pub(crate) fn step(&self) -> &Step {
        &self.plan.steps[self.at.min(self.plan.steps.len() - 1)]
    }

    /// Steps that stay as they were done.
    pub fn keeps(&self, i: usize, from_here: bool) -> bool {
        self.done[i] || i < self.at || (i == self.at && !from_here)
    }

    /// What the steps that stay put in for the bath to pass, and did not take out again.
    pub(crate) fn left_in(&self, from_here: bool) -> Vec<Thing> {
        self.still_in(from_here)
            .into_iter()
            .filter(|thing| thing.lets_pass())
            .collect()
    }

    /// Everything that the steps which stay put in and did not take out again.
    pub(crate) fn still_in(&self, from_here: bool) -> Vec<Thing> {
        let steps = self.plan.steps.iter().enumerate();
        let kept = steps.filter(|(i, _)| self.keeps(*i, from_here));
        steps::in_after(&[], kept.flat_map(|(_, step)| &step.instructions))
    }

    /// The steps that were done, in the order in which they were begun, and how many each has counted.
    pub(crate) fn followed(&self) -> Vec<(usize, u32)> {
        let begun = self.order.iter();
        begun
            .filter(|id| !self.left_out.contains(*id))
            .filter_map(|id| self.plan.steps.iter().position(|step| step.id == *id))
            .filter(|i| self.done[*i])
            .map(|i| (i, self.counts[i]))
            .collect()
    }

    /// The numbers that steps which stay have.
    pub(crate) fn numbers(&self, from_here: bool) -> Numbers {
        let steps = self.plan.steps.iter().enumerate();
        let kept = steps.filter(|(i, _)| self.keeps(*i, from_here));
        Numbers::of(kept.map(|(_, step)| step.id.as_str()))
    }

    /// The number of the bath to which the step at which it stands belongs.
    pub(crate) fn bath(&self) -> u32 {
        let mix = self.bath_so_far().first().filter(|s| s.is(Kind::Mix));
        let number = mix.and_then(|mix| Kind::of(&mix.id));
        number.map_or(1, |(_, n)| n)
    }

    /// The steps of this bath up to the one at which it stands, its mixing first.
    fn bath_so_far(&self) -> &[Step] {
        let begun = &self.plan.steps[..self.plan.steps.len().min(self.at + 1)];
        let mix = begun.iter().rposition(|s| s.is(Kind::Mix));
        &begun[mix.unwrap_or(0)..]
    }

    /// Where in the steps of this bath, drawn up anew, the one is at which it stands; the look, where nothing is left to run.
    pub(crate) fn same_in(&self, all: &[Step]) -> Option<usize> {
        let kind = self.step().kind()?;
        let of_kind = |steps: &[Step]| steps.iter().filter(|s| s.is(kind)).count();
        let nth = of_kind(self.bath_so_far()).checked_sub(1)?;
        let mut same = (0..all.len()).filter(|i| all[*i].is(kind));
        let look = || (0..all.len()).find(|i| all[*i].is(Kind::Look));
        let is_over = || look().filter(|_| kind == Kind::Run);
        same.nth(nth).or_else(is_over)
    }

    /// The dispenses after which the bath soaks that runs.
    pub(crate) fn soaked_after(&self) -> Vec<u32> {
        let mut after = Vec::new();
        let mut pressed = 0;
        let first = self.at + 1 - self.bath_so_far().len().min(self.at + 1);
        for step in &self.plan.steps[first..] {
            match step.kind() {
                Some(Kind::Look | Kind::Wash) => break,
                Some(Kind::First | Kind::HotWater) => pressed += 1,
                Some(Kind::Soak) => after.push(pressed),
                _ => {}
            }
            if let (true, Doing::Count { target }) = (step.is(Kind::Run), &step.doing) {
                pressed += target;
            }
        }
        after
    }

    /// The strongest acid that has not been rinsed out yet, mg/L.
    pub(crate) fn unrinsed_mg_l(&self) -> f64 {
        let is_rinsed = self.step().is(Kind::Verify);
        match is_rinsed {
            true => 0.0,
            false => self.plan.rinse.level_mg_l(0),
        }
    }
}

/// Gives each step of a stage an id that no step has which stays.
pub(crate) fn number(moment: &Moment, steps: &mut [Step], from_here: bool) {
    let mut numbers = moment.numbers(from_here);
    let mut renamed = HashMap::new();
    for step in steps.iter_mut() {
        let Some((kind, n)) = Kind::of(&step.id) else {
            continue;
        };
        let id = kind.step_id(numbers.next(kind, n));
        renamed.insert(std::mem::replace(&mut step.id, id.clone()), id);
    }
    for during in steps.iter_mut().filter_map(|step| step.during.as_mut()) {
        if let Some(id) = renamed.get(during) {
            during.clone_from(id);
        }
    }
}

#[cfg(test)]
mod tests;

//! How far a clean is, act by act.

use super::bathing::BathsRun;
use super::seen::{Flow, Glass};
use super::{ClearingTool, Closed, FoundInside, Note, Outcome, PouredBath, Verdict};
use crate::act::unfit;
use jiff::{SignedDuration, Timestamp};
use murlo_base::problem::{Code, Problem};
use murlo_brewer::Spot;
use murlo_brewer::rinse::Counted;
use murlo_chalk::belief::Told;
use murlo_chalk::scale::FailedResult;
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::pace::Took;
use murlo_plan::{Doing, Kind, Plan, Step};
use std::collections::{BTreeMap, BTreeSet};

/// `minutes` after `at`; the end of time is no later than that.
pub(super) fn after(at: Timestamp, minutes: f64) -> Timestamp {
    let run = SignedDuration::from_secs((minutes * 60.0).round() as i64);
    at.checked_add(run).unwrap_or(Timestamp::MAX)
}

/// The last look, and how many steps had been begun by then: what is done after it changes what was found.
#[derive(Clone, Copy)]
pub(super) struct LastLook {
    pub found: FoundInside,
    pub begun: usize,
    pub was_in_mode: bool,
    /// What was found is being rinsed out.
    pub is_rinsed: bool,
}

#[derive(Default)]
pub(super) struct Progress {
    pub done: Vec<bool>,
    pub count: Vec<u32>,
    pub started: Vec<Option<Timestamp>>,
    /// When a timer ends, where that was read off the machine.
    pub ends: Vec<Option<Timestamp>>,
    pub more_rinses: u32,
    pub round: u32,
    /// Times the plan's own steps came again, as they did before further baths were planned when they are wanted.
    pub loops: u32,
    /// Whether this round's bath was soaked.
    pub soaked: bool,
    /// Minutes that this round's bath really soaked, once it has.
    pub soaked_min: Option<f64>,
    /// Each bath as it was poured.
    pub poured: Vec<PouredBath>,
    /// When the last bath was poured in.
    pub poured_at: Option<Timestamp>,
    /// Who says that it may be drunk from although acid was left.
    pub vouched_by: Option<String>,
    pub light_reset: bool,
    pub cleared_again: bool,
    pub verdict: Option<Verdict>,
    pub reason: String,
    /// How much chalk came out, as told: the most of several baths.
    pub brought: Option<Told>,
    /// Whether chips came with any bath.
    pub bits: bool,
    /// A result that was not good enough: what was seen, and after how many baths.
    pub failed: Option<FailedResult>,
    /// The last answers that were given.
    pub answered: BTreeMap<QuestionId, AnswerId>,
    pub nose_rested: bool,
    pub overrules: Vec<String>,
    /// Rinses after which the machine asked for water.
    pub refilled_at: Vec<u32>,
    pub bath_counted: Option<Counted>,
    /// Dispenses that the first fill of the rinse gave, where that can be.
    pub fill_counted: Option<u32>,
    pub paused: bool,
    pub closed: Option<Closed>,
    pub outcome: Option<Outcome>,
    pub notes: Vec<Note>,
    /// When the last act was.
    pub last_at: Option<Timestamp>,
    /// Since when the hands have been at the current step; unknown after an interruption.
    pub at_it_since: Option<Timestamp>,
    /// How long steps took.
    pub took: Vec<Took>,
    pub glasses: Vec<Glass>,
    pub flow: Vec<Flow>,
    pub clear: BTreeSet<Spot>,
    /// Steps that were begun, in that order: what is done meanwhile comes earlier than the plan has it.
    pub order: Vec<String>,
    /// Steps that were not done.
    pub left_out: BTreeSet<String>,
    pub tool: Option<ClearingTool>,
    pub programme_min: Option<f64>,
    /// Whether somebody found acid in it before this clean had poured any.
    pub found_acid: bool,
    /// What somebody found who came back to it.
    pub last_look: Option<LastLook>,
    /// What the baths really did.
    pub bathing: BathsRun,
}

impl Progress {
    pub(super) fn new(plan: &Plan) -> Self {
        let n = plan.steps.len();
        // Who wants no soak is not asked to wait; a further bath soaks.
        let skipped = |s: &Step| s.is(Kind::Soak) && plan.chosen.soak_minutes <= 0.0;
        Self {
            done: plan.steps.iter().map(skipped).collect(),
            count: vec![0; n],
            started: vec![None; n],
            ends: vec![None; n],
            round: 1,
            ..Self::default()
        }
    }

    pub(super) fn current(&self) -> Option<usize> {
        self.done.iter().position(|done| !done)
    }

    pub(super) fn target(&self, plan: &Plan, i: usize) -> u32 {
        match plan.steps[i].doing {
            Doing::Count { target } => {
                let is_rinse = plan.steps[i].is(Kind::Rinse) && self.rinse_step(plan) == Some(i);
                target + if is_rinse { self.more_rinses } else { 0 }
            }
            Doing::Once
            | Doing::Wait { .. }
            | Doing::Ask { .. }
            | Doing::Clear { .. }
            | Doing::Measure { .. } => 0,
        }
    }

    /// The rinse that belongs to the bath which was mixed last.
    pub(super) fn rinse_step(&self, plan: &Plan) -> Option<usize> {
        let at = self.current().unwrap_or(plan.steps.len());
        let is_rinse = |i: &usize| plan.steps[*i].is(Kind::Rinse);
        let bath = self.bath_step(plan).unwrap_or(0);
        let last = (0..plan.steps.len().min(at + 1)).rfind(is_rinse);
        last.filter(|rinse| *rinse > bath)
            .or_else(|| (at..plan.steps.len()).find(is_rinse))
            .or(last)
    }

    /// Where the bath was mixed last, once it was.
    pub(super) fn bath_step(&self, plan: &Plan) -> Option<usize> {
        (0..plan.steps.len()).rfind(|i| self.done[*i] && plan.steps[*i].is(Kind::Mix))
    }

    /// Minutes the timer of a step runs.
    pub(super) fn wait_minutes(&self, plan: &Plan, i: usize) -> f64 {
        match plan.steps[i].doing {
            // Who wanted no soak and then needs one soaks as long as advised.
            Doing::Wait { minutes } if minutes <= 0.0 => plan.soak.minutes,
            Doing::Wait { minutes } => minutes,
            Doing::Once
            | Doing::Count { .. }
            | Doing::Ask { .. }
            | Doing::Clear { .. }
            | Doing::Measure { .. } => 0.0,
        }
    }

    /// When the timer of a step ends, once started.
    pub(super) fn ends_at(&self, plan: &Plan, i: usize) -> Option<Timestamp> {
        let run = self.wait_minutes(plan, i);
        self.ends[i].or_else(|| self.started[i].map(|at| after(at, run)))
    }

    /// Whether a step may be done now because the machine works alone meanwhile.
    pub(super) fn is_open_meanwhile(&self, plan: &Plan, i: usize) -> bool {
        let is_counted = |c: usize| matches!(plan.steps[c].doing, Doing::Count { .. });
        let waiting = self
            .current()
            .filter(|c| self.started[*c].is_some() || is_counted(*c));
        !self.done[i]
            && waiting.is_some_and(|c| plan.steps[i].during.as_ref() == Some(&plan.steps[c].id))
    }

    /// The step the act names, when it is the current one or may be done meanwhile.
    pub(super) fn at(&self, plan: &Plan, step: &str) -> Result<usize, Problem> {
        let Some(current) = self.current() else {
            return Err(unfit("every step is done: finish the clean"));
        };
        let named = plan.steps.iter().position(|s| s.id == step);
        match named {
            Some(i) if i == current || self.is_open_meanwhile(plan, i) => Ok(i),
            Some(_) => Err(unfit(format!(
                "the clean is at \"{}\" now, not at \"{step}\": nothing was changed",
                plan.steps[current].title
            ))),
            None => Err(Problem::new(
                Code::UnknownId,
                "act.step",
                format!("no step \"{step}\" in this plan"),
            )),
        }
    }

    /// Whether the machine can ask for water now: any time in a bath, and after a count in a rinse.
    pub(super) fn may_want_water(&self, plan: &Plan, i: usize) -> bool {
        let since = self.refilled_at.last().copied().unwrap_or(0);
        let step = &plan.steps[i];
        step.is(Kind::Run) || (step.is(Kind::Rinse) && self.count[i] > since)
    }
}

/// The steps of the bath at whose step `i` it stands that come before it.
pub(super) fn in_this_bath(plan: &Plan, i: usize) -> impl Iterator<Item = usize> {
    let mix = (0..i).rfind(|j| plan.steps[*j].is(Kind::Mix));
    mix.unwrap_or(0)..i
}

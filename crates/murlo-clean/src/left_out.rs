//! Steps that somebody leaves out: only what nothing after it needs, and the log says so.

use super::progress::Progress;
use super::{Act, Choice};
use crate::act::unfit;
use murlo_base::problem::Problem;
use murlo_plan::rehearse::{rest, stands_after};
use murlo_plan::{Kind, Plan, Step, Work, left_out_with};

impl Progress {
    /// Whether somebody has done what the step says, or begun to.
    pub(super) fn was_followed(&self, plan: &Plan, i: usize) -> bool {
        let begun = self.done[i] || self.count[i] > 0 || self.started[i].is_some();
        begun && !self.left_out.contains(&plan.steps[i].id)
    }

    /// The steps that were followed, in the order in which they were begun, and how many each has counted.
    pub(super) fn followed(&self, plan: &Plan) -> Vec<(usize, u32)> {
        let steps = &plan.steps;
        let begun = self.order.iter();
        begun
            .filter_map(|id| steps.iter().position(|step| step.id == *id))
            .filter(|i| self.was_followed(plan, *i))
            .map(|i| (i, self.count[i]))
            .collect()
    }

    /// Keeps which step was begun after which.
    pub(super) fn keep_order(&mut self, plan: &Plan) {
        // A soak that nobody wanted counts as done from the start, and was never begun.
        let is_done = |i: usize| self.done[i] && !plan.steps[i].is(Kind::Soak);
        let begun = |i: usize| is_done(i) || self.count[i] > 0 || self.started[i].is_some();
        let steps = plan.steps.iter().enumerate();
        let now: Vec<&String> = steps
            .filter(|(i, _)| begun(*i))
            .map(|(_, s)| &s.id)
            .collect();
        self.order.retain(|id| now.contains(&id));
        for id in now {
            if !self.order.contains(id) {
                self.order.push(id.clone());
            }
        }
    }

    /// Whether the rest goes as well without step `i`: the simulated brewer runs it without.
    fn may_leave_out(&self, plan: &Plan, i: usize) -> bool {
        let step = &plan.steps[i];
        let untouched = !self.was_followed(plan, i);
        let spared = step.kind().is_some_and(Kind::is_spared);
        let Some(mechanism) = &plan.mechanism else {
            return false;
        };
        let in_work = match plan.work {
            Work::Descale => true,
            // Where nothing comes there is no cup to time.
            Work::Needles => step.is(Kind::Before),
            Work::Rehearsal | Work::Upkeep => false,
        };
        if !in_work || !spared || !untouched {
            return false;
        }
        let with_it = left_out_with(&plan.steps, i);
        let machine = stands_after(mechanism, plan, self.followed(plan));
        let waiting = plan.steps.iter().enumerate();
        let waiting = waiting.filter(|(n, _)| !with_it.contains(n) && !self.done[*n]);
        let waiting: Vec<Step> = waiting.map(|(_, step)| step.clone()).collect();
        rest(machine, &waiting).is_ok()
    }

    /// Leaving the current step out, where that may be.
    pub(super) fn leaving_out(&self, plan: &Plan, i: usize) -> Option<Choice> {
        let step = plan.steps[i].id.clone();
        let fits = self.may_leave_out(plan, i);
        let label = match plan.steps[i].is(Kind::Before) {
            true => "Nothing comes",
            false => "Leave this out",
        };
        fits.then(|| Choice::new(label, Act::LeftOut { step }))
    }

    pub(super) fn leave_out(&mut self, plan: &Plan, step: &str) -> Result<(), Problem> {
        let i = self.at(plan, step)?;
        if !self.may_leave_out(plan, i) {
            let title = &plan.steps[i].title;
            return Err(unfit(format!(
                "\"{title}\" cannot be left out: what comes after it needs it"
            )));
        }
        for with_it in left_out_with(&plan.steps, i) {
            self.done[with_it] = true;
            self.left_out.insert(plan.steps[with_it].id.clone());
        }
        Ok(())
    }

    /// "Left out: wash the other parts".
    pub(super) fn left_out_text(&self, plan: &Plan) -> Option<String> {
        let steps = plan.steps.iter();
        let steps = steps.filter(|step| self.left_out.contains(&step.id) && !step.is(Kind::Cool));
        let titles: Vec<_> = steps.map(|step| step.title.to_lowercase()).collect();
        (!titles.is_empty()).then(|| format!("Left out: {}", titles.join(", ")))
    }
}

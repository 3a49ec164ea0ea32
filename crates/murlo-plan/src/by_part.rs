//! The parts of a clean that is spread over days, each planned against what the ones before it leave.

use crate::facts::Facts;
use crate::machine::Mechanism;
use crate::options::{PlanOptions, WayWish, Work};
use crate::over_days::NextPart;
use crate::rehearse::run;
use crate::shape::Plan;
use crate::worked::BathChoice;
use crate::{Kind, Step};
use murlo_base::problem::Problems;

/// What a later part does not do again, since it was done with the first one: as much as the brewer takes, more before less.
const DONE_BEFORE: [&[Kind]; 2] = [
    &[
        Kind::Others,
        Kind::Body,
        Kind::HolderSoak,
        Kind::Capsule,
        Kind::Needles,
        Kind::Flush,
    ],
    &[Kind::Others, Kind::Body, Kind::HolderSoak],
];

impl Facts<'_> {
    /// The part that `options` are planned as: the next one, where no bath is chosen.
    pub(crate) fn part_for(&self, options: &PlanOptions) -> Option<&NextPart> {
        let is_open =
            options.work == Work::Descale && !options.chooses_a_bath() && options.way.is_none();
        self.today.part.as_ref().filter(|_| is_open)
    }

    /// The plan of that part; what is advised, where its bath cannot be any more.
    pub(crate) fn plan_part(
        &self,
        next: &NextPart,
        options: &PlanOptions,
    ) -> Result<Plan, Problems> {
        let Ok(mut plan) = self.one_part(&next.over.options, options, next.at > 0) else {
            let advised = PlanOptions {
                way: Some(WayWish::Advised),
                ..options.clone()
            };
            return self.plan_as_chosen(&self.recommended(advised)?);
        };
        plan.part = Some(next.part());
        Ok(plan)
    }

    /// So many parts one after the other, each against what is left by then.
    ///
    /// # Errors
    /// Those of [`Facts::plan`].
    pub fn over_days(&self, options: &PlanOptions, parts: usize) -> Result<Vec<Plan>, Problems> {
        let mut forecast = self.forecast.clone();
        let mut plans: Vec<Plan> = Vec::new();
        for at in 0..parts {
            let facts = Facts {
                forecast: &forecast,
                ..self.clone()
            };
            let plan = facts.one_part(options, options, at > 0)?;
            if let Some(after) = &plan.after {
                forecast.chalk = after.clone();
            }
            plans.push(plan);
        }
        Ok(plans)
    }

    fn one_part(
        &self,
        bath: &PlanOptions,
        asked: &PlanOptions,
        is_later: bool,
    ) -> Result<Plan, Problems> {
        let options = PlanOptions {
            taste: asked.taste.or(bath.taste),
            minutes: asked.minutes,
            circuit_id: Some(self.circuit.id.clone()),
            baths: Some(1),
            ..bath.clone()
        };
        self.run_as_asked(&options, |facts| {
            let choice = facts.choose(&options, None)?;
            let plan = facts.draw_up(&options, &choice, 1);
            let plan = match is_later {
                true => facts
                    .without_what_was_done(&options, &choice)
                    .unwrap_or(plan),
                false => plan,
            };
            Ok(Plan {
                ladder: facts.ladder(&choice, &plan.bath),
                ..plan
            })
        })
    }

    /// The same without what was done with the first part, where the simulated brewer takes it.
    fn without_what_was_done(&self, options: &PlanOptions, choice: &BathChoice) -> Option<Plan> {
        let mut without = DONE_BEFORE.into_iter().map(|done_before| {
            let choice = BathChoice {
                done_before,
                ..choice.clone()
            };
            self.draw_up(options, &choice, 1)
        });
        without.find(|plan| {
            let mechanism = Mechanism::of(self.brewer, self.circuit, plan.rinse.target_mg_l);
            run(&mechanism, plan).is_ok()
        })
    }
}

/// Takes out what was done before; what was to cool for needles need not.
pub(crate) fn leave_out(steps: &mut Vec<Step>, done_before: &[Kind]) {
    if done_before.is_empty() {
        return;
    }
    let is_done = |step: &Step| step.kind().is_some_and(|kind| done_before.contains(&kind));
    let cools_for_them =
        done_before.contains(&Kind::Needles) && steps.iter().any(|s| s.is(Kind::Needles));
    let is_spared = |step: &Step| is_done(step) || (cools_for_them && step.is(Kind::Cool));
    steps.retain(|step| !is_spared(step));
    let ids: Vec<_> = steps.iter().map(|step| step.id.clone()).collect();
    for step in steps.iter_mut() {
        step.during = step.during.take().filter(|id| ids.contains(id));
    }
}

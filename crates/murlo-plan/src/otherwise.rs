//! A bath that was poured otherwise than planned: it is what it is, and everything after it is reckoned from that.

use crate::machine::Mechanism;
use crate::poured_so::{ByEye, PouredSo};
use crate::rehearse::stands_after;
use crate::stage::{Moment, Stage, number};
use crate::worked::Worked;
use crate::{Facts, Kind, Plan, PlanOptions};
use murlo_base::problem::{Code, Problem};
use murlo_brewer::bath::Mixed;
use murlo_brewer::instruction::Instruction;

impl Facts<'_> {
    /// The rest of a clean whose bath was poured so.
    pub(crate) fn poured_so(
        &self,
        moment: &Moment,
        options: &PlanOptions,
        (so, by_eye): (&PouredSo, Option<&ByEye>),
    ) -> Result<Stage, Problem> {
        let plan = moment.plan;
        let same_agent = so.agent_id == plan.chosen.agent_id;
        let agent_options = PlanOptions {
            percent: plan.chosen.percent.filter(|_| same_agent),
            ..options.clone()
        };
        let agent = self.agent(&agent_options)?;
        let choice = match by_eye {
            None => self.choose_said(&agent_options, &agent, so, "act.wish"),
            Some(eye) => self.choose_by_eye(&agent_options, eye, "act.wish.by_eye"),
        };
        let mut choice = choice.map_err(Problem::from)?;
        // Where it soaks was settled when the first dispense ran.
        let at_mix = moment.step().is(Kind::Mix);
        let soaks = moment.soaked_after();
        choice.soak_after = Some(soaks).filter(|after| !at_mix && !after.is_empty());
        let mut worked = self.work_out(&choice, 1, 0.0);
        let bath = moment.bath();
        if bath > 1 {
            // What an earlier bath left may be stronger.
            let start = worked.rinsing.start_mg_l.max(plan.rinse.level_mg_l(0));
            let rinsing = self.rinsing(&worked.agent, start, plan.chosen.taste);
            worked.rinse = self.rinse(&rinsing, &worked.agent.id, 0);
        }
        self.after_pouring(moment, worked, bath, !at_mix)
    }

    /// The steps after the pouring, from where it stands; they run on the simulated brewer as it stands.
    fn after_pouring(
        &self,
        moment: &Moment,
        worked: Worked,
        bath: u32,
        from_here: bool,
    ) -> Result<Stage, Problem> {
        let plan = moment.plan;
        let mut all = self.rest_of(moment, &worked, bath, from_here);
        let mixed = all.iter().position(|s| s.is(Kind::Mix));
        let mixed = mixed.map_or(0, |i| i + 1);
        let same = moment.same_in(&all).filter(|_| from_here);
        let mut steps = all.split_off(same.unwrap_or(mixed));
        number(moment, &mut steps, from_here);
        let stage = Stage {
            from_here,
            ..self.stage(worked, steps)
        };
        let mut seen = plan.clone();
        let mechanism = Mechanism::of(self.brewer, self.circuit, stage.rinse.target_mg_l);
        pour_into(&mut seen, moment.at, &stage.bath);
        let here = (!from_here).then_some((moment.at, 0));
        let followed = moment.followed().into_iter().chain(here);
        let machine = stands_after(&mechanism, &seen, followed);
        self.that_runs(&machine, stage).map_err(|why| {
            let message = format!(
                "the rest cannot be planned with that bath ({why}): pour it away and mix it as planned"
            );
            Problem::new(Code::DoesNotFit, "act.wish", message)
        })
    }
}

/// The last bath that was mixed up to step `at` is what was poured.
pub fn pour_into(plan: &mut Plan, at: usize, bath: &Mixed) {
    let until = plan.steps.len().min(at + 1);
    let mix = plan.steps[..until].iter_mut().rfind(|s| s.is(Kind::Mix));
    let Some(mix) = mix else { return };
    for instruction in &mut mix.instructions {
        if let Instruction::PourBath { ml, mg_l, .. } = instruction {
            (*ml, *mg_l) = (bath.total.ml, 10_000.0 * bath.percent);
        }
    }
}

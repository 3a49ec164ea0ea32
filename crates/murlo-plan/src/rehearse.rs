//! A plan from its first to its last instruction on the simulated brewer.

use crate::machine::{Harm, Machine, Mechanism};
use crate::{Doing, Plan, Step};
use murlo_brewer::instruction::Instruction;
use serde::{Deserialize, Serialize};

/// Where a plan would do harm.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fault {
    /// The step, or nothing when something was forgotten at the end.
    pub step: Option<String>,
    /// What would do it; nothing at the end.
    pub instruction: Option<Instruction>,
    /// What would happen.
    pub harm: Harm,
    /// The same for a person.
    pub text: String,
}

impl Fault {
    fn new(at: Option<(&Step, &Instruction)>, harm: Harm) -> Self {
        Self {
            step: at.map(|(step, _)| step.id.clone()),
            instruction: at.map(|(_, instruction)| instruction.clone()),
            harm,
            text: harm.words().to_owned(),
        }
    }
}

/// Runs `plan` on one side of a brewer: what may be done meanwhile is done as soon as it may be.
///
/// # Errors
/// The first instruction that would do harm, or what was forgotten at the end.
pub fn run<'a>(mechanism: &'a Mechanism, plan: &Plan) -> Result<Machine<'a>, Fault> {
    let machine = match plan.beside {
        true => Machine::beside(mechanism),
        false => Machine::in_use(mechanism),
    };
    run_on(machine, plan)
}

/// The same on a brewer that already stands in some way.
///
/// # Errors
/// As [`run`].
pub(crate) fn run_on<'a>(machine: Machine<'a>, plan: &Plan) -> Result<Machine<'a>, Fault> {
    rest(machine, &plan.steps)
}

/// The rest of a plan, on a brewer that has come so far.
///
/// # Errors
/// As [`run`].
pub fn rest<'a>(machine: Machine<'a>, steps: &[Step]) -> Result<Machine<'a>, Fault> {
    let mut walk = Walk {
        machine,
        watch: &mut |_, _| {},
    };
    walk.steps(steps)?;
    Ok(walk.machine)
}

/// The rest of a plan; `watch` sees each instruction and how the brewer stands before it.
#[cfg(any(test, feature = "fixtures"))]
pub fn watched<'a>(
    machine: Machine<'a>,
    steps: &[Step],
    watch: &mut dyn FnMut(&Instruction, &Machine<'a>),
) -> Result<Machine<'a>, Fault> {
    let mut walk = Walk { machine, watch };
    walk.steps(steps)?;
    Ok(walk.machine)
}

/// How a brewer stands after some of a plan: `followed` has the steps that were begun, in the order in which they were, and how
/// many each has counted. What would do harm is passed over; the person has seen to it.
#[must_use]
pub fn stands_after<'a>(
    mechanism: &'a Mechanism,
    plan: &Plan,
    followed: impl IntoIterator<Item = (usize, u32)>,
) -> Machine<'a> {
    let mut machine = match plan.beside {
        true => Machine::beside(mechanism),
        false => Machine::in_use(mechanism),
    };
    for (i, count) in followed {
        for instruction in plan.steps[i].acts(count) {
            // A wait is over by the clock, not by being followed.
            let _ = machine.follow(instruction);
        }
    }
    machine
}

/// A brewer and somebody who follows a plan on it; `watch` sees each instruction and how the brewer stands before it.
pub(super) struct Walk<'a, 'w> {
    pub machine: Machine<'a>,
    pub watch: &'w mut dyn FnMut(&Instruction, &Machine<'a>),
}

impl Walk<'_, '_> {
    pub fn steps(&mut self, steps: &[Step]) -> Result<(), Fault> {
        let mut done = vec![false; steps.len()];
        for (i, step) in steps.iter().enumerate() {
            if done[i] {
                continue;
            }
            let is_meanwhile = |n: &usize| steps[*n].during.as_ref() == Some(&step.id);
            let meanwhile: Vec<_> = (i + 1..steps.len()).filter(is_meanwhile).collect();
            let others: Vec<_> = meanwhile.iter().map(|n| &steps[*n]).collect();
            self.step(step, &others)?;
            meanwhile.into_iter().for_each(|n| done[n] = true);
        }
        let ready = self.machine.is_ready();
        ready.map_err(|harm| Fault::new(None, harm))
    }

    /// One step; `meanwhile` is done once its wait has begun.
    fn step(&mut self, step: &Step, meanwhile: &[&Step]) -> Result<(), Fault> {
        let mut waiting = meanwhile;
        for instruction in &step.instructions {
            if matches!(
                instruction,
                Instruction::Soak { .. } | Instruction::Cool { .. }
            ) {
                self.meanwhile(std::mem::take(&mut waiting))?;
            }
            self.all(step, std::slice::from_ref(instruction))?;
            if matches!(instruction, Instruction::Programme { .. }) {
                self.meanwhile(std::mem::take(&mut waiting))?;
            }
        }
        if let Doing::Count { target } = step.doing {
            for n in 0..target {
                if n.is_multiple_of(step.per_fill.max(1)) {
                    self.all(step, &step.at_fill)?;
                    if n > 0 {
                        self.all(step, &step.at_refill)?;
                    }
                }
                self.all(step, &step.each)?;
                self.meanwhile(std::mem::take(&mut waiting))?;
            }
        }
        self.machine.pass(step.hands_on_min);
        Ok(())
    }

    fn meanwhile(&mut self, steps: &[&Step]) -> Result<(), Fault> {
        steps.iter().try_for_each(|step| self.step(step, &[]))
    }

    fn all(&mut self, step: &Step, all: &[Instruction]) -> Result<(), Fault> {
        all.iter().try_for_each(|instruction| {
            (self.watch)(instruction, &self.machine);
            let followed = self.machine.follow(instruction);
            followed.map_err(|harm| Fault::new(Some((step, instruction)), harm))
        })
    }
}

#[cfg(test)]
mod tests;

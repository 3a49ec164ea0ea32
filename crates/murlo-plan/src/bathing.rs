//! The passes of bath that a plan makes, for working out what they leave.

use crate::{Doing, Kind, Step};
use murlo_brewer::bath::Mixed;
use murlo_brewer::instruction::Instruction;
use murlo_chemistry::cleaning::{Bath, Bathed, How, LAST_WAIT_MIN, PRESS_MIN, Pass, WAIT_MIN};

/// Whether the heater stays on while a step waits.
pub fn stays_on(step: &Step) -> bool {
    let off = |i: &Instruction| matches!(i, Instruction::SwitchOff | Instruction::Unplug);
    !step.instructions.iter().any(off)
}

/// How a bath of `total` mL goes through in one of `steps` that is done once, or in which `count` are counted; a programme apart.
pub fn passes_of(total: f64, steps: &[Step], step: &Step, count: u32) -> Vec<Pass> {
    let pass = |how, ml, minutes| Pass {
        how,
        ml,
        minutes,
        stood_min: 0.0,
        heated: true,
    };
    let in_bath = [Kind::First, Kind::HotWater, Kind::Half, Kind::Run];
    if !step.kind().is_some_and(|kind| in_bath.contains(&kind)) {
        return Vec::new();
    }
    let of = |instruction: &Instruction| match *instruction {
        Instruction::Press { ml, .. } | Instruction::PressHotWater { ml } => {
            Some(pass(How::Press, ml, PRESS_MIN))
        }
        Instruction::PauseAtFirstDrops => Some(pass(How::Cup, total, PRESS_MIN)),
        Instruction::BrewHalf { minutes } | Instruction::Brew { minutes } => {
            Some(pass(How::Half, total / 2.0, minutes))
        }
        Instruction::Unplug
        | Instruction::PlugIn
        | Instruction::SwitchOn
        | Instruction::SwitchOff
        | Instruction::LeaveOn
        | Instruction::OpenLid
        | Instruction::CloseLid
        | Instruction::TakeOut { .. }
        | Instruction::PutIn { .. }
        | Instruction::CloseOn { .. }
        | Instruction::PlaceVessel { .. }
        | Instruction::EmptyVessel
        | Instruction::EmptyReservoir
        | Instruction::LowerToFloat
        | Instruction::PourBath { .. }
        | Instruction::FillUp { .. }
        | Instruction::HaveWater { .. }
        | Instruction::EnterMode
        | Instruction::StillInMode
        | Instruction::LeaveMode
        | Instruction::Rearm
        | Instruction::Programme { .. }
        | Instruction::Purge
        | Instruction::Cool { .. }
        | Instruction::Soak { .. }
        | Instruction::Wash(_)
        | Instruction::ClearNeedles { .. }
        | Instruction::NoteOn
        | Instruction::NoteOff
        | Instruction::Mind { .. } => None,
    };
    // A one-cup brewer only pushes out what stands in it.
    let by_cup = steps
        .iter()
        .flat_map(|s| &s.instructions)
        .any(|i| *i == Instruction::PauseAtFirstDrops);
    let runs_out = by_cup && step.is(Kind::Run);
    step.acts(count)
        .filter(|_| !runs_out)
        .filter_map(of)
        .collect()
}

/// What the baths in `steps` do when they are carried out as they stand, all of them like `bath`.
#[must_use]
pub fn planned(steps: &[Step], bath: &Mixed) -> Option<Bathed> {
    let acid = bath.acid?;
    let total = bath.total.ml;
    let mut baths: Vec<Bath> = Vec::new();
    for step in steps {
        let last = |baths: &mut Vec<Bath>| baths.last_mut().and_then(|b| b.passes.pop());
        match step.kind() {
            Some(Kind::Rinse) => break,
            Some(Kind::Mix) => baths.push(Bath {
                g_per_l: Some(10.0 * bath.percent),
                passes: Vec::new(),
            }),
            Some(Kind::Soak) => {
                let soaked = last(&mut baths).map(|pass| Pass {
                    stood_min: pass.stood_min.max(step.hands_free_min),
                    heated: stays_on(step) || step.hands_free_min <= pass.stood_min,
                    ..pass
                });
                baths.last_mut()?.passes.extend(soaked);
            }
            _ => {
                let count = match step.doing {
                    Doing::Count { target } => target,
                    Doing::Once
                    | Doing::Wait { .. }
                    | Doing::Ask { .. }
                    | Doing::Clear { .. }
                    | Doing::Measure { .. } => 0,
                };
                let mut passes = passes_of(total, steps, step, count);
                if step.is(Kind::Programme) {
                    passes.push(Pass {
                        how: How::Programme,
                        ml: total,
                        minutes: step.hands_free_min,
                        stood_min: 0.0,
                        heated: true,
                    });
                }
                for pass in &mut passes {
                    pass.stood_min = match pass.how {
                        How::Press => WAIT_MIN,
                        How::Cup | How::Programme | How::Half => 0.0,
                    };
                }
                if let Some(bath) = baths.last_mut() {
                    bath.passes.extend(passes);
                }
            }
        }
    }
    // The path stands full while the reservoir is washed or filled anew.
    for pass in baths.iter_mut().filter_map(|bath| bath.passes.last_mut()) {
        if pass.how != How::Cup {
            pass.stood_min = pass.stood_min.max(LAST_WAIT_MIN);
        }
    }
    (!baths.is_empty()).then_some(Bathed { acid, baths })
}

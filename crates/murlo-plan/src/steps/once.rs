//! What is said once: nobody is told to plug in what is plugged in, or to close a lid that is closed.

use crate::Kind;
use crate::steps::draft::Draft;
use murlo_brewer::instruction::Instruction;

/// How the machine is known to stand; nothing where it may be either way.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
struct StandsSoFar {
    plugged: Option<bool>,
    on: Option<bool>,
    closed: Option<bool>,
}

impl StandsSoFar {
    /// Whether it is so already, and need not be said; everything else does something each time.
    fn is_so(self, act: &Instruction) -> bool {
        let says_how_it_stands = matches!(
            act,
            Instruction::Unplug
                | Instruction::PlugIn
                | Instruction::SwitchOn
                | Instruction::OpenLid
                | Instruction::CloseLid
        );
        let mut after = self;
        after.after(act);
        says_how_it_stands && after == self
    }

    fn after(&mut self, act: &Instruction) {
        match act {
            Instruction::Unplug => (self.plugged, self.on) = (Some(false), Some(false)),
            Instruction::PlugIn => self.plugged = Some(true),
            Instruction::SwitchOn => self.on = Some(true),
            Instruction::SwitchOff
            | Instruction::BrewHalf { .. }
            | Instruction::PauseAtFirstDrops => self.on = Some(false),
            Instruction::EnterMode => (self.plugged, self.on) = (Some(true), Some(true)),
            Instruction::OpenLid => self.closed = Some(false),
            Instruction::CloseLid | Instruction::CloseOn { .. } => self.closed = Some(true),
            // Many switch themselves off after a while, and a carafe brewer is switched on for each brew.
            Instruction::LeaveMode
            | Instruction::Programme { .. }
            | Instruction::Brew { .. }
            | Instruction::Purge
            | Instruction::Soak { .. }
            | Instruction::Cool { .. } => self.on = None,
            // What is poured or washed may lie under the lid.
            Instruction::EmptyReservoir
            | Instruction::LowerToFloat
            | Instruction::PourBath { .. }
            | Instruction::FillUp { .. }
            | Instruction::Rearm
            | Instruction::Wash(_)
            | Instruction::ClearNeedles { .. } => self.closed = None,
            Instruction::HaveWater { .. }
            | Instruction::TakeOut { .. }
            | Instruction::PutIn { .. }
            | Instruction::LeaveOn
            | Instruction::PlaceVessel { .. }
            | Instruction::EmptyVessel
            | Instruction::StillInMode
            | Instruction::Press { .. }
            | Instruction::PressHotWater { .. }
            | Instruction::NoteOn
            | Instruction::NoteOff
            | Instruction::Mind { .. } => {}
        }
    }
}

/// Takes out what is so already when its step comes. What is done meanwhile, or may be left out, leaves it open how the machine
/// stands; `unplugged_at` is a step during which the plug is pulled for work that was planned before.
pub(crate) fn say_once(drafts: &mut [Draft], unplugged_at: Option<String>) {
    let unplugged_at: Vec<String> = drafts
        .iter()
        .filter(|d| d.step.instructions.contains(&Instruction::Unplug))
        .filter_map(|d| d.step.during.clone())
        .chain(unplugged_at)
        .collect();
    let mut known = StandsSoFar::default();
    for draft in drafts.iter_mut().filter(|d| d.step.during.is_none()) {
        let kind = draft.kind();
        let step = &mut draft.step;
        step.instructions.retain(|act| {
            let is_new = !known.is_so(act);
            known.after(act);
            is_new
        });
        let counted = step.at_fill.iter().chain(&step.at_refill).chain(&step.each);
        counted.for_each(|act| known.after(act));
        let may_be_left_out = matches!(kind, Kind::Baseline | Kind::Before);
        if may_be_left_out || unplugged_at.contains(&step.id) {
            known = StandsSoFar::default();
        }
    }
}

//! A clean rehearsed with plain water: its steps without acid, and shorter.

use crate::steps::draft::Draft;
use crate::{Doing, Hazard, Inside, Kind, Step};
use murlo_brewer::instruction::{Instruction, Thing};

/// Most minutes of soak, and most of what is counted, in a rehearsal.
const REHEARSED_SOAK: f64 = 1.0;

const REHEARSED_COUNT: u32 = 2;

/// Whether an instruction of such a step is done with plain water too.
fn is_rehearsed(instruction: &Instruction, kind: Kind) -> bool {
    // The filter stays where it is, and nothing comes that a paper filter would catch.
    let is_filter = matches!(
        instruction,
        Instruction::PutIn {
            thing: Thing::Filter | Thing::PaperFilter,
            ..
        }
    );
    let is_note = matches!(instruction, Instruction::NoteOn | Instruction::NoteOff);
    // No hand goes inside before it is put back.
    let is_pulled = *instruction == Instruction::Unplug && kind == Kind::Ready;
    !(is_filter || is_note || is_pulled)
}

/// The same step with plain water.
pub(crate) fn rehearse(draft: &mut Draft) {
    let kind = draft.kind();
    let step = &mut draft.step;
    step.inside = Inside::Water;
    step.picture = None;
    step.during = None;
    step.cautions
        .retain(|c| !matches!(c.hazard, Hazard::Acid | Hazard::NeverMix));
    step.instructions.retain(|i| is_rehearsed(i, kind));
    for instruction in &mut step.instructions {
        if let Instruction::PourBath { mg_l, lines, .. } = instruction {
            *mg_l = 0.0;
            *lines =
                vec!["Plain water in place of the bath: as much as the bath would be.".to_owned()];
        } else if let Instruction::Soak { minutes } = instruction {
            *minutes = minutes.min(REHEARSED_SOAK);
        }
    }
    if kind == Kind::Rinse {
        // Nothing was washed in between: what is left of the water goes first.
        let may_unplug = step.instructions.contains(&Instruction::PlugIn);
        step.instructions.insert(0, Instruction::EmptyReservoir);
        if may_unplug {
            step.instructions.insert(0, Instruction::Unplug);
        }
        step.instructions.insert(0, Instruction::EmptyVessel);
    }
    match &mut step.doing {
        Doing::Wait { minutes } if kind == Kind::Soak => {
            *minutes = minutes.min(REHEARSED_SOAK);
            step.hands_free_min = *minutes;
            step.figure = None;
            step.what
                .push("In a rehearsal one minute is enough.".to_owned());
        }
        Doing::Count { target } => {
            *target = (*target).min(REHEARSED_COUNT);
            step.figure = None;
        }
        Doing::Once
        | Doing::Wait { .. }
        | Doing::Ask { .. }
        | Doing::Clear { .. }
        | Doing::Measure { .. } => {}
    }
    say_as_rehearsed(kind, step);
}

/// What is in is called what it is.
pub(crate) fn speak_of_water(step: &mut Step) {
    // Who fills in plain water is told that it stands for the bath.
    if step.is(Kind::Mix) {
        return;
    }
    let texts = [&mut step.title, &mut step.check, &mut step.mistake];
    let cautions = step.cautions.iter_mut().map(|c| &mut c.text);
    for text in texts.into_iter().chain(&mut step.what).chain(cautions) {
        *text = text
            .replace("ends the bath", "ends this run")
            .replace("fresh bath", "fresh water")
            .replace("hot acid", "hot water")
            .replace("The bath", "The water")
            .replace("bath", "water");
    }
}

/// The words of a step that are others with plain water.
fn say_as_rehearsed(kind: Kind, step: &mut Step) {
    if kind == Kind::Ready {
        step.act = "Empty and ready".to_owned();
        step.cautions.retain(|c| c.hazard != Hazard::Unplug);
    } else if kind == Kind::Mix {
        step.title = "Fill with plain water".to_owned();
        step.check = "Water stands in the reservoir, nothing else.".to_owned();
        step.act = "Water is in".to_owned();
        step.figure = None;
    } else if kind == Kind::Verify {
        step.title = "Do you know the buttons?".to_owned();
        step.instructions = vec![Instruction::mind(
            "Write down what was different: edit the button recipe of this brewer.",
        )];
        step.check = "You could do it again without looking.".to_owned();
        step.mistake =
            "Leaving the cleaning mode half-way: some brewers then refuse to brew.".to_owned();
        step.act = "Yes".to_owned();
        step.doing = Doing::Once;
        step.figure = None;
    }
}

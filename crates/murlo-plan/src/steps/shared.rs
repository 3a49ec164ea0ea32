//! What several ways of running a bath share: the soak, the end of the bath, the hot-water outlet.

use crate::Kind;
use crate::facts::Facts;
use crate::step::{Doing, Hazard, Inside, Picture, Place};
use crate::steps::draft::Draft;
use murlo_base::text;
use murlo_brewer::instruction::Instruction;
use murlo_brewer::{Meaning, Signal};

pub(crate) const HOT: &str = "Bath and steam come out near boiling. Keep hands and face away.";

/// The hot-water outlet has a way of its own: one cup of the bath goes through it.
pub(crate) fn hot_water(facts: &Facts, before: Vec<Instruction>) -> Draft {
    let ml = facts.cup_ml();
    Draft::new(Kind::HotWater, "Through the hot-water outlet")
        .does(before)
        .does([
            Instruction::EmptyVessel,
            Instruction::PlaceVessel { holds_ml: ml },
            Instruction::PressHotWater { ml },
            Instruction::EmptyVessel,
        ])
        .check(
            "One cup of bath came from the hot-water outlet.",
            "Leaving that outlet out: what chalk it has stays.",
        )
        .caution(Hazard::Hot, HOT)
        .act("One cup is through", Doing::Once)
        .at(&[Place::Tank, Place::Mug])
        .machine(Inside::Bath)
        .signals(facts)
}

/// How the brewer shows the end of a bath, in its own signals where they were written down. A light that goes out shows the
/// end of the rinse, and is no sign of this one.
pub(crate) fn end_of_bath(facts: &Facts, otherwise: &str) -> String {
    let ends = |s: &&Signal| matches!(s.means, Meaning::Done | Meaning::WantsWater);
    let signals = facts.circuit.operation.signals.iter().filter(ends);
    let own: Vec<_> = signals.map(|s| format!("\"{}\"", s.seen)).collect();
    let shown = match own.as_slice() {
        [] => otherwise.to_owned(),
        own => format!("It shows {}", own.join(" or ")),
    };
    format!("{shown}: that ends the bath, whatever the count or the clock says.")
}

pub(crate) fn soak(minutes: f64, mut before: Vec<Instruction>) -> Draft {
    before.push(Instruction::Soak { minutes });
    Draft::new(Kind::Soak, "Let it soak")
        .does(before)
        .check(
            "The timer has ended.",
            "No soak at all: the acid leaves before it has worked.",
        )
        .caution(Hazard::Acid, "Acid is in the machine: keep the note on it.")
        .act("Soak is over", Doing::Wait { minutes })
        .machine(Inside::Bath)
        .shows(Picture::Bore, text::minutes(minutes))
        .hands_free(minutes)
}

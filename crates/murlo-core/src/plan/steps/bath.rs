//! The bath: mixed, run in, soaked and run out, in each way that brewers have.

use super::{
    Chosen, Dispensing, Doing, Draft, Facts, Hazard, Inside, MIX, PER_DISPENSE, PROGRAMME, Picture,
    Place, RUN, SOAK,
};
use crate::bath::{Mixed, Warning};
use crate::brewer::{Family, Heater, Meaning, Outlet, Signal};
use crate::plan::NORMAL_BREW;
use crate::text;

pub(super) fn mix(facts: &Facts, mixed: &Mixed) -> Draft {
    let (agent, water) = (&mixed.agent_text, &mixed.water.text);
    let first = if mixed.powder_g.is_some() {
        format!(
            "Dissolve {agent} of {} completely in {water} of warm water.",
            mixed.agent_name.to_lowercase()
        )
    } else {
        format!(
            "Pour {agent} of {} and {water} of water into the empty reservoir.",
            mixed.agent_name.to_lowercase()
        )
    };
    let figure = if mixed.powder_g.is_some() {
        format!("{agent} in {water}")
    } else {
        format!(
            "{agent} {} + {water} water",
            mixed.agent_name.to_lowercase()
        )
    };
    let note = "Put a note on the brewer: acid inside, do not brew.";
    let mut draft = Draft::new(MIX, "Mix the bath", 3.0, &[&first, note])
        .check(
            &format!("{} in the reservoir, which holds {}.", mixed.total.text, facts.units.volume(facts.reservoir_ml())),
            "Taking carafe marks for measuring cups, or a ratio without knowing the strength on the label.",
        )
        .caution(Hazard::Acid, "Acid stings eyes and its vapour irritates: open a window, keep it off marble, limestone and bare metal, and away from children and pets.")
        .caution(Hazard::NeverMix, "Only this agent and water. Never bleach.")
        .act("It is mixed", Doing::Once)
        .machine(Inside::Bath, false)
        .shows(Picture::Pour, figure);
    if mixed.warnings.contains(&Warning::Strong) {
        draft = draft.caution(Hazard::Acid, "Gloves and goggles at this strength.");
    }
    draft
}

/// The bath of a brewer that is pressed cup by cup.
pub(super) fn pressed_bath(facts: &Facts, chosen: &Chosen, dispensing: &Dispensing) -> Vec<Draft> {
    let hot = "Bath and steam come out near boiling. Keep hands and face away.";
    let each = &dispensing.each.text;
    let press = facts.circuit.operation.press_line();
    let first_line = format!(
        "Plug in, {}, {} ({each}), and empty the mug.",
        match facts.circuit.outlet {
            Outlet::Capsule => "keep the empty capsule in place",
            _ => "close the lid without a pod",
        },
        if facts.circuit.operation.enter.is_empty() {
            "choose the largest size and press"
        } else {
            "enter the cleaning mode and run the first cup"
        }
    );
    let filled = match facts.circuit.heater {
        Heater::Tank => "Now the hot tank holds bath.",
        _ => "Now the tubes and the heater hold bath.",
    };
    // Where an earlier count left no more than one, another try is what may correct it.
    let least = u32::from(!facts.today.measured.bath.is_empty());
    let rest = dispensing.count.saturating_sub(1).max(least);
    let mut drafts = vec![
        Draft::new(
            "first",
            "Run the first dispense",
            PER_DISPENSE,
            &[&first_line, filled],
        )
        .check(
            "The mug is empty and back on the tray.",
            "A full mug left for the next dispense overflows.",
        )
        .caution(Hazard::Hot, hot)
        .told(
            facts
                .circuit
                .operation
                .enter_line()
                .or_else(|| ask_the_manual(facts)),
        )
        .told(press.clone())
        .act("First mug emptied", Doing::Once)
        .at(&[Place::Tank, Place::Mug])
        .machine(Inside::Bath, true)
        .signals(facts),
        soak(
            chosen,
            "Switch off if it will not stay on by itself, and leave the bath where it is.",
        ),
    ];
    if rest > 0 {
        let line = format!(
            "Press the largest size again and again; empty the mug every time. About {} is left at the end: pour it away.",
            dispensing.remainder.text
        );
        drafts.push(
            Draft::new(
                RUN,
                "Run the bath through",
                PER_DISPENSE * f64::from(rest),
                &[&line],
            )
            .check(
                &end_of_phase(facts, "The brewer asks for water, or shows its end signal"),
                "Losing count when called away: every press of the button here is kept.",
            )
            .caution(Hazard::Hot, hot)
            .told(press)
            .told(
                facts
                    .brewer
                    .hot_water
                    .then(|| "Run one cup of it through the hot-water outlet as well.".to_owned()),
            )
            .act("Mug emptied", Doing::Count { target: rest })
            .machine(Inside::Bath, true)
            .signals(facts)
            .shows(Picture::Bore, text::count(rest, "dispense", "dispenses")),
        );
    }
    drafts
}

/// Where nobody has written down yet how the cleaning mode is entered.
fn ask_the_manual(facts: &Facts) -> Option<String> {
    let may_have_one = facts.circuit.outlet == Outlet::Pod;
    may_have_one.then(|| {
        "If it has a cleaning mode, enter it as its manual says, and write that down with this brewer.".to_owned()
    })
}

/// The bath of a brewer that takes one cup at a time.
pub(super) fn cup_bath(facts: &Facts, chosen: &Chosen) -> Vec<Draft> {
    let hot = "Bath and steam come out near boiling. Keep hands and face away.";
    vec![
        Draft::new(
            "first",
            "Start it and pause",
            1.5,
            &[
                "Plug in, close the lid without a pod, start a brew.",
                "At the first drops switch off: now tank and tubing hold bath. Switched off earlier, only the tank does.",
            ],
        )
        .told(facts.circuit.operation.press_line())
        .check(
            "A few drops fell, then it stopped.",
            "Letting the cup run through: acid that only passes does little.",
        )
        .caution(Hazard::Hot, hot)
        .act("Paused at the first drops", Doing::Once)
        .at(&[Place::Tank])
        .machine(Inside::Bath, true)
        .signals(facts),
        soak(chosen, "Leave it switched off, lid closed."),
        Draft::new(
            RUN,
            "Run it empty",
            2.0,
            &["Switch on and let the rest run through; pour it away."],
        )
        .told((!facts.circuit.operation.purge.is_empty()).then(|| format!("{}.", facts.circuit.operation.purge)))
        .check(
            "No more comes.",
            "Running the pump dry: let go as soon as it only spits.",
        )
        .caution(Hazard::Hot, hot)
        .act("It is empty", Doing::Once)
        .machine(Inside::Bath, true)
        .signals(facts),
    ]
}

/// The bath of a brewer whose own programme runs it.
pub(super) fn programme_bath(facts: &Facts) -> Vec<Draft> {
    let (minutes, known) = facts.programme_minutes();
    let carafe = facts.is_drip();
    let mut drafts = Vec::new();
    if facts.brewer.family == Family::CodedCapsule {
        let disc = facts.brewer.reader.map_or(
            "Lift the capsule tray and look for the reader window: beside the slot for the disc's grip, or at a right angle to it? Take the disc whose code lies likewise.".to_owned(),
            |reader| format!("Take {}.", reader.disc()),
        );
        let place = &facts.brewer.places.disc;
        drafts.push(
            Draft::new("disc", "Put the service disc in", 1.0, &[&disc, "Lay it over the reader window. The vessel on the tray must hold the whole bath: it does not stop in between."])
                .told((!place.is_empty()).then(|| format!("The disc is kept here: {place}.")))
                .check("The disc lies flat, and the lid closes on it.", "The wrong disc, or one turned round: the programme then does not start.")
                .caution(Hazard::Sharp, "Mind the needle in the lid.")
                .pictured(Picture::Disc)
                .act("Disc is in", Doing::Once)
                .machine(Inside::Bath, false),
        );
    }
    let start = match (carafe, facts.circuit.outlet) {
        (true, _) => "Plug in, carafe in place, start the cleaning programme.",
        (_, Outlet::Pod) => {
            "Plug in, adapter fitted, carafe or large jug in place, choose the pod side and start the cleaning programme."
        }
        _ => "Plug in, jug in place, start the cleaning programme.",
    };
    drafts.push(
        Draft::new(PROGRAMME, "Run the cleaning programme", 1.0, &[start])
            .told(facts.circuit.operation.enter_line())
            .told(Some(
                if facts.circuit.outlet == Outlet::Capsule {
                    "It runs, pauses and runs again, and ends when the tank is empty."
                } else {
                    "It brews, pauses and brews again. The pauses are part of it."
                }
                .to_owned(),
            ))
            .told(
                (!facts.brewer.places.adapter.is_empty() && facts.circuit.outlet == Outlet::Pod)
                    .then(|| format!("The adapter is kept here: {}.", facts.brewer.places.adapter)),
            )
            .check(
                &end_of_phase(
                    facts,
                    "It signals the end by itself; some only let the light go out",
                ),
                "Taking a pausing programme for a broken machine.",
            )
            .caution(
                Hazard::Hot,
                "The bath comes out near boiling. Never pull the vessel while it runs.",
            )
            .act("Programme has ended", Doing::Wait { minutes })
            .machine(Inside::Bath, true)
            .signals(facts)
            .shows(
                Picture::Bore,
                format!("about {}, {known}", text::minutes(minutes)),
            )
            .hands_free(minutes),
    );
    drafts
}

/// How the brewer shows the end, in its own signals where they were written down.
fn end_of_phase(facts: &Facts, otherwise: &str) -> String {
    let ends = |s: &&Signal| matches!(s.means, Meaning::Done | Meaning::WantsWater);
    let signals = facts.circuit.operation.signals.iter().filter(ends);
    let own: Vec<_> = signals.map(|s| format!("\"{}\"", s.seen)).collect();
    let shown = match own.as_slice() {
        [] => otherwise.to_owned(),
        own => format!("It shows {}", own.join(" or ")),
    };
    format!("{shown}: that ends the phase, whatever the count or the clock says.")
}

pub(super) fn drip_bath(facts: &Facts, chosen: &Chosen) -> Vec<Draft> {
    let brew = facts.brewer.brew_minutes.unwrap_or(NORMAL_BREW);
    let hot = "The bath comes out near boiling. Never pull the carafe while it runs.";
    vec![
        Draft::new(
            "half",
            "Brew half of it",
            1.0,
            &[
                "Plug in, carafe in place, start a brew.",
                "When the carafe is half full, switch off and leave everything as it is.",
            ],
        )
        .check(
            "About half the bath is still in the reservoir.",
            "Letting it all run through: acid that only passes does little.",
        )
        .caution(Hazard::Hot, hot)
        .act("Half is through, switched off", Doing::Once)
        .at(&[Place::Riser, Place::Carafe])
        .machine(Inside::Bath, true)
        .hands_free(brew / 2.0),
        soak(
            chosen,
            "Leave it switched off and hot, with the carafe in place.",
        ),
        Draft::new(
            RUN,
            "Brew the rest",
            1.0,
            &["Switch on again and let the rest run through."],
        )
        .check(
            "The reservoir is empty and it has stopped dripping.",
            "Pulling the carafe while it still drips.",
        )
        .caution(Hazard::Hot, hot)
        .act("It has run through", Doing::Once)
        .machine(Inside::Bath, true)
        .hands_free(brew / 2.0),
    ]
}

fn soak(chosen: &Chosen, line: &str) -> Draft {
    let minutes = chosen.soak_minutes;
    Draft::new(SOAK, "Let it soak", 0.5, &[line])
        .check(
            "The timer has ended.",
            "No soak at all: the acid leaves before it has worked.",
        )
        .caution(Hazard::Acid, "Acid is in the machine: keep the note on it.")
        .act("Soak is over", Doing::Wait { minutes })
        .machine(Inside::Bath, true)
        .shows(Picture::Bore, text::minutes(minutes))
        .hands_free(minutes)
}

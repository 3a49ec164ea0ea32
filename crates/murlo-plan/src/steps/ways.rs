//! How a bath goes through, for brewers that are not pressed dispense by dispense.

use crate::Kind;
use crate::amounts::NORMAL_BREW;
use crate::facts::Facts;
use crate::step::{Doing, Hazard, Inside, Picture, Place};
pub(crate) use crate::steps::bath::{HOT, end_of_bath, hot_water, soak};
use crate::steps::draft::Draft;
use murlo_base::text;
use murlo_brewer::Outlet;
use murlo_brewer::bath::Mixed;
use murlo_brewer::instruction::{Instruction, Thing};

/// The bath of a brewer that takes one cup at a time.
pub(crate) fn by_cup(facts: &Facts, soak_minutes: f64, mixed: &Mixed) -> Vec<Draft> {
    let mut run = vec![Instruction::PlugIn];
    match facts.circuit.operation.purge.is_empty() {
        // Nobody knows how it is run empty, so it is brewed.
        true => {
            run.push(Instruction::SwitchOn);
            run.extend(facts.press(mixed.total.ml, false));
        }
        false => run.extend([Instruction::Purge, Instruction::EmptyVessel]),
    }
    vec![
        Draft::new(Kind::First, "Start it and pause")
            .does([
                Instruction::CloseLid,
                Instruction::PlugIn,
                Instruction::SwitchOn,
                Instruction::PlaceVessel {
                    holds_ml: mixed.total.ml,
                },
                Instruction::PauseAtFirstDrops,
            ])
            .check(
                "A few drops fell, then it stopped.",
                "Letting the cup run through: acid that only passes does little.",
            )
            .caution(Hazard::Hot, HOT)
            .act("Paused at the first drops", Doing::Once)
            .at(&[Place::Tank])
            .machine(Inside::Bath)
            .signals(facts),
        soak(
            soak_minutes,
            vec![Instruction::mind("Leave it switched off, the lid closed.")],
        ),
        Draft::new(Kind::Run, "Run it empty")
            .does(run)
            .check(
                "No more comes.",
                "Running the pump dry: let go as soon as it only spits.",
            )
            .caution(Hazard::Hot, HOT)
            .act("It is empty", Doing::Once)
            .machine(Inside::Bath)
            .signals(facts),
    ]
}

/// The bath of a brewer whose own programme runs it.
pub(crate) fn programme(facts: &Facts, mixed: &Mixed) -> Vec<Draft> {
    let mut drafts = Vec::new();
    if facts.has_hot_water() {
        let on = vec![
            Instruction::CloseLid,
            Instruction::PlugIn,
            Instruction::SwitchOn,
        ];
        drafts.push(hot_water(facts, on));
    }
    if facts.brewer.is_coded() {
        drafts.push(disc(facts));
    }
    drafts.push(run_programme(facts, mixed));
    drafts
}

/// What is done before the programme runs by itself, and that it runs so long.
fn started(facts: &Facts, holds_ml: f64, minutes: f64) -> Vec<Instruction> {
    let mut acts = Vec::new();
    if facts.circuit.outlet == Outlet::Pod && facts.brewer.carafe.is_some() {
        acts.push(Instruction::PutIn {
            thing: Thing::Adapter,
            new: false,
        });
    }
    acts.extend([
        Instruction::CloseLid,
        Instruction::PlugIn,
        Instruction::SwitchOn,
        Instruction::PlaceVessel { holds_ml },
        Instruction::mind(match facts.circuit.outlet {
            Outlet::Capsule => "It runs, pauses and runs again, and ends when the tank is empty.",
            Outlet::Pod | Outlet::Grounds => {
                "It brews, pauses and brews again. The pauses are part of it."
            }
        }),
        Instruction::Programme { minutes },
    ]);
    acts
}

fn run_programme(facts: &Facts, mixed: &Mixed) -> Draft {
    let (minutes, known) = facts.programme_minutes();
    let adapter = &facts.brewer.places.adapter;
    let is_kept = !adapter.is_empty() && facts.circuit.outlet == Outlet::Pod;
    let unsure = facts.circuit.mechanics.needs_light.is_none() && facts.brewer.is_coded();
    Draft::new(Kind::Programme, "Run the cleaning programme")
            .does(started(facts, mixed.total.ml, minutes))
            .told(is_kept.then(|| format!("The adapter is kept here: {adapter}.")))
            .told((facts.circuit.mechanics.shows_time == Some(true)).then(|| {
                "Its display says how long it still takes: set the timer by that.".to_owned()
            }))
            .told(unsure.then(|| {
                "If it does not start: some do only while their light asks. Then run it by hand."
                    .to_owned()
            }))
            .check(
                &end_of_bath(
                    facts,
                    "It signals the end by itself; some only let the light go out",
                ),
                "Taking a pausing programme for a broken machine.",
            )
            .caution(
                Hazard::Hot,
                "The bath comes out near boiling, all of it into one vessel. Never pull the vessel while it runs.",
            )
            .act("Programme has ended", Doing::Wait { minutes })
            .machine(Inside::Bath)
            .signals(facts)
            .shows(
                Picture::Bore,
                format!("about {}, {known}", text::minutes(minutes)),
            )
            .hands_free(minutes)
}

fn disc(facts: &Facts) -> Draft {
    let which = facts.brewer.reader.map_or(
        "Lift the capsule tray and look for the reader window: beside the slot for the disc's grip, or at a right angle to it? Take the disc whose code lies likewise.".to_owned(),
        |reader| format!("Take {}.", reader.disc()),
    );
    let place = &facts.brewer.places.disc;
    Draft::new(Kind::Disc, "Put the service disc in")
        .does([
            Instruction::OpenLid,
            Instruction::TakeOut {
                thing: Thing::EmptyCapsule,
            },
            Instruction::mind(which),
            Instruction::PutIn {
                thing: Thing::Disc,
                new: false,
            },
        ])
        .told((!place.is_empty()).then(|| format!("The disc is kept here: {place}.")))
        .check(
            "The disc lies flat, and the lid closes on it.",
            "The wrong disc, or one turned round: the programme then does not start.",
        )
        .caution(
            Hazard::Sharp,
            "Mind the needle in the lid: sharp, and hot after a cup.",
        )
        .pictured(Picture::Disc)
        .act("Disc is in", Doing::Once)
        .machine(Inside::Bath)
}

pub(crate) fn halves(facts: &Facts, soak_minutes: f64) -> Vec<Draft> {
    let brew = facts.brewer.brew_minutes.unwrap_or(NORMAL_BREW);
    let hot = "The bath comes out near boiling. Never pull the carafe while it runs.";
    let minutes = brew / 2.0;
    let mut again = vec![Instruction::PlugIn, Instruction::SwitchOn];
    let pass = facts
        .has_hot_water()
        .then(|| hot_water(facts, std::mem::take(&mut again)));
    if facts.has_hot_water() {
        again.push(Instruction::PlaceVessel {
            holds_ml: facts.reservoir_ml(),
        });
    }
    again.push(Instruction::Brew { minutes });
    let mut drafts = vec![
        Draft::new(Kind::Half, "Brew half of it")
            .does([
                Instruction::CloseLid,
                Instruction::PlugIn,
                Instruction::SwitchOn,
                Instruction::PlaceVessel {
                    holds_ml: facts.reservoir_ml(),
                },
                Instruction::BrewHalf { minutes },
            ])
            .check(
                "About half the bath is still in the reservoir.",
                "Letting it all run through: acid that only passes does little.",
            )
            .caution(Hazard::Hot, hot)
            .act("Half is through, switched off", Doing::Once)
            .at(&[Place::Riser, Place::Carafe])
            .machine(Inside::Bath)
            .hands_free(minutes),
        soak(
            soak_minutes,
            vec![Instruction::mind(
                "Leave it switched off and hot, the carafe in place.",
            )],
        ),
    ];
    drafts.extend(pass);
    drafts.push(
        Draft::new(Kind::Run, "Brew the rest")
            .does(again)
            .check(
                "The reservoir is empty and it has stopped dripping.",
                "Pulling the carafe while it still drips.",
            )
            .caution(Hazard::Hot, hot)
            .act("It has run through", Doing::Once)
            .machine(Inside::Bath)
            .hands_free(minutes),
    );
    drafts
}

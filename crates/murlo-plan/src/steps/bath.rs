//! The bath: mixed, run in, soaked and run out, in each way that brewers have.

use super::after::{asked, chips};
use super::answers::{CHALK, NOTHING, SHOWED, SOME, UNSEEN};
use super::before::let_water_pass;
use super::{Dispensing, Doing, Draft, Facts, Hazard, Inside, Picture, Place, Scheme};
use crate::{Kind, NORMAL_BREW, Question};
use murlo_base::text;
use murlo_base::units::CUP_ML;
use murlo_brewer::bath::{Agent, Mixed, Warning};
use murlo_brewer::instruction::{Instruction, Thing};
use murlo_brewer::{Meaning, Outlet, Signal, Survives};
use murlo_chemistry::heater::{Heater, Way};

/// How a bath goes through this side.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Mode {
    /// It has a cleaning mode that is pressed cup by cup.
    pub is_there: bool,
    /// The bath soaks in it.
    pub soaks: bool,
    /// Between bath and rinse it lives on power alone: it waits, but the plug is not pulled.
    pub lives_on_power: bool,
}

impl Facts<'_> {
    pub(crate) fn mode(&self) -> Mode {
        let facts = &self.circuit.mechanics;
        let is_there = self.way() == Way::Presses && self.brewer.has_mode(self.circuit);
        Mode {
            is_there,
            soaks: is_there && facts.soaks_in_mode(),
            lives_on_power: is_there
                && (Survives::Waiting..Survives::Unplugged).contains(&facts.outlasts()),
        }
    }

    /// What re-arms the machine before a press.
    pub(super) fn rearm(&self) -> Option<Instruction> {
        (!self.circuit.operation.rearm.is_empty()).then_some(Instruction::Rearm)
    }

    /// One dispense and its mug.
    pub(super) fn press(&self, ml: f64, in_mode: bool) -> Vec<Instruction> {
        let mut acts: Vec<_> = self.rearm().into_iter().collect();
        acts.extend([Instruction::Press { ml, in_mode }, Instruction::EmptyVessel]);
        acts
    }

    /// A cup of its largest size, but no more than 8 fl oz.
    pub(crate) fn cup_ml(&self) -> f64 {
        self.circuit.dispense_ml.min(CUP_ML)
    }

    /// The plug is pulled, unless the other side is running on it.
    pub(super) fn unplug(&self) -> Vec<Instruction> {
        match self.today.beside {
            true => Vec::new(),
            false => vec![Instruction::Unplug],
        }
    }
}

const HOT: &str = "Bath and steam come out near boiling. Keep hands and face away.";

/// How the bath is made, in sentences, and in short beside the picture.
fn mixing(facts: &Facts, agent: &Agent, mixed: &Mixed) -> (Vec<String>, String) {
    let (amount, name) = (&mixed.agent_text, agent.in_text());
    let agent = &mixed.agent_words;
    let into = match facts.brewer.takes_a_cup_at_a_time() {
        true => "the water opening",
        false => "the emptied reservoir",
    };
    let has_water = mixed.water.ml > 1.0;
    let water = &mixed.water.text;
    let lines = match (mixed.powder_g.is_some(), has_water) {
        (true, _) => vec![
            format!("Dissolve {agent} completely in {water} of warm water, in a jug."),
            format!("Pour it into {into}."),
        ],
        (false, true) => vec![format!("Pour {agent} and {water} of water into {into}.")],
        (false, false) => vec![format!("Pour {agent} into {into}.")],
    };
    let figure = match (mixed.powder_g.is_some(), has_water) {
        (true, _) => format!("{} in {water}", mixed.agent_text),
        (false, true) => format!("{amount} {name} + {water} water"),
        (false, false) => format!("{amount} {name}"),
    };
    (lines, figure)
}

pub(super) fn mix(facts: &Facts, scheme: &Scheme, n: u32) -> Draft {
    let mixed = scheme.mixed;
    let (lines, figure) = mixing(facts, scheme.agent, mixed);
    let mut acts = Vec::new();
    if n > 1 && facts.mode().is_there {
        // The machine would take the next fill for its rinse.
        acts.push(Instruction::LeaveMode);
    }
    acts.push(match facts.circuit.mechanics.float {
        Some(true) => Instruction::LowerToFloat,
        _ => Instruction::EmptyReservoir,
    });
    if facts.circuit.outlet == Outlet::Grounds {
        acts.push(Instruction::PutIn {
            thing: Thing::PaperFilter,
            new: false,
        });
    }
    acts.extend([
        Instruction::PourBath {
            ml: mixed.total.ml,
            mg_l: mixed.percent * 10_000.0,
            lines,
        },
        Instruction::NoteOn,
    ]);
    let mut draft = Draft::new(Kind::Mix, "Mix the bath")
        .does(acts)
        .check(
            &format!("{} in the reservoir, which holds {}.", mixed.total.text, facts.units.volume(facts.reservoir_ml())),
            "Taking carafe marks for measuring cups, or a ratio without knowing the strength on the label.",
        )
        .caution(Hazard::Acid, "Acid stings eyes and its vapour irritates: open a window, keep it off marble, limestone and bare metal, and away from children and pets.")
        .caution(Hazard::NeverMix, "Only this agent and water. Never bleach.")
        .act("It is mixed", Doing::Once)
        .machine(Inside::Bath)
        .shows(Picture::Pour, figure);
    if mixed.warnings.contains(&Warning::Strong) {
        draft = draft.caution(
            Hazard::Acid,
            "Gloves and goggles at this strength, and fresh air; nobody else in the room.",
        );
    }
    draft
}

/// The steps of one bath after it was mixed, in the way of this side.
pub(super) fn bath(facts: &Facts, scheme: &Scheme, n: u32) -> Vec<Draft> {
    let Scheme { mixed, .. } = scheme;
    let soaks = scheme.soak.parts(scheme.chosen.soak_minutes);
    let whole = scheme.chosen.soak_minutes;
    let mut drafts = match facts.way() {
        Way::Presses => pressed(facts, &soaks, scheme.dispensing),
        Way::CupAtATime => by_cup(facts, whole, mixed),
        // Its light has gone out: what is left of the work is pressed.
        Way::Programme if n > 1 && facts.circuit.mechanics.needs_light == Some(true) => {
            pressed(facts, &soaks, &facts.pressed_through(mixed.total.ml))
        }
        Way::Programme => programme(facts, mixed),
        Way::Halves => halves(facts, whole),
    };
    // Nothing is waited for where it does not soak.
    drafts.retain(|d| d.kind() != Kind::Soak || d.step.hands_free_min > 0.0);
    drafts
}

/// A bath that is pressed through, as far as it is drawn up.
struct Pressing {
    drafts: Vec<Draft>,
    /// Dispenses that went through, those of hot water too.
    pressed: u32,
    /// What is done before the next press.
    again: Vec<Instruction>,
    /// What has still to go through the hot-water outlet.
    hot_water: bool,
}

impl Pressing {
    /// Its share goes through the hot-water outlet.
    fn hot_water(&mut self, facts: &Facts, ml: f64) {
        let again = std::mem::take(&mut self.again);
        self.drafts.push(hot_water(facts, again));
        self.again.push(Instruction::PlaceVessel { holds_ml: ml });
        self.hot_water = false;
        self.pressed += 1;
    }

    /// It stands, unless it is to stand for no time; what goes on after that is another press.
    fn soak(&mut self, facts: &Facts, minutes: f64) {
        let mode = facts.mode();
        if minutes <= 0.0 {
            let enters = mode.is_there && !mode.soaks;
            self.again.extend(enters.then_some(Instruction::EnterMode));
            return;
        }
        let before = match mode.soaks {
            true => vec![Instruction::LeaveOn],
            // Nobody brews with it meanwhile.
            false if facts.today.beside => Vec::new(),
            false => vec![Instruction::SwitchOff],
        };
        let mut draft = soak(minutes, before);
        if self.drafts.iter().any(|d| d.kind() == Kind::Soak) {
            draft.step.title = "Let it soak once more".to_owned();
        }
        self.drafts.push(draft);
        let on = match (mode.is_there, mode.soaks) {
            (true, true) => Vec::new(),
            (true, false) => vec![Instruction::PlugIn, Instruction::EnterMode],
            (false, _) => vec![Instruction::PlugIn, Instruction::SwitchOn],
        };
        self.again.splice(0..0, on);
    }
}

/// The bath of a brewer that is pressed cup by cup, with its soaks after the dispenses they belong to.
fn pressed(facts: &Facts, soaks: &[(u32, f64)], dispensing: &Dispensing) -> Vec<Draft> {
    let mode = facts.mode();
    let ml = dispensing.each.ml;
    let mut so_far = Pressing {
        drafts: vec![first_press(facts, ml)],
        pressed: 1,
        again: Vec::new(),
        hot_water: facts.has_hot_water() && dispensing.hot_water_ml > 0.0,
    };
    let mut rest = dispensing.count.saturating_sub(1);
    for (nth, (after, minutes)) in soaks.iter().enumerate() {
        let has_soaked = nth > 0;
        if has_soaked && so_far.hot_water && so_far.pressed < *after {
            so_far.hot_water(facts, ml);
        }
        let more = after.saturating_sub(so_far.pressed).min(rest);
        if more > 0 {
            let in_mode = match has_soaked {
                true => mode.is_there,
                false => mode.soaks,
            };
            let again = std::mem::take(&mut so_far.again);
            let presses = facts.press(ml, in_mode);
            so_far.drafts.push(run_on(facts, again, presses, more));
            so_far.pressed += more;
            rest -= more;
        }
        so_far.soak(facts, *minutes);
    }
    if so_far.hot_water {
        so_far.hot_water(facts, ml);
    }
    let Pressing {
        mut drafts, again, ..
    } = so_far;
    // Where an earlier count left no more than one, another try is what may correct it; and the last one may be short by drops,
    // but without it a late mode is never entered.
    let tries = !facts.today.measured.bath.is_empty() || again.contains(&Instruction::EnterMode);
    let rest = rest.max(u32::from(tries));
    if rest > 0 {
        drafts.push(
            Draft::new(Kind::Run, "Run the bath through")
                .does(again)
                .each(facts.press(ml, mode.is_there))
                .told(Some(format!(
                    "About {} is left at the end: pour it away.",
                    dispensing.remainder.text
                )))
                .check(
                    &end_of_bath(facts, "The brewer asks for water"),
                    "Losing count when called away: every press of the button here is kept.",
                )
                .caution(Hazard::Hot, HOT)
                .act("Mug emptied", Doing::Count { target: rest })
                .machine(Inside::Bath)
                .signals(facts)
                .shows(Picture::Bore, text::count(rest, "dispense", "dispenses")),
        );
    }
    drafts
}

/// Some of the bath goes through before it soaks.
fn run_on(facts: &Facts, again: Vec<Instruction>, presses: Vec<Instruction>, target: u32) -> Draft {
    Draft::new(Kind::Run, "Run the bath on")
        .does(again)
        .each(presses)
        .check(
            "The last mug is emptied and back, and bath is still in the reservoir.",
            "Running it all through: then no fresh bath follows the soak.",
        )
        .caution(Hazard::Hot, HOT)
        .act("Mug emptied", Doing::Count { target })
        .machine(Inside::Bath)
        .signals(facts)
        .shows(Picture::Bore, text::count(target, "dispense", "dispenses"))
}

/// The dispense that fills the hot path with bath.
fn first_press(facts: &Facts, ml: f64) -> Draft {
    let mode = facts.mode();
    let filled = match facts.circuit.heater {
        Heater::Tank => "Now the hot tank holds bath.",
        _ => "Now the tubes and the heater hold bath.",
    };
    let mut acts = let_water_pass(facts);
    acts.extend([Instruction::CloseLid, Instruction::PlugIn]);
    acts.push(Instruction::PlaceVessel { holds_ml: ml });
    acts.push(match mode.soaks {
        true => Instruction::EnterMode,
        false => Instruction::SwitchOn,
    });
    acts.extend(facts.press(ml, mode.soaks));
    acts.push(Instruction::mind(filled));
    Draft::new(Kind::First, "Run the first dispense")
        .does(acts)
        .told(facts.asks_for_the_manual())
        .check(
            "The mug is empty and back on the tray.",
            "A full mug left for the next dispense overflows.",
        )
        .caution(Hazard::Hot, HOT)
        .act("First mug emptied", Doing::Once)
        .at(&[Place::Tank, Place::Mug])
        .machine(Inside::Bath)
        .signals(facts)
}

/// The hot-water outlet has a way of its own: one cup of the bath goes through it.
fn hot_water(facts: &Facts, before: Vec<Instruction>) -> Draft {
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

/// The bath of a brewer that takes one cup at a time.
fn by_cup(facts: &Facts, soak_minutes: f64, mixed: &Mixed) -> Vec<Draft> {
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
fn programme(facts: &Facts, mixed: &Mixed) -> Vec<Draft> {
    let mut drafts = Vec::new();
    if facts.has_hot_water() {
        let mut before = let_water_pass(facts);
        before.extend([
            Instruction::CloseLid,
            Instruction::PlugIn,
            Instruction::SwitchOn,
        ]);
        drafts.push(hot_water(facts, before));
    }
    if facts.brewer.is_coded() {
        drafts.push(disc(facts));
    }
    drafts.push(run_programme(facts, mixed));
    drafts
}

/// What is done before the programme runs by itself, and that it runs so long.
fn started(facts: &Facts, holds_ml: f64, minutes: f64) -> Vec<Instruction> {
    let mut acts = match facts.brewer.is_coded() {
        true => Vec::new(),
        false => let_water_pass(facts),
    };
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
            _ => "It brews, pauses and brews again. The pauses are part of it.",
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

/// How the brewer shows the end of a bath, in its own signals where they were written down. A light that goes out shows the
/// end of the rinse, and is no sign of this one.
fn end_of_bath(facts: &Facts, otherwise: &str) -> String {
    let ends = |s: &&Signal| matches!(s.means, Meaning::Done | Meaning::WantsWater);
    let signals = facts.circuit.operation.signals.iter().filter(ends);
    let own: Vec<_> = signals.map(|s| format!("\"{}\"", s.seen)).collect();
    let shown = match own.as_slice() {
        [] => otherwise.to_owned(),
        own => format!("It shows {}", own.join(" or ")),
    };
    format!("{shown}: that ends the bath, whatever the count or the clock says.")
}

fn halves(facts: &Facts, soak_minutes: f64) -> Vec<Draft> {
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

fn soak(minutes: f64, mut before: Vec<Instruction>) -> Draft {
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

/// What the bath brought out decides whether another follows.
pub(super) fn look(facts: &Facts) -> Draft {
    let acts = [
        Instruction::mind("Look at the last glass, and for chips at its bottom."),
        Instruction::EmptyVessel,
    ];
    Draft::new(Kind::Look, "What did the bath bring?")
        .does(acts)
        .check(
            "You know whether chalk still moves, and the vessel is empty.",
            "Rinsing while chalk still moves: then all of the rinse comes twice.",
        )
        .caution(Hazard::Hot, "What stands in the vessel is still hot acid.")
        .act(
            "That is what came",
            Doing::Ask {
                questions: looked_for(facts),
            },
        )
        .machine(Inside::Bath)
        .pictured(Picture::Glasses)
}

/// What is asked after a bath.
fn looked_for(facts: &Facts) -> Vec<Question> {
    vec![
        asked(
            SHOWED,
            "How much chalk came out with the bath?",
            "White bits, cloudy water, or colour in the glass. Murlo learns from it how fast chalk grows here.",
            &[
                (CHALK, "A lot"),
                (SOME, "A little"),
                (NOTHING, "Nothing to see"),
                (UNSEEN, "Did not look"),
            ],
        ),
        chips(facts),
    ]
}

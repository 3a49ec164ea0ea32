//! The bath: mixed, run in, soaked and run out, in each way that brewers have.

use super::Scheme;
use super::after::{asked, chips};
use crate::answers::{AnswerId, QuestionId};
use crate::facts::Facts;
use crate::shape::Dispensing;
use crate::step::{Doing, Hazard, Inside, Picture, Place};
use crate::steps::draft::Draft;
pub(crate) use crate::steps::shared::{HOT, end_of_bath, hot_water, soak};
use crate::steps::ways::{by_cup, halves, programme};
use crate::{Kind, Question};
use murlo_base::text;
use murlo_base::units::CUP_ML;
use murlo_brewer::bath::{Agent, GOGGLES_PERCENT, Mixed, Warning};
use murlo_brewer::instruction::{Instruction, Thing};
use murlo_brewer::{Outlet, Survives, Tank};
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

/// How the bath is made, in sentences, and in short beside the picture.
fn mixing(facts: &Facts, agent: &Agent, mixed: &Mixed) -> (Vec<String>, String) {
    let (amount, name) = (&mixed.agent_text, agent.in_text());
    let agent = &mixed.agent_words;
    let into = match facts.brewer.tank() {
        Tank::Opening => "the water opening",
        Tank::TakenOff | Tank::Fixed if facts.circuit.mechanics.float == Some(true) => {
            "the reservoir, onto the water that the float leaves"
        }
        Tank::TakenOff | Tank::Fixed => "the emptied reservoir",
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
    // What was filled in is not tipped out of a machine that is plugged in.
    acts.extend(facts.unplug());
    acts.push(match facts.circuit.mechanics.float {
        Some(true) => Instruction::LowerToFloat,
        _ => Instruction::EmptyReservoir,
    });
    if facts.circuit.outlet == Outlet::Grounds {
        if n > 1 {
            acts.push(Instruction::mind(
                "The carafe is hot from the last bath: let it cool until you can hold it, or measure with cups and a jug.",
            ));
        }
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
            &match facts.brewer.tank() {
                Tank::Opening => format!("{} is in, and no more went in than its line.", mixed.total.text),
                Tank::TakenOff | Tank::Fixed => {
                    format!("{} stands in the reservoir, no higher than its top mark.", mixed.total.text)
                }
            },
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
            match mixed.percent >= GOGGLES_PERCENT {
                true => "Gloves and goggles at this strength, and fresh air; nobody else in the room.",
                false => "Gloves and goggles while you pour from the bottle: what is in it is strong until it is thinned. Water first, then the acid.",
            },
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
                    "The last mug may be short. About {} is left in the reservoir then: it is tipped out before any fresh water goes in.",
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
        Heater::Thermoblock | Heater::DripRiser => "Now the tubes and the heater hold bath.",
    };
    // What lets water pass is in place since the last cup of water.
    let mut acts = vec![
        Instruction::CloseLid,
        Instruction::PlugIn,
        Instruction::PlaceVessel { holds_ml: ml },
    ];
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
            QuestionId::Showed,
            "How much chalk came out with the bath?",
            "White bits, cloudy water, or colour in the glass. Murlo learns from it how fast chalk grows here.",
            &[
                (AnswerId::Chalk, "A lot"),
                (AnswerId::Some, "A little"),
                (AnswerId::Nothing, "Nothing to see"),
                (AnswerId::Unseen, "Did not look"),
            ],
        ),
        chips(facts),
    ]
}

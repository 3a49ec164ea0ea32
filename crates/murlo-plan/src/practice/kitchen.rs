//! A simulated brewer one plays on: what was pressed and poured, and what is seen of it.

use crate::machine::{Harm, Machine, Mechanism};
use crate::practice::panel::{self, Button, ButtonView, Filled, RemedyView};
use crate::practice::way_out;
use crate::{Doing, Facts, Plan, PlanOptions, Step, Today};
use jiff::civil::date;
use murlo_base::days::days_after;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use murlo_base::units::{HardnessUnit, Units};
use murlo_brewer::bath::Agent;
use murlo_brewer::instruction::Instruction;
use murlo_brewer::trouble::{Cause, Remedy, SIGNS};
use murlo_brewer::water::{Chemistry, Reading, Waters};
use murlo_brewer::{Brewer, BrewerDraft, Family, Outlet};
use murlo_chalk::money::Terms;
use murlo_chalk::scale::{Growth, Known, Start};
use serde::{Deserialize, Serialize};

/// How one practises.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Manner {
    /// Following Murlo's plan.
    Plan,
    /// Finding it out alone.
    Alone,
    /// Something is wrong with it: find out what, by its tests.
    Fault,
}

/// What is practised on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Setup {
    /// Its kind.
    pub family: Family,
    /// How.
    pub way: Manner,
    /// Which fault it has; the same number is the same fault.
    #[serde(default)]
    pub seed: u32,
    /// Units to read.
    #[serde(default = "us")]
    pub units: Units,
}

const fn us() -> Units {
    Units::Us
}

/// What was done.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "do", rename_all = "snake_case", deny_unknown_fields)]
pub enum Deed {
    /// Pressed or moved something.
    Press {
        /// What.
        button: Button,
    },
    /// Did what the plan says next.
    Next,
    /// Looked for a sign.
    Look {
        /// The sign.
        sign: String,
    },
    /// Tried a remedy.
    Try {
        /// The remedy.
        remedy: Remedy,
    },
}

/// Something done at a time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Pressed {
    /// Minutes since the start.
    pub at_min: f64,
    /// What.
    pub what: Deed,
}

/// A harm as it is shown.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HarmView {
    /// Which.
    pub harm: Harm,
    /// What would happen.
    pub text: String,
    /// The way out.
    pub way_out: String,
}

/// A sign that was looked for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SignSeen {
    /// Its name in data.
    pub id: String,
    /// As a question.
    pub question: String,
    /// How it is found out.
    pub how: String,
    /// What was found; absent while nobody looked.
    pub shows: Option<bool>,
}

/// Where practice stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Scene {
    /// Minutes since the start.
    pub now_min: f64,
    /// Plugged in.
    pub plugged: bool,
    /// Switched on.
    pub on: bool,
    /// In its cleaning mode.
    pub in_mode: bool,
    /// The lid stands open.
    pub lid_open: bool,
    /// Its light asks for descaling.
    pub light: bool,
    /// The needles are hot.
    pub hot: bool,
    /// The do-not-brew note is on.
    pub noted: bool,
    /// The reservoir.
    pub reservoir: Filled,
    /// The vessel under the outlet.
    pub vessel: Filled,
    /// Acid in the water path, share of the bath.
    pub path_acid: f64,
    /// Chalk in it, share of what it began with; drawn, not reckoned.
    pub chalk: f64,
    /// What sits in it: a pod, the filter, a disc.
    pub inside: Vec<String>,
    /// The same in words.
    pub words: Vec<String>,
    /// What can be pressed.
    pub buttons: Vec<ButtonView>,
    /// What the last press would have done.
    pub harm: Option<HarmView>,
    /// The plan's next act.
    pub next: Option<String>,
    /// The step it belongs to.
    pub step: Option<String>,
    /// Steps of the plan that are done.
    pub steps_done: usize,
    /// All its steps.
    pub steps_all: usize,
    /// Signs, in a search for a fault.
    pub signs: Vec<SignSeen>,
    /// Remedies, in a search for a fault.
    pub remedies: Vec<RemedyView>,
    /// What the last remedy came to.
    pub tried: Option<String>,
    /// It is done: the plan is through, or the fault is found.
    pub is_over: bool,
}

/// More presses than this are no practice.
pub const MOST_PRESSES: usize = 2_000;

/// A pause that is longer leaves the machine alone, minutes.
const LEFT_ALONE: f64 = 3.0;

/// Minutes in which acid takes about two thirds of what is drawn as chalk.
pub(crate) const CHALK_FADES: f64 = 25.0;

/// The scene after `pressed`, at `now_min`, on a brewer like `like`, or on one as its family usually is.
///
/// # Errors
/// Too many presses, or a time that runs backwards.
pub fn play(
    setup: &Setup,
    like: Option<&Brewer>,
    pressed: &[Pressed],
    now_min: f64,
) -> Result<Scene, Problems> {
    if pressed.len() > MOST_PRESSES {
        let message = format!("give at most {MOST_PRESSES} presses: begin anew");
        return Err(Problem::new(Code::OutOfRange, "pressed", message).into());
    }
    let in_order = pressed.windows(2).all(|two| two[0].at_min <= two[1].at_min);
    let is_time = |t: f64| t.is_finite() && (0.0..=100_000.0).contains(&t);
    if !in_order || !pressed.iter().all(|p| is_time(p.at_min)) || !is_time(now_min) {
        let message = "give minutes from 0 up, in order";
        return Err(Problem::new(Code::OutOfRange, "pressed", message).into());
    }
    let brewer = match like {
        Some(brewer) => brewer.clone(),
        None => brewer(setup)?,
    };
    let plan = plan(&brewer, setup)?;
    let mechanism = Mechanism::of(&brewer, &brewer.circuits[0], plan.rinse.target_mg_l);
    let mut kitchen = PracticeKitchen::new(setup, &brewer, &plan, &mechanism);
    for one in pressed {
        kitchen.wait_until(one.at_min);
        kitchen.take(&one.what);
    }
    kitchen.wait_until(now_min);
    Ok(kitchen.scene())
}

/// A brewer of our own, as its family usually is.
pub(crate) fn brewer(setup: &Setup) -> Result<Brewer, Problems> {
    let start = date(2026, 1, 1);
    let draft = BrewerDraft {
        nickname: "Practice".to_owned(),
        ..BrewerDraft::template(setup.family, setup.units, "home", "water", start)
    };
    draft.check("practice".to_owned(), None, start)
}

/// Its clean, as after three months of hard water.
fn plan(brewer: &Brewer, setup: &Setup) -> Result<Plan, Problems> {
    let hard = Reading::Strip {
        value: 180.0,
        unit: HardnessUnit::MgPerL,
    };
    let water = Chemistry::of(&hard, &Waters::new())?;
    let start = date(2026, 1, 1).max(brewer.in_use_since);
    let circuit = &brewer.circuits[0];
    let growth = Growth::new(Known {
        brewer,
        circuit,
        waters: std::slice::from_ref(&water),
        start: Start::new(start),
        cleans: &[],
        entries: &[],
        logged: None,
        recall: None,
        today: days_after(start, 90),
    });
    let forecast = growth.forecast(setup.units);
    let agents = Agent::starters();
    Facts {
        brewer,
        circuit,
        forecast: &forecast,
        agents: &agents,
        units: setup.units,
        terms: &Terms::default(),
        today: Today::default(),
    }
    .plan(&PlanOptions::default())
}

/// One act of the plan, with the step it belongs to.
struct PlannedAct {
    step: usize,
    instruction: Instruction,
}

/// The plan as acts one after the other; what is only to be minded goes with the next.
fn acts(plan: &Plan) -> Vec<PlannedAct> {
    let does = |x: &&Instruction| !matches!(x, Instruction::Mind { .. });
    let of_step = |(i, step): (usize, &Step)| {
        let count = match step.doing {
            Doing::Count { target } => target,
            Doing::Once
            | Doing::Wait { .. }
            | Doing::Ask { .. }
            | Doing::Clear { .. }
            | Doing::Measure { .. } => 0,
        };
        let acts = step.acts(count).filter(does).map(|instruction| PlannedAct {
            step: i,
            instruction: instruction.clone(),
        });
        acts.collect::<Vec<_>>()
    };
    plan.steps.iter().enumerate().flat_map(of_step).collect()
}

/// A brewer, somebody at it, and a clock.
struct PracticeKitchen<'a> {
    setup: &'a Setup,
    brewer: &'a Brewer,
    plan: &'a Plan,
    machine: Machine<'a>,
    acts: Vec<PlannedAct>,
    done: usize,
    now: f64,
    chalk: f64,
    harm: Option<Harm>,
    cause: Option<Cause>,
    looked: Vec<String>,
    tried: Option<String>,
    found: bool,
}

impl<'a> PracticeKitchen<'a> {
    fn new(setup: &'a Setup, brewer: &'a Brewer, plan: &'a Plan, mechanism: &'a Mechanism) -> Self {
        let has_pods = brewer.circuits[0].outlet == Outlet::Pod;
        let can_be: Vec<_> = Cause::ALL
            .into_iter()
            .filter(|c| *c != Cause::Nothing)
            .filter(|c| has_pods || !matches!(c, Cause::EntranceNeedle | Cause::ExitNeedle))
            .collect();
        let which = setup.seed as usize % can_be.len();
        Self {
            setup,
            brewer,
            plan,
            machine: Machine::in_use(mechanism),
            acts: acts(plan),
            done: 0,
            now: 0.0,
            chalk: 1.0,
            harm: None,
            cause: (setup.way == Manner::Fault).then(|| can_be[which]),
            looked: Vec::new(),
            tried: None,
            found: false,
        }
    }

    fn wait_until(&mut self, at: f64) {
        let minutes = at - self.now;
        if minutes <= 0.0 {
            return;
        }
        self.machine.stand(minutes, minutes > LEFT_ALONE);
        self.time_works(minutes);
    }

    /// What stands in the path dissolves while it is acid.
    fn time_works(&mut self, minutes: f64) {
        self.now += minutes;
        let share = self.acid_share();
        self.chalk *= (-minutes * share / CHALK_FADES).exp();
    }

    fn acid_share(&self) -> f64 {
        let bath = self.plan.bath.percent * 10_000.0;
        (self.machine.seen().path_mg_l / bath.max(1.0)).clamp(0.0, 1.0)
    }

    fn take(&mut self, what: &Deed) {
        self.harm = None;
        match what {
            Deed::Press { button } => {
                for instruction in button.acts(self.brewer, self.plan, &self.machine) {
                    self.follow(&instruction);
                }
            }
            Deed::Next => self.next(),
            Deed::Look { sign } => {
                if !self.looked.contains(sign) {
                    self.looked.push(sign.clone());
                }
            }
            Deed::Try { remedy } => self.try_out(*remedy),
        }
    }

    fn follow(&mut self, instruction: &Instruction) {
        let before = self.machine.minutes();
        match self.machine.follow(instruction) {
            Ok(()) => self.time_works(self.machine.minutes() - before),
            Err(harm) => self.harm = self.harm.or(Some(harm)),
        }
    }

    /// The plan's next act; its waits are over at once.
    fn next(&mut self) {
        let Some(act) = self.acts.get(self.done) else {
            return;
        };
        let (instruction, step) = (act.instruction.clone(), act.step);
        self.follow(&instruction);
        if self.harm.is_none() {
            self.done += 1;
            let ends_step = self
                .acts
                .get(self.done)
                .is_none_or(|next| next.step != step);
            if ends_step {
                let minutes = self.plan.steps[step].hands_on_min;
                self.machine.stand(minutes, false);
                self.time_works(minutes);
            }
        }
    }

    fn try_out(&mut self, remedy: Remedy) {
        let Some(cause) = self.cause else { return };
        self.found |= cause.remedy().0 == remedy;
        self.tried = Some(match self.found {
            true => format!("That was it: {}.", cause.words()),
            false => "That did not help: look for another sign.".to_owned(),
        });
        if self.found && remedy == Remedy::Descale {
            self.chalk = 0.05;
        }
    }

    fn scene(self) -> Scene {
        let seen = self.machine.seen();
        let next = self
            .acts
            .get(self.done)
            .filter(|_| self.setup.way == Manner::Plan);
        let wording = panel::wording(self.brewer, self.setup.units);
        let step: Option<&Step> = next.map(|act| &self.plan.steps[act.step]);
        let filled = |ml: f64, holds: f64, mg_l: f64| Filled {
            share: if holds > 0.0 {
                (ml / holds).clamp(0.0, 1.0)
            } else {
                0.0
            },
            acid: mg_l > self.plan.rinse.target_mg_l,
            text: match ml {
                ml if ml < 1.0 => "empty".to_owned(),
                ml if mg_l > self.plan.rinse.target_mg_l => {
                    format!("about {} with acid in it", self.setup.units.volume(ml))
                }
                ml => format!("about {} of water", self.setup.units.volume(ml)),
            },
        };
        let reservoir = filled(
            seen.reservoir_ml,
            self.brewer.reservoir_ml,
            seen.reservoir_mg_l,
        );
        let vessel = filled(seen.vessel_ml, seen.vessel_holds, seen.vessel_mg_l);
        let inside: Vec<String> = seen
            .inside
            .iter()
            .map(|t| panel::thing(*t).to_owned())
            .collect();
        let words = panel::words(&seen, &reservoir, &vessel, &inside, self.acid_share());
        let steps_done = next.map_or(self.plan.steps.len(), |act| act.step);
        Scene {
            now_min: self.now,
            plugged: seen.plugged,
            on: seen.on,
            in_mode: seen.in_mode,
            lid_open: seen.lid_open,
            light: seen.light,
            hot: seen.hot,
            noted: seen.noted,
            path_acid: self.acid_share(),
            chalk: self.chalk,
            inside,
            words,
            buttons: Button::of(self.brewer, &seen),
            harm: self.harm.map(|harm| HarmView {
                harm,
                text: text::capital(harm.words()),
                way_out: way_out::way_out(harm).to_owned(),
            }),
            next: next.map(|act| {
                wording
                    .say(std::slice::from_ref(&act.instruction))
                    .join(" ")
            }),
            step: step.map(|s| s.title.clone()),
            steps_done,
            steps_all: self.plan.steps.len(),
            signs: self.signs(),
            remedies: match self.cause {
                Some(_) => panel::remedies(),
                None => Vec::new(),
            },
            tried: self.tried.clone(),
            is_over: match self.setup.way {
                Manner::Plan => self.done >= self.acts.len(),
                Manner::Fault => self.found,
                Manner::Alone => false,
            },
            reservoir,
            vessel,
        }
    }

    /// The signs that make sense here, with what was found of those that were looked for.
    fn signs(&self) -> Vec<SignSeen> {
        let Some(cause) = self.cause else {
            return Vec::new();
        };
        let pods = self.brewer.circuits[0].outlet == Outlet::Pod;
        let context = murlo_brewer::trouble::Context {
            pods,
            ..murlo_brewer::trouble::Context::default()
        };
        let fits = SIGNS.iter().filter(|sign| sign.fits(&context));
        fits.map(|sign| SignSeen {
            id: sign.id.to_owned(),
            question: sign.question.to_owned(),
            how: sign.how.to_owned(),
            shows: self
                .looked
                .iter()
                .any(|looked| looked == sign.id)
                .then(|| !self.found && sign.shows(cause)),
        })
        .collect()
    }
}

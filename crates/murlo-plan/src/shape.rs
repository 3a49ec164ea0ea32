//! What a plan is made of and what a person may choose.
//!
//! A started clean keeps its plan for good, so fields here are only ever added, with a default.

use super::open::OpenFact;
use super::{Kind, Rung};
use crate::machine::Mechanism;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::{Measure, Tool};
use murlo_base::working::Working;
use murlo_base::{bounds, document, text};
use murlo_brewer::Outlet;
use murlo_brewer::bath::{Agent, Mixed, Recipe, Soak};
use murlo_brewer::instruction::Instruction;
use murlo_brewer::job::Job;
use murlo_brewer::rinse::{Rinse, Taste};
use murlo_brewer::{Healthy, Needle, Signal};
use murlo_chalk::money::{Cost, Uses};
use murlo_chalk::scale::Chalk;
use murlo_chemistry::cleaning::Bathed;
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// What a person chose; everything left out is decided here.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct PlanOptions {
    /// Which agent; vinegar unless said.
    pub agent_id: Option<String>,
    /// Strength of this bottle, % w/v, when it differs from the agent's.
    pub percent: Option<f64>,
    /// How it is thinned; by family unless said.
    pub recipe: Option<Recipe>,
    /// What it is measured with.
    pub measure: Option<Tool>,
    /// How much agent, as typed, with water up to the bath's amount; instead of a recipe.
    pub agent_amount: Option<String>,
    /// How much bath, as typed: "4 cups", "1.2 L", "11 marks".
    pub bath: Option<String>,
    /// Whether it stops at the dose or fills the reservoir, when no amount is typed; by family unless said.
    pub fill: Option<Fill>,
    /// Whose taste decides the rinse.
    pub taste: Option<Taste>,
    /// Minutes of soaking.
    pub soak_minutes: Option<f64>,
    /// Fresh baths one after the other; one unless said.
    pub baths: Option<u32>,
    /// Whether even the high estimate of the chalk has to go.
    pub sure: bool,
    /// Against brown water, stale taste or slime rather than chalk: the mildest recipe and a short soak.
    pub dirt: bool,
    /// Minutes from first to last act that the person has.
    pub minutes: Option<f64>,
    /// Which side of a combination; the one whose turn it is unless said.
    pub circuit_id: Option<String>,
    /// By hand although it has a programme, which some brewers only offer when their light asks.
    pub by_hand: bool,
    /// What is to be done; a descaling unless said.
    pub work: Work,
    /// Which small work, where it is one.
    pub job: Option<Job>,
}

impl PlanOptions {
    /// The outlet whose side the work is about, where that follows from the work.
    #[must_use]
    pub const fn outlet(&self) -> Option<Outlet> {
        match (self.work, self.job) {
            (Work::Needles, _)
            | (Work::Upkeep, Some(Job::RinsePod | Job::Hollow | Job::Holder)) => Some(Outlet::Pod),
            (Work::Upkeep, Some(Job::Reusable)) => Some(Outlet::Grounds),
            _ => None,
        }
    }
}

/// What a plan is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Work {
    /// A whole clean.
    #[default]
    Descale,
    /// Only the needles.
    Needles,
    /// A clean with plain water, to learn the buttons; it stays out of the history.
    Rehearsal,
    /// A small work beside descaling.
    Upkeep,
}

/// How far a bath fills the reservoir.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Fill {
    /// As much as the recipe's dose.
    Dose,
    /// To the top mark.
    Full,
}

/// What a caution is about; each has its own icon.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Hazard {
    /// Pull the plug.
    Unplug,
    /// Near-boiling liquid and steam.
    Hot,
    /// Needles.
    Sharp,
    /// Acid on skin, eyes, stone.
    Acid,
    /// Never with bleach or other cleaners.
    NeverMix,
    /// Glass that cracks.
    Glass,
    /// The maker's manual, and qualified repair.
    Manual,
}

/// A caution on the step it belongs to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Caution {
    /// What it is about.
    pub hazard: Hazard,
    /// What to do.
    pub text: String,
}

/// A picture that belongs on a step.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Picture {
    /// The vessel with agent and water.
    Pour,
    /// The rinse ladder.
    Ladder,
    /// The bore with its crust.
    Bore,
    /// The needles with their holes.
    Needles,
    /// The glasses so far.
    Glasses,
    /// How the service disc lies.
    Disc,
}

/// A place in a brewer, to be pointed at in a drawing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Place {
    /// Where water is filled in.
    Reservoir,
    /// The water filter in it.
    Filter,
    /// The hot tank or heater block.
    Tank,
    /// The riser of a drip brewer.
    Riser,
    /// The needle in the lid.
    LidNeedle,
    /// Where the pod or capsule sits.
    PodChamber,
    /// The needle below the pod.
    CupNeedle,
    /// The mug or jug on the tray.
    Mug,
    /// The basket of grounds.
    Basket,
    /// The carafe.
    Carafe,
    /// The outside.
    Body,
}

/// One answer to a question.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Answer {
    /// Name in data.
    pub id: String,
    /// Words on the button.
    pub text: String,
}

/// A question asked at the end.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Question {
    /// Name in data.
    pub id: String,
    /// The question.
    pub text: String,
    /// How to find out.
    pub how: String,
    /// What can be said.
    pub answers: Vec<Answer>,
    /// Whether it may be left open.
    #[serde(default)]
    pub optional: bool,
}

/// How a step is carried out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Doing {
    /// Done once.
    Once,
    /// Counted until the machine's signal or the target.
    Count {
        /// How many are expected.
        target: u32,
    },
    /// Waited for.
    Wait {
        /// Minutes on the timer.
        minutes: f64,
    },
    /// Asked.
    Ask {
        /// The questions.
        questions: Vec<Question>,
    },
    /// Cleared hole by hole.
    Clear {
        /// The needles.
        needles: Vec<Needle>,
    },
    /// Timed and counted, if the person likes.
    Measure {
        /// The cup that is run: "8 fl oz".
        cup: String,
    },
}

impl Doing {
    fn check(&self, place: &str) -> Result<(), Problem> {
        match self {
            Self::Count { target } => bounds::PLANNED
                .check(&format!("{place}.doing.target"), f64::from(*target))
                .map(drop),
            Self::Wait { minutes } => bounds::STEP_MINUTES
                .check(&format!("{place}.doing.minutes"), *minutes)
                .map(drop),
            Self::Once | Self::Ask { .. } | Self::Clear { .. } | Self::Measure { .. } => Ok(()),
        }
    }
}

/// What is in the machine.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Inside {
    /// Water as always.
    Water,
    /// The bath.
    Bath,
    /// What the bath left behind.
    Traces,
}

/// One step of the work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Step {
    /// Identity within the plan.
    pub id: String,
    /// The act as a headline.
    pub title: String,
    /// What to do, one act a sentence.
    pub what: Vec<String>,
    /// The same for the simulated brewer, once at its start.
    #[serde(default)]
    pub instructions: Vec<Instruction>,
    /// Where something is counted: what is done for each.
    #[serde(default)]
    pub each: Vec<Instruction>,
    /// What is done before the first and whenever the reservoir has run empty.
    #[serde(default)]
    pub at_fill: Vec<Instruction>,
    /// What is done after that, but not for the first fill.
    #[serde(default)]
    pub at_refill: Vec<Instruction>,
    /// How many one fill gives; 0 where nothing is filled.
    #[serde(default)]
    pub per_fill: u32,
    /// The figure to read from an arm's length.
    pub figure: Option<String>,
    /// How to know it is right.
    pub check: String,
    /// The usual mistake.
    pub mistake: String,
    /// Cautions of this step.
    pub cautions: Vec<Caution>,
    /// How it is carried out.
    pub doing: Doing,
    /// Label of the one button.
    pub act: String,
    /// The picture beside it.
    pub picture: Option<Picture>,
    /// Minutes of one's hands.
    pub hands_on_min: f64,
    /// Minutes within earshot, while it is pressed again and again.
    #[serde(default)]
    pub near_min: f64,
    /// Minutes the machine works alone.
    pub hands_free_min: f64,
    /// What is in the machine once it has begun.
    pub inside: Inside,
    /// Whether the machine is plugged in meanwhile.
    pub plugged: bool,
    /// The step that leaves the hands free for this one, which may then be done early.
    #[serde(default)]
    pub during: Option<String>,
    /// What the machine may show meanwhile.
    #[serde(default)]
    pub signals: Vec<Signal>,
    /// What is done when the reservoir has run empty.
    #[serde(default)]
    pub refill: Option<String>,
    /// Where in the brewer it is done.
    #[serde(default)]
    pub places: Vec<Place>,
}

impl Step {
    /// What it is; nothing for an id that no plan gives.
    #[must_use]
    pub fn kind(&self) -> Option<Kind> {
        Kind::of(&self.id).map(|(kind, _)| kind)
    }

    /// Its instructions when so many are counted, fills and refills in their places.
    pub(crate) fn acts(&self, count: u32) -> impl Iterator<Item = &Instruction> {
        let counted = (0..count).flat_map(|n| {
            let fills = n.is_multiple_of(self.per_fill.max(1));
            let at_fill = self.at_fill.iter().filter(move |_| fills);
            let at_refill = self.at_refill.iter().filter(move |_| fills && n > 0);
            at_fill.chain(at_refill).chain(&self.each)
        });
        self.instructions.iter().chain(counted)
    }

    /// Whether the machine is waited for.
    #[must_use]
    pub const fn is_wait(&self) -> bool {
        matches!(self.doing, Doing::Wait { .. })
    }

    /// Whether it is of this kind, in whichever bath.
    #[must_use]
    pub fn is(&self, kind: Kind) -> bool {
        self.kind() == Some(kind)
    }
}

/// A stretch of the time ribbon.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stretch {
    /// The step.
    pub step: String,
    /// Its headline.
    pub label: String,
    /// Whether hands are needed.
    pub hands_on: bool,
    /// Whether one has to stay within earshot; hands are needed now and then.
    #[serde(default)]
    pub near: bool,
    /// Minutes from the start.
    pub start_min: f64,
    /// How long, minutes.
    pub minutes: f64,
    /// The hands-free step it is fitted into.
    #[serde(default)]
    pub during: Option<String>,
}

/// The time a plan takes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Ribbon {
    /// Stretches in order.
    pub stretches: Vec<Stretch>,
    /// Minutes of one's hands.
    pub hands_on_min: f64,
    /// Minutes within earshot besides.
    #[serde(default)]
    pub near_min: f64,
    /// Minutes in which one may go elsewhere.
    #[serde(default)]
    pub free_min: f64,
    /// Minutes from first to last act.
    pub elapsed_min: f64,
    /// "about 18 min of your hands in 55 min; away for 20 min".
    pub text: String,
}

/// The bath's dispenses.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Dispensing {
    /// Whole dispenses.
    pub count: u32,
    /// One dispense.
    pub each: Measure,
    /// Left to pour away.
    pub remainder: Measure,
    /// What goes through the hot-water outlet besides, mL.
    #[serde(default)]
    pub hot_water_ml: f64,
    /// "5 dispenses of 10 fl oz, then about 3 fl oz to pour away".
    pub text: String,
}

/// What a person may choose instead, each with its words.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RecipeChoice {
    /// The recipe.
    pub recipe: Recipe,
    /// Its label.
    pub label: String,
}

/// What was chosen, with defaults filled in, and what else could be.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Chosen {
    /// The agent.
    pub agent_id: String,
    /// Its strength as bought, if a liquid.
    pub percent: Option<f64>,
    /// The recipe.
    pub recipe: Recipe,
    /// Recipes offered for this agent.
    pub recipes: Vec<RecipeChoice>,
    /// The tool.
    pub measure: Tool,
    /// Tools that can be used here.
    pub measures: Vec<Tool>,
    /// Whose taste.
    pub taste: Taste,
    /// Minutes of soaking.
    pub soak_minutes: f64,
    /// Fresh baths one after the other.
    #[serde(default = "one")]
    pub baths: u32,
}

const fn one() -> u32 {
    1
}

/// The same clean with the next strength up, for when a bath with soak was not enough.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stronger {
    /// The bath.
    pub bath: Mixed,
    /// Minutes of soaking.
    pub soak_minutes: f64,
    /// Its rinse.
    pub rinse: Rinse,
    /// How it is mixed.
    pub mix: Step,
}

/// A journal entry that led to a clean.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Because {
    /// The entry.
    pub entry_id: String,
    /// The entry in words.
    pub text: String,
}

/// A whole plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Plan {
    /// The brewer.
    pub brewer_id: String,
    /// Its nickname when the plan was made.
    pub nickname: String,
    /// The circuit.
    pub circuit_id: String,
    /// What was chosen.
    pub chosen: Chosen,
    /// Chalk expected.
    pub chalk: Chalk,
    /// The bath.
    pub bath: Mixed,
    /// Its dispenses.
    pub dispensing: Dispensing,
    /// The soak.
    pub soak: Soak,
    /// The rinse.
    pub rinse: Rinse,
    /// Which small work it is for, where it is one.
    #[serde(default)]
    pub job: Option<Job>,
    /// Whether the brewer has a drip tray, which is washed with its parts.
    #[serde(default)]
    pub has_tray: bool,
    /// Steps in order.
    pub steps: Vec<Step>,
    /// What is taken as usual because nobody has told: asked at the step where it shows.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub open: Vec<OpenFact>,
    /// Time.
    pub ribbon: Ribbon,
    /// What to lay out.
    pub kit: Vec<String>,
    /// Why it is so, one line each.
    pub reasons: Vec<String>,
    /// Cautions of the bath.
    pub warnings: Vec<String>,
    /// Chalk that is likely left after the planned baths; absent in plans from before it was told with its band.
    #[serde(default)]
    pub after: Option<Chalk>,
    /// The most that comes out between two visits.
    pub vessel: Measure,
    /// Reservoir to its top mark, mL.
    #[serde(default)]
    pub reservoir_ml: f64,
    /// What it costs.
    #[serde(default)]
    pub cost: Option<Cost>,
    /// What it is for.
    #[serde(default)]
    pub work: Work,
    /// "pod side", where the brewer has several.
    #[serde(default)]
    pub side: Option<String>,
    /// The next strength up, in plans from before further baths were planned when they are wanted.
    #[serde(default)]
    pub stronger: Option<Stronger>,
    /// Strengths at which a further bath may follow, the bath's own first.
    #[serde(default)]
    pub ladder: Vec<Rung>,
    /// Fresh baths that it will likely take.
    #[serde(default = "one")]
    pub likely_baths: u32,
    /// How it flows when all is well.
    #[serde(default)]
    pub healthy: Option<Healthy>,
    /// What was looked into before, and led to it.
    #[serde(default)]
    pub because: Option<Because>,
    /// The side as the simulated brewer knows it; absent in plans from before there was one.
    #[serde(default)]
    pub mechanism: Option<Mechanism>,
    /// Whether its other side was being cleaned when this one began.
    #[serde(default)]
    pub beside: bool,
    /// Formulas, inputs, sources.
    pub working: Vec<Working>,
}

impl Plan {
    /// Checks a plan that comes from outside: what a clean computes with it can then not run over.
    ///
    /// # Errors
    /// One problem per impossible figure or text, by its place.
    pub fn check(&self) -> Result<(), Problems> {
        let value = serde_json::to_value(self);
        let mut problems = Problems::default();
        problems.note(value.map_or(Ok(()), |value| document::check(&value)));
        problems.note(self.rinse.check("rinse"));
        problems.note(bounds::STEP_MINUTES.check("soak.minutes", self.soak.minutes));
        problems.note(bounds::PER_CENT.check("bath.percent", self.bath.percent));
        problems.note(bounds::PLANNED.check("chosen.baths", f64::from(self.chosen.baths)));
        if let Some(stronger) = &self.stronger {
            problems.note(stronger.rinse.check("stronger.rinse"));
            let minutes = stronger.soak_minutes;
            problems.note(bounds::STEP_MINUTES.check("stronger.soak_minutes", minutes));
        }
        problems.note(check_steps(&self.steps));
        problems.or(Some(()))
    }

    /// What its baths do when it is carried out as it stands; nothing in plans from before their acid was kept.
    #[must_use]
    pub fn baths(&self) -> Option<Bathed> {
        crate::bathing::planned(&self.steps, &self.bath)
    }

    /// mL or g of agent in one bath.
    #[must_use]
    pub fn agent_amount(&self) -> Option<f64> {
        let measured = self.bath.agent.as_ref().map(|measure| measure.ml);
        measured.or(self.bath.powder_g)
    }

    /// What it uses of `agent` and everything else that costs.
    pub(super) fn uses<'a>(&'a self, agent: &'a Agent) -> Uses<'a> {
        Uses {
            agent,
            bath: &self.bath,
            baths: self.chosen.baths,
            water_ml: self.rinse.water.ml + f64::from(self.chosen.baths) * self.bath.water.ml,
            hands_on_min: self.ribbon.hands_on_min,
        }
    }
}

/// Checks steps that come from outside.
pub(super) fn check_steps(steps: &[Step]) -> Result<(), Problems> {
    let mut problems = Problems::default();
    if steps.is_empty() {
        let message = "a plan has at least one step";
        problems
            .0
            .push(Problem::new(Code::Missing, "steps", message));
    }

    let mut ids = HashSet::new();
    for step in steps {
        let place = format!("steps.{}", step.id);
        problems.note(text::id("id", &step.id).map_err(|p| p.within(&place)));
        if !ids.insert(step.id.as_str()) {
            let message = format!("\"{}\" stands here twice", step.id);
            problems
                .0
                .push(Problem::new(Code::Contradiction, &place, message));
        }
        problems.note(step.doing.check(&place));
        for (name, minutes) in [
            ("hands_on_min", step.hands_on_min),
            ("near_min", step.near_min),
            ("hands_free_min", step.hands_free_min),
        ] {
            problems.note(bounds::STEP_MINUTES.check(&format!("{place}.{name}"), minutes));
        }
    }
    problems.or(Some(()))
}

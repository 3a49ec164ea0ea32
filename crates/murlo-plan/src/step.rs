//! A step: what is done in it, what it looks at, and the cautions that belong to it.

use crate::answers::{AnswerId, QuestionId};
use crate::{Correction, Kind};
use murlo_base::bounds;
use murlo_base::problem::Problem;
use murlo_brewer::instruction::Instruction;
use murlo_brewer::{Needle, Signal};
use serde::{Deserialize, Serialize};

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
    pub id: AnswerId,
    /// Words on the button.
    pub text: String,
}

/// A question asked at the end.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Question {
    /// Name in data.
    pub id: QuestionId,
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
    pub(crate) fn check(&self, place: &str) -> Result<(), Problem> {
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

    /// Whether the cleaning mode is entered in it, at its start or with a fill.
    #[must_use]
    pub fn enters_mode(&self) -> bool {
        self.acts(2).any(|act| *act == Instruction::EnterMode)
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

/// Something that is taken as usual, with what may be answered.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OpenFact {
    /// What is asked.
    pub text: String,
    /// What may be answered.
    pub answers: Vec<OpenAnswer>,
}

/// One answer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OpenAnswer {
    /// "8 fl oz".
    pub label: String,
    /// What it tells.
    pub fact: Correction,
    /// Needles to show it by.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub needles: Vec<Needle>,
}

impl OpenFact {
    /// Whether it shows at such a step.
    pub fn shows_at(&self, kind: Kind) -> bool {
        self.answers.iter().any(|answer| answer.fact.shows_at(kind))
    }

    /// Whether `fact` answers it.
    pub fn is_answered_by(&self, fact: Correction) -> bool {
        self.answers.iter().any(|answer| answer.fact == fact)
    }
}

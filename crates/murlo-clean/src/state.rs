//! Where a clean stands, as it is shown: its steps, what may be done next, what is in the machine.

use super::act::{Act, ClearingTool};
use super::outcome::{Outcome, PouredBath};
use super::seen::{Flow, Glass, GlassOf};
use jiff::Timestamp;
use murlo_brewer::{Needle, Spot};
use murlo_plan::{Inside, Kind, Step};
use serde::{Deserialize, Serialize};

/// A timer on the wall clock.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Timer {
    /// When it was started.
    pub started_at: Timestamp,
    /// When it ends.
    pub ends_at: Timestamp,
}

/// Where a step stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Standing {
    /// Not yet.
    Todo,
    /// Now.
    Current,
    /// Done.
    Done,
}

/// A step's progress.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StepState {
    /// The step.
    pub id: String,
    /// Where it stands.
    pub standing: Standing,
    /// How many were counted.
    pub count: u32,
    /// How many are expected.
    pub target: u32,
    /// Its timer, once started.
    pub timer: Option<Timer>,
}

/// What the answers come to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// Finished.
    Good,
    /// More rinses.
    RinseMore,
    /// The same bath once more, with soak.
    BathAgain,
    /// The next strength up.
    Stronger,
    /// It still flows badly: the needles once more.
    ClearAgain,
    /// The nose was tired: smell again in another way.
    SmellAgain,
    /// Unplug for half a minute, then look again.
    ResetLight,
    /// The maker or a repairer.
    Refer,
}

/// Nobody remembers what is in a brewer that was left for hours: it is looked at before anything else.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AskedInside {
    /// From this instant on.
    pub from: Timestamp,
    /// From this instant on, on a device that did not do the last act.
    pub from_elsewhere: Timestamp,
}

/// A button: what it says and what it does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Choice {
    /// Its label: the act itself.
    pub label: String,
    /// What is sent.
    pub act: Act,
    /// What is asked once more before it is sent.
    pub ask: Option<Ask>,
}

impl Choice {
    pub(super) fn new(label: impl Into<String>, act: Act) -> Self {
        Self {
            label: label.into(),
            act,
            ask: None,
        }
    }

    pub(super) fn asking(self, ask: Option<Ask>) -> Self {
        Self { ask, ..self }
    }
}

/// What is asked once more, because it can hardly be meant.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Ask {
    /// The consequence, in figures.
    pub text: String,
    /// Label of the button that means it.
    pub sure: String,
    /// Asked only before this instant.
    pub until: Option<Timestamp>,
}

/// A figure of the brewer that is taken as usual, asked where it shows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Asked {
    /// What is asked.
    pub text: String,
    /// What may be answered.
    pub answers: Vec<AskedAnswer>,
}

/// One answer to it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AskedAnswer {
    /// The button, and what it does.
    pub choice: Choice,
    /// Needles to show it by; none where it is told in words.
    pub needles: Vec<Needle>,
}

/// A note that was taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Note {
    /// When.
    pub at: Timestamp,
    /// What.
    pub text: String,
}

/// How a clean ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Closed {
    /// Finished.
    Finished,
    /// Given up.
    Abandoned,
}

/// Where a clean stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct State {
    /// Its baths as they were poured.
    pub poured: Vec<PouredBath>,
    /// Progress of each step of the plan.
    pub steps: Vec<StepState>,
    /// Index of the current step; absent when all are done.
    pub current: Option<usize>,
    /// Which bath this is, from 1.
    pub round: u32,
    /// Acid left before any rinse and after each, mg/L, up to the target.
    pub levels_mg_l: Vec<f64>,
    /// The verdict that waits to be followed.
    pub verdict: Option<Verdict>,
    /// What the verdict means, in a sentence.
    pub verdict_text: Option<String>,
    /// What is in the machine.
    pub inside: Inside,
    /// "Acid is inside. Plugged in." for a note or a second person.
    pub inside_text: String,
    /// Whether it is plugged in.
    pub plugged: bool,
    /// Whether it is in its cleaning mode, which lives on power.
    pub in_mode: bool,
    /// Whether its water filter is in it.
    pub filter_in: bool,
    /// Stopped for now.
    pub paused: bool,
    /// Ended.
    pub closed: Option<Closed>,
    /// What it came to, once finished.
    pub outcome: Option<Outcome>,
    /// The same as a line.
    pub outcome_text: Option<String>,
    /// Notes taken.
    pub notes: Vec<Note>,
    /// The one next act; absent on questions, which the person answers first, and once the clean has ended.
    pub next: Option<Choice>,
    /// The act that ends the current step; absent where nothing can end it now.
    pub finish: Option<Choice>,
    /// Acid left inside by a clean that has ended: the brewer stays marked until it is rinsed, or somebody vouches for it.
    pub acid_left: Option<String>,
    /// When it will be done, by what is still to do.
    pub done_about: Option<Timestamp>,
    /// What belongs beside it: fill the reservoir, how much acid is left.
    pub hint: Option<String>,
    /// What else may be done.
    pub others: Vec<Choice>,
    /// The event that undo takes back.
    pub undo: Option<String>,
    /// The current step as it is now done.
    pub step: Option<Step>,
    /// What it is.
    pub kind: Option<Kind>,
    /// Further baths that may be asked for here, whatever the answers come to.
    pub further: Vec<Choice>,
    /// Whether it can be told here that the bath was poured otherwise.
    pub may_be_poured_otherwise: bool,
    /// Facts of the brewer that can be put right here, each with what somebody says who noticed it.
    pub corrections: Vec<Choice>,
    /// What nobody has told of this brewer and can be seen here.
    pub asked: Vec<Asked>,
    /// Steps that may be done now, while the machine works.
    pub meanwhile: Vec<String>,
    /// The glasses so far.
    pub glasses: Vec<Glass>,
    /// Which glass to look at next.
    pub glass_next: GlassOf,
    /// Whether a glass can be looked at now, beside what is to be done.
    pub shows_glass: bool,
    /// Cups that were timed.
    pub flow: Vec<Flow>,
    /// What the timed cups come to.
    pub flow_text: Option<String>,
    /// Whether the last of them flowed worse than when all is well.
    pub flow_is_poor: bool,
    /// Places of the needles that are clear.
    pub clear: Vec<Spot>,
    /// What they are cleared with.
    pub tool: Option<ClearingTool>,
    /// What to mind with it.
    pub tool_text: Option<String>,
    /// What it means when the timer of the current step has run over.
    pub late_text: Option<String>,
    /// From when on the current soak was forgotten rather than late, and what that means.
    pub forgotten: Option<Forgotten>,
    /// From when on somebody who comes back is asked what is in it.
    pub asks_inside: Option<AskedInside>,
}

/// A soak that nobody came back to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Forgotten {
    /// From then on.
    pub at: Timestamp,
    /// What to do.
    pub text: String,
}

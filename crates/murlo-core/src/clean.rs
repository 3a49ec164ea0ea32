//! A running clean as a list of events: what has happened, what may come next, what is in the machine now.
//!
//! `replay` folds events over the frozen plan; nothing else decides where a clean stands. Undo is an event too. The
//! serialized [`Act`] and [`Event`] are stored for good: variants are only ever added.

mod ahead;
mod bathing;
mod choices;
mod judge;
mod left_out;
mod outcome;
mod progress;
mod seen;
mod stages;
mod stand;

pub use ahead::{Ahead, ahead};
pub(crate) use bathing::planned;
pub use seen::{Flow, Glass, GlassOf, GlassSeen, RATINGS, Sampled};

use crate::bath::Taken;
use crate::belief::{Checks, Told};
use crate::bounds;
use crate::brewer::{Needle, Spot};
use crate::cleaning::Bathed;
use crate::history::DID;
use crate::history::{CLEARED, FITTED, TIMED};
use crate::journal::{Entry, What};
use crate::pace::Took;
use crate::plan::{Because, Inside, Kind, Moment, Plan, Stage, Step, Wish, Work};
use crate::problem::{Code, Problem};
use crate::rinse::Counted;
use crate::text;
use crate::upkeep::Job;
use jiff::civil::Date;
use jiff::{SignedDuration, Timestamp};
use progress::Progress;
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use std::collections::BTreeMap;

/// What a clean came to, fixed when it ends.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Outcome {
    /// The civil day it ended.
    pub day: Date,
    /// Baths run.
    pub rounds: u32,
    /// Rinses counted after the last bath.
    pub rinses: u32,
    /// "White vinegar, 2.5 %, soaked 25 min".
    pub text: String,
    /// Whether somebody overruled a verdict.
    pub overruled: bool,
    /// Whether the bath brought a lot of chalk out (or none), as older versions had it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub showed_chalk: Option<bool>,
    /// What was seen of the chalk.
    #[serde(default)]
    pub seen: Option<Evidence>,
    /// What its baths did.
    #[serde(default)]
    pub bathed: Option<Bathed>,
    /// Its agent and recipe.
    #[serde(default)]
    pub taken: Option<Taken>,
    /// Seconds of a cup that was timed before it.
    #[serde(default)]
    pub cup_before_s: Option<f64>,
    /// What the clean was for.
    #[serde(default)]
    pub work: Work,
    /// Minutes the programme took, when it was timed.
    #[serde(default)]
    pub programme_min: Option<f64>,
    /// The glasses.
    #[serde(default)]
    pub glasses: Vec<Glass>,
    /// "5 of 6 places cleared with a paper clip; 40 s before, 22 s after".
    #[serde(default)]
    pub needles: Option<String>,
    /// What was looked at in the end, a line each: "Smell: nobody notices, by a second person".
    #[serde(default)]
    pub checks: Vec<String>,
    /// What was decided against advice, a line each.
    #[serde(default)]
    pub overrules: Vec<String>,
    /// What was looked into before, and led to it.
    #[serde(default)]
    pub because: Option<Because>,
    /// Dispenses the last bath gave.
    #[serde(default)]
    pub bath_counted: Option<Counted>,
    /// Dispenses one filled reservoir gave while rinsing.
    #[serde(default)]
    pub fill_counted: Option<Counted>,
    /// Whether a new water filter was fitted in it.
    #[serde(default)]
    pub filter_fitted: bool,
    /// Small works that were done in it, or by it; versions before there were any did not tell.
    #[serde(default)]
    pub jobs: Option<Vec<Job>>,
    /// Agent that went into its baths, mL or g.
    #[serde(default)]
    pub used: Option<f64>,
    /// Acid that was still inside when it ended.
    #[serde(default)]
    pub acid_left: Option<AcidLeft>,
    /// How long steps took that hands were at.
    #[serde(default)]
    pub took: Vec<Took>,
}

/// What was seen of the chalk in a clean.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Evidence {
    /// How much came out with the baths, as told.
    pub brought: Option<Told>,
    /// Whether chips came.
    pub bits: bool,
    /// Baths that came out brown.
    pub brown_baths: u32,
    /// What was seen of the result.
    pub checks: Checks,
}

/// Acid that a clean left inside, more than people let pass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AcidLeft {
    /// How much, mg/L.
    pub mg_l: f64,
    /// Where nobody notices, mg/L.
    pub target_mg_l: f64,
}

impl AcidLeft {
    /// "about 240 times what people notice".
    #[must_use]
    pub fn times(&self) -> String {
        crate::rinse::times_noticed(self.mg_l.max(1.1 * self.target_mg_l), self.target_mg_l)
    }
}

impl Outcome {
    /// What was seen of the chalk, also where an older version wrote it down.
    #[must_use]
    pub fn evidence(&self) -> Evidence {
        let older = Evidence {
            brought: self.showed_chalk.map(|lot| match lot {
                true => Told::Lot,
                false => Told::None,
            }),
            ..Evidence::default()
        };
        self.seen.unwrap_or(older)
    }

    /// What it tells besides descaling, as entries: a cup timed before, needles only where there were any to clear, a filter
    /// only where a new one went in.
    #[must_use]
    pub fn told_besides(&self, clean_id: &str, brewer_id: &str, circuit_id: &str) -> Vec<Entry> {
        let entry = |start: &str, what| Entry {
            id: format!("{start}{clean_id}"),
            brewer_id: brewer_id.to_owned(),
            day: self.day,
            at: None,
            what,
        };
        let needles = self.needles.is_some() || self.work == Work::Needles;
        let mut entries = Vec::new();
        entries.extend(self.cup_before_s.map(|seconds| {
            let (circuit_id, cup_ml) = (circuit_id.to_owned(), None);
            let timed = What::Timed {
                circuit_id,
                seconds,
                cup_ml,
            };
            entry(TIMED, timed)
        }));
        entries.extend(needles.then(|| entry(CLEARED, What::NeedlesCleared)));
        // Parts and tray always stood in the plan of a whole clean.
        let always: &[Job] = match self.work {
            Work::Descale => &[Job::Wash, Job::Tray],
            _ => &[],
        };
        let jobs = self.jobs.as_deref().unwrap_or(always);
        entries.extend(jobs.iter().map(|job| {
            let start = format!("{DID}{job:?}-").to_lowercase();
            entry(&start, What::Did { job: *job })
        }));
        entries.extend(
            self.filter_fitted
                .then(|| entry(FITTED, What::FilterFitted)),
        );
        entries
    }

    /// "White vinegar, 2.5 %, soaked 25 min; 8 rinses; against advice".
    #[must_use]
    pub fn line(&self) -> String {
        let mut line = self.text.clone();
        if let (Work::Needles, Some(needles)) = (self.work, &self.needles) {
            line = format!("Needles: {needles}");
        } else if self.work == Work::Descale {
            line.push_str(&format!(
                "; {}",
                text::count(self.rinses, "rinse", "rinses")
            ));
        }
        if self.overruled {
            line.push_str("; against advice");
        }
        line
    }
}

/// What a needle is cleared with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ClearingTool {
    /// A straightened paper clip.
    Clip,
    /// A small brush.
    Brush,
    /// A pick of wood.
    Wood,
    /// A tool that came with the brewer.
    Own,
}

impl ClearingTool {
    const fn words(self) -> &'static str {
        match self {
            Self::Clip => "a paper clip",
            Self::Brush => "a small brush",
            Self::Wood => "a wooden pick",
            Self::Own => "the brewer's own tool",
        }
    }

    /// What to mind with it.
    const fn advice(self) -> &'static str {
        match self {
            Self::Clip => {
                "Straightened, bent at the tip for side holes. Never far up: a soft tube lies behind."
            }
            Self::Brush => {
                "For the outside and the rubber grooves; it does not reach into the holes."
            }
            Self::Wood => "Not advised: wood snaps off inside. Take a paper clip.",
            Self::Own => "As its leaflet says.",
        }
    }
}

/// What a person did.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Act {
    /// Finished a step.
    Done {
        /// The step.
        step: String,
    },
    /// Leaves a step out.
    LeftOut {
        /// The step.
        step: String,
    },
    /// Counted one.
    Counted {
        /// The step.
        step: String,
    },
    /// Saw that the machine asks for water: that ends a bath, and one fill of a rinse.
    WantsWater {
        /// The step.
        step: String,
    },
    /// Lost the count, or what was counted does not hold: goes on from another number.
    Recounted {
        /// The step.
        step: String,
        /// How many still count.
        count: i64,
    },
    /// Started the timer of a step.
    Started {
        /// The step.
        step: String,
    },
    /// Answered the questions of a step.
    Answered {
        /// The step.
        step: String,
        /// Question id to answer id.
        answers: BTreeMap<String, String>,
    },
    /// Cleared a place of a needle, or found it blocked again.
    Cleared {
        /// The step.
        step: String,
        /// The place.
        spot: Spot,
        /// Whether the tool came out clean.
        clear: bool,
    },
    /// Chose what the needles are cleared with.
    Tool {
        /// The tool.
        tool: ClearingTool,
    },
    /// Timed a cup and counted its streams.
    Measured {
        /// The step.
        step: String,
        /// Seconds from the first drop to the last.
        seconds: Option<f64>,
        /// Streams that fell.
        streams: Option<f64>,
    },
    /// Looked at a glass.
    Looked {
        /// What was seen.
        glass: GlassSeen,
    },
    /// Read off the machine how long its programme still takes.
    TimeLeft {
        /// The step.
        step: String,
        /// Minutes.
        minutes: f64,
    },
    /// Takes the way the verdict advises.
    Followed,
    /// Wishes for more than was planned: a further bath, the needles once more, the rest by another fact of the brewer.
    Planned {
        /// What.
        wish: Wish,
        /// What was planned, filled in when the event is taken in.
        #[serde(default)]
        stage: Option<Box<Stage>>,
    },
    /// Goes on against the verdict.
    Overruled,
    /// Wrote a note.
    Noted {
        /// The note.
        text: String,
    },
    /// Stopped for now.
    Paused,
    /// Came back.
    Resumed,
    /// Took the last act back.
    Undone {
        /// The act's event.
        event: String,
    },
    /// Ended the clean.
    Finished {
        /// Filled in when the event is taken in.
        #[serde(default)]
        outcome: Option<Outcome>,
    },
    /// Gave the clean up.
    Abandoned {
        /// Acid that stays inside, filled in when the event is taken in.
        #[serde(default)]
        acid: Option<AcidLeft>,
    },
    /// Says by name that a brewer whose clean ended with acid inside may be drunk from.
    Vouched {
        /// Who says it.
        by: String,
        /// What the clean came to, filled in when the event is taken in.
        #[serde(default)]
        outcome: Option<Outcome>,
    },
    /// Opened a closed clean again.
    Reopened,
}

impl Act {
    /// Whether it ends a clean, opens it again, or says what its end means.
    #[must_use]
    pub const fn is_closing(&self) -> bool {
        matches!(
            self,
            Self::Finished { .. } | Self::Abandoned { .. } | Self::Vouched { .. } | Self::Reopened
        )
    }

    /// The act as a person sends it: without what is filled in when it is taken in.
    #[must_use]
    pub fn as_sent(&self) -> Self {
        match self {
            Self::Finished { .. } => Self::Finished { outcome: None },
            Self::Abandoned { .. } => Self::Abandoned { acid: None },
            Self::Vouched { by, .. } => Self::Vouched {
                by: by.clone(),
                outcome: None,
            },
            Self::Planned { wish, .. } => Self::Planned {
                wish: wish.clone(),
                stage: None,
            },
            other => other.clone(),
        }
    }
}

/// An act with its identity and time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Event {
    /// Made by the device, so that sending twice is harmless.
    pub id: String,
    /// When it happened, by the server's clock.
    pub at: Timestamp,
    /// When the device says it happened.
    pub device_at: Option<Timestamp>,
    /// What was done.
    pub act: Act,
}

impl Event {
    /// Checks what replaying it does not.
    ///
    /// # Errors
    /// A wrong id, note or instant by its field.
    pub fn check(&self) -> Result<(), Problem> {
        text::id("id", &self.id)?;
        bounds::instant("at", self.at)?;
        match &self.act {
            Act::Noted { text } => text::note("act.text", text).map(drop),
            Act::Vouched { by, .. } => text::name("act.by", by).map(drop),
            Act::Planned {
                stage: Some(stage), ..
            } => stage.check().map_err(Problem::from),
            _ => Ok(()),
        }
    }
}

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
    fn new(label: impl Into<String>, act: Act) -> Self {
        Self {
            label: label.into(),
            act,
            ask: None,
        }
    }

    fn asking(self, ask: Option<Ask>) -> Self {
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
}

/// Where a clean stands after `events`.
///
/// # Errors
/// `DoesNotFit` for the first event that does not follow from those before it.
pub fn replay(plan: &Plan, events: &[Event]) -> Result<State, Problem> {
    stands(plan, events).map(|(_, state)| state)
}

/// The plan with everything that `events` added to it, and where the clean stands in it.
///
/// # Errors
/// As [`replay`].
pub fn stands<'a>(plan: &'a Plan, events: &[Event]) -> Result<(Cow<'a, Plan>, State), Problem> {
    let Folded {
        plan,
        progress,
        undo,
    } = fold(plan, events)?;
    let state = progress.state(&plan, undo);
    Ok((plan, state))
}

/// Plans what is wished for in a running clean.
pub type Planner<'a> = &'a dyn Fn(&Moment, &Wish) -> Result<Stage, Problem>;

/// Takes `event` in after `history`: the event to store, with the outcome or what `planner` planned filled in, and the state
/// after it.
///
/// # Errors
/// `DoesNotFit` naming what was expected instead; a wrong note or id by its field.
pub fn admit(
    plan: &Plan,
    history: &[Event],
    mut event: Event,
    today: Date,
    planner: Planner,
) -> Result<(Event, State), Problem> {
    event.act = event.act.as_sent();
    event.check()?;
    match &mut event.act {
        Act::Noted { text } => *text = text::note("act.text", text)?,
        Act::Vouched { by, .. } => *by = text::name("act.by", by)?,
        _ => {}
    }
    // A device whose clock jumped back does not turn the order round.
    event.at = history
        .last()
        .map_or(event.at, |last| event.at.max(last.at));
    let before = fold(plan, history)?;
    match &mut event.act {
        Act::Finished { outcome } => {
            *outcome = Some(before.progress.come_to(&before.plan, today, event.at));
        }
        Act::Abandoned { acid } => *acid = before.progress.acid_left(&before.plan),
        Act::Vouched { outcome, .. } => {
            *outcome = before.progress.outcome.clone().map(|outcome| Outcome {
                acid_left: None,
                ..outcome
            });
        }
        Act::Planned { wish, stage } => {
            let moment = before.progress.may_plan(&before.plan, wish)?;
            *stage = Some(Box::new(planner(&moment, wish)?));
        }
        _ => {}
    }
    let mut events = history.to_vec();
    events.push(event.clone());
    let state = replay(plan, &events)?;
    Ok((event, state))
}

/// When an act happened, by the clock on which it arrived at `now`: as long before as it waited on its device, whose own
/// clock may be wrong but runs evenly. A wait that cannot be right counts as none.
#[must_use]
pub fn happened_at(
    now: Timestamp,
    device_at: Option<Timestamp>,
    sent_at: Option<Timestamp>,
) -> Timestamp {
    let waited = device_at
        .zip(sent_at)
        .map(|(at, sent)| sent.duration_since(at));
    waited
        .filter(|waited| (SignedDuration::ZERO..LONGEST_WAIT).contains(waited))
        .and_then(|waited| now.checked_sub(waited).ok())
        .unwrap_or(now)
}

/// An act is not believed to have waited longer than this.
const LONGEST_WAIT: SignedDuration = SignedDuration::from_hours(48);

fn unfit(message: impl Into<String>) -> Problem {
    Problem::new(Code::DoesNotFit, "act", message)
}

/// What events come to.
struct Folded<'a> {
    /// The plan with everything that was added to it.
    plan: Cow<'a, Plan>,
    progress: Progress,
    /// The event that undo takes back.
    undo: Option<String>,
}

fn fold<'a>(plan: &'a Plan, events: &[Event]) -> Result<Folded<'a>, Problem> {
    let mut effective: Vec<&Event> = Vec::with_capacity(events.len());
    for event in events {
        if let Act::Undone { event: target } = &event.act {
            match effective.last() {
                Some(last) if last.id == *target && undoable(&last.act) => {
                    effective.pop();
                }
                _ => {
                    return Err(unfit(
                        "that act is not the last one any more: look at where the clean stands, then undo again",
                    ));
                }
            }
        } else {
            effective.push(event);
        }
    }
    let mut plan = Cow::Borrowed(plan);
    let mut progress = Progress::new(&plan);
    for event in &effective {
        progress.apply(&mut plan, &event.act, event.at)?;
    }
    let undo = effective
        .last()
        .filter(|e| undoable(&e.act) && progress.closed.is_none())
        .map(|e| e.id.clone());
    Ok(Folded {
        plan,
        progress,
        undo,
    })
}

/// Closing is taken back by opening again, which is an act of its own.
const fn undoable(act: &Act) -> bool {
    !act.is_closing()
}

#[cfg(test)]
pub(crate) mod tests;

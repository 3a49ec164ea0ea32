//! What a person does in a clean, as it is sent and stored for good: variants are only ever added.

use super::outcome::{AcidLeft, Outcome};
use super::seen::GlassSeen;
use jiff::Timestamp;
use murlo_base::problem::{Code, Problem};
use murlo_base::{bounds, text};
use murlo_brewer::Spot;
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::{Stage, Wish};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

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
    pub(super) const fn words(self) -> &'static str {
        match self {
            Self::Clip => "a paper clip",
            Self::Brush => "a small brush",
            Self::Wood => "a wooden pick",
            Self::Own => "the brewer's own tool",
        }
    }

    /// What to mind with it.
    pub(super) const fn advice(self) -> &'static str {
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

/// What a sniff at the outlet told.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FoundSmell {
    /// Sour, or like the agent.
    Sour,
    /// Nothing.
    Nothing,
    /// It cannot be told.
    Unsure,
}

/// What stands where the water goes in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FoundTank {
    /// The bath: it smells, or is cloudy or coloured.
    Bath,
    /// Clear water without a smell.
    Water,
    /// Nothing.
    Nothing,
}

/// What somebody found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FoundInside {
    /// At the outlet.
    pub smell: FoundSmell,
    /// Where the water goes in.
    pub tank: FoundTank,
    /// Whether it is plugged in.
    pub plugged: bool,
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
        answers: BTreeMap<QuestionId, AnswerId>,
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
    /// Looked what is in the brewer: whoever comes back to one that was left.
    Found {
        /// What was found.
        found: FoundInside,
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
        /// What it came to until then, filled in when the event is taken in; versions before it was kept did not tell.
        #[serde(default)]
        outcome: Option<Box<Outcome>>,
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
    /// Giving up, as a person sends it.
    #[must_use]
    pub const fn give_up() -> Self {
        Self::Abandoned {
            acid: None,
            outcome: None,
        }
    }

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
            Self::Abandoned { .. } => Self::give_up(),
            Self::Vouched { by, .. } => Self::Vouched {
                by: by.clone(),
                outcome: None,
            },
            Self::Planned { wish, .. } => Self::Planned {
                wish: wish.clone(),
                stage: None,
            },
            other @ (Self::Done { .. }
            | Self::LeftOut { .. }
            | Self::Counted { .. }
            | Self::WantsWater { .. }
            | Self::Recounted { .. }
            | Self::Started { .. }
            | Self::Answered { .. }
            | Self::Cleared { .. }
            | Self::Tool { .. }
            | Self::Measured { .. }
            | Self::Looked { .. }
            | Self::TimeLeft { .. }
            | Self::Followed
            | Self::Overruled
            | Self::Noted { .. }
            | Self::Found { .. }
            | Self::Paused
            | Self::Resumed
            | Self::Undone { .. }
            | Self::Reopened) => other.clone(),
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
    /// Whose device it was, where that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
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
        if let Some(by) = &self.by {
            text::name("by", by)?;
        }
        if let Act::Noted { text } = &self.act {
            text::note("act.text", text)?;
        } else if let Act::Vouched { by, .. } = &self.act {
            text::name("act.by", by)?;
        } else if let Act::Planned {
            stage: Some(stage), ..
        } = &self.act
        {
            stage.check()?;
        }
        Ok(())
    }
}

pub(crate) fn unfit(message: impl Into<String>) -> Problem {
    Problem::new(Code::DoesNotFit, "act", message)
}

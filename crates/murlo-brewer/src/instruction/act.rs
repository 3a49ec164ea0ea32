//! What hands and machine do: each instruction, what it handles, what it washes.

use crate::panel::ScriptPart;
use serde::{Deserialize, Serialize};

/// What is put into a brewer and comes out again.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Thing {
    /// A pod, full.
    Pod,
    /// A capsule, full.
    Capsule,
    /// Grounds in the basket.
    Grounds,
    /// A used capsule, emptied and rinsed, so that water passes.
    EmptyCapsule,
    /// The service disc.
    Disc,
    /// The adapter of a combination's pod side.
    Adapter,
    /// The water filter.
    Filter,
    /// A paper filter in the basket, to catch bits.
    PaperFilter,
    /// A pod that holds something to rinse with.
    RinsePod,
}

impl Thing {
    /// Whether it is there for water or bath to pass, and comes out when that is over.
    #[must_use]
    pub const fn lets_pass(self) -> bool {
        match self {
            Self::EmptyCapsule | Self::Disc | Self::Adapter => true,
            Self::Pod
            | Self::Capsule
            | Self::Grounds
            | Self::Filter
            | Self::PaperFilter
            | Self::RinsePod => false,
        }
    }
}

/// What is washed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum Washed {
    /// The reservoir and its lid, at the sink.
    Reservoir,
    /// The carafe.
    Carafe,
    /// Loose parts, each by its care.
    Parts {
        /// A line for each way of washing: "By hand in hot soapy water: basket, carafe."
        lines: Vec<String>,
        /// Whether hands go into the machine for them.
        #[serde(default)]
        inside: bool,
    },
    /// The outside and the crevices.
    Body {
        /// What the swab is dipped in.
        with: String,
    },
    /// Where the capsule is pierced.
    Seat,
    /// The pod holder that does not come apart.
    Holder {
        /// What it is stood in.
        into: String,
    },
}

/// One act. What it does to a brewer is the simulated brewer's; how it is said, `Wording`'s.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "do", rename_all = "snake_case")]
pub enum Instruction {
    /// Pull the plug.
    Unplug,
    /// Plug in.
    PlugIn,
    /// Switch on.
    SwitchOn,
    /// Switch off.
    SwitchOff,
    /// Leave it plugged in and switched on.
    LeaveOn,
    /// Open the lid or the capsule slot.
    OpenLid,
    /// Close it, with nothing in it that brews.
    CloseLid,
    /// Take something out.
    TakeOut {
        /// What.
        thing: Thing,
    },
    /// Put something in.
    PutIn {
        /// What.
        thing: Thing,
        /// Whether it is a new one.
        #[serde(default)]
        new: bool,
    },
    /// Close the lid on something that is run through.
    CloseOn {
        /// What.
        thing: Thing,
    },
    /// Put a vessel under the outlet.
    PlaceVessel {
        /// The most that comes before it is emptied, mL.
        holds_ml: f64,
    },
    /// Pour the vessel away.
    EmptyVessel,
    /// Pour away what is in the reservoir.
    EmptyReservoir,
    /// Let water out until the float lies at the bottom.
    LowerToFloat,
    /// Pour the bath in.
    PourBath {
        /// How much, mL.
        ml: f64,
        /// Its strength, mg/L; none in a rehearsal.
        mg_l: f64,
        /// How it is measured and mixed.
        lines: Vec<String>,
    },
    /// Fill with fresh water: to the top mark, or one cup.
    FillUp {
        /// How much, mL; to the top when absent.
        ml: Option<f64>,
    },
    /// See that the reservoir holds so much fresh water, and fill in what is missing.
    HaveWater {
        /// At least, mL.
        ml: f64,
    },
    /// Enter the cleaning mode.
    EnterMode,
    /// See that the cleaning mode is still on.
    StillInMode,
    /// Leave the cleaning mode.
    LeaveMode,
    /// Open and close what re-arms it between presses.
    Rearm,
    /// Press for one dispense.
    Press {
        /// How much comes, mL.
        ml: f64,
        /// Whether the cleaning mode must be on.
        in_mode: bool,
    },
    /// Take a cup from the hot-water outlet.
    PressHotWater {
        /// How much comes, mL.
        ml: f64,
    },
    /// Start the cleaning programme and let it run.
    Programme {
        /// How long, minutes.
        minutes: f64,
    },
    /// Brew all that is in the reservoir.
    Brew {
        /// How long, minutes.
        minutes: f64,
    },
    /// Brew half of it, then switch off.
    BrewHalf {
        /// How long, minutes.
        minutes: f64,
    },
    /// Start a cup and switch off at the first drops.
    PauseAtFirstDrops,
    /// Run it empty while it is switched off: hold the button, let go before the pump runs dry.
    Purge,
    /// Wait until what was heated can be touched.
    Cool {
        /// How long, minutes.
        minutes: f64,
    },
    /// Leave the bath where it is.
    Soak {
        /// How long, minutes.
        minutes: f64,
    },
    /// Wash something.
    Wash(Washed),
    /// Clear the needles by hand.
    ClearNeedles {
        /// How each is reached.
        lines: Vec<String>,
    },
    /// Put the do-not-brew note on.
    NoteOn,
    /// Take the note off.
    NoteOff,
    /// What to look at or to know; it changes nothing.
    Mind {
        /// In words.
        text: String,
    },
}

impl Instruction {
    /// A remark.
    #[must_use]
    pub fn mind(text: impl Into<String>) -> Self {
        Self::Mind { text: text.into() }
    }

    /// Whether it is there for safety: not a remark, and not the very work whose leaving out only leaves that undone.
    #[must_use]
    pub const fn is_for_safety(&self) -> bool {
        !matches!(
            self,
            Self::Mind { .. }
                | Self::LeaveOn
                | Self::NoteOn
                | Self::Soak { .. }
                | Self::ClearNeedles { .. }
                | Self::PutIn {
                    thing: Thing::PaperFilter,
                    ..
                }
                | Self::Wash(Washed::Carafe | Washed::Parts { .. } | Washed::Body { .. })
        )
    }

    /// Which of its buttons it takes.
    #[must_use]
    pub const fn takes_buttons(&self) -> Option<ScriptPart> {
        Some(match self {
            Self::EnterMode | Self::Programme { .. } => ScriptPart::Enter,
            Self::LeaveMode => ScriptPart::Leave,
            Self::Rearm => ScriptPart::Rearm,
            Self::Press { in_mode: true, .. } => ScriptPart::Press,
            Self::Press { in_mode: false, .. }
            | Self::Brew { .. }
            | Self::BrewHalf { .. }
            | Self::PauseAtFirstDrops => ScriptPart::Cup,
            Self::Purge => ScriptPart::Purge,
            Self::Unplug
            | Self::PlugIn
            | Self::SwitchOn
            | Self::SwitchOff
            | Self::LeaveOn
            | Self::OpenLid
            | Self::CloseLid
            | Self::TakeOut { .. }
            | Self::PutIn { .. }
            | Self::CloseOn { .. }
            | Self::PlaceVessel { .. }
            | Self::EmptyVessel
            | Self::EmptyReservoir
            | Self::LowerToFloat
            | Self::PourBath { .. }
            | Self::FillUp { .. }
            | Self::HaveWater { .. }
            | Self::StillInMode
            | Self::PressHotWater { .. }
            | Self::Cool { .. }
            | Self::Soak { .. }
            | Self::Wash(_)
            | Self::ClearNeedles { .. }
            | Self::NoteOn
            | Self::NoteOff
            | Self::Mind { .. } => return None,
        })
    }
}

//! Shapes of requests and answers that are not the core's own.

use jiff::Timestamp;
use jiff::civil::Date;
use murlo_core::bath::Agent;
use murlo_core::brewer::{BrewerDraft, Family};
use murlo_core::clean::{Act, Outcome, State};
use murlo_core::counter::BrewerCard;
use murlo_core::household::{Home, Settings};
use murlo_core::plan::{Plan, PlanOptions};
use murlo_core::water::Water;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The Counter.
#[derive(Serialize, ToSchema)]
pub struct CounterView {
    /// The household's day.
    pub today: Date,
    /// Brewers, most urgent first.
    pub brewers: Vec<BrewerCard>,
}

/// What forms choose from.
#[derive(Serialize, ToSchema)]
pub struct HouseholdView {
    /// Settings.
    pub settings: Settings,
    /// The household's day.
    pub today: Date,
    /// Homes.
    pub homes: Vec<Home>,
    /// Waters with their class.
    pub waters: Vec<WaterView>,
    /// Agents.
    pub agents: Vec<Agent>,
    /// Whether nobody has told anything yet.
    pub empty: bool,
}

/// A water in words.
#[derive(Serialize, ToSchema)]
pub struct WaterView {
    /// The water.
    pub water: Water,
    /// "about 320 mg/L, very hard, from a strip".
    pub text: String,
}

/// A home as typed.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HomeDraft {
    /// Its name.
    pub name: String,
}

/// A family with its starting figures.
#[derive(Serialize, ToSchema)]
pub struct FamilyView {
    /// The family.
    pub family: Family,
    /// Its name.
    pub label: String,
    /// The form, filled with starting figures.
    pub draft: BrewerDraft,
}

/// One brewer.
#[derive(Serialize, ToSchema)]
pub struct BrewerView {
    /// Its card.
    pub card: BrewerCard,
    /// Its form, to edit.
    pub draft: BrewerDraft,
    /// What was done to it.
    pub log: Vec<LogLine>,
}

/// Starts a clean.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StartClean {
    /// Made by the device.
    pub id: String,
    /// What was chosen.
    #[serde(default)]
    pub options: PlanOptions,
}

/// An act as a device sends it.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SentEvent {
    /// Made by the device, so that sending twice is harmless.
    pub id: String,
    /// When the device says it happened.
    pub device_at: Option<Timestamp>,
    /// What was done.
    pub act: Act,
}

/// A clean.
#[derive(Serialize, ToSchema)]
pub struct CleanView {
    /// Identity.
    pub id: String,
    /// The frozen plan.
    pub plan: Plan,
    /// Where it stands.
    pub state: State,
    /// The server's time, against which timers count.
    pub now: Timestamp,
}

/// A line of the log.
#[derive(Serialize, ToSchema)]
pub struct LogLine {
    /// The clean; absent when it was told afterwards.
    pub clean_id: Option<String>,
    /// The past clean, when told afterwards.
    pub past_id: Option<String>,
    /// The brewer.
    pub brewer_id: String,
    /// Its nickname.
    pub nickname: String,
    /// The day.
    pub day: Date,
    /// "23 Nov".
    pub day_text: String,
    /// What was done.
    pub text: String,
    /// What it came to, for a guided clean.
    pub outcome: Option<Outcome>,
}

/// A clean told afterwards.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PastCleanDraft {
    /// The day.
    pub day: Date,
    /// What was done.
    pub note: String,
}

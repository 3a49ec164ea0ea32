//! What may be asked of a plan.

use murlo_base::units::Tool;
use murlo_brewer::Outlet;
use murlo_brewer::bath::Recipe;
use murlo_brewer::job::Job;
use murlo_brewer::rinse::Taste;
use serde::{Deserialize, Serialize};

/// More baths than this belong to a repairer.
pub(crate) const MOST_BATHS: u32 = 4;

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
    /// Whether it is done in a way that the household keeps; the latest one unless said, where no bath is chosen.
    pub way: Option<WayWish>,
}

/// Whose way it is done in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum WayWish {
    /// As is advised, whatever is kept.
    Advised,
    /// In this one.
    Kept {
        /// The way.
        id: String,
    },
}

impl PlanOptions {
    /// Whether a bath was chosen, or anything of it.
    #[must_use]
    pub const fn chooses_a_bath(&self) -> bool {
        self.agent_id.is_some()
            || self.percent.is_some()
            || self.recipe.is_some()
            || self.measure.is_some()
            || self.agent_amount.is_some()
            || self.bath.is_some()
            || self.fill.is_some()
            || self.soak_minutes.is_some()
            || self.baths.is_some()
            || self.by_hand
            || self.sure
            || self.dirt
    }

    /// The outlet whose side the work is about, where that follows from the work.
    #[must_use]
    pub const fn outlet(&self) -> Option<Outlet> {
        match (self.work, self.job) {
            (Work::Needles, _)
            | (Work::Upkeep, Some(Job::RinsePod | Job::Hollow | Job::Holder)) => Some(Outlet::Pod),
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

/// What a person may choose instead, each with its words.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RecipeChoice {
    /// The recipe.
    pub recipe: Recipe,
    /// Its label.
    pub label: String,
}

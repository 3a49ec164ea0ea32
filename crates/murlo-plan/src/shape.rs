//! What a plan is made of and what a person may choose.
//!
//! A started clean keeps its plan for good, so fields here are only ever added, with a default.

use crate::Kind;
use crate::kept_way::WayCheck;
use crate::machine::Mechanism;
use crate::options::{RecipeChoice, Work};
use crate::over_days::PartOf;
use crate::step::{OpenFact, Step};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::{Amount, Measure, Tool};
use murlo_base::working::Working;
use murlo_base::{bounds, document, text};
use murlo_brewer::bath::{Agent, Mixed, Recipe, Soak};
use murlo_brewer::home::Bottle;
use murlo_brewer::job::Job;
use murlo_brewer::rinse::{Rinse, Taste};
use murlo_brewer::{Healthy, Operation};
use murlo_chalk::money::{Cost, Uses};
use murlo_chalk::scale::Chalk;
use murlo_chemistry::cleaning::Bathed;
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

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
    /// Whose agent goes into its baths.
    #[serde(default)]
    pub bottle: Bottle,
    /// Which part it is, where the clean is spread over days.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub part: Option<PartOf>,
    /// The household's own way, where it is done in one, with what is to be said of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub way: Option<WayCheck>,
    /// The buttons as its steps say them; what was taught since is said in their place.
    #[serde(default, skip_serializing_if = "Operation::is_untold")]
    pub buttons: Operation,
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

    /// Minutes of one bath, from mixing it to looking at what it brought.
    #[must_use]
    pub fn bath_min(&self) -> f64 {
        let own = self.bath_steps();
        own.map(|s| s.hands_on_min + s.near_min + s.hands_free_min)
            .sum()
    }

    /// The steps of one bath, from mixing it to looking at what it brought, without what is done beside them; none where nothing
    /// is looked at.
    pub fn bath_steps(&self) -> impl Iterator<Item = &Step> {
        let from = self.steps.iter().position(|s| s.is(Kind::Mix));
        let to = self.steps.iter().position(|s| s.is(Kind::Look));
        let range = match from.zip(to) {
            Some((from, to)) if from < to => from..to + 1,
            _ => 0..0,
        };
        let steps = self.steps[range].iter();
        steps.filter(|step| step.during.is_none())
    }

    /// How many further baths are likely in bath `round` (the first is 1), with so many looks still to come; after the last one
    /// it has been decided.
    #[must_use]
    pub fn further_likely(&self, round: u32, looks_to_come: u32) -> u32 {
        match looks_to_come {
            0 => 0,
            looks => self.likely_baths.saturating_sub(round + looks - 1),
        }
    }

    /// Where more baths are likely than are planned, its time is told with them.
    pub(crate) fn promise_likely_baths(&mut self) {
        let further = self.likely_baths.saturating_sub(self.chosen.baths);
        if further == 0 {
            return;
        }
        let all = self.ribbon.elapsed_min + f64::from(further) * self.bath_min();
        let evenings = match all > EVENING_MIN {
            true => ", over two evenings",
            false => "",
        };
        self.ribbon.text = format!(
            "{} with {}; likely {}, about {}{evenings}",
            self.ribbon.text,
            text::count(self.chosen.baths, "bath", "baths"),
            self.likely_baths,
            text::minutes(all)
        );
    }

    /// Agent in one bath.
    #[must_use]
    pub fn agent_amount(&self) -> Option<Amount> {
        self.bath.agent_amount()
    }

    /// Agent of all its likely baths.
    pub(super) fn likely_agent(&self) -> Amount {
        let baths = self.likely_baths.max(self.chosen.baths);
        let one = self.agent_amount().unwrap_or(Amount::Ml(0.0));
        one.times(f64::from(baths))
    }

    /// What it uses of `agent` and everything else that costs; of water what its steps fill in, where that is bought.
    pub(super) fn uses<'a>(&'a self, agent: &'a Agent, water_ml: Option<f64>) -> Uses<'a> {
        let in_baths = f64::from(self.chosen.baths) * self.bath.water.ml;
        Uses {
            agent,
            bath: &self.bath,
            baths: self.chosen.baths,
            water_ml: water_ml.unwrap_or(self.rinse.water.ml + in_baths),
            hands_on_min: self.ribbon.hands_on_min,
            is_theirs: self.bottle == Bottle::Theirs,
        }
    }
}

/// What takes longer than this is spread over two evenings, minutes. Judged.
const EVENING_MIN: f64 = 180.0;

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

/// A strength at which a further bath may be mixed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Rung {
    /// The agent.
    pub agent_id: String,
    /// Its name.
    pub agent_name: String,
    /// The recipe.
    pub recipe: Recipe,
    /// Its label.
    pub label: String,
    /// Strength of the bath, % w/v.
    pub percent: f64,
    /// Whether it wants gloves and goggles.
    pub is_strong: bool,
}

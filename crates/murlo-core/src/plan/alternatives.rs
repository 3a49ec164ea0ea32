//! The same clean with every agent and recipe the household has, side by side, and which one Murlo would take and why.

use super::{Facts, Plan, PlanOptions};
use crate::bath::{AgentForm, Recipe, Warning};
use crate::problem::Problems;
use crate::text;
use serde::{Deserialize, Serialize};

/// One way to do the clean, in figures that can be read across.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Alternative {
    /// The agent.
    pub agent_id: String,
    /// Its name.
    pub agent_name: String,
    /// The recipe.
    pub recipe: Recipe,
    /// Its label.
    pub recipe_label: String,
    /// "2 cups + 2 cups water".
    pub amounts: String,
    /// Strength, % w/v.
    pub percent: f64,
    /// pH when fresh.
    pub ph: f64,
    /// Share of its useful capacity that the high chalk estimate takes, %.
    pub load_percent: f64,
    /// Minutes of soaking.
    pub soak_min: f64,
    /// The soak in words.
    pub soak_text: String,
    /// Dispenses of the bath.
    pub dispenses: u32,
    /// Rinses.
    pub rinses: u32,
    /// Water for them.
    pub rinse_water: String,
    /// "54 min of 2 h 34 min".
    pub time_text: String,
    /// Minutes from first to last act.
    pub elapsed_min: f64,
    /// Cautions of the bath.
    pub warnings: Vec<String>,
    /// What stands against it; absent when nothing does.
    pub against: Option<String>,
    /// Whether Murlo would take it.
    pub recommended: bool,
}

/// Every alternative, and the reason for the recommended one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Comparison {
    /// In the household's order of agents, mildest recipe first.
    pub alternatives: Vec<Alternative>,
    /// Why the recommended one, or why none is.
    pub because: String,
}

/// A strong bath works faster but bites: it is never recommended, only offered.
fn against(plan: &Plan) -> Option<&'static str> {
    let has = |warning| plan.bath.warnings.contains(&warning);
    if has(Warning::TooWeak) {
        Some("may be used up before the chalk is gone")
    } else if has(Warning::CitrateSludge) || has(Warning::CitrateMayDrop) {
        Some("white sludge may drop out")
    } else if !plan.soak.clears {
        Some("one soak does not clear it")
    } else if has(Warning::Strong) {
        Some("needs gloves and goggles")
    } else {
        None
    }
}

/// Recipes worth comparing; powders differ little from step to step, so their ends are enough.
fn compared(form: &AgentForm) -> Vec<Recipe> {
    let all = Recipe::schools(form);
    match form {
        AgentForm::Powder { .. } => all.first().into_iter().chain(all.last()).copied().collect(),
        _ => all,
    }
}

impl Facts<'_> {
    /// This clean with every agent and recipe; other choices are taken over from `options` where they still make sense.
    ///
    /// # Errors
    /// Those of [`Facts::plan`] when the choices that are taken over are wrong.
    pub fn compare(&self, options: &PlanOptions) -> Result<Comparison, Problems> {
        let mut alternatives = Vec::new();
        for agent in self.agents {
            for recipe in compared(&agent.form) {
                let plan = self.plan(&PlanOptions {
                    agent_id: Some(agent.id.clone()),
                    recipe: Some(recipe),
                    taste: options.taste,
                    ..PlanOptions::default()
                })?;
                alternatives.push(alternative(&plan, recipe));
            }
        }
        let best = (0..alternatives.len())
            .filter(|i| alternatives[*i].against.is_none())
            .min_by(|a, b| {
                alternatives[*a]
                    .elapsed_min
                    .total_cmp(&alternatives[*b].elapsed_min)
            });
        let because = match best {
            Some(i) => {
                let best: &mut Alternative = &mut alternatives[i];
                best.recommended = true;
                format!(
                    "{}, {}: the quickest of those that take up even the high chalk estimate in one soak, without sludge or goggles",
                    best.agent_name, best.recipe_label
                )
            }
            None => "No bath here takes up the high chalk estimate in one soak without sludge or goggles: plan two baths.".to_owned(),
        };
        Ok(Comparison {
            alternatives,
            because,
        })
    }
}

fn alternative(plan: &Plan, recipe: Recipe) -> Alternative {
    let bath = &plan.bath;
    Alternative {
        agent_id: plan.chosen.agent_id.clone(),
        agent_name: bath.agent_name.clone(),
        recipe,
        recipe_label: bath.recipe.clone(),
        amounts: match bath.powder_g {
            Some(grams) => format!("{grams} g in {}", bath.total.text),
            None if bath.water.ml < 1.0 => bath.agent_text.clone(),
            None => format!("{} + {} water", bath.agent_text, bath.water.text),
        },
        percent: bath.percent,
        ph: bath.ph,
        load_percent: 100.0 * plan.chalk.high_mg / bath.useful_mg.max(1.0),
        soak_min: plan.soak.minutes,
        soak_text: text::minutes(plan.soak.minutes),
        dispenses: plan.dispensing.count,
        rinses: plan.rinse.portions,
        rinse_water: plan.rinse.water.text.clone(),
        time_text: format!(
            "{} of {}",
            text::minutes(plan.ribbon.hands_on_min),
            text::minutes(plan.ribbon.elapsed_min)
        ),
        elapsed_min: plan.ribbon.elapsed_min,
        warnings: plan.warnings.clone(),
        against: against(plan).map(str::to_owned),
        recommended: false,
    }
}

//! The same clean with every agent and recipe the household has, side by side, and which one Murlo would take and why.

use super::{Facts, MOST_BATHS, Plan, PlanOptions};
use crate::bath::{Agent, AgentForm, Recipe, Warning};
use crate::brewer::Way;
use crate::chem::acid::Acid;
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
    /// Fresh baths one after the other.
    pub baths: u32,
    /// What one clean costs, as far as prices are known.
    pub cost: f64,
    /// "$3.20", or nothing when no price is known.
    pub cost_text: String,
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

/// What stands against a bath, the weightiest first.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Objection {
    Forbidden,
    UsedUp,
    Sludge,
    NotCleared,
    /// The brewer's own programme ends before the bath has done its work.
    ProgrammeShort,
    /// A strong bath works faster but bites: it is only ever offered.
    Strong,
    Cupboard,
    TooLong,
    Smell,
}

impl Objection {
    fn to(facts: &Facts, agent: &Agent, plan: &Plan, minutes: Option<f64>) -> Option<Self> {
        let has = |warning| plan.bath.warnings.contains(&warning);
        let uses = plan.uses(agent).agent_amount();
        [
            (Self::Forbidden, facts.brewer.forbids.contains(&agent.id)),
            (Self::UsedUp, has(Warning::TooWeak)),
            (
                Self::Sludge,
                has(Warning::CitrateSludge) || has(Warning::CitrateMayDrop),
            ),
            (Self::NotCleared, !plan.soak.clears),
            (
                Self::ProgrammeShort,
                facts.way() == Way::Programme && plan.soak.minutes > plan.chosen.soak_minutes,
            ),
            (Self::Strong, has(Warning::Strong)),
            (
                Self::Cupboard,
                agent.on_hand.is_some_and(|left| left < uses),
            ),
            (
                Self::TooLong,
                minutes.is_some_and(|most| plan.ribbon.elapsed_min > most),
            ),
            (
                Self::Smell,
                facts.terms.avoid_smell && agent.acid() == Acid::Acetic,
            ),
        ]
        .into_iter()
        .find_map(|(objection, holds)| holds.then_some(objection))
    }

    /// Whether a further fresh bath meets it.
    const fn is_met_by_more(self) -> bool {
        matches!(
            self,
            Self::UsedUp | Self::Sludge | Self::NotCleared | Self::ProgrammeShort
        )
    }

    const fn words(self) -> &'static str {
        match self {
            Self::Forbidden => "forbidden by its maker",
            Self::UsedUp => "may be used up before the chalk is gone",
            Self::Sludge => "white sludge may drop out",
            Self::NotCleared => "one soak does not clear it",
            Self::ProgrammeShort => "its programme ends too soon for it",
            Self::Strong => "needs gloves and goggles",
            Self::Cupboard => "more than is in the cupboard",
            Self::TooLong => "takes longer than you have",
            Self::Smell => "smells of vinegar",
        }
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
    /// This clean with every agent and recipe, and with several fresh baths where one is not enough; other choices are
    /// taken over from `options` where they still make sense.
    ///
    /// # Errors
    /// Those of [`Facts::plan`] when the choices that are taken over are wrong.
    pub fn compare(&self, options: &PlanOptions) -> Result<Comparison, Problems> {
        self.run_as_asked(options, |facts| facts.side_by_side(options))
    }

    fn side_by_side(&self, options: &PlanOptions) -> Result<Comparison, Problems> {
        let mut alternatives = Vec::new();
        for agent in self.agents {
            for recipe in compared(&agent.form) {
                // Where even the most baths do not help, one is shown with what stands against it.
                let mut shown = None;
                for baths in 1..=MOST_BATHS {
                    let options = PlanOptions {
                        agent_id: Some(agent.id.clone()),
                        recipe: Some(recipe),
                        taste: options.taste,
                        minutes: options.minutes,
                        fill: options.fill,
                        baths: Some(baths),
                        circuit_id: options.circuit_id.clone(),
                        ..PlanOptions::default()
                    };
                    let choice = self.choose(&options, None)?;
                    let plan = self.draw_up(&options, &choice, baths);
                    let against = Objection::to(self, agent, &plan, options.minutes);
                    let more_helps = against.is_some_and(Objection::is_met_by_more);
                    if shown.is_none() || !more_helps {
                        shown = Some(alternative(&plan, recipe, against));
                    }
                    if !more_helps {
                        break;
                    }
                }
                alternatives.extend(shown);
            }
        }
        let best = (0..alternatives.len())
            .filter(|i| alternatives[*i].against.is_none())
            .min_by(|a, b| {
                rank(&alternatives[*a])
                    .partial_cmp(&rank(&alternatives[*b]))
                    .expect("ranks are numbers")
            });
        let because = match best {
            Some(i) => {
                let best: &mut Alternative = &mut alternatives[i];
                best.recommended = true;
                let enough = match best.baths {
                    1 => "take up even the high chalk estimate in one soak".to_owned(),
                    n => format!("take up even the high chalk estimate, which needs {n} fresh baths"),
                };
                let price = if best.cost_text.is_empty() {
                    ""
                } else {
                    "; of those about as quick, the cheapest"
                };
                format!(
                    "{}, {}: the quickest of those that {enough}, without sludge or goggles{price}",
                    best.agent_name, best.recipe_label
                )
            }
            None => {
                "Nothing here does it as you would like: read down what stands against each, and choose.".to_owned()
            }
        };
        Ok(Comparison {
            alternatives,
            because,
        })
    }

    /// `options` with the recommended agent and recipe where the person chose no agent.
    ///
    /// # Errors
    /// Those of [`Facts::compare`].
    pub fn recommended(&self, options: PlanOptions) -> Result<PlanOptions, Problems> {
        if options.agent_id.is_some() {
            return Ok(options);
        }
        let all = self.compare(&options)?.alternatives;
        Ok(match all.into_iter().find(|a| a.recommended) {
            Some(best) => PlanOptions {
                agent_id: Some(best.agent_id),
                recipe: options.recipe.or(Some(best.recipe)),
                ..options
            },
            // Whatever is shown instead, it is not what the maker forbids.
            None => PlanOptions {
                agent_id: self
                    .agents
                    .iter()
                    .find(|a| !self.brewer.forbids.contains(&a.id))
                    .map(|a| a.id.clone()),
                ..options
            },
        })
    }
}

/// Fewer baths first, then time in half hours, then money, then time to the minute.
fn rank(a: &Alternative) -> (u32, f64, f64, f64) {
    let cost = if a.cost_text.is_empty() {
        f64::INFINITY
    } else {
        a.cost
    };
    (a.baths, (a.elapsed_min / 30.0).floor(), cost, a.elapsed_min)
}

fn alternative(plan: &Plan, recipe: Recipe, against: Option<Objection>) -> Alternative {
    let cost = plan.cost.as_ref().filter(|c| !c.lines.is_empty());
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
        load_percent: 100.0 * plan.chalk.high_mg
            / (f64::from(plan.chosen.baths) * bath.useful_mg).max(1.0),
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
        baths: plan.chosen.baths,
        cost: cost.map_or(0.0, |c| c.total),
        cost_text: cost.map_or_else(String::new, |c| c.each_text.clone()),
        against: against.map(|objection| objection.words().to_owned()),
        recommended: false,
    }
}

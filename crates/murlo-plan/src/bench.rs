//! The mixing bench: a bath without a brewer, for anybody who only wants to mix something.

use crate::RecipeChoice;
use crate::words::warning;
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::{Sizes, Tool, parse_volume};
use murlo_brewer::bath::{self, Agent, MixOrder, Mixed, Recipe};
use serde::{Deserialize, Serialize};

/// What is to be mixed, as typed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct MixDraft {
    /// The agent.
    pub agent_id: String,
    /// Its strength, % w/v, when it differs from the agent's.
    pub percent: Option<f64>,
    /// How it is thinned; the usual way unless said.
    pub recipe: Option<Recipe>,
    /// What it is measured with.
    pub measure: Tool,
    /// Size of one carafe mark or reservoir line, when measured with those.
    pub carafe_mark: Option<String>,
    /// All of it, as typed: "4 cups", "11 marks".
    pub total: String,
}

/// A mixed bath with what else could be mixed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BenchMix {
    /// The bath.
    pub bath: Mixed,
    /// The recipe used.
    pub recipe: Recipe,
    /// Recipes for this agent.
    pub recipes: Vec<RecipeChoice>,
    /// Strength as bought, if a liquid.
    pub percent: Option<f64>,
    /// Cautions.
    pub warnings: Vec<String>,
}

impl MixDraft {
    /// Mixes it with one of `agents`.
    ///
    /// # Errors
    /// One problem per field that is unknown, out of range or contradictory.
    pub fn mix(&self, agents: &[Agent]) -> Result<BenchMix, Problems> {
        let mut agent = bath::find(agents, &self.agent_id)?;
        agent.set_percent("percent", self.percent)?;
        let schools = Recipe::schools(&agent.form);
        let mut problems = Problems::default();
        let recipe = self.recipe.unwrap_or_else(|| Recipe::usual(&agent.form));
        problems.note(recipe.check("recipe", &agent.form));
        let typed = self
            .carafe_mark
            .as_deref()
            .filter(|_| matches!(self.measure, Tool::CarafeMarks | Tool::ReservoirLines));
        let mark = typed.map(|mark| parse_volume("carafe_mark", mark, &bounds::CARAFE_MARK, None));
        let mark = mark.and_then(|mark| problems.note(mark));
        let sizes = Sizes {
            carafe_mark: mark,
            reservoir_line: mark,
            bottle: agent.bottle_ml(),
        };
        let marks = problems.note(bath::marks("measure", self.measure, sizes));
        let total = problems.note(parse_volume("total", &self.total, &bounds::BENCH, mark));
        let (marks, total) = problems.or(marks.zip(total))?;
        let total_ml = marks.floor(total);
        if total_ml <= 0.0 {
            let least = marks.measure(marks.step_ml).text;
            return Err(Problem::new(
                Code::OutOfRange,
                "total",
                format!("less than one mark: give at least {least}"),
            )
            .into());
        }
        let mixed = MixOrder {
            agent: &agent,
            recipe,
            total_ml,
            marks,
            load_mg: 0.0,
        }
        .mix();
        Ok(BenchMix {
            recipe,
            recipes: schools
                .into_iter()
                .map(|recipe| RecipeChoice {
                    recipe,
                    label: recipe.label(),
                })
                .collect(),
            percent: agent.percent(),
            warnings: mixed
                .warnings
                .iter()
                .map(|w| warning(*w).to_owned())
                .collect(),
            bath: mixed,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn draft(agent: &str, measure: Tool, total: &str) -> MixDraft {
        MixDraft {
            agent_id: agent.into(),
            percent: None,
            recipe: None,
            measure,
            carafe_mark: Some("5 fl oz".into()),
            total: total.into(),
        }
    }

    #[test]
    fn a_bath_is_mixed_for_whatever_one_measures_with() {
        for (agent, measure, total, amounts) in [
            (
                "vinegar",
                Tool::CarafeMarks,
                "11 marks",
                ("4 carafe marks", "7 carafe marks"),
            ),
            (
                "vinegar",
                Tool::ReservoirLines,
                "7 lines",
                ("3 reservoir lines", "4 reservoir lines"),
            ),
            ("vinegar", Tool::FlOz, "51 fl oz", ("17 fl oz", "34 fl oz")),
            ("vinegar", Tool::Cups, "3 cups", ("1 cup", "2 cups")),
            ("bottled", Tool::Bottle, "946 mL", ("1 bottle", "1 bottle")),
            (
                "citric",
                Tool::Ml,
                "1 L",
                ("20 g (about 1.5 level tablespoons)", "1 L"),
            ),
        ] {
            let mix = draft(agent, measure, total)
                .mix(&Agent::starters())
                .unwrap();
            assert_eq!(
                (mix.bath.agent_text.as_str(), mix.bath.water.text.as_str()),
                amounts
            );
            assert!(mix.recipes.iter().any(|r| r.recipe == mix.recipe));
        }
    }

    #[test]
    fn every_wrong_field_is_named() {
        let good = || draft("vinegar", Tool::Cups, "3 cups");
        for (wrong, code, field) in [
            (
                MixDraft {
                    agent_id: "soap".into(),
                    ..good()
                },
                Code::UnknownId,
                "agent_id",
            ),
            (
                MixDraft {
                    percent: Some(120.0),
                    ..good()
                },
                Code::OutOfRange,
                "percent",
            ),
            (
                MixDraft {
                    agent_id: "citric".into(),
                    percent: Some(5.0),
                    ..good()
                },
                Code::Contradiction,
                "percent",
            ),
            (
                MixDraft {
                    recipe: Some(Recipe::Dose { g_per_l: 9.0 }),
                    ..good()
                },
                Code::Contradiction,
                "recipe",
            ),
            (
                MixDraft {
                    measure: Tool::Bottle,
                    ..good()
                },
                Code::Contradiction,
                "measure",
            ),
            (
                MixDraft {
                    measure: Tool::CarafeMarks,
                    carafe_mark: None,
                    ..good()
                },
                Code::Contradiction,
                "measure",
            ),
            (
                MixDraft {
                    total: "some".into(),
                    ..good()
                },
                Code::NotANumber,
                "total",
            ),
            (
                MixDraft {
                    total: "1 tsp".into(),
                    ..good()
                },
                Code::OutOfRange,
                "total",
            ),
            (
                MixDraft {
                    total: "90 L".into(),
                    ..good()
                },
                Code::OutOfRange,
                "total",
            ),
        ] {
            let problems = wrong.mix(&Agent::starters()).unwrap_err().0;
            assert_eq!(
                (problems[0].code, problems[0].field.as_str()),
                (code, field),
                "{}",
                problems[0].message
            );
        }
    }
}

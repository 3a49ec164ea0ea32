//! Amounts of a bath in the words of whoever measured them.

use murlo_base::units::Units;
use murlo_brewer::bath::{Agent, Mixed, Recipe};
use serde::{Deserialize, Serialize};

/// What somebody poured, as they say it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PouredSo {
    /// The agent.
    pub agent_id: String,
    /// How much of it: "3 cups"; of a powder in grams, of tablets how many.
    pub amount: String,
    /// How much water: "1 cup", nothing where it was poured neat.
    pub water: String,
}

/// A bath that nobody measured, as it is seen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ByEye {
    /// How it was thinned; nothing where nobody knows.
    #[serde(default)]
    pub recipe: Option<Recipe>,
    /// How full the reservoir stands, of 1.
    pub level: f64,
}

impl PouredSo {
    /// Speaks of a bath in the words in which its amounts were said.
    pub(crate) fn told_of(&self, mixed: &mut Mixed, agent: &Agent, units: Units) {
        let amount = self.amount.trim().to_owned();
        // Whole grams are said with their spoons already.
        let is_said = mixed.agent_text.split(" (").next() == Some(amount.as_str());
        if let Some(measure) = &mut mixed.agent {
            measure.text.clone_from(&amount);
        }
        if !is_said {
            mixed.agent_words = agent.poured(&amount);
            mixed.agent_text = amount;
        }
        if mixed.water.ml > 0.0 {
            self.water.trim().clone_into(&mut mixed.water.text);
        }
        // What is dissolved takes up no room.
        mixed.total.text = match mixed.powder_g {
            Some(_) => mixed.water.text.clone(),
            None => units.volume(mixed.total.ml),
        };
    }
}

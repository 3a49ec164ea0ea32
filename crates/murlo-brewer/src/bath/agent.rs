//! Agents: what dissolves chalk, how strong it is, and in which form it is sold.

use crate::offer::Offer;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::{Amount, Units};
use murlo_base::{bounds, text};
use murlo_chemistry::acid::{self, Acid};
use serde::{Deserialize, Serialize};

/// Grams of citric powder in a level tablespoon, about: powders differ by a tenth or two.
pub(crate) const CITRIC_G_PER_TABLESPOON: f64 = 13.0;

/// What an agent is, as bought.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "form", rename_all = "snake_case", deny_unknown_fields)]
pub enum AgentForm {
    /// A liquid acid such as vinegar.
    Liquid {
        /// Its acid.
        acid: Acid,
        /// Strength on the label, % w/v.
        percent: f64,
    },
    /// A powder, dissolved in water.
    Powder {
        /// Its acid.
        acid: Acid,
    },
    /// A bottle that is used whole.
    Bottle {
        /// Its acid.
        acid: Acid,
        /// Strength, % w/v.
        percent: f64,
        /// Contents, mL.
        bottle_ml: f64,
    },
    /// Tablets, each for its own amount of water.
    Tablet {
        /// Its acid.
        acid: Acid,
        /// Acid in one, g.
        grams: f64,
        /// Water for one, mL.
        water_ml: f64,
    },
}

impl AgentForm {
    /// Every form: its name in data, and what it is for people.
    pub const KINDS: [(&'static str, &'static str); 4] = [
        ("liquid", "Liquid, thinned by parts"),
        ("powder", "Powder, by weight"),
        ("bottle", "Bottle, used whole"),
        ("tablet", "Tablets"),
    ];

    /// Which of [`Self::KINDS`] it is.
    #[must_use]
    pub const fn kind(&self) -> &'static str {
        match self {
            Self::Liquid { .. } => Self::KINDS[0].0,
            Self::Powder { .. } => Self::KINDS[1].0,
            Self::Bottle { .. } => Self::KINDS[2].0,
            Self::Tablet { .. } => Self::KINDS[3].0,
        }
    }
}

/// A descaling agent of the household.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Agent {
    /// Identity.
    pub id: String,
    /// What the household calls it.
    pub name: String,
    /// What it is.
    #[serde(flatten)]
    pub form: AgentForm,
    /// Where it can be bought.
    #[serde(default)]
    pub offers: Vec<Offer>,
    /// What is in the cupboard, mL or g; nobody has looked when absent.
    #[serde(default)]
    pub on_hand: Option<f64>,
    /// What the household says of it.
    #[serde(default)]
    pub remarks: Vec<Remark>,
    /// pH on its label, where that is all it says of its strength, which is then reckoned from it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub label_ph: Option<f64>,
}

/// A label rounds its pH, and salts beside the acid move it: so far either way. Judged.
const LABEL_PH_OFF: f64 = 0.2;

/// Labels give the pH at room temperature, °C.
const LABEL_TEMP_C: f64 = 25.0;

/// What a household says of an agent.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Remark {
    /// It foams.
    Foams,
    /// It has to be bought at a chemist's.
    FromChemist,
    /// Not to be used again.
    NeverAgain,
}

impl Agent {
    /// The agents a new household starts with; strengths are common ones and can be changed.
    #[must_use]
    pub fn starters() -> Vec<Self> {
        let agent = |id: &str, name: &str, form| Self {
            id: id.to_owned(),
            name: name.to_owned(),
            form,
            offers: Vec::new(),
            on_hand: None,
            remarks: Vec::new(),
            label_ph: None,
        };
        vec![
            agent(
                "vinegar",
                "White vinegar",
                AgentForm::Liquid {
                    acid: Acid::Acetic,
                    percent: 5.0,
                },
            ),
            agent(
                "citric",
                "Citric acid powder",
                AgentForm::Powder { acid: Acid::Citric },
            ),
            agent(
                "bottled",
                "Bottled liquid descaler",
                AgentForm::Bottle {
                    acid: Acid::Lactic,
                    percent: 12.0,
                    bottle_ml: 473.0,
                },
            ),
        ]
    }

    /// Its name within a sentence: what is only called as its kind begins small, a name of its own stays as it was given.
    #[must_use]
    pub fn in_text(&self) -> String {
        let mut kinds = Self::starters();
        kinds.push(Self::tablets());
        match kinds.iter().any(|kind| kind.name == self.name) {
            true => self.name.to_lowercase(),
            false => self.name.clone(),
        }
    }

    /// So much of it: "2 cups of white vinegar", "2 tablets (Reef tablets)".
    #[must_use]
    pub fn poured(&self, amount: &str) -> String {
        let name = self.in_text();
        match self.form {
            AgentForm::Tablet { .. } => format!("{amount} ({name})"),
            AgentForm::Liquid { .. } | AgentForm::Powder { .. } | AgentForm::Bottle { .. } => {
                format!("{amount} of {name}")
            }
        }
    }

    /// Tablets, as a household that has some starts with: twelve grams of citric acid for half a litre is a common one.
    #[must_use]
    pub fn tablets() -> Self {
        Self {
            id: "tablets".to_owned(),
            name: "Descaling tablets".to_owned(),
            form: AgentForm::Tablet {
                acid: Acid::Citric,
                grams: 12.0,
                water_ml: 500.0,
            },
            offers: Vec::new(),
            on_hand: None,
            remarks: Vec::new(),
            label_ph: None,
        }
    }

    /// Where its kind is usually sold.
    #[must_use]
    pub const fn sold_at(&self) -> &'static str {
        match (self.form, self.acid()) {
            (AgentForm::Liquid { .. }, Acid::Acetic) => "grocery",
            (AgentForm::Powder { .. }, Acid::Citric) => {
                "grocery (baking or canning shelf) or pharmacy"
            }
            (AgentForm::Powder { .. } | AgentForm::Liquid { .. }, _) => "pharmacy or hardware shop",
            (AgentForm::Bottle { .. } | AgentForm::Tablet { .. }, _) => "grocery or hardware shop",
        }
    }

    /// A number of its own unit as an amount: liquids are counted in mL, powders and tablets in g.
    ///
    /// # Example
    /// ```
    /// use murlo_base::units::Amount;
    /// use murlo_brewer::bath::Agent;
    /// let vinegar = Agent::starters().into_iter().find(|agent| agent.id == "vinegar").unwrap();
    /// assert_eq!(vinegar.amount(473.0), Amount::Ml(473.0));
    /// ```
    #[must_use]
    pub const fn amount(&self, number: f64) -> Amount {
        match self.form {
            AgentForm::Liquid { .. } | AgentForm::Bottle { .. } => Amount::Ml(number),
            AgentForm::Powder { .. } | AgentForm::Tablet { .. } => Amount::G(number),
        }
    }

    /// What is in the cupboard, where somebody has looked.
    #[must_use]
    pub fn there(&self) -> Option<Amount> {
        self.on_hand.map(|number| self.amount(number))
    }

    /// So much of it, as one buys it: "360 mL", "25 g", "2 tablets".
    #[must_use]
    pub fn amount_text(&self, amount: Amount, units: Units) -> String {
        match (self.form, amount) {
            (_, Amount::Ml(ml)) => units.volume(ml),
            (AgentForm::Tablet { grams, .. }, Amount::G(g)) => {
                let pieces = (g / grams - 1e-6).ceil().max(1.0);
                text::count(pieces as u32, "tablet", "tablets")
            }
            (
                AgentForm::Powder { .. } | AgentForm::Liquid { .. } | AgentForm::Bottle { .. },
                Amount::G(g),
            ) => format!("{g:.0} g"),
        }
    }

    /// Its acid.
    #[must_use]
    pub const fn acid(&self) -> Acid {
        match self.form {
            AgentForm::Liquid { acid, .. }
            | AgentForm::Powder { acid }
            | AgentForm::Bottle { acid, .. }
            | AgentForm::Tablet { acid, .. } => acid,
        }
    }

    /// Its strength as bought, if it is a liquid.
    #[must_use]
    pub const fn percent(&self) -> Option<f64> {
        match self.form {
            AgentForm::Liquid { percent, .. } | AgentForm::Bottle { percent, .. } => Some(percent),
            AgentForm::Powder { .. } | AgentForm::Tablet { .. } => None,
        }
    }

    /// Contents of its bottle, if it is used by the bottle.
    #[must_use]
    pub const fn bottle_ml(&self) -> Option<f64> {
        match self.form {
            AgentForm::Bottle { bottle_ml, .. } => Some(bottle_ml),
            AgentForm::Liquid { .. } | AgentForm::Powder { .. } | AgentForm::Tablet { .. } => None,
        }
    }

    /// Its strength as the pH on its label has it, % w/v: the likely one, and the least and most it may be.
    #[must_use]
    pub fn label_percent(&self) -> Option<[f64; 3]> {
        let ph = self.label_ph?;
        self.percent()?;
        let at = |off: f64| acid::AcidBath::g_per_l_at(self.acid(), ph + off, LABEL_TEMP_C) / 10.0;
        Some([0.0, LABEL_PH_OFF, -LABEL_PH_OFF].map(at))
    }

    /// The agent with what its label says worked out.
    ///
    /// # Errors
    /// One problem per field outside its range.
    pub fn checked(mut self) -> Result<Self, Problems> {
        if let (Some([likely, ..]), Some(percent)) = (self.label_percent(), self.percent_mut()) {
            *percent = (likely * 10.0).round() / 10.0;
        }
        self.check()?;
        Ok(self)
    }

    fn percent_mut(&mut self) -> Option<&mut f64> {
        match &mut self.form {
            AgentForm::Liquid { percent, .. } | AgentForm::Bottle { percent, .. } => Some(percent),
            AgentForm::Powder { .. } | AgentForm::Tablet { .. } => None,
        }
    }

    /// Takes `asked` as the strength of this bottle, when it differs from the agent's.
    ///
    /// # Errors
    /// `OutOfRange` or `NotANumber` for a strength that cannot be; `Contradiction` for a powder, which has none.
    pub fn set_percent(&mut self, field: &str, asked: Option<f64>) -> Result<(), Problem> {
        let Some(asked) = asked else { return Ok(()) };
        let Some(percent) = self.percent_mut() else {
            return Err(Problem::new(
                Code::Contradiction,
                field,
                "a powder or tablet has no strength of its own: leave it out",
            ));
        };
        *percent = bounds::AGENT_PERCENT.check(field, asked)?;
        self.label_ph = None;
        Ok(())
    }

    /// Checks name, strength and contents.
    ///
    /// # Errors
    /// One problem per field outside its range.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(text::id("id", &self.id));
        problems.note(text::name("name", &self.name));
        match (self.label_ph, self.percent()) {
            (None, Some(percent)) => {
                problems.note(bounds::AGENT_PERCENT.check("percent", percent));
            }
            (Some(ph), Some(percent)) => {
                let is_one = bounds::ACID_PH.check("label_ph", ph);
                let is_acid = problems.note(is_one).is_some();
                // A strong acid of a low pH, or a weak one of a high pH, is no descaler.
                if is_acid && bounds::AGENT_PERCENT.check("percent", percent).is_err() {
                    let message = "no such acid has that pH: look at the label once more";
                    let wrong = Problem::new(Code::OutOfRange, "label_ph", message);
                    problems.0.push(wrong);
                }
            }
            (Some(_), None) => {
                let message = "a powder or tablet has no pH: leave it empty";
                let wrong = Problem::new(Code::Contradiction, "label_ph", message);
                problems.0.push(wrong);
            }
            (None, None) => {}
        }
        if let Some(ml) = self.bottle_ml() {
            problems.note(bounds::RESERVOIR.check("bottle_ml", ml));
        }
        if let AgentForm::Tablet {
            grams, water_ml, ..
        } = self.form
        {
            problems.note(bounds::TABLET.check("grams", grams));
            problems.note(bounds::TABLET_WATER.check("water_ml", water_ml));
        }
        for (i, offer) in self.offers.iter().enumerate() {
            problems.note(offer.check().map_err(|p| p.within(&format!("offers.{i}"))));
        }
        problems.note(
            self.on_hand
                .map_or(Ok(0.0), |left| bounds::SPARE_VOLUME.check("on_hand", left)),
        );
        problems.or(Some(()))
    }
}

/// The agent of that id.
///
/// # Errors
/// `UnknownId`.
pub fn find(agents: &[Agent], id: &str) -> Result<Agent, Problem> {
    let message = "no such agent in this household: take one from its list";
    agents
        .iter()
        .find(|a| a.id == id)
        .cloned()
        .ok_or_else(|| Problem::new(Code::UnknownId, "agent_id", message))
}

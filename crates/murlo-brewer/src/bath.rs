//! The bath: which agent and recipe, how strong after rounding to marks, what it can dissolve, and how long it must soak.

use crate::offer::Offer;
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use murlo_base::units::{Marks, Measure, Sizes, Tool, Units, trim};
use murlo_chemistry::acid::{self, Acid, Bath, SPENT_PH, citrate_onset_g_l};
use serde::{Deserialize, Serialize};

/// Grams of citric powder in a level tablespoon, about: powders differ by a tenth or two.
const CITRIC_G_PER_TABLESPOON: f64 = 13.0;
/// At this strength acid burns skin and eyes: gloves and goggles.
pub const GOGGLES_PERCENT: f64 = 10.0;

/// From this strength on a liquid is an essence, not vinegar.
const STRONG_PERCENT: f64 = 20.0;

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
    fn poured(&self, amount: &str) -> String {
        let name = self.in_text();
        match self.form {
            AgentForm::Tablet { .. } => format!("{amount} ({name})"),
            _ => format!("{amount} of {name}"),
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

    /// So many mL or g of it, as one buys it: "360 mL", "25 g", "2 tablets".
    #[must_use]
    pub fn amount_text(&self, amount: f64, units: Units) -> String {
        match self.form {
            AgentForm::Liquid { .. } | AgentForm::Bottle { .. } => units.volume(amount),
            AgentForm::Powder { .. } => format!("{amount:.0} g"),
            AgentForm::Tablet { grams, .. } => {
                let pieces = (amount / grams - 1e-6).ceil().max(1.0);
                text::count(pieces as u32, "tablet", "tablets")
            }
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
            _ => None,
        }
    }

    /// Its strength as the pH on its label has it, % w/v: the likely one, and the least and most it may be.
    #[must_use]
    pub fn label_percent(&self) -> Option<[f64; 3]> {
        let ph = self.label_ph?;
        self.percent()?;
        let at = |off: f64| acid::Bath::g_per_l_at(self.acid(), ph + off, LABEL_TEMP_C) / 10.0;
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

/// How an agent is thinned.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Recipe {
    /// Parts of agent to parts of water.
    Ratio {
        /// Parts of agent.
        agent: f64,
        /// Parts of water.
        water: f64,
    },
    /// Powder dissolved in water.
    Dose {
        /// Grams in a litre of bath.
        g_per_l: f64,
    },
}

impl Recipe {
    /// "1 part to 2 parts water", "30 g in each litre", "neat".
    #[must_use]
    pub fn label(&self) -> String {
        match *self {
            Self::Ratio { water, .. } if water <= 0.0 => "neat".to_owned(),
            Self::Ratio { agent, water } => {
                format!("{} : {} with water", trim(agent, 1), trim(water, 1))
            }
            Self::Dose { g_per_l } => format!("{} g in each litre", trim(g_per_l, 0)),
        }
    }

    /// The recipes people use with `form`, mildest first; a strong acid is always thinned a good deal before it is tried stronger.
    #[must_use]
    pub fn schools(form: &AgentForm) -> Vec<Self> {
        let ratio = |agent, water| Self::Ratio { agent, water };
        match form {
            AgentForm::Liquid { percent, .. } if *percent >= STRONG_PERCENT => {
                vec![ratio(1.0, 4.0), ratio(1.0, 1.0), ratio(1.0, 0.0)]
            }
            AgentForm::Liquid { .. } => vec![
                ratio(1.0, 9.0),
                ratio(1.0, 2.0),
                ratio(1.0, 1.0),
                ratio(2.0, 1.0),
                ratio(1.0, 0.0),
            ],
            AgentForm::Powder { .. } => [20.0, 25.0, 30.0, 35.0]
                .map(|g_per_l| Self::Dose { g_per_l })
                .to_vec(),
            AgentForm::Bottle { .. } => vec![ratio(1.0, 1.0)],
            AgentForm::Tablet { .. } => vec![Self::usual(form)],
        }
    }

    /// The recipe for a bench that knows no brewer.
    #[must_use]
    pub const fn usual(form: &AgentForm) -> Self {
        match form {
            AgentForm::Liquid { percent, .. } if *percent >= STRONG_PERCENT => Self::Ratio {
                agent: 1.0,
                water: 4.0,
            },
            AgentForm::Liquid { .. } => Self::Ratio {
                agent: 1.0,
                water: 2.0,
            },
            AgentForm::Powder { .. } => Self::Dose { g_per_l: 20.0 },
            AgentForm::Tablet {
                grams, water_ml, ..
            } => Self::Dose {
                g_per_l: 1000.0 * *grams / *water_ml,
            },
            AgentForm::Bottle { .. } => Self::Ratio {
                agent: 1.0,
                water: 1.0,
            },
        }
    }

    /// Checks the parts or the dose.
    ///
    /// # Errors
    /// A part or dose outside its range; a ratio for a powder or a dose for a liquid.
    pub fn check(&self, field: &str, form: &AgentForm) -> Result<(), Problem> {
        match (*self, form) {
            (Self::Dose { g_per_l }, AgentForm::Powder { .. } | AgentForm::Tablet { .. }) => {
                let bound = bounds::Bound {
                    max: 150.0,
                    ..bounds::G_PER_L
                };
                bound.check(&format!("{field}.g_per_l"), g_per_l).map(drop)
            }
            (Self::Ratio { agent, water }, AgentForm::Liquid { .. } | AgentForm::Bottle { .. }) => {
                bounds::AGENT_PART.check(&format!("{field}.agent"), agent)?;
                bounds::PART
                    .check(&format!("{field}.water"), water)
                    .map(drop)
            }
            (_, AgentForm::Powder { .. } | AgentForm::Tablet { .. }) => Err(Problem::new(
                Code::Contradiction,
                field,
                "a powder or tablet is dosed in grams a litre, not by parts",
            )),
            _ => Err(Problem::new(
                Code::Contradiction,
                field,
                "a liquid is thinned by parts, not dosed in grams a litre",
            )),
        }
    }
}

/// A liquid split: agent rounded up to a mark, total kept.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Split {
    /// Agent, mL.
    pub agent_ml: f64,
    /// Water, mL.
    pub water_ml: f64,
}

/// Splits `total_ml` by parts, the agent rounded **up** to a mark of `step_ml` so that the bath is never weaker than asked.
///
/// # Example
/// ```
/// use crate::bath::split;
/// let marks = split(11.0, (1.0, 2.0), Some(1.0)); // 11 marks at one to two
/// assert_eq!((marks.agent_ml, marks.water_ml), (4.0, 7.0));
/// ```
#[must_use]
pub fn split(total_ml: f64, (agent, water): (f64, f64), step_ml: Option<f64>) -> Split {
    let exact = total_ml * agent / (agent + water);
    let rounded = step_ml.map_or(exact, |step| (exact / step - 1e-6).ceil() * step);
    let agent_ml = rounded.min(total_ml);
    Split {
        agent_ml,
        water_ml: total_ml - agent_ml,
    }
}

/// A caution of the bath itself.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Warning {
    /// Calcium citrate may drop out if the bath stands.
    CitrateMayDrop,
    /// Calcium citrate will drop out: split the bath or take another acid.
    CitrateSludge,
    /// The bath cannot take up the chalk that is estimated.
    TooWeak,
    /// Strong enough to need gloves and goggles.
    Strong,
    /// Must stay below 60 °C.
    KeepCool,
}

/// Agent and recipe that a clean was done with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Taken {
    /// The agent.
    pub agent_id: String,
    /// How it was thinned.
    pub recipe: Recipe,
}

/// A mixed bath with amounts, strength and what it can do.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Mixed {
    /// The agent's name.
    pub agent_name: String,
    /// Its acid; absent in plans from before it was kept.
    #[serde(default)]
    pub acid: Option<Acid>,
    /// The recipe's label.
    pub recipe: String,
    /// Liquid agent to pour; absent for a powder.
    pub agent: Option<Measure>,
    /// Grams of powder; absent for a liquid.
    pub powder_g: Option<f64>,
    /// What to measure of the agent, in words.
    pub agent_text: String,
    /// The same with its name, "2 cups of white vinegar"; empty in plans from before it was kept.
    #[serde(default)]
    pub agent_words: String,
    /// Water to add.
    pub water: Measure,
    /// Everything in the reservoir.
    pub total: Measure,
    /// mL from one mark to the next of the tool used.
    pub mark_ml: f64,
    /// "5 : 9", after rounding.
    pub actual_ratio: Option<String>,
    /// Strength of the bath, % w/v.
    pub percent: f64,
    /// pH when fresh, at 25 °C.
    pub ph: f64,
    /// Chalk it can usefully take up, mg.
    pub useful_mg: f64,
    /// Chalk it could take up at all, mg.
    pub capacity_mg: f64,
    /// "would dissolve about 9.7 g of chalk".
    pub useful_text: String,
    /// Cautions.
    pub warnings: Vec<Warning>,
}

/// A bath as asked for.
#[derive(Debug, Clone, Copy)]
pub struct Order<'a> {
    /// The agent.
    pub agent: &'a Agent,
    /// How it is thinned.
    pub recipe: Recipe,
    /// All the liquid, mL.
    pub total_ml: f64,
    /// What it is measured with.
    pub marks: Marks,
    /// Chalk expected, mg: decides the citrate and strength cautions.
    pub load_mg: f64,
}

impl Order<'_> {
    /// Mixes the bath: agent up to the next mark, total kept.
    #[must_use]
    pub fn mix(&self) -> Mixed {
        let litres = self.total_ml / 1000.0;
        let acid = self.agent.acid();
        let total = self.marks.measure(self.total_ml);
        let (agent, powder_g, agent_text, water, g_per_l, actual_ratio) =
            match (self.recipe, self.agent.percent()) {
                (Recipe::Ratio { agent, water }, Some(percent)) => {
                    let split = split(self.total_ml, (agent, water), Some(self.marks.step_ml));
                    let pour = self.marks.measure(split.agent_ml);
                    let marks = (
                        split.agent_ml / self.marks.step_ml,
                        split.water_ml / self.marks.step_ml,
                    );
                    let g_per_l = percent * 10.0 * split.agent_ml / self.total_ml;
                    let text = pour.text.clone();
                    (
                        Some(pour),
                        None,
                        text,
                        self.marks.measure(split.water_ml),
                        g_per_l,
                        Some(ratio_text(marks)),
                    )
                }
                (Recipe::Ratio { .. } | Recipe::Dose { .. }, _) => {
                    let g_per_l = if let Recipe::Dose { g_per_l } = self.recipe {
                        g_per_l
                    } else {
                        0.0
                    };
                    if let AgentForm::Tablet { grams, .. } = self.agent.form {
                        let tablets = (g_per_l * litres / grams - 1e-6).ceil().max(1.0);
                        let text = text::count(tablets as u32, "tablet", "tablets");
                        let all = tablets * grams;
                        (None, Some(all), text, total.clone(), all / litres, None)
                    } else {
                        let grams = (g_per_l * litres - 1e-9).ceil();
                        let spoons = (2.0 * grams / CITRIC_G_PER_TABLESPOON).ceil() / 2.0;
                        let text = if acid.is_citric() {
                            let spoons = trim(spoons, 1);
                            let noun = match spoons.as_str() {
                                "1" => "tablespoon",
                                _ => "tablespoons",
                            };
                            format!("{grams} g (about {spoons} level {noun})")
                        } else {
                            format!("{grams} g")
                        };
                        (None, Some(grams), text, total.clone(), grams / litres, None)
                    }
                }
            };
        let bath = Bath::new(acid, g_per_l, 25.0);
        let useful_mg = bath.useful_g_l(SPENT_PH) * litres * 1000.0;
        let mut warnings = Vec::new();
        let load = self.load_mg / self.total_ml;
        let onset = if acid.is_citric() {
            citrate_onset_g_l(acid.molarity(g_per_l) / Acid::Citric.molarity(1.0))
        } else {
            f64::INFINITY
        };
        if load > 1.5 * onset {
            warnings.push(Warning::CitrateSludge);
        } else if load > onset {
            warnings.push(Warning::CitrateMayDrop);
        }
        if self.load_mg > useful_mg {
            warnings.push(Warning::TooWeak);
        }
        if g_per_l / 10.0 >= GOGGLES_PERCENT
            || self.agent.percent().is_some_and(|p| p >= GOGGLES_PERCENT)
        {
            warnings.push(Warning::Strong);
        }
        if acid == Acid::Sulfamic {
            warnings.push(Warning::KeepCool);
        }
        Mixed {
            agent_name: self.agent.name.clone(),
            acid: Some(acid),
            recipe: self.recipe.label(),
            agent,
            powder_g,
            agent_words: self.agent.poured(&agent_text),
            agent_text,
            water,
            total,
            mark_ml: self.marks.step_ml,
            actual_ratio,
            percent: g_per_l / 10.0,
            ph: bath.ph(0.0),
            useful_mg,
            capacity_mg: bath.capacity_g_l() * litres * 1000.0,
            useful_text: format!(
                "would dissolve about {} g of chalk",
                trim(useful_mg / 1000.0, 1)
            ),
            warnings,
        }
    }
}

/// "5 : 9" in whole marks, shortened where both share a factor; "neat" without water.
fn ratio_text((agent, water): (f64, f64)) -> String {
    const fn common(a: u64, b: u64) -> u64 {
        if b == 0 { a } else { common(b, a % b) }
    }
    let whole = |x: f64| (x - x.round()).abs() < 1e-6;
    if water < 1e-6 {
        "neat".to_owned()
    } else if whole(agent) && whole(water) {
        let (a, w) = (agent.round() as u64, water.round() as u64);
        let by = common(a, w);
        format!("{} : {}", a / by, w / by)
    } else {
        format!("{} : {}", trim(agent, 2), trim(water, 2))
    }
}

/// How long a bath must stand, as a range with its reason.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Soak {
    /// Minutes to set the timer to.
    pub minutes: f64,
    /// The least that leaves as little as is wanted of the likely chalk, minutes.
    pub low: f64,
    /// The least that does so even of the high estimate, minutes.
    pub high: f64,
    /// Whether this bath leaves as little as is wanted.
    pub clears: bool,
    /// Why.
    pub reason: String,
    /// The dispenses after which it soaks, in equal parts where there are several; none in plans from before it could be
    /// another than the first.
    #[serde(default)]
    pub after: Vec<u32>,
}

/// Standing for less than this is not worth a stop of its own, minutes. Judged.
const LEAST_PART: f64 = 10.0;

impl Soak {
    /// The dispenses after which it soaks, and how long at each when it is `minutes` in all: whole minutes, as a timer has them.
    /// What is too short to be parted is soaked at once, and none is where the first soak always is.
    ///
    /// # Example
    /// ```
    /// use crate::bath::Soak;
    /// let soak = |after| Soak { after, ..Soak::default() };
    /// assert_eq!(soak(vec![1, 2]).parts(25.0), [(1, 13.0), (2, 12.0)]);
    /// assert_eq!(soak(vec![1, 2]).parts(19.0), [(1, 19.0)]);
    /// assert_eq!(soak(vec![2]).parts(5.0), [(2, 5.0)]);
    /// assert_eq!(soak(vec![2]).parts(0.0), [(1, 0.0)]);
    /// ```
    #[must_use]
    pub fn parts(&self, minutes: f64) -> Vec<(u32, f64)> {
        let after = match self.after.as_slice() {
            _ if minutes <= 0.0 => &[1],
            [] => &[1],
            [first, _, ..] if minutes < LEAST_PART * self.after.len() as f64 => &[*first],
            after => after,
        };
        let mut left = minutes;
        let mut parts = Vec::new();
        for (i, place) in after.iter().enumerate() {
            let part = match after.len() - i {
                1 => left,
                to_come => (left / to_come as f64).ceil(),
            };
            left -= part;
            parts.push((*place, part));
        }
        parts
    }

    /// "no soak", "soak 20 min", "soak 30 + 30 min".
    #[must_use]
    pub fn words(&self, minutes: f64) -> String {
        let parts = self.parts(minutes);
        match parts.as_slice() {
            [(_, minutes)] if *minutes < 0.5 => "no soak".to_owned(),
            [(_, minutes)] => format!("soak {}", text::minutes(*minutes)),
            parts => {
                let each: Vec<_> = parts.iter().map(|(_, m)| format!("{m:.0}")).collect();
                format!("soak {} min", each.join(" + "))
            }
        }
    }
}

/// The marks of a tool, given what the brewer and the agent have.
///
/// # Errors
/// `Contradiction` when the tool's mark size is not known: no carafe, or no bottle.
pub fn marks(field: &str, tool: Tool, sizes: Sizes) -> Result<Marks, Problem> {
    Marks::of(tool, sizes).ok_or_else(|| {
        let why = match tool {
            Tool::Bottle => "this agent is not used by the bottle: measure with a jug",
            Tool::ReservoirLines => "the size of a reservoir line is not known: measure with a jug",
            _ => "this brewer has no carafe marks: measure with a jug",
        };
        Problem::new(Code::Contradiction, field, why)
    })
}

/// The source shown with the figures of a bath.
pub const SOURCE: &str = acid::SOURCE;

#[cfg(test)]
mod tests;

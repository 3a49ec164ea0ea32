//! The recipe and what it becomes when it is measured with what is at hand: amounts, strength, what it can dissolve.

use crate::bath::agent::{Agent, AgentForm, CITRIC_G_PER_TABLESPOON};
use murlo_base::problem::{Code, Problem};
use murlo_base::units::{Amount, Marks, Measure, Sizes, Tool, trim};
use murlo_base::{bounds, text};
use murlo_chemistry::acid::{self, Acid, AcidBath, SPENT_PH, citrate_onset_g_l};
use serde::{Deserialize, Serialize};

/// At this strength acid burns skin and eyes: gloves and goggles.
pub const GOGGLES_PERCENT: f64 = 10.0;

/// From this strength on a liquid is an essence, not vinegar.
const STRONG_PERCENT: f64 = 20.0;

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
            // The jug counts, not the bottle: thinned to what milder ones come to, each once.
            AgentForm::Liquid { acid, percent } if *percent >= GOGGLES_PERCENT => {
                let mild = [2.0, 1.0, 0.0].map(|water| Self::thinned(*acid, *percent, water));
                let mut all: Vec<Self> = mild.into();
                all.extend([ratio(1.0, 1.0), ratio(1.0, 0.0)]);
                all.dedup();
                all
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

    /// One part of a liquid of `percent` to `water` parts of water, as people take usual vinegar or a mild descaler; one that is
    /// strong is thinned until the bath is as strong as those.
    ///
    /// # Example
    /// ```
    /// use murlo_brewer::bath::Recipe;
    /// use murlo_chemistry::acid::Acid;
    /// // Half and half of usual vinegar is 2.5 %: of 25 % essence that is one part in nine of water.
    /// assert_eq!(Recipe::thinned(Acid::Acetic, 25.0, 1.0), Recipe::Ratio { agent: 1.0, water: 9.0 });
    /// assert_eq!(Recipe::thinned(Acid::Acetic, 6.0, 1.0), Recipe::Ratio { agent: 1.0, water: 1.0 });
    /// // Lactic acid of 80 %: 6 %.
    /// assert_eq!(Recipe::thinned(Acid::Lactic, 80.0, 1.0), Recipe::Ratio { agent: 1.0, water: 12.0 });
    /// ```
    #[must_use]
    pub fn thinned(acid: Acid, percent: f64, water: f64) -> Self {
        let water = match percent >= GOGGLES_PERCENT {
            true => water_parts(percent, usual_percent(acid) / (1.0 + water)),
            false => water,
        };
        Self::Ratio { agent: 1.0, water }
    }

    /// How many times stronger a bath of `total_ml` is for its agent being rounded up to marks of `step_ml`.
    ///
    /// # Example
    /// ```
    /// use murlo_brewer::bath::Recipe;
    /// // A fifth of 1.5 cups is 0.3 cups: measured in quarters, it is half a cup.
    /// let fifth = Recipe::Ratio { agent: 1.0, water: 4.0 };
    /// assert!((fifth.rounded_by(1.5, 0.25) - 5.0 / 3.0).abs() < 1e-9);
    /// assert_eq!(Recipe::Dose { g_per_l: 20.0 }.rounded_by(1.5, 0.25), 1.0);
    /// ```
    #[must_use]
    pub fn rounded_by(&self, total_ml: f64, step_ml: f64) -> f64 {
        match *self {
            Self::Dose { .. } => 1.0,
            Self::Ratio { agent, water } => {
                let in_marks = |step| split(total_ml, (agent, water), step).agent_ml;
                in_marks(Some(step_ml)) / in_marks(None).max(f64::MIN_POSITIVE)
            }
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

/// What is poured 1 : 1 by most, % w/v: usual vinegar; of lactic acid, which is weaker by weight, a bottled descaler.
const fn usual_percent(acid: Acid) -> f64 {
    match acid {
        Acid::Lactic => 12.0,
        Acid::Acetic | Acid::Citric | Acid::CitricMonohydrate | Acid::Sulfamic => 5.0,
    }
}

/// Whole parts of water that thin one part from `percent` to about `mild`.
fn water_parts(percent: f64, mild: f64) -> f64 {
    (percent / mild - 1.0).round().max(0.0)
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
/// use murlo_brewer::bath::split;
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

impl Mixed {
    /// Agent in it; none in a bath of plain water.
    #[must_use]
    pub fn agent_amount(&self) -> Option<Amount> {
        let liquid = self.agent.as_ref().map(|measure| Amount::Ml(measure.ml));
        liquid.or(self.powder_g.map(Amount::G))
    }
}

/// A bath as asked for.
#[derive(Debug, Clone, Copy)]
pub struct MixOrder<'a> {
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

/// Amounts as they are measured.
struct MeasuredMix {
    agent: Option<Measure>,
    powder_g: Option<f64>,
    agent_text: String,
    water: Measure,
    g_per_l: f64,
    actual_ratio: Option<String>,
}

impl MixOrder<'_> {
    /// Mixes the bath: agent up to the next mark, total kept.
    #[must_use]
    pub fn mix(&self) -> Mixed {
        let litres = self.total_ml / 1000.0;
        let acid = self.agent.acid();
        let total = self.marks.measure(self.total_ml);
        let MeasuredMix {
            agent,
            powder_g,
            agent_text,
            water,
            g_per_l,
            actual_ratio,
        } = self.measure(&total);
        let bath = AcidBath::new(acid, g_per_l, 25.0);
        let useful_mg = bath.useful_g_l(SPENT_PH) * litres * 1000.0;
        let warnings = self.warnings(g_per_l, useful_mg);
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

    /// The amounts, with what is at hand; `total` is all of it.
    fn measure(&self, total: &Measure) -> MeasuredMix {
        let litres = self.total_ml / 1000.0;
        let of_powder = |grams: f64, agent_text: String| MeasuredMix {
            agent: None,
            powder_g: Some(grams),
            agent_text,
            water: total.clone(),
            g_per_l: grams / litres,
            actual_ratio: None,
        };
        let g_per_l = match (self.recipe, self.agent.percent()) {
            (Recipe::Ratio { agent, water }, Some(percent)) => {
                let split = split(self.total_ml, (agent, water), Some(self.marks.step_ml));
                let pour = self.marks.measure(split.agent_ml);
                let marks = (
                    split.agent_ml / self.marks.step_ml,
                    split.water_ml / self.marks.step_ml,
                );
                return MeasuredMix {
                    agent_text: pour.text.clone(),
                    agent: Some(pour),
                    powder_g: None,
                    water: self.marks.measure(split.water_ml),
                    g_per_l: percent * 10.0 * split.agent_ml / self.total_ml,
                    actual_ratio: Some(ratio_text(marks)),
                };
            }
            (Recipe::Dose { g_per_l }, _) => g_per_l,
            (Recipe::Ratio { .. }, None) => 0.0,
        };
        if let AgentForm::Tablet { grams, .. } = self.agent.form {
            let tablets = (g_per_l * litres / grams - 1e-6).ceil().max(1.0);
            let text = text::count(tablets as u32, "tablet", "tablets");
            return of_powder(tablets * grams, text);
        }
        let grams = (g_per_l * litres - 1e-9).ceil();
        if !self.agent.acid().is_citric() {
            return of_powder(grams, format!("{grams} g"));
        }
        of_powder(grams, format!("{grams} g (about {})", spoons(grams)))
    }

    /// What somebody should know of a bath of that strength, which dissolves so much.
    fn warnings(&self, g_per_l: f64, useful_mg: f64) -> Vec<Warning> {
        let acid = self.agent.acid();
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
        warnings
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

/// The marks of a tool, given what the brewer and the agent have.
///
/// # Errors
/// `Contradiction` when the tool's mark size is not known: no carafe, or no bottle.
pub fn marks(field: &str, tool: Tool, sizes: Sizes) -> Result<Marks, Problem> {
    Marks::of(tool, sizes).ok_or_else(|| {
        let why = match tool {
            Tool::Bottle => "this agent is not used by the bottle: measure with a jug",
            Tool::ReservoirLines => "the size of a reservoir line is not known: measure with a jug",
            Tool::Cups | Tool::FlOz | Tool::Ml | Tool::CarafeMarks => {
                "this brewer has no carafe marks: measure with a jug"
            }
        };
        Problem::new(Code::Contradiction, field, why)
    })
}

/// The source shown with the figures of a bath.
pub const SOURCE: &str = acid::SOURCE;

/// Citric powder by the spoon, in halves rounded up where rounding down would be more than a twentieth too little: "1.5 level
/// tablespoons"; in teaspoons where half a tablespoon would be more than a quarter too much.
fn spoons(grams: f64) -> String {
    let halves = |g_per_spoon: f64| {
        let exact = 2.0 * grams / g_per_spoon;
        let down = exact.floor();
        match down >= exact * (1.0 - HARDLY_LESS) {
            true => down / 2.0,
            false => exact.ceil() / 2.0,
        }
    };
    let by_tablespoon = halves(CITRIC_G_PER_TABLESPOON);
    let is_too_coarse = by_tablespoon * CITRIC_G_PER_TABLESPOON > grams * (1.0 + FINER_FROM);
    let (count, noun) = match is_too_coarse {
        true => (halves(CITRIC_G_PER_TABLESPOON / 3.0), "teaspoon"),
        false => (by_tablespoon, "tablespoon"),
    };
    let plural = if count == 1.0 { "" } else { "s" };
    format!("{} level {noun}{plural}", trim(count, 1))
}

/// So much less powder is no weaker bath: level spoons differ by more.
const HARDLY_LESS: f64 = 0.05;

/// Where rounding moves the strength by more than this share, a finer tool is taken.
const FINER_FROM: f64 = 0.25;

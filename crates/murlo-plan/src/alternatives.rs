//! The same clean with every agent and recipe the household has, side by side, and which one Murlo would take and why.

use super::{Facts, Kind, Plan, PlanOptions, Ribbon};
use crate::options::MOST_BATHS;
use murlo_base::problem::Problems;
use murlo_base::text;
use murlo_brewer::bath::{Agent, AgentForm, GOGGLES_PERCENT, Recipe, Remark, Warning};
use murlo_chalk::scale::Chalk;
use murlo_chemistry::acid::Acid;
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
    /// Share of the limit that it likely leaves, %.
    pub left_percent: f64,
    /// "9 % of the limit".
    pub left_text: String,
    /// Minutes of soaking.
    pub soak_min: f64,
    /// The soak in words: "no soak", "soak 20 min"; empty where the programme soaks.
    pub soak_text: String,
    /// Dispenses of the bath.
    pub dispenses: u32,
    /// Rinses.
    pub rinses: u32,
    /// Water for them.
    pub rinse_water: String,
    /// What sour first coffees have added to them here, if any have.
    pub rinse_note: Option<String>,
    /// "54 min of 2 h 34 min".
    pub time_text: String,
    /// Minutes from first to last act.
    pub elapsed_min: f64,
    /// Fresh baths that it will likely take.
    pub baths: u32,
    /// Hands, nearby and free time, money and trouble as one figure, minutes.
    pub score_min: f64,
    /// What it is made of: "18 your hands, 12 half of the time nearby".
    pub score_text: String,
    /// What one clean costs, as far as prices are known.
    pub cost: f64,
    /// "$3.20", or nothing when no price is known.
    pub cost_text: String,
    /// Cautions of the bath.
    pub warnings: Vec<String>,
    /// Its time, of the first bath where several are likely.
    pub ribbon: Ribbon,
    /// Chalk that it likely leaves.
    pub after: Option<Chalk>,
    /// Whether it smells.
    pub smells: bool,
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
    /// What could be bought for it, where nothing is in the house.
    pub buy: Vec<Purchase>,
}

/// Something to buy for a clean.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Purchase {
    /// The agent.
    pub agent_id: String,
    /// Its name.
    pub name: String,
    /// What this clean takes: "25 g", "360 mL".
    pub amount: String,
    /// Where it is usually sold.
    pub sold_at: String,
}

/// What stands against a bath, the weightiest first.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Objection {
    Forbidden,
    /// The household said so.
    NeverAgain,
    /// For cold use: hot it turns into something else.
    ColdOnly,
    Sludge,
    /// A strong bath works faster but bites: it is only ever offered.
    Strong,
    /// Weaker or stronger than anybody's first bath.
    Unpractised,
    NotHere,
    Cupboard,
    /// Not even several baths reach what is wanted.
    NotReached,
    TooLong,
}

impl Objection {
    fn to(facts: &Facts, agent: &Agent, plan: &Plan, minutes: Option<f64>) -> Option<Self> {
        let has = |warning| plan.bath.warnings.contains(&warning);
        let uses = plan.likely_agent();
        // With the share of chalk that each of the likely baths meets.
        let alone = plan.likely_baths <= 1;
        [
            (Self::Forbidden, facts.brewer.forbids.contains(&agent.id)),
            (
                Self::NeverAgain,
                agent.remarks.contains(&Remark::NeverAgain),
            ),
            (Self::ColdOnly, agent.acid() == Acid::Sulfamic),
            (
                Self::Sludge,
                has(Warning::CitrateSludge) || (alone && has(Warning::CitrateMayDrop)),
            ),
            // The bath counts: a strong bottle that is thinned asks for care while it is poured, and no more.
            (Self::Strong, plan.bath.percent >= GOGGLES_PERCENT),
            (Self::Unpractised, !is_practised(agent, plan)),
            (
                Self::NotHere,
                agent.on_hand == Some(0.0) && !facts.house_is_bare(),
            ),
            (
                Self::Cupboard,
                agent.on_hand != Some(0.0) && agent.there().is_some_and(|left| left < uses),
            ),
            (
                Self::NotReached,
                plan.likely_baths >= MOST_BATHS && !plan.soak.clears,
            ),
            (
                Self::TooLong,
                minutes.is_some_and(|most| plan.ribbon.elapsed_min > most),
            ),
        ]
        .into_iter()
        .find_map(|(objection, holds)| holds.then_some(objection))
    }

    const fn words(self) -> &'static str {
        match self {
            Self::Forbidden => "forbidden by its maker",
            Self::NeverAgain => "you said never again",
            Self::Sludge => "white sludge may drop out",
            Self::ColdOnly => "meant for cold descaling: this brewer heats its bath",
            Self::Strong => "needs gloves and goggles",
            Self::Unpractised => "weaker or stronger than is practised",
            Self::NotHere => "not in the house",
            Self::Cupboard => "more than is in the cupboard",
            Self::NotReached => "several baths may not clear it",
            Self::TooLong => "takes longer than you have",
        }
    }
}

/// The strengths that are recommended unasked, % w/v: vinegar, citric and lactic acid. A label's own dose needs none.
fn is_practised(agent: &Agent, plan: &Plan) -> bool {
    let (least, most) = match (&agent.form, agent.acid()) {
        (AgentForm::Bottle { .. } | AgentForm::Tablet { .. }, _) => return true,
        (_, Acid::Acetic) => (1.5, 6.0),
        (_, Acid::Citric | Acid::CitricMonohydrate) => (1.5, 3.5),
        (_, Acid::Lactic) => (4.0, 8.0),
        (_, Acid::Sulfamic) => return true,
    };
    (least - ROUNDED..=most + ROUNDED).contains(&plan.bath.percent)
}

/// A bath that is measured in whole marks may be so much beside its recipe, % w/v.
const ROUNDED: f64 = 0.1;

/// What an hour is worth where the household has not said, in its currency. Stated, not measured.
const USUAL_RATE: f64 = 15.0;
/// Minutes that a bath's smell counts for where the household avoids it, and where it does not. Judged.
const SMELL_MIN: (f64, f64) = (40.0, 2.0);
/// Minutes that foam counts for, and a walk to a chemist's. Judged.
const FOAM_MIN: f64 = 5.0;
const CHEMIST_MIN: f64 = 20.0;
/// Minutes that a whole bottle counts for where nobody has said what it costs: it is dearer than what stands in a kitchen. Judged.
const BOTTLE_MIN: f64 = 30.0;
/// Minutes besides soak and presses for each further bath: looking, emptying, mixing. Judged.
const FURTHER_BATH_MIN: f64 = 10.0;
/// The bath that was taken last stays, unless another is better by this share.
const BETTER_BY: f64 = 0.10;

/// The parts of a score, in minutes.
fn score(facts: &Facts, agent: &Agent, plan: &Plan, price: Option<f64>) -> Vec<(String, f64)> {
    let ribbon = &plan.ribbon;
    let further = f64::from(plan.likely_baths.saturating_sub(plan.chosen.baths));
    let rate = facts.terms.hourly_rate.filter(|rate| *rate > 0.0);
    let mut parts = vec![
        ("your hands".to_owned(), ribbon.hands_on_min),
        ("half of the time nearby".to_owned(), ribbon.near_min / 2.0),
        (
            "a tenth of the free time".to_owned(),
            ribbon.free_min / 10.0,
        ),
    ];
    if further > 0.0 {
        let each = FURTHER_BATH_MIN + plan.soak.minutes / 10.0;
        parts.push(("further baths".to_owned(), further * each));
    }
    if let Some(price) = price {
        let (rate, whose) = rate.map_or((USUAL_RATE, "a usual"), |rate| (rate, "your"));
        parts.push((
            format!(
                "money at {whose} rate of {} an hour",
                facts.terms.amount(rate)
            ),
            60.0 * price / rate,
        ));
    }
    if price.is_none() && matches!(agent.form, AgentForm::Bottle { .. }) {
        parts.push(("a bottle for one clean".to_owned(), BOTTLE_MIN));
    }
    if agent.acid() == Acid::Acetic {
        let avoided = facts.terms.avoid_smell;
        let minutes = if avoided { SMELL_MIN.0 } else { SMELL_MIN.1 };
        parts.push(("smell".to_owned(), minutes));
    }
    for (remark, name, minutes) in [
        (Remark::Foams, "foam", FOAM_MIN),
        (Remark::FromChemist, "from a chemist's", CHEMIST_MIN),
    ] {
        if agent.remarks.contains(&remark) {
            parts.push((name.to_owned(), minutes));
        }
    }
    parts
}

/// Recipes worth comparing; powders differ little from step to step, so their ends are enough.
fn compared(form: &AgentForm) -> Vec<Recipe> {
    let all = Recipe::schools(form);
    match form {
        AgentForm::Powder { .. } => all.first().into_iter().chain(all.last()).copied().collect(),
        AgentForm::Liquid { .. } | AgentForm::Bottle { .. } | AgentForm::Tablet { .. } => all,
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
        let (mut alternatives, mut buy) = (Vec::new(), Vec::new());
        for agent in self.agents {
            let mut best: Option<(f64, Purchase)> = None;
            for recipe in compared(&agent.form) {
                let options = PlanOptions {
                    agent_id: Some(agent.id.clone()),
                    recipe: Some(recipe),
                    taste: options.taste,
                    minutes: options.minutes,
                    fill: options.fill,
                    sure: options.sure,
                    circuit_id: options.circuit_id.clone(),
                    ..PlanOptions::default()
                };
                let choice = self.choose(&options, None)?;
                let likely = self.likely_baths(&choice);
                let plan = self.draw_up(&options, &choice, likely);
                let against = Objection::to(self, agent, &plan, options.minutes);
                let price = self.price(agent, &plan);
                let parts = score(self, agent, &plan, price);
                let minutes: f64 = parts.iter().map(|(_, minutes)| minutes).sum();
                if against.is_none() && best.as_ref().is_none_or(|(least, _)| minutes < *least) {
                    best = Some((minutes, self.purchase(agent, &plan)));
                }
                alternatives.push(Alternative {
                    rinse_note: self.note_of_sour(agent, &plan.rinse),
                    ..alternative(&plan, recipe, against, &parts)
                });
            }
            let bought = best.filter(|_| self.house_is_bare());
            buy.extend(bought.map(|(_, purchase)| purchase));
        }
        let because = self.recommend(&mut alternatives);
        Ok(Comparison {
            alternatives,
            because,
            buy,
        })
    }

    /// Whether somebody looked and found no agent at all.
    fn house_is_bare(&self) -> bool {
        self.agents.iter().all(|a| a.on_hand == Some(0.0))
    }

    fn purchase(&self, agent: &Agent, plan: &Plan) -> Purchase {
        let amount = plan.likely_agent();
        Purchase {
            agent_id: agent.id.clone(),
            name: agent.name.clone(),
            amount: agent.amount_text(amount, self.units),
            sold_at: agent.sold_at().to_owned(),
        }
    }

    /// What the agent of one clean costs; where nobody gave a price, that of the dearest known of its kind.
    fn price(&self, agent: &Agent, plan: &Plan) -> Option<f64> {
        let each = |agent: &Agent| {
            let offers = agent.offers.iter().map(murlo_brewer::offer::Offer::each);
            offers.reduce(f64::min)
        };
        let same = |other: &&Agent| {
            std::mem::discriminant(&other.form) == std::mem::discriminant(&agent.form)
        };
        let dearest = || {
            self.agents
                .iter()
                .filter(same)
                .filter_map(each)
                .reduce(f64::max)
        };
        let number = plan.likely_agent().number();
        each(agent).or_else(dearest).map(|each| each * number)
    }

    /// Marks the one to take, and says why.
    fn recommend(&self, all: &mut [Alternative]) -> String {
        let least = |all: &[Alternative],
                     fits: &dyn Fn(&Alternative) -> bool,
                     of: fn(&Alternative) -> f64| {
            let fitting = (0..all.len()).filter(|i| fits(&all[*i]));
            fitting.min_by(|a, b| of(&all[*a]).total_cmp(&of(&all[*b])))
        };
        let free = |a: &Alternative| a.against.is_none();
        let score = |a: &Alternative| a.score_min;
        let practised = self.practised(all);
        let usual = |a: &Alternative| {
            free(a) && practised.contains(&(a.agent_id.clone(), a.recipe_label.clone()))
        };
        if let Some(best) = least(all, &usual, score) {
            let last = self.today.last.as_ref();
            let kept = (0..all.len()).find(|i| {
                let a = &all[*i];
                last.is_some_and(|last| last.agent_id == a.agent_id && last.recipe == a.recipe)
                    && free(a)
            });
            let kept =
                kept.filter(|i| all[*i].score_min * (1.0 - BETTER_BY) <= all[best].score_min);
            let taken = kept.unwrap_or(best);
            all[taken].recommended = true;
            let taken = &all[taken];
            let why = match kept {
                Some(_) => "as last time: nothing else is better by more than a tenth",
                None if self.is_usual(taken) => {
                    "the usual recipe for such a brewer, and the least of your time and money among those that fit"
                }
                None => {
                    "stronger than usual, since the usual recipe would take more baths for this much chalk"
                }
            };
            return format!("{}, {}: {why}.", taken.agent_name, taken.recipe_label);
        }
        // Never the first of a list, nor the strong one while another is there: what leaves least without goggles.
        let is_any = |a: &Alternative, of: &[Objection]| {
            let against = a.against.as_deref();
            of.iter().any(|o| against == Some(o.words()))
        };
        let out = [
            Objection::Forbidden,
            Objection::NeverAgain,
            Objection::NotHere,
        ];
        let mild = |a: &Alternative| !is_any(a, &out) && !is_any(a, &[Objection::Strong]);
        let here = |a: &Alternative| !is_any(a, &out);
        let left = |a: &Alternative| a.left_percent;
        let Some(best) = least(all, &mild, left).or_else(|| least(all, &here, left)) else {
            return "Nothing here is allowed for this brewer: buy vinegar, citric acid or a descaler that its maker allows.".to_owned();
        };
        all[best].recommended = true;
        let best = &all[best];
        format!(
            "Something stands against every one of them. {}, {} leaves least of what can be taken ({}): {}.",
            best.agent_name,
            best.recipe_label,
            text::share(best.left_percent / 100.0),
            best.against.as_deref().unwrap_or_default()
        )
    }

    fn is_usual(&self, a: &Alternative) -> bool {
        let mut agents = self.agents.iter();
        let agent = agents.find(|agent| agent.id == a.agent_id);
        agent.is_some_and(|agent| self.usual_recipe(&agent.form) == a.recipe)
    }

    /// The recipe of each agent that is taken unasked, by agent and label: the practised one, and a stronger one only where that
    /// saves baths. More chalk never gets a weaker bath than less.
    fn practised(&self, all: &[Alternative]) -> Vec<(String, String)> {
        let mut taken = Vec::new();
        for agent in self.agents {
            let own = || {
                let own = all.iter().filter(|a| a.agent_id == agent.id);
                own.filter(|a| a.against.is_none())
            };
            let usual = all
                .iter()
                .find(|a| a.agent_id == agent.id && self.is_usual(a));
            let from = usual.map_or(0.0, |usual| usual.percent);
            let milder = |a: &&Alternative, b: &&Alternative| {
                let usual_first = self.is_usual(b).cmp(&self.is_usual(a));
                a.percent.total_cmp(&b.percent).then(usual_first)
            };
            let strong_enough = || own().filter(|a| a.percent + 1e-9 >= from);
            // The mildest that does it in one bath; where none does, the strongest does it in fewest.
            let alone = strong_enough().filter(|a| a.baths <= 1).min_by(milder);
            let found = alone.or_else(|| strong_enough().max_by(milder));
            let found = found.or_else(|| own().max_by(milder));
            taken.extend(found.map(|a| (a.agent_id.clone(), a.recipe_label.clone())));
        }
        taken
    }

    /// `options` with the recommended agent and recipe where the person chose no agent.
    ///
    /// # Errors
    /// Those of [`Facts::compare`].
    pub fn recommended(&self, options: PlanOptions) -> Result<PlanOptions, Problems> {
        let is_settled = self.part_for(&options).is_some() || self.way_for(&options)?.is_some();
        if options.agent_id.is_some() || is_settled {
            return Ok(options);
        }
        if options.dirt {
            return Ok(self.for_dirt(options));
        }
        let all = self.compare(&options)?.alternatives;
        let allowed = |a: &&Agent| !self.brewer.forbids.contains(&a.id);
        Ok(match all.into_iter().find(|a| a.recommended) {
            Some(best) => PlanOptions {
                agent_id: Some(best.agent_id),
                recipe: options.recipe.or(Some(best.recipe)),
                ..options
            },
            // Whatever is shown instead, it is not what the maker forbids.
            None => PlanOptions {
                agent_id: self.agents.iter().find(allowed).map(|a| a.id.clone()),
                ..options
            },
        })
    }
}

impl Facts<'_> {
    /// Against dirt any mild agent does: one that the maker allows and that is in the house before one that is not.
    fn for_dirt(&self, options: PlanOptions) -> PlanOptions {
        let mild = |a: &&Agent| {
            let strong = a.percent().is_some_and(|p| p >= GOGGLES_PERCENT);
            !strong
                && !self.brewer.forbids.contains(&a.id)
                && !a.remarks.contains(&Remark::NeverAgain)
        };
        let is_there = |a: &&Agent| a.on_hand.is_none_or(|left| left > 0.0);
        let all = || self.agents.iter().filter(mild);
        let agent = all().find(is_there).or_else(|| all().next());
        PlanOptions {
            agent_id: agent.map(|a| a.id.clone()),
            ..options
        }
    }
}

fn alternative(
    plan: &Plan,
    recipe: Recipe,
    against: Option<Objection>,
    score: &[(String, f64)],
) -> Alternative {
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
            / (f64::from(plan.likely_baths) * bath.useful_mg).max(1.0),
        left_text: plan
            .after
            .as_ref()
            .map_or_else(String::new, |after| after.of_limit.clone()),
        left_percent: plan.after.as_ref().map_or(0.0, |after| 100.0 * after.used),
        soak_min: plan.soak.minutes,
        soak_text: if plan.steps.iter().any(|s| s.is(Kind::Programme)) {
            String::new()
        } else {
            plan.soak.words(plan.soak.minutes)
        },
        dispenses: plan.dispensing.count,
        rinses: plan.rinse.portions,
        rinse_water: plan.rinse.water.text.clone(),
        rinse_note: None,
        time_text: format!(
            "{} of {}",
            text::minutes(plan.ribbon.hands_on_min),
            text::minutes(plan.ribbon.elapsed_min)
        ),
        elapsed_min: plan.ribbon.elapsed_min,
        ribbon: plan.ribbon.clone(),
        after: plan.after.clone(),
        smells: bath.acid == Some(Acid::Acetic),
        warnings: plan.warnings.clone(),
        baths: plan.likely_baths,
        score_min: score.iter().map(|(_, minutes)| minutes).sum(),
        score_text: score
            .iter()
            .filter(|(_, minutes)| *minutes >= 0.5)
            .map(|(name, minutes)| format!("{minutes:.0} {name}"))
            .collect::<Vec<_>>()
            .join(", "),
        cost: cost.map_or(0.0, |c| c.total),
        cost_text: cost.map_or_else(String::new, |c| c.each_text.clone()),
        against: against.map(|objection| objection.words().to_owned()),
        recommended: false,
    }
}

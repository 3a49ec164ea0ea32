//! What a clean came to: what it used, what it did besides, and the acid it left.

use super::seen::Glass;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::text;
use murlo_base::units::Amount;
use murlo_brewer::bath::Taken;
use murlo_brewer::home::Bottle;
use murlo_brewer::job::Job;
use murlo_brewer::journal::{CLEARED, DID, Entry, FITTED, TIMED, What};
use murlo_brewer::rinse::Counted;
use murlo_chalk::belief::Told;
use murlo_chalk::scale::{Chalk, Evidence};
use murlo_chemistry::cleaning::Bathed;
use murlo_plan::pace::Took;
use murlo_plan::{Because, PartOf, Plan, Work};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// What a clean came to, fixed when it ends.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Outcome {
    /// The civil day it ended.
    pub day: Date,
    /// Baths run.
    pub rounds: u32,
    /// Rinses counted after the last bath.
    pub rinses: u32,
    /// "White vinegar, 2.5 %, soaked 25 min".
    pub text: String,
    /// Whether somebody overruled a verdict.
    pub overruled: bool,
    /// Whether the bath brought a lot of chalk out (or none), as older versions had it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub showed_chalk: Option<bool>,
    /// What was seen of the chalk.
    #[serde(default)]
    pub seen: Option<Evidence>,
    /// What its baths did.
    #[serde(default)]
    pub bathed: Option<Bathed>,
    /// Its agent and recipe.
    #[serde(default)]
    pub taken: Option<Taken>,
    /// Seconds of a cup that was timed before it.
    #[serde(default)]
    pub cup_before_s: Option<f64>,
    /// What the clean was for.
    #[serde(default)]
    pub work: Work,
    /// Minutes the programme took, when it was timed.
    #[serde(default)]
    pub programme_min: Option<f64>,
    /// The glasses.
    #[serde(default)]
    pub glasses: Vec<Glass>,
    /// "5 of 6 places cleared with a paper clip; 40 s before, 22 s after".
    #[serde(default)]
    pub needles: Option<String>,
    /// What was looked at in the end, a line each: "Smell: nobody notices, by a second person".
    #[serde(default)]
    pub checks: Vec<String>,
    /// What was decided against advice, a line each.
    #[serde(default)]
    pub overrules: Vec<String>,
    /// What was looked into before, and led to it.
    #[serde(default)]
    pub because: Option<Because>,
    /// Dispenses the last bath gave.
    #[serde(default)]
    pub bath_counted: Option<Counted>,
    /// Dispenses one filled reservoir gave while rinsing.
    #[serde(default)]
    pub fill_counted: Option<Counted>,
    /// Whether a new water filter was fitted in it.
    #[serde(default)]
    pub filter_fitted: bool,
    /// Small works that were done in it, or by it; versions before there were any did not tell.
    #[serde(default)]
    pub jobs: Option<Vec<Job>>,
    /// Agent that went into its baths, mL or g, as it was kept before each bath was kept by itself.
    #[serde(default)]
    pub used: Option<f64>,
    /// Its baths as they were poured.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub poured: Vec<PouredBath>,
    /// Whose agent that was.
    #[serde(default)]
    pub bottle: Bottle,
    /// Which part it was of a clean over days.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub part: Option<PartOf>,
    /// Acid that was still inside when it ended.
    #[serde(default)]
    pub acid_left: Option<AcidLeft>,
    /// Whether it was given up before its end.
    #[serde(default)]
    pub given_up: bool,
    /// How long steps took that hands were at.
    #[serde(default)]
    pub took: Vec<Took>,
    /// The chalk that its baths met, and what they likely left; nothing where no bath was poured, and of versions before it was kept.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub chalk: Option<Box<ChalkMet>>,
}

/// The chalk of a side before its baths and after them, as it was reckoned then.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ChalkMet {
    /// Before.
    pub before: Chalk,
    /// After; nothing where fewer baths were poured than were reckoned with.
    pub after: Option<Chalk>,
}

/// One bath, as it was poured.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PouredBath {
    /// The agent.
    pub agent_id: String,
    /// Its name then.
    pub agent_name: String,
    /// How much of it; nothing in plans from before that was kept.
    pub amount: Option<Amount>,
    /// Strength of the bath, % w/v.
    pub percent: f64,
    /// Minutes it soaked; nothing where it did not.
    pub soaked_min: Option<f64>,
}

impl PouredBath {
    /// The bath of `plan`, just poured.
    pub(crate) fn planned(plan: &Plan) -> Self {
        Self {
            agent_id: plan.chosen.agent_id.clone(),
            agent_name: plan.bath.agent_name.clone(),
            amount: plan.agent_amount(),
            percent: plan.bath.percent,
            soaked_min: None,
        }
    }
}

/// Acid that a clean left inside, more than people let pass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AcidLeft {
    /// How much, mg/L.
    pub mg_l: f64,
    /// Where nobody notices, mg/L.
    pub target_mg_l: f64,
    /// Since when the bath is inside; versions before it was kept did not tell.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub since: Option<Timestamp>,
}

impl AcidLeft {
    /// "about 240 times what people notice".
    #[must_use]
    pub fn times(&self) -> String {
        murlo_brewer::rinse::times_noticed(self.mg_l.max(1.1 * self.target_mg_l), self.target_mg_l)
    }
}

impl Outcome {
    /// What was seen of the chalk, also where an older version wrote it down.
    #[must_use]
    pub fn evidence(&self) -> Evidence {
        let older = Evidence {
            brought: self.showed_chalk.map(|lot| match lot {
                true => Told::Lot,
                false => Told::None,
            }),
            ..Evidence::default()
        };
        self.seen.unwrap_or(older)
    }

    /// What it tells besides descaling, as entries: a cup timed before, needles only where there were any to clear, a filter
    /// only where a new one went in.
    #[must_use]
    pub fn told_besides(&self, clean_id: &str, brewer_id: &str, circuit_id: &str) -> Vec<Entry> {
        let entry = |start: &str, what| Entry {
            id: format!("{start}{clean_id}"),
            brewer_id: brewer_id.to_owned(),
            day: self.day,
            at: None,
            what,
        };
        let whole = self.work == Work::Needles && !self.given_up;
        let needles = self.needles.is_some() || whole;
        let mut entries = Vec::new();
        entries.extend(self.cup_before_s.map(|seconds| {
            let (circuit_id, cup_ml) = (circuit_id.to_owned(), None);
            let timed = What::Timed {
                circuit_id,
                seconds,
                cup_ml,
            };
            entry(TIMED, timed)
        }));
        entries.extend(needles.then(|| entry(CLEARED, What::NeedlesCleared)));
        // Parts and tray always stood in the plan of a whole clean.
        let always: &[Job] = match self.work {
            Work::Descale => &[Job::Wash, Job::Tray],
            Work::Needles | Work::Rehearsal | Work::Upkeep => &[],
        };
        let jobs = self.jobs.as_deref().unwrap_or(always);
        entries.extend(jobs.iter().map(|job| {
            let start = format!("{DID}{job:?}-").to_lowercase();
            entry(&start, What::Did { job: *job })
        }));
        entries.extend(
            self.filter_fitted
                .then(|| entry(FITTED, What::FilterFitted)),
        );
        entries
    }

    /// What its baths took of each agent, by its id.
    #[must_use]
    pub fn took_agents(&self) -> BTreeMap<&str, f64> {
        let mut all = took_agents(&self.poured);
        // Of one that was logged before, only the sum of its first agent is known.
        let sum = self.taken.as_ref().zip(self.used);
        if let Some((taken, used)) = sum.filter(|_| self.poured.is_empty()) {
            all.insert(taken.agent_id.as_str(), used);
        }
        all.retain(|_, number| *number > 0.0);
        all
    }

    /// Whether it was given up before anything was poured, cleared or done besides.
    #[must_use]
    pub fn did_nothing(&self) -> bool {
        let besides = self.needles.is_some() || self.jobs.iter().flatten().next().is_some();
        self.given_up && self.rounds == 0 && !besides
    }

    /// "White vinegar, 2.5 %, soaked 25 min; 8 rinses; against advice".
    #[must_use]
    pub fn line(&self) -> String {
        let mut line = self.text.clone();
        if let (Work::Needles, Some(needles)) = (self.work, &self.needles) {
            line = format!("Needles: {needles}");
        } else if self.work == Work::Descale && self.rounds > 0 {
            line.push_str(&format!(
                "; {}",
                text::count(self.rinses, "rinse", "rinses")
            ));
        }
        if let Some(part) = &self.part {
            line.push_str(&format!("; {}", part.words()));
        }
        if self.overruled {
            line.push_str("; against advice");
        }
        match self.given_up {
            true => format!("Given up: {line}"),
            false => line,
        }
    }
}

/// What baths took of each agent, by its id.
#[must_use]
pub fn took_agents(poured: &[PouredBath]) -> BTreeMap<&str, f64> {
    let mut all = BTreeMap::new();
    for bath in poured {
        let number = bath.amount.map_or(0.0, Amount::number);
        *all.entry(bath.agent_id.as_str()).or_default() += number;
    }
    all
}

/// A bath that stood longer was forgotten; it is spent by then, minutes.
pub(crate) const LONGEST_SOAK: f64 = 1440.0;

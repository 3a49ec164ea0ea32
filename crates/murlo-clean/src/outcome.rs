//! What a clean came to: what it used, what it did besides, and the acid it left.

use super::progress::Progress;
use super::seen::Glass;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::Needle;
use murlo_brewer::bath::Taken;
use murlo_brewer::instruction::{Instruction, Thing};
use murlo_brewer::job::Job;
use murlo_brewer::journal::{CLEARED, DID, Entry, FITTED, TIMED, What};
use murlo_brewer::rinse::Counted;
use murlo_chalk::belief::Told;
use murlo_chalk::scale::Evidence;
use murlo_chemistry::cleaning::Bathed;
use murlo_plan::pace::Took;
use murlo_plan::{Because, Doing, Kind, Plan, Step, Work};
use serde::{Deserialize, Serialize};

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
    /// Agent that went into its baths, mL or g.
    #[serde(default)]
    pub used: Option<f64>,
    /// Acid that was still inside when it ended.
    #[serde(default)]
    pub acid_left: Option<AcidLeft>,
    /// How long steps took that hands were at.
    #[serde(default)]
    pub took: Vec<Took>,
}

/// Acid that a clean left inside, more than people let pass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AcidLeft {
    /// How much, mg/L.
    pub mg_l: f64,
    /// Where nobody notices, mg/L.
    pub target_mg_l: f64,
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
        let needles = self.needles.is_some() || self.work == Work::Needles;
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
            _ => &[],
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

    /// "White vinegar, 2.5 %, soaked 25 min; 8 rinses; against advice".
    #[must_use]
    pub fn line(&self) -> String {
        let mut line = self.text.clone();
        if let (Work::Needles, Some(needles)) = (self.work, &self.needles) {
            line = format!("Needles: {needles}");
        } else if self.work == Work::Descale {
            line.push_str(&format!(
                "; {}",
                text::count(self.rinses, "rinse", "rinses")
            ));
        }
        if self.overruled {
            line.push_str("; against advice");
        }
        line
    }
}

/// A bath that stood longer was forgotten; it is spent by then, minutes.
const LONGEST_SOAK: f64 = 1440.0;

impl Progress {
    pub(super) fn rinsed(&self, plan: &Plan) -> u32 {
        self.rinse_step(plan).map_or(0, |i| self.count[i])
    }

    /// Acid that is inside now, if it is more than people let pass.
    pub(super) fn acid_left(&self, plan: &Plan) -> Option<AcidLeft> {
        let began = self.bath_step(plan)?;
        if plan.work != Work::Descale || self.vouched_by.is_some() {
            return None;
        }
        let rinsed = self.rinse_step(plan).filter(|rinse| *rinse > began);
        let counted = rinsed.map_or(0, |i| self.count[i]);
        let mg_l = plan.rinse.level_mg_l(counted);
        // Where the target is just met by its last portion, rounding must not tell otherwise.
        (mg_l > plan.rinse.target_mg_l * 1.001).then_some(AcidLeft {
            mg_l,
            target_mg_l: plan.rinse.target_mg_l,
        })
    }

    /// Agent that went into the baths that were mixed: the first as it was measured, further ones by their acid.
    fn used(&self, plan: &Plan) -> Option<f64> {
        let first = plan.agent_amount()?;
        let acid = |step: &Step| -> f64 {
            let pours = step.instructions.iter().filter_map(|i| match i {
                Instruction::PourBath { ml, mg_l, .. } => Some(ml * mg_l),
                _ => None,
            });
            pours.sum()
        };
        let mixes = || {
            plan.steps
                .iter()
                .zip(&self.done)
                .filter(|(s, _)| s.is(Kind::Mix))
        };
        let of_first = mixes().map(|(step, _)| acid(step)).find(|acid| *acid > 0.0);
        let mixed = mixes().filter(|(_, done)| **done);
        let shares = mixed.map(|(step, _)| match of_first {
            Some(of_first) => acid(step) / of_first,
            None => 1.0,
        });
        let all = first * (shares.sum::<f64>() + f64::from(self.loops));
        (plan.work == Work::Descale && all > 0.0).then_some(all)
    }

    /// The small works that its steps amount to; filter and needles are told by what was done to them.
    fn jobs(&self, plan: &Plan) -> Vec<Job> {
        let told = |job: &Job| matches!(job, Job::Filter | Job::Needles);
        if plan.work == Work::Upkeep {
            let all_done = self.done.iter().all(|done| *done);
            return plan
                .job
                .filter(|job| all_done && !told(job))
                .into_iter()
                .collect();
        }
        let has = |kind| {
            let mut steps = plan.steps.iter().enumerate();
            steps.any(|(i, step)| step.is(kind) && self.was_followed(plan, i))
        };
        let mut jobs = Vec::new();
        if plan.work == Work::Descale && has(Kind::Parts) && has(Kind::Body) {
            jobs.push(Job::Wash);
            let washed_tray = has(Kind::Others) && plan.has_tray;
            jobs.extend(washed_tray.then_some(Job::Tray));
        }
        // Whoever takes the larger bath need not take the small one.
        let by_cup = plan.mechanism.as_ref().is_some_and(|m| m.by_cup);
        jobs.extend(
            (plan.work == Work::Descale && by_cup && has(Kind::Mix)).then_some(Job::LightBath),
        );
        jobs
    }

    /// Whether a new filter went in.
    fn fitted_filter(&self, plan: &Plan) -> bool {
        let fits = |i: &Instruction| {
            matches!(
                i,
                Instruction::PutIn {
                    thing: Thing::Filter,
                    new: true
                }
            )
        };
        let mut steps = plan.steps.iter().zip(&self.done);
        steps.any(|(step, done)| *done && step.instructions.iter().any(fits))
    }

    fn needles_text(&self, plan: &Plan) -> Option<String> {
        // Cleared once more, the same places count again.
        let spots = plan.steps.iter().rev().find_map(|s| match &s.doing {
            Doing::Clear { needles } => Some(needles.iter().flat_map(Needle::spots).count()),
            _ => None,
        });
        let spots = spots.unwrap_or(0);
        if spots == 0 {
            return None;
        }
        let tool = self
            .tool
            .map_or(String::new(), |t| format!(" with {}", t.words()));
        let mut text = format!("{} of {spots} places cleared{tool}", self.clear.len());
        let timed = |kind: Kind| self.flow.iter().rfind(|f| f.is_at(kind));
        let before = timed(Kind::Before).or_else(|| timed(Kind::Baseline));
        let after = timed(Kind::After).or_else(|| timed(Kind::Verify));
        if let Some(flow) = before {
            text.push_str(&format!("; before {}", flow.text));
        }
        if let Some(flow) = after {
            text.push_str(&format!("; after {}", flow.text));
        }
        Some(text)
    }

    pub(super) fn come_to(&self, plan: &Plan, day: Date, at: Timestamp) -> Outcome {
        let needles = self.needles_text(plan);
        // As long as it really was: a forgotten bath is not worth more than one that was watched.
        let soak = match self.soaked_min {
            Some(minutes) if self.soaked => {
                format!(", soaked {}", text::minutes(minutes.min(LONGEST_SOAK)))
            }
            Some(_) => ", hardly soaked".to_owned(),
            None => String::new(),
        };
        let bath = format!("{}, {:.1} %{soak}", plan.bath.agent_name, plan.bath.percent);
        let mixes = plan.steps.iter().zip(&self.done);
        let mixes = mixes.filter(|(s, done)| **done && s.is(Kind::Mix));
        let baths = mixes.count() as u32 + self.loops;
        Outcome {
            day,
            rounds: baths,
            rinses: self.rinsed(plan),
            text: match plan.work {
                Work::Needles => "Needles cleared".to_owned(),
                Work::Rehearsal => "Rehearsal with plain water".to_owned(),
                Work::Upkeep => plan.job.map_or("Small work", Job::name).to_owned(),
                Work::Descale if baths > 1 => format!("{baths} × {bath}"),
                Work::Descale => bath,
            },
            overruled: !self.overrules.is_empty(),
            checks: self.checks(plan),
            overrules: self.overrules.clone(),
            because: plan.because.clone(),
            bath_counted: self.bath_counted,
            fill_counted: self.fill_counted.map(|dispenses| Counted {
                volume_ml: plan.reservoir_ml,
                dispenses,
            }),
            showed_chalk: None,
            seen: Some(self.evidence(plan)),
            bathed: self.bathing.come_to(plan, at),
            taken: (plan.work == Work::Descale).then(|| Taken {
                agent_id: plan.chosen.agent_id.clone(),
                recipe: plan.chosen.recipe,
            }),
            cup_before_s: self.cup_before(),
            work: plan.work,
            programme_min: self.programme_min,
            glasses: self.glasses.clone(),
            needles,
            filter_fitted: self.fitted_filter(plan),
            jobs: Some(self.jobs(plan)),
            used: self.used(plan),
            acid_left: self.acid_left(plan),
            took: self.took.clone(),
        }
    }
}

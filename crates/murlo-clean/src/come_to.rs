//! What a clean has come to, by its acts.

use crate::carry_out::SOAKED;
use crate::outcome::{AcidLeft, ChalkMet, LONGEST_SOAK, Outcome};
use crate::progress::Progress;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::Needle;
use murlo_brewer::bath::Taken;
use murlo_brewer::instruction::{Instruction, Thing};
use murlo_brewer::job::Job;
use murlo_brewer::rinse::Counted;
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::{Doing, Kind, Plan, Work};

/// Where the target is just met by the last portion, rounding must not tell otherwise.
const JUST_MET: f64 = 1.001;

/// What somebody notices is at least so many times the level at which nobody does.
const NOTICED: f64 = 1.1;

impl Progress {
    pub(super) fn rinsed(&self, plan: &Plan) -> u32 {
        self.rinse_step(plan).map_or(0, |i| self.count[i])
    }

    /// Acid that is inside now, if it is more than people let pass.
    pub(super) fn acid_left(&self, plan: &Plan) -> Option<AcidLeft> {
        let poured = self.bath_step(plan).filter(|_| plan.work == Work::Descale);
        // What somebody found in it is inside, whoever poured it.
        let began = poured.or(self.found_acid.then_some(0))?;
        if self.vouched_by.is_some() {
            return None;
        }
        let rinsed = self.rinse_step(plan).filter(|rinse| *rinse > began);
        let counted = rinsed.map_or(0, |i| self.count[i]);
        let expected = plan.rinse.level_mg_l(counted);
        let at_most = plan.rinse.level_if_more_mg_l(counted);
        let noticed = plan.rinse.target_mg_l * JUST_MET;
        let mg_l = match self.answered.get(&QuestionId::Smell) {
            _ if expected > noticed => expected,
            Some(AnswerId::Good) => expected,
            // A count alone does not know how much this brewer holds: until somebody has smelled at it, it may be more.
            None => at_most,
            // Whatever the count says, somebody noticed it.
            Some(_) => at_most.max(NOTICED * plan.rinse.target_mg_l),
        };
        (mg_l > noticed).then_some(AcidLeft {
            mg_l,
            target_mg_l: plan.rinse.target_mg_l,
            since: self.poured_at,
        })
    }

    /// "2 × White vinegar, 2.5 %, no soak; then 5.0 %, soaked 25 min": each bath as it was.
    fn baths_text(&self) -> String {
        let each = self.poured.iter().map(|bath| {
            let soak = match bath.soaked_min {
                // As long as it really was: a forgotten bath is not worth more than one that was watched.
                Some(minutes) if minutes >= SOAKED => {
                    format!(", soaked {}", text::minutes(minutes.min(LONGEST_SOAK)))
                }
                Some(_) => ", hardly soaked".to_owned(),
                // Of one bath alone nothing is said where nothing was.
                None if self.poured.len() > 1 => ", no soak".to_owned(),
                None => String::new(),
            };
            (
                bath.agent_name.as_str(),
                format!("{:.1} %{soak}", bath.percent),
            )
        });
        let each: Vec<_> = each.collect();
        let mut before = "";
        let alike = each.chunk_by(|one, next| one == next).map(|alike| {
            let (name, how) = &alike[0];
            let times = match alike.len() {
                1 => String::new(),
                n => format!("{n} × "),
            };
            let named = match *name == before {
                true => format!("{times}{how}"),
                false => format!("{times}{name}, {how}"),
            };
            before = name;
            named
        });
        alike.collect::<Vec<_>>().join("; then ")
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
            Doing::Once
            | Doing::Count { .. }
            | Doing::Wait { .. }
            | Doing::Ask { .. }
            | Doing::Measure { .. } => None,
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

    /// Given up on the way.
    pub(super) fn gave_up(&self, plan: &Plan, day: Date, at: Timestamp) -> Outcome {
        let mut steps = plan.steps.iter().zip(&self.done);
        let cleared = steps.any(|(step, done)| *done && step.is(Kind::Needles));
        let came_to = self.come_to(plan, day, at);
        Outcome {
            given_up: true,
            needles: came_to.needles.filter(|_| cleared),
            ..came_to
        }
    }

    pub(super) fn come_to(&self, plan: &Plan, day: Date, at: Timestamp) -> Outcome {
        let needles = self.needles_text(plan);
        let baths = self.poured.len() as u32;
        Outcome {
            day,
            rounds: baths,
            rinses: self.rinsed(plan),
            text: match plan.work {
                Work::Needles => "Needles cleared".to_owned(),
                Work::Rehearsal => "Rehearsal with plain water".to_owned(),
                Work::Upkeep => plan.job.map_or("Small work", Job::name).to_owned(),
                Work::Descale if baths == 0 => "no bath was poured".to_owned(),
                Work::Descale => self.baths_text(),
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
            used: None,
            poured: self.poured.clone(),
            bottle: plan.bottle,
            part: plan.part.clone(),
            acid_left: self.acid_left(plan),
            given_up: false,
            took: self.took.clone(),
            chalk: (plan.work == Work::Descale && baths > 0).then(|| {
                let after = plan.after.clone().filter(|_| baths >= plan.chosen.baths);
                Box::new(ChalkMet {
                    before: plan.chalk.clone(),
                    after,
                })
            }),
        }
    }
}

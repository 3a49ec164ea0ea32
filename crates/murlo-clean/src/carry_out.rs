//! Acts carried out: what each changes in where a clean stands, or why it does not fit there.

use super::choices::PLAUSIBLE;
use super::progress::{Progress, after, in_this_bath};
use super::seen::Flow;
use super::{Act, Closed, Note, Outcome, PouredBath, Verdict};
use crate::act::unfit;
use jiff::Timestamp;
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::rinse::Counted;
use murlo_brewer::{Needle, Spot};
use murlo_chalk::belief::Told;
use murlo_chalk::scale::FailedResult;
use murlo_plan::minutes;
use murlo_plan::pace::Took;
use murlo_plan::{
    Doing, Kind, Plan, Step, Wish, Work,
    answers::{AnswerId, QuestionId},
};
use std::borrow::Cow;
use std::collections::BTreeMap;

/// A programme that ended far from its time was forgotten, not timed.
const TIMED: std::ops::RangeInclusive<f64> = 0.3..=2.5;

/// Less than this soaks nothing, minutes.
pub(super) const SOAKED: f64 = 5.0;

impl Progress {
    pub(super) fn apply(
        &mut self,
        plan: &mut Cow<'_, Plan>,
        act: &Act,
        at: Timestamp,
    ) -> Result<(), Problem> {
        let current = self.current();
        let at_step = current.map(|i| (plan.steps[i].clone(), self.count[i], self.started[i]));
        self.carry_out(plan, act, at)?;
        if let Some((step, before, started)) = at_step {
            self.follow_bath(plan, &step, (before, started), at);
        }
        self.keep_pace(plan, current, act, at);
        self.keep_order(plan);
        self.last_at = Some(at);
        Ok(())
    }

    /// Takes down what an act did to the bath that was under way at `step`.
    fn follow_bath(
        &mut self,
        plan: &Plan,
        step: &Step,
        (before, started): (u32, Option<Timestamp>),
        at: Timestamp,
    ) {
        let Some(i) = plan.steps.iter().position(|s| s.id == step.id) else {
            return;
        };
        self.bathing.counted(plan, step, before, self.count[i], at);
        if self.done[i] {
            self.bathing.done(plan, step, started, at);
        }
    }

    /// Takes down how long the hands were at a step that has just been done, or at one of what it counts.
    fn keep_pace(&mut self, plan: &Plan, current: Option<usize>, act: &Act, at: Timestamp) {
        // Whoever was away has not been at it.
        if matches!(
            act,
            Act::Paused | Act::Resumed | Act::Reopened | Act::Found { .. }
        ) {
            self.at_it_since = None;
            return;
        }
        let since = self.at_it_since.replace(at);
        let (Some(i), Some(since)) = (current, since) else {
            return;
        };
        let step_of = |id: &str| plan.steps.get(i).is_some_and(|s| s.id == *id);
        // Looking, noting and timing are part of the step; anything else broke into it.
        if matches!(
            act,
            Act::Noted { .. } | Act::Looked { .. } | Act::Measured { .. } | Act::Cleared { .. }
        ) {
            self.at_it_since = Some(since);
            return;
        }
        let (Act::Done { step } | Act::Counted { step }) = act else {
            return;
        };
        let done_once = step_of(step);
        let Some(step) = plan.steps.get(i).filter(|_| done_once) else {
            return;
        };
        let is_count = matches!(step.doing, Doing::Count { .. });
        let counted = matches!(act, Act::Counted { .. });
        // A wait is the machine's time, and the end of a count is no work.
        if step.is_wait() || step.hands_free_min > 0.0 || is_count != counted {
            return;
        }
        let took = at.duration_since(since).as_secs_f64() / 60.0;
        let kind_and_usual = step.kind().zip(minutes::one_of(step));
        self.took
            .extend(kind_and_usual.and_then(|(kind, usual)| Took::new(kind, usual.all(), took)));
    }

    fn carry_out(
        &mut self,
        plan: &mut Cow<'_, Plan>,
        act: &Act,
        at: Timestamp,
    ) -> Result<(), Problem> {
        if let Act::Noted { text } = act {
            self.notes.push(Note {
                at,
                text: text.clone(),
            });
            return Ok(());
        }
        if let Act::Found { found } = act {
            if self.closed.is_some() {
                return Err(unfit("this clean has ended: open it again first"));
            }
            self.find(plan, *found);
            return Ok(());
        }
        if self.closed.is_some() {
            self.carry_out_ended(plan, act)
        } else if self.paused {
            self.carry_out_stopped(plan, act, at)
        } else {
            self.carry_out_running(plan, act, at)
        }
    }

    fn carry_out_ended(&mut self, plan: &Plan, act: &Act) -> Result<(), Problem> {
        if let Act::Vouched { by, outcome } = act {
            return self.vouch(plan, by, outcome.as_ref());
        }
        if *act != Act::Reopened {
            return Err(unfit("this clean has ended: open it again first"));
        }
        self.closed = None;
        self.outcome = None;
        Ok(())
    }

    fn carry_out_stopped(
        &mut self,
        plan: &mut Cow<'_, Plan>,
        act: &Act,
        at: Timestamp,
    ) -> Result<(), Problem> {
        if let Act::Abandoned { outcome, .. } = act {
            self.give_up(outcome.as_deref());
        } else if let Act::Planned {
            wish: wish @ Wish::Rinse,
            stage: Some(stage),
        } = act
        {
            // Whoever stops for good rinses out at once.
            self.take_in(plan, wish, stage, at)?;
        } else if *act != Act::Resumed {
            return Err(unfit("this clean is stopped for now: carry on first"));
        }
        self.paused = false;
        Ok(())
    }

    fn carry_out_running(
        &mut self,
        plan: &mut Cow<'_, Plan>,
        act: &Act,
        at: Timestamp,
    ) -> Result<(), Problem> {
        match act {
            Act::Done { step } => self.finish_step(plan, step, at),
            Act::LeftOut { step } => self.leave_out(plan, step),
            Act::Counted { step } => {
                let i = self.counting(plan, step)?;
                self.count[i] += 1;
                Ok(())
            }
            Act::WantsWater { step } => self.wants_water(plan, step),
            Act::Recounted { step, count } => self.recount(plan, step, *count),
            Act::Started { step } => self.start(plan, step, at),
            Act::TimeLeft { step, minutes } => self.time_left(plan, step, *minutes, at),
            Act::Cleared { step, spot, clear } => self.clear(plan, step, spot, *clear),
            Act::Tool { tool } => {
                self.tool = Some(*tool);
                Ok(())
            }
            Act::Measured {
                step,
                seconds,
                streams,
            } => self.measure(plan, step, *seconds, *streams),
            Act::Looked { glass } => {
                glass.check()?;
                let taken = glass.taken(self.round, plan.bath.percent);
                self.glasses
                    .retain(|g| (g.of, g.round) != (taken.of, taken.round));
                self.glasses.push(taken);
                Ok(())
            }
            Act::Answered { step, answers } => self.answer(plan, step, answers),
            Act::Followed => self.follow(plan),
            Act::Planned {
                wish,
                stage: Some(stage),
            } => self.take_in(plan, wish, stage, at),
            Act::Planned { stage: None, .. } => Err(unfit("nothing was planned yet")),
            Act::Overruled => self.overrule(),
            Act::Paused => {
                self.paused = true;
                Ok(())
            }
            Act::Finished { outcome } => self.end(plan, outcome.as_ref()),
            Act::Vouched { .. } => Err(unfit("this clean has not ended")),
            Act::Abandoned { outcome, .. } => {
                self.give_up(outcome.as_deref());
                Ok(())
            }
            Act::Resumed => Err(unfit("this clean is not stopped")),
            Act::Reopened => Err(unfit("this clean has not ended")),
            Act::Noted { .. } | Act::Found { .. } | Act::Undone { .. } => Ok(()),
        }
    }

    /// The step the act names, when something is counted there.
    fn counting(&self, plan: &Plan, step: &str) -> Result<usize, Problem> {
        let i = self.at(plan, step)?;
        match plan.steps[i].doing {
            Doing::Count { .. } => Ok(i),
            Doing::Once
            | Doing::Wait { .. }
            | Doing::Ask { .. }
            | Doing::Clear { .. }
            | Doing::Measure { .. } => Err(unfit("nothing is counted at this step")),
        }
    }

    fn recount(&mut self, plan: &Plan, step: &str, count: i64) -> Result<(), Problem> {
        let i = self.counting(plan, step)?;
        let count = bounds::COUNTED.check("act.count", count as f64)? as u32;
        self.count[i] = count;
        self.refilled_at.retain(|at| *at <= count);
        if self.refilled_at.is_empty() {
            self.fill_counted = None;
        }
        Ok(())
    }

    fn start(&mut self, plan: &Plan, step: &str, at: Timestamp) -> Result<(), Problem> {
        let i = self.at(plan, step)?;
        if !plan.steps[i].is_wait() || self.started[i].is_some() {
            return Err(unfit("this step has no timer waiting to be started"));
        }
        self.started[i] = Some(at);
        Ok(())
    }

    fn time_left(
        &mut self,
        plan: &Plan,
        step: &str,
        minutes: f64,
        at: Timestamp,
    ) -> Result<(), Problem> {
        let i = self.at(plan, step)?;
        bounds::PROGRAMME.check("act.minutes", minutes)?;
        if self.started[i].is_none() {
            return Err(unfit("start the timer first"));
        }
        self.ends[i] = Some(after(at, minutes));
        Ok(())
    }

    fn clear(
        &mut self,
        plan: &Plan,
        step: &str,
        spot: &Spot,
        is_clear: bool,
    ) -> Result<(), Problem> {
        let i = self.at(plan, step)?;
        let Doing::Clear { needles } = &plan.steps[i].doing else {
            return Err(unfit("no needle is cleared at this step"));
        };
        if !needles.iter().flat_map(Needle::spots).any(|s| s == *spot) {
            let message = "these needles have no such hole";
            return Err(Problem::new(Code::UnknownId, "act.spot", message));
        }
        match is_clear {
            true => self.clear.insert(spot.clone()),
            false => self.clear.remove(spot),
        };
        Ok(())
    }

    fn measure(
        &mut self,
        plan: &Plan,
        step: &str,
        seconds: Option<f64>,
        streams: Option<f64>,
    ) -> Result<(), Problem> {
        let i = self.at(plan, step)?;
        if !matches!(
            plan.steps[i].doing,
            Doing::Measure { .. } | Doing::Ask { .. }
        ) {
            return Err(unfit("no cup is timed at this step"));
        }
        let flow = Flow::new(step, seconds, streams)?;
        if plan.work == Work::Needles && plan.steps[i].is(Kind::After) {
            let is_poor = flow.is_poor(plan) == Some(true);
            self.verdict = (is_poor && !self.cleared_again).then_some(Verdict::ClearAgain);
            self.reason = format!(
                "{} is worse than when all is well: clear and flush the needles once more.",
                flow.text
            );
        }
        self.flow.retain(|f| f.step != *step);
        self.flow.push(flow);
        Ok(())
    }

    fn answer(
        &mut self,
        plan: &Plan,
        step: &str,
        given: &BTreeMap<QuestionId, AnswerId>,
    ) -> Result<(), Problem> {
        let i = self.at(plan, step)?;
        let judged = self.judge(plan, &plan.steps[i], given)?;
        self.verdict = Some(judged.verdict);
        self.reason = judged.reason;
        // Chalk seen in any of several baths was there.
        let told = |question: QuestionId| given.get(&question).copied();
        let brought = told(QuestionId::Showed).and_then(|showed| match showed {
            AnswerId::Chalk => Some(Told::Lot),
            AnswerId::Some => Some(Told::Some),
            AnswerId::Nothing => Some(Told::None),
            AnswerId::Unseen
            | AnswerId::Fresh
            | AnswerId::Beside
            | AnswerId::Second
            | AnswerId::Tired
            | AnswerId::Good
            | AnswerId::Bad => None,
        });
        self.brought = self.brought.max(brought);
        let is_look = plan.steps[i].is(Kind::Look);
        self.bits |= is_look && told(QuestionId::Flakes) == Some(AnswerId::Bad);
        if plan.steps[i].is(Kind::Verify) {
            self.answered.clone_from(given);
            if matches!(self.verdict, Some(Verdict::BathAgain | Verdict::Stronger)) {
                self.failed = Some(FailedResult {
                    baths: self.poured.len() as u32,
                    checks: self.seen_of_result(plan),
                });
            }
        }
        if self.verdict == Some(Verdict::Good) {
            self.done[i] = true;
            // Only the last judgement stands to the end.
            self.verdict = self.verdict.filter(|_| !plan.steps[i].is(Kind::Look));
        }
        Ok(())
    }

    fn overrule(&mut self) -> Result<(), Problem> {
        let i = self.waiting()?;
        self.verdict = None;
        self.overrules
            .push(format!("Against advice: {}", self.reason));
        self.done[i] = true;
        Ok(())
    }

    fn end(&mut self, plan: &Plan, outcome: Option<&Outcome>) -> Result<(), Problem> {
        if let Some(i) = self.current() {
            return Err(unfit(format!("\"{}\" is still to do", plan.steps[i].title)));
        }
        self.closed = Some(Closed::Finished);
        self.outcome = outcome.cloned();
        Ok(())
    }

    fn finish_step(&mut self, plan: &Plan, step: &str, at: Timestamp) -> Result<(), Problem> {
        let i = self.at(plan, step)?;
        match plan.steps[i].doing {
            Doing::Ask { .. } => return Err(unfit("answer the questions first")),
            Doing::Wait { .. } => {
                let started = self.started[i].ok_or_else(|| unfit("start the timer first"))?;
                let ran = at.duration_since(started).as_secs_f64() / 60.0;
                if plan.steps[i].is(Kind::Programme)
                    && TIMED.contains(&(ran / self.wait_minutes(plan, i)))
                {
                    self.programme_min = Some(ran);
                }
                // What was waited for to cool has soaked nothing, and neither has a moment.
                if !plan.steps[i].is(Kind::Cool) {
                    self.soaked |= ran >= SOAKED;
                    self.soaked_min = Some(self.soaked_before(plan, i) + ran);
                    if let Some(bath) = self.poured.last_mut() {
                        bath.soaked_min = self.soaked_min;
                    }
                }
            }
            Doing::Count { .. } if plan.steps[i].is(Kind::Rinse) => {
                let (count, target) = (self.count[i], self.target(plan, i));
                if count < target {
                    self.overrules
                        .push(format!("Rinsing ended after {count} of {target}"));
                }
            }
            _ if plan.steps[i].is(Kind::Run) && is_last_run(plan, i) => self.count_bath(plan, i),
            Doing::Once | Doing::Count { .. } | Doing::Clear { .. } | Doing::Measure { .. } => {}
        }
        if plan.steps[i].is(Kind::Mix) && plan.work == Work::Descale {
            self.pour(plan, at);
        }
        self.done[i] = true;
        Ok(())
    }

    fn wants_water(&mut self, plan: &Plan, step: &str) -> Result<(), Problem> {
        let i = self.at(plan, step)?;
        let count = self.count[i];
        match plan.steps[i].doing {
            Doing::Count { .. } if plan.steps[i].is(Kind::Run) => {
                self.count_bath(plan, i);
                self.done[i] = true;
            }
            Doing::Count { .. } if plan.steps[i].is(Kind::Rinse) => {
                if !self.may_want_water(plan, i) {
                    return Err(unfit("nothing was counted since the reservoir was filled"));
                }
                let (came, expected) = self.came_of(plan, i);
                let share = f64::from(came) / f64::from(expected.max(1));
                if self.refilled_at.is_empty() && PLAUSIBLE.contains(&share) {
                    self.fill_counted = Some(came);
                }
                self.refilled_at.push(count);
            }
            Doing::Once
            | Doing::Count { .. }
            | Doing::Wait { .. }
            | Doing::Ask { .. }
            | Doing::Clear { .. }
            | Doing::Measure { .. } => {
                return Err(unfit("the machine asks for no water at this step"));
            }
        }
        Ok(())
    }

    /// Minutes that this bath had soaked before step `i`.
    fn soaked_before(&self, plan: &Plan, i: usize) -> f64 {
        let earlier = in_this_bath(plan, i).filter(|j| plan.steps[*j].is(Kind::Soak));
        match earlier.into_iter().any(|j| self.started[j].is_some()) {
            true => self.soaked_min.unwrap_or(0.0),
            false => 0.0,
        }
    }

    /// What a bath gave that was pressed through: the first dispense, and those counted before and after a soak.
    fn count_bath(&mut self, plan: &Plan, i: usize) {
        // What can hardly be is no lesson.
        let (came, expected) = self.came_of(plan, i);
        let plausible = PLAUSIBLE.contains(&(f64::from(came) / f64::from(expected.max(1))));
        if plausible && matches!(plan.steps[i].doing, Doing::Count { .. }) {
            self.bath_counted = Some(Counted {
                volume_ml: plan.bath.total.ml - plan.dispensing.hot_water_ml,
                dispenses: came,
            });
        }
    }

    /// The step at which a verdict waits.
    fn waiting(&self) -> Result<usize, Problem> {
        match (self.verdict, self.current()) {
            (Some(verdict), Some(i)) if verdict != Verdict::Good => Ok(i),
            _ => Err(unfit("no verdict is waiting")),
        }
    }

    fn follow(&mut self, plan: &mut Cow<'_, Plan>) -> Result<(), Problem> {
        let verify = self.waiting()?;
        match self.verdict.take() {
            Some(Verdict::RinseMore) => {
                let rinse = self.rinse_step(plan).unwrap_or(verify);
                let (count, target) = (self.count[rinse], self.target(plan, rinse));
                // Counts beyond the old target were a wish already granted; the new helping comes on top of what was done.
                if count >= target {
                    self.more_rinses += count - target + plan.rinse.more;
                }
                self.done[rinse] = false;
            }
            Some(verdict @ (Verdict::BathAgain | Verdict::Stronger)) => {
                if !plan.ladder.is_empty() {
                    self.verdict = Some(verdict);
                    return Err(unfit("a further bath is planned when it is wanted"));
                }
                self.same_steps_again(plan, verify, verdict == Verdict::Stronger);
            }
            Some(Verdict::ClearAgain) => {
                self.cleared_again = true;
                self.clear.clear();
                // A cup was just timed: unplugged and cooled before hands go in again.
                for kind in [Kind::Cool, Kind::Ready, Kind::Needles, Kind::Flush] {
                    let Some(i) = plan.steps.iter().position(|s| s.is(kind)) else {
                        continue;
                    };
                    self.done[i] = false;
                    self.count[i] = 0;
                    self.started[i] = None;
                    self.ends[i] = None;
                }
            }
            Some(Verdict::ResetLight) => self.light_reset = true,
            Some(Verdict::SmellAgain) => self.nose_rested = true,
            Some(Verdict::Refer) | None => {
                self.overrules
                    .push("Left to the maker or a repairer".to_owned());
                self.done[verify] = true;
            }
            Some(Verdict::Good) => {}
        }
        Ok(())
    }

    /// A bath is poured in: it is kept as it is now, whatever comes after it.
    pub(super) fn pour(&mut self, plan: &Plan, at: Timestamp) {
        self.poured_at = Some(at);
        // Whatever was smelled before it was another bath.
        self.answered.remove(&QuestionId::Smell);
        self.poured.push(PouredBath::planned(plan));
    }

    fn give_up(&mut self, outcome: Option<&Outcome>) {
        self.closed = Some(Closed::Abandoned);
        self.outcome = outcome.cloned();
    }

    fn vouch(&mut self, plan: &Plan, by: &str, outcome: Option<&Outcome>) -> Result<(), Problem> {
        if self.acid_left(plan).is_none() {
            return Err(unfit("no acid is left inside"));
        }
        self.vouched_by = Some(by.to_owned());
        self.outcome = outcome.cloned().or_else(|| self.outcome.take());
        Ok(())
    }
}

/// Whether nothing of this bath is run through after step `i`.
fn is_last_run(plan: &Plan, i: usize) -> bool {
    let later = plan.steps[i + 1..].iter();
    let mut later = later.take_while(|s| !s.is(Kind::Mix));
    !later.any(|s| s.is(Kind::Run))
}

//! Stages that come into a clean while it runs: a further bath, needles once more, a fact put right, more rinsing.

use super::progress::{Progress, in_this_bath};
use crate::PouredBath;
use crate::act::unfit;
use jiff::Timestamp;
use murlo_base::problem::Problem;
use murlo_brewer::{Needle, Spot};
use murlo_plan::{
    Correction, Doing, Kind, Moment, OpenFact, Plan, Stage, Step, Wish, Work, pour_into,
};
use std::borrow::Cow;
use std::collections::BTreeSet;

/// Keeps those that stay.
fn retain<T>(all: &mut Vec<T>, keeps: &[bool]) {
    let mut i = 0;
    all.retain(|_| {
        i += 1;
        keeps[i - 1]
    });
}

/// Every hole that `plan` clears.
fn holes(plan: &Plan) -> BTreeSet<Spot> {
    let needles = plan.steps.iter().filter_map(|step| match &step.doing {
        Doing::Clear { needles } => Some(needles),
        Doing::Once
        | Doing::Count { .. }
        | Doing::Wait { .. }
        | Doing::Ask { .. }
        | Doing::Measure { .. } => None,
    });
    needles.flatten().flat_map(Needle::spots).collect()
}

impl Progress {
    /// The plan's own bath once more, in place: how further baths came in plans that have no ladder.
    pub(super) fn same_steps_again(
        &mut self,
        plan: &mut Cow<'_, Plan>,
        verify: usize,
        is_stronger: bool,
    ) {
        self.next_bath();
        self.loops += 1;
        if let (true, Some(stronger)) = (is_stronger, plan.stronger.clone()) {
            let plan = plan.to_mut();
            for step in &mut plan.steps {
                if step.is(Kind::Mix) {
                    let id = std::mem::take(&mut step.id);
                    *step = Step {
                        id,
                        ..stronger.mix.clone()
                    };
                } else if let (true, Doing::Wait { minutes }) =
                    (step.is(Kind::Soak), &mut step.doing)
                {
                    // It comes because the one before was not enough, so it never soaks less.
                    *minutes = stronger.soak_minutes.max(plan.chosen.soak_minutes);
                } else if let (true, Doing::Count { target }) =
                    (step.is(Kind::Rinse), &mut step.doing)
                {
                    *target = stronger.rinse.portions;
                }
            }
            plan.bath = stronger.bath;
            plan.rinse = stronger.rinse;
        }
        let mixes = (0..plan.steps.len()).rfind(|i| plan.steps[*i].is(Kind::Mix));
        for i in mixes.unwrap_or(verify)..=verify {
            // What was washed and wiped meanwhile stays clean.
            if plan.steps[i].during.is_none() {
                self.done[i] = false;
            }
            self.count[i] = 0;
            self.started[i] = None;
            self.ends[i] = None;
        }
    }

    pub(super) fn next_bath(&mut self) {
        self.round += 1;
        self.more_rinses = 0;
        self.nose_rested = false;
        self.refilled_at.clear();
        self.fill_counted = None;
        self.soaked = false;
        self.soaked_min = None;
    }

    /// Facts that can be put right at the current step.
    pub(super) fn corrections(&self, plan: &Plan) -> Vec<Correction> {
        let Some(i) = self.current() else {
            return Vec::new();
        };
        let step = &plan.steps[i];
        let Some(mechanism) = &plan.mechanism else {
            return Vec::new();
        };
        let has_mode = mechanism.has_mode();
        let has_waited = in_this_bath(plan, i).any(|j| plan.steps[j].is(Kind::Soak));
        let fits = [
            (Correction::NoMode, has_mode),
            (
                Correction::ModeDoesNotWait,
                has_mode && mechanism.mode_waits() && has_waited,
            ),
            (Correction::NoProgramme, true),
        ];
        let shows = |fact: &Correction| step.kind().is_some_and(|kind| fact.shows_at(kind));
        fits.into_iter()
            .filter_map(|(fact, fits)| (fits && plan.work == Work::Descale).then_some(fact))
            .filter(shows)
            .collect()
    }

    /// What is taken as usual and shows at the current step.
    pub(super) fn open<'a>(&self, plan: &'a Plan) -> impl Iterator<Item = &'a OpenFact> {
        let ends = self.paused || self.closed.is_some() || plan.work == Work::Rehearsal;
        let kind = self.current().and_then(|i| plan.steps[i].kind());
        let kind = kind.filter(|_| !ends && plan.mechanism.is_some());
        let shows = move |open: &&OpenFact| kind.is_some_and(|kind| open.shows_at(kind));
        plan.open.iter().filter(shows)
    }

    /// Whether `wish` can be planned now, and where the clean stands for that.
    pub(super) fn may_plan<'a>(
        &'a self,
        plan: &'a Plan,
        wish: &Wish,
    ) -> Result<Moment<'a>, Problem> {
        if self.closed.is_some() || (self.paused && *wish != Wish::Rinse) {
            return Err(unfit("this clean is stopped or has ended: carry on first"));
        }
        let current = self.current();
        let at = current.unwrap_or(plan.steps.len());
        let is = |kind| current.is_some_and(|i| plan.steps[i].is(kind));
        let looks = is(Kind::Look) || is(Kind::Verify);
        let acid = self.acid_left(plan);
        let clears = plan.steps.iter().any(|s| s.is(Kind::Needles));
        let (fits, expected) = match wish {
            Wish::Bath { .. } => (
                looks && plan.work == Work::Descale,
                "a further bath is planned where the last one is looked at or judged",
            ),
            Wish::Needles => (
                clears && (is(Kind::Verify) || is(Kind::After)),
                "the needles are cleared again where the result is judged",
            ),
            Wish::Rinse => (acid.is_some(), "no acid is inside that could be rinsed out"),
            Wish::Poured { .. } => (
                self.may_be_poured_otherwise(plan),
                "what was poured is told from the mixing on, until the bath has run through",
            ),
            Wish::Corrected { fact } => (
                self.corrections(plan).contains(fact)
                    || self.open(plan).any(|open| open.is_answered_by(*fact)),
                "this can be told where it shows, in a clean with acid",
            ),
        };
        match fits {
            true => Ok(Moment {
                plan,
                at,
                done: &self.done,
                left_out: &self.left_out,
                order: &self.order,
                counts: &self.count,
                begun: current.is_some_and(|i| self.count[i] > 0 || self.started[i].is_some()),
                round: self.round,
                acid_mg_l: acid.map_or(0.0, |acid| acid.mg_l),
            }),
            false => Err(unfit(expected)),
        }
    }

    /// Whether a bath is being mixed, or in and not run through yet.
    pub(super) fn may_be_poured_otherwise(&self, plan: &Plan) -> bool {
        let in_bath = [
            Kind::Mix,
            Kind::Disc,
            Kind::First,
            Kind::Half,
            Kind::HotWater,
            Kind::Soak,
            Kind::Run,
            Kind::Programme,
        ];
        let current = self.current().and_then(|i| plan.steps[i].kind());
        plan.work == Work::Descale && current.is_some_and(|kind| in_bath.contains(&kind))
    }

    /// Puts `stage` in the place of what was still to do.
    pub(super) fn take_in(
        &mut self,
        plan: &mut Cow<'_, Plan>,
        wish: &Wish,
        stage: &Stage,
        when: Timestamp,
    ) -> Result<(), Problem> {
        let moment = self.may_plan(plan, wish)?;
        let keeps: Vec<_> = (0..plan.steps.len())
            .map(|i| moment.keeps(i, stage.from_here))
            .collect();
        let at = moment.at;
        let here = plan.steps.get(at).map(|s| s.id.clone());
        let going_on = here.map(|id| (id, self.count[at], self.started[at]));
        let is_mixing = plan.steps.get(at).is_some_and(|s| s.is(Kind::Mix));
        let plan = plan.to_mut();
        stage.extend(plan, |i| keeps[i]);
        if let Some(done) = self.done.get_mut(at) {
            *done |= !stage.from_here;
        }
        retain(&mut self.done, &keeps);
        retain(&mut self.count, &keeps);
        retain(&mut self.started, &keeps);
        retain(&mut self.ends, &keeps);
        self.make_room(plan);
        self.verdict = None;
        match wish {
            Wish::Bath { .. } => self.next_bath(),
            Wish::Needles => {
                self.cleared_again = true;
                self.clear.clear();
            }
            Wish::Poured { .. } => {
                pour_into(plan, at, &stage.bath);
                match is_mixing {
                    true => self.pour(plan, when),
                    false => self.was_poured_otherwise(plan),
                }
                self.go_on(plan, going_on);
            }
            Wish::Corrected { fact } => {
                plan.open.retain(|open| !open.is_answered_by(*fact));
                // A hole that is none after all was not cleared.
                let holes = holes(plan);
                self.clear.retain(|spot| holes.contains(spot));
                self.go_on(plan, going_on);
            }
            // From the level that is there now, counted anew.
            Wish::Rinse => {
                self.more_rinses = 0;
                self.refilled_at.clear();
                self.nose_rested = false;
                if let Some(look) = &mut self.last_look {
                    look.is_rinsed = true;
                }
            }
        }
        Ok(())
    }

    /// What was counted or waited for at a step that stays the same goes on.
    fn go_on(&mut self, plan: &Plan, going_on: Option<(String, u32, Option<Timestamp>)>) {
        let Some((id, count, started)) = going_on else {
            return;
        };
        let same = plan.steps.iter().position(|s| s.id == id);
        if let Some(i) = same.filter(|i| !self.done[*i]) {
            (self.count[i], self.started[i]) = (count, started);
        }
    }

    /// The bath that is in is another than was planned.
    fn was_poured_otherwise(&mut self, plan: &Plan) {
        if let Some(bath) = self.poured.last_mut() {
            *bath = PouredBath {
                soaked_min: bath.soaked_min,
                ..PouredBath::planned(plan)
            };
        }
        self.bathing.is_poured_otherwise(10.0 * plan.bath.percent);
    }

    /// Nothing has been done of steps that have just come.
    fn make_room(&mut self, plan: &Plan) {
        let n = plan.steps.len();
        self.done.resize(n, false);
        self.count.resize(n, 0);
        self.started.resize(n, None);
        self.ends.resize(n, None);
    }
}

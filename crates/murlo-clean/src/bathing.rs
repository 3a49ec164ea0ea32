//! What the baths of a clean really did, from its acts and their times.

use jiff::Timestamp;
use murlo_chemistry::cleaning::{Bath, Bathed, How, PRESS_MIN, Pass};
use murlo_plan::bathing::{passes_of, stays_on};
use murlo_plan::{Kind, Plan, Step, Work};

/// A bath that stood longer was forgotten; it is spent by then, minutes.
const LONGEST: f64 = 1440.0;

/// A programme does not run longer than so many times what is usual for it.
const LONGEST_PROGRAMME: f64 = 2.5;

/// Minutes from one moment to another, none when they are the other way round.
fn minutes(from: Timestamp, to: Timestamp) -> f64 {
    (to.duration_since(from).as_secs_f64() / 60.0).clamp(0.0, LONGEST)
}

/// One pass, from when it was told until the next began.
struct Passing {
    pass: Pass,
    at: Timestamp,
    is_over: bool,
}

#[derive(Default)]
pub(super) struct BathsRun {
    baths: Vec<(f64, Vec<Passing>)>,
}

impl BathsRun {
    /// A bath was poured in.
    fn pour(&mut self, g_per_l: f64) {
        self.baths.push((g_per_l, Vec::new()));
    }

    /// What is in is another bath than was planned.
    pub(super) fn is_poured_otherwise(&mut self, g_per_l: f64) {
        if let Some((strength, _)) = self.baths.last_mut() {
            *strength = g_per_l;
        }
    }

    fn last(&mut self) -> Option<&mut Passing> {
        self.baths
            .iter_mut()
            .rev()
            .find_map(|(_, passes)| passes.last_mut())
    }

    /// The bath has stood until `at`.
    fn stood_until(&mut self, at: Timestamp, less_min: f64) {
        if let Some(last) = self.last().filter(|last| !last.is_over) {
            last.pass.stood_min = (minutes(last.at, at) - less_min).max(0.0);
            last.is_over = true;
        }
    }

    fn pass(&mut self, how: How, ml: f64, minutes: f64, at: Timestamp) {
        self.stood_until(at, minutes);
        if let Some((_, passes)) = self.baths.last_mut() {
            passes.push(Passing {
                pass: Pass {
                    how,
                    ml,
                    minutes,
                    stood_min: 0.0,
                    heated: true,
                },
                at,
                is_over: false,
            });
        }
    }

    /// A step was done.
    pub(super) fn done(
        &mut self,
        plan: &Plan,
        step: &Step,
        started: Option<Timestamp>,
        at: Timestamp,
    ) {
        if plan.work != Work::Descale {
            return;
        }
        match step.kind() {
            Some(Kind::Mix) => self.pour(10.0 * plan.bath.percent),
            Some(Kind::Soak) => {
                if let Some(last) = self.last() {
                    last.pass.heated = stays_on(step);
                }
            }
            Some(Kind::Programme) => {
                let usual = step.hands_free_min;
                let ran = started.map_or(usual, |from| minutes(from, at));
                let ran = ran.min(LONGEST_PROGRAMME * usual);
                self.pass(How::Programme, plan.bath.total.ml, ran, at);
            }
            Some(Kind::Wash) => self.stood_until(at, 0.0),
            _ => {
                let by_cup = self.last().is_some_and(|last| last.pass.how == How::Cup);
                for pass in passes_of(plan.bath.total.ml, &plan.steps, step, 0) {
                    self.pass(pass.how, pass.ml, pass.minutes, at);
                }
                // A cup that was paused is pushed out.
                if by_cup && step.is(Kind::Run) {
                    self.stood_until(at, PRESS_MIN);
                }
            }
        }
    }

    /// `count` of a step are counted now, `before` of them until now.
    pub(super) fn counted(
        &mut self,
        plan: &Plan,
        step: &Step,
        before: u32,
        count: u32,
        at: Timestamp,
    ) {
        match step.kind() {
            Some(Kind::Run) => {
                let ml = plan.dispensing.each.ml;
                (before..count).for_each(|_| self.pass(How::Press, ml, PRESS_MIN, at));
                if let Some((_, passes)) = self.baths.last_mut() {
                    let taken_back = before.saturating_sub(count) as usize;
                    passes.truncate(passes.len().saturating_sub(taken_back));
                }
            }
            Some(Kind::Rinse) if count > before => self.stood_until(at, PRESS_MIN),
            _ => {}
        }
    }

    /// What they came to when the clean ended.
    pub(super) fn come_to(&self, plan: &Plan, end: Timestamp) -> Option<Bathed> {
        let acid = plan.bath.acid?;
        let baths: Vec<_> = self
            .baths
            .iter()
            .map(|(g_per_l, passes)| Bath {
                g_per_l: Some(*g_per_l),
                passes: passes
                    .iter()
                    .map(|passing| match passing.is_over {
                        true => passing.pass,
                        false => Pass {
                            stood_min: minutes(passing.at, end),
                            ..passing.pass
                        },
                    })
                    .collect(),
            })
            .collect();
        (!baths.is_empty()).then_some(Bathed { acid, baths })
    }
}

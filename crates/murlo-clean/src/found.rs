//! What somebody found who came back to a brewer: a sniff, a look where the water goes in, the plug.
//!
//! It never makes plain water of acid: what stands in the heater cannot be looked at. It makes acid of plain water.

use super::progress::{LastLook, Progress, after};
use super::{AskedInside, FoundInside, FoundSmell, FoundTank};
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::{Inside, Plan, Work};

/// Nobody remembers what is in a brewer that was left for so many minutes beyond what it was waiting for. Judged.
const LEFT_MIN: f64 = 180.0;

/// One that was stopped is looked at sooner: somebody else may have wanted coffee. Judged.
const STOPPED_MIN: f64 = 30.0;

/// Somebody else goes on after so many minutes: two who work together know what is in it. Judged.
const ELSEWHERE_MIN: f64 = 15.0;

impl Progress {
    pub(super) fn find(&mut self, plan: &Plan, found: FoundInside) {
        let was_in_mode = self.stands(plan).in_mode;
        if found.smell == FoundSmell::Sour || found.tank == FoundTank::Bath {
            self.found_acid |= self.bath_step(plan).is_none();
            self.answered.insert(QuestionId::Smell, AnswerId::Bad);
        }
        self.last_look = Some(LastLook {
            found,
            begun: self.order.len(),
            was_in_mode,
            is_rinsed: false,
        });
    }

    /// The last look, while nothing was done since.
    fn look(&self) -> Option<LastLook> {
        self.last_look.filter(|look| look.begun == self.order.len())
    }

    /// Whether it is plugged in, where somebody looked since the last step.
    pub(super) fn plug_found(&self) -> Option<bool> {
        self.look().map(|look| look.found.plugged)
    }

    /// Whether what was found asks for a rinse before anything else.
    pub(super) fn is_rinsed_first(&self, plan: &Plan) -> bool {
        let Some(LastLook { found, .. }) = self.look().filter(|look| !look.is_rinsed) else {
            return false;
        };
        let inside = self.stands(plan).inside;
        match found.tank {
            FoundTank::Bath => inside != Inside::Bath,
            FoundTank::Water | FoundTank::Nothing if inside == Inside::Bath => true,
            FoundTank::Water | FoundTank::Nothing => {
                found.smell == FoundSmell::Sour && inside == Inside::Water
            }
        }
    }

    /// What was found and is otherwise than the step expects.
    pub(super) fn found_hint(&self, plan: &Plan, i: usize) -> Option<String> {
        let LastLook {
            found, was_in_mode, ..
        } = self.look()?;
        let inside = self.stands(plan).inside;
        let mut told = Vec::new();
        if self.is_rinsed_first(plan) {
            told.push(match inside {
                Inside::Bath => "The bath is not where the water goes in any more, but still where it is heated: rinse it out first.",
                Inside::Water | Inside::Traces => "There is acid in it that this clean did not leave: rinse it out first.",
            });
        }
        match (found.plugged, plan.steps[i].plugged) {
            (false, true) if was_in_mode => {
                told.push("It was unplugged and has left its cleaning mode: plug it in and bring it into that mode again.");
            }
            (false, true) => told.push("It is unplugged: plug it in first."),
            (true, false) => told.push("It is plugged in: unplug it first."),
            (true, true) | (false, false) => {}
        }
        (!told.is_empty()).then(|| told.join(" "))
    }

    /// From when on somebody who comes back is asked what is in it.
    pub(super) fn asks_inside(&self, plan: &Plan) -> Option<AskedInside> {
        if self.closed.is_some() || plan.work == Work::Rehearsal || self.order.is_empty() {
            return None;
        }
        let waits_until = self.current().and_then(|i| self.ends_at(plan, i));
        let left_at = self.last_at?;
        // A soak is no absence, and who stopped was gone from then on.
        let gone_at = waits_until
            .filter(|_| !self.paused)
            .map_or(left_at, |ends| ends.max(left_at));
        let after_min = if self.paused { STOPPED_MIN } else { LEFT_MIN };
        Some(AskedInside {
            from: after(gone_at, after_min),
            from_elsewhere: after(gone_at, ELSEWHERE_MIN),
        })
    }
}

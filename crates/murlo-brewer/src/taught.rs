//! What was taught on a panel, as a brewer's buttons and signals.

use crate::model::{Brewer, Circuit};
use crate::operation::{Operation, Signal};
use crate::panel::{Panel, ScriptPart, TaughtPart, Touch};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use murlo_chemistry::heater::Way;
use serde::Serialize;

/// A finger that stays less than this, s, has pressed; one that stays longer has held.
const HELD: f64 = 1.0;

/// A press, or held for whole seconds, whatever the finger took.
fn as_kept(touch: &Touch) -> Touch {
    Touch {
        hold_seconds: touch
            .hold_seconds
            .filter(|held| !(0.0..HELD).contains(held))
            .map(f64::round),
        ..touch.clone()
    }
}

impl Operation {
    /// What was taught on a panel takes the place of what was typed for the same purpose; the rest stays.
    ///
    /// # Errors
    /// Whatever is wrong with the panel, or contradicts it: a script on a button that is not there, a lamp that is pressed.
    pub fn as_taught(
        &self,
        panel: &Panel,
        taught: &[TaughtPart],
        signals: &[Signal],
    ) -> Result<Self, Problems> {
        let mut next = self.clone();
        // What was taught before and is not any more is forgotten with its words.
        for before in &self.taught {
            next.text(before.part).clear();
        }
        next.taught = taught
            .iter()
            .filter(|part| !part.touches.is_empty())
            .map(|part| TaughtPart {
                part: part.part,
                touches: part.touches.iter().map(as_kept).collect(),
            })
            .collect();
        for TaughtPart { part, touches } in next.taught.clone() {
            *next.text(part) = text::capital(&panel.said(&touches));
            if part == ScriptPart::Enter {
                // It is said with what is held.
                next.hold_seconds = None;
            }
        }
        next.signals = signals.to_vec();
        for signal in &mut next.signals {
            if let Some(seen) = signal.lamp.as_ref().and_then(|lamp| panel.seen(lamp)) {
                signal.seen = seen;
            }
        }
        next.panel = (!panel.controls.is_empty()).then(|| panel.clone());
        next.check("operation")
    }

    fn text(&mut self, part: ScriptPart) -> &mut String {
        match part {
            ScriptPart::Enter => &mut self.enter,
            ScriptPart::Press => &mut self.press,
            ScriptPart::Cup => &mut self.cup,
            ScriptPart::Rearm => &mut self.rearm,
            ScriptPart::Leave => &mut self.leave,
            ScriptPart::Purge => &mut self.purge,
        }
    }

    /// What was taught for one purpose.
    #[must_use]
    pub fn touches(&self, part: ScriptPart) -> &[Touch] {
        let taught = self.taught.iter().find(|taught| taught.part == part);
        taught.map_or(&[], |taught| taught.touches.as_slice())
    }

    /// The words for one purpose, typed or taught; empty where nobody gave any.
    #[must_use]
    pub fn words_for(&self, part: ScriptPart) -> &str {
        match part {
            ScriptPart::Enter => &self.enter,
            ScriptPart::Press => &self.press,
            ScriptPart::Cup => &self.cup,
            ScriptPart::Rearm => &self.rearm,
            ScriptPart::Leave => &self.leave,
            ScriptPart::Purge => &self.purge,
        }
    }
}

/// What may be taught of one side, with what is asked for it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ScriptAsk {
    /// The purpose.
    pub part: ScriptPart,
    /// "What did you press to enter the cleaning mode?"
    pub asks: &'static str,
    /// "Entering the cleaning mode".
    pub name: &'static str,
}

impl Brewer {
    /// What can be taught of `circuit`, in the order in which it is done.
    #[must_use]
    pub fn script_asks(&self, circuit: &Circuit) -> Vec<ScriptAsk> {
        let has_mode = circuit.mechanics.mode != Some(false);
        let fits = |part: &ScriptPart| match (self.way(circuit), part) {
            (Way::Programme, ScriptPart::Enter | ScriptPart::Cup) => true,
            (Way::Programme, _) => false,
            (Way::Presses, ScriptPart::Enter | ScriptPart::Leave) => has_mode,
            (Way::Presses, ScriptPart::Purge) => false,
            (Way::Presses, _) => true,
            (Way::CupAtATime, ScriptPart::Press | ScriptPart::Purge) => true,
            (Way::CupAtATime | Way::Halves, part) => *part == ScriptPart::Press,
        };
        let runs = self.way(circuit) == Way::Programme;
        let parts = ScriptPart::ALL.into_iter().filter(fits);
        parts
            .map(|part| {
                let (name, asks) = words(part, runs);
                ScriptAsk { part, asks, name }
            })
            .collect()
    }

    /// The brewer with what was taught of one side.
    ///
    /// # Errors
    /// Whatever contradicts the panel or what is known of the brewer, by its field.
    pub fn taught(
        mut self,
        circuit_id: &str,
        panel: &Panel,
        taught: &[TaughtPart],
        signals: &[Signal],
    ) -> Result<Self, Problems> {
        let circuit = self.circuit("circuit_id", circuit_id)?;
        let asks = self.script_asks(circuit);
        for (i, part) in taught.iter().enumerate() {
            if !part.touches.is_empty() && !asks.iter().any(|ask| ask.part == part.part) {
                let (name, _) = words(part.part, self.way(circuit) == Way::Programme);
                let message = format!(
                    "{name} does not fit what is known of this brewer: put its sheet right first, or leave this out"
                );
                let field = format!("taught.{i}.part");
                return Err(Problem::new(Code::Contradiction, field, message).into());
            }
        }
        let operation = circuit.operation.as_taught(panel, taught, signals)?;
        for circuit in &mut self.circuits {
            if circuit.id == circuit_id {
                circuit.operation.clone_from(&operation);
            }
        }
        Ok(self)
    }
}

/// What a purpose is called, and what is asked for it.
const fn words(part: ScriptPart, runs_by_itself: bool) -> (&'static str, &'static str) {
    match part {
        ScriptPart::Enter if runs_by_itself => (
            "Starting the cleaning programme",
            "What did you press to start the cleaning programme?",
        ),
        ScriptPart::Enter => (
            "Entering the cleaning mode",
            "What did you press to enter the cleaning mode?",
        ),
        ScriptPart::Press => ("One press", "What did you press for one cup of it?"),
        ScriptPart::Rearm => (
            "Between presses",
            "What did you open, close or move between two presses?",
        ),
        ScriptPart::Leave => (
            "Leaving the cleaning mode",
            "What did you press to leave the cleaning mode?",
        ),
        ScriptPart::Cup => (
            "A plain cup",
            "What did you press for a plain cup or brew, outside of cleaning?",
        ),
        ScriptPart::Purge => ("Running it empty", "What did you press to run it empty?"),
    }
}

#[cfg(test)]
mod tests;

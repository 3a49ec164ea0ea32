//! The buttons that a step takes, as they were taught, and what a plan says of them once they are taught otherwise.

use crate::shape::Plan;
use crate::stage::Stage;
use crate::step::Step;
use murlo_base::text;
use murlo_brewer::instruction::Instruction;
use murlo_brewer::panel::{Panel, ScriptPart, Touch};
use murlo_brewer::{Brewer, Circuit, Operation, ScriptAsk};
use serde::Serialize;

/// The buttons of the step at which a clean is.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ButtonsHere {
    /// The panel, drawn; empty where nobody taught one.
    pub panel: Panel,
    /// What is touched in this step, in order.
    pub parts: Vec<ButtonsShown>,
    /// What can be taught of it here.
    pub asks: Vec<ScriptAsk>,
}

/// What is touched for one purpose.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ButtonsShown {
    /// The purpose.
    pub part: ScriptPart,
    /// "Entering the cleaning mode".
    pub name: &'static str,
    /// "hold the button ‘clean’ for 3 s".
    pub words: String,
    /// The touches.
    pub touches: Vec<Touch>,
}

/// The purposes for which a step takes buttons: a plain cup is pressed as told, else as any cup, where there is no mode whose
/// press is another.
fn parts_of(step: &Step, operation: &Operation) -> Vec<ScriptPart> {
    let [cup, enter] = [ScriptPart::Cup, ScriptPart::Enter].map(|part| operation.words_for(part));
    let is_any_cup = cup.is_empty() && enter.is_empty();
    let mut parts: Vec<ScriptPart> = Vec::new();
    for part in step.acts(2).filter_map(Instruction::takes_buttons) {
        let part = match is_any_cup && part == ScriptPart::Cup {
            true => ScriptPart::Press,
            false => part,
        };
        if !parts.contains(&part) {
            parts.push(part);
        }
    }
    parts
}

impl ButtonsHere {
    /// The buttons of `step` on this side of the brewer; nothing where it takes none.
    #[must_use]
    pub fn of(brewer: &Brewer, circuit: &Circuit, step: &Step) -> Option<Self> {
        let operation = &circuit.operation;
        let parts = parts_of(step, operation);
        let asks: Vec<_> = brewer
            .script_asks(circuit)
            .into_iter()
            .filter(|ask| parts.contains(&ask.part))
            .collect();
        if asks.is_empty() {
            return None;
        }
        let shown = asks.iter().map(|ask| ButtonsShown {
            part: ask.part,
            name: ask.name,
            words: operation.words_for(ask.part).to_owned(),
            touches: operation.touches(ask.part).to_vec(),
        });
        let shown = shown.filter(|part| !part.touches.is_empty()).collect();
        Some(Self {
            panel: operation.panel.clone().unwrap_or_default(),
            parts: shown,
            asks,
        })
    }
}

/// What a plan says where nobody has told how, and what it says before it where somebody has.
const UNTOLD: [(ScriptPart, &str, &str); 3] = [
    (
        ScriptPart::Enter,
        "Enter the cleaning mode as its manual says.",
        "Enter the cleaning mode: ",
    ),
    (
        ScriptPart::Leave,
        "Leave the cleaning mode as its manual says, if it is still on.",
        "Leave the cleaning mode: ",
    ),
    (
        ScriptPart::Rearm,
        "Between presses: open and close the lid.",
        "Between presses: ",
    ),
];

/// A text that says buttons as they were told `before`, with those that are told `now`.
fn reworded(text: &str, before: &Operation, now: &Operation) -> String {
    let mut said = text.to_owned();
    for part in ScriptPart::ALL {
        let [old, new] =
            [before, now].map(|operation| operation.words_for(part).trim_end_matches('.'));
        if old == new || new.is_empty() {
            continue;
        }
        if !old.is_empty() {
            said = said.replace(old, new);
            // Within a sentence it begins small.
            said = said.replace(&text::small(old), &text::small(new));
        } else if let Some((_, untold, told)) = UNTOLD.iter().find(|(of, ..)| *of == part) {
            said = said.replace(untold, &format!("{told}{new}."));
        }
    }
    if let Some(seconds) = before.hold_seconds.filter(|_| now.hold_seconds.is_none()) {
        // What is taught says itself how long it is held.
        said = said.replace(&format!(" Hold for {seconds:.0} s."), "");
    }
    said
}

fn reword(steps: &mut [Step], before: &Operation, now: &Operation) {
    for step in steps {
        for text in step.what.iter_mut().chain(&mut step.refill) {
            *text = reworded(text, before, now);
        }
    }
}

impl Plan {
    /// Says the buttons as they are told now.
    pub fn say_buttons(&mut self, now: &Operation) {
        if self.buttons != *now {
            reword(&mut self.steps, &self.buttons, now);
        }
    }
}

impl Stage {
    /// The same of work that was added to a plan that told `before`.
    pub fn say_buttons(&mut self, before: &Operation, now: &Operation) {
        if before != now {
            reword(&mut self.steps, before, now);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(enter: &str, press: &str, hold_seconds: Option<f64>) -> Operation {
        Operation {
            enter: enter.to_owned(),
            press: press.to_owned(),
            hold_seconds,
            ..Operation::default()
        }
    }

    #[test]
    fn a_text_says_what_is_told_now() {
        let nobody = Operation::default();
        let typed = told("Lever up, then the round one", "Round button", Some(6.0));
        let taught = told("hold the button ‘a’ for 3 s", "press the button ‘b’", None);
        for (text, before, now, says) in [
            (
                "Enter the cleaning mode as its manual says.",
                &nobody,
                &taught,
                "Enter the cleaning mode: hold the button ‘a’ for 3 s.",
            ),
            (
                "Enter the cleaning mode: Lever up, then the round one. Hold for 6 s.",
                &typed,
                &taught,
                "Enter the cleaning mode: hold the button ‘a’ for 3 s.",
            ),
            (
                "Round button (8 fl oz).",
                &typed,
                &taught,
                "press the button ‘b’ (8 fl oz).",
            ),
            (
                "Round button (8 fl oz).",
                &typed,
                &nobody,
                "Round button (8 fl oz).",
            ),
            (
                "Fill the reservoir.",
                &typed,
                &taught,
                "Fill the reservoir.",
            ),
        ] {
            assert_eq!(reworded(text, before, now), says);
        }
    }
}

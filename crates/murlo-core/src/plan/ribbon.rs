//! The steps of a plan on a clock.

use super::{Ribbon, Step, Stretch};
use crate::text;

/// The steps on a clock: what fits into a hands-free stretch is done there and costs no time of its own.
pub(super) fn ribbon(steps: &[Step]) -> Ribbon {
    let mut stretches = Vec::new();
    let mut clock = 0.0;
    let stretch = |step: &Step, hands_on, start_min, minutes| Stretch {
        step: step.id.clone(),
        label: step.title.clone(),
        hands_on,
        start_min,
        minutes,
        during: step.during.clone(),
    };
    for step in steps.iter().filter(|s| s.during.is_none()) {
        if step.hands_on_min > 0.0 {
            stretches.push(stretch(step, true, clock, step.hands_on_min));
            clock += step.hands_on_min;
        }
        if step.hands_free_min > 0.0 {
            stretches.push(stretch(step, false, clock, step.hands_free_min));
            let mut inside = clock;
            for fitted in steps.iter().filter(|s| s.during.as_ref() == Some(&step.id)) {
                stretches.push(stretch(fitted, true, inside, fitted.hands_on_min));
                inside += fitted.hands_on_min;
            }
            clock += step.hands_free_min;
        }
    }
    let hands_on_min = steps.iter().map(|s| s.hands_on_min).sum();
    Ribbon {
        text: format!(
            "about {} of work in {}",
            text::minutes(hands_on_min),
            text::minutes(clock)
        ),
        stretches,
        hands_on_min,
        elapsed_min: clock,
    }
}

//! The steps of a plan on a clock.

use super::{Ribbon, Step, Stretch};
use murlo_base::text;

/// The steps on a clock: what fits into a stretch in which hands are free is done there and costs no time of its own.
pub(super) fn ribbon(steps: &[Step]) -> Ribbon {
    let (stretches, elapsed_min) = stretches(steps);
    let sum = |of: fn(&Step) -> f64| steps.iter().map(of).sum::<f64>();
    let hands_on_min = sum(|s| s.hands_on_min);
    let fitted: f64 = steps
        .iter()
        .filter(|s| s.during.is_some())
        .map(|s| s.hands_on_min)
        .sum();
    let free_min = (sum(|s| s.hands_free_min) - fitted).max(0.0);
    let away = match free_min >= SHORTEST_AWAY {
        true => format!("; away for {}", text::minutes(free_min)),
        false => String::new(),
    };
    Ribbon {
        text: format!(
            "about {} of your hands in {}{away}",
            text::minutes(hands_on_min),
            text::minutes(elapsed_min)
        ),
        stretches,
        hands_on_min,
        near_min: sum(|s| s.near_min),
        free_min,
        elapsed_min,
    }
}

/// Each stretch with its start, and the minutes until the last has ended.
fn stretches(steps: &[Step]) -> (Vec<Stretch>, f64) {
    let mut stretches = Vec::new();
    let mut clock = 0.0;
    let stretch = |step: &Step, start_min, minutes| Stretch {
        step: step.id.clone(),
        label: step.title.clone(),
        hands_on: true,
        near: false,
        start_min,
        minutes,
        during: step.during.clone(),
    };
    for step in steps.iter().filter(|s| s.during.is_none()) {
        // Hands and waiting alternate press by press: one stretch for both.
        let at_it = step.hands_on_min + step.near_min;
        let is_near = step.near_min > 0.0;
        if at_it > 0.0 {
            stretches.push(Stretch {
                hands_on: !is_near,
                near: is_near,
                ..stretch(step, clock, at_it)
            });
        }
        let mut inside = clock;
        clock += at_it;
        if step.hands_free_min > 0.0 {
            stretches.push(Stretch {
                hands_on: false,
                ..stretch(step, clock, step.hands_free_min)
            });
            inside = clock;
            clock += step.hands_free_min;
        }
        for fitted in steps.iter().filter(|s| s.during.as_ref() == Some(&step.id)) {
            stretches.push(stretch(fitted, inside, fitted.hands_on_min));
            inside += fitted.hands_on_min;
        }
    }
    (stretches, clock)
}

/// Less is no time to go anywhere, minutes.
const SHORTEST_AWAY: f64 = 5.0;

//! What journal entries and cleans teach about how fast chalk grows in a circuit.
//!
//! Lessons are folded from the entries, so taking an entry back takes its lesson back.

use crate::brewer::{Brewer, Circuit};
use crate::journal::{Entry, Sign, What};
use crate::text;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// Noise of a sign whose first day is known, and of one that is only known roughly.
const NOISE: (f64, f64) = (0.4, 0.7);
/// Some of the budget is always taken to be open after a clean, or nothing could be learned from the next one.
const LEAST_ROOM: f64 = 0.05;
/// Spread of the plating factor never falls below this, however much was seen.
const LEAST_SIGMA: f64 = 0.20;

/// Plating factor and its spread after symptoms began once `potential_mg` had passed: Bayes on the logarithm.
///
/// # Example
/// ```
/// let (phi, sigma) = murlo_core::lessons::learn(0.15, 0.5, 569.1, 2500.0, 0.4);
/// assert!((phi - 0.193443).abs() < 1e-6 && (sigma - 0.312348).abs() < 1e-6);
/// ```
#[must_use]
pub fn learn(
    plating: f64,
    sigma: f64,
    limit_mg: f64,
    potential_mg: f64,
    sigma_observation: f64,
) -> (f64, f64) {
    let observed = (limit_mg / potential_mg).ln();
    let (w0, w1) = (sigma.powi(-2), sigma_observation.powi(-2));
    let log = (w0 * plating.ln() + w1 * observed) / (w0 + w1);
    (log.exp(), (w0 + w1).sqrt().recip().max(LEAST_SIGMA))
}

/// How strongly chalk sticks in a circuit, and how sure that is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Plating {
    /// Share of the scale potential that sticks.
    pub factor: f64,
    /// Spread of its logarithm.
    pub sigma: f64,
}

/// One entry's lesson.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Lesson {
    /// The entry it comes from.
    pub entry_id: String,
    /// The day.
    pub day: Date,
    /// What was seen and what it changed.
    pub text: String,
    /// Before it.
    pub before: Plating,
    /// After it; the same when it taught nothing.
    pub after: Plating,
    /// The entry that leaves it out, if one does.
    pub left_out_by: Option<String>,
}

/// What all entries together teach about `circuit`, oldest first.
#[must_use]
pub fn plating(
    brewer: &Brewer,
    circuit: &Circuit,
    entries: &[Entry],
    today: Date,
) -> (Plating, Vec<Lesson>) {
    let left_out: HashMap<_, _> = entries
        .iter()
        .filter_map(|e| match &e.what {
            What::LeftOut { entry_id } => Some((entry_id.as_str(), e.id.clone())),
            _ => None,
        })
        .collect();
    let mut observations: Vec<_> = entries
        .iter()
        .filter_map(|e| Some((e, observed(brewer, circuit, &e.what)?)))
        .collect();
    observations.sort_by_key(|(entry, _)| (entry.day, &entry.id));
    let mut now = Plating {
        factor: circuit.plating,
        sigma: circuit.plating_sigma,
    };
    let mut lessons = Vec::with_capacity(observations.len());
    for (entry, observed) in observations {
        let before = now;
        let left_out_by = left_out.get(entry.id.as_str()).cloned();
        let why_not = match observed {
            _ if left_out_by.is_some() => Some("it is left out"),
            Observed::Nothing(why) => Some(why),
            Observed::Within { potential_mg, .. }
                if potential_mg * now.factor <= circuit.limit_mg() =>
            {
                Some("no chalk was expected to show yet")
            }
            Observed::Within {
                potential_mg,
                noise,
            }
            | Observed::Reached {
                potential_mg,
                noise,
            } => {
                let (factor, sigma) = learn(
                    now.factor,
                    now.sigma,
                    circuit.limit_mg(),
                    potential_mg,
                    noise,
                );
                now = Plating { factor, sigma };
                None
            }
        };
        let seen = entry.seen(today);
        lessons.push(Lesson {
            entry_id: entry.id.clone(),
            day: entry.day,
            text: match why_not {
                Some(why) => format!("{seen}: teaches nothing, {why}"),
                None => format!(
                    "{seen}: chalk grows {} than reckoned before",
                    faster(now.factor / before.factor)
                ),
            },
            before,
            after: now,
            left_out_by,
        });
    }
    (now, lessons)
}

/// What was learned so far, in one sentence.
#[must_use]
pub fn learned(circuit: &Circuit, now: Plating, lessons: &[Lesson]) -> String {
    let telling = lessons.iter().filter(|l| l.before != l.after).count();
    if telling == 0 {
        return "Nothing learned yet: the estimate stands on starting values. Log when it gets slow, loud or cooler, and what a bath brings out.".to_owned();
    }
    format!(
        "Learned from {}: chalk grows {} than the starting value says, and the estimate is {} surer.",
        text::count(telling as u32, "observation", "observations"),
        faster(now.factor / circuit.plating),
        percent(1.0 - now.sigma / circuit.plating_sigma)
    )
}

fn percent(share: f64) -> String {
    format!("{:.0} %", 100.0 * share)
}

/// "20 % faster", "a third slower".
fn faster(ratio: f64) -> String {
    if ratio >= 1.0 {
        format!("{} faster", percent(ratio - 1.0))
    } else {
        format!("{} slower", percent(1.0 - ratio))
    }
}

enum Observed {
    /// The limit was reached after this potential.
    Reached { potential_mg: f64, noise: f64 },
    /// It was not reached after this potential: telling only when it should have been.
    Within { potential_mg: f64, noise: f64 },
    /// Does not speak of chalk.
    Nothing(&'static str),
}

fn observed(brewer: &Brewer, circuit: &Circuit, what: &What) -> Option<Observed> {
    match what {
        What::Sign {
            circuit_id,
            sign,
            dated,
            potential_mg,
        } if *circuit_id == circuit.id => Some(match potential_mg {
            _ if *sign == Sign::Light && brewer.light_counts => {
                Observed::Nothing("its light only counts water")
            }
            Some(potential_mg) if *potential_mg >= 1.0 => Observed::Reached {
                potential_mg: *potential_mg,
                noise: if *dated { NOISE.0 } else { NOISE.1 },
            },
            _ => Observed::Nothing(
                "no water that leaves chalk had gone through since the last clean",
            ),
        }),
        What::Showed {
            circuit_id,
            chalk,
            potential_mg,
            ..
        } if *circuit_id == circuit.id => Some(if *potential_mg < 1.0 {
            Observed::Nothing("no water that leaves chalk had gone through before it")
        } else if *chalk {
            Observed::Reached {
                potential_mg: *potential_mg,
                noise: NOISE.1,
            }
        } else {
            Observed::Within {
                potential_mg: *potential_mg,
                noise: NOISE.1,
            }
        }),
        _ => None,
    }
}

/// The potential to learn from, when `left_mg` of chalk was there to begin with: what grew on top reached the limit early.
#[must_use]
pub fn potential_to_learn(circuit: &Circuit, potential_mg: f64, left_mg: f64) -> f64 {
    let room = (1.0 - left_mg / circuit.limit_mg()).max(LEAST_ROOM);
    potential_mg / room
}

#[cfg(test)]
mod tests;

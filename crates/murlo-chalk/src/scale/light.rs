//! What a descaling light goes by: a counter of brews lights after the same number again and again, a sensor after the same chalk.

use super::Growth;
use super::evidence::Source;
use super::passed::PassedSum;
use crate::belief::Witnessed;
use murlo_brewer::journal::Sign;

/// Lightings from which on something can be told.
const LEAST: usize = 3;
/// Spread over mean below which numbers are the same again. Judged.
const SAME: f64 = 0.08;
/// What it goes by spreads at most so much of what the other does. Judged.
const CLEARLY: f64 = 0.6;

/// Spread of numbers over their mean.
fn spread(numbers: &[f64]) -> f64 {
    let n = numbers.len() as f64;
    let mean = numbers.iter().sum::<f64>() / n;
    let square: f64 = numbers.iter().map(|x| (x - mean).powi(2)).sum();
    (square / n).sqrt() / mean.max(1e-9)
}

impl Growth<'_> {
    /// What its light seems to go by, once it has come on often enough; nothing where the person has said so already.
    pub(super) fn light_goes_by(&self) -> Option<String> {
        if self.brewer.light_counts {
            return None;
        }
        let (mut since, mut passed, mut is_lit) = (self.start, Vec::<PassedSum>::new(), false);
        for event in &self.seen {
            match (event.source, &event.what) {
                (Source::Clean(_), _) => (since, is_lit) = (event.day, false),
                (
                    _,
                    Witnessed::Sign {
                        sign: Sign::Light, ..
                    },
                ) if !is_lit => {
                    let (now, then) = (self.passed.until(event.day), self.passed.until(since));
                    passed.push(PassedSum {
                        cups: now.cups - then.cups,
                        litres: now.litres - then.litres,
                        potential_mg: now.potential_mg - then.potential_mg,
                    });
                    is_lit = true;
                }
                _ => {}
            }
        }
        if passed.len() < LEAST {
            return None;
        }
        let cups: Vec<_> = passed.iter().map(|sum| sum.cups).collect();
        let chalk: Vec<_> = passed.iter().map(|sum| sum.potential_mg).collect();
        let (by_cups, by_chalk) = (spread(&cups), spread(&chalk));
        let each = |numbers: &[f64]| {
            let words: Vec<_> = numbers.iter().map(|n| format!("{n:.0}")).collect();
            words.join(", ")
        };
        if by_cups < SAME && by_cups < CLEARLY * by_chalk {
            Some(format!(
                "Its light came on after {} brews: it seems to count them, so it says little of chalk. If you know so, say in its figures that it only counts.",
                each(&cups)
            ))
        } else if by_chalk < SAME && by_chalk < CLEARLY * by_cups {
            Some(format!(
                "Its light came on after {} brews, each time with about the same chalk by the reckoning: it seems to feel the chalk.",
                each(&cups)
            ))
        } else {
            None
        }
    }
}

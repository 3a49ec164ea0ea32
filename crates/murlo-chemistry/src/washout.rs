//! Rinse washout: how acid left in a circuit thins with every portion of water.

use crate::root::rising;
use serde::{Deserialize, Serialize};

/// The source shown with every figure of this module.
pub const SOURCE: &str = "mass balance of a stirred hold-up (Levenspiel, Chemical Reaction Engineering, tanks in series)";

/// How the water in the hold-up mixes with what comes in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Washout {
    /// Each portion mixes fully, then one portion leaves: the cautious form for tanks.
    TankBatch,
    /// Stirred while it flows.
    TankExp,
    /// A little stays wetting the path after a whole carafe has passed.
    Drip,
    /// Two stirred parts one after the other.
    Series2,
    /// Three stirred parts one after the other.
    Series3,
}

impl Washout {
    /// Every model.
    pub const ALL: [Self; 5] = [
        Self::TankBatch,
        Self::TankExp,
        Self::Drip,
        Self::Series2,
        Self::Series3,
    ];

    /// The name used in data.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::TankBatch => "tank_batch",
            Self::TankExp => "tank_exp",
            Self::Drip => "drip",
            Self::Series2 => "series2",
            Self::Series3 => "series3",
        }
    }

    /// Share of the acid still there after `portions` of `portion_ml` through `hold_ml`.
    ///
    /// # Example
    /// ```
    /// use murlo_chemistry::washout::Washout;
    /// // 12 fl oz that stay, thinned by 10 fl oz three times: about a sixth of the acid is left.
    /// let left = Washout::TankBatch.remaining(355.0, 296.0, 3.0);
    /// assert!((left - 0.162).abs() < 0.001);
    /// ```
    #[must_use]
    pub fn remaining(self, hold_ml: f64, portion_ml: f64, portions: f64) -> f64 {
        match self {
            Self::TankBatch | Self::Drip => (hold_ml / (hold_ml + portion_ml)).powf(portions),
            Self::TankExp => (-portions * portion_ml / hold_ml).exp(),
            Self::Series2 => series(2, portions * portion_ml / hold_ml),
            Self::Series3 => series(3, portions * portion_ml / hold_ml),
        }
    }

    /// Whole portions until `start` has thinned to `target` (same unit); 0 when it already has.
    ///
    /// # Example
    /// ```
    /// use murlo_chemistry::washout::Washout;
    /// assert_eq!(Washout::TankBatch.portions(355.0, 235.0, 25_000.0, 50.0), 13);
    /// assert_eq!(Washout::Drip.portions(60.0, 1800.0, 25_000.0, 50.0), 2);
    /// ```
    #[must_use]
    pub fn portions(self, hold_ml: f64, portion_ml: f64, start: f64, target: f64) -> u32 {
        if start <= target {
            return 0;
        }
        let fold = (start / target).ln();
        let exact = match self {
            Self::TankBatch | Self::Drip => fold / (portion_ml / hold_ml).ln_1p(),
            Self::TankExp => fold * hold_ml / portion_ml,
            Self::Series2 | Self::Series3 => {
                let parts = if self == Self::Series2 { 2 } else { 3 };
                // Washed-out volumes: a series never needs more than twice the single tank's, plus a margin.
                let volumes = rising(|u| -fold - series(parts, u).ln(), 0.0, 2.0 * fold + 4.0);
                volumes * hold_ml / portion_ml
            }
        };
        // A whole number that arithmetic left a hair above itself is still that number.
        (exact - 1e-9).ceil().clamp(0.0, f64::from(u32::MAX)) as u32
    }
}

/// Tanks-in-series washout after `u` hold-ups.
fn series(parts: u32, u: f64) -> f64 {
    let x = f64::from(parts) * u;
    let (mut term, mut sum) = (1.0, 1.0);
    for k in 1..parts {
        term *= x / f64::from(k);
        sum += term;
    }
    (-x).exp() * sum
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn series_portions_reach_the_target_and_one_fewer_does_not() {
        for model in Washout::ALL {
            for (hold, portion, start, target) in [
                (355.0, 235.0, 25_000.0, 50.0),
                (60.0, 120.0, 50_000.0, 22.0),
                (1000.0, 235.0, 20_000.0, 100.0),
            ] {
                let n = model.portions(hold, portion, start, target);
                assert!(
                    start * model.remaining(hold, portion, f64::from(n)) <= target * 1.000_001,
                    "{model:?} {n}"
                );
                assert!(
                    start * model.remaining(hold, portion, f64::from(n) - 1.0) > target,
                    "{model:?} {n}"
                );
            }
        }
    }

    #[test]
    fn batch_portions_agree_with_the_published_table() {
        for (start, by_hold) in [
            (16_700.0, [4, 6, 12, 18, 28]),
            (25_000.0, [4, 6, 13, 19, 30]),
            (50_000.0, [5, 7, 14, 21, 33]),
            (120_000.0, [5, 8, 16, 24, 37]),
        ] {
            for (hold, expected) in [60.0, 120.0, 355.0, 600.0, 1000.0].into_iter().zip(by_hold) {
                assert_eq!(
                    Washout::TankBatch.portions(hold, 235.0, start, 50.0),
                    expected,
                    "{start} mg/L, {hold} mL"
                );
            }
        }
    }
}

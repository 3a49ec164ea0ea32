//! What a clean leaves of the chalk that was there, as shares that hang on how much it was.

use super::grid::{ByZ, N, Z};
use murlo_chemistry::cleaning::Left;
use std::sync::Arc;

/// What a clean leaves.
#[derive(Debug, Clone, PartialEq)]
pub enum Leaves {
    /// These shares, whatever was there.
    Same(Left),
    /// Shares by how much was there.
    ByFilm(Arc<Curve>),
}

/// Shares left of films of several thicknesses, linear in the logarithm of their odds over that of the film, flat outside.
#[derive(Debug, PartialEq)]
pub struct Curve {
    /// Logarithm of the film as a share of the limit, rising, with the log-odds of its P10, median and P90 left.
    points: Vec<(f64, [f64; Z])>,
}

/// Shares are kept this far from none and all, where odds have no logarithm.
const LEAST_SHARE: f64 = 1e-5;

fn log_odds(share: f64) -> f64 {
    let share = share.clamp(LEAST_SHARE, 1.0 - LEAST_SHARE);
    (share / (1.0 - share)).ln()
}

impl Leaves {
    /// What is left of each film, given as a share of the limit, thinnest first.
    ///
    /// # Example
    /// ```
    /// use murlo_chalk::belief::Leaves;
    /// use murlo_chemistry::cleaning::Left;
    /// let left = |median| Left { p10: median, median, p90: median };
    /// let leaves = Leaves::by_film([(0.5, left(0.2)), (2.0, left(0.8))]);
    /// assert!((leaves.of(1.0).median - 0.5).abs() < 1e-9);
    /// assert!((leaves.of(9.0).median - 0.8).abs() < 1e-9);
    /// ```
    pub fn by_film(films: impl IntoIterator<Item = (f64, Left)>) -> Self {
        let point = |(used, left): (f64, Left)| {
            let shares = [left.p10, left.median, left.p90];
            (used.ln(), shares.map(log_odds))
        };
        let points = films.into_iter().map(point).collect();
        Self::ByFilm(Arc::new(Curve { points }))
    }

    /// Shares left of a film of `used` of the limit.
    #[must_use]
    pub fn of(&self, used: f64) -> Left {
        let [p10, median, p90] = match self {
            Self::Same(left) => return *left,
            Self::ByFilm(curve) => [0, 1, 2].map(|z| curve.share(used, z)),
        };
        Left { p10, median, p90 }
    }

    /// The share of each node's own chalk that it keeps.
    pub(super) fn shares(&self, used: &ByZ) -> ByZ {
        match self {
            Self::Same(left) => [left.p10, left.median, left.p90].map(|share| [share; N]),
            Self::ByFilm(curve) => {
                std::array::from_fn(|z| used[z].map(|used| curve.share(used, z)))
            }
        }
    }
}

impl Curve {
    /// The share left of a film of `used` of the limit, for the outcome `z`.
    fn share(&self, used: f64, z: usize) -> f64 {
        let at = used.ln();
        let after = self.points.partition_point(|(film, _)| *film <= at);
        let odds = match (after.checked_sub(1), self.points.get(after)) {
            (Some(before), Some((film, odds))) => {
                let (thinner, less) = &self.points[before];
                less[z] + (odds[z] - less[z]) * (at - thinner) / (film - thinner)
            }
            (Some(last), None) => self.points[last].1[z],
            (None, Some((_, odds))) => odds[z],
            // A curve of no film says nothing: all of it stays.
            (None, None) => return 1.0,
        };
        1.0 / (1.0 + (-odds).exp())
    }
}

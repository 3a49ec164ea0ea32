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
///
/// It is asked for 84 nodes at every clean of every circuit, so it is worked out once at close steps: sixteen between each
/// power of two and the next, straight lines between them, which differ from it by less than a thousandth.
#[derive(Debug, PartialEq)]
pub struct Curve {
    /// The thinnest and the thickest film, as shares of the limit.
    ends: (f64, f64),
    /// The step of the thinnest.
    first: u64,
    /// P10, median and P90 left at each step.
    steps: Vec<[f32; Z]>,
}

/// Bits of a number below its step: what is left of its 52 after a sixteenth of each power of two.
const WITHIN: u32 = 52 - 4;

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
    /// assert!((leaves.of(1.0).median - 0.5).abs() < 1e-3);
    /// assert!((leaves.of(9.0).median - 0.8).abs() < 1e-3);
    /// ```
    pub fn by_film(films: impl IntoIterator<Item = (f64, Left)>) -> Self {
        let point = |(used, left): (f64, Left)| {
            let shares = [left.p10, left.median, left.p90];
            (used.ln(), shares.map(log_odds))
        };
        let films: Vec<_> = films.into_iter().collect();
        let points: Vec<_> = films.iter().copied().map(point).collect();
        let (Some((thinnest, _)), Some((thickest, _))) = (films.first(), films.last()) else {
            // A curve of no film says nothing: all of it stays.
            return Self::Same(Left::ALL);
        };
        let (first, last) = (step(*thinnest), step(*thickest) + 1);
        let steps = (first..=last).map(|step| {
            let used = f64::from_bits(step << WITHIN);
            [0, 1, 2].map(|z| between(&points, used.ln(), z) as f32)
        });
        Self::ByFilm(Arc::new(Curve {
            ends: (*thinnest, *thickest),
            first,
            steps: steps.collect(),
        }))
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
        let used = used.clamp(self.ends.0, self.ends.1);
        let at = (step(used) - self.first) as usize;
        let within = used.to_bits() & ((1 << WITHIN) - 1);
        let (low, high) = (
            f64::from(self.steps[at][z]),
            f64::from(self.steps[at + 1][z]),
        );
        low + (high - low) * within as f64 / (1u64 << WITHIN) as f64
    }
}

/// The step in which a film lies: its power of two, and the sixteenth of that.
fn step(used: f64) -> u64 {
    used.to_bits() >> WITHIN
}

/// The share between the points of a curve, at the logarithm of a film.
fn between(points: &[(f64, [f64; Z])], at: f64, z: usize) -> f64 {
    let after = points.partition_point(|(film, _)| *film <= at);
    let odds = match (after.checked_sub(1), points.get(after)) {
        (Some(before), Some((film, odds))) => {
            let (thinner, less) = &points[before];
            less[z] + (odds[z] - less[z]) * (at - thinner) / (film - thinner)
        }
        (Some(last), None) => points[last].1[z],
        (None, first) => first.map_or(0.0, |(_, odds)| odds[z]),
    };
    1.0 / (1.0 + (-odds).exp())
}

//! The grid on which all is reckoned.

/// Steps of growth.
pub(super) const N: usize = 28;

/// What a clean leaves: its P10, median and P90.
pub(super) const Z: usize = 3;

/// How a person notices: early, usual, late, never.
pub(super) const C: usize = 4;

/// A figure for every growth and every outcome of the last clean.
pub(super) type ByZ = [[f64; N]; Z];

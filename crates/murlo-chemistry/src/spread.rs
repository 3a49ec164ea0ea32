//! How estimates spread: log-normally, told by their tenth and ninetieth percentile.

/// The standard normal's 90th percentile: an estimate's P10 and P90 lie at exp(∓P90 σ) of its median.
pub const P90: f64 = 1.281_55;

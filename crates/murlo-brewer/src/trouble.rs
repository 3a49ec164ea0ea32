//! What is wrong: from signs to causes, and the cheapest test that tells most.
//!
//! One cause is taken to be at work, and signs to follow from it one by one (naive Bayes). The strengths are practitioners'
//! judgement in three steps, not measured rates, so a probability here orders causes; it does not promise.

mod diagnose;
mod signs;

pub use diagnose::{Context, Diagnosis, NextTest, Ranked, SignsSeen, check_signs, diagnose};
pub use signs::{Cause, DANGERS, Remedy, SIGNS, TroubleSign, danger, named};

#[cfg(test)]
mod tests;

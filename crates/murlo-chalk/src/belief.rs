//! What is believed of a circuit: how fast chalk grows in it, how much there is, and how its person notices.
//!
//! A Bayesian filter over a grid, without randomness. Cleans, what they brought out, verdicts, signs and their absence are its
//! evidence; it is walked anew from the facts at every question and never stored. Constants marked judged were checked by
//! simulation only.

mod answers;
mod evidence;
mod filter;
mod grid;
mod leaves;

pub use answers::{Sharper, Window};
pub use evidence::{Brought, Checks, Told, Witnessed, Witnessing};
pub use filter::{Belief, Prior, SOURCE};
pub use leaves::Leaves;

#[cfg(test)]
mod tests;

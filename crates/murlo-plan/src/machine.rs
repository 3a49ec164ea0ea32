//! A simulated brewer: what each instruction does to it, and what it refuses because a real one would do harm.
//!
//! It knows one side of a brewer by figures and choices ([`Mechanism`]), never by words, and shares nothing with the plan
//! but the instructions: a plan is right when it runs on it from first to last (`rehearse`).

pub mod acts;
pub(crate) mod harm;
mod mechanism;
mod state;

pub use harm::Harm;
pub use mechanism::Mechanism;
pub use state::{Machine, MachineSeen, MachineStanding};

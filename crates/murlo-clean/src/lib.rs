//! A running clean as a list of events: what has happened, what may come next, what is in the machine now.
//!
//! `replay` folds events over the frozen plan; nothing else decides where a clean stands. Undo is an event too. The
//! serialized [`Act`] and [`Event`] are stored for good: variants are only ever added. It knows one clean of one circuit, and
//! nothing of those before it (`murlo-household` does).
#![deny(missing_docs)]
// Our own enums are matched in full, so that a new member is missed by the compiler before it is missed by a person.
#![cfg_attr(not(test), warn(clippy::wildcard_enum_match_arm))]

mod act;
mod ahead;
mod bathing;
mod begun;
mod carry_out;
mod choices;
mod come_to;
#[cfg(any(test, feature = "fixtures"))]
#[allow(
    clippy::wildcard_enum_match_arm,
    reason = "tests pick what they are about"
)]
pub mod fixtures;
mod fold;
mod found;
mod habits;
mod judge;
mod left_out;
pub mod mishap;
mod outcome;
mod progress;
mod seen;
mod sides;
mod stages;
mod stand;
mod state;

pub use act::{Act, ClearingTool, Event, FoundInside, FoundSmell, FoundTank};
pub use ahead::{Ahead, ahead};
pub use begun::begin;
pub use fold::{Planner, admit, happened_at, not_counted_meanwhile, replay, stands};
pub use habits::habits_of;
pub use outcome::{AcidLeft, ChalkMet, Outcome, PouredBath, took_agents};
pub use seen::{Flow, Glass, GlassOf, GlassSeen, RATINGS, Sampled};
pub use sides::{hold, leave_alone};
pub use state::{
    Ask, Asked, AskedAnswer, AskedInside, Choice, Closed, Forgotten, Note, Standing, State,
    StepState, Timer, Verdict,
};

#[cfg(test)]
pub(crate) mod tests;

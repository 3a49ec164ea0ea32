//! Several brewers and rooms, one pair of hands: in which order their acts are done so that all is over soonest.
//!
//! `model` reads jobs and turns them into chains of acts, `search` finds an order by a widening beam, `running` says by when
//! each act must have begun, `leave_out` what to leave where the time is short, `in_turn`
//! goes from home to home. All times are whole seconds; the same input
//! gives the same answer. It knows jobs, places and minutes, and nothing of coffee: it uses no other crate of ours but for errors.
#![deny(missing_docs)]
// Our own enums are matched in full, so that a new member is missed by the compiler before it is missed by a person.
#![cfg_attr(not(test), warn(clippy::wildcard_enum_match_arm))]

mod beam;
mod compile;
#[cfg(any(test, feature = "fixtures"))]
#[allow(
    clippy::wildcard_enum_match_arm,
    reason = "tests pick what they are about"
)]
pub mod fixtures;
mod found;
mod in_turn;
mod leave_out;
mod model;
mod running;
mod search;

pub use found::{Found, NODES, ScheduledStretch};
pub use in_turn::solve_in_turn;
pub use leave_out::solve;
pub use model::{At, Chore, Presence, Schedulable, Segment, VisitJob};

#[cfg(test)]
pub(crate) mod tests;

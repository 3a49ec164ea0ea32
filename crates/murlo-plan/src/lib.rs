//! One clean of one circuit as an agreed plan: bath, soak, rinse, ordered steps, time, kit and reasons.
//!
//! A plan is frozen when a clean starts; the running clean reads nothing else. It is drawn from what is known of a brewer and
//! its chalk, and proved on the simulated brewer; it knows nothing of acts, households or other brewers (`murlo-clean` and
//! `murlo-household` do).
#![deny(missing_docs)]
// Our own enums are matched in full, so that a new member is missed by the compiler before it is missed by a person.
#![cfg_attr(not(test), warn(clippy::wildcard_enum_match_arm))]

mod alternatives;
mod amounts;
pub mod answers;
pub mod bathing;
mod begun;
pub mod bench;
mod buttons;
mod by_part;
mod by_way;
mod correction;
mod draw;
mod facts;
pub mod figures;
#[cfg(any(test, feature = "fixtures"))]
#[allow(
    clippy::wildcard_enum_match_arm,
    reason = "tests pick what they are about"
)]
pub mod fixtures;
mod further;
mod habits;
mod kept_way;
mod kind;
pub mod machine;
pub mod minutes;
mod open;
mod options;
mod otherwise;
mod over_days;
pub mod pace;
mod poured_so;
pub mod practice;
pub mod rehearse;
mod ribbon;
mod said;
mod shape;
mod spared;
mod stage;
pub(crate) mod step;
mod steps;
mod words;
mod worked;

pub use alternatives::{Alternative, Comparison, Purchase};
pub use begun::{A_PRESS_MIN, BegunAlready, Stood};
pub use buttons::{ButtonsHere, ButtonsShown};
pub use correction::Correction;
pub use facts::{Facts, Measured, Today};
pub use habits::Habits;
pub use kept_way::{KeptWay, WayCheck, WayOrigin, WayRevision, WaySuggestion};
pub use kind::Kind;
pub use options::{Fill, PlanOptions, RecipeChoice, WayWish, Work};
pub use otherwise::pour_into;
pub use over_days::{DayPart, NextPart, OverDays, PartOf, check_new_days, proposed_days};
pub use poured_so::{ByEye, PouredSo};
pub use shape::{Because, Chosen, Dispensing, Plan, Ribbon, Rung, Stretch, Stronger};
pub use spared::left_out_with;
pub use stage::{Moment, Stage, Wish};
pub use step::{
    Answer, Caution, Doing, Hazard, Inside, OpenAnswer, OpenFact, Picture, Place, Question, Step,
};
pub use steps::{AFTER, MIX, RINSE, SOAK, VERIFY};

#[cfg(test)]
mod tests;

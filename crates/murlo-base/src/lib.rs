//! What every other crate of the rules stands on: amounts and the words for them, errors that name a field, and what a
//! document may be.
//!
//! It knows nothing of coffee, water or acid, and nothing of files, clocks or networks. `murlo-chemistry` has the formulas.
#![deny(missing_docs)]
// Our own enums are matched in full, so that a new member is missed by the compiler before it is missed by a person.
#![cfg_attr(not(test), warn(clippy::wildcard_enum_match_arm))]

pub mod bounds;
pub mod days;
pub mod document;
pub mod problem;
pub mod text;
pub mod units;
pub mod working;
#[cfg(feature = "fixtures")]
pub mod written;

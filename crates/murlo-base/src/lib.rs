//! What every other crate of the rules stands on: amounts and the words for them, errors that name a field, and what a
//! document may be.
//!
//! It knows nothing of coffee, water or acid, and nothing of files, clocks or networks. `murlo-chemistry` has the formulas.
#![deny(missing_docs)]

pub mod bounds;
pub mod days;
pub mod document;
pub mod problem;
pub mod text;
pub mod units;
pub mod working;
#[cfg(feature = "fixtures")]
pub mod written;

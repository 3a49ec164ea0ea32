//! How much chalk (scale) there is in a circuit, since when, when it is due to come out, and what that costs.
//!
//! It judges from things and what happened to them (`murlo-brewer`) by the chemistry below; it plans nothing and knows no
//! clean but the trace one leaves ([`scale::Cleaned`]). `murlo-plan` makes plans of it.
#![deny(missing_docs)]
// Our own enums are matched in full, so that a new member is missed by the compiler before it is missed by a person.
#![cfg_attr(not(test), warn(clippy::wildcard_enum_match_arm))]

pub mod belief;
pub mod money;
pub mod pour;
pub mod scale;
pub mod upkeep;

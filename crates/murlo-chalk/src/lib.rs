//! How much chalk (scale) there is in a circuit, since when, when it is due to come out, and what that costs.
//!
//! It judges from things and what happened to them (`murlo-brewer`) by the chemistry below; it plans nothing and knows no
//! clean but the trace one leaves ([`scale::Cleaned`]). `murlo-plan` makes plans of it.
#![deny(missing_docs)]

pub mod belief;
pub mod money;
pub mod pour;
pub mod scale;
pub mod upkeep;

//! All rules and computation of Murlo, as pure functions.
//!
//! No I/O, no async, no clock, no randomness and no interface code: the day, the time and the time zone come in as
//! arguments. `murlo-store` keeps the facts, `murlo-server` answers over HTTP, `murlo` is the command.
#![deny(missing_docs)]

pub mod backups;
pub mod bath;
pub mod belief;
pub mod bench;
pub mod bounds;
pub mod brewer;
pub mod calc;
pub mod chem;
pub mod clean;
pub mod cleaning;
pub mod counter;
pub mod document;
pub mod figures;
pub mod first;
pub mod history;
pub mod household;
pub mod instruction;
pub mod journal;
pub mod machine;
pub mod mishap;
pub mod money;
pub mod offer;
pub mod pace;
pub mod plan;
pub mod pour;
pub mod practice;
pub mod problem;
pub mod report;
pub mod rinse;
mod root;
pub mod rounds;
pub mod scale;
mod spread;
pub mod stock;
pub mod text;
pub mod trouble;
pub mod units;
pub mod upkeep;
pub mod visit;
pub mod water;
pub mod what_if;
pub mod working;
#[cfg(test)]
mod written;

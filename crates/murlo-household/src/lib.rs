//! Everything a household has, over time: what was done, what is due, what is in the cupboard, where one goes next; and the
//! document all of it travels in.
//!
//! It knows every rule below it and no file, clock or network (`murlo-store` and `murlo-server` do). [`Household`] is written as JSON and read back; version 1 stays readable for good, so fields are only ever added.
#![deny(missing_docs)]
// Our own enums are matched in full, so that a new member is missed by the compiler before it is missed by a person.
#![cfg_attr(not(test), warn(clippy::wildcard_enum_match_arm))]

pub mod backups;
pub mod counter;
pub mod devices;
pub mod erase;
pub mod first;
pub mod history;
mod household;
mod learned;
mod letter;
mod past;
mod photo;
pub mod rounds;
mod settings;
pub mod stock;
mod ways;
pub mod what_if;

pub use household::{CleanRecord, FORMAT, Household, VERSION};
pub use learned::{LearnedFrom, LearnedHere};
pub use letter::Letter;
pub use past::{PastClean, ToldBath};
pub use photo::{Photo, PhotoBrief, PhotoOf, Shows};
pub use settings::{Clock, Settings, is_as_it_starts};
pub use ways::{RevisionShown, WayFile, WayShown};

#[cfg(test)]
mod tests;

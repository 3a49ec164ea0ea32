//! The things of a household and what happens to them: brewers with their circuits, waters, agents and baths, homes, the
//! journal, and what is done to a brewer as typed instructions.
//!
//! Families only supply starting figures; everything computed afterwards reads the brewer's own facts. It knows the chemistry
//! of its things, but neither how much chalk there is (`murlo-chalk`) nor what to do about it (`murlo-plan`).
#![deny(missing_docs)]
// Our own enums are matched in full, so that a new member is missed by the compiler before it is missed by a person.
#![cfg_attr(not(test), warn(clippy::wildcard_enum_match_arm))]

pub mod bath;
mod beforehand;
mod draft;
mod family;
mod habit;
mod heating;
pub mod home;
pub mod instruction;
pub mod job;
pub mod journal;
mod mechanics;
pub mod metered;
mod model;
mod needles;
pub mod offer;
mod operation;
pub mod panel;
pub mod report;
pub mod rinse;
mod tank;
mod taught;
pub mod trouble;
pub mod water;
pub mod works;

pub use beforehand::{Beforehand, Grown, InUse, LastClean};
pub use draft::{BrewerDraft, NeedleDraft, SideDraft};
pub use family::{Family, Outlet};
pub use habit::Habit;
pub use heating::Heating;
pub use mechanics::{Mechanics, ModeEnds, NamedMark, Survives};
pub use model::{Brewer, Carafe, Circuit, CircuitKey, Filter, Policy, Since};
pub use needles::{LidNeedle, Needle, Seat, Spot};
pub use operation::{Care, Healthy, Meaning, Operation, Part, Places, ReaderWindow, Signal};
pub use tank::Tank;
pub use taught::ScriptAsk;

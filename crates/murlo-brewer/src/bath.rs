//! The bath: which agent and recipe, how strong after rounding to marks, what it can dissolve, and how long it must soak.

mod agent;
mod mix;
mod soak;

pub use agent::{Agent, AgentForm, Remark, find};
pub use mix::{
    GOGGLES_PERCENT, MixOrder, Mixed, Recipe, SOURCE, Split, Taken, Warning, marks, split,
};
pub use soak::Soak;

#[cfg(test)]
mod tests;

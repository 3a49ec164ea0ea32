//! The cupboard: what is in it, what cleans and small works draw from it, how long it lasts, and what to buy by when.
//!
//! A level is the sum of what happened: bought, counted, poured away, and what was done with it. Nothing is kept twice.

mod cupboard;
mod supply;

pub use cupboard::{AHEAD_DAYS, Cupboard, Line, Shown};
pub(crate) use supply::check_all;
pub use supply::{
    Drawn, Moved, Movement, Supply, SupplyKind, level, levels_without, of_works, with_levels,
};

#[cfg(test)]
mod tests;

//! A brewer to practise on: the simulated one, driven by presses in any order, with a clock that runs as fast as one likes.
//!
//! Nothing is kept: the scene is folded anew from the presses, so the same presses always lead to the same scene.

mod kitchen;
mod panel;
mod way_out;

pub use kitchen::{Deed, HarmView, MOST_PRESSES, Manner, Pressed, Scene, Setup, SignSeen, play};
pub use panel::{Button, ButtonView, Filled, RemedyView};

#[cfg(test)]
mod tests;

//! What a water is: from a strip, a label, or the chalk it leaves on taps; and how sure one can be of it.

pub mod check;
mod chemistry;
mod reading;
mod ruler;

pub use chemistry::{
    Chemistry, Portrait, Potential, blend, from_label, from_strip, label_sigma, strip_sigma,
};
pub use reading::{Reading, TapChalk, Through, Water, WaterDraft, Waters};
pub use ruler::{RULER, RulerClass, RulerScale, RulerTick, class, ruler_scales};

#[cfg(test)]
mod tests;

//! What a clean leaves: chalk dissolves wherever bath touches it, in every pass, pause and soak, at the temperature of that
//! phase. A clean is a schedule of phases on one circuit; what it leaves is a distribution.
//!
//! Fitted to what cleans in practice achieve within what physics allows. Left out: rinse passes, citrate sludge, flakes, and
//! that sulfamic acid decays when hot.

mod advice;
mod bathing;
mod heats;
mod passes;
mod schedule;
mod step;

pub use advice::{Advice, BathQuestion, SURE, Typed, USUAL};
pub use bathing::{Bathing, Film, Left, SOURCE, SPEED_SIGMA};
pub use heats::{Heats, LAST_WAIT_MIN, PRESS_MIN, WAIT_MIN};
pub use passes::{Bath, Bathed, How, Pass, Path};
pub use schedule::{BathCourse, SoakAfter};
pub use step::{BathState, HowWarm, Inflow, Phase, ROOM_C, covered_at, left_at};

#[cfg(test)]
mod tests;

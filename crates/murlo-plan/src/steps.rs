//! The steps of a clean in the order of the work, each made of instructions and worded for one brewer.
//!
//! The machine's own minutes come from the brewer.

mod after;
mod bath;
mod before;
mod draft;
mod once;
mod order;
mod rehearsal;
mod shared;
pub(crate) mod small;
mod ways;

pub(super) use before::holder_bath;
pub use draft::{AFTER, MIX, RINSE, SOAK, VERIFY};
pub(crate) use draft::{Scheme, in_after};
pub(crate) use order::{clear_needles, mark_plug, needles_again, rest, rinse_on, steps};

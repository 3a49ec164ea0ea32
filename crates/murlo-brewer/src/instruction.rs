//! What is done to a brewer, one act at a time, in a form that can be run on the simulated brewer and put into words.

mod act;
mod words;

pub use act::{Instruction, Thing, Washed};
pub use words::Wording;

//! The form a person fills in for a brewer: volumes as texts with units, read into facts, and written back to be edited.

mod sheet;
mod side;
mod template;

pub use sheet::BrewerDraft;
pub use side::{NeedleDraft, SideDraft};

#[cfg(test)]
mod tests;

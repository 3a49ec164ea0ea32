//! The facts of a household in SQLite: facts in, facts out.
//!
//! Holds no rule of the job and computes nothing; the crates below do. Every change is one transaction and is on disk when
//! the call returns (`synchronous=FULL`), so an acknowledged act survives a pulled plug. Deleting is archiving; only erasing takes
//! out for good, of the copies too.

mod backups;
mod cleans;
mod devices;
mod erase;
mod error;
mod fact;
mod facts;
mod file;
mod journal;
mod photos;
mod restore;
mod schema;
mod settings;
mod store;
mod travel;

pub use backups::{Backup, Backups, copy};
pub use devices::KeptDevice;
pub use erase::CopiesErased;
pub use error::{Result, StoreError};
pub use fact::Fact;
pub use file::Lock;
pub use restore::restore;
pub use store::Store;

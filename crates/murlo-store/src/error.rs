//! Why the store could not answer, in words that say what to do.

use murlo_base::problem::{Problem, Problems};
use rusqlite::ErrorCode;
use std::path::{Path, PathBuf};

/// Why the store could not answer.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum StoreError {
    /// No fact with that id.
    #[error("no {kind} with id \"{id}\", or it is put away: bring it back first")]
    NotFound {
        /// What was looked for.
        kind: &'static str,
        /// The id.
        id: String,
    },
    /// The change does not fit what is stored.
    #[error("{0}")]
    Conflict(Problem),
    /// The change itself is wrong.
    #[error("{0}")]
    Wrong(Problems),
    /// The file is not a household of ours, or not one that can be opened here.
    #[error("{file} {why}", file = .path.display())]
    Unfit {
        /// The file.
        path: PathBuf,
        /// What it is instead, and what to do.
        why: &'static str,
    },
    /// Another process has the household.
    #[error(
        "{file} is in use by another Murlo ({holder}): use that one, or stop it first",
        file = .path.display()
    )]
    InUse {
        /// The file.
        path: PathBuf,
        /// What the other one said of itself.
        holder: String,
    },
    /// The file is not the one that was opened any more.
    #[error(
        "the database file {file} was deleted, moved or replaced while Murlo was running, so nothing is written any more: put it back as it was, or stop Murlo and start it again",
        file = .0.display()
    )]
    Gone(PathBuf),
    /// No room.
    #[error("the disk is full: nothing was changed; free some space, then do it again")]
    Full,
    /// No permission to write.
    #[error(
        "the database file or its folder is read-only: nothing was changed; allow writing there, then do it again"
    )]
    ReadOnly,
    /// Damaged.
    #[error(
        "the database file is damaged ({0}): stop Murlo, and put the newest backup back with `murlo restore`"
    )]
    Damaged(String),
    /// Any other trouble of the database.
    #[error("database: {0}")]
    Database(rusqlite::Error),
    /// Schema.
    #[error("migration: {0}")]
    Migration(rusqlite_migration::Error),
    /// A stored document that no longer reads.
    #[error("stored document: {0}")]
    Document(#[from] serde_json::Error),
    /// Files beside the database.
    #[error("file: {0}")]
    File(std::io::Error),
}

impl StoreError {
    pub(crate) fn unfit(path: &Path, why: &'static str) -> Self {
        Self::Unfit {
            path: path.to_owned(),
            why,
        }
    }
}

impl From<rusqlite::Error> for StoreError {
    fn from(error: rusqlite::Error) -> Self {
        match error.sqlite_error_code() {
            Some(ErrorCode::DiskFull) => Self::Full,
            Some(ErrorCode::ReadOnly) => Self::ReadOnly,
            Some(ErrorCode::DatabaseCorrupt | ErrorCode::NotADatabase) => {
                Self::Damaged(error.to_string())
            }
            _ => Self::Database(error),
        }
    }
}

impl From<rusqlite_migration::Error> for StoreError {
    fn from(error: rusqlite_migration::Error) -> Self {
        match error {
            rusqlite_migration::Error::RusqliteError { err, .. } => err.into(),
            other => Self::Migration(other),
        }
    }
}

impl From<std::io::Error> for StoreError {
    fn from(error: std::io::Error) -> Self {
        match error.kind() {
            std::io::ErrorKind::StorageFull => Self::Full,
            std::io::ErrorKind::PermissionDenied | std::io::ErrorKind::ReadOnlyFilesystem => {
                Self::ReadOnly
            }
            _ => Self::File(error),
        }
    }
}

/// What a store call gives.
pub type Result<T> = std::result::Result<T, StoreError>;

#[cfg(test)]
mod tests {
    use super::*;
    use rusqlite::ffi;

    #[test]
    fn trouble_with_the_disk_says_what_it_is_and_what_to_do() {
        for (code, said) in [
            (ffi::SQLITE_FULL, "disk is full"),
            (ffi::SQLITE_READONLY, "read-only"),
            (ffi::SQLITE_READONLY_DBMOVED, "read-only"),
            (ffi::SQLITE_CORRUPT, "murlo restore"),
            (ffi::SQLITE_NOTADB, "damaged"),
            (ffi::SQLITE_BUSY, "database:"),
        ] {
            let error = rusqlite::Error::SqliteFailure(ffi::Error::new(code), None);
            let words = StoreError::from(error).to_string();
            assert!(words.contains(said), "{code}: {words}");
        }
        for (kind, said) in [
            (std::io::ErrorKind::StorageFull, "disk is full"),
            (std::io::ErrorKind::PermissionDenied, "read-only"),
            (std::io::ErrorKind::NotFound, "file:"),
        ] {
            let words = StoreError::from(std::io::Error::from(kind)).to_string();
            assert!(words.contains(said), "{kind}: {words}");
        }
    }
}

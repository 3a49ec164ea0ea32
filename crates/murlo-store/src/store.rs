//! An open household: opened, checked, changed in one transaction at a time.

use crate::backups::Backups;
use crate::error::{Result, StoreError};
use crate::file::{self, Identity, restoring};
use crate::schema::{LATEST, migrations};
use murlo_household::history::Memory;
use rusqlite::{Connection, OpenFlags, Transaction, TransactionBehavior};
use std::cell::{RefCell, RefMut};
use std::path::{Path, PathBuf};

/// An open household.
pub struct Store {
    pub(crate) connection: Connection,
    file: Option<Opened>,
    memory: RefCell<Memory>,
}

/// The files of an open household, by name and by what they were when it was opened.
struct Opened {
    path: PathBuf,
    database: Identity,
    /// Changes that are not in the database yet.
    changes: Option<Identity>,
}

impl Opened {
    /// Another file has this one's name: what is not yet written into the old one must not be read as changes of the new.
    fn set_changes_aside(&self) {
        let [changes, index] = file::companions(&self.path);
        if self.changes.is_some() && Identity::of(&changes).ok() == self.changes {
            let aside = file::beside(&changes, ".of-the-replaced-file");
            if std::fs::rename(changes, aside).is_ok() {
                let _ = std::fs::remove_file(index);
            }
        }
    }
}

impl Drop for Store {
    fn drop(&mut self) {
        // A replaced file is seen to before SQLite closes the old one.
        let _ = self.still_there();
    }
}

impl Store {
    /// What was worked out from these facts and still holds.
    pub fn memory(&self) -> RefMut<'_, Memory> {
        self.memory.borrow_mut()
    }

    /// Opens the household at `path`, making it if need be; an older schema is backed up, then brought up to date.
    ///
    /// # Errors
    /// `Unfit` when the file is not a household of ours, was made by a newer version, or when putting a backup back was cut
    /// off; nothing is written then.
    pub fn open(path: &Path) -> Result<Self> {
        if !path.exists() && !restoring(path).exists() {
            Self::begin(path)?;
        }
        Self::existing(path)
    }

    /// The same, but makes no household by a slip of the name.
    ///
    /// # Errors
    /// As [`Store::open`]; `Unfit` when there is none.
    pub fn existing(path: &Path) -> Result<Self> {
        if restoring(path).exists() {
            return Err(StoreError::unfit(
                path,
                "was being put back from a backup when that was cut off: run `murlo restore` once more",
            ));
        }
        let version = Self::recognised(path)?;
        if version < LATEST {
            Backups::of(path).before_migration(version)?;
        }
        Self::open_copy(path)
    }

    /// A new household appears under its name only once its tables stand, so that no cut-off start leaves half of one.
    fn begin(path: &Path) -> Result<()> {
        if file::companions(path)[0].exists() {
            return Err(StoreError::unfit(
                path,
                "is gone, but what SQLite kept beside it (-wal) is still there: put the database file back, or run `murlo restore`",
            ));
        }
        let part = file::beside(path, ".new");
        let _ = std::fs::remove_file(&part);
        drop(file::create(&part)?);
        let mut store = Self {
            memory: RefCell::default(),
            connection: Connection::open(&part)?,
            file: None,
        };
        store.prepare()?;
        drop(store);
        std::fs::rename(&part, path)?;
        file::settle_folder(path);
        Ok(())
    }

    /// The schema of a file that is ours.
    fn recognised(path: &Path) -> Result<i64> {
        file::recognise(path, LATEST)?;
        let connection = file::look_into(path)?;
        Ok(connection.query_row("PRAGMA user_version", [], |row| row.get(0))?)
    }

    /// The same for a copy that stands for itself: nothing is backed up.
    pub(crate) fn open_copy(path: &Path) -> Result<Self> {
        let connection = Connection::open_with_flags(
            path,
            OpenFlags::SQLITE_OPEN_READ_WRITE | OpenFlags::SQLITE_OPEN_NO_MUTEX,
        )?;
        if connection.is_readonly(rusqlite::MAIN_DB)? {
            return Err(StoreError::ReadOnly);
        }
        let mut store = Self {
            memory: RefCell::default(),
            connection,
            file: None,
        };
        store.prepare()?;
        store.file = Some(Opened {
            path: path.to_owned(),
            database: Identity::of(path)?,
            changes: Identity::of(&file::companions(path)[0]).ok(),
        });
        Ok(store)
    }

    /// A household that lives as long as the value.
    ///
    /// # Errors
    /// When SQLite cannot be set up.
    pub fn in_memory() -> Result<Self> {
        let mut store = Self {
            memory: RefCell::default(),
            connection: Connection::open_in_memory()?,
            file: None,
        };
        store.prepare()?;
        Ok(store)
    }

    fn prepare(&mut self) -> Result<()> {
        self.connection.execute_batch(
            "PRAGMA busy_timeout = 5000; PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON;",
        )?;
        migrations().to_latest(&mut self.connection)?;
        let id: i32 = self
            .connection
            .query_row("PRAGMA application_id", [], |row| row.get(0))?;
        if id != file::APPLICATION_ID {
            self.connection
                .pragma_update(None, "application_id", file::APPLICATION_ID)?;
        }
        Ok(())
    }

    /// Where it is; nothing for one in memory.
    #[must_use]
    pub fn path(&self) -> Option<&Path> {
        self.file.as_ref().map(|opened| opened.path.as_path())
    }

    /// Whether the file is sound.
    ///
    /// # Errors
    /// When it cannot be read at all.
    pub fn check(&self) -> Result<String> {
        Ok(self
            .connection
            .query_row("PRAGMA integrity_check", [], |row| row.get(0))?)
    }

    /// Whether everything in it can be read and still fits.
    ///
    /// # Errors
    /// Whatever does not.
    pub fn reads(&self) -> Result<()> {
        self.export()?.check().map_err(StoreError::Wrong)
    }

    /// Does all of `work` or none of it. What it read before it wrote still holds, and the file it wrote to is still the
    /// household's when this returns.
    pub(crate) fn change<T>(&self, work: impl FnOnce(&Connection) -> Result<T>) -> Result<T> {
        self.still_there()?;
        let change = Transaction::new_unchecked(&self.connection, TransactionBehavior::Immediate)?;
        let done = work(&change)?;
        change.commit()?;
        self.still_there()?;
        Ok(done)
    }

    /// An open file that lost its name goes on taking what is written, and all of it is lost when it is closed.
    fn still_there(&self) -> Result<()> {
        let Some(opened) = &self.file else {
            return Ok(());
        };
        let now = Identity::of(&opened.path).ok();
        if now.as_ref() == Some(&opened.database) {
            return Ok(());
        }
        if now.is_some() {
            opened.set_changes_aside();
        }
        Err(StoreError::Gone(opened.path.clone()))
    }
}

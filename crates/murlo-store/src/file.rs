//! The database file: whose it is, who has it, and whether it is still the one that was opened.

use crate::{Result, StoreError};
use rusqlite::{Connection, OpenFlags};
use std::ffi::OsString;
use std::fs::{self, File, Metadata, OpenOptions, TryLockError};
use std::io::{Read, Seek, SeekFrom, Write};
use std::path::{Path, PathBuf};

/// Stands in the header of every household, so that no other program's file is taken for one.
pub(crate) const APPLICATION_ID: i32 = 0x4d72_6c6f;

/// Tables that each version had; a file without an application id is known by them.
const FIRST_TABLES: [&str; 8] = [
    "settings",
    "homes",
    "waters",
    "agents",
    "brewers",
    "past_cleans",
    "cleans",
    "clean_events",
];

/// A name beside `path`: its whole name and `ending`.
pub(crate) fn beside(path: &Path, ending: &str) -> PathBuf {
    let mut name = OsString::from(path.as_os_str());
    name.push(ending);
    name.into()
}

/// What SQLite keeps beside a database that is open, or was not closed.
pub(crate) fn companions(path: &Path) -> [PathBuf; 2] {
    [beside(path, "-wal"), beside(path, "-shm")]
}

/// A new empty file that only its owner may read.
pub(crate) fn create(path: &Path) -> Result<File> {
    let mut options = OpenOptions::new();
    options.write(true).create_new(true);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
    Ok(options.open(path)?)
}

/// Makes names in the folder of `path` last, as far as the system can.
pub(crate) fn settle_folder(path: &Path) {
    let folder = path.parent().filter(|p| !p.as_os_str().is_empty());
    if let Ok(folder) = File::open(folder.unwrap_or(Path::new("."))) {
        // Some file systems refuse this; the rename itself has then happened all the same.
        let _ = folder.sync_all();
    }
}

/// Refuses a name that is not the file's only one: two programs would take one household for two.
///
/// # Errors
/// `Unfit` for a symbolic link, and for a file that has several names.
pub(crate) fn only_name(path: &Path) -> Result<()> {
    let Ok(metadata) = fs::symlink_metadata(path) else {
        return Ok(());
    };
    if metadata.is_symlink() {
        let why = "is a link to another file: give the name of that file itself";
        return Err(StoreError::unfit(path, why));
    }
    #[cfg(unix)]
    if std::os::unix::fs::MetadataExt::nlink(&metadata) > 1 {
        let why = "has another name besides (a hard link): remove one of the two first";
        return Err(StoreError::unfit(path, why));
    }
    Ok(())
}

/// Refuses a file that is no household of ours, before anything is written to it. `latest` is the newest schema known.
///
/// # Errors
/// `Unfit` with what it is instead.
pub(crate) fn recognise(path: &Path, latest: i64) -> Result<()> {
    only_name(path)?;
    let unfit = |why| Err(StoreError::unfit(path, why));
    if !path.exists() {
        return unfit("does not exist: give another file with --database");
    }
    let mut start = [0_u8; 16];
    let mut file = File::open(path)?;
    let length = file.metadata()?.len();
    if length == 0 {
        return unfit(
            "is empty (0 bytes), which no household is: put a backup back with `murlo restore`, or move it away to begin anew",
        );
    }
    if file.read(&mut start)? < 16 || &start != b"SQLite format 3\0" {
        return unfit("is not a Murlo database: give another file with --database");
    }
    drop(file);
    let connection = look_into(path)?;
    let pragma = |name: &str| -> Result<i64> {
        Ok(connection.query_row(&format!("PRAGMA {name}"), [], |row| row.get(0))?)
    };
    let id = pragma("application_id")?;
    let known = FIRST_TABLES.iter().try_fold(true, |known, table| {
        let sql = "SELECT COUNT(*) FROM sqlite_master WHERE type = 'table' AND name = ?1";
        let count: i64 = connection.query_row(sql, [table], |row| row.get(0))?;
        Ok::<_, StoreError>(known && count == 1)
    })?;
    if !known || ![0, i64::from(APPLICATION_ID)].contains(&id) {
        return unfit(
            "is a database of another program: nothing was written to it; give another file with --database",
        );
    }
    if pragma("user_version")? > latest {
        return unfit("was made by a newer Murlo: update this one, nothing was changed");
    }
    Ok(())
}

/// Opens a database to look into it: nothing is written, and nothing is left beside it.
pub(crate) fn look_into(path: &Path) -> Result<Connection> {
    let read_only = OpenFlags::SQLITE_OPEN_READ_ONLY;
    if companions(path)[0].exists() {
        // It is in use, or was not closed: what stands beside it belongs to it.
        return Ok(Connection::open_with_flags(path, read_only)?);
    }
    as_it_lies(path)
}

/// Opens a file that nobody changes meanwhile, such as a backup on a medium that cannot be written.
pub(crate) fn as_it_lies(path: &Path) -> Result<Connection> {
    let name: String = std::path::absolute(path)?
        .to_string_lossy()
        .chars()
        .map(|c| match c {
            '%' => "%25".to_owned(),
            '?' => "%3f".to_owned(),
            '#' => "%23".to_owned(),
            other => other.to_string(),
        })
        .collect();
    let flags = OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_URI;
    Ok(Connection::open_with_flags(
        format!("file:{name}?immutable=1"),
        flags,
    )?)
}

/// Which file a name stood for when it was opened.
#[derive(Debug, PartialEq, Eq)]
pub(crate) struct Identity(u64, u64);

impl Identity {
    pub(crate) fn of(path: &Path) -> Result<Self> {
        Ok(Self::read(&std::fs::metadata(path)?))
    }

    #[cfg(unix)]
    fn read(metadata: &Metadata) -> Self {
        use std::os::unix::fs::MetadataExt;
        Self(metadata.dev(), metadata.ino())
    }

    /// Elsewhere an open file cannot be deleted or replaced.
    #[cfg(not(unix))]
    fn read(_: &Metadata) -> Self {
        Self(0, 0)
    }
}

/// The right to write a household, held by one process at a time; the system takes it back when the process ends, however.
#[derive(Debug)]
pub struct Lock {
    file: File,
    path: PathBuf,
}

impl Lock {
    /// Takes the household at `path`; `holder` tells others who has it.
    ///
    /// # Errors
    /// `InUse` with what the other one said of itself.
    pub fn take(path: &Path, holder: &str) -> Result<Self> {
        only_name(path)?;
        let mut options = OpenOptions::new();
        options.read(true).write(true).create(true).truncate(false);
        #[cfg(unix)]
        std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
        let mut file = options.open(beside(path, ".lock"))?;
        match file.try_lock() {
            Ok(()) => {}
            Err(TryLockError::WouldBlock) => {
                let mut holder = String::new();
                file.read_to_string(&mut holder)?;
                return Err(StoreError::InUse {
                    path: path.to_owned(),
                    holder: holder.trim().to_owned(),
                });
            }
            Err(TryLockError::Error(error)) => return Err(error.into()),
        }
        let mut lock = Self {
            file,
            path: path.to_owned(),
        };
        lock.tell(holder)?;
        Ok(lock)
    }

    /// Tells others who has it, once more is known.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn tell(&mut self, holder: &str) -> Result<()> {
        let text = format!("process {}, {holder}\n", std::process::id());
        self.file.set_len(0)?;
        self.file.seek(SeekFrom::Start(0))?;
        Ok(self.file.write_all(text.as_bytes())?)
    }

    /// The household it is about.
    #[must_use]
    pub fn path(&self) -> &Path {
        &self.path
    }
}

/// Marks a household whose old file is being set aside, and says under which number.
pub(crate) fn restoring(database: &Path) -> PathBuf {
    beside(database, ".restoring")
}

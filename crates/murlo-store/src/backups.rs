//! Copies of the database: made while it is in use, kept by age, and put back.

use crate::file::{self, beside, settle_folder};
use crate::schema::LATEST;
use crate::{Result, StoreError};
use jiff::civil::Date;
use murlo_household::backups::kept;
use rusqlite::{Connection, OpenFlags};
use std::fs;
use std::path::{Path, PathBuf};
use std::time::Duration;

/// Pages copied at a time; between them others may write.
const PAGES: i32 = 256;

/// Why a copy was made; each kind is kept by its own age.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum BackupOccasion {
    Daily,
    Import,
}

impl BackupOccasion {
    const ALL: [Self; 2] = [Self::Daily, Self::Import];

    const fn name(self) -> &'static str {
        match self {
            Self::Daily => "daily",
            Self::Import => "before-import",
        }
    }
}

/// A copy that was made by itself.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Backup {
    /// The file.
    pub path: PathBuf,
    /// The day it was made.
    pub day: Date,
}

/// The copies beside a household.
#[derive(Debug, Clone)]
pub struct Backups {
    database: PathBuf,
    folder: PathBuf,
}

impl Backups {
    /// Those of the household at `database`.
    #[must_use]
    pub fn of(database: &Path) -> Self {
        Self {
            database: database.to_owned(),
            folder: beside(database, ".backups"),
        }
    }

    /// Where they are.
    #[must_use]
    pub fn folder(&self) -> &Path {
        &self.folder
    }

    /// Today's copy, unless there is one; then those too old are let go.
    ///
    /// # Errors
    /// When it cannot be written; nothing half-written is left then.
    pub fn daily(&self, today: Date) -> Result<()> {
        let made = self.of_occasion(BackupOccasion::Daily)?;
        if made.iter().all(|b| b.day != today) {
            self.make(BackupOccasion::Daily, today)?;
        }
        Ok(())
    }

    /// Every copy, the newest first.
    ///
    /// # Errors
    /// When the folder cannot be read.
    pub fn all(&self) -> Result<Vec<Backup>> {
        let mut all = Vec::new();
        for occasion in BackupOccasion::ALL {
            all.extend(self.of_occasion(occasion)?);
        }
        all.sort_by(|a, b| (b.day, &b.path).cmp(&(a.day, &a.path)));
        Ok(all)
    }

    /// Every file that holds a copy: those made by themselves, those before the schema changed, and households that were set aside.
    ///
    /// # Errors
    /// When a folder cannot be read.
    pub(crate) fn files(&self) -> Result<Vec<PathBuf>> {
        let mut all = Vec::new();
        match fs::read_dir(&self.folder) {
            Ok(entries) => {
                for entry in entries {
                    let path = entry?.path();
                    all.extend((path.extension() == Some("db".as_ref())).then_some(path));
                }
            }
            Err(error) if error.kind() == std::io::ErrorKind::NotFound => {}
            Err(error) => return Err(error.into()),
        }
        let aside = (1..).map(|n| beside(&self.database, &format!(".set-aside-{n}")));
        all.extend(aside.take_while(|path| path.exists()));
        all.sort();
        Ok(all)
    }

    fn make_folder(&self) -> Result<()> {
        let mut builder = fs::DirBuilder::new();
        #[cfg(unix)]
        std::os::unix::fs::DirBuilderExt::mode(&mut builder, 0o700);
        Ok(builder.recursive(true).create(&self.folder)?)
    }

    /// The copy before the schema changes: one for each version, so it needs no day and no pruning.
    pub(crate) fn before_migration(&self, from: i64) -> Result<()> {
        self.make_folder()?;
        let name = format!("before-migration-from-{from}.db");
        copy(&self.database, &self.folder.join(name))
    }

    pub(crate) fn make(&self, occasion: BackupOccasion, today: Date) -> Result<()> {
        self.make_folder()?;
        let name = |n: u32| match n {
            1 => format!("{}-{today}.db", occasion.name()),
            _ => format!("{}-{today}-{n}.db", occasion.name()),
        };
        let target = (1..)
            .map(|n| self.folder.join(name(n)))
            .find(|path| !path.exists())
            .expect("some number is free");
        copy(&self.database, &target)?;
        self.prune(occasion, today)
    }

    fn prune(&self, occasion: BackupOccasion, today: Date) -> Result<()> {
        let made = self.of_occasion(occasion)?;
        let days: Vec<_> = made.iter().map(|b| b.day).collect();
        for (backup, keep) in made.iter().zip(kept(&days, today)) {
            if !keep {
                fs::remove_file(&backup.path)?;
            }
        }
        Ok(())
    }

    fn of_occasion(&self, occasion: BackupOccasion) -> Result<Vec<Backup>> {
        let entries = match fs::read_dir(&self.folder) {
            Ok(entries) => entries,
            Err(error) if error.kind() == std::io::ErrorKind::NotFound => return Ok(Vec::new()),
            Err(error) => return Err(error.into()),
        };
        let mut all = Vec::new();
        for entry in entries {
            let path = entry?.path();
            let name = path.file_name().and_then(|n| n.to_str()).unwrap_or("");
            let day = name
                .strip_prefix(occasion.name())
                .and_then(|rest| rest.strip_prefix('-'))
                .filter(|_| name.ends_with(".db"))
                .and_then(|rest| rest.get(..10))
                .and_then(|day| day.parse().ok());
            all.extend(day.map(|day| Backup { path, day }));
        }
        all.sort_by(|a, b| a.path.cmp(&b.path));
        Ok(all)
    }
}

/// Copies a household that may be in use. It appears under its name only when all of it is on disk and sound.
///
/// # Errors
/// When `source` is no household, or the copy cannot be written; nothing half-written is left then.
pub fn copy(source: &Path, target: &Path) -> Result<()> {
    file::recognise(source, LATEST)?;
    let part = beside(target, ".part");
    let made = copy_to(source, &part);
    if made.is_err() {
        let _ = fs::remove_file(&part);
    }
    made?;
    fs::rename(&part, target)?;
    settle_folder(target);
    Ok(())
}

pub(crate) fn copy_to(source: &Path, part: &Path) -> Result<()> {
    let _ = fs::remove_file(part);
    drop(file::create(part)?);
    {
        let from = open_to_read(source)?;
        let mut to = Connection::open(part)?;
        {
            let backup = rusqlite::backup::Backup::new(&from, &mut to)?;
            backup.run_to_completion(PAGES, Duration::ZERO, None)?;
        }
        // A copy stands alone: whoever opens it needs no second file beside it.
        to.pragma_update(None, "journal_mode", "DELETE")?;
        sound(&to)?;
    }
    Ok(fs::File::open(part)?.sync_all()?)
}

/// Opened so that whoever writes meanwhile is waited for; what cannot be written is read as it lies.
fn open_to_read(path: &Path) -> Result<Connection> {
    let flags = OpenFlags::SQLITE_OPEN_READ_WRITE | OpenFlags::SQLITE_OPEN_NO_MUTEX;
    let connection = Connection::open_with_flags(path, flags)?;
    if connection.is_readonly(rusqlite::MAIN_DB)? {
        return file::as_it_lies(path);
    }
    connection.busy_timeout(Duration::from_secs(5))?;
    Ok(connection)
}

pub(crate) fn sound(connection: &Connection) -> Result<()> {
    let said: String = connection.query_row("PRAGMA integrity_check", [], |row| row.get(0))?;
    match said.as_str() {
        "ok" => Ok(()),
        _ => Err(StoreError::Damaged(said)),
    }
}

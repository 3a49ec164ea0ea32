//! The facts of a household in SQLite: facts in, facts out.
//!
//! Holds no rule of the job and computes nothing; the crates below do. Every change is one transaction and is on disk when
//! the call returns (`synchronous=FULL`), so an acknowledged act survives a pulled plug. Deleting is archiving.

mod backups;
mod cleans;
mod error;
mod file;
mod journal;
mod photos;
mod travel;

pub use backups::{Backup, Backups, copy, restore};
pub use error::StoreError;
pub use file::Lock;

use file::Identity;
use jiff::tz::TimeZone;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_brewer::Brewer;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::water::Water;
use murlo_household::first::Settled;
use murlo_household::history::Memory;
use murlo_household::rounds::Visit;
use murlo_household::stock::{Movement, Supply};
use murlo_household::{Kept, PastClean, Settings};
use rusqlite::{
    Connection, OpenFlags, OptionalExtension, Transaction, TransactionBehavior, params,
};
use rusqlite_migration::{M, Migrations};
use serde::Serialize;
use serde::de::DeserializeOwned;
use std::cell::{RefCell, RefMut};
use std::path::{Path, PathBuf};

/// What a store call gives.
pub type Result<T> = std::result::Result<T, StoreError>;

/// A fact that has a table of its own.
pub trait Fact: Serialize + DeserializeOwned {
    /// Its table; a constant of this crate, never input.
    const TABLE: &'static str;
    /// What people call it.
    const KIND: &'static str;
    /// Its identity.
    fn id(&self) -> &str;
}

macro_rules! facts {
    ($($type:ty, $table:literal, $kind:literal;)*) => {$(
        impl Fact for $type {
            const TABLE: &'static str = $table;
            const KIND: &'static str = $kind;
            fn id(&self) -> &str { &self.id }
        }
    )*};
}
facts! {
    Home, "homes", "home";
    Water, "waters", "water";
    Agent, "agents", "agent";
    Brewer, "brewers", "brewer";
    PastClean, "past_cleans", "past clean";
    Supply, "supplies", "thing";
    Movement, "movements", "movement";
    Visit, "visits", "visit";
}

/// An open household.
pub struct Store {
    connection: Connection,
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

/// The newest schema.
const LATEST: i64 = 6;

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

fn migrations() -> Migrations<'static> {
    Migrations::new(vec![
        M::up(include_str!("../migrations/0001_facts.sql")),
        M::up(include_str!("../migrations/0002_journal.sql")),
        M::up(include_str!("../migrations/0003_photos.sql")),
        M::up(include_str!("../migrations/0004_cupboard.sql")),
        M::up(include_str!("../migrations/0005_rounds.sql")),
        M::up(include_str!("../migrations/0006_photos.sql")),
    ])
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
        if !path.exists() && !backups::restoring(path).exists() {
            Self::begin(path)?;
        }
        Self::existing(path)
    }

    /// The same, but makes no household by a slip of the name.
    ///
    /// # Errors
    /// As [`Store::open`]; `Unfit` when there is none.
    pub fn existing(path: &Path) -> Result<Self> {
        if backups::restoring(path).exists() {
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

    /// The household's settings.
    ///
    /// # Errors
    /// When the database fails.
    pub fn settings(&self) -> Result<Settings> {
        let body: Option<String> = self
            .connection
            .query_row("SELECT body FROM settings", [], |row| row.get(0))
            .optional()?;
        body.map_or_else(
            || Ok(Settings::default()),
            |b| Ok(serde_json::from_str(&b)?),
        )
    }

    /// Replaces the settings.
    ///
    /// # Errors
    /// `Wrong` for a time zone that is not known here.
    pub fn put_settings(&self, settings: &Settings) -> Result<()> {
        known_zone(settings)?;
        self.change(|change| put_settings(change, settings))
    }

    /// Gives a new household what every one starts with, all or nothing; one that was begun already is left as it is.
    ///
    /// # Errors
    /// When the database fails.
    pub fn start_with(&self, agents: &[Agent], home: &Home, settings: &Settings) -> Result<()> {
        self.change(|change| {
            let sql = "SELECT EXISTS (SELECT 1 FROM agents) OR EXISTS (SELECT 1 FROM homes)";
            let is_begun: bool = change.query_row(sql, [], |row| row.get(0))?;
            if is_begun {
                return Ok(());
            }
            agents
                .iter()
                .try_for_each(|agent| put(change, agent, None))?;
            put(change, home, None)?;
            put_settings(change, settings)
        })
    }

    /// Keeps what the answers of the first minute came to, all or nothing; sending it again is harmless.
    ///
    /// # Errors
    /// `Conflict` when another water has the id of the new one.
    pub fn add_first(&self, settled: &Settled) -> Result<()> {
        self.change(|change| {
            if is_there::<Brewer>(change, &settled.brewer.id)? {
                return Ok(());
            }
            if let Some(water) = &settled.water {
                if is_there::<Water>(change, &water.id)? {
                    let message = "another water has this id: make a new one";
                    let problem = Problem::new(Code::Contradiction, "water_id", message);
                    return Err(StoreError::Conflict(problem));
                }
                put(change, water, None)?;
            }
            settled
                .agents
                .iter()
                .try_for_each(|agent| put(change, agent, None))?;
            put(change, &settled.brewer, None)?;
            let mut entries = settled.entries.iter();
            entries.try_for_each(|entry| journal::put(change, entry, false))
        })
    }

    /// Every fact of a kind, archived ones included, in order of id.
    ///
    /// # Errors
    /// When the database fails.
    pub fn all<F: Fact>(&self) -> Result<Vec<Kept<F>>> {
        let mut rows = self.connection.prepare_cached(&format!(
            "SELECT archived, body FROM {} ORDER BY id",
            F::TABLE
        ))?;
        let mut rows = rows.query([])?;
        let mut all = Vec::new();
        while let Some(row) = rows.next()? {
            // Read where it lies: a household has thousands of these, and the Counter reads them all.
            let body = row.get_ref(1)?.as_str().map_err(rusqlite::Error::from)?;
            all.push(Kept {
                archived: row.get(0)?,
                fact: serde_json::from_str(body)?,
            });
        }
        Ok(all)
    }

    /// Every fact of a kind that is in use.
    ///
    /// # Errors
    /// When the database fails.
    pub fn current<F: Fact>(&self) -> Result<Vec<F>> {
        Ok(self
            .all::<F>()?
            .into_iter()
            .filter(|k| !k.archived)
            .map(|k| k.fact)
            .collect())
    }

    /// One fact that is in use.
    ///
    /// # Errors
    /// `NotFound`, also when archived.
    pub fn get<F: Fact>(&self, id: &str) -> Result<F> {
        get(&self.connection, id)
    }

    /// Adds a fact; adding the same one again is harmless.
    ///
    /// # Errors
    /// `Conflict` when another fact has its id.
    pub fn add<F: Fact + PartialEq>(&self, fact: &F) -> Result<()> {
        self.change(|change| {
            let sql = format!("SELECT body FROM {} WHERE id = ?1", F::TABLE);
            let known: Option<String> = change
                .query_row(&sql, [fact.id()], |row| row.get(0))
                .optional()?;
            match known
                .map(|body| serde_json::from_str::<F>(&body))
                .transpose()?
            {
                None => put(change, fact, None),
                Some(known) if known == *fact => Ok(()),
                Some(_) => Err(StoreError::Conflict(Problem::new(
                    Code::Contradiction,
                    "id",
                    format!("another {} has this id: make a new one", F::KIND),
                ))),
            }
        })
    }

    /// Adds or replaces a fact; an archived one stays archived.
    ///
    /// # Errors
    /// When the database fails.
    pub fn put<F: Fact>(&self, fact: &F) -> Result<()> {
        self.change(|change| put(change, fact, None))
    }

    /// Puts a fact away, or back.
    ///
    /// # Errors
    /// `NotFound`.
    pub fn archive<F: Fact>(&self, id: &str, archived: bool) -> Result<()> {
        let sql = format!("UPDATE {} SET archived = ?2 WHERE id = ?1", F::TABLE);
        self.change(
            |change| match change.execute(&sql, params![id, archived])? {
                0 => Err(StoreError::NotFound {
                    kind: F::KIND,
                    id: id.to_owned(),
                }),
                _ => Ok(()),
            },
        )
    }

    /// Changes a fact by what it is now: nothing comes between reading and writing it.
    ///
    /// # Errors
    /// `NotFound`; whatever `work` refuses.
    pub fn alter<F: Fact>(
        &self,
        id: &str,
        work: impl FnOnce(F) -> std::result::Result<F, Problems>,
    ) -> Result<F> {
        self.change(|change| {
            let altered = work(get(change, id)?).map_err(|problems| match problems.0.first() {
                Some(problem) if problem.code == Code::DoesNotFit => {
                    StoreError::Conflict(problem.clone())
                }
                _ => StoreError::Wrong(problems),
            })?;
            put(change, &altered, None)?;
            Ok(altered)
        })
    }

    /// The last part of the address at which a calendar may read, if there is one.
    ///
    /// # Errors
    /// When the database fails.
    pub fn feed(&self) -> Result<Option<String>> {
        Ok(self
            .connection
            .query_row("SELECT token FROM feed", [], |row| row.get(0))
            .optional()?)
    }

    /// Gives that address another last part, or none: the one before leads nowhere any more.
    ///
    /// # Errors
    /// When the database fails.
    pub fn set_feed(&self, token: Option<&str>) -> Result<()> {
        self.change(|change| {
            change.execute("DELETE FROM feed", [])?;
            if let Some(token) = token {
                change.execute("INSERT INTO feed (only_row, token) VALUES (1, ?1)", [token])?;
            }
            Ok(())
        })
    }

    /// The hash of the passcode, if one was set.
    ///
    /// # Errors
    /// When the database fails.
    pub fn passcode(&self) -> Result<Option<String>> {
        Ok(self
            .connection
            .query_row("SELECT phc FROM passcode", [], |row| row.get(0))
            .optional()?)
    }

    /// Sets the passcode's hash and signs every device out.
    ///
    /// # Errors
    /// When the database fails.
    pub fn set_passcode(&self, phc: &str) -> Result<()> {
        self.change(|change| {
            change.execute(
                "INSERT OR REPLACE INTO passcode (only_row, phc) VALUES (1, ?1)",
                [phc],
            )?;
            change.execute("DELETE FROM sessions", [])?;
            Ok(())
        })
    }

    /// Remembers a signed-in device.
    ///
    /// # Errors
    /// When the database fails.
    pub fn add_session(&self, token_hash: &str, created_at: i64) -> Result<()> {
        self.change(|change| {
            change.execute(
                "INSERT INTO sessions (token_hash, created_at) VALUES (?1, ?2)",
                params![token_hash, created_at],
            )?;
            Ok(())
        })
    }

    /// Whether a device is signed in since `not_before`.
    ///
    /// # Errors
    /// When the database fails.
    pub fn has_session(&self, token_hash: &str, not_before: i64) -> Result<bool> {
        let sql = "SELECT COUNT(*) FROM sessions WHERE token_hash = ?1 AND created_at >= ?2";
        Ok(self
            .connection
            .query_row(sql, params![token_hash, not_before], |row| {
                row.get::<_, i64>(0)
            })?
            > 0)
    }

    /// Does all of `work` or none of it. What it read before it wrote still holds, and the file it wrote to is still the
    /// household's when this returns.
    fn change<T>(&self, work: impl FnOnce(&Connection) -> Result<T>) -> Result<T> {
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

/// Days are counted in this zone, so one that is not known here is refused before it is kept.
fn known_zone(settings: &Settings) -> Result<()> {
    match TimeZone::get(&settings.time_zone) {
        Ok(_) => Ok(()),
        Err(_) => Err(StoreError::Wrong(
            Problem::new(
                Code::NotAChoice,
                "time_zone",
                "no such time zone: give an IANA name such as Europe/Lisbon or UTC",
            )
            .into(),
        )),
    }
}

fn get<F: Fact>(connection: &Connection, id: &str) -> Result<F> {
    let sql = format!(
        "SELECT body FROM {} WHERE id = ?1 AND archived = 0",
        F::TABLE
    );
    let body: Option<String> = connection
        .query_row(&sql, [id], |row| row.get(0))
        .optional()?;
    let body = body.ok_or_else(|| StoreError::NotFound {
        kind: F::KIND,
        id: id.to_owned(),
    })?;
    Ok(serde_json::from_str(&body)?)
}

fn is_there<F: Fact>(connection: &Connection, id: &str) -> Result<bool> {
    let sql = format!("SELECT EXISTS (SELECT 1 FROM {} WHERE id = ?1)", F::TABLE);
    Ok(connection.query_row(&sql, [id], |row| row.get(0))?)
}

fn put_settings(connection: &Connection, settings: &Settings) -> Result<()> {
    let body = serde_json::to_string(settings)?;
    connection.execute(
        "INSERT OR REPLACE INTO settings (only_row, body) VALUES (1, ?1)",
        [body],
    )?;
    Ok(())
}

fn put<F: Fact>(connection: &Connection, fact: &F, archived: Option<bool>) -> Result<()> {
    let sql = format!(
        "INSERT INTO {} (id, archived, body) VALUES (?1, COALESCE(?2, 0), ?3)
         ON CONFLICT (id) DO UPDATE SET body = excluded.body, archived = COALESCE(?2, archived)",
        F::TABLE
    );
    connection.execute(
        &sql,
        params![fact.id(), archived, serde_json::to_string(fact)?],
    )?;
    Ok(())
}

//! The facts of a household in SQLite: facts in, facts out.
//!
//! Holds no rule of the job and computes nothing; `murlo-core` does. Every change is one transaction and is on disk when
//! the call returns (`synchronous=FULL`), so an acknowledged act survives a pulled plug. Deleting is archiving.

mod cleans;
mod journal;
mod photos;
mod travel;

pub use cleans::CleanSummary;

use murlo_core::bath::Agent;
use murlo_core::brewer::Brewer;
use murlo_core::household::{Home, Kept, PastClean, Settings};
use murlo_core::problem::{Problem, Problems};
use murlo_core::water::Water;
use rusqlite::{Connection, OptionalExtension, TransactionBehavior, params};
use rusqlite_migration::{M, Migrations};
use serde::Serialize;
use serde::de::DeserializeOwned;
use std::path::{Path, PathBuf};

/// Why the store could not answer.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum StoreError {
    /// No fact with that id.
    #[error("no {kind} with id \"{id}\"")]
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
    /// Database or disk.
    #[error("database: {0}")]
    Database(#[from] rusqlite::Error),
    /// Schema.
    #[error("migration: {0}")]
    Migration(#[from] rusqlite_migration::Error),
    /// A stored document that no longer reads.
    #[error("stored document: {0}")]
    Document(#[from] serde_json::Error),
    /// Backup file.
    #[error("file: {0}")]
    File(#[from] std::io::Error),
}

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
}

/// An open household.
pub struct Store {
    connection: Connection,
    path: Option<PathBuf>,
}

fn migrations() -> Migrations<'static> {
    Migrations::new(vec![
        M::up(include_str!("../migrations/0001_facts.sql")),
        M::up(include_str!("../migrations/0002_journal.sql")),
        M::up(include_str!("../migrations/0003_photos.sql")),
    ])
}

impl Store {
    /// Opens the household at `path`, making it if need be; an older schema is backed up, then brought up to date.
    ///
    /// # Errors
    /// When the file cannot be opened, is not a Murlo database, or was written by a newer version.
    pub fn open(path: &Path) -> Result<Self> {
        let connection = Connection::open(path)?;
        let mut store = Self {
            connection,
            path: Some(path.to_owned()),
        };
        store.prepare()?;
        Ok(store)
    }

    /// A household that lives as long as the value.
    ///
    /// # Errors
    /// When SQLite cannot be set up.
    pub fn in_memory() -> Result<Self> {
        let mut store = Self {
            connection: Connection::open_in_memory()?,
            path: None,
        };
        store.prepare()?;
        Ok(store)
    }

    fn prepare(&mut self) -> Result<()> {
        self.connection.execute_batch(
            "PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON; PRAGMA busy_timeout = 5000;",
        )?;
        let version: i64 = self
            .connection
            .query_row("PRAGMA user_version", [], |row| row.get(0))?;
        if version > 0 && migrations().pending_migrations(&self.connection)? > 0 {
            self.backup_beside("before-migration")?;
        }
        migrations().to_latest(&mut self.connection)?;
        Ok(())
    }

    /// Copies the database to `target` while it is in use.
    ///
    /// # Errors
    /// When the copy cannot be written.
    pub fn backup(&self, target: &Path) -> Result<()> {
        self.connection.backup(rusqlite::MAIN_DB, target, None)?;
        Ok(())
    }

    /// A numbered copy beside the database; nothing for one in memory.
    fn backup_beside(&self, why: &str) -> Result<()> {
        let Some(path) = &self.path else {
            return Ok(());
        };
        let target = (1..)
            .map(|n| path.with_extension(format!("{why}-{n}.db")))
            .find(|p| !p.exists())
            .expect("some number is free");
        self.backup(&target)
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
    /// When the database fails.
    pub fn put_settings(&self, settings: &Settings) -> Result<()> {
        put_settings(&self.connection, settings)
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
        let sql = format!(
            "SELECT body FROM {} WHERE id = ?1 AND archived = 0",
            F::TABLE
        );
        let body: Option<String> = self
            .connection
            .query_row(&sql, [id], |row| row.get(0))
            .optional()?;
        let body = body.ok_or_else(|| StoreError::NotFound {
            kind: F::KIND,
            id: id.to_owned(),
        })?;
        Ok(serde_json::from_str(&body)?)
    }

    /// Adds or replaces a fact; an archived one stays archived.
    ///
    /// # Errors
    /// When the database fails.
    pub fn put<F: Fact>(&self, fact: &F) -> Result<()> {
        put(&self.connection, fact, None)
    }

    /// Puts a fact away, or back.
    ///
    /// # Errors
    /// `NotFound`.
    pub fn archive<F: Fact>(&self, id: &str, archived: bool) -> Result<()> {
        let sql = format!("UPDATE {} SET archived = ?2 WHERE id = ?1", F::TABLE);
        match self.connection.execute(&sql, params![id, archived])? {
            0 => Err(StoreError::NotFound {
                kind: F::KIND,
                id: id.to_owned(),
            }),
            _ => Ok(()),
        }
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
    pub fn set_passcode(&mut self, phc: &str) -> Result<()> {
        let change = self.connection.transaction()?;
        change.execute(
            "INSERT OR REPLACE INTO passcode (only_row, phc) VALUES (1, ?1)",
            [phc],
        )?;
        change.execute("DELETE FROM sessions", [])?;
        Ok(change.commit()?)
    }

    /// Remembers a signed-in device.
    ///
    /// # Errors
    /// When the database fails.
    pub fn add_session(&self, token_hash: &str, created_at: i64) -> Result<()> {
        self.connection.execute(
            "INSERT INTO sessions (token_hash, created_at) VALUES (?1, ?2)",
            params![token_hash, created_at],
        )?;
        Ok(())
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

    fn change(&mut self) -> Result<rusqlite::Transaction<'_>> {
        Ok(self
            .connection
            .transaction_with_behavior(TransactionBehavior::Immediate)?)
    }
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

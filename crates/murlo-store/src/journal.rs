//! The journal of brewers: entries between cleans.

use crate::fact::written;
use crate::{Result, Store, StoreError};
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::journal::Entry;
use rusqlite::{Connection, OptionalExtension, Params, params};

const KIND: &str = "journal entry";

pub(crate) fn put(connection: &Connection, entry: &Entry, archived: bool) -> Result<()> {
    connection
        .prepare_cached(
            "INSERT OR REPLACE INTO journal (id, archived, brewer_id, day, lasting, body)
             VALUES (?1, ?2, ?3, ?4, ?5, ?6)",
        )?
        .execute(params![
            entry.id,
            archived,
            entry.brewer_id,
            entry.day.to_string(),
            entry.what.lasts(),
            written(entry)?
        ])?;
    Ok(())
}

impl Store {
    /// Adds an entry; sending the same one again is harmless and brings it back when it was taken back.
    ///
    /// # Errors
    /// `Conflict` when another entry has its id.
    pub fn add_entry(&mut self, entry: &Entry) -> Result<()> {
        self.add_entries(std::slice::from_ref(entry), Entry::tells_the_same)
    }

    /// Adds entries, all or nothing; those with a known id of the same brewer replace it.
    ///
    /// # Errors
    /// `Conflict` when another brewer's entry has an id.
    pub fn bring_entries(&mut self, entries: &[Entry]) -> Result<()> {
        self.add_entries(entries, |known, new| known.brewer_id == new.brewer_id)
    }

    fn add_entries(
        &mut self,
        entries: &[Entry],
        may_replace: impl Fn(&Entry, &Entry) -> bool,
    ) -> Result<()> {
        for entry in entries {
            self.memory().forget_journal(&entry.brewer_id);
        }
        self.change(|change| {
            for entry in entries {
                let known = one(change, &entry.id)?;
                if known.is_some_and(|known| !may_replace(&known.fact, entry)) {
                    return Err(StoreError::Conflict(Problem::new(
                        Code::Contradiction,
                        "id",
                        "another entry has this id: make a new one",
                    )));
                }
                put(change, entry, false)?;
            }
            Ok(())
        })
    }

    /// Takes an entry back, or brings it back.
    ///
    /// # Errors
    /// `NotFound`, also when it is another brewer's.
    pub fn archive_entry(&self, brewer_id: &str, id: &str, archived: bool) -> Result<()> {
        let sql = "UPDATE journal SET archived = ?3 WHERE id = ?1 AND brewer_id = ?2";
        self.memory().forget_journal(brewer_id);
        self.change(
            |change| match change.execute(sql, params![id, brewer_id, archived])? {
                0 => Err(StoreError::NotFound {
                    kind: KIND,
                    id: id.to_owned(),
                }),
                _ => Ok(()),
            },
        )
    }

    /// Everything known of one brewer, oldest first.
    ///
    /// # Errors
    /// When the database fails.
    pub fn entries_of(&self, brewer_id: &str) -> Result<Vec<Entry>> {
        self.entries(
            "SELECT body FROM journal WHERE brewer_id = ?1 AND archived = 0 ORDER BY day, id",
            [brewer_id],
        )
    }

    /// Of all brewers the entries that last beyond the next clean, oldest first.
    ///
    /// # Errors
    /// When the database fails.
    pub fn lasting_entries(&self) -> Result<Vec<Entry>> {
        let sql = "SELECT body FROM journal WHERE lasting = 1 AND archived = 0 ORDER BY day, id";
        self.entries(sql, [])
    }

    /// What was written down about the brews of one brewer, oldest first.
    ///
    /// # Errors
    /// When the database fails.
    pub fn brews_of(&self, brewer_id: &str) -> Result<Vec<Entry>> {
        let sql = "SELECT body FROM journal WHERE brewer_id = ?1 AND lasting = 0 AND archived = 0 ORDER BY day, id";
        self.entries(sql, [brewer_id])
    }

    fn entries(&self, sql: &str, params: impl Params) -> Result<Vec<Entry>> {
        self.connection
            .prepare_cached(sql)?
            .query_map(params, |row| row.get::<_, String>(0))?
            .map(|body| Ok(serde_json::from_str(&body?)?))
            .collect()
    }

    pub(crate) fn journal(&self) -> Result<Vec<Kept<Entry>>> {
        self.connection
            .prepare("SELECT archived, body FROM journal ORDER BY id")?
            .query_map([], |row| Ok((row.get(0)?, row.get::<_, String>(1)?)))?
            .map(|row| {
                let (archived, body) = row?;
                Ok(Kept {
                    archived,
                    fact: serde_json::from_str(&body)?,
                })
            })
            .collect()
    }
}

fn one(connection: &Connection, id: &str) -> Result<Option<Kept<Entry>>> {
    let row = connection
        .prepare_cached("SELECT archived, body FROM journal WHERE id = ?1")?
        .query_row([id], |row| Ok((row.get(0)?, row.get::<_, String>(1)?)))
        .optional()?;
    row.map(|(archived, body)| {
        Ok(Kept {
            archived,
            fact: serde_json::from_str(&body)?,
        })
    })
    .transpose()
}

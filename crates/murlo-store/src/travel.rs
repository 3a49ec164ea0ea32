//! Export and import of the whole household.

use crate::backups::{BackupOccasion, Backups};
use crate::facts::put;
use crate::settings::{known_zone, put_settings};
use crate::{Result, Store, StoreError, cleans, journal, photos};
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem};
use murlo_household::history::Memory;
use murlo_household::{FORMAT, Household, VERSION, is_as_it_starts};
use rusqlite::Connection;

impl Store {
    /// Everything, in the export format; the same facts always give the same document.
    ///
    /// # Errors
    /// When the database fails.
    pub fn export(&self) -> Result<Household> {
        Ok(Household {
            format: FORMAT.to_owned(),
            version: VERSION,
            settings: self.settings()?,
            homes: self.all()?,
            waters: self.all()?,
            agents: self.all()?,
            brewers: self.all()?,
            past_cleans: self.all()?,
            journal: self.journal()?,
            supplies: self.all()?,
            movements: self.all()?,
            visits: self.all()?,
            ways: self.all()?,
            over_days: self.all()?,
            cleans: self.records()?,
            photos: self.photos()?,
        })
    }

    /// Whether nobody has told this household anything yet.
    ///
    /// # Errors
    /// When the database fails.
    pub fn is_empty(&self) -> Result<bool> {
        let sql = "SELECT EXISTS (SELECT 1 FROM brewers) OR EXISTS (SELECT 1 FROM waters) OR EXISTS (SELECT 1 FROM cleans)
            OR EXISTS (SELECT 1 FROM past_cleans) OR EXISTS (SELECT 1 FROM journal) OR EXISTS (SELECT 1 FROM photos)
            OR EXISTS (SELECT 1 FROM supplies) OR EXISTS (SELECT 1 FROM movements) OR EXISTS (SELECT 1 FROM visits)
            OR EXISTS (SELECT 1 FROM ways)";
        let is_told: bool = self.connection.query_row(sql, [], |row| row.get(0))?;
        Ok(!is_told && is_as_it_starts(&self.settings()?, &self.all()?, &self.all()?))
    }

    /// Checks a whole household and takes it in, all or nothing. With `replace` what was there goes, after a backup beside the file.
    ///
    /// # Errors
    /// `Wrong` with one line per problem; `Conflict` when there are facts already and `replace` was not asked.
    pub fn import(&mut self, household: &Household, replace: bool, today: Date) -> Result<()> {
        household.check().map_err(StoreError::Wrong)?;
        self.take_in(household, replace, today)
    }

    /// The same of one that was just read, and checked with it.
    ///
    /// # Errors
    /// `Wrong` for a zone that nobody knows; `Conflict` as above.
    pub fn take_in(&mut self, household: &Household, replace: bool, today: Date) -> Result<()> {
        *self.memory() = Memory::default();
        known_zone(&household.settings).map_err(|error| match error {
            StoreError::Wrong(problems) => StoreError::Wrong(problems.within("settings")),
            other => other,
        })?;
        if !self.is_empty()? {
            if !replace {
                let message = "this household has facts already: ask to replace them (a backup is made first)";
                return Err(StoreError::Conflict(Problem::new(
                    Code::Contradiction,
                    "replace",
                    message,
                )));
            }
            if let Some(path) = self.path() {
                Backups::of(path).make(BackupOccasion::Import, today)?;
            }
        }
        self.change(|change| put_household(change, household))
    }
}

pub(crate) fn put_household(change: &Connection, household: &Household) -> Result<()> {
    change.execute_batch(
        "DELETE FROM over_days; DELETE FROM ways; DELETE FROM visits; DELETE FROM photos; DELETE FROM clean_events; DELETE FROM cleans; DELETE FROM journal; DELETE FROM past_cleans; DELETE FROM brewers;
         DELETE FROM movements; DELETE FROM supplies; DELETE FROM agents; DELETE FROM waters; DELETE FROM homes; DELETE FROM settings;",
    )?;
    put_settings(change, &household.settings)?;
    for kept in &household.homes {
        put(change, &kept.fact, Some(kept.archived))?;
    }
    for kept in &household.waters {
        put(change, &kept.fact, Some(kept.archived))?;
    }
    for kept in &household.agents {
        put(change, &kept.fact, Some(kept.archived))?;
    }
    for kept in &household.supplies {
        put(change, &kept.fact, Some(kept.archived))?;
    }
    for kept in &household.movements {
        put(change, &kept.fact, Some(kept.archived))?;
    }
    for kept in &household.brewers {
        put(change, &kept.fact, Some(kept.archived))?;
    }
    for kept in &household.past_cleans {
        put(change, &kept.fact, Some(kept.archived))?;
    }
    for kept in &household.journal {
        journal::put(change, &kept.fact, kept.archived)?;
    }
    for kept in &household.visits {
        put(change, &kept.fact, Some(kept.archived))?;
    }
    for kept in &household.ways {
        put(change, &kept.fact, Some(kept.archived))?;
    }
    for kept in &household.over_days {
        put(change, &kept.fact, Some(kept.archived))?;
    }
    for record in &household.cleans {
        cleans::insert(change, &record.id, &record.plan)?;
        for event in &record.events {
            cleans::append(change, &record.id, event)?;
        }
    }
    for photo in &household.photos {
        photos::put(change, photo)?;
    }
    Ok(())
}

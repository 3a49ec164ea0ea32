//! Export and import of the whole household.

use crate::{Result, Store, StoreError, cleans, journal, photos, put, put_settings};
use murlo_core::household::{FORMAT, Household, VERSION};
use murlo_core::problem::{Code, Problem};

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
            cleans: self.records()?,
            photos: self.photos()?,
        })
    }

    /// Whether nobody has told this household anything yet.
    ///
    /// # Errors
    /// When the database fails.
    pub fn is_empty(&self) -> Result<bool> {
        let sql = "SELECT (SELECT COUNT(*) FROM brewers) + (SELECT COUNT(*) FROM cleans)";
        Ok(self
            .connection
            .query_row(sql, [], |row| row.get::<_, i64>(0))?
            == 0)
    }

    /// Takes a whole household in, all or nothing. With `replace` what was there goes, after a backup beside the file.
    ///
    /// # Errors
    /// `Wrong` with one line per problem; `Conflict` when there are facts already and `replace` was not asked.
    pub fn import(&mut self, household: &Household, replace: bool) -> Result<()> {
        household.check().map_err(StoreError::Wrong)?;
        if !self.is_empty()? {
            if !replace {
                let message = "this household has facts already: ask to replace them (a backup is made first)";
                return Err(StoreError::Conflict(Problem::new(
                    Code::Contradiction,
                    "replace",
                    message,
                )));
            }
            self.backup_beside("before-import")?;
        }
        let change = self.change()?;
        change.execute_batch(
            "DELETE FROM photos; DELETE FROM clean_events; DELETE FROM cleans; DELETE FROM journal; DELETE FROM past_cleans; DELETE FROM brewers;
             DELETE FROM agents; DELETE FROM waters; DELETE FROM homes; DELETE FROM settings;",
        )?;
        put_settings(&change, &household.settings)?;
        for kept in &household.homes {
            put(&change, &kept.fact, Some(kept.archived))?;
        }
        for kept in &household.waters {
            put(&change, &kept.fact, Some(kept.archived))?;
        }
        for kept in &household.agents {
            put(&change, &kept.fact, Some(kept.archived))?;
        }
        for kept in &household.brewers {
            put(&change, &kept.fact, Some(kept.archived))?;
        }
        for kept in &household.past_cleans {
            put(&change, &kept.fact, Some(kept.archived))?;
        }
        for kept in &household.journal {
            journal::put(&change, &kept.fact, kept.archived)?;
        }
        for record in &household.cleans {
            cleans::insert(&change, &record.id, &record.plan)?;
            for event in &record.events {
                cleans::append(&change, &record.id, event)?;
            }
        }
        for photo in &household.photos {
            photos::put(&change, photo)?;
        }
        Ok(change.commit()?)
    }
}

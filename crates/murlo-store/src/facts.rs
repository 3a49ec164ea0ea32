//! Facts in and out: each kind in its table, put away rather than deleted.

use crate::error::{Result, StoreError};
use crate::fact::{Fact, written};
use crate::journal;
use crate::settings::put_settings;
use crate::store::Store;
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_brewer::Brewer;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::water::Water;
use murlo_household::Settings;
use murlo_household::first::Settled;
use rusqlite::{Connection, OptionalExtension, params};

pub(crate) fn get<F: Fact>(connection: &Connection, id: &str) -> Result<F> {
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

pub(crate) fn put<F: Fact>(
    connection: &Connection,
    fact: &F,
    archived: Option<bool>,
) -> Result<()> {
    let body = written(fact)?;
    let sql = format!(
        "INSERT INTO {} (id, archived, body) VALUES (?1, COALESCE(?2, 0), ?3)
         ON CONFLICT (id) DO UPDATE SET body = excluded.body, archived = COALESCE(?2, archived)",
        F::TABLE
    );
    connection.execute(&sql, params![fact.id(), archived, body])?;
    Ok(())
}

impl Store {
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
}

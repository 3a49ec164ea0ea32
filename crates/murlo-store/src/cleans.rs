//! Cleans: frozen plans and their append-only events.

use crate::{Result, Store, StoreError};
use murlo_base::problem::{Code, Problem};
use murlo_brewer::Brewer;
use murlo_chalk::money::Cost;
use murlo_clean::{Act, Event};
use murlo_household::CleanRecord;
use murlo_household::history::GuidedClean;
use murlo_plan::Plan;
use rusqlite::{Connection, OptionalExtension, params};
use std::collections::HashMap;

fn read(connection: &Connection, id: &str) -> Result<CleanRecord> {
    let plan: Option<String> = connection
        .query_row("SELECT plan FROM cleans WHERE id = ?1", [id], |row| {
            row.get(0)
        })
        .optional()?;
    let plan = plan.ok_or_else(|| StoreError::NotFound {
        kind: "clean",
        id: id.to_owned(),
    })?;
    let mut rows = connection
        .prepare_cached("SELECT body FROM clean_events WHERE clean_id = ?1 ORDER BY seq")?;
    let events = rows
        .query_map([id], |row| row.get::<_, String>(0))?
        .map(|body| Ok(serde_json::from_str(&body?)?))
        .collect::<Result<_>>()?;
    Ok(CleanRecord {
        id: id.to_owned(),
        plan: serde_json::from_str(&plan)?,
        events,
    })
}

pub(crate) fn insert(connection: &Connection, id: &str, plan: &Plan) -> Result<()> {
    plan.check()
        .map_err(|p| StoreError::Wrong(p.within("plan")))?;
    connection.execute(
        "INSERT INTO cleans (id, brewer_id, circuit_id, plan) VALUES (?1, ?2, ?3, ?4)",
        params![
            id,
            plan.brewer_id,
            plan.circuit_id,
            serde_json::to_string(plan)?
        ],
    )?;
    Ok(())
}

pub(crate) fn append(connection: &Connection, clean_id: &str, event: &Event) -> Result<()> {
    let closing = event.act.is_closing();
    connection.execute(
        "INSERT INTO clean_events (id, clean_id, closing, body) VALUES (?1, ?2, ?3, ?4)",
        params![event.id, clean_id, closing, serde_json::to_string(event)?],
    )?;
    Ok(())
}

fn id_is_taken(message: &str) -> StoreError {
    StoreError::Conflict(Problem::new(Code::Contradiction, "id", message))
}

/// Whether no other clean of the brewer keeps this one from running.
fn nothing_runs_beside(connection: &Connection, id: &str, plan: &Plan) -> Result<()> {
    // Also one that was put away: its clean may be opened again.
    let body: String = connection.query_row(
        "SELECT body FROM brewers WHERE id = ?1",
        [&plan.brewer_id],
        |row| row.get(0),
    )?;
    let brewer: Brewer = serde_json::from_str(&body)?;
    let running = summaries(connection)?.into_iter().find(|c| {
        c.id != id
            && c.brewer_id == plan.brewer_id
            && c.is_running()
            && brewer.blocks(&c.circuit_id, &plan.circuit_id)
    });
    match running {
        Some(running) => {
            let message = format!(
                "clean \"{}\" is still running on this brewer: carry on with it or give it up",
                running.id
            );
            let problem = Problem::new(Code::DoesNotFit, "brewer_id", message);
            Err(StoreError::Conflict(problem))
        }
        None => Ok(()),
    }
}

fn summaries(connection: &Connection) -> Result<Vec<GuidedClean>> {
    let mut rows = connection.prepare_cached(
        "SELECT c.id, c.brewer_id, c.circuit_id,
                (SELECT e.body FROM clean_events e WHERE e.clean_id = c.id AND e.closing = 1 ORDER BY e.seq DESC LIMIT 1)
         FROM cleans c ORDER BY c.rowid",
    )?;
    let rows = rows.query_map([], |row| {
        Ok((
            row.get(0)?,
            row.get(1)?,
            row.get(2)?,
            row.get::<_, Option<String>>(3)?,
        ))
    })?;
    rows.map(|row| {
        let (id, brewer_id, circuit_id, closing) = row?;
        let closing = closing
            .map(|body| serde_json::from_str(&body))
            .transpose()?;
        Ok(GuidedClean {
            id,
            brewer_id,
            circuit_id,
            closing,
        })
    })
    .collect()
}

impl Store {
    /// Starts a clean with a plan that is frozen from now on. Starting the same id with the same plan again is harmless.
    ///
    /// # Errors
    /// `Conflict` when another clean has that id, or one is running that keeps this one from starting.
    pub fn start_clean(&mut self, id: &str, plan: &Plan) -> Result<()> {
        self.begin_clean(id, plan, &[])
    }

    /// The same of one of which something has happened already, all or nothing.
    ///
    /// # Errors
    /// As above.
    pub fn begin_clean(&mut self, id: &str, plan: &Plan, events: &[Event]) -> Result<()> {
        self.change(|change| {
            match read(change, id) {
                Ok(known) if known.plan.brewer_id == plan.brewer_id => return Ok(()),
                Ok(_) => return Err(id_is_taken("another clean has this id: make a new one")),
                Err(StoreError::NotFound { .. }) => {}
                Err(other) => return Err(other),
            }
            nothing_runs_beside(change, id, plan)?;
            insert(change, id, plan)?;
            events
                .iter()
                .try_for_each(|event| append(change, id, event))
        })
    }

    /// A clean with all its events.
    ///
    /// # Errors
    /// `NotFound`.
    pub fn clean(&self, id: &str) -> Result<CleanRecord> {
        read(&self.connection, id)
    }

    /// Takes an event in: `admit` sees the clean as it stands and gives the event to store. Sending an event again is
    /// harmless: the clean is given back unchanged.
    ///
    /// # Errors
    /// `NotFound`; `Conflict` when the id belongs to another act; whatever `admit` refuses.
    pub fn append_event(
        &mut self,
        clean_id: &str,
        sent: &Event,
        admit: impl FnOnce(&CleanRecord) -> std::result::Result<Event, Problem>,
    ) -> Result<CleanRecord> {
        self.change(|change| {
            let mut record = read(change, clean_id)?;
            if let Some(known) = record.events.iter().find(|e| e.id == sent.id) {
                // What is filled in here does not make it another act.
                return if known.act.as_sent() == sent.act.as_sent() {
                    Ok(record)
                } else {
                    Err(id_is_taken("another act has this id: make a new one"))
                };
            }
            let event = admit(&record).map_err(|problem| match problem.code {
                Code::DoesNotFit => StoreError::Conflict(problem),
                _ => StoreError::Wrong(problem.into()),
            })?;
            if event.act == Act::Reopened {
                nothing_runs_beside(change, clean_id, &record.plan)?;
            }
            append(change, clean_id, &event).map_err(|error| match error {
                StoreError::Database(rusqlite::Error::SqliteFailure(e, _))
                    if e.code == rusqlite::ErrorCode::ConstraintViolation =>
                {
                    id_is_taken("an act of another clean has this id: make a new one")
                }
                other => other,
            })?;
            record.events.push(event);
            Ok(record)
        })
    }

    /// Every clean in short, in the order they were started.
    ///
    /// # Errors
    /// When the database fails.
    pub fn summaries(&self) -> Result<Vec<GuidedClean>> {
        summaries(&self.connection)
    }

    /// What each clean was reckoned to cost when it was planned, by its id; nothing of one whose prices nobody knew.
    ///
    /// # Errors
    /// None but those of the file.
    pub fn costs(&self) -> Result<HashMap<String, Cost>> {
        let mut rows = self.connection.prepare_cached(
            "SELECT id, json_extract(plan, '$.cost') FROM cleans WHERE json_extract(plan, '$.cost') IS NOT NULL",
        )?;
        let rows = rows.query_map([], |row| Ok((row.get(0)?, row.get::<_, String>(1)?)))?;
        rows.map(|row| {
            let (id, cost) = row?;
            Ok((id, serde_json::from_str(&cost)?))
        })
        .collect()
    }

    pub(crate) fn records(&self) -> Result<Vec<CleanRecord>> {
        let mut ids = self
            .connection
            .prepare("SELECT id FROM cleans ORDER BY id")?;
        let ids: Vec<String> = ids
            .query_map([], |row| row.get(0))?
            .collect::<std::result::Result<_, _>>()?;
        ids.iter().map(|id| read(&self.connection, id)).collect()
    }
}

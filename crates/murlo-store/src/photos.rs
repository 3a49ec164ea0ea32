//! Photos of cleans, visits and brewers.

use crate::{Result, Store, StoreError};
use jiff::Timestamp;
use murlo_base::problem::{Code, Problem};
use murlo_household::{Photo, PhotoBrief, PhotoOf, Shows};
use rusqlite::types::Type;
use rusqlite::{Connection, OptionalExtension, Row, params};

const COLUMNS: &str = "id, shows, clean_id, visit_id, brewer_id, at, archived, jpeg";

const fn written(shows: Shows) -> &'static str {
    match shows {
        Shows::Glass => "glass",
        Shows::Before => "before",
        Shows::After => "after",
        Shows::Guide => "guide",
    }
}

fn broken(column: usize, what: String) -> rusqlite::Error {
    rusqlite::Error::FromSqlConversionFailure(column, Type::Text, what.into())
}

fn shows_in(row: &Row, column: usize) -> rusqlite::Result<Shows> {
    let shows: String = row.get(column)?;
    let known = [Shows::Glass, Shows::Before, Shows::After, Shows::Guide];
    let shows = known.into_iter().find(|known| written(*known) == shows);
    shows.ok_or_else(|| broken(column, "it shows something unknown".to_owned()))
}

fn at_in(row: &Row, column: usize) -> rusqlite::Result<Option<Timestamp>> {
    let at: Option<String> = row.get(column)?;
    let at = at.map(|at| at.parse()).transpose();
    at.map_err(|e: jiff::Error| broken(column, e.to_string()))
}

fn read(row: &Row) -> rusqlite::Result<Photo> {
    let shows = shows_in(row, 1)?;
    let of = PhotoOf::told(shows, row.get(2)?, row.get(3)?, row.get(4)?);
    Ok(Photo {
        id: row.get(0)?,
        shows,
        of: of.map_err(|problem| broken(2, problem.message))?,
        at: at_in(row, 5)?,
        archived: row.get(6)?,
        jpeg: row.get(7)?,
    })
}

fn brief(row: &Row) -> rusqlite::Result<PhotoBrief> {
    Ok(PhotoBrief {
        id: row.get(0)?,
        shows: shows_in(row, 1)?,
        at: at_in(row, 2)?,
    })
}

pub(crate) fn put(connection: &Connection, photo: &Photo) -> Result<()> {
    let [clean, visit, brewer] = match &photo.of {
        PhotoOf::Clean(id) => [Some(id), None, None],
        PhotoOf::Visit(id) => [None, Some(id), None],
        PhotoOf::Brewer(id) => [None, None, Some(id)],
    };
    connection.execute(
        &format!("INSERT INTO photos ({COLUMNS}) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)"),
        params![
            photo.id,
            written(photo.shows),
            clean,
            visit,
            brewer,
            photo.at.map(|at| at.to_string()),
            photo.archived,
            photo.jpeg
        ],
    )?;
    Ok(())
}

impl Store {
    /// Keeps a photo; sending it again is harmless.
    ///
    /// # Errors
    /// `NotFound` without what it belongs to; `Conflict` when another photo has its id, or there are enough of them.
    pub fn keep_photo(&mut self, photo: &Photo) -> Result<()> {
        match self.photo(&photo.id) {
            // It came at another moment when it was sent first.
            Ok(known)
                if (Photo {
                    at: photo.at,
                    archived: photo.archived,
                    ..known.clone()
                }) == *photo =>
            {
                return Ok(());
            }
            Err(StoreError::NotFound { .. }) => {}
            Err(other) => return Err(other),
            Ok(_) => {
                return Err(StoreError::Conflict(Problem::new(
                    Code::Contradiction,
                    "id",
                    "another photo has this id: make a new one",
                )));
            }
        }
        match &photo.of {
            PhotoOf::Clean(id) => drop(self.clean(id)?),
            PhotoOf::Visit(id) => drop(self.get::<murlo_household::rounds::Visit>(id)?),
            PhotoOf::Brewer(id) => drop(self.get::<murlo_brewer::Brewer>(id)?),
        }
        let beside = self.photos_of(&photo.of)?.len();
        photo.of.has_room(beside).map_err(StoreError::Conflict)?;
        self.change(|change| put(change, photo))
    }

    /// A photo, put away or not.
    ///
    /// # Errors
    /// `NotFound`.
    pub fn photo(&self, id: &str) -> Result<Photo> {
        let query = format!("SELECT {COLUMNS} FROM photos WHERE id = ?1");
        let photo = self.connection.query_row(&query, [id], read).optional()?;
        photo.ok_or_else(|| StoreError::NotFound {
            kind: "photo",
            id: id.to_owned(),
        })
    }

    /// Puts a photo away, or brings it back.
    ///
    /// # Errors
    /// `NotFound`.
    pub fn archive_photo(&mut self, id: &str, archived: bool) -> Result<()> {
        self.photo(id)?;
        self.change(|change| {
            change.execute(
                "UPDATE photos SET archived = ?2 WHERE id = ?1",
                params![id, archived],
            )?;
            Ok(())
        })
    }

    /// The photos that are put away.
    ///
    /// # Errors
    /// None but those of the file.
    pub fn photos_put_away(&self) -> Result<Vec<PhotoBrief>> {
        let query = "SELECT id, shows, at FROM photos WHERE archived = 1 ORDER BY at, rowid";
        let mut rows = self.connection.prepare(query)?;
        let rows = rows.query_map([], brief)?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// The photos of something that are not put away, the oldest first.
    ///
    /// # Errors
    /// None but those of the file.
    pub fn photos_of(&self, of: &PhotoOf) -> Result<Vec<PhotoBrief>> {
        let (column, id) = match of {
            PhotoOf::Clean(id) => ("clean_id", id),
            PhotoOf::Visit(id) => ("visit_id", id),
            PhotoOf::Brewer(id) => ("brewer_id", id),
        };
        let query = format!(
            "SELECT id, shows, at FROM photos WHERE {column} = ?1 AND archived = 0 ORDER BY at, rowid"
        );
        let mut rows = self.connection.prepare(&query)?;
        let rows = rows.query_map([id], brief)?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    pub(crate) fn photos(&self) -> Result<Vec<Photo>> {
        let query = format!("SELECT {COLUMNS} FROM photos ORDER BY id");
        let mut rows = self.connection.prepare(&query)?;
        let rows = rows.query_map([], read)?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }
}

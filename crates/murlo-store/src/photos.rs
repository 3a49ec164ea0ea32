//! Photos of the glasses of a clean.

use crate::{Result, Store, StoreError};
use murlo_core::household::Photo;
use murlo_core::problem::{Code, Problem};
use rusqlite::{Connection, OptionalExtension, params};

pub(crate) fn put(connection: &Connection, photo: &Photo) -> Result<()> {
    connection.execute(
        "INSERT INTO photos (id, clean_id, jpeg) VALUES (?1, ?2, ?3)",
        params![photo.id, photo.clean_id, photo.jpeg],
    )?;
    Ok(())
}

impl Store {
    /// Keeps a photo; sending it again is harmless.
    ///
    /// # Errors
    /// `NotFound` without its clean; `Conflict` when another photo has its id.
    pub fn keep_photo(&mut self, photo: &Photo) -> Result<()> {
        self.clean(&photo.clean_id)?;
        match self.photo(&photo.clean_id, &photo.id) {
            Ok(known) if known == *photo => return Ok(()),
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
        self.change(|change| put(change, photo))
    }

    /// A photo of a clean.
    ///
    /// # Errors
    /// `NotFound`.
    pub fn photo(&self, clean_id: &str, id: &str) -> Result<Photo> {
        let jpeg = self
            .connection
            .query_row(
                "SELECT jpeg FROM photos WHERE id = ?1 AND clean_id = ?2",
                [id, clean_id],
                |row| row.get(0),
            )
            .optional()?;
        jpeg.map(|jpeg| Photo {
            id: id.to_owned(),
            clean_id: clean_id.to_owned(),
            jpeg,
        })
        .ok_or_else(|| StoreError::NotFound {
            kind: "photo",
            id: id.to_owned(),
        })
    }

    pub(crate) fn photos(&self) -> Result<Vec<Photo>> {
        let mut rows = self
            .connection
            .prepare("SELECT id, clean_id, jpeg FROM photos ORDER BY id")?;
        let rows = rows.query_map([], |row| {
            Ok(Photo {
                id: row.get(0)?,
                clean_id: row.get(1)?,
                jpeg: row.get(2)?,
            })
        })?;
        Ok(rows.collect::<std::result::Result<_, _>>()?)
    }
}

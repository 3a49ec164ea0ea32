//! Devices that are signed in, and the codes by which others come in.

use crate::error::{Result, StoreError};
use crate::store::Store;
use murlo_household::devices::{Device, DeviceKind};
use rusqlite::{OptionalExtension, Row, params};

const KIND: &str = "device";

/// A device as it is kept; times are seconds since 1970.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct KeptDevice {
    /// Identity.
    pub id: String,
    /// When it was taken in.
    pub made_at: i64,
    /// When it last asked, to within some minutes.
    pub seen_at: i64,
    /// What it is.
    pub device: Device,
}

fn read(row: &Row<'_>) -> rusqlite::Result<(String, i64, i64, String)> {
    Ok((row.get(0)?, row.get(1)?, row.get(2)?, row.get(3)?))
}

fn kept((id, made_at, seen_at, body): (String, i64, i64, String)) -> Result<KeptDevice> {
    Ok(KeptDevice {
        id,
        made_at,
        seen_at,
        device: serde_json::from_str(&body)?,
    })
}

impl Store {
    /// Takes a device in that holds the token of this hash.
    ///
    /// # Errors
    /// When the database fails.
    pub fn add_device(&self, kept: &KeptDevice, token_hash: &str) -> Result<()> {
        let body = serde_json::to_string(&kept.device)?;
        self.change(|change| {
            change.execute(
                "INSERT INTO devices (id, token_hash, made_at, seen_at, body) VALUES (?1, ?2, ?3, ?4, ?5)",
                params![kept.id, token_hash, kept.made_at, kept.seen_at, body],
            )?;
            Ok(())
        })
    }

    /// The device that holds the token of this hash, unless it was forgotten.
    ///
    /// # Errors
    /// When the database fails.
    pub fn device(&self, token_hash: &str) -> Result<Option<KeptDevice>> {
        let sql =
            "SELECT id, made_at, seen_at, body FROM devices WHERE token_hash = ?1 AND archived = 0";
        let mut found = self.connection.prepare_cached(sql)?;
        found
            .query_row([token_hash], read)
            .optional()?
            .map(kept)
            .transpose()
    }

    /// Every device that was not forgotten, the last seen first.
    ///
    /// # Errors
    /// When the database fails.
    pub fn devices(&self) -> Result<Vec<KeptDevice>> {
        let sql = "SELECT id, made_at, seen_at, body FROM devices WHERE archived = 0 ORDER BY seen_at DESC, id";
        let mut all = self.connection.prepare_cached(sql)?;
        all.query_map([], read)?.map(|row| kept(row?)).collect()
    }

    /// Remembers that a device asked.
    ///
    /// # Errors
    /// When the database fails.
    pub fn saw_device(&self, id: &str, at: i64) -> Result<()> {
        self.change(|change| {
            change.execute(
                "UPDATE devices SET seen_at = ?2 WHERE id = ?1",
                params![id, at],
            )?;
            Ok(())
        })
    }

    /// Calls a device otherwise.
    ///
    /// # Errors
    /// `NotFound`.
    pub fn alter_device(&self, id: &str, device: &Device) -> Result<()> {
        let body = serde_json::to_string(device)?;
        self.change_device(
            "UPDATE devices SET body = ?2 WHERE id = ?1 AND archived = 0",
            id,
            &body,
        )
    }

    /// Forgets a device, or takes it back.
    ///
    /// # Errors
    /// `NotFound`.
    pub fn forget_device(&self, id: &str, forgotten: bool) -> Result<()> {
        self.change_device(
            "UPDATE devices SET archived = ?2 WHERE id = ?1",
            id,
            &forgotten,
        )
    }

    fn change_device(&self, sql: &str, id: &str, to: &dyn rusqlite::ToSql) -> Result<()> {
        self.change(|change| match change.execute(sql, params![id, to])? {
            0 => Err(StoreError::NotFound {
                kind: KIND,
                id: id.to_owned(),
            }),
            _ => Ok(()),
        })
    }

    /// Keeps a code, by its hash, that takes in one device of this kind; those made before `not_before` go.
    ///
    /// # Errors
    /// When the database fails.
    pub fn invite(
        &self,
        code_hash: &str,
        made_at: i64,
        not_before: i64,
        kind: &DeviceKind,
    ) -> Result<()> {
        let body = serde_json::to_string(kind)?;
        self.change(|change| {
            change.execute("DELETE FROM invitations WHERE made_at < ?1", [not_before])?;
            change.execute(
                "INSERT OR REPLACE INTO invitations (code_hash, made_at, body) VALUES (?1, ?2, ?3)",
                params![code_hash, made_at, body],
            )?;
            Ok(())
        })
    }

    /// What a code takes in, where it was made at `not_before` or after and nobody has used it.
    ///
    /// # Errors
    /// When the database fails.
    pub fn invited(&self, code_hash: &str, not_before: i64) -> Result<Option<DeviceKind>> {
        let sql = "SELECT body FROM invitations WHERE code_hash = ?1 AND made_at >= ?2";
        let body: Option<String> = self
            .connection
            .query_row(sql, params![code_hash, not_before], |row| row.get(0))
            .optional()?;
        Ok(body.map(|body| serde_json::from_str(&body)).transpose()?)
    }

    /// Takes a device in by a code, which is used up by it; nothing happens when somebody else was quicker.
    ///
    /// # Errors
    /// `NotFound` then.
    pub fn take_in_device(
        &self,
        code_hash: &str,
        kept: &KeptDevice,
        token_hash: &str,
    ) -> Result<()> {
        let body = serde_json::to_string(&kept.device)?;
        self.change(|change| {
            if change.execute("DELETE FROM invitations WHERE code_hash = ?1", [code_hash])? == 0 {
                return Err(StoreError::NotFound {
                    kind: "code",
                    id: String::new(),
                });
            }
            change.execute(
                "INSERT INTO devices (id, token_hash, made_at, seen_at, body) VALUES (?1, ?2, ?3, ?4, ?5)",
                params![kept.id, token_hash, kept.made_at, kept.seen_at, body],
            )?;
            Ok(())
        })
    }
}

//! What holds for the whole household: settings, the passcode, the calendar feed.

use crate::error::{Result, StoreError};
use crate::store::Store;
use jiff::tz::TimeZone;
use murlo_base::problem::{Code, Problem};
use murlo_household::Settings;
use rusqlite::{Connection, OptionalExtension};

/// Days are counted in this zone, so one that is not known here is refused before it is kept.
pub(crate) fn known_zone(settings: &Settings) -> Result<()> {
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

impl Store {
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
            change.execute_batch("DELETE FROM devices; DELETE FROM invitations")?;
            Ok(())
        })
    }
}

pub(crate) fn put_settings(connection: &Connection, settings: &Settings) -> Result<()> {
    let body = serde_json::to_string(settings)?;
    connection.execute(
        "INSERT OR REPLACE INTO settings (only_row, body) VALUES (1, ?1)",
        [body],
    )?;
    Ok(())
}

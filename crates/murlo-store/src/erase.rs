//! Erasing for good: from a household, and from every copy beside it.

use crate::backups::{Backups, copy_to, sound};
use crate::file::{beside, companions, settle_folder};
use crate::travel::put_household;
use crate::{Result, Store, StoreError};
use murlo_base::document::Kept;
use murlo_household::Household;
use murlo_household::devices::DeviceKind;
use murlo_household::erase::{Erased, ErasedCount};
use murlo_household::history::Memory;
use murlo_household::stock::Movement;
use rusqlite::{Connection, params};
use std::collections::HashSet;
use std::fs;
use std::path::{Path, PathBuf};

/// What became of the copies.
#[derive(Debug, Default)]
pub struct CopiesErased {
    /// Those that held it and are written anew without it.
    pub rewritten: usize,
    /// Those that could not be read or written, each with why.
    pub left: Vec<(PathBuf, StoreError)>,
}

impl Store {
    /// How much would be erased.
    ///
    /// # Errors
    /// `Wrong` where it may not be.
    pub fn erasing(&self, what: &Erased) -> Result<ErasedCount> {
        let mut household = self.export()?;
        household.may_erase(what).map_err(StoreError::Conflict)?;
        let devices = self.devices_touched(what, &household)?;
        Ok(DeviceTouched::counted(&devices, household.erase(what)))
    }

    /// Erases it: neither the file nor what SQLite keeps beside it holds it any more. `counted` is what is in the cupboard
    /// afterwards, as what was drawn for it goes too.
    ///
    /// # Errors
    /// `Conflict` where it may not be; nothing is changed then.
    pub fn erase(&mut self, what: &Erased, counted: Vec<Movement>) -> Result<ErasedCount> {
        let mut household = self.export()?;
        household.may_erase(what).map_err(StoreError::Conflict)?;
        let counted = counted.into_iter().map(|fact| Kept {
            archived: false,
            fact,
        });
        let (count, _) = self.erase_from(&mut household, what, |household| {
            household.movements.extend(counted)
        })?;
        Ok(count)
    }

    /// The same of what was read from it; gives how much that was, and whether anything was written.
    fn erase_from(
        &mut self,
        household: &mut Household,
        what: &Erased,
        then: impl FnOnce(&mut Household),
    ) -> Result<(ErasedCount, bool)> {
        let devices = self.devices_touched(what, household)?;
        let count = DeviceTouched::counted(&devices, household.erase(what));
        if count.is_nothing() {
            return Ok((count, false));
        }
        then(household);
        *self.memory() = Memory::default();
        // What is let go is written over, here and where the file had it before.
        self.connection.pragma_update(None, "secure_delete", true)?;
        self.change(|change| {
            put_household(change, household)?;
            devices
                .iter()
                .try_for_each(|device| device.settle(change))?;
            change.execute("DELETE FROM invitations", [])?;
            Ok(())
        })?;
        self.connection
            .execute_batch("VACUUM; PRAGMA wal_checkpoint(TRUNCATE);")?;
        Ok((count, true))
    }

    /// Devices that were let in for what goes, or bear the name; those that were forgotten too.
    fn devices_touched(&self, what: &Erased, household: &Household) -> Result<Vec<DeviceTouched>> {
        let brewers = match what {
            Erased::Home { id } => household.brewers_of(id),
            Erased::Photo { .. } | Erased::Note { .. } | Erased::Person { .. } => HashSet::new(),
        };
        let mut rows = self.connection.prepare("SELECT id, body FROM devices")?;
        let rows = rows.query_map([], |row| Ok((row.get(0)?, row.get(1)?)))?;
        let mut touched = Vec::new();
        for row in rows {
            let (id, body): (String, String) = row?;
            let mut device: murlo_household::devices::Device = serde_json::from_str(&body)?;
            match what {
                Erased::Home { id: home } => {
                    let is_gone = match &device.kind {
                        DeviceKind::Look { home_id, .. } => home_id == home,
                        DeviceKind::Counts { brewer_id } => brewers.contains(brewer_id),
                        DeviceKind::Full | DeviceKind::Helper => false,
                    };
                    touched.extend(is_gone.then_some(DeviceTouched { id, body: None }));
                }
                Erased::Person { name } if device.person.as_ref() == Some(name) => {
                    device.person = None;
                    let body = Some(serde_json::to_string(&device)?);
                    touched.push(DeviceTouched { id, body });
                }
                Erased::Person { .. } | Erased::Photo { .. } | Erased::Note { .. } => {}
            }
        }
        Ok(touched)
    }
}

/// A device that is otherwise afterwards, or gone.
struct DeviceTouched {
    id: String,
    body: Option<String>,
}

impl DeviceTouched {
    /// With how many lose a name, and how many go.
    fn counted(devices: &[Self], count: ErasedCount) -> ErasedCount {
        let gone = devices
            .iter()
            .filter(|device| device.body.is_none())
            .count();
        ErasedCount {
            names: count.names + devices.len() - gone,
            devices: gone,
            ..count
        }
    }

    fn settle(&self, change: &Connection) -> Result<()> {
        match &self.body {
            Some(body) => change.execute(
                "UPDATE devices SET body = ?2 WHERE id = ?1",
                params![self.id, body],
            )?,
            None => change.execute("DELETE FROM devices WHERE id = ?1", [&self.id])?,
        };
        Ok(())
    }
}

impl Backups {
    /// Erases it from every copy: each is written anew without it, checked, and put in the old one's place. One that cannot be is
    /// left as it is and named; doing it again is harmless.
    ///
    /// # Errors
    /// When the folder cannot be read.
    pub fn erase(&self, what: &Erased) -> Result<CopiesErased> {
        let mut done = CopiesErased::default();
        for path in self.files()? {
            match erase_copy(&path, what) {
                Ok(true) => done.rewritten += 1,
                Ok(false) => {}
                Err(error) => done.left.push((path, error)),
            }
        }
        Ok(done)
    }
}

/// Whether a copy held it.
fn erase_copy(path: &Path, what: &Erased) -> Result<bool> {
    let part = beside(path, ".part");
    let done = erase_in_part(path, &part, what);
    if !matches!(done, Ok(true)) {
        for left in companions(&part).iter().chain([&part]) {
            let _ = fs::remove_file(left);
        }
    }
    done
}

fn erase_in_part(path: &Path, part: &Path, what: &Erased) -> Result<bool> {
    copy_to(path, part)?;
    let mut copy = Store::open_copy(part)?;
    let mut household = copy.export()?;
    let (_, is_written) = copy.erase_from(&mut household, what, |_| {})?;
    if !is_written {
        return Ok(false);
    }
    copy.reads()?;
    // As any other copy it stands alone.
    copy.connection
        .pragma_update(None, "journal_mode", "DELETE")?;
    sound(&copy.connection)?;
    drop(copy);
    fs::File::open(part)?.sync_all()?;
    fs::rename(part, path)?;
    settle_folder(path);
    Ok(true)
}

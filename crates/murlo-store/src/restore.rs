//! Putting a backup back: checked before and after, the old file set aside.

use crate::backups::copy_to;
use crate::file::{self, Lock, beside, companions, restoring, settle_folder};
use crate::schema::LATEST;
use crate::{Result, Store, StoreError};
use std::fs;
use std::path::{Path, PathBuf};

/// Puts `backup` in the place of the household that `lock` holds. What stood there is set aside, with what SQLite left
/// beside it; the name it then has is given back, or nothing when nothing stood there.
///
/// Cut off at any moment, the household is either the old one or is refused until this is done again.
///
/// # Errors
/// When `backup` is no sound household; nothing is touched then.
pub fn restore(backup: &Path, lock: &Lock) -> Result<Option<PathBuf>> {
    let database = lock.path();
    let same = fs::canonicalize(backup)? == fs::canonicalize(database).unwrap_or_default();
    if same {
        return Err(StoreError::unfit(
            backup,
            "is the household itself: name a backup of it",
        ));
    }
    let part = beside(database, ".part");
    let checked = file::recognise(backup, LATEST)
        .and_then(|()| copy_to(backup, &part))
        .and_then(|()| Store::open_copy(&part)?.export());
    if let Err(error) = checked {
        for left in companions(&part).iter().chain([&part]) {
            let _ = fs::remove_file(left);
        }
        return Err(error);
    }
    let marker = restoring(database);
    let aside = match fs::read_to_string(&marker) {
        // An earlier try was cut off: what it had moved and what it had not belong together.
        Ok(name) => PathBuf::from(name),
        Err(_) => {
            let aside = (1..)
                .map(|n| beside(database, &format!(".set-aside-{n}")))
                .find(|path| !path.exists())
                .expect("some number is free");
            fs::write(&marker, aside.to_string_lossy().as_bytes())?;
            fs::File::open(&marker)?.sync_all()?;
            aside
        }
    };
    settle_folder(database);
    let old = [database.to_owned()]
        .into_iter()
        .chain(companions(database));
    let names = [aside.clone()].into_iter().chain(companions(&aside));
    for (old, name) in old.zip(names) {
        // What an earlier try has set aside is not overwritten by what it had put in place already.
        if old.exists() && !name.exists() {
            fs::rename(old, name)?;
        }
    }
    settle_folder(database);
    fs::rename(&part, database)?;
    settle_folder(database);
    fs::remove_file(&marker)?;
    settle_folder(database);
    Store::open(database)?.export()?;
    Ok(aside.exists().then_some(aside))
}

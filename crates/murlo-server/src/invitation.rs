//! Codes that take a device in.

use crate::error::ApiError;
use crate::sign_in::{hashed, random};
use jiff::Timestamp;
use murlo_household::devices::{CODE_HOLDS, DeviceKind, code};
use murlo_store::Store;

/// Codes that were made before this are over.
pub(crate) fn not_before(now: Timestamp) -> i64 {
    // A second more: the moment it was made is kept in whole ones.
    (now - CODE_HOLDS).as_second() + 1
}

pub(crate) fn invite(store: &Store, kind: &DeviceKind, now: Timestamp) -> Result<String, ApiError> {
    let code = code(random()?);
    store.invite(&hashed(&code), now.as_second(), not_before(now), kind)?;
    Ok(code)
}

/// A code that takes in one device that may do everything: for the terminal of the machine that serves.
///
/// # Errors
/// When it cannot be kept, in words.
pub fn invitation(store: &Store, now: Timestamp) -> Result<String, String> {
    invite(store, &DeviceKind::Full, now).map_err(|error| format!("{error:?}"))
}

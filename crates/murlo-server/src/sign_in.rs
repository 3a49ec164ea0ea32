//! Signing a device in and out: by the passcode, by a code, by the cookie it holds.

use crate::asking::{Asking, KnownDevice};
use crate::error::{ApiError, Body};
use crate::guesses::Guesses;
use crate::reached::Base;
use crate::state::AppState;
use argon2::Argon2;
use argon2::password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash};
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::{Extension, Json};
use cookie::{Cookie, SameSite};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use murlo_household::devices::{Device, DeviceKind, SIGNED_IN};
use murlo_line::{Arrived, network};
use murlo_store::KeptDevice;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use std::collections::HashSet;
use std::sync::{Mutex, MutexGuard, PoisonError};
use utoipa::ToSchema;
use uuid::Uuid;

const COOKIE: &str = "murlo_device";
/// A passcode of fewer different characters is guessed first.
const DIFFERENT: usize = 3;
/// When a device was last seen is written down no more often than this.
const SEEN_EVERY: SignedDuration = SignedDuration::from_mins(10);

/// A PHC string of the passcode, for the store.
///
/// # Errors
/// When the passcode is too short, or the system gives no randomness.
pub fn hash_passcode(passcode: &str) -> Result<String, String> {
    if passcode.chars().count() < 6 {
        return Err("a passcode has at least 6 characters".to_owned());
    }
    if passcode.chars().collect::<HashSet<char>>().len() < DIFFERENT {
        return Err(format!(
            "a passcode has at least {DIFFERENT} different characters: anybody guesses one that repeats itself"
        ));
    }
    Argon2::default()
        .hash_password(passcode.as_bytes())
        .map(|hash| hash.to_string())
        .map_err(|e| e.to_string())
}

/// Whether this device is signed in, and how the household is reached.
#[derive(Serialize, ToSchema)]
pub struct Session {
    /// Devices have to sign in at all.
    guarded: bool,
    /// This device may ask.
    signed_in: bool,
    /// There is a passcode to sign in with; else a code is needed.
    has_passcode: bool,
    /// What it is called, where it is signed in as a device.
    name: Option<String>,
    /// Whose it is.
    person: Option<String>,
    /// Whether it may do everything.
    is_full: bool,
    /// Nobody on the way can read what this device asks and hears.
    is_secure: bool,
    /// The household's own authority, which a device trusts once.
    own_authority: Option<OwnAuthority>,
}

/// What a device trusts once.
#[derive(Serialize, ToSchema)]
pub struct OwnAuthority {
    /// By what one sees that it is the right one.
    fingerprint: String,
    /// Addresses that are reached once it is trusted, the best first.
    addresses: Vec<String>,
}

/// What a device signs in with.
#[derive(Deserialize, ToSchema)]
pub struct SignIn {
    /// The household's passcode.
    passcode: String,
}

/// What a secret is known by: nothing that could be used in its place.
pub fn hashed(secret: &str) -> String {
    hex(&Sha256::digest(secret))
}

/// What this device's session is known by: the hash of the token in its cookie.
fn token_hash(headers: &HeaderMap) -> Option<String> {
    let mut cookies = headers
        .get_all(header::COOKIE)
        .iter()
        .filter_map(|line| line.to_str().ok())
        .flat_map(Cookie::split_parse)
        .filter_map(Result::ok);
    let ours = cookies.find(|cookie| cookie.name() == COOKIE)?;
    Some(hashed(ours.value()))
}

fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}

/// Bytes that nobody can guess.
pub fn random<const N: usize>() -> Result<[u8; N], ApiError> {
    let mut bytes = [0_u8; N];
    getrandom::fill(&mut bytes).map_err(|e| ApiError::Internal(e.to_string()))?;
    Ok(bytes)
}

/// Letters and digits that nobody can guess.
pub fn secret() -> Result<String, ApiError> {
    Ok(hex(&random::<32>()?))
}

/// The device that holds the token of this hash, unless its time is over.
pub async fn known(state: &AppState, hash: String) -> Result<Option<KnownDevice>, ApiError> {
    let now = state.now();
    let found = state.store(move |store| {
        let Some(kept) = store.device(&hash)? else {
            return Ok(None);
        };
        let made_at = Timestamp::from_second(kept.made_at).unwrap_or(Timestamp::MIN);
        let zone = match kept.device.kind {
            DeviceKind::Full | DeviceKind::Helper | DeviceKind::Counts { .. } => TimeZone::UTC,
            DeviceKind::Look { .. } => {
                TimeZone::get(&store.settings()?.time_zone).unwrap_or(TimeZone::UTC)
            }
        };
        let ends_at = kept.device.ends_at(made_at, &zone);
        if now >= ends_at {
            return Ok(None);
        }
        if now.as_second() - kept.seen_at >= SEEN_EVERY.as_secs() {
            store.saw_device(&kept.id, now.as_second())?;
        }
        Ok(Some(KnownDevice {
            id: kept.id,
            device: kept.device,
            ends_at,
        }))
    });
    found.await
}

/// What a program says it is, that holds no cookie.
pub fn bearer(headers: &HeaderMap) -> Option<&str> {
    let told = headers.get(header::AUTHORIZATION)?.to_str().ok()?;
    told.strip_prefix("Bearer ")
}

pub async fn signed_in(
    state: &AppState,
    headers: &HeaderMap,
) -> Result<Option<KnownDevice>, ApiError> {
    match token_hash(headers).or_else(|| bearer(headers).map(hashed)) {
        Some(hash) => known(state, hash).await,
        None => Ok(None),
    }
}

/// Tells whether this device is signed in.
#[utoipa::path(get, tag = "shown offline", path = "/api/session", responses((status = 200, body = Session)))]
pub async fn session(
    State(state): State<AppState>,
    Asking(known): Asking,
    Extension(arrived): Extension<Arrived>,
) -> Result<Json<Session>, ApiError> {
    let has_passcode = state.store(|store| Ok(store.passcode()?.is_some())).await?;
    let device = known.map(|known| known.device);
    let device =
        device.filter(|device| matches!(device.kind, DeviceKind::Full | DeviceKind::Helper));
    let own_authority = state
        .reached
        .authority
        .as_ref()
        .map(|authority| OwnAuthority {
            fingerprint: authority.fingerprint(),
            addresses: state.reached.addresses("https"),
        });
    Ok(Json(Session {
        guarded: state.guarded,
        signed_in: !state.guarded || device.is_some(),
        has_passcode,
        is_full: !state.guarded
            || device
                .as_ref()
                .is_some_and(|device| device.kind == DeviceKind::Full),
        is_secure: arrived.secure,
        own_authority,
        name: device.as_ref().map(|device| device.name.clone()),
        person: device.and_then(|device| device.person),
    }))
}

/// Runs `check` unless too many from this network were wrong lately; what it gives is whether it was right.
pub async fn guessed<T>(
    state: &AppState,
    arrived: Arrived,
    check: impl Future<Output = Result<Option<T>, ApiError>>,
    wrong: &str,
) -> Result<T, Response> {
    let (now, network) = (state.now(), network(arrived.from.ip()));
    if let Some(wait) = lock(&state.guesses).wait(network, now) {
        let why = format!("too many tries from this network: wait {wait} s");
        let refused = ApiError::Forbidden(StatusCode::TOO_MANY_REQUESTS, why);
        let after = [(header::RETRY_AFTER, wait.to_string())];
        return Err((after, refused).into_response());
    }
    // Counted before it is known to be wrong, so that many at once are many.
    lock(&state.guesses).tried(network, now);
    let checked = check.await;
    if !matches!(checked, Ok(None)) {
        lock(&state.guesses).was_none(network);
    }
    match checked {
        Ok(Some(right)) => Ok(right),
        Ok(None) => {
            let wrong = ApiError::Forbidden(StatusCode::UNAUTHORIZED, wrong.to_owned());
            Err(wrong.into_response())
        }
        Err(error) => Err(error.into_response()),
    }
}

/// A device as it is taken in now, and its token.
pub fn taken_in(state: &AppState, device: Device) -> Result<(KeptDevice, String), ApiError> {
    let at = state.now().as_second();
    let kept = KeptDevice {
        id: Uuid::new_v4().to_string(),
        made_at: at,
        seen_at: at,
        device,
    };
    Ok((kept, secret()?))
}

/// The cookie that holds a device's token, as long as it is signed in.
pub fn with_cookie(token: String, base: &Base) -> Response {
    let days = cookie::time::Duration::seconds(SIGNED_IN.as_secs());
    cookie(token, days, base)
}

fn cookie(token: String, lasts: cookie::time::Duration, base: &Base) -> Response {
    let cookie = Cookie::build((COOKIE, token))
        .http_only(true)
        .same_site(SameSite::Strict)
        .path("/")
        .secure(base.0.starts_with("https"))
        .max_age(lasts)
        .to_string();
    (StatusCode::NO_CONTENT, [(header::SET_COOKIE, cookie)]).into_response()
}

/// Signs this device in.
#[utoipa::path(post, path = "/api/session", request_body = SignIn, responses((status = 204), (status = 401), (status = 422), (status = 429)))]
pub async fn sign_in(
    State(state): State<AppState>,
    Extension(arrived): Extension<Arrived>,
    base: Base,
    Body(given): Body<SignIn>,
) -> Result<Response, ApiError> {
    let check = async {
        let known = state.store(|store| Ok(store.passcode()?.unwrap_or_default()));
        let known = known.await?;
        // It takes a while on purpose: nobody else waits for it.
        let fits = tokio::task::spawn_blocking(move || {
            PasswordHash::new(&known).is_ok_and(|phc| {
                let given = given.passcode.as_bytes();
                Argon2::default().verify_password(given, &phc).is_ok()
            })
        });
        let fits = fits.await.map_err(|e| ApiError::Internal(e.to_string()))?;
        Ok(fits.then_some(()))
    };
    if let Err(refused) = guessed(&state, arrived, check, "that is not the passcode").await {
        return Ok(refused);
    }
    let device = Device {
        name: "Signed in with the passcode".to_owned(),
        person: None,
        kind: DeviceKind::Full,
    };
    let (kept, token) = taken_in(&state, device)?;
    let hash = hashed(&token);
    state
        .store(move |store| Ok(store.add_device(&kept, &hash)?))
        .await?;
    Ok(with_cookie(token, &base))
}

/// Signs this device out.
#[utoipa::path(delete, path = "/api/session", responses((status = 204)))]
pub async fn sign_out(
    State(state): State<AppState>,
    Asking(known): Asking,
    base: Base,
) -> Result<Response, ApiError> {
    if let Some(known) = known {
        let id = known.id.clone();
        state
            .store(move |store| Ok(store.forget_device(&id, true)?))
            .await?;
        state.device_gone(&known.id);
    }
    Ok(cookie(String::new(), cookie::time::Duration::ZERO, &base))
}

fn lock(guesses: &Mutex<Guesses>) -> MutexGuard<'_, Guesses> {
    guesses.lock().unwrap_or_else(PoisonError::into_inner)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_passcode_is_long_enough_and_no_one_letter() {
        for (passcode, fits) in [
            ("chalk and water", true),
            ("abcabc", true),
            ("ababab", false),
            ("aaaaaaaaaaaa", false),
            ("abcde", false),
            ("", false),
        ] {
            assert_eq!(hash_passcode(passcode).is_ok(), fits, "{passcode}");
        }
    }

    #[tokio::test]
    async fn a_device_stays_signed_in_for_half_a_year() {
        use axum::http::HeaderValue;
        use murlo_store::Store;
        use std::sync::Arc;

        let clock = Arc::new(Mutex::new(Timestamp::UNIX_EPOCH));
        let read = Arc::clone(&clock);
        let state = AppState::new(Store::in_memory().unwrap(), true, move || {
            *read.lock().unwrap()
        });
        let device = Device {
            name: "Hall phone".to_owned(),
            person: None,
            kind: DeviceKind::Full,
        };
        let (kept, token) = taken_in(&state, device).unwrap();
        let mut headers = HeaderMap::new();
        let cookie = HeaderValue::from_str(&format!("theme=dark; {COOKIE}={token}")).unwrap();
        headers.insert(header::COOKIE, cookie);
        state
            .store(move |store| Ok(store.add_device(&kept, &hashed(&token))?))
            .await
            .unwrap();
        for (after, is_in) in [
            (SignedDuration::ZERO, true),
            (SIGNED_IN - SignedDuration::from_secs(1), true),
            (SIGNED_IN, false),
        ] {
            *clock.lock().unwrap() = Timestamp::UNIX_EPOCH + after;
            let known = signed_in(&state, &headers).await.unwrap();
            assert_eq!(known.is_some(), is_in, "{after:?}");
        }
        assert!(
            signed_in(&state, &HeaderMap::new())
                .await
                .unwrap()
                .is_none()
        );
    }
}

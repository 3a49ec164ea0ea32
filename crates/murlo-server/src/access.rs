//! Who may ask: host and origin checks, the passcode, and signed-in devices.

use crate::error::{ApiError, Body};
use crate::guesses::{Guesses, network};
use crate::state::AppState;
use argon2::Argon2;
use argon2::password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash};
use axum::extract::{ConnectInfo, Request, State};
use axum::http::{HeaderMap, Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use cookie::{Cookie, SameSite};
use jiff::SignedDuration;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use std::collections::HashSet;
use std::net::SocketAddr;
use std::sync::{Mutex, MutexGuard, PoisonError};
use utoipa::ToSchema;

const COOKIE: &str = "murlo_device";
/// A device stays signed in this long.
const SESSION_DAYS: i64 = 180;
/// A passcode of fewer different characters is guessed first.
const DIFFERENT: usize = 3;

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

/// Whether this device is signed in.
#[derive(Serialize, ToSchema)]
pub struct Session {
    /// A passcode is needed at all.
    guarded: bool,
    /// This device may ask.
    signed_in: bool,
}

/// What a device signs in with.
#[derive(Deserialize, ToSchema)]
pub struct SignIn {
    /// The household's passcode.
    passcode: String,
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
    Some(hex(&Sha256::digest(ours.value())))
}

fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}

/// Letters and digits that nobody can guess.
pub fn secret() -> Result<String, ApiError> {
    let mut bytes = [0_u8; 32];
    getrandom::fill(&mut bytes).map_err(|e| ApiError::Internal(e.to_string()))?;
    Ok(hex(&bytes))
}

async fn signed_in(state: &AppState, headers: &HeaderMap) -> Result<bool, ApiError> {
    let Some(hash) = token_hash(headers) else {
        return Ok(false);
    };
    let not_before = (state.now() - SignedDuration::from_hours(24 * SESSION_DAYS)).as_second();
    state
        .store(move |store| Ok(store.has_session(&hash, not_before)?))
        .await
}

/// Refuses pages of other sites, hosts that are not ours by name, and devices that are not signed in.
pub async fn guard(State(state): State<AppState>, request: Request, next: Next) -> Response {
    let refuse = |status, why: &str| ApiError::Forbidden(status, why.to_owned()).into_response();
    if !own_page(request.headers(), request.method()) {
        return refuse(
            StatusCode::FORBIDDEN,
            "this request comes from another site: open Murlo itself",
        );
    }
    let path = request.uri().path();
    if state.guarded && path.starts_with("/api/") && path != "/api/session" {
        match signed_in(&state, request.headers()).await {
            Ok(true) => {}
            Ok(false) => {
                return refuse(
                    StatusCode::UNAUTHORIZED,
                    "sign this device in with the passcode first",
                );
            }
            Err(error) => return error.into_response(),
        }
    }
    next.run(request).await
}

/// The origin, where given, must name the host asked; a name that points at this machine from outside is refused
/// because only addresses, `localhost` and `.local` names are ever ours.
fn own_page(headers: &HeaderMap, method: &Method) -> bool {
    let text = |name| {
        headers
            .get(name)
            .and_then(|v: &axum::http::HeaderValue| v.to_str().ok())
    };
    let Some(host) = text(header::HOST) else {
        return false;
    };
    let name = host.rsplit_once(':').map_or(
        host,
        |(name, port)| if port.ends_with(']') { host } else { name },
    );
    let bare = name.trim_matches(['[', ']']);
    let ours =
        bare == "localhost" || bare.ends_with(".local") || bare.parse::<std::net::IpAddr>().is_ok();
    let same = text(header::ORIGIN)
        .is_none_or(|origin| origin.split_once("://").is_some_and(|(_, at)| at == host));
    ours && (same || method.is_safe())
}

/// Tells whether this device is signed in.
#[utoipa::path(get, tag = "shown offline", path = "/api/session", responses((status = 200, body = Session)))]
pub async fn session(
    State(state): State<AppState>,
    headers: HeaderMap,
) -> Result<axum::Json<Session>, ApiError> {
    let signed_in = !state.guarded || signed_in(&state, &headers).await?;
    Ok(axum::Json(Session {
        guarded: state.guarded,
        signed_in,
    }))
}

/// Signs this device in.
#[utoipa::path(post, path = "/api/session", request_body = SignIn, responses((status = 204), (status = 401), (status = 422), (status = 429)))]
pub async fn sign_in(
    State(state): State<AppState>,
    ConnectInfo(from): ConnectInfo<SocketAddr>,
    Body(given): Body<SignIn>,
) -> Result<Response, ApiError> {
    let (now, network) = (state.now(), network(from.ip()));
    if let Some(wait) = lock(&state.guesses).wait(network, now) {
        let why = format!("too many tries from this network: wait {wait} s");
        let refused = ApiError::Forbidden(StatusCode::TOO_MANY_REQUESTS, why);
        let after = [(header::RETRY_AFTER, wait.to_string())];
        return Ok((after, refused).into_response());
    }
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
    if !fits {
        lock(&state.guesses).missed(network, now);
        let why = "that is not the passcode".to_owned();
        return Err(ApiError::Forbidden(StatusCode::UNAUTHORIZED, why));
    }
    let token = secret()?;
    let hash = hex(&Sha256::digest(&token));
    let at = now.as_second();
    state
        .store(move |store| Ok(store.add_session(&hash, at)?))
        .await?;
    let cookie = Cookie::build((COOKIE, token))
        .http_only(true)
        .same_site(SameSite::Strict)
        .path("/")
        // As long as the session.
        .max_age(cookie::time::Duration::days(SESSION_DAYS))
        .to_string();
    Ok((StatusCode::NO_CONTENT, [(header::SET_COOKIE, cookie)]).into_response())
}

fn lock(guesses: &Mutex<Guesses>) -> MutexGuard<'_, Guesses> {
    guesses.lock().unwrap_or_else(PoisonError::into_inner)
}

#[cfg(test)]
mod tests {
    use super::*;
    use axum::http::HeaderValue;
    use jiff::Timestamp;
    use murlo_store::Store;
    use std::sync::Arc;

    /// A household whose clock is turned by hand.
    fn household() -> (AppState, Arc<Mutex<Timestamp>>) {
        let clock = Arc::new(Mutex::new(Timestamp::UNIX_EPOCH));
        let read = Arc::clone(&clock);
        let state = AppState::new(Store::in_memory().unwrap(), true, move || {
            *read.lock().unwrap()
        });
        (state, clock)
    }

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
        let (state, clock) = household();
        let hash = hex(&Sha256::digest("token"));
        state
            .store(move |store| Ok(store.add_session(&hash, 0)?))
            .await
            .unwrap();
        let mut headers = HeaderMap::new();
        let cookie = HeaderValue::from_str(&format!("theme=dark; {COOKIE}=token")).unwrap();
        headers.insert(header::COOKIE, cookie);
        let half_a_year = SignedDuration::from_hours(24 * 180);
        for (after, is_in) in [
            (SignedDuration::ZERO, true),
            (half_a_year, true),
            (half_a_year + SignedDuration::from_secs(1), false),
        ] {
            *clock.lock().unwrap() = Timestamp::UNIX_EPOCH + after;
            assert_eq!(
                signed_in(&state, &headers).await.unwrap(),
                is_in,
                "{after:?}"
            );
        }
        assert!(!signed_in(&state, &HeaderMap::new()).await.unwrap());
    }
}

//! Who may ask: host and origin checks, the passcode, and signed-in devices.

use crate::error::{ApiError, Body};
use crate::state::AppState;
use argon2::Argon2;
use argon2::password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash};
use axum::extract::{Request, State};
use axum::http::{HeaderMap, Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use cookie::{Cookie, SameSite};
use jiff::SignedDuration;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use std::collections::HashSet;
use std::sync::PoisonError;
use utoipa::ToSchema;

const COOKIE: &str = "murlo_device";
/// A device stays signed in this long.
const SESSION_DAYS: i64 = 180;
/// A passcode of fewer different characters is guessed first.
const DIFFERENT: usize = 3;
/// Sign-ins tried within a minute, by anybody.
const TRIES_A_MINUTE: usize = 5;

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
#[utoipa::path(post, path = "/api/session", request_body = SignIn, responses((status = 204), (status = 401), (status = 429)))]
pub async fn sign_in(
    State(state): State<AppState>,
    Body(given): Body<SignIn>,
) -> Result<impl IntoResponse, ApiError> {
    throttle(&state)?;
    let now = state.now().as_second();
    let token = secret()?;
    let hash = hex(&Sha256::digest(&token));
    state
        .store(move |store| {
            let known = store.passcode()?.unwrap_or_default();
            let fits = PasswordHash::new(&known).is_ok_and(|phc| {
                Argon2::default()
                    .verify_password(given.passcode.as_bytes(), &phc)
                    .is_ok()
            });
            if !fits {
                return Err(ApiError::Forbidden(
                    StatusCode::UNAUTHORIZED,
                    "that is not the passcode".to_owned(),
                ));
            }
            Ok(store.add_session(&hash, now)?)
        })
        .await?;
    let cookie = Cookie::build((COOKIE, token))
        .http_only(true)
        .same_site(SameSite::Strict)
        .path("/")
        .permanent()
        .to_string();
    Ok((StatusCode::NO_CONTENT, [(header::SET_COOKIE, cookie)]))
}

fn throttle(state: &AppState) -> Result<(), ApiError> {
    let now = state.now();
    let mut tries = state
        .attempts
        .lock()
        .unwrap_or_else(PoisonError::into_inner);
    tries.retain(|at| now.duration_since(*at) < SignedDuration::from_mins(1));
    if tries.len() >= TRIES_A_MINUTE {
        let why = "too many tries: wait a minute".to_owned();
        return Err(ApiError::Forbidden(StatusCode::TOO_MANY_REQUESTS, why));
    }
    tries.push(now);
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use axum::http::HeaderValue;
    use jiff::Timestamp;
    use murlo_store::Store;
    use std::sync::{Arc, Mutex};

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

    #[test]
    fn five_passcodes_a_minute_may_be_tried() {
        let (state, clock) = household();
        let turn = |seconds| *clock.lock().unwrap() += SignedDuration::from_secs(seconds);
        for n in 1..=5 {
            assert!(throttle(&state).is_ok(), "the {n}th try");
            turn(1);
        }
        assert!(throttle(&state).is_err());
        // A minute after the first of them one more fits, and only one.
        turn(54);
        assert!(throttle(&state).is_err());
        turn(1);
        assert!(throttle(&state).is_ok());
        assert!(throttle(&state).is_err());
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

//! Who may ask what: the name asked, the page it comes from, the line it came by, and the device that asks.

use crate::asking::Asking;
use crate::error::ApiError;
use crate::sign_in::signed_in;
use crate::state::AppState;
use axum::extract::{Request, State};
use axum::http::{HeaderMap, Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{Html, IntoResponse, Response};
use murlo_household::devices::DeviceKind;
use murlo_line::Arrived;

/// What is answered to whoever asks: whether one is signed in, and ways to be.
const OPEN: [&str; 3] = ["/api/session", "/api/pair", "/api/look"];

/// Addresses that a helper's device is not given, whatever it asks of them. What stands behind them, too.
const NOT_FOR_HELPERS: [&str; 8] = [
    "/api/erase",
    "/api/devices",
    "/api/invitations",
    "/api/export",
    "/api/import",
    "/api/owed",
    "/api/letters",
    "/api/feed",
];

/// Whether `path` is `of` or stands behind it.
fn is_within(path: &str, of: &str) -> bool {
    path.strip_prefix(of)
        .is_some_and(|rest| rest.is_empty() || rest.starts_with(['/', '.']))
}

/// Whether a device of this kind may ask that.
fn may(kind: &DeviceKind, method: &Method, path: &str) -> bool {
    match kind {
        DeviceKind::Full => true,
        // One that looks has a link of its own and asks nothing else.
        DeviceKind::Look { .. } => false,
        DeviceKind::Counts { brewer_id } => {
            *method == Method::POST && path == format!("/api/brewers/{brewer_id}/counts")
        }
        DeviceKind::Helper => {
            let changes = !method.is_safe();
            let is_price = path.starts_with("/api/visits/") && path.ends_with("/paid");
            let is_settings = changes
                && (is_within(path, "/api/settings")
                    || is_within(path, "/api/homes") && !path.ends_with("/away"));
            !(is_price || is_settings || NOT_FOR_HELPERS.iter().any(|of| is_within(path, of)))
        }
    }
}

/// Whether it is answered in plain text where the household has a line that nobody reads along: what helps a device to come in.
fn is_for_strangers(method: &Method, path: &str) -> bool {
    method.is_safe() && (path == "/api/session" || !path.starts_with("/api/"))
}

/// Refuses names that are not ours, pages of other sites, and what is not said on a line that anybody reads along.
pub async fn guard(State(state): State<AppState>, mut request: Request, next: Next) -> Response {
    let refuse = |status, why: &str| ApiError::Forbidden(status, why.to_owned()).into_response();
    let path = request.uri().path().to_owned();
    let is_api = path.starts_with("/api/");
    if !host(request.headers()).is_some_and(|host| state.reached.is_ours(host)) {
        return match is_api {
            true => refuse(StatusCode::FORBIDDEN, UNKNOWN_NAME),
            false => (StatusCode::FORBIDDEN, Html(unknown_name())).into_response(),
        };
    }
    if !own_page(request.headers(), request.method()) {
        let why = "this request comes from another site: open Murlo itself";
        return refuse(StatusCode::FORBIDDEN, why);
    }
    let arrived = request.extensions().get::<Arrived>().copied();
    let arrived = arrived.map(|arrived| state.reached.arrived(arrived, request.headers()));
    let is_secure = arrived.is_some_and(|arrived| arrived.secure);
    if let Some(arrived) = arrived {
        request.extensions_mut().insert(arrived);
    }
    if state.reached.certificates.is_some()
        && !is_secure
        && !is_for_strangers(request.method(), &path)
    {
        let why = "on this line anybody could read along: open the address that begins with https";
        return refuse(StatusCode::FORBIDDEN, why);
    }
    let mut answer = next.run(request).await;
    if state.reached.certificates.is_some() && state.reached.authority.is_none() && is_secure {
        // Only where everybody trusts the certificate: who could not come back in plain text would be locked out by one that ended.
        let kept = axum::http::HeaderValue::from_static("max-age=15552000");
        answer
            .headers_mut()
            .insert(header::STRICT_TRANSPORT_SECURITY, kept);
    }
    answer
}

/// Refuses devices that are not signed in, and what theirs may not; what answers is told who asks.
pub async fn device(State(state): State<AppState>, mut request: Request, next: Next) -> Response {
    let refuse = |status, why: &str| ApiError::Forbidden(status, why.to_owned()).into_response();
    let path = request.uri().path().to_owned();
    if state.guarded {
        let known = match signed_in(&state, request.headers()).await {
            Ok(known) => known,
            Err(error) => return error.into_response(),
        };
        if !OPEN.contains(&path.as_str()) {
            match &known {
                None => {
                    return refuse(
                        StatusCode::UNAUTHORIZED,
                        "sign this device in first: with a code from a device that is, or with the passcode",
                    );
                }
                Some(known) if !may(&known.device.kind, request.method(), &path) => {
                    return refuse(
                        StatusCode::FORBIDDEN,
                        "this device may help, but not that: ask on a device that may do everything",
                    );
                }
                Some(_) => {}
            }
        }
        request.extensions_mut().insert(Asking(known));
    }
    next.run(request).await
}

const UNKNOWN_NAME: &str =
    "Murlo is not known under this name: ask its address, or serve it with --name";

/// What somebody sees who came under a name that is not ours.
fn unknown_name() -> String {
    "<!doctype html><html lang=\"en\"><meta charset=\"utf-8\"><meta name=\"viewport\" content=\"width=device-width\"><title>Murlo</title>\
     <h1>Murlo is here, but not under this name</h1>\
     <p>Open it by its address instead: the Household page on a device that is signed in shows it.</p>\
     <p>If you look after the machine that serves it, and this name is right, start it with <code>--name</code> and this name.</p></html>"
        .to_owned()
}

fn host(headers: &HeaderMap) -> Option<&str> {
    headers.get(header::HOST)?.to_str().ok()
}

/// The origin, where given, must name the host asked.
fn own_page(headers: &HeaderMap, method: &Method) -> bool {
    let origin = headers
        .get(header::ORIGIN)
        .map(|origin| origin.to_str().unwrap_or_default());
    let same = origin.is_none_or(|origin| {
        let at = origin.split_once("://").map(|(_, at)| at);
        at.is_some() && at == host(headers)
    });
    same || method.is_safe()
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    #[test]
    fn each_kind_may_ask_for_its_own() {
        let look = DeviceKind::Look {
            home_id: "pier".to_owned(),
            until: date(2026, 12, 31),
        };
        let counts = DeviceKind::Counts {
            brewer_id: "kiln".to_owned(),
        };
        for (method, path, may_it) in [
            (Method::POST, "/api/brewers/kiln/counts", true),
            (Method::GET, "/api/brewers/kiln/counts", false),
            (Method::POST, "/api/brewers/lamp/counts", false),
            (Method::POST, "/api/brewers/kiln/cleans", false),
        ] {
            assert_eq!(may(&counts, &method, path), may_it, "{method} {path}");
        }
        for (method, path, helper) in [
            (Method::GET, "/api/counter", true),
            (Method::POST, "/api/cleans", true),
            (Method::POST, "/api/homes/pier/away", true),
            (Method::GET, "/api/devices", false),
            (Method::DELETE, "/api/devices/a", false),
            (Method::POST, "/api/invitations", false),
            (Method::GET, "/api/export", false),
            (Method::POST, "/api/import", false),
            (Method::POST, "/api/erase", false),
            (Method::POST, "/api/erase/look", false),
            (Method::GET, "/api/owed", false),
            (Method::GET, "/api/owed.csv", false),
            (Method::POST, "/api/visits/v/paid", false),
            (Method::POST, "/api/visits/v/acts", true),
            (Method::PUT, "/api/settings", false),
            (Method::PUT, "/api/homes/pier", false),
            (Method::GET, "/api/exported", true),
        ] {
            assert!(may(&DeviceKind::Full, &method, path));
            assert!(!may(&look, &method, path));
            assert_eq!(
                may(&DeviceKind::Helper, &method, path),
                helper,
                "{method} {path}"
            );
        }
    }
}

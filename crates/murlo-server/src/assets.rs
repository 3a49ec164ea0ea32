//! The front end's files, as the program brings them.

use crate::error::ApiError;
use crate::state::AppState;
use axum::extract::State;
use axum::http::{HeaderMap, Method, StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use sha2::{Digest, Sha256};

/// What a content is known by.
fn tag(data: &[u8]) -> String {
    let hash = Sha256::digest(data);
    let short: String = hash.iter().take(12).map(|b| format!("{b:02x}")).collect();
    format!("\"{short}\"")
}

/// The household's own authority, for a device that is to trust it.
pub async fn authority(State(state): State<AppState>) -> Response {
    let Some(authority) = &state.reached.authority else {
        let why = "this household has no authority of its own: it is served without --home";
        return ApiError::NotFound(why.to_owned()).into_response();
    };
    let head = [
        (header::CONTENT_TYPE, "application/x-x509-ca-cert"),
        (
            header::CONTENT_DISPOSITION,
            "attachment; filename=\"murlo.crt\"",
        ),
    ];
    (head, authority.der().to_vec()).into_response()
}

/// A file of the front end, or its first page for any address that is a screen.
pub async fn serve(
    State(state): State<AppState>,
    method: Method,
    headers: HeaderMap,
    uri: Uri,
) -> Response {
    if !method.is_safe() {
        let why = "only the API takes this: ask for a page with GET".to_owned();
        return ApiError::Request(StatusCode::METHOD_NOT_ALLOWED, why).into_response();
    }
    let path = uri.path().trim_start_matches('/');
    // A screen has no ending; what has one is a file, and is there or not.
    let is_file = path
        .rsplit('/')
        .next()
        .is_some_and(|name| name.contains('.'));
    if is_file && (state.shell)(path).is_none() {
        return ApiError::NotFound("there is no such file: load the page again".to_owned())
            .into_response();
    }
    let (name, file) = match (state.shell)(path) {
        Some(file) if !path.is_empty() => (path, Some(file)),
        _ => ("index.html", (state.shell)("index.html")),
    };
    let Some(file) = file else {
        return ApiError::NotFound("the front end was not built: run make demo".to_owned())
            .into_response();
    };
    // Names under assets/ carry a hash of their content.
    let cache = if name.starts_with("assets/") {
        "public, max-age=31536000, immutable"
    } else {
        "no-cache"
    };
    let tag = tag(&file.data);
    let known = headers.get_all(header::IF_NONE_MATCH).iter();
    let mut known = known.filter_map(|value| value.to_str().ok());
    let is_known = known.any(|all| {
        all.split(',')
            .any(|one| one.trim().trim_start_matches("W/") == tag)
    });
    let head = [
        (header::CONTENT_TYPE, file.kind),
        (header::CACHE_CONTROL, cache.to_owned()),
        (header::ETAG, tag),
    ];
    match is_known {
        true => (StatusCode::NOT_MODIFIED, head).into_response(),
        false => (head, file.data).into_response(),
    }
}

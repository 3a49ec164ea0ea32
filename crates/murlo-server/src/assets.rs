//! The front end's files, as the program brings them.

use crate::state::AppState;
use axum::extract::State;
use axum::http::{StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};

/// A file of the front end, or its first page for any address that is a screen.
pub async fn serve(State(state): State<AppState>, uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    let (name, file) = match (state.shell)(path) {
        Some(file) if !path.is_empty() => (path, Some(file)),
        _ => ("index.html", (state.shell)("index.html")),
    };
    let Some(file) = file else {
        return (
            StatusCode::NOT_FOUND,
            "the front end was not built: run make demo",
        )
            .into_response();
    };
    // Names under assets/ carry a hash of their content.
    let cache = if name.starts_with("assets/") {
        "public, max-age=31536000, immutable"
    } else {
        "no-cache"
    };
    let head = [
        (header::CONTENT_TYPE, file.kind),
        (header::CACHE_CONTROL, cache.to_owned()),
    ];
    (head, file.data).into_response()
}

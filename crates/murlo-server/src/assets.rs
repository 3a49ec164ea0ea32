//! The built front end, embedded in the binary.

use axum::http::{StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
struct Dist;

/// A file of the front end, or its shell for any address that is a screen.
pub async fn serve(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    let (name, file) = match Dist::get(path) {
        Some(file) if !path.is_empty() => (path, Some(file)),
        _ => ("index.html", Dist::get("index.html")),
    };
    let Some(file) = file else {
        return (
            StatusCode::NOT_FOUND,
            "the front end was not built: run make build",
        )
            .into_response();
    };
    // Names under assets/ carry a hash of their content.
    let cache = if name.starts_with("assets/") {
        "public, max-age=31536000, immutable"
    } else {
        "no-cache"
    };
    let kind = file.metadata.mimetype().to_owned();
    (
        [
            (header::CONTENT_TYPE, kind),
            (header::CACHE_CONTROL, cache.to_owned()),
        ],
        file.data,
    )
        .into_response()
}

//! Answers as tables.

use axum::http::header;
use axum::response::{IntoResponse, Response};

pub(super) fn table(name: &str, text: String) -> Response {
    let headers = [
        (
            header::CONTENT_TYPE,
            "text/csv; charset=utf-8; header=present".to_owned(),
        ),
        (
            header::CONTENT_DISPOSITION,
            format!("attachment; filename=\"{name}\""),
        ),
    ];
    (headers, text).into_response()
}

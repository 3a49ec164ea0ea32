//! The front end's files, as the program brings them.

use crate::error::ApiError;
use crate::page;
use crate::shell::File;
use crate::state::AppState;
use axum::extract::{Request, State};
use axum::http::{HeaderMap, HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};

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
pub async fn serve(State(state): State<AppState>, request: Request) -> Response {
    if !request.method().is_safe() {
        let why = "only the API takes this: ask for a page with GET".to_owned();
        return ApiError::Request(StatusCode::METHOD_NOT_ALLOWED, why).into_response();
    }
    // A screen has no ending; what has one is a file, and is there or not.
    let path = request.uri().path().trim_start_matches('/').to_owned();
    let is_file = path
        .rsplit('/')
        .next()
        .is_some_and(|name| name.contains('.'));
    if !is_file {
        return page::serve(&state, &request.into_parts().0).await;
    }
    match (state.shell)(&path) {
        Some(file) => whole(&state, &path, file, request.headers()),
        None => ApiError::NotFound("there is no such file: load the page again".to_owned())
            .into_response(),
    }
}

/// A file as it is, in the shortest form that the browser reads and the build left.
fn whole(state: &AppState, path: &str, file: File, asked: &HeaderMap) -> Response {
    // Names under assets/ carry a hash of their content.
    let cache = if path.starts_with("assets/") {
        "public, max-age=31536000, immutable"
    } else {
        "no-cache"
    };
    let shorter = [("br", "br"), ("gzip", "gz")];
    let shorter = shorter.into_iter().find_map(|(coding, ending)| {
        let short = reads(asked, coding).then(|| (state.shell)(&format!("{path}.{ending}")))?;
        Some((coding, short?))
    });
    let kind = file.kind.clone();
    let (coding, sent) = match shorter {
        Some((coding, short)) => (Some(coding), short),
        None => (None, file),
    };
    let tag = format!("\"{}\"", sent.tag);
    let known = asked.get_all(header::IF_NONE_MATCH).iter();
    let mut known = known.filter_map(|value| value.to_str().ok());
    let is_known = known.any(|all| {
        all.split(',')
            .any(|one| one.trim().trim_start_matches("W/") == tag)
    });
    let head = [
        (header::CONTENT_TYPE, kind),
        (header::CACHE_CONTROL, cache.to_owned()),
        (header::ETAG, tag),
        (header::VARY, "accept-encoding".to_owned()),
    ];
    let mut answer = match is_known {
        true => (StatusCode::NOT_MODIFIED, head).into_response(),
        false => (head, sent.data).into_response(),
    };
    if let Some(coding) = coding.filter(|_| !is_known) {
        let coding = HeaderValue::from_static(coding);
        answer
            .headers_mut()
            .insert(header::CONTENT_ENCODING, coding);
    }
    answer
}

/// Whether it reads what is compressed so.
fn reads(asked: &HeaderMap, coding: &str) -> bool {
    let all = asked.get_all(header::ACCEPT_ENCODING).iter();
    let mut all = all.filter_map(|value| value.to_str().ok());
    all.any(|all| {
        all.split(',').any(|one| {
            let (name, weight) = one.split_once(';').unwrap_or((one, ""));
            let refused = weight.trim().trim_start_matches("q=").parse::<f64>() == Ok(0.0);
            name.trim().eq_ignore_ascii_case(coding) && !refused
        })
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_browser_says_what_it_reads() {
        for (said, br, gzip) in [
            ("gzip, deflate, br, zstd", true, true),
            ("gzip;q=1.0, br;q=0", false, true),
            ("br; q=0.5", true, false),
            ("BR", true, false),
            ("identity", false, false),
            ("", false, false),
            ("brotli", false, false),
        ] {
            let mut asked = HeaderMap::new();
            asked.insert(
                header::ACCEPT_ENCODING,
                HeaderValue::from_str(said).unwrap(),
            );
            assert_eq!(
                (reads(&asked, "br"), reads(&asked, "gzip")),
                (br, gzip),
                "{said}"
            );
        }
        assert!(!reads(&HeaderMap::new(), "gzip"));
    }
}

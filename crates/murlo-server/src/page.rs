//! A page of the front end as it is sent: with the files its view is made of named at once, and what the view first asks told along.

use crate::error::ApiError;
use crate::state::AppState;
use axum::Router;
use axum::body::{Body, to_bytes};
use axum::http::request::Parts;
use axum::http::{Request, StatusCode, header};
use axum::response::{Html, IntoResponse, Response};
use murlo_line::Arrived;
use serde::Deserialize;
use std::fmt::Write as _;
use tower::ServiceExt as _;

/// More than that is asked for by the view itself.
const MOST_TOLD: usize = 4 << 20;

/// What answers a view's questions: the API, as it answers the device that asked for the page.
#[derive(Clone)]
pub struct ApiAnswers(pub Router);

/// The front end's own list of what its views are made of and first ask.
#[derive(Default, Deserialize)]
struct Views {
    everywhere: Vec<String>,
    #[serde(default)]
    fonts: Vec<String>,
    views: Vec<View>,
}

#[derive(Deserialize)]
struct View {
    /// An address; a part that begins with a colon stands for any.
    at: String,
    files: Vec<String>,
    asks: Vec<String>,
}

impl View {
    /// What it asks at this address; nothing where it is another's.
    fn asked_at(&self, path: &str) -> Option<Vec<String>> {
        let (own, here) = (self.at.split('/'), path.trim_end_matches('/').split('/'));
        let here: Vec<&str> = match path {
            "/" => vec!["", ""],
            _ => here.collect(),
        };
        if own.clone().count() != here.len() {
            return None;
        }
        let mut meant = Vec::new();
        for (own, here) in own.zip(here) {
            match own.starts_with(':') {
                true if !here.is_empty() => meant.push((own, here)),
                _ if own == here => {}
                _ => return None,
            }
        }
        let with = |ask: &String| {
            let mut parts = ask.split('/').map(|part| {
                let known = meant.iter().find(|(own, _)| *own == part);
                known.map_or(part, |(_, here)| here)
            });
            let first = parts.next().unwrap_or_default().to_owned();
            parts.fold(first, |all, part| all + "/" + part)
        };
        Some(self.asks.iter().map(with).collect())
    }
}

/// The page at an address that is a screen.
pub async fn serve(state: &AppState, request: &Parts) -> Response {
    let Some(page) = (state.shell)("index.html") else {
        return ApiError::NotFound("the front end was not built: run make demo".to_owned())
            .into_response();
    };
    let page = String::from_utf8_lossy(&page.data).into_owned();
    let views = (state.shell)("views.json");
    let views: Views = views
        .and_then(|file| serde_json::from_slice(&file.data).ok())
        .unwrap_or_default();
    let path = request.uri.path();
    let here = views.views.iter();
    let here = here
        .filter_map(|view| Some((view, view.asked_at(path)?)))
        .next();
    let (files, asks) = here.map_or((&[][..], Vec::new()), |(view, asks)| {
        (&view.files[..], asks)
    });
    let mut told = String::new();
    if is_told(state, request) {
        // Counted before anything is asked: what changes meanwhile is heard of.
        let changes = state.changes_told();
        for ask in views.everywhere.iter().chain(&asks) {
            if let Some(answer) = answered(request, ask).await {
                let ask = serde_json::Value::from(ask.as_str());
                let _ = write!(told, "{ask}:{answer},");
            }
        }
        told = format!(
            "{{\"changes\":{changes},\"answers\":{{{}}}}}",
            told.trim_end_matches(',')
        );
    }
    let sent = [(header::CACHE_CONTROL, "no-store")];
    (sent, Html(laid_in(&page, &views.fonts, files, &told))).into_response()
}

/// Whether anything is told on this line; the page itself is for everybody.
fn is_told(state: &AppState, request: &Parts) -> bool {
    let arrived = request.extensions.get::<Arrived>();
    state.reached.certificates.is_none() || arrived.is_some_and(|arrived| arrived.secure)
}

/// What the API answers, where it does.
async fn answered(request: &Parts, ask: &str) -> Option<String> {
    let ApiAnswers(answers) = request.extensions.get::<ApiAnswers>()?.clone();
    let mut asked = Request::get(ask);
    for name in [header::HOST, header::COOKIE] {
        for value in request.headers.get_all(&name) {
            asked = asked.header(&name, value);
        }
    }
    let mut asked = asked.body(Body::empty()).ok()?;
    if let Some(arrived) = request.extensions.get::<Arrived>() {
        asked.extensions_mut().insert(*arrived);
    }
    let answer = answers.oneshot(asked).await.ok()?;
    if answer.status() != StatusCode::OK {
        return None;
    }
    let body = to_bytes(answer.into_body(), MOST_TOLD).await.ok()?;
    String::from_utf8(body.into()).ok()
}

/// The page with these fonts and files named and that told; nothing told can end what it stands in.
fn laid_in(page: &str, fonts: &[String], files: &[String], told: &str) -> String {
    let mut head = String::new();
    for font in fonts {
        let _ = write!(
            head,
            "<link rel=\"preload\" as=\"font\" type=\"font/woff2\" crossorigin href=\"{font}\">"
        );
    }
    for file in files {
        let _ = write!(
            head,
            "<link rel=\"modulepreload\" crossorigin href=\"{file}\">"
        );
    }
    if !told.is_empty() {
        let told = told.replace('<', "\\u003c");
        let _ = write!(
            head,
            "<script type=\"application/json\" id=\"told\">{told}</script>"
        );
    }
    page.replacen("</head>", &(head + "</head>"), 1)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn view(at: &str) -> View {
        View {
            at: at.to_owned(),
            files: Vec::new(),
            asks: vec!["/api/brewers/:id".to_owned(), "/api/log?most=60".to_owned()],
        }
    }

    #[test]
    fn a_view_asks_for_what_its_address_means() {
        for (at, path, asked) in [
            ("/brewers/:id", "/brewers/lamp", Some("/api/brewers/lamp")),
            ("/brewers/:id", "/brewers/lamp/", Some("/api/brewers/lamp")),
            ("/brewers/:id", "/brewers/a%2Fb", Some("/api/brewers/a%2Fb")),
            (
                "/brewers/:id/:view",
                "/brewers/lamp/history",
                Some("/api/brewers/lamp"),
            ),
            ("/", "/", Some("/api/brewers/:id")),
            ("/", "/log", None),
            ("/brewers/:id", "/brewers/", None),
            ("/brewers/:id", "/brewers/lamp/plan", None),
            ("/brewers/:id/plan", "/brewers/lamp/edit", None),
            ("/cleans/:id", "/brewers/lamp", None),
        ] {
            let found = view(at).asked_at(path);
            assert_eq!(
                found.as_ref().map(|asks| asks[0].as_str()),
                asked,
                "{at} {path}"
            );
            if let Some(asks) = found {
                assert_eq!(asks[1], "/api/log?most=60");
            }
        }
    }

    #[test]
    fn what_is_told_stays_where_it_stands() {
        let page = "<html><head><title>Murlo</title></head><body></body></html>";
        let files = ["/assets/a.js".to_owned()];
        let laid = laid_in(
            page,
            &["/assets/a.woff2".to_owned()],
            &files,
            "{\"name\":\"</script><b>\"}",
        );
        assert_eq!(
            laid,
            "<html><head><title>Murlo</title><link rel=\"preload\" as=\"font\" type=\"font/woff2\" crossorigin href=\"/assets/a.woff2\"><link rel=\"modulepreload\" crossorigin href=\"/assets/a.js\">\
             <script type=\"application/json\" id=\"told\">{\"name\":\"\\u003c/script>\\u003cb>\"}</script></head><body></body></html>"
        );
        assert_eq!(laid_in(page, &[], &[], ""), page);
    }
}

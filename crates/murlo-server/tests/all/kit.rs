//! A server on a free port of this machine, asked over HTTP by hand-made requests; no HTTP client crate is needed.

use jiff::civil::Date;
use jiff::{Timestamp, ToSpan};
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_household::Settings;
use murlo_server::{AppState, hash_passcode, run};
use murlo_store::Store;
use serde_json::Value;
pub use serde_json::json;
use std::sync::Arc;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::oneshot;

#[derive(Clone)]
pub struct Server {
    pub host: String,
    /// What the device that asks holds.
    cookie: Option<String>,
    _stop: Arc<oneshot::Sender<()>>,
}

pub struct Answer {
    pub status: u16,
    pub head: String,
    pub body: Value,
}

/// When the tests take place; any instant must do, so a run may name another.
pub fn now() -> Timestamp {
    let named = std::env::var("MURLO_TEST_NOW");
    let named = named.as_deref().unwrap_or("2026-11-23T12:00:00Z");
    named.parse().expect("MURLO_TEST_NOW is an instant")
}

/// Where they take place.
pub fn zone() -> String {
    std::env::var("MURLO_TEST_ZONE").unwrap_or_else(|_| "UTC".to_owned())
}

/// So many days ago, where the household lives.
pub fn day(ago: i64) -> Date {
    let today = now().in_tz(&zone()).expect("a known zone").date();
    today.saturating_sub(ago.days())
}

/// The same as people say it.
pub fn said(ago: i64) -> String {
    murlo_base::text::day(day(ago), day(0))
}

/// A body that came in chunks.
fn whole(mut chunked: &[u8]) -> Vec<u8> {
    let mut body = Vec::new();
    while let Some(at) = chunked.windows(2).position(|two| two == b"\r\n") {
        let size = std::str::from_utf8(&chunked[..at]).unwrap();
        let size = usize::from_str_radix(size, 16).unwrap();
        if size == 0 {
            break;
        }
        body.extend_from_slice(&chunked[at + 2..at + 2 + size]);
        chunked = &chunked[at + 4 + size..];
    }
    body
}

impl Server {
    pub async fn start() -> Self {
        Self::with(false).await
    }

    pub async fn with(guarded: bool) -> Self {
        Self::serving(guarded, |state| state).await
    }

    pub async fn serving(guarded: bool, furnish: impl FnOnce(AppState) -> AppState) -> Self {
        let store = Store::in_memory().unwrap();
        let home = Home::named("home", "Own kitchen");
        let settings = Settings {
            time_zone: zone(),
            ..Settings::default()
        };
        store
            .start_with(&Agent::starters(), &home, &settings)
            .unwrap();
        if guarded {
            store
                .set_passcode(&hash_passcode("chalk and water").unwrap())
                .unwrap();
        }
        let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
        let host = listener.local_addr().unwrap().to_string();
        let (stop, stopped) = oneshot::channel::<()>();
        let shutdown = async { stopped.await.unwrap_or_default() };
        let state = furnish(AppState::new(store, guarded, now));
        tokio::spawn(run(listener, state, shutdown));
        Self {
            host,
            cookie: None,
            _stop: Arc::new(stop),
        }
    }

    pub async fn raw(
        &self,
        method: &str,
        path: &str,
        headers: &str,
        body: impl AsRef<[u8]>,
    ) -> Answer {
        let body = body.as_ref();
        let mut stream = TcpStream::connect(&self.host).await.unwrap();
        let length = body.len();
        let request = format!(
            "{method} {path} HTTP/1.1\r\nconnection: close\r\ncontent-length: {length}\r\n{headers}\r\n"
        );
        stream.write_all(request.as_bytes()).await.unwrap();
        stream.write_all(body).await.unwrap();
        let mut text = Vec::new();
        stream.read_to_end(&mut text).await.unwrap();
        let parted = text
            .windows(4)
            .position(|four| four == b"\r\n\r\n")
            .unwrap();
        let head = String::from_utf8_lossy(&text[..parted]).to_lowercase();
        let mut body = text[parted + 4..].to_vec();
        if head.contains("transfer-encoding: chunked") {
            body = whole(&body);
        }
        Answer {
            status: head[9..12].parse().unwrap(),
            body: serde_json::from_slice(&body).unwrap_or(Value::Null),
            head,
        }
    }

    /// What stands at `path` where it is no JSON, with the status.
    pub async fn text(&self, path: &str) -> (u16, String) {
        let mut stream = TcpStream::connect(&self.host).await.unwrap();
        // Of the first version of HTTP, so that the answer comes in one piece.
        let cookie = self.cookie.as_ref();
        let cookie = cookie.map_or_else(String::new, |cookie| format!("cookie: {cookie}\r\n"));
        let request = format!("GET {path} HTTP/1.0\r\nhost: {}\r\n{cookie}\r\n", self.host);
        stream.write_all(request.as_bytes()).await.unwrap();
        let mut text = String::new();
        stream.read_to_string(&mut text).await.unwrap();
        let (head, body) = text.split_once("\r\n\r\n").unwrap();
        (head[9..12].parse().unwrap(), body.to_owned())
    }

    /// The same, asked by the device that was taken in with this answer.
    pub fn as_taken_in(&self, answer: &Answer) -> Self {
        assert_eq!(answer.status, 204, "{}", answer.body);
        // Tokens are hexadecimal, so reading the head in lower case leaves them whole.
        let set = answer
            .head
            .lines()
            .find_map(|line| line.strip_prefix("set-cookie: "));
        let cookie = set.and_then(|set| set.split(';').next()).unwrap();
        Self {
            cookie: Some(cookie.to_owned()),
            ..self.clone()
        }
    }

    pub async fn ask(&self, method: &str, path: &str, body: Value) -> Answer {
        let mut headers = format!("host: {}\r\ncontent-type: application/json\r\n", self.host);
        if let Some(cookie) = &self.cookie {
            headers += &format!("cookie: {cookie}\r\n");
        }
        let body = if body.is_null() {
            String::new()
        } else {
            body.to_string()
        };
        self.raw(method, path, &headers, &body).await
    }
}

/// Adds a pod brewer on very hard water; gives its id.
pub async fn with_brewer(server: &Server) -> String {
    let reading = json!({"by": "strip", "value": 12.0, "unit": "gpg"});
    let water = server
        .ask(
            "POST",
            "/api/waters",
            json!({"name": "Harbour mains", "reading": reading}),
        )
        .await
        .body;
    with_family(server, 0, &water["id"]).await
}

/// Adds a brewer of the `n`th family; gives its id.
pub async fn with_family(server: &Server, n: usize, water_id: &Value) -> String {
    let families = server.ask("GET", "/api/families", Value::Null).await.body;
    let mut draft = families[n]["draft"].clone();
    draft["nickname"] = json!("Lamp-room pod");
    draft["water_id"] = water_id.clone();
    draft["in_use_since"] = json!(day(114));
    draft["beforehand"] = Value::Null;
    let answer = server.ask("POST", "/api/brewers", draft).await;
    assert_eq!(answer.status, 200, "{}", answer.body);
    answer.body["id"].as_str().unwrap().to_owned()
}

/// The view of a clean that was begun, followed from its first act to its last, all well; the bath brought `showed`. Gives where
/// it stands then.
pub async fn to_the_end(server: &Server, clean: &str, begun: &Value, showed: &str) -> Value {
    let mut state = begun["state"].clone();
    let mut n = 0;
    while state["closed"].is_null() {
        n += 1;
        let act = match state["step"]["id"].as_str() {
            Some("look") => {
                json!({"kind": "answered", "step": "look", "answers": {"showed": showed, "flakes": "good"}})
            }
            Some("verify") => {
                let answers = json!({"smell": "good", "nose": "fresh", "clear": "good", "light": "good", "flakes": "good"});
                json!({"kind": "answered", "step": "verify", "answers": answers})
            }
            _ => state["next"]["act"].clone(),
        };
        let path = format!("/api/cleans/{clean}/events");
        let sent = json!({"id": format!("{clean}-{n}"), "act": act});
        let answer = server.ask("POST", &path, sent).await;
        assert_eq!(answer.status, 200, "{}", answer.body);
        state = answer.body["state"].clone();
    }
    state
}

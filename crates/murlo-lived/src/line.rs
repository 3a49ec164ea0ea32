//! The household's server, and the line to it.

use jiff::{SignedDuration, Timestamp};
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_household::Settings;
use murlo_server::{AppState, run};
use murlo_store::Store;
use serde_json::Value;
use std::io::{Read, Write};
use std::net::TcpStream;
use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};
use tokio::net::TcpListener;
use tokio::runtime::Runtime;

/// A household that is served on a port of this machine, whose clock the world sets.
pub(crate) struct HouseLine {
    host: String,
    clock: Arc<AtomicI64>,
    _runtime: Runtime,
}

impl HouseLine {
    /// An empty household, at `now`.
    pub(crate) fn new(now: Timestamp) -> Self {
        let store = Store::in_memory().expect("a database in memory");
        let home = Home::named("home", "Own kitchen");
        let settings = Settings::default();
        let begun = store.start_with(&Agent::starters(), &home, &settings);
        begun.expect("an empty household");
        let clock = Arc::new(AtomicI64::new(now.as_second()));
        let told = Arc::clone(&clock);
        let state = AppState::new(store, false, move || {
            Timestamp::from_second(told.load(Ordering::Relaxed)).unwrap_or(Timestamp::MAX)
        });
        let runtime = Runtime::new().expect("threads");
        let listener = runtime.block_on(TcpListener::bind("127.0.0.1:0"));
        let listener = listener.expect("a free port");
        let host = listener.local_addr().expect("its address").to_string();
        runtime.spawn(run(listener, state, std::future::pending()));
        Self {
            host,
            clock,
            _runtime: runtime,
        }
    }

    /// Time passes.
    pub(crate) fn pass(&self, minutes: f64) {
        let seconds = SignedDuration::from_secs_f64(minutes * 60.0).as_secs();
        self.clock.fetch_add(seconds, Ordering::Relaxed);
    }

    /// Asks over HTTP: the status and the answer.
    pub(crate) fn ask(&self, method: &str, path: &str, body: &Value) -> (u16, Value) {
        let body = if body.is_null() {
            String::new()
        } else {
            body.to_string()
        };
        let mut stream = TcpStream::connect(&self.host).expect("it is served");
        let (host, length) = (&self.host, body.len());
        write!(
            stream,
            "{method} {path} HTTP/1.1\r\nhost: {host}\r\nconnection: close\r\ncontent-type: application/json\r\ncontent-length: {length}\r\n\r\n{body}"
        )
        .expect("it listens");
        let mut text = Vec::new();
        stream.read_to_end(&mut text).expect("it answers whole");
        let text = String::from_utf8_lossy(&text);
        let (head, body) = text.split_once("\r\n\r\n").expect("a head and a body");
        let status = head[9..12].parse().expect("a status");
        let start = body.find(['{', '[']).unwrap_or(0);
        let end = body.rfind(['}', ']']).map_or(0, |at| at + 1);
        let body = serde_json::from_str(&body[start.min(end)..end]).unwrap_or(Value::Null);
        (status, body)
    }

    /// What stands at `path`.
    pub(crate) fn get(&self, path: &str) -> Value {
        let (status, body) = self.ask("GET", path, &Value::Null);
        assert_eq!(status, 200, "{path}: {body}");
        body
    }
}

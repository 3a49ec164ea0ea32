//! Files that were edited, cut or damaged: taken whole or not at all, and whatever was taken still answers.
//!
//! Short by default; `MURLO_IMPORTS=20000` (as `make faults` sets) tries that many.

use crate::kit::{Server, json};
use proptest::prelude::*;
use proptest::test_runner::{Config, TestRunner};
use serde_json::Value;
use std::time::Duration;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;

/// One brewer of each of three families, and all that belongs to them.
fn household() -> Value {
    let landed = include_str!("../../../murlo-household/testdata/landed-1.json");
    let mut export = serde_json::from_str::<Value>(landed).unwrap()["export"].take();
    let kept = ["harbour-pod", "galley", "office-coded"];
    let is_kept = |id: &Value| kept.contains(&id.as_str().unwrap_or_default());
    let only = |export: &mut Value, list: &str, id: &str| {
        let list = export[list].as_array_mut().unwrap();
        list.retain(|item| is_kept(item.pointer(id).unwrap()));
    };
    only(&mut export, "brewers", "/fact/id");
    only(&mut export, "past_cleans", "/fact/brewer_id");
    only(&mut export, "journal", "/fact/brewer_id");
    only(&mut export, "cleans", "/plan/brewer_id");
    let clean = &export["cleans"][0]["id"];
    export["photos"] = json!([{"id": "p1", "clean_id": clean, "jpeg": "/9j/wAAC/9oAAv/Z"}]);
    export
}

/// What editors, other programs and bad sectors leave.
fn odd(n: usize, now: &Value) -> Value {
    let number = now.as_f64().unwrap_or(1.0);
    let all = [
        Value::Null,
        json!(true),
        json!(0),
        json!(-1),
        json!(1),
        json!(1e308),
        json!(-1e308),
        json!(5e-324),
        json!(6e9),
        json!(4_294_967_295_u32),
        json!(i64::MAX),
        json!(u64::MAX),
        json!(number * 1000.0),
        json!(-number),
        json!(number + 1.0),
        json!(""),
        json!(" "),
        json!("x".repeat(9000)),
        json!("a\u{0}b"),
        json!("../../etc"),
        json!("Mars/Olympus"),
        json!("9999-12-31"),
        json!("-009999-01-01"),
        json!("2026-02-29"),
        json!("9999-12-30T22:00:00Z"),
        json!("-009999-01-02T01:59:59Z"),
        json!("1970-01-01T00:00:00Z"),
        json!("PGh0bWw+PC9odG1sPg=="),
        json!([]),
        json!({}),
        json!([[[]]]),
    ];
    all[n % all.len()].clone()
}

/// Every place in a document, as pointers.
fn places(value: &Value, at: &str, all: &mut Vec<String>) {
    match value {
        Value::Array(items) => {
            for (n, item) in items.iter().enumerate() {
                places(item, &format!("{at}/{n}"), all);
            }
        }
        Value::Object(fields) => {
            for (name, item) in fields {
                places(item, &format!("{at}/{name}"), all);
            }
        }
        _ => {}
    }
    all.push(at.to_owned());
}

/// Changes a document in one place: another value, a field gone, an entry twice, two entries the wrong way round, or a
/// value that stands elsewhere.
fn mutate(document: &mut Value, places: &[String], (at, how, what): (usize, usize, usize)) {
    let at = &places[at % places.len()];
    let elsewhere = document.pointer(&places[what % places.len()]).cloned();
    let Some(value) = document.pointer_mut(at) else {
        return;
    };
    match (how % 8, value) {
        (0, Value::Object(fields)) if !fields.is_empty() => {
            let name = fields.keys().nth(what % fields.len()).cloned().unwrap();
            fields.remove(&name);
        }
        (1, Value::Array(items)) if !items.is_empty() => {
            let twice = items[what % items.len()].clone();
            items.push(twice);
        }
        (2, Value::Array(items)) if items.len() > 1 => {
            let n = items.len();
            items.swap(what % n, (what / n) % n);
        }
        (3, Value::Array(items)) if !items.is_empty() => {
            items.remove(what % items.len());
        }
        (4, value) => *value = elsewhere.unwrap_or_default(),
        (_, value) => *value = odd(what, value),
    }
}

/// Asks for everything that is computed from a household.
async fn everything_answers(server: &Server, document: &Value) -> Result<(), TestCaseError> {
    let mut asked = vec![
        ("GET", "/api/counter".to_owned()),
        ("GET", "/api/waters".to_owned()),
        ("GET", "/api/household".to_owned()),
        ("GET", "/api/log".to_owned()),
        ("GET", "/api/export".to_owned()),
    ];
    for brewer in document["brewers"].as_array().into_iter().flatten() {
        let id = brewer["fact"]["id"].as_str().unwrap_or_default();
        asked.push(("GET", format!("/api/brewers/{id}")));
        for path in ["plan", "baths", "what-if"] {
            asked.push(("POST", format!("/api/brewers/{id}/{path}")));
        }
    }
    for clean in document["cleans"].as_array().into_iter().flatten() {
        let id = clean["id"].as_str().unwrap_or_default();
        asked.push(("GET", format!("/api/cleans/{id}")));
        asked.push(("GET", format!("/api/cleans/{id}/mishaps")));
        let act = json!({"id": "after-import", "act": {"kind": "noted", "text": "taken in"}});
        let answer = server
            .ask("POST", &format!("/api/cleans/{id}/events"), act)
            .await;
        prop_assert!(answer.status < 500, "{id}: {}", answer.body);
    }
    for (method, path) in asked {
        let body = match method {
            "GET" => Value::Null,
            _ => json!({}),
        };
        let answer = server.ask(method, &path, body).await;
        prop_assert!(answer.status < 500, "{method} {path}: {}", answer.body);
    }
    Ok(())
}

#[test]
fn a_changed_file_is_taken_whole_or_not_at_all_and_what_was_taken_answers() {
    let runtime = tokio::runtime::Runtime::new().unwrap();
    let server = runtime.block_on(Server::start());
    let good = household();
    let taken = |document: &Value| {
        let text = document.clone();
        runtime.block_on(server.ask("POST", "/api/import?replace=true", text))
    };
    assert_eq!(taken(&good).status, 204);
    let mut all = Vec::new();
    places(&good, "", &mut all);
    let cases = std::env::var("MURLO_IMPORTS").map_or(60, |n| n.parse().unwrap());
    let mut runner = TestRunner::new(Config {
        cases,
        failure_persistence: None,
        max_shrink_iters: 200,
        ..Config::default()
    });
    let changes = proptest::collection::vec((any::<usize>(), any::<usize>(), any::<usize>()), 1..4);
    let accepted = std::cell::Cell::new(0);
    let tried = runner.run(&changes, |changes| {
        let mut document = good.clone();
        for change in changes {
            mutate(&mut document, &all, change);
        }
        let before = runtime.block_on(server.ask("GET", "/api/export", Value::Null));
        let answer = taken(&document);
        prop_assert!(answer.status < 500, "{}: {}", answer.status, answer.body);
        if answer.status == 204 {
            accepted.set(accepted.get() + 1);
            return runtime.block_on(everything_answers(&server, &document));
        }
        let after = runtime.block_on(server.ask("GET", "/api/export", Value::Null));
        prop_assert!(before.body == after.body, "a refused file changes nothing");
        prop_assert!(
            answer.body["detail"].as_str().is_some_and(|d| d.len() > 8),
            "{}",
            answer.body
        );
        Ok(())
    });
    if let Err(failure) = tried {
        panic!("{failure}");
    }
    assert!(
        accepted.get() > 0,
        "nothing was ever taken, so nothing was tried"
    );
    println!("{} of {cases} changed files were taken", accepted.get());
}

#[tokio::test]
async fn a_file_that_stops_coming_is_let_go_and_changes_nothing() {
    let waits = Duration::from_millis(200);
    let server = Server::serving(false, |state| state.waiting_for_bodies(waits)).await;
    let before = server.ask("GET", "/api/export", Value::Null).await.body;
    let mut stream = TcpStream::connect(&server.host).await.unwrap();
    let head = format!(
        "POST /api/import?replace=true HTTP/1.1\r\nhost: {}\r\ncontent-type: application/json\r\ncontent-length: 500\r\n\r\n",
        server.host
    );
    stream.write_all(head.as_bytes()).await.unwrap();
    stream.write_all(b"{\"format\": ").await.unwrap();
    let mut answer = [0; 1024];
    let n = stream.read(&mut answer).await.unwrap();
    let answer = String::from_utf8_lossy(&answer[..n]);
    assert!(answer.starts_with("HTTP/1.1 408"), "{answer}");
    assert!(answer.contains("send it again"), "{answer}");
    let after = server.ask("GET", "/api/export", Value::Null).await.body;
    assert_eq!(before, after);
}

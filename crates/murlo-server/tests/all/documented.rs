//! Whatever is asked of whatever address: the answer is one that the document declares, and a refusal has words.

use crate::kit::{Server, json, with_brewer};
use serde_json::Value;

/// How many askings of each address; a nightly run takes more.
fn askings() -> usize {
    let told = std::env::var("MURLO_FUZZ").ok();
    told.and_then(|n| n.parse().ok()).unwrap_or(12)
}

/// Numbers that look like chance and are the same every time.
struct Chance(u64);

impl Chance {
    fn next(&mut self, below: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 % below as u64) as usize
    }
}

/// What may stand in an address.
fn part(chance: &mut Chance, known: &str) -> String {
    let parts = [
        known,
        "none",
        "..",
        "%00",
        "%ff%fe",
        "a%2Fb",
        "-1",
        "9999999999999999999999",
        "%F0%9F%98%80",
        "x'--",
        "main",
    ];
    match chance.next(parts.len() + 1) {
        n if n < parts.len() => parts[n].to_owned(),
        _ => "y".repeat(300),
    }
}

/// What may be sent: JSON of any shape, and what is none.
fn body(chance: &mut Chance, depth: usize) -> Value {
    let keys = [
        "id", "name", "kind", "act", "day", "what", "value", "options", "stops", "panel", "taught",
        "at", "percent",
    ];
    match chance.next(if depth > 2 { 8 } else { 10 }) {
        0 => Value::Null,
        1 => json!(chance.next(2) == 0),
        2 => json!(-1),
        3 => json!(1e308),
        4 => json!(""),
        5 => json!("2026-02-30"),
        6 => json!("\u{0}\u{200b}"),
        7 => json!("z".repeat(9000)),
        8 => (0..chance.next(4))
            .map(|_| body(chance, depth + 1))
            .collect(),
        _ => {
            let mut fields = serde_json::Map::new();
            for _ in 0..chance.next(6) {
                fields.insert(
                    keys[chance.next(keys.len())].to_owned(),
                    body(chance, depth + 1),
                );
            }
            Value::Object(fields)
        }
    }
}

fn sent(chance: &mut Chance) -> (String, Vec<u8>) {
    let kinds = [
        "application/json",
        "application/json",
        "application/json",
        "text/plain",
        "image/jpeg",
        "",
    ];
    let kind = kinds[chance.next(kinds.len())].to_owned();
    let body = match chance.next(6) {
        0 => b"{".to_vec(),
        1 => vec![0xff, 0xfe, 0x00],
        2 => Vec::new(),
        _ => body(chance, 0).to_string().into_bytes(),
    };
    (kind, body)
}

#[tokio::test]
async fn every_answer_is_declared_and_every_refusal_has_words() {
    let server = Server::start().await;
    let brewer = with_brewer(&server).await;
    let document = server
        .ask("GET", "/api/openapi.json", Value::Null)
        .await
        .body;
    let mut chance = Chance(0x9e37_79b9_7f4a_7c15);
    let mut asked = 0;
    for (path, methods) in document["paths"].as_object().unwrap() {
        // A stream stays open on purpose.
        if path == "/api/changes" {
            continue;
        }
        for (method, operation) in methods.as_object().unwrap() {
            for _ in 0..askings() {
                let mut place = path.clone();
                while let Some((from, to)) = place.find('{').zip(place.find('}')) {
                    place.replace_range(from..=to, &part(&mut chance, &brewer));
                }
                if chance.next(3) == 0 {
                    place +=
                        ["?id=", "?replace=maybe", "?most=-1", "?year=x", "?%ff"][chance.next(5)];
                }
                let (kind, body) = sent(&mut chance);
                let head = format!("host: {}\r\ncontent-type: {kind}\r\n", server.host);
                let method = method.to_uppercase();
                let answer = server.raw(&method, &place, &head, &body).await;
                asked += 1;
                let status = answer.status.to_string();
                let shown = String::from_utf8_lossy(&body[..body.len().min(200)]).into_owned();
                // This household is in memory, and has nowhere for letters.
                let has_no_outbox = answer.status == 503 && path.starts_with("/api/letters");
                // A part that is no part of an address leads elsewhere.
                let is_elsewhere = [404, 405].contains(&answer.status);
                assert!(
                    is_elsewhere || !operation["responses"][&status].is_null(),
                    "{method} {place} {kind} {shown}: {status} is not declared"
                );
                assert!(
                    answer.status < 500 || has_no_outbox,
                    "{method} {place} {kind} {shown}: {status}"
                );
                if answer.status >= 400 {
                    assert!(
                        answer.head.contains("application/problem+json"),
                        "{method} {place}: {}",
                        answer.head
                    );
                    assert!(
                        answer.body["detail"]
                            .as_str()
                            .is_some_and(|words| words.len() > 8),
                        "{method} {place}: {}",
                        answer.body
                    );
                }
            }
        }
    }
    assert!(asked > 1000, "{asked}");
    assert_eq!(
        server.ask("GET", "/api/counter", Value::Null).await.status,
        200,
        "it still stands"
    );
}

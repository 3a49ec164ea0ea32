//! Cleans that were begun before anybody asked, over HTTP.

use crate::kit::{Answer, Server, json, to_the_end, with_brewer};
use serde_json::Value;

async fn start(server: &Server, brewer: &str, id: &str, begun: &Value) -> Answer {
    let path = format!("/api/brewers/{brewer}/cleans");
    let body = json!({"id": id, "options": {}, "begun": begun});
    server.ask("POST", &path, body).await
}

fn standing() -> Value {
    json!({
        "agent_id": "vinegar", "recipe": {"kind": "ratio", "agent": 1.0, "water": 1.0},
        "level": 0.5, "dispenses": 1, "minutes_ago": 20.0, "stood": {"kind": "now"},
    })
}

#[tokio::test]
async fn it_opens_where_it_stands_is_told_on_the_counter_and_begins_once() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let view = start(&server, &id, "c1", &standing()).await;
    assert_eq!(view.status, 200, "{}", view.body);
    let state = &view.body["state"];
    assert_eq!(state["step"]["id"], "soak");
    assert_eq!(state["inside"], "bath");
    let at = state["current"].as_u64().unwrap() as usize;
    assert!(!state["steps"][at]["timer"].is_null());
    let again = start(&server, &id, "c1", &standing()).await;
    assert_eq!(again.status, 200);
    assert_eq!(again.body["events"], view.body["events"]);
    let counter = server.ask("GET", "/api/counter", Value::Null).await.body;
    assert_eq!(counter["inside"][0]["clean_id"], "c1");
    assert!(
        counter["inside"][0]["text"]
            .as_str()
            .unwrap()
            .contains("ACID INSIDE")
    );
    // Nothing else is begun on it.
    assert_eq!(start(&server, &id, "c2", &standing()).await.status, 409);
    // It goes on like another clean, and what was poured is in the log.
    let state = to_the_end(&server, "c1", &view.body, "some").await;
    assert_eq!(state["closed"], "finished");
    assert_eq!(state["outcome"]["poured"][0]["agent_id"], "vinegar");
    let export = server.ask("GET", "/api/export", Value::Null).await.body;
    let back = server.ask("POST", "/api/import?replace=true", export).await;
    assert_eq!(back.status, 204, "{}", back.body);
}

#[tokio::test]
async fn what_cannot_be_is_refused_by_its_field_and_begins_nothing() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    for (field, value, named) in [
        ("total", json!("9 gal"), "begun.total"),
        ("level", json!(3.0), "begun.level"),
        ("dispenses", json!(900), "begun.dispenses"),
        ("minutes_ago", json!(-2.0), "begun.minutes_ago"),
        ("agent_id", json!("gin"), "begun.agent_id"),
        (
            "stood",
            json!({"kind": "was", "minutes": 90.0}),
            "begun.stood.minutes",
        ),
    ] {
        let mut begun = standing();
        begun[field] = value;
        let refused = start(&server, &id, "c1", &begun).await;
        assert_eq!(refused.status, 422, "{field}: {}", refused.body);
        assert_eq!(
            refused.body["errors"][0]["field"], named,
            "{}",
            refused.body
        );
    }
    let counter = server.ask("GET", "/api/counter", Value::Null).await.body;
    assert_eq!(counter["inside"], json!([]));
}

//! Buttons and lamps, taught by doing: each family once, and what its steps then say and draw.

use crate::kit::{Answer, Server, json, with_family};
use serde_json::Value;

async fn get(server: &Server, path: &str) -> Value {
    let answer = server.ask("GET", path, Value::Null).await;
    assert_eq!(answer.status, 200, "{path}: {}", answer.body);
    answer.body
}

/// Two buttons and a lamp.
fn panel() -> Value {
    json!({"controls": [
        {"id": "a", "kind": "button", "shape": "round", "word": "sun", "x": 0.2, "y": 0.5},
        {"id": "b", "kind": "button", "shape": "square", "word": "moon", "x": 0.6, "y": 0.5},
        {"id": "l", "kind": "lamp", "shape": "round", "word": "drop", "x": 0.9, "y": 0.2},
    ], "photo": null})
}

/// A script for every purpose that is asked: the sun held for entering, else the moon.
fn taught(asks: &Value) -> Value {
    let script = |ask: &Value| match ask["part"].as_str() {
        Some("enter") => {
            json!({"part": "enter", "touches": [{"controls": ["a"], "hold_seconds": 3.2}]})
        }
        part => json!({"part": part, "touches": [{"controls": ["b"], "hold_seconds": null}]}),
    };
    asks.as_array().unwrap().iter().map(script).collect()
}

async fn teach(server: &Server, path: &str, taught: Value) -> Answer {
    let signals = json!([{"seen": "a light", "means": "wants_water", "lamp": {"control": "l", "does": "flashes"}}]);
    let body = json!({"panel": panel(), "taught": taught, "signals": signals});
    server.ask("PUT", path, body).await
}

#[tokio::test]
async fn each_family_is_taught_once_and_its_steps_say_and_draw_it() {
    let server = Server::start().await;
    let reading = json!({"by": "strip", "value": 12.0, "unit": "gpg"});
    let water = json!({"name": "Harbour mains", "reading": reading});
    let water = server.ask("POST", "/api/waters", water).await.body["id"].clone();
    let families = get(&server, "/api/families").await;
    for n in 0..families.as_array().unwrap().len() {
        let brewer = with_family(&server, n, &water).await;
        let view = get(&server, &format!("/api/brewers/{brewer}")).await;
        for side in view["card"]["circuits"].as_array().unwrap() {
            let side = side["circuit_id"].as_str().unwrap();
            let path = format!("/api/brewers/{brewer}/sides/{side}/buttons");
            let asks = get(&server, &path).await["asks"].clone();
            assert!(!asks.as_array().unwrap().is_empty(), "family {n}, {side}");
            let kept = teach(&server, &path, taught(&asks)).await;
            assert_eq!(kept.status, 204, "{}", kept.body);
            let options = json!({"work": "rehearsal", "circuit_id": side});
            let clean = format!("r{n}-{side}");
            let start = json!({"id": clean, "options": options});
            let begun = server
                .ask("POST", &format!("/api/brewers/{brewer}/cleans"), start)
                .await;
            assert_eq!(begun.status, 200, "{}", begun.body);
            let plan = begun.body["plan"]["steps"].to_string();
            assert!(
                plan.contains("‘moon’") || plan.contains("‘sun’"),
                "family {n}, {side}"
            );
            // Followed to its end, each step that takes buttons has them drawn.
            let mut drawn = Vec::new();
            let mut view = begun.body;
            for act in 0..100 {
                if !view["state"]["closed"].is_null() {
                    break;
                }
                if let Some(parts) = view["buttons"]["parts"].as_array() {
                    drawn.extend(
                        parts
                            .iter()
                            .map(|part| part["part"].as_str().unwrap().to_owned()),
                    );
                }
                let sent =
                    json!({"id": format!("{clean}-{act}"), "act": view["state"]["next"]["act"]});
                let answer = server
                    .ask("POST", &format!("/api/cleans/{clean}/events"), sent)
                    .await;
                assert_eq!(answer.status, 200, "{}", answer.body);
                view = answer.body;
            }
            assert!(!view["state"]["closed"].is_null());
            assert!(!drawn.is_empty(), "family {n}, {side}: nothing was drawn");
        }
    }
}

#[tokio::test]
async fn a_wrong_button_is_corrected_in_the_step_where_it_failed() {
    let server = Server::start().await;
    let brewer = crate::kit::with_brewer(&server).await;
    let side =
        get(&server, &format!("/api/brewers/{brewer}")).await["card"]["circuits"][0]["circuit_id"]
            .clone();
    let path = format!(
        "/api/brewers/{brewer}/sides/{}/buttons",
        side.as_str().unwrap()
    );
    let enter =
        |id: &str| json!([{"part": "enter", "touches": [{"controls": [id], "hold_seconds": 3.0}]}]);
    assert_eq!(teach(&server, &path, enter("a")).await.status, 204);
    let start = json!({"id": "c", "options": {}});
    let begun = server
        .ask("POST", &format!("/api/brewers/{brewer}/cleans"), start)
        .await
        .body;
    let says = |view: &Value, words: &str| view["plan"]["steps"].to_string().contains(words);
    assert!(says(&begun, "Hold the button ‘sun’ for 3 s"));
    // A plain cup, which is looked at first, may be another button than in the mode: it is asked, not guessed.
    let first = &begun["buttons"];
    assert_eq!(
        (&first["parts"], &first["asks"][0]["part"]),
        (&json!([]), &json!("cup")),
        "{first}"
    );
    assert_eq!(teach(&server, &path, enter("b")).await.status, 204);
    let ahead = get(&server, "/api/cleans/c/ahead").await.to_string();
    assert!(ahead.contains("‘moon’") && !ahead.contains("‘sun’"));
    let now = get(&server, "/api/cleans/c").await;
    assert!(says(&now, "Hold the button ‘moon’ for 3 s") && !says(&now, "sun"));
    // What is kept is what was planned: a new start from the file says the same again.
    let export = get(&server, "/api/export").await;
    let again = server
        .ask("POST", "/api/import?replace=true", export.clone())
        .await;
    assert_eq!(again.status, 204, "{}", again.body);
    assert_eq!(get(&server, "/api/export").await, export);
}

#[tokio::test]
async fn what_cannot_be_is_refused_and_changes_nothing() {
    let server = Server::start().await;
    let brewer = crate::kit::with_brewer(&server).await;
    let circuit =
        get(&server, &format!("/api/brewers/{brewer}")).await["card"]["circuits"][0]["circuit_id"]
            .clone();
    let path = format!(
        "/api/brewers/{brewer}/sides/{}/buttons",
        circuit.as_str().unwrap()
    );
    let before = get(&server, &path).await;
    let script = |part: &str, id: &str| json!([{"part": part, "touches": [{"controls": [id]}]}]);
    for (taught, field) in [
        (
            script("press", "z"),
            "operation.taught.0.touches.0.controls",
        ),
        (
            script("press", "l"),
            "operation.taught.0.touches.0.controls",
        ),
        (script("purge", "a"), "taught.0.part"),
    ] {
        let refused = teach(&server, &path, taught).await;
        assert_eq!(
            (refused.status, &refused.body["errors"][0]["field"]),
            (422, &json!(field)),
            "{}",
            refused.body
        );
    }
    let mut on_photo = panel();
    on_photo["photo"] = json!("none");
    let body = json!({"panel": on_photo, "taught": [], "signals": []});
    assert_eq!(server.ask("PUT", &path, body).await.status, 404);
    assert_eq!(get(&server, &path).await, before);
    let nowhere = path.replace(circuit.as_str().unwrap(), "none");
    assert_eq!(teach(&server, &nowhere, json!([])).await.status, 422);
}

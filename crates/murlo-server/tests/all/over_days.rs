//! Cleans that are spread over days, over HTTP.

use crate::kit::{Server, day, json, to_the_end, with_brewer};
use serde_json::Value;

async fn get(server: &Server, path: &str) -> Value {
    let answer = server.ask("GET", path, Value::Null).await;
    assert_eq!(answer.status, 200, "{path}: {}", answer.body);
    answer.body
}

/// From its first act to its last, all well.
async fn cleaned(server: &Server, brewer: &str, clean: &str) -> Value {
    let path = format!("/api/brewers/{brewer}/cleans");
    let begun = server
        .ask("POST", &path, json!({"id": clean, "options": {}}))
        .await;
    assert_eq!(begun.status, 200, "{}", begun.body);
    to_the_end(server, clean, &begun.body, "some").await;
    begun.body["plan"].clone()
}

#[tokio::test]
async fn parts_are_looked_at_kept_done_moved_called_off_and_exported() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let path = format!("/api/brewers/{id}/over-days");
    let look = server
        .ask(
            "POST",
            &format!("{path}/look"),
            json!({"id": "o1", "days": [], "parts": 3}),
        )
        .await;
    assert_eq!(look.status, 200, "{}", look.body);
    let parts = look.body["parts"].as_array().unwrap();
    assert_eq!((parts.len(), &parts[0]["day"]), (3, &json!(day(0))));
    assert!(parts[0]["text"].as_str().unwrap().starts_with("leaves "));
    let days: Vec<Value> = parts.iter().map(|part| part["day"].clone()).collect();
    // Looked at, nothing is kept.
    let card = &get(&server, &format!("/api/brewers/{id}")).await["card"];
    assert!(card["circuits"][0]["part"].is_null());

    let body = json!({"id": "o1", "days": days});
    for _ in 0..2 {
        assert_eq!(server.ask("POST", &path, body.clone()).await.status, 204);
    }
    let second = json!({"id": "o2", "days": days});
    assert_eq!(server.ask("POST", &path, second).await.status, 409);
    let counter = get(&server, "/api/counter").await;
    assert_eq!(counter["brewers"][0]["circuits"][0]["part"]["is_due"], true);
    let calendar = server.text("/api/calendar.ics").await.1;
    assert!(calendar.contains("part-o1-1@murlo") && calendar.contains("part 3 of 3"));
    assert!(!calendar.contains(&format!("due-{id}")), "{calendar}");

    let plan = cleaned(&server, &id, "c1").await;
    assert_eq!(plan["part"], json!({"id": "o1", "number": 1, "of": 3}));
    let log = get(&server, "/api/log").await;
    assert!(
        log["lines"][0]["text"]
            .as_str()
            .unwrap()
            .ends_with("part 1 of 3"),
        "{log}"
    );
    let card = get(&server, &format!("/api/brewers/{id}")).await["card"].clone();
    assert_eq!(card["circuits"][0]["part"]["days"][0]["is_done"], true);
    assert_eq!(card["circuits"][0]["part"]["is_due"], false);

    let moved = json!({"days": [day(-4), day(-9)]});
    assert_eq!(
        server.ask("PUT", "/api/over-days/o1", moved).await.status,
        204
    );
    for (days, status) in [
        (json!([day(-4)]), 422),
        (json!([day(3), day(-9)]), 422),
        (json!([day(-9), day(-4)]), 422),
    ] {
        let answer = server
            .ask("PUT", "/api/over-days/o1", json!({"days": days}))
            .await;
        assert_eq!(
            (answer.status, &answer.body["errors"][0]["field"]),
            (status, &json!("days"))
        );
    }
    let card = get(&server, &format!("/api/brewers/{id}")).await["card"].clone();
    assert_eq!(card["circuits"][0]["part"]["day"], json!(day(-4)));

    let export = get(&server, "/api/export").await;
    let back = server
        .ask("POST", "/api/import?replace=true", export.clone())
        .await;
    assert_eq!(back.status, 204, "{}", back.body);
    assert_eq!(get(&server, "/api/export").await, export);

    assert_eq!(
        server
            .ask("DELETE", "/api/over-days/o1", Value::Null)
            .await
            .status,
        204
    );
    let card = get(&server, &format!("/api/brewers/{id}")).await["card"].clone();
    assert!(card["circuits"][0]["part"].is_null());
    assert_eq!(
        server
            .ask("POST", "/api/over-days/o1/restore", Value::Null)
            .await
            .status,
        204
    );
    // To the end: then nothing is to come.
    let plan = cleaned(&server, &id, "c2").await;
    assert_eq!(plan["part"]["number"], 2);
    cleaned(&server, &id, "c3").await;
    let card = get(&server, &format!("/api/brewers/{id}")).await["card"].clone();
    assert!(
        card["circuits"][0]["part"].is_null(),
        "{}",
        card["circuits"][0]["part"]
    );
    let late = server
        .ask("PUT", "/api/over-days/o1", json!({"days": []}))
        .await;
    assert_eq!(late.status, 409);
}

#[tokio::test]
async fn wrong_days_are_refused_and_nothing_is_kept() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let path = format!("/api/brewers/{id}/over-days");
    for days in [
        json!([]),
        json!([day(0)]),
        json!([day(1), day(-2)]),
        json!([day(-2), day(-2)]),
        json!([day(0), "9999-12-31"]),
        json!([day(0), day(-1), day(-2), day(-3), day(-4)]),
    ] {
        let refused = server
            .ask("POST", &path, json!({"id": "o1", "days": days}))
            .await;
        assert_eq!(refused.status, 422, "{days}: {}", refused.body);
        assert_eq!(
            refused.body["errors"][0]["field"], "days",
            "{}",
            refused.body
        );
    }
    let card = get(&server, &format!("/api/brewers/{id}")).await["card"].clone();
    assert!(card["circuits"][0]["part"].is_null());
}

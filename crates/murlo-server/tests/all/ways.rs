//! Ways that are kept, over HTTP.

use crate::any_input::variants;
use crate::kit::{Answer, Server, json, to_the_end, with_brewer, with_family};
use serde_json::Value;

async fn get(server: &Server, path: &str) -> Value {
    let answer = server.ask("GET", path, Value::Null).await;
    assert_eq!(answer.status, 200, "{path}: {}", answer.body);
    answer.body
}

async fn plan(server: &Server, brewer: &str, options: Value) -> Answer {
    let path = format!("/api/brewers/{brewer}/plan");
    server.ask("POST", &path, options).await
}

async fn keep(server: &Server, brewer: &str, id: &str, from: Value) -> Answer {
    let body = json!({"id": id, "name": "Our way", "from": from});
    let path = format!("/api/brewers/{brewer}/ways");
    server.ask("POST", &path, body).await
}

/// A clean with this bath from its first act to its last, all well.
async fn cleaned(server: &Server, brewer: &str, clean: &str, options: Value) {
    let path = format!("/api/brewers/{brewer}/cleans");
    let begun = server
        .ask("POST", &path, json!({"id": clean, "options": options}))
        .await;
    to_the_end(server, clean, &begun.body, "nothing").await;
}

#[tokio::test]
async fn a_clean_is_kept_as_our_way_and_the_next_plan_is_it() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let neat = json!({"agent_id": "vinegar", "recipe": {"kind": "ratio", "agent": 1.0, "water": 0.0}, "soak_minutes": 25.0});
    cleaned(&server, &id, "c1", neat).await;
    let from = json!({"kind": "clean", "clean_id": "c1"});
    let kept = keep(&server, &id, "w1", from.clone()).await;
    assert_eq!(kept.status, 200, "{}", kept.body);
    let lines = kept.body["revisions"][0]["lines"].to_string();
    assert!(lines.contains("of white vinegar, neat"), "{lines}");

    let next = plan(&server, &id, json!({})).await.body;
    assert_eq!(next["way"]["name"], "Our way");
    assert_eq!(next["chosen"]["agent_id"], "vinegar");
    assert_eq!(next["bath"]["percent"], 5.0);
    let advised = plan(&server, &id, json!({"way": {"kind": "advised"}}))
        .await
        .body;
    assert!(advised["way"].is_null());
    assert_ne!(advised["bath"]["percent"], 5.0);
    // A clean that is begun so is done so, and a visit's plan is the same.
    let path = format!("/api/brewers/{id}/cleans");
    let begun = server
        .ask("POST", &path, json!({"id": "c2", "options": {}}))
        .await
        .body;
    assert_eq!(begun["plan"]["way"]["id"], "w1");
    assert_eq!(begun["plan"]["bath"]["percent"], 5.0);

    // Sent again it is kept once; under its id nothing else is.
    assert_eq!(keep(&server, &id, "w1", from.clone()).await.status, 200);
    let page = get(&server, &format!("/api/brewers/{id}")).await;
    assert_eq!(page["ways"].as_array().unwrap().len(), 1);
    let other = with_brewer(&server).await;
    assert_eq!(keep(&server, &other, "w1", from.clone()).await.status, 409);
    let foreign = keep(&server, &other, "w2", from).await;
    assert_eq!(
        (foreign.status, foreign.body["errors"][0]["field"].as_str()),
        (422, Some("from.clean_id"))
    );
}

#[tokio::test]
async fn a_way_is_changed_put_away_brought_back_and_survives_the_export() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let from = json!({"kind": "plan", "options": {"agent_id": "citric"}});
    let kept = keep(&server, &id, "w1", from).await.body;
    let mut habits = kept["habits"].clone();
    habits["rinses"] = json!(habits["rinses"].as_u64().unwrap() + 4);
    let proposed = json!({"from": {"kind": "habits", "habits": habits}});
    let changed = server.ask("PUT", "/api/ways/w1", proposed.clone()).await;
    assert_eq!(changed.status, 200, "{}", changed.body);
    assert_eq!(changed.body["revisions"].as_array().unwrap().len(), 2);
    // Told again, nothing is new.
    let again = server.ask("PUT", "/api/ways/w1", proposed).await.body;
    assert_eq!(again["revisions"].as_array().unwrap().len(), 2);
    let renamed = server
        .ask("PUT", "/api/ways/w1", json!({"name": " Ola's way "}))
        .await
        .body;
    assert_eq!(renamed["name"], "Ola's way");

    let before = get(&server, "/api/export").await;
    assert_eq!(
        before["ways"][0]["fact"]["revisions"][1]["from"]["kind"],
        "proposed"
    );
    let answer = server
        .ask("POST", "/api/import?replace=true", before.clone())
        .await;
    assert_eq!(answer.status, 204, "{}", answer.body);
    assert_eq!(get(&server, "/api/export").await, before);

    assert_eq!(
        server
            .ask("DELETE", "/api/ways/w1", Value::Null)
            .await
            .status,
        204
    );
    assert!(plan(&server, &id, json!({})).await.body["way"].is_null());
    let away = get(&server, "/api/archive").await;
    assert_eq!(
        (away[0]["kind"].as_str(), away[0]["name"].as_str()),
        (Some("way"), Some("Ola's way"))
    );
    let back = server
        .ask("POST", "/api/ways/w1/restore", Value::Null)
        .await;
    assert_eq!(back.status, 204);
    assert_eq!(
        plan(&server, &id, json!({})).await.body["way"]["name"],
        "Ola's way"
    );
}

#[tokio::test]
async fn what_would_do_harm_is_refused_in_words_and_keeps_nothing() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let kept = keep(&server, &id, "w1", json!({"kind": "plan", "options": {}}))
        .await
        .body;
    let habits = |change: &dyn Fn(&mut Value)| {
        let mut habits = kept["habits"].clone();
        change(&mut habits);
        json!({"kind": "habits", "habits": habits})
    };
    for (n, (from, field)) in [
        (habits(&|h| h["rinses"] = json!(1)), "rinses"),
        (
            habits(&|h| h["poured"]["water"] = json!("3 gal")),
            "poured.water",
        ),
        (
            habits(&|h| h["poured"]["agent_id"] = json!("gone")),
            "poured.agent_id",
        ),
        (
            habits(&|h| h["soak_minutes"] = json!(99999)),
            "soak_minutes",
        ),
        (habits(&|h| h["left_out"] = json!(["rinse"])), "left_out"),
        (json!({"kind": "clean", "clean_id": "none"}), ""),
        (json!({"kind": "way", "way_id": "none"}), ""),
        (
            json!({"kind": "plan", "options": {"soak_minutes": -3.0}}),
            "soak_minutes",
        ),
    ]
    .into_iter()
    .enumerate()
    {
        let refused = keep(&server, &id, &format!("bad{n}"), from.clone()).await;
        let status = if field.is_empty() { 404 } else { 422 };
        assert_eq!(refused.status, status, "{from}: {}", refused.body);
        if !field.is_empty() {
            assert_eq!(
                refused.body["errors"][0]["field"], field,
                "{}",
                refused.body
            );
        }
        if n > 0 {
            let changed = server
                .ask("PUT", "/api/ways/w1", json!({"from": from}))
                .await;
            assert_eq!(changed.status, status, "{}", changed.body);
        }
    }
    let page = get(&server, &format!("/api/brewers/{id}")).await;
    assert_eq!(page["ways"].as_array().unwrap().len(), 1);
    assert_eq!(page["ways"][0]["revisions"].as_array().unwrap().len(), 1);
    for (method, path) in [
        ("PUT", "/api/ways/none"),
        ("DELETE", "/api/ways/none"),
        ("POST", "/api/ways/none/restore"),
        ("GET", "/api/ways/none/file"),
    ] {
        let body = if method == "PUT" {
            json!({"name": "x"})
        } else {
            Value::Null
        };
        assert_eq!(
            server.ask(method, path, body).await.status,
            404,
            "{method} {path}"
        );
    }
}

#[tokio::test]
async fn a_way_goes_to_a_like_brewer_and_as_a_file_to_another_household() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    keep(
        &server,
        &id,
        "w1",
        json!({"kind": "plan", "options": {"agent_id": "vinegar"}}),
    )
    .await;
    let other = with_brewer(&server).await;
    let copied = keep(
        &server,
        &other,
        "w2",
        json!({"kind": "way", "way_id": "w1"}),
    )
    .await;
    assert_eq!(copied.status, 200, "{}", copied.body);
    let text = copied.body["revisions"][0]["text"].as_str().unwrap();
    assert!(text.ends_with("copied from Lamp-room pod"), "{text}");

    let file = get(&server, "/api/ways/w1/file").await;
    assert_eq!(file["format"], "murlo-way");
    let elsewhere = Server::start().await;
    let theirs = with_brewer(&elsewhere).await;
    let from = json!({"kind": "file", "file": file});
    let opened = keep(&elsewhere, &theirs, "w9", from.clone()).await;
    assert_eq!(opened.status, 200, "{}", opened.body);
    assert_eq!(
        plan(&elsewhere, &theirs, json!({})).await.body["way"]["id"],
        "w9"
    );
    // A drip brewer of theirs has no pod side.
    let waters = get(&elsewhere, "/api/waters").await;
    let families = get(&elsewhere, "/api/families").await;
    let is_drip = |f: &Value| f["family"] == "drip";
    let n = families
        .as_array()
        .unwrap()
        .iter()
        .position(is_drip)
        .unwrap();
    let drip = with_family(&elsewhere, n, &waters["waters"][0]["water"]["id"]).await;
    let refused = keep(&elsewhere, &drip, "w10", from).await;
    assert_eq!(
        refused.body["errors"][0]["field"], "file.outlet",
        "{}",
        refused.body
    );
    let broken = json!({"kind": "file", "file": {"format": "murlo-way"}});
    assert_eq!(keep(&elsewhere, &theirs, "w11", broken).await.status, 422);
}

#[tokio::test]
async fn any_habits_and_any_file_are_answered() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let kept = keep(&server, &id, "w1", json!({"kind": "plan", "options": {}})).await;
    let file = get(&server, "/api/ways/w1/file").await;
    let poured = kept.body["habits"]["poured"].clone();
    let in_habits = |poured: Value| {
        let mut habits = kept.body["habits"].clone();
        habits["poured"] = poured;
        json!({"kind": "habits", "habits": habits})
    };
    let habits = variants(&kept.body["habits"]).into_iter();
    let tried = habits
        .map(|habits| json!({"kind": "habits", "habits": habits}))
        .chain(variants(&poured).into_iter().map(in_habits))
        .chain(
            variants(&file)
                .into_iter()
                .map(|file| json!({"kind": "file", "file": file})),
        );
    for (n, from) in tried.enumerate() {
        let answer = keep(&server, &id, &format!("any-{n}"), from.clone()).await;
        assert!(answer.status < 500, "{from}: {}", answer.body);
        if answer.status == 200 {
            let planned = plan(&server, &id, json!({})).await;
            assert_eq!(planned.status, 200, "{from}: {}", planned.body);
        } else {
            let detail = answer.body["detail"].as_str();
            assert!(
                detail.is_some_and(|d| d.len() > 5),
                "{from}: {}",
                answer.body
            );
        }
    }
    // Whatever was taken in can be exported and read again.
    let export = get(&server, "/api/export").await;
    let answer = server.ask("POST", "/api/import?replace=true", export).await;
    assert_eq!(answer.status, 204, "{}", answer.body);
}

//! Small works beside descaling, over HTTP: ticked off, guided to the end, set to another cadence, and days away.

use crate::kit::{Server, day, json, with_brewer};
use serde_json::Value;

async fn work(server: &Server, id: &str, job: &str) -> Value {
    let page = server
        .ask("GET", &format!("/api/brewers/{id}"), Value::Null)
        .await;
    assert_eq!(page.status, 200, "{}", page.body);
    let works = page.body["card"]["upkeep"].as_array().unwrap().clone();
    let found = works.into_iter().find(|work| work["job"] == job);
    found.unwrap_or(Value::Null)
}

#[tokio::test]
async fn a_work_is_ticked_off_and_taken_back() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    assert_eq!(work(&server, &id, "tray").await["is_due"], true);
    let journal = format!("/api/brewers/{id}/journal");
    let did = json!({"id": "t1", "day": day(0), "what": {"kind": "did", "job": "tray"}});
    assert_eq!(server.ask("POST", &journal, did).await.status, 200);
    assert_eq!(work(&server, &id, "tray").await["is_due"], false);
    let gone = server
        .ask("DELETE", &format!("{journal}/t1"), Value::Null)
        .await;
    assert_eq!(gone.status, 204);
    assert_eq!(work(&server, &id, "tray").await["is_due"], true);
    // Only what takes a cup at a time is bathed lightly.
    let odd = json!({"id": "t2", "day": day(0), "what": {"kind": "did", "job": "light_bath"}});
    let refused = server.ask("POST", &journal, odd).await;
    assert_eq!(refused.status, 422);
    assert_eq!(refused.body["errors"][0]["field"], "what.job");
}

#[tokio::test]
async fn a_work_is_guided_to_its_log() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let cleans = format!("/api/brewers/{id}/cleans");
    let none = json!({"id": "w0", "options": {"work": "upkeep"}});
    let refused = server.ask("POST", &cleans, none).await;
    assert_eq!(
        (refused.status, &refused.body["errors"][0]["field"]),
        (422, &json!("job"))
    );
    let start = json!({"id": "w1", "options": {"work": "upkeep", "job": "tray"}});
    let begun = server.ask("POST", &cleans, start).await;
    assert_eq!(begun.status, 200, "{}", begun.body);
    let step = begun.body["plan"]["steps"][0]["id"].clone();
    assert_eq!(step, "tray");
    let events = "/api/cleans/w1/events";
    for (event, act) in [
        ("e1", json!({"kind": "done", "step": step})),
        ("e2", json!({"kind": "finished", "outcome": null})),
    ] {
        let sent = json!({"id": event, "act": act});
        let taken = server.ask("POST", events, sent).await;
        assert_eq!(taken.status, 200, "{}", taken.body);
    }
    let tray = work(&server, &id, "tray").await;
    assert_eq!(tray["is_due"], false, "{tray}");
    let log = server.ask("GET", "/api/log", Value::Null).await;
    assert!(
        log.body.to_string().contains("Drip tray and rim"),
        "{}",
        log.body
    );
}

#[tokio::test]
async fn how_often_is_a_choice_and_a_wrong_one_changes_nothing() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let path = format!("/api/brewers/{id}/cadence");
    let put = |body: Value| server.ask("PUT", &path, body);
    for (body, field) in [
        (json!({"job": "tray", "days": 0}), "days"),
        (json!({"job": "light_bath", "days": 7}), "job"),
    ] {
        let refused = put(body).await;
        assert_eq!(refused.status, 422);
        assert_eq!(refused.body["errors"][0]["field"], field);
    }
    assert_eq!(work(&server, &id, "tray").await["every"], "every 7 days");
    assert_eq!(put(json!({"job": "tray", "days": 21})).await.status, 204);
    assert_eq!(work(&server, &id, "tray").await["every"], "every 21 days");
    assert_eq!(put(json!({"job": "tray", "off": true})).await.status, 204);
    assert_eq!(work(&server, &id, "tray").await["is_due"], false);
    assert_eq!(put(json!({"job": "tray"})).await.status, 204);
    assert_eq!(work(&server, &id, "tray").await["every"], "every 7 days");
}

#[tokio::test]
async fn days_away_hold_for_every_brewer_of_a_home() {
    let server = Server::start().await;
    let (one, other) = (with_brewer(&server).await, with_brewer(&server).await);
    let away = |from: i64, until: i64| json!({"id": "a1", "from": day(from), "until": day(until)});
    let path = "/api/homes/home/away";
    let wrong = server.ask("POST", path, away(0, 3)).await;
    assert_eq!(wrong.status, 422, "{}", wrong.body);
    assert_eq!(wrong.body["errors"][0]["field"], "what.until");
    for _ in 0..2 {
        let taken = server.ask("POST", path, away(-1, -9)).await;
        assert_eq!(
            taken.body.as_array().map(Vec::len),
            Some(2),
            "{}",
            taken.body
        );
    }
    for id in [&one, &other] {
        let empty = work(&server, id, "empty").await;
        assert_eq!(empty["is_due"], true, "{empty}");
    }
    let counter = server.ask("GET", "/api/counter", Value::Null).await.body;
    let asked = counter["brewers"]
        .to_string()
        .matches("empty it before you go")
        .count();
    assert_eq!(asked, 2);
    let nowhere = server
        .ask("POST", "/api/homes/nowhere/away", away(-1, -9))
        .await;
    assert_eq!(nowhere.status, 404);
}

#[tokio::test]
async fn nothing_is_done_to_a_brewer_that_is_put_away() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    server
        .ask("DELETE", &format!("/api/brewers/{id}"), Value::Null)
        .await;
    let did = json!({"id": "w1", "day": day(0), "what": {"kind": "did", "job": "tray"}});
    let clean = json!({"id": "c1", "options": {"work": "upkeep", "job": "tray"}});
    for (path, body) in [("journal", did), ("cleans", clean)] {
        let refused = server
            .ask("POST", &format!("/api/brewers/{id}/{path}"), body)
            .await;
        assert_eq!(refused.status, 404, "{path}: {}", refused.body);
        let detail = refused.body["detail"].as_str().unwrap();
        assert!(detail.contains("put away: bring it back first"), "{detail}");
    }
    let restored = format!("/api/brewers/{id}/restore");
    server.ask("POST", &restored, Value::Null).await;
    let tray = work(&server, &id, "tray").await;
    assert_eq!(tray["last"], Value::Null, "{tray}");
}

#[tokio::test]
async fn only_what_there_is_can_be_forbidden_and_nothing_is_chosen_by_the_alphabet() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let path = format!("/api/brewers/{id}");
    let before = server.ask("GET", &path, Value::Null).await.body;
    let mut draft = before["draft"].clone();
    draft["forbids"] = json!(["no-such-acid"]);
    let refused = server.ask("PUT", &path, draft.clone()).await;
    assert_eq!(refused.status, 422);
    assert_eq!(refused.body["errors"][0]["field"], "forbids");
    let after = server.ask("GET", &path, Value::Null).await.body;
    assert_eq!(after["draft"], before["draft"]);
    let cupboard = server.ask("GET", "/api/household", Value::Null).await.body;
    draft["forbids"] = json!([cupboard["agents"][0]["id"]]);
    let taken = server.ask("PUT", &path, draft).await;
    assert_eq!(taken.status, 200, "{}", taken.body);

    // One home and one water are meant; of two nobody knows which.
    let one = server.ask("GET", "/api/families", Value::Null).await.body;
    assert_ne!(one[0]["draft"]["home_id"], "");
    assert_ne!(one[0]["draft"]["water_id"], "");
    let reading = json!({"by": "taps", "chalk": "film"});
    let water = json!({"name": "A water", "reading": reading});
    assert_eq!(server.ask("POST", "/api/waters", water).await.status, 200);
    let home = json!({"name": "A home"});
    assert_eq!(server.ask("POST", "/api/homes", home).await.status, 200);
    let two = server.ask("GET", "/api/families", Value::Null).await.body;
    assert_eq!(two[0]["draft"]["home_id"], "");
    assert_eq!(two[0]["draft"]["water_id"], "");
    let mut draft = two[0]["draft"].clone();
    draft["nickname"] = json!("Which home");
    draft["beforehand"] = Value::Null;
    let refused = server.ask("POST", "/api/brewers", draft).await;
    assert_eq!(refused.status, 422);
}

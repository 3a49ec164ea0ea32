//! The first minute over HTTP: a look keeps nothing, keeping is all or nothing, and twice is once.

use crate::kit::{Server, json};
use serde_json::Value;

fn answers() -> Value {
    json!({
        "family": "one_cup_pod",
        "filled": {"by": "tap", "chalk": "crust"},
        "beforehand": {"last_clean": "never", "in_use": "years"},
        "cups": 3.0,
        "signs": ["slow"],
        "have": ["citric"],
    })
}

async fn counted(server: &Server) -> (usize, usize) {
    let counter = server.ask("GET", "/api/counter", Value::Null).await.body;
    let household = server.ask("GET", "/api/household", Value::Null).await.body;
    let len = |list: &Value| list.as_array().map_or(0, Vec::len);
    (len(&counter["brewers"]), len(&household["waters"]))
}

#[tokio::test]
async fn a_look_answers_and_keeps_nothing() {
    let server = Server::start().await;
    let seen = server.ask("POST", "/api/first/look", answers()).await;
    assert_eq!(seen.status, 200, "{}", seen.body);
    assert_eq!(seen.body["plan"]["chosen"]["agent_id"], "citric");
    assert_eq!(seen.body["card"]["nickname"], "One-cup pod brewer");
    assert_eq!(counted(&server).await, (0, 0));

    let nothing = server.ask("POST", "/api/first/look", json!({})).await;
    assert_eq!(nothing.status, 422);
    assert_eq!(nothing.body["errors"][0]["field"], "family");
}

#[tokio::test]
async fn keeping_twice_is_keeping_once_and_the_plan_is_the_one_that_was_seen() {
    let server = Server::start().await;
    let seen = server.ask("POST", "/api/first/look", answers()).await.body;
    let sent = json!({
        "answers": answers(), "brewer_id": "b", "water_id": "w", "clean": {"id": "c"},
    });
    for _ in 0..2 {
        let kept = server.ask("POST", "/api/first", sent.clone()).await;
        assert_eq!(kept.status, 200, "{}", kept.body);
        assert_eq!(kept.body, json!({"brewer_id": "b", "clean_id": "c"}));
    }
    assert_eq!(counted(&server).await, (1, 1));
    let clean = server.ask("GET", "/api/cleans/c", Value::Null).await.body;
    assert_eq!(clean["plan"]["bath"], seen["plan"]["bath"]);
    assert_eq!(clean["plan"]["chalk"], seen["plan"]["chalk"]);
    let brewer = server.ask("GET", "/api/brewers/b", Value::Null).await.body;
    assert_eq!(
        brewer["card"]["circuits"][0]["forecast"]["chalk"],
        seen["card"]["circuits"][0]["forecast"]["chalk"]
    );
    assert_eq!(brewer["journal"].as_array().map(Vec::len), Some(1));

    let another = server
        .ask("GET", "/api/brewers/b/like", Value::Null)
        .await
        .body;
    assert_eq!(another["nickname"], "");
    assert_eq!(another["cup"], brewer["draft"]["cup"]);
    assert_eq!(another["beforehand"]["last_clean"], "unknown");
}

#[tokio::test]
async fn what_cannot_be_is_refused_and_leaves_nothing_behind() {
    let server = Server::start().await;
    let with = |change: fn(&mut Value)| {
        let mut sent = json!({"answers": answers(), "brewer_id": "b", "water_id": "w"});
        change(&mut sent);
        sent
    };
    for (change, field) in [
        (
            (|s| s["answers"]["cups"] = json!(-2)) as fn(&mut Value),
            "weekday_cups",
        ),
        (|s| s["answers"]["home_id"] = json!("gone"), "home_id"),
        (|s| s["brewer_id"] = json!("not an id"), "brewer_id"),
        (|s| s["answers"]["have"] = json!(["soap"]), "have"),
    ] {
        let refused = server.ask("POST", "/api/first", with(change)).await;
        assert_eq!(refused.status, 422, "{}", refused.body);
        assert_eq!(refused.body["errors"][0]["field"], field);
        assert_eq!(counted(&server).await, (0, 0));
    }
    let kept = server.ask("POST", "/api/first", with(|_| {})).await;
    assert_eq!(kept.status, 200);
    // The id of its water is taken now.
    let again = with(|s| {
        s["brewer_id"] = json!("b2");
        s["answers"]["filled"] = json!({"by": "tap", "chalk": "none"});
    });
    let refused = server.ask("POST", "/api/first", again).await;
    assert_eq!(refused.status, 409, "{}", refused.body);
    assert_eq!(counted(&server).await, (1, 1));
}

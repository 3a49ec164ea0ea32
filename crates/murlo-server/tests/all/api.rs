//! The API over a real store: answers, refusals as problems, and who may ask.

use crate::kit::{Server, day, json, with_brewer};
use serde_json::Value;

#[tokio::test]
async fn a_clean_runs_over_http_and_the_same_act_counts_once() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let plan = server
        .ask(
            "POST",
            &format!("/api/brewers/{id}/plan"),
            json!({"agent_id": "vinegar"}),
        )
        .await
        .body;
    assert_eq!(plan["bath"]["agent_text"], "2 cups");
    let started = server
        .ask(
            "POST",
            &format!("/api/brewers/{id}/cleans"),
            json!({"id": "c1"}),
        )
        .await;
    assert_eq!(
        (started.status, &started.body["state"]["current"]),
        (200, &json!(0))
    );
    let event = json!({"id": "e1", "device_at": null, "act": {"kind": "done", "step": "baseline"}});
    for _ in 0..2 {
        let answer = server
            .ask("POST", "/api/cleans/c1/events", event.clone())
            .await;
        assert_eq!(
            (answer.status, &answer.body["state"]["current"]),
            (200, &json!(1))
        );
    }
    let other = json!({"id": "e1", "device_at": null, "act": {"kind": "done", "step": "ready"}});
    assert_eq!(
        server
            .ask("POST", "/api/cleans/c1/events", other)
            .await
            .status,
        409
    );
    let unfit = json!({"id": "e2", "device_at": null, "act": {"kind": "counted", "step": "rinse"}});
    let answer = server.ask("POST", "/api/cleans/c1/events", unfit).await;
    assert_eq!(
        (answer.status, &answer.body["errors"][0]["code"]),
        (409, &json!("does_not_fit"))
    );
    let counter = server.ask("GET", "/api/counter", Value::Null).await.body;
    assert_eq!(counter["brewers"][0]["running_clean"], "c1");
}

#[tokio::test]
async fn every_wrong_field_is_named_in_a_problem() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let draft = server
        .ask("GET", &format!("/api/brewers/{id}"), Value::Null)
        .await
        .body["draft"]
        .clone();
    let wrong = |field: &str, value: Value| {
        let mut draft = draft.clone();
        draft[field] = value;
        draft
    };
    let path = format!("/api/brewers/{id}");
    for (body, status, field) in [
        (wrong("reservoir", json!("90 L")), 422, "reservoir"),
        (wrong("reservoir", json!("0 mL")), 422, "reservoir"),
        (wrong("reservoir", json!("3 kg")), 422, "reservoir"),
        (wrong("weekday_cups", json!(-1)), 422, "weekday_cups"),
        (wrong("weekday_cups", Value::Null), 422, "weekday_cups"),
        (wrong("water_id", json!("sea")), 422, "water_id"),
        (wrong("shape", json!("round")), 422, "shape"),
    ] {
        let answer = server.ask("PUT", &path, body).await;
        assert_eq!(answer.status, status, "{field}: {}", answer.body);
        assert!(answer.head.contains("application/problem+json"));
        assert!(
            answer.body.to_string().contains(field),
            "{field}: {}",
            answer.body
        );
    }
    assert_eq!(
        server.ask("GET", &path, Value::Null).await.body["draft"],
        draft,
        "nothing was changed"
    );
    let hard = json!({"name": "x", "reading": {"by": "strip", "value": 4000, "unit": "mg/L"}});
    assert_eq!(
        server.ask("POST", "/api/waters", hard).await.body["errors"][0]["field"],
        "reading.value"
    );
    for (method, path, body, status) in [
        ("GET", "/api/brewers/nobody", Value::Null, 404),
        ("GET", "/api/cleans/none", Value::Null, 404),
        ("GET", "/api/nothing", Value::Null, 404),
        ("POST", "/api/calc/magic", json!({}), 404),
        (
            "POST",
            "/api/calc/hardness-class",
            json!({"hardness": 4000}),
            422,
        ),
        ("POST", "/api/import", json!({"format": "other"}), 422),
        (
            "PUT",
            "/api/settings",
            json!({"units": "us", "time_zone": "Moon/Base", "taste": "usual"}),
            422,
        ),
    ] {
        let answer = server.ask(method, path, body).await;
        assert_eq!(
            (answer.status, answer.body["status"].as_u64()),
            (status, Some(u64::from(status))),
            "{path}"
        );
    }
}

#[tokio::test]
async fn broken_and_oversized_bodies_are_refused_without_a_crash() {
    let server = Server::start().await;
    let headers = format!(
        "host: {}\r\ncontent-type: application/json\r\n",
        server.host
    );
    let truncated = server
        .raw("POST", "/api/waters", &headers, "{\"name\": ")
        .await;
    assert_eq!(
        (truncated.status, truncated.head.contains("problem+json")),
        (400, true)
    );
    let large = format!("{{\"name\": \"{}\"}}", "x".repeat(2 * 1024 * 1024));
    assert_eq!(
        server
            .raw("POST", "/api/waters", &headers, &large)
            .await
            .status,
        413
    );
    let text = format!("host: {}\r\ncontent-type: text/plain\r\n", server.host);
    assert_eq!(
        server.raw("POST", "/api/waters", &text, "{}").await.status,
        415
    );
    let many = format!("[{}]", vec!["{}"; 1001].join(","));
    assert_eq!(
        server
            .raw("POST", "/api/calc/hardness-class", &headers, &many)
            .await
            .status,
        422
    );
    let mixed = server
        .raw(
            "POST",
            "/api/calc/hardness-class",
            &headers,
            "[{\"hardness\": 45}, {\"hardness\": NaN}]",
        )
        .await;
    assert_eq!(
        (
            mixed.status,
            &mixed.body[0]["value"],
            &mixed.body[1]["error"]["field"]
        ),
        (200, &json!("soft"), &json!("hardness"))
    );
}

#[tokio::test]
async fn foreign_pages_and_hosts_are_refused() {
    let server = Server::start().await;
    let host = &server.host;
    for (headers, status) in [
        (format!("host: {host}\r\norigin: http://{host}\r\n"), 200),
        (
            format!("host: {host}\r\norigin: http://elsewhere.example\r\n"),
            403,
        ),
        ("host: rebound.example\r\n".to_owned(), 403),
    ] {
        let headers = format!("{headers}content-type: application/json\r\n");
        assert_eq!(
            server
                .raw("POST", "/api/homes", &headers, "{\"name\": \"Boat\"}")
                .await
                .status,
            status,
            "{headers}"
        );
    }
    let shell = server
        .raw("GET", "/", &format!("host: {host}\r\n"), "")
        .await;
    assert!(
        shell
            .head
            .contains("content-security-policy: default-src 'self'")
    );
}

#[tokio::test]
async fn a_guarded_household_answers_only_signed_in_devices_and_throttles() {
    let server = Server::with(true).await;
    assert_eq!(
        server.ask("GET", "/api/counter", Value::Null).await.status,
        401
    );
    assert_eq!(
        server
            .ask("POST", "/api/session", json!({"passcode": "wrong one"}))
            .await
            .status,
        401
    );
    let good = server
        .ask(
            "POST",
            "/api/session",
            json!({"passcode": "chalk and water"}),
        )
        .await;
    assert_eq!(good.status, 204);
    let cookie = good
        .head
        .lines()
        .find_map(|l| l.strip_prefix("set-cookie: "))
        .unwrap()
        .to_owned();
    assert!(
        cookie.contains("httponly") && cookie.contains("samesite=strict"),
        "{cookie}"
    );
    // Tokens are hexadecimal, so reading the head in lower case leaves them whole.
    let headers = format!(
        "host: {}\r\ncookie: {}\r\n",
        server.host,
        cookie.split(';').next().unwrap()
    );
    assert_eq!(
        server.raw("GET", "/api/counter", &headers, "").await.status,
        200
    );
    assert!(cookie.contains("max-age=15552000"), "{cookie}");
    for _ in 0..6 {
        server
            .ask("POST", "/api/session", json!({"passcode": "wrong one"}))
            .await;
    }
    let right = json!({"passcode": "chalk and water"});
    let late = server.ask("POST", "/api/session", right).await;
    assert_eq!(late.status, 429);
    assert!(late.head.contains("retry-after: 60"), "{}", late.head);
}

#[tokio::test]
async fn words_where_a_number_belongs_are_refused_by_field_and_change_nothing() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let settings =
        json!({"units": "us", "time_zone": "UTC", "taste": "usual", "hourly_rate": "lots"});
    let reading = json!({"by": "strip", "value": "many", "unit": "gpg"});
    let entry = json!({"id": "e", "day": day(22), "what": {"kind": "brewed", "cups": ""}});
    for (method, path, body, field, given) in [
        (
            "PUT",
            "/api/settings".to_owned(),
            settings,
            "hourly_rate",
            "\"lots\"",
        ),
        (
            "POST",
            "/api/waters".to_owned(),
            json!({"name": "Tap", "reading": reading}),
            "reading",
            "\"many\"",
        ),
        (
            "POST",
            format!("/api/brewers/{id}/journal"),
            entry,
            "what",
            "\"\"",
        ),
        (
            "POST",
            format!("/api/brewers/{id}/plan"),
            json!({"minutes": "all day"}),
            "minutes",
            "\"all day\"",
        ),
    ] {
        let refused = server.ask(method, &path, body).await;
        assert_eq!(refused.status, 422, "{}", refused.body);
        let error = &refused.body["errors"][0];
        assert_eq!(error["field"], field, "{error}");
        let message = format!("{given} is not a number: give one such as 12 or 2.5");
        assert_eq!(error["message"], message);
    }
    let household = server
        .ask("GET", "/api/household", serde_json::Value::Null)
        .await
        .body;
    assert!(household["settings"]["hourly_rate"].is_null());
    assert_eq!(household["waters"].as_array().unwrap().len(), 1);
}

#[tokio::test]
async fn whatever_is_added_counts_once_however_often_it_is_sent() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let page = server
        .ask("GET", &format!("/api/brewers/{id}"), Value::Null)
        .await;
    let mut brewer = page.body["draft"].clone();
    brewer["nickname"] = json!("Kiln drip");
    let reading = json!({"by": "taps", "chalk": "film"});
    for (path, body, field) in [
        ("/api/homes".to_owned(), json!({"name": "Boat"}), "name"),
        (
            "/api/waters".to_owned(),
            json!({"name": "Spring", "reading": reading}),
            "name",
        ),
        ("/api/brewers".to_owned(), brewer, "nickname"),
        (
            format!("/api/brewers/{id}/past-cleans"),
            json!({"day": day(9), "note": "by hand"}),
            "note",
        ),
    ] {
        let sent = format!("{path}?id=new-1");
        for _ in 0..2 {
            let taken = server.ask("POST", &sent, body.clone()).await;
            assert_eq!(taken.status, 200, "{path}: {}", taken.body);
            assert_eq!(taken.body["id"], "new-1", "{path}");
        }
        let mut other = body.clone();
        other[field] = json!("Something else");
        let refused = server.ask("POST", &sent, other).await;
        assert_eq!(refused.status, 409, "{path}: {}", refused.body);
        assert_eq!(refused.body["errors"][0]["field"], "id");
        let odd = server
            .ask("POST", &format!("{path}?id=a%20b"), body.clone())
            .await;
        assert_eq!(odd.status, 422, "{path}");
        let unnamed = server.ask("POST", &path, body).await;
        assert_eq!(unnamed.status, 200, "{path}: {}", unnamed.body);
        assert_ne!(unnamed.body["id"], "new-1");
    }
    let export = server.ask("GET", "/api/export", Value::Null).await.body;
    let many = |list: &str| export[list].as_array().unwrap().len();
    assert_eq!(
        [
            many("homes"),
            many("waters"),
            many("brewers"),
            many("past_cleans")
        ],
        [3, 3, 3, 2]
    );
}

#[tokio::test]
async fn every_refusal_has_words_whoever_refuses() {
    let server = Server::start().await;
    let json = format!(
        "host: {}\r\ncontent-type: application/json\r\n",
        server.host
    );
    let text = format!("host: {}\r\ncontent-type: text/plain\r\n", server.host);
    let large = format!("{{\"name\": \"{}\"}}", "x".repeat(1 << 20));
    for (method, path, headers, body, status) in [
        ("PATCH", "/api/counter", &json, "", 405),
        ("DELETE", "/api/settings", &json, "", 405),
        ("POST", "/api/homes", &text, "{}", 415),
        ("POST", "/api/homes", &json, "{", 400),
        ("POST", "/api/homes", &json, &large, 413),
        ("GET", "/api/visits/%ff", &json, "", 400),
        ("GET", "/api/nowhere", &json, "", 404),
        ("GET", "/assets/gone-1234.js", &json, "", 404),
        ("GET", "/favicon.ico", &json, "", 404),
        ("POST", "/round", &json, "", 405),
    ] {
        let answer = server.raw(method, path, headers, body).await;
        assert_eq!(answer.status, status, "{method} {path}: {}", answer.head);
        assert!(
            answer.head.contains("application/problem+json"),
            "{method} {path}: {}",
            answer.head
        );
        let detail = answer.body["detail"].as_str().unwrap_or_default();
        assert!(detail.len() > 10, "{method} {path}: {}", answer.body);
    }
}

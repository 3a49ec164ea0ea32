//! The standing week, over HTTP: a rhythm told, drafts confirmed, moved and left out, days off, and what cannot be.

use crate::kit::{Server, day, json, now, with_brewer};
use crate::rounds::get;
use jiff::ToSpan;
use jiff::civil::Date;
use serde_json::Value;

/// A day so many days ahead.
fn ahead(days: i64) -> Date {
    day(-days)
}

/// A brewer at home, where somebody comes each week on the day after tomorrow.
async fn weekly(server: &Server) -> String {
    let id = with_brewer(server).await;
    let mut home = get(server, "/api/household").await["homes"][0].clone();
    home["rooms"] = json!([{"id": "bath", "name": "Bathroom", "minutes": 12}]);
    let weekday = format!("{:?}", ahead(2).weekday()).to_lowercase();
    home["coming"] = json!({"rhythm": {
        "when": "weeks", "every": 1, "since": day(7), "days": [weekday], "from": "09:00:00", "until": "12:00:00",
    }});
    let kept = server.ask("PUT", "/api/homes/home", home).await;
    assert_eq!(kept.status, 204, "{}", kept.body);
    id
}

async fn blocks(server: &Server, on: Date) -> Vec<Value> {
    let week = get(server, &format!("/api/week?day={on}")).await;
    let rows = week["rows"].as_array().unwrap().iter();
    rows.flat_map(|row| row["blocks"].as_array().unwrap().clone())
        .collect()
}

#[tokio::test]
async fn a_draft_is_confirmed_once_and_is_a_visit_like_any_other() {
    let server = Server::start().await;
    weekly(&server).await;
    let on = ahead(2);
    let all = blocks(&server, on).await;
    assert_eq!(all.len(), 1, "{all:?}");
    let draft = &all[0];
    assert_eq!(
        (&draft["stage"], &draft["day"]),
        (&json!("draft"), &json!(on))
    );
    assert!(draft["id"].is_null() && draft["minutes"].as_f64().unwrap() >= 12.0);
    let last = draft["works"].as_array().unwrap().last().unwrap().clone();
    assert_eq!(last, "Rooms: Bathroom");
    let given = |id: &str| json!({"id": id, "home_id": "home", "rhythm_day": on});
    let first = server.ask("POST", "/api/week/confirm", given("v1")).await;
    assert_eq!((first.status, &first.body["id"]), (200, &json!("v1")));
    // Another touch, another phone.
    let again = server.ask("POST", "/api/week/confirm", given("v2")).await;
    assert_eq!((again.status, &again.body["id"]), (200, &json!("v1")));
    let all = blocks(&server, on).await;
    assert_eq!((all.len(), &all[0]["stage"]), (1, &json!("planned")));
    assert_eq!(all[0]["id"], "v1");
    let view = get(&server, "/api/visits/v1").await;
    assert_eq!(view["visit"]["rhythm_day"], json!(on));
    assert_eq!(view["visit"]["until"], "12:00:00");
    // Put away, its day is a draft again, and can be confirmed anew.
    let away = server.ask("DELETE", "/api/visits/v1", Value::Null).await;
    assert_eq!(away.status, 204);
    assert_eq!(blocks(&server, on).await[0]["stage"], "draft");
    let third = server.ask("POST", "/api/week/confirm", given("v3")).await;
    assert_eq!(third.body["id"], "v3");
    // What was confirmed travels.
    let export = get(&server, "/api/export").await;
    let import = server.ask("POST", "/api/import?replace=true", export).await;
    assert_eq!(import.status, 204, "{}", import.body);
    assert_eq!(blocks(&server, on).await[0]["id"], "v3");
}

#[tokio::test]
async fn a_draft_and_a_visit_are_moved_and_a_draft_is_left_out() {
    let server = Server::start().await;
    weekly(&server).await;
    let (on, to) = (ahead(2), ahead(3));
    let moved = |to: Option<Date>| json!({"home_id": "home", "rhythm_day": on, "to": to});
    for (to, expected) in [(Some(to), Some(to)), (None, None), (Some(on), Some(on))] {
        let answer = server.ask("POST", "/api/week/move", moved(to)).await;
        assert_eq!(answer.status, 204, "{}", answer.body);
        let mut found = blocks(&server, on).await;
        found.extend(blocks(&server, ahead(3)).await);
        let found = found
            .iter()
            .find(|block| block["rhythm_day"] == json!(on))
            .map(|block| block["day"].clone());
        assert_eq!(found, expected.map(|day| json!(day)), "{to:?}");
    }
    let given = json!({"id": "v1", "home_id": "home", "rhythm_day": on});
    server.ask("POST", "/api/week/confirm", given).await;
    let path = "/api/visits/v1/day";
    let answer = server.ask("POST", path, json!({"day": to})).await;
    assert_eq!(answer.status, 204, "{}", answer.body);
    assert_eq!(
        get(&server, "/api/visits/v1").await["visit"]["day"],
        json!(to)
    );
    // Its own day stays free.
    let all = blocks(&server, on).await;
    let drafts = all.iter().filter(|block| block["stage"] == "draft");
    assert!(drafts.into_iter().all(|block| block["day"] != json!(on)));
    let past = server.ask("POST", path, json!({"day": day(1)})).await;
    assert_eq!(
        (past.status, &past.body["errors"][0]["field"]),
        (422, &json!("day"))
    );
    let start = json!({"id": "a1", "what": {"kind": "started"}});
    server.ask("POST", "/api/visits/v1/acts", start).await;
    let begun = server.ask("POST", path, json!({"day": on})).await;
    assert_eq!(begun.status, 409, "{}", begun.body);
}

#[tokio::test]
async fn days_off_are_named_and_what_cannot_be_changes_nothing() {
    let server = Server::start().await;
    weekly(&server).await;
    let on = ahead(2);
    let mut settings = get(&server, "/api/household").await["settings"].clone();
    settings["days_off"] = json!([{"from": on, "until": day(9)}]);
    let refused = server.ask("PUT", "/api/settings", settings.clone()).await;
    assert_eq!(
        (refused.status, &refused.body["errors"][0]["field"]),
        (422, &json!("days_off.0.until"))
    );
    settings["days_off"] = json!([{"from": on, "until": on}]);
    assert_eq!(
        server.ask("PUT", "/api/settings", settings).await.status,
        204
    );
    let all = blocks(&server, on).await;
    assert!(
        all[0]["minds"][0]
            .as_str()
            .unwrap()
            .starts_with("a day off"),
        "{all:?}"
    );
    let week = get(&server, "/api/week").await;
    assert_eq!(week["days"].as_array().unwrap().len(), 7);

    let far = now().to_zoned(jiff::tz::TimeZone::UTC).date() + 400.days();
    for (method, path, body, status, field) in [
        (
            "GET",
            format!("/api/week?day={far}"),
            Value::Null,
            422,
            "day",
        ),
        (
            "POST",
            "/api/week/move".into(),
            json!({"home_id": "home", "rhythm_day": on, "to": day(1)}),
            422,
            "to",
        ),
        (
            "POST",
            "/api/week/move".into(),
            json!({"home_id": "home", "rhythm_day": on, "to": ahead(90)}),
            422,
            "moved.0.to",
        ),
        (
            "POST",
            "/api/week/confirm".into(),
            json!({"id": "v9", "home_id": "home", "rhythm_day": ahead(3)}),
            409,
            "rhythm_day",
        ),
        (
            "POST",
            "/api/week/confirm".into(),
            json!({"id": "v 9", "home_id": "home", "rhythm_day": on}),
            422,
            "id",
        ),
    ] {
        let answer = server.ask(method, &path, body).await;
        let told = answer.body["errors"][0]["field"]
            .as_str()
            .unwrap_or_default();
        assert_eq!(
            (answer.status, told),
            (status, field),
            "{path}: {}",
            answer.body
        );
    }
    let gone = json!({"home_id": "none", "rhythm_day": on, "to": null});
    assert_eq!(server.ask("POST", "/api/week/move", gone).await.status, 404);
    assert_eq!(blocks(&server, on).await, all);
    let mut home = get(&server, "/api/household").await["homes"][0].clone();
    home["coming"] = json!({"rhythm": {"when": "guests"}});
    let refused = server.ask("PUT", "/api/homes/home", home).await;
    assert_eq!(refused.body["errors"][0]["field"], "coming.rhythm");
}

#[tokio::test]
async fn who_owes_what_is_what_the_bills_came_to_and_what_was_paid() {
    let server = Server::start().await;
    let (_, _) = crate::rounds::planned(&server).await;
    let mut home = get(&server, "/api/household").await["homes"][0].clone();
    home["pay"] = json!({"by": "fixed", "price": 55.5});
    assert_eq!(server.ask("PUT", "/api/homes/home", home).await.status, 204);
    let early = server
        .ask(
            "POST",
            "/api/visits/v1/paid",
            json!({"home_id": "home", "on": day(0)}),
        )
        .await;
    assert_eq!(early.status, 409, "{}", early.body);
    crate::rounds::act(&server, 1, json!({"kind": "started"})).await;
    let view = get(&server, "/api/visits/v1").await;
    let bill = view["worth"]["bill"].clone();
    assert_eq!(bill["lines"][0]["amount"], 55.5);
    assert_eq!(bill["there"][0]["home"], "home");
    let stops = view["stops"].as_array().unwrap().iter();
    let left: Vec<Value> = stops.map(|stop| json!({"id": stop["id"]})).collect();
    let closed = crate::rounds::act(
        &server,
        2,
        json!({"kind": "closed", "bill": bill, "left": left}),
    )
    .await;
    assert_eq!(closed.status, 200, "{}", closed.body);
    let owed = get(&server, "/api/owed").await;
    assert_eq!(owed["total"], 55.5);
    assert_eq!(owed["homes"][0]["open_text"], "not paid yet");
    assert_eq!(owed["homes"][0]["visits"][0]["visit_id"], "v1");
    let pay = |on: Value| json!({"home_id": "home", "on": on});
    for (on, open) in [(json!(day(0)), 0.0), (Value::Null, 55.5)] {
        let paid = server.ask("POST", "/api/visits/v1/paid", pay(on)).await;
        assert_eq!(paid.status, 204, "{}", paid.body);
        assert_eq!(get(&server, "/api/owed").await["open"], open);
    }
    let wrong = server
        .ask("POST", "/api/visits/v1/paid", pay(json!("2200-01-01")))
        .await;
    assert_eq!(
        (wrong.status, &wrong.body["errors"][0]["field"]),
        (422, &json!("paid.home"))
    );
    let nowhere = json!({"home_id": "none", "on": day(0)});
    let wrong = server.ask("POST", "/api/visits/v1/paid", nowhere).await;
    assert_eq!(
        (wrong.status, &wrong.body["errors"][0]["field"]),
        (422, &json!("home_id"))
    );
    let (status, csv) = server.text("/api/owed.csv").await;
    assert!(status == 200 && csv.contains("Own kitchen,"), "{csv}");
    // Changed while it is closed, nothing of the bill moves.
    let mut home = get(&server, "/api/household").await["homes"][0].clone();
    home["pay"] = json!({"by": "fixed", "price": 99.0});
    server.ask("PUT", "/api/homes/home", home).await;
    assert_eq!(get(&server, "/api/owed").await["total"], 55.5);
    let export = get(&server, "/api/export").await;
    let import = server.ask("POST", "/api/import?replace=true", export).await;
    assert_eq!(import.status, 204, "{}", import.body);
    assert_eq!(get(&server, "/api/owed").await["total"], 55.5);
}

#[tokio::test]
async fn the_ends_of_the_calendar_are_refused_or_answered_at_once() {
    let server = Server::start().await;
    weekly(&server).await;
    let ends = [
        "9999-12-31",
        "9999-12-30",
        "2199-12-31",
        "1970-01-01",
        "0000-01-01",
        "-009999-01-01",
    ];
    for (n, day) in ends.into_iter().enumerate() {
        let visit = json!({"id": format!("v{n}"), "day": day, "from": "09:00:00", "rooms": [{
            "id": "home-bath", "home_id": "home", "name": "Bathroom", "minutes": 12,
        }]});
        for (method, path, body) in [
            ("GET", format!("/api/week?day={day}"), Value::Null),
            ("GET", format!("/api/owed?day={day}"), Value::Null),
            (
                "POST",
                "/api/visits/propose".to_owned(),
                json!({"homes": ["home"], "day": day}),
            ),
            ("POST", "/api/visits/look".to_owned(), visit.clone()),
            ("PUT", format!("/api/visits/v{n}"), visit),
            (
                "POST",
                "/api/week/confirm".to_owned(),
                json!({"id": "c", "home_id": "home", "rhythm_day": day}),
            ),
            (
                "POST",
                "/api/week/move".to_owned(),
                json!({"home_id": "home", "rhythm_day": ahead(2), "to": day}),
            ),
            ("GET", "/api/round".to_owned(), Value::Null),
        ] {
            let begun = std::time::Instant::now();
            let answer = server.ask(method, &path, body).await;
            let took = begun.elapsed().as_secs_f64();
            let is_answer = answer.status < 300 || [404, 409, 422].contains(&answer.status);
            assert!(
                is_answer && took < 5.0,
                "{method} {path} {day}: {} {}, {took:.1} s",
                answer.status,
                answer.body
            );
        }
    }
}

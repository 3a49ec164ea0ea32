//! Whatever is typed gets an answer or a precise refusal: never a crash, never a 500, never a change half made.

use crate::kit::{Server, day, json, now, with_brewer};
use serde_json::Value;

/// Values that people, broken programs and bad luck put into fields.
fn oddities() -> Vec<Value> {
    vec![
        Value::Null,
        json!(true),
        json!(0),
        json!(-1),
        json!(1e308),
        json!(-0.000_001),
        json!(90_000),
        json!(""),
        json!(" "),
        json!("12"),
        json!("-3 cups"),
        json!("1e999 mL"),
        json!("½"),
        json!("¼¼ cup"),
        json!("2 cups 3"),
        json!("Ω L"),
        json!("2026-02-30"),
        json!("9999-12-31"),
        json!("x".repeat(5000)),
        json!("'; DROP TABLE brewers; --"),
        json!("<img src=x onerror=alert(1)>"),
        json!([]),
        json!([1, [2]]),
        json!({}),
        json!({"kind": "ratio", "agent": 0, "water": 0}),
        json!({"kind": "dose", "g_per_l": 1e9}),
        json!({"by": "strip", "value": -4, "unit": "mg/L"}),
        json!({"kind": "done", "step": "nowhere"}),
        json!({"kind": "finished", "outcome": null}),
    ]
}

/// Every document that differs from `good` by one odd or missing field.
pub fn variants(good: &Value) -> Vec<Value> {
    let mut all = vec![Value::Null, json!([]), json!("text"), json!(7)];
    for name in good.as_object().unwrap().keys() {
        for odd in oddities() {
            let mut wrong = good.clone();
            wrong[name] = odd;
            all.push(wrong);
        }
        let mut missing = good.clone();
        missing.as_object_mut().unwrap().remove(name);
        all.push(missing);
    }
    let mut more = good.clone();
    more["surprise"] = json!(1);
    all.push(more);
    all
}

async fn never_fails(server: &Server, method: &str, path: &str, good: &Value) {
    for body in variants(good) {
        let answer = server.ask(method, path, body.clone()).await;
        assert!(
            answer.status < 500,
            "{method} {path} {body}: {} {}",
            answer.status,
            answer.body
        );
        if answer.status >= 400 {
            assert!(
                answer.head.contains("application/problem+json"),
                "{method} {path} {body}: {}",
                answer.head
            );
            assert!(
                answer.body["detail"].as_str().is_some_and(|d| d.len() > 5),
                "{method} {path} {body}: {}",
                answer.body
            );
        }
    }
}

/// Whatever was taken in goes out with the export, and comes back as it was.
async fn travels(server: &Server) {
    let before = server.ask("GET", "/api/export", Value::Null).await.body;
    let back = server
        .ask("POST", "/api/import?replace=true", before.clone())
        .await;
    assert_eq!(back.status, 204, "an own export is refused: {}", back.body);
    let after = server.ask("GET", "/api/export", Value::Null).await.body;
    assert!(after == before, "it comes back otherwise");
    let counter = server.ask("GET", "/api/counter", Value::Null).await;
    assert_eq!(counter.status, 200, "{}", counter.body);
}

#[tokio::test]
async fn brewers_waters_homes_and_settings_take_any_input() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let draft = server
        .ask("GET", &format!("/api/brewers/{id}"), Value::Null)
        .await
        .body["draft"]
        .clone();
    never_fails(&server, "PUT", &format!("/api/brewers/{id}"), &draft).await;
    never_fails(&server, "POST", "/api/brewers", &draft).await;
    never_fails(&server, "POST", "/api/homes", &json!({"name": "Boat"})).await;
    let reading = json!({"by": "label", "ca_mg_l": 80.0, "mg_mg_l": 8.0, "hco3_mg_l": 200.0, "ph": 7.4, "tds_mg_l": 300.0});
    never_fails(
        &server,
        "POST",
        "/api/waters",
        &json!({"name": "Spring", "reading": reading}),
    )
    .await;
    never_fails(
        &server,
        "PUT",
        "/api/settings",
        &json!({
            "units": "metric", "time_zone": "Europe/Lisbon", "taste": "strict",
            "currency": "EUR", "hourly_rate": 18.0, "avoid_smell": false,
        }),
    )
    .await;
    never_fails(
        &server,
        "POST",
        &format!("/api/brewers/{id}/past-cleans"),
        &json!({"day": day(83), "note": "by hand"}),
    )
    .await;
    let journal = format!("/api/brewers/{id}/journal");
    for what in [
        json!({"kind": "brewed", "cups": 3.0}),
        json!({"kind": "counter", "brews": 1200.0}),
        json!({"kind": "away", "until": day(3)}),
        json!({"kind": "sign", "circuit_id": "main", "sign": "slow", "dated": true}),
    ] {
        let entry = json!({"id": "e1", "day": day(22), "what": what});
        never_fails(&server, "POST", &journal, &entry).await;
    }
    never_fails(
        &server,
        "POST",
        &format!("/api/brewers/{id}/counts"),
        &json!({"csv": format!("{},3", day(22))}),
    )
    .await;
    never_fails(
        &server,
        "POST",
        &format!("/api/brewers/{id}/what-if"),
        &json!({"water_id": null, "filter_takes_out": 50.0, "weekday_cups": 3.0, "weekend_cups": 1.0}),
    )
    .await;
    never_fails(
        &server,
        "POST",
        "/api/trouble",
        &json!({"brewer_id": id, "signs": {"slow": true, "sparks": false}}),
    )
    .await;
    let note = json!({"id": "t1", "signs": {"slow": true}});
    never_fails(
        &server,
        "POST",
        &format!("/api/brewers/{id}/trouble"),
        &note,
    )
    .await;
    assert_eq!(
        server.ask("GET", "/api/waters", Value::Null).await.status,
        200
    );
    let counter = server.ask("GET", "/api/counter", Value::Null).await;
    assert_eq!(
        counter.status, 200,
        "whatever was taken in can still be shown"
    );
    travels(&server).await;
}

#[tokio::test]
async fn plans_and_cleans_take_any_input() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let options = json!({
        "agent_id": "vinegar", "percent": 5.0, "recipe": {"kind": "ratio", "agent": 1.0, "water": 1.0},
        "measure": "cups", "bath": "4 cups", "taste": "usual", "soak_minutes": 20.0,
        "baths": 1, "minutes": 240.0, "fill": "full", "agent_amount": null,
        "circuit_id": "main", "work": "descale",
    });
    never_fails(
        &server,
        "POST",
        &format!("/api/brewers/{id}/plan"),
        &options,
    )
    .await;
    never_fails(
        &server,
        "POST",
        &format!("/api/brewers/{id}/baths"),
        &options,
    )
    .await;
    let offer = json!({"source": "corner shop", "amount": 946.0, "price": 2.5, "postage": 0.0, "coupon": 0.0, "kit_worth": 0.0});
    let agent = json!({
        "id": "vinegar", "name": "White vinegar", "form": "liquid", "acid": "acetic", "percent": 5.0,
        "on_hand": 900.0, "offers": [offer],
    });
    never_fails(&server, "PUT", "/api/agents/vinegar", &agent).await;
    let tablet = json!({
        "id": "tablet", "name": "Reef tablets", "form": "tablet", "acid": "citric", "grams": 12.0, "water_ml": 500.0,
        "on_hand": null, "offers": [],
    });
    never_fails(&server, "POST", "/api/agents", &tablet).await;
    let mix = json!({
        "agent_id": "vinegar", "percent": 5.0, "recipe": {"kind": "ratio", "agent": 1.0, "water": 2.0},
        "measure": "carafe_marks", "carafe_mark": "5 fl oz", "total": "11 marks",
    });
    never_fails(&server, "POST", "/api/mix", &mix).await;
    let pour = json!({
        "agent_id": "vinegar", "percent": 5.0, "total": "4 cups", "read_to": "½ cup",
        "poured": {"from": "levels", "before": "0 cups", "after": "2 cups"},
    });
    never_fails(&server, "POST", "/api/mix/unmeasured", &pour).await;
    let started = server
        .ask(
            "POST",
            &format!("/api/brewers/{id}/cleans"),
            json!({"id": "c1", "options": options}),
        )
        .await;
    assert_eq!(started.status, 200, "{}", started.body);
    never_fails(
        &server,
        "POST",
        &format!("/api/brewers/{id}/cleans"),
        &json!({"id": "c2", "options": options}),
    )
    .await;
    let event =
        json!({"id": "e1", "device_at": now(), "act": {"kind": "done", "step": "baseline"}});
    never_fails(&server, "POST", "/api/cleans/c1/events", &event).await;
    let answered = json!({"kind": "answered", "step": "verify", "answers": {"smell": "good"}});
    never_fails(
        &server,
        "POST",
        "/api/cleans/c1/events",
        &json!({"id": "e2", "act": answered}),
    )
    .await;
    let rgb = json!([200.0, 190.0, 180.0]);
    let sampled = json!({"reference": rgb, "sample": rgb, "white": null});
    let glass = json!({"of": "final", "rating": 2, "photo": null, "sampled": sampled});
    let spot = json!({"needle": "lid", "hole": 0});
    for act in [
        json!({"kind": "looked", "glass": glass}),
        json!({"kind": "cleared", "step": "needles", "spot": spot, "clear": true}),
        json!({"kind": "measured", "step": "baseline", "seconds": 30.0, "streams": 2.0}),
        json!({"kind": "time_left", "step": "soak", "minutes": 5.0}),
        json!({"kind": "tool", "tool": "clip"}),
    ] {
        for (n, wrong) in variants(&act).into_iter().enumerate() {
            let id = format!("{}-{n}", act["kind"].as_str().unwrap());
            let sent = json!({"id": id, "act": wrong});
            let answer = server.ask("POST", "/api/cleans/c1/events", sent).await;
            assert!(answer.status < 500, "{wrong}: {}", answer.body);
        }
    }
    assert_eq!(
        server
            .ask("GET", "/api/cleans/c1", Value::Null)
            .await
            .status,
        200
    );
    travels(&server).await;
}

#[tokio::test]
async fn the_round_the_cupboard_and_what_is_spread_or_begun_take_any_input() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let household = server.ask("GET", "/api/household", Value::Null).await.body;
    let mut home = household["homes"][0].clone();
    let home_id = home["id"].as_str().unwrap().to_owned();
    home["travel_min"] = json!(12);
    home["access"] = json!("key in the shed");
    home["mail"] = json!("ola@harbour.example");
    home["rooms"] = json!([{"id": "bath", "name": "Bathroom", "minutes": 12}]);
    home["coming"] = json!({
        "rhythm": {"when": "weeks", "every": 1, "since": day(0), "days": ["monday", "thursday"], "from": "09:00:00", "until": null},
        "months": [], "off": [], "moved": [],
    });
    never_fails(&server, "PUT", &format!("/api/homes/{home_id}"), &home).await;
    for part in ["coming", "pay"] {
        for odd in variants(&home[part]) {
            let mut other = home.clone();
            other[part] = odd;
            let answer = server
                .ask("PUT", &format!("/api/homes/{home_id}"), other)
                .await;
            assert!(answer.status < 500, "{part}: {}", answer.body);
        }
    }
    server
        .ask("PUT", &format!("/api/homes/{home_id}"), home)
        .await;
    let calendar = "BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n";
    let guests = format!("/api/homes/{home_id}/guests");
    never_fails(&server, "POST", &guests, &json!({"calendar": calendar})).await;
    let away = json!({"id": "away", "from": day(3), "until": day(1)});
    never_fails(
        &server,
        "POST",
        &format!("/api/homes/{home_id}/away"),
        &away,
    )
    .await;

    let supply = json!({"id": "clips", "name": "Clips", "kind": "clip", "offers": []});
    never_fails(&server, "PUT", "/api/cupboard/supplies/clips", &supply).await;
    let bought =
        json!({"id": "m1", "item_id": "vinegar", "what": {"kind": "bought", "amount": 900.0}});
    never_fails(&server, "POST", "/api/cupboard/movements", &bought).await;
    let cadence = json!({"job": "tray", "days": 7});
    never_fails(
        &server,
        "PUT",
        &format!("/api/brewers/{id}/cadence"),
        &cadence,
    )
    .await;

    let stop = json!({"id": "s1", "brewer_id": id, "options": {"agent_id": "vinegar"}});
    let visit = json!({
        "id": "v1", "day": day(0), "from": "09:30:00", "until": "13:00:00", "stops": [stop],
        "rooms": [{"id": "r1", "home_id": home_id, "name": "Bathroom", "minutes": 12}], "order": "shortest", "note": "",
    });
    never_fails(&server, "PUT", "/api/visits/v1", &visit).await;
    for odd in variants(&visit["stops"][0]) {
        let mut other = visit.clone();
        other["stops"][0] = odd;
        let answer = server.ask("PUT", "/api/visits/v2", other).await;
        assert!(answer.status < 500, "{}", answer.body);
    }
    for what in [
        json!({"kind": "started"}),
        json!({"kind": "room_done", "room": "r1"}),
        json!({"kind": "dropped", "id": "s1"}),
        json!({"kind": "undone", "event": "a1"}),
    ] {
        let act = json!({"id": "a1", "what": what, "device_at": now(), "sent_at": now()});
        never_fails(&server, "POST", "/api/visits/v1/acts", &act).await;
    }
    let paid = json!({"home_id": home_id, "on": day(0)});
    never_fails(&server, "POST", "/api/visits/v1/paid", &paid).await;
    let draft = json!({"id": "v9", "home_id": home_id, "rhythm_day": day(-3)});
    never_fails(&server, "POST", "/api/week/confirm", &draft).await;
    let moved = json!({"home_id": home_id, "rhythm_day": day(-3), "to": day(-4)});
    never_fails(&server, "POST", "/api/week/move", &moved).await;

    let spread = json!({"id": "o1", "options": {}, "days": [day(0), day(-2)], "parts": null});
    for path in ["over-days/look", "over-days"] {
        never_fails(
            &server,
            "POST",
            &format!("/api/brewers/{id}/{path}"),
            &spread,
        )
        .await;
    }
    never_fails(
        &server,
        "PUT",
        "/api/over-days/o1",
        &json!({"days": [day(-1), day(-3)]}),
    )
    .await;
    let begun = json!({
        "agent_id": "vinegar", "recipe": {"kind": "ratio", "agent": 1.0, "water": 1.0}, "total": "4 cups", "level": 0.5,
        "dispenses": 1, "minutes_ago": 20.0, "stood": {"kind": "was", "minutes": 5.0}, "in_programme": false,
    });
    for (n, odd) in variants(&begun).into_iter().enumerate() {
        let body = json!({"id": format!("begun-{n}"), "options": {}, "begun": odd});
        let answer = server
            .ask("POST", &format!("/api/brewers/{id}/cleans"), body)
            .await;
        assert!(answer.status < 500, "{odd}: {}", answer.body);
        if answer.status == 200 {
            let give_up = json!({"id": format!("up-{n}"), "act": {"kind": "abandoned"}});
            let events = format!("/api/cleans/begun-{n}/events");
            assert_eq!(server.ask("POST", &events, give_up).await.status, 200);
            let by = json!({"id": format!("by-{n}"), "act": {"kind": "vouched", "by": "Ola"}});
            server.ask("POST", &events, by).await;
        }
    }
    travels(&server).await;
}

#[tokio::test]
async fn every_calc_topic_takes_any_input() {
    let server = Server::start().await;
    let topics = server.ask("GET", "/api/calc", Value::Null).await.body;
    for topic in topics.as_array().unwrap() {
        let path = format!("/api/calc/{}", topic["topic"].as_str().unwrap());
        never_fails(&server, "POST", &path, &topic["example"]).await;
    }
}

#[tokio::test]
async fn an_import_with_one_odd_field_is_taken_whole_or_not_at_all() {
    let server = Server::start().await;
    with_brewer(&server).await;
    let export = server.ask("GET", "/api/export", Value::Null).await.body;
    for wrong in variants(&export) {
        let before = server.ask("GET", "/api/export", Value::Null).await.body;
        let answer = server
            .ask("POST", "/api/import?replace=true", wrong.clone())
            .await;
        assert!(answer.status < 500, "{}: {}", answer.status, answer.body);
        if answer.status != 204 {
            assert_eq!(
                server.ask("GET", "/api/export", Value::Null).await.body,
                before,
                "a refused import changes nothing"
            );
        }
        assert_eq!(
            server
                .ask("POST", "/api/import?replace=true", export.clone())
                .await
                .status,
            204
        );
    }
    assert_eq!(
        server
            .ask("POST", "/api/import?replace=perhaps", export)
            .await
            .status,
        400
    );
}

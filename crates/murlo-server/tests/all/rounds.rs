//! The round of homes, over HTTP: a visit planned, run, closed and left with its cards; homes, guests and calendars.

use crate::kit::{Answer, Server, day, json, now, with_brewer};
use image::{ImageFormat, RgbImage};
use serde_json::Value;
use std::io::Cursor;

const GUESTS: &str = include_str!("../../../murlo/demo/cottage-guests.ics");

pub(crate) async fn get(server: &Server, path: &str) -> Value {
    let answer = server.ask("GET", path, Value::Null).await;
    assert_eq!(answer.status, 200, "{path}: {}", answer.body);
    answer.body
}

fn field(answer: &Answer) -> (u16, String) {
    let field = answer.body["errors"][0]["field"].as_str();
    (answer.status, field.unwrap_or_default().to_owned())
}

/// A home with a room, its pod, and a visit today to both.
pub(crate) async fn planned(server: &Server) -> (String, Value) {
    let id = with_brewer(server).await;
    let mut home = get(server, "/api/household").await["homes"][0].clone();
    home["rooms"] = json!([{"id": "bath", "name": "Bathroom", "minutes": 12}]);
    home["travel_min"] = json!(15);
    let kept = server.ask("PUT", "/api/homes/home", home).await;
    assert_eq!(kept.status, 204, "{}", kept.body);
    let wish = json!({"homes": ["home"], "day": day(0)});
    let proposal = server.ask("POST", "/api/visits/propose", wish).await.body;
    let descale = proposal["stops"].as_array().unwrap().iter();
    let descale = descale
        .clone()
        .find(|p| p["what"] == "descale")
        .unwrap()
        .clone();
    let visit = json!({
        "id": "v1", "day": day(0), "from": "09:30:00",
        "stops": [descale["stop"]], "rooms": proposal["rooms"],
    });
    let kept = server.ask("PUT", "/api/visits/v1", visit.clone()).await;
    assert_eq!(kept.status, 204, "{}", kept.body);
    (id, visit)
}

pub(crate) async fn act(server: &Server, n: u32, what: Value) -> Answer {
    let sent = json!({"id": format!("a{n}"), "what": what});
    server.ask("POST", "/api/visits/v1/acts", sent).await
}

#[tokio::test]
async fn a_visit_is_planned_with_what_is_due_and_what_it_takes() {
    let server = Server::start().await;
    let (_, visit) = planned(&server).await;
    let view = get(&server, "/api/visits/v1").await;
    assert_eq!(view["stage"], "planned");
    let outlook = &view["outlook"];
    let (shortest, in_turn) = (
        outlook["shortest"]["minutes"].as_f64().unwrap(),
        outlook["in_turn_min"].as_f64().unwrap(),
    );
    assert!(
        shortest > 20.0 && shortest < in_turn,
        "{shortest} {in_turn}"
    );
    assert!(
        outlook["saved"]
            .as_str()
            .unwrap()
            .ends_with("one after the other")
    );
    assert_eq!(outlook["savings"].as_array().unwrap().len(), 2);
    assert!(outlook["kit"][0]["what"].as_str().unwrap().contains(':'));
    assert_eq!(view["stops"].as_array().unwrap().len(), 2);
    // The same before it is kept.
    let look = server.ask("POST", "/api/visits/look", visit).await;
    assert_eq!(look.body["shortest"]["minutes"].as_f64(), Some(shortest));
    let round = get(&server, "/api/round").await;
    assert_eq!(round["visits"][0]["text"], "1 brewer, 1 room");
    let marks = round["lanes"]["lanes"][0]["marks"]
        .as_array()
        .unwrap()
        .clone();
    assert!(
        marks.iter().any(|mark| mark["kind"] == "visit")
            && marks.iter().any(|mark| mark["kind"] == "due")
    );
}

#[tokio::test]
async fn a_visit_is_run_to_its_card_and_its_price() {
    let server = Server::start().await;
    let (id, _) = planned(&server).await;
    let early = act(
        &server,
        0,
        json!({"kind": "room_done", "room": "home-bath"}),
    )
    .await;
    assert_eq!(early.status, 409);
    let begun = act(&server, 1, json!({"kind": "started"})).await;
    assert_eq!(
        (begun.status, &begun.body["stage"]),
        (200, &json!("running"))
    );
    // Sent again it is the same act; another one with its id is refused.
    assert_eq!(
        act(&server, 1, json!({"kind": "started"})).await.status,
        200
    );
    assert_eq!(
        act(&server, 1, json!({"kind": "dropped", "id": "home-bath"}))
            .await
            .status,
        409
    );
    let next = &begun.body["run"]["left"]["acts"][0];
    assert!(next["title"].is_string() && next["latest"].is_string());
    let clean = json!({"id": "c1", "options": {"circuit_id": "main"}});
    let started = server
        .ask("POST", &format!("/api/brewers/{id}/cleans"), clean)
        .await;
    assert_eq!(started.status, 200, "{}", started.body);
    let view = get(&server, "/api/visits/v1").await;
    assert_eq!(view["stops"][0]["clean_id"], "c1");
    assert!(
        view["stops"][0]["state"]
            .as_str()
            .unwrap()
            .starts_with("under way")
    );
    let done = act(
        &server,
        2,
        json!({"kind": "room_done", "room": "home-bath"}),
    )
    .await;
    assert_eq!(done.body["stops"][1]["is_over"], true);
    // The clean is given up with plain water inside: there is no card for it.
    let sent = json!({"id": "e1", "act": {"kind": "abandoned"}});
    assert_eq!(
        server
            .ask("POST", "/api/cleans/c1/events", sent)
            .await
            .status,
        200
    );
    assert_eq!(
        server
            .ask("GET", "/api/cleans/c1/card", Value::Null)
            .await
            .status,
        409
    );
    assert_eq!(get(&server, "/api/visits/v1/cards").await, json!([]));
    let view = get(&server, "/api/visits/v1").await;
    assert_eq!(view["run"]["is_done"], true);
    let bad = json!({"kind": "closed", "bill": {"lines": [{"what": " ", "amount": 1}]}});
    assert_eq!(
        field(&act(&server, 3, bad).await),
        (422, "what.bill.lines.0.what".to_owned())
    );
    let bill =
        json!({"lines": [{"what": "Work", "amount": 12.5}, {"what": "Thanks", "amount": -2}]});
    let closed = act(&server, 4, json!({"kind": "closed", "bill": bill})).await;
    assert_eq!(closed.body["stage"], "closed");
    assert_eq!(closed.body["worth"]["total"], 10.5);
    let over = act(&server, 5, json!({"kind": "dropped", "id": "home-bath"})).await;
    assert_eq!(over.status, 409);
    // The same without a bill is what was kept, whenever it comes again.
    let again = act(&server, 4, json!({"kind": "closed"})).await;
    assert_eq!(
        (again.status, &again.body["worth"]["total"]),
        (200, &json!(10.5))
    );
    let undo = closed.body["undo"].clone();
    let again = act(&server, 6, json!({"kind": "undone", "event": undo})).await;
    assert_eq!(again.body["stage"], "running");
    // Closed where nobody saw the price, it is what is suggested, and stays that.
    let alone = act(&server, 7, json!({"kind": "closed", "left": []})).await;
    let suggested = &alone.body["worth"]["bill"];
    assert_eq!(alone.body["stage"], "closed", "{}", alone.body);
    let visit = &alone.body["visit"]["events"];
    let kept = &visit.as_array().unwrap().last().unwrap()["what"]["bill"];
    assert!(kept.is_object() && kept == suggested, "{kept}");
}

/// Presses on to the bath and stops there.
pub(crate) async fn with_acid_inside(server: &Server, id: &str) {
    let clean = json!({"id": "c1", "options": {"circuit_id": "main"}});
    let mut view = server
        .ask("POST", &format!("/api/brewers/{id}/cleans"), clean)
        .await
        .body;
    for n in 0.. {
        if view["state"]["inside"] == "bath" {
            return;
        }
        let act = view["state"]["next"]["act"].clone();
        assert!(
            !act.is_null() && n < 60,
            "{}",
            view["state"]["step"]["title"]
        );
        let sent = json!({"id": format!("e{n}"), "act": act});
        view = server.ask("POST", "/api/cleans/c1/events", sent).await.body;
    }
}

#[tokio::test]
async fn a_card_warns_where_acid_is_inside_and_a_code_opens_the_brewer() {
    let server = Server::start().await;
    let (id, _) = planned(&server).await;
    assert_eq!(
        act(&server, 1, json!({"kind": "started"})).await.status,
        200
    );
    with_acid_inside(&server, &id).await;
    let view = get(&server, "/api/visits/v1").await;
    assert_eq!(view["run"]["inside"][0]["is_bath"], true);
    let cards = get(&server, "/api/visits/v1/cards").await;
    assert_eq!(cards[0]["card"]["headline"], "Do not brew: acid is inside");
    assert!(cards[0]["code"].as_str().unwrap().starts_with("<svg"));
    assert_eq!(
        get(&server, "/api/cleans/c1/card").await["card"],
        cards[0]["card"]
    );
}

#[tokio::test]
async fn what_cannot_be_is_refused_by_its_field_and_changes_nothing() {
    let server = Server::start().await;
    let (_, visit) = planned(&server).await;
    let before = get(&server, "/api/export").await;
    let with = |name: &str, value: Value| {
        let mut wrong = visit.clone();
        wrong[name] = value;
        wrong
    };
    for (wrong, named) in [
        (with("until", json!("09:00:00")), "until"),
        (
            with("stops", json!([{"id": "x", "brewer_id": "nobody"}])),
            "stops.x.brewer_id",
        ),
        (
            with(
                "rooms",
                json!([{"id": "r", "home_id": "nowhere", "name": "Attic", "minutes": 5}]),
            ),
            "rooms.r.home_id",
        ),
        (
            with(
                "rooms",
                json!([{"id": "r", "home_id": "home", "name": "Attic", "minutes": 601}]),
            ),
            "rooms.r.minutes",
        ),
        (with("from", json!("30:00:00")), "from"),
        (with("id", json!("v2")), "id"),
    ] {
        let refused = server.ask("PUT", "/api/visits/v1", wrong).await;
        assert_eq!(field(&refused), (422, named.to_owned()), "{}", refused.body);
    }
    for (body, named) in [
        (json!({"calendar": "hello"}), "calendar"),
        (
            json!({"calendar": "BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n"}),
            "calendar",
        ),
        (
            json!({"calendar": "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:x\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"}),
            "calendar",
        ),
    ] {
        let refused = server.ask("POST", "/api/homes/home/guests", body).await;
        assert_eq!(field(&refused), (422, named.to_owned()));
    }
    let refused = server.ask("DELETE", "/api/homes/home", Value::Null).await;
    assert_eq!(refused.status, 409);
    assert_eq!(get(&server, "/api/export").await, before);
}

#[tokio::test]
async fn a_home_with_a_visit_planned_stays_until_it_is_taken_out() {
    let server = Server::start().await;
    let added = server
        .ask("POST", "/api/homes?id=let", json!({"name": "Cottage"}))
        .await;
    assert_eq!(added.status, 200);
    let room = json!([{"id": "r", "home_id": "let", "name": "Beds", "minutes": 18}]);
    let visit = json!({"id": "v2", "day": day(0), "from": "09:00:00", "rooms": room});
    assert_eq!(server.ask("PUT", "/api/visits/v2", visit).await.status, 204);
    assert_eq!(
        server
            .ask("DELETE", "/api/homes/let", Value::Null)
            .await
            .status,
        409
    );
    assert_eq!(
        server
            .ask("DELETE", "/api/visits/v2", Value::Null)
            .await
            .status,
        204
    );
    assert_eq!(
        server
            .ask("DELETE", "/api/homes/let", Value::Null)
            .await
            .status,
        204
    );
    assert_eq!(
        server
            .ask("POST", "/api/homes/let/restore", Value::Null)
            .await
            .status,
        204
    );
    assert_eq!(
        server
            .ask("POST", "/api/visits/v2/restore", Value::Null)
            .await
            .status,
        204
    );
    assert_eq!(
        get(&server, "/api/visits/v2").await["homes"][0]["name"],
        "Cottage"
    );
}

#[tokio::test]
async fn guests_are_read_from_the_calendar_of_a_let() {
    let server = Server::start().await;
    let home = server
        .ask(
            "POST",
            "/api/homes/home/guests",
            json!({"calendar": GUESTS}),
        )
        .await;
    assert_eq!(home.status, 200, "{}", home.body);
    let stays = home.body["guests"]["stays"].as_array().unwrap();
    // What was called off is none.
    assert_eq!(stays.len(), 3);
    assert_eq!(
        stays[0],
        json!({"from": "2026-12-04", "until": "2026-12-11"})
    );
    let wish = json!({"homes": ["home"], "day": "2026-12-11"});
    let minds = server.ask("POST", "/api/visits/propose", wish).await.body["minds"].clone();
    assert_eq!(
        minds,
        json!(["Own kitchen: guests change between 10:00 AM and 3:00 PM"])
    );
}

/// The events of a calendar, by another reader: uid, start, status.
fn read(text: &str) -> Vec<(String, String, String)> {
    let calendars = ical::IcalParser::new(text.as_bytes());
    let events = calendars.flat_map(|calendar| calendar.unwrap().events);
    let told = |event: &ical::parser::ical::component::IcalEvent, name: &str| {
        let property = event.properties.iter().find(|p| p.name == name);
        property.and_then(|p| p.value.clone()).unwrap_or_default()
    };
    let mut all: Vec<_> = events
        .map(|event| {
            (
                told(&event, "UID"),
                told(&event, "DTSTART"),
                told(&event, "STATUS"),
            )
        })
        .collect();
    all.sort();
    all
}

#[tokio::test]
async fn a_calendar_is_fed_until_it_is_cut_off() {
    let server = Server::start().await;
    let (id, _) = planned(&server).await;
    let file = server.text("/api/calendar.ics").await;
    let events = read(&file.1);
    let visit = events
        .iter()
        .find(|(uid, ..)| uid == "visit-v1@murlo")
        .unwrap();
    let begins = now()
        .in_tz(&crate::kit::zone())
        .unwrap()
        .date()
        .at(9, 30, 0, 0)
        .in_tz(&crate::kit::zone())
        .unwrap()
        .timestamp();
    assert_eq!(visit.1, begins.strftime("%Y%m%dT%H%M%SZ").to_string());
    assert!(
        events
            .iter()
            .any(|(uid, start, _)| *uid == format!("due-{id}-main@murlo") && start.len() == 8)
    );
    let feed = server.ask("POST", "/api/feed", Value::Null).await.body["path"]
        .as_str()
        .unwrap()
        .to_owned();
    assert!(feed.len() > 60, "{feed}");
    assert_eq!(read(&server.text(&feed).await.1), events);
    assert_eq!(get(&server, "/api/round").await["feed"], json!(feed));
    // A visit that is put away is called off under the same uid.
    assert_eq!(
        server
            .ask("DELETE", "/api/visits/v1", Value::Null)
            .await
            .status,
        204
    );
    let called_off = read(&server.text(&feed).await.1);
    let same = called_off
        .iter()
        .find(|(uid, ..)| uid == "visit-v1@murlo")
        .unwrap();
    assert_eq!(same.2, "CANCELLED");
    let other = server.ask("POST", "/api/feed", Value::Null).await.body["path"]
        .as_str()
        .unwrap()
        .to_owned();
    assert_ne!(other, feed);
    assert_eq!(server.text(&feed).await.0, 404);
    assert_eq!(
        server.ask("DELETE", "/api/feed", Value::Null).await.status,
        204
    );
    assert_eq!(server.text(&other).await.0, 404);
    // A calendar cannot sign in; whoever cannot guess the address sees nothing.
    let guarded = Server::with(true).await;
    assert_eq!(guarded.text("/api/calendar.ics").await.0, 401);
    assert_eq!(guarded.text("/feed/guess.ics").await.0, 404);
}

#[tokio::test]
async fn a_visit_travels_with_the_household() {
    let server = Server::start().await;
    planned(&server).await;
    assert_eq!(
        act(&server, 1, json!({"kind": "started"})).await.status,
        200
    );
    let export = get(&server, "/api/export").await;
    assert_eq!(export["version"], murlo_household::VERSION);
    assert_eq!(
        export["visits"][0]["fact"]["events"][0]["what"]["kind"],
        "started"
    );
    assert!(export.get("feed").is_none());
    let other = Server::start().await;
    let took = other
        .ask("POST", "/api/import?replace=true", export.clone())
        .await;
    assert!(took.status < 300, "{}", took.body);
    assert_eq!(get(&other, "/api/export").await, export);
    assert_eq!(get(&other, "/api/visits/v1").await["stage"], "running");
}

#[tokio::test]
async fn photos_of_a_visit_and_a_brewer_are_kept_put_away_and_brought_back() {
    let server = Server::start().await;
    let (brewer, _) = planned(&server).await;
    let headers = format!("host: {}\r\ncontent-type: image/png\r\n", server.host);
    let mut png = Vec::new();
    RgbImage::new(8, 6)
        .write_to(&mut Cursor::new(&mut png), ImageFormat::Png)
        .unwrap();
    let send = async |path: &str| server.raw("PUT", path, &headers, &png).await;
    let guide = format!("/api/photos/page?shows=guide&brewer_id={brewer}");
    for (path, status) in [
        ("/api/photos/b1?shows=before&visit_id=v1", 204),
        ("/api/photos/a1?shows=after&visit_id=v1", 204),
        (guide.as_str(), 204),
        ("/api/photos/x?shows=after&visit_id=nowhere", 404),
        ("/api/photos/x?shows=glass&visit_id=v1", 422),
        ("/api/photos/x?shows=after", 422),
        // Another photo has this id.
        ("/api/photos/b1?shows=after&visit_id=v1", 409),
    ] {
        let answer = send(path).await;
        assert_eq!(answer.status, status, "{path}: {}", answer.body);
    }
    for (asked, said) in [
        ("visit_id=v1", "missing field `shows`"),
        (
            "shows=cat&visit_id=v1",
            "expected one of `glass`, `before`, `after`, `guide`",
        ),
    ] {
        let answer = send(&format!("/api/photos/x?{asked}")).await;
        let detail = answer.body["detail"].as_str().unwrap();
        assert_eq!(answer.status, 400, "{asked}");
        assert!(
            detail.contains("in the address") && detail.contains(said),
            "{detail}"
        );
    }
    let shown = async || {
        let view = get(&server, "/api/visits/v1").await;
        let photos = view["photos"].as_array().unwrap().clone();
        photos
            .into_iter()
            .map(|p| p["id"].as_str().unwrap().to_owned())
            .collect::<Vec<_>>()
    };
    assert_eq!(shown().await, ["b1", "a1"]);
    let view = get(&server, &format!("/api/brewers/{brewer}")).await;
    assert_eq!(view["photos"][0]["shows"], "guide");

    assert_eq!(
        server
            .ask("DELETE", "/api/photos/b1", Value::Null)
            .await
            .status,
        204
    );
    assert_eq!(shown().await, ["a1"]);
    let back = server
        .ask("POST", "/api/photos/b1/restore", Value::Null)
        .await;
    assert_eq!(
        (back.status, shown().await),
        (204, vec!["b1".to_owned(), "a1".to_owned()])
    );
    let nowhere = server.ask("DELETE", "/api/photos/none", Value::Null).await;
    assert_eq!(nowhere.status, 404);
    // They travel.
    let export = get(&server, "/api/export").await;
    assert_eq!(export["photos"].as_array().unwrap().len(), 3);
}

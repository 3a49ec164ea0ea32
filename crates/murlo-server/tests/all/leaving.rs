//! Nothing is left behind: visits over HTTP that somebody would close, leave or begin over something that is not done.

use crate::kit::{Server, day, json};
use crate::rounds::{act, get, planned, with_acid_inside};

#[tokio::test]
async fn a_visit_is_closed_once_everything_is_done_moved_or_named() {
    let server = Server::start().await;
    let (id, visit) = planned(&server).await;
    let pod = visit["stops"][0]["id"].clone();
    assert_eq!(
        act(&server, 1, json!({"kind": "started"})).await.status,
        200
    );
    with_acid_inside(&server, &id).await;
    let before = get(&server, "/api/export").await;
    let closed = |left| json!({"kind": "closed", "bill": {"lines": []}, "left": left});
    let moved = json!({"id": "home-bath", "day": day(-3)});
    for (left, why) in [
        (json!([]), "rinse it out first, about "),
        (json!([{"id": pod}, moved]), "rinse it out first, about "),
        (json!([{"id": pod, "inside": true}]), "Bathroom is not done"),
        (
            json!([{"id": pod, "inside": true}, {"id": "home-bath", "day": day(0)}]),
            "what.left.1.day",
        ),
        (
            json!([{"id": pod, "inside": true}, moved, {"id": "attic"}]),
            "not part of this visit",
        ),
    ] {
        let refused = act(&server, 2, closed(left.clone())).await;
        assert!((400..500).contains(&refused.status), "{left}");
        assert!(
            refused.body.to_string().contains(why),
            "{left}: {}",
            refused.body
        );
    }
    let refused = act(&server, 2, json!({"kind": "dropped", "id": pod})).await;
    assert_eq!(refused.status, 409, "{}", refused.body);
    assert_eq!(get(&server, "/api/export").await, before);

    let over = act(
        &server,
        2,
        closed(json!([{"id": pod, "inside": true}, moved])),
    )
    .await;
    assert_eq!(
        (over.status, &over.body["stage"]),
        (200, &json!("closed")),
        "{}",
        over.body
    );
    let stops = over.body["stops"].as_array().unwrap();
    let bath = stops.iter().find(|stop| stop["id"] == "home-bath").unwrap();
    assert_eq!(bath["is_left"], true);
    assert!(bath["state"].as_str().unwrap().starts_with("moved to "));
    // The card says what is inside, and the room waits for its day.
    let cards = get(&server, "/api/visits/v1/cards").await;
    assert_eq!(cards[0]["card"]["headline"], "Do not brew: acid is inside");
    let round = get(&server, "/api/round").await;
    assert_eq!(round["moved"][0]["name"], "Bathroom");
    assert_eq!(round["moved"][0]["day"], json!(day(-3)));
    let next = json!({"id": "v2", "day": day(-3), "from": "09:30:00", "rooms": visit["rooms"]});
    assert_eq!(server.ask("PUT", "/api/visits/v2", next).await.status, 204);
    assert_eq!(get(&server, "/api/round").await["moved"], json!([]));
    // What was closed so travels with the household.
    let export = get(&server, "/api/export").await;
    let other = Server::start().await;
    let taken = other.ask("POST", "/api/import?replace=true", export).await;
    assert_eq!(taken.status, 204, "{}", taken.body);
    assert_eq!(get(&other, "/api/visits/v1").await["stage"], "closed");
}

#[tokio::test]
async fn one_person_is_at_one_visit_and_leaves_no_home_over_a_bath() {
    let server = Server::start().await;
    let (id, visit) = planned(&server).await;
    // As the pages make them: ids of 36 letters for the home and its room.
    let (home, room) = (
        "0b2c8a54-6f0e-4a53-9c8d-1f6f2f3f7a10",
        "7d1e2a90-3b1c-4f55-8a77-2c9b0e4d6f21",
    );
    let name = "The harbour master's cottage by the lower quay, second floor";
    let added = server
        .ask(
            "POST",
            &format!("/api/homes?id={home}"),
            json!({"name": name}),
        )
        .await;
    assert_eq!(added.status, 200, "{}", added.body);
    let mut told = get(&server, "/api/household").await["homes"]
        .as_array()
        .unwrap()
        .clone();
    let told = told.iter_mut().find(|one| one["id"] == home).unwrap();
    told["rooms"] = json!([{"id": room, "name": "Beds", "minutes": 20}]);
    told["travel_min"] = json!(12);
    assert_eq!(
        server
            .ask("PUT", &format!("/api/homes/{home}"), told.clone())
            .await
            .status,
        204
    );
    let wish = json!({"homes": [home], "day": day(0)});
    let rooms = server.ask("POST", "/api/visits/propose", wish).await.body["rooms"].clone();
    assert_eq!(rooms.as_array().unwrap().len(), 1);
    let both = [
        visit["rooms"].as_array().unwrap().clone(),
        rooms.as_array().unwrap().clone(),
    ]
    .concat();
    let mut wide = visit.clone();
    wide["rooms"] = json!(both);
    let kept = server.ask("PUT", "/api/visits/v1", wide).await;
    assert_eq!(kept.status, 204, "{}", kept.body);
    let alone = json!({"id": "v2", "day": day(0), "from": "13:00:00", "rooms": rooms});
    let kept = server.ask("PUT", "/api/visits/v2", alone).await;
    assert_eq!(kept.status, 204, "{}", kept.body);

    assert_eq!(
        act(&server, 1, json!({"kind": "started"})).await.status,
        200
    );
    let start = json!({"id": "b1", "what": {"kind": "started"}});
    let second = server
        .ask("POST", "/api/visits/v2/acts", start.clone())
        .await;
    assert_eq!(second.status, 409);
    assert!(
        second
            .body
            .to_string()
            .contains("is not over: close it first"),
        "{}",
        second.body
    );

    with_acid_inside(&server, &id).await;
    let arrived = json!({"kind": "arrived", "home": home});
    let refused = act(&server, 2, arrived.clone()).await;
    assert_eq!(refused.status, 409, "{}", refused.body);
    let nowhere = act(&server, 2, json!({"kind": "arrived", "home": "nowhere"})).await;
    assert_eq!(nowhere.status, 422);
    let mut meant = arrived;
    meant["leaves"] = json!([visit["stops"][0]["id"]]);
    let there = act(&server, 2, meant).await;
    assert_eq!(there.status, 200, "{}", there.body);
    assert_eq!(there.body["run"]["place"], json!(name));
    let beds = there.body["run"]["left"]["acts"].as_array().unwrap().iter();
    let beds = beds
        .clone()
        .find(|one| one["is_room"] == true && one["home_id"] == home)
        .unwrap();
    assert_eq!(beds["is_elsewhere"], false);
}

#[tokio::test]
async fn a_stop_that_cannot_be_planned_keeps_no_visit_from_being_seen() {
    let server = Server::start().await;
    let (id, visit) = planned(&server).await;
    let mut odd = visit.clone();
    odd["stops"] = json!([
        visit["stops"][0],
        {"id": "odd", "brewer_id": id, "options": {"work": "descale", "agent_id": "gone"}},
    ]);
    let kept = server.ask("PUT", "/api/visits/v1", odd).await;
    assert_eq!(kept.status, 204, "{}", kept.body);
    let view = get(&server, "/api/visits/v1").await;
    let stops = view["stops"].as_array().unwrap();
    let odd = stops.iter().find(|stop| stop["id"] == "odd").unwrap();
    assert!(
        odd["state"]
            .as_str()
            .unwrap()
            .starts_with("cannot be planned: "),
        "{odd}"
    );
    assert_eq!(
        view["outlook"]["shortest"]["lines"]
            .as_array()
            .unwrap()
            .len(),
        2
    );
    // It is named when the visit is closed, as everything else is.
    assert_eq!(
        act(&server, 1, json!({"kind": "started"})).await.status,
        200
    );
    let left = |ids: &[&str]| {
        let left: Vec<_> = ids.iter().map(|id| json!({"id": id})).collect();
        json!({"kind": "closed", "bill": {"lines": []}, "left": left})
    };
    let pod = visit["stops"][0]["id"].as_str().unwrap();
    assert_eq!(act(&server, 2, left(&[pod, "home-bath"])).await.status, 409);
    assert_eq!(
        act(&server, 2, left(&[pod, "home-bath", "odd"]))
            .await
            .status,
        200
    );
}

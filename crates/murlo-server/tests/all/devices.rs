//! Devices over HTTP: let in by a code, told apart, forgotten; and a link that looks at one home.

use crate::kit::{Answer, Server, day, json, to_the_end, with_brewer};
use murlo_server::Reached;
use serde_json::Value;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;

/// A household whose devices sign in, and the one that has the passcode.
async fn household() -> (Server, Server) {
    let server = Server::with(true).await;
    let passcode = json!({"passcode": "chalk and water"});
    let full = server.as_taken_in(&server.ask("POST", "/api/session", passcode).await);
    (server, full)
}

async fn get(server: &Server, path: &str) -> Value {
    let answer = server.ask("GET", path, Value::Null).await;
    assert_eq!(answer.status, 200, "{path}: {}", answer.body);
    answer.body
}

/// The device of the list that `is` it.
async fn listed(full: &Server, is: impl Fn(&Value) -> bool) -> Value {
    let list = get(full, "/api/devices").await;
    let mut all = list["devices"].as_array().unwrap().iter();
    all.find(|one| is(one)).unwrap().clone()
}

async fn code(full: &Server, may: &str) -> String {
    let invited = full
        .ask("POST", "/api/invitations", json!({"may": may}))
        .await;
    assert_eq!(invited.status, 200, "{}", invited.body);
    invited.body["code"].as_str().unwrap().to_owned()
}

async fn pair(server: &Server, code: &str, person: Value) -> Answer {
    let pairing = json!({"code": code, "name": "Hall phone", "person": person});
    server.ask("POST", "/api/pair", pairing).await
}

/// A device that was let in by a code of `full`.
async fn device(server: &Server, full: &Server, may: &str, person: &str) -> Server {
    let code = code(full, may).await;
    server.as_taken_in(&pair(server, &code, json!(person)).await)
}

#[tokio::test]
async fn a_code_takes_one_device_in_and_names_it() {
    let (server, full) = household().await;
    let code = code(&full, "full").await;
    let nameless = json!({"code": code, "name": " "});
    let nameless = server.ask("POST", "/api/pair", nameless).await;
    assert_eq!(
        (nameless.status, &nameless.body["errors"][0]["field"]),
        (422, &json!("name"))
    );
    let typed = code.replace('-', " ").to_lowercase();
    let phone = server.as_taken_in(&pair(&server, &typed, json!("Ola")).await);
    let session = get(&phone, "/api/session").await;
    assert_eq!(
        (&session["name"], &session["person"], &session["is_full"]),
        (&json!("Hall phone"), &json!("Ola"), &json!(true))
    );
    assert_eq!(
        pair(&server, &code, json!(null)).await.status,
        401,
        "once is all"
    );
    let list = get(&phone, "/api/devices").await;
    let names: Vec<_> = list["devices"]
        .as_array()
        .unwrap()
        .iter()
        .map(|one| {
            (
                one["name"].as_str().unwrap(),
                one["is_this"].as_bool().unwrap(),
            )
        })
        .collect();
    assert_eq!(names.len(), 2, "{list}");
    assert!(
        names.contains(&("Hall phone", true))
            && names.contains(&("Signed in with the passcode", false)),
        "{list}"
    );
    assert_eq!(list["people"], json!(["Ola"]));
}

#[tokio::test]
async fn a_guesser_waits_and_a_device_that_is_in_does_not() {
    let (server, full) = household().await;
    for n in 0..5 {
        assert_eq!(
            pair(&server, &format!("0000-000{n}"), json!(null))
                .await
                .status,
            401
        );
    }
    let late = pair(&server, &code(&full, "full").await, json!(null)).await;
    assert_eq!(late.status, 429);
    assert!(late.head.contains("retry-after: 60"), "{}", late.head);
    get(&full, "/api/counter").await;
    // What cannot be a code is told so, and is no guess.
    assert_eq!(pair(&full, "K7QM", json!(null)).await.status, 422);
}

#[tokio::test]
async fn a_forgotten_device_hears_nothing_more_and_can_be_taken_back() {
    let (server, full) = household().await;
    let code = code(&full, "full").await;
    let taken = pair(&server, &code, json!("Ola")).await;
    let phone = server.as_taken_in(&taken);
    let cookie = taken
        .head
        .lines()
        .find_map(|line| line.strip_prefix("set-cookie: "))
        .unwrap();
    let cookie = cookie.split(';').next().unwrap();
    let mut stream = TcpStream::connect(&server.host).await.unwrap();
    let asked = format!(
        "GET /api/changes HTTP/1.1\r\nhost: {}\r\ncookie: {cookie}\r\nconnection: close\r\n\r\n",
        server.host
    );
    stream.write_all(asked.as_bytes()).await.unwrap();
    let mut heard = [0; 1024];
    assert!(stream.read(&mut heard).await.unwrap() > 0, "it listens");
    let listed = listed(&full, |one| one["name"] == "Hall phone").await;
    let id = listed["id"].as_str().unwrap();
    assert_eq!(
        full.ask("DELETE", &format!("/api/devices/{id}"), Value::Null)
            .await
            .status,
        204
    );
    let mut rest = String::new();
    stream.read_to_string(&mut rest).await.unwrap();
    assert!(!rest.contains("gone:"), "its stream ends: {rest}");
    assert_eq!(
        phone.ask("GET", "/api/counter", Value::Null).await.status,
        401
    );
    let back = full
        .ask("POST", &format!("/api/devices/{id}/restore"), Value::Null)
        .await;
    assert_eq!(back.status, 204);
    get(&phone, "/api/counter").await;
    // It signs itself out.
    assert_eq!(
        phone
            .ask("DELETE", "/api/session", Value::Null)
            .await
            .status,
        204
    );
    assert_eq!(
        phone.ask("GET", "/api/counter", Value::Null).await.status,
        401
    );
    for (method, path) in [
        ("DELETE", "/api/devices/none"),
        ("POST", "/api/devices/none/restore"),
    ] {
        assert_eq!(full.ask(method, path, Value::Null).await.status, 404);
    }
}

#[tokio::test]
async fn a_device_is_called_otherwise_and_stays_what_it_was() {
    let (server, full) = household().await;
    let helper = device(&server, &full, "helper", "Ola").await;
    let listed = listed(&full, |one| one["name"] == "Hall phone").await;
    let path = format!("/api/devices/{}", listed["id"].as_str().unwrap());
    let named = full
        .ask("PUT", &path, json!({"name": "Tablet", "person": "Juna"}))
        .await;
    assert_eq!(named.status, 204);
    let session = get(&helper, "/api/session").await;
    assert_eq!(
        (&session["name"], &session["person"], &session["is_full"]),
        (&json!("Tablet"), &json!("Juna"), &json!(false))
    );
    assert_eq!(
        full.ask("PUT", &path, json!({"name": ""})).await.status,
        422
    );
}

#[tokio::test]
async fn what_was_done_carries_whose_device_it_was() {
    let (server, full) = household().await;
    let brewer = with_brewer(&full).await;
    let helper = device(&server, &full, "helper", "Ola").await;
    let start = json!({"id": "c", "options": {}});
    let begun = helper
        .ask("POST", &format!("/api/brewers/{brewer}/cleans"), start)
        .await;
    assert_eq!(begun.status, 200, "{}", begun.body);
    to_the_end(&helper, "c", &begun.body, "some").await;
    let log = get(&full, "/api/log").await;
    assert_eq!(log["lines"][0]["by"], "Ola");
    let answer = full.ask("GET", "/api/export", Value::Null).await;
    assert_eq!(answer.body["cleans"][0]["events"][0]["by"], "Ola");
    // What came from an export of its own is the same again.
    let again = full
        .ask("POST", "/api/import?replace=true", answer.body.clone())
        .await;
    assert_eq!(again.status, 204, "{}", again.body);
    assert_eq!(
        full.ask("GET", "/api/export", Value::Null).await.body,
        answer.body
    );
    get(&helper, "/api/counter").await;
}

#[tokio::test]
async fn a_helper_sees_no_price_and_changes_none() {
    let (server, full) = household().await;
    with_brewer(&full).await;
    let mut home = get(&full, "/api/household").await["homes"][0].clone();
    home["pay"] = json!({"by": "fixed", "price": 77.5});
    home["descaling_price"] = json!(12.5);
    let kept = full.ask("PUT", "/api/homes/home", home.clone()).await;
    assert!(kept.status < 300, "{}", kept.body);
    let helper = device(&server, &full, "helper", "Ola").await;
    let seen = get(&helper, "/api/household").await["homes"][0].clone();
    assert_eq!(
        (&seen["pay"], &seen["descaling_price"]),
        (&json!({"by": "usual"}), &Value::Null)
    );
    for path in ["/api/household", "/api/first", "/api/round"] {
        assert!(
            !get(&helper, path).await.to_string().contains("77.5"),
            "{path}"
        );
    }
    for (method, path) in [
        ("PUT", "/api/homes/home"),
        ("PUT", "/api/settings"),
        ("GET", "/api/owed"),
        ("GET", "/api/export"),
        ("GET", "/api/devices"),
        ("POST", "/api/invitations"),
    ] {
        assert_eq!(
            helper.ask(method, path, home.clone()).await.status,
            403,
            "{method} {path}"
        );
    }
    assert_eq!(
        get(&full, "/api/household").await["homes"][0]["pay"]["price"],
        77.5
    );
}

#[tokio::test]
async fn a_link_sees_its_home_and_nothing_else() {
    let (server, full) = household().await;
    let brewer = with_brewer(&full).await;
    full.ask(
        "POST",
        "/api/homes?id=other",
        json!({"name": "Other attic"}),
    )
    .await;
    let begun = full
        .ask(
            "POST",
            &format!("/api/brewers/{brewer}/cleans"),
            json!({"id": "c", "options": {}}),
        )
        .await;
    to_the_end(&full, "c", &begun.body, "some").await;
    let wish = json!({"may": "look", "home_id": "home", "until": day(-30), "person": "The harbour office"});
    let invited = full.ask("POST", "/api/invitations", wish).await;
    assert_eq!(invited.status, 200, "{}", invited.body);
    let address = invited.body["ways"][0]["address"].as_str().unwrap();
    let token = address.split_once("/look#").unwrap().1;
    let as_link = |path: &str| {
        let head = format!(
            "host: {0}\r\nauthorization: Bearer {token}\r\ncookie: murlo_device={token}\r\n",
            server.host
        );
        let path = path.to_owned();
        let server = server.clone();
        async move { server.raw("GET", &path, &head, "").await }
    };
    let seen = as_link("/api/look").await;
    assert_eq!(seen.status, 200);
    assert_eq!(seen.body["home"], "Own kitchen");
    let pod = &seen.body["brewers"][0];
    assert_eq!(pod["nickname"], "Lamp-room pod");
    assert!(
        pod["done"][0]["what"]
            .as_str()
            .unwrap()
            .contains("Citric acid"),
        "{pod}"
    );
    assert!(
        pod["next"][0]
            .as_str()
            .unwrap()
            .starts_with("Next descaling"),
        "{pod}"
    );
    assert!(!seen.body.to_string().contains("attic"));
    // Everything else that can be asked is refused, whatever is put into its address.
    let document = get(&full, "/api/openapi.json").await;
    let paths = document["paths"].as_object().unwrap();
    assert!(paths.len() > 80, "{}", paths.len());
    for path in paths
        .keys()
        .filter(|path| !["/api/look", "/api/session"].contains(&path.as_str()))
    {
        let path = path.replace("{id}", &brewer).replace("{kind}", "brewer");
        let status = as_link(&path).await.status;
        let only_posted = path == "/api/pair" && status == 405;
        assert!(
            status == 401 || status == 403 || only_posted,
            "{path}: {status}"
        );
    }
    assert_eq!(as_link("/api/session").await.body["signed_in"], false);
    let link = listed(&full, |one| one["kind"]["kind"] == "look").await;
    assert_eq!(link["name"], "The harbour office's link");
    let id = link["id"].as_str().unwrap();
    full.ask("DELETE", &format!("/api/devices/{id}"), Value::Null)
        .await;
    assert_eq!(as_link("/api/look").await.status, 401, "it was forgotten");
}

#[tokio::test]
async fn a_plug_tells_what_its_brewer_brews_and_the_day_moves_without_anybody() {
    let (server, full) = household().await;
    let brewer = with_brewer(&full).await;
    let due = || async {
        let view = get(&full, &format!("/api/brewers/{brewer}")).await;
        view["card"]["circuits"][0]["forecast"]["chalk"]["um"].clone()
    };
    let before = due().await;
    let wish = json!({"may": "counts", "brewer_id": brewer});
    let invited = full.ask("POST", "/api/invitations", wish).await;
    assert_eq!(invited.status, 200, "{}", invited.body);
    let command = invited.body["command"].as_str().unwrap();
    let token = command
        .split("Bearer ")
        .nth(1)
        .unwrap()
        .split('\'')
        .next()
        .unwrap();
    let post = |brews: Value, path: String| {
        let head = format!(
            "host: {}\r\ncontent-type: application/json\r\nauthorization: Bearer {token}\r\n",
            server.host
        );
        let server = server.clone();
        async move {
            server
                .raw("POST", &path, &head, json!({"brews": brews}).to_string())
                .await
        }
    };
    let path = format!("/api/brewers/{brewer}/counts");
    // Twenty cups a day, late ones first.
    let brews: Value = (0..200).rev().map(|n| json!({"id": format!("b{n}"), "at": format!("{}T{:02}:00:00Z", day(1 + n / 20), n % 20), "cups": 1})).collect();
    let taken = post(brews.clone(), path.clone()).await;
    assert_eq!(
        (taken.status, &taken.body["days"]),
        (200, &json!(10)),
        "{}",
        taken.body
    );
    let after = due().await;
    assert!(after.as_f64() > before.as_f64(), "{before} then {after}");
    // Sent again it counts once, and a day is one line.
    assert_eq!(post(brews, path.clone()).await.status, 200);
    assert_eq!(due().await, after);
    let journal = get(&full, &format!("/api/brewers/{brewer}")).await["journal"].clone();
    assert_eq!(
        journal
            .as_array()
            .unwrap()
            .iter()
            .filter(|line| line["is_counted"] == true)
            .count(),
        10
    );
    let ahead = json!([{"id": "x", "at": "2199-01-01T00:00:00Z"}]);
    let refused = post(ahead, path.clone()).await;
    assert_eq!(
        (refused.status, &refused.body["errors"][0]["field"]),
        (422, &json!("brews.0.at"))
    );
    // It may nothing else, and nothing of another brewer; once forgotten, nothing at all.
    let one = json!([{"id": "y", "at": format!("{}T08:00:00Z", day(1))}]);
    assert_eq!(
        post(one.clone(), "/api/brewers/other/counts".to_owned())
            .await
            .status,
        403
    );
    let plug = listed(&full, |one| one["kind"]["kind"] == "counts").await;
    assert_eq!(plug["may"], "Counts what Lamp-room pod brews");
    let id = plug["id"].as_str().unwrap();
    full.ask("DELETE", &format!("/api/devices/{id}"), Value::Null)
        .await;
    assert_eq!(post(one, path).await.status, 401);
}

#[tokio::test]
async fn a_wish_that_lets_nobody_in_says_why() {
    let (_, full) = household().await;
    for (wish, status, field) in [
        (json!({"may": "look", "until": day(-1)}), 422, "home_id"),
        (json!({"may": "look", "home_id": "home"}), 422, "until"),
        (
            json!({"may": "look", "home_id": "home", "until": day(1)}),
            422,
            "until",
        ),
        (
            json!({"may": "look", "home_id": "none", "until": day(-1)}),
            404,
            "",
        ),
        (json!({"may": "everything"}), 422, "may"),
    ] {
        let refused = full.ask("POST", "/api/invitations", wish.clone()).await;
        assert_eq!(refused.status, status, "{wish}: {}", refused.body);
        if !field.is_empty() {
            assert_eq!(refused.body["errors"][0]["field"], field, "{wish}");
        }
    }
    let open = Server::start().await;
    let refused = open
        .ask("POST", "/api/invitations", json!({"may": "full"}))
        .await;
    assert_eq!(refused.status, 409);
    assert!(
        refused.body["detail"].as_str().unwrap().contains("--home"),
        "{}",
        refused.body
    );
}

#[tokio::test]
async fn a_name_that_is_not_ours_gets_a_page_that_says_what_to_do() {
    let names = vec!["coffee.harbour.example".to_owned()];
    let server = Server::serving(false, |state| {
        state.reached(Reached {
            names,
            ..Reached::default()
        })
    })
    .await;
    for (host, path, status) in [
        ("coffee.harbour.example", "/api/counter", 200),
        ("attic.harbour.example", "/api/counter", 403),
        ("attic.harbour.example", "/", 403),
    ] {
        let answer = server
            .raw("GET", path, &format!("host: {host}\r\n"), "")
            .await;
        assert_eq!(answer.status, status, "{host}{path}");
        let is_page = answer.head.contains("text/html");
        assert_eq!(is_page, status == 403 && path == "/", "{}", answer.head);
    }
}

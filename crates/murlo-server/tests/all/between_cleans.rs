//! Waters, what is written down between cleans, and what it teaches, over HTTP.

use crate::kit::{Server, day, json, said, with_brewer};
use murlo_calc::topic;
use serde_json::Value;

async fn get(server: &Server, path: &str) -> Value {
    let answer = server.ask("GET", path, Value::Null).await;
    assert_eq!(answer.status, 200, "{path}: {}", answer.body);
    assert!(answer.head.contains("application/json"), "{}", answer.head);
    answer.body
}

async fn status(server: &Server, method: &str, path: &str, body: Value) -> u16 {
    server.ask(method, path, body).await.status
}

fn forecast(view: &Value) -> &Value {
    &view["card"]["circuits"][0]["forecast"]
}

#[tokio::test]
async fn a_sign_teaches_once_and_its_lesson_can_be_left_out() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let (page, journal) = (
        format!("/api/brewers/{id}"),
        format!("/api/brewers/{id}/journal"),
    );
    let before = get(&server, &page).await;
    assert!(
        forecast(&before)["learned"]
            .as_str()
            .unwrap()
            .starts_with("Nothing learned yet")
    );
    let what = json!({"kind": "sign", "circuit_id": "main", "sign": "slow", "dated": true});
    let sign = json!({"id": "s1", "day": day(74), "what": what});
    for _ in 0..2 {
        let taken = server.ask("POST", &journal, sign.clone()).await;
        assert_eq!(taken.status, 200, "{}", taken.body);
        assert!(
            taken.body["what"].get("potential_mg").is_none(),
            "never stored"
        );
    }
    let after = get(&server, &page).await;
    let lessons = forecast(&after)["lessons"].as_array().unwrap();
    assert_eq!(lessons.len(), 1, "sent twice, learned once");
    assert!(lessons[0]["percent"].as_f64().unwrap() > 1.0);
    assert!(lessons[0]["due_after"].as_str() < lessons[0]["due_before"].as_str());
    assert!(forecast(&after)["chalk"]["mg"].as_f64() > forecast(&before)["chalk"]["mg"].as_f64());

    let other = json!({"id": "s1", "day": day(73), "what": what});
    assert_eq!(status(&server, "POST", &journal, other).await, 409);
    let out = json!({"kind": "left_out", "entry_id": "s1"});
    let out = json!({"id": "o1", "day": day(0), "what": out});
    assert_eq!(status(&server, "POST", &journal, out).await, 200);
    let without = get(&server, &page).await;
    let chalk = |view: &Value| forecast(view)["chalk"]["text"].clone();
    assert_eq!(chalk(&without), chalk(&before));
    assert_eq!(forecast(&without)["lessons"][0]["left_out_by"], "o1");
    let entry = format!("{journal}/o1");
    assert_eq!(status(&server, "DELETE", &entry, Value::Null).await, 204);
    let again = get(&server, &page).await;
    assert_eq!(chalk(&again), chalk(&after));
    let foreign = "/api/brewers/nobody/journal/s1";
    assert_eq!(status(&server, "DELETE", foreign, Value::Null).await, 404);
}

#[tokio::test]
async fn brews_counts_and_filters_reach_the_estimate_and_can_be_taken_back() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let page = format!("/api/brewers/{id}");
    let litres = |view: &Value| forecast(view)["litres"].as_f64().unwrap();
    let before = litres(&get(&server, &page).await);
    let brewed = json!({"id": "b1", "day": day(3), "what": {"kind": "brewed", "cups": 40.0}});
    let journal = format!("{page}/journal");
    assert_eq!(status(&server, "POST", &journal, brewed).await, 200);
    let more = get(&server, &page).await;
    assert!(litres(&more) > before + 5.0);
    assert_eq!(
        more["journal"][0]["text"],
        format!("40 cups on {}", said(3))
    );
    let entry = format!("{journal}/b1");
    assert_eq!(status(&server, "DELETE", &entry, Value::Null).await, 204);
    assert!((litres(&get(&server, &page).await) - before).abs() < 1e-9);
    let restore = format!("{entry}/restore");
    assert_eq!(status(&server, "POST", &restore, Value::Null).await, 204);
    assert!(litres(&get(&server, &page).await) > before + 5.0);

    let counts = format!("{page}/counts");
    let wrong = json!({"csv": format!("{},2\n{},lots", day(5), day(4))});
    let refused = server.ask("POST", &counts, wrong).await;
    assert_eq!(
        (refused.status, &refused.body["errors"][0]["field"]),
        (422, &json!("line 2"))
    );
    let csv = json!({"csv": format!("day,cups\n{},2\n{},30\n", day(5), day(4))});
    for _ in 0..2 {
        let taken = server.ask("POST", &counts, csv.clone()).await;
        assert_eq!(taken.body["days"], 2, "{}", taken.body);
    }
    let journal = get(&server, &page).await["journal"]
        .as_array()
        .unwrap()
        .len();
    assert_eq!(journal, 3, "a file brought twice counts once");
    let fitted = json!({"id": "f1", "day": day(1), "what": {"kind": "filter_fitted"}});
    assert_eq!(
        status(&server, "POST", &format!("{page}/journal"), fitted).await,
        200
    );
    let counter = get(&server, "/api/counter").await;
    let works = counter["brewers"][0]["upkeep"].as_array().unwrap();
    let filter = works.iter().find(|work| work["job"] == "filter");
    assert_eq!(filter.unwrap()["is_due"], false);
}

#[tokio::test]
async fn waters_blend_stand_on_the_ruler_and_show_what_would_change() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let hard = get(&server, "/api/waters").await["waters"][0]["water"]["id"].clone();
    let add = async |name: &str, reading: Value| {
        let draft = json!({"name": name, "reading": reading});
        server.ask("POST", "/api/waters", draft).await
    };
    let label = json!({"by": "label", "ca_mg_l": 11.6, "mg_mg_l": 3.1, "hco3_mg_l": 42.0, "ph": null, "tds_mg_l": null});
    let soft = add("Larkwell", label).await.body["id"].clone();
    let blend = |first: &Value, share: f64| json!({"by": "blend", "first_id": first, "second_id": soft, "share_first": share});
    let half = add("Half and half", blend(&hard, 0.5)).await;
    assert_eq!(half.status, 200, "{}", half.body);
    for (name, reading, field) in [
        ("Nested", blend(&half.body["id"], 0.5), "reading.first_id"),
        ("Lost", blend(&json!("nowhere"), 0.5), "reading.first_id"),
        ("Too much", blend(&hard, 1.5), "reading.share_first"),
        (
            "Upside down",
            json!({"by": "between", "low": 180, "high": 120, "unit": "mg/L"}),
            "reading.high",
        ),
    ] {
        let refused = add(name, reading).await;
        assert_eq!(
            (refused.status, &refused.body["errors"][0]["field"]),
            (422, &json!(field))
        );
    }
    let whole = json!({"name": "Larkwell", "reading": blend(&hard, 0.5)});
    let larkwell = format!("/api/waters/{}", soft.as_str().unwrap());
    assert_eq!(status(&server, "PUT", &larkwell, whole).await, 422);
    assert_eq!(
        status(&server, "DELETE", &larkwell, Value::Null).await,
        409,
        "the blend uses it"
    );
    let harbour = format!("/api/waters/{}", hard.as_str().unwrap());
    assert_eq!(
        status(&server, "DELETE", &harbour, Value::Null).await,
        409,
        "the brewer uses it"
    );

    let view = get(&server, "/api/waters").await;
    let names: Vec<_> = view["waters"]
        .as_array()
        .unwrap()
        .iter()
        .map(|w| w["water"]["name"].clone())
        .collect();
    assert_eq!(names, ["Half and half", "Harbour mains", "Larkwell"]);
    let hardness = |i: usize| view["waters"][i]["portrait"]["hardness"].as_f64().unwrap();
    assert!((hardness(0) - (hardness(1) + hardness(2)) / 2.0).abs() < 1e-9);
    let days = |i: usize| view["brewers"][0]["intervals"][i]["days"].as_i64().unwrap();
    assert!(
        days(1) < days(0) && days(0) <= days(2),
        "{:?}",
        [days(0), days(1), days(2)]
    );

    let both = server
        .ask(
            "POST",
            &format!("/api/brewers/{id}/what-if"),
            json!({"water_id": soft}),
        )
        .await;
    assert_eq!(
        both.body["then"]["days"],
        view["brewers"][0]["intervals"][2]["days"]
    );
    let gone = format!("/api/waters/{}", half.body["id"].as_str().unwrap());
    assert_eq!(status(&server, "DELETE", &gone, Value::Null).await, 204);
    assert_eq!(
        get(&server, "/api/waters").await["waters"]
            .as_array()
            .unwrap()
            .len(),
        2
    );
    assert_eq!(
        status(&server, "POST", &format!("{gone}/restore"), Value::Null).await,
        204
    );
}

#[tokio::test]
async fn every_reference_case_holds_over_http() {
    let server = Server::start().await;
    let cases: Vec<Value> =
        serde_json::from_str(include_str!("../../../murlo-calc/testdata/reference.json")).unwrap();
    assert!(cases.len() > 50);
    for case in cases {
        let path = format!("/api/calc/{}", case["kind"].as_str().unwrap());
        let answer = server.ask("POST", &path, case["input"].clone()).await;
        assert_eq!(answer.status, 200, "{path}: {}", answer.body);
        let core = topic(case["kind"].as_str().unwrap()).unwrap();
        let held = core.answer(&case["input"]).unwrap();
        let held: Value = serde_json::from_str(&held.to_string()).unwrap();
        assert_eq!(
            answer.body, held,
            "{path}: the answer that the core's own test holds"
        );
    }
}

#[tokio::test]
async fn a_told_clean_teaches_by_what_is_told_of_its_baths() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let path = format!("/api/brewers/{id}/past-cleans");
    let used = async |server: &Server| {
        let page = server
            .ask("GET", &format!("/api/brewers/{id}"), Value::Null)
            .await;
        page.body["card"]["circuits"][0]["forecast"]["chalk"]["used"]
            .as_f64()
            .unwrap()
    };
    let before = used(&server).await;
    let bath = |agent: &str, soak: f64, baths: u32| {
        let bath = json!({"agent_id": agent, "soak_minutes": soak, "baths": baths});
        json!({"day": day(0), "note": "", "bath": bath})
    };
    for (body, field) in [
        (bath("gin", 20.0, 1), "bath.agent_id"),
        (bath("vinegar", -1.0, 1), "bath.soak_minutes"),
        (bath("vinegar", 1441.0, 1), "bath.soak_minutes"),
        (bath("vinegar", 20.0, 0), "bath.baths"),
        (bath("vinegar", 20.0, 5), "bath.baths"),
    ] {
        let refused = server.ask("POST", &path, body).await;
        assert_eq!(refused.status, 422, "{field}: {}", refused.body);
        assert_eq!(refused.body["errors"][0]["field"], field);
    }
    assert_eq!(used(&server).await, before, "nothing was changed");
    let mut after = Vec::new();
    for (soak, baths) in [(0.0, 1), (60.0, 2)] {
        let taken = server
            .ask("POST", &path, bath("vinegar", soak, baths))
            .await;
        assert_eq!(taken.status, 200, "{}", taken.body);
        let note = taken.body["note"].as_str().unwrap();
        assert!(note.contains("white vinegar"), "{note}");
        after.push(used(&server).await);
        let past = taken.body["id"].as_str().unwrap();
        let gone = format!("/api/past-cleans/{past}");
        server.ask("DELETE", &gone, Value::Null).await;
    }
    assert!(
        before > after[0] && after[0] > after[1],
        "{before} {after:?}"
    );
    let taken = server.ask("POST", &path, bath("vinegar", 20.0, 1)).await;
    assert_eq!(taken.status, 200);
    let export = server.ask("GET", "/api/export", Value::Null).await;
    let kept = &export.body["past_cleans"];
    assert!(
        kept[2]["fact"]["bathed"]["main"]["baths"][0]["passes"].is_array(),
        "{kept}"
    );
}

#[tokio::test]
async fn the_log_is_asked_by_home_brewer_and_year_and_a_bit_at_a_time() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let path = format!("/api/brewers/{id}/past-cleans");
    for n in 0..3 {
        let told = json!({"day": day(n), "note": format!("by hand, {n}")});
        assert_eq!(server.ask("POST", &path, told).await.status, 200);
    }
    let log = get(&server, &format!("/api/log?brewer={id}&most=2")).await;
    assert_eq!(log["lines"].as_array().unwrap().len(), 2);
    assert_eq!(log["more"], 1);
    assert_eq!(log["lines"][0]["text"], "by hand, 0");
    let year = &log["years"][0]["year"];
    assert!(
        log["years"][0]["text"].as_str().unwrap().contains("clean"),
        "{log}"
    );
    let of_year = get(&server, &format!("/api/log?year={year}")).await;
    assert!(!of_year["lines"].as_array().unwrap().is_empty());
    for other in ["brewer=nobody", "home=nowhere", "year=1999"] {
        let none = get(&server, &format!("/api/log?{other}")).await;
        assert_eq!(none["lines"], json!([]), "{other}");
    }
    let table = server.ask("GET", "/api/log.csv", Value::Null).await;
    assert!(table.head.contains("text/csv"), "{}", table.head);
    let refused = server
        .ask("GET", "/api/log?year=long+ago", Value::Null)
        .await;
    assert_eq!(refused.status, 400);
}

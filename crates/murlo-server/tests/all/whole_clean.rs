//! What goes with a clean over HTTP: sides of a combination, needles alone, rehearsals, trouble, photos.

use crate::kit::{Answer, Server, day, json, said, with_brewer, with_family};
use image::{ImageFormat, RgbImage};
use serde_json::Value;
use std::io::Cursor;

async fn get(server: &Server, path: &str) -> Value {
    let answer = server.ask("GET", path, Value::Null).await;
    assert_eq!(answer.status, 200, "{path}: {}", answer.body);
    answer.body
}

async fn start(server: &Server, brewer: &str, body: Value) -> Answer {
    let path = format!("/api/brewers/{brewer}/cleans");
    server.ask("POST", &path, body).await
}

/// Follows the one next act to the end of a clean that asks nothing.
async fn follow(server: &Server, clean: &str) -> Value {
    for n in 0..100 {
        let state = get(server, &format!("/api/cleans/{clean}")).await["state"].clone();
        if !state["closed"].is_null() {
            return state;
        }
        let sent = json!({"id": format!("{clean}-{n}"), "act": state["next"]["act"]});
        let path = format!("/api/cleans/{clean}/events");
        let answer = server.ask("POST", &path, sent).await;
        assert_eq!(answer.status, 200, "{}", answer.body);
    }
    panic!("the clean does not end");
}

#[tokio::test]
async fn needles_alone_are_logged_by_themselves_and_a_rehearsal_is_not() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let due = |view: &Value| view["card"]["circuits"][0]["forecast"]["due"].clone();
    let page = format!("/api/brewers/{id}");
    let before = get(&server, &page).await;

    let rehearsal = json!({"id": "r1", "options": {"work": "rehearsal"}});
    assert_eq!(start(&server, &id, rehearsal).await.status, 200);
    follow(&server, "r1").await;
    assert_eq!(get(&server, "/api/log").await["lines"], json!([]));

    let needles = json!({"id": "n1", "options": {"work": "needles"}});
    assert_eq!(start(&server, &id, needles).await.status, 200);
    let state = follow(&server, "n1").await;
    assert_eq!(state["outcome"]["needles"], "6 of 6 places cleared");
    let after = get(&server, &page).await;
    assert_eq!(after["log"][0]["outcome"]["work"], "needles");
    assert_eq!(due(&after), due(&before), "chalk is as it was");
    let text = after["card"]["upkeep"].to_string();
    assert!(
        text.contains(&format!("Needles last cleared {}", said(0))),
        "{text}"
    );
}

#[tokio::test]
async fn what_a_clean_counted_and_saw_reaches_the_next_plan_and_the_log() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let path = format!("/api/brewers/{id}/plan");
    let vinegar = json!({"agent_id": "vinegar"});
    let plan = async || server.ask("POST", &path, vinegar.clone()).await.body;
    let before = plan().await;
    start(&server, &id, json!({"id": "c1", "options": vinegar})).await;
    let mut n = 0;
    let mut send = async |act: Value| {
        n += 1;
        let sent = json!({"id": format!("e{n}"), "act": act});
        let answer = server.ask("POST", "/api/cleans/c1/events", sent).await;
        assert_eq!(answer.status, 200, "{}", answer.body);
        answer.body["state"].clone()
    };
    let mut state = get(&server, "/api/cleans/c1").await["state"].clone();
    while state["closed"].is_null() {
        let steps = state["steps"].as_array().unwrap();
        let is_run = |id: &Value| id.as_str().is_some_and(|id| id.starts_with("run"));
        let runs = steps.iter().filter(|s| is_run(&s["id"]));
        let came: u64 = runs.filter_map(|s| s["count"].as_u64()).sum();
        let act = match state["step"]["id"].as_str() {
            // The first and one more, and it asks for water.
            Some(step) if step.starts_with("run") && came == 1 => {
                json!({"kind": "wants_water", "step": step})
            }
            Some("look") => {
                let answers = json!({"showed": "unseen"});
                json!({"kind": "answered", "step": "look", "answers": answers})
            }
            Some("verify") => {
                let answers = json!({"smell": "good", "nose": "fresh", "clear": "good", "light": "good", "flakes": "good"});
                json!({"kind": "answered", "step": "verify", "answers": answers})
            }
            _ => state["next"]["act"].clone(),
        };
        state = send(act).await;
    }
    assert_eq!(state["outcome"]["bath_counted"]["dispenses"], 2);
    let after = plan().await;
    assert_eq!(
        after["dispensing"]["count"], 2,
        "was {}",
        before["dispensing"]["count"]
    );
    // It stands with what was learned, and is left out and counted again there.
    let page = format!("/api/brewers/{id}");
    let learned = async |what: &str| {
        let all = get(&server, &page).await["learned"].clone();
        let mut all = all.as_array().unwrap().clone().into_iter();
        all.find(|one| one["what"] == what).unwrap_or(Value::Null)
    };
    let dispenses = learned("Dispenses").await;
    let text = dispenses["text"].as_str().unwrap();
    assert!(text.contains("counted"), "{text}");
    let of = dispenses["evidence"][0]["entry_id"].clone();
    let out = json!({"id": "out", "day": day(0), "what": {"kind": "left_out", "entry_id": of}});
    let journal = format!("{page}/journal");
    assert_eq!(server.ask("POST", &journal, out).await.status, 200);
    let dispenses = learned("Dispenses").await;
    assert_eq!(dispenses["evidence"][0]["left_out_by"], "out");
    assert!(
        dispenses["text"]
            .as_str()
            .unwrap()
            .starts_with("What cleans counted agrees")
    );
    let sour =
        json!({"kind": "first_coffee", "circuit_id": "main", "clean_id": "c1", "taste": "sour"});
    let entry = json!({"id": "sour", "day": day(0), "what": sour});
    assert_eq!(server.ask("POST", &journal, entry).await.status, 200);
    let rinse = learned("Rinse").await;
    let text = rinse["evidence"][0]["text"].as_str().unwrap();
    assert!(text.ends_with(": sour"), "{text}");
    let twice = plan().await;
    let rinses = |plan: &Value| plan["rinse"]["portions"].as_u64().unwrap();
    assert!(
        rinses(&twice) > rinses(&before),
        "{} {}",
        rinses(&twice),
        rinses(&before)
    );
    let log = &get(&server, "/api/log").await["lines"];
    assert!(log[0]["text"].as_str().unwrap().contains("rinses"), "{log}");
    assert_eq!(
        log[0]["outcome"]["checks"][0],
        "Smell: nobody notices acid, after fresh air"
    );
}

#[tokio::test]
async fn a_further_bath_is_planned_by_the_server_once_and_is_part_of_the_clean() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let vinegar = json!({"agent_id": "vinegar"});
    start(&server, &id, json!({"id": "c1", "options": vinegar})).await;
    let path = "/api/cleans/c1/events";
    let send = async |id: &str, act: Value| {
        let sent = json!({"id": id, "act": act});
        server.ask("POST", path, sent).await
    };
    let more = json!({"kind": "planned", "wish": {"kind": "bath", "agent_id": "vinegar", "recipe": {"kind": "ratio", "agent": 1.0, "water": 0.0}}});
    let early = send("early", more.clone()).await;
    assert_eq!(
        (early.status, early.body["errors"][0]["code"].as_str()),
        (409, Some("does_not_fit")),
        "{}",
        early.body
    );
    let mut view = get(&server, "/api/cleans/c1").await;
    let mut n = 0;
    while view["state"]["step"]["id"] != "look" {
        n += 1;
        view = send(&format!("e{n}"), view["state"]["next"]["act"].clone())
            .await
            .body;
    }
    let before = view["plan"]["steps"].as_array().unwrap().len();
    let planned = send("more", more.clone()).await;
    assert_eq!(planned.status, 200, "{}", planned.body);
    assert_eq!(planned.body["state"]["step"]["id"], "mix-2");
    assert_eq!(planned.body["plan"]["bath"]["percent"], 5.0);
    let steps = |view: &Value| view["plan"]["steps"].as_array().unwrap().len();
    assert_eq!(steps(&planned.body), before + 5);
    // Sent again, it is the same act; under the same id another one is refused.
    let again = send("more", more.clone()).await;
    assert_eq!((again.status, steps(&again.body)), (200, before + 5));
    let other = json!({"kind": "planned", "wish": {"kind": "needles"}});
    assert_eq!(send("more", other).await.status, 409);
    let unknown = json!({"kind": "planned", "wish": {"kind": "bath", "agent_id": "tea", "recipe": {"kind": "ratio", "agent": 1.0, "water": 0.0}}});
    assert_eq!(
        send("tea", unknown).await.status,
        409,
        "no longer at a look"
    );
    // The export holds what was planned, and reads.
    let export = get(&server, "/api/export").await.to_string();
    assert!(export.contains("mix-2"));
    let household = murlo_household::Household::read(&export).unwrap();
    let record = household.cleans.iter().find(|c| c.id == "c1").unwrap();
    let (plan, _) = murlo_clean::stands(&record.plan, &record.events).unwrap();
    assert_eq!(plan.steps.len(), before + 5);
}

#[tokio::test]
async fn sides_with_reservoirs_of_their_own_run_side_by_side() {
    let server = Server::start().await;
    let pod = with_brewer(&server).await;
    let water = get(&server, &format!("/api/brewers/{pod}")).await["draft"]["water_id"].clone();
    let duo = with_family(&server, 5, &water).await;
    let first = start(&server, &duo, json!({"id": "c1"})).await;
    assert_eq!(first.body["plan"]["side"], "carafe side", "{}", first.body);
    // One reservoir for both: the other side has to wait.
    assert_eq!(start(&server, &duo, json!({"id": "c2"})).await.status, 409);
    let mut draft = get(&server, &format!("/api/brewers/{duo}")).await["draft"].clone();
    draft["other_side"]["reservoir"] = json!("1 L");
    let changed = server
        .ask("PUT", &format!("/api/brewers/{duo}"), draft)
        .await;
    assert_eq!(changed.status, 200, "{}", changed.body);
    let second = start(&server, &duo, json!({"id": "c2"})).await;
    assert_eq!(second.body["plan"]["side"], "pod side", "{}", second.body);
    assert_eq!(second.body["plan"]["steps"][0]["id"], "baseline");
    let card = &get(&server, &format!("/api/brewers/{duo}")).await["card"];
    let running: Vec<_> = card["circuits"]
        .as_array()
        .unwrap()
        .iter()
        .map(|c| c["running_clean"].as_str().unwrap())
        .collect();
    assert_eq!(running, ["c1", "c2"]);
    let same = json!({"id": "c3", "options": {"circuit_id": "pod"}});
    assert_eq!(start(&server, &duo, same).await.status, 409);
    let unknown = json!({"id": "c3", "options": {"circuit_id": "steam"}});
    let refused = start(&server, &duo, unknown).await;
    assert_eq!(refused.body["errors"][0]["field"], "circuit_id");
}

#[tokio::test]
async fn trouble_is_written_down_and_the_clean_it_led_to_names_it() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    let path = format!("/api/brewers/{id}/trouble");
    let note = json!({"id": "t1", "signs": {"slow": true, "lukewarm": true}});
    for _ in 0..2 {
        let told = server.ask("POST", &path, note.clone()).await;
        assert_eq!(told.status, 200, "{}", told.body);
        assert_eq!(told.body["what"]["cause"], "scale");
    }
    let sparks = json!({"id": "t2", "signs": {"slow": true, "sparks": true}});
    assert_eq!(server.ask("POST", &path, sparks).await.status, 200);
    let page = get(&server, &format!("/api/brewers/{id}")).await;
    let told = page["journal"].to_string();
    assert!(
        told.contains(&format!(
            "Danger on {}: sparks. For a qualified repairer",
            said(0)
        )),
        "{told}"
    );
    let nobody = json!({"id": "c1", "trouble": "t9"});
    let refused = start(&server, &id, nobody).await;
    assert_eq!(
        (refused.status, refused.body["errors"][0]["field"].as_str()),
        (422, Some("trouble"))
    );
    let started = start(&server, &id, json!({"id": "c1", "trouble": "t1"})).await;
    let text = started.body["plan"]["because"]["text"].as_str().unwrap();
    assert!(
        text.starts_with(&format!("Something wrong on {}: ", said(0)))
            && text.contains("likely chalk (scale)"),
        "{text}"
    );
}

#[tokio::test]
async fn a_photo_is_shrunk_stripped_and_belongs_to_its_clean() {
    let server = Server::start().await;
    let id = with_brewer(&server).await;
    start(&server, &id, json!({"id": "c1"})).await;
    let mut png = Vec::new();
    RgbImage::from_fn(2400, 1200, |x, _| image::Rgb([200, (x / 10) as u8, 90]))
        .write_to(&mut Cursor::new(&mut png), ImageFormat::Png)
        .unwrap();
    let headers = format!("host: {}\r\ncontent-type: image/png\r\n", server.host);
    let send = async |path: &str, body: &[u8]| server.raw("PUT", path, &headers, body).await;
    let path = "/api/photos/g1?shows=glass&clean_id=c1";
    assert_eq!(send(path, &png).await.status, 204);
    assert_eq!(send(path, &png).await.status, 204, "sent twice, kept once");
    let kept = &get(&server, "/api/export").await["photos"][0]["jpeg"];
    // A JPEG of nothing but pixels: no application segment but the first.
    let start_of_file = kept.as_str().unwrap();
    assert!(
        start_of_file.starts_with("/9j/4AAQSkZJRg"),
        "{start_of_file}"
    );
    assert!(start_of_file.len() < 60_000, "{}", start_of_file.len());
    let answer = server.raw("GET", "/api/photos/g1", &headers, "").await;
    assert!(answer.head.contains("image/jpeg"), "{}", answer.head);

    let broken = send("/api/photos/g2?shows=glass&clean_id=c1", &png[..200]).await;
    assert_eq!(
        (broken.status, broken.body["errors"][0]["field"].as_str()),
        (422, Some("photo"))
    );
    // A head that promises more pixels than anybody takes is refused before they are read, and so is a photo that breaks off.
    let mut vast = png.clone();
    vast[16..24].copy_from_slice(&[0, 0, 0x4E, 0x20, 0, 0, 0x0F, 0xA0]);
    let mut jpeg = Vec::new();
    RgbImage::from_fn(600, 400, |x, y| image::Rgb([x as u8, y as u8, 90]))
        .write_to(&mut Cursor::new(&mut jpeg), ImageFormat::Jpeg)
        .unwrap();
    let mut before_it = jpeg[..2].to_vec();
    before_it.extend([0xFF, 0xE1, 0, 6, 0xFF, 0xDA, 0xFF, 0xD9]);
    before_it.extend(&jpeg[2..]);
    for (photo, kept) in [
        (&vast[..], false),
        (&jpeg[..jpeg.len() / 2], false),
        (&before_it[..before_it.len() / 2], false),
        (&before_it[..], true),
    ] {
        let answer = send("/api/photos/g4?shows=glass&clean_id=c1", photo).await;
        let expected = if kept { 204 } else { 422 };
        assert_eq!(answer.status, expected, "{} {}", photo.len(), answer.body);
    }
    assert_eq!(
        send("/api/photos/g3?shows=glass&clean_id=c9", &png)
            .await
            .status,
        404
    );
    let look = |photo: &str| {
        let glass = json!({"of": "first", "rating": 1, "photo": photo, "sampled": null});
        json!({"id": format!("look-{photo}"), "act": {"kind": "looked", "glass": glass}})
    };
    let events = "/api/cleans/c1/events";
    let dark =
        json!({"id": "dark", "act": {"kind": "looked", "glass": {"of": "first", "rating": 9}}});
    let wrong = server.ask("POST", events, dark).await;
    assert_eq!(
        (wrong.status, wrong.body["errors"][0]["field"].as_str()),
        (422, Some("act.glass.rating")),
        "wrong in itself, not for where the clean stands"
    );
    assert_eq!(server.ask("POST", events, look("g1")).await.status, 200);
    assert_eq!(server.ask("POST", events, look("g2")).await.status, 404);
}

#[tokio::test]
async fn two_phones_that_press_for_one_mug_count_one() {
    let server = Server::start().await;
    let brewer = with_brewer(&server).await;
    let begun = start(&server, &brewer, json!({"id": "c", "options": {}})).await;
    assert_eq!(begun.status, 200, "{}", begun.body);
    let count_step = |view: &Value| {
        let step = &view["state"]["step"];
        (step["doing"]["kind"] == "count").then(|| step["id"].clone())
    };
    let mut view = get(&server, "/api/cleans/c").await;
    let mut n = 0;
    let step = loop {
        if let Some(step) = count_step(&view) {
            break step;
        }
        n += 1;
        let act = view["state"]["next"]["act"].clone();
        let sent = json!({"id": format!("e{n}"), "act": act});
        let taken = server.ask("POST", "/api/cleans/c/events", sent).await;
        assert_eq!(taken.status, 200, "{}", taken.body);
        view = taken.body;
    };
    let press = |id: &str, seen: u64| {
        let act = json!({"kind": "counted", "step": step});
        json!({"id": id, "seen": seen, "act": act})
    };
    let seen = view["events"].as_u64().unwrap();
    let send = async |sent: Value| server.ask("POST", "/api/cleans/c/events", sent).await;
    let count = |view: &Value| {
        let steps = view["state"]["steps"].as_array().unwrap().clone();
        let at = view["state"]["current"].as_u64().unwrap() as usize;
        steps[at]["count"].as_u64().unwrap()
    };
    let first = send(press("one", seen)).await;
    assert_eq!((first.status, count(&first.body)), (200, 1));
    let second = send(press("other", seen)).await;
    assert_eq!(second.status, 409, "{}", second.body);
    let told = second.body.to_string();
    assert!(told.contains("just counted on another device"), "{told}");
    assert_eq!(
        count(&get(&server, "/api/cleans/c").await),
        1,
        "nothing was changed"
    );
    // The same press again, because its answer was lost, is the same press.
    assert_eq!(send(press("one", seen)).await.status, 200);
    // Whoever has seen it means another one; so does a device that does not say what it saw.
    let more = send(press("more", seen + 1)).await;
    assert_eq!((more.status, count(&more.body)), (200, 2));
    let old = json!({"id": "old", "act": {"kind": "counted", "step": step}});
    assert_eq!(send(old).await.status, 200);
}

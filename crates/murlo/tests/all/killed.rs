//! An acknowledged act is never lost: the server is killed the hard way at scattered moments while cleans are carried out.

use crate::kit::{Server, ask, next_act};
use serde_json::{Value, json};

fn brewer(server: &Server, n: usize) -> String {
    let reading = json!({"by": "taps", "chalk": "crust"});
    let (_, water) = server
        .ask(
            "POST",
            "/api/waters",
            &json!({"name": "Well", "reading": reading}),
        )
        .unwrap();
    let (_, families) = server.ask("GET", "/api/families", &Value::Null).unwrap();
    let mut draft = families[n % FAMILIES]["draft"].clone();
    draft["nickname"] = json!(format!("Brewer {n}"));
    draft["water_id"] = water["id"].clone();
    let (status, card) = server.ask("POST", "/api/brewers", &draft).unwrap();
    assert_eq!(status, 200, "{card}");
    card["id"].as_str().unwrap().to_owned()
}

/// Every family has its turn.
const FAMILIES: usize = 6;
/// One act in so many is cut off by a kill.
const KILL_EVERY: u64 = 40;

/// How many cleans are carried out; `MURLO_KILLED` names another number, as `make faults` does.
fn cleans() -> usize {
    std::env::var("MURLO_KILLED").map_or(50, |n| n.parse().expect("MURLO_KILLED is a number"))
}

#[test]
fn no_acknowledged_act_is_lost_when_the_server_is_killed() {
    let folder = tempfile::tempdir().unwrap();
    let database = folder.path().join("home.db").display().to_string();
    let household = ["serve", "--database", &database];
    let mut server = Server::start(&household);
    // A small fixed generator scatters the kills, so that a failure can be run again.
    let mut seed: u64 = 0x5EED_CA1C;
    let mut next = move |below: u64| {
        seed = seed
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (seed >> 33) % below
    };
    let mut kills = 0;
    let brewers: Vec<_> = (0..2 * FAMILIES).map(|n| brewer(&server, n)).collect();
    let cleans = cleans();
    for n in 0..cleans {
        let id = &brewers[n % brewers.len()];
        let clean = format!("clean-{n}");
        let (status, mut view) = server
            .ask(
                "POST",
                &format!("/api/brewers/{id}/cleans"),
                &json!({"id": clean}),
            )
            .unwrap();
        assert_eq!(status, 200, "{view}");
        let path = format!("/api/cleans/{clean}");
        let mut acknowledged = 0;
        for event in 0.. {
            if view["state"]["closed"].is_string() {
                break;
            }
            let act = next_act(&view);
            let sent = json!({"id": format!("{clean}-{event}"), "act": act});
            if next(KILL_EVERY) == 0 {
                // Killed while the act is on its way: it may or may not have arrived, but sending it again counts it once.
                let (host, path, sent) =
                    (server.host.clone(), path.clone() + "/events", sent.clone());
                let flying = std::thread::spawn(move || ask(&host, "POST", &path, &sent));
                for _ in 0..next(4000) {
                    std::thread::yield_now();
                }
                server.kill();
                let _ = flying.join();
                server = Server::start(&household);
                kills += 1;
                let (_, now) = server
                    .ask("GET", &format!("/api/cleans/{clean}"), &Value::Null)
                    .unwrap();
                let counted = counted(&now);
                assert!(
                    counted >= acknowledged,
                    "{clean}: {counted} of {acknowledged} acknowledged acts are there"
                );
            }
            let (status, after) = server
                .ask("POST", &format!("{path}/events"), &sent)
                .unwrap();
            assert_eq!(status, 200, "{after}");
            view = after;
            acknowledged = counted(&view);
        }
        assert_eq!(view["state"]["closed"], "finished");
    }
    server.kill();
    let server = Server::start(&household);
    let (_, log) = server
        .ask("GET", "/api/log?most=10000", &Value::Null)
        .unwrap();
    assert_eq!(log["lines"].as_array().unwrap().len(), cleans);
    assert!(kills > cleans / 2, "only {kills} kills");
    server.kill();
}

/// How far a clean has come: steps done, things counted, timers started, holes cleared.
fn counted(view: &Value) -> u64 {
    let steps = view["state"]["steps"].as_array().unwrap();
    let one = |s: &Value| {
        u64::from(s["standing"] == "done")
            + s["count"].as_u64().unwrap()
            + u64::from(s["timer"].is_object())
    };
    let cleared = view["state"]["clear"].as_array().unwrap().len() as u64;
    cleared + steps.iter().map(one).sum::<u64>()
}

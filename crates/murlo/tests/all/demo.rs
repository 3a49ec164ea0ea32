//! The demo: every brewer of the made-up homes goes from plan to log.

use crate::kit::{NOW, Server, next_act};
use serde_json::{Value, json};
use std::process::Command;

#[test]
fn every_demo_brewer_is_rehearsed_cleaned_and_logged() {
    let server = Server::start(&["demo"]);
    let ask = |method: &str, path: &str, body: &Value| {
        let (status, answer) = server.ask(method, path, body).expect("it answers");
        assert_eq!(status, 200, "{method} {path}: {answer}");
        answer
    };
    let counter = ask("GET", "/api/counter", &Value::Null);
    let brewers = counter["brewers"].as_array().unwrap();
    let families: std::collections::BTreeSet<_> = brewers
        .iter()
        .map(|b| b["family_id"].as_str().unwrap())
        .collect();
    assert_eq!(families.len(), 6, "{families:?}");
    let logged = || {
        ask("GET", "/api/log?most=10000", &Value::Null)["lines"]
            .as_array()
            .unwrap()
            .len()
    };
    for brewer in brewers.iter().filter(|b| b["running_clean"].is_null()) {
        let id = brewer["id"].as_str().unwrap();
        for (side, work, lines) in brewer["circuits"]
            .as_array()
            .unwrap()
            .iter()
            .map(|side| side["circuit_id"].as_str().unwrap())
            .flat_map(|side| [(side, "rehearsal", 0), (side, "descale", 1)])
        {
            let before = logged();
            let clean = format!("{id}-{side}-{work}");
            let start = json!({"id": clean, "options": {"work": work, "circuit_id": side}});
            let mut view = ask("POST", &format!("/api/brewers/{id}/cleans"), &start);
            for n in 0.. {
                if view["state"]["closed"] == "finished" {
                    break;
                }
                assert!(n < 200, "{clean} does not end");
                let sent = json!({"id": format!("{clean}-{n}"), "act": next_act(&view)});
                view = ask("POST", &format!("/api/cleans/{clean}/events"), &sent);
            }
            assert_eq!(logged(), before + lines, "{clean}");
        }
        let page = ask("GET", &format!("/api/brewers/{id}"), &Value::Null);
        let used = |side: &Value| side["forecast"]["chalk"]["used"].as_f64().unwrap();
        let before = brewer["circuits"].as_array().unwrap();
        for (side, before) in page["card"]["circuits"]
            .as_array()
            .unwrap()
            .iter()
            .zip(before)
        {
            assert_eq!(side["forecast"]["litres"], 0.0, "{id} begins anew");
            // Nobody waited for a soak here, so it counts as what it was: chalk is less, but not always gone.
            assert!(used(side) <= used(before) + 1e-9, "{id}");
            assert_ne!(side["forecast"]["due"]["urgency"], "overdue", "{id}");
        }
    }
    server.kill();
}

#[test]
fn a_plug_that_counts_moves_what_is_believed_of_its_brewer() {
    let server = Server::start(&["demo"]);
    let view = || {
        server
            .ask("GET", "/api/brewers/kiln", &Value::Null)
            .unwrap()
            .1
    };
    let used = |view: &Value| {
        view["card"]["circuits"][0]["forecast"]["chalk"]["used"]
            .as_f64()
            .unwrap()
    };
    let before = view();
    let meter = || {
        let at = format!("http://{}", server.host);
        let told = [
            "meter", "--at", &at, "--brewer", "kiln", "--cups", "20", "--until", NOW,
        ];
        let output = Command::new(env!("CARGO_BIN_EXE_murlo"))
            .args(told)
            .output()
            .unwrap();
        assert!(output.status.success(), "{output:?}");
        String::from_utf8(output.stdout).unwrap()
    };
    let posted = meter();
    assert!(posted.starts_with("posted 1"), "{posted}");
    let after = view();
    assert!(
        used(&after) > used(&before),
        "{} then {}",
        used(&before),
        used(&after)
    );
    // The same plug, begun again, tells the same brews: they count once.
    assert_eq!(meter(), posted);
    assert_eq!(used(&view()), used(&after));
}

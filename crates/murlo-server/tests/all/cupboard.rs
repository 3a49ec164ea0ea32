//! The cupboard over HTTP: counted, drawn from by what is done, taken back, exported and read again.

use crate::kit::{Server, day, json, with_brewer};
use serde_json::Value;

async fn thing(server: &Server, id: &str) -> Value {
    let answer = server.ask("GET", "/api/cupboard", Value::Null).await;
    assert_eq!(answer.status, 200, "{}", answer.body);
    let things = answer.body["things"].as_array().unwrap().clone();
    let found = things.into_iter().find(|thing| thing["id"] == id);
    found.unwrap_or(Value::Null)
}

async fn moved(server: &Server, id: &str, item: &str, what: Value) -> u16 {
    let body = json!({"id": id, "item_id": item, "what": what});
    let path = "/api/cupboard/movements";
    server.ask("POST", path, body).await.status
}

#[tokio::test]
async fn a_filter_that_is_fitted_is_drawn_from_the_cupboard_and_given_back_by_undo() {
    let server = Server::start().await;
    let brewer = with_brewer(&server).await;
    let filters = json!({"id": "tall", "name": "Tall filters", "kind": "filter", "offers": []});
    let path = "/api/cupboard/supplies/tall";
    assert_eq!(server.ask("PUT", path, filters.clone()).await.status, 204);
    let elsewhere = server
        .ask("PUT", "/api/cupboard/supplies/other", filters)
        .await;
    assert_eq!(elsewhere.status, 422);
    assert_eq!(thing(&server, "tall").await["level"], Value::Null);
    // Counted yesterday would be better; a count of today holds whatever else was only told by its day.
    for _ in 0..2 {
        let status = moved(
            &server,
            "m1",
            "tall",
            json!({"kind": "counted", "amount": 3.0}),
        )
        .await;
        assert_eq!(status, 204, "sent twice, counted once");
    }
    assert_eq!(
        moved(
            &server,
            "m1",
            "tall",
            json!({"kind": "counted", "amount": 4.0})
        )
        .await,
        409
    );
    assert_eq!(
        moved(
            &server,
            "m2",
            "tall",
            json!({"kind": "bought", "amount": 0.0})
        )
        .await,
        422
    );
    assert_eq!(
        moved(
            &server,
            "m3",
            "nothing",
            json!({"kind": "bought", "amount": 1.0})
        )
        .await,
        422
    );
    assert_eq!(thing(&server, "tall").await["level"], 3.0);
    assert_eq!(
        moved(
            &server,
            "m4",
            "tall",
            json!({"kind": "bought", "amount": 2.0})
        )
        .await,
        204
    );
    assert_eq!(thing(&server, "tall").await["level"], 5.0);
    let took = server
        .ask("DELETE", "/api/cupboard/movements/m4", Value::Null)
        .await;
    assert_eq!(
        (took.status, &thing(&server, "tall").await["level"]),
        (204, &json!(3.0))
    );
    let back = server
        .ask("POST", "/api/cupboard/movements/m4/restore", Value::Null)
        .await;
    assert_eq!(
        (back.status, &thing(&server, "tall").await["level"]),
        (204, &json!(5.0))
    );

    let journal = format!("/api/brewers/{brewer}/journal");
    let fitted = json!({"id": "f1", "day": day(0), "what": {"kind": "filter_fitted"}});
    assert_eq!(server.ask("POST", &journal, fitted).await.status, 200);
    let lines = thing(&server, "tall").await["lines"].to_string();
    assert!(lines.contains("1 piece for Lamp-room pod"), "{lines}");

    let export = server.ask("GET", "/api/export", Value::Null).await;
    assert_eq!(export.body["version"], murlo_household::VERSION);
    assert_eq!(export.body["movements"].as_array().map(Vec::len), Some(2));
    let other = Server::start().await;
    let taken = other
        .ask("POST", "/api/import?replace=true", export.body.clone())
        .await;
    assert_eq!(taken.status, 204, "{}", taken.body);
    assert_eq!(thing(&other, "tall").await, thing(&server, "tall").await);
    let table = server.ask("GET", "/api/cupboard.csv", Value::Null).await;
    assert!(table.head.contains("text/csv"), "{}", table.head);
    let (_, table) = server.text("/api/cupboard.csv").await;
    assert!(
        table.starts_with(
            "day (YYYY-MM-DD),thing,what happened,amount (in the unit),unit,brewer\r\n"
        ),
        "{table}"
    );
    assert!(
        table.contains(",used,-1,pieces,Lamp-room pod\r\n"),
        "{table}"
    );
    let (_, works) = server.text("/api/works.csv").await;
    let expected = format!(
        "day (YYYY-MM-DD),home,brewer,work\r\n{},Own kitchen,Lamp-room pod,Water filter\r\n",
        day(0)
    );
    assert_eq!(works, expected);
}

/// Sends `act`, and gives where the clean stands then.
async fn act(server: &Server, clean: &str, n: usize, act: Value) -> Value {
    let sent = json!({"id": format!("{clean}-{n}"), "act": act});
    let path = format!("/api/cleans/{clean}/events");
    let answer = server.ask("POST", &path, sent).await;
    assert_eq!(answer.status, 200, "{}", answer.body);
    answer.body
}

#[tokio::test]
async fn a_clean_draws_what_it_mixed_and_gives_it_back_when_it_is_opened_again() {
    let server = Server::start().await;
    let brewer = with_brewer(&server).await;
    let counted = json!({"kind": "counted", "amount": 4000.0});
    assert_eq!(moved(&server, "m1", "vinegar", counted).await, 204);
    let start = json!({"id": "c1", "options": {"agent_id": "vinegar"}});
    let cleans = format!("/api/brewers/{brewer}/cleans");
    let mut view = server.ask("POST", &cleans, start).await.body;
    let mixed = view["plan"]["bath"]["agent"]["ml"].as_f64().unwrap();
    let mut sent = 0;
    while view["state"]["closed"].is_null() {
        let state = &view["state"];
        let next = &state["next"]["act"];
        let what = if next.is_null() {
            let step = &state["step"];
            let questions = step["doing"]["questions"].as_array().unwrap();
            // The first answer of each is the good one; of the bath nothing more is asked.
            let answers = questions
                .iter()
                .map(|q| {
                    (
                        q["id"].as_str().unwrap().to_owned(),
                        q["answers"][0]["id"].clone(),
                    )
                })
                .collect::<serde_json::Map<_, _>>();
            json!({"kind": "answered", "step": step["id"], "answers": answers})
        } else {
            next.clone()
        };
        view = act(&server, "c1", sent, what).await;
        sent += 1;
        assert!(sent < 120, "the clean comes to its end");
    }
    // Every test takes place at one moment, which is not after the count of the same moment.
    let level = thing(&server, "vinegar").await["level"].as_f64().unwrap();
    let lines = thing(&server, "vinegar").await["lines"].to_string();
    assert!(lines.contains("for Lamp-room pod"), "{lines}");
    assert!(level <= 4000.0 && level >= 4000.0 - 2.0 * mixed, "{level}");
    act(&server, "c1", sent, json!({"kind": "reopened"})).await;
    let lines = thing(&server, "vinegar").await["lines"].to_string();
    assert!(!lines.contains("for Lamp-room pod"), "{lines}");
}

#[tokio::test]
async fn what_runs_short_is_said_with_the_day_by_which_it_is_needed() {
    let server = Server::start().await;
    with_brewer(&server).await;
    let count = |n: usize, amount: f64| {
        let (server, ids) = (&server, ["vinegar", "citric", "bottled"]);
        async move {
            for id in ids {
                let what = json!({"kind": "counted", "amount": amount});
                assert_eq!(moved(server, &format!("{id}-{n}"), id, what).await, 204);
            }
        }
    };
    count(1, 1.0).await;
    let view = server.ask("GET", "/api/cupboard", Value::Null).await.body;
    let list = view["list"].as_array().unwrap();
    assert_eq!(
        list.len(),
        1,
        "only what its next clean would take: {list:?}"
    );
    assert!(list[0].as_str().unwrap().contains("or more"), "{list:?}");
    let first = &view["things"][0];
    assert!(
        first["buy"].as_str().unwrap().starts_with("Buy "),
        "{first}"
    );
    assert!(
        first["need_text"].as_str().unwrap().contains("clean"),
        "{first}"
    );
    count(2, 90_000.0).await;
    let view = server.ask("GET", "/api/cupboard", Value::Null).await.body;
    assert_eq!(view["list"], json!([]));
}

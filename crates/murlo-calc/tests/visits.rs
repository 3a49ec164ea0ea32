//! The topic `visit`: the reference cases, and what is refused.

use murlo_calc as calc;
use serde_json::Value;

fn cases() -> Vec<Value> {
    [
        include_str!("../testdata/visit.json"),
        include_str!("../testdata/visit2.json"),
    ]
    .iter()
    .flat_map(|file| serde_json::from_str::<Vec<Value>>(file).expect("cases"))
    .collect()
}

#[test]
fn every_reference_visit_ends_at_its_optimum_or_close_to_the_best_known() {
    let topic = calc::topic("visit").expect("a topic");
    let mut wrong = Vec::new();
    for case in cases() {
        let name = case["name"].as_str().expect("a name");
        let oracle = &case["oracle"];
        let wanted = oracle["makespan_min"].as_f64().expect("an end");
        let answer = topic.answer(&case["input"]).expect(name);
        let end = answer["makespan_min"].as_f64().expect("an end");
        let bound = answer["lower_bound_min"].as_f64().expect("a bound");
        let within = match oracle["status"].as_str() {
            Some("OPTIMAL") => 1.0,
            _ => 1.02,
        };
        let lies = bound > end + 1e-3 || bound > wanted + 1e-3;
        let names = oracle.get("left_out").map(|l| answer["left_out"] == *l);
        if end > wanted * within + 1e-3 || lies || names == Some(false) {
            wrong.push(format!(
                "{name}: {end} (bound {bound}), wanted {wanted}, {}",
                answer["left_out"]
            ));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// What an answer is known by: its end, its bound, and when everything begins, runs and must have begun.
fn print(answer: &Value) -> Value {
    let sum = |name: &str| -> f64 {
        let stretches = answer["schedule"].as_array().into_iter().flatten();
        let times = stretches.filter_map(|stretch| stretch[name].as_f64());
        let weighed = times
            .enumerate()
            .map(|(n, at)| at * (1.0 + n as f64 / 16.0));
        (weighed.sum::<f64>() * 100.0).round() / 100.0
    };
    serde_json::json!({
        "end": answer["makespan_min"],
        "bound": answer["lower_bound_min"],
        "starts": sum("start_min"),
        "latest": sum("latest_start_min"),
    })
}

/// The same input gives the same answer everywhere. Whoever makes the search better writes the new answers down: the end must
/// not be later nor the bound lower, unless the change says why.
#[test]
fn every_reference_visit_has_the_answer_that_is_written_down() {
    let topic = calc::topic("visit").expect("a topic");
    let known: Value =
        serde_json::from_str(include_str!("../testdata/visit-answers.json")).expect("answers");
    let mut found = serde_json::Map::new();
    for case in cases() {
        let name = case["name"].as_str().expect("a name");
        let answer = topic.answer(&case["input"]).expect(name);
        found.insert(name.to_owned(), print(&answer));
    }
    let found = Value::Object(found);
    assert_eq!(
        found,
        known,
        "{}",
        serde_json::to_string_pretty(&found).expect("JSON")
    );
}

#[test]
fn what_cannot_be_is_refused_with_its_field() {
    let answer = |input: &str| {
        let value: Value = serde_json::from_str(input).expect("JSON");
        let problem = calc::topic("visit").expect("a topic").answer(&value);
        problem.expect_err(input).field
    };
    for (input, field) in [
        (
            r#"{"jobs": [{"id": "a", "segments": []}, {"id": "a", "segments": []}]}"#,
            "jobs",
        ),
        (
            r#"{"jobs": [{"id": "a", "after": ["b"], "segments": []}]}"#,
            "jobs.0.after",
        ),
        (
            r#"{"jobs": [{"id": "a", "after": ["b"], "segments": []}, {"id": "b", "after": ["a"], "segments": []}]}"#,
            "jobs.0.after",
        ),
        (
            r#"{"jobs": [{"id": "a", "segments": [{"id": "s", "kind": "hands_free", "minutes": 9, "max_minutes": 8}]}]}"#,
            "jobs.0.segments.0.max_minutes",
        ),
        (
            r#"{"jobs": [{"id": "a", "segments": [{"id": "s", "kind": "feet", "minutes": 9}]}]}"#,
            "jobs.0.segments.0.kind",
        ),
        (
            r#"{"jobs": [{"id": "a", "segments": [{"id": "s", "kind": "near", "minutes": -1}]}]}"#,
            "jobs.0.segments.0.minutes",
        ),
        (
            r#"{"now_min": 5, "jobs": [{"id": "a", "at": {"segment": "s", "since_min": 6}, "segments": [{"id": "s", "kind": "near", "minutes": 1}]}]}"#,
            "jobs.0.at.since_min",
        ),
        (
            r#"{"jobs": [{"id": "a", "at": {"segment": "x"}, "segments": [{"id": "s", "kind": "near", "minutes": 1}]}]}"#,
            "jobs.0.at.segment",
        ),
        (
            r#"{"jobs": [], "chores": [{"id": "c", "minutes": 2000}]}"#,
            "chores.0.minutes",
        ),
        (
            r#"{"jobs": [], "chores": [{"id": "c", "minutes": 2, "weight": -1}]}"#,
            "chores.0.weight",
        ),
        (r#"{"jobs": [], "travel_min": -1}"#, "travel_min"),
    ] {
        assert_eq!(answer(input), field, "{input}");
    }
}

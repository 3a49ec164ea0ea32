//! What an earlier version wrote down stays readable, and its cleans stand where they stood.

use murlo_core::clean::replay;
use murlo_core::household::Household;
use serde_json::Value;

#[test]
fn an_export_of_the_first_version_reads_and_its_cleans_stand_where_they_stood() {
    let landed: Value = serde_json::from_str(include_str!("../testdata/landed-1.json")).unwrap();
    let household = Household::read(&landed["export"].to_string()).unwrap();
    assert_eq!(household.cleans.len(), 8);
    for record in &household.cleans {
        let stood = &landed["states"][&record.id];
        let stands = replay(&record.plan, &record.events).unwrap();
        let stands = serde_json::to_value(stands).unwrap();
        for field in [
            "steps", "current", "round", "closed", "paused", "inside", "plugged", "clear", "notes",
            "glasses", "flow", "undo", "outcome", "next", "others",
        ] {
            still_there(
                &stood[field],
                &stands[field],
                &format!("{}: {field}", record.id),
            );
        }
    }
}

/// Figures that were worked out then and are worked out anew at every question now.
const DERIVED: [&str; 3] = ["left_mg", "potential_mg", "showed_by"];

/// What stood is there unchanged; more may have come.
fn still_there(stood: &Value, stands: &Value, place: &str) {
    match (stood, stands) {
        (Value::Object(stood), Value::Object(stands)) => {
            let kept = stood
                .iter()
                .filter(|(name, _)| !DERIVED.contains(&name.as_str()));
            for (name, value) in kept {
                let now = stands.get(name).unwrap_or(&Value::Null);
                still_there(value, now, &format!("{place}.{name}"));
            }
        }
        (Value::Array(stood), Value::Array(stands)) if stood.len() == stands.len() => {
            for (n, (stood, stands)) in stood.iter().zip(stands).enumerate() {
                still_there(stood, stands, &format!("{place}.{n}"));
            }
        }
        _ => assert_eq!(stands, stood, "{place}"),
    }
}

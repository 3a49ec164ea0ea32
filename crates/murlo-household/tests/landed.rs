//! What an earlier version wrote down stays readable, and its cleans stand where they stood.

use murlo_clean::replay;
use murlo_household::{Household, Shows};
use serde_json::Value;

#[test]
fn an_export_of_the_first_version_reads_and_its_cleans_stand_where_they_stood() {
    stands_where_it_stood(include_str!("../testdata/landed-1.json"), 8);
}

/// With a bath that was added in its clean, one that was stopped, and no small works or cupboard yet.
#[test]
fn so_does_one_with_stages_from_before_the_cupboard() {
    let household = stands_where_it_stood(include_str!("../testdata/landed-2.json"), 6);
    assert_eq!(household.version, 1);
    assert!(household.supplies.is_empty() && household.movements.is_empty());
}

/// With visits planned, over and under way, and a photo that does not say what it shows.
#[test]
fn so_does_one_with_a_round_from_before_photos_of_visits() {
    let household = stands_where_it_stood(include_str!("../testdata/landed-3.json"), 3);
    assert_eq!((household.version, household.visits.len()), (3, 8));
    assert_eq!(household.photos.len(), 1);
    assert_eq!(household.photos[0].shows, Shows::Glass);
}

/// With homes that have a rhythm, and no ways yet.
#[test]
fn so_does_one_from_before_ways_were_kept() {
    let household = stands_where_it_stood(include_str!("../testdata/landed-4.json"), 3);
    assert_eq!((household.version, household.visits.len()), (4, 9));
    assert!(household.ways.is_empty());
}

/// With a way that is kept, and nobody beside what was done.
#[test]
fn so_does_one_from_before_devices_had_people() {
    let household = stands_where_it_stood(include_str!("../testdata/landed-5.json"), 3);
    assert_eq!((household.version, household.ways.len()), (5, 1));
    let mut events = household.cleans.iter().flat_map(|clean| &clean.events);
    assert!(events.all(|event| event.by.is_none()));
}

/// With buttons that were taught and a person beside what was done; what its cleans met of chalk was not kept yet.
#[test]
fn so_does_one_from_before_a_clean_kept_its_chalk() {
    let household = stands_where_it_stood(include_str!("../testdata/landed-6.json"), 3);
    assert_eq!(household.version, 6);
    let mut events = household.cleans.iter().flat_map(|clean| &clean.events);
    assert!(events.any(|event| event.by.as_deref() == Some("Ola")));
    let mut states = household
        .cleans
        .iter()
        .map(|clean| replay(&clean.plan, &clean.events).unwrap());
    assert!(states.all(|state| state.outcome.is_none_or(|outcome| outcome.chalk.is_none())));
}

fn stands_where_it_stood(landed: &str, cleans: usize) -> Household {
    let landed: Value = serde_json::from_str(landed).unwrap();
    let household = Household::read(&landed["export"].to_string()).unwrap();
    assert_eq!(household.cleans.len(), cleans);
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
    household
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
        // Of what may be done some may have come: what could be done can be done.
        (Value::Array(stood), Value::Array(stands)) if place.ends_with(": others") => {
            for choice in stood {
                let same = stands
                    .iter()
                    .find(|other| other["label"] == choice["label"]);
                still_there(choice, same.unwrap_or(&Value::Null), place);
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

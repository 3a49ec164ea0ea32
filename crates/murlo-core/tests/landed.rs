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
            assert_eq!(stands[field], stood[field], "{}: {field}", record.id);
        }
    }
}

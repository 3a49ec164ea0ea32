//! What is left of a visit after any acts, against the topic `visit`.

use super::*;
pub(crate) use crate::rounds::model::model;
use murlo_calc as calc;
use murlo_clean::fixtures::{Run, any_act};
use murlo_visit::{self as visit, NODES};
use proptest::prelude::*;
use serde_json::json;

/// What is left of a visit as the topic `visit` is asked for it.
fn asked(visit: &visit::Schedulable) -> serde_json::Value {
    use murlo_visit::{At, Presence};
    let minutes = |seconds: i32| f64::from(seconds) / 60.0;
    let at = |at: Option<At>| match at? {
        At::Done => Some(json!({"done": true})),
        At::Segment(n, None) => Some(json!({"segment": format!("s{n}")})),
        At::Segment(n, Some(since)) => {
            Some(json!({"segment": format!("s{n}"), "since_min": minutes(since)}))
        }
    };
    let segment = |(n, segment): (usize, &visit::Segment)| {
        let mut asked = json!({
            "id": format!("s{n}"),
            "kind": match segment.doing {
                Presence::Hands => "hands_on",
                Presence::Near => "near",
                Presence::Free => "hands_free",
            },
            "minutes": minutes(segment.seconds),
        });
        if let Some(max) = segment.max {
            asked["max_minutes"] = json!(minutes(max));
        }
        asked
    };
    let job = |job: &visit::VisitJob| {
        let segments: Vec<_> = job.segments.iter().enumerate().map(segment).collect();
        let mut asked =
            json!({"id": job.id, "place": job.place, "after": job.after, "segments": segments});
        if let Some(at) = at(job.at) {
            asked["at"] = at;
        }
        asked
    };
    let chore = |chore: &visit::Chore| json!({"id": chore.id, "place": chore.place, "minutes": minutes(chore.seconds)});
    json!({
        "jobs": visit.jobs.iter().map(job).collect::<Vec<_>>(),
        "chores": visit.chores.iter().map(chore).collect::<Vec<_>>(),
        "travel_min": minutes(visit.travel),
        "switch_min": minutes(visit.switch),
        "now_min": minutes(visit.now),
        "place_now": visit.place_now,
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]

    /// After any acts on any of its brewers the time left is what the topic `visit` answers for what is left, and the order keeps
    /// the model.
    #[test]
    fn the_time_left_after_any_acts_is_that_of_what_is_left(
        picks in prop::collection::vec((0usize..3, 0usize..9, 0usize..6), 1..40),
        minutes in 0.0..20.0f64,
        is_done in any::<bool>(),
    ) {
        let families = [Family::PodReservoir, Family::Drip, Family::OneCupPod];
        let mut runs = families.map(Run::new);
        for (n, (which, pick, bad)) in picks.into_iter().enumerate() {
            let state = runs[which].state();
            let act = match (&state.next, n % 3) {
                (Some(next), 0 | 1) => next.act.clone(),
                _ => any_act(&state, pick, bad),
            };
            // What no longer fits changes nothing.
            let _ = runs[which].act(act);
        }
        let last = runs.iter().flat_map(|run| &run.events).map(|event| event.at).max();
        let now = last.unwrap_or(NINE) + SignedDuration::from_secs((60.0 * minutes) as i64);
        let tasks: Vec<Task> = runs.iter().zip(["pod", "drip", "cup"]).map(|(run, id)| {
            let begun = (!run.events.is_empty()).then(|| Begun {
                clean_id: id.into(),
                state: run.state(),
                last_at: run.events.last().map_or(now, |event| event.at), last_by: None });
            Task { begun, ..task(&stop(id), &run.plan_now()) }
        }).collect();
        let (bath, homes) = (room("bath", "h", 12), homes());
        let rooms: Vec<&RoomStop> = if is_done { Vec::new() } else { vec![&bath] };
        let terms = ScheduleTerms { now, ..terms(Order::Shortest, &homes) };
        let left = schedule(&tasks, &rooms, &terms);
        let model = model(&tasks, &rooms, &terms, Baths::Planned);
        if model.visit.jobs.is_empty() && model.visit.chores.is_empty() {
            prop_assert_eq!(left.minutes, 0.0);
            return Ok(());
        }
        let answer = calc::topic("visit").unwrap().answer(&asked(&model.visit)).unwrap();
        let expected = answer["makespan_min"].as_f64().unwrap() - f64::from(model.visit.now) / 60.0;
        prop_assert!((left.minutes - expected).abs() < 0.02, "{} {}", left.minutes, expected);
        let found = visit::solve(&model.visit, NODES).unwrap();
        prop_assert_eq!(visit::fixtures::faults(&model.visit, &found), Vec::<String>::new());
    }
}

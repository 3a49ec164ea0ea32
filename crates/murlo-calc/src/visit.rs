//! The topic `visit`: several jobs and chores, one pair of hands.

use super::fields::{maybe, number};
use super::plan::{fact, read};
use super::{Field, FieldKind, Topic, TopicInput};
use murlo_base::bounds::{self as b, Bound};
use murlo_base::problem::{Code, Problem};
use murlo_visit::{self as visit, At, Chore, NODES, Presence, Schedulable, Segment, VisitJob};
use serde::Deserialize;
use serde_json::{Value, json};

/// The harm of leaving something out, in whatever it is weighed by.
const WEIGHT: Bound = Bound {
    what: "weight",
    unit: "",
    min: 0.0,
    max: 1e6,
    above: false,
};

pub(super) const VISIT: Topic = Topic {
    name: "visit",
    about: "the order in which one pair of hands does several jobs and chores so that all is over soonest",
    fields: &[
        fact(
            "jobs",
            "a list of jobs {id, place?, after? [ids], at? {segment, since_min?} or {done}, weight?, segments [{id, kind hands_on/near/hands_free, minutes, max_minutes?}]}",
            true,
        ),
        fact(
            "chores",
            "a list of chores {id, place?, minutes, at?, weight?}",
            false,
        ),
        maybe(number("travel_min", b::MINUTES)),
        maybe(number("switch_min", b::MINUTES)),
        maybe(number("now_min", b::STEP_MINUTES)),
        Field {
            name: "place_now",
            kind: FieldKind::Word,
            required: false,
        },
        maybe(number("leave_by_min", b::STEP_MINUTES)),
    ],
    example: r#"{"jobs": [{"id": "pod", "segments": [{"id": "ready", "kind": "hands_on", "minutes": 8},
    {"id": "soak", "kind": "hands_free", "minutes": 20, "max_minutes": 45}, {"id": "rinse", "kind": "hands_on", "minutes": 6}]}],
  "chores": [{"id": "bathroom", "minutes": 12}]}"#,
    answer,
};

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct JobSent {
    id: String,
    #[serde(default)]
    place: Option<String>,
    #[serde(default)]
    after: Option<Vec<String>>,
    #[serde(default)]
    at: Option<AtSent>,
    #[serde(default)]
    weight: Option<f64>,
    segments: Vec<SegmentSent>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct SegmentSent {
    id: String,
    kind: String,
    minutes: f64,
    #[serde(default)]
    max_minutes: Option<f64>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct ChoreSent {
    id: String,
    #[serde(default)]
    place: Option<String>,
    minutes: f64,
    #[serde(default)]
    at: Option<AtSent>,
    #[serde(default)]
    weight: Option<f64>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct AtSent {
    #[serde(default)]
    segment: Option<String>,
    #[serde(default)]
    since_min: Option<f64>,
    #[serde(default)]
    done: bool,
}

fn seconds(minutes: f64) -> i32 {
    (60.0 * minutes).round() as i32
}

fn minutes(field: &str, minutes: f64) -> Result<i32, Problem> {
    b::MINUTES.check(field, minutes).map(seconds)
}

/// Where something stands; a chore has one segment that is named as it is.
fn at(field: &str, sent: Option<&AtSent>, segments: &[&str]) -> Result<Option<At>, Problem> {
    let Some(sent) = sent else { return Ok(None) };
    if sent.done {
        return Ok(Some(At::Done));
    }
    let since = sent
        .since_min
        .map(|since| b::STEP_MINUTES.check(&format!("{field}.at.since_min"), since))
        .transpose()?
        .map(seconds);
    let name = match (&sent.segment, segments) {
        (Some(name), _) => name.as_str(),
        (None, [only]) => only,
        (None, _) => {
            let message = "say at which segment it is, or that it is done";
            return Err(Problem::new(
                Code::Missing,
                format!("{field}.at.segment"),
                message,
            ));
        }
    };
    match segments.iter().position(|s| *s == name) {
        Some(n) => Ok(Some(At::Segment(n, since))),
        None => {
            let message = format!("no segment is called \"{name}\"");
            Err(Problem::new(
                Code::UnknownId,
                format!("{field}.at.segment"),
                message,
            ))
        }
    }
}

fn job(n: usize, sent: JobSent) -> Result<VisitJob, Problem> {
    let field = format!("jobs.{n}");
    let mut segments = Vec::new();
    for (i, s) in sent.segments.iter().enumerate() {
        let field = format!("{field}.segments.{i}");
        let doing = match s.kind.as_str() {
            "hands_on" => Presence::Hands,
            "near" => Presence::Near,
            "hands_free" => Presence::Free,
            _ => {
                let message = "give one of hands_on, near, hands_free";
                return Err(Problem::new(
                    Code::NotAChoice,
                    format!("{field}.kind"),
                    message,
                ));
            }
        };
        let max = s
            .max_minutes
            .map(|max| minutes(&format!("{field}.max_minutes"), max));
        segments.push(Segment {
            id: s.id.clone(),
            doing,
            seconds: minutes(&format!("{field}.minutes"), s.minutes)?,
            max: max.transpose()?,
        });
    }
    let names: Vec<_> = sent.segments.iter().map(|s| s.id.as_str()).collect();
    Ok(VisitJob {
        at: at(&field, sent.at.as_ref(), &names)?,
        id: sent.id,
        place: sent.place,
        after: sent.after.unwrap_or_default(),
        weight: weight(&field, sent.weight)?,
        part_of: None,
        segments,
    })
}

fn chore(n: usize, sent: ChoreSent) -> Result<Chore, Problem> {
    let field = format!("chores.{n}");
    Ok(Chore {
        at: at(&field, sent.at.as_ref(), &[sent.id.as_str()])?,
        seconds: minutes(&format!("{field}.minutes"), sent.minutes)?,
        id: sent.id,
        place: sent.place,
        weight: weight(&field, sent.weight)?,
    })
}

fn weight(field: &str, weight: Option<f64>) -> Result<Option<f64>, Problem> {
    weight
        .map(|w| WEIGHT.check(&format!("{field}.weight"), w))
        .transpose()
}

fn answer(i: &TopicInput) -> Result<Value, Problem> {
    let jobs: Vec<JobSent> = read(i, "jobs")?.unwrap_or_default();
    let chores: Vec<ChoreSent> = read(i, "chores")?.unwrap_or_default();
    let time = |name: &str| i.maybe(name).map(seconds);
    let visit = Schedulable {
        jobs: jobs
            .into_iter()
            .enumerate()
            .map(|(n, j)| job(n, j))
            .collect::<Result<_, _>>()?,
        chores: chores
            .into_iter()
            .enumerate()
            .map(|(n, c)| chore(n, c))
            .collect::<Result<_, _>>()?,
        travel: time("travel_min").unwrap_or(0),
        switch: time("switch_min").unwrap_or(0),
        now: time("now_min").unwrap_or(0),
        place_now: i
            .given("place_now")
            .and_then(Value::as_str)
            .map(str::to_owned),
        leave_by: time("leave_by_min"),
    };
    let found = visit::solve(&visit, NODES)?;
    let in_minutes = |seconds: i32| f64::from(seconds) / 60.0;
    let schedule: Vec<_> = found
        .schedule
        .iter()
        .map(|s| {
            let (job, segment) = if s.is_chore {
                ("chore", visit.chores[s.job].id.as_str())
            } else {
                let job = &visit.jobs[s.job];
                (job.id.as_str(), job.segments[s.segment].id.as_str())
            };
            let mut stretch = json!({
                "job": job, "segment": segment,
                "start_min": in_minutes(s.start), "end_min": in_minutes(s.end),
            });
            if let Some(latest) = s.latest {
                stretch["latest_start_min"] = json!(in_minutes(latest));
            }
            stretch
        })
        .collect();
    Ok(json!({
        "makespan_min": in_minutes(found.end),
        "lower_bound_min": in_minutes(found.bound.min(found.end)),
        "schedule": schedule,
        "left_out": found.left_out,
        "lifted": found.lifted,
    }))
}

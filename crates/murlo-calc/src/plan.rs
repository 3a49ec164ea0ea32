//! The topic `plan`: a whole plan from the API's own types, without a household.

use super::{Field, FieldKind, Topic, TopicInput};
use crate::topic::first;
use jiff::civil::Date;
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem};
use murlo_base::units::Units;
use murlo_brewer::bath::Agent;
use murlo_brewer::water::{Chemistry, WaterDraft, Waters};
use murlo_brewer::{Brewer, BrewerDraft};
use murlo_chalk::money::Terms;
use murlo_chalk::scale::{Growth, Known, Start};
use murlo_plan::machine::Mechanism;
use murlo_plan::{Facts, Plan, PlanOptions, Today, rehearse};
use serde::Deserialize;
use serde::de::DeserializeOwned;
use serde_json::{Value, json};

pub(super) const fn fact(name: &'static str, kind: &'static str, required: bool) -> Field {
    Field {
        name,
        kind: FieldKind::Fact(kind),
        required,
    }
}

pub(super) const PLAN: Topic = Topic {
    name: "plan",
    about: "a whole plan for a brewer that is cleaned on a day, or on the day it is due",
    fields: &[
        fact("brewer", "a BrewerDraft of the API", true),
        fact("water", "a WaterDraft of the API", true),
        fact("habit", "an object of weekday_cups and weekend_cups", false),
        fact("agent", "an Agent of the API", false),
        fact("options", "PlanOptions of the API", false),
        fact("today", "a day such as 2026-11-23", false),
    ],
    example: r#"{
  "brewer": {"nickname": "Lamp-room pod", "home_id": "home", "family": "pod_reservoir", "water_id": "water",
    "reservoir": "48 fl oz", "dispense": "10 fl oz", "hold_up": "12 fl oz", "dead_volume": "1 fl oz", "filter": false,
    "self_clean": false, "weekday_cups": 2, "weekend_cups": 3, "cup": "8 fl oz", "in_use_since": "2026-01-05"},
  "water": {"name": "Tap", "reading": {"by": "strip", "value": 12, "unit": "gpg"}},
  "options": {"taste": "usual"}
}"#,
    answer,
};

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Cups {
    weekday_cups: f64,
    weekend_cups: f64,
}

pub(super) fn read<T: DeserializeOwned>(
    input: &TopicInput,
    name: &str,
) -> Result<Option<T>, Problem> {
    let Some(value) = input.given(name) else {
        return Ok(None);
    };
    T::deserialize(value)
        .map(Some)
        .map_err(|e| Problem::new(Code::WrongType, name, e.to_string()))
}

/// Runs a plan on the simulated brewer.
pub(super) const DRY_RUN: Topic = Topic {
    name: "dry-run",
    about: "whether a plan does harm on the simulated brewer: which instruction, and what would happen",
    fields: &[
        PLAN.fields[0],
        PLAN.fields[1],
        PLAN.fields[2],
        PLAN.fields[3],
        PLAN.fields[4],
        PLAN.fields[5],
        fact(
            "plan",
            "a Plan of the API to run instead of the one drawn up",
            false,
        ),
    ],
    example: PLAN.example,
    answer: dry_run,
};

fn dry_run(input: &TopicInput) -> Result<Value, Problem> {
    let (brewer, mut plan) = draw_up(input)?;
    if let Some(given) = read::<Plan>(input, "plan")? {
        given.check().map_err(first("plan"))?;
        plan = given;
    }
    let circuit = brewer.circuit("plan.circuit_id", &plan.circuit_id)?;
    let mechanism = Mechanism::of(&brewer, circuit, plan.rinse.target_mg_l);
    let fault = rehearse::run(&mechanism, &plan).err();
    Ok(json!({"harmless": fault.is_none(), "fault": fault}))
}

fn answer(input: &TopicInput) -> Result<Value, Problem> {
    draw_up(input).map(|(_, plan)| json!(plan))
}

/// The brewer that is given, and its plan.
fn draw_up(input: &TopicInput) -> Result<(Brewer, Plan), Problem> {
    let missing = |name: &str| Problem::new(Code::Missing, name, "missing");
    let mut draft: BrewerDraft = read(input, "brewer")?.ok_or_else(|| missing("brewer"))?;
    let water: WaterDraft = read(input, "water")?.ok_or_else(|| missing("water"))?;
    if let Some(cups) = read::<Cups>(input, "habit")? {
        draft.weekday_cups = bounds::CUPS.check("habit.weekday_cups", cups.weekday_cups)?;
        draft.weekend_cups = bounds::CUPS.check("habit.weekend_cups", cups.weekend_cups)?;
    }
    let agents = match read::<Agent>(input, "agent")? {
        Some(agent) => {
            agent.check().map_err(first("agent"))?;
            vec![agent]
        }
        None => Agent::starters(),
    };
    let options: PlanOptions = read(input, "options")?.unwrap_or_default();
    let since = draft.last_descaled.unwrap_or(draft.in_use_since);
    let asked: Option<Date> = read(input, "today")?;
    let brewer = draft
        .check("brewer".to_owned(), None, asked.unwrap_or(since))
        .map_err(first("brewer"))?;
    let water = water
        .check("water".to_owned(), &Waters::new())
        .map_err(first("water"))?;
    let chemistry = Chemistry::of(&water.reading, &Waters::new())?;
    let circuit = match &options.circuit_id {
        Some(id) => brewer.circuit("options.circuit_id", id)?,
        None => &brewer.circuits[0],
    };
    let waters = [chemistry];
    let on = |today| {
        let growth = Growth::new(Known {
            brewer: &brewer,
            circuit,
            waters: &waters,
            start: Start::new(since),
            cleans: &[],
            entries: &[],
            logged: None,
            recall: None,
            today,
        });
        growth.forecast(Units::Metric)
    };
    let units = Units::Metric;
    let day = asked.unwrap_or_else(|| on(since).due.date);
    let forecast = on(day);
    let facts = Facts {
        brewer: &brewer,
        circuit,
        forecast: &forecast,
        agents: &agents,
        units,
        terms: &Terms::default(),
        today: Today::default(),
    };
    let plan = facts
        .recommended(options)
        .and_then(|options| facts.plan(&options))
        .map_err(first("options"))?;
    Ok((brewer, plan))
}

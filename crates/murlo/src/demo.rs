//! The made-up homes on Orrin Sound: an export whose days are moved so that its first of January 2026 is today, and two
//! cleans carried out through the core, one finished and one half done.

use anyhow::{Context, Result, anyhow};
use jiff::civil::{Date, date};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp, ToSpan};
use murlo_core::clean::{Act, Event, admit, replay};
use murlo_core::household::{CleanRecord, Household, PastClean};
use murlo_core::plan::{Facts, Plan, PlanOptions, VERIFY, answers};
use murlo_core::scale::{Baseline, Growth};
use murlo_core::water::Chemistry;
use murlo_store::Store;
use serde_json::Value;

const WRITTEN_FOR: Date = date(2026, 1, 1);

/// Fills an empty store.
pub fn fill(store: &mut Store, now: Timestamp, crowd: u32) -> Result<()> {
    let today = now.to_zoned(TimeZone::UTC).date();
    let mut document: Value = serde_json::from_str(include_str!("../demo/orrin-sound.json"))?;
    move_days(&mut document, today)?;
    let mut household: Household = Household::read(&document.to_string())?;
    let day = |days: i64| now - SignedDuration::from_hours(24 * days);
    household.cleans.push(clean(
        &household,
        "demo-finished",
        "studio-pod",
        day(70),
        usize::MAX,
    )?);
    household.cleans.push(clean(
        &household,
        "demo-half-done",
        "harbour-pod",
        now - SignedDuration::from_mins(50),
        9,
    )?);
    let models = household.brewers.clone();
    for n in 0..crowd {
        let mut one = models[n as usize % models.len()].clone();
        let id = format!("crowd-{n:03}");
        one.fact.id.clone_from(&id);
        one.fact.nickname = format!("{} no. {}", one.fact.nickname, n + 1);
        one.fact.in_use_since = today.saturating_sub((5 * 365).days());
        one.fact.waters[0].from = one.fact.in_use_since;
        one.fact.habits[0].from = one.fact.in_use_since;
        household.brewers.push(one);
        for month in 1..15 {
            let past = PastClean {
                id: format!("{id}-{month}"),
                brewer_id: id.clone(),
                day: today.saturating_sub((120 * month + i64::from(n)).days()),
                note: "Vinegar".to_owned(),
            };
            household.past_cleans.push(murlo_core::household::Kept {
                archived: false,
                fact: past,
            });
        }
    }
    Ok(store.import(&household, false)?)
}

/// Moves every civil day of a document by the days between the day it was written for and `today`.
fn move_days(value: &mut Value, today: Date) -> Result<()> {
    match value {
        Value::String(text) => {
            if let Ok(written) = text.parse::<Date>() {
                *text = today.checked_sub(written.until(WRITTEN_FOR)?)?.to_string();
            }
        }
        Value::Array(items) => items
            .iter_mut()
            .try_for_each(|item| move_days(item, today))?,
        Value::Object(fields) => fields
            .values_mut()
            .try_for_each(|field| move_days(field, today))?,
        _ => {}
    }
    Ok(())
}

fn plan(household: &Household, brewer_id: &str, today: Date) -> Result<Plan> {
    let brewer = &household
        .brewers
        .iter()
        .find(|b| b.fact.id == brewer_id)
        .context("no such brewer")?
        .fact;
    let water = household
        .waters
        .iter()
        .find(|w| w.fact.id == brewer.water_id())
        .context("no such water")?;
    let chemistry = Chemistry::of(&water.fact.reading)?;
    let told = household
        .past_cleans
        .iter()
        .filter(|p| p.fact.brewer_id == brewer_id && p.fact.day < today);
    let day = told
        .map(|p| p.fact.day)
        .max()
        .unwrap_or(brewer.in_use_since);
    let circuit = &brewer.circuits[0];
    let units = household.settings.units;
    let forecast = Growth::new(
        brewer,
        circuit,
        &[chemistry],
        Baseline { day, left_mg: 0.0 },
    )
    .forecast(today, units);
    let agents: Vec<_> = household.agents.iter().map(|a| a.fact.clone()).collect();
    let options = PlanOptions {
        agent_id: Some("vinegar".to_owned()),
        ..PlanOptions::default()
    };
    Ok(Facts {
        brewer,
        circuit,
        forecast: &forecast,
        agents: &agents,
        units,
    }
    .plan(&options)?)
}

/// Follows the one next act from `start`, one act every three minutes, at most `most` acts.
fn clean(
    household: &Household,
    id: &str,
    brewer_id: &str,
    start: Timestamp,
    most: usize,
) -> Result<CleanRecord> {
    let today = start.to_zoned(TimeZone::UTC).date();
    let plan = plan(household, brewer_id, today)?;
    let mut events: Vec<Event> = Vec::new();
    loop {
        let state = replay(&plan, &events)?;
        if state.closed.is_some() || events.len() >= most {
            return Ok(CleanRecord {
                id: id.to_owned(),
                plan,
                events,
            });
        }
        let good = || {
            [answers::SMELL, answers::CLEAR, answers::LIGHT]
                .map(|q| (q.to_owned(), answers::GOOD.to_owned()))
                .into()
        };
        let act = state.next.map_or_else(
            || Act::Answered {
                step: VERIFY.to_owned(),
                answers: good(),
            },
            |next| next.act,
        );
        let minutes = 3 * i64::try_from(events.len()).map_err(|_| anyhow!("too many acts"))?;
        let event = Event {
            id: format!("{id}-{}", events.len()),
            at: start + SignedDuration::from_mins(minutes),
            device_at: None,
            act,
        };
        events.push(admit(&plan, &events, event, today)?.0);
    }
}

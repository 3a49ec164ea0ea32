//! The made-up homes on Orrin Sound: an export whose days are moved so that its first of January 2026 is today, and two
//! cleans carried out through the core, one finished and one half done.

mod rounds;

use anyhow::{Context, Result};
use jiff::civil::{Date, date};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp, ToSpan};
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem};
use murlo_base::units::Units;
use murlo_brewer::CircuitKey;
use murlo_brewer::home::Home;
use murlo_brewer::job::Asks;
use murlo_brewer::water::Waters;
use murlo_chalk::money::Terms;
use murlo_clean::{Act, Event, GlassOf, GlassSeen, admit, replay};
use murlo_household::counter::{self, Journals};
use murlo_household::history::{AcidInside, Cleans, History, Running};
use murlo_household::stock::{Moved, Movement};
use murlo_household::{CleanRecord, Household, PastClean};
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::{
    Because, Facts, Kind, Measured, Moment, PlanOptions, SOAK, Today, VERIFY, Wish, Work,
};
use murlo_store::Store;
use serde_json::Value;
use std::collections::{BTreeMap, HashMap};

const WRITTEN_FOR: Date = date(2026, 1, 1);

/// Further brewers stand in so many homes.
const CROWD_HOMES: u32 = 56;

/// To so many of them somebody comes each week.
const CROWD_WEEKLY: u32 = 18;

/// Fills an empty store.
pub fn fill(store: &mut Store, now: Timestamp, crowd: u32, years: u32) -> Result<()> {
    let today = now.to_zoned(TimeZone::UTC).date();
    let mut document: Value = serde_json::from_str(include_str!("../demo/orrin-sound.json"))?;
    move_days(&mut document, today)?;
    let mut household: Household = Household::read(&document.to_string())?;
    for made_up in made_up(now) {
        let record = made_up.carry_out(&household)?;
        household.cleans.push(record);
    }
    household.movements.extend(movements(now));
    household.visits = rounds::visits(today, now);
    add_crowd(&mut household, today, crowd, years);
    Ok(store.import(&household, false, today)?)
}

/// Cleans that somebody went through: finished, for its needles only, half done.
fn made_up(now: Timestamp) -> [MadeUp; 3] {
    let day = |days: i64| now - SignedDuration::from_hours(24 * days);
    let lately = now - SignedDuration::from_mins(6);
    [
        MadeUp {
            id: "demo-finished",
            brewer_id: "studio-pod",
            work: Work::Descale,
            because: None,
            end: day(70),
            stop_at: None,
        },
        MadeUp {
            id: "demo-unclogged",
            brewer_id: "galley-cup",
            work: Work::Needles,
            because: Some("trouble-01"),
            end: day(2),
            stop_at: None,
        },
        MadeUp {
            id: "demo-half-done",
            brewer_id: "harbour-pod",
            work: Work::Descale,
            because: None,
            end: lately,
            stop_at: Some(SOAK),
        },
    ]
}

/// What was bought and counted.
fn movements(now: Timestamp) -> impl Iterator<Item = Kept<Movement>> {
    let today = now.to_zoned(TimeZone::UTC).date();
    [
        ("demo-pods", "pods", 60, Moved::Bought { amount: 8.0 }),
        (
            "demo-filters",
            "tapered",
            60,
            Moved::Counted { amount: 2.0 },
        ),
        (
            "demo-vinegar",
            "vinegar",
            80,
            Moved::Counted { amount: 2300.0 },
        ),
    ]
    .into_iter()
    .map(move |(id, item_id, days, what)| Kept {
        archived: false,
        fact: Movement {
            id: id.to_owned(),
            item_id: item_id.to_owned(),
            at: now - SignedDuration::from_hours(24 * days),
            day: today.saturating_sub(days.days()),
            what,
        },
    })
}

/// Many brewers in many homes, each with `years` of cleans, for figures that must hold with them.
fn add_crowd(household: &mut Household, today: Date, crowd: u32, years: u32) {
    let models = household.brewers.clone();
    for n in 0..crowd.min(CROWD_HOMES) {
        let mut home = Home::named(format!("crowd-home-{n:02}"), format!("Mooring {}", n + 1));
        if n < CROWD_WEEKLY {
            home.coming.rhythm = rounds::weekly(n, today);
        }
        household.homes.push(Kept {
            archived: false,
            fact: home,
        });
    }
    for n in 0..crowd {
        let mut one = models[n as usize % models.len()].clone();
        let id = format!("crowd-{n:03}");
        one.fact.id.clone_from(&id);
        one.fact.home_id = format!("crowd-home-{:02}", n % CROWD_HOMES);
        one.fact.nickname = format!("{} no. {}", one.fact.nickname, n + 1);
        one.fact.in_use_since = today.saturating_sub((i64::from(years) * 365).days());
        one.fact.waters[0].from = one.fact.in_use_since;
        one.fact.habits[0].from = one.fact.in_use_since;
        household.brewers.push(one);
        for clean in 1..3 * i64::from(years) {
            let past = PastClean {
                id: format!("{id}-{clean}"),
                brewer_id: id.clone(),
                day: today.saturating_sub((120 * clean + i64::from(n % 100)).days()),
                note: "Vinegar".to_owned(),
                bathed: BTreeMap::new(),
            };
            household.past_cleans.push(Kept {
                archived: false,
                fact: past,
            });
        }
    }
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

/// What the core reads of the document, as far as it was known on `today`.
struct DemoPast {
    waters: Waters,
    homes: HashMap<String, Home>,
    cleans: Cleans,
    journals: Journals,
    running: Running,
    acid: HashMap<CircuitKey, AcidInside>,
    measured: HashMap<CircuitKey, Measured>,
    today: Date,
    units: Units,
}

impl DemoPast {
    fn until(today: Date, household: &Household) -> Self {
        let told = household.past_cleans.iter().map(|past| &past.fact);
        let brewers = household.brewers.iter().map(|brewer| &brewer.fact);
        let cleans = History::fold([], told.filter(|past| past.day < today), brewers).cleans;
        let mut journals = Journals::new();
        for kept in household.journal.iter().filter(|e| e.fact.day < today) {
            let entry = kept.fact.clone();
            journals
                .entry(entry.brewer_id.clone())
                .or_default()
                .push(entry);
        }
        Self {
            waters: household
                .waters
                .iter()
                .map(|w| (w.fact.id.clone(), w.fact.clone()))
                .collect(),
            homes: HashMap::new(),
            cleans,
            journals,
            running: Running::new(),
            acid: HashMap::new(),
            measured: HashMap::new(),
            today,
            units: household.settings.units,
        }
    }

    fn facts(&self) -> counter::CounterFacts<'_> {
        counter::CounterFacts {
            waters: &self.waters,
            homes: &self.homes,
            cleans: &self.cleans,
            logged: None,
            recalls: None,
            journals: &self.journals,
            running: &self.running,
            acid: &self.acid,
            paces: &[],
            pace_after: None,
            noses: &[],
            ways: &[],
            over_days: &[],
            asks: Asks::Usual,
            measured: &self.measured,
            now: None,
            today: self.today,
            units: self.units,
        }
    }
}

/// Asks the core about a brewer as it stood on a day.
fn ask<T>(
    household: &Household,
    brewer_id: &str,
    today: Date,
    question: impl FnOnce(&Facts) -> T,
) -> Result<T> {
    let brewer = &household
        .brewers
        .iter()
        .find(|b| b.fact.id == brewer_id)
        .context("no such brewer")?
        .fact;
    let circuit = &brewer.circuits[0];
    let forecast = DemoPast::until(today, household)
        .facts()
        .forecast(brewer, circuit)
        .context("no such water")?;
    let agents: Vec<_> = household.agents.iter().map(|a| a.fact.clone()).collect();
    Ok(question(&Facts {
        brewer,
        circuit,
        forecast: &forecast,
        agents: &agents,
        units: household.settings.units,
        terms: &Terms::default(),
        today: Today::default(),
    }))
}

/// A clean to be carried out through the core.
struct MadeUp {
    id: &'static str,
    brewer_id: &'static str,
    work: Work,
    /// The journal entry that led to it.
    because: Option<&'static str>,
    /// When its last act was.
    end: Timestamp,
    /// The step whose timer it stops at; at its end when absent.
    stop_at: Option<&'static str>,
}

impl MadeUp {
    /// Follows the one next act.
    fn carry_out(&self, household: &Household) -> Result<CleanRecord> {
        let today = self.end.to_zoned(TimeZone::UTC).date();
        let options = PlanOptions {
            agent_id: Some("vinegar".to_owned()),
            work: self.work,
            ..PlanOptions::default()
        };
        let mut plan = ask(household, self.brewer_id, today, |facts| {
            facts.plan(&options)
        })??;
        plan.because = self.reason(household, today)?;
        let mut events: Vec<Event> = Vec::new();
        let mut seen = seen();
        loop {
            let state = replay(&plan, &events)?;
            let waits = |step: &str| {
                let mut steps = state.steps.iter();
                steps.any(|s| s.id == step && s.timer.is_some())
            };
            if state.closed.is_some() || self.stop_at.is_some_and(waits) {
                let late = events.last().map_or(SignedDuration::ZERO, |last| {
                    self.end.duration_since(last.at)
                });
                events.iter_mut().for_each(|event| event.at += late);
                return Ok(CleanRecord {
                    id: self.id.to_owned(),
                    plan,
                    events,
                });
            }
            let at = state.step.as_ref().map_or("", |step| step.id.as_str());
            let beside = seen.iter().position(|(step, _)| *step == at);
            let beside = beside.map(|i| seen.remove(i).1);
            let is_look = state.step.as_ref().is_some_and(|s| s.is(Kind::Look));
            let act = beside
                .or(state.next.map(|next| next.act))
                .unwrap_or_else(|| Act::Answered {
                    step: at.to_owned(),
                    answers: if is_look { little() } else { good() },
                });
            let before = events.last().map_or(self.end, |event| event.at);
            // A wait is waited for, anything else takes two minutes.
            let waited = match &act {
                Act::Done { step } => state.steps.iter().find(|s| s.id == *step),
                _ => None,
            };
            let waited = waited
                .and_then(|s| s.timer.as_ref())
                .map(|timer| timer.ends_at);
            let at = (before + SignedDuration::from_mins(2)).max(waited.unwrap_or(before));
            let event = Event {
                id: format!("{}-{}", self.id, events.len()),
                at,
                device_at: None,
                by: None,
                act,
            };
            let planner = |moment: &Moment, wish: &Wish| {
                let stage = ask(household, self.brewer_id, today, |facts| {
                    facts.further(moment, wish)
                });
                stage.unwrap_or_else(|error| {
                    Err(Problem::new(
                        Code::UnknownId,
                        "brewer_id",
                        error.to_string(),
                    ))
                })
            };
            events.push(admit(&plan, &events, event, today, &planner)?.0);
        }
    }

    /// What was written down before, and led to it.
    fn reason(&self, household: &Household, today: Date) -> Result<Option<Because>> {
        let mut entries = household.journal.iter();
        let Some(entry) = self
            .because
            .and_then(|id| entries.find(|entry| entry.fact.id == id))
        else {
            return Ok(None);
        };
        let mut brewers = household.brewers.iter();
        let brewer = brewers.find(|b| b.fact.id == self.brewer_id);
        let brewer = brewer.context("no such brewer")?;
        Ok(Some(Because {
            entry_id: entry.fact.id.clone(),
            text: entry.fact.text(&brewer.fact, today),
        }))
    }
}

/// What somebody told beside pressing the buttons: cups that were timed, and glasses.
fn seen() -> Vec<(&'static str, Act)> {
    let timed = |step: &'static str, seconds, streams| {
        let act = Act::Measured {
            step: step.to_owned(),
            seconds: Some(seconds),
            streams: Some(streams),
        };
        (step, act)
    };
    let glass = |step, of, rating| {
        let glass = GlassSeen {
            of,
            rating: Some(rating),
            photo: None,
            sampled: None,
        };
        (step, Act::Looked { glass })
    };
    vec![
        timed("before", 118.0, 1.0),
        timed("after", 74.0, 4.0),
        timed("baseline", 44.0, 2.0),
        glass("baseline", GlassOf::Reference, 0),
        glass("baseline", GlassOf::First, 1),
        glass(SOAK, GlassOf::Bath, 3),
        glass(Kind::Look.id(), GlassOf::Soaked, 5),
        glass(VERIFY, GlassOf::Final, 0),
        timed(VERIFY, 29.0, 3.0),
    ]
}

/// The bath showed hardly any chalk.
fn little() -> BTreeMap<QuestionId, AnswerId> {
    [(QuestionId::Showed, AnswerId::Nothing)].into()
}

/// All was well.
fn good() -> BTreeMap<QuestionId, AnswerId> {
    [
        (QuestionId::Smell, AnswerId::Good),
        (QuestionId::Clear, AnswerId::Good),
        (QuestionId::Light, AnswerId::Good),
        (QuestionId::Nose, AnswerId::Beside),
    ]
    .into()
}

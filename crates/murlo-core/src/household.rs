//! A household's facts, and the document they travel in: the export format.
//!
//! [`Household`] is written as JSON and read back; version 1 stays readable for good, so fields are only ever added.

use crate::bath::Agent;
use crate::bounds;
use crate::brewer::Brewer;
use crate::clean::{self, Event};
use crate::journal::Entry;
use crate::plan::Plan;
use crate::problem::{Code, Problem, Problems};
use crate::rinse::Taste;
use crate::text;
use crate::units::Units;
use crate::water::{Water, Waters};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use std::collections::{HashMap, HashSet};

/// Name of the format, the first thing a reader checks.
pub const FORMAT: &str = "murlo-household";
/// Its version.
pub const VERSION: u32 = 1;

/// What holds for the whole household.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Settings {
    /// Units to read.
    pub units: Units,
    /// IANA name of the time zone whose days count.
    pub time_zone: String,
    /// Whose taste decides a rinse.
    pub taste: Taste,
    /// Written before amounts of money as a sign, or after them as a word.
    #[serde(default)]
    pub currency: String,
    /// What an hour of one's own work is worth.
    #[serde(default)]
    pub hourly_rate: Option<f64>,
    /// Whether agents that smell are avoided.
    #[serde(default)]
    pub avoid_smell: bool,
}

impl Settings {
    /// Checks the figures.
    ///
    /// # Errors
    /// One problem per field outside its range.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        if self.currency.chars().count() > 8 || self.currency.chars().any(char::is_control) {
            problems.0.push(Problem::new(
                Code::OutOfRange,
                "currency",
                "give a sign or a short word of up to 8 characters",
            ));
        }
        problems.note(
            self.hourly_rate
                .map_or(Ok(0.0), |rate| bounds::PRICE.check("hourly_rate", rate)),
        );
        problems.or(Some(()))
    }
}

impl Default for Settings {
    fn default() -> Self {
        Self {
            units: Units::Us,
            time_zone: "UTC".to_owned(),
            taste: Taste::Usual,
            currency: String::new(),
            hourly_rate: None,
            avoid_smell: false,
        }
    }
}

/// A place where brewers stand.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Home {
    /// Identity.
    pub id: String,
    /// Its name.
    pub name: String,
}

/// A clean that was done without Murlo's guidance, or before it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PastClean {
    /// Identity.
    pub id: String,
    /// The brewer.
    pub brewer_id: String,
    /// The day.
    pub day: Date,
    /// What was done.
    pub note: String,
}

/// A fact with whether it has been put away; putting away is how deleting works, so it can be undone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Kept<T> {
    /// Put away.
    #[serde(default)]
    pub archived: bool,
    /// The fact.
    pub fact: T,
}

/// A clean: its frozen plan and what happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CleanRecord {
    /// Identity.
    pub id: String,
    /// The plan as started.
    pub plan: Plan,
    /// What happened, in order.
    pub events: Vec<Event>,
}

/// A photo of a glass: a JPEG of its pixels and nothing else.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Photo {
    /// Identity.
    pub id: String,
    /// The clean it belongs to.
    pub clean_id: String,
    /// The picture; Base64 in JSON.
    #[serde(with = "base64")]
    pub jpeg: Vec<u8>,
}

mod base64 {
    use base64::Engine;
    use base64::engine::general_purpose::STANDARD;
    use serde::{Deserialize, Deserializer, Serializer};

    pub fn serialize<S: Serializer>(bytes: &[u8], to: S) -> Result<S::Ok, S::Error> {
        to.serialize_str(&STANDARD.encode(bytes))
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(from: D) -> Result<Vec<u8>, D::Error> {
        let text = String::deserialize(from)?;
        STANDARD.decode(text).map_err(serde::de::Error::custom)
    }
}

/// Everything a household has told Murlo, each list in order of id.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Household {
    /// Always [`FORMAT`].
    pub format: String,
    /// Always [`VERSION`].
    pub version: u32,
    /// Settings.
    pub settings: Settings,
    /// Homes.
    pub homes: Vec<Kept<Home>>,
    /// Waters.
    pub waters: Vec<Kept<Water>>,
    /// Agents.
    pub agents: Vec<Kept<Agent>>,
    /// Brewers.
    pub brewers: Vec<Kept<Brewer>>,
    /// Cleans told afterwards.
    pub past_cleans: Vec<Kept<PastClean>>,
    /// Brews, signs, filters, needles and days away.
    #[serde(default)]
    pub journal: Vec<Kept<Entry>>,
    /// Guided cleans.
    pub cleans: Vec<CleanRecord>,
    /// Photos of their glasses.
    #[serde(default)]
    pub photos: Vec<Photo>,
}

impl Household {
    /// Reads an export and checks all of it.
    ///
    /// # Errors
    /// `NotTheFormat` for anything that is not a whole export of this version; then one problem per wrong fact.
    pub fn read(json: &str) -> Result<Self, Problems> {
        let not = |message: String| Problems::from(Problem::new(Code::NotTheFormat, "", message));
        let value: serde_json::Value = serde_json::from_str(json).map_err(|e| {
            not(format!(
                "not a whole JSON document ({e}): give a file that Murlo exported"
            ))
        })?;
        if value.get("format").and_then(|f| f.as_str()) != Some(FORMAT) {
            return Err(not(format!(
                "not a Murlo export: its \"format\" must be \"{FORMAT}\""
            )));
        }
        if value.get("version").and_then(serde_json::Value::as_u64) != Some(u64::from(VERSION)) {
            return Err(not(format!(
                "this Murlo reads version {VERSION} of the format"
            )));
        }
        let household: Self = serde_json::from_value(value)
            .map_err(|e| not(format!("the export is damaged: {e}")))?;
        household.check()?;
        Ok(household)
    }

    /// Checks every fact and every reference.
    ///
    /// # Errors
    /// One problem per wrong field, prefixed by the list and id it stands in.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        let mut within = |prefix: String, result: Result<(), Problems>| {
            if let Err(found) = result {
                problems.0.extend(found.within(&prefix).0);
            }
        };
        let homes: HashSet<_> = self.homes.iter().map(|h| h.fact.id.as_str()).collect();
        let waters: HashSet<_> = self.waters.iter().map(|w| w.fact.id.as_str()).collect();
        let brewers: HashSet<_> = self.brewers.iter().map(|b| b.fact.id.as_str()).collect();
        let known = |set: &HashSet<&str>, field: &str, id: &str| {
            if set.contains(id) {
                Ok(())
            } else {
                Err(Problem::new(
                    Code::UnknownId,
                    field,
                    format!("\"{id}\" is not in this file"),
                )
                .into())
            }
        };
        for (list, ids) in [
            (
                "homes",
                self.homes
                    .iter()
                    .map(|x| x.fact.id.as_str())
                    .collect::<Vec<_>>(),
            ),
            (
                "waters",
                self.waters.iter().map(|x| x.fact.id.as_str()).collect(),
            ),
            (
                "agents",
                self.agents.iter().map(|x| x.fact.id.as_str()).collect(),
            ),
            (
                "brewers",
                self.brewers.iter().map(|x| x.fact.id.as_str()).collect(),
            ),
            (
                "past_cleans",
                self.past_cleans
                    .iter()
                    .map(|x| x.fact.id.as_str())
                    .collect(),
            ),
            (
                "journal",
                self.journal.iter().map(|x| x.fact.id.as_str()).collect(),
            ),
            (
                "cleans",
                self.cleans.iter().map(|x| x.id.as_str()).collect(),
            ),
            (
                "photos",
                self.photos.iter().map(|x| x.id.as_str()).collect(),
            ),
        ] {
            let mut seen = HashSet::new();
            for id in ids {
                within(
                    list.to_owned(),
                    text::id("id", id).map(drop).map_err(Into::into),
                );
                if !seen.insert(id) {
                    within(
                        list.to_owned(),
                        Err(Problem::new(
                            Code::Contradiction,
                            "id",
                            format!("\"{id}\" stands here twice"),
                        )
                        .into()),
                    );
                }
            }
        }
        within("settings".to_owned(), self.settings.check());
        for home in &self.homes {
            within(
                format!("homes.{}", home.fact.id),
                text::name("name", &home.fact.name)
                    .map(drop)
                    .map_err(Into::into),
            );
        }
        let by_id: Waters = self
            .waters
            .iter()
            .map(|w| (w.fact.id.clone(), w.fact.clone()))
            .collect();
        for water in &self.waters {
            within(
                format!("waters.{}", water.fact.id),
                water.fact.check(&by_id),
            );
        }
        for agent in &self.agents {
            within(format!("agents.{}", agent.fact.id), agent.fact.check());
        }
        for brewer in &self.brewers {
            let place = format!("brewers.{}", brewer.fact.id);
            within(place.clone(), brewer.fact.check());
            within(
                place.clone(),
                known(&homes, "home_id", &brewer.fact.home_id),
            );
            for water in &brewer.fact.waters {
                within(place.clone(), known(&waters, "waters", &water.value));
            }
        }
        for past in &self.past_cleans {
            within(
                format!("past_cleans.{}", past.fact.id),
                known(&brewers, "brewer_id", &past.fact.brewer_id),
            );
        }
        let by_brewer: HashMap<_, _> = self
            .brewers
            .iter()
            .map(|b| (b.fact.id.as_str(), &b.fact))
            .collect();
        for entry in &self.journal {
            within(
                format!("journal.{}", entry.fact.id),
                match by_brewer.get(entry.fact.brewer_id.as_str()) {
                    Some(brewer) => entry.fact.check(brewer),
                    None => known(&brewers, "brewer_id", &entry.fact.brewer_id),
                },
            );
        }
        let cleans: HashSet<_> = self.cleans.iter().map(|c| c.id.as_str()).collect();
        for photo in &self.photos {
            within(
                format!("photos.{}", photo.id),
                known(&cleans, "clean_id", &photo.clean_id),
            );
        }
        for record in &self.cleans {
            let place = format!("cleans.{}", record.id);
            within(
                place.clone(),
                known(&brewers, "plan.brewer_id", &record.plan.brewer_id),
            );
            within(
                place,
                clean::replay(&record.plan, &record.events)
                    .map(drop)
                    .map_err(Into::into),
            );
        }
        problems.or(Some(()))
    }
}

#[cfg(test)]
mod tests;

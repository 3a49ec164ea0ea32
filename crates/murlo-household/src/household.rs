//! The document in which a household travels: the export format.

use crate::past::{PastClean, known};
use crate::photo::{Owners, Photo};
use crate::rounds::{self, Visit};
use crate::settings::Settings;
use crate::stock::{self, Movement, Supply};
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{document, text};
use murlo_brewer::Brewer;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::journal::Entry;
use murlo_brewer::water::{Water, Waters};
use murlo_clean::{self as clean, Event, State};
use murlo_plan::{KeptWay, OverDays, Plan};
use serde::{Deserialize, Serialize};
use std::collections::{HashMap, HashSet};
use std::io::{self, BufReader, Read, Seek};

/// Name of the format, the first thing a reader checks.
pub const FORMAT: &str = "murlo-household";

/// Its version; earlier ones are read too: 2 added small works and the cupboard, 3 visits and what is known of homes, 4 photos of
/// visits and brewers, 5 ways that are kept and cleans over days, 6 people beside what they did, 7 the chalk that a clean met.
pub const VERSION: u32 = 7;

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

impl CleanRecord {
    /// Where it stands, once everything in it fits.
    fn check(&self, brewers: &HashMap<String, Brewer>) -> Result<State, Problems> {
        let mut problems = Problems::default();
        problems.note(known(brewers, "plan.brewer_id", &self.plan.brewer_id));
        problems.note(self.plan.check().map_err(|p| p.within("plan")));
        for event in &self.events {
            let place = format!("events.{}", event.id);
            problems.note(event.check().map_err(|p| p.within(&place)));
        }
        let in_order = self.events.is_sorted_by_key(|event| event.at);
        if !in_order {
            let message = "give the events in the order in which they happened";
            problems
                .0
                .push(Problem::new(Code::WrongType, "events", message));
        }
        if !problems.0.is_empty() {
            return Err(problems);
        }
        Ok(clean::replay(&self.plan, &self.events)?)
    }
}

/// Everything a household has told Murlo, each list in order of id.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Household {
    /// Always [`FORMAT`].
    pub format: String,
    /// [`VERSION`] where it was written by this one.
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
    /// What is counted by the piece in the cupboard.
    #[serde(default)]
    pub supplies: Vec<Kept<Supply>>,
    /// What happened to levels.
    #[serde(default)]
    pub movements: Vec<Kept<Movement>>,
    /// Visits: planned, running, and over.
    #[serde(default)]
    pub visits: Vec<Kept<Visit>>,
    /// Ways of cleaning that the household keeps.
    #[serde(default)]
    pub ways: Vec<Kept<KeptWay>>,
    /// Cleans that are spread over days.
    #[serde(default)]
    pub over_days: Vec<Kept<OverDays>>,
    /// Guided cleans.
    pub cleans: Vec<CleanRecord>,
    /// Photos of their glasses, of visits and of brewers.
    #[serde(default)]
    pub photos: Vec<Photo>,
}

/// What a reader looks at first.
#[derive(Deserialize)]
struct Head {
    #[serde(default)]
    format: serde_json::Value,
    #[serde(default)]
    version: serde_json::Value,
}

impl Household {
    /// Reads an export and checks all of it.
    ///
    /// # Errors
    /// `NotTheFormat` for anything that is not a whole export of this version; then one problem per wrong fact.
    pub fn read(json: &str) -> Result<Self, Problems> {
        Self::read_from(io::Cursor::new(json))
    }

    /// The same of a file, which is never in memory as a whole beside what it says.
    ///
    /// # Errors
    /// The same, and `NotTheFormat` where it cannot be read.
    pub fn read_from(mut file: impl Read + Seek) -> Result<Self, Problems> {
        let not = |message: String| Problems::from(Problem::new(Code::NotTheFormat, "", message));
        let foreign = || {
            not(format!(
                "not a Murlo export: its \"format\" must be \"{FORMAT}\""
            ))
        };
        let head: Head = serde_json::from_reader(BufReader::new(&mut file)).map_err(|e| {
            if e.is_data() {
                return foreign();
            }
            not(format!(
                "not a whole JSON document ({e}): give a file that Murlo exported"
            ))
        })?;
        if head.format.as_str() != Some(FORMAT) {
            return Err(foreign());
        }
        let version = head.version.as_u64();
        if !version.is_some_and(|n| (1..=u64::from(VERSION)).contains(&n)) {
            return Err(not(format!(
                "this Murlo reads versions 1 to {VERSION} of the format"
            )));
        }
        file.rewind()
            .map_err(|e| not(format!("the export cannot be read: {e}")))?;
        let household: Self = serde_json::from_reader(BufReader::new(file))
            .map_err(|e| not(format!("the export is damaged: {e}")))?;
        household.check()?;
        Ok(household)
    }

    /// Checks every fact, every figure and every reference.
    ///
    /// # Errors
    /// One problem per wrong field, prefixed by the list and id it stands in.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        // What cannot be at all comes first: the other checks may then compute with it.
        self.check_figures()?;
        self.check_ids(&mut problems);
        problems.note(self.settings.check().map_err(|p| p.within("settings")));
        for home in &self.homes {
            let place = format!("homes.{}", home.fact.id);
            problems.note(home.fact.checked().map_err(|p| p.within(&place)));
        }
        let waters: Waters = by_id(&self.waters, |w| &w.id);
        for (id, water) in &waters {
            let place = format!("waters.{id}");
            problems.note(water.check(&waters).map_err(|p| p.within(&place)));
        }
        for agent in &self.agents {
            let place = format!("agents.{}", agent.fact.id);
            problems.note(agent.fact.check().map_err(|p| p.within(&place)));
        }
        self.check_brewers(&waters, &mut problems);
        let brewers = by_id(&self.brewers, |b| &b.id);
        for past in &self.past_cleans {
            let place = format!("past_cleans.{}", past.fact.id);
            problems.note(past.fact.check(&brewers).map_err(|p| p.within(&place)));
        }
        for entry in &self.journal {
            let place = format!("journal.{}", entry.fact.id);
            let checked = known(&brewers, "brewer_id", &entry.fact.brewer_id)
                .and_then(|brewer| entry.fact.check(brewer));
            problems.note(checked.map_err(|p| p.within(&place)));
        }
        problems.note(stock::check_all(
            &self.agents,
            &self.supplies,
            &self.movements,
        ));
        problems.note(rounds::check_all(&self.visits, &self.homes, &brewers));
        for way in &self.ways {
            let place = format!("ways.{}", way.fact.id);
            let checked = known(&brewers, "brewer_id", &way.fact.brewer_id)
                .and_then(|brewer| way.fact.check(brewer));
            problems.note(checked.map_err(|p| p.within(&place)));
        }
        for over in &self.over_days {
            let place = format!("over_days.{}", over.fact.id);
            let checked = known(&brewers, "brewer_id", &over.fact.brewer_id)
                .and_then(|brewer| over.fact.check(brewer));
            problems.note(checked.map_err(|p| p.within(&place)));
        }
        self.check_cleans(&brewers, &mut problems);
        self.check_photos(&mut problems);
        problems.or(Some(()))
    }

    fn check_figures(&self) -> Result<(), Problems> {
        document::check_list("settings", std::slice::from_ref(&self.settings))?;
        document::check_list("homes", &self.homes)?;
        document::check_list("waters", &self.waters)?;
        document::check_list("agents", &self.agents)?;
        document::check_list("brewers", &self.brewers)?;
        document::check_list("past_cleans", &self.past_cleans)?;
        document::check_list("journal", &self.journal)?;
        document::check_list("supplies", &self.supplies)?;
        document::check_list("movements", &self.movements)?;
        document::check_list("visits", &self.visits)?;
        document::check_list("ways", &self.ways)?;
        document::check_list("over_days", &self.over_days)?;
        document::check_list("cleans", &self.cleans)?;
        document::check_list("photos", &self.photos)
    }

    fn check_ids(&self, problems: &mut Problems) {
        fn ids<T>(facts: &[Kept<T>], id: impl Fn(&T) -> &String) -> Vec<&String> {
            facts.iter().map(|kept| id(&kept.fact)).collect()
        }
        for (list, ids) in [
            ("homes", ids(&self.homes, |x| &x.id)),
            ("waters", ids(&self.waters, |x| &x.id)),
            ("agents", ids(&self.agents, |x| &x.id)),
            ("brewers", ids(&self.brewers, |x| &x.id)),
            ("past_cleans", ids(&self.past_cleans, |x| &x.id)),
            ("journal", ids(&self.journal, |x| &x.id)),
            ("supplies", ids(&self.supplies, |x| &x.id)),
            ("movements", ids(&self.movements, |x| &x.id)),
            ("visits", ids(&self.visits, |x| &x.id)),
            ("ways", ids(&self.ways, |x| &x.id)),
            ("over_days", ids(&self.over_days, |x| &x.id)),
            ("cleans", self.cleans.iter().map(|x| &x.id).collect()),
            ("photos", self.photos.iter().map(|x| &x.id).collect()),
            // An event belongs to one clean, wherever it stands.
            (
                "cleans.events",
                self.cleans
                    .iter()
                    .flat_map(|c| c.events.iter().map(|e| &e.id))
                    .collect(),
            ),
        ] {
            let mut seen = HashSet::new();
            for id in ids {
                problems.note(text::id("id", id).map_err(|p| p.within(list)));
                if !seen.insert(id) {
                    let message = format!("\"{id}\" stands here twice");
                    let problem = Problem::new(Code::Contradiction, "id", message);
                    problems.0.push(problem.within(list));
                }
            }
        }
    }

    fn check_brewers(&self, waters: &Waters, problems: &mut Problems) {
        let homes: HashMap<_, _> = by_id(&self.homes, |h| &h.id);
        for brewer in self.brewers.iter().map(|kept| &kept.fact) {
            let place = format!("brewers.{}", brewer.id);
            problems.note(brewer.check().map_err(|p| p.within(&place)));
            let home = known(&homes, "home_id", &brewer.home_id);
            problems.note(home.map_err(|p| p.within(&place)));
            for water in &brewer.waters {
                let water = known(waters, "waters", &water.value);
                problems.note(water.map_err(|p| p.within(&place)));
            }
        }
    }

    fn check_cleans(&self, brewers: &HashMap<String, Brewer>, problems: &mut Problems) {
        let mut running: HashMap<&str, Vec<&str>> = HashMap::new();
        for record in &self.cleans {
            let place = format!("cleans.{}", record.id);
            match record.check(brewers) {
                Err(found) => problems.0.extend(found.within(&place).0),
                Ok(state) if state.closed.is_none() => {
                    let beside = running.entry(&record.plan.brewer_id).or_default();
                    let brewer = &brewers[&record.plan.brewer_id];
                    let side = record.plan.circuit_id.as_str();
                    if beside.iter().any(|other| brewer.blocks(other, side)) {
                        let message = "another clean of this brewer is running: one of them must have ended or been given up";
                        let problem = Problem::new(Code::Contradiction, "events", message);
                        problems.0.push(problem.within(&place));
                    }
                    beside.push(side);
                }
                Ok(_) => {}
            }
        }
    }

    fn check_photos(&self, problems: &mut Problems) {
        let owners = Owners {
            cleans: self.cleans.iter().map(|c| c.id.as_str()).collect(),
            visits: self.visits.iter().map(|v| v.fact.id.as_str()).collect(),
            brewers: self.brewers.iter().map(|b| b.fact.id.as_str()).collect(),
        };
        for photo in &self.photos {
            let place = format!("photos.{}", photo.id);
            problems.note(photo.check(&owners).map_err(|p| p.within(&place)));
        }
    }
}

fn by_id<T: Clone>(facts: &[Kept<T>], id: impl Fn(&T) -> &String) -> HashMap<String, T> {
    facts
        .iter()
        .map(|kept| (id(&kept.fact).clone(), kept.fact.clone()))
        .collect()
}

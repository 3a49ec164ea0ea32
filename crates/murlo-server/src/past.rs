//! What estimates are computed from: waters, homes, and the last clean that counts for each circuit.

use crate::error::ApiError;
use crate::state::today;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::document::Kept;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::journal::{Entry, is_of_a_clean};
use murlo_brewer::water::{Water, Waters};
use murlo_brewer::{Brewer, CircuitKey};
use murlo_chalk::scale::Logged;
use murlo_household::counter::{CounterFacts, Journals};
use murlo_household::first::Settled;
use murlo_household::history::{History, Recalls};
use murlo_household::stock::{self, Drawn, Movement, Supply};
use murlo_household::{PastClean, Settings};
use murlo_plan::{KeptWay, Measured, OverDays};
use murlo_store::Store;
use std::collections::HashMap;
use std::sync::Arc;

/// What estimates are computed from, read once per request.
pub struct Past {
    /// This moment.
    now: Timestamp,
    /// Settings.
    pub settings: Settings,
    /// The household's day.
    pub today: Date,
    /// Waters by id, archived ones included.
    pub waters: Waters,
    brewers: Vec<Kept<Brewer>>,
    homes: HashMap<String, Home>,
    pub journals: Journals,
    logged: HashMap<String, Arc<Logged>>,
    recalls: Recalls,
    /// What cleans came to; what they told as entries stands in the journals.
    pub history: History,
    measured: HashMap<CircuitKey, Measured>,
    /// What happened to levels in the cupboard.
    pub movements: Vec<Movement>,
    /// What is counted there by the piece.
    pub supplies: Vec<Supply>,
    /// What was drawn from it by what was done.
    pub drawn: Vec<Drawn>,
    /// Ways of cleaning that are kept.
    pub ways: Vec<KeptWay>,
    /// Cleans that are spread over days.
    pub over_days: Vec<OverDays>,
}

impl Past {
    /// Reads it all.
    pub fn read(store: &Store, now: Timestamp) -> Result<Self, ApiError> {
        let settings = store.settings()?;
        // Archived waters still explain the past of brewers that were filled with them.
        let waters = store
            .all::<Water>()?
            .into_iter()
            .map(|k| (k.fact.id.clone(), k.fact))
            .collect();
        let homes = store
            .all::<Home>()?
            .into_iter()
            .map(|k| (k.fact.id.clone(), k.fact))
            .collect();
        let brewers = store.all::<Brewer>()?;
        let told = store.current::<PastClean>()?;
        let mut history = History::fold(
            store.summaries()?,
            &told,
            brewers.iter().map(|kept| &kept.fact),
        );
        let today = today(now, &settings.time_zone);
        let told = store.lasting_entries()?;
        let ids = brewers.iter().map(|kept| kept.fact.id.clone());
        let logged = store.memory().logged(ids, |id| store.brews_of(id))?;
        store.memory().lend(&mut history);
        let recalls = store.memory().recalls(history.cleans.keys());
        let measured = history.measured(&told);
        let mut journals = Journals::new();
        let of_cleans = std::mem::take(&mut history.entries);
        for entry in of_cleans.into_iter().chain(told) {
            journals
                .entry(entry.brewer_id.clone())
                .or_default()
                .push(entry);
        }
        let supplies = store.current::<Supply>()?;
        let mut drawn = std::mem::take(&mut history.drawn);
        drawn.extend(stock::of_works(journals.values().flatten(), &supplies));
        Ok(Self {
            now,
            movements: store.current()?,
            ways: store.current()?,
            over_days: store.current()?,
            supplies,
            drawn,
            today,
            brewers,
            settings,
            waters,
            homes,
            journals,
            logged,
            recalls,
            measured,
            history,
        })
    }

    /// The brewers in use.
    pub fn brewers(&self) -> impl Iterator<Item = &Brewer> {
        self.brewers.iter().filter(|k| !k.archived).map(|k| &k.fact)
    }

    /// Those that stand in a home, put away or not.
    pub(crate) fn brewers_of(&self, home_id: &str) -> impl Iterator<Item = &Brewer> {
        let all = self.brewers.iter().map(|kept| &kept.fact);
        all.filter(move |brewer| brewer.home_id == home_id)
    }

    /// These agents with what is there of them now.
    pub fn with_levels(&self, agents: Vec<Agent>) -> Vec<Agent> {
        stock::with_levels(agents, &self.movements, &self.drawn)
    }

    /// What each brewer is called, those put away included.
    pub fn names(&self) -> HashMap<String, String> {
        let name = |k: &Kept<Brewer>| (k.fact.id.clone(), k.fact.nickname.clone());
        self.brewers.iter().map(name).collect()
    }

    /// The name of each brewer's home, by the brewer.
    pub(crate) fn home_names(&self) -> HashMap<String, String> {
        let each = self.brewers.iter().map(|k| {
            let home = self
                .homes
                .get(&k.fact.home_id)
                .map(|home| home.name.clone());
            (k.fact.id.clone(), home.unwrap_or_default())
        });
        each.collect()
    }

    /// The cleans that have not ended.
    pub fn running(&self) -> impl Iterator<Item = &str> {
        self.history.running.values().map(String::as_str)
    }

    /// With everything written down about one brewer, for its own page.
    pub(crate) fn with_journal(mut self, brewer_id: &str, entries: Vec<Entry>) -> Self {
        let known = self.journals.entry(brewer_id.to_owned()).or_default();
        // What cleans told of themselves is not in the journal.
        let told: Vec<_> = entries.iter().map(|e| e.id.clone()).collect();
        known.retain(|e| !told.contains(&e.id) && is_of_a_clean(e));
        known.extend(entries);
        self
    }

    /// With a brewer that is not kept yet.
    pub(crate) fn with_settled(mut self, settled: &Settled) -> Self {
        let water = settled.water.clone().map(|water| (water.id.clone(), water));
        self.waters.extend(water);
        let id = settled.brewer.id.clone();
        self.journals.insert(id, settled.entries.clone());
        self
    }

    /// The core's view of it.
    pub fn facts(&self) -> CounterFacts<'_> {
        CounterFacts {
            waters: &self.waters,
            homes: &self.homes,
            cleans: &self.history.cleans,
            logged: Some(&self.logged),
            recalls: Some(&self.recalls),
            journals: &self.journals,
            running: &self.history.running,
            acid: &self.history.acid,
            paces: &self.history.paces,
            pace_after: self.settings.pace_after,
            asks: self.settings.asks,
            noses: &self.settings.noses,
            ways: &self.ways,
            over_days: &self.over_days,
            measured: &self.measured,
            now: Some(self.now),
            today: self.today,
            units: self.settings.units,
        }
    }
}

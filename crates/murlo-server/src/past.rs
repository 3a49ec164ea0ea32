//! What estimates are computed from: waters, homes, and the last clean that counts for each circuit.

use crate::error::ApiError;
use crate::state::today;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_core::brewer::Brewer;
use murlo_core::clean::{Act, OF_A_CLEAN};
use murlo_core::counter::{Baselines, Facts, Journals, Running};
use murlo_core::household::{Home, Kept, PastClean, Settings};
use murlo_core::journal::{Entry, What};
use murlo_core::plan::{Measured, Work};
use murlo_core::scale::{Baseline, days_after};
use murlo_core::water::{Water, Waters};
use murlo_store::Store;
use std::collections::HashMap;

const YEAR: i32 = 366;

/// What estimates are computed from, read once per request.
pub struct Past {
    /// Settings.
    pub settings: Settings,
    /// The household's day.
    pub today: Date,
    /// Waters by id, archived ones included.
    pub waters: Waters,
    brewers: Vec<Kept<Brewer>>,
    homes: HashMap<String, Home>,
    baselines: Baselines,
    journals: Journals,
    running: Running,
    measured: HashMap<(String, String), Measured>,
}

fn is_of_a_clean(entry: &Entry) -> bool {
    matches!(entry.what, What::Showed { .. })
        || OF_A_CLEAN.iter().any(|start| entry.id.starts_with(start))
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
        let mut baselines = Baselines::new();
        let mut count = |key: (String, String), clean: Baseline| {
            baselines.entry(key).or_default().push(clean);
        };
        let mut running = Running::new();
        let mut measured: HashMap<_, Measured> = HashMap::new();
        let mut shown = Vec::new();
        for clean in store.summaries()? {
            if clean.is_running() {
                running.insert((clean.brewer_id, clean.circuit_id), clean.id);
            } else if let Some(Act::Finished {
                outcome: Some(outcome),
            }) = clean.closing.map(|e| e.act)
            {
                if outcome.work == Work::Rehearsal {
                    continue;
                }
                shown.extend(outcome.upkeep_done(&clean.id, &clean.brewer_id));
                if outcome.work == Work::Needles {
                    continue;
                }
                let key = (clean.brewer_id.clone(), clean.circuit_id.clone());
                measured.entry(key).or_default().take(
                    outcome.programme_min,
                    outcome.bath_counted,
                    outcome.fill_counted,
                );
                shown.extend(outcome.showed_chalk.map(|chalk| Entry {
                    id: format!("shown-{}", clean.id),
                    brewer_id: clean.brewer_id.clone(),
                    day: outcome.day,
                    what: What::Showed {
                        circuit_id: clean.circuit_id.clone(),
                        clean_id: clean.id,
                        chalk,
                        by: outcome.showed_by,
                        potential_mg: outcome.potential_mg,
                    },
                }));
                count(
                    (clean.brewer_id, clean.circuit_id),
                    Baseline {
                        day: outcome.day,
                        left_mg: outcome.left_mg,
                    },
                );
            }
        }
        let mut told: HashMap<String, Vec<Baseline>> = HashMap::new();
        for clean in store.current::<PastClean>()? {
            told.entry(clean.brewer_id).or_default().push(Baseline {
                day: clean.day,
                left_mg: 0.0,
            });
        }
        for brewer in brewers.iter().map(|k| &k.fact) {
            let cleans = told.remove(&brewer.id).unwrap_or_default();
            for circuit in &brewer.circuits {
                let key = (brewer.id.clone(), circuit.id.clone());
                baselines.entry(key).or_default().extend(&cleans);
            }
        }
        for cleans in baselines.values_mut() {
            cleans.sort_by_key(|c| c.day);
        }
        let today = today(now, &settings.time_zone);
        let mut journals = Journals::new();
        // No estimate looks back further than a missed hygiene cap and the counter reading before it.
        let told = store.entries_since(days_after(today, -YEAR))?;
        for entry in shown.into_iter().chain(told) {
            journals
                .entry(entry.brewer_id.clone())
                .or_default()
                .push(entry);
        }
        Ok(Self {
            today,
            brewers,
            settings,
            waters,
            homes,
            baselines,
            journals,
            running,
            measured,
        })
    }

    /// The brewers in use.
    pub fn brewers(&self) -> impl Iterator<Item = &Brewer> {
        self.brewers.iter().filter(|k| !k.archived).map(|k| &k.fact)
    }

    /// With everything written down about one brewer, for its own page.
    pub fn with_journal(mut self, brewer_id: &str, entries: Vec<Entry>) -> Self {
        let known = self.journals.entry(brewer_id.to_owned()).or_default();
        // What cleans told of themselves is not in the journal.
        let told: Vec<_> = entries.iter().map(|e| e.id.clone()).collect();
        known.retain(|e| !told.contains(&e.id) && is_of_a_clean(e));
        known.extend(entries);
        self
    }

    /// The core's view of it.
    pub fn facts(&self) -> Facts<'_> {
        Facts {
            waters: &self.waters,
            homes: &self.homes,
            baselines: &self.baselines,
            journals: &self.journals,
            running: &self.running,
            measured: &self.measured,
            today: self.today,
            units: self.settings.units,
        }
    }
}

//! What estimates are computed from: waters, homes, and the last clean that counts for each circuit.

use crate::error::ApiError;
use crate::state::today;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_core::brewer::Brewer;
use murlo_core::clean::Act;
use murlo_core::counter::{Baselines, Facts};
use murlo_core::household::{Home, PastClean, Settings};
use murlo_core::scale::Baseline;
use murlo_core::water::Water;
use murlo_store::Store;
use std::collections::HashMap;

/// What estimates are computed from, read once per request.
pub struct Past {
    /// Settings.
    pub settings: Settings,
    /// The household's day.
    pub today: Date,
    waters: HashMap<String, Water>,
    homes: HashMap<String, Home>,
    baselines: Baselines,
    running: HashMap<String, String>,
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
        let mut baselines = Baselines::new();
        let mut later = |key: (String, String), new: Baseline| {
            let known = baselines.entry(key).or_insert(new);
            if new.day >= known.day {
                *known = new;
            }
        };
        let mut running = HashMap::new();
        for clean in store.summaries()? {
            if clean.is_running() {
                running.insert(clean.brewer_id, clean.id);
            } else if let Some(Act::Finished {
                outcome: Some(outcome),
            }) = clean.closing.map(|e| e.act)
            {
                later(
                    (clean.brewer_id, clean.circuit_id),
                    Baseline {
                        day: outcome.day,
                        left_mg: outcome.left_mg,
                    },
                );
            }
        }
        let past: Vec<PastClean> = store.current()?;
        if !past.is_empty() {
            let circuits: HashMap<_, _> = store
                .all::<Brewer>()?
                .into_iter()
                .map(|k| (k.fact.id.clone(), k.fact.circuits))
                .collect();
            for clean in past {
                for circuit in circuits.get(&clean.brewer_id).into_iter().flatten() {
                    later(
                        (clean.brewer_id.clone(), circuit.id.clone()),
                        Baseline {
                            day: clean.day,
                            left_mg: 0.0,
                        },
                    );
                }
            }
        }
        Ok(Self {
            today: today(now, &settings.time_zone),
            settings,
            waters,
            homes,
            baselines,
            running,
        })
    }

    /// The core's view of it.
    pub fn facts(&self) -> Facts<'_> {
        Facts {
            waters: &self.waters,
            homes: &self.homes,
            baselines: &self.baselines,
            running: &self.running,
            today: self.today,
            units: self.settings.units,
        }
    }
}

//! What was worked out from facts and holds until they change.

use jiff::Timestamp;
use murlo_brewer::{CircuitKey, journal};
use murlo_chalk::scale::{Cleaned, KnownLeaves, Logged, Recall};
use std::collections::HashMap;
use std::collections::hash_map::Entry;
use std::sync::Arc;

/// What was worked out from facts and holds until they change; it can be worked out again at any time.
#[derive(Debug, Default)]
pub struct Memory {
    logged: HashMap<String, Arc<Logged>>,
    /// By clean and the moment it ended: one that was opened again may come to something else.
    pub(crate) asked: HashMap<(String, Option<Timestamp>), KnownLeaves>,
    recalls: Recalls,
}

impl Memory {
    /// What was believed of these circuits, and where the next answer is kept.
    pub fn recalls<'a>(&mut self, circuits: impl Iterator<Item = &'a CircuitKey>) -> Recalls {
        for key in circuits {
            if !self.recalls.contains_key(key) {
                self.recalls.insert(key.clone(), Arc::default());
            }
        }
        self.recalls.clone()
    }

    /// What was written down about brews of every brewer; `read` gives the entries of one that is not known yet.
    ///
    /// # Errors
    /// Those of `read`.
    pub fn logged<E>(
        &mut self,
        brewers: impl Iterator<Item = String>,
        read: impl Fn(&str) -> Result<Vec<journal::Entry>, E>,
    ) -> Result<HashMap<String, Arc<Logged>>, E> {
        for id in brewers {
            if let Entry::Vacant(place) = self.logged.entry(id) {
                let logged = Logged::of(&read(place.key())?);
                place.insert(Arc::new(logged));
            }
        }
        Ok(self.logged.clone())
    }

    /// The journal of a brewer has changed.
    pub fn forget_journal(&mut self, brewer_id: &str) {
        self.logged.remove(brewer_id);
    }
}

/// The cleans that count, per brewer and circuit, oldest first.
pub type Cleans = HashMap<CircuitKey, Vec<Cleaned>>;

/// What was believed of circuits when it was asked last.
pub type Recalls = HashMap<CircuitKey, Arc<Recall>>;

/// Running cleans by brewer and circuit.
pub type Running = HashMap<CircuitKey, String>;

//! The last answer of the filter for a circuit, which holds as long as it is asked of the same facts.

use crate::belief::{Belief, Prior, Witnessing};
use std::sync::{Mutex, PoisonError};

/// Everything the answer hangs on, with the answer.
#[derive(Debug)]
struct Answered {
    prior: Prior,
    events: Vec<Witnessing>,
    since_mg: f64,
    belief: Belief,
}

/// The last answer for one circuit.
#[derive(Debug, Default)]
pub struct Recall(Mutex<Option<Answered>>);

impl Recall {
    /// What is believed: the answer from before when the same was asked last.
    pub(super) fn believe(&self, prior: Prior, events: &[Witnessing], since_mg: f64) -> Belief {
        let mut last = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let is_same =
            |a: &&Answered| a.prior == prior && a.since_mg == since_mg && a.events == events;
        if let Some(same) = last.as_ref().filter(is_same) {
            return same.belief.clone();
        }
        let belief = Belief::from(prior, events, since_mg);
        *last = Some(Answered {
            prior,
            events: events.to_vec(),
            since_mg,
            belief: belief.clone(),
        });
        belief
    }
}

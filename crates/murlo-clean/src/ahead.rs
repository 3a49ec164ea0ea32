//! The planned way ahead of a running clean, walked beforehand: a device that lost its line shows where each act leads.

use super::{Act, Event, State, replay};
use jiff::Timestamp;
use murlo_plan::Plan;
use serde::{Deserialize, Serialize};

/// Acts ahead that are walked: a whole rinse and the way to it.
const MOST: usize = 48;

/// An act on the planned way, and where the clean stands after it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Ahead {
    /// The act.
    pub act: Act,
    /// When it is taken to happen; timers and questions of the states count from it.
    pub at: Timestamp,
    /// Where the clean stands then.
    pub state: State,
}

/// The way from `events` up to the next question or the end, each wait taken to last as long as planned.
#[must_use]
pub fn ahead(plan: &Plan, events: &[Event], now: Timestamp) -> Vec<Ahead> {
    let mut events = events.to_vec();
    let Ok(mut state) = replay(plan, &events) else {
        return Vec::new();
    };
    let mut at = events.last().map_or(now, |last| last.at.max(now));
    let mut way = Vec::new();
    while way.len() < MOST && !state.paused && state.closed.is_none() {
        // How a clean ends is worked out where its facts are.
        let Some(next) = state.next.take().filter(|next| !next.act.is_closing()) else {
            break;
        };
        let timer = state.current.and_then(|i| state.steps[i].timer.clone());
        at = timer.map_or(at, |timer| at.max(timer.ends_at));
        events.push(Event {
            id: format!("ahead-{}", way.len()),
            at,
            device_at: None,
            by: None,
            act: next.act.clone(),
        });
        let Ok(after) = replay(plan, &events) else {
            break;
        };
        way.push(Ahead {
            act: next.act,
            at,
            state: after.clone(),
        });
        state = after;
    }
    way
}

//! What is known of a circuit before anything is reckoned.

use crate::scale::cleaned::{Cleaned, TOLD_CLEAN};
use crate::scale::recall::Recall;
use crate::scale::walk::Logged;
use jiff::civil::Date;
use murlo_brewer::journal::Entry;
use murlo_brewer::water::Chemistry;
use murlo_brewer::{Brewer, Circuit};
use murlo_chemistry::cleaning::Left;

/// From when on a circuit is known, and how much chalk it held then.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Start {
    /// The day.
    pub day: Date,
    /// Chalk, as shares of the limit.
    pub left: Left,
    /// Days before it in which chalk had grown already.
    pub before_days: i32,
    /// Litres × potential that had passed in them, mg: P10, median and P90 of the days.
    pub before_mg: [f64; 3],
}

impl Start {
    /// As new on that day.
    #[must_use]
    pub const fn new(day: Date) -> Self {
        Self {
            day,
            left: Left::NOTHING,
            before_days: 0,
            before_mg: [0.0; 3],
        }
    }

    /// Cleaned by somebody else, as the person tells.
    #[must_use]
    pub const fn told_clean(day: Date) -> Self {
        Self {
            day,
            left: TOLD_CLEAN,
            before_days: 0,
            before_mg: [0.0; 3],
        }
    }

    /// As told for `brewer`, which was filled with `water` at first: chalk grew at the habit and water of that day, as fast as
    /// it will go on, for a time that is only roughly known.
    #[must_use]
    pub fn of(brewer: &Brewer, circuit: &Circuit, water: &Chemistry) -> Self {
        let day = brewer.in_use_since;
        let told = brewer.beforehand.and_then(|told| told.grown());
        match (brewer.last_descaled, told) {
            (Some(day), _) => Self::told_clean(day),
            (None, None) => Self::new(day),
            (None, Some(grown)) => {
                let potential = water.potential(&circuit.heat()).mg_l;
                let daily = brewer.habits[0].value.mean_litres() * circuit.share * potential;
                let days = [grown.least_days, grown.days(), grown.most_days];
                Self {
                    day,
                    left: if grown.cleaned {
                        TOLD_CLEAN
                    } else {
                        Left::NOTHING
                    },
                    before_days: grown.days().round() as i32,
                    before_mg: days.map(|days| days * daily),
                }
            }
        }
    }
}

/// Everything growth is computed from.
#[derive(Clone, Copy)]
pub struct Known<'w> {
    /// The brewer.
    pub brewer: &'w Brewer,
    /// Its circuit.
    pub circuit: &'w Circuit,
    /// The brewer's waters, in its order.
    pub waters: &'w [Chemistry],
    /// Since when it is known.
    pub start: Start,
    /// Its cleans, oldest first.
    pub cleans: &'w [Cleaned],
    /// The brewer's entries: all lasting ones, and those about brews unless they are in `logged`.
    pub entries: &'w [Entry],
    /// What was written down about brews, where that was read before.
    pub logged: Option<&'w Logged>,
    /// What was believed when it was asked last.
    pub recall: Option<&'w Recall>,
    /// The household's day.
    pub today: Date,
}

/// Spread of the logarithm of the use where it is a stated habit; a counter knows it.
pub const USE_SIGMA: f64 = 0.15;

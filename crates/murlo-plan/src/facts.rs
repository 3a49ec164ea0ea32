//! What a plan is made from.

use crate::kept_way::KeptWay;
use crate::over_days::NextPart;
use crate::pace::Pace;
use jiff::civil::Date;
use murlo_base::units::Units;
use murlo_brewer::bath::{self, Agent};
use murlo_brewer::home::Bottle;
use murlo_brewer::rinse::Counted;
use murlo_brewer::{Brewer, Circuit};
use murlo_chalk::belief::Told;
use murlo_chalk::money::Terms;
use murlo_chalk::scale::Forecast;
use std::collections::BTreeMap;

/// The facts a plan is made from.
#[derive(Debug, Clone)]
pub struct Facts<'a> {
    /// The brewer.
    pub brewer: &'a Brewer,
    /// Its circuit to clean.
    pub circuit: &'a Circuit,
    /// That circuit's estimate.
    pub forecast: &'a Forecast,
    /// The household's agents.
    pub agents: &'a [Agent],
    /// Units to read.
    pub units: Units,
    /// Money and smell.
    pub terms: &'a Terms,
    /// What else is known today.
    pub today: Today,
}

/// What is known of a brewer on the day of its clean.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Today {
    /// The day, where it is told with what was kept before.
    pub day: Option<Date>,
    /// Whether its water filter is worn out.
    pub filter_due: bool,
    /// Whether nobody has told when its water filter was fitted.
    pub filter_unknown: bool,
    /// Whether its other side is being cleaned now, so that it stands ready and its parts are washed.
    pub beside: bool,
    /// What earlier cleans measured of this side.
    pub measured: Measured,
    /// Why this side and not the other.
    pub why_side: Option<String>,
    /// How quick the household's hands are with such brewers.
    pub pace: Pace,
    /// Agent and recipe of its last clean.
    pub last: Option<bath::Taken>,
    /// People with a keen nose.
    pub noses: Vec<String>,
    /// Whose agent goes into the bath.
    pub bottle: Bottle,
    /// Ways of cleaning this side that the household keeps, the one that was kept last first.
    pub ways: Vec<KeptWay>,
    /// What its last clean brought out, where somebody looked.
    pub brought: Option<Told>,
    /// The part of a clean over days that comes next.
    pub part: Option<NextPart>,
}

/// What cleans measured of a circuit.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Measured {
    /// Minutes its programme took when it was last timed.
    pub programme_min: Option<f64>,
    /// Dispenses that baths gave, oldest first.
    pub bath: Vec<Counted>,
    /// Dispenses that a filled reservoir gave, oldest first.
    pub fill: Vec<Counted>,
    /// How often the first coffee was sour after a bath of an agent, by its id.
    pub sour: BTreeMap<String, u32>,
}

impl Measured {
    /// Takes in what a later clean measured.
    pub fn take(
        &mut self,
        programme_min: Option<f64>,
        bath: Option<Counted>,
        fill: Option<Counted>,
    ) {
        self.programme_min = programme_min.or(self.programme_min);
        self.bath.extend(bath);
        self.fill.extend(fill);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_cleans_measured_adds_up_and_the_last_programme_counts() {
        let counted = |dispenses| Counted {
            volume_ml: 950.0,
            dispenses,
        };
        let mut measured = Measured::default();
        measured.take(Some(20.0), Some(counted(3)), None);
        measured.take(None, Some(counted(4)), Some(counted(5)));
        let all = Measured {
            programme_min: Some(20.0),
            bath: vec![counted(3), counted(4)],
            fill: vec![counted(5)],
            ..Measured::default()
        };
        assert_eq!(measured, all);
        measured.take(Some(25.0), None, None);
        assert_eq!(measured.programme_min, Some(25.0));
    }
}

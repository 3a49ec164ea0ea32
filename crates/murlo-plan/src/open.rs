//! Figures of a brewer that nobody has told yet: each is asked in a clean at the step where it shows.

use super::{Correction, Facts};
use crate::step::{OpenAnswer, OpenFact};
use murlo_base::text;
use murlo_base::units::{FL_OZ_ML, Units};
use murlo_brewer::{LidNeedle, Needle};
use murlo_chemistry::heater::Way;

/// Round sizes, as buttons and cups have them, mL.
const ROUND_ML: [f64; 16] = [
    40.0, 60.0, 80.0, 100.0, 120.0, 140.0, 160.0, 180.0, 200.0, 220.0, 250.0, 300.0, 350.0, 400.0,
    450.0, 500.0,
];

/// Sizes that are printed on buttons, mL.
fn printed(units: Units) -> Vec<f64> {
    match units {
        Units::Us => (2..=16).map(|oz| f64::from(oz) * FL_OZ_ML).collect(),
        Units::Metric => ROUND_ML.to_vec(),
    }
}

/// A cup is at least this share of the usual one of its kind, and at most so many times it.
const LIKELY: std::ops::RangeInclusive<f64> = 0.6..=1.4;

/// Sizes that a person can choose among at the counter.
const MOST_SIZES: usize = 6;

/// Sizes that differ by less are one: 10 fl oz are 300 mL.
const ALIKE: f64 = 0.02;

impl Facts<'_> {
    /// What is still taken as usual and shows in a clean of this side.
    pub(super) fn open(&self) -> Vec<OpenFact> {
        self.open_cup().into_iter().chain(self.open_lid()).collect()
    }

    fn open_cup(&self) -> Option<OpenFact> {
        let usual_ml = self.circuit.dispense_ml;
        let is_told = !self.circuit.mechanics.sizes.is_empty()
            || !self.today.measured.bath.is_empty()
            || !self.today.measured.fill.is_empty()
            || !self.is_usual_cup();
        if is_told || self.way() != Way::Presses {
            return None;
        }
        let room_ml = self.reservoir_ml() - self.circuit.dead_volume_ml;
        let mut sizes: Vec<f64> = printed(self.units)
            .into_iter()
            .filter(|ml| LIKELY.contains(&(ml / usual_ml)) && *ml <= room_ml)
            .collect();
        // Those farthest from the usual go first; the usual one is among them as it is planned.
        let distance = |ml: &f64| (ml / usual_ml).ln().abs();
        sizes.sort_by(|a, b| distance(a).total_cmp(&distance(b)));
        sizes.retain(|ml| distance(ml) > ALIKE);
        sizes.truncate(MOST_SIZES - 1);
        sizes.push(usual_ml);
        sizes.sort_by(f64::total_cmp);
        let answers = sizes.into_iter().map(|ml| OpenAnswer {
            label: self.units.whole_volume(ml),
            fact: Correction::LargestCup(ml),
            needles: Vec::new(),
        });
        Some(OpenFact {
            text: format!(
                "How much is its largest size? Planned with {}, as usual for its kind.",
                self.units.whole_volume(usual_ml)
            ),
            answers: answers.collect(),
        })
    }

    fn is_usual_cup(&self) -> bool {
        let usual = self.brewer.family.usual_cup_ml(self.units);
        usual.is_some_and(|usual| (self.circuit.dispense_ml / usual - 1.0).abs() < ALIKE)
    }

    fn open_lid(&self) -> Option<OpenFact> {
        let is_usual = self.brewer.needles.is_none() && !self.needles().is_empty();
        let family = self.brewer.family;
        let answers = LidNeedle::ALL.into_iter().map(|lid| OpenAnswer {
            label: text::capital(lid.words()),
            fact: Correction::LidNeedle(lid),
            needles: Needle::with_lid(family, lid),
        });
        is_usual.then(|| OpenFact {
            text: "Which looks like its lid needle from below? The dots are its holes.".to_owned(),
            answers: answers.collect(),
        })
    }
}

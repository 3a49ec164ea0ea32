//! The rinse: how many portions until nobody notices, how many more if somebody does, and the ladder that is drawn.

use murlo_base::problem::Problems;
use murlo_base::units::{Measure, Units};
use murlo_base::{bounds, text};
use murlo_chemistry::acid::Acid;
use murlo_chemistry::washout::Washout;
use serde::{Deserialize, Serialize};

/// Acid in water at which nobody notices.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Taste {
    /// Most people.
    #[default]
    Usual,
    /// A keen nose.
    Strict,
}

/// Target for `acid` in mg/L. Sulfamic is not a food: its targets are chosen by caution, not by taste.
///
/// # Example
/// ```
/// use murlo_brewer::rinse::{Taste, target_mg_l};
/// use murlo_chemistry::acid::Acid;
/// let (usual, strict) = (target_mg_l(Acid::Acetic, Taste::Usual), target_mg_l(Acid::Acetic, Taste::Strict));
/// assert!(usual == 50.0 && strict < usual);
/// ```
#[must_use]
pub const fn target_mg_l(acid: Acid, taste: Taste) -> f64 {
    match (acid, taste) {
        (Acid::Acetic, Taste::Usual) => 50.0,
        (Acid::Acetic, Taste::Strict) => 22.0,
        (Acid::Citric | Acid::CitricMonohydrate | Acid::Lactic, Taste::Usual) => 100.0,
        (Acid::Citric | Acid::CitricMonohydrate | Acid::Lactic, Taste::Strict) => 50.0,
        (Acid::Sulfamic, Taste::Usual) => 20.0,
        (Acid::Sulfamic, Taste::Strict) => 5.0,
    }
}

/// Whole dispenses a volume gives, and what is left to pour away.
///
/// # Example
/// ```
/// let (count, left) = murlo_brewer::rinse::dispenses(900.0, 400.0, 20.0); // 20 mL stay in the reservoir
/// assert_eq!((count, left.round()), (2, 100.0));
/// ```
#[must_use]
pub fn dispenses(volume_ml: f64, dispense_ml: f64, dead_volume_ml: f64) -> (u32, f64) {
    let whole = ((volume_ml - dead_volume_ml) / dispense_ml + 1e-9)
        .floor()
        .max(0.0);
    (whole as u32, volume_ml - whole * dispense_ml)
}

/// Dispenses that were counted until the machine asked for water.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Counted {
    /// What was filled in, mL.
    pub volume_ml: f64,
    /// Dispenses it gave.
    pub dispenses: u32,
}

/// One dispense as counts have corrected it, oldest first: each only moves it as far as it must to agree.
///
/// One count cannot tell a larger dispense from less left in the reservoir, so the dead volume is taken as known.
///
/// # Example
/// ```
/// use murlo_brewer::rinse::{Counted, dispense_by};
/// // 950 mL gave four and not three: one cannot have been more than 237.5 mL.
/// let four = Counted { volume_ml: 950.0, dispenses: 4 };
/// assert_eq!(dispense_by(295.0, 0.0, &[four]), 237.5);
/// assert_eq!(dispense_by(200.0, 0.0, &[four]), 200.0);
/// ```
#[must_use]
pub fn dispense_by(dispense_ml: f64, dead_volume_ml: f64, counts: &[Counted]) -> f64 {
    let taught = counts.iter().fold(dispense_ml, |taken, counted| {
        let usable = counted.volume_ml - dead_volume_ml;
        let n = f64::from(counted.dispenses);
        if usable <= 0.0 || n < 1.0 {
            return taken;
        }
        // A hair above the least, where one more would just have come.
        taken.clamp(usable / (n + 1.0) * 1.000_001, usable / n)
    });
    // No count makes more of it than a slip of the finger could.
    taught.clamp(0.5 * dispense_ml, 2.0 * dispense_ml)
}

/// A number of portions that some people go by, beside the computed one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct School {
    /// What they say.
    pub name: String,
    /// Portions of this brewer that it comes to.
    pub portions: u32,
}

/// The rinse of one circuit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Rinse {
    /// Portions to count.
    pub portions: u32,
    /// One portion.
    pub portion: Measure,
    /// Portions one filled reservoir gives.
    pub per_fill: u32,
    /// Reservoirs to fill.
    pub fills: u32,
    /// Acid before the first portion and after each, mg/L: one more entry than `portions`.
    pub levels_mg_l: Vec<f64>,
    /// Share of the acid that one further portion leaves behind.
    pub keeps: f64,
    /// Where nobody notices, mg/L.
    pub target_mg_l: f64,
    /// Portions of one further helping when somebody still notices.
    pub more: u32,
    /// All the water for it.
    pub water: Measure,
    /// Bath that may stay in the reservoir without being noticed in the rinse, mL.
    #[serde(default)]
    pub carry_over_ml: f64,
    /// Other people's numbers.
    pub schools: Vec<School>,
    /// Why this number.
    pub reason: String,
}

impl Rinse {
    /// Checks a rinse that comes from outside.
    ///
    /// # Errors
    /// One problem per impossible figure, by its place.
    pub fn check(&self, place: &str) -> Result<(), Problems> {
        let mut problems = Problems::default();
        for (name, count) in [
            ("portions", self.portions),
            ("per_fill", self.per_fill),
            ("fills", self.fills),
            ("more", self.more),
        ] {
            problems.note(bounds::PLANNED.check(&format!("{place}.{name}"), f64::from(count)));
        }
        problems.note(bounds::SHARE.check(&format!("{place}.keeps"), self.keeps));
        for level in self.levels_mg_l.iter().chain([&self.target_mg_l]) {
            problems.note(bounds::MG_PER_L.check(&format!("{place}.levels_mg_l"), *level));
        }
        problems.or(Some(()))
    }

    /// Acid after `n` portions, mg/L; beyond those planned each further one leaves as much as the last.
    #[must_use]
    pub fn level_mg_l(&self, n: u32) -> f64 {
        let last = self.levels_mg_l.len().saturating_sub(1);
        let planned = self.levels_mg_l.get((n as usize).min(last));
        let further = (n as usize).saturating_sub(last);
        planned.unwrap_or(&0.0) * self.keeps.powi(further as i32)
    }

    /// The same in a brewer that holds more than is usual for its kind, as one in ten does: what a count cannot know.
    #[must_use]
    pub fn level_if_more_mg_l(&self, n: u32) -> f64 {
        let start = self.level_mg_l(0);
        let share = self.level_mg_l(n) / start;
        match start > 0.0 {
            // Each portion then thins it as much as so much less of a portion would.
            true => start * share.powf(1.0 / HOLDS_MORE),
            false => 0.0,
        }
    }
}

/// So many times the usual hold-up, or less, is in nine of ten brewers. Judged.
const HOLDS_MORE: f64 = 1.4;

/// What a rinse is computed from.
#[derive(Debug, Clone, Copy)]
pub struct Rinsing {
    /// The acid.
    pub acid: Acid,
    /// Bath strength, mg/L.
    pub start_mg_l: f64,
    /// Whose taste.
    pub taste: Taste,
    /// How this path washes out.
    pub washout: Washout,
    /// Hold-up, mL.
    pub hold_up_ml: f64,
    /// One portion, mL.
    pub portion_ml: f64,
    /// Usable reservoir, mL.
    pub reservoir_ml: f64,
    /// Left by the level sensor, mL.
    pub dead_volume_ml: f64,
}

impl Rinsing {
    /// The rinse, with the ladder's rungs.
    #[must_use]
    pub fn compute(&self, units: Units) -> Rinse {
        self.at_least(0, units)
    }

    /// The same with no fewer than so many portions, as somebody counts who rinses longer than it takes.
    #[must_use]
    pub fn at_least(&self, least: u32, units: Units) -> Rinse {
        let target = target_mg_l(self.acid, self.taste);
        let number = |from, to| {
            self.washout
                .portions(self.hold_up_ml, self.portion_ml, from, to)
        };
        let portions = number(self.start_mg_l, target).max(least);
        let per_fill = dispenses(self.reservoir_ml, self.portion_ml, self.dead_volume_ml)
            .0
            .max(1);
        let fills = portions.div_ceil(per_fill);
        // Somebody notices below the usual line: their own line is taken to lie as far down as the strict one.
        let keener = target_mg_l(self.acid, Taste::Usual) / target_mg_l(self.acid, Taste::Strict);
        let level = |n: u32| {
            self.start_mg_l
                * self
                    .washout
                    .remaining(self.hold_up_ml, self.portion_ml, f64::from(n))
        };
        let noun = if self.washout == Washout::Drip {
            "carafe"
        } else {
            "reservoir"
        };
        let school = |name: String, portions| School { name, portions };
        let mut schools = match self.washout {
            Washout::Drip => vec![
                school("one full carafe".into(), per_fill),
                school("two pots".into(), 2 * per_fill),
            ],
            Washout::TankBatch | Washout::TankExp | Washout::Series2 | Washout::Series3 => vec![
                school("a couple of cups".into(), 2),
                school(format!("one full {noun}"), per_fill),
                school(format!("two {noun}s"), 2 * per_fill),
                school(format!("four {noun}s"), 4 * per_fill),
            ],
        };
        schools.sort_by_key(|s| s.portions);
        let hold_up = units.volume(self.hold_up_ml);
        // What is left in the reservoir is thinned by one fill only, and then goes through with it.
        let fill_ml = f64::from(per_fill) * self.portion_ml;
        Rinse {
            carry_over_ml: fill_ml * target / self.start_mg_l.max(target),
            portions,
            portion: units.measure(self.portion_ml),
            per_fill,
            fills,
            levels_mg_l: (0..=portions).map(level).collect(),
            keeps: level(portions.max(1)) / level(portions.max(1) - 1),
            target_mg_l: target,
            more: number(keener, 1.0).max(1),
            water: units.measure(self.portion_ml * f64::from(portions)),
            schools,
            reason: format!(
                "{hold_up} stays in the brewer each time, so every {} only thins what is left, from {} down to where nobody does",
                if noun == "carafe" {
                    "carafe"
                } else {
                    "dispense"
                },
                times_noticed(self.start_mg_l, target),
            ),
        }
    }
}

/// "about 240 times what people notice", "below what people notice".
///
/// # Example
/// ```
/// use murlo_brewer::rinse::times_noticed;
/// assert_eq!(times_noticed(250.0, 50.0), "about 5.0 times what people notice");
/// ```
#[must_use]
pub fn times_noticed(mg_l: f64, target_mg_l: f64) -> String {
    let times = mg_l / target_mg_l.max(1e-9);
    if times <= 1.0 {
        "below what people notice".to_owned()
    } else {
        format!(
            "about {} times what people notice",
            text::roughly(times.max(1.1))
        )
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_brewer_that_holds_more_is_thinned_more_slowly() {
        let rinsing = |hold_up_ml| Rinsing {
            acid: Acid::Acetic,
            start_mg_l: 25_000.0,
            taste: Taste::Usual,
            washout: Washout::TankExp,
            hold_up_ml,
            portion_ml: 296.0,
            reservoir_ml: 1400.0,
            dead_volume_ml: 40.0,
        };
        let usual = rinsing(355.0).compute(Units::Metric);
        let more = rinsing(HOLDS_MORE * 355.0).compute(Units::Metric);
        assert_eq!(usual.level_if_more_mg_l(0), usual.level_mg_l(0));
        for n in 1..=usual.portions {
            // In a tank that is thinned evenly it is the very same.
            let (if_more, really) = (usual.level_if_more_mg_l(n), more.level_mg_l(n));
            assert!(
                (if_more / really - 1.0).abs() < 0.01,
                "{n}: {if_more} {really}"
            );
            assert!(if_more > usual.level_mg_l(n));
        }
        let nothing = Rinse {
            levels_mg_l: vec![0.0],
            ..usual
        };
        assert_eq!(nothing.level_if_more_mg_l(2), 0.0);
    }

    #[test]
    fn acid_is_told_in_times_of_what_people_notice() {
        for (mg_l, text) in [
            (0.0, "below what people notice"),
            (49.9, "below what people notice"),
            (50.0, "below what people notice"),
            (50.1, "about 1.1 times what people notice"),
            (250.0, "about 5.0 times what people notice"),
            (25_000.0, "about 500 times what people notice"),
        ] {
            assert_eq!(times_noticed(mg_l, 50.0), text);
        }
    }

    fn pod(portion_ml: f64, start_mg_l: f64, taste: Taste) -> Rinsing {
        Rinsing {
            acid: Acid::Acetic,
            start_mg_l,
            taste,
            washout: Washout::TankBatch,
            hold_up_ml: 355.0,
            portion_ml,
            reservoir_ml: 1400.0,
            dead_volume_ml: 30.0,
        }
    }

    #[test]
    fn dispenses_are_floored_and_the_rest_is_poured_away() {
        for (volume, dispense, dead, count, left) in [
            (828.0, 355.0, 0.0, 2, 118.0),
            (1400.0, 235.0, 30.0, 5, 225.0),
            (20.0, 235.0, 30.0, 0, 20.0),
            (0.9, 0.3, 0.0, 3, 0.0),
        ] {
            let (n, rest) = dispenses(volume, dispense, dead);
            assert_eq!(n, count);
            assert!((rest - left).abs() < 1e-9, "{rest}");
        }
    }

    #[test]
    fn nobody_notices_below_these() {
        for (acid, usual, strict) in [
            (Acid::Acetic, 50.0, 22.0),
            (Acid::Citric, 100.0, 50.0),
            (Acid::CitricMonohydrate, 100.0, 50.0),
            (Acid::Lactic, 100.0, 50.0),
            (Acid::Sulfamic, 20.0, 5.0),
        ] {
            assert_eq!(target_mg_l(acid, Taste::Usual), usual, "{acid:?}");
            assert_eq!(target_mg_l(acid, Taste::Strict), strict, "{acid:?}");
        }
    }

    #[test]
    fn a_pod_tank_is_rinsed_by_the_published_numbers_with_every_school_beside_it() {
        let usual = pod(235.0, 25_000.0, Taste::Usual).compute(Units::Metric);
        assert_eq!(
            (usual.portions, usual.per_fill, usual.fills, usual.more),
            (13, 5, 3, 2)
        );
        assert_eq!(
            pod(235.0, 25_000.0, Taste::Strict)
                .compute(Units::Metric)
                .portions,
            14
        );
        assert_eq!(usual.levels_mg_l.len(), 14);
        assert!(usual.levels_mg_l[13] <= 50.0 && usual.levels_mg_l[12] > 50.0);
        assert_eq!(
            usual.schools.iter().map(|s| s.portions).collect::<Vec<_>>(),
            [2, 5, 10, 20]
        );
    }

    proptest! {
        #[test]
        fn one_more_rinse_never_leaves_more(portion in 30.0..1500.0f64, start in 100.0..200_000.0f64) {
            let levels = pod(portion, start, Taste::Strict).compute(Units::Us).levels_mg_l;
            prop_assert!(levels.windows(2).all(|w| w[1] < w[0]));
        }
    }

    #[test]
    fn every_model_ends_below_the_target_and_goes_on_thinning_beyond_the_plan() {
        for washout in Washout::ALL {
            let rinse = Rinsing {
                washout,
                ..pod(300.0, 25_000.0, Taste::Usual)
            }
            .compute(Units::Metric);
            let n = rinse.portions;
            assert!(rinse.level_mg_l(n) <= rinse.target_mg_l, "{washout:?}");
            assert!(rinse.level_mg_l(n - 1) > rinse.target_mg_l, "{washout:?}");
            for k in 0..n + 4 {
                assert!(
                    rinse.level_mg_l(k + 1) < rinse.level_mg_l(k),
                    "{washout:?} {k}"
                );
            }
        }
    }

    #[test]
    fn a_little_bath_left_in_the_reservoir_is_over_the_target() {
        // 10 mL of 2.5 % in 1.4 L are 177 mg/L; 50 mg/L are reached by less than 3 mL.
        let rinse = pod(280.0, 25_000.0, Taste::Usual).compute(Units::Metric);
        let fill = f64::from(rinse.per_fill) * 280.0;
        assert!((rinse.carry_over_ml * 25_000.0 / fill - 50.0).abs() < 1e-9);
        assert!(rinse.carry_over_ml < 3.0);
    }
}

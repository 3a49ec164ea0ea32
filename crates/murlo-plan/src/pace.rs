//! A household's own pace: how long its hands take for each kind of step, learned from the times between its acts.

use crate::{Kind, minutes};
use jiff::civil::Date;
use murlo_base::units::trim;
use murlo_brewer::Family;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// How long a step took.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Took {
    /// What it was.
    pub kind: Kind,
    /// What it usually takes, minutes.
    pub usual_min: f64,
    /// What it took, minutes.
    pub took_min: f64,
}

/// Somebody who takes so many times as long was called away; so small a share was pressed afterwards.
const BELIEVED: std::ops::RangeInclusive<f64> = 0.15..=4.0;
/// Minutes that are always allowed on top: looking something up, drying one's hands.
const LEEWAY: f64 = 2.0;
/// The usual minutes count as so many times seen.
const USUAL_WEIGHT: f64 = 1.0;
/// No pace is further from the usual than this.
const BOUNDS: (f64, f64) = (1.0 / 3.0, 3.0);

impl Took {
    /// What a step took, unless it cannot have been work all the time.
    #[must_use]
    pub fn new(kind: Kind, usual_min: f64, took_min: f64) -> Option<Self> {
        let longest = BELIEVED.end() * usual_min + LEEWAY;
        let is_believed = usual_min > 0.0 && took_min >= BELIEVED.start() * usual_min;
        (is_believed && took_min <= longest).then_some(Self {
            kind,
            usual_min,
            took_min,
        })
    }

    fn ratio(&self) -> f64 {
        self.took_min / self.usual_min
    }
}

/// What one clean showed.
#[derive(Debug, Clone, PartialEq)]
pub struct PaceSeen {
    /// The kind of brewer.
    pub family: Family,
    /// The day.
    pub day: Date,
    /// How long its steps took.
    pub took: Vec<Took>,
}

/// What was learned of one kind of step.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Learned {
    /// Times the usual minutes.
    pub factor: f64,
    /// How often it was seen.
    pub seen: u32,
}

/// The pace of a household with one kind of brewer.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Pace(BTreeMap<&'static str, Learned>);

impl Pace {
    /// From all that was seen of `family` after the day on which the household last wanted to begin anew.
    ///
    /// # Example
    /// ```
    /// use murlo_brewer::Family;
    /// use murlo_plan::{Kind, pace::{Pace, PaceSeen, Took}};
    /// use jiff::civil::date;
    /// let day = date(2026, 8, 30);
    /// let took = vec![Took::new(Kind::Parts, 3.0, 6.0).unwrap()];
    /// let seen = [PaceSeen { family: Family::Drip, day, took }];
    /// // Seen once, it is half believed: √2 times the usual.
    /// let pace = Pace::learn(&seen, Family::Drip, None);
    /// assert!((pace.factor(Kind::Parts) - 2f64.sqrt()).abs() < 1e-9);
    /// assert_eq!(pace.factor(Kind::Mix), 1.0);
    /// ```
    #[must_use]
    pub fn learn<'a>(
        seen: impl IntoIterator<Item = &'a PaceSeen>,
        family: Family,
        after: Option<Date>,
    ) -> Self {
        let mut ratios: BTreeMap<&'static str, Vec<f64>> = BTreeMap::new();
        let counts = |s: &&PaceSeen| s.family == family && after.is_none_or(|after| s.day > after);
        for took in seen.into_iter().filter(counts).flat_map(|s| &s.took) {
            ratios.entry(took.kind.id()).or_default().push(took.ratio());
        }
        let learned = ratios.into_iter().map(|(kind, mut all)| {
            let n = all.len() as f64;
            let factor = (n * median(&mut all).ln() / (n + USUAL_WEIGHT)).exp();
            let learned = Learned {
                factor: factor.clamp(BOUNDS.0, BOUNDS.1),
                seen: all.len() as u32,
            };
            (kind, learned)
        });
        Self(learned.collect())
    }

    /// How many times the usual minutes a step of this kind takes here.
    #[must_use]
    pub fn factor(&self, kind: Kind) -> f64 {
        self.0.get(kind.id()).map_or(1.0, |learned| learned.factor)
    }

    /// What was learned, by the name of the kind.
    pub fn learned(&self) -> impl Iterator<Item = (&'static str, Learned)> {
        self.0.iter().map(|(kind, learned)| (*kind, *learned))
    }
}

/// What was learned of one kind of step, for people to read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PaceLine {
    /// "Drip brewer".
    pub family: String,
    /// "loose parts: 4.2 min, usually 3; seen 3 times".
    pub text: String,
}

/// What a household has shown of its pace, family by family.
#[must_use]
pub fn lines(seen: &[PaceSeen], after: Option<Date>) -> Vec<PaceLine> {
    let of = |family: &Family| {
        let pace = Pace::learn(seen, *family, after);
        let lines = Kind::ALL.iter().filter_map(|kind| {
            let learned = pace.0.get(kind.id())?;
            let usual = minutes::usual(*kind).all();
            let seen = match learned.seen {
                1 => "once".to_owned(),
                n => format!("{n} times"),
            };
            // What the needles usually take goes by their places.
            let takes = if *kind == Kind::Needles {
                format!("{} times the usual", trim(learned.factor, 1))
            } else {
                format!(
                    "{} min, usually {}",
                    trim(usual * learned.factor, 1),
                    trim(usual, 1)
                )
            };
            Some(PaceLine {
                family: family.label().to_owned(),
                text: format!("{}: {takes}; seen {seen}", name(*kind)),
            })
        });
        lines.collect::<Vec<_>>()
    };
    Family::ALL.iter().flat_map(of).collect()
}

/// The work in a word or two.
pub(crate) const fn name(kind: Kind) -> &'static str {
    match kind {
        Kind::Before => "a cup timed before",
        Kind::Baseline => "the first glass",
        Kind::After => "a cup timed afterwards",
        Kind::First => "the first dispense of the bath",
        Kind::Run => "a press of the bath",
        Kind::HotWater => "the hot-water outlet",
        Kind::Flush => "a flush",
        Kind::Rinse => "a rinse",
        Kind::Verify => "judging",
        Kind::PutBack => "putting back",
        Kind::Parts => "loose parts",
        Kind::Others => "other parts",
        Kind::Body => "the body",
        Kind::Mix => "mixing",
        Kind::Ready => "making ready",
        Kind::Wash => "washing between",
        Kind::Needles => "the needles",
        Kind::HolderSoak => "the pod holder",
        Kind::Capsule => "the capsule seat",
        Kind::Filter => "taking the filter out",
        Kind::FilterSoak => "the new filter",
        Kind::Disc => "the service disc",
        Kind::Half => "half a brew",
        Kind::Programme => "the programme",
        Kind::Look => "a look at the bath",
        Kind::Soak => "the soak",
        Kind::Cool => "cooling",
        Kind::Tray => "tray and rim",
        Kind::RinsePod => "a rinse pod",
        Kind::Hollow => "the hollow behind the holder",
        Kind::Reusable => "the reusable filter",
        Kind::Stains => "stains",
        Kind::Slime => "scrubbing slime off",
        Kind::Dry => "emptying",
        Kind::Close => "the empty capsule",
    }
}

/// The middle one; of two, between them.
fn median(all: &mut [f64]) -> f64 {
    all.sort_by(f64::total_cmp);
    let n = all.len();
    match n % 2 {
        1 => all[n / 2],
        _ => (all[n / 2 - 1] * all[n / 2]).sqrt(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    fn seen(day: i8, ratios: &[f64]) -> PaceSeen {
        let took = ratios.iter().map(|r| Took::new(Kind::Parts, 3.0, 3.0 * r));
        PaceSeen {
            family: Family::Drip,
            day: date(2026, 8, day),
            took: took.map(Option::unwrap).collect(),
        }
    }

    #[test]
    fn what_cannot_have_been_work_is_not_believed() {
        // Three minutes are usual; 14 is four times that and the leeway.
        for (took, believed) in [
            (0.44, false),
            (0.45, true),
            (3.0, true),
            (14.0, true),
            (14.1, false),
        ] {
            assert_eq!(
                Took::new(Kind::Parts, 3.0, took).is_some(),
                believed,
                "{took}"
            );
        }
        assert_eq!(Took::new(Kind::Cool, 0.0, 1.0), None);
    }

    #[test]
    fn one_odd_clean_does_not_move_the_middle_and_much_is_believed_more() {
        let factor = |all: &[PaceSeen]| Pace::learn(all, Family::Drip, None).factor(Kind::Parts);
        let three = factor(&[seen(1, &[1.6]), seen(2, &[1.6]), seen(3, &[3.9])]);
        let steady = factor(&[seen(1, &[1.6]), seen(2, &[1.6]), seen(3, &[1.6])]);
        assert!((three - steady).abs() < 1e-9);
        assert!((steady - 1.6f64.powf(0.75)).abs() < 1e-9);
        let many: Vec<_> = (1..=28).map(|day| seen(day, &[1.6])).collect();
        assert!(factor(&many) > 1.57);
        let even = factor(&[seen(1, &[1.0]), seen(2, &[4.0])]);
        assert!((even - 2f64.powf(2.0 / 3.0)).abs() < 1e-9, "between two");
    }

    #[test]
    fn no_pace_is_beyond_reason() {
        let many = |ratio: f64| {
            (1..=28)
                .map(move |day| seen(day, &[ratio]))
                .collect::<Vec<_>>()
        };
        let factor = |all: &[PaceSeen]| Pace::learn(all, Family::Drip, None).factor(Kind::Parts);
        assert_eq!(factor(&many(3.9)), 3.0);
        assert_eq!(factor(&many(0.2)), 1.0 / 3.0);
    }

    #[test]
    fn what_was_learned_reads_by_family_and_work() {
        let all = [seen(1, &[2.0, 2.0, 2.0])];
        let read = lines(&all, None);
        assert_eq!(read.len(), 1);
        assert_eq!(read[0].family, Family::Drip.label());
        assert_eq!(
            read[0].text,
            "loose parts: 4.2 min, usually 2.5; seen 3 times"
        );
        assert!(lines(&all, Some(date(2026, 8, 1))).is_empty());
        let names: std::collections::BTreeSet<_> = Kind::ALL.iter().map(|k| name(*k)).collect();
        assert_eq!(names.len(), Kind::ALL.len(), "a name of its own for each");
    }

    #[test]
    fn needles_read_as_a_share_of_what_their_places_take() {
        let took = [Took::new(Kind::Needles, 6.0, 12.0).unwrap(); 3];
        let all = [PaceSeen {
            family: Family::PodReservoir,
            day: date(2026, 8, 1),
            took: took.into(),
        }];
        assert_eq!(
            lines(&all, None)[0].text,
            "the needles: 1.7 times the usual; seen 3 times"
        );
    }

    #[test]
    fn another_family_and_what_was_before_a_new_beginning_count_for_nothing() {
        let all = [seen(1, &[2.0]), seen(2, &[2.0]), seen(3, &[0.5])];
        let after = |day| Pace::learn(&all, Family::Drip, Some(date(2026, 8, day)));
        let learned = after(2).learned().collect::<Vec<_>>();
        assert_eq!(learned.len(), 1);
        assert_eq!((learned[0].0, learned[0].1.seen), ("parts", 1));
        assert!(after(2).factor(Kind::Parts) < 1.0);
        assert_eq!(after(1).learned().next().unwrap().1.seen, 2);
        assert_eq!(after(3), Pace::default());
        assert_eq!(Pace::learn(&all, Family::OneCupPod, None), Pace::default());
    }
}

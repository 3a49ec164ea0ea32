//! Day by day through what was written down: cups, days away, waters and habits as they changed.

use jiff::civil::Date;
use murlo_brewer::journal::{Entry, What};

/// A day as a number, for arithmetic without a calendar; 1 January 1970 is 0.
pub(super) fn number(date: Date) -> i32 {
    // Asked for every line of every journal; working out a duration takes four times as long.
    let years = i32::from(date.year()) - 1;
    let leap_days = years.div_euclid(4) - years.div_euclid(100) + years.div_euclid(400);
    365 * years + leap_days + i32::from(date.day_of_year()) - 719_163
}

/// The day with that number, kept within the calendar.
pub(super) fn day_of(number: i32) -> Date {
    const EPOCH: Date = jiff::civil::date(1970, 1, 1);
    EPOCH.saturating_add(jiff::Span::new().days(number))
}

/// 1 January 1970 was a Thursday.
pub(super) const fn is_weekend(number: i32) -> bool {
    matches!((number + 3).rem_euclid(7), 5 | 6)
}

/// What holds on a day, walking a history forwards.
pub(super) struct Held<'a, T> {
    pub(super) rest: &'a [(i32, T)],
}

impl<'a, T> Held<'a, T> {
    pub(super) fn on(&mut self, day: i32) -> &'a T {
        while self.rest.len() > 1 && self.rest[1].0 <= day {
            self.rest = &self.rest[1..];
        }
        &self.rest[0].1
    }
}

/// A stretch of days, the last not included.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct DaySpan {
    pub(super) from: i32,
    pub(super) to: i32,
}

/// The spans, walked forwards.
pub(super) struct Within<'a, T> {
    pub(super) rest: &'a [(DaySpan, T)],
}

impl<'a, T> Within<'a, T> {
    pub(super) fn on(&mut self, day: i32) -> Option<&'a T> {
        while self.rest.first().is_some_and(|(span, _)| span.to <= day) {
            self.rest = &self.rest[1..];
        }
        self.rest
            .first()
            .filter(|(span, _)| span.from <= day)
            .map(|(_, value)| value)
    }
}

/// What was written down about brewing. A counter knows best, then what was logged that day, then days away; the habit
/// fills every other day.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Logged {
    pub(super) counted: Vec<(DaySpan, f64)>,
    pub(super) cups: Vec<(DaySpan, f64)>,
    pub(super) away: Vec<(DaySpan, ())>,
}

impl Logged {
    /// What `entries` say of brews.
    #[must_use]
    pub fn of(entries: &[Entry]) -> Self {
        let mut logged = Self::default();
        let mut readings = Vec::new();
        for entry in entries {
            let day = number(entry.day);
            match entry.what {
                What::Brewed { cups } => logged.cups.push((
                    DaySpan {
                        from: day,
                        to: day + 1,
                    },
                    cups,
                )),
                What::Counter { brews } => readings.push((day, brews)),
                What::Away { until } => logged.away.push((
                    DaySpan {
                        from: day,
                        to: number(until) + 1,
                    },
                    (),
                )),
                What::FilterFitted
                | What::NeedlesCleared
                | What::Did { .. }
                | What::Sign { .. }
                | What::NothingNoticed { .. }
                | What::LeftOut { .. }
                | What::Timed { .. }
                | What::FirstCoffee { .. }
                | What::Trouble { .. } => {}
            }
        }
        logged.cups.sort_by_key(|(span, _)| span.from);
        logged.cups.dedup_by(|later, kept| {
            let same = later.0.from == kept.0.from;
            if same {
                kept.1 += later.1;
            }
            same
        });
        // Kept for every brewer as long as its journal stands.
        logged.cups.shrink_to_fit();
        logged.away.sort_by_key(|(span, ())| span.from);
        readings.sort_by_key(|(day, _)| *day);
        for pair in readings.windows(2) {
            let ((from, before), (to, after)) = (pair[0], pair[1]);
            let at_home = (from..to).filter(|d| !logged.is_away(*d)).count();
            // One that starts again tells nothing of the days between.
            if after < before {
                continue;
            }
            // A counter that moved while everybody was away is spread over all its days.
            let days = if at_home == 0 {
                (to - from) as usize
            } else {
                at_home
            };
            if days > 0 {
                logged
                    .counted
                    .push((DaySpan { from, to }, (after - before) / days as f64));
            }
        }
        logged
    }

    /// First and last day of each time away, oldest first.
    pub fn times_away(&self) -> impl Iterator<Item = (Date, Date)> {
        self.away
            .iter()
            .map(|(span, ())| (day_of(span.from), day_of(span.to - 1)))
    }

    /// Whether a counter was read on that day or later.
    pub(super) fn counts_since(&self, day: i32) -> bool {
        self.counted.iter().any(|(span, _)| span.to >= day)
    }

    pub(super) fn is_away(&self, day: i32) -> bool {
        self.away
            .iter()
            .any(|(span, ())| span.from <= day && day < span.to)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;

    #[test]
    fn a_day_and_its_number_belong_together() {
        for (day, expected) in [
            (date(1969, 12, 31), -1),
            (date(1970, 1, 1), 0),
            (date(1972, 2, 29), 789),
            (date(2000, 3, 1), 11_017),
            (date(2100, 3, 1), 47_541),
        ] {
            assert_eq!(number(day), expected, "{day}");
        }
    }

    proptest! {
        #[test]
        fn every_number_leads_back_to_itself(day in -700_000i32..2_900_000) {
            prop_assert_eq!(number(day_of(day)), day);
        }
    }
}

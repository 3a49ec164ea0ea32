//! Day by day through what was written down: cups, days away, waters and habits as they changed.

use crate::brewer::Habit;
use crate::journal::{Entry, What};
use crate::water::Potential;
use jiff::civil::Date;

/// A day as a number, for arithmetic without a calendar.
pub(super) fn number(date: Date) -> i32 {
    const EPOCH: Date = jiff::civil::date(1970, 1, 1);
    // Civil days are all a day long, so this is exact; a span would be worked out in months first.
    (EPOCH.duration_until(date).as_hours() / 24) as i32
}

/// The day with that number, kept within the calendar.
pub(super) fn day_of(number: i32) -> Date {
    const EPOCH: Date = jiff::civil::date(1970, 1, 1);
    EPOCH.saturating_add(jiff::Span::new().days(number))
}

/// `days` after `date`.
#[must_use]
pub fn days_after(date: Date, days: i32) -> Date {
    date.saturating_add(jiff::Span::new().days(days))
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
#[derive(Debug, Clone, Copy)]
pub(super) struct Span {
    pub(super) from: i32,
    pub(super) to: i32,
}

/// The spans, walked forwards.
pub(super) struct Within<'a, T> {
    pub(super) rest: &'a [(Span, T)],
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
#[derive(Debug, Default)]
pub(super) struct Logged {
    pub(super) counted: Vec<(Span, f64)>,
    pub(super) cups: Vec<(Span, f64)>,
    pub(super) away: Vec<(Span, ())>,
}

impl Logged {
    pub(super) fn of(entries: &[Entry]) -> Self {
        let mut logged = Self::default();
        let mut readings = Vec::new();
        for entry in entries {
            let day = number(entry.day);
            match entry.what {
                What::Brewed { cups } => logged.cups.push((
                    Span {
                        from: day,
                        to: day + 1,
                    },
                    cups,
                )),
                What::Counter { brews } => readings.push((day, brews)),
                What::Away { until } => logged.away.push((
                    Span {
                        from: day,
                        to: number(until) + 1,
                    },
                    (),
                )),
                _ => {}
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
        logged.away.sort_by_key(|(span, ())| span.from);
        readings.sort_by_key(|(day, _)| *day);
        for pair in readings.windows(2) {
            let ((from, before), (to, after)) = (pair[0], pair[1]);
            let at_home = (from..to).filter(|d| !logged.is_away(*d)).count();
            // A counter that moved while everybody was away is spread over all its days.
            let days = if at_home == 0 {
                (to - from) as usize
            } else {
                at_home
            };
            if days > 0 {
                logged
                    .counted
                    .push((Span { from, to }, (after - before).max(0.0) / days as f64));
            }
        }
        logged
    }

    pub(super) fn is_away(&self, day: i32) -> bool {
        self.away
            .iter()
            .any(|(span, ())| span.from <= day && day < span.to)
    }
}

/// Cups and potential of each day, asked for in order.
pub(super) struct Walk<'a> {
    pub(super) habits: Held<'a, Habit>,
    pub(super) potentials: Held<'a, Potential>,
    pub(super) counted: Within<'a, f64>,
    pub(super) cups: Within<'a, f64>,
    pub(super) away: Within<'a, ()>,
    pub(super) share: f64,
}

/// What went through on one day.
#[derive(Clone, Copy)]
pub(super) struct Daily {
    pub(super) cups: f64,
    pub(super) litres: f64,
    pub(super) potential_mg: f64,
}

impl Walk<'_> {
    pub(super) fn on(&mut self, day: i32) -> Daily {
        let habit = self.habits.on(day);
        let away = self.away.on(day).is_some();
        let cups = match (self.counted.on(day), self.cups.on(day)) {
            (Some(_), _) if away => 0.0,
            (Some(cups), _) | (None, Some(cups)) => *cups,
            (None, None) if away => 0.0,
            (None, None) => habit.cups(is_weekend(day)),
        } * self.share;
        let litres = cups * habit.cup_ml / 1000.0;
        Daily {
            cups,
            litres,
            potential_mg: litres * self.potentials.on(day).mg_l,
        }
    }
}

//! When guests of a home that is let come and go.

use jiff::civil::{Date, Time};
use murlo_base::problem::{Code, Problem};
use murlo_base::{bounds, text};
use serde::{Deserialize, Serialize};

/// Stays that are kept of a home that is let.
pub(super) const STAYS: usize = 1000;

/// When guests of a home that is let come and go.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Guests {
    /// Guests are gone by this time.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub out_by: Time,
    /// The next ones may come from this time on.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub in_from: Time,
    /// Their stays.
    #[serde(default)]
    pub stays: Vec<Stay>,
}

/// A stay of guests.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Stay {
    /// The day they come.
    pub from: Date,
    /// The day they leave.
    pub until: Date,
}

/// A time in which no guest is there.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Changeover {
    /// The day on which one may begin.
    pub from: Date,
    /// From this time on.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub out_by: Time,
    /// The day on which the next guests come; open where none are known.
    pub until: Option<Date>,
    /// They may come from this time on.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub in_from: Time,
}

impl Guests {
    /// Nobody's stays, with the times at which guests usually change.
    pub const USUAL: Self = Self {
        out_by: jiff::civil::time(10, 0, 0, 0),
        in_from: jiff::civil::time(15, 0, 0, 0),
        stays: Vec::new(),
    };

    /// What stands against coming on `day`; nothing where no guest is there all day.
    #[must_use]
    pub fn mind(&self, day: Date, is_12_hours: bool) -> Option<String> {
        let leaves = self.stays.iter().any(|stay| stay.until == day);
        let comes = self.stays.iter().any(|stay| stay.from == day);
        let told = |time| text::time(time, is_12_hours);
        let (out, into) = (told(self.out_by), told(self.in_from));
        if self
            .stays
            .iter()
            .any(|stay| stay.from < day && day < stay.until)
        {
            return Some("guests are there all day".to_owned());
        }
        match (leaves, comes) {
            (true, true) => Some(format!("guests change between {out} and {into}")),
            (true, false) => Some(format!("guests leave: from {out} on")),
            (false, true) => Some(format!("guests come: until {into}")),
            (false, false) => None,
        }
    }

    /// From when and until when guests leave the home to others on `day`; where they are there all day it is not left.
    #[must_use]
    pub fn hours(&self, day: Date) -> (Option<Time>, Option<Time>) {
        let leaves = self.stays.iter().any(|stay| stay.until == day);
        let comes = self.stays.iter().any(|stay| stay.from == day);
        (leaves.then_some(self.out_by), comes.then_some(self.in_from))
    }

    pub(super) fn check(&self) -> Result<(), Problem> {
        if self.stays.len() > STAYS {
            let message = format!("give at most {STAYS} stays");
            return Err(Problem::new(Code::TooMuch, "guests.stays", message));
        }
        for stay in &self.stays {
            bounds::day("guests.stays", stay.from)?;
            bounds::day("guests.stays", stay.until)?;
        }
        match self.stays.iter().find(|stay| stay.until <= stay.from) {
            Some(stay) => {
                let message = format!(
                    "a stay from {} to {}: guests leave on a later day than they come",
                    stay.from, stay.until
                );
                Err(Problem::new(Code::Contradiction, "guests.stays", message))
            }
            None => Ok(()),
        }
    }

    /// The times from `from` on in which nobody is there, as far as stays are known; `until` bounds the search.
    #[must_use]
    pub fn changeovers(&self, from: Date, until: Date) -> Vec<Changeover> {
        let mut stays = self.stays.clone();
        stays.sort_unstable();
        let mut free = Vec::new();
        let mut gone: Option<Date> = None;
        for stay in &stays {
            if let Some(since) = gone
                && stay.from >= since
            {
                free.push((since, Some(stay.from)));
            }
            gone = gone.max(Some(stay.until));
        }
        free.extend(gone.map(|since| (since, None)));
        // A gap of no time at all, where one stay runs into the next, is none.
        let is_open = |(since, next): &(Date, Option<Date>)| match next {
            Some(next) => {
                *next >= from && *since <= until && (next > since || self.in_from > self.out_by)
            }
            None => *since <= until,
        };
        free.into_iter()
            .filter(is_open)
            .map(|(since, next)| Changeover {
                from: since,
                out_by: self.out_by,
                until: next,
                in_from: self.in_from,
            })
            .collect()
    }
}

#[cfg(test)]
pub(super) mod tests {
    use super::*;
    use jiff::civil::{date, time};

    pub(in crate::home) fn let_to(stays: &[(Date, Date)]) -> Guests {
        Guests {
            out_by: time(10, 0, 0, 0),
            in_from: time(15, 0, 0, 0),
            stays: stays
                .iter()
                .map(|(from, until)| Stay {
                    from: *from,
                    until: *until,
                })
                .collect(),
        }
    }

    #[test]
    fn nobody_is_there_between_two_stays() {
        let (a, b, c) = (date(2026, 12, 1), date(2026, 12, 4), date(2026, 12, 9));
        let guests = let_to(&[(b, date(2026, 12, 7)), (a, b), (c, date(2026, 12, 12))]);
        let free = guests.changeovers(a, date(2026, 12, 31));
        let days: Vec<_> = free.iter().map(|f| (f.from, f.until)).collect();
        assert_eq!(
            days,
            [
                (b, Some(b)),
                (date(2026, 12, 7), Some(c)),
                (date(2026, 12, 12), None)
            ]
        );
        // What is over, and what begins later, is not told.
        assert_eq!(guests.changeovers(date(2026, 12, 10), c).len(), 0);
        assert_eq!(guests.changeovers(date(2026, 12, 9), c).len(), 1);
        assert_eq!(let_to(&[]).changeovers(a, c), []);
        // Stays that overlap leave no time between them, and neither does a house that is handed over at once.
        assert_eq!(
            let_to(&[(a, c), (b, date(2026, 12, 7))])
                .changeovers(a, c)
                .len(),
            1
        );
        let mut at_once = let_to(&[(a, b), (b, c)]);
        at_once.in_from = at_once.out_by;
        assert_eq!(at_once.changeovers(a, b), []);
    }

    #[test]
    fn guests_are_minded_on_the_days_they_are_there() {
        let day = |n| date(2026, 12, n);
        let guests = let_to(&[(day(1), day(4)), (day(4), day(7))]);
        for (on, told) in [
            (day(1), Some("guests come: until 15:00")),
            (day(2), Some("guests are there all day")),
            (day(3), Some("guests are there all day")),
            (day(4), Some("guests change between 10:00 and 15:00")),
            (day(7), Some("guests leave: from 10:00 on")),
            (day(8), None),
        ] {
            assert_eq!(guests.mind(on, false).as_deref(), told, "{on}");
        }
        let (out, into) = (Some(guests.out_by), Some(guests.in_from));
        for (on, hours) in [
            (day(1), (None, into)),
            (day(2), (None, None)),
            (day(4), (out, into)),
            (day(7), (out, None)),
            (day(8), (None, None)),
        ] {
            assert_eq!(guests.hours(on), hours, "{on}");
        }
    }
}

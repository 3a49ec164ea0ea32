//! When somebody comes to a home: its rhythm, the months and days without, and what was moved.

use super::Guests;
use jiff::civil::{Date, Time, Weekday};
use murlo_base::bounds;
use murlo_base::days::days_after;
use murlo_base::problem::{Code, Problem, Problems};
use serde::{Deserialize, Serialize};

/// Less often than every so many weeks is on call.
const WEEKS: std::ops::RangeInclusive<u32> = 1..=26;
/// Times off that are kept.
const OFF: usize = 100;
/// Moved days that are kept.
const MOVED: usize = 200;
/// A time is moved by no more days than these: further away it is another one.
const MOVES_DAYS: i32 = 60;

/// When somebody comes to a home.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Coming {
    /// How often.
    #[serde(default)]
    pub rhythm: Rhythm,
    /// Months in which one comes, 1 to 12; all of them where none is named.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub months: Vec<u32>,
    /// Days on which one does not come.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub off: Vec<DaysOff>,
    /// Days of the rhythm that were moved or left out.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub moved: Vec<MovedDay>,
}

/// How often somebody comes.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "when", rename_all = "snake_case", deny_unknown_fields)]
pub enum Rhythm {
    /// When asked.
    #[default]
    OnCall,
    /// On days of every so many weeks.
    Weeks {
        /// 1 for each week.
        every: u32,
        /// A day in one of the weeks in which one comes; not before it.
        since: Date,
        /// Days of those weeks.
        days: Vec<DayOfWeek>,
        /// When one comes.
        #[cfg_attr(feature = "schema", schema(value_type = String))]
        from: Time,
        /// When one must be out again.
        #[serde(default)]
        #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
        until: Option<Time>,
    },
    /// Each time guests leave, within the hours that they leave to others.
    Guests,
}

/// A day of the week.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[expect(missing_docs, reason = "the names say it")]
pub enum DayOfWeek {
    Monday,
    Tuesday,
    Wednesday,
    Thursday,
    Friday,
    Saturday,
    Sunday,
}

impl DayOfWeek {
    const fn of(self) -> Weekday {
        match self {
            Self::Monday => Weekday::Monday,
            Self::Tuesday => Weekday::Tuesday,
            Self::Wednesday => Weekday::Wednesday,
            Self::Thursday => Weekday::Thursday,
            Self::Friday => Weekday::Friday,
            Self::Saturday => Weekday::Saturday,
            Self::Sunday => Weekday::Sunday,
        }
    }
}

/// Days on which nobody comes, the last one among them.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DaysOff {
    /// The first.
    pub from: Date,
    /// The last.
    pub until: Date,
}

impl DaysOff {
    /// Whether `day` is one of them.
    #[must_use]
    pub fn has(&self, day: Date) -> bool {
        (self.from..=self.until).contains(&day)
    }

    /// Checks several of them.
    ///
    /// # Errors
    /// One problem per time off that ends before it begins, is on no possible day, or is one too many.
    pub fn check_all(field: &str, off: &[Self]) -> Result<(), Problems> {
        let mut problems = Problems::default();
        if off.len() > OFF {
            let message = format!("give at most {OFF} times off");
            problems.0.push(Problem::new(Code::TooMuch, field, message));
        }
        for (n, one) in off.iter().enumerate() {
            let place = format!("{field}.{n}");
            problems.note(bounds::day("from", one.from).map_err(|p| p.within(&place)));
            problems.note(bounds::day("until", one.until).map_err(|p| p.within(&place)));
            if one.until < one.from {
                let message = "this ends before it begins: give a later last day";
                let problem = Problem::new(Code::Contradiction, "until", message);
                problems.0.push(problem.within(&place));
            }
        }
        problems.or(Some(()))
    }
}

/// A day of a rhythm on which one does not come.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct MovedDay {
    /// The day of the rhythm.
    pub day: Date,
    /// When one comes instead; absent where one does not come at all.
    #[serde(default)]
    pub to: Option<Date>,
}

/// A time at which somebody comes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Occurrence {
    /// The day of the rhythm.
    pub day: Date,
    /// The day on which one comes.
    pub on: Date,
    /// When.
    pub from: Time,
    /// When one must be out again.
    pub until: Option<Time>,
    /// Whether it lies on days off, and nobody said another day.
    pub is_off: bool,
}

/// The Monday of the week of `day`.
fn monday(day: Date) -> Date {
    days_after(day, -i32::from(day.weekday().to_monday_zero_offset()))
}

impl Coming {
    /// Every time somebody comes from one day to another, both among them, the soonest first; `off` are the days on which one
    /// goes nowhere.
    #[must_use]
    pub fn between(
        &self,
        guests: Option<&Guests>,
        off: &[DaysOff],
        from: Date,
        until: Date,
    ) -> Vec<Occurrence> {
        let (first, last) = (days_after(from, -MOVES_DAYS), days_after(until, MOVES_DAYS));
        let mut all: Vec<Occurrence> = Vec::new();
        let mut day = first;
        while day <= last {
            let in_season =
                self.months.is_empty() || self.months.contains(&day.month().unsigned_abs().into());
            if in_season && let Some((from, until)) = self.hours(guests, day) {
                let moved = self.moved.iter().find(|moved| moved.day == day);
                let is_off = self.off.iter().chain(off).any(|off| off.has(day));
                all.extend(
                    moved
                        .map_or(Some(day), |moved| moved.to)
                        .map(|on| Occurrence {
                            day,
                            on,
                            from,
                            until,
                            is_off: is_off && moved.is_none(),
                        }),
                );
            }
            let next = days_after(day, 1);
            // At the end of the calendar there is none.
            if next == day {
                break;
            }
            day = next;
        }
        all.retain(|one| (from..=until).contains(&one.on));
        all.sort_by_key(|one| (one.on, one.from, one.day));
        all
    }

    /// The hours of a day of the rhythm.
    fn hours(&self, guests: Option<&Guests>, day: Date) -> Option<(Time, Option<Time>)> {
        match &self.rhythm {
            Rhythm::OnCall => None,
            Rhythm::Weeks {
                every,
                since,
                days,
                from,
                until,
            } => {
                let weeks = monday(*since)
                    .until(monday(day))
                    .map_or(0, |s| s.get_days() / 7);
                let is_week = weeks.rem_euclid((*every).max(1).cast_signed()) == 0;
                let is_day = days.iter().any(|one| one.of() == day.weekday());
                (day >= *since && is_week && is_day).then_some((*from, *until))
            }
            Rhythm::Guests => {
                let guests = guests?;
                // One comes on the day on which they leave, before the next ones come.
                match guests.hours(day) {
                    (Some(out_by), in_from) if in_from.is_none_or(|by| by > out_by) => {
                        Some((out_by, in_from))
                    }
                    _ => None,
                }
            }
        }
    }

    /// The same with a day of the rhythm moved, left out, or back where it was.
    ///
    /// # Errors
    /// `Contradiction` for a day that is too far away.
    pub fn moving(&self, day: Date, to: Option<Date>) -> Result<Self, Problem> {
        let mut coming = self.clone();
        coming.moved.retain(|moved| moved.day != day);
        if to != Some(day) {
            coming.moved.push(MovedDay { day, to });
        }
        // What was moved long ago says nothing any more.
        let long_ago = days_after(day, -2 * MOVES_DAYS);
        coming.moved.retain(|moved| moved.day >= long_ago);
        coming.check_moved()?;
        Ok(coming)
    }

    fn check_moved(&self) -> Result<(), Problem> {
        if self.moved.len() > MOVED {
            let message = format!("give at most {MOVED} moved days");
            return Err(Problem::new(Code::TooMuch, "moved", message));
        }
        for (n, moved) in self.moved.iter().enumerate() {
            bounds::day(&format!("moved.{n}.day"), moved.day)?;
            let by = moved.to.map_or(0, |to| {
                moved.day.until(to).map_or(i32::MAX, |span| span.get_days())
            });
            if !(-MOVES_DAYS..=MOVES_DAYS).contains(&by) {
                let message = format!("give a day at most {MOVES_DAYS} days before or after it");
                return Err(Problem::new(
                    Code::OutOfRange,
                    format!("moved.{n}.to"),
                    message,
                ));
            }
        }
        Ok(())
    }

    /// Checks every field.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub(super) fn check(&self, is_let: bool) -> Result<(), Problems> {
        let mut problems = Problems::default();
        let mut wrong = |code, field: &str, message: String| {
            problems.0.push(Problem::new(code, field, message));
        };
        match &self.rhythm {
            Rhythm::OnCall => {}
            Rhythm::Weeks {
                every,
                since,
                days,
                from,
                until,
            } => {
                if !WEEKS.contains(every) {
                    let message = format!("every {every} weeks: give 1 to {}", WEEKS.end());
                    wrong(Code::OutOfRange, "rhythm.every", message);
                }
                if days.is_empty() {
                    let message = "on which days of the week? Give at least one".to_owned();
                    wrong(Code::Missing, "rhythm.days", message);
                }
                if days.len() > 7 {
                    let message = "a week has seven days: give each of them once".to_owned();
                    wrong(Code::TooMuch, "rhythm.days", message);
                }
                if until.is_some_and(|until| until <= *from) {
                    let message = "this ends before it begins: give a later time, or leave it open";
                    wrong(Code::Contradiction, "rhythm.until", message.to_owned());
                }
                if let Err(problem) = bounds::day("rhythm.since", *since) {
                    problems.0.push(problem);
                }
            }
            Rhythm::Guests if !is_let => {
                let message = "it is not let: tell when guests come and go first".to_owned();
                wrong(Code::Contradiction, "rhythm", message);
            }
            Rhythm::Guests => {}
        }
        if self.months.len() > 12 || self.months.iter().any(|month| !(1..=12).contains(month)) {
            let message = "give months from 1 to 12, each once";
            let problem = Problem::new(Code::OutOfRange, "months", message);
            problems.0.push(problem);
        }
        problems.note(DaysOff::check_all("off", &self.off));
        problems.note(self.check_moved());
        problems.or(Some(()))
    }
}

#[cfg(test)]
mod tests;

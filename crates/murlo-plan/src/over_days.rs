//! A clean that is spread over days: each part a bath of its own, rinsed and drinkable when it ends.

use crate::options::{MOST_BATHS, PlanOptions};
use jiff::civil::Date;
use murlo_base::bounds;
use murlo_base::days::days_after;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_brewer::Brewer;
use serde::{Deserialize, Serialize};

/// A clean in parts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct OverDays {
    /// Identity.
    pub id: String,
    /// The brewer.
    pub brewer_id: String,
    /// The side.
    pub circuit_id: String,
    /// The bath of each part.
    pub options: PlanOptions,
    /// Its parts, the first one first.
    pub parts: Vec<DayPart>,
}

/// One part.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DayPart {
    /// The day it is planned for.
    pub day: Date,
    /// The clean that was begun for it last.
    #[serde(default)]
    pub clean_id: Option<String>,
}

/// Which part a clean is.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartOf {
    /// The clean over days.
    pub id: String,
    /// Which part, from 1.
    pub number: u32,
    /// Of how many.
    pub of: u32,
}

impl PartOf {
    /// "part 2 of 3".
    #[must_use]
    pub fn words(&self) -> String {
        format!("part {} of {}", self.number, self.of)
    }
}

/// The part of a side that comes next.
#[derive(Debug, Clone, PartialEq)]
pub struct NextPart {
    /// The clean over days.
    pub over: OverDays,
    /// Which part, from 0.
    pub at: usize,
}

impl NextPart {
    /// Its day.
    #[must_use]
    pub fn day(&self) -> Date {
        self.over.parts[self.at].day
    }

    /// Which part it is.
    #[must_use]
    pub fn part(&self) -> PartOf {
        PartOf {
            id: self.over.id.clone(),
            number: self.at as u32 + 1,
            of: self.over.parts.len() as u32,
        }
    }
}

impl OverDays {
    /// The first part that no clean has done.
    #[must_use]
    pub fn next(&self, is_done: impl Fn(&str) -> bool) -> Option<NextPart> {
        let open = |part: &DayPart| !part.clean_id.as_deref().is_some_and(&is_done);
        let at = self.parts.iter().position(open)?;
        Some(NextPart {
            over: self.clone(),
            at,
        })
    }

    /// The same on other days, from the part that comes next on.
    ///
    /// # Errors
    /// Another number of days than there are parts to come; days out of order or in the past.
    pub fn moved(mut self, next: usize, days: &[Date], today: Date) -> Result<Self, Problems> {
        let to_come = self.parts.len() - next;
        if days.len() != to_come {
            let message = format!("{to_come} parts are to come: give a day for each");
            return Err(Problem::new(Code::OutOfRange, "days", message).into());
        }
        check_days(days, today)?;
        for (part, day) in self.parts[next..].iter_mut().zip(days) {
            part.day = *day;
        }
        Ok(self)
    }

    /// Checks one that comes from outside.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn check(&self, brewer: &Brewer) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(brewer.circuit("circuit_id", &self.circuit_id).map(drop));
        problems.note(check_count(self.parts.len()));
        for (i, part) in self.parts.iter().enumerate() {
            problems.note(bounds::day(&format!("parts.{i}.day"), part.day));
        }
        problems.or(Some(()))
    }
}

fn check_count(parts: usize) -> Result<(), Problem> {
    match (2..=MOST_BATHS as usize).contains(&parts) {
        true => Ok(()),
        false => {
            let message = format!("give 2 to {MOST_BATHS} days, one for each part");
            Err(Problem::new(Code::OutOfRange, "days", message))
        }
    }
}

/// Days that are proposed for so many parts: every other evening from today on.
#[must_use]
pub fn proposed_days(parts: u32, today: Date) -> Vec<Date> {
    let parts = parts.clamp(2, MOST_BATHS) as i32;
    (0..parts)
        .map(|n| days_after(today, APART_DAYS * n))
        .collect()
}

/// From one part to the next, days. Judged: a brewer is used between them.
const APART_DAYS: i32 = 2;

/// Chalk and people change their minds in longer.
const FURTHEST_DAYS: i32 = 60;

/// Days for the parts of a new one.
///
/// # Errors
/// Too few or too many; a day that is over, out of order, or too far ahead.
pub fn check_new_days(days: &[Date], today: Date) -> Result<(), Problems> {
    check_count(days.len())?;
    check_days(days, today)
}

fn check_days(days: &[Date], today: Date) -> Result<(), Problems> {
    let wrong = |message: &str| Problems::from(Problem::new(Code::OutOfRange, "days", message));
    if days.iter().any(|day| *day < today) {
        return Err(wrong("that day is over: give today or a later one"));
    }
    if days.windows(2).any(|pair| pair[0] >= pair[1]) {
        return Err(wrong("each part has a later day than the one before it"));
    }
    let is_far = |day: &Date| (*day - today).get_days() > FURTHEST_DAYS;
    if days.iter().any(is_far) {
        return Err(wrong(
            "give days within two months: more chalk will have grown by then",
        ));
    }
    Ok(())
}

//! Jobs as they are told, checked, and as chains of acts.

use murlo_base::problem::{Code, Problem};
use std::collections::HashMap;

/// What a segment asks of the person.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Presence {
    /// Hands; not to be split.
    Hands,
    /// No hands, but somebody near.
    Near,
    /// Nobody.
    Free,
}

/// A part of a job.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Segment {
    /// Its name within the job.
    pub id: String,
    /// What it asks.
    pub doing: Presence,
    /// How long it takes, seconds.
    pub seconds: i32,
    /// The next act begins at most so long after this one's start.
    pub max: Option<i32>,
}

/// Where something under way stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum At {
    /// In this segment, running since then; not begun where no time is given.
    Segment(usize, Option<i32>),
    /// Done.
    Done,
}

/// A chain of segments at one place.
#[derive(Debug, Clone, PartialEq)]
pub struct VisitJob {
    /// Its name.
    pub id: String,
    /// Where it is done.
    pub place: Option<String>,
    /// Jobs that come before it.
    pub after: Vec<String>,
    /// Where it stands.
    pub at: Option<At>,
    /// The harm of leaving it out; it may not be where that is not given.
    pub weight: Option<f64>,
    /// The job it is left out with, and only with that.
    pub part_of: Option<String>,
    /// Its segments, in order.
    pub segments: Vec<Segment>,
}

/// Something else to do with the hands.
#[derive(Debug, Clone, PartialEq)]
pub struct Chore {
    /// Its name.
    pub id: String,
    /// Where.
    pub place: Option<String>,
    /// How long, seconds.
    pub seconds: i32,
    /// Where it stands.
    pub at: Option<At>,
    /// The harm of leaving it out.
    pub weight: Option<f64>,
}

/// A whole visit.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Schedulable {
    /// Its jobs.
    pub jobs: Vec<VisitJob>,
    /// Its chores.
    pub chores: Vec<Chore>,
    /// From one place to another, seconds.
    pub travel: i32,
    /// From one job to another, seconds.
    pub switch: i32,
    /// Now.
    pub now: i32,
    /// Where the person is.
    pub place_now: Option<String>,
    /// When the person must be gone.
    pub leave_by: Option<i32>,
}

/// More jobs and chores than this are no visit.
const MOST: usize = 120;

/// Longer than this is no day.
const A_DAY: i32 = 24 * 3600;

fn refuse(code: Code, field: &str, message: impl Into<String>) -> Problem {
    Problem::new(code, field, message)
}

impl Schedulable {
    /// Checks what cannot be.
    ///
    /// # Errors
    /// The first field that is wrong: an unknown or doubled name, a circle of jobs, a day too long.
    pub fn check(&self) -> Result<(), Problem> {
        if self.jobs.len() + self.chores.len() > MOST {
            let message = format!("give at most {MOST} jobs and chores");
            return Err(refuse(Code::TooMuch, "jobs", message));
        }
        let mut ids = HashMap::new();
        let named = self.jobs.iter().map(|j| &j.id);
        for (n, id) in named.chain(self.chores.iter().map(|c| &c.id)).enumerate() {
            if ids.insert(id.as_str(), n).is_some() {
                let message = format!("\"{id}\" stands here twice: give each a name of its own");
                return Err(refuse(Code::Contradiction, "jobs", message));
            }
        }
        for (n, job) in self.jobs.iter().enumerate() {
            let field = |name: &str| format!("jobs.{n}.{name}");
            for id in &job.after {
                if !self.jobs.iter().any(|other| other.id == *id) {
                    let message = format!("no job is called \"{id}\"");
                    return Err(refuse(Code::UnknownId, &field("after"), message));
                }
            }
            for (i, segment) in job.segments.iter().enumerate() {
                if segment.max.is_some_and(|max| max < segment.seconds) {
                    let field = field(&format!("segments.{i}.max_minutes"));
                    let message = "give at least the minutes of the segment, or leave it out";
                    return Err(refuse(Code::Contradiction, &field, message));
                }
            }
            if let Some(At::Segment(_, Some(since))) = job.at
                && since > self.now
            {
                let message = "what runs cannot have begun after now_min";
                return Err(refuse(Code::Contradiction, &field("at.since_min"), message));
            }
        }
        self.no_circle()?;
        let all: i64 = self
            .jobs
            .iter()
            .flat_map(|j| &j.segments)
            .map(|s| i64::from(s.seconds))
            .sum();
        let chores: i64 = self.chores.iter().map(|c| i64::from(c.seconds)).sum();
        if all + chores > i64::from(7 * A_DAY) {
            let message = "all of it together is longer than a week: give minutes, not seconds";
            return Err(refuse(Code::TooMuch, "jobs", message));
        }
        Ok(())
    }

    fn no_circle(&self) -> Result<(), Problem> {
        let mut done = vec![false; self.jobs.len()];
        for _ in 0..self.jobs.len() {
            for (n, job) in self.jobs.iter().enumerate() {
                let met = |id: &String| {
                    self.jobs
                        .iter()
                        .position(|o| o.id == *id)
                        .is_some_and(|i| done[i])
                };
                done[n] |= job.after.iter().all(met);
            }
        }
        match done.iter().position(|done| !done) {
            None => Ok(()),
            Some(n) => {
                let message = "these jobs wait for each other in a circle";
                Err(refuse(
                    Code::Contradiction,
                    &format!("jobs.{n}.after"),
                    message,
                ))
            }
        }
    }
}

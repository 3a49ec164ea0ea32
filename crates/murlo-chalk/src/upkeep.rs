//! Everything that recurs beside descaling: small works, each with how often it wants doing, when it is due, and why.
//!
//! What was done stands among the entries, whether by itself, guided, or within a whole clean.

use crate::scale::Logged;
use jiff::civil::Date;
use murlo_base::days::days_after;
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::home::Warmth;
use murlo_brewer::job::{Asks, Job};
use murlo_brewer::journal::{Entry, What};
use serde::{Deserialize, Serialize};

/// A small work and how it stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Upkeep {
    /// Which.
    pub job: Job,
    /// "Drip tray and rim".
    pub name: String,
    /// Whether it is time, and the household wants to be asked for it.
    pub is_due: bool,
    /// Whether the household wants to be asked for it, whenever it is time.
    pub is_asked: bool,
    /// Whether the descaling that is due does it anyway.
    pub comes_with_descaling: bool,
    /// Whether most people do it; the rest is for when it is seen, or wanted.
    pub is_usual: bool,
    /// Whether the brewer stops working well without it.
    pub keeps_running: bool,
    /// When it was done last, as far as anybody told.
    pub last: Option<Date>,
    /// The day it is or was due, where that can be told.
    pub due: Option<Date>,
    /// "Water filter good until about 12 Dec".
    pub text: String,
    /// "every 7 days", "when it is seen".
    pub every: String,
    /// Days from one time to the next, where it goes by days.
    pub days: Option<u32>,
    /// "Washed today": what ticks it off.
    pub done: String,
}

/// A cup this much slower than a good one wants its needles looked at, times. Judged.
const SLOWER: f64 = 1.4;
/// Water that stands so many days or fewer is like any other morning's. Judged.
const FRESH_DAYS: i32 = 2;
/// Longer than this at 20 °C, what grew in standing water is more than a rinse takes out. Judged.
const STALE_DAYS: i32 = 10;
/// So long after the first day back its work is still asked for, days. Judged.
const BACK_ASKED: i32 = 14;
/// Fewer cups a day than this leave water standing between them. Judged.
const RARE_CUPS: f64 = 0.5;

/// What a brewer stands in, as far as its small works go by that.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Kitchen {
    /// Hardness of its water, mg/L, where a filter stands in it.
    pub hardness: Option<f64>,
    /// How warm it is while nobody is there.
    pub warmth: Warmth,
}

/// What the entries of one brewer tell of its small works.
struct Noted<'a> {
    last: [Option<Date>; Job::ALL.len()],
    /// First and last day of each time away, oldest first.
    away: Vec<(Date, Date)>,
    /// Cups that were timed: day, circuit, seconds.
    timed: Vec<(Date, &'a str, f64)>,
    /// Of its water, mg/L.
    kitchen: Kitchen,
}

impl<'a> Noted<'a> {
    /// From the lasting `entries`, and from what is kept apart of brews and days away.
    fn of(entries: &'a [Entry], logged: Option<&Logged>) -> Self {
        let mut told = Self {
            last: [None; Job::ALL.len()],
            away: logged.map_or_else(Vec::new, |logged| logged.times_away().collect()),
            timed: Vec::new(),
            kitchen: Kitchen::default(),
        };
        for entry in entries {
            match &entry.what {
                What::Away { until } => told.away.push((entry.day, *until)),
                What::Timed {
                    circuit_id,
                    seconds,
                    cup_ml: None,
                } => told.timed.push((entry.day, circuit_id, *seconds)),
                what @ (What::Brewed { .. }
                | What::Counter { .. }
                | What::FilterFitted
                | What::NeedlesCleared
                | What::Did { .. }
                | What::Sign { .. }
                | What::NothingNoticed { .. }
                | What::LeftOut { .. }
                | What::Timed { .. }
                | What::FirstCoffee { .. }
                | What::Trouble { .. }) => {
                    if let Some(job) = job_of(what) {
                        let last = &mut told.last[job as usize];
                        *last = (*last).max(Some(entry.day));
                    }
                }
            }
        }
        told.away.sort_unstable();
        told.timed.sort_by_key(|(day, ..)| *day);
        told
    }

    fn last(&self, job: Job) -> Option<Date> {
        self.last[job as usize]
    }

    /// The day on which `days` at home have passed since `from`.
    fn at_home_after(&self, from: Date, days: i32) -> Date {
        let mut due = days_after(from, days);
        for (first, last) in &self.away {
            if *first > due {
                break;
            }
            let begins = (*first).max(days_after(from, 1));
            if *last >= begins {
                due = days_after(due, days_between(begins, *last) + 1);
            }
        }
        due
    }

    /// The same day, or the first one back where nobody is there on it.
    fn when_home(&self, day: Date) -> Date {
        let away = self.away.iter().fold(day, |day, (first, last)| {
            if (*first..=*last).contains(&day) {
                days_after(*last, 1)
            } else {
                day
            }
        });
        away.max(day)
    }
}

fn days_between(from: Date, to: Date) -> i32 {
    from.until(to).map_or(0, |span| span.get_days())
}

impl Upkeep {
    /// Every small work of `brewer`, what is due first. What a clean did of it stands among the entries.
    #[must_use]
    pub fn of(
        brewer: &Brewer,
        (entries, logged): (&[Entry], Option<&Logged>),
        kitchen: Kitchen,
        asks: Asks,
        today: Date,
    ) -> Vec<Self> {
        let told = Noted {
            kitchen,
            ..Noted::of(entries, logged)
        };
        let works = Job::ALL.iter().filter(|job| job.fits(brewer));
        let mut works: Vec<_> = works
            .filter_map(|job| Self::one(*job, brewer, &told, asks, today))
            .collect();
        works.sort_by_key(|work| !work.is_due);
        works
    }

    fn one(job: Job, brewer: &Brewer, told: &Noted, asks: Asks, today: Date) -> Option<Self> {
        let cadence = brewer.cadence(job);
        let is_asked = !cadence.off && asks.wants(job, brewer);
        let (due, text) = match job {
            Job::Empty => before_leaving(brewer, told, today)?,
            Job::Back => after_coming_back(told, today)?,
            Job::Filter => filter(brewer, told, today),
            Job::Needles => needles(brewer, told, today),
            Job::Tray
            | Job::RinsePod
            | Job::Wash
            | Job::Hollow
            | Job::Holder
            | Job::Reusable
            | Job::LightBath
            | Job::Slime
            | Job::Stains => by_cadence(job, brewer, told, today),
        };
        Some(Self {
            job,
            name: job.name().to_owned(),
            is_due: is_asked && due.is_some_and(|day| day <= today),
            is_asked,
            last: told.last(job),
            is_usual: Asks::least_for(job) <= Asks::Usual,
            keeps_running: Asks::Needed.wants(job, brewer),
            due,
            text,
            every: cadence.text(job, brewer, told.kitchen.hardness),
            days: cadence
                .days(job, brewer, told.kitchen.hardness)
                .filter(|_| !cadence.off)
                .map(i32::unsigned_abs),
            comes_with_descaling: false,
            done: job.done().to_owned(),
        })
    }

    /// Whether the water filter is worn out, asked for or not.
    #[must_use]
    pub fn is_filter_worn(works: &[Self], today: Date) -> bool {
        let filter = works.iter().find(|work| work.job == Job::Filter);
        // One of which nobody has told when it was fitted may be new.
        filter
            .filter(|work| work.last.is_some())
            .and_then(|work| work.due)
            .is_some_and(|due| due <= today)
    }

    /// Whether there is a water filter of which nobody has told when it was fitted.
    #[must_use]
    pub fn is_filter_unknown(works: &[Self]) -> bool {
        let mut filters = works.iter().filter(|work| work.job == Job::Filter);
        filters.any(|work| work.last.is_none())
    }
}

/// Since when its days are counted.
fn since(brewer: &Brewer, told: &Noted, job: Job) -> Date {
    told.last(job).unwrap_or(brewer.in_use_since)
}

fn by_cadence(job: Job, brewer: &Brewer, told: &Noted, today: Date) -> (Option<Date>, String) {
    let days = brewer.cadence(job).days(job, brewer, told.kitchen.hardness);
    let due = days.map(|days| told.at_home_after(since(brewer, told, job), days));
    let last = told.last(job).map(|day| text::day(day, today));
    let text = match (last, due) {
        (None, _) => "Never written down".to_owned(),
        (Some(last), None) => format!("Last done {last}"),
        (Some(last), Some(due)) if due <= today => {
            format!(
                "Last done {last}; time for it since {}",
                text::day(due, today)
            )
        }
        (Some(last), Some(due)) => {
            format!("Last done {last}; next about {}", text::day(due, today))
        }
    };
    (due, text)
}

/// A filter ages in standing water too, but nobody is asked for it while away.
fn filter(brewer: &Brewer, told: &Noted, today: Date) -> (Option<Date>, String) {
    let cadence = brewer.cadence(Job::Filter);
    let life = cadence.days(Job::Filter, brewer, told.kitchen.hardness);
    let life = life.unwrap_or_default();
    let Some(fitted) = told.last(Job::Filter) else {
        let lasts = text::count(life.unsigned_abs(), "day", "days");
        let text =
            format!("When its water filter was fitted is not known; one lasts about {lasts} here");
        return (Some(told.when_home(brewer.in_use_since)), text);
    };
    let until = told.when_home(days_after(fitted, life));
    let day = text::day(until, today);
    let text = match until <= today {
        true => format!("Water filter worn out since about {day}"),
        false => format!("Water filter good until about {day}"),
    };
    (Some(until), text)
}

/// Needles by the calendar, or as soon as a cup has become slow since they were last cleared.
fn needles(brewer: &Brewer, told: &Noted, today: Date) -> (Option<Date>, String) {
    let cleared = told.last(Job::Needles);
    let from = since(brewer, told, Job::Needles);
    let days = brewer
        .cadence(Job::Needles)
        .days(Job::Needles, brewer, told.kitchen.hardness);
    let due = days.map(|days| told.at_home_after(from, days));
    if let Some((day, seconds, well)) = slower(brewer, told, cleared) {
        let due = due.map_or(day, |due| due.min(day));
        let text = format!(
            "A cup took {seconds:.0} s on {}, {well:.0} s when it is well: look at the needles first",
            text::day(day, today)
        );
        return (Some(told.when_home(due)), text);
    }
    let text = cleared.map_or_else(
        || "Needles never cleared, as far as written down".to_owned(),
        |day| format!("Needles last cleared {}", text::day(day, today)),
    );
    (due, text)
}

/// The latest cup since `cleared` if it is slow against a good one: its day, its seconds, and those of the good one.
fn slower(brewer: &Brewer, told: &Noted, cleared: Option<Date>) -> Option<(Date, f64, f64)> {
    let (day, circuit, seconds) = *told.timed.last()?;
    if cleared.is_some_and(|cleared| day <= cleared) {
        return None;
    }
    let healthy = brewer.circuits.iter().find(|c| c.id == circuit);
    let healthy = healthy.and_then(|c| c.operation.healthy).map(|h| h.seconds);
    // Where no healthy figure is told, the first cup after the last clearing is one.
    let first = told
        .timed
        .iter()
        .find(|(day, which, _)| *which == circuit && cleared.is_some_and(|cleared| *day > cleared));
    let well = healthy.or(first.map(|(_, _, seconds)| *seconds))?;
    (seconds >= SLOWER * well).then_some((day, seconds, well))
}

/// Water that stands while nobody is there, or between rare cups.
fn before_leaving(brewer: &Brewer, told: &Noted, today: Date) -> Option<(Option<Date>, String)> {
    let emptied = told.last(Job::Empty);
    let leaves = told
        .away
        .iter()
        .find(|(first, last)| *last >= today && days_between(*first, *last) >= FRESH_DAYS);
    if let Some((first, last)) = leaves {
        let eve = days_after(*first, -1);
        let is_done = emptied.is_some_and(|day| day >= eve);
        let text = format!(
            "You are away from {} to {}: {}",
            text::day(*first, today),
            text::day(*last, today),
            if is_done {
                "it is empty"
            } else {
                "empty it before you go"
            }
        );
        let still_here = today <= *first;
        return Some(((!is_done && still_here).then_some(eve), text));
    }
    let rare = brewer.habit().mean_cups() < RARE_CUPS;
    let text = match rare {
        true => "Hardly used: empty it and leave the lid open after each use",
        false => "Before being away, and after rare use",
    };
    Some((None, text.to_owned()))
}

/// What water that stood means on the first day back; by how long it stood, and how warm.
fn after_coming_back(told: &Noted, today: Date) -> Option<(Option<Date>, String)> {
    let (first, last) = *told.away.iter().rev().find(|(_, last)| *last < today)?;
    let stood = days_between(first, last) + 1;
    let back = days_after(last, 1);
    let is_done = told.last(Job::Back).is_some_and(|day| day >= back);
    let is_asked = days_between(back, today) <= BACK_ASKED;
    let emptied = told.last(Job::Empty);
    let was_empty = emptied.is_some_and(|day| day >= days_after(first, -2) && day <= first);
    // Days that would have done the same in a kitchen of 20 °C.
    let warmth = told.kitchen.warmth;
    let aged = (f64::from(stood) * warmth.pace()).round() as i32;
    if stood <= FRESH_DAYS || is_done || !is_asked {
        return None;
    }
    let for_days = text::count(stood.unsigned_abs(), "day", "days");
    let as_days = text::count(aged.unsigned_abs(), "day", "days");
    let like = match warmth {
        Warmth::Usual => String::new(),
        Warmth::Cool => format!(", cool (like {as_days} at 20 °C)"),
        Warmth::Warm => format!(", warm (like {as_days} at 20 °C)"),
    };
    let text = if was_empty {
        format!("It stood empty for {for_days}: fill it fresh, one cup to throw away")
    } else if aged <= STALE_DAYS {
        format!(
            "Water stood in it for {for_days}{like}: pour it away, fill fresh, two cups to throw away"
        )
    } else {
        format!(
            "Water stood in it for {for_days}{like}: wash the reservoir, then three cups to throw away; smell it, slime wants a work of its own"
        )
    };
    Some((Some(back), text))
}

/// What was done of small works, the oldest first, as lines of RFC 4180; `named` tells brewer and home of an entry.
#[must_use]
pub fn csv<'a>(
    entries: impl IntoIterator<Item = &'a Entry>,
    named: impl Fn(&str) -> Option<(&'a str, &'a str)>,
) -> String {
    let mut done: Vec<(Date, &str, Job)> = entries
        .into_iter()
        .filter_map(|entry| Some((entry.day, entry.brewer_id.as_str(), job_of(&entry.what)?)))
        .collect();
    done.sort();
    let mut table = text::csv_line(&["day (YYYY-MM-DD)", "home", "brewer", "work"]);
    for (day, brewer_id, job) in done {
        if let Some((brewer, home)) = named(brewer_id) {
            table += &text::csv_line(&[&day.to_string(), home, brewer, job.name()]);
        }
    }
    table
}

/// The small work that an entry writes down as done.
pub const fn job_of(what: &What) -> Option<Job> {
    match what {
        What::FilterFitted => Some(Job::Filter),
        What::NeedlesCleared => Some(Job::Needles),
        What::Did { job } => Some(*job),
        What::Brewed { .. }
        | What::Counter { .. }
        | What::Away { .. }
        | What::Sign { .. }
        | What::NothingNoticed { .. }
        | What::LeftOut { .. }
        | What::Timed { .. }
        | What::FirstCoffee { .. }
        | What::Trouble { .. } => None,
    }
}

#[cfg(test)]
mod tests;

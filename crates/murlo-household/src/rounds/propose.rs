//! What a visit should do: what is due by its day, and what falls due before the next one.

use super::{MovedStop, Stop};
use crate::counter::BrewerCard;
use jiff::civil::Date;
use murlo_base::days::days_after;
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::job::Job;
use murlo_chalk::scale::Due;
use murlo_chalk::upkeep::Upkeep;
use murlo_plan::{PlanOptions, Work};
use serde::Serialize;
use std::collections::HashMap;

/// Where nobody can tell when one comes again, so many days are taken. Judged.
const USUAL_GAP: i32 = 28;
/// The harm of leaving a small work for the next visit, against one of leaving a brewer at its chalk limit. Judged.
const WORK_WEIGHT: f64 = 0.2;
/// Even what could wait is not left out for nothing.
const LEAST_WEIGHT: f64 = 0.05;

/// Something that a visit should do.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Proposed {
    /// What.
    pub stop: Stop,
    /// The brewer, with its side where it has several.
    pub name: String,
    /// "descale", "Drip tray and rim".
    pub what: String,
    /// The home.
    pub home_id: String,
    /// "due since 3 Nov", "falls due about 4 Dec, before you come again".
    pub why: String,
    /// Whether it is due on the day; else it only falls due before the next visit.
    pub is_due: bool,
    /// Whether it belongs to the visit unless it is taken out; else it is only offered.
    pub is_in: bool,
    /// The harm of leaving it out.
    pub weight: f64,
}

/// What to do on `day` in these homes, when the next visit is about `next`; the most needed first. What was moved to that day or
/// one before it belongs to it.
#[must_use]
pub fn propose(
    cards: &[BrewerCard],
    brewers: &HashMap<String, Brewer>,
    moved: &[MovedStop],
    day: Date,
    next: Date,
) -> Vec<Proposed> {
    let mut all: Vec<Proposed> = Vec::new();
    for card in cards {
        let Some(brewer) = brewers.get(&card.id) else {
            continue;
        };
        let mut is_cleaned = false;
        for circuit in &card.circuits {
            let due = &circuit.forecast.due;
            let (why, is_due) = if circuit.running_clean.is_some() {
                ("its clean is not over: go on with it".to_owned(), true)
            } else if let Some(acid) = &circuit.acid {
                (format!("acid is inside ({})", acid.text), true)
            } else {
                by_due(due, day, next)
            };
            let is_in = is_due || due.date <= next;
            is_cleaned |= is_in;
            let used = circuit.forecast.chalk.used;
            let ahead = f64::from(day.until(next).map_or(0, |span| span.get_days()));
            let beyond = used + circuit.forecast.used_a_day * ahead - 1.0;
            all.push(Proposed {
                stop: Stop {
                    id: format!("{}-{}", card.id, circuit.circuit_id),
                    brewer_id: card.id.clone(),
                    options: PlanOptions {
                        circuit_id: Some(circuit.circuit_id.clone()),
                        ..PlanOptions::default()
                    },
                },
                name: match card.circuits.len() {
                    1 => card.nickname.clone(),
                    _ => format!("{}, {}", card.nickname, circuit.name),
                },
                what: "descale".to_owned(),
                home_id: brewer.home_id.clone(),
                why,
                is_due,
                is_in,
                weight: beyond.max(LEAST_WEIGHT),
            });
        }
        let works = card
            .upkeep
            .iter()
            .filter(|work| !(is_cleaned && work.job.is_within_a_clean()));
        all.extend(works.filter_map(|work| of_work(work, brewer, day, next)));
    }
    for one in &mut all {
        let moved = moved.iter().find(|m| m.id() == one.stop.id && m.to <= day);
        if let Some(moved) = moved {
            one.why = format!("left on {}, moved here", text::day(moved.from, day));
            one.is_due = true;
            one.is_in = true;
        }
    }
    all.sort_by(|a, b| {
        (b.is_due, b.is_in)
            .cmp(&(a.is_due, a.is_in))
            .then(b.weight.total_cmp(&a.weight))
            .then_with(|| a.stop.id.cmp(&b.stop.id))
    });
    all
}

fn by_due(due: &Due, day: Date, next: Date) -> (String, bool) {
    let told = text::day(due.date, day);
    if due.date < day {
        (format!("due since {told}"), true)
    } else if due.date == day {
        ("due that day".to_owned(), true)
    } else if due.date <= next {
        (
            format!("falls due about {told}, before you come again"),
            false,
        )
    } else {
        (
            format!("not before {}", text::day(due.earliest.max(day), day)),
            false,
        )
    }
}

fn of_work(work: &Upkeep, brewer: &Brewer, day: Date, next: Date) -> Option<Proposed> {
    let due = work.due?;
    let soon = work.keeps_running && due <= next;
    let is_due = due <= day && (work.is_due || work.keeps_running);
    if !is_due && !soon {
        return None;
    }
    let told = text::day(due, day);
    // The needles have a plan of their own.
    let (kind, job) = if work.job == Job::Needles {
        (Work::Needles, None)
    } else {
        (Work::Upkeep, Some(work.job))
    };
    Some(Proposed {
        stop: Stop {
            id: format!("{}-{}", brewer.id, work.job.key()),
            brewer_id: brewer.id.clone(),
            options: PlanOptions {
                work: kind,
                job,
                ..PlanOptions::default()
            },
        },
        name: brewer.nickname.clone(),
        what: work.name.clone(),
        home_id: brewer.home_id.clone(),
        why: match is_due {
            true => format!("due since {told}"),
            false => format!("falls due {told}, before you come again"),
        },
        is_due,
        is_in: true,
        weight: WORK_WEIGHT,
    })
}

/// About when one comes again, from the days on which one came: the middle of the times between them.
#[must_use]
pub fn next_after(day: Date, came: &[Date]) -> Date {
    let mut came: Vec<Date> = came.iter().copied().filter(|d| *d < day).collect();
    came.push(day);
    came.sort_unstable();
    came.dedup();
    let mut gaps: Vec<i32> = came
        .windows(2)
        .map(|two| two[0].until(two[1]).map_or(0, |span| span.get_days()))
        .collect();
    gaps.sort_unstable();
    let usual = gaps.get(gaps.len() / 2).copied().unwrap_or(USUAL_GAP);
    days_after(day, usual.clamp(1, 366))
}

//! What a visit should do: what is due by its day, and what falls due before the next one.

use super::{MovedStop, Stop};
use crate::counter::{BrewerCard, CircuitCard};
use jiff::civil::Date;
use murlo_base::days::days_after;
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::job::Job;
use murlo_chalk::upkeep::Upkeep;
use murlo_plan::{PlanOptions, Work};
use serde::Serialize;
use std::collections::{BTreeMap, HashMap};

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

/// What a visit is asked for.
#[derive(Debug, Clone, Copy)]
pub struct WantedVisit<'a> {
    /// The household's day.
    pub today: Date,
    /// The day of the visit.
    pub day: Date,
    /// About when one comes again.
    pub next: Date,
    /// What was moved to another day: to that of the visit, or one before it, it belongs to it.
    pub moved: &'a [MovedStop],
    /// What visits before it will have done.
    pub foreseen: &'a Foreseen,
}

/// What visits will have done, and when.
#[derive(Debug, Clone, Default)]
pub struct Foreseen {
    stops: BTreeMap<String, Date>,
    descaled: BTreeMap<String, Date>,
}

impl Foreseen {
    /// With what a visit does on `day`.
    pub fn add<'s>(&mut self, stops: impl IntoIterator<Item = &'s Stop>, day: Date) {
        for stop in stops {
            if stop.options.work == Work::Descale {
                self.descaled.insert(stop.brewer_id.clone(), day);
            }
            self.stops.insert(stop.id.clone(), day);
        }
    }

    fn of_side(&self, id: &str) -> Option<Date> {
        self.stops.get(id).copied()
    }

    /// By itself, or within a clean.
    fn of_work(&self, id: &str, brewer_id: &str, job: Job) -> Option<Date> {
        let within = self.descaled.get(brewer_id);
        let within = within.filter(|_| job.is_within_a_clean()).copied();
        self.of_side(id).max(within)
    }
}

/// What to do in these homes, the most needed first.
#[must_use]
pub fn propose(
    cards: &[&BrewerCard],
    brewers: &HashMap<String, Brewer>,
    wish: &WantedVisit,
) -> Vec<Proposed> {
    let mut all: Vec<Proposed> = Vec::new();
    for card in cards {
        let Some(brewer) = brewers.get(&card.id) else {
            continue;
        };
        let sides = card
            .circuits
            .iter()
            .map(|circuit| of_side(card, circuit, brewer, wish));
        let sides: Vec<_> = sides.collect();
        let is_cleaned = sides.iter().any(|side| side.is_in);
        all.extend(sides);
        let works = card
            .upkeep
            .iter()
            .filter(|work| !(is_cleaned && work.job.is_within_a_clean()));
        all.extend(works.filter_map(|work| of_work(work, brewer, wish)));
    }
    for one in &mut all {
        let is_taken = wish.foreseen.of_side(&one.stop.id).is_some();
        let mut moved = wish.moved.iter();
        let moved = moved.find(|m| m.id() == one.stop.id && m.to <= wish.day);
        if let Some(moved) = moved.filter(|_| !is_taken) {
            let from = text::day(moved.from, wish.day);
            one.why = format!("left on {from}, moved here");
            one.is_due = true;
            one.is_in = true;
        }
    }
    by_need(&mut all);
    all
}

/// The most needed first.
pub(super) fn by_need(all: &mut [Proposed]) {
    all.sort_by(|a, b| {
        (b.is_due, b.is_in)
            .cmp(&(a.is_due, a.is_in))
            .then(b.weight.total_cmp(&a.weight))
            .then_with(|| a.stop.id.cmp(&b.stop.id))
    });
}

fn of_side(
    card: &BrewerCard,
    circuit: &CircuitCard,
    brewer: &Brewer,
    wish: &WantedVisit,
) -> Proposed {
    let id = format!("{}-{}", card.id, circuit.circuit_id);
    let forecast = &circuit.forecast;
    let done = wish.foreseen.of_side(&id);
    let due = match done {
        // One clean later it is due as long after it as at the pace of today.
        Some(done) => days_after(done, forecast.between_cleans()),
        None => forecast.due.date,
    };
    let (why, is_due) = match (done, &circuit.running_clean, &circuit.acid) {
        (None, Some(_), _) => ("its clean is not over: go on with it".to_owned(), true),
        (None, None, Some(acid)) => (format!("acid is inside ({})", acid.text), true),
        _ => {
            let earliest = done.map_or(forecast.due.earliest, |_| due);
            by_due(due, earliest, wish)
        }
    };
    let (used, since) = match done {
        Some(done) => (0.0, done),
        None => (forecast.chalk.used, wish.today),
    };
    let ahead = f64::from(since.until(wish.next).map_or(0, |span| span.get_days()));
    let beyond = used + forecast.used_a_day * ahead - 1.0;
    Proposed {
        stop: Stop {
            id,
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
        is_in: is_due || due <= wish.next,
        weight: beyond.max(LEAST_WEIGHT),
    }
}

fn by_due(due: Date, earliest: Date, wish: &WantedVisit) -> (String, bool) {
    let day = wish.day;
    let told = text::day(due, day);
    if due < day {
        (format!("due since {told}"), true)
    } else if due == day {
        ("due that day".to_owned(), true)
    } else if due <= wish.next {
        (
            format!("falls due about {told}, before you come again"),
            false,
        )
    } else {
        let earliest = text::day(earliest.max(day), day);
        (format!("not before {earliest}"), false)
    }
}

fn of_work(work: &Upkeep, brewer: &Brewer, wish: &WantedVisit) -> Option<Proposed> {
    let id = format!("{}-{}", brewer.id, work.job.key());
    let due = match wish.foreseen.of_work(&id, &brewer.id, work.job) {
        Some(done) => days_after(done, i32::try_from(work.days?).unwrap_or(i32::MAX)),
        None => work.due?,
    };
    let soon = work.keeps_running && due <= wish.next;
    let is_due = due <= wish.day && (work.is_asked || work.keeps_running);
    if !is_due && !soon {
        return None;
    }
    let told = text::day(due, wish.day);
    // The needles have a plan of their own.
    let (kind, job) = if work.job == Job::Needles {
        (Work::Needles, None)
    } else {
        (Work::Upkeep, Some(work.job))
    };
    Some(Proposed {
        stop: Stop {
            id,
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

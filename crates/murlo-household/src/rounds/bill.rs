//! What a visit took, and what it is worth: lines that the person edits, or a gift.

use super::{Bill, BillLine, Task, VisitCourse};
use jiff::Timestamp;
use murlo_base::text;
use murlo_brewer::home::{Home, Pay};
use murlo_chalk::money::{Cost, Terms};
use murlo_clean::Closed;
use murlo_plan::Work;
use serde::Serialize;
use std::collections::HashMap;

/// What a visit took.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Spent {
    /// Minutes of hands, rooms among them.
    pub hands_min: f64,
    /// Minutes near a brewer at work.
    pub near_min: f64,
    /// Minutes from its start to its end.
    pub elapsed_min: f64,
}

impl Spent {
    /// What the cleans and rooms of a visit took: as planned, corrected by what was seen of each clean's steps.
    #[must_use]
    pub fn of(tasks: &[Task], rooms_min: u32, (from, to): (Timestamp, Timestamp)) -> Self {
        let mut spent = Self {
            hands_min: f64::from(rooms_min),
            elapsed_min: (to.duration_since(from).as_secs_f64() / 60.0).max(0.0),
            ..Self::default()
        };
        for task in tasks {
            let Some(begun) = &task.begun else { continue };
            let took = begun.state.outcome.iter().flat_map(|outcome| &outcome.took);
            let slower: f64 = took.map(|step| step.took_min - step.usual_min).sum();
            let planned = task.plan.ribbon.hands_on_min;
            spent.hands_min += (planned + slower).clamp(planned / 3.0, planned * 3.0);
            spent.near_min += task.plan.ribbon.near_min;
        }
        spent
    }

    /// "52 min of hands and 31 min beside brewers, in 1 h 40 min".
    #[must_use]
    pub fn text(&self) -> String {
        let near = match self.near_min {
            min if min >= 0.5 => format!(" and {} beside brewers", text::minutes(min)),
            _ => String::new(),
        };
        let (hands, all) = (
            text::minutes(self.hands_min),
            text::minutes(self.elapsed_min),
        );
        format!("{hands} of hands{near}, in {all}")
    }
}

/// One home of a visit, with what is paid for there.
pub struct AtHome<'h> {
    /// The home.
    pub home: &'h Home,
    /// Minutes somebody was there.
    pub there_min: f64,
    /// Agents, filters and water used there.
    pub material: f64,
    /// What was done there that has a price of its own.
    pub extras: Vec<BillLine>,
}

/// How long somebody was at each home of a visit, in the order in which they are gone to; a way between two of them takes
/// `between_min`, and is time at neither.
#[must_use]
pub fn at_homes<'h>(
    (homes, between_min): (&[&'h Home], u32),
    course: &VisitCourse,
    tasks: &[Task],
    (from, to): (Timestamp, Timestamp),
) -> Vec<AtHome<'h>> {
    let mut there: HashMap<&str, f64> = HashMap::new();
    let mut now = homes.first().map_or("", |home| home.id.as_str());
    let mut since = from;
    let minutes = |from: Timestamp, to: Timestamp| to.duration_since(from).as_secs_f64() / 60.0;
    for (home, at) in &course.arrivals {
        let is_way = home != now;
        let way = if is_way { f64::from(between_min) } else { 0.0 };
        *there.entry(now).or_default() += (minutes(since, *at) - way).max(0.0);
        (now, since) = (home, *at);
    }
    *there.entry(now).or_default() += minutes(since, to).max(0.0);
    let each = homes.iter().map(|home| {
        let here: Vec<&Task> = tasks
            .iter()
            .filter(|task| task.home_id == home.id && task.begun.is_some())
            .collect();
        let material = here.iter().filter_map(|task| task.plan.cost.as_ref());
        AtHome {
            home,
            there_min: there.get(home.id.as_str()).copied().unwrap_or_default(),
            material: material.map(Cost::material).sum(),
            extras: here
                .iter()
                .filter(|task| is_finished(task))
                .filter_map(|task| extra(home, task))
                .collect(),
        }
    });
    each.collect()
}

/// What was given up has no price of its own.
fn is_finished(task: &Task) -> bool {
    let closed = task.begun.as_ref().and_then(|begun| begun.state.closed);
    closed == Some(Closed::Finished)
}

fn extra(home: &Home, task: &Task) -> Option<BillLine> {
    let price = match task.plan.work {
        Work::Descale => home.descaling_price,
        Work::Needles => home.needles_price,
        Work::Rehearsal | Work::Upkeep => None,
    };
    price.filter(|price| *price > 0.0).map(|amount| BillLine {
        what: format!("{}, {}", task.name, task.what()),
        amount,
    })
}

/// The bill that the figures give, home by home; nothing is charged where nobody said what an hour is worth.
#[must_use]
pub fn suggested(homes: &[AtHome], terms: &Terms) -> Bill {
    let mut lines = Vec::new();
    let (mut way_min, mut way) = (0.0, 0.0);
    for at in homes {
        let named = |what: String| match homes {
            [_] => what,
            _ => format!("{}: {what}", at.home.name),
        };
        let by_hour = match at.home.pay {
            Pay::Usual => terms.hourly_rate,
            Pay::Hour { rate } => Some(rate),
            Pay::Fixed { price } => {
                lines.push(line(named("Fixed price".to_owned()), price));
                None
            }
            // What is given is given whole.
            Pay::Gift => continue,
        };
        if let Some(rate) = by_hour.filter(|rate| *rate > 0.0) {
            // What is paid is the time somebody was there, once, whatever hands did beside it; the way has a line of its own.
            if at.there_min >= 0.5 {
                let what = format!("Time there, {}", text::minutes(at.there_min));
                lines.push(line(named(what), rate * at.there_min / 60.0));
            }
            let minutes = f64::from(at.home.travel_min.unwrap_or_default());
            way_min += minutes;
            way += rate * minutes / 60.0;
        }
        lines.extend(at.extras.iter().cloned());
    }
    if way_min >= 0.5 {
        lines.push(line(format!("The way, {}", text::minutes(way_min)), way));
    }
    let paid = homes.iter().filter(|at| at.home.pay != Pay::Gift);
    let material: f64 = paid.map(|at| at.material).sum();
    if material >= 0.005 {
        lines.push(line("Agents and parts".to_owned(), material));
    }
    Bill {
        lines,
        is_gift: !homes.is_empty() && homes.iter().all(|at| at.home.pay == Pay::Gift),
    }
}

fn line(what: String, amount: f64) -> BillLine {
    let amount = (amount * 100.0).round() / 100.0;
    BillLine { what, amount }
}

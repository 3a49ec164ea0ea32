//! What a visit took, and what it is worth: lines that the person edits, or a gift.

use super::{Begun, Bill, BillLine, LineOf, Task, TimeThere, VisitCourse};
use crate::stock::{Supply, SupplyKind};
use jiff::Timestamp;
use murlo_base::text;
use murlo_base::units::Units;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::{Bottle, Home, Pay};
use murlo_brewer::offer::Offer;
use murlo_chalk::money::{Terms, cents};
use murlo_chalk::upkeep::job_of;
use murlo_clean::{Closed, Outcome, took_agents};
use murlo_plan::Work;
use serde::Serialize;
use std::collections::{BTreeMap, HashMap};

/// Letters of a line, names of sixty among them.
const LONGEST: usize = 200;

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

/// What is known of prices when a bill is made.
#[derive(Clone, Copy)]
pub struct MaterialPrices<'a> {
    /// Agents, with where they are bought.
    pub agents: &'a [Agent],
    /// What is counted by the piece.
    pub supplies: &'a [Supply],
    /// Units to read.
    pub units: Units,
}

/// One home of a visit, with what is paid for there.
pub struct AtHome<'h> {
    /// The home.
    pub home: &'h Home,
    /// Minutes somebody was there.
    pub there_min: f64,
    /// What was used up there, of one's own.
    pub material: Vec<BillLine>,
    /// What was done there that has a price of its own.
    pub extras: Vec<BillLine>,
}

impl AtHome<'_> {
    fn time(&self) -> TimeThere {
        TimeThere {
            home: self.home.id.clone(),
            minutes: (self.there_min * 10.0).round() / 10.0,
        }
    }
}

/// Minutes at each home of a visit, by its id: the homes in the order in which they are gone to; a way between two of them takes
/// `between_min`, and is time at neither.
#[must_use]
pub fn minutes_there<'h>(
    (homes, between_min): (&[&'h Home], u32),
    course: &VisitCourse,
    (from, to): (Timestamp, Timestamp),
) -> Vec<(&'h Home, f64)> {
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
        let minutes = there.get(home.id.as_str()).copied();
        (*home, minutes.unwrap_or_default())
    });
    each.collect()
}

/// The homes of a visit, with how long somebody was at each and what was done and used up there.
#[must_use]
pub fn at_homes<'h>(
    homes: (&[&'h Home], u32),
    course: &VisitCourse,
    (tasks, prices): (&[Task], MaterialPrices),
    span: (Timestamp, Timestamp),
) -> Vec<AtHome<'h>> {
    let each = minutes_there(homes, course, span);
    let each = each.into_iter().map(|(home, there_min)| {
        let here = tasks.iter().filter(|task| task.home_id == home.id);
        let begun: Vec<(&Task, &Begun)> = here
            .filter_map(|task| Some((task, task.begun.as_ref()?)))
            .collect();
        let finished = begun
            .iter()
            .filter(|(_, begun)| begun.state.closed == Some(Closed::Finished));
        AtHome {
            home,
            there_min,
            material: material(&begun, prices),
            // What was given up has no price of its own.
            extras: finished.filter_map(|(task, _)| extra(home, task)).collect(),
        }
    });
    each.collect()
}

/// What went into the baths, as it was poured, and what went by the piece; nothing of what other people had, or of what nobody
/// gave a price.
fn material(begun: &[(&Task, &Begun)], prices: MaterialPrices) -> Vec<BillLine> {
    let mut poured: BTreeMap<&str, f64> = BTreeMap::new();
    let mut pieces: Vec<(SupplyKind, u32)> = Vec::new();
    for (task, Begun { state, .. }) in begun {
        let outcome = state.outcome.as_ref();
        if task.plan.bottle == Bottle::Own {
            let took = outcome.map_or_else(|| took_agents(&state.poured), Outcome::took_agents);
            for (id, amount) in took {
                *poured.entry(id).or_default() += amount;
            }
        }
        let besides = outcome.map(|outcome| outcome.told_besides("", "", ""));
        let jobs = besides
            .iter()
            .flatten()
            .filter_map(|entry| job_of(&entry.what));
        for kind in jobs.filter_map(SupplyKind::of) {
            match pieces.iter_mut().find(|(known, _)| *known == kind) {
                Some((_, n)) => *n += 1,
                None => pieces.push((kind, 1)),
            }
        }
    }
    let agents = poured.into_iter().filter_map(|(id, number)| {
        let agent = prices.agents.iter().find(|agent| agent.id == id)?;
        let each = cheapest(&agent.offers)?;
        let amount = agent.amount_text(agent.amount(number), prices.units);
        Some((format!("{}, {amount}", agent.name), each * number))
    });
    let pieces = pieces.into_iter().filter_map(|(kind, n)| {
        let supply = prices.supplies.iter().find(|supply| supply.kind == kind)?;
        let each = cheapest(&supply.offers)?;
        Some((format!("{}, {n}", supply.name), each * f64::from(n)))
    });
    let lines = agents.chain(pieces).filter(|(_, amount)| *amount >= 0.005);
    lines
        .map(|(what, amount)| line(LineOf::Material, what, amount))
        .collect()
}

fn cheapest(offers: &[Offer]) -> Option<f64> {
    offers.iter().map(Offer::each).min_by(f64::total_cmp)
}

fn extra(home: &Home, task: &Task) -> Option<BillLine> {
    let price = match task.plan.work {
        Work::Descale => home.descaling_price,
        Work::Needles => home.needles_price,
        Work::Rehearsal | Work::Upkeep => None,
    };
    let what = format!("{}, {}", task.name, task.what());
    price
        .filter(|price| *price > 0.0)
        .map(|amount| line(LineOf::Work, what, amount))
}

/// The bill that the figures give, home by home; nothing is charged where nobody said what an hour is worth.
#[must_use]
pub fn suggested(homes: &[AtHome], terms: &Terms) -> Bill {
    let mut lines = Vec::new();
    // What is given is given whole.
    for at in homes.iter().filter(|at| at.home.pay != Pay::Gift) {
        let mut of_home = Vec::new();
        let by_hour = match at.home.pay {
            Pay::Usual => terms.hourly_rate,
            Pay::Hour { rate } => Some(rate),
            Pay::Fixed { price } => {
                of_home.push(line(LineOf::Time, "Fixed price".to_owned(), price));
                None
            }
            Pay::Gift => None,
        };
        if let Some(rate) = by_hour.filter(|rate| *rate > 0.0) {
            // What is paid is the time somebody was there, once, whatever hands did beside it; the way has a line of its own.
            let way_min = f64::from(at.home.travel_min.unwrap_or_default());
            for (of, what, minutes) in [
                (LineOf::Time, "Time there", at.there_min),
                (LineOf::Way, "The way", way_min),
            ] {
                if minutes >= 0.5 {
                    let what = format!("{what}, {}", text::minutes(minutes));
                    of_home.push(line(of, what, rate * minutes / 60.0));
                }
            }
        }
        of_home.extend(at.extras.iter().chain(&at.material).cloned());
        lines.extend(of_home.into_iter().map(|line| {
            BillLine {
                what: match homes {
                    [_] => line.what,
                    _ => format!("{}: {}", at.home.name, line.what)
                        .chars()
                        .take(LONGEST)
                        .collect(),
                },
                home: Some(at.home.id.clone()),
                ..line
            }
        }));
    }
    Bill {
        lines,
        is_gift: !homes.is_empty() && homes.iter().all(|at| at.home.pay == Pay::Gift),
        there: homes.iter().map(AtHome::time).collect(),
    }
}

fn line(of: LineOf, what: String, amount: f64) -> BillLine {
    BillLine {
        what,
        amount: cents(amount),
        home: None,
        of,
    }
}

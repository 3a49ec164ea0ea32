//! What a visit took, and what it is worth: lines that the person edits, or a gift.

use super::{Bill, BillLine, Task};
use jiff::Timestamp;
use murlo_base::text;
use murlo_chalk::money::{Cost, Terms};
use serde::Serialize;

/// What a visit took.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Spent {
    /// Minutes of hands, rooms among them.
    pub hands_min: f64,
    /// Minutes near a brewer at work.
    pub near_min: f64,
    /// Minutes on the way.
    pub travel_min: f64,
    /// Those of them that lie between its start and its end, from one home to the next.
    pub between_min: f64,
    /// Agents, filters and water, as far as their prices are known.
    pub material: f64,
    /// Minutes from its start to its end.
    pub elapsed_min: f64,
}

impl Spent {
    /// What the cleans and rooms of a visit took: as planned, corrected by what was seen of each clean's steps.
    #[must_use]
    pub fn of(
        tasks: &[Task],
        rooms_min: u32,
        (travel_min, between_min): (u32, u32),
        (from, to): (Timestamp, Timestamp),
    ) -> Self {
        let mut spent = Self {
            hands_min: f64::from(rooms_min),
            travel_min: f64::from(travel_min),
            between_min: f64::from(between_min),
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
            spent.material += task.plan.cost.as_ref().map_or(0.0, Cost::material);
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

/// The bill that the figures give; nothing is charged where nobody said what an hour is worth.
#[must_use]
pub fn suggested(spent: &Spent, terms: &Terms) -> Bill {
    let mut lines = Vec::new();
    let round = |amount: f64| (amount * 100.0).round() / 100.0;
    if let Some(rate) = terms.hourly_rate.filter(|rate| *rate > 0.0) {
        let mut time = |what: String, minutes: f64| {
            if minutes >= 0.5 {
                let amount = round(rate * minutes / 60.0);
                lines.push(BillLine { what, amount });
            }
        };
        // What is paid is the time somebody was there, once, whatever hands did beside it; the way has a line of its own.
        let there = (spent.elapsed_min - spent.between_min).max(0.0);
        time(format!("Time there, {}", text::minutes(there)), there);
        time(
            format!("The way, {}", text::minutes(spent.travel_min)),
            spent.travel_min,
        );
    }
    if spent.material >= 0.005 {
        lines.push(BillLine {
            what: "Agents and parts".to_owned(),
            amount: round(spent.material),
        });
    }
    Bill {
        lines,
        is_gift: false,
    }
}

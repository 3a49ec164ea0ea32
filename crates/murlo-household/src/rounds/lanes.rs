//! The weeks ahead: a lane for each home.

use super::Visit;
use crate::counter::BrewerCard;
use jiff::civil::Date;
use murlo_base::days::days_after;
use murlo_base::text;
use murlo_brewer::home::{Changeover, Home};
use murlo_chalk::scale::{Due, DueBy};
use serde::Serialize;
use std::collections::HashMap;

/// What a mark stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MarkKind {
    /// A brewer falls due within it.
    Due,
    /// A small work.
    Work,
    /// A visit that is planned.
    Visit,
    /// A visit that is over.
    Visited,
}

/// A mark on a lane; days count from the first day of the lanes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Mark {
    /// What it stands for.
    pub kind: MarkKind,
    /// The brewer or visit.
    pub id: String,
    /// "Lamp-room pod", "Visit".
    pub name: String,
    /// Its first day.
    pub from: i32,
    /// The day it is about.
    pub at: i32,
    /// Its last day.
    pub to: i32,
    /// Whether it is due or passed.
    pub is_due: bool,
    /// "Lamp-room pod: about 12 Dec, between 3 and 24 Dec".
    pub text: String,
}

/// Days of a home on which nobody is there, or guests change.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Days {
    /// The first.
    pub from: i32,
    /// The last.
    pub to: i32,
}

/// One home.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Lane {
    /// The home.
    pub home_id: String,
    /// Its name.
    pub name: String,
    /// Brewers in use there.
    pub brewers: u32,
    /// How many of their sides are due now.
    pub due: u32,
    /// What stands on it.
    pub marks: Vec<Mark>,
    /// Days away.
    pub away: Vec<Days>,
    /// Times without guests, where it is let.
    pub free: Vec<Days>,
    /// All of it in words.
    pub text: String,
}

/// The first day of a week.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Week {
    /// Days from the first day.
    pub at: i32,
    /// "1 Dec".
    pub label: String,
}

/// All homes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Lanes {
    /// The first day.
    pub from: Date,
    /// How many days.
    pub days: i32,
    /// The first day of each week in them.
    pub weeks: Vec<Week>,
    /// The homes, those with something due first.
    pub lanes: Vec<Lane>,
}

/// The lanes of `homes` for `days` days from `today` on.
#[must_use]
pub fn lanes(
    homes: &[Home],
    cards: &HashMap<&str, Vec<&BrewerCard>>,
    away: &HashMap<&str, Vec<(Date, Date)>>,
    visits: &[Visit],
    today: Date,
    days: i32,
    is_12_hours: bool,
) -> Lanes {
    let window = LaneWindow {
        today,
        days,
        is_12_hours,
    };
    let mut lanes: Vec<Lane> = homes
        .iter()
        .map(|home| {
            let cards = cards.get(home.id.as_str()).map_or(&[][..], Vec::as_slice);
            let away = away.get(home.id.as_str()).map_or(&[][..], Vec::as_slice);
            window.lane(home, cards, away, visits)
        })
        .collect();
    lanes.sort_by(|a, b| {
        let first = |lane: &Lane| {
            lane.marks
                .iter()
                .filter(|m| m.kind == MarkKind::Due)
                .map(|m| m.at)
                .min()
        };
        let key = |lane: &Lane| (lane.brewers == 0, std::cmp::Reverse(lane.due), first(lane));
        key(a).cmp(&key(b)).then_with(|| a.name.cmp(&b.name))
    });
    let until_monday = 7 - i32::from(today.weekday().to_monday_zero_offset());
    let mondays = (0..days).filter(|n| n % 7 == until_monday % 7);
    Lanes {
        from: today,
        days,
        weeks: mondays
            .map(|at| Week {
                at,
                label: text::day(days_after(today, at), today),
            })
            .collect(),
        lanes,
    }
}

struct LaneWindow {
    today: Date,
    days: i32,
    is_12_hours: bool,
}

/// With its window, where chalk decides.
fn mark_text(name: &str, told: &Due) -> String {
    match &told.window {
        Some(window) if told.by == DueBy::Chalk => format!("{name}: {}; {window}", told.text),
        Some(_) | None => format!("{name}: {}", told.text),
    }
}

impl LaneWindow {
    fn place(&self, day: Date) -> i32 {
        self.today.until(day).map_or(0, |span| span.get_days())
    }

    /// The part of a time that is within, if any.
    fn within(&self, from: Date, to: Date) -> Option<Days> {
        let (from, to) = (self.place(from), self.place(to));
        (to >= 0 && from < self.days && from <= to).then(|| Days {
            from: from.max(0),
            to: to.min(self.days - 1),
        })
    }

    fn lane(
        &self,
        home: &Home,
        cards: &[&BrewerCard],
        away: &[(Date, Date)],
        visits: &[Visit],
    ) -> Lane {
        let mut marks = Vec::new();
        let mut due = 0;
        for card in cards {
            for circuit in &card.circuits {
                let told = &circuit.forecast.due;
                let is_due = told.date <= self.today;
                due += u32::from(is_due);
                let latest = told.latest.max(told.date);
                let Some(span) = self.within(told.earliest.min(told.date), latest.max(self.today))
                else {
                    continue;
                };
                let name = match card.circuits.len() {
                    1 => card.nickname.clone(),
                    _ => format!("{}, {}", card.nickname, circuit.name),
                };
                marks.push(Mark {
                    kind: MarkKind::Due,
                    id: card.id.clone(),
                    name: name.clone(),
                    from: span.from,
                    at: self.place(told.date).max(0),
                    to: span.to,
                    is_due,
                    text: mark_text(&name, told),
                });
            }
            let works = card
                .upkeep
                .iter()
                .filter(|work| work.is_due || work.keeps_running);
            for work in works {
                let Some(day) = work.due.map(|day| day.max(self.today)) else {
                    continue;
                };
                let Some(span) = self.within(day, day) else {
                    continue;
                };
                marks.push(Mark {
                    kind: MarkKind::Work,
                    id: card.id.clone(),
                    name: work.name.clone(),
                    from: span.from,
                    at: span.from,
                    to: span.from,
                    is_due: work.is_due,
                    text: format!("{}: {}", card.nickname, work.text),
                });
            }
        }
        marks.extend(self.visits(home, cards, visits));
        let free = home.guests.as_ref().map_or_else(Vec::new, |guests| {
            guests.changeovers(self.today, days_after(self.today, self.days - 1))
        });
        let away: Vec<Days> = away
            .iter()
            .filter_map(|(from, to)| self.within(*from, *to))
            .collect();
        Lane {
            home_id: home.id.clone(),
            name: home.name.clone(),
            brewers: cards.len() as u32,
            due,
            text: self.told(cards, due, &marks, &away, &free),
            free: free
                .iter()
                .filter_map(|f| self.within(f.from, f.until.unwrap_or(Date::MAX)))
                .collect(),
            away,
            marks,
        }
    }

    fn visits<'v>(
        &'v self,
        home: &'v Home,
        cards: &'v [&BrewerCard],
        visits: &'v [Visit],
    ) -> impl Iterator<Item = Mark> + 'v {
        visits.iter().filter_map(move |visit| {
            let is_here = visit.rooms.iter().any(|room| room.home_id == home.id)
                || visit
                    .stops
                    .iter()
                    .any(|stop| cards.iter().any(|card| card.id == stop.brewer_id));
            let course = visit.course().ok().filter(|_| is_here)?;
            let is_over = course.closed_at.is_some();
            let span = self.within(visit.day, visit.day)?;
            let told = text::day(visit.day, self.today);
            Some(Mark {
                kind: if is_over {
                    MarkKind::Visited
                } else {
                    MarkKind::Visit
                },
                id: visit.id.clone(),
                name: "Visit".to_owned(),
                from: span.from,
                at: span.from,
                to: span.from,
                is_due: false,
                text: match is_over {
                    true => format!("visited on {told}"),
                    false => format!(
                        "visit on {told} at {}",
                        text::time(visit.from, self.is_12_hours)
                    ),
                },
            })
        })
    }

    fn told(
        &self,
        cards: &[&BrewerCard],
        due: u32,
        marks: &[Mark],
        away: &[Days],
        free: &[Changeover],
    ) -> String {
        let day = |n: i32| text::day(days_after(self.today, n), self.today);
        let mut told = vec![match (cards.len() as u32, due) {
            (0, _) => "no brewer".to_owned(),
            (n, 0) => format!("{}, none due", text::count(n, "brewer", "brewers")),
            (n, due) => format!("{}, {due} due now", text::count(n, "brewer", "brewers")),
        }];
        let soon = marks
            .iter()
            .filter(|m| m.kind == MarkKind::Due && !m.is_due && m.at < self.days);
        if let Some(first) = soon.min_by_key(|m| m.at) {
            told.push(first.text.clone());
        }
        let visits = marks.iter().filter(|m| m.kind == MarkKind::Visit);
        told.extend(visits.map(|m| m.text.clone()));
        told.extend(
            away.iter()
                .map(|d| format!("away {} to {}", day(d.from), day(d.to))),
        );
        if let Some(gap) = free.first() {
            told.push(match gap.until {
                Some(until) => format!(
                    "no guests {} {} to {} {}",
                    text::day(gap.from, self.today),
                    text::time(gap.out_by, self.is_12_hours),
                    text::day(until, self.today),
                    text::time(gap.in_from, self.is_12_hours)
                ),
                None => format!("no guests from {} on", text::day(gap.from, self.today)),
            });
        }
        told.join("; ")
    }
}

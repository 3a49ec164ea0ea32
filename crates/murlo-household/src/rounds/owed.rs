//! Who owes what: the bills of a month, home by home, as they were made when each visit was closed.

use super::{Bill, BillLine, KnownPlaces, LineOf, Visit, VisitCourse};
use jiff::civil::Date;
use jiff::tz::TimeZone;
use murlo_base::days::days_after;
use murlo_base::text;
use murlo_chalk::money::{Terms, cents};
use serde::Serialize;
use std::collections::BTreeMap;

/// A visit as a home owes it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OwedVisit {
    /// The visit.
    pub visit_id: String,
    /// The day on which it began.
    pub day: Date,
    /// Minutes somebody was there.
    pub minutes: f64,
    /// "1 h 45 min".
    pub time_text: String,
    /// "Time there, 1 h: $20.00", a line each.
    pub lines: Vec<String>,
    /// Of what was used up.
    pub material: f64,
    /// The sum; nothing for a gift.
    pub total: f64,
    /// "$36.20", "a gift".
    pub total_text: String,
    /// Whether it was given.
    pub is_gift: bool,
    /// When it was paid.
    pub paid_on: Option<Date>,
}

/// A home in a month.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OwedHome {
    /// The home.
    pub home_id: String,
    /// Its name.
    pub name: String,
    /// Its visits, the first one first.
    pub visits: Vec<OwedVisit>,
    /// "3 visits, 5 h 10 min".
    pub text: String,
    /// The sum of its visits.
    pub total: f64,
    /// "$96.20".
    pub total_text: String,
    /// What is not paid yet.
    pub open: f64,
    /// "$36.20 open", "not paid yet", "paid", "nothing to pay".
    pub open_text: String,
    /// The month as one writes it to the people there.
    pub letter: String,
}

/// Another month in which something is not paid.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OwedMonth {
    /// Its first day.
    pub month: Date,
    /// "Oct 2026: $40.00 open".
    pub text: String,
}

/// Who owes what of a month.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Owed {
    /// Its first day.
    pub month: Date,
    /// "November 2026".
    pub name: String,
    /// The first day of the month before.
    pub before: Date,
    /// The first day of the month after.
    pub after: Date,
    /// Homes, by name.
    pub homes: Vec<OwedHome>,
    /// "7 visits, 11 h 30 min; material $6.40".
    pub text: String,
    /// The sum of all homes.
    pub total: f64,
    /// "$180.40".
    pub total_text: String,
    /// What is not paid yet.
    pub open: f64,
    /// "$36.20 open", "not paid yet", "all paid".
    pub open_text: String,
    /// Earlier months in which something is open, the latest first.
    pub earlier: Vec<OwedMonth>,
}

/// The first and the last day of the month of `day`.
#[must_use]
pub fn month_of(day: Date) -> (Date, Date) {
    (day.first_of_month(), day.last_of_month())
}

/// What one home owes of one visit.
struct OwedPart<'a> {
    visit: &'a Visit,
    day: Date,
    home_id: String,
    minutes: f64,
    lines: Vec<&'a BillLine>,
    is_gift: bool,
}

impl OwedPart<'_> {
    fn total(&self) -> f64 {
        match self.is_gift {
            true => 0.0,
            false => cents(self.lines.iter().map(|line| line.amount).sum()),
        }
    }

    fn of(&self, kind: LineOf) -> f64 {
        let lines = self.lines.iter().filter(|line| line.of == kind);
        match self.is_gift {
            true => 0.0,
            false => cents(lines.map(|line| line.amount).sum()),
        }
    }

    fn paid_on(&self) -> Option<Date> {
        self.visit.paid.get(&self.home_id).copied()
    }

    /// What is not paid yet.
    fn open(&self) -> f64 {
        match self.paid_on() {
            Some(_) => 0.0,
            None => self.total(),
        }
    }

    fn shown(&self, terms: &Terms) -> OwedVisit {
        let lines = self.lines.iter();
        let told = |line: &&BillLine| format!("{}: {}", line.what, terms.amount(line.amount));
        OwedVisit {
            visit_id: self.visit.id.clone(),
            day: self.day,
            minutes: self.minutes,
            time_text: text::minutes(self.minutes),
            lines: lines.map(told).collect(),
            material: self.of(LineOf::Material),
            total: self.total(),
            total_text: match self.is_gift {
                true => "a gift".to_owned(),
                false => terms.amount(self.total()),
            },
            is_gift: self.is_gift,
            paid_on: self.paid_on(),
        }
    }
}

/// A household's closed visits with their bills.
pub struct Billed<'a> {
    places: KnownPlaces<'a>,
    courses: &'a [(&'a Visit, VisitCourse)],
    zone: &'a TimeZone,
}

impl<'a> Billed<'a> {
    /// What each home owes of each visit that is over.
    fn parts(&self) -> Vec<OwedPart<'a>> {
        let closed = self.courses.iter().filter_map(|(visit, course)| {
            let (began, ended) = (course.started_at?, course.closed_at?);
            Some((*visit, course, course.bill.as_ref()?, (began, ended)))
        });
        closed
            .flat_map(|(visit, course, bill, span)| self.of_visit(visit, course, bill, span))
            .collect()
    }

    fn of_visit(
        &self,
        visit: &'a Visit,
        course: &'a VisitCourse,
        bill: &'a Bill,
        (began, ended): (jiff::Timestamp, jiff::Timestamp),
    ) -> Vec<OwedPart<'a>> {
        let homes = self.places.of(visit, course);
        // A home that was put away still owes what it owes.
        let first = homes.first().map(|home| home.id.clone());
        let first = first
            .or_else(|| visit.homes.first().cloned())
            .unwrap_or_default();
        let mut ids: Vec<String> = vec![first.clone()];
        let others = homes.iter().map(|home| &home.id);
        let billed = bill.lines.iter().filter_map(|line| line.home.as_ref());
        for id in others.chain(billed) {
            if !ids.contains(id) {
                ids.push(id.clone());
            }
        }
        let day = self.zone.to_datetime(began).date();
        let elapsed = ended.duration_since(began).as_secs_f64().max(0.0) / 60.0;
        let parts = ids.into_iter().map(|home_id| {
            let is_here = |line: &&BillLine| match &line.home {
                Some(home) => *home == home_id,
                // What somebody typed stands with the first of several homes.
                None => home_id == first,
            };
            let there = bill.there.iter().find(|one| one.home == home_id);
            let usual = if home_id == first && bill.there.is_empty() {
                elapsed
            } else {
                0.0
            };
            OwedPart {
                visit,
                day,
                minutes: there.map_or(usual, |one| one.minutes),
                lines: bill.lines.iter().filter(is_here).collect(),
                is_gift: bill.is_gift,
                home_id,
            }
        });
        // Where nobody kept what was at which home, all of it is the first one's.
        let is_some =
            |part: &OwedPart| part.home_id == first || part.minutes > 0.0 || !part.lines.is_empty();
        parts.filter(is_some).collect()
    }
}

impl Owed {
    /// Of the month of `day`: visits with what happened in them, by the day on which they began. `name_of` also knows the homes
    /// that were put away.
    #[must_use]
    pub fn of(
        day: Date,
        (places, courses): (KnownPlaces, &[(&Visit, VisitCourse)]),
        name_of: impl Fn(&str) -> String,
        zone: &TimeZone,
        terms: &Terms,
    ) -> Self {
        let (first, last) = month_of(day);
        let billed = Billed {
            places,
            courses,
            zone,
        };
        let (of_month, others): (Vec<_>, Vec<_>) = billed
            .parts()
            .into_iter()
            .partition(|part| (first..=last).contains(&part.day));
        let mut by_home: BTreeMap<(String, String), Vec<&OwedPart>> = BTreeMap::new();
        for part in &of_month {
            let key = (name_of(&part.home_id), part.home_id.clone());
            by_home.entry(key).or_default().push(part);
        }
        let month = first.strftime("%B %Y").to_string();
        let homes = by_home.into_iter().map(|((name, home_id), mut parts)| {
            parts.sort_by_key(|part| (part.day, &part.visit.id));
            of_home((home_id, name), &parts, &month, terms)
        });
        let minutes: f64 = of_month.iter().map(|part| part.minutes).sum();
        let material: f64 = of_month.iter().map(|part| part.of(LineOf::Material)).sum();
        let mut visits: Vec<&str> = of_month.iter().map(|part| part.visit.id.as_str()).collect();
        visits.sort_unstable();
        visits.dedup();
        let mut told = format!(
            "{}, {}",
            text::count(visits.len() as u32, "visit", "visits"),
            text::minutes(minutes)
        );
        if material >= 0.005 {
            told += &format!("; material {}", terms.amount(material));
        }
        let total = cents(of_month.iter().map(OwedPart::total).sum());
        let open = cents(of_month.iter().map(OwedPart::open).sum());
        Self {
            month: first,
            before: month_of(days_after(first, -1)).0,
            after: days_after(last, 1),
            homes: homes.collect(),
            text: told,
            total,
            total_text: terms.amount(total),
            open,
            open_text: open_text(total, open, "all paid", terms),
            earlier: earlier(&others, first, terms),
            name: month,
        }
    }

    /// As lines of RFC 4180, amounts in the household's currency.
    #[must_use]
    pub fn csv(&self, terms: &Terms) -> String {
        let amount = match terms.currency.as_str() {
            "" => "amount".to_owned(),
            currency => format!("amount ({currency})"),
        };
        let material = amount.replace("amount", "of it material");
        let mut table = text::csv_line(&[
            "day (YYYY-MM-DD)",
            "home",
            "there (min)",
            &amount,
            &material,
            "gift",
            "paid on",
            "lines",
        ]);
        for home in &self.homes {
            for visit in &home.visits {
                table += &text::csv_line(&[
                    &visit.day.to_string(),
                    &home.name,
                    &format!("{:.0}", visit.minutes),
                    &format!("{:.2}", visit.total),
                    &format!("{:.2}", visit.material),
                    if visit.is_gift { "yes" } else { "" },
                    &visit
                        .paid_on
                        .map_or_else(String::new, |day| day.to_string()),
                    &visit.lines.join("; "),
                ]);
            }
        }
        table
    }
}

fn of_home(
    (home_id, name): (String, String),
    parts: &[&OwedPart],
    month: &str,
    terms: &Terms,
) -> OwedHome {
    let minutes: f64 = parts.iter().map(|part| part.minutes).sum();
    let total = cents(parts.iter().map(|part| part.total()).sum());
    let open = cents(parts.iter().map(|part| part.open()).sum());
    let visits: Vec<OwedVisit> = parts.iter().map(|part| part.shown(terms)).collect();
    let text = format!(
        "{}, {}",
        text::count(visits.len() as u32, "visit", "visits"),
        text::minutes(minutes)
    );
    OwedHome {
        letter: letter(&name, &visits, (total, open), month, terms),
        home_id,
        name,
        text,
        total_text: terms.amount(total),
        open_text: open_text(total, open, "paid", terms),
        visits,
        total,
        open,
    }
}

/// Plain words, to be sent.
fn letter(
    name: &str,
    visits: &[OwedVisit],
    (total, open): (f64, f64),
    month: &str,
    terms: &Terms,
) -> String {
    let mut lines = vec![format!("{name}, {month}"), String::new()];
    for visit in visits {
        lines.push(format!(
            "{}, {} there: {}",
            visit.day.strftime("%-d %b"),
            visit.time_text,
            visit.total_text
        ));
        if !visit.is_gift {
            lines.extend(visit.lines.iter().map(|line| format!("  {line}")));
        }
    }
    lines.push(String::new());
    lines.push(format!("Together {}", terms.amount(total)));
    if total > 0.0 && open < total {
        lines.push(match open > 0.0 {
            true => format!("Still to pay {}", terms.amount(open)),
            false => "Paid, with thanks".to_owned(),
        });
    }
    lines.join("\n")
}

fn open_text(total: f64, open: f64, paid: &str, terms: &Terms) -> String {
    match (total == 0.0, open == 0.0) {
        (true, true) => "nothing to pay".to_owned(),
        (false, true) => paid.to_owned(),
        (_, false) if cents(total - open) == 0.0 => "not paid yet".to_owned(),
        (_, false) => format!("{} open", terms.amount(open)),
    }
}

/// Months before `first` in which something is open.
fn earlier(parts: &[OwedPart], first: Date, terms: &Terms) -> Vec<OwedMonth> {
    let mut open: BTreeMap<Date, f64> = BTreeMap::new();
    for part in parts.iter().filter(|part| part.day < first) {
        *open.entry(month_of(part.day).0).or_default() += part.open();
    }
    let open = open
        .into_iter()
        .rev()
        .filter(|(_, open)| cents(*open) != 0.0);
    open.map(|(month, open)| OwedMonth {
        month,
        text: format!(
            "{}: {} open",
            month.strftime("%b %Y"),
            terms.amount(cents(open))
        ),
    })
    .collect()
}

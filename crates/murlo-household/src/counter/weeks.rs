//! What falls due in the coming weeks, over all brewers at once.

use super::BrewerCard;
use jiff::civil::Date;
use murlo_base::days::days_after;
use murlo_base::text;
use murlo_chalk::scale::{Due, DueBy, Urgency};
use serde::{Deserialize, Serialize};

/// So many weeks are shown.
const WEEKS: i32 = 8;

/// A brewer that is expected to fall due in a week.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FallsDue {
    /// The brewer.
    pub brewer_id: String,
    /// Its nickname.
    pub nickname: String,
    /// "about 16 Dec".
    pub on: String,
}

/// One of the coming weeks.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ComingWeek {
    /// Its first day.
    pub from: Date,
    /// "30 Nov".
    pub label: String,
    /// The chance that anything falls due in it, of 1.
    pub chance: f64,
    /// What is expected in it, the first one first.
    pub brewers: Vec<FallsDue>,
    /// "30 Nov to 6 Dec: Kiln drip, about 2 Dec"; "nothing is expected".
    pub text: String,
}

/// The chance that it is due by the end of `day`: one in ten by its earliest day, one in two by the day that is said, nine in ten by
/// its latest; straight between them, and on to none and all as steeply. What goes by days or brews falls on its day.
fn chance_by(due: &Due, day: Date) -> f64 {
    let after = |from: Date, to: Date| f64::from((to - from).get_days());
    match due.by {
        DueBy::Chalk => {}
        DueBy::Light | DueBy::Days | DueBy::Brews | DueBy::Hygiene => {
            return if day >= due.date { 1.0 } else { 0.0 };
        }
    }
    let (early, late) = (
        after(due.earliest, due.date).max(1.0),
        after(due.date, due.latest).max(1.0),
    );
    let from = after(due.date, day);
    let share = match from < 0.0 {
        true => 0.5 + 0.4 * from / early,
        false => 0.5 + 0.4 * from / late,
    };
    share.clamp(0.0, 1.0)
}

/// The coming weeks, from today on. What is due now stands on today's list and is in none of them.
#[must_use]
pub fn coming_weeks(cards: &[BrewerCard], today: Date) -> Vec<ComingWeek> {
    let later = |card: &&BrewerCard| match card.urgency {
        Urgency::Overdue | Urgency::Due => false,
        Urgency::Soon | Urgency::Fresh => card.running_clean.is_none(),
    };
    let later: Vec<_> = cards.iter().filter(later).collect();
    (0..WEEKS)
        .map(|n| week(&later, days_after(today, 7 * n)))
        .collect()
}

fn week(cards: &[&BrewerCard], from: Date) -> ComingWeek {
    let (last, before) = (days_after(from, 6), days_after(from, -1));
    let first = |card: &BrewerCard| {
        let first = card
            .circuits
            .iter()
            .find(|c| c.circuit_id == card.first_due)?;
        Some(first.forecast.due.clone())
    };
    let due: Vec<_> = cards
        .iter()
        .filter_map(|card| Some((first(card)?, *card)))
        .collect();
    let chance = |due: &Due| chance_by(due, last) - chance_by(due, before);
    let none: f64 = due.iter().map(|(due, _)| 1.0 - chance(due)).product();
    let mut here: Vec<_> = due
        .iter()
        .filter(|(due, _)| (from..=last).contains(&due.date))
        .collect();
    here.sort_by(|a, b| (a.0.date, &a.1.nickname).cmp(&(b.0.date, &b.1.nickname)));
    // Within eight weeks nobody asks for the year.
    let day = |day| text::day(day, day);
    let brewers: Vec<_> = here
        .iter()
        .map(|(due, card)| FallsDue {
            brewer_id: card.id.clone(),
            nickname: card.nickname.clone(),
            on: match due.by {
                DueBy::Chalk => format!("about {}", day(due.date)),
                DueBy::Light | DueBy::Days | DueBy::Brews | DueBy::Hygiene => day(due.date),
            },
        })
        .collect();
    let named: Vec<_> = brewers
        .iter()
        .map(|one| format!("{}, {}", one.nickname, one.on))
        .collect();
    let named = match named.as_slice() {
        [] => "nothing is expected".to_owned(),
        named => named.join("; "),
    };
    ComingWeek {
        text: format!("{} to {}: {named}", day(from), day(last)),
        label: day(from),
        from,
        chance: 1.0 - none,
        brewers,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    fn due(by: DueBy) -> Due {
        Due {
            date: date(2026, 12, 20),
            earliest: date(2026, 12, 10),
            latest: date(2027, 1, 19),
            window: None,
            chalk_text: String::new(),
            days: 0,
            by,
            urgency: Urgency::Fresh,
            text: String::new(),
        }
    }

    #[test]
    fn the_chance_goes_through_what_is_said_of_the_day() {
        let chalk = due(DueBy::Chalk);
        for (day, chance) in [
            (date(2026, 12, 7), 0.0),
            (date(2026, 12, 8), 0.02),
            (date(2026, 12, 10), 0.1),
            (date(2026, 12, 15), 0.3),
            (date(2026, 12, 20), 0.5),
            (date(2027, 1, 4), 0.7),
            (date(2027, 1, 19), 0.9),
            (date(2027, 1, 26), 0.9933),
            (date(2027, 1, 27), 1.0),
        ] {
            assert!(
                (chance_by(&chalk, day) - chance).abs() < 1e-4,
                "{day}: {}",
                chance_by(&chalk, day)
            );
        }
        let days = due(DueBy::Days);
        assert_eq!(chance_by(&days, date(2026, 12, 19)), 0.0);
        assert_eq!(chance_by(&days, date(2026, 12, 20)), 1.0);
    }

    #[test]
    fn each_brewer_stands_in_the_week_of_its_day_and_what_is_due_in_none() {
        let today = date(2026, 12, 17);
        let house = crate::counter::tests::House::new();
        let known = house
            .facts()
            .cards(&[crate::counter::tests::brewer("a", "hard", 30)])
            .remove(0);
        let card = |name: &str, urgency, by| {
            let mut card = known.clone();
            name.clone_into(&mut card.id);
            name.clone_into(&mut card.nickname);
            card.urgency = urgency;
            card.circuits[0].forecast.due = due(by);
            card.first_due.clone_from(&card.circuits[0].circuit_id);
            card
        };
        let cards = [
            card("Kiln", Urgency::Soon, DueBy::Chalk),
            card("Lamp", Urgency::Fresh, DueBy::Hygiene),
            card("Duo", Urgency::Due, DueBy::Chalk),
        ];
        let weeks = coming_weeks(&cards, today);
        assert_eq!(weeks.len(), 8);
        assert_eq!(
            weeks[0].text,
            "17 Dec to 23 Dec: Kiln, about 20 Dec; Lamp, 20 Dec"
        );
        assert_eq!(weeks[1].text, "24 Dec to 30 Dec: nothing is expected");
        assert!((weeks[0].chance - 1.0).abs() < 1e-9);
        // 7 of the 30 days in which it goes from one in two to nine in ten.
        assert!(
            (weeks[1].chance - 0.4 * 7.0 / 30.0).abs() < 1e-9,
            "{}",
            weeks[1].chance
        );
        assert_eq!(weeks[2].label, "31 Dec");
        assert!(weeks[7].chance < 1e-9);
        assert!(
            coming_weeks(&[], today)
                .iter()
                .all(|week| week.chance == 0.0)
        );
    }
}

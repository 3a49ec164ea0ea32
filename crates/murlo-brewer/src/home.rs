//! A place where brewers stand, and what somebody who goes there must know.

use jiff::civil::{Date, Time};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// More minutes than these are no room and no way, but a day of their own.
const MINUTES: std::ops::RangeInclusive<u32> = 1..=600;
/// A home with more rooms than these is told in parts.
const ROOMS: usize = 40;
/// Stays that are kept of a home that is let.
const STAYS: usize = 1000;

/// A place where brewers stand.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Home {
    /// Identity.
    pub id: String,
    /// Its name.
    pub name: String,
    /// How one gets in.
    #[serde(default)]
    pub access: String,
    /// Whom one asks, and how.
    #[serde(default)]
    pub contact: String,
    /// Minutes on the way there.
    #[serde(default)]
    pub travel_min: Option<u32>,
    /// What else is cleaned there.
    #[serde(default)]
    pub rooms: Vec<Room>,
    /// When guests come and go, where it is let.
    #[serde(default)]
    pub guests: Option<Guests>,
    /// How warm it is there while nobody is.
    #[serde(default)]
    pub warmth: Warmth,
    /// How one is paid there.
    #[serde(default)]
    pub pay: Pay,
    /// What each descaled brewer costs besides.
    #[serde(default)]
    pub descaling_price: Option<f64>,
    /// What needles cost besides, where nothing else is done to a brewer.
    #[serde(default)]
    pub needles_price: Option<f64>,
}

/// How somebody is paid for coming to a home.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "by", rename_all = "snake_case", deny_unknown_fields)]
pub enum Pay {
    /// By the time there, at the household's own hour.
    #[default]
    Usual,
    /// By the time there, at an hour of its own.
    Hour {
        /// What an hour costs.
        rate: f64,
    },
    /// One price, however long it takes.
    Fixed {
        /// The price.
        price: f64,
    },
    /// Nothing: it is given.
    Gift,
}

impl Pay {
    fn check(self) -> Result<f64, Problem> {
        match self {
            Self::Usual | Self::Gift => Ok(0.0),
            Self::Hour { rate } => bounds::PRICE.check("pay.rate", rate),
            Self::Fixed { price } => bounds::PRICE.check("pay.price", price),
        }
    }
}

/// How warm a home is while nobody is there: water that stands is stale sooner where it is warm.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Warmth {
    /// Hardly heated, about 12 °C.
    Cool,
    /// As kitchens are, about 20 °C.
    #[default]
    Usual,
    /// In the sun or heated well, about 27 °C.
    Warm,
}

/// What grows in water grows twice as fast with so many degrees more. Judged.
const TWICE_C: f64 = 10.0;

impl Warmth {
    /// How much faster water is stale there than at 20 °C.
    #[must_use]
    pub fn pace(self) -> f64 {
        let warmer_c = match self {
            Self::Cool => -8.0,
            Self::Usual => 0.0,
            Self::Warm => 7.0,
        };
        2f64.powf(warmer_c / TWICE_C)
    }
}

/// A room, or anything else that is cleaned beside brewers.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Room {
    /// Identity within the home.
    pub id: String,
    /// Its name.
    pub name: String,
    /// Minutes of hands.
    pub minutes: u32,
}

/// When guests of a home that is let come and go.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Guests {
    /// Guests are gone by this time.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub out_by: Time,
    /// The next ones may come from this time on.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub in_from: Time,
    /// Their stays.
    #[serde(default)]
    pub stays: Vec<Stay>,
}

/// A stay of guests.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Stay {
    /// The day they come.
    pub from: Date,
    /// The day they leave.
    pub until: Date,
}

/// A time in which no guest is there.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Changeover {
    /// The day on which one may begin.
    pub from: Date,
    /// From this time on.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub out_by: Time,
    /// The day on which the next guests come; open where none are known.
    pub until: Option<Date>,
    /// They may come from this time on.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub in_from: Time,
}

impl Home {
    /// The one that a household starts with.
    #[must_use]
    pub fn starter() -> Self {
        Self::named("home", "Home")
    }

    /// A home of which nothing but its name is known.
    #[must_use]
    pub fn named(id: impl Into<String>, name: impl Into<String>) -> Self {
        Self {
            id: id.into(),
            name: name.into(),
            ..Self::default()
        }
    }

    /// Checks every field; texts come back without outer blanks.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn checked(&self) -> Result<Self, Problems> {
        let mut problems = Problems::default();
        let name = problems.note(text::name("name", &self.name));
        let mut optional = |field, given: &str| match given.trim() {
            "" => Some(String::new()),
            given => problems.note(text::note(field, given)),
        };
        let access = optional("access", &self.access);
        let contact = optional("contact", &self.contact);
        if let Some(minutes) = self.travel_min.filter(|min| *min > 0) {
            problems.note(span("travel_min", minutes));
        }
        if self.rooms.len() > ROOMS {
            let message = format!("give at most {ROOMS} rooms");
            problems
                .0
                .push(Problem::new(Code::TooMuch, "rooms", message));
        }
        let mut ids = HashSet::new();
        for room in &self.rooms {
            let place = format!("rooms.{}", room.id);
            problems.note(text::id("id", &room.id).map_err(|p| p.within(&place)));
            problems.note(text::name("name", &room.name).map_err(|p| p.within(&place)));
            problems.note(span("minutes", room.minutes).map_err(|p| p.within(&place)));
            if !ids.insert(&room.id) {
                let message = "this id stands here twice: give each room its own";
                problems
                    .0
                    .push(Problem::new(Code::Contradiction, "id", message).within(&place));
            }
        }
        problems.note(self.guests.as_ref().map_or(Ok(()), Guests::check));
        problems.note(self.pay.check());
        let prices = [
            ("descaling_price", self.descaling_price),
            ("needles_price", self.needles_price),
        ];
        for (field, price) in prices {
            problems.note(price.map_or(Ok(0.0), |price| bounds::PRICE.check(field, price)));
        }
        problems.or(Some(()))?;
        Ok(Self {
            name: name.unwrap_or_default(),
            access: access.unwrap_or_default(),
            contact: contact.unwrap_or_default(),
            ..self.clone()
        })
    }
}

fn span(field: &str, minutes: u32) -> Result<u32, Problem> {
    match MINUTES.contains(&minutes) {
        true => Ok(minutes),
        false => {
            let (least, most) = (MINUTES.start(), MINUTES.end());
            let message = format!("{minutes} minutes: give {least} to {most}");
            Err(Problem::new(Code::OutOfRange, field, message))
        }
    }
}

impl Guests {
    /// Nobody's stays, with the times at which guests usually change.
    pub const USUAL: Self = Self {
        out_by: jiff::civil::time(10, 0, 0, 0),
        in_from: jiff::civil::time(15, 0, 0, 0),
        stays: Vec::new(),
    };

    /// What stands against coming on `day`; nothing where no guest is there all day.
    #[must_use]
    pub fn mind(&self, day: Date, is_12_hours: bool) -> Option<String> {
        let leaves = self.stays.iter().any(|stay| stay.until == day);
        let comes = self.stays.iter().any(|stay| stay.from == day);
        let told = |time| text::time(time, is_12_hours);
        let (out, into) = (told(self.out_by), told(self.in_from));
        if self
            .stays
            .iter()
            .any(|stay| stay.from < day && day < stay.until)
        {
            return Some("guests are there all day".to_owned());
        }
        match (leaves, comes) {
            (true, true) => Some(format!("guests change between {out} and {into}")),
            (true, false) => Some(format!("guests leave: from {out} on")),
            (false, true) => Some(format!("guests come: until {into}")),
            (false, false) => None,
        }
    }

    /// From when and until when guests leave the home to others on `day`; where they are there all day it is not left.
    #[must_use]
    pub fn hours(&self, day: Date) -> (Option<Time>, Option<Time>) {
        let leaves = self.stays.iter().any(|stay| stay.until == day);
        let comes = self.stays.iter().any(|stay| stay.from == day);
        (leaves.then_some(self.out_by), comes.then_some(self.in_from))
    }

    fn check(&self) -> Result<(), Problem> {
        if self.stays.len() > STAYS {
            let message = format!("give at most {STAYS} stays");
            return Err(Problem::new(Code::TooMuch, "guests.stays", message));
        }
        match self.stays.iter().find(|stay| stay.until <= stay.from) {
            Some(stay) => {
                let message = format!(
                    "a stay from {} to {}: guests leave on a later day than they come",
                    stay.from, stay.until
                );
                Err(Problem::new(Code::Contradiction, "guests.stays", message))
            }
            None => Ok(()),
        }
    }

    /// The times from `from` on in which nobody is there, as far as stays are known; `until` bounds the search.
    #[must_use]
    pub fn changeovers(&self, from: Date, until: Date) -> Vec<Changeover> {
        let mut stays = self.stays.clone();
        stays.sort_unstable();
        let mut free = Vec::new();
        let mut gone: Option<Date> = None;
        for stay in &stays {
            if let Some(since) = gone
                && stay.from >= since
            {
                free.push((since, Some(stay.from)));
            }
            gone = gone.max(Some(stay.until));
        }
        free.extend(gone.map(|since| (since, None)));
        // A gap of no time at all, where one stay runs into the next, is none.
        let is_open = |(since, next): &(Date, Option<Date>)| match next {
            Some(next) => {
                *next >= from && *since <= until && (next > since || self.in_from > self.out_by)
            }
            None => *since <= until,
        };
        free.into_iter()
            .filter(is_open)
            .map(|(since, next)| Changeover {
                from: since,
                out_by: self.out_by,
                until: next,
                in_from: self.in_from,
            })
            .collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::{date, time};

    fn let_to(stays: &[(Date, Date)]) -> Guests {
        Guests {
            out_by: time(10, 0, 0, 0),
            in_from: time(15, 0, 0, 0),
            stays: stays
                .iter()
                .map(|(from, until)| Stay {
                    from: *from,
                    until: *until,
                })
                .collect(),
        }
    }

    #[test]
    fn water_is_stale_twice_as_fast_ten_degrees_warmer() {
        for (warmth, pace) in [
            (Warmth::Cool, 0.574),
            (Warmth::Usual, 1.0),
            (Warmth::Warm, 1.625),
        ] {
            assert!((warmth.pace() - pace).abs() < 0.001, "{warmth:?}");
        }
    }

    #[test]
    fn a_home_keeps_what_is_told_of_it_without_outer_blanks() {
        let starter = Home::starter();
        assert_eq!(
            (starter.id.as_str(), starter.name.as_str()),
            ("home", "Home")
        );
        let told = Home {
            access: " key box, 4 ".to_owned(),
            contact: "Ola ".to_owned(),
            travel_min: Some(0),
            ..Home::named("h", " Houseboat ")
        };
        let kept = told.checked().unwrap();
        assert_eq!(
            (
                kept.id.as_str(),
                kept.name.as_str(),
                kept.access.as_str(),
                kept.contact.as_str()
            ),
            ("h", "Houseboat", "key box, 4", "Ola")
        );
    }

    #[test]
    fn a_price_of_a_home_is_nothing_or_more_and_bounded() {
        let most = bounds::PRICE.max;
        for (amount, fits) in [
            (0.0, true),
            (most, true),
            (-0.01, false),
            (most + 0.1, false),
            (f64::NAN, false),
        ] {
            let home = |change: &dyn Fn(&mut Home)| {
                let mut home = Home::named("h", "Houseboat");
                change(&mut home);
                let problems = home.checked().err();
                problems.map(|problems| problems.0[0].field.clone())
            };
            let named = |field: &str| (!fits).then(|| field.to_owned());
            let rate = Pay::Hour { rate: amount };
            let price = Pay::Fixed { price: amount };
            assert_eq!(home(&|h| h.pay = rate), named("pay.rate"), "{amount}");
            assert_eq!(home(&|h| h.pay = price), named("pay.price"), "{amount}");
            let extra = Some(amount);
            let field = "descaling_price";
            assert_eq!(home(&|h| h.descaling_price = extra), named(field));
            assert_eq!(home(&|h| h.needles_price = extra), named("needles_price"));
        }
        assert_eq!(Pay::default(), Pay::Usual);
    }

    #[test]
    fn what_a_home_cannot_be_is_named_by_its_field() {
        let home = |change: &dyn Fn(&mut Home)| {
            let mut home = Home::named("h", "Houseboat");
            change(&mut home);
            home.checked()
                .err()
                .map(|problems| problems.0[0].field.clone())
        };
        let stays = |n: usize| {
            let day = date(2026, 12, 1);
            let_to(&vec![(day, day.tomorrow().unwrap()); n])
        };
        let rooms = |n: usize| -> Vec<Room> {
            let room = |i| Room {
                id: format!("r{i}"),
                name: "Bedroom".to_owned(),
                minutes: 10,
            };
            (0..n).map(room).collect()
        };
        let most = *MINUTES.end();
        for (field, home) in [
            (None, home(&|h| h.travel_min = Some(most))),
            (Some("travel_min"), home(&|h| h.travel_min = Some(most + 1))),
            (None, home(&|h| h.rooms = rooms(ROOMS))),
            (Some("rooms"), home(&|h| h.rooms = rooms(ROOMS + 1))),
            (None, home(&|h| h.guests = Some(stays(STAYS)))),
            (
                Some("guests.stays"),
                home(&|h| h.guests = Some(stays(STAYS + 1))),
            ),
            (Some("name"), home(&|h| h.name = " ".to_owned())),
        ] {
            assert_eq!(home.as_deref(), field);
        }
    }

    #[test]
    fn nobody_is_there_between_two_stays() {
        let (a, b, c) = (date(2026, 12, 1), date(2026, 12, 4), date(2026, 12, 9));
        let guests = let_to(&[(b, date(2026, 12, 7)), (a, b), (c, date(2026, 12, 12))]);
        let free = guests.changeovers(a, date(2026, 12, 31));
        let days: Vec<_> = free.iter().map(|f| (f.from, f.until)).collect();
        assert_eq!(
            days,
            [
                (b, Some(b)),
                (date(2026, 12, 7), Some(c)),
                (date(2026, 12, 12), None)
            ]
        );
        // What is over, and what begins later, is not told.
        assert_eq!(guests.changeovers(date(2026, 12, 10), c).len(), 0);
        assert_eq!(guests.changeovers(date(2026, 12, 9), c).len(), 1);
        assert_eq!(let_to(&[]).changeovers(a, c), []);
        // Stays that overlap leave no time between them, and neither does a house that is handed over at once.
        assert_eq!(
            let_to(&[(a, c), (b, date(2026, 12, 7))])
                .changeovers(a, c)
                .len(),
            1
        );
        let mut at_once = let_to(&[(a, b), (b, c)]);
        at_once.in_from = at_once.out_by;
        assert_eq!(at_once.changeovers(a, b), []);
    }

    #[test]
    fn guests_are_minded_on_the_days_they_are_there() {
        let day = |n| date(2026, 12, n);
        let guests = let_to(&[(day(1), day(4)), (day(4), day(7))]);
        for (on, told) in [
            (day(1), Some("guests come: until 15:00")),
            (day(2), Some("guests are there all day")),
            (day(3), Some("guests are there all day")),
            (day(4), Some("guests change between 10:00 and 15:00")),
            (day(7), Some("guests leave: from 10:00 on")),
            (day(8), None),
        ] {
            assert_eq!(guests.mind(on, false).as_deref(), told, "{on}");
        }
        let (out, into) = (Some(guests.out_by), Some(guests.in_from));
        for (on, hours) in [
            (day(1), (None, into)),
            (day(2), (None, None)),
            (day(4), (out, into)),
            (day(7), (out, None)),
            (day(8), (None, None)),
        ] {
            assert_eq!(guests.hours(on), hours, "{on}");
        }
    }

    #[test]
    fn a_wrong_field_is_named() {
        let room = |id: &str, minutes| Room {
            id: id.into(),
            name: "Bathroom".into(),
            minutes,
        };
        let home = |rooms| Home {
            rooms,
            ..Home::named("h", " Cottage ")
        };
        let good = home(vec![room("a", 1), room("b", 600)]).checked().unwrap();
        assert_eq!(good.name, "Cottage");
        let stays = let_to(&[(date(2026, 12, 4), date(2026, 12, 4))]);
        for (home, field) in [
            (home(vec![room("a", 0)]), "rooms.a.minutes"),
            (home(vec![room("a", 601)]), "rooms.a.minutes"),
            (home(vec![room("a", 5), room("a", 5)]), "rooms.a.id"),
            (home(vec![room("a", 5); 41]), "rooms"),
            (
                Home {
                    travel_min: Some(601),
                    ..home(vec![])
                },
                "travel_min",
            ),
            (
                Home {
                    access: "x".repeat(2001),
                    ..home(vec![])
                },
                "access",
            ),
            (
                Home {
                    guests: Some(stays),
                    ..home(vec![])
                },
                "guests.stays",
            ),
            (Home::named("h", " "), "name"),
        ] {
            assert_eq!(home.checked().unwrap_err().0[0].field, field);
        }
        let near = Home {
            travel_min: Some(0),
            ..home(vec![])
        };
        assert!(near.checked().is_ok());
    }
}

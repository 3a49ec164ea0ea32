//! A home, and what somebody who goes there must know.

use super::{Coming, Guests};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// More minutes than these are no room and no way, but a day of their own.
const MINUTES: std::ops::RangeInclusive<u32> = 1..=600;
/// A home with more rooms than these is told in parts.
const ROOMS: usize = 40;

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
    /// Whether a calendar that reads along may say that.
    #[serde(default)]
    pub calendar_has_way_in: bool,
    /// Whom one asks, and how.
    #[serde(default)]
    pub contact: String,
    /// Where mail to the people there goes; empty where nobody said.
    #[serde(default)]
    pub mail: String,
    /// Minutes on the way there.
    #[serde(default)]
    pub travel_min: Option<u32>,
    /// What else is cleaned there.
    #[serde(default)]
    pub rooms: Vec<Room>,
    /// When guests come and go, where it is let.
    #[serde(default)]
    pub guests: Option<Guests>,
    /// When somebody comes.
    #[serde(default)]
    pub coming: Coming,
    /// How warm it is there while nobody is.
    #[serde(default)]
    pub warmth: Warmth,
    /// How one is paid there.
    #[serde(default)]
    pub pay: Pay,
    /// Whose agent goes into its baths.
    #[serde(default)]
    pub bottle: Bottle,
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

/// Whose agent goes into the baths of a home.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Bottle {
    /// One's own: it goes from the cupboard, and is charged.
    #[default]
    Own,
    /// That of the people there: it is neither counted nor charged.
    Theirs,
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
        let mail = match self.mail.trim() {
            "" => Some(String::new()),
            given => problems.note(text::mail_address("mail", given)),
        };
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
        let coming = self.coming.check(self.guests.is_some());
        problems.note(coming.map_err(|p| p.within("coming")));
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
            mail: mail.unwrap_or_default(),
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::home::guests::STAYS;
    use crate::home::guests::tests::let_to;
    use jiff::civil::date;

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
            mail: " ola@harbour.example".to_owned(),
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
        assert_eq!(kept.mail, "ola@harbour.example");
        let unreached = Home {
            mail: "Ola".to_owned(),
            ..told
        };
        assert_eq!(unreached.checked().unwrap_err().0[0].field, "mail");
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

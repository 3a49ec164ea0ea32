//! The devices of a household and whose they are, the codes by which they are taken in, and what each kind may do.

use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use serde::{Deserialize, Serialize};

/// A device stays signed in this long.
pub const SIGNED_IN: SignedDuration = SignedDuration::from_hours(24 * 180);

/// A code to take a device in holds this long, and once.
pub const CODE_HOLDS: SignedDuration = SignedDuration::from_mins(5);

/// A link to look holds at most this long, in days; a longer one is forgotten about. Judged.
const LOOK_DAYS: i32 = 366;

/// Letters and digits that nobody takes for one another, read aloud or off a screen.
const LETTERS: &[u8; 32] = b"0123456789ABCDEFGHJKMNPQRSTVWXYZ";

/// What a device may do.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum DeviceKind {
    /// Everything.
    Full,
    /// Plans, does and logs; no prices, devices, settings, or moving of the whole household.
    Helper,
    /// Looks at what was done at one home, and at nothing else.
    Look {
        /// The home.
        home_id: String,
        /// The last day on which it may.
        until: Date,
    },
    /// Tells how much one brewer brewed, and nothing else.
    Counts {
        /// The brewer.
        brewer_id: String,
    },
}

/// A device of the household.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Device {
    /// "Phone in the hall".
    pub name: String,
    /// Whose it is; absent where nobody said.
    #[serde(default)]
    pub person: Option<String>,
    /// What it may do.
    #[serde(flatten)]
    pub kind: DeviceKind,
}

impl Device {
    /// One with names as they are kept.
    ///
    /// # Errors
    /// A name of nothing, or one too long; a look that is over, or far ahead.
    pub fn checked(self, today: Date) -> Result<Self, Problems> {
        let mut problems = Problems::default();
        let name = problems.note(text::name("name", &self.name));
        let person = self
            .person
            .as_deref()
            .filter(|person| !person.trim().is_empty());
        let person = problems.note(
            person
                .map(|person| text::name("person", person))
                .transpose(),
        );
        if let DeviceKind::Look { until, .. } = self.kind {
            let last = today.saturating_add(jiff::Span::new().days(LOOK_DAYS));
            if until < today || until > last {
                let message = format!("give a day from today to {}", text::day(last, today));
                problems
                    .0
                    .push(Problem::new(Code::OutOfRange, "until", message));
            }
        }
        match (name, person) {
            (Some(name), Some(person)) if problems.0.is_empty() => Ok(Self {
                name,
                person,
                kind: self.kind,
            }),
            _ => Err(problems),
        }
    }

    /// When it is signed out by itself, where the household's days are those of `zone`.
    #[must_use]
    pub fn ends_at(&self, made_at: Timestamp, zone: &TimeZone) -> Timestamp {
        match self.kind {
            // A plug that counts is forgotten about: it goes on until somebody cuts it off.
            DeviceKind::Counts { .. } => Timestamp::MAX,
            DeviceKind::Full | DeviceKind::Helper => {
                made_at.saturating_add(SIGNED_IN).unwrap_or(Timestamp::MAX)
            }
            DeviceKind::Look { until, .. } => {
                let next = until.tomorrow().unwrap_or(until).to_zoned(zone.clone());
                next.map_or(Timestamp::MAX, |next| next.timestamp())
            }
        }
    }
}

/// A code of eight letters and digits, as it is shown: "K7QM-2XPD".
///
/// # Example
/// ```
/// use murlo_household::devices::{code, read_code};
/// assert_eq!(code([0, 0, 0, 0, 1]), "0000-0001");
/// assert_eq!(read_code(" k7qm 2xpd"), Ok("K7QM-2XPD".to_owned()));
/// ```
#[must_use]
pub fn code(random: [u8; 5]) -> String {
    let bits = random
        .iter()
        .fold(0_u64, |all, byte| all << 8 | u64::from(*byte));
    let letter = |n: u32| char::from(LETTERS[(bits >> (5 * (7 - n)) & 31) as usize]);
    let half = |range: std::ops::Range<u32>| range.map(letter).collect::<String>();
    format!("{}-{}", half(0..4), half(4..8))
}

/// A code as somebody typed it.
///
/// # Errors
/// `WrongType` when it cannot be one.
pub fn read_code(typed: &str) -> Result<String, Problem> {
    let letters: String = typed
        .chars()
        .filter(|c| !c.is_whitespace() && *c != '-')
        .map(|c| match c.to_ascii_uppercase() {
            'O' => '0',
            'I' | 'L' => '1',
            c => c,
        })
        .collect();
    let is_code = letters.len() == 8 && letters.bytes().all(|letter| LETTERS.contains(&letter));
    match is_code {
        true => Ok(format!("{}-{}", &letters[..4], &letters[4..])),
        false => Err(Problem::new(
            Code::WrongType,
            "code",
            "a code has eight letters and digits, such as K7QM-2XPD",
        )),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    const TODAY: Date = date(2026, 11, 23);

    fn device(kind: DeviceKind) -> Device {
        Device {
            name: " Hall phone ".to_owned(),
            person: Some("  ".to_owned()),
            kind,
        }
    }

    fn look(until: Date) -> DeviceKind {
        DeviceKind::Look {
            home_id: "pier".to_owned(),
            until,
        }
    }

    #[test]
    fn a_device_has_a_name_and_perhaps_a_person() {
        let kept = device(DeviceKind::Full).checked(TODAY).unwrap();
        assert_eq!((kept.name.as_str(), kept.person), ("Hall phone", None));
        let nameless = Device {
            name: " ".to_owned(),
            person: Some("x".repeat(81)),
            kind: DeviceKind::Helper,
        };
        let fields: Vec<_> = nameless
            .checked(TODAY)
            .unwrap_err()
            .0
            .into_iter()
            .map(|p| p.field)
            .collect();
        assert_eq!(fields, ["name", "person"]);
    }

    #[test]
    fn a_link_to_look_ends_within_a_year() {
        for (until, fits) in [
            (date(2026, 11, 22), false),
            (TODAY, true),
            (date(2027, 11, 24), true),
            (date(2027, 11, 25), false),
            (date(9999, 12, 31), false),
        ] {
            assert_eq!(device(look(until)).checked(TODAY).is_ok(), fits, "{until}");
        }
    }

    #[test]
    fn a_device_is_signed_out_after_half_a_year_and_a_look_after_its_day() {
        let zone = TimeZone::fixed(jiff::tz::offset(2));
        let made = "2026-11-23T12:00:00Z".parse().unwrap();
        for (kind, ends) in [
            (DeviceKind::Full, "2027-05-22T12:00:00Z"),
            (DeviceKind::Helper, "2027-05-22T12:00:00Z"),
            (look(TODAY), "2026-11-23T22:00:00Z"),
            (
                DeviceKind::Counts {
                    brewer_id: "kiln".to_owned(),
                },
                &Timestamp::MAX.to_string(),
            ),
        ] {
            assert_eq!(device(kind).ends_at(made, &zone).to_string(), ends);
        }
    }

    #[test]
    fn a_code_is_read_as_it_was_shown() {
        for (random, shown) in [
            ([0; 5], "0000-0000"),
            ([255; 5], "ZZZZ-ZZZZ"),
            ([0, 0, 0, 0, 31], "0000-000Z"),
            ([0, 0, 0, 0, 32], "0000-0010"),
            ([8, 0, 0, 0, 0], "1000-0000"),
        ] {
            assert_eq!(code(random), shown);
            assert_eq!(read_code(shown).as_deref(), Ok(shown));
            assert_eq!(
                read_code(&shown.replace('-', "").to_lowercase()).as_deref(),
                Ok(shown)
            );
        }
        for (typed, read) in [
            ("oOiI-lL00", Some("0011-1100")),
            ("0000-000", None),
            ("0000-00000", None),
            ("U000-0000", None),
            ("0000-000é", None),
            ("", None),
        ] {
            assert_eq!(read_code(typed).ok().as_deref(), read, "{typed}");
        }
    }
}

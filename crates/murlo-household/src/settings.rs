//! What holds for the whole household.

use jiff::civil::Date;
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::Units;
use murlo_base::{bounds, text};
use murlo_brewer::bath::Agent;
use murlo_brewer::home::{DaysOff, Home};
use murlo_brewer::job::Asks;
use murlo_brewer::rinse::Taste;
use serde::{Deserialize, Serialize};

/// What holds for the whole household.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Settings {
    /// Units to read.
    pub units: Units,
    /// IANA name of the time zone whose days count.
    pub time_zone: String,
    /// For whom is rinsed, where nobody with a keen nose is named.
    pub taste: Taste,
    /// People with a keen nose: it is rinsed for them, and they are asked to smell.
    #[serde(default)]
    pub noses: Vec<String>,
    /// Written before amounts of money as a sign, or after them as a word.
    #[serde(default)]
    pub currency: String,
    /// What an hour of one's own work is worth.
    #[serde(default)]
    pub hourly_rate: Option<f64>,
    /// Whether agents that smell are avoided.
    #[serde(default)]
    pub avoid_smell: bool,
    /// Cleans up to this day say nothing of the own pace any more.
    #[serde(default)]
    pub pace_after: Option<Date>,
    /// How times of day are written.
    #[serde(default)]
    pub clock: Clock,
    /// Single keys do nothing.
    #[serde(default)]
    pub keys_off: bool,
    /// For how much of the small works one wants to be asked.
    #[serde(default)]
    pub asks: Asks,
    /// Days on which one goes to no home.
    #[serde(default)]
    pub days_off: Vec<DaysOff>,
}

/// More keen noses than this are nobody's household.
const MOST_NOSES: usize = 12;

/// How times of day are written.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub enum Clock {
    /// As usual with the household's units: with 12 hours beside fluid ounces, with 24 beside litres.
    #[default]
    #[serde(rename = "usual")]
    Usual,
    /// 3:05 PM.
    #[serde(rename = "12")]
    Twelve,
    /// 15:05.
    #[serde(rename = "24")]
    TwentyFour,
}

/// Countries that measure in fluid ounces and gallons, as languages name them.
const CUSTOMARY: [&str; 3] = ["US", "LR", "MM"];

impl Settings {
    /// As a device writes that speaks `language`, such as "en-GB", and has a clock of 12 hours or 24.
    #[must_use]
    pub fn as_written(self, language: &str, has_12_hours: bool) -> Self {
        let mut parts = language.split(['-', '_']);
        let tongue = parts.next().unwrap_or_default().to_lowercase();
        let country = parts.find(|part| part.len() == 2).map(str::to_uppercase);
        let are_customary = match country {
            Some(country) => CUSTOMARY.contains(&country.as_str()),
            // English of no country is mostly that of the United States.
            None => tongue == "en",
        };
        let units = if are_customary {
            Units::Us
        } else {
            Units::Metric
        };
        let clock = match (units.are_customary(), has_12_hours) {
            (usual, has) if usual == has => Clock::Usual,
            (_, true) => Clock::Twelve,
            (_, false) => Clock::TwentyFour,
        };
        Self {
            units,
            clock,
            ..self
        }
    }

    /// Whether times of day are written with 12 hours.
    #[must_use]
    pub fn has_12_hours(&self) -> bool {
        match self.clock {
            Clock::Usual => self.units.are_customary(),
            Clock::Twelve => true,
            Clock::TwentyFour => false,
        }
    }

    /// Whose taste decides a rinse.
    #[must_use]
    pub fn rinses_for(&self) -> Taste {
        match self.noses.is_empty() {
            true => self.taste,
            false => Taste::Strict,
        }
    }

    /// Checks the figures.
    ///
    /// # Errors
    /// One problem per field outside its range.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        if self.noses.len() > MOST_NOSES {
            let message = format!("name at most {MOST_NOSES} people");
            problems
                .0
                .push(Problem::new(Code::TooMuch, "noses", message));
        }
        for name in &self.noses {
            problems.note(text::name("noses", name));
        }
        if self.currency.chars().count() > 8 || self.currency.chars().any(char::is_control) {
            problems.0.push(Problem::new(
                Code::OutOfRange,
                "currency",
                "give a sign or a short word of up to 8 characters",
            ));
        }
        problems.note(DaysOff::check_all("days_off", &self.days_off));
        problems.note(
            self.pace_after
                .map_or(Ok(()), |day| bounds::day("pace_after", day)),
        );
        problems.note(
            self.hourly_rate
                .map_or(Ok(0.0), |rate| bounds::PRICE.check("hourly_rate", rate)),
        );
        problems.or(Some(()))
    }
}

impl Default for Settings {
    fn default() -> Self {
        Self {
            units: Units::Us,
            time_zone: "UTC".to_owned(),
            taste: Taste::Usual,
            noses: Vec::new(),
            currency: String::new(),
            hourly_rate: None,
            avoid_smell: false,
            pace_after: None,
            clock: Clock::default(),
            keys_off: false,
            asks: Asks::default(),
            days_off: Vec::new(),
        }
    }
}

/// Whether these are what every household starts with, so that nobody has told it anything yet.
#[must_use]
pub fn is_as_it_starts(settings: &Settings, homes: &[Kept<Home>], agents: &[Kept<Agent>]) -> bool {
    let untouched = Settings {
        // These are taken from the machine it starts on, and from the first device.
        time_zone: settings.time_zone.clone(),
        units: settings.units,
        clock: settings.clock,
        ..Settings::default()
    };
    let starters = Agent::starters();
    *settings == untouched
        && homes
            .iter()
            .all(|h| !h.archived && h.fact == Home::starter())
        && agents
            .iter()
            .all(|a| !a.archived && starters.contains(&a.fact))
        && [0, starters.len()].contains(&agents.len())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn amounts_and_times_are_written_as_the_first_device_writes_them() {
        for (language, has_12_hours, units, clock) in [
            ("en-US", true, Units::Us, Clock::Usual),
            ("en-US", false, Units::Us, Clock::TwentyFour),
            ("es-US", true, Units::Us, Clock::Usual),
            ("en", true, Units::Us, Clock::Usual),
            ("en-GB", false, Units::Metric, Clock::Usual),
            ("en-AU", true, Units::Metric, Clock::Twelve),
            ("de-DE", false, Units::Metric, Clock::Usual),
            ("de", false, Units::Metric, Clock::Usual),
            ("zh-Hant-TW", true, Units::Metric, Clock::Twelve),
            ("en_us", true, Units::Us, Clock::Usual),
            ("", false, Units::Metric, Clock::Usual),
            ("nonsense", true, Units::Metric, Clock::Twelve),
        ] {
            let told = Settings::default().as_written(language, has_12_hours);
            assert_eq!((told.units, told.clock), (units, clock), "{language}");
            assert_eq!(told.has_12_hours(), has_12_hours, "{language}");
            assert!(is_as_it_starts(&told, &[], &[]), "nobody has told anything");
        }
    }
}

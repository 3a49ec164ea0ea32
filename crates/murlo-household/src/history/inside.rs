//! Acid that stayed inside when a clean ended.

use jiff::Timestamp;
use murlo_base::text;
use murlo_clean::AcidLeft;
use serde::{Deserialize, Serialize};

/// A clean that ended with acid inside.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AcidInside {
    /// The clean.
    pub clean_id: String,
    /// "ACID INSIDE for about 14 h, about 240 times what people notice. Do not brew."
    pub text: String,
    /// Since when the bath is inside; versions before it was kept did not tell.
    pub since: Option<Timestamp>,
    /// "about 240 times what people notice".
    pub times: String,
}

/// A bath that was poured in less than so long ago has not stood, minutes.
const STOOD: f64 = 5.0;

impl AcidInside {
    pub(crate) fn of(clean_id: &str, acid: &AcidLeft) -> Self {
        let inside = Self {
            clean_id: clean_id.to_owned(),
            text: String::new(),
            since: acid.since,
            times: acid.times(),
        };
        inside.at(None)
    }

    /// The same with how long it has stood at `now`.
    #[must_use]
    pub fn at(&self, now: Option<Timestamp>) -> Self {
        let minutes = now.zip(self.since);
        let minutes = minutes.map(|(now, since)| now.duration_since(since).as_secs_f64() / 60.0);
        let stood = minutes.filter(|minutes| *minutes >= STOOD).map(long);
        let stood = stood.map_or(String::new(), |long| format!(" for about {long}"));
        Self {
            text: format!("ACID INSIDE{stood}, {}. Do not brew.", self.times),
            ..self.clone()
        }
    }
}

/// "40 min", "14 h", "5 days".
fn long(minutes: f64) -> String {
    match minutes / 60.0 {
        hours if hours < 1.5 => text::minutes(minutes),
        hours if hours < 48.0 => format!("{hours:.0} h"),
        hours => text::span(hours / 24.0),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn how_long_acid_has_stood_is_told_as_people_say_it() {
        let since: Timestamp = "2026-11-01T08:00:00Z".parse().unwrap();
        let left = |since| AcidLeft {
            mg_l: 24_000.0,
            target_mg_l: 100.0,
            since,
        };
        let inside = AcidInside::of("c", &left(Some(since)));
        for (minutes, stood) in [
            (-3, ""),
            (4, ""),
            (5, " for about 5 min"),
            (89, " for about 1 h 29 min"),
            (90, " for about 2 h"),
            (14 * 60, " for about 14 h"),
            (47 * 60, " for about 47 h"),
            (48 * 60, " for about 2 days"),
            (30 * 24 * 60, " for about 4 weeks"),
        ] {
            let now = since + jiff::SignedDuration::from_mins(minutes);
            let expected =
                format!("ACID INSIDE{stood}, about 240 times what people notice. Do not brew.");
            assert_eq!(inside.at(Some(now)).text, expected, "{minutes}");
        }
        let unknown = AcidInside::of("c", &left(None));
        assert_eq!(unknown.at(Some(since)), unknown, "nobody told since when");
    }
}

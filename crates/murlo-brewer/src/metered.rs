//! Brews as something that watches the brewer saw them, one by one.

use crate::Brewer;
use crate::journal::{Entry, EntryDraft, What};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use serde::Deserialize;

/// So many are taken at once; what waited longer is sent in several goes.
const AT_ONCE: usize = 500;

/// A clock that watches may be ahead by so much.
const AHEAD: SignedDuration = SignedDuration::from_mins(5);

/// Before the id of a brew that something counted.
const METERED: &str = "meter-";

/// One brew that was seen.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct MeteredBrew {
    /// Made by what saw it, so that sending it again is harmless.
    pub id: String,
    /// When.
    pub at: Timestamp,
    /// How many cups; one unless said.
    #[serde(default = "one")]
    pub cups: f64,
}

const fn one() -> f64 {
    1.0
}

/// Brews of one brewer as entries, where its days are those of `zone`.
///
/// # Errors
/// One problem for each that cannot be: in the future, before the brewer was there, no number of cups, an id twice.
pub fn metered(
    brews: &[MeteredBrew],
    brewer: &Brewer,
    now: Timestamp,
    zone: &TimeZone,
) -> Result<Vec<Entry>, Problems> {
    let mut problems = Problems::default();
    let mut entries: Vec<Entry> = Vec::new();
    if brews.is_empty() || brews.len() > AT_ONCE {
        let message = format!("give 1 to {AT_ONCE} brews at once");
        return Err(Problem::new(Code::OutOfRange, "brews", message).into());
    }
    let today = now.to_zoned(zone.clone()).date();
    for (i, brew) in brews.iter().enumerate() {
        let field = format!("brews.{i}");
        if brew.at > now + AHEAD {
            let message = "that has not been yet: set the clock of what counts";
            let at = format!("{field}.at");
            problems.0.push(Problem::new(Code::OutOfRange, at, message));
            continue;
        }
        let id = text::id(&format!("{field}.id"), &brew.id);
        let Some(id) = problems.note(id) else {
            continue;
        };
        // One that is a little ahead of midnight is of today.
        let day = brew.at.to_zoned(zone.clone()).date().min(today);
        let draft = EntryDraft {
            id: format!("{METERED}{id}"),
            day,
            what: What::Brewed { cups: brew.cups },
        };
        let entry = draft.check(brewer, &[], today);
        let Some(entry) = problems.note(entry.map_err(|p| p.within(&field))) else {
            continue;
        };
        if entries.iter().any(|other| other.id == entry.id) {
            let message = "two brews have this id: give each its own";
            let id = format!("{field}.id");
            problems
                .0
                .push(Problem::new(Code::Contradiction, id, message));
        }
        entries.push(entry);
    }
    problems.or(Some(entries))
}

impl Entry {
    /// Whether something counted it, rather than somebody.
    #[must_use]
    pub fn is_metered(&self) -> bool {
        self.id.starts_with(METERED)
    }
}

/// Entries as they are shown: what was counted on one day is one line.
#[must_use]
pub fn by_day(entries: Vec<Entry>) -> Vec<Entry> {
    let mut shown: Vec<Entry> = Vec::new();
    for entry in entries {
        let same = shown
            .iter_mut()
            .rev()
            .take_while(|other| other.day == entry.day)
            .find(|other| entry.is_metered() && other.is_metered());
        match (same.map(|other| &mut other.what), &entry.what) {
            (Some(What::Brewed { cups }), What::Brewed { cups: more }) => *cups += more,
            _ => shown.push(entry),
        }
    }
    shown
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::journal::tests::brewer;
    use jiff::civil::date;

    fn brew(id: &str, at: &str, cups: f64) -> MeteredBrew {
        MeteredBrew {
            id: id.to_owned(),
            at: at.parse().unwrap(),
            cups,
        }
    }

    fn taken(brews: &[MeteredBrew]) -> Result<Vec<Entry>, Problems> {
        let zone = TimeZone::fixed(jiff::tz::offset(2));
        metered(
            brews,
            &brewer(),
            "2026-11-23T12:00:00Z".parse().unwrap(),
            &zone,
        )
    }

    #[test]
    fn a_brew_is_of_the_day_it_was_on_here() {
        let entries = taken(&[
            brew("late", "2026-11-22T22:30:00Z", 1.0),
            brew("early", "2026-11-22T21:30:00Z", 2.0),
        ])
        .unwrap();
        let days: Vec<_> = entries
            .iter()
            .map(|entry| (entry.id.as_str(), entry.day))
            .collect();
        assert_eq!(
            days,
            [
                ("meter-late", date(2026, 11, 23)),
                ("meter-early", date(2026, 11, 22))
            ]
        );
    }

    #[test]
    fn a_clock_ahead_of_midnight_counts_today() {
        let now = "2026-11-23T23:58:00Z".parse().unwrap();
        let early = brew("a", "2026-11-24T00:02:00Z", 1.0);
        let entries = metered(&[early], &brewer(), now, &TimeZone::UTC).unwrap();
        assert_eq!(entries[0].day, date(2026, 11, 23));
    }

    #[test]
    fn what_cannot_be_is_refused_by_its_place() {
        for (brews, field) in [
            (vec![], "brews"),
            (vec![brew("a", "2026-11-23T12:05:01Z", 1.0)], "brews.0.at"),
            (vec![brew("a b", "2026-11-23T12:00:00Z", 1.0)], "brews.0.id"),
            (
                vec![brew(&"a".repeat(64), "2026-11-23T12:00:00Z", 1.0)],
                "brews.0.id",
            ),
            (
                vec![brew("a", "2026-11-23T12:00:00Z", -1.0)],
                "brews.0.what.cups",
            ),
            (
                vec![brew("a", "2026-11-23T12:00:00Z", f64::NAN)],
                "brews.0.what.cups",
            ),
            (vec![brew("a", "1999-11-23T12:00:00Z", 1.0)], "brews.0.day"),
            (
                vec![brew("a", "2026-11-23T12:00:00Z", 1.0); 2],
                "brews.1.id",
            ),
            (
                (0..501)
                    .map(|n| brew(&format!("b{n}"), "2026-11-23T12:00:00Z", 1.0))
                    .collect(),
                "brews",
            ),
        ] {
            let refused = taken(&brews).unwrap_err();
            assert_eq!(refused.0[0].field, field, "{refused}");
        }
        assert!(
            taken(&[brew("a", "2026-11-23T12:05:00Z", 1.0)]).is_ok(),
            "its clock is a little ahead"
        );
        let all: Vec<_> = (0..500)
            .map(|n| brew(&format!("b{n}"), "2026-11-23T12:00:00Z", 1.0))
            .collect();
        assert_eq!(taken(&all).unwrap().len(), 500);
    }

    #[test]
    fn what_was_counted_on_a_day_is_one_line() {
        let mut entries = taken(&[
            brew("a", "2026-11-22T08:00:00Z", 1.0),
            brew("b", "2026-11-22T09:00:00Z", 2.0),
            brew("c", "2026-11-23T09:00:00Z", 1.0),
        ])
        .unwrap();
        entries.insert(
            1,
            Entry {
                id: "told".to_owned(),
                ..entries[0].clone()
            },
        );
        let cups: Vec<_> = by_day(entries)
            .into_iter()
            .map(|entry| (entry.id, entry.what))
            .collect();
        let brewed = |cups| What::Brewed { cups };
        assert_eq!(
            cups,
            [
                ("meter-a".to_owned(), brewed(3.0)),
                ("told".to_owned(), brewed(1.0)),
                ("meter-c".to_owned(), brewed(1.0)),
            ]
        );
    }
}

//! Small jobs beside descaling: the water filter and the needles.

use crate::brewer::{Brewer, Outlet};
use crate::journal::{Entry, What};
use crate::scale::days_after;
use crate::text;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// Which job.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Job {
    /// A new water filter.
    Filter,
    /// Clearing the needles.
    Needles,
}

/// A small job and how it stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Upkeep {
    /// Which.
    pub job: Job,
    /// Whether it is time.
    pub is_due: bool,
    /// "Filter good until about 12 Dec".
    pub text: String,
}

/// Needles are cleared at least this often.
const NEEDLE_DAYS: i32 = 90;

impl Upkeep {
    /// What `brewer` has to keep up with. What a clean did of it stands among the entries.
    #[must_use]
    pub fn of(brewer: &Brewer, entries: &[Entry], today: Date) -> Vec<Self> {
        let last = |what: &What| {
            entries
                .iter()
                .filter(|e| e.what == *what)
                .map(|e| e.day)
                .max()
        };
        let mut jobs = Vec::new();
        if let Some(filter) = &brewer.filter {
            let life = filter.life_days(brewer).round() as i32;
            jobs.push(last(&What::FilterFitted).map_or_else(
                || Self {
                    job: Job::Filter,
                    is_due: true,
                    text: format!(
                        "When its water filter was fitted is not known; one lasts about {} here",
                        text::count(life.unsigned_abs(), "day", "days")
                    ),
                },
                |fitted| {
                    let until = days_after(fitted, life);
                    let is_due = until <= today;
                    let day = text::day(until, today);
                    Self {
                        job: Job::Filter,
                        is_due,
                        text: if is_due {
                            format!("Water filter worn out since about {day}")
                        } else {
                            format!("Water filter good until about {day}")
                        },
                    }
                },
            ));
        }
        if brewer.circuits.iter().any(|c| c.outlet == Outlet::Pod) {
            let cleared = last(&What::NeedlesCleared);
            let since = cleared.unwrap_or(brewer.in_use_since);
            jobs.push(Self {
                job: Job::Needles,
                is_due: days_after(since, NEEDLE_DAYS) <= today,
                text: cleared.map_or_else(
                    || "Needles never cleared, as far as written down".to_owned(),
                    |day| format!("Needles last cleared {}", text::day(day, today)),
                ),
            });
        }
        jobs
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::brewer::{BrewerDraft, Family};
    use crate::units::Units;
    use jiff::civil::date;

    const TODAY: Date = date(2026, 11, 23);

    fn pod(fills: f64) -> Brewer {
        let start = date(2026, 1, 1);
        let template = BrewerDraft::template(Family::PodReservoir, Units::Metric, "h", "w", start);
        let draft = BrewerDraft {
            nickname: "pod".into(),
            reservoir: "1000 mL".into(),
            cup: "250 mL".into(),
            weekday_cups: 4.0,
            weekend_cups: 4.0,
            filter_fills: fills,
            ..template
        };
        draft.check("pod".into(), None, start).unwrap()
    }

    fn fitted(days: i32) -> Entry {
        Entry {
            id: format!("f{days}"),
            brewer_id: "pod".into(),
            day: days_after(TODAY, -days),
            at: None,
            what: What::FilterFitted,
        }
    }

    #[test]
    fn a_filter_ends_by_days_or_by_fills_whichever_is_sooner() {
        // A litre a day is a fill a day.
        for (fills, age, is_due, text) in [
            (60.0, 10, false, "Water filter good until about 12 Jan 2027"),
            (20.0, 10, false, "Water filter good until about 3 Dec"),
            (20.0, 25, true, "Water filter worn out since about 18 Nov"),
        ] {
            let jobs = Upkeep::of(&pod(fills), &[fitted(200), fitted(age)], TODAY);
            assert_eq!((jobs[0].is_due, jobs[0].text.as_str()), (is_due, text));
        }
        for (age, is_due) in [(59, false), (60, true), (61, true)] {
            let jobs = Upkeep::of(&pod(60.0), &[fitted(age)], TODAY);
            assert_eq!(jobs[0].is_due, is_due, "{age}");
        }
        let unknown = &Upkeep::of(&pod(60.0), &[], TODAY)[0];
        assert!(
            unknown.is_due && unknown.text.contains("about 60 days"),
            "{}",
            unknown.text
        );
    }

    #[test]
    fn needles_count_as_cleared_when_somebody_cleared_them() {
        let cleared = |days: i32| Entry {
            id: "c".into(),
            brewer_id: "pod".into(),
            day: days_after(TODAY, -days),
            at: None,
            what: What::NeedlesCleared,
        };
        for (entries, is_due, text) in [
            (
                vec![],
                true,
                "Needles never cleared, as far as written down",
            ),
            (vec![cleared(89)], false, "Needles last cleared 26 Aug"),
            (vec![cleared(90)], true, "Needles last cleared 25 Aug"),
            (vec![cleared(91)], true, "Needles last cleared 24 Aug"),
        ] {
            let job = Upkeep::of(&pod(60.0), &entries, TODAY).remove(1);
            assert_eq!((job.is_due, job.text.as_str()), (is_due, text));
        }
    }
}

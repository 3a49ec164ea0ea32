//! What each thing that was seen taught about a circuit: one signed figure, and the due day before and after it.

use super::Growth;
use super::evidence::Source;
use super::walk::day_of;
use crate::belief::{Belief, Checks, Witnessed, Witnessing};
use crate::scale::forecast::{Forecast, Lesson};
use crate::scale::lessons;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::journal::left_out;

/// Changes below this are none, %.
const NOTHING: f64 = 1.0;

/// Every lesson, oldest first.
pub(super) fn all(growth: &Growth) -> Vec<Lesson> {
    let entries = growth.entries;
    let left_out = left_out(entries);
    let mut lessons = Vec::new();
    for (i, dated) in growth.seen.iter().enumerate() {
        let (entry_id, clean_id, what) = match dated.source {
            Source::Entry(entry) => (entry.id.clone(), None, entry.seen(day_of(growth.today))),
            Source::Clean(n) => {
                let clean = &growth.cleans[n];
                let seen = clean.seen(day_of(growth.today));
                (clean.lesson_id(), clean.clean_id.clone(), seen)
            }
            Source::Water => continue,
        };
        // A clean that nobody saw tells nothing but its day.
        if let Witnessed::Clean {
            brought: None,
            checks,
            ..
        } = &dated.what
            && *checks == Checks::default()
            && !left_out.contains_key(entry_id.as_str())
        {
            continue;
        }
        let left_out_by = left_out.get(entry_id.as_str()).map(|id| (*id).to_owned());
        let before = match &growth.events[i].what {
            // What a clean taught is what it tells beyond having been done.
            Witnessed::Clean { left, .. } => {
                let mut events = growth.events[..=i].to_vec();
                events[i].what = Witnessed::Clean {
                    left: left.clone(),
                    brought: None,
                    checks: Checks::default(),
                    failed: None,
                };
                belief_at(growth, &events, 0.0)
            }
            Witnessed::Sign { .. } | Witnessed::Timed { .. } | Witnessed::Water { .. } => {
                belief_at(growth, &growth.events[..i], growth.events[i].potential_mg)
            }
        };
        let after = belief_at(growth, &growth.events[..=i], 0.0);
        let percent = 100.0 * (after.growth() / before.growth() - 1.0);
        let due = |belief: &Belief| growth.due_from(belief, dated.day).map(day_of);
        let why_not = match &dated.what {
            _ if left_out_by.is_some() => Some("it is left out"),
            Witnessed::Sign { told: false, .. } => Some("its light only counts water"),
            _ if percent.abs() < NOTHING => Some("it is what was expected"),
            Witnessed::Sign { .. }
            | Witnessed::Timed { .. }
            | Witnessed::Water { .. }
            | Witnessed::Clean { .. } => None,
        };
        lessons.push(Lesson {
            text: match why_not {
                Some(why) => format!("{what}: teaches nothing, {why}"),
                None => format!(
                    "{what}: chalk grows {} than reckoned before{}",
                    faster(percent),
                    moved(due(&before), due(&after), day_of(growth.today))
                ),
            },
            entry_id,
            clean_id,
            day: day_of(dated.day),
            percent,
            due_before: due(&before),
            due_after: due(&after),
            left_out_by,
        });
    }
    lessons
}

fn belief_at(growth: &Growth, events: &[Witnessing], since_mg: f64) -> Belief {
    Belief::from(growth.prior, events, since_mg)
}

/// What was learned so far, in one sentence.
pub(super) fn learned(belief: &Belief, lessons: &[Lesson]) -> String {
    let telling = lessons.iter().filter(|l| l.percent.abs() >= NOTHING);
    let telling = telling.count() as u32;
    if telling == 0 {
        return "Nothing learned yet: the estimate stands on starting values. Write down when it gets slow, loud or cooler, and what a bath brings out.".to_owned();
    }
    let growth = belief.growth_window();
    let percent = |ratio: f64| 100.0 * (ratio - 1.0);
    format!(
        "Learned from {}, and from when nothing was seen: chalk grows {} than usual for its kind, between {} and {}.",
        text::count(telling, "observation", "observations"),
        faster(percent(growth.median)),
        faster(percent(growth.p10)),
        faster(percent(growth.p90))
    )
}

/// "; chalk due 3 Dec instead of 12 Dec"; nobody knows the day of what is more than a year ahead.
fn moved(before: Option<Date>, after: Option<Date>, today: Date) -> String {
    let words = |due: Option<Date>| match due {
        None => "not for years".to_owned(),
        Some(day) if (day - today).get_days() > BY_DAY => format!("in {}", day.year()),
        Some(day) => text::day(day, today),
    };
    let (before, after) = (words(before), words(after));
    match before == after {
        true => String::new(),
        false => format!("; chalk due {after} instead of {before}"),
    }
}

/// So far ahead a day is told, days.
const BY_DAY: i32 = 365;

/// "20 % faster", "33 % slower".
fn faster(percent: f64) -> String {
    let way = if percent < 0.0 { "slower" } else { "faster" };
    format!("{:.0} % {way}", percent.abs())
}

impl<'a> Growth<'a> {
    /// The estimate for today, with its lessons and its working.
    #[must_use]
    pub fn forecast(&self, units: murlo_base::units::Units) -> Forecast {
        let brief = self.in_brief(units);
        let lessons = lessons::all(self);
        Forecast {
            working: self.working(&brief.chalk, &brief.due, brief.potential_mg, units),
            learned: lessons::learned(&self.belief, &lessons),
            sharpen: self.sharpen(),
            light: self.light_goes_by(),
            lessons,
            ..brief
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    #[test]
    fn a_day_is_told_for_a_year_and_then_only_its_year() {
        let today = date(2026, 11, 25);
        let said = |before, after| moved(before, after, today);
        let near = Some(date(2026, 12, 12));
        for (after, words) in [
            (
                Some(date(2026, 12, 3)),
                "; chalk due 3 Dec instead of 12 Dec",
            ),
            (
                Some(date(2027, 11, 25)),
                "; chalk due 25 Nov 2027 instead of 12 Dec",
            ),
            (
                Some(date(2027, 11, 26)),
                "; chalk due in 2027 instead of 12 Dec",
            ),
            (None, "; chalk due not for years instead of 12 Dec"),
            (near, ""),
        ] {
            assert_eq!(said(near, after), words);
        }
        let (far, farther) = (Some(date(2028, 2, 1)), Some(date(2028, 10, 9)));
        assert_eq!(said(far, farther), "");
        assert_eq!(said(None, None), "");
    }
}

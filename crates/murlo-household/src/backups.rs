//! Which copies of a household are kept, and how old the newest is.

use jiff::ToSpan;
use jiff::civil::{Date, date};

/// So many of the newest copies are never let go, whatever the clock says and however long nobody was there.
const NEWEST: usize = 8;
/// Days of which every copy is kept, today among them.
const DAYS: i64 = 7;
/// Weeks before those of which the newest copy is kept.
const WEEKS: i64 = 8;

/// A Monday, from which weeks are counted: the weeks stand still, so that a copy kept for its week is not overtaken by
/// the next day's.
const MONDAY: Date = date(2024, 1, 1);

/// Which of the copies made on `days` are kept: the newest eight, all of the last week, then the newest of each of the eight weeks
/// before. A copy from the future is not touched.
///
/// # Example
/// ```
/// use jiff::civil::date;
/// use murlo_household::backups::kept;
/// let mut days: Vec<_> = (10..=17).map(|day| date(2026, 6, day)).collect();
/// days.extend([date(2026, 6, 7), date(2026, 6, 6), date(2026, 1, 1)]);
/// assert_eq!(kept(&days, date(2026, 6, 17))[8..], [true, false, false]);
/// ```
#[must_use]
pub fn kept(days: &[Date], today: Date) -> Vec<bool> {
    // Of copies made on one day those that come first count as newer.
    let newer = |i: usize, day: Date| {
        let others = days.iter().enumerate();
        let is_newer = |(n, other): &(usize, &Date)| **other > day || (**other == day && *n < i);
        others.filter(is_newer).count()
    };
    let since = |day: Date, other: Date| i64::from((day - other).get_days());
    let is_old = |day: Date| since(today, day) >= DAYS;
    let week = |day: Date| since(day, MONDAY).div_euclid(7);
    let leads_its_week = |i: usize, day: Date| {
        let mut others = days.iter().enumerate();
        !others.any(|(n, other)| {
            is_old(*other)
                && week(*other) == week(day)
                && (*other > day || (*other == day && n < i))
        })
    };
    days.iter()
        .enumerate()
        .map(|(i, day)| {
            newer(i, *day) < NEWEST
                || !is_old(*day)
                || (week(today) - week(*day) <= WEEKS && leads_its_week(i, *day))
        })
        .collect()
}

/// "The newest was made 3 days ago; 9 are kept.", or that there is none; and where one is from a day that has not come yet, that a
/// clock is or was wrong.
#[must_use]
pub fn summary(days: &[Date], today: Date) -> String {
    match days.iter().max() {
        None => "There is none yet.".to_owned(),
        Some(newest) => {
            let many = if days.len() == 1 { "is" } else { "are" };
            let kept = format!("{} {many} kept", days.len());
            if *newest > today {
                return format!(
                    "The newest says {newest}, a day that has not come yet: the clock of this computer is wrong, or was; {kept}."
                );
            }
            format!("The newest was {}; {kept}.", age_text(*newest, today))
        }
    }
}

/// "made today", "made 3 days ago".
fn age_text(made: Date, today: Date) -> String {
    match (today - made).get_days() {
        ..=0 => "made today".to_owned(),
        1 => "made yesterday".to_owned(),
        days => format!("made {days} days ago"),
    }
}

/// Whether the newest copy is so old, though one is made every day, that something stands in the way.
#[must_use]
pub fn is_stale(days: &[Date], today: Date) -> bool {
    let fresh = today.saturating_sub(2.days());
    // One from a day that has not come yet says nothing of the last ones.
    !days.iter().any(|day| (fresh..=today).contains(day))
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;

    const TODAY: Date = date(2026, 6, 17);

    fn before(days: i64) -> Date {
        TODAY.checked_sub(days.days()).unwrap()
    }

    #[test]
    fn a_week_of_days_and_eight_weeks_before_are_kept() {
        // A Wednesday: the Sundays of the weeks before are 3, 10, 17, … days back.
        let days: Vec<_> = (0..100).map(before).collect();
        let kept = kept(&days, TODAY);
        let left: Vec<_> = (0..100).filter(|i| kept[*i as usize]).collect();
        assert_eq!(left, [0, 1, 2, 3, 4, 5, 6, 7, 10, 17, 24, 31, 38, 45, 52]);
    }

    #[test]
    fn edges_of_days_and_weeks() {
        // Behind eight of today.
        for (ages, expected) in [
            (vec![6, 6], vec![true, true]),
            (vec![7, 7], vec![true, false]),
            (vec![7, 9], vec![true, false]),
            (vec![9, 10], vec![true, true]),
            (vec![58, 59], vec![true, false]),
            (vec![400], vec![false]),
        ] {
            let days = [0; NEWEST].into_iter().chain(ages.iter().copied());
            let days: Vec<_> = days.map(before).collect();
            assert_eq!(kept(&days, TODAY)[NEWEST..], expected, "{ages:?}");
        }
        assert!(kept(&[], TODAY).is_empty());
    }

    #[test]
    fn the_newest_eight_outlast_any_clock_and_any_absence() {
        let ten: Vec<_> = (0..10).map(before).collect();
        let years_on = TODAY.checked_add(1100.days()).unwrap();
        let left = kept(&ten, years_on);
        assert_eq!(left.iter().filter(|kept| **kept).count(), NEWEST);
        assert_eq!(left[..NEWEST], [true; NEWEST]);
        // One start three years ahead, and the clock put right again: what was made before still is there.
        let mut with_one: Vec<_> = ten.clone();
        with_one.insert(0, years_on);
        assert_eq!(kept(&with_one, years_on)[..NEWEST], [true; NEWEST]);
        assert_eq!(kept(&with_one, TODAY)[..NEWEST], [true; NEWEST]);
        let said = summary(&with_one, TODAY);
        assert!(
            said.contains("has not come yet") && said.contains("11 are kept"),
            "{said}"
        );
    }

    #[test]
    fn what_there_is_is_said_with_its_age() {
        for (ages, said, stale) in [
            (vec![], "There is none yet.", true),
            (
                vec![-1],
                "The newest says 2026-06-18, a day that has not come yet: the clock of this computer is wrong, or was; 1 is kept.",
                true,
            ),
            (vec![1, 0], "The newest was made today; 2 are kept.", false),
            (vec![1], "The newest was made yesterday; 1 is kept.", false),
            (vec![2], "The newest was made 2 days ago; 1 is kept.", false),
            (
                vec![9, 3],
                "The newest was made 3 days ago; 2 are kept.",
                true,
            ),
        ] {
            let days: Vec<_> = ages.into_iter().map(before).collect();
            assert_eq!(
                (summary(&days, TODAY).as_str(), is_stale(&days, TODAY)),
                (said, stale)
            );
        }
    }

    #[test]
    fn copies_made_and_pruned_every_day_still_reach_back_eight_weeks() {
        let mut days: Vec<Date> = Vec::new();
        for n in 0..200 {
            let today = date(2026, 1, 1).checked_add(n.days()).unwrap();
            days.push(today);
            prune(&mut days, today);
            let weeks = days
                .iter()
                .filter(|d| (today - **d).get_days() >= 7)
                .count() as i64;
            assert!(weeks >= (n / 7 - 1).min(WEEKS - 1), "{n}: {days:?}");
        }
    }

    fn prune(days: &mut Vec<Date>, today: Date) {
        let mut keep = kept(days, today).into_iter();
        days.retain(|_| keep.next().unwrap());
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]

        #[test]
        fn whatever_days_are_missed_some_copy_is_left_and_never_more_than_a_handful(
            made in proptest::collection::vec(any::<bool>(), 200),
        ) {
            let mut days = Vec::new();
            for (n, made) in made.iter().enumerate() {
                let today = date(2026, 1, 1).checked_add((n as i64).days()).unwrap();
                let had_one = !days.is_empty();
                days.extend(made.then_some(today));
                prune(&mut days, today);
                prop_assert!(days.len() <= NEWEST + WEEKS as usize, "{days:?}");
                prop_assert!(!days.is_empty() || !(had_one || *made));
            }
        }
    }
}

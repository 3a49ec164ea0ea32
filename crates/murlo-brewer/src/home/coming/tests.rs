use super::*;
use crate::home::guests::tests::let_to;
use crate::home::{Home, Stay};
use jiff::civil::{date, time};
use proptest::prelude::*;

fn weeks(every: u32, days: &[DayOfWeek]) -> Coming {
    Coming {
        rhythm: Rhythm::Weeks {
            every,
            since: date(2026, 12, 2),
            days: days.to_vec(),
            from: time(9, 0, 0, 0),
            until: Some(time(12, 0, 0, 0)),
        },
        ..Coming::default()
    }
}

fn days(coming: &Coming, from: Date, until: Date) -> Vec<String> {
    let all = coming.between(None, &[], from, until);
    all.iter().map(|one| one.on.to_string()).collect()
}

#[test]
fn every_so_many_weeks_begin_with_the_week_of_the_first_day() {
    use DayOfWeek::{Monday, Thursday, Tuesday};
    let (from, until) = (date(2026, 11, 30), date(2026, 12, 31));
    for (every, on, expected) in [
        (1, vec![Thursday], "3 10 17 24 31"),
        (2, vec![Thursday], "3 17 31"),
        // The Monday of its first week is before the first day.
        (2, vec![Monday, Thursday], "3 14 17 28 31"),
        (3, vec![Tuesday], "22"),
        (5, vec![Thursday], "3"),
        (1, vec![], ""),
    ] {
        let found = days(&weeks(every, &on), from, until);
        let found: Vec<_> = found
            .iter()
            .map(|day| day[8..].trim_start_matches('0'))
            .collect();
        assert_eq!(found.join(" "), expected, "{every} {on:?}");
    }
    assert!(days(&Coming::default(), from, until).is_empty());
}

#[test]
fn one_comes_in_its_months_and_not_on_days_off() {
    let thursdays = weeks(1, &[DayOfWeek::Thursday]);
    let (from, until) = (date(2026, 12, 1), date(2027, 1, 10));
    for (months, expected) in [(vec![], 6), (vec![12], 5), (vec![1, 2], 1), (vec![6], 0)] {
        let coming = Coming {
            months: months.clone(),
            ..thursdays.clone()
        };
        assert_eq!(days(&coming, from, until).len(), expected, "{months:?}");
    }
    let off = |first, last| DaysOff {
        from: date(2026, 12, first),
        until: date(2026, 12, last),
    };
    for (home, own, expected) in [
        (off(10, 10), off(1, 1), vec![10]),
        (off(11, 16), off(18, 23), vec![]),
        (off(11, 17), off(24, 30), vec![17, 24]),
    ] {
        let coming = Coming {
            off: vec![home],
            ..thursdays.clone()
        };
        let all = coming.between(None, &[own], from, until);
        let is_off = all.iter().filter(|one| one.is_off).map(|one| one.on.day());
        assert_eq!(is_off.collect::<Vec<_>>(), expected);
        assert_eq!(
            all.len(),
            6,
            "what lies on a day off is told, not forgotten"
        );
    }
}

#[test]
fn a_day_is_moved_left_out_and_brought_back() {
    let thursdays = weeks(1, &[DayOfWeek::Thursday]);
    let (from, until) = (date(2026, 12, 7), date(2026, 12, 13));
    let day = date(2026, 12, 10);
    for (to, expected) in [
        (Some(date(2026, 12, 8)), vec!["2026-12-08"]),
        (Some(date(2026, 12, 14)), vec![]),
        (None, vec![]),
        (Some(day), vec!["2026-12-10"]),
    ] {
        let moved = thursdays.moving(day, to).unwrap();
        assert_eq!(days(&moved, from, until), expected, "{to:?}");
        assert_eq!(moved.moving(day, Some(day)).unwrap(), thursdays);
    }
    // From elsewhere into these days, and on a day off because somebody said so.
    let into = thursdays
        .moving(date(2026, 12, 17), Some(date(2026, 12, 11)))
        .unwrap();
    let off = [DaysOff { from, until }];
    let all = into.between(None, &off, from, until);
    let told: Vec<_> = all
        .iter()
        .map(|one| (one.day.day(), one.on.day(), one.is_off))
        .collect();
    assert_eq!(told, [(10, 10, true), (17, 11, false)]);
    for (by, fits) in [(60, true), (61, false), (-60, true), (-61, false)] {
        let moved = thursdays.moving(day, Some(days_after(day, by)));
        assert_eq!(moved.is_ok(), fits, "{by}");
    }
}

#[test]
fn at_each_change_one_comes_when_guests_leave_and_is_out_before_the_next() {
    let (a, b, c, d) = (
        date(2026, 12, 4),
        date(2026, 12, 8),
        date(2026, 12, 12),
        date(2026, 12, 15),
    );
    let mut guests = let_to(&[(a, b), (b, c), (d, date(2026, 12, 18))]);
    let coming = Coming {
        rhythm: Rhythm::Guests,
        ..Coming::default()
    };
    let all = coming.between(Some(&guests), &[], date(2026, 12, 1), date(2026, 12, 31));
    let told: Vec<_> = all
        .iter()
        .map(|one| (one.on, one.from.hour(), one.until.map(|t| t.hour())))
        .collect();
    assert_eq!(
        told,
        [
            (b, 10, Some(15)),
            (c, 10, None),
            (date(2026, 12, 18), 10, None)
        ]
    );
    guests.in_from = guests.out_by;
    let all = coming.between(Some(&guests), &[], b, b);
    assert!(
        all.is_empty(),
        "a house that is handed over at once leaves no time"
    );
    assert!(coming.between(None, &[], a, d).is_empty());
}

#[test]
fn what_a_rhythm_cannot_be_is_named_by_its_field() {
    use DayOfWeek::Monday;
    let with = |change: &dyn Fn(&mut Coming)| {
        let mut coming = weeks(1, &[Monday]);
        change(&mut coming);
        let home = Home {
            coming,
            ..Home::named("h", "Houseboat")
        };
        home.checked()
            .err()
            .map(|problems| problems.0[0].field.clone())
    };
    let rhythm = |every, n: usize, until: Option<Time>| Rhythm::Weeks {
        every,
        since: date(2026, 12, 2),
        days: vec![Monday; n],
        from: time(9, 0, 0, 0),
        until,
    };
    let day = date(2026, 12, 10);
    let off = |from, until| DaysOff { from, until };
    let most = *WEEKS.end();
    for (field, found) in [
        (None, with(&|c| c.rhythm = rhythm(most, 1, None))),
        (
            Some("coming.rhythm.every"),
            with(&|c| c.rhythm = rhythm(most + 1, 1, None)),
        ),
        (
            Some("coming.rhythm.every"),
            with(&|c| c.rhythm = rhythm(0, 1, None)),
        ),
        (
            Some("coming.rhythm.days"),
            with(&|c| c.rhythm = rhythm(1, 0, None)),
        ),
        (None, with(&|c| c.rhythm = rhythm(1, 7, None))),
        (
            Some("coming.rhythm.days"),
            with(&|c| c.rhythm = rhythm(1, 8, None)),
        ),
        (
            Some("coming.rhythm.until"),
            with(&|c| c.rhythm = rhythm(1, 1, Some(time(9, 0, 0, 0)))),
        ),
        (
            None,
            with(&|c| c.rhythm = rhythm(1, 1, Some(time(9, 1, 0, 0)))),
        ),
        (Some("coming.rhythm"), with(&|c| c.rhythm = Rhythm::Guests)),
        (None, with(&|c| c.months = vec![1, 12])),
        (Some("coming.months"), with(&|c| c.months = vec![0])),
        (Some("coming.months"), with(&|c| c.months = vec![13])),
        (None, with(&|c| c.off = vec![off(day, day); OFF])),
        (
            Some("coming.off"),
            with(&|c| c.off = vec![off(day, day); OFF + 1]),
        ),
        (
            Some("coming.off.0.until"),
            with(&|c| c.off = vec![off(day, date(2026, 12, 9))]),
        ),
        (
            Some("coming.off.0.until"),
            with(&|c| c.off = vec![off(day, date(2200, 1, 1))]),
        ),
        (
            None,
            with(&|c| c.moved = vec![MovedDay { day, to: None }; MOVED]),
        ),
        (
            Some("coming.moved"),
            with(&|c| c.moved = vec![MovedDay { day, to: None }; MOVED + 1]),
        ),
        (
            Some("coming.moved.0.day"),
            with(&|c| {
                c.moved = vec![MovedDay {
                    day: date(1969, 12, 31),
                    to: None,
                }]
            }),
        ),
        (
            Some("coming.moved.0.to"),
            with(&|c| {
                c.moved = vec![MovedDay {
                    day,
                    to: Some(date(2027, 3, 1)),
                }]
            }),
        ),
    ] {
        assert_eq!(found.as_deref(), field);
    }
    let stay = Stay {
        from: day,
        until: date(9999, 12, 31),
    };
    let guests = Some(Guests {
        stays: vec![stay],
        ..Guests::USUAL
    });
    let home = Home {
        guests,
        ..Home::named("h", "Houseboat")
    };
    assert_eq!(home.checked().unwrap_err().0[0].field, "guests.stays");
}

proptest! {
    #[test]
    fn times_are_in_order_within_the_days_asked_for_and_none_is_lost(
        every in 1..=26u32,
        on in prop::sample::subsequence(
            vec![DayOfWeek::Monday, DayOfWeek::Wednesday, DayOfWeek::Sunday], 1..=3),
        at in -400..400i32,
        length in 0..120i32,
        moved in prop::collection::vec((0..120i32, prop::option::of(-60..=60i32)), 0..6),
    ) {
        let first = days_after(date(2026, 12, 2), at);
        let last = days_after(first, length);
        let mut coming = weeks(every, &on);
        let plain = coming.between(None, &[], first, last).len();
        for (n, by) in moved {
            let day = days_after(first, n);
            coming = coming.moving(day, by.map(|by| days_after(day, by))).unwrap();
        }
        let all = coming.between(None, &[], first, last);
        prop_assert!(all.is_sorted_by_key(|one| (one.on, one.from)));
        prop_assert!(all.iter().all(|one| (first..=last).contains(&one.on)));
        let stayed = all.iter().filter(|one| one.on == one.day).count();
        prop_assert!(stayed + coming.moved.len() >= plain);
    }
}

use super::*;
use crate::scale::walk::number;
use jiff::civil::{Date, date};
use murlo_base::days::days_after;
use murlo_base::units::{HardnessUnit, Units};
use murlo_brewer::journal::{Entry, Sign, What};
use murlo_brewer::water::{Chemistry, Reading, Waters};
use murlo_brewer::{Brewer, BrewerDraft, Family, Healthy, Policy};
use proptest::prelude::*;

const START: Date = date(2026, 6, 1);

fn forecast(family: Family, hardness: f64, weekday: f64, weekend: f64, after: i32) -> Forecast {
    let draft = BrewerDraft {
        nickname: "b".into(),
        weekday_cups: weekday,
        weekend_cups: weekend,
        cup: "235 mL".into(),
        ..BrewerDraft::template(family, Units::Us, "h", "w", START)
    };
    let brewer = draft.check("b".into(), None, START).unwrap();
    grown(&brewer, hardness, &[], after)
}

fn grown(brewer: &Brewer, hardness: f64, entries: &[Entry], after: i32) -> Forecast {
    asked(brewer, hardness, entries, after, |growth| {
        growth.forecast(Units::Metric)
    })
}

fn asked<T>(
    brewer: &Brewer,
    hardness: f64,
    entries: &[Entry],
    after: i32,
    ask: impl FnOnce(&Growth) -> T,
) -> T {
    let reading = Reading::Strip {
        value: hardness,
        unit: HardnessUnit::MgPerL,
    };
    let waters = [Chemistry::of(&reading, &Waters::new()).unwrap()];
    let growth = Growth::new(Known {
        brewer,
        circuit: &brewer.circuits[0],
        waters: &waters,
        start: Start::new(START),
        cleans: &[],
        entries,
        logged: None,
        recall: None,
        today: days_after(START, after),
    });
    ask(&growth)
}

#[test]
fn a_list_tells_what_would_sharpen_the_estimate_from_the_due_day_on() {
    let draft = BrewerDraft {
        nickname: "b".into(),
        ..BrewerDraft::template(Family::PodReservoir, Units::Us, "h", "w", START)
    };
    let brewer = draft.check("b".into(), None, START).unwrap();
    // What is not noticed moves the day, so that it is looked for.
    let mut told = [0, 0];
    for after in 0..150 {
        let forecast = asked(&brewer, 250.0, &[], after, |g| g.in_brief(Units::Us));
        let is_due = forecast.due.days <= 0;
        assert_eq!(forecast.sharpen.is_some(), is_due, "after {after} days");
        told[usize::from(is_due)] += 1;
    }
    assert!(told[0] > 20 && told[1] > 20, "{told:?}");
}

#[test]
fn walking_days_agrees_with_the_published_intervals() {
    // Median days of the closed formula for steady use, and the filter's own window around it: wider for a use that is only a
    // stated habit. A whole day is the walk's grain, a hundredth the grid's.
    for (family, hardness, cups, median, p10, p90) in [
        (Family::PodReservoir, 150.0, 2.0, 146, 65, 326),
        (Family::PodReservoir, 250.0, 3.0, 48, 22, 106),
        (Family::Drip, 350.0, 3.0, 33, 15, 72),
        (Family::Drip, 180.0, 3.0, 75, 34, 166),
    ] {
        let due = forecast(family, hardness, cups, cups, 0).due;
        let close = |got: i32, expected: i32| (got - expected).abs() <= 1 + expected / 50;
        assert!(
            close(due.days, median),
            "{family:?} {hardness}: {}",
            due.days
        );
        let (earliest, latest) = (
            number(due.earliest) - number(START),
            number(due.latest) - number(START),
        );
        assert!(close(earliest, p10), "{family:?} {hardness}: {earliest}");
        assert!(close(latest, p90), "{family:?} {hardness}: {latest}");
        assert_eq!(due.by, DueBy::Chalk);
    }
}

#[test]
fn the_day_is_said_with_the_odds_that_it_is_over_and_never_with_a_window() {
    let pod = |after| forecast(Family::PodReservoir, 250.0, 3.0, 3.0, after).due;
    let mut last = 0.0;
    for after in 0..200 {
        let Due {
            text,
            chalk_text,
            window,
            days,
            ..
        } = pod(after);
        assert!(!text.contains("between"), "{text}");
        assert!(window.is_some(), "{after}");
        if days > -130 && days <= 48 {
            assert_eq!(chalk_text, format!("chalk {text}"));
            assert!(text.starts_with("about "), "{text}");
        }
        // The day is the one by which it is as likely as not.
        let odds = text.split_once(", ").map(|(_, odds)| odds.to_owned());
        let chance = match odds.as_deref().map(|odds| odds.split_once(" that ")) {
            None => 0.0,
            Some(None) => 1.0,
            Some(Some((odds, _))) => {
                let (n, of) = odds.split_once(" in ").unwrap();
                n.parse::<f64>().unwrap() / of.parse::<f64>().unwrap()
            }
        };
        assert!(chance >= last, "{after}: {text}");
        last = chance;
        match days {
            4.. => assert!(chance <= 0.5, "{text}"),
            ..=-4 => assert!(chance >= 0.5, "{text}"),
            -3..=3 => assert!((chance - 0.5).abs() < 1e-9, "{text}"),
        }
    }
    let told: Vec<_> = [0, 28, 48, 60, 90, 199].map(|after| pod(after).text).into();
    assert_eq!(
        told,
        [
            "about 19 Jul",
            "about 22 Jul, 1 in 10 that it is due already",
            "about 26 Jul, 1 in 3 that it is due already",
            "about 28 Jul, 1 in 2 that it is due already",
            "about 30 Jul, 3 in 4 that it is due already",
            "about 22 Jul, almost surely due already",
        ]
    );
}

#[test]
fn soft_water_is_due_by_the_hygiene_cap_and_says_so() {
    let forecast = forecast(Family::PodReservoir, 20.0, 2.0, 2.0, 10);
    assert_eq!((forecast.due.days, forecast.due.by), (173, DueBy::Hygiene));
    assert!(
        forecast.reason.contains("half a year"),
        "{}",
        forecast.reason
    );
    assert_eq!(forecast.chalk.text, "none to speak of");
}

#[test]
fn weekends_are_counted_as_weekends() {
    // 1 June 2026 is a Monday: five days of one cup, two of ten.
    let week = forecast(Family::Drip, 100.0, 1.0, 10.0, 7);
    assert!((week.litres - 25.0 * 0.235).abs() < 1e-9);
    assert_eq!(week.reason, "5.9 L of moderately hard water since 1 Jun");
}

#[test]
fn urgency_follows_the_due_date() {
    for (after, urgency) in [
        (0, Urgency::Fresh),
        (40, Urgency::Soon),
        (60, Urgency::Due),
        (90, Urgency::Overdue),
    ] {
        assert_eq!(
            forecast(Family::PodReservoir, 250.0, 3.0, 3.0, after)
                .due
                .urgency,
            urgency,
            "after {after} days"
        );
    }
}

fn pod(change: impl FnOnce(&mut BrewerDraft)) -> Brewer {
    let mut draft = BrewerDraft {
        nickname: "b".into(),
        weekday_cups: 2.0,
        weekend_cups: 2.0,
        cup: "250 mL".into(),
        ..BrewerDraft::template(Family::PodReservoir, Units::Metric, "h", "w", START)
    };
    change(&mut draft);
    draft.check("b".into(), None, START).unwrap()
}

fn entries(whats: Vec<(i32, What)>) -> Vec<Entry> {
    whats
        .into_iter()
        .enumerate()
        .map(|(i, (day, what))| Entry {
            id: i.to_string(),
            brewer_id: "b".into(),
            day: days_after(START, day),
            at: None,
            what,
        })
        .collect()
}

#[test]
fn a_counter_knows_best_then_what_was_logged_then_days_away() {
    let brewed = |day, cups| (day, What::Brewed { cups });
    let counter = |day, brews| (day, What::Counter { brews });
    let away = |day, until| {
        let until = days_after(START, until);
        (day, What::Away { until })
    };
    // Ten days of two cups of a quarter litre, but for what was written down.
    for (whats, litres) in [
        (vec![], 5.0),
        (vec![brewed(3, 6.0)], 6.0),
        (vec![brewed(3, 6.0), brewed(3, 2.0)], 6.5),
        (vec![away(2, 5)], 3.0),
        (vec![away(2, 5), brewed(3, 1.0)], 3.25),
        (vec![counter(0, 100.0), counter(10, 140.0)], 10.0),
        (
            vec![
                counter(0, 100.0),
                counter(10, 140.0),
                brewed(3, 9.0),
                away(2, 5),
            ],
            10.0,
        ),
        (vec![counter(0, 100.0), counter(5, 100.0)], 2.5),
        (vec![counter(5, 100.0)], 5.0),
    ] {
        let forecast = grown(&pod(|_| {}), 200.0, &entries(whats.clone()), 10);
        assert!(
            (forecast.litres - litres).abs() < 1e-9,
            "{whats:?}: {}",
            forecast.litres
        );
    }
}

#[test]
fn a_filter_thins_the_chalk_until_it_is_worn_out() {
    let with = |takes_out: f64, whats| {
        let brewer = pod(|d| {
            d.filter_takes_out = takes_out;
            d.filter_days = 40.0;
            d.filter_fills = 1000.0;
        });
        grown(&brewer, 250.0, &entries(whats), 60).chalk.mg
    };
    let (none, renewed) = (with(0.0, vec![]), with(60.0, vec![]));
    // One filter fitted at the start and never since wears out; forgotten before, it did nothing.
    let once = with(60.0, vec![(0, What::FilterFitted)]);
    assert!(renewed < once && once < none, "{renewed} {once} {none}");
}

#[test]
fn the_earliest_of_what_a_brewer_goes_by_sets_the_date() {
    let light = (
        20,
        What::Sign {
            circuit_id: "main".into(),
            sign: Sign::Light,
            dated: true,
            potential_mg: None,
        },
    );
    let policy = |chalk, light, days, brews| Policy {
        chalk,
        light,
        days,
        brews,
    };
    for (policy, hardness, by, days) in [
        (policy(true, false, None, None), 30.0, DueBy::Hygiene, 153),
        (policy(true, true, None, None), 30.0, DueBy::Light, -10),
        (policy(true, false, Some(45), None), 30.0, DueBy::Days, 15),
        (
            policy(true, false, Some(45), Some(70)),
            30.0,
            DueBy::Brews,
            5,
        ),
        (policy(false, false, Some(90), None), 350.0, DueBy::Days, 60),
        (policy(false, false, None, None), 350.0, DueBy::Hygiene, 153),
    ] {
        let brewer = pod(|d| {
            d.policy = policy;
            d.light_counts = true;
        });
        let due = grown(&brewer, hardness, &entries(vec![light.clone()]), 30).due;
        assert_eq!((due.by, due.days), (by, days), "{policy:?}");
    }
}

proptest! {
    #[test]
    fn more_litres_or_harder_water_never_give_a_later_date(
        hardness in 5.0..400.0f64, more in 0.0..200.0f64, cups in 0.0..12.0f64, extra in 0.0..8.0f64, after in 0..150,
    ) {
        let base = forecast(Family::PodReservoir, hardness, cups, cups, after);
        let harder = forecast(Family::PodReservoir, hardness + more, cups, cups, after);
        let busier = forecast(Family::PodReservoir, hardness, cups + extra, cups, after);
        prop_assert!(harder.due.date <= base.due.date);
        prop_assert!(busier.due.date <= base.due.date);
        prop_assert!(base.due.earliest <= base.due.latest);
        prop_assert!(base.due.by != DueBy::Chalk || base.due.earliest <= base.due.date);
    }
}

#[test]
fn each_urgency_begins_on_its_day() {
    for (days, urgency) in [
        (15, Urgency::Fresh),
        (14, Urgency::Soon),
        (13, Urgency::Soon),
        (1, Urgency::Soon),
        (0, Urgency::Due),
        (-1, Urgency::Due),
        (-13, Urgency::Due),
        (-14, Urgency::Overdue),
        (-15, Urgency::Overdue),
    ] {
        assert_eq!(Urgency::of(days), urgency, "{days}");
    }
}

#[test]
fn saturday_and_sunday_are_the_weekend() {
    // 1 June 2026 is a Monday.
    let weekend: Vec<_> = (0..7)
        .filter(|n| walk::is_weekend(number(days_after(date(2026, 6, 1), *n))))
        .collect();
    assert_eq!(weekend, [5, 6]);
}

#[test]
fn what_a_day_adds_is_reckoned_over_the_twelve_weeks_ahead() {
    let brewer = pod(|_| {});
    let a_day = |away: Option<(i32, i32)>| {
        let away = away.map(|(from, until)| {
            let until = days_after(START, 30 + until);
            (30 + from, What::Away { until })
        });
        let told = entries(away.into_iter().collect());
        grown(&brewer, 200.0, &told, 30).used_a_day
    };
    let whole = a_day(None);
    // First and last day away, and how many of the 84 ahead are left.
    for (from, until, left) in [
        (0, 41, 42.0),
        (0, 82, 1.0),
        (0, 83, 0.0),
        (0, 84, 0.0),
        (83, 200, 83.0),
        (84, 200, 84.0),
    ] {
        let found = 84.0 * a_day(Some((from, until))) / whole;
        assert!((found - left).abs() < 1e-6, "{from} to {until}: {found}");
    }
}

#[test]
fn what_leaves_nearly_all_of_the_spread_is_not_worth_telling() {
    for (share, is_worth) in [(0.0, true), (0.949, true), (0.95, false), (1.0, false)] {
        assert_eq!(super::growth::is_worth_telling(share), is_worth, "{share}");
    }
}

#[test]
fn a_counter_that_moved_while_everybody_was_away_is_spread_over_all_its_days() {
    let counter = |day: i32, brews: f64| (day, What::Counter { brews });
    let away = |from: i32, until: i32| {
        let until = days_after(START, until);
        (from, What::Away { until })
    };
    // Days away between two readings ten days apart, and the brews of each day.
    for (away, a_day) in [
        (None, 2.0),
        (Some(away(0, 4)), 4.0),
        (Some(away(0, 8)), 20.0),
        (Some(away(0, 9)), 2.0),
    ] {
        let mut whats = vec![counter(0, 100.0), counter(10, 120.0)];
        whats.extend(away);
        let logged = Logged::of(&entries(whats));
        let found: Vec<f64> = logged.counted.iter().map(|(_, brews)| *brews).collect();
        assert_eq!(found, [a_day]);
    }
}

#[test]
fn a_look_is_asked_for_once_in_the_last_third_of_a_cycle_and_says_what_it_would_change() {
    let untimed = pod(|_| ());
    let timed = pod(|d| {
        d.operation.healthy = Some(Healthy {
            seconds: 30.0,
            streams: 2.0,
        })
    });
    let on = |brewer: &Brewer, entries: &[Entry], after| {
        asked(brewer, 250.0, entries, after, |g| g.in_brief(Units::Us))
    };
    for (brewer, at) in [(&untimed, LookAt::Signs), (&timed, LookAt::Cup)] {
        let asked: Vec<i32> = (0..150)
            .filter(|after| on(brewer, &[], *after).look.is_some())
            .collect();
        let (first, last) = (asked[0], asked[asked.len() - 1]);
        for after in 0..150 {
            let forecast = on(brewer, &[], after);
            let whole = f64::from(after + forecast.due.days);
            let in_last_third = f64::from(after) >= 2.0 / 3.0 * whole && forecast.due.days > 0;
            assert_eq!(forecast.look.is_some(), in_last_third, "{after}");
        }
        assert!(last - first > 7, "{first} to {last}");
        let look = on(brewer, &[], first).look.unwrap();
        assert_eq!(look.at, at);
        // Once somebody has looked, whatever was seen, nothing is asked again.
        let main = brewer.circuits[0].id.clone();
        let seen = [
            What::NothingNoticed {
                circuit_id: main.clone(),
            },
            What::Timed {
                circuit_id: main.clone(),
                seconds: 31.0,
                cup_ml: None,
            },
            What::Sign {
                circuit_id: main.clone(),
                sign: Sign::Slow,
                dated: true,
                potential_mg: None,
            },
        ];
        for what in seen {
            let entry = entries(vec![(first, what)]);
            for after in first..150 {
                assert_eq!(on(brewer, &entry, after).look, None, "{after}");
            }
        }
        // What was seen on the day of the clean itself belongs to the clean.
        let then = entries(vec![(
            0,
            What::Timed {
                circuit_id: main,
                seconds: 30.0,
                cup_ml: None,
            },
        )]);
        assert!(on(brewer, &then, first + 3).look.is_some());
    }
    let look = |brewer: &Brewer| on(brewer, &[], 60).look.unwrap();
    assert_eq!(
        look(&timed).text,
        "Time the largest cup: it took 30 s when all was well"
    );
    assert_eq!(
        [look(&timed).why, look(&untimed).why],
        [
            "Due about 16 Aug as it stands; about 10 Sep if it is as quick as ever, about 4 Aug if a third slower",
            "Due about 16 Aug as it stands; now if so"
        ]
    );
}

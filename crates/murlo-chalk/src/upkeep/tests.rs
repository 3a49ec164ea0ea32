use super::*;
use jiff::civil::date;
use murlo_base::units::Units;
use murlo_brewer::job::Cadence;
use murlo_brewer::{BrewerDraft, Family};
use proptest::prelude::*;

const TODAY: Date = date(2026, 11, 23);

fn brewer(family: Family, change: impl FnOnce(&mut BrewerDraft)) -> Brewer {
    let start = date(2026, 1, 1);
    let mut draft = BrewerDraft {
        nickname: "pod".into(),
        weekday_cups: 4.0,
        weekend_cups: 4.0,
        ..BrewerDraft::template(family, Units::Metric, "h", "w", start)
    };
    change(&mut draft);
    draft.check("pod".into(), None, start).unwrap()
}

/// A litre a day is a fill a day.
fn pod(fills: f64) -> Brewer {
    brewer(Family::PodReservoir, |draft| {
        draft.reservoir = "1000 mL".into();
        draft.cup = "250 mL".into();
        draft.filter = true;
        draft.filter_fills = fills;
    })
}

fn entry(day: Date, what: What) -> Entry {
    Entry {
        id: format!("e{day}"),
        brewer_id: "pod".into(),
        day,
        at: None,
        what,
    }
}

fn did(job: Job, days: i32) -> Entry {
    entry(days_after(TODAY, -days), What::Did { job })
}

fn fitted(days: i32) -> Entry {
    entry(days_after(TODAY, -days), What::FilterFitted)
}

fn away(from: i32, until: i32) -> Entry {
    let until = days_after(TODAY, until);
    entry(days_after(TODAY, from), What::Away { until })
}

fn timed(days: i32, seconds: f64) -> Entry {
    let (circuit_id, cup_ml) = ("pod".to_owned(), None);
    let what = What::Timed {
        circuit_id,
        seconds,
        cup_ml,
    };
    entry(days_after(TODAY, -days), what)
}

fn work(brewer: &Brewer, entries: &[Entry], job: Job) -> Option<Upkeep> {
    let works = Upkeep::of(
        brewer,
        (entries, None),
        Kitchen::default(),
        Asks::All,
        TODAY,
    );
    works.into_iter().find(|work| work.job == job)
}

fn one(brewer: &Brewer, entries: &[Entry], job: Job) -> Upkeep {
    work(brewer, entries, job).expect("a work that fits")
}

#[test]
fn a_filter_ends_by_days_or_by_fills_whichever_is_sooner() {
    for (fills, age, is_due, text) in [
        (60.0, 10, false, "Water filter good until about 12 Jan 2027"),
        (20.0, 10, false, "Water filter good until about 3 Dec"),
        (20.0, 25, true, "Water filter worn out since about 18 Nov"),
    ] {
        let filter = one(&pod(fills), &[fitted(200), fitted(age)], Job::Filter);
        assert_eq!((filter.is_due, filter.text.as_str()), (is_due, text));
    }
    for (age, is_due) in [(59, false), (60, true), (61, true)] {
        let filter = one(&pod(60.0), &[fitted(age)], Job::Filter);
        assert_eq!(filter.is_due, is_due, "{age}");
    }
    let unknown = one(&pod(60.0), &[], Job::Filter);
    assert!(
        unknown.is_due && unknown.text.contains("about 60 days"),
        "{}",
        unknown.text
    );
    // Nobody is asked for it while away; on the first day back it is late.
    let gone = one(&pod(60.0), &[fitted(60), away(-3, 2)], Job::Filter);
    assert_eq!((gone.is_due, gone.due), (false, Some(days_after(TODAY, 3))));
}

#[test]
fn needles_count_as_cleared_when_somebody_cleared_them() {
    let cleared = |days: i32| entry(days_after(TODAY, -days), What::NeedlesCleared);
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
        let needles = one(&pod(60.0), &entries, Job::Needles);
        assert_eq!((needles.is_due, needles.text.as_str()), (is_due, text));
    }
}

#[test]
fn a_cup_that_got_slower_makes_needles_due_before_the_calendar_does() {
    let cleared = entry(days_after(TODAY, -20), What::NeedlesCleared);
    for (first, last, is_due) in [(30.0, 41.9, false), (30.0, 42.0, true), (30.0, 42.1, true)] {
        let entries = [cleared.clone(), timed(19, first), timed(1, last)];
        let needles = one(&pod(60.0), &entries, Job::Needles);
        assert_eq!(needles.is_due, is_due, "{last}: {}", needles.text);
    }
    // One that was timed before they were cleared says nothing of them now.
    let entries = [timed(30, 30.0), timed(25, 90.0), cleared];
    assert!(!one(&pod(60.0), &entries, Job::Needles).is_due);
}

#[test]
fn a_cup_is_held_against_a_good_one_of_its_own_circuit_since_they_were_cleared() {
    let cleared = |days: i32| entry(days_after(TODAY, -days), What::NeedlesCleared);
    let other = |days: i32, seconds: f64| {
        let what = What::Timed {
            circuit_id: "main".to_owned(),
            seconds,
            cup_ml: None,
        };
        entry(days_after(TODAY, -days), what)
    };
    for (entries, is_due, why) in [
        (
            vec![cleared(20), timed(19, 30.0), other(1, 90.0)],
            false,
            "of another circuit",
        ),
        (
            vec![cleared(20), other(19, 20.0), timed(1, 90.0)],
            false,
            "nothing of its own before",
        ),
        (
            vec![timed(19, 30.0), timed(1, 90.0)],
            false,
            "never cleared, so nothing is known good",
        ),
        (
            vec![cleared(20), timed(20, 30.0), timed(1, 90.0)],
            false,
            "timed on the day they were cleared",
        ),
        (
            vec![cleared(1), timed(19, 30.0), timed(1, 90.0)],
            false,
            "cleared after it",
        ),
        (
            vec![cleared(20), timed(19, 30.0), timed(1, 90.0)],
            true,
            "slower",
        ),
    ] {
        let needles = one(&pod(60.0), &entries, Job::Needles);
        let says_so = needles.text.starts_with("A cup took");
        assert_eq!(says_so, is_due, "{why}: {}", needles.text);
    }
}

#[test]
fn what_was_done_says_when_and_since_when_it_is_time_again() {
    for (days, text, is_due) in [
        (6, "Last done 17 Nov; next about 24 Nov", false),
        (7, "Last done 16 Nov; time for it since 23 Nov", true),
        (8, "Last done 15 Nov; time for it since 22 Nov", true),
    ] {
        let tray = one(&pod(60.0), &[did(Job::Tray, days)], Job::Tray);
        assert_eq!((tray.text.as_str(), tray.is_due), (text, is_due));
        assert_eq!(tray.last, Some(days_after(TODAY, -days)));
    }
    // What is due stands first.
    let works = Upkeep::of(
        &pod(60.0),
        (&[did(Job::Tray, 1)], None),
        Kitchen::default(),
        Asks::All,
        TODAY,
    );
    let due: Vec<_> = works.iter().map(|w| w.is_due).collect();
    assert!(
        due.is_sorted_by(|a, b| a >= b) && due.contains(&false) && due[0],
        "{due:?}"
    );
}

#[test]
fn each_work_has_its_usual_cadence_and_an_own_one_goes_before_it() {
    for (job, days) in [
        (Job::Tray, 7),
        (Job::RinsePod, 14),
        (Job::Wash, 60),
        (Job::Hollow, 120),
    ] {
        for (age, is_due) in [(days - 1, false), (days, true), (days + 1, true)] {
            let found = one(&pod(60.0), &[did(job, age)], job);
            assert_eq!(found.is_due, is_due, "{job:?} {age}");
        }
    }
    let with = |cadence: Cadence| {
        let mut brewer = pod(60.0);
        brewer.cadences.push(cadence);
        brewer.check().expect("a sound cadence");
        brewer
    };
    let own = Cadence {
        job: Job::Tray,
        days: Some(20),
        brews: Some(40),
        off: false,
    };
    // Four cups a day: forty brews are ten days.
    for (age, is_due) in [(9, false), (10, true), (11, true)] {
        assert_eq!(
            one(&with(own), &[did(Job::Tray, age)], Job::Tray).is_due,
            is_due,
            "{age}"
        );
    }
    let off = Cadence { off: true, ..own };
    let tray = one(&with(off), &[did(Job::Tray, 100)], Job::Tray);
    assert_eq!((tray.is_due, tray.days), (false, None));
    // A filter that nobody wants to be asked for is worn out all the same.
    let own = Cadence {
        job: Job::Filter,
        ..off
    };
    let works_of = |entries: &[Entry]| {
        Upkeep::of(
            &with(own),
            (entries, None),
            Kitchen::default(),
            Asks::All,
            TODAY,
        )
    };
    // One of which nobody has told when it was fitted is not called worn out: that is asked.
    let untold = works_of(&[]);
    assert!(!Upkeep::is_filter_worn(&untold, TODAY) && Upkeep::is_filter_unknown(&untold));
    let works = works_of(&[fitted(400)]);
    assert!(Upkeep::is_filter_worn(&works, TODAY) && !Upkeep::is_filter_unknown(&works));
    assert!(works.iter().all(|w| w.job != Job::Filter || !w.is_due));
    assert_eq!(tray.every, "never asked for");
}

#[test]
fn a_cadence_that_cannot_be_kept_is_refused() {
    let cadence = |days, brews| Cadence {
        job: Job::Tray,
        days,
        brews,
        off: false,
    };
    for (days, brews, field) in [
        (Some(0), None, Some("days")),
        (Some(1), None, None),
        (Some(1000), None, None),
        (Some(1001), None, Some("days")),
        (None, Some(0), Some("brews")),
        (None, Some(1), None),
    ] {
        let found = cadence(days, brews).check(&pod(60.0));
        let fields = found.err().map(|p| p.0[0].field.clone());
        assert_eq!(fields.as_deref(), field, "{days:?} {brews:?}");
    }
    let drip = brewer(Family::Drip, |_| {});
    let problems = cadence(Some(7), None).check(&drip).unwrap_err();
    assert_eq!(problems.0[0].field, "job");
}

#[test]
fn a_household_says_how_much_it_wants_to_be_asked() {
    let asked = |asks| {
        let works = Upkeep::of(&pod(60.0), (&[], None), Kitchen::default(), asks, TODAY);
        let due = works.into_iter().filter(|w| w.is_due).map(|w| w.job);
        due.collect::<Vec<_>>()
    };
    assert_eq!(asked(Asks::Needed), [Job::Filter, Job::Needles]);
    let usual = [
        Job::Filter,
        Job::Needles,
        Job::Tray,
        Job::RinsePod,
        Job::Wash,
    ];
    assert_eq!(asked(Asks::Usual), usual);
    assert!(asked(Asks::All).contains(&Job::Hollow));
}

#[test]
fn where_it_is_warm_water_is_stale_sooner_and_where_it_is_cool_later() {
    for (warmth, stood, text) in [
        (Warmth::Usual, 10, "stood in it for 10 days: pour it away"),
        (
            Warmth::Usual,
            11,
            "stood in it for 11 days: wash the reservoir",
        ),
        (
            Warmth::Warm,
            6,
            "for 6 days, warm (like 10 days at 20 °C): pour it away",
        ),
        (
            Warmth::Warm,
            7,
            "for 7 days, warm (like 11 days at 20 °C): wash the reservoir",
        ),
        (
            Warmth::Cool,
            18,
            "for 18 days, cool (like 10 days at 20 °C): pour it away",
        ),
        (
            Warmth::Cool,
            19,
            "for 19 days, cool (like 11 days at 20 °C): wash the reservoir",
        ),
    ] {
        let kitchen = Kitchen {
            warmth,
            ..Kitchen::default()
        };
        let entries = [away(-stood, -1)];
        let works = Upkeep::of(&pod(60.0), (&entries, None), kitchen, Asks::All, TODAY);
        let back = works
            .iter()
            .find(|w| w.job == Job::Back)
            .expect("asked for");
        assert!(back.text.contains(text), "{warmth:?}: {}", back.text);
    }
}

#[test]
fn works_fit_the_brewers_that_have_what_they_are_about() {
    let fits = |family| {
        let brewer = brewer(family, |_| {});
        let all = Job::ALL.iter().filter(|job| job.fits(&brewer)).copied();
        all.collect::<Vec<_>>()
    };
    let drip = fits(Family::Drip);
    assert!(
        drip.contains(&Job::Reusable)
            && !drip.contains(&Job::Tray)
            && !drip.contains(&Job::RinsePod)
    );
    let cup = fits(Family::OneCupPod);
    assert!(cup.contains(&Job::LightBath) && !cup.contains(&Job::Empty));
    assert!(cup.contains(&Job::Reusable) && fits(Family::PodReservoir).contains(&Job::Reusable));
    let capsule = fits(Family::PumpCapsule);
    assert!(capsule.contains(&Job::Tray) && !capsule.contains(&Job::Hollow));
    assert!(!capsule.contains(&Job::Reusable));
    assert!(fits(Family::Combination).contains(&Job::RinsePod));
}

#[test]
fn before_days_away_it_wants_to_be_emptied_and_afterwards_fresh_water() {
    let pod = pod(60.0);
    // (first and last day away from today, emptied days ago) to whether it is asked for.
    for (from, until, emptied, is_due) in [
        (2, 9, None, false),
        (1, 9, None, true),
        (0, 9, None, true),
        (-1, 9, None, false),
        (1, 2, None, false),
        (1, 9, Some(0), false),
        (1, 9, Some(3), true),
    ] {
        let mut entries = vec![away(from, until)];
        entries.extend(emptied.map(|days| did(Job::Empty, days)));
        let empty = one(&pod, &entries, Job::Empty);
        assert_eq!(
            empty.is_due, is_due,
            "{from} {until} {emptied:?}: {}",
            empty.text
        );
    }
    // (days away, days since back) to what is said.
    for (stood, since, text) in [
        (2, 0, None),
        (3, 0, Some("pour it away")),
        (10, 0, Some("pour it away")),
        (11, 0, Some("wash the reservoir")),
        (11, 14, Some("wash the reservoir")),
        (11, 15, None),
    ] {
        let last = -1 - since;
        let found = work(&pod, &[away(last - stood + 1, last)], Job::Back);
        let told = found.as_ref().map(|work| work.text.as_str());
        assert_eq!(told.is_some(), text.is_some(), "{stood} {since}: {told:?}");
        assert!(
            text.is_none_or(|text| told.unwrap_or_default().contains(text)),
            "{told:?}"
        );
    }
    // The same where days away are kept apart.
    let apart = Logged::of(&[away(1, 9)]);
    let works = Upkeep::of(
        &pod,
        (&[], Some(&apart)),
        Kitchen::default(),
        Asks::All,
        TODAY,
    );
    assert!(
        works
            .iter()
            .any(|work| work.job == Job::Empty && work.is_due)
    );
    let entries = [away(-12, -1), did(Job::Empty, 13)];
    assert!(
        one(&pod, &entries, Job::Back)
            .text
            .starts_with("It stood empty")
    );
    let entries = [away(-12, -1), did(Job::Back, 0)];
    assert_eq!(work(&pod, &entries, Job::Back), None);
}

proptest! {
    #[test]
    fn away_days_never_make_a_work_due_while_away(
        age in 0..40i32,
        spans in proptest::collection::vec((-60..20i32, 1..30i32), 0..5),
    ) {
        let mut entries: Vec<_> = spans.iter().map(|(from, long)| away(*from, from + long)).collect();
        entries.push(did(Job::Tray, age));
        entries.push(entry(days_after(TODAY, -age), What::FilterFitted));
        let is_away = |day: Date| entries.iter().any(|e| match e.what {
            What::Away { until } => (e.day..=until).contains(&day),
            _ => false,
        });
        for job in [Job::Tray, Job::Filter] {
            let due = one(&pod(60.0), &entries, job).due.expect("a day");
            prop_assert!(!is_away(due) || due <= days_after(TODAY, -age), "{job:?} {due}");
        }
    }

    #[test]
    fn a_work_done_is_due_again_exactly_once_and_more_use_never_makes_it_later(
        age in 0..20i32, cups in 1.0..20.0f64, more in 1.0..3.0f64,
    ) {
        let with = |cups: f64| {
            let mut brewer = pod(60.0);
            brewer.habits[0].value.weekday_cups = cups;
            brewer.habits[0].value.weekend_cups = cups;
            brewer.cadences.push(Cadence { job: Job::RinsePod, days: None, brews: Some(60), off: false });
            brewer
        };
        let works = Upkeep::of(&with(cups), (&[did(Job::RinsePod, age)], None), Kitchen::default(), Asks::All, TODAY);
        prop_assert_eq!(works.iter().filter(|w| w.job == Job::RinsePod).count(), 1);
        for job in [Job::RinsePod, Job::Filter] {
            let entries = [did(Job::RinsePod, age), entry(days_after(TODAY, -age), What::FilterFitted)];
            let [less, more] = [cups, cups * more].map(|cups| one(&with(cups), &entries, job).due);
            prop_assert!(more <= less, "{:?}", job);
        }
    }
}

#[test]
fn a_filter_is_renewed_sooner_on_hard_water_unless_its_own_days_were_told() {
    let mut pod = pod(1000.0);
    let fitted = [entry(days_after(TODAY, -10), What::FilterFitted)];
    let after = |brewer: &Brewer, hardness: Option<f64>| {
        let works = Upkeep::of(
            brewer,
            (&fitted, None),
            Kitchen {
                hardness,
                ..Kitchen::default()
            },
            Asks::All,
            TODAY,
        );
        let filter = works.into_iter().find(|w| w.job == Job::Filter).unwrap();
        (days_between(TODAY, filter.due.unwrap()) + 10, filter.every)
    };
    for (hardness, days) in [
        (None, 60),
        (Some(149.0), 60),
        (Some(150.0), 60),
        (Some(160.0), 56),
        (Some(214.0), 42),
        (Some(300.0), 30),
        (Some(301.0), 30),
        (Some(900.0), 30),
    ] {
        let (due, every) = after(&pod, hardness);
        assert_eq!(due, days, "{hardness:?}");
        assert_eq!(every.contains("hard water"), days < 60, "{every}");
    }
    pod.cadences.push(Cadence {
        job: Job::Filter,
        days: Some(50),
        brews: None,
        off: false,
    });
    assert_eq!(after(&pod, Some(300.0)).0, 50);
}

#[test]
fn a_slow_cup_of_the_day_on_which_needles_were_cleared_was_timed_before() {
    let well = brewer(Family::PodReservoir, |draft| {
        draft.operation.healthy = Some(murlo_brewer::Healthy {
            seconds: 30.0,
            streams: 1.0,
        });
    });
    let cleared = entry(days_after(TODAY, -20), What::NeedlesCleared);
    for (days, is_due) in [(21, false), (20, false), (19, true)] {
        let slow = What::Timed {
            circuit_id: well.circuits[0].id.clone(),
            seconds: 90.0,
            cup_ml: None,
        };
        let entries = [cleared.clone(), entry(days_after(TODAY, -days), slow)];
        let needles = one(&well, &entries, Job::Needles);
        assert_eq!(needles.is_due, is_due, "{days} days ago: {}", needles.text);
    }
}

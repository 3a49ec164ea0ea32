mod corrected;

use super::*;
use crate::PastClean;
use jiff::civil::date;
use murlo_base::days::days_after;
use murlo_base::units::HardnessUnit;
use murlo_brewer::water::{Reading, Water};
use murlo_brewer::{Beforehand, LastClean};
use murlo_brewer::{BrewerDraft, CircuitKey};
use murlo_chalk::scale::{Cleaned, DueBy};

const TODAY: Date = date(2026, 11, 23);

pub(crate) struct House {
    waters: Waters,
    homes: HashMap<String, Home>,
    cleans: Cleans,
    journals: Journals,
    running: Running,
    acid: HashMap<CircuitKey, AcidInside>,
    measured: HashMap<CircuitKey, Measured>,
}

impl House {
    pub(crate) fn new() -> Self {
        let water = |id: &str, value| Water {
            id: id.into(),
            name: format!("{id} water"),
            reading: Reading::Strip {
                value,
                unit: HardnessUnit::MgPerL,
            },
            price_a_litre: None,
        };
        Self {
            waters: [water("soft", 30.0), water("hard", 290.0)]
                .map(|w| (w.id.clone(), w))
                .into(),
            homes: HashMap::from([("h".to_owned(), Home::named("h", "Houseboat Tern"))]),
            cleans: Cleans::new(),
            journals: Journals::new(),
            running: Running::new(),
            acid: HashMap::new(),
            measured: HashMap::new(),
        }
    }

    pub(crate) fn facts(&self) -> CounterFacts<'_> {
        CounterFacts {
            waters: &self.waters,
            homes: &self.homes,
            cleans: &self.cleans,
            logged: None,
            recalls: None,
            journals: &self.journals,
            running: &self.running,
            acid: &self.acid,
            paces: &[],
            asks: Asks::default(),
            noses: &[],
            ways: &[],
            over_days: &[],
            pace_after: None,
            measured: &self.measured,
            now: None,
            today: TODAY,
            units: Units::Metric,
        }
    }
}

pub(crate) fn brewer(id: &str, water: &str, days: i32) -> Brewer {
    let start = days_after(TODAY, -days);
    let template = BrewerDraft::template(Family::PodReservoir, Units::Metric, "h", water, start);
    let draft = BrewerDraft {
        nickname: id.into(),
        beforehand: None,
        ..template
    };
    draft.check(id.into(), None, start).unwrap()
}

fn acid_inside() -> AcidInside {
    AcidInside {
        clean_id: "c".into(),
        text: "ACID INSIDE".into(),
        since: None,
        times: "about 240 times what people notice".into(),
    }
}

#[test]
fn nothing_is_begun_where_a_bath_stands_inside_or_in_a_reservoir_that_is_shared() {
    let held = |own_reservoirs: bool, side: usize, asked: usize| {
        let mut house = House::new();
        let mut duo = brewer("duo", "hard", 20);
        let since = days_after(TODAY, -20);
        let template =
            BrewerDraft::template(Family::Combination, Units::Metric, "h", "hard", since);
        let nickname = "duo".to_owned();
        let draft = BrewerDraft {
            nickname,
            ..template
        };
        duo.circuits = draft.check("duo".into(), None, TODAY).unwrap().circuits;
        duo.circuits[1].reservoir_ml = own_reservoirs.then_some(900.0);
        let key = duo.key_of(&duo.circuits[side]);
        house.acid.insert(key, acid_inside());
        let facts = house.facts();
        facts.may_begin(&duo, &duo.circuits[asked]).is_err()
    };
    for (own_reservoirs, side, asked, is_held) in [
        (false, 0, 0, true),
        (false, 0, 1, true),
        (false, 1, 0, true),
        (true, 0, 0, true),
        (true, 0, 1, false),
        (true, 1, 0, false),
    ] {
        let got = held(own_reservoirs, side, asked);
        assert_eq!(got, is_held, "{own_reservoirs} {side} {asked}");
    }
    let mut house = House::new();
    let pod = brewer("pod", "hard", 20);
    assert_eq!(house.facts().may_begin(&pod, &pod.circuits[0]), Ok(()));
    let key = pod.key_of(&pod.circuits[0]);
    house.acid.insert(key.clone(), acid_inside());
    let refused = house.facts().may_begin(&pod, &pod.circuits[0]);
    let message = refused.unwrap_err().message;
    assert!(message.starts_with("ACID INSIDE"), "{message}");
    assert!(message.contains("rinse it out first"), "{message}");
    // The clean that left it goes on with it.
    house.running.insert(key, "c".into());
    assert_eq!(house.facts().may_begin(&pod, &pod.circuits[0]), Ok(()));
}

#[test]
fn acid_left_inside_comes_before_everything_else() {
    let mut house = House::new();
    let brewers = [brewer("calm", "soft", 3), brewer("due", "hard", 400)];
    let last = house.facts().cards(&brewers).pop().unwrap();
    let key = CircuitKey::new(&last.id, &last.circuits[0].circuit_id);
    house.acid.insert(key, acid_inside());
    let first = house.facts().cards(&brewers).remove(0);
    assert_eq!(first.id, last.id);
    assert_eq!(first.circuits[0].acid.as_ref().unwrap().clean_id, "c");
}

/// A brewer that is known since ten days, with nothing told of the time before.
fn found() -> Brewer {
    let mut found = brewer("found", "hard", 10);
    found.beforehand = Some(murlo_brewer::Beforehand::default());
    found
}

#[test]
fn a_clean_that_is_told_of_before_the_first_known_day_is_where_its_past_begins() {
    let mut house = House::new();
    let found = found();
    let used = |house: &House| {
        let forecast = house.facts().forecast(&found, &found.circuits[0]).unwrap();
        let chalk = forecast.chalk;
        (chalk.used_low, chalk.used, chalk.used_high)
    };
    let unknown = used(&house);
    let key = CircuitKey::new("found", "main");
    let told = |days: i32| Cleaned::told(days_after(TODAY, -days));
    house.cleans.insert(key.clone(), vec![told(60)]);
    let since_then = used(&house);
    assert!(since_then.1 < unknown.1, "{since_then:?} {unknown:?}");
    let spread = |(low, _, high): (f64, f64, f64)| high / low;
    assert!(spread(since_then) < spread(unknown));
    // Of an earlier one it says what that one left of a year's chalk.
    house.cleans.insert(key, vec![told(400), told(60)]);
    let twice = used(&house);
    assert!(
        since_then.1 < twice.1 && twice.1 < unknown.1 * 2.0,
        "{twice:?}"
    );
}

#[test]
fn no_day_is_due_from_before_anybody_knew_the_brewer() {
    let house = House::new();
    let due = |mut known: Brewer, last_clean: Option<LastClean>| {
        known.beforehand = last_clean.map(|last_clean| Beforehand {
            last_clean,
            ..Beforehand::default()
        });
        let forecast = house.facts().forecast(&known, &known.circuits[0]);
        let due = forecast.unwrap().due;
        (due.days, due.text)
    };
    // In soft water, so that only the half year counts.
    for days in [0, 10] {
        let (in_days, text) = due(brewer("found", "soft", days), Some(LastClean::Unknown));
        assert_eq!(in_days, 0, "{days}: {text}");
        assert_eq!(text, "now: nobody knows when it was last done");
        // Of one that came new a day is told.
        let (in_days, text) = due(brewer("found", "soft", days), None);
        assert!(in_days > 100 && !text.starts_with("now"), "{days}: {text}");
    }
}

#[test]
fn a_clean_is_told_of_any_day_that_may_have_been_one_of_use() {
    let past = |days: i32| PastClean {
        id: "p".into(),
        brewer_id: "b".into(),
        day: days_after(TODAY, -days),
        note: " by hand ".into(),
        bathed: std::collections::BTreeMap::new(),
    };
    let bought = brewer("bought", "hard", 10);
    for (of, days, is_taken) in [
        (&bought, 10, true),
        (&bought, 11, false),
        (&bought, 0, true),
        (&bought, -1, false),
        (&found(), 11, true),
        (&found(), -1, false),
    ] {
        let told = past(days).told(of, TODAY);
        assert_eq!(told.is_ok(), is_taken, "{} {days}", of.nickname);
    }
    let told = past(5).told(&bought, TODAY).unwrap();
    assert_eq!(told.note, "by hand");
    // So is a small work, but not what is counted day by day.
    let entry = |what| Entry {
        id: "e".into(),
        brewer_id: "b".into(),
        day: days_after(TODAY, -40),
        at: None,
        what,
    };
    assert!(entry(What::FilterFitted).check(&found()).is_ok());
    assert!(entry(What::FilterFitted).check(&bought).is_err());
    assert!(entry(What::Brewed { cups: 2.0 }).check(&found()).is_err());
}

#[test]
fn a_brewer_with_a_clean_or_acid_in_it_is_put_away_only_when_that_is_meant() {
    let mut house = House::new();
    let pod = brewer("pod", "soft", 20);
    let key = CircuitKey::new("pod", "main");
    assert_eq!(house.facts().may_put_away(&pod, false), Ok(()));
    house.acid.insert(key.clone(), acid_inside());
    let refused = house.facts().may_put_away(&pod, false).unwrap_err();
    assert!(refused.message.contains("acid is left inside"), "{refused}");
    house.running.insert(key, "c".into());
    let refused = house.facts().may_put_away(&pod, false).unwrap_err();
    assert!(refused.message.contains("is not over"), "{refused}");
    assert_eq!(house.facts().may_put_away(&pod, true), Ok(()));
}

#[test]
fn running_cleans_come_first_then_the_most_urgent() {
    let mut house = House::new();
    house
        .running
        .insert(CircuitKey::new("new", "main"), "c1".into());
    let brewers = [
        brewer("soft", "soft", 20),
        brewer("hard", "hard", 120),
        brewer("new", "soft", 1),
        brewer("middle", "hard", 60),
    ];
    let cards = house.facts().cards(&brewers);
    let order: Vec<_> = cards
        .iter()
        .map(|c| (c.nickname.as_str(), c.urgency))
        .collect();
    let expected = [
        ("new", Urgency::Fresh),
        ("hard", Urgency::Overdue),
        ("middle", Urgency::Due),
        ("soft", Urgency::Fresh),
    ];
    assert_eq!(order, expected);
    assert_eq!(
        (cards[0].running_clean.as_deref(), cards[0].home.as_str()),
        (Some("c1"), "Houseboat Tern")
    );
    assert_eq!(cards[1].water, "hard water, very hard");
}

#[test]
fn what_a_descaling_that_is_due_does_anyway_is_no_line_of_its_own() {
    let house = House::new();
    for (days, is_due) in [(1, false), (400, true)] {
        let card = house.facts().card(&brewer("b", "hard", days)).unwrap();
        assert_eq!(card.urgency <= Urgency::Due, is_due);
        for work in &card.upkeep {
            let comes = is_due && work.job.is_within_a_clean();
            assert_eq!(work.comes_with_descaling, comes, "{:?}", work.job);
        }
        assert!(
            card.upkeep
                .iter()
                .any(|w| w.job == murlo_brewer::job::Job::Tray)
        );
        assert!(card.upkeep.iter().any(|w| !w.job.is_within_a_clean()));
    }
}

#[test]
fn a_clean_moves_the_due_date_and_leaves_what_such_cleans_leave() {
    let mut house = House::new();
    let pod = brewer("pod", "hard", 120);
    let before = house.facts().card(&pod).unwrap();
    assert_eq!(before.urgency, Urgency::Overdue);
    let key = CircuitKey::new("pod", "main");
    house.cleans.insert(key, vec![Cleaned::told(TODAY)]);
    let after = house.facts().card(&pod).unwrap().circuits[0]
        .forecast
        .clone();
    assert_eq!(after.litres, 0.0);
    let was = &before.circuits[0].forecast.chalk;
    assert!(
        (0.05..0.3).contains(&(after.chalk.mg / was.mg)),
        "{} {}",
        after.chalk.mg,
        was.mg
    );
    assert!(after.chalk.low_mg < after.chalk.mg && after.chalk.mg < after.chalk.high_mg);
    assert_eq!(after.due.urgency, Urgency::Fresh, "never due the same day");
    assert!(
        after.due.earliest < after.due.latest,
        "never a window of one day"
    );
}

#[test]
fn what_the_person_told_counts_until_a_later_clean() {
    let mut house = House::new();
    let mut pod = brewer("pod", "hard", 200);
    pod.last_descaled = Some(days_after(TODAY, -10));
    let old = Cleaned::told(days_after(TODAY, -90));
    house
        .cleans
        .insert(CircuitKey::new("pod", "main"), vec![old]);
    let forecast = house.facts().card(&pod).unwrap().circuits[0]
        .forecast
        .clone();
    assert!(
        forecast.reason.ends_with("since 13 Nov"),
        "{}",
        forecast.reason
    );
    assert_eq!(forecast.due.by, DueBy::Chalk);
}

#[test]
fn a_change_of_water_counts_from_its_day() {
    let house = House::new();
    let mut pod = brewer("pod", "soft", 100);
    let softly = house.facts().card(&pod).unwrap().circuits[0]
        .forecast
        .chalk
        .mg;
    pod.waters.push(murlo_brewer::Since {
        from: days_after(TODAY, -50),
        value: "hard".into(),
    });
    let mixed = house.facts().card(&pod).unwrap().circuits[0]
        .forecast
        .chalk
        .mg;
    pod.waters[1].from = days_after(TODAY, -99);
    let hard = house.facts().card(&pod).unwrap().circuits[0]
        .forecast
        .chalk
        .mg;
    assert!(softly < mixed && mixed < hard, "{softly} {mixed} {hard}");
}

#[test]
fn a_course_goes_from_clean_to_clean_and_on_to_the_window() {
    let mut house = House::new();
    let pod = brewer("pod", "hard", 200);
    let clean = |days: i32| Cleaned::told(days_after(TODAY, -days));
    let key = CircuitKey::new("pod", "main");
    house.cleans.insert(key, vec![clean(120), clean(40)]);
    let facts = house.facts();
    let course = facts.course(&pod, &pod.circuits[0], 548).unwrap();
    assert_eq!(course.spans.len(), 3);
    assert_eq!(
        course.cleans,
        [days_after(TODAY, -120), days_after(TODAY, -40)]
    );
    let ends: Vec<_> = course.spans.iter().map(|s| s[s.len() - 1].day).collect();
    assert_eq!(ends, [course.cleans[0], course.cleans[1], TODAY]);
    let (ended, began) = (course.spans[0].last().unwrap(), course.spans[1][0]);
    assert_eq!(ended.day, began.day);
    assert!(began.mg < 0.3 * ended.mg, "before and after a clean");
    assert!(began.low_mg < began.mg && began.mg < began.high_mg);
    let forecast = facts.forecast(&pod, &pod.circuits[0]).unwrap();
    assert_eq!(course.fan[0].day, TODAY);
    assert!((course.fan[0].mg - forecast.chalk.mg).abs() < 1e-9);
    let now = course.spans[2].last().unwrap();
    assert!((now.mg - forecast.chalk.mg).abs() < 1e-9);
    assert!(course.fan[course.fan.len() - 1].day >= forecast.due.latest);
    let labels: Vec<_> = course.months.iter().map(|m| m.label.as_str()).collect();
    assert!(labels.starts_with(&["Jun", "Jul"]), "{labels:?}");
    // A shorter look back begins with the clean before it.
    let short = facts.course(&pod, &pod.circuits[0], 60).unwrap();
    assert_eq!(short.spans.len(), 2);
}

fn told(id: &str, day: Date, what: What) -> Entry {
    Entry {
        id: id.into(),
        brewer_id: "pod".into(),
        day,
        at: None,
        what,
    }
}

fn sign(sign: murlo_brewer::journal::Sign) -> What {
    What::Sign {
        circuit_id: "main".into(),
        sign,
        dated: true,
        potential_mg: Some(1.0),
    }
}

#[test]
fn the_first_coffee_is_asked_for_while_it_can_be_remembered_and_not_while_acid_is_inside() {
    use murlo_brewer::journal::{Entry, FirstTaste, What};
    let pod = brewer("pod", "hard", 60);
    let key = pod.key_of(&pod.circuits[0]);
    let asked = |ago: i32, told: Option<&str>, change: &dyn Fn(&mut House, &mut Cleaned)| {
        let mut house = House::new();
        let mut clean = Cleaned {
            day: days_after(TODAY, -ago),
            clean_id: Some("c".into()),
            ..Cleaned::default()
        };
        change(&mut house, &mut clean);
        house.cleans.insert(key.clone(), vec![clean]);
        let entries = told.map(|clean_id| Entry {
            id: "e".into(),
            brewer_id: "pod".into(),
            day: TODAY,
            at: None,
            what: What::FirstCoffee {
                circuit_id: "main".into(),
                clean_id: clean_id.into(),
                taste: FirstTaste::Fine,
            },
        });
        house
            .journals
            .insert("pod".into(), entries.into_iter().collect());
        house.facts().card(&pod).unwrap().first_coffee
    };
    let as_it_is = |_: &mut House, _: &mut Cleaned| {};
    for (ago, is_asked) in [(0, true), (4, true), (5, false)] {
        assert_eq!(asked(ago, None, &as_it_is).is_some(), is_asked, "{ago}");
    }
    let text = asked(1, None, &as_it_is).unwrap().text;
    assert!(
        text.starts_with("How was the first coffee after the clean of "),
        "{text}"
    );
    assert_eq!(asked(1, Some("c"), &as_it_is), None);
    assert!(asked(1, Some("another"), &as_it_is).is_some());
    assert_eq!(asked(1, None, &|_, clean| clean.given_up = true), None);
    assert_eq!(asked(1, None, &|_, clean| clean.clean_id = None), None);
    let key = &key;
    let acid = |house: &mut House, _: &mut Cleaned| {
        house.acid.insert(key.clone(), acid_inside());
    };
    assert_eq!(asked(1, None, &acid), None);
    let running = |house: &mut House, _: &mut Cleaned| {
        house.running.insert(key.clone(), "c2".into());
    };
    assert_eq!(asked(1, None, &running), None);
}

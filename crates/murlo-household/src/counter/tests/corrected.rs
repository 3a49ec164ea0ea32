//! What is corrected or told later, and what it changes.

use crate::counter::tests::{House, TODAY, brewer, sign, told};
use crate::counter::*;
use murlo_base::days::days_after;
use murlo_base::units::HardnessUnit;
use murlo_brewer::water::Reading;
use murlo_brewer::{BrewerDraft, CircuitKey};
use murlo_chalk::scale::{Cleaned, DueBy};
use murlo_plan::PlanOptions;

#[test]
fn a_light_and_a_clean_of_one_day_are_kept_in_their_order() {
    let pod = brewer("pod", "hard", 120);
    let light = |at: Option<&str>| Entry {
        at: at.map(|at| at.parse().unwrap()),
        ..told("l", TODAY, sign(murlo_brewer::journal::Sign::Light))
    };
    let growth = |entry: Entry| {
        let mut house = House::new();
        let mut clean = Cleaned::told(TODAY);
        clean.at = Some("2026-11-23T12:00:00Z".parse().unwrap());
        clean.clean_id = Some("c".into());
        let key = CircuitKey::new("pod", "main");
        house.cleans.insert(key, vec![clean]);
        house.journals.insert("pod".into(), vec![entry]);
        let forecast = house.facts().forecast(&pod, &pod.circuits[0]).unwrap();
        (forecast.growth, forecast.due.by)
    };
    let (before, by) = growth(light(Some("2026-11-23T09:00:00Z")));
    let (after, _) = growth(light(Some("2026-11-23T18:00:00Z")));
    let (untimed, _) = growth(light(None));
    assert!((before - after).abs() > 0.01, "{before} {after}");
    assert!(
        (before - untimed).abs() < 1e-12,
        "what nobody timed came before the clean"
    );
    assert_ne!(by, DueBy::Light);
}

#[test]
fn a_water_that_is_corrected_corrects_old_lessons() {
    let mut house = House::new();
    let pod = brewer("pod", "hard", 200);
    let slow = told(
        "s",
        days_after(TODAY, -100),
        sign(murlo_brewer::journal::Sign::Slow),
    );
    house.journals.insert("pod".into(), vec![slow]);
    let growth = |house: &House| {
        house
            .facts()
            .forecast(&pod, &pod.circuits[0])
            .unwrap()
            .growth
    };
    let reckoned = growth(&house);
    // It was softer all along, so chalk grows faster than reckoned.
    house.waters.get_mut("hard").unwrap().reading = Reading::Strip {
        value: 120.0,
        unit: HardnessUnit::MgPerL,
    };
    assert!(growth(&house) > 1.1 * reckoned);
}

#[test]
fn a_forgotten_clean_told_later_moves_the_due_day_as_if_it_had_been_told_then() {
    let mut house = House::new();
    let pod = brewer("pod", "hard", 200);
    let due = |house: &House| house.facts().forecast(&pod, &pod.circuits[0]).unwrap().due;
    let before = due(&house);
    let key = CircuitKey::new("pod", "main");
    house
        .cleans
        .insert(key, vec![Cleaned::told(days_after(TODAY, -60))]);
    let after = due(&house);
    assert!(after.date > before.date && after.earliest > before.earliest);
}

#[test]
fn years_of_neglect_are_reckoned_whole() {
    let house = House::new();
    let grown = |days: i32| {
        let pod = brewer("pod", "hard", days);
        house.facts().forecast(&pod, &pod.circuits[0]).unwrap()
    };
    let (one, two) = (grown(365), grown(730));
    assert!(
        (two.litres / one.litres - 2.0).abs() < 0.02,
        "no cut at a year"
    );
    // Years without a sign speak for slower growth, so not quite twice.
    assert!(two.chalk.mg > 1.4 * one.chalk.mg);
    assert!(two.due.days < -300);
}

#[test]
fn another_water_from_today_is_not_told_of_what_went_before() {
    let house = House::new();
    let mut pod = brewer("pod", "hard", 100);
    pod.waters.push(murlo_brewer::Since {
        from: TODAY,
        value: "soft".into(),
    });
    let reason = house
        .facts()
        .forecast(&pod, &pod.circuits[0])
        .unwrap()
        .reason;
    assert!(reason.contains("of several waters since"), "{reason}");
}

#[test]
fn a_counter_that_starts_again_tells_nothing_between_its_readings() {
    let mut house = House::new();
    let pod = brewer("pod", "hard", 40);
    let litres = |house: &House| {
        house
            .facts()
            .forecast(&pod, &pod.circuits[0])
            .unwrap()
            .litres
    };
    let habit = litres(&house);
    let reading =
        |id: &str, days: i32, brews| told(id, days_after(TODAY, -days), What::Counter { brews });
    house.journals.insert(
        "pod".into(),
        vec![
            reading("a", 40, 500.0),
            reading("b", 20, 3.0),
            reading("c", 0, 103.0),
        ],
    );
    let counted = litres(&house);
    let cup = pod.habit().cup_ml / 1000.0;
    assert!(
        (counted - habit / 2.0 - 100.0 * cup).abs() < 0.6,
        "{counted} {habit}"
    );
}

#[test]
fn a_light_that_counts_brews_is_told_from_one_that_feels_chalk() {
    let cycles = |brews: [f64; 3], harder: bool| {
        let mut house = House::new();
        let mut pod = brewer("pod", "hard", 300);
        let mut entries = Vec::new();
        let mut cleans = Vec::new();
        // Three cycles of fifty days from a clean to the light; the last ones on other water.
        for (i, brews) in brews.into_iter().enumerate() {
            let from = -300 + 100 * i as i32;
            let day = |n: i32| days_after(TODAY, from + n);
            for n in 0..50 {
                let cups = brews / 50.0;
                entries.push(told(&format!("b{i}-{n}"), day(n), What::Brewed { cups }));
            }
            entries.push(told(
                &format!("l{i}"),
                day(50),
                sign(murlo_brewer::journal::Sign::Light),
            ));
            cleans.push(Cleaned::told(day(60)));
            if i + 1 < 3 {
                for n in 50..100 {
                    entries.push(told(
                        &format!("b{i}-{n}"),
                        day(n),
                        What::Brewed { cups: 0.0 },
                    ));
                }
            }
        }
        if harder {
            for (days, water) in [(-230, "soft"), (-130, "hard")] {
                pod.waters.push(murlo_brewer::Since {
                    from: days_after(TODAY, days),
                    value: water.into(),
                });
            }
            house.waters.get_mut("soft").unwrap().reading = Reading::Strip {
                value: 150.0,
                unit: HardnessUnit::MgPerL,
            };
        }
        house.cleans.insert(CircuitKey::new("pod", "main"), cleans);
        house.journals.insert("pod".into(), entries);
        let forecast = |pod: &Brewer| house.facts().forecast(pod, &pod.circuits[0]).unwrap().light;
        let light = forecast(&pod);
        pod.light_counts = true;
        assert_eq!(forecast(&pod), None, "the person has said so");
        light
    };
    // The same brews again and again, on waters of different hardness.
    let counter = cycles([250.0, 252.0, 249.0], true).unwrap();
    assert!(
        counter.contains("after 250, 252, 249 brews: it seems to count them"),
        "{counter}"
    );
    // Another number each time on one water tells nothing of either.
    assert_eq!(cycles([150.0, 252.0, 349.0], false), None);
    assert_eq!(
        cycles([250.0, 252.0, 249.0], false),
        None,
        "brews and chalk go together on one water"
    );
}

#[test]
fn what_a_clean_taught_can_be_left_out() {
    let mut house = House::new();
    let pod = brewer("pod", "hard", 200);
    let mut clean = Cleaned::told(days_after(TODAY, -60));
    clean.clean_id = Some("c".into());
    clean.evidence.brought = Some(murlo_chalk::belief::Told::Lot);
    let key = CircuitKey::new("pod", "main");
    house.cleans.insert(key, vec![clean]);
    let forecast = |house: &House| house.facts().forecast(&pod, &pod.circuits[0]).unwrap();
    let taught = forecast(&house);
    let lesson = &taught.lessons[0];
    assert!(
        lesson.percent > 1.0 && lesson.text.contains("brought a lot of chalk out"),
        "{}",
        lesson.text
    );
    assert!(
        lesson.due_after < lesson.due_before,
        "one figure, and the due day before and after"
    );
    let what = What::LeftOut {
        entry_id: lesson.entry_id.clone(),
    };
    house
        .journals
        .insert("pod".into(), vec![told("o", TODAY, what)]);
    let without = forecast(&house);
    assert!(without.growth < taught.growth);
    assert_eq!(without.lessons[0].left_out_by.as_deref(), Some("o"));
}

#[test]
fn the_sides_of_a_combination_take_turns() {
    let mut house = House::new();
    let draft = BrewerDraft {
        nickname: "duo".into(),
        ..BrewerDraft::template(
            Family::Combination,
            Units::Metric,
            "h",
            "hard",
            days_after(TODAY, -60),
        )
    };
    let duo = draft.check("duo".into(), None, TODAY).unwrap();
    let turn = |house: &House| {
        let options = PlanOptions::default();
        let (side, why) = house.facts().side(&duo, &options).unwrap();
        (side.id.clone(), why.unwrap())
    };
    assert_eq!(
        turn(&house),
        (
            "main".into(),
            "The carafe side is used most: it comes first.".into()
        )
    );
    let done = |days: i32| vec![Cleaned::told(days_after(TODAY, -days))];
    let key = |side: &str| CircuitKey::new("duo", side);
    house.cleans.insert(key("main"), done(40));
    assert_eq!(
        turn(&house),
        (
            "pod".into(),
            "The carafe side was cleaned last, 14 Oct: now the pod side.".into()
        )
    );
    house.cleans.insert(key("pod"), done(3));
    assert_eq!(turn(&house).0, "main");
    // While one side is running it is the other's turn, whatever came last.
    house.running.insert(key("main"), "c1".into());
    let (main, pod) = (
        house.cleans.remove(&key("main")),
        house.cleans.remove(&key("pod")),
    );
    let (side, why) = turn(&house);
    assert_eq!(side, "pod");
    assert!(
        !why.contains("used most"),
        "forty per cent are not most: {why}"
    );
    house.cleans.insert(key("main"), main.unwrap());
    house.cleans.insert(key("pod"), pod.unwrap());
    let measured = Measured {
        programme_min: Some(33.0),
        ..Measured::default()
    };
    house.measured.insert(key("pod"), measured);
    assert_eq!(turn(&house).0, "pod");
    let today = house.facts().today_of(&duo, &duo.circuits[1], None);
    assert_eq!(
        (today.beside, today.measured.programme_min, today.filter_due),
        (true, Some(33.0), false)
    );
    let facts = house.facts();
    let needles = PlanOptions {
        work: murlo_plan::Work::Needles,
        ..PlanOptions::default()
    };
    assert_eq!(facts.side(&duo, &needles).unwrap().0.id, "pod");
    let steam = PlanOptions {
        circuit_id: Some("steam".into()),
        ..PlanOptions::default()
    };
    let unknown = facts.side(&duo, &steam).unwrap_err();
    assert!(
        unknown.message.contains("main or pod"),
        "{}",
        unknown.message
    );
}

use super::*;
use crate::journal::tests::{TODAY, brewer, entry, showed, sign};
use crate::scale::days_after;
use proptest::prelude::*;

fn taught(whats: Vec<What>) -> (Plating, Vec<Lesson>) {
    let brewer = brewer();
    let entries: Vec<_> = whats
        .into_iter()
        .enumerate()
        .map(|(i, what)| entry(&i.to_string(), days_after(TODAY, i as i32 - 50), what))
        .collect();
    plating(&brewer, &brewer.circuits[0], &entries, TODAY)
}

#[test]
fn a_dated_sign_teaches_more_than_a_vague_one() {
    // Limit 569.1 mg of a tank; slow after 2,500 mg, so more sticks than the starting 15 %.
    let (dated, lessons) = taught(vec![sign(Sign::Slow, true, 2500.0)]);
    assert!((dated.factor - 0.193_443).abs() < 1e-4 && (dated.sigma - 0.312_348).abs() < 1e-4);
    assert!(
        lessons[0]
            .text
            .ends_with("chalk grows 29 % faster than reckoned before"),
        "{}",
        lessons[0].text
    );
    let (vague, _) = taught(vec![sign(Sign::Slow, false, 2500.0)]);
    assert!(vague.factor < dated.factor && vague.sigma > dated.sigma);
}

#[test]
fn a_light_that_counts_water_teaches_nothing() {
    let mut counting = brewer();
    let seen = [entry("1", TODAY, sign(Sign::Light, true, 2500.0))];
    let now = |b: &Brewer| plating(b, &b.circuits[0], &seen, TODAY);
    assert!(now(&counting).0.factor > 0.15);
    counting.light_counts = true;
    let (plating, lessons) = now(&counting);
    assert!((plating.factor - 0.15).abs() < 1e-12);
    assert!(
        lessons[0].text.contains("only counts water"),
        "{}",
        lessons[0].text
    );
    assert!(learned(&counting.circuits[0], plating, &lessons).starts_with("Nothing learned yet"));
}

#[test]
fn no_chalk_teaches_only_when_some_was_expected() {
    for (potential, teaches) in [(1000.0, false), (6000.0, true)] {
        let (plating, lessons) = taught(vec![showed(false, potential)]);
        assert_eq!(plating.factor < 0.149, teaches, "{}", lessons[0].text);
        assert_eq!(lessons[0].before != lessons[0].after, teaches);
    }
}

#[test]
fn lessons_add_up_in_order_and_other_circuits_do_not_matter() {
    let (now, lessons) = taught(vec![
        sign(Sign::Noisy, true, 2500.0),
        showed(true, 2600.0),
        What::NeedlesCleared,
    ]);
    assert_eq!(lessons.len(), 2);
    assert_eq!(lessons[1].before, lessons[0].after);
    assert_eq!(lessons[1].after, now);
    let text = learned(&brewer().circuits[0], now, &lessons);
    assert!(text.starts_with("Learned from 2 observations"), "{text}");
    let mut other = brewer();
    other.circuits[0].id = "carafe".into();
    let entries = [entry("1", TODAY, sign(Sign::Slow, true, 2500.0))];
    assert!(
        plating(&other, &other.circuits[0], &entries, TODAY)
            .1
            .is_empty()
    );
}

#[test]
fn a_lesson_can_be_left_out_and_taken_in_again() {
    let brewer = brewer();
    let seen = entry("1", TODAY, sign(Sign::Slow, true, 2500.0));
    let out = entry(
        "2",
        TODAY,
        What::LeftOut {
            entry_id: "1".into(),
        },
    );
    let now = |entries: &[Entry]| plating(&brewer, &brewer.circuits[0], entries, TODAY);
    let (without, lessons) = now(&[seen.clone(), out]);
    assert!((without.factor - 0.15).abs() < 1e-12);
    assert_eq!(lessons[0].left_out_by.as_deref(), Some("2"));
    assert!(now(&[seen]).0.factor > 0.15);
}

#[test]
fn a_lesson_says_what_chalk_was_judged_by() {
    let What::Showed {
        circuit_id,
        clean_id,
        potential_mg,
        ..
    } = showed(true, 9000.0)
    else {
        unreachable!("it is made so");
    };
    let by = Some("stayed brown through 2 baths".to_owned());
    let (_, lessons) = taught(vec![What::Showed {
        circuit_id,
        clean_id,
        chalk: true,
        by,
        potential_mg,
    }]);
    let text = &lessons[0].text;
    assert!(
        text.starts_with("The clean on ")
            && text.contains("stayed brown through 2 baths: chalk grows"),
        "{text}"
    );
}

proptest! {
    #[test]
    fn what_was_left_makes_the_same_potential_tell_of_more(potential in 100.0..20_000.0f64, left in 0.0..2000.0f64) {
        let brewer = brewer();
        let circuit = &brewer.circuits[0];
        let learned = potential_to_learn(circuit, potential, left);
        prop_assert!(learned.is_finite() && learned >= potential);
    }
}

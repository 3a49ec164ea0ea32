use super::*;
use proptest::prelude::*;

fn seen(signs: &[(&str, bool)]) -> Seen {
    signs
        .iter()
        .map(|(name, there)| ((*name).to_owned(), *there))
        .collect()
}

fn best(signs: &[(&str, bool)]) -> Cause {
    diagnose(&seen(signs), &Context::default()).unwrap().causes[0].cause
}

#[test]
fn telling_signs_lead_to_their_cause() {
    for (signs, cause) in [
        (&[("white-chips", true), ("slow", true)][..], Cause::Scale),
        (&[("lukewarm", true), ("loud-rattling", true)], Cause::Scale),
        (
            &[
                ("overflow-around-the-pod", true),
                ("grounds-in-the-cup", true),
            ],
            Cause::ExitNeedle,
        ),
        (
            &[
                ("fine-with-no-pod-poor-with-a-pod", true),
                ("short-or-partial-cup", true),
            ],
            Cause::ExitNeedle,
        ),
        (
            &[
                ("poor-even-with-no-pod", true),
                ("lukewarm", false),
                ("white-chips", false),
                ("loud-rattling", false),
                ("light-asks-for-descaling", false),
                ("fewer-streams", true),
            ],
            Cause::EntranceNeedle,
        ),
        (
            &[("asks-for-water-when-full", true), ("no-water-comes", true)],
            Cause::PumpAir,
        ),
        (&[("sour-smell-after-a-clean", true)], Cause::AcidLeft),
        (
            &[
                ("brown-water-with-no-pod", true),
                ("flat-or-stale-taste", true),
            ],
            Cause::CoffeeOil,
        ),
    ] {
        assert_eq!(best(signs), cause, "{signs:?}");
    }
}

#[test]
fn danger_stops_everything_and_is_no_cleaning_matter() {
    for (danger, _) in DANGERS {
        let found = diagnose(
            &seen(&[("slow", true), (danger, true)]),
            &Context::default(),
        )
        .unwrap();
        assert!(
            found
                .stop
                .as_deref()
                .unwrap()
                .contains("qualified repairer")
        );
        assert!(found.next_test.is_none() && found.text.contains("Unplug"));
    }
    let none = diagnose(&seen(&[("sparks", false)]), &Context::default()).unwrap();
    assert_eq!(none.stop, None);
}

#[test]
fn the_next_test_is_the_one_that_tells_most_for_its_minutes() {
    let found = diagnose(
        &seen(&[("short-or-partial-cup", true)]),
        &Context::default(),
    )
    .unwrap();
    let next = found.next_test.unwrap();
    let p = {
        let weights = Cause::ALL.map(|c| Context::default().prior(c));
        scaled(given(weights, &SIGNS[1], true))
    };
    let rate = |sign: &Sign| gain(p, sign) / sign.minutes;
    let most = SIGNS
        .iter()
        .filter(|s| s.id != "short-or-partial-cup")
        .max_by(|a, b| rate(a).total_cmp(&rate(b)))
        .unwrap();
    assert_eq!(next.sign, most.id);
    assert!((next.gain_bits - gain(p, most)).abs() < 1e-12);
}

#[test]
fn evidence_is_named_for_and_against() {
    let found = diagnose(
        &seen(&[("white-chips", true), ("lukewarm", false)]),
        &Context::default(),
    )
    .unwrap();
    let scale = found
        .causes
        .iter()
        .find(|c| c.cause == Cause::Scale)
        .unwrap();
    assert_eq!(scale.evidence_for, ["Do white chips come out? Yes"]);
    assert_eq!(
        scale.evidence_against,
        ["Is the cup cooler than it was? No"]
    );
}

#[test]
fn what_is_known_of_the_brewer_weighs_in() {
    let chance = |context: &Context, cause: Cause| {
        let found = diagnose(&seen(&[("slow", true)]), context).unwrap();
        let ranked = found.causes.iter().find(|c| c.cause == cause);
        ranked.map_or(0.0, |c| c.probability)
    };
    let with = |chalk_used| Context {
        chalk_used: Some(chalk_used),
        ..Context::default()
    };
    assert!(chance(&with(1.5), Cause::Scale) > chance(&with(0.1), Cause::Scale));
    let drip = Context {
        pods: false,
        filter: None,
        ..Context::default()
    };
    for gone in [Cause::EntranceNeedle, Cause::ExitNeedle, Cause::SpentFilter] {
        assert!(chance(&drip, gone) == 0.0, "{gone:?}");
    }
    let next = diagnose(&Seen::new(), &drip).unwrap().next_test.unwrap();
    assert!(!SIGNS.iter().any(|s| s.id == next.sign && s.pods_only));
}

#[test]
fn unknown_and_contradicting_signs_are_refused_by_name() {
    for (signs, field) in [
        (&[("haunted", true)][..], "signs.haunted"),
        (
            &[
                ("poor-even-with-no-pod", true),
                ("fine-with-no-pod-poor-with-a-pod", true),
            ],
            "signs.poor-even-with-no-pod",
        ),
    ] {
        let problems = diagnose(&seen(signs), &Context::default()).unwrap_err();
        assert_eq!(problems.0[0].field, field);
    }
}

proptest! {
    #[test]
    fn answering_on_always_comes_to_an_end_with_something_to_do(answers in prop::collection::vec(any::<bool>(), 16), pods: bool) {
        let context = Context { pods, ..Context::default() };
        let mut known = Seen::new();
        for answer in answers {
            let found = diagnose(&known, &context).unwrap();
            let sum: f64 = found.causes.iter().map(|c| c.probability).sum();
            prop_assert!((sum - 1.0).abs() < 1e-9);
            prop_assert!(found.causes.windows(2).all(|c| c[0].probability >= c[1].probability));
            let Some(next) = found.next_test else { return Ok(()) };
            prop_assert!(next.gain_bits > 0.0 && next.minutes > 0.0);
            known.insert(next.sign, answer);
        }
        prop_assert!(diagnose(&known, &context).unwrap().next_test.is_none());
    }
}

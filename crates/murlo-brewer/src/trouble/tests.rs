use super::*;
use crate::trouble::diagnose::{MOST_QUESTIONS, RESEATED, TRIED, gain};
use proptest::prelude::*;

mod played;

fn seen(signs: &[(&str, bool)]) -> SignsSeen {
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
        (
            &[("sour-smell-after-a-clean", true), ("white-chips", false)],
            Cause::AcidLeft,
        ),
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
fn what_costs_nothing_comes_first_and_then_what_tells_most() {
    let context = Context::default();
    let mut told = seen(&[("short-or-partial-cup", true)]);
    let found = diagnose(&told, &context).unwrap();
    let first = found.next_test.unwrap();
    assert_eq!(first.sign, RESEATED);
    assert!(
        first
            .how
            .starts_with("First what costs nothing: switch off and pull the plug.")
    );
    told.insert(RESEATED.into(), false);
    let next = diagnose(&told, &context).unwrap().next_test.unwrap();
    let of = |cause| {
        let all = &diagnose(&told, &context).unwrap().causes;
        all.iter().find(|c| c.cause == cause).unwrap().probability
    };
    let p = Cause::ALL.map(of);
    let most = SIGNS
        .iter()
        .filter(|s| s.id != "short-or-partial-cup")
        .max_by(|a, b| gain(p, a).total_cmp(&gain(p, b)))
        .unwrap();
    assert_eq!(next.sign, most.id);
    assert!((next.gain_bits - gain(p, most)).abs() < 1e-9);
    // Where it helped, there is nothing more to do.
    told.insert(RESEATED.into(), true);
    let well = diagnose(&told, &context).unwrap();
    assert!(well.text.starts_with("It is well: air"), "{}", well.text);
    assert_eq!((well.next_test, well.begin_with), (None, None));
    // What is not about water is looked at at once.
    for id in [
        "white-chips",
        "flat-or-stale-taste",
        "sour-smell-after-a-clean",
    ] {
        let next = diagnose(&seen(&[(id, true)]), &context).unwrap().next_test;
        assert_ne!(next.unwrap().sign, RESEATED, "{id}");
    }
}

#[test]
fn full_and_asking_for_water_is_first_the_float() {
    let found = diagnose(
        &seen(&[("asks-for-water-when-full", true)]),
        &Context::default(),
    )
    .unwrap();
    let next = found.next_test.unwrap();
    assert_eq!(next.sign, RESEATED);
    assert!(next.how.contains("free its float"));
}

#[test]
fn sour_with_no_clean_lately_is_old_coffee() {
    for (days, likeliest) in [
        (None, Cause::AcidLeft),
        (Some(0), Cause::AcidLeft),
        (Some(7), Cause::AcidLeft),
        (Some(31), Cause::CoffeeOil),
        (Some(200), Cause::CoffeeOil),
    ] {
        let context = Context {
            days_since_clean: days,
            ..Context::default()
        };
        let found = diagnose(&seen(&[("sour-smell-after-a-clean", true)]), &context).unwrap();
        assert_eq!(found.causes[0].cause, likeliest, "{days:?}");
    }
}

#[test]
fn what_somebody_came_with_weighs_more_than_a_later_answer() {
    let told = seen(&[("white-chips", true), ("grounds-in-the-cup", true)]);
    let scale = |opening| {
        let context = Context {
            opening,
            ..Context::default()
        };
        let found = diagnose(&told, &context).unwrap();
        let scale = found.causes.iter().find(|c| c.cause == Cause::Scale);
        scale.unwrap().probability
    };
    let [chips, neither, grounds] =
        [Some("white-chips"), None, Some("grounds-in-the-cup")].map(scale);
    assert!(
        chips > neither && neither > grounds,
        "{chips} {neither} {grounds}"
    );
    // The only thing that is seen is what somebody came with.
    let only = seen(&[("white-chips", true)]);
    let named = Context {
        opening: Some("white-chips"),
        ..Context::default()
    };
    let of = |context: &Context| diagnose(&only, context).unwrap().causes;
    assert_eq!(of(&named), of(&Context::default()));
    assert_eq!(
        super::named("opening", "white-chips"),
        Ok(Some("white-chips"))
    );
    assert_eq!(super::named("opening", "sparks"), Ok(None));
    assert_eq!(
        super::named("opening", "ghosts").unwrap_err().field,
        "opening"
    );
}

#[test]
fn after_six_answers_something_is_done_that_is_soonest_tried() {
    let context = Context::default();
    let mut told = seen(&[("fewer-streams", true)]);
    for questions in 0..=MOST_QUESTIONS {
        let found = diagnose(&told, &context).unwrap();
        assert_eq!(found.next_test.is_none(), questions == MOST_QUESTIONS);
        assert_eq!(found.begin_with.is_some(), questions == MOST_QUESTIONS);
        let Some(next) = found.next_test else {
            assert!(
                found
                    .text
                    .starts_with("Not certain. Do first what is soonest tried: "),
                "{}",
                found.text
            );
            assert!(
                found.text.contains(". If that does not help: "),
                "{}",
                found.text
            );
            let begun = found
                .causes
                .iter()
                .find(|c| Some(c.cause) == found.begin_with);
            let worth = |c: &Ranked| c.probability / c.remedy.effort();
            assert!(worth(begun.unwrap()) >= worth(&found.causes[0]));
            break;
        };
        told.insert(next.sign, false);
    }
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
    assert!(chance(&with([1.5; 3]), Cause::Scale) > chance(&with([0.1; 3]), Cause::Scale));
    let drip = Context {
        pods: false,
        filter: None,
        ..Context::default()
    };
    for gone in [Cause::EntranceNeedle, Cause::ExitNeedle, Cause::SpentFilter] {
        assert!(chance(&drip, gone) == 0.0, "{gone:?}");
    }
    let next = diagnose(&SignsSeen::new(), &drip)
        .unwrap()
        .next_test
        .unwrap();
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
    fn answering_on_always_comes_to_an_end_with_something_to_do(answers in prop::collection::vec(any::<bool>(), 20), pods: bool) {
        let context = Context { pods, ..Context::default() };
        let mut known = SignsSeen::new();
        for answer in answers {
            let found = diagnose(&known, &context).unwrap();
            let sum: f64 = found.causes.iter().map(|c| c.probability).sum();
            prop_assert!((sum - 1.0).abs() < 1e-9);
            prop_assert!(found.causes.windows(2).all(|c| c[0].probability >= c[1].probability));
            let Some(next) = found.next_test else { return Ok(()) };
            prop_assert!((next.gain_bits > 0.0 || next.sign == RESEATED) && next.minutes > 0.0);
            known.insert(next.sign, answer);
        }
        prop_assert!(diagnose(&known, &context).unwrap().next_test.is_none());
    }
}

#[test]
fn nothing_but_noes_end_in_no_fault_and_a_timed_cup() {
    let mut told = SignsSeen::new();
    let mut last = diagnose(&told, &Context::default()).unwrap();
    while let Some(next) = last.next_test.take() {
        told.insert(next.sign, false);
        last = diagnose(&told, &Context::default()).unwrap();
    }
    assert_eq!(last.causes[0].cause, Cause::Nothing);
    assert_eq!(last.text, "Nothing speaks for a fault: time a cup.");
    assert_eq!(last.causes[0].remedy, Remedy::TimeCup);
}

#[test]
fn a_remedy_that_did_not_help_moves_on_to_the_next_cause() {
    let signs = [
        ("white-chips", true),
        ("lukewarm", true),
        ("loud-rattling", true),
    ];
    let before = diagnose(&seen(&signs), &Context::default()).unwrap();
    assert_eq!(before.causes[0].cause, Cause::Scale);
    for cause in Cause::ALL {
        let mut told = seen(&signs);
        told.insert(format!("{TRIED}{}", cause.id()), true);
        let after = diagnose(&told, &Context::default()).unwrap();
        let of = |d: &Diagnosis| {
            d.causes
                .iter()
                .find(|c| c.cause == cause)
                .unwrap()
                .probability
        };
        assert!(of(&after) < of(&before), "{cause:?}");
        assert_ne!(after.causes[0].cause, cause, "not begun with again");
    }
    let unknown = diagnose(&seen(&[("tried-hope", true)]), &Context::default());
    assert_eq!(unknown.unwrap_err().0[0].field, "signs.tried-hope");
}

#[test]
fn a_lid_needle_and_a_filter_win_on_their_own_signs() {
    let needle = [
        ("dark-oil-on-a-clip-in-the-lid-needle", true),
        ("poor-even-with-no-pod", true),
        ("fewer-streams", true),
        ("white-chips", false),
    ];
    assert_eq!(best(&needle), Cause::EntranceNeedle);
    let filter = [
        ("quicker-with-the-filter-out", true),
        ("slow", true),
        ("white-chips", false),
    ];
    assert_eq!(best(&filter), Cause::SpentFilter);
}

#[test]
fn chalk_counts_as_it_is_believed() {
    let with = |used: [f64; 3]| {
        let context = Context {
            chalk_used: Some(used),
            ..Context::default()
        };
        let found = diagnose(&seen(&[("slow", true)]), &context).unwrap();
        found
            .causes
            .iter()
            .find(|c| c.cause == Cause::Scale)
            .unwrap()
            .probability
    };
    let (sure, unsure) = (with([0.3, 0.3, 0.3]), with([0.1, 0.3, 2.4]));
    assert!(sure < unsure, "a wide window may reach the limit");
    assert!(with([1.0; 3]) < with([2.0; 3]));
}

#[test]
fn causes_signs_and_what_goes_with_which_read_as_they_are_written_down() {
    use std::fmt::Write;
    let mut text = String::new();
    for cause in Cause::ALL {
        writeln!(text, "{}: {}", cause.id(), cause.words()).unwrap();
        for sign in SIGNS.iter().filter(|sign| sign.shows(cause)) {
            writeln!(text, "    {}: {} {}", sign.id, sign.question, sign.how).unwrap();
        }
    }
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "trouble", &text);
}

#[test]
fn chalk_counts_as_it_is_believed_and_days_since_a_clean_for_acid() {
    let with = |used| Context {
        chalk_used: used,
        ..Context::default()
    };
    let scale = |used| with(used).prior(Cause::Scale) / Cause::Scale.usual();
    for (window, weight) in [
        (None, 1.0),
        (Some([1.0, 1.0, 1.0]), 1.0),
        // Each end of what is believed is bounded.
        (Some([0.1, 0.1, 0.1]), 0.2),
        (Some([9.0, 9.0, 9.0]), 2.5),
        (Some([0.5, 1.0, 2.0]), 0.3 * 0.5 + 0.4 + 0.3 * 2.0),
    ] {
        assert!((scale(window) - weight).abs() < 1e-12, "{window:?}");
    }
    let acid = |days| {
        let context = Context {
            days_since_clean: days,
            ..Context::default()
        };
        context.prior(Cause::AcidLeft) / Cause::AcidLeft.usual()
    };
    for (days, weight) in [
        (None, 1.0),
        (Some(0), 3.0),
        (Some(6), 3.0),
        (Some(7), 3.0),
        (Some(8), 0.2),
        (Some(-1), 0.2),
    ] {
        assert!((acid(days) - weight).abs() < 1e-12, "{days:?}");
    }
}

#[test]
fn each_answer_on_the_way_to_a_cause_reads_as_it_is_written_down() {
    use std::fmt::Write;
    let mut text = String::new();
    let worn = Context {
        pods: false,
        chalk_used: Some([0.4, 0.9, 1.6]),
        filter: Some(true),
        days_since_clean: Some(3),
        opening: None,
    };
    for context in [Context::default(), worn] {
        for cause in Cause::ALL {
            let pods = if context.pods { "" } else { ", no pods" };
            writeln!(text, "# {}{pods}", cause.words()).unwrap();
            let mut told = SignsSeen::new();
            for _ in 0..8 {
                let found = diagnose(&told, &context).unwrap();
                let causes = found.causes.iter().take(2).map(|c| {
                    let percent = 100.0 * c.probability;
                    format!("{} {percent:.1} %", c.words)
                });
                let causes: Vec<_> = causes.collect();
                write!(text, "  {} {}.", found.text, causes.join(", ")).unwrap();
                let Some(next) = found.next_test else {
                    text.push('\n');
                    break;
                };
                let sign = SIGNS.iter().find(|s| s.id == next.sign);
                let shows = sign.is_some_and(|sign| sign.shows(cause));
                let answer = if shows { "Yes" } else { "No" };
                writeln!(text, " {} {answer}", next.question).unwrap();
                told.insert(next.sign, shows);
            }
        }
    }
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "diagnoses", &text);
}

use super::*;
use murlo_base::units::{CUP_ML, FL_OZ_ML, Sizes, Tool};
use murlo_chemistry::acid::{Acid, AcidBath, SPENT_PH};
use proptest::prelude::*;

fn order(agent: usize, recipe: Recipe, total_ml: f64, tool: Tool, load_mg: f64) -> Mixed {
    let agent = &Agent::starters()[agent];
    let marks = marks(
        "measure",
        tool,
        Sizes {
            carafe_mark: Some(5.0 * FL_OZ_ML),
            reservoir_line: None,
            bottle: agent.bottle_ml(),
        },
    )
    .unwrap();
    MixOrder {
        agent,
        recipe,
        total_ml,
        marks,
        load_mg,
    }
    .mix()
}

#[test]
fn agent_rounds_up_to_a_mark_and_the_total_is_kept() {
    let third = Recipe::Ratio {
        agent: 1.0,
        water: 2.0,
    };
    for (total, tool, agent, water, ratio) in [
        (
            11.0 * 5.0 * FL_OZ_ML,
            Tool::CarafeMarks,
            "4 carafe marks",
            "7 carafe marks",
            "4 : 7",
        ),
        (
            9.0 * 5.0 * FL_OZ_ML,
            Tool::CarafeMarks,
            "3 carafe marks",
            "6 carafe marks",
            "1 : 2",
        ),
        (51.0 * FL_OZ_ML, Tool::FlOz, "17 fl oz", "34 fl oz", "1 : 2"),
        (4.0 * CUP_ML, Tool::Cups, "1½ cups", "2½ cups", "3 : 5"),
    ] {
        let mixed = order(0, third, total, tool, 0.0);
        assert_eq!(
            (
                mixed.agent.unwrap().text.as_str(),
                mixed.water.text.as_str()
            ),
            (agent, water)
        );
        assert_eq!(mixed.actual_ratio.as_deref(), Some(ratio));
    }
}

#[test]
fn strength_is_that_of_the_rounded_pour() {
    let mixed = order(
        0,
        Recipe::Ratio {
            agent: 1.0,
            water: 2.0,
        },
        11.0 * 5.0 * FL_OZ_ML,
        Tool::CarafeMarks,
        0.0,
    );
    assert!((mixed.percent - 5.0 * 4.0 / 11.0).abs() < 1e-9);
    let powder = order(1, Recipe::Dose { g_per_l: 30.0 }, 1400.0, Tool::Ml, 0.0);
    assert_eq!(powder.agent_text, "42 g (about 3.5 level tablespoons)");
    assert!((powder.percent - 3.0).abs() < 1e-9);
    // Half a tablespoon more is a quarter more at 10.4 g: from there down it is told in teaspoons.
    for (grams, text) in [
        (13.0, "13 g (about 1 level tablespoon)"),
        // A twentieth less is no weaker bath; more than that is rounded up.
        (20.0, "20 g (about 1.5 level tablespoons)"),
        (21.0, "21 g (about 2 level tablespoons)"),
        (11.0, "11 g (about 1 level tablespoon)"),
        (10.0, "10 g (about 2.5 level teaspoons)"),
        (8.0, "8 g (about 2 level teaspoons)"),
        (4.0, "4 g (about 1 level teaspoon)"),
        (6.0, "6 g (about 0.5 level tablespoons)"),
        (15.0, "15 g (about 3.5 level teaspoons)"),
        (16.0, "16 g (about 1.5 level tablespoons)"),
    ] {
        let one = order(1, Recipe::Dose { g_per_l: grams }, 1000.0, Tool::Ml, 0.0);
        assert_eq!(one.agent_text, text);
    }
}

#[test]
fn cautions_follow_the_load_and_the_strength() {
    let dose = Recipe::Dose { g_per_l: 20.0 };
    assert_eq!(order(1, dose, 1000.0, Tool::Ml, 3000.0).warnings, []);
    assert_eq!(
        order(1, dose, 1000.0, Tool::Ml, 6000.0).warnings,
        [Warning::CitrateMayDrop]
    );
    assert_eq!(
        order(1, dose, 1000.0, Tool::Ml, 20_000.0).warnings,
        [Warning::CitrateSludge, Warning::TooWeak]
    );
    assert_eq!(
        order(
            2,
            Recipe::Ratio {
                agent: 1.0,
                water: 1.0
            },
            946.0,
            Tool::Bottle,
            0.0
        )
        .warnings,
        [Warning::Strong]
    );
}

#[test]
fn a_label_that_gives_only_a_ph_gives_a_strength_with_a_band() {
    let liquid = |acid, ph| Agent {
        label_ph: Some(ph),
        form: AgentForm::Liquid { acid, percent: 0.0 },
        ..Agent::tablets()
    };
    // Household vinegar has pH 2.4, a citric descaler of a fifth about 1.6.
    for (acid, ph, low, high) in [
        (Acid::Acetic, 2.4, 4.0, 7.0),
        (Acid::Citric, 1.6, 12.0, 25.0),
        (Acid::Lactic, 1.8, 10.0, 25.0),
        (Acid::Sulfamic, 1.0, 1.5, 2.5),
    ] {
        let agent = liquid(acid, ph).checked().unwrap();
        let percent = agent.percent().unwrap();
        assert!((low..high).contains(&percent), "{acid:?}: {percent}");
        let [likely, least, most] = agent.label_percent().unwrap();
        assert!(least < likely && likely < most, "{acid:?}");
        assert!((likely - percent).abs() <= 0.05 + 1e-9);
        let back = AcidBath::new(acid, likely * 10.0, 25.0).ph(0.0);
        assert!((back - ph).abs() < 0.01, "{acid:?}: {back}");
    }
    for (agent, field) in [
        (liquid(Acid::Acetic, 0.4), "label_ph"),
        (liquid(Acid::Acetic, 4.6), "label_ph"),
        (liquid(Acid::Acetic, 0.5), "label_ph"),
        (
            Agent {
                label_ph: Some(2.0),
                ..Agent::tablets()
            },
            "label_ph",
        ),
    ] {
        let wrong = agent.checked().unwrap_err();
        assert_eq!(wrong.0[0].field, field, "{wrong}");
    }
    // Once the strength is told, the label's pH says nothing any more.
    let mut told = liquid(Acid::Acetic, 2.4).checked().unwrap();
    told.set_percent("percent", Some(6.0)).unwrap();
    assert_eq!((told.percent(), told.label_percent()), (Some(6.0), None));
}

proptest! {
    #[test]
    fn a_pour_never_exceeds_the_vessel_and_is_never_weaker_than_asked(
        total in 300.0..3000.0f64, agent in 0.5..5.0f64, water in 0.0..5.0f64, tool in 0usize..4,
    ) {
        let tool = [Tool::Cups, Tool::FlOz, Tool::Ml, Tool::CarafeMarks][tool];
        let mixed = order(0, Recipe::Ratio { agent, water }, total, tool, 0.0);
        prop_assert!(mixed.agent.as_ref().unwrap().ml + mixed.water.ml <= total * 1.000_001);
        prop_assert!(mixed.percent >= 5.0 * agent / (agent + water) * 0.999_99);
        prop_assert!(mixed.percent <= 5.000_001);
    }

    #[test]
    fn a_stronger_bath_never_dissolves_less(weak in 1.0..200.0f64, more in 0.0..100.0f64, acid in 0usize..5) {
        let acid = Acid::ALL[acid];
        let (a, b) = (AcidBath::new(acid, weak, 40.0), AcidBath::new(acid, weak + more, 40.0));
        prop_assert!(b.capacity_g_l() >= a.capacity_g_l() * 0.999_999);
        prop_assert!(b.useful_g_l(SPENT_PH) >= a.useful_g_l(SPENT_PH) * 0.999_999);
        prop_assert!(a.useful_g_l(SPENT_PH) <= a.capacity_g_l());
    }
}

#[test]
fn a_soak_is_parted_where_each_part_is_worth_a_stop() {
    let soak = |after: &[u32]| Soak {
        after: after.to_vec(),
        ..Soak::default()
    };
    type Parts<'a> = &'a [(u32, f64)];
    let cases: [(&[u32], f64, Parts); 8] = [
        // Plans from before it could be elsewhere.
        (&[], 20.0, &[(1, 20.0)]),
        (&[2], 20.0, &[(2, 20.0)]),
        (&[2], 0.0, &[(1, 0.0)]),
        (&[1, 3], 0.0, &[(1, 0.0)]),
        (&[1, 3], 19.9, &[(1, 19.9)]),
        (&[1, 3], 20.0, &[(1, 10.0), (3, 10.0)]),
        (&[1, 3], 25.0, &[(1, 13.0), (3, 12.0)]),
        (&[1, 2, 3], 50.0, &[(1, 17.0), (2, 17.0), (3, 16.0)]),
    ];
    for (after, minutes, parts) in cases {
        assert_eq!(soak(after).parts(minutes), parts, "{after:?} {minutes}");
    }
    for (after, minutes, words) in [
        (&[2][..], 0.0, "no soak"),
        (&[2], 20.0, "soak 20 min"),
        (&[2], 90.0, "soak 1 h 30 min"),
        (&[1, 3], 25.0, "soak 13 + 12 min"),
    ] {
        assert_eq!(soak(after).words(minutes), words);
    }
}

#[test]
fn a_kind_begins_small_within_a_sentence_and_a_name_of_its_own_does_not() {
    let [vinegar, citric, bottled] = &Agent::starters()[..] else {
        panic!("three to start with")
    };
    let called = |agent: &Agent, name: &str| Agent {
        name: name.to_owned(),
        ..agent.clone()
    };
    for (agent, poured) in [
        (vinegar, "2 of white vinegar"),
        (citric, "2 of citric acid powder"),
        (
            &called(bottled, "Tideline liquid descaler"),
            "2 of Tideline liquid descaler",
        ),
        (&Agent::tablets(), "2 (descaling tablets)"),
        (
            &called(&Agent::tablets(), "Reef tablets"),
            "2 (Reef tablets)",
        ),
    ] {
        assert_eq!(agent.poured("2"), poured);
    }
}

use super::*;
use murlo_base::problem::{Code, Problem};
use murlo_base::units::HardnessUnit;
use murlo_chemistry::carbonate::Heat;
use proptest::prelude::*;

const TANK: Heat = Heat {
    temp_c: 92.0,
    co2_retained: 0.15,
};

fn measured(reading: &Reading) -> Result<Chemistry, Problem> {
    Chemistry::of(reading, &Waters::new())
}

fn strip(id: &str, value: f64) -> Water {
    Water {
        id: id.into(),
        name: id.into(),
        reading: Reading::Strip {
            value,
            unit: HardnessUnit::MgPerL,
        },
        price_a_litre: None,
    }
}

fn blend_of(first: &str, second: &str, share_first: f64) -> Reading {
    Reading::Blend {
        first_id: first.into(),
        second_id: second.into(),
        share_first,
    }
}

#[test]
fn a_strip_step_lies_between_its_numbers_and_is_less_sure_than_a_number() {
    let step = |low, high| Reading::Between {
        low,
        high,
        unit: HardnessUnit::German,
    };
    let known = measured(&step(7.0, 14.0)).unwrap();
    assert!((known.hardness / 17.848 - 9.9).abs() < 0.01);
    let exact = measured(&strip("s", known.hardness).reading).unwrap();
    assert!(known.potential(&TANK).sigma > exact.potential(&TANK).sigma);
    assert_eq!(measured(&step(14.0, 7.0)).unwrap_err().field, "high");
}

#[test]
fn a_filter_takes_out_carbonate_hardness_only() {
    let hard = measured(&Reading::Label {
        ca_mg_l: 100.0,
        mg_mg_l: 10.0,
        hco3_mg_l: 122.0,
        ph: None,
        tds_mg_l: None,
    })
    .unwrap();
    let all = hard.filtered(1.0).portrait();
    assert!((all.permanent - hard.portrait().permanent).abs() < 1e-9 && all.carbonate < 1e-9);
    let (none, half) = (
        hard.potential(&TANK).mg_l,
        hard.filtered(0.5).potential(&TANK).mg_l,
    );
    assert!(half < none && hard.filtered(1.0).potential(&TANK).mg_l < 1e-9);
}

#[test]
fn a_portrait_has_every_unit_and_both_parts() {
    let portrait = measured(&strip("s", 178.48).reading).unwrap().portrait();
    assert_eq!(
        portrait.in_units,
        [
            "178 mg/L",
            "178 ppm",
            "10.4 gpg",
            "10 °dH",
            "17.8 °fH",
            "12.5 °Clark",
            "1.8 mmol/L"
        ]
    );
    assert_eq!(portrait.text, "about 178 mg/L, hard, from a strip");
    assert!((portrait.carbonate / portrait.hardness - 0.75).abs() < 1e-9);
}

#[test]
fn blends_of_what_is_not_there_or_of_blends_are_refused() {
    let mut mixed = strip("m", 100.0);
    mixed.reading = blend_of("a", "a", 0.5);
    let waters = Waters::from([("a".into(), strip("a", 80.0)), ("m".into(), mixed.clone())]);
    for (first, second, field) in [("b", "a", "first_id"), ("a", "m", "second_id")] {
        let problem = Chemistry::of(&blend_of(first, second, 0.5), &waters).unwrap_err();
        assert_eq!(
            (problem.code, problem.field.as_str()),
            (Code::UnknownId, field)
        );
    }
    mixed.reading = blend_of("m", "a", 0.5);
    assert_eq!(
        mixed.check(&waters).unwrap_err().0[0].code,
        Code::Contradiction
    );
    let problem = Chemistry::of(&blend_of("a", "a", 1.5), &waters).unwrap_err();
    assert_eq!(problem.field, "share_first");
}

proptest! {
    #[test]
    fn a_blend_lies_between_its_parts(
        soft in 0.0..1500.0f64, hard in 0.0..1500.0f64, share in 0.0..=1.0f64,
    ) {
        let waters = Waters::from([("a".into(), strip("a", soft)), ("b".into(), strip("b", hard))]);
        let of = |reading: &Reading| Chemistry::of(reading, &waters).unwrap();
        let (a, b) = (of(&waters["a"].reading), of(&waters["b"].reading));
        let mixed = of(&blend_of("a", "b", share));
        let between = |x: f64, y: f64, z: f64| {
            let slack = 1e-6 + 1e-9 * x.max(z);
            y >= x.min(z) - slack && y <= x.max(z) + slack
        };
        prop_assert!(between(a.hardness, mixed.hardness, b.hardness));
        prop_assert!(between(a.water.alkalinity, mixed.water.alkalinity, b.water.alkalinity));
        prop_assert!(between(a.potential(&TANK).mg_l, mixed.potential(&TANK).mg_l, b.potential(&TANK).mg_l));
    }
}

#[test]
fn a_guess_is_less_sure_than_a_strip_and_a_strip_than_a_label() {
    let strip = measured(&Reading::Strip {
        value: 147.0,
        unit: HardnessUnit::MgPerL,
    })
    .unwrap()
    .potential(&TANK);
    let guess = measured(&Reading::Taps {
        chalk: TapChalk::Crust,
    })
    .unwrap()
    .potential(&TANK);
    let label = Reading::Label {
        ca_mg_l: 44.0,
        mg_mg_l: 9.0,
        hco3_mg_l: 134.0,
        ph: None,
        tds_mg_l: None,
    };
    let label = measured(&label).unwrap().potential(&TANK);
    assert!((guess.mg_l / strip.mg_l - 1.0).abs() < 0.01);
    assert!(label.sigma < strip.sigma && strip.sigma < guess.sigma);
}

#[test]
fn what_water_goes_through_makes_it_softer_and_less_sure() {
    let of = |through, chalk| measured(&Reading::Through { through, chalk }).unwrap();
    let taps = |chalk| measured(&Reading::Taps { chalk }).unwrap();
    let any = measured(&Reading::Unknown {}).unwrap();
    // (what it goes through, chalk on the taps, hardness by the ends of both, mg/L)
    for (through, chalk, hardness) in [
        // 120 to 180: a fifth of the first is left by a fresh filter, four fifths of the second by a spent one.
        (
            Through::Jug,
            Some(TapChalk::Crust),
            (24.0_f64 * 144.0).sqrt(),
        ),
        (Through::Jug, None, (6.0_f64 * 280.0).sqrt()),
        (
            Through::Softener,
            Some(TapChalk::Flakes),
            (5.0_f64 * 40.0).sqrt(),
        ),
        (
            Through::HalfBottled,
            Some(TapChalk::Crust),
            (70.0_f64 * 240.0).sqrt(),
        ),
        (
            Through::Bottled,
            Some(TapChalk::Crust),
            (20.0_f64 * 300.0).sqrt(),
        ),
        (Through::Bottled, None, (20.0_f64 * 300.0).sqrt()),
    ] {
        let water = of(through, chalk);
        assert!(
            (water.hardness - hardness).abs() < 0.01,
            "{through:?} {}",
            water.hardness
        );
        let bare = chalk.map_or(any, taps);
        let (with, without) = (water.potential(&TANK), bare.potential(&TANK));
        assert!(
            with.mg_l < without.mg_l,
            "{through:?} {} {}",
            with.mg_l,
            without.mg_l
        );
        assert!(
            with.sigma >= without.sigma,
            "{through:?} {} {}",
            with.sigma,
            without.sigma
        );
        assert!(
            water.portrait().text.contains("guessed"),
            "{}",
            water.portrait().text
        );
    }
    // Hydrogen carbonate goes through a softener, calcium does not: hardly any scale.
    let soft = of(Through::Softener, Some(TapChalk::Flakes));
    assert!(soft.water.alkalinity > 100.0 && soft.water.calcium < 15.0);
    assert!(
        soft.potential(&TANK).mg_l < 12.0,
        "{:?}",
        soft.potential(&TANK)
    );
}

#[test]
fn distilled_water_leaves_no_scale() {
    let none = Reading::Label {
        ca_mg_l: 0.0,
        mg_mg_l: 0.0,
        hco3_mg_l: 0.0,
        ph: None,
        tds_mg_l: None,
    };
    assert_eq!(measured(&none).unwrap().potential(&TANK).mg_l, 0.0);
}

#[test]
fn a_wrong_number_names_its_field_and_range() {
    let draft = WaterDraft {
        name: "  ".into(),
        reading: Reading::Strip {
            value: 4000.0,
            unit: HardnessUnit::MgPerL,
        },
        price_a_litre: None,
    };
    let problems = draft.check("w".into(), &Waters::new()).unwrap_err().0;
    assert_eq!(
        (problems[0].code, problems[0].field.as_str()),
        (Code::Missing, "name")
    );
    assert_eq!(
        (problems[1].code, problems[1].field.as_str()),
        (Code::OutOfRange, "reading.value")
    );
    assert!(
        problems[1].message.contains("3000 mg/L"),
        "{}",
        problems[1].message
    );
}

#[test]
fn how_sure_a_water_is_hangs_on_who_told_it_and_how_much_it_can_leave() {
    for (potential, strip, label) in [
        (-1.0, 1.0, 0.6),
        (0.0, 1.0, 0.6),
        (2.0, 1.0, 0.6),
        (10.0, 0.75, 0.21),
        (50.0, 0.35, 0.09),
        (100.0, 0.3, 0.075),
    ] {
        assert!((strip_sigma(potential) - strip).abs() < 1e-9, "{potential}");
        assert!((label_sigma(potential) - label).abs() < 1e-9, "{potential}");
    }
}

#[test]
fn a_hardness_as_somebody_wrote_it_is_kept_as_what_it_means() {
    let check = |text: &str| {
        let reading = Reading::Typed {
            text: text.into(),
            unit: HardnessUnit::Gpg,
        };
        let draft = WaterDraft {
            name: "Tap".into(),
            reading,
            price_a_litre: None,
        };
        draft.check("w".into(), &Waters::new())
    };
    let strip = |value, unit| Reading::Strip { value, unit };
    for (text, meant) in [
        ("12", strip(12.0, HardnessUnit::Gpg)),
        ("205 ppm", strip(205.0, HardnessUnit::Ppm)),
        (
            "8-10 dH",
            Reading::Between {
                low: 8.0,
                high: 10.0,
                unit: HardnessUnit::German,
            },
        ),
        ("3000 ppm", strip(3000.0, HardnessUnit::Ppm)),
    ] {
        assert_eq!(check(text).unwrap().reading, meant, "{text}");
    }
    for text in ["", "hard", "3001 ppm", "100-3001 ppm", "7 oz", "7°"] {
        let problems = check(text).unwrap_err().0;
        let fields: Vec<_> = problems.iter().map(|p| p.field.as_str()).collect();
        assert_eq!(fields, ["reading.text"], "{text}");
    }
}

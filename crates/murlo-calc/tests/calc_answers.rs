//! Topics whose answers are arithmetic on volumes and marks: tables of cases with their reasons.

use murlo_base::problem::Code;
use murlo_calc::topic;
use serde_json::{Value, json};

fn ask(name: &str, input: &Value) -> Value {
    topic(name)
        .unwrap()
        .answer(input)
        .unwrap_or_else(|p| panic!("{name} {input}: {p}"))
}

fn near(answer: &Value, name: &str, expected: f64) {
    let got = answer[name]
        .as_f64()
        .unwrap_or_else(|| panic!("{name} in {answer}"));
    assert!(
        (got - expected).abs() <= 1e-5 * expected.abs().max(1.0),
        "{name}: {got}, expected {expected}"
    );
}

#[test]
fn mix_rounds_the_agent_up_to_a_mark_and_keeps_the_total() {
    let mark = 147.867_65;
    let third = json!({"agent": 1, "water": 2});
    for (marks, agent, water, percent) in [
        (11.0, 4.0, 7.0, 20.0 / 11.0),
        (9.0, 3.0, 6.0, 5.0 / 3.0),
        (10.0, 4.0, 6.0, 2.0),
    ] {
        let vessel = json!({"capacity_ml": marks * mark, "mark_ml": mark, "mark_name": "mark"});
        let answer = ask(
            "mix",
            &json!({"acid": "acetic", "stock_percent": 5, "ratio": third, "vessel": vessel}),
        );
        near(&answer, "agent_marks", agent);
        near(&answer, "water_marks", water);
        near(&answer, "agent_ml", agent * mark);
        near(&answer, "actual_percent", percent);
        near(&answer["actual_ratio"], "water", water / agent);
    }
}

#[test]
fn mix_takes_a_total_a_target_or_the_ratio_of_a_bottle() {
    let plain = ask(
        "mix",
        &json!({"acid": "acetic", "stock_percent": 5, "ratio": {"agent": 1, "water": 2}, "total_ml": 1774.41}),
    );
    near(&plain, "agent_ml", 591.47);
    assert_eq!(plain["agent_marks"], Value::Null);
    let target = ask(
        "mix",
        &json!({"acid": "acetic", "stock_percent": 24, "target_percent": 12, "total_ml": 1000}),
    );
    near(&target, "agent_ml", 500.0);
    assert_eq!(target["warnings"], json!(["strong"]));
    let bottle = ask(
        "mix",
        &json!({"acid": "lactic", "label_ratio": {"agent": 1, "water": 1}, "total_ml": 946}),
    );
    near(&bottle, "water_ml", 473.0);
    assert_eq!(
        bottle["actual_percent"],
        Value::Null,
        "the label tells no strength, so none is claimed"
    );
    let grams = ask(
        "mix",
        &json!({"acid": "acetic", "g_per_l": 50, "ratio": {"agent": 1, "water": 1}, "total_ml": 1000}),
    );
    near(&grams, "actual_percent", 2.5);
    let neat = ask(
        "mix",
        &json!({"acid": "acetic", "stock_percent": 5, "ratio": {"agent": 1, "water": 0}, "total_ml": 300}),
    );
    assert_eq!(neat["warnings"], json!(["neat"]));
}

#[test]
fn mix_and_dilution_say_what_is_missing_contradictory_or_too_much() {
    let ratio = json!({"agent": 1, "water": 1});
    for (name, input, code, field) in [
        (
            "mix",
            json!({"acid": "acetic", "ratio": ratio, "total_ml": 900}),
            Code::Missing,
            "stock_percent",
        ),
        (
            "mix",
            json!({"acid": "acetic", "stock_percent": 5, "total_ml": 900}),
            Code::Missing,
            "ratio",
        ),
        (
            "mix",
            json!({"acid": "acetic", "stock_percent": 5, "ratio": ratio}),
            Code::Missing,
            "vessel",
        ),
        (
            "mix",
            json!({"acid": "acetic", "stock_percent": 5, "g_per_l": 50, "ratio": ratio, "total_ml": 9}),
            Code::Contradiction,
            "stock_percent",
        ),
        (
            "mix",
            json!({"acid": "acetic", "stock_percent": 5, "ratio": ratio, "target_percent": 2, "total_ml": 9}),
            Code::Contradiction,
            "target_percent",
        ),
        (
            "mix",
            json!({"acid": "acetic", "stock_percent": 5, "target_percent": 6, "total_ml": 900}),
            Code::OutOfRange,
            "target_percent",
        ),
        (
            "mix",
            json!({"acid": "acetic", "stock_percent": 5, "ratio": {"agent": 0, "water": 1}, "total_ml": 900}),
            Code::OutOfRange,
            "ratio.agent",
        ),
        (
            "mix",
            json!({"acid": "acetic", "stock_percent": 5, "ratio": ratio, "vessel": {"capacity_ml": 800}, "total_ml": 900}),
            Code::TooMuch,
            "total_ml",
        ),
        (
            "dilution",
            json!({"stock_percent": 5, "target_percent": 6, "total_ml": 900, "mark_ml": 50}),
            Code::OutOfRange,
            "target_percent",
        ),
        (
            "bath-ph",
            json!({"acid": "acetic", "temp_c": 25, "fraction_neutralised": 0}),
            Code::Missing,
            "percent_wv",
        ),
        (
            "bath-ph",
            json!({"acid": "soda", "percent_wv": 5, "temp_c": 25, "fraction_neutralised": 0}),
            Code::NotAChoice,
            "acid",
        ),
        (
            "clarity",
            json!({"reference_rgb": [1, 2], "sample_rgb": [1, 2, 3]}),
            Code::WrongType,
            "reference_rgb",
        ),
        (
            "clarity",
            json!({"reference_rgb": [1, 2, 300], "sample_rgb": [1, 2, 3]}),
            Code::OutOfRange,
            "reference_rgb",
        ),
    ] {
        let problem = topic(name).unwrap().answer(&input).unwrap_err();
        assert_eq!(
            (problem.code, problem.field.as_str()),
            (code, field),
            "{name} {input}: {}",
            problem.message
        );
    }
}

#[test]
fn dispenses_are_floored_and_never_negative() {
    for (volume, dispense, dead, count, remainder) in [
        (828.06, 354.88, 0.0, 2, 118.3),
        (1400.0, 235.0, 30.0, 5, 225.0),
        (500.0, 250.0, 0.0, 2, 0.0),
        (100.0, 250.0, 0.0, 0, 100.0),
        (10.0, 250.0, 30.0, 0, 10.0),
        (0.0, 250.0, 0.0, 0, 0.0),
    ] {
        let answer = ask(
            "dispense",
            &json!({"volume_ml": volume, "dispense_ml": dispense, "dead_volume_ml": dead}),
        );
        assert_eq!(answer["count"], count, "{volume} mL");
        near(&answer, "remainder_ml", remainder);
    }
}

#[test]
fn nothing_to_rinse_needs_no_rinse_and_no_chalk_needs_no_soak() {
    for model in ["tank_batch", "tank_exp", "drip", "series2", "series3"] {
        let input = json!({"model": model, "hold_ml": 355, "portion_ml": 235, "start_mg_l": 40, "target_mg_l": 50});
        assert_eq!(ask("rinse-cups", &input)["value"], 0, "{model}");
        let level = json!({"model": model, "hold_ml": 355, "portion_ml": 235, "portions": 0, "start_mg_l": 900});
        near(&ask("rinse-level-mg-l", &level), "value", 900.0);
    }
    let film = json!({"acid": "citric", "g_per_l": 20, "temp_c": 60, "mass_mg": 0, "area_cm2": 100, "bath_ml": 355, "fraction": 0.99, "roughness": 2});
    assert_eq!(
        ask("soak-minutes", &film),
        json!({"clears": true, "minutes": 0.0})
    );
}

#[test]
fn a_blend_lies_between_its_parts_and_keeps_both_ends() {
    for (share, hardness, alkalinity) in
        [(0.0, 20.0, 15.0), (0.25, 77.5, 63.75), (1.0, 250.0, 210.0)]
    {
        let input = json!({"hardness_a": 250, "alkalinity_a": 210, "hardness_b": 20, "alkalinity_b": 15, "fraction_a": share});
        let answer = ask("hardness-blend", &input);
        near(&answer, "hardness", hardness);
        near(&answer, "alkalinity", alkalinity);
    }
}

#[test]
fn the_class_changes_at_the_published_ends() {
    for (hardness, class) in [
        (0.0, "soft"),
        (60.0, "soft"),
        (60.1, "moderately hard"),
        (120.0, "moderately hard"),
        (180.0, "hard"),
        (180.1, "very hard"),
    ] {
        assert_eq!(
            ask("hardness-class", &json!({"hardness": hardness}))["value"],
            class
        );
    }
}

#[test]
fn white_paper_takes_the_cast_of_the_light_out_of_a_comparison() {
    let seen = |white: Value| {
        ask(
            "clarity",
            &json!({"reference_rgb": [200, 180, 150], "sample_rgb": [200, 180, 150], "white_rgb": white}),
        )
    };
    assert_eq!(seen(json!([255, 240, 220]))["verdict"], "the same");
    let brown = ask(
        "clarity",
        &json!({"reference_rgb": [240, 240, 240], "sample_rgb": [200, 170, 120]}),
    );
    assert_eq!(brown["verdict"], "different");
}

#[test]
fn a_whole_plan_is_made_for_the_day_it_is_due_or_a_given_one() {
    let topic = topic("plan").unwrap();
    let example: Value = serde_json::from_str(topic.example).unwrap();
    let due = topic.answer(&example).unwrap();
    // The median day is the one on which the limit is reached.
    let used = due["chalk"]["used"].as_f64().unwrap();
    // Nothing was seen until then, which speaks a little for slow growth.
    assert!((0.85..1.03).contains(&used), "{used}");
    assert!(due["steps"].as_array().unwrap().len() > 10);
    let with = |name: &str, value: Value| {
        let mut input = example.clone();
        input[name] = value;
        topic.answer(&input)
    };
    let early = with("today", json!("2026-02-01")).unwrap();
    assert!(early["chalk"]["mg"].as_f64() < due["chalk"]["mg"].as_f64());
    let busy = with("habit", json!({"weekday_cups": 9, "weekend_cups": 9})).unwrap();
    assert!(busy["rinse"] == due["rinse"] && busy["chalk"]["used"].as_f64().unwrap() > 0.85);
    for (name, value, field) in [
        ("today", json!("2020-01-01"), "brewer.in_use_since"),
        (
            "habit",
            json!({"weekday_cups": -1, "weekend_cups": 0}),
            "habit.weekday_cups",
        ),
        (
            "water",
            json!({"name": "Tap", "reading": {"by": "strip", "value": -1, "unit": "gpg"}}),
            "water.reading.value",
        ),
        ("options", json!({"baths": 9}), "options.baths"),
        ("agent", json!(7), "agent"),
    ] {
        assert_eq!(with(name, value).unwrap_err().field, field);
    }
}

#[test]
fn signs_give_causes_that_add_up_to_one_and_a_test_by_its_name() {
    let answer = ask("trouble", &json!({"signs": {"slow": true}}));
    let causes = answer["causes"].as_array().unwrap();
    let sum: f64 = causes
        .iter()
        .map(|c| c["probability"].as_f64().unwrap())
        .sum();
    assert!((sum - 1.0).abs() < 1e-4);
    assert_eq!(causes[0]["cause"], "scale");
    assert!(answer["next_test"].is_string());
    let wrong = topic("trouble")
        .unwrap()
        .answer(&json!({"signs": {"slow": "very"}}));
    assert_eq!(wrong.unwrap_err().field, "signs");
}

#[test]
fn what_a_clean_leaves_is_told_in_one_way_and_by_rising_films() {
    let left = json!({"median": 0.1, "p10": 0.05, "p90": 0.2});
    let film = |used: f64| json!({"used": used, "median": 0.1, "p10": 0.05, "p90": 0.2});
    let ask = |clean: Value| {
        let input = json!({"limit_mg": 569.1, "plating_fraction": 0.15, "sigma_water": 0.34,
            "litres_per_day": 0.7, "potential_mg_l": 55, "events": [clean]});
        topic("belief").unwrap().answer(&input)
    };
    for (clean, code, field) in [
        (
            json!({"kind": "clean"}),
            Code::Missing,
            "events.0.left_fraction",
        ),
        (
            json!({"kind": "clean", "left_fraction": left, "left_at": [film(1.0)]}),
            Code::Contradiction,
            "events.0.left_at",
        ),
        (
            json!({"kind": "clean", "left_at": []}),
            Code::Missing,
            "events.0.left_at",
        ),
        (
            json!({"kind": "clean", "left_at": [film(1.0), film(1.0)]}),
            Code::Contradiction,
            "events.0.left_at",
        ),
        (
            json!({"kind": "clean", "left_at": [film(0.0), film(1.0)]}),
            Code::OutOfRange,
            "events.0.left_at.0.used",
        ),
        (
            json!({"kind": "sign", "sign": "slow", "left_at": [film(1.0)]}),
            Code::UnknownField,
            "events.0.left_at",
        ),
    ] {
        let problem = ask(clean.clone()).unwrap_err();
        let got = (problem.code, problem.field.as_str());
        assert_eq!(got, (code, field), "{clean}: {}", problem.message);
    }
    // The same share of every film is that share.
    let curve =
        ask(json!({"kind": "clean", "potential_mg": 3000, "left_at": [film(0.5), film(2.0)]}));
    let same = ask(json!({"kind": "clean", "potential_mg": 3000, "left_fraction": left}));
    let used = |answer: &Value| answer["used_median"].as_f64().unwrap();
    assert!((used(&curve.unwrap()) - used(&same.unwrap())).abs() < 1e-6);
}

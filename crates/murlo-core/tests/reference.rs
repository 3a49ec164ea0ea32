//! The reference cases, through the same function that the command and the HTTP API use.

use murlo_core::calc;
use serde_json::Value;

#[test]
fn every_reference_case_holds_within_its_tolerance() {
    let cases: Vec<Value> =
        serde_json::from_str(include_str!("../testdata/reference.json")).unwrap();
    let mut wrong = Vec::new();
    for case in &cases {
        let (kind, input) = (case["kind"].as_str().unwrap(), &case["input"]);
        let answer = calc::topic(kind)
            .unwrap()
            .answer(input)
            .unwrap_or_else(|p| panic!("{kind} {input}: {p}"));
        for (name, expected) in case["expected"].as_object().unwrap() {
            let got = &answer[name];
            let fits = match (expected.as_f64(), got.as_f64()) {
                (Some(e), Some(g)) => {
                    let absolute = case["tolerance_abs"].as_f64().unwrap_or(0.0);
                    let relative = case["tolerance_rel"].as_f64().unwrap_or(0.0) * e.abs();
                    (g - e).abs() <= absolute.max(relative) + 1e-12
                }
                _ => got == expected,
            };
            if !fits {
                wrong.push(format!(
                    "{kind} {input}: {name} is {got}, expected {expected}"
                ));
            }
        }
    }
    assert!(
        cases.len() > 100 && wrong.is_empty(),
        "{}",
        wrong.join("\n")
    );
}

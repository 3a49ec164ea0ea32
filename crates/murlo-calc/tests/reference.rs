//! The reference cases, through the same function that the command and the HTTP API use.

use murlo_calc as calc;
use serde_json::Value;

#[test]
fn every_reference_case_holds_within_its_tolerance() {
    let cases: Vec<Value> = [
        include_str!("../testdata/reference.json"),
        include_str!("../testdata/cleaning.json"),
        include_str!("../testdata/belief.json"),
    ]
    .iter()
    .flat_map(|file| serde_json::from_str::<Vec<Value>>(file).unwrap())
    .collect();
    let mut wrong = Vec::new();
    for case in &cases {
        let (kind, input) = (case["kind"].as_str().unwrap(), &case["input"]);
        let answer = calc::topic(kind)
            .unwrap()
            .answer(input)
            .unwrap_or_else(|p| panic!("{kind} {input}: {p}"));
        for (name, expected) in case["expected"].as_object().unwrap() {
            let got = &answer[name];
            let within = |e: f64| {
                let relative = case["tolerance_rel"].as_f64().unwrap_or(0.0) * e.abs();
                case["tolerance_abs"].as_f64().unwrap_or(0.0).max(relative) + 1e-12
            };
            let fits = fits(expected, got, &within);
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

/// Numbers within their tolerance, lists item by item, everything else the same.
fn fits(expected: &Value, got: &Value, within: &impl Fn(f64) -> f64) -> bool {
    match (expected, got) {
        (Value::Array(e), Value::Array(g)) => {
            e.len() == g.len() && e.iter().zip(g).all(|(e, g)| fits(e, g, within))
        }
        (Value::Number(e), Value::Number(g)) => {
            let (e, g) = (e.as_f64().unwrap(), g.as_f64().unwrap());
            (g - e).abs() <= within(e)
        }
        _ => expected == got,
    }
}

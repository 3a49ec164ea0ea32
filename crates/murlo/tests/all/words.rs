//! Every sentence that the demo's views carry, in both unit systems, read as a proofreader would: what slipped through once is looked for.

use crate::kit::Server;
use serde_json::{Value, json};

/// What is no sentence: names of things for programs, and what people typed themselves.
const NO_WORDS: [&str; 14] = [
    "id",
    "kind",
    "code",
    "jpeg",
    "family_id",
    "circuit_id",
    "agent_id",
    "brewer_id",
    "home_id",
    "water_id",
    "clean_id",
    "field",
    "draft",
    "events",
];

/// Every text of an answer with where it stands; a working may be as exact as it likes, and waters are told in mg/L.
fn texts(value: &Value, at: &str, all: &mut Vec<(String, String)>) {
    match value {
        Value::String(text) => all.push((at.to_owned(), text.clone())),
        Value::Array(items) => items.iter().for_each(|item| texts(item, at, all)),
        Value::Object(fields) => {
            let told = fields.iter().filter(|(name, _)| {
                !NO_WORDS.contains(&name.as_str()) && !name.contains("working") && *name != "waters"
            });
            told.for_each(|(name, field)| texts(field, &format!("{at}/{name}"), all));
        }
        Value::Null | Value::Bool(_) | Value::Number(_) => {}
    }
}

/// Whether `word` stands in `text` by itself.
fn has(text: &str, word: &str) -> bool {
    let is_letter = |c: Option<char>| c.is_some_and(char::is_alphanumeric);
    text.match_indices(word).any(|(at, _)| {
        !is_letter(text[..at].chars().next_back())
            && !is_letter(text[at + word.len()..].chars().next())
    })
}

/// Whether a number stands right before `unit`.
fn measures(text: &str, unit: &str) -> bool {
    text.match_indices(unit).any(|(at, _)| {
        let ends = !text[at + unit.len()..].starts_with(char::is_alphanumeric);
        ends && text[..at]
            .trim_end()
            .ends_with(|c: char| c.is_ascii_digit())
    })
}

/// What a proofreader would strike out.
fn wrong(text: &str, units: &str) -> Option<&'static str> {
    let chars: Vec<char> = text.chars().collect();
    let twos = || chars.windows(2).map(|two| (two[0], two[1]));
    let foreign: &[&str] = match units {
        "us" => &["mL", "L", "°C"],
        // Sizes are told as they are printed on the buttons.
        _ => &["gal", "qt", "°F"],
    };
    let words: Vec<&str> = text.split_whitespace().collect();
    let is_twice = words
        .windows(2)
        .any(|two| two[0] == two[1] && two[0].chars().all(char::is_alphabetic));
    [
        (
            "a space twice",
            text.lines().any(|line| line.trim().contains("  ")),
        ),
        ("two stops", text.contains("..")),
        (
            "a space before a stop",
            [" ,", " ;", " ."].iter().any(|stop| text.contains(stop)),
        ),
        (
            "a percentage that is not parted",
            twos().any(|(a, b)| {
                (a == '%' && b.is_alphanumeric()) || (a.is_ascii_digit() && b == '%')
            }),
        ),
        ("a word twice", is_twice),
        (
            "no figure",
            ["NaN", "inf", "null", "undefined", "-0.0", "-0.00"]
                .iter()
                .any(|none| has(text, none)),
        ),
        (
            "a name for programs",
            // Alone it is one, and no sentence.
            words.len() > 1 && words.iter().any(|word| word.contains('_')),
        ),
        ("a brace", text.contains(['{', '}'])),
        (
            "one of many",
            [
                "cups",
                "mugs",
                "homes",
                "brewers",
                "visits",
                "days",
                "rinses",
                "dispenses",
            ]
            .iter()
            .any(|many| has(text, &format!("1 {many}"))),
        ),
        ("a score", has(text, "score")),
        ("units of a laboratory", text.contains("mg/L")),
        (
            "other units",
            foreign.iter().any(|unit| measures(text, unit)),
        ),
    ]
    .into_iter()
    .find_map(|(what, is_wrong)| is_wrong.then_some(what))
}

#[test]
fn a_proofreader_finds_what_there_is_to_find() {
    for (text, units, found) in [
        ("Leaves 61 % of it.", "us", None),
        ("Press the largest size (10 fl oz).", "metric", None),
        ("1 dispense of 2.1 L", "metric", None),
        ("Lamp 4 Ltd", "us", None),
        ("61 %of it", "us", Some("a percentage that is not parted")),
        ("61% of it", "us", Some("a percentage that is not parted")),
        ("the the", "us", Some("a word twice")),
        ("about 1 mugs", "us", Some("one of many")),
        ("21 mugs", "us", None),
        ("Bought water, 4.3 L", "us", Some("other units")),
        ("355mL", "us", Some("other units")),
        ("12 gal of water", "metric", Some("other units")),
        (
            "from 20000 mg/L down",
            "metric",
            Some("units of a laboratory"),
        ),
        ("at other_side now", "us", Some("a name for programs")),
        ("costs -0.00", "us", Some("no figure")),
        ("score 34 min", "us", Some("a score")),
    ] {
        assert_eq!(wrong(text, units), found, "{text}");
    }
}

#[test]
fn what_the_demo_says_reads_as_people_write() {
    let server = Server::start(&["demo"]);
    let ask = |method: &str, path: &str, body: &Value| {
        server.ask(method, path, body).expect("it answers")
    };
    let get = |path: &str| ask("GET", path, &Value::Null).1;
    for units in ["us", "metric"] {
        let mut settings = get("/api/household")["settings"].clone();
        settings["units"] = json!(units);
        assert_eq!(ask("PUT", "/api/settings", &settings).0, 204);
        let mut views: Vec<(String, Value)> = [
            "counter",
            "round",
            "week",
            "owed",
            "cupboard",
            "log?most=500",
            "choices",
        ]
        .map(|view| (view.to_owned(), get(&format!("/api/{view}"))))
        .into();
        let counter = views[0].1.clone();
        for brewer in counter["brewers"].as_array().unwrap() {
            let path = format!("/api/brewers/{}", brewer["id"].as_str().unwrap());
            views.push((path.clone(), get(&path)));
            for side in brewer["circuits"].as_array().unwrap() {
                for work in ["descale", "needles", "rehearsal"] {
                    let wish = json!({"circuit_id": side["circuit_id"], "work": work});
                    // Not each family has each work: the refusal is read too.
                    views.push((
                        format!("{path} {work}"),
                        ask("POST", &format!("{path}/plan"), &wish).1,
                    ));
                }
            }
        }
        for visit in views[1].1["visits"].as_array().unwrap().clone() {
            let path = format!("/api/visits/{}", visit["id"].as_str().unwrap());
            views.push((path.clone(), get(&path)));
        }
        // A clean keeps the units it was planned in.
        let inside = counter["inside"]
            .as_array()
            .unwrap()
            .iter()
            .filter(|_| units == "us");
        for clean in inside {
            let path = format!("/api/cleans/{}", clean["clean_id"].as_str().unwrap());
            views.push((path.clone(), get(&path)));
        }
        let mut all = Vec::new();
        for (view, value) in &views {
            texts(value, view, &mut all);
        }
        assert!(all.len() > 5_000, "{}", all.len());
        let wrong: Vec<String> = all
            .iter()
            .filter_map(|(at, text)| Some(format!("{}: {at}: {text}", wrong(text, units)?)))
            .collect();
        assert!(
            wrong.is_empty(),
            "{units}, {}:\n{}",
            wrong.len(),
            wrong[..wrong.len().min(40)].join("\n")
        );
    }
}

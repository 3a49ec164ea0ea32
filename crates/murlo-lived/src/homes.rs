//! The homes that a cleaner goes to, told as she would tell them.

use crate::line::HouseLine;
use jiff::civil::Date;
use murlo_base::days::days_after;
use murlo_brewer::Family;
use serde_json::{Value, json};

/// Of each agent there is enough for every week, mL or g.
pub(crate) const STOCK: f64 = 90_000.0;

const DAYS: [&str; 5] = ["monday", "tuesday", "wednesday", "thursday", "friday"];

/// So many homes with a brewer each or two, all families among them, each with rooms, a rhythm and a way to be paid.
pub(crate) fn furnish(line: &HouseLine, day: Date, homes: usize) {
    let mut settings = line.get("/api/household")["settings"].clone();
    settings["hourly_rate"] = json!(20.0);
    assert_eq!(line.ask("PUT", "/api/settings", &settings).0, 204);
    let reading = json!({"by": "strip", "value": 12.0, "unit": "gpg"});
    let water = line.ask(
        "POST",
        "/api/waters",
        &json!({"name": "Mains", "reading": reading}),
    );
    let families = line.get("/api/families");
    for agent in line.get("/api/household")["agents"]
        .as_array()
        .expect("a list")
    {
        let counted = json!({"id": format!("count-{}", agent["id"]).replace('"', ""), "item_id": agent["id"], "what": {"kind": "counted", "amount": STOCK}});
        let (status, answer) = line.ask("POST", "/api/cupboard/movements", &counted);
        assert!(status < 300, "{answer}");
    }
    for n in 0..homes {
        let id = format!("home-{n}");
        let name = format!("{n} {}", "the house of the long lane ".repeat(3))
            .chars()
            .take(60)
            .collect::<String>();
        let (status, mut home) = line.ask(
            "POST",
            &format!("/api/homes?id={id}"),
            &json!({"name": name.trim()}),
        );
        assert_eq!(status, 200, "{home}");
        home["rooms"] = json!([{"id": "bath", "name": "Bath", "minutes": 12}, {"id": "beds", "name": "Beds", "minutes": 15}]);
        home["travel_min"] = json!(10 + 2 * n);
        home["pay"] = match n % 4 {
            0 => json!({"by": "fixed", "price": 60.0}),
            1 => json!({"by": "hour", "rate": 24.0}),
            2 => json!({"by": "gift"}),
            _ => json!({"by": "usual"}),
        };
        home["descaling_price"] = json!(15.0);
        home["bottle"] = json!(if n % 3 == 0 { "theirs" } else { "own" });
        let hours = if n < 5 {
            ("08:00:00", "12:00:00")
        } else {
            ("13:00:00", "17:00:00")
        };
        home["coming"] = json!({"rhythm": {
            "when": "weeks", "every": 1 + n % 2, "since": day, "days": [DAYS[n % 5]],
            "from": hours.0, "until": hours.1,
        }});
        let (status, answer) = line.ask("PUT", &format!("/api/homes/{id}"), &home);
        assert_eq!(status, 204, "{answer}");
        for k in 0..=n % 2 {
            let which = (n + 3 * k) % Family::ALL.len();
            let mut draft = families[which]["draft"].clone();
            draft["nickname"] = json!(format!("{:?} of {n}", Family::ALL[which]));
            draft["water_id"] = water.1["id"].clone();
            draft["home_id"] = json!(id);
            draft["in_use_since"] = json!(days_after(day, -200));
            draft["beforehand"] = Value::Null;
            let (status, answer) = line.ask("POST", "/api/brewers", &draft);
            assert_eq!(status, 200, "{answer}");
        }
    }
}

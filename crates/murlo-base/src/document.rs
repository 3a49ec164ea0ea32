//! What any number, text, list, day and instant of a document may be, whatever it stands for.
//!
//! A form checks its fields by what they mean. A frozen plan, an event or a foreign file holds hundreds of figures that
//! were right when they were written; this keeps the impossible ones out, so that nothing computed from them can run over.

use crate::bounds::{FIGURE, day, instant};
use crate::problem::{Code, Problem, Problems};
use crate::text::TEXT_MAX;
use jiff::Timestamp;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;

/// Longest list in a document.
const LIST_MAX: usize = 200_000;

/// More than these say nothing new.
const MOST_PROBLEMS: usize = 20;

/// Checks every value in `document`; a problem is named by where it stands, lists by the ids in them.
///
/// # Errors
/// `OutOfRange` for each figure, text, list, day or instant that cannot be.
///
/// # Example
/// ```
/// use murlo_base::document::check;
/// use serde_json::json;
/// assert!(check(&json!({"minutes": 25.0})).is_ok());
/// let problems = check(&json!({"soak": {"minutes": 6e300}})).unwrap_err();
/// assert_eq!(problems.0[0].field, "soak.minutes");
/// ```
pub fn check(document: &Value) -> Result<(), Problems> {
    let mut problems = Problems::default();
    walk("", "", document, &mut problems);
    problems.or(Some(()))
}

/// Checks every entry of a list, one after the other: a large document is never there twice.
///
/// # Errors
/// The same, named from the list on.
pub fn check_list<T: Serialize>(list: &str, entries: &[T]) -> Result<(), Problems> {
    let mut problems = Problems::default();
    if entries.len() > LIST_MAX {
        let message = format!("{} entries: give at most {LIST_MAX}", entries.len());
        return Err(Problem::new(Code::TooMuch, list, message).into());
    }
    for (n, entry) in entries.iter().enumerate() {
        if let Ok(value) = serde_json::to_value(entry) {
            walk(&join(list, &named(n, &value)), list, &value, &mut problems);
        }
    }
    problems.or(Some(()))
}

/// How an entry of a list is named: by its id, else by its place.
fn named(n: usize, entry: &Value) -> String {
    let id = [entry.get("id"), entry.pointer("/fact/id")];
    let id = id.into_iter().flatten().find_map(Value::as_str);
    id.map_or_else(|| n.to_string(), |id| id.chars().take(64).collect())
}

fn walk(place: &str, name: &str, value: &Value, problems: &mut Problems) {
    if problems.0.len() >= MOST_PROBLEMS {
        return;
    }
    match value {
        Value::Null | Value::Bool(_) => {}
        Value::Number(number) => {
            problems.note(FIGURE.check(place, number.as_f64().unwrap_or(f64::NAN)));
        }
        Value::String(text) => {
            problems.note(text_fits(place, name, text));
        }
        Value::Array(items) => {
            if items.len() > LIST_MAX {
                let message = format!("{} entries: give at most {LIST_MAX}", items.len());
                problems.0.push(Problem::new(Code::TooMuch, place, message));
                return;
            }
            for (n, item) in items.iter().enumerate() {
                walk(&join(place, &named(n, item)), name, item, problems);
            }
        }
        Value::Object(fields) => {
            for (name, value) in fields {
                walk(&join(place, name), name, value, problems);
            }
        }
    }
}

fn join(place: &str, name: &str) -> String {
    match place {
        "" => name.to_owned(),
        _ => format!("{place}.{name}"),
    }
}

fn text_fits(place: &str, name: &str, text: &str) -> Result<(), Problem> {
    match name {
        // A picture is bounded by its own rule.
        "jpeg" => return Ok(()),
        "day" | "from" | "until" | "in_use_since" | "last_descaled" => {
            if let Ok(given) = text.parse::<Date>() {
                return day(place, given);
            }
        }
        "at" | "started_at" | "ends_at" => {
            if let Ok(given) = text.parse::<Timestamp>() {
                return instant(place, given);
            }
        }
        _ => {}
    }
    let length = text.chars().count();
    if length > TEXT_MAX {
        let message = format!("a text of {length} characters: give at most {TEXT_MAX}");
        return Err(Problem::new(Code::OutOfRange, place, message));
    }
    Ok(())
}

/// A fact with whether it has been put away; putting away is how deleting works, so it can be undone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Kept<T> {
    /// Put away.
    #[serde(default)]
    pub archived: bool,
    /// The fact.
    pub fact: T,
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn what_cannot_be_is_named_by_its_place() {
        let long = "x".repeat(TEXT_MAX + 1);
        for (document, field) in [
            (json!({"a": 1e9}), None),
            (json!({"a": 1.000_001e9}), Some("a")),
            (json!({"a": -1.000_001e9}), Some("a")),
            (json!([{"id": "p1", "b": [0, -1e308]}]), Some("p1.b.1")),
            (
                json!([{"fact": {"id": "p1", "b": 1e300}}]),
                Some("p1.fact.b"),
            ),
            (json!({"note": "x".repeat(TEXT_MAX)}), None),
            (json!({"note": long}), Some("note")),
            (json!({"jpeg": long}), None),
            (json!({"day": "2199-12-31", "from": "1970-01-01"}), None),
            (json!({"day": "2200-01-01"}), Some("day")),
            (json!({"until": "1969-12-31"}), Some("until")),
            (json!({"note": "9999-12-31"}), None),
            (json!({"at": "2199-12-31T23:59:59Z"}), None),
            (json!({"at": "9999-01-01T00:00:00Z"}), Some("at")),
            (json!({"at": "1969-12-31T23:59:59Z"}), Some("at")),
        ] {
            let found = check(&document).err().map(|p| p.0[0].field.clone());
            assert_eq!(found.as_deref(), field, "{document}");
        }
        let many = json!(vec![1e300; 1000]);
        assert_eq!(check(&many).unwrap_err().0.len(), MOST_PROBLEMS);
    }
}

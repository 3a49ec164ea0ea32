//! Single questions by name: `murlo calc TOPIC` and `POST /api/calc/TOPIC`.
//!
//! A topic declares its fields once; reading, refusals, the field help and the examples all come from that declaration. It asks
//! the crates below and computes nothing itself; no household is known here.
#![deny(missing_docs)]
// Our own enums are matched in full, so that a new member is missed by the compiler before it is missed by a person.
#![cfg_attr(not(test), warn(clippy::wildcard_enum_match_arm))]

mod answers;
mod belief;
mod cleaning;
mod fields;
mod plan;
mod topic;
mod topics;
mod trouble;
mod visit;

pub(crate) use topic::TopicInput;
pub use topic::{Field, FieldKind, MOST_ITEMS, Topic, describe, read};
pub use topics::{TOPICS, topic};

#[cfg(test)]
mod tests {
    use super::*;
    use murlo_base::problem::Code;
    use serde_json::json;

    #[test]
    fn every_example_is_answered_and_every_missing_field_is_named() {
        for topic in TOPICS {
            let example = read(topic.example).unwrap();
            topic
                .answer(&example)
                .unwrap_or_else(|p| panic!("{}: {p}", topic.name));
            for field in topic.fields.iter().filter(|f| f.required) {
                let mut without = example.clone();
                without.as_object_mut().unwrap().remove(field.name);
                let problem = topic.answer(&without).unwrap_err();
                assert_eq!(
                    (problem.code, problem.field.as_str()),
                    (Code::Missing, field.name),
                    "{}",
                    topic.name
                );
            }
        }
    }

    #[test]
    fn wrong_items_are_refused_in_their_place() {
        let (answer, good) = topic("hardness-class").unwrap().answer_text(
            r#"[{"hardness": 45}, {"hardness": NaN}, {"hardness": -1}, {"hardness": 4000}, {"hardnes": 1}, 7, {"hardness": 1e999}]"#,
        );
        let codes: Vec<_> = answer
            .as_array()
            .unwrap()
            .iter()
            .map(|a| a["error"]["code"].as_str().unwrap_or("none"))
            .collect();
        let expected = [
            "none",
            "not_a_number",
            "out_of_range",
            "out_of_range",
            "unknown_field",
            "wrong_type",
            "not_a_number",
        ];
        assert_eq!(codes, expected);
        assert!(!good);
    }

    #[test]
    fn strings_that_look_like_numbers_are_left_alone() {
        assert_eq!(
            read(r#"{"a": "NaN \" inf", "b": [1, -2.5e3]}"#).unwrap(),
            json!({"a": "NaN \" inf", "b": [1, -2500.0]})
        );
        assert_eq!(read("{\"a\": ").unwrap_err().code, Code::NotTheFormat);
    }
}

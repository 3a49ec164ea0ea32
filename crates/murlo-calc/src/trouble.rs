//! The topic `trouble`: signs to causes and the next test.

use super::{Field, FieldKind, Topic, TopicInput};
use crate::topic::first;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::trouble::{Context, SignsSeen, diagnose};
use serde::Deserialize;
use serde_json::{Value, json};

pub(super) const TROUBLE: Topic = Topic {
    name: "trouble",
    about: "likely causes from signs seen or not seen, and the cheapest telling test",
    fields: &[Field {
        name: "signs",
        kind: FieldKind::Fact("an object of sign names, each true or false"),
        required: true,
    }],
    example: r#"{"signs": {"slow": true, "white-chips": true, "fine-with-no-pod-poor-with-a-pod": false}}"#,
    answer,
};

fn answer(input: &TopicInput) -> Result<Value, Problem> {
    let given = input.given("signs").unwrap_or(&Value::Null);
    let seen = SignsSeen::deserialize(given).map_err(|e| {
        Problem::new(
            Code::WrongType,
            "signs",
            format!("give an object of sign names, each true or false ({e})"),
        )
    })?;
    let found = diagnose(&seen, &Context::default()).map_err(first(""))?;
    Ok(json!({
        "stop": found.stop,
        "causes": found.causes,
        "next_test": found.next_test.as_ref().map(|test| &test.sign),
        "next": found.next_test,
        "text": found.text,
    }))
}

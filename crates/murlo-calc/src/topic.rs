//! A topic: its declared fields, and how they are read, refused, described and answered.

use murlo_base::bounds::Bound;
use murlo_base::problem::{Code, Problem, Problems};
use serde_json::{Map, Value, json};

/// Most items a list may hold over HTTP.
pub const MOST_ITEMS: usize = 1000;

/// An answer has one problem: the first, within the field it stands in.
pub(crate) fn first(field: &'static str) -> impl Fn(Problems) -> Problem {
    move |mut problems| {
        let problem = problems.0.remove(0);
        if field.is_empty() {
            problem
        } else {
            problem.within(field)
        }
    }
}

/// What a field holds.
#[derive(Debug, Clone, Copy)]
pub enum FieldKind {
    /// A number within a range.
    Number(Bound),
    /// One of these words.
    Choice(&'static [&'static str]),
    /// A free word.
    Word,
    /// Three colour channels.
    Colour,
    /// True or false.
    Flag,
    /// A number within a range, or a list of such.
    Numbers(Bound),
    /// Named numbers.
    Group(&'static [Field]),
    /// A list of such groups, at most so many.
    Groups(&'static [Field], usize),
    /// A document of the API's own types, read by the topic.
    Fact(&'static str),
}

/// A field of a topic.
#[derive(Debug, Clone, Copy)]
pub struct Field {
    /// Its name, which carries its unit.
    pub name: &'static str,
    /// What it holds.
    pub kind: FieldKind,
    /// Whether it must be given.
    pub required: bool,
}

/// A question that can be asked by name.
pub struct Topic {
    /// Its name.
    pub name: &'static str,
    /// What it answers.
    pub about: &'static str,
    /// Its fields.
    pub fields: &'static [Field],
    /// An input that works.
    pub example: &'static str,
    pub(crate) answer: fn(&TopicInput) -> Result<Value, Problem>,
}

/// A checked input: every field is known, in range, and present when required.
pub(crate) struct TopicInput<'a>(pub(crate) &'a Map<String, Value>);

impl TopicInput<'_> {
    pub(crate) fn given(&self, name: &str) -> Option<&Value> {
        self.0.get(name).filter(|v| !v.is_null())
    }

    pub(crate) fn maybe(&self, name: &str) -> Option<f64> {
        self.given(name).and_then(Value::as_f64)
    }

    pub(crate) fn number(&self, name: &str) -> f64 {
        self.maybe(name).expect("required numbers were checked")
    }

    pub(crate) fn word(&self, name: &str) -> &str {
        self.given(name)
            .and_then(Value::as_str)
            .expect("required words were checked")
    }

    pub(crate) fn colour(&self, name: &str) -> Option<[f64; 3]> {
        let channels = self.given(name)?.as_array()?;
        Some([0, 1, 2].map(|i| channels[i].as_f64().expect("channels were checked")))
    }

    pub(crate) fn flag(&self, name: &str) -> bool {
        self.given(name).and_then(Value::as_bool).unwrap_or(false)
    }

    pub(crate) fn numbers(&self, name: &str) -> Option<Vec<f64>> {
        let given = self.given(name)?;
        Some(match given.as_array() {
            Some(list) => list.iter().filter_map(Value::as_f64).collect(),
            None => given.as_f64().into_iter().collect(),
        })
    }

    pub(crate) fn group(&self, name: &str) -> Option<TopicInput<'_>> {
        self.given(name)?.as_object().map(TopicInput)
    }

    pub(crate) fn groups(&self, name: &str) -> Vec<TopicInput<'_>> {
        let list = self.given(name).and_then(Value::as_array);
        let items = list.into_iter().flatten();
        items
            .filter_map(|item| item.as_object().map(TopicInput))
            .collect()
    }
}

fn check(fields: &[Field], given: &Map<String, Value>, prefix: &str) -> Result<(), Problem> {
    let at = |name: &str| {
        if prefix.is_empty() {
            name.to_owned()
        } else {
            format!("{prefix}.{name}")
        }
    };
    if let Some(name) = given.keys().find(|k| !fields.iter().any(|f| f.name == **k)) {
        let known: Vec<_> = fields.iter().map(|f| f.name).collect();
        return Err(Problem::new(
            Code::UnknownField,
            at(name),
            format!("unknown field: this takes {}", known.join(", ")),
        ));
    }
    for field in fields {
        let name = at(field.name);
        let Some(value) = given.get(field.name).filter(|v| !v.is_null()) else {
            if field.required {
                return Err(Problem::new(
                    Code::Missing,
                    name,
                    format!("missing: give {}", describe(&field.kind)),
                ));
            }
            continue;
        };
        field.kind.check(&name, value)?;
    }
    Ok(())
}

impl FieldKind {
    /// Checks `value`, which stands in the field `name`.
    fn check(self, name: &str, value: &Value) -> Result<(), Problem> {
        let wrong = |code| {
            Problem::new(
                code,
                name,
                format!("{value} does not fit: give {}", describe(&self)),
            )
        };
        match self {
            FieldKind::Number(bound) => {
                bound.check(name, value.as_f64().ok_or_else(|| wrong(Code::NotANumber))?)?;
            }
            FieldKind::Choice(words) => {
                let word = value.as_str().ok_or_else(|| wrong(Code::WrongType))?;
                if !words.contains(&word) {
                    return Err(wrong(Code::NotAChoice));
                }
            }
            FieldKind::Fact(_) => {}
            FieldKind::Word => {
                value.as_str().ok_or_else(|| wrong(Code::WrongType))?;
            }
            FieldKind::Colour => {
                let channels = value
                    .as_array()
                    .filter(|c| c.len() == 3)
                    .ok_or_else(|| wrong(Code::WrongType))?;
                for channel in channels {
                    murlo_base::bounds::CHANNEL.check(
                        name,
                        channel.as_f64().ok_or_else(|| wrong(Code::NotANumber))?,
                    )?;
                }
            }
            FieldKind::Flag => {
                value.as_bool().ok_or_else(|| wrong(Code::WrongType))?;
            }
            FieldKind::Numbers(bound) => {
                let list = value
                    .as_array()
                    .cloned()
                    .unwrap_or_else(|| vec![value.clone()]);
                for number in &list {
                    bound.check(
                        name,
                        number.as_f64().ok_or_else(|| wrong(Code::NotANumber))?,
                    )?;
                }
            }
            FieldKind::Group(fields) => check(
                fields,
                value.as_object().ok_or_else(|| wrong(Code::WrongType))?,
                name,
            )?,
            FieldKind::Groups(fields, most) => {
                let list = value.as_array().ok_or_else(|| wrong(Code::WrongType))?;
                if list.len() > most {
                    let message = format!("{} are too many: give at most {most}", list.len());
                    return Err(Problem::new(Code::TooMuch, name, message));
                }
                for (i, item) in list.iter().enumerate() {
                    let item = item.as_object().ok_or_else(|| wrong(Code::WrongType))?;
                    check(fields, item, &format!("{name}.{i}"))?;
                }
            }
        }
        Ok(())
    }
}

/// What a kind accepts, in words.
#[must_use]
pub fn describe(kind: &FieldKind) -> String {
    match kind {
        FieldKind::Number(bound) => format!("a number {}", bound.range()),
        FieldKind::Choice(words) => format!("one of {}", words.join(", ")),
        FieldKind::Word => "a word".to_owned(),
        FieldKind::Fact(what) => (*what).to_owned(),
        FieldKind::Colour => "three numbers from 0 to 255".to_owned(),
        FieldKind::Flag => "true or false".to_owned(),
        FieldKind::Numbers(bound) => format!("a number {}, or a list of such", bound.range()),
        FieldKind::Groups(fields, most) => format!(
            "a list of at most {most} objects of {}",
            fields.iter().map(|f| f.name).collect::<Vec<_>>().join(", ")
        ),
        FieldKind::Group(fields) => format!(
            "an object of {}",
            fields.iter().map(|f| f.name).collect::<Vec<_>>().join(", ")
        ),
    }
}

/// Every number of an answer to six significant figures: no strip, label or jug is known better.
fn six_figures(value: Value) -> Value {
    match value {
        Value::Number(n) if n.is_f64() => {
            let exact = n.as_f64().unwrap_or_default();
            json!(format!("{exact:.5e}").parse::<f64>().unwrap_or(exact))
        }
        Value::Array(items) => items.into_iter().map(six_figures).collect(),
        Value::Object(fields) => fields
            .into_iter()
            .map(|(name, v)| (name, six_figures(v)))
            .collect(),
        other @ (Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_)) => other,
    }
}

impl Topic {
    /// Answers one input.
    ///
    /// # Errors
    /// The first field that is unknown, missing or out of range, or fields that contradict each other.
    pub fn answer(&self, input: &Value) -> Result<Value, Problem> {
        let given = input.as_object().ok_or_else(|| {
            Problem::new(
                Code::WrongType,
                "",
                "give a JSON object with the topic's fields",
            )
        })?;
        check(self.fields, given, "")?;
        (self.answer)(&TopicInput(given)).map(six_figures)
    }

    /// Answers a text: an object, or a list of objects in order. The flag tells whether every item was answered.
    #[must_use]
    pub fn answer_text(&self, text: &str) -> (Value, bool) {
        let error = |problem: Problem| json!({ "error": problem });
        match read(text) {
            Err(problem) => (error(problem), false),
            Ok(Value::Array(items)) => {
                let mut good = true;
                let answers = items.iter().map(|item| {
                    self.answer(item).unwrap_or_else(|problem| {
                        good = false;
                        error(problem)
                    })
                });
                (Value::Array(answers.collect()), good)
            }
            Ok(item) => self
                .answer(&item)
                .map_or_else(|p| (error(p), false), |v| (v, true)),
        }
    }
}

/// Reads JSON in which a number may be NaN or too large: such a number becomes a text, so that only its item is refused.
///
/// # Errors
/// `NotTheFormat` when it is not JSON otherwise.
pub fn read(text: &str) -> Result<Value, Problem> {
    let mut mended = String::with_capacity(text.len());
    let mut rest = text;
    let is_word = |c: char| c.is_ascii_alphanumeric() || matches!(c, '+' | '-' | '.');
    while let Some(c) = rest.chars().next() {
        let end = if c == '"' {
            let mut escaped = false;
            let close = rest[1..].find(|c| {
                let closes = c == '"' && !escaped;
                escaped = c == '\\' && !escaped;
                closes
            });
            close.map_or(rest.len(), |at| at + 2)
        } else if is_word(c) {
            rest.find(|c| !is_word(c)).unwrap_or(rest.len())
        } else {
            c.len_utf8()
        };
        let (token, after) = rest.split_at(end);
        let not_finite = c != '"' && token.parse::<f64>().is_ok_and(|n| !n.is_finite());
        mended.push_str(&if not_finite {
            format!("\"{token}\"")
        } else {
            token.to_owned()
        });
        rest = after;
    }
    serde_json::from_str(&mended)
        .map_err(|e| Problem::new(Code::NotTheFormat, "", format!("not JSON: {e}")))
}

//! What is wrong with an input: which field, what was given, what would be right.
//!
//! Every refusal in the core is a [`Problem`] or a list of them, so that the command line, the HTTP API and the
//! screens word errors alike. A `Problem` never says that something was changed: inputs are checked before use.

use serde::{Deserialize, Serialize};

/// Why an input was refused; callers branch on this, people read the message.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[non_exhaustive]
pub enum Code {
    /// A required field is absent or empty.
    Missing,
    /// The field is not known here.
    UnknownField,
    /// Text where a number is needed, NaN, or a number that does not fit.
    NotANumber,
    /// The value has the wrong shape, such as a list where one thing is needed.
    WrongType,
    /// A number outside its range.
    OutOfRange,
    /// A unit that cannot be used for this quantity.
    WrongUnit,
    /// None of the words that are allowed here.
    NotAChoice,
    /// More than the vessel holds.
    TooMuch,
    /// Fields that contradict each other.
    Contradiction,
    /// An id that names nothing.
    UnknownId,
    /// An act that does not fit what has happened so far.
    DoesNotFit,
    /// The whole input is not in the format that was asked for.
    NotTheFormat,
}

/// One refusal.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[error("{field}: {message}")]
pub struct Problem {
    /// The kind of refusal.
    pub code: Code,
    /// The field it is about, dotted where nested; empty for the whole input.
    pub field: String,
    /// What was wrong and what would be right, for a person.
    pub message: String,
}

impl Problem {
    /// A refusal of `field`.
    pub fn new(code: Code, field: impl Into<String>, message: impl Into<String>) -> Self {
        Self {
            code,
            field: field.into(),
            message: message.into(),
        }
    }

    /// The same refusal, with `prefix.` before its field.
    #[must_use]
    pub fn within(mut self, prefix: &str) -> Self {
        self.field = match (prefix, self.field.as_str()) {
            ("", _) => self.field,
            (_, "") => prefix.to_owned(),
            _ => format!("{prefix}.{}", self.field),
        };
        self
    }
}

/// All refusals of one input; never empty when returned as an error.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize, thiserror::Error)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[error("{}", .0.iter().map(ToString::to_string).collect::<Vec<_>>().join("; "))]
pub struct Problems(pub Vec<Problem>);

impl From<Problem> for Problems {
    fn from(problem: Problem) -> Self {
        Self(vec![problem])
    }
}

impl Problems {
    /// The same problems, each field prefixed by where it stands.
    #[must_use]
    pub fn within(self, prefix: &str) -> Self {
        Self(self.0.into_iter().map(|p| p.within(prefix)).collect())
    }

    /// Keeps the value of `checked`, or notes its problems and gives `None`, so that a form hears of all its fields at once.
    pub fn note<T, E: Into<Problems>>(&mut self, checked: Result<T, E>) -> Option<T> {
        match checked {
            Ok(value) => Some(value),
            Err(problems) => {
                self.0.extend(problems.into().0);
                None
            }
        }
    }

    /// `value` when nothing was noted.
    ///
    /// # Errors
    /// The noted problems, or one about the whole input if `value` is absent without a reason.
    pub fn or<T>(self, value: Option<T>) -> Result<T, Problems> {
        match value {
            Some(value) if self.0.is_empty() => Ok(value),
            _ if self.0.is_empty() => {
                Err(Problem::new(Code::Missing, "", "something is missing").into())
            }
            _ => Err(self),
        }
    }
}

/// The first of them: where one is all that can be told.
impl From<Problems> for Problem {
    fn from(problems: Problems) -> Self {
        problems
            .0
            .into_iter()
            .next()
            .unwrap_or_else(|| Self::new(Code::Missing, "", "something is missing"))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn problem(field: &str) -> Problem {
        Problem::new(Code::Missing, field, "give it")
    }

    #[test]
    fn fields_carry_the_place_they_stand_in() {
        assert_eq!(problem("name").within("homes.h1").field, "homes.h1.name");
        assert_eq!(problem("").within("homes.h1").field, "homes.h1");
        assert_eq!(problem("name").within("").field, "name");
    }

    #[test]
    fn a_form_hears_of_all_its_fields_at_once_and_of_none_when_all_are_right() {
        let mut problems = Problems::default();
        assert_eq!(problems.note(Ok::<_, Problem>(3)), Some(3));
        assert_eq!(problems.note(Err::<u8, _>(problem("a"))), None);
        assert_eq!(
            problems.note(Err::<u8, _>(Problems(vec![problem("b"), problem("c")]))),
            None
        );
        assert_eq!(problems.clone().or(Some(())).unwrap_err().0.len(), 3);
        assert_eq!(problems.to_string(), "a: give it; b: give it; c: give it");
        assert_eq!(Problems::default().or(Some(7)).unwrap(), 7);
        assert_eq!(
            Problems::default().or(None::<u8>).unwrap_err().0[0].code,
            Code::Missing
        );
    }
}

//! What is sent to somebody on one's own word: a card, a month, that acid is inside.

use murlo_base::problem::Problems;
use murlo_base::text;
use serde::{Deserialize, Serialize};

/// Plain words to one person.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Letter {
    /// Whom it goes to, such as "ola@harbour.example".
    pub to: String,
    /// What it is about, in a line.
    pub subject: String,
    /// What it says.
    pub text: String,
}

impl Letter {
    /// Checks every field; texts come back without outer blanks.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn checked(&self) -> Result<Self, Problems> {
        let mut problems = Problems::default();
        let to = problems.note(text::mail_address("to", &self.to));
        let subject = problems.note(text::line("subject", &self.subject));
        let text = problems.note(text::long("text", &self.text));
        problems.or(Some(()))?;
        Ok(Self {
            to: to.unwrap_or_default(),
            subject: subject.unwrap_or_default(),
            text: text.unwrap_or_default(),
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn letter(to: &str, subject: &str, text: &str) -> Letter {
        Letter {
            to: to.to_owned(),
            subject: subject.to_owned(),
            text: text.to_owned(),
        }
    }

    #[test]
    fn each_wrong_field_is_named() {
        let problems = letter("nobody", " ", &"x".repeat(8001))
            .checked()
            .unwrap_err();
        let fields: Vec<&str> = problems.0.iter().map(|p| p.field.as_str()).collect();
        assert_eq!(fields, ["to", "subject", "text"]);
        assert!(
            letter("a@b.example", &"x".repeat(201), "x")
                .checked()
                .is_err()
        );
    }

    #[test]
    fn a_subject_is_one_line() {
        let problems = letter("a@b.example", "March\r\nBcc: c@d", "x")
            .checked()
            .unwrap_err();
        assert_eq!(problems.0[0].field, "subject");
        let kept = letter(" a@b.example", " March ", " Together $40.00\n").checked();
        assert_eq!(
            kept.unwrap(),
            letter("a@b.example", "March", "Together $40.00")
        );
    }
}

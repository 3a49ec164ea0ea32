//! What is left behind at a brewer: what was done, when next, what to do till then, what to look for.

use crate::counter::{BrewerCard, CircuitCard};
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem};
use murlo_base::text;
use murlo_brewer::job::Job;
use murlo_clean::Outcome;
use murlo_plan::Work;
use serde::Serialize;

/// A card.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Card {
    /// The brewer.
    pub brewer_id: String,
    /// "Lamp-room pod".
    pub name: String,
    /// The home.
    pub home: String,
    /// "Cleaned on 12 Nov".
    pub headline: String,
    /// What was done, a line each.
    pub done: Vec<String>,
    /// "Next about 12 Dec, between 3 and 24 Dec".
    pub next: String,
    /// What to do till then, a line each.
    pub till_then: Vec<String>,
    /// What to look for, a line each.
    pub look_for: Vec<String>,
    /// Acid is inside: nobody may drink from it. What is inside, in words.
    pub acid: Option<String>,
}

/// What a card is made of.
pub struct CardFacts<'a> {
    /// The brewer as on the Counter, with every small work.
    pub card: &'a BrewerCard,
    /// The side.
    pub circuit: &'a CircuitCard,
    /// What its clean came to; absent for one that was given up or has not ended.
    pub outcome: Option<&'a Outcome>,
    /// Acid that is inside.
    pub acid: Option<&'a str>,
    /// The household's day.
    pub today: Date,
}

impl Card {
    /// With who did it, where that is known.
    #[must_use]
    pub fn by(mut self, person: Option<&str>) -> Self {
        if let Some(person) = person.filter(|_| self.acid.is_none()) {
            self.headline += &format!(", by {person}");
        }
        self
    }

    /// With small works that were done to the same brewer.
    pub fn add(&mut self, works: &Self) {
        self.done.extend(works.done.iter().cloned());
    }

    /// The same in plain words, to be sent.
    #[must_use]
    pub fn letter(&self) -> String {
        let mut lines = vec![
            format!("{}, {}", self.name, self.home),
            self.headline.clone(),
        ];
        lines.extend(self.acid.iter().cloned());
        for (title, part) in [
            ("What was done", &self.done),
            ("Till then", &self.till_then),
            ("Look for", &self.look_for),
        ] {
            if title == "Till then" && !self.next.is_empty() {
                lines.extend([String::new(), self.next.clone()]);
            }
            if !part.is_empty() {
                lines.extend([String::new(), format!("{title}:")]);
                lines.extend(part.iter().map(|line| format!("- {line}")));
            }
        }
        lines.join("\n")
    }

    /// The card of one side.
    ///
    /// # Errors
    /// `DoesNotFit` for a clean that was given up or has not ended, and left nothing inside.
    pub fn of(facts: &CardFacts) -> Result<Self, Problem> {
        let (card, circuit) = (facts.card, facts.circuit);
        let name = match card.circuits.len() {
            1 => card.nickname.clone(),
            _ => format!("{}, {}", card.nickname, circuit.name),
        };
        let blank = Self {
            brewer_id: card.id.clone(),
            name,
            home: card.home.clone(),
            headline: String::new(),
            done: Vec::new(),
            next: String::new(),
            till_then: Vec::new(),
            look_for: Vec::new(),
            acid: None,
        };
        if let Some(acid) = facts.acid {
            return Ok(Self {
                headline: "Do not brew: acid is inside".to_owned(),
                acid: Some(acid.to_owned()),
                till_then: vec![
                    "Drink nothing from it, and do not switch it on.".to_owned(),
                    "Never add bleach or another cleaner.".to_owned(),
                ],
                ..blank
            });
        }
        let Some(outcome) = facts.outcome else {
            let message =
                "this clean was given up or is not over: there is nothing to leave a card for";
            return Err(Problem::new(Code::DoesNotFit, "clean_id", message));
        };
        let mut done = vec![outcome.line()];
        done.extend(outcome.checks.iter().cloned());
        let works = outcome
            .jobs
            .iter()
            .flatten()
            .filter(|job| !matches!(job, Job::Needles));
        let names: Vec<&str> = works.map(|job| job.name()).collect();
        if outcome.work == Work::Descale && !names.is_empty() {
            done.push(format!("With it: {}", names.join(", ").to_lowercase()));
        }
        let day = text::day(outcome.day, facts.today);
        let due = &circuit.forecast.due.text;
        let is_small = outcome.work == Work::Upkeep;
        Ok(Self {
            headline: match is_small {
                true => format!("Seen to on {day}"),
                false => format!("Cleaned on {day}"),
            },
            done,
            next: match is_small {
                true => format!("Next descaling {due}"),
                false => format!("Next {due}"),
            },
            till_then: till_then(card, facts.today),
            look_for: [
                "A cup that runs slower, comes shorter or cooler, or is louder than now",
                "White bits in the water, or a light that asks for a clean",
                "Any of these: say so, and it is cleaned earlier",
            ]
            .map(str::to_owned)
            .to_vec(),
            ..blank
        })
    }
}

/// The next small works, the soonest first.
fn till_then(card: &BrewerCard, today: Date) -> Vec<String> {
    let soon = card.upkeep.iter().filter(|work| work.due.is_some());
    let mut soon: Vec<_> = soon
        .filter(|work| work.days.is_some() || work.keeps_running)
        .collect();
    soon.sort_by_key(|work| work.due);
    let lines = soon.iter().take(4).map(|work| {
        let when = match work.due {
            Some(due) if due > today => {
                format!("next on {}", text::day(due, today))
            }
            _ => "due now".to_owned(),
        };
        format!("{}: {}, {when}", work.name, work.every)
    });
    lines.collect()
}

//! A clean that somebody tells of: nobody saw it, so it counts for as much as was told.

use jiff::civil::Date;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use murlo_brewer::Brewer;
use murlo_brewer::bath::{self, Agent};
use murlo_chemistry::cleaning::Bathed;
use murlo_plan::PlanOptions;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashMap};

/// A clean that was done without Murlo's guidance, or before it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PastClean {
    /// Identity.
    pub id: String,
    /// The brewer.
    pub brewer_id: String,
    /// The day.
    pub day: Date,
    /// What was done.
    pub note: String,
    /// What its baths did in each circuit, as such baths are run there; empty where nobody knows of them.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub bathed: BTreeMap<String, Bathed>,
}

/// What somebody remembers of the baths.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ToldBath {
    /// With which agent.
    pub agent_id: String,
    /// How long it stood in the machine, minutes; 0 where it only ran through. Without it nobody can tell what the baths did.
    #[serde(default)]
    pub soak_minutes: Option<f64>,
    /// How many fresh baths.
    pub baths: u32,
}

impl ToldBath {
    /// The plan whose baths come to what is told, for one circuit.
    #[must_use]
    pub fn options(&self, circuit_id: &str) -> PlanOptions {
        PlanOptions {
            circuit_id: Some(circuit_id.to_owned()),
            agent_id: Some(self.agent_id.clone()),
            soak_minutes: self.soak_minutes,
            baths: Some(self.baths),
            ..PlanOptions::default()
        }
    }

    /// "2 baths of white vinegar, each stood 20 min".
    ///
    /// # Errors
    /// An unknown agent.
    pub fn words(&self, agents: &[Agent]) -> Result<String, Problem> {
        let agent = bath::find(agents, &self.agent_id).map_err(|p| p.within("bath"))?;
        let baths = text::count(self.baths, "bath", "baths");
        let stood = match (self.soak_minutes, self.baths) {
            (None, _) => String::new(),
            (Some(minutes), _) if minutes <= 0.0 => ", run straight through".to_owned(),
            (Some(minutes), 1) => format!(", stood {}", text::minutes(minutes)),
            (Some(minutes), _) => format!(", each stood {}", text::minutes(minutes)),
        };
        Ok(format!("{baths} of {}{stood}", agent.in_text()))
    }
}

impl PastClean {
    /// Checks what is told of a clean of `brewer`.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn told(self, brewer: &Brewer, today: Date) -> Result<Self, Problems> {
        let mut problems = Problems::default();
        let note = problems.note(text::note("note", &self.note));
        problems.note(bounds::day("day", self.day));
        if self.day > today || !brewer.may_know_of(self.day) {
            let message = "give a day between the brewer's first day of use and today";
            let wrong = Problem::new(Code::OutOfRange, "day", message);
            problems.0.push(wrong);
        }
        problems.or(note.map(|note| Self { note, ..self }))
    }

    /// The same with what its baths were, in words before the note.
    #[must_use]
    pub fn with_bath(self, words: &str, bathed: BTreeMap<String, Bathed>) -> Self {
        let note = match self.note.trim() {
            "" => words.to_owned(),
            note => format!("{words}. {note}"),
        };
        Self {
            note,
            bathed,
            ..self
        }
    }

    pub(super) fn check(&self, brewers: &HashMap<String, Brewer>) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(known(brewers, "brewer_id", &self.brewer_id));
        problems.note(text::note("note", &self.note));
        for (circuit, bathed) in &self.bathed {
            problems.note(bathed.check(&format!("bathed.{circuit}")));
        }
        problems.or(Some(()))
    }
}

pub(crate) fn known<'a, T>(
    facts: &'a HashMap<String, T>,
    field: &str,
    id: &str,
) -> Result<&'a T, Problems> {
    facts.get(id).ok_or_else(|| {
        let message = format!("\"{id}\" is not in this file");
        Problem::new(Code::UnknownId, field, message).into()
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::history::History;
    use jiff::civil::date;
    use murlo_brewer::Family;
    use murlo_chalk::scale::{Cleaned, TOLD_CLEAN, Wetted};
    use murlo_plan::fixtures::plan;

    fn told(agent: &str, soak_minutes: f64, baths: u32) -> ToldBath {
        ToldBath {
            agent_id: agent.to_owned(),
            soak_minutes: Some(soak_minutes),
            baths,
        }
    }

    /// What is left of 400 mg after a clean of which `bath` is told.
    fn left(bath: Option<ToldBath>) -> f64 {
        let draft = murlo_brewer::BrewerDraft {
            nickname: "b".to_owned(),
            ..murlo_brewer::BrewerDraft::template(
                Family::PodReservoir,
                murlo_base::units::Units::Us,
                "h",
                "w",
                date(2026, 1, 1),
            )
        };
        let brewer = draft.check("b".to_owned(), None, date(2026, 1, 1)).unwrap();
        let circuit = &brewer.circuits[0];
        let baths = bath.map(|bath| {
            plan(brewer.family, &bath.options(&circuit.id))
                .unwrap()
                .baths()
        });
        let past = PastClean {
            id: "p".to_owned(),
            brewer_id: "b".to_owned(),
            day: date(2026, 5, 1),
            note: String::new(),
            bathed: baths
                .flatten()
                .map(|b| (circuit.id.clone(), b))
                .into_iter()
                .collect(),
        };
        let history = History::fold([], [&past], [&brewer]);
        let clean: &Cleaned = &history.cleans[&brewer.key_of(circuit)][0];
        let leaves = clean.leaves(&Wetted::of(circuit, &brewer));
        leaves.of(400.0 / circuit.limit_mg()).median
    }

    #[test]
    fn a_told_clean_counts_for_what_is_told_of_it() {
        assert_eq!(left(None), TOLD_CLEAN.median);
        let all = [
            left(Some(told("vinegar", 0.0, 1))),
            left(Some(told("vinegar", 15.0, 1))),
            left(Some(told("vinegar", 60.0, 1))),
            left(Some(told("vinegar", 60.0, 2))),
        ];
        assert!(all.is_sorted_by(|more, less| more > less), "{all:?}");
        assert!(all[0] > 0.3 && all[2] < 0.1, "{all:?}");
    }

    #[test]
    fn its_baths_are_told_in_words_before_the_note() {
        let agents = Agent::starters();
        for (bath, words) in [
            (
                told("vinegar", 0.0, 1),
                "1 bath of white vinegar, run straight through",
            ),
            (
                told("vinegar", 20.0, 1),
                "1 bath of white vinegar, stood 20 min",
            ),
            (
                told("vinegar", 20.0, 3),
                "3 baths of white vinegar, each stood 20 min",
            ),
        ] {
            assert_eq!(bath.words(&agents).unwrap(), words);
        }
        let unknown = ToldBath {
            soak_minutes: None,
            ..told("vinegar", 0.0, 2)
        };
        assert_eq!(unknown.words(&agents).unwrap(), "2 baths of white vinegar");
        let refused = told("gin", 20.0, 1).words(&agents).unwrap_err();
        assert_eq!(refused.field, "bath.agent_id");
        let past = |note: &str| PastClean {
            id: "p".to_owned(),
            brewer_id: "b".to_owned(),
            day: date(2026, 5, 1),
            note: note.to_owned(),
            bathed: BTreeMap::new(),
        };
        let with = |note| past(note).with_bath("1 bath", BTreeMap::new()).note;
        assert_eq!(with(" "), "1 bath");
        assert_eq!(with("needles too"), "1 bath. needles too");
    }
}

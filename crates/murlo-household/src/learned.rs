//! What a brewer has taught, in one place: each with where it is from, to be left out or counted again.

use crate::counter::{BrewerCard, CounterFacts};
use crate::history::History;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::journal::{Entry, FirstTaste, What, left_out};
use murlo_chalk::scale::Lesson;
use murlo_plan::figures::Figure;
use murlo_plan::pace;
use serde::{Deserialize, Serialize};

/// Something that was learned.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LearnedHere {
    /// "Dispenses", "Chalk, pod side".
    pub what: String,
    /// What is taken for true now.
    pub text: String,
    /// Where it is from, latest first.
    pub evidence: Vec<LearnedFrom>,
}

/// Where something is from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LearnedFrom {
    /// "25 Nov: the bath gave 3 dispenses".
    pub text: String,
    /// What a journal entry that leaves it out names; nothing where it cannot be left out by itself.
    pub entry_id: Option<String>,
    /// The entry that leaves it out, if one does.
    pub left_out_by: Option<String>,
}

impl CounterFacts<'_> {
    /// What `brewer` has taught: dispenses, programme, chalk and light of each side, rinses after an agent, pace, ways.
    #[must_use]
    pub fn learned(
        &self,
        brewer: &Brewer,
        (history, entries): (&History, &[Entry]),
        (card, figures): (&BrewerCard, &[Figure]),
    ) -> Vec<LearnedHere> {
        let mut all: Vec<_> = dispenses(figures, history, entries, &brewer.id, self.today)
            .into_iter()
            .collect();
        for (circuit, shown) in brewer.circuits.iter().zip(&card.circuits) {
            let of_side = |what: &str| match brewer.circuits.len() {
                1 => what.to_owned(),
                _ => format!("{what}, {}", circuit.name()),
            };
            let measured = self.measured.get(&brewer.key_of(circuit));
            let timed = measured.and_then(|measured| measured.programme_min);
            all.extend(timed.map(|minutes| LearnedHere {
                what: of_side("Cleaning programme"),
                text: format!("It takes {}, as it was timed last.", text::minutes(minutes)),
                evidence: Vec::new(),
            }));
            let forecast = &shown.forecast;
            all.push(LearnedHere {
                what: of_side("Chalk"),
                text: forecast.learned.clone(),
                evidence: forecast.lessons.iter().map(of_lesson).collect(),
            });
            all.extend(forecast.light.as_ref().map(|light| LearnedHere {
                what: of_side("Its light"),
                text: light.clone(),
                evidence: Vec::new(),
            }));
        }
        all.extend(self.sour_coffees(brewer, entries));
        all.extend(self.pace(brewer));
        all.extend(self.kept(brewer));
        all
    }

    fn sour_coffees(&self, brewer: &Brewer, entries: &[Entry]) -> Option<LearnedHere> {
        let out = left_out(entries);
        let is_sour = |entry: &&Entry| {
            matches!(
                &entry.what,
                What::FirstCoffee {
                    taste: FirstTaste::Sour,
                    ..
                }
            )
        };
        let evidence = entries.iter().rev().filter(is_sour);
        let evidence: Vec<_> = evidence
            .map(|entry| LearnedFrom {
                text: entry.text(brewer, self.today),
                entry_id: Some(entry.id.clone()),
                left_out_by: out.get(entry.id.as_str()).map(|id| (*id).to_owned()),
            })
            .collect();
        (!evidence.is_empty()).then(|| LearnedHere {
            what: "Rinse".to_owned(),
            text: "After an agent whose first coffee was sour it is rinsed longer.".to_owned(),
            evidence,
        })
    }

    fn pace(&self, brewer: &Brewer) -> Option<LearnedHere> {
        let all = pace::lines(self.paces, self.pace_after);
        let own = all
            .into_iter()
            .filter(|line| line.family == brewer.family.label());
        let evidence = own.map(|line| LearnedFrom {
            text: text::capital(&line.text),
            entry_id: None,
            left_out_by: None,
        });
        let evidence: Vec<_> = evidence.collect();
        (!evidence.is_empty()).then(|| LearnedHere {
            what: "Your pace with such brewers".to_owned(),
            text: "Plans and visits reckon by it; it is begun anew under Household.".to_owned(),
            evidence,
        })
    }

    fn kept(&self, brewer: &Brewer) -> Option<LearnedHere> {
        let own = self.ways.iter().filter(|way| way.brewer_id == brewer.id);
        let names: Vec<_> = own.map(|way| format!("“{}”", way.name)).collect();
        (!names.is_empty()).then(|| LearnedHere {
            what: "Our ways".to_owned(),
            text: format!("{}.", names.join(", ")),
            evidence: Vec::new(),
        })
    }
}

fn of_lesson(lesson: &Lesson) -> LearnedFrom {
    LearnedFrom {
        text: lesson.text.clone(),
        entry_id: Some(lesson.entry_id.clone()),
        left_out_by: lesson.left_out_by.clone(),
    }
}

/// What cleans counted, and what that makes of a dispense.
fn dispenses(
    figures: &[Figure],
    history: &History,
    entries: &[Entry],
    brewer_id: &str,
    today: Date,
) -> Option<LearnedHere> {
    let counts = history.counts(brewer_id, entries, today);
    let corrected = figures.iter().filter_map(|figure| {
        let measured = figure.measured.as_ref()?;
        Some(format!("{}: {measured}", figure.name))
    });
    let corrected: Vec<_> = corrected.collect();
    (!counts.is_empty()).then(|| LearnedHere {
        what: "Dispenses".to_owned(),
        text: match corrected.is_empty() {
            true => "What cleans counted agrees with what was told.".to_owned(),
            false => format!("{}.", corrected.join(". ")),
        },
        evidence: counts
            .into_iter()
            .map(|count| LearnedFrom {
                text: count.text,
                entry_id: Some(count.entry_id),
                left_out_by: count.left_out_by,
            })
            .collect(),
    })
}

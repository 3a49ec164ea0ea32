//! What happens to a brewer between cleans: brews, counter readings, days away, filters, needles, and signs of scale.
//!
//! Entries are facts; what they teach about a circuit is folded from them, so taking an entry back takes its lesson back.

use crate::Brewer;
use crate::job::Job;
use crate::trouble::{Cause, SignsSeen, check_signs, danger};
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::trim;
use murlo_base::{bounds, text};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// A counter that shows no more than this share of what it showed before has started again.
const STARTS_AGAIN: f64 = 0.5;

/// A sign that chalk hurts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Sign {
    /// Cups take longer or come out short.
    Slow,
    /// Louder, rattling.
    Noisy,
    /// The cup is cooler.
    Cooler,
    /// The brewer's own light asks for descaling.
    Light,
}

impl Sign {
    const fn words(self) -> &'static str {
        match self {
            Self::Slow => "Slow or short cups",
            Self::Noisy => "Louder than usual",
            Self::Cooler => "Cooler cups",
            Self::Light => "Descaling light lit up",
        }
    }
}

/// How the first coffee after a clean tasted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FirstTaste {
    /// As it should.
    Fine,
    /// Of acid: it was not rinsed enough.
    Sour,
    /// Of nothing much: old oil, or water that stood.
    Flat,
}

impl FirstTaste {
    const fn words(self) -> &'static str {
        match self {
            Self::Fine => "fine",
            Self::Sour => "sour",
            Self::Flat => "flat",
        }
    }
}

/// What happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum What {
    /// Cups brewed that day; entries of one day add up.
    Brewed {
        /// How many.
        cups: f64,
    },
    /// The brewer's own counter, read that day.
    Counter {
        /// Brews so far.
        brews: f64,
    },
    /// Nobody brewed from that day to the last one.
    Away {
        /// The last day away.
        until: Date,
    },
    /// A new water filter.
    FilterFitted,
    /// Needles cleared outside a clean.
    NeedlesCleared,
    /// A small work was done.
    Did {
        /// Which.
        job: Job,
    },
    /// A sign began.
    Sign {
        /// The circuit it is about.
        circuit_id: String,
        /// Which.
        sign: Sign,
        /// Whether the day is known, or only roughly.
        dated: bool,
        /// What older versions had worked out when the entry was taken in; read, and worth nothing.
        #[serde(default, skip_serializing)]
        potential_mg: Option<f64>,
    },
    /// Somebody looked, and noticed nothing.
    NothingNoticed {
        /// The circuit that was looked at.
        circuit_id: String,
    },
    /// Nothing is to be learned from another entry.
    LeftOut {
        /// That entry.
        entry_id: String,
    },
    /// A cup was timed.
    Timed {
        /// The circuit it came from.
        circuit_id: String,
        /// Seconds from the first drop to the last.
        seconds: f64,
        /// Its size, mL; the largest when absent.
        #[serde(default)]
        cup_ml: Option<f64>,
    },
    /// The first coffee after a clean.
    FirstCoffee {
        /// The circuit that was cleaned.
        circuit_id: String,
        /// The clean.
        clean_id: String,
        /// How it tasted.
        taste: FirstTaste,
    },
    /// Something was wrong, and was looked into.
    Trouble {
        /// What was seen.
        signs: SignsSeen,
        /// The likeliest cause.
        cause: Cause,
        /// How likely, per cent.
        percent: f64,
    },
}

impl What {
    /// The circuit of which it tells how it is.
    #[must_use]
    pub fn seen_of(&self) -> Option<&str> {
        match self {
            Self::Sign { circuit_id, .. }
            | Self::NothingNoticed { circuit_id }
            | Self::Timed { circuit_id, .. } => Some(circuit_id),
            Self::Brewed { .. }
            | Self::Counter { .. }
            | Self::Away { .. }
            | Self::FilterFitted
            | Self::NeedlesCleared
            | Self::Did { .. }
            | Self::LeftOut { .. }
            | Self::FirstCoffee { .. }
            | Self::Trouble { .. } => None,
        }
    }

    /// Whether it matters beyond the next clean.
    #[must_use]
    pub const fn lasts(&self) -> bool {
        !matches!(
            self,
            Self::Brewed { .. } | Self::Counter { .. } | Self::Away { .. }
        )
    }
}

/// An entry.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Entry {
    /// Identity, made by the device or from what it tells of.
    pub id: String,
    /// The brewer.
    pub brewer_id: String,
    /// The day.
    pub day: Date,
    /// When it was written down, if that was on its day: what else happened that day comes before or after it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<Timestamp>,
    /// What happened.
    pub what: What,
}

/// An entry as sent.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct EntryDraft {
    /// Made by the device, so that sending twice is harmless.
    pub id: String,
    /// The day.
    pub day: Date,
    /// What happened.
    pub what: What,
}

impl EntryDraft {
    /// The entry for `brewer`, checked against its other entries.
    ///
    /// # Errors
    /// One problem per wrong field: a day outside the brewer's life, a number outside its range, a counter that runs
    /// backwards, an unknown circuit.
    pub fn check(self, brewer: &Brewer, others: &[Entry], today: Date) -> Result<Entry, Problems> {
        let entry = Entry {
            id: self.id,
            brewer_id: brewer.id.clone(),
            day: self.day,
            at: None,
            what: self.what,
        };
        entry.check(brewer)?;
        let mut problems = Problems::default();
        let mut refuse = |field: &str, message: String| {
            problems
                .0
                .push(Problem::new(Code::OutOfRange, field, message));
        };
        if entry.day > today && !matches!(entry.what, What::Away { .. }) {
            refuse(
                "day",
                "that day has not come yet: give today or an earlier one".into(),
            );
        }
        match &entry.what {
            What::Counter { brews } => {
                for other in others.iter().filter(|e| e.id != entry.id) {
                    let What::Counter { brews: read } = other.what else {
                        continue;
                    };
                    // One that starts again begins low; anything else that runs backwards is a slip.
                    let (earlier, later) = if other.day < entry.day {
                        (read, *brews)
                    } else {
                        (*brews, read)
                    };
                    let backwards =
                        other.day != entry.day && later < earlier && later > STARTS_AGAIN * earlier;
                    if backwards {
                        refuse(
                            "what.brews",
                            format!(
                                "the counter read {} on {}: give a reading that fits, take that one back, or begin low if it started again",
                                trim(read, 0),
                                text::day(other.day, today)
                            ),
                        );
                        break;
                    }
                }
            }
            What::Trouble { .. } => refuse(
                "what.kind",
                "what is wrong is told where the signs are asked: there the cause is worked out"
                    .into(),
            ),
            What::Brewed { .. }
            | What::Away { .. }
            | What::FilterFitted
            | What::NeedlesCleared
            | What::Did { .. }
            | What::Sign { .. }
            | What::NothingNoticed { .. }
            | What::LeftOut { .. }
            | What::FirstCoffee { .. }
            | What::Timed { .. } => {}
        }
        problems.or(Some(entry))
    }
}

impl Entry {
    /// Checks what a foreign file can break as well as a form.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn check(&self, brewer: &Brewer) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(text::id("id", &self.id));
        let is_work = matches!(
            self.what,
            What::FilterFitted | What::NeedlesCleared | What::Did { .. }
        );
        let is_early = self.day < brewer.in_use_since;
        if is_early && !(is_work && brewer.may_know_of(self.day)) {
            let message = "that is before the brewer's first day of use: give a later day";
            problems
                .0
                .push(Problem::new(Code::OutOfRange, "day", message));
        }
        let circuit = self.check_what(brewer, &mut problems);
        if circuit.is_some_and(|id| brewer.circuits.iter().all(|c| c.id != *id)) {
            let message = "this brewer has no such circuit";
            problems
                .0
                .push(Problem::new(Code::UnknownId, "what.circuit_id", message));
        }
        problems.or(Some(()))
    }
}

impl Entry {
    /// Checks what it tells; gives the circuit that it is about, if it is about one.
    fn check_what(&self, brewer: &Brewer, problems: &mut Problems) -> Option<&String> {
        match &self.what {
            What::Brewed { cups } => {
                problems.note(bounds::CUPS.check("what.cups", *cups));
                None
            }
            What::Counter { brews } => {
                problems.note(bounds::COUNTER.check("what.brews", *brews));
                None
            }
            What::Away { until } => {
                problems.note(bounds::day("what.until", *until));
                if *until < self.day {
                    let message = "the last day away lies before the first: give a later one";
                    problems
                        .0
                        .push(Problem::new(Code::OutOfRange, "what.until", message));
                }
                None
            }
            What::Sign { circuit_id, .. } | What::NothingNoticed { circuit_id } => Some(circuit_id),
            What::FirstCoffee {
                circuit_id,
                clean_id,
                ..
            } => {
                problems.note(text::id("what.clean_id", clean_id));
                Some(circuit_id)
            }
            What::Timed {
                circuit_id,
                seconds,
                cup_ml,
            } => {
                problems.note(bounds::SECONDS.check("what.seconds", *seconds));
                problems
                    .note(cup_ml.map_or(Ok(0.0), |ml| bounds::DISPENSE.check("what.cup_ml", ml)));
                Some(circuit_id)
            }
            What::LeftOut { entry_id } => {
                problems.note(text::id("what.entry_id", entry_id));
                None
            }
            What::Trouble { signs, percent, .. } => {
                problems.note(check_signs(signs).map_err(|p| p.within("what")));
                problems.note(bounds::PER_CENT.check("what.percent", *percent));
                None
            }
            What::FilterFitted | What::NeedlesCleared => None,
            What::Did { job } => {
                if !job.fits(brewer) {
                    let message = format!("this brewer has no such work: {}", job.name());
                    problems
                        .0
                        .push(Problem::new(Code::Contradiction, "what.job", message));
                }
                None
            }
        }
    }
}

impl Entry {
    /// Whether `other` tells the same; what was filled in when it was taken in does not matter.
    #[must_use]
    pub fn tells_the_same(&self, other: &Self) -> bool {
        let told = |entry: &Self| {
            let mut told = entry.clone();
            told.at = None;
            if let What::Sign { potential_mg, .. } = &mut told.what {
                *potential_mg = None;
            }
            told
        };
        told(self) == told(other)
    }

    /// "Slow or short cups on 25 Mar", "Louder than usual, about 1 Jul".
    pub fn seen(&self, today: Date) -> String {
        let day = text::day(self.day, today);
        match &self.what {
            What::Sign { sign, dated, .. } => {
                let on = if *dated { " on" } else { ", about" };
                format!("{}{on} {day}", sign.words())
            }
            What::Timed { seconds, .. } => format!("A cup timed at {seconds:.0} s on {day}"),
            What::NothingNoticed { .. } => format!("Nothing noticed on {day}"),
            What::Brewed { .. }
            | What::Counter { .. }
            | What::Away { .. }
            | What::FilterFitted
            | What::NeedlesCleared
            | What::Did { .. }
            | What::LeftOut { .. }
            | What::FirstCoffee { .. }
            | What::Trouble { .. } => format!("Something seen on {day}"),
        }
    }

    /// "3 cups on 23 Nov".
    #[must_use]
    pub fn text(&self, brewer: &Brewer, today: Date) -> String {
        let day = text::day(self.day, today);
        let side = |id: &str| match brewer.circuits.as_slice() {
            [_] => String::new(),
            circuits => circuits
                .iter()
                .find(|c| c.id == id)
                .map_or_else(String::new, |c| format!(", {}", c.name())),
        };
        match &self.what {
            What::Brewed { cups } if *cups == 1.0 => format!("1 cup on {day}"),
            What::Brewed { cups } => format!("{} cups on {day}", trim(*cups, 1)),
            What::Counter { brews } => format!("Counter read {} on {day}", trim(*brews, 0)),
            What::Away { until } => format!("Away from {day} to {}", text::day(*until, today)),
            What::FilterFitted => format!("New water filter on {day}"),
            What::NeedlesCleared => format!("Needles cleared on {day}"),
            What::Did { job } => format!("{} on {day}", job.name()),
            What::Sign { circuit_id, .. }
            | What::NothingNoticed { circuit_id }
            | What::Timed { circuit_id, .. } => {
                format!("{}{}", self.seen(today), side(circuit_id))
            }
            What::FirstCoffee {
                circuit_id, taste, ..
            } => format!(
                "First coffee after the clean on {day}: {}{}",
                taste.words(),
                side(circuit_id)
            ),
            What::LeftOut { .. } => format!("A lesson left out on {day}"),
            What::Trouble {
                signs,
                cause,
                percent,
            } => match danger(signs) {
                Some(words) => {
                    format!(
                        "Danger on {day}: {}. For a qualified repairer",
                        words.to_lowercase()
                    )
                }
                None => format!(
                    "Something wrong on {day}: {} {}",
                    how_likely(*percent),
                    cause.words()
                ),
            },
        }
    }
}

/// A chance, %, as people say it of a cause.
fn how_likely(percent: f64) -> &'static str {
    match percent {
        _ if percent >= 90.0 => "almost surely",
        _ if percent >= 60.0 => "most likely",
        _ if percent >= 35.0 => "likely",
        _ => "perhaps",
    }
}

/// The first cell of a line and what follows it, with the quotes off that spreadsheets put around cells.
fn two_cells(line: &str) -> (&str, &str) {
    let (first, rest) = match line.strip_prefix('"').and_then(|line| line.split_once('"')) {
        Some((first, rest)) => (first, rest.trim_start().get(1..).unwrap_or_default()),
        None => line.split_once([',', ';', '\t']).unwrap_or((line, "")),
    };
    let rest = rest.trim();
    let bare = rest
        .strip_prefix('"')
        .and_then(|rest| rest.strip_suffix('"'));
    (first.trim(), bare.unwrap_or(rest).trim())
}

/// One line per day of "2026-11-23,3" with an optional header, as cups brewed.
///
/// # Errors
/// One problem per line that is not a day and a number of cups; nothing is taken then.
pub fn parse_counts(csv: &str, brewer: &Brewer, today: Date) -> Result<Vec<Entry>, Problems> {
    let mut problems = Problems::default();
    let mut entries: Vec<Entry> = Vec::new();
    // Spreadsheets put a mark of their own before the first line.
    let csv = csv.trim_start_matches('\u{feff}');
    for (i, line) in csv.lines().enumerate() {
        let line = line.trim();
        let (day, cups) = two_cells(line);
        let header = i == 0 && !day.starts_with(|c: char| c.is_ascii_digit());
        if line.is_empty() || header {
            continue;
        }
        let field = format!("line {}", i + 1);
        let day = day.trim().parse::<Date>().map_err(|_| {
            let message = "begin with a day such as 2026-11-23, then a comma and the cups";
            Problem::new(Code::WrongType, &field, message)
        });
        let cups = cups.replace(',', ".").parse::<f64>().map_err(|_| {
            let message = "after the day and a comma give the cups of that day as a number";
            Problem::new(Code::NotANumber, &field, message)
        });
        if let (Some(day), Some(cups)) = (problems.note(day), problems.note(cups)) {
            let draft = EntryDraft {
                // The same file brought twice replaces itself instead of counting double.
                id: format!("csv-{}-{day}", brewer.id),
                day,
                what: What::Brewed { cups },
            };
            let checked = draft.check(brewer, &[], today);
            let checked = checked.map_err(|p| p.within(&field));
            if let Some(entry) = problems.note(checked) {
                if entries.last().is_some_and(|e| e.day >= entry.day) {
                    let message = "give each day once, in order";
                    problems
                        .0
                        .push(Problem::new(Code::Contradiction, &field, message));
                }
                entries.push(entry);
            }
        }
    }
    if entries.is_empty() && problems.0.is_empty() {
        let message = "no line with a day and a number of cups was found";
        problems.0.push(Problem::new(Code::Missing, "csv", message));
    }
    problems.or(Some(entries))
}

/// Before the id of a clean where what it teaches is left out.
pub const SHOWN: &str = "shown-";

/// Before the id of a clean in which a cup was timed first.
pub const TIMED: &str = "timed-";

/// Before the id of a clean in which needles were cleared.
pub const CLEARED: &str = "cleared-";

/// Before the name of a small work and the id of a clean in which it was done.
pub const DID: &str = "did-";

/// Before the id of a clean in which a filter was fitted.
pub const FITTED: &str = "fitted-";

/// Whether a clean told this of itself, so that it is not in the journal.
#[must_use]
pub fn is_of_a_clean(entry: &Entry) -> bool {
    [TIMED, CLEARED, FITTED, DID]
        .iter()
        .any(|start| entry.id.starts_with(start))
}

/// Which entry leaves out which lesson.
#[must_use]
pub fn left_out(entries: &[Entry]) -> HashMap<&str, &str> {
    let left_out = entries.iter().filter_map(|e| match &e.what {
        What::LeftOut { entry_id } => Some((entry_id.as_str(), e.id.as_str())),
        What::Brewed { .. }
        | What::Counter { .. }
        | What::Away { .. }
        | What::FilterFitted
        | What::NeedlesCleared
        | What::Did { .. }
        | What::Sign { .. }
        | What::NothingNoticed { .. }
        | What::Timed { .. }
        | What::FirstCoffee { .. }
        | What::Trouble { .. } => None,
    });
    left_out.collect()
}

#[cfg(test)]
pub(crate) mod tests;

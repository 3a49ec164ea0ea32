//! Every clean folded into what counts for its circuit, what it used and what it taught.

use crate::PastClean;
use crate::history::inside::AcidInside;
use crate::history::memory::{Cleans, Memory, Running};
use crate::stock::Drawn;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::home::Bottle;
use murlo_brewer::journal::{self, FirstTaste, What, left_out};
use murlo_brewer::rinse::Counted;
use murlo_brewer::{Brewer, CircuitKey, Family};
use murlo_chalk::scale::Cleaned;
use murlo_clean::{Act, Event, Outcome};
use murlo_plan::pace::PaceSeen;
use murlo_plan::{Measured, Work};
use serde::{Deserialize, Serialize};
use std::collections::{HashMap, HashSet};
use std::sync::Arc;

/// What a guided clean counts as, by what it came to.
fn guided(clean_id: String, at: Option<Timestamp>, outcome: &Outcome) -> Cleaned {
    Cleaned {
        day: outcome.day,
        at,
        clean_id: Some(clean_id),
        bathed: outcome.bathed.clone(),
        evidence: outcome.evidence(),
        taken: outcome.taken.clone(),
        given_up: outcome.given_up,
        ..Cleaned::default()
    }
}

/// A guided clean in short.
#[derive(Debug, Clone)]
pub struct GuidedClean {
    /// Identity.
    pub id: String,
    /// The brewer.
    pub brewer_id: String,
    /// The circuit.
    pub circuit_id: String,
    /// The last event that ended or reopened it; absent while it has never ended.
    pub closing: Option<Event>,
}

impl GuidedClean {
    /// Whether it still runs.
    #[must_use]
    pub fn is_running(&self) -> bool {
        self.closing.as_ref().is_none_or(|e| e.act == Act::Reopened)
    }
}

/// What one clean measured of its circuit.
#[derive(Debug, Clone, PartialEq)]
pub struct MeasuredBy {
    pub(crate) clean_id: String,
    pub(crate) key: CircuitKey,
    pub(crate) day: Date,
    pub(crate) programme_min: Option<f64>,
    pub(crate) bath: Option<Counted>,
    pub(crate) fill: Option<Counted>,
}

impl MeasuredBy {
    /// The name under which its counts are left out.
    fn entry_id(&self) -> String {
        format!("counted-{}", self.clean_id)
    }
}

/// What a clean counted, for people to read and to leave out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CountLesson {
    /// What a journal entry that leaves it out names.
    pub entry_id: String,
    /// "25 Nov: the bath gave 3 dispenses".
    pub text: String,
    /// The entry that leaves it out, if one does.
    pub left_out_by: Option<String>,
}

/// What cleans come to, for estimates and plans.
#[derive(Debug, Default)]
pub struct History {
    /// Cleans that count for each circuit, oldest first.
    pub cleans: Cleans,
    /// Cleans that are running.
    pub running: Running,
    /// What cleans measured, oldest first.
    pub measured: Vec<MeasuredBy>,
    /// Brewers whose last clean left acid inside.
    pub acid: HashMap<CircuitKey, AcidInside>,
    /// How long steps took, clean by clean.
    pub paces: Vec<PaceSeen>,
    /// What cleans tell besides, as entries: cups timed, needles cleared, filters fitted.
    pub entries: Vec<journal::Entry>,
    /// What cleans took from the cupboard.
    pub drawn: Vec<Drawn>,
}

impl History {
    /// Folds guided cleans, in the order they were started, and told ones. A rehearsal counts for nothing, work on the needles
    /// only for these; a told clean is one of every circuit of its brewer.
    #[must_use]
    pub fn fold<'a>(
        guided: impl IntoIterator<Item = GuidedClean>,
        told: impl IntoIterator<Item = &'a PastClean>,
        brewers: impl IntoIterator<Item = &'a Brewer>,
    ) -> Self {
        let mut history = Self::default();
        let brewers: Vec<_> = brewers.into_iter().collect();
        let families: HashMap<_, _> = brewers.iter().map(|b| (b.id.as_str(), b.family)).collect();
        for clean in guided {
            let family = families.get(clean.brewer_id.as_str()).copied();
            history.take(clean, family);
        }
        let mut by_brewer: HashMap<&str, Vec<&PastClean>> = HashMap::new();
        for clean in told {
            by_brewer.entry(&clean.brewer_id).or_default().push(clean);
        }
        for brewer in brewers {
            let cleans = by_brewer.remove(brewer.id.as_str()).unwrap_or_default();
            for circuit in &brewer.circuits {
                let key = brewer.key_of(circuit);
                let all = history.cleans.entry(key).or_default();
                all.extend(cleans.iter().map(|clean| Cleaned {
                    bathed: clean.bathed.get(&circuit.id).cloned(),
                    ..Cleaned::told(clean.day)
                }));
            }
        }
        for cleans in history.cleans.values_mut() {
            cleans.sort_by_key(|c| c.day);
        }
        history
    }

    /// What cleans measured of each circuit, without the counts that `entries` leave out.
    #[must_use]
    pub fn measured(&self, entries: &[journal::Entry]) -> HashMap<CircuitKey, Measured> {
        let left_out = left_out(entries);
        let mut all: HashMap<_, Measured> = HashMap::new();
        for by in &self.measured {
            let counts = !left_out.contains_key(by.entry_id().as_str());
            all.entry(by.key.clone()).or_default().take(
                by.programme_min,
                by.bath.filter(|_| counts),
                by.fill.filter(|_| counts),
            );
        }
        let counts = |entry: &&journal::Entry| !left_out.contains_key(entry.id.as_str());
        let sour = entries.iter().filter(counts).filter_map(|e| self.sour(e));
        // Two people who tell of one coffee tell of one.
        let mut told = HashSet::new();
        for (key, _, agent_id) in sour.filter(|(_, clean_id, _)| told.insert(*clean_id)) {
            let measured = all.entry(key).or_default();
            *measured.sour.entry(agent_id).or_default() += 1;
        }
        all
    }

    /// The side and the agent of a clean whose first coffee was sour.
    fn sour<'a>(&self, entry: &'a journal::Entry) -> Option<(CircuitKey, &'a str, String)> {
        let What::FirstCoffee {
            circuit_id,
            clean_id,
            taste: FirstTaste::Sour,
        } = &entry.what
        else {
            return None;
        };
        let key = CircuitKey::new(&entry.brewer_id, circuit_id);
        let mut cleans = self.cleans.get(&key)?.iter();
        let clean = cleans.find(|clean| clean.clean_id.as_ref() == Some(clean_id))?;
        Some((key, clean_id, clean.taken.as_ref()?.agent_id.clone()))
    }

    /// What the cleans of a brewer counted, latest first.
    #[must_use]
    pub fn counts(
        &self,
        brewer_id: &str,
        entries: &[journal::Entry],
        today: Date,
    ) -> Vec<CountLesson> {
        let left_out = left_out(entries);
        let of_brewer = self
            .measured
            .iter()
            .rev()
            .filter(|by| by.key.brewer_id == brewer_id);
        let lesson = |by: &MeasuredBy| {
            let dispenses = |c: Counted| text::count(c.dispenses, "dispense", "dispenses");
            let bath = by.bath.map(|c| format!("the bath gave {}", dispenses(c)));
            let fill = by
                .fill
                .map(|c| format!("a fill of the rinse gave {}", dispenses(c)));
            let seen: Vec<_> = bath.into_iter().chain(fill).collect();
            let entry_id = by.entry_id();
            (!seen.is_empty()).then(|| CountLesson {
                text: format!("{}: {}", text::day(by.day, today), seen.join(", ")),
                left_out_by: left_out.get(entry_id.as_str()).map(|id| (*id).to_owned()),
                entry_id,
            })
        };
        of_brewer.filter_map(lesson).collect()
    }

    /// What a clean came to that ended; the acid of one that was given up stays.
    fn ended(&mut self, key: &CircuitKey, clean_id: &str, act: Option<Act>) -> Option<Outcome> {
        let act = act?;
        if let Act::Abandoned { acid, outcome } = act {
            if let Some(outcome) = outcome {
                return Some(*outcome);
            }
            let inside = acid.map(|acid| AcidInside::of(clean_id, &acid));
            self.acid.extend(inside.map(|inside| (key.clone(), inside)));
            return None;
        }
        let is_vouched = matches!(act, Act::Vouched { .. });
        let (Act::Finished { outcome } | Act::Vouched { outcome, .. }) = act else {
            return None;
        };
        // Whoever vouched for a clean that was given up said so of its acid.
        if is_vouched && outcome.is_none() {
            self.acid.remove(key);
        }
        outcome
    }

    fn take(&mut self, clean: GuidedClean, family: Option<Family>) {
        let key = CircuitKey::new(&clean.brewer_id, &clean.circuit_id);
        if clean.is_running() {
            self.running.insert(key, clean.id);
            return;
        }
        let at = clean.closing.as_ref().map(|e| e.at);
        let Some(outcome) = self.ended(&key, &clean.id, clean.closing.map(|e| e.act)) else {
            return;
        };
        if outcome.work == Work::Rehearsal {
            return;
        }
        // One that was given up before its bath found and left what was there.
        if outcome.work == Work::Descale && !(outcome.given_up && outcome.rounds == 0) {
            match &outcome.acid_left {
                Some(acid) => self
                    .acid
                    .insert(key.clone(), AcidInside::of(&clean.id, acid)),
                None => self.acid.remove(&key),
            };
        }
        self.paces.extend(family.map(|family| PaceSeen {
            family,
            day: outcome.day,
            took: outcome.took.clone(),
        }));
        self.entries
            .extend(outcome.told_besides(&clean.id, &clean.brewer_id, &clean.circuit_id));
        if matches!(outcome.work, Work::Needles | Work::Upkeep) {
            return;
        }
        let own = (outcome.bottle == Bottle::Own).then(|| outcome.took_agents());
        self.drawn
            .extend(own.into_iter().flatten().map(|(agent, amount)| Drawn {
                item_id: agent.to_owned(),
                day: outcome.day,
                at,
                amount,
                brewer_id: clean.brewer_id.clone(),
                circuit_id: Some(clean.circuit_id.clone()),
            }));
        self.measured.push(MeasuredBy {
            clean_id: clean.id.clone(),
            key: key.clone(),
            day: outcome.day,
            programme_min: outcome.programme_min,
            bath: outcome.bath_counted,
            fill: outcome.fill_counted,
        });
        // Given up before any of it ran through, a bath did nothing.
        if outcome.given_up && outcome.bathed.is_none() {
            return;
        }
        let cleaned = guided(clean.id, at, &outcome);
        self.cleans.entry(key).or_default().push(cleaned);
    }
}

impl Memory {
    /// Lends what cleans were asked before to `history`, and keeps what they are asked next.
    pub fn lend(&mut self, history: &mut History) {
        for clean in history.cleans.values_mut().flatten() {
            if let Some(id) = &clean.clean_id {
                let end = (id.clone(), clean.at);
                clean.asked = Arc::clone(self.asked.entry(end).or_default());
            }
        }
    }
}

//! What has been done to the brewers of a household: which cleans count, and what they tell besides.

mod log;

pub use log::{Done, Log, Which, YearOfLog, csv, done};

use crate::PastClean;
use crate::counter::{Cleans, Recalls, Running};
use crate::stock::Drawn;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::journal::{self, What};
use murlo_brewer::rinse::Counted;
use murlo_brewer::{Brewer, Family};
use murlo_chalk::scale::{Asked, Cleaned, Logged};
use murlo_clean::{AcidLeft, Act, Event, Outcome};
use murlo_plan::pace::Seen;
use murlo_plan::{Measured, Work};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use std::collections::hash_map::Entry;
use std::sync::Arc;

/// What was worked out from facts and holds until they change; it can be worked out again at any time.
#[derive(Debug, Default)]
pub struct Memory {
    logged: HashMap<String, Arc<Logged>>,
    /// By clean and the moment it ended: one that was opened again may come to something else.
    asked: HashMap<(String, Option<Timestamp>), Asked>,
    recalls: Recalls,
}

impl Memory {
    /// What was believed of these circuits, and where the next answer is kept.
    pub fn recalls<'a>(&mut self, circuits: impl Iterator<Item = &'a (String, String)>) -> Recalls {
        for key in circuits {
            if !self.recalls.contains_key(key) {
                self.recalls.insert(key.clone(), Arc::default());
            }
        }
        self.recalls.clone()
    }

    /// What was written down about brews of every brewer; `read` gives the entries of one that is not known yet.
    ///
    /// # Errors
    /// Those of `read`.
    pub fn logged<E>(
        &mut self,
        brewers: impl Iterator<Item = String>,
        read: impl Fn(&str) -> Result<Vec<journal::Entry>, E>,
    ) -> Result<HashMap<String, Arc<Logged>>, E> {
        for id in brewers {
            if let Entry::Vacant(place) = self.logged.entry(id) {
                let logged = Logged::of(&read(place.key())?);
                place.insert(Arc::new(logged));
            }
        }
        Ok(self.logged.clone())
    }

    /// The journal of a brewer has changed.
    pub fn forget_journal(&mut self, brewer_id: &str) {
        self.logged.remove(brewer_id);
    }

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

/// What a guided clean counts as, by what it came to.
fn guided(clean_id: String, at: Option<Timestamp>, outcome: &Outcome) -> Cleaned {
    Cleaned {
        day: outcome.day,
        at,
        clean_id: Some(clean_id),
        bathed: outcome.bathed.clone(),
        evidence: outcome.evidence(),
        taken: outcome.taken.clone(),
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
    clean_id: String,
    key: (String, String),
    day: Date,
    programme_min: Option<f64>,
    bath: Option<Counted>,
    fill: Option<Counted>,
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

/// Which entry leaves out which lesson.
fn left_out(entries: &[journal::Entry]) -> HashMap<&str, &str> {
    let left_out = entries.iter().filter_map(|e| match &e.what {
        What::LeftOut { entry_id } => Some((entry_id.as_str(), e.id.as_str())),
        _ => None,
    });
    left_out.collect()
}

/// A clean that ended with acid inside.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AcidInside {
    /// The clean.
    pub clean_id: String,
    /// "ACID INSIDE, about 240 times what people notice. Do not brew."
    pub text: String,
}

impl AcidInside {
    fn of(clean_id: &str, acid: &AcidLeft) -> Self {
        Self {
            clean_id: clean_id.to_owned(),
            text: format!("ACID INSIDE, {}. Do not brew.", acid.times()),
        }
    }
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
    pub acid: HashMap<(String, String), AcidInside>,
    /// How long steps took, clean by clean.
    pub paces: Vec<Seen>,
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
                let key = (brewer.id.clone(), circuit.id.clone());
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
    pub fn measured(&self, entries: &[journal::Entry]) -> HashMap<(String, String), Measured> {
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
        all
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
            .filter(|by| by.key.0 == brewer_id);
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
    fn ended(
        &mut self,
        key: &(String, String),
        clean_id: &str,
        act: Option<Act>,
    ) -> Option<Outcome> {
        match act? {
            Act::Finished { outcome } => outcome,
            Act::Vouched {
                outcome: Some(outcome),
                ..
            } => Some(outcome),
            // Whoever vouched for a clean that was given up said so of its acid.
            Act::Vouched { outcome: None, .. } => {
                self.acid.remove(key);
                None
            }
            Act::Abandoned { acid } => {
                let inside = acid.map(|acid| AcidInside::of(clean_id, &acid));
                self.acid.extend(inside.map(|inside| (key.clone(), inside)));
                None
            }
            _ => None,
        }
    }

    fn take(&mut self, clean: GuidedClean, family: Option<Family>) {
        let key = (clean.brewer_id.clone(), clean.circuit_id.clone());
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
        if outcome.work == Work::Descale {
            match &outcome.acid_left {
                Some(acid) => self
                    .acid
                    .insert(key.clone(), AcidInside::of(&clean.id, acid)),
                None => self.acid.remove(&key),
            };
        }
        self.paces.extend(family.map(|family| Seen {
            family,
            day: outcome.day,
            took: outcome.took.clone(),
        }));
        self.entries
            .extend(outcome.told_besides(&clean.id, &clean.brewer_id, &clean.circuit_id));
        if matches!(outcome.work, Work::Needles | Work::Upkeep) {
            return;
        }
        let used = outcome.taken.as_ref().zip(outcome.used);
        self.drawn.extend(used.map(|(taken, amount)| Drawn {
            item_id: taken.agent_id.clone(),
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
        let cleaned = guided(clean.id, at, &outcome);
        self.cleans.entry(key).or_default().push(cleaned);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Household;
    use jiff::civil::date;
    use murlo_chemistry::cleaning::{Bathed, Film, Path};

    fn landed() -> Household {
        let landed = include_str!("../testdata/landed-1.json");
        let landed: serde_json::Value = serde_json::from_str(landed).unwrap();
        Household::read(&landed["export"].to_string()).unwrap()
    }

    fn cleans_of(household: &Household) -> Vec<GuidedClean> {
        let closes = Act::is_closing;
        let cleans = household.cleans.iter().map(|record| GuidedClean {
            id: record.id.clone(),
            brewer_id: record.plan.brewer_id.clone(),
            circuit_id: record.plan.circuit_id.clone(),
            closing: record.events.iter().rfind(|e| closes(&e.act)).cloned(),
        });
        cleans.collect()
    }

    #[test]
    fn finished_cleans_count_running_ones_run_and_those_given_up_do_neither() {
        let household = landed();
        let brewers: Vec<_> = household.brewers.iter().map(|k| &k.fact).collect();
        let history = History::fold(cleans_of(&household), [], brewers.iter().copied());
        let key = |brewer: &str, side: &str| (brewer.to_owned(), side.to_owned());
        let count = |brewer: &str| history.cleans[&key(brewer, "main")].len();
        assert_eq!(count("studio-pod"), 2, "a clean each of two");
        assert_eq!(count("galley"), 0, "given up");
        assert_eq!(count("galley-cup"), 0, "only the needles");
        let mut running: Vec<_> = history.running.values().map(String::as_str).collect();
        running.sort_unstable();
        let expected = [
            "demo-half-done",
            "landed-coded",
            "landed-rehearsal",
            "landed-stopped",
        ];
        assert_eq!(running, expected);
        let told = |id: &str| history.entries.iter().find(|e| e.id == id);
        assert!(told("cleared-demo-unclogged").is_some());
        assert!(history.entries.iter().all(journal::is_of_a_clean));
    }

    #[test]
    fn a_clean_that_was_opened_again_is_asked_anew() {
        use murlo_chemistry::cleaning::{Bath, Heats, How, Pass};
        let path = Path {
            heats: Heats {
                heater: murlo_chemistry::heater::Heater::Tank,
                heater_c: 92.0,
                brew_min: None,
            },
            hold_ml: 355.0,
        };
        let film = Film {
            mg: 569.1,
            sigma: 0.0,
            area_cm2: 100.0,
        };
        let mut memory = Memory::default();
        let mut asked = |end: &str, stood_min: f64| {
            let pass = Pass {
                how: How::Press,
                ml: 296.0,
                minutes: 1.0,
                stood_min,
                heated: true,
            };
            let baths = vec![Bath {
                g_per_l: Some(50.0),
                passes: vec![pass],
            }];
            let clean = Cleaned {
                at: Some(end.parse().unwrap()),
                clean_id: Some("c".into()),
                bathed: Some(Bathed {
                    acid: murlo_chemistry::acid::Acid::Acetic,
                    baths,
                }),
                ..Cleaned::default()
            };
            let key = ("b".to_owned(), "main".to_owned());
            let mut history = History::default();
            history.cleans.insert(key.clone(), vec![clean]);
            memory.lend(&mut history);
            history.cleans[&key][0].leaves(&film, &path).median
        };
        let first = asked("2026-08-30T10:00:00Z", 5.0);
        assert_eq!(asked("2026-08-30T10:00:00Z", 5.0), first);
        assert!(asked("2026-08-30T11:00:00Z", 60.0) < first - 0.1);
    }

    #[test]
    fn counts_can_be_left_out_and_counted_again() {
        let counted = |dispenses| Counted {
            volume_ml: 950.0,
            dispenses,
        };
        let by = |clean: &str, bath, fill| MeasuredBy {
            clean_id: clean.to_owned(),
            key: ("b".to_owned(), "main".to_owned()),
            day: date(2026, 8, 30),
            programme_min: Some(20.0),
            bath,
            fill,
        };
        let history = History {
            measured: vec![
                by("a", Some(counted(3)), Some(counted(4))),
                by("b", Some(counted(2)), None),
                by("c", None, None),
            ],
            ..History::default()
        };
        let out = journal::Entry {
            id: "out".to_owned(),
            brewer_id: "b".to_owned(),
            day: date(2026, 8, 30),
            at: None,
            what: What::LeftOut {
                entry_id: "counted-a".to_owned(),
            },
        };
        let key = ("b".to_owned(), "main".to_owned());
        let all = &history.measured(&[])[&key];
        assert_eq!(
            (all.bath.len(), all.fill.len(), all.programme_min),
            (2, 1, Some(20.0))
        );
        let some = &history.measured(std::slice::from_ref(&out))[&key];
        assert_eq!((some.bath.clone(), some.fill.len()), (vec![counted(2)], 0));
        let read = history.counts("b", &[out], date(2026, 9, 1));
        let texts: Vec<_> = read
            .iter()
            .map(|c| (c.text.as_str(), c.left_out_by.as_deref()))
            .collect();
        assert_eq!(
            texts,
            [
                ("30 Aug: the bath gave 2 dispenses", None),
                (
                    "30 Aug: the bath gave 3 dispenses, a fill of the rinse gave 4 dispenses",
                    Some("out")
                ),
            ]
        );
        assert!(history.counts("other", &[], date(2026, 9, 1)).is_empty());
    }

    #[test]
    fn acid_left_inside_marks_a_brewer_until_a_clean_ends_without_or_somebody_vouches() {
        let acid = AcidLeft {
            mg_l: 20_000.0,
            target_mg_l: 50.0,
        };
        let household = landed();
        let finished = cleans_of(&household);
        let outcome = finished
            .iter()
            .find_map(|clean| match clean.closing.as_ref()?.act.clone() {
                Act::Finished { outcome } => outcome.filter(|o| o.work == Work::Descale),
                _ => None,
            });
        let outcome = |acid_left: Option<&AcidLeft>| {
            Some(Outcome {
                acid_left: acid_left.cloned(),
                ..outcome.clone().unwrap()
            })
        };
        let clean = |id: &str, act| GuidedClean {
            id: id.to_owned(),
            brewer_id: "b".to_owned(),
            circuit_id: "main".to_owned(),
            closing: Some(Event {
                id: format!("end-{id}"),
                at: "2026-08-30T10:00:00Z".parse().unwrap(),
                device_at: None,
                act,
            }),
        };
        let left = || Act::Finished {
            outcome: outcome(Some(&acid)),
        };
        let clear = || Act::Finished {
            outcome: outcome(None),
        };
        let given_up = || Act::Abandoned {
            acid: Some(acid.clone()),
        };
        let vouched = |outcome| Act::Vouched {
            by: "Ola".to_owned(),
            outcome,
        };
        for (acts, marked) in [
            (vec![left()], Some("0")),
            (vec![given_up()], Some("0")),
            (vec![left(), clear()], None),
            (vec![given_up(), clear()], None),
            (vec![clear(), given_up()], Some("1")),
            (vec![left(), Act::Abandoned { acid: None }], Some("0")),
            (vec![vouched(outcome(None))], None),
            (vec![given_up(), vouched(None)], None),
        ] {
            let cleans = acts.into_iter().enumerate();
            let cleans = cleans.map(|(i, act)| clean(&i.to_string(), act));
            let history = History::fold(cleans, [], []);
            let inside = history.acid.get(&("b".to_owned(), "main".to_owned()));
            assert_eq!(inside.map(|i| i.clean_id.as_str()), marked);
            if let Some(inside) = inside {
                assert_eq!(
                    inside.text,
                    "ACID INSIDE, about 400 times what people notice. Do not brew."
                );
            }
        }
    }

    #[test]
    fn what_was_done_is_told_latest_first_without_what_did_nothing() {
        let household = landed();
        let past = PastClean {
            id: "p".to_owned(),
            brewer_id: "duo".to_owned(),
            day: date(2031, 5, 1),
            note: "by hand".to_owned(),
            bathed: std::collections::BTreeMap::new(),
        };
        let all = done(cleans_of(&household), [past]);
        assert_eq!(
            (all[0].past_id.as_deref(), all[0].text.as_str()),
            (Some("p"), "by hand")
        );
        assert!(all.windows(2).all(|pair| pair[0].day >= pair[1].day));
        let cleans: Vec<_> = all.iter().filter_map(|d| d.clean_id.as_deref()).collect();
        assert!(cleans.contains(&"demo-finished") && cleans.contains(&"demo-unclogged"));
        for nothing in ["demo-half-done", "landed-rehearsal", "landed-stopped"] {
            assert!(!cleans.contains(&nothing), "{nothing}");
        }
    }

    #[test]
    fn a_told_clean_is_one_of_every_side_and_they_stand_by_day() {
        let household = landed();
        let brewers: Vec<_> = household.brewers.iter().map(|k| &k.fact).collect();
        let told = |id: &str, day| PastClean {
            id: id.to_owned(),
            brewer_id: "duo".to_owned(),
            day,
            note: "by hand".to_owned(),
            bathed: std::collections::BTreeMap::new(),
        };
        let told = [told("b", date(2026, 5, 1)), told("a", date(2026, 2, 1))];
        let history = History::fold([], &told, brewers.iter().copied());
        for side in ["main", "pod"] {
            let cleans = &history.cleans[&("duo".to_owned(), side.to_owned())];
            let days: Vec<_> = cleans.iter().map(|c| c.day).collect();
            assert_eq!(days, [date(2026, 2, 1), date(2026, 5, 1)], "{side}");
        }
    }
}

//! A running clean as a list of events: what has happened, what may come next, what is in the machine now.
//!
//! `replay` folds events over the frozen plan; nothing else decides where a clean stands. Undo is an event too. The
//! serialized [`Act`] and [`Event`] are stored for good: variants are only ever added.

use crate::plan::{Doing, Inside, Plan, RINSE, answers, mixes};
use crate::problem::{Code, Problem};
use crate::text;
use jiff::civil::Date;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Baths after which the brewer is somebody else's case.
const MOST_ROUNDS: u32 = 3;

/// What a clean came to, fixed when it ends.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Outcome {
    /// The civil day it ended.
    pub day: Date,
    /// Chalk taken to be left, mg.
    pub left_mg: f64,
    /// Baths run.
    pub rounds: u32,
    /// Rinses counted after the last bath.
    pub rinses: u32,
    /// "White vinegar, 2.5 %, soaked 25 min".
    pub text: String,
    /// Whether somebody overruled a verdict.
    pub overruled: bool,
    /// Whether the bath brought a lot of chalk out (or none); unknown when it was a little or nobody looked.
    #[serde(default)]
    pub showed_chalk: Option<bool>,
    /// Litres × potential that had gone through before, mg, to learn from.
    #[serde(default)]
    pub potential_mg: f64,
}

/// What a person did.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Act {
    /// Finished a step.
    Done {
        /// The step.
        step: String,
    },
    /// Counted one.
    Counted {
        /// The step.
        step: String,
    },
    /// Started the timer of a step.
    Started {
        /// The step.
        step: String,
    },
    /// Answered the questions of a step.
    Answered {
        /// The step.
        step: String,
        /// Question id to answer id.
        answers: BTreeMap<String, String>,
    },
    /// Takes the way the verdict advises.
    Followed,
    /// Goes on against the verdict.
    Overruled,
    /// Wrote a note.
    Noted {
        /// The note.
        text: String,
    },
    /// Stopped for now.
    Paused,
    /// Came back.
    Resumed,
    /// Took the last act back.
    Undone {
        /// The act's event.
        event: String,
    },
    /// Ended the clean.
    Finished {
        /// Filled in when the event is taken in.
        #[serde(default)]
        outcome: Option<Outcome>,
    },
    /// Gave the clean up.
    Abandoned,
    /// Opened a closed clean again.
    Reopened,
}

/// An act with its identity and time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Event {
    /// Made by the device, so that sending twice is harmless.
    pub id: String,
    /// When it reached the server.
    pub at: Timestamp,
    /// When the device says it happened.
    pub device_at: Option<Timestamp>,
    /// What was done.
    pub act: Act,
}

/// A timer on the wall clock.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Timer {
    /// When it was started.
    pub started_at: Timestamp,
    /// When it ends.
    pub ends_at: Timestamp,
}

/// Where a step stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Standing {
    /// Not yet.
    Todo,
    /// Now.
    Current,
    /// Done.
    Done,
}

/// A step's progress.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StepState {
    /// The step.
    pub id: String,
    /// Where it stands.
    pub standing: Standing,
    /// How many were counted.
    pub count: u32,
    /// How many are expected.
    pub target: u32,
    /// Its timer, once started.
    pub timer: Option<Timer>,
}

/// What the answers come to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// Finished.
    Good,
    /// More rinses.
    RinseMore,
    /// The same bath once more, with soak.
    BathAgain,
    /// Unplug for half a minute, then look again.
    ResetLight,
    /// The maker or a repairer.
    Refer,
}

/// A button: what it says and what it does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Choice {
    /// Its label: the act itself.
    pub label: String,
    /// What is sent.
    pub act: Act,
}

/// A note that was taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Note {
    /// When.
    pub at: Timestamp,
    /// What.
    pub text: String,
}

/// How a clean ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Closed {
    /// Finished.
    Finished,
    /// Given up.
    Abandoned,
}

/// Where a clean stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct State {
    /// Progress of each step of the plan.
    pub steps: Vec<StepState>,
    /// Index of the current step; absent when all are done.
    pub current: Option<usize>,
    /// Which bath this is, from 1.
    pub round: u32,
    /// Acid left before any rinse and after each, mg/L, up to the target.
    pub levels_mg_l: Vec<f64>,
    /// The verdict that waits to be followed.
    pub verdict: Option<Verdict>,
    /// What the verdict means, in a sentence.
    pub verdict_text: Option<String>,
    /// What is in the machine.
    pub inside: Inside,
    /// "Acid is inside. Plugged in." for a note or a second person.
    pub inside_text: String,
    /// Whether it is plugged in.
    pub plugged: bool,
    /// Stopped for now.
    pub paused: bool,
    /// Ended.
    pub closed: Option<Closed>,
    /// What it came to, once finished.
    pub outcome: Option<Outcome>,
    /// Notes taken.
    pub notes: Vec<Note>,
    /// The one next act; absent only on questions, which the person answers first.
    pub next: Option<Choice>,
    /// What belongs beside it: fill the reservoir, how much acid is left.
    pub hint: Option<String>,
    /// What else may be done.
    pub others: Vec<Choice>,
    /// The event that undo takes back.
    pub undo: Option<String>,
}

#[derive(Default)]
struct Progress {
    done: Vec<bool>,
    count: Vec<u32>,
    started: Vec<Option<Timestamp>>,
    more_rinses: u32,
    round: u32,
    light_reset: bool,
    verdict: Option<Verdict>,
    showed_chalk: Option<bool>,
    overruled: bool,
    paused: bool,
    closed: Option<Closed>,
    outcome: Option<Outcome>,
    notes: Vec<Note>,
}

/// Where a clean stands after `events`.
///
/// # Errors
/// `DoesNotFit` for the first event that does not follow from those before it.
pub fn replay(plan: &Plan, events: &[Event]) -> Result<State, Problem> {
    let (progress, undo) = fold(plan, events)?;
    Ok(progress.state(plan, undo))
}

/// Takes `event` in after `history`: the event to store, with the outcome filled in, and the state after it.
///
/// # Errors
/// `DoesNotFit` naming what was expected instead; a wrong note or id by its field.
pub fn admit(
    plan: &Plan,
    history: &[Event],
    mut event: Event,
    today: Date,
) -> Result<(Event, State), Problem> {
    text::id("id", &event.id)?;
    if let Act::Noted { text } = &mut event.act {
        *text = text::note("text", text)?;
    }
    let (progress, _) = fold(plan, history)?;
    if let Act::Finished { outcome } = &mut event.act {
        *outcome = Some(progress.come_to(plan, today));
    }
    let mut events = history.to_vec();
    events.push(event.clone());
    let state = replay(plan, &events)?;
    Ok((event, state))
}

fn unfit(message: impl Into<String>) -> Problem {
    Problem::new(Code::DoesNotFit, "act", message)
}

fn fold(plan: &Plan, events: &[Event]) -> Result<(Progress, Option<String>), Problem> {
    let mut effective: Vec<&Event> = Vec::with_capacity(events.len());
    for event in events {
        if let Act::Undone { event: target } = &event.act {
            match effective.last() {
                Some(last) if last.id == *target && undoable(&last.act) => {
                    effective.pop();
                }
                _ => {
                    return Err(unfit(
                        "that act is not the last one any more: look at where the clean stands, then undo again",
                    ));
                }
            }
        } else {
            effective.push(event);
        }
    }
    let mut progress = Progress::new(plan);
    for event in &effective {
        progress.apply(plan, &event.act, event.at)?;
    }
    let undo = effective
        .last()
        .filter(|e| undoable(&e.act) && progress.closed.is_none())
        .map(|e| e.id.clone());
    Ok((progress, undo))
}

/// Closing is taken back by opening again, which is an act of its own.
const fn undoable(act: &Act) -> bool {
    !matches!(act, Act::Finished { .. } | Act::Abandoned | Act::Reopened)
}

impl Progress {
    fn new(plan: &Plan) -> Self {
        let n = plan.steps.len();
        Self {
            done: vec![false; n],
            count: vec![0; n],
            started: vec![None; n],
            round: 1,
            ..Self::default()
        }
    }

    fn current(&self) -> Option<usize> {
        self.done.iter().position(|done| !done)
    }

    fn target(&self, plan: &Plan, i: usize) -> u32 {
        match plan.steps[i].doing {
            Doing::Count { target } if plan.steps[i].id == RINSE => target + self.more_rinses,
            Doing::Count { target } => target,
            _ => 0,
        }
    }

    /// The current step, when it is the one the act names.
    fn at(&self, plan: &Plan, step: &str) -> Result<usize, Problem> {
        let Some(i) = self.current() else {
            return Err(unfit("every step is done: finish the clean"));
        };
        let now = &plan.steps[i];
        if now.id == step {
            Ok(i)
        } else if plan.steps.iter().any(|s| s.id == step) {
            Err(unfit(format!(
                "the clean is at \"{}\" now, not at \"{step}\": nothing was changed",
                now.title
            )))
        } else {
            Err(Problem::new(
                Code::UnknownId,
                "act.step",
                format!("no step \"{step}\" in this plan"),
            ))
        }
    }

    fn apply(&mut self, plan: &Plan, act: &Act, at: Timestamp) -> Result<(), Problem> {
        if let Act::Noted { text } = act {
            self.notes.push(Note {
                at,
                text: text.clone(),
            });
            return Ok(());
        }
        if self.closed.is_some() {
            return match act {
                Act::Reopened => {
                    self.closed = None;
                    self.outcome = None;
                    Ok(())
                }
                _ => Err(unfit("this clean has ended: open it again first")),
            };
        }
        if self.paused {
            return match act {
                Act::Resumed => {
                    self.paused = false;
                    Ok(())
                }
                Act::Abandoned => {
                    self.closed = Some(Closed::Abandoned);
                    Ok(())
                }
                _ => Err(unfit("this clean is stopped for now: carry on first")),
            };
        }
        match act {
            Act::Done { step } => {
                let i = self.at(plan, step)?;
                match plan.steps[i].doing {
                    Doing::Ask { .. } => return Err(unfit("answer the questions first")),
                    Doing::Wait { .. } if self.started[i].is_none() => {
                        return Err(unfit("start the timer first"));
                    }
                    _ => self.done[i] = true,
                }
            }
            Act::Counted { step } => {
                let i = self.at(plan, step)?;
                if !matches!(plan.steps[i].doing, Doing::Count { .. }) {
                    return Err(unfit("nothing is counted at this step"));
                }
                self.count[i] += 1;
            }
            Act::Started { step } => {
                let i = self.at(plan, step)?;
                if !matches!(plan.steps[i].doing, Doing::Wait { .. }) || self.started[i].is_some() {
                    return Err(unfit("this step has no timer waiting to be started"));
                }
                self.started[i] = Some(at);
            }
            Act::Answered {
                step,
                answers: given,
            } => {
                let i = self.at(plan, step)?;
                self.verdict = Some(self.judge(&plan.steps[i].doing, given)?);
                // Chalk seen in any of several baths was there.
                match given.get(answers::SHOWED).map(String::as_str) {
                    Some(answers::CHALK) => self.showed_chalk = Some(true),
                    Some(answers::NOTHING) => self.showed_chalk = self.showed_chalk.or(Some(false)),
                    _ => {}
                }
                if self.verdict == Some(Verdict::Good) {
                    self.done[i] = true;
                }
            }
            Act::Followed => self.follow(plan)?,
            Act::Overruled => {
                let i = self.waiting()?;
                self.verdict = None;
                self.overruled = true;
                self.done[i] = true;
            }
            Act::Paused => self.paused = true,
            Act::Finished { outcome } => {
                if let Some(i) = self.current() {
                    return Err(unfit(format!("\"{}\" is still to do", plan.steps[i].title)));
                }
                self.closed = Some(Closed::Finished);
                self.outcome = outcome.clone();
            }
            Act::Abandoned => self.closed = Some(Closed::Abandoned),
            Act::Resumed => return Err(unfit("this clean is not stopped")),
            Act::Reopened => return Err(unfit("this clean has not ended")),
            Act::Noted { .. } | Act::Undone { .. } => {}
        }
        Ok(())
    }

    fn judge(&self, doing: &Doing, given: &BTreeMap<String, String>) -> Result<Verdict, Problem> {
        let Doing::Ask { questions } = doing else {
            return Err(unfit("nothing is asked at this step"));
        };
        let mut bad = Vec::new();
        for question in questions {
            let field = format!("act.answers.{}", question.id);
            let answer = given.get(&question.id).ok_or_else(|| {
                Problem::new(
                    Code::Missing,
                    &field,
                    format!("answer \"{}\"", question.text),
                )
            })?;
            if !question.answers.iter().any(|a| a.id == *answer) {
                return Err(Problem::new(
                    Code::NotAChoice,
                    field,
                    "give one of the offered answers",
                ));
            }
            if answer == answers::BAD {
                bad.push(question.id.as_str());
            }
        }
        if let Some(name) = given
            .keys()
            .find(|k| !questions.iter().any(|q| q.id == **k))
        {
            return Err(Problem::new(
                Code::UnknownField,
                format!("act.answers.{name}"),
                "nobody asked that",
            ));
        }
        let last_round = self.round >= MOST_ROUNDS;
        // Cloudy water or a light needs another bath, which restarts the rinse; so smell is judged last.
        Ok(
            if bad.contains(&answers::CLEAR) || (bad.contains(&answers::LIGHT) && self.light_reset)
            {
                if last_round {
                    Verdict::Refer
                } else {
                    Verdict::BathAgain
                }
            } else if bad.contains(&answers::LIGHT) {
                Verdict::ResetLight
            } else if bad.contains(&answers::SMELL) {
                Verdict::RinseMore
            } else {
                Verdict::Good
            },
        )
    }

    /// The step at which a verdict waits.
    fn waiting(&self) -> Result<usize, Problem> {
        match (self.verdict, self.current()) {
            (Some(verdict), Some(i)) if verdict != Verdict::Good => Ok(i),
            _ => Err(unfit("no verdict is waiting")),
        }
    }

    fn follow(&mut self, plan: &Plan) -> Result<(), Problem> {
        let verify = self.waiting()?;
        let index = |id: &str| plan.steps.iter().position(|s| s.id == id).unwrap_or(verify);
        match self.verdict.take() {
            Some(Verdict::RinseMore) => {
                let rinse = index(RINSE);
                // Counts beyond the old target were a wish already granted; the new helping comes on top of what was done.
                self.more_rinses +=
                    self.count[rinse].saturating_sub(self.target(plan, rinse)) + plan.rinse.more;
                self.done[rinse] = false;
            }
            Some(Verdict::BathAgain) => {
                self.round += 1;
                self.more_rinses = 0;
                let bath = plan.steps.iter().rposition(mixes).unwrap_or(verify);
                for i in bath..=verify {
                    self.done[i] = false;
                    self.count[i] = 0;
                    self.started[i] = None;
                }
            }
            Some(Verdict::ResetLight) => self.light_reset = true,
            Some(Verdict::Refer) | None => {
                self.overruled = true;
                self.done[verify] = true;
            }
            Some(Verdict::Good) => {}
        }
        Ok(())
    }

    fn rinsed(&self, plan: &Plan) -> u32 {
        plan.steps
            .iter()
            .position(|s| s.id == RINSE)
            .map_or(0, |i| self.count[i])
    }

    fn come_to(&self, plan: &Plan, day: Date) -> Outcome {
        let soaked = plan
            .steps
            .iter()
            .position(|s| matches!(s.doing, Doing::Wait { .. }) && s.id == "soak");
        let soak = soaked.map_or(String::new(), |_| {
            format!(", soaked {}", text::minutes(plan.chosen.soak_minutes))
        });
        let bath = format!("{}, {:.1} %{soak}", plan.bath.agent_name, plan.bath.percent);
        let baths = plan.chosen.baths + self.round - 1;
        Outcome {
            day,
            // Every further bath finds only what the one before it left.
            left_mg: plan.left_mg
                * (plan.left_mg / plan.chalk.mg.max(1.0))
                    .min(1.0)
                    .powi(self.round as i32 - 1),
            rounds: baths,
            rinses: self.rinsed(plan),
            text: if baths > 1 {
                format!("{baths} × {bath}")
            } else {
                bath
            },
            overruled: self.overruled,
            showed_chalk: self.showed_chalk,
            potential_mg: plan.potential_mg,
        }
    }

    fn state(self, plan: &Plan, undo: Option<String>) -> State {
        let current = self.current();
        let begun = |i: usize| self.count[i] > 0 || self.started[i].is_some();
        let machine = match current {
            Some(i) if begun(i) || self.verdict.is_some() => Some(i),
            Some(i) => i.checked_sub(1),
            None => plan.steps.len().checked_sub(1),
        };
        let (inside, plugged) = machine.map_or((Inside::Water, true), |i| {
            (plan.steps[i].inside, plan.steps[i].plugged)
        });
        let rinsed = self.rinsed(plan);
        let level = |n: u32| plan.rinse.level_mg_l(n);
        let rungs = plan.rinse.portions + self.more_rinses;
        let steps = (0..plan.steps.len())
            .map(|i| self.step(plan, i, current))
            .collect();
        let (next, hint) = self.next(plan, current);
        State {
            steps,
            current,
            round: self.round,
            levels_mg_l: (0..=rungs.max(rinsed)).map(level).collect(),
            verdict: self.verdict,
            verdict_text: self.verdict.map(|v| verdict_text(v, plan)),
            inside,
            inside_text: inside_text(inside, plugged, level(rinsed)),
            plugged,
            others: self.others(plan, current),
            next,
            hint,
            paused: self.paused,
            closed: self.closed,
            outcome: self.outcome,
            notes: self.notes,
            undo,
        }
    }

    fn step(&self, plan: &Plan, i: usize, current: Option<usize>) -> StepState {
        let minutes = if let Doing::Wait { minutes } = plan.steps[i].doing {
            minutes
        } else {
            0.0
        };
        StepState {
            id: plan.steps[i].id.clone(),
            standing: match current {
                _ if self.done[i] => Standing::Done,
                Some(c) if c == i => Standing::Current,
                _ => Standing::Todo,
            },
            count: self.count[i],
            target: self.target(plan, i),
            timer: self.started[i].map(|started_at| Timer {
                started_at,
                ends_at: started_at + SignedDuration::from_secs((minutes * 60.0).round() as i64),
            }),
        }
    }

    fn next(&self, plan: &Plan, current: Option<usize>) -> (Option<Choice>, Option<String>) {
        let choice = |label: String, act: Act| Some(Choice { label, act });
        if self.closed.is_some() {
            return (choice("Open this clean again".into(), Act::Reopened), None);
        }
        if self.paused {
            return (choice("Carry on".into(), Act::Resumed), None);
        }
        let Some(i) = current else {
            return (
                choice("Finish and log it".into(), Act::Finished { outcome: None }),
                None,
            );
        };
        if let Some(verdict) = self.verdict.filter(|v| *v != Verdict::Good) {
            let label = match verdict {
                Verdict::RinseMore => format!("Rinse {} more", plan.rinse.more),
                Verdict::BathAgain => "Mix the same bath again, with soak".to_owned(),
                Verdict::ResetLight => "It was unplugged for 30 seconds".to_owned(),
                Verdict::Refer | Verdict::Good => "Put it back and ask the maker".to_owned(),
            };
            return (choice(label, Act::Followed), None);
        }
        let step = &plan.steps[i];
        let id = step.id.clone();
        match &step.doing {
            Doing::Once => (choice(step.act.clone(), Act::Done { step: id }), None),
            Doing::Wait { minutes } if self.started[i].is_none() => (
                choice(
                    format!("Start the timer: {}", text::minutes(*minutes)),
                    Act::Started { step: id },
                ),
                None,
            ),
            Doing::Wait { .. } => (choice(step.act.clone(), Act::Done { step: id }), None),
            Doing::Count { .. } => {
                let (count, target) = (self.count[i], self.target(plan, i));
                if count < target {
                    let label = format!("{} – {} of {target}", step.act, count + 1);
                    (
                        choice(label, Act::Counted { step: id }),
                        self.counting_hint(plan, i),
                    )
                } else {
                    let label = if step.id == RINSE {
                        "Rinsed – go on"
                    } else {
                        "Run through – go on"
                    };
                    (
                        choice(label.to_owned(), Act::Done { step: id }),
                        self.counting_hint(plan, i),
                    )
                }
            }
            Doing::Ask { .. } => (None, None),
        }
    }

    fn counting_hint(&self, plan: &Plan, i: usize) -> Option<String> {
        if plan.steps[i].id != RINSE {
            return None;
        }
        let count = self.count[i];
        let level = plan.rinse.level_mg_l(count);
        let acid = format!(
            "About {} mg/L of acid now; most people notice nothing below {}",
            level.round(),
            plan.rinse.target_mg_l
        );
        let refill = count < self.target(plan, i) && count.is_multiple_of(plan.rinse.per_fill);
        Some(if refill {
            format!("Fill the reservoir with fresh water. {acid}")
        } else {
            acid
        })
    }

    fn others(&self, plan: &Plan, current: Option<usize>) -> Vec<Choice> {
        let mut others = Vec::new();
        if self.closed.is_some() {
            return others;
        }
        let mut add = |label: &str, act: Act| {
            others.push(Choice {
                label: label.to_owned(),
                act,
            })
        };
        if self.paused {
            add("Give this clean up", Act::Abandoned);
            return others;
        }
        if let Some(i) = current {
            let step = plan.steps[i].id.clone();
            match plan.steps[i].doing {
                _ if self.verdict.is_some_and(|v| v != Verdict::Good) => {
                    add("It is good enough: go on", Act::Overruled)
                }
                Doing::Count { .. } if self.count[i] < self.target(plan, i) => {
                    add("Ended early", Act::Done { step });
                }
                Doing::Count { .. } => add("One more", Act::Counted { step }),
                _ => {}
            }
        }
        add("Stop here", Act::Paused);
        others
    }
}

fn verdict_text(verdict: Verdict, plan: &Plan) -> String {
    match verdict {
        Verdict::Good => "All good.".to_owned(),
        Verdict::RinseMore => format!(
            "Somebody notices below the usual line. {} bring it under the strictest published one.",
            text::count(plan.rinse.more, "further rinse", "further rinses")
        ),
        Verdict::BathAgain => "Chalk or old coffee is still coming loose: the same bath once more, with soak. The rinse then starts from the beginning.".to_owned(),
        Verdict::ResetLight => "Unplug for 30 seconds, plug in, switch on. If it still asks, a second full bath follows.".to_owned(),
        Verdict::Refer => format!("{MOST_ROUNDS} baths have not done it. Stop here: ask the maker or a qualified repairer."),
    }
}

fn inside_text(inside: Inside, plugged: bool, level: f64) -> String {
    let what = match inside {
        Inside::Water => "Plain water inside.".to_owned(),
        Inside::Bath => "ACID INSIDE. Do not brew.".to_owned(),
        Inside::Traces => format!(
            "Rinse water with about {} mg/L of acid inside. Do not brew yet.",
            level.round()
        ),
    };
    format!(
        "{what} {}",
        if plugged { "Plugged in." } else { "Unplugged." }
    )
}

#[cfg(test)]
mod tests;

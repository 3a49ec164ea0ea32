//! Where a clean stands, in words and buttons.

use super::progress::Progress;
use super::seen::flow_text;
use super::{Act, Choice, Standing, State, StepState, Timer, Verdict};
use crate::bath::Warning;
use crate::brewer::Needle;
use crate::machine::stands_after;
use crate::plan::{Doing, Inside, Kind, Picture, Plan, Rung, Step, Wish, Work};
use crate::text;

impl Progress {
    pub(super) fn state(self, plan: &Plan, undo: Option<String>) -> State {
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
        let standing = plan.mechanism.as_ref().map(|mechanism| {
            let begun = |i: usize| (self.done[i] || begun(i), self.count[i]);
            stands_after(mechanism, plan, begun).standing()
        });
        let plugged = standing.map_or(plugged, |s| s.plugged);
        let in_mode = standing.is_some_and(|s| s.in_mode);
        let rinsed = self.rinsed(plan);
        let rinse = &plan.rinse;
        let level = |n: u32| rinse.level_mg_l(n);
        let rungs = rinse.portions + self.more_rinses;
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
            verdict_text: self.verdict.map(|_| self.reason.clone()),
            inside,
            inside_text: inside_text(inside, plugged, in_mode, level(rinsed)),
            in_mode,
            kind: current.and_then(|i| plan.steps[i].kind()),
            step: current.map(|i| self.as_done_now(plan, i)),
            corrections: self.offered_corrections(plan),
            further: self.further_baths(plan, current),
            meanwhile: (0..plan.steps.len())
                .filter(|i| {
                    !self.paused && self.closed.is_none() && self.is_open_meanwhile(plan, *i)
                })
                .map(|i| plan.steps[i].id.clone())
                .collect(),
            glass_next: self.glass_next(plan),
            shows_glass: current.is_some_and(|i| shows_glass(plan, &plan.steps[i])),
            flow_text: flow_text(&self.flow, plan),
            flow_is_poor: self
                .flow
                .last()
                .is_some_and(|f| f.is_poor(plan) == Some(true)),
            tool_text: self.tool.map(|t| t.advice().to_owned()),
            late_text: current.and_then(|i| self.late(plan, &plan.steps[i])),
            plugged,
            others: self.others(plan, current),
            next,
            hint,
            paused: self.paused,
            closed: self.closed,
            outcome_text: self.outcome.as_ref().map(super::Outcome::line),
            outcome: self.outcome,
            notes: self.notes,
            glasses: self.glasses,
            flow: self.flow,
            clear: self.clear.into_iter().collect(),
            tool: self.tool,
            undo,
        }
    }

    /// The strength above the bath's own; those that want goggles only once no other is left.
    pub(super) fn stronger<'a>(&self, plan: &'a Plan) -> Option<&'a Rung> {
        let above = |r: &&Rung| r.percent > plan.bath.percent * 1.05;
        let mut mild = plan.ladder.iter().filter(above).filter(|r| !r.is_strong);
        mild.next().or_else(|| plan.ladder.iter().find(above))
    }

    /// What is sent when a verdict is followed. A plan from before further baths were planned when they are wanted goes on in
    /// place.
    fn way_of(&self, plan: &Plan, verdict: Verdict) -> Act {
        let planned = |wish| Act::Planned { wish, stage: None };
        if plan.ladder.is_empty() && plan.work == Work::Descale {
            return Act::Followed;
        }
        match verdict {
            Verdict::BathAgain => planned(same_bath(plan)),
            Verdict::Stronger => {
                let stronger = self.stronger(plan);
                planned(stronger.map_or_else(|| same_bath(plan), bath_of))
            }
            Verdict::ClearAgain => planned(Wish::Needles),
            _ => Act::Followed,
        }
    }

    fn offered_corrections(&self, plan: &Plan) -> Vec<Choice> {
        if self.paused || self.closed.is_some() {
            return Vec::new();
        }
        let offered = self.corrections(plan).into_iter().map(|fact| Choice {
            label: fact.words().to_owned(),
            act: Act::Planned {
                wish: Wish::Corrected { fact },
                stage: None,
            },
        });
        offered.collect()
    }

    /// Further baths that a person may ask for before anything is judged.
    fn further_baths(&self, plan: &Plan, current: Option<usize>) -> Vec<Choice> {
        let looks = |i: usize| plan.steps[i].is(Kind::Look) || plan.steps[i].is(Kind::Verify);
        let waits = self.paused || self.closed.is_some() || self.verdict.is_some();
        if waits || plan.ladder.is_empty() || !current.is_some_and(looks) {
            return Vec::new();
        }
        let planned = |label: String, wish| Choice {
            label,
            act: Act::Planned { wish, stage: None },
        };
        let same = planned("One more bath like this".to_owned(), same_bath(plan));
        let stronger = self.stronger(plan).map(|rung| {
            let cares = match rung.is_strong {
                true => ", with gloves and goggles",
                false => "",
            };
            let label = format!("A stronger bath: {}{cares}", rung_text(rung));
            planned(label, bath_of(rung))
        });
        [same].into_iter().chain(stronger).collect()
    }

    /// The step as it is done now.
    fn as_done_now(&self, plan: &Plan, i: usize) -> Step {
        let step = &plan.steps[i];
        match step.doing {
            _ if matches!(step.doing, Doing::Clear { .. }) => Step {
                figure: Some(self.cleared_text(step)),
                ..step.clone()
            },
            _ if step.is(Kind::Rinse) => Step {
                figure: Some(format!("{} of {}", self.count[i], self.target(plan, i))),
                ..step.clone()
            },
            _ if step.is(Kind::Soak) => Step {
                figure: Some(text::minutes(self.wait_minutes(plan, i))),
                ..step.clone()
            },
            _ => step.clone(),
        }
    }

    fn step(&self, plan: &Plan, i: usize, current: Option<usize>) -> StepState {
        StepState {
            id: plan.steps[i].id.clone(),
            standing: match current {
                _ if self.done[i] => Standing::Done,
                Some(c) if c == i => Standing::Current,
                _ => Standing::Todo,
            },
            count: self.count[i],
            target: self.target(plan, i),
            timer: self.started[i]
                .zip(self.ends_at(plan, i))
                .map(|(started_at, ends_at)| Timer {
                    started_at,
                    ends_at,
                }),
        }
    }

    fn next(&self, plan: &Plan, current: Option<usize>) -> (Option<Choice>, Option<String>) {
        let choice = |label: String, act: Act| Some(Choice { label, act });
        if self.closed.is_some() {
            return (None, None);
        }
        if self.paused {
            return (choice("Carry on".into(), Act::Resumed), None);
        }
        let Some(i) = current else {
            return (
                choice(
                    match plan.work {
                        Work::Rehearsal => "End the rehearsal",
                        Work::Descale | Work::Needles => "Finish and log it",
                    }
                    .into(),
                    Act::Finished { outcome: None },
                ),
                None,
            );
        };
        if let Some(verdict) = self.verdict.filter(|v| *v != Verdict::Good) {
            let label = match verdict {
                Verdict::RinseMore => format!("Rinse {} more", plan.rinse.more),
                Verdict::BathAgain if self.soaked => "Mix the same bath once more".to_owned(),
                Verdict::BathAgain => "Mix the same bath again, with soak".to_owned(),
                Verdict::Stronger => match self.stronger(plan) {
                    Some(rung) => format!("Mix the stronger bath: {}", rung_text(rung)),
                    None => "Mix the stronger bath".to_owned(),
                },
                Verdict::ClearAgain => "Clear the needles again".to_owned(),
                Verdict::SmellAgain => "Fresh air was had: smell again".to_owned(),
                Verdict::ResetLight => "It was unplugged for 30 seconds".to_owned(),
                Verdict::Refer | Verdict::Good => "Put it back and ask the maker".to_owned(),
            };
            return (choice(label, self.way_of(plan, verdict)), None);
        }
        let step = &plan.steps[i];
        let id = step.id.clone();
        match &step.doing {
            Doing::Once | Doing::Measure { .. } => (
                choice(step.act.clone(), Act::Done { step: id }),
                self.not_rinsed_hint(plan, step),
            ),
            Doing::Clear { needles } => (self.next_spot(needles, step), None),
            Doing::Wait { .. } if self.started[i].is_none() => (
                choice(
                    format!(
                        "Start the timer: {}",
                        text::minutes(self.wait_minutes(plan, i))
                    ),
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
                    let label = if step.is(Kind::Rinse) {
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
            Doing::Ask { .. } => (None, self.likely_hint(plan, step)),
        }
    }

    /// How many baths were to be expected, where it is decided whether another follows.
    fn likely_hint(&self, plan: &Plan, step: &Step) -> Option<String> {
        (step.is(Kind::Look) && plan.likely_baths > 1).then(|| {
            format!(
                "This was bath {} of about {} that this much chalk takes.",
                self.round, plan.likely_baths
            )
        })
    }

    /// The next place to clear, or on when all are.
    fn next_spot(&self, needles: &[Needle], step: &Step) -> Option<Choice> {
        let open = needles.iter().find_map(|needle| {
            let spot = needle.spots().find(|s| !self.clear.contains(s))?;
            let name = &needle.name;
            let place = match (spot.hole, needle.holes_deg.len()) {
                (Some(_), 1) => name.clone(),
                (Some(hole), n) => format!("{name}: hole {} of {n}", hole + 1),
                (None, _) => format!("{name}: opening below it"),
            };
            Some(Choice {
                label: format!("{place} is clear"),
                act: Act::Cleared {
                    step: step.id.clone(),
                    spot,
                    clear: true,
                },
            })
        });
        open.or_else(|| {
            Some(Choice {
                label: step.act.clone(),
                act: Act::Done {
                    step: step.id.clone(),
                },
            })
        })
    }

    /// "2 of 6 clear".
    fn cleared_text(&self, step: &Step) -> String {
        let Doing::Clear { needles } = &step.doing else {
            return String::new();
        };
        let spots = needles.iter().flat_map(Needle::spots);
        format!("{} of {} clear", self.clear.len(), spots.count())
    }

    fn counting_hint(&self, plan: &Plan, i: usize) -> Option<String> {
        if self.rinse_step(plan) != Some(i) {
            return None;
        }
        let count = self.count[i];
        if plan.work == Work::Rehearsal {
            return None;
        }
        let rinse = &plan.rinse;
        let level = rinse.level_mg_l(count);
        let acid = format!(
            "About {} mg/L of acid now; most people notice nothing below {}",
            text::roughly(level),
            rinse.target_mg_l
        );
        // From where the machine last asked for water, or from the start.
        let filled = self.refilled_at.last().copied().unwrap_or(0);
        // What one fill gives is the step's own, where some of it goes another way.
        let per_fill = match plan.steps[i].per_fill {
            0 => rinse.per_fill,
            own => own,
        };
        let ran_empty = (count - filled.min(count)).is_multiple_of(per_fill);
        let refill = plan.steps[i].refill.as_deref();
        Some(if count < self.target(plan, i) && ran_empty {
            format!(
                "{} {acid}",
                refill.unwrap_or("Fill the reservoir with fresh water.")
            )
        } else {
            acid
        })
    }

    /// A filter must not go back into acid, whoever ended the rinse early.
    fn not_rinsed_hint(&self, plan: &Plan, step: &Step) -> Option<String> {
        let rinse = &plan.rinse;
        let level = rinse.level_mg_l(self.rinsed(plan));
        let is_short = plan.work == Work::Descale && level > rinse.target_mg_l;
        (step.is(Kind::PutBack) && is_short).then(|| {
            format!(
                "The rinse ended early: about {} mg/L of acid are still inside. Leave the filter out, and rinse on before anybody drinks from it.",
                text::roughly(level)
            )
        })
    }

    /// What it means when a timer has run over.
    fn late(&self, plan: &Plan, step: &Step) -> Option<String> {
        if !matches!(step.doing, Doing::Wait { .. }) {
            return None;
        }
        let bath = &plan.bath;
        let drops = [Warning::CitrateMayDrop, Warning::CitrateSludge];
        let text = match plan.work {
            Work::Rehearsal => "It only waits for you.",
            _ if step.is(Kind::Programme) => {
                "It has ended or is about to; it waits, and nothing boils over. Empty the vessel before anything else."
            }
            _ if bath.warnings.iter().any(|w| drops.contains(w)) => {
                "White sludge may drop out of this bath while it stands: run it out now."
            }
            _ if bath.warnings.contains(&Warning::Strong) => {
                "This bath is strong: do not let it stand longer than planned."
            }
            _ => "A longer soak does no harm.",
        };
        Some(text.to_owned())
    }

    fn others(&self, plan: &Plan, current: Option<usize>) -> Vec<Choice> {
        let mut others = Vec::new();
        let mut add = |label: &str, act: Act| {
            others.push(Choice {
                label: label.to_owned(),
                act,
            })
        };
        if self.closed.is_some() {
            add("Open this clean again", Act::Reopened);
            return others;
        }
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
                Doing::Count { .. } => {
                    let is_short = self.count[i] < self.target(plan, i);
                    if !is_short {
                        add("One more", Act::Counted { step: step.clone() });
                    }
                    if self.may_want_water(plan, i) {
                        add("It asks for water", Act::WantsWater { step: step.clone() });
                    }
                    if is_short && !plan.steps[i].is(Kind::Run) {
                        add("Ended early", Act::Done { step });
                    }
                }
                Doing::Clear { ref needles } => {
                    let spots = needles.iter().flat_map(Needle::spots);
                    let left = spots.filter(|s| !self.clear.contains(s)).count();
                    if left > 0 {
                        add(&format!("Leave {left} and go on"), Act::Done { step });
                    }
                }
                _ => {}
            }
        }
        add("Stop here", Act::Paused);
        others
    }
}

/// A glass is there to look at while it stands in the machine and when it has come.
fn shows_glass(plan: &Plan, step: &Step) -> bool {
    let comes = step.is(Kind::Run) || step.is(Kind::Soak);
    step.picture == Some(Picture::Glasses) || (plan.work == Work::Descale && comes)
}

/// The same bath once more.
fn same_bath(plan: &Plan) -> Wish {
    Wish::Bath {
        agent_id: plan.chosen.agent_id.clone(),
        recipe: plan.chosen.recipe,
    }
}

fn bath_of(rung: &Rung) -> Wish {
    Wish::Bath {
        agent_id: rung.agent_id.clone(),
        recipe: rung.recipe,
    }
}

/// "White vinegar, neat, 5.0 %".
fn rung_text(rung: &Rung) -> String {
    format!("{}, {}, {:.1} %", rung.agent_name, rung.label, rung.percent)
}

fn inside_text(inside: Inside, plugged: bool, in_mode: bool, level: f64) -> String {
    let what = match inside {
        Inside::Water => "Plain water inside.".to_owned(),
        Inside::Bath => "ACID INSIDE. Do not brew.".to_owned(),
        Inside::Traces => format!(
            "Rinse water with about {} mg/L of acid inside. Do not brew yet.",
            text::roughly(level)
        ),
    };
    let power = match (plugged, in_mode) {
        (true, true) => "Plugged in and in its cleaning mode: leave the plug and the switch alone.",
        (true, false) => "Plugged in.",
        (false, _) => "Unplugged.",
    };
    format!("{what} {power}")
}

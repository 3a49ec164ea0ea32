//! Where a clean stands, in words and buttons.

use super::progress::{Progress, after};
use super::seen::flow_text;
use super::{AcidLeft, Forgotten, Standing, State, StepState, Timer, Verdict};
use jiff::Timestamp;
use murlo_base::text;
use murlo_brewer::Needle;
use murlo_brewer::bath::{GOGGLES_PERCENT, Warning};
use murlo_brewer::rinse::times_noticed;
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::rehearse::stands_after;
use murlo_plan::{Doing, Inside, Kind, Picture, Plan, Step, Work};

/// How a machine stands in a clean.
#[derive(Clone, Copy)]
pub(super) struct StandsSo {
    /// What is in it.
    pub(super) inside: Inside,
    /// Whether it is plugged in.
    pub(super) plugged: bool,
    /// Whether it is in its cleaning mode.
    pub(super) in_mode: bool,
    /// Whether its water filter is in it; not known of cleans that were planned before machines were simulated.
    pub(super) filter_in: bool,
}

impl Progress {
    pub(super) fn state(self, plan: &Plan, undo: Option<String>) -> State {
        let current = self.current();
        let (rinsed, acid) = (self.rinsed(plan), self.acid_left(plan));
        let StandsSo {
            inside,
            plugged,
            in_mode,
            filter_in,
        } = self.machine(plan, acid.is_some());
        let rinse = &plan.rinse;
        let level = |n: u32| rinse.level_mg_l(n);
        let rungs = rinse.portions + self.more_rinses;
        let steps = (0..plan.steps.len())
            .map(|i| self.step(plan, i, current))
            .collect();
        State {
            poured: self.poured.clone(),
            steps,
            current,
            round: self.round,
            levels_mg_l: (0..=rungs.max(rinsed)).map(level).collect(),
            verdict: self.verdict,
            verdict_text: self.verdict.map(|_| self.reason.clone()),
            inside,
            inside_text: inside_text(
                inside,
                plugged,
                in_mode,
                (level(rinsed), rinse.target_mg_l),
                acid.as_ref(),
            ),
            in_mode,
            filter_in,
            kind: current.and_then(|i| plan.steps[i].kind()),
            step: current.map(|i| self.as_done_now(plan, i)),
            corrections: self.offered_corrections(plan),
            asked: self.asked(plan),
            further: self.further_baths(plan, current),
            may_be_poured_otherwise: !self.paused
                && self.closed.is_none()
                && self.may_be_poured_otherwise(plan),
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
            forgotten: current.and_then(|i| self.forgotten(plan, i)),
            asks_inside: self.asks_inside(plan),
            plugged,
            others: self.others(plan, current),
            next: self.next(plan, current),
            finish: self.finish(plan, current),
            acid_left: self
                .acid_left(plan)
                .filter(|_| self.closed.is_some())
                .map(|acid| acid.times()),
            done_about: self.done_about(plan),
            hint: current.and_then(|i| self.hint(plan, i)),
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

    /// How the machine stands by the steps that were done.
    pub(super) fn stands(&self, plan: &Plan) -> StandsSo {
        let begun = |i: usize| self.count[i] > 0 || self.started[i].is_some();
        let machine = match self.current() {
            Some(i) if begun(i) || self.verdict.is_some() => Some(i),
            Some(i) => i.checked_sub(1),
            None => plan.steps.len().checked_sub(1),
        };
        let (inside, plugged) = machine.map_or((Inside::Water, true), |i| {
            (plan.steps[i].inside, plan.steps[i].plugged)
        });
        let standing = plan.mechanism.as_ref().map(|mechanism| {
            let mut machine = stands_after(mechanism, plan, self.followed(plan));
            machine.mode_ends_where(!self.refilled_at.is_empty(), self.light_is_out());
            machine.standing()
        });
        let plugged = standing.map_or(plugged, |s| s.plugged);
        StandsSo {
            inside,
            plugged,
            in_mode: standing.is_some_and(|s| s.in_mode),
            filter_in: standing.is_some_and(|s| s.filter_in),
        }
    }

    /// The same with what somebody found since.
    fn machine(&self, plan: &Plan, has_acid: bool) -> StandsSo {
        let stands = self.stands(plan);
        let plugged = self.plug_found().unwrap_or(stands.plugged);
        // Put back early, or filled by somebody else, it is not plain water that is inside.
        let inside = match stands.inside {
            Inside::Water if has_acid => Inside::Traces,
            inside @ (Inside::Water | Inside::Bath | Inside::Traces) => inside,
        };
        StandsSo {
            inside,
            plugged,
            // The mode lives on power.
            in_mode: stands.in_mode && plugged,
            filter_in: stands.filter_in,
        }
    }

    /// Whether somebody has looked after the rinse, and it does not ask any more.
    fn light_is_out(&self) -> bool {
        self.answered.get(&QuestionId::Light) == Some(&AnswerId::Good)
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
            murlo_plan::Doing::Once
            | murlo_plan::Doing::Count { .. }
            | murlo_plan::Doing::Wait { .. }
            | murlo_plan::Doing::Ask { .. }
            | murlo_plan::Doing::Clear { .. }
            | murlo_plan::Doing::Measure { .. } => step.clone(),
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

    /// "2 of 6 clear".
    fn cleared_text(&self, step: &Step) -> String {
        let Doing::Clear { needles } = &step.doing else {
            return String::new();
        };
        let spots = needles.iter().flat_map(Needle::spots);
        format!("{} of {} clear", self.clear.len(), spots.count())
    }

    /// When everything will be done, step by step from the last act on.
    fn done_about(&self, plan: &Plan) -> Option<Timestamp> {
        if self.closed.is_some() || self.paused {
            return None;
        }
        self.current()?;
        let mut at = self.last_at?;
        let waits = |id: &str| {
            plan.steps
                .iter()
                .zip(&self.done)
                .any(|(s, done)| s.id == id && !done)
        };
        for (i, step) in plan
            .steps
            .iter()
            .enumerate()
            .filter(|(i, _)| !self.done[*i])
        {
            // What is done while something else runs takes no time of its own.
            if step.during.as_deref().is_some_and(waits) {
                continue;
            }
            if let Some(ends) = self.ends_at(plan, i) {
                at = at.max(ends);
                continue;
            }
            let left = match self.target(plan, i) {
                0 => 1.0,
                target => 1.0 - f64::from(self.count[i].min(target)) / f64::from(target),
            };
            // A count that was raised meanwhile takes so much longer.
            let planned = match step.doing {
                Doing::Count { target } if target > 0 => {
                    f64::from(self.target(plan, i)) / f64::from(target)
                }
                Doing::Once
                | Doing::Count { .. }
                | Doing::Wait { .. }
                | Doing::Ask { .. }
                | Doing::Clear { .. }
                | Doing::Measure { .. } => 1.0,
            };
            let free = match step.doing {
                Doing::Wait { .. } => self.wait_minutes(plan, i),
                Doing::Once
                | Doing::Count { .. }
                | Doing::Ask { .. }
                | Doing::Clear { .. }
                | Doing::Measure { .. } => step.hands_free_min,
            };
            at = after(
                at,
                left * planned * (step.hands_on_min + step.near_min + free),
            );
        }
        Some(after(at, self.further_likely(plan) * plan.bath_min()))
    }

    /// How many further baths are likely: as planned until the last look, which decides.
    fn further_likely(&self, plan: &Plan) -> f64 {
        let looks_again = plan.steps.iter().zip(&self.done);
        let looks_again = looks_again.filter(|(s, done)| s.is(Kind::Look) && !**done);
        f64::from(plan.further_likely(self.round, looks_again.count() as u32))
    }

    /// What belongs beside the act.
    fn hint(&self, plan: &Plan, i: usize) -> Option<String> {
        let asks = self.verdict.is_some_and(|v| v != Verdict::Good);
        if self.closed.is_some() || self.paused || asks {
            return None;
        }
        let step = &plan.steps[i];
        if let Some(found) = self.found_hint(plan, i) {
            return Some(found);
        }
        match step.doing {
            Doing::Measure { .. } if step.is(Kind::After) => {
                Some("Does it flow now, in a steady stream? If not, clear again.".to_owned())
            }
            Doing::Once | Doing::Measure { .. } => self.not_rinsed_hint(plan, step),
            Doing::Count { .. } => self.counting_hint(plan, i),
            Doing::Ask { .. } => self.likely_hint(plan, step),
            Doing::Wait { .. } | Doing::Clear { .. } => None,
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
        let acid = format!("Acid left: {}", times_noticed(level, rinse.target_mg_l));
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

    /// A filter must not go back into acid nor the note come off, whoever ended the rinse early or went on although acid was noticed.
    fn not_rinsed_hint(&self, plan: &Plan, step: &Step) -> Option<String> {
        let acid = self.acid_left(plan).filter(|_| step.is(Kind::PutBack))?;
        let why = match plan.rinse.level_mg_l(self.rinsed(plan)) > acid.target_mg_l {
            true => format!("The rinse ended early: {} is still inside.", acid.times()),
            false => "Somebody noticed acid.".to_owned(),
        };
        Some(format!(
            "{why} Leave the filter out and the note on, and rinse on before anybody drinks from it."
        ))
    }

    /// A soak that nobody came back to for hours, whatever it was planned to last.
    fn forgotten(&self, plan: &Plan, i: usize) -> Option<Forgotten> {
        let is_soak = plan.work == Work::Descale && plan.steps[i].is(Kind::Soak);
        let ends = self.ends_at(plan, i).filter(|_| is_soak)?;
        Some(Forgotten {
            at: after(ends, FORGOTTEN_MIN),
            text: "It was forgotten: the bath is cold and spent by now. Run it out before anything else, look at what it brought, and rinse one portion more than planned.".to_owned(),
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
            _ if bath.percent >= GOGGLES_PERCENT => {
                "This bath is strong: do not let it stand longer than planned."
            }
            Work::Descale | Work::Needles | Work::Upkeep => "A longer soak does no harm.",
        };
        Some(text.to_owned())
    }
}

/// A glass is there to look at while it stands in the machine and when it has come.
fn shows_glass(plan: &Plan, step: &Step) -> bool {
    let comes = step.is(Kind::Run) || step.is(Kind::Soak);
    step.picture == Some(Picture::Glasses) || (plan.work == Work::Descale && comes)
}

/// A soak that is late by so many minutes was forgotten: over night, or a day at work. Judged.
const FORGOTTEN_MIN: f64 = 300.0;

/// From here on it is acid rather than rinse water, times what people notice.
const STILL_ACID: f64 = 20.0;

fn inside_text(
    inside: Inside,
    plugged: bool,
    in_mode: bool,
    (level, target): (f64, f64),
    acid: Option<&AcidLeft>,
) -> String {
    let what = match inside {
        Inside::Water => "Plain water inside.".to_owned(),
        Inside::Bath => "ACID INSIDE. Do not brew.".to_owned(),
        Inside::Traces if acid.is_some_and(|a| a.mg_l > STILL_ACID * a.target_mg_l) => format!(
            "ACID INSIDE, {}. Do not brew.",
            acid.map_or_else(String::new, AcidLeft::times)
        ),
        Inside::Traces => format!(
            "Rinse water inside, its acid {}. Do not brew yet.",
            times_noticed(level, target)
        ),
    };
    let power = match (plugged, in_mode) {
        (true, true) => "Plugged in and in its cleaning mode: leave the plug and the switch alone.",
        (true, false) => "Plugged in.",
        (false, _) => "Unplugged.",
    };
    format!("{what} {power}")
}

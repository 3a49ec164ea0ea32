//! What a person is offered to do: the one next act, what ends the step, and what else there is; what can hardly be meant is
//! asked once more, with its consequence in figures.

use super::progress::{Progress, after, in_this_bath};
use super::{Act, Ask, Asked, AskedAnswer, Choice, Verdict};
use murlo_base::text;
use murlo_brewer::Needle;
use murlo_plan::{Doing, Kind, Plan, Rung, Step, Wish, Work};

/// A wait that is left before this share of its time was not meant to end.
const NEARLY_OVER: f64 = 0.9;
/// A count that differs from the brewer's figure by more than this is a slip of a finger, or of the machine.
pub(super) const PLAUSIBLE: std::ops::RangeInclusive<f64> = 0.5..=2.0;

impl Progress {
    /// The one next act; none on questions, and once the clean has ended.
    pub(super) fn next(&self, plan: &Plan, current: Option<usize>) -> Option<Choice> {
        if self.closed.is_some() {
            return None;
        }
        if self.paused {
            return Some(Choice::new("Carry on", Act::Resumed));
        }
        let Some(i) = current else {
            return Some(
                self.rinse_on(plan)
                    .unwrap_or_else(|| self.finish_clean(plan)),
            );
        };
        if let Some(verdict) = self.verdict.filter(|v| *v != Verdict::Good) {
            let label = self.way_label(plan, &plan.steps[i], verdict);
            return Some(Choice::new(label, self.way_of(plan, verdict)));
        }
        if self.is_rinsed_first(plan)
            && let Some(rinse) = self.rinse_out(plan)
        {
            // Whoever knows better still ends the step.
            return Some(rinse);
        }
        self.act_of(plan, i)
    }

    /// What step `i` itself waits for; none on questions.
    fn act_of(&self, plan: &Plan, i: usize) -> Option<Choice> {
        let step = &plan.steps[i];
        let done = || Act::Done {
            step: step.id.clone(),
        };
        match &step.doing {
            Doing::Once if step.is(Kind::PutBack) => self
                .rinse_on(plan)
                .or_else(|| Some(Choice::new(step.act.clone(), done()))),
            Doing::Once | Doing::Measure { .. } => Some(Choice::new(step.act.clone(), done())),
            Doing::Clear { needles } => Some(self.next_spot(needles, step)),
            Doing::Wait { .. } if self.started[i].is_none() => Some(Choice::new(
                format!(
                    "Start the timer: {}",
                    text::minutes(self.wait_minutes(plan, i))
                ),
                Act::Started {
                    step: step.id.clone(),
                },
            )),
            Doing::Wait { .. } => {
                let ask = self.ask_early(plan, i);
                Some(Choice::new(step.act.clone(), done()).asking(ask))
            }
            Doing::Count { .. } => {
                let (count, target) = (self.count[i], self.target(plan, i));
                if count >= target {
                    let label = match step.is(Kind::Rinse) {
                        true => "Rinsed – go on",
                        false => "Run through – go on",
                    };
                    return Some(Choice::new(label, done()));
                }
                let label = format!("{} – {} of {target}", step.act, count + 1);
                let counted = Act::Counted {
                    step: step.id.clone(),
                };
                Some(Choice::new(label, counted))
            }
            Doing::Ask { .. } => None,
        }
    }

    /// What ends the current step.
    pub(super) fn finish(&self, plan: &Plan, current: Option<usize>) -> Option<Choice> {
        if self.closed.is_some() || self.paused {
            return None;
        }
        let Some(i) = current else {
            return Some(self.finish_clean(plan));
        };
        if self.verdict.is_some_and(|v| v != Verdict::Good) {
            return None;
        }
        let step = &plan.steps[i];
        let done = |label: String| {
            let act = Act::Done {
                step: step.id.clone(),
            };
            Choice::new(label, act)
        };
        match &step.doing {
            Doing::Once => {
                let put_back = step.is(Kind::PutBack);
                let ask = self.ask_acid(plan).filter(|_| put_back);
                Some(done(step.act.clone()).asking(ask))
            }
            Doing::Measure { .. } => Some(done(step.act.clone())),
            Doing::Wait { .. } => self.started[i].and_then(|_| self.act_of(plan, i)),
            Doing::Count { .. } if self.count[i] >= self.target(plan, i) => self.act_of(plan, i),
            // A bath is ended by the machine or by its count.
            Doing::Count { .. } if step.is(Kind::Run) => None,
            Doing::Count { .. } => {
                let ask = match step.is(Kind::Rinse) {
                    true => self.ask_short_rinse(plan, i),
                    false => None,
                };
                Some(done("Ended early".to_owned()).asking(ask))
            }
            Doing::Clear { needles } => {
                let spots = needles.iter().flat_map(Needle::spots);
                let left = spots.filter(|s| !self.clear.contains(s)).count();
                Some(match left {
                    0 => done(step.act.clone()),
                    left => done(format!("Leave {left} and go on")),
                })
            }
            Doing::Ask { .. } => None,
        }
    }

    /// What else may be done.
    pub(super) fn others(&self, plan: &Plan, current: Option<usize>) -> Vec<Choice> {
        let mut others = Vec::new();
        if self.closed.is_some() {
            others.push(Choice::new("Open this clean again", Act::Reopened));
            return others;
        }
        if self.paused {
            others.extend(self.rinse_out(plan));
            let give_up = Choice::new("Give this clean up", Act::give_up());
            others.push(give_up.asking(self.ask_acid(plan)));
            return others;
        }
        let step_act = |act: fn(String) -> Act, i: usize| act(plan.steps[i].id.clone());
        match current {
            Some(_) if self.verdict.is_some_and(|v| v != Verdict::Good) => {
                others.push(Choice::new("It is good enough: go on", Act::Overruled));
            }
            Some(i) => {
                let is_count = matches!(plan.steps[i].doing, Doing::Count { .. });
                if is_count && self.count[i] >= self.target(plan, i) {
                    let counted = step_act(|step| Act::Counted { step }, i);
                    others.push(Choice::new("One more", counted));
                }
                if is_count && self.may_want_water(plan, i) {
                    let wants = step_act(|step| Act::WantsWater { step }, i);
                    let ask = self.ask_odd_count(plan, i);
                    others.push(Choice::new("It asks for water", wants).asking(ask));
                }
                let finish = self.finish(plan, current);
                let next = self.next(plan, current);
                let differs = |f: &Choice| next.as_ref().is_none_or(|n| n.act != f.act);
                others.extend(finish.filter(differs));
                others.extend(self.leaving_out(plan, i));
                if plan.steps[i].is(Kind::After) {
                    // Also where nobody knows how it flows when it is well.
                    let act = Act::Planned {
                        wish: Wish::Needles,
                        stage: None,
                    };
                    others.push(Choice::new("It hardly flows: clear again", act));
                }
            }
            None if self.acid_left(plan).is_some() => others.push(self.finish_clean(plan)),
            None => {}
        }
        others.push(Choice::new("Stop here", Act::Paused));
        others
    }

    fn finish_clean(&self, plan: &Plan) -> Choice {
        let label = match plan.work {
            Work::Rehearsal => "End the rehearsal",
            Work::Descale | Work::Needles | Work::Upkeep => "Finish and log it",
        };
        Choice::new(label, Act::Finished { outcome: None }).asking(self.ask_acid(plan))
    }

    /// Rinsing on, where a rinse that was ended early left acid inside.
    fn rinse_on(&self, plan: &Plan) -> Option<Choice> {
        self.acid_left(plan)?;
        let act = Act::Planned {
            wish: Wish::Rinse,
            stage: None,
        };
        Some(Choice::new("Rinse on first", act))
    }

    /// The short way out of a bath: what is inside is rinsed out, and nothing more is run.
    fn rinse_out(&self, plan: &Plan) -> Option<Choice> {
        let label = "Rinse it out and end";
        self.rinse_on(plan).map(|choice| Choice {
            label: label.to_owned(),
            ..choice
        })
    }

    /// A wait that has hardly begun.
    fn ask_early(&self, plan: &Plan, i: usize) -> Option<Ask> {
        let started = self.started[i]?;
        let ends = self.ends_at(plan, i)?;
        let planned = ends.duration_since(started).as_secs_f64() / 60.0;
        let minutes = text::minutes(planned);
        let step = &plan.steps[i];
        let text = match step.kind() {
            Some(Kind::Programme) => format!(
                "The programme takes about {minutes}. Only go on when the machine has stopped by itself."
            ),
            Some(Kind::Cool) => {
                format!("Needles stay hot for about {minutes}. Only go on when you can hold them.")
            }
            _ if plan.work == Work::Upkeep => {
                format!("{minutes} are planned, and hardly any of them have passed.")
            }
            _ => format!(
                "{minutes} of soak are planned. It is written down as long as it really was, and chalk stays in proportion."
            ),
        };
        Some(Ask {
            text,
            sure: "Yes, go on now".to_owned(),
            until: Some(after(started, planned * NEARLY_OVER)),
        })
    }

    fn ask_short_rinse(&self, plan: &Plan, i: usize) -> Option<Ask> {
        let acid = self.acid_left(plan)?;
        Some(Ask {
            text: format!(
                "{} of {} rinses are done: {} is still inside.",
                self.count[i],
                self.target(plan, i),
                acid.times()
            ),
            sure: "End the rinse here".to_owned(),
            until: None,
        })
    }

    fn ask_acid(&self, plan: &Plan) -> Option<Ask> {
        let acid = self.acid_left(plan)?;
        Some(Ask {
            text: format!(
                "Acid stays inside, {}. The brewer stays marked \"do not brew\" until it is rinsed.",
                acid.times()
            ),
            sure: "Leave the acid inside".to_owned(),
            until: None,
        })
    }

    /// A machine that asks for water far sooner or later than its reservoir lasts.
    fn ask_odd_count(&self, plan: &Plan, i: usize) -> Option<Ask> {
        let (came, expected) = self.came_of(plan, i);
        let share = f64::from(came) / f64::from(expected.max(1));
        (!PLAUSIBLE.contains(&share)).then(|| Ask {
            text: format!(
                "One fill gives about {} here, and {} came. If the machine really asks, this is kept, but nothing is learned from it.",
                text::count(expected, "dispense", "dispenses"),
                came
            ),
            sure: "It really asks for water".to_owned(),
            until: None,
        })
    }

    /// Dispenses that came of this fill, and how many were to be expected.
    pub(super) fn came_of(&self, plan: &Plan, i: usize) -> (u32, u32) {
        let count = self.count[i];
        if plan.steps[i].is(Kind::Run) {
            let earlier = in_this_bath(plan, i).filter(|j| plan.steps[*j].is(Kind::Run));
            let earlier: u32 = earlier.map(|j| self.count[j]).sum();
            return (1 + earlier + count, plan.dispensing.count);
        }
        let since = self.refilled_at.last().copied().unwrap_or(0);
        (count.saturating_sub(since), plan.rinse.per_fill)
    }

    /// Rinses that are still to do once more are wanted.
    fn rinses_to_come(&self, plan: &Plan) -> u32 {
        let undone = self
            .rinse_step(plan)
            .map_or(0, |i| self.target(plan, i).saturating_sub(self.count[i]));
        match undone {
            0 => plan.rinse.more,
            undone => undone,
        }
    }

    fn way_label(&self, plan: &Plan, step: &Step, verdict: Verdict) -> String {
        match verdict {
            Verdict::RinseMore => format!("Rinse {} more", self.rinses_to_come(plan)),
            Verdict::BathAgain if self.soaked => "Mix the same bath once more".to_owned(),
            Verdict::BathAgain => "Mix the same bath again, with soak".to_owned(),
            Verdict::Stronger => match self.stronger(plan) {
                Some(rung) => format!("Mix the stronger bath: {}", rung_text(rung)),
                None => "Mix the stronger bath".to_owned(),
            },
            Verdict::ClearAgain => "Clear the needles again".to_owned(),
            Verdict::SmellAgain => "Fresh air was had: smell again".to_owned(),
            Verdict::ResetLight => "It was unplugged for 30 seconds".to_owned(),
            Verdict::Refer if step.is(Kind::Look) => "Rinse it out, then ask the maker".to_owned(),
            Verdict::Refer | Verdict::Good => "Put it back and ask the maker".to_owned(),
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
            Verdict::Good
            | Verdict::RinseMore
            | Verdict::SmellAgain
            | Verdict::ResetLight
            | Verdict::Refer => Act::Followed,
        }
    }

    pub(super) fn offered_corrections(&self, plan: &Plan) -> Vec<Choice> {
        if self.paused || self.closed.is_some() {
            return Vec::new();
        }
        let offered = self.corrections(plan).into_iter().map(|fact| Choice {
            ..Choice::new(
                fact.words(),
                Act::Planned {
                    wish: Wish::Corrected { fact },
                    stage: None,
                },
            )
        });
        offered.collect()
    }

    /// What nobody has told of this brewer and can be seen now.
    pub(super) fn asked(&self, plan: &Plan) -> Vec<Asked> {
        let told = |fact| Act::Planned {
            wish: Wish::Corrected { fact },
            stage: None,
        };
        let asked = self.open(plan).map(|open| Asked {
            text: open.text.clone(),
            answers: open
                .answers
                .iter()
                .map(|answer| AskedAnswer {
                    choice: Choice::new(answer.label.clone(), told(answer.fact)),
                    needles: answer.needles.clone(),
                })
                .collect(),
        });
        asked.collect()
    }

    /// Further baths that a person may ask for before anything is judged.
    pub(super) fn further_baths(&self, plan: &Plan, current: Option<usize>) -> Vec<Choice> {
        let looks = |i: usize| plan.steps[i].is(Kind::Look) || plan.steps[i].is(Kind::Verify);
        let waits = self.paused || self.closed.is_some() || self.verdict.is_some();
        let is_descale = plan.work == Work::Descale && !plan.ladder.is_empty();
        if waits || !is_descale || !current.is_some_and(looks) {
            return Vec::new();
        }
        let planned = |label: String, wish| Choice::new(label, Act::Planned { wish, stage: None });
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

    /// The next place to clear, or on when all are.
    fn next_spot(&self, needles: &[Needle], step: &Step) -> Choice {
        let open = needles.iter().find_map(|needle| {
            let spot = needle.spots().find(|s| !self.clear.contains(s))?;
            let name = &needle.name;
            let place = match (spot.hole, needle.holes_deg.len()) {
                (Some(_), 1) => name.clone(),
                (Some(hole), n) => format!("{name}: hole {} of {n}", hole + 1),
                (None, _) => format!("{name}: opening below it"),
            };
            let act = Act::Cleared {
                step: step.id.clone(),
                spot,
                clear: true,
            };
            Some(Choice::new(format!("{place} is clear"), act))
        });
        open.unwrap_or_else(|| {
            let act = Act::Done {
                step: step.id.clone(),
            };
            Choice::new(step.act.clone(), act)
        })
    }
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

//! A clean that is driven act by act, for the tests of this crate and of those above it.

use crate::{
    Act, Event, FoundInside, FoundSmell, FoundTank, GlassOf, GlassSeen, Sampled, State, admit,
    replay, stands,
};
use jiff::civil::{Date, date};
use jiff::{SignedDuration, Timestamp};
use murlo_base::problem::Problem;
use murlo_brewer::{Family, Needle};
use murlo_plan::fixtures::{further, plan};
use murlo_plan::{
    Correction, Doing, Kind, Moment, Plan, PlanOptions, Wish,
    answers::{AnswerId, QuestionId},
};
use std::collections::BTreeMap;

/// The day on which cleans end here.
pub const TODAY: Date = date(2026, 8, 30);

/// A clean that is driven act by act, a minute apart.
pub struct Run {
    pub(crate) family: Family,
    /// Its plan as it was begun.
    pub plan: Plan,
    /// What has happened.
    pub events: Vec<Event>,
}

impl Run {
    /// The usual clean of a template brewer.
    pub fn new(family: Family) -> Self {
        Self::with(family, &PlanOptions::default())
    }

    /// The clean that `options` make of it.
    pub fn with(family: Family, options: &PlanOptions) -> Self {
        Self {
            family,
            plan: plan(family, options).unwrap(),
            events: Vec::new(),
        }
    }

    /// Follows the one next act until `step` is the current one.
    pub fn until(&mut self, step: &str) -> State {
        loop {
            let state = self.state();
            if state.step.as_ref().is_some_and(|s| s.id == step) {
                return state;
            }
            self.step_on(state);
        }
    }

    /// Follows the one next act until a step of `kind` is the current one.
    pub fn until_kind(&mut self, kind: Kind) -> State {
        loop {
            let state = self.state();
            if state.kind == Some(kind) {
                return state;
            }
            self.step_on(state);
        }
    }

    /// The step in which the last of the bath is run through.
    pub fn last_run(&self) -> String {
        let plan = self.plan_now();
        let mut steps = plan.steps.iter();
        steps.rfind(|s| s.is(Kind::Run)).unwrap().id.clone()
    }

    /// Does the one next act; after a bath a lot of chalk was seen, and no chips.
    pub(crate) fn step_on(&mut self, state: State) -> State {
        match state.next {
            Some(next) => self.act(next.act).unwrap(),
            None => self.look(AnswerId::Chalk, AnswerId::Good),
        }
    }

    /// Says at the look what came out, and how it was with chips.
    pub fn look(&mut self, showed: AnswerId, flakes: AnswerId) -> State {
        let step = self.state().step.unwrap().id;
        let told = [(QuestionId::Showed, showed), (QuestionId::Flakes, flakes)];
        let answers = told.into_iter().collect();
        self.act(Act::Answered { step, answers }).unwrap()
    }

    /// The plan with what was added to it.
    pub fn plan_now(&self) -> Plan {
        stands(&self.plan, &self.events).unwrap().0.into_owned()
    }

    /// Takes the way that the verdict advises.
    pub fn follow(&mut self) -> State {
        let next = self.state().next.unwrap();
        self.act(next.act).unwrap()
    }

    /// A minute after the last act; a wait is ended when it is over.
    pub(crate) fn next_at(&self, act: &Act) -> Timestamp {
        let last = self.events.last().map_or(Timestamp::UNIX_EPOCH, |e| e.at);
        let soon = last + SignedDuration::from_secs(60);
        let Act::Done { step } = act else { return soon };
        let state = self.state();
        let timer = state.steps.iter().find(|s| s.id == *step);
        timer
            .and_then(|s| s.timer.as_ref())
            .map_or(soon, |timer| soon.max(timer.ends_at))
    }

    /// The facts of its brewer that were told so far.
    pub fn told(&self) -> Vec<Correction> {
        let told = self.events.iter().filter_map(|event| match &event.act {
            Act::Planned {
                wish: Wish::Corrected { fact },
                ..
            } => Some(*fact),
            _ => None,
        });
        told.collect()
    }

    /// Does `act` a few seconds after the last one.
    pub fn at_once(&mut self, act: Act) -> State {
        let at = self.events.last().map_or(Timestamp::UNIX_EPOCH, |e| e.at);
        self.act_at(at + SignedDuration::from_secs(2), act)
    }

    /// Does `act` at that moment.
    pub(crate) fn act_at(&mut self, at: Timestamp, act: Act) -> State {
        let event = Event {
            id: format!("e{}", self.events.len()),
            at,
            device_at: None,
            by: None,
            act,
        };
        let told = self.told();
        let planner = |moment: &Moment, wish: &Wish| further(self.family, &told, moment, wish);
        let (event, state) = admit(&self.plan, &self.events, event, TODAY, &planner).unwrap();
        self.events.push(event);
        state
    }

    /// Does `act` when it is time for it.
    ///
    /// # Errors
    /// When it does not fit where the clean stands.
    pub fn act(&mut self, act: Act) -> Result<State, Problem> {
        let n = self.events.len();
        let at = self.next_at(&act);
        let event = Event {
            id: format!("e{n}"),
            at,
            device_at: None,
            by: None,
            act,
        };
        let told = self.told();
        let planner = |moment: &Moment, wish: &Wish| further(self.family, &told, moment, wish);
        let (event, state) = admit(&self.plan, &self.events, event, TODAY, &planner)?;
        self.events.push(event);
        Ok(state)
    }

    /// Where it stands.
    pub fn state(&self) -> State {
        replay(&self.plan, &self.events).unwrap()
    }

    /// Answers all questions well but those in `bad`.
    pub fn answer(&mut self, bad: &[QuestionId]) -> State {
        self.tell(&answers_with(bad, &[]))
    }

    /// Answers the questions of the step.
    pub fn tell(&mut self, answers: &BTreeMap<QuestionId, AnswerId>) -> State {
        let step = self.state().step.unwrap().id;
        let answers = answers.clone();
        self.act(Act::Answered { step, answers }).unwrap()
    }

    /// Follows the one next act until the questions, or the end.
    pub fn on(&mut self) -> State {
        loop {
            let state = self.state();
            let judges = state.step.as_ref().is_some_and(|s| s.is(Kind::Verify));
            if state.closed.is_some() || (judges && state.next.is_none()) {
                return state;
            }
            self.step_on(state);
        }
    }
}

/// All questions answered well but those in `bad`; `others` are answered as they say.
pub fn answers_with(
    bad: &[QuestionId],
    others: &[(QuestionId, AnswerId)],
) -> BTreeMap<QuestionId, AnswerId> {
    let judged = [
        QuestionId::Smell,
        QuestionId::Clear,
        QuestionId::Light,
        QuestionId::Flakes,
        QuestionId::Heat,
        QuestionId::Sound,
    ]
    .map(|q| {
        (
            q,
            if bad.contains(&q) {
                AnswerId::Bad
            } else {
                AnswerId::Good
            },
        )
    });
    judged
        .iter()
        .chain(&[(QuestionId::Nose, AnswerId::Second)])
        .chain(others)
        .copied()
        .collect()
}

/// One of the acts that may be tried next, the `pick`th; fitting or not.
pub fn any_act(state: &State, pick: usize, bad: usize) -> Act {
    let mut acts: Vec<Act> = state
        .next
        .iter()
        .chain(&state.others)
        .chain(&state.further)
        .chain(&state.corrections)
        .map(|c| c.act.clone())
        .collect();
    acts.extend(state.undo.clone().map(|event| Act::Undone { event }));
    if state.next.is_none() && state.closed.is_none() {
        let wrong = [
            QuestionId::Smell,
            QuestionId::Clear,
            QuestionId::Light,
            QuestionId::Flakes,
            QuestionId::Sound,
        ];
        let nose: &[_] = if bad == 5 {
            &[(QuestionId::Nose, AnswerId::Tired)]
        } else {
            &[]
        };
        let asks = state.step.as_ref().unwrap();
        let showed = [
            AnswerId::Chalk,
            AnswerId::Some,
            AnswerId::Nothing,
            AnswerId::Unseen,
        ][bad % 4];
        let chips = if bad > 3 {
            AnswerId::Bad
        } else {
            AnswerId::Good
        };
        acts.push(Act::Answered {
            step: asks.id.clone(),
            answers: if asks.is(Kind::Look) {
                [(QuestionId::Showed, showed), (QuestionId::Flakes, chips)]
                    .map(|(q, a)| (q.to_owned(), a.to_owned()))
                    .into()
            } else {
                answers_with(wrong.get(bad).map_or(&[], std::slice::from_ref), nose)
            },
        });
    }
    if state.closed.is_none() {
        let found = FoundInside {
            smell: [FoundSmell::Sour, FoundSmell::Nothing, FoundSmell::Unsure][bad % 3],
            tank: [FoundTank::Bath, FoundTank::Water, FoundTank::Nothing][pick % 3],
            plugged: bad.is_multiple_of(2),
        };
        acts.push(Act::Found { found });
    }
    // What lies beside the buttons: meanwhile work, holes, timed cups, glasses.
    acts.extend(
        state
            .meanwhile
            .iter()
            .map(|step| Act::Done { step: step.clone() }),
    );
    if let Some(step) = state
        .step
        .as_ref()
        .filter(|_| state.closed.is_none() && !state.paused)
    {
        let of = [GlassOf::Final, GlassOf::Soaked][pick % 2];
        acts.push(glass(of, Some(bad as u32), None));
        if matches!(step.doing, Doing::Count { .. }) {
            let count = bad as i64;
            acts.push(Act::Recounted {
                step: step.id.clone(),
                count,
            });
        }
        match &step.doing {
            Doing::Clear { needles } => acts.extend(needles.iter().flat_map(Needle::spots).map(
                |spot| Act::Cleared {
                    step: step.id.clone(),
                    spot,
                    clear: bad.is_multiple_of(2),
                },
            )),
            Doing::Measure { .. } | Doing::Ask { .. } => acts.push(Act::Measured {
                step: step.id.clone(),
                seconds: Some(20.0 + bad as f64 * 10.0),
                streams: None,
            }),
            _ => {}
        }
    }
    acts[pick % acts.len()].clone()
}

/// A glass that was rated and sampled.
pub fn glass(of: GlassOf, rating: Option<u32>, sample: Option<[f64; 3]>) -> Act {
    Act::Looked {
        glass: GlassSeen {
            of,
            rating,
            photo: None,
            sampled: sample.map(|sample| Sampled {
                reference: [230.0, 230.0, 225.0],
                sample,
                white: None,
            }),
        },
    }
}

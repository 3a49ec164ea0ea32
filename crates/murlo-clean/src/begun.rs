//! A clean that somebody has begun already: what has happened, as events from when it did.

use crate::Event;
use crate::act::Act;
use crate::fold::{admit, stands};
use crate::state::State;
use jiff::civil::Date;
use jiff::{SignedDuration, Timestamp};
use murlo_base::problem::{Code, Problem};
use murlo_plan::{A_PRESS_MIN, BegunAlready, Doing, Kind, Moment, Plan, Stood, Wish};

/// What has happened of `plan`, up to now: mixed, so many dispenses, stood, in its programme. A filter that may still be in comes
/// out next: `plan` gets that step where it is due.
///
/// # Errors
/// `OutOfRange` for an id that leaves no room for those of its events; when the plan has no such step, which is never of one
/// that was drawn up from `begun`.
pub fn begin(
    plan: &mut Plan,
    begun: &BegunAlready,
    id: &str,
    (now, today): (Timestamp, Date),
) -> Result<Vec<Event>, Problem> {
    if id.len() > LONGEST_ID {
        let message =
            format!("give an id of at most {LONGEST_ID} characters: what has happened carries it");
        return Err(Problem::new(Code::OutOfRange, "id", message));
    }
    let filter: Vec<_> = ["filter", "filter_soak"]
        .into_iter()
        .filter_map(|id| {
            let at = plan
                .steps
                .iter()
                .position(|s| s.id == id && s.during.is_none())?;
            Some(plan.steps.remove(at))
        })
        .collect();
    let mut so_far = SoFar {
        plan,
        events: Vec::new(),
        id,
        at: now - minutes(begun.minutes_ago),
        now,
        today,
    };
    so_far.happen(begun)?;
    let events = so_far.events;
    let state = stands(plan, &events)?.1;
    let current = state.current.unwrap_or(plan.steps.len());
    let waits = plan.steps.get(current).filter(|step| step.is(Kind::Soak));
    let during = waits.map(|step| step.id.clone());
    // What is being counted goes on.
    let is_counted = state.steps.get(current).is_some_and(|step| step.count > 0);
    let place = current + usize::from(during.is_some() || is_counted);
    for (n, mut step) in filter.into_iter().enumerate() {
        step.during.clone_from(&during);
        plan.steps.insert(place + n, step);
    }
    Ok(events)
}

/// The ids of its events are this one and a number, and no longer than any.
const LONGEST_ID: usize = 50;

fn minutes(minutes: f64) -> SignedDuration {
    SignedDuration::from_secs((60.0 * minutes.max(0.0)) as i64)
}

fn is_counted_out(state: &State) -> bool {
    let step = state.current.map(|i| &state.steps[i]);
    step.is_some_and(|step| step.target > 0 && step.count >= step.target)
}

struct SoFar<'a> {
    plan: &'a Plan,
    events: Vec<Event>,
    id: &'a str,
    /// When the next of it happened.
    at: Timestamp,
    now: Timestamp,
    today: Date,
}

impl SoFar<'_> {
    fn state(&self) -> Result<State, Problem> {
        stands(self.plan, &self.events).map(|(_, state)| state)
    }

    /// Takes an act in as it happened, a little after the last one.
    fn take(&mut self, act: Act) -> Result<(), Problem> {
        let event = Event {
            id: format!("{}-begun-{}", self.id, self.events.len()),
            at: self.at.min(self.now),
            device_at: None,
            by: None,
            act,
        };
        let none = |_: &Moment, _: &Wish| unreachable!("nothing more is wished for");
        let (event, _) = admit(self.plan, &self.events, event, self.today, &none)?;
        self.events.push(event);
        Ok(())
    }

    fn happen(&mut self, begun: &BegunAlready) -> Result<(), Problem> {
        let mut ran = 0;
        let by_cup = self.plan.mechanism.as_ref().is_some_and(|m| m.by_cup);
        loop {
            let state = self.state()?;
            let Some(step) = state.step.clone() else {
                return Ok(());
            };
            let done = Act::Done {
                step: step.id.clone(),
            };
            match state.kind {
                Some(Kind::Mix) => self.take(done)?,
                // Of one cup the first drops are no cup yet.
                Some(Kind::First)
                    if by_cup && (begun.dispenses > 0 || begun.stood != Stood::No) =>
                {
                    self.take(done)?;
                }
                Some(Kind::First | Kind::Half | Kind::HotWater) if ran < begun.dispenses => {
                    self.at += minutes(A_PRESS_MIN);
                    self.take(done)?;
                    ran += 1;
                }
                // It stands since the last drop: what lets it stand is over.
                Some(Kind::First | Kind::Half) if begun.stood != Stood::No && ran == 0 => {
                    self.take(done)?;
                    ran += 1;
                }
                Some(Kind::Run) if is_counted_out(&state) => self.take(done)?,
                Some(Kind::Run) if ran < begun.dispenses => {
                    self.at += minutes(A_PRESS_MIN);
                    let is_counted = matches!(step.doing, Doing::Count { .. });
                    let next = match (is_counted, state.next) {
                        (true, Some(next)) => next.act,
                        _ => done,
                    };
                    self.take(next)?;
                    ran += 1;
                }
                Some(Kind::Soak) => return self.stand(begun, step.id, ran),
                // Without them it would not run.
                Some(Kind::Disc | Kind::HotWater) if begun.in_programme => self.take(done)?,
                Some(Kind::Programme) if begun.in_programme => {
                    return self.take(Act::Started { step: step.id });
                }
                _ => return Ok(()),
            }
        }
    }

    fn stand(&mut self, begun: &BegunAlready, step: String, ran: u32) -> Result<(), Problem> {
        match begun.stood {
            Stood::No => Ok(()),
            Stood::Now => self.take(Act::Started { step }),
            Stood::Was { minutes: stood } => {
                self.take(Act::Started { step: step.clone() })?;
                self.at = (self.at + minutes(stood)).min(self.now);
                self.take(Act::Done { step })?;
                let further = BegunAlready {
                    stood: Stood::No,
                    dispenses: begun.dispenses.saturating_sub(ran),
                    ..begun.clone()
                };
                self.happen(&further)
            }
        }
    }
}

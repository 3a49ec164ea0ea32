//! Where a clean stands: its events folded over the frozen plan.

use crate::act::{Act, Event, unfit};
use crate::outcome::Outcome;
use crate::progress::Progress;
use crate::state::State;
use jiff::civil::Date;
use jiff::{SignedDuration, Timestamp};
use murlo_base::problem::Problem;
use murlo_base::text;
use murlo_plan::{Moment, Plan, Stage, Wish};
use std::borrow::Cow;

/// Where a clean stands after `events`.
///
/// # Errors
/// `DoesNotFit` for the first event that does not follow from those before it.
pub fn replay(plan: &Plan, events: &[Event]) -> Result<State, Problem> {
    stands(plan, events).map(|(_, state)| state)
}

/// The plan with everything that `events` added to it, and where the clean stands in it.
///
/// # Errors
/// As [`replay`].
pub fn stands<'a>(plan: &'a Plan, events: &[Event]) -> Result<(Cow<'a, Plan>, State), Problem> {
    let Folded {
        plan,
        progress,
        undo,
    } = fold(plan, events)?;
    let state = progress.state(&plan, undo);
    Ok((plan, state))
}

/// Plans what is wished for in a running clean.
pub type Planner<'a> = &'a dyn Fn(&Moment, &Wish) -> Result<Stage, Problem>;

/// Whether another device has meanwhile counted what `act` counts: two people who both press for one mug count one. `seen` is
/// how many acts the device knew of, its own among them.
///
/// # Errors
/// `DoesNotFit` with what to do if there was one more.
pub fn not_counted_meanwhile(
    history: &[Event],
    act: &Act,
    seen: Option<usize>,
) -> Result<(), Problem> {
    let unseen = history.get(seen.unwrap_or(history.len())..);
    let unseen = unseen.unwrap_or_default();
    let taken_back = |event: &Event| {
        unseen
            .iter()
            .any(|later| matches!(&later.act, Act::Undone { event: target } if *target == event.id))
    };
    let same = |event: &&Event| event.act == *act && !taken_back(event);
    if matches!(act, Act::Counted { .. }) && unseen.iter().any(|event| same(&event)) {
        return Err(unfit(
            "this one was just counted on another device, and counts once: if there was one more, press again",
        ));
    }
    Ok(())
}

/// Takes `event` in after `history`: the event to store, with the outcome or what `planner` planned filled in, and the state
/// after it.
///
/// # Errors
/// `DoesNotFit` naming what was expected instead; a wrong note or id by its field.
pub fn admit(
    plan: &Plan,
    history: &[Event],
    mut event: Event,
    today: Date,
    planner: Planner,
) -> Result<(Event, State), Problem> {
    event.act = event.act.as_sent();
    event.check()?;
    if let Act::Noted { text } = &mut event.act {
        *text = text::note("act.text", text)?;
    } else if let Act::Vouched { by, .. } = &mut event.act {
        *by = text::name("act.by", by)?;
    }
    // A device whose clock jumped back does not turn the order round.
    event.at = history
        .last()
        .map_or(event.at, |last| event.at.max(last.at));
    let before = fold(plan, history)?;
    match &mut event.act {
        Act::Finished { outcome } => {
            *outcome = Some(before.progress.come_to(&before.plan, today, event.at));
        }
        Act::Abandoned { acid, outcome } => {
            let came_to = before.progress.gave_up(&before.plan, today, event.at);
            acid.clone_from(&came_to.acid_left);
            *outcome = Some(Box::new(came_to));
        }
        Act::Vouched { outcome, .. } => {
            *outcome = before.progress.outcome.clone().map(|outcome| Outcome {
                acid_left: None,
                ..outcome
            });
        }
        Act::Planned { wish, stage } => {
            let moment = before.progress.may_plan(&before.plan, wish)?;
            *stage = Some(Box::new(planner(&moment, wish)?));
        }
        Act::Done { .. }
        | Act::LeftOut { .. }
        | Act::Counted { .. }
        | Act::WantsWater { .. }
        | Act::Recounted { .. }
        | Act::Started { .. }
        | Act::Answered { .. }
        | Act::Cleared { .. }
        | Act::Tool { .. }
        | Act::Measured { .. }
        | Act::Looked { .. }
        | Act::TimeLeft { .. }
        | Act::Followed
        | Act::Overruled
        | Act::Noted { .. }
        | Act::Found { .. }
        | Act::Paused
        | Act::Resumed
        | Act::Undone { .. }
        | Act::Reopened => {}
    }
    let mut events = history.to_vec();
    events.push(event.clone());
    let state = replay(plan, &events)?;
    Ok((event, state))
}

/// When an act happened, by the clock on which it arrived at `now`: as long before as it waited on its device, whose own
/// clock may be wrong but runs evenly. A wait that cannot be right counts as none.
#[must_use]
pub fn happened_at(
    now: Timestamp,
    device_at: Option<Timestamp>,
    sent_at: Option<Timestamp>,
) -> Timestamp {
    let waited = device_at
        .zip(sent_at)
        .map(|(at, sent)| sent.duration_since(at));
    waited
        .filter(|waited| (SignedDuration::ZERO..LONGEST_WAIT).contains(waited))
        .and_then(|waited| now.checked_sub(waited).ok())
        .unwrap_or(now)
}

/// An act is not believed to have waited longer than this.
const LONGEST_WAIT: SignedDuration = SignedDuration::from_hours(48);

/// What events come to.
pub(crate) struct Folded<'a> {
    /// The plan with everything that was added to it.
    pub plan: Cow<'a, Plan>,
    pub progress: Progress,
    /// The event that undo takes back.
    undo: Option<String>,
}

pub(crate) fn fold<'a>(plan: &'a Plan, events: &[Event]) -> Result<Folded<'a>, Problem> {
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
    let mut plan = Cow::Borrowed(plan);
    let mut progress = Progress::new(&plan);
    for event in &effective {
        progress.apply(&mut plan, &event.act, event.at)?;
    }
    let undo = effective
        .last()
        .filter(|e| undoable(&e.act) && progress.closed.is_none())
        .map(|e| e.id.clone());
    Ok(Folded {
        plan,
        progress,
        undo,
    })
}

/// Closing is taken back by opening again, which is an act of its own.
const fn undoable(act: &Act) -> bool {
    !act.is_closing()
}

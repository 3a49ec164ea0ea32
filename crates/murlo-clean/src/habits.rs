//! What was done in a clean, as habits that can be kept and done again.

use crate::act::unfit;
use crate::fold::{Folded, fold};
use crate::progress::Progress;
use crate::state::Closed;
use crate::{Event, PouredBath};
use murlo_base::problem::Problem;
use murlo_plan::{Habits, Kind, Plan, Work};

/// A soak that ended so close to its plan was meant as planned, minutes.
const AS_PLANNED_MIN: f64 = 3.0;

/// Who let it stand longer than this had forgotten it, minutes. Judged.
const LONGEST_MEANT_MIN: f64 = 60.0;

/// The habits of a clean that was finished: its last bath as it was measured, its soak, its rinses, what was left out, and in
/// which order the rest was done. `has_programme` says whether its side cleans itself where it is let.
///
/// # Errors
/// `DoesNotFit` for one that did not end well, or had no bath.
pub fn habits_of(plan: &Plan, events: &[Event], has_programme: bool) -> Result<Habits, Problem> {
    let Folded { plan, progress, .. } = fold(plan, events)?;
    let poured = progress.poured.last();
    let is_whole = progress.closed == Some(Closed::Finished) && plan.work == Work::Descale;
    let Some(poured) = poured.filter(|_| is_whole && progress.acid_left(&plan).is_none()) else {
        return Err(unfit(
            "only a whole clean that was finished and rinsed can be kept: finish one first"
                .to_owned(),
        ));
    };
    let spared = |id: &String| {
        Kind::of(id)
            .map(|(kind, _)| kind)
            .filter(|kind| kind.is_spared())
    };
    let by_hand = has_programme && !plan.steps.iter().any(|step| step.is(Kind::Programme));
    Ok(Habits {
        soak_minutes: soaked(&plan, poured),
        baths: progress.poured.len() as u32,
        rinses: rinsed(&plan, &progress),
        left_out: progress.left_out.iter().filter_map(spared).collect(),
        order: progress
            .order
            .iter()
            .filter(|id| !progress.left_out.contains(*id))
            .filter_map(spared)
            .collect(),
        ..Habits::of(&plan, by_hand)
    })
}

/// Mugs or carafes since the last bath, however often it was rinsed on.
fn rinsed(plan: &Plan, progress: &Progress) -> u32 {
    let bath = plan.steps.iter().rposition(|step| step.is(Kind::Mix));
    let since = plan
        .steps
        .iter()
        .zip(&progress.count)
        .skip(bath.unwrap_or(0));
    let rinses = since.filter(|(step, _)| step.is(Kind::Rinse));
    rinses.map(|(_, count)| count).sum()
}

/// Minutes that it is meant to soak: as long as it did, unless that was forgotten or hardly differs.
fn soaked(plan: &Plan, poured: &PouredBath) -> f64 {
    let planned = plan.chosen.soak_minutes;
    if plan.steps.iter().any(|step| step.is(Kind::Programme)) {
        return 0.0;
    }
    match poured.soaked_min {
        Some(min) if (min - planned).abs() > AS_PLANNED_MIN && min <= LONGEST_MEANT_MIN => {
            min.round()
        }
        Some(_) => planned.round(),
        None => 0.0,
    }
}

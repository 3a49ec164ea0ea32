//! What was seen of a circuit, as events of the filter, in the order in which it happened.

use super::cleaned::Wetted;
use super::walk::number;
use super::{Known, USE_SIGMA};
use crate::belief::{Prior, Witnessed, Witnessing};
use jiff::Timestamp;
use murlo_brewer::journal::{Entry, Sign, What, left_out};
use murlo_brewer::water::Potential;
use murlo_brewer::{Brewer, Circuit};

/// Where an event comes from.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Source<'w> {
    /// A journal entry.
    Entry(&'w Entry),
    /// A clean, by its number.
    Clean(usize),
    /// The brewer's own change of water.
    Water,
}

/// Something that was seen, with its day.
#[derive(Debug, Clone)]
pub(super) struct Dated<'w> {
    pub day: i32,
    pub what: Witnessed,
    pub source: Source<'w>,
}

/// What comes first of one day: the water it begins with, what nobody timed, what has a time, and cleans told afterwards.
type OrderOfDay = (i32, u8, Option<Timestamp>);

/// Everything that was seen from the start to today.
pub(super) fn events<'w>(known: &Known<'w>, potentials: &[(i32, Potential)]) -> Vec<Dated<'w>> {
    let left_out = left_out(known.entries);
    let told = |id: &str| !left_out.contains_key(id);
    let (start, today) = (number(known.start.day), number(known.today));
    let mut all: Vec<(OrderOfDay, Dated<'w>)> = Vec::new();
    for pair in known.brewer.waters.windows(2) {
        let day = number(pair[1].from);
        if pair[0].value != pair[1].value && (start + 1..=today).contains(&day) {
            let what = Witnessed::Water {
                sigma: on(potentials, day).sigma,
            };
            let source = Source::Water;
            all.push(((day, 0, None), Dated { day, what, source }));
        }
    }
    for entry in known.entries {
        let Some(what) = seen(known.brewer, known.circuit, entry, told) else {
            continue;
        };
        let day = number(entry.day);
        if !(start..=today).contains(&day) {
            continue;
        }
        let order = (day, if entry.at.is_some() { 2 } else { 1 }, entry.at);
        let source = Source::Entry(entry);
        all.push((order, Dated { day, what, source }));
    }
    let wetted = Wetted::of(known.circuit, known.brewer);
    for (i, clean) in known.cleans.iter().enumerate() {
        let day = number(clean.day);
        if !(start..=today).contains(&day) {
            continue;
        }
        let counts = told(&clean.lesson_id());
        let (left, failed) = clean.leaves_by_then(&wetted);
        let was_seen = clean.evidence.failed.filter(|_| counts);
        let what = Witnessed::Clean {
            left,
            failed: failed.zip(was_seen.map(|failed| failed.checks)),
            brought: clean.brought().filter(|_| counts),
            checks: if counts {
                clean.evidence.checks
            } else {
                crate::belief::Checks::default()
            },
        };
        let order = (day, if clean.at.is_some() { 2 } else { 3 }, clean.at);
        let source = Source::Clean(i);
        all.push((order, Dated { day, what, source }));
    }
    all.sort_by_key(|(order, _)| *order);
    all.into_iter().map(|(_, dated)| dated).collect()
}

/// What an entry says of a circuit's chalk, if its word is `told`.
fn seen(
    brewer: &Brewer,
    circuit: &Circuit,
    entry: &Entry,
    told: impl Fn(&str) -> bool,
) -> Option<Witnessed> {
    match &entry.what {
        What::Sign {
            circuit_id,
            sign,
            dated,
            ..
        } if *circuit_id == circuit.id => Some(Witnessed::Sign {
            sign: *sign,
            dated: *dated,
            told: told(&entry.id) && !(*sign == Sign::Light && brewer.light_counts),
        }),
        What::Timed {
            circuit_id,
            seconds,
            cup_ml,
        } if *circuit_id == circuit.id && told(&entry.id) => {
            let healthy = circuit.operation.healthy?;
            let cup = cup_ml.unwrap_or(circuit.dispense_ml) / circuit.dispense_ml;
            Some(Witnessed::Timed {
                ratio: seconds / (healthy.seconds * cup),
            })
        }
        What::Brewed { .. }
        | What::Counter { .. }
        | What::Away { .. }
        | What::FilterFitted
        | What::NeedlesCleared
        | What::Did { .. }
        | What::Sign { .. }
        | What::NothingNoticed { .. }
        | What::LeftOut { .. }
        | What::Timed { .. }
        | What::FirstCoffee { .. }
        | What::Trouble { .. } => None,
    }
}

/// The events with the potential that passed before each, as the filter takes them.
pub(super) fn with_potential(
    events: &[Dated],
    start: i32,
    until: impl Fn(i32) -> f64,
) -> Vec<Witnessing> {
    let mut before = until(start);
    let each = events.iter().map(|event| {
        let now = until(event.day);
        let potential_mg = now - before;
        before = now;
        Witnessing {
            potential_mg,
            what: event.what.clone(),
        }
    });
    each.collect()
}

/// What holds on a day.
pub(super) fn on(potentials: &[(i32, Potential)], day: i32) -> Potential {
    let after = potentials.partition_point(|(from, _)| *from <= day);
    potentials[after.saturating_sub(1)].1
}

/// What is known of a circuit before anything was seen of it.
pub(super) fn prior(known: &Known, potentials: &[(i32, Potential)], counted: bool) -> Prior {
    let circuit = known.circuit;
    Prior {
        limit_mg: circuit.limit_mg(),
        plating: circuit.plating,
        sigma_plating: circuit.plating_sigma,
        sigma_use: if counted { 0.0 } else { USE_SIGMA },
        sigma_water: on(potentials, number(known.start.day)).sigma,
        start: known.start.left,
        before_mg: known.start.before_mg,
    }
}

//! What an order asks while it is followed: by when each act must have begun so that the end holds.

use crate::beam::Walked;
use crate::compile::{ChainAct, Compiled, NEVER};

/// The latest start of each act of an order that is over at `end`: backwards over the order, until it stands still.
pub(super) fn latest(compiled: &Compiled, order: &[Walked], end: i32) -> Vec<i32> {
    let act = |i: usize| &compiled.chains[order[i].chain].acts[order[i].act];
    let mut latest: Vec<i32> = (0..order.len()).map(|i| end - act(i).tail).collect();
    for _ in 0..=order.len() {
        let before = latest.clone();
        for i in (0..order.len()).rev() {
            for j in i + 1..order.len() {
                let room = room(compiled, order, act(i), i, j);
                latest[i] = latest[i].min(latest[j] - room);
            }
        }
        for i in 0..order.len() {
            let one_before = |o: &Walked| o.chain == order[i].chain && o.act + 1 == order[i].act;
            // What waits no longer than so long cannot begin later than that after what it waits for.
            if let Some(j) = order.iter().position(one_before)
                && act(j).limit != NEVER
            {
                latest[i] = latest[i].min(latest[j] + act(j).ticks + act(j).limit);
            }
        }
        if latest == before {
            break;
        }
    }
    latest
}

/// How long before the start of act `j` of the order act `i`, which is `what`, must have begun.
fn room(compiled: &Compiled, order: &[Walked], what: &ChainAct, i: usize, j: usize) -> i32 {
    let (here, later) = (order[i], order[j]);
    let (chain, other) = (&compiled.chains[here.chain], &compiled.chains[later.chain]);
    let mut room = what.ticks;
    if j == i + 1 && later.chain != here.chain {
        room += compiled.switch;
    }
    if other.place != chain.place {
        room = room.max(what.ticks + what.near + compiled.travel);
    }
    if later.chain == here.chain && later.act == here.act + 1 {
        room = room.max(what.ticks + what.lag);
    }
    let is_last = here.act + 1 == chain.acts.len();
    if is_last && later.act == 0 && other.before.contains(&here.chain) {
        room = room.max(what.ticks + what.lag + other.lead);
    }
    room
}

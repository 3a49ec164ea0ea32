//! A widening beam over "which act next", with a lower bound for each state.

use crate::beam::{BeamState, ChainOrder, POWERS, Walked};
use crate::compile::{Chain, Compiled, NEVER};
use smallvec::SmallVec;
use std::collections::HashMap;

/// An order is put off so often before it is given up.
const MOST_REPAIRS: usize = 60;

const FIRST_WIDTH: usize = 8;

const WIDER: usize = 8;

/// How one pass looks.
struct Beam {
    width: usize,
    /// How much the longest ways count.
    power: i32,
    /// Whether acts are put off so that others need not wait too long.
    repairs: bool,
    /// The bound of the whole.
    root: i32,
}

/// An order found, and how good it is.
pub(super) struct Best {
    pub end: i32,
    pub bound: i32,
    pub order: Option<ChainOrder>,
    /// Nodes that were tried.
    pub nodes: usize,
}

/// A state that may follow: its bound, how pressing it is, its parent, its chain.
type Child = (i32, f64, u32, u16, BeamState);

impl Compiled {
    /// Walks an order from the start, putting off what keeps others waiting too long; nothing where that cannot be helped.
    fn repaired(&self, order: &[u16], mut put_off: Vec<i32>) -> Option<(BeamState, Vec<i32>)> {
        put_off.resize(order.len(), 0);
        let mut last = (usize::MAX, 0);
        'again: for _ in 0..MOST_REPAIRS {
            let mut state = self.start(false);
            let mut begun: HashMap<usize, usize> = HashMap::new();
            let mut starts = Vec::with_capacity(order.len());
            if self.missed(&state).is_some() {
                return None;
            }
            for (i, k) in order.iter().enumerate() {
                let k = usize::from(*k);
                let ticks = self.next(&state, k)?.ticks;
                // What was put off for the sake of others may be too late for its own wait.
                let own = put_off[i].saturating_sub(state.at[k].limit);
                let missed = if own > 0 {
                    Some((k, own))
                } else {
                    state = self.append(&state, k, put_off[i]);
                    starts.push(state.t - ticks);
                    begun.insert(k, i);
                    self.missed(&state)
                };
                if let Some((late, excess)) = missed {
                    let cause = *begun.get(&late)?;
                    // The act itself is late, and nothing before it can wait for it.
                    if cause == i || last == (cause, excess) {
                        return None;
                    }
                    last = (cause, excess);
                    put_off[cause] = starts[cause] + excess;
                    continue 'again;
                }
            }
            return Some((state, put_off));
        }
        None
    }

    /// All acts of an order as they are walked, those that hold the hands now among them.
    pub(super) fn walked(&self, order: &ChainOrder) -> Vec<Walked> {
        let mut state = self.start(false);
        let mut all = Vec::new();
        for (k, chain) in self.chains.iter().enumerate() {
            for act in 0..usize::from(state.at[k].pos) {
                let (start, end) = (self.now, self.now + chain.acts[act].ticks);
                all.push(Walked {
                    chain: k,
                    act,
                    start,
                    end,
                });
            }
        }
        for (i, k) in order.chains.iter().enumerate() {
            let chain = usize::from(*k);
            let act = usize::from(state.at[chain].pos);
            let earliest = order.put_off.get(i).copied().unwrap_or(0);
            state = self.append(&state, chain, earliest);
            let (start, end) = (state.t - self.chains[chain].acts[act].ticks, state.t);
            all.push(Walked {
                chain,
                act,
                start,
                end,
            });
        }
        all
    }

    /// When all is over if the acts of an order begin no earlier than these, and whether every greatest wait holds.
    #[cfg(test)]
    pub(super) fn over_at(&self, order: &[usize], earliest: &[i32]) -> (i32, bool) {
        let mut state = self.start(false);
        let mut kept = self.missed(&state).is_none();
        for (k, earliest) in order.iter().zip(earliest) {
            state = self.append(&state, *k, *earliest);
            kept &= self.missed(&state).is_none();
        }
        (state.done, kept)
    }

    /// The best order within `budget` nodes that ends before `stop`; `limits` are kept, or left out of account.
    pub(super) fn best(&self, budget: usize, stop: i32, limits: bool) -> Best {
        let start = self.start(!limits);
        let acts: usize = self
            .chains
            .iter()
            .enumerate()
            .map(|(k, c)| c.acts.len() - usize::from(start.at[k].pos))
            .sum();
        let root = self.bound(&start).max(self.one_machine(&start));
        let mut best = Best {
            end: stop,
            bound: root,
            order: None,
            nodes: 0,
        };
        if acts == 0 {
            if start.done < stop {
                best.end = start.done;
                best.order = Some(ChainOrder {
                    chains: Vec::new(),
                    put_off: Vec::new(),
                });
            }
            best.bound = start.done;
            return best;
        }
        let has_limits = limits && self.chains.iter().any(Chain::has_limit);
        let mut width = FIRST_WIDTH;
        let mut pass = 0;
        while best.nodes < budget && best.bound < best.end {
            let left = budget - best.nodes;
            let fits = left / (acts * self.chains.len().clamp(1, 6)).max(1);
            let is_last = fits <= width;
            let width_now = width.min(fits.max(FIRST_WIDTH));
            let repairs = has_limits && pass % 2 == 0;
            let beam = Beam {
                width: width_now,
                power: POWERS[(pass / 2) % 2],
                repairs,
                root,
            };
            let exact = self.pass(&start, acts, &beam, &mut best);
            if exact && !has_limits {
                best.bound = best.end;
            }
            pass += 1;
            if !has_limits || pass % 2 == 0 {
                if is_last && pass > 1 {
                    break;
                }
                width *= WIDER;
            }
        }
        best
    }

    /// All that may follow a layer and end sooner than the best, in the order in which they are kept; and whether any missed
    /// the end of a wait.
    fn children(
        &self,
        layer: &[BeamState],
        log: &[(u32, u16)],
        beam: &Beam,
        best: &mut Best,
    ) -> (Vec<Child>, bool) {
        let mut children: Vec<Child> = Vec::new();
        let mut missed = false;
        for (parent, state) in layer.iter().enumerate() {
            for k in 0..self.chains.len() {
                if !self.is_open(state, k) || self.is_idle(state, k) {
                    continue;
                }
                best.nodes += 1;
                let mut child = self.append(state, k, 0);
                if self.missed(&child).is_some() {
                    missed = true;
                    if !beam.repairs {
                        continue;
                    }
                    let mut order = order_of(log, state.node);
                    order.push(k as u16);
                    let put_off = state
                        .put_off
                        .as_deref()
                        .map_or_else(Vec::new, <[i32]>::to_vec);
                    let Some((mended, put_off)) = self.repaired(&order, put_off) else {
                        continue;
                    };
                    child = mended;
                    child.put_off = Some(put_off.into());
                }
                let f = self.bound(&child);
                if f >= best.end {
                    continue;
                }
                let pressing = self.pressing(&child, beam.root, beam.power);
                child.node = state.node;
                children.push((f, pressing, parent as u32, k as u16, child));
            }
        }
        children.sort_unstable_by(|a, b| {
            (a.0.cmp(&b.0))
                .then(a.1.total_cmp(&b.1))
                .then((a.2, a.3).cmp(&(b.2, b.3)))
        });
        (children, missed)
    }

    /// One pass of so wide a beam; whether nothing was cut.
    fn pass(&self, start: &BeamState, acts: usize, beam: &Beam, best: &mut Best) -> bool {
        let mut log: Vec<(u32, u16)> = Vec::new();
        let mut layer = vec![start.clone()];
        let mut least_cut = NEVER;
        let mut dropped = false;
        for _ in 0..acts {
            let (children, missed) = self.children(&layer, &log, beam, best);
            dropped |= missed;
            let mut kept: Vec<BeamState> = Vec::new();
            let mut alike: HashMap<u64, SmallVec<[usize; 4]>> = HashMap::new();
            for (f, _, _, k, mut child) in children {
                let same = alike.entry(child.done_mark).or_default();
                if same.iter().any(|i| self.beats(&kept[*i], &child)) {
                    continue;
                }
                if kept.len() >= beam.width {
                    least_cut = least_cut.min(f);
                    break;
                }
                log.push((child.node, k));
                child.node = log.len() as u32 - 1;
                same.push(kept.len());
                kept.push(child);
            }
            layer = kept;
            if layer.is_empty() {
                break;
            }
        }
        let found = layer
            .iter()
            .filter(|s| s.done < best.end)
            .min_by_key(|s| s.done);
        if let Some(state) = found {
            best.end = state.done;
            best.order = Some(ChainOrder {
                chains: order_of(&log, state.node),
                put_off: state
                    .put_off
                    .as_deref()
                    .map_or_else(Vec::new, <[i32]>::to_vec),
            });
        }
        if !dropped {
            best.bound = best.bound.max(least_cut.min(best.end));
        }
        least_cut == NEVER && !dropped
    }

    /// The preemptive one-machine bound: heads, hands and tails, always the longest tail first.
    fn one_machine(&self, start: &BeamState) -> i32 {
        let mut parts: Vec<(i32, i32, i32)> = Vec::new();
        for (k, chain) in self.chains.iter().enumerate() {
            if !chain.before.is_empty() {
                continue;
            }
            let mut head = start.at[k].ready;
            for act in &chain.acts[usize::from(start.at[k].pos)..] {
                parts.push((head, act.ticks, act.tail - act.ticks));
                head += act.ticks + act.lag;
            }
        }
        parts.sort_unstable();
        let (mut t, mut end, mut i) = (start.t, 0, 0);
        let mut waiting: Vec<(i32, i32)> = Vec::new();
        while i < parts.len() || !waiting.is_empty() {
            if waiting.is_empty() {
                t = t.max(parts[i].0);
            }
            while i < parts.len() && parts[i].0 <= t {
                waiting.push((parts[i].2, parts[i].1));
                i += 1;
            }
            waiting.sort_unstable();
            let next = parts.get(i).map_or(NEVER, |p| p.0);
            if let Some((tail, left)) = waiting.pop() {
                let done = left.min(next - t);
                t += done;
                if done < left {
                    waiting.push((tail, left - done));
                } else {
                    end = end.max(t + tail);
                }
            }
        }
        end
    }
}

/// The acts that led to a node.
fn order_of(log: &[(u32, u16)], mut node: u32) -> Vec<u16> {
    let mut order = Vec::new();
    while let Some((parent, k)) = log.get(node as usize) {
        order.push(*k);
        node = *parent;
    }
    order.reverse();
    order
}

//! A widening beam over "which act next", with a lower bound for each state.

use super::model::{Chain, Compiled, NEVER};
use smallvec::{SmallVec, smallvec};
use std::collections::HashMap;
use std::rc::Rc;

/// Nobody's turn yet.
const NONE: u16 = u16::MAX;
/// An order is put off so often before it is given up.
const MOST_REPAIRS: usize = 60;
const FIRST_WIDTH: usize = 8;
const WIDER: usize = 8;
/// How much the longest ways count; taken in turn.
const POWERS: [i32; 2] = [8, 4];

/// Where a visit stands after some acts.
#[derive(Debug, Clone)]
struct State {
    /// The hands are free.
    t: i32,
    /// The person may leave the place.
    stay: i32,
    place: usize,
    last: u16,
    /// What is over so far ends.
    done: i32,
    /// How far each chain is.
    at: Box<[Progress]>,
    /// The same for states with the same acts done, and hardly ever for others.
    done_mark: u64,
    /// Its act in the log of the pass.
    node: u32,
    /// Acts that were put off: the earliest start of each act of the order.
    put_off: Option<Rc<[i32]>>,
}

/// How far a chain is.
#[derive(Debug, Clone, Copy)]
struct Progress {
    /// Acts done.
    pos: u16,
    /// When the next act may begin; when it was over, for one that is done.
    ready: i32,
    /// When it must have begun.
    limit: i32,
}

/// The order of chains, with the earliest starts of acts that were put off.
pub(super) struct Order {
    pub chains: Vec<u16>,
    put_off: Vec<i32>,
}

/// An act as it is done.
#[derive(Debug, Clone, Copy)]
pub(super) struct Walked {
    pub chain: usize,
    pub act: usize,
    pub start: i32,
    pub end: i32,
}

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
    pub order: Option<Order>,
    /// Nodes that were tried.
    pub nodes: usize,
}

impl Compiled {
    fn next<'a>(&'a self, state: &State, k: usize) -> Option<&'a super::model::Act> {
        self.chains[k].acts.get(usize::from(state.at[k].pos))
    }

    /// Whether it has an act left and all that comes before it is over.
    fn is_open(&self, state: &State, k: usize) -> bool {
        !self.is_done(state, k) && self.may_begin(state, k)
    }

    fn is_done(&self, state: &State, k: usize) -> bool {
        usize::from(state.at[k].pos) >= self.chains[k].acts.len()
    }

    fn may_begin(&self, state: &State, k: usize) -> bool {
        let all_before = &self.chains[k].all_before;
        all_before.iter().all(|b| self.is_done(state, *b))
    }

    fn reach(&self, state: &State, k: usize) -> i32 {
        let switch = if state.last == NONE || usize::from(state.last) == k {
            0
        } else {
            self.switch
        };
        let here = state.t + switch;
        // Where nobody said where the person is, the first way costs nothing.
        if self.chains[k].place == state.place || state.place >= self.places {
            here
        } else {
            here.max(state.t.max(state.stay) + self.travel)
        }
    }

    fn start(&self, ignore_limits: bool) -> State {
        let n = self.chains.len();
        let unbegun = Progress {
            pos: 0,
            ready: self.now,
            limit: NEVER,
        };
        let mut state = State {
            t: self.now,
            stay: self.now,
            place: self.place_now.unwrap_or(usize::MAX),
            last: NONE,
            done: self.now,
            at: vec![unbegun; n].into(),
            done_mark: 0,
            node: u32::MAX,
            put_off: None,
        };
        for (k, chain) in self.chains.iter().enumerate() {
            if !chain.before.is_empty() {
                continue;
            }
            state.at[k].ready = (chain.base + chain.lead).max(self.now);
            if chain.lead_limit != NEVER {
                let limit = chain.base + chain.lead_limit;
                // One that is missed already binds no more.
                state.at[k].limit = if limit < self.now { NEVER } else { limit };
            }
            if chain.acts.is_empty() {
                state.done = state.done.max(state.at[k].ready);
            }
        }
        for (k, chain) in self.chains.iter().enumerate() {
            if self.place_now.is_none_or(|place| place == chain.place)
                && let Some(until) = chain.stays
            {
                state.stay = state.stay.max(until);
                state.place = chain.place;
            }
            if chain.holds.is_some() {
                state.place = chain.place;
                state = self.append(&state, k, self.now);
                state.node = u32::MAX;
            }
        }
        if state.place == usize::MAX {
            state.place = usize::MAX - 1;
        }
        for (k, chain) in self.chains.iter().enumerate() {
            if !chain.before.is_empty() && self.may_begin(&state, k) {
                self.release(&mut state, k);
            }
        }
        if ignore_limits {
            state.at.iter_mut().for_each(|at| at.limit = NEVER);
        }
        state
    }

    /// A chain whose predecessors are over may begin.
    fn release(&self, state: &mut State, k: usize) {
        let chain = &self.chains[k];
        let base = chain.before.iter().map(|b| state.at[*b].ready).max();
        let base = base.unwrap_or(self.now).max(self.now);
        state.at[k].ready = base + chain.lead;
        if chain.lead_limit != NEVER {
            state.at[k].limit = base + chain.lead_limit;
        }
        if chain.acts.is_empty() {
            state.done = state.done.max(state.at[k].ready);
            for f in &chain.followers {
                if self.may_begin(state, *f) {
                    self.release(state, *f);
                }
            }
        }
    }

    /// After the next act of `k`, begun no earlier than `earliest`.
    fn append(&self, state: &State, k: usize, earliest: i32) -> State {
        let chain = &self.chains[k];
        let mut next = state.clone();
        let Some(act) = self.next(state, k) else {
            return next;
        };
        let start = self.reach(state, k).max(state.at[k].ready).max(earliest);
        let end = start + act.ticks;
        let same = chain.place == state.place;
        next.stay = if same {
            state.stay.max(end + act.near)
        } else {
            end + act.near
        };
        next.t = end;
        next.place = chain.place;
        next.last = k as u16;
        let ready = end + act.lag;
        next.at[k] = Progress {
            pos: state.at[k].pos + 1,
            ready,
            limit: NEVER,
        };
        next.done_mark = next.done_mark.wrapping_add(chain.mark);
        if !self.is_done(&next, k) {
            if act.limit != NEVER {
                next.at[k].limit = end + act.limit;
            }
        } else {
            next.done = next.done.max(ready);
            for f in &chain.followers {
                if self.may_begin(&next, *f) {
                    self.release(&mut next, *f);
                }
            }
        }
        next
    }

    /// By how much some waiting job is reached too late, with which job: the worst.
    fn missed(&self, state: &State) -> Option<(usize, i32)> {
        let waits = (0..self.chains.len()).filter(|k| state.at[*k].limit != NEVER);
        let late = waits.map(|k| {
            (
                k,
                self.reach(state, k).max(state.at[k].ready) - state.at[k].limit,
            )
        });
        late.filter(|(_, late)| *late > 0)
            .max_by_key(|(k, late)| (*late, usize::MAX - k))
    }

    /// No order from here ends earlier.
    fn bound(&self, state: &State) -> i32 {
        let mut bound = state.done;
        let (mut earliest, mut hands, mut closing) = (NEVER, 0, NEVER);
        let mut entered = 0;
        let mut at_place: SmallVec<[(i32, i32); 8]> = smallvec![(0, 0); self.places];
        for (k, chain) in self.chains.iter().enumerate() {
            let pos = usize::from(state.at[k].pos);
            let Some(act) = chain.acts.get(pos) else {
                continue;
            };
            let left = act.hands_left;
            hands += left;
            closing = closing.min(chain.closing);
            let place = &mut at_place[chain.place];
            place.0 += left;
            place.1 = place.1.max(act.presence_left);
            if usize::from(state.last) != k {
                entered += 1;
            }
            if self.may_begin(state, k) || chain.behind.is_some() {
                let reach = self.reach(state, k);
                let start = reach.max(state.at[k].ready);
                bound = bound.max(start + act.tail);
                let free = start
                    - if reach > state.t && usize::from(state.last) != k {
                        self.switch.min(reach - state.t)
                    } else {
                        0
                    };
                earliest = earliest.min(free);
            }
        }
        if hands == 0 || earliest == NEVER {
            return bound;
        }
        let nobody = i32::from(state.last == NONE);
        let switches = self.switch * (entered - nobody).max(0);
        let began = state.t.max(self.now);
        let nowhere = i32::from(state.place >= self.places);
        let mut travels = -nowhere;
        let mut inside = 0;
        for (place, (hands, presence)) in at_place.into_iter().enumerate() {
            inside += hands.max(presence);
            travels += i32::from(place != state.place && (hands > 0 || presence > 0));
        }
        bound
            .max(earliest + hands + closing)
            .max(began + hands + switches + closing)
            .max(state.t + inside + self.travel * travels.max(0))
    }

    /// Whether another act fits before this one for nothing.
    fn is_idle(&self, state: &State, k: usize) -> bool {
        let Some(act) = self.next(state, k) else {
            return true;
        };
        let start = self.reach(state, k).max(state.at[k].ready);
        let same = self.chains[k].place == state.place;
        (0..self.chains.len()).any(|j| {
            if j == k || self.chains[j].place != state.place || !self.is_open(state, j) {
                return false;
            }
            let Some(other) = self.next(state, j).filter(|other| other.limit == NEVER) else {
                return false;
            };
            let end = self.reach(state, j).max(state.at[j].ready) + other.ticks;
            let stays = end + other.near;
            // Leaves nothing as it was otherwise: the last act of the other must not carry the switch further.
            end + self.switch <= start
                && if same {
                    stays <= start + act.ticks + act.near
                } else {
                    end.max(state.stay.max(stays)) + self.travel <= start
                }
        })
    }

    /// Whether `x` has the same acts done as `y` and is at least as good.
    fn beats(&self, x: &State, y: &State) -> bool {
        let switch = if x.last == y.last { 0 } else { self.switch };
        let there = if x.place == y.place {
            x.t + switch <= y.t && x.stay <= y.stay.max(y.t)
        } else {
            (x.t + switch).max(x.t.max(x.stay) + self.travel) <= y.t
        };
        x.done <= y.done
            && there
            && x.at.iter().zip(&y.at).all(|(x_at, y_at)| {
                let waits = x_at.limit != NEVER || y_at.limit != NEVER;
                x_at.pos == y_at.pos
                    && if waits {
                        x_at.ready == y_at.ready && x_at.limit >= y_at.limit
                    } else {
                        x_at.ready <= y_at.ready.max(y.t)
                    }
            })
    }

    /// How pressing what is left is: the longest ways count most.
    fn pressing(&self, state: &State, root: i32, power: i32) -> f64 {
        let span = f64::from((root - self.now).max(1));
        let open = (0..self.chains.len()).filter(|k| self.is_open(state, *k));
        open.map(|k| {
            let start = self.reach(state, k).max(state.at[k].ready);
            let tail = self.next(state, k).map_or(0, |act| act.tail);
            (f64::from(start + tail - self.now) / span).powi(power)
        })
        .sum()
    }

    /// Walks an order from the start, putting off what keeps others waiting too long; nothing where that cannot be helped.
    fn repaired(&self, order: &[u16], mut put_off: Vec<i32>) -> Option<(State, Vec<i32>)> {
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
    pub(super) fn walked(&self, order: &Order) -> Vec<Walked> {
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
                best.order = Some(Order {
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

    /// One pass of so wide a beam; whether nothing was cut.
    fn pass(&self, start: &State, acts: usize, beam: &Beam, best: &mut Best) -> bool {
        let mut log: Vec<(u32, u16)> = Vec::new();
        let mut layer = vec![start.clone()];
        let mut least_cut = NEVER;
        let mut dropped = false;
        for _ in 0..acts {
            let mut children: Vec<(i32, f64, u32, u16, State)> = Vec::new();
            for (parent, state) in layer.iter().enumerate() {
                for k in 0..self.chains.len() {
                    if !self.is_open(state, k) || self.is_idle(state, k) {
                        continue;
                    }
                    best.nodes += 1;
                    let mut child = self.append(state, k, 0);
                    if self.missed(&child).is_some() {
                        dropped = true;
                        if !beam.repairs {
                            continue;
                        }
                        let mut order = order_of(&log, state.node);
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
            let mut kept: Vec<State> = Vec::new();
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
            best.order = Some(Order {
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
    fn one_machine(&self, start: &State) -> i32 {
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

impl Chain {
    fn has_limit(&self) -> bool {
        self.lead_limit != NEVER || self.acts.iter().any(|act| act.limit != NEVER)
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

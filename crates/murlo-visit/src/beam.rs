//! The states of the beam: which act may come next, and what it leads to.

use crate::compile::{Chain, ChainAct, Compiled, NEVER};
use smallvec::{SmallVec, smallvec};
use std::rc::Rc;

impl Compiled {
    pub(crate) fn next<'a>(&'a self, state: &BeamState, k: usize) -> Option<&'a ChainAct> {
        self.chains[k].acts.get(usize::from(state.at[k].pos))
    }

    /// Whether it has an act left and all that comes before it is over.
    pub(crate) fn is_open(&self, state: &BeamState, k: usize) -> bool {
        !self.is_done(state, k) && self.may_begin(state, k)
    }

    fn is_done(&self, state: &BeamState, k: usize) -> bool {
        usize::from(state.at[k].pos) >= self.chains[k].acts.len()
    }

    fn may_begin(&self, state: &BeamState, k: usize) -> bool {
        let all_before = &self.chains[k].all_before;
        all_before.iter().all(|b| self.is_done(state, *b))
    }

    fn reach(&self, state: &BeamState, k: usize) -> i32 {
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

    pub(crate) fn start(&self, ignore_limits: bool) -> BeamState {
        let n = self.chains.len();
        let unbegun = ChainProgress {
            pos: 0,
            ready: self.now,
            limit: NEVER,
        };
        let mut state = BeamState {
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
    fn release(&self, state: &mut BeamState, k: usize) {
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
    pub(crate) fn append(&self, state: &BeamState, k: usize, earliest: i32) -> BeamState {
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
        next.at[k] = ChainProgress {
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
    pub(crate) fn missed(&self, state: &BeamState) -> Option<(usize, i32)> {
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
    pub(crate) fn bound(&self, state: &BeamState) -> i32 {
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
    pub(crate) fn is_idle(&self, state: &BeamState, k: usize) -> bool {
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
    pub(crate) fn beats(&self, x: &BeamState, y: &BeamState) -> bool {
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
    pub(crate) fn pressing(&self, state: &BeamState, root: i32, power: i32) -> f64 {
        let span = f64::from((root - self.now).max(1));
        let open = (0..self.chains.len()).filter(|k| self.is_open(state, *k));
        open.map(|k| {
            let start = self.reach(state, k).max(state.at[k].ready);
            let tail = self.next(state, k).map_or(0, |act| act.tail);
            (f64::from(start + tail - self.now) / span).powi(power)
        })
        .sum()
    }
}

/// Nobody's turn yet.
const NONE: u16 = u16::MAX;

/// How much the longest ways count; taken in turn.
pub(crate) const POWERS: [i32; 2] = [8, 4];

/// Where a visit stands after some acts.
#[derive(Debug, Clone)]
pub(crate) struct BeamState {
    /// The hands are free.
    pub(crate) t: i32,
    /// The person may leave the place.
    stay: i32,
    place: usize,
    last: u16,
    /// What is over so far ends.
    pub(crate) done: i32,
    /// How far each chain is.
    pub(crate) at: Box<[ChainProgress]>,
    /// The same for states with the same acts done, and hardly ever for others.
    pub(crate) done_mark: u64,
    /// Its act in the log of the pass.
    pub(crate) node: u32,
    /// Acts that were put off: the earliest start of each act of the order.
    pub(crate) put_off: Option<Rc<[i32]>>,
}

/// How far a chain is.
#[derive(Debug, Clone, Copy)]
pub(crate) struct ChainProgress {
    /// Acts done.
    pub(crate) pos: u16,
    /// When the next act may begin; when it was over, for one that is done.
    pub(crate) ready: i32,
    /// When it must have begun.
    pub(crate) limit: i32,
}

/// The order of chains, with the earliest starts of acts that were put off.
pub(super) struct ChainOrder {
    pub chains: Vec<u16>,
    pub(crate) put_off: Vec<i32>,
}

/// An act as it is done.
#[derive(Debug, Clone, Copy)]
pub(super) struct Walked {
    pub chain: usize,
    pub act: usize,
    pub start: i32,
    pub end: i32,
}

impl Chain {
    pub(crate) fn has_limit(&self) -> bool {
        self.lead_limit != NEVER || self.acts.iter().any(|act| act.limit != NEVER)
    }
}

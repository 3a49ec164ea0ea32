//! A visit turned into chains of acts, in seconds.

use crate::model::{At, Presence, Schedulable, Segment};

impl Schedulable {
    /// The visit as chains, without what is done already or in `left_out` (by place among jobs, then chores).
    pub(super) fn compile(&self, left_out: &[bool]) -> Compiled {
        let mut places: Vec<Option<String>> = Vec::new();
        let mut place = |name: Option<&str>| {
            places
                .iter()
                .position(|p| p.as_deref() == name)
                .unwrap_or_else(|| {
                    places.push(name.map(str::to_owned));
                    places.len() - 1
                })
        };
        let kept = |n: usize| !left_out.get(n).copied().unwrap_or(false);
        let mut chains: Vec<Chain> = Vec::new();
        let mut of_job = vec![None; self.jobs.len()];
        for (n, job) in self.jobs.iter().enumerate() {
            if job.at == Some(At::Done) || !kept(n) {
                continue;
            }
            of_job[n] = Some(chains.len());
            chains.push(chain(
                n,
                false,
                place(job.place.as_deref()),
                &job.segments,
                job.at,
                self.now,
            ));
        }
        for (n, job) in self.jobs.iter().enumerate() {
            let Some(k) = of_job[n].filter(|_| job.at.is_none()) else {
                continue;
            };
            let position = |id: &String| self.jobs.iter().position(|o| o.id == *id);
            let before = job
                .after
                .iter()
                .filter_map(position)
                .filter_map(|i| of_job[i]);
            chains[k].before = before.collect();
            for b in chains[k].before.clone() {
                chains[b].followers.push(k);
            }
        }
        let first_chore = chains.len();
        for (n, chore) in self.chores.iter().enumerate() {
            if chore.at == Some(At::Done) || !kept(self.jobs.len() + n) {
                continue;
            }
            let only = Segment {
                id: chore.id.clone(),
                doing: Presence::Hands,
                seconds: chore.seconds,
                max: None,
            };
            let mut one = chain(
                n,
                true,
                place(chore.place.as_deref()),
                &[only],
                chore.at,
                self.now,
            );
            one.behind = equal_before(&chains[first_chore..], &one).map(|i| first_chore + i);
            chains.push(one);
        }
        let place_now = self.place_now.as_deref().map(|name| place(Some(name)));
        tails(&mut chains);
        surroundings(&mut chains);
        Compiled {
            places: places.len(),
            place_now,
            chains,
            travel: self.travel,
            switch: self.switch,
            now: self.now,
        }
    }
}

/// No limit.
pub(super) const NEVER: i32 = i32::MAX;

/// One thing the hands do.
#[derive(Debug, Clone)]
pub(super) struct ChainAct {
    /// The segment it comes from.
    pub segment: usize,
    /// Hands.
    pub ticks: i32,
    /// How long somebody must stay after it.
    pub near: i32,
    /// How long the next act must wait after it.
    pub lag: i32,
    /// The next act begins at most so long after it.
    pub limit: i32,
    /// From its start to the end of everything that follows from it.
    pub tail: i32,
    /// Hands from here on in its chain.
    pub hands_left: i32,
    /// Hands and nearness from here on in its chain.
    pub presence_left: i32,
}

/// A job or chore as acts.
#[derive(Debug, Clone)]
pub(super) struct Chain {
    /// Its place in the visit.
    pub job: usize,
    pub is_chore: bool,
    pub place: usize,
    pub acts: Vec<ChainAct>,
    pub before: Vec<usize>,
    /// Everything whose acts come before its own.
    pub all_before: Vec<usize>,
    pub followers: Vec<usize>,
    /// When its first act may begin: absolute for what runs already, else after what comes before.
    pub lead: i32,
    pub lead_limit: i32,
    /// Counts from here; from what comes before it where that is not done.
    pub base: i32,
    /// An equal chore that goes first.
    pub behind: Option<usize>,
    /// What runs in it now holds the hands until then.
    pub holds: Option<i32>,
    /// What runs in it now holds the person near until then.
    pub stays: Option<i32>,
    /// Segments that run by themselves at its beginning: which, from when to when.
    pub running: Vec<(usize, i32, i32)>,
    /// From the end of its last act to the end of everything that follows from it.
    pub closing: i32,
    /// A figure of its own.
    pub mark: u64,
}

/// A visit compiled.
#[derive(Debug, Clone)]
pub(super) struct Compiled {
    pub chains: Vec<Chain>,
    pub places: usize,
    pub place_now: Option<usize>,
    pub travel: i32,
    pub switch: i32,
    pub now: i32,
}

impl Chain {
    fn new(job: usize, is_chore: bool, place: usize, base: i32) -> Self {
        Self {
            job,
            is_chore,
            place,
            acts: Vec::new(),
            before: Vec::new(),
            all_before: Vec::new(),
            followers: Vec::new(),
            lead: 0,
            lead_limit: NEVER,
            base,
            behind: None,
            holds: None,
            stays: None,
            running: Vec::new(),
            closing: 0,
            mark: 0,
        }
    }

    /// Writes down with each act what is left from it on.
    fn count_left(&mut self) {
        let (mut hands, mut presence) = (0, 0);
        for act in self.acts.iter_mut().rev() {
            hands += act.ticks;
            presence += act.ticks + act.near;
            act.hands_left = hands;
            act.presence_left = presence;
        }
    }
}

/// The last of `chores` that is as long and at the same place, where neither runs: equal chores go in order.
fn equal_before(chores: &[Chain], one: &Chain) -> Option<usize> {
    chores.iter().rposition(|other| {
        other.place == one.place
            && other.holds.is_none()
            && one.holds.is_none()
            && other.acts[0].ticks == one.acts[0].ticks
    })
}

/// The segments from where the job stands, as acts.
pub(crate) fn chain(
    job: usize,
    is_chore: bool,
    place: usize,
    segments: &[Segment],
    at: Option<At>,
    now: i32,
) -> Chain {
    let mut one = Chain::new(job, is_chore, place, now);
    let (from, since) = match at {
        Some(At::Segment(from, since)) => (from, since),
        _ => (0, None),
    };
    // Whether what is walked still runs by itself since the base.
    let mut runs = since.is_some_and(|_| segments[from].doing != Presence::Hands);
    if let Some(since) = since {
        one.base = since;
    }
    let mut free = false;
    for (i, segment) in segments.iter().enumerate().skip(from) {
        let max = segment.max.unwrap_or(NEVER);
        let limit = |before: i32| if max == NEVER { NEVER } else { before + max };
        match (segment.doing, one.acts.last_mut()) {
            (Presence::Hands, _) => {
                let mut ticks = segment.seconds;
                if let Some(since) = since.filter(|_| i == from) {
                    let ends = now.max(since + segment.seconds);
                    one.holds = Some(ends);
                    one.base = now;
                    ticks = ends - now;
                }
                one.acts.push(act(i, ticks));
                runs = false;
            }
            (Presence::Near, Some(last)) if last.lag == last.near => {
                last.limit = limit(last.lag);
                last.near += segment.seconds;
                last.lag += segment.seconds;
            }
            (Presence::Near, None) if runs && !free => {
                let starts = one.base + one.lead;
                one.running.push((i, starts, starts + segment.seconds));
                one.stays = Some(starts + segment.seconds);
                one.lead_limit = limit(one.lead);
                one.lead += segment.seconds;
            }
            (Presence::Near, _) => {
                let mut near = act(i, 0);
                near.limit = limit(0);
                near.near = segment.seconds;
                near.lag = segment.seconds;
                one.acts.push(near);
                runs = false;
            }
            (Presence::Free, Some(last)) => {
                last.limit = limit(last.lag);
                last.lag += segment.seconds;
            }
            (Presence::Free, None) => {
                let starts = one.base + one.lead;
                one.running.push((i, starts, starts + segment.seconds));
                one.lead_limit = limit(one.lead);
                one.lead += segment.seconds;
                free = true;
            }
        }
    }
    one.count_left();
    one
}

const fn act(segment: usize, ticks: i32) -> ChainAct {
    ChainAct {
        segment,
        ticks,
        near: 0,
        lag: 0,
        limit: NEVER,
        tail: 0,
        hands_left: 0,
        presence_left: 0,
    }
}

/// From each act to the end of everything that follows from it.
fn tails(chains: &mut [Chain]) {
    fn head(chains: &[Chain], k: usize, known: &mut [Option<Vec<i32>>]) -> i32 {
        if known[k].is_none() {
            let next = chains[k]
                .followers
                .iter()
                .map(|f| chains[*f].lead + head(chains, *f, known));
            let mut after = next.max().unwrap_or(0);
            let mut tails = vec![0; chains[k].acts.len()];
            for (i, act) in chains[k].acts.iter().enumerate().rev() {
                after += act.ticks + act.lag;
                tails[i] = after;
            }
            known[k] = Some(tails);
            if chains[k].acts.is_empty() {
                return after;
            }
        }
        known[k]
            .as_ref()
            .and_then(|t| t.first().copied())
            .unwrap_or(0)
    }
    let mut known = vec![None; chains.len()];
    for k in 0..chains.len() {
        head(chains, k, &mut known);
    }
    for (chain, tails) in chains.iter_mut().zip(known) {
        for (act, tail) in chain.acts.iter_mut().zip(tails.unwrap_or_default()) {
            act.tail = tail;
        }
    }
}

/// What depends on several chains: all that comes before each, and what closes after its last act.
fn surroundings(chains: &mut [Chain]) {
    fn gather(chains: &[Chain], k: usize, all: &mut Vec<usize>) {
        for b in chains[k].before.iter().copied().chain(chains[k].behind) {
            if !all.contains(&b) {
                all.push(b);
                gather(chains, b, all);
            }
        }
    }
    for k in 0..chains.len() {
        let mut all_before = Vec::new();
        gather(chains, k, &mut all_before);
        let follow = chains[k].followers.iter().map(|f| {
            let first = chains[*f].acts.first();
            chains[*f].lead + first.map_or(0, |act| act.tail)
        });
        let closing = chains[k].acts.last().map_or(0, |act| act.lag) + follow.max().unwrap_or(0);
        let one = &mut chains[k];
        one.all_before = all_before;
        one.closing = closing;
        // Odd and far apart, so that sums of several tell which they are of.
        one.mark = (k as u64 + 1)
            .wrapping_mul(0x9E37_79B9_7F4A_7C15)
            .rotate_left(31)
            | 1;
    }
}

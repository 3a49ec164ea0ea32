//! The filter itself: the grid, and what each event does to it.
#![allow(
    clippy::needless_range_loop,
    reason = "several grids are walked by one index"
)]

use crate::belief::evidence::{
    self, Brought, Checks, Cup, Cycle, NOTICING, Witnessed, Witnessing, unnoticed,
};
use crate::belief::grid::{ByZ, C, N, Z};
use crate::belief::leaves::Leaves;
use murlo_chemistry::cleaning::Left;

/// The source shown with every figure of this module.
pub const SOURCE: &str =
    "Bayesian filter over growth, chalk and noticing; constants judged and checked by simulation";

/// One step of growth, in spreads.
const STEP: f64 = 0.28;

/// Weights of the three points of what a clean leaves.
const POINTS: [f64; Z] = [0.3, 0.4, 0.3];

/// Growth wanders by this spread of its logarithm from clean to clean. Judged.
const DRIFT: f64 = 0.08;

/// No spread is smaller than this, nor than this share of the largest that the waters had.
const LEAST_SPREAD: f64 = 0.001;

const LEAST_OF_LARGEST: f64 = 0.3;

/// A witness that has spoken so often says no more: the weight of its next word is below a millionth.
const MOST_ROOTS: u32 = 20;

/// What is known of a circuit before anything was seen.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Prior {
    /// Chalk at which it suffers, mg.
    pub limit_mg: f64,
    /// Share of the potential that sticks, usually.
    pub plating: f64,
    /// Spread of its logarithm from circuit to circuit.
    pub sigma_plating: f64,
    /// Spread from what is known of the use.
    pub sigma_use: f64,
    /// Spread from what is known of the first water.
    pub sigma_water: f64,
    /// Chalk at the start, as shares of the limit.
    pub start: Left,
    /// Litres × potential that had passed before the start since its chalk began to grow, mg: P10, median and P90.
    pub before_mg: [f64; 3],
}

impl Prior {
    /// Spread of what does not change with the water, squared.
    pub(crate) fn own(&self) -> f64 {
        self.sigma_plating.powi(2) + self.sigma_use.powi(2)
    }

    fn spread(&self, sigma_water: f64) -> f64 {
        (self.own() + sigma_water * sigma_water)
            .sqrt()
            .max(LEAST_SPREAD)
    }
}

/// What is believed.
#[derive(Debug, Clone)]
pub struct Belief {
    pub(crate) prior: Prior,
    /// Spread of the grid, and of the water now.
    pub(crate) spread: f64,
    pub(crate) sigma_water: f64,
    /// Logarithm of true growth over reckoned growth.
    pub(crate) x: [f64; N],
    /// Share of the limit a mg of potential adds.
    pub(crate) k: [f64; N],
    pub(crate) weight: [[[f64; N]; C]; Z],
    pub(crate) used: ByZ,
    /// How many baths have told something before.
    pub(crate) baths_told: u32,
}

impl Belief {
    /// Everything up to today: `events` in the order told, and the potential that passed since the last of them.
    #[must_use]
    pub fn from(prior: Prior, events: &[Witnessing], since_mg: f64) -> Self {
        Self::watched(prior, events, since_mg, |_| {})
    }

    /// The same; `before_clean` sees what is believed just before each clean, in their order.
    #[must_use]
    pub fn watched(
        prior: Prior,
        events: &[Witnessing],
        since_mg: f64,
        mut before_clean: impl FnMut(&Self),
    ) -> Self {
        let mut now = Self::new(prior, events);
        let mut rest = events;
        loop {
            let clean = rest
                .iter()
                .position(|e| matches!(e.what, Witnessed::Clean { .. }));
            let (cycle, after) = rest.split_at(clean.map_or(rest.len(), |i| i + 1));
            let mut seen = Cycle::of(cycle);
            for event in cycle {
                now.grow(event.potential_mg);
                now.take(event, &mut seen, &mut before_clean);
            }
            if clean.is_none() {
                now.grow(since_mg);
                now.close(&seen);
                now.normalise();
                return now;
            }
            rest = after;
        }
    }

    fn new(prior: Prior, events: &[Witnessing]) -> Self {
        let waters = events.iter().filter_map(|e| match e.what {
            Witnessed::Water { sigma } => Some(prior.spread(sigma)),
            Witnessed::Sign { .. } | Witnessed::Timed { .. } | Witnessed::Clean { .. } => None,
        });
        let first = prior.spread(prior.sigma_water);
        let spread = waters.fold(first, f64::max);
        let mut now = Self {
            prior,
            spread,
            sigma_water: prior.sigma_water,
            x: [0.0; N],
            k: [0.0; N],
            weight: [[[0.0; N]; C]; Z],
            used: [prior.start.p10, prior.start.median, prior.start.p90].map(|u| [u; N]),
            baths_told: 0,
        };
        for i in 0..N {
            now.x[i] = (i as f64 - (N - 1) as f64 / 2.0) * STEP * spread;
            now.k[i] = now.x[i].exp() * prior.plating / prior.limit_mg;
            for z in 0..Z {
                now.used[z][i] += now.k[i] * prior.before_mg[z];
            }
        }
        let own = first.max(LEAST_OF_LARGEST * spread);
        let likely = now.x.map(|x| {
            let y = x / (0.9 * own);
            // Tails, for circuits unlike their kind.
            0.85 * (-y * y / 2.0).exp() + 0.075 * (-y * y / 8.0).exp()
        });
        for z in 0..Z {
            for c in 0..C {
                now.weight[z][c] = likely.map(|likely| likely * POINTS[z] * NOTICING[c]);
            }
        }
        now.normalise();
        now
    }

    /// Multiplies by a likelihood of the chalk, the same however a person notices; one whose witness has spoken so often before
    /// counts half as much each time. Weights are brought back to a sum of one after each clean.
    fn weigh(&mut self, likely: impl Fn(f64) -> f64, spoken: u32) {
        let mut rows = [[1.0; N]; Z];
        speak(&mut rows, &self.used, likely, spoken);
        for (weights, row) in self.weight.iter_mut().zip(&rows) {
            for weight in weights {
                for i in 0..N {
                    weight[i] *= row[i];
                }
            }
        }
    }

    /// The same if a cup were timed now, the first thing that is told from clean to clean.
    pub(crate) fn if_timed(&self, ratio: f64) -> Self {
        let (mut then, cup) = (self.clone(), Cup::of(ratio));
        then.weigh(|u| cup.likely(u), 0);
        then.normalise();
        then
    }

    fn normalise(&mut self) {
        let scale = to_one(self.by_growth().as_flattened().iter().sum());
        for weight in self.weight.iter_mut().flatten().flatten() {
            *weight *= scale;
        }
    }

    /// Weight by growth and outcome, however the person notices.
    pub(crate) fn by_growth(&self) -> ByZ {
        let mut sums = [[0.0; N]; Z];
        for z in 0..Z {
            for c in 0..C {
                for i in 0..N {
                    sums[z][i] += self.weight[z][c][i];
                }
            }
        }
        sums
    }

    pub(crate) fn grow(&mut self, potential_mg: f64) {
        for used in &mut self.used {
            for (used, k) in used.iter_mut().zip(&self.k) {
                *used += k * potential_mg;
            }
        }
    }

    fn take(
        &mut self,
        event: &Witnessing,
        cycle: &mut Cycle,
        before_clean: &mut impl FnMut(&Self),
    ) {
        match &event.what {
            Witnessed::Sign { told: false, .. } => {}
            Witnessed::Sign { dated, .. } => {
                if !cycle.told {
                    cycle.seen.push((if *dated { 5.0 } else { 2.5 }, self.used));
                }
            }
            Witnessed::Timed { ratio } => {
                let again = cycle.signs > 0 || cycle.cups > 0;
                cycle.cups += 1;
                let cup = Cup::of(*ratio);
                self.weigh(|u| cup.likely(u), u32::from(again));
            }
            Witnessed::Water { sigma } => {
                if !cycle.seen.is_empty() && !cycle.told {
                    self.hear(cycle);
                    cycle.told = true;
                }
                self.change_water(*sigma);
            }
            Witnessed::Clean {
                left,
                brought,
                checks,
                failed,
            } => {
                self.close(cycle);
                before_clean(self);
                let seen = (*checks, failed.as_ref());
                self.clean(left, *brought, seen, cycle.signs > 0);
            }
        }
    }

    /// A clean that leaves such shares, with what was seen of its baths and its result. What both say is gathered first: the
    /// weights are walked once for all of it.
    fn clean(
        &mut self,
        left: &Leaves,
        brought: Option<Brought>,
        (checks, failed): (Checks, Option<&(Leaves, Checks)>),
        has_signs: bool,
    ) {
        let verdict = evidence::verdict;
        let mass = self.redraw();
        let mut said = [[1.0; N]; Z];
        if let Some((until_then, checks)) = failed
            && let Some((at, false)) = checks.telling()
        {
            // Of what was left then: the good result that followed another bath says nothing of it.
            let mut still = self.used;
            for (still, left) in still.iter_mut().zip(&until_then.shares(&self.used)) {
                for i in 0..N {
                    still[i] *= left[i];
                }
            }
            speak(&mut said, &still, |u| verdict(u, at, false), 0);
        }
        let left = left.shares(&self.used);
        if let Some(brought) = brought {
            let spoken = self.baths_told + u32::from(has_signs);
            let mut gone = self.used;
            for (gone, left) in gone.iter_mut().zip(&left) {
                for i in 0..N {
                    gone[i] *= 1.0 - left[i];
                }
            }
            // Told apart out here: a loop without branches takes several values at once.
            match brought {
                Brought::None => speak(&mut said, &gone, |u| Brought::None.likely(u), spoken),
                Brought::Some => speak(&mut said, &gone, |u| Brought::Some.likely(u), spoken),
                Brought::Lot => speak(&mut said, &gone, |u| Brought::Lot.likely(u), spoken),
                Brought::VeryMuch => {
                    speak(&mut said, &gone, |u| Brought::VeryMuch.likely(u), spoken)
                }
            }
            self.baths_told += 1;
        }
        for (used, left) in self.used.iter_mut().zip(&left) {
            for i in 0..N {
                used[i] *= left[i];
            }
        }
        match checks.telling() {
            Some((at, true)) => speak(&mut said, &self.used, |u| verdict(u, at, true), 0),
            Some((at, false)) => speak(&mut said, &self.used, |u| verdict(u, at, false), 0),
            None => {}
        }
        // By growth first: a sum one after the other waits for each.
        let mut sums = [0.0; N];
        for (mass, said) in mass.iter().zip(&said) {
            for i in 0..N {
                sums[i] += mass[i] * said[i];
            }
        }
        self.drift(&said, to_one(sums.iter().sum()));
    }

    /// The word of a cycle's signs, or of their absence, at its end.
    fn close(&mut self, cycle: &Cycle) {
        match (cycle.told, cycle.signs) {
            (true, _) => {}
            (false, 0) => self.silence(),
            (false, _) => self.hear(cycle),
        }
    }

    /// Nothing was noticed: years of that only feed "never".
    fn silence(&mut self) {
        for z in 0..Z {
            let [early, usual, late, _] = &mut self.weight[z];
            for i in 0..N {
                let [a, b, c] = unnoticed(self.used[z][i]);
                early[i] *= 0.1 + 0.9 * a;
                usual[i] *= 0.1 + 0.9 * b;
                late[i] *= 0.1 + 0.9 * c;
            }
        }
    }

    /// The signs of one cycle are one observation: the first counts most.
    fn hear(&mut self, cycle: &Cycle) {
        let e = cycle.other_cause;
        let share = |j: usize| match (cycle.signs, j) {
            (1, _) => 1.0,
            (_, 0) => 0.7,
            (all, _) => 0.3 / (all - 1) as f64,
        };
        for z in 0..Z {
            for c in 0..C {
                for i in 0..N {
                    let each = cycle.seen.iter().enumerate();
                    let likely = |(j, (steep, used)): (usize, &(f64, ByZ))| {
                        share(j) * evidence::sign(used[z][i], c, *steep, e)
                    };
                    self.weight[z][c][i] *= each.map(likely).sum::<f64>();
                }
            }
        }
        // What is left out of a whole may become very little.
        self.normalise();
    }

    /// Another source of water: the part of the growth that was the old water's is forgotten.
    fn change_water(&mut self, sigma: f64) {
        let own = self.prior.own();
        let old = self.sigma_water * self.sigma_water;
        let kept = own / (own + old);
        let var = (kept * old + sigma * sigma).max(1e-6);
        let sums = self.by_growth();
        let mut weight = [[[0.0; N]; C]; Z];
        let (mut used, mut mass) = ([[0.0; N]; Z], [[0.0; N]; Z]);
        for i in 0..N {
            let mut row: [f64; N] = std::array::from_fn(|j| {
                let off = self.x[j] - kept * self.x[i];
                (-off * off / (2.0 * var)).exp()
            });
            let sum: f64 = row.iter().sum();
            row.iter_mut().for_each(|m| *m /= sum);
            for z in 0..Z {
                for j in 0..N {
                    for c in 0..C {
                        weight[z][c][j] += row[j] * self.weight[z][c][i];
                    }
                    used[z][j] += row[j] * sums[z][i] * self.used[z][i];
                    mass[z][j] += row[j] * sums[z][i];
                }
            }
        }
        for z in 0..Z {
            for j in 0..N {
                if mass[z][j] > 0.0 {
                    self.used[z][j] = used[z][j] / mass[z][j];
                }
            }
        }
        self.weight = weight;
        self.sigma_water = sigma;
        self.normalise();
    }

    /// What the next clean leaves is half this circuit's way, half new: half of the weight keeps its outcome. Gives the weight by
    /// growth and outcome after it.
    fn redraw(&mut self) -> ByZ {
        let (mut all, mut by_noticing) = ([0.0; N], [[0.0; N]; C]);
        let mut sums = [[0.0; N]; Z];
        for z in 0..Z {
            for c in 0..C {
                for i in 0..N {
                    by_noticing[c][i] += self.weight[z][c][i];
                    sums[z][i] += self.weight[z][c][i];
                }
            }
            for i in 0..N {
                all[i] += sums[z][i] * self.used[z][i];
            }
        }
        let mut masses = [[0.0; N]; Z];
        for z in 0..Z {
            let new = 0.5 * POINTS[z];
            let mass = &mut masses[z];
            for c in 0..C {
                for i in 0..N {
                    let drawn = 0.5 * self.weight[z][c][i] + new * by_noticing[c][i];
                    self.weight[z][c][i] = drawn;
                    mass[i] += drawn;
                }
            }
            for i in 0..N {
                let sum = 0.5 * sums[z][i] * self.used[z][i] + new * all[i];
                // Stored either way: a loop without branches takes several at once.
                let mean = sum / mass[i];
                self.used[z][i] = if mass[i] > 0.0 { mean } else { self.used[z][i] };
            }
        }
        masses
    }

    /// Weighs by what was said, and lets growth wander.
    fn drift(&mut self, said: &ByZ, scale: f64) {
        let step = STEP * self.spread;
        let g = (DRIFT * DRIFT / (2.0 * step * step)).min(1.0 / 3.0);
        let (kept, moved) = (scale * (1.0 - 2.0 * g), scale * g);
        for (rows, said) in self.weight.iter_mut().zip(said) {
            for row in rows {
                let mut before = *row;
                for i in 0..N {
                    before[i] *= said[i];
                }
                for i in 1..N - 1 {
                    row[i] = kept * before[i] + moved * (before[i - 1] + before[i + 1]);
                }
                // The ends keep what would leave.
                row[0] = (kept + moved) * before[0] + moved * before[1];
                row[N - 1] = (kept + moved) * before[N - 1] + moved * before[N - 2];
            }
        }
    }
}

/// What brings weights of that sum back to one.
fn to_one(sum: f64) -> f64 {
    if sum > 0.0 { 1.0 / sum } else { 1.0 }
}

/// Multiplies by how likely it is with each chalk; a witness that has spoken so often before counts half as much each time.
#[inline]
fn speak(said: &mut ByZ, chalk: &ByZ, likely: impl Fn(f64) -> f64, spoken: u32) {
    for (said, chalk) in said.iter_mut().zip(chalk) {
        let mut row = [0.0; N];
        for i in 0..N {
            row[i] = likely(chalk[i]);
        }
        for _ in 0..spoken.min(MOST_ROOTS) {
            row.iter_mut().for_each(|likely| *likely = likely.sqrt());
        }
        for i in 0..N {
            said[i] *= row[i];
        }
    }
}

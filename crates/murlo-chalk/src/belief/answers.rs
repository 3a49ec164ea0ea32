//! What is answered from a belief: windows, and which observation would sharpen it most.
#![allow(
    clippy::needless_range_loop,
    reason = "several grids are walked by one index"
)]

use super::Belief;
use super::evidence::{Brought, Cup, NOTICES, h};
use super::grid::{ByZ, C, N, Z};

/// Median with P10 and P90.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Window {
    /// One in ten is below.
    pub p10: f64,
    /// Half are.
    pub median: f64,
    /// Nine in ten are.
    pub p90: f64,
}

/// Something that could be seen.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Sharper {
    /// A cup timed today.
    CupToday,
    /// A cup timed on the due day.
    CupWhenDue,
    /// What the bath brings out on the due day.
    BathWhenDue,
    /// The first day on which it shows.
    FirstSign,
    /// A report or label of the water instead of a strip.
    WaterReport,
}

/// What a clean is taken to leave where it is only imagined.
const IMAGINED: [f64; Z] = [0.05, 0.15, 0.4];
/// Days at which a first sign may come, as shares of the time to go.
const SIGN_AT: [f64; 6] = [0.5, 0.8, 1.0, 1.25, 1.6, 2.2];

impl Belief {
    /// Share of the limit used.
    #[must_use]
    pub fn used(&self) -> Window {
        self.window(&self.used)
    }

    /// The chance that the limit is reached.
    #[must_use]
    pub(crate) fn chance_reached(&self) -> f64 {
        let spread = Spread::new(self.used, self.by_growth());
        (1.0 - spread.below(1.0) / spread.whole).clamp(0.0, 1.0)
    }

    /// Potential until the limit, mg; negative when it is passed.
    #[must_use]
    pub fn to_go_mg(&self) -> Window {
        let mut to_go = self.used;
        for row in &mut to_go {
            for (value, k) in row.iter_mut().zip(&self.k) {
                *value = (1.0 - *value) / k;
            }
        }
        self.window(&to_go)
    }

    /// Chalk when `potential_mg` more has passed, or had not passed yet, as a share of the limit.
    #[must_use]
    pub(crate) fn used_after(&self, potential_mg: f64) -> Window {
        self.later(potential_mg).used()
    }

    /// The same circuit when `potential_mg` more has passed and nothing was seen.
    #[must_use]
    pub fn later(&self, potential_mg: f64) -> Self {
        let mut later = self.clone();
        later.grow(potential_mg);
        later
    }

    /// The same circuit straight after a clean that left nothing.
    #[must_use]
    pub fn anew(&self) -> Self {
        Self {
            used: [[0.0; N]; Z],
            ..self.clone()
        }
    }

    /// True growth over reckoned growth, median.
    #[must_use]
    pub fn growth(&self) -> f64 {
        Spread::new([self.x; Z], self.by_growth())
            .quantile(0.5)
            .exp()
    }

    /// True growth over reckoned growth with its window.
    #[must_use]
    pub(crate) fn growth_window(&self) -> Window {
        let x = self.window(&[self.x; Z]);
        Window {
            p10: x.p10.exp(),
            median: x.median.exp(),
            p90: x.p90.exp(),
        }
    }

    fn window(&self, values: &ByZ) -> Window {
        let spread = Spread::new(*values, self.by_growth());
        Window {
            p10: spread.quantile(0.1),
            median: spread.quantile(0.5),
            p90: spread.quantile(0.9),
        }
    }

    /// Median share of the limit used.
    #[must_use]
    pub fn used_median(&self) -> f64 {
        Spread::new(self.used, self.by_growth()).quantile(0.5)
    }

    /// What each observation would leave of the spread of the growth, as a share, least first. `report_sigma` is the spread of
    /// the water's potential once a report of it is known; none where it is known already.
    #[must_use]
    pub(crate) fn would_sharpen(&self, report_sigma: Option<f64>) -> Vec<(Sharper, f64)> {
        let now = self.spread_given(|_, _, _| 1.0).1;
        if now <= 0.0 {
            return Vec::new();
        }
        let due_mg = self.to_go_mg().median.max(0.0);
        let on = |share: f64, z: usize, i: usize| self.used[z][i] + self.k[i] * due_mg * share;
        let cups = |share: f64| {
            let each = Cup::ALL.iter();
            each.map(|cup| self.expected(|z, _, i| cup.likely(on(share, z, i))))
                .sum::<f64>()
        };
        let baths = [Brought::None, Brought::Some, Brought::Lot].iter();
        let bath: f64 = baths
            .map(|b| self.expected(|z, _, i| b.likely(on(1.0, z, i) * (1.0 - IMAGINED[z]))))
            .sum();
        let unseen = |share: f64, z: usize, c: usize, i: usize| match NOTICES.get(c) {
            Some(at) => h::<5>(on(share, z, i), *at),
            None => 1.0,
        };
        let mut sign = self.expected(|z, c, i| 1.0 - unseen(SIGN_AT[0], z, c, i));
        for pair in SIGN_AT.windows(2) {
            sign += self.expected(|z, c, i| unseen(pair[0], z, c, i) - unseen(pair[1], z, c, i));
        }
        sign += self.expected(|z, c, i| unseen(SIGN_AT[SIGN_AT.len() - 1], z, c, i));
        let mut all = vec![
            (Sharper::CupToday, cups(0.0) / now),
            (Sharper::CupWhenDue, cups(1.0) / now),
            (Sharper::BathWhenDue, bath / now),
            (Sharper::FirstSign, sign / now),
        ];
        if let Some(sigma) = report_sigma.filter(|s| *s < self.sigma_water) {
            let own = self.prior.own();
            let before = own + self.sigma_water * self.sigma_water;
            let learned = (1.0 / (now * now) - 1.0 / before).max(0.0);
            let var = 1.0 / (1.0 / (own + sigma * sigma) + learned);
            all.push((Sharper::WaterReport, var.sqrt() / now));
        }
        all.sort_by(|a, b| a.1.total_cmp(&b.1));
        all
    }

    /// Chance of an outcome times the spread of the growth given it.
    fn expected(&self, likely: impl Fn(usize, usize, usize) -> f64) -> f64 {
        let (chance, spread) = self.spread_given(likely);
        chance * spread
    }

    fn spread_given(&self, likely: impl Fn(usize, usize, usize) -> f64) -> (f64, f64) {
        let (mut sum, mut mean, mut square) = (0.0, 0.0, 0.0);
        for z in 0..Z {
            for c in 0..C {
                for i in 0..N {
                    let w = self.weight[z][c][i] * likely(z, c, i);
                    sum += w;
                    mean += w * self.x[i];
                    square += w * self.x[i] * self.x[i];
                }
            }
        }
        if sum <= 0.0 {
            return (0.0, 0.0);
        }
        (sum, (square / sum - (mean / sum).powi(2)).max(0.0).sqrt())
    }
}

/// How some values are spread: linear between the values of each outcome and flat outside them.
struct Spread {
    /// Each outcome's values in order.
    values: ByZ,
    /// The weight below each.
    below: ByZ,
    whole: f64,
}

impl Spread {
    #[inline]
    fn new(values: ByZ, weights: ByZ) -> Self {
        let mut spread = Self {
            values,
            below: weights,
            whole: 0.0,
        };
        for (value, below) in spread.values.iter_mut().zip(&mut spread.below) {
            in_order(value, below);
            let mut sum = 0.0;
            for below in below {
                let half = *below / 2.0;
                *below = sum + half;
                sum += 2.0 * half;
            }
            spread.whole += sum;
        }
        spread
    }

    fn below(&self, v: f64) -> f64 {
        let each = self.values.iter().zip(&self.below);
        each.map(|(value, below)| below_in(value, below, v)).sum()
    }

    /// Between the last of all values with less than that share below it and the first with no less.
    fn quantile(&self, p: f64) -> f64 {
        let weight = p * self.whole;
        let (mut before, mut after) = (f64::NEG_INFINITY, f64::INFINITY);
        for column in &self.values {
            // What another outcome has settled needs no weighing.
            let first = column.partition_point(|value| {
                *value <= before || (*value < after && self.below(*value) < weight)
            });
            if first > 0 {
                before = before.max(column[first - 1]);
            }
            if first < N {
                after = after.min(column[first]);
            }
        }
        match (before.is_finite(), after.is_finite()) {
            (false, _) => after,
            (_, false) => before,
            _ => {
                let (f0, f1) = (self.below(before), self.below(after));
                before + (after - before) * (weight - f0) / (f1 - f0)
            }
        }
    }
}

/// One outcome's values from small to large, with their weights. Chalk rises with growth and time falls, so there is hardly ever
/// anything to sort.
fn in_order(value: &mut [f64; N], weight: &mut [f64; N]) {
    if value[0] > value[N - 1] {
        value.reverse();
        weight.reverse();
    }
    if !value.is_sorted() {
        let mut pairs: [(f64, f64); N] = std::array::from_fn(|i| (value[i], weight[i]));
        pairs.sort_by(|a, b| a.0.total_cmp(&b.0));
        for i in 0..N {
            (value[i], weight[i]) = pairs[i];
        }
    }
}

/// One outcome's weight below `v`; of equal values all count at once.
fn below_in(value: &[f64; N], below: &[f64; N], v: f64) -> f64 {
    match value.partition_point(|value| *value <= v) {
        0 => below[0],
        N => below[N - 1],
        n => {
            let slope = (below[n] - below[n - 1]) / (value[n] - value[n - 1]);
            below[n - 1] + slope * (v - value[n - 1])
        }
    }
}

//! What is answered from a belief: windows, and which observation would sharpen it most.

use super::evidence::{Brought, Cup, h};
use super::{Belief, ByZ, C, N, NOTICES, Z};

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
    pub fn used_after(&self, potential_mg: f64) -> Window {
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
        self.window(&[self.x; Z]).median.exp()
    }

    /// True growth over reckoned growth with its window.
    #[must_use]
    pub fn growth_window(&self) -> Window {
        let x = self.window(&[self.x; Z]);
        Window {
            p10: x.p10.exp(),
            median: x.median.exp(),
            p90: x.p90.exp(),
        }
    }

    fn window(&self, values: &ByZ) -> Window {
        let weights = self.by_growth();
        let columns: [Vec<(f64, f64)>; Z] =
            std::array::from_fn(|z| column(&values[z], &weights[z]));
        let mut at: Vec<f64> = columns.iter().flatten().map(|(v, _)| *v).collect();
        at.sort_unstable_by(f64::total_cmp);
        let mut below = [0; Z];
        let merged: Vec<(f64, f64)> = at
            .into_iter()
            .map(|v| {
                let parts = columns.iter().zip(&mut below);
                (v, parts.map(|(column, k)| share_below(column, v, k)).sum())
            })
            .collect();
        let quantile = |p: f64| {
            let i = merged.partition_point(|(_, f)| *f < p);
            match (i.checked_sub(1).map(|i| merged[i]), merged.get(i)) {
                (None, Some((v, _))) => *v,
                (Some((v, _)), None) => v,
                (Some((v0, f0)), Some((v1, f1))) => v0 + (v1 - v0) * (p - f0) / (f1 - f0),
                (None, None) => 0.0,
            }
        };
        Window {
            p10: quantile(0.1),
            median: quantile(0.5),
            p90: quantile(0.9),
        }
    }

    /// What each observation would leave of the spread of the growth, as a share, least first. `report_sigma` is the spread of
    /// the water's potential once a report of it is known; none where it is known already.
    #[must_use]
    pub fn would_sharpen(&self, report_sigma: Option<f64>) -> Vec<(Sharper, f64)> {
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
            Some(at) => h(on(share, z, i), *at, 5),
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

/// The values of one outcome in order, each with the weight below its middle.
fn column(values: &[f64; N], weights: &[f64; N]) -> Vec<(f64, f64)> {
    let mut sorted: Vec<(f64, f64)> = values
        .iter()
        .copied()
        .zip(weights.iter().copied())
        .collect();
    sorted.sort_by(|a, b| a.0.total_cmp(&b.0));
    let mut below = 0.0;
    for (_, weight) in &mut sorted {
        let half = *weight / 2.0;
        *weight = below + half;
        below += 2.0 * half;
    }
    sorted
}

/// The weight below `v`: linear between the values, flat outside them; `from` is where the last, smaller `v` was found.
fn share_below(column: &[(f64, f64)], v: f64, from: &mut usize) -> f64 {
    while *from < column.len() && column[*from].0 <= v {
        *from += 1;
    }
    match (from.checked_sub(1).map(|i| column[i]), column.get(*from)) {
        (Some((v0, f0)), Some((v1, f1))) => f0 + (f1 - f0) * (v - v0) / (v1 - v0),
        (Some((_, f)), None) => f,
        (None, Some((_, f))) => *f,
        (None, None) => 0.0,
    }
}

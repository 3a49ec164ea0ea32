//! How fast a bath takes chalk off, looked up: one table per acid over strength, temperature and what is dissolved already.
//!
//! A clean is computed in hundreds of small steps and advised by searching over dozens of cleans; the balance at the surface
//! that [`super::dissolve`] solves is solved here once, for a grid. Against it the flux is within 1 % of the fresh one.

use super::acid::{Acid, AcidBath};
use super::dissolve::Rates;
use std::f64::consts::FRAC_PI_2;
use std::sync::OnceLock;

/// True surface of a chalk film against a flat one.
pub const ROUGHNESS: f64 = 2.0;

const STRENGTHS: usize = 35;
const TEMPERATURES: usize = 11;
const LOADS: usize = 25;
/// Points along the surface from which a column of loads is filled.
const ALONG: u32 = 120;
/// g/L at both ends of the table, even in the logarithm between.
const G_PER_L: (f64, f64) = (0.5, 320.0);
/// °C at both ends, even between.
const CELSIUS: (f64, f64) = (10.0, 100.0);

/// One strength at one temperature.
#[derive(Clone, Copy)]
struct Node {
    ln_capacity: f64,
    ln_fresh: f64,
    /// Flux as a share of the fresh one, at loads even in the angle whose sine squared is the share of capacity.
    share: [f64; LOADS],
}

/// The flux of one acid.
pub struct Table {
    nodes: Vec<Node>,
}

/// A strength and a temperature within the table.
#[derive(Clone, Copy)]
pub struct Looked<'a> {
    corners: [&'a Node; 4],
    weights: [f64; 4],
    /// mol/L of CaCO3 at which nothing dissolves any more.
    pub capacity: f64,
    /// mol/cm²/s from a fresh bath.
    fresh: f64,
}

impl Table {
    /// The table of `acid` as weighed without crystal water, built when it is first asked for.
    #[must_use]
    pub fn of(acid: Acid) -> &'static Self {
        static TABLES: [OnceLock<Table>; 4] = [const { OnceLock::new() }; 4];
        let (slot, acid) = match acid {
            Acid::Acetic => (0, Acid::Acetic),
            Acid::Citric | Acid::CitricMonohydrate => (1, Acid::Citric),
            Acid::Lactic => (2, Acid::Lactic),
            Acid::Sulfamic => (3, Acid::Sulfamic),
        };
        TABLES[slot].get_or_init(|| Self::build(acid))
    }

    fn build(acid: Acid) -> Self {
        let mut nodes = Vec::with_capacity(STRENGTHS * TEMPERATURES);
        for s in 0..STRENGTHS {
            let along = s as f64 / (STRENGTHS - 1) as f64;
            let g_per_l = G_PER_L.0 * (along * (G_PER_L.1 / G_PER_L.0).ln()).exp();
            for t in 0..TEMPERATURES {
                let step = (CELSIUS.1 - CELSIUS.0) / (TEMPERATURES - 1) as f64;
                let bath = AcidBath::new(acid, g_per_l, CELSIUS.0 + step * t as f64);
                nodes.push(Node::new(&Rates::new(&bath, ROUGHNESS)));
            }
        }
        Self { nodes }
    }

    /// The flux at `g_per_l` and `temp_c`. Below the weakest bath of the table everything shrinks in proportion; beyond its
    /// other ends it is that of the end.
    #[must_use]
    pub fn at(&self, g_per_l: f64, temp_c: f64) -> Looked<'_> {
        let thin = (g_per_l / G_PER_L.0).clamp(0.0, 1.0);
        let strength = g_per_l.clamp(G_PER_L.0, G_PER_L.1) / G_PER_L.0;
        let (s, s1) = place(
            strength.ln() / (G_PER_L.1 / G_PER_L.0).ln() * (STRENGTHS - 1) as f64,
            STRENGTHS,
        );
        let (t, t1) = place(
            (temp_c - CELSIUS.0) / (CELSIUS.1 - CELSIUS.0) * (TEMPERATURES - 1) as f64,
            TEMPERATURES,
        );
        let node = |s: usize, t: usize| &self.nodes[s * TEMPERATURES + t];
        let corners = [
            node(s, t),
            node(s, t + 1),
            node(s + 1, t),
            node(s + 1, t + 1),
        ];
        let weights = [
            (1.0 - s1) * (1.0 - t1),
            (1.0 - s1) * t1,
            s1 * (1.0 - t1),
            s1 * t1,
        ];
        let mean = |of: fn(&Node) -> f64| -> f64 {
            let each = corners.iter().zip(weights).map(|(node, w)| w * of(node));
            each.sum()
        };
        Looked {
            corners,
            weights,
            capacity: thin * mean(|n| n.ln_capacity).exp(),
            fresh: thin * mean(|n| n.ln_fresh).exp(),
        }
    }
}

impl Looked<'_> {
    /// mol/cm²/s leaving the film while the bath holds `y` mol/L.
    #[must_use]
    pub fn flux(&self, y: f64) -> f64 {
        if y >= self.capacity {
            return 0.0;
        }
        let angle = (y.max(0.0) / self.capacity).sqrt().asin() / FRAC_PI_2;
        let (i, rest) = place(angle * (LOADS - 1) as f64, LOADS);
        let each = self.corners.iter().zip(self.weights);
        let share: f64 = each
            .map(|(n, w)| w * (n.share[i] + rest * (n.share[i + 1] - n.share[i])))
            .sum();
        self.fresh * share
    }
}

/// Where a place among `count` even points lies: the point before it, and how far towards the next; kept within them.
fn place(at: f64, count: usize) -> (usize, f64) {
    let at = at.clamp(0.0, (count - 1) as f64);
    let before = (at as usize).min(count - 2);
    (before, at - before as f64)
}

impl Node {
    fn new(rates: &Rates) -> Self {
        // Walked along the surface, where each state tells the bath it belongs to, so that no balance is solved.
        let (course, fresh) = rates.along_surface(ALONG);
        let mut share = [0.0; LOADS];
        let mut next = 1;
        for (i, slot) in share.iter_mut().enumerate().take(LOADS - 1) {
            let angle = FRAC_PI_2 * i as f64 / (LOADS - 1) as f64;
            let y = rates.capacity() * angle.sin().powi(2);
            while next + 1 < course.len() && course[next].0 < y {
                next += 1;
            }
            let ((y0, f0), (y1, f1)) = (course[next - 1], course[next]);
            let along = ((y - y0) / (y1 - y0)).clamp(0.0, 1.0);
            *slot = (f0 + along * (f1 - f0)) / fresh;
        }
        Self {
            ln_capacity: rates.capacity().ln(),
            ln_fresh: fresh.ln(),
            share,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn exact(acid: Acid, g_per_l: f64, temp_c: f64, share: f64) -> (f64, f64, f64) {
        let bath = AcidBath::new(acid, g_per_l, temp_c);
        let rates = Rates::new(&bath, ROUGHNESS);
        let y = share * rates.capacity();
        (y, rates.flux(y), rates.flux(0.0))
    }

    #[test]
    fn a_known_bath_reads_as_published() {
        let at = Table::of(Acid::Acetic).at(25.0, 90.0);
        assert!((at.capacity - 0.1923).abs() < 2e-4, "{}", at.capacity);
        for (y, flux) in [(0.0, 4.720e-8), (0.05, 2.934e-8)] {
            assert!((at.flux(y) / flux - 1.0).abs() < 5e-3, "{}", at.flux(y));
        }
        assert_eq!(at.flux(at.capacity), 0.0);
        assert_eq!(at.flux(1.0), 0.0);
    }

    #[test]
    fn beyond_the_ends_a_thin_bath_shrinks_and_the_rest_stays() {
        let table = Table::of(Acid::Citric);
        let (half, end) = (table.at(0.25, 50.0), table.at(0.5, 50.0));
        assert!((half.capacity / end.capacity - 0.5).abs() < 1e-9);
        assert!((half.flux(0.0) / end.flux(0.0) - 0.5).abs() < 1e-9);
        assert_eq!(table.at(0.0, 50.0).flux(0.0), 0.0);
        let same = |a: Looked, b: Looked| {
            assert_eq!((a.capacity, a.flux(0.01)), (b.capacity, b.flux(0.01)))
        };
        same(table.at(400.0, 50.0), table.at(320.0, 50.0));
        same(table.at(20.0, 5.0), table.at(20.0, 10.0));
        same(table.at(20.0, 103.0), table.at(20.0, 100.0));
        assert!(std::ptr::eq(Table::of(Acid::CitricMonohydrate), table));
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(300))]
        #[test]
        fn the_table_is_within_a_hundredth_of_the_fresh_flux(
            acid in 0usize..4, ln_g in 0.0..5.7f64, temp_c in 12.0..99.0f64, share in 0.0..0.98f64,
        ) {
            let acid = [Acid::Acetic, Acid::Citric, Acid::Lactic, Acid::Sulfamic][acid];
            let g_per_l = ln_g.exp();
            let (y, flux, fresh) = exact(acid, g_per_l, temp_c, share);
            let at = Table::of(acid).at(g_per_l, temp_c);
            prop_assert!((at.flux(y) - flux).abs() <= 0.011 * fresh, "{} {flux} of {fresh}", at.flux(y));
            prop_assert!((at.capacity / AcidBath::new(acid, g_per_l, temp_c).capacity() - 1.0).abs() < 0.01);
        }
    }
}

//! One small step of a phase, in closed form at given rates: nothing overshoots what the bath can take up.

use super::{Circuit, State, covered_at, left_at};
use crate::CACO3_MG_PER_MOL;
use crate::flux::At;

/// Molar volume of calcite, cm³/mol.
const MOLAR_CM3: f64 = 36.93;

/// How fast it goes at some state.
pub(super) struct Rates {
    /// mol/L at which nothing dissolves.
    capacity: f64,
    /// mol/cm² a minute.
    flux: f64,
    /// Mean thicknesses a minute.
    depth: f64,
}

/// What does not change while a bath stands at one temperature: the depth at which it is spent.
#[derive(Default)]
pub(super) struct Standing {
    capacity: f64,
    end: Option<f64>,
}

impl Circuit<'_> {
    pub(super) fn rates(&self, state: &State, temp_c: f64, boost: f64) -> Rates {
        let at: At = self.table.at(state.g_per_l, temp_c);
        let flux = 60.0 * self.speed * boost * at.flux(state.load);
        Rates {
            capacity: at.capacity,
            flux,
            depth: flux * MOLAR_CM3 / self.thickness,
        }
    }

    /// `h` minutes from `from` with bath coming in steadily, at the rates met at `met`.
    pub(super) fn flow(
        &self,
        from: &State,
        met: &State,
        rates: &Rates,
        h: f64,
        inflow: f64,
        bath_g_per_l: f64,
    ) -> State {
        let strength = bath_g_per_l + (from.g_per_l - bath_g_per_l) * (-inflow * h).exp();
        let room = rates.capacity - met.load;
        if rates.flux <= 0.0 || room <= 0.0 {
            return State {
                g_per_l: strength,
                load: from.load * (-inflow * h).exp(),
                ..*from
            };
        }
        // The flux is taken to fall in proportion to what the bath can still take up.
        let k = 1000.0 * self.area_cm2 * covered_at(met.depth) * rates.flux / (from.hold_ml * room);
        let x = (k + inflow) * h;
        let (a, b) = if x < 1e-3 {
            (1.0 - x / 2.0 + x * x / 6.0, 0.5 - x / 6.0 + x * x / 24.0)
        } else {
            let a = (1.0 - (-x).exp()) / x;
            (a, (1.0 - a) / x)
        };
        let r = (k * rates.capacity - (k + inflow) * from.load) * h;
        let depth = rates.depth * h * (rates.capacity - from.load - r * b) / room;
        State {
            g_per_l: strength,
            load: from.load + r * a,
            depth: from.depth + depth.max(0.0),
            ..*from
        }
    }

    /// `h` minutes from `from` while the bath stands, at the rates met at `met`. What leaves the film is in the bath, exactly.
    pub(super) fn stand(
        &self,
        from: &State,
        met: &State,
        rates: &Rates,
        h: f64,
        standing: &mut Standing,
    ) -> State {
        let depth = match standing.end(self, from, rates.capacity) {
            None => from.depth + rates.depth * h,
            Some(end) if end <= met.depth => from.depth,
            Some(end) => end - (end - from.depth) * (-rates.depth * h / (end - met.depth)).exp(),
        };
        let gone = self.film_mg * (left_at(from.depth) - left_at(depth));
        State {
            load: from.load + gone * 1000.0 / (CACO3_MG_PER_MOL * from.hold_ml),
            depth,
            ..*from
        }
    }
}

impl Standing {
    /// The depth at which the bath is spent; none when it takes up the whole film.
    fn end(&mut self, circuit: &Circuit, from: &State, capacity: f64) -> Option<f64> {
        if self.capacity.to_bits() != capacity.to_bits() {
            self.capacity = capacity;
            let left = left_at(from.depth) - from.room_mg(capacity) / circuit.film_mg;
            self.end = (left > 1e-9).then(|| {
                let mut depth = from.depth;
                for _ in 0..4 {
                    let now = left_at(depth);
                    depth += (now / left).ln() * now / covered_at(depth);
                }
                depth
            });
        }
        self.end
    }
}

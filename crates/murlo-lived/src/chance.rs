//! What happens by chance, the same for the same seed.

/// Numbers that only look drawn.
pub(crate) struct Chance(u64);

impl Chance {
    pub(crate) const fn new(seed: u64) -> Self {
        Self(seed.wrapping_mul(0xA24B_AED4_963E_E407).wrapping_add(1))
    }

    /// From 0 to below 1.
    pub(crate) fn share(&mut self) -> f64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
    }

    /// Whether something happens that happens once in `n` times.
    pub(crate) fn one_in(&mut self, n: f64) -> bool {
        self.share() * n < 1.0
    }

    /// From `low` to `high`.
    pub(crate) fn between(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * self.share()
    }

    /// One of them.
    pub(crate) fn of<T: Copy>(&mut self, all: &[T]) -> T {
        all[(self.share() * all.len() as f64) as usize]
    }
}

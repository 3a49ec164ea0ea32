//! What can be seen of a circuit, and how likely each is with so much chalk in it.

use super::grid::{ByZ, C};
use super::leaves::Leaves;
use murlo_brewer::journal::Sign;
use serde::{Deserialize, Serialize};

/// The share above `u` of a log-logistic around `at`: 1 far below it, 0 far above.
#[inline]
pub(super) fn h<const STEEP: u32>(u: f64, at: f64) -> f64 {
    1.0 / odds::<STEEP, 1>(u, [at])[0]
}

/// `h::<5>` of each who notices at all, at the price of one division: the chance that nothing was noticed with `u` of the limit.
#[inline]
pub(super) fn unnoticed(u: f64) -> [f64; NOTICES.len()] {
    let [a, b, c] = odds::<5, 3>(u, NOTICES);
    let all = 1.0 / (a * b * c);
    [all * b * c, all * a * c, all * a * b]
}

/// `h(u, high) - h(u, low)`, at the price of one division.
#[inline]
fn between<const STEEP: u32>(u: f64, low: f64, high: f64) -> f64 {
    let [low, high] = odds::<STEEP, 2>(u, [low, high]);
    (low - high) / (low * high)
}

/// One over `h` of each. The power of `u` is multiplied out once, so that a loop takes several values at once; what belongs
/// to the thresholds is known beforehand.
#[inline]
fn odds<const STEEP: u32, const M: usize>(u: f64, at: [f64; M]) -> [f64; M] {
    let of_u = power::<STEEP>(u.min(MOST));
    at.map(|at| 1.0 + of_u * (1.0 / power::<STEEP>(at)))
}

#[inline]
fn power<const STEEP: u32>(u: f64) -> f64 {
    const { assert!(STEEP >= 3 && STEEP <= 5) };
    let square = u * u;
    match STEEP {
        3 => square * u,
        4 => square * square,
        _ => square * square * u,
    }
}

/// Beyond this many times the limit nothing changes.
const MOST: f64 = 1e6;

/// Something that happened to a circuit.
#[derive(Debug, Clone, PartialEq)]
pub struct Witnessing {
    /// Litres × potential since the event before, mg.
    pub potential_mg: f64,
    /// What.
    pub what: Witnessed,
}

/// What happened.
#[derive(Debug, Clone, PartialEq)]
pub enum Witnessed {
    /// A sign of chalk.
    Sign {
        /// Which.
        sign: Sign,
        /// Whether its first day is known.
        dated: bool,
        /// Whether it says anything: a light that only counts water does not, nor a sign that is left out.
        told: bool,
    },
    /// A cup was timed.
    Timed {
        /// Its seconds by those of the healthy brewer.
        ratio: f64,
    },
    /// Another source of water from here on.
    Water {
        /// Spread of its potential's logarithm.
        sigma: f64,
    },
    /// A clean.
    Clean {
        /// What such a clean leaves.
        left: Leaves,
        /// What its bath brought out, if anybody looked.
        brought: Option<Brought>,
        /// What was seen of the result.
        checks: Checks,
        /// What its baths had left, and what was seen of that, when another one followed.
        failed: Option<(Leaves, Checks)>,
    },
}

/// What a person says of the chalk a bath brought out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Told {
    /// None.
    None,
    /// Some.
    Some,
    /// A lot.
    Lot,
}

/// How much chalk a bath brought out, from all that was seen of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Brought {
    /// None.
    None,
    /// Some.
    Some,
    /// A lot.
    Lot,
    /// It came brown through three baths and more.
    VeryMuch,
}

impl Brought {
    /// One word for what was told, the bits that were seen, and the baths that came out brown; `None` where nothing is told.
    #[must_use]
    pub const fn of(told: Option<Told>, bits: bool, brown_baths: u32) -> Option<Self> {
        Some(match (told, brown_baths) {
            (_, 3..) => Self::VeryMuch,
            (_, 2) | (Some(Told::Lot), _) => Self::Lot,
            (Some(Told::Some), _) => Self::Some,
            _ if bits => Self::Some,
            (Some(Told::None), 0) => Self::None,
            _ => return None,
        })
    }

    /// How likely it is when the clean took out `gone` of the limit.
    #[inline]
    pub(super) fn likely(self, gone: f64) -> f64 {
        let class = match self {
            Self::None => h::<3>(gone, 0.25),
            Self::Some => between::<3>(gone, 0.25, 0.9),
            Self::Lot => 1.0 - h::<3>(gone, 0.9),
            Self::VeryMuch => 1.0 - h::<3>(gone, 1.8),
        };
        0.9 * class + 0.1 / 3.0
    }
}

/// What was seen of a clean's result; `None` was not looked at.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Checks {
    /// No more white chips.
    pub flakes: Option<bool>,
    /// A cup fills as it should.
    pub flow: Option<bool>,
    /// The glass is clear.
    pub clear: Option<bool>,
    /// It is hot again.
    pub heat: Option<bool>,
    /// It is quiet again.
    pub sound: Option<bool>,
    /// The light is out.
    pub light: Option<bool>,
}

impl Checks {
    /// The share of the limit that they speak of, and whether they speak well; the least of all that are good, the largest of
    /// those that are not. A glass that is not clear is coffee oil as well as chalk: it counts as not looked at.
    pub(super) fn telling(&self) -> Option<(f64, bool)> {
        let at = [
            (self.flakes, 0.5),
            (self.flow, 0.6),
            (self.clear.filter(|clear| *clear), 0.7),
            (self.heat, 0.8),
            (self.sound, 0.8),
            (self.light, 0.8),
        ];
        let told = |wanted: bool| {
            at.iter()
                .filter(move |(seen, _)| *seen == Some(wanted))
                .map(|(_, at)| *at)
        };
        let bad = told(false).reduce(f64::max).map(|at| (at, false));
        bad.or_else(|| told(true).reduce(f64::min).map(|at| (at, true)))
    }
}

/// How likely a verdict is with `used` of the limit left.
#[inline]
pub(super) fn verdict(used: f64, at: f64, good: bool) -> f64 {
    let likely = 0.15 + 0.7 * h::<4>(used, at);
    if good { likely } else { 1.0 - likely }
}

/// A timed cup: as quick as when healthy, slower, or much slower.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Cup {
    Quick,
    Slower,
    Slow,
}

/// Up to this share of the healthy seconds a cup is quick, up to the other it is only slower.
const CUP_RATIOS: (f64, f64) = (1.15, 1.5);

impl Cup {
    pub(super) const ALL: [Self; 3] = [Self::Quick, Self::Slower, Self::Slow];

    pub(super) fn of(ratio: f64) -> Self {
        if ratio <= CUP_RATIOS.0 {
            Self::Quick
        } else if ratio <= CUP_RATIOS.1 {
            Self::Slower
        } else {
            Self::Slow
        }
    }

    #[inline]
    pub(super) fn likely(self, used: f64) -> f64 {
        let class = match self {
            Self::Quick => h::<4>(used, 0.8),
            Self::Slower => between::<4>(used, 0.8, 1.6),
            Self::Slow => 1.0 - h::<4>(used, 1.6),
        };
        0.8 * class + 0.2 / 3.0
    }
}

/// How likely a sign is for a person who notices like `c`, with chance `e` of another cause.
pub(super) fn sign(used: f64, c: usize, steep: f64, e: f64) -> f64 {
    let Some(at) = NOTICES.get(c) else {
        return 0.2 * e;
    };
    let r = (used / at).min(MOST);
    // Five for a day that is known, half of that for one that is not: powers without a logarithm.
    let q = if steep == 5.0 {
        r.powi(5)
    } else {
        r * r * r.sqrt()
    };
    (1.0 - e) * steep * q / ((1.0 + q) * (1.0 + q)) + 0.2 * e
}

impl Cycle {
    /// What all events of a cycle say together.
    pub(super) fn of(events: &[Witnessing]) -> Self {
        let signs = events.iter().filter_map(|e| match e.what {
            Witnessed::Sign {
                sign, told: true, ..
            } => Some(sign),
            Witnessed::Sign { .. }
            | Witnessed::Timed { .. }
            | Witnessed::Water { .. }
            | Witnessed::Clean { .. } => None,
        });
        let (mut kinds, mut count): (Vec<Sign>, usize) = (Vec::new(), 0);
        for sign in signs {
            count += 1;
            if !kinds.contains(&sign) {
                kinds.push(sign);
            }
        }
        // A second kind of sign is a second witness; the same kind twice is not.
        let least = kinds.iter().map(|s| other_cause(*s)).fold(1.0, f64::min);
        Self {
            other_cause: if kinds.len() > 1 { least / 2.0 } else { least },
            signs: count,
            ..Self::default()
        }
    }
}

/// Chance that a sign has another cause than chalk: a needle, a pump. Judged.
const fn other_cause(sign: Sign) -> f64 {
    match sign {
        Sign::Slow => 0.35,
        Sign::Noisy => 0.30,
        Sign::Cooler => 0.15,
        Sign::Light => 0.12,
    }
}

/// At which share of the limit a person notices, and how many are like that; the rest never do. Judged.
pub(super) const NOTICES: [f64; C - 1] = [1.0, 1.35, 1.8];

pub(super) const NOTICING: [f64; C] = [0.195, 0.26, 0.195, 0.35];

/// What the cycle that is walked holds, from all of its events.
#[derive(Default)]
pub(super) struct Cycle {
    /// Chance that its signs have another cause.
    pub(crate) other_cause: f64,
    pub(crate) signs: usize,
    /// The signs so far: how steep, and the chalk at each.
    pub(crate) seen: Vec<(f64, ByZ)>,
    /// Their word was taken at a change of water.
    pub(crate) told: bool,
    pub(crate) cups: usize,
}

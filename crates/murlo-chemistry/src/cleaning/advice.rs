//! How long a bath should soak and where, how many baths it takes, and what a person's own choice leaves.

use super::{BathCourse, Bathing, Phase, SoakAfter};
use crate::acid::Acid;

/// Share of the limit that the median film may leave. Judged.
pub const USUAL: f64 = 0.10;
/// Share of the limit that a film nine in ten stay below may leave, where somebody wants to be sure. Judged.
pub const SURE: f64 = 0.30;
/// What a further bath costs in mixing, emptying and looking, as minutes. Judged.
const BATH_COST: f64 = 30.0;
/// What a second soak costs, as minutes. Judged.
const PAIR_COST: f64 = 5.0;
/// Soaks that are tried, minutes: none, then from the first to the last in these steps.
const GRID: (u32, u32, u32) = (10, 120, 5);
/// How much less a longer clean has to leave to be taken where none reaches, share of the limit.
const WORTH: f64 = 0.001;

/// A question for advice.
#[derive(Debug, Clone, Copy)]
pub struct BathQuestion {
    /// How the circuit is cleaned.
    pub course: BathCourse,
    /// The acid.
    pub acid: Acid,
    /// Strength of the bath, g/L as weighed.
    pub g_per_l: f64,
    /// Median chalk, mg.
    pub film_mg: f64,
    /// Chalk that nine in ten stay below, mg.
    pub film_p90_mg: f64,
    /// Chalk at which the brewer suffers, mg.
    pub limit_mg: f64,
    /// Wetted area, cm².
    pub area_cm2: f64,
    /// Whether the film of nine in ten has to go too.
    pub sure: bool,
    /// Most baths that may be advised.
    pub most_baths: u32,
    /// The longest that one bath may soak in all, minutes, where that is less than what is tried.
    pub most_soak: Option<f64>,
    /// Minutes there are for the baths.
    pub minutes: Option<f64>,
}

/// A choice of a person's own.
#[derive(Debug, Clone, PartialEq)]
pub struct Typed {
    /// The presses after which it soaks.
    pub after: Vec<u32>,
    /// Minutes of each soak.
    pub minutes: f64,
    /// Baths.
    pub baths: u32,
}

/// What to do, and what that leaves.
#[derive(Debug, Clone, PartialEq)]
pub struct Advice {
    /// Whether it leaves as little as is wanted.
    pub reaches: bool,
    /// Baths.
    pub baths: u32,
    /// The soaks of each bath.
    pub soaks: Vec<SoakAfter>,
    /// The least soak there for the usual wish, minutes.
    pub low: Option<f64>,
    /// The least for the sure one.
    pub high: Option<f64>,
    /// All baths, from the first dispense until they are out, minutes.
    pub minutes: f64,
    /// Left of the median film, as a share of the limit.
    pub left: f64,
    /// Left of the film that nine in ten stay below.
    pub left_p90: f64,
}

impl Advice {
    /// Minutes of soaking in each bath.
    #[must_use]
    pub fn soaked_min(&self) -> f64 {
        self.soaks.iter().fold(0.0, |sum, soak| sum + soak.minutes)
    }
}

impl BathQuestion {
    /// The cheapest clean that reaches what is wanted, or the best there is.
    #[must_use]
    pub fn advise(&self) -> Advice {
        let places = self.course.places();
        let mut tried: Vec<SoakPlace> = places.iter().map(|p| SoakPlace::new(self, p)).collect();
        let mut best: Option<(f64, FoundSoak)> = None;
        let mut fallback: Option<(f64, FoundSoak)> = None;
        for baths in 1..=self.most_baths.max(1) {
            for (i, place) in tried.iter_mut().enumerate() {
                let Some(longest) = place.longest(baths) else {
                    continue;
                };
                let cost = |place: &SoakPlace, soak: usize| {
                    let pair = if place.after.len() > 1 {
                        PAIR_COST
                    } else {
                        0.0
                    };
                    place.elapsed(soak, baths) + BATH_COST * f64::from(baths - 1) + pair
                };
                let found = |soak| FoundSoak {
                    place: i,
                    soak,
                    baths,
                };
                // No longer than would still win.
                let wins = |soak: &usize| {
                    let mut best = best.iter();
                    best.all(|(least, _)| cost(place, *soak) < *least)
                };
                let Some(longest) = (0..=longest).rev().find(wins) else {
                    continue;
                };
                if let Some(soak) = place.least(longest, baths, self.sure) {
                    best = Some((cost(place, soak), found(soak)));
                } else if best.is_none() {
                    let left = place.left(longest, baths);
                    if fallback
                        .as_ref()
                        .is_none_or(|(least, _)| left < least - WORTH)
                    {
                        fallback = Some((left, found(longest)));
                    }
                }
            }
        }
        let reaches = best.is_some();
        let found = best.or(fallback).map(|(_, found)| found);
        let Some(FoundSoak { place, soak, baths }) = found else {
            let none = self.weigh(&Typed {
                after: Vec::new(),
                minutes: 0.0,
                baths: 1,
            });
            return Advice {
                reaches: false,
                ..none
            };
        };
        let place = &mut tried[place];
        let longest = place.longest(baths).unwrap_or(soak);
        let least = |place: &mut SoakPlace, sure| {
            let index = place.least(longest, baths, sure)?;
            Some(place.grid[index])
        };
        Advice {
            reaches,
            baths,
            soaks: place.soaks(soak),
            low: least(place, false),
            high: least(place, true),
            minutes: place.elapsed(soak, baths),
            left: place.left(soak, baths),
            left_p90: place.left_p90(soak, baths),
        }
    }

    /// What a person's own choice leaves.
    #[must_use]
    pub fn weigh(&self, typed: &Typed) -> Advice {
        let soaks = soaks(&typed.after, typed.minutes);
        let phases = self.course.phases(&soaks);
        let baths = typed.baths.max(1);
        let of = |film_mg| self.left_of(&phases, film_mg, baths).pop().unwrap_or(0.0);
        let (left, left_p90) = (of(self.film_mg), of(self.film_p90_mg));
        Advice {
            reaches: left <= USUAL && (!self.sure || left_p90 <= SURE),
            baths,
            minutes: self.course.minutes(&soaks) * f64::from(baths),
            soaks,
            low: None,
            high: None,
            left,
            left_p90,
        }
    }

    /// Shares of the limit left of a film after each bath, at the usual speed.
    fn left_of(&self, phases: &[Phase], film_mg: f64, baths: u32) -> Vec<f64> {
        let bathing = Bathing {
            acid: self.acid,
            g_per_l: self.g_per_l,
            start_hold_ml: self.course.start_hold_ml(),
            phases,
            baths,
        };
        let mut left = bathing.shares(film_mg, self.area_cm2, 1.0);
        for share in &mut left {
            *share *= film_mg / self.limit_mg;
        }
        left
    }
}

struct FoundSoak {
    place: usize,
    soak: usize,
    baths: u32,
}

/// The soaks at these presses; a soak of no minutes is none.
fn soaks(after: &[u32], minutes: f64) -> Vec<SoakAfter> {
    let each = after.iter().map(|after| SoakAfter {
        after: *after,
        minutes,
    });
    each.filter(|s| s.minutes > 0.0).collect()
}

/// One place for the soak, with every length that was tried there: one walk tells what is left after each bath.
struct SoakPlace<'a> {
    asked: &'a BathQuestion,
    after: &'a [u32],
    grid: Vec<f64>,
    /// Shares of the limit left after each bath: of the median film, and of the one that nine in ten stay below.
    left: Vec<[Option<Vec<f64>>; 2]>,
}

impl<'a> SoakPlace<'a> {
    fn new(asked: &'a BathQuestion, after: &'a [u32]) -> Self {
        let (first, last, step) = GRID;
        let none = (after.len() < 2).then_some(0.0);
        let each = |all: f64| all / after.len().max(1) as f64;
        let most = asked.most_soak.map_or(f64::INFINITY, each);
        let some = (first..=last).step_by(step as usize).map(f64::from);
        let some = some.take_while(|minutes| *minutes <= most);
        let grid: Vec<f64> = none
            .into_iter()
            .chain(some.take_while(|_| !after.is_empty()))
            .collect();
        Self {
            asked,
            after,
            left: vec![[None, None]; grid.len()],
            grid,
        }
    }

    fn soaks(&self, soak: usize) -> Vec<SoakAfter> {
        soaks(self.after, self.grid[soak])
    }

    fn elapsed(&self, soak: usize, baths: u32) -> f64 {
        self.asked.course.minutes(&self.soaks(soak)) * f64::from(baths)
    }

    /// The longest soak for which there is time.
    fn longest(&self, baths: u32) -> Option<usize> {
        let most = self.asked.minutes.map_or(f64::INFINITY, |m| m + 1e-9);
        (0..self.grid.len())
            .rev()
            .find(|soak| self.elapsed(*soak, baths) <= most)
    }

    fn after_baths(&mut self, soak: usize, sure: bool, baths: u32) -> f64 {
        let which = usize::from(sure);
        if self.left[soak][which].is_none() {
            let film_mg = [self.asked.film_mg, self.asked.film_p90_mg][which];
            let phases = self.asked.course.phases(&self.soaks(soak));
            let most = self.asked.most_baths.max(1);
            self.left[soak][which] = Some(self.asked.left_of(&phases, film_mg, most));
        }
        let left = self.left[soak][which].as_ref();
        left.map_or(0.0, |after| after[baths as usize - 1])
    }

    fn left(&mut self, soak: usize, baths: u32) -> f64 {
        self.after_baths(soak, false, baths)
    }

    fn left_p90(&mut self, soak: usize, baths: u32) -> f64 {
        self.after_baths(soak, true, baths)
    }

    fn reaches(&mut self, soak: usize, baths: u32, sure: bool) -> bool {
        (!sure || self.left_p90(soak, baths) <= SURE) && self.left(soak, baths) <= USUAL
    }

    /// The shortest soak up to `longest` that reaches what is wanted.
    fn least(&mut self, longest: usize, baths: u32, sure: bool) -> Option<usize> {
        if !self.reaches(longest, baths, sure) {
            return None;
        }
        let (mut low, mut high) = (0, longest);
        while low < high {
            let middle = (low + high) / 2;
            if self.reaches(middle, baths, sure) {
                high = middle;
            } else {
                low = middle + 1;
            }
        }
        Some(high)
    }
}

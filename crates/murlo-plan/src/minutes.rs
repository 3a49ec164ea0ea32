//! What each step takes before anybody's own pace is known: minutes of hands, and minutes within earshot of the machine.
//!
//! Figures of practice: parts and body 4 to 8 minutes, needles 2 to 4, mixing 2, emptying a mug a quarter of one, washing the
//! reservoir 1 to 2, putting back 2; a press with heating, running and emptying about 2, of which 0.3 are hands.

use super::{Doing, Kind, Step};
use murlo_brewer::Needle;
use murlo_brewer::instruction::Instruction;

/// Minutes of a step.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Minutes {
    /// Of one's hands.
    pub hands: f64,
    /// Within earshot, while the machine works.
    pub near: f64,
}

impl Minutes {
    const fn hands(hands: f64) -> Self {
        Self { hands, near: 0.0 }
    }

    /// Once or several times.
    pub fn times(self, n: f64) -> Self {
        Self {
            hands: self.hands * n,
            near: self.near * n,
        }
    }

    /// Both together.
    pub fn all(self) -> f64 {
        self.hands + self.near
    }
}

/// One press: heating up, running, emptying the mug.
const PRESS: Minutes = Minutes {
    hands: 0.3,
    near: 1.7,
};
/// A cup that is watched, timed or tasted as well.
const WATCHED: Minutes = Minutes {
    hands: 0.6,
    near: 1.7,
};
/// Needles: finding them, and each place.
const NEEDLES: (f64, f64) = (1.5, 0.25);

/// A step of this kind, or one of what it counts.
pub(crate) const fn usual(kind: Kind) -> Minutes {
    match kind {
        Kind::First | Kind::HotWater | Kind::Run | Kind::Rinse | Kind::Flush => PRESS,
        Kind::Before | Kind::Baseline | Kind::After => WATCHED,
        Kind::Verify => Minutes {
            hands: 0.7,
            near: 1.7,
        },
        Kind::PutBack => Minutes {
            hands: 2.0,
            near: 1.7,
        },
        Kind::Parts => Minutes::hands(2.5),
        Kind::Mix => Minutes::hands(2.0),
        Kind::Others | Kind::Body | Kind::Wash | Kind::Hollow | Kind::Stains | Kind::Tray => {
            Minutes::hands(1.5)
        }
        Kind::Slime => Minutes::hands(4.0),
        Kind::RinsePod => WATCHED,
        Kind::Reusable | Kind::Dry => Minutes::hands(1.0),
        Kind::Close => Minutes::hands(0.3),
        Kind::Needles => Minutes::hands(NEEDLES.0),
        Kind::Ready | Kind::HolderSoak | Kind::Capsule => Minutes::hands(1.0),
        Kind::Filter | Kind::Disc => Minutes::hands(0.7),
        Kind::FilterSoak | Kind::Half | Kind::Programme | Kind::Look => Minutes::hands(0.5),
        Kind::Soak | Kind::Cool => Minutes::hands(0.2),
    }
}

/// The needles, by their places.
pub(crate) fn of_needles(needles: &[Needle]) -> Minutes {
    let places: usize = needles.iter().map(|n| n.spots().count()).sum();
    Minutes::hands(NEEDLES.0 + NEEDLES.1 * places as f64)
}

/// One of what `step` counts, or the step itself.
pub fn one_of(step: &Step) -> Option<Minutes> {
    Some(match &step.doing {
        Doing::Clear { needles } => of_needles(needles),
        Doing::Once
        | Doing::Count { .. }
        | Doing::Wait { .. }
        | Doing::Ask { .. }
        | Doing::Measure { .. } => usual(step.kind()?),
    })
}

/// All of `step` at the usual pace; where the machine works long and alone, that time is free and not near.
pub(crate) fn planned(step: &Step) -> Minutes {
    let n = match step.doing {
        Doing::Count { target } => f64::from(target),
        Doing::Once
        | Doing::Wait { .. }
        | Doing::Ask { .. }
        | Doing::Clear { .. }
        | Doing::Measure { .. } => 1.0,
    };
    let all = one_of(step).map_or(Minutes::hands(0.0), |one| one.times(n));
    let runs = step.instructions.iter().chain(&step.each).any(|i| {
        matches!(
            i,
            Instruction::Press { .. }
                | Instruction::PressHotWater { .. }
                | Instruction::Brew { .. }
                | Instruction::PauseAtFirstDrops
                | Instruction::Purge
        )
    });
    match runs && step.hands_free_min <= 0.0 {
        true => all,
        false => Minutes::hands(all.hands),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixtures::plan;
    use crate::{Plan, PlanOptions};
    use murlo_brewer::Family;

    fn sum(plan: &Plan, of: impl Fn(&Step) -> f64) -> f64 {
        plan.steps.iter().map(of).sum()
    }

    #[test]
    fn a_clean_takes_the_hands_that_practice_gives_it() {
        // Families with the most and least hands that people tell of a whole clean without hurry.
        for (family, hands) in [
            (Family::PodReservoir, 15.0..=27.0),
            (Family::OneCupPod, 12.0..=25.0),
            (Family::Drip, 10.0..=16.0),
        ] {
            let plan = plan(family, &PlanOptions::default()).unwrap();
            let all = sum(&plan, |s| s.hands_on_min);
            assert!(hands.contains(&all), "{family:?}: {all}");
        }
    }

    #[test]
    fn a_press_is_near_and_a_carafe_is_free() {
        let pod = plan(Family::PodReservoir, &PlanOptions::default()).unwrap();
        let rinse = pod.steps.iter().find(|s| s.is(Kind::Rinse)).unwrap();
        let presses = f64::from(pod.rinse.portions);
        assert!((rinse.hands_on_min - 0.3 * presses).abs() < 1e-9);
        assert!((rinse.near_min - 1.7 * presses).abs() < 1e-9);
        assert_eq!(rinse.hands_free_min, 0.0);
        let drip = plan(Family::Drip, &PlanOptions::default()).unwrap();
        let rinse = drip.steps.iter().find(|s| s.is(Kind::Rinse)).unwrap();
        assert_eq!(rinse.near_min, 0.0);
        assert!(rinse.hands_free_min >= 10.0);
    }

    #[test]
    fn ten_places_take_longer_than_two() {
        let plan = plan(Family::PodReservoir, &PlanOptions::default()).unwrap();
        let step = plan.steps.iter().find(|s| s.is(Kind::Needles)).unwrap();
        let Doing::Clear { needles } = &step.doing else {
            panic!("places");
        };
        let places = needles.iter().map(|n| n.spots().count()).sum::<usize>() as f64;
        assert!((of_needles(needles).hands - (1.5 + 0.25 * places)).abs() < 1e-9);
        assert!(of_needles(&needles[..1]).hands < of_needles(needles).hands);
        assert_eq!(of_needles(&[]).hands, 1.5);
    }
}

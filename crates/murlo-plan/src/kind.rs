//! What a step is. Its id, by which events and addresses name it, is made from its kind and a number: that of its bath, or the
//! next that is free where a bath has several of a kind.

use serde::{Deserialize, Serialize};
use std::collections::HashSet;

macro_rules! kinds {
    ($($(#[$doc:meta])* $name:ident = $id:literal,)*) => {
        /// What a step is.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(rename_all = "snake_case")]
        pub enum Kind { $($(#[$doc])* $name,)* }

        impl Kind {
            /// Every kind.
            pub const ALL: &[Self] = &[$(Self::$name,)*];

            /// The first part of its ids.
            #[must_use]
            pub const fn id(self) -> &'static str {
                match self { $(Self::$name => $id,)* }
            }

            fn named(name: &str) -> Option<Self> {
                match name { $($id => Some(Self::$name),)* _ => None }
            }
        }
    };
}

kinds! {
    /// A cup is timed as it is.
    Before = "before",
    /// What was just heated cools.
    Cool = "cool",
    /// Unplugged, emptied, at the sink.
    Ready = "ready",
    /// The water filter comes out.
    Filter = "filter",
    /// Parts that the bath touches.
    Parts = "parts",
    /// Parts that the machine can spare.
    Others = "others",
    /// The outside and the crevices.
    Body = "body",
    /// A new water filter is set to soak.
    FilterSoak = "filter_soak",
    /// The needles, hole by hole.
    Needles = "needles",
    /// A holder that is not to be forced.
    HolderSoak = "holder_soak",
    /// Where a capsule is pierced.
    Capsule = "capsule",
    /// What was loosened is flushed out.
    Flush = "flush",
    /// The first glass.
    Baseline = "baseline",
    /// The service disc goes in.
    Disc = "disc",
    /// The bath is mixed and poured in.
    Mix = "mix",
    /// The hot-water outlet gets its share of the bath.
    HotWater = "hot_water",
    /// The first dispense, or a cup that is paused.
    First = "first",
    /// Half of a carafe.
    Half = "half",
    /// The bath stands.
    Soak = "soak",
    /// The rest of the bath is run through.
    Run = "run",
    /// The cleaning programme runs.
    Programme = "programme",
    /// What the bath brought out is looked at, and the vessel emptied for the next one.
    Look = "look",
    /// Reservoir and vessel are washed.
    Wash = "wash",
    /// Rinses are counted.
    Rinse = "rinse",
    /// The result is judged.
    Verify = "verify",
    /// Everything goes back, the filter last.
    PutBack = "put_back",
    /// A cup is timed again.
    After = "after",
    /// Drip tray and rim are washed.
    Tray = "tray",
    /// A rinse pod is run.
    RinsePod = "rinse_pod",
    /// The hollow behind the holder is wiped.
    Hollow = "hollow",
    /// The reusable filter is washed.
    Reusable = "reusable",
    /// Stains are taken off.
    Stains = "stains",
    /// Slime is scrubbed off.
    Slime = "slime",
    /// Emptied and left open.
    Dry = "dry",
    /// What let water pass comes out again.
    Close = "close",
}

impl Kind {
    /// Whether it is worth doing, and harms nobody when it is not done.
    #[must_use]
    pub const fn is_spared(self) -> bool {
        matches!(
            self,
            Self::Before
                | Self::Parts
                | Self::Others
                | Self::Body
                | Self::HolderSoak
                | Self::Capsule
                | Self::Baseline
        )
    }

    /// The id of such a step with this number.
    #[must_use]
    pub(crate) fn step_id(self, number: u32) -> String {
        match number {
            0 | 1 => self.id().to_owned(),
            n => format!("{}-{n}", self.id()),
        }
    }

    /// The kind and number that an id names; nothing for one that no plan gives.
    ///
    /// # Example
    /// ```
    /// use murlo_plan::Kind;
    /// assert_eq!(Kind::of("soak-2"), Some((Kind::Soak, 2)));
    /// assert_eq!(Kind::of("filter_soak"), Some((Kind::FilterSoak, 1)));
    /// assert_eq!(Kind::of("soak-1"), None);
    /// ```
    #[must_use]
    pub fn of(id: &str) -> Option<(Self, u32)> {
        let (name, number) = match id.rsplit_once('-') {
            Some((name, n)) => (name, n.parse().ok().filter(|n| *n > 1)?),
            None => (id, 1),
        };
        Self::named(name).map(|kind| (kind, number))
    }
}

/// The numbers that steps have so far.
#[derive(Debug, Default)]
pub(super) struct Numbers(HashSet<(Kind, u32)>);

impl Numbers {
    /// Those of steps that are there already.
    pub fn of<'a>(ids: impl Iterator<Item = &'a str>) -> Self {
        Self(ids.filter_map(Kind::of).collect())
    }

    /// The first from `least` that no step of this kind has, and takes it.
    pub fn next(&mut self, kind: Kind, least: u32) -> u32 {
        let mut number = least;
        while !self.0.insert((kind, number)) {
            number += 1;
        }
        number
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ids_and_kinds_tell_each_other() {
        for kind in Kind::ALL {
            for number in [1, 2, 17] {
                assert_eq!(Kind::of(&kind.step_id(number)), Some((*kind, number)));
            }
        }
        for odd in [
            "", "soak-", "soak-0", "soak-1", "soak-x", "dance", "-2", "soak--2",
        ] {
            assert_eq!(Kind::of(odd), None, "{odd}");
        }
    }

    #[test]
    fn no_number_is_given_twice() {
        let mut numbers = Numbers::of(["run", "run-3", "soak", "nothing"].into_iter());
        let next = [1, 1, 1, 7].map(|least| numbers.next(Kind::Run, least));
        assert_eq!(next, [2, 4, 5, 7]);
        assert_eq!(numbers.next(Kind::Mix, 1), 1);
        assert_eq!(numbers.next(Kind::Soak, 2), 2);
    }
}

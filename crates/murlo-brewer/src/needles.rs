//! The needle map of a brewer: which needles it has, where their holes face, and how they are reached.

use super::Family;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use serde::{Deserialize, Serialize};

/// Where a needle stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Seat {
    /// In the lid, where water enters.
    Entrance,
    /// Below the pod, where coffee leaves.
    Exit,
}

impl Seat {
    /// "lid needle (entrance)".
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::Entrance => "lid needle (entrance)",
            Self::Exit => "cup needle (exit)",
        }
    }
}

/// A needle with its holes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Needle {
    /// Identity within the brewer.
    pub id: String,
    /// What people call it.
    pub name: String,
    /// Where it stands.
    pub seat: Seat,
    /// Whether it comes out for cleaning; a holder that does not is never forced.
    pub comes_out: bool,
    /// Where it stands around the middle of its seat, degrees clockwise from the front; in the middle when absent.
    pub at_deg: Option<f64>,
    /// Which way each hole faces, degrees clockwise from the front, seen from below.
    pub holes_deg: Vec<f64>,
    /// Whether an opening below its seat is cleared too.
    pub opening: bool,
}

/// A place to clear: one hole of one needle, or the opening below its seat.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Spot {
    /// The needle.
    pub needle: String,
    /// Index of the hole; the opening below the seat when absent.
    pub hole: Option<u32>,
}

/// How the lid needle of a brewer looks from below.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LidNeedle {
    /// One hole in its side.
    OneHole,
    /// Two holes, one opposite the other.
    TwoHoles,
    /// Three holes around it.
    ThreeHoles,
    /// One in the middle with small ones around it.
    Ringed,
}

impl LidNeedle {
    /// Every kind.
    pub const ALL: [Self; 4] = [
        Self::OneHole,
        Self::TwoHoles,
        Self::ThreeHoles,
        Self::Ringed,
    ];

    /// "three around".
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::OneHole => "one hole",
            Self::TwoHoles => "two, opposite",
            Self::ThreeHoles => "three around",
            Self::Ringed => "ring of small ones",
        }
    }

    fn needles(self) -> Vec<Needle> {
        let lid = |holes: &[f64]| Needle::new("lid", "Lid needle", Seat::Entrance, holes);
        match self {
            Self::OneHole => vec![lid(&[0.0])],
            Self::TwoHoles => vec![lid(&[90.0, 270.0])],
            Self::ThreeHoles => vec![lid(&[30.0, 150.0, 270.0])],
            Self::Ringed => {
                let around = [45.0, 135.0, 225.0, 315.0].into_iter().enumerate();
                let small = around.map(|(i, at)| Needle {
                    at_deg: Some(at),
                    ..Needle::new(
                        &format!("small-{}", i + 1),
                        &format!("Small needle {}", i + 1),
                        Seat::Entrance,
                        &[at],
                    )
                });
                std::iter::once(lid(&[0.0, 120.0, 240.0]))
                    .chain(small)
                    .collect()
            }
        }
    }
}

const MOST_NEEDLES: usize = 12;
const MOST_HOLES: usize = 8;

impl Needle {
    fn new(id: &str, name: &str, seat: Seat, holes_deg: &[f64]) -> Self {
        Self {
            id: id.to_owned(),
            name: name.to_owned(),
            seat,
            comes_out: seat == Seat::Exit,
            at_deg: None,
            holes_deg: holes_deg.to_vec(),
            opening: seat == Seat::Exit,
        }
    }

    /// The needles a brewer of `family` usually has, to be corrected by looking at one's own.
    #[must_use]
    pub fn usual(family: Family) -> Vec<Self> {
        match family {
            Family::PodReservoir => Self::with_lid(family, LidNeedle::ThreeHoles),
            Family::Combination | Family::CodedCapsule => {
                Self::with_lid(family, LidNeedle::TwoHoles)
            }
            Family::OneCupPod => Self::with_lid(family, LidNeedle::Ringed),
            Family::PumpCapsule | Family::Drip => Vec::new(),
        }
    }

    /// The needles of a brewer of `family` whose lid needle looks so: a pod has its cup needle below, a capsule is open there.
    #[must_use]
    pub fn with_lid(family: Family, lid: LidNeedle) -> Vec<Self> {
        let cup = Self::new("cup", "Cup needle", Seat::Exit, &[0.0, 180.0]);
        let below = (family != Family::CodedCapsule).then_some(cup);
        lid.needles().into_iter().chain(below).collect()
    }

    /// Every place to clear on it.
    pub fn spots(&self) -> impl Iterator<Item = Spot> + '_ {
        let holes = (0..self.holes_deg.len() as u32).map(Some);
        holes.chain(self.opening.then_some(None)).map(|hole| Spot {
            needle: self.id.clone(),
            hole,
        })
    }

    /// Checks what a form or a foreign file can break.
    ///
    /// # Errors
    /// One problem per wrong field, named by its place in the list.
    pub fn check_all(needles: &[Self]) -> Result<(), Problems> {
        let mut problems = Problems::default();
        if needles.len() > MOST_NEEDLES {
            let message = format!("give at most {MOST_NEEDLES} needles");
            problems
                .0
                .push(Problem::new(Code::TooMuch, "needles", message));
        }
        for (i, needle) in needles.iter().enumerate() {
            let field = |name: &str| format!("needles.{i}.{name}");
            problems.note(text::id(&field("id"), &needle.id));
            problems.note(text::name(&field("name"), &needle.name));
            if needles[..i].iter().any(|n| n.id == needle.id) {
                problems.0.push(Problem::new(
                    Code::Contradiction,
                    field("id"),
                    "another needle has this id",
                ));
            }
            if !(1..=MOST_HOLES).contains(&needle.holes_deg.len()) {
                problems.0.push(Problem::new(
                    Code::OutOfRange,
                    field("holes_deg"),
                    format!("give the directions of 1 to {MOST_HOLES} holes"),
                ));
            }
            for degrees in needle.holes_deg.iter().chain(&needle.at_deg) {
                if !(0.0..360.0).contains(degrees) {
                    problems.0.push(Problem::new(
                        Code::OutOfRange,
                        field("holes_deg"),
                        "give directions from 0 (front) to 359 degrees, clockwise",
                    ));
                }
            }
        }
        problems.or(Some(()))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_usual_map_is_a_right_one() {
        for family in Family::ALL {
            let needles = Needle::usual(family);
            Needle::check_all(&needles).unwrap();
            let pods = !matches!(family, Family::PumpCapsule | Family::Drip);
            assert_eq!(pods, !needles.is_empty(), "{family:?}");
        }
        // Whatever the lid needle looks like, the map is a right one, and each has its own number of places.
        let places: Vec<usize> = LidNeedle::ALL
            .map(|lid| {
                let needles = Needle::with_lid(Family::OneCupPod, lid);
                Needle::check_all(&needles).unwrap();
                needles.iter().map(|n| n.spots().count()).sum()
            })
            .to_vec();
        assert_eq!(places, [4, 5, 6, 10]);
        let capsule = Needle::with_lid(Family::CodedCapsule, LidNeedle::OneHole);
        assert!(capsule.iter().all(|n| n.seat == Seat::Entrance));
        // Three holes of the lid, two of the cup, and the opening below its seat.
        let spots: usize = Needle::usual(Family::PodReservoir)
            .iter()
            .map(|n| n.spots().count())
            .sum();
        assert_eq!(spots, 6);
    }

    #[test]
    fn wrong_maps_are_named_by_their_place() {
        let mut needles = Needle::usual(Family::PodReservoir);
        needles[0].holes_deg = vec![360.0];
        needles[1].holes_deg.clear();
        needles[1].id = "lid".into();
        needles[1].name = String::new();
        let fields: Vec<_> = Needle::check_all(&needles)
            .unwrap_err()
            .0
            .into_iter()
            .map(|p| (p.field, p.code))
            .collect();
        let expected = [
            ("needles.0.holes_deg", Code::OutOfRange),
            ("needles.1.name", Code::Missing),
            ("needles.1.id", Code::Contradiction),
            ("needles.1.holes_deg", Code::OutOfRange),
        ];
        assert_eq!(fields, expected.map(|(f, c)| (f.to_owned(), c)));
    }
}

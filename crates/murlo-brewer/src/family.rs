//! Kinds of brewer: they only supply starting figures.

use crate::operation::{Care, Part};
use murlo_base::units::{FL_OZ_ML, Units};
use murlo_chemistry::heater::Heater;
use serde::{Deserialize, Serialize};

/// A kind of brewer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Family {
    /// Pod brewer with a reservoir and a hot tank that stays full.
    PodReservoir,
    /// Pod brewer that takes one cup of water at a time and empties its small tank with every brew.
    OneCupPod,
    /// Capsule brewer that reads a code; cleaned by a programme with a service disc in place.
    CodedCapsule,
    /// Capsule brewer with a pump and a thermoblock: water only passes with a capsule in place.
    PumpCapsule,
    /// Drip brewer whose reservoir fills its carafe.
    Drip,
    /// Drip brewer with a pod side.
    Combination,
}

impl Family {
    /// Whether such brewers are cleaned press by press, and may have a cleaning mode for it.
    #[must_use]
    pub const fn is_pressed(self) -> bool {
        match self {
            Self::PodReservoir | Self::CodedCapsule => true,
            Self::OneCupPod | Self::PumpCapsule | Self::Drip | Self::Combination => false,
        }
    }

    /// Whether a service disc belongs to such brewers.
    #[must_use]
    pub const fn has_disc(self) -> bool {
        match self {
            Self::CodedCapsule => true,
            Self::PodReservoir
            | Self::OneCupPod
            | Self::PumpCapsule
            | Self::Drip
            | Self::Combination => false,
        }
    }

    /// Whether an adapter for pods belongs to such brewers.
    #[must_use]
    pub const fn has_adapter(self) -> bool {
        match self {
            Self::Combination => true,
            Self::PodReservoir
            | Self::OneCupPod
            | Self::CodedCapsule
            | Self::PumpCapsule
            | Self::Drip => false,
        }
    }

    /// The largest size that such brewers usually have, fl oz and mL; none where it fills a carafe only.
    pub(crate) const fn usual_cup(self) -> Option<(f64, f64)> {
        match self {
            Self::PodReservoir | Self::Combination => Some((10.0, 300.0)),
            Self::OneCupPod => Some((12.0, 350.0)),
            Self::CodedCapsule => Some((7.0, 200.0)),
            Self::PumpCapsule => Some((4.0, 120.0)),
            Self::Drip => None,
        }
    }

    /// The same in mL, as it is printed where people measure in `units`.
    pub fn usual_cup_ml(self, units: Units) -> Option<f64> {
        let (oz, ml) = self.usual_cup()?;
        Some(match units {
            Units::Us => oz * FL_OZ_ML,
            Units::Metric => ml,
        })
    }

    /// Every family, in the order they are offered.
    pub const ALL: [Self; 6] = [
        Self::PodReservoir,
        Self::OneCupPod,
        Self::CodedCapsule,
        Self::PumpCapsule,
        Self::Drip,
        Self::Combination,
    ];

    /// Where its water comes out, and how it is heated on the way; the first circuit of a combination.
    pub(crate) const fn path(self) -> (Outlet, Heater) {
        match self {
            Self::PodReservoir | Self::OneCupPod => (Outlet::Pod, Heater::Tank),
            Self::CodedCapsule | Self::PumpCapsule => (Outlet::Capsule, Heater::Thermoblock),
            Self::Drip | Self::Combination => (Outlet::Grounds, Heater::DripRiser),
        }
    }

    /// Whether its reservoir fills a carafe, whose marks it is measured with.
    #[must_use]
    pub const fn has_carafe(self) -> bool {
        matches!(self, Self::Drip | Self::Combination)
    }

    /// Whether it has a pod side beside its carafe.
    #[must_use]
    pub const fn has_pod_side(self) -> bool {
        matches!(self, Self::Combination)
    }

    /// The parts that usually come off, to be corrected by looking at one's own.
    #[must_use]
    pub fn parts(self) -> Vec<Part> {
        use Care::{Hand, RinseOnly, TopRack};
        let mut parts = vec![
            Part::new("reservoir", Hand, true),
            Part::new("reservoir lid", Hand, false),
        ];
        parts.extend(match self {
            Self::PodReservoir => vec![
                Part::new("pod holder", Hand, true),
                Part::new("drip tray", Hand, false),
            ],
            Self::OneCupPod => vec![
                Part::new("pod holder", TopRack, true),
                Part::new("drip tray", TopRack, false),
            ],
            Self::CodedCapsule | Self::PumpCapsule => vec![
                Part::new("box for used capsules", Hand, false),
                Part::new("nozzle", Hand, false),
                Part::new("drip tray", Hand, false),
            ],
            Self::Drip => vec![
                Part::new("basket", TopRack, true),
                Part::new("carafe", Hand, true),
            ],
            Self::Combination => vec![
                Part::new("basket", TopRack, true),
                Part::new("carafe", Hand, true),
                Part::new("pod adapter", Hand, true),
                Part::new("drip tray", TopRack, false),
                Part::new("sediment screen", RinseOnly, true),
            ],
        });
        if self == Self::OneCupPod {
            // It has no reservoir that comes off: a cup is poured in.
            parts.drain(..2);
        } else if self == Self::Drip {
            // Most have one that is built in; who can take it off says so.
            parts.remove(0);
        }
        parts
    }

    /// Its name for people.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::PodReservoir => "Pod brewer with reservoir",
            Self::OneCupPod => "One-cup pod brewer",
            Self::CodedCapsule => "Coded-capsule brewer",
            Self::PumpCapsule => "Pump capsule brewer",
            Self::Drip => "Drip brewer",
            Self::Combination => "Drip-and-pod combination",
        }
    }
}

/// Where a circuit's water comes out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Outlet {
    /// Through a pod.
    Pod,
    /// Through a capsule.
    Capsule,
    /// Through a basket of grounds.
    Grounds,
}

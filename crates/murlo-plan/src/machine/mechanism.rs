//! What the simulated brewer needs to know of a real one.

use murlo_brewer::instruction::Thing;
use murlo_brewer::{Brewer, Circuit, ModeEnds, Outlet, Survives};
use murlo_chemistry::heater::Way;
use murlo_chemistry::washout::Washout;
use serde::{Deserialize, Serialize};

/// What the simulated brewer needs to know of a real one; frozen with a plan, so that a running clean can be followed on it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Mechanism {
    /// What the water runs through.
    pub outlet: Outlet,
    pub(crate) hold_up_ml: f64,
    pub(crate) portion_ml: f64,
    pub(crate) dead_ml: f64,
    pub(crate) reservoir_ml: f64,
    /// What the carafe holds that stands under it; absent where a mug or jug does.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub(crate) carafe_ml: Option<f64>,
    pub(crate) washout: Washout,
    /// It takes what is poured in at a time and has no reservoir that stays full.
    pub by_cup: bool,
    /// Water passes only with one of these in place.
    pub(crate) passes_with: Vec<Thing>,
    /// The programme starts only with this in place.
    pub(crate) programme_with: Option<Thing>,
    pub(crate) has_programme: bool,
    pub(crate) needs_light: bool,
    pub(crate) survives: Option<Survives>,
    pub(crate) ends: Option<ModeEnds>,
    pub(crate) rearms: bool,
    pub(crate) has_filter: bool,
    pub(crate) has_hot_water: bool,
    /// Where nobody notices, mg/L.
    pub(crate) target_mg_l: f64,
}

impl Mechanism {
    /// One side of a brewer; `target_mg_l` is where nobody notices acid.
    #[must_use]
    pub fn of(brewer: &Brewer, circuit: &Circuit, target_mg_l: f64) -> Self {
        let facts = &circuit.mechanics;
        let is_coded = brewer.is_coded();
        Self {
            outlet: circuit.outlet,
            hold_up_ml: circuit.hold_up_ml,
            portion_ml: circuit.dispense_ml,
            dead_ml: circuit.dead_volume_ml,
            reservoir_ml: brewer.reservoir_of(circuit),
            carafe_ml: brewer.carafe_of(circuit).map(|carafe| carafe.brim_ml()),
            washout: circuit.washout(),
            by_cup: brewer.takes_a_cup_at_a_time(),
            passes_with: match circuit.outlet {
                Outlet::Capsule if is_coded => vec![Thing::EmptyCapsule, Thing::Disc],
                Outlet::Capsule => vec![Thing::EmptyCapsule],
                Outlet::Pod | Outlet::Grounds => Vec::new(),
            },
            programme_with: match circuit.outlet {
                Outlet::Capsule if is_coded => Some(Thing::Disc),
                Outlet::Pod if brewer.carafe.is_some() => Some(Thing::Adapter),
                Outlet::Pod | Outlet::Capsule | Outlet::Grounds => None,
            },
            has_programme: brewer.way(circuit) == Way::Programme || brewer.self_clean,
            needs_light: facts.needs_light == Some(true),
            survives: brewer.has_mode(circuit).then(|| facts.outlasts()),
            ends: facts.ends,
            rearms: !circuit.operation.rearm.is_empty(),
            has_filter: brewer.filter.is_some(),
            has_hot_water: brewer.has_hot_water(circuit),
            target_mg_l,
        }
    }
}

impl Mechanism {
    /// Whether it has a cleaning mode.
    pub const fn has_mode(&self) -> bool {
        self.survives.is_some()
    }

    /// What one press of its largest size gives, mL.
    pub(crate) const fn largest_ml(&self) -> f64 {
        self.portion_ml
    }

    /// Whether the mode is still on after it was left alone.
    pub fn mode_waits(&self) -> bool {
        self.survives > Some(Survives::Nothing)
    }
}

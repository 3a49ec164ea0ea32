//! A fact of the brewer that is put right in mid-clean.

use crate::Kind;
use murlo_base::units::Units;
use murlo_brewer::{Brewer, LidNeedle, Needle};
use serde::{Deserialize, Serialize};

/// A fact of a brewer that shows only while it is cleaned.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Correction {
    /// It has no cleaning mode that is pressed cup by cup.
    NoMode,
    /// Its programme does not start, or it has none: by hand.
    NoProgramme,
    /// Its mode was gone after it was left alone.
    ModeDoesNotWait,
    /// One press of its largest size gives so much, mL.
    LargestCup(f64),
    /// Its lid needle looks so.
    LidNeedle(LidNeedle),
}

impl Correction {
    /// What somebody says who has noticed it.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::NoMode => "Mine has no cleaning mode",
            Self::NoProgramme => "Its programme does not start",
            Self::ModeDoesNotWait => "Its mode was gone after the wait",
            Self::LargestCup(_) => "Its largest size is another",
            Self::LidNeedle(lid) => lid.words(),
        }
    }

    /// Whether it shows at such a step, where somebody is at the brewer and sees it.
    pub fn shows_at(self, kind: Kind) -> bool {
        let in_bath = [Kind::First, Kind::Soak, Kind::Run, Kind::HotWater];
        match self {
            Self::NoMode => in_bath.contains(&kind),
            Self::ModeDoesNotWait => kind == Kind::Run,
            Self::NoProgramme => kind == Kind::Programme,
            Self::LargestCup(_) => [Kind::First, Kind::Run, Kind::Rinse].contains(&kind),
            Self::LidNeedle(_) => kind == Kind::Needles,
        }
    }

    /// Writes it down with the brewer.
    pub fn tell(self, brewer: &mut Brewer, circuit_id: &str, units: Units) {
        if let Self::LidNeedle(lid) = self {
            brewer.needles = Some(Needle::with_lid(brewer.family, lid));
        }
        let mut circuits = brewer.circuits.iter_mut();
        let Some(circuit) = circuits.find(|c| c.id == circuit_id) else {
            return;
        };
        match self {
            Self::NoMode => {
                circuit.mechanics.mode = Some(false);
                circuit.mechanics.survives = None;
                circuit.mechanics.soaks_inside = None;
                circuit.mechanics.ends = None;
            }
            Self::NoProgramme => circuit.mechanics.programme = Some(false),
            Self::ModeDoesNotWait => {
                circuit.mechanics.survives = Some(murlo_brewer::Survives::Nothing);
                circuit.mechanics.soaks_inside = Some(false);
            }
            Self::LargestCup(ml) => {
                circuit.dispense_ml = ml;
                // As printed on the button; that it was told shows by it.
                circuit.mechanics.sizes = vec![units.whole_volume(ml)];
            }
            Self::LidNeedle(_) => {}
        }
    }
}

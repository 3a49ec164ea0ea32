//! One side on a sheet, and its needles.

use crate::{Carafe, Circuit, Heating, Mechanics, Needle, Operation, Outlet, Seat};
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::{FL_OZ_ML, parse_volume, trim};
use murlo_chemistry::heater::{Heater, PLATING_SIGMA};
use serde::{Deserialize, Serialize};

/// The pod side of a combination, as typed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct SideDraft {
    /// Its largest dispense.
    pub dispense: String,
    /// Water that stays in its heater and tubes.
    pub hold_up: String,
    /// Water the sensor leaves.
    pub dead_volume: String,
    /// Per cent of the brewer's cups that run through it.
    pub share: f64,
    /// Its own reservoir, when it has one.
    pub reservoir: Option<String>,
    /// Its button recipe.
    #[serde(default)]
    pub operation: Operation,
    /// What it does by itself.
    #[serde(default)]
    pub mechanics: Mechanics,
    /// The figures by which chalk is reckoned in it.
    #[serde(default)]
    pub heating: Heating,
}

/// A needle as typed: directions are a text such as "30, 150, 270".
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NeedleDraft {
    /// Identity within the brewer.
    pub id: String,
    /// What people call it.
    pub name: String,
    /// Where it stands.
    pub seat: Seat,
    /// Whether it comes out.
    pub comes_out: bool,
    /// Direction in which it stands beside the middle; empty for the middle.
    pub at: String,
    /// Directions its holes face.
    pub holes: String,
    /// Whether the opening below its seat is cleared too.
    pub opening: bool,
}

impl NeedleDraft {
    /// Each as it is typed.
    #[must_use]
    pub fn all(needles: &[Needle]) -> Vec<Self> {
        needles.iter().map(Self::of).collect()
    }

    fn of(needle: &Needle) -> Self {
        let degrees = |d: &f64| trim(*d, 0);
        Self {
            id: needle.id.clone(),
            name: needle.name.clone(),
            seat: needle.seat,
            comes_out: needle.comes_out,
            at: needle.at_deg.as_ref().map_or(String::new(), degrees),
            holes: needle
                .holes_deg
                .iter()
                .map(degrees)
                .collect::<Vec<_>>()
                .join(", "),
            opening: needle.opening,
        }
    }

    pub(crate) fn read(&self, place: &str) -> Result<Needle, Problems> {
        let mut problems = Problems::default();
        let mut degrees = |name: &str, text: &str| -> Vec<f64> {
            let parts = text.split([',', ' ', ';']).filter(|t| !t.is_empty());
            let read = parts.map(|part| {
                part.trim_end_matches('°').parse::<f64>().map_err(|_| {
                    Problem::new(
                        Code::NotANumber,
                        format!("{place}.{name}"),
                        format!("\"{part}\" is no direction: give degrees clockwise from the front, such as 30, 150, 270"),
                    )
                })
            });
            read.filter_map(|d| problems.note(d)).collect()
        };
        let needle = Needle {
            id: self.id.clone(),
            name: self.name.trim().to_owned(),
            seat: self.seat,
            comes_out: self.comes_out,
            at_deg: degrees("at", &self.at).first().copied(),
            holes_deg: degrees("holes", &self.holes),
            opening: self.opening,
        };
        problems.or(Some(needle))
    }
}

/// The volumes of a form, read.
pub(crate) struct Volumes {
    pub(crate) carafe: Option<Carafe>,
    pub(crate) reservoir_ml: f64,
    pub(crate) hold_up_ml: f64,
    pub(crate) dead_ml: f64,
    pub(crate) dispense_ml: f64,
    pub(crate) cup_ml: f64,
    pub(crate) line_ml: Option<f64>,
}

/// A side's figures once read.
pub(crate) struct Side {
    pub(crate) heating: Heating,
    pub(crate) dispense_ml: f64,
    pub(crate) hold_up_ml: f64,
    pub(crate) dead_volume_ml: f64,
    pub(crate) share: f64,
    pub(crate) reservoir_ml: Option<f64>,
    pub(crate) operation: Operation,
    pub(crate) mechanics: Mechanics,
}

impl SideDraft {
    pub(crate) fn read(
        &self,
        shared_ml: Option<f64>,
        before: Option<&Circuit>,
    ) -> Result<Side, Problems> {
        let mut problems = Problems::default();
        let mut volume = |name: &str, text: &str, bound, was: Option<f64>| {
            let field = format!("other_side.{name}");
            let now = problems.note(parse_volume(&field, text, bound, None));
            now.map(|now| untouched(now, was))
        };
        let was = |of: fn(&Circuit) -> f64| before.map(of);
        let dispense = volume(
            "dispense",
            &self.dispense,
            &bounds::DISPENSE,
            was(|c| c.dispense_ml),
        );
        let hold_up = volume(
            "hold_up",
            &self.hold_up,
            &bounds::HOLD_UP,
            was(|c| c.hold_up_ml),
        );
        let dead = volume(
            "dead_volume",
            &self.dead_volume,
            &bounds::DEAD_VOLUME,
            was(|c| c.dead_volume_ml),
        );
        let own = match self.reservoir.as_deref().map(str::trim) {
            None | Some("") => None,
            Some(typed) => {
                let was = before.and_then(|c| c.reservoir_ml);
                volume("reservoir", typed, &bounds::RESERVOIR, was)
            }
        };
        problems.note(bounds::PER_CENT.check("other_side.share", self.share));
        let operation = problems.note(self.operation.check("other_side.operation"));
        problems.note(self.mechanics.check("other_side.mechanics"));
        let heating = problems.note(self.heating.check("other_side.heating"));
        if let (Some(holds), Some(dispense), Some(dead)) = (own.or(shared_ml), dispense, dead)
            && dispense + dead > holds
        {
            problems.0.push(Problem::new(
                Code::TooMuch,
                "other_side.dispense",
                "one dispense is more than the reservoir gives",
            ));
        }
        let side = (|| {
            Some(Side {
                heating: heating?,
                dispense_ml: dispense?,
                hold_up_ml: hold_up?,
                dead_volume_ml: dead?,
                share: self.share / 100.0,
                reservoir_ml: own,
                operation: operation?,
                mechanics: self.mechanics.clone(),
            })
        })();
        problems.or(side)
    }
}

/// A volume as it was before, where it is typed as it was shown: who saves a sheet has not changed what is only rounded in it.
pub(crate) fn untouched(now_ml: f64, was_ml: Option<f64>) -> f64 {
    let shown = |was: f64| {
        let tenth = |of: f64| (was / of * 10.0).round() / 10.0 * of;
        [tenth(FL_OZ_ML), tenth(1.0)]
    };
    was_ml
        .filter(|was| shown(*was).iter().any(|ml| (ml - now_ml).abs() < 1e-6))
        .unwrap_or(now_ml)
}

/// A circuit with what an older state of it has learned, or the starting values of its heater.
pub(crate) fn blank(id: &str, outlet: Outlet, heater: Heater, old: Option<&Circuit>) -> Circuit {
    let defaults = heater.defaults();
    Circuit {
        id: id.to_owned(),
        outlet,
        heater,
        hold_up_ml: 0.0,
        dispense_ml: 0.0,
        dead_volume_ml: 0.0,
        area_cm2: old.map_or(defaults.area_cm2, |c| c.area_cm2),
        limit_um: old.map_or(defaults.limit_um, |c| c.limit_um),
        plating: old.map_or(defaults.plating, |c| c.plating),
        plating_sigma: old.map_or(PLATING_SIGMA, |c| c.plating_sigma),
        temp_c: old.and_then(|c| c.temp_c),
        share: 1.0,
        washout: None,
        reservoir_ml: None,
        operation: Operation::default(),
        mechanics: Mechanics::default(),
    }
}

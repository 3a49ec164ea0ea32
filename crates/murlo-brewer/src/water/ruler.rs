//! The hardness ruler: classes, and the same hardness in every unit.

use murlo_base::units::{HardnessUnit, trim};
use serde::Serialize;

/// One class of the ruler.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RulerClass {
    /// Its name.
    pub name: &'static str,
    /// Where it begins, mg/L.
    pub from: f64,
    /// Where it ends, mg/L; the last is drawn to the end of the ruler.
    pub to: f64,
}

/// The hardness ruler: the classes of the USGS, drawn to 400 mg/L.
pub const RULER: [RulerClass; 4] = [
    RulerClass {
        name: "soft",
        from: 0.0,
        to: 60.0,
    },
    RulerClass {
        name: "moderately hard",
        from: 60.0,
        to: 120.0,
    },
    RulerClass {
        name: "hard",
        from: 120.0,
        to: 180.0,
    },
    RulerClass {
        name: "very hard",
        from: 180.0,
        to: 400.0,
    },
];

/// One unit's scale along the ruler.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RulerScale {
    /// The unit.
    pub unit: &'static str,
    /// Its ticks.
    pub ticks: Vec<RulerTick>,
}

/// A tick of a scale.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RulerTick {
    /// Where it stands, mg/L.
    pub at: f64,
    /// Its number in the scale's unit.
    pub label: String,
}

/// Scales of the units people read strips and reports in, each in round steps of its own.
#[must_use]
pub fn ruler_scales() -> Vec<RulerScale> {
    [
        (HardnessUnit::MgPerL, 50.0),
        (HardnessUnit::Gpg, 5.0),
        (HardnessUnit::German, 5.0),
        (HardnessUnit::French, 10.0),
        (HardnessUnit::Clark, 5.0),
        (HardnessUnit::MmolPerL, 1.0),
    ]
    .map(|(unit, step)| {
        let end = RULER[RULER.len() - 1].to / unit.mg_per_l();
        RulerScale {
            unit: unit.label(),
            ticks: (0..=(end / step + 1e-9) as u32)
                .map(|n| f64::from(n) * step)
                .map(|value| RulerTick {
                    at: value * unit.mg_per_l(),
                    label: trim(value, 0),
                })
                .collect(),
        }
    })
    .into()
}

/// USGS hardness class.
#[must_use]
pub fn class(hardness: f64) -> &'static str {
    match hardness {
        h if h <= 60.0 => "soft",
        h if h <= 120.0 => "moderately hard",
        h if h <= 180.0 => "hard",
        _ => "very hard",
    }
}

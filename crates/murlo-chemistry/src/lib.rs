//! Formulas of scale, acid baths, soaking, rinsing and colour: numbers in, numbers out, base units in every name.
//!
//! It stands on `murlo-base` and knows nothing of brewers, people or words; `murlo-brewer` has the things. Temperatures are °C,
//! concentrations mg/L or mol/L as named. `log` is base 10.

#![deny(missing_docs)]
// Our own enums are matched in full, so that a new member is missed by the compiler before it is missed by a person.
#![cfg_attr(not(test), warn(clippy::wildcard_enum_match_arm))]

pub mod acid;
pub mod carbonate;
pub mod cleaning;
pub mod colour;
pub mod dissolve;
pub mod flux;
pub mod heater;
mod root;
pub mod spread;
pub mod washout;

/// Molar mass of CaCO3 in mg/mol, by which mg/L become mol/L.
pub(crate) const CACO3_MG_PER_MOL: f64 = 100_087.0;
/// Density of compact calcite in g/cm³.
pub(crate) const CALCITE_DENSITY: f64 = 2.71;

/// Mass in mg of a chalk film of `thickness_um` on `area_cm2`, as compact calcite.
///
/// # Example
/// ```
/// // 20 µm on 100 cm² is half a gram.
/// assert!((murlo_chemistry::film_mg(20.0, 100.0) - 542.0).abs() < 1.0);
/// ```
#[must_use]
pub fn film_mg(thickness_um: f64, area_cm2: f64) -> f64 {
    thickness_um * 1e-4 * area_cm2 * CALCITE_DENSITY * 1000.0
}

/// Thickness in µm of `mass_mg` of compact calcite on `area_cm2`.
///
/// # Example
/// ```
/// let um = murlo_chemistry::film_um(murlo_chemistry::film_mg(20.0, 100.0), 100.0);
/// assert!((um - 20.0).abs() < 1e-9);
/// ```
#[must_use]
pub fn film_um(mass_mg: f64, area_cm2: f64) -> f64 {
    mass_mg / (1e-4 * area_cm2 * CALCITE_DENSITY * 1000.0)
}

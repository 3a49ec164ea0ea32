//! What a water is: from a strip, a label, or the chalk it leaves on taps; and how sure one can be of it.

use crate::bounds;
use crate::chem::carbonate::{self, Heat};
use crate::problem::{Problem, Problems};
use crate::units::{HardnessUnit, hardness};
use serde::{Deserialize, Serialize};

/// What is seen on taps, kettles and shower heads, when nothing has been measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TapChalk {
    /// Taps stay clean for months.
    None,
    /// A faint film after some weeks.
    Film,
    /// A white crust within weeks.
    Crust,
    /// A thick crust; flakes in the kettle.
    Flakes,
}

impl TapChalk {
    /// The hardness class it suggests, as its ends in mg/L (USGS classes; the last ends at a very hard supply).
    const fn ends(self) -> (f64, f64) {
        match self {
            Self::None => (15.0, 60.0),
            Self::Film => (60.0, 120.0),
            Self::Crust => (120.0, 180.0),
            Self::Flakes => (180.0, 350.0),
        }
    }
}

/// How a water is known.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "by", rename_all = "snake_case", deny_unknown_fields)]
pub enum Reading {
    /// A test strip or kit for total hardness.
    Strip {
        /// The number read.
        value: f64,
        /// Its unit.
        unit: HardnessUnit,
    },
    /// A bottle label or water report, in mg/L.
    Label {
        /// Calcium.
        ca_mg_l: f64,
        /// Magnesium.
        mg_mg_l: f64,
        /// Hydrogen carbonate.
        hco3_mg_l: f64,
        /// pH, if given.
        ph: Option<f64>,
        /// Dissolved solids, if given.
        tds_mg_l: Option<f64>,
    },
    /// A guess from the chalk on taps.
    Taps {
        /// What is seen.
        chalk: TapChalk,
    },
}

/// A water that brewers are filled with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Water {
    /// Identity.
    pub id: String,
    /// What the household calls it.
    pub name: String,
    /// How it is known.
    pub reading: Reading,
}

/// A water as it arrives from a form, before it has an identity.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct WaterDraft {
    /// What the household calls it.
    pub name: String,
    /// How it is known.
    pub reading: Reading,
}

impl WaterDraft {
    /// The water, under `id`.
    ///
    /// # Errors
    /// One problem per wrong field: an empty or long name, a number outside its range.
    pub fn check(self, id: String) -> Result<Water, Problems> {
        let mut problems = Problems::default();
        let name = problems.note(crate::text::name("name", &self.name));
        problems.note(Chemistry::of(&self.reading).map_err(|p| p.within("reading")));
        problems.or(name.map(|name| Water {
            id,
            name,
            reading: self.reading,
        }))
    }
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

/// Hardness, alkalinity and carbonate hardness (mg/L as CaCO3) from ions in mg/L.
#[must_use]
pub fn from_label(ca: f64, mg: f64, hco3: f64) -> (f64, f64, f64) {
    let total = CA_TO_CACO3 * ca + 100.087 / 24.305 * mg;
    let alkalinity = 50.0435 / 61.0168 * hco3;
    (total, alkalinity, total.min(alkalinity))
}

/// Two waters mixed, `share` of the first by volume: hardness, alkalinity and dissolved solids all follow it.
#[must_use]
pub fn blend(first: f64, second: f64, share: f64) -> f64 {
    share * first + (1.0 - share) * second
}

const CA_TO_CACO3: f64 = 100.087 / 40.078;
/// Read temperature of tap water.
const SOURCE_C: f64 = 20.0;
/// Utilities keep 7.2 to 8.
const TAP_PH: f64 = 7.6;

/// The water of which only total hardness is known: three quarters of it calcium, and as much alkalinity.
#[must_use]
pub fn from_strip(hardness: f64) -> carbonate::Water {
    carbonate::Water {
        calcium: 0.75 * hardness,
        alkalinity: 0.75 * hardness,
        ph: TAP_PH,
        tds: 1.5 * hardness + 20.0,
        source_c: SOURCE_C,
    }
}

/// A water in numbers, with what is known about the error of its scale potential.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Chemistry {
    /// Total hardness, mg/L as CaCO3.
    pub hardness: f64,
    /// What the potential needs.
    pub water: carbonate::Water,
    evidence: Evidence,
}

#[derive(Debug, Clone, Copy, PartialEq)]
enum Evidence {
    Strip,
    Label,
    /// Ends of the class that was guessed.
    Taps(f64, f64),
}

/// Scale potential of a water in a heater, with the standard deviation of its logarithm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Potential {
    /// mg CaCO3 per litre.
    pub mg_l: f64,
    /// Spread of its natural logarithm.
    pub sigma: f64,
}

/// Spread of ln P when only a strip is known.
#[must_use]
pub fn strip_sigma(potential: f64) -> f64 {
    if potential <= 0.0 {
        1.0
    } else {
        (0.25 + 5.0 / potential).min(1.0)
    }
}

/// Spread of ln P from a label or report.
#[must_use]
pub fn label_sigma(potential: f64) -> f64 {
    if potential <= 0.0 {
        0.6
    } else {
        (0.06 + 1.5 / potential).min(0.6)
    }
}

impl Chemistry {
    /// The numbers behind a reading.
    ///
    /// # Errors
    /// A number outside its range, naming the reading's field.
    pub fn of(reading: &Reading) -> Result<Self, Problem> {
        Ok(match *reading {
            Reading::Strip { value, unit } => {
                let hardness = hardness("value", value, unit)?;
                Self {
                    hardness,
                    water: from_strip(hardness),
                    evidence: Evidence::Strip,
                }
            }
            Reading::Label {
                ca_mg_l,
                mg_mg_l,
                hco3_mg_l,
                ph,
                tds_mg_l,
            } => {
                let ca = bounds::ION.check("ca_mg_l", ca_mg_l)?;
                let mg = bounds::ION.check("mg_mg_l", mg_mg_l)?;
                let hco3 = bounds::ION.check("hco3_mg_l", hco3_mg_l)?;
                let (hardness, alkalinity, _) = from_label(ca, mg, hco3);
                bounds::HARDNESS.check("ca_mg_l", hardness)?;
                let guessed = from_strip(hardness);
                let water = carbonate::Water {
                    calcium: CA_TO_CACO3 * ca,
                    alkalinity,
                    ph: ph.map_or(Ok(TAP_PH), |v| bounds::PH.check("ph", v))?,
                    tds: tds_mg_l.map_or(Ok(guessed.tds), |v| bounds::TDS.check("tds_mg_l", v))?,
                    source_c: SOURCE_C,
                };
                Self {
                    hardness,
                    water,
                    evidence: Evidence::Label,
                }
            }
            Reading::Taps { chalk } => {
                let (low, high) = chalk.ends();
                let hardness = (low * high).sqrt();
                Self {
                    hardness,
                    water: from_strip(hardness),
                    evidence: Evidence::Taps(low, high),
                }
            }
        })
    }

    /// Scale potential in a heater.
    #[must_use]
    pub fn potential(&self, heat: &Heat) -> Potential {
        let mg_l = carbonate::potential(&self.water, heat);
        let sigma = match self.evidence {
            Evidence::Strip => strip_sigma(mg_l),
            Evidence::Label => label_sigma(mg_l),
            Evidence::Taps(low, high) => {
                let at = |h: f64| carbonate::potential(&from_strip(h), heat).max(1.0);
                // The class's ends taken as P10 and P90.
                let class = (at(high) / at(low)).ln() / (2.0 * crate::spread::P90);
                class.hypot(strip_sigma(mg_l)).min(1.0)
            }
        };
        Potential { mg_l, sigma }
    }

    /// How it is known, in words that end a sentence.
    #[must_use]
    pub const fn known_from(&self) -> &'static str {
        match self.evidence {
            Evidence::Strip => "from a strip",
            Evidence::Label => "from a label or report",
            Evidence::Taps(..) => "guessed from chalk on taps",
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::problem::Code;

    const TANK: Heat = Heat {
        temp_c: 92.0,
        co2_retained: 0.15,
    };

    #[test]
    fn a_guess_is_less_sure_than_a_strip_and_a_strip_than_a_label() {
        let strip = Chemistry::of(&Reading::Strip {
            value: 147.0,
            unit: HardnessUnit::MgPerL,
        })
        .unwrap()
        .potential(&TANK);
        let guess = Chemistry::of(&Reading::Taps {
            chalk: TapChalk::Crust,
        })
        .unwrap()
        .potential(&TANK);
        let label = Reading::Label {
            ca_mg_l: 44.0,
            mg_mg_l: 9.0,
            hco3_mg_l: 134.0,
            ph: None,
            tds_mg_l: None,
        };
        let label = Chemistry::of(&label).unwrap().potential(&TANK);
        assert!((guess.mg_l / strip.mg_l - 1.0).abs() < 0.01);
        assert!(label.sigma < strip.sigma && strip.sigma < guess.sigma);
    }

    #[test]
    fn distilled_water_leaves_no_scale() {
        let none = Reading::Label {
            ca_mg_l: 0.0,
            mg_mg_l: 0.0,
            hco3_mg_l: 0.0,
            ph: None,
            tds_mg_l: None,
        };
        assert_eq!(Chemistry::of(&none).unwrap().potential(&TANK).mg_l, 0.0);
    }

    #[test]
    fn a_wrong_number_names_its_field_and_range() {
        let draft = WaterDraft {
            name: "  ".into(),
            reading: Reading::Strip {
                value: 4000.0,
                unit: HardnessUnit::MgPerL,
            },
        };
        let problems = draft.check("w".into()).unwrap_err().0;
        assert_eq!(
            (problems[0].code, problems[0].field.as_str()),
            (Code::Missing, "name")
        );
        assert_eq!(
            (problems[1].code, problems[1].field.as_str()),
            (Code::OutOfRange, "reading.value")
        );
        assert!(
            problems[1].message.contains("3000 mg/L"),
            "{}",
            problems[1].message
        );
    }
}

//! What a water means: hardness, alkalinity and what heat makes of them, each with how sure it is.

use crate::water::reading::{Reading, TapChalk, Through, Waters};
use crate::water::ruler::class;
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem};
use murlo_base::units::{HardnessUnit, hardness, trim};
use murlo_chemistry::carbonate::{self, Heat};
use serde::{Deserialize, Serialize};

/// A water as a screen shows it: on a ruler in every unit, and split into what scale can form from and what cannot.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Portrait {
    /// Total hardness, mg/L as CaCO3.
    pub hardness: f64,
    /// Its carbonate part: turns to scale when heated.
    pub carbonate: f64,
    /// The rest, which stays dissolved.
    pub permanent: f64,
    /// USGS class.
    pub class: String,
    /// The same hardness in every unit: "320 mg/L", "18.7 gpg".
    pub in_units: Vec<String>,
    /// "about 320 mg/L, very hard, from a strip".
    pub text: String,
}

impl Chemistry {
    /// The water for a screen.
    #[must_use]
    pub fn portrait(&self) -> Portrait {
        let carbonate = self.carbonate_hardness();
        Portrait {
            hardness: self.hardness,
            carbonate,
            permanent: self.hardness - carbonate,
            class: class(self.hardness).to_owned(),
            in_units: HardnessUnit::ALL
                .iter()
                .map(|unit| {
                    let value = self.hardness / unit.mg_per_l();
                    let places = usize::from(value < 100.0);
                    format!("{} {}", trim(value, places), unit.label())
                })
                .collect(),
            text: format!(
                "about {:.0} mg/L, {}, {}",
                self.hardness,
                class(self.hardness),
                self.known_from()
            ),
        }
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

/// One tap in ten gives softer water than the first, one in ten harder than the second, mg/L. Judged.
const ANY_TAP: (f64, f64) = (30.0, 350.0);

/// Shares of the hardness that a filter jug takes out, fresh and at its end. Judged.
const JUG_TAKES: (f64, f64) = (0.8, 0.2);

/// What a softener leaves, set well and set badly, mg/L. Judged.
const SOFTENED: (f64, f64) = (5.0, 40.0);

/// One bottled still water in ten is softer than the first, one in ten harder than the second, mg/L. Judged.
const BOTTLED: (f64, f64) = (20.0, 300.0);

/// Utilities keep 7.2 to 8.
const TAP_PH: f64 = 7.6;

/// The water of which only total hardness is known: three quarters of it calcium, and as much alkalinity.
#[must_use]
pub fn from_strip(hardness: f64) -> carbonate::WaterSample {
    carbonate::WaterSample {
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
    pub water: carbonate::WaterSample,
    evidence: KnownBy,
}

#[derive(Debug, Clone, Copy, PartialEq)]
enum KnownBy {
    Label,
    Strip,
    /// Ends of a class or step, and how it was found.
    Class(f64, f64, &'static str),
}

impl KnownBy {
    /// The less sure of two; of two classes one that spans both ends in their shares.
    fn blended(self, other: Self, share: f64) -> Self {
        match (self, other) {
            (Self::Class(a, b, _), Self::Class(c, d, _)) => {
                Self::Class(blend(a, c, share), blend(b, d, share), "blended")
            }
            (class @ Self::Class(..), _) | (_, class @ Self::Class(..)) => class,
            (Self::Strip, _) | (_, Self::Strip) => Self::Strip,
            _ => Self::Label,
        }
    }
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
    /// Spread of the potential's logarithm once a report or label of this water is known; nothing where one is.
    #[must_use]
    pub fn report_sigma(&self, potential: &Potential) -> Option<f64> {
        (self.evidence != KnownBy::Label).then(|| label_sigma(potential.mg_l))
    }

    /// The numbers behind a reading; `waters` are where a blend finds its parts.
    ///
    /// # Errors
    /// A number outside its range or an unknown part, naming the reading's field.
    pub fn of(reading: &Reading, waters: &Waters) -> Result<Self, Problem> {
        Ok(match *reading {
            Reading::Typed { .. } => return Self::of(&reading.clone().into_meant()?, waters),
            Reading::Strip { value, unit } => {
                let hardness = hardness("value", value, unit)?;
                Self {
                    hardness,
                    water: from_strip(hardness),
                    evidence: KnownBy::Strip,
                }
            }
            Reading::Between { low, high, unit } => {
                let low = hardness("low", low, unit)?;
                let high = hardness("high", high, unit)?;
                if high <= low {
                    return Err(Problem::new(
                        Code::OutOfRange,
                        "high",
                        "the upper number of the step must be above the lower one",
                    ));
                }
                Self::within(low, high, "from a strip's step")
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
                let water = carbonate::WaterSample {
                    calcium: CA_TO_CACO3 * ca,
                    alkalinity,
                    ph: ph.map_or(Ok(TAP_PH), |v| bounds::PH.check("ph", v))?,
                    tds: tds_mg_l.map_or(Ok(guessed.tds), |v| bounds::TDS.check("tds_mg_l", v))?,
                    source_c: SOURCE_C,
                };
                Self {
                    hardness,
                    water,
                    evidence: KnownBy::Label,
                }
            }
            Reading::Taps { chalk } => {
                let (low, high) = chalk.ends();
                Self::within(low, high, "guessed from chalk on taps")
            }
            Reading::Through { through, chalk } => Self::through(through, chalk),
            Reading::Unknown {} => {
                let (low, high) = ANY_TAP;
                Self::within(low, high, "not known: anything that comes out of taps")
            }
            Reading::Blend {
                ref first_id,
                ref second_id,
                share_first,
            } => {
                let share = bounds::SHARE.check("share_first", share_first)?;
                let first = Self::of_part("first_id", first_id, waters)?;
                first.blended(&Self::of_part("second_id", second_id, waters)?, share)
            }
        })
    }

    /// Tap water, or any where nobody looked at the taps, behind what it goes through.
    fn through(through: Through, chalk: Option<TapChalk>) -> Self {
        let (low, high) = chalk.map_or(ANY_TAP, TapChalk::ends);
        match through {
            Through::Jug => {
                let (fresh, spent) = JUG_TAKES;
                let (low, high) = (low * (1.0 - fresh), high * (1.0 - spent));
                Self::within(low, high, "guessed, through a filter")
            }
            Through::Softener => {
                let (low_left, high_left) = SOFTENED;
                let soft = Self::within(low_left, high_left, "guessed, softened");
                // Calcium goes and hydrogen carbonate stays.
                let tap = Self::within(low, high, "").water;
                Self {
                    water: carbonate::WaterSample {
                        alkalinity: tap.alkalinity,
                        tds: tap.tds,
                        ..soft.water
                    },
                    ..soft
                }
            }
            Through::HalfBottled => {
                let (low, high) = (blend(low, BOTTLED.0, 0.5), blend(high, BOTTLED.1, 0.5));
                Self::within(low, high, "guessed, half of it bottled")
            }
            Through::Bottled => Self::within(
                BOTTLED.0,
                BOTTLED.1,
                "guessed, bottled: its label tells more",
            ),
        }
    }

    /// A part of a blend; `field` is where it is named.
    fn of_part(field: &str, id: &str, waters: &Waters) -> Result<Self, Problem> {
        let message = match waters.get(id).map(|water| &water.reading) {
            None => "no such water: choose one of the household's",
            Some(Reading::Blend { .. }) => {
                "a blend is made of unblended waters: choose one of those"
            }
            Some(reading) => return Self::of(reading, waters),
        };
        Err(Problem::new(Code::UnknownId, field, message))
    }

    /// A class or step, taken at its geometric mean: its ends lie equally far away on the logarithm.
    fn within(low: f64, high: f64, known: &'static str) -> Self {
        let hardness = (low.max(5.0) * high).sqrt();
        Self {
            hardness,
            water: from_strip(hardness),
            evidence: KnownBy::Class(low.max(5.0), high, known),
        }
    }

    /// `share` of this water with `other`. pH does not blend linearly, but weighted by alkalinity it nearly does.
    #[must_use]
    pub(crate) fn blended(&self, other: &Self, share: f64) -> Self {
        let mix = |a: f64, b: f64| blend(a, b, share);
        let alkalinity = mix(self.water.alkalinity, other.water.alkalinity);
        let acidity = mix(
            self.water.alkalinity * self.water.ph,
            other.water.alkalinity * other.water.ph,
        );
        Self {
            hardness: mix(self.hardness, other.hardness),
            water: carbonate::WaterSample {
                calcium: mix(self.water.calcium, other.water.calcium),
                alkalinity,
                ph: if alkalinity > 0.0 {
                    acidity / alkalinity
                } else {
                    TAP_PH
                },
                tds: mix(self.water.tds, other.water.tds),
                source_c: SOURCE_C,
            },
            evidence: self.evidence.blended(other.evidence, share),
        }
    }

    /// This water behind a filter that takes out `share` of its carbonate hardness. Its pH is left alone: a fresh filter
    /// lowers it, which would lower the potential further, so this errs on the safe side.
    #[must_use]
    pub fn filtered(&self, share: f64) -> Self {
        let out = share * self.carbonate_hardness();
        let kept = if self.hardness > 0.0 {
            1.0 - out / self.hardness
        } else {
            1.0
        };
        Self {
            hardness: self.hardness - out,
            water: carbonate::WaterSample {
                calcium: self.water.calcium * kept,
                alkalinity: self.water.alkalinity - out,
                tds: (self.water.tds - out).max(0.0),
                ..self.water
            },
            evidence: self.evidence,
        }
    }

    /// The part of the hardness that can turn to scale when heated, mg/L as CaCO3.
    #[must_use]
    pub fn carbonate_hardness(&self) -> f64 {
        self.hardness.min(self.water.alkalinity)
    }

    /// Scale potential in a heater.
    #[must_use]
    pub fn potential(&self, heat: &Heat) -> Potential {
        let mg_l = carbonate::potential(&self.water, heat);
        let sigma = match self.evidence {
            KnownBy::Strip => strip_sigma(mg_l),
            KnownBy::Label => label_sigma(mg_l),
            KnownBy::Class(low, high, _) => {
                let at = |h: f64| carbonate::potential(&from_strip(h), heat).max(1.0);
                // The class's ends taken as P10 and P90.
                let class = (at(high) / at(low)).ln() / (2.0 * murlo_chemistry::spread::P90);
                class.hypot(strip_sigma(mg_l)).min(1.0)
            }
        };
        Potential { mg_l, sigma }
    }

    /// How it is known, in words that end a sentence.
    #[must_use]
    pub const fn known_from(&self) -> &'static str {
        match self.evidence {
            KnownBy::Strip => "from a strip",
            KnownBy::Label => "from a label or report",
            KnownBy::Class(_, _, known) => known,
        }
    }
}

//! Volumes as people read them: cups and fluid ounces, or mL and litres.

use serde::{Deserialize, Serialize};

/// mL in a US cup (the measuring cup, not a carafe mark).
pub const CUP_ML: f64 = 236.588_236_5;

/// mL in a US fluid ounce.
pub const FL_OZ_ML: f64 = 29.573_529_562_5;

/// mL in a US tablespoon.
pub const TABLESPOON_ML: f64 = FL_OZ_ML / 2.0;

/// The units a household reads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Units {
    /// Cups and fluid ounces.
    #[default]
    Us,
    /// Millilitres and litres.
    Metric,
}

/// An amount: millilitres, and the words for this household or the tool at hand.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Measure {
    /// Millilitres.
    pub ml: f64,
    /// "2 cups", "to the 5 mark", "1.4 L".
    pub text: String,
}

impl Units {
    /// Whether people measure in cups and fluid ounces, and read a clock of twelve hours.
    #[must_use]
    pub const fn are_customary(self) -> bool {
        match self {
            Self::Us => true,
            Self::Metric => false,
        }
    }

    /// `ml` as a measure in this household's units.
    #[must_use]
    pub fn measure(self, ml: f64) -> Measure {
        Measure {
            ml,
            text: self.volume(ml),
        }
    }

    /// `ml` in words: "12 fl oz", "355 mL", "1.4 L".
    ///
    /// # Example
    /// ```
    /// use murlo_base::units::Units;
    /// assert_eq!(Units::Metric.volume(1400.0), "1.4 L");
    /// ```
    #[must_use]
    pub fn volume(self, ml: f64) -> String {
        match self {
            Self::Us if ml >= 32.0 * FL_OZ_ML && near(ml / CUP_ML, 0.25) => {
                quarters(ml / CUP_ML, "cup", "cups")
            }
            Self::Us => format!("{} fl oz", sensible(ml / FL_OZ_ML)),
            Self::Metric if ml >= 1000.0 => format!("{} L", trim(ml / 1000.0, 2)),
            Self::Metric => format!("{} mL", ml.round()),
        }
    }

    /// `ml` as a button says it: whole fl oz, tens of millilitres, tenths of a litre.
    #[must_use]
    pub fn whole_volume(self, ml: f64) -> String {
        match self {
            Self::Us => format!("{} fl oz", (ml / FL_OZ_ML).round().max(1.0)),
            Self::Metric if ml >= 1000.0 => format!("{} L", trim(ml / 1000.0, 1)),
            Self::Metric => format!("{} mL", ((ml / 10.0).round() * 10.0).max(10.0)),
        }
    }

    /// `litres` of use, in words.
    #[must_use]
    pub fn use_volume(self, litres: f64) -> String {
        match self {
            Self::Us => format!("{} gal", sensible(litres * 1000.0 / (128.0 * FL_OZ_ML))),
            Self::Metric => format!("{} L", sensible(litres)),
        }
    }
}

/// Two figures for large numbers, one place for small ones, none where it is whole anyway.
fn sensible(value: f64) -> String {
    if value >= 20.0 {
        format!("{}", value.round())
    } else {
        trim(value, 1)
    }
}

/// At most `places` decimals, without trailing zeros.
///
/// # Example
/// ```
/// use murlo_base::units::trim;
/// assert_eq!((trim(2.50, 2), trim(3.0, 1)), ("2.5".to_owned(), "3".to_owned()));
/// ```
#[must_use]
pub fn trim(value: f64, places: usize) -> String {
    let text = format!("{value:.places$}");
    if text.contains('.') {
        text.trim_end_matches('0').trim_end_matches('.').to_owned()
    } else {
        text
    }
}

fn near(value: f64, step: f64) -> bool {
    (value / step - (value / step).round()).abs() < 1e-3
}

/// "2¼ cups": a number in quarters with its noun.
pub(crate) fn quarters(value: f64, one: &str, many: &str) -> String {
    let count = (value * 4.0).round();
    let whole = (count / 4.0).floor();
    let fraction = ["", "¼", "½", "¾"][(count as usize) % 4];
    let noun = if count <= 4.0 { one } else { many };
    match (whole, fraction) {
        (0.0, "") => format!("0 {many}"),
        (0.0, _) => format!("{fraction} {noun}"),
        _ => format!("{whole}{fraction} {noun}"),
    }
}

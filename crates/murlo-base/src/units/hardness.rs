//! Units of hardness and of what else is dissolved, as strips, labels and reports have them.

use crate::bounds::{self, Bound};
use crate::problem::{Code, Problem};
use serde::{Deserialize, Serialize};

/// A unit of water hardness.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub enum HardnessUnit {
    /// mg/L as CaCO3.
    #[serde(rename = "mg/L")]
    MgPerL,
    /// Parts per million as CaCO3.
    #[serde(rename = "ppm")]
    Ppm,
    /// US grains a gallon.
    #[serde(rename = "gpg")]
    Gpg,
    /// German degrees.
    #[serde(rename = "dH")]
    German,
    /// French degrees.
    #[serde(rename = "fH")]
    French,
    /// English degrees.
    #[serde(rename = "clark")]
    Clark,
    /// mmol/L of calcium and magnesium.
    #[serde(rename = "mmol/L")]
    MmolPerL,
}

impl HardnessUnit {
    /// Every unit, in the order they are offered.
    pub const ALL: [Self; 7] = [
        Self::MgPerL,
        Self::Ppm,
        Self::Gpg,
        Self::German,
        Self::French,
        Self::Clark,
        Self::MmolPerL,
    ];

    /// The name used in data.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::MgPerL => "mg/L",
            Self::Ppm => "ppm",
            Self::Gpg => "gpg",
            Self::German => "dH",
            Self::French => "fH",
            Self::Clark => "clark",
            Self::MmolPerL => "mmol/L",
        }
    }

    /// The name people read.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Self::German => "°dH",
            Self::French => "°fH",
            Self::Clark => "°Clark",
            other @ (Self::MgPerL | Self::Ppm | Self::Gpg | Self::MmolPerL) => other.id(),
        }
    }

    /// mg/L as CaCO3 in one of this unit.
    ///
    /// # Example
    /// ```
    /// use murlo_base::units::HardnessUnit;
    /// assert!((HardnessUnit::Gpg.mg_per_l() - 17.118).abs() < 0.001);
    /// ```
    #[must_use]
    pub const fn mg_per_l(self) -> f64 {
        match self {
            Self::MgPerL | Self::Ppm => 1.0,
            Self::Gpg => 64.798_91 / 3.785_411_784,
            Self::German => 10.0 * 100.087 / 56.0774,
            Self::French => 10.0,
            Self::Clark => 64.798_91 / 4.546_09,
            Self::MmolPerL => 100.087,
        }
    }
}

/// A hardness as somebody wrote it down.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct HardnessRead {
    /// The number, or the lower one of "8-10 dH".
    pub low: f64,
    /// The upper one, where two were given.
    pub high: Option<f64>,
    /// Their unit.
    pub unit: HardnessUnit,
}

/// Reads a hardness as a person types it: "7 grains", "120ppm", "8-10 dH", "1,5 mmol/L"; without a unit it is `assumed`.
///
/// # Errors
/// `Missing` when empty, `NotANumber` where no number or more than two can be read, `WrongUnit` where the unit is none of
/// hardness, or could be two.
///
/// # Example
/// ```
/// use murlo_base::units::{HardnessUnit, read_hardness};
/// let read = read_hardness("hardness", "8-10 dH", HardnessUnit::Ppm).unwrap();
/// assert_eq!((read.low, read.high, read.unit), (8.0, Some(10.0), HardnessUnit::German));
/// ```
pub fn read_hardness(
    field: &str,
    text: &str,
    assumed: HardnessUnit,
) -> Result<HardnessRead, Problem> {
    const RIGHT: &str = "such as 120 ppm, 7 gpg, 8 dH or 8-10 dH";
    let refuse = |code, message: String| Err(Problem::new(code, field, message));
    let plain = text.trim().to_lowercase().replace(['–', '−'], "-");
    let plain = ["about ", "ca. ", "ca ", "~", "≈"]
        .iter()
        .find_map(|word| plain.strip_prefix(word))
        .unwrap_or(&plain)
        .trim();
    if plain.is_empty() {
        return refuse(Code::Missing, format!("hardness is needed, {RIGHT}"));
    }
    let is_figure = |c: char| c.is_ascii_digit() || matches!(c, '.' | ',' | '-' | ' ');
    let plain = plain.replacen(" to ", "-", 1);
    let end = plain.find(|c| !is_figure(c)).unwrap_or(plain.len());
    let (figures, unit) = plain.split_at(end);
    let number = |figures: &str| {
        let figures = figures.trim().replace(',', ".");
        let digits = figures.starts_with(|c: char| c.is_ascii_digit());
        // "1,234" may be a thousand, or little more than one.
        let groups = figures
            .split_once('.')
            .is_some_and(|(_, part)| part.len() > 2);
        figures.parse::<f64>().ok().filter(|_| digits && !groups)
    };
    let numbers: Option<Vec<f64>> = figures.split('-').map(number).collect();
    let (low, high) = match numbers.as_deref() {
        Some([one]) => (*one, None),
        Some([low, high]) if high > low => (*low, Some(*high)),
        Some(_) | None => {
            let message = format!("\"{text}\" is not a hardness: give a number, {RIGHT}");
            return refuse(Code::NotANumber, message);
        }
    };
    let bare: String = unit
        .chars()
        .filter(|c| !matches!(c, ' ' | '.' | '°' | '(' | ')'))
        .collect();
    let unit = match bare.as_str() {
        "" if !unit.contains('°') => assumed,
        "mg/l" | "mg" | "mgl" | "mg/lcaco3" | "mg/lascaco3" | "mgcaco3/l" => HardnessUnit::MgPerL,
        "ppm" | "ppmcaco3" | "ppmascaco3" => HardnessUnit::Ppm,
        "gpg" | "gr" | "grain" | "grains" | "gr/gal" | "grains/gal" | "grains/gallon"
        | "grainspergallon" | "grainsagallon" => HardnessUnit::Gpg,
        "dh" | "gh" | "dgh" | "german" | "germandegrees" | "degreesgerman" => HardnessUnit::German,
        "fh" | "french" | "frenchdegrees" | "degreesfrench" => HardnessUnit::French,
        "clark" | "eh" | "english" | "englishdegrees" | "degreesclark" => HardnessUnit::Clark,
        "mmol" | "mmol/l" => HardnessUnit::MmolPerL,
        "" | "d" | "f" | "e" | "degree" | "degrees" | "deg" => {
            let message =
                format!("\"{text}\" can be German, French or English: give dH, fH or Clark");
            return refuse(Code::WrongUnit, message);
        }
        _ => {
            let message = format!(
                "\"{}\" is not a unit of hardness: give one, {RIGHT}",
                unit.trim()
            );
            return refuse(Code::WrongUnit, message);
        }
    };
    Ok(HardnessRead { low, high, unit })
}

/// Hardness in mg/L as CaCO3 from `value` in `unit`.
///
/// # Errors
/// `NotANumber` or `OutOfRange`, with the range in the unit that was given.
///
/// # Example
/// ```
/// use murlo_base::units::{HardnessUnit, hardness};
/// assert!((hardness("value", 10.0, HardnessUnit::Gpg).unwrap() - 171.18).abs() < 0.01);
/// assert!(hardness("value", 4000.0, HardnessUnit::MgPerL).is_err());
/// ```
pub fn hardness(field: &str, value: f64, unit: HardnessUnit) -> Result<f64, Problem> {
    let factor = unit.mg_per_l();
    let bound = Bound {
        unit: unit.label(),
        max: (bounds::HARDNESS.max / factor * 100.0).floor() / 100.0,
        ..bounds::HARDNESS
    };
    Ok(bound.check(field, value)? * factor)
}

#[cfg(test)]
mod tests {
    use super::*;
    use HardnessUnit::{Clark, French, German, Gpg, MgPerL, MmolPerL, Ppm};

    #[test]
    fn hardness_is_read_as_people_write_it_or_refused() {
        for (text, low, high, unit) in [
            ("7", 7.0, None, Clark),
            (" 7 ", 7.0, None, Clark),
            ("8-10", 8.0, Some(10.0), Clark),
            ("7 grains", 7.0, None, Gpg),
            ("7 grains per gallon", 7.0, None, Gpg),
            ("7 gr/gal", 7.0, None, Gpg),
            ("7gpg", 7.0, None, Gpg),
            ("120ppm", 120.0, None, Ppm),
            ("120 PPM", 120.0, None, Ppm),
            ("about 120 ppm", 120.0, None, Ppm),
            ("~120 ppm as CaCO3", 120.0, None, Ppm),
            ("120 mg/L", 120.0, None, MgPerL),
            ("120 mg/l (CaCO3)", 120.0, None, MgPerL),
            ("8-10 dH", 8.0, Some(10.0), German),
            ("8 – 10 °dH", 8.0, Some(10.0), German),
            ("8 to 10 dH", 8.0, Some(10.0), German),
            ("8 German degrees", 8.0, None, German),
            ("8.5 °dH", 8.5, None, German),
            ("8,5 °dH", 8.5, None, German),
            ("20 fH", 20.0, None, French),
            ("14 °Clark", 14.0, None, Clark),
            ("1,5 mmol/L", 1.5, None, MmolPerL),
            ("0 ppm", 0.0, None, Ppm),
        ] {
            let read = read_hardness("reading.text", text, Clark);
            assert_eq!(read, Ok(HardnessRead { low, high, unit }), "{text:?}");
        }
        for (text, code, says) in [
            ("", Code::Missing, "120 ppm"),
            ("  ", Code::Missing, "120 ppm"),
            ("hard", Code::NotANumber, "give a number"),
            ("ppm", Code::NotANumber, "give a number"),
            ("-7 ppm", Code::NotANumber, "give a number"),
            ("10-8 dH", Code::NotANumber, "give a number"),
            ("8-8 dH", Code::NotANumber, "give a number"),
            ("8-9-10 dH", Code::NotANumber, "give a number"),
            ("1,234 ppm", Code::NotANumber, "give a number"),
            ("1.2.3 ppm", Code::NotANumber, "give a number"),
            ("7 8 ppm", Code::NotANumber, "give a number"),
            (".5 dH", Code::NotANumber, "give a number"),
            ("7 oz", Code::WrongUnit, "\"oz\" is not a unit of hardness"),
            ("7 %", Code::WrongUnit, "not a unit of hardness"),
            ("7°", Code::WrongUnit, "German, French or English"),
            ("7 degrees", Code::WrongUnit, "German, French or English"),
            ("7 °f", Code::WrongUnit, "German, French or English"),
        ] {
            let problem = read_hardness("reading.text", text, Clark).unwrap_err();
            assert_eq!(
                (problem.code, problem.field.as_str()),
                (code, "reading.text"),
                "{text:?}"
            );
            assert!(
                problem.message.contains(says),
                "{text:?}: {}",
                problem.message
            );
        }
    }
}

//! Volumes as people type them: read as they are meant, or refused with what would be right. What could mean two amounts is
//! refused, never guessed.

use super::{CUP_ML, FL_OZ_ML, TABLESPOON_ML};
use crate::bounds::Bound;
use crate::problem::{Code, Problem};

const RIGHT: &str = "such as 350 mL, 1.4 L, 12 fl oz or 10 marks";

/// Reads a volume as a person types it: "2 cups", "16oz", "1,4 L", "1 200 mL", "4 2/3 marks", "half a gallon".
///
/// `carafe_mark_ml` is the size of one carafe mark, when there is a carafe.
///
/// # Errors
/// `Missing` when empty, `NotANumber` where no amount can be read or two can, `WrongUnit` without a known unit, `OutOfRange`
/// outside `bound`.
///
/// # Example
/// ```
/// use murlo_base::{bounds::VOLUME, units::parse_volume};
/// assert_eq!(parse_volume("bath", "1 200 mL", &VOLUME, None).unwrap(), 1200.0);
/// assert!(parse_volume("bath", "1,200 mL", &VOLUME, None).is_err());
/// ```
pub fn parse_volume(
    field: &str,
    text: &str,
    bound: &Bound,
    carafe_mark_ml: Option<f64>,
) -> Result<f64, Problem> {
    let refuse = |code, message: String| Problem::new(code, field, message);
    let typed = text.trim();
    if typed.is_empty() {
        let message = format!("{} is needed, {RIGHT}", bound.what);
        return Err(refuse(Code::Missing, message));
    }
    let plain = plain(typed);
    let (amount, unit) = split(&plain);
    let unit = Unit::named(unit).map_err(|wrong| {
        refuse(
            Code::WrongUnit,
            match wrong {
                Wrong::None => format!("\"{typed}\" has no unit: give an amount {RIGHT}"),
                Wrong::Strength => format!("\"{typed}\" is a strength: give an amount {RIGHT}"),
                Wrong::Weight => format!("\"{typed}\" is a weight: give a volume {RIGHT}"),
                Wrong::Unknown(unit) => {
                    format!("\"{unit}\" is not a unit of volume: give an amount {RIGHT}")
                }
            },
        )
    });
    let value = match read(amount, unit.as_ref().ok().copied()) {
        Ok(value) => value,
        Err(why) => {
            let message = match why {
                Unread::NoNumber => {
                    format!("\"{typed}\" does not start with a number: give an amount {RIGHT}")
                }
                Unread::Thousands(one, other) => {
                    format!("\"{typed}\" can mean two amounts: give {one} or {other}")
                }
                Unread::Several => {
                    format!("\"{typed}\" holds more than one amount: give one, {RIGHT}")
                }
            };
            return Err(refuse(Code::NotANumber, message));
        }
    };
    let unit_ml = match unit? {
        Unit::Ml(ml) => ml,
        Unit::Mark => carafe_mark_ml.ok_or_else(|| {
            let message =
                "marks need a carafe with a known mark size: give mL, L or fl oz".to_owned();
            refuse(Code::WrongUnit, message)
        })?,
    };
    bound.check(field, value * unit_ml)
}

/// In small letters, with one kind of blank, minus and fraction stroke, and without words that change nothing.
fn plain(text: &str) -> String {
    let text: String = text
        .to_lowercase()
        .chars()
        .map(|c| match c {
            '\u{a0}' | '\u{202f}' | '\u{2009}' | '\t' => ' ',
            '\u{2212}' => '-',
            '\u{2044}' => '/',
            '\u{2019}' => '\'',
            other => other,
        })
        .collect();
    let words: Vec<_> = text.split(' ').filter(|w| !w.is_empty()).collect();
    let mut text = words.join(" ");
    for before in ["about ", "ca. ", "ca ", "up to the ", "to the ", "~", "≈"] {
        if let Some(rest) = text.strip_prefix(before) {
            text = rest.trim_start().to_owned();
        }
    }
    for after in [" of water", " water"] {
        if let Some(rest) = text.strip_suffix(after) {
            text = rest.to_owned();
        }
    }
    // "a cup and a half" has its number on both sides of the unit.
    let half = text.strip_suffix(" and a half");
    if let Some((whole, unit)) = half.and_then(|rest| rest.rsplit_once(' '))
        && Unit::named(unit).is_ok()
    {
        return format!("{whole} and a half {unit}");
    }
    text
}

/// A unit of volume.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Unit {
    Ml(f64),
    Mark,
}

enum Wrong<'a> {
    None,
    Strength,
    Weight,
    Unknown(&'a str),
}

impl Unit {
    fn named(name: &str) -> Result<Self, Wrong<'_>> {
        let bare: String = name
            .trim_start_matches("us ")
            .chars()
            .filter(|c| !matches!(c, ' ' | '.'))
            .collect();
        Ok(Self::Ml(match bare.as_str() {
            "ml" | "mls" | "cc" | "millilitre" | "millilitres" | "milliliter" | "milliliters" => {
                1.0
            }
            "cl" | "centilitre" | "centilitres" | "centiliter" | "centiliters" => 10.0,
            "dl" | "decilitre" | "decilitres" | "deciliter" | "deciliters" => 100.0,
            "l" | "ltr" | "ltrs" | "litre" | "litres" | "liter" | "liters" => 1000.0,
            "c" | "cup" | "cups" => CUP_ML,
            "floz" | "oz" | "ozs" | "ounce" | "ounces" | "fluidounce" | "fluidounces" => FL_OZ_ML,
            "tbsp" | "tbsps" | "tablespoon" | "tablespoons" => TABLESPOON_ML,
            "tsp" | "tsps" | "teaspoon" | "teaspoons" => TABLESPOON_ML / 3.0,
            "pt" | "pts" | "pint" | "pints" => 16.0 * FL_OZ_ML,
            "qt" | "qts" | "quart" | "quarts" => 32.0 * FL_OZ_ML,
            "gal" | "gals" | "gallon" | "gallons" => 128.0 * FL_OZ_ML,
            "mark" | "marks" | "carafemark" | "carafemarks" | "line" | "lines" => {
                return Ok(Self::Mark);
            }
            "" => return Err(Wrong::None),
            "%" | "percent" | "percent." => return Err(Wrong::Strength),
            "g" | "kg" | "mg" | "gram" | "grams" | "lb" | "lbs" => return Err(Wrong::Weight),
            _ => return Err(Wrong::Unknown(name)),
        }))
    }
}

/// The amount, and the unit behind it.
fn split(text: &str) -> (&str, &str) {
    let spelled = text.starts_with(|c: char| c.is_alphabetic() && !is_glyph(c));
    if spelled {
        // Words of number go on as long as they are ones.
        let mut end = 0;
        for word in text.split_inclusive(' ') {
            if !is_word(word.trim_end()) {
                break;
            }
            end += word.len();
        }
        return (text[..end].trim_end(), text[end..].trim());
    }
    // "2 and a half cups", "1 half cup".
    let digits = text
        .find(|c: char| (c.is_alphabetic() && !is_glyph(c)) || c == '%')
        .unwrap_or(text.len());
    let mut end = digits;
    for word in text[digits..].split_inclusive(' ') {
        if !is_word(word.trim_end()) || !text[..digits].ends_with(' ') {
            break;
        }
        end += word.len();
    }
    (text[..end].trim(), text[end..].trim())
}

enum Unread {
    NoNumber,
    /// A separator before three digits, with the two amounts it can stand for.
    Thousands(String, String),
    Several,
}

fn read(amount: &str, unit: Option<Unit>) -> Result<f64, Unread> {
    if amount.starts_with(|c: char| c.is_ascii_alphabetic()) {
        return spelled(amount).ok_or(Unread::NoNumber);
    }
    if let Some((figures, words)) = amount.split_once(" and ") {
        let whole = figures.parse::<u32>().map_err(|_| Unread::Several)?;
        let part = spelled(words).filter(|part| *part < 1.0);
        return part
            .map(|part| f64::from(whole) + part)
            .ok_or(Unread::Several);
    }
    figures(amount, unit)
}

/// Words of number, in any order that makes sense.
const UNITS: [(&str, f64); 14] = [
    ("a", 1.0),
    ("an", 1.0),
    ("one", 1.0),
    ("two", 2.0),
    ("three", 3.0),
    ("four", 4.0),
    ("five", 5.0),
    ("six", 6.0),
    ("seven", 7.0),
    ("eight", 8.0),
    ("nine", 9.0),
    ("ten", 10.0),
    ("eleven", 11.0),
    ("twelve", 12.0),
];
const PARTS: [(&str, f64); 8] = [
    ("half", 0.5),
    ("halves", 0.5),
    ("third", 1.0 / 3.0),
    ("thirds", 1.0 / 3.0),
    ("quarter", 0.25),
    ("quarters", 0.25),
    ("eighth", 0.125),
    ("eighths", 0.125),
];

fn one_of(table: &[(&str, f64)], word: &str) -> Option<f64> {
    let found = table.iter().find(|(name, _)| *name == word);
    found.map(|(_, value)| *value)
}

fn is_word(word: &str) -> bool {
    matches!(word, "and" | "of") || one_of(&UNITS, word).or(one_of(&PARTS, word)).is_some()
}

/// "two", "half a", "three quarters of a", "two and a half".
fn spelled(words: &str) -> Option<f64> {
    let words = words
        .strip_suffix(" of a")
        .or_else(|| words.strip_suffix(" of an"))
        .unwrap_or(words);
    if let Some((whole, part)) = words.split_once(" and ") {
        let whole = one_of(&UNITS, whole)?;
        let part = spelled(part).filter(|part| *part < 1.0)?;
        return Some(whole + part);
    }
    match words.split(' ').collect::<Vec<_>>()[..] {
        [one] => one_of(&UNITS, one).or(one_of(&PARTS, one).filter(|_| !one.ends_with('s'))),
        // "half a gallon", "a quarter cup", "three quarters".
        [part, "a" | "an"] => one_of(&PARTS, part).filter(|_| !part.ends_with('s')),
        [many, part] => {
            let (many, part_of) = (one_of(&UNITS, many)?, one_of(&PARTS, part)?);
            let is_many = part.ends_with('s');
            let value = many * part_of;
            ((many > 1.0) == is_many && value < 1.0).then_some(value)
        }
        _ => None,
    }
}

const GLYPHS: [(char, f64); 15] = [
    ('¼', 1.0 / 4.0),
    ('½', 1.0 / 2.0),
    ('¾', 3.0 / 4.0),
    ('⅓', 1.0 / 3.0),
    ('⅔', 2.0 / 3.0),
    ('⅕', 1.0 / 5.0),
    ('⅖', 2.0 / 5.0),
    ('⅗', 3.0 / 5.0),
    ('⅘', 4.0 / 5.0),
    ('⅙', 1.0 / 6.0),
    ('⅚', 5.0 / 6.0),
    ('⅛', 1.0 / 8.0),
    ('⅜', 3.0 / 8.0),
    ('⅝', 5.0 / 8.0),
    ('⅞', 7.0 / 8.0),
];

fn is_glyph(c: char) -> bool {
    GLYPHS.iter().any(|(glyph, _)| *glyph == c)
}

/// "2", "1.4", "1,4", "1 200", "4 2/3", "2½", "1/2".
fn figures(text: &str, unit: Option<Unit>) -> Result<f64, Unread> {
    let (sign, text) = match text.strip_prefix('-') {
        Some(rest) => (-1.0, rest.trim_start()),
        None => (1.0, text),
    };
    if !text.starts_with(|c: char| c.is_ascii_digit() || is_glyph(c)) {
        return Err(Unread::NoNumber);
    }
    let part = |glyph: &str| {
        let mut letters = glyph.chars();
        let only = letters.next().filter(|_| letters.next().is_none())?;
        let found = GLYPHS.iter().find(|(c, _)| *c == only);
        found.map(|(_, value)| *value)
    };
    // A fraction glyph, alone or close behind a whole number.
    if let Some(at) = text.find(is_glyph) {
        let (whole, glyph) = text.split_at(at);
        let part = part(glyph).ok_or(Unread::Several)?;
        let whole = match whole.trim_end() {
            "" => 0.0,
            digits => whole_number(digits).ok_or(Unread::Several)?,
        };
        return Ok(sign * (whole + part));
    }
    if let Some((before, below)) = text.split_once('/') {
        let (whole, above) = before.rsplit_once(' ').unwrap_or(("", before));
        let (Some(above), Some(below)) = (whole_number(above), whole_number(below)) else {
            return Err(Unread::Several);
        };
        if below <= 0.0 {
            return Err(Unread::NoNumber);
        }
        if whole.is_empty() {
            return Ok(sign * above / below);
        }
        // "2 3/2" is a slip, whichever of its figures is wrong.
        let whole = whole_number(whole).filter(|_| above > 0.0 && above < below);
        return whole
            .map(|whole| sign * (whole + above / below))
            .ok_or(Unread::Several);
    }
    if let Some(value) = grouped(text) {
        return Ok(sign * value);
    }
    if text.contains([' ', '-', '\'', '–']) {
        return Err(Unread::Several);
    }
    decimal(text, unit).map(|value| sign * value)
}

fn whole_number(text: &str) -> Option<f64> {
    let digits = !text.is_empty() && text.len() <= 9 && text.bytes().all(|b| b.is_ascii_digit());
    digits.then(|| text.parse().ok()).flatten()
}

/// Thousands set apart by blanks or apostrophes: "1 200", "12'000".
fn grouped(text: &str) -> Option<f64> {
    for apart in [' ', '\''] {
        let groups: Vec<_> = text.split(apart).collect();
        let fits = groups.len() > 1
            && (1..=3).contains(&groups[0].len())
            && !groups[0].starts_with('0')
            && groups[1..].iter().all(|group| group.len() == 3);
        if fits {
            return whole_number(&groups.concat());
        }
    }
    None
}

/// A decimal with a point or a comma. Before exactly three digits a comma may group thousands, and so may a point where the
/// unit is so small that nobody measures its thousandths.
fn decimal(text: &str, unit: Option<Unit>) -> Result<f64, Unread> {
    let Some(at) = text.find(['.', ',']) else {
        return whole_number(text).ok_or(Unread::NoNumber);
    };
    let (whole, rest) = text.split_at(at);
    let (mark, part) = rest.split_at(1);
    let (Some(_), Some(_)) = (whole_number(whole), whole_number(part)) else {
        // Of "1,234.5" somebody else may know what it is.
        return Err(Unread::Several);
    };
    let small = matches!(unit, Some(Unit::Ml(ml)) if ml <= 1.0);
    let groups = part.len() == 3 && !whole.starts_with('0') && (mark == "," || small);
    if groups {
        let other = format!("{whole}.{part}");
        let other = other.trim_end_matches('0').trim_end_matches('.');
        return Err(Unread::Thousands(
            format!("{whole}{part}"),
            other.to_owned(),
        ));
    }
    format!("{whole}.{part}")
        .parse()
        .map_err(|_| Unread::NoNumber)
}

#[cfg(test)]
mod tests;

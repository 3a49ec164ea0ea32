//! Volumes as people type them: read as they are meant, or refused with what would be right. What could mean two amounts is
//! refused, never guessed.

use super::{CUP_ML, FL_OZ_ML, TABLESPOON_ML};
use crate::bounds::Bound;
use crate::problem::{Code, Problem};

/// What is longer was meant for another field, bytes.
const LONGEST: usize = 120;

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
    if typed.len() > LONGEST {
        return Err(refuse(
            Code::NotANumber,
            format!("that is no amount: give one, {RIGHT}"),
        ));
    }
    let plain = plain(typed);
    let ml = ml_of(&plain, carafe_mark_ml).map_err(|wrong| wrong.problem(field, typed))?;
    bound.check(field, ml)
}

/// "2 cups", "2 x 16 oz", "1 cup + 2 tbsp".
fn ml_of(text: &str, carafe_mark_ml: Option<f64>) -> Result<f64, Wrong> {
    if let Some((one, other)) = sum(text) {
        return Ok(ml_of(one, carafe_mark_ml)? + ml_of(other, carafe_mark_ml)?);
    }
    if let Some((times, each)) = times(text) {
        return Ok(times * ml_of(each, carafe_mark_ml)?);
    }
    let (amount, unit) = split(text);
    let unit = Unit::named(unit);
    let value = read(amount, unit.as_ref().ok().copied())?;
    let unit_ml = match unit? {
        Unit::Ml(ml) => ml,
        Unit::Mark => carafe_mark_ml.ok_or(Wrong::NoCarafe)?,
    };
    Ok(value * unit_ml)
}

/// Amounts that are meant together, the larger unit first: "1 cup + 2 tbsp", "1 L 200 mL". Two of a unit are a slip.
fn sum(text: &str) -> Option<(&str, &str)> {
    let descends = |(one, other): &(&str, &str)| match (last_unit(one), last_unit(other)) {
        (Some(one), Some(other)) => one > other,
        (Some(_) | None, _) => false,
    };
    let words = [" plus ", "+", " and "]
        .into_iter()
        .filter_map(|apart| text.rsplit_once(apart))
        .map(|(one, other)| (one.trim(), other.trim()));
    let blanks = text.match_indices(' ').filter_map(|(at, _)| {
        let (one, other) = (text[..at].trim_end_matches(','), &text[at + 1..]);
        let starts = other.starts_with(|c: char| c.is_ascii_digit() || is_glyph(c));
        (starts && one.ends_with(char::is_alphabetic)).then_some((one, other))
    });
    words.chain(blanks).find(descends)
}

/// The size of the unit that stands last; marks are larger than any.
fn last_unit(text: &str) -> Option<f64> {
    let word = text.rsplit(' ').next().unwrap_or_default();
    match Unit::named(word.trim_start_matches(|c: char| !c.is_alphabetic())) {
        Ok(Unit::Mark) => Some(f64::INFINITY),
        Ok(Unit::Ml(ml)) => Some(ml),
        Err(_) => None,
    }
}

/// "2 x 16 oz": so many times, and what each is.
fn times(term: &str) -> Option<(f64, &str)> {
    let at = term.find(['x', '×', '*'])?;
    let (many, each) = term.split_at(at);
    let each = each.trim_start_matches(['x', '×', '*']).trim_start();
    let many = whole_number(many.trim_end()).filter(|many| *many >= 1.0)?;
    let counts = each.starts_with(|c: char| c.is_ascii_digit() || is_glyph(c));
    counts.then_some((many, each))
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
    let mut text = joined(&words.join(" "));
    for before in ["about ", "ca. ", "ca ", "up to the ", "to the ", "~", "≈"] {
        if let Some(rest) = text.strip_prefix(before) {
            text = rest.trim_start().to_owned();
        }
    }
    for after in [
        " of water",
        " water",
        " of white vinegar",
        " of vinegar",
        " vinegar",
    ] {
        if let Some(rest) = text.strip_suffix(after) {
            text = rest.to_owned();
        }
    }
    // "a cup and a half" has its number on both sides of the unit.
    let half = text.strip_suffix(" and a half");
    if let Some((whole, unit)) = half.and_then(|rest| rest.rsplit_once(' '))
        && matches!(Unit::named(unit), Ok(_) | Err(Wrong::Bottle))
    {
        return format!("{whole} and a half {unit}");
    }
    text
}

/// Hyphens that only join: "1-1/2", "1-½", "16-oz". "2-3" stays.
fn joined(text: &str) -> String {
    let mut joined = String::with_capacity(text.len());
    for (at, c) in text.char_indices() {
        let behind = &text[at + c.len_utf8()..];
        let before = text[..at].ends_with(|c: char| c.is_ascii_digit());
        let figures = behind.trim_start_matches(|c: char| c.is_ascii_digit());
        let joins = behind.starts_with(|c: char| c.is_alphabetic() || is_glyph(c))
            || behind.len() > figures.len() && figures.starts_with('/');
        let hyphen = c == '-' && before && joins;
        joined.push(if hyphen { ' ' } else { c });
    }
    joined
}

/// A unit of volume.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Unit {
    Ml(f64),
    Mark,
}

/// Why it can not be read.
enum Wrong {
    NoUnit,
    Strength,
    Weight,
    Bottle,
    Unknown(String),
    NoCarafe,
    NoNumber,
    /// A separator before three digits, with the two amounts it can stand for.
    Thousands(String, String),
    Several,
}

impl Wrong {
    fn problem(self, field: &str, typed: &str) -> Problem {
        let (code, message) = match self {
            Self::NoUnit => (
                Code::WrongUnit,
                format!("\"{typed}\" has no unit: give an amount {RIGHT}"),
            ),
            Self::Strength => (
                Code::WrongUnit,
                format!("\"{typed}\" is a strength: give an amount {RIGHT}"),
            ),
            Self::Weight => (
                Code::WrongUnit,
                format!("\"{typed}\" is a weight: give a volume {RIGHT}"),
            ),
            Self::Bottle => (
                Code::WrongUnit,
                format!("bottles differ: give what is in \"{typed}\", {RIGHT}"),
            ),
            Self::Unknown(unit) => (
                Code::WrongUnit,
                format!("\"{unit}\" is not a unit of volume: give an amount {RIGHT}"),
            ),
            Self::NoCarafe => (
                Code::WrongUnit,
                "marks need a carafe with a known mark size: give mL, L or fl oz".to_owned(),
            ),
            Self::NoNumber => (
                Code::NotANumber,
                format!("\"{typed}\" does not start with a number: give an amount {RIGHT}"),
            ),
            Self::Thousands(one, other) => (
                Code::NotANumber,
                format!("\"{typed}\" can mean two amounts: give {one} or {other}"),
            ),
            Self::Several => (
                Code::NotANumber,
                format!("\"{typed}\" holds more than one amount: give one, {RIGHT}"),
            ),
        };
        Problem::new(code, field, message)
    }
}

impl Unit {
    fn named(name: &str) -> Result<Self, Wrong> {
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
            "floz" | "flozs" | "oz" | "ozs" | "ounce" | "ounces" | "fluidoz" | "fluidounce"
            | "fluidounces" | "flounce" | "flounces" => FL_OZ_ML,
            "tbsp" | "tbsps" | "tablespoon" | "tablespoons" => TABLESPOON_ML,
            "tsp" | "tsps" | "teaspoon" | "teaspoons" => TABLESPOON_ML / 3.0,
            "pt" | "pts" | "pint" | "pints" => 16.0 * FL_OZ_ML,
            "qt" | "qts" | "quart" | "quarts" => 32.0 * FL_OZ_ML,
            "gal" | "gals" | "gallon" | "gallons" => 128.0 * FL_OZ_ML,
            "mark" | "marks" | "carafemark" | "carafemarks" | "line" | "lines" => {
                return Ok(Self::Mark);
            }
            "" => return Err(Wrong::NoUnit),
            "%" | "percent" | "percent." => return Err(Wrong::Strength),
            "g" | "kg" | "mg" | "gram" | "grams" | "lb" | "lbs" => return Err(Wrong::Weight),
            "bottle" | "bottles" | "jug" | "jugs" => return Err(Wrong::Bottle),
            _ => return Err(Wrong::Unknown(name.to_owned())),
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

fn read(amount: &str, unit: Option<Unit>) -> Result<f64, Wrong> {
    if amount.starts_with(|c: char| c.is_ascii_alphabetic()) {
        return spelled(amount).ok_or(Wrong::NoNumber);
    }
    // "3/4 of a", "1/2 a".
    let of = [" of a", " of an", " of", " a", " an"];
    let amount = of
        .iter()
        .find_map(|of| amount.strip_suffix(of))
        .unwrap_or(amount);
    if let Some((figures, words)) = amount.split_once(" and ") {
        let whole = figures.parse::<u32>().map_err(|_| Wrong::Several)?;
        let part = spelled(words).filter(|part| *part < 1.0);
        return part
            .map(|part| f64::from(whole) + part)
            .ok_or(Wrong::Several);
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
fn figures(text: &str, unit: Option<Unit>) -> Result<f64, Wrong> {
    let (sign, text) = match text.strip_prefix('-') {
        Some(rest) => (-1.0, rest.trim_start()),
        None => (1.0, text),
    };
    // ".5" is half of it.
    let bare = text.strip_prefix(['.', ',']).and_then(whole_number);
    let text = match bare {
        Some(_) => &format!("0{text}"),
        None => text,
    };
    if !text.starts_with(|c: char| c.is_ascii_digit() || is_glyph(c)) {
        return Err(Wrong::NoNumber);
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
        let part = part(glyph).ok_or(Wrong::Several)?;
        let whole = match whole.trim_end() {
            "" => 0.0,
            digits => whole_number(digits).ok_or(Wrong::Several)?,
        };
        return Ok(sign * (whole + part));
    }
    if let Some((before, below)) = text.split_once('/') {
        let (whole, above) = before.rsplit_once(' ').unwrap_or(("", before));
        let (Some(above), Some(below)) = (whole_number(above), whole_number(below)) else {
            return Err(Wrong::Several);
        };
        if below <= 0.0 {
            return Err(Wrong::NoNumber);
        }
        if whole.is_empty() {
            return Ok(sign * above / below);
        }
        // "2 3/2" is a slip, whichever of its figures is wrong.
        let whole = whole_number(whole).filter(|_| above > 0.0 && above < below);
        return whole
            .map(|whole| sign * (whole + above / below))
            .ok_or(Wrong::Several);
    }
    if let Some(value) = grouped(text) {
        return Ok(sign * value);
    }
    if text.contains([' ', '-', '\'', '–']) {
        return Err(Wrong::Several);
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
fn decimal(text: &str, unit: Option<Unit>) -> Result<f64, Wrong> {
    let Some(at) = text.find(['.', ',']) else {
        return whole_number(text).ok_or(Wrong::NoNumber);
    };
    let (whole, rest) = text.split_at(at);
    let (mark, part) = rest.split_at(1);
    let (Some(_), Some(_)) = (whole_number(whole), whole_number(part)) else {
        // Of "1,234.5" somebody else may know what it is.
        return Err(Wrong::Several);
    };
    let small = matches!(unit, Some(Unit::Ml(ml)) if ml <= 1.0);
    let groups = part.len() == 3 && !whole.starts_with('0') && (mark == "," || small);
    if groups {
        let other = format!("{whole}.{part}");
        let other = other.trim_end_matches('0').trim_end_matches('.');
        return Err(Wrong::Thousands(format!("{whole}{part}"), other.to_owned()));
    }
    format!("{whole}.{part}")
        .parse()
        .map_err(|_| Wrong::NoNumber)
}

#[cfg(test)]
mod tests;

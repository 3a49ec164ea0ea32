use super::*;
use crate::bounds;
use proptest::prelude::*;

/// One mark of a carafe.
const MARK_ML: f64 = 5.0 * FL_OZ_ML;

fn parse(text: &str) -> Result<f64, Problem> {
    parse_volume("volume", text, &bounds::VOLUME, Some(MARK_ML))
}

/// As typed, the number that is meant, and what one of its unit holds.
#[rustfmt::skip]
const READ: &[(&str, f64, f64)] = &[
    ("2 cups", 2.0, CUP_ML),
    ("1 cup", 1.0, CUP_ML),
    ("4 c", 4.0, CUP_ML),
    ("4c", 4.0, CUP_ML),
    ("2 CUPS", 2.0, CUP_ML),
    ("2 Cups", 2.0, CUP_ML),
    ("  2 cups  ", 2.0, CUP_ML),
    ("2  cups", 2.0, CUP_ML),
    ("2 cups.", 2.0, CUP_ML),
    ("2 us cups", 2.0, CUP_ML),
    ("2cups", 2.0, CUP_ML),
    ("½ cup", 0.5, CUP_ML),
    ("½cup", 0.5, CUP_ML),
    ("1½ cups", 1.5, CUP_ML),
    ("1 ½ cups", 1.5, CUP_ML),
    ("2½ cups", 2.5, CUP_ML),
    ("2⅛ cups", 2.125, CUP_ML),
    ("2 ⅛ cups", 2.125, CUP_ML),
    ("2 1/8 cups", 2.125, CUP_ML),
    ("2 1⁄8 cups", 2.125, CUP_ML),
    ("1/2 cup", 0.5, CUP_ML),
    ("1/3 cup", 1.0 / 3.0, CUP_ML),
    ("2/3 cup", 2.0 / 3.0, CUP_ML),
    ("⅔ cup", 2.0 / 3.0, CUP_ML),
    ("⅓ cup", 1.0 / 3.0, CUP_ML),
    ("¼ cup", 0.25, CUP_ML),
    ("¾ cup", 0.75, CUP_ML),
    ("1¾ cups", 1.75, CUP_ML),
    ("⅜ cup", 0.375, CUP_ML),
    ("⅝ cup", 0.625, CUP_ML),
    ("⅞ cup", 0.875, CUP_ML),
    ("3/2 cups", 1.5, CUP_ML),
    ("10 cups", 10.0, CUP_ML),
    ("2.5 cups", 2.5, CUP_ML),
    ("2,5 cups", 2.5, CUP_ML),
    ("two cups", 2.0, CUP_ML),
    ("Two cups", 2.0, CUP_ML),
    ("a cup", 1.0, CUP_ML),
    ("one cup", 1.0, CUP_ML),
    ("an ounce", 1.0, FL_OZ_ML),
    ("twelve ounces", 12.0, FL_OZ_ML),
    ("half a cup", 0.5, CUP_ML),
    ("half cup", 0.5, CUP_ML),
    ("a half cup", 0.5, CUP_ML),
    ("one half cup", 0.5, CUP_ML),
    ("a quarter cup", 0.25, CUP_ML),
    ("a quarter of a cup", 0.25, CUP_ML),
    ("three quarters of a cup", 0.75, CUP_ML),
    ("two thirds of a cup", 2.0 / 3.0, CUP_ML),
    ("two thirds cup", 2.0 / 3.0, CUP_ML),
    ("a third of a cup", 1.0 / 3.0, CUP_ML),
    ("one and a half cups", 1.5, CUP_ML),
    ("two and a half cups", 2.5, CUP_ML),
    ("two and a quarter cups", 2.25, CUP_ML),
    ("a cup and a half", 1.5, CUP_ML),
    ("2 cups and a half", 2.5, CUP_ML),
    ("2 and a half cups", 2.5, CUP_ML),
    ("half a gallon", 0.5, 128.0 * FL_OZ_ML),
    ("half gallon", 0.5, 128.0 * FL_OZ_ML),
    ("a gallon", 1.0, 128.0 * FL_OZ_ML),
    ("1 gallon", 1.0, 128.0 * FL_OZ_ML),
    ("1/2 gal", 0.5, 128.0 * FL_OZ_ML),
    ("a quart", 1.0, 32.0 * FL_OZ_ML),
    ("2 quarts", 2.0, 32.0 * FL_OZ_ML),
    ("1 qt", 1.0, 32.0 * FL_OZ_ML),
    ("a pint", 1.0, 16.0 * FL_OZ_ML),
    ("1 pint", 1.0, 16.0 * FL_OZ_ML),
    ("2 pts", 2.0, 16.0 * FL_OZ_ML),
    ("half a litre", 0.5, 1000.0),
    ("half a liter", 0.5, 1000.0),
    ("a litre", 1.0, 1000.0),
    ("three quarters of a litre", 0.75, 1000.0),
    ("one and a half litres", 1.5, 1000.0),
    ("16 fl oz", 16.0, FL_OZ_ML),
    ("16 fl. oz.", 16.0, FL_OZ_ML),
    ("16floz", 16.0, FL_OZ_ML),
    ("16 fl.oz", 16.0, FL_OZ_ML),
    ("16oz", 16.0, FL_OZ_ML),
    ("16 oz", 16.0, FL_OZ_ML),
    ("16 oz.", 16.0, FL_OZ_ML),
    ("16 ounces", 16.0, FL_OZ_ML),
    ("16 fluid ounces", 16.0, FL_OZ_ML),
    ("8.5 fl oz", 8.5, FL_OZ_ML),
    ("8,5 fl oz", 8.5, FL_OZ_ML),
    ("8.125 fl oz", 8.125, FL_OZ_ML),
    ("12 us fl oz", 12.0, FL_OZ_ML),
    ("64 OZ", 64.0, FL_OZ_ML),
    ("1.4 L", 1.4, 1000.0),
    ("1,4 L", 1.4, 1000.0),
    ("1,4L", 1.4, 1000.0),
    ("1,4l", 1.4, 1000.0),
    ("1.4l", 1.4, 1000.0),
    ("1.40 L", 1.4, 1000.0),
    ("1.250 L", 1.25, 1000.0),
    ("0.75 L", 0.75, 1000.0),
    ("0,75 L", 0.75, 1000.0),
    ("0.125 L", 0.125, 1000.0),
    ("0,125 L", 0.125, 1000.0),
    ("1 L", 1.0, 1000.0),
    ("2 litres", 2.0, 1000.0),
    ("2 liters", 2.0, 1000.0),
    ("2 ltr", 2.0, 1000.0),
    ("1½ L", 1.5, 1000.0),
    ("1 1/2 L", 1.5, 1000.0),
    ("7.5 dl", 750.0, 1.0),
    ("7,5 dL", 750.0, 1.0),
    ("75 cl", 750.0, 1.0),
    ("75cL", 750.0, 1.0),
    ("350 mL", 350.0, 1.0),
    ("350ml", 350.0, 1.0),
    ("350 ML", 350.0, 1.0),
    ("350 cc", 350.0, 1.0),
    ("350 millilitres", 350.0, 1.0),
    ("350 milliliters", 350.0, 1.0),
    ("1200 mL", 1200.0, 1.0),
    ("1200ml", 1200.0, 1.0),
    ("1 200 mL", 1200.0, 1.0),
    ("1 200ml", 1200.0, 1.0),
    ("1\u{a0}200 mL", 1200.0, 1.0),
    ("1\u{202f}200 mL", 1200.0, 1.0),
    ("1\u{2009}200 mL", 1200.0, 1.0),
    ("1'200 mL", 1200.0, 1.0),
    ("1’200 mL", 1200.0, 1.0),
    ("12 000 ml", 12000.0, 1.0),
    ("12000 ml", 12000.0, 1.0),
    ("0.5 mL", 0.5, 1.0),
    ("0,5 mL", 0.5, 1.0),
    ("0.125 mL", 0.125, 1.0),
    ("12.5 mL", 12.5, 1.0),
    ("12,25 mL", 12.25, 1.0),
    ("3 tbsp", 3.0, TABLESPOON_ML),
    ("3 tablespoons", 3.0, TABLESPOON_ML),
    ("a tablespoon", 1.0, TABLESPOON_ML),
    ("2 tsp", 2.0, TABLESPOON_ML / 3.0),
    ("2 teaspoons", 2.0, TABLESPOON_ML / 3.0),
    ("12 marks", 12.0, MARK_ML),
    ("12marks", 12.0, MARK_ML),
    ("1 mark", 1.0, MARK_ML),
    ("4 2/3 marks", 4.6666666666667, MARK_ML),
    ("4½ marks", 4.5, MARK_ML),
    ("to the 5 mark", 5.0, MARK_ML),
    ("up to the 5 mark", 5.0, MARK_ML),
    ("10 carafe marks", 10.0, MARK_ML),
    ("6 lines", 6.0, MARK_ML),
    ("ten marks", 10.0, MARK_ML),
    ("about 2 cups", 2.0, CUP_ML),
    ("ca. 350 mL", 350.0, 1.0),
    ("~ 350 mL", 350.0, 1.0),
    ("≈350 mL", 350.0, 1.0),
    ("2 cups of water", 2.0, CUP_ML),
    ("350 mL water", 350.0, 1.0),
    ("1-1/2 cups", 1.5, CUP_ML),
    ("1-½ cups", 1.5, CUP_ML),
    ("2-1/4 C", 2.25, CUP_ML),
    (".5 L", 0.5, 1000.0),
    (",5 L", 0.5, 1000.0),
    (".75 cup", 0.75, CUP_ML),
    (".125 L", 0.125, 1000.0),
    ("8 fluid oz", 8.0, FL_OZ_ML),
    ("8 fluid oz.", 8.0, FL_OZ_ML),
    ("8 fl ounces", 8.0, FL_OZ_ML),
    ("16-oz", 16.0, FL_OZ_ML),
    ("16-ounce", 16.0, FL_OZ_ML),
    ("12-cup", 12.0, CUP_ML),
    ("1-litre", 1.0, 1000.0),
    ("2 x 16 oz", 32.0, FL_OZ_ML),
    ("2x16oz", 32.0, FL_OZ_ML),
    ("2×16 fl oz", 32.0, FL_OZ_ML),
    ("3 * 250 mL", 750.0, 1.0),
    ("2 x ½ cup", 1.0, CUP_ML),
    ("2 x 1-1/2 cups", 3.0, CUP_ML),
    ("3/4 of a cup", 0.75, CUP_ML),
    ("½ of a cup", 0.5, CUP_ML),
    ("1/2 a cup", 0.5, CUP_ML),
    ("1/2 of a gallon", 0.5, 128.0 * FL_OZ_ML),
    ("1 cup + 2 tbsp", 18.0, TABLESPOON_ML),
    ("1 cup plus 2 tbsp", 18.0, TABLESPOON_ML),
    ("1 cup and 2 tablespoons", 18.0, TABLESPOON_ML),
    ("1 cup 2 tbsp", 18.0, TABLESPOON_ML),
    ("2 cups+1 tbsp", 33.0, TABLESPOON_ML),
    ("1 L 200 mL", 1200.0, 1.0),
    ("1 l and 2 dl", 1200.0, 1.0),
    ("1 gallon, 2 cups", 18.0, CUP_ML),
    ("a quart and a cup", 5.0, CUP_ML),
    ("4 marks and 1 fl oz", 21.0, FL_OZ_ML),
    ("one and a half cups and 1 tbsp", 25.0, TABLESPOON_ML),
    ("1½ cups of white vinegar", 1.5, CUP_ML),
    ("2 cups vinegar", 2.0, CUP_ML),
];

/// As typed, and why it is refused.
#[rustfmt::skip]
const REFUSED: &[(&str, Code)] = &[
    ("", Code::Missing),
    ("   ", Code::Missing),
    ("lots", Code::NotANumber),
    ("some water", Code::NotANumber),
    ("cups", Code::NotANumber),
    ("cup", Code::NotANumber),
    ("mL", Code::NotANumber),
    ("2", Code::WrongUnit),
    ("12", Code::WrongUnit),
    ("1.4", Code::WrongUnit),
    ("two", Code::WrongUnit),
    ("half", Code::WrongUnit),
    ("½", Code::WrongUnit),
    ("12 kg", Code::WrongUnit),
    ("30 g", Code::WrongUnit),
    ("30 grams", Code::WrongUnit),
    ("1 lb", Code::WrongUnit),
    ("5%", Code::WrongUnit),
    ("5 %", Code::WrongUnit),
    ("5 percent", Code::WrongUnit),
    ("2 bottles", Code::WrongUnit),
    ("2 mugs", Code::WrongUnit),
    ("2 imperial cups", Code::WrongUnit),
    ("3 t", Code::WrongUnit),
    ("3 m", Code::WrongUnit),
    ("2 cupz", Code::WrongUnit),
    ("2 cups please", Code::WrongUnit),
    ("1,400 mL", Code::NotANumber),
    ("1.400 mL", Code::NotANumber),
    ("1,400 L", Code::NotANumber),
    ("12,000 ml", Code::NotANumber),
    ("12.000 ml", Code::NotANumber),
    ("1,250 fl oz", Code::NotANumber),
    ("1,234,567 mL", Code::NotANumber),
    ("1.234.567 mL", Code::NotANumber),
    ("1,234.5 mL", Code::NotANumber),
    ("1.234,5 mL", Code::NotANumber),
    ("2 3 cups", Code::NotANumber),
    ("2 30 mL", Code::NotANumber),
    ("1 20 mL", Code::NotANumber),
    ("1 2000 mL", Code::NotANumber),
    ("0 200 mL", Code::NotANumber),
    ("12 00 mL", Code::NotANumber),
    ("1 200 30 mL", Code::NotANumber),
    ("2-3 cups", Code::NotANumber),
    ("2–3 cups", Code::NotANumber),
    ("2 - 3 cups", Code::NotANumber),
    ("2 to 3 cups", Code::WrongUnit),
    ("2 or 3 cups", Code::WrongUnit),
    ("2 1/2 1/2 cups", Code::NotANumber),
    ("2 3/2 cups", Code::NotANumber),
    ("2 0/4 cups", Code::NotANumber),
    ("1/0 cup", Code::NotANumber),
    ("1.5/2 cups", Code::NotANumber),
    ("1/2/3 cups", Code::NotANumber),
    ("1/ cup", Code::NotANumber),
    ("/2 cup", Code::NotANumber),
    ("½½ cup", Code::NotANumber),
    ("½ 2 cups", Code::NotANumber),
    ("2½ 3 cups", Code::NotANumber),
    ("1.5½ cups", Code::NotANumber),
    ("1e3 mL", Code::WrongUnit),
    ("1_000 mL", Code::NotANumber),
    ("0x10 mL", Code::WrongUnit),
    ("NaN mL", Code::NotANumber),
    ("inf mL", Code::NotANumber),
    ("１２ mL", Code::NotANumber),
    ("١٢ mL", Code::NotANumber),
    (". mL", Code::NotANumber),
    (", mL", Code::NotANumber),
    ("5. mL", Code::NotANumber),
    (".5 mL", Code::OutOfRange),
    ("..5 L", Code::NotANumber),
    (".5.5 L", Code::NotANumber),
    ("1-2/1 cups", Code::NotANumber),
    ("1-1 /2 cups", Code::NotANumber),
    ("0 x 16 oz", Code::WrongUnit),
    ("x 16 oz", Code::NotANumber),
    ("2 x", Code::WrongUnit),
    ("2 x 16", Code::WrongUnit),
    ("1 cup + 1 cup", Code::WrongUnit),
    ("2 tbsp + 1 cup", Code::WrongUnit),
    ("1 cup + 2", Code::WrongUnit),
    ("one bottle and a half", Code::WrongUnit),
    ("1 bottle", Code::WrongUnit),
    ("half a jug", Code::WrongUnit),
    ("1..5 L", Code::NotANumber),
    ("1.,5 L", Code::NotANumber),
    ("+2 cups", Code::NotANumber),
    ("--2 cups", Code::NotANumber),
    ("2+2 cups", Code::NotANumber),
    ("2x cups", Code::WrongUnit),
    ("(2) cups", Code::NotANumber),
    ("\"2\" cups", Code::NotANumber),
    ("#2 cups", Code::NotANumber),
    ("$2 cups", Code::NotANumber),
    ("a couple of cups", Code::WrongUnit),
    ("a few cups", Code::WrongUnit),
    ("two three cups", Code::NotANumber),
    ("two half cups", Code::NotANumber),
    ("a halves cup", Code::NotANumber),
    ("quarters cup", Code::NotANumber),
    ("four quarters cup", Code::NotANumber),
    ("and cups", Code::NotANumber),
    ("of cups", Code::NotANumber),
    ("2 and cups", Code::NotANumber),
    ("2 and two cups", Code::NotANumber),
    ("half a half cup", Code::NotANumber),
    ("90 L", Code::OutOfRange),
    ("0 mL", Code::OutOfRange),
    ("0 cups", Code::OutOfRange),
    ("-1 cup", Code::OutOfRange),
    ("−1 cup", Code::OutOfRange),
    ("-½ cup", Code::OutOfRange),
    ("1 mL", Code::OutOfRange),
    ("9999999999 mL", Code::NotANumber),
];

#[test]
fn ways_of_typing_are_read_as_meant_or_refused() {
    assert!(READ.len() + REFUSED.len() >= 250);
    for (text, number, unit_ml) in READ {
        let read = parse_volume("volume", text, &bounds::SPARE_VOLUME, Some(MARK_ML));
        let ml = read.unwrap_or_else(|p| panic!("{text}: {}", p.message));
        let meant = number * unit_ml;
        assert!(
            (ml - meant).abs() < 1e-6 * meant,
            "{text}: {ml}, not {meant}"
        );
    }
    let wrong: Vec<_> = REFUSED
        .iter()
        .map(|(text, code)| (*text, Some(*code)))
        .filter(|(text, code)| {
            let read = parse_volume("volume", text, &bounds::RESERVOIR, Some(MARK_ML));
            read.err().map(|problem| problem.code) != *code
        })
        .collect();
    assert_eq!(wrong, []);
}

#[test]
fn what_is_too_long_for_an_amount_is_refused_unread() {
    let padded = |length: usize| format!("{}2 cups", "about ".repeat((length - 6) / 6));
    let long = "1 l 1 cup 1 tbsp 1 ml ".repeat(2000);
    for (text, code) in [
        (long.trim().to_owned(), Code::NotANumber),
        (padded(LONGEST + 6), Code::NotANumber),
        (
            "1 gallon 1 l 1 cup 1 tbsp 1 ml 1 ml".to_owned(),
            Code::WrongUnit,
        ),
    ] {
        let problem = parse(&text).unwrap_err();
        assert_eq!(problem.code, code, "{}", problem.message);
        assert!(problem.message.len() < 2 * LONGEST, "{}", problem.message);
    }
    assert!(parse("1 gallon 1 l 1 cup 1 tbsp 1 ml").is_ok());
    assert_eq!(padded(LONGEST).len(), LONGEST);
    assert!(
        !parse(&padded(LONGEST))
            .unwrap_err()
            .message
            .starts_with("that is no amount")
    );
}

#[test]
fn a_refusal_says_what_would_be_right() {
    let says = |text: &str| parse(text).expect_err(text).message;
    assert!(
        says("1,400 mL").ends_with("give 1400 or 1.4"),
        "{}",
        says("1,400 mL")
    );
    assert!(says("1.250 mL").ends_with("give 1250 or 1.25"));
    assert!(says("2 3 cups").contains("more than one amount"));
    assert!(says("5%").contains("is a strength"));
    assert!(says("30 g").contains("is a weight"));
    assert!(says("2 mugs").contains("\"mugs\" is not a unit of volume"));
    assert!(says("7").contains("has no unit"));
    assert!(says("one bottle and a half").starts_with("bottles differ: give what is in"));
    let marks = parse_volume("volume", "10 marks", &bounds::RESERVOIR, None);
    let marks = marks.expect_err("no carafe");
    assert_eq!(marks.code, Code::WrongUnit);
    assert!(marks.message.contains("need a carafe"));
}

/// An amount, and the ways in which people write it down.
fn written(whole: u32, hundredths: u32, eighths: usize) -> Vec<(String, f64)> {
    let value = f64::from(whole) + f64::from(hundredths) / 100.0;
    let grouped = if whole >= 1000 {
        format!("{} {:03}", whole / 1000, whole % 1000)
    } else {
        whole.to_string()
    };
    let glyph = [' ', '⅛', '¼', '⅜', '½', '⅝', '¾', '⅞'][eighths];
    let parts = f64::from(whole) + eighths as f64 / 8.0;
    vec![
        (format!("{whole}.{hundredths:02}"), value),
        (format!("{whole},{hundredths:02}"), value),
        (grouped, f64::from(whole)),
        (format!("{whole}{glyph}"), parts),
        (format!("{whole} {glyph}"), parts),
        (format!("{whole} {eighths}/8"), parts),
    ]
}

proptest! {
    #[test]
    fn what_is_written_down_is_read_as_it_was_meant(
        whole in 1u32..9999, hundredths in 0u32..100, eighths in 1usize..8, unit in 0usize..6, blank in any::<bool>(),
    ) {
        let (name, unit_ml) = [
            ("mL", 1.0), ("L", 1000.0), ("cups", CUP_ML), ("fl oz", FL_OZ_ML), ("marks", MARK_ML), ("oz", FL_OZ_ML),
        ][unit];
        for (number, value) in written(whole, hundredths, eighths) {
            let text = format!("{number}{}{name}", if blank { " " } else { "" });
            let read = parse_volume("volume", &text, &Bound { max: 1e12, ..bounds::SPARE_VOLUME }, Some(MARK_ML));
            let meant = value * unit_ml;
            prop_assert!(read.as_ref().is_ok_and(|ml| (ml - meant).abs() <= 1e-9 * meant), "{}: {:?}", text, read);
        }
    }

    #[test]
    fn nothing_that_is_read_holds_figures_that_were_not_meant(text in "[0-9 ,./½⅛'-]{1,9}") {
        // Whatever is read is one of five shapes, and its value is that of the shape.
        if let Ok(read) = parse_volume("volume", &format!("{text}cl"), &Bound { min: -1e12, max: 1e12, ..bounds::SPARE_VOLUME }, None) {
            let meant = shape(text.trim()).map(|value| 10.0 * value);
            prop_assert!(meant.is_some_and(|ml| (ml - read).abs() < 1e-6 * read.abs().max(1.0)), "{}: {} and not {:?}", text, read, meant);
        }
    }

    #[test]
    fn any_text_is_read_or_refused_without_panic(text in "\\PC{0,24}") {
        let _ = parse(&text);
    }
}

/// The value of figures by another way: the text is cut at everything that is no digit.
fn shape(text: &str) -> Option<f64> {
    let (text, sign) = match text.strip_prefix('-') {
        Some(rest) => (rest.trim(), -1.0),
        None => (text, 1.0),
    };
    let text = text
        .split(' ')
        .filter(|t| !t.is_empty())
        .collect::<Vec<_>>()
        .join(" ");
    // What joins figure and unit, and the nought that nobody writes.
    let text = text.trim_end_matches('-').to_owned();
    let text = match text.starts_with(['.', ',']) {
        true => format!("0{text}"),
        false => text,
    };
    let mut figures: Vec<String> = vec![String::new()];
    let mut between = String::new();
    for c in text.chars() {
        if c.is_ascii_digit() {
            figures.last_mut()?.push(c);
        } else {
            between.push(c);
            figures.push(String::new());
        }
    }
    let n = |i: usize| figures[i].parse::<f64>().ok();
    let three = |i: usize| figures[i].len() == 3;
    let value = match between.as_str() {
        "" => n(0)?,
        "." => format!("{}.{}", figures[0], figures[1]).parse().ok()?,
        "," if !three(1) || figures[0].starts_with('0') => {
            format!("{}.{}", figures[0], figures[1]).parse().ok()?
        }
        "/" => n(0)? / n(1)?,
        " /" | "-/" => n(0)? + n(1)? / n(2)?,
        "½" | " ½" | "-½" => n(0).unwrap_or(0.0) + 0.5,
        "⅛" | " ⅛" | "-⅛" => n(0).unwrap_or(0.0) + 0.125,
        " " | "'" if three(1) => 1000.0 * n(0)? + n(1)?,
        "  " | "''" if three(1) && three(2) => 1e6 * n(0)? + 1e3 * n(1)? + n(2)?,
        _ => return None,
    };
    Some(sign * value)
}

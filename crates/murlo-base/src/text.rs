//! Words shared by every module: names people give, and dates and durations as people say them.

use crate::problem::{Code, Problem};
use jiff::civil::{Date, Time};

/// Longest name a person may give; long enough for any, short enough for a card.
pub(crate) const NAME_MAX: usize = 80;
/// Longest note.
pub(crate) const NOTE_MAX: usize = 2000;
/// Longest text in a document, whatever it stands for: workings and reasons are longer than notes.
pub(crate) const TEXT_MAX: usize = 8000;
/// Longest line, such as what to press.
pub(crate) const LINE_MAX: usize = 200;

/// A name without outer blanks.
///
/// # Errors
/// `Missing` when there is nothing to see, `OutOfRange` above 80 characters, `WrongType` for more than one line.
pub fn name(field: &str, text: &str) -> Result<String, Problem> {
    one_line(field, bounded(field, text, NAME_MAX)?)
}

/// A note without outer blanks.
///
/// # Errors
/// `Missing` when empty, `OutOfRange` above 2000 characters.
pub fn note(field: &str, text: &str) -> Result<String, Problem> {
    bounded(field, text, NOTE_MAX)
}

/// A long text without outer blanks, such as a letter.
///
/// # Errors
/// `Missing` when empty, `OutOfRange` above 8000 characters.
pub fn long(field: &str, text: &str) -> Result<String, Problem> {
    bounded(field, text, TEXT_MAX)
}

/// A short text without outer blanks.
///
/// # Errors
/// `Missing` when there is nothing to see, `OutOfRange` above 200 characters, `WrongType` for more than one line.
pub fn line(field: &str, text: &str) -> Result<String, Problem> {
    one_line(field, bounded(field, text, LINE_MAX)?)
}

/// Longest address that mail can carry (RFC 5321).
const ADDRESS_MAX: usize = 254;

/// An address for mail without outer blanks, such as "ola@harbour.example".
///
/// # Errors
/// `Missing` when empty, `OutOfRange` above 254 characters, `WrongType` for what no mail could reach.
pub fn mail_address(field: &str, text: &str) -> Result<String, Problem> {
    let text = bounded(field, text, ADDRESS_MAX)?;
    let is_plain = |c: char| !c.is_whitespace() && !c.is_control() && !"<>,;:\\\"()[]".contains(c);
    let (name, place) = text.rsplit_once('@').unwrap_or_default();
    let is_place = place.split('.').all(|part| {
        let ends = part.starts_with('-') || part.ends_with('-');
        !part.is_empty() && part.len() <= 63 && !ends && !part.contains('@')
    });
    let is_name = (1..=64).contains(&name.len()) && name.split('.').all(|part| !part.is_empty());
    if is_name && !name.contains('@') && is_place && text.chars().all(is_plain) {
        return Ok(text);
    }
    let message =
        format!("\"{text}\" is no address for mail: give one such as ola@harbour.example");
    Err(Problem::new(Code::WrongType, field, message))
}

fn one_line(field: &str, text: String) -> Result<String, Problem> {
    if !text.chars().any(char::is_control) {
        return Ok(text);
    }
    let name = last(field);
    let message =
        format!("{name} has a line break or another character that is not seen: give one line");
    Err(Problem::new(Code::WrongType, field, message))
}

/// Whether anything of a character is seen: not of blanks, nor of those that only say how others are written.
fn is_seen(c: char) -> bool {
    let only_guides = matches!(
        c,
        '\u{ad}' | '\u{34f}' | '\u{61c}' | '\u{115f}' | '\u{1160}' | '\u{17b4}' | '\u{17b5}' | '\u{180b}'..='\u{180f}'
            | '\u{200b}'..='\u{200f}' | '\u{202a}'..='\u{202e}' | '\u{2060}'..='\u{206f}' | '\u{2800}' | '\u{3164}'
            | '\u{fe00}'..='\u{fe0f}' | '\u{feff}' | '\u{ffa0}' | '\u{e0000}'..='\u{e0fff}'
    );
    !c.is_whitespace() && !c.is_control() && !only_guides
}

fn bounded(field: &str, text: &str, most: usize) -> Result<String, Problem> {
    let text = text.trim();
    let length = text.chars().count();
    if !text.chars().any(is_seen) {
        return Err(Problem::new(
            Code::Missing,
            field,
            format!("give a {} of 1 to {most} characters", last(field)),
        ));
    }
    if length > most {
        return Err(Problem::new(
            Code::OutOfRange,
            field,
            format!(
                "{} has {length} characters: give at most {most}",
                last(field)
            ),
        ));
    }
    Ok(text.to_owned())
}

/// What a field is called in a sentence.
fn last(field: &str) -> &str {
    match field.rsplit('.').next().unwrap_or(field) {
        "nickname" => "name",
        other => other,
    }
}

/// A share of a whole in words that promise no more than an estimate holds: "about a third", "hardly anything".
#[must_use]
pub fn share(share: f64) -> String {
    let words = [
        (0.03, "hardly anything"),
        (0.075, "about a twentieth"),
        (0.15, "about a tenth"),
        (0.225, "about a fifth"),
        (0.29, "about a quarter"),
        (0.42, "about a third"),
        (0.58, "about half"),
        (0.7, "about two thirds"),
        (0.85, "about three quarters"),
        (1.15, "about all"),
    ];
    let found = words.iter().find(|(below, _)| share < *below);
    found.map_or_else(
        || format!("about {share:.1} times"),
        |(_, words)| (*words).to_owned(),
    )
}

/// From here on chalk against its limit is told as times, not in percent.
pub const MANY_TIMES: f64 = 2.95;

/// Chalk against its limit as a short figure: far beyond it no percentage is that sure.
///
/// # Example
/// ```
/// use murlo_base::text::of_limit;
/// assert_eq!(of_limit(0.284), "28 % of the limit");
/// assert_eq!(of_limit(4.4), "4 times the limit");
/// assert_eq!(of_limit(19.0), "over 10 × the limit");
/// ```
#[must_use]
pub fn of_limit(used: f64) -> String {
    if used < MANY_TIMES {
        format!("{:.0} % of the limit", 100.0 * used)
    } else if used < 10.0 {
        format!("{used:.0} times the limit")
    } else {
        "over 10 × the limit".to_owned()
    }
}

/// The same in words: "about a third of the limit".
#[must_use]
pub fn share_of_limit(used: f64) -> String {
    if used < 1.15 {
        format!("{} of the limit", share(used))
    } else if used < MANY_TIMES {
        format!("about {} times the limit", crate::units::trim(used, 1))
    } else {
        of_limit(used)
    }
}

/// An estimate to two figures, which is all it is good for: 21134 as "21000".
#[must_use]
pub fn roughly(value: f64) -> String {
    if value < 10.0 {
        return format!("{value:.1}");
    }
    let step = 10f64.powf(value.log10().floor() - 1.0);
    format!("{:.0}", (value / step).round() * step)
}

/// An identity made by a device: 1 to 64 letters, digits, `-` or `_`.
///
/// # Errors
/// `WrongType` for anything else.
pub fn id(field: &str, text: &str) -> Result<String, Problem> {
    if is_id(text, ID) {
        Ok(text.to_owned())
    } else {
        Err(Problem::new(
            Code::WrongType,
            field,
            "an id is 1 to 64 letters, digits, - or _",
        ))
    }
}

/// Checks what is named by two ids with a dash between them: a room of a home, a side of a brewer.
///
/// # Errors
/// `WrongType` for anything else.
pub fn joined_id(field: &str, text: &str) -> Result<(), Problem> {
    match is_id(text, 2 * ID + 1) {
        true => Ok(()),
        false => Err(Problem::new(
            Code::WrongType,
            field,
            "this id is 1 to 129 letters, digits, - or _",
        )),
    }
}

/// The longest id.
const ID: usize = 64;

fn is_id(text: &str, most: usize) -> bool {
    let fits = |c: char| c.is_ascii_alphanumeric() || c == '-' || c == '_';
    (1..=most).contains(&text.len()) && text.chars().all(fits)
}

const MONTHS: [&str; 12] = [
    "Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec",
];

/// "12 Dec", with the year when it is not `today`'s.
#[must_use]
pub fn day(date: Date, today: Date) -> String {
    let month = MONTHS[(date.month() - 1) as usize];
    if date.year() == today.year() {
        format!("{} {month}", date.day())
    } else {
        format!("{} {month} {}", date.day(), date.year())
    }
}

/// "3:05 PM" or "15:05".
#[must_use]
pub fn time(time: Time, is_12_hours: bool) -> String {
    let (hour, minute) = (time.hour(), time.minute());
    match (is_12_hours, hour % 12) {
        (false, _) => format!("{hour}:{minute:02}"),
        (true, h) => {
            let half = if hour < 12 { "AM" } else { "PM" };
            format!("{}:{minute:02} {half}", if h == 0 { 12 } else { h })
        }
    }
}

/// "25 min", "1 h 10 min".
///
/// # Example
/// ```
/// use murlo_base::text::minutes;
/// assert_eq!((minutes(9.4), minutes(60.0), minutes(95.0)), ("9 min".into(), "1 h".into(), "1 h 35 min".into()));
/// ```
#[must_use]
pub fn minutes(value: f64) -> String {
    let total = value.round() as i64;
    match (total / 60, total % 60) {
        (0, m) => format!("{m} min"),
        (h, 0) => format!("{h} h"),
        (h, m) => format!("{h} h {m} min"),
    }
}

/// A long time as people say it: "12 days", "5 weeks", "8 months", "2 years".
///
/// # Example
/// ```
/// use murlo_base::text::span;
/// assert_eq!((span(12.0), span(240.0)), ("12 days".into(), "8 months".into()));
/// ```
#[must_use]
pub fn span(days: f64) -> String {
    let whole = |value: f64, one: &str, many: &str| count(value.round() as u32, one, many);
    match days {
        d if d < 20.5 => whole(d, "day", "days"),
        d if d < 70.0 => whole(d / 7.0, "week", "weeks"),
        d if d < 700.0 => whole(d / 30.4, "month", "months"),
        d => whole(d / 365.25, "year", "years"),
    }
}

/// The same with a small first letter, as it stands within a sentence; a word of capitals stays as it is.
#[must_use]
pub fn small(words: &str) -> String {
    let mut letters = words.chars();
    match (letters.next(), letters.clone().next()) {
        (Some(first), second) if !second.is_some_and(char::is_uppercase) => {
            first.to_lowercase().chain(letters).collect()
        }
        _ => words.to_owned(),
    }
}

/// The same with a capital letter.
#[must_use]
pub fn capital(words: &str) -> String {
    let mut letters = words.chars();
    let first = letters.next().map(|c| c.to_uppercase().to_string());
    first.unwrap_or_default() + letters.as_str()
}

/// "1 dispense", "3 dispenses".
///
/// # Example
/// ```
/// use murlo_base::text::count;
/// assert_eq!((count(1, "mug", "mugs"), count(4, "mug", "mugs")), ("1 mug".into(), "4 mugs".into()));
/// ```
#[must_use]
pub fn count(n: u32, one: &str, many: &str) -> String {
    format!("{n} {}", if n == 1 { one } else { many })
}

/// "Ana, Bo or Cy".
#[must_use]
pub fn any_of(names: &[String]) -> String {
    joined(names, "or")
}

/// "Ana, Bo and Cy".
#[must_use]
pub fn all_of(names: &[String]) -> String {
    joined(names, "and")
}

fn joined(names: &[String], word: &str) -> String {
    match names {
        [] => String::new(),
        [one] => one.clone(),
        [most @ .., last] => format!("{} {word} {last}", most.join(", ")),
    }
}

/// One line of RFC 4180; what looks like a formula to a spreadsheet is told apart by an apostrophe.
///
/// # Example
/// ```
/// use murlo_base::text::csv_line;
/// assert_eq!(csv_line(&["Kiln, north", "2"]), "\"Kiln, north\",2\r\n");
/// ```
#[must_use]
pub fn csv_line(fields: &[&str]) -> String {
    let field = |text: &&str| {
        let guard = match text.chars().next() {
            Some('=' | '@' | '\t' | '\r') => "'",
            Some('+' | '-') if text.parse::<f64>().is_err() => "'",
            _ => "",
        };
        match text.contains([',', '"', '\n', '\r']) || !guard.is_empty() {
            true => format!("\"{guard}{}\"", text.replace('"', "\"\"")),
            false => (*text).to_owned(),
        }
    };
    let fields: Vec<String> = fields.iter().map(field).collect();
    fields.join(",") + "\r\n"
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_long_time_changes_its_unit_where_people_do() {
        for (days, told) in [
            (1.0, "1 day"),
            (20.4, "20 days"),
            (20.5, "3 weeks"),
            (69.9, "10 weeks"),
            (70.0, "2 months"),
            (699.0, "23 months"),
            (700.0, "2 years"),
            (1461.0, "4 years"),
        ] {
            assert_eq!(span(days), told, "{days}");
        }
    }
    use jiff::civil::date;

    #[test]
    fn times_are_written_as_the_household_writes_them() {
        use jiff::civil::time as at;
        for (hour, minute, twelve, day) in [
            (0, 5, "12:05 AM", "0:05"),
            (9, 30, "9:30 AM", "9:30"),
            (11, 59, "11:59 AM", "11:59"),
            (12, 0, "12:00 PM", "12:00"),
            (13, 7, "1:07 PM", "13:07"),
            (23, 59, "11:59 PM", "23:59"),
        ] {
            assert_eq!(time(at(hour, minute, 0, 0), true), twelve);
            assert_eq!(time(at(hour, minute, 0, 0), false), day);
        }
    }

    #[test]
    fn names_are_trimmed_and_bounded() {
        assert_eq!(name("nickname", "  Kiln drip ").unwrap(), "Kiln drip");
        assert_eq!(
            name("nickname", "ü".repeat(80).as_str())
                .unwrap()
                .chars()
                .count(),
            80
        );
        for (text, code) in [
            ("", Code::Missing),
            (" \n ", Code::Missing),
            ("x".repeat(81).as_str(), Code::OutOfRange),
        ] {
            let problem = name("home.name", text).unwrap_err();
            assert_eq!((problem.code, problem.field.as_str()), (code, "home.name"));
            assert!(
                problem.message.contains("name") && !problem.message.contains("home."),
                "{}",
                problem.message
            );
        }
        assert_eq!(
            note("text", &"x".repeat(2001)).unwrap_err().code,
            Code::OutOfRange
        );
    }

    #[test]
    fn a_name_is_one_line_of_which_something_is_seen() {
        for good in ["Ö", "Küche 2", "台所", "👩\u{200d}🍳", "a\u{200b}", "مطبخ"] {
            assert_eq!(name("name", good).unwrap(), good);
        }
        for nothing in [
            "",
            " \n",
            "\u{200b}",
            "\u{2060}\u{feff} ",
            "\u{3164}",
            "\u{202e}",
            "\u{0}",
        ] {
            assert_eq!(
                name("name", nothing).unwrap_err().code,
                Code::Missing,
                "{nothing:?}"
            );
            assert_eq!(line("press", nothing).unwrap_err().code, Code::Missing);
            assert_eq!(note("note", nothing).unwrap_err().code, Code::Missing);
        }
        for lines in ["a\nb", "a\rb", "a\tb", "a\u{0}b", "a\u{1b}b"] {
            assert_eq!(
                name("name", lines).unwrap_err().code,
                Code::WrongType,
                "{lines:?}"
            );
            assert_eq!(line("press", lines).unwrap_err().code, Code::WrongType);
            assert!(note("note", lines).is_ok());
        }
    }

    #[test]
    fn mail_goes_to_one_plain_address() {
        let longest = format!("o@{}", ["a".repeat(63), "b".repeat(63)].join("."));
        for good in [
            "ola@harbour.example",
            " a.b+c@x ",
            "ö@süd.example",
            &longest,
        ] {
            assert_eq!(mail_address("mail", good).unwrap(), good.trim());
        }
        let (too_long, long_name) = (format!("o@{}", "a".repeat(64)), "o".repeat(65) + "@x.y");
        for bad in [
            "ola",
            "@harbour",
            "ola@",
            "a@b@c",
            "a b@c",
            "a@b..c",
            "a@-b",
            "a@b-",
            ".a@b",
            "a.@b",
            "a@b\nc: d",
            "a@b, c@d",
            "Ola <a@b>",
            &too_long,
            &long_name,
        ] {
            assert_eq!(
                mail_address("mail", bad).unwrap_err().code,
                Code::WrongType,
                "{bad}"
            );
        }
        assert_eq!(mail_address("mail", " ").unwrap_err().code, Code::Missing);
        let endless = format!("{}@x", "o".repeat(253));
        assert_eq!(
            mail_address("mail", &endless).unwrap_err().code,
            Code::OutOfRange
        );
    }

    #[test]
    fn estimates_are_told_to_two_figures() {
        for (value, told) in [
            (21134.0, "21000"),
            (2393.0, "2400"),
            (99.6, "100"),
            (50.0, "50"),
            (10.4, "10"),
            (7.26, "7.3"),
            (0.0, "0.0"),
        ] {
            assert_eq!(roughly(value), told);
        }
    }

    #[test]
    fn ids_are_plain() {
        for good in ["a", "6f1c-22", "Demo_1", &"x".repeat(64)] {
            assert_eq!(id("id", good).unwrap(), good);
        }
        for bad in ["", "a b", "../x", "é", &"x".repeat(65)] {
            assert_eq!(id("id", bad).unwrap_err().code, Code::WrongType, "{bad}");
        }
        for (long, fits) in [
            (1, true),
            (64, true),
            (65, true),
            (129, true),
            (130, false),
            (0, false),
        ] {
            assert_eq!(joined_id("id", &"x".repeat(long)).is_ok(), fits, "{long}");
        }
        assert!(joined_id("id", "a b").is_err());
    }

    #[test]
    fn days_minutes_and_counts_read_as_people_say_them() {
        let today = date(2026, 11, 23);
        assert_eq!(day(date(2026, 12, 3), today), "3 Dec");
        assert_eq!(day(date(2027, 1, 7), today), "7 Jan 2027");
        for (value, text) in [
            (0.4, "0 min"),
            (25.0, "25 min"),
            (60.0, "1 h"),
            (154.2, "2 h 34 min"),
            (1440.0, "24 h"),
        ] {
            assert_eq!(minutes(value), text);
        }
        assert_eq!(
            (count(1, "mug", "mugs"), count(0, "mug", "mugs")),
            ("1 mug".to_owned(), "0 mugs".to_owned())
        );
    }

    #[test]
    fn a_table_survives_commas_quotes_and_spreadsheets() {
        for (field, written) in [
            ("Boat", "Boat"),
            ("Boat, forward", "\"Boat, forward\""),
            ("the \"old\" pod", "\"the \"\"old\"\" pod\""),
            ("two\nlines", "\"two\nlines\""),
            ("-1.5", "-1.5"),
            ("=SUM(A1)", "\"'=SUM(A1)\""),
            ("-cmd", "\"'-cmd\""),
            ("@x", "\"'@x\""),
            ("", ""),
        ] {
            assert_eq!(csv_line(&["a", field]), format!("a,{written}\r\n"));
        }
    }
}

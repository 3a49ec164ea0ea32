//! The log: what was done, line by line and year by year.

use super::GuidedClean;
use crate::PastClean;
use jiff::civil::Date;
use murlo_base::text;
use murlo_clean::{Act, Outcome};
use murlo_plan::Work;
use serde::Serialize;
use std::cmp::Reverse;
use std::collections::BTreeMap;

/// One line of what was done.
#[derive(Debug, Clone, PartialEq)]
pub struct Done {
    /// The clean; absent when it was told afterwards.
    pub clean_id: Option<String>,
    /// The past clean, when told afterwards.
    pub past_id: Option<String>,
    /// The brewer.
    pub brewer_id: String,
    /// When.
    pub day: Date,
    /// What.
    pub text: String,
    /// What it came to.
    pub outcome: Option<Outcome>,
    /// Who ended it, where that is known.
    pub by: Option<String>,
}

impl Done {
    /// "about 48 min at the brewer, by Ola"; nothing of what was only told, or was not timed and nobody's.
    #[must_use]
    pub fn in_short(&self) -> Option<String> {
        let minutes = self.minutes_at_it().filter(|minutes| *minutes >= 1.0);
        let minutes =
            minutes.map(|minutes| format!("about {} at the brewer", text::minutes(minutes)));
        let by = self.by.as_ref().map(|by| format!("by {by}"));
        let parts: Vec<_> = [minutes, by].into_iter().flatten().collect();
        (!parts.is_empty()).then(|| parts.join(", "))
    }

    /// What it was.
    fn work(&self) -> Work {
        self.outcome
            .as_ref()
            .map_or(Work::Descale, |outcome| outcome.work)
    }

    /// Whether each of these words, in small letters, stands in it.
    fn holds(&self, words: &[String], name: &str) -> bool {
        let because = self
            .outcome
            .as_ref()
            .and_then(|outcome| outcome.because.as_ref());
        let because = because.map_or("", |because| &because.text);
        let by = self.by.as_deref().unwrap_or_default();
        let said = format!("{name} {} {because} {by}", self.text).to_lowercase();
        words.iter().all(|word| said.contains(word.as_str()))
    }

    /// Minutes that somebody was at it, hands or presses, of a guided clean.
    fn minutes_at_it(&self) -> Option<f64> {
        let took = &self.outcome.as_ref()?.took;
        Some(took.iter().map(|took| took.took_min).sum())
    }
}

/// What was done, latest first. A rehearsal did nothing, nor a clean that was given up before anything was poured or cleared.
#[must_use]
pub fn done(
    guided: impl IntoIterator<Item = GuidedClean>,
    told: impl IntoIterator<Item = PastClean>,
) -> Vec<Done> {
    let finished = guided.into_iter().filter_map(|clean| {
        let closing = clean.closing?;
        let outcome = if let Act::Abandoned { outcome, .. } = closing.act {
            outcome.map(|outcome| *outcome)
        } else if let Act::Finished { outcome } | Act::Vouched { outcome, .. } = closing.act {
            outcome
        } else {
            None
        };
        let outcome = outcome?;
        if outcome.work == Work::Rehearsal || outcome.did_nothing() {
            return None;
        }
        let line = Done {
            clean_id: Some(clean.id),
            past_id: None,
            brewer_id: clean.brewer_id,
            day: outcome.day,
            text: outcome.line(),
            outcome: Some(outcome),
            by: closing.by,
        };
        Some((Some(closing.at), line))
    });
    let told = told.into_iter().map(|past| {
        let line = Done {
            clean_id: None,
            past_id: Some(past.id),
            brewer_id: past.brewer_id,
            day: past.day,
            text: match past.note.as_str() {
                "" => "Cleaned without Murlo".to_owned(),
                _ => past.note,
            },
            outcome: None,
            by: None,
        };
        (None, line)
    });
    let mut all: Vec<_> = finished.chain(told).collect();
    // Of one day what ended last comes first; nobody knows when told ones did.
    all.sort_by_key(|(at, line)| Reverse((line.day, *at)));
    all.into_iter().map(|(_, line)| line).collect()
}

/// Which lines of the log are wanted.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Which {
    /// Of these brewers only.
    pub brewers: Option<Vec<String>>,
    /// Of this year only.
    pub year: Option<i16>,
    /// Of this work only; what was told afterwards is a descaling.
    pub work: Option<Work>,
    /// Only what holds each of these words, in small letters: in its name, in what was done, or in who did it.
    pub words: Vec<String>,
    /// No more than so many lines.
    pub most: usize,
}

/// A year of the log.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct YearOfLog {
    /// The year.
    pub year: i16,
    /// "14 cleans, needles 3 times, 6 small works".
    pub text: String,
}

/// A clean on the line of its year.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CleanOnLine {
    /// How far into the year, of 1.
    pub at: f64,
    /// What it was.
    pub work: Work,
    /// "23 Nov: Galley one-cup, needles cleared".
    pub text: String,
}

/// Everything that was done in a year, on one line.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct YearLine {
    /// The year.
    pub year: i16,
    /// Cleans, the earliest first.
    pub cleans: Vec<CleanOnLine>,
}

impl YearLine {
    fn of(year: i16, lines: &[Done], name: &impl Fn(&str) -> String) -> Self {
        let here = lines.iter().rev().filter(|line| line.day.year() == year);
        let cleans = here.map(|line| {
            let day = text::day(line.day, line.day);
            CleanOnLine {
                at: f64::from(line.day.day_of_year() - 1) / f64::from(line.day.days_in_year()),
                work: line.work(),
                text: format!(
                    "{day}: {}, {}",
                    name(&line.brewer_id),
                    text::small(&line.text)
                ),
            }
        });
        Self {
            year,
            cleans: cleans.collect(),
        }
    }
}

/// The lines that were asked for, and what each year came to.
#[derive(Debug, Clone, PartialEq)]
pub struct Log {
    /// Latest first.
    pub lines: Vec<Done>,
    /// How many more there are.
    pub more: usize,
    /// The years of these brewers, latest first.
    pub years: Vec<YearOfLog>,
    /// The year that was chosen, else the latest that holds anything, on one line.
    pub line: Option<YearLine>,
}

impl Log {
    /// What `which` asks for of `all`, which stands latest first; `name` gives what a brewer is called.
    #[must_use]
    pub fn of(all: Vec<Done>, which: &Which, name: impl Fn(&str) -> String) -> Self {
        let is_meant = |line: &Done| {
            let brewers = which.brewers.as_ref();
            brewers.is_none_or(|brewers| brewers.contains(&line.brewer_id))
                && which.work.is_none_or(|work| line.work() == work)
                && (which.words.is_empty() || line.holds(&which.words, &name(&line.brewer_id)))
        };
        let mut lines: Vec<_> = all.into_iter().filter(is_meant).collect();
        let mut counts: BTreeMap<i16, [u32; 3]> = BTreeMap::new();
        // A clean over days is one clean, counted with its first part.
        let is_later = |line: &&Done| {
            let part = line
                .outcome
                .as_ref()
                .and_then(|outcome| outcome.part.as_ref());
            part.is_some_and(|part| part.number > 1)
        };
        for line in lines.iter().filter(|line| !is_later(line)) {
            let kind = match line.work() {
                Work::Needles => 1,
                Work::Upkeep => 2,
                Work::Descale | Work::Rehearsal => 0,
            };
            counts.entry(line.day.year()).or_default()[kind] += 1;
        }
        let years = counts.into_iter().rev().map(|(year, counts)| YearOfLog {
            year,
            text: words(counts),
        });
        let years: Vec<YearOfLog> = years.collect();
        let drawn = which.year.or(years.first().map(|year| year.year));
        let drawn = drawn.map(|year| YearLine::of(year, &lines, &name));
        lines.retain(|line| which.year.is_none_or(|year| line.day.year() == year));
        let more = lines.len().saturating_sub(which.most);
        lines.truncate(which.most);
        Self {
            lines,
            more,
            years,
            line: drawn,
        }
    }
}

/// The log as a table, earliest first; `named` gives a brewer's name and its home's. RFC 4180.
#[must_use]
pub fn csv<'a>(all: &[Done], named: impl Fn(&str) -> Option<(&'a str, &'a str)>) -> String {
    let head = [
        "day (YYYY-MM-DD)",
        "home",
        "brewer",
        "what was done",
        "baths",
        "rinses",
        "at the brewer (min)",
        "done by",
    ];
    let mut table = text::csv_line(&head);
    for line in all.iter().rev() {
        let (brewer, home) = named(&line.brewer_id).unwrap_or_default();
        let count = |of: fn(&Outcome) -> u32| {
            let outcome = line.outcome.as_ref();
            outcome.map_or_else(String::new, |outcome| of(outcome).to_string())
        };
        let at_it = match line.minutes_at_it() {
            Some(minutes) if minutes > 0.0 => format!("{minutes:.1}"),
            _ => String::new(),
        };
        table += &text::csv_line(&[
            &line.day.to_string(),
            home,
            brewer,
            &line.text,
            &count(|outcome| outcome.rounds),
            &count(|outcome| outcome.rinses),
            &at_it,
            line.by.as_deref().unwrap_or_default(),
        ]);
    }
    table
}

/// "14 cleans, needles 3 times, 6 small works".
fn words([cleans, needles, works]: [u32; 3]) -> String {
    let parts = [
        (cleans > 0).then(|| text::count(cleans, "clean", "cleans")),
        (needles > 0).then(|| match needles {
            1 => "needles once".to_owned(),
            n => format!("needles {n} times"),
        }),
        (works > 0).then(|| text::count(works, "small work", "small works")),
    ];
    parts.into_iter().flatten().collect::<Vec<_>>().join(", ")
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::Timestamp;
    use jiff::civil::date;
    use murlo_clean::Event;

    fn line(brewer: &str, day: Date, work: Option<Work>) -> Done {
        Done {
            clean_id: None,
            past_id: None,
            brewer_id: brewer.to_owned(),
            day,
            text: String::new(),
            by: None,
            outcome: work.map(|work| {
                let bare = serde_json::json!({
                    "day": day, "rounds": 1, "rinses": 0, "text": "", "overruled": false, "work": work
                });
                serde_json::from_value(bare).unwrap()
            }),
        }
    }

    fn all() -> Vec<Done> {
        vec![
            line("kiln", date(2026, 11, 2), Some(Work::Upkeep)),
            line("lamp", date(2026, 5, 1), Some(Work::Descale)),
            line("kiln", date(2026, 1, 1), Some(Work::Needles)),
            line("kiln", date(2025, 12, 31), None),
            line("lamp", date(2025, 3, 1), Some(Work::Needles)),
            line("lamp", date(2025, 2, 1), Some(Work::Needles)),
        ]
    }

    #[test]
    fn a_clean_over_days_is_one_clean_of_its_year() {
        let part = |number, day| {
            let mut line = line("lamp", day, Some(Work::Descale));
            let of = murlo_plan::PartOf {
                id: "o".to_owned(),
                number,
                of: 3,
            };
            line.outcome.as_mut().unwrap().part = Some(of);
            line
        };
        let all = vec![
            part(3, date(2026, 5, 5)),
            part(2, date(2026, 5, 3)),
            part(1, date(2026, 5, 1)),
            line("lamp", date(2026, 1, 1), Some(Work::Descale)),
        ];
        let log = Log::of(
            all,
            &Which {
                most: 9,
                ..Which::default()
            },
            str::to_owned,
        );
        assert_eq!((log.lines.len(), log.years.len()), (4, 1));
        assert_eq!(log.years[0].text, "2 cleans");
    }

    #[test]
    fn the_log_is_asked_by_brewer_and_year_and_sums_what_each_year_held() {
        let years = |log: &Log| -> Vec<(i16, String)> {
            log.years.iter().map(|y| (y.year, y.text.clone())).collect()
        };
        let whole = Log::of(
            all(),
            &Which {
                most: 4,
                ..Which::default()
            },
            str::to_owned,
        );
        assert_eq!((whole.lines.len(), whole.more), (4, 2));
        assert_eq!(
            years(&whole),
            [
                (2026, "1 clean, needles once, 1 small work".to_owned()),
                (2025, "1 clean, needles 2 times".to_owned()),
            ]
        );
        let kiln = Log::of(
            all(),
            &Which {
                brewers: Some(vec!["kiln".to_owned()]),
                year: Some(2026),
                most: 2,
                ..Which::default()
            },
            str::to_owned,
        );
        let days: Vec<_> = kiln.lines.iter().map(|line| line.day).collect();
        assert_eq!(days, [date(2026, 11, 2), date(2026, 1, 1)]);
        assert_eq!(kiln.more, 0);
        // A year that is chosen does not hide the others.
        assert_eq!(
            years(&kiln),
            [
                (2026, "needles once, 1 small work".to_owned()),
                (2025, "1 clean".to_owned()),
            ]
        );
        let none = Log::of(
            all(),
            &Which {
                brewers: Some(Vec::new()),
                ..Which::default()
            },
            str::to_owned,
        );
        assert!(none.lines.is_empty() && none.years.is_empty());
    }

    #[test]
    fn the_log_is_searched_by_work_and_words_and_drawn_on_one_line() {
        let of = |which: Which| {
            Log::of(all(), &Which { most: 9, ..which }, |id| {
                format!("The {id} drip")
            })
        };
        let needles = of(Which {
            work: Some(Work::Needles),
            ..Which::default()
        });
        assert!(!needles.lines.is_empty() && needles.lines.len() < all().len());
        assert!(
            needles
                .lines
                .iter()
                .all(|line| line.work() == Work::Needles)
        );
        let words = |text: &str| {
            of(Which {
                words: text.split(' ').map(str::to_owned).collect(),
                ..Which::default()
            })
        };
        let kiln = words("kiln drip").lines.len();
        assert!(kiln > 0 && kiln < all().len());
        assert_eq!(words("kiln").lines.len(), kiln);
        assert!(words("kiln nobody-says-this").lines.is_empty());
        let line = of(Which::default()).line.unwrap();
        assert_eq!(line.year, 2026);
        assert!(line.cleans.is_sorted_by_key(|clean| clean.at));
        assert!(
            line.cleans
                .iter()
                .all(|clean| (0.0..1.0).contains(&clean.at))
        );
        let chosen = of(Which {
            year: Some(2025),
            ..Which::default()
        });
        assert_eq!(chosen.line.unwrap().year, 2025);
        let first = words("kiln").line.unwrap().cleans[0].clone();
        assert!(
            first.at.abs() < 1e-9 && first.text.starts_with("1 Jan: The kiln drip, "),
            "{first:?}"
        );
    }

    #[test]
    fn of_one_day_what_ended_last_stands_first() {
        let day = date(2026, 5, 1);
        let ended = |id: &str, at: i64| GuidedClean {
            id: id.to_owned(),
            brewer_id: "kiln".to_owned(),
            circuit_id: "main".to_owned(),
            closing: Some(Event {
                id: "e".to_owned(),
                at: Timestamp::from_second(at).unwrap(),
                device_at: None,
                by: None,
                act: Act::Finished {
                    outcome: line("kiln", day, Some(Work::Descale)).outcome,
                },
            }),
        };
        let told = PastClean {
            id: "told".to_owned(),
            brewer_id: "kiln".to_owned(),
            day,
            note: String::new(),
            bathed: BTreeMap::new(),
        };
        let all = done(
            [ended("first", 100), ended("last", 300), ended("then", 200)],
            [told],
        );
        let ids = all
            .iter()
            .map(|line| line.clean_id.as_deref().unwrap_or("told"));
        assert_eq!(ids.collect::<Vec<_>>(), ["last", "then", "first", "told"]);
        assert_eq!(all[3].text, "Cleaned without Murlo", "no line is empty");
    }

    #[test]
    fn the_log_is_a_table_from_the_first_day_on() {
        let named = |id: &str| (id == "kiln").then_some(("Kiln drip", "Studio, north"));
        let mut all = all();
        all[3].text = "=vinegar, \"neat\"".to_owned();
        all[2].by = Some("Ola".to_owned());
        let table = csv(&all[2..4], named);
        let lines: Vec<_> = table.split("\r\n").collect();
        assert_eq!(
            lines,
            [
                "day (YYYY-MM-DD),home,brewer,what was done,baths,rinses,at the brewer (min),done by",
                "2025-12-31,\"Studio, north\",Kiln drip,\"'=vinegar, \"\"neat\"\"\",,,,",
                "2026-01-01,\"Studio, north\",Kiln drip,,1,0,,Ola",
                "",
            ]
        );
        // A brewer that nobody knows any more has no name.
        assert!(csv(&all[4..5], named).contains("2025-03-01,,,,1,0,,\r\n"));
    }

    #[test]
    fn a_line_says_who_did_it() {
        let mut done = line("kiln", date(2026, 5, 1), Some(Work::Descale));
        assert_eq!(done.in_short(), None);
        done.by = Some("Ola".to_owned());
        assert_eq!(done.in_short().as_deref(), Some("by Ola"));
        let took = murlo_plan::pace::Took::new(murlo_plan::Kind::Parts, 18.0, 18.0);
        done.outcome.as_mut().unwrap().took = took.into_iter().collect();
        let said = "about 18 min at the brewer, by Ola";
        assert_eq!(done.in_short().as_deref(), Some(said));
    }

    #[test]
    fn a_line_says_in_short_what_it_took() {
        let day = date(2026, 5, 1);
        for (minutes, words) in [
            (18.0, Some("about 18 min at the brewer")),
            (1.0, Some("about 1 min at the brewer")),
            (0.9, None),
        ] {
            let took = murlo_plan::pace::Took::new(murlo_plan::Kind::Parts, minutes, minutes);
            let mut done = line("kiln", day, Some(Work::Descale));
            done.outcome.as_mut().unwrap().took = took.into_iter().collect();
            assert_eq!(done.in_short().as_deref(), words, "{minutes}");
        }
        assert_eq!(line("kiln", day, None).in_short(), None);
    }
}

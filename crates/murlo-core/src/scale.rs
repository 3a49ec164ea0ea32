//! How much chalk has grown in a circuit, when it is due, and how sure that is.
//!
//! Film = plating × Σ litres × potential. Days are walked one by one because weekdays, weekends, waters and habits differ;
//! everything is in whole civil days of the household's time zone.

mod filters;
mod walk;

pub use walk::days_after;

use filters::potentials;
use walk::{Held, Logged, Walk, Within, day_of, number};

use crate::brewer::{Brewer, Circuit, Habit, Policy};
use crate::chem::film_um;
use crate::journal::{Entry, Sign, What};
use crate::lessons::{self, Lesson, Plating};
use crate::spread::P90;
use crate::text;
use crate::water::{Chemistry, Potential, class};
use crate::working::Working;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// No brewer goes longer than this without a clean, scale or not: oils and standing water.
pub const HYGIENE_DAYS: i32 = 183;
/// Spread of the logarithm of the use where it is a stated habit; a counter knows it.
pub const USE_SIGMA: f64 = 0.15;
/// Days before the due date in which a brewer is announced as due soon.
const SOON_DAYS: i32 = 14;

/// Days until the limit is reached at a steady pace, with P10 and P90; `None` is never.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pace {
    /// Median days.
    pub median: Option<f64>,
    /// Days by which one in ten has reached it.
    pub p10: Option<f64>,
    /// Days by which nine in ten have.
    pub p90: Option<f64>,
    /// Days until a clean is due: the median, or the hygiene cap before it.
    pub due: f64,
}

/// Steady pace from the closed formula.
///
/// # Example
/// ```
/// let pace = murlo_core::scale::pace(63.9, 0.705, 569.1, 0.15, 0.6);
/// assert!((pace.median.unwrap() - 84.2185).abs() < 0.001);
/// ```
#[must_use]
pub fn pace(
    potential_mg_l: f64,
    litres_per_day: f64,
    limit_mg: f64,
    plating: f64,
    sigma: f64,
) -> Pace {
    let cap = f64::from(HYGIENE_DAYS);
    let daily = plating * potential_mg_l * litres_per_day;
    if daily <= 0.0 {
        return Pace {
            median: None,
            p10: None,
            p90: None,
            due: cap,
        };
    }
    let median = limit_mg / daily;
    Pace {
        median: Some(median),
        p10: Some(median * (-P90 * sigma).exp()),
        p90: Some(median * (P90 * sigma).exp()),
        due: median.min(cap),
    }
}

/// When a circuit was last known, and how much chalk was left in it then.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Baseline {
    /// The day.
    pub day: Date,
    /// Chalk left, mg.
    pub left_mg: f64,
}

/// Chalk in a circuit today.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Chalk {
    /// Median, mg.
    pub mg: f64,
    /// P10, mg.
    pub low_mg: f64,
    /// P90, mg.
    pub high_mg: f64,
    /// Median thickness, µm.
    pub um: f64,
    /// Share of the budget used: 1 is the limit.
    pub used: f64,
    /// P10 of that share.
    pub used_low: f64,
    /// P90 of that share.
    pub used_high: f64,
    /// "about 0.42 g, between 0.21 and 0.85 g".
    pub text: String,
}

/// How urgent a circuit is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Urgency {
    /// Past due for two weeks or more.
    Overdue,
    /// The due date has come.
    Due,
    /// Due within two weeks.
    Soon,
    /// Nothing to do.
    Fresh,
}

/// What sets the due date.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DueBy {
    /// Chalk reaches its limit.
    Chalk,
    /// The brewer's light asked for it.
    Light,
    /// The chosen number of days has passed.
    Days,
    /// The chosen number of brews has been made.
    Brews,
    /// Half a year has passed.
    Hygiene,
}

/// When a circuit is due, with its window.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Due {
    /// The day.
    pub date: Date,
    /// One in ten circuits like this would need it by this day.
    pub earliest: Date,
    /// Nine in ten would, or the hygiene cap.
    pub latest: Date,
    /// Days from today; negative when past.
    pub days: i32,
    /// What sets it.
    pub by: DueBy,
    /// How urgent it is.
    pub urgency: Urgency,
    /// "about 12 Dec, between 3 and 24 Dec".
    pub text: String,
}

/// One circuit's estimate: chalk today, due date, the reason, and the working.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Forecast {
    /// Chalk today.
    pub chalk: Chalk,
    /// When due.
    pub due: Due,
    /// "68 L of very hard water since 2 Sep".
    pub reason: String,
    /// Litres since the baseline.
    pub litres: f64,
    /// Litres × potential since the baseline, mg.
    pub potential_mg: f64,
    /// Chalk left at the baseline, mg.
    pub began_with_mg: f64,
    /// What was learned so far, in one sentence.
    pub learned: String,
    /// Each observation with what it changed.
    pub lessons: Vec<Lesson>,
    /// Formula, inputs, source.
    pub working: Vec<Working>,
}

/// Chalk on one day.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Point {
    /// The day.
    pub day: Date,
    /// Median, mg.
    pub mg: f64,
    /// P10, mg.
    pub low_mg: f64,
    /// P90, mg.
    pub high_mg: f64,
}

/// The past and habits of one circuit, ready to be walked.
pub struct Growth<'a> {
    circuit: &'a Circuit,
    plating: Plating,
    lessons: Vec<Lesson>,
    habits: Vec<(i32, Habit)>,
    potentials: Vec<(i32, Potential)>,
    logged: Logged,
    baseline: Baseline,
    policy: Policy,
    light: Option<i32>,
    hardness: f64,
    known_from: &'static str,
    filter_note: Option<String>,
}

/// Everything growth is computed from.
#[derive(Clone, Copy)]
pub struct Known<'a, 'w> {
    /// The brewer.
    pub brewer: &'w Brewer,
    /// Its circuit.
    pub circuit: &'a Circuit,
    /// The brewer's waters, in its order.
    pub waters: &'w [Chemistry],
    /// The last clean that counts.
    pub baseline: Baseline,
    /// The brewer's entries: all lasting ones, and the others since the baseline.
    pub entries: &'w [Entry],
    /// The household's day.
    pub today: Date,
}

impl<'a> Growth<'a> {
    /// The growth of a circuit since its baseline.
    #[must_use]
    pub fn new(known: Known<'a, '_>) -> Self {
        let Known {
            brewer,
            circuit,
            waters,
            baseline,
            entries,
            today,
        } = known;
        let heat = circuit.heat();
        let now = waters.last().expect("a brewer always has a water");
        let (plating, lessons) = lessons::plating(brewer, circuit, entries, today);
        let light = entries
            .iter()
            .filter(|e| {
                matches!(&e.what, What::Sign { sign: Sign::Light, circuit_id, .. } if *circuit_id == circuit.id)
            })
            .map(|e| number(e.day))
            .filter(|day| *day >= number(baseline.day))
            .min();
        Self {
            circuit,
            plating,
            lessons,
            habits: brewer
                .habits
                .iter()
                .map(|h| (number(h.from), h.value))
                .collect(),
            potentials: potentials(&known, &heat),
            logged: Logged::of(entries),
            baseline,
            policy: brewer.policy,
            light,
            hardness: now.hardness,
            known_from: now.known_from(),
            filter_note: brewer
                .filter
                .filter(|f| f.takes_out > 0.0)
                .map(|f| f.effect_text()),
        }
    }

    fn walk(&self) -> Walk<'_> {
        Walk {
            habits: Held { rest: &self.habits },
            potentials: Held {
                rest: &self.potentials,
            },
            counted: Within {
                rest: &self.logged.counted,
            },
            cups: Within {
                rest: &self.logged.cups,
            },
            away: Within {
                rest: &self.logged.away,
            },
            share: self.circuit.share,
        }
    }

    /// Spread of the logarithm of the mass: plating factor and water together.
    fn sigma(&self) -> f64 {
        let water = self
            .potentials
            .last()
            .expect("a brewer always has a water")
            .1
            .sigma;
        self.plating.sigma.hypot(water)
    }

    /// Factors of P10, median and P90.
    fn band(&self) -> [f64; 3] {
        let sigma = self.sigma();
        [(-P90 * sigma).exp(), 1.0, (P90 * sigma).exp()]
    }

    /// Litres × potential from the baseline to the morning of `day`, mg.
    #[must_use]
    pub fn potential_until(&self, day: Date) -> f64 {
        let mut walk = self.walk();
        (number(self.baseline.day)..number(day))
            .map(|d| walk.on(d).potential_mg)
            .sum()
    }

    /// Chalk from the baseline to `to`, one point every `every` days and one at the end.
    #[must_use]
    pub fn course(&self, to: Date, every: i32) -> Vec<Point> {
        let (start, end) = (number(self.baseline.day), number(to));
        let (mut walk, [low, _, high]) = (self.walk(), self.band());
        let (mut grown, mut points) = (0.0, Vec::new());
        for day in start..=end {
            if (day - start) % every == 0 || day == end {
                let at = |factor: f64| self.baseline.left_mg + grown * factor;
                points.push(Point {
                    day: day_of(day),
                    mg: at(1.0),
                    low_mg: at(low),
                    high_mg: at(high),
                });
            }
            grown += self.plating.factor * walk.on(day).potential_mg;
        }
        points
    }

    /// The estimate for `today`, with its lessons and its working.
    #[must_use]
    pub fn forecast(&self, today: Date, units: crate::units::Units) -> Forecast {
        let brief = self.in_brief(today, units);
        Forecast {
            working: self.working(&brief.chalk, &brief.due, brief.potential_mg),
            lessons: self.lessons.clone(),
            ..brief
        }
    }

    /// The same without lessons and working, for a list of many.
    #[must_use]
    pub fn in_brief(&self, today: Date, units: crate::units::Units) -> Forecast {
        let (start, now) = (number(self.baseline.day), number(today));
        let limit = self.circuit.limit_mg();
        let [low, _, high] = self.band();
        let mut walk = self.walk();
        let (mut litres, mut potential) = (0.0, 0.0);
        // The day of the clean counts in full and today not yet: when in the day somebody brews is unknown.
        for day in start..now {
            let daily = walk.on(day);
            litres += daily.litres;
            potential += daily.potential_mg;
        }
        // Past the cap no crossing matters, so the walk ends there or today, whichever is later.
        let last = start + HYGIENE_DAYS;
        let crossing =
            |share: f64| (limit - self.baseline.left_mg).max(0.0) / (self.plating.factor * share);
        let reached = self.reached(start, last, [high, 1.0, low].map(crossing));

        let mut others = vec![(last, DueBy::Hygiene)];
        others.extend(
            self.light
                .map(|day| (day, DueBy::Light))
                .filter(|_| self.policy.light),
        );
        others.extend(
            self.policy
                .days
                .map(|days| (start + days as i32, DueBy::Days)),
        );
        others.extend(reached.brews.map(|day| (day, DueBy::Brews)));
        let other = others
            .iter()
            .copied()
            .min_by_key(|(day, _)| *day)
            .unwrap_or((last, DueBy::Hygiene));
        let chalk_days = if self.policy.chalk {
            reached.chalk
        } else {
            [None; 3]
        };
        let capped = |day: Option<i32>| day.map_or(other.0, |d| d.min(other.0));
        let [earliest, due, latest] = chalk_days.map(capped);
        let by = if chalk_days[1].is_some_and(|d| d < other.0) {
            DueBy::Chalk
        } else {
            other.1
        };

        let grown = self.plating.factor * potential;
        let left = self.baseline.left_mg;
        let at = |factor: f64| left + grown * factor;
        let chalk = self.chalk(at(1.0), at(low), at(high), limit);
        let due = due_on([earliest, due, latest].map(day_of), due - now, by, today);
        Forecast {
            reason: self.reason(litres, today, units, by),
            working: Vec::new(),
            learned: lessons::learned(self.circuit, self.plating, &self.lessons),
            lessons: Vec::new(),
            chalk,
            due,
            litres,
            potential_mg: potential,
            began_with_mg: left,
        }
    }

    /// The first days on which the potential since `start` passes each target, and the brews their number; no further than `last`.
    fn reached(&self, start: i32, last: i32, targets: [f64; 3]) -> Reached {
        let mut walk = self.walk();
        let mut found = Reached {
            chalk: [None; 3],
            brews: None,
        };
        let brews = self.policy.brews.map_or(f64::INFINITY, f64::from);
        let (mut next, mut sum, mut cups) = (0, 0.0, 0.0);
        for day in start..=last {
            while next < 3 && sum >= targets[next] {
                found.chalk[next] = Some(day);
                next += 1;
            }
            if found.brews.is_none() && cups >= brews {
                found.brews = Some(day);
            }
            if next == 3 && (found.brews.is_some() || brews.is_infinite()) {
                break;
            }
            let daily = walk.on(day);
            sum += daily.potential_mg;
            cups += daily.cups;
        }
        found
    }

    fn chalk(&self, mg: f64, low_mg: f64, high_mg: f64, limit: f64) -> Chalk {
        Chalk {
            mg,
            low_mg,
            high_mg,
            um: film_um(mg, self.circuit.area_cm2),
            used: mg / limit,
            used_low: low_mg / limit,
            used_high: high_mg / limit,
            text: if high_mg < 5.0 {
                "none to speak of".to_owned()
            } else {
                format!(
                    "about {:.2} g, between {:.2} and {:.2} g",
                    mg / 1000.0,
                    low_mg / 1000.0,
                    high_mg / 1000.0
                )
            },
        }
    }

    fn reason(&self, litres: f64, today: Date, units: crate::units::Units, by: DueBy) -> String {
        let since = text::day(self.baseline.day, today);
        let brewed = format!(
            "{} of {} water since {since}",
            units.use_volume(litres),
            class(self.hardness)
        );
        match by {
            DueBy::Chalk => brewed,
            DueBy::Light => {
                let day = self.light.map_or(today, day_of);
                format!("its light came on {}; {brewed}", text::day(day, today))
            }
            DueBy::Days => {
                let days = self.policy.days.unwrap_or_default();
                format!(
                    "{brewed}; you clean every {}",
                    text::count(days, "day", "days")
                )
            }
            DueBy::Brews => {
                let brews = self.policy.brews.unwrap_or_default();
                format!(
                    "{brewed}; you clean every {}",
                    text::count(brews, "brew", "brews")
                )
            }
            DueBy::Hygiene => format!("{brewed}; half a year is the limit whatever the water"),
        }
    }

    fn working(&self, chalk: &Chalk, due: &Due, potential: f64) -> Vec<Working> {
        let heat = self.circuit.heat();
        let sigma = self.sigma();
        let p = self
            .potentials
            .last()
            .expect("a brewer always has a water")
            .1;
        vec![
            Working::new(
                "scale potential of the water",
                "CaCO3 that a litre can leave at heater temperature",
                &[
                    (
                        "hardness",
                        format!("{:.0} mg/L, {}", self.hardness, self.known_from),
                    ),
                    (
                        "filter",
                        self.filter_note
                            .clone()
                            .unwrap_or_else(|| "takes no hardness out".to_owned()),
                    ),
                    (
                        "heater",
                        format!(
                            "{} °C, {:.0} % of the CO2 stays",
                            heat.temp_c,
                            100.0 * heat.co2_retained
                        ),
                    ),
                ],
                format!("{:.0} mg/L", p.mg_l),
                crate::chem::carbonate::SOURCE,
            ),
            Working::new(
                "chalk now",
                "left over + plating × Σ litres × potential",
                &[
                    (
                        "left over from the last clean",
                        format!("{:.0} mg", self.baseline.left_mg),
                    ),
                    ("plating", format!("{:.3}", self.plating.factor)),
                    ("Σ litres × potential", format!("{potential:.0} mg")),
                    ("spread of the logarithm", format!("{sigma:.2}")),
                ],
                chalk.text.clone(),
                "plating calibrated to common intervals, then learned from this brewer",
            ),
            Working::new(
                "due date",
                "the earliest of the days this brewer goes by, at most 183 days after the last clean",
                &[
                    ("goes by", self.policy.words()),
                    (
                        "limit of chalk",
                        format!(
                            "{:.0} mg, {:.0} µm on {:.0} cm²",
                            self.circuit.limit_mg(),
                            self.circuit.limit_um,
                            self.circuit.area_cm2
                        ),
                    ),
                    (
                        "use",
                        format!(
                            "{:.2} L a day",
                            self.habits
                                .last()
                                .expect("a brewer always has a habit")
                                .1
                                .mean_litres()
                        ),
                    ),
                ],
                due.text.clone(),
                "log-normal window, P10 to P90",
            ),
        ]
    }
}

struct Reached {
    chalk: [Option<i32>; 3],
    brews: Option<i32>,
}

fn due_on([earliest, date, latest]: [Date; 3], days: i32, by: DueBy, today: Date) -> Due {
    let urgency = match days {
        d if d <= -SOON_DAYS => Urgency::Overdue,
        d if d <= 0 => Urgency::Due,
        d if d <= SOON_DAYS => Urgency::Soon,
        _ => Urgency::Fresh,
    };
    let day = |d| text::day(d, today);
    let text = if earliest == latest {
        day(date)
    } else {
        format!(
            "about {}, between {} and {}",
            day(date),
            day(earliest),
            day(latest)
        )
    };
    Due {
        date,
        earliest,
        latest,
        days,
        by,
        urgency,
        text,
    }
}

#[cfg(test)]
mod tests;

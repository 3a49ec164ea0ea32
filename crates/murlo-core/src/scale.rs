//! How much chalk has grown in a circuit, when it is due, and how sure that is.
//!
//! Film = plating × Σ litres × potential. Days are walked one by one because weekdays, weekends, waters and habits differ;
//! everything is in whole civil days of the household's time zone.

use crate::brewer::{Brewer, Circuit, Habit, Since};
use crate::chem::film_um;
use crate::spread::P90;
use crate::text;
use crate::water::{Chemistry, Potential, class};
use crate::working::Working;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// No brewer goes longer than this without a clean, scale or not: oils and standing water.
pub const HYGIENE_DAYS: i32 = 183;
/// Days before the due date in which a brewer is announced as due soon.
const SOON_DAYS: i32 = 14;
/// Spread of the plating factor never falls below this, however much was seen.
const LEAST_SIGMA: f64 = 0.20;

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

/// Plating factor and its spread after symptoms began once `potential_mg` had passed: Bayes on the logarithm.
///
/// # Example
/// ```
/// let (phi, sigma) = murlo_core::scale::learn(0.15, 0.5, 569.1, 2500.0, 0.4);
/// assert!((phi - 0.193443).abs() < 1e-6 && (sigma - 0.312348).abs() < 1e-6);
/// ```
#[must_use]
pub fn learn(
    plating: f64,
    sigma: f64,
    limit_mg: f64,
    potential_mg: f64,
    sigma_observation: f64,
) -> (f64, f64) {
    let observed = (limit_mg / potential_mg).ln();
    let (w0, w1) = (sigma.powi(-2), sigma_observation.powi(-2));
    let log = (w0 * plating.ln() + w1 * observed) / (w0 + w1);
    (log.exp(), (w0 + w1).sqrt().recip().max(LEAST_SIGMA))
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
    /// Formula, inputs, source.
    pub working: Vec<Working>,
}

/// A day as a number, for arithmetic without a calendar.
fn number(date: Date) -> i32 {
    const EPOCH: Date = jiff::civil::date(1970, 1, 1);
    EPOCH.until(date).map_or(0, |span| span.get_days())
}

/// The day with that number, kept within the calendar.
fn day_of(number: i32) -> Date {
    const EPOCH: Date = jiff::civil::date(1970, 1, 1);
    EPOCH.saturating_add(jiff::Span::new().days(number))
}

/// `days` after `date`.
#[must_use]
pub fn days_after(date: Date, days: i32) -> Date {
    date.saturating_add(jiff::Span::new().days(days))
}

/// 1 January 1970 was a Thursday.
const fn is_weekend(number: i32) -> bool {
    matches!((number + 3).rem_euclid(7), 5 | 6)
}

/// What holds on a day, walking a history forwards.
struct Held<'a, T> {
    rest: &'a [(i32, T)],
}

impl<'a, T> Held<'a, T> {
    fn on(&mut self, day: i32) -> &'a T {
        while self.rest.len() > 1 && self.rest[1].0 <= day {
            self.rest = &self.rest[1..];
        }
        &self.rest[0].1
    }
}

/// The past and habits of one circuit, ready to be walked.
pub struct Growth<'a> {
    circuit: &'a Circuit,
    habits: Vec<(i32, Habit)>,
    potentials: Vec<(i32, Potential)>,
    baseline: Baseline,
    hardness: f64,
    known_from: &'static str,
}

impl<'a> Growth<'a> {
    /// The growth of `circuit` of `brewer` since `baseline`; `waters` are the brewer's, in its order.
    #[must_use]
    pub fn new(
        brewer: &'a Brewer,
        circuit: &'a Circuit,
        waters: &[Chemistry],
        baseline: Baseline,
    ) -> Self {
        let heat = circuit.heater.defaults().heat;
        let dated =
            |history: &[Since<String>]| history.iter().map(|s| number(s.from)).collect::<Vec<_>>();
        let now = waters.last().expect("a brewer always has a water");
        Self {
            circuit,
            habits: brewer
                .habits
                .iter()
                .map(|h| (number(h.from), h.value))
                .collect(),
            potentials: dated(&brewer.waters)
                .into_iter()
                .zip(waters)
                .map(|(d, w)| (d, w.potential(&heat)))
                .collect(),
            baseline,
            hardness: now.hardness,
            known_from: now.known_from(),
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
        self.circuit.plating_sigma.hypot(water)
    }

    /// Chalk, due date and reason on `today`.
    #[must_use]
    pub fn forecast(&self, today: Date, units: crate::units::Units) -> Forecast {
        let (start, now) = (number(self.baseline.day), number(today));
        let limit = self.circuit.limit_mg();
        let sigma = self.sigma();
        let mut habits = Held { rest: &self.habits };
        let mut potentials = Held {
            rest: &self.potentials,
        };
        let mut daily = |day: i32| {
            let litres = habits.on(day).litres(is_weekend(day));
            (litres, litres * potentials.on(day).mg_l)
        };

        let (mut litres, mut potential) = (0.0, 0.0);
        // The day of the clean counts in full and today not yet: when in the day somebody brews is unknown.
        for day in start..now {
            let (l, p) = daily(day);
            litres += l;
            potential += p;
        }
        let (spent_today, last) = (potential, start + HYGIENE_DAYS);
        // Past the cap no crossing matters, so the walk ends there or today, whichever is later.
        let crossing =
            |share: f64| (limit - self.baseline.left_mg).max(0.0) / (self.circuit.plating * share);
        let targets = [
            crossing((P90 * sigma).exp()),
            crossing(1.0),
            crossing((-P90 * sigma).exp()),
        ];
        let days = self.crossings(start, last, targets);
        let capped = |day: Option<i32>| day.unwrap_or(last).min(last);
        let (earliest, due, latest) = (capped(days[0]), capped(days[1]), capped(days[2]));
        let by = if days[1].is_some_and(|d| d < last) {
            DueBy::Chalk
        } else {
            DueBy::Hygiene
        };

        let grown = self.circuit.plating * spent_today;
        let left = self.baseline.left_mg;
        let at = |factor: f64| left + grown * factor;
        let chalk = self.chalk(
            at(1.0),
            at((-P90 * sigma).exp()),
            at((P90 * sigma).exp()),
            limit,
        );
        let due = due_on([earliest, due, latest].map(day_of), due - now, by, today);
        Forecast {
            reason: self.reason(litres, today, units, by),
            working: self.working(&chalk, &due, spent_today, sigma),
            chalk,
            due,
            litres,
        }
    }

    /// The first days on which the potential since `start` passes each target, looking no further than `last`.
    fn crossings(&self, start: i32, last: i32, targets: [f64; 3]) -> [Option<i32>; 3] {
        let mut habits = Held { rest: &self.habits };
        let mut potentials = Held {
            rest: &self.potentials,
        };
        let (mut found, mut next, mut sum) = ([None; 3], 0, 0.0);
        for day in start..=last {
            while next < 3 && sum >= targets[next] {
                found[next] = Some(day);
                next += 1;
            }
            if next == 3 {
                break;
            }
            sum += habits.on(day).litres(is_weekend(day)) * potentials.on(day).mg_l;
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
            DueBy::Hygiene => format!("{brewed}; half a year is the limit whatever the water"),
        }
    }

    fn working(&self, chalk: &Chalk, due: &Due, potential: f64, sigma: f64) -> Vec<Working> {
        let heat = self.circuit.heater.defaults().heat;
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
                    ("plating", format!("{:.3}", self.circuit.plating)),
                    ("Σ litres × potential", format!("{potential:.0} mg")),
                    ("spread of the logarithm", format!("{sigma:.2}")),
                ],
                chalk.text.clone(),
                "plating calibrated to common intervals, then learned from this brewer",
            ),
            Working::new(
                "due date",
                "first day on which chalk reaches its limit, at most 183 days after the last clean",
                &[
                    (
                        "limit",
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
mod tests {
    use super::*;
    use crate::brewer::{BrewerDraft, Family};
    use crate::units::{HardnessUnit, Units};
    use crate::water::Reading;
    use jiff::civil::date;
    use proptest::prelude::*;

    const START: Date = date(2026, 6, 1);

    fn forecast(family: Family, hardness: f64, weekday: f64, weekend: f64, after: i32) -> Forecast {
        let draft = BrewerDraft {
            nickname: "b".into(),
            weekday_cups: weekday,
            weekend_cups: weekend,
            cup: "235 mL".into(),
            ..BrewerDraft::template(family, Units::Us, "h", "w", START)
        };
        let brewer = draft.check("b".into(), None, START).unwrap();
        let water = Chemistry::of(&Reading::Strip {
            value: hardness,
            unit: HardnessUnit::MgPerL,
        })
        .unwrap();
        Growth::new(
            &brewer,
            &brewer.circuits[0],
            &[water],
            Baseline {
                day: START,
                left_mg: 0.0,
            },
        )
        .forecast(days_after(START, after), Units::Metric)
    }

    #[test]
    fn walking_days_agrees_with_the_published_intervals() {
        // Median days and P10–P90 of the closed formula for steady use; a whole day is the walk's grain.
        for (family, hardness, cups, median, p10, p90) in [
            (Family::PodReservoir, 150.0, 2.0, 146, 67, 183),
            (Family::PodReservoir, 250.0, 3.0, 48, 23, 100),
            (Family::Drip, 350.0, 3.0, 33, 16, 70),
            (Family::Drip, 180.0, 3.0, 75, 35, 158),
        ] {
            let due = forecast(family, hardness, cups, cups, 0).due;
            assert!(
                (due.days - median).abs() <= 1,
                "{family:?} {hardness}: {}",
                due.days
            );
            assert!(
                (number(due.earliest) - number(START) - p10).abs() <= 2,
                "{family:?} {hardness}"
            );
            assert!(
                (number(due.latest) - number(START) - p90).abs() <= 2,
                "{family:?} {hardness}"
            );
            assert_eq!(due.by, DueBy::Chalk);
        }
    }

    #[test]
    fn soft_water_is_due_by_the_hygiene_cap_and_says_so() {
        let forecast = forecast(Family::PodReservoir, 20.0, 2.0, 2.0, 10);
        assert_eq!((forecast.due.days, forecast.due.by), (173, DueBy::Hygiene));
        assert!(
            forecast.reason.contains("half a year"),
            "{}",
            forecast.reason
        );
        assert_eq!(forecast.chalk.text, "none to speak of");
    }

    #[test]
    fn weekends_are_counted_as_weekends() {
        // 1 June 2026 is a Monday: five days of one cup, two of ten.
        let week = forecast(Family::Drip, 100.0, 1.0, 10.0, 7);
        assert!((week.litres - 25.0 * 0.235).abs() < 1e-9);
        assert_eq!(week.reason, "5.9 L of moderately hard water since 1 Jun");
    }

    #[test]
    fn urgency_follows_the_due_date() {
        for (after, urgency) in [
            (0, Urgency::Fresh),
            (40, Urgency::Soon),
            (48, Urgency::Due),
            (70, Urgency::Overdue),
        ] {
            assert_eq!(
                forecast(Family::PodReservoir, 250.0, 3.0, 3.0, after)
                    .due
                    .urgency,
                urgency,
                "after {after} days"
            );
        }
    }

    proptest! {
        #[test]
        fn more_litres_or_harder_water_never_give_a_later_date(
            hardness in 5.0..400.0f64, more in 0.0..200.0f64, cups in 0.0..12.0f64, extra in 0.0..8.0f64, after in 0..150,
        ) {
            let base = forecast(Family::PodReservoir, hardness, cups, cups, after);
            let harder = forecast(Family::PodReservoir, hardness + more, cups, cups, after);
            let busier = forecast(Family::PodReservoir, hardness, cups + extra, cups, after);
            prop_assert!(harder.due.date <= base.due.date);
            prop_assert!(busier.due.date <= base.due.date);
            prop_assert!(base.due.earliest <= base.due.date && base.due.date <= base.due.latest);
        }

        #[test]
        fn an_update_moves_towards_what_was_seen_and_never_past_it(
            phi in 0.01..0.9f64, sigma in 0.2..1.5f64, potential in 100.0..20_000.0f64, noise in 0.1..1.0f64,
        ) {
            let (after, spread) = learn(phi, sigma, 569.1, potential, noise);
            let seen = 569.1 / potential;
            prop_assert!(after >= phi.min(seen) * 0.999_999 && after <= phi.max(seen) * 1.000_001);
            prop_assert!((0.2..=sigma.max(0.2)).contains(&spread));
        }
    }
}

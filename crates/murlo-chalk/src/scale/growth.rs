//! Growth of chalk in one circuit, walked from the facts: how much now, and when it is due.

use crate::belief::{Belief, Prior, Witnessing};
use crate::scale::cleaned::Cleaned;
use crate::scale::evidence::{self, Dated, events, prior, with_potential};
use crate::scale::filters::{self, potentials};
use crate::scale::forecast::{
    Chalk, Due, DueBy, Forecast, HYGIENE_DAYS, Point, Sharpen, ToldIn, Urgency,
};
use crate::scale::known::Known;
use crate::scale::odds::due_already;
use crate::scale::passed::{Passed, PassedSum, Sources};
use crate::scale::walk::{Logged, day_of, number};
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::journal::{Entry, Sign, What};
use murlo_brewer::water::{Chemistry, Potential, class};
use murlo_brewer::{Brewer, Circuit, Habit, LastClean};
use murlo_chemistry::spread::P90;
use std::borrow::Cow;

/// Days until the limit is reached at a steady pace, with P10 and P90; `None` is never.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SteadyPace {
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
/// let pace = murlo_chalk::scale::pace(63.9, 0.705, 569.1, 0.15, 0.6);
/// assert!((pace.median.unwrap() - 84.2185).abs() < 0.001);
/// ```
#[must_use]
pub fn pace(
    potential_mg_l: f64,
    litres_per_day: f64,
    limit_mg: f64,
    plating: f64,
    sigma: f64,
) -> SteadyPace {
    let cap = f64::from(HYGIENE_DAYS);
    let daily = plating * potential_mg_l * litres_per_day;
    if daily <= 0.0 {
        return SteadyPace {
            median: None,
            p10: None,
            p90: None,
            due: cap,
        };
    }
    let median = limit_mg / daily;
    SteadyPace {
        median: Some(median),
        p10: Some(median * (-P90 * sigma).exp()),
        p90: Some(median * (P90 * sigma).exp()),
        due: median.min(cap),
    }
}

/// The past and habits of one circuit, with what they make believe.
pub struct Growth<'a> {
    pub(crate) brewer: &'a Brewer,
    pub(crate) circuit: &'a Circuit,
    pub(crate) prior: Prior,
    pub(crate) entries: &'a [Entry],
    pub(super) seen: Vec<Dated<'a>>,
    pub(crate) events: Vec<Witnessing>,
    pub(crate) cleans: &'a [Cleaned],
    pub(crate) belief: Belief,
    pub(super) passed: Passed,
    /// The day of the last clean, or the first day.
    pub(super) since: i32,
    /// Days before that in which chalk had grown, while no clean is known.
    pub(super) before_days: i32,
    pub(crate) start: i32,
    pub(crate) today: i32,
    light: Option<i32>,
    pub(crate) habit: Habit,
    /// The water as it reaches the heater today.
    pub(crate) water: Chemistry,
    pub(crate) potential: Potential,
    pub(crate) filter_note: Option<String>,
}

/// Days ahead for which waters and filters are walked; beyond, the last year goes on.
const AHEAD_DAYS: i32 = 1100;

/// What takes longer than this does not come.
const NEVER_DAYS: f64 = 3652.0;

/// Days later than this are not foretold.
const FORESEEN_DAYS: i32 = 730;

/// A counter that was read so lately tells the use.
const COUNTED_DAYS: i32 = 90;

/// What is believed of it after `events`, `since_mg` of potential ago; asked of the recall where there is one.
fn believe(known: &Known, prior: Prior, events: &[Witnessing], since_mg: f64) -> Belief {
    match known.recall {
        Some(recall) => recall.believe(prior, events, since_mg),
        None => Belief::from(prior, events, since_mg),
    }
}

impl<'a> Growth<'a> {
    /// The growth of a circuit since it is known.
    #[must_use]
    pub fn new(known: Known<'a>) -> Self {
        let Known {
            brewer,
            circuit,
            cleans,
            entries,
            ..
        } = known;
        let (start, today) = (number(known.start.day), number(known.today));
        let end = today.max(start) + AHEAD_DAYS;
        let potentials = potentials(&known, &circuit.heat(), end);
        let logged = known
            .logged
            .map_or_else(|| Cow::Owned(Logged::of(entries)), Cow::Borrowed);
        let habits: Vec<_> = brewer
            .habits
            .iter()
            .map(|h| (number(h.from), h.value))
            .collect();
        let passed = Passed::new(
            &Sources {
                habits: &habits,
                potentials: &potentials,
                logged: &logged,
                share: circuit.share,
            },
            start,
            end,
        );
        let prior = prior(
            &known,
            &potentials,
            logged.counts_since(today - COUNTED_DAYS),
        );
        let seen = events(&known, &potentials);
        let until = |day| passed.until(day).potential_mg;
        let events = with_potential(&seen, start, until);
        let last = seen.last().map_or(start, |event| event.day);
        let since_mg = until(today) - until(last.max(start));
        let belief = believe(&known, prior, &events, since_mg);
        let cleaned = |event: &&Dated| match event.source {
            evidence::Source::Clean(i) => !cleans[i].given_up,
            evidence::Source::Entry(_) | evidence::Source::Water => false,
        };
        let since = seen.iter().rfind(cleaned).map_or(start, |event| event.day);
        let lit = entries.iter().filter(|e| {
            matches!(&e.what, What::Sign { sign: Sign::Light, circuit_id, .. } if *circuit_id == circuit.id)
        });
        Self {
            brewer,
            circuit,
            prior,
            entries,
            light: lit.map(|e| number(e.day)).filter(|day| *day >= since).min(),
            seen,
            events,
            cleans,
            belief,
            passed,
            before_days: if since == start && cleans.is_empty() {
                known.start.before_days
            } else {
                0
            },
            since,
            start,
            today,
            habit: brewer.habit(),
            water: filters::on(&known, today),
            potential: evidence::on(&potentials, today),
            filter_note: brewer
                .filter
                .filter(|f| f.takes_out > 0.0)
                .map(|f| f.effect_text()),
        }
    }

    /// The same circuit straight after a clean today that leaves nothing: how long it then takes.
    #[must_use]
    pub fn anew(self) -> Self {
        Self {
            belief: self.belief.anew(),
            since: self.today,
            before_days: 0,
            light: None,
            ..self
        }
    }

    /// What is believed of it today.
    #[must_use]
    pub const fn belief(&self) -> &Belief {
        &self.belief
    }

    /// The day on which `to_go_mg` more has passed than on the morning of `from`; no earlier than `since`, and `None` when
    /// that does not come.
    pub(super) fn day_of_mg(&self, from: i32, since: i32, to_go_mg: f64) -> Option<i32> {
        let target = self.passed.until(from).potential_mg + to_go_mg;
        if target <= self.passed.until(since).potential_mg {
            return Some(since);
        }
        if let Some(day) = self.passed.day_of(target, |s| s.potential_mg) {
            return Some(day.max(since));
        }
        let end = self.today.max(self.start) + AHEAD_DAYS;
        let daily = self.passed.lately_mg();
        let rest = (target - self.passed.until(end).potential_mg) / daily;
        let days = f64::from(end - self.today) + rest;
        (daily > 0.0 && days < NEVER_DAYS).then(|| self.today + days as i32)
    }

    /// The days on which chalk reaches its limit: P10, median, P90.
    fn chalk_days(&self, belief: &Belief) -> [Option<i32>; 3] {
        let to_go = belief.to_go_mg();
        [to_go.p10, to_go.median, to_go.p90].map(|mg| self.day_of_mg(self.today, self.since, mg))
    }

    /// When chalk was due as `belief` had it on the morning of `day`; none later than the hygiene cap matters.
    pub(crate) fn due_from(&self, belief: &Belief, day: i32) -> Option<i32> {
        self.day_of_mg(day, self.start, belief.to_go_mg().median)
    }

    /// Chalk from clean to clean over the days from `from` on, the last until today, then ahead to `to`; a point every `every`
    /// days and one at each end.
    #[must_use]
    pub fn course(&self, from: Date, to: Date, every: i32) -> (Vec<Vec<Point>>, Vec<Point>) {
        let mut cycles: Vec<(i32, Belief)> = Vec::new();
        let cleaned = |dated: &&Dated| matches!(dated.source, evidence::Source::Clean(_));
        let mut days = self.seen.iter().filter(cleaned).map(|dated| dated.day);
        let _ = Belief::watched(self.prior, &self.events, 0.0, |before| {
            cycles.extend(days.next().map(|day| (day, before.clone())));
        });
        cycles.push((self.today, self.belief.clone()));
        let (mut begins, mut spans) = (self.start, Vec::new());
        for (ends, belief) in &cycles {
            if *ends >= number(from) {
                spans.push(self.points(belief, *ends, (begins, *ends), every));
            }
            begins = *ends;
        }
        let fan = self.points(&self.belief, self.today, (self.today, number(to)), every);
        (spans, fan)
    }

    /// Chalk over some days, as believed on the day `known`.
    fn points(
        &self,
        belief: &Belief,
        known: i32,
        (from, to): (i32, i32),
        every: i32,
    ) -> Vec<Point> {
        let until = |day| self.passed.until(day).potential_mg;
        let limit = self.circuit.limit_mg();
        let days = (from..=to).filter(|day| (day - from) % every == 0 || *day == to);
        days.map(|day| {
            let used = belief.used_after(until(day) - until(known));
            Point {
                day: day_of(day),
                mg: limit * used.median.max(0.0),
                low_mg: limit * used.p10.max(0.0),
                high_mg: limit * used.p90.max(0.0),
            }
        })
        .collect()
    }

    /// The estimate for the day so many days ahead, when nothing is seen until then.
    #[must_use]
    pub fn forecast_in(mut self, days: i32, units: murlo_base::units::Units) -> Forecast {
        let then = self.today + days;
        let until = |day| self.passed.until(day).potential_mg;
        let grown = until(then) - until(self.today);
        self.belief = self.belief.later(grown);
        self.today = then;
        self.in_brief(units)
    }

    /// The same without lessons and working, for a list of many.
    #[must_use]
    pub fn in_brief(&self, units: murlo_base::units::Units) -> Forecast {
        let now = self.passed.until(self.today);
        let then = self.passed.until(self.since);
        let litres = now.litres - then.litres;
        let (used, growth) = (self.belief.used(), self.belief.growth());
        let limit = self.circuit.limit_mg();
        let chalk = Chalk::of(
            [used.p10, used.median, used.p90].map(|u| u * limit),
            self.circuit,
        );
        let chalk_days = self.chalk_days(&self.belief);
        let (day, by) = self.earliest(chalk_days[1]);
        let due = self.due(day, by, chalk_days);
        Forecast {
            reason: self.reason(litres, units, by),
            working: Vec::new(),
            learned: String::new(),
            // Before a clean that is due it can still be seen.
            sharpen: (due.days <= 0).then(|| self.sharpen()).flatten(),
            light: None,
            look: match by {
                DueBy::Chalk => self.worth_a_look(day),
                DueBy::Light | DueBy::Days | DueBy::Brews | DueBy::Hygiene => None,
            },
            lessons: Vec::new(),
            used_a_day: self.used_a_day(growth),
            growth,
            chalk,
            due,
            litres,
            potential_mg: now.potential_mg - then.potential_mg,
            is_past_open: self.is_past_open(),
        }
    }

    /// Share of the limit that a day adds, over the weeks ahead.
    fn used_a_day(&self, growth: f64) -> f64 {
        const DAYS: i32 = 84;
        let until = |day| self.passed.until(day).potential_mg;
        let mg = (until(self.today + DAYS) - until(self.today)) / f64::from(DAYS);
        mg * growth * self.circuit.plating / self.circuit.limit_mg()
    }

    /// The earliest of what this brewer goes by.
    fn earliest(&self, chalk: Option<i32>) -> (i32, DueBy) {
        let cleaned = self.since - self.before_days;
        let mut all = vec![(cleaned + HYGIENE_DAYS, DueBy::Hygiene)];
        let light = self.light.filter(|_| self.brewer.policy.light);
        if let Some(day) = light.filter(|_| self.is_past_open()) {
            // Where nobody knows when it was last cleaned, the light is the reason, not the half year that may have passed.
            return (day, DueBy::Light);
        }
        all.extend(light.map(|day| (day, DueBy::Light)));
        let days = self.brewer.policy.days;
        all.extend(days.map(|days| (cleaned + days as i32, DueBy::Days)));
        let cups = |sum: &PassedSum| sum.cups;
        let brews = self.brewer.policy.brews.and_then(|brews| {
            let target = cups(&self.passed.until(self.since)) + f64::from(brews);
            self.passed.day_of(target, cups)
        });
        all.extend(brews.map(|day| (day, DueBy::Brews)));
        let first = all.iter().copied().min_by_key(|(day, _)| *day);
        let other = first.unwrap_or((cleaned + HYGIENE_DAYS, DueBy::Hygiene));
        match chalk.filter(|day| self.brewer.policy.chalk && *day < other.0) {
            Some(day) => (day, DueBy::Chalk),
            None => other,
        }
    }

    /// Whether nobody knows when it was last cleaned.
    fn is_past_open(&self) -> bool {
        let beforehand = self.brewer.beforehand;
        self.before_days > 0 && beforehand.is_some_and(|b| b.last_clean == LastClean::Unknown)
    }

    fn due(&self, day: i32, by: DueBy, chalk_days: [Option<i32>; 3]) -> Due {
        let today = day_of(self.today);
        // No day is due from before anybody knew of it.
        let is_unknown = day < self.start && self.is_past_open();
        let day = if is_unknown { self.today } else { day };
        let far = self.today + NEVER_DAYS as i32;
        let [earliest, median, latest] = chalk_days;
        let words = |n: Option<i32>| n.map(|n| text::day(day_of(n), today));
        // Beyond, another decade more or less tells nothing.
        let near = |n: &i32| *n <= self.today + FORESEEN_DAYS;
        let (median, latest) = (median.filter(near), latest.filter(near));
        let window = match (words(earliest), words(latest)) {
            (None, _) => None,
            (Some(_), None) if earliest <= Some(self.today) => {
                Some("from now on, perhaps not for years".to_owned())
            }
            (Some(from), None) => Some(format!("not before {from}")),
            // So far beyond it that the whole window lies before the day from which it counts.
            (Some(from), Some(to)) if from == to && earliest <= Some(self.today) => {
                Some("passed already".to_owned())
            }
            // A window that is only one day wide on paper is not that sure.
            (Some(from), Some(to)) if from == to => Some(format!("within days of {from}")),
            (Some(from), Some(to)) => Some(format!("between {from} and {to}")),
        };
        // The day, and the chance that it is over: a window of months is no advice.
        let already = due_already(self.belief.chance_reached());
        let chalk = match (words(median), earliest.map(|from| from > self.today)) {
            (Some(about), _) => format!("about {about}"),
            (None, None) => "not for years".to_owned(),
            (None, Some(true)) => format!("not before {}", words(earliest).unwrap_or_default()),
            (None, Some(false)) => "perhaps not for years".to_owned(),
        };
        let chalk = [Some(chalk), already].into_iter().flatten();
        let chalk = chalk.collect::<Vec<_>>().join(", ");
        let days = day - self.today;
        Due {
            date: day_of(day),
            earliest: day_of(earliest.unwrap_or(far)),
            latest: day_of(chalk_days[2].unwrap_or(far)),
            text: match by {
                _ if is_unknown => "now: nobody knows when it was last done".to_owned(),
                DueBy::Light if days == 0 => "now: its light asks".to_owned(),
                DueBy::Chalk => chalk.clone(),
                DueBy::Light | DueBy::Days | DueBy::Brews | DueBy::Hygiene => {
                    text::day(day_of(day), today)
                }
            },
            chalk_text: format!("chalk {chalk}"),
            window,
            days,
            by,
            urgency: Urgency::of(days),
        }
    }

    /// What would sharpen the estimate most.
    pub(crate) fn sharpen(&self) -> Option<Sharpen> {
        use crate::belief::Sharper;
        let report = self.water.report_sigma(&self.potential);
        let all = self.belief.would_sharpen(report);
        let knows_flow = self.circuit.operation.healthy.is_some();
        let best = all.into_iter().find(|(what, _)| {
            knows_flow || !matches!(what, Sharper::CupToday | Sharper::CupWhenDue)
        });
        let (what, share) = best.filter(|(_, share)| is_worth_telling(*share))?;
        let (act, told_in) = match what {
            Sharper::CupToday => ("time a cup today", ToldIn::Journal),
            Sharper::CupWhenDue => (
                "time a cup on the due day, before the clean",
                ToldIn::Journal,
            ),
            Sharper::BathWhenDue => ("tell what the next bath brings out", ToldIn::Clean),
            Sharper::FirstSign => (
                "write down the day on which it first gets slow, loud or cooler",
                ToldIn::Journal,
            ),
            Sharper::WaterReport => (
                "give the water by a report or label instead of a strip",
                ToldIn::Water,
            ),
        };
        let surer = 100.0 * (1.0 - share);
        let more = if knows_flow {
            ""
        } else {
            " Time a cup after the next clean too: what later cups are held against."
        };
        let text = format!("What would sharpen it most: {act} (about {surer:.0} % surer).{more}");
        Some(Sharpen { text, told_in })
    }

    fn reason(&self, litres: f64, units: murlo_base::units::Units, by: DueBy) -> String {
        let today = day_of(self.today);
        let since = text::day(day_of(self.since), today);
        let brewed = match self.brewer.beforehand.filter(|_| self.before_days > 0) {
            None => format!(
                "{} of {} since {since}",
                units.use_volume(litres),
                self.water_words()
            ),
            Some(told) => {
                let before = f64::from(self.before_days);
                let litres = litres + self.habit.mean_litres() * self.circuit.share * before;
                format!(
                    "about {} of {} in {}: {}",
                    units.use_volume(litres),
                    self.water_words(),
                    text::span(f64::from(self.today - self.start) + before),
                    told.words()
                )
            }
        };
        match by {
            DueBy::Chalk => brewed,
            DueBy::Light => {
                let day = self.light.map_or(today, day_of);
                format!("its light came on {}; {brewed}", text::day(day, today))
            }
            DueBy::Days => {
                let days = self.brewer.policy.days.unwrap_or_default();
                format!(
                    "{brewed}; you clean every {}",
                    text::count(days, "day", "days")
                )
            }
            DueBy::Brews => {
                let brews = self.brewer.policy.brews.unwrap_or_default();
                format!(
                    "{brewed}; you clean every {}",
                    text::count(brews, "brew", "brews")
                )
            }
            DueBy::Hygiene => format!("{brewed}; half a year is the limit whatever the water"),
        }
    }

    /// "hard water", or "several waters" where they changed since the last clean.
    fn water_words(&self) -> String {
        let changed = self
            .seen
            .iter()
            .any(|event| matches!(event.source, evidence::Source::Water) && event.day > self.since);
        if changed {
            "several waters".to_owned()
        } else {
            format!("{} water", class(self.water.hardness))
        }
    }
}

/// An observation that leaves more of the spread than this is not worth asking for.
const WORTH_TELLING: f64 = 0.95;

pub(super) fn is_worth_telling(share: f64) -> bool {
    share < WORTH_TELLING
}

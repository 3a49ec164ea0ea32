//! The Counter: every brewer with its estimate, most urgent first.

pub mod course;
mod side;
pub mod weeks;

use crate::counter::course::{ChalkCourse, months};
use crate::history::{AcidInside, Cleans, Recalls, Running};
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::days::days_after;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::Units;
use murlo_brewer::home::{Home, Warmth};
use murlo_brewer::job::{Asks, Job};
use murlo_brewer::journal::{Entry, EntryDraft, What};
use murlo_brewer::water::{Chemistry, Waters, class};
use murlo_brewer::{Brewer, Circuit, CircuitKey, Family, Outlet, trouble};
use murlo_chalk::scale::{Forecast, Growth, Known, Logged, Start, Urgency};
use murlo_chalk::upkeep::{Kitchen, Upkeep};
use murlo_plan::figures::{Figure, figures};
use murlo_plan::pace::PaceSeen;
use murlo_plan::{KeptWay, Measured, OverDays};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use std::sync::Arc;

/// One circuit on a card.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CircuitCard {
    /// The circuit.
    pub circuit_id: String,
    /// "pod side".
    pub name: String,
    /// Its estimate.
    pub forecast: Forecast,
    /// A clean that is running on it.
    pub running_clean: Option<String>,
    /// Acid that its last clean left inside.
    pub acid: Option<AcidInside>,
    /// Acid because of which nothing may be begun here: its own, or what stands in a reservoir that it shares.
    pub held: Option<AcidInside>,
    /// The part of a clean over days that comes next.
    pub part: Option<PartShown>,
}

/// One brewer on the Counter.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BrewerCard {
    /// The brewer.
    pub id: String,
    /// Its nickname.
    pub nickname: String,
    /// Its family's name.
    pub family: String,
    /// Its kind.
    pub family_id: Family,
    /// Its home.
    pub home_id: String,
    /// Its home's name.
    pub home: String,
    /// "Harbour mains, very hard".
    pub water: String,
    /// Its circuits.
    pub circuits: Vec<CircuitCard>,
    /// The circuit that is due first.
    pub first_due: String,
    /// The most urgent circuit's urgency.
    pub urgency: Urgency,
    /// Its small jobs: water filter and needles.
    pub upkeep: Vec<Upkeep>,
    /// A clean that is running on it.
    pub running_clean: Option<String>,
    /// A clean whose first coffee nobody has told of yet.
    pub first_coffee: Option<CoffeeAsked>,
}

/// A part of a clean over days, to be done on its day.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartShown {
    /// The clean over days.
    pub over_id: String,
    /// The day of the part.
    pub day: Date,
    /// "part 2 of 3, on 3 Dec".
    pub text: String,
    /// Whether its day has come.
    pub is_due: bool,
    /// The days of all its parts, each with whether it is done.
    pub days: Vec<PartDay>,
}

/// The day of one part.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartDay {
    /// The day.
    pub day: Date,
    /// Whether it is done.
    pub is_done: bool,
}

/// A clean after which the first coffee is asked for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoffeeAsked {
    /// The clean.
    pub clean_id: String,
    /// Its side.
    pub circuit_id: String,
    /// "How was the first coffee after the clean of 23 Nov?"
    pub text: String,
}

/// Journal entries by brewer.
pub type Journals = HashMap<String, Vec<Entry>>;

/// The facts the Counter is computed from.
pub struct CounterFacts<'a> {
    /// Waters by id.
    pub waters: &'a Waters,
    /// Homes by id.
    pub homes: &'a HashMap<String, Home>,
    /// Cleans.
    pub cleans: &'a Cleans,
    /// What was written down about brews, by brewer, where that is kept apart from the journals.
    pub logged: Option<&'a HashMap<String, Arc<Logged>>>,
    /// What was believed when it was asked last, by brewer and circuit.
    pub recalls: Option<&'a Recalls>,
    /// Brews, signs, filters and needles.
    pub journals: &'a Journals,
    /// Running cleans by brewer and circuit.
    pub running: &'a Running,
    /// Acid that cleans left inside, by brewer and circuit.
    pub acid: &'a HashMap<CircuitKey, AcidInside>,
    /// What cleans measured, by brewer and circuit.
    pub measured: &'a HashMap<CircuitKey, Measured>,
    /// How long steps took, clean by clean.
    pub paces: &'a [PaceSeen],
    /// The day on which the household began its pace anew.
    pub pace_after: Option<Date>,
    /// For how much of the small works one wants to be asked.
    pub asks: Asks,
    /// People with a keen nose.
    pub noses: &'a [String],
    /// This moment, where hours are told.
    pub now: Option<Timestamp>,
    /// Ways that are kept.
    pub ways: &'a [KeptWay],
    /// Cleans that are spread over days.
    pub over_days: &'a [OverDays],
    /// The household's day.
    pub today: Date,
    /// Units to read.
    pub units: Units,
}

impl CounterFacts<'_> {
    /// All brewers as cards without lessons and working: those with acid left inside first, then running cleans, then by urgency and
    /// due date.
    #[must_use]
    pub fn cards<'b>(&self, brewers: impl IntoIterator<Item = &'b Brewer>) -> Vec<BrewerCard> {
        let mut cards = self.cards_with_works(brewers);
        // Of hundreds of brewers only what is to do, and what a card shows anyway.
        let shown = |work: &Upkeep| work.is_due || matches!(work.job, Job::Filter | Job::Needles);
        for card in &mut cards {
            card.upkeep.retain(shown);
        }
        cards
    }

    /// The same with every small work, due or not.
    #[must_use]
    pub fn cards_with_works<'b>(
        &self,
        brewers: impl IntoIterator<Item = &'b Brewer>,
    ) -> Vec<BrewerCard> {
        // One brewer's card asks nothing of another's: hundreds are made side by side.
        let brewers: Vec<_> = brewers.into_iter().collect();
        let mut cards: Vec<BrewerCard> = brewers
            .into_par_iter()
            .filter_map(|b| self.card_by(b, |growth| growth.in_brief(self.units)))
            .collect();
        cards.sort_by(|a, b| {
            let key = |c: &BrewerCard| {
                (
                    c.circuits.iter().all(|c| c.acid.is_none()),
                    c.running_clean.is_none(),
                    c.urgency,
                    c.circuits.iter().map(|c| c.forecast.due.days).min(),
                )
            };
            key(a)
                .cmp(&key(b))
                .then_with(|| a.nickname.cmp(&b.nickname))
        });
        cards
    }

    /// One brewer's card, with lessons and working; `None` when its water is gone, which the store's foreign keys prevent.
    #[must_use]
    pub fn card(&self, brewer: &Brewer) -> Option<BrewerCard> {
        self.card_by(brewer, |growth| growth.forecast(self.units))
    }

    fn card_by(
        &self,
        brewer: &Brewer,
        estimate: impl Fn(&Growth) -> Forecast,
    ) -> Option<BrewerCard> {
        let water = self.waters.get(brewer.water_id())?;
        let hardness = Chemistry::of(&water.reading, self.waters).ok()?.hardness;
        let circuits = brewer
            .circuits
            .iter()
            .map(|circuit| {
                Some(CircuitCard {
                    circuit_id: circuit.id.clone(),
                    name: circuit.name().to_owned(),
                    forecast: self.with_growth(brewer, circuit, |growth| estimate(&growth))?,
                    running_clean: self.running_clean(brewer, circuit),
                    acid: self.acid_inside(brewer, circuit),
                    held: self.held(brewer, circuit).map(|(_, acid)| acid),
                    part: self.part(brewer, circuit),
                })
            })
            .collect::<Option<Vec<_>>>()?;
        let urgency = circuits.iter().map(|c| c.forecast.due.urgency).min()?;
        let mut upkeep = self.upkeep(brewer);
        for work in &mut upkeep {
            work.comes_with_descaling = urgency <= Urgency::Due && work.job.is_within_a_clean();
        }
        Some(BrewerCard {
            id: brewer.id.clone(),
            nickname: brewer.nickname.clone(),
            family: brewer.family.label().to_owned(),
            family_id: brewer.family,
            home_id: brewer.home_id.clone(),
            home: self
                .homes
                .get(&brewer.home_id)
                .map_or_else(String::new, |h| h.name.clone()),
            water: format!("{}, {}", water.name, class(hardness)),
            first_due: circuits
                .iter()
                .min_by_key(|c| c.forecast.due.days)
                .map(|c| c.circuit_id.clone())?,
            urgency,
            upkeep,
            running_clean: circuits.iter().find_map(|c| c.running_clean.clone()),
            first_coffee: self.first_coffee(brewer),
            circuits,
        })
    }

    /// Whether a brewer may be put out of sight: not while a clean of it runs or acid is left inside, unless that is meant.
    ///
    /// # Errors
    /// `DoesNotFit` with what is in it.
    pub fn may_put_away(&self, brewer: &Brewer, is_meant: bool) -> Result<(), Problem> {
        let mut circuits = brewer.circuits.iter();
        let held = circuits.find_map(|circuit| {
            if self.running_clean(brewer, circuit).is_some() {
                return Some("a clean of it is not over: end it or give it up first".to_owned());
            }
            let acid = self.acid_inside(brewer, circuit)?;
            Some(format!(
                "acid is left inside ({}): rinse it first",
                acid.text
            ))
        });
        match held.filter(|_| !is_meant) {
            Some(message) => Err(Problem::new(Code::DoesNotFit, "brewer_id", message)),
            None => Ok(()),
        }
    }

    /// Whether something may be begun at this side: not while a bath stands in it, or in a reservoir that it shares. What is
    /// begun then would run the bath into a cup.
    ///
    /// # Errors
    /// `DoesNotFit` with what is inside, and what is done first.
    pub fn may_begin(&self, brewer: &Brewer, circuit: &Circuit) -> Result<(), Problem> {
        let Some((side, acid)) = self.held(brewer, circuit) else {
            return Ok(());
        };
        let message = format!(
            "{} ({}): rinse it out first, or say by name that it has been rinsed",
            acid.text.trim_end_matches('.'),
            side.name()
        );
        Err(Problem::new(Code::DoesNotFit, "circuit_id", message))
    }

    /// The side whose acid keeps this one from being begun.
    fn held<'b>(&self, brewer: &'b Brewer, circuit: &Circuit) -> Option<(&'b Circuit, AcidInside)> {
        let reaches = |side: &&Circuit| side.id == circuit.id || !brewer.has_own_reservoirs();
        let mut sides = brewer.circuits.iter().filter(reaches);
        sides.find_map(|side| Some((side, self.acid_inside(brewer, side)?)))
    }

    /// The times in which nobody is at a brewer, oldest first.
    #[must_use]
    pub fn away(&self, brewer: &Brewer) -> Vec<(Date, Date)> {
        let told = self
            .entries(brewer)
            .iter()
            .filter_map(|entry| match &entry.what {
                What::Away { until } => Some((entry.day, *until)),
                What::Brewed { .. }
                | What::Counter { .. }
                | What::FilterFitted
                | What::NeedlesCleared
                | What::Did { .. }
                | What::Sign { .. }
                | What::NothingNoticed { .. }
                | What::LeftOut { .. }
                | What::Timed { .. }
                | What::FirstCoffee { .. }
                | What::Trouble { .. } => None,
            });
        let logged = self.logged.and_then(|all| all.get(&brewer.id));
        let logged = logged.into_iter().flat_map(|logged| logged.times_away());
        let mut all: Vec<_> = told.chain(logged).collect();
        all.sort_unstable();
        all.dedup();
        all
    }

    pub(crate) fn upkeep(&self, brewer: &Brewer) -> Vec<Upkeep> {
        let logged = self.logged.and_then(|all| all.get(&brewer.id));
        let (entries, logged) = (self.entries(brewer), logged.map(Arc::as_ref));
        let kitchen = Kitchen {
            hardness: brewer.filter.and_then(|_| self.hardness(brewer)),
            warmth: self
                .homes
                .get(&brewer.home_id)
                .map_or_else(Warmth::default, |home| home.warmth),
        };
        Upkeep::of(brewer, (entries, logged), kitchen, self.asks, self.today)
    }

    /// Of the water it has now, mg/L.
    fn hardness(&self, brewer: &Brewer) -> Option<f64> {
        let water = self.waters.get(&brewer.waters.last()?.value)?;
        let chemistry = Chemistry::of(&water.reading, self.waters).ok()?;
        Some(chemistry.hardness)
    }

    /// Nothing while a clean runs, which tells of itself.
    fn acid_inside(&self, brewer: &Brewer, circuit: &Circuit) -> Option<AcidInside> {
        let key = brewer.key_of(circuit);
        let is_running = self.running.contains_key(&key);
        let acid = self.acid.get(&key).filter(|_| !is_running)?;
        Some(acid.at(self.now))
    }

    pub(crate) fn running_clean(&self, brewer: &Brewer, circuit: &Circuit) -> Option<String> {
        let key = brewer.key_of(circuit);
        self.running.get(&key).cloned()
    }

    /// One circuit's estimate.
    #[must_use]
    pub fn forecast(&self, brewer: &Brewer, circuit: &Circuit) -> Option<Forecast> {
        self.with_growth(brewer, circuit, |growth| growth.forecast(self.units))
    }

    /// Asks of one circuit's growth since it is known.
    pub(crate) fn with_growth<T>(
        &self,
        brewer: &Brewer,
        circuit: &Circuit,
        ask: impl FnOnce(Growth) -> T,
    ) -> Option<T> {
        let waters = brewer
            .waters
            .iter()
            .map(|since| Chemistry::of(&self.waters.get(&since.value)?.reading, self.waters).ok())
            .collect::<Option<Vec<_>>>()?;
        let key = brewer.key_of(circuit);
        let cleans = self.cleans.get(&key).map_or(&[][..], Vec::as_slice);
        // A clean that was told of before the first known day is where its past begins.
        let earliest = cleans.first().map(|clean| clean.day);
        let before = |day: &Date| *day < brewer.in_use_since && brewer.may_know_of(*day);
        let begins = earliest.filter(before);
        let start = match begins {
            Some(day) => Start::told_clean(day),
            None => Start::of(brewer, circuit, waters.first()?),
        };
        // What the person told at the start counts until a later clean.
        let later = cleans.partition_point(|clean| match begins {
            Some(first) => clean.day <= first,
            None => clean.day < start.day,
        });
        let logged = self.logged.and_then(|all| all.get(&brewer.id));
        let recall = self.recalls.and_then(|all| all.get(&key));
        Some(ask(Growth::new(Known {
            brewer,
            circuit,
            waters: &waters,
            start,
            cleans: &cleans[later..],
            entries: self.entries(brewer),
            logged: logged.map(Arc::as_ref),
            recall: recall.map(Arc::as_ref),
            today: self.today,
        })))
    }

    /// Its figures, with where each is from.
    #[must_use]
    pub fn figures(&self, brewer: &Brewer) -> Vec<Figure> {
        figures(brewer, self.units, |circuit_id| {
            let key = CircuitKey::new(&brewer.id, circuit_id);
            self.measured.get(&key).cloned()
        })
    }

    /// An entry as it is written down, and whether it is new: the same told again is the one that is known.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn told(
        &self,
        brewer: &Brewer,
        draft: EntryDraft,
        others: &[Entry],
        now: Timestamp,
    ) -> Result<(Entry, bool), Problems> {
        let mut entry = draft.check(brewer, others, self.today)?;
        let known = others.iter().find(|known| known.id == entry.id);
        if let Some(known) = known.filter(|known| known.tells_the_same(&entry)) {
            return Ok((known.clone(), false));
        }
        // Of an earlier day nobody knows whether it was before or after what else happened then.
        entry.at = (entry.day == self.today).then_some(now);
        Ok((entry, true))
    }

    /// What was wrong with a brewer today, and what it most likely was.
    ///
    /// # Errors
    /// One problem per unknown sign, or signs that contradict each other.
    pub fn trouble_entry(
        &self,
        brewer: &Brewer,
        id: String,
        signs: trouble::SignsSeen,
        opening: Option<&'static str>,
    ) -> Result<Entry, Problems> {
        let context = trouble::Context {
            opening,
            ..self.trouble_context(brewer)
        };
        let likeliest = trouble::diagnose(&signs, &context)?.causes.swap_remove(0);
        let entry = Entry {
            id,
            brewer_id: brewer.id.clone(),
            day: self.today,
            at: None,
            what: What::Trouble {
                signs,
                cause: likeliest.cause,
                percent: 100.0 * likeliest.probability,
            },
        };
        entry.check(brewer)?;
        Ok(entry)
    }

    fn entries(&self, brewer: &Brewer) -> &[Entry] {
        self.journals.get(&brewer.id).map_or(&[], Vec::as_slice)
    }

    /// What is known of a brewer that is in trouble.
    #[must_use]
    pub fn trouble_context(&self, brewer: &Brewer) -> trouble::Context {
        let used = |c| {
            let chalk = self.with_growth(brewer, c, |g| g.in_brief(self.units).chalk)?;
            Some([chalk.used_low, chalk.used, chalk.used_high])
        };
        let upkeep = self.upkeep(brewer);
        trouble::Context {
            pods: brewer.circuits.iter().any(|c| c.outlet == Outlet::Pod),
            chalk_used: brewer
                .circuits
                .iter()
                .filter_map(used)
                .max_by(|a, b| a[1].total_cmp(&b[1])),
            filter: brewer
                .filter
                .map(|_| Upkeep::is_filter_worn(&upkeep, self.today)),
            days_since_clean: self
                .last_clean(brewer)
                .and_then(|day| day.until(self.today).ok())
                .map(|span| span.get_days()),
            opening: None,
        }
    }

    /// The last guided or told clean of any circuit.
    fn last_clean(&self, brewer: &Brewer) -> Option<Date> {
        brewer
            .circuits
            .iter()
            .filter_map(|c| self.cleans.get(&brewer.key_of(c))?.last())
            .map(|c| c.day)
            .max()
    }

    /// Chalk over the last `days`, clean by clean, and on to the end of the due window, as reckoned with what is known today.
    #[must_use]
    pub fn course(&self, brewer: &Brewer, circuit: &Circuit, days: i32) -> Option<ChalkCourse> {
        let from = days_after(self.today, -days);
        self.with_growth(brewer, circuit, |growth| {
            let due = growth.in_brief(self.units).due;
            let least = days_after(self.today, LEAST_AHEAD_DAYS);
            let most = days_after(self.today, MOST_AHEAD_DAYS);
            let ahead = due.latest.max(due.date).clamp(least, most);
            let (spans, fan) = growth.course(from, ahead, POINT_DAYS);
            let first = spans.first().and_then(|span| span.first());
            let begins = first.map_or(self.today, |point| point.day);
            ChalkCourse {
                months: months(begins, ahead),
                limit_mg: circuit.limit_mg(),
                cleans: spans
                    .iter()
                    .skip(1)
                    .filter_map(|s| Some(s.first()?.day))
                    .collect(),
                spans,
                fan,
            }
        })
    }
}

/// A point every so many days draws a smooth line.
const POINT_DAYS: i32 = 3;

/// A chart shows at least this far ahead, and at most so far.
const LEAST_AHEAD_DAYS: i32 = 21;

const MOST_AHEAD_DAYS: i32 = 400;

#[cfg(test)]
pub(crate) mod tests;

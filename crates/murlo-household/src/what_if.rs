//! What would change with another water, a filter, or another habit: intervals side by side.

use crate::Settings;
use crate::counter::CounterFacts;
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use murlo_brewer::bath::Agent;
use murlo_brewer::water::Water;
use murlo_brewer::{Brewer, Filter, Habit, Since};
use murlo_chalk::money::Terms;
use murlo_chalk::scale::{DueBy, HYGIENE_DAYS};
use murlo_plan::{self as plan, PlanOptions};
use serde::{Deserialize, Serialize};

/// Days of a year.
const YEAR: f64 = 365.25;

/// What is different; everything left out stays as it is.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct WhatIf {
    /// Another water.
    pub water_id: Option<String>,
    /// Per cent of carbonate hardness a fresh filter takes out; 0 is without one that matters.
    pub filter_takes_out: Option<f64>,
    /// Other cups a day, Monday to Friday.
    pub weekday_cups: Option<f64>,
    /// Other cups a day, Saturday and Sunday.
    pub weekend_cups: Option<f64>,
}

/// How often a brewer would ask for a clean, from a clean start.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Interval {
    /// Days between cleans.
    pub days: i32,
    /// One in ten brewers like this would need it by then.
    pub low_days: i32,
    /// Nine in ten would, or the hygiene cap.
    pub high_days: i32,
    /// What sets it.
    pub by: DueBy,
    /// Cleans a year.
    pub a_year: f64,
    /// "every 48 days, between 23 and 100".
    pub text: String,
    /// "about 7.6 cleans a year".
    pub a_year_text: String,
    /// "$93.00 a year for cleaning"; nothing when no price is known.
    pub cost_text: String,
}

/// What costs are computed from.
#[derive(Debug, Clone, Copy)]
pub struct Prices<'a> {
    /// Currency and hourly rate.
    pub settings: &'a Settings,
    /// Agents with their offers.
    pub agents: &'a [Agent],
}

/// Now and then, side by side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SideBySide {
    /// As it is.
    pub now: Interval,
    /// As it would be.
    pub then: Interval,
    /// "37 days longer between cleans: 3.2 cleans a year fewer".
    pub text: String,
}

impl WhatIf {
    /// The brewer as it would be from `today` on.
    ///
    /// # Errors
    /// One problem per wrong field.
    fn applied(
        &self,
        brewer: &Brewer,
        facts: &CounterFacts,
        today: Date,
    ) -> Result<Brewer, Problems> {
        let mut problems = Problems::default();
        let mut then = brewer.clone();
        if let Some(id) = &self.water_id {
            if !facts.waters.contains_key(id) {
                let message = "no such water: choose one of the list or add it first";
                problems
                    .0
                    .push(Problem::new(Code::UnknownId, "water_id", message));
            }
            then.waters.push(Since {
                from: today,
                value: id.clone(),
            });
        }
        if let Some(per_cent) = self.filter_takes_out {
            problems.note(bounds::PER_CENT.check("filter_takes_out", per_cent));
            let filter = then.filter.get_or_insert(Filter::CHARCOAL);
            filter.takes_out = per_cent / 100.0;
        }
        let habit = brewer.habit();
        for (field, cups) in [
            ("weekday_cups", self.weekday_cups),
            ("weekend_cups", self.weekend_cups),
        ] {
            problems.note(cups.map_or(Ok(0.0), |c| bounds::CUPS.check(field, c)));
        }
        then.habits.push(Since {
            from: today,
            value: Habit {
                weekday_cups: self.weekday_cups.unwrap_or(habit.weekday_cups),
                weekend_cups: self.weekend_cups.unwrap_or(habit.weekend_cups),
                ..habit
            },
        });
        problems.or(Some(then))
    }
}

impl CounterFacts<'_> {
    /// How often `brewer` asks for a clean when nothing changes and nobody is away.
    #[must_use]
    pub fn interval(&self, brewer: &Brewer) -> Option<Interval> {
        let dues = brewer.circuits.iter().map(|circuit| {
            self.with_growth(brewer, circuit, |growth| {
                growth.anew().in_brief(self.units).due
            })
        });
        let due = dues
            .collect::<Option<Vec<_>>>()?
            .into_iter()
            .min_by_key(|due| due.days)?;
        let until = |date| {
            self.today
                .until(date)
                .map_or(HYGIENE_DAYS, |span| span.get_days())
        };
        let days = due.days;
        let (chalk_low, chalk_high) = (until(due.earliest), until(due.latest));
        // Chalk decides between these, as long as nothing else comes before it.
        let (low_days, high_days) = match due.by {
            DueBy::Chalk => (chalk_low, chalk_high.min(HYGIENE_DAYS)),
            DueBy::Light | DueBy::Days | DueBy::Brews | DueBy::Hygiene => {
                (days.min(chalk_low), days)
            }
        };
        // A limit that is reached every day is still one clean a day.
        let a_year = YEAR / f64::from(days.max(1));
        let every = text::count(days.max(1).unsigned_abs(), "day", "days");
        Some(Interval {
            days,
            low_days,
            high_days,
            by: due.by,
            a_year,
            text: match due.by {
                DueBy::Hygiene if chalk_low > days => {
                    format!("every {every}, for hygiene; chalk alone would not ask for one earlier")
                }
                DueBy::Hygiene => {
                    format!("every {every}, for hygiene; chalk may ask after {chalk_low}")
                }
                _ if low_days == high_days => format!("every {every}"),
                DueBy::Chalk | DueBy::Light | DueBy::Days | DueBy::Brews => {
                    format!("every {every}, between {low_days} and {high_days}")
                }
            },
            a_year_text: format!("about {a_year:.1} cleans a year"),
            cost_text: String::new(),
        })
    }

    /// What the household says about money and smell, for a clean of `brewer`.
    #[must_use]
    pub fn terms(&self, brewer: &Brewer, settings: &Settings) -> Terms {
        let water = self.waters.get(brewer.water_id());
        let filter = brewer.filter.as_ref();
        Terms {
            units: settings.units,
            currency: settings.currency.clone(),
            hourly_rate: settings.hourly_rate,
            water_a_litre: water.and_then(|w| w.price_a_litre),
            filter: filter.and_then(|f| Some((f.price?, f.life_days(brewer)))),
            cleans_a_year: self.interval(brewer).map_or(0.0, |i| i.a_year),
            avoid_smell: settings.avoid_smell,
        }
    }

    /// What a year of recommended cleans and of bought water would cost, as far as prices are known.
    fn cost_text(&self, brewer: &Brewer, prices: &Prices, days: i32) -> Option<String> {
        let terms = self.terms(brewer, prices.settings);
        let offered = prices.agents.iter().any(|agent| !agent.offers.is_empty());
        if !offered && terms.knows_no_price() {
            return None;
        }
        let circuit = brewer.circuits.first()?;
        let forecast = self.with_growth(brewer, circuit, |growth| {
            growth.anew().forecast_in(days, self.units)
        })?;
        let plan = plan::Facts {
            brewer,
            circuit,
            forecast: &forecast,
            agents: prices.agents,
            units: self.units,
            terms: &terms,
            today: plan::Today::default(),
        };
        let choice = plan.recommended(PlanOptions::default()).ok()?;
        let cost = plan.plan(&choice).ok()?.cost?;
        let mut parts = Vec::new();
        if !cost.lines.is_empty() {
            let amount = terms.amount(cost.total * terms.cleans_a_year);
            parts.push(format!("{amount} a year for cleaning"));
        }
        if let Some(price) = terms.water_a_litre {
            let amount = terms.amount(price * brewer.habit().mean_litres() * YEAR);
            parts.push(format!("{amount} a year for the water itself"));
        }
        (!parts.is_empty()).then(|| parts.join(" and "))
    }

    /// How often `brewer` would ask for a clean with `water`.
    #[must_use]
    pub fn interval_with(&self, brewer: &Brewer, water: &Water) -> Option<Interval> {
        let what_if = WhatIf {
            water_id: Some(water.id.clone()),
            ..WhatIf::default()
        };
        self.interval(&what_if.applied(brewer, self, self.today).ok()?)
    }

    /// `brewer` as it is and as it would be.
    ///
    /// # Errors
    /// One problem per wrong field of `what_if`.
    pub fn side_by_side(
        &self,
        brewer: &Brewer,
        what_if: &WhatIf,
        prices: &Prices,
    ) -> Result<SideBySide, Problems> {
        let changed = what_if.applied(brewer, self, self.today)?;
        let missing = || {
            let message = "one of this brewer's waters is gone: choose another one first";
            Problem::new(Code::UnknownId, "water_id", message)
        };
        let priced = |brewer: &Brewer| {
            let mut interval = self.interval(brewer)?;
            interval.cost_text = self
                .cost_text(brewer, prices, interval.days)
                .unwrap_or_default();
            Some(interval)
        };
        let now = priced(brewer).ok_or_else(missing)?;
        let then = priced(&changed).ok_or_else(missing)?;
        let longer = then.days - now.days;
        let days = text::count(longer.unsigned_abs(), "day", "days");
        let cleans = (then.a_year - now.a_year).abs();
        Ok(SideBySide {
            text: match longer {
                0 => "No difference: what sets the date stays the same.".to_owned(),
                1.. => {
                    format!("{days} longer between cleans: about {cleans:.1} cleans a year fewer.")
                }
                _ => {
                    format!("{days} shorter between cleans: about {cleans:.1} cleans a year more.")
                }
            },
            now,
            then,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::counter::Journals;
    use crate::history::Cleans;
    use jiff::civil::date;
    use murlo_base::units::{HardnessUnit, Units};
    use murlo_brewer::job::Asks;
    use murlo_brewer::rinse::Taste;
    use murlo_brewer::water::{Reading, Waters};
    use murlo_brewer::{BrewerDraft, Family};
    use proptest::prelude::*;
    use std::collections::HashMap;

    const TODAY: Date = date(2026, 6, 1);

    fn with<T>(ask: impl FnOnce(&CounterFacts, &Brewer) -> T) -> T {
        let water = |id: &str, value| Water {
            id: id.into(),
            name: id.into(),
            reading: Reading::Strip {
                value,
                unit: HardnessUnit::MgPerL,
            },
            price_a_litre: None,
        };
        let waters: Waters = [water("soft", 30.0), water("hard", 250.0)]
            .map(|w| (w.id.clone(), w))
            .into();
        let (homes, cleans, journals, running) = (
            HashMap::new(),
            Cleans::new(),
            Journals::new(),
            HashMap::new(),
        );
        let acid = HashMap::new();
        let facts = CounterFacts {
            waters: &waters,
            homes: &homes,
            cleans: &cleans,
            logged: None,
            recalls: None,
            journals: &journals,
            running: &running,
            acid: &acid,
            paces: &[],
            noses: &[],
            ways: &[],
            over_days: &[],
            pace_after: None,
            asks: Asks::Needed,
            measured: &HashMap::new(),
            now: None,
            today: TODAY,
            units: Units::Metric,
        };
        let draft = BrewerDraft {
            nickname: "pod".into(),
            beforehand: None,
            weekday_cups: 3.0,
            weekend_cups: 3.0,
            ..BrewerDraft::template(Family::PodReservoir, Units::Metric, "h", "hard", TODAY)
        };
        ask(&facts, &draft.check("b".into(), None, TODAY).unwrap())
    }

    fn free(agents: &[Agent]) -> Prices<'_> {
        const NO_PRICES: &Settings = &Settings {
            units: Units::Metric,
            time_zone: String::new(),
            taste: Taste::Usual,
            noses: Vec::new(),
            currency: String::new(),
            hourly_rate: None,
            avoid_smell: false,
            pace_after: None,
            clock: crate::Clock::Usual,
            keys_off: false,
            asks: Asks::Usual,
            days_off: Vec::new(),
        };
        Prices {
            settings: NO_PRICES,
            agents,
        }
    }

    #[test]
    fn a_dearer_water_may_cost_less_in_cleans_and_more_in_all() {
        with(|facts, brewer| {
            let mut waters = facts.waters.clone();
            if let Some(soft) = waters.get_mut("soft") {
                soft.price_a_litre = Some(0.5);
            }
            let facts = CounterFacts {
                waters: &waters,
                ..*facts
            };
            let settings = Settings {
                currency: "$".into(),
                hourly_rate: Some(12.0),
                ..Settings::default()
            };
            let what_if = WhatIf {
                water_id: Some("soft".into()),
                ..WhatIf::default()
            };
            let agents = Agent::starters();
            let prices = Prices {
                settings: &settings,
                agents: &agents,
            };
            let both = facts.side_by_side(brewer, &what_if, &prices).unwrap();
            assert!(
                !both.now.cost_text.contains("water"),
                "{}",
                both.now.cost_text
            );
            // 3 cups of 235 mL a day at 0.50 a litre.
            assert!(
                both.then
                    .cost_text
                    .ends_with("and $128.75 a year for the water itself"),
                "{}",
                both.then.cost_text
            );
        });
    }

    #[test]
    fn a_softer_water_is_shown_beside_the_present_one() {
        with(|facts, brewer| {
            let what_if = WhatIf {
                water_id: Some("soft".into()),
                ..WhatIf::default()
            };
            let both = facts
                .side_by_side(brewer, &what_if, &free(&Agent::starters()))
                .unwrap();
            // 3 cups of 235 mL at 250 mg/L: 48 days by the closed formula.
            assert_eq!((both.now.days, both.now.by), (48, DueBy::Chalk));
            assert_eq!((both.then.days, both.then.by), (183, DueBy::Hygiene));
            assert_eq!(
                both.then.text,
                "every 183 days, for hygiene; chalk alone would not ask for one earlier"
            );
            assert_eq!(
                both.text,
                "135 days longer between cleans: about 5.6 cleans a year fewer."
            );
            let same = facts
                .side_by_side(brewer, &WhatIf::default(), &free(&Agent::starters()))
                .unwrap();
            assert!(same.text.starts_with("No difference"), "{}", same.text);
        });
    }

    #[test]
    fn wrong_choices_name_their_field() {
        let wrong = [
            (
                "water_id",
                WhatIf {
                    water_id: Some("sea".into()),
                    ..WhatIf::default()
                },
            ),
            (
                "filter_takes_out",
                WhatIf {
                    filter_takes_out: Some(101.0),
                    ..WhatIf::default()
                },
            ),
            (
                "weekday_cups",
                WhatIf {
                    weekday_cups: Some(f64::NAN),
                    ..WhatIf::default()
                },
            ),
            (
                "weekend_cups",
                WhatIf {
                    weekend_cups: Some(-1.0),
                    ..WhatIf::default()
                },
            ),
        ];
        for (field, what_if) in wrong {
            let problems = with(|facts, brewer| {
                facts
                    .side_by_side(brewer, &what_if, &free(&Agent::starters()))
                    .unwrap_err()
            });
            assert_eq!(problems.0[0].field, field);
        }
    }

    proptest! {
        #[test]
        fn a_better_filter_or_fewer_cups_never_shorten_the_interval(share in 0.0..60.0f64, more in 0.0..40.0f64, cups in 0.0..8.0f64, extra in 0.0..8.0f64) {
            with(|facts, brewer| {
                let days = |filter, cups| {
                    let what_if = WhatIf {
                        filter_takes_out: Some(filter),
                        weekday_cups: Some(cups),
                        ..WhatIf::default()
                    };
                    facts.side_by_side(brewer, &what_if, &free(&Agent::starters())).unwrap().then.days
                };
                prop_assert!(days(share + more, cups) >= days(share, cups));
                prop_assert!(days(share, cups) >= days(share, cups + extra));
                Ok(())
            })?;
        }
    }
}

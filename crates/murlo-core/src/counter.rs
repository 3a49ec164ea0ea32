//! The Counter: every brewer with its estimate, most urgent first.

use crate::brewer::{Brewer, Circuit, Family};
use crate::household::Home;
use crate::scale::{Baseline, Forecast, Growth, Urgency};
use crate::units::Units;
use crate::water::{Chemistry, Water, class};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

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
    /// Its home's name.
    pub home: String,
    /// "Harbour mains, very hard".
    pub water: String,
    /// Its circuits.
    pub circuits: Vec<CircuitCard>,
    /// The most urgent circuit's urgency.
    pub urgency: Urgency,
    /// A clean that is running on it.
    pub running_clean: Option<String>,
}

/// What the Counter reads of the past: per circuit, the last clean that counts.
pub type Baselines = HashMap<(String, String), Baseline>;

/// The facts the Counter is computed from.
pub struct Facts<'a> {
    /// Waters by id.
    pub waters: &'a HashMap<String, Water>,
    /// Homes by id.
    pub homes: &'a HashMap<String, Home>,
    /// Last cleans.
    pub baselines: &'a Baselines,
    /// Running cleans by brewer.
    pub running: &'a HashMap<String, String>,
    /// The household's day.
    pub today: Date,
    /// Units to read.
    pub units: Units,
}

impl Facts<'_> {
    /// All brewers as cards: running cleans first, then by urgency and due date.
    #[must_use]
    pub fn cards(&self, brewers: &[Brewer]) -> Vec<BrewerCard> {
        let mut cards: Vec<_> = brewers.iter().filter_map(|b| self.card(b)).collect();
        cards.sort_by(|a, b| {
            let key = |c: &BrewerCard| {
                (
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

    /// One brewer's card; `None` when its water is gone, which the store's foreign keys prevent.
    #[must_use]
    pub fn card(&self, brewer: &Brewer) -> Option<BrewerCard> {
        let water = self.waters.get(brewer.water_id())?;
        let hardness = Chemistry::of(&water.reading).ok()?.hardness;
        let circuits = brewer
            .circuits
            .iter()
            .map(|circuit| {
                Some(CircuitCard {
                    circuit_id: circuit.id.clone(),
                    name: circuit.name().to_owned(),
                    forecast: self.forecast(brewer, circuit)?,
                })
            })
            .collect::<Option<Vec<_>>>()?;
        Some(BrewerCard {
            id: brewer.id.clone(),
            nickname: brewer.nickname.clone(),
            family: brewer.family.label().to_owned(),
            family_id: brewer.family,
            home: self
                .homes
                .get(&brewer.home_id)
                .map_or_else(String::new, |h| h.name.clone()),
            water: format!("{}, {}", water.name, class(hardness)),
            urgency: circuits.iter().map(|c| c.forecast.due.urgency).min()?,
            running_clean: self.running.get(&brewer.id).cloned(),
            circuits,
        })
    }

    /// One circuit's estimate.
    #[must_use]
    pub fn forecast(&self, brewer: &Brewer, circuit: &Circuit) -> Option<Forecast> {
        let waters = brewer
            .waters
            .iter()
            .map(|since| Chemistry::of(&self.waters.get(&since.value)?.reading).ok())
            .collect::<Option<Vec<_>>>()?;
        let baseline = self
            .baselines
            .get(&(brewer.id.clone(), circuit.id.clone()))
            .copied();
        let told = Baseline {
            day: brewer.last_descaled.unwrap_or(brewer.in_use_since),
            left_mg: 0.0,
        };
        let baseline = baseline.filter(|b| b.day >= told.day).unwrap_or(told);
        Some(Growth::new(brewer, circuit, &waters, baseline).forecast(self.today, self.units))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::brewer::BrewerDraft;
    use crate::scale::{DueBy, days_after};
    use crate::units::HardnessUnit;
    use crate::water::Reading;
    use jiff::civil::date;

    const TODAY: Date = date(2026, 11, 23);

    struct House {
        waters: HashMap<String, Water>,
        homes: HashMap<String, Home>,
        baselines: Baselines,
        running: HashMap<String, String>,
    }

    impl House {
        fn new() -> Self {
            let water = |id: &str, value| Water {
                id: id.into(),
                name: format!("{id} water"),
                reading: Reading::Strip {
                    value,
                    unit: HardnessUnit::MgPerL,
                },
            };
            Self {
                waters: [water("soft", 30.0), water("hard", 290.0)]
                    .map(|w| (w.id.clone(), w))
                    .into(),
                homes: HashMap::from([(
                    "h".to_owned(),
                    Home {
                        id: "h".into(),
                        name: "Houseboat Tern".into(),
                    },
                )]),
                baselines: Baselines::new(),
                running: HashMap::new(),
            }
        }

        fn facts(&self) -> Facts<'_> {
            Facts {
                waters: &self.waters,
                homes: &self.homes,
                baselines: &self.baselines,
                running: &self.running,
                today: TODAY,
                units: Units::Metric,
            }
        }
    }

    fn brewer(id: &str, water: &str, days: i32) -> Brewer {
        let start = days_after(TODAY, -days);
        let template =
            BrewerDraft::template(Family::PodReservoir, Units::Metric, "h", water, start);
        let draft = BrewerDraft {
            nickname: id.into(),
            ..template
        };
        draft.check(id.into(), None, start).unwrap()
    }

    #[test]
    fn running_cleans_come_first_then_the_most_urgent() {
        let mut house = House::new();
        house.running.insert("new".into(), "c1".into());
        let brewers = [
            brewer("soft", "soft", 20),
            brewer("hard", "hard", 120),
            brewer("new", "soft", 1),
            brewer("middle", "hard", 60),
        ];
        let cards = house.facts().cards(&brewers);
        let order: Vec<_> = cards
            .iter()
            .map(|c| (c.nickname.as_str(), c.urgency))
            .collect();
        let expected = [
            ("new", Urgency::Fresh),
            ("hard", Urgency::Overdue),
            ("middle", Urgency::Due),
            ("soft", Urgency::Fresh),
        ];
        assert_eq!(order, expected);
        assert_eq!(
            (cards[0].running_clean.as_deref(), cards[0].home.as_str()),
            (Some("c1"), "Houseboat Tern")
        );
        assert_eq!(cards[1].water, "hard water, very hard");
    }

    #[test]
    fn a_clean_moves_the_due_date_and_keeps_what_it_left() {
        let mut house = House::new();
        let pod = brewer("pod", "hard", 120);
        let before = house.facts().card(&pod).unwrap();
        assert_eq!(before.urgency, Urgency::Overdue);
        let key = ("pod".to_owned(), "main".to_owned());
        house.baselines.insert(
            key.clone(),
            Baseline {
                day: TODAY,
                left_mg: 0.0,
            },
        );
        let clean = house.facts().card(&pod).unwrap().circuits[0]
            .forecast
            .clone();
        assert_eq!((clean.chalk.mg, clean.litres), (0.0, 0.0));
        house.baselines.insert(
            key,
            Baseline {
                day: TODAY,
                left_mg: 200.0,
            },
        );
        let half = house.facts().card(&pod).unwrap().circuits[0]
            .forecast
            .clone();
        assert!((half.chalk.mg - 200.0).abs() < 1e-9);
        assert!(
            half.due.date < clean.due.date,
            "what was left counts towards the next time"
        );
    }

    #[test]
    fn what_the_person_told_counts_until_a_later_clean() {
        let mut house = House::new();
        let mut pod = brewer("pod", "hard", 200);
        pod.last_descaled = Some(days_after(TODAY, -10));
        let old = Baseline {
            day: days_after(TODAY, -90),
            left_mg: 0.0,
        };
        house
            .baselines
            .insert(("pod".to_owned(), "main".to_owned()), old);
        let forecast = house.facts().card(&pod).unwrap().circuits[0]
            .forecast
            .clone();
        assert!(
            forecast.reason.ends_with("since 13 Nov"),
            "{}",
            forecast.reason
        );
        assert_eq!(forecast.due.by, DueBy::Chalk);
    }

    #[test]
    fn a_change_of_water_counts_from_its_day() {
        let house = House::new();
        let mut pod = brewer("pod", "soft", 100);
        let softly = house.facts().card(&pod).unwrap().circuits[0]
            .forecast
            .chalk
            .mg;
        pod.waters.push(crate::brewer::Since {
            from: days_after(TODAY, -50),
            value: "hard".into(),
        });
        let mixed = house.facts().card(&pod).unwrap().circuits[0]
            .forecast
            .chalk
            .mg;
        pod.waters[1].from = days_after(TODAY, -99);
        let hard = house.facts().card(&pod).unwrap().circuits[0]
            .forecast
            .chalk
            .mg;
        assert!(softly < mixed && mixed < hard, "{softly} {mixed} {hard}");
    }
}

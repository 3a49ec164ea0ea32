//! What one clean costs.

use murlo_base::text;
use murlo_base::units::{Amount, Units};
use murlo_brewer::bath::{Agent, Mixed};
use serde::{Deserialize, Serialize};

/// What the household says about money and smell.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Terms {
    /// Units to read.
    pub units: Units,
    /// "$", "EUR".
    pub currency: String,
    /// What an hour of one's own work is worth.
    pub hourly_rate: Option<f64>,
    /// Price of a litre of the brewer's water, when it is bought.
    pub water_a_litre: Option<f64>,
    /// Price of the brewer's water filter and days that one lasts.
    pub filter: Option<(f64, f64)>,
    /// How often the brewer asks for a clean in a year.
    pub cleans_a_year: f64,
    /// Whether an agent that smells is avoided.
    pub avoid_smell: bool,
}

impl Terms {
    /// Whether nothing but the agents could have a price.
    #[must_use]
    pub const fn knows_no_price(&self) -> bool {
        self.hourly_rate.is_none() && self.water_a_litre.is_none() && self.filter.is_none()
    }

    /// "$3.20", "3.20 EUR".
    #[must_use]
    pub fn amount(&self, value: f64) -> String {
        let value = cents(value);
        if self.currency.chars().count() <= 1 {
            format!("{}{value:.2}", self.currency)
        } else {
            format!("{value:.2} {}", self.currency)
        }
    }
}

/// A sum of cents, which is whole cents; nothing is not written as less than nothing.
#[must_use]
pub fn cents(amount: f64) -> f64 {
    (amount * 100.0).round() / 100.0 + 0.0
}

/// One line of a bill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CostLine {
    /// "White vinegar, 473 mL, from the corner shop".
    pub what: String,
    /// Its amount.
    pub amount: f64,
    /// "$0.90".
    pub text: String,
}

/// What one clean and a year of them cost, as far as prices are known.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Cost {
    /// Of one clean.
    pub lines: Vec<CostLine>,
    /// Their sum.
    pub total: f64,
    /// "$3.20".
    pub each_text: String,
    /// "$3.20 a clean, about $19.40 a year".
    pub text: String,
    /// The agent by each other source, dearer ones.
    pub elsewhere: Vec<CostLine>,
    /// What is not in the sum, because nobody gave its price.
    pub missing: Vec<String>,
}

/// How the line of one's own time begins.
const OWN_TIME: &str = "Your own time";

impl Cost {
    /// What is used up, without one's own time.
    #[must_use]
    pub fn material(&self) -> f64 {
        let used = self
            .lines
            .iter()
            .filter(|line| !line.what.starts_with(OWN_TIME));
        used.map(|line| line.amount).sum()
    }
}

/// What one clean uses.
#[derive(Debug, Clone, Copy)]
pub struct Uses<'a> {
    /// The agent.
    pub agent: &'a Agent,
    /// One bath.
    pub bath: &'a Mixed,
    /// How many of it.
    pub baths: u32,
    /// Water of rinse and baths, mL.
    pub water_ml: f64,
    /// Minutes of work.
    pub hands_on_min: f64,
    /// Whether the agent is that of other people, and costs nothing.
    pub is_theirs: bool,
}

impl Uses<'_> {
    /// Agent of all its baths.
    #[must_use]
    pub fn agent_amount(&self) -> Amount {
        let one = self.bath.agent_amount();
        one.map_or(Amount::Ml(0.0), |one| one.times(f64::from(self.baths)))
    }

    /// The bill.
    #[must_use]
    pub fn cost(&self, terms: &Terms) -> Cost {
        let amount = self.agent_amount();
        let number = amount.number();
        let told = self.agent.amount_text(amount, terms.units);
        let line = |what: String, amount: f64| CostLine {
            what,
            amount,
            text: terms.amount(amount),
        };
        let mut missing = Vec::new();
        let mut offers: Vec<_> = self
            .agent
            .offers
            .iter()
            .map(|offer| {
                let what = format!("{}, {told}, {}", self.agent.name, offer.source);
                line(what, offer.each() * number)
            })
            .collect();
        offers.sort_by(|a, b| a.amount.total_cmp(&b.amount));
        if self.is_theirs {
            offers.clear();
        }
        let mut offers = offers.into_iter();
        let mut lines: Vec<_> = offers.next().into_iter().collect();
        if lines.is_empty() && !self.is_theirs {
            missing.push(format!("the price of {}", self.agent.in_text()));
        }
        if let Some(price) = terms.water_a_litre {
            let what = format!("Bought water, {}", terms.units.volume(self.water_ml));
            lines.push(line(what, price * self.water_ml / 1000.0));
        }
        if let Some((price, days)) = terms.filter.filter(|_| terms.cleans_a_year > 0.0) {
            let interval = 365.25 / terms.cleans_a_year;
            lines.push(line(
                format!(
                    "Share of the water filter (one covers {:.1} months)",
                    days / 30.4375
                ),
                price * interval / days,
            ));
        }
        if let Some(rate) = terms.hourly_rate {
            let what = format!("{OWN_TIME}, {}", text::minutes(self.hands_on_min));
            lines.push(line(what, rate * self.hands_on_min / 60.0));
        } else {
            missing.push("your own time".to_owned());
        }
        let total = lines.iter().map(|l| l.amount).sum::<f64>();
        Cost {
            each_text: terms.amount(total),
            text: if lines.is_empty() {
                "no prices given yet".to_owned()
            } else {
                format!(
                    "{} a clean, about {} a year",
                    terms.amount(total),
                    terms.amount(total * terms.cleans_a_year)
                )
            },
            lines,
            total,
            elsewhere: offers.collect(),
            missing,
        }
    }
}

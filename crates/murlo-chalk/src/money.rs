//! What a clean costs: agent by where it was bought, rinse water, a share of the filter, and one's own time.

mod years;

pub use years::{NamedSum, Paid, YearSum, by_year};

use murlo_base::text;
use murlo_brewer::bath::{Agent, Mixed};
use serde::{Deserialize, Serialize};

/// What the household says about money and smell.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Terms {
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
        if self.currency.chars().count() <= 1 {
            format!("{}{value:.2}", self.currency)
        } else {
            format!("{value:.2} {}", self.currency)
        }
    }
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
}

impl Uses<'_> {
    /// mL or g of agent.
    #[must_use]
    pub fn agent_amount(&self) -> f64 {
        let one = self.bath.agent.as_ref().map(|measure| measure.ml);
        f64::from(self.baths) * one.or(self.bath.powder_g).unwrap_or(0.0)
    }

    /// The bill.
    #[must_use]
    pub fn cost(&self, terms: &Terms) -> Cost {
        let amount = self.agent_amount();
        let unit = if self.bath.powder_g.is_some() {
            "g"
        } else {
            "mL"
        };
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
                let what = format!("{}, {amount:.0} {unit}, {}", self.agent.name, offer.source);
                line(what, offer.each() * amount)
            })
            .collect();
        offers.sort_by(|a, b| a.amount.total_cmp(&b.amount));
        let mut offers = offers.into_iter();
        let mut lines: Vec<_> = offers.next().into_iter().collect();
        if lines.is_empty() {
            missing.push(format!("the price of {}", self.agent.in_text()));
        }
        if let Some(price) = terms.water_a_litre {
            let litres = self.water_ml / 1000.0;
            lines.push(line(format!("Bought water, {litres:.1} L"), price * litres));
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

#[cfg(test)]
mod tests {
    use super::*;
    use murlo_base::units::{Marks, Sizes, Tool};
    use murlo_brewer::bath::{Order, Recipe};
    use murlo_brewer::offer::Offer;

    fn offer(source: &str, amount: f64, price: f64) -> Offer {
        Offer {
            source: source.into(),
            amount,
            price,
            postage: 0.0,
            coupon: 0.0,
            kit_worth: 0.0,
        }
    }

    fn cost(offers: Vec<Offer>, terms: &Terms) -> Cost {
        let mut agent = Agent::starters().remove(0);
        agent.offers = offers;
        let bath = Order {
            agent: &agent,
            recipe: Recipe::Ratio {
                agent: 1.0,
                water: 1.0,
            },
            total_ml: 1000.0,
            marks: Marks::of(Tool::Ml, Sizes::default()).unwrap(),
            load_mg: 0.0,
        }
        .mix();
        Uses {
            agent: &agent,
            bath: &bath,
            baths: 1,
            water_ml: 3000.0,
            hands_on_min: 30.0,
        }
        .cost(terms)
    }

    #[test]
    fn a_bill_takes_the_cheapest_source_and_names_what_is_missing() {
        let kit = Offer {
            postage: 4.0,
            coupon: 2.0,
            kit_worth: 9.0,
            ..offer("kit by post", 500.0, 14.0)
        };
        // Half a litre: 1.00 from the shop, (14 + 4 - 2 - 9) / 500 × 500 = 7.00 from the kit.
        let terms = Terms {
            currency: "$".into(),
            hourly_rate: Some(20.0),
            water_a_litre: Some(0.5),
            filter: Some((6.0, 60.0)),
            cleans_a_year: 365.25 / 90.0,
            avoid_smell: false,
        };
        let bill = cost(vec![kit, offer("corner shop", 1000.0, 2.0)], &terms);
        let amounts: Vec<_> = bill.lines.iter().map(|l| l.text.as_str()).collect();
        assert_eq!(amounts, ["$1.00", "$1.50", "$9.00", "$10.00"]);
        assert_eq!(bill.text, "$21.50 a clean, about $87.25 a year");
        assert_eq!(bill.elsewhere[0].text, "$7.00");
        assert!(bill.missing.is_empty());
        let none = cost(vec![], &Terms::default());
        assert_eq!(none.text, "no prices given yet");
        assert_eq!(
            none.missing,
            ["the price of white vinegar", "your own time"]
        );
    }

    #[test]
    fn wrong_offers_name_their_field() {
        for (field, wrong) in [
            ("amount", offer("shop", 0.0, 2.0)),
            ("price", offer("shop", 1.0, -2.0)),
            ("source", offer("", 1.0, 2.0)),
            (
                "coupon",
                Offer {
                    coupon: 3.0,
                    ..offer("shop", 1.0, 2.0)
                },
            ),
        ] {
            assert_eq!(wrong.check().unwrap_err().0[0].field, field);
        }
        let gift = Offer {
            kit_worth: 9.0,
            ..offer("kit", 1.0, 2.0)
        };
        assert!(gift.check().is_ok() && gift.each() == 0.0);
    }
}

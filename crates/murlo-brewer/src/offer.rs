//! What a pack of an agent costs somewhere.

use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use serde::{Deserialize, Serialize};

/// One way to buy an agent.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Offer {
    /// Where.
    pub source: String,
    /// What the pack holds: mL of a liquid, g of a powder.
    pub amount: f64,
    /// Its price.
    pub price: f64,
    /// Postage for it.
    #[serde(default)]
    pub postage: f64,
    /// What a coupon takes off.
    #[serde(default)]
    pub coupon: f64,
    /// Worth of filters and rinse pods that come in the same kit.
    #[serde(default)]
    pub kit_worth: f64,
}

impl Offer {
    /// Price of 1 mL or 1 g; a kit whose other contents are worth more than it costs gives the agent away.
    #[must_use]
    pub fn each(&self) -> f64 {
        (self.price + self.postage - self.coupon - self.kit_worth).max(0.0) / self.amount
    }

    /// Checks name, pack and prices.
    ///
    /// # Errors
    /// One problem per field outside its range; a coupon above price and postage.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(text::name("source", &self.source));
        problems.note(bounds::PACK.check("amount", self.amount));
        for (field, value) in [
            ("price", self.price),
            ("postage", self.postage),
            ("coupon", self.coupon),
            ("kit_worth", self.kit_worth),
        ] {
            problems.note(bounds::PRICE.check(field, value));
        }
        if self.coupon > self.price + self.postage {
            let message = "the coupon takes off more than price and postage: give at most those";
            problems
                .0
                .push(Problem::new(Code::TooMuch, "coupon", message));
        }
        problems.or(Some(()))
    }
}

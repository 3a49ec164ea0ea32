//! What a clean costs: agent by where it was bought, rinse water, a share of the filter, and one's own time.

mod cost;
mod years;

pub use cost::{Cost, CostLine, Terms, Uses, cents};
pub use years::{NamedSum, Paid, YearSum, by_year};

#[cfg(test)]
mod tests {
    use super::*;
    use murlo_base::units::{Marks, Sizes, Tool, Units};
    use murlo_brewer::bath::{Agent, MixOrder, Recipe};
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
        let bath = MixOrder {
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
            is_theirs: false,
        }
        .cost(terms)
    }

    #[test]
    fn any_price_is_one_besides_the_agents() {
        let nothing = Terms::default();
        assert!(nothing.knows_no_price());
        for terms in [
            Terms {
                hourly_rate: Some(20.0),
                ..nothing.clone()
            },
            Terms {
                water_a_litre: Some(0.5),
                ..nothing.clone()
            },
            Terms {
                filter: Some((8.0, 60.0)),
                ..nothing.clone()
            },
        ] {
            assert!(!terms.knows_no_price(), "{terms:?}");
        }
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
            units: Units::Us,
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
        // Amounts are told in the household's units.
        for (units, agent, water) in [
            (Units::Us, "16.9 fl oz", "fl oz"),
            (Units::Metric, "500 mL", "3 L"),
        ] {
            let offer = vec![offer("corner shop", 1000.0, 2.0)];
            let terms = Terms {
                units,
                ..terms.clone()
            };
            let lines = cost(offer, &terms).lines;
            assert!(lines[0].what.contains(agent), "{}", lines[0].what);
            assert!(lines[1].what.contains(water), "{}", lines[1].what);
        }
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

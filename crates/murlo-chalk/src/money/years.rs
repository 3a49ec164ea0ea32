//! What cleaning came to: by year, home and brewer.

use super::{Cost, Terms};
use jiff::civil::Date;
use murlo_base::text;
use serde::Serialize;
use std::collections::BTreeMap;

/// A clean that was finished, with what it was reckoned to cost when it was planned.
#[derive(Debug, Clone)]
pub struct Paid<'a> {
    /// The day.
    pub day: Date,
    /// The brewer's name.
    pub brewer: &'a str,
    /// Its home's name.
    pub home: &'a str,
    /// Nothing where no price was known at all.
    pub cost: Option<&'a Cost>,
}

/// What one year came to.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct YearSum {
    /// The year.
    pub year: i16,
    /// "2026: 14 cleans, $42.10, of it $12.00 material".
    pub text: String,
    /// Each home, the dearest first; none where there is one.
    pub homes: Vec<NamedSum>,
    /// Each brewer, the dearest first.
    pub brewers: Vec<NamedSum>,
}

/// What one home or brewer came to.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct NamedSum {
    /// The home or brewer.
    pub name: String,
    /// "5 cleans, $15.20".
    pub text: String,
}

#[derive(Default)]
struct Sum {
    cleans: u32,
    unpriced: u32,
    total: f64,
    material: f64,
}

impl Sum {
    fn add(&mut self, cost: Option<&Cost>) {
        self.cleans += 1;
        match cost {
            Some(cost) => {
                self.total += cost.total;
                self.material += cost.material();
            }
            None => self.unpriced += 1,
        }
    }

    fn text(&self, terms: &Terms) -> String {
        let cleans = text::count(self.cleans, "clean", "cleans");
        if self.unpriced == self.cleans {
            return format!("{cleans}, no price known");
        }
        let total = terms.amount(self.total);
        match self.unpriced {
            0 => format!("{cleans}, {total}"),
            n => format!("{cleans}, {total} and {n} without a price"),
        }
    }
}

/// Every year in which something was cleaned, the latest first.
#[must_use]
pub fn by_year(paid: &[Paid], terms: &Terms) -> Vec<YearSum> {
    let mut years: BTreeMap<i16, Vec<&Paid>> = BTreeMap::new();
    for clean in paid {
        years.entry(clean.day.year()).or_default().push(clean);
    }
    let sums = years.into_iter().rev().map(|(year, cleans)| {
        let mut all = Sum::default();
        cleans.iter().for_each(|clean| all.add(clean.cost));
        let own_time = all.total - all.material > 0.005;
        let material = match own_time {
            true => format!(", of it {} material", terms.amount(all.material)),
            false => String::new(),
        };
        let homes = named(&cleans, |clean| clean.home, terms);
        YearSum {
            year,
            text: format!("{year}: {}{material}", all.text(terms)),
            homes: if homes.len() > 1 { homes } else { Vec::new() },
            brewers: named(&cleans, |clean| clean.brewer, terms),
        }
    });
    sums.collect()
}

fn named<'a>(
    cleans: &[&Paid<'a>],
    name: impl Fn(&Paid<'a>) -> &'a str,
    terms: &Terms,
) -> Vec<NamedSum> {
    let mut sums: BTreeMap<&str, Sum> = BTreeMap::new();
    for clean in cleans {
        sums.entry(name(clean)).or_default().add(clean.cost);
    }
    let mut sums: Vec<_> = sums.into_iter().collect();
    sums.sort_by(|a, b| b.1.total.total_cmp(&a.1.total).then(a.0.cmp(b.0)));
    sums.into_iter()
        .map(|(name, sum)| NamedSum {
            name: name.to_owned(),
            text: sum.text(terms),
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::money::CostLine;
    use jiff::civil::date;

    fn cost(material: f64, own: f64) -> Cost {
        let line = |what: &str, amount: f64| CostLine {
            what: what.to_owned(),
            amount,
            text: String::new(),
        };
        Cost {
            lines: vec![
                line("Vinegar", material),
                line("Your own time, 20 min", own),
            ],
            total: material + own,
            each_text: String::new(),
            text: String::new(),
            elsewhere: Vec::new(),
            missing: Vec::new(),
        }
    }

    #[test]
    fn years_sum_what_their_cleans_cost_by_home_and_brewer() {
        let terms = Terms {
            currency: "$".into(),
            ..Terms::default()
        };
        let (cheap, dear) = (cost(1.0, 0.0), cost(2.5, 6.0));
        let paid = |day, brewer, home, cost| Paid {
            day,
            brewer,
            home,
            cost,
        };
        let all = by_year(
            &[
                paid(date(2025, 12, 31), "Pod", "Boat", Some(&cheap)),
                paid(date(2026, 1, 1), "Pod", "Boat", Some(&cheap)),
                paid(date(2026, 3, 1), "Drip", "Studio", Some(&dear)),
                paid(date(2026, 4, 1), "Pod", "Boat", None),
            ],
            &terms,
        );
        assert_eq!(
            all.iter().map(|y| y.text.as_str()).collect::<Vec<_>>(),
            [
                "2026: 3 cleans, $9.50 and 1 without a price, of it $3.50 material",
                "2025: 1 clean, $1.00"
            ]
        );
        let told = |sums: &[NamedSum]| {
            sums.iter()
                .map(|s| format!("{}: {}", s.name, s.text))
                .collect::<Vec<_>>()
        };
        assert_eq!(
            told(&all[0].homes),
            [
                "Studio: 1 clean, $8.50",
                "Boat: 2 cleans, $1.00 and 1 without a price"
            ]
        );
        assert_eq!(told(&all[0].brewers)[0], "Drip: 1 clean, $8.50");
        assert!(all[1].homes.is_empty(), "one home needs no line of its own");
    }

    #[test]
    fn where_no_price_is_known_none_is_told() {
        let clean = Paid {
            day: date(2026, 1, 1),
            brewer: "Pod",
            home: "Boat",
            cost: None,
        };
        let all = by_year(&[clean], &Terms::default());
        assert_eq!(all[0].text, "2026: 1 clean, no price known");
    }
}

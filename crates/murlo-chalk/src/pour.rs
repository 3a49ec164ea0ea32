//! A bath that was poured without measuring: ratio and strength from two levels or from what is left in the bottle, with
//! the band that coarse reading leaves.

use murlo_base::bounds;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text::count;
use murlo_base::units::{Units, parse_volume, trim};
use murlo_base::working::Working;
use murlo_brewer::bath::{self, Agent};
use murlo_chemistry::acid::{AcidBath, SPENT_PH};
use serde::{Deserialize, Serialize};

/// Where the agent's amount can still be read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "from", rename_all = "snake_case", deny_unknown_fields)]
pub enum Poured {
    /// The vessel's level before and after the agent went in.
    Levels {
        /// Before, "0 cups" when it was empty.
        before: String,
        /// After.
        after: String,
    },
    /// The agent's bottle.
    Bottle {
        /// What it held.
        held: String,
        /// What is left in it.
        left: String,
    },
}

/// An unmeasured pour, as typed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PourDraft {
    /// The agent.
    pub agent_id: String,
    /// Its strength, % w/v, when it differs from the agent's.
    pub percent: Option<f64>,
    /// What can still be read.
    pub poured: Poured,
    /// All the liquid in the end.
    pub total: String,
    /// How finely the levels can be read: half of this either way.
    pub read_to: String,
}

/// What an unmeasured pour comes to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Pour {
    /// Strength, % w/v.
    pub percent: f64,
    /// The least it can be.
    pub low_percent: f64,
    /// The most it can be.
    pub high_percent: f64,
    /// "about 12 fl oz of white vinegar, between 10 and 14".
    pub agent_text: String,
    /// "1 : 1.5 with water, between 1 : 1.1 and 1 : 2".
    pub ratio_text: String,
    /// "about 2.0 %, between 1.7 and 2.4 %".
    pub percent_text: String,
    /// What it would dissolve, weakest case first.
    pub useful_text: String,
    /// How it was worked out.
    pub working: Vec<Working>,
}

impl PourDraft {
    /// What was poured, with its band.
    ///
    /// # Errors
    /// One problem per field that cannot be read; `Contradiction` when nothing was poured, when the bath is smaller than
    /// what was poured, or for a powder.
    pub fn reckon(&self, agents: &[Agent], units: Units) -> Result<Pour, Problems> {
        let mut agent = bath::find(agents, &self.agent_id)?;
        agent.set_percent("percent", self.percent)?;
        let stock = agent.percent().ok_or_else(|| {
            let message = "a powder is weighed, not poured: take a liquid";
            Problem::new(Code::Contradiction, "agent_id", message)
        })?;
        let (agent_ml, total, read_to) = self.read()?;
        // Two readings are each off by up to half a step, the total by another half.
        let (low_ml, high_ml) = ((agent_ml - read_to).max(0.0), agent_ml + read_to);
        let (low_total, high_total) = ((total - read_to / 2.0).max(1.0), total + read_to / 2.0);
        let percent = stock * agent_ml / total;
        let low_percent = stock * low_ml / high_total;
        let high_percent = (stock * high_ml / low_total).min(stock);
        let water = |percent: f64| match stock / percent - 1.0 {
            w if w < 0.05 => "neat".to_owned(),
            w if w.is_finite() => format!("1 : {}", trim(w, 1)),
            _ => "hardly any agent".to_owned(),
        };
        let useful = |percent: f64| {
            AcidBath::new(agent.acid(), percent * 10.0, 25.0).useful_g_l(SPENT_PH) * total / 1000.0
        };
        Ok(Pour {
            percent,
            low_percent,
            high_percent,
            agent_text: format!(
                "about {} of {}, between {} and {}",
                units.volume(agent_ml),
                agent.in_text(),
                units.volume(low_ml),
                units.volume(high_ml.min(total)),
            ),
            ratio_text: format!(
                "{}, between {} and {}",
                water(percent),
                water(high_percent),
                water(low_percent)
            ),
            percent_text: format!(
                "about {percent:.1} %, between {low_percent:.1} and {high_percent:.1} %"
            ),
            useful_text: format!(
                "would dissolve {:.1} to {:.1} g of chalk",
                useful(low_percent),
                useful(high_percent)
            ),
            working: vec![working(
                stock,
                (agent_ml, total, read_to),
                [percent, low_percent, high_percent],
                units,
            )],
        })
    }

    /// What was poured, all of it, and how finely both were read, mL.
    fn read(&self) -> Result<(f64, f64, f64), Problems> {
        let mut problems = Problems::default();
        let mut read = |field: &str, text: &str| {
            problems.note(parse_volume(field, text, &bounds::SPARE_VOLUME, None))
        };
        let (more, less, last) = match &self.poured {
            Poured::Levels { before, after } => (
                read("poured.after", after),
                read("poured.before", before),
                "poured.after",
            ),
            Poured::Bottle { held, left } => (
                read("poured.held", held),
                read("poured.left", left),
                "poured.left",
            ),
        };
        let total = read("total", &self.total);
        let read_to = read("read_to", &self.read_to);
        let read = more.zip(less).zip(total.zip(read_to));
        let ((more, less), (total, read_to)) = problems.or(read)?;
        let agent_ml = more - less;
        let refuse = |field: &str, message: &str| Problem::new(Code::Contradiction, field, message);
        if agent_ml <= 0.0 {
            let message = "nothing was poured by these two readings: look at them again";
            return Err(refuse(last, message).into());
        }
        if agent_ml > total * 1.000_001 {
            let message = "all the liquid is less than the agent poured into it: give all of it";
            return Err(refuse("total", message).into());
        }
        Ok((agent_ml, total, read_to))
    }
}

/// How the strength of an unmeasured pour is reckoned: `amounts` as [`PourDraft::read`] gives them, `percent` with its band.
fn working(
    stock: f64,
    (agent_ml, total, read_to): (f64, f64, f64),
    [percent, low_percent, high_percent]: [f64; 3],
    units: Units,
) -> Working {
    Working::new(
        "strength of an unmeasured pour",
        "strength × (one reading − the other) / all of it; each reading off by up to half a step",
        &[
            ("agent as bought", format!("{stock} % w/v")),
            ("poured", units.volume(agent_ml)),
            ("all of it", units.volume(total)),
            (
                "read to",
                format!(
                    "{} in {}",
                    units.volume(read_to),
                    count(3, "reading", "readings")
                ),
            ),
        ],
        format!("{percent:.2} %, {low_percent:.2} to {high_percent:.2} %"),
        "C₁V₁ = C₂V₂ with the extremes of the readings",
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn draft(poured: Poured, total: &str, read_to: &str) -> PourDraft {
        PourDraft {
            agent_id: "vinegar".into(),
            percent: None,
            poured,
            total: total.into(),
            read_to: read_to.into(),
        }
    }

    fn levels(before: &str, after: &str) -> Poured {
        Poured::Levels {
            before: before.into(),
            after: after.into(),
        }
    }

    fn bottle(held: &str, left: &str) -> Poured {
        Poured::Bottle {
            held: held.into(),
            left: left.into(),
        }
    }

    #[test]
    fn two_levels_or_a_bottle_give_the_strength_with_its_band() {
        for poured in [levels("0 mL", "400 mL"), bottle("1 L", "600 mL")] {
            let pour = draft(poured, "1000 mL", "100 mL")
                .reckon(&Agent::starters(), Units::Metric)
                .unwrap();
            // 5 % × 400/1000; at worst 300/1050 and 500/950.
            assert!((pour.percent - 2.0).abs() < 1e-9);
            assert_eq!(pour.percent_text, "about 2.0 %, between 1.4 and 2.6 %");
            assert_eq!(pour.ratio_text, "1 : 1.5, between 1 : 0.9 and 1 : 2.5");
            assert!(
                pour.agent_text.contains("between 300 mL and 500 mL"),
                "{}",
                pour.agent_text
            );
        }
    }

    #[test]
    fn what_cannot_be_is_refused_by_field() {
        for (draft, field) in [
            (
                draft(levels("2 cups", "1 cup"), "4 cups", "1 cup"),
                "poured.after",
            ),
            (
                draft(bottle("1 cup", "1 cup"), "4 cups", "1 cup"),
                "poured.left",
            ),
            (
                draft(levels("0 cups", "5 cups"), "4 cups", "1 cup"),
                "total",
            ),
            (
                draft(levels("some", "5 cups"), "4 cups", "1 cup"),
                "poured.before",
            ),
            (
                draft(levels("0 cups", "2 cups"), "4 cups", "finely"),
                "read_to",
            ),
        ] {
            let problems = draft.reckon(&Agent::starters(), Units::Us).unwrap_err();
            assert_eq!(problems.0[0].field, field, "{draft:?}");
        }
        let powder = PourDraft {
            agent_id: "citric".into(),
            ..draft(levels("0 cups", "2 cups"), "4 cups", "1 cup")
        };
        let problems = powder.reckon(&Agent::starters(), Units::Us).unwrap_err();
        assert_eq!(problems.0[0].field, "agent_id");
    }

    proptest! {
        #[test]
        fn finer_reading_never_widens_the_band(poured in 50.0..900.0f64, read_to in 0.0..200.0f64, finer in 0.0..1.0f64) {
            let pour = |read_to: f64| {
                draft(levels("0 mL", &format!("{poured:.2} mL")), "1000 mL", &format!("{read_to:.2} mL"))
                    .reckon(&Agent::starters(), Units::Metric)
                    .unwrap()
            };
            let (wide, fine) = (pour(read_to), pour(read_to * finer));
            prop_assert!(wide.low_percent <= fine.low_percent && fine.low_percent <= fine.percent);
            prop_assert!(fine.percent <= fine.high_percent && fine.high_percent <= wide.high_percent);
        }
    }
}

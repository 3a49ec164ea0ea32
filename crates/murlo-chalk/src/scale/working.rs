//! The working behind an estimate: enough to recompute it by hand.

use super::{Chalk, Due, Growth};
use crate::belief;
use murlo_base::text;
use murlo_base::units::Units;
use murlo_base::working::Working;

impl Growth<'_> {
    pub(super) fn working(
        &self,
        chalk: &Chalk,
        due: &Due,
        potential_mg: f64,
        units: Units,
    ) -> Vec<Working> {
        vec![
            self.potential_working(),
            self.growth_working(potential_mg),
            self.chalk_working(chalk, potential_mg),
            self.due_working(due, units),
        ]
    }

    fn potential_working(&self) -> Working {
        let heat = self.circuit.heat();
        let water = &self.water;
        let carbonate = &water.water;
        Working::new(
            "scale potential of the water",
            "CaCO3 that a litre can leave at heater temperature (CCPP), from calcium, alkalinity, pH and dissolved solids",
            &[
                (
                    "hardness",
                    format!("{:.0} mg/L, {}", water.hardness, water.known_from()),
                ),
                ("calcium", format!("{:.1} mg/L as CaCO3", carbonate.calcium)),
                (
                    "alkalinity",
                    format!("{:.1} mg/L as CaCO3", carbonate.alkalinity),
                ),
                (
                    "pH",
                    format!("{:.2} at {:.0} °C", carbonate.ph, carbonate.source_c),
                ),
                ("dissolved solids", format!("{:.0} mg/L", carbonate.tds)),
                (
                    "filter",
                    self.filter_note
                        .clone()
                        .unwrap_or_else(|| "takes no hardness out".to_owned()),
                ),
                (
                    "heater",
                    format!(
                        "{} °C, {:.0} % of the CO2 stays",
                        heat.temp_c,
                        100.0 * heat.co2_retained
                    ),
                ),
            ],
            format!("{:.1} mg/L", self.potential.mg_l),
            murlo_chemistry::carbonate::SOURCE,
        )
    }

    fn growth_working(&self, potential_mg: f64) -> Working {
        let growth = self.belief.growth_window();
        let evidence = self.events.len();
        Working::new(
            "growth",
            "share of the potential that sticks, usually, × what was learned of this circuit",
            &[
                (
                    "sticks, usually",
                    format!("{:.1} %", 100.0 * self.circuit.plating),
                ),
                (
                    "learned",
                    format!(
                        "× {:.3}, between {:.3} and {:.3}",
                        growth.median, growth.p10, growth.p90
                    ),
                ),
                (
                    "from",
                    text::count(evidence as u32, "observation", "observations"),
                ),
                (
                    "Σ litres × potential since the last clean",
                    format!("{potential_mg:.0} mg"),
                ),
            ],
            format!(
                "{:.0} mg since the last clean",
                self.circuit.plating * growth.median * potential_mg
            ),
            belief::SOURCE,
        )
    }

    fn chalk_working(&self, chalk: &Chalk, potential_mg: f64) -> Working {
        Working::new(
            "chalk now",
            "left over + what grew since, both as believed; the median of all of it",
            &[
                ("at the start", self.start_words()),
                (
                    "limit of chalk",
                    format!(
                        "{:.1} mg, {:.0} µm on {:.0} cm²",
                        self.circuit.limit_mg(),
                        self.circuit.limit_um,
                        self.circuit.area_cm2
                    ),
                ),
                (
                    "Σ litres × potential since the last clean",
                    format!("{potential_mg:.0} mg"),
                ),
                (
                    "share of the limit",
                    format!(
                        "{:.2}, between {:.2} and {:.2}",
                        chalk.used, chalk.used_low, chalk.used_high
                    ),
                ),
            ],
            chalk.text.clone(),
            belief::SOURCE,
        )
    }

    /// With how much it began on its first known day.
    fn start_words(&self) -> String {
        let left = self.prior.start;
        let told = match self
            .brewer
            .beforehand
            .and_then(|told| Some((told, told.grown()?)))
        {
            Some((told, grown)) if self.brewer.last_descaled.is_none() => format!(
                ", and what {:.0} mg (between {:.0} and {:.0}) of litres × potential had left before; {}: {:.0} days, between {:.0} and {:.0}",
                self.prior.before_mg[1],
                self.prior.before_mg[0],
                self.prior.before_mg[2],
                told.words(),
                grown.days(),
                grown.least_days,
                grown.most_days
            ),
            _ => String::new(),
        };
        format!(
            "{:.2} of the limit, between {:.2} and {:.2}{told}",
            left.median, left.p10, left.p90
        )
    }

    fn due_working(&self, due: &Due, units: Units) -> Working {
        let to_go = self.belief.to_go_mg();
        let daily = self.habit.mean_litres() * self.circuit.share;
        Working::new(
            "due date",
            "the earliest of the days this brewer goes by, at most 183 days after the last clean; chalk: today + potential to go / (litres a day × potential)",
            &[
                ("goes by", self.brewer.policy.words()),
                (
                    "potential to go",
                    format!(
                        "{:.0} mg, between {:.0} and {:.0} mg",
                        to_go.median, to_go.p10, to_go.p90
                    ),
                ),
                (
                    "use",
                    format!("{daily:.3} L a day ({})", units.use_volume(daily)),
                ),
                ("potential", format!("{:.1} mg/L", self.potential.mg_l)),
                (
                    "chance that the limit is reached",
                    format!("{:.0} %", 100.0 * self.belief.chance_reached()),
                ),
                (
                    "due window",
                    due.window
                        .clone()
                        .unwrap_or_else(|| "beyond ten years".to_owned()),
                ),
            ],
            format!("{}; {}", due.text, due.chalk_text),
            belief::SOURCE,
        )
    }
}

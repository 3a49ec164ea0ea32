//! How much bath there is, how it is measured, and in how many dispenses it goes through.

use crate::facts::Facts;
use crate::options::{Fill, PlanOptions};
use crate::shape::Dispensing;
use murlo_base::problem::{Code, Problem};
use murlo_base::units::{CUP_ML, Sizes, Tool, parse_volume};
use murlo_base::{bounds, text};
use murlo_brewer::bath::{self, Agent, AgentForm, Recipe};
use murlo_brewer::rinse::{Counted, dispense_by, dispenses};
use murlo_brewer::{Needle, Outlet};
use murlo_chemistry::heater::{Heater, Way};

impl Facts<'_> {
    /// The needles on the way of this side's water.
    pub(crate) fn needles(&self) -> Vec<Needle> {
        match self.circuit.outlet {
            Outlet::Grounds => Vec::new(),
            Outlet::Pod | Outlet::Capsule => self.brewer.needles(),
        }
    }

    pub(crate) fn is_drip(&self) -> bool {
        self.circuit.heater == Heater::DripRiser
    }

    pub(crate) fn way(&self) -> Way {
        self.brewer.way(self.circuit)
    }

    /// Whether the bath comes out dispense by dispense.
    pub(crate) fn is_pressed(&self) -> bool {
        self.way() == Way::Presses
    }

    pub(crate) fn reservoir_ml(&self) -> f64 {
        self.brewer.reservoir_of(self.circuit)
    }

    /// One dispense of a bath, as earlier baths have corrected it.
    pub(crate) fn bath_dispense_ml(&self) -> f64 {
        self.dispense_by(&self.today.measured.bath)
    }

    /// One dispense of rinse water, as earlier fills have corrected it.
    pub(crate) fn rinse_dispense_ml(&self) -> f64 {
        self.dispense_by(&self.today.measured.fill)
    }

    fn dispense_by(&self, counts: &[Counted]) -> f64 {
        let circuit = self.circuit;
        dispense_by(circuit.dispense_ml, circuit.dead_volume_ml, counts)
    }

    /// Minutes of the cleaning programme, and how they are known.
    pub(crate) fn programme_minutes(&self) -> (f64, &'static str) {
        let told = self.circuit.operation.programme_minutes;
        if let Some(minutes) = self.today.measured.programme_min {
            (minutes, "as timed last time")
        } else if let Some(minutes) = told {
            (minutes, "as written down for this brewer")
        } else {
            let brew = self.brewer.brew_minutes.unwrap_or(NORMAL_BREW);
            (
                brew * PROGRAMME_BREWS,
                "2.3 to 4 normal brews, until it has been timed",
            )
        }
    }

    pub(crate) fn sizes(&self, agent: &Agent) -> Sizes {
        Sizes {
            carafe_mark: self.brewer.carafe.map(|c| c.mark_ml),
            reservoir_line: self.brewer.reservoir_line_ml,
            bottle: agent.bottle_ml(),
        }
    }

    pub(crate) fn agent(&self, options: &PlanOptions) -> Result<Agent, Problem> {
        let first = self.agents.first().map(|a| a.id.as_str());
        let asked = options.agent_id.as_deref().or(first).unwrap_or_default();
        let mut agent = bath::find(self.agents, asked)?;
        agent.set_percent("percent", options.percent)?;
        Ok(agent)
    }

    /// Vinegar is thinned by half in a pod brewer's small bath, to a third in a drip brewer's large one, not at all in
    /// the one cup that is poured in at a time.
    pub(crate) fn usual_recipe(&self, form: &AgentForm) -> Recipe {
        match form {
            AgentForm::Liquid { acid, percent } => Recipe::thinned(
                *acid,
                *percent,
                match self.way() {
                    // So little goes in that a thin bath would be used up.
                    Way::CupAtATime => 0.0,
                    _ if self.is_drip() => 2.0,
                    Way::Presses | Way::Programme | Way::Halves => 1.0,
                },
            ),
            AgentForm::Powder { .. } => Recipe::Dose { g_per_l: 20.0 },
            AgentForm::Bottle { .. } | AgentForm::Tablet { .. } => Recipe::usual(form),
        }
    }

    pub(crate) fn usual_tool(&self, form: &AgentForm) -> Tool {
        match form {
            AgentForm::Bottle { .. } => Tool::Bottle,
            _ if self.brewer.carafe.is_some() => Tool::CarafeMarks,
            _ if self.units.are_customary() => Tool::Cups,
            AgentForm::Liquid { .. } | AgentForm::Powder { .. } | AgentForm::Tablet { .. } => {
                Tool::Ml
            }
        }
    }

    /// "To a mark, then water": the parts that an amount of agent comes to.
    pub(crate) fn recipe_of_amount(&self, typed: &str, total_ml: f64) -> Result<Recipe, Problem> {
        let mark = self.brewer.carafe.map(|c| c.mark_ml);
        let mark = mark.or(self.brewer.reservoir_line_ml);
        let mut named = self.circuit.mechanics.marks.iter();
        let ml = match named.find(|m| m.name.eq_ignore_ascii_case(typed.trim())) {
            Some(named) => named.ml,
            None => parse_volume("agent_amount", typed, &bounds::VOLUME, mark)?,
        };
        if ml > total_ml * 1.000_01 {
            let most = self.units.volume(total_ml);
            return Err(Problem::new(
                Code::TooMuch,
                "agent_amount",
                format!("the whole bath is {most}: give at most that"),
            ));
        }
        Ok(Recipe::Ratio {
            agent: 1.0,
            water: (total_ml / ml - 1.0).max(0.0),
        })
    }

    /// A drip brewer's bath has to wet all of the riser; a pod brewer's would only be more to rinse.
    fn fill(&self, options: &PlanOptions) -> Fill {
        // Who pours the agent to a mark fills up with water.
        let filled = self.is_drip() || options.agent_amount.is_some();
        options
            .fill
            .unwrap_or(if filled { Fill::Full } else { Fill::Dose })
    }

    /// A pod brewer's bath stops at its dose, a drip brewer's fills the reservoir, a bottle is used whole.
    pub(crate) fn bath_ml(&self, options: &PlanOptions, agent: &Agent) -> Result<f64, Problem> {
        let capacity = self.reservoir_ml();
        if let Some(typed) = &options.bath {
            let ml = parse_volume(
                "bath",
                typed,
                &bounds::VOLUME,
                self.brewer
                    .carafe
                    .map(|c| c.mark_ml)
                    .or(self.brewer.reservoir_line_ml),
            )?;
            if ml > capacity * 1.000_01 {
                let most = self.units.volume(capacity);
                return Err(Problem::new(
                    Code::TooMuch,
                    "bath",
                    format!("the reservoir holds {most}: give at most that"),
                ));
            }
            return Ok(ml);
        }
        let usual = match agent.bottle_ml() {
            Some(_) if options.fill == Some(Fill::Full) || options.agent_amount.is_some() => {
                capacity
            }
            Some(bottle) => 2.0 * bottle,
            None if self.fill(options) == Fill::Full => capacity,
            None if self.circuit.outlet == Outlet::Capsule => CAPSULE_BATH_ML,
            None if self.units.are_customary() => 4.0 * CUP_ML,
            None => 950.0,
        };
        let one = self.least_bath_ml();
        Ok(if self.is_drip() && options.fill != Some(Fill::Dose) {
            usual.min(capacity)
        } else {
            usual.max(one * 1.2).min(capacity)
        })
    }

    /// What a bath must give: a dispense to soak, one for the mode that is only entered after that, one for hot water.
    pub(crate) fn least_bath_ml(&self) -> f64 {
        let late_mode =
            self.brewer.has_mode(self.circuit) && !self.circuit.mechanics.soaks_in_mode();
        let hot_water = self.brewer.has_hot_water(self.circuit);
        let dispenses = 1 + u8::from(late_mode) + u8::from(hot_water);
        f64::from(dispenses) * self.bath_dispense_ml() + self.circuit.dead_volume_ml
    }

    pub(crate) fn dispensing(&self, total_ml: f64) -> Dispensing {
        self.dispensing_by(self.way(), total_ml)
    }

    /// The same bath when it is pressed, whatever the usual way is.
    pub(crate) fn pressed_through(&self, total_ml: f64) -> Dispensing {
        self.dispensing_by(Way::Presses, total_ml)
    }

    fn dispensing_by(&self, way: Way, total_ml: f64) -> Dispensing {
        let is_pressed = way == Way::Presses;
        // One cup goes through the hot-water outlet, where a bath has more than one dispense.
        let spared = |cup_ml: f64| {
            let least = self.bath_dispense_ml() + self.circuit.dead_volume_ml;
            (is_pressed && self.has_hot_water() && total_ml - cup_ml >= least).then_some(cup_ml)
        };
        let hot_cup = spared(self.cup_ml());
        let total_ml = total_ml - hot_cup.unwrap_or(0.0);
        let (count, remainder) = if !is_pressed {
            (1, 0.0)
        } else {
            dispenses(
                total_ml,
                self.bath_dispense_ml(),
                self.circuit.dead_volume_ml,
            )
        };
        let each = self.units.measure(if !is_pressed {
            total_ml
        } else {
            self.bath_dispense_ml()
        });
        let remainder = self.units.measure(remainder);
        let text = match way {
            Way::Halves => format!("all {} through in one brew, stopped half-way", each.text),
            Way::Programme => format!("all {} through in the programme", each.text),
            Way::CupAtATime => {
                format!("{} poured in at once, paused at the first drops", each.text)
            }
            Way::Presses => {
                let whole = text::count(count, "dispense", "dispenses");
                let hot = match hot_cup {
                    Some(_) => " and one cup of hot water",
                    None => "",
                };
                format!(
                    "{whole} of {}{hot}, then about {} to pour away",
                    each.text, remainder.text
                )
            }
        };
        Dispensing {
            count,
            each,
            remainder,
            hot_water_ml: hot_cup.unwrap_or(0.0),
            text,
        }
    }

    /// Whether the heater stays on while the bath soaks.
    pub(crate) fn soaks_hot(&self) -> bool {
        self.mode().soaks || self.today.beside
    }
}

/// A bath that is short of its dispenses by so little gives them: nobody pours to the millilitre, and no display shows it.
pub(crate) const SHORT_BY_ML: f64 = 1.0;

/// A capsule brewer's bath: one tablet or dose.
pub(crate) const CAPSULE_BATH_ML: f64 = 500.0;

/// Minutes of a normal full brew that nobody has timed.
pub(crate) const NORMAL_BREW: f64 = 10.0;

/// A cleaning programme takes about this many normal brews, until it has been timed.
pub(crate) const PROGRAMME_BREWS: f64 = 3.0;

//! One clean of one circuit as an agreed plan: bath, soak, rinse, ordered steps, time, kit and reasons.
//!
//! A plan is frozen when a clean starts; the running clean reads nothing else.

#![deny(missing_docs)]

mod alternatives;
pub mod bathing;
pub mod bench;
pub mod figures;
#[cfg(any(test, feature = "fixtures"))]
pub mod fixtures;
mod kind;
pub mod machine;
pub mod minutes;
mod open;
pub mod pace;
pub mod practice;
pub mod rehearse;
mod ribbon;
mod shape;
mod stage;
mod steps;
mod words;
mod worked;

pub use alternatives::{Alternative, Comparison, Purchase};
pub use kind::Kind;
pub use open::{OpenAnswer, OpenFact};
pub use shape::{
    Answer, Because, Caution, Chosen, Dispensing, Doing, Fill, Hazard, Inside, Picture, Place,
    Plan, PlanOptions, Question, RecipeChoice, Ribbon, Step, Stretch, Stronger, Work,
};
pub use stage::{Correction, Moment, Rung, Stage, Wish};
pub use steps::{AFTER, MIX, RINSE, SOAK, VERIFY, answers};
pub(crate) use words::warning;

use crate::machine::Mechanism;
use crate::pace::Pace;
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use murlo_base::units::{CUP_ML, Sizes, Tool, Units, parse_volume};
use murlo_brewer::bath::{self, Agent, AgentForm, Recipe};
use murlo_brewer::job::Job;
use murlo_brewer::rinse::{Counted, dispense_by, dispenses};
use murlo_brewer::{Brewer, Circuit, Needle, Outlet};
use murlo_chalk::money::Terms;
use murlo_chalk::scale::{Chalk, Forecast};
use murlo_chemistry::cleaning::{Bathed, Film};
use murlo_chemistry::heater::{Heater, Way};
use murlo_chemistry::spread::P90;
use ribbon::ribbon;
use worked::{Choice, Worked};

/// The facts a plan is made from.
#[derive(Debug, Clone)]
pub struct Facts<'a> {
    /// The brewer.
    pub brewer: &'a Brewer,
    /// Its circuit to clean.
    pub circuit: &'a Circuit,
    /// That circuit's estimate.
    pub forecast: &'a Forecast,
    /// The household's agents.
    pub agents: &'a [Agent],
    /// Units to read.
    pub units: Units,
    /// Money and smell.
    pub terms: &'a Terms,
    /// What else is known today.
    pub today: Today,
}

/// What is known of a brewer on the day of its clean.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Today {
    /// Whether its water filter is worn out.
    pub filter_due: bool,
    /// Whether its other side is being cleaned now, so that it stands ready and its parts are washed.
    pub beside: bool,
    /// What earlier cleans measured of this side.
    pub measured: Measured,
    /// Why this side and not the other.
    pub why_side: Option<String>,
    /// How quick the household's hands are with such brewers.
    pub pace: Pace,
    /// Agent and recipe of its last clean.
    pub last: Option<bath::Taken>,
    /// People with a keen nose.
    pub noses: Vec<String>,
}

/// What cleans measured of a circuit.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Measured {
    /// Minutes its programme took when it was last timed.
    pub programme_min: Option<f64>,
    /// Dispenses that baths gave, oldest first.
    pub bath: Vec<Counted>,
    /// Dispenses that a filled reservoir gave, oldest first.
    pub fill: Vec<Counted>,
}

impl Measured {
    /// Takes in what a later clean measured.
    pub fn take(
        &mut self,
        programme_min: Option<f64>,
        bath: Option<Counted>,
        fill: Option<Counted>,
    ) {
        self.programme_min = programme_min.or(self.programme_min);
        self.bath.extend(bath);
        self.fill.extend(fill);
    }
}

/// More baths than this belong to a repairer.
const MOST_BATHS: u32 = 4;
/// A bath that is short of its dispenses by so little gives them: nobody pours to the millilitre, and no display shows it.
const SHORT_BY_ML: f64 = 1.0;
/// A capsule brewer's bath: one tablet or dose.
const CAPSULE_BATH_ML: f64 = 500.0;
/// Minutes of a normal full brew that nobody has timed.
const NORMAL_BREW: f64 = 10.0;
/// A cleaning programme takes about this many normal brews, until it has been timed.
const PROGRAMME_BREWS: f64 = 3.0;

impl Facts<'_> {
    /// The plan for these options.
    ///
    /// # Errors
    /// One problem per choice that is unknown, out of range, or cannot be done with this brewer.
    pub fn plan(&self, options: &PlanOptions) -> Result<Plan, Problems> {
        self.run_as_asked(options, |facts| {
            facts.has_work(options)?;
            let choice = facts.choose(options, None)?;
            if options.work != Work::Descale {
                return Ok(facts.draw_up(options, &choice, 1));
            }
            let likely = facts.likely_baths(&choice);
            let mut plan = facts.draw_up(options, &choice, likely);
            plan.ladder = facts.ladder(&choice, &plan.bath);
            Ok(plan)
        })
    }

    /// Whether there is anything to do.
    fn has_work(&self, options: &PlanOptions) -> Result<(), Problem> {
        if options.work == Work::Upkeep {
            let job = options.job.ok_or_else(|| {
                Problem::new(Code::Missing, "job", "say which small work it is to be")
            })?;
            if self.today.beside {
                let message = "its other side is being cleaned: finish that first";
                return Err(Problem::new(Code::Contradiction, "job", message));
            }
            let is_drip = self.circuit.outlet == Outlet::Grounds;
            let has = options
                .outlet()
                .is_none_or(|o| (o == Outlet::Grounds) == is_drip);
            return (has && job.fits(self.brewer)).then_some(()).ok_or_else(|| {
                let message = format!("this brewer has no such work: {}", job.name());
                Problem::new(Code::NotAChoice, "job", message)
            });
        }
        if options.work == Work::Needles && self.needles().is_empty() {
            let message = format!(
                "the {} has no needles to clear: choose the whole clean, or another side",
                self.circuit.name()
            );
            return Err(Problem::new(Code::NotAChoice, "work", message));
        }
        Ok(())
    }

    /// Asks of these facts, or of the same brewer without its programme where it is run by hand.
    fn run_as_asked<T>(&self, options: &PlanOptions, ask: impl FnOnce(&Facts) -> T) -> T {
        if !(options.by_hand && self.way() == Way::Programme) {
            return ask(self);
        }
        let mut brewer = Brewer {
            self_clean: false,
            ..self.brewer.clone()
        };
        for circuit in &mut brewer.circuits {
            circuit.mechanics.programme = Some(false);
        }
        let mut circuits = brewer.circuits.iter();
        let circuit = circuits.find(|c| c.id == self.circuit.id);
        ask(&Facts {
            brewer: &brewer,
            circuit: circuit.unwrap_or(self.circuit),
            ..self.clone()
        })
    }

    /// The plan, when each bath is its share of `likely` ones.
    fn draw_up(&self, options: &PlanOptions, choice: &Choice, likely: u32) -> Plan {
        let (plan, baths_min) = self.draw_up_in(options, choice, likely, 0.0);
        let is_late = choice
            .minutes
            .is_some_and(|most| plan.ribbon.elapsed_min > most);
        if !is_late || options.work != Work::Descale {
            return plan;
        }
        // What parts, mixing and rinse take is known only now.
        let besides = (plan.ribbon.elapsed_min - baths_min).max(0.0);
        self.draw_up_in(options, choice, likely, besides).0
    }

    /// The same where everything but the baths takes `besides` minutes, with the minutes of the baths.
    fn draw_up_in(
        &self,
        options: &PlanOptions,
        choice: &Choice,
        likely: u32,
        besides: f64,
    ) -> (Plan, f64) {
        let worked = self.work_out(choice, likely, besides);
        let scheme = steps::Scheme {
            job: options.job,
            ..worked.scheme(options.work)
        };
        let steps = steps::steps(self, &scheme);
        let mut plan = self.assemble(options.work, &worked, steps);
        plan.job = options.job.filter(|_| options.work == Work::Upkeep);
        plan.likely_baths = likely;
        plan.kit = self.kit(&worked.agent, &plan);
        plan.after = plan
            .baths()
            .map(|baths| self.chalk_after(&baths, &worked.agent));
        plan.reasons = self.reasons(&worked, &plan);
        plan.warnings.extend(self.warning_of_the_rest(&plan));
        if plan.work == Work::Descale {
            plan.cost = Some(plan.uses(&worked.agent).cost(self.terms));
        }
        (plan, worked.advice.minutes)
    }

    /// Everything that stands in a plan, still without words.
    fn assemble(&self, work: Work, worked: &Worked, steps: Vec<Step>) -> Plan {
        let mixed = &worked.mixed;
        let cautions = mixed.warnings.iter().map(|w| warning(*w).to_owned());
        Plan {
            work,
            job: None,
            has_tray: Job::Tray.fits(self.brewer),
            side: (self.brewer.circuits.len() > 1).then(|| self.circuit.name().to_owned()),
            stronger: None,
            ladder: Vec::new(),
            open: self.open(),
            likely_baths: 1,
            healthy: self.circuit.operation.healthy,
            because: None,
            brewer_id: self.brewer.id.clone(),
            nickname: self.brewer.nickname.clone(),
            circuit_id: self.circuit.id.clone(),
            kit: Vec::new(),
            reasons: Vec::new(),
            warnings: match work {
                Work::Descale => cautions.collect(),
                Work::Needles | Work::Rehearsal | Work::Upkeep => Vec::new(),
            },
            working: self.working(worked),
            chosen: worked.chosen.clone(),
            chalk: self.forecast.chalk.clone(),
            bath: mixed.clone(),
            dispensing: worked.dispensing.clone(),
            soak: worked.soak.clone(),
            rinse: worked.rinse.clone(),
            ribbon: ribbon(&steps),
            steps,
            after: None,
            vessel: self.units.measure(match self.way() {
                // It does not stop between cups.
                Way::Programme => mixed.total.ml,
                _ => self.circuit.dispense_ml,
            }),
            reservoir_ml: self.reservoir_ml(),
            mechanism: Some(Mechanism::of(
                self.brewer,
                self.circuit,
                worked.rinse.target_mg_l,
            )),
            beside: self.today.beside,
            cost: None,
        }
    }

    /// The needles on the way of this side's water.
    fn needles(&self) -> Vec<Needle> {
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
    fn is_pressed(&self) -> bool {
        self.way() == Way::Presses
    }

    pub(crate) fn reservoir_ml(&self) -> f64 {
        self.brewer.reservoir_of(self.circuit)
    }

    /// One dispense of a bath, as earlier baths have corrected it.
    fn bath_dispense_ml(&self) -> f64 {
        self.dispense_by(&self.today.measured.bath)
    }

    /// One dispense of rinse water, as earlier fills have corrected it.
    fn rinse_dispense_ml(&self) -> f64 {
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

    fn sizes(&self, agent: &Agent) -> Sizes {
        Sizes {
            carafe_mark: self.brewer.carafe.map(|c| c.mark_ml),
            reservoir_line: self.brewer.reservoir_line_ml,
            bottle: agent.bottle_ml(),
        }
    }

    fn agent(&self, options: &PlanOptions) -> Result<Agent, Problem> {
        let first = self.agents.first().map(|a| a.id.as_str());
        let asked = options.agent_id.as_deref().or(first).unwrap_or_default();
        let mut agent = bath::find(self.agents, asked)?;
        agent.set_percent("percent", options.percent)?;
        Ok(agent)
    }

    /// Vinegar is thinned by half in a pod brewer's small bath, to a third in a drip brewer's large one, not at all in
    /// the one cup that is poured in at a time.
    fn usual_recipe(&self, form: &AgentForm) -> Recipe {
        match form {
            AgentForm::Liquid { .. } => Recipe::Ratio {
                agent: 1.0,
                water: match self.way() {
                    // So little goes in that a thin bath would be used up.
                    Way::CupAtATime => 0.0,
                    _ if self.is_drip() => 2.0,
                    _ => 1.0,
                },
            },
            AgentForm::Powder { .. } => Recipe::Dose { g_per_l: 25.0 },
            AgentForm::Bottle { .. } | AgentForm::Tablet { .. } => Recipe::usual(form),
        }
    }

    fn usual_tool(&self, form: &AgentForm) -> Tool {
        match form {
            AgentForm::Bottle { .. } => Tool::Bottle,
            _ if self.brewer.carafe.is_some() => Tool::CarafeMarks,
            _ if self.units == Units::Us => Tool::Cups,
            _ => Tool::Ml,
        }
    }

    /// "To a mark, then water": the parts that an amount of agent comes to.
    fn recipe_of_amount(&self, typed: &str, total_ml: f64) -> Result<Recipe, Problem> {
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
    fn bath_ml(&self, options: &PlanOptions, agent: &Agent) -> Result<f64, Problem> {
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
            None if self.units == Units::Us => 4.0 * CUP_ML,
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
    fn least_bath_ml(&self) -> f64 {
        let late_mode =
            self.brewer.has_mode(self.circuit) && !self.circuit.mechanics.soaks_in_mode();
        let hot_water = self.brewer.has_hot_water(self.circuit);
        let dispenses = 1 + u8::from(late_mode) + u8::from(hot_water);
        f64::from(dispenses) * self.bath_dispense_ml() + self.circuit.dead_volume_ml
    }

    fn dispensing(&self, total_ml: f64) -> Dispensing {
        self.dispensing_by(self.way(), total_ml)
    }

    /// The same bath when it is pressed, whatever the usual way is.
    fn pressed_through(&self, total_ml: f64) -> Dispensing {
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
    fn soaks_hot(&self) -> bool {
        self.mode().soaks || self.today.beside
    }

    /// Chalk that is likely left when `baths` of `agent` have done their work, with its band; a strength that only the label's
    /// pH tells is then at the same end of its own.
    pub(crate) fn chalk_after(&self, baths: &Bathed, agent: &Agent) -> Chalk {
        let chalk = &self.forecast.chalk;
        let spread = (chalk.high_mg / chalk.mg.max(1e-9)).max(1.0).ln() / P90;
        let film = Film {
            mg: chalk.mg,
            sigma: if chalk.mg > 0.0 { spread } else { 0.0 },
            area_cm2: self.circuit.area_cm2,
        };
        let path = self.circuit.path(self.brewer);
        let left = baths.leaves(&film, &path);
        let (mut p10, mut p90) = (left.p10, left.p90);
        if let Some([likely, least, most]) = agent.label_percent() {
            p10 = baths.times(most / likely).leaves(&film, &path).p10;
            p90 = baths.times(least / likely).leaves(&film, &path).p90;
        }
        Chalk::of(
            [p10, left.median, p90].map(|share| share * chalk.mg),
            self.circuit,
        )
    }
}

#[cfg(test)]
pub(crate) mod tests;

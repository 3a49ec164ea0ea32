//! One clean of one circuit as an agreed plan: bath, soak, rinse, ordered steps, time, kit and reasons.
//!
//! A plan is frozen when a clean starts; the running clean reads nothing else. Changing a field here changes what old
//! cleans mean, so fields are only ever added, with a default.

mod alternatives;
mod steps;

pub use alternatives::{Alternative, Comparison};
pub use steps::{MIX, PROGRAMME, RINSE, RUN, SOAK, VERIFY, answers, mixes};

use crate::bath::{self, Agent, AgentForm, Mixed, Order, Recipe, Soak, Soaking, Warning};
use crate::bounds;
use crate::brewer::{Brewer, Circuit, Healthy, Heater, Needle, Outlet, Signal, Way};
use crate::chem::dissolve::CLEARED;
use crate::journal::potential_to_learn;
use crate::money::{Cost, Terms, Uses};
use crate::problem::{Code, Problem, Problems};
use crate::rinse::{Counted, Rinse, Rinsing, Taste, dispense_by, dispenses};
use crate::scale::{Chalk, Forecast};
use crate::text;
use crate::units::{CUP_ML, Measure, Sizes, Tool, Units, parse_volume};
use crate::working::Working;
use serde::{Deserialize, Serialize};

/// What a person chose; everything left out is decided here.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct PlanOptions {
    /// Which agent; vinegar unless said.
    pub agent_id: Option<String>,
    /// Strength of this bottle, % w/v, when it differs from the agent's.
    pub percent: Option<f64>,
    /// How it is thinned; by family unless said.
    pub recipe: Option<Recipe>,
    /// What it is measured with.
    pub measure: Option<Tool>,
    /// How much agent, as typed, with water up to the bath's amount; instead of a recipe.
    pub agent_amount: Option<String>,
    /// How much bath, as typed: "4 cups", "1.2 L", "14 marks".
    pub bath: Option<String>,
    /// Whether it stops at the dose or fills the reservoir, when no amount is typed; by family unless said.
    pub fill: Option<Fill>,
    /// Whose taste decides the rinse.
    pub taste: Option<Taste>,
    /// Minutes of soaking.
    pub soak_minutes: Option<f64>,
    /// Fresh baths one after the other; one unless said.
    pub baths: Option<u32>,
    /// Minutes from first to last act that the person has.
    pub minutes: Option<f64>,
    /// Which side of a combination; the one whose turn it is unless said.
    pub circuit_id: Option<String>,
    /// By hand although it has a programme, which some brewers only offer when their light asks.
    pub by_hand: bool,
    /// What is to be done; a descaling unless said.
    pub work: Work,
}

/// What a plan is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Work {
    /// A whole clean.
    #[default]
    Descale,
    /// Only the needles.
    Needles,
    /// A clean with plain water, to learn the buttons; it stays out of the history.
    Rehearsal,
}

/// How far a bath fills the reservoir.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Fill {
    /// As much as the recipe's dose.
    Dose,
    /// To the top mark.
    Full,
}

/// What a caution is about; each has its own icon.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Hazard {
    /// Pull the plug.
    Unplug,
    /// Near-boiling liquid and steam.
    Hot,
    /// Needles.
    Sharp,
    /// Acid on skin, eyes, stone.
    Acid,
    /// Never with bleach or other cleaners.
    NeverMix,
    /// Glass that cracks.
    Glass,
    /// The maker's manual, and qualified repair.
    Manual,
}

/// A caution on the step it belongs to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Caution {
    /// What it is about.
    pub hazard: Hazard,
    /// What to do.
    pub text: String,
}

/// A picture that belongs on a step.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Picture {
    /// The vessel with agent and water.
    Pour,
    /// The rinse ladder.
    Ladder,
    /// The bore with its crust.
    Bore,
    /// The needles with their holes.
    Needles,
    /// The glasses so far.
    Glasses,
    /// How the service disc lies.
    Disc,
}

/// A place in a brewer, to be pointed at in a drawing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Place {
    /// Where water is filled in.
    Reservoir,
    /// The water filter in it.
    Filter,
    /// The hot tank or heater block.
    Tank,
    /// The riser of a drip brewer.
    Riser,
    /// The needle in the lid.
    LidNeedle,
    /// Where the pod or capsule sits.
    PodChamber,
    /// The needle below the pod.
    CupNeedle,
    /// The mug or jug on the tray.
    Mug,
    /// The basket of grounds.
    Basket,
    /// The carafe.
    Carafe,
    /// The outside.
    Body,
}

/// One answer to a question.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Answer {
    /// Name in data.
    pub id: String,
    /// Words on the button.
    pub text: String,
}

/// A question asked at the end.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Question {
    /// Name in data.
    pub id: String,
    /// The question.
    pub text: String,
    /// How to find out.
    pub how: String,
    /// What can be said.
    pub answers: Vec<Answer>,
    /// Whether it may be left open.
    #[serde(default)]
    pub optional: bool,
}

/// How a step is carried out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Doing {
    /// Done once.
    Once,
    /// Counted until the machine's signal or the target.
    Count {
        /// How many are expected.
        target: u32,
    },
    /// Waited for.
    Wait {
        /// Minutes on the timer.
        minutes: f64,
    },
    /// Asked.
    Ask {
        /// The questions.
        questions: Vec<Question>,
    },
    /// Cleared hole by hole.
    Clear {
        /// The needles.
        needles: Vec<Needle>,
    },
    /// Timed and counted, if the person likes.
    Measure {
        /// The cup that is run: "8 fl oz".
        cup: String,
    },
}

/// What is in the machine.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Inside {
    /// Water as always.
    Water,
    /// The bath.
    Bath,
    /// What the bath left behind.
    Traces,
}

/// One step of the work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Step {
    /// Identity within the plan.
    pub id: String,
    /// The act as a headline.
    pub title: String,
    /// What to do, one act a sentence.
    pub what: Vec<String>,
    /// The figure to read from an arm's length.
    pub figure: Option<String>,
    /// How to know it is right.
    pub check: String,
    /// The usual mistake.
    pub mistake: String,
    /// Cautions of this step.
    pub cautions: Vec<Caution>,
    /// How it is carried out.
    pub doing: Doing,
    /// Label of the one button.
    pub act: String,
    /// The picture beside it.
    pub picture: Option<Picture>,
    /// Minutes of work.
    pub hands_on_min: f64,
    /// Minutes the machine works alone.
    pub hands_free_min: f64,
    /// What is in the machine once it has begun.
    pub inside: Inside,
    /// Whether the machine is plugged in meanwhile.
    pub plugged: bool,
    /// The step that leaves the hands free for this one, which may then be done early.
    #[serde(default)]
    pub during: Option<String>,
    /// What the machine may show meanwhile.
    #[serde(default)]
    pub signals: Vec<Signal>,
    /// What is done when the reservoir has run empty.
    #[serde(default)]
    pub refill: Option<String>,
    /// Where in the brewer it is done.
    #[serde(default)]
    pub places: Vec<Place>,
}

/// A stretch of the time ribbon.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stretch {
    /// The step.
    pub step: String,
    /// Its headline.
    pub label: String,
    /// Whether hands are needed.
    pub hands_on: bool,
    /// Minutes from the start.
    pub start_min: f64,
    /// How long, minutes.
    pub minutes: f64,
    /// The hands-free step it is fitted into.
    #[serde(default)]
    pub during: Option<String>,
}

/// The time a plan takes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Ribbon {
    /// Stretches in order.
    pub stretches: Vec<Stretch>,
    /// Minutes of work.
    pub hands_on_min: f64,
    /// Minutes from first to last act.
    pub elapsed_min: f64,
    /// "about 30 min of work in 1 h 20 min".
    pub text: String,
}

/// The bath's dispenses.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Dispensing {
    /// Whole dispenses.
    pub count: u32,
    /// One dispense.
    pub each: Measure,
    /// Left to pour away.
    pub remainder: Measure,
    /// "5 dispenses of 10 fl oz, then about 3 fl oz to pour away".
    pub text: String,
}

/// What a person may choose instead, each with its words.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RecipeChoice {
    /// The recipe.
    pub recipe: Recipe,
    /// Its label.
    pub label: String,
}

/// What was chosen, with defaults filled in, and what else could be.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Chosen {
    /// The agent.
    pub agent_id: String,
    /// Its strength as bought, if a liquid.
    pub percent: Option<f64>,
    /// The recipe.
    pub recipe: Recipe,
    /// Recipes offered for this agent.
    pub recipes: Vec<RecipeChoice>,
    /// The tool.
    pub measure: Tool,
    /// Tools that can be used here.
    pub measures: Vec<Tool>,
    /// Whose taste.
    pub taste: Taste,
    /// Minutes of soaking.
    pub soak_minutes: f64,
    /// Fresh baths one after the other.
    #[serde(default = "one")]
    pub baths: u32,
}

const fn one() -> u32 {
    1
}

/// The same clean with the next strength up, for when a bath with soak was not enough.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stronger {
    /// The bath.
    pub bath: Mixed,
    /// Minutes of soaking.
    pub soak_minutes: f64,
    /// Its rinse.
    pub rinse: Rinse,
    /// How it is mixed.
    pub mix: Step,
}

/// A journal entry that led to a clean.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Because {
    /// The entry.
    pub entry_id: String,
    /// The entry in words.
    pub text: String,
}

/// A whole plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Plan {
    /// The brewer.
    pub brewer_id: String,
    /// Its nickname when the plan was made.
    pub nickname: String,
    /// The circuit.
    pub circuit_id: String,
    /// What was chosen.
    pub chosen: Chosen,
    /// Chalk expected.
    pub chalk: Chalk,
    /// The bath.
    pub bath: Mixed,
    /// Its dispenses.
    pub dispensing: Dispensing,
    /// The soak.
    pub soak: Soak,
    /// The rinse.
    pub rinse: Rinse,
    /// Steps in order.
    pub steps: Vec<Step>,
    /// Time.
    pub ribbon: Ribbon,
    /// What to lay out.
    pub kit: Vec<String>,
    /// Why it is so, one line each.
    pub reasons: Vec<String>,
    /// Cautions of the bath.
    pub warnings: Vec<String>,
    /// Chalk that is expected to be left, mg.
    pub left_mg: f64,
    /// Litres × potential that went through since the last clean, mg, as if that had left nothing.
    #[serde(default)]
    pub potential_mg: f64,
    /// The most that comes out between two visits.
    pub vessel: Measure,
    /// Reservoir to its top mark, mL.
    #[serde(default)]
    pub reservoir_ml: f64,
    /// What it costs.
    #[serde(default)]
    pub cost: Option<Cost>,
    /// What it is for.
    #[serde(default)]
    pub work: Work,
    /// "pod side", where the brewer has several.
    #[serde(default)]
    pub side: Option<String>,
    /// The next strength up.
    #[serde(default)]
    pub stronger: Option<Stronger>,
    /// How it flows when all is well.
    #[serde(default)]
    pub healthy: Option<Healthy>,
    /// What was looked into before, and led to it.
    #[serde(default)]
    pub because: Option<Because>,
    /// Formulas, inputs, sources.
    pub working: Vec<Working>,
}

impl Plan {
    /// What it uses of `agent` and everything else that costs.
    fn uses<'a>(&'a self, agent: &'a Agent) -> Uses<'a> {
        Uses {
            agent,
            bath: &self.bath,
            baths: self.chosen.baths,
            water_ml: self.rinse.water.ml + f64::from(self.chosen.baths) * self.bath.water.ml,
            hands_on_min: self.ribbon.hands_on_min,
        }
    }
}

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
            let (mut plan, rinsing) = facts.draw_up(options)?;
            if plan.work == Work::Descale {
                plan.stronger = facts.stronger(options, &plan, rinsing)?;
            }
            Ok(plan)
        })
    }

    /// Asks of these facts, or of the same brewer without its programme where it is run by hand.
    fn run_as_asked<T>(&self, options: &PlanOptions, ask: impl FnOnce(&Facts) -> T) -> T {
        if !(options.by_hand && self.brewer.self_clean) {
            return ask(self);
        }
        let brewer = Brewer {
            self_clean: false,
            ..self.brewer.clone()
        };
        ask(&Facts {
            brewer: &brewer,
            ..self.clone()
        })
    }

    /// The plan without the next strength up, which nobody needs to compare baths.
    fn draw_up(&self, options: &PlanOptions) -> Result<(Plan, Rinsing), Problems> {
        let agent = self.agent(options)?;
        let mut problems = Problems::default();
        let sizes = self.sizes(&agent);
        let tool = options
            .measure
            .unwrap_or_else(|| self.usual_tool(&agent.form));
        let marks = problems.note(bath::marks("measure", tool, sizes));
        let volume = problems.note(self.bath_ml(options, &agent));
        let soak_asked = options
            .soak_minutes
            .map(|m| bounds::MINUTES.check("soak_minutes", m));
        let soak_asked = soak_asked.and_then(|m| problems.note(m));
        let baths = options.baths.unwrap_or(1);
        if !(1..=MOST_BATHS).contains(&baths) {
            let message = format!("give 1 to {MOST_BATHS} baths");
            problems
                .0
                .push(Problem::new(Code::OutOfRange, "baths", message));
        }
        problems.note(
            options
                .minutes
                .map_or(Ok(0.0), |m| bounds::SPARE_MINUTES.check("minutes", m)),
        );
        let marks_and_volume = problems.or(marks.zip(volume))?;
        let (marks, volume) = marks_and_volume;

        let chalk = &self.forecast.chalk;
        let total_ml = marks.floor(volume);
        let recipe = match &options.agent_amount {
            Some(typed) => self.recipe_of_amount(typed, total_ml)?,
            None => options
                .recipe
                .unwrap_or_else(|| self.usual_recipe(&agent.form)),
        };
        let field = match options.agent_amount {
            Some(_) => "agent_amount",
            None => "recipe",
        };
        recipe.check(field, &agent.form)?;
        let least = self.circuit.dispense_ml.min(self.reservoir_ml()) + self.circuit.dead_volume_ml;
        if self.is_pressed() && total_ml + 1.0 < least {
            let text = format!(
                "the bath must give at least one dispense: {} or more",
                self.units.volume(least)
            );
            return Err(Problem::new(Code::OutOfRange, "bath", text).into());
        }
        let mixed = Order {
            agent: &agent,
            recipe,
            total_ml,
            marks,
            load_mg: chalk.high_mg / f64::from(baths),
        }
        .mix();
        let dispensing = self.dispensing(total_ml);
        let soaking = self.soaking(&agent, &mixed, baths);
        let soak = soaking.advise();
        // A programme soaks as long as it runs; nobody stops it.
        let soak_minutes = match self.way() {
            Way::Programme => self.programme_minutes().0,
            _ => soak_asked.unwrap_or(soak.minutes),
        };
        let taste = options.taste.unwrap_or_default();
        let rinsing = Rinsing {
            acid: agent.acid(),
            start_mg_l: mixed.percent * 10_000.0,
            taste,
            washout: self.circuit.washout(),
            hold_up_ml: self.circuit.hold_up_ml,
            portion_ml: self.rinse_dispense_ml(),
            reservoir_ml: self.reservoir_ml(),
            dead_volume_ml: if self.is_drip() {
                0.0
            } else {
                self.circuit.dead_volume_ml
            },
        };
        let rinse = rinsing.compute(self.units);
        // A soak as long as advised clears by how it was advised; only a shorter one needs the walk.
        let cleared = if soak.clears && soak_minutes >= soak.minutes {
            CLEARED
        } else {
            soaking.clears_by(soak_minutes)
        };
        let useful_mg = mixed.useful_mg * f64::from(baths);
        let left_mg = (chalk.mg * (1.0 - cleared)).max(chalk.mg - useful_mg);
        let chosen = Chosen {
            agent_id: agent.id.clone(),
            percent: agent.percent(),
            recipe,
            recipes: Recipe::schools(&agent.form)
                .into_iter()
                .map(|recipe| RecipeChoice {
                    recipe,
                    label: recipe.label(),
                })
                .collect(),
            measure: tool,
            measures: [
                Tool::Cups,
                Tool::FlOz,
                Tool::Ml,
                Tool::CarafeMarks,
                Tool::ReservoirLines,
                Tool::Bottle,
            ]
            .into_iter()
            .filter(|tool| bath::marks("measure", *tool, sizes).is_ok())
            .collect(),
            taste,
            soak_minutes,
            baths,
        };
        let work = options.work;
        let steps = steps::steps(self, work, &chosen, &mixed, &dispensing, &rinse);
        let ribbon = ribbon(&steps);
        let vessel = self.units.measure(match self.way() {
            // It does not stop between cups.
            Way::Programme => total_ml,
            _ => self.circuit.dispense_ml,
        });
        let mut plan = Plan {
            work,
            side: (self.brewer.circuits.len() > 1).then(|| self.circuit.name().to_owned()),
            stronger: None,
            healthy: self.circuit.operation.healthy,
            because: None,
            brewer_id: self.brewer.id.clone(),
            nickname: self.brewer.nickname.clone(),
            circuit_id: self.circuit.id.clone(),
            kit: Vec::new(),
            reasons: Vec::new(),
            warnings: match work {
                Work::Descale => mixed
                    .warnings
                    .iter()
                    .map(|w| warning(*w).to_owned())
                    .collect(),
                Work::Needles | Work::Rehearsal => Vec::new(),
            },
            working: self.working(&agent, &mixed, &soaking, &soak, &rinsing, &rinse),
            chosen,
            chalk: chalk.clone(),
            bath: mixed,
            dispensing,
            soak,
            rinse,
            steps,
            ribbon,
            left_mg,
            potential_mg: potential_to_learn(
                self.circuit,
                self.forecast.potential_mg,
                self.forecast.began_with_mg,
            ),
            vessel,
            reservoir_ml: self.reservoir_ml(),
            cost: None,
        };
        plan.kit = self.kit(&agent, &plan);
        plan.reasons = self.reasons(&agent, &plan, cleared);
        if work == Work::Descale {
            plan.cost = Some(plan.uses(&agent).cost(self.terms));
        }
        Ok((plan, rinsing))
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

    /// The next recipe that is stronger than the plan's, never one that needs goggles.
    fn stronger(
        &self,
        options: &PlanOptions,
        plan: &Plan,
        rinsing: Rinsing,
    ) -> Result<Option<Stronger>, Problem> {
        let agent = self.agent(options)?;
        let sizes = self.sizes(&agent);
        let marks = bath::marks("measure", plan.chosen.measure, sizes)?;
        let mix = |recipe| {
            let order = Order {
                agent: &agent,
                recipe,
                total_ml: plan.bath.total.ml,
                marks,
                load_mg: self.forecast.chalk.high_mg,
            };
            order.mix()
        };
        let bath = Recipe::schools(&agent.form)
            .into_iter()
            .map(mix)
            .filter(|m| {
                m.percent > plan.bath.percent * 1.05 && !m.warnings.contains(&Warning::Strong)
            })
            .min_by(|a, b| a.percent.total_cmp(&b.percent));
        Ok(bath.map(|bath| Stronger {
            mix: steps::mix_step(self, &bath),
            soak_minutes: self.soaking(&agent, &bath, 1).advise().minutes,
            rinse: Rinsing {
                start_mg_l: bath.percent * 10_000.0,
                ..rinsing
            }
            .compute(self.units),
            bath,
        }))
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
        let ml = parse_volume("agent_amount", typed, &bounds::VOLUME, mark)?;
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
        let one = self.circuit.dispense_ml + self.circuit.dead_volume_ml;
        Ok(if self.is_drip() && options.fill != Some(Fill::Dose) {
            usual.min(capacity)
        } else {
            usual.max(one * 1.2).min(capacity)
        })
    }

    fn dispensing(&self, total_ml: f64) -> Dispensing {
        let (count, remainder) = if !self.is_pressed() {
            (1, 0.0)
        } else {
            dispenses(
                total_ml,
                self.bath_dispense_ml(),
                self.circuit.dead_volume_ml,
            )
        };
        let each = self.units.measure(if !self.is_pressed() {
            total_ml
        } else {
            self.bath_dispense_ml()
        });
        let remainder = self.units.measure(remainder);
        let text = match self.way() {
            Way::Halves => format!(
                "all {} through in one brew, stopped half-way to soak",
                each.text
            ),
            Way::Programme => format!("all {} through in the programme", each.text),
            Way::CupAtATime => format!(
                "{} poured in at once, paused at the first drops to soak",
                each.text
            ),
            Way::Presses => {
                let whole = text::count(count, "dispense", "dispenses");
                format!(
                    "{whole} of {}, then about {} to pour away",
                    each.text, remainder.text
                )
            }
        };
        Dispensing {
            count,
            each,
            remainder,
            text,
        }
    }

    /// A tank that stays full thins the first dispense; a drip riser holds the bath as mixed.
    fn soaking(&self, agent: &Agent, mixed: &Mixed, baths: u32) -> Soaking {
        let mixed_g_per_l = mixed.percent * 10.0;
        let (g_per_l, bath_ml) = if self.is_drip() {
            (mixed_g_per_l, mixed.total.ml / 2.0)
        } else if self.way() == Way::CupAtATime {
            // Its tank empties with every brew, so the cup of bath stands there unthinned.
            (mixed_g_per_l, mixed.total.ml)
        } else {
            let (hold_up, first) = (self.circuit.hold_up_ml, self.circuit.dispense_ml);
            (mixed_g_per_l * first / (hold_up + first), hold_up)
        };
        Soaking {
            acid: agent.acid(),
            g_per_l,
            mixed_g_per_l,
            bath_ml,
            area_cm2: self.circuit.area_cm2,
            // Each of several baths has its share to clear.
            chalk_mg: (
                self.forecast.chalk.mg / f64::from(baths),
                self.forecast.chalk.high_mg / f64::from(baths),
            ),
        }
    }

    fn reasons(&self, agent: &Agent, plan: &Plan, cleared: f64) -> Vec<String> {
        let (mixed, chosen, soak, rinse) = (&plan.bath, &plan.chosen, &plan.soak, &plan.rinse);
        match plan.work {
            Work::Needles => {
                return vec![
                    "Only the needles: no bath, so nothing to rinse.".to_owned(),
                    "A cup is timed before and after; the difference shows what it brought."
                        .to_owned(),
                ];
            }
            Work::Rehearsal => {
                return vec![
                    "Plain water in place of the bath: nothing to rinse, nothing to smell."
                        .to_owned(),
                    "It stays out of the cleaning history; the due date does not move.".to_owned(),
                ];
            }
            Work::Descale => {}
        }
        let g = |mg: f64| format!("{:.1} g", mg / 1000.0);
        let useful_mg = mixed.useful_mg * f64::from(chosen.baths);
        let enough = if useful_mg >= self.forecast.chalk.high_mg {
            "enough even for the high estimate of"
        } else {
            "less than the high estimate of"
        };
        let volume = if self.way() == Way::CupAtATime {
            "One cup of bath fills tank and tubing; more does not go in."
        } else if self.is_drip() && mixed.total.ml > 0.9 * self.reservoir_ml() {
            "The bath fills the reservoir, so that all of the riser is wetted."
        } else {
            "The bath stops at its dose: more would only be more to rinse."
        };
        let mut reasons = vec![
            format!(
                "Chalk (scale): {}, from {}.",
                self.forecast.chalk.text, self.forecast.reason
            ),
            format!(
                "{} {}, {enough} {}.",
                match chosen.baths {
                    1 => "The bath".to_owned(),
                    n => format!("Each of {n} fresh baths"),
                },
                mixed.useful_text,
                g(self.forecast.chalk.high_mg)
            ),
            volume.to_owned(),
            match self.way() {
                Way::Programme => {
                    let (minutes, known) = self.programme_minutes();
                    format!(
                        "The programme soaks by itself: about {}, {known}. That clears about {:.0} % of the chalk; the rest counts on. By hand the soak would be {}.",
                        text::minutes(minutes),
                        100.0 * cleared,
                        text::minutes(soak.minutes)
                    )
                }
                _ => format!("Soak: {}.", soak.reason),
            },
            format!("Rinse: {}.", rinse.reason),
        ];
        let corrected = [
            ("a bath", self.bath_dispense_ml()),
            ("rinse water", self.rinse_dispense_ml()),
        ];
        for (what, ml) in corrected {
            if self.is_pressed() && ml != self.circuit.dispense_ml {
                reasons.push(format!(
                    "Earlier cleans counted otherwise than reckoned: a dispense of {what} is taken as {}, not {}.",
                    self.units.volume(ml),
                    self.units.volume(self.circuit.dispense_ml)
                ));
            }
        }
        reasons.extend(self.today.why_side.clone());
        if self.today.filter_due && self.brewer.filter.is_some() {
            reasons.push("The water filter is worn out: a new one goes in at the end.".to_owned());
        }
        if self.brewer.forbids.contains(&agent.id) {
            reasons.insert(
                0,
                format!(
                    "The maker of this brewer forbids {}: you chose it against that.",
                    agent.name.to_lowercase()
                ),
            );
        }
        reasons
    }

    fn kit(&self, agent: &Agent, plan: &Plan) -> Vec<String> {
        let (work, mixed, chosen, vessel) = (plan.work, &plan.bath, &plan.chosen, &plan.vessel);
        let times = match chosen.baths {
            1 => String::new(),
            n => format!(", {n} times"),
        };
        let mut kit = Vec::new();
        if work == Work::Descale {
            kit.push(format!("{}: {}{times}", agent.name, mixed.agent_text));
        }
        kit.push(if self.is_drip() {
            format!("The carafe, empty ({})", vessel.text)
        } else {
            format!("Mug or jug for at least {}, on the drip tray", vessel.text)
        });
        if work == Work::Descale {
            kit.push("Measuring cup or jug, spoon".to_owned());
        }
        if work != Work::Rehearsal {
            kit.push("Bowl for parts, dish soap, soft cloth, paper towel".to_owned());
            kit.push("Small brush kept for the kitchen only".to_owned());
            kit.push("Two clear clean glasses".to_owned());
        }
        match self.circuit.outlet {
            Outlet::Pod => kit.push("Straightened paper clip for the needles".to_owned()),
            Outlet::Capsule if self.way() == Way::Programme => {
                let disc = self.brewer.reader.map_or("the service disc", |r| r.disc());
                kit.push(kept("Service disc", disc, &self.brewer.places.disc));
            }
            Outlet::Capsule => kit.push("A used capsule, emptied, rinsed and closed".to_owned()),
            Outlet::Grounds => {}
        }
        if self.circuit.outlet == Outlet::Pod && self.brewer.carafe.is_some() {
            kit.push(kept("Pod adapter", "", &self.brewer.places.adapter));
        }
        if self.today.filter_due && self.brewer.filter.is_some() {
            kit.push("A new water filter".to_owned());
        }
        if !self.brewer.places.guide.is_empty() {
            kit.push(kept("The maker's guide", "", &self.brewer.places.guide));
        }
        if work == Work::Descale && mixed.warnings.contains(&Warning::Strong) {
            kit.push("Gloves and goggles".to_owned());
        }
        kit
    }

    fn working(
        &self,
        agent: &Agent,
        mixed: &Mixed,
        soaking: &Soaking,
        soak: &Soak,
        rinsing: &Rinsing,
        rinse: &Rinse,
    ) -> Vec<Working> {
        let g = |mg: f64| format!("{:.2} g", mg / 1000.0);
        let mut all = self.forecast.working.clone();
        all.push(Working::new(
            "strength of the bath",
            "agent rounded up to a mark, total kept; strength × agent / total",
            &[
                (
                    "agent as bought",
                    agent
                        .percent()
                        .map_or("powder".to_owned(), |p| format!("{p} % w/v")),
                ),
                ("agent", mixed.agent_text.clone()),
                ("total", mixed.total.text.clone()),
            ],
            format!("{:.2} % w/v, pH {:.1}", mixed.percent, mixed.ph),
            "C₁V₁ = C₂V₂; label strength as given",
        ));
        all.push(Working::new(
            "chalk the bath can take up",
            "CaCO3 dissolved until the bath reaches pH 4.5",
            &[
                ("strength", format!("{:.2} % w/v", mixed.percent)),
                ("volume", mixed.total.text.clone()),
            ],
            format!(
                "{} usefully, {} at most",
                g(mixed.useful_mg),
                g(mixed.capacity_mg)
            ),
            bath::SOURCE,
        ));
        all.push(Working::new(
            "soak",
            "t = V/A ∫ dy/F(y), half as long again for an uneven film",
            &[
                (
                    "strength at the chalk",
                    format!("{:.2} % w/v", soaking.g_per_l / 10.0),
                ),
                ("volume at the chalk", self.units.volume(soaking.bath_ml)),
                ("area", format!("{:.0} cm²", soaking.area_cm2)),
                ("chalk", g(soaking.chalk_mg.0)),
                (
                    "temperature",
                    format!("{} °C, hot and cooling", bath::SOAK_C),
                ),
            ],
            format!(
                "{} ({} to {})",
                text::minutes(soak.minutes),
                text::minutes(soak.low),
                text::minutes(soak.high)
            ),
            crate::chem::dissolve::SOURCE,
        ));
        all.push(Working::new(
            "rinse",
            "Cₙ = C₀ · (Vₕ/(Vₕ+v))ⁿ, the first n at or below the target",
            &[
                (
                    "start C₀",
                    format!("{:.0} mg/L, the bath itself", rinsing.start_mg_l),
                ),
                ("hold-up Vₕ", self.units.volume(rinsing.hold_up_ml)),
                ("portion v", rinse.portion.text.clone()),
                ("target", format!("{} mg/L", rinse.target_mg_l)),
            ],
            text::count(rinse.portions, "portion", "portions"),
            crate::chem::washout::SOURCE,
        ));
        all
    }
}

/// A caution of the bath in words.
pub(crate) const fn warning(warning: Warning) -> &'static str {
    match warning {
        Warning::CitrateMayDrop => {
            "Calcium citrate may drop out as white sludge if this bath stands: drain it as soon as the soak is over."
        }
        Warning::CitrateSludge => {
            "This much chalk would turn citric acid into white sludge: split the work into two baths, or use vinegar."
        }
        Warning::TooWeak => {
            "This bath may be used up before the chalk is gone: go stronger, or plan a second bath."
        }
        Warning::Strong => "Strong acid: gloves, goggles and an open window while you pour.",
        Warning::KeepCool => "Keep this acid below 60 °C: use it in a cold machine.",
    }
}

/// "Pod adapter (kept in the drawer)".
fn kept(what: &str, which: &str, place: &str) -> String {
    let which = match which {
        "" => String::new(),
        which => format!(": {which}"),
    };
    let place = match place {
        "" => String::new(),
        place => format!(" (kept: {place})"),
    };
    format!("{what}{which}{place}")
}

/// The steps on a clock: what fits into a hands-free stretch is done there and costs no time of its own.
fn ribbon(steps: &[Step]) -> Ribbon {
    let mut stretches = Vec::new();
    let mut clock = 0.0;
    let stretch = |step: &Step, hands_on, start_min, minutes| Stretch {
        step: step.id.clone(),
        label: step.title.clone(),
        hands_on,
        start_min,
        minutes,
        during: step.during.clone(),
    };
    for step in steps.iter().filter(|s| s.during.is_none()) {
        if step.hands_on_min > 0.0 {
            stretches.push(stretch(step, true, clock, step.hands_on_min));
            clock += step.hands_on_min;
        }
        if step.hands_free_min > 0.0 {
            stretches.push(stretch(step, false, clock, step.hands_free_min));
            let mut inside = clock;
            for fitted in steps.iter().filter(|s| s.during.as_ref() == Some(&step.id)) {
                stretches.push(stretch(fitted, true, inside, fitted.hands_on_min));
                inside += fitted.hands_on_min;
            }
            clock += step.hands_free_min;
        }
    }
    let hands_on_min = steps.iter().map(|s| s.hands_on_min).sum();
    Ribbon {
        text: format!(
            "about {} of work in {}",
            text::minutes(hands_on_min),
            text::minutes(clock)
        ),
        stretches,
        hands_on_min,
        elapsed_min: clock,
    }
}

#[cfg(test)]
pub(crate) mod tests;

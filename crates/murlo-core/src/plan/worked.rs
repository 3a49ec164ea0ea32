//! A bath worked out for one side of a brewer, from what was chosen to what it leaves: choose, mix, schedule, rinse.

use super::steps::Scheme;
use super::{Chosen, Dispensing, Facts, MOST_BATHS, PlanOptions, RecipeChoice, Work};
use crate::bath::{self, Agent, Mixed, Order, Recipe, Soak, Soaking, Warning};
use crate::bounds;
use crate::brewer::Way;
use crate::chem::dissolve::CLEARED;
use crate::problem::{Code, Problem, Problems};
use crate::rinse::{Rinse, Rinsing, Taste};
use crate::units::{Marks, Tool};

/// What is to be mixed, every choice made.
#[derive(Debug, Clone)]
pub(super) struct Choice {
    pub agent: Agent,
    pub recipe: Recipe,
    pub tool: Tool,
    pub marks: Marks,
    pub total_ml: f64,
    pub soak_minutes: Option<f64>,
    pub baths: u32,
    pub taste: Taste,
}

/// A bath worked out.
#[derive(Debug, Clone)]
pub(super) struct Worked {
    pub agent: Agent,
    pub chosen: Chosen,
    pub mixed: Mixed,
    pub dispensing: Dispensing,
    pub soaking: Soaking,
    pub soak: Soak,
    pub rinsing: Rinsing,
    pub rinse: Rinse,
    /// Share of this bath's chalk that it clears.
    pub cleared: f64,
    /// Chalk left after all planned baths, mg.
    pub left_mg: f64,
}

impl Worked {
    pub fn scheme(&self, work: Work) -> Scheme<'_> {
        Scheme {
            work,
            chosen: &self.chosen,
            agent: &self.agent,
            mixed: &self.mixed,
            dispensing: &self.dispensing,
            rinse: &self.rinse,
            left_in: Vec::new(),
        }
    }
}

impl Facts<'_> {
    /// Every choice made, or what is wrong with those that were typed; of as much as was `poured` before, if it was.
    pub(super) fn choose(
        &self,
        options: &PlanOptions,
        poured: Option<f64>,
    ) -> Result<Choice, Problems> {
        let agent = self.agent(options)?;
        let mut problems = Problems::default();
        let tool = options
            .measure
            .unwrap_or_else(|| self.usual_tool(&agent.form));
        let marks = problems.note(bath::marks("measure", tool, self.sizes(&agent)));
        let volume = problems.note(self.bath_ml(options, &agent));
        let soak = options
            .soak_minutes
            .map(|m| bounds::MINUTES.check("soak_minutes", m));
        let soak_minutes = soak.and_then(|m| problems.note(m));
        let baths = options.baths.unwrap_or(1);
        if !(1..=MOST_BATHS).contains(&baths) {
            let message = format!("give 1 to {MOST_BATHS} baths");
            let problem = Problem::new(Code::OutOfRange, "baths", message);
            problems.0.push(problem);
        }
        problems.note(
            options
                .minutes
                .map_or(Ok(0.0), |m| bounds::SPARE_MINUTES.check("minutes", m)),
        );
        let marks_and_volume = problems.or(marks.zip(volume))?;
        let (marks, volume) = marks_and_volume;
        let total_ml = poured.unwrap_or_else(|| marks.floor(volume));
        let (field, recipe) = match &options.agent_amount {
            Some(typed) => ("agent_amount", self.recipe_of_amount(typed, total_ml)?),
            None => {
                let usual = || self.usual_recipe(&agent.form);
                ("recipe", options.recipe.unwrap_or_else(usual))
            }
        };
        recipe.check(field, &agent.form)?;
        let least = self.least_bath_ml();
        if self.is_pressed() && total_ml + 1.0 < least {
            let text = format!(
                "the bath must give its dispenses here: {} or more",
                self.units.volume(least)
            );
            return Err(Problem::new(Code::OutOfRange, "bath", text).into());
        }
        Ok(Choice {
            agent,
            recipe,
            tool,
            marks,
            total_ml,
            soak_minutes,
            baths,
            taste: options.taste.unwrap_or_default(),
        })
    }

    /// The bath of `choice`, when `likely` baths share the work.
    pub(super) fn work_out(&self, choice: &Choice, likely: u32) -> Worked {
        let share = likely.max(choice.baths);
        let mixed = self.mixed(choice, share);
        let soaking = self.soaking(&choice.agent, &mixed, share);
        let soak = soaking.advise();
        // A programme soaks as long as it runs; nobody stops it.
        let soak_minutes = match self.way() {
            Way::Programme => self.programme_minutes().0,
            _ => choice.soak_minutes.unwrap_or(soak.minutes),
        };
        let rinsing = self.rinsing(&choice.agent, mixed.percent * 10_000.0, choice.taste);
        // A soak as long as advised clears by how it was advised; only a shorter one needs the walk.
        let cleared = if soak.clears && soak_minutes >= soak.minutes {
            CLEARED
        } else {
            soaking.clears_by(soak_minutes)
        };
        let chalk_mg = self.forecast.chalk.mg;
        let one = (chalk_mg / f64::from(share) * cleared).min(mixed.useful_mg);
        Worked {
            chosen: self.chosen(choice, soak_minutes),
            dispensing: self.dispensing(mixed.total.ml),
            rinse: rinsing.compute(self.units),
            left_mg: (chalk_mg - f64::from(choice.baths) * one).max(0.0),
            agent: choice.agent.clone(),
            mixed,
            soaking,
            soak,
            rinsing,
            cleared,
        }
    }

    /// How many fresh baths it likely takes, each with its share of the chalk.
    pub(super) fn likely_baths(&self, choice: &Choice) -> u32 {
        let is_enough = |n: &u32| {
            let mixed = self.mixed(choice, *n);
            let fails = [
                Warning::TooWeak,
                Warning::CitrateSludge,
                Warning::CitrateMayDrop,
            ];
            let soak = self.soaking(&choice.agent, &mixed, *n).advise();
            soak.clears && !mixed.warnings.iter().any(|w| fails.contains(w))
        };
        (choice.baths..=MOST_BATHS)
            .find(is_enough)
            .unwrap_or(MOST_BATHS)
    }

    fn mixed(&self, choice: &Choice, share: u32) -> Mixed {
        Order {
            agent: &choice.agent,
            recipe: choice.recipe,
            total_ml: choice.total_ml,
            marks: choice.marks,
            load_mg: self.forecast.chalk.high_mg / f64::from(share),
        }
        .mix()
    }

    pub(super) fn rinsing(&self, agent: &Agent, start_mg_l: f64, taste: Taste) -> Rinsing {
        Rinsing {
            acid: agent.acid(),
            start_mg_l,
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
        }
    }

    fn chosen(&self, choice: &Choice, soak_minutes: f64) -> Chosen {
        let sizes = self.sizes(&choice.agent);
        let tools = [
            Tool::Cups,
            Tool::FlOz,
            Tool::Ml,
            Tool::CarafeMarks,
            Tool::ReservoirLines,
            Tool::Bottle,
        ];
        let of_recipe = |recipe: Recipe| RecipeChoice {
            recipe,
            label: recipe.label(),
        };
        Chosen {
            agent_id: choice.agent.id.clone(),
            percent: choice.agent.percent(),
            recipe: choice.recipe,
            recipes: Recipe::schools(&choice.agent.form)
                .into_iter()
                .map(of_recipe)
                .collect(),
            measure: choice.tool,
            measures: tools
                .into_iter()
                .filter(|tool| bath::marks("measure", *tool, sizes).is_ok())
                .collect(),
            taste: choice.taste,
            soak_minutes,
            baths: choice.baths,
        }
    }
}

//! Work that is planned while a clean runs: a further bath, the needles once more, the rest after a fact was put right.
//!
//! A stage is planned when it is wanted, from what is known then, and frozen in the event that adds it.

use super::kind::Numbers;
use super::steps::{self, Scheme};
use super::worked::{Choice, Worked};
use super::{Chosen, Dispensing, Doing, Facts, Kind, Plan, PlanOptions, Step, Work};
use crate::bathing::planned;
use crate::machine::Mechanism;
use crate::rehearse::{rest, stands_after};
use murlo_base::bounds;
use murlo_base::document;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::Units;
use murlo_brewer::bath::{self, Agent, Mixed, Recipe, Soak, Warning};
use murlo_brewer::instruction::{Instruction, Thing};
use murlo_brewer::rinse::Rinse;
use murlo_brewer::{Brewer, LidNeedle, Needle};
use murlo_chalk::scale::Chalk;
use murlo_chemistry::heater::Way;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeSet, HashMap};

/// A strength at which a further bath may be mixed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Rung {
    /// The agent.
    pub agent_id: String,
    /// Its name.
    pub agent_name: String,
    /// The recipe.
    pub recipe: Recipe,
    /// Its label.
    pub label: String,
    /// Strength of the bath, % w/v.
    pub percent: f64,
    /// Whether it wants gloves and goggles.
    pub is_strong: bool,
}

/// A fact of a brewer that shows only while it is cleaned.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Correction {
    /// It has no cleaning mode that is pressed cup by cup.
    NoMode,
    /// Its programme does not start, or it has none: by hand.
    NoProgramme,
    /// Its mode was gone after it was left alone.
    ModeDoesNotWait,
    /// One press of its largest size gives so much, mL.
    LargestCup(f64),
    /// Its lid needle looks so.
    LidNeedle(LidNeedle),
}

impl Correction {
    /// What somebody says who has noticed it.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::NoMode => "Mine has no cleaning mode",
            Self::NoProgramme => "Its programme does not start",
            Self::ModeDoesNotWait => "Its mode was gone after the wait",
            Self::LargestCup(_) => "Its largest size is another",
            Self::LidNeedle(lid) => lid.words(),
        }
    }

    /// Whether it shows at such a step, where somebody is at the brewer and sees it.
    pub fn shows_at(self, kind: Kind) -> bool {
        let in_bath = [Kind::First, Kind::Soak, Kind::Run, Kind::HotWater];
        match self {
            Self::NoMode => in_bath.contains(&kind),
            Self::ModeDoesNotWait => kind == Kind::Run,
            Self::NoProgramme => kind == Kind::Programme,
            Self::LargestCup(_) => [Kind::First, Kind::Run, Kind::Rinse].contains(&kind),
            Self::LidNeedle(_) => kind == Kind::Needles,
        }
    }

    /// Writes it down with the brewer.
    pub fn tell(self, brewer: &mut Brewer, circuit_id: &str, units: Units) {
        if let Self::LidNeedle(lid) = self {
            brewer.needles = Some(Needle::with_lid(brewer.family, lid));
        }
        let mut circuits = brewer.circuits.iter_mut();
        let Some(circuit) = circuits.find(|c| c.id == circuit_id) else {
            return;
        };
        match self {
            Self::NoMode => {
                circuit.mechanics.mode = Some(false);
                circuit.mechanics.survives = None;
                circuit.mechanics.soaks_inside = None;
                circuit.mechanics.ends = None;
            }
            Self::NoProgramme => circuit.mechanics.programme = Some(false),
            Self::ModeDoesNotWait => {
                circuit.mechanics.survives = Some(murlo_brewer::Survives::Nothing);
                circuit.mechanics.soaks_inside = Some(false);
            }
            Self::LargestCup(ml) => {
                circuit.dispense_ml = ml;
                // As printed on the button; that it was told shows by it.
                circuit.mechanics.sizes = vec![units.whole_volume(ml)];
            }
            Self::LidNeedle(_) => {}
        }
    }
}

/// What is wished for while a clean runs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Wish {
    /// A further bath.
    Bath {
        /// The agent.
        agent_id: String,
        /// The recipe.
        recipe: Recipe,
    },
    /// The needles once more.
    Needles,
    /// Rinsing on, where a rinse was ended with acid inside.
    Rinse,
    /// The rest, as it is with this fact of the brewer.
    Corrected {
        /// The fact.
        fact: Correction,
    },
}

/// What was planned in a running clean. It takes the place of all that was still to do.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stage {
    /// Steps from here to the end.
    pub steps: Vec<Step>,
    /// Whether the step at which it was wished for is among them, and not done with it.
    pub from_here: bool,
    /// The bath that is in the machine then.
    pub bath: Mixed,
    /// Its dispenses.
    pub dispensing: Dispensing,
    /// Its soak.
    pub soak: Soak,
    /// Its rinse, from the strongest acid that the machine still holds.
    pub rinse: Rinse,
    /// What was chosen.
    pub chosen: Chosen,
    /// Chalk that is likely left after it.
    #[serde(default)]
    pub after: Option<Chalk>,
    /// The side as the simulated brewer knows it then.
    pub mechanism: Mechanism,
}

impl Stage {
    /// Checks a stage that comes from outside.
    ///
    /// # Errors
    /// One problem per impossible figure or text, by its place.
    pub fn check(&self) -> Result<(), Problems> {
        let value = serde_json::to_value(self);
        let mut problems = Problems::default();
        problems.note(value.map_or(Ok(()), |value| document::check(&value)));
        problems.note(self.rinse.check("rinse"));
        problems.note(bounds::PER_CENT.check("bath.percent", self.bath.percent));
        problems.note(super::shape::check_steps(&self.steps));
        problems.or(Some(()))
    }

    /// Puts it in the place of every step of `plan` that is not kept.
    pub fn extend(&self, plan: &mut Plan, keeps: impl Fn(usize) -> bool) {
        let mut i = 0;
        plan.steps.retain(|_| {
            i += 1;
            keeps(i - 1)
        });
        plan.steps.extend(self.steps.iter().cloned());
        plan.bath = self.bath.clone();
        plan.dispensing = self.dispensing.clone();
        plan.soak = self.soak.clone();
        plan.rinse = self.rinse.clone();
        plan.chosen = self.chosen.clone();
        plan.after = self.after.clone();
        plan.mechanism = Some(self.mechanism.clone());
        plan.ribbon = super::ribbon::ribbon(&plan.steps);
    }
}

/// Where a clean stands when something is wished for.
#[derive(Debug, Clone, Copy)]
pub struct Moment<'a> {
    /// The plan with everything that was added to it.
    pub plan: &'a Plan,
    /// The current step.
    pub at: usize,
    /// Which steps are done.
    pub done: &'a [bool],
    /// Which were not done but left out, by their ids.
    pub left_out: &'a BTreeSet<String>,
    /// What each has counted.
    pub counts: &'a [u32],
    /// Which bath this is, from 1.
    pub round: u32,
    /// Acid inside, mg/L, as far as rinses have thinned it.
    pub acid_mg_l: f64,
}

impl Moment<'_> {
    /// The current step, or the last once all are done.
    fn step(&self) -> &Step {
        &self.plan.steps[self.at.min(self.plan.steps.len() - 1)]
    }

    /// Steps that stay as they were done.
    pub fn keeps(&self, i: usize, from_here: bool) -> bool {
        self.done[i] || i < self.at || (i == self.at && !from_here)
    }

    /// What the steps that stay put in and did not take out again.
    fn left_in(&self, from_here: bool) -> Vec<Thing> {
        let mut things = Vec::new();
        let steps = self.plan.steps.iter().enumerate();
        let kept = steps.filter(|(i, _)| self.keeps(*i, from_here));
        for instruction in kept.flat_map(|(_, step)| &step.instructions) {
            match instruction {
                Instruction::PutIn {
                    thing: thing @ (Thing::Adapter | Thing::Disc | Thing::EmptyCapsule),
                    ..
                } if !things.contains(thing) => things.push(*thing),
                Instruction::TakeOut { thing } => things.retain(|t| t != thing),
                _ => {}
            }
        }
        things
    }

    /// The numbers that steps which stay have.
    fn numbers(&self, from_here: bool) -> Numbers {
        let steps = self.plan.steps.iter().enumerate();
        let kept = steps.filter(|(i, _)| self.keeps(*i, from_here));
        Numbers::of(kept.map(|(_, step)| step.id.as_str()))
    }

    /// The number of the bath to which the step at which it stands belongs.
    fn bath(&self) -> u32 {
        let mix = self.bath_so_far().first().filter(|s| s.is(Kind::Mix));
        let number = mix.and_then(|mix| Kind::of(&mix.id));
        number.map_or(1, |(_, n)| n)
    }

    /// The steps of this bath up to the one at which it stands, its mixing first.
    fn bath_so_far(&self) -> &[Step] {
        let begun = &self.plan.steps[..self.plan.steps.len().min(self.at + 1)];
        let mix = begun.iter().rposition(|s| s.is(Kind::Mix));
        &begun[mix.unwrap_or(0)..]
    }

    /// Where in the steps of this bath, drawn up anew, the one is at which it stands; the look, where nothing is left to run.
    fn same_in(&self, all: &[Step]) -> Option<usize> {
        let kind = self.step().kind()?;
        let of_kind = |steps: &[Step]| steps.iter().filter(|s| s.is(kind)).count();
        let nth = of_kind(self.bath_so_far()).checked_sub(1)?;
        let mut same = (0..all.len()).filter(|i| all[*i].is(kind));
        let look = || (0..all.len()).find(|i| all[*i].is(Kind::Look));
        let is_over = || look().filter(|_| kind == Kind::Run);
        same.nth(nth).or_else(is_over)
    }

    /// The dispenses after which the bath soaks that runs.
    fn soaked_after(&self) -> Vec<u32> {
        let mut after = Vec::new();
        let mut pressed = 0;
        let first = self.at + 1 - self.bath_so_far().len().min(self.at + 1);
        for step in &self.plan.steps[first..] {
            match step.kind() {
                Some(Kind::Look | Kind::Wash) => break,
                Some(Kind::First | Kind::HotWater) => pressed += 1,
                Some(Kind::Soak) => after.push(pressed),
                _ => {}
            }
            if let (true, Doing::Count { target }) = (step.is(Kind::Run), &step.doing) {
                pressed += target;
            }
        }
        after
    }

    /// The strongest acid that has not been rinsed out yet, mg/L.
    fn unrinsed_mg_l(&self) -> f64 {
        let is_rinsed = self.step().is(Kind::Verify);
        match is_rinsed {
            true => 0.0,
            false => self.plan.rinse.level_mg_l(0),
        }
    }
}

/// No further bath soaks less than practice gives a kept brewer, minutes.
const LEAST_SOAK: f64 = 15.0;
/// The next strength is at least so many times the last: less would bring out no more.
const STEP_UP: f64 = 1.5;
/// Rungs that are worth listing.
const MOST_RUNGS: usize = 5;

impl Facts<'_> {
    /// This bath and the stronger ones that could follow it, mildest first; nothing that the maker forbids.
    pub(super) fn ladder(&self, choice: &Choice, bath: &Mixed) -> Vec<Rung> {
        let agent = &choice.agent;
        let rung = |agent: &Agent, recipe: Recipe| {
            let mixed = bath::Order {
                agent,
                recipe,
                total_ml: choice.total_ml,
                marks: choice.marks,
                load_mg: 0.0,
            }
            .mix();
            Rung {
                agent_id: agent.id.clone(),
                agent_name: agent.name.clone(),
                recipe,
                label: recipe.label(),
                percent: mixed.percent,
                is_strong: mixed.warnings.contains(&Warning::Strong),
            }
        };
        let others = self.agents.iter().filter(|other| {
            other.id != agent.id
                && other.acid() == agent.acid()
                && !self.brewer.forbids.contains(&other.id)
        });
        let mut rungs: Vec<Rung> = [agent]
            .into_iter()
            .chain(others)
            .flat_map(|agent| {
                let recipes = Recipe::schools(&agent.form).into_iter();
                recipes.map(move |recipe| rung(agent, recipe))
            })
            .collect();
        rungs.sort_by(|a, b| a.percent.total_cmp(&b.percent));
        let mut ladder = vec![rung(agent, choice.recipe)];
        for rung in rungs {
            let below = ladder.last().map_or(bath.percent, |r| r.percent);
            if rung.percent >= below * STEP_UP && ladder.len() < MOST_RUNGS {
                ladder.push(rung);
            }
        }
        ladder
    }

    /// The rest of a running clean, once `wish` is granted.
    ///
    /// # Errors
    /// What cannot be done with this brewer or this agent, by its field.
    pub fn further(&self, moment: &Moment, wish: &Wish) -> Result<Stage, Problem> {
        let plan = moment.plan;
        let options = PlanOptions {
            agent_id: Some(match wish {
                Wish::Bath { agent_id, .. } => agent_id.clone(),
                _ => plan.chosen.agent_id.clone(),
            }),
            recipe: Some(match wish {
                Wish::Bath { recipe, .. } => *recipe,
                _ => plan.chosen.recipe,
            }),
            taste: Some(plan.chosen.taste),
            baths: Some(1),
            // Whoever ran the first by hand goes on by hand.
            by_hand: !plan.steps.iter().any(|s| s.is(Kind::Programme)),
            work: plan.work,
            ..PlanOptions::default()
        };
        self.run_as_asked(&options, |facts| match wish {
            Wish::Bath { .. } => facts.further_bath(moment, &options),
            Wish::Needles => Ok(facts.needles_again(moment)),
            Wish::Rinse => Ok(facts.rinse_on(moment, &options)?),
            Wish::Corrected { fact } => facts.corrected(moment, &options, *fact),
        })
    }

    /// The bath in the machine, or a further one like it, worked out from what is known now; with its soaks where they were, if
    /// it runs.
    fn worked_again(
        &self,
        plan: &Plan,
        options: &PlanOptions,
        least_soak: f64,
        soak_after: Option<Vec<u32>>,
    ) -> Result<Worked, Problem> {
        let same_agent = options.agent_id.as_deref() == Some(&plan.chosen.agent_id);
        let options = PlanOptions {
            percent: plan.chosen.percent.filter(|_| same_agent),
            measure: same_agent.then_some(plan.chosen.measure),
            ..options.clone()
        };
        let poured = Some(plan.bath.total.ml);
        let mut choice = self.choose(&options, poured).map_err(Problem::from)?;
        let advised = self.work_out(&choice, 1, 0.0).soak.minutes;
        choice.soak_minutes = Some(advised.max(least_soak));
        choice.soak_after = soak_after;
        Ok(self.work_out(&choice, 1, 0.0))
    }

    fn stage(&self, worked: Worked, steps: Vec<Step>) -> Stage {
        Stage {
            steps,
            from_here: false,
            mechanism: Mechanism::of(self.brewer, self.circuit, worked.rinse.target_mg_l),
            bath: worked.mixed,
            dispensing: worked.dispensing,
            soak: worked.soak,
            rinse: worked.rinse,
            chosen: worked.chosen,
            after: None,
        }
    }

    fn further_bath(&self, moment: &Moment, options: &PlanOptions) -> Result<Stage, Problem> {
        let plan = moment.plan;
        // It finds only what the ones before it left.
        let forecast = murlo_chalk::scale::Forecast {
            chalk: plan
                .after
                .clone()
                .unwrap_or_else(|| self.forecast.chalk.clone()),
            ..self.forecast.clone()
        };
        let facts = Facts {
            forecast: &forecast,
            ..self.clone()
        };
        let least = LEAST_SOAK.max(plan.chosen.soak_minutes);
        let mut worked = facts.worked_again(plan, options, least, None)?;
        let start = worked.rinsing.start_mg_l.max(moment.unrinsed_mg_l());
        worked.rinse = facts
            .rinsing(&worked.agent, start, plan.chosen.taste)
            .compute(facts.units);
        let bath = moment.numbers(false).next(Kind::Mix, 1);
        let mut steps = facts.rest_of(moment, &worked, bath, false);
        number(moment, &mut steps, false);
        let agent = worked.agent.clone();
        let mut stage = facts.stage(worked, steps);
        stage.after =
            planned(&stage.steps, &stage.bath).map(|bath| facts.chalk_after(&bath, &agent));
        Ok(stage)
    }

    fn needles_again(&self, moment: &Moment) -> Stage {
        let alone = moment.plan.work == Work::Needles;
        let steps = steps::needles_again(self, alone, &moment.left_in(false));
        self.same_bath_with(moment, steps)
    }

    /// From the acid that is inside now; a filter that is back already comes out first.
    fn rinse_on(&self, moment: &Moment, options: &PlanOptions) -> Result<Stage, Problem> {
        let plan = moment.plan;
        let agent = self.agent(options)?;
        let rinse = self
            .rinsing(&agent, moment.acid_mg_l, plan.chosen.taste)
            .compute(self.units);
        let is_back = |i: &Instruction| {
            matches!(
                i,
                Instruction::PutIn {
                    thing: Thing::Filter,
                    ..
                }
            )
        };
        let mut kept = plan.steps.iter().enumerate();
        let is_back =
            kept.any(|(i, s)| moment.keeps(i, false) && s.instructions.iter().any(is_back));
        let left_in = moment.left_in(false);
        let steps = steps::rinse_on(self, &rinse, &left_in, is_back);
        Ok(Stage {
            rinse,
            ..self.same_bath_with(moment, steps)
        })
    }

    /// A stage without another bath.
    fn same_bath_with(&self, moment: &Moment, mut steps: Vec<Step>) -> Stage {
        let plan = moment.plan;
        number(moment, &mut steps, false);
        steps::mark_plug(&mut steps, moment.step().plugged);
        Stage {
            steps,
            from_here: false,
            bath: plan.bath.clone(),
            dispensing: plan.dispensing.clone(),
            soak: plan.soak.clone(),
            rinse: plan.rinse.clone(),
            chosen: plan.chosen.clone(),
            after: plan.after.clone(),
            mechanism: Mechanism::of(self.brewer, self.circuit, plan.rinse.target_mg_l),
        }
    }

    /// The steps as they were, with the needles as they are known now.
    fn with_needles(&self, moment: &Moment) -> Stage {
        let waiting = moment.plan.steps.iter().enumerate().skip(moment.at);
        let waiting = waiting.filter(|(i, _)| !moment.done[*i]);
        let mut all: Vec<_> = waiting.map(|(_, step)| step.clone()).collect();
        for step in all.iter_mut().filter(|s| s.is(Kind::Needles)) {
            *step = Step {
                id: step.id.clone(),
                during: step.during.clone(),
                plugged: step.plugged,
                ..steps::clear_needles(self)
            };
        }
        Stage {
            steps: all,
            from_here: true,
            ..self.same_bath_with(moment, Vec::new())
        }
    }

    /// The rest from the current step on, with the brewer as it is known now.
    fn corrected(
        &self,
        moment: &Moment,
        options: &PlanOptions,
        fact: Correction,
    ) -> Result<Stage, Problem> {
        let plan = moment.plan;
        if let Correction::LidNeedle(_) = fact {
            return Ok(self.with_needles(moment));
        }
        let soaks = moment.soaked_after();
        let soaks = Some(soaks).filter(|after| !after.is_empty());
        let mut worked = self.worked_again(plan, options, plan.chosen.soak_minutes, soaks)?;
        worked.rinse = match fact {
            // From the same acid, by cups of the size they really are.
            Correction::LargestCup(_) => self
                .rinsing(&worked.agent, plan.rinse.level_mg_l(0), plan.chosen.taste)
                .compute(self.units),
            _ => plan.rinse.clone(),
        };
        if self.way() != Way::Programme {
            worked.chosen.soak_minutes = worked.chosen.soak_minutes.max(LEAST_SOAK);
        }
        let bath = moment.bath();
        let mut all = self.rest_of(moment, &worked, bath, true);
        // What is poured in stays in; from there on, or from the step that is the same.
        let same = moment.same_in(&all);
        let mixed = all
            .iter()
            .position(|s| s.is(Kind::Mix))
            .map_or(0, |i| i + 1);
        let mut steps = all.split_off(same.unwrap_or(mixed));
        number(moment, &mut steps, true);
        let stage = Stage {
            from_here: true,
            ..self.stage(worked, steps)
        };
        let seen = as_it_was(moment, &stage.mechanism);
        let begun = |i: usize| {
            let is_left_out = moment.left_out.contains(&plan.steps[i].id);
            (moment.done[i] && !is_left_out, moment.counts[i])
        };
        let machine = stands_after(&stage.mechanism, &seen, begun);
        let mut fault = None;
        for before in self.ways_on() {
            let steps = self.begun_with(&before, stage.steps.clone());
            match rest(machine.clone(), &steps) {
                Ok(_) => return Ok(Stage { steps, ..stage }),
                Err(found) => fault = fault.or(Some(found)),
            }
        }
        Err(Problem::new(
            Code::DoesNotFit,
            "act.wish",
            format!(
                "the rest cannot be planned from here ({}): finish as the manual says, or stop here and start again",
                fault.map_or_else(String::new, |fault| fault.text)
            ),
        ))
    }

    /// What may have to be done first, where the brewer stands otherwise than the rest takes it to.
    fn ways_on(&self) -> Vec<Vec<Instruction>> {
        let on = || {
            vec![
                Instruction::CloseLid,
                Instruction::PlugIn,
                Instruction::SwitchOn,
            ]
        };
        let mut ways = vec![Vec::new(), on()];
        if self.brewer.has_mode(self.circuit) {
            ways.push(vec![
                Instruction::CloseLid,
                Instruction::PlugIn,
                Instruction::EnterMode,
            ]);
        }
        let cup = Instruction::PlaceVessel {
            holds_ml: self.circuit.dispense_ml,
        };
        ways.push(vec![cup.clone()]);
        let mut with_cup = on();
        with_cup.push(cup);
        ways.push(with_cup);
        ways
    }

    fn begun_with(&self, before: &[Instruction], mut steps: Vec<Step>) -> Vec<Step> {
        if let Some(first) = steps.first_mut() {
            first.instructions.splice(0..0, before.iter().cloned());
            first.what.splice(0..0, self.wording().say(before));
        }
        steps
    }

    /// Bath `n` and everything after it.
    fn rest_of(&self, moment: &Moment, worked: &Worked, n: u32, from_here: bool) -> Vec<Step> {
        let scheme = Scheme {
            left_in: moment.left_in(from_here),
            ..worked.scheme(Work::Descale)
        };
        let plan = moment.plan;
        let waiting = plan.steps.iter().enumerate().skip(moment.at);
        let kept: Vec<_> = waiting
            .filter(|(i, s)| s.during.is_some() && !moment.done[*i])
            .map(|(_, s)| s.clone())
            .collect();
        let mut steps = steps::rest(self, &scheme, n, kept);
        steps::mark_plug(&mut steps, moment.step().plugged);
        steps
    }
}

/// The plan as it was really carried out on a brewer that is as it is known now: without a mode, what was planned in it was
/// done as a plain cup; in the bath that runs, no press gave more than the largest size does. Those before have run through,
/// however many presses it took.
fn as_it_was(moment: &Moment, mechanism: &Mechanism) -> Plan {
    let mut plan = moment.plan.clone();
    let runs = moment.step().is(Kind::First) || moment.step().is(Kind::Run);
    let bath = plan.steps[..moment.at]
        .iter()
        .rposition(|s| s.is(Kind::Mix));
    let since = bath.filter(|_| runs).unwrap_or(plan.steps.len());
    let has_mode = mechanism.has_mode();
    for (i, step) in plan.steps.iter_mut().enumerate() {
        for list in [&mut step.instructions, &mut step.each] {
            for instruction in list {
                match instruction {
                    Instruction::EnterMode if !has_mode => *instruction = Instruction::SwitchOn,
                    Instruction::Press { ml, in_mode } => {
                        *in_mode &= has_mode;
                        if i > since {
                            *ml = ml.min(mechanism.largest_ml());
                        }
                    }
                    _ => {}
                }
            }
        }
    }
    plan
}

/// Gives each step of a stage an id that no step has which stays.
fn number(moment: &Moment, steps: &mut [Step], from_here: bool) {
    let mut numbers = moment.numbers(from_here);
    let mut renamed = HashMap::new();
    for step in steps.iter_mut() {
        let Some((kind, n)) = Kind::of(&step.id) else {
            continue;
        };
        let id = kind.step_id(numbers.next(kind, n));
        renamed.insert(std::mem::replace(&mut step.id, id.clone()), id);
    }
    for during in steps.iter_mut().filter_map(|step| step.during.as_mut()) {
        if let Some(id) = renamed.get(during) {
            during.clone_from(id);
        }
    }
}

#[cfg(test)]
mod tests;

//! Work that is planned while a clean runs.

use crate::bathing::planned;
use crate::correction::Correction;
use crate::machine::{Machine, Mechanism};
use crate::rehearse::{rest, stands_after};
use crate::shape::Rung;
use crate::stage::{Moment, Stage, Wish, number};
use crate::steps::{self, Scheme};
use crate::worked::{BathChoice, Worked};
use crate::{Facts, Kind, Plan, PlanOptions, Step, Work};
use murlo_base::problem::{Code, Problem};
use murlo_brewer::bath::{self, Agent, Mixed, Recipe, Warning};
use murlo_brewer::instruction::{Instruction, Thing};
use murlo_chemistry::heater::Way;

impl Facts<'_> {
    /// This bath and the stronger ones that could follow it, mildest first; nothing that the maker forbids.
    pub(super) fn ladder(&self, choice: &BathChoice, bath: &Mixed) -> Vec<Rung> {
        let agent = &choice.agent;
        let rung = |agent: &Agent, recipe: Recipe| {
            let mixed = bath::MixOrder {
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
                Wish::Poured { so, .. } => so.agent_id.clone(),
                Wish::Needles | Wish::Rinse | Wish::Corrected { .. } => {
                    plan.chosen.agent_id.clone()
                }
            }),
            recipe: Some(match wish {
                Wish::Bath { recipe, .. } => *recipe,
                Wish::Needles | Wish::Rinse | Wish::Corrected { .. } | Wish::Poured { .. } => {
                    plan.chosen.recipe
                }
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
            Wish::Poured { so, by_eye } => facts.poured_so(moment, &options, (so, by_eye.as_ref())),
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

    pub(crate) fn stage(&self, worked: Worked, steps: Vec<Step>) -> Stage {
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
        let rinsing = facts.rinsing(&worked.agent, start, plan.chosen.taste);
        worked.rinse = facts.rinse(&rinsing, &worked.agent.id, 0);
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
        self.same_bath_with(moment, steps, false)
    }

    /// From the acid that is inside now; a filter that is back already comes out first.
    fn rinse_on(&self, moment: &Moment, options: &PlanOptions) -> Result<Stage, Problem> {
        let plan = moment.plan;
        let agent = self.agent(options)?;
        let rinsing = self.rinsing(&agent, moment.acid_mg_l, plan.chosen.taste);
        let rinse = self.rinse(&rinsing, &agent.id, 0);
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
        // What was begun stays as far as it was done; what is being put back may be back.
        let is_over = moment.at >= plan.steps.len();
        let from_here = !(moment.begun || is_over || moment.step().is(Kind::PutBack));
        let is_back =
            kept.any(|(i, s)| moment.keeps(i, from_here) && s.instructions.iter().any(is_back));
        let left_in = moment.left_in(from_here);
        // What caught the bits comes out first as well.
        let mut out_first = moment.still_in(from_here);
        out_first.retain(|thing| *thing != Thing::Filter && !left_in.contains(thing));
        out_first.extend(is_back.then_some(Thing::Filter));
        let steps = steps::rinse_on(self, &rinse, &left_in, &out_first);
        Ok(Stage {
            rinse,
            ..self.same_bath_with(moment, steps, from_here)
        })
    }

    /// A stage without another bath.
    fn same_bath_with(&self, moment: &Moment, mut steps: Vec<Step>, from_here: bool) -> Stage {
        let plan = moment.plan;
        number(moment, &mut steps, from_here);
        steps::mark_plug(&mut steps, moment.step().plugged);
        Stage {
            steps,
            from_here,
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
            ..self.same_bath_with(moment, Vec::new(), true)
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
            Correction::LargestCup(_) => {
                let start = plan.rinse.level_mg_l(0);
                let rinsing = self.rinsing(&worked.agent, start, plan.chosen.taste);
                self.rinse(&rinsing, &worked.agent.id, 0)
            }
            Correction::NoMode
            | Correction::NoProgramme
            | Correction::ModeDoesNotWait
            | Correction::LidNeedle(_) => plan.rinse.clone(),
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
        let mechanism = stage.mechanism.clone();
        let machine = stands_after(&mechanism, &seen, moment.followed());
        self.that_runs(&machine, stage).map_err(|why| {
            let message = format!(
                "the rest cannot be planned from here ({why}): finish as the manual says, or stop here and start again"
            );
            Problem::new(Code::DoesNotFit, "act.wish", message)
        })
    }

    /// The stage with what has to be done before it, so that it runs on a brewer that stands so; or why none does.
    pub(crate) fn that_runs(&self, machine: &Machine, stage: Stage) -> Result<Stage, String> {
        let mut fault = None;
        for before in self.ways_on() {
            let steps = self.begun_with(&before, stage.steps.clone());
            match rest(machine.clone(), &steps) {
                Ok(_) => return Ok(Stage { steps, ..stage }),
                Err(found) => fault = fault.or(Some(found)),
            }
        }
        Err(fault.map_or_else(String::new, |fault| fault.text))
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
    pub(crate) fn rest_of(
        &self,
        moment: &Moment,
        worked: &Worked,
        n: u32,
        from_here: bool,
    ) -> Vec<Step> {
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

/// No further bath soaks less than practice gives a kept brewer, minutes.
const LEAST_SOAK: f64 = 15.0;

/// The next strength is at least so many times the last: less would bring out no more.
const STEP_UP: f64 = 1.5;

/// Rungs that are worth listing.
const MOST_RUNGS: usize = 5;

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
                if *instruction == Instruction::EnterMode && !has_mode {
                    *instruction = Instruction::SwitchOn;
                } else if let Instruction::Press { ml, in_mode } = instruction {
                    *in_mode &= has_mode;
                    if i > since {
                        *ml = ml.min(mechanism.largest_ml());
                    }
                }
            }
        }
    }
    plan
}

//! A bath that was poured otherwise than planned: it is what it is, and everything after it is reckoned from that.

use crate::machine::Mechanism;
use crate::rehearse::stands_after;
use crate::stage::{Moment, PouredSo, Stage, number};
use crate::worked::Worked;
use crate::{Facts, Kind, Plan, PlanOptions};
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem};
use murlo_base::units::{Marks, Tool, Units, parse_volume};
use murlo_brewer::bath::{Agent, AgentForm, Mixed, Recipe};
use murlo_brewer::instruction::Instruction;

/// The same in figures.
struct SaidBath {
    recipe: Recipe,
    total_ml: f64,
}

impl Facts<'_> {
    /// The volume that was typed, mL; marks and lines of this brewer count, and the agent's own bottle.
    fn volume_of(&self, field: &str, typed: &str, agent: &Agent) -> Result<f64, Problem> {
        if let Some(bottle) = agent.bottle_ml().filter(|_| typed.contains("bottle")) {
            let in_marks = typed.replace("bottle", "mark");
            return parse_volume(field, &in_marks, &bounds::VOLUME, Some(bottle));
        }
        let mark = self.brewer.carafe.map(|c| c.mark_ml);
        let mark = mark.or(self.brewer.reservoir_line_ml);
        let mut named = self.circuit.mechanics.marks.iter();
        match named.find(|m| m.name.eq_ignore_ascii_case(typed.trim())) {
            Some(named) => Ok(named.ml),
            None => parse_volume(field, typed, &bounds::VOLUME, mark),
        }
    }

    fn read(&self, agent: &Agent, so: &PouredSo) -> Result<SaidBath, Problem> {
        let water_ml = match so.water.trim() {
            "" | "0" => 0.0,
            typed => self.volume_of("act.wish.water", typed, agent)?,
        };
        let field = "act.wish.amount";
        let solid = |g_each: f64, what: &str| -> Result<SaidBath, Problem> {
            let typed = so.amount.trim();
            let number = typed.trim_end_matches(|c: char| c.is_alphabetic() || c == ' ');
            let many = number.replace(',', ".").parse::<f64>().map_err(|_| {
                let message = format!("\"{typed}\" is no amount here: {what}");
                Problem::new(Code::NotANumber, field, message)
            })?;
            if water_ml <= 0.0 {
                let message = "it was dissolved in water: say in how much";
                return Err(Problem::new(Code::Missing, "act.wish.water", message));
            }
            Ok(SaidBath {
                recipe: Recipe::Dose {
                    g_per_l: 1000.0 * many * g_each / water_ml,
                },
                total_ml: water_ml,
            })
        };
        match agent.form {
            AgentForm::Powder { .. } => solid(1.0, "give grams, such as 40 g"),
            AgentForm::Tablet { grams, .. } => solid(grams, "give how many tablets, such as 2"),
            AgentForm::Liquid { .. } | AgentForm::Bottle { .. } => {
                let ml = self.volume_of(field, &so.amount, agent)?;
                let part = if water_ml > 0.0 { ml.min(water_ml) } else { ml };
                Ok(SaidBath {
                    recipe: Recipe::Ratio {
                        agent: ml / part,
                        water: water_ml / part,
                    },
                    total_ml: ml + water_ml,
                })
            }
        }
    }

    /// The rest of a clean whose bath was poured so.
    pub(crate) fn poured_so(
        &self,
        moment: &Moment,
        options: &PlanOptions,
        so: &PouredSo,
    ) -> Result<Stage, Problem> {
        let plan = moment.plan;
        let same_agent = so.agent_id == plan.chosen.agent_id;
        let agent_options = PlanOptions {
            percent: plan.chosen.percent.filter(|_| same_agent),
            ..options.clone()
        };
        let agent = self.agent(&agent_options)?;
        let poured = self.read(&agent, so)?;
        let most = self.reservoir_ml();
        if poured.total_ml > most * 1.01 {
            let most = self.units.volume(most);
            return Err(Problem::new(
                Code::TooMuch,
                "act.wish.water",
                format!("all of it is more than the {most} that go in: what ran over is not in"),
            ));
        }
        let with_recipe = PlanOptions {
            recipe: Some(poured.recipe),
            ..agent_options
        };
        let mut choice = self
            .choose(&with_recipe, Some(poured.total_ml))
            .map_err(Problem::from)?;
        // As it was said, not in whole marks.
        choice.marks = Marks {
            tool: Tool::Ml,
            step_ml: 0.1,
        };
        // Where it soaks was settled when the first dispense ran.
        let at_mix = moment.step().is(Kind::Mix);
        let soaks = moment.soaked_after();
        choice.soak_after = Some(soaks).filter(|after| !at_mix && !after.is_empty());
        let mut worked = self.work_out(&choice, 1, 0.0);
        as_said(&mut worked.mixed, &agent, so, self.units);
        let bath = moment.bath();
        if bath > 1 {
            // What an earlier bath left may be stronger.
            let start = worked.rinsing.start_mg_l.max(plan.rinse.level_mg_l(0));
            worked.rinse = self
                .rinsing(&worked.agent, start, plan.chosen.taste)
                .compute(self.units);
        }
        self.after_pouring(moment, worked, bath, !at_mix)
    }

    /// The steps after the pouring, from where it stands; they run on the simulated brewer as it stands.
    fn after_pouring(
        &self,
        moment: &Moment,
        worked: Worked,
        bath: u32,
        from_here: bool,
    ) -> Result<Stage, Problem> {
        let plan = moment.plan;
        let mut all = self.rest_of(moment, &worked, bath, from_here);
        let mixed = all.iter().position(|s| s.is(Kind::Mix));
        let mixed = mixed.map_or(0, |i| i + 1);
        let same = moment.same_in(&all).filter(|_| from_here);
        let mut steps = all.split_off(same.unwrap_or(mixed));
        number(moment, &mut steps, from_here);
        let stage = Stage {
            from_here,
            ..self.stage(worked, steps)
        };
        let mut seen = plan.clone();
        let mechanism = Mechanism::of(self.brewer, self.circuit, stage.rinse.target_mg_l);
        pour_into(&mut seen, moment.at, &stage.bath);
        let here = (!from_here).then_some((moment.at, 0));
        let followed = moment.followed().into_iter().chain(here);
        let machine = stands_after(&mechanism, &seen, followed);
        self.that_runs(&machine, stage).map_err(|why| {
            let message = format!(
                "the rest cannot be planned with that bath ({why}): pour it away and mix it as planned"
            );
            Problem::new(Code::DoesNotFit, "act.wish", message)
        })
    }
}

/// The amounts in the words in which they were said.
fn as_said(mixed: &mut Mixed, agent: &Agent, so: &PouredSo, units: Units) {
    let amount = so.amount.trim().to_owned();
    mixed.agent_words = agent.poured(&amount);
    mixed.agent_text = amount;
    if mixed.water.ml > 0.0 {
        so.water.trim().clone_into(&mut mixed.water.text);
    }
    mixed.total.text = units.volume(mixed.total.ml);
}

/// The last bath that was mixed up to step `at` is what was poured.
pub fn pour_into(plan: &mut Plan, at: usize, bath: &Mixed) {
    let until = plan.steps.len().min(at + 1);
    let mix = plan.steps[..until].iter_mut().rfind(|s| s.is(Kind::Mix));
    let Some(mix) = mix else { return };
    for instruction in &mut mix.instructions {
        if let Instruction::PourBath { ml, mg_l, .. } = instruction {
            (*ml, *mg_l) = (bath.total.ml, 10_000.0 * bath.percent);
        }
    }
}

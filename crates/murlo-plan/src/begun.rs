//! A clean that somebody has begun already: the rest of it, from what they say is in the machine.

use crate::facts::Facts;
use crate::kind::Kind;
use crate::options::{PlanOptions, Work};
use crate::shape::Plan;
use crate::step::Step;
use crate::worked::{BathChoice, LONGEST_SOAK};
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::parse_volume;
use murlo_brewer::bath::Recipe;
use murlo_brewer::instruction::Instruction;
use murlo_chemistry::heater::Way;
use serde::{Deserialize, Serialize};

/// What somebody says who has begun already.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BegunAlready {
    /// What is in.
    pub agent_id: String,
    /// How it was thinned; nothing where nobody knows.
    #[serde(default)]
    pub recipe: Option<Recipe>,
    /// How much bath there was, as typed: "4 cups".
    #[serde(default)]
    pub total: Option<String>,
    /// Or how full the reservoir stands now, of 1.
    #[serde(default)]
    pub level: Option<f64>,
    /// How many dispenses have run; of a brew its halves.
    pub dispenses: u32,
    /// Minutes since it was poured in.
    pub minutes_ago: f64,
    /// Whether it has stood.
    pub stood: Stood,
    /// Whether its programme runs now.
    #[serde(default)]
    pub in_programme: bool,
}

/// Whether a bath has stood in the machine.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Stood {
    /// It was run straight on.
    No,
    /// It stands now.
    Now,
    /// It has stood, and went on.
    Was {
        /// For so many minutes.
        minutes: f64,
    },
}

/// Nobody presses on later than that after the last press, minutes: it stands.
pub const A_PRESS_MIN: f64 = 2.0;

/// More dispenses than that come of no reservoir.
const MOST_DISPENSES: u32 = 60;

impl BegunAlready {
    fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(bounds::MINUTES.check("begun.minutes_ago", self.minutes_ago));
        if let Some(level) = self.level {
            problems.note(bounds::SHARE.check("begun.level", level));
        }
        if self.dispenses > MOST_DISPENSES {
            let message = format!("give 0 to {MOST_DISPENSES} that have run");
            problems
                .0
                .push(Problem::new(Code::OutOfRange, "begun.dispenses", message));
        }
        if let Stood::Was { minutes } = self.stood {
            problems.note(bounds::MINUTES.check("begun.stood.minutes", minutes));
            if minutes > self.minutes_ago {
                let message =
                    "it cannot have stood for longer than it is in: give less, or begin it earlier";
                problems.0.push(Problem::new(
                    Code::Contradiction,
                    "begun.stood.minutes",
                    message,
                ));
            }
        }
        problems.or(Some(()))
    }
}

impl Facts<'_> {
    /// The rest of a clean that was begun so: its mixing is in it, as done, and nothing that comes before.
    ///
    /// # Errors
    /// One problem per figure that cannot be, by its field.
    pub fn plan_begun(
        &self,
        options: &PlanOptions,
        begun: &BegunAlready,
    ) -> Result<Plan, Problems> {
        begun.check()?;
        let options = PlanOptions {
            agent_id: Some(begun.agent_id.clone()),
            recipe: begun.recipe,
            taste: options.taste,
            circuit_id: options.circuit_id.clone(),
            // Whoever has pressed it through by hand goes on by hand.
            by_hand: self.way() == Way::Programme && !begun.in_programme && begun.dispenses > 0,
            work: Work::Descale,
            ..PlanOptions::default()
        };
        self.run_as_asked(&options, |facts| {
            let agent = facts.agent(&options).map_err(|p| p.within("begun"))?;
            let total_ml = facts.begun_ml(&options, begun)?;
            let mut choice = facts.choose_unmeasured(&options, total_ml, "begun")?;
            choice.is_begun = true;
            facts.soak_so_far(&mut choice, begun);
            let likely = facts.likely_baths(&choice);
            let mut plan = facts.draw_up(&options, &choice, likely);
            plan.ladder = facts.ladder(&choice, &plan.bath);
            plan.reasons.insert(
                0,
                "Begun before Murlo was asked: parts and needles are left for another time, and amounts are as you say.".to_owned(),
            );
            if begun.recipe.is_none() && agent.percent().is_some() {
                plan.reasons.insert(
                    1,
                    "How strong it is nobody knows: it is reckoned as usual for what it takes off, and as neat for what must be rinsed out.".to_owned(),
                );
            }
            Ok(plan)
        })
    }

    /// All of the bath, mL: what stands in it now, and what has run.
    fn begun_ml(&self, options: &PlanOptions, begun: &BegunAlready) -> Result<f64, Problem> {
        let most = self.reservoir_ml();
        let total_ml = match (&begun.total, begun.level) {
            (Some(typed), _) => {
                let mark = self.brewer.carafe.map(|c| c.mark_ml);
                let mark = mark.or(self.brewer.reservoir_line_ml);
                let ml = parse_volume("begun.total", typed, &bounds::VOLUME, mark)?;
                if ml > most * 1.01 {
                    let most = self.units.volume(most);
                    return Err(Problem::new(
                        Code::TooMuch,
                        "begun.total",
                        format!("the reservoir holds {most}: give at most that"),
                    ));
                }
                ml
            }
            (None, Some(level)) => {
                let ran = match self.way() {
                    Way::Presses => f64::from(begun.dispenses) * self.bath_dispense_ml(),
                    Way::CupAtATime | Way::Halves | Way::Programme => 0.0,
                };
                level * most + ran
            }
            (None, None) => self.bath_ml(options, &self.agent(options)?)?,
        };
        // Less gives no dispense at all; what has gone through is gone.
        Ok(total_ml.max(self.least_bath_ml()).min(most))
    }

    /// Where and how long it soaks, as far as that has happened.
    fn soak_so_far(&self, choice: &mut BathChoice, begun: &BegunAlready) {
        let ran = begun.dispenses.max(1);
        let count = self.dispensing(choice.total_ml).count;
        let is_through = match self.way() {
            Way::Presses => begun.dispenses >= count,
            Way::CupAtATime => begun.dispenses >= 1,
            Way::Halves => begun.dispenses >= 2,
            Way::Programme => true,
        };
        match begun.stood {
            Stood::Was { minutes } => {
                choice.soak_minutes = Some(minutes);
                choice.soak_after = Some(vec![1]);
            }
            Stood::No if is_through => choice.soak_minutes = Some(0.0),
            Stood::No => choice.soak_after = Some(vec![ran.min(count.max(1))]),
            Stood::Now => {
                choice.soak_after = Some(vec![ran.min(count.max(1))]);
                let so_far = begun.minutes_ago - f64::from(ran) * A_PRESS_MIN;
                let advised = self.work_out(choice, 1, 0.0).soak.minutes;
                let least = so_far.clamp(1.0, LONGEST_SOAK);
                choice.soak_minutes = Some(advised.max(least).round());
            }
        }
    }
}

/// Takes out what comes before the bath; a filter that may still be in comes out next.
pub(crate) fn from_the_bath_on(steps: &mut Vec<Step>) {
    let Some(mix) = steps.iter().position(|step| step.is(Kind::Mix)) else {
        return;
    };
    // Whoever poured it in had made room for it: the simulated brewer is told so with the pouring.
    let made_room = |act: &&Instruction| {
        matches!(
            act,
            Instruction::Unplug
                | Instruction::OpenLid
                | Instruction::TakeOut { .. }
                | Instruction::PutIn { .. }
        )
    };
    let before = steps[..mix].iter().flat_map(|step| &step.instructions);
    let before: Vec<_> = before.filter(made_room).cloned().collect();
    steps[mix].instructions.splice(0..0, before);
    let mut at = 0;
    steps.retain(|step| {
        at += 1;
        at > mix || step.is(Kind::Filter) || step.is(Kind::FilterSoak)
    });
    // What is poured in comes first.
    steps.sort_by_key(|step| !step.is(Kind::Mix));
    let ids: Vec<_> = steps.iter().map(|step| step.id.clone()).collect();
    let beside = |step: &&mut Step| step.during.as_ref().is_some_and(|id| !ids.contains(id));
    let lone = steps.iter_mut().filter(beside);
    lone.for_each(|step| step.during = None);
}

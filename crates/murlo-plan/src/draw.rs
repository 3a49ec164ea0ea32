//! Drawing a plan up: choices, bath, steps, reasons, and the run on the simulated brewer that it must stand.

use crate::begun;
use crate::by_part;
use crate::facts::Facts;
use crate::machine::Mechanism;
use crate::options::{PlanOptions, Work};
use crate::rehearse::run;
use crate::ribbon::ribbon;
use crate::shape::Plan;
use crate::step::Step;
use crate::steps;
use crate::words::warning;
use crate::worked::{BathChoice, Worked};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_brewer::bath::Agent;
use murlo_brewer::job::Job;
use murlo_brewer::{Brewer, Outlet};
use murlo_chalk::scale::Chalk;
use murlo_chemistry::cleaning::{Bathed, Film};
use murlo_chemistry::heater::Way;
use murlo_chemistry::spread::P90;

/// A plan that takes so much longer is still said to fit: its minutes are about.
const ABOUT_MIN: f64 = 2.0;

impl Facts<'_> {
    /// The plan for these options.
    ///
    /// # Errors
    /// One problem per choice that is unknown, out of range, or cannot be done with this brewer.
    pub fn plan(&self, options: &PlanOptions) -> Result<Plan, Problems> {
        if let Some(next) = self.part_for(options) {
            return self.plan_part(next, options);
        }
        match self.way_for(options)? {
            Some(way) => self.plan_in_way(way, options),
            None => self.plan_as_chosen(options),
        }
    }

    /// The same, whatever ways are kept.
    pub(crate) fn plan_as_chosen(&self, options: &PlanOptions) -> Result<Plan, Problems> {
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
    pub(crate) fn run_as_asked<T>(
        &self,
        options: &PlanOptions,
        ask: impl FnOnce(&Facts) -> T,
    ) -> T {
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
    pub(crate) fn draw_up(&self, options: &PlanOptions, choice: &BathChoice, likely: u32) -> Plan {
        let (plan, baths_min) = self.draw_up_in(options, choice, likely, 0.0);
        let is_late = choice
            .minutes
            .is_some_and(|most| plan.ribbon.elapsed_min > most);
        if !is_late || options.work != Work::Descale {
            return plan;
        }
        // What parts, mixing and rinse take is known only now.
        let besides = (plan.ribbon.elapsed_min - baths_min).max(0.0);
        let mut plan = self.draw_up_in(options, choice, likely, besides).0;
        let has = choice.minutes.unwrap_or(f64::INFINITY);
        if plan.ribbon.elapsed_min > has + ABOUT_MIN {
            let least = BathChoice {
                soak_minutes: Some(0.0),
                minutes: None,
                ..choice.clone()
            };
            let least = self.draw_up_in(options, &least, likely, 0.0).0;
            let told = self.warning_of_the_minutes(&plan, least.ribbon.elapsed_min, has);
            plan.warnings.insert(0, told);
        }
        plan
    }

    /// The same where everything but the baths takes `besides` minutes, with the minutes of the baths.
    fn draw_up_in(
        &self,
        options: &PlanOptions,
        choice: &BathChoice,
        likely: u32,
        besides: f64,
    ) -> (Plan, f64) {
        let worked = self.work_out(choice, likely, besides);
        let scheme = steps::Scheme {
            job: options.job,
            ..worked.scheme(options.work)
        };
        let mut steps = steps::steps(self, &scheme);
        by_part::leave_out(&mut steps, choice.done_before);
        if choice.is_begun {
            begun::from_the_bath_on(&mut steps);
        }
        if let Some(habits) = &choice.habits {
            habits.arrange(&mut steps);
        }
        let mut plan = self.assemble(options.work, &worked, steps);
        plan.job = options.job.filter(|_| options.work == Work::Upkeep);
        plan.likely_baths = likely;
        let water_ml = self.bought_water(&plan);
        plan.kit = self.kit(&worked.agent, &plan);
        plan.kit.extend(water_ml.filter(|ml| *ml >= 1.0).map(|ml| {
            let litres = self.units.volume(ml);
            format!("Water you buy: about {litres} in all")
        }));
        plan.after = plan
            .baths()
            .map(|baths| self.chalk_after(&baths, &worked.agent));
        plan.reasons = self.reasons(&worked, &plan);
        plan.warnings.extend(self.warning_of_the_rest(&plan));
        if plan.work == Work::Descale {
            plan.promise_likely_baths();
            let uses = plan.uses(&worked.agent, water_ml);
            plan.cost = Some(uses.cost(self.terms));
        }
        (plan, worked.advice.minutes)
    }

    /// The fresh water that the steps fill in, mL, where it has a price: from the first glass to the last cup.
    fn bought_water(&self, plan: &Plan) -> Option<f64> {
        self.terms.water_a_litre?;
        let mechanism = Mechanism::of(self.brewer, self.circuit, plan.rinse.target_mg_l);
        let filled = run(&mechanism, plan).map_or(plan.rinse.water.ml, |m| m.filled_ml);
        let in_baths = match plan.work {
            Work::Descale => f64::from(plan.chosen.baths) * plan.bath.water.ml,
            Work::Needles | Work::Upkeep | Work::Rehearsal => 0.0,
        };
        Some(filled + in_baths)
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
            buttons: self.circuit.operation.clone(),
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
                Way::Presses | Way::CupAtATime | Way::Halves => self.circuit.dispense_ml,
            }),
            reservoir_ml: self.reservoir_ml(),
            mechanism: Some(Mechanism::of(
                self.brewer,
                self.circuit,
                worked.rinse.target_mg_l,
            )),
            beside: self.today.beside,
            bottle: self.today.bottle,
            way: None,
            part: None,
            cost: None,
        }
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

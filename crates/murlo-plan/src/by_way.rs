//! A plan in the household's own way: proved on the simulated brewer, with what it leaves beside it.

use crate::facts::Facts;
use crate::kept_way::{KeptWay, WayCheck, WaySuggestion};
use crate::machine::Mechanism;
use crate::options::{MOST_BATHS, PlanOptions, WayWish, Work};
use crate::poured_so::PouredSo;
use crate::rehearse::run;
use crate::shape::Plan;
use crate::worked::{BathChoice, PRACTICE_SOAK};
use crate::{Habits, Kind};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use murlo_brewer::rinse::times_noticed;
use murlo_chalk::belief::Told;
use murlo_chalk::scale::Chalk;
use murlo_chemistry::cleaning::Typed;

impl Facts<'_> {
    /// The way that `options` are planned in: the one that is asked for, else the one that was kept last, unless a bath is
    /// chosen.
    ///
    /// # Errors
    /// `UnknownId` for one that this side does not have.
    pub(crate) fn way_for(&self, options: &PlanOptions) -> Result<Option<&KeptWay>, Problem> {
        if options.work != Work::Descale {
            return Ok(None);
        }
        match &options.way {
            Some(WayWish::Advised) => Ok(None),
            Some(WayWish::Kept { id }) => {
                let known = self.today.ways.iter().find(|way| way.id == *id);
                known.map(Some).ok_or_else(|| {
                    let message = "no such way is kept for this side: take one from its list";
                    Problem::new(Code::UnknownId, "way.id", message)
                })
            }
            None if options.chooses_a_bath() => Ok(None),
            None => Ok(self.today.ways.first()),
        }
    }

    /// The plan in that way. Where it would do harm and nobody asked for it by name, what is advised instead, with the reason.
    pub(crate) fn plan_in_way(
        &self,
        way: &KeptWay,
        options: &PlanOptions,
    ) -> Result<Plan, Problems> {
        let advised = || {
            let options = PlanOptions {
                way: Some(WayWish::Advised),
                ..options.clone()
            };
            self.plan_as_chosen(&self.recommended(options)?)
        };
        match self.prove(&way.latest().habits, options) {
            Ok(mut plan) => {
                plan.way = Some(self.beside(way, &plan, advised().ok().as_ref()));
                Ok(plan)
            }
            Err(why) if options.way.is_some() => Err(why),
            Err(why) => {
                let mut plan = advised()?;
                let why = why
                    .0
                    .first()
                    .map_or_else(String::new, |p| p.message.clone());
                plan.way = Some(WayCheck {
                    refused: Some(format!("{} is not planned now: {why}.", way.name)),
                    costs: Vec::new(),
                    suggestion: None,
                    text: String::new(),
                    ..self.named(way)
                });
                Ok(plan)
            }
        }
    }

    /// The plan by these habits, once it has run on the simulated brewer.
    ///
    /// # Errors
    /// What would scald, overflow, run dry, reach the filter or be drunk; an amount that cannot be read; an agent that is gone.
    pub fn prove(&self, habits: &Habits, options: &PlanOptions) -> Result<Plan, Problems> {
        habits.check()?;
        let so = &habits.poured;
        let options = PlanOptions {
            agent_id: Some(so.agent_id.clone()),
            percent: habits.percent,
            taste: Some(habits.taste),
            soak_minutes: Some(habits.soak_minutes),
            baths: Some(habits.baths),
            by_hand: habits.by_hand,
            minutes: options.minutes,
            circuit_id: options.circuit_id.clone(),
            ..PlanOptions::default()
        };
        self.run_as_asked(&options, |facts| {
            if !facts.agents.iter().any(|agent| agent.id == so.agent_id) {
                let message =
                    "its agent is not in the cupboard any more: bring it back, or take another";
                return Err(Problem::new(Code::UnknownId, "poured.agent_id", message).into());
            }
            let agent = facts.agent(&options)?;
            if facts.brewer.forbids.contains(&agent.id) {
                let message = format!(
                    "the maker of this brewer forbids {}: take another agent",
                    agent.in_text()
                );
                return Err(Problem::new(Code::Contradiction, "poured.agent_id", message).into());
            }
            let choice = BathChoice {
                habits: Some(habits.clone()),
                ..facts.choose_said(&options, &agent, so, "poured")?
            };
            let likely = facts.likely_baths(&choice);
            let mut plan = facts.draw_up(&options, &choice, likely);
            plan.ladder = facts.ladder(&choice, &plan.bath);
            facts.runs(&plan)?;
            Ok(plan)
        })
    }

    /// Whether the simulated brewer takes it.
    fn runs(&self, plan: &Plan) -> Result<(), Problem> {
        let mechanism = Mechanism::of(self.brewer, self.circuit, plan.rinse.target_mg_l);
        run(&mechanism, plan).map(drop).map_err(|fault| {
            let at = fault.step.as_ref();
            let at = at.and_then(|id| plan.steps.iter().find(|step| step.id == *id));
            let at = at.map_or_else(String::new, |step| format!(" (at \"{}\")", step.title));
            let message = format!("on this brewer it would do harm: {}{at}", fault.text);
            Problem::new(Code::DoesNotFit, "habits", message)
        })
    }

    /// Refuses a number of rinses that leaves acid to drink; a plan would count more than are told.
    ///
    /// # Errors
    /// `OutOfRange` with what it would leave and what it takes.
    pub fn rinses_enough(&self, habits: &Habits, plan: &Plan) -> Result<(), Problem> {
        let (told, needed) = (habits.rinses, self.rinses_needed(plan));
        if told >= needed {
            return Ok(());
        }
        let left = times_noticed(plan.rinse.level_mg_l(told), plan.rinse.target_mg_l);
        let message = format!(
            "{} would leave {left} to drink: give at least {needed}",
            self.vessels(told)
        );
        Err(Problem::new(Code::OutOfRange, "rinses", message))
    }

    fn vessels(&self, n: u32) -> String {
        match self.is_drip() {
            true => text::count(n, "carafe", "carafes"),
            false => text::count(n, "mug", "mugs"),
        }
    }

    fn named(&self, way: &KeptWay) -> WayCheck {
        let latest = way.latest();
        let times = way.revisions.len();
        let day = text::day(latest.since, self.today.day.unwrap_or(latest.since));
        WayCheck {
            id: way.id.clone(),
            name: way.name.clone(),
            since: match times {
                1 => format!("Kept since {day}"),
                n => format!("As changed on {day}, revision {n}"),
            },
            text: String::new(),
            costs: Vec::new(),
            suggestion: None,
            refused: None,
        }
    }

    /// What stands beside a plan in that way: what it leaves, what it costs against what is `advised`, one change on evidence.
    fn beside(&self, way: &KeptWay, plan: &Plan, advised: Option<&Plan>) -> WayCheck {
        let habits = &way.latest().habits;
        let leaves = |plan: &Plan| plan.after.as_ref().map(Chalk::left_words);
        let text = match (leaves(plan), advised.and_then(leaves)) {
            (None, _) => String::new(),
            (Some(own), Some(other)) if own != other => {
                format!("Leaves {own}; what is advised would leave {other}.")
            }
            (Some(own), Some(_)) => format!("Leaves {own}, as what is advised would."),
            (Some(own), None) => format!("Leaves {own}."),
        };
        WayCheck {
            text,
            costs: self.costs(habits, plan, advised),
            suggestion: self.suggestion(way, plan),
            ..self.named(way)
        }
    }

    fn costs(&self, habits: &Habits, plan: &Plan, advised: Option<&Plan>) -> Vec<String> {
        let mut costs = Vec::new();
        let counted = plan.rinse.portions;
        let needed = self.rinses_needed(plan);
        let taught = self.taught_rinses(&plan.rinse, &plan.chosen.agent_id);
        if (needed..counted).contains(&habits.rinses) {
            costs.push(format!(
                "{} here, not {}: the first coffee was sour",
                self.vessels(counted),
                habits.rinses
            ));
        } else if habits.rinses < needed {
            costs.push(format!(
                "{} here, not {}: fewer would leave {} to drink",
                self.vessels(counted),
                habits.rinses,
                times_noticed(plan.rinse.level_mg_l(habits.rinses), plan.rinse.target_mg_l)
            ));
        } else if counted > needed + taught {
            let more = counted - needed - taught;
            let water = self.units.volume(f64::from(more) * plan.rinse.portion.ml);
            costs.push(format!(
                "{} more than it takes: about {water} of water",
                self.vessels(more)
            ));
        }
        if let Some(advised) = advised {
            let longer = plan.ribbon.elapsed_min - advised.ribbon.elapsed_min;
            if longer.abs() >= NOTABLE_MIN {
                let than = if longer > 0.0 { "longer" } else { "shorter" };
                let minutes = text::minutes(longer.abs());
                costs.push(format!("{minutes} {than} than what is advised"));
            }
            let cost = |plan: &Plan| plan.cost.as_ref().map(|cost| cost.total);
            if let Some((own, other)) = cost(plan).zip(cost(advised))
                && (own - other).abs() >= NOTABLE_COST
            {
                let than = if own > other { "dearer" } else { "cheaper" };
                let amount = self.terms.amount((own - other).abs());
                costs.push(format!("{amount} {than} than what is advised"));
            }
        }
        costs
    }

    /// Rinses that it takes whatever the habit is.
    fn rinses_needed(&self, plan: &Plan) -> u32 {
        let levels = &plan.rinse.levels_mg_l;
        let enough = levels
            .iter()
            .position(|level| *level <= plan.rinse.target_mg_l * 1.001);
        enough.map_or(plan.rinse.portions, |n| n as u32)
    }

    /// One change, only on evidence: much more chalk than it was kept against, or a last look that brought much or nothing.
    fn suggestion(&self, way: &KeptWay, plan: &Plan) -> Option<WaySuggestion> {
        let latest = way.latest();
        let habits = &latest.habits;
        let (chalk, before) = (self.forecast.chalk.mg, latest.chalk_mg);
        let is_programme = plan.steps.iter().any(|step| step.is(Kind::Programme));
        let reaches = |minutes: f64, baths: u32| self.reaches(habits, minutes, baths);
        let more = match self.today.brought {
            Some(Told::Lot) => Some("last time it brought out a lot".to_owned()),
            _ if before > 1.0 && chalk >= MUCH_MORE * before => Some(format!(
                "there is about {} times the chalk that it was kept against, from {}",
                text::roughly(chalk / before),
                self.forecast.reason.split(';').next().unwrap_or_default()
            )),
            _ => None,
        };
        if let Some(why) = more {
            if reaches(habits.soak_minutes, habits.baths)? {
                return None;
            }
            let longer = SOAKS
                .into_iter()
                .filter(|m| *m > habits.soak_minutes && !is_programme);
            let mut longer = longer.filter(|m| reaches(*m, habits.baths) == Some(true));
            return Some(match longer.next() {
                Some(minutes) => soak_instead(habits, minutes, &why),
                None => {
                    let baths = (habits.baths + 1).min(MOST_BATHS);
                    (baths > habits.baths).then(|| WaySuggestion {
                        text: format!("{baths} fresh baths instead of {}: {why}.", habits.baths),
                        habits: Habits {
                            baths,
                            ..habits.clone()
                        },
                    })?
                }
            });
        }
        // Nothing came: a third of the soak would do, where that is enough by the reckoning too.
        let may_be_less =
            self.today.brought == Some(Told::None) && habits.soak_minutes >= PRACTICE_SOAK / 2.0;
        let third = (habits.soak_minutes / 3.0 / 5.0).round().max(1.0) * 5.0;
        let is_less = may_be_less && !is_programme && third < habits.soak_minutes;
        (is_less && reaches(third, habits.baths)?)
            .then(|| soak_instead(habits, third, "last time nothing came"))
    }

    /// Whether so long a soak and so many baths reach by the reckoning.
    fn reaches(&self, habits: &Habits, minutes: f64, baths: u32) -> Option<bool> {
        let options = PlanOptions {
            percent: habits.percent,
            taste: Some(habits.taste),
            by_hand: habits.by_hand,
            agent_id: Some(habits.poured.agent_id.clone()),
            ..PlanOptions::default()
        };
        self.run_as_asked(&options, |facts| {
            let agent = facts.agent(&options).ok()?;
            let choice = facts
                .choose_said(&options, &agent, &habits.poured, "poured")
                .ok()?;
            let asked = facts.question(&choice);
            let after = asked.course.places().first().cloned().unwrap_or_default();
            let typed = Typed {
                after,
                minutes,
                baths,
            };
            Some(asked.weigh(&typed).reaches)
        })
    }
}

impl Habits {
    /// Those by which `plan` is made; `by_hand` says whether that leaves its programme alone.
    #[must_use]
    pub fn of(plan: &Plan, by_hand: bool) -> Self {
        let bath = &plan.bath;
        // Spoons are said beside the grams.
        let amount = bath.agent_text.split(" (").next().unwrap_or_default();
        let is_programme = plan.steps.iter().any(|step| step.is(Kind::Programme));
        Self {
            poured: PouredSo {
                agent_id: plan.chosen.agent_id.clone(),
                amount: amount.to_owned(),
                water: match bath.water.ml < 1.0 {
                    true => String::new(),
                    false => bath.water.text.clone(),
                },
            },
            percent: plan.chosen.percent,
            soak_minutes: match is_programme {
                true => 0.0,
                false => plan.chosen.soak_minutes.round(),
            },
            baths: plan.chosen.baths,
            rinses: plan.rinse.portions,
            taste: plan.chosen.taste,
            by_hand,
            left_out: Vec::new(),
            order: Vec::new(),
        }
    }
}

fn soak_instead(habits: &Habits, minutes: f64, why: &str) -> WaySuggestion {
    WaySuggestion {
        text: format!(
            "Soak {} instead of {}: {why}.",
            text::minutes(minutes),
            text::minutes(habits.soak_minutes)
        ),
        habits: Habits {
            soak_minutes: minutes,
            ..habits.clone()
        },
    }
}

/// Soaks that are proposed, minutes.
const SOAKS: [f64; 9] = [10.0, 15.0, 20.0, 25.0, 30.0, 40.0, 45.0, 50.0, 60.0];

/// So many times the chalk is much more than it was kept against. Judged.
const MUCH_MORE: f64 = 1.3;

/// Less than this makes no difference to anybody, minutes.
const NOTABLE_MIN: f64 = 5.0;

/// Nor does this, in the household's currency.
const NOTABLE_COST: f64 = 0.05;

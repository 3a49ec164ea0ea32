//! A bath worked out for one side of a brewer, from what was chosen to what it leaves: choose, mix, schedule, rinse.

use super::steps::Scheme;
use super::{Chosen, Dispensing, Facts, PlanOptions, RecipeChoice, Work};
use crate::amounts::SHORT_BY_ML;
use crate::habits::Habits;
use crate::kind::Kind;
use crate::options::MOST_BATHS;
use crate::poured_so::PouredSo;
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::{Marks, Tool};
use murlo_brewer::bath::{self, Agent, MixOrder, Mixed, Recipe, Soak, Warning};
use murlo_brewer::rinse::{Rinse, Rinsing, Taste};
use murlo_chemistry::cleaning::{Advice, BathCourse, BathQuestion, Typed};
use murlo_chemistry::heater::Way;

/// A bath soaks no longer than this in all, minutes: a look and a fresh one do better. Judged.
pub(super) const LONGEST_SOAK: f64 = 60.0;

/// What is usually soaked in a kept brewer, minutes.
pub(super) const PRACTICE_SOAK: f64 = 20.0;

/// Coffee oil and slime need no longer than this, minutes. Judged.
const DIRT_SOAK: f64 = 10.0;

/// Less chalk than this is none, mg.
const HARDLY_ANY_MG: f64 = 1.0;

/// Soaks that are tried where several baths were chosen, minutes each.
const SOAKS: [f64; 8] = [0.0, 10.0, 15.0, 20.0, 30.0, 40.0, 50.0, 60.0];

/// What is to be mixed, every choice made.
#[derive(Debug, Clone)]
pub(super) struct BathChoice {
    pub agent: Agent,
    pub recipe: Recipe,
    pub tool: Tool,
    pub marks: Marks,
    pub total_ml: f64,
    pub soak_minutes: Option<f64>,
    /// The dispenses after which it soaks, where they are settled already.
    pub soak_after: Option<Vec<u32>>,
    pub baths: u32,
    pub taste: Taste,
    /// Whether even the high estimate has to go.
    pub sure: bool,
    /// Whether it is for dirt rather than chalk.
    pub dirt: bool,
    /// Minutes there are from first to last act.
    pub minutes: Option<f64>,
    /// The amounts as somebody said them, where they did.
    pub said: Option<PouredSo>,
    /// What else is done as the household does it.
    pub habits: Option<Habits>,
    /// Whether it is in the machine already, and all that comes before it is over.
    pub is_begun: bool,
    /// What was done with an earlier part of a clean over days.
    pub done_before: &'static [Kind],
    /// How strong it may be at most where nobody knows, % w/v: that is rinsed out.
    pub starts_percent: Option<f64>,
}

/// A bath worked out.
#[derive(Debug, Clone)]
pub(super) struct Worked {
    pub agent: Agent,
    pub chosen: Chosen,
    pub mixed: Mixed,
    pub dispensing: Dispensing,
    pub asked: BathQuestion,
    pub advice: Advice,
    pub soak: Soak,
    pub rinsing: Rinsing,
    pub rinse: Rinse,
}

impl Worked {
    pub(crate) fn scheme(&self, work: Work) -> Scheme<'_> {
        Scheme {
            work,
            job: None,
            chosen: &self.chosen,
            agent: &self.agent,
            mixed: &self.mixed,
            dispensing: &self.dispensing,
            soak: &self.soak,
            rinse: &self.rinse,
            left_in: Vec::new(),
        }
    }
}

/// How many baths were asked for; one unless somebody did.
fn baths(options: &PlanOptions) -> Result<u32, Problem> {
    let baths = options.baths.unwrap_or(1);
    match (1..=MOST_BATHS).contains(&baths) {
        true => Ok(baths),
        false => Err(Problem::new(
            Code::OutOfRange,
            "baths",
            format!("give 1 to {MOST_BATHS} baths"),
        )),
    }
}

/// The dispenses after which it soaks; after the first where nothing else is advised.
fn after(advice: &Advice) -> Vec<u32> {
    match advice.soaks.as_slice() {
        [] => vec![1],
        soaks => soaks.iter().map(|soak| soak.after).collect(),
    }
}

/// Where it soaks, if not as usual after the first dispense alone, and why there.
fn place(after: &[u32]) -> Option<String> {
    match after {
        [] | [1] => None,
        [one] => Some(format!(
            "It soaks after dispense {one}, when the bath has pushed the plain water out of the path"
        )),
        several => {
            let at: Vec<_> = several.iter().map(u32::to_string).collect();
            let at = at.join(" and ");
            Some(format!(
                "It soaks in equal parts after dispenses {at}: fresh bath does more than a spent one"
            ))
        }
    }
}

impl Facts<'_> {
    /// Every choice made, or what is wrong with those that were typed; of as much as was `poured` before, if it was.
    pub(super) fn choose(
        &self,
        options: &PlanOptions,
        poured: Option<f64>,
    ) -> Result<BathChoice, Problems> {
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
        let baths = problems.note(baths(options));
        problems.note(
            options
                .minutes
                .map_or(Ok(0.0), |m| bounds::SPARE_MINUTES.check("minutes", m)),
        );
        let marks_and_volume = problems.or(marks.zip(volume))?;
        let (marks, volume) = marks_and_volume;
        let total_ml = poured.unwrap_or_else(|| marks.floor(volume));
        let recipe = self.recipe(options, &agent, total_ml)?;
        let is_free = options.measure.is_none() && poured.is_none();
        let finer = is_free.then(|| self.finer(&agent, marks, recipe, volume));
        let (marks, total_ml) = finer.flatten().unwrap_or((marks, total_ml));
        let tool = marks.tool;
        let least = self.least_bath_ml();
        if self.is_pressed() && total_ml + SHORT_BY_ML < least {
            let text = format!(
                "the bath must give its dispenses here: {} or more",
                self.units.volume(least)
            );
            return Err(Problem::new(Code::OutOfRange, "bath", text).into());
        }
        Ok(BathChoice {
            agent,
            recipe,
            tool,
            marks,
            total_ml,
            soak_minutes: soak_minutes.or_else(|| options.dirt.then_some(DIRT_SOAK)),
            soak_after: None,
            dirt: options.dirt,
            baths: baths.unwrap_or(1),
            taste: options.taste.unwrap_or_default(),
            sure: options.sure,
            minutes: options.minutes,
            said: None,
            habits: None,
            is_begun: false,
            done_before: &[],
            starts_percent: None,
        })
    }

    /// A finer tool with what its marks measure of the bath, where rounding up to a mark moves the strength too far.
    fn finer(&self, agent: &Agent, marks: Marks, recipe: Recipe, ml: f64) -> Option<(Marks, f64)> {
        let moves = |marks: Marks| recipe.rounded_by(marks.floor(ml), marks.step_ml);
        if moves(marks) <= ROUNDED_BY {
            return None;
        }
        let fine = [Tool::FlOz, Tool::Ml].into_iter();
        let known = fine.filter(|tool| Tool::of(self.units).contains(tool));
        let known = known.filter_map(|tool| Marks::of(tool, self.sizes(agent)));
        let found = known.min_by(|a, b| moves(*a).total_cmp(&moves(*b)));
        let found = found.filter(|finer| moves(*finer) < moves(marks))?;
        Some((found, found.floor(ml)))
    }

    /// How strong a bath of `total_ml` is to be.
    fn recipe(
        &self,
        options: &PlanOptions,
        agent: &Agent,
        total_ml: f64,
    ) -> Result<Recipe, Problems> {
        let (field, recipe) = match &options.agent_amount {
            Some(typed) => ("agent_amount", self.recipe_of_amount(typed, total_ml)?),
            None => {
                let mildest = || Recipe::schools(&agent.form).first().copied();
                let usual = || self.usual_recipe(&agent.form);
                let asked = options
                    .recipe
                    .or_else(|| mildest().filter(|_| options.dirt));
                ("recipe", asked.unwrap_or_else(usual))
            }
        };
        recipe.check(field, &agent.form)?;
        Ok(recipe)
    }

    /// The bath of `choice`, when `likely` baths share the work and everything but the baths takes `besides` minutes.
    pub(super) fn work_out(&self, choice: &BathChoice, likely: u32, besides: f64) -> Worked {
        let mixed = self.mixed(choice, likely.max(choice.baths));
        let dispensing = self.dispensing(mixed.total.ml);
        let asked = self.asked(choice, &mixed, &dispensing, besides);
        let advice = self.advise(&asked, choice);
        let percent = choice.starts_percent.unwrap_or(0.0).max(mixed.percent);
        let rinsing = self.rinsing(&choice.agent, percent * 10_000.0, choice.taste);
        let own = choice.habits.as_ref().map_or(0, |habits| habits.rinses);
        let soak = self.soak(&asked, &advice, likely, choice);
        // A programme soaks as long as it runs; nobody stops it.
        let soak_minutes = match self.way() {
            Way::Programme => self.programme_minutes().0,
            Way::Presses | Way::CupAtATime | Way::Halves => {
                choice.soak_minutes.unwrap_or(soak.minutes)
            }
        };
        Worked {
            chosen: self.chosen(choice, soak_minutes),
            dispensing,
            rinse: self.rinse(&rinsing, &choice.agent.id, own),
            agent: choice.agent.clone(),
            mixed,
            asked,
            advice,
            soak,
            rinsing,
        }
    }

    /// How this side is cleaned.
    fn course(&self, mixed: &Mixed, dispensing: &Dispensing) -> BathCourse {
        let path = self.circuit.path(self.brewer);
        BathCourse {
            way: self.way(),
            heats: path.heats,
            hold_ml: path.hold_ml,
            dispense_ml: dispensing.each.ml,
            presses: dispensing.count + u32::from(dispensing.hot_water_ml > 0.0),
            bath_ml: mixed.total.ml,
            programme_min: Some(self.programme_minutes().0),
            soaks_hot: self.soaks_hot(),
        }
    }

    /// What is asked of one bath of `choice`.
    pub(crate) fn question(&self, choice: &BathChoice) -> BathQuestion {
        let mixed = self.mixed(choice, 1);
        let dispensing = self.dispensing(mixed.total.ml);
        self.asked(choice, &mixed, &dispensing, 0.0)
    }

    fn asked(
        &self,
        choice: &BathChoice,
        mixed: &Mixed,
        dispensing: &Dispensing,
        besides: f64,
    ) -> BathQuestion {
        let chalk = &self.forecast.chalk;
        BathQuestion {
            course: self.course(mixed, dispensing),
            acid: choice.agent.acid(),
            g_per_l: 10.0 * mixed.percent,
            film_mg: chalk.mg,
            film_p90_mg: chalk.high_mg,
            limit_mg: self.circuit.limit_mg(),
            area_cm2: self.circuit.area_cm2,
            sure: choice.sure,
            most_baths: 1,
            most_soak: Some(LONGEST_SOAK),
            minutes: choice.minutes.map(|most| (most - besides).max(0.0)),
        }
    }

    /// One bath as advised, or each of as many as were chosen; where it does not reach, a look and a fresh bath do better than
    /// standing on.
    fn advise(&self, asked: &BathQuestion, choice: &BathChoice) -> Advice {
        let advice = asked.advise();
        let short = |minutes| {
            asked.weigh(&Typed {
                after: vec![1],
                minutes,
                baths: 1,
            })
        };
        if asked.film_mg < HARDLY_ANY_MG && self.way() != Way::Programme {
            return short(DIRT_SOAK);
        }
        if choice.baths > 1 {
            let several = BathQuestion {
                most_baths: choice.baths,
                ..*asked
            };
            let after = asked.course.places().first().cloned().unwrap_or_default();
            let least = SOAKS.into_iter().map(|minutes| {
                several.weigh(&Typed {
                    after: after.clone(),
                    minutes,
                    baths: choice.baths,
                })
            });
            let mut least = least.collect::<Vec<_>>();
            let found = least.iter().position(|advice| advice.reaches);
            return least.swap_remove(found.unwrap_or(SOAKS.len() - 1));
        }
        let may_soak = self.way() != Way::Programme;
        if may_soak
            && self.forecast.is_past_open
            && advice.reaches
            && advice.soaked_min() < PRACTICE_SOAK
        {
            let usual = short(PRACTICE_SOAK);
            let fits = asked.minutes.is_none_or(|most| usual.minutes <= most);
            return if fits { usual } else { advice };
        }
        advice
    }

    fn soak(
        &self,
        asked: &BathQuestion,
        advice: &Advice,
        likely: u32,
        choice: &BathChoice,
    ) -> Soak {
        let minutes = advice.soaked_min();
        let um = murlo_chemistry::film_um(asked.film_mg, asked.area_cm2).round();
        let percent = murlo_base::units::trim(asked.g_per_l / 10.0, 1);
        let reason = if choice.dirt {
            "a short one: it is for coffee oil and what grew in standing water, not for chalk"
                .to_owned()
        } else if asked.film_mg < HARDLY_ANY_MG {
            "hardly any chalk is expected; a short soak loosens coffee oil all the same".to_owned()
        } else if self.forecast.is_past_open && minutes == PRACTICE_SOAK {
            "nobody knows when it was last descaled, so no less than the usual soak".to_owned()
        } else if advice.reaches {
            format!(
                "about {um} µm of chalk against {percent} % acid; what the bath takes off in passing counts too"
            )
        } else if likely > 1 {
            format!(
                "about {um} µm of chalk is more than one bath of {percent} % acid takes off: a fresh bath does better than standing on"
            )
        } else {
            format!(
                "about {um} µm of chalk against {percent} % acid: in that time not all of it comes off"
            )
        };
        let after = choice.soak_after.clone().unwrap_or_else(|| after(advice));
        let in_all = |each: Option<f64>| each.map_or(minutes, |each| each * after.len() as f64);
        Soak {
            minutes,
            low: in_all(advice.low),
            high: in_all(advice.high),
            clears: advice.reaches,
            reason: match place(&after) {
                Some(place) => format!("{reason}. {place}"),
                None => reason,
            },
            after,
        }
    }

    /// How many fresh baths it likely takes.
    pub(super) fn likely_baths(&self, choice: &BathChoice) -> u32 {
        if choice.dirt {
            return choice.baths;
        }
        let holds = |n: u32| {
            let fails = [
                Warning::TooWeak,
                Warning::CitrateSludge,
                Warning::CitrateMayDrop,
            ];
            let mixed = self.mixed(choice, n);
            !mixed.warnings.iter().any(|w| fails.contains(w))
        };
        let held = (choice.baths..=MOST_BATHS).find(|n| holds(*n));
        let alone = BathQuestion {
            minutes: None,
            ..self.question(choice)
        };
        let reached = match alone.advise().reaches {
            true => 1,
            false => {
                let several = BathQuestion {
                    most_baths: MOST_BATHS,
                    ..alone
                };
                several.advise().baths
            }
        };
        held.unwrap_or(MOST_BATHS).max(reached).max(choice.baths)
    }

    fn mixed(&self, choice: &BathChoice, share: u32) -> Mixed {
        let mut mixed = MixOrder {
            agent: &choice.agent,
            recipe: choice.recipe,
            total_ml: choice.total_ml,
            marks: choice.marks,
            load_mg: self.forecast.chalk.high_mg / f64::from(share),
        }
        .mix();
        if let Some(so) = &choice.said {
            so.told_of(&mut mixed, &choice.agent, self.units);
            // Poured exactly, and drawn in what it is measured with.
            let drawn = Marks::of(choice.tool, self.sizes(&choice.agent));
            mixed.mark_ml = drawn.map_or(mixed.mark_ml, |marks| marks.step_ml);
        }
        mixed
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

    /// The rinse, with what sour first coffees after this agent have added here, and no fewer than `least`.
    pub(crate) fn rinse(&self, rinsing: &Rinsing, agent_id: &str, least: u32) -> Rinse {
        let plain = rinsing.compute(self.units);
        match self.taught_rinses(&plain, agent_id) {
            0 if least <= plain.portions => plain,
            more => rinsing.at_least(least.max(plain.portions + more), self.units),
        }
    }

    /// Portions that sour first coffees after this agent have added here.
    pub(crate) fn taught_rinses(&self, rinse: &Rinse, agent_id: &str) -> u32 {
        let sour = self.today.measured.sour.get(agent_id).copied();
        sour.unwrap_or(0).min(MOST_TAUGHT) * rinse.more
    }

    fn chosen(&self, choice: &BathChoice, soak_minutes: f64) -> Chosen {
        let sizes = self.sizes(&choice.agent);
        let tools = Tool::of(self.units);
        // Whoever measures otherwise goes on doing so.
        let own = Some(choice.tool).filter(|tool| !tools.contains(tool));
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
            measures: own
                .into_iter()
                .chain(tools)
                .filter(|tool| bath::marks("measure", *tool, sizes).is_ok())
                .collect(),
            taste: choice.taste,
            soak_minutes,
            baths: choice.baths,
        }
    }
}

/// After so many sour coffees it is not the rinse.
const MOST_TAUGHT: u32 = 3;

/// A bath may be so much stronger than its recipe for being measured in whole marks.
const ROUNDED_BY: f64 = 1.25;

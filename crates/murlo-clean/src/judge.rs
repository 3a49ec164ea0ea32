//! Judging by what can be seen: glasses side by side, timed cups, answers; and the verdict they come to.

use super::Verdict;
use super::progress::Progress;
use super::seen::{Glass, GlassOf};
use murlo_base::problem::Code;
use murlo_base::problem::Problem;
use murlo_base::text;
use murlo_chalk::belief::Checks;
use murlo_chalk::scale::Evidence;
use murlo_plan::{
    Doing, Kind, Plan, Step, Work,
    answers::{AnswerId, QuestionId},
};
use std::collections::{BTreeMap, BTreeSet};

/// Baths after which the brewer is somebody else's case.
pub(super) const MOST_ROUNDS: u32 = 3;
/// From this colour difference on, two glasses are not the same to most people.
const DIFFERENT: f64 = 2.3;

/// Acid that is so many times what people notice was not rinsed out, whoever cannot smell it.
const FAR_ABOVE: f64 = 3.0;

/// A verdict with its reason.
pub(super) struct Judged {
    pub verdict: Verdict,
    pub reason: String,
}

impl Judged {
    fn new(verdict: Verdict, reason: impl Into<String>) -> Self {
        Self {
            verdict,
            reason: reason.into(),
        }
    }
}

fn is_bad(given: &BTreeMap<QuestionId, AnswerId>, question: QuestionId) -> bool {
    given.get(&question) == Some(&AnswerId::Bad)
}

/// Whether every question was answered with one of its answers.
fn check_answers(doing: &Doing, given: &BTreeMap<QuestionId, AnswerId>) -> Result<(), Problem> {
    let Doing::Ask { questions } = doing else {
        return Err(super::act::unfit("nothing is asked at this step"));
    };
    for question in questions {
        let field = format!("act.answers.{}", question.id.id());
        let answer = match given.get(&question.id) {
            Some(answer) => answer,
            None if question.optional => continue,
            None => {
                let message = format!("answer \"{}\"", question.text);
                return Err(Problem::new(Code::Missing, &field, message));
            }
        };
        if !question.answers.iter().any(|a| a.id == *answer) {
            return Err(Problem::new(
                Code::NotAChoice,
                field,
                "give one of the offered answers",
            ));
        }
    }
    let unasked = given
        .keys()
        .find(|k| !questions.iter().any(|q| q.id == **k));
    unasked.map_or(Ok(()), |name| {
        Err(Problem::new(
            Code::UnknownField,
            format!("act.answers.{}", name.id()),
            "nobody asked that",
        ))
    })
}

impl Progress {
    /// What these answers, the glasses and the timed cups come to. A bath restarts the rinse, so whatever asks for one
    /// is judged before smell.
    pub(super) fn judge(
        &self,
        plan: &Plan,
        step: &Step,
        given: &BTreeMap<QuestionId, AnswerId>,
    ) -> Result<Judged, Problem> {
        check_answers(&step.doing, given)?;
        if step.is(Kind::Look) {
            return Ok(self.judge_bath(plan, given));
        }
        // A rinse within the needles' work asks for no bath: that is another clean.
        let is_descale = plan.work == Work::Descale;
        let judged = self
            .chalk_left(given)
            .filter(|_| is_descale)
            .map(|why| self.another_bath(plan, &why))
            .or_else(|| self.light_on(given).filter(|_| is_descale))
            .or_else(|| self.poor_flow(plan))
            .or_else(|| self.short_rinse(plan))
            .or_else(|| self.smelled(plan, given));
        Ok(judged.unwrap_or_else(|| Judged::new(Verdict::Good, "All good.")))
    }

    /// Why a bath must follow: chalk that shows, or a light that stayed on after its reset.
    fn chalk_left(&self, given: &BTreeMap<QuestionId, AnswerId>) -> Option<String> {
        let bad = |question: QuestionId| is_bad(given, question);
        let glass = self.final_glass(self.round);
        let measured = glass.and_then(|g| g.delta_e).filter(|d| *d >= DIFFERENT);
        // Rattle alone is chalk once; after a second bath it is something else.
        let why = if bad(QuestionId::Clear) || measured.is_some() {
            "Chalk or old coffee is still coming loose"
        } else if bad(QuestionId::Flakes) {
            "Chips mean that chalk is still moving"
        } else if bad(QuestionId::Heat) {
            "A cooler cup means that chalk still lies on the heater"
        } else if bad(QuestionId::Sound) && self.round == 1 {
            "The rattle means that chalk is left where the eye does not reach"
        } else if bad(QuestionId::Light) && self.light_reset {
            return Some("It still asks after the reset".to_owned());
        } else {
            return None;
        };
        let seen = match measured {
            Some(d) if !bad(QuestionId::Clear) => format!(
                "The last glass measures ΔE {d:.1} from tap water, which the eye sees from {DIFFERENT} on. "
            ),
            _ => String::new(),
        };
        Some(format!("{seen}{why}"))
    }

    /// Which bath follows a rinse.
    fn another_bath(&self, plan: &Plan, why: &str) -> Judged {
        let rinse = "The rinse then starts from the beginning.";
        if self.round >= MOST_ROUNDS {
            return Judged::new(
                Verdict::Refer,
                format!(
                    "{MOST_ROUNDS} baths have not done it. Stop here: ask the maker or a qualified repairer."
                ),
            );
        }
        if !self.soaked {
            return Judged::new(
                Verdict::BathAgain,
                format!(
                    "{why}, and this bath had no soak: the same strength once more, with soak. {rinse}"
                ),
            );
        }
        let is_no_better = self.is_no_better();
        let tried = self.round > 1 || is_no_better;
        let Some(percent) = self.next_percent(plan).filter(|_| tried) else {
            let text = format!("{why}: the same bath once more, soaked again. {rinse}");
            return Judged::new(Verdict::BathAgain, text);
        };
        let because = match is_no_better {
            true => "the glass is no better than the last",
            false => "the same strength was tried with soak",
        };
        Judged::new(
            Verdict::Stronger,
            format!("{why}, and {because}: the next strength up, {percent:.1} %. {rinse}"),
        )
    }

    fn light_on(&self, given: &BTreeMap<QuestionId, AnswerId>) -> Option<Judged> {
        is_bad(given, QuestionId::Light).then(|| {
            Judged::new(
                Verdict::ResetLight,
                "Unplug for 30 seconds, plug in, switch on. If it still asks, a second full bath follows.",
            )
        })
    }

    fn poor_flow(&self, plan: &Plan) -> Option<Judged> {
        let last = self.flow.last()?;
        let is_poor = last.is_at(Kind::Verify) && last.is_poor(plan) == Some(true);
        let clears = |s: &Step| matches!(s.doing, Doing::Clear { .. });
        if !is_poor || self.cleared_again || !plan.steps.iter().any(clears) {
            return None;
        }
        Some(Judged::new(
            Verdict::ClearAgain,
            format!(
                "{} is worse than when all is well: the bath has loosened bits that now sit in the needles. Clear and flush them once more.",
                last.text
            ),
        ))
    }

    /// A rinse that was ended far too early cannot be good, whatever a nose says.
    fn short_rinse(&self, plan: &Plan) -> Option<Judged> {
        let acid = self.acid_left(plan)?;
        let rinse = self.rinse_step(plan)?;
        let (count, target) = (self.count[rinse], self.target(plan, rinse));
        (acid.mg_l > FAR_ABOVE * acid.target_mg_l && count < target).then(|| {
            Judged::new(
                Verdict::RinseMore,
                format!(
                    "Only {count} of {target} rinses were done: {} is still inside.",
                    acid.times()
                ),
            )
        })
    }

    fn smelled(&self, plan: &Plan, given: &BTreeMap<QuestionId, AnswerId>) -> Option<Judged> {
        if is_bad(given, QuestionId::Smell) {
            return Some(Judged::new(
                Verdict::RinseMore,
                format!(
                    "Somebody notices below the usual line. {} bring it under the strictest published one.",
                    text::count(plan.rinse.more, "further rinse", "further rinses")
                ),
            ));
        }
        let tired = given.get(&QuestionId::Nose) == Some(&AnswerId::Tired);
        (tired && !self.nose_rested).then(|| {
            Judged::new(
                Verdict::SmellAgain,
                "A nose that hung over acid notices nothing any more. Some minutes of fresh air, a glass of plain water beside it, or a second person: then smell once more.",
            )
        })
    }

    /// The next strength up, % w/v.
    fn next_percent(&self, plan: &Plan) -> Option<f64> {
        let in_place = plan.stronger.as_ref().map(|stronger| stronger.bath.percent);
        let in_place = in_place.filter(|percent| *percent > plan.bath.percent);
        self.stronger(plan).map(|rung| rung.percent).or(in_place)
    }

    /// What the look after a bath comes to: rinsing can wait where chalk still moves.
    fn judge_bath(&self, plan: &Plan, given: &BTreeMap<QuestionId, AnswerId>) -> Judged {
        let told = |question: QuestionId| given.get(&question).copied();
        // The first acid may be brown: that is how it works.
        let of_this = |g: &&Glass| g.round == self.round && g.of == GlassOf::Soaked;
        let is_brown = self.glasses.iter().filter(of_this).any(Glass::is_brown);
        let is_more_planned = self.round < plan.chosen.baths;
        let is_likely =
            self.round < plan.likely_baths && told(QuestionId::Showed) != Some(AnswerId::Nothing);
        let why = if is_more_planned {
            None
        } else if told(QuestionId::Flakes) == Some(AnswerId::Bad) {
            Some("Chips mean that chalk is still moving".to_owned())
        } else if is_brown {
            Some("The bath still comes out brown".to_owned())
        } else if is_likely {
            Some(format!(
                "This much chalk likely takes {} baths",
                plan.likely_baths
            ))
        } else {
            None
        };
        let Some(why) = why else {
            return Judged::new(Verdict::Good, "Nothing speaks for another bath.");
        };
        let (verdict, way) = if self.round >= MOST_ROUNDS {
            let stop = format!(
                "after {MOST_ROUNDS} baths stop here: rinse it out, then ask the maker or a qualified repairer"
            );
            (Verdict::Refer, stop)
        } else if !self.soaked {
            let again = "the same bath again, this time with soak";
            (Verdict::BathAgain, again.to_owned())
        } else if let (Some(percent), true) = (self.next_percent(plan), self.round > 1) {
            (
                Verdict::Stronger,
                format!("the next strength up, {percent:.1} %"),
            )
        } else {
            (
                Verdict::BathAgain,
                "the same bath once more, with soak".to_owned(),
            )
        };
        Judged::new(
            verdict,
            format!("{why}: {way}. One rinse at the end is enough for all of them."),
        )
    }

    /// Baths that came out brown, as their glasses tell.
    pub(super) fn brown_baths(&self) -> u32 {
        let brown = |g: &&Glass| matches!(g.of, GlassOf::Bath | GlassOf::Soaked) && g.is_brown();
        let rounds: BTreeSet<_> = self.glasses.iter().filter(brown).map(|g| g.round).collect();
        rounds.len() as u32
    }

    /// What was seen of the chalk, for what is believed of the circuit.
    pub(super) fn evidence(&self, plan: &Plan) -> Evidence {
        Evidence {
            brought: self.brought,
            bits: self.bits,
            brown_baths: self.brown_baths(),
            checks: self.seen_of_result(plan),
            // One that no bath followed is the result itself.
            failed: self
                .failed
                .filter(|failed| failed.baths < self.poured.len() as u32),
        }
    }

    /// What was seen of the result, as it was answered last.
    pub(super) fn seen_of_result(&self, plan: &Plan) -> Checks {
        let told = |question: QuestionId| match self.answered.get(&question)? {
            AnswerId::Good => Some(true),
            AnswerId::Bad => Some(false),
            AnswerId::Fresh
            | AnswerId::Beside
            | AnswerId::Second
            | AnswerId::Tired
            | AnswerId::Chalk
            | AnswerId::Some
            | AnswerId::Nothing
            | AnswerId::Unseen => None,
        };
        let flow = self.flow.iter().rfind(|f| f.is_at(Kind::Verify));
        Checks {
            flakes: told(QuestionId::Flakes),
            flow: flow.and_then(|f| f.is_poor(plan)).map(|poor| !poor),
            clear: told(QuestionId::Clear),
            heat: told(QuestionId::Heat),
            sound: told(QuestionId::Sound),
            light: told(QuestionId::Light),
        }
    }

    /// Seconds of a cup that was timed before the bath; none where the needles were cleared after it.
    pub(super) fn cup_before(&self) -> Option<f64> {
        let before = [Kind::Before, Kind::Baseline];
        let mut cups = self.flow.iter().rev();
        let cup = cups.find(|f| before.iter().any(|kind| f.is_at(*kind)))?;
        cup.seconds
    }

    /// What was looked at in the end, a line each.
    pub(super) fn checks(&self, plan: &Plan) -> Vec<String> {
        let told = |question: QuestionId| self.answered.get(&question).copied();
        let mut checks = Vec::new();
        if let Some(smell) = told(QuestionId::Smell) {
            let found = if smell == AnswerId::Good {
                "nobody notices acid"
            } else {
                "somebody still notices acid"
            };
            let how = match told(QuestionId::Nose) {
                Some(AnswerId::Fresh) => ", after fresh air",
                Some(AnswerId::Beside) => ", beside a glass of plain water",
                Some(AnswerId::Second) => ", by a second person",
                Some(AnswerId::Tired) => ", by a nose that may be tired",
                _ => "",
            };
            checks.push(format!("Smell: {found}{how}"));
        }
        let pairs = [
            (
                QuestionId::Clear,
                "Water: as clear as tap water",
                "Water: not as clear as tap water",
            ),
            (QuestionId::Flakes, "Chips: none", "Chips: still some"),
            (
                QuestionId::Heat,
                "Heat: as hot as it should be",
                "Heat: cooler than it should be",
            ),
            (
                QuestionId::Sound,
                "Sound: quiet",
                "Sound: it rattles; if that stays, it may be air in the pump",
            ),
            (
                QuestionId::Light,
                "Light: does not ask",
                "Light: still asks",
            ),
        ];
        for (question, good, bad) in pairs {
            checks.extend(
                told(question).map(|a| if a == AnswerId::Good { good } else { bad }.to_owned()),
            );
        }
        if let Some(flow) = self.flow.iter().rfind(|f| f.is_at(Kind::Verify)) {
            checks.push(match flow.is_poor(plan) {
                Some(true) => format!("Flow: {}, worse than when all is well", flow.text),
                Some(false) => format!("Flow: {}, as when all is well", flow.text),
                None => format!("Flow: {}", flow.text),
            });
        }
        checks.extend(self.left_out_text(plan));
        checks
    }

    fn final_glass(&self, round: u32) -> Option<&Glass> {
        self.glasses
            .iter()
            .find(|g| g.of == GlassOf::Final && g.round == round)
    }

    /// Whether this bath's last glass is no better than that of the bath before; unknown counts as better.
    fn is_no_better(&self) -> bool {
        let last = self.final_glass(self.round - 1);
        let now = self.final_glass(self.round);
        match (last, now) {
            (Some(last), Some(now)) => match (last.delta_e, now.delta_e) {
                (Some(a), Some(b)) => b > a - 1.0,
                _ => last.rating.zip(now.rating).is_some_and(|(a, b)| b >= a),
            },
            _ => false,
        }
    }

    /// The glass that belongs to where the clean stands.
    pub(super) fn glass_next(&self, plan: &Plan) -> GlassOf {
        let has = |of, round| self.glasses.iter().any(|g| g.of == of && g.round == round);
        let at = self.current().unwrap_or(plan.steps.len());
        // Since the bath that was mixed last, or is just being mixed.
        let from = (0..plan.steps.len().min(at + 1)).rfind(|i| plan.steps[*i].is(Kind::Mix));
        let since = plan
            .steps
            .get(from.unwrap_or(0)..plan.steps.len().min(at + 1));
        let bath = plan.steps.iter().skip(from.unwrap_or(0));
        let mut bath = bath.take_while(|s| !s.is(Kind::Look));
        let has_soak = bath.any(|s| s.is(Kind::Soak));
        let reached = |kind| since.is_some_and(|steps| steps.iter().any(|s| s.is(kind)));
        if !has(GlassOf::Reference, 1) {
            GlassOf::Reference
        } else if reached(Kind::Rinse) {
            GlassOf::Final
        } else if reached(Kind::Run) && (!has_soak || since.is_some_and(ran_after_a_soak)) {
            GlassOf::Soaked
        } else if reached(Kind::Mix) {
            GlassOf::Bath
        } else {
            GlassOf::First
        }
    }
}

/// Whether some of the bath came out that had soaked.
fn ran_after_a_soak(steps: &[Step]) -> bool {
    let mut steps = steps.iter().skip_while(|s| !s.is(Kind::Soak));
    steps.any(|s| s.is(Kind::Run))
}

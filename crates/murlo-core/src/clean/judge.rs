//! Judging by what can be seen: glasses side by side, timed cups, answers; and the verdict they come to.

use super::progress::Progress;
use super::{Problem, Verdict};
use crate::bounds;
use crate::chem::colour;
use crate::plan::{Doing, Kind, Plan, VERIFY, answers};
use crate::problem::{Code, Problems};
use crate::text;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// Baths after which the brewer is somebody else's case.
pub(super) const MOST_ROUNDS: u32 = 3;
/// From this colour difference on, two glasses are not the same to most people.
const DIFFERENT: f64 = 2.3;
/// Index of the tint from which on a glass is called brown.
const BROWN: u32 = 4;
/// A cup may take this much longer than when all was well.
const SLOW: f64 = 1.5;

/// Which glass.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum GlassOf {
    /// Tap water beside the brewer.
    Reference,
    /// The first run of plain water, before any acid.
    First,
    /// The bath as it comes out before the soak.
    Bath,
    /// The bath after the soak.
    Soaked,
    /// The last rinse, cooled.
    Final,
}

/// A tint somebody would call a glass by: 0 is clear.
pub const RATINGS: [&str; 6] = [
    "clear",
    "a trace of colour",
    "straw",
    "amber",
    "brown",
    "dark brown",
];

/// Colours tapped on a photo, 8-bit sRGB.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Sampled {
    /// In the reference glass.
    pub reference: [f64; 3],
    /// In the glass in question.
    pub sample: [f64; 3],
    /// On the white background.
    pub white: Option<[f64; 3]>,
}

/// A glass as a person gives it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct GlassSeen {
    /// Which glass.
    pub of: GlassOf,
    /// Index of the tint it looks like.
    pub rating: Option<u32>,
    /// A photo that was sent before.
    pub photo: Option<String>,
    /// Colours tapped on the photo.
    pub sampled: Option<Sampled>,
}

/// A glass in the row.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Glass {
    /// Which glass.
    pub of: GlassOf,
    /// Of which bath, from 1.
    pub round: u32,
    /// "After the soak, bath 2".
    pub label: String,
    /// Strength of the bath it shows, % w/v.
    pub percent: Option<f64>,
    /// Index of its tint.
    pub rating: Option<u32>,
    /// "amber", "the same as the reference (ΔE 0.6)".
    pub text: String,
    /// Measured difference from the reference.
    pub delta_e: Option<f64>,
    /// Its photo.
    pub photo: Option<String>,
}

impl GlassSeen {
    /// Checks what was given.
    pub(super) fn check(&self) -> Result<(), Problem> {
        if self.rating.is_none() && self.sampled.is_none() {
            return Err(Problem::new(
                Code::Missing,
                "act.glass.rating",
                "choose the tint that comes nearest, or tap both glasses on a photo",
            ));
        }
        if self.rating.is_some_and(|r| r as usize >= RATINGS.len()) {
            let most = RATINGS.len() - 1;
            return Err(Problem::new(
                Code::OutOfRange,
                "act.glass.rating",
                format!("give a tint from 0 (clear) to {most} (dark brown)"),
            ));
        }
        if let Some(photo) = &self.photo {
            text::id("act.glass.photo", photo)?;
        }
        if let Some(sampled) = &self.sampled {
            for (name, rgb) in [
                ("reference", Some(sampled.reference)),
                ("sample", Some(sampled.sample)),
                ("white", sampled.white),
            ] {
                for channel in rgb.into_iter().flatten() {
                    bounds::CHANNEL.check(&format!("act.glass.sampled.{name}"), channel)?;
                }
            }
        }
        Ok(())
    }

    pub(super) fn taken(&self, round: u32, percent: f64) -> Glass {
        let delta_e = self
            .sampled
            .map(|s| colour::delta_e(s.reference, s.sample, s.white));
        let place = match self.of {
            GlassOf::Reference => "Tap water",
            GlassOf::First => "First run",
            GlassOf::Bath => "With the bath",
            GlassOf::Soaked => "After the soak",
            GlassOf::Final => "Last rinse",
        };
        let acid = matches!(self.of, GlassOf::Bath | GlassOf::Soaked);
        let mut words = Vec::new();
        words.extend(self.rating.map(|r| RATINGS[r as usize].to_owned()));
        words.extend(delta_e.map(|d| {
            format!(
                "measured {} (ΔE {d:.1})",
                match colour::verdict(d) {
                    "the same" => "the same as tap water".to_owned(),
                    other => format!("{other} from tap water"),
                }
            )
        }));
        Glass {
            of: self.of,
            round,
            label: if round > 1 && self.of != GlassOf::Reference {
                format!("{place}, bath {round}")
            } else {
                place.to_owned()
            },
            percent: acid.then_some(percent),
            rating: self.rating,
            text: words.join(", "),
            delta_e,
            photo: self.photo.clone(),
        }
    }
}

/// A timed cup.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Flow {
    /// The step it was timed at.
    pub step: String,
    /// Seconds.
    pub seconds: Option<f64>,
    /// Streams.
    pub streams: Option<f64>,
    /// "22 s, 4 streams".
    pub text: String,
}

impl Flow {
    pub(super) fn new(
        step: &str,
        seconds: Option<f64>,
        streams: Option<f64>,
    ) -> Result<Self, Problem> {
        if seconds.is_none() && streams.is_none() {
            return Err(Problem::new(
                Code::Missing,
                "act.seconds",
                "give the seconds of a cup, or the number of streams",
            ));
        }
        if let Some(seconds) = seconds {
            bounds::SECONDS.check("act.seconds", seconds)?;
        }
        if let Some(streams) = streams {
            bounds::STREAMS_SEEN.check("act.streams", streams)?;
        }
        let mut words = Vec::new();
        words.extend(seconds.map(|s| format!("{s:.0} s")));
        words.extend(streams.map(|n| text::count(n as u32, "stream", "streams")));
        Ok(Self {
            step: step.to_owned(),
            seconds,
            streams,
            text: words.join(", "),
        })
    }

    /// Whether it flows worse than when all is well, or `None` when there is nothing to compare.
    pub(super) fn is_poor(&self, plan: &Plan) -> Option<bool> {
        let healthy = plan.healthy?;
        let slow = self.seconds.map(|s| s > SLOW * healthy.seconds);
        let few = self.streams.map(|n| n < healthy.streams);
        match (slow, few) {
            (None, None) => None,
            (a, b) => Some(a.unwrap_or(false) || b.unwrap_or(false)),
        }
    }
}

/// What the timed cups come to, in a sentence.
pub(super) fn flow_text(flow: &[Flow], plan: &Plan) -> Option<String> {
    let last = flow.last()?;
    let mut text = match flow.first().filter(|first| first.step != last.step) {
        Some(first) => format!("Before: {}. Now: {}.", first.text, last.text),
        None => format!("Now: {}.", last.text),
    };
    if let Some(healthy) = plan.healthy {
        text.push_str(&format!(
            " When all is well: {:.0} s, {}. ",
            healthy.seconds,
            text::count(healthy.streams as u32, "stream", "streams")
        ));
        text.push_str(match last.is_poor(plan) {
            Some(true) => "It flows worse than it should.",
            _ => "It flows as it should.",
        });
    } else if flow.len() == 1 {
        text.push_str(" At the end it can be kept as what later cups are held against.");
    }
    Some(text)
}

/// A verdict with its reason.
pub(super) struct Judged {
    pub verdict: Verdict,
    pub reason: String,
}

/// Whether every question was answered with one of its answers.
fn check_answers(doing: &Doing, given: &BTreeMap<String, String>) -> Result<(), Problem> {
    let Doing::Ask { questions } = doing else {
        return Err(super::unfit("nothing is asked at this step"));
    };
    for question in questions {
        let field = format!("act.answers.{}", question.id);
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
            format!("act.answers.{name}"),
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
        doing: &Doing,
        given: &BTreeMap<String, String>,
    ) -> Result<Judged, Problem> {
        check_answers(doing, given)?;
        let bad = |question: &str| given.get(question).is_some_and(|a| a == answers::BAD);
        let glass = self.final_glass(self.round);
        let measured = glass.and_then(|g| g.delta_e).filter(|d| *d >= DIFFERENT);
        let light = bad(answers::LIGHT);
        // Rattle alone is chalk once; after a second bath it is something else.
        let chalk = if bad(answers::CLEAR) || measured.is_some() {
            Some("Chalk or old coffee is still coming loose")
        } else if bad(answers::FLAKES) {
            Some("Chips mean that chalk is still moving")
        } else if bad(answers::HEAT) {
            Some("A cooler cup means that chalk still lies on the heater")
        } else if bad(answers::SOUND) && self.round == 1 {
            Some("The rattle means that chalk is left where the eye does not reach")
        } else {
            None
        };
        let seen = match measured {
            Some(d) if !bad(answers::CLEAR) => format!(
                "The last glass measures ΔE {d:.1} from tap water, which the eye sees from {DIFFERENT} on. "
            ),
            _ => String::new(),
        };
        let judged = |verdict, reason: String| Ok(Judged { verdict, reason });
        if chalk.is_some() || (light && self.light_reset) {
            let why = match chalk {
                Some(why) => format!("{seen}{why}"),
                None => "It still asks after the reset".to_owned(),
            };
            let rinse = "The rinse then starts from the beginning.";
            return if self.round >= MOST_ROUNDS {
                judged(
                    Verdict::Refer,
                    format!(
                        "{MOST_ROUNDS} baths have not done it. Stop here: ask the maker or a qualified repairer."
                    ),
                )
            } else if !self.soaked {
                judged(
                    Verdict::BathAgain,
                    format!(
                        "{why}, and this bath had no soak: the same strength once more, with soak. {rinse}"
                    ),
                )
            } else if let (Some(stronger), false) = (&plan.stronger, self.stronger)
                && (self.round > 1 || self.is_no_better())
            {
                let because = if self.is_no_better() {
                    "the glass is no better than the last"
                } else {
                    "the same strength was tried with soak"
                };
                judged(
                    Verdict::Stronger,
                    format!(
                        "{why}, and {because}: the next strength up, {:.1} %. {rinse}",
                        stronger.bath.percent
                    ),
                )
            } else {
                judged(
                    Verdict::BathAgain,
                    format!("{why}: the same bath once more, soaked again. {rinse}"),
                )
            };
        }
        if light {
            return judged(Verdict::ResetLight, "Unplug for 30 seconds, plug in, switch on. If it still asks, a second full bath follows.".to_owned());
        }
        let poor = self
            .flow
            .last()
            .filter(|f| f.step == VERIFY && f.is_poor(plan) == Some(true));
        if let Some(flow) = poor
            && !self.cleared_again
            && plan
                .steps
                .iter()
                .any(|s| matches!(s.doing, Doing::Clear { .. }))
        {
            return judged(
                Verdict::ClearAgain,
                format!(
                    "{} is worse than when all is well: the bath has loosened bits that now sit in the needles. Clear and flush them once more.",
                    flow.text
                ),
            );
        }
        if bad(answers::SMELL) {
            return judged(
                Verdict::RinseMore,
                format!(
                    "Somebody notices below the usual line. {} bring it under the strictest published one.",
                    text::count(self.rinse(plan).more, "further rinse", "further rinses")
                ),
            );
        }
        if given
            .get(answers::NOSE)
            .is_some_and(|how| how == answers::TIRED)
            && !self.nose_rested
        {
            return judged(
                Verdict::SmellAgain,
                "A nose that hung over acid notices nothing any more. Some minutes of fresh air, a glass of plain water beside it, or a second person: then smell once more.".to_owned(),
            );
        }
        judged(Verdict::Good, "All good.".to_owned())
    }

    /// Baths that came out brown, as their glasses tell.
    pub(super) fn brown_baths(&self) -> u32 {
        let brown = |g: &&Glass| {
            matches!(g.of, GlassOf::Bath | GlassOf::Soaked) && g.rating.is_some_and(|r| r >= BROWN)
        };
        let rounds: BTreeSet<_> = self.glasses.iter().filter(brown).map(|g| g.round).collect();
        rounds.len() as u32
    }

    /// What a lot of chalk was judged by, when it is more than the answer to that question.
    pub(super) fn showed_by(&self, brown: u32) -> Option<String> {
        let flakes = self
            .answered
            .get(answers::FLAKES)
            .is_some_and(|a| a == answers::BAD);
        match (flakes, brown) {
            (_, 2..) => Some(format!("stayed brown through {brown} baths")),
            (true, _) => Some("still brought chips at the end".to_owned()),
            _ => None,
        }
    }

    /// What was looked at in the end, a line each.
    pub(super) fn checks(&self, plan: &Plan) -> Vec<String> {
        let told = |question: &str| self.answered.get(question).map(String::as_str);
        let mut checks = Vec::new();
        if let Some(smell) = told(answers::SMELL) {
            let found = if smell == answers::GOOD {
                "nobody notices acid"
            } else {
                "somebody still notices acid"
            };
            let how = match told(answers::NOSE) {
                Some(answers::FRESH) => ", after fresh air",
                Some(answers::BESIDE) => ", beside a glass of plain water",
                Some(answers::SECOND) => ", by a second person",
                Some(answers::TIRED) => ", by a nose that may be tired",
                _ => "",
            };
            checks.push(format!("Smell: {found}{how}"));
        }
        let pairs = [
            (
                answers::CLEAR,
                "Water: as clear as tap water",
                "Water: not as clear as tap water",
            ),
            (answers::FLAKES, "Chips: none", "Chips: still some"),
            (
                answers::HEAT,
                "Heat: as hot as it should be",
                "Heat: cooler than it should be",
            ),
            (
                answers::SOUND,
                "Sound: quiet",
                "Sound: it rattles; if that stays, it may be air in the pump",
            ),
            (answers::LIGHT, "Light: does not ask", "Light: still asks"),
        ];
        for (question, good, bad) in pairs {
            checks.extend(
                told(question).map(|a| if a == answers::GOOD { good } else { bad }.to_owned()),
            );
        }
        if let Some(flow) = self.flow.iter().find(|f| f.step == VERIFY) {
            checks.push(match flow.is_poor(plan) {
                Some(true) => format!("Flow: {}, worse than when all is well", flow.text),
                Some(false) => format!("Flow: {}, as when all is well", flow.text),
                None => format!("Flow: {}", flow.text),
            });
        }
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
        let reached = |kind| {
            plan.steps
                .iter()
                .position(|s| s.is(kind))
                .is_some_and(|i| at >= i)
        };
        if !has(GlassOf::Reference, 1) {
            GlassOf::Reference
        } else if reached(Kind::Rinse) {
            GlassOf::Final
        } else if reached(Kind::Run) {
            GlassOf::Soaked
        } else if reached(Kind::Mix) {
            GlassOf::Bath
        } else {
            GlassOf::First
        }
    }
}

impl From<Problems> for Problem {
    fn from(problems: Problems) -> Self {
        problems
            .0
            .into_iter()
            .next()
            .unwrap_or_else(|| Self::new(Code::Missing, "", "something is missing"))
    }
}

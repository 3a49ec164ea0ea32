//! From signs to likely causes, and the cheapest test that tells them apart.

pub use crate::trouble::signs::{Context, SignsSeen};

use crate::trouble::signs::{CAUSES, Cause, DANGERS, Remedy, SIGNS, STRENGTH, TroubleSign, danger};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::working::Working;
use serde::{Deserialize, Serialize};

/// Answers that are wrong: people look in a hurry, or hope. Judged.
pub(crate) const WRONG: f64 = 0.15;

/// What somebody came with is hardly ever a slip. Judged.
pub(crate) const SLIP: f64 = 0.025;

/// After so many answers something is done, clear or not.
pub(crate) const MOST_QUESTIONS: usize = 6;

/// A cause less likely than this is not begun with while another is likelier. Judged.
const WORTH_A_TRY: f64 = 0.08;

/// Whether it was well after what costs nothing.
pub(crate) const RESEATED: &str = "well-after-reseating";

/// How often that helps: with air or a float, with a pod that was left in, with anything else. Judged.
const HELPS: (f64, f64, f64) = (0.6, 0.05, 0.02);

/// Complaints about the water that comes, which it may help.
const OF_WATER: [&str; 8] = [
    "no-water-comes",
    "short-or-partial-cup",
    "slow",
    "poor-even-with-no-pod",
    "asks-for-water-when-full",
    "loud-rattling",
    "lukewarm",
    "fewer-streams",
];

/// A remedy that was tried and did not help was done badly, or was for the right cause all the same, this often. Judged.
const TRIED_IN_VAIN: f64 = 0.15;

/// A cause this likely is acted on.
pub(crate) const CLEAR: f64 = 0.90;

/// Answers that must speak for it before it is called clear. Judged.
const WITNESSES: usize = 3;

/// A test must tell at least this much to be worth doing, bits.
const TELLING_BITS: f64 = 0.02;

/// Before the name of a cause whose remedy was tried and did not help.
pub(crate) const TRIED: &str = "tried-";

/// What they call for.
const STOP: &str = "Unplug it, with dry hands, and stop. This is no cleaning matter: a qualified repairer has to look at it before anybody uses it again.";

/// A cause with how likely it is and why.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Ranked {
    /// The cause.
    pub cause: Cause,
    /// Its name.
    pub words: String,
    /// How likely, given what was seen.
    pub probability: f64,
    /// What speaks for it.
    pub evidence_for: Vec<String>,
    /// What speaks against it.
    pub evidence_against: Vec<String>,
    /// What to do about it.
    pub remedy: Remedy,
    /// How.
    pub remedy_text: String,
}

/// The test to do next.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct NextTest {
    /// The sign it looks for.
    pub sign: String,
    /// As a question.
    pub question: String,
    /// How to find out.
    pub how: String,
    /// Minutes it takes.
    pub minutes: f64,
    /// What it is expected to tell, bits.
    pub gain_bits: f64,
}

/// Causes, most likely first, and what to do next.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Diagnosis {
    /// Danger: nothing else counts.
    pub stop: Option<String>,
    /// Causes, most likely first.
    pub causes: Vec<Ranked>,
    /// The cheapest telling test; absent once it is clear enough to act, or enough was asked.
    pub next_test: Option<NextTest>,
    /// The cause whose remedy comes first, once there is no next test: the likeliest where it is clear, else what is soonest
    /// tried for how likely it is.
    pub begin_with: Option<Cause>,
    /// Where it stands, in a sentence.
    pub text: String,
    /// How it was worked out.
    pub working: Vec<Working>,
}

/// Checks that every sign is known and none contradicts another.
///
/// # Errors
/// One problem per unknown sign, or signs that contradict each other.
pub fn check_signs(seen: &SignsSeen) -> Result<(), Problems> {
    let mut problems = Problems::default();
    for name in seen.keys() {
        let tried = |c: &Cause| name.strip_prefix(TRIED) == Some(c.id());
        let known = name == RESEATED
            || SIGNS.iter().any(|s| s.id == name)
            || DANGERS.iter().any(|(id, _)| id == name)
            || Cause::ALL.iter().any(tried);
        if !known {
            let message = "no such sign: take one of the list";
            problems.0.push(Problem::new(
                Code::UnknownField,
                format!("signs.{name}"),
                message,
            ));
        }
    }
    let both = ["fine-with-no-pod-poor-with-a-pod", "poor-even-with-no-pod"];
    if both.iter().all(|name| seen.get(*name) == Some(&true)) {
        let message =
            "it cannot be fine without a pod and poor without one: run plain water and look again";
        problems.0.push(Problem::new(
            Code::Contradiction,
            format!("signs.{}", both[1]),
            message,
        ));
    }
    problems.or(Some(()))
}

/// How likely an answer is under a cause, when so many answers are wrong.
fn likelihood(sign: &TroubleSign, cause: usize, present: bool, wrong: f64) -> f64 {
    let strength = sign.strengths.get(cause).map_or(2, |s| usize::from(*s));
    let there = STRENGTH[strength];
    let told = (1.0 - wrong) * there + wrong * (1.0 - there);
    if present { told } else { 1.0 - told }
}

/// What somebody came with: the one they named, or the only thing they see.
fn opening<'s>(seen: &'s SignsSeen, context: &Context) -> Option<&'s str> {
    let mut there = seen
        .iter()
        .filter(|(name, present)| **present && SIGNS.iter().any(|sign| sign.id == name.as_str()));
    let named = there
        .clone()
        .find(|(name, _)| context.opening.is_some_and(|id| id == name.as_str()));
    let only = there.next().filter(|_| there.next().is_none());
    named.or(only).map(|(name, _)| name.as_str())
}

pub(crate) fn scaled(weights: [f64; CAUSES]) -> [f64; CAUSES] {
    let sum: f64 = weights.iter().sum();
    weights.map(|w| w / sum)
}

pub(crate) fn given(
    before: [f64; CAUSES],
    sign: &TroubleSign,
    present: bool,
    wrong: f64,
) -> [f64; CAUSES] {
    let mut after = before;
    for (i, weight) in after.iter_mut().enumerate() {
        *weight *= likelihood(sign, i, present, wrong);
    }
    after
}

/// What costs nothing was done, and helped or not.
fn after_reseating(mut weights: [f64; CAUSES], seen: &SignsSeen) -> [f64; CAUSES] {
    let (air, pod, other) = HELPS;
    if let Some(helped) = seen.get(RESEATED) {
        for (weight, cause) in weights.iter_mut().zip(Cause::ALL) {
            let helps = match cause {
                Cause::PumpAir => air,
                Cause::ExitNeedle => pod,
                Cause::EntranceNeedle
                | Cause::Scale
                | Cause::SpentFilter
                | Cause::CoffeeOil
                | Cause::AcidLeft
                | Cause::Nothing => other,
            };
            *weight *= if *helped { helps } else { 1.0 - helps };
        }
    }
    weights
}

/// A remedy that did not help speaks against its cause.
fn after_tries(mut weights: [f64; CAUSES], seen: &SignsSeen) -> [f64; CAUSES] {
    for (weight, cause) in weights.iter_mut().zip(Cause::ALL) {
        if seen.get(&format!("{TRIED}{}", cause.id())) == Some(&true) {
            *weight *= TRIED_IN_VAIN;
        }
    }
    weights
}

fn entropy(p: [f64; CAUSES]) -> f64 {
    p.iter().filter(|p| **p > 0.0).map(|p| -p * p.log2()).sum()
}

/// Bits that an answer to `sign` is expected to tell.
pub(crate) fn gain(p: [f64; CAUSES], sign: &TroubleSign) -> f64 {
    [true, false]
        .map(|present| {
            let joint = given(p, sign, present, WRONG);
            let weight: f64 = joint.iter().sum();
            if weight > 0.0 {
                -weight * entropy(scaled(joint))
            } else {
                0.0
            }
        })
        .iter()
        .sum::<f64>()
        + entropy(p)
}

/// What was answered, in the order of [`SIGNS`].
type KnownSigns<'s> = [(&'s TroubleSign, bool)];

/// How likely each cause is after all that was answered and tried.
fn likely(
    seen: &SignsSeen,
    known: &KnownSigns<'_>,
    context: &Context,
    opening: Option<&str>,
) -> [f64; CAUSES] {
    let mut weights = Cause::ALL.map(|cause| context.prior(cause));
    for (sign, present) in known {
        let wrong = match opening == Some(sign.id) {
            true => SLIP,
            false => WRONG,
        };
        weights = given(weights, &sign.in_context(context), *present, wrong);
    }
    scaled(after_tries(after_reseating(weights, seen), seen))
}

fn was_tried(seen: &SignsSeen, cause: Cause) -> bool {
    seen.get(&format!("{TRIED}{}", cause.id())) == Some(&true)
}

/// From what was seen to causes and the next test.
///
/// # Errors
/// One problem per unknown sign, or signs that contradict each other.
pub fn diagnose(seen: &SignsSeen, context: &Context) -> Result<Diagnosis, Problems> {
    check_signs(seen)?;
    let stop = danger(seen).map(|words| format!("{words}. {STOP}"));
    let known: Vec<(&TroubleSign, bool)> = SIGNS
        .iter()
        .filter_map(|sign| Some((sign, *seen.get(sign.id)?)))
        .collect();
    let opening = opening(seen, context);
    let p = likely(seen, &known, context, opening);
    let mut causes: Vec<Ranked> = Cause::ALL
        .iter()
        .enumerate()
        .filter(|(i, _)| p[*i] > 0.0)
        .map(|(i, cause)| ranked(i, *cause, p, &known, context))
        .collect();
    // What was tried in vain is named, but not begun with again.
    causes.sort_by(|a, b| {
        let likely = b.probability.total_cmp(&a.probability);
        was_tried(seen, a.cause)
            .cmp(&was_tried(seen, b.cause))
            .then(likely)
    });
    let best = &causes[0];
    // Answers that agree: a single one may be wrong.
    let is_borne_out = best.evidence_for.len() >= WITNESSES || best.cause == Cause::Nothing;
    let is_clear = is_borne_out && best.probability >= CLEAR;
    let is_well = seen.get(RESEATED) == Some(&true);
    let answers =
        known.len() - usize::from(opening.is_some()) + usize::from(seen.contains_key(RESEATED));
    let complains = known.iter().any(|(_, present)| *present);
    let is_enough = complains && answers >= MOST_QUESTIONS;
    let next_test = if stop.is_some() || is_well || is_clear || is_enough {
        None
    } else {
        reseating(seen, context).or_else(|| most_telling(p, seen, context))
    };
    let begin = match stop.is_some() || is_well || next_test.is_some() {
        true => None,
        false if is_clear => Some(best),
        false => soonest_tried(&causes, seen),
    };
    let text = match (&stop, &next_test) {
        (Some(stop), _) => stop.clone(),
        _ if is_well => {
            "It is well: air, a float that stuck, or a pod left in. Nothing more to do.".to_owned()
        }
        (None, Some(_)) if known.is_empty() => "Say what you see, or do the first test.".to_owned(),
        (None, Some(_)) => format!("Perhaps {}; one more look will tell more.", best.words),
        (None, None) if best.cause == Cause::Nothing => {
            "Nothing speaks for a fault: time a cup.".to_owned()
        }
        (None, None) if is_clear => format!("Clear enough to act: {}.", best.words),
        (None, None) => not_certain(&causes, begin),
    };
    let working = vec![working(best, p, known.len())];
    let begin_with = begin.map(|one| one.cause);
    Ok(Diagnosis {
        stop,
        begin_with,
        causes,
        next_test,
        text,
        working,
    })
}

/// Of what is likely enough, the cause whose remedy is soonest tried for how likely it is.
fn soonest_tried<'r>(causes: &'r [Ranked], seen: &SignsSeen) -> Option<&'r Ranked> {
    let best = causes[0].cause;
    causes
        .iter()
        .filter(|one| one.cause == best || one.probability >= WORTH_A_TRY)
        .filter(|one| one.cause == best || one.cause != Cause::Nothing)
        .filter(|one| !was_tried(seen, one.cause))
        .max_by(|a, b| {
            let worth = |one: &Ranked| one.probability / one.remedy.effort();
            worth(a).total_cmp(&worth(b))
        })
}

/// What is done where nothing is clear, and what then.
fn not_certain(causes: &[Ranked], begin: Option<&Ranked>) -> String {
    let Some(begin) = begin else {
        return "All of it was tried: ask the maker or a qualified repairer.".to_owned();
    };
    let other = |one: &&Ranked| one.cause != begin.cause && one.cause != Cause::Nothing;
    let then = causes.iter().find(other);
    let then = then.map_or_else(String::new, |then| {
        format!("{}, and after that ", then.words)
    });
    format!(
        "Not certain. Do first what is soonest tried: {}. If that does not help: {then}ask the maker or a qualified repairer.",
        begin.words
    )
}

fn working(best: &Ranked, p: [f64; CAUSES], known: usize) -> Working {
    Working::new(
        "likeliest cause",
        "P(cause | signs) ∝ P(cause) · Π P(answer | cause), P(yes) = (1 − w) s + w (1 − s) for strength s and wrong answers w; what costs nothing first, then what is expected to tell most",
        &[
            ("strong, some, no, contrary sign", format!("{STRENGTH:?}")),
            (
                "answers that are wrong",
                format!("{WRONG}; what somebody came with {SLIP}"),
            ),
            ("signs known", known.to_string()),
            ("uncertainty left", format!("{:.2} bits", entropy(p))),
        ],
        format!("{} {:.0} %", best.words, 100.0 * best.probability),
        "strengths by practitioners' judgement, not measured; one cause at a time",
    )
}

fn ranked(
    i: usize,
    cause: Cause,
    p: [f64; CAUSES],
    known: &KnownSigns<'_>,
    context: &Context,
) -> Ranked {
    let (mut evidence_for, mut evidence_against) = (Vec::new(), Vec::new());
    for (sign, present) in known {
        let sign = sign.in_context(context);
        let here = likelihood(&sign, i, *present, WRONG);
        // A sign of no particular cause is the measure for one that is.
        let plain = likelihood(&sign, CAUSES - 1, *present, WRONG);
        let line = format!("{} {}", sign.question, if *present { "Yes" } else { "No" });
        if here > 1.2 * plain {
            evidence_for.push(line);
        } else if here < plain / 1.2 {
            evidence_against.push(line);
        }
    }
    let (remedy, remedy_text) = cause.remedy();
    Ranked {
        cause,
        words: cause.words().to_owned(),
        probability: p[i],
        evidence_for,
        evidence_against,
        remedy,
        remedy_text: remedy_text.to_owned(),
    }
}

/// What costs nothing and is done before anything else, where water is the complaint.
fn reseating(seen: &SignsSeen, context: &Context) -> Option<NextTest> {
    let of_water = OF_WATER.iter().any(|id| seen.get(*id) == Some(&true));
    (of_water && !seen.contains_key(RESEATED)).then(|| NextTest {
        sign: RESEATED.to_owned(),
        question: "Is it well now?".to_owned(),
        how: match context.pods {
            true => "First what costs nothing: switch off and pull the plug. Once it is cool take any pod out, the needles are sharp; take the reservoir off, free its float, fill it and seat it firmly. After half a minute plug in again and run plain water.",
            false => "First what costs nothing: switch off and pull the plug. Once it is cool look whether grounds or a paper filter are in the way; free the float of the reservoir, fill it, and seat it firmly where it comes off. After half a minute plug in again and run plain water.",
        }
        .to_owned(),
        minutes: 2.0,
        gain_bits: 0.0,
    })
}

fn most_telling(p: [f64; CAUSES], seen: &SignsSeen, context: &Context) -> Option<NextTest> {
    SIGNS
        .iter()
        .filter(|sign| !seen.contains_key(sign.id) && sign.fits(context))
        .filter(|sign| !excluded(sign.id, seen))
        .map(|sign| (sign, gain(p, sign)))
        .filter(|(_, gain)| *gain >= TELLING_BITS)
        .max_by(|(_, more), (_, less)| more.total_cmp(less))
        .map(|(sign, gain)| NextTest {
            sign: sign.id.to_owned(),
            question: sign.question.to_owned(),
            how: sign.how.to_owned(),
            minutes: sign.minutes,
            gain_bits: gain,
        })
}

/// Whether the answer follows from what was seen.
fn excluded(id: &str, seen: &SignsSeen) -> bool {
    let is_there = |other: &str| seen.get(other) == Some(&true);
    match id {
        "fine-with-no-pod-poor-with-a-pod" => is_there("poor-even-with-no-pod"),
        "poor-even-with-no-pod" => is_there("fine-with-no-pod-poor-with-a-pod"),
        _ => false,
    }
}

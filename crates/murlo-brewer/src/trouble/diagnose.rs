//! From signs to likely causes, and the cheapest test that tells them apart.

pub use crate::trouble::signs::{Context, SignsSeen};

use crate::trouble::signs::{CAUSES, Cause, DANGERS, Remedy, SIGNS, STRENGTH, TroubleSign, danger};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::working::Working;
use serde::{Deserialize, Serialize};

/// Answers that are wrong: people look in a hurry, or hope. Judged.
pub(crate) const WRONG: f64 = 0.15;

/// A remedy that was tried and did not help was done badly, or was for the right cause all the same, this often. Judged.
const TRIED_IN_VAIN: f64 = 0.15;

/// A cause this likely is acted on.
pub(crate) const CLEAR: f64 = 0.80;

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
    /// The cheapest telling test; absent once it is clear enough to act, or nothing more can be told.
    pub next_test: Option<NextTest>,
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
        let known = SIGNS.iter().any(|s| s.id == name)
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

/// How likely an answer is under a cause, when some answers are wrong.
fn likelihood(sign: &TroubleSign, cause: usize, present: bool) -> f64 {
    let strength = sign.strengths.get(cause).map_or(2, |s| usize::from(*s));
    let there = STRENGTH[strength];
    let told = (1.0 - WRONG) * there + WRONG * (1.0 - there);
    if present { told } else { 1.0 - told }
}

pub(crate) fn scaled(weights: [f64; CAUSES]) -> [f64; CAUSES] {
    let sum: f64 = weights.iter().sum();
    weights.map(|w| w / sum)
}

pub(crate) fn given(before: [f64; CAUSES], sign: &TroubleSign, present: bool) -> [f64; CAUSES] {
    let mut after = before;
    for (i, weight) in after.iter_mut().enumerate() {
        *weight *= likelihood(sign, i, present);
    }
    after
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
            let joint = given(p, sign, present);
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
    let mut weights = Cause::ALL.map(|cause| context.prior(cause));
    for (sign, present) in &known {
        weights = given(weights, sign, *present);
    }
    let p = scaled(after_tries(weights, seen));
    let mut causes: Vec<Ranked> = Cause::ALL
        .iter()
        .enumerate()
        .filter(|(i, _)| p[*i] > 0.0)
        .map(|(i, cause)| ranked(i, *cause, p, &known))
        .collect();
    // What was tried in vain is named, but not begun with again.
    let tried = |cause: Cause| seen.get(&format!("{TRIED}{}", cause.id())) == Some(&true);
    causes.sort_by(|a, b| {
        let likely = b.probability.total_cmp(&a.probability);
        tried(a.cause).cmp(&tried(b.cause)).then(likely)
    });
    let best = &causes[0];
    let asked = known.iter().any(|(_, present)| *present) || best.cause == Cause::Nothing;
    let is_clear = asked && best.probability >= CLEAR;
    let next_test = if stop.is_some() || is_clear {
        None
    } else {
        cheapest(p, seen, context)
    };
    let text = match (&stop, &next_test) {
        (Some(stop), _) => stop.clone(),
        (None, Some(_)) if known.is_empty() => "Say what you see, or do the first test.".to_owned(),
        (None, Some(_)) => format!("Perhaps {}; one more look will tell more.", best.words),
        (None, None) if best.cause == Cause::Nothing => {
            "Nothing speaks for a fault: time a cup.".to_owned()
        }
        (None, None) if is_clear => format!("Clear enough to act: {}.", best.words),
        (None, None) => format!(
            "Nothing more can be told by looking. Begin with the likeliest, {}; if that does not help, ask the maker or a qualified repairer.",
            best.words
        ),
    };
    let working = vec![Working::new(
        "likeliest cause",
        "P(cause | signs) ∝ P(cause) · Π P(answer | cause), P(yes) = 0.85 s + 0.15 (1 − s) for strength s; next test by expected bits a minute",
        &[
            ("strong, some, no, contrary sign", format!("{STRENGTH:?}")),
            ("answers that are wrong", format!("{WRONG}")),
            ("signs known", known.len().to_string()),
            ("uncertainty left", format!("{:.2} bits", entropy(p))),
        ],
        format!("{} {:.0} %", best.words, 100.0 * best.probability),
        "strengths by practitioners' judgement, not measured; one cause at a time",
    )];
    Ok(Diagnosis {
        stop,
        causes,
        next_test,
        text,
        working,
    })
}

fn ranked(i: usize, cause: Cause, p: [f64; CAUSES], known: &[(&TroubleSign, bool)]) -> Ranked {
    let (mut evidence_for, mut evidence_against) = (Vec::new(), Vec::new());
    for (sign, present) in known {
        let here = likelihood(sign, i, *present);
        // A sign of no particular cause is the measure for one that is.
        let plain = likelihood(sign, CAUSES - 1, *present);
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

fn cheapest(p: [f64; CAUSES], seen: &SignsSeen, context: &Context) -> Option<NextTest> {
    SIGNS
        .iter()
        .filter(|sign| !seen.contains_key(sign.id) && sign.fits(context))
        .filter(|sign| !excluded(sign.id, seen))
        .map(|sign| (sign, gain(p, sign)))
        .filter(|(_, gain)| *gain >= TELLING_BITS)
        .max_by(|(a, more), (b, less)| (more / a.minutes).total_cmp(&(less / b.minutes)))
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

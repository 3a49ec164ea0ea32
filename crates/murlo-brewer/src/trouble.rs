//! What is wrong: from signs to causes, and the cheapest test that tells most.
//!
//! One cause is taken to be at work, and signs to follow from it one by one (naive Bayes). The strengths are practitioners'
//! judgement in three steps, not measured rates, so a probability here orders causes; it does not promise.

use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::working::Working;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// How likely a sign is under a cause: a strong sign, some, none in particular, one that speaks against.
const STRENGTH: [f64; 4] = [0.75, 0.35, 0.06, 0.02];
/// Answers that are wrong: people look in a hurry, or hope. Judged.
const WRONG: f64 = 0.15;
/// A remedy that was tried and did not help was done badly, or was for the right cause all the same, this often. Judged.
const TRIED_IN_VAIN: f64 = 0.15;
/// A cause this likely is acted on.
const CLEAR: f64 = 0.80;
/// A test must tell at least this much to be worth doing, bits.
const TELLING_BITS: f64 = 0.02;
/// Before the name of a cause whose remedy was tried and did not help.
const TRIED: &str = "tried-";

/// What can be wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Cause {
    /// The needle that pierces the lid of a pod.
    EntranceNeedle,
    /// The needle under the pod, or its holder.
    ExitNeedle,
    /// Chalk in heater or tubes.
    Scale,
    /// Air in the pump, or a stuck float.
    PumpAir,
    /// A spent water filter.
    SpentFilter,
    /// Coffee oil and fines.
    CoffeeOil,
    /// Acid left from a clean.
    AcidLeft,
    /// No fault at all.
    Nothing,
}

/// What to do about a cause.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Remedy {
    /// Clear needles.
    Needles,
    /// Descale, with a plan.
    Descale,
    /// A new water filter.
    Filter,
    /// Wash parts and run plain water.
    Wash,
    /// Rinse more.
    Rinse,
    /// Reseat the reservoir, unplug for half a minute.
    Reseat,
    /// Time a cup, to hold later ones against.
    TimeCup,
}

/// How many causes there are.
const CAUSES: usize = 8;

impl Cause {
    /// Every cause, in the order of the strengths in [`SIGNS`].
    pub const ALL: [Self; CAUSES] = [
        Self::EntranceNeedle,
        Self::ExitNeedle,
        Self::Scale,
        Self::PumpAir,
        Self::SpentFilter,
        Self::CoffeeOil,
        Self::AcidLeft,
        Self::Nothing,
    ];

    /// How often it is the cause before anything was seen, by judgement.
    const fn usual(self) -> f64 {
        match self {
            Self::EntranceNeedle | Self::CoffeeOil => 0.14,
            Self::ExitNeedle => 0.17,
            Self::Scale => 0.30,
            Self::PumpAir => 0.12,
            Self::SpentFilter => 0.07,
            Self::AcidLeft => 0.06,
            Self::Nothing => 0.10,
        }
    }

    /// Its name in data.
    const fn id(self) -> &'static str {
        match self {
            Self::EntranceNeedle => "entrance-needle",
            Self::ExitNeedle => "exit-needle",
            Self::Scale => "scale",
            Self::PumpAir => "pump-air",
            Self::SpentFilter => "spent-filter",
            Self::CoffeeOil => "coffee-oil",
            Self::AcidLeft => "acid-left",
            Self::Nothing => "nothing",
        }
    }

    /// Its name for people.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::EntranceNeedle => "lid needle (entrance) blocked",
            Self::ExitNeedle => "cup needle (exit) or its holder blocked",
            Self::Scale => "chalk (scale) in heater or tubes",
            Self::PumpAir => "air in the pump, or a stuck float",
            Self::SpentFilter => "water filter spent",
            Self::CoffeeOil => "coffee oil and fines",
            Self::AcidLeft => "acid left from a clean",
            Self::Nothing => "nothing speaks for a fault",
        }
    }

    /// What to do.
    #[must_use]
    pub const fn remedy(self) -> (Remedy, &'static str) {
        match self {
            Self::EntranceNeedle => (
                Remedy::Needles,
                "Unplug and let it cool. Push the seal under the lid needle back and work each side hole with a straightened paper clip, not far up; then run plain water.",
            ),
            Self::ExitNeedle => (
                Remedy::Needles,
                "Unplug and let it cool. Take the pod holder out without force, clear the needle under it with a straightened paper clip, rinse the holder, snap it back.",
            ),
            Self::Scale => (
                Remedy::Descale,
                "Descale it: Murlo plans the bath and the rinse.",
            ),
            Self::PumpAir => (
                Remedy::Reseat,
                "Unplug for half a minute. Take the reservoir off, rinse its valve and free its float, fill it, seat it firmly, then run plain water until it flows evenly.",
            ),
            Self::SpentFilter => (
                Remedy::Filter,
                "Put a new water filter in, soaked and rinsed as its leaflet says, and run plain water.",
            ),
            Self::CoffeeOil => (
                Remedy::Wash,
                "Wash holder, basket and carafe with soap, wipe where coffee splashes, and run two reservoirs of plain hot water.",
            ),
            Self::AcidLeft => (
                Remedy::Rinse,
                "Wash reservoir and lid with soap, then rinse more: a full reservoir of plain water, and let somebody with a rested nose judge.",
            ),
            Self::Nothing => (
                Remedy::TimeCup,
                "Time a cup of plain water and write it down: a later one that is slower tells what a look cannot.",
            ),
        }
    }
}

/// A sign with the cheapest way to look for it.
pub struct Sign {
    /// Name in data.
    pub id: &'static str,
    /// As a question.
    pub question: &'static str,
    /// How to find out.
    pub how: &'static str,
    /// Minutes it takes.
    minutes: f64,
    /// Whether it only makes sense where there are pods.
    pods_only: bool,
    /// Index into [`STRENGTH`] for each of [`Cause::ALL`] but the last, under which no sign is there in particular.
    strengths: [u8; CAUSES - 1],
}

impl Sign {
    /// Whether it goes with a cause, always or now and then.
    pub fn shows(&self, cause: Cause) -> bool {
        let of_cause = Cause::ALL.iter().zip(self.strengths);
        of_cause
            .filter(|(of, _)| **of == cause)
            .any(|(_, strength)| STRENGTH[usize::from(strength)] >= STRENGTH[1])
    }

    /// Whether it makes sense for such a brewer.
    #[must_use]
    pub const fn fits(&self, context: &Context) -> bool {
        context.pods || !self.pods_only
    }
}

const fn sign(
    id: &'static str,
    minutes: f64,
    pods_only: bool,
    strengths: [u8; CAUSES - 1],
    question: &'static str,
    how: &'static str,
) -> Sign {
    Sign {
        id,
        question,
        how,
        minutes,
        pods_only,
        strengths,
    }
}

/// Every sign. In the strengths 0 is strong, 1 some, 2 none in particular, 3 against.
pub const SIGNS: [Sign; 20] = [
    sign(
        "no-water-comes",
        0.5,
        false,
        [1, 0, 1, 0, 2, 2, 2],
        "Does no water come at all?",
        "Look for a forgotten pod, put a mug under it, press once.",
    ),
    sign(
        "short-or-partial-cup",
        1.0,
        false,
        [0, 1, 0, 1, 2, 2, 2],
        "Is the cup short?",
        "Run plain water into a measuring cup and compare with what it should be.",
    ),
    sign(
        "slow",
        1.5,
        false,
        [1, 1, 0, 2, 1, 2, 2],
        "Is it slower than it was?",
        "Time one cup of plain water.",
    ),
    sign(
        "lukewarm",
        1.0,
        false,
        [2, 2, 0, 2, 2, 2, 2],
        "Is the cup cooler than it was?",
        "Run plain water into a warm mug and feel it, or measure.",
    ),
    sign(
        "fewer-streams",
        1.0,
        true,
        [0, 1, 0, 2, 2, 2, 2],
        "Do fewer streams fall than usual?",
        "Run plain water and count them.",
    ),
    sign(
        "grounds-in-the-cup",
        0.5,
        false,
        [1, 0, 2, 2, 2, 1, 2],
        "Are there grounds in the cup?",
        "Look at the bottom of the last cup.",
    ),
    sign(
        "fine-with-no-pod-poor-with-a-pod",
        2.0,
        true,
        [1, 0, 3, 3, 3, 2, 2],
        "Is it fine without a pod and poor with one?",
        "Run plain water once without a pod, once with one.",
    ),
    sign(
        "poor-even-with-no-pod",
        2.0,
        true,
        [0, 3, 0, 1, 1, 2, 2],
        "Is it poor even without a pod?",
        "Take the pod out and run plain water.",
    ),
    sign(
        "overflow-around-the-pod",
        0.5,
        true,
        [2, 0, 2, 2, 2, 2, 2],
        "Does coffee overflow around the pod?",
        "Look into the pod chamber after a cup.",
    ),
    sign(
        "loud-rattling",
        0.5,
        false,
        [2, 2, 0, 1, 2, 2, 2],
        "Is it louder than it was, or does it rattle?",
        "Listen to one cup of plain water.",
    ),
    sign(
        "white-chips",
        1.0,
        false,
        [2, 2, 0, 2, 2, 2, 2],
        "Do white chips come out?",
        "Run plain water into a clear glass before something dark.",
    ),
    sign(
        "brown-water-with-no-pod",
        2.0,
        false,
        [2, 1, 1, 2, 2, 0, 2],
        "Is plain water brown?",
        "Run plain water into a clear glass before something white.",
    ),
    sign(
        "sour-smell-after-a-clean",
        0.5,
        false,
        [2, 2, 2, 2, 2, 2, 0],
        "Does it smell sour after a clean?",
        "Fresh air first, then smell a cup of plain water beside one from the tap.",
    ),
    sign(
        "flat-or-stale-taste",
        3.0,
        false,
        [2, 2, 1, 2, 1, 0, 2],
        "Does the coffee taste flat or stale?",
        "Taste it beside one from another brewer, or by another person.",
    ),
    sign(
        "light-asks-for-descaling",
        0.3,
        false,
        [2, 2, 0, 2, 2, 2, 2],
        "Does a light ask for descaling?",
        "Look at the brewer. If it has no such light, the answer is no.",
    ),
    sign(
        "asks-for-water-when-full",
        0.5,
        false,
        [2, 2, 1, 0, 2, 2, 2],
        "Does it ask for water though it is full?",
        "Fill the reservoir, seat it firmly, switch on.",
    ),
    sign(
        "musty-smell-slime-in-the-reservoir",
        0.5,
        false,
        [2, 2, 2, 2, 2, 1, 2],
        "Is there a musty smell or slime in the reservoir?",
        "Take the lid off and smell; feel along the wall.",
    ),
    sign(
        "quicker-with-the-filter-out",
        2.0,
        false,
        [2, 2, 3, 2, 0, 2, 2],
        "Is it quicker with the water filter out?",
        "Take the filter out and time one cup of plain water, if it has a filter.",
    ),
    sign(
        "dark-oil-on-a-clip-in-the-lid-needle",
        2.0,
        true,
        [0, 2, 2, 2, 2, 1, 2],
        "Does a clip come out of the lid needle with dark oil on it?",
        "Unplug, let it cool, go a little way into one hole with a straightened paper clip.",
    ),
    sign(
        "oil-or-grounds-in-the-holders-opening",
        1.0,
        true,
        [2, 0, 2, 2, 2, 2, 2],
        "Is there oil or grounds in the opening of the pod holder?",
        "Unplug, let it cool, take the holder out and look through it.",
    ),
];

/// Signs that end all cleaning at once.
pub const DANGERS: [(&str, &str); 4] = [
    ("sparks", "Sparks"),
    ("tripped-breaker", "The breaker trips"),
    ("leak-from-the-body", "Water leaks from the body"),
    ("burnt-smell", "It smells burnt"),
];
/// The danger that was seen, in words, if there was one.
#[must_use]
pub fn danger(seen: &Seen) -> Option<&'static str> {
    DANGERS
        .iter()
        .find(|(id, _)| seen.get(*id) == Some(&true))
        .map(|(_, words)| *words)
}

/// What they call for.
const STOP: &str = "Unplug it, with dry hands, and stop. This is no cleaning matter: a qualified repairer has to look at it before anybody uses it again.";

/// What was seen: sign or danger to whether it is there; what is left out is not known.
pub type Seen = BTreeMap<String, bool>;

/// What is known of the brewer.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Context {
    /// Whether it brews pods.
    pub pods: bool,
    /// Share of the chalk limit that is used, if known: P10, median, P90.
    pub chalk_used: Option<[f64; 3]>,
    /// Whether it has a water filter, and whether that is worn out.
    pub filter: Option<bool>,
    /// Days since the last clean, if known.
    pub days_since_clean: Option<i32>,
}

impl Default for Context {
    fn default() -> Self {
        Self {
            pods: true,
            chalk_used: None,
            filter: Some(false),
            days_since_clean: None,
        }
    }
}

impl Context {
    /// How likely a cause is before anything was seen, not yet scaled to one.
    fn prior(&self, cause: Cause) -> f64 {
        let facts = match cause {
            Cause::EntranceNeedle | Cause::ExitNeedle if !self.pods => 0.0,
            // As it is believed: a window of three points, each for its share of circuits.
            Cause::Scale => self.chalk_used.map_or(1.0, |[low, median, high]| {
                let of = |used: f64| used.clamp(0.2, 2.5);
                0.3 * of(low) + 0.4 * of(median) + 0.3 * of(high)
            }),
            Cause::SpentFilter => match self.filter {
                None => 0.0,
                Some(false) => 1.0,
                Some(true) => 2.5,
            },
            Cause::AcidLeft => match self.days_since_clean {
                Some(0..=7) => 3.0,
                Some(_) => 0.2,
                None => 1.0,
            },
            _ => 1.0,
        };
        cause.usual() * facts
    }
}

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
pub fn check_signs(seen: &Seen) -> Result<(), Problems> {
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
fn likelihood(sign: &Sign, cause: usize, present: bool) -> f64 {
    let strength = sign.strengths.get(cause).map_or(2, |s| usize::from(*s));
    let there = STRENGTH[strength];
    let told = (1.0 - WRONG) * there + WRONG * (1.0 - there);
    if present { told } else { 1.0 - told }
}

fn scaled(weights: [f64; CAUSES]) -> [f64; CAUSES] {
    let sum: f64 = weights.iter().sum();
    weights.map(|w| w / sum)
}

fn given(before: [f64; CAUSES], sign: &Sign, present: bool) -> [f64; CAUSES] {
    let mut after = before;
    for (i, weight) in after.iter_mut().enumerate() {
        *weight *= likelihood(sign, i, present);
    }
    after
}

/// A remedy that did not help speaks against its cause.
fn after_tries(mut weights: [f64; CAUSES], seen: &Seen) -> [f64; CAUSES] {
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
fn gain(p: [f64; CAUSES], sign: &Sign) -> f64 {
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
pub fn diagnose(seen: &Seen, context: &Context) -> Result<Diagnosis, Problems> {
    check_signs(seen)?;
    let stop = danger(seen).map(|words| format!("{words}. {STOP}"));
    let known: Vec<(&Sign, bool)> = SIGNS
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

fn ranked(i: usize, cause: Cause, p: [f64; CAUSES], known: &[(&Sign, bool)]) -> Ranked {
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

fn cheapest(p: [f64; CAUSES], seen: &Seen, context: &Context) -> Option<NextTest> {
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
fn excluded(id: &str, seen: &Seen) -> bool {
    let is_there = |other: &str| seen.get(other) == Some(&true);
    match id {
        "fine-with-no-pod-poor-with-a-pod" => is_there("poor-even-with-no-pod"),
        "poor-even-with-no-pod" => is_there("fine-with-no-pod-poor-with-a-pod"),
        _ => false,
    }
}

#[cfg(test)]
mod tests;

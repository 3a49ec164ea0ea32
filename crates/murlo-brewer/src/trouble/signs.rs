//! Signs of trouble, and how strongly each speaks for or against a cause.

use murlo_base::problem::{Code, Problem};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// How likely a sign is under a cause: a strong sign, some, none in particular, one that speaks against.
pub(crate) const STRENGTH: [f64; 4] = [0.75, 0.35, 0.06, 0.02];

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

impl Remedy {
    /// What it costs to try, in minutes that count money and waiting in. Judged.
    pub(crate) const fn effort(self) -> f64 {
        match self {
            Self::Reseat | Self::TimeCup => 2.0,
            Self::Rinse => 4.0,
            Self::Wash => 6.0,
            Self::Needles => 8.0,
            Self::Filter => 15.0,
            Self::Descale => 40.0,
        }
    }
}

/// Sour, which is acid only where there was a clean.
const SOUR: &str = "sour-smell-after-a-clean";

/// A clean longer ago leaves no acid that anybody smells. Judged.
const ACID_DAYS: i32 = 30;

/// How many causes there are.
pub(crate) const CAUSES: usize = 8;

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
    pub(crate) const fn usual(self) -> f64 {
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
    pub(crate) const fn id(self) -> &'static str {
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
pub struct TroubleSign {
    /// Name in data.
    pub id: &'static str,
    /// As a question.
    pub question: &'static str,
    /// How to find out.
    pub how: &'static str,
    /// Minutes it takes.
    pub(crate) minutes: f64,
    /// Whether it only makes sense where there are pods.
    pub(crate) pods_only: bool,
    /// Index into [`STRENGTH`] for each of [`Cause::ALL`] but the last, under which no sign is there in particular.
    pub(crate) strengths: [u8; CAUSES - 1],
}

impl TroubleSign {
    /// Whether it goes with a cause, always or now and then.
    pub fn shows(&self, cause: Cause) -> bool {
        let of_cause = Cause::ALL.iter().zip(self.strengths);
        of_cause
            .filter(|(of, _)| **of == cause)
            .any(|(_, strength)| STRENGTH[usize::from(strength)] >= STRENGTH[1])
    }

    /// The same where it means something else for this brewer: sour with no clean lately is old coffee.
    #[must_use]
    pub(crate) fn in_context(&self, context: &Context) -> Self {
        let mut strengths = self.strengths;
        if self.id == SOUR
            && context
                .days_since_clean
                .is_some_and(|days| days > ACID_DAYS)
        {
            for (strength, cause) in strengths.iter_mut().zip(Cause::ALL) {
                *strength = match cause {
                    Cause::CoffeeOil => 0,
                    Cause::AcidLeft => 2,
                    Cause::EntranceNeedle
                    | Cause::ExitNeedle
                    | Cause::Scale
                    | Cause::PumpAir
                    | Cause::SpentFilter
                    | Cause::Nothing => *strength,
                };
            }
        }
        Self { strengths, ..*self }
    }

    /// Whether it makes sense for such a brewer.
    #[must_use]
    pub const fn fits(&self, context: &Context) -> bool {
        context.pods || !self.pods_only
    }
}

pub(crate) const fn sign(
    id: &'static str,
    minutes: f64,
    pods_only: bool,
    strengths: [u8; CAUSES - 1],
    question: &'static str,
    how: &'static str,
) -> TroubleSign {
    TroubleSign {
        id,
        question,
        how,
        minutes,
        pods_only,
        strengths,
    }
}

/// Every sign. In the strengths 0 is strong, 1 some, 2 none in particular, 3 against.
pub const SIGNS: [TroubleSign; 20] = [
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

/// The sign of that name, as what somebody came with; nothing for a danger, which is no matter of likelihood.
///
/// # Errors
/// Nothing that can be seen has that name.
pub fn named(field: &str, name: &str) -> Result<Option<&'static str>, Problem> {
    let found = SIGNS.iter().find(|sign| sign.id == name);
    let is_danger = DANGERS.iter().any(|(id, _)| *id == name);
    match found {
        None if !is_danger => {
            let message = "no such sign: take one of the list";
            Err(Problem::new(Code::UnknownField, field, message))
        }
        found => Ok(found.map(|sign| sign.id)),
    }
}

/// Signs that end all cleaning at once.
pub const DANGERS: [(&str, &str); 4] = [
    ("sparks", "Sparks"),
    ("tripped-breaker", "The breaker trips"),
    ("leak-from-the-body", "Water leaks from the body"),
    ("burnt-smell", "It smells burnt"),
];

/// The danger that was seen, in words, if there was one.
#[must_use]
pub fn danger(seen: &SignsSeen) -> Option<&'static str> {
    DANGERS
        .iter()
        .find(|(id, _)| seen.get(*id) == Some(&true))
        .map(|(_, words)| *words)
}

/// What was seen: sign or danger to whether it is there; what is left out is not known.
pub type SignsSeen = BTreeMap<String, bool>;

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
    /// What somebody came with, if they named it.
    pub opening: Option<&'static str>,
}

impl Default for Context {
    fn default() -> Self {
        Self {
            pods: true,
            chalk_used: None,
            filter: Some(false),
            days_since_clean: None,
            opening: None,
        }
    }
}

impl Context {
    /// How likely a cause is before anything was seen, not yet scaled to one.
    pub(crate) fn prior(&self, cause: Cause) -> f64 {
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
            Cause::EntranceNeedle
            | Cause::ExitNeedle
            | Cause::PumpAir
            | Cause::CoffeeOil
            | Cause::Nothing => 1.0,
        };
        cause.usual() * facts
    }
}

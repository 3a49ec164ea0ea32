//! What is seen in a clean: glasses side by side, and cups that were timed.

use murlo_base::problem::{Code, Problem};
use murlo_base::{bounds, text};
use murlo_chemistry::colour;
use murlo_plan::{Kind, Plan};
use serde::{Deserialize, Serialize};

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

/// Index of the tint from which on a glass is called brown.
const BROWN: u32 = 4;

impl Glass {
    /// Whether it looks brown.
    pub(super) fn is_brown(&self) -> bool {
        self.rating.is_some_and(|rating| rating >= BROWN)
    }
}

impl Flow {
    /// Whether it was timed at a step of this kind.
    pub(super) fn is_at(&self, kind: Kind) -> bool {
        Kind::of(&self.step).is_some_and(|(at, _)| at == kind)
    }

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

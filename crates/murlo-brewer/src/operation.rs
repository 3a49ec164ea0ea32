//! How a brewer is driven: the buttons of its cleaning mode, what its lights mean, and how healthy it flows.
//!
//! A person types this once from the manual; every step then shows it. The core only reads the figures.

use crate::panel::{LampSeen, Panel, TaughtPart};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use serde::{Deserialize, Serialize};

/// What a light, text or beep means.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Meaning {
    /// It waits for a press.
    YourTurn,
    /// It works by itself.
    Working,
    /// It wants water.
    WantsWater,
    /// It has finished.
    Done,
    /// It asks for descaling.
    AsksForDescaling,
}

impl Meaning {
    /// "your turn".
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::YourTurn => "your turn",
            Self::Working => "working, leave it",
            Self::WantsWater => "wants water",
            Self::Done => "done",
            Self::AsksForDescaling => "asks for descaling",
        }
    }
}

/// One signal of a brewer.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Signal {
    /// What is seen or heard: "cup light flashes".
    pub seen: String,
    /// What it means.
    pub means: Meaning,
    /// The lamp on the panel that shows it, where it was taught.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lamp: Option<LampSeen>,
}

/// The button recipe of one circuit. An empty text means: nothing of the kind is needed.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Operation {
    /// How its cleaning mode is entered.
    pub enter: String,
    /// Seconds to hold for that.
    pub hold_seconds: Option<f64>,
    /// What is pressed for one dispense; in its cleaning mode, where it has one.
    pub press: String,
    /// What is pressed for a plain cup, where that is another button than in the mode.
    pub cup: String,
    /// What re-arms it between presses, such as opening and closing the lid.
    pub rearm: String,
    /// Whether the mode is entered again for each fill of rinse water.
    pub reenter: bool,
    /// How the mode is left.
    pub leave: String,
    /// How it is run empty.
    pub purge: String,
    /// Minutes its programme takes, once timed or read off.
    pub programme_minutes: Option<f64>,
    /// What its lights and beeps mean.
    pub signals: Vec<Signal>,
    /// How it flows when all is well.
    pub healthy: Option<Healthy>,
    /// Its buttons and lamps as somebody put them.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub panel: Option<Panel>,
    /// What was taught on it, for each purpose; the texts above say the same in words.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub taught: Vec<TaughtPart>,
}

/// How a circuit flows when all is well.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Healthy {
    /// Seconds from the first drop to a full cup of its largest size.
    pub seconds: f64,
    /// Streams that fall.
    pub streams: f64,
}

/// Most signals a brewer can have written down.
const SIGNALS: usize = 12;

impl Operation {
    /// Whether nobody has told anything of it.
    #[must_use]
    pub fn is_untold(&self) -> bool {
        *self == Self::default()
    }

    /// "Lift the lever and hold the round button. Hold for 6 s.", or nothing.
    #[must_use]
    pub(crate) fn enter_line(&self) -> Option<String> {
        let held = self
            .hold_seconds
            .map_or(String::new(), |s| format!(" Hold for {s:.0} s."));
        (!self.enter.is_empty()).then(|| format!("{}{held}", sentence(&self.enter)))
    }

    /// The panel as it is kept; every script and signal must be one of it.
    fn checked_panel(&self, within: &str) -> Result<Option<Panel>, Problems> {
        let mut problems = Problems::default();
        let nothing = Panel::default();
        let panel = self.panel.as_ref().unwrap_or(&nothing);
        let checked = self
            .panel
            .as_ref()
            .and_then(|panel| problems.note(panel.check(&format!("{within}.panel"))));
        for (i, part) in self.taught.iter().enumerate() {
            let field = format!("{within}.taught.{i}");
            panel.check_script(&format!("{field}.touches"), &part.touches, &mut problems);
            if self.taught[..i].iter().any(|other| other.part == part.part) {
                let message = "this was taught twice: keep one";
                problems
                    .0
                    .push(Problem::new(Code::Contradiction, field, message));
            }
        }
        for (i, signal) in self.signals.iter().enumerate() {
            if signal
                .lamp
                .as_ref()
                .is_some_and(|lamp| panel.seen(lamp).is_none())
            {
                let field = format!("{within}.signals.{i}.lamp");
                let message = "no such lamp is on the panel: touch one that lights";
                problems
                    .0
                    .push(Problem::new(Code::UnknownId, field, message));
            }
        }
        problems.or(Some(checked))
    }

    /// The texts without outer blanks.
    ///
    /// # Errors
    /// One problem per text that is too long or figure outside its range, fields prefixed by `within`.
    pub fn check(&self, within: &str) -> Result<Self, Problems> {
        let mut problems = Problems::default();
        let mut line = |name: &str, given: &str| {
            if given.trim().is_empty() {
                return String::new();
            }
            let field = format!("{within}.{name}");
            problems.note(text::line(&field, given)).unwrap_or_default()
        };
        let mut checked = Self {
            enter: line("enter", &self.enter),
            press: line("press", &self.press),
            cup: line("cup", &self.cup),
            rearm: line("rearm", &self.rearm),
            leave: line("leave", &self.leave),
            purge: line("purge", &self.purge),
            ..self.clone()
        };
        for (i, signal) in checked.signals.iter_mut().enumerate() {
            let field = format!("{within}.signals.{i}.seen");
            if let Some(seen) = problems.note(text::line(&field, &signal.seen)) {
                signal.seen = seen;
            }
        }
        checked.panel = problems.note(self.checked_panel(within)).flatten();
        if self.signals.len() > SIGNALS {
            problems.0.push(Problem::new(
                Code::TooMuch,
                format!("{within}.signals"),
                format!("give at most {SIGNALS} signals"),
            ));
        }
        let optional = |bound: &bounds::Bound, name: &str, value: Option<f64>| {
            value.map_or(Ok(0.0), |v| bound.check(&format!("{within}.{name}"), v))
        };
        problems.note(optional(
            &bounds::HOLD_SECONDS,
            "hold_seconds",
            self.hold_seconds,
        ));
        problems.note(optional(
            &bounds::PROGRAMME,
            "programme_minutes",
            self.programme_minutes,
        ));
        problems.note(optional(
            &bounds::SECONDS,
            "healthy.seconds",
            self.healthy.map(|h| h.seconds),
        ));
        problems.note(optional(
            &bounds::STREAMS,
            "healthy.streams",
            self.healthy.map(|h| h.streams),
        ));
        problems.or(Some(checked))
    }
}

/// Ends with a full stop, so that lines can be joined.
fn sentence(text: &str) -> String {
    if text.ends_with(['.', '…']) {
        text.to_owned()
    } else {
        format!("{text}.")
    }
}

/// Where the things are kept that a clean needs.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Places {
    /// The maker's guide.
    pub guide: String,
    /// The service disc.
    pub disc: String,
    /// The pod adapter.
    pub adapter: String,
}

impl Places {
    /// The same without outer blanks.
    ///
    /// # Errors
    /// One problem per text that is too long.
    pub fn check(&self) -> Result<Self, Problems> {
        let mut problems = Problems::default();
        let mut line = |name: &str, given: &str| {
            if given.trim().is_empty() {
                return String::new();
            }
            problems
                .note(text::line(&format!("places.{name}"), given))
                .unwrap_or_default()
        };
        let checked = Self {
            guide: line("guide", &self.guide),
            disc: line("disc", &self.disc),
            adapter: line("adapter", &self.adapter),
        };
        problems.or(Some(checked))
    }
}

/// How the reader window lies, seen from above: the service disc's code lies likewise.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ReaderWindow {
    /// Beside the slot for the disc's grip.
    BesideSlot,
    /// At a right angle to it.
    RightAngle,
}

impl ReaderWindow {
    /// Both ways it may lie.
    pub const ALL: [Self; 2] = [Self::BesideSlot, Self::RightAngle];

    /// How it lies, for somebody who looks.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::BesideSlot => "beside the slot for the disc's grip",
            Self::RightAngle => "at a right angle to that slot",
        }
    }

    /// Which disc fits.
    #[must_use]
    pub const fn disc(self) -> &'static str {
        match self {
            Self::BesideSlot => "the disc whose code lies beside its grip",
            Self::RightAngle => "the disc whose code lies at a right angle to its grip",
        }
    }
}

/// How a loose part may be washed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Care {
    /// By hand in hot soapy water.
    Hand,
    /// Also in the top rack of a dishwasher.
    TopRack,
    /// Only rinsed.
    RinseOnly,
    /// Never under water, only wiped.
    WipeOnly,
}

/// A part that comes off.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Part {
    /// Its name.
    pub name: String,
    /// How it may be washed.
    pub care: Care,
    /// Whether the bath runs through or over it, so that it is washed before and cannot be spared meanwhile.
    pub in_use: bool,
}

impl Part {
    pub(super) fn new(name: &str, care: Care, in_use: bool) -> Self {
        Self {
            name: name.to_owned(),
            care,
            in_use,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lines_are_joined_into_sentences() {
        let operation = Operation {
            enter: "Off but plugged in: lever up, then the round button".into(),
            hold_seconds: Some(6.0),
            ..Operation::default()
        };
        assert_eq!(
            operation.enter_line().unwrap(),
            "Off but plugged in: lever up, then the round button. Hold for 6 s."
        );
        assert_eq!(Operation::default().enter_line(), None);
    }

    #[test]
    fn wrong_figures_and_texts_are_named_by_their_place() {
        let wrong = Operation {
            press: "x".repeat(400),
            hold_seconds: Some(0.0),
            programme_minutes: Some(f64::NAN),
            signals: vec![Signal {
                seen: " ".into(),
                means: Meaning::Done,
                lamp: None,
            }],
            healthy: Some(Healthy {
                seconds: 9999.0,
                streams: 0.0,
            }),
            ..Operation::default()
        };
        let fields: Vec<_> = wrong
            .check("operation")
            .unwrap_err()
            .0
            .into_iter()
            .map(|p| p.field)
            .collect();
        let expected = [
            "operation.press",
            "operation.signals.0.seen",
            "operation.hold_seconds",
            "operation.programme_minutes",
            "operation.healthy.seconds",
            "operation.healthy.streams",
        ];
        assert_eq!(fields, expected);
    }
}

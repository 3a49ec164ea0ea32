//! A brewer's buttons and lamps as a person put them, and what is done with them: taught by doing, drawn on every step after.

use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use serde::{Deserialize, Serialize};

/// Most buttons and lamps of one panel.
const CONTROLS: usize = 24;
/// Most touches of one script.
const TOUCHES: usize = 6;
/// Longest own word for one of them, characters.
const WORD: usize = 24;

/// What is touched, or lights.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ControlKind {
    /// It is pressed.
    Button,
    /// It is pressed, and lights.
    LitButton,
    /// It is moved: a lever, a lid, a switch.
    Lever,
    /// It lights.
    Lamp,
}

/// How it looks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ControlShape {
    /// Round.
    Round,
    /// Square.
    Square,
    /// Wider than high.
    Wide,
}

/// A button, lever or lamp, where a person put it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Control {
    /// Identity on its panel.
    pub id: String,
    /// What it is.
    pub kind: ControlKind,
    /// How it looks.
    pub shape: ControlShape,
    /// The person's own word for it; may be empty.
    #[serde(default)]
    pub word: String,
    /// Where it is, from the left edge (0) to the right (1).
    pub x: f64,
    /// Where it is, from the upper edge (0) to the lower (1).
    pub y: f64,
}

/// All of them, on a drawn strip or on a photo.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Panel {
    /// Buttons, levers and lamps.
    pub controls: Vec<Control>,
    /// The photo on which they are; a drawn strip where there is none.
    #[serde(default)]
    pub photo: Option<String>,
}

/// What a script is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ScriptPart {
    /// Entering the cleaning mode, or starting the programme.
    Enter,
    /// One dispense; in the mode, where there is one.
    Press,
    /// A plain cup, where that is another button than in the mode.
    Cup,
    /// What re-arms it between presses.
    Rearm,
    /// Leaving the mode.
    Leave,
    /// Running it empty.
    Purge,
}

impl ScriptPart {
    /// Every part, in the order in which they come.
    pub const ALL: [Self; 6] = [
        Self::Enter,
        Self::Press,
        Self::Rearm,
        Self::Leave,
        Self::Cup,
        Self::Purge,
    ];
}

/// One touch.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Touch {
    /// What is touched, together where there are several.
    pub controls: Vec<String>,
    /// How long it is held, s; absent for a press.
    #[serde(default)]
    pub hold_seconds: Option<f64>,
}

/// What is done for one purpose.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TaughtPart {
    /// The purpose.
    pub part: ScriptPart,
    /// What is touched, in order.
    pub touches: Vec<Touch>,
}

/// What a lamp does.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LampDoes {
    /// It lights steadily.
    Lights,
    /// It flashes.
    Flashes,
    /// It goes out.
    GoesOut,
}

impl LampDoes {
    const fn words(self) -> &'static str {
        match self {
            Self::Lights => "lights",
            Self::Flashes => "flashes",
            Self::GoesOut => "goes out",
        }
    }
}

/// What a lamp did, and what it meant.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LampSeen {
    /// The lamp.
    pub control: String,
    /// What it does.
    pub does: LampDoes,
}

impl Control {
    fn is_touched(&self) -> bool {
        self.kind != ControlKind::Lamp
    }

    /// "the button ‘big cup’", or by its look and place where nobody gave it a word.
    fn words(&self) -> String {
        let what = match self.kind {
            ControlKind::Button | ControlKind::LitButton => "button",
            ControlKind::Lever => "lever",
            ControlKind::Lamp => "lamp",
        };
        if !self.word.is_empty() {
            return format!("the {what} ‘{}’", self.word);
        }
        let shape = match self.shape {
            ControlShape::Round => "round",
            ControlShape::Square => "square",
            ControlShape::Wide => "wide",
        };
        let third = |at: f64, names: [&'static str; 3]| names[(at * 3.0).clamp(0.0, 2.0) as usize];
        let across = third(self.x, ["on the left", "in the middle", "on the right"]);
        let down = third(self.y, ["above, ", "", "below, "]);
        format!("the {shape} {what} {down}{across}")
    }

    fn check(&self, field: &str, problems: &mut Problems) -> Self {
        problems.note(text::id(&format!("{field}.id"), &self.id));
        let mut word = self.word.trim().to_owned();
        if !word.is_empty() {
            word = problems
                .note(text::name(&format!("{field}.word"), &word))
                .unwrap_or_default();
        }
        if word.chars().count() > WORD {
            let message = format!("give a word of at most {WORD} letters");
            let field = format!("{field}.word");
            problems
                .0
                .push(Problem::new(Code::OutOfRange, field, message));
        }
        for (name, at) in [("x", self.x), ("y", self.y)] {
            if !(0.0..=1.0).contains(&at) {
                let message = "put it on the strip: from 0 to 1";
                let field = format!("{field}.{name}");
                problems
                    .0
                    .push(Problem::new(Code::OutOfRange, field, message));
            }
        }
        Self {
            word,
            ..self.clone()
        }
    }
}

impl Panel {
    fn control(&self, id: &str) -> Option<&Control> {
        self.controls.iter().find(|control| control.id == id)
    }

    /// The same with words as they are kept.
    ///
    /// # Errors
    /// One problem for each wrong place, word or id, fields prefixed by `within`.
    pub fn check(&self, within: &str) -> Result<Self, Problems> {
        let mut problems = Problems::default();
        let mut controls = Vec::new();
        for (i, control) in self.controls.iter().enumerate() {
            let field = format!("{within}.controls.{i}");
            if self.controls[..i]
                .iter()
                .any(|other| other.id == control.id)
            {
                let message = "two of them have this id: make a new one";
                let field = format!("{field}.id");
                problems
                    .0
                    .push(Problem::new(Code::Contradiction, field, message));
            }
            controls.push(control.check(&field, &mut problems));
        }
        if self.controls.len() > CONTROLS {
            let message = format!("give at most {CONTROLS} buttons and lamps");
            let field = format!("{within}.controls");
            problems.0.push(Problem::new(Code::TooMuch, field, message));
        }
        if let Some(photo) = &self.photo {
            problems.note(text::id(&format!("{within}.photo"), photo));
        }
        problems.or(Some(Self {
            controls,
            photo: self.photo.clone(),
        }))
    }

    /// "the lamp ‘water’ flashes"; nothing for one that is not there, or does not light.
    pub(crate) fn seen(&self, lamp: &LampSeen) -> Option<String> {
        let control = self.control(&lamp.control)?;
        let lights = matches!(control.kind, ControlKind::Lamp | ControlKind::LitButton);
        lights.then(|| format!("{} {}", control.words(), lamp.does.words()))
    }

    /// "hold the button ‘clean’ for 3 s, then press the button ‘big cup’ twice".
    ///
    /// # Example
    /// ```
    /// use murlo_brewer::panel::{Control, ControlKind, ControlShape, Panel, Touch};
    /// let cup = Control { id: "c".into(), kind: ControlKind::Button, shape: ControlShape::Round, word: "big cup".into(), x: 0.1, y: 0.5 };
    /// let panel = Panel { controls: vec![cup], photo: None };
    /// let touch = Touch { controls: vec!["c".into()], hold_seconds: Some(3.2) };
    /// assert_eq!(panel.said(&[touch]), "hold the button ‘big cup’ for 3 s");
    /// ```
    #[must_use]
    pub fn said(&self, touches: &[Touch]) -> String {
        let mut said: Vec<String> = Vec::new();
        for alike in touches.chunk_by(|a, b| a == b) {
            let one = self.said_once(&alike[0]);
            said.push(match alike.len() {
                1 => one,
                2 => format!("{one} twice"),
                n => format!("{one} {n} times"),
            });
        }
        said.join(", then ")
    }

    fn said_once(&self, touch: &Touch) -> String {
        let touched = touch.controls.iter().filter_map(|id| self.control(id));
        let is_lever = touched
            .clone()
            .all(|control| control.kind == ControlKind::Lever);
        let names: Vec<_> = touched.map(Control::words).collect();
        let together = if names.len() > 1 { " together" } else { "" };
        let names = names.join(" and ");
        match touch.hold_seconds {
            Some(seconds) => format!("hold {names}{together} for {seconds:.0} s"),
            None if is_lever => format!("move {names}{together}"),
            None => format!("press {names}{together}"),
        }
    }

    /// Notes what is wrong with a script on this panel.
    pub(crate) fn check_script(&self, field: &str, touches: &[Touch], problems: &mut Problems) {
        let mut wrong = Vec::new();
        if touches.len() > TOUCHES {
            let message = format!("give at most {TOUCHES} touches");
            wrong.push(Problem::new(Code::TooMuch, field, message));
        }
        for (i, touch) in touches.iter().enumerate() {
            let at = format!("{field}.{i}.controls");
            if touch.controls.is_empty() {
                wrong.push(Problem::new(Code::Missing, &at, "say what is touched"));
            }
            for id in &touch.controls {
                let why = match self.control(id) {
                    None => (
                        Code::UnknownId,
                        "this is not on the panel: touch one that is",
                    ),
                    Some(control) if control.is_touched() => continue,
                    Some(_) => (
                        Code::WrongType,
                        "a lamp is not pressed: touch a button, or say that it is one that lights",
                    ),
                };
                wrong.push(Problem::new(why.0, &at, why.1));
            }
            if let Some(seconds) = touch.hold_seconds {
                let held =
                    bounds::HOLD_SECONDS.check(&format!("{field}.{i}.hold_seconds"), seconds);
                wrong.extend(held.err());
            }
        }
        problems.0.extend(wrong);
    }
}

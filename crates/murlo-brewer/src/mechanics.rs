//! What a side of a brewer does by itself: facts that a plan must respect, each a short choice or "don't know".
//!
//! Where something is not known the plan takes the way that harms in neither case, and says so. The button recipe beside it
//! ([`super::Operation`]) is text for people; nothing is computed from its words.

use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use serde::{Deserialize, Serialize};

/// What a cleaning mode outlasts, each more than the one before.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Survives {
    /// Nothing: it ends by itself when it is left waiting.
    Nothing,
    /// Being left alone, plugged in and switched on.
    Waiting,
    /// Also being switched off.
    SwitchedOff,
    /// Also the plug being pulled.
    Unplugged,
}

/// What ends a cleaning mode.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ModeEnds {
    /// The descaling light goes out, at the end of the rinse.
    Light,
    /// It asks for water after the rinse fill.
    WantsWater,
    /// Exactly one fill of rinse water; what is still to rinse is brewed plainly.
    OneFill,
}

/// A single mark with a name of its own, such as "drop line".
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NamedMark {
    /// As it is printed.
    pub name: String,
    /// Up to it, mL.
    pub ml: f64,
}

/// Facts of one side.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Mechanics {
    /// Whether this side has a cleaning programme that runs by itself.
    pub programme: Option<bool>,
    /// Whether that programme starts only while the light asks for it.
    pub needs_light: Option<bool>,
    /// Whether it has a cleaning mode that is pressed cup by cup.
    pub mode: Option<bool>,
    /// What that mode outlasts.
    pub survives: Option<Survives>,
    /// Whether the bath can soak in that mode.
    pub soaks_inside: Option<bool>,
    /// What ends that mode.
    pub ends: Option<ModeEnds>,
    /// Whether the tank has a float that must lie at the bottom before the bath is poured.
    pub float: Option<bool>,
    /// Whether it shows how long its programme still takes.
    pub shows_time: Option<bool>,
    /// Single marks with names, lowest first.
    pub marks: Vec<NamedMark>,
    /// The sizes printed on its buttons, as printed: "8 fl oz".
    pub sizes: Vec<String>,
}

/// Most marks or sizes that can be told.
const MOST: usize = 8;

impl Mechanics {
    /// Checks the facts on their own and against each other.
    ///
    /// # Errors
    /// One problem per wrong mark or size, and one for each pair of facts that contradict each other, naming both.
    pub fn check(&self, within: &str) -> Result<(), Problems> {
        let mut problems = Problems::default();
        for (i, mark) in self.marks.iter().enumerate() {
            let place = format!("{within}.marks.{i}");
            problems.note(text::name(&format!("{place}.name"), &mark.name));
            problems.note(bounds::VOLUME.check(&format!("{place}.ml"), mark.ml));
        }
        for (i, size) in self.sizes.iter().enumerate() {
            problems.note(text::name(&format!("{within}.sizes.{i}"), size));
        }
        for (list, many) in [("marks", self.marks.len()), ("sizes", self.sizes.len())] {
            if many > MOST {
                let message = format!("give at most {MOST}");
                problems.0.push(Problem::new(
                    Code::TooMuch,
                    format!("{within}.{list}"),
                    message,
                ));
            }
        }
        let no_mode = self.mode == Some(false);
        let contradictions = [
            (
                self.soaks_inside == Some(true) && self.survives == Some(Survives::Nothing),
                "soaks_inside",
                "\"soaks in the mode\" and \"the mode outlasts nothing\" contradict each other: one of the two must be otherwise",
            ),
            (
                no_mode && self.soaks_inside == Some(true),
                "soaks_inside",
                "\"soaks in the mode\" and \"has no cleaning mode\" contradict each other: one of the two must be otherwise",
            ),
            (
                no_mode && self.survives.is_some(),
                "survives",
                "\"what the mode outlasts\" and \"has no cleaning mode\" contradict each other: leave one of the two open",
            ),
            (
                no_mode && self.ends.is_some(),
                "ends",
                "\"what ends the mode\" and \"has no cleaning mode\" contradict each other: leave one of the two open",
            ),
            (
                self.programme == Some(false) && self.needs_light == Some(true),
                "needs_light",
                "\"starts only while the light asks\" and \"has no programme\" contradict each other: one of the two must be otherwise",
            ),
        ];
        for (is_so, field, message) in contradictions {
            if is_so {
                let field = format!("{within}.{field}");
                problems
                    .0
                    .push(Problem::new(Code::Contradiction, field, message));
            }
        }
        problems.or(Some(()))
    }

    /// How far the mode can be left alone; where nobody knows, it is not switched off and not unplugged.
    #[must_use]
    pub fn outlasts(&self) -> Survives {
        self.survives.unwrap_or(Survives::Waiting)
    }

    /// Whether the bath soaks in the mode.
    #[must_use]
    pub fn soaks_in_mode(&self) -> bool {
        self.soaks_inside
            .unwrap_or(self.outlasts() > Survives::Nothing)
    }

    /// Whether one fill of rinse water is all that the mode takes; where nobody knows, plain brews do no harm.
    #[must_use]
    pub fn one_fill(&self) -> bool {
        matches!(self.ends, Some(ModeEnds::OneFill | ModeEnds::WantsWater))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn impossible_sets_are_told_which_two_contradict() {
        let plain = Mechanics::default();
        for (facts, field) in [
            (
                Mechanics {
                    mode: Some(true),
                    survives: Some(Survives::Nothing),
                    soaks_inside: Some(true),
                    ..plain.clone()
                },
                Some("m.soaks_inside"),
            ),
            (
                Mechanics {
                    mode: Some(true),
                    survives: Some(Survives::Waiting),
                    soaks_inside: Some(true),
                    ..plain.clone()
                },
                None,
            ),
            (
                Mechanics {
                    mode: Some(false),
                    ends: Some(ModeEnds::Light),
                    ..plain.clone()
                },
                Some("m.ends"),
            ),
            (
                Mechanics {
                    mode: Some(false),
                    survives: Some(Survives::Unplugged),
                    ..plain.clone()
                },
                Some("m.survives"),
            ),
            (
                Mechanics {
                    programme: Some(false),
                    needs_light: Some(true),
                    ..plain.clone()
                },
                Some("m.needs_light"),
            ),
            (
                Mechanics {
                    sizes: vec!["8 fl oz".into(); MOST + 1],
                    ..plain.clone()
                },
                Some("m.sizes"),
            ),
            (
                Mechanics {
                    marks: vec![NamedMark {
                        name: "drop".into(),
                        ml: 0.0,
                    }],
                    ..plain.clone()
                },
                Some("m.marks.0.ml"),
            ),
            (plain, None),
        ] {
            let found = facts.check("m").err().map(|p| p.0[0].field.clone());
            assert_eq!(found.as_deref(), field, "{facts:?}");
        }
    }

    #[test]
    fn what_nobody_knows_is_taken_the_safe_way() {
        let unknown = Mechanics::default();
        assert_eq!(unknown.outlasts(), Survives::Waiting);
        assert!(unknown.soaks_in_mode() && !unknown.one_fill());
        let fleeting = Mechanics {
            survives: Some(Survives::Nothing),
            ends: Some(ModeEnds::OneFill),
            ..unknown
        };
        assert!(!fleeting.soaks_in_mode() && fleeting.one_fill());
    }
}

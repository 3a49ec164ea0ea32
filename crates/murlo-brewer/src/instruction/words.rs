//! Instructions in a household's units, in the words of one brewer.

use super::{Instruction, Thing, Washed};
use crate::{Operation, Outlet, Tank};
use murlo_base::units::{Units, parse_volume};
use murlo_base::{bounds, text};

/// How one side of a brewer is spoken of.
#[derive(Debug, Clone, Copy)]
pub struct Wording<'a> {
    /// Units to read.
    pub units: Units,
    /// Its button recipe.
    pub operation: &'a Operation,
    /// The sizes printed on its buttons.
    pub sizes: &'a [String],
    /// Where its water comes out.
    pub outlet: Outlet,
    /// Where it is filled in.
    pub tank: Tank,
    /// One dispense of its largest size, mL.
    pub largest_ml: f64,
}

/// A size this close to another is the same button.
const SAME_BUTTON: f64 = 0.06;

/// A clause that may stand with others in one sentence, or sentences of its own.
enum Said {
    Clause(String),
    Sentences(Vec<String>),
}

/// As many acts as are kept in mind from one sentence, and as many words.
const ACTS: usize = 3;
const WORDS: usize = 25;

impl Wording<'_> {
    /// The instructions as sentences, short ones together.
    #[must_use]
    pub fn say(&self, instructions: &[Instruction]) -> Vec<String> {
        let mut sentences = Vec::new();
        let mut clauses: Vec<String> = Vec::new();
        for instruction in instructions {
            let said = self.one(instruction);
            let words = |text: &str| text.split_whitespace().count();
            let so_far: usize = clauses.iter().map(|clause| words(clause)).sum();
            let is_full = match &said {
                Said::Clause(clause) => clauses.len() == ACTS || so_far + words(clause) > WORDS,
                Said::Sentences(_) => true,
            };
            if is_full && !clauses.is_empty() {
                sentences.push(sentence(&clauses.join(", ")));
                clauses.clear();
            }
            match said {
                Said::Clause(clause) => clauses.push(clause),
                Said::Sentences(more) => sentences.extend(more),
            }
        }
        if !clauses.is_empty() {
            sentences.push(sentence(&clauses.join(", ")));
        }
        sentences
    }

    /// A dispense as it is printed on its button, else in whole units.
    #[must_use]
    pub fn size(&self, ml: f64) -> String {
        let near = |size: &&String| {
            parse_volume("size", size, &bounds::VOLUME, None)
                .is_ok_and(|printed| (printed / ml - 1.0).abs() < SAME_BUTTON)
        };
        let printed = self.sizes.iter().find(near).cloned();
        printed.unwrap_or_else(|| self.units.whole_volume(ml))
    }

    fn vessel(&self) -> &'static str {
        match self.outlet {
            Outlet::Grounds => "the carafe",
            Outlet::Pod | Outlet::Capsule => "the mug",
        }
    }

    fn one(&self, instruction: &Instruction) -> Said {
        use Said::{Clause, Sentences};
        let clause = |text: &str| Clause(text.to_owned());
        let whole = |text: &str| Sentences(vec![text.to_owned()]);
        match instruction {
            Instruction::Unplug => clause("switch off and pull the plug"),
            Instruction::PlugIn => clause("plug in"),
            Instruction::SwitchOn => clause("switch on"),
            Instruction::SwitchOff => clause("switch off"),
            Instruction::LeaveOn => whole(
                "Leave it plugged in and switched on: without power it loses the cleaning mode.",
            ),
            Instruction::OpenLid => clause("open the lid"),
            Instruction::CloseLid => clause(match self.outlet {
                Outlet::Pod => "close the lid without a pod",
                Outlet::Capsule | Outlet::Grounds => "close the lid",
            }),
            Instruction::CloseOn { .. } => clause("close the lid on it"),
            Instruction::TakeOut { thing } => Clause(format!("take out {}", taken(*thing))),
            Instruction::PutIn { thing, new } => put(*thing, *new),
            Instruction::PlaceVessel { holds_ml } => match self.outlet {
                Outlet::Grounds => clause("set the empty carafe in place"),
                Outlet::Pod | Outlet::Capsule => Clause(format!(
                    "set a vessel under it that holds {}",
                    self.units.whole_volume(*holds_ml)
                )),
            },
            Instruction::EmptyVessel => Clause(format!("empty {}", self.vessel())),
            Instruction::EmptyReservoir => clause(emptied(self.tank)),
            Instruction::LowerToFloat => {
                clause("lower the water until the float lies at the bottom")
            }
            Instruction::PourBath { lines, .. } => Sentences(lines.clone()),
            Instruction::FillUp { ml } => self.filled(*ml),
            Instruction::HaveWater { ml } => Clause(format!(
                "see that at least {} of fresh water is in the reservoir",
                self.units.whole_volume(*ml)
            )),
            Instruction::EnterMode => self.entered(),
            Instruction::StillInMode => {
                whole("It is still in its cleaning mode, and takes the next fill for its rinse.")
            }
            Instruction::LeaveMode => self.left(),
            Instruction::Rearm => self.rearmed(),
            Instruction::Press { ml, in_mode } => self.pressed(*ml, *in_mode),
            Instruction::PressHotWater { ml } => Clause(format!(
                "run {} through the hot-water outlet",
                self.size(*ml)
            )),
            Instruction::Programme { minutes } => {
                let first = format!(
                    "Start the cleaning programme; it runs about {}.",
                    text::minutes(*minutes)
                );
                Sentences(
                    [first]
                        .into_iter()
                        .chain(self.operation.enter_line())
                        .collect(),
                )
            }
            Instruction::Brew { .. } => Clause(format!(
                "run a brew{} until all of it is through",
                self.brewed_by()
            )),
            Instruction::BrewHalf { .. } => self.halved(),
            Instruction::PauseAtFirstDrops => self.paused(),
            Instruction::Purge => self.purged(),
            Instruction::Cool { minutes } => Sentences(vec![format!(
                "Let it cool {}: what was just heated is not touched.",
                text::minutes(*minutes)
            )]),
            Instruction::Soak { .. } => whole("Leave the bath where it is."),
            Instruction::Wash(washed) => Sentences(washing(washed, self.tank)),
            Instruction::ClearNeedles { lines } => Sentences(lines.clone()),
            Instruction::NoteOn => whole("Put a note on the brewer: acid inside, do not brew."),
            Instruction::NoteOff => whole("Take the note off."),
            Instruction::Mind { text } => whole(text),
        }
    }

    fn filled(&self, ml: Option<f64>) -> Said {
        Said::Clause(match ml {
            None => "fill with fresh water to the top".to_owned(),
            Some(ml) => format!("pour in {} of fresh water", self.units.whole_volume(ml)),
        })
    }

    fn entered(&self) -> Said {
        Said::Sentences(vec![match self.operation.enter_line() {
            Some(line) => format!("Enter the cleaning mode: {line}"),
            None => "Enter the cleaning mode as its manual says.".to_owned(),
        }])
    }

    fn left(&self) -> Said {
        Said::Sentences(vec![match self.operation.leave.as_str() {
            "" => "Leave the cleaning mode as its manual says, if it is still on.".to_owned(),
            leave => format!("Leave the cleaning mode: {}.", leave.trim_end_matches('.')),
        }])
    }

    fn rearmed(&self) -> Said {
        Said::Sentences(vec![match self.operation.rearm.as_str() {
            "" => "Between presses: open and close the lid.".to_owned(),
            rearm => format!("Between presses: {}.", rearm.trim_end_matches('.')),
        }])
    }

    /// In its mode a brewer is often pressed another way than for a cup.
    fn pressed(&self, ml: f64, in_mode: bool) -> Said {
        let Operation {
            press, cup, enter, ..
        } = self.operation;
        let told = match (in_mode, cup.is_empty(), enter.is_empty()) {
            (false, false, _) => cup.as_str(),
            (false, true, false) => "",
            (true, ..) | (false, true, true) => press.as_str(),
        };
        match told {
            "" if (ml / self.largest_ml - 1.0).abs() < SAME_BUTTON => {
                Said::Clause(format!("press the largest size ({})", self.size(ml)))
            }
            "" => Said::Clause(format!("press for about {}", self.size(ml))),
            press => Said::Sentences(vec![format!(
                "{} ({}).",
                sentence(press).trim_end_matches('.'),
                self.size(ml)
            )]),
        }
    }

    /// What starts a brew, where somebody told: " (press the button ‘start’)".
    fn brewed_by(&self) -> String {
        let Operation {
            press, cup, enter, ..
        } = self.operation;
        let told = match (cup.is_empty(), enter.is_empty()) {
            (false, _) => cup.as_str(),
            (true, true) => press.as_str(),
            (true, false) => "",
        };
        match told {
            "" => String::new(),
            told => format!(" ({})", text::small(told.trim_end_matches('.'))),
        }
    }

    fn halved(&self) -> Said {
        Said::Sentences(vec![format!(
            "Start a brew{}; when the carafe is half full, switch off and leave everything as it is.",
            self.brewed_by()
        )])
    }

    fn paused(&self) -> Said {
        Said::Sentences(vec![
            format!("Start a brew{}.", self.brewed_by()),
            "At the first drops switch off: now tank and tubing hold bath. Switched off earlier, only the tank does.".to_owned(),
        ])
    }

    fn purged(&self) -> Said {
        Said::Sentences(vec![match self.operation.purge.as_str() {
            "" => "Leave it switched off and the lid closed: hold the button, it starts after some seconds; keep holding until it only spits, then let go.".to_owned(),
            purge => sentence(purge),
        }])
    }
}

const fn taken(thing: Thing) -> &'static str {
    match thing {
        Thing::Pod => "any pod",
        Thing::Capsule => "any capsule, empty the box of used ones",
        Thing::Grounds => "the grounds and their filter",
        Thing::EmptyCapsule => "the empty capsule and open it to be sure that it held nothing",
        Thing::Disc => "the service disc and put it back with its leaflet",
        Thing::Adapter => "the adapter and put it away",
        Thing::Filter => "the water filter with its holder",
        Thing::PaperFilter => "the paper filter and look at what it caught",
        Thing::RinsePod => "the rinse pod and throw it away",
    }
}

fn put(thing: Thing, new: bool) -> Said {
    let clause = |text: &str| Said::Clause(text.to_owned());
    let whole = |text: &str| Said::Sentences(vec![text.to_owned()]);
    match thing {
        Thing::EmptyCapsule => whole(
            "Put in a used capsule that you have emptied, rinsed and closed, or a reusable one of steel, with nothing in it: water only passes with one in place.",
        ),
        Thing::Disc => clause("lay the service disc over the reader window"),
        Thing::Adapter => clause("fit the pod adapter"),
        Thing::PaperFilter => clause("lay a paper filter into the basket to catch the bits"),
        Thing::RinsePod => clause("put in a rinse pod"),
        Thing::Filter if new => whole(
            "Flush the new filter under the tap for a minute, let it drain, and fit it, tapered end down; the day is written down by that.",
        ),
        Thing::Filter => {
            whole("Rinse the filter under the tap, let it drain, and refit it, tapered end down.")
        }
        Thing::Pod | Thing::Capsule | Thing::Grounds => clause("put in what you brew"),
    }
}

const fn emptied(tank: Tank) -> &'static str {
    match tank {
        Tank::TakenOff => "pour away what is left in the reservoir",
        Tank::Fixed => "tip what is left in the reservoir out over the sink",
        Tank::Opening => "see that nothing stands in the water opening",
    }
}

fn washing(washed: &Washed, tank: Tank) -> Vec<String> {
    match washed {
        Washed::Reservoir => vec![
            match tank {
                Tank::TakenOff => "Wash the reservoir and its lid with soap and rinse them.",
                Tank::Fixed => "Wipe the reservoir and its lid out with a damp cloth, and once more with fresh water.",
                Tank::Opening => "Wipe the water opening and its lid with a damp cloth, and once more with fresh water.",
            }
            .to_owned(),
        ],
        Washed::Carafe => vec!["Wash the carafe with soap and rinse it.".to_owned()],
        Washed::Parts { lines, .. } => lines.clone(),
        Washed::Body { with } => vec![format!(
            "Damp soft cloth outside; a cotton swab with {with} into the crevices where coffee dries on."
        )],
        Washed::Seat => vec![
            "Wipe the piercing points, the plate with the holes and the seal with a damp cotton swab; dried coffee sits in the holes.".to_owned(),
        ],
        Washed::Holder { into } => vec![
            format!(
                "Take the holder out, without force, and stand it in {into} for ten minutes or more."
            ),
            "Brush it, rinse it under the tap, put it back until it clicks.".to_owned(),
        ],
    }
}

/// With a capital letter and a full stop.
fn sentence(text: &str) -> String {
    let mut letters = text.trim().chars();
    let first = letters.next().into_iter().flat_map(char::to_uppercase);
    let text: String = first.chain(letters.clone()).collect();
    match text.ends_with(['.', '!', '?']) {
        true => text,
        false => format!("{text}."),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_press_in_the_mode_and_a_plain_cup_are_two_texts() {
        let told = |enter: &str, press: &str, cup: &str, in_mode| {
            let operation = Operation {
                enter: enter.into(),
                press: press.into(),
                cup: cup.into(),
                ..Operation::default()
            };
            let wording = Wording {
                units: Units::Us,
                operation: &operation,
                sizes: &[],
                outlet: Outlet::Pod,
                tank: Tank::TakenOff,
                largest_ml: 240.0,
            };
            wording
                .say(&[Instruction::Press { ml: 240.0, in_mode }])
                .join(" ")
        };
        let plain = "Press the largest size (8 fl oz).";
        for (enter, press, cup, in_mode, said) in [
            (
                "lever",
                "hold both",
                "the cup button",
                true,
                "Hold both (8 fl oz).",
            ),
            (
                "lever",
                "hold both",
                "the cup button",
                false,
                "The cup button (8 fl oz).",
            ),
            ("lever", "hold both", "", true, "Hold both (8 fl oz)."),
            ("lever", "hold both", "", false, plain),
            ("", "the cup button", "", false, "The cup button (8 fl oz)."),
            ("", "", "", true, plain),
        ] {
            assert_eq!(
                told(enter, press, cup, in_mode),
                said,
                "{enter} {press} {cup}"
            );
        }
    }

    #[test]
    fn short_acts_share_a_sentence_and_sizes_are_said_as_printed() {
        let operation = Operation {
            enter: "lever up, then the round button".into(),
            ..Operation::default()
        };
        let sizes = ["8 fl oz".to_owned(), "12 fl oz".to_owned()];
        let wording = Wording {
            units: Units::Us,
            operation: &operation,
            sizes: &sizes,
            outlet: Outlet::Pod,
            tank: Tank::TakenOff,
            largest_ml: 240.0,
        };
        let press = Instruction::Press {
            ml: 240.0,
            in_mode: true,
        };
        let said = wording.say(&[
            Instruction::PlugIn,
            Instruction::CloseLid,
            Instruction::EnterMode,
            press,
            Instruction::EmptyVessel,
        ]);
        let expected = [
            "Plug in, close the lid without a pod.",
            "Enter the cleaning mode: lever up, then the round button.",
            "Press the largest size (8 fl oz), empty the mug.",
        ];
        assert_eq!(said, expected);
        for (largest_ml, said) in [
            (240.0, "Press the largest size (8 fl oz)."),
            (254.0, "Press the largest size (8 fl oz)."),
            (256.0, "Press for about 8 fl oz."),
            (300.0, "Press for about 8 fl oz."),
        ] {
            let wording = Wording {
                largest_ml,
                ..wording
            };
            let press = Instruction::Press {
                ml: 240.0,
                in_mode: false,
            };
            assert_eq!(wording.say(&[press]), [said], "{largest_ml}");
        }
        for (units, ml, said) in [
            (Units::Us, 240.0, "8 fl oz"),
            (Units::Us, 295.7, "10 fl oz"),
            (Units::Metric, 236.6, "240 mL"),
            (Units::Metric, 1204.0, "1.2 L"),
        ] {
            let plain = Wording {
                units,
                sizes: &[],
                ..wording
            };
            assert_eq!(plain.size(ml), said);
        }
    }
}

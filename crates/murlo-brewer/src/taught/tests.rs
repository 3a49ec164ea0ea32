use super::*;
use crate::operation::Meaning;
use crate::panel::{Control, ControlKind, ControlShape, LampDoes, LampSeen};
use crate::{BrewerDraft, Family};
use murlo_base::units::Units;

fn control(id: &str, kind: ControlKind, word: &str) -> Control {
    Control {
        id: id.to_owned(),
        kind,
        shape: ControlShape::Round,
        word: word.to_owned(),
        x: 0.2,
        y: 0.5,
    }
}

/// Two buttons, a lever without a word, and a lamp.
fn panel() -> Panel {
    Panel {
        controls: vec![
            control("big", ControlKind::Button, "big cup"),
            control("small", ControlKind::LitButton, "small cup"),
            control("lid", ControlKind::Lever, ""),
            control("drop", ControlKind::Lamp, "drop"),
        ],
        photo: None,
    }
}

fn touch(controls: &[&str], hold_seconds: Option<f64>) -> Touch {
    Touch {
        controls: controls.iter().map(|id| (*id).to_owned()).collect(),
        hold_seconds,
    }
}

fn part(part: ScriptPart, touches: Vec<Touch>) -> TaughtPart {
    TaughtPart { part, touches }
}

fn brewer(family: Family) -> Brewer {
    let today = jiff::civil::date(2026, 11, 23);
    let draft = BrewerDraft {
        nickname: "Lamp-room".to_owned(),
        ..BrewerDraft::template(family, Units::Us, "home", "water", today)
    };
    draft.check("b".to_owned(), None, today).unwrap()
}

#[test]
fn a_script_is_said_as_it_was_done() {
    let panel = panel();
    for (touches, said) in [
        (vec![touch(&["big"], None)], "press the button ‘big cup’"),
        (
            vec![touch(&["big"], None); 2],
            "press the button ‘big cup’ twice",
        ),
        (
            vec![touch(&["big"], None); 3],
            "press the button ‘big cup’ 3 times",
        ),
        (
            vec![touch(&["big", "small"], Some(3.0)), touch(&["lid"], None)],
            "hold the button ‘big cup’ and the button ‘small cup’ together for 3 s, then move the round lever on the left",
        ),
        (vec![], ""),
    ] {
        assert_eq!(panel.said(&touches), said);
    }
}

#[test]
fn one_without_a_word_is_told_by_its_place() {
    for (x, y, said) in [
        (0.0, 0.0, "press the round button above, on the left"),
        (0.33, 0.34, "press the round button on the left"),
        (0.34, 0.5, "press the round button in the middle"),
        (0.67, 0.67, "press the round button below, on the right"),
        (1.0, 1.0, "press the round button below, on the right"),
    ] {
        let here = Control {
            x,
            y,
            ..control("one", ControlKind::Button, "")
        };
        let panel = Panel {
            controls: vec![here],
            photo: None,
        };
        assert_eq!(panel.said(&[touch(&["one"], None)]), said, "{x} {y}");
    }
}

#[test]
fn a_finger_that_stays_a_second_has_held() {
    for (finger, kept) in [
        (None, None),
        (Some(0.0), None),
        (Some(0.99), None),
        (Some(1.0), Some(1.0)),
        (Some(2.4), Some(2.0)),
        (Some(2.6), Some(3.0)),
    ] {
        let taught = [part(ScriptPart::Press, vec![touch(&["big"], finger)])];
        let operation = Operation::default()
            .as_taught(&panel(), &taught, &[])
            .unwrap();
        assert_eq!(
            operation.touches(ScriptPart::Press)[0].hold_seconds,
            kept,
            "{finger:?}"
        );
    }
}

#[test]
fn what_is_taught_takes_the_place_of_what_was_typed_and_is_forgotten_with_its_words() {
    let typed = Operation {
        enter: "As the guide says".to_owned(),
        hold_seconds: Some(6.0),
        press: "The round one".to_owned(),
        ..Operation::default()
    };
    let lamp = Signal {
        seen: "whatever".to_owned(),
        means: Meaning::WantsWater,
        lamp: Some(LampSeen {
            control: "drop".to_owned(),
            does: LampDoes::Flashes,
        }),
    };
    let enter = part(ScriptPart::Enter, vec![touch(&["big", "small"], Some(3.0))]);
    let taught = typed.as_taught(&panel(), &[enter], &[lamp]).unwrap();
    let held = "Hold the button ‘big cup’ and the button ‘small cup’ together for 3 s";
    assert_eq!(taught.words_for(ScriptPart::Enter), held);
    assert_eq!(
        (taught.hold_seconds, taught.press.as_str()),
        (None, "The round one")
    );
    assert_eq!(taught.signals[0].seen, "the lamp ‘drop’ flashes");
    let none = part(ScriptPart::Enter, Vec::new());
    let forgotten = taught.as_taught(&panel(), &[none], &[]).unwrap();
    assert_eq!(forgotten.enter, "");
    assert!(forgotten.taught.is_empty() && forgotten.signals.is_empty());
    assert_eq!(forgotten.press, "The round one");
}

#[test]
fn what_contradicts_the_panel_is_refused_by_its_field() {
    let press = |touches| vec![part(ScriptPart::Press, touches)];
    let lamp = |id: &str| {
        vec![Signal {
            seen: "light".to_owned(),
            means: Meaning::Done,
            lamp: Some(LampSeen {
                control: id.to_owned(),
                does: LampDoes::Lights,
            }),
        }]
    };
    let twice = Panel {
        controls: vec![panel().controls[0].clone(), panel().controls[0].clone()],
        photo: None,
    };
    let outside = Panel {
        controls: vec![Control {
            x: 1.1,
            word: "x".repeat(25),
            ..panel().controls[0].clone()
        }],
        photo: None,
    };
    let many = Panel {
        controls: (0..25)
            .map(|n| control(&format!("c{n}"), ControlKind::Button, ""))
            .collect(),
        photo: None,
    };
    let both = [
        press(vec![touch(&["big"], None)]),
        press(vec![touch(&["big"], None)]),
    ]
    .concat();
    for (panel, taught, signals, field) in [
        (
            panel(),
            press(vec![touch(&["none"], None)]),
            vec![],
            "operation.taught.0.touches.0.controls",
        ),
        (
            panel(),
            press(vec![touch(&["drop"], None)]),
            vec![],
            "operation.taught.0.touches.0.controls",
        ),
        (
            panel(),
            press(vec![touch(&[], None)]),
            vec![],
            "operation.taught.0.touches.0.controls",
        ),
        (
            panel(),
            press(vec![touch(&["big"], Some(61.0))]),
            vec![],
            "operation.taught.0.touches.0.hold_seconds",
        ),
        (
            panel(),
            press(vec![touch(&["big"], Some(f64::NAN))]),
            vec![],
            "operation.taught.0.touches.0.hold_seconds",
        ),
        (
            panel(),
            press(vec![touch(&["big"], None); 7]),
            vec![],
            "operation.taught.0.touches",
        ),
        (panel(), both, vec![], "operation.taught.1"),
        (panel(), vec![], lamp("none"), "operation.signals.0.lamp"),
        (panel(), vec![], lamp("big"), "operation.signals.0.lamp"),
        (twice, vec![], vec![], "operation.panel.controls.1.id"),
        (
            outside.clone(),
            vec![],
            vec![],
            "operation.panel.controls.0.word",
        ),
        (outside, vec![], vec![], "operation.panel.controls.0.x"),
        (many, vec![], vec![], "operation.panel.controls"),
    ] {
        let refused = Operation::default()
            .as_taught(&panel, &taught, &signals)
            .unwrap_err();
        let fields: Vec<_> = refused
            .0
            .iter()
            .map(|problem| problem.field.as_str())
            .collect();
        assert!(fields.contains(&field), "{field}: {fields:?}");
    }
    assert!(
        Operation::default()
            .as_taught(
                &panel(),
                &press(vec![touch(&["small"], Some(60.0)); 6]),
                &lamp("small")
            )
            .is_ok()
    );
}

#[test]
fn each_family_is_asked_for_what_it_has() {
    use ScriptPart::{Cup, Enter, Leave, Press, Purge, Rearm};
    for family in Family::ALL {
        let brewer = brewer(family);
        for circuit in &brewer.circuits {
            let asks: Vec<_> = brewer
                .script_asks(circuit)
                .iter()
                .map(|ask| ask.part)
                .collect();
            let expected: &[ScriptPart] = match brewer.way(circuit) {
                Way::Programme => &[Enter, Cup],
                Way::Presses => &[Enter, Press, Rearm, Leave, Cup],
                Way::CupAtATime => &[Press, Purge],
                Way::Halves => &[Press],
            };
            assert_eq!(asks, expected, "{family:?}");
        }
    }
    let mut pod = brewer(Family::PodReservoir);
    pod.circuits[0].mechanics.mode = Some(false);
    let id = pod.circuits[0].id.clone();
    let enter = [part(ScriptPart::Enter, vec![touch(&["big"], Some(3.0))])];
    let refused = pod.clone().taught(&id, &panel(), &enter, &[]).unwrap_err();
    assert_eq!(refused.0[0].field, "taught.0.part");
    pod.circuits[0].mechanics.mode = None;
    let pod = pod.taught(&id, &panel(), &enter, &[]).unwrap();
    assert!(
        pod.has_mode(&pod.circuits[0]),
        "what can be entered is there"
    );
    assert_eq!(
        pod.taught("none", &panel(), &[], &[]).unwrap_err().0[0].field,
        "circuit_id"
    );
}

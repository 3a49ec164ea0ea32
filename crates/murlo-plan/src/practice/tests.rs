use super::*;
use crate::machine::harm::Harm;
use crate::practice::kitchen::{CHALK_FADES, brewer};
use murlo_base::units::Units;
use murlo_brewer::trouble::Remedy;
use murlo_brewer::{Brewer, Family};
use proptest::prelude::*;

fn setup(family: Family, way: Manner, seed: u32) -> Setup {
    Setup {
        family,
        way,
        seed,
        units: Units::Us,
    }
}

fn press(button: Button, at_min: f64) -> Pressed {
    Pressed {
        at_min,
        what: Deed::Press { button },
    }
}

#[test]
fn the_plan_followed_to_the_letter_never_harms() {
    for family in Family::ALL {
        let setup = setup(family, Manner::Plan, 0);
        let mut pressed = Vec::new();
        let mut scene = play(&setup, None, &pressed, 0.0).unwrap();
        let mut chalk = scene.chalk;
        while !scene.is_over {
            pressed.push(Pressed {
                at_min: scene.now_min,
                what: Deed::Next,
            });
            scene = play(&setup, None, &pressed, 0.0).unwrap();
            assert_eq!(
                scene.harm, None,
                "{family:?} at {:?}: {:?}",
                scene.step, scene.next
            );
            assert!(scene.chalk <= chalk, "chalk never comes back");
            chalk = scene.chalk;
            assert!(pressed.len() < 400, "{family:?}");
        }
        assert!(chalk < 0.95, "{family:?}: {chalk}");
        assert!(
            scene.path_acid < 0.01 && !scene.noted && scene.plugged,
            "{family:?}"
        );
    }
}

#[test]
fn a_mug_that_is_not_emptied_overflows_and_says_the_way_out() {
    let setup = setup(Family::PodReservoir, Manner::Alone, 0);
    let buttons = [
        Button::Lid,
        Button::Brewed,
        Button::Lid,
        Button::Water,
        Button::Vessel,
        Button::Brew,
    ];
    let mut pressed: Vec<_> = buttons.map(|b| press(b, 0.0)).into();
    let scene = play(&setup, None, &pressed, 0.0).unwrap();
    assert_eq!(scene.harm, None, "{:?}", scene.words);
    assert!(scene.vessel.share > 0.9 && !scene.vessel.acid);
    pressed.push(press(Button::Brew, 1.0));
    let scene = play(&setup, None, &pressed, 1.0).unwrap();
    let harm = scene.harm.unwrap();
    assert_eq!(harm.harm, Harm::VesselOverflows);
    assert!(harm.way_out.contains("empty the vessel"));
    pressed.push(press(Button::Vessel, 2.0));
    pressed.push(press(Button::Brew, 3.0));
    assert_eq!(play(&setup, None, &pressed, 3.0).unwrap().harm, None);
}

#[test]
fn needles_burn_until_the_clock_has_run() {
    let setup = setup(Family::PodReservoir, Manner::Alone, 0);
    let buttons = [
        Button::Lid,
        Button::Brewed,
        Button::Lid,
        Button::Water,
        Button::Vessel,
        Button::Brew,
        Button::Plug,
        Button::Lid,
    ];
    let mut pressed: Vec<_> = buttons.map(|b| press(b, 0.0)).into();
    let hands = |pressed: &[Pressed], at: f64| {
        let mut all = pressed.to_vec();
        all.push(press(Button::Needles, at));
        play(&setup, None, &all, at).unwrap().harm.map(|h| h.harm)
    };
    for (at, harm) in [(0.0, true), (7.9, true), (8.0, false), (30.0, false)] {
        assert_eq!(
            hands(&pressed, at),
            harm.then_some(Harm::HandsAtHotNeedles),
            "{at} min"
        );
    }
    pressed.pop();
    assert_eq!(hands(&pressed, 30.0), Some(Harm::LidClosed));
}

#[test]
fn a_fault_is_found_by_its_signs_and_its_remedy_only() {
    for family in [Family::PodReservoir, Family::Drip] {
        let mut causes = std::collections::BTreeSet::new();
        for seed in 0..14 {
            let setup = setup(family, Manner::Fault, seed);
            let ask = |what: Vec<Deed>| {
                let pressed: Vec<_> = what
                    .into_iter()
                    .map(|what| Pressed { at_min: 0.0, what })
                    .collect();
                play(&setup, None, &pressed, 0.0).unwrap()
            };
            let looks: Vec<_> = ask(Vec::new())
                .signs
                .into_iter()
                .map(|sign| Deed::Look { sign: sign.id })
                .collect();
            let scene = ask(looks);
            assert!(
                scene.signs.iter().any(|s| s.shows == Some(true)),
                "{family:?} {seed}"
            );
            assert!(!scene.is_over);
            let cures: Vec<_> = scene
                .remedies
                .iter()
                .filter(|r| ask(vec![Deed::Try { remedy: r.remedy }]).is_over)
                .collect();
            assert_eq!(cures.len(), 1, "{family:?} {seed}");
            causes.insert(cures[0].label.clone());
            let wrong = scene
                .remedies
                .iter()
                .find(|r| r.remedy != cures[0].remedy)
                .unwrap();
            let tried = ask(vec![Deed::Try {
                remedy: wrong.remedy,
            }])
            .tried
            .unwrap();
            assert!(tried.contains("did not help"));
        }
        assert!(causes.len() >= 5, "{family:?}: {causes:?}");
    }
}

#[test]
fn a_brewer_of_the_household_is_practised_on_with_its_own_facts() {
    let setup = setup(Family::PodReservoir, Manner::Alone, 0);
    let mut like = brewer(&setup).unwrap();
    assert!(
        play(&setup, Some(&like), &[], 0.0)
            .unwrap()
            .buttons
            .iter()
            .all(|b| b.button != Button::HotWater)
    );
    like.hot_water = true;
    let scene = play(&setup, Some(&like), &[], 0.0).unwrap();
    assert!(scene.buttons.iter().any(|b| b.button == Button::HotWater));
}

#[test]
fn times_that_run_backwards_and_endless_presses_are_refused() {
    let setup = setup(Family::Drip, Manner::Alone, 0);
    let refused = |pressed: &[Pressed], now: f64| {
        play(&setup, None, pressed, now).unwrap_err().0[0]
            .field
            .clone()
    };
    let two = [press(Button::Lid, 2.0), press(Button::Lid, 1.0)];
    assert_eq!(refused(&two, 2.0), "pressed");
    assert_eq!(refused(&[press(Button::Lid, f64::NAN)], 0.0), "pressed");
    assert_eq!(refused(&[], -1.0), "pressed");
    let many = vec![press(Button::Lid, 0.0); MOST_PRESSES + 1];
    assert_eq!(refused(&many, 0.0), "pressed");
    assert!(play(&setup, None, &many[1..], 0.0).is_ok());
}

#[test]
fn every_harm_has_its_way_out_in_words_of_its_own() {
    let ways: std::collections::BTreeSet<_> =
        Harm::ALL.iter().map(|h| way_out::way_out(*h)).collect();
    assert_eq!(ways.len(), Harm::ALL.len());
    assert!(ways.iter().all(|way| way.ends_with('.')));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(32))]
    #[test]
    fn presses_in_any_order_never_stick_and_lead_to_the_same_scene(
        family in proptest::sample::select(Family::ALL.to_vec()),
        picks in proptest::collection::vec((0usize..22, 0.0..6.0f64), 1..80),
    ) {
        let setup = setup(family, Manner::Alone, 0);
        let mut pressed: Vec<Pressed> = Vec::new();
        let mut at = 0.0;
        for (pick, wait) in picks {
            let scene = play(&setup, None, &pressed, at).unwrap();
            prop_assert!((0.0..=1.0).contains(&scene.chalk) && (0.0..=1.0).contains(&scene.path_acid));
            prop_assert!((0.0..=1.0).contains(&scene.reservoir.share));
            prop_assert!(scene.buttons.len() >= 10 && scene.words.len() >= 4);
            at = scene.now_min + wait;
            pressed.push(press(scene.buttons[pick % scene.buttons.len()].button, at));
        }
        prop_assert_eq!(play(&setup, None, &pressed, at).unwrap(), play(&setup, None, &pressed, at).unwrap());
    }
}

#[test]
fn a_scene_tells_what_is_in_reservoir_and_vessel_and_how_full_they_are() {
    let setup = setup(Family::PodReservoir, Manner::Plan, 0);
    let mut pressed: Vec<Pressed> = Vec::new();
    let (mut empty, mut water, mut acid) = (0, 0, 0);
    loop {
        let scene = play(&setup, None, &pressed, 0.0).unwrap();
        for filled in [&scene.reservoir, &scene.vessel] {
            assert!((0.0..=1.0).contains(&filled.share), "{filled:?}");
            match filled.text.as_str() {
                "empty" => {
                    empty += 1;
                    assert!(filled.share < 0.01, "{filled:?}");
                }
                text if text.ends_with("with acid in it") => {
                    acid += 1;
                    assert!(filled.acid && filled.share > 0.0, "{filled:?}");
                }
                text => {
                    water += 1;
                    assert!(text.ends_with("of water") && !filled.acid, "{filled:?}");
                    assert!(filled.share > 0.0, "{filled:?}");
                }
            }
        }
        assert!((0.0..=1.0).contains(&scene.path_acid));
        if scene.is_over {
            break;
        }
        pressed.push(Pressed {
            at_min: 0.0,
            what: Deed::Next,
        });
    }
    assert!(empty > 3 && water > 3 && acid > 3, "{empty} {water} {acid}");
}

#[test]
fn a_full_reservoir_is_drawn_full_and_half_a_one_half() {
    let setup = setup(Family::PodReservoir, Manner::Alone, 0);
    let shares = |buttons: &[Button]| {
        let pressed: Vec<_> = buttons.iter().map(|b| press(*b, 0.0)).collect();
        let scene = play(&setup, None, &pressed, 0.0).unwrap();
        (scene.reservoir.share, scene.vessel.share)
    };
    let full = shares(&[Button::Water]).0;
    assert!((full - 1.0).abs() < 1e-9, "{full}");
    let way = [
        Button::Lid,
        Button::Brewed,
        Button::Lid,
        Button::Water,
        Button::Vessel,
        Button::Brew,
    ];
    let (left, mug) = shares(&way);
    assert!((0.5..0.95).contains(&left) && mug > 0.9, "{left} {mug}");
}

#[test]
fn time_that_is_waited_passes_once_and_acid_works_in_it() {
    let setup = setup(Family::PodReservoir, Manner::Plan, 0);
    let mut pressed: Vec<Pressed> = Vec::new();
    let scene = |pressed: &[Pressed], now| play(&setup, None, pressed, now).unwrap();
    // Before any bath an hour takes no chalk.
    let (begun, later) = (scene(&pressed, 0.0), scene(&pressed, 60.0));
    assert!((later.now_min - begun.now_min - 60.0).abs() < 1e-9);
    assert_eq!(begun.chalk, later.chalk);
    assert_eq!(
        scene(&pressed, 0.0).now_min,
        begun.now_min,
        "no time goes back"
    );
    // With bath in the path it does, in proportion to the acid.
    while scene(&pressed, 0.0).path_acid < 0.2 {
        pressed.push(Pressed {
            at_min: 0.0,
            what: Deed::Next,
        });
    }
    let now = scene(&pressed, 0.0);
    let hour = scene(&pressed, now.now_min + 60.0);
    assert!(hour.chalk < now.chalk, "{} {}", hour.chalk, now.chalk);
    let expected = now.chalk * (-60.0 * now.path_acid / CHALK_FADES).exp();
    assert!(
        (hour.chalk - expected).abs() < 1e-6,
        "{} {expected}",
        hour.chalk
    );
}

#[test]
fn only_a_descale_that_was_the_remedy_takes_the_drawn_chalk() {
    for seed in 0..7 {
        let setup = setup(Family::PodReservoir, Manner::Fault, seed);
        let after = |remedy| {
            let what = Deed::Try { remedy };
            let pressed = [Pressed { at_min: 0.0, what }];
            play(&setup, None, &pressed, 0.0).unwrap()
        };
        let remedies = [
            Remedy::Needles,
            Remedy::Descale,
            Remedy::Filter,
            Remedy::Wash,
            Remedy::Rinse,
            Remedy::Reseat,
        ];
        let right: Vec<_> = remedies.into_iter().filter(|r| after(*r).is_over).collect();
        assert_eq!(right.len(), 1, "seed {seed}");
        for remedy in remedies {
            let scene = after(remedy);
            let gone = scene.is_over && remedy == Remedy::Descale;
            assert_eq!(scene.chalk < 0.1, gone, "seed {seed} {remedy:?}");
        }
    }
}

#[test]
fn each_press_of_the_plan_reads_as_it_is_written_down() {
    use std::fmt::Write;
    let mut text = String::new();
    // What a drip brewer shows is in the combination too.
    for family in [Family::PodReservoir, Family::Combination] {
        writeln!(text, "# {}", family.label()).unwrap();
        let setup = setup(family, Manner::Plan, 0);
        let (mut pressed, mut words, mut labels) = (Vec::new(), Vec::new(), Vec::new());
        loop {
            let scene = play(&setup, None, &pressed, 0.0).unwrap();
            let now: Vec<_> = scene.buttons.iter().map(|b| b.label.clone()).collect();
            let said = |all: &[String], before: &[String]| {
                let new = all.iter().filter(|one| !before.contains(one));
                new.cloned().collect::<Vec<_>>().join(" | ")
            };
            let lines = [said(&scene.words, &words), said(&now, &labels)];
            for line in lines.iter().filter(|line| !line.is_empty()) {
                writeln!(text, "{:.1} {line}", scene.now_min).unwrap();
            }
            (words, labels) = (scene.words.clone(), now);
            if scene.is_over {
                break;
            }
            let what = Deed::Next;
            pressed.push(Pressed { at_min: 0.0, what });
        }
    }
    murlo_base::written::check(env!("CARGO_MANIFEST_DIR"), "practice", &text);
}

#[test]
fn a_thing_goes_in_where_there_is_such_a_thing_and_its_button_says_which_way() {
    let with = |family, change: &dyn Fn(&mut Brewer)| {
        let setup = setup(family, Manner::Alone, 0);
        let mut like = brewer(&setup).unwrap();
        change(&mut like);
        move |pressed: &[Pressed]| play(&setup, Some(&like), pressed, 0.0).unwrap()
    };
    let none = |_: &mut Brewer| {};
    for (scene, button, takes_out, puts_in) in [
        (
            with(Family::PodReservoir, &|b: &mut Brewer| {
                b.filter = Some(murlo_brewer::Filter::CHARCOAL);
            }),
            Button::Filter,
            "Take the filter out",
            "Put the filter in",
        ),
        (
            with(Family::CodedCapsule, &none),
            Button::Disc,
            "Take the disc out",
            "Put the disc in",
        ),
        (
            with(Family::PumpCapsule, &none),
            Button::EmptyCapsule,
            "Take the empty capsule out",
            "Put an empty capsule in",
        ),
    ] {
        let label = |pressed: &[Pressed]| {
            let scene = scene(pressed);
            let shown = scene.buttons.iter().find(|b| b.button == button);
            (
                shown.map(|b| b.label.clone()).unwrap_or_default(),
                scene.harm,
            )
        };
        let open = [press(Button::Lid, 0.0), press(Button::Brewed, 0.0)];
        let (first, _) = label(&open);
        let mut pressed = open.to_vec();
        pressed.push(press(button, 0.0));
        let (second, harm) = label(&pressed);
        assert_eq!(harm, None, "{button:?}");
        let mut both = [first, second];
        both.sort();
        let mut expected = [takes_out.to_owned(), puts_in.to_owned()];
        expected.sort();
        assert_eq!(both, expected, "{button:?}");
    }
}

#[test]
fn a_sign_shows_once_it_is_looked_for_and_no_more_when_the_fault_is_found() {
    let setup = setup(Family::PodReservoir, Manner::Fault, 0);
    let ask = |what: &[Deed]| {
        let each = what.iter().cloned();
        let pressed: Vec<_> = each.map(|what| Pressed { at_min: 0.0, what }).collect();
        play(&setup, None, &pressed, 0.0).unwrap()
    };
    let all = ask(&[]).signs;
    assert!(all.iter().all(|sign| sign.shows.is_none()));
    let look = |id: &str| Deed::Look {
        sign: id.to_owned(),
    };
    let shown = |scene: &Scene, id: &str| scene.signs.iter().find(|s| s.id == id).unwrap().shows;
    let telling = all.iter().map(|s| s.id.as_str());
    let telling: Vec<_> = telling
        .filter(|id| shown(&ask(&[look(id)]), id) == Some(true))
        .collect();
    assert!((1..all.len()).contains(&telling.len()), "{telling:?}");
    // Only the one that was looked for is known.
    let one = ask(&[look(telling[0])]);
    assert_eq!(one.signs.iter().filter(|s| s.shows.is_some()).count(), 1);
    let remedies = one.remedies.iter().map(|r| Deed::Try { remedy: r.remedy });
    let cure = remedies
        .into_iter()
        .find(|cure| ask(std::slice::from_ref(cure)).is_over)
        .unwrap();
    assert_eq!(
        shown(&ask(&[look(telling[0]), cure]), telling[0]),
        Some(false)
    );
}

#[test]
fn a_mode_that_does_not_wait_is_lost_after_three_minutes_alone() {
    let setup = setup(Family::PodReservoir, Manner::Alone, 0);
    let mut like = brewer(&setup).unwrap();
    let circuit = &mut like.circuits[0];
    circuit.operation.enter = "hold both buttons".to_owned();
    circuit.mechanics.survives = Some(murlo_brewer::Survives::Nothing);
    let first = [press(Button::Water, 0.0), press(Button::Mode, 0.0)];
    let in_mode = |now: f64| {
        let scene = play(&setup, Some(&like), &first, now).unwrap();
        scene.words[0].contains("in its cleaning mode")
    };
    for (minutes, stays) in [
        (0.0, true),
        (2.9, true),
        (3.0, true),
        (3.1, false),
        (60.0, false),
    ] {
        assert_eq!(in_mode(minutes), stays, "{minutes} min");
    }
}

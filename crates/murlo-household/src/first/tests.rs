use super::*;
use jiff::civil::date;
use murlo_brewer::water::Chemistry;
use murlo_brewer::{InUse, LastClean};
use murlo_chalk::money::Terms;
use murlo_chalk::scale::{DueBy, Forecast, Growth, Known, Start};
use murlo_plan::{Comparison, Facts, PlanOptions, Today};

const TODAY: Date = date(2026, 11, 26);

fn home() -> Vec<Home> {
    vec![Home::starter()]
}

fn house<'a>(homes: &'a [Home], waters: &'a Waters, agents: &'a [Agent]) -> Beginning<'a> {
    Beginning {
        units: Units::Us,
        homes,
        waters,
        agents,
        nicknames: Vec::new(),
        today: TODAY,
        now: "2026-11-26T10:00:00Z".parse().expect("a time"),
    }
}

fn answers() -> Answers {
    Answers {
        family: Some(Family::PodReservoir),
        ..Answers::default()
    }
}

fn settle(answers: &Answers) -> Result<Settled, Problems> {
    let (homes, waters, agents) = (home(), Waters::new(), Agent::starters());
    answers.settle(&house(&homes, &waters, &agents), "b", "w")
}

fn settled(answers: &Answers) -> Settled {
    settle(answers).expect("sound answers")
}

/// The estimate of a brewer that was just told of.
fn forecast(told: &Settled) -> Forecast {
    let circuit = &told.brewer.circuits[0];
    let water = told.water.as_ref().expect("a new water");
    let waters = [Chemistry::of(&water.reading, &Waters::new()).expect("a reading")];
    Growth::new(Known {
        brewer: &told.brewer,
        circuit,
        waters: &waters,
        start: Start::of(&told.brewer, circuit, &waters[0]),
        cleans: &[],
        entries: &told.entries,
        logged: None,
        recall: None,
        today: TODAY,
    })
    .forecast(Units::Us)
}

fn compare(told: &Settled) -> Comparison {
    let agents = told.with_agents(Agent::starters());
    let facts = Facts {
        brewer: &told.brewer,
        circuit: &told.brewer.circuits[0],
        forecast: &forecast(told),
        agents: &agents,
        units: Units::Us,
        terms: &Terms::default(),
        today: Today::default(),
    };
    facts
        .compare(&PlanOptions::default())
        .expect("a comparison")
}

#[test]
fn the_brewer_is_the_one_that_the_whole_sheet_gives() {
    let told = Answers {
        cups: Some(4.0),
        beforehand: Beforehand {
            last_clean: LastClean::Never,
            in_use: InUse::Years,
        },
        filled: Some(FilledWith::Tap {
            chalk: TapChalk::Crust,
        }),
        ..answers()
    };
    for family in Family::ALL {
        let told = Answers {
            family: Some(family),
            ..told.clone()
        };
        let by_hand = BrewerDraft {
            nickname: family.label().to_owned(),
            weekday_cups: 4.0,
            weekend_cups: 4.0,
            beforehand: Some(told.beforehand),
            ..BrewerDraft::template(family, Units::Us, "home", "w", TODAY)
        };
        let by_hand = by_hand
            .check("b".into(), None, TODAY)
            .expect("a sound sheet");
        assert_eq!(settled(&told).brewer, by_hand);
    }
}

#[test]
fn a_light_asks_now_for_the_side_it_belongs_to_and_is_the_reason() {
    for last_clean in [LastClean::Unknown, LastClean::Lately, LastClean::OverAYear] {
        let told = Answers {
            signs: vec![Sign::Light],
            filled: Some(FilledWith::Tap {
                chalk: TapChalk::None,
            }),
            beforehand: Beforehand {
                last_clean,
                in_use: InUse::Unknown,
            },
            ..answers()
        };
        let lit = forecast(&settled(&told));
        let without = forecast(&settled(&Answers {
            signs: Vec::new(),
            ..told
        }));
        assert!(lit.due.days <= 0, "{last_clean:?}: {}", lit.due.text);
        assert_ne!(without.due.by, DueBy::Light);
        if last_clean != LastClean::OverAYear {
            assert_eq!(lit.due.by, DueBy::Light, "{last_clean:?}");
            assert_eq!(lit.due.text, "now: its light asks");
            assert!(
                lit.reason.starts_with("its light came on"),
                "{}",
                lit.reason
            );
        }
    }
    let sides = |light_of, signs: &[Sign]| {
        let told = settled(&Answers {
            family: Some(Family::Combination),
            signs: signs.to_vec(),
            light_of,
            ..answers()
        });
        let side = |entry: &Entry| match &entry.what {
            What::Sign { circuit_id, .. } => {
                let circuit = told.brewer.circuits.iter().find(|c| c.id == *circuit_id);
                circuit.map(|circuit| circuit.outlet)
            }
            _ => None,
        };
        told.entries.iter().filter_map(side).collect::<Vec<_>>()
    };
    let (grounds, pod) = (Outlet::Grounds, Outlet::Pod);
    for (light_of, signs, expected) in [
        (Some(grounds), &[Sign::Light][..], vec![grounds]),
        (Some(pod), &[Sign::Light], vec![pod]),
        (None, &[Sign::Light], vec![grounds, pod]),
        // What is no side of it is not known.
        (Some(Outlet::Capsule), &[Sign::Light], vec![pod]),
        (Some(grounds), &[Sign::Slow], vec![pod]),
        (
            Some(grounds),
            &[Sign::Slow, Sign::Light],
            vec![pod, grounds],
        ),
    ] {
        assert_eq!(sides(light_of, signs), expected, "{light_of:?} {signs:?}");
    }
}

#[test]
fn a_carafe_brewer_is_asked_for_its_cleaning_button_and_has_one_where_its_light_asks() {
    for (family, signs, button, expected) in [
        (Family::Drip, &[][..], None, false),
        (Family::Drip, &[], Some(true), true),
        (Family::Drip, &[Sign::Light], None, true),
        (Family::Drip, &[Sign::Light], Some(false), false),
        (Family::Drip, &[Sign::Slow], None, false),
        (Family::Combination, &[], None, true),
        (Family::Combination, &[], Some(false), false),
        // Nobody is asked of one without a carafe.
        (Family::PodReservoir, &[Sign::Light], Some(true), false),
        (Family::CodedCapsule, &[], Some(false), true),
    ] {
        let told = Answers {
            family: Some(family),
            signs: signs.to_vec(),
            clean_button: button,
            ..answers()
        };
        assert_eq!(
            settled(&told).brewer.self_clean,
            expected,
            "{family:?} {signs:?} {button:?}"
        );
    }
}

#[test]
fn what_nobody_knows_gives_a_wide_window_and_never_a_new_brewer() {
    let unknown = forecast(&settled(&answers()));
    let new = forecast(&settled(&Answers {
        beforehand: Beforehand {
            last_clean: LastClean::Never,
            in_use: InUse::New,
        },
        ..answers()
    }));
    let chalk = &unknown.chalk;
    assert!(chalk.used_high > 8.0 * chalk.used_low, "{chalk:?}");
    assert!(chalk.used > 0.3, "{chalk:?}");
    assert!(new.chalk.used_high < 0.01, "{:?}", new.chalk);
    assert!(new.due.days > unknown.due.days);
    assert!(
        unknown.reason.contains("nobody knows"),
        "{}",
        unknown.reason
    );
}

#[test]
fn each_answer_moves_the_estimate() {
    let used = |change: &dyn Fn(&mut Answers)| {
        let mut told = Answers {
            filled: Some(FilledWith::Tap {
                chalk: TapChalk::Film,
            }),
            beforehand: Beforehand {
                last_clean: LastClean::HalfAYear,
                in_use: InUse::Years,
            },
            cups: Some(2.0),
            ..answers()
        };
        change(&mut told);
        forecast(&settled(&told)).chalk.used
    };
    let usual = used(&|_| {});
    let tap = |chalk| Some(FilledWith::Tap { chalk });
    for (more, what) in [
        (used(&|a| a.cups = Some(4.0)), "more cups"),
        (used(&|a| a.filled = tap(TapChalk::Crust)), "harder water"),
        (
            used(&|a| a.beforehand.last_clean = LastClean::OverAYear),
            "a longer time",
        ),
        (
            used(&|a| a.beforehand.last_clean = LastClean::Never),
            "never descaled",
        ),
        (used(&|a| a.signs = vec![Sign::Slow]), "a slow cup"),
        (used(&|a| a.signs = vec![Sign::Light]), "a light"),
        (used(&|a| a.comes = Some(Comes::Half)), "half a cup"),
    ] {
        assert!(more > 1.05 * usual, "{what}: {more} against {usual}");
    }
    for (less, what) in [
        (used(&|a| a.cups = Some(1.0)), "fewer cups"),
        (used(&|a| a.filled = tap(TapChalk::None)), "softer water"),
        (
            used(&|a| a.beforehand.last_clean = LastClean::Lately),
            "cleaned lately",
        ),
    ] {
        assert!(less < 0.95 * usual, "{what}: {less} against {usual}");
    }
}

#[test]
fn what_is_in_the_house_decides_the_bath_and_an_empty_house_what_to_buy() {
    let with = |have: Option<Vec<&str>>| {
        compare(&settled(&Answers {
            have: have.map(|ids| ids.into_iter().map(str::to_owned).collect()),
            ..answers()
        }))
    };
    let taken = |all: &Comparison| {
        let best = all.alternatives.iter().find(|a| a.recommended);
        let taken = best.map(|a| a.agent_id.clone());
        taken.unwrap_or_else(|| {
            let against: Vec<_> = (all.alternatives.iter())
                .map(|a| (&a.agent_id, &a.recipe_label, &a.against))
                .collect();
            panic!("none is recommended: {} {against:?}", all.because)
        })
    };
    for id in ["vinegar", "citric", "bottled", "tablets"] {
        let all = with(Some(vec![id]));
        assert_eq!(taken(&all), id);
        assert!(all.buy.is_empty());
        let others = all.alternatives.iter().filter(|a| a.agent_id != id);
        for other in others {
            assert!(other.against.is_some(), "{id} beside {}", other.agent_id);
        }
    }
    let bare = with(Some(Vec::new()));
    assert!(bare.alternatives.iter().any(|a| a.recommended));
    let bought: Vec<_> = bare.buy.iter().map(|b| b.agent_id.as_str()).collect();
    assert_eq!(bought, ["vinegar", "citric", "bottled"]);
    for buy in &bare.buy {
        assert!(!buy.sold_at.is_empty() && buy.amount.starts_with(|c: char| c.is_ascii_digit()));
    }
    assert!(with(None).buy.is_empty());
}

#[test]
fn a_counted_bottle_keeps_its_level_and_the_label_its_strength() {
    let mut agents = Agent::starters();
    agents[0].on_hand = Some(900.0);
    agents[1].on_hand = Some(0.0);
    let (homes, waters) = (home(), Waters::new());
    let told = Answers {
        have: Some(vec!["vinegar".into(), "citric".into()]),
        vinegar_percent: Some(6.0),
        ..answers()
    };
    let settled = told.settle(&house(&homes, &waters, &agents), "b", "w");
    let changed = settled.expect("sound").agents;
    let by = |id: &str| changed.iter().find(|a| a.id == id).cloned();
    let vinegar = by("vinegar").expect("a new strength");
    assert_eq!(
        (vinegar.on_hand, vinegar.percent()),
        (Some(900.0), Some(6.0))
    );
    assert_eq!(by("citric").expect("back in the house").on_hand, None);
    assert_eq!(by("bottled").expect("not in the house").on_hand, Some(0.0));
}

#[test]
fn what_the_water_goes_through_is_told_by_touch() {
    let (homes, agents) = (home(), Agent::starters());
    let waters = Waters::new();
    let house = house(&homes, &waters, &agents);
    for (through, chalk, name) in [
        (
            Through::Jug,
            Some(TapChalk::Crust),
            "Tap water through a filter",
        ),
        (Through::Softener, None, "Softened tap water"),
        (
            Through::HalfBottled,
            Some(TapChalk::Film),
            "Half tap, half bottled water",
        ),
        (Through::Bottled, None, "Bottled water"),
    ] {
        let told = Answers {
            filled: Some(FilledWith::Through { through, chalk }),
            ..answers()
        };
        let water = told
            .settle(&house, "b", "w")
            .expect("sound")
            .water
            .expect("a new one");
        assert_eq!(water.name, name);
        assert_eq!(water.reading, Reading::Through { through, chalk });
    }
}

#[test]
fn a_water_that_the_household_knows_likewise_is_taken_again() {
    let (homes, agents) = (home(), Agent::starters());
    let reading = Reading::Taps {
        chalk: TapChalk::Crust,
    };
    let water = Water {
        id: "old".into(),
        name: "Tap water".into(),
        reading,
        price_a_litre: None,
    };
    let waters = Waters::from([("old".to_owned(), water)]);
    let house = house(&homes, &waters, &agents);
    let tap = |chalk| Answers {
        filled: Some(FilledWith::Tap { chalk }),
        ..answers()
    };
    let same = tap(TapChalk::Crust)
        .settle(&house, "b", "w")
        .expect("sound");
    assert_eq!((same.water, same.brewer.water_id()), (None, "old"));
    let other = tap(TapChalk::None).settle(&house, "b", "w").expect("sound");
    assert_eq!(other.water.expect("a new one").name, "Tap water 2");
    assert_eq!(other.brewer.water_id(), "w");
}

#[test]
fn names_are_free_and_answers_that_cannot_be_name_their_field() {
    let (homes, waters, agents) = (home(), Waters::new(), Agent::starters());
    let mut crowded = house(&homes, &waters, &agents);
    crowded.nicknames = vec!["Drip brewer", "Drip brewer 2"];
    let drip = Answers {
        family: Some(Family::Drip),
        ..Answers::default()
    };
    let told = drip.settle(&crowded, "b", "w").expect("sound");
    assert_eq!(told.brewer.nickname, "Drip brewer 3");
    let emptied = Answers {
        nickname: Some(" ".into()),
        ..drip.clone()
    };
    let told = emptied.settle(&crowded, "b", "w").expect("sound");
    assert_eq!(told.brewer.nickname, "Drip brewer 3");

    let refused = |change: fn(&mut Answers)| {
        let mut told = answers();
        change(&mut told);
        let problems = settle(&told).expect_err("cannot be").0;
        problems.into_iter().map(|p| p.field).collect::<Vec<_>>()
    };
    for (change, field) in [
        ((|a| a.family = None) as fn(&mut Answers), "family"),
        (|a| a.cups = Some(-1.0), "weekday_cups"),
        (|a| a.home_id = Some("gone".into()), "home_id"),
        (|a| a.have = Some(vec!["soap".into()]), "have"),
        (
            |a| {
                a.have = Some(vec!["vinegar".into()]);
                a.vinegar_percent = Some(150.0);
            },
            "vinegar_percent",
        ),
        (
            |a| {
                a.filled = Some(FilledWith::Known {
                    water_id: "gone".into(),
                });
            },
            "filled.water_id",
        ),
        (
            |a| a.last_descaled = Some(date(2027, 1, 1)),
            "last_descaled",
        ),
        (|a| a.nickname = Some("x".repeat(81)), "nickname"),
    ] {
        let fields = refused(change);
        assert!(fields.contains(&field.to_owned()), "{field}: {fields:?}");
    }
}

#[test]
fn every_kind_is_told_by_something_of_its_own() {
    let mut families: Vec<_> = LOOKS.iter().map(|look| look.family).collect();
    families.dedup();
    assert_eq!(families.len(), Family::ALL.len());
    let mut words: Vec<_> = Family::ALL.iter().map(|f| told_by(*f)).collect();
    words.sort_unstable();
    words.dedup();
    assert_eq!(words.len(), Family::ALL.len());
}

#[test]
fn cleans_one_after_the_other_leave_nothing_and_never_no_number() {
    for family in Family::ALL {
        let told = settled(&Answers {
            family: Some(family),
            ..answers()
        });
        let circuit = &told.brewer.circuits[0];
        let water = told.water.as_ref().expect("a new water");
        let waters = [Chemistry::of(&water.reading, &Waters::new()).expect("a reading")];
        let start = Start::of(&told.brewer, circuit, &waters[0]);
        let forecast = forecast(&told);
        let agents = Agent::starters();
        let facts = Facts {
            brewer: &told.brewer,
            circuit,
            forecast: &forecast,
            agents: &agents,
            units: Units::Us,
            terms: &Terms::default(),
            today: Today::default(),
        };
        let plan = facts.plan(&PlanOptions::default()).expect("a plan");
        let mut cleans = Vec::new();
        for n in 0..40 {
            let mut clean = murlo_chalk::scale::Cleaned::told(TODAY);
            clean.bathed = plan.baths();
            cleans.push(clean);
            let growth = Growth::new(Known {
                brewer: &told.brewer,
                circuit,
                waters: &waters,
                start,
                cleans: &cleans,
                entries: &[],
                logged: None,
                recall: None,
                today: TODAY,
            });
            let chalk = growth.in_brief(Units::Us).chalk;
            for figure in [chalk.mg, chalk.low_mg, chalk.high_mg, chalk.um, chalk.used] {
                assert!(figure.is_finite(), "{family:?} after {n}: {chalk:?}");
            }
        }
    }
}

#[test]
fn a_past_that_nobody_knows_is_soaked_no_less_than_is_usual() {
    let soft = |last_clean| Answers {
        cups: Some(2.0),
        beforehand: Beforehand {
            last_clean,
            in_use: InUse::Unknown,
        },
        filled: Some(FilledWith::Tap {
            chalk: TapChalk::None,
        }),
        ..answers()
    };
    let soak = |last_clean| {
        let all = compare(&settled(&soft(last_clean))).alternatives;
        let best = all.into_iter().find(|a| a.recommended);
        best.expect("a recommended bath").soak_min
    };
    assert_eq!(soak(LastClean::Unknown), 20.0);
    assert!(soak(LastClean::Lately) < 20.0);
}

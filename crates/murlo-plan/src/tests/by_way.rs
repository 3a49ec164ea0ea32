//! Plans in the household's own way, for each family.

use crate::fixtures::{plan, with_told};
use crate::{
    Facts, Habits, KeptWay, Kind, PlanOptions, PouredSo, WayOrigin, WayRevision, WayWish, Work,
};
use jiff::civil::date;
use murlo_base::problem::Problems;
use murlo_brewer::Family;
use murlo_brewer::rinse::Taste;
use murlo_chalk::belief::Told;

/// As it is advised for a template brewer of that family.
fn as_advised(family: Family) -> Habits {
    let plan = plan(family, &PlanOptions::default()).unwrap();
    let is_programme = plan.steps.iter().any(|step| step.is(Kind::Programme));
    Habits {
        poured: PouredSo {
            agent_id: plan.chosen.agent_id.clone(),
            amount: plan.bath.agent_text.clone(),
            water: match plan.bath.water.ml < 1.0 {
                true => String::new(),
                false => plan.bath.water.text.clone(),
            },
        },
        percent: None,
        soak_minutes: if is_programme {
            0.0
        } else {
            plan.chosen.soak_minutes
        },
        baths: 1,
        rinses: plan.rinse.portions,
        taste: Taste::Usual,
        by_hand: false,
        left_out: Vec::new(),
        order: Vec::new(),
    }
}

fn kept(habits: Habits, chalk_mg: f64) -> KeptWay {
    KeptWay {
        id: "ours".to_owned(),
        brewer_id: "b".to_owned(),
        circuit_id: "side".to_owned(),
        name: "Our way".to_owned(),
        revisions: vec![WayRevision {
            since: date(2026, 6, 1),
            from: WayOrigin::Plan,
            habits,
            chalk_mg,
        }],
    }
}

/// Asks of a brewer that has this way.
fn with_way<T>(
    family: Family,
    (hardness, days): (f64, i32),
    way: KeptWay,
    brought: Option<Told>,
    ask: impl FnOnce(&Facts) -> T,
) -> T {
    with_told(
        family,
        hardness,
        days,
        |_| {},
        |facts| {
            let mut facts = facts.clone();
            facts.today.ways = vec![way];
            facts.today.brought = brought;
            ask(&facts)
        },
    )
}

fn refusal(family: Family, habits: &Habits) -> String {
    with_told(
        family,
        180.0,
        90,
        |_| {},
        |facts| {
            let proved = facts.prove(habits, &PlanOptions::default());
            let refused: Problems = match proved {
                Ok(plan) => facts.rinses_enough(habits, &plan).unwrap_err().into(),
                Err(refused) => refused,
            };
            format!("{}: {}", refused.0[0].field, refused.0[0].message)
        },
    )
}

#[test]
fn the_next_plan_of_each_family_is_its_way_with_the_check_beside_it() {
    for family in Family::ALL {
        let habits = as_advised(family);
        let advised = plan(family, &PlanOptions::default()).unwrap();
        with_way(
            family,
            (180.0, 90),
            kept(habits.clone(), advised.chalk.mg),
            None,
            |facts| {
                let own = facts.plan(&PlanOptions::default()).unwrap();
                let check = own.way.clone().unwrap();
                assert_eq!(check.refused, None, "{family:?}");
                assert_eq!(own.bath.agent_text, habits.poured.amount, "{family:?}");
                assert_eq!(own.rinse.portions, habits.rinses, "{family:?}");
                assert!(
                    check.text.starts_with("Leaves "),
                    "{family:?}: {}",
                    check.text
                );
                assert!(
                    (own.bath.percent / advised.bath.percent - 1.0).abs() < 0.03,
                    "{family:?}"
                );
                // Nothing was seen that speaks against it.
                assert_eq!(check.suggestion, None, "{family:?}");
            },
        );
    }
}

#[test]
fn a_chosen_bath_small_works_and_what_is_advised_are_not_planned_in_it() {
    let habits = Habits {
        rinses: 30,
        ..as_advised(Family::PodReservoir)
    };
    with_way(
        Family::PodReservoir,
        (180.0, 90),
        kept(habits, 100.0),
        None,
        |facts| {
            let way = |options: PlanOptions| {
                let options = facts.recommended(options).unwrap();
                facts.plan(&options).unwrap().way.map(|way| way.name)
            };
            let usual = PlanOptions::default;
            let ours = Some("Our way".to_owned());
            assert_eq!(way(usual()), ours);
            assert_eq!(
                way(PlanOptions {
                    minutes: Some(200.0),
                    ..usual()
                }),
                ours
            );
            for other in [
                PlanOptions {
                    way: Some(WayWish::Advised),
                    ..usual()
                },
                PlanOptions {
                    agent_id: Some("citric".to_owned()),
                    ..usual()
                },
                PlanOptions {
                    soak_minutes: Some(5.0),
                    ..usual()
                },
                PlanOptions {
                    baths: Some(2),
                    ..usual()
                },
                PlanOptions {
                    dirt: true,
                    ..usual()
                },
                PlanOptions {
                    work: Work::Needles,
                    ..usual()
                },
                PlanOptions {
                    work: Work::Rehearsal,
                    ..usual()
                },
            ] {
                assert_eq!(way(other.clone()), None, "{other:?}");
            }
            let unknown = PlanOptions {
                way: Some(WayWish::Kept {
                    id: "gone".to_owned(),
                }),
                ..usual()
            };
            assert_eq!(facts.plan(&unknown).unwrap_err().0[0].field, "way.id");
        },
    );
}

#[test]
fn habits_are_kept_where_they_harm_nobody_and_said_with_what_they_cost() {
    let advised = as_advised(Family::PodReservoir);
    let habits = Habits {
        rinses: advised.rinses + 3,
        soak_minutes: advised.soak_minutes + 20.0,
        left_out: vec![Kind::Body, Kind::Baseline],
        order: vec![Kind::Others, Kind::Parts],
        ..advised.clone()
    };
    with_way(
        Family::PodReservoir,
        (180.0, 90),
        kept(habits.clone(), 1e6),
        None,
        |facts| {
            let own = facts.plan(&PlanOptions::default()).unwrap();
            let check = own.way.clone().unwrap();
            assert_eq!(check.refused, None);
            assert_eq!(own.rinse.portions, habits.rinses);
            assert_eq!(own.rinse.levels_mg_l.len() as u32, habits.rinses + 1);
            assert!(
                !own.steps
                    .iter()
                    .any(|s| s.is(Kind::Body) || s.is(Kind::Baseline))
            );
            // Without the first glass nothing has to cool, and nothing waits beside what is gone.
            assert!(!own.steps.iter().any(|s| s.is(Kind::Cool)));
            let ids: Vec<_> = own.steps.iter().map(|s| s.id.as_str()).collect();
            let beside = own.steps.iter().filter_map(|s| s.during.as_deref());
            beside.for_each(|id| assert!(ids.contains(&id), "{id}"));
            let costs = check.costs.join("; ");
            assert!(costs.contains("3 mugs more than it takes"), "{costs}");
            assert!(
                costs.contains("longer than what is advised") || costs.contains("shorter"),
                "{costs}"
            );
        },
    );
}

#[test]
fn what_would_do_harm_is_refused_with_the_reason() {
    let pod = as_advised(Family::PodReservoir);
    let poured = |amount: &str, water: &str| Habits {
        poured: PouredSo {
            agent_id: "vinegar".into(),
            amount: amount.into(),
            water: water.into(),
        },
        ..pod.clone()
    };
    for (habits, said) in [
        (
            Habits {
                rinses: 2,
                ..pod.clone()
            },
            "rinses: 2 mugs would leave about",
        ),
        (
            poured("6 cups", "6 cups"),
            "poured.water: all of it is more than the",
        ),
        (poured("a sip", "1 cup"), "poured.amount: "),
        (
            poured("1/8 cup", "1/8 cup"),
            "bath: the bath must give its dispenses here",
        ),
        (
            Habits {
                baths: 5,
                ..pod.clone()
            },
            "baths: give 1 to 4 baths",
        ),
        (
            Habits {
                baths: 0,
                ..pod.clone()
            },
            "baths: give 1 to 4 baths",
        ),
        (
            Habits {
                soak_minutes: -1.0,
                ..pod.clone()
            },
            "soak_minutes: ",
        ),
        (
            Habits {
                left_out: vec![Kind::Rinse],
                ..pod.clone()
            },
            "left_out: a rinse cannot be left out",
        ),
        (
            Habits {
                percent: Some(0.0),
                ..pod.clone()
            },
            "percent: ",
        ),
        (
            Habits {
                poured: PouredSo {
                    agent_id: "gone".into(),
                    ..pod.poured.clone()
                },
                ..pod.clone()
            },
            "poured.agent_id: its agent is not in the cupboard any more",
        ),
    ] {
        let refused = refusal(Family::PodReservoir, &habits);
        assert!(refused.starts_with(said), "{refused}");
    }
    // A carafe that is smaller than the bath runs over.
    let drip = as_advised(Family::Drip);
    let forbidden = with_told(
        Family::Drip,
        180.0,
        90,
        |draft| draft.forbids = vec!["vinegar".to_owned()],
        |facts| facts.prove(&drip, &PlanOptions::default()).unwrap_err(),
    );
    assert!(
        forbidden.0[0]
            .message
            .contains("the maker of this brewer forbids")
    );
}

#[test]
fn a_way_that_cannot_be_followed_now_gives_way_and_says_so() {
    let habits = Habits {
        poured: PouredSo {
            agent_id: "gone".into(),
            ..as_advised(Family::Drip).poured
        },
        ..as_advised(Family::Drip)
    };
    with_way(
        Family::Drip,
        (180.0, 90),
        kept(habits, 100.0),
        None,
        |facts| {
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            let refused = plan.way.unwrap().refused.unwrap();
            assert!(
                refused.starts_with("Our way is not planned now: its agent is not in the cupboard"),
                "{refused}"
            );
            assert!(!plan.steps.is_empty() && plan.chosen.agent_id != "gone");
            let by_name = PlanOptions {
                way: Some(WayWish::Kept {
                    id: "ours".to_owned(),
                }),
                ..PlanOptions::default()
            };
            assert!(facts.plan(&by_name).is_err());
        },
    );
}

#[test]
fn more_rinses_are_counted_where_the_kept_number_would_leave_acid() {
    let advised = as_advised(Family::PodReservoir);
    let few = Habits {
        rinses: advised.rinses - 2,
        ..advised.clone()
    };
    with_way(
        Family::PodReservoir,
        (180.0, 90),
        kept(few, 1e6),
        None,
        |facts| {
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            assert_eq!(plan.rinse.portions, advised.rinses);
            let costs = plan.way.unwrap().costs;
            assert!(costs[0].contains("fewer would leave"), "{costs:?}");
        },
    );
}

#[test]
fn a_change_is_proposed_on_evidence_only() {
    let short = Habits {
        soak_minutes: 10.0,
        ..as_advised(Family::PodReservoir)
    };
    let long = Habits {
        soak_minutes: 45.0,
        ..short.clone()
    };
    let light = (120.0, 40);
    let heavy = (300.0, 150);
    let proposed = |habits: &Habits, now, kept_mg: f64, brought| {
        let way = kept(habits.clone(), kept_mg);
        with_way(Family::PodReservoir, now, way, brought, |facts| {
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            plan.way.unwrap().suggestion
        })
    };
    let mg = |(hardness, days)| {
        with_told(
            Family::PodReservoir,
            hardness,
            days,
            |_| {},
            |facts| facts.forecast.chalk.mg,
        )
    };
    // Nothing is said against a habit without evidence, however much it leaves.
    assert_eq!(proposed(&short, heavy, mg(heavy), None), None);
    assert_eq!(proposed(&long, light, mg(light), None), None);
    let more = proposed(&short, heavy, mg(heavy) / 2.0, None).unwrap();
    assert!(more.text.contains("about 2"), "{}", more.text);
    assert!(more.habits.soak_minutes > 10.0 || more.habits.baths == 2);
    let lot = proposed(&short, heavy, mg(heavy), Some(Told::Lot)).unwrap();
    assert!(
        lot.text.ends_with("last time it brought out a lot."),
        "{}",
        lot.text
    );
    let less = proposed(&long, light, mg(light), Some(Told::None)).unwrap();
    assert_eq!(
        less.text,
        "Soak 15 min instead of 45 min: last time nothing came."
    );
    assert_eq!(
        less.habits,
        Habits {
            soak_minutes: 15.0,
            ..long.clone()
        }
    );
    // Just below, at and above what counts as much more.
    for (times, says) in [(1.29, false), (1.31, true)] {
        let said = proposed(&short, heavy, mg(heavy) / times, None);
        assert_eq!(said.is_some(), says, "{times}");
    }
    assert_eq!(proposed(&long, light, mg(light), Some(Told::Some)), None);
}

#[test]
fn a_way_keeps_what_it_was_and_is_read_back() {
    let way = kept(as_advised(Family::Drip), 50.0);
    let same = way.clone().revised(WayRevision {
        since: date(2026, 7, 1),
        ..way.latest().clone()
    });
    assert_eq!(same.revisions.len(), 1);
    let habits = Habits {
        rinses: 9,
        ..way.latest().habits.clone()
    };
    let changed = way.clone().revised(WayRevision {
        since: date(2026, 7, 1),
        habits,
        ..way.latest().clone()
    });
    assert_eq!(
        (changed.revisions.len(), changed.latest().habits.rinses),
        (2, 9)
    );
    let text = serde_json::to_string(&changed).unwrap();
    assert_eq!(serde_json::from_str::<KeptWay>(&text).unwrap(), changed);
    with_way(Family::Drip, (180.0, 90), changed, None, |facts| {
        let since = facts
            .plan(&PlanOptions::default())
            .unwrap()
            .way
            .unwrap()
            .since;
        assert_eq!(since, "As changed on 1 Jul, revision 2");
    });
}

#[test]
fn amounts_in_another_brewer_s_marks_are_said_in_cups_elsewhere() {
    with_told(
        Family::Drip,
        180.0,
        90,
        |_| {},
        |facts| {
            let agent = facts.agents.iter().find(|a| a.id == "vinegar").unwrap();
            let so = |amount: &str, water: &str| PouredSo {
                agent_id: "vinegar".into(),
                amount: amount.into(),
                water: water.into(),
            };
            let plain = |said: &PouredSo| facts.in_plain_amounts(agent, said).unwrap();
            assert_eq!(plain(&so("2 cups", "4 cups")), so("2 cups", "4 cups"));
            let marks = plain(&so("4 marks", "8 marks"));
            assert!(
                !marks.amount.contains("mark") && !marks.water.contains("mark"),
                "{marks:?}"
            );
            let (own, other) = (
                facts
                    .said_bath(agent, &so("4 marks", "8 marks"), "x")
                    .unwrap(),
                facts.said_bath(agent, &marks, "x").unwrap(),
            );
            assert!((own.total_ml / other.total_ml - 1.0).abs() < 0.03);
        },
    );
}

#[test]
fn the_least_number_of_rinses_is_enough_and_one_less_is_not() {
    let habits = as_advised(Family::PodReservoir);
    with_told(
        Family::PodReservoir,
        180.0,
        90,
        |_| {},
        |facts| {
            let plan = facts.prove(&habits, &PlanOptions::default()).unwrap();
            let of = |rinses| Habits {
                rinses,
                ..habits.clone()
            };
            facts
                .rinses_enough(&of(plan.rinse.portions), &plan)
                .unwrap();
            let refused = facts.rinses_enough(&of(plan.rinse.portions - 1), &plan);
            assert_eq!(refused.unwrap_err().field, "rinses");
        },
    );
}

#[test]
fn what_reaches_already_is_not_made_longer_whatever_came_out() {
    let long = Habits {
        soak_minutes: 45.0,
        ..as_advised(Family::PodReservoir)
    };
    for (brought, kept_mg) in [(Some(Told::Lot), 1e6), (None, 1.5)] {
        let way = kept(long.clone(), kept_mg);
        with_way(Family::PodReservoir, (120.0, 40), way, brought, |facts| {
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            assert_eq!(plan.way.unwrap().suggestion, None);
        });
    }
}

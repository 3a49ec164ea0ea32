//! What has been done to the brewers of a household: which cleans count, and what they tell besides.

mod fold;
mod inside;
mod log;
mod memory;

pub use fold::{CountLesson, GuidedClean, History, MeasuredBy};
pub use inside::AcidInside;
pub use log::{CleanOnLine, Done, Log, Which, YearLine, YearOfLog, csv, done};
pub use memory::{Cleans, Memory, Recalls, Running};

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Household;
    use crate::past::PastClean;
    use jiff::civil::date;
    use murlo_brewer::CircuitKey;
    use murlo_brewer::journal::{self, What};
    use murlo_brewer::rinse::Counted;
    use murlo_chalk::scale::{Cleaned, Wetted};
    use murlo_chemistry::cleaning::{Bathed, Path};
    use murlo_clean::{AcidLeft, Act, Event, Outcome};
    use murlo_plan::Work;

    fn landed() -> Household {
        let landed = include_str!("../testdata/landed-1.json");
        let landed: serde_json::Value = serde_json::from_str(landed).unwrap();
        Household::read(&landed["export"].to_string()).unwrap()
    }

    fn cleans_of(household: &Household) -> Vec<GuidedClean> {
        let closes = Act::is_closing;
        let cleans = household.cleans.iter().map(|record| GuidedClean {
            id: record.id.clone(),
            brewer_id: record.plan.brewer_id.clone(),
            circuit_id: record.plan.circuit_id.clone(),
            closing: record.events.iter().rfind(|e| closes(&e.act)).cloned(),
        });
        cleans.collect()
    }

    #[test]
    fn finished_cleans_count_running_ones_run_and_those_given_up_do_neither() {
        let household = landed();
        let brewers: Vec<_> = household.brewers.iter().map(|k| &k.fact).collect();
        let history = History::fold(cleans_of(&household), [], brewers.iter().copied());
        let key = |brewer: &str, side: &str| CircuitKey::new(brewer, side);
        let count = |brewer: &str| history.cleans[&key(brewer, "main")].len();
        assert_eq!(count("studio-pod"), 2, "a clean each of two");
        assert_eq!(count("galley"), 0, "given up");
        assert_eq!(count("galley-cup"), 0, "only the needles");
        let mut running: Vec<_> = history.running.values().map(String::as_str).collect();
        running.sort_unstable();
        let expected = [
            "demo-half-done",
            "landed-coded",
            "landed-rehearsal",
            "landed-stopped",
        ];
        assert_eq!(running, expected);
        let told = |id: &str| history.entries.iter().find(|e| e.id == id);
        assert!(told("cleared-demo-unclogged").is_some());
        assert!(history.entries.iter().all(journal::is_of_a_clean));
    }

    #[test]
    fn a_sour_coffee_is_one_whoever_tells_of_it_and_counts_for_its_agent() {
        use murlo_brewer::bath::{Recipe, Taken};
        use murlo_brewer::journal::FirstTaste;
        let key = CircuitKey::new("b", "main");
        let clean = |id: &str, agent: &str| Cleaned {
            clean_id: Some(id.to_owned()),
            taken: Some(Taken {
                agent_id: agent.to_owned(),
                recipe: Recipe::Dose { g_per_l: 20.0 },
            }),
            ..Cleaned::default()
        };
        let cleans = vec![
            clean("v1", "vinegar"),
            clean("v2", "vinegar"),
            clean("c1", "citric"),
        ];
        let history = History {
            cleans: [(key.clone(), cleans)].into(),
            ..History::default()
        };
        let told = |id: &str, clean: &str, taste| journal::Entry {
            id: id.to_owned(),
            brewer_id: "b".to_owned(),
            day: date(2026, 8, 30),
            at: None,
            what: What::FirstCoffee {
                circuit_id: "main".to_owned(),
                clean_id: clean.to_owned(),
                taste,
            },
        };
        let mut entries = vec![
            told("1", "v1", FirstTaste::Sour),
            told("2", "v1", FirstTaste::Sour),
            told("3", "v2", FirstTaste::Sour),
            told("4", "c1", FirstTaste::Flat),
            told("5", "gone", FirstTaste::Sour),
        ];
        let sour = |entries: &[journal::Entry]| {
            let measured = history.measured(entries);
            measured
                .get(&key)
                .map(|m| m.sour.clone())
                .unwrap_or_default()
        };
        assert_eq!(sour(&entries), [("vinegar".to_owned(), 2)].into());
        let what = What::LeftOut {
            entry_id: "3".to_owned(),
        };
        entries.push(journal::Entry {
            what,
            ..told("6", "v1", FirstTaste::Fine)
        });
        assert_eq!(sour(&entries), [("vinegar".to_owned(), 1)].into());
    }

    #[test]
    fn a_clean_that_was_opened_again_is_asked_anew() {
        use murlo_chemistry::cleaning::{Bath, Heats, How, Pass};
        let path = Path {
            heats: Heats {
                heater: murlo_chemistry::heater::Heater::Tank,
                heater_c: 92.0,
                brew_min: None,
            },
            hold_ml: 355.0,
        };
        let wetted = Wetted {
            path,
            area_cm2: 100.0,
            limit_mg: 569.1,
        };
        let mut memory = Memory::default();
        let mut asked = |end: &str, stood_min: f64| {
            let pass = Pass {
                how: How::Press,
                ml: 296.0,
                minutes: 1.0,
                stood_min,
                heated: true,
            };
            let baths = vec![Bath {
                g_per_l: Some(50.0),
                passes: vec![pass],
            }];
            let clean = Cleaned {
                at: Some(end.parse().unwrap()),
                clean_id: Some("c".into()),
                bathed: Some(Bathed {
                    acid: murlo_chemistry::acid::Acid::Acetic,
                    baths,
                }),
                ..Cleaned::default()
            };
            let key = CircuitKey::new("b", "main");
            let mut history = History::default();
            history.cleans.insert(key.clone(), vec![clean]);
            memory.lend(&mut history);
            history.cleans[&key][0].leaves(&wetted).of(1.0).median
        };
        let first = asked("2026-08-30T10:00:00Z", 5.0);
        assert_eq!(asked("2026-08-30T10:00:00Z", 5.0), first);
        assert!(asked("2026-08-30T11:00:00Z", 60.0) < first - 0.1);
    }

    #[test]
    fn counts_can_be_left_out_and_counted_again() {
        let counted = |dispenses| Counted {
            volume_ml: 950.0,
            dispenses,
        };
        let by = |clean: &str, bath, fill| MeasuredBy {
            clean_id: clean.to_owned(),
            key: CircuitKey::new("b", "main"),
            day: date(2026, 8, 30),
            programme_min: Some(20.0),
            bath,
            fill,
        };
        let history = History {
            measured: vec![
                by("a", Some(counted(3)), Some(counted(4))),
                by("b", Some(counted(2)), None),
                by("c", None, None),
            ],
            ..History::default()
        };
        let out = journal::Entry {
            id: "out".to_owned(),
            brewer_id: "b".to_owned(),
            day: date(2026, 8, 30),
            at: None,
            what: What::LeftOut {
                entry_id: "counted-a".to_owned(),
            },
        };
        let key = CircuitKey::new("b", "main");
        let all = &history.measured(&[])[&key];
        assert_eq!(
            (all.bath.len(), all.fill.len(), all.programme_min),
            (2, 1, Some(20.0))
        );
        let some = &history.measured(std::slice::from_ref(&out))[&key];
        assert_eq!((some.bath.clone(), some.fill.len()), (vec![counted(2)], 0));
        let read = history.counts("b", &[out], date(2026, 9, 1));
        let texts: Vec<_> = read
            .iter()
            .map(|c| (c.text.as_str(), c.left_out_by.as_deref()))
            .collect();
        assert_eq!(
            texts,
            [
                ("30 Aug: the bath gave 2 dispenses", None),
                (
                    "30 Aug: the bath gave 3 dispenses, a fill of the rinse gave 4 dispenses",
                    Some("out")
                ),
            ]
        );
        assert!(history.counts("other", &[], date(2026, 9, 1)).is_empty());
    }

    #[test]
    fn acid_left_inside_marks_a_brewer_until_a_clean_ends_without_or_somebody_vouches() {
        let acid = AcidLeft {
            mg_l: 20_000.0,
            target_mg_l: 50.0,
            since: None,
        };
        let household = landed();
        let finished = cleans_of(&household);
        let outcome = finished
            .iter()
            .find_map(|clean| match clean.closing.as_ref()?.act.clone() {
                Act::Finished { outcome } => outcome.filter(|o| o.work == Work::Descale),
                _ => None,
            });
        let outcome = |acid_left: Option<&AcidLeft>| {
            Some(Outcome {
                acid_left: acid_left.cloned(),
                ..outcome.clone().unwrap()
            })
        };
        let clean = |id: &str, act| GuidedClean {
            id: id.to_owned(),
            brewer_id: "b".to_owned(),
            circuit_id: "main".to_owned(),
            closing: Some(Event {
                id: format!("end-{id}"),
                at: "2026-08-30T10:00:00Z".parse().unwrap(),
                device_at: None,
                by: None,
                act,
            }),
        };
        let left = || Act::Finished {
            outcome: outcome(Some(&acid)),
        };
        let clear = || Act::Finished {
            outcome: outcome(None),
        };
        let given_up = || Act::Abandoned {
            acid: Some(acid.clone()),
            outcome: None,
        };
        // As it is given up since it is kept what it came to.
        let kept = |acid_left: Option<&AcidLeft>, rounds| Act::Abandoned {
            acid: acid_left.cloned(),
            outcome: outcome(acid_left).map(|outcome| {
                Box::new(Outcome {
                    given_up: true,
                    rounds,
                    ..outcome
                })
            }),
        };
        let vouched = |outcome| Act::Vouched {
            by: "Ola".to_owned(),
            outcome,
        };
        for (acts, marked) in [
            (vec![left()], Some("0")),
            (vec![given_up()], Some("0")),
            (vec![left(), clear()], None),
            (vec![given_up(), clear()], None),
            (vec![clear(), given_up()], Some("1")),
            (vec![left(), Act::give_up()], Some("0")),
            (vec![vouched(outcome(None))], None),
            (vec![given_up(), vouched(None)], None),
            (vec![kept(Some(&acid), 1)], Some("0")),
            (vec![kept(Some(&acid), 1), vouched(outcome(None))], None),
            (vec![left(), kept(None, 1)], None),
            (vec![left(), kept(None, 0)], Some("0")),
        ] {
            let cleans = acts.into_iter().enumerate();
            let cleans = cleans.map(|(i, act)| clean(&i.to_string(), act));
            let history = History::fold(cleans, [], []);
            let inside = history.acid.get(&CircuitKey::new("b", "main"));
            assert_eq!(inside.map(|i| i.clean_id.as_str()), marked);
            if let Some(inside) = inside {
                assert_eq!(
                    inside.text,
                    "ACID INSIDE, about 400 times what people notice. Do not brew."
                );
            }
        }
    }

    #[test]
    fn what_was_done_is_told_latest_first_without_what_did_nothing() {
        let household = landed();
        let past = PastClean {
            id: "p".to_owned(),
            brewer_id: "duo".to_owned(),
            day: date(2031, 5, 1),
            note: "by hand".to_owned(),
            bathed: std::collections::BTreeMap::new(),
        };
        let all = done(cleans_of(&household), [past]);
        assert_eq!(
            (all[0].past_id.as_deref(), all[0].text.as_str()),
            (Some("p"), "by hand")
        );
        assert!(all.windows(2).all(|pair| pair[0].day >= pair[1].day));
        let cleans: Vec<_> = all.iter().filter_map(|d| d.clean_id.as_deref()).collect();
        assert!(cleans.contains(&"demo-finished") && cleans.contains(&"demo-unclogged"));
        for nothing in ["demo-half-done", "landed-rehearsal", "landed-stopped"] {
            assert!(!cleans.contains(&nothing), "{nothing}");
        }
    }

    #[test]
    fn a_told_clean_is_one_of_every_side_and_they_stand_by_day() {
        let household = landed();
        let brewers: Vec<_> = household.brewers.iter().map(|k| &k.fact).collect();
        let told = |id: &str, day| PastClean {
            id: id.to_owned(),
            brewer_id: "duo".to_owned(),
            day,
            note: "by hand".to_owned(),
            bathed: std::collections::BTreeMap::new(),
        };
        let told = [told("b", date(2026, 5, 1)), told("a", date(2026, 2, 1))];
        let history = History::fold([], &told, brewers.iter().copied());
        for side in ["main", "pod"] {
            let cleans = &history.cleans[&CircuitKey::new("duo", side)];
            let days: Vec<_> = cleans.iter().map(|c| c.day).collect();
            assert_eq!(days, [date(2026, 2, 1), date(2026, 5, 1)], "{side}");
        }
    }
}

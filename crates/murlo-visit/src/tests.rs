use super::*;
use crate::fixtures::faults;
use proptest::prelude::*;

/// What a job is made of: hands before, a wait of some kind, and how long.
fn wait() -> impl Strategy<Value = Vec<(Presence, i32, Option<i32>)>> {
    let minutes = |most: i32| (1..most).prop_map(|m| 30 * m);
    prop_oneof![
        minutes(12).prop_map(|m| vec![(Presence::Near, m, None)]),
        (minutes(60), proptest::option::of(0..80i32)).prop_map(|(m, more)| vec![(
            Presence::Free,
            m,
            more.map(|x| m + 30 * x)
        )]),
        (minutes(6), minutes(40))
            .prop_map(|(n, f)| vec![(Presence::Near, n, None), (Presence::Free, f, None)]),
        (minutes(20), minutes(6))
            .prop_map(|(f, n)| vec![(Presence::Free, f, None), (Presence::Near, n, None)]),
    ]
}

pub(crate) fn any_visit(jobs: usize) -> impl Strategy<Value = Schedulable> {
    let part = (1..20i32, wait());
    let job = (
        proptest::collection::vec(part, 1..5),
        1..10i32,
        0..2usize,
        any::<bool>(),
    );
    let chores = proptest::collection::vec((2..30i32, 0..2usize), 0..3);
    (
        proptest::collection::vec(job, 1..=jobs),
        chores,
        0..4i32,
        0..2i32,
    )
        .prop_map(|(jobs, chores, travel, switch)| {
            let place = |n: usize| Some(["kitchen", "studio"][n].to_owned());
            let jobs = jobs
                .into_iter()
                .enumerate()
                .map(|(n, (parts, last, at, after))| {
                    let mut segments = Vec::new();
                    let mut add = |doing, seconds, max| {
                        let id = format!("s{}", segments.len());
                        segments.push(Segment {
                            id,
                            doing,
                            seconds,
                            max,
                        });
                    };
                    for (hands, wait) in parts {
                        add(Presence::Hands, 30 * hands, None);
                        wait.into_iter()
                            .for_each(|(doing, seconds, max)| add(doing, seconds, max));
                    }
                    add(Presence::Hands, 30 * last, None);
                    VisitJob {
                        id: format!("j{n}"),
                        place: place(at),
                        after: if after && n > 0 {
                            vec![format!("j{}", n - 1)]
                        } else {
                            Vec::new()
                        },
                        at: None,
                        weight: None,
                        part_of: None,
                        segments,
                    }
                });
            let chores = chores
                .into_iter()
                .enumerate()
                .map(|(n, (minutes, at))| Chore {
                    id: format!("c{n}"),
                    place: place(at),
                    seconds: 60 * minutes,
                    at: None,
                    weight: Some(1.0),
                });
            Schedulable {
                jobs: jobs.collect(),
                chores: chores.collect(),
                travel: 30 * travel,
                switch: 12 * switch,
                ..Schedulable::default()
            }
        })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    #[test]
    fn every_schedule_keeps_the_model_and_its_bound(visit in any_visit(4)) {
        let found = solve(&visit, 3000).expect("sound");
        prop_assert_eq!(faults(&visit, &found), Vec::<String>::new());
        prop_assert!(found.bound <= found.end);
        prop_assert_eq!(&solve(&visit, 3000).expect("sound"), &found);
        let longest: i32 = visit.jobs.iter().flat_map(|j| &j.segments).map(|s| s.seconds).sum();
        let chores: i32 = visit.chores.iter().map(|c| c.seconds).sum();
        let ways = (visit.travel + visit.switch) * found.schedule.len() as i32;
        prop_assert!(found.end <= longest + chores + ways, "longer than one after the other");
    }

    #[test]
    fn an_act_begun_at_its_latest_start_holds_the_end_and_a_moment_later_breaks_it(visit in any_visit(3)) {
        let compiled = visit.compile(&[]);
        let best = compiled.best(2000, i32::MAX, true);
        let Some(order) = best.order else { return Ok(()) };
        let walked = compiled.walked(&order);
        let latest = running::latest(&compiled, &walked, best.end);
        let chains: Vec<_> = walked.iter().map(|w| w.chain).collect();
        let waits = visit.jobs.iter().any(|j| j.segments.iter().any(|s| s.max.is_some()));
        // What was put off stays so.
        let starts: Vec<_> = walked.iter().map(|w| w.start).collect();
        for i in 0..chains.len() {
            prop_assert!(latest[i] >= starts[i], "{} {}", latest[i], starts[i]);
            let mut earliest = starts.clone();
            earliest[i] = latest[i];
            let (end, kept) = compiled.over_at(&chains, &earliest);
            prop_assert!(end <= best.end, "act {} at {}: {} after {}", i, latest[i], end, best.end);
            prop_assert!(kept || waits);
            earliest[i] += 1;
            let (late, still) = compiled.over_at(&chains, &earliest);
            prop_assert!(
                late > best.end || !still || waits, "act {} could begin later than {}", i, latest[i]);
        }
    }

    #[test]
    fn who_must_leave_leaves_out_as_little_as_the_time_asks(visit in any_visit(2), short in 60..3000i32) {
        let whole = solve(&visit, 3000).expect("sound");
        let leave_by = (whole.end - short).max(1);
        let found = solve(&Schedulable { leave_by: Some(leave_by), ..visit.clone() }, 3000).expect("sound");
        if found.left_out.is_empty() {
            prop_assert_eq!(found.end, whole.end);
        } else {
            prop_assert!(found.end <= leave_by);
            prop_assert_eq!(faults(&visit, &found), Vec::<String>::new());
        }
    }

    #[test]
    fn small_visits_end_at_the_optimum_of_all_orders(
        jobs in proptest::collection::vec(proptest::collection::vec((1..9i32, 0..12i32), 1..4), 1..4),
    ) {
        let visit = Schedulable {
            jobs: jobs.iter().enumerate().map(|(n, parts)| VisitJob {
                id: format!("j{n}"),
                place: None,
                after: Vec::new(),
                at: None,
                weight: None,
                part_of: None,
                segments: parts.iter().enumerate().flat_map(|(i, (hands, free))| [
                    Segment { id: format!("h{i}"), doing: Presence::Hands, seconds: *hands, max: None },
                    Segment { id: format!("f{i}"), doing: Presence::Free, seconds: *free, max: None },
                ]).collect(),
            }).collect(),
            ..Schedulable::default()
        };
        let found = solve(&visit, 20_000).expect("sound");
        let mut at = vec![(0, 0); jobs.len()];
        let least = shortest(&jobs, &mut at, 0, 0);
        prop_assert_eq!(found.end, least);
        prop_assert!(found.bound <= least);
    }
}

/// Every order of the acts, one by one.
fn shortest(jobs: &[Vec<(i32, i32)>], at: &mut [(usize, i32)], t: i32, over: i32) -> i32 {
    let mut least = None;
    for k in 0..jobs.len() {
        let (done, ready) = at[k];
        let Some((hands, free)) = jobs[k].get(done) else {
            continue;
        };
        let end = t.max(ready) + hands;
        at[k] = (done + 1, end + free);
        let all = shortest(jobs, at, end, over.max(end + free));
        least = Some(least.map_or(all, |l: i32| l.min(all)));
        at[k] = (done, ready);
    }
    least.unwrap_or(over)
}

fn hands(id: &str, minutes: i32) -> Segment {
    Segment {
        id: id.to_owned(),
        doing: Presence::Hands,
        seconds: 60 * minutes,
        max: None,
    }
}

fn free(id: &str, minutes: i32, max: Option<i32>) -> Segment {
    Segment {
        doing: Presence::Free,
        max: max.map(|m| 60 * m),
        ..hands(id, minutes)
    }
}

fn job(id: &str, at: Option<At>, segments: Vec<Segment>) -> VisitJob {
    VisitJob {
        id: id.to_owned(),
        place: None,
        after: Vec::new(),
        at,
        weight: None,
        part_of: None,
        segments,
    }
}

#[test]
fn what_is_under_way_is_taken_from_where_it_stands() {
    let segments = vec![
        hands("mix", 3),
        free("soak", 20, Some(45)),
        hands("rinse", 6),
    ];
    let visit = |at| Schedulable {
        jobs: vec![job("pod", at, segments.clone())],
        now: 60 * 30,
        ..Schedulable::default()
    };
    let ends = |at| solve(&visit(at), 1000).expect("sound").end / 60;
    assert_eq!(ends(None), 59);
    // Soaking for ten minutes: ten to go, then the rinse.
    assert_eq!(ends(Some(At::Segment(1, Some(60 * 20)))), 46);
    // Soaked long ago, and too long: the rinse is due, and the limit that was missed binds no more.
    assert_eq!(ends(Some(At::Segment(1, Some(0)))), 36);
    // Mixing for a minute; or for longer than it takes, which is then over now.
    assert_eq!(ends(Some(At::Segment(0, Some(60 * 29)))), 58);
    assert_eq!(ends(Some(At::Segment(0, Some(60 * 20)))), 56);
    assert_eq!(ends(Some(At::Segment(2, None))), 36);
    assert_eq!(ends(Some(At::Done)), 30);
    assert!(
        solve(&visit(Some(At::Done)), 1000)
            .expect("sound")
            .schedule
            .is_empty()
    );
}

#[test]
fn waits_that_cannot_both_be_kept_are_lifted_and_said_so() {
    // Two soaks end together, and each rinse takes longer than the other may wait.
    let pod = |id: &str, at| {
        job(
            id,
            at,
            vec![
                hands("mix", 1),
                free("soak", 20, Some(21)),
                hands("rinse", 30),
            ],
        )
    };
    let running = Some(At::Segment(1, Some(0)));
    let visit = Schedulable {
        jobs: vec![pod("a", running), pod("b", running)],
        now: 60 * 5,
        ..Schedulable::default()
    };
    let found = solve(&visit, 2000).expect("sound");
    assert_eq!((found.lifted, found.end / 60), (1, 80));
    // Where they have not begun, one is begun later, and both are kept.
    let apart = Schedulable {
        jobs: vec![pod("a", None), pod("b", None)],
        ..Schedulable::default()
    };
    let found = solve(&apart, 2000).expect("sound");
    assert_eq!(found.lifted, 0);
    assert_eq!(faults(&apart, &found), Vec::<String>::new());
}

#[test]
fn a_visit_is_no_longer_and_no_fuller_than_it_can_be() {
    let many = |jobs: usize, seconds: i32| Schedulable {
        jobs: (0..jobs)
            .map(|n| VisitJob {
                segments: vec![Segment {
                    seconds,
                    ..hands("h", 1)
                }],
                ..job(&format!("j{n}"), None, Vec::new())
            })
            .collect(),
        ..Schedulable::default()
    };
    let day = 24 * 3600;
    for (visit, field) in [
        (many(120, 1), None),
        (many(121, 1), Some("jobs")),
        (many(7, day), None),
        (many(7, day + 1), Some("jobs")),
    ] {
        assert_eq!(visit.check().err().map(|p| p.field).as_deref(), field);
    }
    let mut with_chores = many(119, 1);
    let chore = |n: usize| Chore {
        id: format!("c{n}"),
        place: None,
        seconds: 1,
        at: None,
        weight: None,
    };
    with_chores.chores = vec![chore(0)];
    assert!(with_chores.check().is_ok());
    with_chores.chores.push(chore(1));
    assert!(with_chores.check().is_err());
    with_chores.chores = vec![
        chore(0),
        Chore {
            id: "j0".into(),
            ..chore(0)
        },
    ];
    with_chores.jobs.truncate(5);
    assert!(with_chores.check().is_err(), "a name that stands twice");
}

/// Parts go with what they belong to: never alone, never left behind.
#[test]
fn parts_of_a_job_are_left_out_together() {
    let part = |id: &str, minutes: i32, of: Option<&str>, after: &[&str]| VisitJob {
        weight: of.is_none().then_some(1.0),
        part_of: of.map(str::to_owned),
        after: after.iter().map(|id| (*id).to_owned()).collect(),
        ..job(id, None, vec![hands("h", minutes)])
    };
    let visit = Schedulable {
        jobs: vec![
            part("a", 10, None, &[]),
            part("a2", 10, Some("a"), &["a"]),
            part("a3", 5, Some("a"), &["a"]),
            VisitJob {
                weight: Some(2.0),
                ..part("b", 10, None, &[])
            },
        ],
        leave_by: Some(34 * 60),
        ..Schedulable::default()
    };
    let found = solve(&visit, 2000).expect("sound");
    assert_eq!(
        (found.left_out, found.end),
        (vec!["a".to_owned(), "a2".into(), "a3".into()], 600)
    );
    let enough = Schedulable {
        leave_by: Some(35 * 60),
        ..visit
    };
    assert_eq!(
        solve(&enough, 2000).expect("sound").left_out,
        Vec::<String>::new()
    );
}

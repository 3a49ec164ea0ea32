use super::*;
use crate::brewer::Family;
use crate::plan::{PlanOptions, VERIFY, tests::plan};
use jiff::civil::date;
use proptest::prelude::*;
use std::collections::BTreeMap;

const TODAY: Date = date(2026, 8, 30);

struct Run {
    plan: Plan,
    events: Vec<Event>,
}

impl Run {
    fn new(family: Family) -> Self {
        Self {
            plan: plan(family, &PlanOptions::default()).unwrap(),
            events: Vec::new(),
        }
    }

    fn act(&mut self, act: Act) -> Result<State, Problem> {
        let n = self.events.len();
        let at = Timestamp::UNIX_EPOCH + SignedDuration::from_secs(60 * n as i64);
        let event = Event {
            id: format!("e{n}"),
            at,
            device_at: None,
            act,
        };
        let (event, state) = admit(&self.plan, &self.events, event, TODAY)?;
        self.events.push(event);
        Ok(state)
    }

    fn state(&self) -> State {
        replay(&self.plan, &self.events).unwrap()
    }

    fn answer(&mut self, bad: &[&str]) -> State {
        let answers = [answers::SMELL, answers::CLEAR, answers::LIGHT].map(|q| {
            (
                q.to_owned(),
                if bad.contains(&q) {
                    answers::BAD
                } else {
                    answers::GOOD
                }
                .to_owned(),
            )
        });
        let mut answers = BTreeMap::from(answers);
        answers.insert(answers::SHOWED.into(), answers::CHALK.into());
        self.act(Act::Answered {
            step: VERIFY.into(),
            answers,
        })
        .unwrap()
    }

    /// Follows the one next act until the questions, or the end.
    fn on(&mut self) -> State {
        loop {
            let state = self.state();
            match state.next {
                Some(next) if state.closed.is_none() => drop(self.act(next.act).unwrap()),
                _ => return state,
            }
        }
    }
}

#[test]
fn every_family_is_cleaned_by_following_the_one_next_act() {
    for family in Family::ALL {
        let mut run = Run::new(family);
        assert_eq!(run.on().inside, Inside::Traces);
        run.answer(&[]);
        let state = run.on();
        assert_eq!(state.closed, Some(Closed::Finished));
        let outcome = state.outcome.unwrap();
        assert_eq!(
            (outcome.day, outcome.rounds, outcome.rinses),
            (TODAY, 1, run.plan.rinse.portions)
        );
        assert!(outcome.left_mg < 0.05 * run.plan.chalk.mg);
    }
}

#[test]
fn still_smells_adds_the_computed_number_of_rinses() {
    let mut run = Run::new(Family::PodReservoir);
    run.on();
    let state = run.answer(&[answers::SMELL]);
    assert_eq!(state.verdict, Some(Verdict::RinseMore));
    let more = run.plan.rinse.more;
    assert_eq!(state.next.unwrap().label, format!("Rinse {more} more"));
    let state = run.act(Act::Followed).unwrap();
    let rinse = state.steps.iter().find(|s| s.id == RINSE).unwrap();
    assert_eq!(
        (rinse.count, rinse.target, rinse.standing),
        (
            run.plan.rinse.portions,
            run.plan.rinse.portions + more,
            Standing::Current
        )
    );
    assert!(state.levels_mg_l.last().unwrap() < &22.0);
}

#[test]
fn cloudy_water_restarts_bath_and_rinse_and_is_referred_after_three() {
    let mut run = Run::new(Family::PodReservoir);
    for round in 1..=2 {
        run.on();
        assert_eq!(
            run.answer(&[answers::CLEAR]).verdict,
            Some(Verdict::BathAgain),
            "round {round}"
        );
        let state = run.act(Act::Followed).unwrap();
        assert_eq!(state.round, round + 1);
        assert!(state.steps.iter().find(|s| s.id == RINSE).unwrap().count == 0);
    }
    run.on();
    assert_eq!(run.answer(&[answers::CLEAR]).verdict, Some(Verdict::Refer));
}

#[test]
fn a_light_is_reset_first_and_bathed_again_only_then() {
    let mut run = Run::new(Family::Drip);
    run.on();
    assert_eq!(
        run.answer(&[answers::LIGHT]).verdict,
        Some(Verdict::ResetLight)
    );
    run.act(Act::Followed).unwrap();
    assert_eq!(
        run.answer(&[answers::LIGHT]).verdict,
        Some(Verdict::BathAgain)
    );
    let state = run.act(Act::Overruled).unwrap();
    assert_eq!(state.current, Some(run.plan.steps.len() - 1));
    assert!(run.on().outcome.unwrap().overruled);
}

#[test]
fn undo_takes_back_only_the_last_act() {
    let mut run = Run::new(Family::Drip);
    run.act(Act::Done {
        step: "ready".into(),
    })
    .unwrap();
    run.act(Act::Done {
        step: "parts".into(),
    })
    .unwrap();
    assert_eq!(
        run.act(Act::Undone { event: "e0".into() })
            .unwrap_err()
            .code,
        Code::DoesNotFit
    );
    assert_eq!(
        run.act(Act::Undone { event: "e1".into() }).unwrap().current,
        Some(1)
    );
    assert_eq!(run.state().undo.as_deref(), Some("e0"));
}

#[test]
fn a_timer_ends_on_the_wall_clock_and_stopping_says_what_is_inside() {
    let mut run = Run::new(Family::PodReservoir);
    while run
        .state()
        .steps
        .iter()
        .any(|s| s.id == "soak" && s.timer.is_none())
    {
        let next = run.state().next.unwrap().act;
        run.act(next).unwrap();
    }
    let state = run.act(Act::Paused).unwrap();
    let timer = state.steps.iter().find_map(|s| s.timer.clone()).unwrap();
    assert_eq!(
        timer.ends_at.duration_since(timer.started_at).as_secs_f64(),
        run.plan.chosen.soak_minutes * 60.0
    );
    assert_eq!(
        (state.inside, state.inside_text.as_str()),
        (Inside::Bath, "ACID INSIDE. Do not brew. Plugged in.")
    );
    assert_eq!(
        run.act(Act::Done {
            step: "soak".into()
        })
        .unwrap_err()
        .code,
        Code::DoesNotFit
    );
}

#[test]
fn acts_that_do_not_fit_say_where_the_clean_stands() {
    let mut run = Run::new(Family::Drip);
    for (act, code) in [
        (
            Act::Done {
                step: "rinse".into(),
            },
            Code::DoesNotFit,
        ),
        (
            Act::Done {
                step: "polish".into(),
            },
            Code::UnknownId,
        ),
        (
            Act::Counted {
                step: "ready".into(),
            },
            Code::DoesNotFit,
        ),
        (Act::Finished { outcome: None }, Code::DoesNotFit),
        (Act::Followed, Code::DoesNotFit),
        (Act::Resumed, Code::DoesNotFit),
        (Act::Noted { text: "  ".into() }, Code::Missing),
    ] {
        assert_eq!(run.act(act.clone()).unwrap_err().code, code, "{act:?}");
    }
    assert!(run.events.is_empty());
}

fn any_act(state: &State, pick: usize, bad: usize) -> Act {
    let mut acts: Vec<Act> = state
        .next
        .iter()
        .chain(&state.others)
        .map(|c| c.act.clone())
        .collect();
    acts.extend(state.undo.clone().map(|event| Act::Undone { event }));
    if state.next.is_none() {
        let all = [answers::SMELL, answers::CLEAR, answers::LIGHT];
        let answers = all.iter().enumerate().map(|(i, q)| {
            (
                (*q).to_owned(),
                if bad == i {
                    answers::BAD
                } else {
                    answers::GOOD
                }
                .to_owned(),
            )
        });
        let mut answers: BTreeMap<_, _> = answers.collect();
        answers.insert(answers::SHOWED.into(), answers::NOTHING.into());
        acts.push(Act::Answered {
            step: VERIFY.into(),
            answers,
        });
    }
    acts[pick % acts.len()].clone()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]
    #[test]
    fn whatever_is_offered_fits_and_always_leaves_a_next_act(picks in prop::collection::vec((0usize..7, 0usize..6), 1..120)) {
        let mut run = Run::new(Family::PodReservoir);
        for (pick, bad) in picks {
            let state = run.state();
            let act = any_act(&state, pick, bad);
            let state = run.act(act).unwrap();
            let asks = state.current.is_some_and(|i| run.plan.steps[i].id == VERIFY);
            prop_assert!(state.next.is_some() || asks);
            let done = |id: &str| state.steps.iter().any(|s| s.id == id && s.standing == Standing::Done);
            prop_assert!(!done("put_back") || done(RINSE), "the filter goes back only after the rinse");
        }
    }
}

//! Habits as they are kept from a clean: what was measured, waited, counted and left out.

use crate::fixtures::Run;
use crate::{Act, Closed, habits_of};
use jiff::SignedDuration;
use murlo_brewer::Family;
use murlo_plan::fixtures::{plan, with_told};
use murlo_plan::{Habits, Kind, PlanOptions, PouredSo, Wish, Work};

fn to_the_end(run: &mut Run) {
    loop {
        let state = run.on();
        if state.closed.is_some() {
            assert_eq!(state.closed, Some(Closed::Finished));
            return;
        }
        run.answer(&[]);
    }
}

fn habits(run: &Run) -> Habits {
    habits_of(&run.plan, &run.events, false).unwrap()
}

#[test]
fn a_clean_by_its_plan_is_kept_as_planned_and_the_next_plan_is_that_for_each_family() {
    for family in Family::ALL {
        let mut run = Run::new(family);
        to_the_end(&mut run);
        let kept = habits(&run);
        let ended = run.plan_now();
        assert_eq!(kept.poured.agent_id, ended.chosen.agent_id, "{family:?}");
        assert_eq!(kept.rinses, ended.rinse.portions, "{family:?}");
        assert_eq!(kept.baths, run.state().poured.len() as u32, "{family:?}");
        let proved = with_told(
            family,
            180.0,
            90,
            |_| {},
            |facts| facts.prove(&kept, &PlanOptions::default()),
        );
        let again = proved.unwrap_or_else(|why| panic!("{family:?}: {why}"));
        let difference = again.bath.percent / ended.bath.percent - 1.0;
        assert!(difference.abs() < 0.01, "{family:?}: {difference}");
        assert!(
            (again.bath.total.ml - ended.bath.total.ml).abs() < 5.0,
            "{family:?}"
        );
        assert_eq!(again.chosen.baths, kept.baths, "{family:?}");
    }
}

#[test]
fn what_was_poured_otherwise_left_out_and_rinsed_more_is_kept_so() {
    let mut run = Run::with(
        Family::PodReservoir,
        &PlanOptions {
            agent_id: Some("vinegar".to_owned()),
            ..PlanOptions::default()
        },
    );
    run.until_kind(Kind::Body);
    let step = run.state().step.unwrap().id;
    run.act(Act::LeftOut { step }).unwrap();
    run.until_kind(Kind::Mix);
    let so = PouredSo {
        agent_id: "vinegar".to_owned(),
        amount: "2 1/2 cups".to_owned(),
        water: "1 3/4 cups".to_owned(),
    };
    let wish = Wish::Poured {
        so: so.clone(),
        by_eye: None,
    };
    run.act(Act::Planned { wish, stage: None }).unwrap();
    to_the_end(&mut run);
    let kept = habits(&run);
    assert_eq!(kept.poured, so);
    assert_eq!(kept.left_out, [Kind::Body]);
    assert!(!kept.order.contains(&Kind::Body));
}

#[test]
fn a_soak_is_kept_as_long_as_it_was_unless_it_was_forgotten_or_hardly_differs() {
    for (late_min, soaked) in [
        (0, 20.0),
        (2, 20.0),
        (8, 28.0),
        (40, 60.0),
        (41, 20.0),
        (600, 20.0),
    ] {
        let options = PlanOptions {
            agent_id: Some("vinegar".to_owned()),
            soak_minutes: Some(20.0),
            ..PlanOptions::default()
        };
        let mut run = Run::with(Family::PodReservoir, &options);
        run.until_kind(Kind::Soak);
        let next = run.state().next.unwrap().act;
        run.act(next).unwrap();
        let over = run.state().next.unwrap().act;
        let at = run.next_at(&over) + SignedDuration::from_mins(late_min);
        run.act_at(at, over);
        to_the_end(&mut run);
        assert_eq!(habits(&run).soak_minutes, soaked, "{late_min} min late");
    }
}

#[test]
fn only_a_whole_clean_that_ended_well_is_kept() {
    let refused = |run: &Run| habits_of(&run.plan, &run.events, false).is_err();
    let mut run = Run::new(Family::PodReservoir);
    assert!(refused(&run));
    run.until_kind(Kind::Rinse);
    assert!(refused(&run));
    run.act(Act::Abandoned {
        acid: None,
        outcome: None,
    })
    .unwrap();
    assert!(refused(&run));
    let needles = PlanOptions {
        work: Work::Needles,
        ..PlanOptions::default()
    };
    let mut run = Run::with(Family::PodReservoir, &needles);
    to_the_end(&mut run);
    assert!(refused(&run));
}

#[test]
fn by_hand_is_a_habit_only_where_there_is_a_programme() {
    let mut run = Run::new(Family::PodReservoir);
    to_the_end(&mut run);
    assert!(!habits_of(&run.plan, &run.events, false).unwrap().by_hand);
    assert!(habits_of(&run.plan, &run.events, true).unwrap().by_hand);
    let drip = plan(Family::Drip, &PlanOptions::default()).unwrap();
    assert!(!Habits::of(&drip, false).by_hand && Habits::of(&drip, true).by_hand);
}

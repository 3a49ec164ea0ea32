//! What somebody found who came back to a brewer that was left.

use crate::fixtures::Run;
use crate::*;
use jiff::SignedDuration;
use murlo_brewer::Family;
use murlo_plan::{Inside, Kind, PlanOptions, Wish, Work};

use FoundSmell::{Nothing, Sour, Unsure};

const fn found(smell: FoundSmell, tank: FoundTank, plugged: bool) -> Act {
    let found = FoundInside {
        smell,
        tank,
        plugged,
    };
    Act::Found { found }
}

fn rinse() -> Act {
    Act::Planned {
        wish: Wish::Rinse,
        stage: None,
    }
}

/// The usual pod clean at the first step of `kind`, begun where it is waited for.
fn at(kind: Kind) -> Run {
    let mut run = Run::new(Family::PodReservoir);
    let state = run.until_kind(kind);
    if let Some(act @ Act::Started { .. }) = state.next.map(|next| next.act) {
        run.act(act).unwrap();
    }
    run
}

#[test]
fn what_is_found_makes_acid_of_water_and_never_water_of_acid() {
    for (kind, smell, tank, inside, rinsed_first) in [
        // Nothing was poured yet.
        (Kind::Parts, Nothing, FoundTank::Water, Inside::Water, false),
        (
            Kind::Parts,
            Unsure,
            FoundTank::Nothing,
            Inside::Water,
            false,
        ),
        (Kind::Parts, Sour, FoundTank::Water, Inside::Traces, true),
        (Kind::Parts, Nothing, FoundTank::Bath, Inside::Traces, true),
        // The bath soaks.
        (Kind::Soak, Sour, FoundTank::Bath, Inside::Bath, false),
        (Kind::Soak, Nothing, FoundTank::Water, Inside::Bath, true),
        (Kind::Soak, Unsure, FoundTank::Nothing, Inside::Bath, true),
        // It is rinsed.
        (
            Kind::Rinse,
            Nothing,
            FoundTank::Water,
            Inside::Traces,
            false,
        ),
        (Kind::Rinse, Sour, FoundTank::Water, Inside::Traces, false),
        (Kind::Rinse, Sour, FoundTank::Bath, Inside::Traces, true),
    ] {
        let what = format!("{kind:?} {smell:?} {tank:?}");
        let mut run = at(kind);
        let plugged = run.state().plugged;
        let before = run.state();
        if kind == Kind::Rinse {
            run.act(before.next.unwrap().act).unwrap();
        }
        let state = run.act(found(smell, tank, plugged)).unwrap();
        assert_eq!(state.inside, inside, "{what}");
        assert_eq!(state.current, before.current, "{what}");
        let comes_first = state
            .next
            .as_ref()
            .is_some_and(|choice| choice.act == rinse());
        assert_eq!(comes_first, rinsed_first, "{what}");
        let says = state.hint.is_some_and(|hint| hint.contains("rinse it out"));
        assert_eq!(says, rinsed_first, "{what}");
        if inside != Inside::Water {
            assert!(state.inside_text.contains("Do not brew"), "{what}");
            let over = run.act(Act::give_up()).unwrap();
            assert!(over.acid_left.is_some(), "{what}");
        }
    }
}

#[test]
fn acid_that_somebody_found_is_rinsed_out_before_the_clean_goes_on() {
    let mut run = at(Kind::Parts);
    run.act(found(Sour, FoundTank::Bath, false)).unwrap();
    let mut state = run.act(rinse()).unwrap();
    assert_ne!(state.inside, Inside::Water);
    while !state.step.as_ref().unwrap().is(Kind::Verify) {
        state = run.on();
    }
    let over = {
        run.answer(&[]);
        run.on()
    };
    assert_eq!(over.acid_left, None, "{}", over.inside_text);
}

#[test]
fn the_plug_is_as_it_was_found_until_the_next_step_is_done() {
    for (kind, plugged, hint) in [
        (
            Kind::Parts,
            true,
            Some("It is plugged in: unplug it first."),
        ),
        (Kind::Parts, false, None),
        (Kind::Run, false, Some("plug it in")),
        (Kind::Run, true, None),
    ] {
        let mut run = at(kind);
        let tank = match kind {
            Kind::Parts => FoundTank::Water,
            _ => FoundTank::Bath,
        };
        let state = run.act(found(Unsure, tank, plugged)).unwrap();
        assert_eq!(state.plugged, plugged, "{kind:?}");
        assert!(!state.in_mode || plugged);
        match hint {
            Some(hint) => assert!(state.hint.unwrap().contains(hint), "{kind:?}"),
            None => assert!(state.hint.is_none_or(|told| !told.contains("plug"))),
        }
        let go_on = |run: &mut Run| {
            let next = run.state().next.unwrap().act;
            run.act(next).unwrap().plugged
        };
        assert_eq!(go_on(&mut run), go_on(&mut at(kind)), "{kind:?}");
    }
}

#[test]
fn somebody_who_comes_back_after_hours_is_asked_and_sooner_where_it_was_stopped() {
    let minutes = |run: &Run| {
        let last = run.events.last().unwrap().at;
        let asked = run.state().asks_inside.map(|asked| asked.from);
        asked.map(|from| from.duration_since(last).as_mins())
    };
    let elsewhere = |run: &Run| {
        let last = run.events.last().unwrap().at;
        let asked = run.state().asks_inside.unwrap();
        asked.from_elsewhere.duration_since(last).as_mins()
    };
    assert_eq!(
        Run::new(Family::PodReservoir).state().asks_inside,
        None,
        "nothing was begun"
    );
    let mut run = at(Kind::Parts);
    assert_eq!(minutes(&run), Some(180));
    run.act(Act::Paused).unwrap();
    assert_eq!((minutes(&run), elsewhere(&run)), (Some(30), 15));
    // A soak is waited for first, however long it was planned.
    let run = at(Kind::Soak);
    let soak = run.plan.soak.minutes as i64;
    assert_eq!(minutes(&run), Some(180 + soak));
    assert_eq!(elsewhere(&run), 15 + soak);
    // Whoever looked is asked again only after hours.
    let mut run = at(Kind::Soak);
    let at = run.events.last().unwrap().at + SignedDuration::from_hours(10);
    run.act_at(at, found(Sour, FoundTank::Bath, true));
    assert_eq!(minutes(&run), Some(180));
    run.act(Act::give_up()).unwrap();
    assert_eq!(run.state().asks_inside, None);
    assert!(
        run.act(found(Sour, FoundTank::Bath, true)).is_err(),
        "it has ended"
    );
    let options = PlanOptions {
        work: Work::Rehearsal,
        ..PlanOptions::default()
    };
    let mut rehearsal = Run::with(Family::PodReservoir, &options);
    rehearsal.on();
    assert_eq!(rehearsal.state().asks_inside, None);
}

#[test]
fn acid_that_is_found_while_needles_are_cleared_is_rinsed_out_too() {
    let options = PlanOptions {
        work: Work::Needles,
        ..PlanOptions::default()
    };
    for family in [
        Family::PodReservoir,
        Family::OneCupPod,
        Family::CodedCapsule,
    ] {
        let mut run = Run::with(family, &options);
        let first = run.state().next.unwrap().act;
        run.act(first).unwrap();
        let state = run.act(found(Sour, FoundTank::Water, true)).unwrap();
        assert!(state.inside_text.starts_with("ACID INSIDE"), "{family:?}");
        let state = run.act(rinse()).unwrap();
        assert!(state.step.unwrap().is(Kind::Wash), "{family:?}");
        let given_up = run.act(Act::give_up()).unwrap();
        assert!(given_up.acid_left.is_some(), "{family:?}");
    }
}

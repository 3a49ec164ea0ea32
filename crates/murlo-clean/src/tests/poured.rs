//! Baths that were poured otherwise than planned, told at the mixing or later.

use crate::fixtures::Run;
use crate::*;
use murlo_base::problem::Code;
use murlo_brewer::Family;
use murlo_plan::{Kind, MIX, PlanOptions, PouredSo, RINSE, SOAK, Wish};

fn poured(agent: &str, amount: &str, water: &str) -> Act {
    Act::Planned {
        wish: Wish::Poured {
            by_eye: None,
            so: PouredSo {
                agent_id: agent.into(),
                amount: amount.into(),
                water: water.into(),
            },
        },
        stage: None,
    }
}

fn with(family: Family, agent: &str) -> Run {
    let options = PlanOptions {
        agent_id: Some(agent.into()),
        ..PlanOptions::default()
    };
    Run::with(family, &options)
}

#[test]
fn what_was_poured_is_the_bath_whatever_was_planned() {
    // Amount and water, the strength that it comes to, % w/v, and how strong the rinse then begins, mg/L.
    for (agent, amount, water, percent) in [
        ("vinegar", "2 cups", "2 cups", 2.5),
        ("vinegar", "3 cups", "1 cup", 3.75),
        ("vinegar", "4 cups", "", 5.0),
        ("vinegar", "4 cups", "0", 5.0),
        ("vinegar", "400 mL", "0.8 L", 5.0 / 3.0),
        ("bottled", "½ bottle", "½ bottle", 6.0),
        ("bottled", "1 bottle", "2 bottles", 4.0),
        ("citric", "40 g", "1 L", 4.0),
        ("citric", "20", "4 cups", 2.11),
    ] {
        let mut run = with(Family::PodReservoir, "vinegar");
        run.until(MIX);
        let state = run.act(poured(agent, amount, water)).unwrap();
        assert_eq!(state.kind, Some(Kind::First), "{amount} {water}");
        let plan = run.plan_now();
        assert!(
            (plan.bath.percent - percent).abs() < 0.01,
            "{amount} in {water}: {}",
            plan.bath.percent
        );
        assert_eq!(plan.chosen.agent_id, agent);
        assert!((plan.rinse.level_mg_l(0) - 10_000.0 * plan.bath.percent).abs() < 1.0);
        run.on();
        run.answer(&[]);
        let outcome = run.on().outcome.unwrap();
        assert_eq!(outcome.poured.len(), 1);
        assert!((outcome.poured[0].percent - percent).abs() < 0.01);
        assert_eq!(outcome.poured[0].agent_id, agent);
    }
}

#[test]
fn told_later_the_rest_follows_and_what_was_counted_stays() {
    for kind in [Kind::First, Kind::Run, Kind::Soak] {
        let mut run = with(Family::PodReservoir, "vinegar");
        run.until(kind.id());
        let before = run.plan_now();
        if kind == Kind::Soak {
            let start = run.state().next.unwrap().act;
            run.act(start).unwrap();
        }
        let state = run.act(poured("vinegar", "4 cups", "")).unwrap();
        assert_eq!(state.kind, Some(kind));
        let plan = run.plan_now();
        assert!((plan.bath.percent - 5.0).abs() < 0.01);
        assert!(plan.rinse.portions > before.rinse.portions, "{kind:?}");
        if kind == Kind::Soak {
            let soak = state.steps.iter().find(|s| s.id == SOAK).unwrap();
            assert!(soak.timer.is_some(), "it goes on soaking");
        }
        run.until(RINSE);
        let ids: std::collections::HashSet<_> = plan.steps.iter().map(|s| &s.id).collect();
        assert_eq!(ids.len(), plan.steps.len());
    }
}

#[test]
fn every_family_can_be_told_and_goes_on_to_its_end() {
    for family in Family::ALL {
        let mut run = with(family, "vinegar");
        run.until(MIX);
        let total = run.plan.bath.total.ml;
        let amount = format!("{:.0} mL", total / 2.0);
        let state = run.act(poured("vinegar", &amount, &amount)).unwrap();
        assert_ne!(state.kind, Some(Kind::Mix), "{family:?}");
        run.on();
        run.answer(&[]);
        assert!(run.on().outcome.is_some(), "{family:?}");
    }
}

#[test]
fn what_cannot_be_in_is_refused_by_its_field_and_changes_nothing() {
    let mut run = with(Family::PodReservoir, "vinegar");
    let early = run.act(poured("vinegar", "2 cups", "2 cups")).unwrap_err();
    assert_eq!(early.code, Code::DoesNotFit);
    run.until(MIX);
    let before = run.state();
    for (agent, amount, water, code, field) in [
        (
            "vinegar",
            "9 cups",
            "1 cup",
            Code::TooMuch,
            "act.wish.water",
        ),
        (
            "vinegar",
            "lots",
            "1 cup",
            Code::NotANumber,
            "act.wish.amount",
        ),
        (
            "vinegar",
            "2 cups",
            "2 spoons",
            Code::WrongUnit,
            "act.wish.water",
        ),
        ("vinegar", "", "1 cup", Code::Missing, "act.wish.amount"),
        ("citric", "40 g", "", Code::Missing, "act.wish.water"),
        ("citric", "some", "1 L", Code::NotANumber, "act.wish.amount"),
        ("nobody's", "1 cup", "1 cup", Code::UnknownId, "agent_id"),
    ] {
        let refused = run.act(poured(agent, amount, water)).unwrap_err();
        assert_eq!(
            (refused.code, refused.field.as_str()),
            (code, field),
            "{amount} {water}"
        );
        assert_eq!(run.state(), before);
    }
    // Once it is rinsed, it is too late.
    run.until(RINSE);
    assert!(!run.state().may_be_poured_otherwise);
    let late = run.act(poured("vinegar", "2 cups", "2 cups")).unwrap_err();
    assert_eq!(late.code, Code::DoesNotFit);
}

#[test]
fn what_was_poured_by_eye_is_as_high_as_it_stands_and_rinsed_as_strong_as_it_may_be() {
    use murlo_brewer::bath::Recipe;
    use murlo_plan::ByEye;
    let half = Recipe::Ratio {
        agent: 1.0,
        water: 1.0,
    };
    let poured = |recipe, level| {
        let options = PlanOptions {
            agent_id: Some("vinegar".to_owned()),
            ..PlanOptions::default()
        };
        let mut run = Run::with(Family::PodReservoir, &options);
        run.until_kind(Kind::Mix);
        let so = PouredSo {
            agent_id: "vinegar".to_owned(),
            amount: String::new(),
            water: String::new(),
        };
        let by_eye = Some(ByEye { recipe, level });
        let wish = Wish::Poured { so, by_eye };
        run.act(Act::Planned { wish, stage: None })
            .map(|_| run.plan_now())
    };
    let reservoir = poured(Some(half), 1.0).unwrap().reservoir_ml;
    for level in [1.0, 0.75, 0.5] {
        let plan = poured(Some(half), level).unwrap();
        assert!(
            (plan.bath.total.ml - level * reservoir).abs() < 1.0,
            "{level}"
        );
        assert!((plan.bath.percent - 2.5).abs() < 0.05, "{level}");
        assert!(plan.bath.agent_text.contains("cup") || plan.bath.agent_text.contains("oz"));
    }
    let known = poured(Some(half), 0.5).unwrap();
    let unknown = poured(None, 0.5).unwrap();
    assert!(unknown.rinse.portions > known.rinse.portions);
    assert!(unknown.rinse.level_mg_l(0) > 1.9 * known.rinse.level_mg_l(0));
    for level in [-0.1, 1.1] {
        let refused = poured(Some(half), level).unwrap_err();
        assert_eq!(refused.field, "act.wish.by_eye.level");
    }
}

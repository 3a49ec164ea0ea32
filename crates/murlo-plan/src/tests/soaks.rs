//! How long and where a bath soaks.

use crate::fixtures::{plan, with_facts, with_told};
use crate::tests::chosen::recommended;
use crate::*;
use murlo_brewer::{BrewerDraft, Family};

#[test]
fn where_one_bath_is_not_enough_several_are_planned_step_by_step() {
    let (best, _) = recommended(900, &PlanOptions::default(), |_, _, _| {});
    let best = best.expect("there is always a mild one");
    assert!(best.baths > 1);
    let options = PlanOptions {
        agent_id: Some(best.agent_id),
        recipe: Some(best.recipe),
        baths: Some(best.baths),
        ..PlanOptions::default()
    };
    let plan = with_facts(Family::PodReservoir, 180.0, 900, |f| f.plan(&options)).unwrap();
    let baths = plan.steps.iter().filter(|s| s.is(Kind::Mix)).count();
    assert_eq!(baths as u32, plan.chosen.baths);
    let ids: std::collections::HashSet<_> = plan.steps.iter().map(|s| &s.id).collect();
    assert_eq!(ids.len(), plan.steps.len(), "each step has its own id");
    assert!(plan.kit[0].ends_with("times"), "{}", plan.kit[0]);
}

/// How the bath of `plan` goes through: "first, run 1, soak 20, run-2 1".
pub(crate) fn course_of(plan: &Plan) -> String {
    let steps = plan.steps.iter().skip_while(|s| !s.is(Kind::Mix)).skip(1);
    let steps = steps.take_while(|s| !s.is(Kind::Look));
    let told = steps.map(|step| match &step.doing {
        Doing::Count { target } => format!("{} {target}", step.id),
        Doing::Wait { minutes } => format!("{} {minutes}", step.id),
        _ => step.id.clone(),
    });
    told.collect::<Vec<_>>().join(", ")
}

#[test]
fn a_bath_soaks_where_the_search_has_it_and_leaves_what_the_search_says() {
    let of = |family, hardness, days, options: &PlanOptions, hot: bool| {
        let tell = |draft: &mut BrewerDraft| draft.hot_water = hot;
        with_told(family, hardness, days, tell, |facts| {
            let plan = facts.plan(options).unwrap();
            let choice = facts.choose(options, None).unwrap();
            let worked = facts.work_out(&choice, 1, 0.0);
            if options.soak_minutes.is_none() {
                let (left, said) = (worked.advice.left, plan.after.as_ref().unwrap().used);
                assert!((left - said).abs() < 0.02, "{family:?}: {left} and {said}");
            }
            (course_of(&plan), plan.soak)
        })
    };
    let usual = PlanOptions::default();
    let soaking = |minutes| PlanOptions {
        soak_minutes: Some(minutes),
        ..usual.clone()
    };
    let cases = [
        (
            Family::PodReservoir,
            180.0,
            90,
            &usual,
            false,
            "first, run 1, soak 20, run-2 1",
        ),
        (
            Family::PodReservoir,
            60.0,
            90,
            &usual,
            false,
            "first, run 2",
        ),
        (
            Family::PodReservoir,
            250.0,
            120,
            &usual,
            false,
            "first, soak 30, run 1, soak-2 30, run-2 1",
        ),
        (
            Family::PodReservoir,
            250.0,
            120,
            &usual,
            true,
            "first, soak 30, hot_water, soak-2 30, run 1",
        ),
        (
            Family::PodReservoir,
            250.0,
            120,
            &soaking(25.0),
            false,
            "first, soak 13, run 1, soak-2 12, run-2 1",
        ),
        (
            Family::PodReservoir,
            180.0,
            90,
            &soaking(0.0),
            false,
            "first, run 2",
        ),
        (
            Family::PumpCapsule,
            180.0,
            90,
            &usual,
            false,
            "first, run 2",
        ),
        (
            Family::PumpCapsule,
            250.0,
            180,
            &usual,
            false,
            "first, soak 25, run 1, soak-2 25, run-2 1",
        ),
        (
            Family::OneCupPod,
            180.0,
            90,
            &usual,
            false,
            "first, soak 20, run",
        ),
        (
            Family::CodedCapsule,
            180.0,
            90,
            &usual,
            false,
            "disc, programme 20",
        ),
    ];
    for (family, hardness, days, options, hot, course) in cases {
        let (found, soak) = of(family, hardness, days, options, hot);
        assert_eq!(
            found, course,
            "{family:?} at {hardness}, {days} days: {soak:?}"
        );
        let sum: f64 = soak.parts(soak.minutes).iter().map(|part| part.1).sum();
        assert!((sum - soak.minutes).abs() < 1e-9 && soak.minutes <= 60.0);
        assert_eq!(soak.reason.contains("It soaks"), soak.after != [1]);
    }
}

#[test]
fn a_stronger_recipe_of_the_same_agent_never_soaks_longer() {
    let comparison = with_facts(Family::Drip, 300.0, 60, |f| {
        f.compare(&PlanOptions::default())
    })
    .unwrap();
    for pair in comparison
        .alternatives
        .windows(2)
        .filter(|p| p[0].agent_id == p[1].agent_id)
    {
        assert!(pair[1].percent > pair[0].percent);
        if pair[0].baths == pair[1].baths {
            // Five minutes is the grain of the search, and one that reaches may soak where none does.
            if pair[0].left_percent <= 10.0 {
                assert!(pair[1].soak_min <= pair[0].soak_min, "{pair:?}");
            }
            assert!(
                pair[1].left_percent <= pair[0].left_percent.max(10.0) + 0.5,
                "{pair:?}"
            );
            assert!(pair[1].load_percent < pair[0].load_percent);
        }
    }
}

#[test]
fn minutes_that_are_not_enough_are_said_with_the_least_it_takes() {
    let within = |family, minutes| {
        let options = PlanOptions {
            minutes: Some(minutes),
            ..PlanOptions::default()
        };
        plan(family, &options).unwrap()
    };
    for family in Family::ALL {
        let least = within(family, 10.0);
        let told = &least.warnings[0];
        assert!(
            told.starts_with("This does not fit into the 10 min you have: it takes about "),
            "{family:?} {told}"
        );
        // Just below, at and above what it takes at the least, give or take what "about" means.
        let takes = least.ribbon.elapsed_min;
        for (minutes, fits) in [
            (takes - 2.1, false),
            (takes - 1.9, true),
            (takes + 0.1, true),
        ] {
            let plan = within(family, minutes);
            let misses = plan.warnings.iter().any(|w| w.contains("does not fit"));
            assert_eq!(!misses, fits, "{family:?} {minutes}: {:?}", plan.warnings);
        }
    }
}

#[test]
fn several_likely_baths_are_promised_with_their_time() {
    let neglected = |days| {
        with_facts(Family::PodReservoir, 300.0, days, |facts| {
            facts.plan(&PlanOptions::default()).unwrap()
        })
    };
    let one = neglected(30);
    assert_eq!(one.likely_baths, 1);
    assert!(!one.ribbon.text.contains("likely"), "{}", one.ribbon.text);
    let many = neglected(900);
    assert!(many.likely_baths > many.chosen.baths);
    let all = many.ribbon.elapsed_min
        + f64::from(many.likely_baths - many.chosen.baths) * many.bath_min();
    let told = format!(
        " with 1 bath; likely {}, about {}",
        many.likely_baths,
        murlo_base::text::minutes(all)
    );
    assert!(many.ribbon.text.contains(&told), "{}", many.ribbon.text);
    assert_eq!(many.ribbon.text.ends_with("over two evenings"), all > 180.0);
    let steps = &many.steps;
    let place = |kind| steps.iter().position(|s: &Step| s.is(kind)).unwrap();
    let between = &steps[place(Kind::Mix)..=place(Kind::Look)];
    let own = between.iter().filter(|s| s.during.is_none());
    let sum: f64 = own
        .map(|s| s.hands_on_min + s.near_min + s.hands_free_min)
        .sum();
    assert!((many.bath_min() - sum).abs() < 1e-9 && sum > 10.0);
}

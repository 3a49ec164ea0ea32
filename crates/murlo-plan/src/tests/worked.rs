//! Figures that can be recomputed, minutes that bound, and being sure.

use crate::fixtures::{with_facts, with_told};
use crate::*;
use murlo_base::units::{CUP_ML, Units};
use murlo_brewer::bath::Agent;
use murlo_brewer::{BrewerDraft, Family};
use murlo_chemistry::heater::Way;

/// A figure that stands at the beginning of a text.
fn figure(text: &str) -> f64 {
    let end = text
        .find(|c: char| !(c.is_ascii_digit() || c == '.' || c == '-'))
        .unwrap_or(text.len());
    text[..end]
        .parse()
        .unwrap_or_else(|_| panic!("no figure in {text:?}"))
}

#[test]
fn five_figures_can_be_recomputed_from_what_their_working_shows() {
    with_facts(Family::PodReservoir, 250.0, 80, |facts| {
        let plan = facts
            .plan(&PlanOptions {
                agent_id: Some("vinegar".into()),
                ..PlanOptions::default()
            })
            .unwrap();
        let of = |name: &str| {
            plan.working
                .iter()
                .find(|w| w.figure == name)
                .unwrap_or_else(|| panic!("{name}"))
        };
        let input = |working: &str, name: &str| {
            let working = of(working);
            let found = working.inputs.iter().find(|i| i.name == name);
            figure(&found.unwrap_or_else(|| panic!("{name}")).value)
        };
        // 1. Potential, from calcium, alkalinity, pH, dissolved solids and the heater.
        let name = "scale potential of the water";
        let heater = &of(name)
            .inputs
            .iter()
            .find(|i| i.name == "heater")
            .unwrap()
            .value;
        let water = murlo_chemistry::carbonate::WaterSample {
            calcium: input(name, "calcium"),
            alkalinity: input(name, "alkalinity"),
            ph: input(name, "pH"),
            tds: input(name, "dissolved solids"),
            source_c: 20.0,
        };
        let kept = figure(heater.split(", ").nth(1).unwrap()) / 100.0;
        let heat = murlo_chemistry::carbonate::Heat {
            temp_c: figure(heater),
            co2_retained: kept,
        };
        let potential = murlo_chemistry::carbonate::potential(&water, &heat);
        assert!(
            (potential - figure(&of(name).result)).abs() < 0.2,
            "{potential}"
        );
        // 2. What grew since the last clean.
        let sticks = input("growth", "sticks, usually") / 100.0;
        let learned = figure(of("growth").inputs[1].value.trim_start_matches("× "));
        let passed = input("growth", "Σ litres × potential since the last clean");
        assert!((sticks * learned * passed / figure(&of("growth").result) - 1.0).abs() < 0.01);
        // 3. Days until the limit.
        let days = input("due date", "potential to go")
            / (input("due date", "use") * input("due date", "potential"));
        let due = facts.forecast.due.days;
        assert!(
            (days - f64::from(due)).abs() < 6.0 || due < 0,
            "{days} {due}"
        );
        // 4. Strength of the bath.
        let bath = "strength of the bath";
        assert!(
            (input(bath, "agent as bought") * plan.bath.agent.as_ref().unwrap().ml
                / plan.bath.total.ml
                - figure(&of(bath).result))
            .abs()
                < 0.01
        );
        // 5. What the bath takes off, from the depth of the last phase.
        let taken = of("what the bath takes off");
        let last = &taken
            .inputs
            .iter()
            .rfind(|i| i.name == "phase")
            .unwrap()
            .value;
        let depth = figure(last.split("depth ").nth(1).unwrap());
        let (d, left) = (depth, figure(last.split("left ").nth(1).unwrap()));
        let by_hand = (-4.0 * d).exp() * (1.0 + 3.0 * d + 4.0 * d * d + 8.0 * d.powi(3) / 3.0);
        assert!((by_hand - left).abs() < 0.002);
        let chalk = input("what the bath takes off", "chalk") / facts.circuit.limit_mg();
        assert!((100.0 * by_hand * chalk - figure(&taken.result)).abs() < 1.0);
    });
}

#[test]
fn the_minutes_there_are_bound_the_soak_and_what_that_leaves_is_said() {
    with_facts(Family::PodReservoir, 250.0, 60, |facts| {
        let plan = |minutes: Option<f64>| {
            let options = PlanOptions {
                agent_id: Some("vinegar".into()),
                minutes,
                ..PlanOptions::default()
            };
            facts.plan(&options).unwrap()
        };
        let whole = plan(None);
        let soak = whole.chosen.soak_minutes;
        assert!(soak >= 20.0, "{soak}");
        // Everything but the soak takes as long as ever; five minutes is the grain of the search.
        let besides = whole.ribbon.elapsed_min - soak;
        for spare in [soak + 5.0, 15.0, 10.0] {
            let bound = plan(Some(besides + spare));
            assert!(
                bound.ribbon.elapsed_min <= besides + spare + 1e-9,
                "{spare}"
            );
            assert!(bound.chosen.soak_minutes <= soak);
            let left = bound.after.unwrap().used;
            assert!(left >= whole.after.as_ref().unwrap().used - 1e-9);
            assert!(bound.reasons.iter().any(|r| r.contains("It likely leaves")));
        }
        let hurried = plan(Some(besides + 10.0));
        assert!(
            hurried.chosen.soak_minutes < soak,
            "less soak, not nothing at all"
        );
    });
}

#[test]
fn being_sure_never_leaves_more_and_may_take_longer() {
    for family in Family::ALL {
        with_facts(family, 250.0, 60, |facts| {
            let plan = |sure| {
                let options = PlanOptions {
                    agent_id: Some("vinegar".into()),
                    sure,
                    ..PlanOptions::default()
                };
                facts.plan(&options).unwrap()
            };
            let (usual, sure) = (plan(false), plan(true));
            let left = |plan: &Plan| plan.after.as_ref().unwrap().used_high;
            assert!(left(&sure) <= left(&usual) + 1e-9, "{family:?}");
            assert!(
                sure.ribbon.elapsed_min >= usual.ribbon.elapsed_min - 1e-9,
                "{family:?}"
            );
        });
    }
}

#[test]
fn without_chalk_a_short_soak_loosens_coffee_oil_all_the_same() {
    for family in Family::ALL {
        with_facts(family, 10.0, 30, |facts| {
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            if facts.way() != Way::Programme && facts.forecast.chalk.mg < 1.0 {
                assert_eq!(plan.chosen.soak_minutes, 10.0, "{family:?}");
                assert!(plan.soak.reason.starts_with("hardly any chalk"));
            }
        });
    }
}

#[test]
fn half_a_millilitre_more_than_fits_is_refused() {
    let tell = |draft: &mut BrewerDraft| draft.reservoir = "1400 mL".into();
    with_told(Family::PodReservoir, 180.0, 90, tell, |facts| {
        for (bath, fits) in [("1399.5 mL", true), ("1400 mL", true), ("1400.5 mL", false)] {
            let planned = facts.plan(&PlanOptions {
                bath: Some(bath.into()),
                ..PlanOptions::default()
            });
            let refused = planned.err().map(|problems| problems.0[0].field.clone());
            assert_eq!(refused.as_deref(), (!fits).then_some("bath"), "{bath}");
        }
    });
}

#[test]
fn a_pod_brewer_s_usual_bath_is_four_cups_or_a_little_less_than_a_litre() {
    for (units, ml) in [(Units::Us, 4.0 * CUP_ML), (Units::Metric, 950.0)] {
        with_facts(Family::PodReservoir, 180.0, 90, |facts| {
            let facts = Facts {
                units,
                ..facts.clone()
            };
            let plan = facts.plan(&PlanOptions::default()).unwrap();
            assert!(
                (plan.bath.total.ml - ml).abs() < 1.0,
                "{}",
                plan.bath.total.ml
            );
        });
    }
}

#[test]
fn a_strength_that_only_a_ph_tells_widens_what_may_be_left() {
    with_facts(Family::PodReservoir, 180.0, 90, |facts| {
        let after = |label_ph| {
            let mut agents = facts.agents.to_vec();
            agents[0].label_ph = label_ph;
            let agent = agents[0].clone().checked().unwrap();
            agents[0] = Agent {
                form: facts.agents[0].form,
                ..agent
            };
            let facts = Facts {
                agents: &agents,
                ..facts.clone()
            };
            let options = PlanOptions {
                agent_id: Some(agents[0].id.clone()),
                soak_minutes: Some(20.0),
                ..PlanOptions::default()
            };
            facts.plan(&options).unwrap().after.unwrap()
        };
        let (told, by_label) = (after(None), after(Some(2.4)));
        assert_eq!(by_label.mg, told.mg);
        assert!(by_label.low_mg < told.low_mg, "{by_label:?} {told:?}");
        assert!(
            by_label.high_mg > 1.05 * told.high_mg,
            "{by_label:?} {told:?}"
        );
    });
}

//! Plans that were spoiled by hand, and the harm each does.

use crate::rehearse::tests::{Drawn, drawn, of};
use crate::rehearse::*;
use crate::{Doing, Kind, Plan, PlanOptions, Step, Work};
use murlo_brewer::instruction::{Thing, Washed};
use murlo_brewer::{BrewerDraft, Family, Survives};
use proptest::prelude::*;
use proptest::strategy::ValueTree;
use std::collections::BTreeSet;

/// The plan of a drawn brewer after `spoil`, run.
fn spoiled(drawn: &Drawn, spoil: impl FnOnce(&mut Vec<Step>)) -> Option<Harm> {
    let mut plan = drawn.plan().unwrap();
    assert_eq!(drawn.outcome(&plan), Ok(()));
    spoil(&mut plan.steps);
    drawn.outcome(&plan).err().map(|fault| fault.harm)
}

pub(crate) fn at<'a>(steps: &'a mut [Step], id: &str) -> &'a mut Step {
    steps.iter_mut().find(|s| s.id == id).unwrap()
}

/// Takes every such instruction out of a step.
fn without(steps: &mut [Step], id: &str, is: impl Fn(&Instruction) -> bool) {
    let step = at(steps, id);
    for list in [&mut step.instructions, &mut step.each, &mut step.at_fill] {
        list.retain(|i| !is(i));
    }
}

fn in_mode(draft: &mut BrewerDraft) {
    draft.operation.enter = "lever up, then the round button".into();
    draft.mechanics.mode = Some(true);
}

#[test]
fn each_harm_fires_on_a_plan_that_was_spoiled_by_hand() {
    use Instruction as I;
    let pod = of(Family::PodReservoir, |_| {});
    // Too short a soak for anything to be wiped, and so unplugged, meanwhile.
    let brief = Drawn {
        options: PlanOptions {
            soak_minutes: Some(2.0),
            ..PlanOptions::default()
        },
        ..pod.clone()
    };
    let kept = of(Family::PodReservoir, |d| {
        in_mode(d);
        d.mechanics.survives = Some(Survives::Unplugged);
    });
    let moded = of(Family::PodReservoir, in_mode);
    let cup = of(Family::OneCupPod, |_| {});
    let pump = of(Family::PumpCapsule, |_| {});
    let coded = of(Family::CodedCapsule, |_| {});
    let drip = of(Family::Drip, |d| d.self_clean = false);
    let cleaning = of(Family::Drip, |d| d.self_clean = true);
    let duo = Drawn {
        side: 1,
        ..of(Family::Combination, |d| {
            d.other_side.as_mut().unwrap().mechanics.programme = Some(true);
        })
    };
    let hot = of(Family::PodReservoir, |d| d.hot_water = true);
    let rearmed = of(Family::PodReservoir, |d| {
        d.operation.rearm = "lid up, lid down".into();
    });
    let lit = of(Family::CodedCapsule, |d| {
        d.mechanics.needs_light = Some(true);
    });
    type Spoil<'a> = &'a dyn Fn(&mut Vec<Step>);
    let cases: Vec<(&Drawn, Harm, Spoil)> = vec![
        (&moded, Harm::ModeLost, &|s| {
            at(s, "soak").instructions.insert(0, I::SwitchOff)
        }),
        (&moded, Harm::ModeLost, &|s| {
            at(s, "wash").instructions.insert(0, I::Unplug)
        }),
        (&moded, Harm::ModeLost, &|s| {
            without(s, "first", |i| *i == I::EnterMode)
        }),
        (&pod, Harm::NotPluggedIn, &|s| {
            without(s, "rinse", |i| *i == I::PlugIn)
        }),
        (&pod, Harm::SwitchedOff, &|s| {
            without(s, "run", |i| *i == I::SwitchOn)
        }),
        (&pod, Harm::VesselOverflows, &|s| {
            without(s, "rinse", |i| *i == I::EmptyVessel)
        }),
        (&pod, Harm::DrinkBrewed, &|s| {
            without(s, "baseline", |i| matches!(i, I::TakeOut { .. }))
        }),
        (&pod, Harm::LidOpen, &|s| {
            without(s, "flush", |i| *i == I::CloseLid)
        }),
        (&pod, Harm::AcidThroughFilter, &|s| {
            without(s, "filter", |i| matches!(i, I::TakeOut { .. }));
        }),
        (&pod, Harm::AcidThroughFilter, &|s| {
            let filter = I::PutIn {
                thing: Thing::Filter,
                new: false,
            };
            at(s, "rinse").instructions.insert(0, filter);
        }),
        (&pod, Harm::FilterLeftOut, &|s| {
            without(s, "put_back", |i| matches!(i, I::PutIn { .. }));
        }),
        (&pod, Harm::PumpRunsDry, &|s| at(s, "rinse").per_fill = 40),
        (&pod, Harm::AcidThroughFilter, &|s| {
            at(s, "rinse").doing = Doing::Count { target: 3 };
        }),
        (&drip, Harm::NoteWrong, &|s| {
            at(s, "rinse").doing = Doing::Count { target: 0 }
        }),
        (&pod, Harm::HandsWhilePluggedIn, &|s| {
            without(s, "ready", |i| *i == I::Unplug)
        }),
        (&pod, Harm::HandsAtHotNeedles, &|s| {
            let flush = s.iter().position(|s| s.id == "flush").unwrap();
            let mut needles = s.iter().find(|s| s.id == "needles").unwrap().clone();
            needles.id = "capsule".into();
            needles.instructions.insert(0, I::Unplug);
            s.insert(flush + 1, needles);
        }),
        (&pod, Harm::BathOnBath, &|s| {
            at(s, "flush").at_fill.push(I::FillUp { ml: None });
            without(s, "mix", |i| *i == I::EmptyReservoir)
        }),
        (&pod, Harm::ReservoirOverflows, &|s| {
            for i in &mut at(s, "mix").instructions {
                if let I::PourBath { ml, .. } = i {
                    *ml = 9000.0;
                }
            }
        }),
        (&pod, Harm::NoteWrong, &|s| {
            without(s, "put_back", |i| *i == I::NoteOff)
        }),
        (&kept, Harm::LeftUnready, &|s| {
            without(s, "put_back", |i| *i == I::LeaveMode)
        }),
        (&pod, Harm::CleanerMeetsAcid, &|s| {
            without(s, "wash", |i| *i == I::EmptyReservoir);
        }),
        (&pod, Harm::NotFlushed, &|s| {
            at(s, "flush").doing = Doing::Count { target: 0 };
            without(s, "baseline", |i| matches!(i, I::Press { .. }));
        }),
        (&pod, Harm::VesselLeftFull, &|s| {
            without(s, "first", |i| *i == I::EmptyVessel)
        }),
        (&drip, Harm::BathUnused, &|s| {
            without(s, "run", |i| matches!(i, I::Brew { .. }))
        }),
        (&cup, Harm::BathUnused, &|s| {
            without(s, "first", |i| *i == I::PauseAtFirstDrops)
        }),
        (&pod, Harm::LidClosed, &|s| {
            without(s, "ready", |i| *i == I::OpenLid)
        }),
        (&brief, Harm::LeftSwitchedOn, &|s| {
            without(s, "soak", |i| *i == I::SwitchOff)
        }),
        (&pod, Harm::NotWashed, &|s| {
            without(s, "wash", |i| *i == I::Wash(Washed::Reservoir));
        }),
        (&hot, Harm::OutletLeftOut, &|s| {
            without(s, "hot_water", |i| matches!(i, I::PressHotWater { .. }));
        }),
        (&pod, Harm::NoSuchWay, &|s| {
            at(s, "first").instructions.push(I::EnterMode)
        }),
        (&hot, Harm::AcidThroughFilter, &|s| {
            for id in ["rinse", "verify"] {
                without(s, id, |i| matches!(i, I::PressHotWater { .. }));
            }
        }),
        (&rearmed, Harm::NotRearmed, &|s| {
            without(s, "run", |i| *i == I::Rearm)
        }),
        (&cup, Harm::LidOpen, &|s| {
            at(s, "run").instructions.insert(0, I::SwitchOn)
        }),
        (&cup, Harm::PumpRunsDry, &|s| {
            without(s, "rinse", |i| matches!(i, I::FillUp { .. }))
        }),
        (&pump, Harm::NothingPasses, &|s| {
            for id in ["flush", "first"] {
                without(s, id, |i| matches!(i, I::PutIn { .. }));
            }
        }),
        (&pump, Harm::LeftInside, &|s| {
            without(s, "put_back", |i| matches!(i, I::TakeOut { .. }));
        }),
        (&coded, Harm::PartMissing, &|s| {
            without(s, "disc", |i| {
                matches!(i, I::PutIn { .. } | I::TakeOut { .. })
            });
        }),
        (&coded, Harm::VesselOverflows, &|s| {
            for i in &mut at(s, "programme").instructions {
                if let I::PlaceVessel { holds_ml } = i {
                    *holds_ml /= 2.0;
                }
            }
        }),
        (&lit, Harm::WillNotStart, &|s| {
            let again = at(s, "programme").clone();
            let mut mix = at(s, "mix").clone();
            mix.id = "mix-2".into();
            mix.instructions.insert(0, I::EmptyVessel);
            let next = s.iter().position(|s| s.id == "programme").unwrap() + 1;
            s.insert(
                next,
                Step {
                    id: "programme-2".into(),
                    ..again
                },
            );
            s.insert(next, mix);
        }),
        (&duo, Harm::PartMissing, &|s| {
            without(s, "programme", |i| matches!(i, I::PutIn { .. }));
        }),
        (&cleaning, Harm::ColdIntoHotGlass, &|s| {
            without(s, "wash", |i| matches!(i, I::Cool { .. }));
        }),
        (&drip, Harm::DrinkBrewed, &|s| {
            without(s, "baseline", |i| matches!(i, I::TakeOut { .. }))
        }),
        (&drip, Harm::LeftInside, &|s| {
            without(s, "wash", |i| matches!(i, I::TakeOut { .. }));
        }),
    ];
    let mut seen = BTreeSet::new();
    for (n, (drawn, harm, spoil)) in cases.into_iter().enumerate() {
        assert_eq!(spoiled(drawn, spoil), Some(harm), "case {n}");
        seen.insert(harm);
    }
    // Without its filter, acid is found when the work is over.
    let bare = of(Family::PodReservoir, |d| d.filter = false);
    let left = spoiled(&bare, |s| {
        at(s, "rinse").doing = Doing::Count { target: 3 };
        without(s, "put_back", |i| *i == I::NoteOff);
    });
    assert_eq!(left, Some(Harm::AcidLeft));
    seen.insert(Harm::AcidLeft);
    let unseen: Vec<_> = Harm::ALL.iter().filter(|h| !seen.contains(h)).collect();
    assert!(unseen.is_empty(), "{unseen:?}");
}

/// Steps that only look and measure: what is left out of them is not seen, but harms nobody.
const LOOKING: [Kind; 5] = [
    Kind::Before,
    Kind::Baseline,
    Kind::Verify,
    Kind::After,
    Kind::Flush,
];

/// The lists of instructions of a plan, those of steps that only look left out.
fn lists(plan: &mut Plan) -> Vec<&mut Vec<Instruction>> {
    plan.steps
        .iter_mut()
        .filter(|s| s.kind().is_some_and(|kind| !LOOKING.contains(&kind)))
        .flat_map(|s| {
            [
                &mut s.instructions,
                &mut s.each,
                &mut s.at_fill,
                &mut s.at_refill,
            ]
        })
        .collect()
}

/// The last cup is thrown away by whoever wants a fresh one.
fn is_last_cup(instruction: &Instruction) -> bool {
    matches!(
        instruction,
        Instruction::Press { .. } | Instruction::Brew { .. } | Instruction::FillUp { .. }
    )
}

/// How the brewer stands, apart from the time.
fn standing(machine: &Machine) -> String {
    let mut still = machine.clone();
    still.now = 0.0;
    still.needles_hot_until -= machine.now;
    still.glass_hot_until -= machine.now;
    still.armed |= !machine.mechanism.rearms;
    format!("{still:?}")
}

/// Whether doing `acts` in each of two ways comes to the same, or whether one of them does nothing.
fn same(machine: &Machine, one: &[&Instruction], other: &[&Instruction]) -> bool {
    let after = |acts: &[&Instruction]| {
        let mut machine = machine.clone();
        let done = acts.iter().try_for_each(|act| machine.follow(act));
        done.map(|()| standing(&machine)).ok()
    };
    let (one, other) = (after(one), after(other));
    one.is_some() && one == other
}

/// A plan with one instruction left out, or two neighbours the wrong way round, when that makes a difference.
fn damaged(drawn: &Drawn, plan: &Plan, at: usize, swap: bool) -> Option<Plan> {
    let mechanism = drawn.mechanism(plan);
    let mut wrong = plan.clone();
    let (list, i) = {
        let mut places = Vec::new();
        let all = lists(&mut wrong);
        let goes_back = all.len() - 4;
        for (l, list) in all.iter().enumerate() {
            let counts =
                |i: &usize| list[*i].is_for_safety() && !(l >= goes_back && is_last_cup(&list[*i]));
            places.extend((0..list.len()).filter(counts).map(|i| (l, i)));
        }
        places[at % places.len()]
    };
    // The same place in the plan that is watched, by its address.
    let mut watched = plan.clone();
    let (here, next) = {
        let all = lists(&mut watched);
        let list: &Vec<Instruction> = all[list];
        (std::ptr::from_ref(&list[i]), list.get(i + 1).cloned())
    };
    let next = match (swap, next) {
        (true, Some(next)) if next.is_for_safety() => Some(next),
        (true, _) => return None,
        (false, _) => None,
    };
    let mut differs = false;
    let mut watch = |instruction: &Instruction, machine: &Machine| {
        if std::ptr::eq(instruction, here) {
            // What changes nothing where it stands can be left out, and done in any order.
            let does = !same(machine, &[instruction], &[]);
            let swapped = |next| !same(machine, &[instruction, next], &[next, instruction]);
            differs |= does && next.as_ref().is_none_or(swapped);
        }
    };
    let machine = match drawn.today.beside {
        true => Machine::beside(&mechanism),
        false => Machine::in_use(&mechanism),
    };
    let mut walk = Walk {
        machine,
        watch: &mut watch,
    };
    walk.steps(&watched.steps).ok()?;
    if !differs {
        return None;
    }
    let mut all = lists(&mut wrong);
    match swap {
        true => all[list].swap(i, i + 1),
        false => drop(all[list].remove(i)),
    }
    Some(wrong)
}

#[test]
fn of_plans_with_an_instruction_left_out_or_exchanged_nine_in_ten_are_caught() {
    let mut runner = proptest::test_runner::TestRunner::deterministic();
    let strategy = (drawn(), any::<usize>(), any::<bool>());
    let (mut tried, mut caught) = (0, 0);
    let mut missed = std::collections::BTreeMap::new();
    while tried < 600 {
        let (drawn, at, swap) = strategy.new_tree(&mut runner).unwrap().current();
        // A small work that is left half done harms nobody.
        let plan = drawn.plan().filter(|plan| plan.work != Work::Upkeep);
        let Some(plan) = plan else { continue };
        let Some(wrong) = damaged(&drawn, &plan, at, swap) else {
            continue;
        };
        tried += 1;
        match drawn.outcome(&wrong) {
            Err(_) => caught += 1,
            Ok(()) => *missed.entry(which(&plan, &wrong)).or_insert(0) += 1,
        }
    }
    let share = 100.0 * f64::from(caught) / f64::from(tried);
    println!("{caught} of {tried} damaged plans were caught, {share:.0} %; missed: {missed:?}");
    assert!(share >= 90.0);
}

/// Where two plans differ.
pub(crate) fn which(one: &Plan, other: &Plan) -> String {
    let mut steps = one.steps.iter().zip(&other.steps);
    let (a, b) = steps.find(|(a, b)| a != b).unwrap();
    let all = |s: &Step| -> Vec<Instruction> {
        [&s.instructions, &s.each, &s.at_fill, &s.at_refill]
            .into_iter()
            .flatten()
            .cloned()
            .collect()
    };
    let (a_all, b_all) = (all(a), all(b));
    let n = a_all.iter().zip(&b_all).position(|(x, y)| x != y);
    let first = n.map_or_else(|| a_all.last(), |n| a_all.get(n));
    let how = match a_all.len() == b_all.len() {
        true => "swap",
        false => "drop",
    };
    let name = format!("{:?}", first.unwrap());
    let name = name.split([' ', '(', '{']).next().unwrap_or_default();
    format!("{how} {} {name}", a.id)
}

/// The carafe is the vessel, however large a one a step asks for.
#[test]
fn a_carafe_that_is_too_small_runs_over() {
    let plan = of(Family::Drip, |_| {}).plan().unwrap();
    let mechanism = plan.mechanism.clone().unwrap();
    let carafe = mechanism.carafe_ml.unwrap();
    let most = mechanism.reservoir_ml;
    for (carafe_ml, expected) in [
        (Some(carafe), None),
        (Some(most), None),
        (Some(most * 0.85), Some(Harm::VesselOverflows)),
        (None, None),
    ] {
        let mechanism = Mechanism {
            carafe_ml,
            ..mechanism.clone()
        };
        let harm = run(&mechanism, &plan).err().map(|fault| fault.harm);
        assert_eq!(harm, expected, "{carafe_ml:?} of {most}");
    }
}

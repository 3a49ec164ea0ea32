//! When something goes wrong in a clean: what still counts, what starts again, what is in the machine now.

use crate::State;
use murlo_brewer::Outlet;
use murlo_plan::{Doing, Inside, Kind, Place, Plan, Step};
use serde::{Deserialize, Serialize};

/// A mishap with its answer for where the clean stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Mishap {
    /// Name in data.
    pub id: String,
    /// What happened.
    pub what: String,
    /// What still counts.
    pub counts: String,
    /// What starts again, and how.
    pub again: String,
    /// What is in the machine now.
    pub inside: String,
    /// The count that would hold now, where it can be set right at once.
    pub recount: Option<Recount>,
}

/// A count to be set right.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Recount {
    /// The step that is counted.
    pub step: String,
    /// How many still count, to begin with.
    pub count: u32,
}

/// How far a clean is, as far as mishaps care.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum CleanPhase {
    /// No acid yet.
    Before,
    /// Acid in the machine.
    Bath,
    /// Rinsing, or done with it.
    After,
}

fn phase(plan: &Plan, state: &State) -> CleanPhase {
    let at = state.current.unwrap_or(plan.steps.len());
    // The last of these that has begun tells: a further bath may follow a rinse.
    let begun = plan.steps.iter().enumerate().rev().filter_map(|(i, step)| {
        let mixed = (step.is(Kind::Mix) && i < at).then_some(CleanPhase::Bath);
        mixed.or((step.is(Kind::Rinse) && i <= at).then_some(CleanPhase::After))
    });
    let phase = begun.into_iter().next().unwrap_or(CleanPhase::Before);
    match state.inside {
        Inside::Traces => CleanPhase::After,
        Inside::Bath => phase.max(CleanPhase::Bath),
        Inside::Water => phase,
    }
}

/// Mishaps that can have happened by now, each with its answer.
#[must_use]
pub fn mishaps(plan: &Plan, state: &State) -> Vec<Mishap> {
    let phase = phase(plan, state);
    let has = |kind| plan.steps.iter().any(|s| s.is(kind));
    let has_mode = plan.steps.iter().any(Step::enters_mode);
    let outlet = plan.mechanism.as_ref().map(|m| m.outlet);
    let fits = |answer: &&MishapRemedy| match answer.when {
        MishapWhen::Always => true,
        MishapWhen::Through(through) => outlet == through,
        MishapWhen::InMode => has_mode && phase != CleanPhase::Before,
        MishapWhen::Powered { in_mode } => in_mode == has_mode,
        MishapWhen::Soaked => has(Kind::Soak) && phase != CleanPhase::Before,
        MishapWhen::WithFilter => has(Kind::Filter),
        MishapWhen::WithCarafe => plan
            .steps
            .iter()
            .any(|s| s.is(Kind::Half) || s.places.contains(&Place::Carafe)),
        MishapWhen::FromBath => phase != CleanPhase::Before,
        MishapWhen::Washed => has(Kind::Wash) && phase == CleanPhase::After,
    };
    let counting = state
        .current
        .filter(|i| matches!(plan.steps[*i].doing, Doing::Count { .. }))
        .map(|i| &state.steps[i]);
    let recount = |id: &str| {
        let step = counting?;
        let is_rinse = Kind::of(&step.id).is_some_and(|(kind, _)| kind == Kind::Rinse);
        let count = match id {
            "count-lost" => step.count,
            // What ran through grounds, a filter or a dirty reservoir rinsed nothing.
            "pod-left-in" | "filter-left-in" | "reservoir-not-washed" if is_rinse => 0,
            _ => return None,
        };
        Some(Recount {
            step: step.id.clone(),
            count,
        })
    };
    ANSWERS
        .iter()
        .filter(fits)
        .map(|answer| Mishap {
            id: answer.id.to_owned(),
            what: answer.what.to_owned(),
            counts: answer.counts[phase as usize].to_owned(),
            again: answer.again[phase as usize].to_owned(),
            inside: state.inside_text.clone(),
            recount: recount(answer.id),
        })
        .collect()
}

/// Where a mishap can have happened.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum MishapWhen {
    Always,
    /// What the water runs through; nothing in plans that do not say.
    Through(Option<Outlet>),
    WithFilter,
    WithCarafe,
    InMode,
    Powered {
        in_mode: bool,
    },
    Soaked,
    FromBath,
    Washed,
}

/// What is answered, before, in and after the bath.
struct MishapRemedy {
    id: &'static str,
    what: &'static str,
    when: MishapWhen,
    counts: [&'static str; 3],
    again: [&'static str; 3],
}

const EVERYTHING: &str = "Everything done so far.";
const CARRY_ON: &str = "Nothing: carry on where you are.";

/// What the water should not run through, by what it runs through otherwise.
const fn left_in(through: Option<Outlet>, what: &'static str) -> MishapRemedy {
    let stays = match through {
        Some(Outlet::Pod | Outlet::Capsule) => {
            "The bath that stays in the machine still works; only what ran through the coffee is spent."
        }
        Some(Outlet::Grounds) | None => {
            "The bath that stays in the machine still works; only what ran through the grounds is spent."
        }
    };
    MishapRemedy {
        id: "pod-left-in",
        what,
        when: MishapWhen::Through(through),
        counts: [
            EVERYTHING,
            stays,
            "The bath. Rinses that ran through coffee do not count.",
        ],
        again: [
            match through {
                Some(Outlet::Grounds) => "Take it out and wash the basket.",
                Some(Outlet::Pod | Outlet::Capsule) | None => {
                    "Take it out and run one cup of plain water."
                }
            },
            "Unplug, let it cool, take it out, wash the holder, and carry on with the bath.",
            "Take it out, wash the holder, and set the count to the rinses that ran without it.",
        ],
    }
}

/// The power went, with or without a mode that lives on it.
const fn power_cut(in_mode: bool) -> MishapRemedy {
    MishapRemedy {
        id: "power-cut",
        what: "The power went",
        when: MishapWhen::Powered { in_mode },
        counts: ["Every act that was acknowledged here; timers went on by the clock."; 3],
        again: match in_mode {
            true => [
                CARRY_ON,
                "When it is back: the bath cooled, which only slows it. Soak on, then bring it into its cleaning mode again and carry on.",
                "Carry on counting: bring it into its cleaning mode again, or use normal cups of plain water.",
            ],
            false => [
                CARRY_ON,
                "When it is back: the bath cooled, which only slows it. Soak on, then carry on.",
                "Carry on counting once it is back.",
            ],
        },
    }
}

const ANSWERS: [MishapRemedy; 13] = [
    left_in(None, "A pod or used grounds were left in"),
    left_in(Some(Outlet::Pod), "A pod was left in"),
    left_in(Some(Outlet::Capsule), "A capsule of coffee was left in"),
    left_in(Some(Outlet::Grounds), "Used grounds were left in"),
    MishapRemedy {
        id: "filter-left-in",
        what: "The water filter was left in",
        when: MishapWhen::WithFilter,
        counts: [
            EVERYTHING,
            "The bath worked, though a charcoal filter holds acid back and gives it off later.",
            "The bath worked, though a charcoal filter holds acid back and gives it off later.",
        ],
        again: [
            "Take it out now.",
            "Take it out now and throw it away; the rest of the bath goes on.",
            "Throw the filter away, wash the reservoir, and start the rinse count again.",
        ],
    },
    MishapRemedy {
        id: "soak-forgotten",
        what: "The soak was forgotten or cut short",
        when: MishapWhen::Soaked,
        counts: ["The dispenses that have run; they loosened some chalk."; 3],
        again: [
            "Soak now with what is in the machine.",
            "If bath is left in the reservoir, soak now with what is in the machine. If not, ask for one more bath at the look after this one: it gets its soak.",
            "Finish the rinse. If the questions at the end say that chalk is left, the next bath gets its soak.",
        ],
    },
    MishapRemedy {
        id: "mode-left-early",
        what: "The cleaning mode ended or was left early",
        when: MishapWhen::InMode,
        counts: ["What has run through. The machine's own counter may still ask for descaling."; 3],
        again: [
            CARRY_ON,
            "Enter the mode again as the manual says and run the rest of the bath; the count here goes on.",
            "Rinse with normal cups of plain water instead; the count here goes on. The light is asked about at the end.",
        ],
    },
    MishapRemedy {
        id: "reservoir-not-washed",
        what: "The reservoir was not washed before rinsing",
        when: MishapWhen::Washed,
        counts: ["The bath. Rinses so far thinned only what came from the reservoir."; 3],
        again: ["Empty and wash the reservoir and its lid with soap, and count from nought."; 3],
    },
    MishapRemedy {
        id: "carafe-pulled",
        what: "The carafe was pulled while it ran",
        when: MishapWhen::WithCarafe,
        counts: ["What is in the carafe and the machine."; 3],
        again: ["Switch off, unplug, wipe up with the bath kept off skin, stone and metal. Pour nothing hot back; top up with fresh mix if much was lost, then carry on.";
            3],
    },
    MishapRemedy {
        id: "count-lost",
        what: "The count is lost",
        when: MishapWhen::FromBath,
        counts: ["What you are sure of: set the count to that."; 3],
        again: [
            CARRY_ON,
            "Run on until the machine asks for water: that ends the bath whatever the count says.",
            "When in doubt take the lower number: one rinse too many costs a minute, one too few a cup.",
        ],
    },
    power_cut(true),
    power_cut(false),
    MishapRemedy {
        id: "called-away",
        what: "You were called away",
        when: MishapWhen::Always,
        counts: [EVERYTHING; 3],
        again: [
            CARRY_ON,
            "Press Stop here and leave the note on it. Before a night away, drain the bath and mix afresh afterwards.",
            "Press Stop here and leave the note on it. If it stood for a day, run one portion more.",
        ],
    },
];

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Act, Event, admit, replay};
    use jiff::civil::date;
    use murlo_brewer::Family;
    use murlo_plan::fixtures::plan;
    use murlo_plan::{Moment, PlanOptions, RINSE, Wish};
    use std::collections::BTreeSet;

    /// Every answer along a whole clean, act by act.
    fn along(family: Family) -> Vec<(CleanPhase, Vec<Mishap>)> {
        along_plan(&plan(family, &PlanOptions::default()).unwrap())
    }

    fn along_plan(plan: &Plan) -> Vec<(CleanPhase, Vec<Mishap>)> {
        use murlo_plan::answers::{AnswerId, QuestionId};
        let mut events: Vec<Event> = Vec::new();
        let mut all = Vec::new();
        loop {
            let state = replay(plan, &events).unwrap();
            all.push((phase(plan, &state), mishaps(plan, &state)));
            let looks = state.step.as_ref().filter(|s| s.is(Kind::Look));
            let act = match (state.next, looks) {
                (Some(next), _) => next.act,
                (None, Some(look)) => Act::Answered {
                    step: look.id.clone(),
                    answers: [(QuestionId::Showed, AnswerId::Nothing)].into(),
                },
                (None, None) => return all,
            };
            let event = Event {
                id: format!("e{}", events.len()),
                at: "2026-11-23T10:00:00Z".parse().unwrap(),
                device_at: None,
                by: None,
                act,
            };
            let day = date(2026, 11, 23);
            let planned = |_: &Moment, _: &Wish| unreachable!();
            events.push(admit(plan, &events, event, day, &planned).unwrap().0);
        }
    }

    #[test]
    fn a_clean_goes_from_no_acid_to_acid_to_rinse_and_every_answer_is_whole() {
        for family in Family::ALL {
            let all = along(family);
            let phases: Vec<_> = all.iter().map(|(phase, _)| *phase).collect();
            let mut once = phases.clone();
            once.dedup();
            assert_eq!(
                once,
                [CleanPhase::Before, CleanPhase::Bath, CleanPhase::After],
                "{family:?}"
            );
            for (_, mishaps) in all {
                assert!(mishaps.len() >= 3);
                for m in mishaps {
                    assert!(
                        ![&m.counts, &m.again, &m.inside]
                            .iter()
                            .any(|t| t.is_empty()),
                        "{}",
                        m.id
                    );
                }
            }
        }
    }

    #[test]
    fn a_count_can_be_set_right_where_something_is_counted() {
        for (phase, mishaps) in along(Family::PodReservoir) {
            let of = |id: &str| {
                mishaps
                    .iter()
                    .find(|m| m.id == id)
                    .and_then(|m| m.recount.clone())
            };
            let lost = of("count-lost");
            if let Some(dirty) = of("reservoir-not-washed") {
                assert_eq!(
                    (phase, dirty.step.as_str(), dirty.count),
                    (CleanPhase::After, RINSE, 0)
                );
                assert_eq!(lost.unwrap().step, RINSE);
            }
            assert_eq!(of("power-cut"), None);
        }
        let rinsing = along(Family::Drip);
        assert!(rinsing.iter().any(|(_, m)| {
            m.iter()
                .any(|m| m.recount.as_ref().is_some_and(|r| r.count > 0))
        }));
    }

    #[test]
    fn what_ran_through_grounds_filter_or_dirt_counts_from_nought() {
        let filtered = murlo_plan::fixtures::plan_of(Family::PodReservoir, |d| d.filter = true);
        let rinsing = along_plan(&filtered);
        let nought = ["filter-left-in", "pod-left-in", "reservoir-not-washed"];
        let mut seen = BTreeSet::new();
        for (_, mishaps) in rinsing {
            for m in mishaps {
                let Some(recount) = m.recount.filter(|r| r.step == RINSE) else {
                    continue;
                };
                if nought.contains(&m.id.as_str()) {
                    assert_eq!(recount.count, 0, "{}", m.id);
                    seen.insert(m.id);
                }
            }
        }
        assert!(seen.iter().eq(nought), "{seen:?}");
    }

    #[test]
    fn a_mishap_is_only_offered_where_it_can_have_happened() {
        let pod = along(Family::PodReservoir);
        let drip = along(Family::Drip);
        let has = |mishaps: &[Mishap], id: &str| mishaps.iter().any(|m| m.id == id);
        for (phase, mishaps) in &pod {
            assert!(!has(mishaps, "carafe-pulled"));
            assert_eq!(has(mishaps, "soak-forgotten"), *phase != CleanPhase::Before);
            assert_eq!(
                has(mishaps, "reservoir-not-washed"),
                *phase == CleanPhase::After
            );
        }
        assert!(
            drip.iter()
                .all(|(_, mishaps)| has(mishaps, "carafe-pulled"))
        );
        // One way each of having something left in, and of losing power; a mode is left early only where there is one.
        for (family, left) in [
            (Family::PodReservoir, "A pod was left in"),
            (Family::OneCupPod, "A pod was left in"),
            (Family::CodedCapsule, "A capsule of coffee was left in"),
            (Family::PumpCapsule, "A capsule of coffee was left in"),
            (Family::Drip, "Used grounds were left in"),
        ] {
            let plan = plan(family, &PlanOptions::default()).unwrap();
            let in_mode = plan.steps.iter().any(Step::enters_mode);
            for (phase, mishaps) in along_plan(&plan) {
                let all = |id: &str| {
                    let those = mishaps.iter().filter(|m| m.id == id);
                    those.map(|m| m.what.as_str()).collect::<Vec<_>>()
                };
                assert_eq!(all("pod-left-in"), [left], "{family:?}");
                assert_eq!(all("power-cut").len(), 1, "{family:?}");
                let may_be_lost = in_mode && phase != CleanPhase::Before;
                assert_eq!(has(&mishaps, "mode-left-early"), may_be_lost, "{family:?}");
                let speaks = mishaps.iter().any(|m| m.again.contains("mode"));
                assert_eq!(speaks, may_be_lost, "{family:?}");
            }
        }
    }
}

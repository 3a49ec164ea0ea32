//! Two sides of one machine that are cleaned at the same time: they share the plug.

use crate::{Ask, State};
use murlo_brewer::instruction::Instruction;
use murlo_plan::{Hazard, Inside, Plan};

/// Whether a side needs the plug now: in its cleaning mode, or while something runs.
fn needs_the_plug(plan: &Plan, state: &State) -> bool {
    if state.closed.is_some() || state.paused || !state.plugged {
        return false;
    }
    let Some(i) = state.current else { return false };
    let step = &state.steps[i];
    let is_begun = step.count > 0 || step.timer.is_some();
    let is_switched_off = plan.steps[i].instructions.contains(&Instruction::SwitchOff);
    state.in_mode || (is_begun && plan.steps[i].plugged && !is_switched_off)
}

/// What the step at hand must leave alone, because the other side is running on it.
#[must_use]
pub fn leave_alone(here: (&Plan, &State), other: (&Plan, &State)) -> Option<String> {
    let step = here.1.current.map(|i| &here.0.steps[i])?;
    let pulls = step.instructions.contains(&Instruction::Unplug);
    if !pulls || !needs_the_plug(other.0, other.1) {
        return None;
    }
    let side = other.0.side.as_deref().unwrap_or("other side");
    let title = other.1.current.map(|i| other.0.steps[i].title.as_str())?;
    let acid = match other.1.inside {
        Inside::Bath => ", with acid in it",
        Inside::Water | Inside::Traces => "",
    };
    Some(format!(
        "The {side} is running on the same plug (\"{title}\"{acid}): leave the plug in, and what needs it pulled, until that is over."
    ))
}

/// The step at hand waits: it does not tell to pull what the other side runs on, and its acts are asked about first.
pub fn hold(state: &mut State, told: &str) {
    if let Some(step) = &mut state.step {
        step.what = vec![
            "Not yet: wait until the other side is through, or stop it there first.".to_owned(),
        ];
        step.cautions.retain(|c| c.hazard != Hazard::Unplug);
    }
    for choice in [&mut state.next, &mut state.finish].into_iter().flatten() {
        choice.ask = Some(Ask {
            text: told.to_owned(),
            sure: "It is through: go on".to_owned(),
            until: None,
        });
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Act;
    use crate::fixtures::Run;
    use murlo_brewer::Family;
    use murlo_plan::Kind;

    #[test]
    fn the_plug_is_left_in_while_the_other_side_runs_on_it() {
        let mut carafe = Run::new(Family::Combination);
        let mut pod = Run::new(Family::Combination);
        let told = |here: &Run, other: &Run| {
            leave_alone(
                (&here.plan_now(), &here.state()),
                (&other.plan_now(), &other.state()),
            )
        };
        pod.until(Kind::Ready.id());
        carafe.until(Kind::Programme.id());
        assert_eq!(told(&pod, &carafe), None, "nothing runs yet");
        let start = carafe.state().next.unwrap().act;
        carafe.act(start).unwrap();
        let text = told(&pod, &carafe).unwrap();
        assert!(
            text.starts_with("The carafe side is running on the same plug (\"Run the cleaning programme\", with acid in it)"),
            "{text}"
        );
        let mut state = pod.state();
        assert!(
            state
                .step
                .as_ref()
                .unwrap()
                .what
                .join(" ")
                .contains("pull the plug")
        );
        hold(&mut state, &text);
        let step = state.step.unwrap();
        assert!(
            !step.what.join(" ").contains("pull the plug"),
            "{:?}",
            step.what
        );
        assert!(step.cautions.iter().all(|c| c.hazard != Hazard::Unplug));
        assert_eq!(state.next.unwrap().ask.unwrap().text, text);
        // What does not touch the plug goes on.
        pod.until(Kind::Body.id());
        assert_eq!(told(&pod, &carafe), None);
        // It is over, or stopped: then the plug is free.
        pod = Run::new(Family::Combination);
        pod.until(Kind::Ready.id());
        let mut stopped = Run::new(Family::Combination);
        stopped.until(Kind::Programme.id());
        let start = stopped.state().next.unwrap().act;
        stopped.act(start).unwrap();
        stopped.act(Act::Paused).unwrap();
        assert_eq!(told(&pod, &stopped), None);
        carafe.until(Kind::Wash.id());
        assert_eq!(told(&pod, &carafe), None);
    }
}

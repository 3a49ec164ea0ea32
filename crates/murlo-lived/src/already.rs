//! Cleans that were begun before anybody asked.

use crate::world::{Mood, Owned, World};
use murlo_plan::machine::Machine;
use murlo_plan::{Kind, Plan};
use serde_json::{Value, json};

impl World {
    /// Somebody has poured vinegar in and perhaps pressed once before Murlo is asked; what is said of it is so.
    pub(crate) fn begin_already(&mut self, owned: &Owned, id: &str) -> (u16, Value) {
        let path = format!("/api/brewers/{}/cleans", owned.id);
        let (ran, stands) = (self.chance.one_in(2.0), self.chance.one_in(2.0));
        let minutes = self.chance.between(5.0, 60.0);
        let begun = json!({
            "agent_id": "vinegar", "recipe": {"kind": "ratio", "agent": 1.0, "water": 1.0},
            "dispenses": u32::from(ran), "minutes_ago": minutes,
            "stood": {"kind": if ran && stands { "now" } else { "no" }},
        });
        let body = json!({"id": id, "options": {}, "begun": begun});
        self.line.ask("POST", &path, &body)
    }

    /// The true brewer as it stands then: made ready as anybody does, and what is said to have happened.
    pub(crate) fn catch_up(&mut self, view: &Value, machine: &mut Machine, mood: &mut Mood) {
        let begun: Plan = serde_json::from_value(view["plan"].clone()).expect("a plan");
        let states = view["state"]["steps"]
            .as_array()
            .cloned()
            .unwrap_or_default();
        for (step, state) in begun.steps.iter().zip(states) {
            if state["standing"] != "done" && state["timer"].is_null() {
                continue;
            }
            for act in &step.instructions {
                let _ = machine.follow(act);
            }
            mood.followed.insert(step.id.clone());
            mood.poured += usize::from(step.is(Kind::Mix));
        }
        self.lived.begun_already += 1;
    }
}

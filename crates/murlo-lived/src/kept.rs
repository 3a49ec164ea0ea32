//! People who keep a clean as their own way, and what the next plan must then be.

use crate::world::{Owned, World};
use murlo_plan::Plan;
use serde_json::json;

impl World {
    /// A clean that ended well is kept as a way; one that did not is refused.
    pub(crate) fn keep(&mut self, owned: &mut Owned, clean: &str) {
        let view = self.line.get(&format!("/api/cleans/{clean}"));
        let state = &view["state"];
        let is_good = state["closed"] == "finished" && state["acid_left"].is_null();
        let from = json!({"kind": "clean", "clean_id": clean});
        let id = format!("way-of-{clean}");
        let body = json!({"id": id, "name": "Our way", "from": from});
        let path = format!("/api/brewers/{}/ways", owned.id);
        let (status, answer) = self.line.ask("POST", &path, &body);
        match (status, is_good) {
            (200, true) => {
                self.lived.kept += 1;
                let side = view["plan"]["circuit_id"].as_str().unwrap_or_default();
                owned.ways.push((side.to_owned(), id));
            }
            (409, false) => {}
            _ => self.fault(owned, format!("kept as a way: {status} {answer}")),
        }
    }

    /// The plan of a side with a way is that way, or says why it is not.
    pub(crate) fn hold_to_way(&mut self, owned: &Owned, plan: &Plan) {
        let mut kept = owned.ways.iter();
        let has_way = kept.any(|(side, _)| *side == plan.circuit_id);
        match (&plan.way, has_way) {
            (Some(way), true) if way.refused.is_none() => self.lived.in_their_way += 1,
            (Some(way), true) => {
                self.fault(owned, format!("its own way is refused: {:?}", way.refused));
            }
            (None, false) => {}
            (way, _) => self.fault(
                owned,
                format!("planned by {way:?}, though has_way is {has_way}"),
            ),
        }
    }
}

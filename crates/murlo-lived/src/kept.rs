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

    /// Now and then a clean is spread over two days.
    pub(crate) fn spread(&mut self, owned: &Owned, id: &str) {
        let path = format!("/api/brewers/{}/over-days", owned.id);
        let look = json!({"id": id, "days": [], "parts": 2});
        let (status, view) = self.line.ask("POST", &format!("{path}/look"), &look);
        let parts = view["parts"].as_array().cloned().unwrap_or_default();
        let days: Vec<_> = parts.iter().map(|part| part["day"].clone()).collect();
        if status != 200 || days.len() != 2 {
            return self.fault(owned, format!("not spread: {status} {view}"));
        }
        let (status, answer) = self
            .line
            .ask("POST", &path, &json!({"id": id, "days": days}));
        match status {
            204 => self.lived.spread += 1,
            409 => {}
            _ => self.fault(owned, format!("not spread: {status} {answer}")),
        }
    }

    /// The sides of a brewer that have a part to come, as its page says.
    pub(crate) fn parts_to_come(&self, owned: &Owned) -> Vec<String> {
        let page = self.line.get(&format!("/api/brewers/{}", owned.id));
        let sides = page["card"]["circuits"].as_array().cloned();
        let sides = sides.unwrap_or_default().into_iter();
        let to_come = sides.filter(|side| !side["part"].is_null());
        let ids = to_come.filter_map(|side| side["circuit_id"].as_str().map(str::to_owned));
        ids.collect()
    }

    /// The plan of a side with a way is that way, or says why it is not; of one with a part to come it is that part.
    pub(crate) fn hold_to_way(&mut self, owned: &Owned, plan: &Plan, parts: &[String]) {
        match (&plan.part, parts.contains(&plan.circuit_id)) {
            (Some(_), true) => {
                self.lived.parts += 1;
                return;
            }
            (None, false) => {}
            (found, is_to_come) => {
                let what = format!("planned as {found:?}, though a part is to come: {is_to_come}");
                return self.fault(owned, what);
            }
        }
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

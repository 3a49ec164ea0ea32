//! A cleaner's weeks: homes with a rhythm, drafts confirmed on their day and run to the end, clients who come home early, a brewer
//! that is broken, a line that is lost. What the product says of the round is held to what was done.

use crate::chance::Chance;
use crate::homes::{STOCK, furnish};
use crate::line::HouseLine;
use crate::pouring::poured_so;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::days::days_after;
use murlo_clean::Act;
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::{Doing, Kind, Plan, Wish};
use serde_json::{Value, json};
use std::collections::{BTreeMap, BTreeSet};

/// What was lived on rounds, and what did not hold.
#[derive(Debug, Default)]
pub struct LivedRound {
    /// Visits that were closed.
    pub visits: u32,
    /// Cleans and small works that were done in them.
    pub works: u32,
    /// Acts that were sent.
    pub acts: u32,
    /// Clients who came home early.
    pub early: u32,
    /// Visits that were not closed before a bath was out.
    pub held: u32,
    /// What was moved to another day, or left.
    pub left: u32,
    /// Times without a line, in which something was done.
    pub alone: u32,
    /// Bottles that held less than was thought.
    pub empty: u32,
    /// What the product said or did that was not so.
    pub faults: Vec<String>,
}

/// A cleaner, and the homes she goes to.
pub struct Cleaner {
    line: HouseLine,
    chance: Chance,
    now: Timestamp,
    day: Date,
    sent: u32,
    /// Where something was mixed, by clean and step.
    poured_at: BTreeSet<(String, String)>,
    /// What every closed visit came to.
    billed: f64,
    lived: LivedRound,
}

impl Cleaner {
    /// So many homes with a brewer each or two, six of them with all families, each with rooms, a rhythm and a way to be paid.
    #[must_use]
    pub fn new(seed: u64, homes: usize) -> Self {
        let now: Timestamp = "2026-03-02T07:00:00Z".parse().expect("an instant");
        let day = jiff::civil::date(2026, 3, 2);
        let line = HouseLine::new(now);
        furnish(&line, day, homes);
        Self {
            line,
            chance: Chance::new(seed),
            now,
            day,
            sent: 0,
            poured_at: BTreeSet::new(),
            billed: 0.0,
            lived: LivedRound::default(),
        }
    }

    /// Lives so many weeks of working days.
    #[must_use]
    pub fn live(mut self, weeks: u32) -> LivedRound {
        for n in 0..7 * weeks {
            self.until(
                days_after(self.day, i32::from(n > 0))
                    .at(7, 0, 0, 0)
                    .to_zoned(jiff::tz::TimeZone::UTC)
                    .expect("a day")
                    .timestamp(),
            );
            self.day = self.now.to_zoned(jiff::tz::TimeZone::UTC).date();
            self.lives_a_day();
        }
        self.look_back();
        self.lived
    }

    fn fault(&mut self, what: String) {
        self.lived.faults.push(format!("{}: {what}", self.now));
    }

    fn pass(&mut self, minutes: f64) {
        let at = self.now + jiff::SignedDuration::from_secs((60.0 * minutes).round() as i64);
        self.until(at);
    }

    fn until(&mut self, at: Timestamp) {
        let minutes = at.duration_since(self.now).as_secs_f64() / 60.0;
        if minutes > 0.0 {
            self.line.pass(minutes);
            self.now = at;
        }
    }

    /// The visits of today, as the week has them.
    fn blocks(&self) -> Vec<Value> {
        let week = self.line.get(&format!("/api/week?day={}", self.day));
        let rows = week["rows"].as_array().cloned().unwrap_or_default();
        let blocks = rows
            .iter()
            .flat_map(|row| row["blocks"].as_array().cloned().unwrap_or_default());
        let today = json!(self.day);
        blocks.filter(|block| block["day"] == today).collect()
    }

    fn lives_a_day(&mut self) {
        for block in self.blocks() {
            if block["stage"] != "draft" {
                continue;
            }
            let id = format!("visit-{}-{}", block["home_id"], self.day).replace('"', "");
            let given =
                json!({"id": id, "home_id": block["home_id"], "rhythm_day": block["rhythm_day"]});
            let (status, answer) = self.line.ask("POST", "/api/week/confirm", &given);
            if status != 200 {
                self.fault(format!("a draft was not confirmed: {answer}"));
            }
        }
        let mut blocks = self.blocks();
        if blocks.iter().any(|block| block["stage"] == "draft") {
            self.fault("a confirmed draft is a draft still".to_owned());
        }
        blocks.sort_by_key(|block| block["from"].to_string());
        for block in blocks.iter().filter(|block| block["stage"] == "planned") {
            self.visit(block);
        }
    }

    fn act(&mut self, visit: &str, what: Value) -> (u16, Value) {
        self.sent += 1;
        self.lived.acts += 1;
        let act = json!({"id": format!("a{}", self.sent), "what": what});
        let path = format!("/api/visits/{visit}/acts");
        let first = self.line.ask("POST", &path, &act);
        // Its answer was lost: it is sent again.
        if first.0 == 200 && self.chance.one_in(8.0) {
            let again = self.line.ask("POST", &path, &act);
            if again.1["visit"]["events"] != first.1["visit"]["events"] {
                self.fault(format!(
                    "{what}, sent again, happened again",
                    what = act["what"]
                ));
            }
        }
        first
    }

    /// One visit, from the door to the bill.
    fn visit(&mut self, block: &Value) {
        let id = block["id"].as_str().expect("a visit").to_owned();
        let begins: jiff::civil::Time =
            serde_json::from_value(block["from"].clone()).expect("a time");
        let begins = self
            .day
            .to_datetime(begins)
            .to_zoned(jiff::tz::TimeZone::UTC)
            .expect("a day");
        let late = if self.chance.one_in(3.0) {
            self.chance.between(5.0, 60.0)
        } else {
            0.0
        };
        self.until(begins.timestamp());
        self.pass(late);
        let (status, answer) = self.act(&id, json!({"kind": "started"}));
        if status != 200 {
            return self.fault(format!("a visit was not begun: {answer}"));
        }
        let began = self.now;
        // Every third client is back early, so that a short life has one too.
        let is_early = self.lived.visits % 3 == 1;
        let mut early = is_early.then(|| (self.chance.share() * 40.0) as u32);
        let alone_at = (self.chance.share() * 30.0) as u32;
        for n in 0..600 {
            let view = self.line.get(&format!("/api/visits/{id}"));
            if early.is_some_and(|at| n >= at) {
                early = None;
                self.lived.early += 1;
                if self.close_early(&id, &view, began) {
                    return;
                }
                continue;
            }
            if n == alone_at && self.without_a_line(&id, &view) {
                continue;
            }
            let run = &view["run"];
            let Some(next) = run["left"]["acts"].as_array().and_then(|acts| acts.first()) else {
                return self.close(&id, &view, began);
            };
            self.one_act(&id, &view, next);
        }
        self.fault(format!("{id} does not end"));
    }

    /// What the visit asks for next.
    fn one_act(&mut self, id: &str, view: &Value, next: &Value) {
        let at: Timestamp = serde_json::from_value(next["at"].clone()).expect("an instant");
        self.until(at);
        if next["is_elsewhere"] == true {
            let (status, answer) =
                self.act(id, json!({"kind": "arrived", "home": next["home_id"]}));
            if status != 200 {
                self.fault(format!("one may not go on: {answer}"));
            }
            return;
        }
        let stop = next["id"].as_str().unwrap_or_default().to_owned();
        if next["is_room"] == true {
            self.pass(next["minutes"].as_f64().unwrap_or(1.0));
            let (status, answer) = self.act(id, json!({"kind": "room_done", "room": stop}));
            if status != 200 {
                self.fault(format!("a room is not done: {answer}"));
            }
            return;
        }
        match next["clean_id"].as_str() {
            Some(clean) => self.clean_act(clean, next["step"].as_str().unwrap_or_default()),
            None if self.chance.one_in(25.0) => {
                // The brewer is broken, or somebody is at it.
                self.lived.left += 1;
                let day = self.chance.one_in(2.0).then(|| days_after(self.day, 3));
                let (status, answer) =
                    self.act(id, json!({"kind": "dropped", "id": stop, "day": day}));
                if status != 200 {
                    self.fault(format!("what has not begun is not left: {answer}"));
                }
            }
            None => self.begin(view, &stop),
        }
    }

    /// Ten minutes without a line: the rooms that come next in the last order are done, and told of when it is back. Whether
    /// anything was.
    fn without_a_line(&mut self, id: &str, view: &Value) -> bool {
        let acts = view["run"]["left"]["acts"]
            .as_array()
            .cloned()
            .unwrap_or_default();
        let rooms: Vec<Value> = acts
            .into_iter()
            .filter(|next| next["is_room"] == true)
            .take(2)
            .collect();
        // Nobody goes off to a room while something wants its hands.
        if rooms.is_empty() || !view["run"]["inside"].as_array().is_some_and(Vec::is_empty) {
            return false;
        }
        let gone_at = self.now;
        let mut done: Vec<(Value, Timestamp)> = Vec::new();
        for room in rooms {
            self.pass(room["minutes"].as_f64().unwrap_or(1.0));
            done.push((room["id"].clone(), self.now));
        }
        self.until(gone_at + jiff::SignedDuration::from_mins(10));
        self.lived.alone += 1;
        for (room, at) in done {
            self.sent += 1;
            self.lived.acts += 1;
            // This device is five minutes ahead.
            let ahead = jiff::SignedDuration::from_mins(5);
            let act = json!({"id": format!("a{}", self.sent), "what": {"kind": "room_done", "room": room},
                "device_at": at + ahead, "sent_at": self.now + ahead});
            let (status, answer) = self
                .line
                .ask("POST", &format!("/api/visits/{id}/acts"), &act);
            if status != 200 {
                self.fault(format!("a room done without a line was refused: {answer}"));
                continue;
            }
            let events = answer["visit"]["events"]
                .as_array()
                .cloned()
                .unwrap_or_default();
            let kept: Option<Timestamp> = events
                .last()
                .and_then(|event| serde_json::from_value(event["at"].clone()).ok());
            if kept != Some(at) {
                self.fault(format!("{room} was done at {at}, and is kept at {kept:?}"));
            }
        }
        true
    }

    /// A bottle that holds less than was thought: what is in it is poured, and told. Whether it was.
    fn pours_the_rest(&mut self, id: &str, view: &Value) -> bool {
        let share = self.chance.between(0.55, 0.8);
        let Some(wish) = poured_so(view, share) else {
            return false;
        };
        self.lived.empty += 1;
        self.send(id, view, &json!({"kind": "planned", "wish": wish}));
        true
    }

    fn begin(&mut self, view: &Value, stop: &str) {
        let all = view["visit"]["stops"]
            .as_array()
            .cloned()
            .unwrap_or_default();
        let Some(stop) = all.into_iter().find(|one| one["id"] == stop) else {
            return self.fault(format!("{stop} is next, and no stop of the visit"));
        };
        self.sent += 1;
        let begin = json!({"id": format!("clean-{}", self.sent), "options": stop["options"]});
        let path = format!(
            "/api/brewers/{}/cleans",
            stop["brewer_id"].as_str().expect("an id")
        );
        let (status, answer) = self.line.ask("POST", &path, &begin);
        match status {
            200 => self.lived.works += 1,
            _ => {
                let others = &view["stops"];
                self.fault(format!(
                    "{} was not begun: {}; beside {others}",
                    stop["id"], answer["detail"]
                ));
                self.pass(5.0);
            }
        }
    }

    /// One act of a clean: its own next one, or what may be done beside it.
    fn clean_act(&mut self, id: &str, step: &str) {
        let view = self.line.get(&format!("/api/cleans/{id}"));
        let state = &view["state"];
        let beside = state["meanwhile"]
            .as_array()
            .is_some_and(|all| all.iter().any(|one| one == step));
        let act = match &state["next"]["act"] {
            _ if beside => json!(Act::Done {
                step: step.to_owned()
            }),
            Value::Null => self.answers(&view),
            next => next.clone(),
        };
        let takes = self.chance.between(0.5, 2.0);
        self.pass(takes);
        let plan: Plan = serde_json::from_value(view["plan"].clone()).expect("a plan");
        let is_mix = plan
            .steps
            .iter()
            .any(|one| one.id == step && one.is(Kind::Mix));
        // Once a bottle, so that a short life has one too.
        let is_rest = is_mix
            && self.poured_at.insert((id.to_owned(), step.to_owned()))
            && self.poured_at.len() % 6 == 2;
        if is_rest && self.pours_the_rest(id, &view) {
            return;
        }
        self.send(id, &view, &act);
    }

    fn send(&mut self, id: &str, view: &Value, act: &Value) {
        self.sent += 1;
        self.lived.acts += 1;
        let event = json!({"id": format!("e{}", self.sent), "seen": view["events"], "act": act});
        let (status, answer) = self
            .line
            .ask("POST", &format!("/api/cleans/{id}/events"), &event);
        if status != 200 {
            self.fault(format!("{act} was refused: {answer}"));
            // Nobody tries the same for ever.
            self.pass(5.0);
        }
    }

    fn answers(&mut self, view: &Value) -> Value {
        let plan: Plan = serde_json::from_value(view["plan"].clone()).expect("a plan");
        let at = view["state"]["current"].as_u64().expect("a step") as usize;
        let step = &plan.steps[at];
        let Doing::Ask { questions } = &step.doing else {
            return json!(Act::Done {
                step: step.id.clone()
            });
        };
        let answers: BTreeMap<QuestionId, AnswerId> = questions
            .iter()
            .map(|question| {
                let answer = match question.id {
                    QuestionId::Showed => {
                        self.chance
                            .of(&[AnswerId::Some, AnswerId::Nothing, AnswerId::Nothing])
                    }
                    QuestionId::Nose => AnswerId::Second,
                    QuestionId::Smell
                    | QuestionId::Clear
                    | QuestionId::Light
                    | QuestionId::Flakes
                    | QuestionId::Heat
                    | QuestionId::Sound => AnswerId::Good,
                };
                (question.id, answer)
            })
            .collect();
        let step = step.id.clone();
        json!(Act::Answered { step, answers })
    }

    /// The client is back. Nothing is left with a bath inside: it is rinsed out first, what has not begun gets a day or is left.
    fn close_early(&mut self, id: &str, view: &Value, began: Timestamp) -> bool {
        let inside = view["run"]["inside"]
            .as_array()
            .cloned()
            .unwrap_or_default();
        if inside.is_empty() {
            let running = view["stops"].as_array().cloned().unwrap_or_default();
            let running = running
                .iter()
                .filter(|stop| !stop["clean_id"].is_null() && stop["is_over"] == false);
            for stop in running {
                let clean = stop["clean_id"].as_str().expect("an id").to_owned();
                let view = self.line.get(&format!("/api/cleans/{clean}"));
                self.send(&clean, &view, &json!(Act::Paused));
                let view = self.line.get(&format!("/api/cleans/{clean}"));
                self.send(&clean, &view, &json!(Act::give_up()));
            }
            let view = self.line.get(&format!("/api/visits/{id}"));
            self.close(id, &view, began);
            return true;
        }
        let bill = view["worth"]["bill"].clone();
        let left = self.named(view);
        let (status, answer) = self.act(id, json!({"kind": "closed", "bill": bill, "left": left}));
        match status {
            409 => self.lived.held += 1,
            _ => self.fault(format!("closed on a bath: {status} {answer}")),
        }
        for one in inside {
            let clean = one["clean_id"].as_str().expect("an id").to_owned();
            let view = self.line.get(&format!("/api/cleans/{clean}"));
            let (wish, stage) = (Wish::Rinse, None);
            self.send(&clean, &view, &json!(Act::Planned { wish, stage }));
        }
        false
    }

    /// What is not done, with a day or without.
    fn named(&mut self, view: &Value) -> Vec<Value> {
        let stops = view["stops"].as_array().cloned().unwrap_or_default();
        let open = stops
            .iter()
            .filter(|stop| stop["is_over"] == false && stop["is_left"] == false);
        let open: Vec<Value> = open.map(|stop| stop["id"].clone()).collect();
        let later = days_after(self.day, 2);
        open.into_iter()
            .map(|id| {
                let day = self.chance.one_in(2.0).then_some(later);
                json!({"id": id, "day": day})
            })
            .collect()
    }

    fn close(&mut self, id: &str, view: &Value, began: Timestamp) {
        let bill = view["worth"]["bill"].clone();
        let left = self.named(view);
        self.lived.left += left.len() as u32;
        let elapsed = self.now.duration_since(began).as_secs_f64() / 60.0;
        let there = bill["there"].as_array().cloned().unwrap_or_default();
        let there: f64 = there.iter().filter_map(|one| one["minutes"].as_f64()).sum();
        // One home a visit: all the time is there, but for what passed after the last act.
        if there > elapsed + 0.2 || there < elapsed - 61.0 {
            self.fault(format!("{id}: {there} min there, {elapsed} min passed"));
        }
        let (status, answer) = self.act(id, json!({"kind": "closed", "bill": bill, "left": left}));
        if status != 200 {
            return self.fault(format!("{id} was not closed: {answer}"));
        }
        self.lived.visits += 1;
        self.billed += answer["worth"]["total"].as_f64().unwrap_or(f64::NAN);
        for stop in answer["stops"].as_array().cloned().unwrap_or_default() {
            if stop["is_over"] == false && stop["is_left"] == false {
                self.fault(format!(
                    "{id} is over, and {} is {}",
                    stop["name"], stop["state"]
                ));
            }
        }
        let counter = self.line.get("/api/counter");
        for card in counter["brewers"].as_array().cloned().unwrap_or_default() {
            for circuit in card["circuits"].as_array().cloned().unwrap_or_default() {
                if !circuit["acid"].is_null() {
                    let inside = &circuit["acid"]["text"];
                    self.fault(format!(
                        "{id} is over, and {} is left: {inside}",
                        card["nickname"]
                    ));
                }
            }
        }
    }

    /// When the weeks are over: what was poured is gone from the cupboard, and what was billed is owed.
    fn look_back(&mut self) {
        let mut owed = 0.0;
        let mut month = jiff::civil::date(2026, 3, 1);
        while month <= self.day {
            let view = self.line.get(&format!("/api/owed?day={month}"));
            owed += view["total"].as_f64().unwrap_or(f64::NAN);
            month = days_after(month, 31).first_of_month();
        }
        if (owed - self.billed).abs() > 0.05 {
            self.fault(format!("bills came to {}, owed is {owed}", self.billed));
        }
        let mut poured: BTreeMap<String, f64> = BTreeMap::new();
        let log = self.line.get("/api/log?most=2000");
        for line in log["lines"].as_array().cloned().unwrap_or_default() {
            if line["outcome"]["bottle"] == "theirs" {
                continue;
            }
            for bath in line["outcome"]["poured"]
                .as_array()
                .cloned()
                .unwrap_or_default()
            {
                let amount = &bath["amount"];
                let number = ["ml", "g"].iter().find_map(|unit| amount[*unit].as_f64());
                let agent = bath["agent_id"].as_str().unwrap_or_default().to_owned();
                *poured.entry(agent).or_default() += number.unwrap_or(f64::NAN);
            }
        }
        let cupboard = self.line.get("/api/cupboard");
        for thing in cupboard["things"].as_array().cloned().unwrap_or_default() {
            let Some(level) = thing["level"].as_f64() else {
                continue;
            };
            let gone = poured
                .get(thing["id"].as_str().unwrap_or_default())
                .copied()
                .unwrap_or(0.0);
            if (STOCK - gone - level).abs() > 1.0 {
                self.fault(format!(
                    "{}: {level} is there, {gone} was poured",
                    thing["name"]
                ));
            }
        }
    }
}

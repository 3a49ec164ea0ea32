//! One household's life with its brewers, clean after clean.

use crate::chance::Chance;
use crate::line::HouseLine;
use crate::pouring::poured_so;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_brewer::instruction::Instruction;
use murlo_brewer::{Brewer, BrewerDraft, Family};
use murlo_clean::Act;
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::machine::{Machine, Mechanism};
use murlo_plan::{Doing, Kind, Plan, Step, Wish};
use serde_json::{Value, json};
use std::collections::{BTreeMap, BTreeSet};

/// What was lived, and what did not hold.
#[derive(Debug, Default)]
pub struct Lived {
    /// Cleans that were begun.
    pub cleans: u32,
    /// Acts that were sent.
    pub acts: u32,
    /// Cleans that were given up.
    pub given_up: u32,
    /// Presses of a second phone that were refused as the same press.
    pub same_press: u32,
    /// Baths that were poured otherwise than planned.
    pub poured_otherwise: u32,
    /// Works that were refused because acid was inside.
    pub held: u32,
    /// Steps that were left out.
    pub left_out: u32,
    /// Cleans that were kept as a way.
    pub kept: u32,
    /// Cleans that were spread over days.
    pub spread: u32,
    /// Parts of them that were begun.
    pub parts: u32,
    /// Cleans that were begun before Murlo was asked.
    pub begun_already: u32,
    /// Cleans that were done in a way that was kept.
    pub in_their_way: u32,
    /// What the product said or did that was not so.
    pub faults: Vec<String>,
    /// Harms to brewers that are otherwise than was told, by their words.
    pub harms: BTreeMap<String, u32>,
}

/// A brewer as it was told, and as it is.
pub(crate) struct Owned {
    pub id: String,
    pub truth: Brewer,
    /// Whether the two are the same.
    is_as_told: bool,
    /// Ways that are kept of it, by side, the last one last.
    pub ways: Vec<(String, String)>,
}

/// A household and its people.
pub struct World {
    pub(crate) line: HouseLine,
    pub(crate) chance: Chance,
    brewers: Vec<Owned>,
    day: Date,
    pub(crate) lived: Lived,
    sent: u32,
}

/// How a person goes about one clean.
#[derive(Default)]
pub(crate) struct Mood {
    /// The step at which it is given up.
    gives_up_at: Option<usize>,
    /// Nothing the person told was wrong.
    has_erred: bool,
    /// Steps whose instructions were followed.
    pub followed: BTreeSet<String>,
    /// Baths that were poured.
    pub poured: usize,
    /// What was told, act by act, to see how it came to a fault.
    trail: Vec<String>,
}

impl World {
    /// A household with a brewer of each family, on hard water.
    #[must_use]
    pub fn new(seed: u64) -> Self {
        let now: Timestamp = "2026-03-02T09:00:00Z".parse().expect("an instant");
        let mut world = Self {
            line: HouseLine::new(now),
            chance: Chance::new(seed),
            brewers: Vec::new(),
            day: jiff::civil::date(2026, 3, 2),
            lived: Lived::default(),
            sent: 0,
        };
        let reading = json!({"by": "strip", "value": 14.0, "unit": "gpg"});
        let water = json!({"name": "Mains", "reading": reading});
        let water = world.line.ask("POST", "/api/waters", &water).1["id"].clone();
        let families = world.line.get("/api/families");
        for (family, told) in Family::ALL
            .into_iter()
            .zip(families.as_array().expect("a list"))
        {
            world.buy(family, told["draft"].clone(), &water);
        }
        world
    }

    /// A brewer of a family comes into the house; half of them are otherwise than is told.
    fn buy(&mut self, family: Family, mut draft: Value, water: &Value) {
        draft["nickname"] = json!(format!("{family:?}"));
        draft["water_id"] = water.clone();
        draft["in_use_since"] = json!(self.day);
        draft["beforehand"] = Value::Null;
        let (status, answer) = self.line.ask("POST", "/api/brewers", &draft);
        assert_eq!(status, 200, "{answer}");
        let draft: BrewerDraft = serde_json::from_value(draft).expect("what was sent");
        let id = answer["id"].as_str().expect("its id").to_owned();
        let mut truth = draft
            .check(id.clone(), None, self.day)
            .expect("what was taken");
        let is_as_told = self.chance.one_in(2.0);
        for circuit in truth.circuits.iter_mut().filter(|_| !is_as_told) {
            circuit.hold_up_ml *= self.chance.between(1.0, 1.4);
            circuit.dispense_ml *= self.chance.between(0.9, 1.1);
        }
        self.brewers.push(Owned {
            id,
            truth,
            is_as_told,
            ways: Vec::new(),
        });
    }

    /// Lives `cleans` cleans, on whichever brewers.
    #[must_use]
    pub fn live(mut self, cleans: u32) -> Lived {
        for n in 0..cleans {
            let at = (self.chance.share() * self.brewers.len() as f64) as usize;
            let mut owned = self.brewers.swap_remove(at);
            let id = format!("clean-{n}");
            self.clean(&owned, &id);
            if self.chance.one_in(4.0) {
                self.keep(&mut owned, &id);
            }
            self.brewers.push(owned);
            // Weeks pass.
            let days = self.chance.between(5.0, 70.0);
            self.line.pass(days * 24.0 * 60.0);
        }
        self.lived
    }

    pub(crate) fn fault(&mut self, owned: &Owned, what: String) {
        self.lived
            .faults
            .push(format!("{:?}: {what}", owned.truth.family));
    }

    /// One clean, with whatever comes of it, until the brewer can be drunk from again.
    fn clean(&mut self, owned: &Owned, id: &str) {
        if self.chance.one_in(10.0) {
            self.spread(owned, &format!("over-{id}"));
        }
        let parts = self.parts_to_come(owned);
        let already = self.chance.one_in(8.0);
        let (status, view) = match already {
            true => self.begin_already(owned, id),
            false => {
                let path = format!("/api/brewers/{}/cleans", owned.id);
                let begin = json!({"id": id, "options": {}});
                self.line.ask("POST", &path, &begin)
            }
        };
        if status != 200 {
            self.fault(owned, format!("a clean was not begun: {view}"));
            return;
        }
        self.lived.cleans += 1;
        let plan: Plan = serde_json::from_value(view["plan"].clone()).expect("a plan");
        if !already {
            self.hold_to_way(owned, &plan, &parts);
        }
        let circuit = owned.truth.circuit("circuit_id", &plan.circuit_id);
        let circuit = circuit.expect("its own circuit");
        let mechanism = Mechanism::of(&owned.truth, circuit, plan.rinse.target_mg_l);
        let mut machine = Machine::in_use(&mechanism);
        let mut mood = Mood {
            gives_up_at: self.gives_up_at(&plan),
            ..Mood::default()
        };
        if already {
            self.catch_up(&view, &mut machine, &mut mood);
        }
        self.follow(owned, id, &mut machine, &mut mood);
        if self.line.get(&format!("/api/cleans/{id}"))["state"]["closed"] == "abandoned" {
            self.lived.given_up += 1;
            self.after_giving_up(owned, id, &mut machine, &mut mood);
        }
        let faults = self.lived.faults.len();
        self.look_back(owned, id, &machine, &mut mood);
        if self.lived.faults.len() > faults {
            let trail = mood.trail.join(", ");
            self.lived.faults.push(format!("  after {trail}"));
        }
    }

    fn gives_up_at(&mut self, plan: &Plan) -> Option<usize> {
        let mix = plan.steps.iter().position(|s| s.is(Kind::Mix))?;
        let (early, late) = (self.chance.one_in(15.0), self.chance.one_in(5.0));
        let after = plan.steps.len() - mix - 1;
        match (early, late) {
            (true, _) => Some((self.chance.share() * mix as f64) as usize),
            (_, true) => Some(mix + 1 + (self.chance.share() * after as f64) as usize),
            (false, false) => None,
        }
    }

    /// Does what the product says until the clean is closed.
    fn follow(&mut self, owned: &Owned, id: &str, machine: &mut Machine, mood: &mut Mood) {
        for _ in 0..400 {
            let view = self.line.get(&format!("/api/cleans/{id}"));
            self.hold_to_truth(owned, &view, machine, mood);
            if !view["state"]["closed"].is_null() {
                return;
            }
            let Some(at) = view["state"]["current"].as_u64() else {
                let next = view["state"]["next"]["act"].clone();
                self.send(owned, id, mood, &view, &next);
                continue;
            };
            let plan: Plan = serde_json::from_value(view["plan"].clone()).expect("a plan");
            let step = &plan.steps[at as usize];
            if mood.gives_up_at == Some(at as usize) {
                mood.gives_up_at = None;
                self.send(owned, id, mood, &view, &json!(Act::Paused));
                self.send(owned, id, mood, &view, &json!(Act::give_up()));
                continue;
            }
            self.one_act(owned, id, &view, step, machine, mood);
            self.line.pass(1.0);
        }
        self.fault(owned, format!("{id} does not end"));
    }

    /// Does one act at a step, and tells it.
    fn one_act(
        &mut self,
        owned: &Owned,
        id: &str,
        view: &Value,
        step: &Step,
        machine: &mut Machine,
        mood: &mut Mood,
    ) {
        // Where rinsing on is what to do next, nothing is put back first.
        if view["state"]["next"]["act"]["kind"] == "planned" {
            let next = view["state"]["next"]["act"].clone();
            return self.send(owned, id, mood, view, &next);
        }
        let is_new = !mood.followed.contains(&step.id);
        if is_new && step.is(Kind::Mix) && self.chance.one_in(4.0) {
            let more = self.chance.between(0.8, 1.25);
            if let Some(wish) = poured_so(view, more) {
                return self.pour_otherwise(owned, id, (view, step), machine, mood, (&wish, more));
            }
        }
        if is_new && self.chance.one_in(3.0) {
            let others = view["state"]["others"].as_array().cloned();
            let mut acts = others
                .unwrap_or_default()
                .into_iter()
                .map(|other| other["act"].clone());
            if let Some(act) = acts.find(|act| act["kind"] == "left_out") {
                self.lived.left_out += 1;
                return self.send(owned, id, mood, view, &act);
            }
        }
        if mood.followed.insert(step.id.clone()) {
            self.obey(owned, step, machine, mood, &step.instructions);
        }
        let at = view["state"]["current"].as_u64().expect("a step") as usize;
        let next = &view["state"]["next"]["act"];
        if next.is_null() {
            return self.answer(owned, id, view, step, machine, mood);
        }
        if step.is(Kind::Mix) {
            mood.poured += 1;
        }
        if next["kind"] == "counted" {
            return self.count(owned, id, view, step, machine, mood);
        }
        // A wait that has begun is over when its clock says so; some stay away for hours.
        if step.is_wait() && next["kind"] == "done" {
            let timer = &view["state"]["steps"][at]["timer"];
            let ends: Option<Timestamp> = serde_json::from_value(timer["ends_at"].clone()).ok();
            let now: Timestamp = serde_json::from_value(view["now"].clone()).expect("an instant");
            let left = ends.map_or(0.0, |ends| ends.duration_since(now).as_secs_f64() / 60.0);
            let late = match self.chance.one_in(5.0) {
                true if self.chance.one_in(4.0) => 11.0 * 60.0,
                true => self.chance.between(30.0, 300.0),
                false => self.chance.between(0.0, 4.0),
            };
            self.line.pass(left.max(0.0) + late);
        }
        let is_verdict = !view["state"]["verdict"].is_null();
        if is_verdict && view["state"]["verdict"] != "good" && self.chance.one_in(4.0) {
            self.send(owned, id, mood, view, &json!(Act::Overruled));
            return;
        }
        self.send(owned, id, mood, view, next);
    }

    /// Pours `more` or less of the agent than was planned, and tells it; the true brewer holds what was poured.
    fn pour_otherwise(
        &mut self,
        owned: &Owned,
        id: &str,
        (view, step): (&Value, &Step),
        machine: &mut Machine,
        mood: &mut Mood,
        (wish, more): (&Wish, f64),
    ) {
        let mut acts = step.instructions.clone();
        for act in &mut acts {
            if let Instruction::PourBath { mg_l, .. } = act {
                *mg_l *= more;
            }
        }
        mood.followed.insert(step.id.clone());
        mood.poured += 1;
        self.obey(owned, step, machine, mood, &acts);
        self.lived.poured_otherwise += 1;
        let act = json!({"kind": "planned", "wish": wish});
        self.send(owned, id, mood, view, &act);
    }

    /// Empties one more mug, and presses for it; or not, or twice, or the other phone does too.
    fn count(
        &mut self,
        owned: &Owned,
        id: &str,
        view: &Value,
        step: &Step,
        machine: &mut Machine,
        mood: &mut Mood,
    ) {
        let at = view["state"]["current"].as_u64().expect("a step") as usize;
        let counted = view["state"]["steps"][at]["count"].as_u64().unwrap_or(0) as u32;
        let press = &view["state"]["next"]["act"];
        let early = step.is(Kind::Rinse) && self.chance.one_in(40.0);
        let finish = &view["state"]["finish"]["act"];
        if early && !finish.is_null() {
            self.send(owned, id, mood, view, finish);
            return;
        }
        // Pressed for nothing: the person believes that a mug was emptied.
        if self.chance.one_in(60.0) {
            mood.has_erred = true;
            self.send(owned, id, mood, view, press);
            return;
        }
        if counted.is_multiple_of(step.per_fill.max(1)) {
            self.obey(owned, step, machine, mood, &step.at_fill);
            if counted > 0 {
                self.obey(owned, step, machine, mood, &step.at_refill);
            }
        }
        self.obey(owned, step, machine, mood, &step.each);
        // Forgotten: it is only pressed for the next one.
        if self.chance.one_in(60.0) {
            mood.has_erred = true;
            return;
        }
        self.send(owned, id, mood, view, press);
        if self.chance.one_in(25.0) {
            // The other phone still shows what was before.
            let (status, answer) = self.post(id, view, press);
            match status {
                409 => self.lived.same_press += 1,
                _ => self.fault(
                    owned,
                    format!("one mug was counted twice: {status} {answer}"),
                ),
            }
        }
    }

    /// Answers what is asked, by what is really so.
    fn answer(
        &mut self,
        owned: &Owned,
        id: &str,
        view: &Value,
        step: &Step,
        machine: &Machine,
        mood: &mut Mood,
    ) {
        let Doing::Ask { questions } = &step.doing else {
            self.fault(owned, format!("nothing is to be done at {}", step.id));
            return;
        };
        let tastes = is_acid(machine);
        let is_tired = self.chance.one_in(6.0);
        mood.has_erred |= tastes && is_tired;
        let mut answers = BTreeMap::new();
        for question in questions {
            let answer = match question.id {
                QuestionId::Smell if tastes && !is_tired => AnswerId::Bad,
                QuestionId::Nose if is_tired => AnswerId::Tired,
                QuestionId::Nose => AnswerId::Second,
                QuestionId::Showed => self.chance.of(&[
                    AnswerId::Chalk,
                    AnswerId::Some,
                    AnswerId::Some,
                    AnswerId::Nothing,
                ]),
                QuestionId::Smell
                | QuestionId::Clear
                | QuestionId::Light
                | QuestionId::Flakes
                | QuestionId::Heat
                | QuestionId::Sound => AnswerId::Good,
            };
            answers.insert(question.id, answer);
        }
        let step = step.id.clone();
        self.send(
            owned,
            id,
            mood,
            view,
            &json!(Act::Answered { step, answers }),
        );
    }

    /// Follows instructions on the true brewer. What harms one that is as it was told is a fault of the plan.
    fn obey(
        &mut self,
        owned: &Owned,
        step: &Step,
        machine: &mut Machine,
        mood: &Mood,
        all: &[Instruction],
    ) {
        for instruction in all {
            let Err(harm) = machine.follow(instruction) else {
                continue;
            };
            let words = format!("{harm:?}");
            // Who has lost count runs a pump dry by himself.
            match owned.is_as_told && !mood.has_erred {
                true => self.fault(owned, format!("{} at {}: {instruction:?}", words, step.id)),
                false => *self.lived.harms.entry(words).or_default() += 1,
            }
        }
    }

    /// Sends an act; now and then its answer is lost, and it is sent again.
    fn send(&mut self, owned: &Owned, id: &str, mood: &mut Mood, view: &Value, act: &Value) {
        mood.trail.push(in_short(act));
        let sent = self.sent;
        let (status, answer) = self.post(id, view, act);
        if status != 200 {
            self.fault(owned, format!("{act} was refused: {answer}"));
            return;
        }
        if self.chance.one_in(10.0) {
            let again = self.event(sent, view, act);
            let before = answer["events"].clone();
            let (status, answer) = self.line.ask("POST", &events(id), &again);
            if (status, &answer["events"]) != (200, &before) {
                self.fault(owned, format!("{act}, sent again, counted again: {status}"));
            }
        }
    }

    fn event(&self, n: u32, view: &Value, act: &Value) -> Value {
        json!({"id": format!("e{n}"), "seen": view["events"], "act": act})
    }

    fn post(&mut self, id: &str, view: &Value, act: &Value) -> (u16, Value) {
        let event = self.event(self.sent, view, act);
        self.sent += 1;
        self.lived.acts += 1;
        self.line.ask("POST", &events(id), &event)
    }

    /// What is said to be inside is never cleaner than what is.
    fn hold_to_truth(&mut self, owned: &Owned, view: &Value, machine: &Machine, mood: &Mood) {
        let said = view["state"]["inside_text"].as_str().unwrap_or_default();
        if is_acid(machine) && said.starts_with("Plain water") && !mood.has_erred {
            let title = &view["state"]["step"]["title"];
            let standing = machine.standing();
            self.fault(owned, format!("\"{said}\" at {title}, where {standing:?}"));
        }
    }

    /// The marks that a brewer carries.
    fn mark(&self, owned: &Owned) -> Value {
        let counter = self.line.get("/api/counter");
        let cards = counter["brewers"].as_array().cloned().unwrap_or_default();
        let card = cards
            .into_iter()
            .find(|card| card["id"] == owned.id.as_str());
        let circuits = card.map_or(Value::Null, |card| card["circuits"].clone());
        let circuits = circuits.as_array().cloned().unwrap_or_default();
        let mut marks = circuits.into_iter().map(|circuit| circuit["acid"].clone());
        marks.find(|mark| !mark.is_null()).unwrap_or(Value::Null)
    }

    /// Somebody comes back to a brewer that was given up, and to whatever is in it.
    fn after_giving_up(&mut self, owned: &Owned, id: &str, machine: &mut Machine, mood: &mut Mood) {
        if !is_acid(machine) {
            return;
        }
        let hours = self.chance.between(0.2, 30.0);
        self.line.pass(hours * 60.0);
        let mark = self.mark(owned);
        let text = mark["text"].as_str().unwrap_or_default();
        if !text.starts_with("ACID INSIDE for about") && !mood.has_erred {
            self.fault(
                owned,
                format!("given up with acid inside, and marked {mark}"),
            );
        }
        let path = format!("/api/brewers/{}/cleans", owned.id);
        for options in [json!({}), json!({"work": "rehearsal"})] {
            let begin = json!({"id": format!("{id}-on-it"), "options": options});
            let (status, answer) = self.line.ask("POST", &path, &begin);
            match status {
                409 => self.lived.held += 1,
                _ if mood.has_erred => return,
                _ => self.fault(owned, format!("begun on a bath: {status} {answer}")),
            }
        }
        let view = self.line.get(&format!("/api/cleans/{id}"));
        self.send(owned, id, mood, &view, &json!(Act::Reopened));
        machine.give_up_bath();
        let wish = Wish::Rinse;
        let stage = None;
        let view = self.line.get(&format!("/api/cleans/{id}"));
        self.send(owned, id, mood, &view, &json!(Act::Planned { wish, stage }));
        self.follow(owned, id, machine, mood);
    }

    /// When all is over: what the log says, and whether the brewer may be drunk from as it says.
    fn look_back(&mut self, owned: &Owned, id: &str, machine: &Machine, mood: &mut Mood) {
        let log = self.line.get("/api/log");
        let lines = log["lines"].as_array().cloned().unwrap_or_default();
        let line = lines.iter().find(|line| line["clean_id"] == id);
        let poured = line.map_or(0, |line| {
            line["outcome"]["poured"].as_array().map_or(0, Vec::len)
        });
        if poured != mood.poured {
            self.fault(
                owned,
                format!("{id} poured {} baths, its log has {poured}", mood.poured),
            );
        }
        let is_marked = !self.mark(owned).is_null();
        if is_acid(machine) && !is_marked && !mood.has_erred {
            let standing = machine.standing();
            self.fault(
                owned,
                format!("{id} ended without a mark, where {standing:?}"),
            );
        }
        // So that its next clean begins from plain water: somebody has seen to it, and says so.
        if is_marked {
            let by = "Ola".to_owned();
            let outcome = None;
            let view = self.line.get(&format!("/api/cleans/{id}"));
            self.send(owned, id, mood, &view, &json!(Act::Vouched { by, outcome }));
        }
    }
}

/// "counted rinse", "answered verify (smell: bad)".
fn in_short(act: &Value) -> String {
    let word = |field: &str| act[field].as_str().unwrap_or_default().to_owned();
    let smell = act["answers"]["smell"].as_str();
    let smell = smell.map_or(String::new(), |smell| format!(" (smell: {smell})"));
    format!("{} {}{smell}", word("kind"), word("step"))
}

fn events(id: &str) -> String {
    format!("/api/cleans/{id}/events")
}

/// More acid than anybody lets pass.
fn is_acid(machine: &Machine) -> bool {
    let (standing, noticed) = (machine.standing(), machine.target_mg_l() * 1.001);
    standing.path_mg_l > noticed || standing.reservoir_mg_l > noticed
}

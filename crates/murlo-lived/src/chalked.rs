//! Brewers whose chalk is known: how often the window that is shown holds the day on which it really reaches its limit.
//!
//! The brewer, its water and its use are otherwise than was told, each by as much as is said to be usual; what a clean leaves
//! is what its baths leave of the chalk that was really there. Everything else goes over HTTP, as a person's acts.

use crate::chance::Chance;
use crate::line::HouseLine;
use jiff::civil::{Date, date};
use jiff::{Span, Timestamp};
use murlo_brewer::{Brewer, BrewerDraft, Circuit, Family};
use murlo_chalk::belief::Leaves;
use murlo_chalk::scale::{Cleaned, Wetted};
use murlo_chemistry::cleaning::Bathed;
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::{Doing, Kind, Plan};
use serde_json::{Value, json};
use std::collections::BTreeMap;

/// Spreads of the logarithm: how fast chalk plates, what a strip tells of water, how much is really drunk.
const SPREADS: [f64; 3] = [0.5, 0.34, 0.15];

/// Shares of the limit at which people notice, with how many of them do; the rest never does.
const NOTICED_AT: [(f64, f64); 3] = [(1.0, 0.195), (1.35, 0.26), (1.8, 0.195)];

/// A result is called good by so many whatever is left, and by so many more where little is.
const SEEN_CLEAN: (f64, f64) = (0.15, 0.7);

/// What was shown of one brewer at one moment, and what was so.
#[derive(Debug, Clone, Copy)]
pub struct ShownWindow {
    /// Cleans until then.
    pub cleans: usize,
    /// Whether the window held the day on which the limit was really reached.
    pub holds: bool,
    /// Whether there really was more chalk than nine in ten would have; of a brewer that was just cleaned.
    pub is_above: bool,
}

/// How somebody cleans.
#[derive(Debug, Clone, Copy)]
enum CleansWhen {
    Early,
    WhenDue,
    Late,
}

/// A brewer, its true chalk, and its person.
pub struct Chalked {
    line: HouseLine,
    chance: Chance,
    id: String,
    brewer: Brewer,
    /// True growth over the reckoned one.
    growth: f64,
    /// Chalk now, as a share of the limit.
    used: f64,
    /// What can plate, mg a day, as it is reckoned.
    mg_a_day: f64,
    /// How this brewer's cleans come out, in standard deviations.
    luck: f64,
    day: Date,
    manner: CleansWhen,
    notices_at: Option<f64>,
    talks: bool,
    soaks: bool,
    /// Whether a result that is not good enough is taken as it is.
    overrules: bool,
    sent: u32,
}

impl Chalked {
    /// A new brewer on hard water, told with a strip.
    #[must_use]
    pub fn new(seed: u64) -> Self {
        let mut chance = Chance::new(seed);
        let day = date(2026, 3, 2);
        let now: Timestamp = "2026-03-02T09:00:00Z".parse().expect("an instant");
        let line = HouseLine::new(now);
        let gpg = chance.between(6.0, 20.0);
        let reading = json!({"by": "strip", "value": gpg.round(), "unit": "gpg"});
        let water = json!({"name": "Mains", "reading": reading});
        let water = line.ask("POST", "/api/waters", &water).1["id"].clone();
        let family = chance.of(&[Family::PodReservoir, Family::Drip, Family::CodedCapsule]);
        let families = line.get("/api/families");
        let told = families.as_array().expect("a list").iter();
        let told = told.clone().find(|told| told["family"] == json!(family));
        let mut draft = told.expect("its kind")["draft"].clone();
        draft["nickname"] = json!("Known");
        draft["water_id"] = water;
        draft["in_use_since"] = json!(day);
        draft["beforehand"] = Value::Null;
        draft["weekday_cups"] = json!(chance.between(2.0, 7.0).round());
        draft["weekend_cups"] = draft["weekday_cups"].clone();
        // The chalk alone is looked at.
        draft["policy"] = json!({"chalk": true, "light": false, "days": null, "brews": null});
        let (status, answer) = line.ask("POST", "/api/brewers", &draft);
        assert_eq!(status, 200, "{answer}");
        let id = answer["id"].as_str().expect("its id").to_owned();
        let draft: BrewerDraft = serde_json::from_value(draft).expect("what was sent");
        let brewer = draft.check(id.clone(), None, day).expect("what was taken");
        let spread = SPREADS.iter().map(|s| s * s).sum::<f64>().sqrt();
        let growth = (spread * normal(&mut chance)).exp();
        let mut at = chance.share();
        let notices_at = NOTICED_AT.iter().find_map(|(share, of)| {
            at -= of;
            (at < 0.0).then_some(*share)
        });
        let mut one = Self {
            manner: chance.of(&[CleansWhen::Early, CleansWhen::WhenDue, CleansWhen::Late]),
            talks: !chance.one_in(6.0),
            soaks: !chance.one_in(5.0),
            luck: normal(&mut chance),
            overrules: chance.one_in(6.0),
            notices_at,
            line,
            chance,
            id,
            brewer,
            growth,
            used: 0.0,
            mg_a_day: 0.0,
            day,
            sent: 0,
        };
        one.live_days(10);
        one.mg_a_day = one.forecast()["potential_mg"].as_f64().expect("a figure") / 10.0;
        one.used = one.grown(10.0);
        one
    }

    /// Lives so many cleans; what was shown at the beginning and after each of them.
    #[must_use]
    pub fn live(mut self, cleans: usize) -> Vec<ShownWindow> {
        let mut shown = vec![self.look(0)];
        for n in 1..=cleans {
            self.use_until_cleaned();
            self.clean(&format!("clean-{n}"));
            shown.push(self.look(n));
        }
        shown
    }

    fn circuit(&self) -> &Circuit {
        &self.brewer.circuits[0]
    }

    /// Chalk that so many days bring, as a share of the limit.
    fn grown(&self, days: f64) -> f64 {
        let circuit = self.circuit();
        self.growth * circuit.plating / circuit.limit_mg() * self.mg_a_day * days
    }

    fn live_days(&mut self, days: i32) {
        self.line.pass(f64::from(days) * 24.0 * 60.0);
        self.day = self.day.checked_add(Span::new().days(days)).expect("a day");
    }

    fn forecast(&self) -> Value {
        let counter = self.line.get("/api/counter");
        counter["brewers"][0]["circuits"][0]["forecast"].clone()
    }

    fn look(&self, cleans: usize) -> ShownWindow {
        let forecast = self.forecast();
        let day = |name: &str| -> i32 {
            let day: Date = serde_json::from_value(forecast["due"][name].clone()).expect("a day");
            (day - self.day).get_days()
        };
        let limit = ((1.0 - self.used) / self.grown(1.0)).round() as i32;
        let (earliest, latest) = (day("earliest"), day("latest"));
        let limit_mg = self.circuit().limit_mg();
        let most = forecast["chalk"]["high_mg"].as_f64().expect("a figure");
        ShownWindow {
            cleans,
            // What has passed already is shown as today; beyond ten years nothing is told.
            holds: (earliest <= limit || earliest <= 0 && limit <= 0) && limit <= latest.max(0)
                || latest > 3600 && limit > 3600,
            is_above: self.used * limit_mg > most,
        }
    }

    /// Days pass until its person cleans it, who may notice before.
    fn use_until_cleaned(&mut self) {
        let due: Date =
            serde_json::from_value(self.forecast()["due"]["date"].clone()).expect("a day");
        let left = f64::from((due - self.day).get_days());
        let share = match self.manner {
            CleansWhen::Early => self.chance.between(0.4, 0.8),
            CleansWhen::WhenDue => self.chance.between(0.95, 1.05),
            CleansWhen::Late => self.chance.between(1.3, 1.8),
        };
        let days = (left * share).clamp(14.0, 700.0).round();
        let notices = self.notices_at.filter(|_| self.talks);
        let noticed = notices.map(|at| ((at - self.used) / self.grown(1.0)).ceil());
        let mut lived = 0.0;
        if let Some(noticed) = noticed.filter(|noticed| (1.0..days).contains(noticed)) {
            self.live_days(noticed as i32);
            lived = noticed;
            let sign = self.chance.of(&["slow", "cooler"]);
            let what = json!({"kind": "sign", "circuit_id": self.circuit().id, "sign": sign, "dated": true});
            let entry = json!({"id": format!("sign-{}", self.day), "day": self.day, "what": what});
            let (status, answer) =
                self.line
                    .ask("POST", &format!("/api/brewers/{}/journal", self.id), &entry);
            assert_eq!(status, 200, "{answer}");
        }
        self.live_days((days - lived) as i32);
        self.used += self.grown(days);
    }

    /// The clean as it is told to be done, and what its baths leave of what was really there.
    fn clean(&mut self, id: &str) {
        let path = format!("/api/brewers/{}/cleans", self.id);
        let options = match self.soaks {
            true => json!({}),
            false => json!({"soak_minutes": 0.0}),
        };
        let (status, view) = self
            .line
            .ask("POST", &path, &json!({"id": id, "options": options}));
        assert_eq!(status, 200, "{view}");
        let plan: Plan = serde_json::from_value(view["plan"].clone()).expect("a plan");
        if !self.chance.one_in(2.0) {
            self.luck = normal(&mut self.chance);
        }
        let planned = plan.baths().map_or(1.0, |bathed| self.share_left(bathed));
        let mut view = view;
        for _ in 0..400 {
            if !view["state"]["closed"].is_null() {
                break;
            }
            let next = view["state"]["next"]["act"].clone();
            let is_bad = !view["state"]["verdict"].is_null() && view["state"]["verdict"] != "good";
            let act = match next.is_null() {
                true => self.answer(&view, planned),
                false if is_bad && self.overrules => json!({"kind": "overruled"}),
                false => next,
            };
            // Waits are waited for.
            if let Some(at) = view["state"]["current"].as_u64()
                && let Ok(ends) = serde_json::from_value::<Timestamp>(
                    view["state"]["steps"][at as usize]["timer"]["ends_at"].clone(),
                )
                && let Ok(now) = serde_json::from_value::<Timestamp>(view["now"].clone())
            {
                let left = ends.duration_since(now).as_secs_f64() / 60.0;
                self.line.pass(left.max(0.0) + 0.1);
            }
            self.line.pass(0.5);
            self.sent += 1;
            let event =
                json!({"id": format!("e{}", self.sent), "seen": view["events"], "act": act});
            let (status, after) =
                self.line
                    .ask("POST", &format!("/api/cleans/{id}/events"), &event);
            assert_eq!(status, 200, "{act}: {after}");
            view = after;
        }
        let bathed = view["state"]["outcome"]["bathed"].clone();
        let bathed: Bathed = serde_json::from_value(bathed).expect("what its baths did");
        self.used *= self.share_left(bathed);
    }

    /// The share that these baths leave of what is really there, as this brewer's cleans come out.
    fn share_left(&self, bathed: Bathed) -> f64 {
        let cleaned = Cleaned {
            bathed: Some(bathed),
            ..Cleaned::default()
        };
        let leaves: Leaves = cleaned.leaves(&Wetted::of(self.circuit(), &self.brewer));
        let left = leaves.of(self.used.max(0.01));
        let odds = |share: f64| {
            let share = share.clamp(1e-5, 1.0 - 1e-5);
            (share / (1.0 - share)).ln()
        };
        let (low, middle, high) = (odds(left.p10), odds(left.median), odds(left.p90));
        let wide = if self.luck < 0.0 {
            middle - low
        } else {
            high - middle
        };
        let found = middle + self.luck / TENTH * wide;
        1.0 / (1.0 + (-found).exp())
    }

    /// What is seen of a bath, and of the result.
    fn answer(&mut self, view: &Value, left: f64) -> Value {
        let at = view["state"]["current"].as_u64().expect("a step") as usize;
        let plan: Plan = serde_json::from_value(view["plan"].clone()).expect("a plan");
        let step = &plan.steps[at];
        let Doing::Ask { questions } = &step.doing else {
            panic!("nothing is to be done at {}", step.id);
        };
        let came = self.used * (1.0 - left);
        // One in ten words is anybody's guess.
        let brought = match self.chance.one_in(10.0) {
            true => self
                .chance
                .of(&[AnswerId::Nothing, AnswerId::Some, AnswerId::Chalk]),
            false if came < 0.25 => AnswerId::Nothing,
            false if came < 0.9 => AnswerId::Some,
            false => AnswerId::Chalk,
        };
        let round = view["state"]["round"].as_u64().unwrap_or(1);
        let still = self.used * left.powi(round as i32);
        let is_bad =
            self.chance.share() > SEEN_CLEAN.0 + SEEN_CLEAN.1 / (1.0 + (still / 0.5).powi(4));
        let is_bad = is_bad && step.is(Kind::Verify);
        let has_chips = !self.chance.one_in(3.0);
        let answers: BTreeMap<QuestionId, AnswerId> = questions
            .iter()
            .map(|question| {
                let answer = match question.id {
                    QuestionId::Nose => AnswerId::Second,
                    QuestionId::Showed => brought,
                    // Chalk shows as chips, or as a glass that is not clear.
                    QuestionId::Flakes if is_bad && has_chips => AnswerId::Bad,
                    QuestionId::Clear if is_bad && !has_chips => AnswerId::Bad,
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
        json!({"kind": "answered", "step": step.id, "answers": answers})
    }
}

/// One in ten is so many standard deviations off.
const TENTH: f64 = 1.2816;

/// A draw from the normal distribution: twelve even ones.
fn normal(chance: &mut Chance) -> f64 {
    (0..12).map(|_| chance.share()).sum::<f64>() - 6.0
}

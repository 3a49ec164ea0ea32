//! A visit as it stands: its plans and cleans, what is next, what it took, its cards.

use super::cleans::Known;
use super::rounds::{House, stage};
use crate::api::{
    CardView, OutlookView, RunView, StopView, VisitStage, VisitTimer, VisitView, WorthView,
};
use crate::error::ApiError;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_core::brewer::Brewer;
use murlo_core::clean::{Closed, State as CleanState, stands};
use murlo_core::counter::BrewerCard;
use murlo_core::money::Terms as Money;
use murlo_core::plan::{Inside, Plan, Work};
use murlo_core::rounds::{
    Begun, Card, CardFacts, Course, Order, RoomStop, Spent, Stop, Task, Terms, Visit, in_turn, kit,
    savings, schedule, suggested,
};
use murlo_core::text;
use murlo_store::Store;
use qrcode::QrCode;
use qrcode::render::svg;
use std::collections::HashMap;

/// One stop with its plan, or with its clean once begun.
struct Prepared {
    stop: Stop,
    name: String,
    home_id: String,
    after: Vec<String>,
    weight: f64,
    plan: Plan,
    begun: Option<(String, CleanState, Timestamp)>,
}

impl Prepared {
    fn task(&self) -> Task<'_> {
        Task {
            stop: &self.stop,
            name: self.name.clone(),
            home_id: self.home_id.clone(),
            after: self.after.clone(),
            weight: Some(self.weight),
            plan: &self.plan,
            begun: self.begun.as_ref().map(|(clean_id, state, last_at)| Begun {
                clean_id,
                state,
                last_at: *last_at,
            }),
        }
    }

    fn state_text(&self) -> String {
        let Some((_, state, _)) = &self.begun else {
            return "not begun".to_owned();
        };
        match state.closed {
            Some(Closed::Finished) => match &state.acid_left {
                Some(acid) => format!("done, but acid is inside: {acid}"),
                None => "done".to_owned(),
            },
            Some(Closed::Abandoned) => match &state.acid_left {
                Some(acid) => format!("given up with acid inside: {acid}"),
                None => "given up".to_owned(),
            },
            None => {
                let at = state
                    .step
                    .as_ref()
                    .map_or("at its end", |step| step.title.as_str());
                format!("under way: {at}")
            }
        }
    }
}

/// The stops of a visit with their plans; a stop whose clean runs, or ran since the visit began, is that clean.
fn prepare(
    store: &Store,
    house: &House,
    visit: &Visit,
    course: &Course,
) -> Result<Vec<Prepared>, ApiError> {
    let summaries = store.summaries()?;
    let homes: Vec<String> = house
        .homes_of(visit, course)
        .iter()
        .map(|home| home.id.clone())
        .collect();
    let weights = house.proposed(&homes, visit.day);
    let mut all: Vec<Prepared> = Vec::new();
    for stop in visit.all_stops(course) {
        // A brewer that was put away meanwhile is no part of the visit any more.
        let Some(brewer) = house.brewers.get(&stop.brewer_id) else {
            continue;
        };
        let mut begun = None;
        let of_brewer = summaries
            .iter()
            .rev()
            .filter(|clean| clean.brewer_id == brewer.id);
        for clean in of_brewer {
            let ended_in_it = clean
                .closing
                .as_ref()
                .zip(course.started_at)
                .is_some_and(|(end, start)| end.at >= start);
            if !(clean.is_running() || ended_in_it) {
                continue;
            }
            let record = store.clean(&clean.id)?;
            if !stop.is_done_by(&record.plan.circuit_id, record.plan.work, record.plan.job) {
                continue;
            }
            let (plan, state) = stands(&record.plan, &record.events)
                .map_err(|problem| ApiError::Internal(problem.to_string()))?;
            let last_at = record
                .events
                .last()
                .map_or(Timestamp::UNIX_EPOCH, |event| event.at);
            begun = Some((plan.into_owned(), (record.id, state, last_at)));
            break;
        }
        let (plan, begun) = match begun {
            Some((plan, begun)) => (plan, Some(begun)),
            None => (planned(house, brewer, stop)?, None),
        };
        let side = |id: &str| plan.circuit_id == id || !brewer.has_own_reservoirs();
        let after = all.iter().filter(|before| {
            before.stop.brewer_id == brewer.id
                && (side(&before.plan.circuit_id)
                    || plan.work == Work::Upkeep
                    || before.plan.work == Work::Upkeep)
        });
        all.push(Prepared {
            after: after.map(|before| before.stop.id.clone()).collect(),
            name: match &plan.side {
                Some(side) if plan.work != Work::Upkeep => format!("{}, {side}", brewer.nickname),
                _ => brewer.nickname.clone(),
            },
            home_id: brewer.home_id.clone(),
            weight: weights
                .iter()
                .find(|p| p.stop.id == stop.id)
                .map_or(0.5, |p| p.weight),
            stop: stop.clone(),
            plan,
            begun,
        });
    }
    Ok(all)
}

fn planned(house: &House, brewer: &Brewer, stop: &Stop) -> Result<Plan, ApiError> {
    let mut options = stop.options.clone();
    options.taste = options.taste.or(Some(house.past.settings.taste));
    let known = Known::of(&house.past, brewer.clone(), house.agents.clone(), &options)?;
    let facts = known.facts()?;
    Ok(facts.plan(&facts.recommended(options)?)?)
}

/// A visit, seen now.
pub(super) struct Seen<'a> {
    house: &'a House,
    visit: &'a Visit,
    course: Course,
    prepared: Vec<Prepared>,
    now: Timestamp,
}

impl<'a> Seen<'a> {
    pub(super) fn new(
        store: &'a Store,
        house: &'a House,
        visit: &'a Visit,
        now: Timestamp,
    ) -> Result<Self, ApiError> {
        let course = visit.course().map_err(ApiError::Conflict)?;
        let prepared = prepare(store, house, visit, &course)?;
        Ok(Self {
            house,
            visit,
            course,
            prepared,
            now,
        })
    }

    fn names(&self) -> HashMap<String, String> {
        let homes = self.house.homes.iter();
        homes
            .map(|home| (home.id.clone(), home.name.clone()))
            .collect()
    }

    fn open_rooms(&self) -> Vec<&RoomStop> {
        let rooms = self.visit.all_rooms(&self.course);
        rooms
            .filter(|room| !self.course.rooms_done.contains_key(&room.id))
            .collect()
    }

    pub(super) fn outlook(&self) -> OutlookView {
        let tasks: Vec<Task> = self.prepared.iter().map(Prepared::task).collect();
        let rooms = self.open_rooms();
        let homes = self.house.homes_of(self.visit, &self.course);
        let (begins, leave_by) = self.visit.instants(&self.house.zone);
        let names = self.names();
        let terms = |order| Terms {
            order,
            now: begins,
            leave_by,
            travel_min: self.house.travel(&homes),
            place_now: None,
            following: None,
            hands_since: None,
            homes: &names,
        };
        let shortest = schedule(&tasks, &rooms, &terms(Order::Shortest));
        let in_turn_min = in_turn(&tasks, &rooms, self.house.travel(&homes));
        let open = Terms {
            leave_by: None,
            ..terms(self.visit.order)
        };
        let whole = match leave_by {
            None => shortest.minutes,
            Some(_) => schedule(&tasks, &rooms, &open).minutes,
        };
        let plans: Vec<&Plan> = self.prepared.iter().map(|one| &one.plan).collect();
        OutlookView {
            stops: self.stops(),
            calm: schedule(&tasks, &rooms, &terms(Order::Calm)),
            savings: savings(&tasks, &rooms, &open, whole),
            saved: less(in_turn_min, shortest.minutes),
            in_turn_min,
            shortest,
            kit: kit(&plans, &self.house.agents, self.house.past.settings.units),
            minds: self.house.minds(&homes, self.visit.day),
            homes: homes.into_iter().cloned().collect(),
        }
    }

    fn run(&self, started_at: Timestamp, following: Option<&str>) -> RunView {
        let tasks: Vec<Task> = self.prepared.iter().map(Prepared::task).collect();
        let rooms = self.open_rooms();
        let homes = self.house.homes_of(self.visit, &self.course);
        let names = self.names();
        let last = self.last_act(started_at);
        let (_, leave_by) = self.visit.instants(&self.house.zone);
        let terms = Terms {
            order: self.visit.order,
            now: self.now,
            leave_by: leave_by.filter(|by| *by > self.now),
            travel_min: self.house.travel(&homes),
            place_now: last.1,
            following,
            hands_since: Some(last.0),
            homes: &names,
        };
        let left = schedule(&tasks, &rooms, &terms);
        let running = self
            .prepared
            .iter()
            .filter_map(|one| Some((one, one.begun.as_ref()?)));
        let running = running.filter(|(_, (_, state, _))| state.closed.is_none());
        let mut timers = Vec::new();
        let mut acid = Vec::new();
        for (one, (clean_id, state, _)) in running {
            if state.inside == Inside::Bath {
                acid.push(one.stop.id.clone());
            }
            let timer = state.current.and_then(|i| state.steps[i].timer.as_ref());
            timers.extend(timer.map(|timer| {
                VisitTimer {
                    clean_id: clean_id.clone(),
                    name: one.name.clone(),
                    title: state
                        .step
                        .as_ref()
                        .map_or_else(String::new, |step| step.title.clone()),
                    ends_at: timer.ends_at,
                }
            }));
        }
        RunView {
            is_done: left.acts.is_empty() && left.lines.is_empty(),
            now: self.now,
            started_at,
            left,
            timers,
            acid,
        }
    }

    /// When the hands last did something in this visit, and at which home.
    fn last_act(&self, started_at: Timestamp) -> (Timestamp, Option<&str>) {
        let rooms = self.course.rooms_done.iter().filter_map(|(id, at)| {
            let room = self.visit.rooms.iter().find(|room| room.id == *id)?;
            Some((*at, Some(room.home_id.as_str())))
        });
        let cleans = self.prepared.iter().filter_map(|one| {
            let (_, _, at) = one.begun.as_ref()?;
            Some((*at, Some(one.home_id.as_str())))
        });
        let all = rooms
            .chain(cleans)
            .filter(|(at, _)| *at >= started_at && *at <= self.now);
        all.max_by_key(|(at, _)| *at)
            .unwrap_or((started_at.min(self.now), None))
    }

    fn worth(&self, started_at: Timestamp) -> WorthView {
        let tasks: Vec<Task> = self.prepared.iter().map(Prepared::task).collect();
        let rooms = self
            .visit
            .rooms
            .iter()
            .filter(|room| self.course.rooms_done.contains_key(&room.id));
        let homes = self.house.homes_of(self.visit, &self.course);
        let end = self.course.closed_at.unwrap_or(self.now);
        let elapsed = end.duration_since(started_at).as_secs_f64() / 60.0;
        let travel = homes.iter().filter_map(|home| home.travel_min).sum();
        let spent = Spent::of(
            &tasks,
            rooms.map(|room| room.minutes).sum(),
            travel,
            elapsed.max(0.0),
        );
        let settings = &self.house.past.settings;
        let terms = Money {
            currency: settings.currency.clone(),
            hourly_rate: settings.hourly_rate,
            ..Money::default()
        };
        let bill = self
            .course
            .bill
            .clone()
            .unwrap_or_else(|| suggested(&spent, &terms));
        WorthView {
            text: spent.text(),
            spent,
            total: bill.total(),
            total_text: terms.amount(bill.total()),
            lines: bill
                .lines
                .iter()
                .map(|line| format!("{}: {}", line.what, terms.amount(line.amount)))
                .collect(),
            bill,
            currency: settings.currency.clone(),
        }
    }

    fn stops(&self) -> Vec<StopView> {
        let of_brewers = self.prepared.iter().map(|one| StopView {
            id: one.stop.id.clone(),
            name: one.name.clone(),
            what: match (one.plan.work, one.plan.job) {
                (Work::Upkeep, Some(job)) => job.name().to_owned(),
                (Work::Needles, _) => "needles".to_owned(),
                _ => "descale".to_owned(),
            },
            home: self.house.name_of(&one.home_id),
            is_room: false,
            clean_id: one.begun.as_ref().map(|(id, ..)| id.clone()),
            state: one.state_text(),
            is_over: one
                .begun
                .as_ref()
                .is_some_and(|(_, state, _)| state.closed.is_some()),
        });
        let of_rooms = self.visit.all_rooms(&self.course).map(|room| {
            let is_over = self.course.rooms_done.contains_key(&room.id);
            StopView {
                id: room.id.clone(),
                name: room.name.clone(),
                what: text::minutes(f64::from(room.minutes)),
                home: self.house.name_of(&room.home_id),
                is_room: true,
                clean_id: None,
                state: if is_over { "done" } else { "not begun" }.to_owned(),
                is_over,
            }
        });
        of_brewers.chain(of_rooms).collect()
    }

    pub(super) fn view(&self, following: Option<&str>) -> VisitView {
        let stage = stage(self.visit);
        let started = self.course.started_at;
        VisitView {
            stops: self.stops(),
            outlook: (stage == VisitStage::Planned).then(|| self.outlook()),
            run: started
                .filter(|_| stage == VisitStage::Running)
                .map(|at| self.run(at, following)),
            worth: started.map(|at| self.worth(at)),
            homes: self
                .house
                .homes_of(self.visit, &self.course)
                .into_iter()
                .cloned()
                .collect(),
            undo: self.course.undo.clone(),
            visit: self.visit.clone(),
            stage,
        }
    }

    pub(super) fn cards(&self, base: &str) -> Result<Vec<CardView>, ApiError> {
        let cards = self.house.cards();
        let mut all = Vec::new();
        for one in &self.prepared {
            let Some((_, state, _)) = &one.begun else {
                continue;
            };
            if one.plan.work == Work::Upkeep && state.acid_left.is_none() {
                continue;
            }
            // Nothing is left for a clean that was given up with plain water inside.
            match card_of(&cards, &one.plan, state, self.house.today(), base) {
                Ok(card) => all.push(card),
                Err(ApiError::Internal(why)) => return Err(ApiError::Internal(why)),
                Err(_) => {}
            }
        }
        Ok(all)
    }
}

/// The card of one clean.
pub(super) fn card_of(
    cards: &[BrewerCard],
    plan: &Plan,
    clean: &CleanState,
    today: Date,
    base: &str,
) -> Result<CardView, ApiError> {
    let gone = || ApiError::NotFound("this brewer was put away: bring it back first".to_owned());
    let card = cards.iter().find(|card| card.id == plan.brewer_id);
    let card = card.ok_or_else(gone)?;
    let side = card
        .circuits
        .iter()
        .find(|c| c.circuit_id == plan.circuit_id);
    let is_bath = clean.closed.is_none() && clean.inside == Inside::Bath;
    let made = Card::of(&CardFacts {
        card,
        circuit: side.ok_or_else(gone)?,
        outcome: clean
            .outcome
            .as_ref()
            .filter(|_| clean.closed == Some(Closed::Finished)),
        acid: clean
            .acid_left
            .as_deref()
            .or(is_bath.then_some(clean.inside_text.as_str())),
        today,
    });
    Ok(CardView {
        card: made.map_err(ApiError::Conflict)?,
        code: code(&format!("{base}/brewers/{}", plan.brewer_id))?,
    })
}

/// "1 h 12 min less than one after the other".
fn less(in_turn: f64, shortest: f64) -> String {
    match in_turn - shortest {
        saved if saved >= 1.0 => format!("{} less than one after the other", text::minutes(saved)),
        _ => "no less than one after the other".to_owned(),
    }
}

/// An address as a picture of squares.
fn code(address: &str) -> Result<String, ApiError> {
    let code = QrCode::new(address).map_err(|e| ApiError::Internal(e.to_string()))?;
    let picture = code
        .render::<svg::Color<'_>>()
        .min_dimensions(160, 160)
        .build();
    // As part of a page it has no head of its own.
    let start = picture.find("<svg").unwrap_or(0);
    Ok(picture[start..].to_owned())
}

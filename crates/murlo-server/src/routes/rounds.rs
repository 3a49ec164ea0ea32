//! The round of homes: weeks ahead, visits planned and run, cards to leave.

use super::cleans::Known;
use super::facts::archive;
use crate::api::{
    CardView, OutlookView, ProposalView, RoundView, RunView, StopView, VisitAct, VisitBrief,
    VisitStage, VisitTimer, VisitView, VisitWish, WorthView,
};
use crate::error::{ApiError, Asked, Body};
use crate::past::Past;
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::{HeaderMap, StatusCode, header};
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use murlo_core::bath::Agent;
use murlo_core::brewer::Brewer;
use murlo_core::clean::{Closed, State as CleanState, happened_at, stands};
use murlo_core::counter::BrewerCard;
use murlo_core::household::Home;
use murlo_core::money::Terms as Money;
use murlo_core::plan::{Plan, Work};
use murlo_core::problem::{Code, Problem};
use murlo_core::rounds::{
    Begun, Card, CardFacts, Course, Order, Proposed, RoomStop, Spent, Stop, Task, Terms, Visit,
    VisitEvent, VisitWhat, ends, kit, lanes, next_after, propose, savings, schedule, suggested,
};
use murlo_core::text;
use murlo_store::Store;
use qrcode::QrCode;
use qrcode::render::svg;
use serde::Deserialize;
use std::collections::HashMap;

/// So far the round looks ahead.
const AHEAD_DAYS: i32 = 42;
/// Visits that are over and still listed.
const LATELY: usize = 10;

/// What a request about visits reads.
pub(super) struct House {
    past: Past,
    brewers: HashMap<String, Brewer>,
    agents: Vec<Agent>,
    homes: Vec<Home>,
    visits: Vec<Visit>,
    zone: TimeZone,
}

impl House {
    pub(super) fn read(store: &Store, now: Timestamp) -> Result<Self, ApiError> {
        let past = Past::read(store, now)?;
        let brewers = past.brewers().map(|b| (b.id.clone(), b.clone()));
        Ok(Self {
            brewers: brewers.collect(),
            agents: past.with_levels(store.current()?),
            homes: store.current()?,
            visits: store.current()?,
            zone: TimeZone::get(&past.settings.time_zone).unwrap_or(TimeZone::UTC),
            past,
        })
    }

    pub(super) const fn zone(&self) -> &TimeZone {
        &self.zone
    }

    pub(super) const fn today(&self) -> Date {
        self.past.today
    }

    /// Names of the homes of a visit.
    pub(super) fn places(&self, visit: &Visit, course: &Course) -> String {
        let homes = self.homes_of(visit, course);
        let names: Vec<&str> = homes.iter().map(|home| home.name.as_str()).collect();
        names.join(", ")
    }

    pub(super) fn cards(&self) -> Vec<BrewerCard> {
        self.past.facts().cards_with_works(self.past.brewers())
    }

    fn name_of(&self, home_id: &str) -> String {
        let home = self.homes.iter().find(|home| home.id == home_id);
        home.map_or_else(String::new, |home| home.name.clone())
    }

    /// The homes of a visit, in the order in which the household has them.
    fn homes_of(&self, visit: &Visit, course: &Course) -> Vec<&Home> {
        let stops = visit
            .all_stops(course)
            .filter_map(|stop| self.brewers.get(&stop.brewer_id));
        let mut ids: Vec<&str> = stops.map(|brewer| brewer.home_id.as_str()).collect();
        ids.extend(visit.rooms.iter().map(|room| room.home_id.as_str()));
        self.homes
            .iter()
            .filter(|home| ids.contains(&home.id.as_str()))
            .collect()
    }

    /// On the days of these homes when somebody came.
    fn came(&self, homes: &[String]) -> Vec<Date> {
        let is_here = |visit: &&Visit| {
            visit.rooms.iter().any(|room| homes.contains(&room.home_id))
                || visit.stops.iter().any(|stop| {
                    let brewer = self.brewers.get(&stop.brewer_id);
                    brewer.is_some_and(|brewer| homes.contains(&brewer.home_id))
                })
        };
        let visits = self.visits.iter().filter(is_here);
        visits
            .filter(|visit| stage(visit) != VisitStage::Planned)
            .map(|visit| visit.day)
            .collect()
    }

    /// When one comes again after a visit to these homes: the next one that is planned, or after the usual time.
    fn next(&self, homes: &[String], day: Date) -> Date {
        next_after(day, &self.came(homes))
    }

    fn proposed(&self, homes: &[String], day: Date) -> Vec<Proposed> {
        let cards = self.cards();
        let here = |card: &BrewerCard| {
            let brewer = self.brewers.get(&card.id);
            brewer.is_some_and(|brewer| homes.contains(&brewer.home_id))
        };
        let cards: Vec<_> = cards.into_iter().filter(here).collect();
        propose(&cards, &self.brewers, day, self.next(homes, day))
    }

    /// What stands against coming to these homes on that day: nobody home, guests.
    fn minds(&self, homes: &[&Home], day: Date) -> Vec<String> {
        let facts = self.past.facts();
        let mut minds = Vec::new();
        for home in homes {
            let here = self
                .brewers
                .values()
                .filter(|brewer| brewer.home_id == home.id);
            let mut away = here.flat_map(|brewer| facts.away(brewer));
            if let Some((from, to)) = away.find(|(from, to)| (*from..=*to).contains(&day)) {
                let today = self.past.today;
                let (from, to) = (text::day(from, today), text::day(to, today));
                minds.push(format!("{}: away from {from} to {to}", home.name));
            }
            if let Some(told) = home
                .guests
                .as_ref()
                .and_then(|guests| guests.mind(day, self.past.settings.has_12_hours()))
            {
                minds.push(format!("{}: {told}", home.name));
            }
        }
        minds
    }

    fn travel(&self, homes: &[&Home]) -> u32 {
        homes
            .iter()
            .filter_map(|home| home.travel_min)
            .max()
            .unwrap_or(0)
    }
}

fn stage(visit: &Visit) -> VisitStage {
    match visit.course() {
        Ok(course) if course.closed_at.is_some() => VisitStage::Closed,
        Ok(course) if course.started_at.is_some() => VisitStage::Running,
        _ => VisitStage::Planned,
    }
}

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
struct Seen<'a> {
    house: &'a House,
    visit: &'a Visit,
    course: Course,
    prepared: Vec<Prepared>,
    now: Timestamp,
}

impl<'a> Seen<'a> {
    fn new(
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

    fn outlook(&self) -> OutlookView {
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
        let in_turn_min = ends(&tasks, &rooms, self.house.travel(&homes));
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
            if state.inside == murlo_core::plan::Inside::Bath {
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

    fn view(&self, following: Option<&str>) -> VisitView {
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

    fn cards(&self, base: &str) -> Result<Vec<CardView>, ApiError> {
        let cards = self.house.cards();
        let mut all = Vec::new();
        for one in &self.prepared {
            let Some((_, state, _)) = &one.begun else {
                continue;
            };
            if one.plan.work == Work::Upkeep && state.acid_left.is_none() {
                continue;
            }
            let Some(card) = cards.iter().find(|card| card.id == one.stop.brewer_id) else {
                continue;
            };
            let Some(circuit) = card
                .circuits
                .iter()
                .find(|c| c.circuit_id == one.plan.circuit_id)
            else {
                continue;
            };
            let inside = (state.closed.is_none() && state.inside == murlo_core::plan::Inside::Bath)
                .then_some(state.inside_text.as_str());
            let facts = CardFacts {
                card,
                circuit,
                outcome: state
                    .outcome
                    .as_ref()
                    .filter(|_| state.closed == Some(Closed::Finished)),
                acid: state.acid_left.as_deref().or(inside),
                today: self.house.past.today,
            };
            // Nothing is left for a clean that was given up with plain water inside.
            let Ok(made) = Card::of(&facts) else { continue };
            all.push(CardView {
                code: code(&format!("{base}/brewers/{}", card.id))?,
                card: made,
            });
        }
        Ok(all)
    }
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

/// How this household was asked for.
fn base(headers: &HeaderMap) -> String {
    let host = headers
        .get(header::HOST)
        .and_then(|host| host.to_str().ok());
    format!("http://{}", host.unwrap_or("localhost"))
}

/// The weeks ahead, home by home, and visits.
#[utoipa::path(get, path = "/api/round", responses((status = 200, body = RoundView)))]
pub async fn round(State(state): State<AppState>) -> Result<Json<RoundView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let house = House::read(store, now)?;
        let cards = house.cards();
        let today = house.past.today;
        let mut by_home: HashMap<&str, Vec<&BrewerCard>> = HashMap::new();
        let mut away: HashMap<&str, Vec<(Date, Date)>> = HashMap::new();
        let facts = house.past.facts();
        for card in &cards {
            if let Some(brewer) = house.brewers.get(&card.id) {
                by_home.entry(&brewer.home_id).or_default().push(card);
                let days = away.entry(&brewer.home_id).or_default();
                days.extend(facts.away(brewer));
                days.sort_unstable();
                days.dedup();
            }
        }
        let lanes = lanes(
            &house.homes,
            &by_home,
            &away,
            &house.visits,
            today,
            AHEAD_DAYS,
            house.past.settings.has_12_hours(),
        );
        Ok(RoundView {
            visits: briefs(&house),
            feed: store.feed()?.map(|token| super::calendar::path_of(&token)),
            lanes,
            today,
        })
    });
    Ok(Json(view.await?))
}

/// Visits ahead by day, then those that are over, the last first.
fn briefs(house: &House) -> Vec<VisitBrief> {
    let places = |visit: &Visit, course: &Course| house.places(visit, course);
    let mut all: Vec<VisitBrief> = house.visits.iter().map(|v| brief(v, places)).collect();
    all.sort_by_key(|visit| (visit.day, visit.from));
    let is_over = |visit: &VisitBrief| visit.stage == VisitStage::Closed;
    let (over, mut ahead): (Vec<_>, Vec<_>) = all.into_iter().partition(is_over);
    ahead.extend(over.into_iter().rev().take(LATELY));
    ahead
}

fn brief(visit: &Visit, places: impl Fn(&Visit, &Course) -> String) -> VisitBrief {
    let course = visit.course().unwrap_or_default();
    VisitBrief {
        id: visit.id.clone(),
        day: visit.day,
        from: visit.from,
        homes: places(visit, &course),
        text: in_short(visit, &course),
        stage: stage(visit),
    }
}

/// Visits that run, and those planned for today.
pub(super) fn today(store: &Store, past: &Past) -> Result<Vec<VisitBrief>, ApiError> {
    let mut visits: Vec<Visit> = store.current()?;
    visits.retain(|visit| match stage(visit) {
        VisitStage::Running => true,
        VisitStage::Planned => visit.day == past.today,
        VisitStage::Closed => false,
    });
    if visits.is_empty() {
        return Ok(Vec::new());
    }
    let homes: Vec<Home> = store.current()?;
    let places = |visit: &Visit, course: &Course| {
        let stops: Vec<&str> = visit
            .all_stops(course)
            .map(|stop| stop.brewer_id.as_str())
            .collect();
        let brewers = past
            .brewers()
            .filter(|brewer| stops.contains(&brewer.id.as_str()));
        let mut ids: Vec<&str> = brewers.map(|brewer| brewer.home_id.as_str()).collect();
        ids.extend(visit.rooms.iter().map(|room| room.home_id.as_str()));
        let names = homes.iter().filter(|home| ids.contains(&home.id.as_str()));
        names
            .map(|home| home.name.as_str())
            .collect::<Vec<_>>()
            .join(", ")
    };
    Ok(visits.iter().map(|visit| brief(visit, places)).collect())
}

/// "3 brewers, 2 rooms".
pub(super) fn in_short(visit: &Visit, course: &Course) -> String {
    let mut ids: Vec<&str> = visit
        .all_stops(course)
        .map(|stop| stop.brewer_id.as_str())
        .collect();
    ids.sort_unstable();
    ids.dedup();
    let brewers = text::count(ids.len() as u32, "brewer", "brewers");
    match visit.all_rooms(course).count() as u32 {
        0 => brewers,
        n => format!("{brewers}, {}", text::count(n, "room", "rooms")),
    }
}

/// What a visit to these homes on that day could do.
#[utoipa::path(post, path = "/api/visits/propose", request_body = VisitWish, responses((status = 200, body = ProposalView), (status = 422)))]
pub async fn propose_visit(
    State(state): State<AppState>,
    Body(wish): Body<VisitWish>,
) -> Result<Json<ProposalView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let house = House::read(store, now)?;
        let mut homes = Vec::new();
        for id in &wish.homes {
            let home = house.homes.iter().find(|home| home.id == *id);
            homes.push(home.ok_or_else(|| {
                let message = format!("no home has the id \"{id}\"");
                Problem::new(Code::UnknownId, "homes", message)
            })?);
        }
        let rooms = homes.iter().flat_map(|home| {
            home.rooms.iter().map(|room| RoomStop {
                id: format!("{}-{}", home.id, room.id),
                home_id: home.id.clone(),
                name: room.name.clone(),
                minutes: room.minutes,
            })
        });
        Ok(ProposalView {
            next: house.next(&wish.homes, wish.day),
            stops: house.proposed(&wish.homes, wish.day),
            rooms: rooms.collect(),
            minds: house.minds(&homes, wish.day),
        })
    });
    Ok(Json(view.await?))
}

fn checked(visit: &Visit, house: &House) -> Result<(), ApiError> {
    visit.check()?;
    let is_home = |id: &str| house.homes.iter().any(|home| home.id == id);
    Ok(visit.check_names(is_home, &house.brewers)?)
}

/// What a visit would come to that is not kept yet.
#[utoipa::path(post, path = "/api/visits/look", request_body = Visit, responses((status = 200, body = OutlookView), (status = 422)))]
pub async fn look_at_visit(
    State(state): State<AppState>,
    Body(visit): Body<Visit>,
) -> Result<Json<OutlookView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let house = House::read(store, now)?;
        checked(&visit, &house)?;
        let visit = Visit {
            events: Vec::new(),
            ..visit
        };
        Ok(Seen::new(store, &house, &visit, now)?.outlook())
    });
    Ok(Json(view.await?))
}

/// Keeps a visit under an id made by the device, or changes what was planned; what happened in it stays.
#[utoipa::path(put, path = "/api/visits/{id}", params(("id" = String, Path)), request_body = Visit, responses((status = 204), (status = 409), (status = 422)))]
pub async fn put_visit(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(visit): Body<Visit>,
) -> Result<StatusCode, ApiError> {
    if visit.id != id {
        let message = "the id in the address and in the body differ";
        return Err(Problem::new(Code::Contradiction, "id", message).into());
    }
    let now = state.now();
    state
        .store(move |store| {
            let house = House::read(store, now)?;
            checked(&visit, &house)?;
            let known = store
                .all::<Visit>()?
                .into_iter()
                .find(|kept| kept.fact.id == id);
            let events = known.map_or_else(Vec::new, |kept| kept.fact.events);
            let same_plan = Visit {
                events: events.clone(),
                ..visit.clone()
            };
            if stage(&same_plan) == VisitStage::Closed {
                let message = "this visit is over: open it again first";
                return Err(ApiError::Conflict(Problem::new(
                    Code::DoesNotFit,
                    "id",
                    message,
                )));
            }
            same_plan.course().map_err(ApiError::Conflict)?;
            Ok(store.put(&same_plan)?)
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// What the device follows.
#[derive(Deserialize)]
pub struct Follows {
    #[serde(default)]
    following: Option<String>,
}

/// A visit with all that comes of it.
#[utoipa::path(get, path = "/api/visits/{id}", params(("id" = String, Path), ("following" = Option<String>, Query, description = "The stop or room whose instruction is being followed")), responses((status = 200, body = VisitView), (status = 404)))]
pub async fn visit(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Asked(asked): Asked<Follows>,
) -> Result<Json<VisitView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let visit: Visit = store.get(&id)?;
        let house = House::read(store, now)?;
        Ok(Seen::new(store, &house, &visit, now)?.view(asked.following.as_deref()))
    });
    Ok(Json(view.await?))
}

/// Takes an act of a visit in; sending it again is harmless.
#[utoipa::path(post, path = "/api/visits/{id}/acts", params(("id" = String, Path)), request_body = VisitAct, responses((status = 200, body = VisitView), (status = 404), (status = 409), (status = 422)))]
pub async fn act_on_visit(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(act): Body<VisitAct>,
) -> Result<Json<VisitView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let house = House::read(store, now)?;
        if let VisitWhat::Added { stop } = &act.what {
            let probe = Visit {
                stops: vec![stop.clone()],
                rooms: Vec::new(),
                ..store.get::<Visit>(&id)?
            };
            checked(&probe, &house)?;
        }
        let event = VisitEvent {
            at: happened_at(now, act.device_at, act.sent_at),
            id: act.id,
            what: act.what,
        };
        let visit = store.alter::<Visit>(&id, |visit| {
            match visit.events.iter().find(|known| known.id == event.id) {
                Some(known) if known.what == event.what => Ok(visit),
                Some(_) => Err(Problem::new(
                    Code::DoesNotFit,
                    "id",
                    "another act has this id: make a new one",
                )
                .into()),
                None => visit.admit(event),
            }
        })?;
        Ok(Seen::new(store, &house, &visit, now)?.view(None))
    });
    let view = view.await?;
    state.changed("facts");
    Ok(Json(view))
}

/// Cards to leave at the brewers of a visit.
#[utoipa::path(get, path = "/api/visits/{id}/cards", params(("id" = String, Path)), responses((status = 200, body = Vec<CardView>), (status = 404)))]
pub async fn visit_cards(
    State(state): State<AppState>,
    Path(id): Path<String>,
    headers: HeaderMap,
) -> Result<Json<Vec<CardView>>, ApiError> {
    let (now, base) = (state.now(), base(&headers));
    let view = state.store(move |store| {
        let visit: Visit = store.get(&id)?;
        let house = House::read(store, now)?;
        Seen::new(store, &house, &visit, now)?.cards(&base)
    });
    Ok(Json(view.await?))
}

/// The card of one clean.
#[utoipa::path(get, path = "/api/cleans/{id}/card", params(("id" = String, Path)), responses((status = 200, body = CardView), (status = 404), (status = 409)))]
pub async fn clean_card(
    State(state): State<AppState>,
    Path(id): Path<String>,
    headers: HeaderMap,
) -> Result<Json<CardView>, ApiError> {
    let (now, base) = (state.now(), base(&headers));
    let view = state.store(move |store| {
        let record = store.clean(&id)?;
        let house = House::read(store, now)?;
        let (plan, clean) = stands(&record.plan, &record.events)
            .map_err(|problem| ApiError::Internal(problem.to_string()))?;
        let gone =
            || ApiError::NotFound("this brewer was put away: bring it back first".to_owned());
        let cards = house.cards();
        let card = cards
            .iter()
            .find(|card| card.id == plan.brewer_id)
            .ok_or_else(gone)?;
        let circuit = card
            .circuits
            .iter()
            .find(|c| c.circuit_id == plan.circuit_id)
            .ok_or_else(gone)?;
        let inside = (clean.closed.is_none() && clean.inside == murlo_core::plan::Inside::Bath)
            .then_some(clean.inside_text.as_str());
        let made = Card::of(&CardFacts {
            card,
            circuit,
            outcome: clean
                .outcome
                .as_ref()
                .filter(|_| clean.closed == Some(Closed::Finished)),
            acid: clean.acid_left.as_deref().or(inside),
            today: house.past.today,
        });
        Ok(CardView {
            card: made.map_err(ApiError::Conflict)?,
            code: code(&format!("{base}/brewers/{}", plan.brewer_id))?,
        })
    });
    Ok(Json(view.await?))
}

/// Puts a visit away; `restore` brings it back.
#[utoipa::path(delete, path = "/api/visits/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn delete_visit(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<Visit>(state, id, true).await
}

/// Brings a visit back.
#[utoipa::path(post, path = "/api/visits/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_visit(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<Visit>(state, id, false).await
}

/// Changes what is known of a home.
#[utoipa::path(put, path = "/api/homes/{id}", params(("id" = String, Path)), request_body = Home, responses((status = 204), (status = 404), (status = 422)))]
pub async fn put_home(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(home): Body<Home>,
) -> Result<StatusCode, ApiError> {
    if home.id != id {
        let message = "the id in the address and in the body differ";
        return Err(Problem::new(Code::Contradiction, "id", message).into());
    }
    let home = home.checked()?;
    state
        .store(move |store| Ok(store.alter::<Home>(&id, |_| Ok(home))?))
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// Puts a home away, unless brewers stand there or a visit is planned; `restore` brings it back.
#[utoipa::path(delete, path = "/api/homes/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404), (status = 409)))]
pub async fn delete_home(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    let now = state.now();
    let checked = id.clone();
    state
        .store(move |store| {
            let house = House::read(store, now)?;
            let refuse =
                |message: &str| ApiError::Conflict(Problem::new(Code::DoesNotFit, "id", message));
            if house
                .brewers
                .values()
                .any(|brewer| brewer.home_id == checked)
            {
                return Err(refuse(
                    "brewers stand there: put them away or move them first",
                ));
            }
            let rooms = |visit: &Visit| visit.rooms.iter().any(|room| room.home_id == checked);
            if house
                .visits
                .iter()
                .any(|visit| stage(visit) != VisitStage::Closed && rooms(visit))
            {
                return Err(refuse(
                    "a visit is planned there: take it out of the visit first",
                ));
            }
            if house.homes.iter().all(|home| home.id == checked) {
                return Err(refuse("this is the only home: add another one first"));
            }
            Ok(())
        })
        .await?;
    archive::<Home>(state, id, true).await
}

/// Brings a home back.
#[utoipa::path(post, path = "/api/homes/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_home(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<Home>(state, id, false).await
}

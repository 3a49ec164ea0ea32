//! A visit as it stands: its plans and cleans, what is next, what it took, its cards.

use crate::api::{
    CardView, OutlookView, RunView, StopView, UnrinsedView, VisitTimer, VisitView, WorthView,
};
use crate::cards::cards_of;
use crate::error::ApiError;
use crate::house::{House, StopKey, StopPlan};
use crate::known::KnownBrewer;
use jiff::Timestamp;
use jiff::civil::Time;
use jiff::tz::TimeZone;
use murlo_base::problem::{Code, Problem};
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::home::Home;
use murlo_chalk::money::Terms;
use murlo_clean::stands;
use murlo_household::rounds::{
    Begun, Bill, Block, LeftStop, MaterialPrices, Planned, RoomStop, ScheduleTerms, Spent, Stop,
    Task, Visit, VisitCourse, VisitDraft, VisitStage, at_homes, guests_come, kit, outlook, pace,
    schedule, suggested, travel_between,
};
use murlo_household::{PhotoBrief, PhotoOf};
use murlo_plan::Plan;
use murlo_store::Store;
use rayon::prelude::*;
use std::collections::HashMap;

/// A stop that cannot be planned.
struct Unplanned {
    stop: Stop,
    reason: String,
}

/// The stops of a visit with their plans, and those that cannot be planned with the reason; a stop whose clean runs, or ran since
/// the visit began, is that clean.
fn tasks(
    store: &Store,
    house: &House,
    visit: &Visit,
    course: &VisitCourse,
) -> Result<(Vec<Task>, Vec<Unplanned>), ApiError> {
    let summaries = store.summaries()?;
    let homes = house.places().of(visit, course);
    let homes: Vec<String> = homes.iter().map(|home| home.id.clone()).collect();
    let ahead = house.ahead();
    let proposed = ahead.proposed(&homes, visit.day, Some(&visit.id));
    let mut all: Vec<Task> = Vec::new();
    let mut unplanned = Vec::new();
    for stop in visit.all_stops(course) {
        // A brewer that was put away meanwhile is no part of the visit any more.
        let Some(brewer) = house.brewers.get(&stop.brewer_id) else {
            continue;
        };
        let mut begun = None;
        for clean in summaries.iter().rev() {
            let ended_at = clean.closing.as_ref().map(|closing| closing.at);
            if clean.brewer_id != brewer.id || !course.may_hold(ended_at) {
                continue;
            }
            let record = store.clean(&clean.id)?;
            if stop.is_done_by(&record.plan.circuit_id, record.plan.work, record.plan.job) {
                begun = Some(record);
                break;
            }
        }
        let planned = match begun {
            Some(record) => {
                let (plan, state) = stands(&record.plan, &record.events)
                    .map_err(|problem| ApiError::Internal(problem.to_string()))?;
                let last = record.events.last();
                let begun = Begun {
                    last_at: last.map_or(Timestamp::UNIX_EPOCH, |event| event.at),
                    last_by: last.and_then(|event| event.by.clone()),
                    clean_id: record.id,
                    state,
                };
                (plan.into_owned(), Some(begun))
            }
            None => match planned(house, brewer, stop)? {
                Ok(plan) => (plan, None),
                Err(reason) => {
                    let stop = stop.clone();
                    unplanned.push(Unplanned { stop, reason });
                    continue;
                }
            },
        };
        all.push(Task::new(stop, brewer, planned, &all, &proposed));
    }
    Ok((all, unplanned))
}

/// The plan of a stop, or why there is none: one stop that cannot be planned keeps no visit from being seen.
fn planned(house: &House, brewer: &Brewer, stop: &Stop) -> Result<StopPlan, ApiError> {
    let known = house.plans.get().and_then(|plans| plans.get(&key_of(stop)));
    if let Some(known) = known {
        return Ok(known.clone());
    }
    match plan_of(house, brewer, stop) {
        Ok(plan) => Ok(Ok(plan)),
        Err(ApiError::Wrong(problems)) => {
            let first = problems.0.into_iter().next();
            Ok(Err(
                first.map_or_else(String::new, |problem| problem.message)
            ))
        }
        Err(ApiError::Conflict(problem)) => Ok(Err(problem.message)),
        Err(other) => Err(other),
    }
}

fn key_of(stop: &Stop) -> StopKey {
    let options = serde_json::to_string(&stop.options).unwrap_or_default();
    (stop.brewer_id.clone(), options)
}

/// Works out the plans of many stops at once, as many as there are cores.
pub(super) fn plan_together<'a>(
    house: &House,
    stops: impl Iterator<Item = &'a Stop>,
) -> Result<(), ApiError> {
    let stops: HashMap<StopKey, &Stop> = stops.map(|stop| (key_of(stop), stop)).collect();
    let plans: Result<HashMap<StopKey, StopPlan>, ApiError> = stops
        .into_par_iter()
        .filter_map(|(key, stop)| Some((key, house.brewers.get(&stop.brewer_id)?, stop)))
        .map(|(key, brewer, stop)| Ok((key, planned(house, brewer, stop)?)))
        .collect();
    // Somebody else may have worked them out.
    let _ = house.plans.set(plans?);
    Ok(())
}

fn plan_of(house: &House, brewer: &Brewer, stop: &Stop) -> Result<Plan, ApiError> {
    let mut options = stop.options.clone();
    options.taste = options.taste.or(Some(house.past.settings.rinses_for()));
    let known = KnownBrewer::of(&house.past, brewer.clone(), house.agents.clone(), &options)?;
    let facts = known.facts()?;
    Ok(facts.plan(&facts.recommended(options)?)?)
}

/// A visit, seen now.
pub(super) struct Seen<'a> {
    house: &'a House,
    visit: &'a Visit,
    course: VisitCourse,
    tasks: Vec<Task>,
    unplanned: Vec<Unplanned>,
    photos: Vec<PhotoBrief>,
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
        let (tasks, unplanned) = tasks(store, house, visit, &course)?;
        Ok(Self {
            unplanned,
            house,
            visit,
            course,
            tasks,
            photos: store.photos_of(&PhotoOf::Visit(visit.id.clone()))?,
            now,
        })
    }

    fn homes(&self) -> Vec<&Home> {
        self.house.places().of(self.visit, &self.course)
    }

    /// The plans of what is left to do.
    pub(super) fn plans(&self) -> impl Iterator<Item = &Plan> {
        let open = self.tasks.iter().filter(|task| !task.is_over());
        open.map(|task| &task.plan)
    }

    /// Asks for the order of its work as it is planned.
    fn as_planned<T>(&self, ask: impl FnOnce(&[Task], &[&RoomStop], &ScheduleTerms) -> T) -> T {
        let homes = self.homes();
        let (begins, leave_by) = self.visit.instants(&self.course, &self.house.zone);
        let terms = ScheduleTerms {
            order: self.visit.order,
            now: begins,
            leave_by,
            travel_min: travel_between(&homes),
            place_now: None,
            following: None,
            hands_since: None,
            in_turn: &ids(&homes),
            guests_come: &guests_come(&homes, self.visit.day),
            homes: &self.house.places().names(),
        };
        ask(&self.tasks, &self.visit.open_rooms(&self.course), &terms)
    }

    pub(super) fn outlook(&self) -> OutlookView {
        let homes = self.homes();
        let plans: Vec<&Plan> = self.plans().collect();
        OutlookView {
            stops: self.stops(),
            outlook: self.as_planned(outlook),
            kit: kit(&plans, self.house.stock(&self.house.pieces())),
            minds: self.house.minds(&homes, self.visit.day),
            homes: homes.into_iter().cloned().collect(),
        }
    }

    /// As a week shows it; `draft` where nobody has confirmed it, with what has changed where somebody has.
    pub(super) fn block(&self, draft: Option<&VisitDraft>, changes: Vec<String>) -> Block {
        let homes = match draft {
            // One comes there, with nothing to do or with much.
            Some(draft) => {
                let all = self.house.homes.iter();
                all.filter(|home| home.id == draft.home_id).collect()
            }
            None => self.homes(),
        };
        let ordered = match self.visit.stage() {
            VisitStage::Planned => Some(self.as_planned(schedule)),
            VisitStage::Running => self
                .course
                .started_at
                .map(|started_at| self.run(started_at, None).left),
            VisitStage::Closed => None,
        };
        let unplanned = self.unplanned.iter();
        let planned = Planned {
            visit: self.visit,
            course: &self.course,
            draft,
            tasks: &self.tasks,
            unplanned: unplanned
                .map(|one| self.plain(&one.stop, String::new()).name)
                .collect(),
            ordered: ordered.as_ref(),
            homes: homes
                .iter()
                .map(|home| (home.id.as_str(), home.name.as_str()))
                .collect(),
            minds: match self.visit.stage() {
                VisitStage::Closed => Vec::new(),
                VisitStage::Planned | VisitStage::Running => {
                    self.house.minds(&homes, self.visit.day)
                }
            },
            changes,
        };
        Block::of(planned, self.house.clock())
    }

    fn run(&self, started_at: Timestamp, following: Option<&str>) -> RunView {
        let (last_at, place_now) =
            self.visit
                .last_act(&self.course, &self.tasks, started_at, self.now);
        let homes = self.homes();
        let (begins, leave_by) = self.visit.instants(&self.course, &self.house.zone);
        let (until, order) = self.visit.ends_and_order(&self.course);
        let places = self.house.places();
        let terms = ScheduleTerms {
            order,
            now: self.now,
            leave_by,
            travel_min: travel_between(&homes),
            place_now,
            following,
            hands_since: Some(last_at),
            in_turn: &ids(&homes),
            guests_come: &guests_come(&homes, self.visit.day),
            homes: &places.names(),
        };
        let open = self.visit.open_rooms(&self.course);
        let left = schedule(&self.tasks, &open, &terms);
        let rooms: Vec<_> = self.visit.all_rooms(&self.course).collect();
        let running = self
            .tasks
            .iter()
            .filter_map(|one| Some((one, one.running()?)));
        let timers = running.filter_map(
            |(
                one,
                Begun {
                    clean_id, state, ..
                },
            )| {
                let timer = state.steps[state.current?].timer.as_ref()?;
                let step = state.step.as_ref();
                Some(VisitTimer {
                    clean_id: clean_id.clone(),
                    name: one.name.clone(),
                    title: step.map_or_else(String::new, |step| step.title.clone()),
                    ends_at: timer.ends_at,
                })
            },
        );
        let timers = timers.collect();
        let inside = self.tasks.iter().filter(|one| one.is_unrinsed());
        let inside = inside.filter_map(|one| {
            Some(UnrinsedView {
                id: one.stop.id.clone(),
                clean_id: one.running()?.clean_id.clone(),
                name: one.name.clone(),
                is_bath: one.holds_bath(),
                text: one.way_out(),
                takes: text::minutes(one.rinse_out_min()),
            })
        });
        RunView {
            is_done: self.tasks.iter().all(Task::is_over)
                && open.is_empty()
                && self.unplanned.is_empty(),
            pace: pace(&self.tasks, &rooms, &terms, (begins, started_at), &left),
            place: place_now.map(|home| places.name_of(home)),
            inside: inside.collect(),
            now: self.now,
            clock: time_of(self.now, &self.house.zone),
            started_at,
            until: until.filter(|_| leave_by.is_some()),
            order,
            left,
            timers,
        }
    }

    pub(super) fn may_arrive(&self, home: &str, leaves: &[String]) -> Result<(), ApiError> {
        if !self.homes().iter().any(|known| known.id == home) {
            let message = format!("no home of this visit has the id \"{home}\"");
            return Err(Problem::new(Code::UnknownId, "what.home", message).into());
        }
        Visit::may_arrive(&self.tasks, home, leaves).map_err(ApiError::Conflict)
    }

    pub(super) fn may_drop(&self, id: &str) -> Result<(), ApiError> {
        Visit::may_drop(&self.tasks, id).map_err(ApiError::Conflict)
    }

    pub(super) fn may_close(&self, left: &[LeftStop]) -> Result<(), ApiError> {
        let named = |id: &String| left.iter().any(|one| one.id == *id);
        if let Some(Unplanned { stop, .. }) = self.unplanned.iter().find(|one| !named(&one.stop.id))
        {
            let name = self.plain(stop, String::new()).name;
            let message = format!("{name} is not done: move it to a day, or leave it");
            return Err(ApiError::Conflict(Problem::new(
                Code::DoesNotFit,
                "what",
                message,
            )));
        }
        let may = self.visit.may_close(&self.course, &self.tasks, left);
        may.map_err(ApiError::Conflict)
    }

    fn worth(&self, started_at: Timestamp) -> WorthView {
        let rooms = self.visit.rooms.iter();
        let done = rooms.filter(|room| self.course.rooms_done.contains_key(&room.id));
        let homes = self.homes();
        let (last_at, _) = self
            .visit
            .last_act(&self.course, &self.tasks, started_at, self.now);
        let is_done =
            self.tasks.iter().all(Task::is_over) && self.visit.open_rooms(&self.course).is_empty();
        // Whoever closes it in the evening is not paid until the evening.
        let until = self.course.closed_at.unwrap_or(self.now);
        let span = (started_at, if is_done { last_at } else { until });
        let rooms_min = done.map(|room| room.minutes).sum();
        let spent = Spent::of(&self.tasks, rooms_min, span);
        let settings = &self.house.past.settings;
        let terms = Terms {
            currency: settings.currency.clone(),
            hourly_rate: settings.hourly_rate,
            ..Terms::default()
        };
        let bill = self.course.bill.clone().unwrap_or_else(|| {
            let homes = (homes.as_slice(), travel_between(&homes));
            let prices = MaterialPrices {
                agents: &self.house.agents,
                supplies: &self.house.past.supplies,
                units: settings.units,
            };
            let tasks = (self.tasks.as_slice(), prices);
            suggested(&at_homes(homes, &self.course, tasks, span), &terms)
        });
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
        let places = self.house.places();
        let of_brewers = self.tasks.iter().map(|one| StopView {
            id: one.stop.id.clone(),
            name: one.name.clone(),
            what: one.what().to_owned(),
            home: places.name_of(&one.home_id),
            is_room: false,
            clean_id: one.begun.as_ref().map(|begun| begun.clean_id.clone()),
            state: one.state_text(),
            is_over: one.is_over(),
            is_left: false,
        });
        let of_rooms = self.visit.all_rooms(&self.course).map(|room| {
            let is_over = self.course.rooms_done.contains_key(&room.id);
            StopView {
                is_over,
                ..self.room(room, if is_over { "done" } else { "not begun" }.to_owned())
            }
        });
        of_brewers
            .chain(of_rooms)
            .chain(
                self.unplanned
                    .iter()
                    .map(|one| self.plain(&one.stop, format!("cannot be planned: {}", one.reason))),
            )
            .chain(self.left())
            .collect()
    }

    /// What was left for another time.
    fn left(&self) -> Vec<StopView> {
        let today = self.house.today();
        let state = |id: &str| match self.course.dropped.get(id).copied().flatten() {
            Some(day) => format!("moved to {}", text::day(day, today)),
            None => "left for another time".to_owned(),
        };
        let is_left = |id: &str| self.course.dropped.contains_key(id);
        let stops = self.visit.stops.iter().chain(&self.course.added);
        let stops = stops.filter(|stop| is_left(&stop.id)).map(|stop| StopView {
            is_left: true,
            ..self.plain(stop, state(&stop.id))
        });
        let rooms = self.visit.rooms.iter().filter(|room| is_left(&room.id));
        stops
            .chain(rooms.map(|room| StopView {
                is_left: true,
                ..self.room(room, state(&room.id))
            }))
            .collect()
    }

    fn plain(&self, stop: &Stop, state: String) -> StopView {
        let brewer = self.house.brewers.get(&stop.brewer_id);
        StopView {
            id: stop.id.clone(),
            name: brewer.map_or_else(
                || "A brewer put away".to_owned(),
                |brewer| stop.name(brewer),
            ),
            what: stop.what().to_owned(),
            home: brewer.map_or_else(String::new, |brewer| {
                self.house.places().name_of(&brewer.home_id)
            }),
            is_room: false,
            clean_id: None,
            state,
            is_over: false,
            is_left: false,
        }
    }

    fn room(&self, room: &RoomStop, state: String) -> StopView {
        StopView {
            id: room.id.clone(),
            name: room.name.clone(),
            what: text::minutes(f64::from(room.minutes)),
            home: self.house.places().name_of(&room.home_id),
            is_room: true,
            clean_id: None,
            state,
            is_over: false,
            is_left: false,
        }
    }

    pub(super) fn view(&self, following: Option<&str>) -> VisitView {
        let stage = self.visit.stage();
        let started = self.course.started_at;
        VisitView {
            photos: self.photos.clone(),
            stops: self.stops(),
            outlook: (stage == VisitStage::Planned).then(|| self.outlook()),
            run: started
                .filter(|_| stage == VisitStage::Running)
                .map(|at| self.run(at, following)),
            worth: started.map(|at| self.worth(at)),
            homes: self.homes().into_iter().cloned().collect(),
            undo: self.course.undo.clone(),
            visit: self.visit.clone(),
            stage,
        }
    }

    /// What it is worth; absent before it began.
    pub(super) fn bill(&self) -> Option<Bill> {
        let started_at = self.course.started_at?;
        Some(self.worth(started_at).bill)
    }

    pub(super) fn cards(&self, base: &str) -> Result<Vec<CardView>, ApiError> {
        cards_of(&self.tasks, self.house.cards(), self.house.today(), base)
    }
}

fn ids<'a>(homes: &[&'a Home]) -> Vec<&'a str> {
    homes.iter().map(|home| home.id.as_str()).collect()
}

/// An instant by a household's clock, in whole minutes.
fn time_of(at: Timestamp, zone: &TimeZone) -> Time {
    let time = zone.to_datetime(at).time();
    time.with()
        .second(0)
        .subsec_nanosecond(0)
        .build()
        .unwrap_or(time)
}

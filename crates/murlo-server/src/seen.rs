//! A visit as it stands: its plans and cleans, what is next, what it took, its cards.

use crate::api::{CardView, OutlookView, RunView, StopView, VisitTimer, VisitView, WorthView};
use crate::error::ApiError;
use crate::house::House;
use crate::known::KnownBrewer;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::home::Home;
use murlo_chalk::money::Terms;
use murlo_clean::{Closed, State as CleanState, stands};
use murlo_household::counter::BrewerCard;
use murlo_household::rounds::{
    Begun, Card, CardFacts, ScheduleTerms, Spent, Stop, Task, Visit, VisitCourse, VisitStage,
    guests_come, kit, outlook, schedule, suggested, travel_between,
};
use murlo_household::{PhotoBrief, PhotoOf};
use murlo_plan::{Inside, Plan, Work};
use murlo_store::Store;
use qrcode::QrCode;
use qrcode::render::svg;

/// The stops of a visit with their plans; a stop whose clean runs, or ran since the visit began, is that clean.
fn tasks(
    store: &Store,
    house: &House,
    visit: &Visit,
    course: &VisitCourse,
) -> Result<Vec<Task>, ApiError> {
    let summaries = store.summaries()?;
    let homes = house.places().of(visit, course);
    let homes: Vec<String> = homes.iter().map(|home| home.id.clone()).collect();
    let proposed = house.proposed(&homes, visit.day);
    let mut all: Vec<Task> = Vec::new();
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
                    clean_id: record.id,
                    state,
                };
                (plan.into_owned(), Some(begun))
            }
            None => (plan_of(house, brewer, stop)?, None),
        };
        all.push(Task::new(stop, brewer, planned, &all, &proposed));
    }
    Ok(all)
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
        let tasks = tasks(store, house, visit, &course)?;
        Ok(Self {
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

    pub(super) fn outlook(&self) -> OutlookView {
        let homes = self.homes();
        let (begins, leave_by) = self.visit.instants(&self.house.zone);
        let terms = ScheduleTerms {
            order: self.visit.order,
            now: begins,
            leave_by,
            travel_min: travel_between(&homes),
            place_now: None,
            following: None,
            hands_since: None,
            in_turn: &self.house.places().in_turn(self.visit, &self.course),
            guests_come: &guests_come(&homes, self.visit.day),
            homes: &self.house.places().names(),
        };
        let plans: Vec<&Plan> = self.tasks.iter().map(|one| &one.plan).collect();
        OutlookView {
            stops: self.stops(),
            outlook: outlook(&self.tasks, &self.visit.open_rooms(&self.course), &terms),
            kit: kit(&plans, &self.house.agents, self.house.past.settings.units),
            minds: self.house.minds(&homes, self.visit.day),
            homes: homes.into_iter().cloned().collect(),
        }
    }

    fn run(&self, started_at: Timestamp, following: Option<&str>) -> RunView {
        let (last_at, place_now) =
            self.visit
                .last_act(&self.course, &self.tasks, started_at, self.now);
        let homes = self.homes();
        let (_, leave_by) = self.visit.instants(&self.house.zone);
        let terms = ScheduleTerms {
            order: self.visit.order,
            now: self.now,
            leave_by: leave_by.filter(|by| *by > self.now),
            travel_min: travel_between(&homes),
            place_now,
            following,
            hands_since: Some(last_at),
            in_turn: &self.house.places().in_turn(self.visit, &self.course),
            guests_come: &guests_come(&homes, self.visit.day),
            homes: &self.house.places().names(),
        };
        let left = schedule(&self.tasks, &self.visit.open_rooms(&self.course), &terms);
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
        let acid = self.tasks.iter().filter(|one| one.holds_bath());
        let acid = acid.map(|one| one.stop.id.clone()).collect();
        RunView {
            is_done: left.acts.is_empty() && left.lines.is_empty(),
            now: self.now,
            started_at,
            left,
            timers,
            acid,
        }
    }

    fn worth(&self, started_at: Timestamp) -> WorthView {
        let rooms = self.visit.rooms.iter();
        let done = rooms.filter(|room| self.course.rooms_done.contains_key(&room.id));
        let travel = self.homes().iter().filter_map(|home| home.travel_min).sum();
        let spent = Spent::of(
            &self.tasks,
            done.map(|room| room.minutes).sum(),
            travel,
            (started_at, self.course.closed_at.unwrap_or(self.now)),
        );
        let settings = &self.house.past.settings;
        let terms = Terms {
            currency: settings.currency.clone(),
            hourly_rate: settings.hourly_rate,
            ..Terms::default()
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
        });
        let of_rooms = self.visit.all_rooms(&self.course).map(|room| {
            let is_over = self.course.rooms_done.contains_key(&room.id);
            StopView {
                id: room.id.clone(),
                name: room.name.clone(),
                what: text::minutes(f64::from(room.minutes)),
                home: places.name_of(&room.home_id),
                is_room: true,
                clean_id: None,
                state: if is_over { "done" } else { "not begun" }.to_owned(),
                is_over,
            }
        });
        of_brewers.chain(of_rooms).collect()
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

    pub(super) fn cards(&self, base: &str) -> Result<Vec<CardView>, ApiError> {
        let cards = self.house.cards();
        let mut all = Vec::new();
        for one in &self.tasks {
            let Some(Begun { state, .. }) = &one.begun else {
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

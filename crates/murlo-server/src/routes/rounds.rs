//! The round of homes: the weeks ahead, and what is known of homes.

use super::facts::archive;
use crate::api::{RoundView, VisitBrief, VisitStage};
use crate::error::{ApiError, Body};
use crate::past::Past;
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use murlo_core::bath::Agent;
use murlo_core::brewer::Brewer;
use murlo_core::counter::BrewerCard;
use murlo_core::household::Home;
use murlo_core::problem::{Code, Problem};
use murlo_core::rounds::{Course, Proposed, Visit, lanes, next_after, propose};
use murlo_core::text;
use murlo_store::Store;
use std::collections::HashMap;

/// So far the round looks ahead.
const AHEAD_DAYS: i32 = 42;
/// Visits that are over and still listed.
const LATELY: usize = 10;

/// What a request about visits reads.
pub(super) struct House {
    pub(super) past: Past,
    pub(super) brewers: HashMap<String, Brewer>,
    pub(super) agents: Vec<Agent>,
    pub(super) homes: Vec<Home>,
    visits: Vec<Visit>,
    pub(super) zone: TimeZone,
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

    pub(super) fn name_of(&self, home_id: &str) -> String {
        let home = self.homes.iter().find(|home| home.id == home_id);
        home.map_or_else(String::new, |home| home.name.clone())
    }

    /// The homes of a visit, in the order in which the household has them.
    pub(super) fn homes_of(&self, visit: &Visit, course: &Course) -> Vec<&Home> {
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
    pub(super) fn next(&self, homes: &[String], day: Date) -> Date {
        next_after(day, &self.came(homes))
    }

    pub(super) fn proposed(&self, homes: &[String], day: Date) -> Vec<Proposed> {
        let cards = self.cards();
        let here = |card: &BrewerCard| {
            let brewer = self.brewers.get(&card.id);
            brewer.is_some_and(|brewer| homes.contains(&brewer.home_id))
        };
        let cards: Vec<_> = cards.into_iter().filter(here).collect();
        propose(&cards, &self.brewers, day, self.next(homes, day))
    }

    /// What stands against coming to these homes on that day: nobody home, guests.
    pub(super) fn minds(&self, homes: &[&Home], day: Date) -> Vec<String> {
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

    pub(super) fn travel(&self, homes: &[&Home]) -> u32 {
        homes
            .iter()
            .filter_map(|home| home.travel_min)
            .max()
            .unwrap_or(0)
    }
}

pub(super) fn stage(visit: &Visit) -> VisitStage {
    match visit.course() {
        Ok(course) if course.closed_at.is_some() => VisitStage::Closed,
        Ok(course) if course.started_at.is_some() => VisitStage::Running,
        _ => VisitStage::Planned,
    }
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

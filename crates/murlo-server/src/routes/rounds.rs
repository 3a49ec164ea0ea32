//! The round of homes: the weeks ahead, and what is known of homes.

use super::facts::archive;
use crate::api::{RoundView, VisitBrief};
use crate::error::{ApiError, Body};
use crate::past::Past;
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::Brewer;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_household::counter::BrewerCard;
use murlo_household::rounds::{Places, Proposed, Telling, Visit, VisitStage, lanes, propose};
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

    pub(super) fn places(&self) -> Places<'_> {
        Places {
            homes: &self.homes,
            brewers: &self.brewers,
            visits: &self.visits,
        }
    }

    pub(super) fn cards(&self) -> Vec<BrewerCard> {
        self.past.facts().cards_with_works(self.past.brewers())
    }

    pub(super) fn proposed(&self, homes: &[String], day: Date) -> Vec<Proposed> {
        let cards = self.cards();
        let here = |card: &BrewerCard| {
            let brewer = self.brewers.get(&card.id);
            brewer.is_some_and(|brewer| homes.contains(&brewer.home_id))
        };
        let cards: Vec<_> = cards.into_iter().filter(here).collect();
        propose(&cards, &self.brewers, day, self.places().next(homes, day))
    }

    /// What stands against coming to these homes on that day.
    pub(super) fn minds(&self, homes: &[&Home], day: Date) -> Vec<String> {
        let facts = self.past.facts();
        let told = Telling {
            today: self.past.today,
            has_12_hours: self.past.settings.has_12_hours(),
        };
        let away = |brewer: &Brewer| facts.away(brewer);
        self.places().minds(homes, day, away, told)
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
    let mut all: Vec<VisitBrief> = house
        .visits
        .iter()
        .map(|visit| brief(visit, house.places()))
        .collect();
    all.sort_by_key(|visit| (visit.day, visit.from));
    let is_over = |visit: &VisitBrief| visit.stage == VisitStage::Closed;
    let (over, mut ahead): (Vec<_>, Vec<_>) = all.into_iter().partition(is_over);
    ahead.extend(over.into_iter().rev().take(LATELY));
    ahead
}

fn brief(visit: &Visit, places: Places) -> VisitBrief {
    let course = visit.course().unwrap_or_default();
    VisitBrief {
        id: visit.id.clone(),
        day: visit.day,
        from: visit.from,
        homes: places.text_of(visit, &course),
        text: visit.in_short(&course),
        stage: visit.stage(),
    }
}

/// Visits that run, and those planned for today.
pub(super) fn today(store: &Store, past: &Past) -> Result<Vec<VisitBrief>, ApiError> {
    let mut visits: Vec<Visit> = store.current()?;
    visits.retain(|visit| match visit.stage() {
        VisitStage::Running => true,
        VisitStage::Planned => visit.day == past.today,
        VisitStage::Closed => false,
    });
    if visits.is_empty() {
        return Ok(Vec::new());
    }
    let brewers = past.brewers().map(|b| (b.id.clone(), b.clone())).collect();
    let places = Places {
        homes: &store.current()?,
        brewers: &brewers,
        visits: &visits,
    };
    Ok(visits.iter().map(|visit| brief(visit, places)).collect())
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
            let may = house.places().may_put_away(&checked);
            may.map_err(ApiError::Conflict)
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

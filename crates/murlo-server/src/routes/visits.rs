//! Visits: proposed, looked at, kept, run, closed; cards to leave.

use crate::api::{CardView, OutlookView, ProposalView, VisitAct, VisitView, VisitWish};
use crate::archive::archive;
use crate::asking::Asking;
use crate::cards::card_of;
use crate::error::{ApiError, Body, Queried};
use crate::house::House;
use crate::reached::Base;
use crate::seen::Seen;
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use jiff::Timestamp;
use murlo_base::problem::{Code, Problem};
use murlo_clean::{happened_at, stands};
use murlo_household::rounds::{RoomStop, Visit, VisitCourse, VisitEvent, VisitWhat, hours_in};
use murlo_store::Store;
use serde::Deserialize;

/// What a visit to these homes on that day could do.
#[utoipa::path(post, path = "/api/visits/propose", request_body = VisitWish, responses((status = 200, body = ProposalView), (status = 422)))]
pub async fn propose_visit(
    State(state): State<AppState>,
    Body(wish): Body<VisitWish>,
) -> Result<Json<ProposalView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let house = House::read(store, now)?;
        house.ahead().may_ask(wish.day)?;
        let mut homes = Vec::new();
        for id in &wish.homes {
            let home = house.homes.iter().find(|home| home.id == *id);
            homes.push(home.ok_or_else(|| {
                let message = format!("no home has the id \"{id}\"");
                Problem::new(Code::UnknownId, "homes", message)
            })?);
        }
        let rooms = homes.iter().flat_map(|home| RoomStop::all_of(home));
        Ok(ProposalView {
            next: house.places().next(&wish.homes, wish.day),
            stops: house
                .ahead()
                .proposed(&wish.homes, wish.day, wish.visit_id.as_deref()),
            rooms: rooms.collect(),
            minds: house.minds(&homes, wish.day),
            hours: hours_in(&homes, wish.day),
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
    asking: Asking,
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
        let mut view = Seen::new(store, &house, &visit, now)?.outlook();
        view.homes = asking.homes(view.homes);
        Ok(view)
    });
    Ok(Json(view.await?))
}

/// What is due at its homes as a visit is planned.
fn foreseen(house: &House, visit: &Visit) -> Vec<String> {
    let homes = house.places().of(visit, &VisitCourse::default());
    let homes: Vec<String> = homes.iter().map(|home| home.id.clone()).collect();
    let ahead = house.ahead();
    let proposed = ahead.proposed(&homes, visit.day, Some(&visit.id));
    let due = proposed.into_iter().filter(|one| one.is_in);
    due.map(|one| one.stop.id).collect()
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
            // What happened, and who paid, is told at addresses of their own.
            let (events, paid) =
                known.map_or_else(Default::default, |kept| (kept.fact.events, kept.fact.paid));
            let same_plan = Visit {
                events,
                paid,
                foreseen: Some(foreseen(&house, &visit)),
                ..visit
            };
            if same_plan.is_closed() {
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
#[utoipa::path(get, tag = "shown offline", path = "/api/visits/{id}", params(("id" = String, Path), ("following" = Option<String>, Query, description = "The stop or room whose instruction is being followed")), responses((status = 200, body = VisitView), (status = 404)))]
pub async fn visit(
    State(state): State<AppState>,
    asking: Asking,
    Path(id): Path<String>,
    Queried(asked): Queried<Follows>,
) -> Result<Json<VisitView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let visit: Visit = store.get(&id)?;
        let house = House::read(store, now)?;
        Ok(Seen::new(store, &house, &visit, now)?.view(asked.following.as_deref()))
    });
    Ok(Json(asking.visit(view.await?)))
}

/// Whether an act may happen by what stands in brewers and elsewhere; whether it follows the others is the visit's own to say.
fn may_happen(
    store: &Store,
    house: &House,
    id: &str,
    what: &VisitWhat,
    now: Timestamp,
) -> Result<(), ApiError> {
    let visit: Visit = store.get(id)?;
    let seen = || Seen::new(store, house, &visit, now);
    match what {
        VisitWhat::Started => house.places().may_start(&visit).map_err(ApiError::Conflict),
        VisitWhat::Arrived { home, leaves } => seen()?.may_arrive(home, leaves),
        VisitWhat::Dropped { id, .. } => seen()?.may_drop(id),
        VisitWhat::Closed { left, .. } => seen()?.may_close(left),
        VisitWhat::RoomDone { .. }
        | VisitWhat::Added { .. }
        | VisitWhat::Changed { .. }
        | VisitWhat::Undone { .. }
        | VisitWhat::Reopened => Ok(()),
    }
}

/// Takes an act of a visit in; sending it again is harmless.
#[utoipa::path(post, path = "/api/visits/{id}/acts", params(("id" = String, Path)), request_body = VisitAct, responses((status = 200, body = VisitView), (status = 404), (status = 409), (status = 422)))]
pub async fn act_on_visit(
    State(state): State<AppState>,
    asking: Asking,
    Path(id): Path<String>,
    Body(act): Body<VisitAct>,
) -> Result<Json<VisitView>, ApiError> {
    let (now, by) = (state.now(), asking.person());
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
        if !store
            .get::<Visit>(&id)?
            .events
            .iter()
            .any(|known| known.id == act.id)
        {
            may_happen(store, &house, &id, &act.what, now)?;
        }
        let at = happened_at(now, act.device_at, act.sent_at);
        let event = VisitEvent {
            at,
            by,
            id: act.id,
            what: match act.what {
                // What nobody saw is worth what it was when it was closed.
                VisitWhat::Closed { bill: None, left } => {
                    let visit: Visit = store.get(&id)?;
                    let bill = Seen::new(store, &house, &visit, at)?.bill();
                    VisitWhat::Closed { bill, left }
                }
                what => what,
            },
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
    let view = asking.visit(view.await?);
    state.changed("facts");
    Ok(Json(view))
}

/// Cards to leave at the brewers of a visit.
#[utoipa::path(get, path = "/api/visits/{id}/cards", params(("id" = String, Path)), responses((status = 200, body = Vec<CardView>), (status = 404)))]
pub async fn visit_cards(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Base(base): Base,
) -> Result<Json<Vec<CardView>>, ApiError> {
    let now = state.now();
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
    Base(base): Base,
) -> Result<Json<CardView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let record = store.clean(&id)?;
        let house = House::read(store, now)?;
        let (plan, clean) = stands(&record.plan, &record.events)
            .map_err(|problem| ApiError::Internal(problem.to_string()))?;
        let by = record.events.last().and_then(|last| last.by.as_deref());
        card_of(house.cards(), &plan, &clean, by, house.today(), &base)
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

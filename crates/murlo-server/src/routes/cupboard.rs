//! The cupboard: levels, movements, things counted by the piece.

use crate::api::{CupboardView, MovementDraft};
use crate::archive::archive;
use crate::error::{ApiError, Body};
use crate::known::KnownBrewer;
use crate::past::Past;
use crate::state::{AppState, today};
use crate::table::table;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::Response;
use jiff::Timestamp;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::bath::Agent;
use murlo_chalk::money::{Paid, Terms, YearSum, by_year};
use murlo_chalk::upkeep::csv;
use murlo_household::counter::BrewerCard;
use murlo_household::history::done;
use murlo_household::stock::{AHEAD_DAYS, Cupboard, Drawn, Movement, Shown, Supply};
use murlo_plan::PlanOptions;
use murlo_store::Store;

/// Looks into the cupboard as it is now.
fn look<T>(
    store: &Store,
    now: Timestamp,
    at: impl FnOnce(&Cupboard, &Past) -> Result<T, ApiError>,
) -> Result<T, ApiError> {
    let past = Past::read(store, now)?;
    let agents = store.current::<Agent>()?;
    let facts = past.facts();
    let cards = facts.cards_with_works(past.brewers());
    let foreseen = foreseen(&past, &agents, &cards)?;
    let cupboard = Cupboard {
        agents: &agents,
        supplies: &past.supplies,
        movements: &past.movements,
        drawn: &past.drawn,
        cards: &cards,
        foreseen: &foreseen,
        names: &past.names(),
        terms: &terms(&past),
        units: past.settings.units,
        today: past.today,
    };
    at(&cupboard, &past)
}

fn terms(past: &Past) -> Terms {
    Terms {
        currency: past.settings.currency.clone(),
        ..Terms::default()
    }
}

/// What cleans came to, year by year.
fn years(store: &Store, past: &Past) -> Result<Vec<YearSum>, ApiError> {
    let costs = store.costs()?;
    let lines = done(store.summaries()?, Vec::new());
    let (brewers, homes) = (past.names(), past.home_names());
    let paid = lines.iter().filter_map(|line| {
        Some(Paid {
            day: line.day,
            brewer: brewers.get(&line.brewer_id)?,
            home: homes.get(&line.brewer_id).map_or("", String::as_str),
            cost: costs.get(line.clean_id.as_ref()?),
        })
    });
    Ok(by_year(&paid.collect::<Vec<_>>(), &terms(past)))
}

/// So many sides that no clean has drawn for yet are planned to see what they would take.
const PLANNED: usize = 30;

/// What the next clean would take of sides that are due and have drawn nothing yet.
fn foreseen(past: &Past, agents: &[Agent], cards: &[BrewerCard]) -> Result<Vec<Drawn>, ApiError> {
    let sides = cards
        .iter()
        .flat_map(|card| card.circuits.iter().map(move |c| (card, c)));
    let has_drawn = |card: &BrewerCard, circuit_id: &str| {
        let mut drawn = past.drawn.iter();
        drawn.any(|d| d.brewer_id == card.id && d.circuit_id.as_deref() == Some(circuit_id))
    };
    let open = sides
        .filter(|(card, c)| c.forecast.due.days <= AHEAD_DAYS && !has_drawn(card, &c.circuit_id));
    let mut all = Vec::new();
    for (card, circuit) in open.take(PLANNED) {
        let Some(brewer) = past.brewers().find(|brewer| brewer.id == card.id) else {
            continue;
        };
        let options = PlanOptions {
            circuit_id: Some(circuit.circuit_id.clone()),
            ..PlanOptions::default()
        };
        let known = KnownBrewer::of(past, brewer.clone(), agents.to_vec(), &options)?;
        let plan = known.facts()?;
        let plan = plan.plan(&plan.recommended(options)?)?;
        all.extend(plan.agent_amount().map(|amount| Drawn {
            item_id: plan.chosen.agent_id.clone(),
            day: past.today,
            at: None,
            amount: amount.number(),
            brewer_id: card.id.clone(),
            circuit_id: Some(circuit.circuit_id.clone()),
        }));
    }
    Ok(all)
}

/// What is there, how long it lasts, and what to buy.
#[utoipa::path(get, path = "/api/cupboard", responses((status = 200, body = CupboardView)))]
pub async fn cupboard(State(state): State<AppState>) -> Result<Json<CupboardView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        look(store, now, |cupboard, past| {
            let things = cupboard.shown();
            let buys = |thing: &Shown| {
                let buy = thing.buy.as_deref()?.trim_start_matches("Buy ");
                Some(format!("{}: {buy}", thing.name))
            };
            Ok(CupboardView {
                list: things.iter().filter_map(buys).collect(),
                things,
                years: years(store, past)?,
                today: past.today,
            })
        })
    });
    Ok(Json(view.await?))
}

/// What came into the cupboard and went out of it, as lines of RFC 4180.
#[utoipa::path(get, path = "/api/cupboard.csv", responses((status = 200, body = String, content_type = "text/csv")))]
pub async fn cupboard_csv(State(state): State<AppState>) -> Result<Response, ApiError> {
    let now = state.now();
    let text = state.store(move |store| look(store, now, |cupboard, _| Ok(cupboard.csv())));
    Ok(table("murlo-cupboard.csv", text.await?))
}

/// Small works that were done, as lines of RFC 4180.
#[utoipa::path(get, path = "/api/works.csv", responses((status = 200, body = String, content_type = "text/csv")))]
pub async fn works_csv(State(state): State<AppState>) -> Result<Response, ApiError> {
    let now = state.now();
    let text = state.store(move |store| {
        let past = Past::read(store, now)?;
        let (brewers, homes) = (past.names(), past.home_names());
        let named = |id: &str| Some((brewers.get(id)?.as_str(), homes.get(id)?.as_str()));
        Ok(csv(past.journals.values().flatten(), named))
    });
    Ok(table("murlo-works.csv", text.await?))
}

/// Writes down what came, went, or was counted; sending it again is harmless.
#[utoipa::path(post, path = "/api/cupboard/movements", request_body = MovementDraft, responses((status = 204), (status = 409), (status = 422)))]
pub async fn add_movement(
    State(state): State<AppState>,
    Body(draft): Body<MovementDraft>,
) -> Result<StatusCode, ApiError> {
    let now = state.now();
    state
        .store(move |store| {
            let known = store.all::<Movement>()?.into_iter();
            if let Some(known) = known.map(|kept| kept.fact).find(|m| m.id == draft.id) {
                let is_same = known.item_id == draft.item_id && known.what == draft.what;
                let taken = Problem::new(
                    Code::Contradiction,
                    "id",
                    "another movement has this id: make a new one",
                );
                return is_same.then_some(()).ok_or(ApiError::Conflict(taken));
            }
            let movement = Movement {
                id: draft.id,
                item_id: draft.item_id,
                at: now,
                day: today(now, &store.settings()?.time_zone),
                what: draft.what,
            };
            movement.check(&store.current()?, &store.current()?)?;
            Ok(store.add(&movement)?)
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// Takes a movement back; `restore` brings it back.
#[utoipa::path(delete, path = "/api/cupboard/movements/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn delete_movement(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<Movement>(state, id, true).await
}

/// Brings a movement back.
#[utoipa::path(post, path = "/api/cupboard/movements/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_movement(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<Movement>(state, id, false).await
}

/// Adds a thing that is counted by the piece under an id made by the device, or changes it.
#[utoipa::path(put, path = "/api/cupboard/supplies/{id}", params(("id" = String, Path)), request_body = Supply, responses((status = 204), (status = 422)))]
pub async fn put_supply(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(supply): Body<Supply>,
) -> Result<StatusCode, ApiError> {
    supply.check()?;
    if supply.id != id {
        let message = "the id in the address and in the body differ";
        return Err(Problem::new(Code::Contradiction, "id", message).into());
    }
    state.store(move |store| Ok(store.put(&supply)?)).await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// Puts a thing away; `restore` brings it back.
#[utoipa::path(delete, path = "/api/cupboard/supplies/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn delete_supply(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<Supply>(state, id, true).await
}

/// Brings a thing back.
#[utoipa::path(post, path = "/api/cupboard/supplies/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_supply(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<Supply>(state, id, false).await
}

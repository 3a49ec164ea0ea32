//! Waters, and what each would mean for each brewer.

use crate::api::{WatersView, WithEachWater};
use crate::error::{ApiError, Body, NewId};
use crate::past::Past;
use crate::state::AppState;
use crate::water_views::{by_id, water_views};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::Brewer;
use murlo_brewer::water::{RULER, Water, WaterDraft, ruler_scales};
use murlo_household::what_if::{Prices, SideBySide, WhatIf};

/// Every water on the ruler, and every brewer with each of them.
#[utoipa::path(get, path = "/api/waters", responses((status = 200, body = WatersView)))]
pub async fn waters(State(state): State<AppState>) -> Result<Json<WatersView>, ApiError> {
    let now = state.now();
    let reports = state.reports.to_vec();
    let view = state.store(move |store| {
        let past = Past::read(store, now)?;
        let facts = past.facts();
        let waters = water_views(store)?;
        let mut brewers: Vec<_> = past
            .brewers()
            .map(|brewer| WithEachWater {
                intervals: waters
                    .iter()
                    .map(|view| facts.interval_with(brewer, &view.water))
                    .collect(),
                water_id: brewer.water_id().to_owned(),
                brewer_id: brewer.id.clone(),
                nickname: brewer.nickname.clone(),
            })
            .collect();
        brewers.sort_by(|a, b| a.nickname.cmp(&b.nickname));
        Ok(WatersView {
            ruler: RULER.to_vec(),
            scales: ruler_scales(),
            waters,
            reports,
            brewers,
        })
    });
    Ok(Json(view.await?))
}

/// A brewer as it is and as it would be.
#[utoipa::path(post, path = "/api/brewers/{id}/what-if", params(("id" = String, Path)), request_body = WhatIf, responses((status = 200, body = SideBySide), (status = 404), (status = 422)))]
pub async fn what_if(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(what_if): Body<WhatIf>,
) -> Result<Json<SideBySide>, ApiError> {
    let now = state.now();
    let both = state.store(move |store| {
        let brewer: Brewer = store.get(&id)?;
        let past = Past::read(store, now)?;
        let agents = store.current()?;
        let prices = Prices {
            settings: &past.settings,
            agents: &agents,
        };
        Ok(past.facts().side_by_side(&brewer, &what_if, &prices)?)
    });
    Ok(Json(both.await?))
}

/// Adds a water; sending it again under the same id is harmless.
#[utoipa::path(post, path = "/api/waters", params(("id" = Option<String>, Query, description = "Made by the device")), request_body = WaterDraft, responses((status = 200, body = Water), (status = 409), (status = 422)))]
pub async fn add_water(
    State(state): State<AppState>,
    NewId(id): NewId,
    Body(draft): Body<WaterDraft>,
) -> Result<Json<Water>, ApiError> {
    let water = state.store(move |store| {
        let water = draft.check(id, &by_id(store)?)?;
        store.add(&water)?;
        Ok(water)
    });
    let water = water.await?;
    state.changed("facts");
    Ok(Json(water))
}

/// Changes what is known of a water.
#[utoipa::path(put, path = "/api/waters/{id}", params(("id" = String, Path)), request_body = WaterDraft, responses((status = 200, body = Water), (status = 404), (status = 422)))]
pub async fn change_water(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(draft): Body<WaterDraft>,
) -> Result<Json<Water>, ApiError> {
    let water = state.store(move |store| {
        store.get::<Water>(&id)?;
        let water = draft.check(id, &by_id(store)?)?;
        store.put(&water)?;
        Ok(water)
    });
    let water = water.await?;
    state.changed("facts");
    Ok(Json(water))
}

/// Puts a water away; `restore` brings it back.
#[utoipa::path(delete, path = "/api/waters/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404), (status = 409)))]
pub async fn delete_water(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    state
        .store(move |store| {
            let in_use = |name: &str| {
                let message =
                    format!("\"{name}\" still uses this water: give it another one first");
                Problem::new(Code::DoesNotFit, "id", message)
            };
            let brewers = store.current::<Brewer>()?;
            if let Some(brewer) = brewers.iter().find(|b| b.water_id() == id) {
                return Err(ApiError::Conflict(in_use(&brewer.nickname)));
            }
            let waters = by_id(store)?;
            let blend = waters
                .values()
                .find(|w| w.reading.parts().any(|part| part == id));
            if let Some(blend) = blend {
                return Err(ApiError::Conflict(in_use(&blend.name)));
            }
            Ok(store.archive::<Water>(&id, true)?)
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// Brings a water back.
#[utoipa::path(post, path = "/api/waters/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_water(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    state
        .store(move |store| Ok(store.archive::<Water>(&id, false)?))
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

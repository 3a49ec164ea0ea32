//! The round of homes: the weeks ahead, and what is known of homes.

use crate::api::RoundView;
use crate::archive::archive;
use crate::error::{ApiError, Body};
use crate::house::{House, briefs, path_of};
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::home::Home;
use murlo_household::counter::BrewerCard;
use murlo_household::rounds::lanes;
use std::collections::HashMap;

/// So far the round looks ahead.
const AHEAD_DAYS: i32 = 42;

/// The weeks ahead, home by home, and visits.
#[utoipa::path(get, tag = "shown offline", path = "/api/round", responses((status = 200, body = RoundView)))]
pub async fn round(State(state): State<AppState>) -> Result<Json<RoundView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let house = House::read(store, now)?;
        let cards = house.cards();
        let today = house.past.today;
        let mut by_home: HashMap<&str, Vec<&BrewerCard>> = HashMap::new();
        let mut away: HashMap<&str, Vec<(Date, Date)>> = HashMap::new();
        let facts = house.past.facts();
        for card in cards {
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
            moved: house.moved(),
            feed: store.feed()?.map(|token| path_of(&token)),
            lanes,
            today,
        })
    });
    Ok(Json(view.await?))
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

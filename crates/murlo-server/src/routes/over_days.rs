//! Cleans that are spread over days.

use crate::api::{MovedParts, SpreadClean, SpreadPart, SpreadView};
use crate::archive::archive;
use crate::error::{ApiError, Body};
use crate::known::{KnownBrewer, plan_of};
use crate::past::Past;
use crate::state::{AppState, today};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use jiff::Timestamp;
use murlo_base::problem::{Code, Problem};
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_plan::{DayPart, OverDays, Plan, PlanOptions, WayWish, check_new_days, proposed_days};
use murlo_store::Store;

/// What the parts of a clean would be on these days; nothing of it is kept.
#[utoipa::path(post, path = "/api/brewers/{id}/over-days/look", params(("id" = String, Path)), request_body = SpreadClean, responses((status = 200, body = SpreadView), (status = 404), (status = 422)))]
pub async fn look_over_days(
    State(state): State<AppState>,
    Path(brewer_id): Path<String>,
    Body(mut asked): Body<SpreadClean>,
) -> Result<Json<SpreadView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let today = today(now, &store.settings()?.time_zone);
        if asked.days.is_empty() {
            let whole = plan_of(store, &brewer_id, whole(&asked), now)?;
            asked.days = proposed_days(asked.parts.unwrap_or(whole.likely_baths), today);
        }
        let (options, plans) = spread(store, &brewer_id, &asked, now)?;
        let part = |(day, plan): (&jiff::civil::Date, &Plan)| SpreadPart {
            day: *day,
            day_text: text::day(*day, today),
            time_text: plan.ribbon.text.clone(),
            text: match &plan.after {
                Some(after) => format!("leaves {}, rinsed and drinkable", after.left_words()),
                None => "rinsed and drinkable afterwards".to_owned(),
            },
            after: plan.after.clone(),
        };
        Ok(SpreadView {
            circuit_id: options.circuit_id.unwrap_or_default(),
            parts: asked.days.iter().zip(&plans).map(part).collect(),
        })
    });
    Ok(Json(view.await?))
}

/// Spreads a clean over these days, under an id made by the device; sending it again is harmless.
#[utoipa::path(post, path = "/api/brewers/{id}/over-days", params(("id" = String, Path)), request_body = SpreadClean, responses((status = 204), (status = 404), (status = 409), (status = 422)))]
pub async fn spread_over_days(
    State(state): State<AppState>,
    Path(brewer_id): Path<String>,
    Body(asked): Body<SpreadClean>,
) -> Result<StatusCode, ApiError> {
    let id = text::id("id", &asked.id)?;
    let now = state.now();
    state
        .store(move |store| {
            let all = store.current::<OverDays>()?;
            if all
                .iter()
                .any(|over| over.id == id && over.brewer_id == brewer_id)
            {
                return Ok(());
            }
            let (options, _) = spread(store, &brewer_id, &asked, now)?;
            let brewer: Brewer = store.get(&brewer_id)?;
            let circuit_id = options.circuit_id.clone().unwrap_or_default();
            let circuit = brewer.circuit("circuit_id", &circuit_id)?;
            let past = Past::read(store, now)?;
            if past.facts().next_part(&brewer, circuit).is_some() {
                let message = "this side has parts to come already: move those, or call them off";
                let problem = Problem::new(Code::DoesNotFit, "days", message);
                return Err(ApiError::Conflict(problem));
            }
            let part = |day| DayPart {
                day,
                clean_id: None,
            };
            let over = OverDays {
                id,
                brewer_id,
                circuit_id,
                options,
                parts: asked.days.into_iter().map(part).collect(),
            };
            over.check(&brewer)?;
            Ok(store.add(&over)?)
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// Moves the parts that are to come to other days.
#[utoipa::path(put, path = "/api/over-days/{id}", params(("id" = String, Path)), request_body = MovedParts, responses((status = 204), (status = 404), (status = 409), (status = 422)))]
pub async fn move_over_days(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(moved): Body<MovedParts>,
) -> Result<StatusCode, ApiError> {
    let now = state.now();
    state
        .store(move |store| {
            let over: OverDays = store.get(&id)?;
            let brewer: Brewer = store.get(&over.brewer_id)?;
            let circuit = brewer.circuit("circuit_id", &over.circuit_id)?;
            let past = Past::read(store, now)?;
            let next = past.facts().next_part(&brewer, circuit);
            let next = next.filter(|next| next.over.id == id).ok_or_else(|| {
                let message = "all its parts are done: there is nothing to move";
                ApiError::Conflict(Problem::new(Code::DoesNotFit, "days", message))
            })?;
            store.alter::<OverDays>(&id, |over| over.moved(next.at, &moved.days, past.today))?;
            Ok(())
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// Calls the parts that are to come off; what was done stays done.
#[utoipa::path(delete, path = "/api/over-days/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn delete_over_days(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<OverDays>(state, id, true).await
}

/// Brings them back.
#[utoipa::path(post, path = "/api/over-days/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_over_days(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<OverDays>(state, id, false).await
}

/// The clean in one go: what is advised or chosen becomes the bath of each part; what is to come already does not.
fn whole(asked: &SpreadClean) -> PlanOptions {
    PlanOptions {
        way: asked.options.way.clone().or(Some(WayWish::Advised)),
        baths: None,
        minutes: None,
        ..asked.options.clone()
    }
}

/// The bath of each part, settled, and the parts one after the other.
fn spread(
    store: &Store,
    brewer_id: &str,
    asked: &SpreadClean,
    now: Timestamp,
) -> Result<(PlanOptions, Vec<Plan>), ApiError> {
    let settings = store.settings()?;
    check_new_days(&asked.days, today(now, &settings.time_zone))?;
    let wished = whole(asked);
    let whole = plan_of(store, brewer_id, wished.clone(), now)?;
    let options = PlanOptions {
        agent_id: Some(whole.chosen.agent_id.clone()),
        recipe: Some(whole.chosen.recipe),
        taste: Some(whole.chosen.taste),
        circuit_id: Some(whole.circuit_id.clone()),
        baths: Some(1),
        way: None,
        ..wished
    };
    let known = KnownBrewer::read(store, store.get(brewer_id)?, &options, now)?;
    let plans = known.facts()?.over_days(&options, asked.days.len())?;
    Ok((options, plans))
}

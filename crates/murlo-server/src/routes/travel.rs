//! Export and import of the whole household.

use crate::error::{ApiError, Queried};
use crate::state::{AppState, today};
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use murlo_household::Household;
use serde::Deserialize;

/// Everything as one JSON document.
#[utoipa::path(get, path = "/api/export", responses((status = 200, content_type = "application/json", body = Object)))]
pub async fn export(State(state): State<AppState>) -> Result<impl IntoResponse, ApiError> {
    let household = state.store(|store| Ok(store.export()?)).await?;
    let text =
        serde_json::to_string_pretty(&household).map_err(|e| ApiError::Internal(e.to_string()))?;
    let headers = [
        (header::CONTENT_TYPE, "application/json"),
        (
            header::CONTENT_DISPOSITION,
            "attachment; filename=\"murlo-household.json\"",
        ),
    ];
    Ok((headers, text + "\n"))
}

/// Whether what is there may be replaced.
#[derive(Deserialize)]
pub struct Replace {
    #[serde(default)]
    replace: bool,
}

/// Takes a whole household in, all or nothing.
#[utoipa::path(post, path = "/api/import", params(("replace" = Option<bool>, Query)), request_body(content = Object, content_type = "application/json"), responses((status = 204), (status = 409), (status = 422)))]
pub async fn import(
    State(state): State<AppState>,
    Queried(asked): Queried<Replace>,
    body: String,
) -> Result<StatusCode, ApiError> {
    let now = state.now();
    state
        .store(move |store| {
            let household = Household::read(&body)?;
            let today = today(now, &store.settings()?.time_zone);
            Ok(store.import(&household, asked.replace, today)?)
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

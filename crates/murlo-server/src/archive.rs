//! Putting a fact away and bringing it back.

use crate::error::ApiError;
use crate::state::AppState;
use axum::http::StatusCode;

pub(super) async fn archive<F: murlo_store::Fact + 'static>(
    state: AppState,
    id: String,
    archived: bool,
) -> Result<StatusCode, ApiError> {
    state
        .store(move |store| Ok(store.archive::<F>(&id, archived)?))
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

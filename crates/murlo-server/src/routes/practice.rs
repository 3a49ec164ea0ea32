//! A brewer to practise on; nothing of it is kept.

use crate::api::PracticeDraft;
use crate::error::{ApiError, Body};
use crate::state::AppState;
use axum::Json;
use axum::extract::State;
use murlo_brewer::Brewer;
use murlo_plan::practice::{Scene, play};

/// Where practice stands after these presses.
#[utoipa::path(post, path = "/api/practice", request_body = PracticeDraft, responses((status = 200, body = Scene), (status = 404), (status = 422)))]
pub async fn practice(
    State(state): State<AppState>,
    Body(mut draft): Body<PracticeDraft>,
) -> Result<Json<Scene>, ApiError> {
    let scene = state.store(move |store| {
        draft.setup.units = store.settings()?.units;
        let like = draft
            .brewer_id
            .map(|id| store.get::<Brewer>(&id))
            .transpose()?;
        let (pressed, now) = (&draft.pressed, draft.now_min);
        Ok(play(&draft.setup, like.as_ref(), pressed, now)?)
    });
    Ok(Json(scene.await?))
}

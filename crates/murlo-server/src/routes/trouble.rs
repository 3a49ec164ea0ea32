//! What is wrong: from signs to causes.

use crate::api::{SignView, TroubleDraft, TroubleView};
use crate::error::{ApiError, Body};
use crate::past::Past;
use crate::state::AppState;
use axum::Json;
use axum::extract::State;
use murlo_core::brewer::Brewer;
use murlo_core::trouble::{Context, DANGERS, SIGNS, diagnose};

/// Likely causes of what was seen, with what is known of the brewer.
#[utoipa::path(post, path = "/api/trouble", request_body = TroubleDraft, responses((status = 200, body = TroubleView), (status = 404), (status = 422)))]
pub async fn trouble(
    State(state): State<AppState>,
    Body(draft): Body<TroubleDraft>,
) -> Result<Json<TroubleView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let context = match &draft.brewer_id {
            None => Context::default(),
            Some(id) => {
                let brewer: Brewer = store.get(id)?;
                Past::read(store, now)?.facts().trouble_context(&brewer)
            }
        };
        Ok(TroubleView {
            diagnosis: diagnose(&draft.signs, &context)?,
            signs: SIGNS
                .iter()
                .filter(|sign| sign.fits(&context))
                .map(|sign| SignView {
                    id: sign.id,
                    question: sign.question,
                    how: sign.how,
                })
                .collect(),
            dangers: DANGERS
                .map(|(id, words)| SignView {
                    id,
                    question: words,
                    how: "",
                })
                .into(),
        })
    });
    Ok(Json(view.await?))
}

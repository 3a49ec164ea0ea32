//! What is wrong: from signs to causes.

use crate::api::{SignView, TroubleDraft, TroubleNote, TroubleView};
use crate::error::{ApiError, Body};
use crate::past::Past;
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use murlo_brewer::Brewer;
use murlo_brewer::journal::Entry;
use murlo_brewer::trouble::{Context, DANGERS, SIGNS, diagnose, named};

/// Likely causes of what was seen, with what is known of the brewer.
#[utoipa::path(post, path = "/api/trouble", request_body = TroubleDraft, responses((status = 200, body = TroubleView), (status = 404), (status = 422)))]
pub async fn trouble(
    State(state): State<AppState>,
    Body(draft): Body<TroubleDraft>,
) -> Result<Json<TroubleView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let opening = draft.opening.as_deref().map(|name| named("opening", name));
        let opening = opening.transpose()?.flatten();
        let context = match &draft.brewer_id {
            None => Context::default(),
            Some(id) => {
                let brewer: Brewer = store.get(id)?;
                Past::read(store, now)?.facts().trouble_context(&brewer)
            }
        };
        let context = Context { opening, ..context };
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

/// Writes down what was wrong with a brewer, and what it most likely was; sending it again is harmless.
#[utoipa::path(post, path = "/api/brewers/{id}/trouble", params(("id" = String, Path)), request_body = TroubleNote, responses((status = 200, body = Entry), (status = 404), (status = 409), (status = 422)))]
pub async fn note_trouble(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(note): Body<TroubleNote>,
) -> Result<Json<Entry>, ApiError> {
    let now = state.now();
    let entry = state.store(move |store| {
        let brewer: Brewer = store.get(&id)?;
        let past = Past::read(store, now)?;
        let opening = note.opening.as_deref().map(|name| named("opening", name));
        let opening = opening.transpose()?.flatten();
        let entry = past
            .facts()
            .trouble_entry(&brewer, note.id, note.signs, opening)?;
        store.add_entry(&entry)?;
        Ok(entry)
    });
    let entry = entry.await?;
    state.changed("facts");
    Ok(Json(entry))
}

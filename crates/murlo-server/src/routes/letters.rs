//! Letters that somebody sends: a card, a month, that acid is inside. Nothing is sent unasked.

use crate::api::{LetterView, OutboxView};
use crate::error::{ApiError, Body};
use crate::post::{Post, Posted};
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use murlo_base::text;
use murlo_household::Letter;
use std::sync::Arc;

fn post_of(state: &AppState) -> Result<Arc<Post>, ApiError> {
    let none = "this household lies in no file, so it has no outbox";
    let refused = || ApiError::Storage(StatusCode::SERVICE_UNAVAILABLE, none.to_owned());
    state.post.clone().ok_or_else(refused)
}

fn shown(posted: Posted, trouble: Option<String>) -> LetterView {
    LetterView {
        id: posted.id,
        letter: posted.letter,
        at: posted.at,
        is_sent: posted.is_sent,
        trouble,
    }
}

/// Files are read and written where it may block.
async fn beside<T: Send + 'static>(
    work: impl FnOnce() -> Result<T, ApiError> + Send + 'static,
) -> Result<T, ApiError> {
    let done = tokio::task::spawn_blocking(work).await;
    done.map_err(|_| ApiError::Internal("reading the outbox panicked".into()))?
}

/// The outbox: letters that wait, and those that were sent, the newest first.
#[utoipa::path(get, path = "/api/letters", responses((status = 200, body = OutboxView), (status = 503)))]
pub async fn letters(State(state): State<AppState>) -> Result<Json<OutboxView>, ApiError> {
    let post = post_of(&state)?;
    let view = beside(move || {
        Ok(OutboxView {
            sends: post.sends(),
            folder: post.folder().display().to_string(),
            letters: post
                .letters()?
                .into_iter()
                .map(|one| shown(one, None))
                .collect(),
        })
    });
    Ok(Json(view.await?))
}

/// Sends a letter, or lays it in the outbox where no mail server is named; sending it again is harmless.
#[utoipa::path(put, path = "/api/letters/{id}", params(("id" = String, Path)), request_body = Letter, responses((status = 200, body = LetterView), (status = 422), (status = 503)))]
pub async fn send_letter(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(letter): Body<Letter>,
) -> Result<Json<LetterView>, ApiError> {
    let id = text::id("id", &id)?;
    let letter = letter.checked()?;
    let post = post_of(&state)?;
    let trouble = post.send(&id, &letter, state.now()).await?;
    state.changed("facts");
    let view = beside(move || {
        let kept = post.letters()?.into_iter().find(|one| one.id == id);
        let gone = || ApiError::NotFound("the letter is no longer in the outbox".to_owned());
        Ok(shown(kept.ok_or_else(gone)?, trouble))
    });
    Ok(Json(view.await?))
}

/// A letter as a file that any program for mail opens.
#[utoipa::path(get, path = "/api/letters/{id}/file", params(("id" = String, Path)), responses((status = 200, body = String, content_type = "message/rfc822"), (status = 404), (status = 422), (status = 503)))]
pub async fn letter_file(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Response, ApiError> {
    let id = text::id("id", &id)?;
    let post = post_of(&state)?;
    let name = format!("attachment; filename=\"{id}.eml\"");
    let bytes = beside(move || post.file(&id)).await?;
    let headers = [
        (header::CONTENT_TYPE, "message/rfc822".to_owned()),
        (header::CONTENT_DISPOSITION, name),
    ];
    Ok((headers, bytes).into_response())
}

/// Takes a letter that waits out of the outbox; `restore` lays it back.
#[utoipa::path(delete, path = "/api/letters/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404), (status = 422), (status = 503)))]
pub async fn delete_letter(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    put_away(state, id, true).await
}

/// Lays a letter back into the outbox.
#[utoipa::path(post, path = "/api/letters/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404), (status = 422), (status = 503)))]
pub async fn restore_letter(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    put_away(state, id, false).await
}

async fn put_away(state: AppState, id: String, is_away: bool) -> Result<StatusCode, ApiError> {
    let id = text::id("id", &id)?;
    let post = post_of(&state)?;
    beside(move || post.put_away(&id, is_away)).await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

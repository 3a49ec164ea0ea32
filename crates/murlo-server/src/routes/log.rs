//! The log.

use crate::api::LogLine;
use crate::error::ApiError;
use crate::state::{AppState, today};
use axum::Json;
use axum::extract::State;
use jiff::civil::Date;
use murlo_core::brewer::Brewer;
use murlo_core::history::done;
use murlo_core::household::PastClean;
use murlo_core::text;
use murlo_store::Store;
use std::collections::HashMap;

/// What was done, latest first.
pub fn log_lines(store: &Store, today: Date) -> Result<Vec<LogLine>, ApiError> {
    let names: HashMap<_, _> = store
        .all::<Brewer>()?
        .into_iter()
        .map(|k| (k.fact.id, k.fact.nickname))
        .collect();
    let done = done(store.summaries()?, store.current::<PastClean>()?);
    let lines = done.into_iter().map(|line| LogLine {
        nickname: names.get(&line.brewer_id).cloned().unwrap_or_default(),
        clean_id: line.clean_id,
        past_id: line.past_id,
        brewer_id: line.brewer_id,
        day: line.day,
        day_text: text::day(line.day, today),
        text: line.text,
        outcome: line.outcome,
    });
    Ok(lines.collect())
}

/// What was done, latest first.
#[utoipa::path(get, path = "/api/log", responses((status = 200, body = Vec<LogLine>)))]
pub async fn log(State(state): State<AppState>) -> Result<Json<Vec<LogLine>>, ApiError> {
    let now = state.now();
    let lines = state.store(move |store| {
        let today = today(now, &store.settings()?.time_zone);
        log_lines(store, today)
    });
    Ok(Json(lines.await?))
}

//! The log.

use crate::api::LogLine;
use crate::error::ApiError;
use crate::state::{AppState, today};
use axum::Json;
use axum::extract::State;
use jiff::civil::Date;
use murlo_core::brewer::Brewer;
use murlo_core::clean::Act;
use murlo_core::household::PastClean;
use murlo_core::plan::Work;
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
    let name = |id: &str| names.get(id).cloned().unwrap_or_default();
    let mut lines = Vec::new();
    for clean in store.summaries()? {
        let Some(Act::Finished {
            outcome: Some(outcome),
        }) = clean.closing.map(|e| e.act)
        else {
            continue;
        };
        if outcome.work == Work::Rehearsal {
            continue;
        }
        lines.push(LogLine {
            nickname: name(&clean.brewer_id),
            clean_id: Some(clean.id),
            past_id: None,
            brewer_id: clean.brewer_id,
            day: outcome.day,
            day_text: text::day(outcome.day, today),
            text: outcome.line(),
            outcome: Some(outcome),
        });
    }
    for past in store.current::<PastClean>()? {
        lines.push(LogLine {
            nickname: name(&past.brewer_id),
            clean_id: None,
            past_id: Some(past.id),
            brewer_id: past.brewer_id,
            day: past.day,
            day_text: text::day(past.day, today),
            text: past.note,
            outcome: None,
        });
    }
    lines.sort_by_key(|line| std::cmp::Reverse(line.day));
    Ok(lines)
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

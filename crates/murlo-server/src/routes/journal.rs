//! What is written down about a brewer between cleans.

use crate::api::{AwayDraft, CountsDraft, CountsTaken};
use crate::error::{ApiError, Body};
use crate::past::Past;
use crate::state::{AppState, today};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use jiff::tz::TimeZone;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::Brewer;
use murlo_brewer::home::Home;
use murlo_brewer::journal::{Entry, EntryDraft, What, parse_counts};
use murlo_brewer::metered::metered;
use std::collections::BTreeSet;

/// Writes an entry down; sending it again is harmless.
#[utoipa::path(post, path = "/api/brewers/{id}/journal", params(("id" = String, Path)), request_body = EntryDraft, responses((status = 200, body = Entry), (status = 404), (status = 409), (status = 422)))]
pub async fn add_entry(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(draft): Body<EntryDraft>,
) -> Result<Json<Entry>, ApiError> {
    let now = state.now();
    let entry = state.store(move |store| {
        let brewer: Brewer = store.get(&id)?;
        let others = store.entries_of(&id)?;
        let past = Past::read(store, now)?.with_journal(&id, others.clone());
        let (entry, is_new) = past.facts().told(&brewer, draft, &others, now)?;
        if is_new {
            store.add_entry(&entry)?;
        }
        Ok(entry)
    });
    let entry = entry.await?;
    state.changed("facts");
    Ok(Json(entry))
}

async fn archive(
    state: AppState,
    brewer_id: String,
    entry_id: String,
    archived: bool,
) -> Result<StatusCode, ApiError> {
    state
        .store(move |store| Ok(store.archive_entry(&brewer_id, &entry_id, archived)?))
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// Takes an entry back; `restore` brings it back.
#[utoipa::path(delete, path = "/api/brewers/{id}/journal/{entry}", params(("id" = String, Path), ("entry" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn delete_entry(
    State(state): State<AppState>,
    Path((id, entry)): Path<(String, String)>,
) -> Result<StatusCode, ApiError> {
    archive(state, id, entry, true).await
}

/// Brings an entry back.
#[utoipa::path(post, path = "/api/brewers/{id}/journal/{entry}/restore", params(("id" = String, Path), ("entry" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_entry(
    State(state): State<AppState>,
    Path((id, entry)): Path<(String, String)>,
) -> Result<StatusCode, ApiError> {
    archive(state, id, entry, false).await
}

/// Brings cups of many days in, or brews one by one, all or nothing; what was brought in before is replaced, so that sending
/// it again is harmless.
#[utoipa::path(post, path = "/api/brewers/{id}/counts", params(("id" = String, Path)), request_body = CountsDraft, responses((status = 200, body = CountsTaken), (status = 404), (status = 422)))]
pub async fn bring_counts(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(draft): Body<CountsDraft>,
) -> Result<Json<CountsTaken>, ApiError> {
    let now = state.now();
    let taken = state.store(move |store| {
        let brewer: Brewer = store.get(&id)?;
        let zone = store.settings()?.time_zone;
        let entries = match (&draft.csv, &draft.brews) {
            (Some(csv), None) => parse_counts(csv, &brewer, today(now, &zone))?,
            (None, Some(brews)) => {
                let zone = TimeZone::get(&zone).unwrap_or(TimeZone::UTC);
                metered(brews, &brewer, now, &zone)?
            }
            _ => {
                let why = "give either csv, a line a day, or brews, one by one";
                return Err(Problem::new(Code::Contradiction, "", why).into());
            }
        };
        store.bring_entries(&entries)?;
        let days: BTreeSet<_> = entries.iter().map(|entry| entry.day).collect();
        Ok(CountsTaken { days: days.len() })
    });
    let taken = taken.await?;
    state.changed("facts");
    Ok(Json(taken))
}

/// Writes days away down for every brewer of a home, all or nothing; sending it again is harmless.
#[utoipa::path(post, path = "/api/homes/{id}/away", params(("id" = String, Path)), request_body = AwayDraft, responses((status = 200, body = Vec<Entry>), (status = 404), (status = 409), (status = 422)))]
pub async fn leave_home(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(draft): Body<AwayDraft>,
) -> Result<Json<Vec<Entry>>, ApiError> {
    let now = state.now();
    let written = state.store(move |store| {
        let home: Home = store.get(&id)?;
        let today = today(now, &store.settings()?.time_zone);
        let mut brewers = store.current::<Brewer>()?;
        brewers.retain(|brewer| brewer.home_id == home.id);
        let entry = |brewer: &Brewer| {
            // Together no longer than an id may be.
            let end = &brewer.id[brewer.id.len().saturating_sub(20)..];
            let own = EntryDraft {
                id: format!("{}-{end}", draft.id),
                day: draft.from.max(brewer.in_use_since),
                what: What::Away { until: draft.until },
            };
            own.check(brewer, &[], today)
        };
        let entries = brewers.iter().map(entry).collect::<Result<Vec<_>, _>>()?;
        store.bring_entries(&entries)?;
        Ok(entries)
    });
    let written = written.await?;
    state.changed("facts");
    Ok(Json(written))
}

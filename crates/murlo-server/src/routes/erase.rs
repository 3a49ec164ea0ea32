//! Erasing for good: a photo, a note, a name, a home; in the household and in its copies.

use crate::api::{EraseLook, ErasedView};
use crate::error::{ApiError, Body};
use crate::past::Past;
use crate::state::AppState;
use axum::Json;
use axum::extract::State;
use jiff::Timestamp;
use murlo_base::text;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_household::erase::Erased;
use murlo_household::stock::{Moved, Movement, levels_without};
use murlo_store::Store;
use uuid::Uuid;

/// Copies that nobody here can reach.
const ELSEWHERE: &str = "What left this machine keeps it: exports, mail that was sent, printed cards, calendars that read along, \
     and a phone's own memory until it is next here.";

fn nothing() -> ApiError {
    ApiError::NotFound("nothing of that is kept here: it may be erased already".to_owned())
}

/// What would go, before it goes: erasing cannot be undone.
#[utoipa::path(post, path = "/api/erase/look", request_body = Erased, responses((status = 200, body = EraseLook), (status = 404), (status = 409)))]
pub async fn look_at_erasing(
    State(state): State<AppState>,
    Body(what): Body<Erased>,
) -> Result<Json<EraseLook>, ApiError> {
    let count = state.store(move |store| Ok(store.erasing(&what)?)).await?;
    if count.is_nothing() {
        return Err(nothing());
    }
    let copies = match &state.backups {
        Some(backups) => backups.all()?.len(),
        None => 0,
    };
    Ok(Json(EraseLook {
        goes: count.said(),
        copies: match u32::try_from(copies) {
            Ok(0) => String::new(),
            copies => text::count(copies.unwrap_or(u32::MAX), "backup", "backups"),
        },
        elsewhere: ELSEWHERE.to_owned(),
    }))
}

/// Erases it, here and in every backup; doing it again goes on with backups that were not reached.
#[utoipa::path(post, path = "/api/erase", request_body = Erased, responses((status = 200, body = ErasedView), (status = 404), (status = 409)))]
pub async fn erase(
    State(state): State<AppState>,
    Body(what): Body<Erased>,
) -> Result<Json<ErasedView>, ApiError> {
    let now = state.now();
    let asked = what.clone();
    // No copy is made meanwhile that would still hold it.
    let _making = state.making_backups.lock().await;
    let (count, mail) = state
        .store(move |store| {
            let mail = mail_of(store, &asked)?;
            let counted = counted(store, &asked, now)?;
            Ok((store.erase(&asked, counted)?, mail))
        })
        .await?;
    let (post, backups) = (state.post.clone(), state.backups.clone());
    let (letters, copies) = tokio::task::spawn_blocking(move || {
        let letters = match (post, mail) {
            (Some(post), Some(mail)) => post.erase(&mail)?,
            _ => 0,
        };
        let copies = backups.map(|backups| backups.erase(&what)).transpose()?;
        Ok::<_, ApiError>((letters, copies.unwrap_or_default()))
    })
    .await
    .map_err(|_| ApiError::Internal("erasing from the backups panicked".into()))??;
    if count.is_nothing() && copies.rewritten == 0 && copies.left.is_empty() {
        return Err(nothing());
    }
    state.changed("facts");
    state.changed("clean");
    let left = copies.left.iter().map(|(path, error)| {
        let name = path.file_name().unwrap_or_default().to_string_lossy();
        format!("{name} could not be written anew ({error}): delete it, or try again")
    });
    Ok(Json(ErasedView {
        goes: count.said(),
        rewritten: copies.rewritten,
        letters,
        left: left.collect(),
        elsewhere: ELSEWHERE.to_owned(),
    }))
}

/// Where letters to a home that goes were sent.
fn mail_of(store: &Store, what: &Erased) -> Result<Option<String>, ApiError> {
    let Erased::Home { id } = what else {
        return Ok(None);
    };
    let homes = store.all::<Home>()?;
    let home = homes.into_iter().find(|kept| kept.fact.id == *id);
    Ok(home
        .map(|kept| kept.fact.mail)
        .filter(|mail| !mail.is_empty()))
}

/// What is in the cupboard stays as it is, though what was drawn from it is forgotten.
fn counted(store: &Store, what: &Erased, now: Timestamp) -> Result<Vec<Movement>, ApiError> {
    let Erased::Home { id } = what else {
        return Ok(Vec::new());
    };
    let past = Past::read(store, now)?;
    let here: Vec<String> = past
        .brewers_of(id)
        .map(|brewer| brewer.id.clone())
        .collect();
    let agents = store.current::<Agent>()?;
    let agents = agents
        .iter()
        .map(|agent| (agent.id.as_str(), agent.on_hand));
    let items = agents.chain(
        past.supplies
            .iter()
            .map(|supply| (supply.id.as_str(), None)),
    );
    let levels = levels_without(items, &past.movements, &past.drawn, |drawn| {
        here.contains(&drawn.brewer_id)
    });
    let counted = levels.into_iter().map(|(item_id, amount)| Movement {
        id: Uuid::new_v4().to_string(),
        item_id,
        at: now,
        day: past.today,
        what: Moved::Counted { amount },
    });
    Ok(counted.collect())
}

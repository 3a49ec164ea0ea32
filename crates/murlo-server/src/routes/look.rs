//! What a client sees by a link: one home, what was done there, and nothing else.

use crate::api::{LookView, LookedAt, LookedDone};
use crate::error::ApiError;
use crate::house::House;
use crate::lines::all_done;
use crate::sign_in::{bearer, hashed, known};
use crate::state::AppState;
use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode};
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::home::Home;
use murlo_clean::replay;
use murlo_household::counter::BrewerCard;
use murlo_household::devices::DeviceKind;
use murlo_plan::Inside;
use murlo_store::Store;
use std::collections::HashMap;

/// So much of what was done is shown of each brewer.
const LATELY: usize = 6;

/// What was done at the home of the link whose last part is the token, and when it is due again.
#[utoipa::path(get, path = "/api/look", params(("authorization" = String, Header, description = "Bearer, and the last part of the link")), responses((status = 200, body = LookView), (status = 401), (status = 404)))]
pub async fn look_at_home(
    State(state): State<AppState>,
    headers: HeaderMap,
) -> Result<Json<LookView>, ApiError> {
    let now = state.now();
    let token = bearer(&headers);
    let device = match token {
        Some(token) => known(&state, hashed(token)).await?,
        None => None,
    };
    let Some(DeviceKind::Look { home_id, until }) = device.map(|known| known.device.kind) else {
        let why = "this link is not known, or it is over: ask for a new one";
        return Err(ApiError::Forbidden(
            StatusCode::UNAUTHORIZED,
            why.to_owned(),
        ));
    };
    let view = state.store(move |store| seen(store, now, &home_id, until));
    Ok(Json(view.await?))
}

fn seen(store: &Store, now: Timestamp, home_id: &str, until: Date) -> Result<LookView, ApiError> {
    let home: Home = store.get(home_id)?;
    let house = House::read(store, now)?;
    let today = house.today();
    let mut done: HashMap<String, Vec<LookedDone>> = HashMap::new();
    // What was only told afterwards is a note, and notes are not for everybody.
    for line in all_done(store)?
        .into_iter()
        .filter(|line| line.clean_id.is_some())
    {
        let of_brewer = done.entry(line.brewer_id).or_default();
        if of_brewer.len() < LATELY {
            of_brewer.push(LookedDone {
                day: text::day(line.day, today),
                what: line.text,
                by: line.by,
            });
        }
    }
    let cards = house.cards().iter().filter(|card| card.home_id == home_id);
    let brewers = cards.map(|card| {
        Ok(LookedAt {
            nickname: card.nickname.clone(),
            inside: inside(store, card)?,
            next: next(card),
            done: done.remove(&card.id).unwrap_or_default(),
        })
    });
    Ok(LookView {
        home: home.name,
        today,
        until: format!("until {}", text::day(until, today)),
        brewers: brewers.collect::<Result<_, ApiError>>()?,
    })
}

/// What is in it, on any side, where nobody may drink from it.
fn inside(store: &Store, card: &BrewerCard) -> Result<Option<String>, ApiError> {
    for side in &card.circuits {
        if let Some(acid) = side.acid.as_ref().or(side.held.as_ref()) {
            return Ok(Some(acid.text.clone()));
        }
        if let Some(id) = &side.running_clean {
            let record = store.clean(id)?;
            let state = replay(&record.plan, &record.events)
                .map_err(|problem| ApiError::Internal(problem.to_string()))?;
            if state.inside != Inside::Water {
                return Ok(Some(state.inside_text));
            }
        }
    }
    Ok(None)
}

fn next(card: &BrewerCard) -> Vec<String> {
    let of = |side: &murlo_household::counter::CircuitCard| {
        let due = &side.forecast.due.text;
        match card.circuits.len() {
            1 => format!("Next descaling {due}"),
            _ => format!("{}: next descaling {due}", side.name),
        }
    };
    card.circuits.iter().map(of).collect()
}

//! The standing week: drafts from each home's rhythm beside what is planned; confirmed, moved, left out.

use crate::api::{ConfirmedDraft, ConfirmedView, MovedDraft, OtherDay, WeekView};
use crate::error::{ApiError, Body, Queried};
use crate::house::House;
use crate::seen::{Seen, plan_together};
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::home::{Home, Rhythm};
use murlo_household::rounds::{
    Block, ThisWeek, Visit, VisitDraft, VisitStage, kit, shopping, week_of,
};
use murlo_plan::Plan;
use murlo_store::Store;
use serde::Deserialize;

/// Which week.
#[derive(Deserialize)]
pub struct WhichWeek {
    #[serde(default)]
    day: Option<Date>,
}

/// A week of visits, drafts among them.
#[utoipa::path(get, tag = "shown offline", path = "/api/week", params(("day" = Option<String>, Query, description = "A day of the week; today's where none is given")), responses((status = 200, body = WeekView), (status = 422)))]
pub async fn week(
    State(state): State<AppState>,
    Queried(asked): Queried<WhichWeek>,
) -> Result<Json<WeekView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let house = House::read(store, now)?;
        let day = asked.day.unwrap_or_else(|| house.today());
        house.ahead().may_ask(day)?;
        let (monday, sunday) = week_of(day);
        let coming = house.ahead().until(sunday);
        let mut changes = coming.changes;
        let planned = house.visits.iter();
        let planned = planned.filter(|visit| (monday..=sunday).contains(&visit.day));
        let kept: Vec<&Visit> = planned.collect();
        let drafts = coming.drafts.iter();
        let drafts: Vec<&VisitDraft> = drafts.filter(|draft| draft.visit.day >= monday).collect();
        let visits = kept
            .iter()
            .copied()
            .chain(drafts.iter().map(|one| &one.visit));
        let ahead = visits.filter(|visit| visit.stage() != VisitStage::Closed);
        plan_together(&house, ahead.flat_map(|visit| &visit.stops))?;
        let mut blocks: Vec<Block> = Vec::new();
        let mut plans: Vec<Plan> = Vec::new();
        let each = kept.into_iter().map(|visit| (visit, None));
        for (visit, draft) in each.chain(drafts.into_iter().map(|one| (&one.visit, Some(one)))) {
            let seen = Seen::new(store, &house, visit, now)?;
            if visit.stage() != VisitStage::Closed {
                plans.extend(seen.plans().cloned());
            }
            let changes = changes.remove(&visit.id).unwrap_or_default();
            blocks.push(seen.block(draft, changes));
        }
        let plans: Vec<&Plan> = plans.iter().collect();
        let pieces = house.pieces();
        let stock = house.stock(&pieces);
        let off = &house.past.settings.days_off;
        let has_rhythm = |home: &Home| home.coming.rhythm != Rhythm::OnCall;
        Ok(WeekView {
            week: ThisWeek::of(blocks, day, house.today(), off, house.clock()),
            kit: kit(&plans, stock),
            shopping: shopping(&plans, stock),
            has_rhythm: house.homes.iter().any(has_rhythm),
        })
    });
    Ok(Json(view.await?))
}

/// The draft of a day of a home's rhythm.
fn draft_of(house: &House, home_id: &str, rhythm_day: Date) -> Result<VisitDraft, ApiError> {
    let coming = house.ahead().until(house.ahead().furthest());
    let mut drafts = coming.drafts.into_iter();
    let found = drafts.find(|draft| draft.home_id == home_id && draft.day == rhythm_day);
    found.ok_or_else(|| {
        let message = "nobody comes on this day of its rhythm any more: look again";
        ApiError::Conflict(Problem::new(Code::DoesNotFit, "rhythm_day", message))
    })
}

fn confirmed(store: &Store, house: &House, given: &ConfirmedDraft) -> Result<String, ApiError> {
    let is_it = |visit: &&Visit| {
        visit.rhythm_day == Some(given.rhythm_day) && visit.homes.contains(&given.home_id)
    };
    // Two touches, or two phones, confirm one visit.
    if let Some(known) = house.visits.iter().find(is_it) {
        return Ok(known.id.clone());
    }
    let draft = draft_of(house, &given.home_id, given.rhythm_day)?;
    let visit = Visit {
        id: given.id.clone(),
        ..draft.visit
    };
    visit.check()?;
    store.add(&visit)?;
    Ok(visit.id)
}

/// Makes a visit of a draft, as it stands now; the answer is its id, that of the one it became already where it did.
#[utoipa::path(post, path = "/api/week/confirm", request_body = ConfirmedDraft, responses((status = 200, body = ConfirmedView), (status = 409), (status = 422)))]
pub async fn confirm_draft(
    State(state): State<AppState>,
    Body(given): Body<ConfirmedDraft>,
) -> Result<Json<ConfirmedView>, ApiError> {
    let now = state.now();
    let id = state.store(move |store| confirmed(store, &House::read(store, now)?, &given));
    let id = id.await?;
    state.changed("facts");
    Ok(Json(ConfirmedView { id }))
}

/// Moves a draft to another day, leaves it out, or brings it back to its own.
#[utoipa::path(post, path = "/api/week/move", request_body = MovedDraft, responses((status = 204), (status = 404), (status = 422)))]
pub async fn move_draft(
    State(state): State<AppState>,
    Body(given): Body<MovedDraft>,
) -> Result<StatusCode, ApiError> {
    let now = state.now();
    state
        .store(move |store| {
            let today = House::read(store, now)?.today();
            if given.to.is_some_and(|to| to < today) {
                let message = "this day is over: give today or a later one";
                return Err(Problem::new(Code::OutOfRange, "to", message).into());
            }
            store.alter::<Home>(&given.home_id, |home| {
                let coming = home.coming.moving(given.rhythm_day, given.to)?;
                Ok(Home { coming, ..home })
            })?;
            Ok(())
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// Gives a visit that has not begun another day.
#[utoipa::path(post, path = "/api/visits/{id}/day", params(("id" = String, Path)), request_body = OtherDay, responses((status = 204), (status = 404), (status = 409), (status = 422)))]
pub async fn move_visit(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(given): Body<OtherDay>,
) -> Result<StatusCode, ApiError> {
    let now = state.now();
    state
        .store(move |store| {
            let today = House::read(store, now)?.today();
            if given.day < today {
                let message = "this day is over: give today or a later one";
                return Err(Problem::new(Code::OutOfRange, "day", message).into());
            }
            store.alter::<Visit>(&id, |visit| {
                if visit.stage() != VisitStage::Planned {
                    let message = "this visit has begun: it keeps its day";
                    return Err(Problem::new(Code::DoesNotFit, "day", message).into());
                }
                let moved = Visit {
                    day: given.day,
                    ..visit
                };
                moved.check()?;
                Ok(moved)
            })?;
            Ok(())
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

//! Who owes what: the bills of a month, by home, as a page and as a table; and what was paid.

use crate::api::Payment;
use crate::error::{ApiError, Body, Queried};
use crate::house::House;
use crate::state::AppState;
use crate::table::table;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::Response;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::home::Home;
use murlo_chalk::money::Terms;
use murlo_household::rounds::{Owed, Visit, VisitCourse};
use murlo_store::Store;
use serde::Deserialize;
use std::collections::HashMap;

/// Which month.
#[derive(Deserialize)]
pub struct WhichMonth {
    #[serde(default)]
    day: Option<Date>,
}

fn owed_in(store: &Store, asked: &WhichMonth, now: Timestamp) -> Result<(Owed, Terms), ApiError> {
    let house = House::read(store, now)?;
    let settings = &house.past.settings;
    let terms = Terms {
        currency: settings.currency.clone(),
        ..Terms::default()
    };
    // A home that was put away still has its name.
    let homes = store.all::<Home>()?;
    let names: HashMap<String, String> = homes
        .into_iter()
        .map(|kept| (kept.fact.id, kept.fact.name))
        .collect();
    let courses: Vec<(&Visit, VisitCourse)> = house
        .visits
        .iter()
        .map(|visit| (visit, visit.course().unwrap_or_default()))
        .collect();
    let day = asked.day.unwrap_or_else(|| house.today());
    bounds::day("day", day)?;
    let name_of = |id: &str| names.get(id).cloned().unwrap_or_default();
    let owed = Owed::of(
        day,
        (house.places(), &courses),
        name_of,
        &house.zone,
        &terms,
    );
    Ok((owed, terms))
}

/// Who owes what of a month.
#[utoipa::path(get, path = "/api/owed", params(("day" = Option<String>, Query, description = "A day of the month; today's where none is given")), responses((status = 200, body = Owed), (status = 422)))]
pub async fn owed(
    State(state): State<AppState>,
    Queried(asked): Queried<WhichMonth>,
) -> Result<Json<Owed>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| Ok(owed_in(store, &asked, now)?.0));
    Ok(Json(view.await?))
}

/// The same as a table.
#[utoipa::path(get, path = "/api/owed.csv", params(("day" = Option<String>, Query, description = "A day of the month; today's where none is given")), responses((status = 200, body = String, content_type = "text/csv"), (status = 422)))]
pub async fn owed_csv(
    State(state): State<AppState>,
    Queried(asked): Queried<WhichMonth>,
) -> Result<Response, ApiError> {
    let now = state.now();
    let (owed, terms) = state
        .store(move |store| owed_in(store, &asked, now))
        .await?;
    let name = format!("murlo-owed-{}.csv", owed.month.strftime("%Y-%m"));
    Ok(table(&name, owed.csv(&terms)))
}

/// Writes down when a home paid for a visit that is over, or that it has not after all.
#[utoipa::path(post, path = "/api/visits/{id}/paid", params(("id" = String, Path)), request_body = Payment, responses((status = 204), (status = 404), (status = 409), (status = 422)))]
pub async fn pay_visit(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(given): Body<Payment>,
) -> Result<StatusCode, ApiError> {
    state
        .store(move |store| {
            let homes = store.all::<Home>()?;
            if !homes.iter().any(|home| home.fact.id == given.home_id) {
                let message = format!("no home has the id \"{}\"", given.home_id);
                return Err(Problem::new(Code::UnknownId, "home_id", message).into());
            }
            store.alter::<Visit>(&id, |visit| {
                if !visit.is_closed() {
                    let message = "this visit is not over: close it first";
                    return Err(Problem::new(Code::DoesNotFit, "on", message).into());
                }
                let mut visit = visit;
                match given.on {
                    Some(day) => visit.paid.insert(given.home_id, day),
                    None => visit.paid.remove(&given.home_id),
                };
                visit.check()?;
                Ok(visit)
            })?;
            Ok(())
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

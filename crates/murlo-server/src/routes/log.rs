//! The log.

use crate::api::LogView;
use crate::error::{ApiError, Queried};
use crate::lines::{all_done, views};
use crate::state::{AppState, today};
use crate::table::table;
use axum::Json;
use axum::extract::State;
use axum::response::Response;
use murlo_brewer::Brewer;
use murlo_brewer::home::Home;
use murlo_household::history::{Log, Which, csv};
use murlo_plan::Work;
use serde::Deserialize;
use std::collections::HashMap;

/// So many lines are given when nobody asks for more.
const LINES: usize = 60;

/// Which lines are wanted.
#[derive(Debug, Deserialize)]
pub struct LogQuery {
    brewer: Option<String>,
    home: Option<String>,
    year: Option<i16>,
    work: Option<Work>,
    words: Option<String>,
    most: Option<usize>,
}

/// What was done, latest first, and what each year held.
#[utoipa::path(get, path = "/api/log", params(("brewer" = Option<String>, Query, description = "Of this brewer only"), ("home" = Option<String>, Query, description = "Of the brewers of this home only"), ("year" = Option<i16>, Query, description = "Of this year only"), ("work" = Option<Work>, Query, description = "Of this work only"), ("words" = Option<String>, Query, description = "Only what holds all of these words"), ("most" = Option<usize>, Query, description = "No more lines than that; 60 unless asked otherwise")), responses((status = 200, body = LogView), (status = 400)))]
pub async fn log(
    State(state): State<AppState>,
    Queried(asked): Queried<LogQuery>,
) -> Result<Json<LogView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let today = today(now, &store.settings()?.time_zone);
        let all = store.all::<Brewer>()?;
        let brewers: HashMap<_, _> = all.iter().map(|k| (k.fact.id.as_str(), &k.fact)).collect();
        let is_meant = |brewer: &Brewer| {
            asked
                .home
                .as_ref()
                .is_none_or(|home| *home == brewer.home_id)
                && asked.brewer.as_ref().is_none_or(|id| *id == brewer.id)
        };
        let meant = brewers
            .values()
            .filter(|b| is_meant(b))
            .map(|b| b.id.clone());
        let is_all = asked.home.is_none() && asked.brewer.is_none();
        let which = Which {
            brewers: (!is_all).then(|| meant.collect()),
            year: asked.year,
            work: asked.work,
            words: asked
                .words
                .iter()
                .flat_map(|words| words.split_whitespace())
                .map(str::to_lowercase)
                .collect(),
            most: asked.most.unwrap_or(LINES),
        };
        let name = |id: &str| {
            let brewer = brewers.get(id);
            brewer.map_or_else(String::new, |brewer| brewer.nickname.clone())
        };
        let log = Log::of(all_done(store)?, &which, name);
        Ok(LogView {
            lines: views(log.lines, &brewers, today),
            more: log.more,
            years: log.years,
            line: log.line,
        })
    });
    Ok(Json(view.await?))
}

/// The whole log as a table.
#[utoipa::path(get, path = "/api/log.csv", responses((status = 200, body = String, content_type = "text/csv")))]
pub async fn log_csv(State(state): State<AppState>) -> Result<Response, ApiError> {
    let text = state.store(move |store| {
        let (brewers, homes) = (store.all::<Brewer>()?, store.all::<Home>()?);
        let homes: HashMap<_, _> = homes.iter().map(|k| (&k.fact.id, &k.fact.name)).collect();
        let named = |id: &str| {
            let brewer = &brewers.iter().find(|k| k.fact.id == id)?.fact;
            let home = homes.get(&brewer.home_id)?;
            Some((brewer.nickname.as_str(), home.as_str()))
        };
        Ok(csv(&all_done(store)?, named))
    });
    Ok(table("murlo-log.csv", text.await?))
}

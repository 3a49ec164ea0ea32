//! The log.

use crate::api::{LogLine, LogView};
use crate::error::{ApiError, Asked};
use crate::routes::cupboard::table;
use crate::state::{AppState, today};
use axum::Json;
use axum::extract::State;
use axum::response::Response;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::home::Home;
use murlo_household::PastClean;
use murlo_household::history::{Done, Log, Which, csv, done};
use murlo_store::Store;
use serde::Deserialize;
use std::collections::HashMap;

/// So many lines are given when nobody asks for more.
const LINES: usize = 60;

/// What was done, latest first.
pub fn log_lines(store: &Store, today: Date) -> Result<Vec<LogLine>, ApiError> {
    let brewers = store.all::<Brewer>()?;
    let names = brewers.iter().map(|k| (k.fact.id.as_str(), &k.fact));
    Ok(views(all_done(store)?, &names.collect(), today))
}

fn all_done(store: &Store) -> Result<Vec<Done>, ApiError> {
    Ok(done(store.summaries()?, store.current::<PastClean>()?))
}

fn views(lines: Vec<Done>, brewers: &HashMap<&str, &Brewer>, today: Date) -> Vec<LogLine> {
    let view = |line: Done| LogLine {
        nickname: brewers
            .get(line.brewer_id.as_str())
            .map_or_else(String::new, |brewer| brewer.nickname.clone()),
        in_short: line.in_short(),
        clean_id: line.clean_id,
        past_id: line.past_id,
        brewer_id: line.brewer_id,
        day: line.day,
        day_text: text::day(line.day, today),
        text: line.text,
        outcome: line.outcome,
    };
    lines.into_iter().map(view).collect()
}

/// Which lines are wanted.
#[derive(Debug, Deserialize)]
pub struct LogQuery {
    brewer: Option<String>,
    home: Option<String>,
    year: Option<i16>,
    most: Option<usize>,
}

/// What was done, latest first, and what each year held.
#[utoipa::path(get, path = "/api/log", params(("brewer" = Option<String>, Query, description = "Of this brewer only"), ("home" = Option<String>, Query, description = "Of the brewers of this home only"), ("year" = Option<i16>, Query, description = "Of this year only"), ("most" = Option<usize>, Query, description = "No more lines than that; 60 unless asked otherwise")), responses((status = 200, body = LogView), (status = 400)))]
pub async fn log(
    State(state): State<AppState>,
    Asked(asked): Asked<LogQuery>,
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
            most: asked.most.unwrap_or(LINES),
        };
        let log = Log::of(all_done(store)?, &which);
        Ok(LogView {
            lines: views(log.lines, &brewers, today),
            more: log.more,
            years: log.years,
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

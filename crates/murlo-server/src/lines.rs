//! The log, line by line.

use crate::api::LogLine;
use crate::error::ApiError;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_household::PastClean;
use murlo_household::history::{Done, done};
use murlo_store::Store;
use std::collections::HashMap;

/// What was done, latest first.
pub(crate) fn log_lines(store: &Store, today: Date) -> Result<Vec<LogLine>, ApiError> {
    let brewers = store.all::<Brewer>()?;
    let names = brewers.iter().map(|k| (k.fact.id.as_str(), &k.fact));
    Ok(views(all_done(store)?, &names.collect(), today))
}

pub(crate) fn all_done(store: &Store) -> Result<Vec<Done>, ApiError> {
    Ok(done(store.summaries()?, store.current::<PastClean>()?))
}

pub(crate) fn views(
    lines: Vec<Done>,
    brewers: &HashMap<&str, &Brewer>,
    today: Date,
) -> Vec<LogLine> {
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
        by: line.by,
    };
    lines.into_iter().map(view).collect()
}

//! Server-sent events: which resource has changed, so that every open screen asks again.

use crate::asking::Asking;
use crate::error::Queried;
use crate::state::{AppState, gone, is_gone};
use axum::extract::State;
use axum::response::sse::{Event, KeepAlive, Sse};
use serde::Deserialize;
use std::convert::Infallible;
use std::pin::Pin;
use std::time::Duration;
use tokio::time::{Instant, interval_at};
use tokio_stream::wrappers::{BroadcastStream, IntervalStream, WatchStream};
use tokio_stream::{Stream, StreamExt};
use utoipa::IntoParams;

/// Nothing, once the stream is over.
type Ending = Pin<Box<dyn Stream<Item = Option<String>> + Send>>;

/// Ends after so long.
fn ending(after: Duration) -> Ending {
    let at = Instant::now() + after;
    Box::pin(IntervalStream::new(interval_at(at, Duration::MAX)).map(|_| None))
}

/// From when on changes are asked for.
#[derive(Deserialize, IntoParams)]
pub struct HeardSince {
    /// The `changes` that came with the page: where there were more since, all is to be asked for again.
    since: Option<u64>,
}

/// A stream of names: `facts`, `clean:ID`.
#[utoipa::path(get, path = "/api/changes", params(HeardSince), responses((status = 200, content_type = "text/event-stream", body = String)))]
pub async fn changes(
    State(state): State<AppState>,
    Asking(known): Asking,
    Queried(HeardSince { since }): Queried<HeardSince>,
) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    // A listener that fell behind is told to ask for everything.
    let listening = state.listen();
    let missed = since.is_some_and(|since| since != state.changes_told());
    let missed = missed.then_some(["facts", "clean"]).into_iter().flatten();
    let missed = tokio_stream::iter(missed.map(|name| Ok(Event::default().data(name))));
    let changes = BroadcastStream::new(listening)
        .map(|change| Some(change.unwrap_or_else(|_| "facts".to_owned())));
    let gone_name = known.as_ref().map(|known| gone(&known.id));
    let mine = changes.map(move |change| change.filter(|name| Some(name) != gone_name.as_ref()));
    // Of other devices that are gone it hears nothing.
    let changes = mine.filter(|change| !change.as_ref().is_some_and(|name| is_gone(name)));
    let now = state.now();
    let stop = state
        .stopped
        .map(|stopped| WatchStream::new(stopped).filter(|stop| *stop).map(|_| None));
    let stop: Ending = match stop {
        Some(stop) => Box::pin(stop),
        None => Box::pin(tokio_stream::pending()),
    };
    let over: Ending = match known {
        Some(known) => ending(known.ends_at.duration_since(now).unsigned_abs()),
        None => Box::pin(tokio_stream::pending()),
    };
    // Ends when the server stops, which would otherwise wait for it, and when the device is signed out.
    let names = changes
        .merge(stop)
        .merge(over)
        .take_while(Option::is_some)
        .filter_map(|name| name);
    // Tells the browser to come back soon after the server was away.
    let first = tokio_stream::once(Ok(Event::default().retry(Duration::from_secs(1))));
    Sse::new(
        first
            .chain(missed)
            .chain(names.map(|name| Ok(Event::default().data(name)))),
    )
    .keep_alive(KeepAlive::default())
}

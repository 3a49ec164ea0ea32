//! Server-sent events: which resource has changed, so that every open screen asks again.

use crate::state::AppState;
use axum::extract::State;
use axum::response::sse::{Event, KeepAlive, Sse};
use std::convert::Infallible;
use std::time::Duration;
use tokio_stream::wrappers::{BroadcastStream, WatchStream};
use tokio_stream::{Stream, StreamExt};

/// A stream of names: `facts`, `clean:ID`.
#[utoipa::path(get, path = "/api/changes", responses((status = 200, content_type = "text/event-stream", body = String)))]
pub async fn changes(
    State(state): State<AppState>,
) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    // A listener that fell behind is told to ask for everything.
    let changes = BroadcastStream::new(state.listen())
        .map(|change| Some(change.unwrap_or_else(|_| "facts".to_owned())));
    let stop = state
        .stopped
        .map(|stopped| WatchStream::new(stopped).filter(|stop| *stop).map(|_| None));
    let stop: std::pin::Pin<Box<dyn Stream<Item = Option<String>> + Send>> = match stop {
        Some(stop) => Box::pin(stop),
        None => Box::pin(tokio_stream::pending()),
    };
    // Ends when the server stops, which would otherwise wait for it.
    let names = changes
        .merge(stop)
        .take_while(Option::is_some)
        .filter_map(|name| name);
    // Tells the browser to come back soon after the server was away.
    let first = tokio_stream::once(Ok(Event::default().retry(Duration::from_secs(1))));
    Sse::new(first.chain(names.map(|name| Ok(Event::default().data(name)))))
        .keep_alive(KeepAlive::default())
}

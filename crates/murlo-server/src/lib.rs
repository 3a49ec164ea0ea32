//! Murlo's HTTP API, and the front end's files as the program brings them.
//!
//! Parses, authorises, calls and answers. Holds no SQL (`murlo-store` does) and no rules (the crates below do).

mod access;
mod api;
mod assets;
mod error;
mod past;
mod routes;
mod state;

pub use access::hash_passcode;
pub use assets::{File, Shell};
pub use state::{AppState, Clock};

use std::future::Future;
use std::time::Duration;
use tokio::net::TcpListener;
use tokio::sync::watch;

/// Requests that are still under way when the server is told to stop have this long.
const DRAIN: Duration = Duration::from_secs(3);
/// How often it is looked whether today's backup was made.
const LOOK: Duration = Duration::from_secs(600);

/// Serves until `shutdown` resolves; then ends open event streams and drains requests, but waits for none that does not end.
///
/// # Errors
/// When the listener fails.
pub async fn run(
    listener: TcpListener,
    state: AppState,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let (stop, stopped) = watch::channel(false);
    let backups = tokio::spawn(back_up_daily(state.clone()));
    let app = routes::router(state.stopping_with(stopped.clone()));
    let serving = axum::serve(listener, app).with_graceful_shutdown(async move {
        shutdown.await;
        let _ = stop.send(true);
    });
    let late = async move {
        let mut stopped = stopped;
        // The sender lives as long as the server, so an error means that it has ended.
        let _ = stopped.wait_for(|stop| *stop).await;
        tokio::time::sleep(DRAIN).await;
    };
    let ended = tokio::select! {
        ended = serving => ended,
        () = late => Ok(()),
    };
    backups.abort();
    ended
}

async fn back_up_daily(state: AppState) {
    let mut look = tokio::time::interval(LOOK);
    loop {
        look.tick().await;
        if let Err(error) = state.back_up().await {
            tracing::warn!(?error, "today's backup could not be made");
        }
    }
}

/// The OpenAPI document of the API, made from the handlers.
#[must_use]
pub fn openapi() -> String {
    routes::document()
        .to_pretty_json()
        .expect("the document is plain data")
}

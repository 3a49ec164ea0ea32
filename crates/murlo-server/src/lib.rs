//! Murlo's HTTP API and the embedded front end.
//!
//! Parses, authorises, calls and answers. Holds no SQL (`murlo-store` does) and no rules (`murlo-core` does).

mod access;
mod api;
mod assets;
mod error;
mod past;
mod routes;
mod state;

pub use access::hash_passcode;
pub use state::{AppState, Clock};

use std::future::Future;
use tokio::net::TcpListener;
use tokio::sync::watch;

/// Serves until `shutdown` resolves, then drains requests and ends open event streams.
///
/// # Errors
/// When the listener fails.
pub async fn run(
    listener: TcpListener,
    state: AppState,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let (stop, stopped) = watch::channel(false);
    let app = routes::router(state.stopping_with(stopped));
    axum::serve(listener, app)
        .with_graceful_shutdown(async move {
            shutdown.await;
            let _ = stop.send(true);
        })
        .await
}

/// The OpenAPI document of the API, made from the handlers.
#[must_use]
pub fn openapi() -> String {
    routes::document()
        .to_pretty_json()
        .expect("the document is plain data")
}

//! Serving until told to stop: routes, daily backups, draining.

use crate::routes;
use crate::state::AppState;
use std::future::Future;
use std::net::SocketAddr;
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
    let app = app.into_make_service_with_connect_info::<SocketAddr>();
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

//! Serving until told to stop: routes, daily backups, draining.

use crate::routes;
use crate::state::AppState;
use murlo_line::ConnectionPlaces;
use std::future::Future;
use std::time::Duration;
use tokio::net::TcpListener;
use tokio::sync::watch;

/// How often it is looked whether today's backup was made.
const LOOK: Duration = Duration::from_secs(600);

/// Serves until `shutdown` resolves; then ends open event streams and drains requests.
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
    let places = ConnectionPlaces::default().behind_proxy(state.reached.behind_proxy);
    let shown = state.reached.certificates.as_ref();
    let tls = shown.map(|shown| shown.config()).transpose()?;
    let app = routes::router(state.stopping_with(stopped));
    let stopping = async move {
        shutdown.await;
        let _ = stop.send(true);
    };
    let ended = murlo_line::serve(listener, app, tls, places, stopping).await;
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

//! Serving a household until Ctrl-C.

use crate::demo;
use anyhow::{Context, Result, bail};
use jiff::Timestamp;
use jiff::tz::TimeZone;
use murlo_core::bath::Agent;
use murlo_core::household::{Home, Settings};
use murlo_server::AppState;
use murlo_store::Store;
use std::io::Write;
use std::net::SocketAddr;
use std::path::Path;
use tokio::net::TcpListener;

#[expect(
    clippy::disallowed_methods,
    reason = "the one place where the clock is read"
)]
fn clock() -> Timestamp {
    Timestamp::now()
}

/// Serves the household in `database`.
pub fn household(database: &Path, listen: SocketAddr) -> Result<()> {
    let store =
        Store::open(database).with_context(|| format!("cannot open {}", database.display()))?;
    if store.all::<Agent>()?.is_empty() {
        Agent::starters()
            .iter()
            .try_for_each(|agent| store.put(agent))?;
        store.put(&Home {
            id: "home".to_owned(),
            name: "Home".to_owned(),
        })?;
        // Days are counted where the machine stands, until the household says otherwise.
        let zone = TimeZone::system();
        let time_zone = zone.iana_name().unwrap_or("UTC").to_owned();
        store.put_settings(&Settings {
            time_zone,
            ..Settings::default()
        })?;
    }
    let guarded = !listen.ip().is_loopback();
    if guarded && store.passcode()?.is_none() {
        bail!(
            "{listen} can be reached by others: set a passcode first with `murlo passcode`, or listen on 127.0.0.1"
        );
    }
    serve(store, listen, guarded)
}

/// Serves the made-up homes.
pub fn demo(listen: SocketAddr, crowd: u32, years: u32) -> Result<()> {
    if !listen.ip().is_loopback() {
        bail!("the demo has no passcode: listen on 127.0.0.1");
    }
    let folder = tempfile::tempdir()?;
    let mut store = Store::open(&folder.path().join("demo.db"))?;
    demo::fill(&mut store, clock(), crowd, years)?;
    serve(store, listen, false)
}

#[tokio::main]
async fn serve(store: Store, listen: SocketAddr, guarded: bool) -> Result<()> {
    let listener = TcpListener::bind(listen)
        .await
        .with_context(|| format!("cannot listen on {listen}"))?;
    println!("LISTENING http://{}", listener.local_addr()?);
    std::io::stdout().flush()?;
    let stop = async {
        // Without a signal handler the server still runs; it then ends with the process.
        let _ = tokio::signal::ctrl_c().await;
    };
    Ok(murlo_server::run(listener, AppState::new(store, guarded, clock), stop).await?)
}

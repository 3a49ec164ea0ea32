//! Serving a household until it is told to stop.

use crate::{demo, shell};
use anyhow::{Context, Result, bail};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_household::Settings;
use murlo_server::{AppState, MailServer, Post};
use murlo_store::{Lock, Store};
use std::io::Write;
use std::net::SocketAddr;
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};
use tokio::net::TcpListener;
use tokio::runtime::Runtime;

/// Work that will not end is given up after this long.
const GIVE_UP: Duration = Duration::from_secs(1);

#[expect(
    clippy::disallowed_methods,
    reason = "the one place where the clock is read"
)]
pub fn clock() -> Timestamp {
    Timestamp::now()
}

/// A clock that starts at `start` and then goes on as any clock.
fn clock_from(start: Option<Timestamp>) -> impl Fn() -> Timestamp + Send + Sync + 'static {
    let begun = Instant::now();
    move || match start {
        None => clock(),
        Some(start) => SignedDuration::try_from(begun.elapsed())
            .ok()
            .and_then(|gone| start.checked_add(gone).ok())
            .unwrap_or(start),
    }
}

/// Serves the household in `database`.
pub fn household(
    database: &Path,
    listen: SocketAddr,
    mail: Option<(String, String)>,
    now: Option<Timestamp>,
) -> Result<()> {
    let mail = mail
        .map(|(server, from)| MailServer::named(&server, &from))
        .transpose()
        .map_err(|why| anyhow::anyhow!("--mail: {why}"))?;
    // Before anything is read, so that two never begin the same household.
    let lock = Lock::take(database, "about to serve")?;
    let store = Store::open(database)?;
    // Days are counted where the machine stands, until the household says otherwise.
    let zone = TimeZone::system();
    let settings = Settings {
        time_zone: zone.iana_name().unwrap_or("UTC").to_owned(),
        ..Settings::default()
    };
    store.start_with(&Agent::starters(), &Home::starter(), &settings)?;
    let guarded = !listen.ip().is_loopback();
    if guarded && store.passcode()?.is_none() {
        bail!(
            "{listen} can be reached by others: set a passcode first with `murlo passcode`, or listen on 127.0.0.1"
        );
    }
    let state = AppState::new(store, guarded, clock_from(now))
        .with_shell(shell::file)
        .with_post(Post::new(outbox(database), mail));
    serve(state, listen, Some(lock), None)
}

/// The folder of letters beside a database: "murlo-outbox".
fn outbox(database: &Path) -> PathBuf {
    let name = database.file_stem().unwrap_or_default();
    database.with_file_name(format!("{}-outbox", name.to_string_lossy()))
}

/// Serves the made-up homes.
pub fn demo(listen: SocketAddr, crowd: u32, years: u32, now: Option<Timestamp>) -> Result<()> {
    if !listen.ip().is_loopback() {
        bail!("the demo has no passcode: listen on 127.0.0.1");
    }
    let folder = tempfile::tempdir()?;
    let mut store = Store::open(&folder.path().join("demo.db"))?;
    let clock = clock_from(now);
    demo::fill(&mut store, clock(), crowd, years)?;
    let state = AppState::new(store, false, clock)
        .with_shell(shell::file)
        .with_post(Post::new(folder.path().join("outbox"), None))
        .with_reports(crate::reports::reports());
    let served = serve(state, listen, None, Some(folder.path().to_owned()));
    folder.close()?;
    served
}

fn serve(
    state: AppState,
    listen: SocketAddr,
    mut lock: Option<Lock>,
    throwaway: Option<PathBuf>,
) -> Result<()> {
    let runtime = Runtime::new()?;
    let served = runtime.block_on(async {
        let listener = TcpListener::bind(listen)
            .await
            .with_context(|| format!("cannot listen on {listen}"))?;
        let address = format!("http://{}", listener.local_addr()?);
        if let Some(lock) = &mut lock {
            lock.tell(&format!("serving {address}"))?;
        }
        let stop = told_to_stop(throwaway)?;
        println!("LISTENING {address}");
        std::io::stdout().flush()?;
        Ok(murlo_server::run(listener, state, stop).await?)
    });
    // What is still open is dropped here, the database with it: SQLite then tidies up beside the file.
    runtime.shutdown_timeout(GIVE_UP);
    served
}

/// Resolves at the first signal to end; a second one ends the process at once.
#[cfg(unix)]
fn told_to_stop(throwaway: Option<PathBuf>) -> Result<impl Future<Output = ()> + Send + 'static> {
    use tokio::signal::unix::{SignalKind, signal};
    let mut interrupts = signal(SignalKind::interrupt())?;
    let mut terminations = signal(SignalKind::terminate())?;
    let (stop, told) = tokio::sync::oneshot::channel();
    tokio::spawn(async move {
        let mut stop = Some(stop);
        loop {
            tokio::select! {
                _ = interrupts.recv() => {}
                _ = terminations.recv() => {}
            }
            let Some(stop) = stop.take() else {
                if let Some(folder) = &throwaway {
                    let _ = std::fs::remove_dir_all(folder);
                }
                std::process::exit(130);
            };
            let _ = stop.send(());
        }
    });
    Ok(async move {
        let _ = told.await;
    })
}

#[cfg(not(unix))]
fn told_to_stop(_: Option<PathBuf>) -> Result<impl Future<Output = ()> + Send + 'static> {
    Ok(async {
        let _ = tokio::signal::ctrl_c().await;
    })
}

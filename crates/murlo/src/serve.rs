//! Serving a household until it is told to stop.

use crate::line::{self, KeptFresh, LineAsked};
use crate::{demo, shell};
use anyhow::{Context, Result, bail};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_household::Settings;
use murlo_server::{AppState, MailServer, Post, Reached};
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

/// Serves the household in `database`, reached by `line`.
pub fn household(
    database: &Path,
    listen: Option<SocketAddr>,
    line: &LineAsked,
    mail: Option<(String, String)>,
    now: Option<Timestamp>,
) -> Result<()> {
    let listen = line.listens(listen);
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
    let guarded = line.guards(listen);
    if guarded && !line.pairs() && store.passcode()?.is_none() {
        bail!(
            "others can reach this: set a passcode first with `murlo passcode`, serve the phones of a home with --home, or listen on 127.0.0.1"
        );
    }
    let (reached, kept) = line.reached(database, clock())?;
    let state = AppState::new(store, guarded, clock_from(now))
        .with_shell(shell::file)
        .with_post(Post::new(outbox(database), mail));
    let how = ServedHow {
        served: Some((lock, database.to_owned())),
        reached,
        kept,
        throwaway: None,
    };
    serve(state, listen, how)
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
    let how = ServedHow {
        served: None,
        reached: Reached::default(),
        kept: KeptFresh::Plain,
        throwaway: Some(folder.path().to_owned()),
    };
    let served = serve(state, listen, how);
    folder.close()?;
    served
}

/// What belongs to a household that is served.
struct ServedHow {
    /// The household's file; none of one that is thrown away.
    served: Option<(Lock, PathBuf)>,
    reached: Reached,
    kept: KeptFresh,
    throwaway: Option<PathBuf>,
}

fn serve(state: AppState, listen: SocketAddr, mut how: ServedHow) -> Result<()> {
    let runtime = Runtime::new()?;
    let served = runtime.block_on(async {
        let listener = TcpListener::bind(listen)
            .await
            .with_context(|| format!("cannot listen on {listen}"))?;
        let reached = Reached {
            at: Some(listener.local_addr()?),
            ..how.reached
        };
        let scheme = match reached.certificates {
            Some(_) => "https",
            None => "http",
        };
        let address = format!("{scheme}://{}", listener.local_addr()?);
        let mut ways_in = String::new();
        if let Some((lock, database)) = &mut how.served {
            lock.tell(&format!("serving {address}"))?;
            ways_in = line::ways_in(&reached, &Store::existing(database)?, state.now())?;
        }
        let stop = told_to_stop(how.throwaway)?;
        let _name = line::announced(&reached);
        println!("LISTENING {address}");
        print!("{ways_in}");
        std::io::stdout().flush()?;
        let fresh = tokio::spawn(how.kept.keep(clock));
        let ended = murlo_server::run(listener, state.reached(reached), stop).await;
        fresh.abort();
        Ok(ended?)
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

//! What every handler shares: the store, the clock, and who wants to hear of changes.

use crate::error::ApiError;
use crate::guesses::Guesses;
use crate::post::Post;
use crate::reached::Reached;
use crate::shell::Shell;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use murlo_brewer::report::Report;
use murlo_store::{Backups, Store};
use std::path::PathBuf;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;
use tokio::sync::{Semaphore, broadcast, watch};

/// A line that brings nothing for so long is gone. Judged.
const BODY_WAITS: Duration = Duration::from_secs(30);

/// Where the time comes from; the demo and tests bring their own.
pub type TimeSource = Arc<dyn Fn() -> Timestamp + Send + Sync>;

/// Shared by all handlers; cheap to clone.
#[derive(Clone)]
pub struct AppState {
    store: Arc<Mutex<Store>>,
    clock: TimeSource,
    pub(crate) shell: Shell,
    pub(crate) backups: Option<Backups>,
    /// Where its file lies.
    pub(crate) folder: Option<PathBuf>,
    pub(crate) post: Option<Arc<Post>>,
    /// One large picture is read at a time: each takes as much memory as it has pixels.
    pub(crate) pictures: Arc<Semaphore>,
    /// So long the next piece of a long body is waited for.
    pub(crate) body_waits: Duration,
    /// Held while a copy is made, and while something is erased from all of them.
    pub(crate) making_backups: Arc<tokio::sync::Mutex<()>>,
    changes: broadcast::Sender<String>,
    /// How many changes were told: by it a page knows whether what came with it is still so.
    changes_told: Arc<AtomicU64>,
    pub(crate) stopped: Option<watch::Receiver<bool>>,
    pub(crate) guarded: bool,
    pub(crate) reached: Arc<Reached>,
    pub(crate) guesses: Arc<Mutex<Guesses>>,
    /// Made-up water reports; only the demo has them.
    pub(crate) reports: Arc<[Report]>,
}

impl AppState {
    /// Shares `store`. With `guarded` every device must sign in.
    #[must_use]
    pub fn new(
        store: Store,
        guarded: bool,
        clock: impl Fn() -> Timestamp + Send + Sync + 'static,
    ) -> Self {
        Self {
            backups: store.path().map(Backups::of),
            folder: store.path().and_then(|path| {
                let folder = path.parent()?;
                Some(if folder.as_os_str().is_empty() {
                    ".".into()
                } else {
                    folder.to_owned()
                })
            }),
            pictures: Arc::new(Semaphore::new(1)),
            post: None,
            shell: |_| None,
            store: Arc::new(Mutex::new(store)),
            clock: Arc::new(clock),
            body_waits: BODY_WAITS,
            making_backups: Arc::default(),
            changes: broadcast::channel(64).0,
            changes_told: Arc::default(),
            stopped: None,
            guarded,
            reached: Arc::default(),
            guesses: Arc::default(),
            reports: Arc::default(),
        }
    }

    /// With the front end's files.
    #[must_use]
    pub fn with_shell(self, shell: Shell) -> Self {
        Self { shell, ..self }
    }

    /// Reached so.
    #[must_use]
    pub fn reached(self, reached: Reached) -> Self {
        Self {
            reached: Arc::new(reached),
            ..self
        }
    }

    /// With somewhere for letters to go.
    #[must_use]
    pub fn with_post(self, post: Post) -> Self {
        Self {
            post: Some(Arc::new(post)),
            ..self
        }
    }

    /// Waiting so long for the next piece of a long body.
    #[must_use]
    pub fn waiting_for_bodies(self, body_waits: Duration) -> Self {
        Self { body_waits, ..self }
    }

    /// With water reports to look up.
    #[must_use]
    pub fn with_reports(self, reports: Vec<Report>) -> Self {
        Self {
            reports: reports.into(),
            ..self
        }
    }

    pub(crate) fn stopping_with(self, stopped: watch::Receiver<bool>) -> Self {
        Self {
            stopped: Some(stopped),
            ..self
        }
    }

    /// The time now.
    #[must_use]
    pub fn now(&self) -> Timestamp {
        (self.clock)()
    }

    /// Runs `work` with the store on a thread that may block. One connection serves all: a household's calls are short,
    /// and a panic in one leaves SQLite's transaction rolled back, so the lock is taken over from it.
    pub(crate) async fn store<T: Send + 'static>(
        &self,
        work: impl FnOnce(&mut Store) -> Result<T, ApiError> + Send + 'static,
    ) -> Result<T, ApiError> {
        let store = Arc::clone(&self.store);
        tokio::task::spawn_blocking(move || {
            work(&mut store.lock().unwrap_or_else(PoisonError::into_inner))
        })
        .await
        .map_err(|_| ApiError::Internal("a store call panicked".into()))?
    }

    /// Makes today's copy of the household, unless there is one; a household in memory has none.
    ///
    /// # Errors
    /// When it cannot be written.
    pub(crate) async fn back_up(&self) -> Result<(), ApiError> {
        let Some(backups) = self.backups.clone() else {
            return Ok(());
        };
        let now = self.now();
        let day = self
            .store(move |store| Ok(today(now, &store.settings()?.time_zone)))
            .await?;
        let _making = self.making_backups.lock().await;
        // Beside the store, not under its lock: acts go on meanwhile.
        tokio::task::spawn_blocking(move || Ok(backups.daily(day)?))
            .await
            .map_err(|_| ApiError::Internal("making a backup panicked".into()))?
    }

    /// Tells every open screen that `what` has changed.
    pub(crate) fn changed(&self, what: &str) {
        self.changes_told.fetch_add(1, Ordering::SeqCst);
        // Nobody listening is fine.
        let _ = self.changes.send(what.to_owned());
    }

    /// Tells what this device has open that it is signed out.
    pub(crate) fn device_gone(&self, id: &str) {
        self.changed(&gone(id));
        self.changed("devices");
    }

    pub(crate) fn changes_told(&self) -> u64 {
        self.changes_told.load(Ordering::SeqCst)
    }

    pub(crate) fn listen(&self) -> broadcast::Receiver<String> {
        self.changes.subscribe()
    }
}

/// What is told when a device is signed out; no screen hears it.
pub(crate) fn gone(id: &str) -> String {
    format!("gone:{id}")
}

/// Whether some device was signed out.
pub(crate) fn is_gone(name: &str) -> bool {
    name.starts_with("gone:")
}

/// The civil day of `now` where the household lives.
pub(crate) fn today(now: Timestamp, time_zone: &str) -> Date {
    TimeZone::get(time_zone).map_or_else(
        |_| now.to_zoned(TimeZone::UTC).date(),
        |tz| now.to_zoned(tz).date(),
    )
}

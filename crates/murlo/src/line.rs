//! How a household is reached beyond its own machine: its certificates, kept fresh, and the code that takes a device in.

use anyhow::{Context, Result, bail};
use jiff::Timestamp;
use jiff::tz::TimeZone;
use murlo_line::{Announced, Authority, Certificates, NAME, addresses};
use murlo_server::Reached;
use murlo_store::Store;
use qrcode::QrCode;
use qrcode::render::unicode::Dense1x2;
use std::net::{IpAddr, SocketAddr};
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::{Duration, SystemTime};

/// How often it is looked whether a certificate has to be another.
const LOOK: Duration = Duration::from_secs(60);

/// A certificate of the household's own is renewed after so many days, long before it ends.
const RENEW_DAYS: i32 = 30;

/// Who may reach it, as the command line says.
#[derive(clap::Args)]
pub struct LineAsked {
    /// Serve the phones of a home: by HTTPS under an authority of this household's own, which each device trusts once. Devices
    /// come in by a code; the first one stands here.
    #[arg(long, conflicts_with_all = ["certificate", "behind_proxy"])]
    home: bool,
    /// A further name it is asked under; with --home one that ends in .local, announced instead of murlo.local.
    #[arg(long = "name", value_name = "NAME")]
    names: Vec<String>,
    /// A certificate from elsewhere, with its chain, in PEM; read again when it changes.
    #[arg(long = "cert", value_name = "FILE", requires = "key")]
    certificate: Option<PathBuf>,
    /// Its key, in PEM.
    #[arg(long, value_name = "FILE", requires = "certificate")]
    key: Option<PathBuf>,
    /// A proxy on this machine ends TLS: it is believed whom a request is from (X-Forwarded-For and X-Forwarded-Proto).
    #[arg(long)]
    behind_proxy: bool,
    /// Devices sign in even where only this machine itself reaches it.
    #[arg(long)]
    require_passcode: bool,
}

/// What keeps certificates fresh while it is served.
pub enum KeptFresh {
    /// Nothing is shown.
    Plain,
    /// The household's own authority signs, for the addresses that it had last.
    Own(Arc<Authority>, Arc<Certificates>),
    /// They are read again when a file changes.
    Files(PathBuf, PathBuf, Arc<Certificates>),
}

impl LineAsked {
    /// Where it listens, unless that is said.
    pub fn listens(&self, said: Option<SocketAddr>) -> SocketAddr {
        let own = match self.home {
            true => IpAddr::from([0, 0, 0, 0]),
            false => IpAddr::from([127, 0, 0, 1]),
        };
        said.unwrap_or(SocketAddr::new(own, 7676))
    }

    /// Whether devices have to sign in.
    pub fn guards(&self, listen: SocketAddr) -> bool {
        self.home || self.require_passcode || self.behind_proxy || !listen.ip().is_loopback()
    }

    /// Whether a code from this terminal takes the first device in: where nobody reads it along. Else there has to be a passcode.
    pub const fn pairs(&self) -> bool {
        self.home || self.behind_proxy || self.certificate.is_some()
    }

    /// How it is reached, and what keeps it so.
    pub fn reached(&self, database: &Path, now: Timestamp) -> Result<(Reached, KeptFresh)> {
        let reached = Reached {
            names: self.names.clone(),
            behind_proxy: self.behind_proxy,
            ..Reached::default()
        };
        if let Some((certificate, key)) = self.certificate.clone().zip(self.key.clone()) {
            let shown = Certificates::showing(Certificates::read(&certificate, &key)?);
            let kept = KeptFresh::Files(certificate, key, Arc::clone(&shown));
            let certificates = Some(shown);
            return Ok((
                Reached {
                    certificates,
                    ..reached
                },
                kept,
            ));
        }
        if !self.home {
            return Ok((reached, KeptFresh::Plain));
        }
        if let Some(other) = self.names.iter().find(|name| !name.ends_with(".local")) {
            bail!(
                "--home announces names that end in .local, and {other} does not: give it with --cert and --key, or behind a proxy"
            );
        }
        let names = match self.names.is_empty() {
            true => vec![NAME.to_owned()],
            false => self.names.clone(),
        };
        let today = day(now);
        let authority = Arc::new(Authority::of(&folder(database), &names, today)?);
        let shown = Certificates::showing(authority.certify(&addresses(), today)?);
        let reached = Reached {
            names,
            certificates: Some(Arc::clone(&shown)),
            authority: Some(Arc::clone(&authority)),
            ..reached
        };
        Ok((reached, KeptFresh::Own(authority, shown)))
    }
}

/// Certificates are judged by devices elsewhere, whose days are those of the world.
fn day(now: Timestamp) -> jiff::civil::Date {
    now.to_zoned(TimeZone::UTC).date()
}

/// Where the authority lies: beside the database, "murlo-authority".
fn folder(database: &Path) -> PathBuf {
    let name = database.file_stem().unwrap_or_default();
    database.with_file_name(format!("{}-authority", name.to_string_lossy()))
}

impl KeptFresh {
    /// Keeps what is shown fresh for as long as it is served.
    pub async fn keep(self, clock: impl Fn() -> Timestamp + Send) {
        let mut look = tokio::time::interval(LOOK);
        match self {
            Self::Plain => std::future::pending().await,
            Self::Own(authority, shown) => {
                let (mut at, mut since) = (addresses(), day(clock()));
                loop {
                    look.tick().await;
                    let (now, today) = (addresses(), day(clock()));
                    let days = (today - since).get_days().abs();
                    if now != at || days >= RENEW_DAYS {
                        match authority.certify(&now, today) {
                            Ok(next) => shown.show(next),
                            Err(error) => {
                                tracing::warn!(%error, "the certificate could not be renewed")
                            }
                        }
                        (at, since) = (now, today);
                    }
                }
            }
            Self::Files(certificate, key, shown) => {
                let mut known = changed_at(&certificate, &key);
                loop {
                    look.tick().await;
                    let now = changed_at(&certificate, &key);
                    if now != known {
                        match Certificates::read(&certificate, &key) {
                            Ok(next) => shown.show(next),
                            Err(error) => {
                                tracing::warn!(%error, "the new certificate cannot be used: the one before is shown")
                            }
                        }
                        known = now;
                    }
                }
            }
        }
    }
}

fn changed_at(certificate: &Path, key: &Path) -> [Option<SystemTime>; 2] {
    [certificate, key].map(|file| file.metadata().ok()?.modified().ok())
}

/// Tells the household's name on the network, where it has an authority of its own.
pub fn announced(reached: &Reached) -> Option<Announced> {
    let (at, _) = reached.at.zip(reached.authority.as_ref())?;
    if at.ip().is_loopback() {
        return None;
    }
    let told = Announced::tell(reached.names.first()?, at.port());
    told.map_err(|error| tracing::warn!(%error, "the name is not announced: use the address"))
        .ok()
}

/// What to do to come in, for a terminal.
pub fn ways_in(reached: &Reached, store: &Store, now: Timestamp) -> Result<String> {
    if reached.authority.is_none() && reached.certificates.is_none() && !reached.behind_proxy {
        return Ok(String::new());
    }
    if !store.devices()?.is_empty() {
        return Ok(
            "Another device: Household on one that is signed in, or `murlo pair` here.\n"
                .to_owned(),
        );
    }
    let code = invitation(store, now)?;
    let mut text = match &reached.authority {
        Some(authority) => format!(
            "{}Authority: {}\n",
            invited(&reached.ways_in(&code), &code)?,
            authority.fingerprint()
        ),
        None if reached.certificates.is_some() => invited(&reached.ways_in(&code), &code)?,
        // Under which name it is found, the proxy knows.
        None => invited(&[], &code)?,
    };
    text += "For a new code: `murlo pair`.\n";
    Ok(text)
}

/// A code for one device.
pub fn invitation(store: &Store, now: Timestamp) -> Result<String> {
    murlo_server::invitation(store, now).map_err(anyhow::Error::msg)
}

/// A code with what to scan or open.
pub fn invited(ways: &[String], code: &str) -> Result<String> {
    let mut text = String::new();
    if let Some(first) = ways.first() {
        let picture = QrCode::new(first).context("the address cannot be drawn")?;
        text += &picture.render::<Dense1x2>().build();
        text += "\nScan this with a phone of this home, or open one of\n";
        for way in ways {
            text += &format!("  {way}\n");
        }
    }
    text += &format!("Code: {code} (five minutes, one device)\n");
    Ok(text)
}

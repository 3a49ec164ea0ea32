//! Which certificate is shown; another may take its place while connections run.

use rustls::ServerConfig;
use rustls::crypto::ring;
use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, PrivateKeyDer};
use rustls::server::{ClientHello, ResolvesServerCert};
use rustls::sign::CertifiedKey;
use std::io::{Error, ErrorKind, Result};
use std::path::Path;
use std::sync::{Arc, PoisonError, RwLock};

/// The certificate that is shown now.
#[derive(Debug)]
pub struct Certificates(RwLock<Arc<CertifiedKey>>);

impl Certificates {
    /// Shows `first`.
    #[must_use]
    pub fn showing(first: Arc<CertifiedKey>) -> Arc<Self> {
        Arc::new(Self(RwLock::new(first)))
    }

    /// Shows `next` from now on.
    pub fn show(&self, next: Arc<CertifiedKey>) {
        *self.0.write().unwrap_or_else(PoisonError::into_inner) = next;
    }

    /// A certificate with its chain, and its key, from files in PEM.
    ///
    /// # Errors
    /// When a file cannot be read, or they do not belong together.
    pub fn read(certificate: &Path, key: &Path) -> Result<Arc<CertifiedKey>> {
        let wrong = |place: &Path| {
            let place = place.display().to_string();
            move |why: rustls::pki_types::pem::Error| {
                Error::new(ErrorKind::InvalidData, format!("{place}: {why}"))
            }
        };
        let chain: Vec<_> = CertificateDer::pem_file_iter(certificate)
            .map_err(wrong(certificate))?
            .collect::<std::result::Result<_, _>>()
            .map_err(wrong(certificate))?;
        let key = PrivateKeyDer::from_pem_file(key).map_err(wrong(key))?;
        certified(chain, key)
    }

    /// TLS that shows it.
    ///
    /// # Errors
    /// None that depends on what is given.
    pub fn config(self: &Arc<Self>) -> Result<Arc<ServerConfig>> {
        let shown: Arc<dyn ResolvesServerCert> = Arc::<Self>::clone(self);
        let mut config = ServerConfig::builder_with_provider(Arc::new(ring::default_provider()))
            .with_safe_default_protocol_versions()
            .map_err(Error::other)?
            .with_no_client_auth()
            .with_cert_resolver(shown);
        config.alpn_protocols = vec![b"http/1.1".to_vec()];
        Ok(Arc::new(config))
    }
}

impl ResolvesServerCert for Certificates {
    fn resolve(&self, _: ClientHello<'_>) -> Option<Arc<CertifiedKey>> {
        let shown = self.0.read().unwrap_or_else(PoisonError::into_inner);
        Some(Arc::clone(&shown))
    }
}

/// A chain and the key that belongs to it.
pub(crate) fn certified(
    chain: Vec<CertificateDer<'static>>,
    key: PrivateKeyDer<'static>,
) -> Result<Arc<CertifiedKey>> {
    let certified = CertifiedKey::from_der(chain, key, &ring::default_provider())
        .map_err(|why| Error::new(ErrorKind::InvalidData, why))?;
    Ok(Arc::new(certified))
}

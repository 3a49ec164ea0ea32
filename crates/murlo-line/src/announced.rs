//! Where this machine is found: its addresses, and its name told to whoever asks on its own network.

use mdns_sd::{ServiceDaemon, ServiceInfo};
use std::net::IpAddr;

/// The addresses at which others in the home reach this machine: those of the old kind first, which are the shorter to type.
#[must_use]
pub fn addresses() -> Vec<IpAddr> {
    let mut all: Vec<_> = if_addrs::get_if_addrs()
        .unwrap_or_default()
        .into_iter()
        .filter(|found| !found.is_loopback() && !found.is_link_local())
        .map(|found| found.ip())
        .collect();
    all.sort_by_key(|ip| (ip.is_ipv6(), *ip));
    all.dedup();
    all
}

/// A name that is told as long as this is held.
pub struct Announced(ServiceDaemon);

impl Announced {
    /// Tells `name`, such as "murlo.local", for this machine and the service at `port`.
    ///
    /// # Errors
    /// What keeps it from being told; it is found by its address all the same.
    pub fn tell(name: &str, port: u16) -> Result<Self, String> {
        let daemon = ServiceDaemon::new().map_err(|e| e.to_string())?;
        let host = format!("{name}.");
        let short = name.split('.').next().unwrap_or(name);
        let none: &[(&str, &str)] = &[];
        let service = ServiceInfo::new("_https._tcp.local.", short, &host, "", port, none)
            .map_err(|e| e.to_string())?
            .enable_addr_auto();
        daemon.register(service).map_err(|e| e.to_string())?;
        Ok(Self(daemon))
    }
}

impl Drop for Announced {
    fn drop(&mut self) {
        let _ = self.0.shutdown();
    }
}

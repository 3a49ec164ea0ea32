//! How many connections there may be, in all and from one network, so that nobody keeps everybody else out.

use std::collections::HashMap;
use std::net::IpAddr;
use std::sync::{Arc, Mutex, PoisonError};

/// So many connections are held in all: well under the files that a process may usually have open. Judged.
const IN_ALL: usize = 512;
/// And so many from one network; a browser opens six to a page. Judged.
const FROM_ONE: usize = 128;

/// The connections there are.
#[derive(Debug, Clone, Default)]
pub struct ConnectionPlaces {
    taken: Arc<Mutex<HashMap<IpAddr, usize>>>,
    /// Whether what comes from this machine comes from a proxy, and so from many.
    behind_proxy: bool,
}

/// One connection's place, given back when it is dropped.
#[derive(Debug)]
pub(crate) struct HeldPlace {
    of: ConnectionPlaces,
    network: IpAddr,
}

impl ConnectionPlaces {
    /// Behind a proxy on this machine, whose connections are many people's.
    #[must_use]
    pub fn behind_proxy(self, behind_proxy: bool) -> Self {
        Self {
            behind_proxy,
            ..self
        }
    }

    /// A place for a connection from `address`, where there is one.
    pub(crate) fn take(&self, address: IpAddr) -> Option<HeldPlace> {
        let network = network(address);
        let most = match self.behind_proxy && network.is_loopback() {
            true => IN_ALL,
            false => FROM_ONE,
        };
        let mut taken = self.taken.lock().unwrap_or_else(PoisonError::into_inner);
        if taken.values().sum::<usize>() >= IN_ALL {
            return None;
        }
        let here = taken.entry(network).or_default();
        if *here >= most {
            return None;
        }
        *here += 1;
        drop(taken);
        Some(HeldPlace {
            of: self.clone(),
            network,
        })
    }
}

impl Drop for HeldPlace {
    fn drop(&mut self) {
        let mut taken = self.of.taken.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(here) = taken.get_mut(&self.network) {
            *here -= 1;
            if *here == 0 {
                taken.remove(&self.network);
            }
        }
    }
}

/// A home has one address of the old kind, and of the new kind as many as it likes of one prefix.
#[must_use]
pub fn network(address: IpAddr) -> IpAddr {
    match address.to_canonical() {
        IpAddr::V6(address) => {
            let prefix = u128::from(address) & !u128::from(u64::MAX);
            match address.is_loopback() {
                true => address.into(),
                false => IpAddr::V6(prefix.into()),
            }
        }
        v4 @ IpAddr::V4(_) => v4,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ip(text: &str) -> IpAddr {
        text.parse().unwrap()
    }

    #[test]
    fn one_network_fills_its_own_places_and_nobody_elses() {
        let places = ConnectionPlaces::default();
        let mut held: Vec<_> = (0..FROM_ONE)
            .map(|_| places.take(ip("192.0.2.7")).unwrap())
            .collect();
        assert!(places.take(ip("192.0.2.7")).is_none());
        assert!(
            places.take(ip("192.0.2.8")).is_some(),
            "another has its own"
        );
        held.pop();
        assert!(places.take(ip("192.0.2.7")).is_some(), "one was given back");
        drop(held);
        assert!(places.taken.lock().unwrap().is_empty(), "nothing is kept");
    }

    #[test]
    fn all_networks_together_fill_the_house() {
        let places = ConnectionPlaces::default();
        let held: Vec<_> = (0..IN_ALL)
            .map(|n| places.take(ip(&format!("10.0.0.{}", n % 200))).unwrap())
            .collect();
        assert!(places.take(ip("192.0.2.8")).is_none());
        drop(held);
        assert!(places.take(ip("192.0.2.8")).is_some());
    }

    #[test]
    fn a_proxy_on_this_machine_brings_many() {
        let places = ConnectionPlaces::default().behind_proxy(true);
        let of = |address: &str, most: usize| {
            let held: Vec<_> = std::iter::from_fn(|| places.take(ip(address))).collect();
            assert_eq!(held.len(), most, "{address}");
        };
        of("127.0.0.1", IN_ALL);
        of("::1", IN_ALL);
        of("192.0.2.8", FROM_ONE);
    }

    #[test]
    fn a_network_is_an_address_or_a_prefix() {
        for (a, b, same) in [
            ("192.0.2.7", "192.0.2.8", false),
            ("192.0.2.7", "::ffff:192.0.2.7", true),
            ("2001:db8::1", "2001:db8::ffff:0:0:1", true),
            ("2001:db8:0:1::1", "2001:db8:0:2::1", false),
        ] {
            assert_eq!(network(ip(a)) == network(ip(b)), same, "{a} {b}");
        }
    }
}

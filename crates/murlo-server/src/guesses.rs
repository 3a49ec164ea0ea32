//! Wrong passcodes: how many came from where, and how long one waits for the next.

use jiff::{SignedDuration, Timestamp};
use std::collections::HashMap;
use std::net::IpAddr;

/// Wrong passcodes from one network, and the time within which they count.
const TRIES: usize = 5;
const WITHIN: SignedDuration = SignedDuration::from_mins(1);

/// Wrong passcodes, by the network they came from: nobody's guesses keep anybody else out.
#[derive(Default)]
pub(crate) struct Guesses(HashMap<IpAddr, Vec<Timestamp>>);

impl Guesses {
    /// Seconds until another may be tried from there; nothing where it may be now.
    pub(crate) fn wait(&mut self, network: IpAddr, now: Timestamp) -> Option<i64> {
        self.0.retain(|_, tries| {
            tries.retain(|at| now.duration_since(*at) < WITHIN);
            !tries.is_empty()
        });
        let tries = self.0.get(&network).filter(|tries| tries.len() >= TRIES)?;
        let first = tries.iter().min()?;
        Some((WITHIN - now.duration_since(*first)).as_secs().max(1))
    }

    pub(crate) fn missed(&mut self, network: IpAddr, now: Timestamp) {
        self.0.entry(network).or_default().push(now);
    }
}

/// A home has one address of the old kind, and of the new kind as many as it likes of one prefix.
pub(crate) fn network(address: IpAddr) -> IpAddr {
    match address.to_canonical() {
        IpAddr::V6(address) => {
            let prefix = u128::from(address) & !u128::from(u64::MAX);
            IpAddr::V6(prefix.into())
        }
        v4 @ IpAddr::V4(_) => v4,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn five_wrong_passcodes_a_minute_from_each_network() {
        let mut guesses = Guesses::default();
        let at = |seconds| Timestamp::UNIX_EPOCH + SignedDuration::from_secs(seconds);
        let [here, there] = ["192.0.2.7", "192.0.2.8"].map(|ip| network(ip.parse().unwrap()));
        for n in 0..5 {
            assert_eq!(guesses.wait(here, at(n)), None, "the {n}th try");
            guesses.missed(here, at(n));
        }
        assert_eq!(guesses.wait(here, at(5)), Some(55));
        assert_eq!(guesses.wait(there, at(5)), None, "nobody else waits");
        // A minute after the first of them one more fits, and only one.
        assert_eq!(guesses.wait(here, at(59)), Some(1));
        assert_eq!(guesses.wait(here, at(60)), None);
        guesses.missed(here, at(60));
        assert_eq!(guesses.wait(here, at(60)), Some(1));
        // Nothing is kept of those who are gone.
        assert_eq!(guesses.wait(there, at(200)), None);
        assert!(guesses.0.is_empty());
    }

    #[test]
    fn a_network_is_an_address_or_a_prefix() {
        for (a, b, same) in [
            ("192.0.2.7", "192.0.2.8", false),
            ("192.0.2.7", "::ffff:192.0.2.7", true),
            ("2001:db8::1", "2001:db8::ffff:0:0:1", true),
            ("2001:db8:0:1::1", "2001:db8:0:2::1", false),
        ] {
            let [a, b] = [a, b].map(|ip| network(ip.parse().unwrap()));
            assert_eq!(a == b, same, "{a} {b}");
        }
    }
}

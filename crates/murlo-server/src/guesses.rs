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

    pub(crate) fn tried(&mut self, network: IpAddr, now: Timestamp) {
        self.0.entry(network).or_default().push(now);
    }

    /// One of those tries was none.
    pub(crate) fn was_none(&mut self, network: IpAddr) {
        if let Some(tries) = self.0.get_mut(&network) {
            tries.pop();
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use murlo_line::network;

    #[test]
    fn five_wrong_passcodes_a_minute_from_each_network() {
        let mut guesses = Guesses::default();
        let at = |seconds| Timestamp::UNIX_EPOCH + SignedDuration::from_secs(seconds);
        let [here, there] = ["192.0.2.7", "192.0.2.8"].map(|ip| network(ip.parse().unwrap()));
        for n in 0..5 {
            assert_eq!(guesses.wait(here, at(n)), None, "the {n}th try");
            guesses.tried(here, at(n));
        }
        assert_eq!(guesses.wait(here, at(5)), Some(55));
        assert_eq!(guesses.wait(there, at(5)), None, "nobody else waits");
        // A minute after the first of them one more fits, and only one.
        assert_eq!(guesses.wait(here, at(59)), Some(1));
        assert_eq!(guesses.wait(here, at(60)), None);
        guesses.tried(here, at(60));
        assert_eq!(guesses.wait(here, at(60)), Some(1));
        // Whoever was right takes no try away from the next.
        guesses.was_none(here);
        assert_eq!(guesses.wait(here, at(60)), None);
        guesses.was_none(there);
        // Nothing is kept of those who are gone.
        assert_eq!(guesses.wait(there, at(200)), None);
        assert!(guesses.0.is_empty());
    }
}

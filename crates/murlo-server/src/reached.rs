//! How the household is reached: under which names, by which line, through what.

use axum::http::HeaderMap;
use axum::http::request::Parts;
use murlo_line::{Arrived, Authority, Certificates, addresses};
use std::convert::Infallible;
use std::net::{IpAddr, SocketAddr};
use std::sync::Arc;

/// How the household is reached.
#[derive(Clone, Default)]
pub struct Reached {
    /// Names under which it is asked beside addresses, `localhost` and `.local` names.
    pub names: Vec<String>,
    /// Whether what comes from this machine comes from a proxy, which says for whom.
    pub behind_proxy: bool,
    /// The certificate that is shown; without one it is asked in plain text.
    pub certificates: Option<Arc<Certificates>>,
    /// The household's own authority, which each device trusts once; without one the certificate comes from elsewhere.
    pub authority: Option<Arc<Authority>>,
    /// Where it listens.
    pub at: Option<SocketAddr>,
}

impl Reached {
    /// Where a device of the home finds it, as `http` or `https`: by name, then by number.
    pub(crate) fn addresses(&self, scheme: &str) -> Vec<String> {
        let Some(at) = self.at else {
            return Vec::new();
        };
        let port = at.port();
        let names = self
            .names
            .iter()
            .map(|name| format!("{scheme}://{name}:{port}"));
        let numbers = match at.ip().is_unspecified() {
            true => addresses(),
            false => vec![at.ip()],
        };
        let numbers = numbers
            .into_iter()
            .filter(|ip| self.authority.is_none() || Authority::covers(*ip))
            .map(|ip| format!("{scheme}://{}", SocketAddr::new(ip, port)));
        names.chain(numbers).collect()
    }

    /// Addresses at which a device comes in by this code: in plain text, so that it can be helped to trust the authority first.
    #[must_use]
    pub fn ways_in(&self, code: &str) -> Vec<String> {
        let scheme = match (&self.certificates, &self.authority) {
            (Some(_), None) => "https",
            _ => "http",
        };
        let all = self.addresses(scheme).into_iter();
        all.map(|at| format!("{at}/pair#{code}")).collect()
    }

    /// Whether it is asked under a name of its own: one that is given, an address, `localhost` or a `.local` name. A name that
    /// points at this machine from outside is none.
    pub(crate) fn is_ours(&self, host: &str) -> bool {
        let name =
            host.rsplit_once(':').map_or(
                host,
                |(name, port)| if port.ends_with(']') { host } else { name },
            );
        let bare = name.trim_matches(['[', ']']).to_ascii_lowercase();
        bare == "localhost"
            || bare.ends_with(".local")
            || bare.parse::<IpAddr>().is_ok()
            || self
                .names
                .iter()
                .any(|name| name.eq_ignore_ascii_case(&bare))
    }

    /// How a request came, as the proxy says where there is one on this machine.
    pub(crate) fn arrived(&self, arrived: Arrived, headers: &HeaderMap) -> Arrived {
        if !self.behind_proxy || !arrived.from.ip().is_loopback() {
            return arrived;
        }
        let text = |name| headers.get(name).and_then(|value| value.to_str().ok());
        // Each hop adds whom it heard; only the last was heard by the proxy itself.
        let last = text("x-forwarded-for").and_then(|all| all.rsplit(',').next());
        let from = last.and_then(|from| from.trim().parse::<IpAddr>().ok());
        Arrived {
            from: from.map_or(arrived.from, |ip| SocketAddr::new(ip, 0)),
            secure: text("x-forwarded-proto") == Some("https"),
        }
    }
}

/// The address that this request asked, with its scheme: what a device that reads it reaches too.
pub struct Base(pub String);

impl<S: Sync> axum::extract::FromRequestParts<S> for Base {
    type Rejection = Infallible;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Infallible> {
        let host = parts.headers.get(axum::http::header::HOST);
        let host = host
            .and_then(|host| host.to_str().ok())
            .unwrap_or("localhost");
        let is_secure = parts
            .extensions
            .get::<Arrived>()
            .is_some_and(|arrived| arrived.secure);
        let scheme = if is_secure { "https" } else { "http" };
        Ok(Self(format!("{scheme}://{host}")))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use axum::http::HeaderValue;

    #[test]
    fn names_of_others_are_not_ours() {
        let reached = Reached {
            names: vec!["coffee.harbour.example".to_owned()],
            ..Reached::default()
        };
        for (host, is_ours) in [
            ("localhost:7676", true),
            ("127.0.0.1:7676", true),
            ("[::1]:7676", true),
            ("[::1]", true),
            ("192.168.7.20", true),
            ("murlo.local:7676", true),
            ("Coffee.Harbour.example", true),
            ("coffee.harbour.example:443", true),
            ("harbour.example", false),
            ("murlo.local.harbour.example", false),
            ("", false),
        ] {
            assert_eq!(reached.is_ours(host), is_ours, "{host}");
        }
    }

    #[test]
    fn a_proxy_is_believed_from_this_machine_alone() {
        let told = |forwarded: &str| {
            let mut headers = HeaderMap::new();
            headers.insert("x-forwarded-for", HeaderValue::from_str(forwarded).unwrap());
            headers.insert("x-forwarded-proto", HeaderValue::from_static("https"));
            headers
        };
        let behind = |behind_proxy| Reached {
            behind_proxy,
            ..Reached::default()
        };
        for (behind_proxy, from, forwarded, seen, secure) in [
            (
                true,
                "127.0.0.1:5",
                "203.0.113.9, 192.0.2.7",
                "192.0.2.7:0",
                true,
            ),
            (true, "127.0.0.1:5", "nobody", "127.0.0.1:5", true),
            (true, "192.0.2.8:5", "192.0.2.7", "192.0.2.8:5", false),
            (false, "127.0.0.1:5", "192.0.2.7", "127.0.0.1:5", false),
        ] {
            let arrived = Arrived {
                from: from.parse().unwrap(),
                secure: false,
            };
            let arrived = behind(behind_proxy).arrived(arrived, &told(forwarded));
            assert_eq!(
                (arrived.from.to_string().as_str(), arrived.secure),
                (seen, secure),
                "{from} for {forwarded}"
            );
        }
    }
}

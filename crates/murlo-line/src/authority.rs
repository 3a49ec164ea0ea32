//! The household's own authority: made once, kept beside the database, and good for nothing but this household.

use crate::certificates::certified;
use jiff::civil::Date;
use rcgen::{
    BasicConstraints, CertificateParams, CidrSubnet, DnType, ExtendedKeyUsagePurpose,
    GeneralSubtree, IsCa, Issuer, KeyPair, KeyUsagePurpose, NameConstraints, SanType,
};
use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, PrivateKeyDer};
use rustls::sign::CertifiedKey;
use sha2::{Digest, Sha256};
use std::fs::OpenOptions;
use std::io::{Error, ErrorKind, Result, Write};
use std::net::IpAddr;
use std::path::Path;
use std::sync::Arc;

/// What a household is called on its network, unless it is named otherwise.
pub const NAME: &str = "murlo.local";

/// How long phones may trust it without being asked again, in years.
const YEARS: i16 = 20;
/// How long one of its certificates holds, in days; phones refuse those beyond 398.
const HOLDS: i32 = 90;
/// Clocks in a home differ: it holds from the day before.
const BEFORE: i32 = 1;

/// Networks of homes, from which nothing is reached from outside (RFC 1918, 3927, 4193, 4291), and this machine itself.
const NETWORKS: [(&str, u8); 8] = [
    ("10.0.0.0", 8),
    ("172.16.0.0", 12),
    ("192.168.0.0", 16),
    ("169.254.0.0", 16),
    ("127.0.0.0", 8),
    ("fc00::", 7),
    ("fe80::", 10),
    ("::1", 128),
];

/// As certificates are dated: they hold from its first instant, or until it.
macro_rules! date {
    ($day:expr) => {{
        let day = $day;
        let [month, of_month] = [day.month(), day.day()].map(i8::unsigned_abs);
        rcgen::date_time_ymd(day.year().into(), month, of_month)
    }};
}

/// What signs the certificates of one household.
pub struct Authority {
    certificate: CertificateDer<'static>,
    issuer: Issuer<'static, KeyPair>,
    names: Vec<String>,
}

impl Authority {
    /// The one in `folder`, made there when there is none: for `names` and for addresses of homes, and for nothing else.
    ///
    /// # Errors
    /// When it cannot be read or written, or was made for other names.
    pub fn of(folder: &Path, names: &[String], today: Date) -> Result<Self> {
        let place = folder.join("authority.pem");
        if !place.exists() {
            make(folder, names, today)?;
        }
        let text = std::fs::read_to_string(&place)?;
        let key = std::fs::read_to_string(folder.join("authority-key.pem"))?;
        let made = std::fs::read_to_string(folder.join("made"))?;
        let mut made = made.lines().map(str::to_owned);
        let made_on: Date = made
            .next()
            .and_then(|day| day.parse().ok())
            .ok_or_else(|| unfit(folder)("it does not say when it was made"))?;
        let made_for: Vec<String> = made.collect();
        if let Some(other) = names.iter().find(|name| !made_for.contains(name)) {
            return Err(Error::other(format!(
                "the authority in {} was made for {}, not for {other}: serve under that name, or move the folder away, and every device trusts the new one once",
                folder.display(),
                made_for.join(", ")
            )));
        }
        let key = KeyPair::from_pem(&key).map_err(unfit(folder))?;
        Ok(Self {
            issuer: Issuer::new(wanted(&made_for, made_on)?, key),
            certificate: CertificateDer::from_pem_slice(text.as_bytes()).map_err(unfit(folder))?,
            names: names.to_vec(),
        })
    }

    /// Its certificate, as devices take it in (DER).
    #[must_use]
    pub fn der(&self) -> &[u8] {
        &self.certificate
    }

    /// By what one sees that a device has the right one (SHA-256, in pairs).
    #[must_use]
    pub fn fingerprint(&self) -> String {
        let pairs = Sha256::digest(&self.certificate);
        let pairs: Vec<_> = pairs.iter().map(|b| format!("{b:02X}")).collect();
        pairs.join(" ")
    }

    /// Whether its certificates may be for this address: one of a home, or of this machine itself.
    #[must_use]
    pub fn covers(address: IpAddr) -> bool {
        NETWORKS.iter().any(|(network, prefix)| {
            let network: IpAddr = network.parse().expect("an address");
            match (address, network) {
                (IpAddr::V4(a), IpAddr::V4(n)) => {
                    (u32::from(a) ^ u32::from(n)) >> (32 - prefix) == 0
                }
                (IpAddr::V6(a), IpAddr::V6(n)) => (u128::from(a) ^ u128::from(n))
                    .checked_shr(128 - u32::from(*prefix))
                    .is_some_and(|rest| rest == 0),
                _ => false,
            }
        })
    }

    /// A new certificate for its names, for this machine, and for those of `addresses` that are a home's.
    ///
    /// # Errors
    /// When it cannot be signed.
    pub fn certify(&self, addresses: &[IpAddr], today: Date) -> Result<Arc<CertifiedKey>> {
        let mut wanted = CertificateParams::new(self.names.clone()).map_err(Error::other)?;
        let here = ["127.0.0.1", "::1"].map(|ip| ip.parse().expect("an address"));
        let homes = addresses.iter().copied().filter(|ip| Self::covers(*ip));
        let all = here.into_iter().chain(homes).map(SanType::IpAddress);
        wanted.subject_alt_names.extend(all);
        wanted.not_before = date!(day(today, -BEFORE));
        wanted.not_after = date!(day(today, HOLDS));
        wanted.distinguished_name.push(DnType::CommonName, "Murlo");
        wanted.key_usages = vec![KeyUsagePurpose::DigitalSignature];
        wanted.extended_key_usages = vec![ExtendedKeyUsagePurpose::ServerAuth];
        wanted.use_authority_key_identifier_extension = true;
        let key = KeyPair::generate().map_err(Error::other)?;
        let signed = wanted.signed_by(&key, &self.issuer).map_err(Error::other)?;
        let chain = vec![signed.der().clone(), self.certificate.clone()];
        let key = PrivateKeyDer::try_from(key.serialize_der()).map_err(Error::other)?;
        certified(chain, key)
    }
}

fn unfit<E: std::fmt::Display>(folder: &Path) -> impl Fn(E) -> Error {
    let folder = folder.display().to_string();
    move |why| {
        let why = format!(
            "the authority in {folder} cannot be read ({why}): put it back from a copy, or move it away, and every device trusts a new one once"
        );
        Error::new(ErrorKind::InvalidData, why)
    }
}

/// What an authority says of itself.
fn wanted(names: &[String], today: Date) -> Result<CertificateParams> {
    let mut wanted = CertificateParams::new(Vec::new()).map_err(Error::other)?;
    let called = format!("Murlo at {}, made {today}", names.join(", "));
    wanted.distinguished_name.push(DnType::CommonName, called);
    wanted.is_ca = IsCa::Ca(BasicConstraints::Constrained(0));
    wanted.key_usages = vec![KeyUsagePurpose::KeyCertSign, KeyUsagePurpose::CrlSign];
    let networks = NETWORKS.iter().map(|(network, prefix)| {
        let network = network.parse().expect("an address");
        GeneralSubtree::IpAddress(CidrSubnet::from_addr_prefix(network, *prefix))
    });
    let names_allowed = names.iter().cloned().map(GeneralSubtree::DnsName);
    wanted.name_constraints = Some(NameConstraints {
        permitted_subtrees: names_allowed.chain(networks).collect(),
        excluded_subtrees: Vec::new(),
    });
    wanted.not_before = date!(day(today, -BEFORE));
    let until = Date::new(today.year().saturating_add(YEARS), 1, 1).unwrap_or(Date::MAX);
    wanted.not_after = date!(until);
    Ok(wanted)
}

fn make(folder: &Path, names: &[String], today: Date) -> Result<()> {
    let wanted = wanted(names, today)?;
    let key = KeyPair::generate().map_err(Error::other)?;
    let signed = wanted.self_signed(&key).map_err(Error::other)?;
    std::fs::create_dir_all(folder)?;
    private(&folder.join("authority-key.pem"), &key.serialize_pem())?;
    private(
        &folder.join("made"),
        &format!("{today}\n{}\n", names.join("\n")),
    )?;
    // Last, so that a start that was cut off makes it anew.
    let part = folder.join("authority.part");
    private(&part, &signed.pem())?;
    std::fs::rename(part, folder.join("authority.pem"))
}

/// A file that nobody but its owner reads.
fn private(place: &Path, text: &str) -> Result<()> {
    let mut how = OpenOptions::new();
    how.write(true).create(true).truncate(true);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut how, 0o600);
    let mut file = how.open(place)?;
    file.write_all(text.as_bytes())?;
    file.sync_all()
}

fn day(today: Date, days: i32) -> Date {
    today.saturating_add(jiff::Span::new().days(days))
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::tz::TimeZone;
    use rustls::ClientConfig;
    use rustls::RootCertStore;
    use rustls::pki_types::{ServerName, UnixTime};
    use rustls::time_provider::TimeProvider;
    use std::io::Cursor;
    use std::time::Duration;

    type Visited = std::result::Result<(), String>;

    const TODAY: Date = jiff::civil::date(2026, 11, 23);

    /// A device's clock.
    #[derive(Debug)]
    struct Clock(Date);

    impl TimeProvider for Clock {
        fn current_time(&self) -> Option<UnixTime> {
            let noon = self
                .0
                .at(12, 0, 0, 0)
                .to_zoned(TimeZone::UTC)
                .ok()?
                .timestamp();
            let seconds = noon.as_second().unsigned_abs();
            Some(UnixTime::since_unix_epoch(Duration::from_secs(seconds)))
        }
    }

    fn names(all: &[&str]) -> Vec<String> {
        all.iter().map(|name| (*name).to_owned()).collect()
    }

    /// What a device that trusts `authority` says today of a server that shows `shown` as `name`.
    fn visited(authority: &Authority, shown: Arc<CertifiedKey>, name: &str) -> Visited {
        visited_on(TODAY, authority, shown, name)
    }

    fn visited_on(
        day: Date,
        authority: &Authority,
        shown: Arc<CertifiedKey>,
        name: &str,
    ) -> Visited {
        let provider = Arc::new(rustls::crypto::ring::default_provider());
        let mut roots = RootCertStore::empty();
        roots.add(authority.der().to_vec().into()).unwrap();
        let trusting = ClientConfig::builder_with_details(provider, Arc::new(Clock(day)))
            .with_safe_default_protocol_versions()
            .unwrap()
            .with_root_certificates(roots)
            .with_no_client_auth();
        let name = ServerName::try_from(name.to_owned()).unwrap();
        let mut client = rustls::ClientConnection::new(Arc::new(trusting), name).unwrap();
        let certificates = crate::Certificates::showing(shown);
        let mut server = rustls::ServerConnection::new(certificates.config().unwrap()).unwrap();
        while client.is_handshaking() || server.is_handshaking() {
            let mut sent = Vec::new();
            client.write_tls(&mut sent).unwrap();
            server.read_tls(&mut Cursor::new(sent)).unwrap();
            server.process_new_packets().map_err(|e| e.to_string())?;
            let mut sent = Vec::new();
            server.write_tls(&mut sent).unwrap();
            client.read_tls(&mut Cursor::new(sent)).unwrap();
            client.process_new_packets().map_err(|e| e.to_string())?;
        }
        Ok(())
    }

    #[test]
    fn who_trusts_it_trusts_this_household_and_nobody_else() {
        let folder = tempfile::tempdir().unwrap();
        let authority = Authority::of(folder.path(), &names(&[NAME]), TODAY).unwrap();
        let home: IpAddr = "192.168.7.20".parse().unwrap();
        let outside: IpAddr = "198.51.100.7".parse().unwrap();
        let shown = authority.certify(&[home, outside], TODAY).unwrap();
        for (name, is_trusted) in [
            (NAME, true),
            ("192.168.7.20", true),
            ("127.0.0.1", true),
            ("::1", true),
            ("192.168.7.21", false),
            ("198.51.100.7", false),
            ("other.local", false),
        ] {
            let said = visited(&authority, Arc::clone(&shown), name);
            assert_eq!(said.is_ok(), is_trusted, "{name}: {said:?}");
        }
    }

    #[test]
    fn a_certificate_holds_from_the_day_before_for_ninety_days() {
        let folder = tempfile::tempdir().unwrap();
        let authority = Authority::of(folder.path(), &names(&[NAME]), TODAY).unwrap();
        let shown = authority.certify(&[], TODAY).unwrap();
        for (after, is_trusted) in [(-2, false), (-1, true), (0, true), (89, true), (90, false)] {
            let said = visited_on(day(TODAY, after), &authority, Arc::clone(&shown), NAME);
            assert_eq!(said.is_ok(), is_trusted, "after {after} days: {said:?}");
        }
    }

    #[test]
    fn it_cannot_sign_for_what_is_not_the_households() {
        let folder = tempfile::tempdir().unwrap();
        let authority = Authority::of(folder.path(), &names(&[NAME]), TODAY).unwrap();
        for (name, is_trusted) in [
            (NAME, true),
            ("192.168.7.21", true),
            ("bank.example", false),
            ("198.51.100.7", false),
            ("other.local", false),
        ] {
            // Somebody took the key and signs for it all the same.
            let mut wanted = CertificateParams::new(vec![name.to_owned()]).unwrap();
            wanted.not_before = date!(day(TODAY, -BEFORE));
            wanted.not_after = date!(day(TODAY, HOLDS));
            let key = KeyPair::generate().unwrap();
            let signed = wanted.signed_by(&key, &authority.issuer).unwrap();
            let key = PrivateKeyDer::try_from(key.serialize_der()).unwrap();
            let forged = certified(vec![signed.der().clone()], key).unwrap();
            let said = visited(&authority, forged, name);
            assert_eq!(said.is_ok(), is_trusted, "{name}: {said:?}");
        }
    }

    #[test]
    fn it_is_made_once_and_for_its_names() {
        let folder = tempfile::tempdir().unwrap();
        let of = |all: &[&str]| Authority::of(folder.path(), &names(all), TODAY);
        let first = of(&[NAME, "kitchen.local"]).unwrap();
        let again = of(&[NAME]).unwrap();
        assert_eq!(first.fingerprint(), again.fingerprint());
        assert_eq!(first.fingerprint().len(), 32 * 3 - 1);
        let shown = again.certify(&[], TODAY).unwrap();
        assert!(visited(&first, shown, NAME).is_ok(), "the key is the same");
        let other = of(&["attic.local"]).err().unwrap().to_string();
        assert!(
            other.contains("attic.local") && other.contains("murlo.local, kitchen.local"),
            "{other}"
        );
        std::fs::write(folder.path().join("authority-key.pem"), "half of").unwrap();
        let broken = of(&[NAME]).err().unwrap().to_string();
        assert!(broken.contains("put it back from a copy"), "{broken}");
    }

    #[cfg(unix)]
    #[test]
    fn its_files_are_the_owners_alone() {
        use std::os::unix::fs::PermissionsExt;
        let folder = tempfile::tempdir().unwrap();
        Authority::of(folder.path(), &names(&[NAME]), TODAY).unwrap();
        for file in std::fs::read_dir(folder.path()).unwrap() {
            let file = file.unwrap();
            let mode = file.metadata().unwrap().permissions().mode();
            assert_eq!(mode & 0o077, 0, "{:?} is open to others", file.path());
        }
    }

    #[test]
    fn a_home_is_reached_from_inside() {
        for (address, is_home) in [
            ("10.0.0.1", true),
            ("11.0.0.1", false),
            ("172.15.255.255", false),
            ("172.16.0.1", true),
            ("172.31.255.255", true),
            ("172.32.0.1", false),
            ("192.168.255.255", true),
            ("192.169.0.1", false),
            ("169.254.1.1", true),
            ("127.0.0.1", true),
            ("fd12:3456::1", true),
            ("fe00::1", false),
            ("fe80::1", true),
            ("fec0::1", false),
            ("::1", true),
            ("::2", false),
            ("2001:db8::1", false),
        ] {
            assert_eq!(
                Authority::covers(address.parse().unwrap()),
                is_home,
                "{address}"
            );
        }
    }
}

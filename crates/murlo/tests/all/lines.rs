//! How a household is reached: for the phones of a home, under a certificate from elsewhere, behind a proxy.

use crate::kit::NOW;
use std::fs;
use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Child, Command, Output, Stdio};

/// A household that is served, and what it said until it told how to come in.
struct Served {
    process: Child,
    said: Vec<String>,
    host: String,
}

impl Drop for Served {
    fn drop(&mut self) {
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}

fn murlo(folder: &Path) -> Command {
    let mut command = Command::new(env!("CARGO_BIN_EXE_murlo"));
    command.current_dir(folder);
    command
}

/// Serves until a line begins with `last`.
fn served(folder: &Path, how: &[&str], last: &str) -> Served {
    let told = ["serve", "--listen", "127.0.0.1:0", "--now", NOW];
    let mut process = murlo(folder)
        .args(told)
        .args(how)
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let mut said = Vec::new();
    let lines = BufReader::new(process.stdout.take().unwrap()).lines();
    for line in lines.map(Result::unwrap) {
        said.push(line.clone());
        if line.starts_with(last) {
            break;
        }
    }
    let host = said[0].split("://").nth(1).unwrap().to_owned();
    Served {
        process,
        said,
        host,
    }
}

fn refused(folder: &Path, how: &[&str]) -> String {
    let Output { status, stderr, .. } = murlo(folder).arg("serve").args(how).output().unwrap();
    assert!(!status.success());
    String::from_utf8(stderr).unwrap()
}

/// The status of a page asked in plain text, with these further lines in its head.
fn asked(host: &str, path: &str, head: &str) -> u16 {
    let mut stream = TcpStream::connect(host).unwrap();
    let request = format!("GET {path} HTTP/1.1\r\nhost: {host}\r\nconnection: close\r\n{head}\r\n");
    stream.write_all(request.as_bytes()).unwrap();
    let mut answer = Vec::new();
    stream.read_to_end(&mut answer).unwrap();
    String::from_utf8_lossy(&answer[9..12]).parse().unwrap()
}

#[test]
fn the_phones_of_a_home_are_let_in_by_a_code_from_the_terminal() {
    let folder = tempfile::tempdir().unwrap();
    let home = served(folder.path(), &["--home"], "For a new code");
    let said = home.said.join("\n");
    assert!(said.starts_with("LISTENING https://127.0.0.1:"), "{said}");
    assert!(
        said.contains("http://murlo.local:") && said.contains("/pair#"),
        "{said}"
    );
    assert!(said.contains("Authority: "), "{said}");
    // In plain text only what helps to trust it.
    for (path, status) in [
        ("/api/session", 200),
        ("/authority.crt", 200),
        ("/api/counter", 403),
        ("/api/export", 403),
    ] {
        assert_eq!(asked(&home.host, path, ""), status, "{path}");
    }
    // Another code while it is served.
    let pair = murlo(folder.path())
        .args(["pair", "--now", NOW])
        .output()
        .unwrap();
    let told = String::from_utf8(pair.stdout).unwrap();
    assert!(
        pair.status.success() && told.starts_with("Code: "),
        "{told}"
    );
    let code = |text: &str| {
        let at = text.find("Code: ").unwrap() + 6;
        text[at..at + 9].to_owned()
    };
    assert_ne!(code(&told), code(&said));
    drop(home);
    // The authority stays the same, so that nobody trusts anew.
    let again = served(folder.path(), &["--home"], "For a new code");
    let authority = |said: &[String]| {
        said.iter()
            .find(|line| line.starts_with("Authority"))
            .cloned()
    };
    assert_eq!(
        authority(&again.said).unwrap(),
        authority(&said.lines().map(str::to_owned).collect::<Vec<_>>()).unwrap()
    );
}

#[test]
fn what_cannot_be_served_so_says_why() {
    let folder = tempfile::tempdir().unwrap();
    fs::write(
        folder.path().join("half.pem"),
        "-----BEGIN CERTIFICATE-----\nAAAA",
    )
    .unwrap();
    for (how, why) in [
        (&["--require-passcode"][..], "passcode"),
        (&["--listen", "0.0.0.0:0"], "--home"),
        (
            &["--home", "--name", "coffee.harbour.example"],
            "end in .local",
        ),
        (&["--home", "--behind-proxy"], "cannot be used with"),
        (&["--cert", "half.pem"], "--key"),
        (&["--cert", "half.pem", "--key", "none.pem"], "half.pem"),
    ] {
        let said = refused(folder.path(), how);
        assert!(said.contains(why), "{how:?}: {said}");
    }
}

#[test]
fn a_certificate_from_elsewhere_and_a_proxy_let_in_by_a_code() {
    let folder = tempfile::tempdir().unwrap();
    // A certificate to serve with: the household's own will do.
    drop(served(
        folder.path(),
        &["--home", "--database", "other.db"],
        "For a new code",
    ));
    let at = folder.path().join("other-authority");
    let [certificate, key] =
        ["authority.pem", "authority-key.pem"].map(|file| at.join(file).display().to_string());
    let line = ["--cert", &certificate, "--key", &key, "--require-passcode"];
    let elsewhere = served(folder.path(), &line, "For a new code");
    assert!(
        elsewhere.said.iter().any(|line| line.starts_with("Code: ")),
        "{:?}",
        elsewhere.said
    );
    assert!(
        elsewhere.said[0].starts_with("LISTENING https://"),
        "{:?}",
        elsewhere.said
    );
    assert_eq!(asked(&elsewhere.host, "/authority.crt", ""), 404);
    drop(elsewhere);
    let behind = served(
        folder.path(),
        &["--behind-proxy", "--name", "coffee.harbour.example"],
        "For a new code",
    );
    assert_eq!(
        asked(&behind.host, "/api/counter", ""),
        401,
        "never unguarded"
    );
    assert_eq!(
        asked(
            &behind.host,
            "/api/session",
            "x-forwarded-for: 192.0.2.7\r\nx-forwarded-proto: https\r\n"
        ),
        200
    );
}

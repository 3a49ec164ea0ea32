//! Being told to stop, and being alone: signals, half-open requests, a second server on the same file.

use crate::kit::{NOW, Server, signal, until};
use serde_json::Value;
use std::io::{Read, Write};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

fn serve(database: &Path) -> Server {
    Server::start(&["serve", "--database", &database.display().to_string()])
}

/// A request whose body never comes, once the server waits for it.
fn half_a_request(server: &Server) -> TcpStream {
    let mut half = TcpStream::connect(&server.host).unwrap();
    let head = "POST /api/homes HTTP/1.1\r\nhost: localhost\r\ncontent-type: application/json\r\n\
                content-length: 100\r\nexpect: 100-continue\r\n\r\n";
    half.write_all(head.as_bytes()).unwrap();
    let mut go_on = [0; 12];
    half.read_exact(&mut go_on).unwrap();
    assert_eq!(&go_on, b"HTTP/1.1 100");
    half
}

#[test]
fn a_signal_drains_closes_and_ends_well_whatever_hangs() {
    for name in ["TERM", "INT"] {
        let folder = tempfile::tempdir().unwrap();
        let database = folder.path().join("home.db");
        let mut server = serve(&database);
        server.ask("GET", "/api/counter", &Value::Null).unwrap();
        // A request that never ends, one that never begins, and a stream.
        let _half = half_a_request(&server);
        let _silent = TcpStream::connect(&server.host).unwrap();
        let mut stream = TcpStream::connect(&server.host).unwrap();
        stream
            .write_all(b"GET /api/changes HTTP/1.1\r\nhost: localhost\r\n\r\n")
            .unwrap();
        assert!(folder.path().join("home.db-wal").exists());
        let told = Instant::now();
        signal(&server, name);
        let status = server.wait();
        assert!(status.success(), "{name}: {status}");
        assert!(
            told.elapsed() < Duration::from_secs(5),
            "{name}: {:?}",
            told.elapsed()
        );
        assert!(
            !folder.path().join("home.db-wal").exists(),
            "{name}: closed"
        );
    }
}

#[test]
fn a_second_signal_ends_at_once() {
    let folder = tempfile::tempdir().unwrap();
    let mut server = serve(&folder.path().join("home.db"));
    let _half = half_a_request(&server);
    let told = Instant::now();
    signal(&server, "TERM");
    // The first has arrived once nobody is let in any more.
    until(|| TcpStream::connect(&server.host).is_err());
    signal(&server, "TERM");
    assert_eq!(server.wait().code(), Some(130));
    assert!(
        told.elapsed() < Duration::from_secs(2),
        "{:?}",
        told.elapsed()
    );
}

#[test]
fn the_demo_takes_its_folder_away() {
    let folder = tempfile::tempdir().unwrap();
    let inside = || std::fs::read_dir(folder.path()).unwrap().count();
    let mut demo = Server::start_in(&["demo"], &[("TMPDIR", folder.path())]);
    assert_eq!(inside(), 1);
    signal(&demo, "TERM");
    assert!(demo.wait().success());
    assert_eq!(inside(), 0);
}

#[test]
fn a_second_server_is_told_who_has_the_household() {
    let folder = tempfile::tempdir().unwrap();
    let database = folder.path().join("home.db");
    let first = serve(&database);
    let run = |arguments: &[&str]| {
        let output = Command::new(env!("CARGO_BIN_EXE_murlo"))
            .args(arguments)
            .arg("--database")
            .arg(&database)
            .stdin(Stdio::null())
            .output()
            .unwrap();
        (
            output.status.success(),
            String::from_utf8(output.stderr).unwrap(),
        )
    };
    let other = folder.path().join("other.json").display().to_string();
    let (_, export) = first.ask("GET", "/api/export", &Value::Null).unwrap();
    std::fs::write(&other, export.to_string()).unwrap();
    for arguments in [
        &["serve", "--listen", "127.0.0.1:0", "--now", NOW][..],
        &["import", &other, "--replace"],
        &["restore", &other],
    ] {
        let (good, said) = run(arguments);
        assert!(!good, "{arguments:?}");
        assert!(said.contains(&first.host), "{arguments:?}: {said}");
        assert!(said.contains(&format!("process {},", first.id())), "{said}");
    }
    let copy = folder.path().join("copy.db").display().to_string();
    assert!(run(&["backup", &copy]).0, "reading is allowed beside it");
    assert!(run(&["check"]).0);
    first.kill();
    serve(&database).kill();
}

#[test]
fn the_days_copy_is_made_by_itself_and_shown() {
    let folder = tempfile::tempdir().unwrap();
    let server = serve(&folder.path().join("home.db"));
    let copy = folder.path().join("home.db.backups/daily-2026-11-25.db");
    until(|| copy.exists());
    let (_, household) = server.ask("GET", "/api/household", &Value::Null).unwrap();
    assert_eq!(
        household["backups"]["text"],
        "The newest was made today; 1 is kept."
    );
    assert_eq!(household["backups"]["is_stale"], false);
}

//! An acknowledged act is never lost: the server is killed the hard way at scattered moments while cleans are carried out.

use serde_json::{Value, json};
use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Child, Command, Stdio};

struct Server {
    process: Child,
    host: String,
}

impl Server {
    fn start(database: &Path) -> Self {
        let mut command = Command::new(env!("CARGO_BIN_EXE_murlo"));
        command
            .arg("serve")
            .arg("--database")
            .arg(database)
            .args(["--listen", "127.0.0.1:0"])
            .stdout(Stdio::piped());
        let mut process = command.spawn().unwrap();
        let mut line = String::new();
        BufReader::new(process.stdout.take().unwrap())
            .read_line(&mut line)
            .unwrap();
        Self {
            process,
            host: line.trim().replace("LISTENING http://", ""),
        }
    }

    /// The answer, or nothing when the server went away before all of it was there.
    fn ask(&self, method: &str, path: &str, body: &Value) -> Option<(u16, Value)> {
        let mut stream = TcpStream::connect(&self.host).ok()?;
        let body = if body.is_null() {
            String::new()
        } else {
            body.to_string()
        };
        let head = format!(
            "{method} {path} HTTP/1.1\r\nhost: {}\r\nconnection: close\r\ncontent-type: application/json\r\ncontent-length: {}\r\n\r\n",
            self.host,
            body.len()
        );
        stream.write_all((head + &body).as_bytes()).ok()?;
        let mut answer = String::new();
        stream.read_to_string(&mut answer).ok()?;
        let (head, body) = answer.split_once("\r\n\r\n")?;
        let (start, end) = (
            body.find(['{', '[']).unwrap_or(0),
            body.rfind(['}', ']']).map_or(0, |at| at + 1),
        );
        let body = serde_json::from_str(&body[start.min(end)..end]).unwrap_or(Value::Null);
        Some((head.get(9..12)?.parse().ok()?, body))
    }

    fn kill(mut self) {
        // SIGKILL on Unix: nothing is flushed, nothing is closed.
        self.process.kill().unwrap();
        self.process.wait().unwrap();
    }
}

fn brewer(server: &Server, n: usize) -> String {
    let reading = json!({"by": "taps", "chalk": "crust"});
    let (_, water) = server
        .ask(
            "POST",
            "/api/waters",
            &json!({"name": "Well", "reading": reading}),
        )
        .unwrap();
    let (_, families) = server.ask("GET", "/api/families", &Value::Null).unwrap();
    let mut draft = families[n % FAMILIES]["draft"].clone();
    draft["nickname"] = json!(format!("Brewer {n}"));
    draft["water_id"] = water["id"].clone();
    let (status, card) = server.ask("POST", "/api/brewers", &draft).unwrap();
    assert_eq!(status, 200, "{card}");
    card["id"].as_str().unwrap().to_owned()
}

/// Every family has its turn.
const FAMILIES: usize = 6;
const CLEANS: usize = 200;
/// One act in so many is cut off by a kill.
const KILL_EVERY: u64 = 40;

#[test]
fn no_acknowledged_act_is_lost_when_the_server_is_killed() {
    let folder = tempfile::tempdir().unwrap();
    let database = folder.path().join("home.db");
    let mut server = Server::start(&database);
    // A small fixed generator scatters the kills, so that a failure can be run again.
    let mut seed: u64 = 0x5EED_CA1C;
    let mut next = move |below: u64| {
        seed = seed
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (seed >> 33) % below
    };
    let mut kills = 0;
    let brewers: Vec<_> = (0..2 * FAMILIES).map(|n| brewer(&server, n)).collect();
    for n in 0..CLEANS {
        let id = &brewers[n % brewers.len()];
        let clean = format!("clean-{n}");
        let (status, mut view) = server
            .ask(
                "POST",
                &format!("/api/brewers/{id}/cleans"),
                &json!({"id": clean}),
            )
            .unwrap();
        assert_eq!(status, 200, "{view}");
        let path = format!("/api/cleans/{clean}");
        let mut acknowledged = 0;
        for event in 0.. {
            if view["state"]["closed"].is_string() {
                break;
            }
            let answers = json!({"smell": "good", "nose": "second", "clear": "good", "light": "good", "showed": "chalk"});
            let asked = json!({"kind": "answered", "step": "verify", "answers": answers});
            let act = view["state"]["next"].get("act").cloned().unwrap_or(asked);
            let sent = json!({"id": format!("{clean}-{event}"), "act": act});
            if next(KILL_EVERY) == 0 {
                // Killed while the act is on its way: it may or may not have arrived, but sending it again counts it once.
                let host = server.host.clone();
                let late = Server {
                    process: Command::new("true").spawn().unwrap(),
                    host,
                };
                let (path, sent) = (path.clone() + "/events", sent.clone());
                let flying = std::thread::spawn(move || late.ask("POST", &path, &sent));
                server.kill();
                let _ = flying.join();
                server = Server::start(&database);
                kills += 1;
                let (_, now) = server
                    .ask("GET", &format!("/api/cleans/{clean}"), &Value::Null)
                    .unwrap();
                let counted = counted(&now);
                assert!(
                    counted >= acknowledged,
                    "{clean}: {counted} of {acknowledged} acknowledged acts are there"
                );
            }
            let (status, after) = server
                .ask("POST", &format!("{path}/events"), &sent)
                .unwrap();
            assert_eq!(status, 200, "{after}");
            view = after;
            acknowledged = counted(&view);
        }
        assert_eq!(view["state"]["closed"], "finished");
    }
    server.kill();
    let server = Server::start(&database);
    let (_, log) = server.ask("GET", "/api/log", &Value::Null).unwrap();
    assert_eq!(log.as_array().unwrap().len(), CLEANS);
    assert!(kills > CLEANS / 2, "only {kills} kills");
    server.kill();
}

/// How far a clean has come: steps done, things counted, timers started, holes cleared.
fn counted(view: &Value) -> u64 {
    let steps = view["state"]["steps"].as_array().unwrap();
    let one = |s: &Value| {
        u64::from(s["standing"] == "done")
            + s["count"].as_u64().unwrap()
            + u64::from(s["timer"].is_object())
    };
    let cleared = view["state"]["clear"].as_array().unwrap().len() as u64;
    cleared + steps.iter().map(one).sum::<u64>()
}

//! A real server in a process of its own, spoken to over HTTP.

use serde_json::{Value, json};
use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Child, Command, ExitStatus, Stdio};

/// When the tests take place, whatever day it is.
pub const NOW: &str = "2026-11-25T10:30:00Z";

pub struct Server {
    process: Child,
    pub host: String,
}

impl Server {
    pub fn start(arguments: &[&str]) -> Self {
        Self::start_in(arguments, &[])
    }

    pub fn start_in(arguments: &[&str], environment: &[(&str, &Path)]) -> Self {
        let mut command = Command::new(env!("CARGO_BIN_EXE_murlo"));
        command
            .envs(environment.iter().copied())
            .args(arguments)
            .args(["--listen", "127.0.0.1:0", "--now", NOW])
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

    pub fn ask(&self, method: &str, path: &str, body: &Value) -> Option<(u16, Value)> {
        ask(&self.host, method, path, body)
    }

    pub fn id(&self) -> u32 {
        self.process.id()
    }

    /// Waits until it has ended by itself.
    pub fn wait(&mut self) -> ExitStatus {
        self.process.wait().unwrap()
    }

    /// SIGKILL on Unix: nothing is flushed, nothing is closed.
    pub fn kill(self) {
        drop(self);
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}

/// Sends a signal by its name.
pub fn signal(server: &Server, name: &str) {
    let sent = Command::new("kill")
        .args([format!("-{name}"), server.id().to_string()])
        .status();
    assert!(sent.unwrap().success());
}

/// Waits for what is about to happen; the test runner's own limit ends what never does.
pub fn until(happened: impl Fn() -> bool) {
    let begun = std::time::Instant::now();
    while !happened() {
        assert!(begun.elapsed().as_secs() < 20, "it does not happen");
        std::thread::yield_now();
    }
}

/// The answer, or nothing when the server went away before all of it was there.
pub fn ask(host: &str, method: &str, path: &str, body: &Value) -> Option<(u16, Value)> {
    let mut stream = TcpStream::connect(host).ok()?;
    let body = if body.is_null() {
        String::new()
    } else {
        body.to_string()
    };
    let head = format!(
        "{method} {path} HTTP/1.1\r\nhost: {}\r\nconnection: close\r\ncontent-type: application/json\r\ncontent-length: {}\r\n\r\n",
        host,
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

/// The act that a clean asks for next; at the questions, that all is well and nothing came out.
pub fn next_act(view: &Value) -> Value {
    let answers = match view["state"]["step"]["id"].as_str() {
        Some(look) if look.starts_with("look") => json!({"showed": "nothing"}),
        _ => json!({"smell": "good", "clear": "good", "light": "good", "nose": "second"}),
    };
    let asked =
        json!({"kind": "answered", "step": view["state"]["step"]["id"], "answers": answers});
    view["state"]["next"].get("act").cloned().unwrap_or(asked)
}

//! The browser journeys, run from here so that one command runs every test. Wants web/dist, npm packages and Chromium,
//! which `make test` provides.

use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Child, Command, Stdio};

struct Demo(Child);

impl Drop for Demo {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

#[test]
fn every_journey_works_in_a_browser() {
    let murlo = env!("CARGO_BIN_EXE_murlo");
    let mut demo = Demo(
        Command::new(murlo)
            .args(["demo", "--listen", "127.0.0.1:0"])
            .stdout(Stdio::piped())
            .spawn()
            .expect("the demo starts"),
    );
    let mut line = String::new();
    let out = demo.0.stdout.take().expect("its output is piped");
    BufReader::new(out)
        .read_line(&mut line)
        .expect("it prints its address");
    let url = line.trim().strip_prefix("LISTENING ").expect("it listens");
    let status = Command::new("npx")
        .args(["--no-install", "playwright", "test"])
        .current_dir(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web"))
        .env("BASE_URL", url)
        .env("MURLO", murlo)
        .status()
        .expect("npx runs");
    assert!(
        status.success(),
        "a browser journey failed; its trace is in web/test-results"
    );
}

//! The browser journeys, run from here so that one command runs every test. Wants web/dist, npm packages and Chromium,
//! which `make test` provides.

mod kit;

use kit::{NOW, Server};
use std::path::Path;
use std::process::Command;

#[test]
fn every_journey_works_in_a_browser() {
    let demo = Server::start(&["demo"]);
    let status = Command::new("npx")
        .args(["--no-install", "playwright", "test"])
        .current_dir(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web"))
        .env("BASE_URL", format!("http://{}", demo.host))
        .env("MURLO", env!("CARGO_BIN_EXE_murlo"))
        .env("MURLO_NOW", NOW)
        .status()
        .expect("npx runs");
    assert!(
        status.success(),
        "a browser journey failed; its trace is in web/test-results"
    );
}

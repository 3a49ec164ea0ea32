//! The browser journeys against the built program. They want web/dist, npm packages and Chromium, which `make test` provides;
//! `MURLO_JOURNEYS` holds what else Playwright is told, such as which journeys.

use std::path::Path;
use std::process::Command;

#[test]
fn every_journey_works_in_a_browser() {
    let told = std::env::var("MURLO_JOURNEYS").unwrap_or_default();
    let status = Command::new("npx")
        .args(["--no-install", "playwright", "test"])
        .args(told.split_whitespace())
        .current_dir(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web"))
        .env("MURLO", env!("CARGO_BIN_EXE_murlo"))
        .status()
        .expect("npx runs");
    assert!(
        status.success(),
        "a browser journey failed; its trace is in web/test-results"
    );
}

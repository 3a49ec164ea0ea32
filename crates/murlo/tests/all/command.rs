//! The command as people run it: questions on standard input, households in and out of files.

use serde_json::Value;
use std::io::{ErrorKind, Write};
use std::path::Path;
use std::process::{Command, Output, Stdio};

fn murlo(folder: &Path, arguments: &[&str], input: &str) -> Output {
    let mut command = Command::new(env!("CARGO_BIN_EXE_murlo"));
    command
        .args(arguments)
        .current_dir(folder)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped());
    let mut child = command.spawn().unwrap();
    // A command that never asks may have ended and closed the pipe before the input is written.
    match child.stdin.take().unwrap().write_all(input.as_bytes()) {
        Err(error) if error.kind() != ErrorKind::BrokenPipe => panic!("{error}"),
        _ => {}
    }
    child.wait_with_output().unwrap()
}

fn said(output: &Output) -> String {
    String::from_utf8_lossy(&output.stdout).into_owned() + &String::from_utf8_lossy(&output.stderr)
}

#[test]
fn reference_cases_pass_through_the_command() {
    let cases: Vec<Value> =
        serde_json::from_str(include_str!("../../../murlo-calc/testdata/reference.json")).unwrap();
    let mut kinds: Vec<_> = cases.iter().map(|c| c["kind"].as_str().unwrap()).collect();
    kinds.sort_unstable();
    kinds.dedup();
    for kind in kinds {
        let of_kind: Vec<_> = cases.iter().filter(|c| c["kind"] == kind).collect();
        let inputs: Vec<_> = of_kind.iter().map(|c| c["input"].clone()).collect();
        let output = murlo(
            Path::new("."),
            &["calc", kind],
            &Value::Array(inputs).to_string(),
        );
        assert!(output.status.success(), "{kind}: {}", said(&output));
        let answers: Vec<Value> = serde_json::from_slice(&output.stdout).unwrap();
        for (case, answer) in of_kind.iter().zip(&answers) {
            for (name, expected) in case["expected"].as_object().unwrap() {
                let Some(e) = expected.as_f64() else {
                    assert_eq!(&answer[name], expected, "{kind} {case}");
                    continue;
                };
                let allowed = case["tolerance_abs"]
                    .as_f64()
                    .unwrap_or(0.0)
                    .max(case["tolerance_rel"].as_f64().unwrap_or(0.0) * e.abs());
                assert!(
                    (answer[name].as_f64().unwrap() - e).abs() <= allowed + 1e-12,
                    "{kind} {case}: {answer}"
                );
            }
        }
    }
}

#[test]
fn a_bad_item_stands_in_its_place_and_fails_the_command() {
    let output = murlo(
        Path::new("."),
        &["calc", "hardness-class"],
        r#"[{"hardness": 45}, {"hardness": "soft"}]"#,
    );
    assert_eq!(output.status.code(), Some(1));
    let answers: Value = serde_json::from_slice(&output.stdout).unwrap();
    assert_eq!(
        (
            answers[0]["value"].as_str(),
            answers[1]["error"]["field"].as_str()
        ),
        (Some("soft"), Some("hardness"))
    );
    assert!(said(&murlo(Path::new("."), &["calc", "--list"], "")).contains("soak-minutes"));
    assert!(
        said(&murlo(Path::new("."), &["calc", "dispense", "--help"], ""))
            .contains("dead_volume_ml")
    );
    assert!(said(&murlo(Path::new("."), &["calc", "brewing"], "{}")).contains("no topic"));
}

#[test]
fn households_travel_through_files_and_slips_change_nothing() {
    let folder = tempfile::tempdir().unwrap();
    let at = folder.path();
    let missing = murlo(at, &["export", "--database", "typo.db"], "");
    assert!(!missing.status.success() && !at.join("typo.db").exists());
    std::fs::write(at.join("bad.json"), "{\"format\": \"something\"}").unwrap();
    assert!(said(&murlo(at, &["import", "bad.json"], "")).contains("nothing was imported"));
    std::fs::copy(
        concat!(env!("CARGO_MANIFEST_DIR"), "/demo/orrin-sound.json"),
        at.join("demo.json"),
    )
    .unwrap();
    assert!(murlo(at, &["import", "demo.json"], "").status.success());
    assert!(
        !murlo(at, &["import", "demo.json"], "").status.success(),
        "a filled household is not replaced unasked"
    );
    let first = murlo(at, &["export"], "").stdout;
    std::fs::write(at.join("again.json"), &first).unwrap();
    assert!(
        murlo(at, &["import", "again.json", "--database", "other.db"], "")
            .status
            .success()
    );
    assert_eq!(
        murlo(at, &["export", "--database", "other.db"], "").stdout,
        first
    );
    assert!(murlo(at, &["backup", "copy.db"], "").status.success());
    assert_eq!(
        said(&murlo(at, &["check", "--database", "copy.db"], "")),
        "sound\nno backup yet: one is made every day while it is served\n"
    );
}

#[test]
fn other_machines_are_let_in_only_behind_a_passcode() {
    let folder = tempfile::tempdir().unwrap();
    let output = murlo(folder.path(), &["serve", "--listen", "0.0.0.0:0"], "");
    assert!(
        !output.status.success() && said(&output).contains("passcode"),
        "{}",
        said(&output)
    );
    assert!(said(&murlo(folder.path(), &["passcode"], "12\n")).contains("at least 6"));
    assert!(
        murlo(folder.path(), &["passcode"], "kettle fur\n")
            .status
            .success()
    );
}

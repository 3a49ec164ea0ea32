//! Sentences that are written down beside the tests, for the tests of the crates above: a change shows every line that moved.

use std::collections::HashSet;
use std::path::Path;

/// Lines that are shown of a change at most.
const SHOWN: usize = 60;

/// Compares `text` with `testdata/written/NAME.txt` of the crate at `manifest_dir`, or writes it when `MURLO_WRITE` is set.
///
/// # Panics
/// With the lines that went and those that came.
pub fn check(manifest_dir: &str, name: &str, text: &str) {
    let path = Path::new(manifest_dir).join(format!("testdata/written/{name}.txt"));
    if std::env::var_os("MURLO_WRITE").is_some() {
        std::fs::write(&path, text).expect("the folder of what is written down is there");
        return;
    }
    let known = std::fs::read_to_string(&path).expect("it was written down with MURLO_WRITE=1");
    if known == text {
        return;
    }
    let [was, is]: [HashSet<&str>; 2] = [known.lines().collect(), text.lines().collect()];
    let numbered = |text: &'_ str, other: &HashSet<&str>, sign: char| -> Vec<String> {
        let moved = text
            .lines()
            .enumerate()
            .filter(|(_, line)| !other.contains(line));
        moved
            .map(|(n, line)| format!("{sign} {:4} {line}", n + 1))
            .collect()
    };
    let mut moved = numbered(&known, &is, '-');
    moved.extend(numbered(text, &was, '+'));
    let all = moved.len();
    moved.truncate(SHOWN);
    panic!(
        "{name}.txt: {all} lines moved (renew with MURLO_WRITE=1, then read the change)\n{}",
        moved.join("\n")
    );
}

//! The plug is pulled in the middle of a backup, a restore, an import, a change of schema; the disk runs full.
//!
//! Short by default; `MURLO_FAULTS=1000` (as `make faults` sets) pulls it that often.

use crate::kit::{Server, next_act};
use serde_json::{Value, json};
use std::fs;
use std::path::Path;
use std::process::{Command, Output, Stdio};
use std::time::{Duration, Instant};

fn rounds() -> usize {
    std::env::var("MURLO_FAULTS").map_or(24, |n| n.parse().expect("MURLO_FAULTS is a number"))
}

/// A small fixed generator, so that a failure can be run again.
struct Chance(u64);

impl Chance {
    fn below(&mut self, n: u64) -> u64 {
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) % n
    }
}

fn murlo(folder: &Path, arguments: &[&str]) -> Command {
    let mut command = Command::new(env!("CARGO_BIN_EXE_murlo"));
    command
        .args(arguments)
        .current_dir(folder)
        .stdin(Stdio::null())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped());
    command
}

fn run(folder: &Path, arguments: &[&str]) -> Output {
    murlo(folder, arguments).output().unwrap()
}

fn good(folder: &Path, arguments: &[&str]) -> Vec<u8> {
    let output = run(folder, arguments);
    let said = String::from_utf8_lossy(&output.stderr).into_owned();
    assert!(output.status.success(), "{arguments:?}: {said}");
    output.stdout
}

/// The demo's homes, and the same with other names.
fn two_households(folder: &Path) -> [Vec<u8>; 2] {
    let demo = include_str!("../../demo/orrin-sound.json");
    [
        demo.to_owned(),
        demo.replace("Lamp-room pod", "Kelp-shed pod"),
    ]
    .map(|json| {
        fs::write(folder.join("given.json"), json).unwrap();
        good(
            folder,
            &["import", "given.json", "--replace", "--database", "make.db"],
        );
        good(folder, &["export", "--database", "make.db"])
    })
}

/// Starts `arguments` and kills it at some moment around the end of the time that it takes.
fn cut_off(folder: &Path, arguments: &[&str], takes: Duration, chance: &mut Chance) {
    let mut child = murlo(folder, arguments).spawn().unwrap();
    let until = Instant::now() + takes.mul_f64(0.3 + chance.below(1000) as f64 / 1000.0);
    while Instant::now() < until {
        std::thread::yield_now();
    }
    let _ = child.kill();
    let _ = child.wait();
}

fn timed(work: impl FnOnce()) -> Duration {
    let begun = Instant::now();
    work();
    begun.elapsed()
}

#[test]
fn whatever_is_cut_off_leaves_the_old_household_or_the_new_one() {
    let folder = tempfile::tempdir().unwrap();
    let at = folder.path();
    let mut chance = Chance(0x0011_77AE);
    let [first, second] = two_households(at);
    fs::write(at.join("first.json"), &first).unwrap();
    fs::write(at.join("second.json"), &second).unwrap();
    let import = |file: &str| good(at, &["import", file, "--replace"]);
    let restore = ["restore", "second.db"];
    import("second.json");
    good(at, &["backup", "second.db"]);
    import("first.json");
    let import_takes = timed(|| drop(import("first.json")));
    let restore_takes = timed(|| drop(good(at, &restore)));
    let backup_takes = timed(|| drop(good(at, &["backup", "once.db"])));
    let mut seen = [0; 2];
    for n in 0..rounds() {
        if run(at, &["export"]).stdout != first {
            import("first.json");
        }
        match n % 3 {
            0 => cut_off(
                at,
                &["import", "second.json", "--replace"],
                import_takes,
                &mut chance,
            ),
            1 => cut_off(at, &restore, restore_takes, &mut chance),
            _ => {
                cut_off(at, &["backup", "copy.db"], backup_takes, &mut chance);
                let copy = at.join("copy.db");
                if copy.exists() {
                    assert!(good(at, &["export", "--database", "copy.db"]) == first);
                    fs::remove_file(copy).unwrap();
                }
            }
        }
        let opened = run(at, &["export"]);
        if !opened.status.success() {
            // Only a restore may be refused, and it says how to go on.
            let said = String::from_utf8_lossy(&opened.stderr).into_owned();
            assert!(
                n % 3 == 1 && said.contains("run `murlo restore` once more"),
                "{said}"
            );
            good(at, &restore);
        }
        good(at, &["check"]);
        let now = good(at, &["export"]);
        let which = [&first, &second].iter().position(|known| **known == now);
        seen[which.expect("the old household or the new one")] += 1;
    }
    assert!(
        rounds() < 100 || (seen[0] > 0 && seen[1] > 0),
        "cut off too early or too late to tell: {seen:?}"
    );
}

#[test]
fn a_change_of_schema_that_is_cut_off_is_done_at_the_next_start() {
    let folder = tempfile::tempdir().unwrap();
    let at = folder.path();
    let mut chance = Chance(0x5C_43E4);
    let [_, second] = two_households(at);
    good(at, &["backup", "now.db", "--database", "make.db"]);
    let older = |name: &str| {
        for entry in fs::read_dir(at).unwrap() {
            let path = entry.unwrap().path();
            let is_old = path
                .file_name()
                .unwrap()
                .to_string_lossy()
                .starts_with(name);
            match path.is_dir() {
                true if is_old => fs::remove_dir_all(path).unwrap(),
                false if is_old => fs::remove_file(path).unwrap(),
                _ => {}
            }
        }
        fs::copy(at.join("now.db"), at.join(name)).unwrap();
        rusqlite::Connection::open(at.join(name))
            .unwrap()
            .execute_batch("DROP TABLE devices; DROP TABLE invitations; CREATE TABLE sessions (token_hash TEXT PRIMARY KEY, created_at INTEGER NOT NULL) STRICT; DROP TABLE over_days; DROP TABLE ways; DROP TABLE visits; DROP TABLE feed; DROP TABLE movements; DROP TABLE supplies; DROP TABLE photos; PRAGMA application_id = 0; PRAGMA user_version = 2")
            .unwrap();
    };
    // What came with a later schema cannot have been in an older one.
    let without_later = |export: &[u8]| {
        let mut household: serde_json::Value = serde_json::from_slice(export).unwrap();
        for list in ["supplies", "movements", "ways", "over_days"] {
            assert!(household[list].take().is_array());
        }
        household
    };
    let second = without_later(&second);
    older("old.db");
    let check = ["check", "--database", "old.db"];
    let takes = timed(|| drop(good(at, &check)));
    for _ in 0..rounds() / 2 {
        older("old.db");
        cut_off(at, &check, takes, &mut chance);
        good(at, &check);
        let now = good(at, &["export", "--database", "old.db"]);
        assert!(without_later(&now) == second, "all of it is there");
    }
}

/// A folder that holds only so much, taken away again at the end.
#[cfg(target_os = "linux")]
struct SmallDisk(tempfile::TempDir);

#[cfg(target_os = "linux")]
impl SmallDisk {
    fn mount(size: &str) -> Option<Self> {
        let folder = tempfile::tempdir().unwrap();
        let options = format!("size={size}");
        let mounted = Command::new("mount")
            .args(["-t", "tmpfs", "-o", &options, "tmpfs"])
            .arg(folder.path())
            .stderr(Stdio::null())
            .status();
        mounted
            .is_ok_and(|status| status.success())
            .then(|| Self(folder))
    }

    /// Fills it until nothing more goes in, but for `spare` bytes.
    fn fill(&self, spare: u64) {
        let path = self.0.path().join("filler");
        let mut file = fs::File::create(&path).unwrap();
        while std::io::Write::write_all(&mut file, &[7; 4096]).is_ok() {}
        let length = file.metadata().unwrap().len();
        file.set_len(length.saturating_sub(spare)).unwrap();
    }

    fn empty(&self) {
        fs::remove_file(self.0.path().join("filler")).unwrap();
    }
}

#[cfg(target_os = "linux")]
impl Drop for SmallDisk {
    fn drop(&mut self) {
        let _ = Command::new("umount").arg("-l").arg(self.0.path()).status();
    }
}

#[cfg(target_os = "linux")]
#[test]
fn a_full_disk_refuses_in_words_loses_nothing_and_goes_on_when_there_is_room() {
    let Some(disk) = SmallDisk::mount(&format!("{}m", 16 + rounds() / 4)) else {
        eprintln!("skipped: no small disk can be mounted here (it takes root)");
        return;
    };
    let mut chance = Chance(0xF011);
    let database = disk.0.path().join("home.db").display().to_string();
    let serve = || {
        let quiet = [("RUST_LOG", Path::new("off"))];
        Server::start_in(&["serve", "--database", &database], &quiet)
    };
    let mut server = serve();
    let reading = json!({"by": "taps", "chalk": "crust"});
    let water = json!({"name": "Well", "reading": reading});
    let (_, water) = server.ask("POST", "/api/waters?id=well", &water).unwrap();
    let (_, families) = server.ask("GET", "/api/families", &Value::Null).unwrap();
    let mut draft = families[0]["draft"].clone();
    draft["nickname"] = json!("Lamp-room pod");
    draft["water_id"] = water["id"].clone();
    assert_eq!(
        server
            .ask("POST", "/api/brewers?id=lamp", &draft)
            .unwrap()
            .0,
        200
    );
    let mut refused = 0;
    for n in 0..rounds().div_ceil(8) {
        let clean = format!("c{n}");
        let start = json!({"id": clean});
        let (status, mut view) = server
            .ask("POST", "/api/brewers/lamp/cleans", &start)
            .unwrap();
        assert_eq!(status, 200, "{view}");
        let path = format!("/api/cleans/{clean}");
        for event in 0.. {
            if view["state"]["closed"].is_string() {
                break;
            }
            let sent = json!({"id": format!("{clean}-{event}"), "act": next_act(&view)});
            let is_full = chance.below(4) == 0;
            if is_full {
                disk.fill(chance.below(3) * 4096);
            }
            let (status, answer) = server
                .ask("POST", &format!("{path}/events"), &sent)
                .unwrap();
            if is_full {
                disk.empty();
            }
            if status == 200 {
                view = answer;
                continue;
            }
            refused += 1;
            assert_eq!(status, 507, "{answer}");
            assert!(
                answer["detail"].as_str().unwrap().contains("disk is full"),
                "{answer}"
            );
            let (_, same) = server.ask("GET", &path, &Value::Null).unwrap();
            assert_eq!(
                same["state"]["steps"], view["state"]["steps"],
                "nothing was changed"
            );
            if chance.below(3) == 0 {
                server.kill();
                server = serve();
            }
            let (status, again) = server
                .ask("POST", &format!("{path}/events"), &sent)
                .unwrap();
            assert_eq!(status, 200, "{again}");
            view = again;
        }
        assert_eq!(view["state"]["closed"], "finished");
    }
    assert!(refused > 0, "the disk never ran full");
    disk.fill(0);
    let output = run(
        disk.0.path(),
        &["backup", "copy.db", "--database", &database],
    );
    let said = String::from_utf8_lossy(&output.stderr).into_owned();
    assert!(
        !output.status.success() && said.contains("disk is full"),
        "{said}"
    );
    assert!(!disk.0.path().join("copy.db").exists());
    assert!(!disk.0.path().join("copy.db.part").exists());
}

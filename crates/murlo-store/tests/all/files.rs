//! The file itself: whose it is, who has it, what stands beside it, and how a backup comes back.

use jiff::ToSpan;
use jiff::civil::{Date, date};
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_household::devices::DeviceKind;
use murlo_household::{PhotoOf, Settings, Shows};
use murlo_store::{Backups, Lock, Store, StoreError, copy, restore};
use rusqlite::Connection;
use std::fs;
use std::path::{Path, PathBuf};

const TODAY: Date = date(2026, 6, 17);

fn home(name: &str) -> Home {
    Home::named("home", name)
}

fn named(path: &Path) -> String {
    Store::open(path).unwrap().get::<Home>("home").unwrap().name
}

fn at(folder: &tempfile::TempDir, name: &str) -> PathBuf {
    folder.path().join(name)
}

/// A household with one home, closed.
fn household(path: &Path, name: &str) {
    Store::open(path).unwrap().put(&home(name)).unwrap();
}

/// What a process leaves that was killed: the newest changes only in the file beside the database.
fn killed(path: &Path, name: &str) {
    let store = Store::open(path).unwrap();
    store.put(&home(name)).unwrap();
    let wal = path.with_extension("db-wal");
    let (database, changes) = (fs::read(path).unwrap(), fs::read(&wal).unwrap());
    drop(store);
    fs::write(path, database).unwrap();
    fs::write(wal, changes).unwrap();
}

fn refused(opened: Result<Store, StoreError>) -> String {
    match opened {
        Ok(_) => panic!("it was opened"),
        Err(error) => error.to_string(),
    }
}

#[test]
fn a_file_that_is_not_ours_is_refused_and_left_as_it_was() {
    let folder = tempfile::tempdir().unwrap();
    let path = at(&folder, "x.db");
    let make = |sql: &str| {
        let _ = fs::remove_file(&path);
        Connection::open(&path).unwrap().execute_batch(sql).unwrap();
    };
    let tables: String = [
        "homes",
        "waters",
        "agents",
        "brewers",
        "past_cleans",
        "cleans",
    ]
    .map(|table| format!("CREATE TABLE {table} (id TEXT);"))
    .concat();
    let ours = tables + "CREATE TABLE settings (x); CREATE TABLE clean_events (x);";
    for (sql, said) in [
        (
            "CREATE TABLE recipes (id TEXT)".to_owned(),
            "another program",
        ),
        (
            "PRAGMA user_version = 2; CREATE TABLE t (x)".to_owned(),
            "another program",
        ),
        (
            ours.clone() + "PRAGMA application_id = 7",
            "another program",
        ),
        (ours.clone() + "PRAGMA user_version = 99", "newer Murlo"),
    ] {
        make(&sql);
        let before = fs::read(&path).unwrap();
        assert!(refused(Store::open(&path)).contains(said), "{sql}");
        assert!(copy(&path, &at(&folder, "copy.db")).is_err());
        assert_eq!(fs::read(&path).unwrap(), before, "{sql}");
    }
    for (bytes, said) in [
        (&b""[..], "0 bytes"),
        (&b"SQLite format 3"[..], "not a Murlo database"),
        (
            &b"dear diary, today I descaled the brewer"[..],
            "not a Murlo database",
        ),
    ] {
        fs::write(&path, bytes).unwrap();
        assert!(refused(Store::open(&path)).contains(said));
        assert_eq!(fs::read(&path).unwrap(), bytes);
    }
    assert_eq!(
        fs::read_dir(folder.path()).unwrap().count(),
        1,
        "nothing is left beside it"
    );
}

#[test]
fn a_household_without_an_application_id_is_known_by_its_tables_and_stamped() {
    let folder = tempfile::tempdir().unwrap();
    let path = at(&folder, "home.db");
    household(&path, "Boat");
    let id = || -> i64 {
        let connection = Connection::open(&path).unwrap();
        connection
            .query_row("PRAGMA application_id", [], |row| row.get(0))
            .unwrap()
    };
    let stamped = id();
    assert_ne!(stamped, 0);
    Connection::open(&path)
        .unwrap()
        .pragma_update(None, "application_id", 0)
        .unwrap();
    assert_eq!(named(&path), "Boat");
    assert_eq!(id(), stamped);
}

#[test]
fn an_older_schema_is_copied_before_it_is_changed() {
    let folder = tempfile::tempdir().unwrap();
    let path = at(&folder, "home.db");
    household(&path, "Boat");
    let old = Connection::open(&path).unwrap();
    old.execute_batch(
        "DROP TABLE devices; DROP TABLE invitations; CREATE TABLE sessions (token_hash TEXT PRIMARY KEY, created_at INTEGER NOT NULL) STRICT; DROP TABLE over_days; DROP TABLE ways; DROP TABLE visits; DROP TABLE feed; DROP TABLE movements; DROP TABLE supplies; DROP TABLE photos; PRAGMA user_version = 2",
    )
    .unwrap();
    drop(old);
    assert_eq!(named(&path), "Boat");
    let kept = at(&folder, "home.db.backups/before-migration-from-2.db");
    let version: i64 = Connection::open(kept)
        .unwrap()
        .query_row("PRAGMA user_version", [], |row| row.get(0))
        .unwrap();
    assert_eq!(version, 2);
}

#[test]
fn a_device_from_when_none_had_a_name_is_still_signed_in() {
    let folder = tempfile::tempdir().unwrap();
    let path = at(&folder, "home.db");
    household(&path, "Boat");
    let old = Connection::open(&path).unwrap();
    old.execute_batch(
        "DROP TABLE devices; DROP TABLE invitations;
        CREATE TABLE sessions (token_hash TEXT PRIMARY KEY, created_at INTEGER NOT NULL) STRICT;
        INSERT INTO sessions VALUES ('hash', 1000), ('other', 2000);
        PRAGMA user_version = 7",
    )
    .unwrap();
    drop(old);
    let store = Store::open(&path).unwrap();
    let device = store.device("hash").unwrap().unwrap();
    assert_eq!(
        (device.made_at, device.device.kind),
        (1000, DeviceKind::Full)
    );
    assert_eq!(store.devices().unwrap().len(), 2);
}

#[test]
fn a_photo_from_when_all_were_of_glasses_is_still_there() {
    let folder = tempfile::tempdir().unwrap();
    let path = at(&folder, "home.db");
    household(&path, "Boat");
    let old = Connection::open(&path).unwrap();
    old.execute_batch(
        "DROP TABLE devices; DROP TABLE invitations; CREATE TABLE sessions (token_hash TEXT PRIMARY KEY, created_at INTEGER NOT NULL) STRICT; DROP TABLE over_days; DROP TABLE ways; DROP TABLE photos;
        CREATE TABLE photos (id TEXT PRIMARY KEY, clean_id TEXT NOT NULL REFERENCES cleans (id), jpeg BLOB NOT NULL) STRICT;
        CREATE INDEX photos_by_clean ON photos (clean_id);
        INSERT INTO brewers (id, body) VALUES ('b', '{}');
        INSERT INTO cleans VALUES ('c', 'b', 'main', '{}');
        INSERT INTO photos VALUES ('g', 'c', x'FFD8FFD9');
        PRAGMA user_version = 5",
    )
    .unwrap();
    drop(old);
    let photo = Store::open(&path).unwrap().photo("g").unwrap();
    assert_eq!(
        (photo.shows, photo.of),
        (Shows::Glass, PhotoOf::Clean("c".into()))
    );
    assert_eq!((photo.jpeg, photo.at), (vec![0xFF, 0xD8, 0xFF, 0xD9], None));
}

#[cfg(unix)]
#[test]
fn only_its_owner_can_read_a_new_household_and_its_copies() {
    use std::os::unix::fs::PermissionsExt;
    let folder = tempfile::tempdir().unwrap();
    let path = at(&folder, "home.db");
    household(&path, "Boat");
    let _lock = Lock::take(&path, "a test").unwrap();
    Backups::of(&path).daily(TODAY).unwrap();
    for name in [
        "home.db",
        "home.db.lock",
        "home.db.backups/daily-2026-06-17.db",
    ] {
        let mode = fs::metadata(at(&folder, name))
            .unwrap()
            .permissions()
            .mode();
        assert_eq!(mode & 0o077, 0, "{name}: {mode:o}");
    }
}

#[test]
fn one_process_writes_and_others_are_told_which() {
    let folder = tempfile::tempdir().unwrap();
    let path = at(&folder, "home.db");
    let mut lock = Lock::take(&path, "about to serve").unwrap();
    lock.tell("serving http://127.0.0.1:7676").unwrap();
    let said = Lock::take(&path, "second").unwrap_err().to_string();
    let pid = format!("process {}", std::process::id());
    assert!(
        said.contains("http://127.0.0.1:7676") && said.contains(&pid),
        "{said}"
    );
    drop(lock);
    assert!(
        Lock::take(&path, "third").is_ok(),
        "what a gone process left behind is taken over"
    );
}

#[cfg(unix)]
#[test]
fn a_file_that_is_gone_or_replaced_takes_nothing_and_says_so() {
    let folder = tempfile::tempdir().unwrap();
    let (path, other) = (at(&folder, "home.db"), at(&folder, "other.db"));
    household(&other, "Other");
    for meddle in [
        (|path, _| fs::remove_file(path)) as fn(&Path, &Path) -> std::io::Result<()>,
        |path, _| fs::rename(path, path.with_extension("moved")),
        |path, other| fs::rename(other, path),
    ] {
        for ending in ["", "-wal", "-shm"] {
            let _ = fs::remove_file(at(&folder, &format!("home.db{ending}")));
        }
        let store = Store::open(&path).unwrap();
        store.put(&home("Boat")).unwrap();
        meddle(&path, &other).unwrap();
        let error = store.put(&home("Lost")).unwrap_err();
        assert!(matches!(error, StoreError::Gone(_)), "{error}");
        assert!(error.to_string().contains("deleted, moved or replaced"));
        assert_eq!(
            store.get::<Home>("home").unwrap().name,
            "Boat",
            "nothing was taken in"
        );
    }
    assert_eq!(named(&path), "Other");
}

#[test]
fn a_backup_comes_back_though_what_was_not_closed_lies_beside_the_old_file() {
    let folder = tempfile::tempdir().unwrap();
    let (path, backup) = (at(&folder, "home.db"), at(&folder, "kept.db"));
    household(&path, "As it was");
    copy(&path, &backup).unwrap();
    killed(&path, "After the backup");
    assert!(at(&folder, "home.db-wal").exists());

    let lock = Lock::take(&path, "a test").unwrap();
    let aside = restore(&backup, &lock).unwrap().unwrap();
    assert_eq!(named(&path), "As it was");
    assert_eq!(Store::open(&path).unwrap().check().unwrap(), "ok");
    assert_eq!(
        named(&aside),
        "After the backup",
        "what was set aside is whole too"
    );
    assert_eq!(
        restore(&backup, &lock).unwrap(),
        Some(at(&folder, "home.db.set-aside-2"))
    );
    fs::remove_file(&path).unwrap();
    assert_eq!(
        restore(&backup, &lock).unwrap(),
        None,
        "nothing stood there"
    );
    assert_eq!(named(&path), "As it was");
}

#[test]
fn what_is_no_sound_backup_touches_nothing() {
    let folder = tempfile::tempdir().unwrap();
    let (path, backup) = (at(&folder, "home.db"), at(&folder, "kept.db"));
    household(&path, "As it is");
    copy(&path, &backup).unwrap();
    let lock = Lock::take(&path, "a test").unwrap();
    let mut damaged = fs::read(&backup).unwrap();
    let from = damaged.len() / 2;
    damaged[from..].fill(0xA5);
    let before = fs::read_dir(folder.path()).unwrap().count();
    for bytes in [&b""[..], b"no database", &damaged, &damaged[..from]] {
        fs::write(&backup, bytes).unwrap();
        assert!(restore(&backup, &lock).is_err());
        assert_eq!(named(&path), "As it is");
        assert_eq!(fs::read_dir(folder.path()).unwrap().count(), before);
    }
    assert!(
        restore(&path, &lock)
            .unwrap_err()
            .to_string()
            .contains("the household itself")
    );
    assert!(restore(&at(&folder, "typo.db"), &lock).is_err());
}

#[test]
fn a_restore_that_was_cut_off_is_refused_until_it_is_done_again() {
    let folder = tempfile::tempdir().unwrap();
    let (path, backup) = (at(&folder, "home.db"), at(&folder, "kept.db"));
    let aside = at(&folder, "home.db.set-aside-1");
    let mark = |path: &Path| {
        let marker = path.with_extension("db.restoring");
        fs::write(marker, aside.display().to_string()).unwrap();
    };
    // After each of its moves.
    for moved in 0..=3 {
        for entry in fs::read_dir(folder.path()).unwrap() {
            fs::remove_file(entry.unwrap().path()).unwrap();
        }
        household(&path, "As it was");
        copy(&path, &backup).unwrap();
        killed(&path, "After the backup");
        mark(&path);
        let moves = [
            ("home.db", "home.db.set-aside-1"),
            ("home.db-wal", "home.db.set-aside-1-wal"),
        ];
        for (from, to) in moves.iter().take(moved) {
            fs::rename(at(&folder, from), at(&folder, to)).unwrap();
        }
        if moved == 3 {
            fs::copy(&backup, &path).unwrap();
        }
        assert!(
            refused(Store::open(&path)).contains("murlo restore"),
            "{moved}"
        );
        assert!(
            refused(Store::existing(&path)).contains("murlo restore"),
            "{moved}"
        );
        let lock = Lock::take(&path, "a test").unwrap();
        assert_eq!(restore(&backup, &lock).unwrap().as_ref(), Some(&aside));
        assert_eq!(named(&path), "As it was", "{moved}");
        assert_eq!(named(&aside), "After the backup", "{moved}");
    }
}

#[test]
fn a_new_household_is_not_begun_beside_what_is_left_of_an_old_one() {
    let folder = tempfile::tempdir().unwrap();
    let path = at(&folder, "home.db");
    killed(&path, "Boat");
    fs::rename(&path, at(&folder, "elsewhere.db")).unwrap();
    assert!(refused(Store::open(&path)).contains("-wal"));
    fs::rename(at(&folder, "elsewhere.db"), &path).unwrap();
    assert_eq!(named(&path), "Boat");
}

#[test]
fn a_copy_is_made_each_day_and_the_old_ones_go() {
    let folder = tempfile::tempdir().unwrap();
    let path = at(&folder, "home.db");
    household(&path, "Boat");
    let backups = Backups::of(&path);
    assert_eq!(backups.all().unwrap(), []);
    for ago in (0..40).rev() {
        let day = TODAY.saturating_sub(ago.days());
        backups.daily(day).unwrap();
        backups.daily(day).unwrap();
    }
    let all = backups.all().unwrap();
    assert_eq!(all[0].day, TODAY);
    let ages: Vec<_> = all.iter().map(|b| (TODAY - b.day).get_days()).collect();
    assert_eq!(ages, [0, 1, 2, 3, 4, 5, 6, 7, 10, 17, 24, 31, 38]);
    assert!(all.iter().all(|b| named(&b.path) == "Boat"));
}

#[test]
fn a_copy_that_cannot_be_written_leaves_nothing_half_made() {
    let folder = tempfile::tempdir().unwrap();
    let path = at(&folder, "home.db");
    household(&path, "Boat");
    fs::write(at(&folder, "home.db.backups"), "in the way").unwrap();
    assert!(Backups::of(&path).daily(TODAY).is_err());
    assert!(copy(&path, &at(&folder, "no/such/folder.db")).is_err());
    assert_eq!(fs::read_dir(folder.path()).unwrap().count(), 2);
}

#[test]
fn a_household_is_empty_only_while_nobody_has_told_it_anything() {
    let begun = || {
        let store = Store::in_memory().unwrap();
        let settings = Settings {
            time_zone: "Europe/Lisbon".into(),
            ..Settings::default()
        };
        store
            .start_with(&Agent::starters(), &Home::starter(), &settings)
            .unwrap();
        assert!(store.is_empty().unwrap());
        store
    };
    let agent = Agent::starters().remove(0);
    let changes: [&dyn Fn(&Store); 7] = [
        &|s| s.put(&home("Boat")).unwrap(),
        &|s| {
            s.put(&Home {
                id: "second".into(),
                ..Home::starter()
            })
            .unwrap()
        },
        &|s| s.archive::<Home>("home", true).unwrap(),
        &|s| {
            s.put(&Agent {
                on_hand: Some(200.0),
                ..agent.clone()
            })
            .unwrap()
        },
        &|s| s.archive::<Agent>(&agent.id, true).unwrap(),
        &|s| {
            s.put(&Agent {
                id: "own".into(),
                ..agent.clone()
            })
            .unwrap()
        },
        &|s| {
            let settings = Settings {
                currency: "EUR".into(),
                ..s.settings().unwrap()
            };
            s.put_settings(&settings).unwrap();
        },
    ];
    for (n, change) in changes.iter().enumerate() {
        let mut store = begun();
        let other = begun().export().unwrap();
        change(&store);
        assert!(!store.is_empty().unwrap(), "change {n}");
        let before = store.export().unwrap();
        assert!(matches!(
            store.import(&other, false, TODAY),
            Err(StoreError::Conflict(_))
        ));
        assert_eq!(store.export().unwrap(), before, "change {n}");
    }
    let store = begun();
    store
        .start_with(&[], &home("Again"), &Settings::default())
        .unwrap();
    assert!(store.is_empty().unwrap(), "what was begun is left as it is");
}

#[test]
fn a_zone_that_nobody_knows_is_kept_nowhere() {
    let mut store = Store::in_memory().unwrap();
    let settings = Settings {
        time_zone: "Mars/Olympus".into(),
        ..Settings::default()
    };
    let field = |error: StoreError| match error {
        StoreError::Wrong(problems) => problems.0[0].field.clone(),
        other => panic!("{other}"),
    };
    assert_eq!(
        field(store.put_settings(&settings).unwrap_err()),
        "time_zone"
    );
    let mut household = store.export().unwrap();
    household.settings = settings;
    let error = store.import(&household, true, TODAY).unwrap_err();
    assert_eq!(field(error), "settings.time_zone");
}

#[cfg(unix)]
#[test]
fn a_household_has_one_name() {
    let folder = tempfile::tempdir().unwrap();
    let (path, soft, hard) = (
        folder.path().join("home.db"),
        folder.path().join("soft.db"),
        folder.path().join("hard.db"),
    );
    drop(Store::open(&path).unwrap());
    std::os::unix::fs::symlink(&path, &soft).unwrap();
    let refused =
        |error: StoreError, part: &str| assert!(error.to_string().contains(part), "{error}");
    refused(
        Lock::take(&soft, "x").unwrap_err(),
        "is a link to another file",
    );
    refused(
        Store::open(&soft).err().unwrap(),
        "is a link to another file",
    );
    refused(
        Store::existing(&soft).err().unwrap(),
        "is a link to another file",
    );
    let lock = Lock::take(&path, "x").unwrap();
    refused(murlo_store::restore(&soft, &lock).unwrap_err(), "itself");
    drop(lock);
    std::fs::hard_link(&path, &hard).unwrap();
    for name in [&path, &hard] {
        refused(Lock::take(name, "x").unwrap_err(), "another name besides");
        refused(Store::open(name).err().unwrap(), "another name besides");
    }
    std::fs::remove_file(&hard).unwrap();
    assert!(Lock::take(&path, "x").is_ok() && Store::open(&path).is_ok());
    // One that leads nowhere makes no household where it points.
    let nowhere = folder.path().join("nowhere.db");
    std::os::unix::fs::symlink(folder.path().join("far.db"), &nowhere).unwrap();
    refused(
        Lock::take(&nowhere, "x").unwrap_err(),
        "is a link to another file",
    );
}

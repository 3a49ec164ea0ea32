//! Erasing from real files: what is gone stands in none of their bytes.

use jiff::civil::{Date, date};
use murlo_household::Household;
use murlo_household::devices::{Device, DeviceKind};
use murlo_household::erase::{Erased, ErasedCount};
use murlo_household::stock::{Moved, Movement};
use murlo_store::{Backups, KeptDevice, Store};
use std::fs;
use std::path::{Path, PathBuf};

const TODAY: Date = date(2026, 6, 17);

fn landed() -> Household {
    let landed = include_str!("../../../murlo-household/testdata/landed-5.json");
    let landed: serde_json::Value = serde_json::from_str(landed).unwrap();
    Household::read(&landed["export"].to_string()).unwrap()
}

/// Whether any of the files holds these words.
fn hold(files: &[PathBuf], words: &str) -> bool {
    let mut all = files.iter().map(|path| fs::read(path).unwrap());
    all.any(|bytes| {
        bytes
            .windows(words.len())
            .any(|some| some == words.as_bytes())
    })
}

fn files_in(folder: &Path) -> Vec<PathBuf> {
    let entries = fs::read_dir(folder)
        .unwrap()
        .map(|entry| entry.unwrap().path());
    entries
        .flat_map(|path| {
            if path.is_dir() {
                files_in(&path)
            } else {
                vec![path]
            }
        })
        .collect()
}

#[test]
fn a_home_is_erased_from_the_household_and_from_every_copy() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("home.db");
    let mut store = Store::open(&path).unwrap();
    let household = landed();
    store.import(&household, false, TODAY).unwrap();
    // One without a running clean, that others know nothing of.
    let home = household.homes.iter().find(|kept| {
        let what = Erased::Home {
            id: kept.fact.id.clone(),
        };
        household.may_erase(&what).is_ok()
            && household
                .brewers
                .iter()
                .any(|brewer| brewer.fact.home_id == kept.fact.id)
    });
    let home = &home.unwrap().fact;
    let brewer = &household
        .brewers
        .iter()
        .find(|kept| kept.fact.home_id == home.id)
        .unwrap()
        .fact;
    for (id, kind) in [
        (
            "looks",
            DeviceKind::Look {
                home_id: home.id.clone(),
                until: TODAY,
            },
        ),
        (
            "counts",
            DeviceKind::Counts {
                brewer_id: brewer.id.clone(),
            },
        ),
        ("full", DeviceKind::Full),
    ] {
        let device = Device {
            name: id.to_owned(),
            person: Some("Ola".to_owned()),
            kind,
        };
        let kept = KeptDevice {
            id: id.to_owned(),
            made_at: 1,
            seen_at: 1,
            device,
        };
        store.add_device(&kept, id).unwrap();
    }
    let backups = Backups::of(&path);
    backups.daily(TODAY).unwrap();
    let other = folder
        .path()
        .join("home.db.backups")
        .join("before-migration-from-5.db");
    murlo_store::copy(&path, &other).unwrap();
    let broken = folder
        .path()
        .join("home.db.backups")
        .join("daily-2026-06-01.db");
    fs::write(&broken, "no database").unwrap();
    assert!(hold(&files_in(folder.path()), &brewer.nickname));

    let what = Erased::Home {
        id: home.id.clone(),
    };
    let counted = Movement {
        id: "kept-level".to_owned(),
        item_id: household.agents[0].fact.id.clone(),
        at: "2026-06-17T10:00:00Z".parse().unwrap(),
        day: TODAY,
        what: Moved::Counted { amount: 250.0 },
    };
    let goes = store.erasing(&what).unwrap();
    assert!(
        store
            .export()
            .unwrap()
            .homes
            .iter()
            .any(|kept| kept.fact.id == home.id),
        "a look changes nothing"
    );
    assert_eq!(store.erase(&what, vec![counted]).unwrap(), goes);
    assert_eq!((goes.homes, goes.brewers > 0, goes.devices), (1, true, 2));
    let left: Vec<String> = store
        .devices()
        .unwrap()
        .into_iter()
        .map(|kept| kept.id)
        .collect();
    assert_eq!(left, ["full"]);
    assert!(
        store
            .export()
            .unwrap()
            .movements
            .iter()
            .any(|kept| kept.fact.id == "kept-level")
    );
    store.reads().unwrap();

    let copies = backups.erase(&what).unwrap();
    assert_eq!(copies.rewritten, 2);
    assert_eq!(copies.left.len(), 1);
    assert_eq!(copies.left[0].0, broken);
    let files = files_in(folder.path());
    assert!(
        !hold(&files, &brewer.nickname) && !hold(&files, &home.name),
        "{files:?}"
    );
    assert!(
        files
            .iter()
            .all(|path| !path.to_string_lossy().ends_with(".part")),
        "{files:?}"
    );
    // What was rewritten is a household that can be put back.
    assert!(
        Store::existing(&other)
            .unwrap()
            .export()
            .unwrap()
            .homes
            .iter()
            .all(|kept| kept.fact.id != home.id)
    );
    assert_eq!(backups.erase(&what).unwrap().rewritten, 0, "once is all");
    assert!(store.erase(&what, Vec::new()).unwrap().is_nothing());
}

#[test]
fn a_name_leaves_the_devices_too() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("home.db");
    let mut store = Store::open(&path).unwrap();
    store.import(&landed(), false, TODAY).unwrap();
    let device = Device {
        name: "Hall phone".to_owned(),
        person: Some("Ola Sund".to_owned()),
        kind: DeviceKind::Full,
    };
    let kept = KeptDevice {
        id: "phone".to_owned(),
        made_at: 1,
        seen_at: 1,
        device,
    };
    store.add_device(&kept, "hash").unwrap();
    let other = Erased::Person {
        name: "Ola".to_owned(),
    };
    assert_eq!(
        store.erase(&other, Vec::new()).unwrap(),
        ErasedCount::default()
    );
    assert_eq!(
        store.devices().unwrap()[0].device.person.as_deref(),
        Some("Ola Sund")
    );
    let what = Erased::Person {
        name: "Ola Sund".to_owned(),
    };
    assert_eq!(store.erasing(&what).unwrap().names, 1);
    assert_eq!(store.erase(&what, Vec::new()).unwrap().names, 1);
    assert_eq!(store.devices().unwrap()[0].device.person, None);
    assert!(!hold(&files_in(folder.path()), "Ola Sund"));
}

#[test]
fn what_may_not_be_erased_changes_nothing() {
    let mut store = Store::in_memory().unwrap();
    let household = landed();
    store.import(&household, false, TODAY).unwrap();
    let refused = household.homes.iter().map(|kept| Erased::Home {
        id: kept.fact.id.clone(),
    });
    let refused: Vec<_> = refused
        .filter(|what| household.may_erase(what).is_err())
        .collect();
    assert!(!refused.is_empty());
    for what in refused {
        assert!(store.erase(&what, Vec::new()).is_err());
        assert!(store.erasing(&what).is_err());
    }
    assert_eq!(store.export().unwrap().homes, household.homes);
}

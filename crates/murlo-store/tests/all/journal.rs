//! The journal in real SQLite files: sent twice, taken back, brought in whole, and a file from before there was one.

use jiff::civil::{Date, date};
use murlo_base::units::Units;
use murlo_brewer::journal::{Entry, Sign, What};
use murlo_brewer::{BrewerDraft, Family};
use murlo_store::{Store, StoreError};

const TODAY: Date = date(2026, 11, 23);

fn with_brewers() -> Store {
    let store = Store::in_memory().unwrap();
    for id in ["kiln", "lamp"] {
        store.put(&brewer(id)).unwrap();
    }
    store
}

fn brewer(id: &str) -> murlo_brewer::Brewer {
    let draft = BrewerDraft {
        nickname: id.into(),
        ..BrewerDraft::template(Family::Drip, Units::Us, "home", "well", TODAY)
    };
    draft.check(id.into(), None, TODAY).unwrap()
}

fn entry(id: &str, brewer_id: &str, day: Date, what: What) -> Entry {
    Entry {
        id: id.into(),
        brewer_id: brewer_id.into(),
        day,
        at: None,
        what,
    }
}

fn brewed(cups: f64) -> What {
    What::Brewed { cups }
}

fn ids(entries: &[Entry]) -> Vec<&str> {
    entries.iter().map(|e| e.id.as_str()).collect()
}

#[test]
fn an_entry_sent_twice_counts_once_and_another_under_its_id_is_refused() {
    let mut store = with_brewers();
    let slow = |potential_mg| What::Sign {
        circuit_id: "main".into(),
        sign: Sign::Slow,
        dated: true,
        potential_mg,
    };
    store
        .add_entry(&entry("s", "kiln", TODAY, slow(Some(900.0))))
        .unwrap();
    store
        .add_entry(&entry("s", "kiln", TODAY, slow(Some(901.0))))
        .expect("the same sign, weighed anew");
    assert_eq!(store.entries_of("kiln").unwrap().len(), 1);
    for other in [
        entry("s", "lamp", TODAY, slow(None)),
        entry("s", "kiln", date(2026, 11, 1), slow(None)),
        entry("s", "kiln", TODAY, brewed(1.0)),
    ] {
        assert!(matches!(
            store.add_entry(&other),
            Err(StoreError::Conflict(_))
        ));
    }
    assert!(store.entries_of("lamp").unwrap().is_empty());
}

#[test]
fn an_entry_is_taken_back_and_brought_back_by_its_own_brewer_only() {
    let mut store = with_brewers();
    store
        .add_entry(&entry("b", "kiln", TODAY, brewed(2.0)))
        .unwrap();
    assert!(matches!(
        store.archive_entry("lamp", "b", true),
        Err(StoreError::NotFound { .. })
    ));
    store.archive_entry("kiln", "b", true).unwrap();
    assert!(store.entries_of("kiln").unwrap().is_empty());
    assert!(store.export().unwrap().journal[0].archived);
    store.archive_entry("kiln", "b", false).unwrap();
    assert_eq!(ids(&store.entries_of("kiln").unwrap()), ["b"]);
}

#[test]
fn counts_are_brought_in_whole_or_not_at_all() {
    let mut store = with_brewers();
    store
        .add_entry(&entry("x", "lamp", TODAY, brewed(1.0)))
        .unwrap();
    let day = |n: i8| date(2026, 11, n);
    let good = entry("d1", "kiln", day(1), brewed(3.0));
    let taken = entry("x", "kiln", day(2), brewed(3.0));
    assert!(store.bring_entries(&[good.clone(), taken]).is_err());
    assert!(store.entries_of("kiln").unwrap().is_empty());
    store.bring_entries(std::slice::from_ref(&good)).unwrap();
    let more = entry("d1", "kiln", day(1), brewed(5.0));
    store.bring_entries(&[more]).unwrap();
    assert_eq!(store.entries_of("kiln").unwrap()[0].what, brewed(5.0));
}

#[test]
fn overviews_read_what_lasts_and_brews_are_read_by_brewer() {
    let mut store = with_brewers();
    for (id, day, what) in [
        ("old-brew", date(2024, 1, 1), brewed(1.0)),
        ("old-filter", date(2024, 1, 1), What::FilterFitted),
        ("new-brew", TODAY, brewed(1.0)),
        ("gone", TODAY, What::NeedlesCleared),
    ] {
        store.add_entry(&entry(id, "kiln", day, what)).unwrap();
    }
    store.archive_entry("kiln", "gone", true).unwrap();
    let read = store.lasting_entries().unwrap();
    assert_eq!(ids(&read), ["old-filter"]);
    let brews = store.brews_of("kiln").unwrap();
    assert_eq!(ids(&brews), ["old-brew", "new-brew"]);
    assert!(store.brews_of("lamp").unwrap().is_empty());
    assert_eq!(store.entries_of("kiln").unwrap().len(), 3);
}

#[test]
fn what_is_remembered_of_brews_follows_every_change() {
    let mut store = with_brewers();
    let logged = |store: &Store| {
        let brewers = ["kiln".to_owned()].into_iter();
        let read = |id: &str| store.brews_of(id);
        let all = store.memory().logged(brewers, read).unwrap();
        all["kiln"].as_ref().clone()
    };
    let none = logged(&store);
    store
        .add_entry(&entry("b", "kiln", TODAY, brewed(2.0)))
        .unwrap();
    let one = logged(&store);
    assert_ne!(one, none);
    store.archive_entry("kiln", "b", true).unwrap();
    assert_eq!(logged(&store), none);
    store.archive_entry("kiln", "b", false).unwrap();
    assert_eq!(logged(&store), one);
    store
        .add_entry(&entry("l", "lamp", TODAY, brewed(9.0)))
        .unwrap();
    assert_eq!(logged(&store), one);
}

#[test]
fn a_file_from_before_the_journal_is_backed_up_and_brought_up_to_date() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("home.db");
    let old = rusqlite::Connection::open(&path).unwrap();
    old.execute_batch(include_str!("../../migrations/0001_facts.sql"))
        .unwrap();
    old.pragma_update(None, "user_version", 1).unwrap();
    let body = serde_json::to_string(&brewer("kiln")).unwrap();
    old.execute("INSERT INTO brewers (id, body) VALUES ('kiln', ?1)", [body])
        .unwrap();
    drop(old);
    let mut store = Store::open(&path).unwrap();
    store
        .add_entry(&entry("b", "kiln", TODAY, brewed(2.0)))
        .unwrap();
    assert_eq!(store.check().unwrap(), "ok");
    assert!(
        folder
            .path()
            .join("home.db.backups/before-migration-from-1.db")
            .exists()
    );
}

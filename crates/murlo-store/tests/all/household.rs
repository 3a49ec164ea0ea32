//! Real SQLite files: what is acknowledged stays, travels whole, and is never half changed.

use jiff::Timestamp;
use jiff::civil::date;
use murlo_base::units::{HardnessUnit, Units};
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::journal::{Entry, What};
use murlo_brewer::water::{Chemistry, Reading, Water, Waters};
use murlo_brewer::{BrewerDraft, Family};
use murlo_chalk::money::Terms;
use murlo_chalk::scale::{Growth, Known, Start};
use murlo_clean::{Act, Event, admit};
use murlo_household::{Household, PastClean, Photo, PhotoOf, Shows, VERSION};
use murlo_plan::{Facts, Moment, Plan, PlanOptions, Today, Wish};
use murlo_store::{Store, StoreError};

const TODAY: jiff::civil::Date = date(2026, 11, 23);

/// Its first marker, an empty frame, an empty scan, its last marker.
const SMALLEST_JPEG: [u8; 12] = [0xFF, 0xD8, 0xFF, 0xC0, 0, 2, 0xFF, 0xDA, 0, 2, 0xFF, 0xD9];

fn filled(store: &mut Store) -> Plan {
    let home = Home::named("home", "Pottery studio");
    let reading = Reading::Strip {
        value: 14.0,
        unit: HardnessUnit::German,
    };
    let water = Water {
        id: "well".into(),
        name: "Cottage well".into(),
        reading: reading.clone(),
        price_a_litre: None,
    };
    let draft = BrewerDraft {
        nickname: "Kiln drip".into(),
        ..BrewerDraft::template(Family::Drip, Units::Us, "home", "well", TODAY)
    };
    let brewer = draft.check("kiln".into(), None, TODAY).unwrap();
    store.put(&home).unwrap();
    store.put(&water).unwrap();
    store.put(&brewer).unwrap();
    store
        .put(&PastClean {
            id: "p1".into(),
            brewer_id: "kiln".into(),
            day: TODAY,
            note: "by hand".into(),
            bathed: std::collections::BTreeMap::new(),
        })
        .unwrap();
    store
        .add_entry(&Entry {
            id: "j1".into(),
            brewer_id: "kiln".into(),
            day: TODAY,
            at: None,
            what: What::Brewed { cups: 2.0 },
        })
        .unwrap();
    let agents = Agent::starters();
    agents.iter().for_each(|a| store.put(a).unwrap());
    let chemistry = Chemistry::of(&reading, &Waters::new()).unwrap();
    let circuit = &brewer.circuits[0];
    let forecast = Growth::new(Known {
        brewer: &brewer,
        circuit,
        waters: &[chemistry],
        start: Start::new(TODAY),
        cleans: &[],
        entries: &[],
        logged: None,
        recall: None,
        today: TODAY,
    })
    .forecast(Units::Us);
    Facts {
        brewer: &brewer,
        circuit,
        forecast: &forecast,
        agents: &agents,
        units: Units::Us,
        terms: &Terms::default(),
        today: Today::default(),
    }
    .plan(&PlanOptions::default())
    .unwrap()
}

fn event(id: &str, act: Act) -> Event {
    Event {
        id: id.into(),
        at: Timestamp::UNIX_EPOCH,
        device_at: None,
        by: None,
        act,
    }
}

fn done(step: &str) -> Act {
    Act::Done { step: step.into() }
}

fn send(store: &mut Store, clean: &str, event: Event) -> Result<usize, StoreError> {
    let taken = store.append_event(clean, &event.clone(), |record| {
        let planner = |_: &Moment, _: &Wish| unreachable!("nothing more is wished for");
        admit(&record.plan, &record.events, event, TODAY, &planner).map(|(event, _)| event)
    });
    taken.map(|record| record.events.len())
}

#[test]
fn a_repeated_event_is_harmless_and_a_wrong_one_changes_nothing() {
    let mut store = Store::in_memory().unwrap();
    let plan = filled(&mut store);
    store.start_clean("c1", &plan).unwrap();
    store.start_clean("c1", &plan).unwrap();
    assert_eq!(
        send(&mut store, "c1", event("e1", done("baseline"))).unwrap(),
        1
    );
    assert_eq!(
        send(&mut store, "c1", event("e1", done("baseline"))).unwrap(),
        1
    );
    assert!(matches!(
        send(&mut store, "c1", event("e1", done("parts"))),
        Err(StoreError::Conflict(_))
    ));
    assert!(matches!(
        send(&mut store, "c1", event("e2", done("rinse"))),
        Err(StoreError::Conflict(_))
    ));
    assert!(matches!(
        send(&mut store, "nowhere", event("e3", done("baseline"))),
        Err(StoreError::NotFound { .. })
    ));
    assert!(
        matches!(store.start_clean("c2", &plan), Err(StoreError::Conflict(_))),
        "one clean at a time on a brewer"
    );
    assert_eq!(store.clean("c1").unwrap().events.len(), 1);
}

#[test]
fn acknowledged_facts_are_there_after_opening_the_file_again() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("home.db");
    let mut store = Store::open(&path).unwrap();
    let plan = filled(&mut store);
    store.start_clean("c1", &plan).unwrap();
    send(&mut store, "c1", event("e1", done("baseline"))).unwrap();
    // Forgotten, not closed: what a killed process leaves.
    std::mem::forget(store);
    let again = Store::open(&path).unwrap();
    assert_eq!(again.clean("c1").unwrap().events[0].act, done("baseline"));
    assert_eq!(again.check().unwrap(), "ok");
}

#[test]
fn an_export_comes_back_byte_for_byte_and_never_overwrites_unasked() {
    let mut store = Store::in_memory().unwrap();
    let plan = filled(&mut store);
    store.start_clean("c1", &plan).unwrap();
    send(&mut store, "c1", event("e1", done("baseline"))).unwrap();
    let photo = Photo {
        id: "g1".into(),
        shows: Shows::Glass,
        of: PhotoOf::Clean("c1".into()),
        at: Some(Timestamp::UNIX_EPOCH),
        archived: false,
        jpeg: SMALLEST_JPEG.to_vec(),
    };
    store.keep_photo(&photo).unwrap();
    store.keep_photo(&photo).unwrap();
    let other = Photo {
        jpeg: vec![1],
        ..photo.clone()
    };
    assert!(matches!(
        store.keep_photo(&other),
        Err(StoreError::Conflict(_))
    ));
    let nowhere = Photo {
        id: "g9".into(),
        of: PhotoOf::Clean("c9".into()),
        ..photo
    };
    assert!(matches!(
        store.keep_photo(&nowhere),
        Err(StoreError::NotFound { .. })
    ));
    store.archive::<Home>("home", true).unwrap();
    let json = serde_json::to_string_pretty(&store.export().unwrap()).unwrap();

    let folder = tempfile::tempdir().unwrap();
    let mut other = Store::open(&folder.path().join("b.db")).unwrap();
    let household = Household::read(&json).unwrap();
    other.import(&household, false, TODAY).unwrap();
    assert_eq!(
        serde_json::to_string_pretty(&other.export().unwrap()).unwrap(),
        json
    );
    assert!(matches!(
        other.import(&household, false, TODAY),
        Err(StoreError::Conflict(_))
    ));
    other.import(&household, true, TODAY).unwrap();
    assert!(
        folder
            .path()
            .join("b.db.backups/before-import-2026-11-23.db")
            .exists()
    );
}

#[test]
fn a_foreign_truncated_or_broken_file_is_refused_whole() {
    let mut store = Store::in_memory().unwrap();
    filled(&mut store);
    let json = serde_json::to_string(&store.export().unwrap()).unwrap();
    for (text, part) in [
        (json[..json.len() / 2].to_owned(), "not a whole JSON"),
        ("{\"format\": \"other\"}".to_owned(), "murlo-household"),
        (
            json.replace(
                &format!("\"version\":{VERSION}"),
                &format!("\"version\":{}", VERSION + 1),
            ),
            "versions 1 to ",
        ),
        (
            json.replace("\"home_id\":\"home\"", "\"home_id\":\"gone\""),
            "not in this file",
        ),
        (
            json.replace("\"value\":14.0", "\"value\":4000.0"),
            "hardness",
        ),
    ] {
        let problems = Household::read(&text).unwrap_err();
        assert!(problems.to_string().contains(part), "{problems}");
    }
}

#[test]
fn deleting_is_archiving_and_can_be_undone() {
    let mut store = Store::in_memory().unwrap();
    filled(&mut store);
    store.archive::<Water>("well", true).unwrap();
    assert!(matches!(
        store.get::<Water>("well"),
        Err(StoreError::NotFound { .. })
    ));
    store.archive::<Water>("well", false).unwrap();
    assert_eq!(store.get::<Water>("well").unwrap().name, "Cottage well");
    assert!(matches!(
        store.archive::<Water>("sea", true),
        Err(StoreError::NotFound { .. })
    ));
}

#[test]
fn settings_are_kept_and_start_with_defaults() {
    let store = Store::in_memory().unwrap();
    let mut settings = store.settings().unwrap();
    assert_eq!(
        (settings.units, settings.time_zone.as_str()),
        (Units::Us, "UTC")
    );
    settings.units = Units::Metric;
    settings.time_zone = "Europe/Lisbon".into();
    store.put_settings(&settings).unwrap();
    assert_eq!(store.settings().unwrap(), settings);
}

#[test]
fn a_changed_fact_stays_put_away() {
    let mut store = Store::in_memory().unwrap();
    filled(&mut store);
    store.archive::<Home>("home", true).unwrap();
    store.put(&Home::named("home", "Renamed")).unwrap();
    assert!(store.current::<Home>().unwrap().is_empty());
    assert_eq!(store.all::<Home>().unwrap()[0].fact.name, "Renamed");
}

#[test]
fn a_clean_that_ended_frees_its_brewer_and_opening_it_again_holds_it() {
    let mut store = Store::in_memory().unwrap();
    let plan = filled(&mut store);
    store.start_clean("c1", &plan).unwrap();
    assert!(store.summaries().unwrap()[0].is_running());
    send(&mut store, "c1", event("e1", Act::give_up())).unwrap();
    assert!(!store.summaries().unwrap()[0].is_running());
    store.start_clean("c2", &plan).unwrap();
    send(&mut store, "c2", event("e2", Act::give_up())).unwrap();
    send(&mut store, "c1", event("e3", Act::Reopened)).unwrap();
    let running: Vec<_> = store
        .summaries()
        .unwrap()
        .into_iter()
        .filter(|c| c.is_running())
        .map(|c| c.id)
        .collect();
    assert_eq!(running, ["c1"]);
}

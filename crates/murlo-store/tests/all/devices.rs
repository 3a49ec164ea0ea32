//! Devices that come in, are seen, and are forgotten.

use jiff::civil::date;
use murlo_household::devices::{Device, DeviceKind};
use murlo_store::{KeptDevice, Store, StoreError};

fn device(id: &str, seen_at: i64) -> KeptDevice {
    KeptDevice {
        id: id.to_owned(),
        made_at: 1000,
        seen_at,
        device: Device {
            name: format!("Phone {id}"),
            person: Some("Ola".to_owned()),
            kind: DeviceKind::Full,
        },
    }
}

#[test]
fn a_device_is_known_by_its_token_until_it_is_forgotten_and_can_be_taken_back() {
    let store = Store::in_memory().unwrap();
    let (first, second) = (device("a", 1000), device("b", 2000));
    store.add_device(&first, "hash a").unwrap();
    store.add_device(&second, "hash b").unwrap();
    assert_eq!(store.device("hash a").unwrap(), Some(first));
    assert_eq!(store.device("a").unwrap(), None, "only the token opens");
    let seen = |store: &Store| -> Vec<String> {
        let all = store.devices().unwrap();
        all.into_iter().map(|kept| kept.id).collect()
    };
    assert_eq!(seen(&store), ["b", "a"], "the last seen first");
    store.saw_device("a", 3000).unwrap();
    assert_eq!(seen(&store), ["a", "b"]);
    store.forget_device("a", true).unwrap();
    assert_eq!(store.device("hash a").unwrap(), None);
    assert_eq!(seen(&store), ["b"]);
    let other = device("b", 0).device;
    assert!(matches!(
        store.alter_device("a", &other),
        Err(StoreError::NotFound { .. })
    ));
    store.forget_device("a", false).unwrap();
    assert!(store.device("hash a").unwrap().is_some());
    assert!(matches!(
        store.forget_device("c", true),
        Err(StoreError::NotFound { .. })
    ));
}

#[test]
fn a_device_is_called_otherwise() {
    let store = Store::in_memory().unwrap();
    store.add_device(&device("a", 0), "hash").unwrap();
    let named = Device {
        name: "Tablet".to_owned(),
        person: None,
        kind: DeviceKind::Helper,
    };
    store.alter_device("a", &named).unwrap();
    assert_eq!(store.device("hash").unwrap().unwrap().device, named);
}

#[test]
fn a_code_takes_one_device_in_and_not_for_long() {
    let store = Store::in_memory().unwrap();
    let look = DeviceKind::Look {
        home_id: "pier".to_owned(),
        until: date(2026, 12, 31),
    };
    store.invite("early", 1000, 0, &DeviceKind::Full).unwrap();
    store.invite("late", 1300, 0, &look).unwrap();
    assert_eq!(
        store.invited("early", 1000).unwrap(),
        Some(DeviceKind::Full)
    );
    assert_eq!(
        store.invited("early", 1001).unwrap(),
        None,
        "its time is over"
    );
    assert_eq!(store.invited("late", 1000).unwrap(), Some(look));
    assert_eq!(store.invited("guessed", 0).unwrap(), None);
    store
        .take_in_device("late", &device("a", 0), "hash a")
        .unwrap();
    assert!(store.device("hash a").unwrap().is_some());
    let again = store.take_in_device("late", &device("b", 0), "hash b");
    assert!(matches!(again, Err(StoreError::NotFound { .. })));
    assert_eq!(store.device("hash b").unwrap(), None, "once is all");
    // A new code sweeps out those that are over.
    store
        .invite("next", 2000, 1001, &DeviceKind::Helper)
        .unwrap();
    assert_eq!(store.invited("early", 0).unwrap(), None);
}

#[test]
fn a_new_passcode_signs_every_device_out() {
    let store = Store::in_memory().unwrap();
    assert_eq!(store.passcode().unwrap(), None);
    store.set_passcode("first").unwrap();
    store.add_device(&device("a", 0), "hash").unwrap();
    store.invite("code", 1000, 0, &DeviceKind::Full).unwrap();
    store.set_passcode("second").unwrap();
    assert_eq!(store.device("hash").unwrap(), None);
    assert_eq!(store.invited("code", 0).unwrap(), None);
    assert_eq!(store.passcode().unwrap().as_deref(), Some("second"));
}

use super::*;
use jiff::civil::{Date, date};
use murlo_base::document::Kept;
use murlo_base::units::Units;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::journal::{Entry, What};
use murlo_brewer::rinse::Taste;
use murlo_brewer::water::{Reading, Water};
use murlo_brewer::{BrewerDraft, Family};

const TODAY: Date = date(2026, 11, 23);

fn kept<T>(fact: T) -> Kept<T> {
    Kept {
        archived: false,
        fact,
    }
}

fn water(id: &str, reading: Reading) -> Kept<Water> {
    kept(Water {
        id: id.into(),
        name: id.into(),
        reading,
        price_a_litre: None,
    })
}

fn strip(value: f64) -> Reading {
    Reading::Strip {
        value,
        unit: murlo_base::units::HardnessUnit::MgPerL,
    }
}

fn half(first: &str, second: &str) -> Reading {
    Reading::Blend {
        first_id: first.into(),
        second_id: second.into(),
        share_first: 0.5,
    }
}

fn household() -> Household {
    let draft = BrewerDraft {
        nickname: "Kiln drip".into(),
        filter: true,
        ..BrewerDraft::template(Family::PodReservoir, Units::Us, "home", "half", TODAY)
    };
    Household {
        format: FORMAT.into(),
        version: VERSION,
        settings: Settings::default(),
        homes: vec![kept(Home::named("home", "Pottery studio"))],
        waters: vec![
            water("half", half("hard", "soft")),
            water("hard", strip(300.0)),
            water("soft", strip(30.0)),
        ],
        agents: Agent::starters().into_iter().map(kept).collect(),
        brewers: vec![kept(draft.check("kiln".into(), None, TODAY).unwrap())],
        past_cleans: Vec::new(),
        journal: vec![kept(Entry {
            id: "f".into(),
            brewer_id: "kiln".into(),
            day: TODAY,
            at: None,
            what: What::Counter { brews: 40.0 },
        })],
        supplies: Vec::new(),
        movements: Vec::new(),
        visits: Vec::new(),
        ways: Vec::new(),
        over_days: Vec::new(),
        cleans: Vec::new(),
        photos: Vec::new(),
    }
}

/// Where the one thing is wrong that `change` breaks.
fn refused(change: impl FnOnce(&mut Household)) -> String {
    let mut household = household();
    change(&mut household);
    let json = serde_json::to_string(&household).unwrap();
    let problems = Household::read(&json).unwrap_err();
    assert_eq!(problems.0.len(), 1, "{problems}");
    problems.0[0].field.clone()
}

#[test]
fn a_whole_household_reads_back_as_it_was() {
    let household = household();
    let json = serde_json::to_string(&household).unwrap();
    assert_eq!(Household::read(&json).unwrap(), household);
}

#[test]
fn a_document_without_a_journal_is_still_read() {
    let mut json = serde_json::to_value(household()).unwrap();
    json.as_object_mut().unwrap().remove("journal");
    assert!(
        Household::read(&json.to_string())
            .unwrap()
            .journal
            .is_empty()
    );
}

#[test]
fn every_broken_reference_and_figure_is_named_by_its_place() {
    assert!(Household::read(&serde_json::to_string(&household()).unwrap()).is_ok());
    assert_eq!(
        refused(|h| h.journal[0].fact.brewer_id = "gone".into()),
        "journal.f.brewer_id"
    );
    assert_eq!(
        refused(|h| h.journal[0].fact.day = date(2020, 1, 1)),
        "journal.f.day"
    );
    assert_eq!(
        refused(|h| h.waters[0].fact.reading = half("hard", "gone")),
        "waters.half.reading.second_id"
    );
    assert_eq!(
        refused(|h| h.waters[0].fact.reading = half("half", "soft")),
        "waters.half.reading.first_id"
    );
    assert_eq!(
        refused(|h| h.waters[1].fact.price_a_litre = Some(-1.0)),
        "waters.hard.price_a_litre"
    );
    assert_eq!(
        refused(|h| h.brewers[0].fact.home_id = "gone".into()),
        "brewers.kiln.home_id"
    );
    assert_eq!(
        refused(|h| {
            let filter = h.brewers[0].fact.filter.as_mut().unwrap();
            filter.takes_out = 1.5;
        }),
        "brewers.kiln.filter.takes_out"
    );
    assert_eq!(
        refused(|h| h.brewers[0].fact.policy.days = Some(0)),
        "brewers.kiln.policy.days"
    );
    assert_eq!(
        refused(|h| h.agents[0].fact.on_hand = Some(-5.0)),
        "agents.vinegar.on_hand"
    );
    assert_eq!(
        refused(|h| h.settings.currency = "doubloons".into()),
        "settings.currency"
    );
    assert_eq!(
        refused(|h| h.journal.push(h.journal[0].clone())),
        "journal.id"
    );
}

/// The same household with a running clean on its pod brewer.
fn landed() -> Household {
    let landed = include_str!("../testdata/landed-1.json");
    let landed: serde_json::Value = serde_json::from_str(landed).unwrap();
    Household::read(&landed["export"].to_string()).unwrap()
}

#[test]
fn what_cannot_be_in_a_clean_is_named_by_its_place() {
    let long = "x".repeat(2001);
    type Change<'a> = &'a dyn Fn(&mut Household);
    let changes: [(Change, &str); 14] = [
        (
            &|h| h.cleans[3].events[0].id = h.cleans[2].events[0].id.clone(),
            "cleans.events.id",
        ),
        (
            &|h| {
                let mut again = h.cleans[1].clone();
                again.id = "again".into();
                again.events.truncate(1);
                again.events[0].id = "again-0".into();
                h.cleans.push(again);
            },
            "cleans.again.events",
        ),
        (
            &|h| h.cleans[0].events[0].at = "9999-12-30T00:00:00Z".parse().unwrap(),
            "cleans.demo-finished.events.demo-finished-0.at",
        ),
        (
            &|h| h.cleans[0].events[3].at = "1971-01-01T00:00:00Z".parse().unwrap(),
            "cleans.demo-finished.events",
        ),
        (
            &|h| h.cleans[0].plan.soak.minutes = 2881.0,
            "cleans.demo-finished.plan.soak.minutes",
        ),
        (
            &|h| h.cleans[0].plan.soak.low = -1e308,
            "cleans.demo-finished.plan.soak.low",
        ),
        (
            &|h| h.cleans[0].plan.rinse.portions = 2001,
            "cleans.demo-finished.plan.rinse.portions",
        ),
        (
            &|h| h.cleans[0].plan.rinse.keeps = 1.01,
            "cleans.demo-finished.plan.rinse.keeps",
        ),
        (
            &|h| h.cleans[0].plan.steps.clear(),
            "cleans.demo-finished.plan.steps",
        ),
        (
            &|h| h.cleans[0].plan.steps[1].id = h.cleans[0].plan.steps[0].id.clone(),
            "cleans.demo-finished.plan.steps.ready",
        ),
        (
            &|h| h.cleans[0].plan.steps[0].hands_free_min = 6e8,
            "cleans.demo-finished.plan.steps.ready.hands_free_min",
        ),
        (
            &|h| h.past_cleans[0].fact.note.clone_from(&long),
            "past_cleans.told-01.note",
        ),
        (
            &|h| {
                h.photos.push(Photo {
                    id: "p".into(),
                    shows: Shows::Glass,
                    of: PhotoOf::Clean("demo-finished".into()),
                    at: None,
                    archived: false,
                    jpeg: b"<html></html>".to_vec(),
                });
            },
            "photos.p.jpeg",
        ),
        (
            &|h| h.agents[0].fact.offers[0].amount = 5e-324,
            "agents.bottled.offers.0.amount",
        ),
    ];
    for (change, field) in changes {
        let mut household = landed();
        change(&mut household);
        let problems = household.check().unwrap_err();
        assert_eq!(problems.0[0].field, field, "{problems}");
    }
}

#[test]
fn a_household_rinses_for_its_keenest_nose() {
    let named = |names: &[&str]| Settings {
        noses: names.iter().map(|n| (*n).to_owned()).collect(),
        ..Settings::default()
    };
    assert_eq!(named(&[]).rinses_for(), Taste::Usual);
    assert_eq!(named(&["Ana"]).rinses_for(), Taste::Strict);
    let strict = Settings {
        taste: Taste::Strict,
        ..Settings::default()
    };
    assert_eq!(strict.rinses_for(), Taste::Strict);
    for (settings, is_fine) in [
        (named(&["Ana"; 12]), true),
        (named(&["Ana"; 13]), false),
        (named(&[" "]), false),
    ] {
        let checked = settings.check();
        assert_eq!(checked.is_ok(), is_fine, "{checked:?}");
    }
}

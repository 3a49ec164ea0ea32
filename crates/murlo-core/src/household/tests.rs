use super::*;
use crate::brewer::{BrewerDraft, Family};
use crate::journal::What;
use crate::water::Reading;
use jiff::civil::date;

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
        unit: crate::units::HardnessUnit::MgPerL,
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
        homes: vec![kept(Home {
            id: "home".into(),
            name: "Pottery studio".into(),
        })],
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
            what: What::FilterFitted,
        })],
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

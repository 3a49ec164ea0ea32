//! Every member of every table reaches the API and the calendar: an addition that stops half way fails here.

use crate::kit::{Server, day, with_family};
use murlo_brewer::bath::AgentForm;
use murlo_brewer::job::Job;
use murlo_brewer::{Family, ReaderWindow};
use murlo_chemistry::acid::Acid;
use murlo_household::stock::SupplyKind;
use serde_json::{Value, json};
use std::collections::BTreeSet;

#[tokio::test]
async fn every_choice_is_offered_once_and_in_words() {
    let server = Server::start().await;
    let choices = server.ask("GET", "/api/choices", Value::Null).await.body;
    for (list, members) in [
        ("forms", AgentForm::KINDS.len()),
        ("acids", Acid::ALL.len()),
        ("supplies", SupplyKind::ALL.len()),
        ("readers", ReaderWindow::ALL.len()),
    ] {
        let offered = choices[list].as_array().unwrap();
        let told = |field: &str| -> BTreeSet<&str> {
            let words = offered.iter().map(|one| one[field].as_str().unwrap());
            words.filter(|word| !word.is_empty()).collect()
        };
        assert_eq!(
            (told("id").len(), told("words").len()),
            (members, members),
            "{list}"
        );
    }
    let families = server.ask("GET", "/api/families", Value::Null).await.body;
    assert_eq!(families.as_array().map(Vec::len), Some(Family::ALL.len()));
}

#[tokio::test]
async fn every_family_and_each_of_its_works_comes_into_the_calendar() {
    let server = Server::start().await;
    let reading = json!({"by": "strip", "value": 12.0, "unit": "gpg"});
    let water = json!({"name": "Harbour mains", "reading": reading});
    let water = server.ask("POST", "/api/waters", water).await.body["id"].clone();
    let mut works = BTreeSet::new();
    for n in 0..Family::ALL.len() {
        let id = with_family(&server, n, &water).await;
        // Fresh water is asked for after days away.
        let away = json!({"kind": "away", "until": day(2)});
        let away = json!({"id": format!("away-{n}"), "day": day(12), "what": away});
        let journal = format!("/api/brewers/{id}/journal");
        assert_eq!(server.ask("POST", &journal, away).await.status, 200);
        let page = server
            .ask("GET", &format!("/api/brewers/{id}"), Value::Null)
            .await
            .body;
        let calendar = server
            .text("/api/calendar.ics")
            .await
            .1
            .replace("\r\n ", "");
        for circuit in page["card"]["circuits"].as_array().unwrap() {
            let uid = format!(
                "UID:due-{id}-{}@murlo",
                circuit["circuit_id"].as_str().unwrap()
            );
            assert!(calendar.contains(&uid), "{uid}");
        }
        for work in page["card"]["upkeep"].as_array().unwrap() {
            let job = work["job"].as_str().unwrap();
            assert!(!work["name"].as_str().unwrap().is_empty(), "{job}");
            works.insert(job.to_owned());
            let shown = work["is_due"] == true || work["keeps_running"] == true;
            let key = Job::ALL.iter().find(|known| json!(known) == job);
            let key = key.expect("a work that is known").key();
            let uid = format!("UID:work-{id}-{key}@murlo");
            let has_day = !work["due"].is_null();
            assert_eq!(calendar.contains(&uid), shown && has_day, "{uid}");
        }
    }
    let all = Job::ALL
        .iter()
        .map(|job| json!(job).as_str().unwrap().to_owned());
    let all: BTreeSet<_> = all.collect();
    assert_eq!(works, all, "no usual brewer has the others");
}

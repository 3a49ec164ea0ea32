use super::*;
use murlo_clean::Event;

/// Households with homes, visits, photos and cleans, as earlier versions wrote them.
fn landed() -> Vec<Household> {
    let each = [
        include_str!("../../testdata/landed-1.json"),
        include_str!("../../testdata/landed-3.json"),
        include_str!("../../testdata/landed-5.json"),
    ];
    let read = |text| {
        let landed: serde_json::Value = serde_json::from_str(text).unwrap();
        Household::read(&landed["export"].to_string()).unwrap()
    };
    each.into_iter().map(read).collect()
}

fn as_text(household: &Household) -> String {
    serde_json::to_string(household).unwrap()
}

/// Whether `word` stands there as a whole string or id.
fn names(text: &str, word: &str) -> bool {
    text.contains(&format!("\"{word}\"")) || text.contains(&format!("\"{word}-"))
}

#[test]
fn of_a_home_nothing_is_left_and_of_the_others_everything() {
    let mut erased = 0;
    for whole in landed() {
        for home in &whole.homes {
            let what = Erased::Home {
                id: home.fact.id.clone(),
            };
            let mut left = whole.clone();
            let count = left.erase(&what);
            assert_eq!(count.homes, 1);
            let text = as_text(&left);
            let here = whole.brewers_of(&home.fact.id);
            assert_eq!(count.brewers, here.len());
            let of_home = ["home_id", "home"].map(|field| (field, &home.fact.id));
            for (field, id) in here.iter().map(|id| ("brewer_id", id)).chain(of_home) {
                let said = format!("\"{field}\":\"{id}\"");
                assert!(
                    !text.contains(&said),
                    "{said} is left of {}",
                    home.fact.name
                );
            }
            for brewer in whole
                .brewers
                .iter()
                .filter(|kept| here.contains(&kept.fact.id))
            {
                assert!(
                    !text.contains(&brewer.fact.nickname),
                    "{}",
                    brewer.fact.nickname
                );
            }
            if left.homes.is_empty() {
                continue;
            }
            left.check().unwrap();
            assert!(left.erase(&what).is_nothing(), "it is gone already");
            let others = |all: &Household| {
                let all = all
                    .cleans
                    .iter()
                    .filter(|record| !here.contains(&record.plan.brewer_id));
                all.cloned().collect::<Vec<_>>()
            };
            assert_eq!(left.cleans, others(&whole));
            assert_eq!(
                count.cleans,
                whole.cleans.len() - left.cleans.len() + whole.past_cleans.len()
                    - left.past_cleans.len()
            );
            assert_eq!(left.agents, whole.agents);
            erased += 1;
        }
    }
    assert!(erased > 6, "{erased}");
}

#[test]
fn a_visit_to_two_homes_keeps_the_other() {
    let mut household = landed().remove(2);
    let (two, first) = household
        .visits
        .iter()
        .find_map(|kept| {
            let homes: HashSet<&String> = kept
                .fact
                .stops
                .iter()
                .filter_map(|stop| {
                    let mut all = household.brewers.iter();
                    Some(
                        &all.find(|brewer| brewer.fact.id == stop.brewer_id)?
                            .fact
                            .home_id,
                    )
                })
                .chain(kept.fact.rooms.iter().map(|room| &room.home_id))
                .collect();
            (homes.len() > 1)
                .then(|| (kept.fact.id.clone(), (*homes.iter().min().unwrap()).clone()))
        })
        .expect("a visit to two homes");
    let before = household.visits.len();
    household.erase(&Erased::Home { id: first });
    let kept = household
        .visits
        .iter()
        .find(|kept| kept.fact.id == two)
        .expect("it is still there");
    assert!(!kept.fact.stops.is_empty() || !kept.fact.rooms.is_empty());
    assert!(household.visits.len() <= before);
    household.check().unwrap();
}

#[test]
fn a_photo_a_note_and_a_name_leave_nothing() {
    let mut household = landed().remove(1);
    let photo = household.photos[0].id.clone();
    assert!(names(&as_text(&household), &photo));
    let what = Erased::Photo { id: photo.clone() };
    assert_eq!(household.erase(&what).photos, 1);
    assert!(!names(&as_text(&household), &photo));
    household.check().unwrap();

    let record = &mut household.cleans[0];
    let (clean_id, at) = (record.id.clone(), record.events[0].at);
    let noted = Event {
        id: "noted".to_owned(),
        at,
        device_at: None,
        by: Some("Ola".to_owned()),
        act: Act::Noted {
            text: "The key is under the pot".to_owned(),
        },
    };
    record.events.insert(1, noted);
    let of = NoteOf::Clean { clean_id, at };
    let note = Erased::Note { of };
    assert_eq!(household.erase(&note).notes, 1);
    assert!(household.erase(&note).is_nothing(), "once is all");
    assert!(!as_text(&household).contains("under the pot"));
    household.settings.noses = vec!["Ola".to_owned(), "Ana".to_owned()];
    let person = Erased::Person {
        name: "Ola".to_owned(),
    };
    assert_eq!(household.erase(&person).names, 2);
    assert!(!as_text(&household).contains("Ola") && as_text(&household).contains("Ana"));

    let home = &mut household.homes[0].fact;
    home.access = "Under the pot".to_owned();
    home.mail = "ola@pier.example".to_owned();
    let id = home.id.clone();
    let known = Erased::Note {
        of: NoteOf::Home { id },
    };
    assert_eq!(household.erase(&known).notes, 1);
    let text = as_text(&household);
    assert!(!text.contains("Under the pot") && !text.contains("ola@pier"));
    let visit = household
        .visits
        .iter_mut()
        .find(|kept| !kept.fact.note.is_empty());
    let visit = &visit.expect("a visit with a note").fact;
    let (id, words) = (visit.id.clone(), visit.note.clone());
    household.erase(&Erased::Note {
        of: NoteOf::Visit { id },
    });
    assert!(!as_text(&household).contains(&words));
    let id = household.past_cleans[0].fact.id.clone();
    let told = Erased::Note {
        of: NoteOf::PastClean { id },
    };
    assert_eq!(
        (household.erase(&told).notes, household.erase(&told).notes),
        (1, 0)
    );
    household.check().unwrap();
}

#[test]
fn the_only_home_and_one_with_a_running_clean_stay() {
    let household = landed().remove(2);
    let running = household.cleans.iter().find(|record| {
        murlo_clean::replay(&record.plan, &record.events)
            .unwrap()
            .closed
            .is_none()
    });
    let brewer = &running.expect("a clean that runs").plan.brewer_id;
    let home = &household
        .brewers
        .iter()
        .find(|kept| kept.fact.id == *brewer)
        .unwrap()
        .fact
        .home_id;
    let erase = |id: &String| Erased::Home { id: id.clone() };
    let refused = household.may_erase(&erase(home)).unwrap_err();
    assert!(refused.message.contains("running"), "{refused}");
    let other = household
        .homes
        .iter()
        .find(|kept| kept.fact.id != *home)
        .unwrap();
    household.may_erase(&erase(&other.fact.id)).unwrap();
    let mut alone = household.clone();
    alone.homes.retain(|kept| kept.fact.id == other.fact.id);
    let refused = alone.may_erase(&erase(&other.fact.id)).unwrap_err();
    assert!(refused.message.contains("only home"), "{refused}");
    let person = Erased::Person {
        name: "Ola".to_owned(),
    };
    alone.may_erase(&person).unwrap();
}

#[test]
fn what_goes_is_counted_in_words() {
    let count = ErasedCount {
        homes: 1,
        brewers: 2,
        photos: 1,
        ..ErasedCount::default()
    };
    assert_eq!(count.said(), "1 home, 2 brewers and 1 photo");
    assert!(!count.is_nothing() && ErasedCount::default().is_nothing());
}

//! What visits moved to another day, until a visit takes it up.

use super::{RoomStop, Stop, Visit};
use jiff::civil::Date;

/// Something that was not done and has another day.
#[derive(Debug, Clone, PartialEq)]
pub struct MovedStop {
    /// What.
    pub what: MovedWhat,
    /// The day of the visit that did not do it.
    pub from: Date,
    /// The day it is moved to.
    pub to: Date,
}

/// A brewer or a room that was moved.
#[derive(Debug, Clone, PartialEq)]
pub enum MovedWhat {
    /// A brewer's.
    Stop(Stop),
    /// A room.
    Room(RoomStop),
}

impl MovedStop {
    /// Its name within a visit.
    #[must_use]
    pub fn id(&self) -> &str {
        match &self.what {
            MovedWhat::Stop(stop) => &stop.id,
            MovedWhat::Room(room) => &room.id,
        }
    }
}

/// What was moved and stands in no later visit, the nearest day first.
#[must_use]
pub fn moved(visits: &[Visit]) -> Vec<MovedStop> {
    let courses: Vec<_> = visits
        .iter()
        .map(|visit| (visit, visit.course().unwrap_or_default()))
        .collect();
    let is_taken_up = |id: &str, from: &Visit| {
        courses.iter().any(|(visit, course)| {
            let mut stops = visit.all_stops(course).map(|stop| &stop.id);
            let mut rooms = visit.all_rooms(course).map(|room| &room.id);
            visit.day > from.day
                && (stops.any(|other| other == id) || rooms.any(|other| other == id))
        })
    };
    let mut all = Vec::new();
    for (visit, course) in &courses {
        let days = course
            .dropped
            .iter()
            .filter_map(|(id, day)| Some((id, (*day)?)));
        for (id, to) in days.filter(|(id, _)| !is_taken_up(id, visit)) {
            let mut stops = visit.stops.iter().chain(&course.added);
            let stop = stops.find(|stop| stop.id == *id);
            let room = visit.rooms.iter().find(|room| room.id == *id);
            let what = stop
                .cloned()
                .map(MovedWhat::Stop)
                .or_else(|| room.cloned().map(MovedWhat::Room));
            all.extend(what.map(|what| MovedStop {
                what,
                from: visit.day,
                to,
            }));
        }
    }
    // MovedStop once more, only the last day counts.
    all.sort_by(|a, b| (a.id(), b.from).cmp(&(b.id(), a.from)));
    all.dedup_by(|later, first| later.id() == first.id());
    all.sort_by(|a, b| (a.to, a.id()).cmp(&(b.to, b.id())));
    all
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::rounds::tests::{room, visit};
    use crate::rounds::{Bill, LeftStop, VisitEvent, VisitWhat};
    use jiff::civil::date;
    use jiff::{SignedDuration, Timestamp};

    fn ran(id: &str, day: Date, whats: Vec<VisitWhat>) -> Visit {
        let planned = Visit {
            id: id.to_owned(),
            day,
            ..visit(&["pod", "drip"], vec![room("bath", "h", 12)])
        };
        whats
            .into_iter()
            .enumerate()
            .fold(planned, |visit, (n, what)| {
                let at = Timestamp::UNIX_EPOCH + SignedDuration::from_secs(n as i64);
                let id = format!("e{n}");
                visit
                    .admit(VisitEvent {
                        id,
                        at,
                        by: None,
                        what,
                    })
                    .unwrap()
            })
    }

    fn left(id: &str, day: Option<Date>) -> LeftStop {
        LeftStop {
            id: id.to_owned(),
            day,
            inside: false,
        }
    }

    fn told(visits: &[Visit]) -> Vec<(String, Date)> {
        let all = moved(visits);
        all.iter()
            .map(|one| (one.id().to_owned(), one.to))
            .collect()
    }

    #[test]
    fn what_was_moved_waits_until_a_later_visit_has_it() {
        let (first, third, fifth) = (date(2026, 3, 1), date(2026, 3, 3), date(2026, 3, 5));
        let closed = |left: Vec<LeftStop>| VisitWhat::Closed {
            bill: Some(Bill::default()),
            left,
        };
        let from = ran(
            "a",
            first,
            vec![
                VisitWhat::Started,
                VisitWhat::Dropped {
                    id: "pod".into(),
                    day: Some(third),
                },
                closed(vec![left("drip", None), left("bath", Some(fifth))]),
            ],
        );
        let two = [("pod".to_owned(), third), ("bath".to_owned(), fifth)];
        assert_eq!(told(std::slice::from_ref(&from)), two);
        // A visit before it, or of the same day, does not take it up; one after it does.
        for (day, expected) in [(first, &two[..]), (date(2026, 3, 2), &[])] {
            let other = ran("b", day, Vec::new());
            assert_eq!(told(&[from.clone(), other]), expected, "{day}");
        }
        // One that left it once more moves it on.
        let again = ran(
            "c",
            third,
            vec![
                VisitWhat::Started,
                closed(vec![
                    left("pod", Some(fifth)),
                    left("drip", None),
                    left("bath", None),
                ]),
            ],
        );
        assert_eq!(
            told(&[from, again]),
            [("bath".to_owned(), fifth), ("pod".to_owned(), fifth)]
        );
    }
}

//! The homes of a household as its round sees them: who stands where, when somebody came, what stands against a day.

use super::{Visit, VisitCourse, VisitStage, next_after};
use jiff::civil::{Date, Time};
use murlo_base::days::days_after;
use murlo_base::problem::{Code, Problem};
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::home::{DaysOff, Home};
use serde::Serialize;
use std::collections::{BTreeSet, HashMap};

/// Homes, what stands in them, and every visit to them.
#[derive(Clone, Copy)]
pub struct KnownPlaces<'a> {
    /// Homes, in the order in which the household has them.
    pub homes: &'a [Home],
    /// Brewers by id.
    pub brewers: &'a HashMap<String, Brewer>,
    /// Visits.
    pub visits: &'a [Visit],
    /// Days on which one goes nowhere.
    pub off: &'a [DaysOff],
}

/// So far one looks for the next time of a rhythm, days.
const LOOKS_DAYS: i32 = 190;

/// How days and times are told.
#[derive(Clone, Copy)]
pub struct Telling {
    /// The household's day.
    pub today: Date,
    /// Whether its clock has 12 hours.
    pub has_12_hours: bool,
}

impl<'a> KnownPlaces<'a> {
    fn home_of(self, brewer_id: &str) -> Option<&'a str> {
        self.brewers
            .get(brewer_id)
            .map(|brewer| brewer.home_id.as_str())
    }

    /// The name of a home; empty where there is none.
    #[must_use]
    pub fn name_of(self, home_id: &str) -> String {
        let home = self.homes.iter().find(|home| home.id == home_id);
        home.map_or_else(String::new, |home| home.name.clone())
    }

    /// Names by id.
    #[must_use]
    pub fn names(self) -> HashMap<String, String> {
        let homes = self.homes.iter();
        homes
            .map(|home| (home.id.clone(), home.name.clone()))
            .collect()
    }

    /// The homes of a visit in the order in which they are gone to: as it was said, then by the hours that guests leave, then as the
    /// household has them.
    #[must_use]
    pub fn of(self, visit: &Visit, course: &VisitCourse) -> Vec<&'a Home> {
        let stops = visit.all_stops(course);
        let mut ids: Vec<&str> = stops
            .filter_map(|stop| self.home_of(&stop.brewer_id))
            .collect();
        ids.extend(visit.rooms.iter().map(|room| room.home_id.as_str()));
        let here = |home: &&Home| ids.contains(&home.id.as_str());
        let mut homes: Vec<&Home> = self.homes.iter().filter(here).collect();
        homes.sort_by_key(|home| {
            let said = visit.homes.iter().position(|id| *id == home.id);
            let hours = hours_in(&[home], visit.day);
            (
                said.unwrap_or(usize::MAX),
                hours.from,
                hours.until.unwrap_or(Time::MAX),
            )
        });
        homes
    }

    /// "Lamp keeper's cottage, Own kitchen".
    #[must_use]
    pub fn text_of(self, visit: &Visit, course: &VisitCourse) -> String {
        let homes = self.of(visit, course);
        let names: Vec<&str> = homes.iter().map(|home| home.name.as_str()).collect();
        names.join(", ")
    }

    /// When one comes again after a visit to these homes: by their rhythm, or by the times at which one came before.
    #[must_use]
    pub fn next(self, homes: &[String], day: Date) -> Date {
        let (from, until) = (days_after(day, 1), days_after(day, LOOKS_DAYS));
        let asked = self.homes.iter().filter(|home| homes.contains(&home.id));
        let by_rhythm = asked.filter_map(|home| {
            let times = home
                .coming
                .between(home.guests.as_ref(), self.off, from, until);
            let mut times = times.into_iter().filter(|one| !one.is_off);
            times.next().map(|one| one.on)
        });
        if let Some(next) = by_rhythm.min() {
            return next;
        }
        let is_here = |visit: &&Visit| {
            let mut rooms = visit.rooms.iter();
            let mut stops = visit
                .stops
                .iter()
                .filter_map(|stop| self.home_of(&stop.brewer_id));
            rooms.any(|room| homes.contains(&room.home_id))
                || stops.any(|home| homes.iter().any(|id| id == home))
        };
        let visits = self.visits.iter().filter(is_here);
        let came: Vec<Date> = visits
            .filter(|visit| visit.has_begun())
            .map(|visit| visit.day)
            .collect();
        next_after(day, &came)
    }

    /// What stands against coming to these homes on that day: nobody home, guests.
    #[must_use]
    pub fn minds(
        self,
        homes: &[&Home],
        day: Date,
        away: impl Fn(&Brewer) -> Vec<(Date, Date)>,
        told: Telling,
    ) -> Vec<String> {
        let mut minds = Vec::new();
        for home in homes {
            let here = self
                .brewers
                .values()
                .filter(|brewer| brewer.home_id == home.id);
            let away: BTreeSet<(Date, Date)> = here.flat_map(&away).collect();
            if let Some((from, to)) = away.iter().find(|(from, to)| (*from..=*to).contains(&day)) {
                let (from, to) = (text::day(*from, told.today), text::day(*to, told.today));
                minds.push(format!("{}: away from {from} to {to}", home.name));
            }
            let guests = home.guests.as_ref();
            if let Some(told) = guests.and_then(|guests| guests.mind(day, told.has_12_hours)) {
                minds.push(format!("{}: {told}", home.name));
            }
        }
        minds
    }

    /// Whether a visit may begin: one person is at one visit.
    ///
    /// # Errors
    /// `DoesNotFit` while another one runs, with its homes.
    pub fn may_start(self, visit: &Visit) -> Result<(), Problem> {
        let runs = |other: &&Visit| other.id != visit.id && other.stage() == VisitStage::Running;
        let Some(other) = self.visits.iter().find(runs) else {
            return Ok(());
        };
        let homes = self.text_of(other, &other.course().unwrap_or_default());
        let message = format!("the visit to {homes} is not over: close it first");
        Err(Problem::new(Code::DoesNotFit, "what", message))
    }

    /// Whether a home may be put away.
    ///
    /// # Errors
    /// `DoesNotFit` where brewers stand, a visit is still to come, or there is no other home.
    pub fn may_put_away(self, home_id: &str) -> Result<(), Problem> {
        let refuse = |message: &str| Err(Problem::new(Code::DoesNotFit, "id", message));
        if self
            .brewers
            .values()
            .any(|brewer| brewer.home_id == home_id)
        {
            return refuse("brewers stand there: put them away or move them first");
        }
        let comes = |visit: &&Visit| visit.rooms.iter().any(|room| room.home_id == home_id);
        if self
            .visits
            .iter()
            .filter(comes)
            .any(|visit| !visit.is_closed())
        {
            return refuse("a visit is planned there: take it out of the visit first");
        }
        if self.homes.iter().all(|home| home.id == home_id) {
            return refuse("this is the only home: add another one first");
        }
        Ok(())
    }
}

/// Hours of a day that guests leave to others: from when, until when, each open where nobody says.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Hours {
    /// From when.
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub from: Option<Time>,
    /// Until when.
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub until: Option<Time>,
}

/// The hours in which guests leave all of these homes; none where they leave one only once they are back in another.
#[must_use]
pub fn hours_in(homes: &[&Home], day: Date) -> Hours {
    let guests = homes.iter().filter_map(|home| home.guests.as_ref());
    let hours: Vec<_> = guests.map(|guests| guests.hours(day)).collect();
    let all = Hours {
        from: hours.iter().filter_map(|(from, _)| *from).max(),
        until: hours.iter().filter_map(|(_, until)| *until).min(),
    };
    match (all.from, all.until) {
        (Some(from), Some(until)) if until <= from => Hours::default(),
        _ => all,
    }
}

/// Those of these homes to which guests come that day.
#[must_use]
pub fn guests_come<'a>(homes: &[&'a Home], day: Date) -> Vec<&'a str> {
    let comes = |home: &&&Home| hours_in(&[home], day).until.is_some();
    let homes = homes.iter().filter(comes);
    homes.map(|home| home.id.as_str()).collect()
}

/// From one of these homes to another: the longest of their ways, minutes.
#[must_use]
pub fn travel_between(homes: &[&Home]) -> u32 {
    let ways = homes.iter().filter_map(|home| home.travel_min);
    ways.max().unwrap_or(0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::rounds::{RoomStop, Stop, VisitEvent, VisitWhat};
    use jiff::civil::{date, time};
    use murlo_base::units::Units;
    use murlo_brewer::{BrewerDraft, Family};

    const DAY: Date = date(2026, 3, 10);

    fn home(id: &str, travel_min: Option<u32>) -> Home {
        Home {
            travel_min,
            id: id.to_owned(),
            name: format!("Home {id}"),
            ..Home::default()
        }
    }

    fn brewers() -> HashMap<String, Brewer> {
        [("pod", "a"), ("drip", "b")]
            .map(|(id, at)| {
                let draft = BrewerDraft {
                    nickname: id.into(),
                    ..BrewerDraft::template(Family::Drip, Units::Us, at, "w", DAY)
                };
                (id.to_owned(), draft.check(id.into(), None, DAY).unwrap())
            })
            .into()
    }

    fn visit(day: Date, stop_at: Option<&str>, room_at: Option<&str>, acts: &[VisitWhat]) -> Visit {
        let stop = |id: &str| Stop {
            id: id.to_owned(),
            brewer_id: id.to_owned(),
            options: murlo_plan::PlanOptions::default(),
        };
        let room = |home: &str| RoomStop {
            id: "room".to_owned(),
            home_id: home.to_owned(),
            name: "Bath".to_owned(),
            minutes: 10,
        };
        let events = acts.iter().enumerate().map(|(n, what)| VisitEvent {
            id: format!("e{n}"),
            at: jiff::Timestamp::UNIX_EPOCH,
            by: None,
            what: what.clone(),
        });
        Visit {
            stops: stop_at.map(stop).into_iter().collect(),
            rooms: room_at.map(room).into_iter().collect(),
            events: events.collect(),
            ..Visit::planned("v", day, time(9, 0, 0, 0))
        }
    }

    #[test]
    fn a_visit_is_at_the_homes_of_its_brewers_and_rooms_in_the_household_s_order() {
        let (homes, brewers) = (
            [home("b", None), home("c", None), home("a", None)],
            brewers(),
        );
        let places = KnownPlaces {
            homes: &homes,
            brewers: &brewers,
            visits: &[],
            off: &[],
        };
        for (stop, room, expected) in [
            (Some("pod"), None, "Home a"),
            (Some("pod"), Some("b"), "Home b, Home a"),
            (Some("gone"), Some("c"), "Home c"),
            (None, None, ""),
        ] {
            let visit = visit(DAY, stop, room, &[]);
            assert_eq!(places.text_of(&visit, &VisitCourse::default()), expected);
        }
        let both = visit(DAY, Some("pod"), Some("b"), &[]);
        for (said, expected) in [
            (&["a"][..], "Home a, Home b"),
            (&["b"], "Home b, Home a"),
            (&["c", "a", "b"], "Home a, Home b"),
        ] {
            let visit = Visit {
                homes: said.iter().map(|id| (*id).to_owned()).collect(),
                ..both.clone()
            };
            assert_eq!(places.text_of(&visit, &VisitCourse::default()), expected);
        }
        // Guests of the first are still there until noon.
        let let_to = Home {
            guests: Some(murlo_brewer::home::Guests {
                out_by: time(12, 0, 0, 0),
                in_from: time(16, 0, 0, 0),
                stays: vec![murlo_brewer::home::Stay {
                    from: date(2026, 3, 7),
                    until: DAY,
                }],
            }),
            ..home("b", None)
        };
        let homes = [let_to, home("a", None)];
        let places = KnownPlaces {
            homes: &homes,
            ..places
        };
        let told = places.text_of(&both, &VisitCourse::default());
        assert_eq!(told, "Home a, Home b");
    }

    #[test]
    fn only_visits_to_these_homes_that_took_place_tell_when_one_comes_again() {
        let (homes, brewers) = ([home("a", None), home("b", None)], brewers());
        let visits = [
            visit(date(2026, 2, 24), Some("pod"), None, &[VisitWhat::Started]),
            visit(date(2026, 3, 3), Some("pod"), None, &[]),
            visit(date(2026, 3, 8), Some("drip"), None, &[VisitWhat::Started]),
        ];
        let places = KnownPlaces {
            homes: &homes,
            brewers: &brewers,
            visits: &visits,
            off: &[],
        };
        for (home, expected) in [
            ("a", date(2026, 3, 24)),
            ("b", date(2026, 3, 12)),
            ("none", date(2026, 4, 7)),
        ] {
            assert_eq!(places.next(&[home.to_owned()], DAY), expected, "{home}");
        }
    }

    #[test]
    fn days_away_stand_against_a_day_from_the_first_to_the_last() {
        let (homes, brewers) = ([home("a", None), home("b", None)], brewers());
        let places = KnownPlaces {
            homes: &homes,
            brewers: &brewers,
            visits: &[],
            off: &[],
        };
        let away = |brewer: &Brewer| match brewer.home_id.as_str() {
            "a" => vec![(DAY, date(2026, 3, 12))],
            _ => Vec::new(),
        };
        let told = Telling {
            today: DAY,
            has_12_hours: true,
        };
        for (day, expected) in [
            (date(2026, 3, 9), 0),
            (DAY, 1),
            (date(2026, 3, 12), 1),
            (date(2026, 3, 13), 0),
        ] {
            let minds = places.minds(&[&homes[0], &homes[1]], day, away, told);
            assert_eq!(minds.len(), expected, "{day}: {minds:?}");
            assert!(
                minds
                    .iter()
                    .all(|told| told.starts_with("Home a: away from"))
            );
        }
    }

    #[test]
    fn a_home_is_put_away_only_when_nothing_is_left_to_do_there() {
        let (homes, brewers) = ([home("a", None), home("c", None)], brewers());
        let closed = [
            VisitWhat::Started,
            VisitWhat::Closed {
                bill: Some(crate::rounds::Bill::default()),
                left: Vec::new(),
            },
        ];
        let may = |homes: &[Home], acts: &[VisitWhat], id: &str| {
            let visits = [visit(DAY, None, Some("c"), acts)];
            KnownPlaces {
                homes,
                brewers: &brewers,
                visits: &visits,
                off: &[],
            }
            .may_put_away(id)
        };
        let message = |given: Result<(), Problem>| given.unwrap_err().message;
        assert!(message(may(&homes, &closed, "a")).contains("brewers stand there"));
        assert!(message(may(&homes, &[], "c")).contains("a visit is planned"));
        assert!(message(may(&homes, &closed[..1], "c")).contains("a visit is planned"));
        assert!(may(&homes, &closed, "c").is_ok());
        assert!(message(may(&homes[1..], &closed, "c")).contains("only home"));
    }

    #[test]
    fn the_hours_of_several_homes_are_those_in_which_guests_left_all_of_them() {
        let at = |hour| time(hour, 0, 0, 0);
        let let_to = |from: Option<(Date, Date)>, out, into| Home {
            guests: Some(murlo_brewer::home::Guests {
                out_by: at(out),
                in_from: at(into),
                stays: from
                    .map(|(from, until)| murlo_brewer::home::Stay { from, until })
                    .into_iter()
                    .collect(),
            }),
            ..home("g", None)
        };
        let before = Some((date(2026, 3, 7), DAY));
        let after = Some((DAY, date(2026, 3, 12)));
        for (homes, expected) in [
            (vec![home("a", None)], (None, None)),
            (vec![let_to(None, 10, 15)], (None, None)),
            (vec![let_to(before, 10, 15)], (Some(10), None)),
            (
                vec![let_to(before, 10, 15), let_to(after, 10, 16)],
                (Some(10), Some(16)),
            ),
            (
                vec![let_to(before, 11, 15), let_to(before, 10, 15)],
                (Some(11), None),
            ),
            (
                vec![let_to(after, 11, 15), let_to(after, 10, 14)],
                (None, Some(14)),
            ),
            (
                vec![let_to(before, 16, 18), let_to(after, 10, 16)],
                (None, None),
            ),
        ] {
            let homes: Vec<&Home> = homes.iter().collect();
            let hours = hours_in(&homes, DAY);
            assert_eq!(
                (hours.from, hours.until),
                (expected.0.map(at), expected.1.map(at))
            );
        }
    }

    #[test]
    fn the_longest_way_is_taken_for_every_way() {
        let homes = [home("a", None), home("b", Some(12)), home("c", Some(30))];
        for (taken, expected) in [(1, 0), (2, 12), (3, 30)] {
            let homes: Vec<&Home> = homes[..taken].iter().collect();
            assert_eq!(travel_between(&homes), expected);
        }
    }
}

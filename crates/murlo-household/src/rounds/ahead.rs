//! The visits ahead: those that are kept, drafts that the rhythm of each home asks for, and what each of them should do when those
//! before it are done.

use super::propose::by_need;
use super::{
    Foreseen, KnownPlaces, MovedStop, Proposed, RoomStop, Visit, VisitCourse, VisitStage,
    WantedVisit, propose,
};
use crate::counter::BrewerCard;
use jiff::civil::Date;
use murlo_base::bounds;
use murlo_base::days::days_after;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::home::{Home, Occurrence};
use std::collections::{BTreeMap, HashMap};

/// What was confirmed so long ago takes no day of a rhythm any more.
const BACK_DAYS: i32 = 62;

/// So far ahead one looks at what a rhythm asks for: nobody knows what is due then.
const FURTHEST_DAYS: i32 = 370;

/// A visit that its home's rhythm asks for and that nobody has confirmed.
#[derive(Debug, Clone, PartialEq)]
pub struct VisitDraft {
    /// The home.
    pub home_id: String,
    /// The day of the rhythm.
    pub day: Date,
    /// Whether it lies on days off, and nobody said another day.
    pub is_off: bool,
    /// What it would be; its id is nobody's.
    pub visit: Visit,
}

/// What is known when one looks ahead.
#[derive(Clone, Copy)]
pub struct VisitsAhead<'a> {
    /// Homes, brewers, visits.
    pub places: KnownPlaces<'a>,
    /// How the brewers stand.
    pub cards: &'a [BrewerCard],
    /// What was moved to another day.
    pub moved: &'a [MovedStop],
    /// The household's day.
    pub today: Date,
}

/// One of the times ahead at a home.
enum Time<'a> {
    Kept(&'a Visit),
    Asked(Occurrence),
}

/// What comes, and what has changed of what was confirmed.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Forthcoming {
    /// Drafts, the soonest first.
    pub drafts: Vec<VisitDraft>,
    /// What is otherwise now than when a visit was planned, by its id.
    pub changes: BTreeMap<String, Vec<String>>,
}

impl<'a> VisitsAhead<'a> {
    /// Whether visits may be asked for on a day.
    ///
    /// # Errors
    /// `OutOfRange` for a day before any household, or more than a year ahead.
    pub fn may_ask(self, day: Date) -> Result<(), Problem> {
        bounds::day("day", day)?;
        let furthest = self.furthest();
        if day > furthest {
            let message = format!("give a day until {furthest}");
            return Err(Problem::new(Code::OutOfRange, "day", message));
        }
        Ok(())
    }

    /// The last day that one looks ahead to.
    #[must_use]
    pub fn furthest(self) -> Date {
        days_after(self.today, FURTHEST_DAYS)
    }

    /// Everything from today to `until`.
    #[must_use]
    pub fn until(self, until: Date) -> Forthcoming {
        let cards = self.by_home();
        let mut coming = Forthcoming::default();
        for home in self.places.homes {
            let here = cards.get(home.id.as_str()).map_or(&[][..], Vec::as_slice);
            self.walk(home, here, until, &mut coming);
        }
        let drafts = &mut coming.drafts;
        drafts.sort_by(|a, b| {
            let key = |draft: &VisitDraft| (draft.visit.day, draft.visit.from);
            key(a).cmp(&key(b)).then_with(|| a.home_id.cmp(&b.home_id))
        });
        coming
    }

    /// What a visit to these homes should do on `day`, when those before it are done; `except` is the one that is planned anew.
    #[must_use]
    pub fn proposed(self, homes: &[String], day: Date, except: Option<&str>) -> Vec<Proposed> {
        let cards = self.by_home();
        let mut all = Vec::new();
        let is_asked = |home: &&Home| homes.contains(&home.id);
        for home in self.places.homes.iter().filter(is_asked) {
            let cards = cards.get(home.id.as_str()).map_or(&[][..], Vec::as_slice);
            let mut foreseen = Foreseen::default();
            let before = days_after(day, -1);
            let times = self.times(home, before);
            let times = times.iter().filter(
                |(_, time)| !matches!(time, Time::Kept(visit) if Some(visit.id.as_str()) == except),
            );
            let mut coming = Forthcoming::default();
            for (on, time) in times {
                self.at(home, cards, (*on, time), &mut foreseen, &mut coming);
            }
            // What waits until one comes again waits for that home's own next time.
            let wish = WantedVisit {
                today: self.today,
                day,
                next: self.places.next(std::slice::from_ref(&home.id), day),
                moved: self.moved,
                foreseen: &foreseen,
            };
            all.extend(propose(cards, self.places.brewers, &wish));
        }
        by_need(&mut all);
        all
    }

    fn by_home(self) -> HashMap<&'a str, Vec<&'a BrewerCard>> {
        let mut by_home: HashMap<&str, Vec<&BrewerCard>> = HashMap::new();
        for card in self.cards {
            if let Some(brewer) = self.places.brewers.get(&card.id) {
                by_home.entry(&brewer.home_id).or_default().push(card);
            }
        }
        by_home
    }

    fn walk(self, home: &Home, cards: &[&BrewerCard], until: Date, coming: &mut Forthcoming) {
        let mut foreseen = Foreseen::default();
        for (on, time) in self.times(home, until) {
            self.at(home, cards, (on, &time), &mut foreseen, coming);
        }
    }

    /// The times at a home until a day, the soonest first.
    fn times(self, home: &Home, until: Date) -> Vec<(Date, Time<'a>)> {
        let since = days_after(self.today, -BACK_DAYS);
        let recent = self.places.visits.iter().filter(|visit| visit.day >= since);
        let here: Vec<&Visit> = recent
            .filter(|visit| {
                let course = visit.course().unwrap_or_default();
                let mut homes = self.places.of(visit, &course).into_iter();
                homes.any(|known| known.id == home.id)
            })
            .collect();
        let is_taken = |one: &Occurrence| {
            here.iter()
                .any(|visit| visit.rhythm_day == Some(one.day) || visit.day == one.on)
        };
        let soon = until.min(self.furthest());
        let asked = home
            .coming
            .between(home.guests.as_ref(), self.places.off, self.today, soon);
        let asked = asked.into_iter().filter(|one| !is_taken(one));
        let ahead = here.iter().filter(|visit| {
            visit.stage() != VisitStage::Closed && visit.day >= self.today && visit.day <= until
        });
        let mut times: Vec<_> = ahead
            .map(|visit| (visit.day, visit.from, Time::Kept(visit)))
            .chain(asked.map(|one| (one.on, one.from, Time::Asked(one))))
            .collect();
        times.sort_by_key(|(on, from, _)| (*on, *from));
        times.into_iter().map(|(on, _, time)| (on, time)).collect()
    }

    /// One of the times at a home: what it does is foreseen for those after it.
    fn at(
        self,
        home: &Home,
        cards: &[&BrewerCard],
        (on, time): (Date, &Time),
        foreseen: &mut Foreseen,
        coming: &mut Forthcoming,
    ) {
        let wish = WantedVisit {
            today: self.today,
            day: on,
            next: self.places.next(std::slice::from_ref(&home.id), on),
            moved: self.moved,
            foreseen,
        };
        match time {
            Time::Kept(visit) => {
                let course = visit.course().unwrap_or_default();
                if visit.foreseen.is_some() && visit.stage() == VisitStage::Planned {
                    let proposed = propose(cards, self.places.brewers, &wish);
                    let changes = changes(visit, &course, &proposed);
                    let known = coming.changes.entry(visit.id.clone()).or_default();
                    known.extend(changes);
                }
                let is_here = |id: &str| cards.iter().any(|card| card.id == id);
                let stops = visit.all_stops(&course);
                foreseen.add(stops.filter(|stop| is_here(&stop.brewer_id)), on);
            }
            Time::Asked(one) => {
                let proposed = propose(cards, self.places.brewers, &wish);
                let draft = draft(home, *one, proposed);
                if !draft.is_off {
                    foreseen.add(&draft.visit.stops, on);
                }
                coming.drafts.push(draft);
            }
        }
    }
}

fn draft(home: &Home, one: Occurrence, proposed: Vec<Proposed>) -> VisitDraft {
    let stops = proposed.into_iter().filter(|one| one.is_in);
    let stops: Vec<_> = stops.map(|one| one.stop).collect();
    let visit = Visit {
        until: one.until,
        foreseen: Some(stops.iter().map(|stop| stop.id.clone()).collect()),
        stops,
        rooms: RoomStop::all_of(home),
        homes: vec![home.id.clone()],
        rhythm_day: Some(one.day),
        ..Visit::planned("draft", one.on, one.from)
    };
    VisitDraft {
        home_id: home.id.clone(),
        day: one.day,
        is_off: one.is_off,
        visit,
    }
}

/// What is otherwise now than when a visit was planned: due too, or not due any more. What was taken out or in by hand is no change.
fn changes(visit: &Visit, course: &VisitCourse, proposed: &[Proposed]) -> Vec<String> {
    let knew = |id: &String| visit.foreseen.iter().flatten().any(|known| known == id);
    let has = |id: &str| visit.all_stops(course).any(|stop| stop.id == id);
    let is_left = |id: &String| course.dropped.contains_key(id);
    let new = proposed
        .iter()
        .filter(|one| one.is_in && !knew(&one.stop.id))
        .filter(|one| !has(&one.stop.id) && !is_left(&one.stop.id))
        .map(|one| format!("{}, {}: {}", one.name, one.what, one.why));
    let gone = proposed
        .iter()
        .filter(|one| !one.is_in && knew(&one.stop.id) && has(&one.stop.id))
        .map(|one| format!("{}, {}: {} now", one.name, one.what, one.why));
    new.chain(gone).collect()
}

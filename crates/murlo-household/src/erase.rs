//! Erasing for good, where putting away is not enough: what goes with it, and what is left without a trace of it.

use crate::household::Household;
use crate::rounds::{Bill, Visit, VisitEvent, VisitWhat};
use jiff::Timestamp;
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem};
use murlo_base::text::{all_of, count};
use murlo_clean::Act;
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// What stands where a note was.
const ERASED_NOTE: &str = "(erased)";

/// Who vouched for a brewer, once that name is erased.
const NOBODY_NAMED: &str = "somebody";

/// What is to be erased.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Erased {
    /// A photo.
    Photo {
        /// Its id.
        id: String,
    },
    /// What somebody wrote in their own words.
    Note {
        /// Where.
        of: NoteOf,
    },
    /// A name, wherever it says who did something.
    Person {
        /// The name.
        name: String,
    },
    /// A home with its brewers and all that happened there.
    Home {
        /// Its id.
        id: String,
    },
}

/// Where a note stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "in", rename_all = "snake_case", deny_unknown_fields)]
pub enum NoteOf {
    /// Written during a clean.
    Clean {
        /// The clean.
        clean_id: String,
        /// When it was written.
        at: Timestamp,
    },
    /// Of a clean that was told afterwards.
    PastClean {
        /// Its id.
        id: String,
    },
    /// Of a visit.
    Visit {
        /// Its id.
        id: String,
    },
    /// What is known of a home: the way in, whom one asks, where mail goes.
    Home {
        /// Its id.
        id: String,
    },
}

/// How much is erased with it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ErasedCount {
    /// Homes.
    pub homes: usize,
    /// Brewers.
    pub brewers: usize,
    /// Cleans, told ones included.
    pub cleans: usize,
    /// Lines of journals.
    pub entries: usize,
    /// Visits, and parts of visits to other homes.
    pub visits: usize,
    /// Photos.
    pub photos: usize,
    /// Notes.
    pub notes: usize,
    /// Places where a name stood.
    pub names: usize,
    /// Devices that were let in for it alone.
    pub devices: usize,
}

impl ErasedCount {
    /// Whether there is nothing to erase.
    #[must_use]
    pub fn is_nothing(&self) -> bool {
        *self == Self::default()
    }

    /// "1 home, 2 brewers and 14 cleans".
    #[must_use]
    pub fn said(&self) -> String {
        let all = [
            (self.homes, "home", "homes"),
            (self.brewers, "brewer", "brewers"),
            (self.cleans, "clean", "cleans"),
            (self.entries, "line written down", "lines written down"),
            (self.visits, "visit", "visits"),
            (self.photos, "photo", "photos"),
            (self.notes, "note", "notes"),
            (self.names, "place with the name", "places with the name"),
            (
                self.devices,
                "device let in for it",
                "devices let in for it",
            ),
        ];
        let all = all.into_iter().filter(|(n, ..)| *n > 0);
        let each = all.map(|(n, one, more)| count(u32::try_from(n).unwrap_or(u32::MAX), one, more));
        all_of(&each.collect::<Vec<_>>())
    }
}

/// Lets go of what `is_erased` says; gives how much that was.
fn let_go<T>(all: &mut Vec<T>, is_erased: impl Fn(&T) -> bool) -> usize {
    let before = all.len();
    all.retain(|one| !is_erased(one));
    before - all.len()
}

impl Household {
    /// Whether it may be erased.
    ///
    /// # Errors
    /// `DoesNotFit` for the only home, and for one where a clean is running.
    pub fn may_erase(&self, what: &Erased) -> Result<(), Problem> {
        let Erased::Home { id } = what else {
            return Ok(());
        };
        let refused = |message: String| Err(Problem::new(Code::DoesNotFit, "id", message));
        if self
            .homes
            .iter()
            .all(|home| home.fact.id == *id || home.archived)
        {
            return refused("this is the only home: add another one first".to_owned());
        }
        let here = self.brewers_of(id);
        let runs = |record: &&crate::CleanRecord| {
            let state = murlo_clean::replay(&record.plan, &record.events);
            here.contains(&record.plan.brewer_id) && state.is_ok_and(|state| state.closed.is_none())
        };
        match self.cleans.iter().find(runs) {
            Some(_) => refused("a clean is running there: end it or give it up first".to_owned()),
            None => Ok(()),
        }
    }

    /// Brewers that stand in a home, put away or not.
    #[must_use]
    pub fn brewers_of(&self, home_id: &str) -> HashSet<String> {
        let here = self.brewers.iter().map(|kept| &kept.fact);
        let here = here.filter(|brewer| brewer.home_id == home_id);
        here.map(|brewer| brewer.id.clone()).collect()
    }

    /// Erases it: nothing of it is left. Gives how much went; nothing where there is no such thing.
    pub fn erase(&mut self, what: &Erased) -> ErasedCount {
        match what {
            Erased::Photo { id } => ErasedCount {
                photos: self.erase_photos(|photo| photo.id == *id),
                ..ErasedCount::default()
            },
            Erased::Note { of } => ErasedCount {
                notes: usize::from(self.erase_note(of)),
                ..ErasedCount::default()
            },
            Erased::Person { name } => ErasedCount {
                names: self.erase_name(name),
                ..ErasedCount::default()
            },
            Erased::Home { id } => self.erase_home(id),
        }
    }

    fn erase_photos(&mut self, is_erased: impl Fn(&crate::Photo) -> bool) -> usize {
        let gone: HashSet<String> = self
            .photos
            .iter()
            .filter(|p| is_erased(p))
            .map(|p| p.id.clone())
            .collect();
        for event in self.cleans.iter_mut().flat_map(|record| &mut record.events) {
            if let Act::Looked { glass } = &mut event.act
                && glass.photo.as_ref().is_some_and(|id| gone.contains(id))
            {
                glass.photo = None;
            }
        }
        let_go(&mut self.photos, |photo| gone.contains(&photo.id))
    }

    fn erase_note(&mut self, of: &NoteOf) -> bool {
        fn emptied(text: &mut String) -> bool {
            !std::mem::take(text).is_empty()
        }
        match of {
            NoteOf::Clean { clean_id, at } => {
                let records = self
                    .cleans
                    .iter_mut()
                    .filter(|record| record.id == *clean_id);
                let events = records.flat_map(|record| &mut record.events);
                let mut erased = false;
                for event in events.filter(|event| event.at == *at) {
                    if let Act::Noted { text } = &mut event.act {
                        erased |= std::mem::replace(text, ERASED_NOTE.to_owned()) != ERASED_NOTE;
                    }
                }
                erased
            }
            NoteOf::PastClean { id } => {
                let mut all = self.past_cleans.iter_mut().map(|kept| &mut kept.fact);
                let past = all.find(|past| past.id == *id && past.note != ERASED_NOTE);
                past.is_some_and(|past| {
                    ERASED_NOTE.clone_into(&mut past.note);
                    true
                })
            }
            NoteOf::Visit { id } => {
                let mut all = self.visits.iter_mut().map(|kept| &mut kept.fact);
                all.find(|visit| visit.id == *id)
                    .is_some_and(|visit| emptied(&mut visit.note))
            }
            NoteOf::Home { id } => {
                let mut all = self.homes.iter_mut().map(|kept| &mut kept.fact);
                all.find(|home| home.id == *id).is_some_and(|home| {
                    let each = [&mut home.access, &mut home.contact, &mut home.mail];
                    each.map(emptied).contains(&true)
                })
            }
        }
    }

    fn erase_name(&mut self, name: &str) -> usize {
        let mut names = 0;
        let mut nameless = |by: &mut Option<String>| {
            if by.as_deref() == Some(name) {
                *by = None;
                names += 1;
            }
        };
        let events = self.cleans.iter_mut().flat_map(|record| &mut record.events);
        let mut vouched = 0;
        for event in events {
            nameless(&mut event.by);
            if let Act::Vouched { by, .. } = &mut event.act
                && by == name
            {
                NOBODY_NAMED.clone_into(by);
                vouched += 1;
            }
        }
        for event in self
            .visits
            .iter_mut()
            .flat_map(|kept| &mut kept.fact.events)
        {
            nameless(&mut event.by);
        }
        names + vouched + let_go(&mut self.settings.noses, |nose| nose == name)
    }

    fn erase_home(&mut self, id: &str) -> ErasedCount {
        let brewers = self.brewers_of(id);
        let is_here = |brewer_id: &String| brewers.contains(brewer_id);
        let here = |record: &crate::CleanRecord| is_here(&record.plan.brewer_id);
        let cleans: HashSet<String> = self
            .cleans
            .iter()
            .filter(|record| here(record))
            .map(|record| record.id.clone())
            .collect();
        let (visits, touched) = self.erase_from_visits(id, &brewers);
        ErasedCount {
            photos: self.erase_photos(|photo| match &photo.of {
                crate::PhotoOf::Clean(id) => cleans.contains(id),
                crate::PhotoOf::Visit(id) => visits.contains(id),
                crate::PhotoOf::Brewer(id) => brewers.contains(id),
            }),
            visits: let_go(&mut self.visits, |kept| visits.contains(&kept.fact.id)) + touched,
            cleans: let_go(&mut self.cleans, here)
                + let_go(&mut self.past_cleans, |kept| is_here(&kept.fact.brewer_id)),
            entries: let_go(&mut self.journal, |kept| is_here(&kept.fact.brewer_id)),
            brewers: {
                let_go(&mut self.ways, |kept| is_here(&kept.fact.brewer_id));
                let_go(&mut self.over_days, |kept| is_here(&kept.fact.brewer_id));
                let_go(&mut self.brewers, |kept| is_here(&kept.fact.id))
            },
            homes: let_go(&mut self.homes, |kept| kept.fact.id == id),
            ..ErasedCount::default()
        }
    }

    /// Takes a home out of visits to several; gives those that were to it alone, and how many of the others were touched.
    fn erase_from_visits(
        &mut self,
        home: &str,
        brewers: &HashSet<String>,
    ) -> (HashSet<String>, usize) {
        let mut alone = HashSet::new();
        let mut touched = 0;
        for Kept { fact: visit, .. } in &mut self.visits {
            let before = visit.clone();
            take_out(visit, home, brewers);
            if visit.stops.is_empty() && visit.rooms.is_empty() {
                alone.insert(visit.id.clone());
            } else if *visit != before {
                touched += 1;
            }
        }
        (alone, touched)
    }
}

/// A visit without what concerns a home.
fn take_out(visit: &mut Visit, home: &str, brewers: &HashSet<String>) {
    let is_of_home = |brewer: &String| brewers.contains(brewer);
    let course = visit.course().unwrap_or_default();
    let stops = visit.stops.iter().chain(&course.added);
    let stops = stops
        .filter(|stop| is_of_home(&stop.brewer_id))
        .map(|stop| stop.id.clone());
    let rooms = visit.rooms.iter().filter(|room| room.home_id == home);
    let gone: HashSet<String> = stops.chain(rooms.map(|room| room.id.clone())).collect();
    visit.stops.retain(|stop| !gone.contains(&stop.id));
    visit.rooms.retain(|room| !gone.contains(&room.id));
    visit.homes.retain(|id| id != home);
    visit.paid.remove(home);
    if let Some(foreseen) = &mut visit.foreseen {
        foreseen.retain(|id| !gone.contains(id));
    }
    visit
        .events
        .retain_mut(|event| stays(event, home, brewers, &gone));
    // What took back an act that is gone has nothing left to take back.
    let known: HashSet<String> = visit.events.iter().map(|event| event.id.clone()).collect();
    visit.events.retain(|event| {
        let VisitWhat::Undone { event } = &event.what else {
            return true;
        };
        known.contains(event)
    });
}

/// Whether an act stays, without what it says of the home.
fn stays(
    event: &mut VisitEvent,
    home: &str,
    brewers: &HashSet<String>,
    gone: &HashSet<String>,
) -> bool {
    match &mut event.what {
        VisitWhat::RoomDone { room } => !gone.contains(room),
        VisitWhat::Dropped { id, .. } => !gone.contains(id),
        VisitWhat::Arrived { home: to, leaves } => {
            leaves.retain(|brewer| !brewers.contains(brewer));
            to != home
        }
        VisitWhat::Added { stop } => !brewers.contains(&stop.brewer_id),
        VisitWhat::Closed { bill, left } => {
            left.retain(|one| !gone.contains(&one.id));
            if let Some(Bill { lines, there, .. }) = bill {
                lines.retain(|line| line.home.as_deref() != Some(home));
                there.retain(|one| one.home != home);
            }
            true
        }
        VisitWhat::Started
        | VisitWhat::Changed { .. }
        | VisitWhat::Undone { .. }
        | VisitWhat::Reopened => true,
    }
}

#[cfg(test)]
mod tests;

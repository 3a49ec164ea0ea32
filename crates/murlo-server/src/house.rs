//! A household with its homes and visits, read at once.

use crate::api::{MovedView, VisitBrief};
use crate::error::ApiError;
use crate::past::Past;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use murlo_brewer::Brewer;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_household::counter::BrewerCard;
use murlo_household::rounds::{
    KnownPlaces, MovedStop, MovedWhat, Proposed, Telling, Visit, VisitStage, moved, propose,
};
use murlo_store::Store;
use std::collections::HashMap;

/// Where the feed with this last part is read.
pub(super) fn path_of(token: &str) -> String {
    format!("/feed/{token}.ics")
}

/// Visits that are over and still listed.
const LATELY: usize = 10;

/// What a request about visits reads.
pub(super) struct House {
    pub(super) past: Past,
    pub(super) brewers: HashMap<String, Brewer>,
    pub(super) agents: Vec<Agent>,
    pub(super) homes: Vec<Home>,
    pub(crate) visits: Vec<Visit>,
    pub(super) zone: TimeZone,
}

impl House {
    pub(super) fn read(store: &Store, now: Timestamp) -> Result<Self, ApiError> {
        let past = Past::read(store, now)?;
        let brewers = past.brewers().map(|b| (b.id.clone(), b.clone()));
        Ok(Self {
            brewers: brewers.collect(),
            agents: past.with_levels(store.current()?),
            homes: store.current()?,
            visits: store.current()?,
            zone: TimeZone::get(&past.settings.time_zone).unwrap_or(TimeZone::UTC),
            past,
        })
    }

    pub(super) const fn today(&self) -> Date {
        self.past.today
    }

    pub(super) fn places(&self) -> KnownPlaces<'_> {
        KnownPlaces {
            homes: &self.homes,
            brewers: &self.brewers,
            visits: &self.visits,
        }
    }

    pub(super) fn cards(&self) -> Vec<BrewerCard> {
        self.past.facts().cards_with_works(self.past.brewers())
    }

    pub(super) fn proposed(&self, homes: &[String], day: Date) -> Vec<Proposed> {
        let cards = self.cards();
        let here = |card: &BrewerCard| {
            let brewer = self.brewers.get(&card.id);
            brewer.is_some_and(|brewer| homes.contains(&brewer.home_id))
        };
        let cards: Vec<_> = cards.into_iter().filter(here).collect();
        let next = self.places().next(homes, day);
        propose(&cards, &self.brewers, &moved(&self.visits), day, next)
    }

    /// What was moved to another day and stands in no visit yet; not of brewers and homes that were put away.
    pub(super) fn moved(&self) -> Vec<MovedView> {
        let view = |one: MovedStop| {
            let (name, home_id) = match &one.what {
                MovedWhat::Stop(stop) => {
                    let brewer = self.brewers.get(&stop.brewer_id)?;
                    let name = format!("{}, {}", stop.name(brewer), stop.what());
                    (name, brewer.home_id.clone())
                }
                MovedWhat::Room(room) => (room.name.clone(), room.home_id.clone()),
            };
            let home = self.homes.iter().find(|home| home.id == home_id)?;
            Some(MovedView {
                home: home.name.clone(),
                day: one.to,
                name,
                home_id,
            })
        };
        moved(&self.visits).into_iter().filter_map(view).collect()
    }

    /// What stands against coming to these homes on that day.
    pub(super) fn minds(&self, homes: &[&Home], day: Date) -> Vec<String> {
        let facts = self.past.facts();
        let told = Telling {
            today: self.past.today,
            has_12_hours: self.past.settings.has_12_hours(),
        };
        let away = |brewer: &Brewer| facts.away(brewer);
        self.places().minds(homes, day, away, told)
    }
}

/// Visits ahead by day, then those that are over, the last first.
pub(crate) fn briefs(house: &House) -> Vec<VisitBrief> {
    let mut all: Vec<VisitBrief> = house
        .visits
        .iter()
        .map(|visit| brief(visit, house.places()))
        .collect();
    all.sort_by_key(|visit| (visit.day, visit.from));
    let is_over = |visit: &VisitBrief| visit.stage == VisitStage::Closed;
    let (over, mut ahead): (Vec<_>, Vec<_>) = all.into_iter().partition(is_over);
    ahead.extend(over.into_iter().rev().take(LATELY));
    ahead
}

fn brief(visit: &Visit, places: KnownPlaces) -> VisitBrief {
    let course = visit.course().unwrap_or_default();
    VisitBrief {
        id: visit.id.clone(),
        day: visit.day,
        from: visit.from,
        homes: places.text_of(visit, &course),
        text: visit.in_short(&course),
        stage: visit.stage(),
    }
}

/// Visits that run, and those planned for today.
pub(super) fn today(store: &Store, past: &Past) -> Result<Vec<VisitBrief>, ApiError> {
    let mut visits: Vec<Visit> = store.current()?;
    visits.retain(|visit| match visit.stage() {
        VisitStage::Running => true,
        VisitStage::Planned => visit.day == past.today,
        VisitStage::Closed => false,
    });
    if visits.is_empty() {
        return Ok(Vec::new());
    }
    let brewers = past.brewers().map(|b| (b.id.clone(), b.clone())).collect();
    let places = KnownPlaces {
        homes: &store.current()?,
        brewers: &brewers,
        visits: &visits,
    };
    Ok(visits.iter().map(|visit| brief(visit, places)).collect())
}

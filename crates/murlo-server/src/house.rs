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
    KnownPlaces, MovedStop, MovedWhat, Stock, Telling, Visit, VisitStage, VisitsAhead, WeekClock,
    moved,
};
use murlo_household::stock::level;
use murlo_plan::Plan;
use murlo_store::Store;
use std::collections::HashMap;
use std::sync::OnceLock;

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
    /// Worked out once, when they are first asked for.
    cards: OnceLock<Vec<BrewerCard>>,
    moved: OnceLock<Vec<MovedStop>>,
    /// Plans of stops that were worked out together.
    pub(super) plans: OnceLock<HashMap<StopKey, StopPlan>>,
}

/// What a stop's plan hangs on: the brewer, and the options as they are written.
pub(super) type StopKey = (String, String);

/// The plan of a stop, or why there is none.
pub(super) type StopPlan = Result<Plan, String>;

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
            cards: OnceLock::new(),
            moved: OnceLock::new(),
            plans: OnceLock::new(),
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
            off: &self.past.settings.days_off,
        }
    }

    pub(super) fn cards(&self) -> &[BrewerCard] {
        let facts = self.past.facts();
        self.cards
            .get_or_init(|| facts.cards_with_works(self.past.brewers()))
    }

    /// The visits ahead.
    pub(super) fn ahead(&self) -> VisitsAhead<'_> {
        VisitsAhead {
            places: self.places(),
            cards: self.cards(),
            moved: self.moved.get_or_init(|| moved(&self.visits)),
            today: self.today(),
        }
    }

    /// What is in the cupboard by the piece, as far as somebody counted.
    pub(super) fn pieces(&self) -> HashMap<String, f64> {
        let past = &self.past;
        let level = |id: &str| level(id, None, &past.movements, &past.drawn);
        let each = past.supplies.iter();
        each.filter_map(|supply| Some((supply.id.clone(), level(&supply.id)?)))
            .collect()
    }

    /// What is in the cupboard, with `pieces` of what is counted so.
    pub(super) fn stock<'a>(&'a self, pieces: &'a HashMap<String, f64>) -> Stock<'a> {
        Stock {
            agents: &self.agents,
            supplies: &self.past.supplies,
            pieces,
            units: self.past.settings.units,
        }
    }

    /// How times are told.
    pub(super) fn clock(&self) -> WeekClock<'_> {
        WeekClock {
            zone: &self.zone,
            has_12_hours: self.past.settings.has_12_hours(),
        }
    }

    /// What was moved to another day and stands in no visit yet; not of brewers and homes that were put away.
    pub(super) fn moved(&self) -> Vec<MovedView> {
        let view = |one: &MovedStop| {
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
        self.ahead().moved.iter().filter_map(view).collect()
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
        off: &past.settings.days_off,
    };
    Ok(visits.iter().map(|visit| brief(visit, places)).collect())
}

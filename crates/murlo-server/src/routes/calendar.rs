//! iCalendar: what is due and planned, as a file and as a feed; guests of a home that is let, read from their own.

use crate::api::{CalendarFile, FeedView};
use crate::error::{ApiError, Body};
use crate::house::{House, path_of};
use crate::seen::{Seen, plan_together};
use crate::sign_in::secret;
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use icalendar::{Calendar, Component, Event, EventLike, EventStatus, Property};
use jiff::civil::{Date, DateTime, date};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use murlo_base::days::days_after;
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::home::{Guests, Home, Stay};
use murlo_household::rounds::{
    CalendarVisit, Occasion, OccasionState, Span, Visit, VisitDraft, occasions, visit_occasion,
};
use murlo_store::Store;

/// No calendar of a home is longer.
const LONGEST: usize = 512 * 1024;

/// Visits are shown from so many days back.
const BACK_DAYS: i32 = 400;

/// Drafts are shown for so many days.
const AHEAD_DAYS: i32 = 56;

/// No stay is told from before.
const EARLIEST: Date = date(1970, 1, 1);
/// A day as calendars write it.
const DAY: &str = "%Y%m%d";
/// A time of day as calendars write it.
const TIME: &str = "%Y%m%dT%H%M%S";

fn instant(at: Timestamp) -> String {
    at.to_zoned(TimeZone::UTC)
        .strftime(&format!("{TIME}Z"))
        .to_string()
}

fn day_property(name: &str, day: Date) -> Property {
    let mut property = Property::new(name, day.strftime(DAY).to_string());
    property.add_parameter("VALUE", "DATE").done()
}

fn written(store: &Store, now: Timestamp) -> Result<String, ApiError> {
    let house = House::read(store, now)?;
    let visits: Vec<Kept<Visit>> = store.all()?;
    let mut calendar = Calendar::new();
    calendar.name("Murlo");
    for one in occasions(house.cards(), house.today()) {
        calendar.push(event(&one, now));
    }
    let coming = house.ahead().until(days_after(house.today(), AHEAD_DAYS));
    let is_ahead = |visit: &&Visit| !visit.is_closed() && visit.day >= house.today();
    let ahead = visits.iter().filter(|kept| !kept.archived);
    let ahead = ahead.map(|kept| &kept.fact).filter(is_ahead);
    let drafts = coming.drafts.iter().map(|draft| &draft.visit);
    plan_together(&house, ahead.chain(drafts).flat_map(|visit| &visit.stops))?;
    let horizon = days_after(house.today(), -BACK_DAYS);
    for kept in visits.iter().filter(|kept| kept.fact.day >= horizon) {
        let one = house.visited(store, &kept.fact, kept.archived, None, now)?;
        calendar.push(event(&one, now));
    }
    for draft in coming.drafts.iter().filter(|draft| !draft.is_off) {
        let one = house.visited(store, &draft.visit, false, Some(draft), now)?;
        calendar.push(event(&one, now));
    }
    Ok(calendar.done().to_string())
}

fn event(one: &Occasion, now: Timestamp) -> Event {
    let mut event = Event::new();
    event
        .uid(&format!("{}@murlo", one.uid))
        .add_property("DTSTAMP", instant(now))
        .summary(&one.summary)
        .status(match one.state {
            OccasionState::CalledOff => EventStatus::Cancelled,
            OccasionState::Tentative => EventStatus::Tentative,
            OccasionState::Certain => EventStatus::Confirmed,
        });
    if !one.description.is_empty() {
        event.description(&one.description);
    }
    if !one.location.is_empty() {
        event.location(&one.location);
    }
    match one.span {
        Span::Day(day) => {
            let next = day.tomorrow().unwrap_or(day);
            event.append_property(day_property("DTSTART", day));
            event.append_property(day_property("DTEND", next));
        }
        Span::Time(from, until) => {
            event.add_property("DTSTART", instant(from));
            event.add_property("DTEND", instant(until));
        }
    }
    event.done()
}

impl House {
    /// A visit as a calendar shows it; how long one that is ahead takes is worked out.
    fn visited(
        &self,
        store: &Store,
        visit: &Visit,
        is_archived: bool,
        draft: Option<&VisitDraft>,
        now: Timestamp,
    ) -> Result<Occasion, ApiError> {
        let course = visit.course().unwrap_or_default();
        let homes = match draft {
            Some(draft) => self
                .homes
                .iter()
                .filter(|home| home.id == draft.home_id)
                .collect(),
            None => self.places().of(visit, &course),
        };
        let is_ahead = !is_archived && !visit.is_closed() && visit.day >= self.today();
        let block = match is_ahead {
            true => Some(Seen::new(store, self, visit, now)?.block(draft, Vec::new())),
            false => None,
        };
        let ends = block.as_ref().map(|block| {
            let minutes = block.likely_min.unwrap_or(block.minutes);
            SignedDuration::from_secs((60.0 * minutes).round() as i64)
        });
        let begins = course
            .started_at
            .unwrap_or(visit.instants(&course, &self.zone).0);
        let seen = CalendarVisit {
            visit,
            homes: &homes,
            works: block.map_or_else(Vec::new, |block| block.works),
            ends_at: ends.and_then(|ends| begins.checked_add(ends).ok()),
            is_draft: draft.is_some(),
            is_archived,
        };
        Ok(visit_occasion(&seen, &self.zone))
    }
}

fn answer(text: String) -> Response {
    let headers = [
        (header::CONTENT_TYPE, "text/calendar; charset=utf-8"),
        (
            header::CONTENT_DISPOSITION,
            "attachment; filename=\"murlo.ics\"",
        ),
        (header::CACHE_CONTROL, "no-store"),
    ];
    (headers, text).into_response()
}

/// Due windows, small works and visits as a calendar file.
#[utoipa::path(get, path = "/api/calendar.ics", responses((status = 200, body = String, content_type = "text/calendar")))]
pub async fn calendar(State(state): State<AppState>) -> Result<Response, ApiError> {
    let now = state.now();
    Ok(answer(state.store(move |store| written(store, now)).await?))
}

/// The same at an address that nobody can guess, for calendars that cannot sign in.
pub async fn feed(
    State(state): State<AppState>,
    Path(file): Path<String>,
) -> Result<Response, ApiError> {
    let now = state.now();
    let text = state.store(move |store| {
        let known = store.feed()?.map(|token| format!("{token}.ics"));
        match known {
            Some(known) if known == file => written(store, now),
            _ => Err(ApiError::NotFound(
                "there is no calendar at this address any more".to_owned(),
            )),
        }
    });
    Ok(answer(text.await?))
}

/// Makes an address for calendars, or a new one: the one before leads nowhere any more.
#[utoipa::path(post, path = "/api/feed", responses((status = 200, body = FeedView)))]
pub async fn renew_feed(State(state): State<AppState>) -> Result<Json<FeedView>, ApiError> {
    let token = secret()?;
    let path = path_of(&token);
    state
        .store(move |store| Ok(store.set_feed(Some(&token))?))
        .await?;
    state.changed("facts");
    Ok(Json(FeedView { path }))
}

/// Cuts calendars off.
#[utoipa::path(delete, path = "/api/feed", responses((status = 204)))]
pub async fn cut_feed(State(state): State<AppState>) -> Result<StatusCode, ApiError> {
    state.store(move |store| Ok(store.set_feed(None)?)).await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// Reads the guests of a home from a calendar file of its let; those read before are replaced.
#[utoipa::path(post, path = "/api/homes/{id}/guests", params(("id" = String, Path)), request_body = CalendarFile, responses((status = 200, body = Home), (status = 404), (status = 422)))]
pub async fn read_guests(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(file): Body<CalendarFile>,
) -> Result<Json<Home>, ApiError> {
    let home = state.store(move |store| {
        let zone = TimeZone::get(&store.settings()?.time_zone).unwrap_or(TimeZone::UTC);
        let stays = stays(&file.calendar, &zone)?;
        Ok(store.alter::<Home>(&id, |home| {
            let times = home.guests.clone().unwrap_or(Guests::USUAL);
            Home {
                guests: Some(Guests { stays, ..times }),
                ..home
            }
            .checked()
        })?)
    });
    let home = home.await?;
    state.changed("facts");
    Ok(Json(home))
}

/// The stays in a calendar file.
fn stays(text: &str, zone: &TimeZone) -> Result<Vec<Stay>, Problem> {
    let refuse = |message: String| Problem::new(Code::NotTheFormat, "calendar", message);
    if text.len() > LONGEST {
        return Err(refuse(format!(
            "give a file of at most {} kB",
            LONGEST / 1024
        )));
    }
    if !text.trim_start().starts_with("BEGIN:VCALENDAR") {
        return Err(refuse(
            "this is no iCalendar file: it must begin with BEGIN:VCALENDAR".to_owned(),
        ));
    }
    let calendar: Calendar = text.parse().map_err(|_| {
        refuse("this calendar is damaged: export it again from where it came".to_owned())
    })?;
    let mut stays = Vec::new();
    for event in calendar
        .components
        .iter()
        .filter_map(|part| part.as_event())
    {
        if event.get_status() == Some(EventStatus::Cancelled) {
            continue;
        }
        let day = |name| event.property_value(name).and_then(|at| day_of(at, zone));
        let (Some(from), Some(until)) = (day("DTSTART"), day("DTEND")) else {
            let told = event.get_summary().unwrap_or("an entry without a name");
            return Err(refuse(format!("\"{told}\" has no first or last day")));
        };
        if until > from && from >= EARLIEST {
            stays.push(Stay { from, until });
        }
    }
    if stays.is_empty() {
        return Err(refuse(
            "there is no stay in this calendar: each needs a first and a last day".to_owned(),
        ));
    }
    stays.sort_unstable();
    stays.dedup();
    Ok(stays)
}

/// The civil day of a calendar's date, where the household lives: a time that names no zone, or another, counts where it is.
fn day_of(given: &str, zone: &TimeZone) -> Option<Date> {
    if let Some(at) = given.strip_suffix('Z') {
        let at = DateTime::strptime(TIME, at).ok()?;
        let at = at.to_zoned(TimeZone::UTC).ok()?.timestamp();
        Some(at.to_zoned(zone.clone()).date())
    } else if given.contains('T') {
        Some(DateTime::strptime(TIME, given).ok()?.date())
    } else {
        Date::strptime(DAY, given).ok()
    }
}

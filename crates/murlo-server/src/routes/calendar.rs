//! iCalendar: what is due and planned, as a file and as a feed; guests of a home that is let, read from their own.

use crate::access::secret;
use crate::api::{CalendarFile, FeedView};
use crate::error::{ApiError, Body};
use crate::house::{House, path_of};
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use icalendar::{Calendar, Component, Event, EventLike, EventStatus, Property};
use jiff::Timestamp;
use jiff::civil::{Date, DateTime, date};
use jiff::tz::TimeZone;
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::home::{Guests, Home, Stay};
use murlo_household::rounds::{Occasion, Span, Visit, occasions};
use murlo_store::Store;

/// No calendar of a home is longer.
const LONGEST: usize = 512 * 1024;

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
    for one in house.occasions(&visits) {
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
        .status(match one.is_cancelled {
            true => EventStatus::Cancelled,
            false => EventStatus::Confirmed,
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
    fn occasions(&self, visits: &[Kept<Visit>]) -> Vec<Occasion> {
        let names = |visit: &Visit| {
            let course = visit.course().unwrap_or_default();
            (
                format!("Visit: {}", visit.in_short(&course)),
                self.places().text_of(visit, &course),
            )
        };
        occasions(self.cards(), visits, names, &self.zone, self.today())
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

//! The devices of the household: listed, let in by a code, called otherwise, forgotten.

use crate::api::{
    DeviceDraft, DeviceView, DevicesView, Invite, InviteKind, Invited, Pairing, WayIn,
};
use crate::asking::Asking;
use crate::cards::code as picture;
use crate::error::{ApiError, Body};
use crate::invitation::{invite as invited, not_before};
use crate::reached::Base;
use crate::sign_in::{guessed, hashed, taken_in, with_cookie};
use crate::state::{AppState, today};
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::Response;
use axum::{Extension, Json};
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use murlo_base::problem::{Code, Problem};
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::home::Home;
use murlo_household::devices::{CODE_HOLDS, Device, DeviceKind, read_code};
use murlo_line::Arrived;
use murlo_store::Store;
use std::collections::BTreeSet;

/// What devices are shown with: the day, the clock, and what homes are called.
struct ShownDevices {
    zone: TimeZone,
    today: Date,
    is_12_hours: bool,
    homes: Vec<Home>,
    brewers: Vec<Brewer>,
}

impl ShownDevices {
    fn read(store: &Store, now: Timestamp) -> Result<Self, ApiError> {
        let settings = store.settings()?;
        Ok(Self {
            zone: TimeZone::get(&settings.time_zone).unwrap_or(TimeZone::UTC),
            today: today(now, &settings.time_zone),
            is_12_hours: settings.has_12_hours(),
            brewers: store.current()?,
            homes: store
                .all::<Home>()?
                .into_iter()
                .map(|kept| kept.fact)
                .collect(),
        })
    }

    /// "today 10:30", "12 Nov".
    fn seen(&self, at: i64) -> String {
        let Ok(at) = Timestamp::from_second(at) else {
            return String::new();
        };
        let at = at.to_zoned(self.zone.clone());
        match at.date() == self.today {
            true => format!("today {}", text::time(at.time(), self.is_12_hours)),
            false => text::day(at.date(), self.today),
        }
    }

    fn may(&self, kind: &DeviceKind) -> String {
        match kind {
            DeviceKind::Full => "May do everything".to_owned(),
            DeviceKind::Helper => "Helps: plans, does and logs".to_owned(),
            DeviceKind::Counts { brewer_id } => {
                let brewer = self.brewers.iter().find(|brewer| brewer.id == *brewer_id);
                let brewer =
                    brewer.map_or("a brewer that is gone", |brewer| brewer.nickname.as_str());
                format!("Counts what {brewer} brews")
            }
            DeviceKind::Look { home_id, until } => {
                let home = self.homes.iter().find(|home| home.id == *home_id);
                let home = home.map_or("a home that is gone", |home| home.name.as_str());
                format!("Looks at {home}, until {}", text::day(*until, self.today))
            }
        }
    }
}

/// The devices of the household.
#[utoipa::path(get, path = "/api/devices", responses((status = 200, body = DevicesView), (status = 401), (status = 403)))]
pub async fn devices(
    State(state): State<AppState>,
    Asking(known): Asking,
) -> Result<Json<DevicesView>, ApiError> {
    let (now, guarded) = (state.now(), state.guarded);
    let this = known.map(|known| known.id);
    let view = state.store(move |store| {
        let shown = ShownDevices::read(store, now)?;
        let devices = store.devices()?;
        let is_over = |at: i64, device: &Device| {
            let made_at = Timestamp::from_second(at).unwrap_or(Timestamp::MIN);
            now >= device.ends_at(made_at, &shown.zone)
        };
        let people: BTreeSet<_> = devices
            .iter()
            .filter_map(|kept| kept.device.person.clone())
            .collect();
        let devices = devices
            .into_iter()
            .filter(|kept| !is_over(kept.made_at, &kept.device));
        let view = |kept: murlo_store::KeptDevice| DeviceView {
            is_this: this.as_ref() == Some(&kept.id),
            id: kept.id,
            may: shown.may(&kept.device.kind),
            seen: shown.seen(kept.seen_at),
            name: kept.device.name,
            person: kept.device.person,
            kind: kept.device.kind,
        };
        Ok(DevicesView {
            guarded,
            devices: devices.map(view).collect(),
            people: people.into_iter().collect(),
        })
    });
    Ok(Json(view.await?))
}

/// Calls a device otherwise.
#[utoipa::path(put, path = "/api/devices/{id}", params(("id" = String, Path)), request_body = DeviceDraft, responses((status = 204), (status = 404), (status = 422)))]
pub async fn change_device(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(draft): Body<DeviceDraft>,
) -> Result<StatusCode, ApiError> {
    let now = state.now();
    let change = state.store(move |store| {
        let known = store.devices()?.into_iter().find(|kept| kept.id == id);
        let known = known.ok_or_else(|| ApiError::NotFound("no such device".to_owned()))?;
        let named = Device {
            name: draft.name,
            person: draft.person,
            kind: known.device.kind,
        };
        // A look that is over stays as it was.
        let today = today(now, &store.settings()?.time_zone);
        Ok(store.alter_device(&id, &named.checked(today)?)?)
    });
    change.await?;
    state.changed("devices");
    Ok(StatusCode::NO_CONTENT)
}

/// Forgets a device: it is signed out at once.
#[utoipa::path(delete, path = "/api/devices/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn forget_device(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    set_forgotten(&state, id, true).await
}

/// Takes a forgotten device back.
#[utoipa::path(post, path = "/api/devices/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_device(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    set_forgotten(&state, id, false).await
}

async fn set_forgotten(
    state: &AppState,
    id: String,
    forgotten: bool,
) -> Result<StatusCode, ApiError> {
    let of = id.clone();
    state
        .store(move |store| Ok(store.forget_device(&of, forgotten)?))
        .await?;
    state.device_gone(&id);
    Ok(StatusCode::NO_CONTENT)
}

/// Makes a code that takes a device in, or the address of a look.
#[utoipa::path(post, path = "/api/invitations", request_body = Invite, responses((status = 200, body = Invited), (status = 401), (status = 403), (status = 409), (status = 422)))]
pub async fn invite(
    State(state): State<AppState>,
    Base(base): Base,
    Body(wish): Body<Invite>,
) -> Result<Json<Invited>, ApiError> {
    if !state.guarded {
        let why = "nobody else reaches this household: serve it with --home first";
        return Err(ApiError::Conflict(Problem::new(
            Code::DoesNotFit,
            "may",
            why,
        )));
    }
    let now = state.now();
    let kind = match wish.may {
        InviteKind::Full => DeviceKind::Full,
        InviteKind::Helper => DeviceKind::Helper,
        InviteKind::Look => return look(&state, wish, &base).await,
        InviteKind::Counts => return counts(&state, wish, &base).await,
    };
    let code = state.store(move |store| invited(store, &kind, now)).await?;
    // Whoever sits at the machine itself asks by an address that leads nowhere from elsewhere.
    let is_here = base.contains("//localhost") || base.contains("//127.0.0.1");
    let ways = match state.reached.authority.is_some() || is_here {
        true => state.reached.ways_in(&code),
        false => vec![format!("{base}/pair#{code}")],
    };
    let ways = ways.into_iter().map(way);
    Ok(Json(Invited {
        ways: ways.collect::<Result<_, _>>()?,
        holds_s: Some(CODE_HOLDS.as_secs()),
        command: None,
        code: Some(code),
    }))
}

fn way(address: String) -> Result<WayIn, ApiError> {
    Ok(WayIn {
        picture: picture(&address)?,
        address,
    })
}

/// A link that looks at one home: it is let in as it is made.
async fn look(state: &AppState, wish: Invite, base: &str) -> Result<Json<Invited>, ApiError> {
    let now = state.now();
    let missing = |field: &str, message: &str| Problem::new(Code::Missing, field, message);
    let home_id = wish
        .home_id
        .ok_or_else(|| missing("home_id", "choose the home"))?;
    let until = wish
        .until
        .ok_or_else(|| missing("until", "choose the last day"))?;
    let person = wish.person.unwrap_or_default();
    let device = Device {
        name: match person.trim() {
            "" => "A link".to_owned(),
            who => format!("{who}'s link"),
        },
        person: None,
        kind: DeviceKind::Look { home_id, until },
    };
    let (mut kept, token) = taken_in(state, device)?;
    let hash = hashed(&token);
    let ends_at = state.store(move |store| {
        let shown = ShownDevices::read(store, now)?;
        kept.device = kept.device.checked(shown.today)?;
        if let DeviceKind::Look { home_id, .. } = &kept.device.kind {
            store.get::<Home>(home_id)?;
        }
        store.add_device(&kept, &hash)?;
        Ok(kept.device.ends_at(now, &shown.zone))
    });
    let ends_at = ends_at.await?;
    state.changed("devices");
    Ok(Json(Invited {
        code: None,
        holds_s: Some(ends_at.duration_since(now).as_secs()),
        command: None,
        ways: vec![way(format!("{base}/look#{token}"))?],
    }))
}

/// A token with which a home's own automation tells what one brewer brews; it is told once, and cut off by forgetting it.
async fn counts(state: &AppState, wish: Invite, base: &str) -> Result<Json<Invited>, ApiError> {
    let now = state.now();
    let message = "choose the brewer";
    let brewer_id = wish
        .brewer_id
        .ok_or_else(|| Problem::new(Code::Missing, "brewer_id", message))?;
    let device = Device {
        name: "A plug that counts".to_owned(),
        person: None,
        kind: DeviceKind::Counts {
            brewer_id: brewer_id.clone(),
        },
    };
    let (mut kept, token) = taken_in(state, device)?;
    let hash = hashed(&token);
    let id = brewer_id.clone();
    let add = state.store(move |store| {
        let brewer: Brewer = store.get(&id)?;
        let named = format!("What counts at {}", brewer.nickname);
        kept.device.name = text::name("name", &named).unwrap_or(kept.device.name);
        Ok(store.add_device(&kept, &hash)?)
    });
    add.await?;
    state.changed("devices");
    let address = format!("{base}/api/brewers/{brewer_id}/counts");
    // Such as `date` writes it: whole seconds.
    let at = Timestamp::from_second(now.as_second()).unwrap_or(now);
    let brew = format!(r#"{{"brews":[{{"id":"brew-1","at":"{at}","cups":1}}]}}"#);
    let command = format!(
        "curl -H 'authorization: Bearer {token}' -H 'content-type: application/json' -d '{brew}' {address}"
    );
    Ok(Json(Invited {
        code: None,
        holds_s: None,
        command: Some(command),
        ways: vec![way(address)?],
    }))
}

/// Takes this device in.
#[utoipa::path(post, path = "/api/pair", request_body = Pairing, responses((status = 204), (status = 401), (status = 422), (status = 429)))]
pub async fn pair(
    State(state): State<AppState>,
    Extension(arrived): Extension<Arrived>,
    base: Base,
    Body(given): Body<Pairing>,
) -> Result<Response, ApiError> {
    let now = state.now();
    let code = hashed(&read_code(&given.code)?);
    // What it is called is checked before the code is used up, and before it counts as a guess.
    let zone = state.store(|store| Ok(store.settings()?.time_zone)).await?;
    let named = Device {
        name: given.name,
        person: given.person,
        kind: DeviceKind::Full,
    };
    let named = named.checked(today(now, &zone))?;
    let asked = code.clone();
    let check = state.store(move |store| Ok(store.invited(&asked, not_before(now))?));
    let wrong = "this code is not known, was used, or is older than five minutes: make a new one";
    let kind = match guessed(&state, arrived, check, wrong).await {
        Ok(kind) => kind,
        Err(refused) => return Ok(refused),
    };
    let (kept, token) = taken_in(&state, Device { kind, ..named })?;
    let hash = hashed(&token);
    state
        .store(move |store| Ok(store.take_in_device(&code, &kept, &hash)?))
        .await?;
    state.changed("devices");
    Ok(with_cookie(token, &base))
}

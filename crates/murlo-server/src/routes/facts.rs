//! Homes, waters, agents, brewers, settings, and the Counter computed from them.

use crate::api::{
    BackupsView, BrewerView, CounterView, FamilyView, HomeDraft, HouseholdView, InsideView,
    JournalLine, PastCleanDraft, PutAway, PutAwayKind,
};
use crate::archive::archive;
use crate::asking::Asking;
use crate::error::{ApiError, Body, NewId, Queried};
use crate::house;
use crate::known::plan_of;
use crate::lines::log_lines;
use crate::past::Past;
use crate::state::{AppState, today};
use crate::water_views::water_views;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem};
use murlo_base::text;
use murlo_base::units::Tool;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::job::Cadence;
use murlo_brewer::metered::by_day;
use murlo_brewer::water::Water;
use murlo_brewer::{Brewer, BrewerDraft, Family, Needle, NeedleDraft};
use murlo_chemistry::cleaning::Bathed;
use murlo_clean::replay;
use murlo_household::counter::BrewerCard;
use murlo_household::counter::weeks::coming_weeks;
use murlo_household::rounds::Visit;
use murlo_household::stock::Supply;
use murlo_household::{PastClean, PhotoOf, Settings, ToldBath, WayShown, backups};
use murlo_plan::{KeptWay, pace};
use murlo_store::{Backups, Store};
use serde::Deserialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// A brewer's chart goes back a year and a half.
const CHART_DAYS: i32 = 548;

/// Brewers, most urgent first.
#[utoipa::path(get, tag = "shown offline", path = "/api/counter", responses((status = 200, body = CounterView)))]
pub async fn counter(State(state): State<AppState>) -> Result<Json<CounterView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let past = Past::read(store, now)?;
        let brewers: Vec<BrewerCard> = past.facts().cards(past.brewers());
        Ok(CounterView {
            today: past.today,
            now,
            weeks: coming_weeks(&brewers, past.today),
            brewers,
            inside: inside(store, &past)?,
            visits: house::today(store, &past)?,
        })
    });
    Ok(Json(view.await?))
}

/// What is in the machines now, in order of the cleans' ids.
fn inside(store: &Store, past: &Past) -> Result<Vec<InsideView>, ApiError> {
    let mut views = Vec::new();
    for id in past.running() {
        let record = store.clean(id)?;
        let state = replay(&record.plan, &record.events)
            .map_err(|problem| ApiError::Internal(problem.to_string()))?;
        let at = state.current.map(|i| &state.steps[i]);
        views.push(InsideView {
            nickname: record.plan.nickname,
            title: state.step.as_ref().map(|step| step.title.clone()),
            timer: at.and_then(|step| step.timer.clone()),
            clean_id: record.id,
            text: state.inside_text,
            paused: state.paused,
        });
    }
    views.sort_by(|a, b| a.clean_id.cmp(&b.clean_id));
    Ok(views)
}

/// Settings, homes, waters and agents.
#[utoipa::path(get, tag = "shown offline", path = "/api/household", responses((status = 200, body = HouseholdView)))]
pub async fn household(
    State(state): State<AppState>,
    asking: Asking,
) -> Result<Json<HouseholdView>, ApiError> {
    let now = state.now();
    let backups = state.backups.clone();
    let view = state.store(move |store| {
        let past = Past::read(store, now)?;
        let (settings, today) = (past.settings.clone(), past.today);
        Ok(HouseholdView {
            today,
            backups: backups.map(|b| backups_view(&b, today)).transpose()?,
            tools: Tool::of(settings.units),
            settings,
            homes: asking.homes(store.current()?),
            waters: water_views(store)?,
            agents: store.current()?,
            empty: store.is_empty()?,
            pace: pace::lines(&past.history.paces, past.settings.pace_after),
        })
    });
    Ok(Json(view.await?))
}

fn backups_view(kept: &Backups, today: Date) -> Result<BackupsView, ApiError> {
    let days: Vec<_> = kept.all()?.into_iter().map(|backup| backup.day).collect();
    Ok(BackupsView {
        text: backups::summary(&days, today),
        folder: kept.folder().display().to_string(),
        is_stale: backups::is_stale(&days, today),
    })
}

/// Replaces the settings.
#[utoipa::path(put, path = "/api/settings", request_body = Settings, responses((status = 204), (status = 422)))]
pub async fn put_settings(
    State(state): State<AppState>,
    Body(settings): Body<Settings>,
) -> Result<StatusCode, ApiError> {
    settings.check()?;
    state
        .store(move |store| Ok(store.put_settings(&settings)?))
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// What the first device of a new household writes in.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FirstDevice {
    /// Its language, such as "en-GB".
    language: String,
    /// Whether its clock has 12 hours.
    has_12_hours: bool,
}

/// Writes amounts and times as the first device does, while nobody has told the household anything; later it changes nothing.
#[utoipa::path(post, path = "/api/settings/first", request_body = FirstDevice, responses((status = 200, body = Settings), (status = 422)))]
pub async fn first_device(
    State(state): State<AppState>,
    Body(device): Body<FirstDevice>,
) -> Result<Json<Settings>, ApiError> {
    let settings = state.store(move |store| {
        let known = store.settings()?;
        if !store.is_empty()? {
            return Ok(known);
        }
        let settings = known.as_written(&device.language, device.has_12_hours);
        store.put_settings(&settings)?;
        Ok(settings)
    });
    let settings = settings.await?;
    state.changed("facts");
    Ok(Json(settings))
}

/// Adds a home; sending it again under the same id is harmless.
#[utoipa::path(post, path = "/api/homes", params(("id" = Option<String>, Query, description = "Made by the device")), request_body = HomeDraft, responses((status = 200, body = Home), (status = 409), (status = 422)))]
pub async fn add_home(
    State(state): State<AppState>,
    NewId(id): NewId,
    Body(draft): Body<HomeDraft>,
) -> Result<Json<Home>, ApiError> {
    let home = Home::named(id, text::name("name", &draft.name)?);
    let kept = home.clone();
    state.store(move |store| Ok(store.add(&kept)?)).await?;
    state.changed("facts");
    Ok(Json(home))
}

/// Adds an agent under an id made by the device; sending it again is harmless.
#[utoipa::path(post, path = "/api/agents", request_body = Agent, responses((status = 204), (status = 409), (status = 422)))]
pub async fn add_agent(
    State(state): State<AppState>,
    Body(agent): Body<Agent>,
) -> Result<StatusCode, ApiError> {
    let agent = agent.checked()?;
    state.store(move |store| Ok(store.add(&agent)?)).await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// Puts an agent away; `restore` brings it back.
#[utoipa::path(delete, path = "/api/agents/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn delete_agent(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<Agent>(state, id, true).await
}

/// Brings an agent back.
#[utoipa::path(post, path = "/api/agents/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_agent(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<Agent>(state, id, false).await
}

/// Changes an agent: its name, strength or bottle.
#[utoipa::path(put, path = "/api/agents/{id}", params(("id" = String, Path)), request_body = Agent, responses((status = 204), (status = 404), (status = 422)))]
pub async fn change_agent(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(agent): Body<Agent>,
) -> Result<StatusCode, ApiError> {
    let agent = agent.checked()?;
    if agent.id != id {
        return Err(Problem::new(
            Code::Contradiction,
            "id",
            "the id in the address and in the body differ",
        )
        .into());
    }
    state
        .store(move |store| {
            store.get::<Agent>(&id)?;
            Ok(store.put(&agent)?)
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// How often a small work is done on a brewer; the usual when neither days nor brews are given.
#[utoipa::path(put, path = "/api/brewers/{id}/cadence", params(("id" = String, Path)), request_body = Cadence, responses((status = 204), (status = 404), (status = 422)))]
pub async fn put_cadence(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(cadence): Body<Cadence>,
) -> Result<StatusCode, ApiError> {
    state
        .store(move |store| {
            let brewer = store.get::<Brewer>(&id)?.with_cadence(cadence)?;
            Ok(store.put(&brewer)?)
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// The one there is.
const fn only<T>(all: &[T]) -> Option<&T> {
    match all {
        [one] => Some(one),
        _ => None,
    }
}

/// Families with their starting figures, for a new brewer.
#[utoipa::path(get, path = "/api/families", responses((status = 200, body = Vec<FamilyView>)))]
pub async fn families(State(state): State<AppState>) -> Result<Json<Vec<FamilyView>>, ApiError> {
    let now = state.now();
    let views = state.store(move |store| {
        let settings = store.settings()?;
        let today = today(now, &settings.time_zone);
        // Of several nobody knows which is meant: the first of the alphabet is none that anybody chose.
        let home = only(&store.current::<Home>()?).map_or_else(String::new, |h| h.id.clone());
        let water = only(&store.current::<Water>()?).map_or_else(String::new, |w| w.id.clone());
        let view = |family: Family| FamilyView {
            family,
            label: family.label().to_owned(),
            draft: BrewerDraft::template(family, settings.units, &home, &water, today),
            needles: NeedleDraft::all(&Needle::usual(family)),
            is_pressed: family.is_pressed(),
            has_disc: family.has_disc(),
            has_adapter: family.has_adapter(),
        };
        Ok(Vec::from(Family::ALL.map(view)))
    });
    Ok(Json(views.await?))
}

/// Checks a form against what the household has, and keeps the brewer.
fn keep_brewer(
    store: &Store,
    id: String,
    draft: &BrewerDraft,
    before: Option<&Brewer>,
    now: Timestamp,
) -> Result<BrewerCard, ApiError> {
    let today = today(now, &store.settings()?.time_zone);
    let brewer = draft.check(id, before, today)?;
    if store.get::<Home>(&brewer.home_id).is_err() {
        return Err(Problem::new(
            Code::UnknownId,
            "home_id",
            "no such home: choose one of the list or add it first",
        )
        .into());
    }
    if store.get::<Water>(brewer.water_id()).is_err() {
        return Err(Problem::new(
            Code::UnknownId,
            "water_id",
            "no such water: choose one of the list or add it first",
        )
        .into());
    }
    // What it forbade before may have gone from the cupboard since.
    let was_forbidden = |id: &String| before.is_some_and(|b| b.forbids.contains(id));
    let agents: Vec<Agent> = store.current()?;
    let is_known = |id: &String| was_forbidden(id) || agents.iter().any(|agent| agent.id == *id);
    if let Some(unknown) = brewer.forbids.iter().find(|id| !is_known(id)) {
        let message = format!("there is no agent \"{unknown}\": choose of the cupboard's list");
        return Err(Problem::new(Code::UnknownId, "forbids", message).into());
    }
    match before {
        Some(_) => store.put(&brewer)?,
        None => store.add(&brewer)?,
    }
    let past = Past::read(store, now)?;
    past.facts()
        .card(&brewer)
        .ok_or_else(|| ApiError::Internal("a kept brewer has no card".into()))
}

/// Adds a brewer; sending it again under the same id is harmless.
#[utoipa::path(post, path = "/api/brewers", params(("id" = Option<String>, Query, description = "Made by the device")), request_body = BrewerDraft, responses((status = 200, body = BrewerCard), (status = 409), (status = 422)))]
pub async fn add_brewer(
    State(state): State<AppState>,
    NewId(id): NewId,
    Body(draft): Body<BrewerDraft>,
) -> Result<Json<BrewerCard>, ApiError> {
    let now = state.now();
    let card = state
        .store(move |store| keep_brewer(store, id, &draft, None, now))
        .await?;
    state.changed("facts");
    Ok(Json(card))
}

/// The form for another brewer like this one.
#[utoipa::path(get, path = "/api/brewers/{id}/like", params(("id" = String, Path)), responses((status = 200, body = BrewerDraft), (status = 404)))]
pub async fn another_like(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Json<BrewerDraft>, ApiError> {
    let now = state.now();
    let draft = state.store(move |store| {
        let settings = store.settings()?;
        let today = today(now, &settings.time_zone);
        let brewer = store.get::<Brewer>(&id)?;
        Ok(BrewerDraft::another_like(&brewer, settings.units, today))
    });
    Ok(Json(draft.await?))
}

/// One brewer with its form and log.
#[utoipa::path(get, tag = "shown offline", path = "/api/brewers/{id}", params(("id" = String, Path)), responses((status = 200, body = BrewerView), (status = 404)))]
pub async fn brewer(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Json<BrewerView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let brewer: Brewer = store.get(&id)?;
        let mut entries = store.entries_of(&id)?;
        let past = Past::read(store, now)?.with_journal(&id, entries.clone());
        let facts = past.facts();
        let missing = || ApiError::Internal("a kept brewer has no card".into());
        let card = facts.card(&brewer).ok_or_else(missing)?;
        let courses = brewer
            .circuits
            .iter()
            .map(|circuit| {
                facts
                    .course(&brewer, circuit, CHART_DAYS)
                    .ok_or_else(missing)
            })
            .collect::<Result<_, _>>()?;
        let interval = facts.interval(&brewer).ok_or_else(missing)?;
        let figures = facts.figures(&brewer);
        let learned = facts.learned(&brewer, (&past.history, &entries), (&card, &figures));
        entries.reverse();
        let log = log_lines(store, past.today)?
            .into_iter()
            .filter(|line| line.brewer_id == id)
            .collect();
        let agents: Vec<Agent> = store.all()?.into_iter().map(|k| k.fact).collect();
        let own = past.ways.iter().filter(|way| way.brewer_id == id);
        let shown = own.filter_map(|way| WayShown::of(way, &brewer, &agents, past.today));
        let mut ways: Vec<_> = shown.collect();
        ways.sort_by(|a, b| a.name.cmp(&b.name).then(a.id.cmp(&b.id)));
        Ok(BrewerView {
            ways,
            today: past.today,
            card,
            draft: BrewerDraft::of(&brewer, past.settings.units),
            figures,
            needles: brewer.needles(),
            log,
            courses,
            learned,
            photos: store.photos_of(&PhotoOf::Brewer(id))?,
            interval,
            journal: by_day(entries)
                .into_iter()
                .map(|entry| JournalLine {
                    is_counted: entry.is_metered(),
                    text: entry.text(&brewer, past.today),
                    entry,
                })
                .collect(),
        })
    });
    Ok(Json(view.await?))
}

/// Changes a brewer; a new water or habit holds from today.
#[utoipa::path(put, path = "/api/brewers/{id}", params(("id" = String, Path)), request_body = BrewerDraft, responses((status = 200, body = BrewerCard), (status = 404), (status = 422)))]
pub async fn change_brewer(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(draft): Body<BrewerDraft>,
) -> Result<Json<BrewerCard>, ApiError> {
    let now = state.now();
    let card = state.store(move |store| {
        let before: Brewer = store.get(&id)?;
        keep_brewer(store, id, &draft, Some(&before), now)
    });
    let card = card.await?;
    state.changed("facts");
    Ok(Json(card))
}

/// Whether something is put away although that is unusual.
#[derive(Deserialize)]
pub struct Meant {
    #[serde(default)]
    meant: bool,
}

/// Puts a brewer away; `restore` brings it back. One with a clean running or acid inside only when that is meant.
#[utoipa::path(delete, path = "/api/brewers/{id}", params(("id" = String, Path), ("meant" = Option<bool>, Query, description = "Although a clean of it runs or acid is inside")), responses((status = 204), (status = 404), (status = 409)))]
pub async fn delete_brewer(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Queried(Meant { meant }): Queried<Meant>,
) -> Result<StatusCode, ApiError> {
    let now = state.now();
    let asked = id.clone();
    let allowed = state.store(move |store| {
        let brewer: Brewer = store.get(&asked)?;
        let past = Past::read(store, now)?;
        Ok(past.facts().may_put_away(&brewer, meant))
    });
    allowed.await?.map_err(ApiError::Conflict)?;
    archive::<Brewer>(state, id, true).await
}

/// Everything that was put away and can be brought back.
#[utoipa::path(get, path = "/api/archive", responses((status = 200, body = Vec<PutAway>)))]
pub async fn put_away(State(state): State<AppState>) -> Result<Json<Vec<PutAway>>, ApiError> {
    let now = state.now();
    let all = state.store(move |store| {
        let settings = store.settings()?;
        let day = today(now, &settings.time_zone);
        let mut all = Vec::new();
        let mut add = |kind, id: String, name: String| all.push(PutAway { kind, id, name });
        for kept in store.all::<Brewer>()?.into_iter().filter(|k| k.archived) {
            add(PutAwayKind::Brewer, kept.fact.id, kept.fact.nickname);
        }
        for kept in store.all::<Water>()?.into_iter().filter(|k| k.archived) {
            add(PutAwayKind::Water, kept.fact.id, kept.fact.name);
        }
        for kept in store.all::<Agent>()?.into_iter().filter(|k| k.archived) {
            add(PutAwayKind::Agent, kept.fact.id, kept.fact.name);
        }
        for kept in store.all::<PastClean>()?.into_iter().filter(|k| k.archived) {
            let name = format!("{}: {}", kept.fact.day, kept.fact.note);
            add(PutAwayKind::PastClean, kept.fact.id, name);
        }
        for kept in store.all::<KeptWay>()?.into_iter().filter(|k| k.archived) {
            add(PutAwayKind::Way, kept.fact.id, kept.fact.name);
        }
        for kept in store.all::<Home>()?.into_iter().filter(|k| k.archived) {
            add(PutAwayKind::Home, kept.fact.id, kept.fact.name);
        }
        for kept in store.all::<Visit>()?.into_iter().filter(|k| k.archived) {
            let name = format!("the visit of {}", text::day(kept.fact.day, day));
            add(PutAwayKind::Visit, kept.fact.id, name);
        }
        for kept in store.all::<Supply>()?.into_iter().filter(|k| k.archived) {
            add(PutAwayKind::Supply, kept.fact.id, kept.fact.name);
        }
        for photo in store.photos_put_away()? {
            let day = photo
                .at
                .map(|at| text::day(today(at, &settings.time_zone), day));
            let name = day.map_or_else(|| "a photo".to_owned(), |day| format!("a photo of {day}"));
            add(PutAwayKind::Photo, photo.id, name);
        }
        Ok(all)
    });
    Ok(Json(all.await?))
}

/// Brings a brewer back.
#[utoipa::path(post, path = "/api/brewers/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_brewer(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<Brewer>(state, id, false).await
}

/// Tells of a clean that was done without guidance; sending it again under the same id is harmless.
#[utoipa::path(post, path = "/api/brewers/{id}/past-cleans", params(("id" = String, Path), ("id" = Option<String>, Query, description = "Made by the device")), request_body = PastCleanDraft, responses((status = 200, body = PastClean), (status = 404), (status = 409), (status = 422)))]
pub async fn add_past_clean(
    State(state): State<AppState>,
    Path(brewer_id): Path<String>,
    NewId(id): NewId,
    Body(draft): Body<PastCleanDraft>,
) -> Result<Json<PastClean>, ApiError> {
    let now = state.now();
    let past = state.store(move |store| {
        let brewer: Brewer = store.get(&brewer_id)?;
        let past = PastClean {
            id,
            brewer_id,
            day: draft.day,
            note: draft.note,
            bathed: BTreeMap::new(),
        };
        let past = match &draft.bath {
            None => past,
            Some(told) => {
                let words = told.words(&store.current::<Agent>()?)?;
                past.with_bath(&words, told_baths(store, &brewer, told, now)?)
            }
        };
        let past = past.told(&brewer, today(now, &store.settings()?.time_zone))?;
        store.add(&past)?;
        Ok(past)
    });
    let past = past.await?;
    state.changed("facts");
    Ok(Json(past))
}

/// What told baths did in each circuit of a brewer, as its plans have such baths.
fn told_baths(
    store: &Store,
    brewer: &Brewer,
    told: &ToldBath,
    now: Timestamp,
) -> Result<BTreeMap<String, Bathed>, ApiError> {
    let mut all = BTreeMap::new();
    for circuit in brewer
        .circuits
        .iter()
        .filter(|_| told.soak_minutes.is_some())
    {
        let plan = plan_of(store, &brewer.id, told.options(&circuit.id), now);
        let baths = plan.map_err(|e| e.within("bath"))?.baths();
        all.extend(baths.map(|baths| (circuit.id.clone(), baths)));
    }
    Ok(all)
}

/// Takes a told clean back.
#[utoipa::path(delete, path = "/api/past-cleans/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn delete_past_clean(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<PastClean>(state, id, true).await
}

/// Brings a told clean back.
#[utoipa::path(post, path = "/api/past-cleans/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_past_clean(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<PastClean>(state, id, false).await
}

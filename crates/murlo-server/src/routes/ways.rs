//! Ways of cleaning that a household keeps.

use crate::api::{ChangedWay, NewWay, WayFrom};
use crate::archive::archive;
use crate::error::{ApiError, Body};
use crate::known::{KnownBrewer, plan_of};
use crate::past::Past;
use crate::state::{AppState, today};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use jiff::Timestamp;
use murlo_base::problem::{Code, Problem};
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::bath::{self, Agent};
use murlo_chemistry::heater::Way;
use murlo_clean::habits_of;
use murlo_household::{WayFile, WayShown};
use murlo_plan::{Habits, KeptWay, Kind, PlanOptions, WayOrigin, WayRevision};
use murlo_store::Store;

/// What was asked to be kept, before it is proved.
struct AskedWay {
    circuit_id: String,
    habits: Habits,
    from: WayOrigin,
    /// Whether its rinses are only counted up where this brewer wants more: nobody said how many.
    counts_up: bool,
    /// The chalk it was done against, mg, where that is not what is there today.
    chalk_mg: Option<f64>,
}

/// Keeps a way under an id made by the device; sending it again is harmless. It is run on the simulated brewer first.
#[utoipa::path(post, path = "/api/brewers/{id}/ways", params(("id" = String, Path)), request_body = NewWay, responses((status = 200, body = WayShown), (status = 404), (status = 409), (status = 422)))]
pub async fn keep_way(
    State(state): State<AppState>,
    Path(brewer_id): Path<String>,
    Body(new): Body<NewWay>,
) -> Result<Json<WayShown>, ApiError> {
    let id = text::id("id", &new.id)?;
    let name = text::name("name", &new.name)?;
    let now = state.now();
    let shown = state.store(move |store| {
        let brewer: Brewer = store.get(&brewer_id)?;
        if let Some(known) = store
            .current::<KeptWay>()?
            .into_iter()
            .find(|way| way.id == id)
        {
            return match known.brewer_id == brewer.id {
                true => shown(store, &known, &brewer, now),
                false => Err(ApiError::Conflict(Problem::new(
                    Code::Contradiction,
                    "id",
                    "another way has this id: make a new one",
                ))),
            };
        }
        let asked = read(store, &brewer, new.circuit_id, new.from, now)?;
        let circuit_id = asked.circuit_id.clone();
        let way = KeptWay {
            id,
            brewer_id: brewer.id.clone(),
            circuit_id,
            name,
            revisions: vec![proved(store, &brewer, asked, now)?],
        };
        way.check(&brewer)?;
        store.add(&way)?;
        shown(store, &way, &brewer, now)
    });
    let shown = shown.await?;
    state.changed("facts");
    Ok(Json(shown))
}

/// Renames a way, or changes what is done in it from now on.
#[utoipa::path(put, path = "/api/ways/{id}", params(("id" = String, Path)), request_body = ChangedWay, responses((status = 200, body = WayShown), (status = 404), (status = 422)))]
pub async fn change_way(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(change): Body<ChangedWay>,
) -> Result<Json<WayShown>, ApiError> {
    let now = state.now();
    let shown = state.store(move |store| {
        let way: KeptWay = store.get(&id)?;
        let brewer: Brewer = store.get(&way.brewer_id)?;
        let name = change
            .name
            .map(|name| text::name("name", &name))
            .transpose()?;
        let revision = match change.from {
            None => None,
            Some(from) => {
                let asked = read(store, &brewer, Some(way.circuit_id.clone()), from, now)?;
                if asked.circuit_id != way.circuit_id {
                    let message = "that is of the other side: keep it as a way of its own";
                    return Err(Problem::new(Code::DoesNotFit, "from", message).into());
                }
                Some(proved(store, &brewer, asked, now)?)
            }
        };
        // What another device did to it meanwhile stays.
        let way = store.alter::<KeptWay>(&id, |way| {
            let way = KeptWay {
                name: name.unwrap_or_else(|| way.name.clone()),
                ..way
            };
            let way = match revision {
                Some(revision) => way.revised(revision),
                None => way,
            };
            way.check(&brewer)?;
            Ok(way)
        })?;
        shown(store, &way, &brewer, now)
    });
    let shown = shown.await?;
    state.changed("facts");
    Ok(Json(shown))
}

/// Puts a way away.
#[utoipa::path(delete, path = "/api/ways/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn delete_way(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<KeptWay>(state, id, true).await
}

/// Brings a way back.
#[utoipa::path(post, path = "/api/ways/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_way(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive::<KeptWay>(state, id, false).await
}

/// A way as a file that another household opens.
#[utoipa::path(get, path = "/api/ways/{id}/file", params(("id" = String, Path)), responses((status = 200, body = WayFile), (status = 404)))]
pub async fn way_file(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Response, ApiError> {
    let now = state.now();
    let file = state.store(move |store| {
        let way: KeptWay = store.get(&id)?;
        let brewer: Brewer = store.get(&way.brewer_id)?;
        let circuit = brewer.circuit("circuit_id", &way.circuit_id)?;
        let agents = agents(store)?;
        let agent = bath::find(&agents, &way.latest().habits.poured.agent_id)?;
        let habits = in_plain_amounts(store, &way, now)?;
        Ok(WayFile::of(&way, circuit, &agent, habits))
    });
    let disposition = "attachment; filename=\"murlo-way.json\"";
    let header = [(header::CONTENT_DISPOSITION, disposition)];
    Ok((header, Json(file.await?)).into_response())
}

/// Those in the cupboard, and what has been put away.
fn agents(store: &Store) -> Result<Vec<Agent>, ApiError> {
    Ok(store.all()?.into_iter().map(|kept| kept.fact).collect())
}

fn shown(
    store: &Store,
    way: &KeptWay,
    brewer: &Brewer,
    now: Timestamp,
) -> Result<WayShown, ApiError> {
    let today = today(now, &store.settings()?.time_zone);
    WayShown::of(way, brewer, &agents(store)?, today)
        .ok_or_else(|| ApiError::NotFound("the side of this way is gone".to_owned()))
}

/// What a way says, in amounts that need no marks of its brewer.
fn in_plain_amounts(store: &Store, way: &KeptWay, now: Timestamp) -> Result<Habits, ApiError> {
    let known = known(store, store.get(&way.brewer_id)?, &way.circuit_id, now)?;
    let habits = &way.latest().habits;
    let agent = bath::find(&agents(store)?, &habits.poured.agent_id)?;
    let facts = known.facts()?;
    Ok(Habits {
        poured: facts.in_plain_amounts(&agent, &habits.poured)?,
        ..habits.clone()
    })
}

fn known(
    store: &Store,
    brewer: Brewer,
    circuit_id: &str,
    now: Timestamp,
) -> Result<KnownBrewer, ApiError> {
    let options = PlanOptions {
        circuit_id: Some(circuit_id.to_owned()),
        ..PlanOptions::default()
    };
    KnownBrewer::read(store, brewer, &options, now)
}

/// What is to be kept, read from what it is kept from.
fn read(
    store: &Store,
    brewer: &Brewer,
    circuit_id: Option<String>,
    from: WayFrom,
    now: Timestamp,
) -> Result<AskedWay, ApiError> {
    let side = |given: Option<String>| -> Result<String, ApiError> {
        let options = PlanOptions {
            circuit_id: given,
            ..PlanOptions::default()
        };
        let past = Past::read(store, now)?;
        Ok(past.facts().side(brewer, &options)?.0.id.clone())
    };
    Ok(match from {
        WayFrom::Clean { clean_id } => {
            let record = store.clean(&clean_id)?;
            if record.plan.brewer_id != brewer.id {
                let message = "that clean was of another brewer: keep it there, and copy it";
                return Err(Problem::new(Code::DoesNotFit, "from.clean_id", message).into());
            }
            let circuit_id = record.plan.circuit_id.clone();
            let by_itself = has_programme(brewer, &circuit_id)?;
            AskedWay {
                habits: habits_of(&record.plan, &record.events, by_itself)
                    .map_err(ApiError::Conflict)?,
                chalk_mg: Some(record.plan.chalk.mg),
                from: WayOrigin::Clean { clean_id },
                counts_up: true,
                circuit_id,
            }
        }
        WayFrom::Plan { options } => planned(store, brewer, options, now)?,
        WayFrom::Way { way_id } => {
            let other: KeptWay = store.get(&way_id)?;
            let from = store.get::<Brewer>(&other.brewer_id)?.nickname;
            AskedWay {
                habits: in_plain_amounts(store, &other, now)?,
                chalk_mg: None,
                from: WayOrigin::Copied { from },
                counts_up: true,
                circuit_id: side(circuit_id)?,
            }
        }
        WayFrom::File { file } => {
            file.check()?;
            let circuit_id = side(circuit_id)?;
            let circuit = brewer.circuit("circuit_id", &circuit_id)?;
            AskedWay {
                habits: file.habits_for(circuit, &store.current::<Agent>()?)?,
                chalk_mg: None,
                from: WayOrigin::File,
                counts_up: true,
                circuit_id,
            }
        }
        WayFrom::Habits { habits } => AskedWay {
            habits,
            chalk_mg: None,
            from: WayOrigin::Proposed,
            counts_up: false,
            circuit_id: side(circuit_id)?,
        },
    })
}

fn has_programme(brewer: &Brewer, circuit_id: &str) -> Result<bool, ApiError> {
    let circuit = brewer.circuit("circuit_id", circuit_id)?;
    Ok(brewer.way(circuit) == Way::Programme)
}

/// What the plan for these choices would keep.
fn planned(
    store: &Store,
    brewer: &Brewer,
    options: PlanOptions,
    now: Timestamp,
) -> Result<AskedWay, ApiError> {
    let plan = plan_of(store, &brewer.id, options, now)?;
    let is_programme = plan.steps.iter().any(|step| step.is(Kind::Programme));
    let by_hand = has_programme(brewer, &plan.circuit_id)? && !is_programme;
    Ok(AskedWay {
        habits: Habits::of(&plan, by_hand),
        chalk_mg: None,
        from: WayOrigin::Plan,
        counts_up: false,
        circuit_id: plan.circuit_id,
    })
}

/// What is asked, once it has run on the simulated brewer.
fn proved(
    store: &Store,
    brewer: &Brewer,
    asked: AskedWay,
    now: Timestamp,
) -> Result<WayRevision, ApiError> {
    let known = known(store, brewer.clone(), &asked.circuit_id, now)?;
    let facts = known.facts()?;
    let plan = facts.prove(&asked.habits, &PlanOptions::default())?;
    let mut habits = asked.habits;
    match asked.counts_up {
        true => habits.rinses = habits.rinses.max(plan.rinse.portions),
        false => facts.rinses_enough(&habits, &plan)?,
    }
    Ok(WayRevision {
        since: today(now, &store.settings()?.time_zone),
        from: asked.from,
        habits,
        chalk_mg: asked.chalk_mg.unwrap_or(plan.chalk.mg),
    })
}

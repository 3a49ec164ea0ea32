//! Plans, mixes and running cleans.

use crate::api::{AheadView, CleanView, SentEvent, StartClean};
use crate::asking::Asking;
use crate::error::{ApiError, Body};
use crate::known::{KnownBrewer, ask, begin_of, plan_of};
use crate::past::Past;
use crate::state::{AppState, today};
use axum::Json;
use axum::extract::{Path, State};
use jiff::Timestamp;
use murlo_base::problem::{Code, Problem};
use murlo_base::text;
use murlo_brewer::Brewer;
use murlo_brewer::journal::What;
use murlo_chalk::pour::{Pour, PourDraft};
use murlo_clean::mishap::{Mishap, mishaps};
use murlo_clean::{
    Act, Event, RATINGS, State as CleanState, admit, ahead, happened_at, hold, leave_alone,
    not_counted_meanwhile, stands,
};
use murlo_household::{CleanRecord, PhotoOf};
use murlo_plan::bench::{BenchMix, MixDraft};
use murlo_plan::{Because, ButtonsHere, Comparison, Moment, OverDays, Plan, PlanOptions, Wish};
use murlo_store::Store;
use std::borrow::Cow;

/// The plan for a brewer, for these choices.
#[utoipa::path(post, path = "/api/brewers/{id}/plan", params(("id" = String, Path)), request_body = PlanOptions, responses((status = 200, body = Plan), (status = 404), (status = 422)))]
pub async fn plan(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(options): Body<PlanOptions>,
) -> Result<Json<Plan>, ApiError> {
    let now = state.now();
    Ok(Json(
        state
            .store(move |store| plan_of(store, &id, options, now))
            .await?,
    ))
}

/// The same clean with every agent and recipe, side by side, for the time and taste of these choices.
#[utoipa::path(post, path = "/api/brewers/{id}/baths", params(("id" = String, Path)), request_body = PlanOptions, responses((status = 200, body = Comparison), (status = 404), (status = 422)))]
pub async fn baths(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(options): Body<PlanOptions>,
) -> Result<Json<Comparison>, ApiError> {
    let now = state.now();
    Ok(Json(
        state
            .store(move |store| {
                ask(store, &id, options, now, |facts, options| {
                    facts.compare(&options)
                })
            })
            .await?,
    ))
}

/// Mixes a bath without a brewer.
#[utoipa::path(post, path = "/api/mix", request_body = MixDraft, responses((status = 200, body = BenchMix), (status = 422)))]
pub async fn mix(
    State(state): State<AppState>,
    Body(draft): Body<MixDraft>,
) -> Result<Json<BenchMix>, ApiError> {
    Ok(Json(
        state
            .store(move |store| Ok(draft.mix(&store.current()?)?))
            .await?,
    ))
}

/// What a bath came to that was poured without measuring.
#[utoipa::path(post, path = "/api/mix/unmeasured", request_body = PourDraft, responses((status = 200, body = Pour), (status = 422)))]
pub async fn unmeasured(
    State(state): State<AppState>,
    Body(draft): Body<PourDraft>,
) -> Result<Json<Pour>, ApiError> {
    let pour = state.store(move |store| {
        let units = store.settings()?.units;
        Ok(draft.reckon(&store.current()?, units)?)
    });
    Ok(Json(pour.await?))
}

/// Starts a clean; its plan is frozen.
#[utoipa::path(post, path = "/api/brewers/{id}/cleans", params(("id" = String, Path)), request_body = StartClean, responses((status = 200, body = CleanView), (status = 404), (status = 409), (status = 422)))]
pub async fn start(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Body(start): Body<StartClean>,
) -> Result<Json<CleanView>, ApiError> {
    text::id("id", &start.id)?;
    let now = state.now();
    let view = state.store(move |store| {
        let (mut plan, events) = begin_of(store, &id, &start, now)?;
        let brewer: Brewer = store.get(&id)?;
        let circuit = brewer.circuit("circuit_id", &plan.circuit_id)?;
        let past = Past::read(store, now)?;
        past.facts()
            .may_begin(&brewer, circuit)
            .map_err(ApiError::Conflict)?;
        if let Some(entry_id) = start.trouble {
            plan.because = Some(because(store, &brewer, entry_id, now)?);
        }
        store.begin_clean(&start.id, &plan, &events)?;
        if let Some(part) = &plan.part {
            store.alter::<OverDays>(&part.id, |mut over| {
                let begun = over.parts.get_mut(part.number as usize - 1);
                begun
                    .into_iter()
                    .for_each(|p| p.clean_id = Some(start.id.clone()));
                Ok(over)
            })?;
        }
        view(store, store.clean(&start.id)?, now)
    });
    let view = view.await?;
    state.changed("facts");
    Ok(Json(view))
}

/// The trouble that led to a clean.
fn because(
    store: &Store,
    brewer: &Brewer,
    entry_id: String,
    now: Timestamp,
) -> Result<Because, ApiError> {
    let entries = store.entries_of(&brewer.id)?;
    let told = entries
        .iter()
        .find(|e| e.id == entry_id && matches!(e.what, What::Trouble { .. }));
    let today = today(now, &store.settings()?.time_zone);
    match told {
        Some(entry) => Ok(Because {
            text: entry.text(brewer, today),
            entry_id,
        }),
        None => Err(Problem::new(
            Code::UnknownId,
            "trouble",
            "nothing was written down about this brewer under that id",
        )
        .into()),
    }
}

/// The cleans of the machine's other sides that run now.
fn beside(store: &Store, record: &CleanRecord) -> Result<Vec<CleanRecord>, ApiError> {
    if record.plan.side.is_none() {
        return Ok(Vec::new());
    }
    let all = store.summaries()?.into_iter();
    let running =
        all.filter(|c| c.brewer_id == record.plan.brewer_id && c.id != record.id && c.is_running());
    running.map(|c| Ok(store.clean(&c.id)?)).collect()
}

fn stood(record: &CleanRecord) -> Result<(Cow<'_, Plan>, CleanState), ApiError> {
    stands(&record.plan, &record.events).map_err(|p| ApiError::Internal(p.to_string()))
}

/// Says the buttons of its steps as they are taught by now, whatever they were when it was planned.
fn say_buttons(brewer: Option<&Brewer>, record: &mut CleanRecord) {
    let circuits = brewer.into_iter().flat_map(|brewer| &brewer.circuits);
    let circuit = circuits
        .into_iter()
        .find(|c| c.id == record.plan.circuit_id);
    let Some(now) = circuit.map(|circuit| &circuit.operation) else {
        return;
    };
    record.plan.say_buttons(now);
    for event in &mut record.events {
        if let Act::Planned {
            stage: Some(stage), ..
        } = &mut event.act
        {
            stage.say_buttons(&record.plan.buttons, now);
        }
    }
}

fn view(store: &Store, mut record: CleanRecord, now: Timestamp) -> Result<CleanView, ApiError> {
    // One that was put away says them as it was planned.
    let brewer = store.get::<Brewer>(&record.plan.brewer_id).ok();
    say_buttons(brewer.as_ref(), &mut record);
    let (plan, mut state) = stood(&record)?;
    let mut running_on_it = None;
    for other in beside(store, &record)? {
        let (other_plan, other_state) = stood(&other)?;
        let told = leave_alone((&plan, &state), (&other_plan, &other_state));
        running_on_it = running_on_it.or(told);
    }
    if let Some(told) = &running_on_it {
        hold(&mut state, told);
    }
    let plan = plan.into_owned();
    let buttons = brewer.as_ref().and_then(|brewer| {
        let circuit = brewer.circuits.iter().find(|c| c.id == plan.circuit_id)?;
        ButtonsHere::of(brewer, circuit, state.step.as_ref()?)
    });
    Ok(CleanView {
        buttons,
        leave_alone: running_on_it,
        events: record.events.len(),
        id: record.id,
        plan,
        state,
        now,
        tints: RATINGS,
    })
}

/// Where a clean stands.
#[utoipa::path(get, tag = "shown offline", path = "/api/cleans/{id}", params(("id" = String, Path)), responses((status = 200, body = CleanView), (status = 404)))]
pub async fn clean(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Json<CleanView>, ApiError> {
    let now = state.now();
    Ok(Json(
        state
            .store(move |store| view(store, store.clean(&id)?, now))
            .await?,
    ))
}

/// The planned way ahead, for a device that may lose its line.
#[utoipa::path(get, tag = "shown offline", path = "/api/cleans/{id}/ahead", params(("id" = String, Path)), responses((status = 200, body = AheadView), (status = 404)))]
pub async fn clean_ahead(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Json<AheadView>, ApiError> {
    let now = state.now();
    let way = state.store(move |store| {
        let mut record = store.clean(&id)?;
        let brewer = store.get::<Brewer>(&record.plan.brewer_id).ok();
        say_buttons(brewer.as_ref(), &mut record);
        Ok(AheadView {
            events: record.events.len(),
            way: ahead(&record.plan, &record.events, now),
        })
    });
    Ok(Json(way.await?))
}

/// What can have gone wrong by now, each with what still counts and what starts again.
#[utoipa::path(get, path = "/api/cleans/{id}/mishaps", params(("id" = String, Path)), responses((status = 200, body = Vec<Mishap>), (status = 404)))]
pub async fn clean_mishaps(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Json<Vec<Mishap>>, ApiError> {
    let now = state.now();
    let all = state.store(move |store| {
        let view = view(store, store.clean(&id)?, now)?;
        Ok(mishaps(&view.plan, &view.state))
    });
    Ok(Json(all.await?))
}

/// Takes an act in; sending it again is harmless.
#[utoipa::path(post, path = "/api/cleans/{id}/events", params(("id" = String, Path)), request_body = SentEvent, responses((status = 200, body = CleanView), (status = 404), (status = 409), (status = 422)))]
pub async fn act(
    State(state): State<AppState>,
    asking: Asking,
    Path(id): Path<String>,
    Body(sent): Body<SentEvent>,
) -> Result<Json<CleanView>, ApiError> {
    let (now, by) = (state.now(), asking.person());
    let changed = format!("clean:{id}");
    let photo = match &sent.act {
        Act::Looked { glass } => glass.photo.clone(),
        _ => None,
    };
    let corrects = matches!(
        &sent.act,
        Act::Planned {
            wish: Wish::Corrected { .. },
            ..
        }
    );
    let tells = corrects || sent.act.is_closing();
    let view = state.store(move |store| {
        let at = happened_at(now, sent.device_at, sent.sent_at);
        let day = today(at, &store.settings()?.time_zone);
        if let Some(photo) = photo {
            let known = store.photo(&photo)?;
            if known.of != PhotoOf::Clean(id.clone()) {
                return Err(ApiError::NotFound(format!(
                    "this clean has no photo with the id \"{photo}\""
                )));
            }
        }
        let known = match &sent.act {
            Act::Planned { wish, .. } => {
                let plan = store.clean(&id)?.plan;
                Some(KnownBrewer::of_running(store, &plan, wish, now)?)
            }
            _ => None,
        };
        let planner = |moment: &Moment, wish: &Wish| match &known {
            Some(known) => known.facts()?.further(moment, wish),
            None => Err(Problem::new(
                Code::Missing,
                "act.wish",
                "say what is wanted",
            )),
        };
        let event = Event {
            id: sent.id,
            at,
            device_at: sent.device_at,
            by,
            act: sent.act,
        };
        let record = store.append_event(&id, &event.clone(), |record| {
            not_counted_meanwhile(&record.events, &event.act, sent.seen)?;
            admit(&record.plan, &record.events, event, day, &planner).map(|(event, _)| event)
        })?;
        if let Some(known) = known.as_ref().filter(|_| corrects) {
            store.put(&known.brewer)?;
        }
        let others: Vec<String> = beside(store, &record)?.into_iter().map(|c| c.id).collect();
        Ok((view(store, record, now)?, others))
    });
    let (view, others) = view.await?;
    state.changed(&changed);
    // What runs on one side is read on the other.
    for other in others {
        state.changed(&format!("clean:{other}"));
    }
    if tells {
        state.changed("facts");
    }
    Ok(Json(view))
}

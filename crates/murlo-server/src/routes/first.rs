//! The first minute: answers by touch, what they come to so far, and the brewer they end in.

use crate::api::{
    AgentChoice, FamilyChoice, FirstAnswers, FirstBrewer, FirstQuestions, FirstView, StartClean,
};
use crate::asking::Asking;
use crate::error::{ApiError, Body};
use crate::known::{KnownBrewer, begin_of};
use crate::past::Past;
use crate::state::{AppState, today};
use crate::water_views::water_views;
use axum::Json;
use axum::extract::State;
use jiff::Timestamp;
use murlo_base::text;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::water::Water;
use murlo_brewer::{Brewer, Family};
use murlo_household::first::{Answers, Beginning, LOOKS, Settled, told_by};
use murlo_plan::PlanOptions;
use murlo_store::Store;

/// What is asked, with what the household can answer with.
#[utoipa::path(get, path = "/api/first", responses((status = 200, body = FirstQuestions)))]
pub async fn questions(
    State(state): State<AppState>,
    asking: Asking,
) -> Result<Json<FirstQuestions>, ApiError> {
    let questions = state.store(move |store| {
        let agents = store.current::<Agent>()?;
        let tablets = Agent::tablets();
        let more = (!agents.iter().any(|a| a.id == tablets.id)).then_some(tablets);
        let choice = |agent: Agent| AgentChoice {
            percent: agent.percent(),
            sold_at: agent.sold_at(),
            id: agent.id,
            name: agent.name,
        };
        Ok(FirstQuestions {
            families: Family::ALL
                .map(|family| FamilyChoice {
                    family,
                    label: family.label(),
                    told_by: told_by(family),
                    has_carafe: family.has_carafe(),
                    has_pod_side: family.has_pod_side(),
                })
                .into(),
            looks: LOOKS.into(),
            waters: water_views(store)?,
            agents: agents.into_iter().chain(more).map(choice).collect(),
            homes: asking.homes(store.current()?),
        })
    });
    Ok(Json(questions.await?))
}

/// What the answers so far come to; nothing of it is kept.
#[utoipa::path(post, path = "/api/first/look", request_body = Answers, responses((status = 200, body = FirstView), (status = 422)))]
pub async fn look(
    State(state): State<AppState>,
    Body(answers): Body<Answers>,
) -> Result<Json<FirstView>, ApiError> {
    let now = state.now();
    let view = state.store(move |store| {
        let settled = settle(store, &answers, now, "first", "first-water")?;
        let past = Past::read(store, now)?.with_settled(&settled);
        let card = past.facts().card(&settled.brewer);
        let options = PlanOptions {
            taste: Some(past.settings.rinses_for()),
            ..PlanOptions::default()
        };
        let agents = settled.with_agents(store.current()?);
        let known = KnownBrewer::of(&past, settled.brewer, agents, &options)?;
        let facts = known.facts()?;
        let compared = facts.compare(&options)?;
        Ok(FirstView {
            card: card.ok_or_else(|| ApiError::Internal("a water is gone".into()))?,
            because: compared.because,
            buy: compared.buy,
            plan: facts.plan(&facts.recommended(options)?)?,
        })
    });
    Ok(Json(view.await?))
}

/// Keeps all of it, or nothing, and starts a clean where one is asked for. Sending it again is harmless.
#[utoipa::path(post, path = "/api/first", request_body = FirstAnswers, responses((status = 200, body = FirstBrewer), (status = 409), (status = 422)))]
pub async fn keep(
    State(state): State<AppState>,
    Body(sent): Body<FirstAnswers>,
) -> Result<Json<FirstBrewer>, ApiError> {
    let now = state.now();
    let kept = state.store(move |store| {
        let FirstAnswers {
            answers,
            brewer_id,
            water_id,
            clean,
        } = sent;
        store.add_first(&settle(store, &answers, now, &brewer_id, &water_id)?)?;
        let clean_id = clean
            .map(|start| start_clean(store, &brewer_id, start, now))
            .transpose()?;
        Ok(FirstBrewer {
            brewer_id,
            clean_id,
        })
    });
    let kept = kept.await?;
    state.changed("facts");
    Ok(Json(kept))
}

fn start_clean(
    store: &mut Store,
    brewer_id: &str,
    start: StartClean,
    now: Timestamp,
) -> Result<String, ApiError> {
    text::id("clean.id", &start.id)?;
    let (plan, events) = begin_of(store, brewer_id, &start, now)?;
    store.begin_clean(&start.id, &plan, &events)?;
    Ok(start.id)
}

fn settle(
    store: &Store,
    answers: &Answers,
    now: Timestamp,
    brewer_id: &str,
    water_id: &str,
) -> Result<Settled, ApiError> {
    let settings = store.settings()?;
    let waters = store.current::<Water>()?;
    let brewers = store.current::<Brewer>()?;
    let house = Beginning {
        units: settings.units,
        homes: &store.current::<Home>()?,
        waters: &waters.into_iter().map(|w| (w.id.clone(), w)).collect(),
        agents: &store.current::<Agent>()?,
        nicknames: brewers.iter().map(|b| b.nickname.as_str()).collect(),
        today: today(now, &settings.time_zone),
        now,
    };
    Ok(answers.settle(&house, brewer_id, water_id)?)
}

//! What is known of a brewer when a clean of it is planned.

use crate::api::StartClean;
use crate::error::ApiError;
use crate::past::Past;
use crate::state::today;
use jiff::Timestamp;
use murlo_base::problem::{Problem, Problems};
use murlo_brewer::Brewer;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Bottle;
use murlo_chalk::money::Terms;
use murlo_chalk::scale::Forecast;
use murlo_clean::{Event, begin};
use murlo_household::Settings;
use murlo_plan::{Facts, Plan, PlanOptions, Today, Wish};
use murlo_store::Store;

/// What the core must know of one side of a brewer to plan its clean.
pub(super) struct KnownBrewer {
    pub(crate) brewer: Brewer,
    circuit_id: String,
    forecast: Forecast,
    agents: Vec<Agent>,
    terms: Terms,
    pub(crate) settings: Settings,
    today: Today,
}

impl KnownBrewer {
    pub(crate) fn read(
        store: &Store,
        brewer: Brewer,
        options: &PlanOptions,
        now: Timestamp,
    ) -> Result<Self, ApiError> {
        Self::of(&Past::read(store, now)?, brewer, store.current()?, options)
    }

    /// The same where the past is known already.
    pub(super) fn of(
        past: &Past,
        brewer: Brewer,
        agents: Vec<Agent>,
        options: &PlanOptions,
    ) -> Result<Self, ApiError> {
        let read = past.facts();
        let (circuit, why_side) = read.side(&brewer, options)?;
        let forecast = read
            .forecast(&brewer, circuit)
            .ok_or_else(|| ApiError::Internal("a water is gone".into()))?;
        let mut agents = past.with_levels(agents);
        if read.bottle(&brewer) == Bottle::Theirs {
            // Nobody counts what other people have.
            agents.iter_mut().for_each(|agent| agent.on_hand = None);
        }
        Ok(Self {
            circuit_id: circuit.id.clone(),
            forecast,
            agents,
            terms: read.terms(&brewer, &past.settings),
            today: read.today_of(&brewer, circuit, why_side),
            settings: past.settings.clone(),
            brewer,
        })
    }

    pub(super) fn facts(&self) -> Result<Facts<'_>, Problem> {
        Ok(Facts {
            brewer: &self.brewer,
            circuit: self.brewer.circuit("circuit_id", &self.circuit_id)?,
            forecast: &self.forecast,
            agents: &self.agents,
            units: self.settings.units,
            terms: &self.terms,
            today: self.today.clone(),
        })
    }

    /// For what is wished for in a clean that runs: the plan's own side, the brewer with the fact that was just told, and what
    /// has been put away meanwhile.
    pub(crate) fn of_running(
        store: &Store,
        plan: &Plan,
        wish: &Wish,
        now: Timestamp,
    ) -> Result<Self, ApiError> {
        let mut brewer: Brewer = store.get(&plan.brewer_id)?;
        if let Wish::Corrected { fact } = wish {
            fact.tell(&mut brewer, &plan.circuit_id, store.settings()?.units);
        }
        let options = PlanOptions {
            circuit_id: Some(plan.circuit_id.clone()),
            ..PlanOptions::default()
        };
        let mut known = Self::read(store, brewer, &options, now)?;
        known.agents = store.all()?.into_iter().map(|kept| kept.fact).collect();
        known.today.beside = plan.beside;
        Ok(known)
    }
}

/// The plan of a clean that is to start now.
pub(super) fn plan_of(
    store: &Store,
    id: &str,
    options: PlanOptions,
    now: Timestamp,
) -> Result<Plan, ApiError> {
    ask(store, id, options, now, |facts, options| {
        facts.plan(&facts.recommended(options)?)
    })
}

/// The plan of a clean that is to start now, and what has happened of it where somebody began before asking.
pub(super) fn begin_of(
    store: &Store,
    id: &str,
    start: &StartClean,
    now: Timestamp,
) -> Result<(Plan, Vec<Event>), ApiError> {
    let options = start.options.clone();
    let Some(begun) = &start.begun else {
        return Ok((plan_of(store, id, options, now)?, Vec::new()));
    };
    let mut plan = ask(store, id, options, now, |facts, options| {
        facts.plan_begun(&options, begun)
    })?;
    let day = today(now, &store.settings()?.time_zone);
    let events = begin(&mut plan, begun, &start.id, (now, day))?;
    Ok((plan, events))
}

/// Asks the core about one brewer's clean, with the household's taste filled in.
pub(crate) fn ask<T>(
    store: &Store,
    id: &str,
    mut options: PlanOptions,
    now: Timestamp,
    question: impl FnOnce(&Facts, PlanOptions) -> Result<T, Problems>,
) -> Result<T, ApiError> {
    let known = KnownBrewer::read(store, store.get(id)?, &options, now)?;
    options.taste = options.taste.or(Some(known.settings.rinses_for()));
    Ok(question(&known.facts()?, options)?)
}

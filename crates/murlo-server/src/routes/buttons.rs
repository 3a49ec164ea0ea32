//! Buttons and lamps of a brewer, taught by doing.

use crate::api::TaughtButtons;
use crate::error::{ApiError, Body};
use crate::state::AppState;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::{Brewer, Operation, ScriptAsk};
use murlo_household::PhotoOf;
use serde::Serialize;
use utoipa::ToSchema;

/// What is taught of one side, and what can be.
#[derive(Serialize, ToSchema)]
pub struct ButtonsView {
    /// What is asked, in the order in which it is done.
    pub asks: Vec<ScriptAsk>,
    /// As it is told by now.
    pub operation: Operation,
    /// "pod side", where the brewer has several.
    pub side: Option<String>,
}

/// The buttons of one side, and what can be taught of them.
#[utoipa::path(get, tag = "shown offline", path = "/api/brewers/{id}/sides/{circuit}/buttons", params(("id" = String, Path), ("circuit" = String, Path)), responses((status = 200, body = ButtonsView), (status = 404), (status = 422)))]
pub async fn buttons(
    State(state): State<AppState>,
    Path((id, circuit)): Path<(String, String)>,
) -> Result<Json<ButtonsView>, ApiError> {
    let view = state.store(move |store| {
        let brewer: Brewer = store.get(&id)?;
        let circuit = brewer.circuit("circuit", &circuit)?;
        Ok(ButtonsView {
            asks: brewer.script_asks(circuit),
            operation: circuit.operation.clone(),
            side: (brewer.circuits.len() > 1).then(|| circuit.name().to_owned()),
        })
    });
    Ok(Json(view.await?))
}

/// Teaches the buttons of one side; every step shows them from then on.
#[utoipa::path(put, path = "/api/brewers/{id}/sides/{circuit}/buttons", params(("id" = String, Path), ("circuit" = String, Path)), request_body = TaughtButtons, responses((status = 204), (status = 404), (status = 422)))]
pub async fn teach_buttons(
    State(state): State<AppState>,
    Path((id, circuit)): Path<(String, String)>,
    Body(given): Body<TaughtButtons>,
) -> Result<StatusCode, ApiError> {
    let taught = state.store(move |store| {
        if let Some(photo) = &given.panel.photo {
            let known = store.photo(photo)?;
            if known.of != PhotoOf::Brewer(id.clone()) {
                let why = "this photo is not of this brewer: take one of it";
                return Err(Problem::new(Code::UnknownId, "panel.photo", why).into());
            }
        }
        store.alter::<Brewer>(&id, |brewer| {
            brewer.taught(&circuit, &given.panel, &given.taught, &given.signals)
        })?;
        Ok(())
    });
    taught.await?;
    state.changed("facts");
    // A clean that runs says them anew.
    state.changed("clean");
    Ok(StatusCode::NO_CONTENT)
}

//! Every address of the API, in one list.

mod buttons;
mod calc;
mod calendar;
mod changes;
mod choices;
pub(crate) mod cleans;
mod cupboard;
mod devices;
mod erase;
mod facts;
mod first;
mod journal;
mod letters;
mod log;
mod look;
mod over_days;
mod owed;
mod photos;
mod practice;
mod rounds;
mod travel;
mod trouble;
mod visits;
pub(crate) mod waters;
mod ways;
mod week;

use crate::documented::with_refusals;
use crate::state::AppState;
use crate::{access, assets, error, page, routes, sign_in};
use axum::extract::DefaultBodyLimit;
use axum::http::{HeaderName, HeaderValue, StatusCode};
use axum::routing::get;
use axum::{Extension, Router, middleware};
use std::time::Duration;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::TimeoutLayer;
use tower_http::trace::TraceLayer;
use utoipa::OpenApi;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

/// A photo as a phone takes it, before it is shrunk.
const PHOTO_BYTES: usize = 12 << 20;

const SECONDS: Duration = Duration::from_secs(20);

const BODY_BYTES: usize = 1024 * 1024;

const POLICY: &str = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; \
     font-src 'self'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'";

#[derive(OpenApi)]
#[openapi(
    components(schemas(crate::error::ProblemBody)),
    info(
        title = "Murlo",
        description = "Descaling and needle clearing for drip and pod coffee brewers. Refusals are application/problem+json."
    )
)]
struct Doc;

fn api() -> OpenApiRouter<AppState> {
    OpenApiRouter::with_openapi(Doc::openapi())
        .routes(routes!(
            sign_in::session,
            sign_in::sign_in,
            sign_in::sign_out
        ))
        .routes(routes!(devices::devices))
        .routes(routes!(devices::change_device, devices::forget_device))
        .routes(routes!(devices::restore_device))
        .routes(routes!(devices::invite))
        .routes(routes!(devices::pair))
        .routes(routes!(look::look_at_home))
        .routes(routes!(facts::counter))
        .routes(routes!(facts::household))
        .routes(routes!(facts::put_settings))
        .routes(routes!(facts::first_device))
        .routes(routes!(facts::add_home))
        .routes(routes!(waters::waters, waters::add_water))
        .routes(routes!(waters::change_water, waters::delete_water))
        .routes(routes!(waters::restore_water))
        .routes(routes!(waters::what_if))
        .routes(routes!(journal::add_entry))
        .routes(routes!(journal::delete_entry))
        .routes(routes!(journal::restore_entry))
        .routes(routes!(journal::bring_counts))
        .routes(routes!(journal::leave_home))
        .routes(routes!(facts::add_agent))
        .routes(routes!(facts::change_agent, facts::delete_agent))
        .routes(routes!(facts::restore_agent))
        .routes(routes!(facts::families))
        .routes(routes!(choices::choices))
        .routes(routes!(first::questions, first::keep))
        .routes(routes!(first::look))
        .routes(routes!(facts::add_brewer))
        .routes(routes!(
            facts::brewer,
            facts::change_brewer,
            facts::delete_brewer
        ))
        .routes(routes!(facts::restore_brewer))
        .merge(house())
        .merge(cleaning())
        .routes(routes!(calc::topics))
        .routes(routes!(calc::answer))
        .routes(routes!(travel::export))
        .layer(DefaultBodyLimit::max(BODY_BYTES))
        .merge(
            OpenApiRouter::new()
                .routes(routes!(photos::keep_photo))
                .layer(DefaultBodyLimit::max(PHOTO_BYTES)),
        )
}

/// The cupboard, the round and its visits, and what is put away.
fn house() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(cupboard::cupboard))
        .routes(routes!(cupboard::cupboard_csv))
        .routes(routes!(cupboard::works_csv))
        .routes(routes!(cupboard::add_movement))
        .routes(routes!(cupboard::delete_movement))
        .routes(routes!(cupboard::restore_movement))
        .routes(routes!(cupboard::put_supply, cupboard::delete_supply))
        .routes(routes!(cupboard::restore_supply))
        .routes(routes!(rounds::round))
        .routes(routes!(owed::owed))
        .routes(routes!(owed::owed_csv))
        .routes(routes!(owed::pay_visit))
        .routes(routes!(letters::letters))
        .routes(routes!(letters::send_letter, letters::delete_letter))
        .routes(routes!(letters::letter_file))
        .routes(routes!(letters::restore_letter))
        .routes(routes!(week::week))
        .routes(routes!(week::confirm_draft))
        .routes(routes!(week::move_draft))
        .routes(routes!(week::move_visit))
        .routes(routes!(visits::propose_visit))
        .routes(routes!(visits::look_at_visit))
        .routes(routes!(
            visits::visit,
            visits::put_visit,
            visits::delete_visit
        ))
        .routes(routes!(visits::restore_visit))
        .routes(routes!(visits::act_on_visit))
        .routes(routes!(visits::visit_cards))
        .routes(routes!(visits::clean_card))
        .routes(routes!(rounds::put_home, rounds::delete_home))
        .routes(routes!(rounds::restore_home))
        .routes(routes!(calendar::calendar))
        .routes(routes!(calendar::renew_feed, calendar::cut_feed))
        .routes(routes!(calendar::read_guests))
        .routes(routes!(facts::put_away))
        .routes(routes!(facts::put_cadence))
        .routes(routes!(facts::another_like))
        .routes(routes!(facts::add_past_clean))
        .routes(routes!(facts::delete_past_clean))
        .routes(routes!(facts::restore_past_clean))
}

/// Plans, cleans and what comes of them.
fn cleaning() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(cleans::plan))
        .routes(routes!(cleans::baths))
        .routes(routes!(cleans::mix))
        .routes(routes!(cleans::unmeasured))
        .routes(routes!(cleans::start))
        .routes(routes!(cleans::clean))
        .routes(routes!(cleans::clean_mishaps))
        .routes(routes!(cleans::clean_ahead))
        .routes(routes!(cleans::act))
        .routes(routes!(over_days::look_over_days))
        .routes(routes!(over_days::spread_over_days))
        .routes(routes!(
            over_days::move_over_days,
            over_days::delete_over_days
        ))
        .routes(routes!(over_days::restore_over_days))
        .routes(routes!(buttons::buttons, buttons::teach_buttons))
        .routes(routes!(ways::keep_way))
        .routes(routes!(ways::change_way, ways::delete_way))
        .routes(routes!(ways::restore_way))
        .routes(routes!(ways::way_file))
        .routes(routes!(practice::practice))
        .routes(routes!(trouble::trouble))
        .routes(routes!(trouble::note_trouble))
        .routes(routes!(photos::photo, photos::delete_photo))
        .routes(routes!(photos::restore_photo))
        .routes(routes!(log::log))
        .routes(routes!(log::log_csv))
}

/// Streams stay open on purpose, a large file takes as long as its line, and many backups are not written anew in a moment: all are
/// outside the time limit.
fn streams() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(changes::changes))
        .routes(routes!(travel::import))
        .routes(routes!(erase::look_at_erasing))
        .routes(routes!(erase::erase))
}

/// The OpenAPI document.
pub fn document() -> utoipa::openapi::OpenApi {
    with_refusals(api().merge(streams()).split_for_parts().1)
}

/// The whole application.
pub(crate) fn router(state: AppState) -> Router {
    let header = |name, value| {
        SetResponseHeaderLayer::if_not_present(
            HeaderName::from_static(name),
            HeaderValue::from_static(value),
        )
    };
    let (api, _) = api().split_for_parts();
    let api = api
        .route("/api/openapi.json", get(|| async { openapi() }))
        .layer(TimeoutLayer::with_status_code(
            StatusCode::REQUEST_TIMEOUT,
            SECONDS,
        ))
        .merge(streams().split_for_parts().0)
        .route(
            "/api/{*rest}",
            axum::routing::any(|| async {
                crate::error::ApiError::NotFound("no such address in this API".into())
            }),
        )
        .layer(middleware::from_fn_with_state(
            state.clone(),
            access::device,
        ));
    // A page tells what its view first asks, as the API answers it.
    let answers = page::ApiAnswers(api.clone().with_state(state.clone()));
    let pages = Router::new()
        .route("/feed/{file}", get(calendar::feed))
        .route("/authority.crt", get(assets::authority))
        .fallback(assets::serve)
        .layer(Extension(answers));
    pages
        .merge(api)
        .layer(middleware::from_fn_with_state(state.clone(), access::guard))
        .layer(header("content-security-policy", POLICY))
        .layer(header("x-content-type-options", "nosniff"))
        .layer(header("referrer-policy", "no-referrer"))
        .layer(CompressionLayer::new())
        .layer(CatchPanicLayer::new())
        .layer(middleware::from_fn(error::in_words))
        // What went wrong is logged where it is known, once.
        .layer(TraceLayer::new_for_http().on_failure(()))
        .with_state(state)
}

/// The OpenAPI document of the API, made from the handlers.
#[must_use]
pub fn openapi() -> String {
    routes::document()
        .to_pretty_json()
        .expect("the document is plain data")
}

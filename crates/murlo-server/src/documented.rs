//! Every refusal that an address may answer with, in the document: each layer adds its own, and no handler has to name them.

use axum::http::StatusCode;
use std::collections::BTreeSet;
use utoipa::openapi::path::Operation;
use utoipa::openapi::{Content, OpenApi, Ref, Response, ResponseBuilder};

/// What any address may refuse with.
const ANY: [StatusCode; 8] = [
    StatusCode::BAD_REQUEST,
    StatusCode::UNAUTHORIZED,
    StatusCode::FORBIDDEN,
    StatusCode::NOT_FOUND,
    StatusCode::REQUEST_TIMEOUT,
    StatusCode::UNPROCESSABLE_ENTITY,
    StatusCode::INTERNAL_SERVER_ERROR,
    StatusCode::SERVICE_UNAVAILABLE,
];

/// What one that changes something may refuse with besides.
const CHANGES: [StatusCode; 2] = [StatusCode::CONFLICT, StatusCode::INSUFFICIENT_STORAGE];

/// What one that is sent something may refuse with besides.
const SENT: [StatusCode; 2] = [
    StatusCode::PAYLOAD_TOO_LARGE,
    StatusCode::UNSUPPORTED_MEDIA_TYPE,
];

/// What it is called in the document, where it stands once.
fn name(status: StatusCode) -> String {
    format!("Refused{}", status.as_str())
}

fn problem(status: StatusCode) -> Response {
    let words = status.canonical_reason().unwrap_or("Refused");
    let shape = Content::new(Some(Ref::from_schema_name("ProblemBody")));
    ResponseBuilder::new()
        .description(words)
        .content("application/problem+json", shape)
        .build()
}

fn declare(operation: &mut Operation, changes: bool, all: &mut BTreeSet<StatusCode>) {
    let sent = operation.request_body.is_some();
    let declared = &mut operation.responses.responses;
    let own = declared
        .keys()
        .filter(|status| status.starts_with(['4', '5']));
    let own = own.filter_map(|status| StatusCode::from_bytes(status.as_bytes()).ok());
    let more = CHANGES.into_iter().filter(|_| changes);
    let more = more.chain(SENT.into_iter().filter(|_| sent));
    // One that a handler names itself is a problem like the others.
    for status in own.chain(ANY).chain(more).collect::<BTreeSet<_>>() {
        let known = Ref::new(format!("#/components/responses/{}", name(status)));
        declared.insert(status.as_str().to_owned(), known.into());
        all.insert(status);
    }
}

/// The document with every refusal declared.
pub(crate) fn with_refusals(mut document: OpenApi) -> OpenApi {
    let mut all = BTreeSet::new();
    for item in document.paths.paths.values_mut() {
        let read = item.get.iter_mut().map(|operation| (operation, false));
        let written = [&mut item.post, &mut item.put, &mut item.delete];
        let written = written
            .into_iter()
            .flat_map(|operation| operation.iter_mut())
            .map(|operation| (operation, true));
        for (operation, changes) in read.chain(written) {
            declare(operation, changes, &mut all);
        }
    }
    let components = document.components.get_or_insert_default();
    for status in all {
        let refusal = problem(status).into();
        components.responses.insert(name(status), refusal);
    }
    document
}

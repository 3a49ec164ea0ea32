//! Every refusal as `application/problem+json` (RFC 9457) with one entry per wrong field.

use axum::extract::rejection::{JsonRejection, QueryRejection};
use axum::extract::{FromRequest, Request};
use axum::http::{StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use murlo_store::StoreError;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

const PROBLEM: &str = "application/problem+json";

/// Why a request was refused.
#[derive(Debug)]
pub enum ApiError {
    /// Wrong fields.
    Wrong(Problems),
    /// Does not fit what has happened.
    Conflict(Problem),
    /// Nothing there.
    NotFound(String),
    /// Not signed in, or from a foreign page.
    Forbidden(StatusCode, String),
    /// The request itself, before its fields.
    Request(StatusCode, String),
    /// The disk or the file; what it is and what to do.
    Storage(StatusCode, String),
    /// Ours; the cause is logged, not sent.
    Internal(String),
}

impl ApiError {
    /// The same refusal of something that stands in `field` of what was sent.
    pub fn within(self, field: &str) -> Self {
        match self {
            Self::Wrong(problems) => Self::Wrong(problems.within(field)),
            other => other,
        }
    }
}

/// The body of a refusal.
#[derive(Debug, Serialize, ToSchema)]
pub struct ProblemBody {
    /// Always `about:blank`: the status tells the kind.
    #[serde(rename = "type")]
    kind: &'static str,
    /// The status in words.
    title: String,
    /// The HTTP status.
    status: u16,
    /// What was wrong and what would be right.
    detail: String,
    /// One entry per wrong field.
    errors: Vec<Problem>,
}

impl IntoResponse for ApiError {
    fn into_response(self) -> Response {
        let (status, detail, errors) = match self {
            Self::Wrong(problems) => (
                StatusCode::UNPROCESSABLE_ENTITY,
                problems.to_string(),
                problems.0,
            ),
            Self::Conflict(problem) => {
                (StatusCode::CONFLICT, problem.message.clone(), vec![problem])
            }
            Self::NotFound(what) => (StatusCode::NOT_FOUND, what, Vec::new()),
            Self::Forbidden(status, why) | Self::Request(status, why) => (status, why, Vec::new()),
            Self::Storage(status, why) => {
                tracing::error!(%why, "the household cannot be written");
                (status, why, Vec::new())
            }
            Self::Internal(cause) => {
                tracing::error!(%cause, "request failed");
                let detail = "something went wrong here; nothing was changed, try again".to_owned();
                (StatusCode::INTERNAL_SERVER_ERROR, detail, Vec::new())
            }
        };
        let body = ProblemBody {
            kind: "about:blank",
            title: status.canonical_reason().unwrap_or("Refused").to_owned(),
            status: status.as_u16(),
            detail,
            errors,
        };
        (
            status,
            [(header::CONTENT_TYPE, PROBLEM)],
            axum::Json(body).0.into_json(),
        )
            .into_response()
    }
}

impl ProblemBody {
    fn into_json(self) -> String {
        serde_json::to_string(&self).expect("a problem is plain data")
    }
}

/// A refusal that was not worded here, by a layer or a library: what it means, and what would be right.
fn meaning(status: StatusCode) -> Option<&'static str> {
    Some(match status {
        StatusCode::BAD_REQUEST => {
            "this request cannot be read: its address or its text is not as it should be"
        }
        StatusCode::NOT_FOUND => "nothing is at this address",
        StatusCode::METHOD_NOT_ALLOWED => "this address does not take that: see /api/openapi.json",
        StatusCode::REQUEST_TIMEOUT => {
            "this took too long, and was given up: ask again, or for less"
        }
        StatusCode::PAYLOAD_TOO_LARGE => "this is larger than is taken here",
        StatusCode::UNSUPPORTED_MEDIA_TYPE => "send it as application/json",
        StatusCode::INTERNAL_SERVER_ERROR => {
            "something went wrong here; nothing was changed, try again"
        }
        _ => return None,
    })
}

/// Words for every refusal: one that comes without is given the problem that it stands for.
pub async fn in_words(request: Request, next: Next) -> Response {
    let answer = next.run(request).await;
    let status = answer.status();
    let is_worded = answer
        .headers()
        .get(header::CONTENT_TYPE)
        .is_some_and(|kind| kind == PROBLEM);
    match meaning(status).filter(|_| !is_worded) {
        Some(why) => {
            let mut worded = ApiError::Request(status, why.to_owned()).into_response();
            // What stands beside it was meant for it all the same: what is allowed, the policies.
            for (name, value) in answer.headers() {
                if ![
                    header::CONTENT_TYPE,
                    header::CONTENT_LENGTH,
                    header::CONTENT_ENCODING,
                ]
                .contains(name)
                {
                    worded.headers_mut().insert(name, value.clone());
                }
            }
            worded
        }
        None => answer,
    }
}

impl From<StoreError> for ApiError {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::NotFound { .. } => Self::NotFound(error.to_string()),
            StoreError::Conflict(problem) => Self::Conflict(problem),
            StoreError::Wrong(problems) => Self::Wrong(problems),
            StoreError::Full => Self::Storage(StatusCode::INSUFFICIENT_STORAGE, error.to_string()),
            StoreError::ReadOnly
            | StoreError::Damaged(_)
            | StoreError::Gone(_)
            | StoreError::Unfit { .. }
            | StoreError::InUse { .. } => {
                Self::Storage(StatusCode::SERVICE_UNAVAILABLE, error.to_string())
            }
            other => Self::Internal(other.to_string()),
        }
    }
}

impl From<std::io::Error> for ApiError {
    fn from(error: std::io::Error) -> Self {
        StoreError::from(error).into()
    }
}

impl From<Problems> for ApiError {
    fn from(problems: Problems) -> Self {
        Self::Wrong(problems)
    }
}

impl From<Problem> for ApiError {
    fn from(problem: Problem) -> Self {
        Self::Wrong(problem.into())
    }
}

impl From<JsonRejection> for ApiError {
    fn from(rejection: JsonRejection) -> Self {
        match rejection {
            JsonRejection::JsonDataError(e) => {
                let text = e.body_text();
                let why = text.split_once(": ").map_or(text.as_str(), |(_, why)| why);
                let (field, why) = match why.split_once(": ") {
                    Some((path, why)) if !path.contains(' ') => (path, why),
                    _ => ("", why),
                };
                // Where in the text it stood helps nobody who filled in a form.
                let why = why.split_once(" at line ").map_or(why, |(why, _)| why);
                let right = ["f64", "u32", "i32"].iter().any(|n| why.ends_with(n));
                let message = match why.strip_prefix("invalid type: ") {
                    Some(given) if right => {
                        let given = given.split_once(", expected").map_or(given, |(g, _)| g);
                        let given = given.trim_start_matches("string ");
                        format!("{given} is not a number: give one such as 12 or 2.5")
                    }
                    _ => why.to_owned(),
                };
                Self::Wrong(Problem::new(Code::WrongType, field, message).into())
            }
            other => Self::Request(other.status(), other.body_text()),
        }
    }
}

/// A JSON body; refusals are problems.
#[derive(FromRequest)]
#[from_request(via(axum::Json), rejection(ApiError))]
pub struct Body<T>(pub T);

/// A query string; refusals are problems.
#[derive(axum::extract::FromRequestParts)]
#[from_request(via(axum::extract::Query), rejection(ApiError))]
pub struct Queried<T>(pub T);

/// The identity of something new, made by the device so that sending it twice is harmless; made here when it gave none.
#[derive(serde::Deserialize)]
struct Given {
    id: Option<String>,
}

/// An identity that is given in the query, or a new one.
pub struct NewId(pub String);

impl<S: Send + Sync> axum::extract::FromRequestParts<S> for NewId {
    type Rejection = ApiError;

    async fn from_request_parts(
        parts: &mut axum::http::request::Parts,
        state: &S,
    ) -> Result<Self, ApiError> {
        let Queried(Given { id }) = Queried::from_request_parts(parts, state).await?;
        Ok(Self(match id {
            Some(id) => text::id("id", &id)?,
            None => Uuid::new_v4().to_string(),
        }))
    }
}

impl From<QueryRejection> for ApiError {
    fn from(rejection: QueryRejection) -> Self {
        let text = rejection.body_text();
        // The field and what it may be, without how it was read.
        let wrong = text.trim_start_matches("Failed to deserialize query string: ");
        Self::Request(
            rejection.status(),
            format!("in the address, behind the question mark: {wrong}"),
        )
    }
}

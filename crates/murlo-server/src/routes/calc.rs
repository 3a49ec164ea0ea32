//! Single questions by name.

use crate::error::ApiError;
use axum::Json;
use axum::extract::Path;
use murlo_base::problem::{Code, Problem};
use murlo_calc::{MOST_ITEMS, TOPICS, read, topic};
use serde_json::{Value, json};

/// Lists the topics with an example each.
#[utoipa::path(get, path = "/api/calc", responses((status = 200, body = Value)))]
pub async fn topics() -> Json<Value> {
    Json(TOPICS.iter().map(|t| json!({ "topic": t.name, "about": t.about, "example": read(t.example).unwrap_or_default() })).collect())
}

/// Answers one object, or a list of objects in order.
#[utoipa::path(post, path = "/api/calc/{topic}", params(("topic" = String, Path)), request_body = Value, responses((status = 200, body = Value), (status = 422)))]
pub async fn answer(Path(name): Path<String>, body: String) -> Result<Json<Value>, ApiError> {
    let topic = topic(&name).map_err(|problem| ApiError::NotFound(problem.message))?;
    match read(&body)? {
        Value::Array(items) if items.len() > MOST_ITEMS => {
            let message = format!("{} items: send at most {MOST_ITEMS} at a time", items.len());
            Err(Problem::new(Code::OutOfRange, "", message).into())
        }
        Value::Array(_) => Ok(Json(topic.answer_text(&body).0)),
        item => Ok(Json(topic.answer(&item)?)),
    }
}

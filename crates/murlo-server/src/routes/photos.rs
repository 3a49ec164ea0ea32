//! Photos of glasses: shrunk, and stripped of everything but their pixels, before they are kept.

use crate::error::ApiError;
use crate::state::AppState;
use axum::body::Bytes;
use axum::extract::{Path, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use image::codecs::jpeg::JpegEncoder;
use image::{DynamicImage, ImageDecoder, ImageReader, Limits};
use murlo_core::household::Photo;
use murlo_core::problem::{Code, Problem};
use murlo_core::text;
use std::io::Cursor;

/// Longest side that is kept, pixels: enough to tap two glasses.
const SIDE: u32 = 960;
/// Quality of the JPEG that is kept.
const QUALITY: u8 = 80;
/// Longest side that is read at all.
const MOST: u32 = 10_000;

/// The picture anew from its pixels, so that nothing else of the file survives: no place, no device, no time.
fn shrunk(bytes: &[u8]) -> Result<Vec<u8>, Problem> {
    let wrong = |why: String| {
        let message = format!("this is no photo that can be read ({why}): send a JPEG or PNG");
        Problem::new(Code::NotTheFormat, "photo", message)
    };
    let mut reader = ImageReader::new(Cursor::new(bytes))
        .with_guessed_format()
        .map_err(|e| wrong(e.to_string()))?;
    let mut limits = Limits::default();
    limits.max_image_width = Some(MOST);
    limits.max_image_height = Some(MOST);
    reader.limits(limits);
    let mut decoder = reader.into_decoder().map_err(|e| wrong(e.to_string()))?;
    // Which way up is told beside the pixels, so it is applied before that is dropped.
    let turned = decoder.orientation().map_err(|e| wrong(e.to_string()))?;
    let mut picture = DynamicImage::from_decoder(decoder).map_err(|e| wrong(e.to_string()))?;
    picture.apply_orientation(turned);
    if picture.width().max(picture.height()) > SIDE {
        picture = picture.thumbnail(SIDE, SIDE);
    }
    let mut jpeg = Vec::new();
    JpegEncoder::new_with_quality(&mut jpeg, QUALITY)
        .encode_image(&picture.to_rgb8())
        .map_err(|e| wrong(e.to_string()))?;
    Ok(jpeg)
}

/// Keeps a photo of a clean's glass; sending it again is harmless.
#[utoipa::path(put, path = "/api/cleans/{id}/photos/{photo}", params(("id" = String, Path), ("photo" = String, Path)), request_body(content = Vec<u8>, content_type = "image/jpeg"), responses((status = 204), (status = 404), (status = 409), (status = 422)))]
pub async fn keep_photo(
    State(state): State<AppState>,
    Path((clean_id, id)): Path<(String, String)>,
    bytes: Bytes,
) -> Result<StatusCode, ApiError> {
    text::id("photo", &id)?;
    let changed = format!("clean:{clean_id}");
    // Apart from the store: a large picture takes a while, and acts must not wait for it.
    let jpeg = tokio::task::spawn_blocking(move || shrunk(&bytes))
        .await
        .map_err(|e| ApiError::Internal(e.to_string()))??;
    let kept = state.store(move |store| Ok(store.keep_photo(&Photo { id, clean_id, jpeg })?));
    kept.await?;
    state.changed(&changed);
    Ok(StatusCode::NO_CONTENT)
}

/// A photo of a clean's glass.
#[utoipa::path(get, path = "/api/cleans/{id}/photos/{photo}", params(("id" = String, Path), ("photo" = String, Path)), responses((status = 200, content_type = "image/jpeg"), (status = 404)))]
pub async fn photo(
    State(state): State<AppState>,
    Path((clean_id, id)): Path<(String, String)>,
) -> Result<Response, ApiError> {
    let photo = state.store(move |store| Ok(store.photo(&clean_id, &id)?));
    let headers = [
        (header::CONTENT_TYPE, "image/jpeg"),
        (
            header::CACHE_CONTROL,
            "private, max-age=31536000, immutable",
        ),
    ];
    Ok((headers, photo.await?.jpeg).into_response())
}

//! Photos: shrunk, and stripped of everything but their pixels, before they are kept.

use crate::error::{ApiError, Queried};
use crate::state::AppState;
use axum::body::Bytes;
use axum::extract::{Path, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use image::codecs::jpeg::JpegEncoder;
use image::{DynamicImage, ImageDecoder, ImageReader, Limits};
use murlo_base::problem::{Code, Problem};
use murlo_base::text;
use murlo_household::{Photo, PhotoOf, Shows};
use serde::Deserialize;
use std::io::Cursor;

/// Quality of the JPEG that is kept.
const QUALITY: u8 = 80;
/// Longest side that is read at all.
const MOST: u32 = 20_000;
/// So many pixels are read: more than most telephones take, and more than is kept by far. Judged.
const PIXELS: u64 = 50_000_000;
/// What reading one may take, bytes: four for each pixel, and as much again while it is turned.
const MEMORY: u64 = 8 * PIXELS;

/// The picture anew from its pixels, so that nothing else of the file survives: no place, no device, no time.
fn shrunk(bytes: &[u8], side: u32) -> Result<Vec<u8>, Problem> {
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
    limits.max_alloc = Some(MEMORY);
    reader.limits(limits);
    if is_cut(bytes) {
        return Err(wrong("it ends before its picture does".to_owned()));
    }
    let mut decoder = reader.into_decoder().map_err(|e| wrong(e.to_string()))?;
    let (width, height) = decoder.dimensions();
    if u64::from(width) * u64::from(height) > PIXELS {
        let message = format!(
            "{width} × {height} pixels are too many: send a photo of at most {} million",
            PIXELS / 1_000_000
        );
        return Err(Problem::new(Code::TooMuch, "photo", message));
    }
    // Which way up is told beside the pixels, so it is applied before that is dropped.
    let turned = decoder.orientation().map_err(|e| wrong(e.to_string()))?;
    let mut picture = DynamicImage::from_decoder(decoder).map_err(|e| wrong(e.to_string()))?;
    picture.apply_orientation(turned);
    if picture.width().max(picture.height()) > side {
        picture = picture.thumbnail(side, side);
    }
    let mut jpeg = Vec::new();
    JpegEncoder::new_with_quality(&mut jpeg, QUALITY)
        .encode_image(&picture.to_rgb8())
        .map_err(|e| wrong(e.to_string()))?;
    Ok(jpeg)
}

/// Whether a JPEG breaks off: readers fill up what is missing with grey, and say nothing.
fn is_cut(bytes: &[u8]) -> bool {
    let last = |marker: u8| bytes.windows(2).rposition(|two| two == [0xFF, marker]);
    // A small picture may stand before the large one, with marks of its own.
    bytes.starts_with(&[0xFF, 0xD8]) && last(0xD9) < last(0xDA)
}

/// What a photo shows, and what it belongs to.
#[derive(Deserialize)]
pub struct Owner {
    shows: Shows,
    clean_id: Option<String>,
    visit_id: Option<String>,
    brewer_id: Option<String>,
}

/// Keeps a photo; sending it again is harmless.
#[utoipa::path(put, path = "/api/photos/{id}", params(("id" = String, Path), ("shows" = Shows, Query), ("clean_id" = Option<String>, Query), ("visit_id" = Option<String>, Query), ("brewer_id" = Option<String>, Query)), request_body(content = Vec<u8>, content_type = "image/jpeg"), responses((status = 204), (status = 404), (status = 409), (status = 422)))]
pub async fn keep_photo(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Queried(asked): Queried<Owner>,
    bytes: Bytes,
) -> Result<StatusCode, ApiError> {
    text::id("photo", &id)?;
    let shows = asked.shows;
    let of = PhotoOf::told(shows, asked.clean_id, asked.visit_id, asked.brewer_id)?;
    let changed = changed(&of);
    let one = state.pictures.clone().acquire_owned().await;
    let one = one.map_err(|e| ApiError::Internal(e.to_string()))?;
    // Apart from the store: a large picture takes a while, and acts must not wait for it.
    let jpeg = tokio::task::spawn_blocking(move || shrunk(&bytes, shows.side()))
        .await
        .map_err(|e| ApiError::Internal(e.to_string()))??;
    drop(one);
    let photo = Photo {
        id,
        shows,
        of,
        at: Some(state.now()),
        archived: false,
        jpeg,
    };
    state
        .store(move |store| Ok(store.keep_photo(&photo)?))
        .await?;
    state.changed(&changed);
    Ok(StatusCode::NO_CONTENT)
}

fn changed(of: &PhotoOf) -> String {
    match of {
        PhotoOf::Clean(id) => format!("clean:{id}"),
        PhotoOf::Visit(_) | PhotoOf::Brewer(_) => "facts".to_owned(),
    }
}

/// A photo.
#[utoipa::path(get, tag = "shown offline", path = "/api/photos/{id}", params(("id" = String, Path)), responses((status = 200, content_type = "image/jpeg"), (status = 404)))]
pub async fn photo(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Response, ApiError> {
    let photo = state.store(move |store| Ok(store.photo(&id)?));
    let headers = [
        (header::CONTENT_TYPE, "image/jpeg"),
        (
            header::CACHE_CONTROL,
            "private, max-age=31536000, immutable",
        ),
    ];
    Ok((headers, photo.await?.jpeg).into_response())
}

/// Puts a photo away; `restore` brings it back.
#[utoipa::path(delete, path = "/api/photos/{id}", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn delete_photo(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive(state, id, true).await
}

/// Brings a photo back.
#[utoipa::path(post, path = "/api/photos/{id}/restore", params(("id" = String, Path)), responses((status = 204), (status = 404)))]
pub async fn restore_photo(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, ApiError> {
    archive(state, id, false).await
}

async fn archive(state: AppState, id: String, archived: bool) -> Result<StatusCode, ApiError> {
    let of = state.store(move |store| {
        store.archive_photo(&id, archived)?;
        Ok(store.photo(&id)?.of)
    });
    let changed = changed(&of.await?);
    state.changed(&changed);
    Ok(StatusCode::NO_CONTENT)
}

//! Export and import of the whole household, streamed both ways: neither is ever in memory as a text.

use crate::error::{ApiError, Queried};
use crate::state::{AppState, today};
use axum::body::{Body, Bytes};
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use murlo_household::Household;
use serde::Deserialize;
use std::fs::File;
use std::io::{self, BufWriter, Write};
use tokio::sync::mpsc;
use tokio::time::timeout;
use tokio_stream::StreamExt;
use tokio_stream::wrappers::ReceiverStream;

/// An export is sent in pieces of so many bytes.
const PIECE: usize = 64 * 1024;

/// So many pieces may wait for a slow reader.
const WAITING: usize = 4;

/// A file beyond this is no household's, and would only fill the disk. Judged.
const FILE_BYTES: u64 = 8 << 30;

/// What is written into it goes to a reader elsewhere; a reader that is gone ends the writing.
struct Pieces(mpsc::Sender<io::Result<Bytes>>);

impl Write for Pieces {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        let sent = self.0.blocking_send(Ok(Bytes::copy_from_slice(bytes)));
        sent.map_err(|_| io::ErrorKind::BrokenPipe)?;
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        Ok(())
    }
}

fn write(household: &Household, pieces: mpsc::Sender<io::Result<Bytes>>) -> io::Result<()> {
    let mut to = BufWriter::with_capacity(PIECE, Pieces(pieces));
    serde_json::to_writer_pretty(&mut to, household)?;
    to.write_all(b"\n")?;
    to.flush()
}

/// Everything as one JSON document.
#[utoipa::path(get, path = "/api/export", responses((status = 200, content_type = "application/json", body = Object)))]
pub async fn export(State(state): State<AppState>) -> Result<impl IntoResponse, ApiError> {
    let household = state.store(|store| Ok(store.export()?)).await?;
    let (pieces, sent) = mpsc::channel(WAITING);
    tokio::task::spawn_blocking(move || {
        if let Err(error) = write(&household, pieces.clone()) {
            // Cut off, it is no whole document, and the reader hears of it.
            let _ = pieces.blocking_send(Err(error));
        }
    });
    let headers = [
        (header::CONTENT_TYPE, "application/json"),
        (
            header::CONTENT_DISPOSITION,
            "attachment; filename=\"murlo-household.json\"",
        ),
    ];
    Ok((headers, Body::from_stream(ReceiverStream::new(sent))))
}

/// Whether what is there may be replaced.
#[derive(Deserialize)]
pub struct Replace {
    #[serde(default)]
    replace: bool,
}

/// Takes a whole household in, all or nothing. It has no time limit; while it is read and checked, others are served.
#[utoipa::path(post, path = "/api/import", params(("replace" = Option<bool>, Query)), request_body(content = Object, content_type = "application/json"), responses((status = 204), (status = 409), (status = 413), (status = 422)))]
pub async fn import(
    State(state): State<AppState>,
    Queried(asked): Queried<Replace>,
    body: Body,
) -> Result<StatusCode, ApiError> {
    let file = received(&state, body).await?;
    let household = tokio::task::spawn_blocking(move || Household::read_from(file))
        .await
        .map_err(|_| ApiError::Internal("reading an import panicked".into()))??;
    let now = state.now();
    state
        .store(move |store| {
            let today = today(now, &store.settings()?.time_zone);
            Ok(store.take_in(&household, asked.replace, today)?)
        })
        .await?;
    state.changed("facts");
    Ok(StatusCode::NO_CONTENT)
}

/// What is sent, as a file that has no name and goes with the request.
async fn received(state: &AppState, body: Body) -> Result<File, ApiError> {
    let made = match &state.folder {
        Some(folder) => tempfile::tempfile_in(folder),
        None => tempfile::tempfile(),
    };
    let mut file = made?;
    let mut pieces = body.into_data_stream();
    let mut length = 0_u64;
    loop {
        let piece = timeout(state.body_waits, pieces.next())
            .await
            .map_err(|_| {
                let why = "nothing more came of the file, and nothing was changed: send it again";
                ApiError::Request(StatusCode::REQUEST_TIMEOUT, why.to_owned())
            })?;
        let Some(piece) = piece else { break };
        let piece = piece.map_err(|e| {
            let why = format!("the file came only in part ({e}): send it again");
            ApiError::Request(StatusCode::BAD_REQUEST, why)
        })?;
        length += piece.len() as u64;
        if length > FILE_BYTES {
            let why = format!(
                "this is larger than {} GB, which no export is",
                FILE_BYTES >> 30
            );
            return Err(ApiError::Request(StatusCode::PAYLOAD_TOO_LARGE, why));
        }
        file = tokio::task::spawn_blocking(move || {
            file.write_all(&piece)?;
            Ok::<File, io::Error>(file)
        })
        .await
        .map_err(|_| ApiError::Internal("writing an import panicked".into()))??;
    }
    tokio::task::spawn_blocking(move || {
        io::Seek::rewind(&mut file)?;
        Ok::<File, io::Error>(file)
    })
    .await
    .map_err(|_| ApiError::Internal("reading an import panicked".into()))?
    .map_err(ApiError::from)
}

//! Long work that goes on while nobody waits for it, on whichever instance takes it up: how far it is, what
//! came of it, and how it is called off.

use std::fs::File;
use std::sync::Arc;
use std::time::{Duration, Instant};

use axum::body::Bytes;
use futures::Stream;
use serde_json::Value;
use sqlx::PgPool;
use tokio::sync::Notify;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;

use super::problem::ApiError;
use crate::store::StoreError;
use crate::store::people::Person;
use crate::store::tasks::{self, Kind, TaskState};

/// Bytes of a part of a file.
pub(super) const PART: usize = 512 << 10;
/// Longest that an upload is not heard of.
const SLOW: Duration = Duration::from_secs(3);

/// The long work of this instance.
#[derive(Clone)]
pub struct Tasks {
    pub(super) instance: Uuid,
    pub(super) stop: CancellationToken,
    begun: Arc<Notify>,
}

impl Tasks {
    /// None yet; all of it ends with `stop`.
    pub fn new(stop: CancellationToken) -> Self {
        Self { instance: Uuid::now_v7(), stop, begun: Arc::default() }
    }

    /// Something waits to be taken up.
    pub fn wake(&self) {
        self.begun.notify_one();
    }

    pub(super) async fn woken(&self) {
        self.begun.notified().await;
    }

    /// Begins some work; none where there is some under way.
    pub(super) async fn begin(
        &self,
        pool: &PgPool,
        person: &Person,
        kind: Kind,
        asked: &Value,
    ) -> Result<Option<Uuid>, StoreError> {
        let begun = tasks::begin(pool, person, kind, asked, self.instance).await?;
        if begun.is_some() && kind != Kind::Import {
            self.wake();
        }
        Ok(begun)
    }
}

/// What some work came to: in words, with a file or without one.
pub type Came = Result<(String, Option<File>), TaskState>;

/// It could not be done, without detail: the log has it.
pub(super) fn failed(error: &dyn std::fmt::Display) -> TaskState {
    tracing::error!(%error, "long work failed");
    TaskState::Failed { why: "it could not be done; the server's log says more".into() }
}

/// A file by its parts, one at a time.
pub(super) fn parts_of(
    pool: PgPool,
    id: Uuid,
    upload: bool,
) -> impl Stream<Item = Result<Bytes, StoreError>> {
    futures::stream::try_unfold((pool, 0), move |(pool, at)| async move {
        let bytes = tasks::part(&pool, id, upload, at).await?;
        Ok(bytes.map(|bytes| (Bytes::from(bytes), (pool, at + 1))))
    })
}

/// Takes an upload part by part; false where it was called off meanwhile.
pub(super) async fn take_upload(
    pool: &PgPool,
    id: Uuid,
    body: axum::body::Body,
    most: u64,
    too_large: impl Fn() -> ApiError,
) -> Result<bool, ApiError> {
    use futures::StreamExt;
    let (mut parts, mut size, mut number) = (body.into_data_stream(), 0u64, 0);
    let mut waiting: Vec<u8> = Vec::with_capacity(PART);
    let mut told = Instant::now();
    while let Some(piece) = parts.next().await {
        let piece = piece.map_err(|e| ApiError::BadRequest {
            status: axum::http::StatusCode::BAD_REQUEST,
            detail: format!("the file broke off: {e}"),
        })?;
        size += u64::try_from(piece.len()).unwrap_or(u64::MAX);
        if size > most {
            return Err(too_large());
        }
        waiting.extend_from_slice(&piece);
        // A slow upload is heard of, too.
        while waiting.len() >= PART || (told.elapsed() > SLOW && !waiting.is_empty()) {
            told = Instant::now();
            let rest = waiting.split_off(PART.min(waiting.len()));
            if !tasks::upload(pool, id, number, &waiting).await? {
                return Ok(false);
            }
            waiting = rest;
            number += 1;
        }
    }
    if !waiting.is_empty() && !tasks::upload(pool, id, number, &waiting).await? {
        return Ok(false);
    }
    tasks::uploaded(pool, id).await?;
    Ok(true)
}

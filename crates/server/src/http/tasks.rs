//! Long work that goes on while nobody waits for it, on whichever instance takes it up: how far it is, what
//! came of it, and how it is called off.

use std::fs::File;
use std::io::{Read, Seek, SeekFrom, Write};
use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};
use std::time::{Duration, Instant};

use axum::body::Bytes;
use futures::{Stream, TryStreamExt};
use serde_json::Value;
use sqlx::PgPool;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;

use super::{ApiError, App, archive, listed};
use crate::store::StoreError;
use crate::store::people::Person;
use crate::store::tasks::{self, Claimed, Kind, TaskState};

/// Bytes of a part of a file.
const PART: usize = 512 << 10;
/// How often what is done is heard of.
const HEARD: Duration = Duration::from_millis(400);
/// Longest that an upload is not heard of.
const SLOW: Duration = Duration::from_secs(3);
/// How often an instance looks for what another has left.
const LOOKS: Duration = Duration::from_secs(2);

/// The long work of this instance.
#[derive(Clone)]
pub struct Tasks {
    instance: Uuid,
    stop: CancellationToken,
}

impl Tasks {
    /// None yet; all of it ends with `stop`.
    pub fn new(stop: CancellationToken) -> Self {
        Self { instance: Uuid::now_v7(), stop }
    }
}

/// Some work that is under way here: how far it is, and whether it goes on.
#[derive(Clone)]
pub struct Work {
    /// Identity.
    pub id: Uuid,
    /// Told when it is to stop.
    pub stop: CancellationToken,
    done: Arc<AtomicI64>,
    total: Arc<AtomicI64>,
}

impl Work {
    /// How far it is.
    pub fn progress(&self, done: u64, total: u64) {
        let whole = |n: u64| i64::try_from(n).unwrap_or(i64::MAX);
        self.total.store(whole(total), Ordering::Relaxed);
        self.done.store(whole(done), Ordering::Relaxed);
    }
}

/// What some work came to: in words, with a file or without one.
pub type Came = Result<(String, Option<File>), TaskState>;

/// Begins some; none where there is some under way.
pub(super) async fn begin(
    app: &App,
    person: &Person,
    kind: Kind,
    asked: &Value,
) -> Result<Option<Uuid>, StoreError> {
    let begun = tasks::begin(&app.pool, person, kind, asked, app.tasks.instance).await?;
    if begun.is_some() && kind != Kind::Import {
        take_up(app);
    }
    Ok(begun)
}

/// Takes up what waits, off the request that asks.
pub fn take_up(app: &App) {
    let app = app.clone();
    tokio::spawn(async move {
        if let Err(error) = take_up_all(&app).await {
            tracing::warn!(%error, "long work that waits could not be taken up yet");
        }
    });
}

/// Looks for long work until the program ends: for what was left by an instance that is lost, above all.
pub async fn keep_taking_up(app: App) {
    loop {
        if let Err(error) = take_up_all(&app).await {
            tracing::debug!(%error, "no long work could be looked for");
        }
        tokio::select! {
            () = app.tasks.stop.cancelled() => return,
            () = tokio::time::sleep(LOOKS) => {}
        }
    }
}

async fn take_up_all(app: &App) -> Result<(), StoreError> {
    while let Some(claimed) = tasks::claim(&app.pool, app.tasks.instance).await? {
        do_it(app, claimed).await?;
    }
    Ok(())
}

async fn do_it(app: &App, claimed: Claimed) -> Result<(), StoreError> {
    let work = Work {
        id: claimed.id,
        stop: app.tasks.stop.child_token(),
        done: Arc::default(),
        total: Arc::default(),
    };
    let heard = tokio::spawn(be_heard(app.pool.clone(), app.tasks.instance, work.clone()));
    tracing::info!(task = %claimed.id, kind = ?claimed.kind, "long work taken up");
    let came = match claimed.kind {
        Kind::Export => archive::write_archive(app, &claimed.by, &work).await,
        Kind::Import => match received(&app.pool, claimed.id).await {
            Ok(file) => archive::read_archive(app, &claimed.by, &work, file).await,
            Err(error) => Err(failed(&error)),
        },
        Kind::Papers => listed::write_papers(app, &claimed.by, &work, &claimed.asked).await,
    };
    // Ended by its own program, it is left for another instance.
    if app.tasks.stop.is_cancelled() {
        heard.abort();
        return Ok(());
    }
    let state = match came {
        _ if work.stop.is_cancelled() => TaskState::Cancelled,
        Ok((says, None)) => TaskState::Done { says },
        Ok((says, Some(file))) => match keep(&app.pool, claimed.id, file).await {
            Ok(()) => TaskState::Done { says },
            Err(error) => failed(&error),
        },
        Err(state) => state,
    };
    heard.abort();
    let has_file = matches!(state, TaskState::Done { .. }) && claimed.kind != Kind::Import;
    // How far it came is told once more: what was quick was never heard of.
    let (done, total) = (work.done.load(Ordering::Relaxed), work.total.load(Ordering::Relaxed));
    tasks::heard(&app.pool, claimed.id, app.tasks.instance, done, total).await?;
    tasks::ended(&app.pool, claimed.id, app.tasks.instance, &state, has_file).await
}

/// It could not be done, without detail: the log has it.
pub(super) fn failed(error: &dyn std::fmt::Display) -> TaskState {
    tracing::error!(%error, "long work failed");
    TaskState::Failed { why: "it could not be done; the server's log says more".into() }
}

/// Tells the others how far it is, and hears whether it goes on.
async fn be_heard(pool: PgPool, instance: Uuid, work: Work) {
    loop {
        let (done, total) = (work.done.load(Ordering::Relaxed), work.total.load(Ordering::Relaxed));
        // While the database is away nobody is told; it may be taken up elsewhere then, and this one is not kept.
        if matches!(tasks::heard(&pool, work.id, instance, done, total).await, Ok(false)) {
            work.stop.cancel();
            return;
        }
        tokio::select! {
            () = work.stop.cancelled() => return,
            () = tokio::time::sleep(HEARD) => {}
        }
    }
}

/// Keeps a file where every instance reads it.
async fn keep(pool: &PgPool, id: Uuid, mut file: File) -> Result<(), StoreError> {
    let io = |e: std::io::Error| StoreError::Unreadable(e.to_string());
    file.seek(SeekFrom::Start(0)).map_err(io)?;
    for part in 0.. {
        let (back, bytes) = tokio::task::spawn_blocking(move || {
            let mut bytes = Vec::with_capacity(PART);
            (&mut file).take(u64::try_from(PART).unwrap_or(u64::MAX)).read_to_end(&mut bytes)?;
            Ok::<_, std::io::Error>((file, bytes))
        })
        .await
        .map_err(|e| StoreError::Unreadable(e.to_string()))?
        .map_err(io)?;
        file = back;
        if bytes.is_empty() {
            break;
        }
        tasks::keep_part(pool, id, part, &bytes).await?;
    }
    Ok(())
}

/// What went up, as a file without a name: whatever ends the program, nothing of it is left on the disk.
async fn received(pool: &PgPool, id: Uuid) -> Result<File, StoreError> {
    let io = |e: std::io::Error| StoreError::Unreadable(e.to_string());
    let mut file = tempfile::tempfile().map_err(io)?;
    let mut parts = Box::pin(parts_of(pool.clone(), id, true));
    while let Some(bytes) = parts.try_next().await? {
        file = tokio::task::spawn_blocking(move || file.write_all(&bytes).map(|()| file))
            .await
            .map_err(|e| StoreError::Unreadable(e.to_string()))?
            .map_err(io)?;
    }
    file.seek(SeekFrom::Start(0)).map_err(io)?;
    Ok(file)
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
    app: &App,
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
            if !tasks::upload(&app.pool, id, number, &waiting).await? {
                return Ok(false);
            }
            waiting = rest;
            number += 1;
        }
    }
    if !waiting.is_empty() && !tasks::upload(&app.pool, id, number, &waiting).await? {
        return Ok(false);
    }
    tasks::uploaded(&app.pool, id).await?;
    Ok(true)
}

//! Who does long work: whichever instance takes it up. What each kind is lies with what it is about.

use std::fs::File;
use std::io::{Read, Seek, SeekFrom, Write};
use std::time::Duration;

use futures::TryStreamExt;
use sqlx::PgPool;
use uuid::Uuid;

use super::app::App;
use super::tasks::{PART, failed, parts_of};
use super::{archive, listed};
use crate::store::StoreError;
use crate::store::tasks::{self, Claimed, Kind, TaskState};
use crate::work::Work;

/// How often what is done is heard of.
const HEARD: Duration = Duration::from_millis(400);
/// How often an instance looks for what another has left.
const LOOKS: Duration = Duration::from_secs(2);

/// Takes long work up whenever some waits to be, until the program ends.
pub async fn dispatch(app: App) {
    loop {
        tokio::select! {
            () = app.tasks.stop.cancelled() => return,
            () = app.tasks.woken() => {}
        }
        let app = app.clone();
        // Work of one workshop does not wait for that of another.
        tokio::spawn(async move {
            if let Err(error) = take_up_all(&app).await {
                // It is looked for again in a moment.
                tracing::debug!(%error, "long work that waits could not be taken up yet");
            }
        });
    }
}

/// Lets long work be looked for until the program ends: what was left by an instance that is lost, above all.
pub async fn keep_looking(app: App) {
    loop {
        app.tasks.wake();
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
    let work = Work::new(claimed.id, app.tasks.stop.child_token());
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
    let (done, total) = work.stands();
    tasks::heard(&app.pool, claimed.id, app.tasks.instance, done, total).await?;
    tasks::ended(&app.pool, claimed.id, app.tasks.instance, &state, has_file).await
}

/// Tells the others how far it is, and hears whether it goes on.
async fn be_heard(pool: PgPool, instance: Uuid, work: Work) {
    loop {
        let (done, total) = work.stands();
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

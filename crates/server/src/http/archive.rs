//! The archive of a workshop: written and read in the background, with progress, and called off at
//! will.

use std::fs::File;
use std::os::unix::fs::FileExt;
use std::sync::Arc;

use axum::Json;
use axum::body::Body;
use axum::extract::{Request, State};
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use futures::{Stream, StreamExt};
use serde::Serialize;
use serde_json::json;
use tokio::io::AsyncWriteExt;
use utoipa::ToSchema;
use uuid::Uuid;

use super::body::At;
use super::guard::{SignedIn, Technician};
use super::{ApiError, App, Problem};
use crate::archive::{Kind, NotTaken, TaskState, TaskView, Tasks, TrustedKeys, export, take_in};
use crate::store::StoreError;
use crate::store::audit::{self, AuditAct};

/// Largest archive taken in, in bytes.
const MOST_BYTES: u64 = 2 << 30;

/// Long work that was begun.
#[derive(Serialize, ToSchema)]
pub struct Begun {
    /// Its identity.
    pub(super) id: Uuid,
}

fn busy() -> ApiError {
    ApiError::Taken("an archive of this workshop is under way already".into())
}

/// Writes the workshop as an archive, in the background.
#[utoipa::path(post, path = "/api/archive", tag = "archive", responses((status = 202, body = Begun), (status = 409, body = Problem)))]
pub async fn begin_export(
    State(app): State<App>,
    Technician(person): Technician,
) -> Result<(StatusCode, Json<Begun>), ApiError> {
    let (id, stop) = app.tasks.begin(person.workshop_id, Kind::Export).ok_or_else(busy)?;
    tokio::spawn(async move {
        let made = export(&app.pool, person.workshop_id, &app.tasks, id, &stop, &app.settings.keys).await;
        match made {
            Ok(Some((file, jobs))) => {
                let says = format!("{jobs} jobs with their scales, weights and profiles");
                let noted =
                    audit::note(&app.pool, &person, AuditAct::ArchiveExported, json!({"jobs": jobs})).await;
                match noted {
                    Ok(()) => app.tasks.ended(id, TaskState::Done { says }, Some(file)),
                    Err(error) => app.tasks.ended(id, failed(&error), None),
                }
            }
            Ok(None) => app.tasks.ended(id, TaskState::Cancelled, None),
            Err(error) => {
                app.tasks.ended(id, failed(&error), None);
            }
        }
    });
    Ok((StatusCode::ACCEPTED, Json(Begun { id })))
}

/// Takes an archive in, in the background: all of it, into an empty workshop, or nothing.
#[utoipa::path(post, path = "/api/archive/import", tag = "archive", request_body(content = Vec<u8>, content_type = "application/zip"),
    responses((status = 202, body = Begun), (status = 409, body = Problem), (status = 413, body = Problem)))]
pub async fn begin_import(
    State(app): State<App>,
    Technician(person): Technician,
    request: Request,
) -> Result<(StatusCode, Json<Begun>), ApiError> {
    let (id, stop) = app.tasks.begin(person.workshop_id, Kind::Import).ok_or_else(busy)?;
    // Whatever ends the upload, a broken line too, ends the task.
    let under_way = Ends { tasks: app.tasks.clone(), id };
    let upload = received(request.into_body()).await?;
    let trust =
        TrustedKeys { keys: app.settings.keys.clone(), archives: app.settings.trusted_archives.clone() };
    tokio::spawn(async move {
        let under_way = under_way;
        let state = match take_in(&app.pool, &person, trust, upload, &app.tasks, id, &stop).await {
            Ok(taken) => TaskState::Done {
                says: format!(
                    "{} scales, {} weights, {} jobs taken in{}",
                    taken.scales,
                    taken.pieces,
                    taken.jobs,
                    if taken.own { "" } else { "; another house wrote it: its records stay imported ones" }
                ),
            },
            Err(NotTaken::Off) => TaskState::Cancelled,
            Err(why) => {
                tracing::warn!(?why, "an archive was not taken in");
                TaskState::Failed { why: format!("{why}. Nothing was taken in.") }
            }
        };
        app.tasks.ended(id, state, None);
        drop(under_way);
    });
    Ok((StatusCode::ACCEPTED, Json(Begun { id })))
}

fn failed(error: &StoreError) -> TaskState {
    tracing::error!(?error, "an archive could not be written");
    TaskState::Failed { why: "it could not be written; the server's log says more".into() }
}

/// Ends a task that nothing else has ended.
struct Ends {
    tasks: Tasks,
    id: Uuid,
}

impl Drop for Ends {
    fn drop(&mut self) {
        self.tasks.broke_off(self.id);
    }
}

/// An upload, kept on disk: an archive may be larger than memory.
async fn received(body: Body) -> Result<File, ApiError> {
    let internal = |e: std::io::Error| ApiError::Internal(e.to_string());
    // A file without a name: whatever ends the program, nothing of it is left.
    let mut file = tokio::fs::File::from_std(tempfile::tempfile().map_err(internal)?);
    let (mut parts, mut size) = (body.into_data_stream(), 0u64);
    while let Some(part) = parts.next().await {
        let part = part.map_err(|e| ApiError::BadRequest {
            status: StatusCode::BAD_REQUEST,
            detail: format!("the file broke off: {e}"),
        })?;
        size += u64::try_from(part.len()).unwrap_or(u64::MAX);
        if size > MOST_BYTES {
            return Err(ApiError::BadRequest {
                status: StatusCode::PAYLOAD_TOO_LARGE,
                detail: format!("an archive has at most {} GiB", MOST_BYTES >> 30),
            });
        }
        file.write_all(&part).await.map_err(internal)?;
    }
    file.flush().await.map_err(internal)?;
    Ok(file.into_std().await)
}

/// A file from its beginning, whoever else reads it at the same time.
fn read_from_start(file: Arc<File>) -> impl Stream<Item = std::io::Result<Vec<u8>>> {
    const AT_A_TIME: usize = 128 << 10;
    futures::stream::try_unfold((file, 0u64), |(file, at)| async move {
        let (file, bytes) = tokio::task::spawn_blocking(move || {
            let mut bytes = vec![0; AT_A_TIME];
            let read = file.read_at(&mut bytes, at)?;
            bytes.truncate(read);
            Ok::<_, std::io::Error>((file, bytes))
        })
        .await
        .map_err(std::io::Error::other)??;
        let next = at + u64::try_from(bytes.len()).unwrap_or(0);
        Ok((!bytes.is_empty()).then_some((bytes, (file, next))))
    })
}

/// Long work of the workshop, the newest first.
#[utoipa::path(get, path = "/api/archive", tag = "archive", responses((status = 200, body = Vec<TaskView>), (status = 401, body = Problem)))]
pub async fn list_tasks(State(app): State<App>, SignedIn(person): SignedIn) -> Json<Vec<TaskView>> {
    Json(app.tasks.of(person.workshop_id))
}

/// How far some long work is.
#[utoipa::path(get, path = "/api/archive/{id}", tag = "archive", params(("id" = Uuid, Path)), responses((status = 200, body = TaskView), (status = 404, body = Problem)))]
pub async fn task(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<TaskView>, ApiError> {
    app.tasks.one(person.workshop_id, id).map(Json).ok_or(ApiError::NotFound("task"))
}

/// Calls it off, or lets go of its file.
#[utoipa::path(delete, path = "/api/archive/{id}", tag = "archive", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn cancel_task(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    if app.tasks.cancel(person.workshop_id, id) {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("task"))
    }
}

/// The archive itself.
#[utoipa::path(get, path = "/api/archive/{id}/file", tag = "archive", params(("id" = Uuid, Path)),
    responses((status = 200, body = Vec<u8>, content_type = "application/zip"), (status = 404, body = Problem)))]
pub async fn archive_file(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Response, ApiError> {
    let kept = app.tasks.file(person.workshop_id, id).ok_or(ApiError::NotFound("file"))?;
    let body = Body::from_stream(read_from_start(kept));
    let papers = app.tasks.one(person.workshop_id, id).is_some_and(|t| t.kind == Kind::Papers);
    let name = HeaderValue::from_static(if papers {
        "attachment; filename=\"papers.zip\""
    } else {
        "attachment; filename=\"workshop.ombret.zip\""
    });
    Ok((
        [
            (header::CONTENT_TYPE, HeaderValue::from_static("application/zip")),
            (header::CONTENT_DISPOSITION, name),
        ],
        body,
    )
        .into_response())
}

//! The archive of a workshop: written and read in the background, with progress, and called off at
//! will.

use std::fs::File;

use axum::Json;
use axum::body::Body;
use axum::extract::{Request, State};
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use serde::Serialize;
use serde_json::{Value, json};
use utoipa::ToSchema;
use uuid::Uuid;

use super::app::App;
use super::body::At;
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use super::tasks::{Came, failed, parts_of, take_upload};
use crate::archive::{NotTaken, TrustedKeys, export, take_in};
use crate::store::audit::{self, AuditAct};
use crate::store::people::Person;
use crate::store::tasks::{self, Kind, TaskState, TaskView};
use crate::work::Work;
use ombret_core::text;

/// Largest archive taken in, in bytes.
const MOST_BYTES: u64 = 2 << 30;

/// Long work that was begun.
#[derive(Serialize, ToSchema)]
pub struct Begun {
    /// Its identity.
    pub(super) id: Uuid,
}

fn busy() -> ApiError {
    ApiError::Taken(text!("archive-api-an-archive-of-this-workshop"))
}

/// Writes the workshop as an archive, in the background.
#[utoipa::path(post, path = "/api/archive", tag = "archive", responses((status = 202, body = Begun), (status = 409, body = Problem)))]
pub async fn begin_export(
    State(app): State<App>,
    Technician(person): Technician,
) -> Result<(StatusCode, Json<Begun>), ApiError> {
    let id = app.tasks.begin(&app.pool, &person, Kind::Export, &Value::Null).await?.ok_or_else(busy)?;
    Ok((StatusCode::ACCEPTED, Json(Begun { id })))
}

/// Writes the archive of a workshop.
pub(super) async fn write_archive(app: &App, person: &Person, work: &Work) -> Came {
    let written = export(&app.pool, person.workshop_id, work, &app.settings.keys).await;
    let Some((file, jobs)) = written.map_err(|e| failed(&e))? else { return Err(TaskState::Cancelled) };
    let detail = json!({"jobs": jobs});
    audit::note(&app.pool, person, AuditAct::ArchiveExported, detail).await.map_err(|e| failed(&e))?;
    Ok((format!("{jobs} jobs with their scales, weights and profiles"), Some(file)))
}

/// Takes an archive in, in the background: all of it, into an empty workshop, or nothing.
#[utoipa::path(post, path = "/api/archive/import", tag = "archive", request_body(content = Vec<u8>, content_type = "application/zip"),
    responses((status = 202, body = Begun), (status = 409, body = Problem), (status = 413, body = Problem)))]
pub async fn begin_import(
    State(app): State<App>,
    Technician(person): Technician,
    request: Request,
) -> Result<(StatusCode, Json<Begun>), ApiError> {
    let id = app.tasks.begin(&app.pool, &person, Kind::Import, &Value::Null).await?.ok_or_else(busy)?;
    // Whatever ends the upload, a broken line too, ends the task.
    let under_way = Ends { app: app.clone(), id, over: false };
    let too_large = || ApiError::BadRequest {
        status: StatusCode::PAYLOAD_TOO_LARGE,
        detail: format!("an archive has at most {} GiB", MOST_BYTES >> 30),
    };
    let up = take_upload(&app.pool, id, request.into_body(), MOST_BYTES, too_large).await;
    if up.is_err() {
        tasks::broke_off(&app.pool, id).await?;
    }
    under_way.over();
    let up = up?;
    if up {
        app.tasks.wake();
    }
    Ok((StatusCode::ACCEPTED, Json(Begun { id })))
}

/// Reads an archive that went up.
pub(super) async fn read_archive(app: &App, person: &Person, work: &Work, upload: File) -> Came {
    let trust =
        TrustedKeys { keys: app.settings.keys.clone(), archives: app.settings.trusted_archives.clone() };
    match take_in(&app.pool, person, trust, upload, work).await {
        Ok(taken) => Ok((taken.says(), None)),
        Err(NotTaken::Off) => Err(TaskState::Cancelled),
        Err(why) => {
            tracing::warn!(?why, "an archive was not taken in");
            Err(TaskState::Failed { why: format!("{why}. Nothing was taken in.") })
        }
    }
}

/// Ends a task whose upload breaks off.
struct Ends {
    app: App,
    id: Uuid,
    over: bool,
}

impl Ends {
    /// All of it is up.
    fn over(mut self) {
        self.over = true;
    }
}

impl Drop for Ends {
    fn drop(&mut self) {
        if self.over {
            return;
        }
        let (pool, id) = (self.app.pool.clone(), self.id);
        tokio::spawn(async move {
            if let Err(error) = tasks::broke_off(&pool, id).await {
                tracing::warn!(%error, "an upload that broke off is not ended yet");
            }
        });
    }
}

/// Long work of the workshop, the newest first.
#[utoipa::path(get, path = "/api/archive", tag = "archive", responses((status = 200, body = Vec<TaskView>), (status = 401, body = Problem)))]
pub async fn list_tasks(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<TaskView>>, ApiError> {
    Ok(Json(tasks::of(&app.pool, person.workshop_id).await?))
}

/// How far some long work is.
#[utoipa::path(get, path = "/api/archive/{id}", tag = "archive", params(("id" = Uuid, Path)), responses((status = 200, body = TaskView), (status = 404, body = Problem)))]
pub async fn task(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<TaskView>, ApiError> {
    tasks::one(&app.pool, person.workshop_id, id).await?.map(Json).ok_or(ApiError::NotFound("task"))
}

/// Calls it off, or lets go of its file.
#[utoipa::path(delete, path = "/api/archive/{id}", tag = "archive", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn cancel_task(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    if tasks::call_off(&app.pool, person.workshop_id, id).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("task"))
    }
}

/// The archive itself, or whatever else came of long work.
#[utoipa::path(get, path = "/api/archive/{id}/file", tag = "archive", params(("id" = Uuid, Path)),
    responses((status = 200, body = Vec<u8>, content_type = "application/zip"), (status = 404, body = Problem)))]
pub async fn archive_file(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Response, ApiError> {
    let task = tasks::one(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("file"))?;
    if !tasks::has_file(&app.pool, person.workshop_id, id).await? {
        return Err(ApiError::NotFound("file"));
    }
    let body = Body::from_stream(parts_of(app.pool.clone(), id, false));
    let name = HeaderValue::from_static(if task.kind == Kind::Papers {
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

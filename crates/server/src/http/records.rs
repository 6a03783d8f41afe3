//! Job files: out of a job, and into the workshop.

use axum::Json;
use axum::body::Bytes;
use axum::extract::{DefaultBodyLimit, FromRequest, Request, State};
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ombret_core::Refusal;
use ombret_core::assessment::ErrorChart;
use ombret_core::job::{FileError, JobFile, MEDIA_TYPE, import_file};
use ombret_core::journal::Outcome;
use ombret_core::record::{Compared, compare};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At, json_has_nul, nul};
use super::guard::{SignedIn, Technician};
use super::papers::{Ready, VersionQuery};
use super::problem::{ApiError, Problem};
use super::workers::Stop;
use crate::PROGRAM;
use crate::store::records::{VersionRow, WaitingRow};
use crate::store::{jobs, records, scales};
use ombret_core::text;
use ombret_core::wording::Text;

/// Largest job file taken in, in bytes.
const FILE_LIMIT: usize = 4 * 1024 * 1024;

/// What came in with a file.
#[derive(Serialize, ToSchema)]
pub struct Imported {
    /// The job.
    job: Uuid,
    /// The scale, added where it was not known.
    scale: Uuid,
    /// The scale is new here.
    new_scale: bool,
    /// Entries taken in.
    entries: usize,
}

/// The versions of a job's record, the newest first.
#[utoipa::path(get, path = "/api/jobs/{id}/versions", tag = "records", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<VersionRow>), (status = 401, body = Problem)))]
pub async fn record_versions(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<Vec<VersionRow>>, ApiError> {
    Ok(Json(records::versions(&app.pool, person.workshop_id, id).await?))
}

/// Which two records; a version, from 1, or none: as it stands now.
#[derive(Clone, Copy, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CompareQuery {
    /// Job of the first.
    one: Uuid,
    /// Its version.
    one_version: Option<i32>,
    /// Job of the second.
    other: Uuid,
    /// Its version.
    other_version: Option<i32>,
}

/// One of two records.
#[derive(Serialize, ToSchema)]
pub struct ComparedRecord {
    /// Its job.
    job: Uuid,
    /// Its number.
    number: String,
    /// Name of the scale.
    scale: String,
    /// What the job came to.
    outcome: Outcome,
    /// When it was signed.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(required)]
    signed_at: Option<OffsetDateTime>,
    /// Its drawing.
    error_chart: ErrorChart,
}

/// Two records side by side.
#[derive(Serialize, ToSchema)]
pub struct CompareReply {
    /// The first.
    one: ComparedRecord,
    /// The second.
    other: ComparedRecord,
    /// Every fact of either.
    facts: Vec<Compared>,
}

/// Two records, or two versions of one, side by side.
#[utoipa::path(get, path = "/api/compare", tag = "records", params(CompareQuery), responses((status = 200, body = CompareReply), (status = 404, body = Problem)))]
pub async fn compare_records(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(asked): Asked<CompareQuery>,
) -> Result<Json<CompareReply>, ApiError> {
    let one = Ready::of(&app, &person, asked.one, asked.one_version).await?;
    let other = Ready::of(&app, &person, asked.other, asked.other_version).await?;
    let facts = compare(&one.assessed, &other.assessed);
    Ok(Json(CompareReply { one: side(asked.one, one), other: side(asked.other, other), facts }))
}

fn side(job: Uuid, ready: Ready) -> ComparedRecord {
    let number = ready.number().unwrap_or("draft").to_owned();
    ComparedRecord {
        job,
        number,
        scale: ready.assessed.sheet.name,
        outcome: ready.assessed.outcome,
        signed_at: ready.assessed.close.signed_at,
        error_chart: ready.assessed.error_chart,
    }
}

/// Signed records that wait for approval, the longest first.
#[utoipa::path(get, path = "/api/review", tag = "records", responses((status = 200, body = Vec<WaitingRow>), (status = 401, body = Problem)))]
pub async fn waiting_records(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<WaitingRow>>, ApiError> {
    Ok(Json(records::waiting(&app.pool, person.workshop_id).await?))
}

/// The job as an open file; a closed job gives its frozen bytes.
#[utoipa::path(get, path = "/api/jobs/{id}/file", tag = "records", params(("id" = Uuid, Path), VersionQuery),
    responses((status = 200, body = JobFile, content_type = "application/vnd.ombret.job+json"), (status = 404, body = Problem)))]
pub async fn job_file(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Asked(asked): Asked<VersionQuery>,
) -> Result<Response, ApiError> {
    let bytes = match records::file(&app.pool, person.workshop_id, id, asked.version).await? {
        Some(frozen) => frozen.bytes,
        None if asked.version.is_some() => return Err(ApiError::NotFound("version")),
        None => {
            let job = jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
            serde_json::to_vec_pretty(&JobFile::new(id, PROGRAM, job.journal.sealed_after(0)))
                .map_err(|e| ApiError::Internal(e.to_string()))?
        }
    };
    let name = HeaderValue::from_str(&format!("attachment; filename=\"{id}.ombret-job.json\""))
        .map_err(|e| ApiError::Internal(e.to_string()))?;
    Ok((
        [(header::CONTENT_TYPE, HeaderValue::from_static(MEDIA_TYPE)), (header::CONTENT_DISPOSITION, name)],
        bytes,
    )
        .into_response())
}

/// A job file as it comes in.
pub struct FileBody(Bytes);

impl FromRequest<App> for FileBody {
    type Rejection = ApiError;

    async fn from_request(mut request: Request, app: &App) -> Result<Self, Self::Rejection> {
        let bad = |status, detail: &str| ApiError::BadRequest { status, detail: detail.into() };
        let kind =
            request.headers().get(header::CONTENT_TYPE).and_then(|v| v.to_str().ok()).unwrap_or_default();
        if kind.split(';').next() != Some(MEDIA_TYPE) {
            return Err(bad(
                StatusCode::UNSUPPORTED_MEDIA_TYPE,
                &format!("a job file is sent as {MEDIA_TYPE}"),
            ));
        }
        DefaultBodyLimit::apply(DefaultBodyLimit::max(FILE_LIMIT), &mut request);
        let bytes = Bytes::from_request(request, app).await;
        let bytes = bytes
            .map_err(|e| bad(e.status(), &format!("a job file has at most {} MiB", FILE_LIMIT >> 20)))?;
        if json_has_nul(&bytes) { Err(nul()) } else { Ok(Self(bytes)) }
    }
}

/// Takes a job file in: all of it or nothing.
#[utoipa::path(post, path = "/api/jobs/import", tag = "records", request_body(content = JobFile, content_type = "application/vnd.ombret.job+json"),
    responses((status = 201, body = Imported), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn import_job(
    State(app): State<App>,
    Technician(person): Technician,
    FileBody(bytes): FileBody,
) -> Result<(StatusCode, Json<Imported>), ApiError> {
    let work = move |_: &Stop| {
        import_file(&bytes, OffsetDateTime::now_utc())
            .map_err(|error: FileError| Refusal::from(Refused::BadFile { says: Text::from(&error) }).into())
    };
    let (file, state) = app.workers.run(work).await?;
    if state.sheet.practice {
        return Err(Refusal::from(Refused::Practice).into());
    }
    if jobs::workshop_of(&app.pool, file.job).await?.is_some() {
        return Err(ApiError::Taken(text!("records-api-this-job-is-here-already")));
    }
    if file.signature().is_some_and(|s| app.settings.keys.knows(&s.key)) {
        tracing::info!(job = %file.job, "a job of this house came back as a file; it is kept as imported");
    }
    let scale = state.sheet.id;
    let new_scale = scales::one(&app.pool, person.workshop_id, scale).await?.is_none();
    let sheet = new_scale.then_some(&state.sheet);
    jobs::take_in(&app.pool, &person, sheet, scale, &file).await.map_err(|error| {
        let why = match error.twice() {
            Some("entry") => {
                "entries of this file stand in another job here: it was put together from that one"
            }
            Some("scale") => "the scale of this file is kept by another workshop here",
            Some("job") => "this job is here already",
            _ => return ApiError::from(error),
        };
        ApiError::Taken(why.into())
    })?;
    Ok((StatusCode::CREATED, Json(Imported { job: file.job, scale, new_scale, entries: file.entries.len() })))
}

ombret_core::refusals! {
    enum Refused {
        BadFile { says: Text } = "bad_file" at "file": says, then text!("records-api-nothing-was-taken-in-ask");
        Practice = "bad_file" at "file":
            text!("records-api-this-is-the-job-of"),
            then text!("records-api-nothing-was-taken-in-practice");
    }
}

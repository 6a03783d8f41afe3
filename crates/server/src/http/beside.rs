//! Instruments that read the air, and photographs and files of scales, jobs and pieces.

use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use axum::http::{HeaderMap, HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ombret_core::Refusal;
use ombret_core::journal::media_of;
use ombret_core::weights::Instrument;
use serde::Deserialize;
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At, Body};
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use crate::sha256_hex;
use crate::store::beside::{self, FileOf, FileRow, InstrumentRow, NotKept};
use ombret_core::text;

/// An instrument as typed.
#[derive(Deserialize, ToSchema)]
pub struct InstrumentForm {
    /// The instrument.
    instrument: Instrument,
    /// The version that was edited; 0 for a new one.
    #[serde(default)]
    version: i32,
}

/// The workshop's instruments.
#[utoipa::path(get, path = "/api/instruments", tag = "kit", responses((status = 200, body = Vec<InstrumentRow>), (status = 401, body = Problem)))]
pub async fn list_instruments(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<InstrumentRow>>, ApiError> {
    Ok(Json(beside::instruments(&app.pool, person.workshop_id).await?))
}

/// Keeps an instrument.
#[utoipa::path(put, path = "/api/instruments", tag = "kit", request_body = InstrumentForm, responses((status = 204), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn keep_instrument(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<InstrumentForm>,
) -> Result<StatusCode, ApiError> {
    form.instrument.check()?;
    let kept = beside::keep_instrument(&app.pool, person.workshop_id, &form.instrument, form.version).await;
    match kept {
        Ok(true) => Ok(StatusCode::NO_CONTENT),
        Ok(false) => Err(ApiError::Taken(text!("beside-api-it-was-changed-by-somebody"))),
        Err(error) if error.twice() == Some("instrument") => Err(Refusal::from(Refused::Taken).into()),
        Err(error) => Err(error.into()),
    }
}

/// Takes an instrument out of use; records keep what they say of it.
#[utoipa::path(delete, path = "/api/instruments/{id}", tag = "kit", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn remove_instrument(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    if beside::remove_instrument(&app.pool, person.workshop_id, id).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("instrument"))
    }
}

/// To what a file belongs.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct FilesQuery {
    /// Scale, job or piece.
    #[param(inline)]
    of: FileOf,
    /// Which.
    id: Uuid,
}

/// A file that goes up.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct FileQuery {
    /// Scale, job or piece.
    #[param(inline)]
    of: FileOf,
    /// Which.
    id: Uuid,
    /// Its name.
    name: String,
    /// What it shows.
    #[serde(default)]
    caption: String,
}

/// Files of a scale, a job or a piece.
#[utoipa::path(get, path = "/api/files", tag = "files", params(FilesQuery), responses((status = 200, body = Vec<FileRow>), (status = 401, body = Problem)))]
pub async fn list_files(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(asked): Asked<FilesQuery>,
) -> Result<Json<Vec<FileRow>>, ApiError> {
    Ok(Json(beside::files(&app.pool, person.workshop_id, asked.of, asked.id).await?))
}

/// Keeps a file beside a scale, a job or a piece. To stand on a job's record it is entered into the journal.
#[utoipa::path(put, path = "/api/files/{file}", tag = "files", params(("file" = Uuid, Path), FileQuery), request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 200, body = FileRow), (status = 404, body = Problem), (status = 413, body = Problem), (status = 422, body = Problem)))]
pub async fn put_file(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
    Asked(asked): Asked<FileQuery>,
    bytes: Bytes,
) -> Result<Json<FileRow>, ApiError> {
    let plain = |text: &str, most: usize| -> String {
        text.chars().filter(|c| !c.is_control()).take(most).collect::<String>().trim().to_owned()
    };
    let name = plain(&asked.name, 120);
    if name.is_empty() {
        return Err(Refusal::from(Refused::Missing).into());
    }
    let media = media_of(u64::try_from(bytes.len()).unwrap_or(u64::MAX), &bytes)?;
    let row = FileRow {
        id,
        name,
        media: media.to_owned(),
        caption: plain(&asked.caption, 120),
        sha256: sha256_hex(&bytes),
        size: i64::try_from(bytes.len()).unwrap_or(i64::MAX),
        by: person.name.clone(),
        made_at: OffsetDateTime::now_utc(),
    };
    let most = i64::try_from(app.settings.most_file_mb).unwrap_or(i64::MAX).saturating_mul(1 << 20);
    match beside::keep_file(&app.pool, &person, (asked.of, asked.id), &row, &bytes, most).await? {
        Ok(()) => {}
        Err(NotKept::Nothing) => return Err(ApiError::NotFound("scale, job or piece")),
        Err(NotKept::NoRoom) => {
            return Err(Refusal::from(Refused::NoRoom { most: app.settings.most_file_mb }).into());
        }
    }
    // Sent twice: what is there is what came first.
    let (there, _) =
        beside::file(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("file"))?;
    if there.sha256 != row.sha256 {
        return Err(ApiError::Taken(text!("beside-api-another-file-has-this-identity")));
    }
    Ok(Json(there))
}

/// A file itself. Pictures are shown, whatever else it is is saved.
#[utoipa::path(get, path = "/api/files/{file}", tag = "files", params(("file" = Uuid, Path)),
    responses((status = 200, body = Vec<u8>, content_type = "application/octet-stream"), (status = 404, body = Problem)))]
pub async fn get_file(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    headers: HeaderMap,
) -> Result<Response, ApiError> {
    let (row, bytes) =
        beside::file(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("file"))?;
    let etag = format!("\"{}\"", row.sha256);
    if headers.get(header::IF_NONE_MATCH).is_some_and(|known| known.as_bytes() == etag.as_bytes()) {
        return Ok(StatusCode::NOT_MODIFIED.into_response());
    }
    let plain: String = row
        .name
        .chars()
        .map(|c| if c.is_ascii_alphanumeric() || matches!(c, '.' | '-' | '_') { c } else { '-' })
        .collect();
    let disposition = if row.media.starts_with("image/") { "inline" } else { "attachment" };
    let value = |text: &str| HeaderValue::from_str(text).map_err(|e| ApiError::Internal(e.to_string()));
    Ok((
        [
            (header::CONTENT_TYPE, value(&row.media)?),
            (header::CONTENT_DISPOSITION, value(&format!("{disposition}; filename=\"{plain}\""))?),
            (header::ETAG, value(&etag)?),
            (header::CACHE_CONTROL, HeaderValue::from_static("private, no-cache")),
        ],
        bytes,
    )
        .into_response())
}

/// Removes a file of a scale or a piece; one of a job is kept.
#[utoipa::path(delete, path = "/api/files/{file}", tag = "files", params(("file" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn remove_file(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    if beside::remove_file(&app.pool, person.workshop_id, id).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("file that may be removed"))
    }
}

ombret_core::refusals! {
    enum Refused {
        Taken = "taken" at "serial": text!("beside-api-another-instrument-has-this-mark");
        Missing = "missing" at "name": text!("beside-api-a-file-has-a-name");
        NoRoom { most: u64 } = "no_room" at "file": text!("beside-api-no-room", most);
    }
}

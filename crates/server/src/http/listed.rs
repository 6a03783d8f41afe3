//! All records of the workshop: a list with filters, and their papers as one file.

use std::io::Write;

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use utoipa::{IntoParams, ToSchema};
use zip::ZipWriter;
use zip::write::SimpleFileOptions;

use super::app::App;
use super::archive::Begun;
use super::body::Asked;
use super::guard::SignedIn;
use super::papers::{Ready, address_from, base_of};
use super::problem::{ApiError, Problem};
use super::tasks::{Came, failed};
use crate::store::audit::{self, AuditAct};
use crate::store::listed::{self, RecordCursor, RecordRow, RecordsAsked};
use crate::store::people::Person;
use crate::store::tasks::{Kind, TaskState};
use crate::work::Work;
use ombret_core::text;

/// Records on a page.
const PAGE: i64 = 100;
/// Most papers in one file.
const MOST_PAPERS: i64 = 2_000;

/// Where a page begins.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PageQuery {
    /// Cursor from the page before.
    #[serde(default)]
    after: Option<String>,
}

/// A page of records.
#[derive(Serialize, ToSchema)]
pub struct RecordPage {
    /// The records, the newest first.
    records: Vec<RecordRow>,
    /// Cursor of the next page, if there is one.
    #[schema(required)]
    next: Option<String>,
    /// Who signed records here; on the first page only.
    signers: Vec<String>,
}

/// All records.
#[utoipa::path(get, path = "/api/records", tag = "records", params(RecordsAsked, PageQuery), responses((status = 200, body = RecordPage), (status = 400, body = Problem), (status = 401, body = Problem)))]
pub async fn list_records(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(asked): Asked<RecordsAsked>,
    Asked(query): Asked<PageQuery>,
) -> Result<Json<RecordPage>, ApiError> {
    let bad = || ApiError::BadRequest {
        status: StatusCode::BAD_REQUEST,
        detail: "this is no cursor of the list".into(),
    };
    let after: Option<RecordCursor> =
        query.after.as_deref().map(|text| serde_json::from_str(text).map_err(|_| bad())).transpose()?;
    let first = after.is_none();
    let mut records = listed::page(&app.reads, person.workshop_id, &asked, after, PAGE + 1).await?;
    let page = usize::try_from(PAGE).unwrap_or(0);
    let more = records.len() > page;
    records.truncate(page);
    let cursor = records.last().filter(|_| more).map(|r| RecordCursor { at: r.signed_at, job: r.job });
    let next = cursor.map(|c| serde_json::to_string(&c)).transpose();
    let signers = if first { listed::signers(&app.reads, person.workshop_id).await? } else { Vec::new() };
    Ok(Json(RecordPage { records, next: next.map_err(|e| ApiError::Internal(e.to_string()))?, signers }))
}

/// Writes the papers of records as one ZIP of PDFs, in the background: progress, file and calling it off are
/// those of any long work.
#[utoipa::path(post, path = "/api/records/papers", tag = "records", params(RecordsAsked), responses((status = 202, body = Begun), (status = 409, body = Problem)))]
pub async fn begin_papers(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(asked): Asked<RecordsAsked>,
    headers: HeaderMap,
) -> Result<(StatusCode, Json<Begun>), ApiError> {
    let found = listed::page(&app.pool, person.workshop_id, &asked, None, MOST_PAPERS + 1).await?;
    if found.is_empty() || i64::try_from(found.len()).unwrap_or(i64::MAX) > MOST_PAPERS {
        return Err(ombret_core::Refusal::from(Refused::TooMany {
            min: found.len().min(2_001),
            most_papers: MOST_PAPERS,
        })
        .into());
    }
    let asked = Wanted { records: asked, base: base_of(&app, &headers) };
    let asked = serde_json::to_value(asked).map_err(|e| ApiError::Internal(e.to_string()))?;
    let id = app
        .tasks
        .begin(&app.pool, &person, Kind::Papers, &asked)
        .await?
        .ok_or_else(|| ApiError::Taken(text!("listed-api-long-work-of-this-workshop")))?;
    Ok((StatusCode::ACCEPTED, Json(Begun { id })))
}

/// What papers are wanted, as it lies in the database until some instance writes them.
#[derive(Serialize, Deserialize)]
struct Wanted {
    records: RecordsAsked,
    /// Where their codes lead.
    base: String,
}

/// Writes the papers of records.
pub(super) async fn write_papers(app: &App, person: &Person, work: &Work, asked: &Value) -> Came {
    let wanted: Wanted = serde_json::from_value(asked.clone()).map_err(|e| failed(&e))?;
    let found = listed::page(&app.pool, person.workshop_id, &wanted.records, None, MOST_PAPERS)
        .await
        .map_err(|e| failed(&e))?;
    let total = u64::try_from(found.len()).unwrap_or(0);
    let mut zip = ZipWriter::new(tempfile::tempfile().map_err(|e| failed(&e))?);
    for (done, row) in (0u64..).zip(&found) {
        work.progress(done, total);
        if work.stop.is_cancelled() {
            return Err(TaskState::Cancelled);
        }
        zip = add_paper(app, person, row, &wanted.base, zip).await.map_err(|e| failed(&e))?;
    }
    work.progress(total, total);
    let detail = json!({"papers": total});
    audit::note(&app.pool, person, AuditAct::PapersExported, detail).await.map_err(|e| failed(&e))?;
    let file = zip.finish().map_err(|e| failed(&e))?;
    Ok((format!("{total} papers"), Some(file)))
}

/// Adds the paper of one record. One that a workshop has twice, in two jobs of one number, would be lost: the
/// number is unique among records as they stand.
async fn add_paper(
    app: &App,
    person: &Person,
    row: &RecordRow,
    base: &str,
    mut zip: ZipWriter<std::fs::File>,
) -> Result<ZipWriter<std::fs::File>, ApiError> {
    let (job, number) = (row.job, row.number.clone());
    let ready = Ready::of(app, person, job, None).await?;
    let address = address_from(base, job, &ready);
    app.workers
        .run(move |_| {
            let internal = |e: &dyn std::fmt::Display| ApiError::Internal(e.to_string());
            let pdf = ready.certificate(job, &address)?;
            // A PDF is packed already.
            let options = SimpleFileOptions::default().compression_method(zip::CompressionMethod::Stored);
            zip.start_file(format!("{number}.pdf"), options).map_err(|e| internal(&e))?;
            zip.write_all(&pdf).map_err(|e| internal(&e))?;
            Ok(zip)
        })
        .await
}

ombret_core::refusals! {
    enum Refused {
        TooMany { min: usize, most_papers: i64 } = "too_many":
            text!("listed-api-min-records-one-file-holds", min, most_papers),
            then text!("listed-api-choose-others-or-a-shorter");
    }
}

//! A scale over the years, what is due, the calendar of due dates, readings as a table, and which
//! records rest on a piece of weight.

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderValue, header};
use axum::response::{IntoResponse, Response};
use icalendar::{Calendar, Component, Event, EventLike};
use ombret_core::job::{Entry, Outcome, ReadingView, assess, open_file};
use ombret_core::schedule::{Drawn, Drift, drift};
use rand::RngExt;
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::body::{Asked, At};
use super::guard::{SignedIn, Technician};
use super::{ApiError, App, Problem};
use crate::store::history::{self, DueRow, Resting, Shown};
use crate::store::{jobs, scales};

/// Most days ahead that are listed.
const MOST_DAYS: i64 = 3_700;
/// Most scales on the board.
const MOST_ROWS: i64 = 2_000;

/// A record in the history of a scale.
#[derive(Serialize, ToSchema)]
pub struct HistoryRow {
    /// Its job.
    job: Uuid,
    /// Its number.
    number: String,
    /// What the job came to.
    outcome: Outcome,
    /// When it was closed.
    #[serde(with = "time::serde::rfc3339")]
    closed_at: OffsetDateTime,
    /// Largest share of the tolerance as found.
    #[schema(required)]
    found_share: Option<f64>,
    /// As left.
    #[schema(required)]
    left_share: Option<f64>,
    /// Its drawing.
    #[schema(required, value_type = Option<ombret_core::job::Shade>)]
    shade: Option<serde_json::Value>,
}

/// A scale over the years.
#[derive(Serialize, ToSchema)]
pub struct HistoryReply {
    /// Name of the scale.
    name: String,
    /// Its records, the oldest first.
    records: Vec<HistoryRow>,
    /// Its drift; none where nothing was read.
    #[schema(required)]
    drift: Option<Drift>,
}

/// Up to when.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct DueQuery {
    /// Days from today.
    #[serde(default = "a_quarter")]
    days: i64,
}

const fn a_quarter() -> i64 {
    92
}

/// Where the calendar is.
#[derive(Serialize, ToSchema)]
pub struct CalendarReply {
    /// Its path; none: it was never asked for.
    #[schema(required)]
    path: Option<String>,
}

/// The records of a scale with its drift.
#[utoipa::path(get, path = "/api/scales/{id}/history", tag = "records", params(("id" = Uuid, Path)), responses((status = 200, body = HistoryReply), (status = 404, body = Problem)))]
pub async fn scale_history(State(app): State<App>, SignedIn(person): SignedIn, At(id): At<Uuid>) -> Result<Json<HistoryReply>, ApiError> {
    let detail = scales::one(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("scale"))?;
    let kept = history::of_scale(&app.pool, person.workshop_id, id).await?;
    let mut records = Vec::with_capacity(kept.len());
    let mut over_time = Vec::with_capacity(kept.len());
    for k in kept {
        let shade = drawing(k.shown)?;
        let drawn: Option<Drawn> = shade.clone().and_then(|shade| serde_json::from_value(shade).ok());
        records.push(HistoryRow {
            found_share: drawn.as_ref().and_then(Drawn::found_share),
            left_share: drawn.as_ref().and_then(Drawn::left_share),
            job: k.job,
            number: k.number,
            outcome: serde_json::from_value(k.outcome.into()).map_err(|e| ApiError::Internal(e.to_string()))?,
            closed_at: k.closed_at,
            shade,
        });
        over_time.extend(drawn.map(|drawn| (k.closed_at.date(), drawn)));
    }
    Ok(Json(HistoryReply { name: detail.sheet.name, records, drift: drift(&over_time) }))
}

/// What a record showed; one that cannot be opened any more is left without its drawing.
fn drawing(shown: Shown) -> Result<Option<serde_json::Value>, ApiError> {
    match shown {
        Shown::Drawn(shade) => Ok(Some(shade)),
        Shown::File(bytes) => {
            let Ok((file, state)) = open_file(&bytes) else { return Ok(None) };
            let entries: Vec<Entry> = file.entries.into_iter().map(|s| s.entry).collect();
            serde_json::to_value(assess(&entries, &state).shade).map(Some).map_err(|e| ApiError::Internal(e.to_string()))
        }
    }
}

/// Scales that are due, the first due first.
#[utoipa::path(get, path = "/api/due", tag = "records", params(DueQuery), responses((status = 200, body = Vec<DueRow>), (status = 401, body = Problem)))]
pub async fn due_board(State(app): State<App>, SignedIn(person): SignedIn, Asked(query): Asked<DueQuery>) -> Result<Json<Vec<DueRow>>, ApiError> {
    let today = OffsetDateTime::now_utc().date();
    let until = today + Duration::days(query.days.clamp(0, MOST_DAYS));
    Ok(Json(history::due(&app.pool, person.workshop_id, today, until, MOST_ROWS).await?))
}

fn path_of(secret: &str) -> String {
    format!("/api/calendar/{secret}")
}

/// Where the workshop's calendar of due dates is.
#[utoipa::path(get, path = "/api/calendar", tag = "records", responses((status = 200, body = CalendarReply), (status = 401, body = Problem)))]
pub async fn calendar_address(State(app): State<App>, SignedIn(person): SignedIn) -> Result<Json<CalendarReply>, ApiError> {
    let secret = history::calendar_secret(&app.pool, person.workshop_id, None).await?;
    Ok(Json(CalendarReply { path: secret.as_deref().map(path_of) }))
}

/// Makes a new secret address for the calendar; an old one leads nowhere from then on.
#[utoipa::path(post, path = "/api/calendar", tag = "records", responses((status = 200, body = CalendarReply), (status = 403, body = Problem)))]
pub async fn renew_calendar(State(app): State<App>, Technician(person): Technician) -> Result<Json<CalendarReply>, ApiError> {
    let mut bytes = [0u8; 24];
    rand::rng().fill(&mut bytes);
    let fresh: String = bytes.iter().map(|b| format!("{b:02x}")).collect();
    let secret = history::calendar_secret(&app.pool, person.workshop_id, Some(&fresh)).await?;
    Ok(Json(CalendarReply { path: secret.as_deref().map(path_of) }))
}

/// The calendar itself, for whoever has its address.
#[utoipa::path(get, path = "/api/calendar/{secret}", tag = "records", params(("secret" = String, Path)),
    responses((status = 200, body = String, content_type = "text/calendar"), (status = 404, body = Problem)))]
pub async fn calendar(State(app): State<App>, At(secret): At<String>) -> Result<Response, ApiError> {
    let (workshop, name) = history::of_calendar(&app.pool, &secret).await?.ok_or(ApiError::NotFound("calendar"))?;
    let today = OffsetDateTime::now_utc().date();
    let until = today + Duration::days(MOST_DAYS);
    let mut out = Calendar::new().name(&format!("Scales due, {name}")).done();
    for row in history::due(&app.pool, workshop, today, until, MOST_ROWS).await? {
        let day = format!("{:04}{:02}{:02}", row.due.year(), u8::from(row.due.month()), row.due.day());
        let mut event = Event::new();
        event.uid(&format!("{}@ombret", row.scale)).summary(&format!("{} due, {}", row.name, row.owner)).location(&row.place);
        // A whole day, as RFC 5545 writes it.
        let mut start = icalendar::Property::new("DTSTART", &day);
        start.add_parameter("VALUE", "DATE");
        event.append_property(start);
        if let Some(reason) = &row.reason {
            event.description(reason);
        }
        out.push(event.done());
    }
    Ok(([(header::CONTENT_TYPE, HeaderValue::from_static("text/calendar; charset=utf-8"))], out.to_string()).into_response())
}

/// The readings of a job as a table, RFC 4180.
#[utoipa::path(get, path = "/api/jobs/{id}/readings", tag = "records", params(("id" = Uuid, Path)),
    responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
pub async fn readings_table(State(app): State<App>, SignedIn(person): SignedIn, At(id): At<Uuid>) -> Result<Response, ApiError> {
    let journal = jobs::journal(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    let (entries, state) = (journal.entries(), journal.state()?);
    let told = assess(&entries, &state);
    let failed = |e: csv::Error| ApiError::Internal(e.to_string());
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    out.write_record(["stage", "pad", "purpose", "place", "way", "load", "load unit", "shown", "error", "error unit", "in d", "tolerance", "U", "verdict", "counts", "pieces"]).map_err(failed)?;
    for (stage, readings) in [("as found", &told.as_found.readings), ("as left", &told.proof.readings)] {
        for r in readings {
            out.write_record(row_of(stage, r)).map_err(failed)?;
        }
    }
    let bytes = out.into_inner().map_err(|e| ApiError::Internal(e.to_string()))?;
    let name = HeaderValue::from_str(&format!("attachment; filename=\"{id}.csv\"")).map_err(|e| ApiError::Internal(e.to_string()))?;
    Ok(([(header::CONTENT_TYPE, HeaderValue::from_static("text/csv; charset=utf-8; header=present")), (header::CONTENT_DISPOSITION, name)], bytes).into_response())
}

fn row_of(stage: &str, r: &ReadingView) -> Vec<String> {
    let word = |value: serde_json::Value| value.as_str().unwrap_or_default().to_owned();
    vec![
        stage.into(),
        r.pad.to_string(),
        word(serde_json::to_value(r.purpose).unwrap_or_default()),
        r.spot.map_or_else(String::new, |s| s.to_string()),
        word(serde_json::to_value(r.way).unwrap_or_default()),
        r.load.value.to_string(),
        r.load.unit.to_string(),
        r.shown_text.clone(),
        r.error.value.to_string(),
        r.error.unit.to_string(),
        r.error_d.clone(),
        r.mpe_text.clone(),
        r.budget.as_ref().map_or_else(String::new, |b| b.expanded_text.clone()),
        if r.within { "within" } else { "outside" }.into(),
        if r.counts { "yes" } else { "no" }.into(),
        r.pieces.join(" "),
    ]
}

/// Records that rest on a piece of weight: whom to call if it is found wrong.
#[utoipa::path(get, path = "/api/kit/{id}/records", tag = "kit", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<Resting>), (status = 401, body = Problem)))]
pub async fn resting_on(State(app): State<App>, SignedIn(person): SignedIn, At(id): At<Uuid>) -> Result<Json<Vec<Resting>>, ApiError> {
    Ok(Json(history::resting_on(&app.pool, person.workshop_id, id).await?))
}

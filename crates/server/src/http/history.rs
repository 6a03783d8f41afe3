//! A scale over the years, readings as a table, and which records rest on a piece of weight.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::Response;
use ombret_core::assessment::{ReadingView, assess};
use ombret_core::import::{EarlierResult, defused};
use ombret_core::job::open_file;
use ombret_core::journal::{Entry, Outcome};
use ombret_core::schedule::{Drawn, Drift, drift};
use serde::{Deserialize, Serialize};
use time::{Date, OffsetDateTime};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At};
use super::guard::SignedIn;
use super::papers::file;
use super::problem::{ApiError, Problem};
use crate::store::history::{self, Resting, Shown, UsedWeight};
use crate::store::{intake, jobs, scales};
use ombret_core::text;
use ombret_core::wording::Text;

/// Records on a page of a recall list.
const RECALL_PAGE: i64 = 200;

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
    #[schema(required, value_type = Option<ombret_core::assessment::ErrorChart>)]
    error_chart: Option<serde_json::Value>,
    /// Something of the adjustment was changed.
    adjusted: bool,
    /// How many weights were named in it.
    weights: usize,
    /// What speaks against some of them, as the kit knows them now.
    doubts: Vec<Text>,
}

/// A scale over the years.
#[derive(Serialize, ToSchema)]
pub struct HistoryReply {
    /// Name of the scale.
    name: String,
    /// How many records it has.
    total: i64,
    /// The newest of them, the oldest first.
    records: Vec<HistoryRow>,
    /// Its drift; none where nothing was read.
    #[schema(required)]
    drift: Option<Drift>,
    /// What was found before the workshop kept its records here, the newest first; no records.
    earlier: Vec<EarlierResult>,
}

/// Where a page of a recall list begins.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct RecallQuery {
    /// Cursor from the page before.
    #[serde(default)]
    after: Option<String>,
}

/// Records that rest on a piece.
#[derive(Serialize, ToSchema)]
pub struct RecallReply {
    /// How many in all.
    total: i64,
    /// A page of them, the newest first.
    records: Vec<Resting>,
    /// Cursor of the next page, if there is one.
    #[schema(required)]
    next: Option<String>,
}

/// The records of a scale with its drift.
#[utoipa::path(get, path = "/api/scales/{id}/history", tag = "records", params(("id" = Uuid, Path)), responses((status = 200, body = HistoryReply), (status = 404, body = Problem)))]
pub async fn scale_history(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<HistoryReply>, ApiError> {
    let detail = scales::one(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("scale"))?;
    let kept = history::of_scale(&app.pool, person.workshop_id, id).await?;
    let used = history::weights_of(&app.pool, &kept.iter().map(|k| k.job).collect::<Vec<_>>()).await?;
    let mut records = Vec::with_capacity(kept.len());
    let mut over_time = Vec::with_capacity(kept.len());
    for k in kept {
        let error_chart = drawing(k.shown)?;
        let drawn: Option<Drawn> =
            error_chart.clone().and_then(|error_chart| serde_json::from_value(error_chart).ok());
        records.push(HistoryRow {
            found_share: drawn.as_ref().and_then(Drawn::found_share),
            left_share: drawn.as_ref().and_then(Drawn::left_share),
            job: k.job,
            number: k.number,
            outcome: serde_json::from_value(k.outcome.into())
                .map_err(|e| ApiError::Internal(e.to_string()))?,
            closed_at: k.closed_at,
            error_chart,
            adjusted: k.adjusted,
            weights: used.iter().filter(|w| w.job == k.job).count(),
            doubts: used
                .iter()
                .filter(|w| w.job == k.job)
                .filter_map(|w| {
                    Some(text!("history-doubt", serial = w.serial, doubt = doubt(w, k.closed_at.date())?))
                })
                .collect(),
        });
        over_time.extend(drawn.map(|drawn| (k.closed_at.date(), drawn)));
    }
    // A scale with fewer than are shown has as many as came.
    let whole = i64::try_from(records.len()).unwrap_or(0);
    let total = if whole < history::MOST_SHOWN {
        whole
    } else {
        history::count_of_scale(&app.pool, person.workshop_id, id).await?
    };
    let earlier = intake::earlier(&app.pool, person.workshop_id, id).await?;
    Ok(Json(HistoryReply { name: detail.sheet.name, total, records, drift: drift(&over_time), earlier }))
}

/// What speaks against a weight of a record now.
fn doubt(used: &UsedWeight, day: Date) -> Option<Text> {
    match &used.piece {
        Some(piece) => piece.doubt_since(used.certificate.as_deref(), day),
        None => Some(text!("history-not-in-kit")),
    }
}

/// What a record showed; one that cannot be opened any more is left without its drawing.
fn drawing(shown: Shown) -> Result<Option<serde_json::Value>, ApiError> {
    match shown {
        Shown::Drawn(error_chart) => Ok(Some(error_chart)),
        Shown::File(bytes) => {
            let Ok((file, state)) = open_file(&bytes) else { return Ok(None) };
            let entries: Vec<Entry> = file.entries.into_iter().map(|s| s.entry).collect();
            serde_json::to_value(assess(&entries, &state).error_chart)
                .map(Some)
                .map_err(|e| ApiError::Internal(e.to_string()))
        }
    }
}

/// The readings of a job as a table, RFC 4180.
#[utoipa::path(get, path = "/api/jobs/{id}/readings", tag = "records", params(("id" = Uuid, Path)),
    responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
pub async fn readings_table(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Response, ApiError> {
    let job = jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    let assessed = job.journal.assess();
    let failed = |e: csv::Error| ApiError::Internal(e.to_string());
    let mut out = table();
    out.write_record(READING_COLUMNS).map_err(failed)?;
    for (stage, readings) in
        [("as found", &assessed.as_found.readings), ("as left", &assessed.proof.readings)]
    {
        for r in readings {
            out.write_record(row_of(stage, r).iter().map(|field| defused(field))).map_err(failed)?;
        }
    }
    kept(out, &format!("{id}.csv"))
}

/// The columns of a table of readings.
pub(super) const READING_COLUMNS: [&str; 16] = [
    "stage",
    "pad",
    "purpose",
    "place",
    "way",
    "load",
    "load unit",
    "shown",
    "error",
    "error unit",
    "in d",
    "tolerance",
    "U",
    "verdict",
    "counts",
    "pieces",
];

/// A reading as a row of these columns.
pub(super) fn row_of(stage: &str, r: &ReadingView) -> Vec<String> {
    let word = |value: serde_json::Value| value.as_str().unwrap_or_default().to_owned();
    vec![
        stage.into(),
        r.pad.to_string(),
        word(serde_json::to_value(r.purpose).unwrap_or_default()),
        r.position.map_or_else(String::new, |s| s.to_string()),
        word(serde_json::to_value(r.direction).unwrap_or_default()),
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

fn place_of(text: &str) -> Result<(OffsetDateTime, Uuid), ApiError> {
    let bad = || ApiError::BadRequest {
        status: StatusCode::BAD_REQUEST,
        detail: "this is no cursor of the list".into(),
    };
    let (at, job) = text.split_once('_').ok_or_else(bad)?;
    let micros: i128 = at.parse().map_err(|_| bad())?;
    let at = OffsetDateTime::from_unix_timestamp_nanos(micros.checked_mul(1000).ok_or_else(bad)?)
        .map_err(|_| bad())?;
    Ok((at, job.parse().map_err(|_| bad())?))
}

fn cursor_of(row: &Resting) -> String {
    format!("{}_{}", row.closed_at.unix_timestamp_nanos() / 1000, row.job)
}

/// Records that rest on a piece of weight: whom to call if it is found wrong.
#[utoipa::path(get, path = "/api/kit/{id}/records", tag = "kit", params(("id" = Uuid, Path), RecallQuery), responses((status = 200, body = RecallReply), (status = 401, body = Problem)))]
pub async fn resting_on(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Asked(query): Asked<RecallQuery>,
) -> Result<Json<RecallReply>, ApiError> {
    let after = query.after.as_deref().map(place_of).transpose()?;
    let total = history::count_resting(&app.pool, person.workshop_id, id).await?;
    let mut records = history::resting_on(&app.pool, person.workshop_id, id, after, RECALL_PAGE + 1).await?;
    let page = usize::try_from(RECALL_PAGE).unwrap_or(0);
    let more = records.len() > page;
    records.truncate(page);
    Ok(Json(RecallReply { total, next: records.last().filter(|_| more).map(cursor_of), records }))
}

/// The whole recall list as a table, RFC 4180.
#[utoipa::path(get, path = "/api/kit/{id}/recall", tag = "kit", params(("id" = Uuid, Path)), responses((status = 200, body = String, content_type = "text/csv"), (status = 401, body = Problem)))]
pub async fn recall_table(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Response, ApiError> {
    let mut out = table();
    out.write_record([
        "record",
        "closed",
        "owner",
        "scale",
        "place",
        "outcome",
        "certificate of the piece then",
    ])
    .map_err(|e| ApiError::Internal(e.to_string()))?;
    let mut after = None;
    loop {
        let some = history::resting_on(&app.pool, person.workshop_id, id, after, RECALL_PAGE).await?;
        let Some(last) = some.last() else { break };
        after = Some((last.closed_at, last.job));
        for r in &some {
            let closed = r.closed_at.date().to_string();
            let fields = [
                &r.number,
                &closed,
                &r.owner,
                &r.scale,
                &r.place,
                &r.outcome,
                r.certificate.as_deref().unwrap_or_default(),
            ];
            out.write_record(fields.map(defused)).map_err(|e| ApiError::Internal(e.to_string()))?;
        }
    }
    kept(out, &format!("recall-{id}.csv"))
}

type Table = csv::Writer<Vec<u8>>;

fn table() -> Table {
    csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new())
}

fn kept(table: Table, name: &str) -> Result<Response, ApiError> {
    file(
        "text/csv; charset=utf-8; header=present",
        name,
        table.into_inner().map_err(|e| ApiError::Internal(e.to_string()))?,
    )
}

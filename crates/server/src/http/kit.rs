//! Weights: the kit, its table in and out, the plan of a job, the packing list of a day.

use std::collections::BTreeSet;

use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use axum::http::{HeaderMap, HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ombret_core::Refusal;
use ombret_core::adjust::SpanWeightRule;
use ombret_core::answers::{PlanQuestion, PlanReply, Planner, plan_of};
use ombret_core::assessment::Wants;
use ombret_core::journal::JobState;
use ombret_core::weights::{PackingList, Piece, RoundScale, Usable, pack};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At, Body};
use super::guard::{SignedIn, Technician};
use super::objects::with_own_tolerance;
use super::problem::{ApiError, Problem};
use super::workers::Stop;
use crate::store::kit::{self, PieceRow};
use crate::store::people::Person;
use crate::store::{jobs, scales};
use ombret_core::text;

/// Most scales of a day.
const MOST_SCALES: usize = 40;
/// Largest file of a certificate.
const CERTIFICATE_LIMIT: usize = 4 * 1024 * 1024;

/// What to list.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct KitQuery {
    /// Words to look for.
    #[serde(default)]
    search: String,
}

/// A piece in the list, with whether it may be used today.
#[derive(Serialize, ToSchema)]
pub struct PieceView {
    #[serde(flatten)]
    row: PieceRow,
    usable: Usable,
    /// Change from the certificate before to the newest.
    #[schema(required)]
    drift: Option<String>,
}

/// A piece to be kept.
#[derive(Deserialize, ToSchema)]
pub struct PieceForm {
    piece: Piece,
    /// The version that was edited; 0 for a new piece.
    #[serde(default)]
    version: i32,
}

/// Pieces to be changed together.
#[derive(Deserialize, ToSchema)]
pub struct BulkForm {
    ids: Vec<Uuid>,
    /// New place; none: as it is.
    #[serde(default)]
    place: Option<String>,
    /// New holder.
    #[serde(default)]
    holder: Option<String>,
    /// Damaged or not.
    #[serde(default)]
    damaged: Option<bool>,
}

/// A day's round.
#[derive(Deserialize, ToSchema)]
pub struct DayQuestion {
    /// The scales.
    scales: Vec<Uuid>,
    /// Days from today.
    #[serde(default)]
    in_days: u16,
}

/// How much span weight the workshop asks for.
#[derive(Serialize, Deserialize, ToSchema)]
pub struct SpanWeightRuleForm {
    #[serde(alias = "school")]
    span_weight_rule: SpanWeightRule,
}

fn view(row: PieceRow) -> PieceView {
    let usable = row.piece.usable(OffsetDateTime::now_utc().date());
    PieceView { usable, drift: row.piece.drift().map(|d| d.to_string()), row }
}

/// The kit.
#[utoipa::path(get, path = "/api/kit", tag = "kit", params(KitQuery), responses((status = 200, body = Vec<PieceView>), (status = 401, body = Problem)))]
pub async fn list_kit(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(query): Asked<KitQuery>,
) -> Result<Json<Vec<PieceView>>, ApiError> {
    let search: String = query.search.chars().take(100).collect();
    Ok(Json(kit::list(&app.pool, person.workshop_id, search.trim()).await?.into_iter().map(view).collect()))
}

/// Keeps a piece.
#[utoipa::path(put, path = "/api/kit", tag = "kit", request_body = PieceForm,
    responses((status = 204), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn keep_piece(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<PieceForm>,
) -> Result<StatusCode, ApiError> {
    let form = PieceForm {
        piece: with_own_tolerance(&app, person.workshop_id, form.piece).await?,
        version: form.version,
    };
    form.piece.check(OffsetDateTime::now_utc().date())?;
    let kept = if form.version == 0 {
        kit::add(&app.pool, person.workshop_id, std::slice::from_ref(&form.piece)).await?.is_none()
    } else {
        kit::change(&app.pool, person.workshop_id, &form.piece, form.version).await?
    };
    if kept {
        return Ok(StatusCode::NO_CONTENT);
    }
    Err(ApiError::Taken(text!("kit-api-the-serial-serial-is-another", serial = form.piece.serial)))
}

/// Changes several pieces together: all or none.
#[utoipa::path(post, path = "/api/kit/bulk", tag = "kit", request_body = BulkForm, responses((status = 204), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn change_pieces(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<BulkForm>,
) -> Result<StatusCode, ApiError> {
    let wanted: BTreeSet<Uuid> = form.ids.iter().copied().collect();
    let today = OffsetDateTime::now_utc().date();
    let mut changed = Vec::new();
    for mut row in kit::list(&app.pool, person.workshop_id, "")
        .await?
        .into_iter()
        .filter(|r| wanted.contains(&r.piece.id))
    {
        if let Some(place) = &form.place {
            row.piece.place.clone_from(place);
        }
        if let Some(holder) = &form.holder {
            row.piece.holder.clone_from(holder);
        }
        row.piece.damaged = form.damaged.unwrap_or(row.piece.damaged);
        row.piece.check(today)?;
        changed.push(row);
    }
    let changed: Vec<(&Piece, i32)> = changed.iter().map(|row| (&row.piece, row.version)).collect();
    match kit::change_all(&app.pool, person.workshop_id, &changed).await? {
        None => Ok(StatusCode::NO_CONTENT),
        Some(serial) => Err(ApiError::Taken(text!("kit-api-serial-was-changed-by-somebody", serial))),
    }
}

/// The file of a certificate.
#[utoipa::path(get, path = "/api/kit/{id}/certificates/{number}", tag = "kit", params(("id" = Uuid, Path), ("number" = String, Path)),
    responses((status = 200, content_type = "application/octet-stream"), (status = 404, body = Problem)))]
pub async fn certificate_file(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At((id, number)): At<(Uuid, String)>,
) -> Result<Response, ApiError> {
    let (name, bytes) =
        kit::file(&app.pool, person.workshop_id, id, &number).await?.ok_or(ApiError::NotFound("file"))?;
    let plain: String = name
        .chars()
        .map(|c| if c.is_ascii_alphanumeric() || matches!(c, '.' | '-' | '_') { c } else { '-' })
        .collect();
    let disposition = HeaderValue::from_str(&format!("attachment; filename=\"{plain}\""))
        .map_err(|e| ApiError::Internal(e.to_string()))?;
    // Never shown in the page's own origin: whatever it is, it is saved.
    Ok((
        [
            (header::CONTENT_TYPE, HeaderValue::from_static("application/octet-stream")),
            (header::CONTENT_DISPOSITION, disposition),
        ],
        bytes,
    )
        .into_response())
}

/// Attaches the file of a certificate.
#[utoipa::path(put, path = "/api/kit/{id}/certificates/{number}", tag = "kit", params(("id" = Uuid, Path), ("number" = String, Path)),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 204), (status = 404, body = Problem), (status = 413, body = Problem)))]
pub async fn attach_certificate(
    State(app): State<App>,
    Technician(person): Technician,
    At((id, number)): At<(Uuid, String)>,
    headers: HeaderMap,
    bytes: Bytes,
) -> Result<StatusCode, ApiError> {
    if bytes.is_empty() || bytes.len() > CERTIFICATE_LIMIT {
        return Err(ApiError::BadRequest {
            status: StatusCode::PAYLOAD_TOO_LARGE,
            detail: "a certificate's file has 1 byte to 4 MiB".into(),
        });
    }
    let name = headers.get("x-file-name").and_then(|v| v.to_str().ok()).unwrap_or("certificate");
    let name: String = name.chars().filter(|c| !c.is_control()).take(120).collect();
    if kit::keep_file(&app.pool, person.workshop_id, id, &number, &name, &bytes).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("certificate of that number at this piece"))
    }
}

pub(super) async fn pieces_of(app: &App, person: &Person) -> Result<Vec<Piece>, ApiError> {
    Ok(kit::list(&app.pool, person.workshop_id, "").await?.into_iter().map(|r| r.piece).collect())
}

pub(super) async fn span_weight_rule_of(app: &App, person: &Person) -> Result<SpanWeightRule, ApiError> {
    let name = kit::span_weight_rule(&app.pool, person.workshop_id).await?;
    Ok(serde_json::from_value(serde_json::Value::String(name)).unwrap_or_default())
}

/// The loading plan of a job, with the judgement of its span weight.
#[utoipa::path(post, path = "/api/jobs/{id}/plan", tag = "kit", params(("id" = Uuid, Path)), request_body = PlanQuestion,
    responses((status = 200, body = PlanReply), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn plan_job(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Body(asked): Body<PlanQuestion>,
) -> Result<Json<PlanReply>, ApiError> {
    let job = jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    let (pieces, span_weight_rule) =
        (pieces_of(&app, &person).await?, span_weight_rule_of(&app, &person).await?);
    let (plans, today) = (app.plans.clone(), OffsetDateTime::now_utc().date());
    let work = move |_: &Stop| {
        let planner: &Planner<'_> =
            &|pieces, day, choices, targets, inputs| plans.of(pieces, day, choices, targets, inputs);
        Ok(plan_of(job.journal.state(), asked, &pieces, span_weight_rule, today, planner))
    };
    app.workers.run(work).await.map(Json)
}

/// The packing list of a day.
#[utoipa::path(post, path = "/api/route", tag = "kit", request_body = DayQuestion, responses((status = 200, body = PackingList), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn pack_day(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Body(asked): Body<DayQuestion>,
) -> Result<Json<PackingList>, ApiError> {
    if asked.scales.is_empty() || asked.scales.len() > MOST_SCALES {
        return Err(Refusal::from(Refused::OutOfRange { most_scales: MOST_SCALES }).into());
    }
    let mut states: Vec<JobState> = Vec::new();
    // A scale that is named twice is visited once.
    let mut named = BTreeSet::new();
    for id in asked.scales.iter().filter(|id| named.insert(**id)) {
        let sheet =
            scales::one(&app.pool, person.workshop_id, *id).await?.ok_or(ApiError::NotFound("scale"))?.sheet;
        let before = scales::before(&app.pool, *id).await?;
        states.push(JobState::expected(sheet, before));
    }
    let pieces = pieces_of(&app, &person).await?;
    let day = OffsetDateTime::now_utc().date() + time::Duration::days(i64::from(asked.in_days));
    let by = person.name.clone();
    let plans = app.plans.clone();
    let work = move |stop: &Stop| {
        let wants: Vec<Wants> = states.iter().map(|s| Wants::of(s, None)).collect();
        let round: Vec<RoundScale> = states
            .iter()
            .zip(&wants)
            .map(|(s, w)| RoundScale { name: s.sheet.name.clone(), inputs: w.inputs(s), loads: w.loads(s) })
            .collect();
        let plan = |scale: &RoundScale| plans.of_round(scale, &pieces, day);
        pack(&round, &pieces, day, &by, &plan, &|| stop.asked())
            .ok_or_else(|| Refusal::from(Refused::TooMuch).into())
    };
    app.workers.run(work).await.map(Json)
}

/// How much span weight the workshop asks for.
#[utoipa::path(get, path = "/api/span-weight-rule", tag = "kit", responses((status = 200, body = SpanWeightRuleForm)))]
pub async fn get_span_weight_rule(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<SpanWeightRuleForm>, ApiError> {
    Ok(Json(SpanWeightRuleForm { span_weight_rule: span_weight_rule_of(&app, &person).await? }))
}

/// Sets it.
#[utoipa::path(put, path = "/api/span-weight-rule", tag = "kit", request_body = SpanWeightRuleForm, responses((status = 200, body = SpanWeightRuleForm)))]
pub async fn set_span_weight_rule(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<SpanWeightRuleForm>,
) -> Result<Json<SpanWeightRuleForm>, ApiError> {
    let name = serde_json::to_value(form.span_weight_rule).map_err(|e| ApiError::Internal(e.to_string()))?;
    kit::set_span_weight_rule(&app.pool, person.workshop_id, name.as_str().unwrap_or("tenth")).await?;
    Ok(Json(form))
}

ombret_core::refusals! {
    enum Refused {
        OutOfRange { most_scales: usize } = "out_of_range" at "scales":
            text!("kit-api-a-day-has-1-to", most_scales);
        TooMuch = "too_much" at "scales":
            text!("kit-api-this-round-is-more-than"),
            then text!("kit-api-choose-fewer-scales");
    }
}

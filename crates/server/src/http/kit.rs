//! Weights: the kit, its table in and out, the plan of a job, the packing list of a day.

use std::collections::BTreeSet;

use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use axum::http::{HeaderMap, HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ombret_core::Refusal;
use ombret_core::adjust::School;
use ombret_core::assessment::{
    ListedLoad, LoadStatus, M1_SHARE, SpanView, Wants, judge_span, loads_of, next_load, planned_for, to_do,
    with_plan,
};
use ombret_core::job::span_weight;
use ombret_core::journal::{JobState, Phase, ReadStage, Way};
use ombret_core::weights::{
    CheckLoad, CheckPlan, PackingList, Piece, PlanChoices, PlanPiece, PlannedStep, RoundScale, Usable, pack,
    plan_check,
};
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
use ombret_core::wording::Text;

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

/// What is asked of a plan.
#[derive(Deserialize, ToSchema)]
pub struct PlanQuestion {
    /// Choices of the technician.
    #[serde(default)]
    choices: PlanChoices,
    /// A span weight that is thought of, as typed.
    #[serde(default)]
    span: String,
    /// The loads of which stage.
    #[serde(default = "to_prove")]
    stage: ReadStage,
}

const fn to_prove() -> ReadStage {
    ReadStage::Prove
}

/// The plan, with the judgement of the span weight.
#[derive(Serialize, ToSchema)]
pub struct PlanReply {
    plan: CheckPlan,
    /// The one list of loads of the stage, with what the plan puts on for each.
    loads: Vec<ListedLoad>,
    /// What to do for the load that is next, in a sentence.
    #[schema(required)]
    says: Option<Text>,
    /// How each step of the plan stands, in its order.
    statuses: Vec<LoadStatus>,
    /// Which step of the plan is next; none: none of them.
    #[schema(required)]
    next: Option<usize>,
    /// The span weight as it was typed in the question that this answers.
    asked_span: String,
    /// How good the span weight is; none: none is named.
    #[schema(required)]
    span: Option<SpanView>,
    /// Why the span weight that was typed cannot be.
    #[schema(required)]
    span_refused: Option<Refusal>,
    /// Of which pieces it is made; empty: the kit does not build it exactly.
    span_pieces: Vec<PlanPiece>,
    /// How much is asked for: on this job, else by the workshop.
    school: School,
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

/// The workshop's school of span weights.
#[derive(Serialize, Deserialize, ToSchema)]
pub struct SchoolForm {
    school: School,
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

pub(super) async fn school_of(app: &App, person: &Person) -> Result<School, ApiError> {
    let name = kit::school(&app.pool, person.workshop_id).await?;
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
    let state = job.journal.state().clone();
    let (setup, _) = state.setup_in_force();
    let mut refused = None;
    let thought = match asked.span.trim() {
        "" => None,
        text => span_weight(text, &setup).map_err(|refusal| refused = Some(refusal)).ok(),
    };
    let phase = if asked.stage == ReadStage::AsFound { Phase::AsFound } else { Phase::AsLeft };
    let (wants, targets) = planned_for(&state, phase, thought);
    let (pieces, school) = (pieces_of(&app, &person).await?, school_of(&app, &person).await?);
    let school = state.school.as_ref().map_or(school, |(school, _)| *school);
    let today = OffsetDateTime::now_utc().date();
    // A span weight that cannot be is refused at its field; the plan is there all the same.
    let told = wants.span.as_ref().map(|weight| {
        let fits = |p: &&Piece| weight.plus(&p.nominal) <= wants.setup.max;
        let usable = pieces.iter().filter(|p| matches!(p.usable(today), Usable::Yes { .. })).filter(fits);
        let largest = usable.max_by(|a, b| a.nominal.cmp(&b.nominal));
        judge_span(&state, weight, M1_SHARE, school, largest)
    });
    let (span, wants, targets) = match told {
        Some(Err(refusal)) => {
            refused = Some(refusal);
            let (wants, targets) = planned_for(&state, phase, None);
            (None, wants, targets)
        }
        Some(Ok(span)) => (Some(span), wants, targets),
        None => (None, wants, targets),
    };
    let plans = app.plans.clone();
    let work = move |_: &Stop| {
        let inputs = wants.inputs(&state);
        let plan = plans.of(&pieces, today, &asked.choices, &targets, &inputs);
        let alone: Vec<_> = wants.span.iter().map(CheckLoad::just).collect();
        let span_step = plan_check(&pieces, today, &asked.choices, &alone, &inputs).steps.pop();
        let span_pieces =
            span_step.filter(|step| step.load == step.wanted).map(|step| step.on).unwrap_or_default();
        let loads = with_plan(&state, phase, loads_of(&state, phase), &plan, &pieces, today);
        let of_step = |step: &PlannedStep| loads.iter().find(|l| l.way == Way::Up && l.target == step.wanted);
        let statuses: Vec<LoadStatus> =
            plan.steps.iter().map(|s| of_step(s).map_or(LoadStatus::Left, |l| l.status)).collect();
        Ok(PlanReply {
            says: next_load(&loads).map(|item| to_do(&state, item)),
            next: statuses.iter().position(|s| *s == LoadStatus::Next),
            statuses,
            loads,
            plan,
            asked_span: asked.span,
            span,
            span_refused: refused.map(|r| Refusal { field: Some("span".into()), ..r }),
            span_pieces,
            school,
        })
    };
    app.workers.run(work).await.map(Json)
}

/// The packing list of a day.
#[utoipa::path(post, path = "/api/day", tag = "kit", request_body = DayQuestion, responses((status = 200, body = PackingList), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn pack_day(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Body(asked): Body<DayQuestion>,
) -> Result<Json<PackingList>, ApiError> {
    if asked.scales.is_empty() || asked.scales.len() > MOST_SCALES {
        return Err(Refusal::new("out_of_range", text!("kit-api-a-day-has-1-to", most_scales = MOST_SCALES))
            .at("scales")
            .into());
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
        pack(&round, &pieces, day, &by, &plan, &|| stop.asked()).ok_or_else(|| {
            Refusal::new("too_much", text!("kit-api-this-round-is-more-than"))
                .at("scales")
                .then(text!("kit-api-choose-fewer-scales"))
                .into()
        })
    };
    app.workers.run(work).await.map(Json)
}

/// How much span weight the workshop asks for.
#[utoipa::path(get, path = "/api/school", tag = "kit", responses((status = 200, body = SchoolForm)))]
pub async fn get_school(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<SchoolForm>, ApiError> {
    Ok(Json(SchoolForm { school: school_of(&app, &person).await? }))
}

/// Sets it.
#[utoipa::path(put, path = "/api/school", tag = "kit", request_body = SchoolForm, responses((status = 200, body = SchoolForm)))]
pub async fn set_school(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<SchoolForm>,
) -> Result<Json<SchoolForm>, ApiError> {
    let name = serde_json::to_value(form.school).map_err(|e| ApiError::Internal(e.to_string()))?;
    kit::set_school(&app.pool, person.workshop_id, name.as_str().unwrap_or("tenth")).await?;
    Ok(Json(form))
}

//! Proof of a profile: a visit says whether the keying sheet was right to the end, or where it differed.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ombret_core::Refusal;
use ombret_core::text;
use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::app::App;
use super::body::{At, Body};
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use super::profiles::kept;
use crate::store::proofs::{self, NewProof, Proof};
use crate::store::{jobs, scales};

/// Longest note, in characters.
const LONGEST: usize = 400;

/// What a visit says of its keying sheet.
#[derive(Deserialize, ToSchema)]
#[serde(tag = "said", rename_all = "snake_case")]
pub enum ProofForm {
    /// It was right to the end.
    AsItSaid,
    /// Something differed.
    DifferedHere {
        /// The item, by what the sheet says that the display shows.
        item: String,
        /// What it showed.
        shown: String,
        /// What was different.
        #[serde(default)]
        note: String,
    },
}

fn within(field: &str, text: &str) -> Result<String, Refusal> {
    let text = text.trim();
    if text.chars().count() > LONGEST || text.chars().any(char::is_control) {
        return Err(Refusal::new("too_long", text!("proofs-api-at-most", most = LONGEST)).at(field));
    }
    Ok(text.to_owned())
}

/// Says whether the keying sheet of a job was right.
#[utoipa::path(post, path = "/api/jobs/{id}/keying/proof", tag = "profiles", params(("id" = Uuid, Path)), request_body = ProofForm,
    responses((status = 201, body = Vec<Proof>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn prove_profile(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
    Body(form): Body<ProofForm>,
) -> Result<(StatusCode, Json<Vec<Proof>>), ApiError> {
    let job = jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    let scale = scales::one(&app.pool, person.workshop_id, job.head.scale_id)
        .await?
        .ok_or(ApiError::NotFound("scale"))?;
    if scale.sheet.practice {
        return Err(Refusal::new("practice", text!("proofs-api-practice-proves-nothing"))
            .then(text!("proofs-api-on-a-real-visit"))
            .into());
    }
    let of = scale.sheet.profile.ok_or(ApiError::NotFound("profile on this scale"))?.id;
    let profile = kept(&app, &person, of).await?;
    let (as_said, item, shown, note) = match &form {
        ProofForm::AsItSaid => (true, String::new(), String::new(), String::new()),
        ProofForm::DifferedHere { item, shown, note } => {
            (false, within("item", item)?, within("shown", shown)?, within("note", note)?)
        }
    };
    if !as_said && item.is_empty() {
        return Err(Refusal::new("missing", text!("proofs-api-say-where")).at("item").into());
    }
    if !as_said && shown.is_empty() && note.is_empty() {
        return Err(Refusal::new("missing", text!("proofs-api-say-what")).at("shown").into());
    }
    let new = NewProof {
        profile: of,
        edition: profile.edition,
        job: id,
        as_said,
        item: &item,
        shown: &shown,
        note: &note,
        by: &person.name,
    };
    proofs::write(&app.pool, person.workshop_id, &new).await?;
    Ok((StatusCode::CREATED, Json(proofs::list(&app.pool, person.workshop_id, None, Some(id)).await?)))
}

/// What a job said of its keying sheet.
#[utoipa::path(get, path = "/api/jobs/{id}/keying/proof", tag = "profiles", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<Proof>), (status = 401, body = Problem)))]
pub async fn proof_of_job(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<Vec<Proof>>, ApiError> {
    Ok(Json(proofs::list(&app.pool, person.workshop_id, None, Some(id)).await?))
}

/// What visits said of a profile.
#[utoipa::path(get, path = "/api/profiles/{id}/proofs", tag = "profiles", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<Proof>), (status = 401, body = Problem)))]
pub async fn proofs_of_profile(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<Vec<Proof>>, ApiError> {
    Ok(Json(proofs::list(&app.pool, person.workshop_id, Some(id), None).await?))
}

//! Proof of a profile: a visit says whether the keying sheet was right to the end, or where it differed.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ombret_core::keying::Proof as Said;
use uuid::Uuid;

use super::app::App;
use super::body::{At, Body};
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use super::profiles::kept;
use crate::store::proofs::{self, NewProof, Proof};
use crate::store::{jobs, scales};

/// Says whether the keying sheet of a job was right.
#[utoipa::path(post, path = "/api/jobs/{id}/keying/proof", tag = "profiles", params(("id" = Uuid, Path)), request_body = Said,
    responses((status = 201, body = Vec<Proof>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn prove_profile(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
    Body(said): Body<Said>,
) -> Result<(StatusCode, Json<Vec<Proof>>), ApiError> {
    let job = jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    let scale = scales::one(&app.pool, person.workshop_id, job.head.scale_id)
        .await?
        .ok_or(ApiError::NotFound("scale"))?;
    let said = said.checked(scale.sheet.practice)?;
    let of = scale.sheet.profile.ok_or(ApiError::NotFound("profile on this scale"))?.id;
    let profile = kept(&app, &person, of).await?;
    let (as_said, [item, shown, note]) = match &said {
        Said::AsItSaid => (true, [""; 3]),
        Said::DifferedHere { item, shown, note } => (false, [item.as_str(), shown, note]),
    };
    let new = NewProof {
        profile: of,
        edition: profile.edition,
        job: id,
        as_said,
        item,
        shown,
        note,
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

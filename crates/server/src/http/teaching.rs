//! Teaching an indicator: a session is kept as it grows, and a profile comes of it.

use axum::Json;
use axum::extract::State;
use ombret_core::Refusal;
use ombret_core::keying::learn::{Draft, Learnt, Session, learn_whole};
use ombret_core::text;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use super::app::App;
use super::body::{At, Body};
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use crate::store::people::Person;
use crate::store::profiles::{self, NewEdition, ProfileText};
use crate::store::teaching::{self, NewSession, TeachingRow};

/// A session to be kept.
#[derive(Deserialize, ToSchema)]
pub struct TeachingForm {
    /// The version that was gone on with; 0 for a new one.
    #[serde(default)]
    version: i32,
    /// The session.
    session: Session,
}

/// A session and what was learnt from it.
#[derive(Serialize, ToSchema)]
pub struct TeachingView {
    /// Identity.
    id: Uuid,
    /// It was written so often.
    version: i32,
    /// The session.
    session: Session,
    /// What was learnt.
    learnt: Learnt,
    /// The profile as far as it is known; none: too little is known for one.
    #[schema(required)]
    draft: Option<Draft>,
    /// The profile that came of it.
    #[schema(required)]
    profile: Option<Uuid>,
}

fn view(id: Uuid, version: i32, session: Session, profile: Option<Uuid>) -> Json<TeachingView> {
    let (learnt, draft) = learn_whole(&session);
    Json(TeachingView { id, version, session, learnt, draft, profile })
}

async fn kept(app: &App, person: &Person, id: Uuid) -> Result<(i32, Session, Option<Uuid>), ApiError> {
    let found =
        teaching::one(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("teaching"))?;
    let session =
        serde_json::from_str(&found.session).map_err(|error| ApiError::Internal(error.to_string()))?;
    Ok((found.version, session, found.profile))
}

/// The sessions of the workshop, the newest first.
#[utoipa::path(get, path = "/api/teaching", tag = "teaching", responses((status = 200, body = Vec<TeachingRow>), (status = 401, body = Problem)))]
pub async fn list_teaching(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<TeachingRow>>, ApiError> {
    Ok(Json(teaching::list(&app.pool, person.workshop_id).await?))
}

/// One session, and what was learnt from it.
#[utoipa::path(get, path = "/api/teaching/{id}", tag = "teaching", params(("id" = Uuid, Path)), responses((status = 200, body = TeachingView), (status = 404, body = Problem)))]
pub async fn get_teaching(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<TeachingView>, ApiError> {
    let (version, session, profile) = kept(&app, &person, id).await?;
    Ok(view(id, version, session, profile))
}

/// Keeps a session as it stands now.
#[utoipa::path(put, path = "/api/teaching/{id}", tag = "teaching", params(("id" = Uuid, Path)), request_body = TeachingForm,
    responses((status = 200, body = TeachingView), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn keep_teaching(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
    Body(form): Body<TeachingForm>,
) -> Result<Json<TeachingView>, ApiError> {
    form.session.check()?;
    let session =
        serde_json::to_string(&form.session).map_err(|error| ApiError::Internal(error.to_string()))?;
    let new = NewSession { id, name: form.session.name.trim(), session: &session, by: &person.name };
    let Some(version) = teaching::write(&app.pool, person.workshop_id, &new, form.version).await? else {
        return Err(ApiError::Taken(text!("teaching-api-somebody-else-went-on")));
    };
    let profile = teaching::one(&app.pool, person.workshop_id, id).await?.and_then(|found| found.profile);
    Ok(view(id, version, form.session, profile))
}

/// Keeps the profile that came of a session.
#[utoipa::path(post, path = "/api/teaching/{id}/profile", tag = "teaching", params(("id" = Uuid, Path)),
    responses((status = 200, body = ProfileText), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn profile_of_teaching(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
) -> Result<Json<ProfileText>, ApiError> {
    let (_, session, before) = kept(&app, &person, id).await?;
    let too_little = || Refusal::from(Refused::TooLittle);
    let draft = learn_whole(&session).1.ok_or_else(too_little)?;
    let Some(profile) = draft.profile else {
        let first = draft.problems.into_iter().next().map(|problem| problem.says).unwrap_or_default();
        return Err(too_little().then(first).into());
    };
    // The same session taught further is a new edition of the same profile.
    let of = before.unwrap_or(id);
    let edition = profiles::one(&app.pool, person.workshop_id, of).await?.map_or(0, |p| p.edition);
    let new = NewEdition {
        id: of,
        name: profile.name.trim(),
        about: profile.about.trim(),
        text: &draft.text,
        by: &person.name,
    };
    if !profiles::write(&app.pool, person.workshop_id, &new, edition).await? {
        return Err(ApiError::Taken(text!("profiles-api-a-profile-of-this-name")));
    }
    teaching::came_of(&app.pool, person.workshop_id, id, of).await?;
    Ok(Json(profiles::one(&app.pool, person.workshop_id, of).await?.ok_or(ApiError::NotFound("profile"))?))
}

ombret_core::refusals! {
    enum Refused {
        TooLittle = "too_little": text!("teaching-api-too-little-is-known");
    }
}

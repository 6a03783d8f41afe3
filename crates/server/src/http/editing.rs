//! Profiles in a form: a changed profile is written into its text, two are compared and put together, and what a
//! display says is added where it was met.

use axum::Json;
use axum::extract::State;
use ombret_core::Refusal;
use ombret_core::keying::{
    Difference, Message, Part, Profile, compare, read_profile, rewrite_profile, with_parts,
};
use ombret_core::text;
use ombret_core::wording::Text;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use super::app::App;
use super::body::{At, Body};
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use super::profiles::{kept, understood};
use crate::store::editions::{self, EditionRow};
use crate::store::profiles::{self, NewEdition, ProfileText};

/// Most parts that are taken over at once.
const MOST_PARTS: usize = 2_000;

/// A text, and the profile that it is to say.
#[derive(Deserialize, ToSchema)]
pub struct Rewriting {
    /// The text as it stands.
    text: String,
    /// The profile.
    profile: Profile,
}

/// Two profiles.
#[derive(Deserialize, ToSchema)]
pub struct Comparing {
    /// The text of the one here.
    here: String,
    /// The text of the one there.
    there: String,
}

/// One profile with parts of another.
#[derive(Deserialize, ToSchema)]
pub struct Merging {
    /// The text of the one here.
    here: String,
    /// The text of the one there.
    there: String,
    /// What is taken over from there.
    take: Vec<Part>,
}

/// A text of a profile.
#[derive(Serialize, ToSchema)]
pub struct Written {
    /// It.
    text: String,
}

/// Writes a changed profile into its text; what did not change keeps its comments.
#[utoipa::path(post, path = "/api/profiles/rewrite", tag = "profiles", request_body = Rewriting, responses((status = 200, body = Written), (status = 413, body = Problem), (status = 422, body = Problem)))]
pub async fn rewrite(SignedIn(_): SignedIn, Body(asked): Body<Rewriting>) -> Json<Written> {
    Json(Written { text: rewrite_profile(&asked.text, &asked.profile) })
}

fn both(here: &str, there: &str) -> Result<(Profile, Profile), ApiError> {
    Ok((understood(here, "here")?, understood(there, "there")?))
}

/// In what two profiles differ.
#[utoipa::path(post, path = "/api/profiles/compare", tag = "profiles", request_body = Comparing, responses((status = 200, body = Vec<Difference>), (status = 422, body = Problem)))]
pub async fn compare_profiles(
    SignedIn(_): SignedIn,
    Body(asked): Body<Comparing>,
) -> Result<Json<Vec<Difference>>, ApiError> {
    let (here, there) = both(&asked.here, &asked.there)?;
    Ok(Json(compare(&here, &there)))
}

/// One profile with parts of another, not kept yet.
#[utoipa::path(post, path = "/api/profiles/merge", tag = "profiles", request_body = Merging, responses((status = 200, body = Written), (status = 422, body = Problem)))]
pub async fn merge_profiles(
    SignedIn(_): SignedIn,
    Body(asked): Body<Merging>,
) -> Result<Json<Written>, ApiError> {
    if asked.take.len() > MOST_PARTS {
        return Err(Refusal::from(Refused::TooLong { most: MOST_PARTS }).into());
    }
    let (here, there) = both(&asked.here, &asked.there)?;
    let merged = with_parts(&here, &there, &asked.take);
    Ok(Json(Written { text: rewrite_profile(&asked.here, &merged) }))
}

/// Keeps what a display says, as a new edition; what was known of the same message is replaced.
#[utoipa::path(post, path = "/api/profiles/{id}/messages", tag = "profiles", params(("id" = Uuid, Path)), request_body = Message,
    responses((status = 200, body = ProfileText), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn add_message(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
    Body(message): Body<Message>,
) -> Result<Json<ProfileText>, ApiError> {
    let before = kept(&app, &person, id).await?;
    let mut profile = understood(&before.text, "text")?;
    let place = message.put_among(&mut profile.messages);
    let text = rewrite_profile(&before.text, &profile);
    if let Err(problems) = read_profile(&text) {
        let here = format!("message.{place}.");
        let first = problems.into_iter().find(|p| p.at.starts_with(&here) || p.at.is_empty());
        let (at, says) = first.map_or_else(
            || ("text".to_owned(), text!("profiles-api-nothing-was-kept-mend-the")),
            |p| (p.at.strip_prefix(&here).unwrap_or("text").to_owned(), p.says),
        );
        return Err(Refusal::from(Refused::BadProfile { says }).at(&at).into());
    }
    let new = NewEdition {
        id,
        name: profile.name.trim(),
        about: profile.about.trim(),
        text: &text,
        by: &person.name,
    };
    if !profiles::write(&app.pool, person.workshop_id, &new, before.edition).await? {
        return Err(ApiError::Taken(text!("profiles-api-somebody-changed-it")));
    }
    Ok(Json(kept(&app, &person, id).await?))
}

/// The editions of a profile, the newest first.
#[utoipa::path(get, path = "/api/profiles/{id}/editions", tag = "profiles", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<EditionRow>), (status = 404, body = Problem)))]
pub async fn list_editions(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<Vec<EditionRow>>, ApiError> {
    kept(&app, &person, id).await?;
    Ok(Json(editions::list(&app.pool, person.workshop_id, id).await?))
}

/// One edition of a profile.
#[utoipa::path(get, path = "/api/profiles/{id}/editions/{edition}", tag = "profiles", params(("id" = Uuid, Path), ("edition" = i32, Path)),
    responses((status = 200, body = ProfileText), (status = 404, body = Problem)))]
pub async fn get_edition(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At((id, edition)): At<(Uuid, i32)>,
) -> Result<Json<ProfileText>, ApiError> {
    let found = editions::one(&app.pool, person.workshop_id, id, edition).await?;
    Ok(Json(found.ok_or(ApiError::NotFound("edition"))?))
}

ombret_core::refusals! {
    enum Refused {
        TooLong { most: usize } = "too_long" at "take": text!("profiles-api-too-many-parts", most);
        BadProfile { says: Text } = "bad_profile": says;
    }
}

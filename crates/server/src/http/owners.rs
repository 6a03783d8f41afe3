//! What a customer sees by a link of their own: their scales, when each is due, and their papers. Whoever has
//! the link sees that, and nothing else of the workshop.

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode};
use axum::response::Response;
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

use ombret_core::text;

use super::app::App;
use super::body::{At, Body};
use super::guard::{Caller, SignedIn, Technician};
use super::papers::{Ready, base_of, file};
use super::problem::{ApiError, Problem};
use crate::random_token;
use crate::store::listed::{self, RecordRow, RecordsAsked};
use crate::store::owners::{self, OwnScale, Owner, OwnerLink};
use crate::store::people::{Person, Role};

/// How long a link may open, in days.
const MOST_DAYS: u16 = 800;
/// Records that are shown.
const SHOWN: i64 = 500;

/// How long a link opens.
#[derive(Deserialize, ToSchema)]
pub struct OwnerLinkForm {
    /// Days.
    days: u16,
}

/// A link, told once.
#[derive(Serialize, ToSchema)]
pub struct OwnerLinkMade {
    /// Its path.
    path: String,
}

/// Links of a customer.
#[utoipa::path(get, path = "/api/customers/{id}/links", tag = "customers", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<OwnerLink>), (status = 401, body = Problem)))]
pub async fn owner_links(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<Vec<OwnerLink>>, ApiError> {
    Ok(Json(owners::links(&app.pool, person.workshop_id, id).await?))
}

/// Makes a link by which a customer sees their scales and papers.
#[utoipa::path(post, path = "/api/customers/{id}/links", tag = "customers", params(("id" = Uuid, Path)), request_body = OwnerLinkForm, responses((status = 201, body = OwnerLinkMade), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn make_owner_link(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
    Body(form): Body<OwnerLinkForm>,
) -> Result<(StatusCode, Json<OwnerLinkMade>), ApiError> {
    if !(1..=MOST_DAYS).contains(&form.days) {
        return Err(ombret_core::Refusal::from(Refused::OutOfRange { most: MOST_DAYS }).into());
    }
    let (token, until) = (random_token(), OffsetDateTime::now_utc() + Duration::days(form.days.into()));
    if owners::make(&app.pool, &person, id, &token, until).await? {
        Ok((StatusCode::CREATED, Json(OwnerLinkMade { path: format!("/own/{token}") })))
    } else {
        Err(ApiError::NotFound("customer"))
    }
}

/// Ends a link of a customer.
#[utoipa::path(delete, path = "/api/links-of-owners/{id}", tag = "customers", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn end_owner_link(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    if owners::end(&app.pool, &person, id).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("link"))
    }
}

/// What a customer sees.
#[derive(Serialize, ToSchema)]
pub struct OwnReply {
    /// The customer.
    customer: String,
    /// The workshop.
    workshop: String,
    /// Their scales.
    scales: Vec<OwnScale>,
    /// Their records that wait for nobody, the newest first.
    records: Vec<RecordRow>,
}

async fn owner(app: &App, from: std::net::IpAddr, token: &str) -> Result<Owner, ApiError> {
    if !app.sign_in_limits.allow(from, None) {
        return Err(ApiError::SlowDown { seconds: 5 });
    }
    owners::by_token(&app.pool, token).await?.ok_or(ApiError::NotFound("link, or it opens no more"))
}

/// A customer's scales and records, for whoever has their link.
#[utoipa::path(get, path = "/api/own/{token}", tag = "customers", params(("token" = String, Path)), responses((status = 200, body = OwnReply), (status = 404, body = Problem)))]
pub async fn own(
    State(app): State<App>,
    Caller(from): Caller,
    At(token): At<String>,
) -> Result<Json<OwnReply>, ApiError> {
    let owner = owner(&app, from, &token).await?;
    let asked = RecordsAsked { customer: Some(owner.customer), ..RecordsAsked::default() };
    let records = listed::page(&app.pool, owner.workshop, &asked, None, SHOWN).await?;
    Ok(Json(OwnReply {
        scales: owners::scales(&app.pool, &owner).await?,
        records: records.into_iter().filter(|r| !r.waiting && !r.foreign).collect(),
        customer: owner.name,
        workshop: owner.workshop_name,
    }))
}

/// The paper of one of these records.
#[utoipa::path(get, path = "/api/own/{token}/papers/{job}", tag = "customers", params(("token" = String, Path), ("job" = Uuid, Path)),
    responses((status = 200, body = Vec<u8>, content_type = "application/pdf"), (status = 404, body = Problem)))]
pub async fn own_paper(
    State(app): State<App>,
    Caller(from): Caller,
    At((token, job)): At<(String, Uuid)>,
    headers: HeaderMap,
) -> Result<Response, ApiError> {
    let owner = owner(&app, from, &token).await?;
    if !owners::may_see(&app.pool, &owner, job).await? {
        return Err(ApiError::NotFound("record"));
    }
    // Set as anybody of the workshop would have it; nobody of it is named by that.
    let reader = Person {
        id: Uuid::nil(),
        workshop_id: owner.workshop,
        workshop: owner.workshop_name,
        name: owner.name,
        roles: vec![Role::Reader],
    };
    let ready = Ready::of(&app, &reader, job, None).await?;
    let address = super::papers::address_from(&base_of(&app, &headers), job, &ready);
    let name = format!("{}.pdf", ready.number().map_or_else(|| job.to_string(), str::to_owned));
    let bytes = app.workers.run(move |_| ready.certificate(job, &address)).await?;
    file("application/pdf", &name, bytes)
}

ombret_core::refusals! {
    enum Refused {
        OutOfRange { most: u16 } = "out_of_range" at "days": text!("owners-api-a-link-opens-for", most);
    }
}

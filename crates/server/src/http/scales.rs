//! Scales: the list, one of them, adding and changing.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ombret_core::Refusal;
use ombret_core::scale::{ScaleSheet, SheetForm};
use serde::{Deserialize, Serialize};
use time::Date;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At, Body};
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use crate::live::{Device, DeviceError};
use crate::store::scales::{self, Cursor, ScaleDetail, ScaleRow};
use ombret_core::text;
use ombret_core::wording::Text;

/// Rows on a page of the list.
const PAGE: i64 = 60;

/// What to list.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ListQuery {
    /// Words to look for in name, owner, place, serial.
    #[serde(default)]
    search: String,
    /// The scales of a customer only.
    #[serde(default)]
    customer: Option<Uuid>,
    /// Cursor from the page before.
    #[serde(default)]
    after: Option<String>,
}

/// A page of the list.
#[derive(Serialize, ToSchema)]
pub struct ScalePage {
    /// The scales.
    scales: Vec<ScaleRow>,
    /// Cursor of the next page, if there is one.
    #[schema(required)]
    next: Option<String>,
}

/// A scale as it is typed.
#[derive(Deserialize, ToSchema)]
pub struct ScaleForm {
    /// The sheet.
    #[serde(flatten)]
    sheet: SheetForm,
    /// Connection.
    #[serde(default)]
    device: Option<Device>,
    /// The version that was edited; 0 for a new scale.
    #[serde(default)]
    version: i32,
}

impl ScaleForm {
    /// `before` is how the scale was connected: what the page does not know of it stays.
    fn read(self, app: &App, before: Option<&Device>) -> Result<(ScaleSheet, Option<Device>, i32), Refusal> {
        let device = self.device.map(|device| usable(app, device, before)).transpose()?;
        let sheet = self.sheet.read()?;
        Ok((sheet, device, self.version))
    }
}

/// A connection that the settings allow. Only the program's own simulated scales take an operator's
/// commands; where they do is not for a page to say.
pub(super) fn usable(app: &App, mut device: Device, before: Option<&Device>) -> Result<Device, Refusal> {
    app.readers.check(&device).map_err(|error| {
        let field = if matches!(error, DeviceError::Pattern(_)) { "pattern" } else { "address" };
        Refusal::from(Refused::BadDevice { says: Text::from(&error) }).at(field)
    })?;
    device.hands = before.filter(|b| b.address == device.address).and_then(|b| b.hands.clone());
    Ok(device)
}

fn cursor(text: &str) -> Result<Cursor, ApiError> {
    let bad = || ApiError::BadRequest {
        status: StatusCode::BAD_REQUEST,
        detail: "this is no cursor of the list".into(),
    };
    let (due, id) = text.split_once('_').ok_or_else(bad)?;
    let format = time::macros::format_description!("[year]-[month]-[day]");
    let due = Date::parse(due, format).ok().filter(|day| day.year() >= 1900).ok_or_else(bad)?;
    Ok(Cursor { due, id: id.parse().map_err(|_| bad())? })
}

/// Lists scales, due first.
#[utoipa::path(get, path = "/api/scales", tag = "scales", params(ListQuery), responses((status = 200, body = ScalePage), (status = 401, body = Problem)))]
pub async fn list_scales(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(query): Asked<ListQuery>,
) -> Result<Json<ScalePage>, ApiError> {
    let after = query.after.as_deref().map(cursor).transpose()?;
    let search: String = query.search.chars().take(100).collect();
    let mut found =
        scales::list(&app.reads, person.workshop_id, search.trim(), query.customer, after, PAGE + 1).await?;
    let more = i64::try_from(found.len()).unwrap_or(0) > PAGE;
    found.truncate(usize::try_from(PAGE).unwrap_or(60));
    let far = Date::from_calendar_date(9999, time::Month::December, 31).unwrap_or(Date::MAX);
    let next =
        found.last().filter(|_| more).map(|row| format!("{}_{}", row.next_due.unwrap_or(far), row.sheet.id));
    Ok(Json(ScalePage { scales: found, next }))
}

/// One scale.
#[utoipa::path(get, path = "/api/scales/{id}", tag = "scales", params(("id" = Uuid, Path)), responses((status = 200, body = ScaleDetail), (status = 404, body = Problem)))]
pub async fn get_scale(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<ScaleDetail>, ApiError> {
    scales::one(&app.pool, person.workshop_id, id).await?.map(Json).ok_or(ApiError::NotFound("scale"))
}

/// Adds a scale; one that is there already is left as it is.
#[utoipa::path(post, path = "/api/scales", tag = "scales", request_body = ScaleForm,
    responses((status = 201, body = ScaleDetail), (status = 422, body = Problem), (status = 403, body = Problem)))]
pub async fn add_scale(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<ScaleForm>,
) -> Result<(StatusCode, Json<ScaleDetail>), ApiError> {
    let (sheet, device, _) = form.read(&app, None)?;
    if let Some(there) = scales::one(&app.pool, person.workshop_id, sheet.id).await? {
        return Ok((StatusCode::OK, Json(there)));
    }
    if let Err(error) = scales::add(&app.pool, person.workshop_id, &sheet, device.as_ref()).await {
        // Sent twice at once: whoever came second gets what the first one stored.
        let there = scales::one(&app.pool, person.workshop_id, sheet.id).await?;
        return match there.filter(|_| error.twice().is_some()) {
            Some(there) => Ok((StatusCode::OK, Json(there))),
            None => Err(error.into()),
        };
    }
    Ok((StatusCode::CREATED, Json(ScaleDetail { sheet, device, version: 1 })))
}

/// Changes a scale.
#[utoipa::path(put, path = "/api/scales/{id}", tag = "scales", params(("id" = Uuid, Path)), request_body = ScaleForm,
    responses((status = 200, body = ScaleDetail), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn change_scale(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
    Body(mut form): Body<ScaleForm>,
) -> Result<Json<ScaleDetail>, ApiError> {
    form.sheet.id = id;
    let before = scales::one(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("scale"))?;
    let (sheet, device, version) = form.read(&app, before.device.as_ref())?;
    if scales::change(&app.pool, person.workshop_id, &sheet, device.as_ref(), version).await? {
        return Ok(Json(ScaleDetail { sheet, device, version: version + 1 }));
    }
    match scales::one(&app.pool, person.workshop_id, id).await? {
        Some(_) => Err(ApiError::Taken(text!("scales-api-the-sheet-was-changed-by"))),
        None => Err(ApiError::NotFound("scale")),
    }
}

ombret_core::refusals! {
    enum Refused {
        BadDevice { says: Text } = "bad_device": says;
    }
}

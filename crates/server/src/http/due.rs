//! What is due: the board by week, owner or place, and the calendar of due dates.

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use icalendar::{Calendar, Component, Event, EventLike};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::{IntoParams, ToSchema};

use super::app::App;
use super::body::{Asked, At};
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use crate::random_token;
use crate::store::due::{self, DueAsked, DueCounts, DueCursor, DueOrder, DueRow};
use crate::store::history;

/// Most days ahead that are listed.
const MOST_DAYS: i64 = 3_700;
/// Most scales in the calendar: the ones due first.
const MOST_EVENTS: i64 = 2_000;
/// Scales on a page of the board.
const PAGE: i64 = 100;

/// Which scales, in which order.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct DueQuery {
    /// Days from today.
    #[serde(default = "a_quarter")]
    days: i64,
    /// By what they are ordered.
    #[serde(default)]
    #[param(inline)]
    by: DueOrder,
    /// Words to look for in name, owner, place, serial.
    #[serde(default)]
    search: String,
    /// Cursor from the page before.
    #[serde(default)]
    after: Option<String>,
}

const fn a_quarter() -> i64 {
    92
}

/// A page of the board.
#[derive(Serialize, ToSchema)]
pub struct DueReply {
    /// How many are due; on the first page only.
    #[schema(required)]
    counts: Option<DueCounts>,
    /// The scales.
    rows: Vec<DueRow>,
    /// Cursor of the next page, if there is one.
    #[schema(required)]
    next: Option<String>,
}

/// Where the calendar is.
#[derive(Serialize, ToSchema)]
pub struct CalendarReply {
    /// It has an address.
    there: bool,
    /// Its path, told once: when it is made.
    #[schema(required)]
    path: Option<String>,
}

/// Scales that are due.
#[utoipa::path(get, path = "/api/due", tag = "records", params(DueQuery), responses((status = 200, body = DueReply), (status = 400, body = Problem), (status = 401, body = Problem)))]
pub async fn due_board(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(query): Asked<DueQuery>,
) -> Result<Json<DueReply>, ApiError> {
    let bad = || ApiError::BadRequest {
        status: StatusCode::BAD_REQUEST,
        detail: "this is no cursor of the board".into(),
    };
    let after: Option<DueCursor> =
        query.after.as_deref().map(|text| serde_json::from_str(text).map_err(|_| bad())).transpose()?;
    let today = OffsetDateTime::now_utc().date();
    let search: String = query.search.trim().chars().take(100).collect();
    let asked = DueAsked { until: today + Duration::days(query.days.clamp(0, MOST_DAYS)), search: &search };
    let first = after.is_none();
    let counts = async {
        if first {
            due::counts(&app.reads, person.workshop_id, today, asked).await.map(Some)
        } else {
            Ok(None)
        }
    };
    let (counts, mut rows) = tokio::try_join!(
        counts,
        due::page(&app.reads, person.workshop_id, today, asked, query.by, after.as_ref(), PAGE + 1)
    )?;
    let page = usize::try_from(PAGE).unwrap_or(0);
    let more = rows.len() > page;
    rows.truncate(page);
    let last = rows.last().filter(|_| more).map(|row| serde_json::to_string(&query.by.cursor(row)));
    let next = last.transpose().map_err(|e| ApiError::Internal(e.to_string()))?;
    Ok(Json(DueReply { counts, rows, next }))
}

fn path_of(secret: &str) -> String {
    format!("/api/calendar/{secret}")
}

/// Where the workshop's calendar of due dates is.
#[utoipa::path(get, path = "/api/calendar", tag = "records", responses((status = 200, body = CalendarReply), (status = 401, body = Problem)))]
pub async fn calendar_address(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<CalendarReply>, ApiError> {
    let there = history::has_calendar(&app.pool, person.workshop_id).await?;
    Ok(Json(CalendarReply { there, path: None }))
}

/// Makes a new secret address for the calendar; an old one leads nowhere from then on.
#[utoipa::path(post, path = "/api/calendar", tag = "records", responses((status = 200, body = CalendarReply), (status = 403, body = Problem)))]
pub async fn renew_calendar(
    State(app): State<App>,
    Technician(person): Technician,
) -> Result<Json<CalendarReply>, ApiError> {
    let fresh = random_token();
    history::renew_calendar(&app.pool, &person, &fresh).await?;
    Ok(Json(CalendarReply { there: true, path: Some(path_of(&fresh)) }))
}

/// The calendar itself, for whoever has its address.
#[utoipa::path(get, path = "/api/calendar/{secret}", tag = "records", params(("secret" = String, Path)),
    responses((status = 200, body = String, content_type = "text/calendar"), (status = 404, body = Problem)))]
pub async fn calendar(State(app): State<App>, At(secret): At<String>) -> Result<Response, ApiError> {
    let (workshop, name) =
        history::of_calendar(&app.pool, &secret).await?.ok_or(ApiError::NotFound("calendar"))?;
    let today = OffsetDateTime::now_utc().date();
    let asked = DueAsked { until: today + Duration::days(MOST_DAYS), search: "" };
    let mut out = Calendar::new().name(&format!("Scales due, {name}")).done();
    for row in due::page(&app.pool, workshop, today, asked, DueOrder::Week, None, MOST_EVENTS).await? {
        let day = format!("{:04}{:02}{:02}", row.due.year(), u8::from(row.due.month()), row.due.day());
        let mut event = Event::new();
        event
            .uid(&format!("{}@ombret", row.scale))
            .summary(&format!("{} due, {}", row.name, row.owner))
            .location(&row.place);
        // A whole day, as RFC 5545 writes it.
        let mut start = icalendar::Property::new("DTSTART", &day);
        start.add_parameter("VALUE", "DATE");
        event.append_property(start);
        if let Some(reason) = &row.reason {
            event.description(&reason.to_string());
        }
        out.push(event.done());
    }
    Ok(([(header::CONTENT_TYPE, HeaderValue::from_static("text/calendar; charset=utf-8"))], out.to_string())
        .into_response())
}

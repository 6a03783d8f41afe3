//! Is this paper genuine? The one page that asks for no sign-in: it says number, scale, date, outcome and
//! whether a later version took its place, and nothing else.

use axum::Json;
use axum::extract::State;
use ombret_core::assessment::{Assessment, assess};
use ombret_core::job::open_file;
use ombret_core::journal::{Entry, Outcome};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At};
use super::guard::{Caller, SignedIn};
use super::problem::{ApiError, Problem};
use super::workers::Stop;
use crate::sha256_hex;
use crate::store::audit::{self, AuditAsked, AuditLine, Named};
use crate::store::people::Role;
use crate::store::records;

/// Digits of a record's hash that stand in the code on paper: 80 bits.
const CODE: usize = 20;

/// What stands in the code on paper, of the hash of the frozen bytes.
pub(super) fn check_code(sha256: &str) -> &str {
    sha256.get(..CODE).unwrap_or(sha256)
}

/// What is told of a record to anybody who holds its paper.
#[derive(Serialize, ToSchema)]
pub struct GenuineReply {
    /// This workshop signed and kept it so.
    genuine: bool,
    /// The workshop.
    #[schema(required)]
    workshop: Option<String>,
    /// Its number.
    #[schema(required)]
    number: Option<String>,
    /// Name of the scale.
    #[schema(required)]
    scale: Option<String>,
    /// When it was signed.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(required)]
    signed_at: Option<OffsetDateTime>,
    /// What the job came to.
    #[schema(required)]
    outcome: Option<Outcome>,
    /// Number of the version that took its place.
    #[schema(required)]
    replaced_by: Option<String>,
}

/// Whether a paper is genuine, by the code on it.
#[utoipa::path(get, path = "/api/genuine/{job}/{code}", tag = "papers", params(("job" = Uuid, Path), ("code" = String, Path)), responses((status = 200, body = GenuineReply), (status = 404, body = Problem), (status = 429, body = Problem), (status = 503, body = Problem)))]
pub async fn genuine(
    State(app): State<App>,
    Caller(from): Caller,
    At((job, code)): At<(Uuid, String)>,
) -> Result<Json<GenuineReply>, ApiError> {
    if !app.sign_in_limits.allow(from, None) {
        return Err(ApiError::SlowDown { seconds: 5 });
    }
    let none = GenuineReply {
        genuine: false,
        workshop: None,
        number: None,
        scale: None,
        signed_at: None,
        outcome: None,
        replaced_by: None,
    };
    let whole = code.len() == CODE && code.bytes().all(|b| b.is_ascii_hexdigit());
    if !whole {
        return Ok(Json(none));
    }
    let Some(found) = records::by_code(&app.pool, job, &code.to_lowercase()).await? else {
        return Ok(Json(none));
    };
    let keys = app.settings.keys.clone();
    let work = move |_: &Stop| {
        let read = (sha256_hex(&found.bytes) == found.sha256).then(|| open_file(&found.bytes).ok()).flatten();
        let Some((file, state)) = read else { return Ok(Json(none)) };
        // A record from before signatures has none; one that has one has it of a key of this house.
        if file.signature().is_some_and(|s| !keys.knows(&s.key)) {
            return Ok(Json(none));
        }
        let entries: Vec<Entry> = file.entries.into_iter().map(|s| s.entry).collect();
        let assessed: Assessment = assess(&entries, &state);
        Ok(Json(GenuineReply {
            genuine: true,
            workshop: Some(found.workshop),
            number: Some(found.number),
            scale: Some(assessed.sheet.name),
            signed_at: assessed.close.signed_at,
            outcome: Some(assessed.outcome),
            replaced_by: found.replaced_by,
        }))
    };
    app.workers.run(work).await
}

/// Lines of the audit trail on a page.
const PAGE: i64 = 100;

/// Where a page of the trail begins.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct TrailQuery {
    /// Lines before this one.
    #[serde(default)]
    before: Option<i32>,
}

/// A page of the audit trail.
#[derive(Serialize, ToSchema)]
pub struct TrailPage {
    /// Its lines, the newest first.
    lines: Vec<AuditLine>,
    /// Where the next page begins, if there is one.
    #[schema(required)]
    next: Option<i32>,
    /// Everybody who stands in it; on the first page only.
    people: Vec<Named>,
}

/// The audit trail, the newest first; for managers and auditors.
#[utoipa::path(get, path = "/api/audit", tag = "session", params(AuditAsked, TrailQuery), responses((status = 200, body = TrailPage), (status = 401, body = Problem), (status = 403, body = Problem)))]
pub async fn audit_trail(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Asked(asked): Asked<AuditAsked>,
    Asked(query): Asked<TrailQuery>,
) -> Result<Json<TrailPage>, ApiError> {
    if !person.is(Role::Manager) && !person.is(Role::Reader) {
        return Err(ApiError::WrongRole);
    }
    let workshop = person.workshop_id;
    let mut lines = audit::page(&app.pool, workshop, &asked, query.before, PAGE + 1).await?;
    let page = usize::try_from(PAGE).unwrap_or(0);
    let more = lines.len() > page;
    lines.truncate(page);
    let people = if query.before.is_none() { audit::names(&app.pool, workshop).await? } else { Vec::new() };
    Ok(Json(TrailPage { next: lines.last().filter(|_| more).map(|l| l.seq), lines, people }))
}

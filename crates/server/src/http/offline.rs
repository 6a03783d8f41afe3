//! Work away from the server: what a page takes along, the devices that may, and what comes home.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ombret_core::Refusal;
use ombret_core::adjust::SpanWeightRule;
use ombret_core::diagnosis::Priors;
use ombret_core::job::{Brought, HomeNote, Journal, bring, pieces_out, whole};
use ombret_core::journal::entries;
use ombret_core::journal::{Before, Body as EntryBody, Needs, Sealed, bytes_of_hex, signed_by};
use ombret_core::scale::ScaleSheet;
use ombret_core::text;
use ombret_core::weights::{Instrument, Piece};
use ombret_core::wording::Text;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At, Body};
use super::guard::{SignedIn, Technician};
use super::jobs::role_of;
use super::problem::{ApiError, Problem};
use super::secrets::signs;
use crate::store::jobs::{self, Job};
use crate::store::offline::{self, DeviceRow, Homecoming};
use crate::store::people::{self, Person, Role};
use crate::store::{beside, kit, profiles, scales};

/// What a workshop brings to each of its jobs, for a core that works away.
#[derive(Serialize, ToSchema)]
pub struct WorkshopAlong {
    /// Its kit.
    pieces: Vec<Piece>,
    /// How much span weight it asks for.
    span_weight_rule: SpanWeightRule,
    /// Whether its records are approved.
    approval: bool,
    /// What reads the air.
    instruments: Vec<Instrument>,
    /// How likely a fault is, where it differs from the table.
    #[schema(value_type = BTreeMap<String, f64>)]
    priors: Priors,
    /// A scale inside its tolerance is left alone.
    leave_inside: bool,
    /// Texts of the profiles, by their identity.
    profiles: BTreeMap<Uuid, String>,
}

/// What a workshop brings to each of its jobs.
#[utoipa::path(get, path = "/api/offline/workshop", tag = "offline", responses((status = 200, body = WorkshopAlong), (status = 401, body = Problem)))]
pub async fn workshop_along(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<WorkshopAlong>, ApiError> {
    let (pool, workshop) = (&app.pool, person.workshop_id);
    let rules = people::judgement(pool, workshop).await?;
    let mut texts = BTreeMap::new();
    for row in profiles::list(pool, workshop).await? {
        if let Some(profile) = profiles::one(pool, workshop, row.id).await? {
            texts.insert(row.id, profile.text);
        }
    }
    Ok(Json(WorkshopAlong {
        pieces: kit::list(pool, workshop, "").await?.into_iter().map(|row| row.piece).collect(),
        span_weight_rule: super::kit::span_weight_rule_of(&app, &person).await?,
        approval: people::paper(pool, workshop).await?.review,
        instruments: beside::instruments(pool, workshop)
            .await?
            .into_iter()
            .map(|row| row.instrument)
            .collect(),
        priors: rules.priors,
        leave_inside: rules.leave_inside,
        profiles: texts,
    }))
}

/// How a job at a scale begins.
#[derive(Serialize, ToSchema)]
pub struct ScaleAlong {
    /// Its sheet, with what a job needs to know of its profile.
    sheet: ScaleSheet,
    /// What stood on its last record.
    #[schema(required)]
    before: Option<Before>,
}

/// How a job at a scale would begin.
#[utoipa::path(get, path = "/api/offline/scales/{id}", tag = "offline", params(("id" = Uuid, Path)), responses((status = 200, body = ScaleAlong), (status = 404, body = Problem)))]
pub async fn scale_along(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<ScaleAlong>, ApiError> {
    let scale = scales::one(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("scale"))?;
    let sheet = super::profiles::with_facts(&app, &person, scale.sheet).await?;
    Ok(Json(ScaleAlong { sheet, before: scales::before(&app.pool, id).await? }))
}

/// From where.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct AfterQuery {
    /// Place of the last entry that is known; 0: none.
    #[serde(default)]
    after: u32,
}

/// The entries of a job behind one, with their seals.
#[utoipa::path(get, path = "/api/jobs/{id}/entries", tag = "jobs", params(("id" = Uuid, Path), AfterQuery), responses((status = 200, body = Vec<Sealed>), (status = 404, body = Problem)))]
pub async fn entries_after(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Asked(asked): Asked<AfterQuery>,
) -> Result<Json<Vec<Sealed>>, ApiError> {
    let job = jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    Ok(Json(job.journal.sealed_after(asked.after)))
}

/// A device to be made known.
#[derive(Deserialize, ToSchema)]
pub struct NewDevice {
    /// Identity, made by the device.
    id: Uuid,
    /// What its owner calls it.
    name: String,
    /// The public half of its signing key: Ed25519, 32 bytes as hexadecimal digits.
    public_key: String,
    /// The password of its owner: it opens what the device keeps, and signs there.
    password: String,
}

/// Makes a device known that takes jobs along.
#[utoipa::path(post, path = "/api/offline/devices", tag = "offline", request_body = NewDevice, responses((status = 204), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn make_device(
    State(app): State<App>,
    Technician(person): Technician,
    Body(new): Body<NewDevice>,
) -> Result<StatusCode, ApiError> {
    let name: String =
        new.name.chars().filter(|c| !c.is_control()).take(80).collect::<String>().trim().to_owned();
    if name.is_empty() {
        return Err(Refusal::from(Refused::Missing).into());
    }
    if bytes_of_hex::<32>(&new.public_key).is_none() {
        return Err(Refusal::from(Refused::BadKey).into());
    }
    signs(&app, &person, Some(&new.password)).await?;
    if offline::make(&app.pool, &person, new.id, &name, &new.public_key).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::Taken(text!("offline-api-another-device-has-this")))
    }
}

/// Devices that take jobs along: one's own, and for a manager those of everybody.
#[utoipa::path(get, path = "/api/offline/devices", tag = "offline", responses((status = 200, body = Vec<DeviceRow>), (status = 401, body = Problem)))]
pub async fn list_devices(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<DeviceRow>>, ApiError> {
    let own = (!person.is(Role::Manager)).then_some(person.id);
    Ok(Json(offline::list(&app.pool, person.workshop_id, own).await?))
}

/// How a device stands.
#[derive(Serialize, ToSchema)]
pub struct DeviceStanding {
    /// It may take jobs along and bring them home.
    welcome: bool,
}

/// Whether a device of one's own is still welcome; one that is not forgets what it took along.
#[utoipa::path(get, path = "/api/offline/devices/{id}", tag = "offline", params(("id" = Uuid, Path)), responses((status = 200, body = DeviceStanding), (status = 401, body = Problem)))]
pub async fn device_standing(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<DeviceStanding>, ApiError> {
    Ok(Json(DeviceStanding { welcome: offline::key(&app.pool, &person, id).await?.is_some() }))
}

/// Shuts a device out.
#[utoipa::path(delete, path = "/api/offline/devices/{id}", tag = "offline", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn revoke_device(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    if offline::revoke(&app.pool, &person, id, person.is(Role::Manager)).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("device"))
    }
}

/// What was entered at one job away from the server.
#[derive(Deserialize, ToSchema)]
pub struct Home {
    /// Identity, made by the device: sending twice is harmless.
    id: Uuid,
    /// The device.
    device: Uuid,
    /// Its clock as it sends this.
    #[serde(with = "time::serde::rfc3339")]
    clock: OffsetDateTime,
    /// The job.
    job: Uuid,
    /// The entries, the oldest first; a job that began away begins with its first.
    entries: Vec<Sealed>,
    /// The device's signatures of the entries that sign a record, by the entry's seal: Ed25519 over
    /// `ombret.device/` and the seal, as hexadecimal digits.
    #[serde(default)]
    signatures: BTreeMap<String, String>,
}

/// What came of it.
#[derive(Serialize, ToSchema)]
pub struct HomeReply {
    /// Identity.
    id: Uuid,
    /// The job.
    job: Uuid,
    /// The scale.
    scale: Uuid,
    /// Its name.
    scale_name: String,
    /// Its owner.
    owner: String,
    /// Who brought it.
    person: String,
    /// By which device.
    device: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    at: OffsetDateTime,
    /// Entries that stand on the job now.
    taken: i32,
    /// Entries that were here already.
    known: i32,
    /// Number of the job's record.
    #[schema(required)]
    number: Option<String>,
    /// What is to be known of it.
    notes: Vec<NoteSaid>,
    /// What could not be taken, entry by entry.
    left: Vec<Text>,
}

/// Something to be known of a job that came home.
#[derive(Serialize, ToSchema)]
pub struct NoteSaid {
    #[serde(flatten)]
    note: HomeNote,
    /// In words.
    says: Text,
    /// Somebody has to do something about it.
    serious: bool,
}

async fn told(app: &App, person: &Person, row: offline::HomeRow) -> Result<HomeReply, ApiError> {
    let said = |note: HomeNote| NoteSaid { says: note.says(), serious: note.serious(), note };
    let left = if row.left.is_empty() {
        Vec::new()
    } else {
        let job =
            jobs::job(&app.pool, person.workshop_id, row.job).await?.ok_or(ApiError::NotFound("job"))?;
        row.left.iter().map(|sealed| sealed.entry.body.says(job.journal.state())).collect()
    };
    Ok(HomeReply {
        id: row.id,
        job: row.job,
        scale: row.scale,
        scale_name: row.scale_name,
        owner: row.owner,
        person: row.person,
        device: row.device,
        at: row.at,
        taken: row.taken,
        known: row.known,
        number: row.number,
        notes: row.notes.into_iter().map(said).collect(),
        left,
    })
}

/// What came home lately.
#[utoipa::path(get, path = "/api/offline/home", tag = "offline", responses((status = 200, body = Vec<HomeReply>), (status = 401, body = Problem)))]
pub async fn came_home(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<HomeReply>>, ApiError> {
    let mut out = Vec::new();
    for row in offline::came_home(&app.pool, person.workshop_id, None).await? {
        out.push(told(&app, &person, row).await?);
    }
    Ok(Json(out))
}

/// What could not be taken, as it came.
#[utoipa::path(get, path = "/api/offline/home/{id}/left", tag = "offline", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<Sealed>), (status = 404, body = Problem)))]
pub async fn left_over(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<Vec<Sealed>>, ApiError> {
    let row = offline::came_home(&app.pool, person.workshop_id, Some(id)).await?.pop();
    Ok(Json(row.ok_or(ApiError::NotFound("homecoming"))?.left))
}

/// Takes what was entered away: each entry is decided again, in order.
#[utoipa::path(post, path = "/api/offline/home", tag = "offline", request_body = Home,
    responses((status = 200, body = HomeReply), (status = 403, body = Problem), (status = 404, body = Problem), (status = 422, body = Problem), (status = 503, body = Problem)))]
pub async fn come_home(
    State(app): State<App>,
    Technician(person): Technician,
    Body(home): Body<Home>,
) -> Result<Json<HomeReply>, ApiError> {
    if let Some(row) = offline::came_home(&app.pool, person.workshop_id, Some(home.id)).await?.pop() {
        return Ok(Json(told(&app, &person, row).await?));
    }
    let key = offline::key(&app.pool, &person, home.device).await?.ok_or(ApiError::NotFound("device"))?;
    whole(home.job, &home.entries)?;
    let mut slot = app.job_cache.slot(home.job).await;
    // Only what is stored counts, whatever this instance keeps of the job.
    *slot = None;
    let (mut job, began) = found_or_begun(&app, &person, &home).await?;
    let proofs = Proofs::of(&app, &person, &home, key).await?;
    let practice = job.journal.state().sheet.practice;
    let may = |sealed: &Sealed, needs: Needs| proofs.hold(&person, sealed, needs, practice);
    let brought = bring(&job.journal, &home.entries, person.id, may);
    let notes = notes_of(&app, &person, &job, &home, &brought).await?;
    for sealed in &brought.taken {
        if !jobs::append(&app.pool, &mut job, sealed.clone(), &app.settings.keys).await? {
            // Somebody was quicker: all of it is sent again and decided behind that.
            return Err(ApiError::Busy);
        }
    }
    app.bus.moved(job.head.id, job.head.head_seq);
    let came = Homecoming {
        id: home.id,
        device: home.device,
        scale: job.head.scale_id,
        job: home.job,
        taken: brought.taken.len() + usize::from(began),
        known: brought.known - usize::from(began),
        notes,
        left: brought.left.map(|(left, _)| left).unwrap_or_default(),
    };
    offline::note(&app.pool, &person, &came, &home.entries).await?;
    *slot = Some(job);
    drop(slot);
    let row = offline::came_home(&app.pool, person.workshop_id, Some(home.id)).await?.pop();
    let row = row.ok_or_else(|| ApiError::Internal("what came home was not written down".into()))?;
    Ok(Json(told(&app, &person, row).await?))
}

/// The job that was brought, and whether it begins here with what was brought.
async fn found_or_begun(app: &App, person: &Person, home: &Home) -> Result<(Job, bool), ApiError> {
    match jobs::workshop_of(&app.pool, home.job).await? {
        Some(workshop) if workshop == person.workshop_id => {}
        Some(_) => return Err(ApiError::Taken(text!("jobs-api-a-job-of-this-identity"))),
        None => {
            let first = home.entries.first().ok_or(ApiError::NotFound("job"))?;
            let EntryBody::Started(entries::Started { sheet, .. }) = &first.entry.body else {
                return Err(ApiError::NotFound("job"));
            };
            if first.entry.by.id != person.id {
                return Err(ApiError::WrongRole);
            }
            sheet.check()?;
            let scale = scales::one(&app.pool, person.workshop_id, sheet.id).await?;
            let scale = scale.ok_or(ApiError::NotFound("scale"))?;
            if scale.sheet.practice != sheet.practice {
                // What is practice needs no signature: a device does not settle what is.
                return Err(Refusal::from(Refused::NotPractice).into());
            }
            let journal = Journal::of(home.job, vec![first.clone()])
                .map_err(|error| ApiError::Internal(error.to_string()))?;
            // Sent twice at once: whoever came second goes on with what the first one began.
            match jobs::begin(&app.pool, person.workshop_id, sheet.id, &journal).await {
                Err(error) if error.twice() == Some("job") => {}
                begun => {
                    begun?;
                    return Ok((job_of(app, person, home.job).await?, true));
                }
            }
        }
    }
    Ok((job_of(app, person, home.job).await?, false))
}

async fn job_of(app: &App, person: &Person, id: Uuid) -> Result<Job, ApiError> {
    jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))
}

/// What entries rest on beside the journal: the device's key, its signatures, the files that were sent before.
struct Proofs {
    key: String,
    signatures: BTreeMap<String, String>,
    /// Hash and size of each file of the job that is here.
    files: BTreeMap<Uuid, (String, i64)>,
}

impl Proofs {
    async fn of(app: &App, person: &Person, home: &Home, key: String) -> Result<Self, ApiError> {
        let mut files = BTreeMap::new();
        for sealed in &home.entries {
            if let EntryBody::Attached(entries::Attached { file }) = &sealed.entry.body
                && let Some(there) =
                    beside::file_of_job(&app.pool, person.workshop_id, home.job, file.id).await?
            {
                files.insert(file.id, there);
            }
        }
        Ok(Self { key, signatures: home.signatures.clone(), files })
    }

    fn hold(&self, person: &Person, sealed: &Sealed, needs: Needs, practice: bool) -> Result<(), Refusal> {
        if needs == Needs::Reviewer {
            return Err(Refusal::from(Refused::NotHere));
        }
        if !person.is(role_of(needs)) {
            return Err(Refusal::from(Refused::WrongRole));
        }
        match &sealed.entry.body {
            EntryBody::Attached(entries::Attached { file }) => {
                let there = self.files.get(&file.id);
                if there.is_none_or(|(sha256, size)| {
                    *sha256 != file.sha256 || u64::try_from(*size) != Ok(file.size)
                }) {
                    return Err(Refusal::from(Refused::NotFound));
                }
            }
            EntryBody::Closed(_) if !practice => {
                let signed = format!("ombret.device/{}", sealed.hash);
                let signature = self.signatures.get(&sealed.hash).map_or("", String::as_str);
                if !signed_by(&self.key, signature, signed.as_bytes()) {
                    return Err(Refusal::from(Refused::NotSigned));
                }
            }
            _ => {}
        }
        Ok(())
    }
}

/// Clocks that differ by less are as good as one.
const CLOCKS_DIFFER_S: i64 = 90;

async fn notes_of(
    app: &App,
    person: &Person,
    job: &Job,
    home: &Home,
    brought: &Brought,
) -> Result<Vec<HomeNote>, ApiError> {
    let (pool, workshop, scale) = (&app.pool, person.workshop_id, job.head.scale_id);
    let mut notes = Vec::new();
    if brought.between > 0 && !brought.taken.is_empty() {
        let entries = job.journal.entries();
        let others = &entries[entries.len() - brought.between.min(entries.len())..];
        let by: BTreeSet<&str> = others.iter().map(|e| e.by.name.as_str()).collect();
        let by = by.into_iter().map(str::to_owned).collect();
        notes.push(HomeNote::Between { entries: brought.between, by });
    }
    if let Some(EntryBody::Started(entries::Started { sheet, .. })) =
        home.entries.first().map(|s| &s.entry.body)
        && let Some(now) = scales::one(pool, workshop, scale).await?
        && super::profiles::with_facts(app, person, now.sheet).await? != **sheet
    {
        notes.push(HomeNote::SheetChanged);
    }
    let kit: Vec<Piece> = kit::list(pool, workshop, "").await?.into_iter().map(|row| row.piece).collect();
    notes.extend(pieces_out(&brought.taken, &kit));
    if let Some((other, by)) = offline::other_job(pool, workshop, scale, home.job, person.id).await? {
        notes.push(HomeNote::OtherJob { job: other, by });
    }
    let seconds = (home.clock - OffsetDateTime::now_utc()).whole_seconds();
    if seconds.abs() > CLOCKS_DIFFER_S {
        notes.push(HomeNote::Clock { seconds });
    }
    if let Some((left, refusal)) = &brought.left {
        notes.push(HomeNote::Left { entries: left.len(), why: refusal.message.clone() });
    }
    Ok(notes)
}

ombret_core::refusals! {
    enum Refused {
        Missing = "missing" at "name": text!("offline-api-a-device-has-a-name");
        BadKey = "bad_key" at "public_key": text!("offline-api-this-is-no-key");
        NotPractice = "not_practice": text!("offline-api-practice-is-settled-here");
        NotHere = "not_here": text!("home-approved-at-home");
        WrongRole = "wrong_role": text!("problem-wrong-role-detail");
        NotFound = "not_found": text!("jobs-api-this-file-was-not-sent");
        NotSigned = "not_signed": text!("offline-api-the-signature-of-the");
    }
}

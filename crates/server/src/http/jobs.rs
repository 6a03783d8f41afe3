//! Jobs: beginning one, its assessment, and the next entry.

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode};
use axum::response::{IntoResponse, Response};
use ombret_core::Refusal;
use ombret_core::adjust::SpanWeightRule;
use ombret_core::answers::{NotTaken, SetupQuestion, judged_setup, next_entry};
use ombret_core::assessment::{Around, Assessment, SetupJudgement};
use ombret_core::job::drafts;
use ombret_core::job::{Author, Draft, Journal};
use ombret_core::journal::entries;
use ombret_core::journal::{Body as EntryBody, Heard, Needs, Sealed, Setup, Signer, Silence};
use ombret_core::weights::{Instrument, Piece};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::app::App;
use super::body::{At, Body};
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use super::profiles::profile_of;
use super::secrets::signs;
use crate::store::jobs::{self, Job, JobHead, JobRow};
use crate::store::people::{self, Person, Role};
use crate::store::{beside, scales};
use ombret_core::text;

/// A job to begin.
#[derive(Deserialize, ToSchema)]
pub struct NewJob {
    /// Identity, made by the client.
    id: Uuid,
    /// The scale.
    scale_id: Uuid,
}

/// The next entry.
#[derive(Deserialize, ToSchema)]
pub struct NewEntry {
    /// Identity, made by the client (UUID v7): sending twice is harmless.
    id: Uuid,
    /// Place of the last entry that the client knows.
    after: u32,
    /// What was typed or is to be taken.
    draft: Draft,
    /// Only say what would come of it.
    #[serde(default)]
    try_only: bool,
    /// The password of whoever signs; asked for a signature only.
    #[serde(default)]
    password: Option<String>,
}

/// A job with everything that is worked out of it.
#[derive(Serialize, ToSchema)]
pub struct JobReply {
    /// The job.
    job: JobHead,
    /// Its assessment.
    assessment: Assessment,
}

/// What came of an entry.
#[derive(Serialize, ToSchema)]
pub struct EntryReply {
    /// The job.
    job: JobHead,
    /// How the entry was understood.
    understood: EntryBody,
    /// The assessment with it.
    assessment: Assessment,
}

fn reply(job: Job) -> JobReply {
    JobReply { assessment: job.journal.assess(), job: job.head }
}

async fn find(app: &App, person: &Person, id: Uuid) -> Result<Job, ApiError> {
    jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))
}

/// Open jobs.
#[utoipa::path(get, path = "/api/jobs", tag = "jobs", responses((status = 200, body = Vec<JobRow>), (status = 401, body = Problem)))]
pub async fn list_jobs(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<JobRow>>, ApiError> {
    Ok(Json(jobs::open(&app.pool, person.workshop_id).await?))
}

/// Begins a job; one that is there already is given back as it is.
#[utoipa::path(post, path = "/api/jobs", tag = "jobs", request_body = NewJob,
    responses((status = 201, body = JobReply), (status = 404, body = Problem), (status = 409, body = Problem)))]
pub async fn begin_job(
    State(app): State<App>,
    Technician(person): Technician,
    Body(new): Body<NewJob>,
) -> Result<(StatusCode, Json<JobReply>), ApiError> {
    match jobs::workshop_of(&app.pool, new.id).await? {
        Some(workshop) if workshop == person.workshop_id => {
            return Ok((StatusCode::OK, Json(reply(find(&app, &person, new.id).await?))));
        }
        Some(_) => return Err(ApiError::Taken(text!("jobs-api-a-job-of-this-identity"))),
        None => {}
    }
    let scale =
        scales::one(&app.pool, person.workshop_id, new.scale_id).await?.ok_or(ApiError::NotFound("scale"))?;
    let before = scales::before(&app.pool, new.scale_id).await?;
    let sheet = super::profiles::with_facts(&app, &person, scale.sheet).await?;
    let start = EntryBody::Started(entries::Started { sheet: Box::new(sheet), before: before.map(Box::new) });
    let journal = Journal::begin(new.id, start, author(&person, Uuid::now_v7()))
        .map_err(|e| ApiError::Internal(e.to_string()))?;
    // Sent twice at once: whoever came second gets what the first one began.
    match jobs::begin(&app.pool, person.workshop_id, new.scale_id, &journal).await {
        Err(error) if error.twice() == Some("job") => {}
        begun => begun?,
    }
    Ok((StatusCode::CREATED, Json(reply(find(&app, &person, new.id).await?))))
}

pub(super) fn author(person: &Person, entry: Uuid) -> Author {
    let by = Signer { id: person.id, name: person.name.clone() };
    Author { entry, at: OffsetDateTime::now_utc(), by }
}

/// A job.
#[utoipa::path(get, path = "/api/jobs/{id}", tag = "jobs", params(("id" = Uuid, Path)), responses((status = 200, body = JobReply), (status = 404, body = Problem)))]
pub async fn get_job(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<JobReply>, ApiError> {
    Ok(Json(reply(find(&app, &person, id).await?)))
}

/// The next entry of a job. With `Prefer: return=minimal` (RFC 7240) it is only taken, and nothing is worked
/// out.
#[utoipa::path(post, path = "/api/jobs/{id}/entries", tag = "jobs", params(("id" = Uuid, Path)), request_body = NewEntry,
    responses((status = 200, body = EntryReply), (status = 204, description = "Taken; nothing more was asked for"),
        (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem), (status = 503, body = Problem)))]
pub async fn add_entry(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    headers: HeaderMap,
    Body(new): Body<NewEntry>,
) -> Result<Response, ApiError> {
    // Fetched before the job is held: nobody waits for it longer than an entry takes.
    let beside = Beside::of(&app, &person, &new.draft).await?;
    if let Draft::Attached(drafts::AttachedDraft { file }) = &new.draft {
        // What the journal says of a file is what lies here.
        let there = beside::file_of_job(&app.pool, person.workshop_id, id, file.id).await?;
        if there.is_none_or(|(sha256, size)| sha256 != file.sha256 || u64::try_from(size) != Ok(file.size)) {
            return Err(Refusal::from(Refused::NotFound).into());
        }
    }
    if matches!(new.draft, Draft::Closed(_)) && !new.try_only {
        // What is done on a practice scale is no record, and nobody answers for it.
        let practice = find(&app, &person, id).await?.journal.state().sheet.practice;
        if !practice {
            signs(&app, &person, new.password.as_deref()).await?;
        }
    }
    let mut slot = app.job_cache.slot(id).await;
    for kept in [true, false] {
        if !kept || slot.is_none() {
            *slot = Some(find(&app, &person, id).await?);
        }
        let job = slot
            .as_mut()
            .filter(|job| job.workshop == person.workshop_id)
            .ok_or(ApiError::NotFound("job"))?;
        let came = enter(&app, &person, job, &new, &beside).await;
        let again = match &came {
            Ok(Entered::Behind) => true,
            Ok(Entered::Now(_)) => false,
            // What was kept may be behind what another instance has taken.
            _ => kept && !jobs::is_at(&app.pool, id, job.journal.head()).await?,
        };
        if !again {
            return answer(job, came?, &headers);
        }
    }
    Err(ApiError::Busy)
}

/// What came of an entry.
enum Entered {
    /// It stands behind the others now.
    Now(EntryBody),
    /// It stood there already.
    Before(EntryBody),
    /// It would stand there, and this would come of it.
    Tried(Box<EntryReply>),
    /// The job has moved on meanwhile.
    Behind,
}

async fn enter(
    app: &App,
    person: &Person,
    job: &mut Job,
    new: &NewEntry,
    beside: &Beside,
) -> Result<Entered, ApiError> {
    let twice = job.journal.entries().iter().rev().find(|e| e.id == new.id).filter(|_| !new.try_only);
    if let Some(there) = twice {
        return Ok(Entered::Before(there.body.clone()));
    }
    let sealed = sealed_next(app, person, job, new, beside)?;
    let understood = sealed.entry.body.clone();
    if new.try_only {
        let mut journal = job.journal.clone();
        journal.push(sealed);
        let (job, assessment) = (job.head.clone(), journal.assess());
        return Ok(Entered::Tried(Box::new(EntryReply { job, understood, assessment })));
    }
    match jobs::append(&app.pool, job, sealed, &app.settings.keys).await {
        Ok(true) => {
            app.bus.moved(job.head.id, job.head.head_seq);
            Ok(Entered::Now(understood))
        }
        Ok(false) => Ok(Entered::Behind),
        Err(error) if error.twice() == Some("entry") => {
            Err(ApiError::Taken(text!("jobs-api-an-entry-of-this-identity")))
        }
        Err(error) => Err(error.into()),
    }
}

fn answer(job: &Job, entered: Entered, headers: &HeaderMap) -> Result<Response, ApiError> {
    let minimal = headers
        .get_all("prefer")
        .iter()
        .filter_map(|value| value.to_str().ok())
        .any(|value| value.split(',').any(|one| one.trim().eq_ignore_ascii_case("return=minimal")));
    let understood = match entered {
        Entered::Tried(reply) => return Ok(Json(reply).into_response()),
        Entered::Behind => return Err(ApiError::Busy),
        Entered::Now(_) | Entered::Before(_) if minimal => {
            return Ok((StatusCode::NO_CONTENT, [("preference-applied", "return=minimal")]).into_response());
        }
        Entered::Now(understood) | Entered::Before(understood) => understood,
    };
    let (head, assessment) = (job.head.clone(), job.journal.assess());
    Ok(Json(EntryReply { job: head, understood, assessment }).into_response())
}

/// What a draft needs of the workshop beside its job; nothing is fetched for one that needs nothing.
#[derive(Default)]
struct Beside {
    kit: Vec<Piece>,
    span_weight_rule: SpanWeightRule,
    /// Whether records are approved here.
    approval: Option<bool>,
    instruments: Vec<Instrument>,
}

impl Beside {
    async fn of(app: &App, person: &Person, draft: &Draft) -> Result<Self, ApiError> {
        let (with, span_weight_rule) = match draft {
            Draft::Read(drafts::ReadDraft { with, .. }) => (!with.is_empty(), false),
            Draft::SpanChosen(drafts::SpanChosenDraft { with, .. }) => (!with.is_empty(), true),
            _ => (false, false),
        };
        let signs = matches!(draft, Draft::Closed(_));
        let air = matches!(draft, Draft::ConditionsRead(drafts::ConditionsReadDraft { instruments, .. }) if !instruments.is_empty());
        Ok(Self {
            kit: if with { super::kit::pieces_of(app, person).await? } else { Vec::new() },
            approval: if signs {
                Some(people::paper(&app.pool, person.workshop_id).await?.review)
            } else {
                None
            },
            span_weight_rule: if span_weight_rule {
                super::kit::span_weight_rule_of(app, person).await?
            } else {
                SpanWeightRule::default()
            },
            instruments: if air {
                let all = beside::instruments(&app.pool, person.workshop_id).await?;
                all.into_iter().map(|row| row.instrument).collect()
            } else {
                Vec::new()
            },
        })
    }
}

/// Makes the entry that would follow: at the right place, understood, allowed, and sealed.
fn sealed_next(
    app: &App,
    person: &Person,
    job: &Job,
    new: &NewEntry,
    beside: &Beside,
) -> Result<Sealed, ApiError> {
    let (journal, state) = (&job.journal, job.journal.state());
    if state.head != new.after {
        let newer = journal.sealed_after(new.after);
        return Err(ApiError::Stale { head: state.head, after: new.after, newer });
    }
    let live = live_now(app, job.head.scale_id, &state.setup_in_force().0);
    let around = Around {
        live: &live,
        kit: &beside.kit,
        span_weight_rule: beside.span_weight_rule,
        day: OffsetDateTime::now_utc().date(),
        number: job.head.number.as_deref(),
        approval: beside.approval.filter(|_| !state.sheet.practice),
        instruments: &beside.instruments,
    };
    let sealed =
        next_entry(journal, &new.draft, &around, author(person, new.id), |needs| person.is(role_of(needs)))
            .map_err(|not_taken| match not_taken {
            NotTaken::WrongRole => ApiError::WrongRole,
            NotTaken::Refused(refusal) => refusal.into(),
        })?;
    let approves = sealed.entry.body.needs() == Needs::Reviewer;
    if approves && job.head.imported {
        return Err(Refusal::from(Refused::Imported).into());
    }
    Ok(sealed)
}

/// Who works on the scale signs; who approves has not worked on it.
pub(super) const fn role_of(needs: Needs) -> Role {
    match needs {
        Needs::Technician => Role::Technician,
        Needs::Reviewer => Role::Reviewer,
    }
}

fn live_now(app: &App, scale: Uuid, setup: &Setup) -> Heard {
    app.readers.running(scale).ok_or_else(Silence::not_connected)?.observe(setup.clone())
}

/// Judges a set-up without entering it.
#[utoipa::path(post, path = "/api/jobs/{id}/judge", tag = "jobs", params(("id" = Uuid, Path)), request_body = SetupQuestion,
    responses((status = 200, body = SetupJudgement), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn judge_job_setup(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Body(question): Body<SetupQuestion>,
) -> Result<Json<SetupJudgement>, ApiError> {
    let job = find(&app, &person, id).await?;
    let profile = match profile_of(&app, &person, job.journal.state().sheet.id).await {
        Ok(profile) => Some(profile),
        // A scale without a profile, or with one that is gone, is judged without it.
        Err(ApiError::NotFound(_)) => None,
        Err(error) => return Err(error),
    };
    Ok(Json(judged_setup(job.journal.state(), &question, profile.as_ref())?))
}

ombret_core::refusals! {
    enum Refused {
        NotFound = "not_found" at "file": text!("jobs-api-this-file-was-not-sent");
        Imported = "imported":
            text!("jobs-api-this-record-was-made-elsewhere"),
            then text!("jobs-api-prove-the-scale-in-a");
    }
}

//! Jobs: beginning one, its assessment, and the next entry.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ombret_core::Refusal;
use ombret_core::adjust::School;
use ombret_core::instrument::Instrument;
use ombret_core::job::{
    Around, Assessment, Body as EntryBody, Draft, Entry, Heard, MOST_ENTRIES, Needs, Setup, SetupDraft,
    SetupJudgement, Signer, Silence, assess, decide, four_eyes, interpret, judge_by_profile, judge_setup,
};
use ombret_core::weights::Piece;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::body::{At, Body};
use super::guard::{SignedIn, Technician};
use super::profiles::profile_of;
use super::sign_in::signs;
use super::{ApiError, App, Problem};
use crate::live::observe;
use crate::store::beside;
use crate::store::jobs::{self, JobHead, JobRow, Journal};
use crate::store::people::{self, Person, Role};
use crate::store::scales;

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

/// A set-up to judge.
#[derive(Deserialize, ToSchema)]
pub struct SetupQuestion {
    /// As typed in the page.
    setup: SetupDraft,
}

fn reply(journal: Journal) -> Result<JobReply, ApiError> {
    let (entries, state) = (journal.entries(), journal.state()?);
    Ok(JobReply { assessment: assess(&entries, &state), job: journal.head })
}

async fn find(app: &App, person: &Person, id: Uuid) -> Result<Journal, ApiError> {
    jobs::journal(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))
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
            return Ok((StatusCode::OK, Json(reply(find(&app, &person, new.id).await?)?)));
        }
        Some(_) => return Err(ApiError::Taken("a job of this identity exists already".into())),
        None => {}
    }
    let scale =
        scales::one(&app.pool, person.workshop_id, new.scale_id).await?.ok_or(ApiError::NotFound("scale"))?;
    let before = scales::before(&app.pool, new.scale_id).await?;
    let sheet = super::profiles::with_facts(&app, &person, scale.sheet).await?;
    let first = Entry {
        id: Uuid::now_v7(),
        seq: 1,
        at: OffsetDateTime::now_utc(),
        by: signer(&person),
        body: EntryBody::Started { sheet: Box::new(sheet), before: before.map(Box::new) },
    };
    // Sent twice at once: whoever came second gets what the first one began.
    match jobs::begin(&app.pool, person.workshop_id, new.id, new.scale_id, first).await {
        Err(error) if error.twice() == Some("job") => {}
        begun => begun?,
    }
    Ok((StatusCode::CREATED, Json(reply(find(&app, &person, new.id).await?)?)))
}

fn signer(person: &Person) -> Signer {
    Signer { id: person.id, name: person.name.clone() }
}

/// A job.
#[utoipa::path(get, path = "/api/jobs/{id}", tag = "jobs", params(("id" = Uuid, Path)), responses((status = 200, body = JobReply), (status = 404, body = Problem)))]
pub async fn get_job(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<JobReply>, ApiError> {
    Ok(Json(reply(find(&app, &person, id).await?)?))
}

/// The next entry of a job.
#[utoipa::path(post, path = "/api/jobs/{id}/entries", tag = "jobs", params(("id" = Uuid, Path)), request_body = NewEntry,
    responses((status = 200, body = EntryReply), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem), (status = 503, body = Problem)))]
pub async fn add_entry(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Body(new): Body<NewEntry>,
) -> Result<Json<EntryReply>, ApiError> {
    // Fetched before the journal is held: only one connection is taken at a time.
    let beside = Beside::of(&app, &person, &new.draft).await?;
    if let Draft::Attached { file } = &new.draft {
        // What the journal says of a file is what lies here.
        let there = beside::file_of_job(&app.pool, person.workshop_id, id, file.id).await?;
        if there.is_none_or(|(sha256, size)| sha256 != file.sha256 || u64::try_from(size) != Ok(file.size)) {
            return Err(Refusal::new("not_found", "this file was not sent up for this job")
                .at("file")
                .into());
        }
    }
    if matches!(new.draft, Draft::Closed { .. }) && !new.try_only {
        // What is done on a practice scale is no record, and nobody answers for it.
        let practice = find(&app, &person, id).await?.state()?.sheet.practice;
        if !practice {
            signs(&app, &person, new.password.as_deref()).await?;
        }
    }
    if new.try_only {
        let journal = find(&app, &person, id).await?;
        let (entry, journal) = next_entry(&app, &person, journal, &new, &beside)?;
        return tried(entry, journal).map(Json);
    }
    let mut held = jobs::hold(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    if let Some(there) = held.journal.sealed.iter().find(|s| s.entry.id == new.id) {
        let understood = there.entry.body.clone();
        drop(held);
        let JobReply { job, assessment } = reply(find(&app, &person, id).await?)?;
        return Ok(Json(EntryReply { job, understood, assessment }));
    }
    let (entry, _) = next_entry(&app, &person, held.journal.clone(), &new, &beside)?;
    if held.stands_elsewhere(new.id).await? {
        return Err(ApiError::Taken("an entry of this identity stands in another job".into()));
    }
    let understood = entry.body.clone();
    let JobReply { job, assessment } = reply(held.append(entry, &app.settings.keys).await?)?;
    Ok(Json(EntryReply { job, understood, assessment }))
}

/// What a draft needs of the workshop beside its job; nothing is fetched for one that needs nothing.
#[derive(Default)]
struct Beside {
    kit: Vec<Piece>,
    school: School,
    /// Whether records are approved here.
    approval: Option<bool>,
    instruments: Vec<Instrument>,
}

impl Beside {
    async fn of(app: &App, person: &Person, draft: &Draft) -> Result<Self, ApiError> {
        let (with, school) = match draft {
            Draft::Read { with, .. } => (!with.is_empty(), false),
            Draft::SpanChosen { with, .. } => (!with.is_empty(), true),
            _ => (false, false),
        };
        let signs = matches!(draft, Draft::Closed { .. });
        let air = matches!(draft, Draft::ConditionsRead { instruments, .. } if !instruments.is_empty());
        Ok(Self {
            kit: if with { super::kit::pieces_of(app, person).await? } else { Vec::new() },
            approval: if signs {
                Some(people::paper(&app.pool, person.workshop_id).await?.review)
            } else {
                None
            },
            school: if school { super::kit::school_of(app, person).await? } else { School::default() },
            instruments: if air {
                let all = beside::instruments(&app.pool, person.workshop_id).await?;
                all.into_iter().map(|row| row.instrument).collect()
            } else {
                Vec::new()
            },
        })
    }
}

/// Makes the entry that would follow: at the right place, understood, and allowed.
fn next_entry(
    app: &App,
    person: &Person,
    journal: Journal,
    new: &NewEntry,
    beside: &Beside,
) -> Result<(Entry, Journal), ApiError> {
    let (entries, state) = (journal.entries(), journal.state()?);
    if state.head != new.after {
        let newer = journal.sealed.iter().filter(|s| s.entry.seq > new.after).collect::<Vec<_>>();
        let newer = serde_json::to_value(newer).map_err(|e| ApiError::Internal(e.to_string()))?;
        return Err(ApiError::Stale { head: state.head, after: new.after, newer });
    }
    if entries.len() >= MOST_ENTRIES {
        return Err(Refusal::new("too_long", format!("a job has at most {MOST_ENTRIES} entries"))
            .then("Close this job and start another.")
            .into());
    }
    let live = live_now(app, journal.head.scale_id, &state.setup_in_force().0);
    let around = Around {
        live: &live,
        kit: &beside.kit,
        school: beside.school,
        day: OffsetDateTime::now_utc().date(),
        number: journal.head.number.as_deref(),
        approval: beside.approval.filter(|_| !state.sheet.practice),
        instruments: &beside.instruments,
    };
    let draft = match &new.draft {
        // The name that signs is the name of the account.
        Draft::Closed { .. } => Draft::Closed { name: person.name.clone() },
        other => other.clone(),
    };
    let body = interpret(&state, draft, &around)?;
    may(person, &body)?;
    decide(&entries, &state, &body)?;
    four_eyes(&state, &body, person.id)?;
    if body.needs() == Needs::Reviewer && journal.head.imported {
        return Err(Refusal::new("imported", "this record was made elsewhere: it is not approved here")
            .then("Prove the scale in a job of this workshop.")
            .into());
    }
    // A clock that was set back does not make a journal run backwards.
    let at = entries.last().map_or(OffsetDateTime::UNIX_EPOCH, |e| e.at).max(OffsetDateTime::now_utc());
    let entry = Entry { id: new.id, seq: state.head + 1, at, by: signer(person), body };
    Ok((entry, journal))
}

/// Who works on the scale signs; who approves has not worked on it.
fn may(person: &Person, body: &EntryBody) -> Result<(), ApiError> {
    let needed = match body.needs() {
        Needs::Technician => Role::Technician,
        Needs::Reviewer => Role::Reviewer,
    };
    if person.is(needed) { Ok(()) } else { Err(ApiError::WrongRole) }
}

fn live_now(app: &App, scale: Uuid, setup: &Setup) -> Heard {
    observe(app.readers.running(scale).ok_or_else(Silence::not_connected)?, setup.clone())
}

fn tried(entry: Entry, journal: Journal) -> Result<EntryReply, ApiError> {
    let understood = entry.body.clone();
    let mut entries = journal.entries();
    entries.push(entry);
    let state = ombret_core::job::fold(&entries)
        .ok_or_else(|| ApiError::Internal("a journal that does not begin".into()))?;
    Ok(EntryReply { job: journal.head, understood, assessment: assess(&entries, &state) })
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
    let state = find(&app, &person, id).await?.state()?;
    let pad = question.setup.pad.unwrap_or_else(|| state.pad_in_hand()).max(1);
    let judged = judge_setup(&state, &question.setup.read()?, pad);
    Ok(Json(match profile_of(&app, &person, state.sheet.id).await {
        Ok(profile) => judge_by_profile(judged, &profile),
        // A scale without a profile, or with one that is gone, is judged without it.
        Err(ApiError::NotFound(_)) => judged,
        Err(error) => return Err(error),
    }))
}

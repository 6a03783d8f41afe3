//! Practice: the lessons, a run of one, hints, and the account afterwards.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ombret_bench::ScaleSettings;
use ombret_core::Refusal;
use ombret_core::job::Journal;
use ombret_core::journal::Body as EntryBody;
use ombret_core::journal::entries;
use ombret_core::practice::{Account, Lesson, account};
use rust_embed::RustEmbed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use super::app::App;
use super::body::{At, Body};
use super::guard::{Manager, SignedIn, Technician};
use super::jobs::author;
use super::problem::{ApiError, Problem};
use crate::live::Device;
use crate::store::people::Person;
use crate::store::practice::{self, Run};
use crate::store::{jobs, scales};
use crate::validation::lesson_and_bench;
use ombret_core::text;
use ombret_core::wording::Text;

/// Lessons that ship with the program.
#[derive(RustEmbed)]
#[folder = "../../demo/lessons/"]
struct Shipped;

/// A lesson in the list.
#[derive(Serialize, ToSchema)]
pub struct LessonRow {
    /// Stable name.
    id: String,
    /// Title.
    title: Text,
    /// What the owner says.
    story: Text,
    /// Sort of scale, in words.
    kind: Text,
    /// Minutes that a good run takes.
    minutes: u32,
    /// Written by this workshop.
    own: bool,
    /// Done to the end by the person who asks.
    done: bool,
}

/// A lesson as a file.
#[derive(Deserialize, ToSchema)]
pub struct LessonText {
    /// The file.
    text: String,
}

/// A run to begin.
#[derive(Deserialize, ToSchema)]
pub struct NewRun {
    /// Identity of its job, made by the client.
    job: Uuid,
}

/// A run that was begun.
#[derive(Serialize, ToSchema)]
pub struct RunBegun {
    /// Its job.
    job: Uuid,
}

/// A run as it stands.
#[derive(Serialize, ToSchema)]
pub struct PracticeView {
    /// Title of the lesson.
    title: Text,
    /// What the owner says.
    story: Text,
    /// Hints asked for so far.
    hints: Vec<Text>,
    /// Hints that are left.
    left: usize,
    /// The practice scale is on.
    on: bool,
    /// The account may be read.
    over: bool,
}

fn shipped() -> impl Iterator<Item = String> {
    Shipped::iter()
        .filter_map(|name| Shipped::get(&name))
        .map(|file| String::from_utf8_lossy(&file.data).into_owned())
}

/// Every lesson by its name: the workshop's own in place of shipped ones of the same name.
async fn all(app: &App, workshop: Uuid) -> Result<BTreeMap<String, (Lesson, bool)>, ApiError> {
    let own = practice::lessons(&app.pool, workshop).await?.into_iter().map(|(_, text)| (text, true));
    let mut out = BTreeMap::new();
    for (text, own) in shipped().map(|text| (text, false)).chain(own) {
        let (lesson, _) = lesson_and_bench(&text, Uuid::nil())?;
        out.insert(lesson.id.clone(), (lesson, own));
    }
    Ok(out)
}

/// The text of one lesson.
async fn text_of(app: &App, workshop: Uuid, id: &str) -> Result<String, ApiError> {
    let own = practice::lessons(&app.pool, workshop)
        .await?
        .into_iter()
        .find(|(own, _)| own == id)
        .map(|(_, text)| text);
    // A shipped lesson's file has its name.
    let shipped =
        || Shipped::get(&format!("{id}.json")).map(|file| String::from_utf8_lossy(&file.data).into_owned());
    own.or_else(shipped).ok_or(ApiError::NotFound("lesson"))
}

/// The lessons.
#[utoipa::path(get, path = "/api/lessons", tag = "practice", responses((status = 200, body = Vec<LessonRow>), (status = 401, body = Problem)))]
pub async fn list_lessons(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<LessonRow>>, ApiError> {
    let done = practice::done(&app.pool, person.workshop_id, person.id).await?;
    let row = |(id, (lesson, own)): (String, (Lesson, bool))| LessonRow {
        done: done.contains(&id),
        id,
        title: lesson.title.into(),
        story: lesson.story.into(),
        kind: lesson.sheet.kind.label(),
        minutes: lesson.good.minutes,
        own,
    };
    Ok(Json(all(&app, person.workshop_id).await?.into_iter().map(row).collect()))
}

/// Keeps a lesson of the workshop's own.
#[utoipa::path(put, path = "/api/lessons", tag = "practice", request_body = LessonText, responses((status = 200, body = LessonRow), (status = 422, body = Problem)))]
pub async fn keep_lesson(
    State(app): State<App>,
    Technician(person): Technician,
    Body(new): Body<LessonText>,
) -> Result<Json<LessonRow>, ApiError> {
    let (lesson, _) = lesson_and_bench(&new.text, Uuid::nil())?;
    practice::keep(&app.pool, person.workshop_id, &lesson.id, &new.text).await?;
    Ok(Json(LessonRow {
        id: lesson.id,
        title: lesson.title.into(),
        story: lesson.story.into(),
        kind: lesson.sheet.kind.label(),
        minutes: lesson.good.minutes,
        own: true,
        done: false,
    }))
}

/// A lesson as a file, to write another from.
#[utoipa::path(get, path = "/api/lessons/{id}/file", tag = "practice", params(("id" = String, Path)),
    responses((status = 200, body = String, content_type = "application/json"), (status = 404, body = Problem)))]
pub async fn lesson_file(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<String>,
) -> Result<Response, ApiError> {
    let text = text_of(&app, person.workshop_id, &id).await?;
    let name = HeaderValue::from_str(&format!("attachment; filename=\"{id}.json\""))
        .map_err(|e| ApiError::Internal(e.to_string()))?;
    Ok((
        [
            (header::CONTENT_TYPE, HeaderValue::from_static("application/json")),
            (header::CONTENT_DISPOSITION, name),
        ],
        text,
    )
        .into_response())
}

async fn switched_on(app: &App, scale: Uuid, bench: &ScaleSettings) -> Result<Device, ApiError> {
    app.benches
        .switch_on(scale, bench)
        .await
        .map_err(|e| ApiError::Device(text!("practice-api-the-practice-scale-cannot-be", e = e.to_string())))
}

/// Begins a lesson: a practice scale of its own, switched on, and a job on it.
#[utoipa::path(post, path = "/api/lessons/{id}/runs", tag = "practice", params(("id" = String, Path)), request_body = NewRun,
    responses((status = 201, body = RunBegun), (status = 404, body = Problem), (status = 409, body = Problem)))]
pub async fn begin_lesson(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<String>,
    Body(new): Body<NewRun>,
) -> Result<(StatusCode, Json<RunBegun>), ApiError> {
    match jobs::workshop_of(&app.pool, new.job).await? {
        Some(workshop) if workshop == person.workshop_id => {
            return Ok((StatusCode::OK, Json(RunBegun { job: new.job })));
        }
        Some(_) => return Err(ApiError::Taken(text!("practice-api-a-job-of-this-identity"))),
        None => {}
    }
    let text = text_of(&app, person.workshop_id, &id).await?;
    let scale = Uuid::now_v7();
    let (lesson, bench) = lesson_and_bench(&text, scale)?;
    let device = switched_on(&app, scale, &bench).await?;
    scales::add(&app.pool, person.workshop_id, &lesson.sheet, Some(&device)).await?;
    let body = EntryBody::Started(entries::Started { sheet: Box::new(lesson.sheet), before: None });
    let journal = Journal::begin(new.job, body, author(&person, Uuid::now_v7()))
        .map_err(|e| ApiError::Internal(e.to_string()))?;
    jobs::begin(&app.pool, person.workshop_id, scale, &journal).await?;
    let run = Run { job: new.job, scale, lesson: text, hints: 0, revealed: false };
    practice::begin(&app.pool, person.workshop_id, person.id, &run, &lesson.id).await?;
    Ok((StatusCode::CREATED, Json(RunBegun { job: new.job })))
}

async fn find(app: &App, person: &Person, job: Uuid) -> Result<(Run, Lesson, ScaleSettings), ApiError> {
    let run = practice::run(&app.pool, person.workshop_id, job)
        .await?
        .ok_or(ApiError::NotFound("run of a lesson"))?;
    let (lesson, bench) = lesson_and_bench(&run.lesson, run.scale)?;
    Ok((run, lesson, bench))
}

async fn view(app: &App, person: &Person, job: Uuid) -> Result<Json<PracticeView>, ApiError> {
    let (run, lesson, _) = find(app, person, job).await?;
    let done = jobs::job(&app.pool, person.workshop_id, job).await?.ok_or(ApiError::NotFound("job"))?;
    let given = run.hints.min(lesson.hints.len());
    Ok(Json(PracticeView {
        title: lesson.title.into(),
        story: lesson.story.into(),
        left: lesson.hints.len() - given,
        hints: lesson.hints.iter().take(given).map(Text::from).collect(),
        on: app.benches.is_on(run.scale),
        over: run.revealed || done.head.closed_at.is_some(),
    }))
}

/// A run as it stands.
#[utoipa::path(get, path = "/api/practice/{job}", tag = "practice", params(("job" = Uuid, Path)), responses((status = 200, body = PracticeView), (status = 404, body = Problem)))]
pub async fn get_practice(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(job): At<Uuid>,
) -> Result<Json<PracticeView>, ApiError> {
    view(&app, &person, job).await
}

/// Asks for the next hint.
#[utoipa::path(post, path = "/api/practice/{job}/hint", tag = "practice", params(("job" = Uuid, Path)), responses((status = 200, body = PracticeView), (status = 404, body = Problem)))]
pub async fn ask_hint(
    State(app): State<App>,
    Technician(person): Technician,
    At(job): At<Uuid>,
) -> Result<Json<PracticeView>, ApiError> {
    let (_, lesson, _) = find(&app, &person, job).await?;
    practice::hint(&app.pool, job, lesson.hints.len()).await?;
    view(&app, &person, job).await
}

/// Switches the practice scale on again, as it was found: what was not saved in a job is gone.
#[utoipa::path(post, path = "/api/practice/{job}/again", tag = "practice", params(("job" = Uuid, Path)), responses((status = 200, body = PracticeView), (status = 404, body = Problem)))]
pub async fn switch_on_again(
    State(app): State<App>,
    Technician(person): Technician,
    At(job): At<Uuid>,
) -> Result<Json<PracticeView>, ApiError> {
    let (run, _, bench) = find(&app, &person, job).await?;
    let device = switched_on(&app, run.scale, &bench).await?;
    scales::connect(&app.pool, run.scale, &device).await?;
    view(&app, &person, job).await
}

/// Shows what is hidden before the job is closed.
#[utoipa::path(post, path = "/api/practice/{job}/reveal", tag = "practice", params(("job" = Uuid, Path)), responses((status = 200, body = PracticeView), (status = 404, body = Problem)))]
pub async fn reveal(
    State(app): State<App>,
    Technician(person): Technician,
    At(job): At<Uuid>,
) -> Result<Json<PracticeView>, ApiError> {
    find(&app, &person, job).await?;
    practice::reveal(&app.pool, job).await?;
    view(&app, &person, job).await
}

/// The account of a run, once its job is closed or what is hidden was asked for.
#[utoipa::path(get, path = "/api/practice/{job}/account", tag = "practice", params(("job" = Uuid, Path)), responses((status = 200, body = Account), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn get_account(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(job): At<Uuid>,
) -> Result<Json<Account>, ApiError> {
    let (run, lesson, _) = find(&app, &person, job).await?;
    let done = jobs::job(&app.pool, person.workshop_id, job).await?.ok_or(ApiError::NotFound("job"))?;
    if done.head.closed_at.is_none() && !run.revealed {
        return Err(Refusal::from(Refused::NotOver).into());
    }
    if done.head.closed_at.is_some() {
        app.benches.switch_off(run.scale);
    }
    let journal = &done.journal;
    let acts = practice::acts(&app.pool, run.scale).await?;
    Ok(Json(account(&lesson, journal.entries(), journal.state(), &journal.assess(), &acts, run.hints)))
}
/// How much was thrown away.
#[derive(Serialize, ToSchema)]
pub struct ThrownAway {
    /// Runs of lessons.
    runs: i64,
}

/// Throws practice away: every run of a lesson of everybody. Records of real scales are not touched.
#[utoipa::path(delete, path = "/api/practice", tag = "practice", responses((status = 200, body = ThrownAway), (status = 403, body = Problem)))]
pub async fn throw_away(
    State(app): State<App>,
    Manager(person): Manager,
) -> Result<Json<ThrownAway>, ApiError> {
    Ok(Json(ThrownAway { runs: practice::throw_away(&app.pool, &person).await? }))
}

ombret_core::refusals! {
    enum Refused {
        NotOver = "not_over":
            text!("practice-api-the-lesson-is-not-over"),
            then text!("practice-api-close-the-job-or-give");
    }
}

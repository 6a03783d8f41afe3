//! The live reading as a stream, and the operator of a practice scale.

use std::convert::Infallible;
use std::net::SocketAddr;

use std::time::{Duration, Instant};

use axum::Json;
use axum::extract::State;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use futures::Stream;
use ombret_bench::Answer;
use ombret_core::Refusal;
use ombret_core::journal::Setup;
use ombret_core::live::{LiveView, Watch};
use serde::{Deserialize, Serialize};
use tokio::sync::broadcast::error::RecvError;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At, Body};
use super::guard::{Session, Technician};
use super::problem::{ApiError, Problem};
use crate::live::{Device, OperatorError, answer_text, operate};
use crate::store::{jobs, people, practice, scales};
use ombret_core::text;
use ombret_core::wording::Text;

/// A page hears at least so often, also of silence.
const HEARTBEAT: Duration = Duration::from_millis(1_000);
/// And no more often than this: a slow page gets the newest reading, not a backlog.
const PACE: Duration = Duration::from_millis(80);

/// Whose division steadiness is judged by.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct LiveQuery {
    /// The job; without it the plate's division counts.
    job: Option<Uuid>,
}

/// A command for the operator.
#[derive(Deserialize, ToSchema)]
pub struct OperatorCommand {
    /// Such as `put 20`, `take 20`, `clear`, `zero`, `span 600`, `save`.
    command: String,
}

/// What the practice scale says.
#[derive(Serialize, ToSchema)]
pub struct OperatorReply {
    /// In words.
    seen: Text,
    /// Something odd was seen from close by.
    odd: bool,
    /// It has an internal weight; only where it says how it stands.
    internal: bool,
}

fn refused(says: Text) -> Refusal {
    Refusal::from(Refused::OperatorRefused { says })
}

/// How often a stream asks whether its session is still one.
const SESSION_PACE: Duration = Duration::from_secs(20);

async fn device(app: &App, workshop: Uuid, scale: Uuid) -> Result<(Device, scales::ScaleDetail), ApiError> {
    let detail = scales::one(&app.pool, workshop, scale).await?.ok_or(ApiError::NotFound("scale"))?;
    let device = detail.device.clone().ok_or(ApiError::NotFound("connection on this scale"))?;
    Ok((device, detail))
}

/// The live reading of a scale, as server-sent events.
#[utoipa::path(get, path = "/api/scales/{id}/live", tag = "live", params(("id" = Uuid, Path), LiveQuery),
    responses((status = 200, body = LiveView, content_type = "text/event-stream"), (status = 404, body = Problem)))]
pub async fn live_reading(
    State(app): State<App>,
    Session { person, hash }: Session,
    At(id): At<Uuid>,
    Asked(query): Asked<LiveQuery>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, ApiError> {
    let (device, detail) = device(&app, person.workshop_id, id).await?;
    let setup = match query.job {
        Some(job) => {
            jobs::job(&app.pool, person.workshop_id, job)
                .await?
                .ok_or(ApiError::NotFound("job"))?
                .journal
                .state()
                .setup_in_force()
                .0
        }
        None => {
            let (max, d) = detail
                .sheet
                .rated()
                .ok_or_else(|| ApiError::Internal("a sheet without plate and cells".into()))?;
            Setup::of(max, d)
        }
    };
    let signal = app
        .readers
        .signal(id, &device)
        .map_err(|e| Refusal::from(Refused::BadDevice { says: Text::from(&e) }))?;
    let changed = signal.watch();
    let watcher =
        Watch::new(setup).ok_or_else(|| ApiError::Internal("a division that is not above zero".into()))?;
    let open = app.streams.open(person.id).ok_or(ApiError::SlowDown { seconds: 30 })?;
    let stop = app.readers.stop().clone();
    let (pool, idle) = (app.pool.clone(), time::Duration::hours(app.settings.session_idle_h.into()));
    let asked = Instant::now();
    let stream = futures::stream::unfold(
        (watcher, signal, changed, true, asked, open),
        move |(mut watcher, signal, mut changed, first, mut asked, open)| {
            let (stop, pool, hash) = (stop.clone(), pool.clone(), hash.clone());
            async move {
                // A stream ends with its session; while the database is away it goes on.
                if asked.elapsed() > SESSION_PACE {
                    asked = Instant::now();
                    if matches!(people::still_open(&pool, &hash, idle).await, Ok(false)) {
                        return None;
                    }
                }
                if !first {
                    tokio::select! {
                        () = stop.cancelled() => return None,
                        () = async { tokio::time::sleep(PACE).await; let _ = tokio::time::timeout(HEARTBEAT, changed.changed()).await; } => {}
                    }
                }
                let event = Event::default().json_data(signal.view(&mut watcher)).unwrap_or_default();
                Some((Ok(event), (watcher, signal, changed, false, asked, open)))
            }
        },
    );
    Ok(Sse::new(stream).keep_alive(KeepAlive::default()))
}

/// That a job has moved on.
#[derive(Serialize, ToSchema)]
pub struct JobMoved {
    /// Its newest entry; 0: it is to be looked at again.
    head: i32,
}

/// Tells whenever a job has moved on, whoever did it and on whichever instance, as server-sent events.
#[utoipa::path(get, path = "/api/jobs/{id}/changes", tag = "jobs", params(("id" = Uuid, Path)),
    responses((status = 200, body = JobMoved, content_type = "text/event-stream"), (status = 404, body = Problem)))]
pub async fn job_changes(
    State(app): State<App>,
    Session { person, hash }: Session,
    At(id): At<Uuid>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, ApiError> {
    // Heard from before it is looked at: nothing falls between.
    let moved = app.bus.jobs();
    let head = jobs::head(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    let open = app.streams.open(person.id).ok_or(ApiError::SlowDown { seconds: 30 })?;
    let stop = app.readers.stop().clone();
    let (pool, idle) = (app.pool.clone(), time::Duration::hours(app.settings.session_idle_h.into()));
    let stream = futures::stream::unfold((moved, Some(head), open), move |(mut moved, first, open)| {
        let (stop, pool, hash) = (stop.clone(), pool.clone(), hash.clone());
        async move {
            let mut told = first;
            while told.is_none() {
                tokio::select! {
                    () = stop.cancelled() => return None,
                    () = tokio::time::sleep(SESSION_PACE) => {
                        if matches!(people::still_open(&pool, &hash, idle).await, Ok(false)) {
                            return None;
                        }
                    }
                    heard = moved.recv() => match heard {
                        Ok(heard) if heard.job == id => told = Some(heard.head),
                        Ok(_) => {}
                        Err(RecvError::Lagged(_)) => told = Some(0),
                        Err(RecvError::Closed) => return None,
                    },
                }
            }
            let event = Event::default().json_data(JobMoved { head: told.unwrap_or(0) }).unwrap_or_default();
            Some((Ok(event), (moved, None, open)))
        }
    });
    Ok(Sse::new(stream).keep_alive(KeepAlive::default()))
}

/// Does something at a practice scale.
#[utoipa::path(post, path = "/api/scales/{id}/operator", tag = "live", params(("id" = Uuid, Path)), request_body = OperatorCommand,
    responses((status = 200, body = OperatorReply), (status = 404, body = Problem), (status = 422, body = Problem), (status = 502, body = Problem)))]
pub async fn operate_scale(
    State(app): State<App>,
    Technician(person): Technician,
    At(id): At<Uuid>,
    Body(asked): Body<OperatorCommand>,
) -> Result<Json<OperatorReply>, ApiError> {
    let (device, detail) = device(&app, person.workshop_id, id).await?;
    let address = device.hands.ok_or(ApiError::NotFound("practice scale"))?;
    // Commands go to what this program runs itself, or to a simulated scale that its settings name.
    let named = address.parse().is_ok_and(|a: SocketAddr| app.settings.simulated.contains(&a));
    let own = detail.sheet.practice && app.benches.is_at(id, &address);
    if !named && !own {
        return Err(ApiError::NotFound("practice scale"));
    }
    let command = asked.command.trim();
    let done = operate(&address, command).await;
    let answer = match done {
        Ok(answer) => answer,
        Err(OperatorError::Silent) => return Err(ApiError::Device(text!("hands-silent"))),
        Err(OperatorError::BadCommand) => return Err(refused(text!("hands-bad-command")).into()),
    };
    let (went, seen) = answer_text(&answer);
    if detail.sheet.practice {
        practice::note(&app.pool, id, command, went, &seen.to_string()).await?;
    }
    if !went {
        return Err(refused(seen).into());
    }
    let internal = matches!(&answer, Answer::Stands(standing) if standing.internal.is_some());
    Ok(Json(OperatorReply { seen, odd: matches!(answer, Answer::Found(Some(_))), internal }))
}

ombret_core::refusals! {
    enum Refused {
        OperatorRefused { says: Text } = "operator_refused" at "command": says;
        BadDevice { says: Text } = "bad_device": says;
    }
}

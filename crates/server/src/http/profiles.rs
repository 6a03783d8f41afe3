//! Profiles of indicators: the list, import, editing with errors by line, export, a virtual
//! indicator, and the keying sheet of a job.

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ombret_core::Refusal;
use ombret_core::adjust::Site;
use ombret_core::answers::{KeyingQuestion, KeyingReply, MessageQuestion, keying_of};
use ombret_core::assessment::{circumstances, held_by_indicator};
use ombret_core::keying::{
    Act, KeyingPlan, KeyingSheet, LONGEST_PROFILE, Machine, MachineView, MessageView, OperatingSettings,
    PadPlan, Profile, ProfileProblem, keying_sheet, look_up, read_profile,
};
use ombret_core::quantity::Mass;
use ombret_core::questions::{CalculatorAnswer, CalculatorQuestion, calculate};
use ombret_core::scale::ScaleSheet;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use super::app::App;
use super::body::{At, Body};
use super::guard::{SignedIn, Technician};
use super::problem::{ApiError, Problem};
use crate::store::people::Person;
use crate::store::profiles::{self, NewEdition, ProfileRow, ProfileText};
use crate::store::{jobs, scales};
use crate::validation::check_site;
use ombret_core::text;
use ombret_core::wording::Text;

/// Media type of a profile.
const TOML: &str = "application/toml; charset=utf-8";
/// Most acts that a virtual indicator is asked to do at once.
const MOST_ACTS: usize = 5_000;

/// A profile to be kept.
#[derive(Deserialize, ToSchema)]
pub struct ProfileForm {
    /// Identity, made by the client.
    id: Uuid,
    /// Its text.
    text: String,
    /// The edition that was edited; 0 for a new one.
    #[serde(default)]
    edition: i32,
    /// The name of the file that it came in.
    #[serde(default)]
    file_name: Option<String>,
}

/// A text to be looked at.
#[derive(Deserialize, ToSchema)]
pub struct ProfileCheck {
    /// The text.
    text: String,
    /// What the sample sheet is for; none: one of several plans that it can take.
    #[serde(default)]
    plan: Option<KeyingPlan>,
}

/// What the look came to.
#[derive(Serialize, ToSchema)]
pub struct ProfileChecked {
    /// What is wrong, by line; empty: nothing.
    problems: Vec<ProfileProblem>,
    /// The profile, where nothing is wrong.
    #[schema(required)]
    profile: Option<Profile>,
    /// A sheet for a plan that it can take, as a preview.
    #[schema(required)]
    sample: Option<KeyingSheet>,
}

/// Something for a virtual indicator to do.
#[derive(Deserialize, ToSchema)]
pub struct MachineRun {
    /// A kept profile; or
    #[serde(default)]
    profile: Option<Uuid>,
    /// a text.
    #[serde(default)]
    text: Option<String>,
    /// The job whose last record it starts from.
    #[serde(default)]
    job: Option<Uuid>,
    /// Everything done so far, in order.
    acts: Vec<Act>,
}

/// A profile from its text, which stands in this field.
pub(super) fn understood(text: &str, field: &str) -> Result<Profile, ApiError> {
    read_profile(text).map_err(|problems| {
        let first = problems
            .first()
            .map_or_else(Text::default, |p| text!("profiles-api-line", line = p.line, says = p.says));
        let refusal = Refusal::from(Refused::BadProfile { says: first }).at(field);
        ApiError::Profile { refusal, problems }
    })
}

/// A file's name says nothing about the profile, but one with a path in it is no honest file.
fn honest_name(name: &str) -> Result<(), Refusal> {
    let bad = name.contains(['/', '\\', ':'])
        || name.starts_with('.')
        || name.chars().any(char::is_control)
        || name.chars().count() > 120;
    if bad || !name.to_lowercase().ends_with(".toml") {
        let shown: String = name.chars().filter(|c| !c.is_control()).take(60).collect();
        return Err(Refusal::from(Refused::BadFileName { shown }));
    }
    Ok(())
}

/// A kept profile.
pub(super) async fn kept(app: &App, person: &Person, id: Uuid) -> Result<ProfileText, ApiError> {
    profiles::one(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("profile"))
}

/// The profiles of the workshop.
#[utoipa::path(get, path = "/api/profiles", tag = "profiles", responses((status = 200, body = Vec<ProfileRow>), (status = 401, body = Problem)))]
pub async fn list_profiles(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<ProfileRow>>, ApiError> {
    Ok(Json(profiles::list(&app.pool, person.workshop_id).await?))
}

/// One profile with its text.
#[utoipa::path(get, path = "/api/profiles/{id}", tag = "profiles", params(("id" = Uuid, Path)), responses((status = 200, body = ProfileText), (status = 404, body = Problem)))]
pub async fn get_profile(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Json<ProfileText>, ApiError> {
    Ok(Json(kept(&app, &person, id).await?))
}

/// One profile as a file.
#[utoipa::path(get, path = "/api/profiles/{id}/file", tag = "profiles", params(("id" = Uuid, Path)),
    responses((status = 200, body = String, content_type = "application/toml"), (status = 404, body = Problem)))]
pub async fn profile_file(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
) -> Result<Response, ApiError> {
    let found = kept(&app, &person, id).await?;
    let plain: String =
        found.name.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
    let name = HeaderValue::from_str(&format!("attachment; filename=\"{plain}.toml\""))
        .map_err(|e| ApiError::Internal(e.to_string()))?;
    Ok((
        [(header::CONTENT_TYPE, HeaderValue::from_static(TOML)), (header::CONTENT_DISPOSITION, name)],
        found.text,
    )
        .into_response())
}

/// Keeps a profile, as a new edition where it is there already.
#[utoipa::path(put, path = "/api/profiles", tag = "profiles", request_body = ProfileForm,
    responses((status = 200, body = ProfileText), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn keep_profile(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<ProfileForm>,
) -> Result<Json<ProfileText>, ApiError> {
    form.file_name.as_deref().map_or(Ok(()), honest_name)?;
    let profile = understood(&form.text, "text")?;
    let new = NewEdition {
        id: form.id,
        name: profile.name.trim(),
        about: profile.about.trim(),
        text: &form.text,
        by: &person.name,
    };
    if !profiles::write(&app.pool, person.workshop_id, &new, form.edition).await? {
        return Err(ApiError::Taken(text!("profiles-api-a-profile-of-this-name")));
    }
    Ok(Json(kept(&app, &person, form.id).await?))
}

/// Looks at a text without keeping it.
#[utoipa::path(post, path = "/api/profiles/check", tag = "profiles", request_body = ProfileCheck, responses((status = 200, body = ProfileChecked), (status = 413, body = Problem)))]
pub async fn check_profile(SignedIn(_): SignedIn, Body(asked): Body<ProfileCheck>) -> Json<ProfileChecked> {
    Json(match read_profile(&asked.text) {
        Ok(profile) => {
            let sample = match &asked.plan {
                Some(plan) => keying_sheet(&profile, plan, &profile.untouched()).ok(),
                None => sample(&profile),
            };
            ProfileChecked { problems: Vec::new(), sample, profile: Some(profile) }
        }
        Err(problems) => ProfileChecked { problems, profile: None, sample: None },
    })
}

/// A sheet for some plan that the profile can take, if one of these is.
fn sample(profile: &Profile) -> Option<KeyingSheet> {
    let units = profile.only_unit.map_or_else(
        || {
            vec![
                ombret_core::quantity::Unit::Kg,
                ombret_core::quantity::Unit::G,
                ombret_core::quantity::Unit::Lb,
            ]
        },
        |u| vec![u],
    );
    let figures = [
        ("870", "0.2", "600"),
        ("34", "0.01", "30"),
        ("2600", "1", "2000"),
        ("12000", "5", "8000"),
        ("500", "0.1", "200"),
    ];
    let plans = units.iter().flat_map(|unit| figures.iter().map(move |f| (*unit, f)));
    plans
        .filter_map(|(unit, (max, d, weight))| {
            let calibrates = profile.parameter_of(ombret_core::keying::Meaning::Span).is_some();
            let weights = if calibrates { vec![Mass::new(weight.parse().ok()?, unit)] } else { Vec::new() };
            let plan = KeyingPlan {
                unit,
                max: max.parse().ok()?,
                d: d.parse().ok()?,
                mode: Default::default(),
                fine: None,
                gravity: None,
                factor: None,
                operating: OperatingSettings::default(),
                pads: vec![PadPlan { weights }],
            };
            keying_sheet(profile, &plan, &profile.untouched()).ok()
        })
        .next()
}

/// Does acts at a virtual indicator, from its beginning, and shows where it then stands.
#[utoipa::path(post, path = "/api/profiles/run", tag = "profiles", request_body = MachineRun, responses((status = 200, body = MachineView), (status = 422, body = Problem)))]
pub async fn run_machine(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    Body(run): Body<MachineRun>,
) -> Result<Json<MachineView>, ApiError> {
    if run.acts.len() > MOST_ACTS {
        return Err(Refusal::from(Refused::TooLong { most_acts: MOST_ACTS }).into());
    }
    let text = match (run.profile, run.text) {
        (Some(id), _) => kept(&app, &person, id).await?.text,
        (None, Some(text)) => text,
        (None, None) => {
            return Err(Refusal::from(Refused::Missing).into());
        }
    };
    let profile = understood(&text, "text")?;
    let from = match run.job {
        Some(job) => held_by_indicator(
            jobs::job(&app.pool, person.workshop_id, job)
                .await?
                .ok_or(ApiError::NotFound("job"))?
                .journal
                .state(),
            &profile,
        ),
        None => profile.untouched(),
    };
    let mut machine = Machine::new(&profile, from);
    run.acts.iter().for_each(|act| machine.act(act));
    Ok(Json(machine.view()))
}

/// The keying sheet of a job's set-up.
#[utoipa::path(post, path = "/api/jobs/{id}/keying", tag = "profiles", params(("id" = Uuid, Path)), request_body = KeyingQuestion,
    responses((status = 200, body = KeyingReply), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn job_keying(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Body(asked): Body<KeyingQuestion>,
) -> Result<Json<KeyingReply>, ApiError> {
    let job = jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    let state = job.journal.state();
    let profile = profile_of(&app, &person, state.sheet.id).await?;
    Ok(Json(keying_of(state, profile, &asked)?))
}

/// A sheet with what a job needs to know of its profile: frozen with the job that begins now.
pub(super) async fn with_facts(
    app: &App,
    person: &Person,
    mut sheet: ScaleSheet,
) -> Result<ScaleSheet, ApiError> {
    if let Some(of) = &mut sheet.profile {
        let found = profiles::one(&app.pool, person.workshop_id, of.id).await?;
        of.facts = found.and_then(|p| read_profile(&p.text).ok()).map(|p| Box::new(p.facts()));
    }
    Ok(sheet)
}

/// The profile by which a scale is keyed.
pub(super) async fn profile_of(app: &App, person: &Person, scale: Uuid) -> Result<Profile, ApiError> {
    let sheet =
        scales::one(&app.pool, person.workshop_id, scale).await?.ok_or(ApiError::NotFound("scale"))?.sheet;
    let profile = sheet.profile.ok_or(ApiError::NotFound("profile on this scale"))?;
    understood(&kept(app, person, profile.id).await?.text, "text")
}

/// What the display says and what to do, the likely messages first.
#[utoipa::path(post, path = "/api/jobs/{id}/messages", tag = "profiles", params(("id" = Uuid, Path)), request_body = MessageQuestion,
    responses((status = 200, body = Vec<MessageView>), (status = 404, body = Problem)))]
pub async fn job_messages(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    At(id): At<Uuid>,
    Body(asked): Body<MessageQuestion>,
) -> Result<Json<Vec<MessageView>>, ApiError> {
    let job = jobs::job(&app.pool, person.workshop_id, id).await?.ok_or(ApiError::NotFound("job"))?;
    let state = job.journal.state();
    let profile = profile_of(&app, &person, job.head.scale_id).await?;
    let moving = app
        .readers
        .running(job.head.scale_id)
        .and_then(|signal| signal.observe(state.setup_in_force().0).ok())
        .is_some_and(|o| !o.steady);
    Ok(Json(look_up(&profile, &asked.shown, &circumstances(state, moving))))
}

/// The sites of the workshop.
#[utoipa::path(get, path = "/api/sites", tag = "profiles", responses((status = 200, body = Vec<Site>)))]
pub async fn list_sites(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<Vec<Site>>, ApiError> {
    Ok(Json(profiles::sites(&app.pool, person.workshop_id).await?))
}

/// A site as it is typed.
#[derive(Deserialize, ToSchema)]
pub struct SiteForm {
    /// What it is called.
    name: String,
    /// Latitude in degrees, as typed.
    latitude: String,
    /// Altitude in metres, as typed.
    altitude: String,
}

/// Keeps a site.
#[utoipa::path(put, path = "/api/sites", tag = "profiles", request_body = SiteForm, responses((status = 200, body = Site), (status = 422, body = Problem)))]
pub async fn keep_site(
    State(app): State<App>,
    Technician(person): Technician,
    Body(form): Body<SiteForm>,
) -> Result<Json<Site>, ApiError> {
    let number = |field: &str, text: &str| {
        text.trim().replace(',', ".").replace('\u{2212}', "-").parse().map_err(|e| Refusal::from(e).at(field))
    };
    let site = Site {
        name: form.name.trim().to_owned(),
        latitude: number("latitude", &form.latitude)?,
        altitude_m: number("altitude_m", &form.altitude)?,
    };
    check_site(&site)?;
    profiles::keep_site(&app.pool, person.workshop_id, &site).await?;
    Ok(Json(site))
}

/// Answers a calculator, without a job.
#[utoipa::path(post, path = "/api/calculators", tag = "calculators", request_body = CalculatorQuestion, responses((status = 200, body = CalculatorAnswer), (status = 422, body = Problem)))]
pub async fn ask_calculator(
    SignedIn(_): SignedIn,
    Body(question): Body<CalculatorQuestion>,
) -> Result<(StatusCode, Json<CalculatorAnswer>), ApiError> {
    Ok((StatusCode::OK, Json(calculate(&question)?)))
}

// A profile that is taken in must fit the body's limit with room for JSON around it.
const _: () = assert!(LONGEST_PROFILE * 2 <= crate::validation::TEXT_LIMIT);

ombret_core::refusals! {
    enum Refused {
        BadProfile { says: Text } = "bad_profile": says, then text!("profiles-api-nothing-was-kept-mend-the");
        BadFileName { shown: String } = "bad_file_name" at "file_name":
            text!("profiles-api-shown-is-no-name-of", shown);
        TooLong { most_acts: usize } = "too_long" at "acts":
            text!("profiles-api-at-most-most-acts-acts", most_acts);
        Missing = "missing" at "profile": text!("profiles-api-a-profile-or-its-text");
    }
}

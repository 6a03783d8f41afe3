//! People: the first start, invitations, who works here, one's own account. A link works once and is kept as
//! a hash; what a password must be is its length and that nobody would guess it first.

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode};
use ombret_core::Refusal;
use ombret_core::quantity::Unit;
use ombret_core::record::Letterhead;
use ombret_core::tolerance::Scheme;
use ombret_core::wording::Language;
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::app::App;
use super::body::{Asked, At, Body};
use super::guard::{Caller, Manager, Session, SignedIn};
use super::papers::base_of;
use super::problem::{ApiError, Problem};
use super::secrets::{hash_password, signs, unchanged};
use crate::random_token;
use crate::rules::{PaperRules, WorkshopDefaults};
use crate::store::StoreError;
use crate::store::accounts::{self, Invited, Link, Member, NewWorkshop, NotChanged, SessionRow};
use crate::store::people::{Person, Role};
use ombret_core::text;

/// How long an invitation works; a link for a new password is shorter.
const INVITED: Duration = Duration::days(7);
const RESET: Duration = Duration::hours(24);
/// How long the first start can be finished with the link that was printed.
pub const FIRST_START: Duration = Duration::hours(24);

/// Shortest and longest password, in characters. Source: NIST SP 800-63B, 5.1.1; OWASP ASVS 4.0.3, 2.1.
const PASSWORD: (usize, usize) = (12, 200);
/// A password that is guessed within so many tries, by its power of ten, is one of those that are tried first.
const GUESSED: f64 = 8.0;

/// Whether a password may be used by somebody of these names.
///
/// # Errors
/// A [`Refusal`] at `password`.
pub fn check_password(password: &str, names: &[&str]) -> Result<(), Refusal> {
    let length = password.chars().count();
    if length < PASSWORD.0 {
        return Err(Refusal::from(Refused::ShortPassword { length, least: PASSWORD.0 }));
    }
    if length > PASSWORD.1 {
        return Err(Refusal::from(Refused::LongPassword { most: PASSWORD.1 }));
    }
    let looked_at: String = password.chars().take(100).collect();
    if zxcvbn::zxcvbn(&looked_at, names).guesses_log10() < GUESSED {
        return Err(Refusal::from(Refused::CommonPassword));
    }
    Ok(())
}

/// A name as it stands on records.
fn full_name(text: &str) -> Result<String, Refusal> {
    let name = text.trim().to_owned();
    if name.chars().count() < 2 || name.chars().count() > 80 || name.chars().any(char::is_control) {
        return Err(Refusal::from(Refused::NoName));
    }
    Ok(name)
}

fn sign_in_name(text: &str) -> Result<String, Refusal> {
    let name = text.trim().to_lowercase();
    let plain = |c: char| c.is_alphanumeric() || matches!(c, '.' | '-' | '_' | '@');
    if name.chars().count() < 2 || name.chars().count() > 60 || !name.chars().all(plain) {
        return Err(Refusal::from(Refused::ASignInNameHas));
    }
    Ok(name)
}

fn some_roles(roles: &[Role]) -> Result<Vec<Role>, Refusal> {
    let mut roles = roles.to_vec();
    roles.dedup();
    if roles.is_empty() || roles.len() > 4 {
        return Err(Refusal::from(Refused::NoRole));
    }
    if roles.contains(&Role::Reader) && roles.len() > 1 {
        return Err(Refusal::from(Refused::ReaderOnly));
    }
    Ok(roles)
}

/// What a link is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LinkKind {
    /// The first start of the program.
    FirstStart,
    /// Somebody new.
    Invitation,
    /// A new password.
    Password,
}

/// What a link is for, and for whom.
#[derive(Serialize, ToSchema)]
pub struct LinkReply {
    /// For what.
    kind: LinkKind,
    /// The workshop.
    #[schema(required)]
    workshop: Option<String>,
    /// The name that was given.
    name: String,
    /// Roles.
    roles: Vec<Role>,
}

fn kind_of(link: &Link) -> LinkKind {
    match (&link.workshop, link.person) {
        (None, _) => LinkKind::FirstStart,
        (Some(_), Some(_)) => LinkKind::Password,
        (Some(_), None) => LinkKind::Invitation,
    }
}

async fn find(app: &App, from: std::net::IpAddr, token: &str) -> Result<Link, ApiError> {
    if !app.sign_in_limits.allow(from, None) {
        return Err(ApiError::SlowDown { seconds: 5 });
    }
    accounts::link(&app.pool, token).await?.ok_or(ApiError::NotFound("link, or it was used already"))
}

/// What a link is for.
#[utoipa::path(get, path = "/api/links/{token}", tag = "people", params(("token" = String, Path)), responses((status = 200, body = LinkReply), (status = 404, body = Problem)))]
pub async fn get_link(
    State(app): State<App>,
    Caller(from): Caller,
    At(token): At<String>,
) -> Result<Json<LinkReply>, ApiError> {
    let link = find(&app, from, &token).await?;
    Ok(Json(LinkReply {
        kind: kind_of(&link),
        workshop: link.workshop.map(|(_, name)| name),
        name: link.name,
        roles: link.roles,
    }))
}

/// A new workshop.
#[derive(Deserialize, ToSchema)]
pub struct WorkshopForm {
    /// Its name.
    name: String,
    /// Lines under it on paper.
    #[serde(default)]
    lines: Vec<String>,
    /// Language of its papers.
    #[serde(default)]
    language: Language,
    /// Its country, two letters.
    #[serde(default)]
    country: String,
    /// A reviewer approves records.
    #[serde(default)]
    review: bool,
    /// Unit where none is typed.
    #[serde(default)]
    unit: Option<Unit>,
    /// Tolerance book of a new scale.
    #[serde(default)]
    scheme: Option<Scheme>,
    /// Time zone, such as `Europe/Berlin`.
    #[serde(default)]
    time_zone: String,
}

/// What the workshop takes where nothing else is said.
#[utoipa::path(get, path = "/api/defaults", tag = "people", responses((status = 200, body = WorkshopDefaults)))]
pub async fn get_defaults(
    State(app): State<App>,
    SignedIn(person): SignedIn,
) -> Result<Json<WorkshopDefaults>, ApiError> {
    let kept = accounts::defaults(&app.pool, person.workshop_id).await?;
    Ok(Json(serde_json::from_value(kept).map_err(StoreError::from)?))
}

/// What a link is answered with.
#[derive(Deserialize, ToSchema)]
pub struct LinkForm {
    /// Name as it stands on records; for a new password it stays.
    #[serde(default)]
    name: String,
    /// Sign-in name; for a new password it stays.
    #[serde(default)]
    sign_in: String,
    /// The password.
    password: String,
    /// The workshop, at the first start.
    #[serde(default)]
    workshop: Option<WorkshopForm>,
}

/// What is set up at the first start.
pub struct FirstStart {
    /// The first person.
    pub person: Person,
    /// The sign-in name.
    pub sign_in: String,
    /// Letterhead and approval.
    pub paper: PaperRules,
    /// What is taken where nothing else is said.
    pub defaults: WorkshopDefaults,
}

/// Understands the form of the first start; the first person works and manages.
///
/// # Errors
/// Every [`Refusal`], at its field.
pub fn first_start(
    name: &str,
    sign_in: &str,
    password: &str,
    form: &WorkshopForm,
) -> Result<FirstStart, Refusal> {
    let letterhead = Letterhead {
        name: form.name.trim().to_owned(),
        lines: form.lines.iter().map(|l| l.trim().to_owned()).filter(|l| !l.is_empty()).collect(),
        language: form.language,
        country: form.country.trim().to_uppercase(),
        ..Letterhead::default()
    };
    let workshop = form.name.trim().to_owned();
    let named = if workshop.chars().count() < 2 {
        Err(Refusal::from(Refused::NoWorkshopName))
    } else {
        letterhead.check().map_err(|r| if r.field.as_deref() == Some("name") { r.at("workshop") } else { r })
    };
    let zone = form.time_zone.trim();
    let plain = zone.len() <= 60 && zone.chars().all(|c| c.is_ascii_alphanumeric() || "/_+-".contains(c));
    let zoned = if plain { Ok(()) } else { Err(Refusal::from(Refused::NoTimeZone)) };
    let (full, sign_in) = (full_name(name), sign_in_name(sign_in));
    let names = [workshop.as_str(), name, sign_in.as_deref().unwrap_or_default()];
    let secret = check_password(password, &names);
    let wrong = [
        named.err(),
        full.as_ref().err().cloned(),
        sign_in.as_ref().err().cloned(),
        secret.err(),
        zoned.err(),
    ];
    if let Some(all) = Refusal::all(wrong.into_iter().flatten()) {
        return Err(all);
    }
    Ok(FirstStart {
        person: Person {
            id: Uuid::now_v7(),
            workshop_id: Uuid::now_v7(),
            workshop,
            name: full?,
            roles: vec![Role::Technician, Role::Manager],
        },
        sign_in: sign_in?,
        paper: PaperRules { letterhead, review: form.review, customer_signs: false },
        defaults: WorkshopDefaults { unit: form.unit, scheme: form.scheme, time_zone: zone.to_owned() },
    })
}

/// argon2id, off the threads that serve.
async fn hashed(app: &App, password: String) -> Result<String, ApiError> {
    app.workers.run(move |_| hash_password(&password)).await
}

fn taken(error: StoreError) -> ApiError {
    if error.twice() == Some("person") {
        return Refusal::from(Refused::Taken).into();
    }
    error.into()
}

/// Answers a link: sets the workshop up, comes in, or sets a new password. Then one signs in.
#[utoipa::path(post, path = "/api/links/{token}", tag = "people", params(("token" = String, Path)), request_body = LinkForm, responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn answer_link(
    State(app): State<App>,
    Caller(from): Caller,
    At(token): At<String>,
    Body(form): Body<LinkForm>,
) -> Result<StatusCode, ApiError> {
    let link = find(&app, from, &token).await?;
    let done = match (&link.workshop, link.person) {
        (None, _) => {
            let workshop = form.workshop.ok_or_else(|| Refusal::from(Refused::WorkshopNotNamed))?;
            let new = first_start(&form.name, &form.sign_in, &form.password, &workshop)?;
            let password_hash = hashed(&app, form.password).await?;
            let new = NewWorkshop {
                person: &new.person,
                sign_in: &new.sign_in,
                password_hash: &password_hash,
                paper: &new.paper,
                defaults: &new.defaults,
            };
            accounts::set_up(&app.pool, Some(&token), &new).await.map_err(taken)?
        }
        (Some((workshop_id, workshop)), None) => {
            let (name, sign_in) = (full_name(&form.name), sign_in_name(&form.sign_in));
            let names = [workshop.as_str(), &form.name, &form.sign_in];
            let secret = check_password(&form.password, &names);
            let wrong = [name.as_ref().err().cloned(), sign_in.as_ref().err().cloned(), secret.err()];
            if let Some(all) = Refusal::all(wrong.into_iter().flatten()) {
                return Err(all.into());
            }
            let person = Person {
                id: Uuid::now_v7(),
                workshop_id: *workshop_id,
                workshop: workshop.clone(),
                name: name?,
                roles: link.roles,
            };
            let password_hash = hashed(&app, form.password).await?;
            accounts::join(&app.pool, &token, &person, &sign_in?, &password_hash).await.map_err(taken)?
        }
        (Some((workshop_id, workshop)), Some(id)) => {
            check_password(&form.password, &[workshop, &link.name])?;
            let person = Person {
                id,
                workshop_id: *workshop_id,
                workshop: workshop.clone(),
                name: link.name,
                roles: link.roles,
            };
            let password_hash = hashed(&app, form.password).await?;
            accounts::set_password(&app.pool, Some(&token), &person, &password_hash, &[]).await?
        }
    };
    if done { Ok(StatusCode::NO_CONTENT) } else { Err(ApiError::NotFound("link, or it was used already")) }
}

/// Everybody of the workshop.
#[derive(Serialize, ToSchema)]
pub struct PeopleReply {
    /// Those who are here, those who sign in first.
    members: Vec<Member>,
    /// Invitations that wait.
    invitations: Vec<Invited>,
}

/// Who works here.
#[utoipa::path(get, path = "/api/people", tag = "people", responses((status = 200, body = PeopleReply)))]
pub async fn list_people(
    State(app): State<App>,
    Manager(person): Manager,
) -> Result<Json<PeopleReply>, ApiError> {
    Ok(Json(PeopleReply {
        members: accounts::members(&app.pool, person.workshop_id).await?,
        invitations: accounts::invitations(&app.pool, person.workshop_id).await?,
    }))
}

/// Somebody to invite.
#[derive(Deserialize, ToSchema)]
pub struct InviteForm {
    /// The name.
    name: String,
    /// Where the link goes by mail; empty: nowhere.
    #[serde(default)]
    email: String,
    /// Roles.
    roles: Vec<Role>,
}

/// A link, told once.
#[derive(Serialize, ToSchema)]
pub struct LinkMade {
    /// Its path.
    path: String,
    /// Until when it works.
    #[serde(with = "time::serde::rfc3339")]
    expires_at: OffsetDateTime,
}

fn made(token: &str, expires_at: OffsetDateTime) -> Json<LinkMade> {
    Json(LinkMade { path: welcome(token), expires_at })
}

/// Where a link leads.
pub fn welcome(token: &str) -> String {
    format!("/welcome/{token}")
}

/// Invites somebody.
#[utoipa::path(post, path = "/api/people", tag = "people", request_body = InviteForm, responses((status = 201, body = LinkMade), (status = 422, body = Problem)))]
pub async fn invite(
    State(app): State<App>,
    Manager(person): Manager,
    headers: HeaderMap,
    Body(form): Body<InviteForm>,
) -> Result<(StatusCode, Json<LinkMade>), ApiError> {
    let (name, roles) = (full_name(&form.name)?, some_roles(&form.roles)?);
    let (token, until) = (random_token(), OffsetDateTime::now_utc() + INVITED);
    let email = form.email.trim().to_owned();
    let post = match (&app.post, email.is_empty()) {
        (_, true) => None,
        (Some(post), false) => Some(post),
        (None, false) => {
            return Err(Refusal::from(Refused::NoMail).into());
        }
    };
    accounts::invite(&app.pool, &person, &name, &roles, &token, until).await?;
    if let Some(post) = post {
        let base = base_of(&app, &headers);
        let text = format!(
            "{name},\n\n{} invites you to work with them in Ombret. Within seven days, once:\n\n{base}{}\n",
            person.workshop,
            welcome(&token)
        );
        post.send(&email, &format!("{} invites you", person.workshop), &text).await.map_err(|error| {
            tracing::warn!(%error, "an invitation was not sent");
            Refusal::from(Refused::NotSent)
        })?;
    }
    Ok((StatusCode::CREATED, made(&token, until)))
}

/// What somebody may do from now on.
#[derive(Deserialize, ToSchema)]
pub struct MemberForm {
    /// Roles.
    roles: Vec<Role>,
    /// Signs in.
    active: bool,
}

/// Changes roles, or whether somebody signs in. Who does not is signed out at once; the name stays on records.
#[utoipa::path(put, path = "/api/people/{id}", tag = "people", params(("id" = Uuid, Path)), request_body = MemberForm, responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn change_member(
    State(app): State<App>,
    Manager(person): Manager,
    At(id): At<Uuid>,
    Body(form): Body<MemberForm>,
) -> Result<StatusCode, ApiError> {
    let roles = some_roles(&form.roles)?;
    match accounts::change(&app.pool, &person, id, &roles, form.active).await? {
        Ok(()) => Ok(StatusCode::NO_CONTENT),
        Err(NotChanged::Nobody) => Err(ApiError::NotFound("person")),
        Err(NotChanged::LastManager) => Err(Refusal::from(Refused::LastManager).into()),
    }
}

/// Reduces what is known of somebody who left to the name on records.
#[utoipa::path(post, path = "/api/people/{id}/reduce", tag = "people", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn reduce_member(
    State(app): State<App>,
    Manager(person): Manager,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    if accounts::reduce(&app.pool, &person, id).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("person who left"))
    }
}

/// Makes a link by which somebody sets a new password.
#[utoipa::path(post, path = "/api/people/{id}/password", tag = "people", params(("id" = Uuid, Path)), responses((status = 201, body = LinkMade), (status = 404, body = Problem)))]
pub async fn password_link(
    State(app): State<App>,
    Manager(person): Manager,
    At(id): At<Uuid>,
) -> Result<(StatusCode, Json<LinkMade>), ApiError> {
    let (token, until) = (random_token(), OffsetDateTime::now_utc() + RESET);
    if accounts::invite_again(&app.pool, &person, id, &token, until).await? {
        Ok((StatusCode::CREATED, made(&token, until)))
    } else {
        Err(ApiError::NotFound("person who signs in"))
    }
}

/// Whose sessions.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct SessionsQuery {
    /// Of the whole workshop; for managers.
    #[serde(default)]
    all: bool,
}

/// Open sessions: one's own, or everybody's.
#[utoipa::path(get, path = "/api/sessions", tag = "people", params(SessionsQuery), responses((status = 200, body = Vec<SessionRow>)))]
pub async fn list_sessions(
    State(app): State<App>,
    Session { person, hash }: Session,
    Asked(asked): Asked<SessionsQuery>,
) -> Result<Json<Vec<SessionRow>>, ApiError> {
    if asked.all && !person.is(Role::Manager) {
        return Err(ApiError::WrongRole);
    }
    let whose = (!asked.all).then_some(person.id);
    Ok(Json(accounts::sessions(&app.pool, person.workshop_id, whose, &hash).await?))
}

/// Ends a session.
#[utoipa::path(delete, path = "/api/sessions/{id}", tag = "people", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn end_session(
    State(app): State<App>,
    Session { person, .. }: Session,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    if accounts::end_session(&app.pool, &person, id).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("session"))
    }
}

/// One's own name.
#[derive(Deserialize, ToSchema)]
pub struct NameForm {
    /// As it stands on records from now on.
    name: String,
}

/// Changes one's own name; records that are signed keep the one under which they were signed.
#[utoipa::path(put, path = "/api/me", tag = "people", request_body = NameForm, responses((status = 204), (status = 422, body = Problem)))]
pub async fn rename(
    State(app): State<App>,
    Session { person, .. }: Session,
    Body(form): Body<NameForm>,
) -> Result<StatusCode, ApiError> {
    accounts::rename(&app.pool, &person, &full_name(&form.name)?).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// A new password for oneself.
#[derive(Deserialize, ToSchema)]
pub struct PasswordForm {
    /// The one that is now.
    old: String,
    /// The new one.
    password: String,
}

/// Changes one's own password; every other session ends.
#[utoipa::path(put, path = "/api/me/password", tag = "people", request_body = PasswordForm, responses((status = 204), (status = 422, body = Problem), (status = 429, body = Problem)))]
pub async fn change_password(
    State(app): State<App>,
    Session { person, hash }: Session,
    Body(form): Body<PasswordForm>,
) -> Result<StatusCode, ApiError> {
    check_password(&form.password, &[&person.name, &person.workshop])?;
    signs(&app, &person, Some(&form.old)).await.map_err(|e| unchanged(e, "old"))?;
    let password_hash = hashed(&app, form.password).await?;
    accounts::set_password(&app.pool, None, &person, &password_hash, &hash).await?;
    Ok(StatusCode::NO_CONTENT)
}

ombret_core::refusals! {
    enum Refused {
        ShortPassword { length: usize, least: usize } = "short_password" at "password":
            text!("accounts-api-short-password", length, least);
        LongPassword { most: usize } = "long_password" at "password": text!("accounts-api-long-password", most);
        CommonPassword = "common_password" at "password": text!("accounts-api-common-password");
        NoName = "bad_text" at "name": text!("accounts-api-a-name-has-2-to");
        ASignInNameHas = "bad_text" at "sign_in": text!("accounts-api-a-sign-in-name-has");
        NoRole = "missing" at "roles": text!("accounts-api-everybody-has-a-role-at");
        ReaderOnly = "reader_only" at "roles": text!("accounts-api-reader-only");
        NoWorkshopName = "bad_text" at "workshop": text!("accounts-api-a-workshop-has-a-name");
        NoTimeZone = "bad_text" at "time_zone": text!("accounts-api-a-time-zone-is-written");
        Taken = "taken" at "sign_in": text!("accounts-api-somebody-signs-in-with-this");
        WorkshopNotNamed = "missing" at "workshop": text!("accounts-api-the-workshop-is-to-be");
        NoMail = "no_mail" at "email":
            text!("accounts-api-no-mail"),
            then text!("accounts-api-leave-the-address-empty");
        NotSent = "not_sent" at "email": text!("accounts-api-not-sent");
        LastManager = "last_manager" at "roles":
            text!("accounts-api-nobody-would-be-left-who"),
            then text!("accounts-api-make-somebody-else-a-manager");
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_password_is_long_and_not_one_of_the_first_that_are_tried() {
        for (password, code) in [
            ("short", Some("short_password")),
            ("password1234", Some("common_password")),
            ("123456789012", Some("common_password")),
            ("qwertyuiop[]", Some("common_password")),
            ("aaaaaaaaaaaaaaaa", Some("common_password")),
            ("ebba lund ebba", Some("common_password")),
            ("moss lantern ferry", None),
            ("ÆØÅ ßtille wände", None),
            ("xk2-99q-plo-e7", None),
        ] {
            let told = check_password(password, &["Ebba Lund", "ebba"]).err().map(|r| r.code);
            assert_eq!(told.as_deref(), code, "{password}");
        }
        assert!(check_password(&"moss lantern ".repeat(20), &[]).is_err());
    }

    #[test]
    fn a_reader_has_no_other_role_and_everybody_has_one() {
        assert!(some_roles(&[]).is_err() && some_roles(&[Role::Reader, Role::Manager]).is_err());
        assert!(some_roles(&[Role::Reader]).is_ok() && some_roles(&[Role::Reviewer, Role::Manager]).is_ok());
    }
}

//! Signing in and out. Passwords are argon2id, off the async threads; a session is a random token
//! of which the database holds only a keyed hash.

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode, header};
use axum_extra::extract::CookieJar;
use axum_extra::extract::cookie::{Cookie, SameSite};
use ombret_core::journal::hex_of_bytes;
use serde::Deserialize;
use serde_json::json;
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;

use super::app::App;
use super::body::Body;
use super::factors::right_code;
use super::guard::{Caller, SignedIn};
use super::limits::network;
use super::problem::{ApiError, Problem};
use super::secrets::{cookie_name, right_password, token_hash};
use crate::random_token;
use crate::store::audit::{self, AuditAct};
use crate::store::factors;
use crate::store::people::{self, Person};

/// Name of the cookie by which a browser is known in which somebody signed in before.
fn known_name(app: &App) -> &'static str {
    if app.settings.https() { "__Host-ombret_known" } else { "ombret_known" }
}

/// How long a browser is known.
const KNOWN: Duration = Duration::days(180);

/// Who signs in.
#[derive(Deserialize, ToSchema)]
pub struct Credentials {
    /// Sign-in name.
    sign_in: String,
    /// Password.
    password: String,
    /// Second factor, where the person has one: a code of now, or one for a lost device.
    #[serde(default)]
    code: Option<String>,
}

fn cookie(app: &App, name: &'static str, value: String, lasts: Duration) -> Cookie<'static> {
    Cookie::build((name, value))
        .http_only(true)
        .same_site(SameSite::Strict)
        .secure(app.settings.https())
        .path("/")
        .max_age(lasts)
        .build()
}

/// Signs in.
#[utoipa::path(post, path = "/api/session", tag = "session", request_body = Credentials,
    responses((status = 200, body = Person), (status = 401, body = Problem), (status = 429, body = Problem)))]
pub async fn sign_in(
    State(app): State<App>,
    Caller(from): Caller,
    headers: HeaderMap,
    jar: CookieJar,
    Body(asked): Body<Credentials>,
) -> Result<(CookieJar, Json<Person>), ApiError> {
    let name = asked.sign_in.trim().to_lowercase();
    if name.len() > 120 || asked.password.len() > 500 {
        return Err(ApiError::WrongCredentials);
    }
    // A browser in which this name signed in before is counted by itself: whoever tries the name
    // elsewhere cannot lock it out.
    let mark = known_mark(&app, &name)?;
    let known = jar.get(known_name(&app)).is_some_and(|c| c.value() == mark);
    if !app.sign_in_limits.allow(from, (!known).then_some(name.as_str())) {
        return Err(ApiError::SlowDown { seconds: 5 });
    }
    let tried = if known { format!("known:{name}") } else { format!("at:{}:{name}", network(from)) };
    if let Some(left) = people::reserve_try(&app.pool, &tried).await? {
        return Err(ApiError::SlowDown { seconds: left.whole_seconds() + 1 });
    }
    let found = people::credentials(&app.pool, &name).await?;
    let hash = found.as_ref().map(|f| f.password_hash.clone());
    let known_person = found.as_ref().map(|f| f.person.clone());
    let (Some(found), true) = (found, right_password(&app, asked.password, hash).await?) else {
        if let Some(person) = known_person {
            let detail = json!({"from": from.to_string()});
            audit::note(&app.pool, &person, AuditAct::SignInRefused, detail).await?;
        }
        return Err(ApiError::WrongCredentials);
    };
    if let Some(secret) = factors::of(&app.pool, found.person.id).await?.secret {
        let typed = asked.code.as_deref().map(str::trim).filter(|code| !code.is_empty());
        // What is right so far is not told to whoever goes on guessing: each try counts until all is right.
        let Some(typed) = typed else { return Err(ApiError::CodeNeeded) };
        if !right_code(&app, &found.person, &secret, typed).await? {
            let detail = json!({"from": from.to_string(), "code": true});
            audit::note(&app.pool, &found.person, AuditAct::SignInRefused, detail).await?;
            return Err(ApiError::WrongCode);
        }
    }
    people::forget_tries(&app.pool, &tried).await?;
    let lasts = Duration::hours(app.settings.session_h.into());
    let token = random_token();
    people::open_session(
        &app.pool,
        &token_hash(&app.settings.secret, &token)?,
        found.person.id,
        OffsetDateTime::now_utc() + lasts,
        &from.to_string(),
        &browser_of(&headers),
    )
    .await?;
    audit::note(&app.pool, &found.person, AuditAct::SignedIn, json!({"from": from.to_string()})).await?;
    // The session comes first: it is what a program that signs in looks for.
    let jar = jar.add(cookie(&app, cookie_name(&app), token, lasts)).add(cookie(
        &app,
        known_name(&app),
        mark,
        KNOWN,
    ));
    Ok((jar, Json(found.person)))
}

/// What a browser calls itself, cut to a length that is shown.
fn browser_of(headers: &HeaderMap) -> String {
    let told = headers.get(header::USER_AGENT).and_then(|v| v.to_str().ok()).unwrap_or_default();
    told.chars().filter(|c| !c.is_control()).take(160).collect()
}

/// By what a browser is known in which a name signed in.
fn known_mark(app: &App, name: &str) -> Result<String, ApiError> {
    let mark = token_hash(&app.settings.secret, &format!("known/{name}"))?;
    Ok(hex_of_bytes(&mark))
}

/// Signs out.
#[utoipa::path(delete, path = "/api/session", tag = "session", responses((status = 204)))]
pub async fn sign_out(State(app): State<App>, jar: CookieJar) -> Result<(CookieJar, StatusCode), ApiError> {
    if let Some(token) = jar.get(cookie_name(&app)) {
        let hash = token_hash(&app.settings.secret, token.value())?;
        let idle = Duration::hours(app.settings.session_idle_h.into());
        if let Some(person) = people::session(&app.pool, &hash, idle).await? {
            audit::note(&app.pool, &person, AuditAct::SignedOut, serde_json::Value::Null).await?;
        }
        people::close_session(&app.pool, &hash).await?;
    }
    Ok((jar.add(cookie(&app, cookie_name(&app), String::new(), Duration::ZERO)), StatusCode::NO_CONTENT))
}

/// Who is signed in.
#[utoipa::path(get, path = "/api/session", tag = "session", responses((status = 200, body = Person), (status = 401, body = Problem)))]
pub async fn who_am_i(SignedIn(person): SignedIn) -> Json<Person> {
    Json(person)
}

//! Signing in and out. Passwords are argon2id, off the async threads; a session is a random token
//! of which the database holds only a keyed hash.

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum_extra::extract::CookieJar;
use axum_extra::extract::cookie::{Cookie, SameSite};
use hmac::{Hmac, KeyInit, Mac};
use ombret_core::Refusal;
use rand::RngExt;
use serde::Deserialize;
use sha2::Sha256;
use std::sync::OnceLock;
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;

use super::body::Body;
use super::guard::SignedIn;
use super::{ApiError, App, Problem};
use crate::settings::Secret;
use crate::store::people::{self, Person};

/// Name of the session cookie.
pub const COOKIE: &str = "ombret_session";
/// How long a session lasts.
const LASTS: Duration = Duration::hours(14);

/// Who signs in.
#[derive(Deserialize, ToSchema)]
pub struct Credentials {
    /// Sign-in name.
    sign_in: String,
    /// Password.
    password: String,
}

/// The hash under which a token is stored.
pub fn token_hash(secret: &Secret, token: &str) -> Result<Vec<u8>, ApiError> {
    let mut mac =
        Hmac::<Sha256>::new_from_slice(secret.expose()).map_err(|e| ApiError::Internal(e.to_string()))?;
    mac.update(token.as_bytes());
    Ok(mac.finalize().into_bytes().to_vec())
}

/// argon2id of a password, in PHC form.
///
/// # Errors
/// Where hashing fails, which it does not for ordinary passwords.
pub fn hash_password(password: &str) -> Result<String, ApiError> {
    Argon2::default()
        .hash_password(password.as_bytes())
        .map(|h| h.to_string())
        .map_err(|e| ApiError::Internal(e.to_string()))
}

/// Checks a password, and takes as long where there is nobody of that name.
async fn right_password(password: String, hash: Option<String>) -> Result<bool, ApiError> {
    static NOBODY: OnceLock<String> = OnceLock::new();
    tokio::task::spawn_blocking(move || {
        let known = hash.is_some();
        let hash = match hash {
            Some(hash) => hash,
            None => match NOBODY.get() {
                Some(hash) => hash.clone(),
                None => NOBODY.get_or_init(|| hash_password("nobody").unwrap_or_default()).clone(),
            },
        };
        let parsed = PasswordHash::new(&hash).map_err(|e| ApiError::Internal(e.to_string()))?;
        Ok(Argon2::default().verify_password(password.as_bytes(), &parsed).is_ok() && known)
    })
    .await
    .map_err(|e| ApiError::Internal(e.to_string()))?
}

/// Whoever signs a record gives the password again: the page may have been left open.
///
/// # Errors
/// A refusal at `password`; too many wrong ones are slowed down as at signing in.
pub(super) async fn signs(app: &App, person: &Person, password: Option<&str>) -> Result<(), ApiError> {
    let wrong = |code: &str, message: &str| ApiError::from(Refusal::new(code, message).at("password"));
    let Some(password) = password.filter(|p| !p.is_empty()) else {
        return Err(wrong("password_needed", "your password signs the record"));
    };
    let (sign_in, hash) = people::own_credentials(&app.pool, person.id).await?.ok_or(ApiError::SignedOut)?;
    if let Some(left) = people::wait(&app.pool, &sign_in).await? {
        return Err(ApiError::SlowDown { seconds: left.whole_seconds() + 1 });
    }
    if password.len() > 500 || !right_password(password.to_owned(), Some(hash)).await? {
        people::count_failure(&app.pool, &sign_in).await?;
        return Err(wrong("wrong_password", "this is not your password; nothing was signed"));
    }
    people::forget_failures(&app.pool, &sign_in).await?;
    Ok(())
}

fn cookie(app: &App, token: String, lasts: Duration) -> Cookie<'static> {
    Cookie::build((COOKIE, token))
        .http_only(true)
        .same_site(SameSite::Strict)
        .secure(app.settings.secure_cookie)
        .path("/")
        .max_age(lasts)
        .build()
}

/// Signs in.
#[utoipa::path(post, path = "/api/session", tag = "session", request_body = Credentials,
    responses((status = 200, body = Person), (status = 401, body = Problem), (status = 429, body = Problem)))]
pub async fn sign_in(
    State(app): State<App>,
    jar: CookieJar,
    Body(asked): Body<Credentials>,
) -> Result<(CookieJar, Json<Person>), ApiError> {
    let name = asked.sign_in.trim().to_lowercase();
    if name.len() > 120 || asked.password.len() > 500 {
        return Err(ApiError::WrongCredentials);
    }
    if let Some(left) = people::wait(&app.pool, &name).await? {
        return Err(ApiError::SlowDown { seconds: left.whole_seconds() + 1 });
    }
    let found = people::credentials(&app.pool, &name).await?;
    let hash = found.as_ref().map(|f| f.password_hash.clone());
    let (Some(found), true) = (found, right_password(asked.password, hash).await?) else {
        people::count_failure(&app.pool, &name).await?;
        return Err(ApiError::WrongCredentials);
    };
    people::forget_failures(&app.pool, &name).await?;
    let token: String = (0..4).map(|_| format!("{:016x}", rand::rng().random::<u64>())).collect();
    people::open_session(
        &app.pool,
        &token_hash(&app.settings.secret, &token)?,
        found.person.id,
        OffsetDateTime::now_utc() + LASTS,
    )
    .await?;
    Ok((jar.add(cookie(&app, token, LASTS)), Json(found.person)))
}

/// Signs out.
#[utoipa::path(delete, path = "/api/session", tag = "session", responses((status = 204)))]
pub async fn sign_out(State(app): State<App>, jar: CookieJar) -> Result<(CookieJar, StatusCode), ApiError> {
    if let Some(token) = jar.get(COOKIE) {
        people::close_session(&app.pool, &token_hash(&app.settings.secret, token.value())?).await?;
    }
    Ok((jar.add(cookie(&app, String::new(), Duration::ZERO)), StatusCode::NO_CONTENT))
}

/// Who is signed in.
#[utoipa::path(get, path = "/api/session", tag = "session", responses((status = 200, body = Person), (status = 401, body = Problem)))]
pub async fn who_am_i(SignedIn(person): SignedIn) -> Json<Person> {
    Json(person)
}

//! Signing in and out. Passwords are argon2id, off the async threads; a session is a random token
//! of which the database holds only a keyed hash.

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};
use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode, header};
use axum_extra::extract::CookieJar;
use axum_extra::extract::cookie::{Cookie, SameSite};
use governor::{DefaultKeyedRateLimiter, Quota, RateLimiter};
use hmac::{Hmac, KeyInit, Mac};
use ombret_core::Refusal;
use ombret_core::job::hex_of_bytes;
use serde::Deserialize;
use serde_json::json;
use sha2::Sha256;
use std::net::{IpAddr, Ipv6Addr};
use std::num::NonZeroU32;
use std::sync::{Arc, OnceLock};
use time::{Duration, OffsetDateTime};
use tokio::sync::Semaphore;
use utoipa::ToSchema;

use super::body::Body;
use super::factors::right_code;
use super::guard::{Caller, SignedIn};
use super::{ApiError, App, Problem};
use crate::random_token;
use crate::settings::Secret;
use crate::store::audit::{self, AuditAct};
use crate::store::factors;
use crate::store::people::{self, Person};

/// Name of the session cookie. Over HTTPS it has the prefix that binds it to this host, this path and
/// encrypted connections. Source: RFC 6265bis, 4.1.3.2.
pub fn cookie_name(app: &App) -> &'static str {
    if app.settings.https() { "__Host-ombret_session" } else { "ombret_session" }
}

/// Name of the cookie by which a browser is known in which somebody signed in before.
fn known_name(app: &App) -> &'static str {
    if app.settings.https() { "__Host-ombret_known" } else { "ombret_known" }
}

/// How long a browser is known.
const KNOWN: Duration = Duration::days(180);
/// Passwords that are looked at, or wait to be, at a time.
const WAITING: usize = 64;

/// What keeps signing in from costing more than it should.
#[derive(Clone)]
pub struct SignInLimits {
    hashing: Arc<Semaphore>,
    waiting: Arc<Semaphore>,
    by_address: Arc<DefaultKeyedRateLimiter<IpAddr>>,
    by_name: Arc<DefaultKeyedRateLimiter<String>>,
}

impl Default for SignInLimits {
    /// At most four passwords are hashed at a time (19 MiB each); an address may try 60 times at once and
    /// once a second from then on, a name from unknown browsers 30 times at once and every two seconds.
    fn default() -> Self {
        let quota = |burst: u32, every: std::time::Duration| {
            Quota::with_period(every)
                .unwrap_or_else(|| Quota::per_second(NonZeroU32::MIN))
                .allow_burst(NonZeroU32::new(burst).unwrap_or(NonZeroU32::MIN))
        };
        Self {
            hashing: Arc::new(Semaphore::new(4)),
            waiting: Arc::new(Semaphore::new(WAITING)),
            by_address: Arc::new(RateLimiter::keyed(quota(60, std::time::Duration::from_secs(1)))),
            by_name: Arc::new(RateLimiter::keyed(quota(30, std::time::Duration::from_secs(2)))),
        }
    }
}

impl SignInLimits {
    /// Whether somebody from there may ask now, by name where a name is tried.
    pub(super) fn allow(&self, from: IpAddr, name: Option<&str>) -> bool {
        if self.by_address.len() > 10_000 {
            self.by_address.retain_recent();
        }
        if self.by_name.len() > 10_000 {
            self.by_name.retain_recent();
        }
        self.by_address.check_key(&network(from)).is_ok()
            && name.is_none_or(|name| self.by_name.check_key(&name.to_owned()).is_ok())
    }
}

/// Who is likely one and the same: an IPv4 address, an IPv6 network of 64 bits.
fn network(address: IpAddr) -> IpAddr {
    match address {
        IpAddr::V6(v6) => v6
            .to_ipv4_mapped()
            .map_or_else(|| IpAddr::V6(Ipv6Addr::from_bits(v6.to_bits() & (u128::MAX << 64))), IpAddr::V4),
        v4 => v4,
    }
}

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
pub(super) async fn right_password(
    app: &App,
    password: String,
    hash: Option<String>,
) -> Result<bool, ApiError> {
    static NOBODY: OnceLock<String> = OnceLock::new();
    let _waits = app.sign_in_limits.waiting.try_acquire().map_err(|_| ApiError::SlowDown { seconds: 2 })?;
    let _hashes =
        app.sign_in_limits.hashing.acquire().await.map_err(|e| ApiError::Internal(e.to_string()))?;
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
    let hash = people::own_hash(&app.pool, person.id).await?.ok_or(ApiError::SignedOut)?;
    let tried = format!("signs:{}", person.id);
    if let Some(left) = people::reserve_try(&app.pool, &tried).await? {
        return Err(ApiError::SlowDown { seconds: left.whole_seconds() + 1 });
    }
    if password.len() > 500 || !right_password(app, password.to_owned(), Some(hash)).await? {
        return Err(wrong("wrong_password", "this is not your password; nothing was signed"));
    }
    people::forget_tries(&app.pool, &tried).await?;
    Ok(())
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

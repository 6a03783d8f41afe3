//! What is secret: how passwords are hashed and tried, and how tokens are stored.

use std::sync::OnceLock;

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};
use hmac::{Hmac, KeyInit, Mac};
use ombret_core::{Refusal, text};
use sha2::Sha256;

use super::app::App;
use super::problem::ApiError;
use crate::settings::Secret;
use crate::store::people::{self, Person};

/// By what a token is known from anything else.
pub(super) const TOKEN: &str = "ombret_";

/// Name of the session cookie. Over HTTPS it has the prefix that binds it to this host, this path and
/// encrypted connections. Source: RFC 6265bis, 4.1.3.2.
pub fn cookie_name(app: &App) -> &'static str {
    if app.settings.https() { "__Host-ombret_session" } else { "ombret_session" }
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
    let Some(password) = password.filter(|p| !p.is_empty()) else {
        return Err(ApiError::from(Refusal::from(Refused::PasswordNeeded)));
    };
    let hash = people::own_hash(&app.pool, person.id).await?.ok_or(ApiError::SignedOut)?;
    let tried = format!("signs:{}", person.id);
    if let Some(left) = people::reserve_try(&app.pool, &tried).await? {
        return Err(ApiError::SlowDown { seconds: left.whole_seconds() + 1 });
    }
    if password.len() > 500 || !right_password(app, password.to_owned(), Some(hash)).await? {
        return Err(ApiError::from(Refusal::from(Refused::WrongPassword)));
    }
    people::forget_tries(&app.pool, &tried).await?;
    Ok(())
}

/// A password that was refused where nothing is signed: that nothing was changed is said instead, at this field.
pub(super) fn unchanged(error: ApiError, field: &str) -> ApiError {
    match error {
        ApiError::Refused(refusal) => Refusal {
            message: text!("secrets-api-nothing-was-changed"),
            field: Some(field.to_owned()),
            ..refusal
        }
        .into(),
        other => other,
    }
}

ombret_core::refusals! {
    enum Refused {
        PasswordNeeded = "password_needed" at "password": text!("secrets-api-password-needed");
        WrongPassword = "wrong_password" at "password": text!("secrets-api-wrong-password");
    }
}

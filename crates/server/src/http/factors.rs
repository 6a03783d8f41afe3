//! One's own second factor by time (RFC 6238), codes for a lost device, and tokens for programs.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use ombret_core::Refusal;
use ombret_paper::qr_svg;
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use totp_rs::{Algorithm, Builder, Secret, Totp};
use utoipa::ToSchema;
use uuid::Uuid;

use super::app::App;
use super::body::{At, Body};
use super::guard::{Manager, Session};
use super::problem::{ApiError, Problem};
use super::secrets::{TOKEN, signs, unchanged};
use crate::random_token;
use crate::store::factors::{self, TokenRow};
use crate::store::people::Person;
use ombret_core::text;

/// Seconds of a step, digits of a code, steps that a clock may be off. Source: RFC 6238, 5.2.
const STEP_S: u64 = 30;
const DIGITS: u8 = 6;
const OFF: u16 = 1;
/// Codes for a lost device.
const CODES: usize = 10;
/// Most tokens of one person, and how long one opens.
const MOST_TOKENS: i64 = 20;
const MOST_DAYS: i64 = 400;

/// A secret of 160 bits in Base32.
fn new_secret() -> String {
    Secret::from(rand::random::<[u8; 20]>().to_vec()).to_base32()
}

/// A code for a lost device, as `abcd-efgh-jkmn`: 60 bits of letters that are not taken for others.
fn new_code() -> String {
    const PLAIN: &[u8; 32] = b"abcdefghjkmnpqrstuvwxyz023456789";
    let letters: Vec<char> =
        rand::random::<[u8; 12]>().iter().map(|byte| char::from(PLAIN[usize::from(byte & 31)])).collect();
    letters.chunks(4).map(|four| four.iter().collect::<String>()).collect::<Vec<_>>().join("-")
}

fn totp(secret: &str, person: &Person) -> Result<Totp, ApiError> {
    let internal = |e: &dyn std::fmt::Debug| ApiError::Internal(format!("{e:?}"));
    // A colon parts the name of the issuer from that of the account.
    let plain = |text: &str| text.replace(':', " ");
    Builder::new()
        .with_algorithm(Algorithm::SHA1)
        .with_digits(DIGITS)
        .with_skew(OFF)
        .with_step_duration(STEP_S)
        .with_secret(Secret::try_from_base32(secret).map_err(|e| internal(&e))?)
        .with_issuer(Some(format!("Ombret {}", plain(&person.workshop))))
        .with_account_name(plain(&person.name))
        .build()
        .map_err(|e| internal(&e))
}

/// The step of time whose code this is, near now; none where it is none of them.
fn step_of(totp: &Totp, code: &str, now: OffsetDateTime) -> Option<i64> {
    let step = totp.check(code, u64::try_from(now.unix_timestamp()).ok()?)?;
    i64::try_from(step).ok()
}

/// Whether what was typed is the second factor: a code of now that was not used, or one for a lost device.
pub(super) async fn right_code(
    app: &App,
    person: &Person,
    secret: &str,
    typed: &str,
) -> Result<bool, ApiError> {
    let plain: String = typed.chars().filter(|c| !c.is_whitespace()).collect::<String>().to_lowercase();
    if plain.len() == usize::from(DIGITS) && plain.bytes().all(|b| b.is_ascii_digit()) {
        let Some(step) = step_of(&totp(secret, person)?, &plain, OffsetDateTime::now_utc()) else {
            return Ok(false);
        };
        return Ok(factors::use_step(&app.pool, person.id, step).await?);
    }
    Ok(plain.len() <= 40 && factors::use_code(&app.pool, person, &plain).await?)
}

/// How one's second factor stands.
#[derive(Serialize, ToSchema)]
pub struct FactorReply {
    /// There is one.
    on: bool,
    /// Codes for a lost device that are left.
    codes_left: i64,
}

/// How one's second factor stands.
#[utoipa::path(get, path = "/api/me/second-factor", tag = "people", responses((status = 200, body = FactorReply)))]
pub async fn get_factor(
    State(app): State<App>,
    Session { person, .. }: Session,
) -> Result<Json<FactorReply>, ApiError> {
    let factor = factors::of(&app.pool, person.id).await?;
    Ok(Json(FactorReply { on: factor.secret.is_some(), codes_left: factor.codes_left }))
}

/// What an authenticator needs, told once.
#[derive(Serialize, ToSchema)]
pub struct FactorBegun {
    /// The secret, for typing.
    secret: String,
    /// The same for a camera, as SVG.
    #[schema(required)]
    qr: Option<String>,
}

/// The password, once more.
#[derive(Deserialize, ToSchema)]
pub struct AgainForm {
    /// The password.
    password: String,
}

/// Begins a second factor; it counts when a code of it is given.
#[utoipa::path(post, path = "/api/me/second-factor", tag = "people", request_body = AgainForm, responses((status = 200, body = FactorBegun), (status = 422, body = Problem), (status = 429, body = Problem)))]
pub async fn begin_factor(
    State(app): State<App>,
    Session { person, .. }: Session,
    Body(form): Body<AgainForm>,
) -> Result<Json<FactorBegun>, ApiError> {
    signs(&app, &person, Some(&form.password)).await.map_err(|e| unchanged(e, "password"))?;
    let secret = new_secret();
    let address = totp(&secret, &person)?.to_url().map_err(|e| ApiError::Internal(e.to_string()))?;
    let qr = qr_svg(&address);
    factors::begin(&app.pool, person.id, &secret).await?;
    Ok(Json(FactorBegun { secret, qr }))
}

/// A code of the authenticator.
#[derive(Deserialize, ToSchema)]
pub struct CodeForm {
    /// Six digits.
    code: String,
}

/// Codes for a lost device, told once.
#[derive(Serialize, ToSchema)]
pub struct CodesReply {
    /// Each works once.
    codes: Vec<String>,
}

/// Confirms the second factor that was begun.
#[utoipa::path(put, path = "/api/me/second-factor", tag = "people", request_body = CodeForm, responses((status = 200, body = CodesReply), (status = 422, body = Problem)))]
pub async fn confirm_factor(
    State(app): State<App>,
    Session { person, .. }: Session,
    Body(form): Body<CodeForm>,
) -> Result<Json<CodesReply>, ApiError> {
    let begun = factors::of(&app.pool, person.id).await?;
    let secret = begun.pending.ok_or_else(|| ApiError::from(Refusal::from(Refused::BeginItFirst)))?;
    let typed: String = form.code.chars().filter(|c| !c.is_whitespace()).collect();
    let step = step_of(&totp(&secret, &person)?, &typed, OffsetDateTime::now_utc())
        .ok_or_else(|| ApiError::from(Refusal::from(Refused::NotTheCode)))?;
    let codes: Vec<String> = (0..CODES).map(|_| new_code()).collect();
    if factors::confirm(&app.pool, &person, &secret, step, &codes).await? {
        Ok(Json(CodesReply { codes }))
    } else {
        Err(ApiError::from(Refusal::from(Refused::BegunAnew)))
    }
}

/// Takes one's second factor away.
#[utoipa::path(delete, path = "/api/me/second-factor", tag = "people", request_body = AgainForm, responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn end_factor(
    State(app): State<App>,
    Session { person, .. }: Session,
    Body(form): Body<AgainForm>,
) -> Result<StatusCode, ApiError> {
    signs(&app, &person, Some(&form.password)).await.map_err(|e| unchanged(e, "password"))?;
    if factors::take_away(&app.pool, &person, person.id).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("second factor"))
    }
}

/// Takes the second factor of somebody away who lost the device.
#[utoipa::path(delete, path = "/api/people/{id}/second-factor", tag = "people", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn end_factor_of(
    State(app): State<App>,
    Manager(person): Manager,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    if factors::take_away(&app.pool, &person, id).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("second factor"))
    }
}

/// Tokens of one's own.
#[utoipa::path(get, path = "/api/me/tokens", tag = "people", responses((status = 200, body = Vec<TokenRow>)))]
pub async fn list_tokens(
    State(app): State<App>,
    Session { person, .. }: Session,
) -> Result<Json<Vec<TokenRow>>, ApiError> {
    Ok(Json(factors::tokens(&app.pool, person.id).await?))
}

/// A token to make.
#[derive(Deserialize, ToSchema)]
pub struct TokenForm {
    /// What it is for.
    name: String,
    /// It works on scales; else it reads.
    #[serde(default)]
    works: bool,
    /// Days until it ends.
    days: u16,
    /// The password.
    password: String,
}

/// A token, told once.
#[derive(Serialize, ToSchema)]
pub struct TokenMade {
    /// To be sent as `Authorization: Bearer …`.
    token: String,
}

/// Makes a token for a program.
#[utoipa::path(post, path = "/api/me/tokens", tag = "people", request_body = TokenForm, responses((status = 201, body = TokenMade), (status = 422, body = Problem), (status = 429, body = Problem)))]
pub async fn make_token(
    State(app): State<App>,
    Session { person, .. }: Session,
    Body(form): Body<TokenForm>,
) -> Result<(StatusCode, Json<TokenMade>), ApiError> {
    let name = form.name.trim().to_owned();
    if name.is_empty() || name.chars().count() > 60 || name.chars().any(char::is_control) {
        return Err(Refusal::from(Refused::BadText).into());
    }
    let days = i64::from(form.days);
    if !(1..=MOST_DAYS).contains(&days) {
        return Err(Refusal::from(Refused::OutOfRange { most_days: MOST_DAYS }).into());
    }
    signs(&app, &person, Some(&form.password)).await.map_err(|e| unchanged(e, "password"))?;
    let now = OffsetDateTime::now_utc();
    let row = TokenRow {
        id: Uuid::now_v7(),
        name,
        works: form.works,
        made_at: now,
        expires_at: now + Duration::days(days),
        used_at: None,
    };
    let token = format!("{TOKEN}{}", random_token());
    if factors::make_token(&app.pool, &person, &row, &token, MOST_TOKENS).await? {
        Ok((StatusCode::CREATED, Json(TokenMade { token })))
    } else {
        Err(Refusal::from(Refused::TooMany { most_tokens: MOST_TOKENS }).into())
    }
}

/// Ends a token of one's own.
#[utoipa::path(delete, path = "/api/me/tokens/{id}", tag = "people", params(("id" = Uuid, Path)), responses((status = 204), (status = 404, body = Problem)))]
pub async fn end_token(
    State(app): State<App>,
    Session { person, .. }: Session,
    At(id): At<Uuid>,
) -> Result<StatusCode, ApiError> {
    if factors::end_token(&app.pool, &person, id).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(ApiError::NotFound("token"))
    }
}

ombret_core::refusals! {
    enum Refused {
        BeginItFirst = "wrong_code" at "code": text!("factors-api-begin-it-first");
        NotTheCode = "wrong_code" at "code": text!("factors-api-not-the-code");
        BegunAnew = "wrong_code" at "code": text!("factors-api-begun-anew");
        BadText = "bad_text" at "name": text!("factors-api-say-in-1-to-60");
        OutOfRange { most_days: i64 } = "out_of_range" at "days":
            text!("factors-api-a-token-opens-for-1", most_days);
        TooMany { most_tokens: i64 } = "too_many": text!("factors-api-nobody-has-more-than-most", most_tokens);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The secret of RFC 6238, appendix B, "12345678901234567890", in Base32.
    const KNOWN: &str = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ";

    fn person() -> Person {
        Person {
            id: Uuid::nil(),
            workshop_id: Uuid::nil(),
            workshop: "Fell: Road".into(),
            name: "Ebba Lund".into(),
            roles: Vec::new(),
        }
    }

    #[test]
    fn codes_are_those_of_the_standard() {
        let totp = totp(KNOWN, &person()).unwrap();
        // The last six of the eight digits of appendix B.
        for (at, code) in [(59, "287082"), (1_111_111_109, "081804"), (20_000_000_000, "353130")] {
            let now = OffsetDateTime::from_unix_timestamp(at).unwrap();
            assert_eq!(step_of(&totp, code, now), Some(at / 30));
            assert_eq!(
                step_of(&totp, code, now + Duration::seconds(30)),
                Some(at / 30),
                "a clock may be off"
            );
            assert_eq!(step_of(&totp, code, now + Duration::seconds(90)), None);
        }
    }

    #[test]
    fn what_is_made_up_differs_and_can_be_read() {
        let (one, other) = (new_secret(), new_secret());
        assert!(one != other && totp(&one, &person()).is_ok());
        assert!(new_code() != new_code() && new_code().len() == 14);
    }
}

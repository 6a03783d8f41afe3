//! The second factor of a person, codes for a lost device, and tokens for programs.

use serde::Serialize;
use serde_json::json;
use sqlx::PgPool;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;
use super::audit::{self, AuditAct};
use super::people::{Person, Role};
use crate::sha256_hex;

/// The second factor of a person.
#[derive(Clone, Debug, Default)]
pub struct Factor {
    /// Its secret, in Base32; none: there is none.
    pub secret: Option<String>,
    /// One that was begun and is not confirmed.
    pub pending: Option<String>,
    /// The last step of time whose code was used.
    pub step: i64,
    /// Codes for a lost device that are left.
    pub codes_left: i64,
}

/// The second factor of a person.
pub async fn of(pool: &PgPool, person: Uuid) -> Result<Factor, StoreError> {
    let row = sqlx::query!(
        r#"select totp, totp_pending, totp_step, (select count(*) from recovery_code c where c.person_id = p.id) as "codes!" from person p where id = $1"#,
        person
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map_or_else(Factor::default, |r| Factor {
        secret: r.totp,
        pending: r.totp_pending,
        step: r.totp_step,
        codes_left: r.codes,
    }))
}

/// Begins one: it counts when it is confirmed.
pub async fn begin(pool: &PgPool, person: Uuid, secret: &str) -> Result<(), StoreError> {
    sqlx::query!("update person set totp_pending = $2 where id = $1", person, secret).execute(pool).await?;
    Ok(())
}

/// Confirms the one that was begun, with new codes for a lost device; false where it was begun anew meanwhile.
pub async fn confirm(
    pool: &PgPool,
    person: &Person,
    secret: &str,
    step: i64,
    codes: &[String],
) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let done = sqlx::query!(
        "update person set totp = totp_pending, totp_pending = null, totp_step = $3 where id = $1 and totp_pending = $2",
        person.id,
        secret,
        step
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() == 0 {
        return Ok(false);
    }
    sqlx::query!("delete from recovery_code where person_id = $1", person.id).execute(&mut *tx).await?;
    let hashes: Vec<String> = codes.iter().map(|code| sha256_hex(code.as_bytes())).collect();
    sqlx::query!(
        "insert into recovery_code (person_id, code_hash) select $1, * from unnest($2::text[])",
        person.id,
        &hashes
    )
    .execute(&mut *tx)
    .await?;
    audit::add(&mut tx, person, AuditAct::SecondFactorOn, serde_json::Value::Null).await?;
    tx.commit().await?;
    Ok(true)
}

/// Uses a step of time, once; false where it, or a later one, was used already. Source: RFC 6238, 5.2.
pub async fn use_step(pool: &PgPool, person: Uuid, step: i64) -> Result<bool, StoreError> {
    let done =
        sqlx::query!("update person set totp_step = $2 where id = $1 and totp_step < $2", person, step)
            .execute(pool)
            .await?;
    Ok(done.rows_affected() == 1)
}

/// Uses a code for a lost device, once; false where there is no such code.
pub async fn use_code(pool: &PgPool, person: &Person, code: &str) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let done = sqlx::query!(
        "delete from recovery_code where person_id = $1 and code_hash = $2",
        person.id,
        sha256_hex(code.as_bytes())
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() == 0 {
        return Ok(false);
    }
    audit::add(&mut tx, person, AuditAct::RecoveryCodeUsed, serde_json::Value::Null).await?;
    tx.commit().await?;
    Ok(true)
}

/// Takes the second factor of a person away: by themselves, or by a manager of the workshop. False where the
/// workshop has no such person, or the person none.
pub async fn take_away(pool: &PgPool, by: &Person, person: Uuid) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let name = sqlx::query_scalar!(
        "update person set totp = null, totp_pending = null, totp_step = 0 where id = $1 and workshop_id = $2 and totp is not null returning name",
        person,
        by.workshop_id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(name) = name else { return Ok(false) };
    sqlx::query!("delete from recovery_code where person_id = $1", person).execute(&mut *tx).await?;
    audit::add(&mut tx, by, AuditAct::SecondFactorOff, json!({"person": name})).await?;
    tx.commit().await?;
    Ok(true)
}

/// A token of a person's own.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct TokenRow {
    /// Identity.
    pub id: Uuid,
    /// What it is for.
    pub name: String,
    /// It works on scales; else it reads.
    pub works: bool,
    /// When it was made.
    #[serde(with = "time::serde::rfc3339")]
    pub made_at: OffsetDateTime,
    /// Until when it opens.
    #[serde(with = "time::serde::rfc3339")]
    pub expires_at: OffsetDateTime,
    /// When it was used last.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(required)]
    pub used_at: Option<OffsetDateTime>,
}

/// Tokens of a person.
pub async fn tokens(pool: &PgPool, person: Uuid) -> Result<Vec<TokenRow>, StoreError> {
    Ok(sqlx::query_as!(
        TokenRow,
        "select id, name, works, made_at, expires_at, used_at from api_token where person_id = $1 and expires_at > now() order by made_at desc",
        person
    )
    .fetch_all(pool)
    .await?)
}

/// Makes a token; what opens is kept as a hash. False where there are as many as one person may have.
pub async fn make_token(
    pool: &PgPool,
    person: &Person,
    row: &TokenRow,
    token: &str,
    most: i64,
) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!("delete from api_token where expires_at < now()").execute(&mut *tx).await?;
    sqlx::query!("select id from person where id = $1 for update", person.id).fetch_one(&mut *tx).await?;
    let made = sqlx::query!(
        "insert into api_token (id, person_id, name, token_hash, works, expires_at) select $1, $2, $3, $4, $5, $6 where (select count(*) from api_token where person_id = $2) < $7",
        row.id,
        person.id,
        row.name,
        sha256_hex(token.as_bytes()),
        row.works,
        row.expires_at,
        most
    )
    .execute(&mut *tx)
    .await?;
    if made.rows_affected() == 0 {
        return Ok(false);
    }
    audit::add(&mut tx, person, AuditAct::TokenMade, json!({"name": row.name, "works": row.works})).await?;
    tx.commit().await?;
    Ok(true)
}

/// Ends a token of one's own; false where there is none.
pub async fn end_token(pool: &PgPool, person: &Person, id: Uuid) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let name = sqlx::query_scalar!(
        "delete from api_token where id = $1 and person_id = $2 returning name",
        id,
        person.id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(name) = name else { return Ok(false) };
    audit::add(&mut tx, person, AuditAct::TokenEnded, json!({"name": name})).await?;
    tx.commit().await?;
    Ok(true)
}

/// Whose token it is. A program that reads is a reader, whatever its person is; one that works does what a
/// technician does, where its person is one. It never approves and never manages.
pub async fn by_token(pool: &PgPool, token: &str) -> Result<Option<Person>, StoreError> {
    let hash = sha256_hex(token.as_bytes());
    let row = sqlx::query!(
        r#"select p.id, p.workshop_id, w.name as workshop, p.name, p.roles, t.works, coalesce(t.used_at < now() - interval '1 minute', true) as "stale!"
           from api_token t join person p on p.id = t.person_id join workshop w on w.id = p.workshop_id
           where t.token_hash = $1 and t.expires_at > now() and p.active"#,
        hash
    )
    .fetch_optional(pool)
    .await?;
    let Some(r) = row else { return Ok(None) };
    if r.stale {
        sqlx::query!("update api_token set used_at = now() where token_hash = $1", hash)
            .execute(pool)
            .await?;
    }
    let works = r.works && Role::all_of(&r.roles)?.contains(&Role::Technician);
    Ok(Some(Person {
        id: r.id,
        workshop_id: r.workshop_id,
        workshop: r.workshop,
        name: r.name,
        roles: vec![if works { Role::Technician } else { Role::Reader }],
    }))
}

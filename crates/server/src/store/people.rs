//! People, their sessions, and how often a sign-in failed.

use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;
use crate::http::{JudgementRules, PaperRules};

/// What a person may do.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, sqlx::Type, ToSchema)]
#[sqlx(type_name = "role", rename_all = "snake_case")]
#[serde(rename_all = "snake_case")]
pub enum Role {
    /// Works on scales.
    Technician,
    /// Reads and approves.
    Reviewer,
}

/// A person.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Person {
    /// Identity.
    pub id: Uuid,
    /// The workshop.
    pub workshop_id: Uuid,
    /// Its name.
    pub workshop: String,
    /// Name.
    pub name: String,
    /// Role.
    pub role: Role,
}

/// A person with the hash of the password.
pub struct Credentials {
    /// The person.
    pub person: Person,
    /// argon2id, in PHC form.
    pub password_hash: String,
}

/// Looks up who signs in.
pub async fn credentials(pool: &PgPool, sign_in: &str) -> Result<Option<Credentials>, StoreError> {
    let row = sqlx::query!(
        r#"select p.id, p.workshop_id, w.name as workshop, p.name, p.role as "role: Role", p.password_hash
           from person p join workshop w on w.id = p.workshop_id where p.sign_in = $1"#,
        sign_in
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|r| Credentials {
        person: Person {
            id: r.id,
            workshop_id: r.workshop_id,
            workshop: r.workshop,
            name: r.name,
            role: r.role,
        },
        password_hash: r.password_hash,
    }))
}

/// The sign-in name and password hash of a person, for a signature.
pub async fn own_credentials(pool: &PgPool, person: Uuid) -> Result<Option<(String, String)>, StoreError> {
    let row = sqlx::query!("select sign_in, password_hash from person where id = $1", person)
        .fetch_optional(pool)
        .await?;
    Ok(row.map(|r| (r.sign_in, r.password_hash)))
}

/// Opens a session and clears away those that have ended.
pub async fn open_session(
    pool: &PgPool,
    token_hash: &[u8],
    person: Uuid,
    expires: OffsetDateTime,
) -> Result<(), StoreError> {
    sqlx::query!("delete from session where expires_at < now()").execute(pool).await?;
    sqlx::query!(
        "insert into session (token_hash, person_id, expires_at) values ($1, $2, $3)",
        token_hash,
        person,
        expires
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Whose session it is, if it is one.
pub async fn session(pool: &PgPool, token_hash: &[u8]) -> Result<Option<Person>, StoreError> {
    let row = sqlx::query!(
        r#"select p.id, p.workshop_id, w.name as workshop, p.name, p.role as "role: Role"
           from session s join person p on p.id = s.person_id join workshop w on w.id = p.workshop_id
           where s.token_hash = $1 and s.expires_at > now()"#,
        token_hash
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|r| Person {
        id: r.id,
        workshop_id: r.workshop_id,
        workshop: r.workshop,
        name: r.name,
        role: r.role,
    }))
}

/// Ends a session.
pub async fn close_session(pool: &PgPool, token_hash: &[u8]) -> Result<(), StoreError> {
    sqlx::query!("delete from session where token_hash = $1", token_hash).execute(pool).await?;
    Ok(())
}

/// How long this name still has to wait.
pub async fn wait(pool: &PgPool, sign_in: &str) -> Result<Option<Duration>, StoreError> {
    let row = sqlx::query!(
        r#"select wait_until, now() as "now!" from sign_in_failure where sign_in = $1"#,
        sign_in
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|r| r.wait_until - r.now).filter(|left| left.is_positive()))
}

/// Failures that cost nothing yet.
const FREE_FAILURES: i32 = 3;
/// Longest wait, in seconds.
const LONGEST_WAIT_S: f64 = 300.0;

/// Counts a failure; from the fourth on the wait doubles, from two seconds to five minutes.
pub async fn count_failure(pool: &PgPool, sign_in: &str) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into sign_in_failure (sign_in, failures, wait_until) values ($1, 1, now())
         on conflict (sign_in) do update set failures = sign_in_failure.failures + 1,
         wait_until = case when sign_in_failure.failures < $2 then now()
             else now() + make_interval(secs => least($3::float8, 2.0::float8 ^ least(sign_in_failure.failures - $2 + 1, 12))) end",
        sign_in,
        FREE_FAILURES,
        LONGEST_WAIT_S
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Forgets failures after a good sign-in.
pub async fn forget_failures(pool: &PgPool, sign_in: &str) -> Result<(), StoreError> {
    sqlx::query!("delete from sign_in_failure where sign_in = $1", sign_in).execute(pool).await?;
    Ok(())
}

/// Adds a workshop.
pub async fn add_workshop(pool: &PgPool, id: Uuid, name: &str) -> Result<(), StoreError> {
    sqlx::query!("insert into workshop (id, name) values ($1, $2)", id, name).execute(pool).await?;
    Ok(())
}

/// Adds a person.
pub async fn add_person(
    pool: &PgPool,
    person: &Person,
    sign_in: &str,
    password_hash: &str,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into person (id, workshop_id, sign_in, name, role, password_hash) values ($1, $2, $3, $4, $5, $6)",
        person.id,
        person.workshop_id,
        sign_in,
        person.name,
        person.role as Role,
        password_hash
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// True where there is nobody yet.
pub async fn is_empty(pool: &PgPool) -> Result<bool, StoreError> {
    let row = sqlx::query!(r#"select not exists (select 1 from person) as "empty!""#).fetch_one(pool).await?;
    Ok(row.empty)
}

/// How a workshop judges.
pub async fn judgement(pool: &PgPool, workshop: Uuid) -> Result<JudgementRules, StoreError> {
    let row = sqlx::query!("select priors, leave_inside from workshop where id = $1", workshop)
        .fetch_one(pool)
        .await?;
    Ok(JudgementRules { priors: serde_json::from_value(row.priors)?, leave_inside: row.leave_inside })
}

/// Changes how a workshop judges.
pub async fn set_judgement(pool: &PgPool, workshop: Uuid, rules: &JudgementRules) -> Result<(), StoreError> {
    sqlx::query!(
        "update workshop set priors = $2, leave_inside = $3 where id = $1",
        workshop,
        serde_json::to_value(&rules.priors)?,
        rules.leave_inside
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// What a workshop puts on paper.
pub async fn paper(pool: &PgPool, workshop: Uuid) -> Result<PaperRules, StoreError> {
    let row =
        sqlx::query!("select paper, review from workshop where id = $1", workshop).fetch_one(pool).await?;
    Ok(PaperRules { letterhead: serde_json::from_value(row.paper)?, review: row.review })
}

/// Changes it.
pub async fn set_paper(pool: &PgPool, workshop: Uuid, rules: &PaperRules) -> Result<(), StoreError> {
    sqlx::query!(
        "update workshop set paper = $2, review = $3 where id = $1",
        workshop,
        serde_json::to_value(&rules.letterhead)?,
        rules.review
    )
    .execute(pool)
    .await?;
    Ok(())
}

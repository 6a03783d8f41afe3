//! People, their sessions, and how often a sign-in failed.

use serde_json::json;
use sqlx::{PgPool, Postgres, Transaction};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

pub use super::person::{Person, Role};
use super::{StoreError, audit};
use crate::rules::{JudgementRules, PaperRules};

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
        r#"select p.id, p.workshop_id, w.name as workshop, p.name, p.roles, p.password_hash
           from person p join workshop w on w.id = p.workshop_id where p.sign_in = $1 and p.active"#,
        sign_in
    )
    .fetch_optional(pool)
    .await?;
    row.map(|r| {
        Ok(Credentials {
            person: Person {
                id: r.id,
                workshop_id: r.workshop_id,
                workshop: r.workshop,
                name: r.name,
                roles: Role::all_of(&r.roles)?,
            },
            password_hash: r.password_hash,
        })
    })
    .transpose()
}

/// The password hash of a person, for a signature.
pub async fn own_hash(pool: &PgPool, person: Uuid) -> Result<Option<String>, StoreError> {
    Ok(sqlx::query_scalar!("select password_hash from person where id = $1", person)
        .fetch_optional(pool)
        .await?)
}

/// Opens a session and clears away those that have ended, and tries of yesterday.
pub async fn open_session(
    pool: &PgPool,
    token_hash: &[u8],
    person: Uuid,
    expires: OffsetDateTime,
    from: &str,
    browser: &str,
) -> Result<(), StoreError> {
    sqlx::query!("delete from session where expires_at < now()").execute(pool).await?;
    sqlx::query!("delete from sign_in_failure where last_at < now() - interval '1 day'")
        .execute(pool)
        .await?;
    sqlx::query!(
        "insert into session (token_hash, person_id, expires_at, from_address, browser) values ($1, $2, $3, $4, $5)",
        token_hash,
        person,
        expires,
        from,
        browser
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Whose session it is, if it is one that has not been idle for longer than `idle`.
pub async fn session(pool: &PgPool, token_hash: &[u8], idle: Duration) -> Result<Option<Person>, StoreError> {
    let row = sqlx::query!(
        r#"select p.id, p.workshop_id, w.name as workshop, p.name, p.roles, s.seen_at < now() - interval '1 minute' as "stale!"
           from session s join person p on p.id = s.person_id join workshop w on w.id = p.workshop_id
           where s.token_hash = $1 and p.active and s.expires_at > now() and s.seen_at > now() - make_interval(secs => $2)"#,
        token_hash,
        idle.as_seconds_f64()
    )
    .fetch_optional(pool)
    .await?;
    let Some(r) = row else { return Ok(None) };
    // Once a minute is enough to tell an hour of silence.
    if r.stale {
        sqlx::query!("update session set seen_at = now() where token_hash = $1", token_hash)
            .execute(pool)
            .await?;
    }
    Ok(Some(Person {
        id: r.id,
        workshop_id: r.workshop_id,
        workshop: r.workshop,
        name: r.name,
        roles: Role::all_of(&r.roles)?,
    }))
}

/// Whether a session is still one; asking does not keep it open.
pub async fn still_open(pool: &PgPool, token_hash: &[u8], idle: Duration) -> Result<bool, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"select exists (select 1 from session where token_hash = $1 and expires_at > now() and seen_at > now() - make_interval(secs => $2)) as "open!""#,
        token_hash,
        idle.as_seconds_f64()
    )
    .fetch_one(pool)
    .await?)
}

/// Ends a session.
pub async fn close_session(pool: &PgPool, token_hash: &[u8]) -> Result<(), StoreError> {
    sqlx::query!("delete from session where token_hash = $1", token_hash).execute(pool).await?;
    Ok(())
}

/// Failures that cost nothing yet.
const FREE_FAILURES: i32 = 3;
/// Longest wait, in seconds.
const LONGEST_WAIT_S: f64 = 300.0;

/// Counts a try before the password is looked at, so that many at once are not looked at before the first
/// of them has failed. From the fourth on the wait doubles, from two seconds to five minutes; a try while
/// one has to wait is not looked at: how long is left.
pub async fn reserve_try(pool: &PgPool, tried: &str) -> Result<Option<Duration>, StoreError> {
    let reserved = sqlx::query!(
        "insert into sign_in_failure as f (tried, failures, wait_until) values ($1, 1, now())
         on conflict (tried) do update set failures = f.failures + 1, last_at = now(),
         wait_until = case when f.failures < $2 then now()
             else now() + make_interval(secs => least($3::float8, 2.0::float8 ^ least(f.failures - $2 + 1, 12))) end
         where f.wait_until <= now() returning f.failures",
        tried,
        FREE_FAILURES,
        LONGEST_WAIT_S
    )
    .fetch_optional(pool)
    .await?;
    if reserved.is_some() {
        return Ok(None);
    }
    let left = sqlx::query_scalar!(
        r#"select extract(epoch from wait_until - now())::float8 as "left!" from sign_in_failure where tried = $1"#,
        tried
    )
    .fetch_optional(pool)
    .await?;
    Ok(Some(Duration::seconds_f64(left.unwrap_or(1.0).max(0.0))))
}

/// Forgets tries after a good one.
pub async fn forget_tries(pool: &PgPool, tried: &str) -> Result<(), StoreError> {
    sqlx::query!("delete from sign_in_failure where tried = $1", tried).execute(pool).await?;
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
    let mut tx = pool.begin().await?;
    add_within(&mut tx, person, sign_in, password_hash).await?;
    Ok(tx.commit().await?)
}

/// The same within a transaction.
pub(super) async fn add_within(
    tx: &mut Transaction<'static, Postgres>,
    person: &Person,
    sign_in: &str,
    password_hash: &str,
) -> Result<(), StoreError> {
    let roles: Vec<String> = person.roles.iter().map(|role| role.text().to_owned()).collect();
    sqlx::query!(
        "insert into person (id, workshop_id, sign_in, name, roles, password_hash) values ($1, $2, $3, $4, $5, $6)",
        person.id,
        person.workshop_id,
        sign_in,
        person.name,
        &roles,
        password_hash
    )
    .execute(&mut **tx)
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

/// Changes how a workshop judges; it stands in the audit trail.
pub async fn set_judgement(pool: &PgPool, by: &Person, rules: &JudgementRules) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!(
        "update workshop set priors = $2, leave_inside = $3 where id = $1",
        by.workshop_id,
        serde_json::to_value(&rules.priors)?,
        rules.leave_inside
    )
    .execute(&mut *tx)
    .await?;
    audit::add(&mut tx, by, audit::AuditAct::Judgement, serde_json::to_value(rules)?).await?;
    Ok(tx.commit().await?)
}

/// What a workshop puts on paper.
pub async fn paper(pool: &PgPool, workshop: Uuid) -> Result<PaperRules, StoreError> {
    let row = sqlx::query!("select paper, review, customer_signs from workshop where id = $1", workshop)
        .fetch_one(pool)
        .await?;
    Ok(PaperRules {
        letterhead: serde_json::from_value(row.paper)?,
        review: row.review,
        customer_signs: row.customer_signs,
    })
}

/// Changes it, and says in the audit trail what of it was changed by whom.
pub async fn change_paper(pool: &PgPool, by: &Person, rules: &PaperRules) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let before = sqlx::query!("select paper, review from workshop where id = $1 for update", by.workshop_id)
        .fetch_one(&mut *tx)
        .await?;
    sqlx::query!(
        "update workshop set paper = $2, review = $3, customer_signs = $4 where id = $1",
        by.workshop_id,
        serde_json::to_value(&rules.letterhead)?,
        rules.review,
        rules.customer_signs
    )
    .execute(&mut *tx)
    .await?;
    if before.review != rules.review {
        let detail = json!({"before": before.review, "after": rules.review});
        audit::add(&mut tx, by, audit::AuditAct::ApprovalRule, detail).await?;
    }
    let letterhead = serde_json::to_value(&rules.letterhead)?;
    if before.paper != letterhead {
        let detail = json!({"before": before.paper, "after": letterhead});
        audit::add(&mut tx, by, audit::AuditAct::Letterhead, detail).await?;
    }
    Ok(tx.commit().await?)
}

/// Sets it for a workshop that nobody works in yet.
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

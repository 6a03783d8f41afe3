//! Who works in a workshop, how they come and go, and what is open in their name.

use serde::Serialize;
use serde_json::{Value, json};
use sqlx::{PgPool, Postgres, Transaction};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::audit::{self, AuditAct};
use super::people::{Person, Role};
use super::{StoreError, people};
use crate::rules::{PaperRules, WorkshopDefaults};
use crate::sha256_hex;

/// Somebody of the workshop.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Member {
    /// Identity.
    pub id: Uuid,
    /// Name as it stands on records.
    pub name: String,
    /// Sign-in name; empty: only the name is left of somebody who left.
    pub sign_in: String,
    /// Roles.
    pub roles: Vec<Role>,
    /// Signs in.
    pub active: bool,
    /// Open sessions.
    pub sessions: i64,
    /// Signing in asks for a second factor.
    pub second_factor: bool,
}

/// Everybody of a workshop, those who sign in first.
pub async fn members(pool: &PgPool, workshop: Uuid) -> Result<Vec<Member>, StoreError> {
    let rows = sqlx::query!(
        r#"select p.id, p.name, p.sign_in, p.roles, p.active, p.totp is not null as "second_factor!", (select count(*) from session s where s.person_id = p.id and s.expires_at > now()) as "sessions!"
           from person p where p.workshop_id = $1 order by p.active desc, lower(p.name)"#,
        workshop
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(Member {
                id: r.id,
                name: r.name,
                sign_in: if r.sign_in.starts_with("left-") { String::new() } else { r.sign_in },
                roles: Role::all_of(&r.roles)?,
                active: r.active,
                sessions: r.sessions,
                second_factor: r.second_factor,
            })
        })
        .collect()
}

/// An invitation that waits.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Invited {
    /// The name that was given.
    pub name: String,
    /// Roles.
    pub roles: Vec<Role>,
    /// It is for a new password.
    pub reset: bool,
    /// Until when it works.
    #[serde(with = "time::serde::rfc3339")]
    pub expires_at: OffsetDateTime,
}

/// Invitations of a workshop that wait.
pub async fn invitations(pool: &PgPool, workshop: Uuid) -> Result<Vec<Invited>, StoreError> {
    let rows = sqlx::query!(
        "select name, roles, person_id, expires_at from invitation where workshop_id = $1 and expires_at > now() order by made_at",
        workshop
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(Invited {
                name: r.name,
                roles: Role::all_of(&r.roles)?,
                reset: r.person_id.is_some(),
                expires_at: r.expires_at,
            })
        })
        .collect()
}

fn texts(roles: &[Role]) -> Vec<String> {
    roles.iter().map(|role| role.text().to_owned()).collect()
}

/// Lets the first start be finished with this token, in place of any earlier one.
pub async fn open_setup(pool: &PgPool, token: &str, until: OffsetDateTime) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!("delete from invitation where workshop_id is null").execute(&mut *tx).await?;
    sqlx::query!(
        "insert into invitation (token_hash, expires_at) values ($1, $2)",
        sha256_hex(token.as_bytes()),
        until
    )
    .execute(&mut *tx)
    .await?;
    Ok(tx.commit().await?)
}

/// Invites somebody; what opens the link is kept as a hash.
pub async fn invite(
    pool: &PgPool,
    by: &Person,
    name: &str,
    roles: &[Role],
    token: &str,
    until: OffsetDateTime,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!(
        "insert into invitation (token_hash, workshop_id, name, roles, expires_at) values ($1, $2, $3, $4, $5)",
        sha256_hex(token.as_bytes()),
        by.workshop_id,
        name,
        &texts(roles),
        until
    )
    .execute(&mut *tx)
    .await?;
    audit::add(&mut tx, by, AuditAct::Invited, json!({"name": name, "roles": roles})).await?;
    Ok(tx.commit().await?)
}

/// A link by which somebody sets a new password; false where the workshop has no such person.
pub async fn invite_again(
    pool: &PgPool,
    by: &Person,
    person: Uuid,
    token: &str,
    until: OffsetDateTime,
) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!("delete from invitation where person_id = $1", person).execute(&mut *tx).await?;
    let made = sqlx::query!(
        "insert into invitation (token_hash, workshop_id, person_id, name, roles, expires_at)
         select $1, workshop_id, id, name, roles, $4 from person where id = $2 and workshop_id = $3 and active",
        sha256_hex(token.as_bytes()),
        person,
        by.workshop_id,
        until
    )
    .execute(&mut *tx)
    .await?
    .rows_affected();
    if made == 0 {
        return Ok(false);
    }
    audit::add(&mut tx, by, AuditAct::PasswordLink, json!({"person": person})).await?;
    tx.commit().await?;
    Ok(true)
}

/// What a link is for.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Link {
    /// The workshop; none: the first start.
    pub workshop: Option<(Uuid, String)>,
    /// Whose password it sets; none: somebody new.
    pub person: Option<Uuid>,
    /// The name that was given.
    pub name: String,
    /// Roles.
    pub roles: Vec<Role>,
}

/// What a link is for, while it works.
pub async fn link(pool: &PgPool, token: &str) -> Result<Option<Link>, StoreError> {
    let row = sqlx::query!(
        r#"select i.workshop_id, w.name as "workshop?", i.person_id, i.name, i.roles from invitation i left join workshop w on w.id = i.workshop_id
           where i.token_hash = $1 and i.expires_at > now()"#,
        sha256_hex(token.as_bytes())
    )
    .fetch_optional(pool)
    .await?;
    row.map(|r| {
        Ok(Link {
            workshop: r.workshop_id.zip(r.workshop),
            person: r.person_id,
            name: r.name,
            roles: Role::all_of(&r.roles)?,
        })
    })
    .transpose()
}

/// Takes a link, so that nobody takes it again; false where somebody did already.
async fn take(tx: &mut Transaction<'static, Postgres>, token: &str) -> Result<bool, StoreError> {
    let taken = sqlx::query!(
        "delete from invitation where token_hash = $1 and expires_at > now()",
        sha256_hex(token.as_bytes())
    )
    .execute(&mut **tx)
    .await?;
    Ok(taken.rows_affected() == 1)
}

/// A new workshop as it is set up.
pub struct NewWorkshop<'a> {
    /// Its first person.
    pub person: &'a Person,
    /// The sign-in name.
    pub sign_in: &'a str,
    /// argon2id, in PHC form.
    pub password_hash: &'a str,
    /// Letterhead and approval.
    pub paper: &'a PaperRules,
    /// What is taken where nothing else is said.
    pub defaults: &'a WorkshopDefaults,
}

/// Sets the first workshop up with its first person, by a token or on the command line; false where the
/// token was taken, or somebody is here already.
pub async fn set_up(pool: &PgPool, token: Option<&str>, new: &NewWorkshop<'_>) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    // Two who do it at once: the second waits here and finds the first.
    sqlx::query!("lock table person in share row exclusive mode").execute(&mut *tx).await?;
    let there = sqlx::query_scalar!(r#"select exists (select 1 from person) as "there!""#)
        .fetch_one(&mut *tx)
        .await?;
    if there {
        return Ok(false);
    }
    if let Some(token) = token
        && !take(&mut tx, token).await?
    {
        return Ok(false);
    }
    let person = new.person;
    sqlx::query!(
        "insert into workshop (id, name, paper, review, defaults) values ($1, $2, $3, $4, $5)",
        person.workshop_id,
        person.workshop,
        serde_json::to_value(&new.paper.letterhead)?,
        new.paper.review,
        serde_json::to_value(new.defaults)?
    )
    .execute(&mut *tx)
    .await?;
    people::add_within(&mut tx, person, new.sign_in, new.password_hash).await?;
    sqlx::query!("delete from invitation where workshop_id is null").execute(&mut *tx).await?;
    audit::add(&mut tx, person, AuditAct::WorkshopSetUp, json!({"workshop": person.workshop})).await?;
    tx.commit().await?;
    Ok(true)
}

/// Somebody new comes in by a link; false where it was taken meanwhile.
pub async fn join(
    pool: &PgPool,
    token: &str,
    person: &Person,
    sign_in: &str,
    password_hash: &str,
) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    if !take(&mut tx, token).await? {
        return Ok(false);
    }
    people::add_within(&mut tx, person, sign_in, password_hash).await?;
    audit::add(&mut tx, person, AuditAct::Joined, json!({"roles": person.roles})).await?;
    tx.commit().await?;
    Ok(true)
}

/// Sets a password: by a link, or by oneself. Every other session of the person ends; `keep` is one's own.
pub async fn set_password(
    pool: &PgPool,
    token: Option<&str>,
    person: &Person,
    password_hash: &str,
    keep: &[u8],
) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    if let Some(token) = token
        && !take(&mut tx, token).await?
    {
        return Ok(false);
    }
    sqlx::query!(
        "update person set password_hash = $2, password_at = now() where id = $1",
        person.id,
        password_hash
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!("delete from session where person_id = $1 and token_hash <> $2", person.id, keep)
        .execute(&mut *tx)
        .await?;
    audit::add(&mut tx, person, AuditAct::PasswordChanged, Value::Null).await?;
    tx.commit().await?;
    Ok(true)
}

/// Changes one's own name, as it will stand on records from now on.
pub async fn rename(pool: &PgPool, person: &Person, name: &str) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!("update person set name = $2 where id = $1", person.id, name).execute(&mut *tx).await?;
    let detail = json!({"before": person.name, "after": name});
    audit::add(&mut tx, person, AuditAct::NameChanged, detail).await?;
    Ok(tx.commit().await?)
}

/// Why somebody is not changed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum NotChanged {
    /// The workshop has no such person.
    Nobody,
    /// Nobody would be left who manages.
    LastManager,
}

/// Changes roles and whether somebody signs in; who does not loses every session at once.
pub async fn change(
    pool: &PgPool,
    by: &Person,
    id: Uuid,
    roles: &[Role],
    active: bool,
) -> Result<Result<(), NotChanged>, StoreError> {
    let mut tx = pool.begin().await?;
    // Held to the end, so that two managers do not take each other's role away at once.
    sqlx::query!("select id from workshop where id = $1 for update", by.workshop_id)
        .fetch_one(&mut *tx)
        .await?;
    let before = sqlx::query!(
        "select name, roles, active from person where id = $1 and workshop_id = $2",
        id,
        by.workshop_id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(before) = before else { return Ok(Err(NotChanged::Nobody)) };
    let others = sqlx::query_scalar!(
        r#"select count(*) as "others!" from person where workshop_id = $1 and id <> $2 and active and 'manager' = any(roles)"#,
        by.workshop_id,
        id
    )
    .fetch_one(&mut *tx)
    .await?;
    if others == 0 && !(active && roles.contains(&Role::Manager)) {
        return Ok(Err(NotChanged::LastManager));
    }
    sqlx::query!("update person set roles = $2, active = $3 where id = $1", id, &texts(roles), active)
        .execute(&mut *tx)
        .await?;
    if !active {
        sqlx::query!("delete from session where person_id = $1", id).execute(&mut *tx).await?;
    }
    if before.roles != texts(roles) {
        let detail = json!({"person": before.name, "before": before.roles, "after": roles});
        audit::add(&mut tx, by, AuditAct::RolesChanged, detail).await?;
    }
    if before.active != active {
        let act = if active { AuditAct::Reactivated } else { AuditAct::Deactivated };
        audit::add(&mut tx, by, act, json!({"person": before.name})).await?;
    }
    tx.commit().await?;
    Ok(Ok(()))
}

/// What is known of somebody who left is reduced to the name that stands on records: no sign-in, no password,
/// no second factor, no token, no session. False where the workshop has nobody of that identity who left.
pub async fn reduce(pool: &PgPool, by: &Person, id: Uuid) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let name = sqlx::query_scalar!(
        "update person set sign_in = 'left-' || id::text, password_hash = '', totp = null, totp_pending = null where id = $1 and workshop_id = $2 and not active returning name",
        id,
        by.workshop_id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(name) = name else { return Ok(false) };
    for statement in [
        "delete from session where person_id = $1",
        "delete from recovery_code where person_id = $1",
        "delete from api_token where person_id = $1",
        "delete from invitation where person_id = $1",
    ] {
        sqlx::query(statement).bind(id).execute(&mut *tx).await?;
    }
    audit::add(&mut tx, by, AuditAct::PersonReduced, json!({"person": name})).await?;
    tx.commit().await?;
    Ok(true)
}

/// An open session.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SessionRow {
    /// Its name.
    pub id: Uuid,
    /// Whose.
    pub person: String,
    /// Since when.
    #[serde(with = "time::serde::rfc3339")]
    pub since: OffsetDateTime,
    /// When it was used last.
    #[serde(with = "time::serde::rfc3339")]
    pub seen_at: OffsetDateTime,
    /// From where.
    pub from: String,
    /// What the browser calls itself.
    pub browser: String,
    /// It is the one that asks.
    pub own: bool,
}

/// Open sessions: of one person, or of the whole workshop.
pub async fn sessions(
    pool: &PgPool,
    workshop: Uuid,
    person: Option<Uuid>,
    own: &[u8],
) -> Result<Vec<SessionRow>, StoreError> {
    let rows = sqlx::query!(
        r#"select s.id, p.name, s.created_at, s.seen_at, s.from_address, s.browser, s.token_hash = $3 as "own!"
           from session s join person p on p.id = s.person_id
           where p.workshop_id = $1 and ($2::uuid is null or p.id = $2) and s.expires_at > now() order by s.seen_at desc limit 200"#,
        workshop,
        person,
        own
    )
    .fetch_all(pool)
    .await?;
    Ok(rows
        .into_iter()
        .map(|r| SessionRow {
            id: r.id,
            person: r.name,
            since: r.created_at,
            seen_at: r.seen_at,
            from: r.from_address,
            browser: r.browser,
            own: r.own,
        })
        .collect())
}

/// Ends a session: one's own, or as a manager anybody's of the workshop; false where there is none.
pub async fn end_session(pool: &PgPool, by: &Person, id: Uuid) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let gone = sqlx::query!(
        "delete from session s using person p where p.id = s.person_id and s.id = $1 and p.workshop_id = $2 and ($3 or p.id = $4) returning p.name",
        id,
        by.workshop_id,
        by.is(Role::Manager),
        by.id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(gone) = gone else { return Ok(false) };
    audit::add(&mut tx, by, AuditAct::SessionsEnded, json!({"person": gone.name})).await?;
    tx.commit().await?;
    Ok(true)
}

/// What a workshop takes where nothing else is said.
pub async fn defaults(pool: &PgPool, workshop: Uuid) -> Result<Value, StoreError> {
    Ok(sqlx::query_scalar!("select defaults from workshop where id = $1", workshop).fetch_one(pool).await?)
}

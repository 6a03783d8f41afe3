//! Devices that take jobs along, and what came home.

use ombret_core::job::HomeNote;
use ombret_core::journal::Sealed;
use serde::Serialize;
use serde_json::json;
use sqlx::PgPool;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::people::Person;
use super::{StoreError, audit};

/// A device that takes jobs along.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct DeviceRow {
    /// Identity, made by the device.
    pub id: Uuid,
    /// Whose it is.
    pub person: String,
    /// What its owner calls it.
    pub name: String,
    /// When it was made known.
    #[serde(with = "time::serde::rfc3339")]
    pub made_at: OffsetDateTime,
    /// When it was last heard of.
    #[serde(with = "time::serde::rfc3339")]
    pub seen_at: OffsetDateTime,
    /// Since when it is shut out.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(required)]
    pub revoked_at: Option<OffsetDateTime>,
}

/// Makes a device known; one that is there already is left as it is. `false` where the identity is another's.
pub async fn make(pool: &PgPool, by: &Person, id: Uuid, name: &str, key: &str) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let made = sqlx::query!(
        "insert into device (id, workshop_id, person_id, name, public_key) values ($1, $2, $3, $4, $5) on conflict do nothing",
        id,
        by.workshop_id,
        by.id,
        name,
        key
    )
    .execute(&mut *tx)
    .await?
    .rows_affected();
    if made > 0 {
        audit::add(&mut tx, by, audit::AuditAct::DeviceMade, json!({"device": id, "name": name})).await?;
        tx.commit().await?;
        return Ok(true);
    }
    let own = sqlx::query_scalar!(
        r#"select count(*) as "own!" from device where id = $1 and person_id = $2 and public_key = $3"#,
        id,
        by.id,
        key
    )
    .fetch_one(&mut *tx)
    .await?;
    Ok(own > 0)
}

/// The devices of a workshop, or of one person, the newest first.
pub async fn list(pool: &PgPool, workshop: Uuid, person: Option<Uuid>) -> Result<Vec<DeviceRow>, StoreError> {
    Ok(sqlx::query_as!(
        DeviceRow,
        r#"select d.id, p.name as person, d.name, d.made_at, d.seen_at, d.revoked_at
           from device d join person p on p.id = d.person_id
           where d.workshop_id = $1 and ($2::uuid is null or d.person_id = $2) order by d.made_at desc limit 200"#,
        workshop,
        person
    )
    .fetch_all(pool)
    .await?)
}

/// The key of a device of a person that is not shut out; it has been heard of now.
pub async fn key(pool: &PgPool, by: &Person, id: Uuid) -> Result<Option<String>, StoreError> {
    Ok(sqlx::query_scalar!(
        "update device set seen_at = now() where id = $1 and person_id = $2 and revoked_at is null returning public_key",
        id,
        by.id
    )
    .fetch_optional(pool)
    .await?)
}

/// Shuts a device out for good. Whoever is no manager may shut out one of their own.
pub async fn revoke(pool: &PgPool, by: &Person, id: Uuid, any: bool) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let name = sqlx::query_scalar!(
        "update device set revoked_at = now() where id = $1 and workshop_id = $2 and ($3 or person_id = $4) and revoked_at is null returning name",
        id,
        by.workshop_id,
        any,
        by.id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(name) = name else { return Ok(false) };
    audit::add(&mut tx, by, audit::AuditAct::DeviceRevoked, json!({"device": id, "name": name})).await?;
    tx.commit().await?;
    Ok(true)
}

/// What came home at one time, of one job.
#[derive(Clone, Debug)]
pub struct Homecoming {
    /// Identity, made by the device: sending twice is harmless.
    pub id: Uuid,
    /// The device.
    pub device: Uuid,
    /// The scale.
    pub scale: Uuid,
    /// The job.
    pub job: Uuid,
    /// How many entries were taken.
    pub taken: usize,
    /// How many were here already.
    pub known: usize,
    /// What is to be known of it.
    pub notes: Vec<HomeNote>,
    /// What could not be taken.
    pub left: Vec<Sealed>,
}

/// Writes down what came home, as the device sealed it.
pub async fn note(
    pool: &PgPool,
    by: &Person,
    came: &Homecoming,
    brought: &[Sealed],
) -> Result<(), StoreError> {
    let count = |n: usize| i32::try_from(n).unwrap_or(i32::MAX);
    sqlx::query!(
        "insert into came_home (id, workshop_id, person_id, device_id, scale_id, job_id, taken, known, notes, brought, left_over)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) on conflict do nothing",
        came.id,
        by.workshop_id,
        by.id,
        came.device,
        came.scale,
        came.job,
        count(came.taken),
        count(came.known),
        serde_json::to_string(&came.notes)?,
        serde_json::to_string(brought)?,
        serde_json::to_string(&came.left)?
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// A line of what came home.
#[derive(Debug)]
pub struct HomeRow {
    /// Identity.
    pub id: Uuid,
    /// The job.
    pub job: Uuid,
    /// The scale.
    pub scale: Uuid,
    /// Its name.
    pub scale_name: String,
    /// Its owner.
    pub owner: String,
    /// Who brought it.
    pub person: String,
    /// By which device.
    pub device: String,
    /// When.
    pub at: OffsetDateTime,
    /// Entries that were taken.
    pub taken: i32,
    /// Entries that were here already.
    pub known: i32,
    /// What is to be known of it.
    pub notes: Vec<HomeNote>,
    /// What could not be taken.
    pub left: Vec<Sealed>,
    /// Number of the job's record.
    pub number: Option<String>,
}

/// What came home lately, or one time of it.
pub async fn came_home(pool: &PgPool, workshop: Uuid, one: Option<Uuid>) -> Result<Vec<HomeRow>, StoreError> {
    let rows = sqlx::query!(
        r#"select h.id, h.job_id, h.scale_id, s.name as scale_name, s.owner, p.name as person, d.name as device, h.at,
                  h.taken, h.known, h.notes, h.left_over, r.number as "number?"
           from came_home h join scale s on s.id = h.scale_id join person p on p.id = h.person_id
           join device d on d.id = h.device_id left join record r on r.job_id = h.job_id and not r.superseded
           where h.workshop_id = $1 and ($2::uuid is null or h.id = $2) order by h.at desc limit 100"#,
        workshop,
        one
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(HomeRow {
                id: r.id,
                job: r.job_id,
                scale: r.scale_id,
                scale_name: r.scale_name,
                owner: r.owner,
                person: r.person,
                device: r.device,
                at: r.at,
                taken: r.taken,
                known: r.known,
                notes: serde_json::from_str(&r.notes)?,
                left: serde_json::from_str(&r.left_over)?,
                number: r.number,
            })
        })
        .collect()
}

/// An open job of a scale that somebody else began.
pub async fn other_job(
    pool: &PgPool,
    workshop: Uuid,
    scale: Uuid,
    job: Uuid,
    person: Uuid,
) -> Result<Option<(Uuid, String)>, StoreError> {
    let row = sqlx::query!(
        "select j.id, p.name from job j join person p on p.id = j.started_by
         where j.workshop_id = $1 and j.scale_id = $2 and j.id <> $3 and j.started_by <> $4 and j.closed_at is null
         order by j.started_at desc limit 1",
        workshop,
        scale,
        job,
        person
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|r| (r.id, r.name)))
}

//! Links by which a customer sees their own scales and certificates, and nothing else.

use ombret_core::journal::Outcome;
use serde::Serialize;
use serde_json::json;
use sqlx::PgPool;
use time::{Date, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;
use super::audit::{self, AuditAct};
use super::people::Person;
use crate::sha256_hex;

time::serde::format_description!(iso_day, Date, "[year]-[month]-[day]");

/// A link of a customer.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct OwnerLink {
    /// Identity.
    pub id: Uuid,
    /// Who made it.
    pub by: String,
    /// When.
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

/// Links of a customer that open.
pub async fn links(pool: &PgPool, workshop: Uuid, customer: Uuid) -> Result<Vec<OwnerLink>, StoreError> {
    Ok(sqlx::query_as!(
        OwnerLink,
        "select id, by_name as by, made_at, expires_at, used_at from owner_link where customer_id = $1 and workshop_id = $2 and expires_at > now() order by made_at desc limit 50",
        customer,
        workshop
    )
    .fetch_all(pool)
    .await?)
}

/// Makes a link; what opens it is kept as a hash. False where the workshop has no such customer.
pub async fn make(
    pool: &PgPool,
    by: &Person,
    customer: Uuid,
    token: &str,
    until: OffsetDateTime,
) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!("delete from owner_link where expires_at < now()").execute(&mut *tx).await?;
    let name = sqlx::query_scalar!(
        "with made as (insert into owner_link (id, customer_id, workshop_id, token_hash, by_name, expires_at)
                       select $1, c.id, c.workshop_id, $2, $3, $4 from customer c where c.id = $5 and c.workshop_id = $6 returning customer_id)
         select c.name from customer c join made m on m.customer_id = c.id",
        Uuid::now_v7(),
        sha256_hex(token.as_bytes()),
        by.name,
        until,
        customer,
        by.workshop_id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(name) = name else { return Ok(false) };
    audit::add(&mut tx, by, AuditAct::OwnerLinkMade, json!({"name": name})).await?;
    tx.commit().await?;
    Ok(true)
}

/// Ends a link; false where there is none.
pub async fn end(pool: &PgPool, by: &Person, id: Uuid) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let name = sqlx::query_scalar!(
        "delete from owner_link l using customer c where l.id = $1 and l.workshop_id = $2 and c.id = l.customer_id returning c.name",
        id,
        by.workshop_id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(name) = name else { return Ok(false) };
    audit::add(&mut tx, by, AuditAct::OwnerLinkEnded, json!({"name": name})).await?;
    tx.commit().await?;
    Ok(true)
}

/// Whom a link lets see what.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Owner {
    /// The customer.
    pub customer: Uuid,
    /// Its name.
    pub name: String,
    /// The workshop.
    pub workshop: Uuid,
    /// Its name.
    pub workshop_name: String,
}

/// Whose link it is, while it opens.
pub async fn by_token(pool: &PgPool, token: &str) -> Result<Option<Owner>, StoreError> {
    let row = sqlx::query!(
        r#"update owner_link l set used_at = now() from customer c, workshop w
           where l.token_hash = $1 and l.expires_at > now() and c.id = l.customer_id and w.id = l.workshop_id
           returning c.id, c.name, w.id as workshop, w.name as workshop_name"#,
        sha256_hex(token.as_bytes())
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|r| Owner {
        customer: r.id,
        name: r.name,
        workshop: r.workshop,
        workshop_name: r.workshop_name,
    }))
}

/// A scale as its owner sees it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct OwnScale {
    /// Name.
    pub name: String,
    /// Where it stands.
    pub place: String,
    /// Serial.
    pub serial: String,
    /// When it is due.
    #[serde(with = "iso_day::option")]
    #[schema(required, value_type = Option<String>, format = Date)]
    pub due: Option<Date>,
    /// It was due before today.
    pub overdue: bool,
    /// Outcome on the last record.
    #[schema(required)]
    pub last_outcome: Option<Outcome>,
}

/// The scales of a customer.
pub async fn scales(pool: &PgPool, owner: &Owner) -> Result<Vec<OwnScale>, StoreError> {
    let today = OffsetDateTime::now_utc().date();
    let rows = sqlx::query!(
        r#"select name, place, coalesce(sheet->>'serial', '') as "serial!", next_due, last_outcome from scale
           where customer_id = $1 and workshop_id = $2 and not practice order by name, id limit 1000"#,
        owner.customer,
        owner.workshop
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(OwnScale {
                name: r.name,
                place: r.place,
                serial: r.serial,
                due: r.next_due,
                overdue: r.next_due.is_some_and(|day| day < today),
                last_outcome: r.last_outcome.map(|o| serde_json::from_value(o.into())).transpose()?,
            })
        })
        .collect()
}

/// Whether a record is of a scale of theirs, is this workshop's own and waits for nobody.
pub async fn may_see(pool: &PgPool, owner: &Owner, job: Uuid) -> Result<bool, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"select exists (
             select 1 from record r join job j on j.id = r.job_id join scale s on s.id = j.scale_id join workshop w on w.id = r.workshop_id
             where r.job_id = $1 and not r.superseded and j.closed_at is not null and not j.imported and not s.practice
               and s.customer_id = $2 and r.workshop_id = $3 and (r.approved_at is not null or not coalesce(r.approval, w.review))) as "may!""#,
        job,
        owner.customer,
        owner.workshop
    )
    .fetch_one(pool)
    .await?)
}

//! Scales.

use ombret_core::journal::Before;
use ombret_core::quantity::Unit;
use ombret_core::scale::ScaleSheet;
use serde::Serialize;
use sqlx::{PgPool, Postgres, Transaction};
use time::{Date, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

use super::search::search_text;
use super::{StoreError, customers};
use crate::live::Device;

time::serde::format_description!(iso_date, Date, "[year]-[month]-[day]");

/// A scale in the list.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ScaleRow {
    /// What is known of it.
    pub sheet: ScaleSheet,
    /// It sends its readings.
    pub connected: bool,
    /// Outcome on the last record.
    #[schema(required)]
    pub last_outcome: Option<String>,
    /// When that was closed.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(required)]
    pub last_closed_at: Option<OffsetDateTime>,
    /// Next due, as a date.
    #[serde(with = "iso_date::option")]
    #[schema(required, value_type = Option<String>, format = Date)]
    pub next_due: Option<Date>,
    /// The drawing of the last record.
    #[schema(required, value_type = Option<ombret_core::assessment::ErrorChart>)]
    pub last_shade: Option<serde_json::Value>,
    /// The job that is open on it.
    #[schema(required)]
    pub open_job: Option<Uuid>,
}

/// A scale with its connection.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ScaleDetail {
    /// What is known of it.
    pub sheet: ScaleSheet,
    /// How it is connected.
    #[schema(required)]
    pub device: Option<Device>,
    /// Changes with every edit.
    pub version: i32,
}

/// Where a page of the list begins.
#[derive(Clone, Copy, Debug)]
pub struct Cursor {
    /// Due date of the last row seen; one without a date comes last.
    pub due: Date,
    /// Its identity.
    pub id: Uuid,
}

/// Scales of a workshop, the ones due first at the top, keyset-paged.
pub async fn list(
    pool: &PgPool,
    workshop: Uuid,
    search: &str,
    customer: Option<Uuid>,
    after: Option<Cursor>,
    limit: i64,
) -> Result<Vec<ScaleRow>, StoreError> {
    let pattern = super::anywhere(search);
    let (due, id) = (after.map(|c| c.due), after.map(|c| c.id));
    let rows = sqlx::query!(
        r#"select s.id, s.sheet, s.device is not null as "connected!", s.last_outcome, s.last_closed_at, s.next_due, s.last_shade,
                  (select j.id from job j where j.scale_id = s.id and j.closed_at is null order by j.started_at desc limit 1) as open_job
           from (select f.id from scale f
                 where f.workshop_id = $1 and not f.practice and f.search like $2 and ($6::uuid is null or f.customer_id = $6)
                   and ($3::date is null or (coalesce(f.next_due, '9999-12-31'), f.id) > ($3, $4::uuid))
                 order by coalesce(f.next_due, '9999-12-31'), f.id limit $5) found
           join scale s on s.id = found.id
           order by coalesce(s.next_due, '9999-12-31'), s.id"#,
        workshop,
        pattern,
        due,
        id,
        limit,
        customer
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(ScaleRow {
                sheet: serde_json::from_value(r.sheet)?,
                connected: r.connected,
                last_outcome: r.last_outcome,
                last_closed_at: r.last_closed_at,
                next_due: r.next_due,
                last_shade: r.last_shade,
                open_job: r.open_job,
            })
        })
        .collect()
}

/// The customer of a scale.
pub async fn customer_of(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<Option<Uuid>, StoreError> {
    Ok(sqlx::query_scalar!("select customer_id from scale where id = $1 and workshop_id = $2", id, workshop)
        .fetch_optional(pool)
        .await?
        .flatten())
}

/// One scale of a workshop.
pub async fn one(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<Option<ScaleDetail>, StoreError> {
    let row = sqlx::query!(
        "select sheet, device, version from scale where id = $1 and workshop_id = $2",
        id,
        workshop
    )
    .fetch_optional(pool)
    .await?;
    row.map(|r| {
        Ok(ScaleDetail {
            sheet: serde_json::from_value(r.sheet)?,
            device: r.device.map(serde_json::from_value).transpose()?,
            version: r.version,
        })
    })
    .transpose()
}

/// Adds a scale.
pub async fn add(
    pool: &PgPool,
    workshop: Uuid,
    sheet: &ScaleSheet,
    device: Option<&Device>,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    add_within(&mut tx, workshop, sheet, device).await?;
    Ok(tx.commit().await?)
}

/// Adds a scale; whoever owns it is a customer from then on.
pub(super) async fn add_within(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    sheet: &ScaleSheet,
    device: Option<&Device>,
) -> Result<(), StoreError> {
    insert(tx, workshop, sheet, device, None).await?;
    customers::link(tx, workshop, None).await
}

/// Inserts a scale that belongs to nobody yet.
pub(super) async fn insert(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    sheet: &ScaleSheet,
    device: Option<&Device>,
    import: Option<Uuid>,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into scale (id, workshop_id, sheet, device, search, practice, import_id) values ($1, $2, $3, $4, $5, $6, $7)",
        sheet.id,
        workshop,
        serde_json::to_value(sheet)?,
        device.map(serde_json::to_value).transpose()?,
        search_text(sheet),
        sheet.practice,
        import
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// Connects a scale in another way; its sheet stays as it is.
pub async fn connect(pool: &PgPool, scale: Uuid, device: &Device) -> Result<(), StoreError> {
    sqlx::query!("update scale set device = $2 where id = $1", scale, serde_json::to_value(device)?)
        .execute(pool)
        .await?;
    Ok(())
}

/// Changes a scale if it is still at `version`; false where it was changed meanwhile.
pub async fn change(
    pool: &PgPool,
    workshop: Uuid,
    sheet: &ScaleSheet,
    device: Option<&Device>,
    version: i32,
) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let done = sqlx::query!(
        "update scale set customer_id = case when owner = $7 then customer_id end, sheet = $3, device = $4, search = $5, version = version + 1 where id = $1 and workshop_id = $2 and version = $6 and not practice",
        sheet.id,
        workshop,
        serde_json::to_value(sheet)?,
        device.map(serde_json::to_value).transpose()?,
        search_text(sheet),
        version,
        sheet.owner
    )
    .execute(&mut *tx)
    .await?;
    customers::link(&mut tx, workshop, None).await?;
    tx.commit().await?;
    Ok(done.rows_affected() == 1)
}

/// A scale as it is found by its name or serial.
pub struct Known {
    /// Identity.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Serial.
    pub serial: String,
    /// Unit of its plate.
    pub unit: Unit,
}

/// Every scale of a workshop, by name and serial.
pub async fn known(pool: &PgPool, workshop: Uuid) -> Result<Vec<Known>, StoreError> {
    let rows =
        sqlx::query_scalar!("select sheet from scale where workshop_id = $1 and not practice", workshop)
            .fetch_all(pool)
            .await?;
    rows.into_iter()
        .map(|sheet| {
            let sheet: ScaleSheet = serde_json::from_value(sheet)?;
            let unit = sheet.rated().map_or(Unit::Kg, |(max, _)| max.unit);
            Ok(Known { id: sheet.id, name: sheet.name, serial: sheet.serial, unit })
        })
        .collect()
}

/// Every scale of a workshop, those due first, up to a limit.
pub async fn all(pool: &PgPool, workshop: Uuid, limit: i64) -> Result<Vec<ScaleRow>, StoreError> {
    list(pool, workshop, "", None, None, limit).await
}

/// What the scale's last record leaves for the next job.
pub async fn before(pool: &PgPool, scale: Uuid) -> Result<Option<Before>, StoreError> {
    let row = sqlx::query!(
        "select before from record where scale_id = $1 and not superseded order by closed_at desc limit 1",
        scale
    )
    .fetch_optional(pool)
    .await?;
    row.map(|r| Ok(serde_json::from_value(r.before)?)).transpose()
}

/// When a scale is due again.
pub async fn next_due(pool: &PgPool, workshop: Uuid, scale: Uuid) -> Result<Option<time::Date>, StoreError> {
    Ok(sqlx::query_scalar!("select next_due from scale where id = $1 and workshop_id = $2", scale, workshop)
        .fetch_optional(pool)
        .await?
        .flatten())
}

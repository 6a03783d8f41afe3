//! Records over time: of a scale, by a piece of weight; due dates.

use ombret_core::schedule::monday;
use serde::Serialize;
use sqlx::PgPool;
use time::{Date, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;

time::serde::format_description!(iso_date, Date, "[year]-[month]-[day]");

/// A record of a scale.
#[derive(Clone, Debug)]
pub struct Kept {
    /// Its job.
    pub job: Uuid,
    /// Its number.
    pub number: String,
    /// What the job came to.
    pub outcome: String,
    /// When it was closed.
    pub closed_at: OffsetDateTime,
    /// What it showed, as it is drawn; of a record that was frozen before that was kept, its file.
    pub shown: Shown,
}

/// What a record showed.
#[derive(Clone, Debug)]
pub enum Shown {
    /// As it is drawn.
    Drawn(serde_json::Value),
    /// Its frozen bytes, from which it can be drawn.
    File(Vec<u8>),
}

/// The records of a scale, the oldest first.
pub async fn of_scale(pool: &PgPool, workshop: Uuid, scale: Uuid) -> Result<Vec<Kept>, StoreError> {
    let rows = sqlx::query!(
        r#"select job_id, number, outcome, closed_at, shade, case when shade is null then file end as file from (select * from record where scale_id = $1 and workshop_id = $2 and not superseded order by closed_at desc limit 60) r order by closed_at"#,
        scale,
        workshop
    );
    let rows = rows.fetch_all(pool).await?;
    Ok(rows.into_iter().map(|r| Kept { job: r.job_id, number: r.number, outcome: r.outcome, closed_at: r.closed_at, shown: r.shade.map_or_else(|| Shown::File(r.file.unwrap_or_default()), Shown::Drawn) }).collect())
}

/// A record that rests on a piece.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Resting {
    /// Its job.
    pub job: Uuid,
    /// Its number.
    pub number: String,
    /// Name of the scale.
    pub scale: String,
    /// Its owner.
    pub owner: String,
    /// What the job came to.
    pub outcome: String,
    /// The certificate of the piece on that day.
    #[schema(required)]
    pub certificate: Option<String>,
    /// When it was closed.
    #[serde(with = "time::serde::rfc3339")]
    pub closed_at: OffsetDateTime,
}

/// Records that rest on a piece of weight, the newest first: whom to call if it is found wrong.
pub async fn resting_on(pool: &PgPool, workshop: Uuid, piece: Uuid) -> Result<Vec<Resting>, StoreError> {
    let rows = sqlx::query!(
        r#"select r.job_id, r.number, r.outcome, r.closed_at, p.certificate, s.sheet->>'name' as "scale!", s.sheet->>'owner' as "owner!"
           from record_piece p join record r on r.job_id = p.job_id and not r.superseded join scale s on s.id = r.scale_id
           where p.piece_id = $1 and r.workshop_id = $2 and not s.practice order by r.closed_at desc limit 1000"#,
        piece,
        workshop
    );
    let rows = rows.fetch_all(pool).await?;
    Ok(rows.into_iter().map(|r| Resting { job: r.job_id, number: r.number, scale: r.scale, owner: r.owner, outcome: r.outcome, certificate: r.certificate, closed_at: r.closed_at }).collect())
}

/// A scale on the board of due dates.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct DueRow {
    /// The scale.
    pub scale: Uuid,
    /// Its name.
    pub name: String,
    /// Its owner.
    pub owner: String,
    /// Its place.
    pub place: String,
    /// The day.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    pub due: Date,
    /// The Monday of its week.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    pub week: Date,
    /// The day is past.
    pub overdue: bool,
    /// Why that day.
    #[schema(required)]
    pub reason: Option<String>,
    /// Outcome on its last record.
    #[schema(required)]
    pub last_outcome: Option<String>,
}

/// Scales due up to a day, the first due first.
pub async fn due(pool: &PgPool, workshop: Uuid, today: Date, until: Date, limit: i64) -> Result<Vec<DueRow>, StoreError> {
    let rows = sqlx::query!(
        r#"select id, sheet->>'name' as "name!", sheet->>'owner' as "owner!", sheet->>'place' as "place!", next_due as "due!", due_reason, last_outcome
           from scale where workshop_id = $1 and not practice and next_due <= $2 order by next_due, id limit $3"#,
        workshop,
        until,
        limit
    );
    let rows = rows.fetch_all(pool).await?;
    Ok(rows.into_iter().map(|r| DueRow { scale: r.id, name: r.name, owner: r.owner, place: r.place, week: monday(r.due), overdue: r.due < today, due: r.due, reason: r.due_reason, last_outcome: r.last_outcome }).collect())
}

/// The secret of a workshop's calendar; `fresh` takes the place of none, or of the old one.
pub async fn calendar_secret(pool: &PgPool, workshop: Uuid, fresh: Option<&str>) -> Result<Option<String>, StoreError> {
    if let Some(fresh) = fresh {
        sqlx::query!("update workshop set calendar_secret = $2 where id = $1", workshop, fresh).execute(pool).await?;
    }
    Ok(sqlx::query_scalar!("select calendar_secret from workshop where id = $1", workshop).fetch_one(pool).await?)
}

/// The workshop whose calendar has this secret.
pub async fn of_calendar(pool: &PgPool, secret: &str) -> Result<Option<(Uuid, String)>, StoreError> {
    let row = sqlx::query!("select id, name from workshop where calendar_secret = $1", secret).fetch_optional(pool).await?;
    Ok(row.map(|r| (r.id, r.name)))
}

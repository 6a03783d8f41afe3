//! Records over time: of a scale, by a piece of weight; the calendar's address.

use ombret_core::weights::Piece;
use serde::Serialize;
use sqlx::PgPool;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::people::Person;
use super::{StoreError, audit};
use crate::sha256_hex;

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
    /// Something of the adjustment was changed.
    pub adjusted: bool,
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

/// Most records of a scale that are shown.
pub const MOST_SHOWN: i64 = 60;

/// How many records a scale has.
pub async fn count_of_scale(pool: &PgPool, workshop: Uuid, scale: Uuid) -> Result<i64, StoreError> {
    Ok(sqlx::query_scalar!(r#"select count(*) as "count!" from record where scale_id = $1 and workshop_id = $2 and not superseded"#, scale, workshop).fetch_one(pool).await?)
}

/// The newest records of a scale, at most [`MOST_SHOWN`], the oldest of them first.
pub async fn of_scale(pool: &PgPool, workshop: Uuid, scale: Uuid) -> Result<Vec<Kept>, StoreError> {
    let rows = sqlx::query!(
        r#"select r.job_id, r.number, r.outcome, r.closed_at, r.shade, case when r.shade is null then r.file end as file, coalesce(g.adjusted, false) as "adjusted!"
           from (select * from record where scale_id = $1 and workshop_id = $2 and not superseded order by closed_at desc limit $3) r left join record_gist g on g.job_id = r.job_id order by r.closed_at"#,
        scale,
        workshop,
        MOST_SHOWN
    );
    let rows = rows.fetch_all(pool).await?;
    Ok(rows
        .into_iter()
        .map(|r| Kept {
            job: r.job_id,
            number: r.number,
            outcome: r.outcome,
            closed_at: r.closed_at,
            adjusted: r.adjusted,
            shown: r.shade.map_or_else(|| Shown::File(r.file.unwrap_or_default()), Shown::Drawn),
        })
        .collect())
}

/// A weight that a record rests on, as the kit knows it now.
#[derive(Clone, Debug)]
pub struct UsedWeight {
    /// The record's job.
    pub job: Uuid,
    /// Its serial then.
    pub serial: String,
    /// Its certificate then.
    pub certificate: Option<String>,
    /// The piece; none: it is not in the kit any more.
    pub piece: Option<Piece>,
}

/// The weights that records rest on.
pub async fn weights_of(pool: &PgPool, jobs: &[Uuid]) -> Result<Vec<UsedWeight>, StoreError> {
    let rows = sqlx::query!(
        r#"select r.job_id, r.serial, r.certificate, p.piece as "piece?" from record_piece r left join piece p on p.id = r.piece_id and p.workshop_id = r.workshop_id where r.job_id = any($1) order by r.job_id, r.serial"#,
        jobs
    );
    let rows = rows.fetch_all(pool).await?;
    rows.into_iter()
        .map(|r| {
            Ok(UsedWeight {
                job: r.job_id,
                serial: r.serial,
                certificate: r.certificate,
                piece: r.piece.map(serde_json::from_value).transpose()?,
            })
        })
        .collect()
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
    /// Where it stands.
    pub place: String,
    /// What the job came to.
    pub outcome: String,
    /// The certificate of the piece on that day.
    #[schema(required)]
    pub certificate: Option<String>,
    /// When it was closed.
    #[serde(with = "time::serde::rfc3339")]
    pub closed_at: OffsetDateTime,
}

/// Records that rest on a piece of weight, the newest first: whom to call if it is found wrong. `after`
/// is the last one seen.
pub async fn resting_on(
    pool: &PgPool,
    workshop: Uuid,
    piece: Uuid,
    after: Option<(OffsetDateTime, Uuid)>,
    limit: i64,
) -> Result<Vec<Resting>, StoreError> {
    let (at, job) = after.unzip();
    let rows = sqlx::query!(
        r#"select r.job_id, r.number, r.outcome, p.closed_at, p.certificate, s.name, s.owner, s.place
           from record_piece p join record r on r.job_id = p.job_id and not r.superseded join scale s on s.id = r.scale_id
           where p.piece_id = $1 and p.workshop_id = $2 and ($3::timestamptz is null or (p.closed_at, p.job_id) < ($3, $4))
           order by p.closed_at desc, p.job_id desc limit $5"#,
        piece,
        workshop,
        at,
        job,
        limit
    );
    let rows = rows.fetch_all(pool).await?;
    Ok(rows
        .into_iter()
        .map(|r| Resting {
            job: r.job_id,
            number: r.number,
            scale: r.name,
            owner: r.owner,
            place: r.place,
            outcome: r.outcome,
            certificate: r.certificate,
            closed_at: r.closed_at,
        })
        .collect())
}

/// How many records rest on a piece.
pub async fn count_resting(pool: &PgPool, workshop: Uuid, piece: Uuid) -> Result<i64, StoreError> {
    let count = sqlx::query_scalar!(
        r#"select count(*) as "count!" from record_piece where piece_id = $1 and workshop_id = $2"#,
        piece,
        workshop
    );
    Ok(count.fetch_one(pool).await?)
}

/// Whether a workshop's calendar has an address.
pub async fn has_calendar(pool: &PgPool, workshop: Uuid) -> Result<bool, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"select calendar_hash is not null as "has!" from workshop where id = $1"#,
        workshop
    )
    .fetch_one(pool)
    .await?)
}

/// Gives it another address, of which only the hash is kept.
pub async fn renew_calendar(pool: &PgPool, by: &Person, secret: &str) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let hash = sha256_hex(secret.as_bytes());
    sqlx::query!("update workshop set calendar_hash = $2 where id = $1", by.workshop_id, hash)
        .execute(&mut *tx)
        .await?;
    audit::add(&mut tx, by, audit::AuditAct::CalendarAddress, serde_json::Value::Null).await?;
    Ok(tx.commit().await?)
}

/// The workshop whose calendar has this secret.
pub async fn of_calendar(pool: &PgPool, secret: &str) -> Result<Option<(Uuid, String)>, StoreError> {
    let hash = sha256_hex(secret.as_bytes());
    let row = sqlx::query!("select id, name from workshop where calendar_hash = $1", hash)
        .fetch_optional(pool)
        .await?;
    Ok(row.map(|r| (r.id, r.name)))
}

//! What lies beside scales, jobs and pieces: instruments that read the air, photographs and files.

use ombret_core::weights::Instrument;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;
use super::people::Person;
use ombret_core::wording::Text;

/// An instrument with its version.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct InstrumentRow {
    /// What is known of it.
    #[serde(flatten)]
    pub instrument: Instrument,
    /// What speaks against it today.
    #[schema(required)]
    pub doubt: Option<Text>,
    /// Changes with every edit.
    pub version: i32,
}

/// The instruments of a workshop, by their mark.
pub async fn instruments(pool: &PgPool, workshop: Uuid) -> Result<Vec<InstrumentRow>, StoreError> {
    let today = OffsetDateTime::now_utc().date();
    let rows = sqlx::query!(
        "select details, version from instrument where workshop_id = $1 order by lower(serial) limit 500",
        workshop
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            let instrument: Instrument = serde_json::from_value(r.details)?;
            let doubt = instrument.used().doubt(today);
            Ok(InstrumentRow { instrument, doubt, version: r.version })
        })
        .collect()
}

/// Keeps an instrument: a new one at version 0, else the one that is still at `version`. False where it was
/// changed meanwhile.
pub async fn keep_instrument(
    pool: &PgPool,
    workshop: Uuid,
    instrument: &Instrument,
    version: i32,
) -> Result<bool, StoreError> {
    let details = serde_json::to_value(instrument)?;
    let done = if version == 0 {
        sqlx::query!(
            "insert into instrument (id, workshop_id, details) values ($1, $2, $3) on conflict (id) do nothing",
            instrument.id,
            workshop,
            details
        )
        .execute(pool)
        .await?
    } else {
        sqlx::query!(
            "update instrument set details = $3, version = version + 1 where id = $1 and workshop_id = $2 and version = $4",
            instrument.id,
            workshop,
            details,
            version
        )
        .execute(pool)
        .await?
    };
    Ok(done.rows_affected() == 1)
}

/// Takes an instrument out of use; records keep what they say of it.
pub async fn remove_instrument(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<bool, StoreError> {
    let done = sqlx::query!("delete from instrument where id = $1 and workshop_id = $2", id, workshop)
        .execute(pool)
        .await?;
    Ok(done.rows_affected() == 1)
}

/// To what a file belongs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FileOf {
    /// A scale.
    Scale,
    /// A job.
    Job,
    /// A piece of weight.
    Piece,
}

/// A file as it is listed.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct FileRow {
    /// Identity.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// What it is, such as `image/jpeg`.
    pub media: String,
    /// What it shows.
    pub caption: String,
    /// SHA-256 of its bytes.
    pub sha256: String,
    /// Its size, in bytes.
    pub size: i64,
    /// Who put it there.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub made_at: OffsetDateTime,
}

/// Why a file is not kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum NotKept {
    /// The workshop has no such scale, job or piece.
    Nothing,
    /// The workshop's files take as much room as they may.
    NoRoom,
}

/// Keeps a file, where the workshop has what it belongs to and room for it.
pub async fn keep_file(
    pool: &PgPool,
    by: &Person,
    (of, id): (FileOf, Uuid),
    file: &FileRow,
    bytes: &[u8],
    most_bytes: i64,
) -> Result<Result<(), NotKept>, StoreError> {
    let mut tx = pool.begin().await?;
    // Two at once do not take the same room.
    let taken = sqlx::query_scalar!(
        r#"select coalesce((select sum(f.size) from file f where f.workshop_id = w.id), 0)::bigint as "taken!" from workshop w where w.id = $1 for update"#,
        by.workshop_id
    )
    .fetch_one(&mut *tx)
    .await?;
    if taken.saturating_add(file.size) > most_bytes {
        return Ok(Err(NotKept::NoRoom));
    }
    let there = sqlx::query_scalar!(
        r#"select case $1 when 'scale' then exists (select 1 from scale where id = $2 and workshop_id = $3)
                          when 'job' then exists (select 1 from job where id = $2 and workshop_id = $3)
                          else exists (select 1 from piece where id = $2 and workshop_id = $3) end as "there!""#,
        text(of),
        id,
        by.workshop_id
    )
    .fetch_one(&mut *tx)
    .await?;
    if !there {
        return Ok(Err(NotKept::Nothing));
    }
    sqlx::query!(
        "insert into file (id, workshop_id, scale_id, job_id, piece_id, name, media, caption, sha256, size, bytes, by_name)
         values ($1, $2, case when $3 = 'scale' then $4::uuid end, case when $3 = 'job' then $4::uuid end, case when $3 = 'piece' then $4::uuid end, $5, $6, $7, $8, $9, $10, $11)
         on conflict (id) do nothing",
        file.id,
        by.workshop_id,
        text(of),
        id,
        file.name,
        file.media,
        file.caption,
        file.sha256,
        file.size,
        bytes,
        file.by
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(Ok(()))
}

const fn text(of: FileOf) -> &'static str {
    match of {
        FileOf::Scale => "scale",
        FileOf::Job => "job",
        FileOf::Piece => "piece",
    }
}

/// Files of a scale, a job or a piece, in the order in which they came.
pub async fn files(pool: &PgPool, workshop: Uuid, of: FileOf, id: Uuid) -> Result<Vec<FileRow>, StoreError> {
    Ok(sqlx::query_as!(
        FileRow,
        "select id, name, media, caption, sha256, size, by_name as by, made_at from file
         where workshop_id = $1 and case $2 when 'scale' then scale_id = $3 when 'job' then job_id = $3 else piece_id = $3 end order by made_at, id limit 200",
        workshop,
        text(of),
        id
    )
    .fetch_all(pool)
    .await?)
}

/// A file with its bytes.
pub async fn file(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<Option<(FileRow, Vec<u8>)>, StoreError> {
    let row = sqlx::query!(
        "select id, name, media, caption, sha256, size, by_name, made_at, bytes from file where id = $1 and workshop_id = $2",
        id,
        workshop
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|r| {
        let row = FileRow {
            id: r.id,
            name: r.name,
            media: r.media,
            caption: r.caption,
            sha256: r.sha256,
            size: r.size,
            by: r.by_name,
            made_at: r.made_at,
        };
        (row, r.bytes)
    }))
}

/// The hash and size of a file of a job.
pub async fn file_of_job(
    pool: &PgPool,
    workshop: Uuid,
    job: Uuid,
    id: Uuid,
) -> Result<Option<(String, i64)>, StoreError> {
    let row = sqlx::query!(
        "select sha256, size from file where id = $1 and job_id = $2 and workshop_id = $3",
        id,
        job,
        workshop
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|r| (r.sha256, r.size)))
}

/// Removes a file of a scale or a piece; one of a job is kept. False where there is none that may go.
pub async fn remove_file(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<bool, StoreError> {
    let done =
        sqlx::query!("delete from file where id = $1 and workshop_id = $2 and job_id is null", id, workshop)
            .execute(pool)
            .await?;
    Ok(done.rows_affected() == 1)
}

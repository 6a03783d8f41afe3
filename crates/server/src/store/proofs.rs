//! What visits said of profiles.

use serde::Serialize;
use sqlx::PgPool;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;

/// What a visit said of a profile.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Proof {
    /// Identity.
    pub id: Uuid,
    /// The edition that the sheet was made from.
    pub edition: i32,
    /// The job.
    pub job: Uuid,
    /// The scale.
    pub scale: String,
    /// The sheet was right to the end.
    pub as_said: bool,
    /// The item that differed, by what the display shows; empty: none.
    pub item: String,
    /// What the display showed there.
    pub shown: String,
    /// What was different.
    pub note: String,
    /// Who says so.
    pub said_by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub said_at: OffsetDateTime,
}

/// What is said now.
pub struct NewProof<'a> {
    /// The profile.
    pub profile: Uuid,
    /// Its edition.
    pub edition: i32,
    /// The job.
    pub job: Uuid,
    /// The sheet was right to the end.
    pub as_said: bool,
    /// The item that differed.
    pub item: &'a str,
    /// What it showed.
    pub shown: &'a str,
    /// What was different.
    pub note: &'a str,
    /// Who.
    pub by: &'a str,
}

/// Writes what a visit said; what it said before of the same item is replaced.
pub async fn write(pool: &PgPool, workshop: Uuid, new: &NewProof<'_>) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into profile_proof (id, workshop_id, profile_id, edition, job_id, as_said, item, shown, note, said_by)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
         on conflict (job_id, item) do update set edition = excluded.edition, as_said = excluded.as_said, shown = excluded.shown,
             note = excluded.note, said_by = excluded.said_by, said_at = now()",
        Uuid::now_v7(),
        workshop,
        new.profile,
        new.edition,
        new.job,
        new.as_said,
        new.item,
        new.shown,
        new.note,
        new.by
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// What was said of a profile, or in a job, the newest first.
pub async fn list(
    pool: &PgPool,
    workshop: Uuid,
    profile: Option<Uuid>,
    job: Option<Uuid>,
) -> Result<Vec<Proof>, StoreError> {
    Ok(sqlx::query_as!(
        Proof,
        r#"select p.id, p.edition, p.job_id as job, s.name as scale, p.as_said, p.item, p.shown, p.note, p.said_by, p.said_at
           from profile_proof p join job j on j.id = p.job_id join scale s on s.id = j.scale_id
           where p.workshop_id = $1 and ($2::uuid is null or p.profile_id = $2) and ($3::uuid is null or p.job_id = $3)
           order by p.said_at desc limit 200"#,
        workshop,
        profile,
        job
    )
    .fetch_all(pool)
    .await?)
}

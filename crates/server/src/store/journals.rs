//! A job with its journal, as it is read.

use ombret_core::job::{Journal, JournalError};
use serde::Serialize;
use sqlx::PgPool;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;

/// A job, without its journal.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct JobHead {
    /// Identity.
    pub id: Uuid,
    /// The scale.
    pub scale_id: Uuid,
    /// Place of the last entry.
    pub head_seq: i32,
    /// Hash of the last entry.
    #[serde(skip)]
    pub head_hash: String,
    /// When it was closed.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(required)]
    pub closed_at: Option<OffsetDateTime>,
    /// It came as a file.
    pub imported: bool,
    /// Number of its record.
    #[schema(required)]
    pub number: Option<String>,
}

/// A job with its journal.
#[derive(Clone, Debug)]
pub struct Job {
    /// Whose it is.
    pub workshop: Uuid,
    /// The job.
    pub head: JobHead,
    /// Its entries, and the state that they come to.
    pub journal: Journal,
}

impl From<JournalError> for StoreError {
    fn from(error: JournalError) -> Self {
        Self::Unreadable(error.to_string())
    }
}

/// One job of a workshop with its journal.
pub async fn job(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<Option<Job>, StoreError> {
    // One statement, so that the row and the entries are of one moment.
    let row = sqlx::query!(
        r#"select j.id, j.scale_id, j.head_seq, j.head_hash, j.closed_at, j.imported, r.number as "number?",
                  array(select e.sealed from entry e where e.job_id = j.id order by e.seq) as "entries!"
           from job j left join record r on r.job_id = j.id and not r.superseded where j.id = $1 and j.workshop_id = $2"#,
        id,
        workshop
    )
    .fetch_optional(pool)
    .await?;
    let Some(r) = row else { return Ok(None) };
    let head = JobHead {
        id: r.id,
        scale_id: r.scale_id,
        head_seq: r.head_seq,
        head_hash: r.head_hash,
        closed_at: r.closed_at,
        imported: r.imported,
        number: r.number,
    };
    let sealed = r.entries.iter().map(|text| serde_json::from_str(text)).collect::<Result<_, _>>()?;
    Ok(Some(Job { workshop, head, journal: Journal::of(id, sealed)? }))
}

/// Whether the newest entry of a job is the one with this hash.
pub async fn is_at(pool: &PgPool, job: Uuid, head: &str) -> Result<bool, StoreError> {
    Ok(sqlx::query_scalar!("select head_hash from job where id = $1", job)
        .fetch_optional(pool)
        .await?
        .is_some_and(|hash| hash == head))
}

//! Jobs and their journals. Appending is one statement: it moves the job's row on from the head that the
//! entry was sealed behind, so that the sequence and the chain have no gap, whoever else appends. An entry
//! that closes the job freezes its record in the same transaction.

use ombret_core::job::{JobFile, Journal};
use ombret_core::journal::{Body, Entry, Sealed, fold};
use ombret_core::scale::ScaleSheet;
use serde::Serialize;
use serde_json::json;
use sqlx::{PgPool, Postgres, Transaction};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

pub use super::journals::{Job, JobHead, is_at, job};
use super::people::Person;
use super::{StoreError, audit, records};
use crate::signing::Keys;

/// A job in a list.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct JobRow {
    /// Identity.
    pub id: Uuid,
    /// The scale.
    pub scale_id: Uuid,
    /// Its name.
    pub scale: String,
    /// Its owner.
    pub owner: String,
    /// Its place.
    pub place: String,
    /// When the job began.
    #[serde(with = "time::serde::rfc3339")]
    pub started_at: OffsetDateTime,
    /// Who began it.
    pub started_by: String,
    /// Entries so far.
    pub entries: i32,
    /// The reviewer sent the signed record back, with this remark.
    #[schema(required)]
    pub sent_back: Option<String>,
}

/// Open jobs of a workshop, the newest first.
pub async fn open(pool: &PgPool, workshop: Uuid) -> Result<Vec<JobRow>, StoreError> {
    let rows = sqlx::query!(
        r#"select j.id, j.scale_id, s.name as scale, s.owner, s.place,
                  j.started_at, p.name as started_by, j.head_seq,
                  (select e.sealed::jsonb #>> '{body,remarks}' from entry e
                   where e.job_id = j.id and e.sealed::jsonb #>> '{body,kind}' = 'sent_back' order by e.seq desc limit 1) as sent_back
           from job j join scale s on s.id = j.scale_id join person p on p.id = j.started_by
           where j.workshop_id = $1 and j.closed_at is null and not s.practice order by j.started_at desc limit 50"#,
        workshop
    )
    .fetch_all(pool)
    .await?;
    Ok(rows
        .into_iter()
        .map(|r| JobRow {
            id: r.id,
            scale_id: r.scale_id,
            scale: r.scale,
            owner: r.owner,
            place: r.place,
            started_at: r.started_at,
            started_by: r.started_by,
            entries: r.head_seq,
            sent_back: r.sent_back,
        })
        .collect())
}

/// Puts a sealed entry behind the others, in the database and in `job`; `false` where the job has moved on
/// meanwhile, and nothing was done.
///
/// # Errors
/// Where the database refuses, or an entry of this identity stands there already.
pub async fn append(pool: &PgPool, job: &mut Job, sealed: Sealed, keys: &Keys) -> Result<bool, StoreError> {
    let seq = i32::try_from(sealed.entry.seq).map_err(|e| StoreError::Unreadable(e.to_string()))?;
    // Only these open a job or close it; every other leaves it as it is.
    let turns = matches!(
        sealed.entry.body,
        Body::Closed(_) | Body::Approved(_) | Body::SentBack(_) | Body::Amended(_)
    );
    if turns {
        let mut after = job.clone();
        push(&mut after, sealed.clone(), seq);
        after.head.closed_at = after.journal.state().closed.as_ref().map(|(_, _, at)| *at);
        let mut tx = pool.begin().await?;
        if !move_on(&mut *tx, job, &sealed, seq, after.head.closed_at).await? {
            return Ok(false);
        }
        if matches!(sealed.entry.body, Body::Closed(_) | Body::Approved(_)) {
            after.head.number = Some(records::freeze(&mut tx, &after, keys, None).await?);
        }
        tx.commit().await?;
        *job = after;
    } else {
        if !move_on(pool, job, &sealed, seq, job.head.closed_at).await? {
            return Ok(false);
        }
        push(job, sealed, seq);
    }
    Ok(true)
}

fn push(job: &mut Job, sealed: Sealed, seq: i32) {
    job.head.head_seq = seq;
    job.head.head_hash.clone_from(&sealed.hash);
    job.journal.push(sealed);
}

async fn move_on(
    on: impl sqlx::PgExecutor<'_>,
    job: &Job,
    sealed: &Sealed,
    seq: i32,
    closed_at: Option<OffsetDateTime>,
) -> Result<bool, StoreError> {
    let moved = sqlx::query_scalar!(
        r#"with moved as (
             update job set head_seq = $4, head_hash = $5, closed_at = $6
             where id = $1 and workshop_id = $2 and head_hash = $3 returning id),
           put as (insert into entry (job_id, seq, id, sealed) select id, $4, $7, $8 from moved)
           select count(*) as "moved!" from moved"#,
        job.head.id,
        job.workshop,
        job.head.head_hash,
        seq,
        sealed.hash,
        closed_at,
        sealed.entry.id,
        serde_json::to_string(sealed)?
    )
    .fetch_one(on)
    .await?;
    Ok(moved > 0)
}

async fn insert_entries(
    tx: &mut Transaction<'static, Postgres>,
    job: Uuid,
    sealed: &[Sealed],
) -> Result<(), StoreError> {
    let seqs: Vec<i32> = sealed.iter().map(|s| i32::try_from(s.entry.seq).unwrap_or(i32::MAX)).collect();
    let ids: Vec<Uuid> = sealed.iter().map(|s| s.entry.id).collect();
    let texts: Vec<String> = sealed.iter().map(serde_json::to_string).collect::<Result<_, _>>()?;
    sqlx::query!(
        "insert into entry (job_id, seq, id, sealed) select $1, * from unnest($2::int[], $3::uuid[], $4::text[])",
        job,
        &seqs,
        &ids,
        &texts
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// Begins a job with its first entry; an identity that is there already is left as it is.
pub async fn begin(pool: &PgPool, workshop: Uuid, scale: Uuid, journal: &Journal) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    insert_whole(&mut tx, workshop, scale, &journal.sealed_after(0), journal.job(), false).await?;
    Ok(tx.commit().await?)
}

/// Stores a whole journal that was made here.
pub async fn store_own(
    pool: &PgPool,
    workshop: Uuid,
    scale: Uuid,
    file: &JobFile,
    keys: &Keys,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    store_whole(&mut tx, workshop, scale, file, false, keys).await?;
    Ok(tx.commit().await?)
}

/// Takes a journal in that came as a file, with its scale where that is not here yet: all or nothing.
pub async fn take_in(
    pool: &PgPool,
    by: &Person,
    new_scale: Option<&ScaleSheet>,
    scale: Uuid,
    file: &JobFile,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    if let Some(sheet) = new_scale {
        super::scales::add_within(&mut tx, by.workshop_id, sheet, None).await?;
    }
    store_whole(&mut tx, by.workshop_id, scale, file, true, &Keys::default()).await?;
    let detail = json!({"job": file.job, "scale": scale, "new_scale": new_scale.is_some()});
    audit::add(&mut tx, by, audit::AuditAct::JobImported, detail).await?;
    Ok(tx.commit().await?)
}

async fn store_whole(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    scale: Uuid,
    file: &JobFile,
    foreign: bool,
    keys: &Keys,
) -> Result<(), StoreError> {
    let head = insert_whole(tx, workshop, scale, &file.entries, file.job, foreign).await?;
    if head.closed_at.is_some() {
        let job = Job { workshop, head, journal: Journal::of(file.job, file.entries.clone())? };
        records::freeze(tx, &job, keys, foreign.then_some(file)).await?;
    }
    Ok(())
}

/// Inserts a job with its entries; what is to be frozen of it comes after.
pub(super) async fn insert_whole(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    scale: Uuid,
    sealed: &[Sealed],
    job: Uuid,
    imported: bool,
) -> Result<JobHead, StoreError> {
    let (Some(first), Some(last)) = (sealed.first(), sealed.last()) else {
        return Err(StoreError::Unreadable("a journal without entries".into()));
    };
    let entries: Vec<&Entry> = sealed.iter().map(|s| &s.entry).collect();
    let closed_at = fold(entries.iter().copied()).and_then(|state| state.closed).map(|(_, _, at)| at);
    let head_seq = i32::try_from(last.entry.seq).map_err(|e| StoreError::Unreadable(e.to_string()))?;
    // An imported job may have been begun by somebody who is not known here.
    let starter = sqlx::query_scalar!(
        "select id from person where workshop_id = $1 order by (id = $2) desc, created_at limit 1",
        workshop,
        first.entry.by.id
    )
    .fetch_one(&mut **tx)
    .await?;
    sqlx::query!(
        "insert into job (id, workshop_id, scale_id, started_by, started_at, head_seq, head_hash, closed_at, imported)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9)",
        job,
        workshop,
        scale,
        starter,
        first.entry.at,
        head_seq,
        last.hash,
        closed_at,
        imported
    )
    .execute(&mut **tx)
    .await?;
    insert_entries(tx, job, sealed).await?;
    Ok(JobHead {
        id: job,
        scale_id: scale,
        head_seq,
        head_hash: last.hash.clone(),
        closed_at,
        imported,
        number: None,
    })
}

/// The workshop of a job, if it is there at all.
pub async fn workshop_of(pool: &PgPool, job: Uuid) -> Result<Option<Uuid>, StoreError> {
    Ok(sqlx::query_scalar!("select workshop_id from job where id = $1", job).fetch_optional(pool).await?)
}

/// How many jobs are open, of all workshops.
pub async fn count_open(pool: &PgPool) -> Result<i64, StoreError> {
    Ok(sqlx::query_scalar!(r#"select count(*) as "open!" from job where closed_at is null"#)
        .fetch_one(pool)
        .await?)
}

/// The newest entry of a job; none where the workshop has no such job.
pub async fn head(pool: &PgPool, workshop: Uuid, job: Uuid) -> Result<Option<i32>, StoreError> {
    Ok(sqlx::query_scalar!("select head_seq from job where id = $1 and workshop_id = $2", job, workshop)
        .fetch_optional(pool)
        .await?)
}

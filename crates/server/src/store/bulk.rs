//! Many scales and jobs at once, as the generator of a large database makes them: the same rows that the
//! program itself would write, some thousand a statement.

use ombret_core::journal::{Before, UsedPiece};
use ombret_core::record::RecordSummary;
use ombret_core::scale::ScaleSheet;
use serde_json::Value;
use sqlx::{PgPool, Postgres, Transaction};
use time::{Date, OffsetDateTime};
use uuid::Uuid;

use super::figures::word;
use super::search::search_text;
use super::{StoreError, records};

/// A scale with what its last record left on it.
pub struct BulkScale {
    /// Its sheet.
    pub sheet: ScaleSheet,
    /// Its last record: outcome, when, when due again, drawing.
    pub last: Option<(String, OffsetDateTime, Date, Value)>,
}

/// A job, closed or open.
pub struct BulkJob {
    /// Its identity.
    pub job: Uuid,
    /// Its scale.
    pub scale: Uuid,
    /// When it was begun.
    pub started_at: OffsetDateTime,
    /// Its entries: identity and sealed text.
    pub entries: Vec<(Uuid, String)>,
    /// Hash of the last.
    pub head_hash: String,
    /// Its record; none: it is open.
    pub record: Option<BulkRecord>,
}

/// The record of a job.
pub struct BulkRecord {
    /// Number.
    pub number: String,
    /// Frozen bytes.
    pub file: Vec<u8>,
    /// Their hash.
    pub sha256: String,
    /// What the job came to.
    pub outcome: String,
    /// What the next job needs.
    pub before: Before,
    /// When it was closed.
    pub closed_at: OffsetDateTime,
    /// When it was approved.
    pub approved_at: Option<OffsetDateTime>,
    /// Its drawing.
    pub error_chart: Value,
    /// What is counted of it.
    pub record_summary: RecordSummary,
    /// The pieces it rests on.
    pub pieces: Vec<UsedPiece>,
}

/// Stores scales and their jobs in one transaction.
///
/// # Errors
/// Where the database refuses one.
pub async fn store(
    pool: &PgPool,
    workshop: Uuid,
    by: Uuid,
    scales: &[BulkScale],
    jobs: &[BulkJob],
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    insert_scales(&mut tx, workshop, scales).await?;
    insert_jobs(&mut tx, workshop, by, jobs).await?;
    let with: Vec<(&BulkJob, &BulkRecord)> =
        jobs.iter().filter_map(|j| Some((j, j.record.as_ref()?))).collect();
    insert_records(&mut tx, workshop, &with).await?;
    insert_summaries(&mut tx, workshop, &with).await?;
    tx.commit().await?;
    Ok(())
}

/// A column of rows.
fn each<T, U>(rows: &[T], of: impl FnMut(&T) -> U) -> Vec<U> {
    rows.iter().map(of).collect()
}

async fn insert_scales(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    scales: &[BulkScale],
) -> Result<(), StoreError> {
    let sheets = scales.iter().map(|s| serde_json::to_value(&s.sheet)).collect::<Result<Vec<_>, _>>()?;
    sqlx::query!(
        "insert into scale (workshop_id, id, sheet, search, last_outcome, last_closed_at, next_due, last_shade, due_reason)
         select $1, id, sheet, search, outcome, closed, coalesce(due, current_date), shade, case when due is null then 'never proven' else (sheet->>'interval_months') || ' months by the owner''s rule' end
         from unnest($2::uuid[], $3::jsonb[], $4::text[], $5::text[], $6::timestamptz[], $7::date[], $8::jsonb[]) as t (id, sheet, search, outcome, closed, due, shade)",
        workshop,
        &each(scales, |s| s.sheet.id),
        &sheets,
        &each(scales, |s| search_text(&s.sheet)),
        &each(scales, |s| s.last.as_ref().map(|l| l.0.clone())) as &[Option<String>],
        &each(scales, |s| s.last.as_ref().map(|l| l.1)) as &[Option<OffsetDateTime>],
        &each(scales, |s| s.last.as_ref().map(|l| l.2)) as &[Option<Date>],
        &each(scales, |s| s.last.as_ref().map(|l| l.3.clone())) as &[Option<Value>]
    )
    .execute(&mut **tx)
    .await?;
    super::customers::link(tx, workshop, None).await
}

async fn insert_jobs(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    by: Uuid,
    jobs: &[BulkJob],
) -> Result<(), StoreError> {
    let count = |j: &BulkJob| i32::try_from(j.entries.len()).unwrap_or(i32::MAX);
    sqlx::query!(
        "insert into job (workshop_id, started_by, id, scale_id, started_at, head_seq, head_hash, closed_at)
         select $1, $2, * from unnest($3::uuid[], $4::uuid[], $5::timestamptz[], $6::int[], $7::text[], $8::timestamptz[])",
        workshop,
        by,
        &each(jobs, |j| j.job),
        &each(jobs, |j| j.scale),
        &each(jobs, |j| j.started_at),
        &each(jobs, count),
        &each(jobs, |j| j.head_hash.clone()),
        &each(jobs, |j| j.record.as_ref().map(|r| r.closed_at)) as &[Option<OffsetDateTime>]
    )
    .execute(&mut **tx)
    .await?;
    let entries: Vec<(Uuid, i32, Uuid, &String)> = jobs
        .iter()
        .flat_map(|j| (1i32..).zip(&j.entries).map(|(seq, (id, text))| (j.job, seq, *id, text)))
        .collect();
    sqlx::query!(
        "insert into entry (job_id, seq, id, sealed) select * from unnest($1::uuid[], $2::int[], $3::uuid[], $4::text[])",
        &each(&entries, |e| e.0),
        &each(&entries, |e| e.1),
        &each(&entries, |e| e.2),
        &each(&entries, |e| e.3.clone())
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

async fn insert_records(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    with: &[(&BulkJob, &BulkRecord)],
) -> Result<(), StoreError> {
    let before = with.iter().map(|(_, r)| serde_json::to_value(&r.before)).collect::<Result<Vec<_>, _>>()?;
    sqlx::query!(
        "insert into record (workshop_id, program, rules, version, superseded, job_id, scale_id, number, file, sha256, outcome, before, closed_at, shade, seq, approved_at)
         select $1, $2, $3, 1, false, * from unnest($4::uuid[], $5::uuid[], $6::text[], $7::bytea[], $8::text[], $9::text[], $10::jsonb[], $11::timestamptz[], $12::jsonb[], $13::int[], $14::timestamptz[])",
        workshop,
        crate::PROGRAM,
        ombret_core::job::RULES_VERSION,
        &each(with, |(j, _)| j.job),
        &each(with, |(j, _)| j.scale),
        &each(with, |(_, r)| r.number.clone()),
        &each(with, |(_, r)| r.file.clone()),
        &each(with, |(_, r)| r.sha256.clone()),
        &each(with, |(_, r)| r.outcome.clone()),
        &before,
        &each(with, |(_, r)| r.closed_at),
        &each(with, |(_, r)| r.error_chart.clone()),
        &each(with, |(j, _)| i32::try_from(j.entries.len()).unwrap_or(i32::MAX)),
        &each(with, |(_, r)| r.approved_at) as &[Option<OffsetDateTime>]
    )
    .execute(&mut **tx)
    .await?;
    let pieces: Vec<(Uuid, OffsetDateTime, &UsedPiece)> =
        with.iter().flat_map(|(j, r)| r.pieces.iter().map(|p| (j.job, r.closed_at, p))).collect();
    sqlx::query!(
        "insert into record_piece (workshop_id, job_id, closed_at, piece_id, serial, certificate) select $1, * from unnest($2::uuid[], $3::timestamptz[], $4::uuid[], $5::text[], $6::text[])",
        workshop,
        &each(&pieces, |p| p.0),
        &each(&pieces, |p| p.1),
        &each(&pieces, |p| p.2.id),
        &each(&pieces, |p| p.2.serial.clone()),
        &each(&pieces, |p| p.2.certificate.clone()) as &[Option<String>]
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

async fn insert_summaries(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    with: &[(&BulkJob, &BulkRecord)],
) -> Result<(), StoreError> {
    let words = |of: &dyn Fn(&RecordSummary) -> Result<String, StoreError>| {
        with.iter().map(|(_, r)| of(&r.record_summary)).collect::<Result<Vec<_>, _>>()
    };
    let causes = with
        .iter()
        .map(|(_, r)| r.record_summary.cause.map(word).transpose())
        .collect::<Result<Vec<_>, _>>()?;
    sqlx::query!(
        "insert into record_gist (workshop_id, job_id, closed_at, kind, found, cause, age, adjusted, faults)
         select $1, job, closed, kind, found, cause, age, adjusted, string_to_array(faults, ' ')
         from unnest($2::uuid[], $3::timestamptz[], $4::text[], $5::text[], $6::text[], $7::int[], $8::bool[], $9::text[]) as t (job, closed, kind, found, cause, age, adjusted, faults)",
        workshop,
        &each(with, |(j, _)| j.job),
        &each(with, |(_, r)| r.closed_at),
        &words(&|g| word(g.kind))?,
        &words(&|g| word(g.found))?,
        &causes as &[Option<String>],
        &each(with, |(_, r)| r.record_summary.age.map(i32::from)) as &[Option<i32>],
        &each(with, |(_, r)| r.record_summary.adjusted),
        // Names of items have no blanks.
        &each(with, |(_, r)| r.record_summary.faults.join(" "))
    )
    .execute(&mut **tx)
    .await?;
    let mut marks = Vec::new();
    for (job, record) in with {
        for mark in &record.record_summary.marks {
            marks.push((job.job, record.closed_at, word(mark.kind)?, mark.plain.clone(), mark.text.clone()));
        }
    }
    sqlx::query!(
        "insert into record_mark (workshop_id, job_id, closed_at, kind, plain, said) select $1, * from unnest($2::uuid[], $3::timestamptz[], $4::text[], $5::text[], $6::text[])",
        workshop,
        &each(&marks, |m| m.0),
        &each(&marks, |m| m.1),
        &each(&marks, |m| m.2.clone()),
        &each(&marks, |m| m.3.clone()),
        &each(&marks, |m| m.4.clone())
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// Ends the filling: numbers go on behind those that were given, and the planner learns what there is.
///
/// # Errors
/// Where the database refuses it.
pub async fn settle(pool: &PgPool, workshop: Uuid, numbers: &[String]) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    for number in numbers {
        records::count_up_to(&mut tx, workshop, number).await?;
    }
    tx.commit().await?;
    sqlx::query!("vacuum analyze").execute(pool).await?;
    Ok(())
}

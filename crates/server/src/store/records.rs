//! Issued records: frozen bytes, numbered by workshop and year.

use ombret_core::assessment::Assessment;
use ombret_core::job::{FileError, JobFile, RULES_VERSION, open_file};
use ombret_core::journal::{
    Before, JobState, Outcome, PadBefore, Setup, SetupOrigin, SpanOnRecord, Statement, UsedPiece,
};
use ombret_core::record::record_summary;
use ombret_core::schedule::{Drawn, due_after};
use serde::Serialize;
use sqlx::{PgPool, Postgres, Transaction};
use time::{Date, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

use super::journals::Job;
use super::{StoreError, figures, listed};
use crate::signing::Keys;
use crate::{PROGRAM, sha256_hex};

/// Freezes the record of a signed or approved job: its bytes with the workshop's signature, its number, what
/// the next job needs of it, and what the list of scales shows. What was frozen before stays as it is and is
/// superseded. What came from elsewhere is kept as it came: it has no number of this workshop, and its key
/// signs nothing of it. `foreign` is the file it came as.
pub(super) async fn freeze(
    tx: &mut Transaction<'static, Postgres>,
    job: &Job,
    keys: &Keys,
    foreign: Option<&JobFile>,
) -> Result<String, StoreError> {
    let workshop = job.workshop;
    let state = job.journal.state();
    let assessment = job.journal.assess();
    let closed_at = job.head.closed_at.unwrap_or(OffsetDateTime::UNIX_EPOCH);
    let version = state.review.version();
    let last = sqlx::query!(
        "select number, version, file from record where job_id = $1 and not superseded",
        job.head.id
    )
    .fetch_optional(&mut **tx)
    .await?;
    let number = match &last {
        Some(last) => numbered(
            last.number
                .strip_suffix(&format!("-{}", last.version))
                .filter(|_| last.version > 1)
                .unwrap_or(&last.number),
            version,
        ),
        None if job.head.imported => numbered(&foreign_number(job.head.id), version),
        None => numbered(&next_number(tx, workshop, closed_at.year(), state.sheet.practice).await?, version),
    };
    sqlx::query!("update record set superseded = true where job_id = $1 and not superseded", job.head.id)
        .execute(&mut **tx)
        .await?;
    let mut file = match foreign {
        Some(file) => file.clone(),
        None => JobFile::new(job.head.id, PROGRAM, job.journal.sealed_after(0)),
    };
    // What was signed before is part of the journal's beginning, and stays signed.
    if let Some(last) = last {
        file.signatures = open_file(&last.file).map_err(unreadable)?.0.signatures;
    }
    if !job.head.imported && !state.sheet.practice {
        let statement = Statement {
            job: job.head.id,
            workshop: sqlx::query_scalar!("select name from workshop where id = $1", workshop)
                .fetch_one(&mut **tx)
                .await?,
            number: number.clone(),
            version,
            head: job.head.head_hash.clone(),
            entries: u32::try_from(job.journal.entries().len()).unwrap_or(u32::MAX),
            outcome: assessment.outcome,
            rules: RULES_VERSION.into(),
            at: OffsetDateTime::now_utc(),
        };
        file.signatures.extend(keys.sign(statement)?);
    }
    let bytes = serde_json::to_vec_pretty(&file)?;
    let row = FrozenRow {
        job: job.head.id,
        workshop,
        scale: job.head.scale_id,
        number: &number,
        bytes: &bytes,
        program: PROGRAM,
        rules: RULES_VERSION,
        closed_at,
        seq: job.head.head_seq,
        version: i32::try_from(version).unwrap_or(i32::MAX),
        superseded: false,
        foreign: job.head.imported,
    };
    insert(tx, &row, state, &assessment).await?;
    Ok(number)
}

fn unreadable(error: FileError) -> StoreError {
    StoreError::Unreadable(error.to_string())
}

/// What a record from elsewhere is called here: not a number of this workshop.
pub(super) fn foreign_number(job: Uuid) -> String {
    let hash = sha256_hex(job.as_bytes());
    format!("imported-{}", hash.get(..10).unwrap_or_default())
}

/// A record as it is frozen.
pub(super) struct FrozenRow<'a> {
    pub(super) job: Uuid,
    pub(super) workshop: Uuid,
    pub(super) scale: Uuid,
    pub(super) number: &'a str,
    pub(super) bytes: &'a [u8],
    pub(super) program: &'a str,
    pub(super) rules: &'a str,
    pub(super) closed_at: OffsetDateTime,
    pub(super) seq: i32,
    pub(super) version: i32,
    pub(super) superseded: bool,
    /// It came from elsewhere.
    pub(super) foreign: bool,
}

/// Inserts a frozen record with what the next job, the recall list and the list of scales need of it.
pub(super) async fn insert(
    tx: &mut Transaction<'static, Postgres>,
    row: &FrozenRow<'_>,
    state: &JobState,
    assessment: &Assessment,
) -> Result<(), StoreError> {
    let sha256: String = sha256_hex(row.bytes);
    let outcome = serde_json::to_value(assessment.outcome)?.as_str().unwrap_or_default().to_owned();
    let shade = serde_json::to_value(&assessment.error_chart)?;
    let before = left_behind(state, row.number, row.closed_at);
    sqlx::query!(
        "insert into record (job_id, workshop_id, scale_id, number, file, sha256, outcome, program, rules, before, closed_at, shade, seq, version, approved_at, superseded, approval)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17)",
        row.job,
        row.workshop,
        row.scale,
        row.number,
        row.bytes,
        sha256,
        outcome,
        row.program,
        row.rules,
        serde_json::to_value(&before)?,
        row.closed_at,
        shade,
        row.seq,
        row.version,
        state.review.approved.as_ref().map(|a| a.at),
        row.superseded,
        state.review.approval
    )
    .execute(&mut **tx)
    .await?;
    let facts = listed::Facts {
        job: row.job,
        seq: row.seq,
        workshop: row.workshop,
        closed_at: row.closed_at,
        number: row.number,
        foreign: row.foreign,
    };
    listed::keep(tx, &facts, state, assessment).await?;
    // Practice is no record of a real scale: it is neither counted nor called back.
    if !state.sheet.practice {
        keep_pieces(tx, row, &assessment.weights_used).await?;
        if !row.superseded && !row.foreign {
            let priors = figures::priors(tx, row.workshop).await?;
            figures::keep(
                tx,
                row.workshop,
                row.job,
                row.closed_at,
                &record_summary(state, assessment, row.number, row.closed_at, &priors),
            )
            .await?;
        }
    }
    // What others say of a scale does not decide when this workshop looks at it again.
    if row.superseded || row.foreign {
        return Ok(());
    }
    let (due, reason) = due_again(tx, row, state, assessment.outcome).await?;
    // A record that comes late, from a file, must not push a newer one aside.
    sqlx::query!(
        "update scale set last_outcome = $2, last_closed_at = $3, next_due = $4, last_shade = $5, due_reason = $6 where id = $1 and coalesce(last_closed_at, 'epoch') <= $3",
        row.scale,
        outcome,
        row.closed_at,
        due,
        shade,
        reason
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// What the next job on the scale needs to know of this one.
pub(crate) fn left_behind(state: &JobState, number: &str, closed_at: OffsetDateTime) -> Before {
    Before {
        number: number.to_owned(),
        closed_at,
        setup: left_setup(state, 1),
        span: left_span(state, 1),
        pads: (2..=state.sheet.pads)
            .map(|pad| PadBefore { pad, setup: left_setup(state, pad), span: left_span(state, pad) })
            .collect(),
        counters: state.counters.1.clone().or_else(|| state.counters.0.clone()),
        faults: state.faulty_items().map(ToOwned::to_owned).collect(),
    }
}

async fn keep_pieces(
    tx: &mut Transaction<'static, Postgres>,
    row: &FrozenRow<'_>,
    used: &[UsedPiece],
) -> Result<(), StoreError> {
    let (ids, serials): (Vec<Uuid>, Vec<String>) = used.iter().map(|p| (p.id, p.serial.clone())).unzip();
    let certificates: Vec<Option<String>> = used.iter().map(|p| p.certificate.clone()).collect();
    sqlx::query!(
        "insert into record_piece (job_id, workshop_id, closed_at, piece_id, serial, certificate) select $1, $2, $3, * from unnest($4::uuid[], $5::text[], $6::text[])
         on conflict (job_id, piece_id) do update set closed_at = excluded.closed_at",
        row.job,
        row.workshop,
        row.closed_at,
        &ids,
        &serials,
        &certificates as &[Option<String>]
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// Counts on from a number that came from elsewhere.
pub(super) async fn count_up_to(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    number: &str,
) -> Result<(), StoreError> {
    let mut parts = number.split('-').map(str::parse::<i32>);
    let (Some(Ok(year)), Some(Ok(count))) = (parts.next(), parts.next()) else { return Ok(()) };
    sqlx::query!(
        "insert into record_counter (workshop_id, year, last) values ($1, $2, $3) on conflict (workshop_id, year) do update set last = greatest(record_counter.last, excluded.last)",
        workshop,
        year,
        count
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// When it is due again, and why.
async fn due_again(
    tx: &mut Transaction<'static, Postgres>,
    row: &FrozenRow<'_>,
    state: &JobState,
    outcome: Outcome,
) -> Result<(Date, String), StoreError> {
    let kept = sqlx::query_scalar!("select r.shade from record r join job j on j.id = r.job_id where r.scale_id = $1 and not r.superseded and not j.imported and r.closed_at <= $2 order by r.closed_at desc limit 3", row.scale, row.closed_at).fetch_all(&mut **tx).await?;
    let mut drawn: Vec<Drawn> =
        kept.into_iter().flatten().filter_map(|shade| serde_json::from_value(shade).ok()).collect();
    drawn.reverse();
    let before = sqlx::query_scalar!("select next_due from scale where id = $1", row.scale)
        .fetch_optional(&mut **tx)
        .await?
        .flatten();
    let (day, why) = due_after(state, outcome, row.closed_at.date(), &drawn, before);
    // Kept as data: it is read in whatever language the reader has.
    Ok((day, serde_json::to_string(&why)?))
}

/// The set-up that a pad was left with, where it is known.
fn left_setup(state: &JobState, pad: u8) -> Option<Setup> {
    let (setup, origin) = state.setup_of(pad);
    (origin != SetupOrigin::Plate).then_some(setup)
}

/// The span that a pad was left with: this job's, or the last record's.
fn left_span(state: &JobState, pad: u8) -> Option<SpanOnRecord> {
    let of_job = state.pad(pad).adjusted.as_ref().and_then(|a| a.on_record());
    let before = state.before.as_ref();
    of_job.or_else(|| {
        if pad == 1 { before?.span.clone() } else { before?.pads.iter().find(|p| p.pad == pad)?.span.clone() }
    })
}

async fn next_number(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    year: i32,
    practice: bool,
) -> Result<String, StoreError> {
    // Practice is counted apart and says so: its sheets can never be mistaken for records.
    let counted_as = if practice { -year } else { year };
    let last = sqlx::query_scalar!(
        "insert into record_counter (workshop_id, year, last) values ($1, $2, 1)
         on conflict (workshop_id, year) do update set last = record_counter.last + 1 returning last",
        workshop,
        counted_as
    )
    .fetch_one(&mut **tx)
    .await?;
    Ok(if practice { format!("practice-{year}-{last:04}") } else { format!("{year}-{last:04}") })
}

/// The number of a version: the first has it plain.
pub(super) fn numbered(base: &str, version: u32) -> String {
    if version > 1 { format!("{base}-{version}") } else { base.to_owned() }
}

/// The job whose record has, or had, this number.
pub async fn job_of(pool: &PgPool, workshop: Uuid, number: &str) -> Result<Option<Uuid>, StoreError> {
    Ok(sqlx::query_scalar!(
        "select job_id from record where workshop_id = $1 and number = $2 order by superseded limit 1",
        workshop,
        number
    )
    .fetch_optional(pool)
    .await?)
}

/// The frozen bytes of a record with its number: of a version, or as it stands now. None while the job
/// is open, unless an earlier version is asked for.
pub async fn file(
    pool: &PgPool,
    workshop: Uuid,
    job: Uuid,
    version: Option<i32>,
) -> Result<Option<Issued>, StoreError> {
    let row = sqlx::query!(
        r#"select r.number, r.file, r.sha256, r.version, r.superseded, j.imported, (select n.number from record n where n.job_id = r.job_id and not n.superseded) as current
           from record r join job j on j.id = r.job_id
           where r.job_id = $1 and r.workshop_id = $2 and case when $3::int is null then not r.superseded and j.closed_at is not null else r.version = $3 end
           order by r.seq desc limit 1"#,
        job,
        workshop,
        version
    );
    let row = row.fetch_optional(pool).await?;
    Ok(row.map(|r| Issued {
        replaced_by: r.current.filter(|c| *c != r.number),
        number: r.number,
        sha256: r.sha256,
        bytes: r.file,
        foreign: r.imported,
    }))
}

/// A frozen record as it is shown to whoever holds its paper.
pub struct Checked {
    /// The workshop.
    pub workshop: String,
    /// Its number.
    pub number: String,
    /// Its bytes.
    pub bytes: Vec<u8>,
    /// Their hash.
    pub sha256: String,
    /// Number of the version that took its place.
    pub replaced_by: Option<String>,
}

/// The record of a job whose hash begins so, whatever its workshop; none of those that came from elsewhere,
/// and none of practice.
pub async fn by_code(pool: &PgPool, job: Uuid, code: &str) -> Result<Option<Checked>, StoreError> {
    let row = sqlx::query!(
        r#"select w.name as workshop, r.number, r.file, r.sha256, n.number as "current?"
           from record r join job j on j.id = r.job_id join scale s on s.id = j.scale_id join workshop w on w.id = r.workshop_id
           left join record n on n.job_id = r.job_id and not n.superseded
           where r.job_id = $1 and left(r.sha256, length($2)) = $2 and not j.imported and not s.practice limit 1"#,
        job,
        code
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|r| Checked {
        replaced_by: r.current.filter(|c| *c != r.number),
        workshop: r.workshop,
        number: r.number,
        bytes: r.file,
        sha256: r.sha256,
    }))
}

/// A frozen record.
#[derive(Clone, Debug)]
pub struct Issued {
    /// Its number.
    pub number: String,
    /// Its bytes.
    pub bytes: Vec<u8>,
    /// Their hash.
    pub sha256: String,
    /// Number of the version that took its place.
    pub replaced_by: Option<String>,
    /// It came from elsewhere.
    pub foreign: bool,
}

/// A version of a record.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct VersionRow {
    /// Its job.
    pub job: Uuid,
    /// Version, from 1.
    pub version: i32,
    /// Number.
    pub number: String,
    /// What the job came to.
    pub outcome: Outcome,
    /// When it was signed.
    #[serde(with = "time::serde::rfc3339")]
    pub signed_at: OffsetDateTime,
    /// When it was approved.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(required)]
    pub approved_at: Option<OffsetDateTime>,
    /// SHA-256 of its bytes.
    pub sha256: String,
}

/// The versions of a job's record, the newest first; of each the bytes that were frozen last.
pub async fn versions(pool: &PgPool, workshop: Uuid, job: Uuid) -> Result<Vec<VersionRow>, StoreError> {
    let rows = sqlx::query!(
        "select distinct on (version) version, number, outcome, closed_at, approved_at, sha256 from record where job_id = $1 and workshop_id = $2 order by version desc, seq desc",
        job,
        workshop
    );
    let rows = rows.fetch_all(pool).await?;
    rows.into_iter()
        .map(|r| {
            Ok(VersionRow {
                job,
                version: r.version,
                number: r.number,
                outcome: serde_json::from_value(r.outcome.into())?,
                signed_at: r.closed_at,
                approved_at: r.approved_at,
                sha256: r.sha256,
            })
        })
        .collect()
}

/// A signed record that waits for approval.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct WaitingRow {
    /// Its job.
    pub job: Uuid,
    /// Its number.
    pub number: String,
    /// The scale.
    pub scale: String,
    /// Its owner.
    pub owner: String,
    /// What the job came to.
    pub outcome: Outcome,
    /// When it was signed.
    #[serde(with = "time::serde::rfc3339")]
    pub signed_at: OffsetDateTime,
}

/// Records that wait for approval, the longest first; none in a workshop that asks for no approval.
pub async fn waiting(pool: &PgPool, workshop: Uuid) -> Result<Vec<WaitingRow>, StoreError> {
    let rows = sqlx::query!(
        r#"select r.job_id, r.number, r.outcome, r.closed_at, s.name as scale, s.owner
           from record r join job j on j.id = r.job_id join scale s on s.id = r.scale_id
           where r.workshop_id = $1 and not j.imported and coalesce(r.approval, (select review from workshop where id = $1)) and not r.superseded and r.approved_at is null and j.closed_at is not null and not s.practice order by r.closed_at limit 100"#,
        workshop
    );
    let rows = rows.fetch_all(pool).await?;
    rows.into_iter()
        .map(|r| {
            Ok(WaitingRow {
                job: r.job_id,
                number: r.number,
                scale: r.scale,
                owner: r.owner,
                outcome: serde_json::from_value(r.outcome.into())?,
                signed_at: r.closed_at,
            })
        })
        .collect()
}

/// A job as it is stored, for checking it.
#[derive(Clone, Debug)]
pub struct Frozen {
    /// The job.
    pub job: Uuid,
    /// Its entries, in order, as text.
    pub entries: Vec<String>,
    /// It came from elsewhere.
    pub imported: bool,
    /// It is a lesson's.
    pub practice: bool,
    /// Its records, in the order in which they were frozen.
    pub records: Vec<FrozenRecord>,
}

/// A record as it is stored, for checking it.
#[derive(Clone, Debug)]
pub struct FrozenRecord {
    /// Its bytes.
    pub bytes: Vec<u8>,
    /// Their hash.
    pub sha256: String,
    /// Its number.
    pub number: String,
    /// When it was frozen.
    pub stored_at: OffsetDateTime,
}

/// Jobs after this one, whatever their workshop, in the order of their identity.
pub async fn frozen_after(pool: &PgPool, after: Uuid, limit: i64) -> Result<Vec<Frozen>, StoreError> {
    let rows = sqlx::query!(
        r#"select j.id, j.imported, s.practice, array(select r.stored_at from record r where r.job_id = j.id order by r.seq) as "stored!", array(select r.number from record r where r.job_id = j.id order by r.seq) as "numbers!", array(select r.file from record r where r.job_id = j.id order by r.seq) as "files!", array(select r.sha256 from record r where r.job_id = j.id order by r.seq) as "hashes!",
                  array(select e.sealed from entry e where e.job_id = j.id order by e.seq) as "entries!"
           from job j join scale s on s.id = j.scale_id where j.id > $1 order by j.id limit $2"#,
        after,
        limit
    );
    let rows = rows.fetch_all(pool).await?;
    Ok(rows
        .into_iter()
        .map(|r| Frozen {
            job: r.id,
            entries: r.entries,
            imported: r.imported,
            practice: r.practice,
            records: r
                .files
                .into_iter()
                .zip(r.hashes)
                .zip(r.numbers)
                .zip(r.stored)
                .map(|(((bytes, sha256), number), stored_at)| FrozenRecord {
                    bytes,
                    sha256,
                    number,
                    stored_at,
                })
                .collect(),
        })
        .collect())
}

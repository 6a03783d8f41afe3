//! Issued records: frozen bytes, numbered by workshop and year.

use ombret_core::job::{Before, JobFile, JobState, PadBefore, RULES_VERSION, Setup, SetupOrigin, SpanOnRecord, assess};
use ombret_core::schedule::{Drawn, IntervalOutcome, add_months, next_due, shares};
use sha2::{Digest, Sha256};
use sqlx::{PgPool, Postgres, Transaction};
use time::{Date, OffsetDateTime};
use uuid::Uuid;

use super::StoreError;
use super::jobs::Journal;
use crate::PROGRAM;

/// Freezes the record of a closed job: its bytes, its number, what the next job needs of it, and
/// what the list of scales shows. `file` is the file it came as, where it was imported.
pub(super) async fn freeze(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    journal: &Journal,
    file: Option<&JobFile>,
) -> Result<String, StoreError> {
    let entries = journal.entries();
    let state = journal.state()?;
    let assessment = assess(&entries, &state);
    let closed_at = journal.head.closed_at.unwrap_or(OffsetDateTime::UNIX_EPOCH);
    let number = next_number(tx, workshop, closed_at.year(), state.sheet.practice).await?;
    let made;
    let file = match file {
        Some(file) => file,
        None => {
            made = JobFile::new(journal.head.id, PROGRAM, journal.sealed.clone());
            &made
        }
    };
    let bytes = serde_json::to_vec_pretty(file)?;
    let sha256: String = Sha256::digest(&bytes).iter().map(|b| format!("{b:02x}")).collect();
    let outcome = serde_json::to_value(assessment.outcome)?.as_str().unwrap_or_default().to_owned();
    let before = Before {
        number: number.clone(),
        closed_at,
        setup: left_setup(&state, 1),
        span: left_span(&state, 1),
        pads: (2..=state.sheet.pads).map(|pad| PadBefore { pad, setup: left_setup(&state, pad), span: left_span(&state, pad) }).collect(),
        counters: state.counters.1.clone().or_else(|| state.counters.0.clone()),
    };
    sqlx::query!(
        "insert into record (job_id, workshop_id, scale_id, number, file, sha256, outcome, program, rules, before, closed_at, shade)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)",
        journal.head.id,
        workshop,
        journal.head.scale_id,
        number,
        bytes,
        sha256,
        outcome,
        PROGRAM,
        RULES_VERSION,
        serde_json::to_value(&before)?,
        closed_at,
        serde_json::to_value(&assessment.shade)?
    )
    .execute(&mut **tx)
    .await?;
    let used = &assessment.weights_used;
    let (ids, serials): (Vec<Uuid>, Vec<String>) = used.iter().map(|p| (p.id, p.serial.clone())).unzip();
    let certificates: Vec<Option<String>> = used.iter().map(|p| p.certificate.clone()).collect();
    sqlx::query!(
        "insert into record_piece (job_id, piece_id, serial, certificate) select $1, * from unnest($2::uuid[], $3::text[], $4::text[])",
        journal.head.id,
        &ids,
        &serials,
        &certificates as &[Option<String>]
    )
    .execute(&mut **tx)
    .await?;
    let (due, reason) = due_after(tx, journal.head.scale_id, &state, closed_at).await?;
    // A record that comes late, from a file, must not push a newer one aside.
    sqlx::query!(
        "update scale set last_outcome = $2, last_closed_at = $3, next_due = $4, last_shade = $5, due_reason = $6 where id = $1 and coalesce(last_closed_at, 'epoch') <= $3",
        journal.head.scale_id,
        outcome,
        closed_at,
        due,
        serde_json::to_value(&assessment.shade)?,
        reason
    )
    .execute(&mut **tx)
    .await?;
    Ok(number)
}

/// When it is due again, and why: the owner's rule, shortened or stretched by what was found. Source:
/// OIML D 10:2007, method 1.
async fn due_after(tx: &mut Transaction<'static, Postgres>, scale: Uuid, state: &JobState, closed_at: OffsetDateTime) -> Result<(Date, String), StoreError> {
    let months = u32::from(state.sheet.interval_months);
    let kept = sqlx::query_scalar!("select shade from record where scale_id = $1 and closed_at <= $2 order by closed_at desc limit 3", scale, closed_at).fetch_all(&mut **tx).await?;
    let mut drawn: Vec<Drawn> = kept.into_iter().flatten().filter_map(|shade| serde_json::from_value(shade).ok()).collect();
    drawn.reverse();
    // What the law or the owner sets for a trade scale is not stretched.
    let limit = state.sheet.trade.then_some(months);
    let Ok(told) = next_due(closed_at.date(), months, &shares(&drawn), limit) else {
        return Ok((add_months(closed_at.date(), months), format!("{months} months by the owner's rule")));
    };
    let reason = match told.outcome {
        IntervalOutcome::Halved => format!("{} months instead of {months}: found out of tolerance", told.months),
        IntervalOutcome::Stretched if told.months > months => format!("{} months instead of {months}: three times below 80 % of the tolerance", told.months),
        _ => format!("{months} months by the owner's rule"),
    };
    Ok((told.due, reason))
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
    of_job.or_else(|| if pad == 1 { before?.span.clone() } else { before?.pads.iter().find(|p| p.pad == pad)?.span.clone() })
}

async fn next_number(tx: &mut Transaction<'static, Postgres>, workshop: Uuid, year: i32, practice: bool) -> Result<String, StoreError> {
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

/// The job whose record has this number.
pub async fn job_of(pool: &PgPool, workshop: Uuid, number: &str) -> Result<Option<Uuid>, StoreError> {
    Ok(sqlx::query_scalar!("select job_id from record where workshop_id = $1 and number = $2", workshop, number).fetch_optional(pool).await?)
}

/// The frozen bytes of a record.
pub async fn file(pool: &PgPool, workshop: Uuid, job: Uuid) -> Result<Option<Vec<u8>>, StoreError> {
    Ok(sqlx::query_scalar!("select file from record where job_id = $1 and workshop_id = $2", job, workshop).fetch_optional(pool).await?)
}

/// A job as it is stored, for checking it.
#[derive(Clone, Debug)]
pub struct Frozen {
    /// The job.
    pub job: Uuid,
    /// Its entries, in order, as text.
    pub entries: Vec<String>,
    /// Its record's bytes and their hash, where it is closed.
    pub record: Option<(Vec<u8>, String)>,
}

/// Jobs after this one, whatever their workshop, in the order of their identity.
pub async fn frozen_after(pool: &PgPool, after: Uuid, limit: i64) -> Result<Vec<Frozen>, StoreError> {
    let rows = sqlx::query!(
        r#"select j.id, r.file as "file?", r.sha256 as "sha256?", array(select e.sealed from entry e where e.job_id = j.id order by e.seq) as "entries!"
           from job j left join record r on r.job_id = j.id where j.id > $1 order by j.id limit $2"#,
        after,
        limit
    );
    let rows = rows.fetch_all(pool).await?;
    Ok(rows.into_iter().map(|r| Frozen { job: r.id, entries: r.entries, record: r.file.zip(r.sha256) }).collect())
}

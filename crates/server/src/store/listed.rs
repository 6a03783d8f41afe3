//! The list of all records: what is shown and searched of each, out of its frozen bytes.

use ombret_core::assessment::{Assessment, assess};
use ombret_core::job::open_file;
use ombret_core::journal::{Entry, JobState, Outcome};
use ombret_core::record::{RecordTerms, why_report};
use ombret_core::scale::ScaleKind;
use serde::{Deserialize, Serialize};
use sqlx::{PgPool, Postgres, Transaction};
use time::{Date, OffsetDateTime};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::{StoreError, anywhere};

/// What is written down of a record.
pub(super) struct Facts<'a> {
    pub(super) job: Uuid,
    pub(super) seq: i32,
    pub(super) workshop: Uuid,
    pub(super) closed_at: OffsetDateTime,
    pub(super) number: &'a str,
    pub(super) foreign: bool,
}

/// Writes down what the list shows of a record. Practice is no record of a real scale.
pub(super) async fn keep(
    tx: &mut Transaction<'static, Postgres>,
    facts: &Facts<'_>,
    state: &JobState,
    assessed: &Assessment,
) -> Result<(), StoreError> {
    if state.sheet.practice {
        return Ok(());
    }
    let sheet = &state.sheet;
    let review = sqlx::query_scalar!("select review from workshop where id = $1", facts.workshop)
        .fetch_one(&mut **tx)
        .await?;
    let terms = RecordTerms::of(state, review, facts.foreign);
    let signed_by = assessed.close.signed.clone().unwrap_or_default();
    let search: String = [facts.number, &sheet.name, &sheet.owner, &sheet.place, &sheet.serial, &signed_by]
        .map(str::to_lowercase)
        .join(" · ")
        .chars()
        .take(600)
        .collect();
    sqlx::query!(
        "insert into record_listed (job_id, seq, workshop_id, closed_at, scale, customer, place, kind, signed_by, certificate, search)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) on conflict do nothing",
        facts.job,
        facts.seq,
        facts.workshop,
        facts.closed_at,
        sheet.name,
        sheet.owner,
        sheet.place,
        kind_text(sheet.kind)?,
        signed_by,
        why_report(state, assessed, terms).is_empty(),
        search
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

fn kind_text(kind: ScaleKind) -> Result<String, StoreError> {
    Ok(serde_json::to_value(kind)?.as_str().unwrap_or_default().to_owned())
}

/// Writes down what is not yet, of records from before there was a list; how many. A record that cannot be
/// read is left for `verify` to tell of.
pub async fn fill(pool: &PgPool) -> Result<usize, StoreError> {
    let (mut filled, mut after) = (0, (Uuid::nil(), 0));
    loop {
        let rows = sqlx::query!(
            "select r.job_id, r.seq, r.workshop_id, r.closed_at, r.number, r.file, j.imported from record r join job j on j.id = r.job_id
             where (r.job_id, r.seq) > ($1, $2) and not exists (select 1 from record_listed l where l.job_id = r.job_id and l.seq = r.seq)
             order by r.job_id, r.seq limit 50",
            after.0,
            after.1
        )
        .fetch_all(pool)
        .await?;
        let Some(last) = rows.last() else { return Ok(filled) };
        after = (last.job_id, last.seq);
        for row in rows {
            let read = tokio::task::spawn_blocking(move || {
                let (file, state) = open_file(&row.file).ok()?;
                let entries: Vec<Entry> = file.entries.into_iter().map(|s| s.entry).collect();
                let assessed = assess(&entries, &state);
                Some((state, assessed))
            });
            let Ok(Some((state, assessed))) = read.await else { continue };
            let facts = Facts {
                job: row.job_id,
                seq: row.seq,
                workshop: row.workshop_id,
                closed_at: row.closed_at,
                number: &row.number,
                foreign: row.imported,
            };
            let mut tx = pool.begin().await?;
            keep(&mut tx, &facts, &state, &assessed).await?;
            tx.commit().await?;
            filled += 1;
        }
    }
}

/// Which records.
#[derive(Clone, Debug, Default, Serialize, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(default)]
pub struct RecordsAsked {
    /// Words to look for in number, scale, customer, place, serial, who signed.
    pub search: String,
    /// The customer's.
    pub customer: Option<Uuid>,
    /// Of a place.
    pub place: Option<String>,
    /// Of a kind of scale.
    #[param(inline)]
    pub kind: Option<ScaleKind>,
    /// Signed by.
    pub technician: Option<String>,
    /// What it came to.
    #[param(inline)]
    pub outcome: Option<Outcome>,
    /// From this day on.
    #[serde(with = "iso_date::option")]
    #[param(value_type = Option<String>, format = Date)]
    pub from: Option<Date>,
    /// Up to this day.
    #[serde(with = "iso_date::option")]
    #[param(value_type = Option<String>, format = Date)]
    pub to: Option<Date>,
    /// Calibration certificates only, or work reports only.
    pub certificate: Option<bool>,
    /// Those only that wait for approval.
    pub waiting: bool,
}

time::serde::format_description!(iso_date, Date, "[year]-[month]-[day]");

/// A record in the list.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct RecordRow {
    /// Its job.
    pub job: Uuid,
    /// Its number.
    pub number: String,
    /// The scale's name, as it was.
    pub scale: String,
    /// The customer's, as it was.
    pub customer: String,
    /// Where it stood.
    pub place: String,
    /// What sort of scale.
    pub kind: ScaleKind,
    /// Who signed it.
    pub signed_by: String,
    /// What the job came to.
    pub outcome: Outcome,
    /// When it was signed.
    #[serde(with = "time::serde::rfc3339")]
    pub signed_at: OffsetDateTime,
    /// It is a calibration certificate.
    pub certificate: bool,
    /// It waits for approval.
    pub waiting: bool,
    /// It came from elsewhere.
    pub foreign: bool,
}

/// Where a page of the list begins: day and job of the last record seen.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub struct RecordCursor {
    /// When it was signed.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Its job.
    pub job: Uuid,
}

/// Records as they stand now, the newest first.
pub async fn page(
    pool: &PgPool,
    workshop: Uuid,
    asked: &RecordsAsked,
    after: Option<RecordCursor>,
    limit: i64,
) -> Result<Vec<RecordRow>, StoreError> {
    let kind = asked.kind.map(kind_text).transpose()?;
    let outcome = asked
        .outcome
        .map(|o| Ok::<_, StoreError>(serde_json::to_value(o)?.as_str().unwrap_or_default().to_owned()))
        .transpose()?;
    let rows = sqlx::query!(
        r#"select l.job_id, r.number, l.scale, l.customer, l.place, l.kind, l.signed_by, r.outcome, l.closed_at, l.certificate, j.imported,
                  (not j.imported and r.approved_at is null and coalesce(r.approval, w.review)) as "waiting!"
           from record_listed l join record r on r.job_id = l.job_id and r.seq = l.seq join job j on j.id = l.job_id
           join scale s on s.id = j.scale_id join workshop w on w.id = l.workshop_id
           where l.workshop_id = $1 and not r.superseded and j.closed_at is not null and l.search like $2
             and ($3::uuid is null or s.customer_id = $3) and ($4::text is null or lower(l.place) = lower($4)) and ($5::text is null or l.kind = $5)
             and ($6::text is null or lower(l.signed_by) = lower($6)) and ($7::text is null or r.outcome = $7)
             and ($8::date is null or l.closed_at >= $8::date) and ($9::date is null or l.closed_at < $9::date + 1)
             and ($10::boolean is null or l.certificate = $10)
             and (not $11 or (not j.imported and r.approved_at is null and coalesce(r.approval, w.review)))
             and ($12::timestamptz is null or (l.closed_at, l.job_id) < ($12, $13::uuid))
           order by l.closed_at desc, l.job_id desc limit $14"#,
        workshop,
        anywhere(asked.search.trim()),
        asked.customer,
        asked.place.as_deref(),
        kind,
        asked.technician.as_deref(),
        outcome,
        asked.from,
        asked.to,
        asked.certificate,
        asked.waiting,
        after.map(|c| c.at),
        after.map(|c| c.job),
        limit
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(RecordRow {
                job: r.job_id,
                number: r.number,
                scale: r.scale,
                customer: r.customer,
                place: r.place,
                kind: serde_json::from_value(r.kind.into())?,
                signed_by: r.signed_by,
                outcome: serde_json::from_value(r.outcome.into())?,
                signed_at: r.closed_at,
                certificate: r.certificate,
                waiting: r.waiting,
                foreign: r.imported,
            })
        })
        .collect()
}

/// Who signed records here, for choosing from.
pub async fn signers(pool: &PgPool, workshop: Uuid) -> Result<Vec<String>, StoreError> {
    Ok(sqlx::query_scalar!(
        "select distinct signed_by from record_listed where workshop_id = $1 and signed_by <> '' order by signed_by limit 200",
        workshop
    )
    .fetch_all(pool)
    .await?)
}

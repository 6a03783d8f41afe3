//! The summaries of records, counted.

use std::collections::BTreeMap;

use ombret_core::assessment::assess;
use ombret_core::diagnosis::Priors;
use ombret_core::job::open_file;
use ombret_core::journal::Entry;
use ombret_core::record::{MarkKind, RecordSummary, record_summary};
use ombret_core::statistics::Tally;
use sqlx::{PgPool, Postgres, Transaction};
use time::{Date, OffsetDateTime};
use uuid::Uuid;

use super::StoreError;

/// Keeps the summary of a job's record in the place of an earlier one. Marks are only added: a record is
/// found by its earlier numbers and seals too.
pub(super) async fn keep(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    job: Uuid,
    closed_at: OffsetDateTime,
    record_summary: &RecordSummary,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into record_gist (job_id, workshop_id, closed_at, kind, found, cause, faults, age, adjusted) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)
         on conflict (job_id) do update set closed_at = excluded.closed_at, kind = excluded.kind, found = excluded.found, cause = excluded.cause, faults = excluded.faults, age = excluded.age, adjusted = excluded.adjusted",
        job,
        workshop,
        closed_at,
        word(record_summary.kind)?,
        word(record_summary.found)?,
        record_summary.cause.map(word).transpose()?,
        &record_summary.faults,
        record_summary.age.map(i32::from),
        record_summary.adjusted
    )
    .execute(&mut **tx)
    .await?;
    let kinds = record_summary.marks.iter().map(|m| word(m.kind)).collect::<Result<Vec<_>, _>>()?;
    let plain: Vec<String> = record_summary.marks.iter().map(|m| m.plain.clone()).collect();
    let said: Vec<String> = record_summary.marks.iter().map(|m| m.text.clone()).collect();
    sqlx::query!(
        "insert into record_mark (job_id, workshop_id, closed_at, kind, plain, said) select $1, $2, $3, * from unnest($4::text[], $5::text[], $6::text[]) on conflict do nothing",
        job,
        workshop,
        closed_at,
        &kinds,
        &plain,
        &said
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// The stored word of a value.
pub(crate) fn word(value: impl serde::Serialize) -> Result<String, StoreError> {
    Ok(serde_json::to_value(value)?.as_str().unwrap_or_default().to_owned())
}

/// The priors of a workshop.
pub(super) async fn priors(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
) -> Result<Priors, StoreError> {
    Ok(serde_json::from_value(
        sqlx::query_scalar!("select priors from workshop where id = $1", workshop)
            .fetch_one(&mut **tx)
            .await?,
    )?)
}

/// Works out the summaries of records that an earlier version of the program froze, some at a time; how many
/// were done. A record that cannot be opened any more is passed over: `after` goes on behind it.
///
/// # Errors
/// Where the database cannot be read or written.
pub async fn fill_missing(pool: &PgPool, after: &mut Uuid, limit: i64) -> Result<usize, StoreError> {
    let mut tx = pool.begin().await?;
    let rows = sqlx::query!(
        "select r.job_id, r.workshop_id, r.number, r.file, r.closed_at from record r join scale s on s.id = r.scale_id
         where not r.superseded and not s.practice and r.job_id > $1 and not exists (select 1 from record_gist g where g.job_id = r.job_id) order by r.job_id limit $2",
        *after,
        limit
    );
    let rows = rows.fetch_all(&mut *tx).await?;
    for r in &rows {
        *after = r.job_id;
        let Ok((file, state)) = open_file(&r.file) else { continue };
        let entries: Vec<Entry> = file.entries.into_iter().map(|s| s.entry).collect();
        let assessed = assess(&entries, &state);
        let priors = priors(&mut tx, r.workshop_id).await?;
        keep(
            &mut tx,
            r.workshop_id,
            r.job_id,
            r.closed_at,
            &record_summary(&state, &assessed, &r.number, r.closed_at, &priors),
        )
        .await?;
    }
    tx.commit().await?;
    Ok(rows.len())
}

/// Records of a time, counted.
#[derive(Clone, Debug, Default)]
pub struct Counted {
    /// Of each month, as `2026-11`.
    pub months: BTreeMap<String, Tally>,
    /// Of each kind of scale.
    pub kinds: BTreeMap<String, Tally>,
    /// Of each age in years.
    pub ages: BTreeMap<Option<u16>, Tally>,
    /// How often each cause was told of those found outside; none: it could not be told.
    pub causes: BTreeMap<Option<String>, u64>,
    /// How often looking over found a fault at each item, and in how many records anything was looked over.
    pub faults: BTreeMap<String, u64>,
    /// Records in all, those without a reading as found too.
    pub records: u64,
}

/// Counts the records closed from a day to another, both included.
pub async fn counted(pool: &PgPool, workshop: Uuid, from: Date, to: Date) -> Result<Counted, StoreError> {
    let (from, to) = (from.midnight().assume_utc(), to.next_day().unwrap_or(to).midnight().assume_utc());
    // Everything but faults at once: the groups are few, the records many.
    let rows = sqlx::query!(
        r#"select to_char(closed_at at time zone 'utc', 'YYYY-MM') as "month!", kind, found, cause, age, count(*) as "count!"
           from record_gist where workshop_id = $1 and closed_at >= $2 and closed_at < $3 group by 1, 2, 3, 4, 5"#,
        workshop,
        from,
        to
    );
    let mut out = Counted::default();
    for r in rows.fetch_all(pool).await? {
        let count = u64::try_from(r.count).unwrap_or(0);
        out.records += count;
        let outside = r.found == "outside";
        if r.found == "unread" {
            continue;
        }
        if outside {
            *out.causes.entry(r.cause).or_default() += count;
        }
        let age = r.age.and_then(|a| u16::try_from(a).ok());
        for tally in [
            out.months.entry(r.month).or_default(),
            out.kinds.entry(r.kind).or_default(),
            out.ages.entry(age).or_default(),
        ] {
            tally.read += count;
            tally.outside += if outside { count } else { 0 };
        }
    }
    let faults = sqlx::query!(
        r#"select item as "item!", count(*) as "count!" from record_gist, unnest(faults) as item where workshop_id = $1 and closed_at >= $2 and closed_at < $3 and faults <> '{}' group by item"#,
        workshop,
        from,
        to
    );
    out.faults = faults
        .fetch_all(pool)
        .await?
        .into_iter()
        .map(|r| (r.item, u64::try_from(r.count).unwrap_or(0)))
        .collect();
    Ok(out)
}

/// The word of a kind of mark, back.
pub(super) fn mark_kind(word: &str) -> Result<MarkKind, StoreError> {
    Ok(serde_json::from_value(word.into())?)
}

//! Lessons of a workshop's own, runs of lessons, and what the operator did in them.

use ombret_core::practice::Act;
use sqlx::PgPool;
use uuid::Uuid;

use super::StoreError;
use super::audit::{self, AuditAct};
use super::people::Person;

/// A run of a lesson.
#[derive(Clone, Debug)]
pub struct Run {
    /// Its job.
    pub job: Uuid,
    /// Its scale.
    pub scale: Uuid,
    /// The lesson as it was when it began.
    pub lesson: String,
    /// Hints asked for.
    pub hints: usize,
    /// What is hidden was shown before the end.
    pub revealed: bool,
}

/// Lessons of a workshop's own: identity and text.
pub async fn lessons(pool: &PgPool, workshop: Uuid) -> Result<Vec<(String, String)>, StoreError> {
    let rows = sqlx::query!("select id, text from lesson where workshop_id = $1 order by id", workshop)
        .fetch_all(pool)
        .await?;
    Ok(rows.into_iter().map(|r| (r.id, r.text)).collect())
}

/// Keeps a lesson, in place of an earlier one of the same name.
pub async fn keep(pool: &PgPool, workshop: Uuid, id: &str, text: &str) -> Result<(), StoreError> {
    sqlx::query!("insert into lesson (workshop_id, id, text) values ($1, $2, $3) on conflict (workshop_id, id) do update set text = excluded.text", workshop, id, text)
        .execute(pool)
        .await?;
    Ok(())
}

/// Lessons that a person has done to the end.
pub async fn done(pool: &PgPool, workshop: Uuid, person: Uuid) -> Result<Vec<String>, StoreError> {
    let rows = sqlx::query_scalar!(
        "select distinct r.lesson_id from practice_run r join job j on j.id = r.job_id where r.workshop_id = $1 and r.person_id = $2 and j.closed_at is not null",
        workshop,
        person
    );
    Ok(rows.fetch_all(pool).await?)
}

/// Begins a run.
pub async fn begin(
    pool: &PgPool,
    workshop: Uuid,
    person: Uuid,
    run: &Run,
    lesson_id: &str,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into practice_run (job_id, workshop_id, person_id, scale_id, lesson_id, lesson) values ($1, $2, $3, $4, $5, $6)",
        run.job,
        workshop,
        person,
        run.scale,
        lesson_id,
        run.lesson
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// A run, by its job.
pub async fn run(pool: &PgPool, workshop: Uuid, job: Uuid) -> Result<Option<Run>, StoreError> {
    let row = sqlx::query!(
        "select scale_id, lesson, hints, revealed from practice_run where job_id = $1 and workshop_id = $2",
        job,
        workshop
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|r| Run {
        job,
        scale: r.scale_id,
        lesson: r.lesson,
        hints: usize::try_from(r.hints).unwrap_or(0),
        revealed: r.revealed,
    }))
}

/// One more hint is asked for.
pub async fn hint(pool: &PgPool, job: Uuid, most: usize) -> Result<(), StoreError> {
    let most = i32::try_from(most).unwrap_or(i32::MAX);
    sqlx::query!("update practice_run set hints = least(hints + 1, $2) where job_id = $1", job, most)
        .execute(pool)
        .await?;
    Ok(())
}

/// What is hidden is shown.
pub async fn reveal(pool: &PgPool, job: Uuid) -> Result<(), StoreError> {
    sqlx::query!("update practice_run set revealed = true where job_id = $1", job).execute(pool).await?;
    Ok(())
}

/// Notes what the operator did.
pub async fn note(
    pool: &PgPool,
    scale: Uuid,
    command: &str,
    obeyed: bool,
    reply: &str,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into practice_act (scale_id, command, obeyed, reply) values ($1, $2, $3, $4)",
        scale,
        command,
        obeyed,
        reply
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// What the operator did at a scale, in order.
pub async fn acts(pool: &PgPool, scale: Uuid) -> Result<Vec<Act>, StoreError> {
    let rows = sqlx::query!(
        "select at, command, obeyed, reply from practice_act where scale_id = $1 order by at",
        scale
    )
    .fetch_all(pool)
    .await?;
    Ok(rows
        .into_iter()
        .map(|r| Act { at: r.at, command: r.command, obeyed: r.obeyed, reply: r.reply })
        .collect())
}

/// Throws practice away: every run of a lesson with its scale; how many. Nothing else can go by this.
pub async fn throw_away(pool: &PgPool, by: &Person) -> Result<i64, StoreError> {
    let mut tx = pool.begin().await?;
    let gone = sqlx::query_scalar!(r#"select throw_practice_away($1) as "gone!""#, by.workshop_id)
        .fetch_one(&mut *tx)
        .await?;
    audit::add(&mut tx, by, AuditAct::PracticeRemoved, serde_json::json!({"jobs": gone})).await?;
    tx.commit().await?;
    Ok(gone)
}

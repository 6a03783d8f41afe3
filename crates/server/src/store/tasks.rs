//! Long work in the database: begun, taken up, heard of, called off; with what went up and what came of it.

use serde::Serialize;
use serde_json::Value;
use sqlx::{PgPool, Postgres, Transaction};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;
use super::people::{Person, Role};

/// Work that nobody was heard doing for so long is taken up by another instance, in seconds.
const SILENT_S: f64 = 10.0;
/// How often work is begun before it is given up: it may be what ends the program.
const MOST_TRIES: i32 = 3;
/// Finished work that is remembered, and how long, in hours; files that lie ready.
const REMEMBERED_H: i32 = 48;
const READY: (i64, i32) = (4, 2);

/// What long work does.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Kind {
    /// A workshop is written.
    Export,
    /// A workshop is read.
    Import,
    /// Papers of records are written.
    Papers,
}

impl Kind {
    const fn text(self) -> &'static str {
        match self {
            Self::Export => "export",
            Self::Import => "import",
            Self::Papers => "papers",
        }
    }

    fn of(text: &str) -> Result<Self, StoreError> {
        [Self::Export, Self::Import, Self::Papers]
            .into_iter()
            .find(|kind| kind.text() == text)
            .ok_or_else(|| StoreError::Unreadable(format!("“{text}” is no kind of long work")))
    }
}

/// How it stands.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "state", rename_all = "snake_case")]
pub enum TaskState {
    /// Under way.
    Running,
    /// Done.
    Done {
        /// In words.
        says: String,
    },
    /// It could not be done.
    Failed {
        /// Why.
        why: String,
    },
    /// Called off.
    Cancelled,
}

/// Long work as it is shown.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct TaskView {
    /// Identity.
    pub id: Uuid,
    /// What it does.
    pub kind: Kind,
    /// When it was begun.
    #[serde(with = "time::serde::rfc3339")]
    pub begun_at: OffsetDateTime,
    /// Parts done.
    pub done: i64,
    /// Parts in all; 0: not known yet.
    pub total: i64,
    /// How it stands.
    #[serde(flatten)]
    pub state: TaskState,
}

/// Work that this instance has taken up.
pub struct Claimed {
    /// Identity.
    pub id: Uuid,
    /// What it does.
    pub kind: Kind,
    /// What was asked for.
    pub asked: Value,
    /// For whom.
    pub by: Person,
}

/// Begins some; none where the workshop, or for imports anybody, has some under way. An import waits for its
/// upload. What is long past is forgotten.
pub async fn begin(
    pool: &PgPool,
    by: &Person,
    kind: Kind,
    asked: &Value,
    instance: Uuid,
) -> Result<Option<Uuid>, StoreError> {
    sweep(pool).await?;
    let id = Uuid::now_v7();
    let state = if kind == Kind::Import { "uploading" } else { "waiting" };
    let begun = sqlx::query!(
        "insert into task (id, workshop_id, kind, by_id, asked, state, instance) values ($1, $2, $3, $4, $5, $6, $7)",
        id,
        by.workshop_id,
        kind.text(),
        by.id,
        asked,
        state,
        instance
    )
    .execute(pool)
    .await
    .map_err(StoreError::from);
    match begun {
        Ok(_) => Ok(Some(id)),
        Err(error) if error.twice() == Some("task") => Ok(None),
        Err(error) => Err(error),
    }
}

/// Ends what nobody does any more, and forgets what is long past.
async fn sweep(pool: &PgPool) -> Result<(), StoreError> {
    sqlx::query!(
        "update task set state = 'cancelled' where (state = 'uploading' or called_off) and state in ('uploading', 'waiting', 'running') and seen_at < now() - make_interval(secs => $1)",
        SILENT_S
    )
    .execute(pool)
    .await?;
    sqlx::query!(
        "update task set state = 'failed', says = 'whoever did it ended each time; the servers'' logs say more'
         where state = 'running' and tries >= $1 and seen_at < now() - make_interval(secs => $2)",
        MOST_TRIES,
        SILENT_S
    )
    .execute(pool)
    .await?;
    sqlx::query!(
        "delete from task where state not in ('uploading', 'waiting', 'running') and begun_at < now() - make_interval(hours => $1)",
        REMEMBERED_H
    )
    .execute(pool)
    .await?;
    sqlx::query!(
        "delete from task_part p using task t where t.id = p.task_id and t.state not in ('uploading', 'waiting', 'running') and (p.upload or not t.has_file)"
    )
    .execute(pool)
    .await?;
    sqlx::query!(
        "with old as (select id from task where has_file and (begun_at < now() - make_interval(hours => $1) or id not in (select id from task where has_file order by begun_at desc limit $2)))
         , gone as (delete from task_part p using old where p.task_id = old.id) update task set has_file = false where id in (select id from old)",
        READY.1,
        READY.0
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Keeps a part of what goes up; false where it was called off meanwhile.
pub async fn upload(pool: &PgPool, id: Uuid, part: i32, bytes: &[u8]) -> Result<bool, StoreError> {
    let kept = sqlx::query!(
        "with heard as (update task set seen_at = now() where id = $1 and state = 'uploading' and not called_off returning id)
         insert into task_part (task_id, upload, part, bytes) select id, true, $2, $3 from heard",
        id,
        part,
        bytes
    )
    .execute(pool)
    .await?;
    Ok(kept.rows_affected() == 1)
}

/// All of it is up: it waits for whoever takes it.
pub async fn uploaded(pool: &PgPool, id: Uuid) -> Result<(), StoreError> {
    sqlx::query!(
        "update task set state = 'waiting', seen_at = now() where id = $1 and state = 'uploading'",
        id
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// The upload broke off.
pub async fn broke_off(pool: &PgPool, id: Uuid) -> Result<(), StoreError> {
    sqlx::query!("update task set state = 'cancelled' where id = $1 and state = 'uploading'", id)
        .execute(pool)
        .await?;
    sqlx::query!("delete from task_part where task_id = $1", id).execute(pool).await?;
    Ok(())
}

/// Takes up work that waits, or that an instance which is lost had begun. Two never take up the same.
pub async fn claim(pool: &PgPool, instance: Uuid) -> Result<Option<Claimed>, StoreError> {
    let row = sqlx::query!(
        r#"update task set state = 'running', instance = $1, seen_at = now(), tries = tries + 1, done = 0
           where id = (select id from task where not called_off and tries < $2 and (state = 'waiting' or (state = 'running' and seen_at < now() - make_interval(secs => $3)))
                       order by begun_at for update skip locked limit 1)
           returning id, kind, asked, by_id"#,
        instance,
        MOST_TRIES,
        SILENT_S
    )
    .fetch_optional(pool)
    .await?;
    let Some(row) = row else { return Ok(None) };
    let by = sqlx::query!(
        "select p.id, p.workshop_id, w.name as workshop, p.name, p.roles from person p join workshop w on w.id = p.workshop_id where p.id = $1",
        row.by_id
    )
    .fetch_one(pool)
    .await?;
    Ok(Some(Claimed {
        id: row.id,
        kind: Kind::of(&row.kind)?,
        asked: row.asked,
        by: Person {
            id: by.id,
            workshop_id: by.workshop_id,
            workshop: by.workshop,
            name: by.name,
            roles: Role::all_of(&by.roles)?,
        },
    }))
}

/// Is heard of: how far it is. False where it was called off, or another instance has it.
pub async fn heard(
    pool: &PgPool,
    id: Uuid,
    instance: Uuid,
    done: i64,
    total: i64,
) -> Result<bool, StoreError> {
    let off = sqlx::query_scalar!(
        "update task set seen_at = now(), done = $3, total = $4 where id = $1 and instance = $2 and state = 'running' returning called_off",
        id,
        instance,
        done,
        total
    )
    .fetch_optional(pool)
    .await?;
    Ok(off == Some(false))
}

/// Keeps a part of what came of it.
pub async fn keep_part(pool: &PgPool, id: Uuid, part: i32, bytes: &[u8]) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into task_part (task_id, upload, part, bytes) values ($1, false, $2, $3) on conflict (task_id, upload, part) do update set bytes = excluded.bytes",
        id,
        part,
        bytes
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// It has ended. What was called off stays called off, and what went up is let go of.
pub async fn ended(
    pool: &PgPool,
    id: Uuid,
    instance: Uuid,
    state: &TaskState,
    has_file: bool,
) -> Result<(), StoreError> {
    let (text, says) = match state {
        TaskState::Running => return Ok(()),
        TaskState::Done { says } => ("done", says.as_str()),
        TaskState::Failed { why } => ("failed", why.as_str()),
        TaskState::Cancelled => ("cancelled", ""),
    };
    sqlx::query!(
        "update task set state = case when called_off then 'cancelled' else $3 end, says = $4, has_file = $5 and not called_off, done = case when $3 = 'done' then total else done end
         where id = $1 and instance = $2 and state = 'running'",
        id,
        instance,
        text,
        says,
        has_file
    )
    .execute(pool)
    .await?;
    sqlx::query!(
        "delete from task_part p using task t where p.task_id = $1 and t.id = $1 and (p.upload or not t.has_file)",
        id
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// It is done with the transaction that does it; what went up goes when it has ended.
pub(super) async fn done_with(
    tx: &mut Transaction<'static, Postgres>,
    id: Uuid,
    says: &str,
) -> Result<(), StoreError> {
    sqlx::query!(
        "update task set state = 'done', says = $2, done = total where id = $1 and state = 'running'",
        id,
        says
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

fn state_of(state: &str, says: String) -> TaskState {
    match state {
        "done" => TaskState::Done { says },
        "failed" => TaskState::Failed { why: says },
        "cancelled" => TaskState::Cancelled,
        _ => TaskState::Running,
    }
}

/// All of a workshop, the newest first.
pub async fn of(pool: &PgPool, workshop: Uuid) -> Result<Vec<TaskView>, StoreError> {
    let rows = sqlx::query!(
        "select id, kind, begun_at, done, total, state, says from task where workshop_id = $1 order by begun_at desc, id desc limit 24",
        workshop
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(TaskView {
                id: r.id,
                kind: Kind::of(&r.kind)?,
                begun_at: r.begun_at,
                done: r.done,
                total: r.total,
                state: state_of(&r.state, r.says),
            })
        })
        .collect()
}

/// Some of a workshop.
pub async fn one(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<Option<TaskView>, StoreError> {
    let row = sqlx::query!(
        "select id, kind, begun_at, done, total, state, says from task where workshop_id = $1 and id = $2",
        workshop,
        id
    )
    .fetch_optional(pool)
    .await?;
    row.map(|r| {
        Ok(TaskView {
            id: r.id,
            kind: Kind::of(&r.kind)?,
            begun_at: r.begun_at,
            done: r.done,
            total: r.total,
            state: state_of(&r.state, r.says),
        })
    })
    .transpose()
}

/// A part of a file: of what went up, or of what came of it.
pub async fn part(pool: &PgPool, id: Uuid, upload: bool, part: i32) -> Result<Option<Vec<u8>>, StoreError> {
    Ok(sqlx::query_scalar!(
        "select bytes from task_part where task_id = $1 and upload = $2 and part = $3",
        id,
        upload,
        part
    )
    .fetch_optional(pool)
    .await?)
}

/// Whether a file came of it that is still there.
pub async fn has_file(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<bool, StoreError> {
    let found =
        sqlx::query_scalar!("select has_file from task where id = $1 and workshop_id = $2", id, workshop)
            .fetch_optional(pool)
            .await?;
    Ok(found == Some(true))
}

/// Calls it off; what has ended stays as it is, but its file goes. False where there is none.
pub async fn call_off(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let there = sqlx::query_scalar!(
        "select state from task where id = $1 and workshop_id = $2 for update",
        id,
        workshop
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(state) = there else { return Ok(false) };
    match state.as_str() {
        // Whoever does it hears of it; what nobody does yet is called off at once.
        "running" => {
            sqlx::query!("update task set called_off = true where id = $1", id).execute(&mut *tx).await?;
        }
        "uploading" | "waiting" => {
            sqlx::query!("update task set called_off = true, state = 'cancelled' where id = $1", id)
                .execute(&mut *tx)
                .await?;
            sqlx::query!("delete from task_part where task_id = $1", id).execute(&mut *tx).await?;
        }
        _ => {
            sqlx::query!("update task set has_file = false where id = $1", id).execute(&mut *tx).await?;
            sqlx::query!("delete from task_part where task_id = $1", id).execute(&mut *tx).await?;
        }
    }
    tx.commit().await?;
    Ok(true)
}

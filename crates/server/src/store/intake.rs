//! Tables that came in, and taking the last one back.

use ombret_core::customer::Customer;
use ombret_core::import::EarlierResult;
use ombret_core::scale::ScaleSheet;
use ombret_core::weights::Piece;
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::{PgPool, Postgres, Transaction};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::audit::{self, AuditAct};
use super::people::Person;
use super::{StoreError, customers, kit, scales};

/// What a table holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum IntakeKind {
    /// Customers.
    Customers,
    /// Scales.
    Scales,
    /// Weights with their certificates.
    Weights,
    /// Results of before.
    Results,
}

impl IntakeKind {
    const ALL: [Self; 4] = [Self::Customers, Self::Scales, Self::Weights, Self::Results];

    const fn text(self) -> &'static str {
        match self {
            Self::Customers => "customers",
            Self::Scales => "scales",
            Self::Weights => "weights",
            Self::Results => "results",
        }
    }

    fn of(text: &str) -> Result<Self, StoreError> {
        Self::ALL
            .into_iter()
            .find(|kind| kind.text() == text)
            .ok_or_else(|| StoreError::Unreadable(format!("“{text}” is no kind of table")))
    }
}

/// What a table said.
#[derive(Clone, Debug)]
pub enum Rows {
    /// Customers.
    Customers(Vec<Customer>),
    /// Scales.
    Scales(Vec<ScaleSheet>),
    /// Weights.
    Weights(Vec<Piece>),
    /// Results of before.
    Results(Vec<EarlierResult>),
}

impl Rows {
    fn kind(&self) -> IntakeKind {
        match self {
            Self::Customers(_) => IntakeKind::Customers,
            Self::Scales(_) => IntakeKind::Scales,
            Self::Weights(_) => IntakeKind::Weights,
            Self::Results(_) => IntakeKind::Results,
        }
    }

    fn len(&self) -> usize {
        match self {
            Self::Customers(rows) => rows.len(),
            Self::Scales(rows) => rows.len(),
            Self::Weights(rows) => rows.len(),
            Self::Results(rows) => rows.len(),
        }
    }
}

/// A table that came in.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct IntakeRow {
    /// Identity.
    pub id: Uuid,
    /// What it held.
    pub kind: IntakeKind,
    /// The file's name.
    pub file_name: String,
    /// How many rows.
    pub rows: i32,
    /// Who took it in.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub made_at: OffsetDateTime,
    /// When it was taken back.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(required)]
    pub undone_at: Option<OffsetDateTime>,
}

/// Takes a table in: all of it or nothing. A piece whose serial is here already is named.
pub async fn take(
    pool: &PgPool,
    by: &Person,
    file_name: &str,
    rows: &Rows,
) -> Result<Result<Uuid, String>, StoreError> {
    let id = Uuid::now_v7();
    let mut tx = pool.begin().await?;
    sqlx::query!(
        "insert into intake (id, workshop_id, kind, file_name, rows, by_name) values ($1, $2, $3, $4, $5, $6)",
        id,
        by.workshop_id,
        rows.kind().text(),
        file_name,
        i32::try_from(rows.len()).unwrap_or(i32::MAX),
        by.name
    )
    .execute(&mut *tx)
    .await?;
    match rows {
        Rows::Customers(rows) => customers::add(&mut tx, by.workshop_id, rows, Some(id)).await?,
        Rows::Scales(rows) => {
            for sheet in rows {
                scales::insert(&mut tx, by.workshop_id, sheet, None, Some(id)).await?;
            }
            customers::link(&mut tx, by.workshop_id, Some(id)).await?;
        }
        Rows::Weights(rows) => {
            for piece in rows {
                if !kit::insert(&mut tx, by.workshop_id, piece).await? {
                    return Ok(Err(piece.serial.clone()));
                }
            }
            let ids: Vec<Uuid> = rows.iter().map(|p| p.id).collect();
            sqlx::query!("update piece set import_id = $1 where id = any($2)", id, &ids)
                .execute(&mut *tx)
                .await?;
        }
        Rows::Results(rows) => insert_results(&mut tx, by.workshop_id, id, rows).await?,
    }
    let detail = json!({"kind": rows.kind(), "file": file_name, "rows": rows.len()});
    audit::add(&mut tx, by, AuditAct::TableImported, detail).await?;
    tx.commit().await?;
    Ok(Ok(id))
}

async fn insert_results(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    import: Uuid,
    rows: &[EarlierResult],
) -> Result<(), StoreError> {
    let places: Vec<i32> = (0i32..).take(rows.len()).collect();
    let scales: Vec<Uuid> = rows.iter().map(|r| r.scale).collect();
    let days: Vec<time::Date> = rows.iter().map(|r| r.day).collect();
    let results = rows.iter().map(serde_json::to_value).collect::<Result<Vec<_>, _>>()?;
    sqlx::query!(
        "insert into earlier_result (import_id, workshop_id, place, scale_id, day, result) select $1, $2, * from unnest($3::int[], $4::uuid[], $5::date[], $6::jsonb[])",
        import,
        workshop,
        &places,
        &scales,
        &days,
        &results
    )
    .execute(&mut **tx)
    .await?;
    Ok(())
}

/// Tables that came in, the newest first.
pub async fn list(pool: &PgPool, workshop: Uuid) -> Result<Vec<IntakeRow>, StoreError> {
    let rows = sqlx::query!(
        "select id, kind, file_name, rows, by_name, made_at, undone_at from intake where workshop_id = $1 order by made_at desc, id desc limit 50",
        workshop
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(IntakeRow {
                id: r.id,
                kind: IntakeKind::of(&r.kind)?,
                file_name: r.file_name,
                rows: r.rows,
                by: r.by_name,
                made_at: r.made_at,
                undone_at: r.undone_at,
            })
        })
        .collect()
}

/// Why a table is not taken back.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum NotUndone {
    /// It is not the last one that came in.
    NotTheLast,
    /// Something of it is in use: what.
    InUse(Vec<String>),
}

/// Takes the last table back, whole, where nothing of it was changed or used since.
pub async fn undo(pool: &PgPool, by: &Person, id: Uuid) -> Result<Result<(), NotUndone>, StoreError> {
    let mut tx = pool.begin().await?;
    // Held to the end, so that nothing comes in meanwhile.
    sqlx::query!("select id from workshop where id = $1 for update", by.workshop_id)
        .fetch_one(&mut *tx)
        .await?;
    let last = sqlx::query!(
        "select id, kind, file_name, rows from intake where workshop_id = $1 and undone_at is null order by made_at desc, id desc limit 1",
        by.workshop_id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let Some(last) = last.filter(|last| last.id == id) else { return Ok(Err(NotUndone::NotTheLast)) };
    let used = in_use(&mut tx, id).await?;
    if !used.is_empty() {
        return Ok(Err(NotUndone::InUse(used)));
    }
    sqlx::query!("delete from earlier_result where import_id = $1", id).execute(&mut *tx).await?;
    sqlx::query!("delete from scale where import_id = $1", id).execute(&mut *tx).await?;
    sqlx::query!("delete from piece where import_id = $1", id).execute(&mut *tx).await?;
    sqlx::query!("delete from customer where import_id = $1", id).execute(&mut *tx).await?;
    sqlx::query!("update intake set undone_at = now() where id = $1", id).execute(&mut *tx).await?;
    let detail = json!({"kind": last.kind, "file": last.file_name, "rows": last.rows});
    audit::add(&mut tx, by, AuditAct::ImportUndone, detail).await?;
    tx.commit().await?;
    Ok(Ok(()))
}

/// What of a table is in use: scales with jobs, pieces on records or changed, customers with other scales.
async fn in_use(tx: &mut Transaction<'static, Postgres>, id: Uuid) -> Result<Vec<String>, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"select what as "what!" from (
             select 'scale ' || s.name || ': it has a job' as what from scale s where s.import_id = $1 and exists (select 1 from job j where j.scale_id = s.id)
             union all select 'scale ' || s.name || ': it was changed since' from scale s where s.import_id = $1 and s.version > 1
             union all select 'scale ' || s.name || ': earlier results were taken in for it' from scale s where s.import_id = $1 and exists (select 1 from earlier_result e where e.scale_id = s.id and e.import_id <> $1)
             union all select 'piece ' || p.serial || ': a record rests on it' from piece p where p.import_id = $1 and exists (select 1 from record_piece r where r.piece_id = p.id)
             union all select 'piece ' || p.serial || ': it was changed since' from piece p where p.import_id = $1 and (p.version > 1 or exists (select 1 from certificate_file f where f.piece_id = p.id))
             union all select 'customer ' || c.name || ': scales are theirs' from customer c where c.import_id = $1 and exists (select 1 from scale s where s.customer_id = c.id and s.import_id is distinct from $1)
             union all select 'customer ' || c.name || ': it was changed since' from customer c where c.import_id = $1 and c.version > 1
           ) used limit 20"#,
        id
    )
    .fetch_all(&mut **tx)
    .await?)
}

/// Results of before of a scale, the newest first.
pub async fn earlier(pool: &PgPool, workshop: Uuid, scale: Uuid) -> Result<Vec<EarlierResult>, StoreError> {
    let rows = sqlx::query_scalar!(
        "select result from earlier_result where scale_id = $1 and workshop_id = $2 order by day desc, place limit 500",
        scale,
        workshop
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter().map(|r| Ok(serde_json::from_value(r)?)).collect()
}

//! The kit: pieces of a workshop, and the files of their certificates.

use std::collections::BTreeSet;

use ombret_core::weights::{OwnClass, Piece};
use serde::Serialize;
use sqlx::{PgPool, Postgres, Transaction};
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;

/// A piece with its version.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PieceRow {
    /// The piece.
    pub piece: Piece,
    /// Changes with every edit.
    pub version: i32,
    /// Certificates whose file is kept.
    pub files: Vec<String>,
}

/// The pieces of a workshop, the heaviest first.
pub async fn list(pool: &PgPool, workshop: Uuid, search: &str) -> Result<Vec<PieceRow>, StoreError> {
    let pattern = super::anywhere(search);
    let rows = sqlx::query!(
        r#"select p.piece, p.version, array(select f.number from certificate_file f where f.piece_id = p.id) as "files!"
           from piece p where p.workshop_id = $1 and p.search like $2 order by p.nominal_kg desc, p.serial, p.id"#,
        workshop,
        pattern
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| Ok(PieceRow { piece: serde_json::from_value(r.piece)?, version: r.version, files: r.files }))
        .collect()
}

/// The serials of a workshop, in lower case.
pub async fn serials(pool: &PgPool, workshop: Uuid) -> Result<BTreeSet<String>, StoreError> {
    let rows = sqlx::query_scalar!(
        r#"select lower(serial) as "serial!" from piece where workshop_id = $1"#,
        workshop
    )
    .fetch_all(pool)
    .await?;
    Ok(rows.into_iter().collect())
}

fn search_text(p: &Piece) -> String {
    let certificates: Vec<&str> =
        p.certificates.iter().flat_map(|c| [c.number.as_str(), c.laboratory.as_str()]).collect();
    let class = p.class.map_or("", |c| c.symbol());
    [
        p.serial.as_str(),
        &p.nominal.to_string(),
        class,
        p.form.name(),
        &p.set,
        &p.place,
        &p.holder,
        &certificates.join(" · "),
    ]
    .join(" · ")
    .to_lowercase()
}

pub(super) async fn insert(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    p: &Piece,
) -> Result<bool, StoreError> {
    let done = sqlx::query!(
        "insert into piece (id, workshop_id, serial, piece, search, nominal_kg, due) values ($1, $2, $3, $4, $5, $6, $7) on conflict do nothing",
        p.id,
        workshop,
        p.serial,
        serde_json::to_value(p)?,
        search_text(p),
        p.nominal.kg().to_f64(),
        p.certificate().map(|c| c.due)
    )
    .execute(&mut **tx)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Adds pieces: all of them or none. The serial that is there already, if one is.
pub async fn add(pool: &PgPool, workshop: Uuid, pieces: &[Piece]) -> Result<Option<String>, StoreError> {
    let mut tx = pool.begin().await?;
    for piece in pieces {
        if !insert(&mut tx, workshop, piece).await? {
            return Ok(Some(piece.serial.clone()));
        }
    }
    tx.commit().await?;
    Ok(None)
}

/// Changes a piece if it is still at `version`; false where it is not, or where its serial is
/// another piece's.
pub async fn change(pool: &PgPool, workshop: Uuid, p: &Piece, version: i32) -> Result<bool, StoreError> {
    Ok(change_all(pool, workshop, &[(p, version)]).await?.is_none())
}

/// Changes pieces that are still at their versions: all of them or none. The serial of the first
/// that is not, or that would take another piece's serial.
pub async fn change_all(
    pool: &PgPool,
    workshop: Uuid,
    pieces: &[(&Piece, i32)],
) -> Result<Option<String>, StoreError> {
    let mut tx = pool.begin().await?;
    for (piece, version) in pieces {
        if !update(&mut tx, workshop, piece, *version).await? {
            return Ok(Some(piece.serial.clone()));
        }
    }
    tx.commit().await?;
    Ok(None)
}

async fn update(
    tx: &mut Transaction<'static, Postgres>,
    workshop: Uuid,
    p: &Piece,
    version: i32,
) -> Result<bool, StoreError> {
    let done = sqlx::query!(
        "update piece set serial = $3, piece = $4, search = $5, nominal_kg = $6, due = $7, version = version + 1
         where id = $1 and workshop_id = $2 and version = $8
           and not exists (select 1 from piece o where o.workshop_id = $2 and lower(o.serial) = lower($3) and o.id <> $1)",
        p.id,
        workshop,
        p.serial,
        serde_json::to_value(p)?,
        search_text(p),
        p.nominal.kg().to_f64(),
        p.certificate().map(|c| c.due),
        version
    )
    .execute(&mut **tx)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Keeps the file of a certificate; one of the same number is replaced.
pub async fn keep_file(
    pool: &PgPool,
    workshop: Uuid,
    piece: Uuid,
    number: &str,
    name: &str,
    bytes: &[u8],
) -> Result<bool, StoreError> {
    let done = sqlx::query!(
        "insert into certificate_file (workshop_id, piece_id, number, name, bytes)
         select $1, p.id, $3, $4, $5 from piece p where p.id = $2 and p.workshop_id = $1
           and exists (select 1 from jsonb_array_elements(coalesce(p.piece->'certificates', '[]')) c where c->>'number' = $3)
         on conflict (piece_id, number) do update set name = excluded.name, bytes = excluded.bytes",
        workshop,
        piece,
        number,
        name,
        bytes
    )
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// The file of a certificate: its name and bytes.
pub async fn file(
    pool: &PgPool,
    workshop: Uuid,
    piece: Uuid,
    number: &str,
) -> Result<Option<(String, Vec<u8>)>, StoreError> {
    let row = sqlx::query!(
        "select name, bytes from certificate_file where workshop_id = $1 and piece_id = $2 and number = $3",
        workshop,
        piece,
        number
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|r| (r.name, r.bytes)))
}

/// The span weight rule of the workshop.
pub async fn span_weight_rule(pool: &PgPool, workshop: Uuid) -> Result<String, StoreError> {
    Ok(sqlx::query_scalar!("select school from workshop where id = $1", workshop).fetch_one(pool).await?)
}

/// Tolerance classes of the workshop's own.
pub async fn own_classes(pool: &PgPool, workshop: Uuid) -> Result<Vec<OwnClass>, StoreError> {
    Ok(serde_json::from_value(
        sqlx::query_scalar!("select own_classes from workshop where id = $1", workshop)
            .fetch_one(pool)
            .await?,
    )?)
}

/// Keeps them.
pub async fn keep_own_classes(pool: &PgPool, workshop: Uuid, classes: &[OwnClass]) -> Result<(), StoreError> {
    sqlx::query!(
        "update workshop set own_classes = $2 where id = $1",
        workshop,
        serde_json::to_value(classes)?
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Sets the span weight rule of the workshop.
pub async fn set_span_weight_rule(pool: &PgPool, workshop: Uuid, rule: &str) -> Result<(), StoreError> {
    sqlx::query!("update workshop set school = $2 where id = $1", workshop, rule).execute(pool).await?;
    Ok(())
}

//! Finding a record by what stands on it: number, serial, seal; and a piece by serial or certificate.

use ombret_core::record::{MarkKind, plain_mark};
use serde::Serialize;
use sqlx::PgPool;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::figures::mark_kind;
use super::{StoreError, anywhere};

/// A record that bears a mark.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct MarkedRecord {
    /// Its job.
    pub job: Uuid,
    /// Its number, as it stands.
    pub number: String,
    /// As what the mark stands on it.
    pub kind: MarkKind,
    /// The mark as it is written there.
    pub mark: String,
    /// Name of the scale.
    pub scale: String,
    /// Its owner.
    pub owner: String,
    /// When it was closed.
    #[serde(with = "time::serde::rfc3339")]
    pub closed_at: OffsetDateTime,
}

/// A piece that bears a mark, or has a certificate that does.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct MarkedPiece {
    /// The piece.
    pub piece: Uuid,
    /// Its serial.
    pub serial: String,
    /// Its nominal.
    pub nominal: String,
    /// The certificate that was meant, where it is one.
    #[schema(required)]
    pub certificate: Option<String>,
    /// Records that rest on it.
    pub records: i64,
}

macro_rules! marked {
    ($pool:expr, $cond:literal, $($bind:expr),+) => {
        sqlx::query!(
            r#"select m.job_id, m.kind, m.said, m.closed_at, r.number, s.name, s.owner
               from (select * from record_mark where workshop_id = $1 and "# + $cond + r#") m join record r on r.job_id = m.job_id and not r.superseded join scale s on s.id = r.scale_id"#,
            $($bind),+
        )
        .fetch_all($pool)
        .await?
        .into_iter()
        .map(|r| Ok(MarkedRecord { job: r.job_id, number: r.number, kind: mark_kind(&r.kind)?, mark: r.said, scale: r.name, owner: r.owner, closed_at: r.closed_at }))
        .collect::<Result<Vec<_>, StoreError>>()?
    };
}

/// Records that bear a mark: those whose mark begins with what is asked for, the shortest first; then
/// those that have it anywhere.
pub async fn records(
    pool: &PgPool,
    workshop: Uuid,
    asked: &str,
    limit: i64,
) -> Result<Vec<MarkedRecord>, StoreError> {
    let plain = plain_mark(asked);
    if plain.is_empty() {
        return Ok(Vec::new());
    }
    // Letters and digits only: nothing in it is a sign of a pattern.
    let mut found = marked!(
        pool,
        "plain like $2 order by plain using ~<~, closed_at desc limit $3",
        workshop,
        format!("{plain}%"),
        limit
    );
    // A trigram is three signs long: shorter texts are looked for at the beginning only.
    if found.len() < usize::try_from(limit).unwrap_or(0) && plain.chars().count() >= 3 {
        let rest = marked!(
            pool,
            "plain like $2 and plain not like $4 limit $3",
            workshop,
            format!("_%{plain}%"),
            limit,
            format!("{plain}%")
        );
        found.extend(rest);
    }
    found.sort_by(|a, b| {
        (plain_mark(&a.mark) != plain)
            .cmp(&(plain_mark(&b.mark) != plain))
            .then(b.closed_at.cmp(&a.closed_at))
    });
    found.truncate(usize::try_from(limit).unwrap_or(0));
    Ok(found)
}

/// Pieces of the kit by serial or by a certificate's number, also one that it had earlier.
pub async fn pieces(
    pool: &PgPool,
    workshop: Uuid,
    asked: &str,
    limit: i64,
) -> Result<Vec<MarkedPiece>, StoreError> {
    let (pattern, plain) = (anywhere(asked.trim()), plain_mark(asked));
    if plain.is_empty() {
        return Ok(Vec::new());
    }
    let rows = sqlx::query!(
        r#"select p.id, p.serial, concat_ws(' ', p.piece->'nominal'->>'value', p.piece->'nominal'->>'unit') as "nominal!",
                  (select c->>'number' from jsonb_array_elements(coalesce(p.piece->'certificates', '[]')) c where lower(c->>'number') like $2 order by c->>'date' desc limit 1) as certificate,
                  (select count(*) from record_piece r where r.piece_id = p.id and r.workshop_id = p.workshop_id) as "records!"
           from piece p where p.workshop_id = $1
             and (lower(p.serial) like $2 or regexp_replace(lower(p.serial), '[^[:alnum:]]', '', 'g') like $3
                  or exists (select 1 from jsonb_array_elements(coalesce(p.piece->'certificates', '[]')) c where lower(c->>'number') like $2))
           order by lower(p.serial) like $2 desc, p.serial limit $4"#,
        workshop,
        pattern,
        format!("%{plain}%"),
        limit
    );
    let rows = rows.fetch_all(pool).await?;
    Ok(rows
        .into_iter()
        .map(|r| MarkedPiece {
            piece: r.id,
            serial: r.serial,
            nominal: r.nominal,
            certificate: r.certificate,
            records: r.records,
        })
        .collect())
}

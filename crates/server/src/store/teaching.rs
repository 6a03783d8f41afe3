//! Sessions in which an indicator is taught, as they were recorded.

use serde::Serialize;
use sqlx::PgPool;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;

/// A session in the list.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct TeachingRow {
    /// Identity.
    pub id: Uuid,
    /// What the indicator is called.
    pub name: String,
    /// The profile that came of it.
    #[schema(required)]
    pub profile: Option<Uuid>,
    /// Who went on with it last.
    pub changed_by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub changed_at: OffsetDateTime,
}

/// A session as it is kept.
#[derive(Clone, Debug)]
pub struct KeptSession {
    /// It was written so often.
    pub version: i32,
    /// The session, as JSON.
    pub session: String,
    /// The profile that came of it.
    pub profile: Option<Uuid>,
}

/// The sessions of a workshop, the newest first.
pub async fn list(pool: &PgPool, workshop: Uuid) -> Result<Vec<TeachingRow>, StoreError> {
    Ok(sqlx::query_as!(
        TeachingRow,
        "select id, name, profile_id as profile, changed_by, changed_at from teaching where workshop_id = $1 order by changed_at desc limit 200",
        workshop
    )
    .fetch_all(pool)
    .await?)
}

/// One of them.
pub async fn one(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<Option<KeptSession>, StoreError> {
    Ok(sqlx::query_as!(
        KeptSession,
        "select version, session, profile_id as profile from teaching where workshop_id = $1 and id = $2",
        workshop,
        id
    )
    .fetch_optional(pool)
    .await?)
}

/// A session to be written.
pub struct NewSession<'a> {
    /// Identity.
    pub id: Uuid,
    /// What the indicator is called.
    pub name: &'a str,
    /// The session, as JSON.
    pub session: &'a str,
    /// Who.
    pub by: &'a str,
}

/// Writes a session if it still has `version` (0: it is new); its new version, none where somebody else went on.
pub async fn write(
    pool: &PgPool,
    workshop: Uuid,
    new: &NewSession<'_>,
    version: i32,
) -> Result<Option<i32>, StoreError> {
    if version == 0 {
        return Ok(sqlx::query_scalar!(
            "insert into teaching (id, workshop_id, name, session, changed_by) values ($1, $2, $3, $4, $5) on conflict do nothing returning version",
            new.id,
            workshop,
            new.name,
            new.session,
            new.by
        )
        .fetch_optional(pool)
        .await?);
    }
    Ok(sqlx::query_scalar!(
        "update teaching set name = $3, session = $4, changed_by = $5, changed_at = now(), version = version + 1
         where id = $1 and workshop_id = $2 and version = $6 returning version",
        new.id,
        workshop,
        new.name,
        new.session,
        new.by,
        version
    )
    .fetch_optional(pool)
    .await?)
}

/// The profile that came of a session.
pub async fn came_of(pool: &PgPool, workshop: Uuid, id: Uuid, profile: Uuid) -> Result<(), StoreError> {
    sqlx::query!(
        "update teaching set profile_id = $3 where id = $1 and workshop_id = $2",
        id,
        workshop,
        profile
    )
    .execute(pool)
    .await?;
    Ok(())
}

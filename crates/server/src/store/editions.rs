//! Every edition of a profile that was kept.

use serde::Serialize;
use sqlx::PgPool;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;
use super::profiles::ProfileText;

/// An edition in the list.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct EditionRow {
    /// Edition, from 1.
    pub edition: i32,
    /// Who wrote it.
    pub changed_by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub changed_at: OffsetDateTime,
}

/// The editions of a profile, the newest first.
pub async fn list(pool: &PgPool, workshop: Uuid, profile: Uuid) -> Result<Vec<EditionRow>, StoreError> {
    Ok(sqlx::query_as!(
        EditionRow,
        "select e.edition, e.changed_by, e.changed_at from profile_edition e join profile p on p.id = e.profile_id
         where p.workshop_id = $1 and p.id = $2 order by e.edition desc limit 200",
        workshop,
        profile
    )
    .fetch_all(pool)
    .await?)
}

/// One edition with its text.
pub async fn one(
    pool: &PgPool,
    workshop: Uuid,
    profile: Uuid,
    edition: i32,
) -> Result<Option<ProfileText>, StoreError> {
    Ok(sqlx::query_as!(
        ProfileText,
        "select p.id, p.name, e.edition, e.text from profile_edition e join profile p on p.id = e.profile_id
         where p.workshop_id = $1 and p.id = $2 and e.edition = $3",
        workshop,
        profile,
        edition
    )
    .fetch_optional(pool)
    .await?)
}

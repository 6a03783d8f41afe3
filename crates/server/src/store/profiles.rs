//! Profiles of indicators, with every edition, and the sites of a workshop.

use ombret_core::adjust::Site;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use sqlx::types::Json;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::StoreError;

/// A profile in the list.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ProfileRow {
    /// Identity.
    pub id: Uuid,
    /// What the indicator is called.
    pub name: String,
    /// What sort it is.
    pub about: String,
    /// Edition, from 1.
    pub edition: i32,
    /// Who changed it last.
    pub changed_by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub changed_at: OffsetDateTime,
    /// Scales that are keyed by it.
    pub scales: i64,
    /// The first of them by name.
    #[schema(value_type = Vec<KeyedScale>)]
    pub keyed: Json<Vec<KeyedScale>>,
    /// Visits on which the sheet of some edition was right to the end.
    pub proven: i64,
    /// When that was last.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(required)]
    pub proven_at: Option<OffsetDateTime>,
    /// The newest edition that was right.
    #[schema(required)]
    pub proven_edition: Option<i32>,
    /// What differed on visits, with the edition that it has now.
    pub differed: i64,
}

/// A scale that is keyed by a profile.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
pub struct KeyedScale {
    /// Identity.
    pub id: Uuid,
    /// Its name.
    pub name: String,
}

/// A profile with its text.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ProfileText {
    /// Identity.
    pub id: Uuid,
    /// What the indicator is called.
    pub name: String,
    /// Edition, from 1.
    pub edition: i32,
    /// Its text.
    pub text: String,
}

/// The profiles of a workshop by name.
pub async fn list(pool: &PgPool, workshop: Uuid) -> Result<Vec<ProfileRow>, StoreError> {
    Ok(sqlx::query_as!(
        ProfileRow,
        r#"select p.id, p.name, p.about, p.edition, p.changed_by, p.changed_at,
                  coalesce(k.scales, 0) as "scales!", coalesce(k.keyed, '[]') as "keyed!: Json<Vec<KeyedScale>>",
                  coalesce(v.proven, 0) as "proven!", v.proven_at as "proven_at?", v.proven_edition as "proven_edition?",
                  (select count(*) from profile_proof d where d.profile_id = p.id and not d.as_said and d.edition = p.edition) as "differed!"
           from profile p
           left join lateral (
               select count(*) as scales,
                      jsonb_agg(jsonb_build_object('id', s.id, 'name', s.name) order by s.nth) filter (where s.nth <= 12) as keyed
               from (select s.id, s.name, row_number() over (order by s.name, s.id) as nth from scale s
                     where s.workshop_id = $1 and s.sheet->'profile'->>'id' = p.id::text) s) k on true
           left join lateral (
               select count(distinct job_id) as proven, max(said_at) as proven_at, max(edition) as proven_edition
               from profile_proof a where a.profile_id = p.id and a.as_said) v on true
           where p.workshop_id = $1 order by p.name collate "und-x-icu""#,
        workshop
    )
    .fetch_all(pool)
    .await?)
}

/// One profile of a workshop.
pub async fn one(pool: &PgPool, workshop: Uuid, id: Uuid) -> Result<Option<ProfileText>, StoreError> {
    Ok(sqlx::query_as!(
        ProfileText,
        "select id, name, edition, text from profile where id = $1 and workshop_id = $2",
        id,
        workshop
    )
    .fetch_optional(pool)
    .await?)
}

/// A profile to be written.
pub struct NewEdition<'a> {
    /// Identity.
    pub id: Uuid,
    /// Name.
    pub name: &'a str,
    /// What sort.
    pub about: &'a str,
    /// The text.
    pub text: &'a str,
    /// Who.
    pub by: &'a str,
}

/// Writes a profile if it is still at `edition` (0: it is new). False where it is not, or where the
/// name is another profile's.
pub async fn write(
    pool: &PgPool,
    workshop: Uuid,
    new: &NewEdition<'_>,
    edition: i32,
) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let taken = sqlx::query_scalar!(
        r#"select 1 as "one!" from profile where workshop_id = $1 and name = $2 and id <> $3"#,
        workshop,
        new.name,
        new.id
    )
    .fetch_optional(&mut *tx)
    .await?;
    if taken.is_some() {
        return Ok(false);
    }
    let done = if edition == 0 {
        sqlx::query!(
            "insert into profile (id, workshop_id, name, about, edition, text, changed_by) values ($1, $2, $3, $4, 1, $5, $6) on conflict do nothing",
            new.id,
            workshop,
            new.name,
            new.about,
            new.text,
            new.by
        )
        .execute(&mut *tx)
        .await?
    } else {
        sqlx::query!(
            "update profile set name = $3, about = $4, text = $5, changed_by = $6, changed_at = now(), edition = edition + 1
             where id = $1 and workshop_id = $2 and edition = $7",
            new.id,
            workshop,
            new.name,
            new.about,
            new.text,
            new.by,
            edition
        )
        .execute(&mut *tx)
        .await?
    };
    if done.rows_affected() == 0 {
        return Ok(false);
    }
    sqlx::query!(
        "insert into profile_edition (profile_id, edition, text, changed_by, changed_at) select id, edition, text, changed_by, changed_at from profile where id = $1",
        new.id
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(true)
}

/// The sites of a workshop.
pub async fn sites(pool: &PgPool, workshop: Uuid) -> Result<Vec<Site>, StoreError> {
    let rows = sqlx::query!(
        "select name, latitude, altitude_m from site where workshop_id = $1 order by name",
        workshop
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter().map(|r| site_of(r.name, &r.latitude, &r.altitude_m)).collect()
}

pub(super) fn site_of(name: String, latitude: &str, altitude_m: &str) -> Result<Site, StoreError> {
    let read =
        |text: &str| text.parse().map_err(|_| StoreError::Unreadable(format!("“{text}” is no decimal")));
    Ok(Site { name, latitude: read(latitude)?, altitude_m: read(altitude_m)? })
}

/// Keeps a site; one of the same name is replaced.
pub async fn keep_site(pool: &PgPool, workshop: Uuid, site: &Site) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into site (workshop_id, name, latitude, altitude_m) values ($1, $2, $3, $4)
         on conflict (workshop_id, name) do update set latitude = excluded.latitude, altitude_m = excluded.altitude_m",
        workshop,
        site.name,
        site.latitude.to_string(),
        site.altitude_m.to_string()
    )
    .execute(pool)
    .await?;
    Ok(())
}

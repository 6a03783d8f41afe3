//! All records that were there on a day, as one hash.

use futures::TryStreamExt;
use ombret_core::journal::hex_of_bytes;
use sha2::{Digest, Sha256};
use sqlx::PgPool;
use time::OffsetDateTime;

use super::StoreError;

/// How many records were frozen before `until`, and SHA-256 over a line for each: job, place, hash of its
/// bytes; in the order of job and place.
pub async fn over(pool: &PgPool, until: OffsetDateTime) -> Result<(u64, String), StoreError> {
    let mut rows = sqlx::query!(
        "select job_id, seq, sha256 from record where stored_at < $1 order by job_id, seq",
        until
    )
    .fetch(pool);
    let (mut count, mut hasher) = (0, Sha256::new());
    while let Some(row) = rows.try_next().await? {
        count += 1;
        hasher.update(format!("{} {} {}\n", row.job_id, row.seq, row.sha256));
    }
    Ok((count, hex_of_bytes(&hasher.finalize())))
}

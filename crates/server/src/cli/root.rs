//! The signed root over all records of a day: kept elsewhere, it shows when a record that was there is gone
//! or another, and whoever owns the database cannot make it anew.

use std::path::{Path, PathBuf};

use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use time::macros::format_description;
use time::{Date, Duration, OffsetDateTime, Time};

use crate::signing::Keys;
use crate::store::roots;

const FORMAT: &str = "ombret.root";

/// A root as it is written out.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Root {
    /// Always `ombret.root`.
    pub format: String,
    /// Version of the format.
    pub version: u32,
    /// The day, UTC: every record that was frozen before its end.
    pub day: String,
    /// How many.
    pub records: u64,
    /// SHA-256 over them.
    pub sha256: String,
    /// The public key, 32 bytes in hexadecimal.
    pub key: String,
    /// The signature, 64 bytes in hexadecimal.
    pub signature: String,
}

/// Why a root cannot be made or does not hold.
type Wrong = Box<dyn std::error::Error + Send + Sync>;

impl Root {
    fn statement(&self) -> Vec<u8> {
        format!("ombret.root/1\n{}\n{}\n{}", self.day, self.records, self.sha256).into_bytes()
    }
}

fn text_of(day: Date) -> Result<String, Wrong> {
    Ok(day.format(format_description!("[year]-[month]-[day]"))?)
}

fn end_of(day: Date) -> OffsetDateTime {
    day.saturating_add(Duration::DAY).with_time(Time::MIDNIGHT).assume_utc()
}

/// Makes the root of a day that has ended.
///
/// # Errors
/// Where the day has not ended, there is no key, or the database cannot be read.
pub async fn root(pool: &PgPool, keys: &Keys, day: Date) -> Result<Root, Wrong> {
    if end_of(day) > OffsetDateTime::now_utc() {
        return Err("this day has not ended (UTC): records may still come".into());
    }
    let (records, sha256) = roots::over(pool, end_of(day)).await?;
    let mut root = Root {
        format: FORMAT.into(),
        version: 1,
        day: text_of(day)?,
        records,
        sha256,
        key: String::new(),
        signature: String::new(),
    };
    let signed = keys.sign_bytes(&root.statement());
    (root.key, root.signature) = signed.ok_or("there is no signing key: set OMBRET_SIGNING_KEY_FILE")?;
    Ok(root)
}

/// Checks a root that was written out: its signature, and that the records of that day are still those.
///
/// # Errors
/// What does not hold.
pub async fn verify_root(pool: &PgPool, keys: &Keys, path: &Path) -> Result<String, Wrong> {
    let root: Root = serde_json::from_slice(&std::fs::read(path)?)?;
    if root.format != FORMAT || root.version != 1 {
        return Err("this is no root of this program's records".into());
    }
    if !ombret_core::journal::signed_by(&root.key, &root.signature, &root.statement()) {
        return Err("its signature does not fit what it says".into());
    }
    if !keys.knows(&root.key) {
        return Err(format!("it was signed by the key {}, which is none of this house", root.key).into());
    }
    let day = Date::parse(&root.day, format_description!("[year]-[month]-[day]"))?;
    let (records, sha256) = roots::over(pool, end_of(day)).await?;
    if (records, &sha256) != (root.records, &root.sha256) {
        return Err(format!(
            "{}: {} records were signed, {records} are there now, and they are not the same",
            root.day, root.records
        )
        .into());
    }
    Ok(format!("{}: {records} records, as they were signed\n", root.day))
}

/// Where the root of a day lies in a folder.
fn place(folder: &Path, day: Date) -> Result<PathBuf, Wrong> {
    Ok(folder.join(format!("ombret-root-{}.json", text_of(day)?)))
}

/// Writes the root of yesterday into a folder, where it is not there yet; true where it was written.
///
/// # Errors
/// Where it cannot be made or written.
pub async fn write_daily(pool: &PgPool, keys: &Keys, folder: &Path) -> Result<bool, Wrong> {
    let day = OffsetDateTime::now_utc().date().saturating_sub(Duration::DAY);
    let path = place(folder, day)?;
    if path.exists() {
        return Ok(false);
    }
    let text = serde_json::to_string_pretty(&root(pool, keys, day).await?)?;
    let half = path.with_extension("json.part");
    std::fs::create_dir_all(folder)?;
    std::fs::write(&half, text)?;
    std::fs::rename(&half, &path)?;
    Ok(true)
}

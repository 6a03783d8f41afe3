//! `ombret verify`: does every journal hold, and is every record still the bytes that were frozen?

use std::fmt::Write as _;
use std::path::Path;

use ombret_core::job::{JobFile, Sealed, open_file};
use sqlx::PgPool;
use uuid::Uuid;

use crate::store::StoreError;
use crate::store::records::{self, Frozen};
use crate::{PROGRAM, sha256_hex};

/// Jobs looked at in one go.
const AT_A_TIME: i64 = 200;

/// What was found wrong: the job and why.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Broken {
    /// The job.
    pub job: Uuid,
    /// Why.
    pub why: String,
}

/// Checks one exported job.
///
/// # Errors
/// What is wrong with it, and where.
pub fn verify_file(path: &Path) -> Result<String, Box<dyn std::error::Error>> {
    let (file, _) = open_file(&std::fs::read(path)?)?;
    Ok(format!("{}: {} entries, the chain holds\n", file.job, file.entries.len()))
}

/// Checks every job of the database.
///
/// # Errors
/// Where the database cannot be read.
pub async fn verify_database(pool: &PgPool) -> Result<(usize, Vec<Broken>), StoreError> {
    let (mut looked, mut broken, mut after) = (0, Vec::new(), Uuid::nil());
    loop {
        let some = records::frozen_after(pool, after, AT_A_TIME).await?;
        let Some(last) = some.last() else { break };
        after = last.job;
        for frozen in &some {
            looked += 1;
            if let Err(why) = holds(frozen) {
                broken.push(Broken { job: frozen.job, why });
            }
        }
    }
    Ok((looked, broken))
}

/// In words, for the command line.
pub fn report(looked: usize, broken: &[Broken]) -> String {
    let mut out = String::new();
    for one in broken {
        // OK because writing to a string does not fail.
        let _ = writeln!(out, "BROKEN {}: {}", one.job, one.why);
    }
    let _ = writeln!(out, "{looked} jobs looked at, {} broken", broken.len());
    out
}

fn holds(frozen: &Frozen) -> Result<(), String> {
    let sealed: Vec<Sealed> = frozen
        .entries
        .iter()
        .map(|text| serde_json::from_str(text))
        .collect::<Result<_, _>>()
        .map_err(|e| format!("an entry cannot be read: {e}"))?;
    let journal =
        serde_json::to_vec(&JobFile::new(frozen.job, PROGRAM, sealed.clone())).map_err(|e| e.to_string())?;
    open_file(&journal).map_err(|e| format!("its journal: {e}"))?;
    frozen.records.iter().try_for_each(|(bytes, sha256)| record_holds(bytes, sha256, &sealed))
}

/// A record is a journal as it was when it was frozen: what follows only goes on from it.
fn record_holds(bytes: &[u8], sha256: &str, sealed: &[Sealed]) -> Result<(), String> {
    let now: String = sha256_hex(bytes);
    if now != sha256 {
        return Err("its record is not the bytes that were frozen".into());
    }
    let (file, _) = open_file(bytes).map_err(|e| format!("its record: {e}"))?;
    if !sealed.starts_with(&file.entries) {
        return Err("its record and its journal differ".into());
    }
    Ok(())
}

//! `ombret verify`: does every journal hold, is every record still the bytes that were frozen, and did a key
//! of this house sign them?

use std::fmt::Write as _;
use std::path::Path;

use ombret_core::job::{JobFile, open_file};
use ombret_core::journal::Sealed;
use ombret_core::record::read_dcc;
use sqlx::PgPool;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::signing::Keys;
use crate::store::records::{self, Frozen, FrozenRecord};
use crate::store::{StoreError, audit};
use crate::{PROGRAM, sha256_hex};

/// Jobs looked at in one go.
const AT_A_TIME: i64 = 200;

/// What was found wrong: where and why.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Broken {
    /// The job, or the workshop whose audit trail it is.
    pub job: Uuid,
    /// Why.
    pub why: String,
}

/// What was looked at.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Looked {
    /// Jobs.
    pub jobs: usize,
    /// Records that a key of this house signed.
    pub signed: usize,
    /// Records that are older than signatures.
    pub unsigned: usize,
    /// Records that came from elsewhere.
    pub imported: usize,
    /// Lines of audit trails.
    pub audited: usize,
    /// What is wrong.
    pub broken: Vec<Broken>,
}

type Wrong = Box<dyn std::error::Error>;

/// Checks one file, offline: a job file, a certificate as PDF, or a digital calibration certificate. `keys`
/// are the public keys that are believed; none: whose key it is is told, and left to the reader.
///
/// # Errors
/// What is wrong with it, and where.
pub fn verify_file(path: &Path, keys: &[String]) -> Result<String, Wrong> {
    let bytes = std::fs::read(path)?;
    let (kind, inside) = if bytes.starts_with(b"%PDF") {
        ("the job file in this certificate", attached_to_pdf(&bytes)?)
    } else if bytes.trim_ascii_start().starts_with(b"<") {
        ("the job file in this digital certificate", attached_to_dcc(&bytes)?)
    } else {
        ("this job file", bytes)
    };
    let (file, _) = open_file(&inside)?;
    let mut out = format!("{}: {kind} has {} entries, the chain holds\n", file.job, file.entries.len());
    for s in &file.signatures {
        let known = if keys.is_empty() {
            "compare the key with the workshop's"
        } else if keys.contains(&s.key) {
            "the key is the one that you named"
        } else {
            return Err(format!("it was signed by the key {}, which you did not name", s.key).into());
        };
        // OK because writing to a string does not fail.
        let _ = writeln!(
            out,
            "signed as {} by {}, {} entries, {}: key {} ({known})",
            s.statement.number, s.statement.workshop, s.statement.entries, s.statement.at, s.key
        );
    }
    if file.signature().is_none() {
        if !keys.is_empty() {
            return Err("no key has signed the whole of it".into());
        }
        out.push_str("no key has signed the whole of it: an unkeyed chain shows no forgery\n");
    }
    Ok(out)
}

fn attached_to_dcc(bytes: &[u8]) -> Result<Vec<u8>, Wrong> {
    let dcc = read_dcc(std::str::from_utf8(bytes)?).map_err(|r| r.message.to_string())?;
    Ok(dcc.record.ok_or("no signed record is in this certificate")?.bytes)
}

fn attached_to_pdf(bytes: &[u8]) -> Result<Vec<u8>, Wrong> {
    let pdf = lopdf::Document::load_mem(bytes)?;
    let attached = pdf.objects.values().filter_map(|object| object.as_stream().ok()).find(|stream| {
        stream.dict.get(b"Type").and_then(lopdf::Object::as_name).is_ok_and(|name| name == b"EmbeddedFile")
    });
    let stream = attached.ok_or("no job file is in this certificate")?;
    Ok(stream.decompressed_content().unwrap_or_else(|_| stream.content.clone()))
}

/// Checks every job of the database, and every audit trail.
///
/// # Errors
/// Where the database cannot be read.
pub async fn verify_database(pool: &PgPool, keys: &Keys) -> Result<Looked, StoreError> {
    let (mut looked, mut after) = (Looked::default(), Uuid::nil());
    // Once records are signed, one without a signature is one that lost it.
    let mut unsigned: Vec<(Uuid, OffsetDateTime)> = Vec::new();
    let mut first_signed: Option<OffsetDateTime> = None;
    loop {
        let some = records::frozen_after(pool, after, AT_A_TIME).await?;
        let Some(last) = some.last() else { break };
        after = last.job;
        for frozen in &some {
            looked.jobs += 1;
            match holds(frozen, keys) {
                Ok(signed) => {
                    for (record, at) in frozen.records.iter().zip(signed) {
                        match at {
                            _ if frozen.imported || frozen.practice => looked.imported += 1,
                            Some(at) => {
                                looked.signed += 1;
                                first_signed = Some(first_signed.map_or(at, |first| first.min(at)));
                            }
                            None => {
                                looked.unsigned += 1;
                                unsigned.push((frozen.job, record.stored_at));
                            }
                        }
                    }
                }
                Err(why) => looked.broken.push(Broken { job: frozen.job, why }),
            }
        }
    }
    let lost = unsigned.into_iter().filter(|(_, at)| first_signed.is_some_and(|first| *at > first));
    looked.broken.extend(
        lost.map(|(job, _)| Broken { job, why: "its record is not signed, though earlier ones are".into() }),
    );
    let (audited, broken) = audit::check(pool).await?;
    looked.audited = audited;
    looked.broken.extend(broken.into_iter().map(|line| Broken {
        job: line.workshop,
        why: format!("line {} of its audit trail was changed or is missing", line.seq),
    }));
    Ok(looked)
}

/// In words, for the command line.
pub fn report(looked: &Looked) -> String {
    let mut out = String::new();
    for one in &looked.broken {
        // OK because writing to a string does not fail.
        let _ = writeln!(out, "BROKEN {}: {}", one.job, one.why);
    }
    let _ = writeln!(
        out,
        "{} jobs looked at, {} broken; records: {} signed, {} from before signatures, {} imported or practice; {} lines of audit",
        looked.jobs,
        looked.broken.len(),
        looked.signed,
        looked.unsigned,
        looked.imported,
        looked.audited
    );
    out
}

/// When a key of this house signed each of its records.
fn holds(frozen: &Frozen, keys: &Keys) -> Result<Vec<Option<OffsetDateTime>>, String> {
    let sealed: Vec<Sealed> = frozen
        .entries
        .iter()
        .map(|text| serde_json::from_str(text))
        .collect::<Result<_, _>>()
        .map_err(|e| format!("an entry cannot be read: {e}"))?;
    let journal =
        serde_json::to_vec(&JobFile::new(frozen.job, PROGRAM, sealed.clone())).map_err(|e| e.to_string())?;
    open_file(&journal).map_err(|e| {
        // Before imports were refused that are spelt otherwise, they were written anew when stored.
        let anew = if frozen.imported {
            "; it came as a file, and what was sealed there may have been spelt otherwise than it is stored: ask for the file again"
        } else {
            ""
        };
        format!("its journal: {e}{anew}")
    })?;
    frozen.records.iter().map(|record| record_holds(record, frozen, &sealed, keys)).collect()
}

/// A record is a journal as it was when it was frozen: what follows only goes on from it.
fn record_holds(
    record: &FrozenRecord,
    frozen: &Frozen,
    sealed: &[Sealed],
    keys: &Keys,
) -> Result<Option<OffsetDateTime>, String> {
    if sha256_hex(&record.bytes) != record.sha256 {
        return Err("its record is not the bytes that were frozen".into());
    }
    let (file, _) = open_file(&record.bytes).map_err(|e| format!("its record: {e}"))?;
    if !sealed.starts_with(&file.entries) {
        return Err("its record and its journal differ".into());
    }
    let Some(signature) = file.signature() else { return Ok(None) };
    if frozen.imported {
        return Ok(None);
    }
    if !keys.knows(&signature.key) {
        return Err(format!(
            "its record was signed by the key {}, which is none of this house",
            signature.key
        ));
    }
    if signature.statement.number != record.number {
        return Err(format!(
            "its record was signed as {}, not as {}",
            signature.statement.number, record.number
        ));
    }
    Ok(Some(signature.statement.at))
}

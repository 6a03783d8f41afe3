//! A workshop written as an archive, job by job, so that its size does not matter.

use std::collections::BTreeMap;
use std::fs::File;
use std::io::Write;

use ombret_core::job::{JobFile, RULES_VERSION};
use ombret_core::journal::Sealed;
use serde::Serialize;
use sqlx::PgPool;
use time::OffsetDateTime;
use uuid::Uuid;
use zip::ZipWriter;
use zip::write::SimpleFileOptions;

use super::format::{FORMAT, MANIFEST, Manifest, Mark, VERSION, about_of, journal_of, record_of};
use crate::signing::Keys;
use crate::store::StoreError;
use crate::store::archive::{Snapshot, WholeJob};
use crate::work::Work;
use crate::{PROGRAM, sha256_hex};

/// Jobs in one go.
const AT_A_TIME: i64 = 100;

/// Writes a workshop; none where it was called off.
///
/// # Errors
/// Where the database or the disk fails.
pub async fn export(
    pool: &PgPool,
    workshop: Uuid,
    work: &Work,
    keys: &Keys,
) -> Result<Option<(File, u64)>, StoreError> {
    let mut seen = Snapshot::take(pool, workshop).await?;
    let total = u64::try_from(seen.jobs().await?).unwrap_or(0);
    let mut out = Out::new()?;
    out.json("workshop.json", &seen.workshop().await?)?;
    out.json("scales.json", &seen.scales().await?)?;
    out.json("kit.json", &seen.kit().await?)?;
    let certificates = seen.certificates().await?;
    out.json("certificates.json", &certificates)?;
    for part in &certificates {
        if work.stop.is_cancelled() {
            return Ok(None);
        }
        out.part(&part.part, &seen.certificate(part).await?)?;
    }
    out.json("profiles.json", &seen.profiles().await?)?;
    out.json("customers.json", &seen.customers().await?)?;
    out.json("instruments.json", &seen.instruments().await?)?;
    let files = seen.files().await?;
    out.json("files.json", &files)?;
    for file in &files {
        if work.stop.is_cancelled() {
            return Ok(None);
        }
        out.part(&file.part(), &seen.file(file.id).await?)?;
    }
    let (mut done, mut after) = (0, Uuid::nil());
    loop {
        work.progress(done, total);
        if work.stop.is_cancelled() {
            return Ok(None);
        }
        let jobs = seen.jobs_after(after, AT_A_TIME).await?;
        let Some(last) = jobs.last() else { break };
        after = last.id;
        done += u64::try_from(jobs.len()).unwrap_or(0);
        // Packing is work for a processor: not on a thread that serves.
        out = tokio::task::spawn_blocking(move || {
            jobs.iter().try_for_each(|job| out.job(job))?;
            Ok::<_, StoreError>(out)
        })
        .await
        .map_err(|e| StoreError::Unreadable(e.to_string()))??;
    }
    Ok(Some((out.end(keys)?, done)))
}

struct Out {
    zip: ZipWriter<File>,
    files: BTreeMap<String, Mark>,
}

fn failed(e: impl ToString) -> StoreError {
    StoreError::Unreadable(format!("the archive cannot be written: {}", e.to_string()))
}

impl Out {
    fn new() -> Result<Self, StoreError> {
        Ok(Self { zip: ZipWriter::new(tempfile::tempfile().map_err(failed)?), files: BTreeMap::new() })
    }

    fn part(&mut self, name: &str, bytes: &[u8]) -> Result<(), StoreError> {
        self.zip.start_file(name, SimpleFileOptions::default()).map_err(failed)?;
        self.zip.write_all(bytes).map_err(failed)?;
        let sha256 = sha256_hex(bytes);
        self.files
            .insert(name.to_owned(), Mark { sha256, bytes: u64::try_from(bytes.len()).unwrap_or(u64::MAX) });
        Ok(())
    }

    fn json(&mut self, name: &str, value: &impl Serialize) -> Result<(), StoreError> {
        let bytes = serde_json::to_vec_pretty(value)?;
        self.part(name, &bytes)
    }

    fn job(&mut self, job: &WholeJob) -> Result<(), StoreError> {
        let sealed: Vec<Sealed> =
            job.entries.iter().map(|text| serde_json::from_str(text)).collect::<Result<_, _>>()?;
        self.json(&journal_of(job.id), &JobFile::new(job.id, PROGRAM, sealed))?;
        self.json(&about_of(job.id), &job.about)?;
        job.about
            .records
            .iter()
            .zip(&job.records)
            .try_for_each(|(part, bytes)| self.part(&record_of(job.id, part.seq), bytes))
    }

    fn end(mut self, keys: &Keys) -> Result<File, StoreError> {
        let mut manifest = Manifest {
            format: FORMAT.into(),
            version: VERSION,
            program: PROGRAM.into(),
            rules: RULES_VERSION.into(),
            made_at: OffsetDateTime::now_utc(),
            files: std::mem::take(&mut self.files),
            signature: None,
        };
        manifest.sign(keys)?;
        let bytes = serde_json::to_vec_pretty(&manifest)?;
        self.zip.start_file(MANIFEST, SimpleFileOptions::default()).map_err(failed)?;
        self.zip.write_all(&bytes).map_err(failed)?;
        self.zip.finish().map_err(failed)
    }
}

//! An archive looked at before anything of it is taken: names, sizes, hashes, chains. Only then is it
//! taken in, in one transaction.

use std::collections::{BTreeMap, BTreeSet};
use std::fs::File;
use std::io::Read;

use ombret_core::job::{JobFile, JobState, open_file};
use ombret_core::weights::Piece;
use serde::de::DeserializeOwned;
use sqlx::PgPool;
use tempfile::NamedTempFile;
use time::OffsetDateTime;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;
use zip::ZipArchive;

use super::format::{
    Broken, CertificatePart, FORMAT, JobPart, MANIFEST, Manifest, Mark, ProfilePart, ScalePart, VERSION,
    WorkshopPart, about_of, journal_of, record_of,
};
use super::tasks::Tasks;
use crate::sha256_hex;
use crate::store::StoreError;
use crate::store::archive::Filling;

/// Largest part, and largest manifest, in bytes.
const MOST_PART: u64 = 16 << 20;
const MOST_MANIFEST: u64 = 256 << 20;
/// All parts together, in bytes, unpacked.
const MOST_ALL: u64 = 8 << 30;
/// Most parts.
const MOST_PARTS: usize = 2_000_000;

/// What came in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Taken {
    /// Scales.
    pub scales: usize,
    /// Weights.
    pub pieces: usize,
    /// Jobs.
    pub jobs: usize,
}

/// An archive whose every part was looked at.
pub struct Opened {
    zip: ZipArchive<File>,
    files: BTreeMap<String, Mark>,
    own: WorkshopPart,
    scales: Vec<ScalePart>,
    kit: Vec<Piece>,
    certificates: Vec<CertificatePart>,
    profiles: Vec<ProfilePart>,
    /// Jobs in the order in which they were closed, so that due dates come out as they were.
    jobs: Vec<Uuid>,
}

/// Looks at an archive. Nothing is stored.
///
/// # Errors
/// [`Broken`] with the part that is wrong.
pub fn open(file: File, stop: &CancellationToken) -> Result<Opened, Broken> {
    let zip = ZipArchive::new(file).map_err(|e| Broken::at("the file", format!("is no archive: {e}")))?;
    if zip.len() > MOST_PARTS {
        return Err(Broken::at("the file", format!("has {} parts, more than any workshop", zip.len())));
    }
    let mut zip = zip;
    let names = names(&mut zip)?;
    let manifest: Manifest = json(MANIFEST, &bytes_of(&mut zip, MANIFEST, MOST_MANIFEST)?)?;
    if manifest.format != FORMAT || manifest.version != VERSION {
        return Err(Broken::at(
            MANIFEST,
            format!(
                "this is “{}” version {}; this program reads {FORMAT} version {VERSION}",
                manifest.format.chars().take(40).collect::<String>(),
                manifest.version
            ),
        ));
    }
    if let Some(extra) = names.iter().find(|n| *n != MANIFEST && !manifest.files.contains_key(*n)) {
        return Err(Broken::at(extra.clone(), "is not in the manifest"));
    }
    let all: u64 = manifest.files.values().map(|m| m.bytes).fold(0, u64::saturating_add);
    if all > MOST_ALL {
        return Err(Broken::at(MANIFEST, "names more than any workshop holds"));
    }
    let mut opened = Opened {
        zip,
        files: manifest.files,
        own: empty(),
        scales: Vec::new(),
        kit: Vec::new(),
        certificates: Vec::new(),
        profiles: Vec::new(),
        jobs: Vec::new(),
    };
    opened.look(stop)?;
    Ok(opened)
}

fn empty() -> WorkshopPart {
    WorkshopPart {
        name: String::new(),
        paper: Default::default(),
        judgement: Default::default(),
        school: String::new(),
        own_classes: Vec::new(),
        sites: Vec::new(),
        lessons: Vec::new(),
    }
}

/// The names of all parts: plain, once each, none that leads out of the archive.
fn names(zip: &mut ZipArchive<File>) -> Result<BTreeSet<String>, Broken> {
    let mut found = BTreeSet::new();
    for index in 0..zip.len() {
        let part = zip.by_index_raw(index).map_err(|e| Broken::at(format!("part {}", index + 1), e))?;
        let name = part.name().map_err(|e| Broken::at(format!("part {}", index + 1), e))?.into_owned();
        let plain = !name.is_empty()
            && name.len() < 200
            && name.split('/').all(|s| !s.is_empty() && s != "." && s != "..")
            && name.bytes().all(|b| b.is_ascii_alphanumeric() || b"-._/".contains(&b));
        let shown: String = name.chars().take(80).collect();
        if !plain || part.enclosed_name().is_none() || part.is_symlink() || part.is_dir() {
            return Err(Broken::at(format!("“{shown}”"), "is no name that a part of an archive has"));
        }
        if part.encrypted() {
            return Err(Broken::at(shown, "is locked with a password"));
        }
        if !found.insert(name) {
            return Err(Broken::at(shown, "stands twice in the archive"));
        }
    }
    Ok(found)
}

/// A part's bytes; what it claims to unpack to is not believed.
fn bytes_of(zip: &mut ZipArchive<File>, name: &str, most: u64) -> Result<Vec<u8>, Broken> {
    let part = zip.by_name(name).map_err(|_| Broken::at(name, "is missing"))?;
    let mut bytes = Vec::new();
    part.take(most + 1)
        .read_to_end(&mut bytes)
        .map_err(|e| Broken::at(name, format!("cannot be unpacked: {e}")))?;
    if u64::try_from(bytes.len()).unwrap_or(u64::MAX) > most {
        return Err(Broken::at(name, format!("unpacks to more than {} MiB", most >> 20)));
    }
    Ok(bytes)
}

fn json<T: DeserializeOwned>(name: &str, bytes: &[u8]) -> Result<T, Broken> {
    serde_json::from_slice(bytes).map_err(|e| Broken::at(name, format!("cannot be read: {e}")))
}

/// Journal, what it comes to, the rest of it, and the bytes of its records.
type ReadJob = (JobFile, JobState, JobPart, Vec<Vec<u8>>);

impl Opened {
    /// A part as the manifest says it is.
    fn part(&mut self, name: &str) -> Result<Vec<u8>, Broken> {
        let mark =
            self.files.get(name).ok_or_else(|| Broken::at(name, "is missing from the manifest"))?.clone();
        let bytes = bytes_of(&mut self.zip, name, MOST_PART.min(mark.bytes))?;
        let now: String = sha256_hex(&bytes);
        if now == mark.sha256 {
            Ok(bytes)
        } else {
            Err(Broken::at(name, "was changed: its hash is not the manifest's"))
        }
    }

    fn read<T: DeserializeOwned>(&mut self, name: &str) -> Result<T, Broken> {
        let bytes = self.part(name)?;
        json(name, &bytes)
    }

    fn look(&mut self, stop: &CancellationToken) -> Result<(), Broken> {
        self.own = self.read("workshop.json")?;
        self.own.paper.letterhead.check().map_err(|r| Broken::at("workshop.json", r.message))?;
        self.scales = self.read("scales.json")?;
        for s in &self.scales {
            s.sheet
                .check()
                .map_err(|r| Broken::at("scales.json", format!("{}: {}", s.sheet.name, r.message)))?;
            if s.sheet.practice {
                return Err(Broken::at("scales.json", format!("{} is the scale of a lesson", s.sheet.name)));
            }
        }
        self.kit = self.read("kit.json")?;
        self.certificates = self.read("certificates.json")?;
        self.profiles = self.read("profiles.json")?;
        for part in self.certificates.clone() {
            self.part(&part.part)?;
            if !self.kit.iter().any(|p| p.id == part.piece) {
                return Err(Broken::at("certificates.json", format!("{} belongs to no piece", part.number)));
            }
        }
        let jobs: Vec<Uuid> = self
            .files
            .keys()
            .filter_map(|name| name.strip_prefix("jobs/")?.strip_suffix("/journal.json")?.parse().ok())
            .collect();
        let mut ordered: Vec<(OffsetDateTime, Uuid)> = Vec::with_capacity(jobs.len());
        let mut known = 5 + self.certificates.len();
        for job in jobs {
            if stop.is_cancelled() {
                return Err(Broken::at("the file", "was not looked at to its end"));
            }
            let (_, state, _, records) = self.job(job)?;
            known += 2 + records.len();
            ordered.push((state.closed.map_or(OffsetDateTime::UNIX_EPOCH, |(_, _, at)| at), job));
        }
        if known != self.files.len() {
            return Err(Broken::at(MANIFEST, "names parts that belong to nothing"));
        }
        ordered.sort();
        self.jobs = ordered.into_iter().map(|(_, job)| job).collect();
        Ok(())
    }

    /// A job with its records: its chain holds, and every record is how its journal began.
    fn job(&mut self, job: Uuid) -> Result<ReadJob, Broken> {
        let at = journal_of(job);
        let (file, state) = open_file(&self.part(&at)?).map_err(|e| Broken::at(&at, e))?;
        if file.job != job {
            return Err(Broken::at(at, "is the journal of another job"));
        }
        let about: JobPart = self.read(&about_of(job))?;
        if !self.scales.iter().any(|s| s.sheet.id == about.scale) || state.sheet.practice {
            return Err(Broken::at(about_of(job), "names a scale that is not in the archive"));
        }
        let mut records = Vec::with_capacity(about.records.len());
        for part in &about.records {
            let name = record_of(job, part.seq);
            let bytes = self.part(&name)?;
            let (frozen, then) = open_file(&bytes).map_err(|e| Broken::at(&name, e))?;
            let length = i32::try_from(frozen.entries.len()).unwrap_or(i32::MAX);
            let fits = frozen.job == job
                && file.entries.starts_with(&frozen.entries)
                && length == part.seq
                && then.closed.is_some();
            if !fits {
                return Err(Broken::at(name, "is not how its journal began"));
            }
            let now: String = sha256_hex(&bytes);
            if now != part.sha256 || i64::from(part.version) != i64::from(then.review.version()) {
                return Err(Broken::at(name, "is not the bytes that were frozen"));
            }
            records.push(bytes);
        }
        if state.closed.is_some() && records.is_empty() {
            return Err(Broken::at(about_of(job), "a signed job without its record"));
        }
        Ok((file, state, about, records))
    }
}

/// Why nothing was taken in.
#[derive(Debug, thiserror::Error)]
pub enum NotTaken {
    /// The archive is broken.
    #[error("{0}")]
    Broken(#[from] Broken),
    /// The database.
    #[error("{0}")]
    Store(#[from] StoreError),
    /// The workshop has something already.
    #[error("this workshop has scales, weights or profiles already; an archive is taken into an empty one")]
    NotEmpty,
    /// It was called off.
    #[error("it was called off")]
    Off,
}

/// Takes a workshop in: all of it or nothing.
///
/// # Errors
/// [`NotTaken`]; then nothing is stored.
pub async fn take_in(
    pool: &PgPool,
    workshop: Uuid,
    upload: NamedTempFile,
    tasks: &Tasks,
    task: Uuid,
    stop: &CancellationToken,
) -> Result<Taken, NotTaken> {
    let blocked = |e: tokio::task::JoinError| NotTaken::Store(StoreError::Unreadable(e.to_string()));
    let off = stop.clone();
    let opened = tokio::task::spawn_blocking(move || {
        let file = upload.reopen().map_err(|e| Broken::at("the file", e))?;
        open(file, &off)
    });
    let mut opened = match opened.await.map_err(blocked)? {
        Ok(opened) => opened,
        Err(_) if stop.is_cancelled() => return Err(NotTaken::Off),
        Err(broken) => return Err(broken.into()),
    };
    let mut filling = Filling::begin(pool, workshop).await?.ok_or(NotTaken::NotEmpty)?;
    filling.workshop(&opened.own).await?;
    filling.scales(&opened.scales).await?;
    let mut files = Vec::with_capacity(opened.certificates.len());
    for part in opened.certificates.clone() {
        let bytes = opened.part(&part.part)?;
        files.push((part, bytes));
    }
    if let Some(serial) = filling.kit(&opened.kit, &files).await? {
        return Err(Broken::at("kit.json", format!("“{serial}” stands twice")).into());
    }
    filling.profiles(&opened.profiles).await?;
    let (jobs, total) = (opened.jobs.clone(), u64::try_from(opened.jobs.len()).unwrap_or(0));
    for (done, job) in (0u64..).zip(jobs) {
        tasks.progress(task, done, total);
        if stop.is_cancelled() {
            return Err(NotTaken::Off);
        }
        let (back, read) = tokio::task::spawn_blocking(move || {
            let read = opened.job(job);
            (opened, read)
        })
        .await
        .map_err(blocked)?;
        opened = back;
        let (file, _, about, records) = read?;
        filling.job(&file, &about, &records).await?;
    }
    let taken = Taken { scales: opened.scales.len(), pieces: opened.kit.len(), jobs: opened.jobs.len() };
    filling.done().await?;
    tasks.progress(task, total, total);
    Ok(taken)
}

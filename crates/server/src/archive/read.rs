//! An archive looked at before anything of it is taken: names, sizes, hashes, chains. Only then is it
//! taken in, in one transaction.

use std::collections::{BTreeMap, BTreeSet};
use std::fs::File;
use std::io::{Read, Seek, SeekFrom};

use ombret_core::customer::Customer;
use ombret_core::job::{JobFile, import_file, open_file};
use ombret_core::journal::{JobState, hex_of_bytes};
use ombret_core::weights::{Instrument, Piece};
use serde::de::DeserializeOwned;
use serde_json::json;
use sha2::{Digest, Sha256};
use sqlx::PgPool;
use time::OffsetDateTime;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;
use zip::ZipArchive;

use super::format::{
    Broken, CertificatePart, FORMAT, FilePart, JobPart, MANIFEST, Manifest, Mark, ProfilePart, ScalePart,
    VERSION, WorkshopPart, about_of, journal_of, record_of,
};
use super::validate;
use crate::sha256_hex;
use crate::signing::Keys;
use crate::store::StoreError;
use crate::store::archive::Filling;
use crate::store::beside::FileOf;
use crate::store::people::Person;
use crate::work::Work;

/// Largest part, and largest list of all scales or weights, in bytes.
const MOST_PART: u64 = 16 << 20;
const MOST_LIST: u64 = 128 << 20;
/// What a part takes in the manifest, at the most, in bytes.
const MOST_MARK: u64 = 400;
/// All parts together, in bytes, unpacked.
const MOST_ALL: u64 = 8 << 30;
/// Most parts: three for each job of a very large workshop.
const MOST_PARTS: usize = 1_000_000;

/// What came in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Taken {
    /// Scales.
    pub scales: usize,
    /// Weights.
    pub pieces: usize,
    /// Jobs.
    pub jobs: usize,
    /// This house wrote it; otherwise its records stay foreign.
    pub own: bool,
}

impl Taken {
    /// In words.
    pub fn says(&self) -> String {
        let own = if self.own { "" } else { "; another house wrote it: its records stay imported ones" };
        format!("{} scales, {} weights, {} jobs taken in{own}", self.scales, self.pieces, self.jobs)
    }
}

/// What tells an archive of this house from another's.
#[derive(Clone, Debug)]
pub struct TrustedKeys {
    /// The keys of this house.
    pub keys: Keys,
    /// Archives that the settings name by their SHA-256.
    pub archives: Vec<String>,
}

/// An archive whose every part was looked at.
pub struct Opened {
    zip: ZipArchive<File>,
    files: BTreeMap<String, Mark>,
    own: WorkshopPart,
    scales: Vec<ScalePart>,
    scale_ids: BTreeSet<Uuid>,
    kit: Vec<Piece>,
    certificates: Vec<CertificatePart>,
    profiles: Vec<ProfilePart>,
    customers: Vec<Customer>,
    instruments: Vec<Instrument>,
    beside: Vec<FilePart>,
    version: u32,
    /// This house wrote it: its key signed the manifest, or the settings name the file.
    own_house: bool,
    /// Jobs in the order in which they were closed, so that due dates come out as they were.
    jobs: Vec<Uuid>,
}

/// Looks at an archive. Nothing is stored.
///
/// # Errors
/// [`Broken`] with the part that is wrong.
pub fn open(mut file: File, trust: &TrustedKeys, stop: &CancellationToken) -> Result<Opened, Broken> {
    let trusted = !trust.archives.is_empty() && trust.archives.contains(&hash_of(&mut file)?);
    let named = named_parts(&mut file)?;
    let zip = ZipArchive::new(file).map_err(|e| Broken::at("the file", format!("is no archive: {e}")))?;
    if zip.len() > MOST_PARTS {
        return Err(Broken::at("the file", format!("has {} parts, more than any workshop", zip.len())));
    }
    if named != zip.len() {
        return Err(Broken::at("the file", "names a part twice"));
    }
    let mut zip = zip;
    let names = names(&mut zip)?;
    let most = MOST_MARK * (u64::try_from(names.len()).unwrap_or(0) + 10);
    let manifest: Manifest = json(MANIFEST, &bytes_of(&mut zip, MANIFEST, most)?)?;
    if manifest.format != FORMAT || !(1..=VERSION).contains(&manifest.version) {
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
    if let Some(missing) = manifest.files.keys().find(|name| !names.contains(*name)) {
        let missing: String = missing.chars().take(80).collect();
        return Err(Broken::at(missing, "is missing"));
    }
    if manifest.signature.is_some() && manifest.signed_by().is_none() {
        return Err(Broken::at(MANIFEST, "was changed: its signature does not fit"));
    }
    let own_house = trusted || manifest.signed_by().is_some_and(|key| trust.keys.knows(key));
    let all: u64 = manifest.files.values().map(|m| m.bytes).fold(0, u64::saturating_add);
    if all > MOST_ALL {
        return Err(Broken::at(MANIFEST, "names more than any workshop holds"));
    }
    let mut opened = Opened {
        zip,
        files: manifest.files,
        version: manifest.version,
        customers: Vec::new(),
        instruments: Vec::new(),
        beside: Vec::new(),
        own: empty(),
        scales: Vec::new(),
        scale_ids: BTreeSet::new(),
        kit: Vec::new(),
        certificates: Vec::new(),
        profiles: Vec::new(),
        own_house,
        jobs: Vec::new(),
    };
    opened.look(stop)?;
    Ok(opened)
}

fn hash_of(file: &mut File) -> Result<String, Broken> {
    let wrong = |e: std::io::Error| Broken::at("the file", e);
    let mut hasher = Sha256::new();
    file.seek(SeekFrom::Start(0)).map_err(wrong)?;
    let mut bytes = vec![0; 128 << 10];
    loop {
        match file.read(&mut bytes).map_err(wrong)? {
            0 => break,
            read => hasher.update(&bytes[..read]),
        }
    }
    file.seek(SeekFrom::Start(0)).map_err(wrong)?;
    Ok(hex_of_bytes(&hasher.finalize()))
}

/// How many parts the directory at the end of the file names. A reader of ZIP files keeps one of each name;
/// a part that stands twice shows only here. Source: APPNOTE.TXT, 4.3.12.
fn named_parts(file: &mut File) -> Result<usize, Broken> {
    let wrong = |e: std::io::Error| Broken::at("the file", format!("cannot be read: {e}"));
    let start = ZipArchive::new(&*file)
        .map_err(|e| Broken::at("the file", format!("is no archive: {e}")))?
        .central_directory_start();
    file.seek(SeekFrom::Start(start)).map_err(wrong)?;
    let mut directory = std::io::BufReader::new(&*file);
    let mut count = 0;
    let mut head = [0u8; 46];
    while directory.read_exact(&mut head).is_ok() && head.starts_with(b"PK\x01\x02") {
        count += 1;
        if count > MOST_PARTS {
            break;
        }
        let length = |at: usize| i64::from(u16::from_le_bytes([head[at], head[at + 1]]));
        directory.seek_relative(length(28) + length(30) + length(32)).map_err(wrong)?;
    }
    drop(directory);
    file.seek(SeekFrom::Start(0)).map_err(wrong)?;
    Ok(count)
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
        let most = if matches!(name, "scales.json" | "kit.json") { MOST_LIST } else { MOST_PART };
        let bytes = bytes_of(&mut self.zip, name, most.min(mark.bytes))?;
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
        validate::workshop(&self.own)?;
        self.scales = self.read("scales.json")?;
        validate::scales(&self.scales)?;
        self.scale_ids = self.scales.iter().map(|s| s.sheet.id).collect();
        self.kit = self.read("kit.json")?;
        validate::kit(&self.kit)?;
        self.certificates = self.read("certificates.json")?;
        validate::certificates(&self.certificates, &self.kit)?;
        self.profiles = self.read("profiles.json")?;
        validate::profiles(&self.profiles)?;
        for part in self.certificates.clone() {
            self.part(&part.part)?;
        }
        let mut known = 5 + self.certificates.len();
        if self.version > 1 {
            self.customers = self.read("customers.json")?;
            validate::customers(&self.customers)?;
            self.instruments = self.read("instruments.json")?;
            validate::instruments(&self.instruments)?;
            self.beside = self.read("files.json")?;
            known += 3 + self.beside.len();
        }
        let jobs: Vec<Uuid> = self
            .files
            .keys()
            .filter_map(|name| name.strip_prefix("jobs/")?.strip_suffix("/journal.json")?.parse().ok())
            .collect();
        let mut ordered: Vec<(OffsetDateTime, Uuid)> = Vec::with_capacity(jobs.len());
        let ids: BTreeSet<Uuid> = jobs.iter().copied().collect();
        let pieces: BTreeSet<Uuid> = self.kit.iter().map(|p| p.id).collect();
        validate::files(&self.beside, |of, id| match of {
            FileOf::Scale => self.scale_ids.contains(&id),
            FileOf::Job => ids.contains(&id),
            FileOf::Piece => pieces.contains(&id),
        })?;
        for part in self.beside.clone() {
            let bytes = self.part(&part.part())?;
            if sha256_hex(&bytes) != part.sha256 || i64::try_from(bytes.len()) != Ok(part.size) {
                return Err(Broken::at(part.part(), "is not the file that was kept"));
            }
        }
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
        let (file, state) =
            import_file(&self.part(&at)?, OffsetDateTime::now_utc()).map_err(|e| Broken::at(&at, e))?;
        if file.job != job {
            return Err(Broken::at(at, "is the journal of another job"));
        }
        let about: JobPart = self.read(&about_of(job))?;
        if !self.scale_ids.contains(&about.scale) || state.sheet.practice {
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

/// What a person is told of a database that refuses, without its own words.
fn words_of(error: &StoreError) -> &'static str {
    match error {
        StoreError::Gone(_) => "the database is away",
        refused if refused.twice().is_some() => "something of it is kept by another workshop here",
        _ => "it could not be stored; the server's log says more",
    }
}

/// Why nothing was taken in.
#[derive(Debug, thiserror::Error)]
pub enum NotTaken {
    /// The archive is broken.
    #[error("{0}")]
    Broken(#[from] Broken),
    /// The database; the log says more.
    #[error("{}", words_of(.0))]
    Store(#[from] StoreError),
    /// The workshop has something already.
    #[error("this workshop has scales, weights or profiles already; an archive is taken into an empty one")]
    NotEmpty,
    /// It was called off.
    #[error("it was called off")]
    Off,
}

/// Unpacking and checking is work for a processor: not on a thread that serves.
async fn blocked<T: Send + 'static>(work: impl FnOnce() -> T + Send + 'static) -> Result<T, NotTaken> {
    let done = tokio::task::spawn_blocking(work).await;
    done.map_err(|e| NotTaken::Store(StoreError::Unreadable(e.to_string())))
}

/// Takes a workshop in: all of it or nothing.
///
/// # Errors
/// [`NotTaken`]; then nothing is stored.
pub async fn take_in(
    pool: &PgPool,
    by: &Person,
    trust: TrustedKeys,
    upload: File,
    work: &Work,
) -> Result<Taken, NotTaken> {
    let (stop, off) = (work.stop.clone(), work.stop.clone());
    let mut opened = match blocked(move || open(upload, &trust, &off)).await? {
        Ok(opened) => opened,
        Err(_) if stop.is_cancelled() => return Err(NotTaken::Off),
        Err(broken) => return Err(broken.into()),
    };
    let mut filling = Filling::begin(pool, by.workshop_id).await?.ok_or(NotTaken::NotEmpty)?;
    filling.workshop(&opened.own, by).await?;
    filling.customers(&opened.customers).await?;
    filling.scales(&opened.scales).await?;
    filling.instruments(&opened.instruments).await?;
    if let Some(serial) = filling.kit(&opened.kit).await? {
        return Err(Broken::at("kit.json", format!("“{serial}” stands twice")).into());
    }
    for part in opened.certificates.clone() {
        let name = part.part.clone();
        let (back, bytes) = blocked(move || {
            let bytes = opened.part(&name);
            (opened, bytes)
        })
        .await?;
        opened = back;
        filling.certificate(&part, &bytes?).await?;
    }
    filling.profiles(&opened.profiles).await?;
    let (jobs, total) = (opened.jobs.clone(), u64::try_from(opened.jobs.len()).unwrap_or(0));
    for (done, job) in (0u64..).zip(jobs) {
        work.progress(done, total);
        if stop.is_cancelled() {
            return Err(NotTaken::Off);
        }
        let (back, read) = blocked(move || {
            let read = opened.job(job);
            (opened, read)
        })
        .await?;
        opened = back;
        let (file, _, about, records) = read?;
        filling.job(&file, &about, &records, opened.own_house).await?;
    }
    for part in opened.beside.clone() {
        let name = part.part();
        let (back, bytes) = blocked(move || {
            let bytes = opened.part(&name);
            (opened, bytes)
        })
        .await?;
        opened = back;
        filling.file(&part, &bytes?).await?;
    }
    let taken = Taken {
        scales: opened.scales.len(),
        pieces: opened.kit.len(),
        jobs: opened.jobs.len(),
        own: opened.own_house,
    };
    let detail =
        json!({"scales": taken.scales, "pieces": taken.pieces, "jobs": taken.jobs, "own": taken.own});
    work.progress(total, total);
    filling.done(by, detail, work.id, &taken.says()).await?;
    Ok(taken)
}

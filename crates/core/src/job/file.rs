//! The job as an open file: JSON, the journal with its hash chain, nothing else. Everything shown
//! is worked out from it again.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

use super::admit::may_follow;
use crate::journal::entries;
use crate::journal::{
    Body, ChainError, Entry, JobState, RecordSignature, Sealed, SignatureError, fold, four_eyes, signed_by,
    verify,
};
use crate::wording::Text;

/// The media type of a job file.
pub const MEDIA_TYPE: &str = "application/vnd.ombret.job+json";

/// Changes when a rule gives other figures for the same journal.
pub const RULES_VERSION: &str = "2026.4";

/// No journal of a real job comes near this many entries; it bounds the cost of reading a file.
pub const MOST_ENTRIES: usize = 2_000;

const FORMAT: &str = "ombret.job";
const VERSION: u32 = 1;

/// A job as a file.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct JobFile {
    /// Always `ombret.job`.
    pub format: String,
    /// Version of the format.
    pub version: u32,
    /// Identity of the job.
    pub job: Uuid,
    /// The program that wrote it, with its version.
    pub program: String,
    /// Version of the rules.
    pub rules: String,
    /// The journal.
    pub entries: Vec<Sealed>,
    /// What a workshop's key says of it; empty where the job is open, or older than signatures.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub signatures: Vec<RecordSignature>,
}

/// Why a file is not taken.
#[derive(Debug, thiserror::Error)]
pub enum FileError {
    /// Not JSON, or not of this shape.
    Shape(#[from] serde_json::Error),
    /// Another format or a later version.
    Format {
        /// Its format.
        format: String,
        /// Its version.
        version: u32,
    },
    /// More entries than any job has.
    TooLong {
        /// How many.
        entries: usize,
    },
    /// The chain does not hold.
    Chain(#[from] ChainError),
    /// It says the same in another spelling than the one in which this program seals.
    Spelling {
        /// Its place.
        seq: u32,
    },
    /// Times that cannot be.
    Time {
        /// Its place.
        seq: u32,
        /// What is wrong with it.
        what: Text,
    },
    /// A signature does not hold.
    Signature(#[from] SignatureError),
    /// The journal is not one that could have been written.
    Journal {
        /// Its place.
        seq: u32,
        /// Why.
        reason: Text,
    },
}

impl From<&FileError> for Text {
    fn from(error: &FileError) -> Self {
        match error {
            FileError::Shape(f0) => text!("file-shape", f0 = f0.to_string()),
            FileError::Format { format, version } => {
                text!("file-format", what = format, version, format = FORMAT, version2 = VERSION)
            }
            FileError::TooLong { entries } => text!("file-too-long", entries, most_entries = MOST_ENTRIES),
            FileError::Chain(f0) => text!("file-chain", f0 = Text::from(f0)),
            FileError::Spelling { seq } => text!("file-spelling", seq),
            FileError::Time { seq, what } => text!("file-time", seq, what),
            FileError::Signature(f0) => text!("file-signature", f0 = Text::from(f0)),
            FileError::Journal { seq, reason } => text!("file-journal", seq, reason),
        }
    }
}

impl From<FileError> for Text {
    fn from(error: FileError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for FileError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

impl JobFile {
    /// A file of a journal.
    pub fn new(job: Uuid, program: &str, entries: Vec<Sealed>) -> Self {
        Self {
            format: FORMAT.into(),
            version: VERSION,
            job,
            program: program.into(),
            rules: RULES_VERSION.into(),
            entries,
            signatures: Vec::new(),
        }
    }

    /// The signature of the journal as it stands, where a key has signed all of it.
    pub fn signature(&self) -> Option<&RecordSignature> {
        self.signatures.last().filter(|s| usize::try_from(s.statement.entries) == Ok(self.entries.len()))
    }
}

/// Reads a job file: shape, version, chain, and that each entry could follow the ones before it.
///
/// # Errors
/// [`FileError`] with what is wrong and where.
pub fn open_file(bytes: &[u8]) -> Result<(JobFile, JobState), FileError> {
    let raw: Value = serde_json::from_slice(bytes)?;
    let format = raw.get("format").and_then(Value::as_str).unwrap_or("something else");
    let version = raw.get("version").and_then(Value::as_u64).and_then(|v| u32::try_from(v).ok()).unwrap_or(0);
    if format != FORMAT || version != VERSION {
        return Err(FileError::Format { format: format.chars().take(40).collect(), version });
    }
    let raw_entries = raw.get("entries").and_then(Value::as_array).cloned().unwrap_or_default();
    if raw_entries.len() > MOST_ENTRIES {
        return Err(FileError::TooLong { entries: raw_entries.len() });
    }
    let file: JobFile = serde_json::from_value(raw)?;
    verify(file.job, &raw_entries)?;
    check_all(&file)?;
    let entries: Vec<Entry> = file.entries.iter().map(|sealed| sealed.entry.clone()).collect();
    let state = replay(&entries)?;
    Ok((file, state))
}

/// How far the clocks of two machines may differ.
const CLOCKS_DIFFER: Duration = Duration::minutes(5);

/// Reads a job file that is to be stored. Beside what [`open_file`] asks, every entry must be spelt as this
/// program seals it, because what is stored is written anew; and no time may lie in the future or before
/// the entry it follows.
///
/// # Errors
/// [`FileError`] with what is wrong and where.
pub fn import_file(bytes: &[u8], now: OffsetDateTime) -> Result<(JobFile, JobState), FileError> {
    let (file, state) = open_file(bytes)?;
    let raw: Value = serde_json::from_slice(bytes)?;
    let raw = raw.get("entries").and_then(Value::as_array).cloned().unwrap_or_default();
    let mut before = OffsetDateTime::UNIX_EPOCH;
    for (sealed, raw) in file.entries.iter().zip(&raw) {
        let (seq, at) = (sealed.entry.seq, sealed.entry.at);
        if serde_json::to_value(sealed)? != *raw {
            return Err(FileError::Spelling { seq });
        }
        if at < before {
            return Err(FileError::Time { seq, what: text!("file-lies-before-the-entry-that") });
        }
        if at > now + CLOCKS_DIFFER {
            return Err(FileError::Time { seq, what: text!("file-has-not-come-yet") });
        }
        before = at;
    }
    Ok((file, state))
}

fn replay(entries: &[Entry]) -> Result<JobState, FileError> {
    let wrong = |seq: u32, reason: Text| FileError::Journal { seq, reason };
    let first = entries.first().ok_or_else(|| wrong(1, text!("file-empty")))?;
    match &first.body {
        Body::Started(entries::Started { sheet, .. }) => {
            sheet.check().map_err(|refusal| wrong(1, refusal.message))?
        }
        _ => return Err(wrong(1, text!("file-begins-with-start"))),
    }
    let mut state = fold(&entries[..1]).ok_or_else(|| wrong(1, text!("file-begins-with-start")))?;
    for (index, entry) in entries.iter().enumerate().skip(1) {
        if entries[..index].iter().any(|e| e.id == entry.id) {
            return Err(wrong(entry.seq, text!("file-identity-twice")));
        }
        may_follow(&entries[..index], &state, &entry.body)
            .map_err(|refusal| wrong(entry.seq, refusal.message))?;
        four_eyes(&state, &entry.body, entry.by.id).map_err(|refusal| wrong(entry.seq, refusal.message))?;
        state.advance(&entries[..=index]);
    }
    Ok(state)
}

impl RecordSignature {
    fn check(&self, file: &JobFile) -> Result<(), SignatureError> {
        let s = &self.statement;
        let last = usize::try_from(s.entries).ok().and_then(|n| file.entries.get(n.checked_sub(1)?));
        if s.job != file.job || last.is_none_or(|entry| entry.hash != s.head) {
            return Err(SignatureError::Elsewhere);
        }
        let bytes = s.bytes().map_err(|_| SignatureError::Wrong)?;
        if signed_by(&self.key, &self.signature, &bytes) { Ok(()) } else { Err(SignatureError::Wrong) }
    }
}

/// Every signature of a file, whoever made it.
fn check_all(file: &JobFile) -> Result<(), SignatureError> {
    file.signatures.iter().try_for_each(|s| s.check(file))
}

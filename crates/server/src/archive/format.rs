//! The parts of an archive. Described in docs/archive.md.

use std::collections::BTreeMap;

use ombret_core::adjust::Site;
use ombret_core::scale::ScaleSheet;
use ombret_core::weights::OwnClass;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::live::Device;
use crate::rules::{JudgementRules, PaperRules};
use crate::signing::Keys;
use crate::store::beside::FileOf;

/// Name of the format.
pub const FORMAT: &str = "ombret.workshop";
/// Its version. The first had no customers, instruments and files; it is read for ever.
pub const VERSION: u32 = 2;
/// The manifest, written last.
pub const MANIFEST: &str = "manifest.json";

/// Why an archive is not taken, and where.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{place}: {what}")]
pub struct Broken {
    /// Which part.
    pub place: String,
    /// What is wrong with it.
    pub what: String,
}

impl Broken {
    pub(super) fn at(place: impl Into<String>, what: impl ToString) -> Self {
        Self { place: place.into(), what: what.to_string() }
    }
}

/// Size and hash of a part.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Mark {
    /// SHA-256.
    pub sha256: String,
    /// Bytes.
    pub bytes: u64,
}

/// What an archive holds.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Manifest {
    /// Always `ombret.workshop`.
    pub format: String,
    /// Version of the format.
    pub version: u32,
    /// The program that wrote it.
    pub program: String,
    /// Version of the rules.
    pub rules: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub made_at: OffsetDateTime,
    /// Every other part.
    pub files: BTreeMap<String, Mark>,
    /// What the key of the house that wrote it says of all that.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub signature: Option<ManifestSignature>,
}

/// The signature of a manifest, and so of every part that it names.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct ManifestSignature {
    /// The public key, 32 bytes in hexadecimal.
    pub key: String,
    /// The signature, 64 bytes in hexadecimal.
    pub signature: String,
}

impl Manifest {
    fn statement(&self) -> Result<Vec<u8>, serde_json::Error> {
        let unsigned = Self { signature: None, ..self.clone() };
        Ok(format!("ombret.archive/1\n{}", serde_json::to_string(&unsigned)?).into_bytes())
    }

    /// Signs it, where there is a key.
    ///
    /// # Errors
    /// Where it cannot be written as JSON.
    pub fn sign(&mut self, keys: &Keys) -> Result<(), serde_json::Error> {
        let signed = keys.sign_bytes(&self.statement()?);
        self.signature = signed.map(|(key, signature)| ManifestSignature { key, signature });
        Ok(())
    }

    /// The key that signed it, where one did and the signature holds.
    pub fn signed_by(&self) -> Option<&str> {
        let signed = self.signature.as_ref()?;
        ombret_core::journal::signed_by(&signed.key, &signed.signature, &self.statement().ok()?)
            .then_some(signed.key.as_str())
    }
}

/// What is the workshop's own.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct WorkshopPart {
    /// Its name.
    pub name: String,
    /// What stands on paper.
    pub paper: PaperRules,
    /// How it judges.
    pub judgement: JudgementRules,
    /// How much span weight it asks for.
    pub school: String,
    /// Classes of its own.
    pub own_classes: Vec<OwnClass>,
    /// Places.
    pub sites: Vec<Site>,
    /// Lessons of its own: identity and text.
    pub lessons: Vec<(String, String)>,
}

/// A scale.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct ScalePart {
    /// Its sheet.
    pub sheet: ScaleSheet,
    /// How its indicator is connected.
    pub device: Option<Device>,
}

/// A profile with every edition.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct ProfilePart {
    /// Identity.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// About.
    pub about: String,
    /// Its editions, the first first.
    pub editions: Vec<EditionPart>,
}

/// An edition of a profile.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct EditionPart {
    /// Number.
    pub edition: i32,
    /// Text.
    pub text: String,
    /// Who wrote it.
    pub changed_by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub changed_at: OffsetDateTime,
}

/// The file of a certificate.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct CertificatePart {
    /// The piece.
    pub piece: Uuid,
    /// Number of the certificate.
    pub number: String,
    /// Name of the file.
    pub name: String,
    /// Where it is in the archive.
    pub part: String,
}

/// A photograph or a file.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct FilePart {
    /// Identity.
    pub id: Uuid,
    /// To what it belongs.
    pub of: FileOf,
    /// To which.
    pub of_id: Uuid,
    /// Its name.
    pub name: String,
    /// What it is.
    pub media: String,
    /// What it shows.
    pub caption: String,
    /// SHA-256 of its bytes.
    pub sha256: String,
    /// Its size, in bytes.
    pub size: i64,
    /// Who put it there.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub made_at: OffsetDateTime,
}

impl FilePart {
    /// Where it is in the archive.
    pub fn part(&self) -> String {
        format!("files/{}", self.id)
    }
}

/// A job beside its journal.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct JobPart {
    /// Its scale.
    pub scale: Uuid,
    /// It came as a file.
    pub imported: bool,
    /// Its records, in the order in which they were frozen.
    pub records: Vec<RecordPart>,
}

/// A frozen record.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct RecordPart {
    /// Place in the journal at which it was frozen.
    pub seq: i32,
    /// Version.
    pub version: i32,
    /// Number.
    pub number: String,
    /// Hash of its bytes.
    pub sha256: String,
    /// The program that froze it.
    pub program: String,
    /// Its rules.
    pub rules: String,
}

/// Where the journal of a job is.
pub fn journal_of(job: Uuid) -> String {
    format!("jobs/{job}/journal.json")
}

/// Where the rest of it is.
pub fn about_of(job: Uuid) -> String {
    format!("jobs/{job}/about.json")
}

/// Where a record is.
pub fn record_of(job: Uuid, seq: i32) -> String {
    format!("jobs/{job}/record-{seq}.json")
}

//! What a workshop's key says of a record: which journal, how long, at which head, under which number. The
//! hash chain shows a changed entry; it is unkeyed, so only the signature shows a journal that somebody
//! wrote anew from its first entry on. Source: Ed25519, RFC 8032.

use ed25519_dalek::{Signature, VerifyingKey};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

use super::chain::canonical;
use super::outcome::Outcome;
use crate::wording::Text;

/// What stands before every statement, so that a signature for one purpose is none for another.
const RECORD: &str = "ombret.record/1\n";

/// What a key signs of a record.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Statement {
    /// The job.
    pub job: Uuid,
    /// The workshop.
    pub workshop: String,
    /// Number of the record.
    pub number: String,
    /// Its version, from 1.
    pub version: u32,
    /// Hash of its last entry.
    pub head: String,
    /// Its entries.
    pub entries: u32,
    /// What the job came to.
    pub outcome: Outcome,
    /// Rules by which it came to that.
    pub rules: String,
    /// When the key signed.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

impl Statement {
    /// The bytes that are signed: a line that says what they are for, then canonical JSON.
    ///
    /// # Errors
    /// Where it cannot be written as JSON, which none made by this program is.
    pub fn bytes(&self) -> Result<Vec<u8>, serde_json::Error> {
        let mut text = RECORD.to_owned();
        canonical(&serde_json::to_value(self)?, &mut text);
        Ok(text.into_bytes())
    }
}

/// A statement with its signature.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct RecordSignature {
    /// What is signed.
    pub statement: Statement,
    /// The public key, 32 bytes in hexadecimal.
    pub key: String,
    /// The signature, 64 bytes in hexadecimal.
    pub signature: String,
}

/// Why a signature does not hold.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum SignatureError {
    /// It is about something else.
    Elsewhere,
    /// It is not of this key over this text.
    Wrong,
}

impl From<&SignatureError> for Text {
    fn from(error: &SignatureError) -> Self {
        match error {
            SignatureError::Elsewhere => text!("signature-elsewhere"),
            SignatureError::Wrong => text!("signature-wrong"),
        }
    }
}

impl From<SignatureError> for Text {
    fn from(error: SignatureError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for SignatureError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

/// Bytes in hexadecimal; `None` where the text is anything else.
pub fn bytes_of_hex<const N: usize>(text: &str) -> Option<[u8; N]> {
    let digits = text.as_bytes();
    if digits.len() != 2 * N {
        return None;
    }
    let mut out = [0u8; N];
    for (byte, pair) in out.iter_mut().zip(digits.chunks_exact(2)) {
        let digit = |c: u8| char::from(c).to_digit(16).and_then(|d| u8::try_from(d).ok());
        *byte = digit(pair[0])? * 16 + digit(pair[1])?;
    }
    Some(out)
}

/// Whether a public key signed these bytes.
pub fn signed_by(key: &str, signature: &str, bytes: &[u8]) -> bool {
    let key = bytes_of_hex(key).and_then(|k| VerifyingKey::from_bytes(&k).ok());
    let signature = bytes_of_hex(signature).map(|s| Signature::from_bytes(&s));
    matches!((key, signature), (Some(key), Some(signature)) if key.verify_strict(bytes, &signature).is_ok())
}

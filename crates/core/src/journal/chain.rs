//! The hash chain: each entry is sealed over its own canonical JSON and the hash before it, so a
//! changed record shows. Canonical means keys in order and nothing between the tokens; entries
//! hold no floating-point numbers, so the text is unambiguous.

use serde_json::Value;
use sha2::{Digest, Sha256};
use uuid::Uuid;

use super::entry::{Entry, Sealed};
use crate::wording::Text;

/// Where a chain is broken.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ChainError {
    /// The entry does not follow from the one before.
    Link {
        /// Its place.
        seq: u32,
        /// Hash of the entry before.
        expected: String,
        /// What it says.
        found: String,
    },
    /// The entry was changed after it was sealed.
    Changed {
        /// Its place.
        seq: u32,
    },
    /// Entries are not numbered from 1 without a gap.
    Order {
        /// Which was due.
        expected: u32,
        /// Which stands there.
        found: u32,
    },
}

impl From<&ChainError> for Text {
    fn from(error: &ChainError) -> Self {
        match error {
            ChainError::Link { seq, expected, found } => text!("chain-link", seq, found, expected),
            ChainError::Changed { seq } => text!("chain-changed", seq),
            ChainError::Order { expected, found } => text!("chain-order", found, expected),
        }
    }
}

impl From<ChainError> for Text {
    fn from(error: ChainError) -> Self {
        (&error).into()
    }
}

impl std::fmt::Display for ChainError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        Text::from(self).fmt(f)
    }
}

/// The hash before the first entry of a job.
pub fn genesis(job: Uuid) -> String {
    hex_of_bytes(&Sha256::digest(format!("ombret.job/{job}").as_bytes()))
}

/// Seals an entry behind `prev`.
///
/// # Errors
/// Where the entry cannot be written as JSON, which no entry made by this program is.
pub fn seal(entry: Entry, prev: &str) -> Result<Sealed, serde_json::Error> {
    let mut value = serde_json::to_value(&entry)?;
    value["prev"] = Value::String(prev.to_owned());
    let hash = hash_of(&value);
    Ok(Sealed { entry, prev: prev.to_owned(), hash })
}

/// Checks the chain over raw entries, as they stand in a file or a database.
///
/// # Errors
/// The first [`ChainError`].
pub(crate) fn verify(job: Uuid, entries: &[Value]) -> Result<(), ChainError> {
    let mut prev = genesis(job);
    for (expected, raw) in (1u32..).zip(entries) {
        let text = |key: &str| raw.get(key).and_then(Value::as_str).unwrap_or_default().to_owned();
        let found = raw.get("seq").and_then(Value::as_u64).and_then(|s| u32::try_from(s).ok()).unwrap_or(0);
        if found != expected {
            return Err(ChainError::Order { expected, found });
        }
        if text("prev") != prev {
            return Err(ChainError::Link { seq: expected, expected: prev, found: text("prev") });
        }
        let mut unsealed = raw.clone();
        if let Some(object) = unsealed.as_object_mut() {
            object.remove("hash");
        }
        let hash = hash_of(&unsealed);
        if text("hash") != hash {
            return Err(ChainError::Changed { seq: expected });
        }
        prev = hash;
    }
    Ok(())
}

fn hash_of(value: &Value) -> String {
    let mut text = String::new();
    canonical(value, &mut text);
    hex_of_bytes(&Sha256::digest(text.as_bytes()))
}

pub(crate) fn canonical(value: &Value, out: &mut String) {
    match value {
        Value::Object(object) => {
            let mut keys: Vec<&String> = object.keys().collect();
            keys.sort();
            out.push('{');
            for (index, key) in keys.into_iter().enumerate() {
                if index > 0 {
                    out.push(',');
                }
                out.push_str(&Value::String(key.clone()).to_string());
                out.push(':');
                canonical(&object[key], out);
            }
            out.push('}');
        }
        Value::Array(items) => {
            out.push('[');
            for (index, item) in items.iter().enumerate() {
                if index > 0 {
                    out.push(',');
                }
                canonical(item, out);
            }
            out.push(']');
        }
        plain => out.push_str(&plain.to_string()),
    }
}

/// Bytes in lower-case hexadecimal, as hashes, keys and signatures are written.
pub fn hex_of_bytes(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}
